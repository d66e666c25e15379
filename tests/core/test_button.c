/* Debounce in a time of its own: at 0 and just before the clock wraps. */
#include "fake_port.h"
#include "support.h"
#include "tinyladder/button.h"

static const tl_button_config to_ground = {.steady_us = 20000, .line = 5, .closed_is_low = true};

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
            CU_ASSERT(button.since_us ==
                      start_us + 55000u); /* when it became steady, not when it was accepted */
        }
        if (event == TL_BUTTON_OPENED)
            opened_at = ms;
    }
    CU_ASSERT(events == 2 && button.closings == 1 && !button.closed);
    CU_ASSERT(closed_at == 75 && opened_at == 175);
}

static void counts_a_bouncing_press_once(void)
{
    accepts_a_level_once_it_is_steady(0);
    accepts_a_level_once_it_is_steady(UINT32_MAX - 60000u); /* wraps while it bounces */
}

static void keeps_to_its_steady_time_exactly(void)
{
    tl_button button = {.steady_us = 1000, .closed_is_low = false};
    CU_ASSERT(tl_button_feed(&button, true, 5000) == TL_BUTTON_QUIET);
    CU_ASSERT(tl_button_feed(&button, true, 5999) == TL_BUTTON_QUIET);
    CU_ASSERT(tl_button_feed(&button, true, 6000) == TL_BUTTON_CLOSED);
    CU_ASSERT(tl_button_feed(&button, true, 9000) == TL_BUTTON_QUIET);
    button.steady_us = 0;
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
    wrong.steady_us = 0x80000000u;
    CU_ASSERT(tl_button_init(&button, &wrong, &port) == TL_ERR_ARG);
    fake = (fake_port){.fail_at = 2};
    CU_ASSERT(tl_button_look(&button, &port, &event) == TL_ERR_PORT && event == TL_BUTTON_QUIET);
    CU_ASSERT(tl_button_look(NULL, &port, &event) == TL_ERR_ARG);
    CU_ASSERT(sizeof(tl_button) <= 24); /* the budget for the state of a signal */
}

CU_TestInfo button_tests[] = {
    {"counts a bouncing press once", counts_a_bouncing_press_once},
    {"keeps to its steady time exactly", keeps_to_its_steady_time_exactly},
    {"refuses and passes on", refuses_and_passes_on},
    CU_TEST_INFO_NULL,
};
