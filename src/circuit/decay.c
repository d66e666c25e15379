/* SPDX-License-Identifier: MIT */
/*
 * How one node of an island comes to rest, all else being there already. Lanczos from that node: the
 * directions that it ever moves are few where its neighbours are alike, and so is the work.
 */
#include "circuit/decay.h"
#include "base/memory.h"
#include "circuit/transient_internal.h"
#include <lapacke.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>

struct tl_decay {
    int count;
    double *rate, *weight; /* of each exponential: 1/s, and its share at the beginning */
};

static double dot(const double *a, const double *b, int m)
{
    double sum = 0;
    for (int i = 0; i < m; i++)
        sum += a[i] * b[i];
    return sum;
}

/* Takes what lies along the directions so far out of the next; twice, for rounding. */
static void straighten(double *next, const double *directions, int count, int m)
{
    for (int again = 0; again < 2; again++) {
        for (int k = 0; k < count; k++) {
            const double along = dot(next, directions + (size_t)k * (size_t)m, m);
            for (int i = 0; i < m; i++)
                next[i] -= along * directions[(size_t)k * (size_t)m + (size_t)i];
        }
    }
}

/* The matrix in its own directions from a row on: a diagonal, and beside it. Returns how many there are. */
static int find_directions(const double *matrix, int m, int start, double *diagonal, double *beside)
{
    double *directions = tl_alloc((size_t)m * (size_t)m, sizeof *directions), largest = 0;
    int count = 0;
    directions[start] = 1;
    while (count < m) {
        const double *now = directions + (size_t)count * (size_t)m;
        double *next = tl_alloc((size_t)m, sizeof *next);
        for (int j = 0; j < m; j++) {
            for (int i = 0; i < m && now[j] != 0; i++)
                next[i] += matrix[j * m + i] * now[j];
        }
        diagonal[count] = dot(next, now, m);
        largest = fmax(largest, fabs(diagonal[count++]));
        straighten(next, directions, count, m);
        const double length = sqrt(dot(next, next, m));
        const bool goes_on = count < m && length > 1e-13 * largest;
        for (int i = 0; i < m && goes_on; i++)
            directions[(size_t)count * (size_t)m + (size_t)i] = next[i] / length;
        free(next);
        if (!goes_on)
            break;
        beside[count - 1] = length;
    }
    free(directions);
    return count;
}

tl_decay *tl_decay_new(tl_island *island, const tl_net_state *state, int node)
{
    tl_transient *t = transient_begin(island, state);
    if (t == NULL)
        return NULL;
    const int m = t->charged, start = t->place[node];
    tl_decay *decay = NULL;
    if (!t->followers && start != TL_NET_NONE && start < m) {
        transient_fill_motion(t);
        const size_t room = (size_t)m;
        double *beside = tl_alloc(room, sizeof *beside), *work = tl_alloc(2 * room, sizeof *work);
        decay = tl_alloc(1, sizeof *decay);
        decay->rate = tl_alloc(room, sizeof *decay->rate);
        decay->weight = tl_alloc(room, sizeof *decay->weight);
        decay->count = find_directions(t->modes, m, start, decay->rate, beside);
        double *vectors = tl_alloc((size_t)decay->count * (size_t)decay->count, sizeof *vectors);
        const lapack_int info = LAPACKE_dstev_work(LAPACK_COL_MAJOR, 'V', decay->count, decay->rate, beside,
                                                   vectors, decay->count, work);
        for (int k = 0; k < decay->count; k++)
            decay->weight[k] = vectors[k * decay->count] * vectors[k * decay->count];
        free(vectors);
        free(beside);
        free(work);
        if (info != 0) {
            tl_decay_free(decay);
            decay = NULL;
        }
    }
    tl_transient_free(t);
    return decay;
}

double tl_decay_left(const tl_decay *decay, double seconds)
{
    double left = 0;
    for (int k = 0; k < decay->count; k++)
        left += decay->weight[k] * exp(-fmax(decay->rate[k], 0) * seconds);
    return left;
}

void tl_decay_free(tl_decay *decay)
{
    if (decay == NULL)
        return;
    free(decay->rate);
    free(decay->weight);
    free(decay);
}
