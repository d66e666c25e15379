/* SPDX-License-Identifier: MIT */
/* The conformance suite on an emulated processor: each broken promise in its words, then how many there were.
 */
#include "conformance.h"
#include "identity.h"
#include "stand_in_chip.h"
#ifdef __riscv
#include "port_riscv.h"
#define CLOCK port_riscv_now_us
#define PORT port_riscv((const volatile uint32_t *)MTIME_ADDRESS, MTIME_HERTZ, &stand_in_chip, 0)
#else
#include "port_cortex_m.h"
#define CLOCK port_cortex_m_now_us
#define PORT port_cortex_m(CORE_HERTZ, &stand_in_chip, 0)
#endif

static void say(const char *text)
{
    while (*text != '\0')
        identity_emit((uint8_t)*text++);
}

static void verdict(void *context, const char *promise, bool kept)
{
    unsigned *promises = context;
    ++*promises;
    if (!kept) {
        say("broken: ");
        say(promise);
        say("\n");
    }
}

static void say_number(unsigned number)
{
    char digits[11];
    uint8_t at = sizeof digits - 1;
    digits[at] = '\0';
    do {
        digits[--at] = (char)('0' + number % 10);
        number /= 10;
    } while (number > 0);
    say(&digits[at]);
}

void identity_run(void)
{
    static const port_facts facts = {.watch_us = UINT32_C(1) << 20,
                                     .input_line = 1,
                                     .input_high = true,
                                     .output_line = 2,
                                     .no_line = STAND_IN_LINES,
                                     .channel = 1,
                                     .least_word = STAND_IN_WORD,
                                     .largest_word = STAND_IN_WORD,
                                     .conversion_us = 1000,
                                     .no_channel = STAND_IN_CHANNELS};
    unsigned promises = 0;
    stand_in_chip_clock = CLOCK;
    const unsigned broken = port_conformance(PORT, &facts, verdict, &promises);
    say_number(promises);
    say(" promises, ");
    say_number(broken);
    say(" broken\n");
}
