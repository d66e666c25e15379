/*
 * Exact steps in time. With capacitors on some of the unknown nodes the nodal equations are
 *
 *     [C 0] d  [v]   [G11 G12] [v]   [i1]
 *     [0 0] dt [w] + [G21 G22] [w] = [i2]
 *
 * The nodes w without capacitor follow v at once and are eliminated: S = G11 - G12 G22^-1 G21, j = i1 - G12
 * G22^-1 i2. With u = sqrt(C) v this is u' = -A u + q with A symmetric, so A = Q L Q^T and every mode moves
 * by itself: z(t) = z(0) exp(-l t) + q (1 - exp(-l t)) / l, and a mode with l = 0 (a capacitor with no way to
 * discharge) by q t.
 *
 * What has a way to a rail is reckoned from its rest, which a direct solution gives: far slower modes than
 * the fastest would lose it in their rounding. Only floating rows keep a drive q of their own.
 */
#include "memory.h"
#include "net_internal.h"
#include <lapacke.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>

struct tl_transient {
    nodal equations;
    const tl_island *island;
    int charged, others; /* rows with and without capacitor */
    int *row;            /* equations' row of each: the charged first */
    double *root_c;      /* sqrt of the capacitance of each charged row */
    double *modes;       /* Q, charged x charged, column by column */
    double *rate;        /* eigenvalues, 1/s */
    double *drive;       /* Q^T q */
    double *follow;      /* G22^-1 G21, others x charged, column by column */
    double *offset;      /* G22^-1 i2, of floating rows */
    double *rest;        /* volts of every row in the end; 0 for floating ones */
    double *scratch;     /* 2 x charged */
};

/* Farads to rails on each row. A capacitor between two unknown rows is not part of the model yet. */
static double *farads_of_rows(const tl_island *island, const nodal *equations, const tl_net_state *state)
{
    double *farads = tl_alloc((size_t)equations->rows, sizeof *farads);
    for (int i = 0; i < island->part_count; i++) {
        const net_part *part = &island->net->parts[island->parts[i].part];
        if (part->kind != PART_CAPACITOR || !part_present(part, state))
            continue;
        const int ends[2] = {island->parts[i].a, island->parts[i].b};
        for (int e = 0; e < 2; e++) {
            const int row = equations->row_of[equations->class_of[ends[e]]];
            if (row != TL_NET_NONE)
                farads[row] += tl_net_value_at(part->value, state->values);
        }
    }
    return farads;
}

static double entry(const tl_transient *t, int i, int j)
{
    return t->equations.matrix[t->row[j] * t->equations.rows + t->row[i]];
}

/* The direct solution gives where every row comes to rest; those that have a rest need no drive of their own.
 */
static void take_rest(tl_transient *t, const tl_island *island, const nodal *settled)
{
    for (int local = 0; local < island->size + island->rails; local++) {
        const int cls = settled->class_of[local], row = t->equations.row_of[cls];
        if (row == TL_NET_NONE || !class_defined(settled, cls))
            continue;
        t->rest[row] = class_volts(settled, cls);
        t->equations.injected[row] = 0;
    }
}

/* Solves for the rest and fills the equations of motion around it; leaves the solution in settled. */
static bool fill_equations(tl_transient *t, const tl_island *island, const tl_net_state *state,
                           nodal *settled)
{
    return nodal_fill(settled, island, state, NULL) == TL_NET_SOLVED &&
           nodal_solve(settled, island->right, 0) == TL_NET_SOLVED &&
           nodal_fill(&t->equations, island, state, settled) == TL_NET_SOLVED;
}

/* follow = G22^-1 G21 and offset = G22^-1 i2. Floating rows without capacitor are kept out of G22 by a tie to
 * themselves. */
static bool eliminate_others(tl_transient *t)
{
    const int n = t->others, m = t->charged;
    if (n == 0)
        return true;
    double *g22 = tl_alloc((size_t)n * (size_t)n, sizeof *g22);
    double *right = tl_alloc((size_t)n * (size_t)(m + 1), sizeof *right);
    lapack_int *pivots = tl_alloc((size_t)n, sizeof *pivots);
    for (int i = 0; i < n; i++) {
        for (int j = 0; j < n; j++)
            g22[j * n + i] = entry(t, m + i, m + j);
        for (int j = 0; j < m; j++)
            right[j * n + i] = entry(t, m + i, j);
        right[m * n + i] = t->equations.injected[t->row[m + i]];
        if (g22[i * n + i] == 0)
            g22[i * n + i] = 1;
    }
    const lapack_int info = LAPACKE_dgesv_work(LAPACK_COL_MAJOR, n, m + 1, g22, n, pivots, right, n);
    memcpy(t->follow, right, (size_t)n * (size_t)m * sizeof *right);
    memcpy(t->offset, right + (size_t)n * (size_t)m, (size_t)n * sizeof *right);
    free(g22);
    free(right);
    free(pivots);
    return info == 0;
}

