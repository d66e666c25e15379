/* SPDX-License-Identifier: MIT */
/*
 * One pass over several signals: woken, then one take after the other. Values are gathered aside and shown
 * together, so that no reader sees half a sweep: a number that is odd meanwhile tells those who read from an
 * interrupt. Who sweeps is the one reader of the port.
 */
#include "tinyladder/sweep.h"
#include "clear.h"
#include "failed.h"
#include "port_calls.h"
#include "taking.h"
#include <stdatomic.h>
#include <string.h>

tl_status tl_sweep_init(tl_sweep *sweep, const TL_IN_ROM tl_way *ways, uint8_t count, tl_sample *samples)
{
    if (MISTAKEN(sweep == NULL || !ways || count == 0 || samples == NULL))
        return TL_ERR_ARG;
    for (uint8_t i = 0; i < count; i++) {
        if (MISTAKEN(!ways[i].input || !ways[i].input->by))
            return TL_ERR_ARG;
        samples[i].value = 0;
        samples[i].flags = 0;
    }
    /* One by one: the libraries' routines that clear memory are larger than all this. */
    sweep->ways = ways;
    sweep->values = samples;
    sweep->work = samples + count;
    sweep->stamp_us = 0;
    sweep->count = count;
    sweep->sequence = 0;
    sweep->running = false;
    sweep->any = false;
    sweep->sleeps = false;
    return TL_OK;
}

tl_status tl_sweep_begin(tl_sweep *sweep)
{
    if (!sweep->ways || sweep->count == 0)
        return TL_ERR_ARG; /* it was never made ready */
    sweep->at = 0;
    sweep->taking.phase = TAKING_IDLE;
    sweep->failed = 0;
    sweep->running = true;
    return TL_OK;
}

static bool is_asleep(const tl_sweep *sweep)
{
    return sweep->taking.phase == TAKING_IDLE;
}

static void grow_stale(tl_sweep *sweep, tl_status why)
{
    for (uint8_t i = 0; i < sweep->count; i++)
        (void)tl_failed(&sweep->values[i], why);
}

static tl_status give_up(tl_sweep *sweep, const tl_port *port, tl_status why)
{
    grow_stale(sweep, why);
    sweep->running = false;
    if (sweep->sleeps && !is_asleep(sweep))
        (void)tl_port_converter_power(port, false);
    tl_port_yield(port, sweep);
    return why;
}

static void lead_next(tl_sweep *sweep)
{
    tl_taking_begin(&sweep->taking, &sweep->ways[sweep->at]);
    sweep->taking.phase = TAKING_LEAD;
}

static tl_status wake(tl_sweep *sweep, const tl_port *port)
{
    const tl_status status = tl_port_claim(port, sweep);
    if (status != TL_OK)
        return status;
    lead_next(sweep);
    return sweep->sleeps ? tl_port_converter_power(port, true) : TL_OK;
}

/* Other contexts of the same processor see these writes in this order. */
static void show(tl_sweep *sweep, uint32_t now_us)
{
    sweep->sequence++;
    atomic_signal_fence(memory_order_seq_cst);
    tl_sample *const before = sweep->values;
    sweep->values = sweep->work;
    sweep->work = before;
    sweep->stamp_us = now_us;
    sweep->any = true;
    atomic_signal_fence(memory_order_seq_cst);
    sweep->sequence++;
}

/* The entry keeps what it had, and the others go on. */
static void pass_over(tl_sweep *sweep, tl_status why)
{
    tl_copy(&sweep->work[sweep->at], &sweep->values[sweep->at]);
    (void)tl_failed(&sweep->work[sweep->at], why);
    sweep->failed++;
}

/* Only now does anything change for those who read. */
static tl_status complete(tl_sweep *sweep, const tl_port *port, bool *done)
{
    uint32_t now_us = 0;
    tl_status status = tl_port_clock_us(port, &now_us);
    if (status == TL_OK && sweep->sleeps)
        status = tl_port_converter_power(port, false);
    if (status != TL_OK)
        return status;
    show(sweep, now_us);
    sweep->running = false;
    tl_port_yield(port, sweep);
    *done = true;
    return TL_OK;
}

