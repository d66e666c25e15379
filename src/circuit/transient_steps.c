/* SPDX-License-Identifier: MIT */
/* Steps of an island in time: from the volts that it has to those that it has then, mode by mode; by matrices
 * where steps of one length come again and again. Formulas: transient.c. */
#include "base/memory.h"
#include "circuit/transient_internal.h"
#include <math.h>

static void rest_of(const tl_transient *t, const double *values, double *restrict rest)
{
    const int size = t->island->size;
    for (int local = 0; local < size; local++)
        rest[local] = t->rest_at[local];
    for (int k = 0; k < t->tracked_count; k++) {
        const double by = values[t->tracked[k]] - t->tracked_at[k];
        const double *restrict slope = t->slope + (size_t)k * (size_t)size, *restrict bend =
                                                                                t->bend +
                                                                                (size_t)k * (size_t)size;
        for (int local = 0; local < size && by != 0; local++)
            rest[local] += by * (slope[local] + by * bend[local]);
    }
}

void tl_transient_aim(tl_transient *t, const double *values)
{
    if (t->tracked_count == 0)
        return;
    rest_of(t, values, t->aim);
    t->moves = true;
}

void tl_transient_jump(tl_transient *t, const double *values)
{
    if (t->tracked_count == 0)
        return;
    rest_of(t, values, t->rest);
    t->moves = false;
}

/* --- steps --- */

bool tl_transient_floats(const tl_transient *t, int index)
{
    return t->floats[index];
}

bool tl_transient_any_floats(const tl_transient *t)
{
    return t->any_floats;
}

bool tl_transient_float_together(const tl_transient *t, int one, int other)
{
    return t->floats[one] && t->floats[other] && t->group[one] == t->group[other];
}

double tl_transient_slowest(const tl_transient *t)
{
    return t->slowest;
}

static void store_volts(const tl_transient *t, const double *restrict above_rest, const double *from,
                        double *volts)
{
    const int m = t->charged, n = t->others;
    for (int local = 0; local < t->island->size; local++) {
        const int place = t->place[local], other = place - m;
        const double rest = t->rest[local];
        if (place < m) {
            volts[local] = place == TL_NET_NONE ? rest : rest + above_rest[place];
            continue;
        }
        const int anchor = t->anchor[other];
        double sum = rest + t->offset[other] + (anchor != TL_NET_NONE ? from[anchor] : 0);
        for (int i = 0; i < m; i++)
            sum -= t->follow[i * n + other] * above_rest[i];
        volts[local] = sum;
    }
}

static void keep_factors(tl_transient *t, double seconds)
{
    for (int k = 0; k < t->charged; k++) {
        const double gone = -expm1(-t->rate[k] * seconds); /* 1 - exp(-l t), without cancellation */
        t->kept[k] = 1 - gone;
        t->gone[k] = t->rate[k] > 0 ? gone / t->rate[k] : seconds;
    }
    t->kept_seconds = seconds;
    t->kept_uses = 0;
    t->has_matrix = false;
}

/* The same for all modes together, in volts: Q diag Q^-1 between the roots of the capacitances. */
static void keep_matrix(tl_transient *t)
{
    const int m = t->charged;
    if (t->carry == NULL) {
        t->carry = tl_alloc((size_t)m * (size_t)m, sizeof *t->carry);
        t->respond = tl_alloc((size_t)m * (size_t)m, sizeof *t->respond);
        t->push = tl_alloc((size_t)m, sizeof *t->push);
    }
    for (int i = 0; i < m; i++) {
        t->push[i] = 0;
        for (int k = 0; k < m; k++)
            t->push[i] += t->modes[k * m + i] * t->gone[k] * t->drive[k] / t->root_c[i];
        for (int j = 0; j < m; j++) {
            double carry = 0, respond = 0;
            for (int k = 0; k < m; k++) {
                const double through = t->modes[k * m + i] * t->back[j * m + k];
                carry += through * t->kept[k];
                respond += through * t->gone[k];
            }
            t->carry[j * m + i] = carry * t->root_c[j] / t->root_c[i];
            t->respond[j * m + i] = respond * t->root_c[j] / t->root_c[i];
        }
    }
    t->has_matrix = true;
}

