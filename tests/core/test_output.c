/* SPDX-License-Identifier: MIT */
/* Outputs: what they show, what they show on a fault, and that every line is released of. */
#include "line_port.h"
#include "support.h"
#include "tinyladder/core.h"

static void thresholds_keep_between_their_levels(void)
{
    static const tl_threshold cold = {200, 400},
                              full = {900, 700}; /* start below 200, stop above 400; and above 900 */
    static const struct {
        int32_t value;
        bool heating, draining;
    } rows[] = {{300, false, false}, {200, false, false}, {199, true, false},  {300, true, false},
                {400, true, false},  {401, false, false}, {900, false, false}, {901, false, true},
                {701, false, true},  {699, false, false}};
    bool heating = false, draining = false;
    for (size_t i = 0; i < ROWS(rows); i++) {
        heating = tl_threshold_next(&cold, heating, rows[i].value);
        draining = tl_threshold_next(&full, draining, rows[i].value);
        CU_ASSERT(heating == rows[i].heating && draining == rows[i].draining);
    }
    CU_ASSERT(!tl_safe_state(TL_SAFE_OFF, true, true, true) && tl_safe_state(TL_SAFE_ON, true, false, false));
    CU_ASSERT(tl_safe_state(TL_SAFE_HOLD, true, true, false) &&
              !tl_safe_state(TL_SAFE_ON, false, true, false));
    CU_ASSERT(tl_duty_of(0, 4095, 255) == 0 && tl_duty_of(4095, 4095, 255) == 255 &&
              tl_duty_of(2048, 4095, 65535) == 32775);
}

/* Whichever call fails, every line is released of. */
static void bars_are_let_go_of(void)
{
    static const uint8_t lamps[] = {30, 31, 32, 33};
    static const TL_ROM tl_bar bar = {.lines = lamps, .count = 4}, none TL_ROM = {.count = 0};
    unsigned failing = 1;
    for (; failing < 40; failing++) {
        line_port p = {.fail_at = failing};
        const tl_port port = {&line_port_ops, &p, NULL};
        tl_status status = tl_bar_open(&port, &bar);
        if (status == TL_OK)
            status = tl_bar_show(&port, &bar, 3);
        if (status == TL_OK) {
            CU_ASSERT(p.high[30] && p.high[32] && !p.high[33]);
            break;
        }
        CU_ASSERT(p.use[30] == TL_LINE_RELEASED && p.use[33] == TL_LINE_RELEASED);
    }
    CU_ASSERT(failing == 13); /* four lines set up, made dark, lit */
    line_port p = {.fail_at = 1};
    const tl_port port = {&line_port_ops, &p, NULL};
    CU_ASSERT(tl_bar_release(&port, &bar) == TL_ERR_PORT && p.calls == 4); /* all the same */
    CU_ASSERT(tl_bar_open(&port, &none) == TL_ERR_ARG && tl_bar_open(&port, NULL) == TL_ERR_ARG);
}

/* A value, fresh or not, on a line that is on when low or high: what the line does. */
static void outputs_show_and_fall_back(void)
{
    enum { FRESH = TL_READING_FRESH };
    static const tl_output follow = {.line = 30},
                           inverted = {.line = 30, .as = TL_OUTPUT_INVERTED, .safe = TL_SAFE_ON},
                           low = {.line = 30, .on_is_low = true, .safe = TL_SAFE_HOLD},
                           cold = {.line = 30,
                                   .as = TL_OUTPUT_THRESHOLD,
                                   .threshold = {200, 400},
                                   .safe = TL_SAFE_ON};
    static const struct {
        const char *name;
        const tl_output *output;
        tl_sample values[3];
        bool on[3];
    } rows[] = {
        {"follows", &follow, {{1, FRESH, 0}, {0, FRESH, 0}, {7, FRESH, 0}}, {true, false, true}},
        {"follows, off on fault",
         &follow,
         {{1, FRESH, 0}, {1, 0, 0}, {1, TL_READING_STALE, 0}},
         {true, false, false}},
        {"inverts, on on fault", &inverted, {{1, FRESH, 0}, {0, FRESH, 0}, {1, 0, 0}}, {false, true, true}},
        {"on is low, holds on fault", &low, {{1, FRESH, 0}, {0, 0, 0}, {0, FRESH, 0}}, {true, true, false}},
        {"threshold", &cold, {{150, FRESH, 0}, {300, FRESH, 0}, {500, FRESH, 0}}, {true, true, false}},
        {"threshold, on on fault",
         &cold,
         {{500, FRESH, 0}, {500, TL_READING_OPEN, 0}, {300, FRESH, 0}},
         {false, true, true}},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        line_port p = {0};
        const tl_port port = {&line_port_ops, &p, NULL};
        const bool low_means_on = rows[i].output == &low;
        bool on = false;
        CHECK_ROW(rows[i].name, tl_output_open(&port, rows[i].output) == TL_OK && p.high[30] == low_means_on);
        for (int n = 0; n < 3; n++) {
            CHECK_ROW(rows[i].name, tl_output_show(&port, rows[i].output, &rows[i].values[n], &on) == TL_OK);
            CHECK_ROW(rows[i].name, on == rows[i].on[n] && p.high[30] == (on != low_means_on));
        }
        p.fail_at = p.calls + 1;
        CHECK_ROW(rows[i].name,
                  tl_output_show(&port, rows[i].output, &rows[i].values[0], &on) == TL_ERR_PORT);
        CHECK_ROW(rows[i].name, !on && p.use[30] == TL_LINE_RELEASED);
    }
    static const TL_ROM tl_output wrong = {.as = 3};
    line_port p = {0};
    const tl_port port = {&line_port_ops, &p, NULL};
    CU_ASSERT(tl_output_open(&port, &wrong) == TL_ERR_ARG && tl_output_open(&port, NULL) == TL_ERR_ARG);
    CU_ASSERT(tl_output_open(&port, &follow) == TL_OK && tl_output_release(&port, &follow) == TL_OK);
    CU_ASSERT(p.use[30] == TL_LINE_RELEASED);
}

CU_TestInfo output_tests[] = {
    {"thresholds keep between their levels", thresholds_keep_between_their_levels},
    {"bars are let go of", bars_are_let_go_of},
    {"outputs show and fall back", outputs_show_and_fall_back},
    CU_TEST_INFO_NULL,
};
