#include "tinyladder/sweep.h"
#include "mux_internal.h"
#include "tinyladder/rom.h"

enum { PHASE_LEAD, PHASE_DWELL, PHASE_AWAIT };

tl_status tl_sweep_init(tl_sweep *sweep, const tl_sweep_entry *entries, uint8_t count, tl_sweep_value *values,
                        tl_sweep_value *work)
{
    if (sweep == NULL || entries == NULL || count == 0 || values == NULL || work == NULL)
        return TL_ERR_ARG;
    *sweep = (tl_sweep){.entries = entries, .values = values, .work = work, .count = count};
    for (uint8_t i = 0; i < count; i++)
        values[i] = (tl_sweep_value){0, 0};
    return TL_OK;
}

void tl_sweep_begin(tl_sweep *sweep)
{
    sweep->at = 0;
    sweep->phase = PHASE_LEAD;
    sweep->running = true;
}

static void forget_fresh(tl_sweep *sweep)
{
    for (uint8_t i = 0; i < sweep->count; i++)
        sweep->values[i].flags &= (uint8_t)~TL_READING_FRESH;
    sweep->running = false;
}

static void load(const tl_sweep *sweep, tl_sweep_entry *entry, tl_input *input)
{
    tl_rom_copy(entry, &sweep->entries[sweep->at], sizeof *entry);
    tl_rom_copy(input, entry->input, sizeof *input);
}

static tl_status start(tl_sweep *sweep, const tl_port *port, const tl_input *input)
{
    const tl_status status = tl_port_clock_us(port, &sweep->since_us);
    sweep->phase = PHASE_AWAIT;
    return status == TL_OK ? tl_port_conversion_start(port, input->channel, input->acquisition_ns) : status;
}

static tl_status lead(tl_sweep *sweep, const tl_port *port, const tl_sweep_entry *entry)
{
    tl_status status = mux_switch(port, entry->route, entry->route_length, &sweep->dwell_us);
    sweep->left = entry->discard;
    sweep->phase = PHASE_DWELL;
    return status == TL_OK ? tl_port_clock_us(port, &sweep->since_us) : status;
}

/* The code of an input's word, flags with it. */
static tl_status take(const tl_input *input, uint32_t word, tl_sweep_value *value)
{
    int32_t code = 0;
    const tl_status status = input->word.bits > 16 ? TL_ERR_ARG : tl_word_code(&input->word, word, &code);
    if (status != TL_OK)
        return status;
    const int32_t half = INT32_C(1) << (input->word.bits - 1);
    const uint16_t last = (uint16_t)(2 * half - 1);
    value->count = (uint16_t)(input->word.sign == TL_WORD_UNSIGNED ? code : code + half);
    value->flags = (uint8_t)(TL_READING_FRESH | (value->count == 0      ? TL_READING_CLIPPED_LOW
                                                 : value->count == last ? TL_READING_CLIPPED_HIGH
                                                                        : 0u));
    return TL_OK;
}

/* Only now does anything change for those who read. */
static tl_status complete(tl_sweep *sweep, const tl_port *port, bool *done)
{
    uint32_t now_us = 0;
    const tl_status status = tl_port_clock_us(port, &now_us);
    if (status != TL_OK)
        return status;
    for (uint8_t i = 0; i < sweep->count; i++)
        sweep->values[i] = sweep->work[i];
    sweep->stamp_us = now_us;
    sweep->running = false;
    sweep->any = true;
    *done = true;
    return TL_OK;
}

static tl_status await(tl_sweep *sweep, const tl_port *port, const tl_input *input, bool *done)
{
    bool ended = false;
    uint32_t now_us = 0, word = 0;
    tl_status status = tl_port_conversion_ended(port, &ended);
    if (status == TL_OK && !ended) {
        status = tl_port_clock_us(port, &now_us);
        return status == TL_OK && now_us - sweep->since_us > input->longest_us ? TL_ERR_LATE : status;
    }
    if (status == TL_OK)
        status = tl_port_conversion_word(port, &word);
    if (status != TL_OK)
        return status;
    if (sweep->left > 0) {
        sweep->left--;
        return start(sweep, port, input);
    }
    status = take(input, word, &sweep->work[sweep->at]);
    sweep->phase = PHASE_LEAD;
    if (status == TL_OK && ++sweep->at == sweep->count)
        status = complete(sweep, port, done);
    return status;
}

static tl_status step(tl_sweep *sweep, const tl_port *port, bool *done)
{
    tl_sweep_entry entry;
    tl_input input;
    uint32_t now_us = 0;
    load(sweep, &entry, &input);
    if (sweep->phase == PHASE_LEAD)
        return lead(sweep, port, &entry);
    if (sweep->phase == PHASE_AWAIT)
        return await(sweep, port, &input, done);
    const tl_status status = tl_port_clock_us(port, &now_us);
    /* A clock that has just ticked may be a microsecond ahead: strictly more has surely passed. */
    if (status != TL_OK || (sweep->dwell_us > 0 && now_us - sweep->since_us <= sweep->dwell_us))
        return status;
    return start(sweep, port, &input);
}

tl_status tl_sweep_step(tl_sweep *sweep, const tl_port *port, bool *done)
{
    if (sweep == NULL || done == NULL || !sweep->running)
        return TL_ERR_ARG;
    *done = false;
    const tl_status status = step(sweep, port, done);
    if (status != TL_OK)
        forget_fresh(sweep);
    return status;
}

tl_status tl_sweep_run(tl_sweep *sweep, const tl_port *port)
{
    uint32_t seen_us = 0;
    uint16_t still = 0;
    bool done = false;
    if (sweep == NULL)
        return TL_ERR_ARG;
    tl_sweep_begin(sweep);
    tl_status status = tl_port_clock_us(port, &seen_us);
    while (status == TL_OK && !done) {
        uint32_t now_us = seen_us;
        const uint8_t at = sweep->at, phase = sweep->phase;
        status = tl_sweep_step(sweep, port, &done);
        if (status == TL_OK && !done)
            status = tl_port_clock_us(port, &now_us);
        const bool moved = now_us != seen_us || at != sweep->at || phase != sweep->phase;
        still = moved ? 0u : (uint16_t)(still + 1u);
        if (status == TL_OK && still >= TL_PORT_FROZEN_POLLS)
            status = TL_ERR_CLOCK;
        seen_us = now_us;
    }
    if (status != TL_OK)
        forget_fresh(sweep);
    return status;
}
