/* SPDX-License-Identifier: MIT */
/* Ohms beside a partner, and the levels of a button ladder. */
#include "support.h"
#include "tinyladder/core.h"
#include <math.h>

static void gives_values_worked_out_by_hand(void)
{
    static const struct {
        const char *name;
        tl_partner partner;
        uint16_t count;
        tl_status status;
        uint32_t mohm;
    } rows[] = {
        {"10 kohm, full kind, 10 bits, code 10", {10000000, 10, TL_STEPS_FULL, false}, 10, TL_OK, 103601},
        {"in the middle both are equal", {4700000, 12, TL_STEPS_HALF, false}, 2048, TL_OK, 4700000},
        {"a quarter, the sensor above", {10000000, 12, TL_STEPS_HALF, true}, 1024, TL_OK, 30000000},
        {"the first code is no value", {10000000, 12, TL_STEPS_HALF, false}, 0, TL_ERR_RANGE, 7},
        {"nor is the last", {10000000, 12, TL_STEPS_HALF, true}, 4095, TL_ERR_RANGE, 7},
        {"the last but one", {1000, 12, TL_STEPS_HALF, false}, 4094, TL_OK, 2047000},
        {"more than fits", {4294967295u, 12, TL_STEPS_HALF, false}, 4000, TL_ERR_RANGE, 7},
        {"a code that there is not", {10000000, 12, TL_STEPS_HALF, false}, 4096, TL_ERR_ARG, 7},
        {"no partner", {0, 12, TL_STEPS_HALF, false}, 100, TL_ERR_ARG, 7},
        {"the habit", {10000000, 12, TL_STEPS_END_TO_END, false}, 100, TL_ERR_ARG, 7},
        {"3 bits", {10000000, 3, TL_STEPS_HALF, false}, 3, TL_ERR_ARG, 7},
        {"4 bits", {10000000, 4, TL_STEPS_HALF, false}, 8, TL_OK, 10000000},
        {"16 bits", {10000000, 16, TL_STEPS_HALF, false}, 32768, TL_OK, 10000000},
        {"17 bits", {10000000, 17, TL_STEPS_HALF, false}, 100, TL_ERR_ARG, 7},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        uint32_t mohm = 7;
        CHECK_ROW(rows[i].name, tl_resistance_of(&rows[i].partner, rows[i].count, &mohm) == rows[i].status &&
                                    near(mohm, rows[i].mohm, 4e-6));
    }
}

/* Against long double, for every code of every kind and side. */
static void is_right_for_every_code(void)
{
    for (int kind = 0; kind < 4; kind++) {
        const tl_partner partner = {12345678, (uint8_t)(12 + 2 * (kind / 2)), (uint8_t)(kind % 2), kind > 1};
        const uint32_t last = (1u << partner.bits) - 1;
        bool right = true;
        for (uint32_t count = 1; count < last; count++) {
            uint32_t mohm = 0;
            const long double c = count + (kind % 2 == 1 ? 0.5L : 0), rest = last + 1 - c;
            const long double wanted = partner.partner_mohm * (partner.sensor_above ? rest / c : c / rest);
            const tl_status status = tl_resistance_of(&partner, (uint16_t)count, &mohm);
            right = right && (wanted > 4294967295.0L ? status == TL_ERR_RANGE
                                                     : status == TL_OK && fabsl(mohm - wanted) <= 0.5001L);
        }
        CU_ASSERT(right);
    }
}

static void finds_the_level_or_between(void)
{
    static const tl_rung rungs[] = {{4000, 4095}, {0, 20}, {400, 480}};
    static const struct {
        uint16_t count;
        uint8_t level;
    } rows[] = {{0, 1},    {20, 1},   {21, TL_LADDER_BETWEEN}, {399, TL_LADDER_BETWEEN}, {400, 2}, {480, 2},
                {4000, 0}, {4095, 0}, {481, TL_LADDER_BETWEEN}};
    for (size_t i = 0; i < ROWS(rows); i++)
        CU_ASSERT(tl_ladder_level(rungs, 3, rows[i].count) == rows[i].level);
    CU_ASSERT(tl_ladder_level(rungs, 0, 0) == TL_LADDER_BETWEEN);
}

CU_TestInfo resistance_tests[] = {
    {"gives values worked out by hand", gives_values_worked_out_by_hand},
    {"is right for every code", is_right_for_every_code},
    {"finds the level or between", finds_the_level_or_between},
    CU_TEST_INFO_NULL,
};
