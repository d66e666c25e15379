/* SPDX-License-Identifier: MIT */
/*
 * The core, for a proof that no input within its documented preconditions makes it misbehave: every number is
 * any number of its type (of its documented range where the header names one). An entry each;
 * scripts/prove.sh runs them all.
 */
#include "tinyladder/button.h"
#include "tinyladder/due.h"
#include "tinyladder/fault.h"
#include "tinyladder/filter.h"
#include "tinyladder/lean.h"
#include "tinyladder/lines.h"
#include "tinyladder/output.h"
#include "tinyladder/pulse.h"
#include "tinyladder/quadrature.h"
#include "tinyladder/resistance.h"
#include "tinyladder/rhythm.h"
#include "tinyladder/rungs.h"
#include "tinyladder/scale.h"
#include "tinyladder/share.h"
#include "tinyladder/table.h"
#include "tinyladder/text.h"
#include "tinyladder/word.h"
#include <__fc_builtin.h>

/* As src/core/clear.c, without the volatile that keeps compilers from putting a library's routine there. */
void tl_clear(void *object, uint8_t size);
void tl_clear(void *object, uint8_t size)
{
    for (uint8_t *at = object; size > 0; size--)
        *at++ = 0;
}

static int32_t any(void)
{
    return Frama_C_interval(INT32_MIN, INT32_MAX);
}

static uint32_t any_unsigned(void)
{
    return Frama_C_unsigned_int_interval(0, UINT32_MAX);
}

static uint8_t any_byte(void)
{
    return (uint8_t)Frama_C_interval(0, 255);
}

static uint16_t any_half(void)
{
    return (uint16_t)Frama_C_interval(0, 65535);
}

static bool either(void)
{
    return Frama_C_interval(0, 1) != 0;
}

static tl_sample any_sample(void)
{
    const tl_sample sample = {any(), any_byte(), (int8_t)Frama_C_interval(-128, 127)};
    return sample;
}

/* Numbers of bits and widths on both sides of every edge. */
void prove_word(void)
{
    static const uint8_t edges[] = {0, 3, 4, 8, 12, 16, 23, 24, 25, 31, 32, 33};
    const uint8_t bytes[4] = {any_byte(), any_byte(), any_byte(), any_byte()};
    tl_raw word;
    (void)tl_word_join(bytes, (uint8_t)Frama_C_interval(0, 4),
                       either() ? TL_BYTES_HIGH_FIRST : TL_BYTES_LOW_FIRST, &word);
    //@ loop unroll 12;
    for (int b = 0; b < 12; b++) {
        //@ loop unroll 12;
        for (int w = 0; w < 12; w++) {
            const tl_word format = {edges[b], edges[w], (uint8_t)Frama_C_interval(0, 3),
                                    (uint8_t)Frama_C_interval(0, 3), either()};
            int32_t code = 0;
            tl_sample sample;
            if (tl_word_code(&format, any_unsigned(), &code) == TL_OK)
                (void)tl_word_count(&format, code);
            (void)tl_word_sample(&format, any_unsigned(), &sample);
        }
    }
}

/* Points at these places, rising or not; any values there, any place asked for. */
void prove_table(void)
{
    static const int32_t places[] = {INT32_MIN, -5, 0, 7, INT32_MAX};
    //@ loop unroll 5;
    for (int a = 0; a < 5; a++) {
        //@ loop unroll 5;
        for (int b = 0; b < 5; b++) {
            //@ loop unroll 5;
            for (int c = 0; c < 5; c++) {
                const tl_table_point points[3] = {{places[a], any()}, {places[b], any()}, {places[c], any()}};
                //@ loop unroll 4;
                for (uint8_t count = 0; count <= 3; count++) {
                    const tl_table table = {points, count, either()};
                    bool beyond;
                    if (tl_table_check(&table) == TL_OK)
                        (void)tl_table_value(&table, any(), &beyond);
                }
            }
        }
    }
}

