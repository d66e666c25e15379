/* SPDX-License-Identifier: MIT */
/*
 * One take as a machine of three phases (lead, dwell, await); each step does what can be done now.
 * Conversions of the commonest kind are made straight away, so that the compiler sees through them.
 */
#include "taking.h"
#include "elapsed.h"
#include "failed.h"
#include "mux_internal.h"
#include "pin_conversion.h"
#include "port_calls.h"
#include "tinyladder/take.h"

/* --- conversions of whichever kind --- */

static bool is_plain(const TL_IN_ROM tl_convertible *input)
{
    return input->by == &tl_pin_conversion;
}

static tl_status start(const tl_port *port, const TL_IN_ROM tl_convertible *input)
{
    return is_plain(input) ? tl_pin_start(port, input) : input->by->start(port, input);
}

static tl_status look(const tl_port *port, const TL_IN_ROM tl_convertible *input, tl_span waited,
                      tl_sample *sample, bool *ended)
{
    tl_raw word = 0;
    if (!is_plain(input))
        return input->by->ended(port, input, waited, sample, ended);
    const tl_status status = tl_pin_fetch(port, input, waited, &word, ended);
    return status == TL_OK && *ended ? tl_pin_count(input, word, sample) : status;
}

tl_status tl_taking_word(const TL_IN_ROM tl_convertible *input, tl_raw word, tl_sample *sample)
{
    if (is_plain(input))
        return tl_pin_count(input, word, sample);
    return input->by->word ? input->by->word(input, word, sample) : TL_ERR_ARG;
}

/* --- one step --- */

/* A phase begins now. */
static tl_status begin_phase(tl_taking *taking, const tl_port *port, uint8_t phase)
{
    taking->phase = phase;
    taking->waited = 0;
    return tl_port_span_clock(port, &taking->seen_at);
}

/* How long the phase has certainly lasted. A clock that does not move for TL_PORT_FROZEN_POLLS steps stands
 * still. */
static tl_status look_at_clock(tl_taking *taking, const tl_port *port, tl_span *waited)
{
    tl_span now;
    const tl_span before = taking->waited;
    const tl_status status = tl_port_span_clock(port, &now);
    if (status != TL_OK)
        return status;
    *waited = tl_port_surely(port, tl_elapsed(&taking->waited, &taking->seen_at, now));
    taking->still = taking->waited == before ? (uint16_t)(taking->still + 1) : 0;
    return taking->still < TL_PORT_FROZEN_POLLS ? TL_OK : TL_ERR_CLOCK;
}

tl_status tl_taking_go(tl_taking *taking, const tl_port *port, tl_sample *sample, tl_status *own, bool *ended)
{
    const TL_IN_ROM tl_way *way = taking->way;
    tl_span waited = 0;
    if (taking->phase == TAKING_LEAD) {
        taking->left = way->discard;
        taking->dwell = 0;
        if (way->mux)
            *own = tl_mux_switch(port, way->mux, way->mux_input, &taking->dwell);
        return begin_phase(taking, port, TAKING_DWELL);
    }
    const tl_status status = look_at_clock(taking, port, &waited);
    if (status != TL_OK)
        return status;
    if (taking->phase == TAKING_AWAIT) {
        tl_sample dropped;
        *own = look(port, way->input, waited, taking->left > 0 ? &dropped : sample, ended);
        if (*own != TL_OK || !*ended || taking->left == 0)
            return TL_OK;
        taking->left--;
        *ended = false;
    } else if (taking->dwell > 0 && waited <= taking->dwell) {
        /* A clock that has just ticked may be a microsecond ahead: strictly more has certainly passed. */
        return TL_OK;
    }
    *own = start(port, way->input);
    return begin_phase(taking, port, TAKING_AWAIT);
}

tl_status tl_taking_rest(const tl_taking *taking, const tl_port *port)
{
    port_idle(port);
    const uint16_t poll_us = taking->phase == TAKING_AWAIT ? taking->way->input->by->poll_us : 0;
    return poll_us > 0 ? tl_port_wait_us(port, poll_us) : TL_OK;
}

/* --- one take --- */

void tl_taking_begin(tl_taking *taking, const TL_IN_ROM tl_way *way)
{
    taking->way = way;
    taking->still = 0;
    taking->phase = TAKING_IDLE;
}

void tl_taking_end(tl_taking *taking, const tl_port *port)
{
    taking->phase = TAKING_IDLE;
    tl_port_yield(port, taking);
}

static bool is_known(const TL_IN_ROM tl_way *way)
{
    if (!MISTAKEN(true))
        return true;
    if (!way)
        return false;
    const TL_IN_ROM tl_convertible *input = way->input;
    if (!input)
        return false;
    const TL_IN_ROM tl_conversion *by = input->by;
    return by != 0;
}

tl_status tl_taking_step(tl_taking *taking, const tl_port *port, tl_sample *sample, bool *done)
{
    tl_status own = TL_OK;
    *done = false;
    if (taking->phase == TAKING_IDLE) {
        const tl_status claimed = is_known(taking->way) ? tl_port_claim(port, taking) : TL_ERR_ARG;
        if (claimed == TL_OK)
            taking->phase = TAKING_LEAD;
        return claimed == TL_OK || claimed == TL_ERR_BUSY ? claimed : tl_failed(sample, claimed);
    }
    const tl_status whole = tl_taking_go(taking, port, sample, &own, done);
    const tl_status status = whole == TL_OK ? own : whole;
    if (status != TL_OK || *done)
        tl_taking_end(taking, port);
    return status == TL_OK ? TL_OK : tl_failed(sample, status);
}

tl_status tl_take(const tl_port *port, const TL_IN_ROM tl_way *way, tl_sample *sample)
{
    tl_taking taking;
    bool done = false;
    if (sample == NULL)
        return TL_ERR_ARG;
    tl_taking_begin(&taking, way);
    tl_status status = tl_taking_step(&taking, port, sample, &done);
    while (status == TL_OK && !done) {
        status = tl_taking_step(&taking, port, sample, &done);
        if (status != TL_OK || done)
            break;
        status = tl_taking_rest(&taking, port);
        if (status != TL_OK)
            tl_taking_end(&taking, port);
    }
    return status == TL_OK ? TL_OK : tl_failed(sample, status);
}
