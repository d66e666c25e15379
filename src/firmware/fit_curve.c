/* SPDX-License-Identifier: MIT */
/*
 * Pieces of 16-bit points: each begins at a whole digit, ends at the next one's, and is as long as it can be.
 * Every count of a piece is tried by the core's own arithmetic.
 */
#include "firmware/fit.h"
#include <math.h>

typedef struct {
    const fit_target *target;
    double tolerance;
} curve_fit;

static tl_curve_point piece_of(const fit_target *t, long from, long to)
{
    const double begin = nearbyint(t->wanted[from]), end = nearbyint(t->wanted[to]);
    const double slope = to > from ? (end - begin) / (double)(to - from) : 0;
    double whole = floor(slope), part = nearbyint((slope - whole) * 65536);
    if (part > 65535) {
        whole += 1;
        part = 0;
    }
    return (tl_curve_point){(uint16_t)from, (int16_t)begin, (int16_t)whole, (uint16_t)part};
}

static double worst_of(const curve_fit *f, long from, long to)
{
    const tl_curve_point points[] = {piece_of(f->target, from, to)};
    const tl_curve piece = {points, 1};
    double worst = 0;
    for (long c = from; c < to && worst <= f->tolerance; c++) {
        /* A curve of one point answers with it up to its count, and goes on from there. */
        const double value = tl_curve_value(&piece, (uint16_t)c);
        worst = fmax(worst, fabs(value - f->target->wanted[c]));
    }
    return fmax(worst, fabs(nearbyint(f->target->wanted[to]) - f->target->wanted[to]));
}

static long farthest(const curve_fit *f, long from)
{
    long good = from + 1, step = 1;
    while (good + step <= f->target->last && worst_of(f, from, good + step) <= f->tolerance) {
        good += step;
        step *= 2;
    }
    for (; step > 0; step /= 2) {
        if (good + step <= f->target->last && worst_of(f, from, good + step) <= f->tolerance)
            good += step;
    }
    return good;
}

bool fit_a_curve(const fit_target *t, double tolerance, tl_curve_point *points, int *count,
                 fit_quality *quality)
{
    const curve_fit f = {t, fmax(tolerance, 0.5)};
    *count = 0;
    for (long c = t->first; c <= t->last; c++) {
        if (!(fabs(t->wanted[c]) < INT16_MAX))
            return false;
    }
    for (long at = t->first; at < t->last;) {
        const long next = farthest(&f, at);
        if (*count + 2 > FIT_POINTS_MOST)
            return false;
        points[(*count)++] = piece_of(t, at, next);
        at = next;
    }
    points[(*count)++] = piece_of(t, t->last, t->last);
    const tl_curve whole = {points, (uint8_t)*count};
    *quality = (fit_quality){0, 0};
    for (long c = t->first; c <= t->last; c++) {
        const double value = tl_curve_value(&whole, (uint16_t)c);
        quality->deviation = fmax(quality->deviation, fabs(value - t->wanted[c]));
        quality->wrong += fabs(value - t->wanted[c]) > 0.5 + 1e-7;
    }
    return true;
}
