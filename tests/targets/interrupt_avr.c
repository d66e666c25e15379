/* SPDX-License-Identifier: MIT */
/* On an 8-bit AVR: the main program shows one sweep after the other, a timer's interrupt copies the last one.
 * What it gets whole is of one sweep. Says how many copies there were, how many were refused and how many
 * were torn. */
#include "tinyladder/rom.h"
#include "tinyladder/sweep.h"
#include <avr/interrupt.h>
#include <avr/io.h>

#define OUT (*(volatile uint8_t *)MARK_ADDRESS)
enum { ENTRIES = 16, ENOUGH = 400 };

static tl_sweep sweep;
static volatile uint16_t copies, refused, torn;

ISR(TIMER0_OVF_vect)
{
    static tl_sample copied[ENTRIES];
    uint32_t stamp_us = 0;
    if (!tl_sweep_copy(&sweep, copied, &stamp_us)) {
        refused++;
        return;
    }
    copies++;
    for (uint8_t i = 0; i < ENTRIES; i++)
        torn = (uint16_t)(torn + (copied[i].value != (int32_t)stamp_us));
}

static void say(const char *text)
{
    while (*text != '\0')
        OUT = (uint8_t)*text++;
}

static void say_number(uint16_t number)
{
    char digits[6] = {0};
    uint8_t at = sizeof digits - 1;
    do {
        digits[--at] = (char)('0' + number % 10);
        number /= 10;
    } while (number > 0);
    say(&digits[at]);
}

#define ENTRY                                                                                                \
    {                                                                                                        \
        &input.kind, 0, 0, 0                                                                                 \
    }

int main(void)
{
    static const TL_ROM tl_input input = {
        {&tl_pin_conversion}, 1000, 100, 0, 0, {12, 16, TL_WORD_RIGHT, TL_WORD_UNSIGNED, false}};
    static const TL_ROM tl_way entries[ENTRIES] = {ENTRY, ENTRY, ENTRY, ENTRY, ENTRY, ENTRY, ENTRY, ENTRY,
                                                   ENTRY, ENTRY, ENTRY, ENTRY, ENTRY, ENTRY, ENTRY, ENTRY};
    static tl_sample samples[2 * ENTRIES];
    static uint16_t words[ENTRIES];
    (void)tl_sweep_init(&sweep, entries, ENTRIES, samples);
    TCCR0B = 1 << CS01 | 1 << CS00; /* every 16384 cycles */
    TIMSK0 = 1 << TOIE0;
    sei();
    for (uint16_t n = 0; copies + refused < ENOUGH; n++) {
        for (uint8_t i = 0; i < ENTRIES; i++)
            words[i] = n % 4096u;
        (void)tl_sweep_words(&sweep, words, 2, n % 4096u);
        TCNT0 = (uint8_t)(TCNT0 + n % 7u); /* out of step with the loop */
    }
    cli();
    say_number(copies);
    say(" copies, ");
    say_number(refused);
    say(" refused, ");
    say_number(torn);
    say(" torn\n");
    __asm__ volatile("sleep");
    for (;;) {
    }
}
