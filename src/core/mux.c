/* SPDX-License-Identifier: MIT */
/*
 * Multiplexers: off, select lines, on, in this order, so that no third input is through meanwhile; a tree is
 * led one after the other and waited for once, by its longest dwell. What fails leaves nothing half switched
 * on.
 */
#include "mux_internal.h"
#include "port_calls.h"

static tl_status set_line(const tl_port *port, uint8_t line, bool high)
{
    return line == TL_MUX_NO_LINE ? TL_OK : tl_port_line_drive(port, line, high);
}

static tl_status use_line(const tl_port *port, uint8_t line, tl_line_use use)
{
    return line == TL_MUX_NO_LINE ? TL_OK : tl_port_line_use(port, line, use);
}

static inline bool is_possible(const TL_IN_ROM tl_mux_lines *mux)
{
    return mux && mux->select_count <= TL_MUX_SELECTS_MOST && mux->dwell <= TL_SPAN_MOST;
}

static tl_status set_enable(const tl_port *port, const TL_IN_ROM tl_mux_lines *mux, bool active)
{
    return set_line(port, mux->enable, active == mux->enable_high);
}

/* Every call is made, the first failure is reported. An output is low to begin with. */
static tl_status use_all(const tl_port *port, const TL_IN_ROM tl_mux_lines *mux, tl_line_use use)
{
    tl_status first = use_line(port, mux->enable, use);
    for (uint8_t i = 0; i < mux->select_count; i++) {
        const tl_status status = use_line(port, mux->select[i], use);
        first = first == TL_OK ? status : first;
    }
    return first;
}

tl_status tl_mux_open(const tl_port *port, const TL_IN_ROM tl_mux_lines *mux)
{
    if (MISTAKEN(!is_possible(mux)))
        return TL_ERR_ARG;
    tl_status status = use_all(port, mux, TL_LINE_OUTPUT);
    if (status == TL_OK)
        status = set_enable(port, mux, false);
    if (status != TL_OK)
        (void)use_all(port, mux, TL_LINE_RELEASED);
    return status;
}

tl_status tl_mux_release(const tl_port *port, const TL_IN_ROM tl_mux_lines *mux)
{
    return !MISTAKEN(!is_possible(mux)) ? use_all(port, mux, TL_LINE_RELEASED) : TL_ERR_ARG;
}

static tl_status choose(const tl_port *port, const TL_IN_ROM tl_mux_lines *mux, uint8_t input)
{
    tl_status status = MISTAKEN(!is_possible(mux) || input >> mux->select_count != 0) ? TL_ERR_ARG : TL_OK;
    if (status == TL_OK)
        status = set_enable(port, mux, false);
    for (uint8_t i = 0; i < mux->select_count && status == TL_OK; i++, input >>= 1)
        status = set_line(port, mux->select[i], (input & 1) != 0);
    return status == TL_OK ? set_enable(port, mux, true) : status;
}

tl_status tl_mux_switch(const tl_port *port, const TL_IN_ROM tl_mux_lines *mux, uint8_t input, tl_span *dwell)
{
    const TL_IN_ROM tl_mux_lines *at = mux;
    *dwell = 0;
    for (uint8_t deep = 0; at; deep++) {
        const tl_status status = MISTAKEN(deep >= TL_MUX_DEEPEST) ? TL_ERR_ARG : choose(port, at, input);
        if (status != TL_OK) { /* nothing half switched stays on */
            for (uint8_t i = 0; i <= deep; i++, mux = mux->into)
                (void)set_enable(port, mux, false);
            return status;
        }
        if (at->dwell > *dwell)
            *dwell = at->dwell;
        input = at->into_input;
        at = at->into;
    }
    return TL_OK;
}

tl_status tl_mux_lead(const tl_port *port, const void *who, const TL_IN_ROM tl_mux_lines *mux, uint8_t input)
{
    tl_span dwell;
    if (MISTAKEN(!mux || port == NULL || PORT_READER(port) == NULL || who == NULL))
        return TL_ERR_ARG;
    (void)port;
    if (PORT_READER(port)->who != who)
        return TL_ERR_BUSY;
    const tl_status status = tl_mux_switch(port, mux, input, &dwell);
    return status == TL_OK && dwell > 0 ? tl_port_wait_us(port, TL_SPAN_IN_US(dwell)) : status;
}
