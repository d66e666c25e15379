/* SPDX-License-Identifier: MIT */
/*
 * A signal's whole way from code to value as points for the core's tables: as few as keep within a tolerance
 * at every code. Each piece is made as long as it can be (greedy: no other choice of ends needs fewer
 * pieces).
 */
#include "base/memory.h"
#include "elaborate/circuit_struct.h"
#include "tinyladder/design/measurement.h"
#include <math.h>
#include <stdlib.h>

typedef struct {
    const double *figures; /* of every code, in units of the last digit; NAN where there is none */
    long first;            /* code of figures[0] */
    double tolerance;
} code_figures;

/* What an error there may be: the tolerance; half of a count where that is coarser. */
static double allowed(const code_figures *f, long i, long to)
{
    const double step = fabs(f->figures[i < to ? i + 1 : i] - f->figures[i < to ? i : i - 1]);
    return f->tolerance * fmax(1, step / 2);
}

/* The value as the core works it out, with the end points rounded to whole digits: in what is allowed. */
static double worst_error(const code_figures *f, long from, long to)
{
    const tl_table_point ends[] = {{(int32_t)(f->first + from), (int32_t)llround(f->figures[from])},
                                   {(int32_t)(f->first + to), (int32_t)llround(f->figures[to])}};
    const tl_table piece = {ends, 2, false};
    double worst = 0;
    for (long i = from; i <= to && worst <= 1; i++)
        worst = fmax(worst, fabs(tl_table_value(&piece, (int32_t)(f->first + i), NULL) - f->figures[i]) /
                                allowed(f, i, to));
    return worst;
}

/* The farthest end that still fits: doubling, then halving. A piece of two codes always fits to half a digit.
 */
static long farthest(const code_figures *f, long from, long last)
{
    long good = from + 1, step = 1;
    while (good + step <= last && worst_error(f, from, good + step) <= 1) {
        good += step;
        step *= 2;
    }
    for (; step > 0; step /= 2) {
        if (good + step <= last && worst_error(f, from, good + step) <= 1)
            good += step;
    }
    return good;
}

static bool fits_int32(double figure)
{
    return fabs(figure) < 2147483647.0; /* false for NAN */
}

/* All figures; the codes that have one, as indices. */
static tl_net_status gather(tl_circuit *c, int signal, double per_digit, double *figures, long *from,
                            long *to)
{
    const tl_analog_path *path = tl_circuit_path(c, signal);
    const long first = path->first_code, count = path->last_code - first + 1;
    const long least = 0, most = count - 1;
    tl_net_status fault = TL_NET_SOLVED;
    for (long i = least; i <= most; i++) {
        double shown = NAN;
        fault = tl_plan_shown(c, signal, (double)(first + i), &shown);
        figures[i] = fault == TL_NET_SOLVED ? shown * per_digit : NAN;
    }
    for (*from = least; *from < most && !fits_int32(figures[*from]); ++*from)
        ;
    for (*to = *from; *to < most && fits_int32(figures[*to + 1]); ++*to)
        ;
    return *to > *from ? TL_NET_SOLVED : fault != TL_NET_SOLVED ? fault : TL_NET_TOO_WIDE;
}

tl_net_status tl_plan_segments(tl_circuit *c, int signal, int decimals, double tolerance, tl_table_points *to)
{
    const tl_analog_path *path = tl_circuit_path(c, signal);
    if (path->fault != TL_NET_SOLVED)
        return path->fault;
    const long codes = path->last_code - path->first_code + 1;
    double *figures = tl_alloc((size_t)codes, sizeof *figures);
    long at = 0, last = 0;
    tl_net_status fault = gather(c, signal, pow(10, decimals), figures, &at, &last);
    const code_figures f = {figures, path->first_code, fmax(tolerance, 1)};
    int made = 0;
    while (fault == TL_NET_SOLVED) {
        if (made == to->most)
            fault = TL_NET_TOO_WIDE;
        else
            to->of[made++] = (tl_table_point){(int32_t)(f.first + at), (int32_t)llround(figures[at])};
        if (at == last)
            break;
        at = farthest(&f, at, last);
    }
    free(figures);
    to->count = made;
    return fault;
}
