/* SPDX-License-Identifier: MIT */
/*
 * Filters over samples. A mean divides once, at the end; the exponential one keeps 16 bits behind the point,
 * y += (x - y) / 2^d, so that it arrives at what it is fed; the median counts instead of sorting. Flags of
 * all that went in come out.
 */
#include "tinyladder/filter.h"
#include "ratio.h"

/* Clipped if any was, fresh if all were. */
static uint8_t join_flags(uint8_t a, uint8_t b)
{
    return (uint8_t)(((a | b) & ~TL_READING_FRESH) | (a & b & TL_READING_FRESH));
}

/* The last one that was not fresh says why. */
static int8_t join_reasons(int8_t reason, const tl_sample *sample)
{
    return (sample->flags & TL_READING_FRESH) != 0 ? reason : sample->reason;
}

tl_status tl_peak_init(tl_peak *peak)
{
    if (peak == NULL)
        return TL_ERR_ARG;
    *peak = (tl_peak){.any = false};
    return TL_OK;
}

void tl_peak_feed(tl_peak *peak, const tl_sample *sample)
{
    if (!peak->any || sample->value < peak->least.value)
        peak->least = *sample;
    if (!peak->any || sample->value > peak->most.value)
        peak->most = *sample;
    peak->any = true;
}

bool tl_peak_take(tl_peak *peak, tl_sample *least, tl_sample *most)
{
    if (!peak->any)
        return false;
    *least = peak->least;
    *most = peak->most;
    peak->any = false;
    return true;
}

tl_status tl_mean_init(tl_mean *mean, uint16_t samples)
{
    if (mean == NULL || samples < 1)
        return TL_ERR_ARG;
    *mean = (tl_mean){.wanted = samples};
    return TL_OK;
}

bool tl_mean_feed(tl_mean *mean, const tl_sample *sample, tl_sample *result)
{
    mean->flags = mean->fed == 0 ? sample->flags : join_flags(mean->flags, sample->flags);
    mean->reason = join_reasons(mean->fed == 0 ? TL_OK : mean->reason, sample);
    mean->sum += sample->value;
    if (++mean->fed < mean->wanted)
        return false;
    *result = (tl_sample){(tl_number)tl_mean_of(mean->sum, mean->wanted), mean->flags, mean->reason};
    mean->sum = 0;
    mean->fed = 0;
    return true;
}

tl_status tl_window_init(tl_window *window, tl_sample *samples, uint8_t size)
{
    if (window == NULL || samples == NULL || size < 1 || size > TL_WINDOW_MOST)
        return TL_ERR_ARG;
    *window = (tl_window){.samples = samples, .size = size};
    return TL_OK;
}

void tl_window_feed(tl_window *window, const tl_sample *sample)
{
    window->samples[window->next] = *sample;
    window->next = (uint8_t)(window->next + 1 < window->size ? window->next + 1 : 0);
    if (window->fed < window->size)
        window->fed++;
}

/* Flags and reason of all that is in it, the oldest first. */
static void join_window(const tl_window *window, tl_sample *result)
{
    uint8_t at = window->fed < window->size ? 0 : window->next;
    result->flags = window->samples[at].flags;
    result->reason = TL_OK;
    for (uint8_t i = 0; i < window->fed; i++) {
        result->flags = join_flags(result->flags, window->samples[at].flags);
        result->reason = join_reasons(result->reason, &window->samples[at]);
        at = (uint8_t)(at + 1 < window->size ? at + 1 : 0);
    }
}

tl_status tl_window_mean(const tl_window *window, tl_sample *result)
{
    int64_t sum = 0;
    if (window->fed == 0)
        return TL_ERR_RANGE;
    for (uint8_t i = 0; i < window->fed; i++)
        sum += window->samples[i].value;
    join_window(window, result);
    result->value = (tl_number)tl_mean_of(sum, window->fed);
    return TL_OK;
}

/* The one with as many below it as above: counted, so that nothing need be copied or sorted. */
tl_status tl_window_median(const tl_window *window, tl_sample *result)
{
    const uint8_t middle = (uint8_t)(window->fed / 2);
    if (window->size % 2 == 0)
        return TL_ERR_ARG;
    if (window->fed == 0)
        return TL_ERR_RANGE;
    for (uint8_t i = 0; i < window->fed; i++) {
        uint8_t below = 0, equal = 0;
        for (uint8_t j = 0; j < window->fed; j++) {
            below = (uint8_t)(below + (window->samples[j].value < window->samples[i].value));
            equal = (uint8_t)(equal + (window->samples[j].value == window->samples[i].value));
        }
        if (below <= middle && middle < below + equal)
            result->value = window->samples[i].value;
    }
    join_window(window, result);
    return TL_OK;
}

tl_status tl_exponential_init(tl_exponential *filter, uint8_t depth)
{
    if (filter == NULL || depth < 1 || depth > 12)
        return TL_ERR_ARG;
    *filter = (tl_exponential){.depth = depth};
    return TL_OK;
}

void tl_exponential_feed(tl_exponential *filter, const tl_sample *sample, tl_sample *result)
{
    const int32_t one = INT32_C(1) << 16;
    const int64_t to = (int64_t)sample->value * one, off = to - filter->state;
    /* Division, not a shift: it is the same for negative differences. */
    filter->state = filter->any ? filter->state + off / (INT32_C(1) << filter->depth) : to;
    filter->any = true;
    if (filter->held > 0)
        filter->held--;
    if (sample->flags != TL_READING_FRESH) {
        filter->reason = join_reasons(filter->held > 0 ? filter->reason : TL_OK, sample);
        filter->flags = filter->held > 0 ? join_flags(filter->flags, sample->flags) : sample->flags;
        filter->held = (uint16_t)(1u << filter->depth);
    }
    const uint8_t flags = filter->held > 0 ? join_flags(filter->flags, sample->flags) : sample->flags;
    *result = (tl_sample){(tl_number)tl_mean_of(filter->state, (uint32_t)one), flags,
                          (flags & TL_READING_FRESH) != 0 ? (int8_t)TL_OK : filter->reason};
}

tl_status tl_oversample_init(tl_oversample *filter, uint8_t extra)
{
    if (filter == NULL || extra < 1 || extra > 4)
        return TL_ERR_ARG;
    *filter =
        (tl_oversample){.left = (uint16_t)(1u << (2 * extra)), .extra = extra, .flags = TL_READING_FRESH};
    return TL_OK;
}

bool tl_oversample_feed(tl_oversample *filter, uint16_t count, uint8_t flags, uint32_t *result,
                        uint8_t *result_flags)
{
    filter->sum += count;
    filter->flags = join_flags(filter->flags, flags);
    if (--filter->left > 0)
        return false;
    *result = filter->sum >> filter->extra;
    *result_flags = filter->flags;
    (void)tl_oversample_init(filter, filter->extra);
    return true;
}
