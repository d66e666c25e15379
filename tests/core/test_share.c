/* SPDX-License-Identifier: MIT */
#include "support.h"
#include "tinyladder/share.h"
#include <stdint.h>

static void shares_are_clamped_and_rounded(void)
{
    static const struct {
        const char *name;
        int32_t value, empty, full;
        uint16_t parts;
        tl_status status;
        uint16_t share;
    } rows[] = {
        {"at the empty end", 10800000, 10800000, 12900000, 100, TL_OK, 0},
        {"below it", -5, 10800000, 12900000, 100, TL_OK, 0},
        {"just above, rounded down", 10810499, 10800000, 12900000, 100, TL_OK, 0},
        {"half a percent rounds up", 10810500, 10800000, 12900000, 100, TL_OK, 1},
        {"half way", 11850000, 10800000, 12900000, 100, TL_OK, 50},
        {"at the full end", 12900000, 10800000, 12900000, 100, TL_OK, 100},
        {"beyond it", INT32_MAX, 10800000, 12900000, 100, TL_OK, 100},
        {"falling: full is lower", 500, 1000, 0, 1000, TL_OK, 500},
        {"falling, beyond full", -1, 1000, 0, 1000, TL_OK, 1000},
        {"falling, below empty", 1001, 1000, 0, 1000, TL_OK, 0},
        {"the widest ends there are", 0, INT32_MIN, INT32_MAX, 65535, TL_OK, 32768},
        {"the widest ends, falling", INT32_MIN, INT32_MAX, INT32_MIN, 65535, TL_OK, 65535},
        {"equal ends", 5, 5, 5, 100, TL_ERR_ARG, 7},
        {"no parts", 5, 0, 10, 0, TL_ERR_ARG, 7},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        uint16_t share = 7;
        CHECK_ROW(rows[i].name, tl_share_of(rows[i].value, rows[i].empty, rows[i].full, rows[i].parts,
                                            &share) == rows[i].status);
        CHECK_ROW(rows[i].name, share == rows[i].share);
    }
}

/* Lamp k of n lights from ceil(k 2^N / (n + 1)): every count, every number of lamps up to 40, 6 to 12 bits.
 */
static void levels_are_equal_bands(void)
{
    for (int bits = 6; bits <= 12; bits++) {
        const unsigned codes = 1u << bits;
        for (unsigned lamps = 1; lamps <= 40; lamps++) {
            bool good = true;
            for (unsigned count = 0; count < codes; count++) {
                uint8_t level = 0;
                unsigned lit = 0;
                while (lit < lamps && count >= ((lit + 1) * codes + lamps) / (lamps + 1))
                    lit++;
                good = good &&
                       tl_level_of((uint16_t)count, 0, (uint16_t)(codes - 1), 0, (uint8_t)lamps, &level) ==
                           TL_OK &&
                       level == lit;
            }
            CU_ASSERT(good);
        }
    }
}

static void a_trembling_value_does_not_flicker(void)
{
    uint8_t level = 0;
    /* Three bands over 0 .. 299: boundaries at 100 and 200, hysteresis 10: up at 105 and 205, down below 95
     * and 195. */
    static const struct {
        uint16_t value;
        uint8_t level;
    } walk[] = {{104, 0}, {105, 1}, {96, 1},  {95, 1}, {94, 0},   {100, 0},
                {299, 2}, {195, 2}, {194, 1}, {0, 0},  {65535, 2}};
    for (size_t i = 0; i < ROWS(walk); i++) {
        CU_ASSERT(tl_level_of(walk[i].value, 0, 299, 10, 2, &level) == TL_OK);
        CU_ASSERT(level == walk[i].level);
    }
    CU_ASSERT(tl_level_of(1, 5, 5, 0, 2, &level) == TL_ERR_ARG);
    CU_ASSERT(tl_level_of(1, 0, 299, 100, 2, &level) == TL_ERR_ARG); /* as wide as a band */
    CU_ASSERT(tl_level_of(1, 0, 299, 99, 2, &level) == TL_OK);
    CU_ASSERT(tl_level_of(1, 0, 299, 0, 0, &level) == TL_ERR_ARG);
    level = 9;
    CU_ASSERT(tl_level_of(1, 0, 299, 0, 2, &level) == TL_ERR_ARG && level == 9);
}

static void a_margin_moves_both_ends_inward(void)
{
    static const struct {
        int32_t empty, full;
        uint8_t percent;
        int32_t moved_empty, moved_full;
    } rows[] = {{1000, 3000, 5, 1100, 2900},
                {3000, 1000, 5, 2900, 1100},
                {0, 100, 0, 0, 100},
                {0, 100, 200, 49, 51},
                {INT32_MIN, INT32_MAX, 25, -1073741825, 1073741824}};
    for (size_t i = 0; i < ROWS(rows); i++) {
        int32_t empty = rows[i].empty, full = rows[i].full;
        tl_share_inward(&empty, &full, rows[i].percent);
        CU_ASSERT(empty == rows[i].moved_empty && full == rows[i].moved_full);
    }
}

/* Steps with hysteresis, and behind them one that is not theirs. */
static void levels_go_by_their_steps(void)
{
    static const tl_level_step steps[] = {{100, 90}, {200, 180}, {300, 270}, {0, 0}};
    static const struct {
        const char *name;
        uint16_t count;
        uint8_t was, is;
    } rows[] = {
        {"below all", 99, 0, 0},
        {"at the first", 100, 0, 1},
        {"it stays on", 90, 1, 1},
        {"and goes off", 89, 1, 0},
        {"two at once", 250, 0, 2},
        {"beyond all", 65535, 0, 3},
        {"beyond, as it was", 300, 3, 3},
        {"all off at once", 0, 3, 0},
        {"between, from above", 185, 3, 2},
        {"between, from below", 185, 1, 1},
    };
    for (size_t i = 0; i < ROWS(rows); i++)
        CHECK_ROW(rows[i].name, tl_level_by(steps, 3, rows[i].count, rows[i].was) == rows[i].is);
}

CU_TestInfo share_tests[] = {
    {"shares are clamped and rounded", shares_are_clamped_and_rounded},
    {"a margin moves both ends inward", a_margin_moves_both_ends_inward},
    {"levels are equal bands", levels_are_equal_bands},
    {"a trembling value does not flicker", a_trembling_value_does_not_flicker},
    {"levels go by their steps", levels_go_by_their_steps},
    CU_TEST_INFO_NULL,
};
