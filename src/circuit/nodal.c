/* SPDX-License-Identifier: MIT */
/*
 * The nodal equations of one state of an island: which nodes are one, which are unknown, what the parts
 * stamp; and their solution.
 */
#include "base/memory.h"
#include "circuit/elements.h"
#include <lapacke.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>

static int find_class(int *class_of, int node)
{
    while (class_of[node] != node)
        node = class_of[node] = class_of[class_of[node]];
    return node;
}

/* Joins nodes across zero ohms. */
static void join_classes(nodal *equations, const tl_island *island)
{
    const int count = island->size + island->rails;
    for (int i = 0; i < count; i++)
        equations->class_of[i] = i;
    for (int i = 0; i < island->part_count; i++) {
        if (equations->joined[i])
            equations->class_of[find_class(equations->class_of, island->parts[i].a)] =
                find_class(equations->class_of, island->parts[i].b);
    }
    for (int i = 0; i < count; i++)
        equations->class_of[i] = find_class(equations->class_of, i);
}

/* Gives classes with a rail their voltage; false when two different rails meet. */
static bool fix_rails(nodal *equations, const tl_island *island, const tl_net_state *state)
{
    const int count = island->size + island->rails;
    memset(equations->fixed, 0, (size_t)count * sizeof(bool));
    for (int i = island->size; i < count; i++) {
        const double volts = value_at(&island->net->nodes[island->nodes[i]].volts, state->values);
        const int cls = equations->class_of[i];
        if (equations->fixed[cls] && equations->volts[cls] != volts)
            return false;
        equations->fixed[cls] = true;
        equations->volts[cls] = volts;
    }
    return true;
}

/* Numbers the unknowns: classes that some resistance connects, over others, to a fixed class. */
static void number_rows(nodal *equations, const tl_island *island, bool with_floating)
{
    const int count = island->size + island->rails;
    bool *reached = equations->reached;
    equations->rows = 0;
    memcpy(reached, equations->fixed, (size_t)count * sizeof *reached);
    /* Forth and back by turns, so that a chain is gone through in two looks whichever way it is listed. */
    for (bool grew = true, forth = true; grew; forth = !forth) {
        grew = false;
        for (int k = 0; k < island->part_count; k++) {
            const int i = forth ? k : island->part_count - 1 - k;
            const int a = equations->class_of[island->parts[i].a],
                      b = equations->class_of[island->parts[i].b];
            const element_reach reach = net_part_of(island, i)->is->reach;
            if (!equations->present[i] || reach == REACH_NONE || reached[a] == reached[b])
                continue;
            if (reach == REACH_BOTH || reached[a])
                reached[a] = reached[b] = grew = true;
        }
    }
    for (int i = 0; i < count; i++) {
        const bool unknown =
            equations->class_of[i] == i && !equations->fixed[i] && (reached[i] || with_floating);
        equations->row_of[i] = unknown ? equations->rows++ : TL_NET_NONE;
    }
}

/* How far each row reaches back. */
static void find_envelope(nodal *equations, const tl_island *island)
{
    for (int i = 0; i < equations->rows; i++)
        equations->first[i] = i;
    for (int i = 0; i < island->part_count; i++) {
        const int a = equations->row_of[equations->class_of[island->parts[i].a]],
                  b = equations->row_of[equations->class_of[island->parts[i].b]];
        if (a == TL_NET_NONE || b == TL_NET_NONE || !equations->present[i] ||
            net_part_of(island, i)->is->stamp == NULL)
            continue;
        if (b < equations->first[a])
            equations->first[a] = b;
        if (a < equations->first[b])
            equations->first[b] = a;
    }
}

void nodal_alloc(nodal *equations, const tl_island *island)
{
    const size_t count = (size_t)(island->size + island->rails), rows = (size_t)island->size;
    *equations = (nodal){
        .class_of = tl_alloc(count, sizeof(int)),
        .row_of = tl_alloc(count, sizeof(int)),
        .fixed = tl_alloc(count, sizeof(bool)),
        .value = tl_alloc((size_t)island->part_count, sizeof(double)),
        .present = tl_alloc((size_t)island->part_count, sizeof(bool)),
        .joined = tl_alloc((size_t)island->part_count, sizeof(bool)),
        .held = tl_alloc(count, sizeof(bool)),
        .mode = tl_alloc((size_t)island->part_count, sizeof(unsigned char)),
        .held_mode = tl_alloc((size_t)island->part_count, sizeof(bool)),
        .reached = tl_alloc(count, sizeof(bool)),
        .volts = tl_alloc(count, sizeof(double)),
        .matrix = tl_alloc(rows * rows, sizeof(double)),
        .injected = tl_alloc(rows, sizeof(double)),
        .pivots = tl_alloc(rows, sizeof(int)),
        .first = tl_alloc(rows, sizeof(int)),
        .stamps = tl_alloc((size_t)island->active_count, sizeof(nodal_stamp)),
    };
    memset(equations->mode, MODE_LIT, (size_t)island->part_count * sizeof *equations->mode);
}

