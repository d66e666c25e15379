/* SPDX-License-Identifier: MIT */
/* The sums as they are on a PC. */
#include "lean_sums.h"
#include <stdio.h>

void lean_say(char byte)
{
    putchar(byte);
}

int main(void)
{
    lean_sums();
    return 0;
}