static bool find_modes(tl_transient *t)
{
    const int n = t->others, m = t->charged;
    if (m == 0)
        return true;
    for (int j = 0; j < m; j++) {
        double current = t->equations.injected[t->row[j]];
        for (int k = 0; k < n; k++)
            current -= entry(t, j, m + k) * t->offset[k];
        t->scratch[j] = current / t->root_c[j];
        for (int i = 0; i < m; i++) {
            double s = entry(t, i, j);
            for (int k = 0; k < n; k++)
                s -= entry(t, i, m + k) * t->follow[j * n + k];
            t->modes[j * m + i] = s / (t->root_c[i] * t->root_c[j]);
        }
    }
    const int room = 8 * m;
    double *work = tl_alloc((size_t)room, sizeof *work);
    const lapack_int info =
        LAPACKE_dsyev_work(LAPACK_COL_MAJOR, 'V', 'U', m, t->modes, m, t->rate, work, room);
    free(work);
    for (int k = 0; k < m; k++) {
        t->drive[k] = 0;
        for (int i = 0; i < m; i++)
            t->drive[k] += t->modes[k * m + i] * t->scratch[i];
        if (t->rate[k] < 1e-14 * t->rate[m - 1])
            t->rate[k] = 0; /* rounding of a capacitor with no way to discharge */
    }
    return info == 0;
}

tl_transient *tl_transient_new(tl_island *island, const tl_net_state *state)
{
    tl_transient *t = tl_alloc(1, sizeof *t);
    t->island = island;
    nodal settled;
    nodal_alloc(&t->equations, island);
    nodal_alloc(&settled, island);
    if (!fill_equations(t, island, state, &settled)) {
        nodal_free(&settled);
        tl_transient_free(t);
        return NULL;
    }
    const int rows = t->equations.rows;
    double *farads = farads_of_rows(island, &t->equations, state);
    t->row = tl_alloc((size_t)rows, sizeof *t->row);
    t->root_c = tl_alloc((size_t)rows, sizeof *t->root_c);
    for (int i = 0; i < rows; i++) {
        if (farads[i] > 0) {
            t->root_c[t->charged] = sqrt(farads[i]);
            t->row[t->charged++] = i;
        }
    }
    for (int i = 0; i < rows; i++) {
        if (!(farads[i] > 0))
            t->row[t->charged + t->others++] = i;
    }
    free(farads);
    const size_t m = (size_t)t->charged, n = (size_t)t->others;
    t->modes = tl_alloc(m * m, sizeof(double));
    t->rate = tl_alloc(m, sizeof(double));
    t->drive = tl_alloc(m, sizeof(double));
    t->follow = tl_alloc(n * m, sizeof(double));
    t->offset = tl_alloc(n, sizeof(double));
    t->rest = tl_alloc(m + n, sizeof(double));
    t->scratch = tl_alloc(2 * m, sizeof(double));
    take_rest(t, island, &settled);
    nodal_free(&settled);
    if (eliminate_others(t) && find_modes(t))
        return t;
    tl_transient_free(t);
    return NULL;
}

void tl_transient_free(tl_transient *t)
{
    if (t == NULL)
        return;
    nodal_free(&t->equations);
    free(t->row);
    free(t->root_c);
    free(t->modes);
    free(t->rate);
    free(t->drive);
    free(t->follow);
    free(t->offset);
    free(t->rest);
    free(t->scratch);
    free(t);
}

double tl_transient_slowest(const tl_transient *t)
{
    double slowest = 0;
    for (int k = 0; k < t->charged; k++)
        slowest = fmax(slowest, t->rate[k] > 0 ? 1 / t->rate[k] : 0);
    return slowest;
}

/* u = sqrt(C) (v - rest) of the charged rows, taken from any node of each row's class. */
static void load_charges(const tl_transient *t, const double *volts)
{
    for (int local = 0; local < t->island->size; local++) {
        const int row = t->equations.row_of[t->equations.class_of[local]];
        for (int i = 0; i < t->charged; i++) {
            if (t->row[i] == row)
                t->scratch[i] = t->root_c[i] * (volts[local] - t->rest[row]);
        }
    }
}

/* A row that nothing reaches has no conductance at all: it keeps what it had. */
static bool undefined(const tl_transient *t, int other)
{
    return entry(t, t->charged + other, t->charged + other) == 0;
}

static void store_volts(const tl_transient *t, const double *above_rest, double *volts)
{
    const int m = t->charged, n = t->others;
    for (int local = 0; local < t->island->size; local++) {
        const int cls = t->equations.class_of[local], row = t->equations.row_of[cls];
        if (row == TL_NET_NONE)
            volts[local] = t->equations.volts[cls];
        for (int i = 0; i < m; i++) {
            if (t->row[i] == row)
                volts[local] = t->rest[row] + above_rest[i];
        }
        for (int k = 0; k < n; k++) {
            if (t->row[m + k] != row || undefined(t, k))
                continue;
            volts[local] = t->rest[row] + t->offset[k];
            for (int i = 0; i < m; i++)
                volts[local] -= t->follow[i * n + k] * above_rest[i];
        }
    }
}

void tl_transient_step(tl_transient *t, double seconds, double *volts)
{
    const int m = t->charged;
    double *u = t->scratch, *v = t->scratch + m;
    load_charges(t, volts);
    memset(v, 0, (size_t)m * sizeof *v);
    for (int k = 0; k < m; k++) {
        double z = 0;
        for (int i = 0; i < m; i++)
            z += t->modes[k * m + i] * u[i];
        const double fall = -expm1(-t->rate[k] * seconds); /* 1 - exp(-l t), without cancellation */
        z += t->rate[k] > 0 ? fall * (t->drive[k] / t->rate[k] - z) : t->drive[k] * seconds;
        for (int i = 0; i < m; i++)
            v[i] += t->modes[k * m + i] * z;
    }
    for (int i = 0; i < m; i++)
        v[i] /= t->root_c[i];
    store_volts(t, v, volts);
}
