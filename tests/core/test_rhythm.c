/* SPDX-License-Identifier: MIT */
/* Frequency, duty and period: of rows, of lengths that are drawn, against sums made another way. */
#include "fake_port.h"
#include "support.h"
#include "tinyladder/core.h"
#include <math.h>

/* Lets a line be on and off in turn, from `at` on, and answers how often something was measured. */
static int play(tl_rhythm *rhythm, uint32_t *at, uint32_t on_us, uint32_t off_us, int periods)
{
    int measured = 0;
    for (int i = 0; i < periods; i++) {
        measured += tl_rhythm_feed(rhythm, true, *at);
        *at += on_us;
        measured += tl_rhythm_feed(rhythm, false, *at);
        *at += off_us;
    }
    return measured;
}

static void rhythms_are_measured(void)
{
    static const struct {
        const char *name;
        uint32_t over_us, on_us, off_us;
        int periods;             /* the first is seen whole, and ends with the second's beginning */
        long hertz, percent, ms; /* with 1, 1, 3 decimals */
    } rows[] = {
        {"each period", 0, 8000, 12000, 3, 500, 400, 20000},
        {"five together", 100000, 8000, 12000, 6, 500, 400, 20000},
        {"longer than what is asked for", 1000, 300000, 100000, 3, 25, 750, 400000},
        {"rounded to the nearest", 0, 1, 2, 3, 3333333, 333, 3},
        {"half up", 0, 1, 15, 3, 625000, 63, 16},
        {"never off for long", 0, 999, 1, 3, 10000, 999, 1000},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        const tl_rhythm_config config = {rows[i].over_us, 1000000, false};
        tl_rhythm r;
        uint32_t at = UINT32_MAX - 50; /* across the clock's end */
        CHECK_ROW(rows[i].name, tl_rhythm_init(&r, &config) == TL_OK);
        tl_rhythm_feed(&r, false, at - 10);
        const tl_sample none = tl_rhythm_frequency(&r, 1);
        CHECK_ROW(rows[i].name, none.flags == 0 && none.reason == TL_ERR_LATE && none.value == 0);
        CHECK_ROW(rows[i].name, play(&r, &at, rows[i].on_us, rows[i].off_us, rows[i].periods) > 0);
        const tl_sample hertz = tl_rhythm_frequency(&r, 1), percent = tl_rhythm_duty(&r, 1),
                        ms = tl_rhythm_period(&r, 3);
        CHECK_ROW(rows[i].name, hertz.flags == TL_READING_FRESH && hertz.value == rows[i].hertz);
        CHECK_ROW(rows[i].name, percent.flags == TL_READING_FRESH && percent.value == rows[i].percent);
        CHECK_ROW(rows[i].name, ms.flags == TL_READING_FRESH && ms.value == rows[i].ms);
    }
}

static void a_line_comes_to_a_stand(void)
{
    static const tl_rhythm_config config = {.stopped_us = 1000};
    tl_rhythm r;
    uint32_t at = 5000;
    for (int high = 0; high < 2; high++) {
        CU_ASSERT(tl_rhythm_init(&r, &config) == TL_OK);
        play(&r, &at, 100, 300, 3);
        CU_ASSERT(tl_rhythm_frequency(&r, 0).value == 2500);
        CU_ASSERT(!tl_rhythm_feed(&r, high, at) || high); /* the last period ends with this edge */
        CU_ASSERT(!tl_rhythm_feed(&r, high, at + 600));
        CU_ASSERT(tl_rhythm_frequency(&r, 0).value == 2500);
        CU_ASSERT(tl_rhythm_feed(&r, high, at + 1000));
        CU_ASSERT(!tl_rhythm_feed(&r, high, at + 1001)); /* told once */
        const tl_sample hertz = tl_rhythm_frequency(&r, 2), percent = tl_rhythm_duty(&r, 2);
        CU_ASSERT(hertz.flags == TL_READING_FRESH && hertz.value == 0);
        CU_ASSERT(percent.flags == TL_READING_FRESH && percent.value == (high ? 10000 : 0));
        CU_ASSERT(tl_rhythm_period(&r, 3).flags == 0 && tl_rhythm_period(&r, 3).reason == TL_ERR_RANGE);
        /* It goes on: what was before, and the pause, are in no figure. */
        at += 70000;
        if (high)
            tl_rhythm_feed(&r, false, at - 400);
        CU_ASSERT(play(&r, &at, 200, 200, 1) == 0 && tl_rhythm_frequency(&r, 0).value == 0);
        CU_ASSERT(play(&r, &at, 200, 200, 1) == 1 && tl_rhythm_duty(&r, 0).value == 50);
    }
}

