/* SPDX-License-Identifier: MIT */
/* The demo's whole firmware, with a port that stands in for converters and buses. */
#include "fernhill.h"
#include "stand_in.h"

volatile char said;

void fernhill_say(char c)
{
    said = c;
}

int main(void)
{
    (void)fernhill_begin(stand_in_port());
    for (;;)
        fernhill_pass();
}
