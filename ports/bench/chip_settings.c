/* SPDX-License-Identifier: MIT */
/*
 * What the program's own register writes make of the converter and the buses, beside what the plan says: the
 * wrong reference, clock, mode or rate gives the wrong words that it would give on the board, and is named
 * once.
 */
#include "chip_inside.h"
#include "tinyladder/design/circuit.h"
#include "tinyladder/design/measurement.h"
#include <math.h>
#include <stdarg.h>
#include <stdio.h>

/* A conversion takes this many of the converter's clocks; a clock a little faster than planned is fine, and
 * so is an acquisition that is a little shorter. */
static const double conversion_clocks = 13, tolerated = 1.05;

static void name_once(chip *of, chip_mistake what, const char *form, ...)
{
    if ((of->named & 1u << what) != 0)
        return;
    of->named |= 1u << what;
    va_list list;
    va_start(list, form);
    fputs("tinyladder-bench-run: ", stderr);
    vfprintf(stderr, form, list);
    fputc('\n', stderr);
    va_end(list);
}

/* --- the converter --- */

/* TL_NONE: the plan has nothing there. */
static int signal_at(const chip *of, uint8_t channel)
{
    const tl_plan *plan = chip_plan(of);
    for (int i = 0; i < plan->signal_count; i++) {
        const tl_signal *s = &plan->signals[i];
        if (s->analog && plan->pins[s->pin].converter == 0 && plan->pins[s->pin].channel == channel)
            return i;
    }
    return TL_NONE;
}

uint8_t chip_before_conversion(chip *of, uint8_t channel, int reference, double volts)
{
    const tl_converter *part = chip_plan(of)->converters[0].part;
    const int at = signal_at(of, channel);
    const tl_signal *signal = at != TL_NONE ? &chip_plan(of)->signals[at] : NULL;
    tl_bench_set_reference(of->bench, reference == TL_NONE ? volts : NAN);
    if (signal != NULL && part->reference_count > 0 && reference != signal->reference)
        name_once(of, MISTAKE_REFERENCE, "the ADC measures against %s: the plan has %s for %s",
                  reference != TL_NONE ? part->references[reference].name
                  : volts > 0          ? "a voltage of the chip's own"
                                       : "its reference pin, with nothing on it",
                  part->references[signal->reference].name, signal->name);
    return reference == TL_NONE ? 0 : (uint8_t)reference;
}

static void look_at_acquisition(chip *of, uint8_t channel, double connected)
{
    const int signal = signal_at(of, channel);
    if (signal == TL_NONE)
        return;
    const double planned = tl_circuit_path(tl_bench_circuit(of->bench), signal)->acquisition;
    if (connected * tolerated < planned)
        name_once(of, MISTAKE_ACQUISITION, "the ADC is connected to %s for %.3g us: the plan has %.3g us",
                  chip_plan(of)->signals[signal].name, connected * 1e6, planned * 1e6);
}

static uint32_t converted_by(chip *of, double clock, uint32_t word)
{
    const double takes = conversion_clocks / clock, planned = chip_plan(of)->converters[0].part->conversion;
    unsigned lost = 0;
    if (takes * tolerated < planned)
        name_once(of, MISTAKE_CLOCK,
                  "the ADC's clock is %.4g kHz: a conversion takes %.3g us, in the plan's board %.3g us",
                  clock / 1e3, takes * 1e6, planned * 1e6);
    /* Too quick by half is a bit that is not decided any more. */
    for (double quick = planned / takes; quick > 1.4 && lost < 10; quick /= 2)
        lost++;
    const uint32_t rest = (1u << lost) - 1;
    return (word & ~rest) | (rest & (word * 2654435761u >> 16));
}

bool chip_convert(chip *of, uint8_t channel, uint8_t reference, double connected_s, double clock_hertz,
                  uint32_t *word)
{
    bool ended = false;
    look_at_acquisition(of, channel, connected_s);
    if (tl_port_claim(of->port, of) != TL_OK ||
        tl_port_conversion_start(of->port, of, channel, reference, (uint32_t)fmin(1e9 * connected_s, 1e5)) !=
            TL_OK)
        return false;
    for (int i = 0; i < 1000 && !ended; i++) {
        if (tl_port_conversion_ended(of->port, of, &ended) != TL_OK ||
            (!ended && tl_port_wait_us(of->port, 10) != TL_OK))
            return false;
    }
    if (tl_port_conversion_word(of->port, of, word) != TL_OK)
        return false;
    *word = converted_by(of, clock_hertz, *word);
    return true;
}

/* --- buses --- */

static uint8_t turned(uint8_t byte)
{
    uint8_t other = 0;
    for (int i = 0; i < 8; i++)
        other = (uint8_t)(other << 1 | (byte >> i & 1));
    return other;
}

/* Devices take mode 0, highest bit first. In another mode each looks at the lines half a clock off: a bit
 * late. */
uint8_t chip_spi_exchange(chip *of, unsigned mode, bool low_first, uint8_t out)
{
    chip_bring_bench(of);
    if (of->spi_bus == TL_NONE || of->selected == TL_NONE)
        return 0xff;
    if (mode != 0)
        name_once(of, MISTAKE_SPI_MODE, "SPI is in mode %u: the plan's devices are in mode 0", mode);
    if (low_first)
        name_once(of, MISTAKE_SPI_ORDER,
                  "SPI sends the lowest bit first: the plan's devices take the highest first");
    if (low_first)
        out = turned(out);
    if (mode != 0) {
        const uint8_t late = (uint8_t)(of->spi_late << 7 | out >> 1);
        of->spi_late = out & 1;
        out = late;
    }
    uint8_t in = tl_bench_spi_byte(of->bench, out);
    if (mode != 0) {
        const uint8_t late = (uint8_t)(of->spi_late_in << 7 | in >> 1);
        of->spi_late_in = in & 1;
        in = late;
    }
    return low_first ? turned(in) : in;
}

void chip_look_at_rate(chip *of, double hertz)
{
    if (of->two_wire_bus == TL_NONE)
        return;
    const double planned = tl_bench_bus_rate(of->bench, (uint8_t)of->two_wire_bus);
    const bool fast = hertz > planned * tolerated;
    tl_bench_set_bus_rate(of->bench, (uint8_t)of->two_wire_bus, fast ? hertz : 0);
    if (fast)
        name_once(of, MISTAKE_RATE, "the two-wire clock is %.4g kHz: the plan's bus has %.4g kHz",
                  hertz / 1e3, planned / 1e3);
}
