/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Filters for readings: peak and trough, mean, rolling mean, exponential, median, oversampling.
 *
 * Flags survive: a result is clipped if any sample of it was, and fresh only if all were; its reason is that
 * of the last that was not. Windows are the caller's. Delays: a mean of n is n samples old at most, (n - 1) /
 * 2 in the middle; an exponential one of depth d reaches 63 % of a step after 2^d samples. White noise falls
 * by sqrt(n), by sqrt(2^(d+1) - 1), by about sqrt(2 n / pi) for a median.
 *
 * Stack: 88 bytes at most, in tl_window_median() (docs/targets.md).
 * Called anywhere, also in an interrupt, one caller at a time for each object; nothing waits.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * bool mean_of_16(const tl_sample *sample, tl_sample *mean)
 * {
 *     static tl_mean of_16;
 *     if (of_16.wanted == 0)
 *         (void)tl_mean_init(&of_16, 16);
 *     return tl_mean_feed(&of_16, sample, mean); // true with each sixteenth
 * }
 * @endcode
 */
#ifndef TINYLADDER_FILTER_H
#define TINYLADDER_FILTER_H

#include <stdbool.h>
#include <stdint.h>

#include "tinyladder/scale.h"
#include "tinyladder/status.h"

#ifdef __cplusplus
extern "C" {
#endif

/** Least and most since they were last asked for. */
typedef struct tl_peak {
    tl_sample least, most;
    bool any;
} tl_peak;

/** @return TL_OK; TL_ERR_ARG for NULL. */
tl_status tl_peak_init(tl_peak *peak);
void tl_peak_feed(tl_peak *peak, const tl_sample *sample);
/** Hands both out and begins anew. @return false, and nothing handed out, where nothing was fed since. */
bool tl_peak_take(tl_peak *peak, tl_sample *least, tl_sample *most);

/** The mean of n samples, then of the next n. */
typedef struct tl_mean {
    int64_t sum;
    uint16_t wanted, fed;
    uint8_t flags;
    int8_t reason;
} tl_mean;

tl_status tl_mean_init(tl_mean *mean, uint16_t samples);
/** @return true where this sample was the last of its n: result is then their mean, rounded half away from 0.
 */
bool tl_mean_feed(tl_mean *mean, const tl_sample *sample, tl_sample *result);

/** The mean or the median of the last n samples, in a window of the caller's. */
typedef struct tl_window {
    tl_sample *samples;
    uint8_t size, fed, next;
} tl_window;

enum { TL_WINDOW_MOST = 31 };

/** @param size  1 .. TL_WINDOW_MOST; odd for a median. */
tl_status tl_window_init(tl_window *window, tl_sample *samples, uint8_t size);
void tl_window_feed(tl_window *window, const tl_sample *sample);
/** Of what has been fed so far, up to the window's size. @return TL_OK; TL_ERR_RANGE before the first sample;
 * for a median TL_ERR_ARG where the window's size is even: it has no middle. */
tl_status tl_window_mean(const tl_window *window, tl_sample *result);
tl_status tl_window_median(const tl_window *window, tl_sample *result);

/** y moves to each sample by 1 / 2^depth of the difference. */
typedef struct tl_exponential {
    int64_t state; /**< y * 2^16 */
    uint16_t held; /**< samples for which the flags still stand */
    uint8_t depth, flags;
    int8_t reason;
    bool any;
} tl_exponential;

/** @param depth  1 .. 12 */
tl_status tl_exponential_init(tl_exponential *filter, uint8_t depth);
/** The first sample is taken whole. Flags of a clipped sample stay while 2^depth others pass. */
void tl_exponential_feed(tl_exponential *filter, const tl_sample *sample, tl_sample *result);

/** Adds up 4^extra counts to one with this many bits more; it gains them only where noise exceeds half an
 * LSB.
 */
typedef struct tl_oversample {
    uint32_t sum;
    uint16_t left;
    uint8_t extra, flags;
} tl_oversample;

/** @param extra  Bits to gain, 1 .. 4. */
tl_status tl_oversample_init(tl_oversample *filter, uint8_t extra);
/** @return true where the set is complete: count then has `extra` bits more than those fed. */
bool tl_oversample_feed(tl_oversample *filter, uint16_t count, uint8_t flags, uint32_t *result,
                        uint8_t *result_flags);

#ifdef __cplusplus
}
#endif
#endif
