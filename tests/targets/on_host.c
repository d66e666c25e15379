/* SPDX-License-Identifier: MIT */
/* Here: the bytes go to standard output. */
#include "identity.h"
#include <stdio.h>

void identity_emit(uint8_t byte)
{
    printf("%02x\n", (unsigned)byte);
}

int main(void)
{
    identity_run();
    return 0;
}
