/* SPDX-License-Identifier: MIT */
/* The core's divisions: a b / whole and sum / count, rounded to the nearest, in 64 bits. */
#include "ratio.h"

uint64_t tl_ratio_of(uint64_t a, uint32_t b, uint32_t whole)
{
    return (a * b + whole / 2) / whole;
}

int32_t tl_mean_of(int64_t sum, uint32_t count)
{
    const int64_t half = count / 2;
    return (int32_t)((sum < 0 ? sum - half : sum + half) / count);
}

int32_t tl_moved_by(int32_t start, uint64_t by, bool down)
{
    const uint32_t room =
        down ? (uint32_t)start - (uint32_t)INT32_MIN : (uint32_t)INT32_MAX - (uint32_t)start;
    if (by > room)
        return down ? INT32_MIN : INT32_MAX;
    return (int32_t)(down ? (uint32_t)start - (uint32_t)by : (uint32_t)start + (uint32_t)by);
}
