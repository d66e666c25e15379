/* SPDX-License-Identifier: MIT */
/* What each register of the made-up chip does on the bench. */
#include "../stand-in/registers.h"
#include "stand_in.h"
#include <math.h>

/* The clock at which the bench has done what it was asked to do: it may be ahead of the chip. */
static uint64_t bench_clock(const stand_in *of)
{
    return (uint64_t)ceil(tl_bench_time(of->base.bench) * (double)of->base.hertz);
}

static double hertz_by(const stand_in *of, uint32_t divider)
{
    return (double)of->base.hertz / (divider != 0 ? divider : 1);
}

/* --- lines --- */

static chip_line *line_at(stand_in *of, uint64_t number)
{
    for (int i = 0; i < of->base.line_count; i++) {
        chip_line *line = &of->base.lines[i];
        if ((uint64_t)(line->port - 'A') * 8 + line->bit == number)
            return line;
    }
    return NULL;
}

/* A line that is at no pin of the plan's board remembers nothing. */
static uint64_t read_line(stand_in *of, uint64_t offset)
{
    const chip_line *line = line_at(of, (offset & 0xff) / 4);
    bool high = false;
    if (line == NULL)
        return 0;
    if (offset < STAND_IN_LINE_LEVEL)
        return line->use;
    if (offset >= STAND_IN_LINE_SHARE)
        return line->share;
    chip_bring_bench(&of->base);
    return tl_port_line_level(of->base.port, line->line, &high) == TL_OK && high;
}

static void write_line(stand_in *of, uint64_t offset, uint32_t value)
{
    chip_line *line = line_at(of, (offset & 0xff) / 4);
    if (line == NULL)
        return;
    if (offset < STAND_IN_LINE_LEVEL && value <= TL_LINE_OUTPUT)
        chip_set_line(&of->base, line, (tl_line_use)value, 0);
    else if (offset >= STAND_IN_LINE_LEVEL && line->use == TL_LINE_OUTPUT)
        chip_set_line(&of->base, line, TL_LINE_OUTPUT,
                      offset >= STAND_IN_LINE_SHARE ? (uint16_t)value
                      : value != 0                  ? UINT16_MAX
                                                    : 0);
}

/* --- converter --- */

static void convert(stand_in *of)
{
    enum { CONVERSION_CLOCKS = 13 };
    stand_in_converter *c = &of->converter;
    const tl_plan *plan = chip_plan(&of->base);
    if (!plan->board->has_converter)
        return;
    const int references = plan->converters[0].part->reference_count;
    const int chosen = references == 0                       ? 0
                       : c->reference < (uint32_t)references ? (int)c->reference
                                                             : TL_NONE;
    uint32_t word = 0;
    chip_bring_bench(&of->base);
    const uint8_t reference = chip_before_conversion(&of->base, (uint8_t)c->channel, chosen, 0);
    if (chip_convert(&of->base, (uint8_t)c->channel, reference,
                     (double)c->acquisition / (double)of->base.hertz, hertz_by(of, c->divider), &word))
        c->word = word;
    c->ends = of->clocks + c->acquisition + CONVERSION_CLOCKS * (uint64_t)c->divider;
}

/* --- buses --- */

static void exchange(stand_in *of, uint8_t out)
{
    of->spi.in = chip_spi_exchange(&of->base, of->spi.control & 3, (of->spi.control & 4) != 0, out);
    of->spi.ends = of->clocks + 8 * (uint64_t)of->spi.divider;
}

static void step(stand_in *of, uint32_t what)
{
    stand_in_wires *w = &of->wires;
    uint8_t byte = 0xff;
    chip_look_at_rate(&of->base, hertz_by(of, w->divider));
    w->acknowledged = true;
    switch (what) {
    case STAND_IN_START:
        w->acknowledged = chip_two_wire_start(&of->base, (uint8_t)w->data);
        break;
    case STAND_IN_WRITE:
        w->acknowledged = chip_two_wire_write(&of->base, (uint8_t)w->data);
        break;
    case STAND_IN_READ:
    case STAND_IN_READ_LAST:
        (void)chip_two_wire_read(&of->base, &byte);
        w->data = byte;
        break;
    case STAND_IN_STOP:
        chip_two_wire_stop(&of->base);
        break;
    default:
        return;
    }
    const uint64_t own = of->clocks + 9 * (uint64_t)w->divider, there = bench_clock(of);
    w->ends = own > there ? own : there;
}

/* --- the whole --- */

uint64_t stand_in_read(uc_engine *processor, uint64_t offset, unsigned size, void *context)
{
    (void)processor;
    (void)size;
    stand_in *of = context;
    uint8_t byte = 0;
    if (offset < STAND_IN_ADC_CHANNEL)
        return read_line(of, offset);
    switch (offset) {
    case STAND_IN_ADC_ENDED:
        return of->clocks >= of->converter.ends;
    case STAND_IN_ADC_WORD:
        return of->converter.word;
    case STAND_IN_CLOCK_US:
        return (uint32_t)(of->clocks * 1000000u / of->base.hertz);
    case STAND_IN_SPI_DATA:
        return of->spi.in;
    case STAND_IN_SPI_ENDED:
        return of->clocks >= of->spi.ends;
    case STAND_IN_WIRES_DATA:
        return of->wires.data;
    case STAND_IN_WIRES_STATE:
        return (of->clocks >= of->wires.ends ? STAND_IN_STEP_ENDED : 0) |
               (of->wires.acknowledged ? STAND_IN_ACKNOWLEDGED : 0);
    case STAND_IN_SERIAL_DATA:
        return chip_next_said(&of->base, &byte) ? byte : 0;
    case STAND_IN_SERIAL_HEARD:
        return of->base.said_count > 0;
    default:
        return 0;
    }
}

void stand_in_write(uc_engine *processor, uint64_t offset, unsigned size, uint64_t wide, void *context)
{
    (void)processor;
    (void)size;
    stand_in *of = context;
    const uint32_t value = (uint32_t)wide;
    if (offset < STAND_IN_ADC_CHANNEL) {
        write_line(of, offset, value);
        return;
    }
    switch (offset) {
    case STAND_IN_ADC_CHANNEL:
        of->converter.channel = value;
        break;
    case STAND_IN_ADC_REFERENCE:
        of->converter.reference = value;
        break;
    case STAND_IN_ADC_DIVIDER:
        of->converter.divider = value;
        break;
    case STAND_IN_ADC_ACQUISITION:
        of->converter.acquisition = value & 0xffff;
        break;
    case STAND_IN_ADC_START:
        convert(of);
        break;
    case STAND_IN_SLEEP_US:
        of->asleep = of->clocks + (uint64_t)value * of->base.hertz / 1000000u + 1;
        break;
    case STAND_IN_SPI_CONTROL:
        of->spi.control = value;
        break;
    case STAND_IN_SPI_DIVIDER:
        of->spi.divider = value;
        break;
    case STAND_IN_SPI_DATA:
        exchange(of, (uint8_t)value);
        break;
    case STAND_IN_WIRES_DIVIDER:
        of->wires.divider = value;
        break;
    case STAND_IN_WIRES_DATA:
        of->wires.data = value & 0xff;
        break;
    case STAND_IN_WIRES_STEP:
        step(of, value);
        break;
    case STAND_IN_SERIAL_DATA:
        if (of->base.heard != NULL)
            of->base.heard(of->base.heard_by, (char)value);
        break;
    default:
        break;
    }
}