void prove_share(void)
{
    uint16_t share;
    uint8_t level = any_byte();
    int32_t empty = any(), full = any();
    const tl_level_step steps[3] = {
        {any_half(), any_half()}, {any_half(), any_half()}, {any_half(), any_half()}};
    (void)tl_share_of(any(), any(), any(), any_half(), &share);
    tl_share_inward(&empty, &full, any_byte());
    (void)tl_level_of(any_half(), any_half(), any_half(), any_half(), any_byte(), &level);
    //@ loop unroll 4;
    for (uint8_t levels = 0; levels <= 3; levels++) {
        //@ loop unroll 4;
        for (uint8_t was = 0; was <= levels; was++) /* as documented: 0 .. levels */
            (void)tl_level_by(steps, levels, any_half(), was);
    }
}

void prove_peak(void)
{
    tl_peak peak;
    tl_sample least, most;
    (void)tl_peak_init(&peak);
    for (int i = 0; i < 4; i++) {
        const tl_sample sample = any_sample();
        tl_peak_feed(&peak, &sample);
    }
    (void)tl_peak_take(&peak, &least, &most);
}

void prove_mean(void)
{
    tl_mean mean;
    tl_sample result;
    if (tl_mean_init(&mean, any_half()) != TL_OK)
        return;
    for (int i = 0; i < 7; i++) {
        const tl_sample sample = any_sample();
        (void)tl_mean_feed(&mean, &sample, &result);
    }
}

void prove_window(void)
{
    tl_sample kept[5], result;
    //@ loop unroll 6;
    for (uint8_t size = 0; size <= 5; size++) {
        tl_window window;
        if (tl_window_init(&window, kept, size) != TL_OK)
            continue;
        //@ loop unroll 7;
        for (int i = 0; i < 7; i++) {
            const tl_sample sample = any_sample();
            tl_window_feed(&window, &sample);
            (void)tl_window_mean(&window, &result);
            (void)tl_window_median(&window, &result);
        }
    }
}

void prove_smooth(void)
{
    tl_sample result;
    //@ loop unroll 20;
    for (uint8_t depth = 0; depth < 18; depth++) {
        tl_exponential smooth;
        if (tl_exponential_init(&smooth, depth) != TL_OK)
            continue;
        //@ loop unroll 3;
        for (int i = 0; i < 3; i++) {
            const tl_sample sample = any_sample();
            tl_exponential_feed(&smooth, &sample, &result);
        }
    }
}

void prove_oversample(void)
{
    uint32_t result;
    uint8_t flags;
    //@ loop unroll 12;
    for (uint8_t extra = 0; extra < 10; extra++) {
        tl_oversample more;
        if (tl_oversample_init(&more, extra) != TL_OK)
            continue;
        for (int i = 0; i < 300; i++)
            (void)tl_oversample_feed(&more, any_half(), any_byte(), &result, &flags);
    }
}

void prove_pulse(void)
{
    tl_pulse pulse;
    tl_length_us ended;
    tl_pattern pattern;
    const tl_length_us lengths[3] = {
        {either(), any_unsigned()}, {either(), any_unsigned()}, {either(), any_unsigned()}};
    const bool ready =
        tl_pattern_init(&pattern, lengths, (uint8_t)Frama_C_interval(0, 3), any_byte()) == TL_OK;
    (void)tl_pulse_init(&pulse);
    for (int i = 0; i < 5; i++) {
        if (tl_pulse_feed(&pulse, either(), any_unsigned(), &ended) && ready)
            (void)tl_pattern_feed(&pattern, &ended);
    }
    (void)tl_pulse_missed(&pulse, any_half());
}

void prove_rhythm(void)
{
    tl_rhythm rhythm;
    const tl_rhythm_config config = {any_unsigned(), any_unsigned(), either()};
    if (tl_rhythm_init(&rhythm, &config) != TL_OK)
        return;
    for (int i = 0; i < 5; i++)
        (void)tl_rhythm_feed(&rhythm, either(), any_unsigned());
    (void)tl_rhythm_frequency(&rhythm, (uint8_t)Frama_C_interval(0, 3));
    (void)tl_rhythm_duty(&rhythm, (uint8_t)Frama_C_interval(0, 2));
    (void)tl_rhythm_period(&rhythm, (uint8_t)Frama_C_interval(0, 3));
}

void prove_text(void)
{
    char text[20], hex[12];
    const uint8_t width = any_byte();
    if (width > 15)
        return;
    //@ split width;
    (void)tl_text_fixed(any(), any_byte(), width, text);
    //@ loop unroll 10;
    for (uint8_t digits = 0; digits < 10; digits++)
        (void)tl_text_hex(any_unsigned(), digits, hex);
}

