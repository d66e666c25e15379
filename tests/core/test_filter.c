/* SPDX-License-Identifier: MIT */
/* Filters against plain arithmetic, their flags, and fault windows step by step. */
#include "support.h"
#include "tinyladder/fault.h"
#include "tinyladder/filter.h"
#include "tinyladder/lines.h"
#include <math.h>
#include <stdlib.h>

enum { FRESH = TL_READING_FRESH, HIGH = TL_READING_CLIPPED_HIGH, LOW = TL_READING_CLIPPED_LOW };

static void peaks_are_handed_out_once(void)
{
    tl_peak peak;
    tl_sample least, most;
    tl_peak_init(&peak);
    CU_ASSERT(!tl_peak_take(&peak, &least, &most));
    for (int i = 0; i < 5; i++)
        tl_peak_feed(&peak, &(tl_sample){(i - 2) * (i - 2) - 3, i == 0 ? FRESH | HIGH : FRESH, 0});
    CU_ASSERT(tl_peak_take(&peak, &least, &most) && least.value == -3 && most.value == 1 &&
              most.flags == (FRESH | HIGH));
    CU_ASSERT(!tl_peak_take(&peak, &least, &most));
}

static void means_round_and_keep_flags(void)
{
    tl_mean mean;
    tl_sample result = {7, 7, 0};
    CU_ASSERT(tl_mean_init(&mean, 0) == TL_ERR_ARG && tl_mean_init(&mean, 4) == TL_OK);
    static const int32_t values[] = {INT32_MAX, INT32_MAX, INT32_MAX, INT32_MAX - 2, -1, -2, -2, -1};
    for (int i = 0; i < 8; i++) {
        const tl_sample sample = {values[i],
                                  (uint8_t)(i == 1   ? LOW | FRESH
                                            : i == 6 ? 0
                                                     : FRESH),
                                  i == 6 ? TL_ERR_WORD : TL_OK};
        const bool ended = tl_mean_feed(&mean, &sample, &result);
        CU_ASSERT(ended == (i % 4 == 3));
        if (i == 3)
            CU_ASSERT(result.value == INT32_MAX && result.flags == (FRESH | LOW) &&
                      result.reason == TL_OK); /* -0.5 rounds back */
        if (i == 7)
            CU_ASSERT(result.value == -2 && result.flags == 0 &&
                      result.reason == TL_ERR_WORD); /* -1.5; one sample was not fresh */
    }
}

static int compare(const void *a, const void *b)
{
    const int32_t x = *(const int32_t *)a, y = *(const int32_t *)b;
    return x < y ? -1 : x > y;
}

/* Against sorting and adding up, for every size, with values that repeat. */
static void windows_agree_with_sorting(void)
{
    tl_sample room[TL_WINDOW_MOST];
    tl_window window;
    tl_sample result = {0};
    CU_ASSERT(tl_window_init(&window, room, 0) == TL_ERR_ARG &&
              tl_window_init(&window, room, 32) == TL_ERR_ARG);
    for (uint8_t size = 1; size <= TL_WINDOW_MOST; size = (uint8_t)(size + 2)) {
        int32_t all[100];
        CU_ASSERT(tl_window_init(&window, room, size) == TL_OK &&
                  tl_window_median(&window, &result) == TL_ERR_RANGE);
        for (int i = 0; i < 100; i++) {
            int32_t last[TL_WINDOW_MOST];
            int64_t sum = 0;
            const int count = i + 1 < size ? i + 1 : size;
            all[i] = (int32_t)even_between(-20, 20);
            tl_window_feed(&window, &(tl_sample){all[i], FRESH, 0});
            for (int j = 0; j < count; j++)
                sum += last[j] = all[i - j];
            qsort(last, (size_t)count, sizeof *last, compare);
            CU_ASSERT(tl_window_median(&window, &result) == TL_OK && result.value == last[count / 2]);
            CU_ASSERT(tl_window_mean(&window, &result) == TL_OK &&
                      fabs(result.value - (double)sum / count) <= 0.5);
        }
    }
}

static void exponential_reaches_what_it_says(void)
{
    tl_exponential filter;
    tl_sample result = {0};
    CU_ASSERT(tl_exponential_init(&filter, 0) == TL_ERR_ARG && tl_exponential_init(&filter, 4) == TL_OK);
    tl_exponential_feed(&filter, &(tl_sample){0, FRESH, 0}, &result);
    for (int i = 0; i < 16; i++)
        tl_exponential_feed(&filter, &(tl_sample){1000000, i == 0 ? FRESH | HIGH : FRESH, 0}, &result);
    CU_ASSERT(fabs(result.value - 1e6 * (1 - pow(15.0 / 16, 16))) < 2);
    CU_ASSERT(result.flags == (FRESH | HIGH)); /* still in it */
    for (int i = 0; i < 1000; i++)
        tl_exponential_feed(&filter, &(tl_sample){-1000000, FRESH, 0}, &result);
    CU_ASSERT(result.value == -1000000 && result.flags == FRESH);
}