/* Puts a part's value down, and whether it is there. False where that makes other equations than before. */
static bool note_part(nodal *equations, const tl_island *island, int i, const tl_net_state *state)
{
    const island_part *p = &island->parts[i];
    const net_part *part = &island->net->parts[p->part];
    const bool present =
        p->always || (part_present(part, island->view, state) &&
                      (part->is->mode == NULL || part->is->reach == REACH_NONE || equations->all_lit ||
                       equations->mode[i] != MODE_DARK)); /* a leak joins nothing, whatever its mode */
    const double value = !p->simple                ? value_at(&part->value, state->values)
                         : p->param == TL_NET_NONE ? p->times
                                                   : p->times * state->values[p->param];
    const bool joined = present && value <= 0 && part->is->joins;
    const bool same = present == equations->present[i] && joined == equations->joined[i];
    equations->present[i] = present;
    equations->joined[i] = joined;
    equations->value[i] = value;
    return same;
}

static bool note_plain(nodal *equations, const active_part *p, const double *values)
{
    const double value = p->param == TL_NET_NONE ? p->times : p->times * values[p->param];
    const bool joined = value <= 0 && p->joins, same = joined == equations->joined[p->part];
    equations->value[p->part] = value;
    equations->joined[p->part] = joined;
    return same;
}

/* The same of all parts, or of those that count at rest. */
static bool note_parts(nodal *equations, const tl_island *island, const tl_net_state *state, bool all)
{
    const int count = all ? island->part_count : island->active_count;
    bool same = true;
    for (int k = 0; k < count; k++) {
        const bool as_before = note_part(equations, island, all ? k : island->active[k], state);
        same = same && as_before;
    }
    return same;
}

static bool note_kept(nodal *equations, const tl_island *island, const tl_net_state *state)
{
    bool same = true;
    for (int k = 0; k < island->kept_count; k++) {
        const active_part *p = &island->kept[k];
        const bool as_before =
            p->plain ? note_plain(equations, p, state->values) : note_part(equations, island, p->part, state);
        same = same && as_before;
    }
    return same;
}

void tl_island_keep_contacts(tl_island *island, const bool *closed)
{
    nodal *equations = &island->work;
    const tl_net_state state = {NULL, closed};
    if (island->kept == NULL)
        island->kept = tl_alloc((size_t)island->active_count, sizeof *island->kept);
    island->kept_count = 0;
    for (int k = 0; k < island->active_count; k++) {
        const int i = island->active[k];
        const island_part *p = &island->parts[i];
        const net_part *part = net_part_of(island, i);
        equations->present[i] = part_present(part, island->view, &state);
        equations->joined[i] = false;
        if (equations->present[i]) /* a leak joins nothing, so its mode changes no equation's place */
            island->kept[island->kept_count++] =
                (active_part){i, p->simple && (part->is->mode == NULL || part->is->reach == REACH_NONE),
                              part->is->joins, p->param, p->times};
    }
    equations->filled = false;
    island->keeps = true;
}

void tl_island_let_contacts_go(tl_island *island)
{
    island->keeps = false;
}

/* Which parts add something, and where. */
static void list_stamps(nodal *equations, const tl_island *island)
{
    equations->stamp_count = 0;
    equations->lopsided = equations->followers = false;
    for (int k = 0; k < island->active_count; k++) {
        const int i = island->active[k];
        const element *is = net_part_of(island, i)->is;
        const int a = equations->class_of[island->parts[i].a], b = equations->class_of[island->parts[i].b];
        if (!equations->present[i])
            continue;
        equations->lopsided = equations->lopsided || is->lopsided;
        equations->followers = equations->followers || is->hold != NULL;
        if (a != b && is->stamp != NULL)
            equations->stamps[equations->stamp_count++] =
                (nodal_stamp){i, is, a, b, equations->row_of[a], equations->row_of[b]};
    }
}