/* The next entry; behind the last one the sweep is complete, unless there is nothing to show. */
static tl_status go_on(tl_sweep *sweep, const tl_port *port, tl_status own, bool *done)
{
    if (++sweep->at < sweep->count) {
        lead_next(sweep);
        return TL_OK;
    }
    return sweep->failed == sweep->count ? own : complete(sweep, port, done);
}

tl_status tl_sweep_step(tl_sweep *sweep, const tl_port *port, bool *done)
{
    tl_status own = TL_OK;
    bool ended = false;
    if (!sweep->running)
        return TL_ERR_ARG;
    *done = false;
    if (is_asleep(sweep)) {
        const tl_status status = wake(sweep, port);
        /* Another reads: nothing has begun, so nothing is aborted. */
        return status == TL_OK || status == TL_ERR_BUSY ? status : give_up(sweep, port, status);
    }
    tl_status whole = tl_taking_go(&sweep->taking, port, &sweep->work[sweep->at], &own, &ended);
    if (whole == TL_OK && own != TL_OK)
        pass_over(sweep, own);
    if (whole == TL_OK && (own != TL_OK || ended))
        whole = go_on(sweep, port, own, done);
    return whole == TL_OK ? own : give_up(sweep, port, whole);
}

void tl_sweep_end(tl_sweep *sweep, const tl_port *port)
{
    if (sweep->running)
        (void)give_up(sweep, port, TL_OK);
}

tl_status tl_sweep_run(tl_sweep *sweep, const tl_port *port)
{
    bool done = false;
    tl_status first = tl_sweep_begin(sweep);
    if (first != TL_OK)
        return first;
    /* Every step has a bound of its own, and notices a clock that stands still. */
    while (!done) {
        tl_status status = tl_sweep_step(sweep, port, &done);
        first = first == TL_OK ? status : first;
        if (status == TL_ERR_BUSY && sweep->running && is_asleep(sweep))
            return give_up(sweep, port, status);
        if (!sweep->running)
            break;
        status = tl_taking_rest(&sweep->taking, port);
        if (status != TL_OK)
            return give_up(sweep, port, first == TL_OK ? status : first);
    }
    return first;
}

/* One word of a sweep that came by itself; false where such an input has none. */
static bool take_word(tl_sweep *sweep, uint8_t i, tl_raw word, tl_status *first)
{
    tl_copy(&sweep->work[i], &sweep->values[i]);
    const tl_status status = tl_taking_word(sweep->ways[i].input, word, &sweep->work[i]);
    if (status == TL_OK)
        return true;
    (void)tl_failed(&sweep->work[i], status);
    sweep->failed++;
    *first = *first == TL_OK ? status : *first;
    return status != TL_ERR_ARG;
}

tl_status tl_sweep_words(tl_sweep *sweep, const void *words, uint8_t bytes, uint32_t now_us)
{
    const uint16_t *const halves = words;
    const uint32_t *const wholes = words;
    tl_status first = TL_OK;
    if (sweep->running)
        return TL_ERR_BUSY;
    if (!sweep->ways || (bytes != 2 && bytes != sizeof(tl_raw)))
        return TL_ERR_ARG;
    sweep->failed = 0;
    for (uint8_t i = 0; i < sweep->count; i++) {
        if (!take_word(sweep, i, bytes == 2 ? halves[i] : (tl_raw)wholes[i], &first))
            return TL_ERR_ARG;
    }
    if (sweep->failed == sweep->count)
        grow_stale(sweep, first); /* nothing to show */
    else
        show(sweep, now_us);
    return first;
}

bool tl_sweep_copy(const tl_sweep *sweep, tl_sample *to, uint32_t *stamp_us)
{
    const volatile uint8_t *sequence = &sweep->sequence;
    const uint8_t before = *sequence;
    if (before % 2 != 0 || !sweep->any)
        return false;
    atomic_signal_fence(memory_order_seq_cst);
    memcpy(to, sweep->values, sweep->count * sizeof *to);
    *stamp_us = sweep->stamp_us;
    atomic_signal_fence(memory_order_seq_cst);
    return *sequence == before;
}
