/* SPDX-License-Identifier: MIT */
/* Counts to microvolts against exact rationals: every code, every kind of step, a grid of spans and dividers.
 */
#include "support.h"
#include "tinyladder/scale.h"
#include <math.h>

__extension__ typedef __int128 wide;

/*
 * error * 2 * D * den, exactly, where D = 2^bits or 2^bits - 1 and error = found - exact, in microvolts:
 * exact = (low + (2 k + h) / (2 D) * span) * num / den + offset, h = 1 for the full kind.
 */
static bool within_one_uv(const tl_scale_config *c, int32_t found, uint32_t code)
{
    const bool end_to_end = c->steps == TL_STEPS_END_TO_END, lowest_beyond = end_to_end && c->has_sign;
    const wide d = ((wide)1 << c->bits) - (end_to_end ? 1 : 0) - (lowest_beyond ? 1 : 0);
    const wide h = c->steps == TL_STEPS_FULL ? 1 : lowest_beyond ? -2 : 0;
    const wide span = (wide)c->reference_high_uv - c->reference_low_uv;
    const wide exact = (2 * d * c->reference_low_uv + (2 * (wide)code + h) * span) * c->undo_num;
    const wide error = ((wide)found - c->offset_uv) * 2 * d * c->undo_den - exact;
    const wide bound = 2 * d * c->undo_den;
    return error <= bound && error >= -bound;
}

static const int32_t spans[][2] = {
    {0, 3300000},    {0, 5000000}, {0, 2500000}, {0, 1},     {-2500000, 2500000},       {-1000, 999},
    {0, 1999999999}, {0, 1100000}, {7, 4095999}, {0, 65536}, {-1999999999, 1999999999},
};
static const uint32_t undo[][2] = {{1, 1},           {57, 10}, {3, 2}, {1, 3}, {4294967295u, 4294967295u},
                                   {1000003, 999983}};
static const int32_t offsets[] = {0, -1, 1234567};

static void is_exact_and_monotonic_for_every_code(void)
{
    for (size_t s = 0; s < ROWS(spans); s++) {
        for (size_t u = 0; u < ROWS(undo); u++) {
            for (int kind = 0; kind < 3; kind++) {
                for (uint8_t bits = 6; bits <= 16; bits++) {
                    const tl_scale_config c = {spans[s][0],          spans[s][1], bits,
                                               (tl_steps)kind,       undo[u][0],  undo[u][1],
                                               offsets[(s + u) % 3], s % 2 == 0};
                    tl_scale scale;
                    if (tl_scale_init(&scale, &c) != TL_OK)
                        continue; /* out of reach of 2000 V: refused, see below */
                    bool exact = true, rising = true;
                    int32_t before = INT32_MIN;
                    for (uint32_t code = 0; code < 1u << bits; code++) {
                        const int32_t uv = tl_scale_uv(&scale, (uint16_t)code);
                        exact = exact && within_one_uv(&c, uv, code);
                        rising = rising && uv >= before;
                        before = uv;
                    }
                    CU_ASSERT(exact);
                    CU_ASSERT(rising);
                }
            }
        }
    }
}

/* Up to 24 bits: the wide line, over codes spread through the range and at both of its ends. */
static void is_exact_with_24_bits(void)
{
    for (size_t s = 0; s < ROWS(spans); s++) {
        for (int kind = 0; kind < 3; kind++) {
            for (uint8_t bits = 6; bits <= 24; bits = (uint8_t)(bits + 6)) {
                const tl_scale_config c = {spans[s][0],    spans[s][1],    bits,           (tl_steps)kind,
                                           undo[s % 6][0], undo[s % 6][1], offsets[s % 3], s % 2 == 0};
                const uint32_t last = (1u << bits) - 1, stride = bits < 18 ? 1 : 997;
                tl_wide line;
                bool exact = true, rising = true;
                if (tl_wide_init(&line, &c) != TL_OK)
                    continue;
                int32_t before = INT32_MIN;
                for (uint32_t code = 0; code <= last;
                     code = code < last && last - code < stride ? last : code + stride) {
                    const int32_t uv = tl_wide_uv(&line, code);
                    exact = exact && within_one_uv(&c, uv, code);
                    rising = rising && uv >= before;
                    before = uv;
                    if (code == last)
                        break;
                }
                CU_ASSERT(exact && rising && tl_wide_uv(&line, last + 1) == before);
            }
        }
    }
    tl_wide line;
    CU_ASSERT(tl_wide_init(&line, &(tl_scale_config){0, 1000000, 25, TL_STEPS_HALF, 1, 1, 0, false}) ==
              TL_ERR_ARG);
}

