/* SPDX-License-Identifier: MIT */
/*
 * The same work on every target: all of the core's arithmetic over a grid, each part boiled down to one
 * number. scripts/check-targets.sh runs it on 64, 32 and 8 bits and compares what it prints.
 */
#include "identity.h"
#include "tinyladder/core.h"

static uint32_t hash; /* FNV-1a, 32 bits */

static void add(uint32_t value)
{
    for (uint8_t i = 0; i < 4; i++) {
        hash ^= value >> 8 * i & 0xffu;
        hash *= UINT32_C(16777619);
    }
}

static void finish_part(void)
{
    for (uint8_t i = 0; i < 4; i++)
        identity_emit((uint8_t)(hash >> 8 * i));
    hash = UINT32_C(2166136261);
}

/* The same pseudo-random numbers everywhere (Numerical Recipes' generator). */
static uint32_t next_random(uint32_t *state)
{
    *state = *state * UINT32_C(1664525) + UINT32_C(1013904223);
    return *state >> 4;
}

static void scales(void)
{
    static const TL_ROM tl_scale_config configs[] = {
        {0, 3300000, 16, TL_STEPS_HALF, 57, 10, 0, false},
        {-2500000, 2500000, 16, TL_STEPS_END_TO_END, 1, 1, -1200, true},
        {0, 5000000, 10, TL_STEPS_FULL, 3, 2, 7, false},
        {-1999999999, 1999999999, 12, TL_STEPS_HALF, 1, 1, 0, false},
        {7, 4095999, 12, TL_STEPS_END_TO_END, 1000003, 999983, 1, false},
        {0, 1, 8, TL_STEPS_HALF, 1, 3, 0, false},
    };
    for (uint8_t i = 0; i < sizeof configs / sizeof configs[0]; i++) {
        tl_scale scale;
        tl_wide wide;
        tl_accuracy accuracy = {.around = 0};
        int32_t low, high;
        tl_scale_config config = configs[i];
        add((uint32_t)tl_scale_init(&scale, &config));
        add((uint32_t)tl_accuracy_init(&accuracy, &config, 20000, 2500));
        for (uint32_t count = 0; count <= scale.last; count++)
            add((uint32_t)tl_scale_uv(&scale, (uint16_t)count));
        for (uint32_t count = 0; count <= scale.last; count += 41) {
            tl_accuracy_interval(&accuracy, count, &low, &high);
            add((uint32_t)low);
            add((uint32_t)high);
        }
        config.bits = 24;
        add((uint32_t)tl_wide_init(&wide, &config));
        for (uint32_t count = 0; count <= wide.last; count += 4099)
            add((uint32_t)tl_wide_uv(&wide, count));
        finish_part();
    }
}

static void words(void)
{
    static const TL_ROM tl_word formats[] = {{12, 16, TL_WORD_RIGHT, TL_WORD_UNSIGNED, false},
                                             {10, 16, TL_WORD_LEFT, TL_WORD_UNSIGNED, false},
                                             {10, 16, TL_WORD_STRETCHED, TL_WORD_UNSIGNED, false},
                                             {12, 16, TL_WORD_RIGHT, TL_WORD_TWOS_COMPLEMENT, true},
                                             {16, 16, TL_WORD_RIGHT, TL_WORD_OFFSET_BINARY, false},
                                             {24, 32, TL_WORD_RIGHT, TL_WORD_TWOS_COMPLEMENT, true}};
    for (uint8_t i = 0; i < sizeof formats / sizeof formats[0]; i++) {
        const tl_word format = formats[i];
        for (uint32_t word = 0; word < 65536; word += 7) {
            tl_sample sample = {0};
            const uint32_t spread = format.width == 32 ? word * 65537u : word;
            add((uint32_t)tl_word_sample(&format, spread, &sample));
            add((uint32_t)sample.value);
            add(sample.flags);
        }
    }
    finish_part();
}

static void tables(void)
{
    static const TL_ROM tl_table_point points[] = {{INT32_MIN, 77}, {-1000, INT32_MIN}, {0, INT32_MAX},
                                                   {12345, -5},     {12346, 5},         {INT32_MAX, 6}};
    static const TL_ROM tl_table held = {points, 6, false}, going_on = {points + 1, 3, true};
    static const TL_ROM tl_partner partners[] = {{10000000, 12, TL_STEPS_HALF, false},
                                                 {4700000, 10, TL_STEPS_FULL, true}};
    uint32_t state = 1;
    for (uint16_t i = 0; i < 2000; i++) {
        const uint32_t a = next_random(&state) << 4 ^ next_random(&state), b = next_random(&state);
        int32_t empty = (int32_t)a, full = (int32_t)(b * 16u);
        uint32_t mohm = 0;
        uint16_t share = 0;
        bool beyond = false;
        add((uint32_t)tl_table_value(&held, (int32_t)a, &beyond));
        add((uint32_t)tl_table_value(&going_on, (int32_t)b - 1000000, &beyond));
        add(beyond);
        add((uint32_t)tl_resistance_of(&partners[i % 2], (uint16_t)(b % 1024), &mohm));
        add(mohm);
        add((uint32_t)tl_share_of((int32_t)(a ^ b), empty, full, (uint16_t)b, &share));
        add(share);
        tl_share_inward(&empty, &full, (uint8_t)(b % 60));
        add((uint32_t)empty ^ (uint32_t)full);
        add(tl_duty_of((uint16_t)a, (uint16_t)b, 65535));
    }
    finish_part();
}

