/*
 * What the program's own register writes make of the converter and the buses, beside what the plan says: the
 * wrong reference, clock, mode or rate gives the wrong words that it would give on the board, and is named
 * once.
 */
#include "avr_chip.h"
#include "tinyladder/design/measurement.h"
#include <math.h>
#include <simavr/avr_spi.h>
#include <stdarg.h>
#include <stdio.h>
#include <string.h>

/* A conversion takes this many of the converter's clocks; a clock a little faster than planned is fine. */
static const double conversion_clocks = 13, tolerated = 1.05;

static const tl_plan *plan_of(const chip *of)
{
    return tl_circuit_plan(tl_bench_circuit(of->bench));
}

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

/* Which of the plan's references the program has chosen, and else its volts: 0 where nothing is at the pin.
 */
static int chosen_reference(const chip *of, double *volts)
{
    const uint16_t chosen = of->converter->ref_values[avr_regbit_get_array(of->avr, of->converter->ref, 3)];
    const tl_converter *part = plan_of(of)->converters[0].part;
    *volts = chosen > ADC_VREF_AVCC ? chosen / 1e3 : 0;
    for (int i = 0; i < part->reference_count; i++) {
        const tl_reference *r = &part->references[i];
        /* What is wired to the reference pin has a name that says so. */
        const bool is = chosen > ADC_VREF_AVCC    ? r->supply < 0 && fabs(r->volts.nominal - *volts) < 1e-3
                        : chosen == ADC_VREF_AVCC ? r->supply == 0
                                                  : strcmp(r->name, "outer") == 0;
        if (is)
            return i;
    }
    return TL_NONE;
}

uint8_t chip_before_conversion(chip *of, uint8_t channel)
{
    const tl_plan *plan = plan_of(of);
    const tl_converter *part = plan->converters[0].part;
    const tl_signal *signal = NULL;
    double volts;
    const int chosen = chosen_reference(of, &volts);
    for (int i = 0; i < plan->signal_count && signal == NULL; i++) {
        const tl_signal *s = &plan->signals[i];
        if (s->analog && plan->pins[s->pin].converter == 0 && plan->pins[s->pin].channel == channel)
            signal = s;
    }
    tl_bench_set_reference(of->bench, chosen == TL_NONE ? volts : NAN);
    if (signal != NULL && part->reference_count > 0 && chosen != signal->reference)
        name_once(of, MISTAKE_REFERENCE, "the ADC measures against %s: the plan has %s for %s",
                  chosen != TL_NONE ? part->references[chosen].name
                  : volts > 0       ? "a voltage of the chip's own"
                                    : "its reference pin, with nothing on it",
                  part->references[signal->reference].name, signal->name);
    return chosen == TL_NONE ? 0 : (uint8_t)chosen;
}

uint32_t chip_converted(chip *of, uint32_t word)
{
    const tl_plan *plan = plan_of(of);
    const double clock = (double)of->hertz / (1 << avr_regbit_get_array(of->avr, of->converter->adps, 3)),
                 takes = conversion_clocks / clock, planned = plan->converters[0].part->conversion;
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
uint8_t chip_spi_exchange(chip *of, uint8_t out, uint8_t (*device)(chip *of, uint8_t out))
{
    enum { LOW_FIRST = 1 << 5, IDLE_HIGH = 1 << 3, LATE = 1 << 2 };
    const avr_spi_t *spi = (const avr_spi_t *)chip_next(of->avr, NULL, "spi");
    const uint8_t control = spi != NULL ? of->avr->data[spi->r_spcr] : 0;
    const unsigned mode = (control & IDLE_HIGH) / IDLE_HIGH * 2u + (control & LATE) / LATE;
    const bool low_first = (control & LOW_FIRST) != 0;
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
    uint8_t in = device(of, out);
    if (mode != 0) {
        const uint8_t late = (uint8_t)(of->spi_late_in << 7 | in >> 1);
        of->spi_late_in = in & 1;
        in = late;
    }
    return low_first ? turned(in) : in;
}

void chip_look_at_rate(chip *of)
{
    const uint8_t divider = of->avr->data[of->two_wire->r_twbr],
                  scale = of->avr->data[of->two_wire->r_twsr] & 3;
    const double rate = (double)of->hertz / (16 + 2.0 * divider * (1 << 2 * scale));
    const double planned = tl_bench_bus_rate(of->bench, (uint8_t)of->two_wire_bus);
    tl_bench_set_bus_rate(of->bench, (uint8_t)of->two_wire_bus, rate > planned * tolerated ? rate : 0);
    if (rate > planned * tolerated)
        name_once(of, MISTAKE_RATE, "the two-wire clock is %.4g kHz: the plan's bus has %.4g kHz", rate / 1e3,
                  planned / 1e3);
}