/* Why a result is not fresh: for as long as it is not, what the last of its samples that was not has said. */
static void results_say_why_they_are_not_fresh(void)
{
    static const int8_t fed[] = {TL_OK, TL_ERR_LATE, TL_OK, TL_ERR_WORD, TL_OK, TL_OK, TL_OK, TL_OK};
    static const int8_t window_says[] = {TL_OK,       TL_ERR_LATE, TL_ERR_LATE, TL_ERR_WORD,
                                         TL_ERR_WORD, TL_ERR_WORD, TL_OK,       TL_OK};
    static const int8_t exponential_says[] = {TL_OK,       TL_ERR_LATE, TL_ERR_LATE, TL_ERR_WORD,
                                              TL_ERR_WORD, TL_OK,       TL_OK,       TL_OK};
    tl_sample room[3], median = {0}, mean = {0}, smooth = {0};
    tl_window window;
    tl_exponential filter;
    CU_ASSERT(tl_window_init(&window, room, 3) == TL_OK && tl_exponential_init(&filter, 1) == TL_OK);
    for (size_t i = 0; i < ROWS(fed); i++) {
        const tl_sample sample = {5, fed[i] == TL_OK ? FRESH : 0, fed[i]};
        tl_window_feed(&window, &sample);
        tl_exponential_feed(&filter, &sample, &smooth);
        CU_ASSERT(tl_window_mean(&window, &mean) == TL_OK && tl_window_median(&window, &median) == TL_OK);
        CU_ASSERT(mean.reason == window_says[i] && median.reason == window_says[i]);
        CU_ASSERT((mean.flags == FRESH) == (window_says[i] == TL_OK) && median.flags == mean.flags);
        CU_ASSERT(smooth.reason == exponential_says[i] &&
                  (smooth.flags == FRESH) == (exponential_says[i] == TL_OK));
    }
}

static void oversampling_gains_bits(void)
{
    tl_oversample filter;
    uint32_t result = 0;
    uint8_t flags = 0;
    CU_ASSERT(tl_oversample_init(&filter, 5) == TL_ERR_ARG && tl_oversample_init(&filter, 2) == TL_OK);
    for (int set = 0; set < 2; set++) {
        for (int i = 0; i < 16; i++)
            CU_ASSERT(tl_oversample_feed(&filter, (uint16_t)(i < 4 ? 1001 : 1000),
                                         set == 0 && i == 3 ? FRESH | HIGH : FRESH, &result,
                                         &flags) == (i == 15));
        CU_ASSERT(result == 4001 && flags == (set == 0 ? FRESH | HIGH : FRESH)); /* 1000.25 in quarters */
    }
}

/* What was wrong with a sample stays with every result that it is part of, and leaves with it. */
static void flags_stay_as_long_as_their_sample(void)
{
    static const uint8_t
        fed[] = {FRESH, FRESH | HIGH, FRESH | LOW, FRESH, FRESH, FRESH, 0, FRESH, FRESH},
        exponential[] = {FRESH, FRESH | HIGH, FRESH | HIGH | LOW, FRESH | HIGH | LOW, FRESH, FRESH, 0,
                         0,     FRESH},
        window[] = {FRESH, FRESH | HIGH, FRESH | HIGH | LOW, FRESH | LOW, FRESH, FRESH, 0, 0, FRESH},
        middle[] = {FRESH, FRESH | HIGH, FRESH | HIGH | LOW, FRESH | HIGH | LOW, FRESH | LOW, FRESH, 0, 0, 0};
    tl_exponential filter;
    tl_window two, three;
    tl_sample room[5], none;
    CU_ASSERT(tl_exponential_init(&filter, 1) == TL_OK && tl_window_init(&two, room, 2) == TL_OK &&
              tl_window_init(&three, room + 2, 3) == TL_OK);
    for (size_t i = 0; i < ROWS(fed); i++) {
        const tl_sample sample = {(int32_t)(100 * i), fed[i], 0};
        tl_sample result, mean, median;
        tl_exponential_feed(&filter, &sample, &result);
        CU_ASSERT(result.flags == exponential[i]);
        tl_window_feed(&two, &sample);
        tl_window_feed(&three, &sample);
        CU_ASSERT(tl_window_mean(&two, &mean) == TL_OK && tl_window_median(&three, &median) == TL_OK);
        CU_ASSERT(tl_window_median(&two, &none) == TL_ERR_ARG); /* an even number has no middle */
        CU_ASSERT(mean.flags == window[i] && median.flags == middle[i]);
        if (result.flags != exponential[i] || mean.flags != window[i])
            printf("\n  sample %zu: %02x %02x", i, result.flags, mean.flags);
    }
}