/* Most parts are resistors between two unknowns, or to a rail: no need to ask their row of the table. */
static void stamp_conductance(nodal *equations, const nodal_stamp *s, double siemens)
{
    const int rows = equations->rows;
    double *matrix = equations->matrix;
    if (s->row_a != TL_NET_NONE && s->row_b != TL_NET_NONE) {
        matrix[s->row_a * rows + s->row_b] -= siemens;
        matrix[s->row_b * rows + s->row_a] -= siemens;
    }
    if (s->row_a != TL_NET_NONE) {
        matrix[s->row_a * rows + s->row_a] += siemens;
        if (s->row_b == TL_NET_NONE)
            equations->injected[s->row_a] += siemens * equations->volts[s->b];
    }
    if (s->row_b != TL_NET_NONE) {
        matrix[s->row_b * rows + s->row_b] += siemens;
        if (s->row_a == TL_NET_NONE)
            equations->injected[s->row_b] += siemens * equations->volts[s->a];
    }
}

static void stamp_all(nodal *equations, const tl_island *island, const tl_net_state *state)
{
    const size_t rows = (size_t)equations->rows;
    memset(equations->matrix, 0, rows * rows * sizeof(double));
    memset(equations->injected, 0, rows * sizeof(double));
    for (int k = 0; k < equations->stamp_count; k++) {
        const nodal_stamp *s = &equations->stamps[k];
        if (s->is == &element_resistor) {
            stamp_conductance(equations, s, 1 / equations->value[s->part]);
            continue;
        }
        const element_mode mode =
            s->is->mode == NULL || equations->all_lit ? MODE_LIT : equations->mode[s->part];
        if (mode == MODE_LIT)
            s->is->stamp(equations, s->a, s->b, equations->value[s->part]);
        else if (mode == MODE_TAPER && !equations->no_taper)
            s->is->taper(equations, s->a, s->b, equations->value[s->part]);
    }
    if (!equations->followers)
        return;
    memset(equations->held, 0, (size_t)(island->size + island->rails) * sizeof(bool));
    for (int k = 0; k < island->active_count; k++) {
        const int i = island->active[k];
        const net_part *part = net_part_of(island, i);
        if (part->is->hold != NULL && equations->present[i])
            part->is->hold(equations, equations->class_of[island->parts[i].a],
                           equations->class_of[island->parts[i].b], equations->value[i],
                           value_at(&part->gain, state->values));
    }
}

tl_net_status nodal_fill(nodal *equations, const tl_island *island, const tl_net_state *state, bool in_time)
{
    /* From corner to corner only values change; classes and rows stay while the same parts are there. */
    const bool as_before = equations->filled && equations->in_time == in_time;
    const bool same = (island->keeps && !in_time ? note_kept(equations, island, state)
                                                 : note_parts(equations, island, state, in_time)) &&
                      as_before;
    equations->filled = false;
    if (!same)
        join_classes(equations, island);
    if (!fix_rails(equations, island, state))
        return TL_NET_SHORTED;
    if (!same) {
        number_rows(equations, island, in_time);
        find_envelope(equations, island);
        list_stamps(equations, island);
        memset(equations->held, 0, (size_t)(island->size + island->rails) * sizeof(bool));
    }
    equations->filled = true;
    equations->in_time = in_time;
    stamp_all(equations, island, state);
    return TL_NET_SOLVED;
}

void nodal_free(nodal *equations)
{
    free(equations->class_of);
    free(equations->row_of);
    free(equations->fixed);
    free(equations->value);
    free(equations->present);
    free(equations->joined);
    free(equations->held);
    free(equations->mode);
    free(equations->held_mode);
    free(equations->reached);
    free(equations->volts);
    free(equations->matrix);
    free(equations->injected);
    free(equations->pivots);
    free(equations->first);
    free(equations->stamps);
}

static double *row_of(double *matrix, const long *start, int rows, int i)
{
    return matrix + (start != NULL ? start[i] : (long)i * rows);
}

/*
 * What resistors alone make is symmetric, and stays positive as it is eliminated: A = L L^T (Cholesky), row
 * by row, each no farther back than something stands in it (an envelope: George and Liu, 1981). In place; the
 * column of the upper half is the row of the lower. start: where column 0 of each row would stand, so that
 * only the envelope is kept; NULL: all of a square is. False where it is not positive: nothing leads from
 * there to a rail.
 */