/*
 * The truth behind a count: any volts in its cell, moved by the converter's errors, the reference and the
 * undo off by their limits. Drawn at random and at the extremes, it must lie inside; the interval must not be
 * much wider.
 */
static void interval_holds_the_truth(void)
{
    for (int i = 0; i < 20000; i++) {
        const bool full = i % 2 == 0, bipolar = i % 3 == 0;
        const tl_scale_config c = {bipolar ? -2500000 : 0,
                                   2500000,
                                   (uint8_t)(4 + i % 21),
                                   full ? TL_STEPS_FULL : TL_STEPS_HALF,
                                   57,
                                   10,
                                   i % 5 == 0 ? 700000 : 0,
                                   false};
        const uint32_t ppm = i % 4 == 0 ? 0 : 20000;
        const uint16_t milli = i % 7 == 0 ? 0 : 4500;
        tl_accuracy accuracy;
        int32_t low, high;
        CU_ASSERT(tl_accuracy_init(&accuracy, &c, ppm, milli) == TL_OK);
        const uint32_t count = (uint32_t)even_between(0, ldexp(1, c.bits) - 0.01);
        const double at = i % 8 == 0 ? 1 : i % 8 == 1 ? -1 : even_between(-1, 1);
        const double span = c.reference_high_uv - c.reference_low_uv, lsb = span / ldexp(1, c.bits);
        const double around = (0.5 + milli / 1000.0) * lsb,
                     middle = c.reference_low_uv + (count + (full ? 0.5 : 0)) * lsb;
        const double pin = middle + at * around;
        const double truth = pin * (1 + at * ppm * 1e-6) * 5.7 + c.offset_uv;
        tl_accuracy_interval(&accuracy, count, &low, &high);
        CU_ASSERT(low <= truth && truth <= high);
        CU_ASSERT(high - low <= 2 * 5.7 * (around + (fabs(middle) + around) * ppm * 1e-6) + 10);
    }
    tl_accuracy accuracy;
    const tl_scale_config habit = {0, 1000000, 12, TL_STEPS_END_TO_END, 1, 1, 0, false};
    CU_ASSERT(tl_accuracy_init(&accuracy, &habit, 0, 0) == TL_ERR_ARG);
}

static void gives_values_worked_out_by_hand(void)
{
    static const struct {
        const char *name;
        tl_scale_config config;
        uint16_t count;
        int32_t uv;
    } rows[] = {
        {"half kind, first code is 0", {0, 3300000, 12, TL_STEPS_HALF, 1, 1, 0, false}, 0, 0},
        {"half kind, middle code", {0, 3300000, 12, TL_STEPS_HALF, 1, 1, 0, false}, 2048, 1650000},
        {"half kind, last code is one LSB short",
         {0, 4096000, 12, TL_STEPS_HALF, 1, 1, 0, false},
         4095,
         4095000},
        {"full kind, first code is half an LSB", {0, 4096000, 12, TL_STEPS_FULL, 1, 1, 0, false}, 0, 500},
        {"full kind, last code", {0, 4096000, 12, TL_STEPS_FULL, 1, 1, 0, false}, 4095, 4095500},
        {"end to end, last code is the reference",
         {0, 3300000, 12, TL_STEPS_END_TO_END, 1, 1, 0, false},
         4095,
         3300000},
        {"signed end to end, the middle is 0 V",
         {-2047000, 2047000, 12, TL_STEPS_END_TO_END, 1, 1, 0, true},
         2048,
         0},
        {"signed end to end, the lowest lies beyond -range",
         {-2047000, 2047000, 12, TL_STEPS_END_TO_END, 1, 1, 0, true},
         0,
         -2048000},
        {"10 bits at 5 V", {0, 5000000, 10, TL_STEPS_HALF, 1, 1, 0, false}, 512, 2500000},
        {"divider 47k and 10k undone", {0, 3300000, 12, TL_STEPS_HALF, 57, 10, 0, false}, 2048, 9405000},
        {"offset at the source", {0, 3300000, 12, TL_STEPS_HALF, 2, 1, -500, false}, 2048, 3299500},
        {"references on both sides of ground",
         {-2500000, 2500000, 12, TL_STEPS_HALF, 1, 1, 0, false},
         2048,
         0},
        {"the lowest of 2000 V",
         {-2000000000, 2000000000, 16, TL_STEPS_HALF, 1, 1, 0, false},
         0,
         -2000000000},
        {"4 bits", {0, 1600000, 4, TL_STEPS_FULL, 1, 1, 0, false}, 9, 950000},
        {"a count beyond the last is the last",
         {0, 4096000, 12, TL_STEPS_HALF, 1, 1, 0, false},
         65535,
         4095000},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_scale scale;
        CHECK_ROW(rows[i].name, tl_scale_init(&scale, &rows[i].config) == TL_OK);
        CHECK_ROW(rows[i].name, tl_scale_uv(&scale, rows[i].count) == rows[i].uv);
    }
}

