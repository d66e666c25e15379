/* SPDX-License-Identifier: MIT */
/* Two lines a quarter turn apart, against the turn that made them; and what is due every so often, against a
 * clock that does as it likes. */
#include "support.h"
#include "tinyladder/core.h"
#include <string.h>

static uint32_t random_state = 4711;

static uint32_t any(uint32_t below)
{
    random_state = random_state * 1664525u + 1013904223u;
    return (uint32_t)(((uint64_t)random_state * below) >> 32);
}

/* The levels at a place on the round: 00, 10, 11, 01, the first line first. */
static void look_at(tl_quadrature *q, long place, int8_t *moved)
{
    const long at = (place % 4 + 4) % 4;
    *moved = tl_quadrature_feed(q, at == 1 || at == 2, at == 2 || at == 3);
}

static void quarters_are_followed(void)
{
    tl_quadrature q;
    long place = 3, begun = 3;
    int8_t moved = 9;
    unsigned missed = 0;
    CU_ASSERT(tl_quadrature_init(NULL) == TL_ERR_ARG && tl_quadrature_init(&q) == TL_OK);
    look_at(&q, place, &moved);
    CU_ASSERT(moved == 0 && q.quarters == 0 && q.missed == 0); /* wherever it begins is the beginning */
    for (int i = 0; i < 20000; i++) {
        const int turn = (int)any(4) - 1; /* back, none, on, or a jump of two */
        place += turn;
        look_at(&q, place, &moved);
        CU_ASSERT(moved == (turn == 2 ? 0 : turn));
        if (turn == 2) { /* which way is not known: the place stays, and is two quarters off from now on */
            missed++;
            begun += 2;
        }
        CU_ASSERT(q.quarters == place - begun && q.missed == missed);
        const long steps = (place - begun - (((place - begun) % 4 + 4) % 4)) / 4;
        CU_ASSERT(tl_quadrature_steps(&q, 4) == steps && tl_quadrature_steps(&q, 1) == q.quarters);
    }
    q.missed = UINT16_MAX;
    look_at(&q, place + 2, &moved);
    CU_ASSERT(q.missed == UINT16_MAX);
    q.quarters = INT32_MAX;
    look_at(&q, place + 3, &moved);
    CU_ASSERT(q.quarters == INT32_MIN && moved == 1);
}

/* Asked at odd times: as often due as whole periods have gone by, the missed ones counted, and never early.
 */
static void the_beat_does_not_drift(void)
{
    static const uint32_t every[] = {1, 7, 1000, 100000, 1u << 30};
    CU_ASSERT(tl_due_init(NULL, 1, 0) == TL_ERR_ARG);
    for (size_t k = 0; k < ROWS(every); k++) {
        tl_due due;
        uint32_t clock = any(UINT32_MAX);
        uint64_t passed = 0, times = 0;
        CU_ASSERT(tl_due_init(&due, 0, clock) == TL_ERR_ARG &&
                  tl_due_init(&due, (1u << 30) + 1, clock) == TL_ERR_ARG &&
                  tl_due_init(&due, every[k], clock) == TL_OK);
        for (int i = 0; i < 3000 && due.missed < 60000; i++) {
            const uint32_t step = any(every[k] > 500000000u ? INT32_MAX : every[k] / 2 + 4);
            passed += step;
            clock += step;
            times += tl_due_now(&due, clock);
            CU_ASSERT(times + due.missed == passed / every[k]);
        }
    }
}

static void a_clock_that_is_set_back_delays_only_what_comes(void)
{
    tl_due due;
    CU_ASSERT(tl_due_init(&due, 1000, 5000) == TL_OK);
    CU_ASSERT(!tl_due_now(&due, 5600));
    CU_ASSERT(!tl_due_now(&due, 100)); /* back by 5500: the 400 that are left are still left */
    CU_ASSERT(!tl_due_now(&due, 499) && tl_due_now(&due, 500) && !tl_due_now(&due, 1499));
    CU_ASSERT(tl_due_now(&due, 1500) && due.missed == 0);
    due.missed = UINT16_MAX;
    CU_ASSERT(tl_due_now(&due, 1500 + 70000000) && due.missed == UINT16_MAX);
}

CU_TestInfo turning_tests[] = {
    {"quarters are followed", quarters_are_followed},
    {"the beat does not drift", the_beat_does_not_drift},
    {"a clock that is set back delays only what comes", a_clock_that_is_set_back_delays_only_what_comes},
    CU_TEST_INFO_NULL,
};