static void lean(void)
{
    static const TL_ROM tl_line lines[] = {{30096u, 32768u, 0, 4095, 16, false},
                                           {57600u, 98303u, 1801, 4095, 16, true},
                                           {65537u, 0u, -1000000, 65535, 7, false}};
    static const TL_ROM tl_curve_point points[] = {
        {100, -500, 2, 32768}, {300, 0, -1, 16384}, {1100, -600, 0, 6554}, {65000, 5791, 0, 0}};
    static const TL_ROM tl_curve curve = {points, 4};
    for (uint32_t count = 0; count < 65536; count += 13) {
        for (uint8_t i = 0; i < sizeof lines / sizeof lines[0]; i++)
            add((uint32_t)tl_line_value(&lines[i], (uint16_t)count));
        add((uint32_t)(int32_t)tl_curve_value(&curve, (uint16_t)count));
    }
    finish_part();
}

static void filters(void)
{
    static const TL_ROM tl_fault_config wire = {.open_side = TL_FAULT_ABOVE,
                                                .open_level = 2000000000,
                                                .short_side = TL_FAULT_BELOW,
                                                .short_level = -2000000000,
                                                .hysteresis = 300000000};
    tl_mean mean;
    tl_sample window_samples[7], out = {0}, least, most;
    tl_window window;
    tl_exponential slow;
    tl_oversample finer;
    tl_peak peak;
    tl_fault fault;
    uint32_t state = 7, sum = 0;
    uint8_t flags = 0;
    add((uint32_t)tl_mean_init(&mean, 9) + (uint32_t)tl_window_init(&window, window_samples, 7));
    add((uint32_t)tl_exponential_init(&slow, 5) + (uint32_t)tl_oversample_init(&finer, 3));
    add((uint32_t)tl_fault_init(&fault, &wire));
    tl_peak_init(&peak);
    for (uint16_t i = 0; i < 2000; i++) {
        const uint32_t r = next_random(&state) << 4 ^ next_random(&state);
        const tl_sample sample = {(int32_t)r, (uint8_t)(i % 50 == 0 ? 3 : 1), 0};
        add(tl_mean_feed(&mean, &sample, &out) ? (uint32_t)out.value : 0);
        tl_window_feed(&window, &sample);
        add((uint32_t)tl_window_mean(&window, &out) + (uint32_t)out.value);
        add((uint32_t)tl_window_median(&window, &out) + (uint32_t)out.value + out.flags);
        tl_exponential_feed(&slow, &sample, &out);
        add((uint32_t)out.value + out.flags);
        add(tl_oversample_feed(&finer, (uint16_t)r, 1, &sum, &flags) ? sum : 0);
        tl_fault_feed(&fault, &wire, &sample, UINT32_C(3000000) * i, &out);
        add((uint32_t)out.value + out.flags);
        tl_peak_feed(&peak, &sample);
        if (i % 100 == 99 && tl_peak_take(&peak, &least, &most))
            add((uint32_t)least.value ^ (uint32_t)most.value);
    }
    finish_part();
}

static void lines_and_text(void)
{
    tl_lines lines;
    tl_pulse pulse;
    tl_length_us ended = {false, 0};
    uint32_t state = 3, seen = 0;
    uint8_t level = 0;
    char text[12];
    add((uint32_t)tl_lines_init(&lines, 0, 5));
    tl_pulse_init(&pulse);
    for (uint16_t i = 0; i < 2000; i++) {
        seen ^= next_random(&state) & next_random(&state) & next_random(&state);
        add(tl_lines_look(&lines, seen));
        if (tl_pulse_feed(&pulse, (seen & 1) != 0, UINT32_C(70000000) * i, &ended))
            add(ended.length_us);
        add((uint32_t)tl_level_of((uint16_t)seen, 100, 60000, 90, 10, &level) + level);
        add((uint32_t)tl_text_fixed((int32_t)(seen << 3), (uint8_t)(i % 10), 11, text));
        for (uint8_t k = 0; k < 11; k++)
            add((uint8_t)text[k]);
    }
    finish_part();
}

void identity_run(void)
{
    hash = UINT32_C(2166136261);
    scales();
    words();
    tables();
    lean();
    filters();
    lines_and_text();
}