bool tl_transient_rests(const tl_transient *t, const double *volts, double within)
{
    for (int i = 0; i < t->charged; i++) {
        const int node = t->node_of[i];
        if (!t->floats[node] && fabs(volts[node] - t->rest[node]) > within)
            return false;
    }
    return true;
}

void tl_transient_settle(tl_transient *t, double *volts)
{
    for (int i = 0; i < t->charged; i++)
        t->scratch[i] = t->floats[t->node_of[i]] ? volts[t->node_of[i]] : 0;
    store_volts(t, t->scratch, volts, volts);
}

/* Where the charged rows stand above their rest after the step, mode by mode; above and pull are scaled in
 * place. */
static void step_modes(const tl_transient *t, double *restrict above, double *restrict pull,
                       double *restrict then)
{
    const int m = t->charged;
    for (int i = 0; i < m; i++) {
        above[i] *= t->root_c[i];
        pull[i] = t->moves ? pull[i] * t->root_c[i] : 0;
        then[i] = 0;
    }
    for (int k = 0; k < m; k++) {
        double z = 0, drive = t->drive[k];
        if (t->lone[k] != TL_NET_NONE) {
            const int i = t->lone[k];
            drive += pull[i];
            then[i] += above[i] * t->kept[k] + t->gone[k] * drive;
            continue;
        }
        for (int i = 0; i < m; i++)
            z += t->back[i * m + k] * above[i];
        for (int i = 0; i < m && t->moves; i++)
            drive += t->back[i * m + k] * pull[i];
        z = z * t->kept[k] + t->gone[k] * drive;
        const double *restrict mode = t->modes + k * m;
        for (int i = 0; i < m; i++)
            then[i] += mode[i] * z;
    }
    for (int i = 0; i < m; i++)
        then[i] /= t->root_c[i];
}

/* The same by the matrices. */
static void step_matrix(const tl_transient *t, double *restrict above, double *restrict pull,
                        double *restrict then)
{
    const int m = t->charged;
    for (int i = 0; i < m; i++)
        then[i] = t->push[i];
    for (int j = 0; j < m; j++) {
        const double *restrict column = t->carry + j * m;
        for (int i = 0; i < m; i++)
            then[i] += column[i] * above[j];
    }
    for (int j = 0; j < m && t->moves; j++) {
        const double *restrict column = t->respond + j * m;
        for (int i = 0; i < m; i++)
            then[i] += column[i] * pull[j];
    }
}

void tl_transient_step(tl_transient *t, double seconds, double *volts)
{
    tl_transient_step_to(t, seconds, volts, volts);
}

void tl_transient_step_to(tl_transient *t, double seconds, const double *from, double *volts)
{
    const int m = t->charged;
    double *above = t->scratch, *pull = above + m, *then = pull + m;
    for (int i = 0; i < m; i++)
        above[i] = from[t->node_of[i]] - t->rest[t->node_of[i]];
    for (int i = 0; i < m && t->moves; i++)
        pull[i] = seconds > 0 ? (t->rest[t->node_of[i]] - t->aim[t->node_of[i]]) / seconds : 0;
    if (seconds == 0) { /* capacitors keep their charge, the others follow */
        then = above;
    } else {
        if (t->kept_seconds != seconds)
            keep_factors(t, seconds);
        if (++t->kept_uses > m && !t->has_matrix) /* its cost comes back after about m steps */
            keep_matrix(t);
        (t->has_matrix ? step_matrix : step_modes)(t, above, pull, then);
    }
    if (t->moves) { /* where it was going is where it is */
        double *was = t->rest;
        t->rest = t->aim;
        t->aim = was;
    }
    t->moves = false;
    store_volts(t, then, from, volts);
}