bool envelope_solve(double *matrix, const long *start, const int *first, int rows, double *right, int columns)
{
    for (int i = 0; i < rows; i++) {
        double *restrict row = row_of(matrix, start, rows, i);
        const double whole = row[i];
        for (int j = first[i]; j < i; j++) {
            const double *restrict before = row_of(matrix, start, rows, j);
            double sum = row[j];
            for (int k = first[j] > first[i] ? first[j] : first[i]; k < j; k++)
                sum -= row[k] * before[k];
            row[j] = sum * before[j]; /* the diagonal holds its inverse */
            row[i] -= row[j] * row[j];
        }
        if (!(row[i] > 1e-15 * whole))
            return false;
        row[i] = 1 / sqrt(row[i]);
    }
    for (int column = 0; column < columns; column++) {
        double *restrict x = right + (size_t)column * (size_t)rows;
        for (int i = 0; i < rows; i++) {
            const double *restrict row = row_of(matrix, start, rows, i);
            for (int j = first[i]; j < i; j++)
                x[i] -= row[j] * x[j];
            x[i] *= row[i];
        }
        for (int i = rows; i-- > 0;) {
            const double *restrict row = row_of(matrix, start, rows, i);
            x[i] *= row[i];
            for (int j = first[i]; j < i; j++)
                x[j] -= row[j] * x[i];
        }
    }
    return true;
}

tl_net_status nodal_solve(nodal *equations, double *right, int more)
{
    const int rows = equations->rows;
    if (rows == 0)
        return TL_NET_SOLVED;
    memcpy(right, equations->injected, (size_t)rows * sizeof *right);
    if (rows == 1) { /* one unknown is one division */
        for (int i = 0; i <= more; i++)
            right[i] /= equations->matrix[0];
        equations->injected[0] = right[0];
        return isfinite(right[0]) ? TL_NET_SOLVED : TL_NET_SINGULAR;
    }
    if (!equations->lopsided && !equations->followers) {
        const bool solved = envelope_solve(equations->matrix, NULL, equations->first, rows, right, 1 + more);
        memcpy(equations->injected, right, (size_t)rows * sizeof *right);
        return solved ? TL_NET_SOLVED : TL_NET_SINGULAR;
    }
    const lapack_int info = LAPACKE_dgesv_work(LAPACK_COL_MAJOR, rows, 1 + more, equations->matrix, rows,
                                               equations->pivots, right, rows);
    memcpy(equations->injected, right, (size_t)rows * sizeof *right);
    return info == 0 ? TL_NET_SOLVED : TL_NET_SINGULAR;
}

/* --- parts whose current bends --- */

static bool is_right(const nodal *equations, const tl_island *island, int i, element_mode *wanted)
{
    const net_part *part = net_part_of(island, i);
    const int a = equations->class_of[island->parts[i].a], b = equations->class_of[island->parts[i].b];
    const bool known = class_defined(equations, a) && class_defined(equations, b);
    /* Where nothing defines an end, a leak is let be; a lamp carries nothing. */
    *wanted = known
                  ? part->is->mode(equations->value[i], class_volts(equations, a) - class_volts(equations, b),
                                   equations->mode[i])
              : part->is->turns ? MODE_DARK
                                : MODE_LIT;
    return *wanted == equations->mode[i];
}

/*
 * Such parts make the network piecewise linear and monotonic, so there is one solution. All that are wrong
 * are turned over together, which mostly takes a round or two; should that go round in a circle, one after
 * the other.
 */
bool nodal_turn(tl_island *island, const tl_net_state *state, bool all)
{
    nodal *equations = &island->work;
    bool turned = false;
    for (int k = 0; k < island->bend_count && (all || !turned) && !equations->all_lit; k++) {
        const int i = island->bends[k];
        const net_part *part = net_part_of(island, i);
        element_mode wanted;
        if (equations->held_mode[i] || !part_present(part, island->view, state) ||
            is_right(equations, island, i, &wanted))
            continue;
        equations->mode[i] = (unsigned char)wanted;
        turned = true;
    }
    return turned;
}

int nodal_rounds(const tl_island *island)
{
    return TURNS_TOGETHER + 6 * island->bend_count;
}

double class_volts(const nodal *equations, int cls)
{
    const int row = equations->row_of[cls];
    return row == TL_NET_NONE ? equations->volts[cls] : equations->injected[row];
}

bool class_defined(const nodal *equations, int cls)
{
    return equations->fixed[cls] || equations->row_of[cls] != TL_NET_NONE;
}
