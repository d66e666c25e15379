/* SPDX-License-Identifier: MIT */
/* Debounce in a time of its own: at 0 and just before the clock wraps. */
#include "fake_port.h"
#include "support.h"
#include "tinyladder/button.h"

static const tl_button_config to_ground = {.steady = 20000, .line = 5, .closed_is_low = true};

static void accepts_a_level_once_it_is_steady(uint32_t start_us)
{
    /* A press of 100 ms that bounces for 6 ms at both ends, looked at every millisecond. */
    static const uint8_t bounce[] = {0, 1, 0, 1, 1, 0};
    fake_port fake = {.now_us = start_us};
    const tl_port port = fake_port_of(&fake);
    tl_button button;
    unsigned closed_at = 0, opened_at = 0, events = 0;
    CU_ASSERT(tl_button_init(&button, &to_ground, &port) == TL_OK);
    for (unsigned ms = 0; ms < 300; ms++) {
        const bool down = ms >= 50 && ms < 150;
        const unsigned since = down ? ms - 50 : ms - 150;
        const bool bounced = ms >= 50 && since < 6 && bounce[since] != 0;
        tl_button_event event;
        fake.now_us = start_us + 1000u * ms;
        fake.high = down == bounced;
        CU_ASSERT(tl_button_look(&button, &port, &event) == TL_OK);
        events += event != TL_BUTTON_QUIET;
        if (event == TL_BUTTON_CLOSED) {
            closed_at = ms;
            CU_ASSERT(button.seen_at - button.steady ==
                      start_us + 55000u); /* when it became steady, not when it was accepted */
        }
        if (event == TL_BUTTON_OPENED)
            opened_at = ms;
    }
    CU_ASSERT(events == 2 && button.closings == 1 && !button.closed);
    CU_ASSERT(closed_at == 75 && opened_at == 175 && tl_button_toggled(&button));
}

static void counts_a_bouncing_press_once(void)
{
    accepts_a_level_once_it_is_steady(0);
    accepts_a_level_once_it_is_steady(UINT32_MAX - 60000u); /* wraps while it bounces */
}

static void keeps_to_its_steady_time_exactly(void)
{
    tl_button button = {.needed = 1000, .closed_is_low = false};
    CU_ASSERT(tl_button_feed(&button, true, 5000) == TL_BUTTON_QUIET);
    CU_ASSERT(tl_button_feed(&button, true, 5999) == TL_BUTTON_QUIET);
    CU_ASSERT(tl_button_feed(&button, true, 6000) == TL_BUTTON_CLOSED);
    CU_ASSERT(tl_button_feed(&button, true, 9000) == TL_BUTTON_QUIET);
    button.needed = 0;
    CU_ASSERT(tl_button_feed(&button, false, 9001) == TL_BUTTON_OPENED);
}

static void refuses_and_passes_on(void)
{
    fake_port fake = {.fail_at = 1};
    const tl_port port = fake_port_of(&fake);
    tl_button button = {0};
    tl_button_event event = TL_BUTTON_CLOSED;
    tl_button_config wrong = to_ground;
    CU_ASSERT(tl_button_init(&button, &to_ground, &port) == TL_ERR_PORT);
    wrong.steady = 0x80000000u;
    CU_ASSERT(tl_button_init(&button, &wrong, &port) == TL_ERR_ARG);
    fake = (fake_port){.fail_at = 2};
    CU_ASSERT(tl_button_look(&button, &port, &event) == TL_ERR_PORT && event == TL_BUTTON_QUIET);
    CU_ASSERT(sizeof(tl_button) <= 24); /* the budget for the state of a signal */
}

/* Kept for 500 ms, then again every 100 ms, across the end of the clock. */
static void tells_when_it_is_kept_closed(void)
{
    const uint32_t start_us = UINT32_MAX - 550000;
    tl_hold hold, once;
    int kept = 0, again = 0, others = 0;
    CU_ASSERT(tl_hold_init(&hold, 500000, 100000) == TL_OK && tl_hold_init(&once, 500000, 0) == TL_OK);
    CU_ASSERT(tl_hold_init(&hold, 0x80000000u, 0) == TL_ERR_ARG && tl_hold_init(NULL, 1, 1) == TL_ERR_ARG);
    for (uint32_t ms = 0; ms < 1200; ms++) {
        const bool closed = ms >= 100 && ms < 950;
        const tl_hold_event event = tl_hold_feed(&hold, closed, start_us + 1000 * ms);
        kept += event == TL_HOLD_KEPT;
        again += event == TL_HOLD_AGAIN;
        CU_ASSERT(event != TL_HOLD_KEPT || ms == 600);
        CU_ASSERT(event != TL_HOLD_AGAIN || (ms > 600 && ms % 100 == 0));
        others += tl_hold_feed(&once, closed, start_us + 1000 * ms) != TL_HOLD_QUIET;
    }
    CU_ASSERT(kept == 1 && again == 3 && others == 1);
}

static void awaits_a_level_within_its_bound(void)
{
    static const struct {
        const char *name;
        fake_port fake;
        uint32_t longest;
        tl_status status;
    } rows[] = {
        {"there already", {.high = true, .tick_us = 1}, 50, TL_OK},
        {"never comes", {.tick_us = 1}, 50, TL_ERR_LATE},
        {"never comes, near the wrap of the clock",
         {.now_us = UINT32_MAX - 20, .tick_us = 1},
         50,
         TL_ERR_LATE},
        {"never comes and the clock stands", {.tick_us = 0}, 50, TL_ERR_CLOCK},
        {"the line fails", {.tick_us = 1, .fail_at = 2}, 50, TL_ERR_PORT},
        {"the clock fails", {.tick_us = 1, .fail_at = 1}, 50, TL_ERR_PORT},
        {"no bound", {.tick_us = 1}, 0, TL_ERR_ARG},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        fake_port fake = rows[i].fake;
        const tl_port port = fake_port_of(&fake);
        CHECK_ROW(rows[i].name, tl_line_await(&port, 3, true, rows[i].longest) == rows[i].status);
        CHECK_ROW(rows[i].name, fake.calls <= 2 * TL_PORT_FROZEN_POLLS + 10);
    }
}

CU_TestInfo button_tests[] = {
    {"tells when it is kept closed", tells_when_it_is_kept_closed},
    {"awaits a level within its bound", awaits_a_level_within_its_bound},
    {"counts a bouncing press once", counts_a_bouncing_press_once},
    {"keeps to its steady time exactly", keeps_to_its_steady_time_exactly},
    {"refuses and passes on", refuses_and_passes_on},
    CU_TEST_INFO_NULL,
};
