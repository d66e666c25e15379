/*
 * Multiplexers: off, select lines, on, in this order, so that no third input is through meanwhile; a tree is
 * led one after the other and waited for once, by its longest dwell. What fails leaves nothing half switched
 * on.
 */
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

/* Every call is made, the first failure is told. An output is low to begin with. */
static tl_status use_all(const tl_port *port, const tl_mux_lines *own, tl_line_use use)
{
    tl_status first = use_line(port, own->enable, use);
    for (uint8_t i = 0; i < own->select_count; i++) {
        const tl_status status = use_line(port, own->select[i], use);
        first = first == TL_OK ? status : first;
    }
    return first;
}

static tl_status load_lines(const tl_mux_lines *mux, tl_mux_lines *own)
{
    if (mux == NULL)
        return TL_ERR_ARG;
    tl_rom_copy(own, mux, sizeof *own);
    return own->select_count > TL_MUX_SELECTS_MOST || own->dwell_us > INT32_MAX ? TL_ERR_ARG : TL_OK;
}

tl_status tl_mux_open(const tl_port *port, const tl_mux_lines *mux)
{
    tl_mux_lines own;
    tl_status status = load_lines(mux, &own);
    if (status != TL_OK)
        return status;
    status = use_all(port, &own, TL_LINE_OUTPUT);
    if (status == TL_OK)
        status = set_line(port, own.enable, !own.enable_high);
    if (status != TL_OK)
        (void)use_all(port, &own, TL_LINE_RELEASED);
    return status;
}

tl_status tl_mux_release(const tl_port *port, const tl_mux_lines *mux)
{
    tl_mux_lines own;
    const tl_status status = load_lines(mux, &own);
    return status == TL_OK ? use_all(port, &own, TL_LINE_RELEASED) : status;
}

static tl_status choose(const tl_port *port, const tl_mux_lines *own, uint8_t input)
{
    tl_status status = set_line(port, own->enable, !own->enable_high);
    for (uint8_t i = 0; i < own->select_count && status == TL_OK; i++)
        status = set_line(port, own->select[i], (input >> i & 1) != 0);
    return status == TL_OK ? set_line(port, own->enable, own->enable_high) : status;
}

/* The step, and the lines of its multiplexer. */
static uint8_t load(const tl_mux_step *rom, tl_mux_lines *own)
{
    tl_mux_step step;
    tl_rom_copy(&step, rom, sizeof step);
    if (step.mux == NULL) /* nothing to switch: refused as having no such input */
        *own = (tl_mux_lines){.select_count = TL_MUX_SELECTS_MOST + 1, .enable = TL_MUX_NO_LINE};
    else
        tl_rom_copy(own, step.mux, sizeof *own);
    return step.input;
}

tl_status tl_mux_switch(const tl_port *port, const tl_mux_step *steps, uint8_t count, uint32_t *dwell_us)
{
    tl_mux_lines own;
    *dwell_us = 0;
    for (uint8_t at = 0; at < count; at++) {
        const uint8_t input = load(&steps[at], &own);
        *dwell_us = own.dwell_us > *dwell_us ? own.dwell_us : *dwell_us;
        const bool possible = own.select_count <= TL_MUX_SELECTS_MOST && input >> own.select_count == 0;
        const tl_status status = possible ? choose(port, &own, input) : TL_ERR_ARG;
        if (status == TL_OK)
            continue;
        do { /* nothing half switched stays on */
            (void)load(&steps[at], &own);
            (void)set_line(port, own.enable, !own.enable_high);
        } while (at-- > 0);
        return status;
    }
    return TL_OK;
}

tl_status tl_mux_lead(const tl_port *port, const tl_mux_step *steps, uint8_t count)
{
    uint32_t dwell_us = 0;
    if (steps == NULL && count > 0)
        return TL_ERR_ARG;
    const tl_status status = tl_mux_switch(port, steps, count, &dwell_us);
    return status == TL_OK && dwell_us > 0 ? tl_port_wait_us(port, dwell_us) : status;
}
