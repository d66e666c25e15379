/*
 * One pass over several inputs as a machine of four phases (wake, lead, dwell, await); each step does what
 * can be done now. Values are gathered aside and shown together, so that no reader sees half a sweep: a
 * number that is odd meanwhile tells those who read from an interrupt. Who sweeps is the one reader of the
 * port.
 */
#include "tinyladder/sweep.h"
#include "elapsed.h"
#include "failed.h"
#include "mux_internal.h"
#include "pin_conversion.h"
#include "timeout.h"
#include <stdatomic.h>
#include <string.h>

enum { PHASE_WAKE, PHASE_LEAD, PHASE_DWELL, PHASE_AWAIT };

tl_status tl_sweep_init(tl_sweep *sweep, const TL_IN_ROM tl_sweep_entry *entries, uint8_t count,
                        tl_sample *samples)
{
    if (sweep == NULL || !entries || count == 0 || samples == NULL)
        return TL_ERR_ARG;
    for (uint8_t i = 0; i < count; i++) {
        if (!entries[i].input || !entries[i].input->by)
            return TL_ERR_ARG;
        samples[i].value = 0;
        samples[i].flags = 0;
    }
    /* One by one: the libraries' routines that clear memory are larger than all this. */
    sweep->entries = entries;
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

void tl_sweep_begin(tl_sweep *sweep)
{
    sweep->at = 0;
    sweep->phase = PHASE_WAKE;
    sweep->failed = 0;
    sweep->running = true;
}

static tl_status give_up(tl_sweep *sweep, const tl_port *port, tl_status why)
{
    const bool reading = sweep->phase != PHASE_WAKE;
    for (uint8_t i = 0; i < sweep->count; i++)
        (void)tl_failed(&sweep->values[i], why);
    sweep->running = false;
    if (sweep->sleeps && reading)
        (void)tl_port_converter_power(port, false);
    tl_port_yield(port, sweep);
    return why;
}

static tl_status wake(tl_sweep *sweep, const tl_port *port)
{
    const tl_status status = tl_port_claim(port, sweep);
    if (status != TL_OK)
        return status;
    sweep->phase = PHASE_LEAD;
    return sweep->sleeps ? tl_port_converter_power(port, true) : TL_OK;
}

/* --- conversions of whichever kind: the commonest straight away, so that the compiler sees through it --- */

static bool is_plain(const TL_IN_ROM tl_convertible *input)
{
    return input->by == &tl_pin_conversion;
}

static tl_status start(const tl_port *port, const TL_IN_ROM tl_convertible *input)
{
    return is_plain(input) ? tl_pin_start(port, input) : input->by->start(port, input);
}

static tl_status look(const tl_port *port, const TL_IN_ROM tl_convertible *input, uint32_t waited_us,
                      tl_sample *sample, bool *ended)
{
    uint32_t word = 0;
    if (!is_plain(input))
        return input->by->ended(port, input, waited_us, sample, ended);
    const tl_status status = tl_pin_fetch(port, input, waited_us, &word, ended);
    return status == TL_OK && *ended ? tl_pin_count(input, word, sample) : status;
}

static tl_status take(const TL_IN_ROM tl_convertible *input, uint32_t word, tl_sample *sample)
{
    if (is_plain(input))
        return tl_pin_count(input, word, sample);
    return input->by->word ? input->by->word(input, word, sample) : TL_ERR_ARG;
}

/* --- one step --- */

/* A phase begins now. */
static tl_status begin_phase(tl_sweep *sweep, const tl_port *port, uint8_t phase)
{
    sweep->phase = phase;
    sweep->waited_us = 0;
    return tl_port_clock_us(port, &sweep->seen_us);
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
    sweep->work[sweep->at] = sweep->values[sweep->at];
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
    sweep->phase = PHASE_LEAD;
    if (++sweep->at < sweep->count)
        return TL_OK;
    return sweep->failed == sweep->count ? own : complete(sweep, port, done);
}

/*
 * What can be done now for the entry that is at hand; ended: it has its value. What concerns that entry only
 * is reported in `own`; what this answers concerns the whole sweep.
 */
static tl_status step(tl_sweep *sweep, const tl_port *port, tl_status *own, bool *ended)
{
    const TL_IN_ROM tl_sweep_entry *entry = &sweep->entries[sweep->at];
    const TL_IN_ROM tl_convertible *input = entry->input;
    uint32_t now_us;
    if (sweep->phase == PHASE_LEAD) {
        sweep->left = entry->discard;
        sweep->dwell_us = 0;
        if (entry->mux)
            *own = tl_mux_switch(port, entry->mux, entry->mux_input, &sweep->dwell_us);
        return begin_phase(sweep, port, PHASE_DWELL);
    }
    const tl_status status = tl_port_clock_us(port, &now_us);
    if (status != TL_OK)
        return status;
    const uint32_t waited_us =
        tl_port_surely_us(port->ops, tl_elapsed_us(&sweep->waited_us, &sweep->seen_us, now_us));
    if (sweep->phase == PHASE_AWAIT) {
        *own = look(port, input, waited_us, &sweep->work[sweep->at], ended);
        if (*own != TL_OK || !*ended || sweep->left == 0)
            return TL_OK;
        sweep->left--;
        *ended = false;
    } else if (sweep->dwell_us > 0 && waited_us <= sweep->dwell_us) {
        /* A clock that has just ticked may be a microsecond ahead: strictly more has certainly passed. */
        return TL_OK;
    }
    *own = start(port, input);
    return begin_phase(sweep, port, PHASE_AWAIT);
}

tl_status tl_sweep_step(tl_sweep *sweep, const tl_port *port, bool *done)
{
    tl_status own = TL_OK;
    bool ended = false;
    if (!sweep->running)
        return TL_ERR_ARG;
    *done = false;
    if (sweep->phase == PHASE_WAKE) {
        const tl_status status = wake(sweep, port);
        /* Another reads: nothing has begun, so nothing is aborted. */
        return status == TL_OK || status == TL_ERR_BUSY ? status : give_up(sweep, port, status);
    }
    tl_status whole = step(sweep, port, &own, &ended);
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
    wait_timeout timeout;
    tl_status first = TL_OK;
    bool done = false;
    tl_sweep_begin(sweep);
    /* Every step has a bound of its own; this one is there to notice a clock that stands still. */
    tl_status status = tl_timeout_begin(&timeout, port, INT32_MAX);
    if (status != TL_OK)
        return give_up(sweep, port, status);
    while (!done) {
        status = tl_sweep_step(sweep, port, &done);
        first = first == TL_OK ? status : first;
        if (status == TL_ERR_BUSY && sweep->running && sweep->phase == PHASE_WAKE)
            return give_up(sweep, port, status);
        if (!sweep->running)
            break;
        status = tl_timeout_keep(&timeout, port);
        if (status != TL_OK)
            return give_up(sweep, port, first == TL_OK ? status : first);
    }
    return first;
}

tl_status tl_sweep_words(tl_sweep *sweep, const uint32_t *words, uint32_t now_us)
{
    tl_status first = TL_OK;
    if (sweep->running)
        return TL_ERR_BUSY;
    for (uint8_t i = 0; i < sweep->count; i++) {
        const TL_IN_ROM tl_convertible *input = sweep->entries[i].input;
        sweep->work[i] = sweep->values[i];
        const tl_status status = take(input, words[i], &sweep->work[i]);
        if (status != TL_OK)
            (void)tl_failed(&sweep->work[i], status);
        if (status == TL_ERR_ARG)
            return status;
        first = first == TL_OK ? status : first;
    }
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