static void faults_come_and_go(void)
{
    static const tl_fault_config config = {.open_level = 900,
                                           .open_side = TL_FAULT_ABOVE,
                                           .short_level = 50,
                                           .short_side = TL_FAULT_BELOW,
                                           .hysteresis = 20},
                                 with_substitute = {.open_level = 900,
                                                    .open_side = TL_FAULT_ABOVE,
                                                    .substitute = -99,
                                                    .has_substitute = true},
                                 wrong = {.hysteresis = -1};
    static const struct {
        const char *name;
        int32_t value, out;
        uint8_t flags;
    } rows[] = {
        {"good", 500, 500, FRESH},
        {"at the window's edge", 900, 900, FRESH},
        {"open", 901, 900, TL_READING_OPEN | TL_READING_STALE},
        {"back, but not by the hysteresis", 885, 900, TL_READING_OPEN | TL_READING_STALE},
        {"back", 880, 880, FRESH},
        {"that level alone is good", 885, 885, FRESH},
        {"short", 10, 885, TL_READING_SHORT | TL_READING_STALE},
        {"from short to open", 2000, 885, TL_READING_OPEN | TL_READING_STALE},
        {"short, and back, but not by the hysteresis", 49, 885, TL_READING_SHORT | TL_READING_STALE},
        {"still within it", 69, 885, TL_READING_SHORT | TL_READING_STALE},
        {"beyond it", 70, 70, FRESH},
        {"good again", 400, 400, FRESH},
        {"lowest there is", INT32_MIN, 400, TL_READING_SHORT | TL_READING_STALE},
    };
    tl_fault fault;
    tl_sample result;
    CU_ASSERT(tl_fault_init(&fault, &wrong) == TL_ERR_RANGE && tl_fault_init(&fault, &config) == TL_OK);
    CU_ASSERT(tl_fault_age(&fault, 5) == INT32_MAX); /* there was none yet */
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_fault_feed(&fault, &config, &(tl_sample){rows[i].value, FRESH, 0}, (uint32_t)(1000 * i), &result);
        CHECK_ROW(rows[i].name, result.value == rows[i].out && result.flags == rows[i].flags);
    }
    CU_ASSERT(tl_fault_age(&fault, 13000) == 2000);
    tl_fault_feed(&fault, &config, &(tl_sample){450, 0, TL_ERR_LATE}, 14000,
                  &result); /* a value that failed is no good one */
    CU_ASSERT(result.value == 400 && result.flags == TL_READING_STALE && result.reason == TL_ERR_LATE);
    for (uint32_t hours = 0; hours < 3; hours++)
        tl_fault_feed(&fault, &config, &(tl_sample){10, FRESH, 0}, hours * 1800000000u, &result);
    CU_ASSERT(tl_fault_age(&fault, 8100) == INT32_MAX); /* the clock has gone round: still old */
    CU_ASSERT(tl_fault_init(&fault, &with_substitute) == TL_OK);
    tl_fault_feed(&fault, &with_substitute, &(tl_sample){1000, FRESH, 0}, 0, &result);
    CU_ASSERT(result.value == -99 && result.flags == (TL_READING_OPEN | TL_READING_SUBSTITUTED));
}

/* Thirty-two lines against one counter each, with levels that come and go. */
static void lines_agree_with_counting(void)
{
    tl_lines lines;
    CU_ASSERT(tl_lines_init(&lines, 0, 0) == TL_ERR_ARG && tl_lines_init(&lines, 0, 8) == TL_ERR_ARG);
    for (uint8_t steps = 1; steps <= TL_LINES_STEPS_MOST; steps++) {
        uint32_t accepted = 0xa5a5a5a5, seen = 0;
        int counts[32] = {0};
        CU_ASSERT(tl_lines_init(&lines, accepted, steps) == TL_OK);
        for (int look = 0; look < 4000; look++) {
            uint32_t changed = 0;
            for (int line = 0; line < 32; line++) {
                if (even_between(0, 1) < 0.02 * (line + 1) / 2)
                    seen ^= UINT32_C(1) << line;
                const bool differs = ((seen ^ accepted) >> line & 1) != 0;
                counts[line] = differs ? counts[line] + 1 : 0;
                if (counts[line] == steps) {
                    counts[line] = 0;
                    changed |= UINT32_C(1) << line;
                }
            }
            accepted ^= changed;
            CU_ASSERT(tl_lines_look(&lines, seen) == changed && lines.accepted == accepted);
        }
    }
}

CU_TestInfo filter_tests[] = {
    {"peaks are handed out once", peaks_are_handed_out_once},
    {"means round and keep flags", means_round_and_keep_flags},
    {"windows agree with sorting", windows_agree_with_sorting},
    {"exponential reaches what it says", exponential_reaches_what_it_says},
    {"results say why they are not fresh", results_say_why_they_are_not_fresh},
    {"oversampling gains bits", oversampling_gains_bits},
    {"flags stay as long as their sample", flags_stay_as_long_as_their_sample},
    {"faults come and go", faults_come_and_go},
    {"lines agree with counting", lines_agree_with_counting},
    CU_TEST_INFO_NULL,
};
