/* SPDX-License-Identifier: MIT */
/* An 8-bit AVR, instruction by instruction, with D2 high and 2.5 V of 5 V on channel 0; prints what it says.
 */
#include "simulated.h"
#include <simavr/avr_adc.h>
#include <simavr/avr_ioport.h>
#include <stdio.h>

static void print_character(struct avr_t *avr, avr_io_addr_t address, uint8_t byte, void *param)
{
    (void)avr;
    (void)address;
    (void)param;
    putchar(byte);
}

int main(int argc, char **argv)
{
    avr_t *avr = simulated_chip(argc, argv, print_character, NULL);
    if (avr == NULL)
        return 2;
    avr->vcc = avr->avcc = avr->aref = 5000;
    avr_raise_irq(avr_io_getirq(avr, AVR_IOCTL_ADC_GETIRQ, ADC_IRQ_ADC0), 2500);
    avr_raise_irq(avr_io_getirq(avr, AVR_IOCTL_IOPORT_GETIRQ('D'), 2), 1);
    return simulated_run(avr, 4000000000u, NULL) ? 0 : 1;
}