static void what_cannot_be_is_refused(void)
{
    static const struct {
        tl_rhythm_config config;
        tl_status status;
    } rows[] = {{{0, 1, false}, TL_OK},
                {{TL_RHYTHM_LONGEST_US, TL_RHYTHM_LONGEST_US, true}, TL_OK},
                {{0, 0, false}, TL_ERR_ARG},
                {{TL_RHYTHM_LONGEST_US + 1u, 1, false}, TL_ERR_ARG},
                {{0, TL_RHYTHM_LONGEST_US + 1u, false}, TL_ERR_ARG}};
    tl_rhythm r;
    for (size_t i = 0; i < ROWS(rows); i++)
        CU_ASSERT(tl_rhythm_init(&r, &rows[i].config) == rows[i].status);
    CU_ASSERT(tl_rhythm_init(NULL, &rows[0].config) == TL_ERR_ARG);
    CU_ASSERT(tl_rhythm_init(&r, NULL) == TL_ERR_ARG);
    /* Faster than its clock: one period a microsecond, and several; the figure stays at its most. */
    const tl_rhythm_config fast = {0, 1000, false};
    uint32_t at = 0;
    CU_ASSERT(tl_rhythm_init(&r, &fast) == TL_OK);
    for (int i = 0; i < 200000; i++) { /* without a microsecond passing at all */
        CU_ASSERT_FATAL(!tl_rhythm_feed(&r, true, at));
        tl_rhythm_feed(&r, false, at);
    }
    CU_ASSERT(tl_rhythm_frequency(&r, 3).flags == 0);
    at++;
    tl_rhythm_feed(&r, true, at);
    CU_ASSERT(tl_rhythm_frequency(&r, 3).flags == 0 || tl_rhythm_frequency(&r, 3).value == INT32_MAX);
}

static void ends_are_exact(void)
{
    static const tl_rhythm_config config = {TL_RHYTHM_LONGEST_US, 1000, false};
    tl_rhythm r;
    uint32_t at = 100;
    /* At most 65535 periods are measured together. */
    CU_ASSERT(tl_rhythm_init(&r, &config) == TL_OK);
    tl_rhythm_feed(&r, false, 0);
    CU_ASSERT(play(&r, &at, 1, 2, 65535) == 0 && play(&r, &at, 1, 2, 1) == 1);
    CU_ASSERT(tl_rhythm_frequency(&r, 0).value == 333333);
    /* A level of 999 us is one, of 1000 us a standstill, whether somebody looked meanwhile or not. */
    for (uint32_t on_us = 999; on_us <= 1000; on_us++) {
        const tl_rhythm_config each = {0, 1000, false};
        CU_ASSERT(tl_rhythm_init(&r, &each) == TL_OK);
        tl_rhythm_feed(&r, false, at - 1);
        CU_ASSERT(play(&r, &at, on_us, 10, 4) == (on_us < 1000 ? 3 : 1));
        CU_ASSERT(tl_rhythm_frequency(&r, 0).value == (on_us < 1000 ? 991 : 0));
    }
}

