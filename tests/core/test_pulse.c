/* SPDX-License-Identifier: MIT */
/* Pulses, gaps and patterns of them. */
#include "support.h"
#include "tinyladder/core.h"

static void pulses_are_measured(void)
{
    static const struct {
        bool high;
        uint32_t at_us;
        bool ends;
        uint32_t length_us;
    } rows[] = {
        {false, UINT32_MAX - 99, false, 0}, /* whatever it was before, its beginning was not seen */
        {true, UINT32_MAX - 49, false, 0},
        {true, 20, false, 0},
        {false, 250, true, 300}, /* across the clock's end */
        {true, 300, true, 50},
        {true, 2000000000u, false, 0},
        {true, 4000000000u, false, 0},
        {false, 4000000100u, true, INT32_MAX}, /* too long to count: stays at the most */
        {true, 4000000150u, true, 50},
    };
    tl_pulse pulse;
    tl_pulse_init(&pulse);
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_length_us ended = {false, 0};
        CU_ASSERT(tl_pulse_feed(&pulse, rows[i].high, rows[i].at_us, &ended) == rows[i].ends);
        if (rows[i].ends)
            CU_ASSERT(ended.length_us == rows[i].length_us && ended.high == !rows[i].high);
    }
    CU_ASSERT(pulse.rising == 3 && pulse.falling == 2);
    CU_ASSERT(tl_pulse_missed(&pulse, 5) == 0 && tl_pulse_missed(&pulse, 9) == 4);
}

static void patterns_pass_or_fail(void)
{
    static const tl_length_us wanted[] = {{true, 300000}, {false, 200000}, {true, 300000}};
    static const struct {
        const char *name;
        tl_length_us seen[8];
        int count;
        tl_pattern_state state;
    } rows[] = {
        {"as expected", {{true, 300000}, {false, 200000}, {true, 300000}}, 3, TL_PATTERN_PASSED},
        {"at the edge of 5 %", {{true, 315000}, {false, 190000}, {true, 285000}}, 3, TL_PATTERN_PASSED},
        {"just beyond it",
         {{true, 315000}, {false, 189999}, {true, 300000}, {false, 200001}, {true, 315001}, {false, 9}},
         6,
         TL_PATTERN_FAILED},
        {"something else before it",
         {{true, 10}, {false, 200000}, {true, 300000}, {false, 200000}, {true, 300000}},
         5,
         TL_PATTERN_PASSED},
        {"it begins again in its middle",
         {{true, 300000}, {false, 200000}, {true, 285000}, {false, 200000}, {true, 300000}},
         3,
         TL_PATTERN_PASSED},
        {"not there yet", {{true, 300000}}, 1, TL_PATTERN_RUNNING},
        {"not begun", {{false, 300000}}, 1, TL_PATTERN_WAITING},
        {"wrong level", {{true, 300000}, {true, 200000}}, 2, TL_PATTERN_WAITING},
        {"stays failed",
         {{true, 1},
          {false, 1},
          {true, 1},
          {false, 1},
          {true, 1},
          {false, 1},
          {true, 300000},
          {false, 200000}},
         8,
         TL_PATTERN_FAILED},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_pattern pattern;
        tl_pattern_state state = TL_PATTERN_WAITING;
        CU_ASSERT(tl_pattern_init(&pattern, wanted, 3, 5) == TL_OK);
        for (int n = 0; n < rows[i].count; n++)
            state = tl_pattern_feed(&pattern, &rows[i].seen[n]);
        CHECK_ROW(rows[i].name, state == rows[i].state);
    }
    tl_pattern pattern;
    CU_ASSERT(tl_pattern_init(&pattern, wanted, 0, 5) == TL_ERR_ARG &&
              tl_pattern_init(&pattern, wanted, 3, 101) == TL_ERR_ARG);
    /* 300, 200, 300, then a long gap: whichever of them is the first that is seen. */
    static const tl_length_us cycle[] = {{true, 300000}, {false, 200000}, {true, 300000}, {false, 1000000}};
    for (int first = 0; first < 4; first++) {
        tl_pattern_state state = TL_PATTERN_WAITING;
        CU_ASSERT(tl_pattern_init(&pattern, cycle, 4, 5) == TL_OK);
        for (int n = first; n < first + 8; n++)
            state = tl_pattern_feed(&pattern, &cycle[n % 4]);
        CU_ASSERT(state == TL_PATTERN_PASSED);
    }
}

CU_TestInfo pulse_tests[] = {
    {"pulses are measured", pulses_are_measured},
    {"patterns pass or fail", patterns_pass_or_fail},
    CU_TEST_INFO_NULL,
};
