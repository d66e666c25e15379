/*
 * One pass over several inputs as a machine of four phases (wake, lead, dwell, await); each step does what
 * can be done now. Values are gathered aside and shown together, so that no reader sees half a sweep: a
 * number that is odd meanwhile tells those who read from an interrupt. Who sweeps is the one reader of the
 * port.
 */
#include "tinyladder/sweep.h"
#include "elapsed.h"
#include "mux_internal.h"
#include "timeout.h"
#include "tinyladder/rom.h"
#include <stdatomic.h>

enum { PHASE_WAKE, PHASE_LEAD, PHASE_DWELL, PHASE_AWAIT };

/* It has one input, and a way to it. */
static bool is_possible(const tl_sweep_entry *entry)
{
    tl_sweep_entry own;
    tl_rom_copy(&own, entry, sizeof own);
    const bool external = own.external != NULL && own.external_input != NULL;
    return (own.input != NULL) != external && (own.route != NULL || own.route_length == 0);
}

tl_status tl_sweep_init(tl_sweep *sweep, const tl_sweep_entry *entries, uint8_t count, tl_sample *values,
                        tl_sample *work)
{
    if (sweep == NULL || entries == NULL || count == 0 || values == NULL || work == NULL || values == work)
        return TL_ERR_ARG;
    for (uint8_t i = 0; i < count; i++) {
        if (!is_possible(&entries[i]))
            return TL_ERR_ARG;
    }
    *sweep = (tl_sweep){.entries = entries, .values = values, .work = work, .count = count};
    memset(values, 0, count * sizeof *values);
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
        sweep->values[i].flags &= (uint8_t)~TL_READING_FRESH;
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

/* A phase begins now. */
static tl_status stamp(tl_sweep *sweep, const tl_port *port)
{
    const tl_status status = tl_port_clock_us(port, &sweep->since_us);
    sweep->seen_us = sweep->since_us;
    return status;
}

/* What concerns one entry only is told in `own`; what they answer concerns the whole sweep. */
static tl_status lead(tl_sweep *sweep, const tl_port *port, const tl_sweep_entry *entry, tl_status *own)
{
    *own = tl_mux_switch(port, entry->route, entry->route_length, &sweep->dwell_us);
    sweep->left = entry->discard;
    sweep->phase = PHASE_DWELL;
    return *own == TL_OK ? stamp(sweep, port) : TL_OK;
}

static tl_status start(tl_sweep *sweep, const tl_port *port, const tl_sweep_entry *entry, tl_status *own)
{
    tl_input input;
    const tl_status status = stamp(sweep, port);
    sweep->phase = PHASE_AWAIT;
    if (status != TL_OK)
        return status;
    if (entry->input == NULL) {
        *own = tl_external_start(port, entry->external, entry->external_input);
        return TL_OK;
    }
    tl_rom_copy(&input, entry->input, sizeof input);
    *own = tl_port_conversion_start(port, input.channel, input.acquisition_ns);
    return TL_OK;
}

/* Of either kind of converter: whether it has ended, and then what it found. */
static tl_status ask(const tl_sweep_entry *entry, const tl_port *port, uint32_t waited_us, tl_sample *value,
                     bool *ended)
{
    tl_status status;
    if (entry->input == NULL) {
        status = tl_external_ready(port, entry->external, waited_us, ended);
        return status == TL_OK && *ended
                   ? tl_external_fetch(port, entry->external, entry->external_input, value)
                   : status;
    }
    tl_input input;
    uint32_t word = 0;
    tl_rom_copy(&input, entry->input, sizeof input);
    status = tl_port_conversion_ended(port, ended);
    if (status == TL_OK && !*ended)
        return waited_us > input.longest_us ? TL_ERR_LATE : TL_OK;
    if (status == TL_OK)
        status = tl_port_conversion_word(port, &word);
    return status == TL_OK ? tl_word_sample(&input.word, word, value) : status;
}

/* Other contexts of the same processor see these writes in this order. */
static void show(tl_sweep *sweep, uint32_t now_us)
{
    sweep->sequence++;
    atomic_signal_fence(memory_order_seq_cst);
    memcpy(sweep->values, sweep->work, sweep->count * sizeof *sweep->values);
    sweep->stamp_us = now_us;
    sweep->any = true;
    atomic_signal_fence(memory_order_seq_cst);
    sweep->sequence++;
}

/* The entry keeps what it had, and the others go on. */
static void pass_over(tl_sweep *sweep)
{
    tl_sample *kept = &sweep->work[sweep->at];
    *kept = sweep->values[sweep->at];
    kept->flags &= (uint8_t)~TL_READING_FRESH;
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

static tl_status await(tl_sweep *sweep, const tl_port *port, const tl_sweep_entry *entry, uint32_t waited_us,
                       tl_status *own, bool *ended)
{
    *own = ask(entry, port, waited_us, &sweep->work[sweep->at], ended);
    if (*own != TL_OK || !*ended || sweep->left == 0)
        return TL_OK;
    sweep->left--;
    *ended = false;
    return start(sweep, port, entry, own);
}

/* What can be done now for the entry that is at hand; ended: it has its value. */
static tl_status step(tl_sweep *sweep, const tl_port *port, tl_status *own, bool *ended)
{
    tl_sweep_entry entry;
    uint32_t now_us = 0;
    tl_rom_copy(&entry, &sweep->entries[sweep->at], sizeof entry);
    if (sweep->phase == PHASE_LEAD)
        return lead(sweep, port, &entry, own);
    const tl_status status = tl_port_clock_us(port, &now_us);
    if (status != TL_OK)
        return status;
    const uint32_t waited_us = tl_elapsed_us(&sweep->since_us, &sweep->seen_us, now_us);
    if (sweep->phase == PHASE_AWAIT)
        return await(sweep, port, &entry, waited_us, own, ended);
    /* A clock that has just ticked may be a microsecond ahead: strictly more has surely passed. */
    if (sweep->dwell_us > 0 && waited_us <= sweep->dwell_us)
        return TL_OK;
    return start(sweep, port, &entry, own);
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
        /* Another reads: nothing has begun, so nothing is given up. */
        return status == TL_OK || status == TL_ERR_BUSY ? status : give_up(sweep, port, status);
    }
    tl_status whole = step(sweep, port, &own, &ended);
    if (whole == TL_OK && own != TL_OK)
        pass_over(sweep);
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
        tl_sweep_entry entry;
        tl_rom_copy(&entry, &sweep->entries[i], sizeof entry);
        sweep->work[i] = sweep->values[i];
        const tl_status status =
            entry.input != NULL ? tl_input_word(entry.input, words[i], &sweep->work[i]) : TL_ERR_ARG;
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
