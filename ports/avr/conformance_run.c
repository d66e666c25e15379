/* SPDX-License-Identifier: MIT */
/* The conformance suite on the chip: each broken promise in its words, then how many there were, character by
 * character into a register that the simulator listens to. */
#include "conformance.h"
#include "port_avr.h"
#include "tinyladder/rom.h"
#include <avr/interrupt.h>
#include <avr/sleep.h>
#include <stddef.h>

#define OUT (*(volatile uint8_t *)MARK_ADDRESS)

static void say(const char *text)
{
    while (*text != '\0')
        OUT = (uint8_t)*text++;
}

static void verdict(void *context, const TL_IN_ROM char *promise, bool kept)
{
    unsigned *promises = context;
    ++*promises;
    if (!kept) {
        say("broken: ");
        for (; *promise != '\0'; promise++)
            OUT = (uint8_t)*promise;
        say("\n");
    }
}

static void say_number(unsigned number)
{
    char digits[6];
    uint8_t at = sizeof digits - 1;
    digits[at] = '\0';
    do {
        digits[--at] = (char)('0' + number % 10);
        number /= 10;
    } while (number > 0);
    say(&digits[at]);
}

/* The simulator holds D2 high and 2.5 V of 5 V on channel 0; nothing is on B0. */
int main(void)
{
    static const port_facts facts = {.watch_us = UINT32_C(1) << 20,
                                     .input_line = PORT_AVR_D2,
                                     .input_high = true,
                                     .output_line = PORT_AVR_B0,
                                     .no_line = 24,
                                     .has_duty = true,
                                     .duty_line = PORT_AVR_D6,
                                     .has_power = true,
                                     .channel = 0,
                                     .least_word = 509,
                                     .largest_word = 514,
                                     .conversion_us = 220,
                                     .no_channel = 8};
    unsigned promises = 0;
    const unsigned broken = port_conformance(port_avr(), &facts, verdict, &promises);
    say_number(promises);
    say(" promises, ");
    say_number(broken);
    say(" broken\n");
    cli();
    sleep_cpu();
    for (;;) {
    }
}