/* Lengths that are drawn, and windows added up from a list of edges, in floating point. */
static void as_added_up(void)
{
    enum { EDGES = 4000 };
    static uint32_t edge[EDGES + 1];
    unsigned long seed = 12345;
    for (int round = 0; round < 20; round++) {
        const tl_rhythm_config config = {(uint32_t)round * 3000, 40000, false};
        tl_rhythm r;
        edge[0] = 77;
        for (int i = 1; i <= EDGES; i++) {
            seed = seed * 6364136223846793005ul + 1442695040888963407ul;
            /* now and then so long that it stands still */
            edge[i] = edge[i - 1] + (uint32_t)(seed >> 40) % (i % 97 == 0 ? 90000 : 3000);
        }
        CU_ASSERT(tl_rhythm_init(&r, &config) == TL_OK);
        tl_rhythm_feed(&r, false, 0);
        double from = NAN, on = 0;
        int periods = 0, wrong = 0, windows = 0;
        bool stands = false;
        for (int i = 0; i < EDGES; i++) { /* even ones rise */
            const bool measured = tl_rhythm_feed(&r, i % 2 == 0, edge[i]);
            if (i > 0 && edge[i] - edge[i - 1] >= config.stopped_us) {
                from = NAN; /* the level before this edge was too long */
                wrong += measured == stands || tl_rhythm_frequency(&r, 0).value != 0;
                stands = true;
                if (i % 2 == 0)
                    from = edge[i];
                on = 0;
                periods = 0;
                continue;
            }
            if (i % 2 != 0) {
                on += isnan(from) ? 0 : (double)(edge[i] - edge[i - 1]);
                continue;
            }
            periods += !isnan(from);
            const double all = (double)edge[i] - from;
            const bool ends = periods > 0 && !isnan(from) && all > 0 && all >= config.over_us;
            wrong += measured != ends;
            if (ends) {
                windows++;
                stands = false;
                wrong += tl_rhythm_frequency(&r, 3).value != llround(fmin(1e9 * periods / all, INT32_MAX));
                wrong += tl_rhythm_duty(&r, 2).value != llround(1e4 * on / all);
                wrong += tl_rhythm_period(&r, 0).value != llround(all / periods / 1e3);
            }
            if (ends || isnan(from)) {
                from = edge[i];
                on = 0;
                periods = 0;
            }
        }
        CU_ASSERT(wrong == 0 && windows > 20);
    }
}

static void lines_are_looked_at(void)
{
    static const tl_button_config contact = {.steady = 0, .line = 3, .closed_is_low = true};
    static const tl_rhythm_config config = {.stopped_us = 1000000, .of_open = true};
    fake_port fake = {0};
    const tl_port port = fake_port_of(&fake);
    tl_button button;
    tl_rhythm r;
    bool measured = true;
    CU_ASSERT(tl_button_init(&button, &contact, &port) == TL_OK && tl_rhythm_init(&r, &config) == TL_OK);
    int times = 0;
    for (int i = 0; i < 40; i++) { /* high for three of four looks */
        fake.high = i % 4 != 0;
        fake.now_us += 100;
        CU_ASSERT(tl_rhythm_look(&r, &button, &port, &measured) == TL_OK);
        times += measured;
    }
    CU_ASSERT(times == 9 && tl_rhythm_duty(&r, 0).value == 75 && tl_rhythm_frequency(&r, 0).value == 2500);
    fake.fail_at = fake.calls + 1;
    CU_ASSERT(tl_rhythm_look(&r, &button, &port, &measured) == TL_ERR_PORT && !measured);
}

CU_TestInfo rhythm_tests[] = {
    {"rhythms are measured", rhythms_are_measured},
    {"a line comes to a stand", a_line_comes_to_a_stand},
    {"what cannot be is refused", what_cannot_be_is_refused},
    {"ends are exact", ends_are_exact},
    {"as added up", as_added_up},
    {"lines are looked at", lines_are_looked_at},
    CU_TEST_INFO_NULL,
};
