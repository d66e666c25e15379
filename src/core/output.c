/* SPDX-License-Identifier: MIT */
/*
 * What a value does to lines: on and off with two thresholds, a bar of lamps, a share of the time. A line
 * whose port call fails is released, so that no line stays driven without the program's knowledge.
 */
#include "tinyladder/output.h"
#include "port_calls.h"

bool tl_threshold_next(const TL_IN_ROM tl_threshold *threshold, bool on, tl_number value)
{
    const bool below = threshold->start < threshold->stop;
    if (below ? value < threshold->start : value > threshold->start)
        return true;
    if (below ? value > threshold->stop : value < threshold->stop)
        return false;
    return on;
}

bool tl_safe_state(tl_safe safe, bool fault, bool was, bool wanted)
{
    if (!fault)
        return wanted;
    return safe == TL_SAFE_HOLD ? was : safe == TL_SAFE_ON;
}

uint16_t tl_duty_of(uint16_t count, uint16_t last, uint16_t full)
{
    if (last == 0 || count >= last)
        return full;
    return (uint16_t)((uint32_t)count * full / last);
}

static tl_status set_output(const tl_port *port, const TL_IN_ROM tl_output *own, bool on)
{
    const tl_status status = tl_port_line_drive(port, own->line, on != own->on_is_low);
    if (status != TL_OK)
        (void)tl_port_line_use(port, own->line, TL_LINE_RELEASED);
    return status;
}

tl_status tl_output_open(const tl_port *port, const TL_IN_ROM tl_output *output)
{
    if (MISTAKEN(!output || output->as > TL_OUTPUT_THRESHOLD || output->safe > TL_SAFE_HOLD))
        return TL_ERR_ARG;
    const tl_status status = tl_port_line_use(port, output->line, TL_LINE_OUTPUT);
    return status == TL_OK ? set_output(port, output, false) : status;
}

tl_status tl_output_show(const tl_port *port, const TL_IN_ROM tl_output *output, const tl_sample *value,
                         bool *on)
{
    if (MISTAKEN(!output || value == NULL || on == NULL))
        return TL_ERR_ARG;
    const bool wanted = output->as == TL_OUTPUT_THRESHOLD
                            ? tl_threshold_next(&output->threshold, *on, value->value)
                            : (value->value != 0) == (output->as == TL_OUTPUT_FOLLOW);
    const bool fault = (value->flags & TL_READING_FRESH) == 0;
    const bool next = tl_safe_state((tl_safe)output->safe, fault, *on, wanted);
    const tl_status status = set_output(port, output, next);
    *on = status == TL_OK && next;
    return status;
}

tl_status tl_output_release(const tl_port *port, const TL_IN_ROM tl_output *output)
{
    if (MISTAKEN(!output))
        return TL_ERR_ARG;
    return tl_port_line_use(port, output->line, TL_LINE_RELEASED);
}

tl_status tl_bar_release(const tl_port *port, const TL_IN_ROM tl_bar *bar)
{
    tl_status first = TL_OK;
    if (MISTAKEN(!bar))
        return TL_ERR_ARG;
    for (uint8_t i = 0; i < bar->count && i < TL_BAR_LINES_MOST; i++) {
        const tl_status status = tl_port_line_use(port, bar->lines[i], TL_LINE_RELEASED);
        first = first == TL_OK ? status : first;
    }
    return first;
}

/* Each line is made an output, or driven; one that fails takes all of them out of use. */
static tl_status each_line(const tl_port *port, const TL_IN_ROM tl_bar *bar, bool open, uint8_t lit)
{
    if (MISTAKEN(!bar || !bar->lines || bar->count == 0 || bar->count > TL_BAR_LINES_MOST))
        return TL_ERR_ARG;
    for (uint8_t i = 0; i < bar->count; i++) {
        const tl_status status = open ? tl_port_line_use(port, bar->lines[i], TL_LINE_OUTPUT)
                                      : tl_port_line_drive(port, bar->lines[i], (i < lit) != bar->lit_is_low);
        if (status != TL_OK) {
            (void)tl_bar_release(port, bar);
            return status;
        }
    }
    return TL_OK;
}

tl_status tl_bar_open(const tl_port *port, const TL_IN_ROM tl_bar *bar)
{
    const tl_status status = each_line(port, bar, true, 0);
    return status == TL_OK ? tl_bar_show(port, bar, 0) : status;
}

tl_status tl_bar_show(const tl_port *port, const TL_IN_ROM tl_bar *bar, uint8_t lit)
{
    return each_line(port, bar, false, lit);
}
