#include "mux_internal.h"
#include "tinyladder/rom.h"

static tl_status set_line(const tl_port *port, uint8_t line, bool high)
{
    return line == TL_MUX_NO_LINE ? TL_OK : tl_port_line_drive(port, line, high);
}

static tl_status use_line(const tl_port *port, uint8_t line, tl_line_use use)
{
    return line == TL_MUX_NO_LINE ? TL_OK : tl_port_line_use(port, line, use);
}

tl_status tl_mux_open(const tl_port *port, const tl_mux_lines *mux)
{
    tl_mux_lines own;
    if (mux == NULL)
        return TL_ERR_ARG;
    tl_rom_copy(&own, mux, sizeof own);
    if (own.select_count > TL_MUX_SELECTS_MOST || own.dwell_us > INT32_MAX)
        return TL_ERR_ARG;
    tl_status status = use_line(port, own.enable, TL_LINE_OUTPUT);
    if (status == TL_OK)
        status = set_line(port, own.enable, !own.enable_high);
    for (uint8_t i = 0; i < own.select_count && status == TL_OK; i++) {
        status = use_line(port, own.select[i], TL_LINE_OUTPUT);
        if (status == TL_OK)
            status = set_line(port, own.select[i], false);
    }
    return status;
}

static tl_status choose(const tl_port *port, const tl_mux_lines *own, uint8_t input)
{
    tl_status status = set_line(port, own->enable, !own->enable_high);
    for (uint8_t i = 0; i < own->select_count && status == TL_OK; i++)
        status = set_line(port, own->select[i], (input >> i & 1) != 0);
    return status == TL_OK ? set_line(port, own->enable, own->enable_high) : status;
}

tl_status mux_switch(const tl_port *port, const tl_mux_step *steps, uint8_t count, uint32_t *dwell_us)
{
    *dwell_us = 0;
    tl_status status = steps == NULL && count > 0 ? TL_ERR_ARG : TL_OK;
    uint8_t done = 0;
    for (; done < count && status == TL_OK; done++) {
        tl_mux_step step;
        tl_mux_lines own;
        tl_rom_copy(&step, &steps[done], sizeof step);
        tl_rom_copy(&own, step.mux, sizeof own);
        *dwell_us = own.dwell_us > *dwell_us ? own.dwell_us : *dwell_us;
        if (own.select_count > TL_MUX_SELECTS_MOST || step.input >> own.select_count != 0)
            status = TL_ERR_ARG;
        else
            status = choose(port, &own, step.input);
    }
    if (status == TL_OK)
        return TL_OK;
    while (done-- > 0) { /* nothing half switched stays on */
        tl_mux_step step;
        tl_mux_lines own;
        tl_rom_copy(&step, &steps[done], sizeof step);
        tl_rom_copy(&own, step.mux, sizeof own);
        (void)set_line(port, own.enable, !own.enable_high);
    }
    return status;
}

tl_status tl_mux_lead(const tl_port *port, const tl_mux_step *steps, uint8_t count)
{
    uint32_t dwell_us = 0;
    const tl_status status = mux_switch(port, steps, count, &dwell_us);
    return status == TL_OK && dwell_us > 0 ? tl_port_wait_us(port, dwell_us) : status;
}

tl_status tl_mux_release(const tl_port *port, const tl_mux_lines *mux)
{
    tl_mux_lines own;
    if (mux == NULL)
        return TL_ERR_ARG;
    tl_rom_copy(&own, mux, sizeof own);
    tl_status first = use_line(port, own.enable, TL_LINE_RELEASED);
    for (uint8_t i = 0; i < own.select_count && i < TL_MUX_SELECTS_MOST; i++) {
        const tl_status status = use_line(port, own.select[i], TL_LINE_RELEASED);
        first = first == TL_OK ? status : first;
    }
    return first;
}
