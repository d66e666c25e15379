/* SPDX-License-Identifier: MIT */
/* Lines and curves in 16 and 32 bits against the same in 64 bits and in fractions. */
#include "support.h"
#include "tinyladder/lean.h"
#include <math.h>

static uint32_t random_state = 12345;

static uint32_t any(uint32_t below)
{
    random_state = random_state * 1664525u + 1013904223u;
    return (uint32_t)(((uint64_t)random_state * below) >> 32);
}

static void lines_are_straight(void)
{
    for (int i = 0; i < 20000; i++) {
        const uint16_t last = (uint16_t)(1 + any(65535));
        const uint32_t mul = any(UINT32_MAX / last), add = any(UINT32_MAX - mul * last);
        const tl_line line = {mul, add, (int32_t)any(2000000) - 1000000, last, (uint8_t)any(32), any(2) != 0};
        if (((uint64_t)mul * last + add) >> line.shift > 1000000000)
            continue; /* beyond what a value holds */
        for (int k = 0; k < 5; k++) {
            const uint16_t count = (uint16_t)any(65536), at = count < last ? count : last;
            const int64_t steps = (int64_t)(((uint64_t)at * mul + add) >> line.shift);
            CU_ASSERT(tl_line_value(&line, count) == line.base + (line.falls ? -steps : steps));
        }
    }
}

/* Three pieces, up and down: each count lies on its piece, rounded to the nearest; before and behind it the
 * ends stand. */
static void curves_go_from_point_to_point(void)
{
    static const tl_curve_point points[] = {
        {100, -500, 2, 32768}, {300, 0, -1, 0x4000}, {1100, -600, 0, 6554}, {65000, 5791, 0, 0}};
    static const tl_curve curve = {points, 4};
    for (uint32_t count = 0; count <= 65535; count++) {
        int piece = 3;
        while (piece > 0 && count < points[piece].from)
            piece--;
        const tl_curve_point *p = &points[piece];
        const double along = count < p->from ? 0 : (double)count - p->from;
        const double wanted = floor(p->to + along * (p->whole + p->part / 65536.0) + 0.5);
        CU_ASSERT(tl_curve_value(&curve, (uint16_t)count) == (int16_t)wanted);
    }
    static const tl_curve single = {points + 3, 1};
    CU_ASSERT(tl_curve_value(&single, 0) == 5791 && tl_curve_value(&single, 65535) == 5791);
}

CU_TestInfo lean_tests[] = {
    {"lines are straight", lines_are_straight},
    {"curves go from point to point", curves_go_from_point_to_point},
    CU_TEST_INFO_NULL,
};
