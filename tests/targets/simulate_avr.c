/* SPDX-License-Identifier: MIT */
/* Runs firmware in an instruction-level simulator until it sleeps permanently, and prints the bytes that it
 * hands out. */
#include "simulated.h"
#include <stdio.h>

static void print_byte(struct avr_t *avr, avr_io_addr_t address, uint8_t byte, void *param)
{
    (void)avr;
    (void)address;
    (void)param;
    printf("%02x\n", (unsigned)byte);
}

int main(int argc, char **argv)
{
    avr_t *avr = simulated_chip(argc, argv, print_byte, NULL);
    if (avr == NULL)
        return 2;
    return simulated_run(avr, 4000000000u, NULL) ? 0 : 1;
}
