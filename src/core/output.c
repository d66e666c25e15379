/*
 * What a value does to lines: on and off with two thresholds, a bar of lamps, a share of the time. A line
 * whose port call fails is let go of, so that nothing is driven that nobody knows about.
 */
#include "tinyladder/output.h"
#include "tinyladder/rom.h"

bool tl_threshold_next(const tl_threshold *threshold, bool on, int32_t value)
{
    tl_threshold own;
    tl_rom_copy(&own, threshold, sizeof own);
    const bool below = own.start < own.stop;
    if (below ? value < own.start : value > own.start)
        return true;
    if (below ? value > own.stop : value < own.stop)
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

static tl_status set_output(const tl_port *port, const tl_output *own, bool on)
{
    const tl_status status = tl_port_line_drive(port, own->line, on != own->on_is_low);
    if (status != TL_OK)
        (void)tl_port_line_use(port, own->line, TL_LINE_RELEASED);
    return status;
}

tl_status tl_output_open(const tl_port *port, const tl_output *output)
{
    tl_output own;
    if (output == NULL)
        return TL_ERR_ARG;
    tl_rom_copy(&own, output, sizeof own);
    if (own.as > TL_OUTPUT_THRESHOLD || own.safe > TL_SAFE_HOLD)
        return TL_ERR_ARG;
    const tl_status status = tl_port_line_use(port, own.line, TL_LINE_OUTPUT);
    return status == TL_OK ? set_output(port, &own, false) : status;
}

tl_status tl_output_show(const tl_port *port, const tl_output *output, const tl_sample *value, bool *on)
{
    tl_output own;
    if (output == NULL || value == NULL || on == NULL)
        return TL_ERR_ARG;
    tl_rom_copy(&own, output, sizeof own);
    const bool wanted = own.as == TL_OUTPUT_THRESHOLD
                            ? tl_threshold_next(&output->threshold, *on, value->value)
                            : (value->value != 0) == (own.as == TL_OUTPUT_FOLLOW);
    const bool fault = (value->flags & TL_READING_FRESH) == 0;
    const bool next = tl_safe_state((tl_safe)own.safe, fault, *on, wanted);
    const tl_status status = set_output(port, &own, next);
    *on = status == TL_OK && next;
    return status;
}

tl_status tl_output_release(const tl_port *port, const tl_output *output)
{
    tl_output own;
    if (output == NULL)
        return TL_ERR_ARG;
    tl_rom_copy(&own, output, sizeof own);
    return tl_port_line_use(port, own.line, TL_LINE_RELEASED);
}

tl_status tl_bar_release(const tl_port *port, const tl_bar *bar)
{
    tl_bar own;
    tl_status first = TL_OK;
    if (bar == NULL)
        return TL_ERR_ARG;
    tl_rom_copy(&own, bar, sizeof own);
    for (uint8_t i = 0; i < own.count && i < sizeof own.lines; i++) {
        const tl_status status = tl_port_line_use(port, own.lines[i], TL_LINE_RELEASED);
        first = first == TL_OK ? status : first;
    }
    return first;
}

/* Each line is made an output, or driven; one that fails takes all of them out of use. */
static tl_status each_line(const tl_port *port, const tl_bar *bar, bool open, uint8_t lit)
{
    tl_bar own;
    if (bar == NULL)
        return TL_ERR_ARG;
    tl_rom_copy(&own, bar, sizeof own);
    if (own.count == 0 || own.count > sizeof own.lines)
        return TL_ERR_ARG;
    for (uint8_t i = 0; i < own.count; i++) {
        const tl_status status = open ? tl_port_line_use(port, own.lines[i], TL_LINE_OUTPUT)
                                      : tl_port_line_drive(port, own.lines[i], (i < lit) != own.lit_is_low);
        if (status != TL_OK) {
            (void)tl_bar_release(port, bar);
            return status;
        }
    }
    return TL_OK;
}

tl_status tl_bar_open(const tl_port *port, const tl_bar *bar)
{
    const tl_status status = each_line(port, bar, true, 0);
    return status == TL_OK ? tl_bar_show(port, bar, 0) : status;
}

tl_status tl_bar_show(const tl_port *port, const tl_bar *bar, uint8_t lit)
{
    return each_line(port, bar, false, lit);
}