static void refuses_what_it_cannot_hold(void)
{
    static const struct {
        const char *name;
        tl_scale_config config;
        tl_status status;
    } rows[] = {
        {"3 bits", {0, 1000000, 3, TL_STEPS_HALF, 1, 1, 0, false}, TL_ERR_ARG},
        {"4 bits", {0, 1000000, 4, TL_STEPS_HALF, 1, 1, 0, false}, TL_OK},
        {"16 bits", {0, 1000000, 16, TL_STEPS_HALF, 1, 1, 0, false}, TL_OK},
        {"17 bits", {0, 1000000, 17, TL_STEPS_HALF, 1, 1, 0, false}, TL_ERR_ARG},
        {"zero divisor", {0, 1000000, 12, TL_STEPS_HALF, 1, 0, 0, false}, TL_ERR_ARG},
        {"zero factor", {0, 1000000, 12, TL_STEPS_HALF, 0, 1, 0, false}, TL_ERR_ARG},
        {"no such kind of step", {0, 1000000, 12, (tl_steps)3, 1, 1, 0, false}, TL_ERR_ARG},
        {"references reversed", {1000000, 0, 12, TL_STEPS_HALF, 1, 1, 0, false}, TL_ERR_RANGE},
        {"references equal", {5, 5, 12, TL_STEPS_HALF, 1, 1, 0, false}, TL_ERR_RANGE},
        {"reference beyond 2000 V", {0, 2000000001, 12, TL_STEPS_HALF, 1, 1, 0, false}, TL_ERR_RANGE},
        {"source just within 2000 V", {0, 3300000, 12, TL_STEPS_HALF, 606, 1, 0, false}, TL_OK},
        {"source beyond 2000 V", {0, 3300000, 12, TL_STEPS_HALF, 607, 1, 0, false}, TL_ERR_RANGE},
        {"the whole span of 2000 V", {-2000000000, 2000000000, 16, TL_STEPS_HALF, 1, 1, 0, false}, TL_OK},
        {"source at 2000 V", {0, 2000000, 12, TL_STEPS_HALF, 1000, 1, 0, false}, TL_OK},
        {"absurd factor", {0, 3300000, 12, TL_STEPS_HALF, 4294967295u, 1, 0, false}, TL_ERR_RANGE},
    };
    const tl_scale untouched = {.base_uv = -7, .last = 7};
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_scale scale = untouched;
        CHECK_ROW(rows[i].name, tl_scale_init(&scale, &rows[i].config) == rows[i].status);
        CHECK_ROW(rows[i].name, (scale.base_uv == -7 && scale.last == 7) == (rows[i].status != TL_OK));
    }
    CU_ASSERT(tl_scale_init(NULL, &rows[1].config) == TL_ERR_ARG);
}

static void flags_the_first_and_the_last_code(void)
{
    const tl_scale scale = {.last = 4095};
    CU_ASSERT(tl_scale_clipped(&scale, 0) == TL_READING_CLIPPED_LOW);
    CU_ASSERT(tl_scale_clipped(&scale, 1) == 0);
    CU_ASSERT(tl_scale_clipped(&scale, 4094) == 0);
    CU_ASSERT(tl_scale_clipped(&scale, 4095) == TL_READING_CLIPPED_HIGH);
}

CU_TestInfo scale_tests[] = {
    {"is exact and monotonic for every code", is_exact_and_monotonic_for_every_code},
    {"is exact with 24 bits", is_exact_with_24_bits},
    {"interval holds the truth", interval_holds_the_truth},
    {"gives values worked out by hand", gives_values_worked_out_by_hand},
    {"refuses what it cannot hold", refuses_what_it_cannot_hold},
    {"flags the first and the last code", flags_the_first_and_the_last_code},
    CU_TEST_INFO_NULL,
};