void prove_quadrature(void)
{
    tl_quadrature turned;
    (void)tl_quadrature_init(&turned);
    turned.quarters = any(); /* after any time */
    turned.missed = any_half();
    for (int i = 0; i < 4; i++)
        (void)tl_quadrature_feed(&turned, either(), either());
    //@ loop unroll 16;
    for (uint8_t a_step = 1; a_step <= 16; a_step++) /* as documented */
        (void)tl_quadrature_steps(&turned, a_step);
}

void prove_due(void)
{
    tl_due due;
    tl_hold hold;
    if (tl_due_init(&due, any_unsigned(), any_unsigned()) == TL_OK) {
        due.missed = any_half();
        (void)tl_due_now(&due, any_unsigned());
        (void)tl_due_now(&due, any_unsigned());
    }
    if (tl_hold_init(&hold, any_unsigned(), any_unsigned()) != TL_OK)
        return;
    for (int i = 0; i < 4; i++)
        (void)tl_hold_feed(&hold, either(), any_unsigned());
}

void prove_scale(void)
{
    const tl_scale_config config = {.reference_low_uv = any(),
                                    .reference_high_uv = any(),
                                    .bits = any_byte(),
                                    .steps = (tl_steps)Frama_C_interval(0, 2),
                                    .undo_num = any_unsigned(),
                                    .undo_den = any_unsigned(),
                                    .offset_uv = any(),
                                    .has_sign = either()};
    tl_scale scale;
    if (tl_scale_init(&scale, &config) == TL_OK) {
        (void)tl_scale_uv(&scale, any_half());
        (void)tl_scale_clipped(&scale, any_half());
    }
}

void prove_line(void)
{
    const tl_line line = {any_unsigned(),
                          any_unsigned(),
                          Frama_C_interval(-1000000000, 1000000000),
                          any_half(),
                          (uint8_t)Frama_C_interval(16, 31),
                          either()};
    const tl_curve_point points[3] = {
        {0, (int16_t)Frama_C_interval(-32768, 32767), any_half(), any_half()},
        {any_half(), (int16_t)Frama_C_interval(-32768, 32767), any_half(), any_half()},
        {any_half(), (int16_t)Frama_C_interval(-32768, 32767), any_half(), any_half()}};
    const tl_curve curve = {points, 3};
    const tl_rung rungs[3] = {{any_half(), any_half()}, {any_half(), any_half()}, {any_half(), any_half()}};
    (void)tl_line_value(&line, any_half());
    (void)tl_curve_value(&curve, any_half());
    (void)tl_ladder_level(rungs, 3, any_half());
}

void prove_fault(void)
{
    const tl_fault_config config = {any(),
                                    any(),
                                    Frama_C_interval(0, 1000000),
                                    any(),
                                    (uint8_t)Frama_C_interval(0, 2),
                                    (uint8_t)Frama_C_interval(0, 2),
                                    either()};
    const tl_threshold threshold = {any(), any()};
    tl_fault fault;
    tl_sample result;
    if (tl_fault_init(&fault, &config) != TL_OK)
        return;
    for (int i = 0; i < 3; i++) {
        const tl_sample sample = any_sample();
        tl_fault_feed(&fault, &config, &sample, any_unsigned(), &result);
    }
    (void)tl_fault_age(&fault, any_unsigned());
    (void)tl_threshold_next(&threshold, either(), any());
    (void)tl_duty_of(any_half(), any_half(), any_half());
}

void prove_lines(void)
{
    tl_lines lines;
    if (tl_lines_init(&lines, any_unsigned(), any_byte()) != TL_OK)
        return;
    for (int i = 0; i < 4; i++)
        (void)tl_lines_look(&lines, any_unsigned());
}

void prove_resistance(void)
{
    uint32_t mohm;
    //@ loop unroll 20;
    for (uint8_t bits = 0; bits < 20; bits++) {
        const tl_partner partner = {any_unsigned(), bits, (uint8_t)Frama_C_interval(0, 2), either()};
        (void)tl_resistance_of(&partner, any_half(), &mohm);
    }
}
