/* SPDX-License-Identifier: MIT */
/* Three seconds of the whole firmware on a port that stands in for hardware, its lines byte by byte. */
#include "fernhill.h"
#include "identity.h"
#include "stand_in.h"

void fernhill_say(char c)
{
    identity_emit((uint8_t)c);
}

void identity_run(void)
{
    if (fernhill_begin(stand_in_port()) != TL_OK)
        fernhill_say('!');
    while (stand_in_now() < 3000000u)
        fernhill_pass();
}
