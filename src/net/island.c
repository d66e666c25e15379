/* An island and its nodal equations, for one state of the net. */
#include "memory.h"
#include "net_internal.h"
#include <lapacke.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>

static void take_node(tl_island *island, int node)
{
    if (island->local[node] != TL_NET_NONE)
        return;
    const int count = island->size + island->rails;
    island->nodes = tl_grow(island->nodes, (size_t)count, sizeof *island->nodes);
    island->nodes[count] = node;
    island->local[node] = count;
}

tl_island *tl_island_new(const tl_net *net, int node)
{
    tl_island *island = tl_alloc(1, sizeof *island);
    island->net = net;
    island->local = tl_alloc((size_t)net->node_count, sizeof *island->local);
    for (int i = 0; i < net->node_count; i++)
        island->local[i] = TL_NET_NONE;

    /* Spread from the node over every part, not through rails. */
    take_node(island, node);
    island->size = 1;
    for (bool grew = true; grew;) {
        grew = false;
        for (int i = 0; i < net->part_count; i++) {
            const int ends[2] = {net->parts[i].a, net->parts[i].b};
            for (int e = 0; e < 2; e++) {
                const bool inside = !net->nodes[ends[e]].is_rail && island->local[ends[e]] != TL_NET_NONE;
                if (inside && !net->nodes[ends[1 - e]].is_rail && island->local[ends[1 - e]] == TL_NET_NONE) {
                    take_node(island, ends[1 - e]);
                    island->size++;
                    grew = true;
                }
            }
        }
    }
    for (int i = 0; i < net->part_count; i++) {
        const net_part *part = &net->parts[i];
        const bool a_in = !net->nodes[part->a].is_rail && island->local[part->a] != TL_NET_NONE;
        const bool b_in = !net->nodes[part->b].is_rail && island->local[part->b] != TL_NET_NONE;
        if (!a_in && !b_in)
            continue;
        const int ends[2] = {part->a, part->b};
        for (int e = 0; e < 2; e++) {
            if (island->local[ends[e]] == TL_NET_NONE) {
                take_node(island, ends[e]);
                island->rails++;
            }
        }
        island->parts = tl_grow(island->parts, (size_t)island->part_count, sizeof *island->parts);
        island->parts[island->part_count++] =
            (island_part){i, island->local[part->a], island->local[part->b]};
    }
    return island;
}

void tl_island_free(tl_island *island)
{
    if (island == NULL)
        return;
    free(island->nodes);
    free(island->local);
    free(island->parts);
    free(island);
}

int tl_island_size(const tl_island *island)
{
    return island->size;
}

int tl_island_index(const tl_island *island, int node)
{
    const int local = island->local[node];
    return local < island->size ? local : TL_NET_NONE;
}

static bool value_has(tl_net_value value, int param)
{
    return value.first == param || value.second == param;
}

bool tl_island_has_param(const tl_island *island, int param)
{
    for (int i = 0; i < island->part_count; i++) {
        if (value_has(island->net->parts[island->parts[i].part].value, param))
            return true;
    }
    for (int i = 0; i < island->rails; i++) {
        if (value_has(island->net->nodes[island->nodes[island->size + i]].volts, param))
            return true;
    }
    return false;
}

bool tl_island_has_contact(const tl_island *island, int contact)
{
    for (int i = 0; i < island->part_count; i++) {
        const net_part *part = &island->net->parts[island->parts[i].part];
        if (part->gate != TL_GATE_ALWAYS && part->contact == contact)
            return true;
    }
    return false;
}

/* --- the equations of one state --- */

static int find_class(int *class_of, int node)
{
    while (class_of[node] != node)
        node = class_of[node] = class_of[class_of[node]];
    return node;
}

static const net_part *net_part_of(const tl_island *island, int i)
{
    return &island->net->parts[island->parts[i].part];
}

/* Joins nodes across zero ohms, gives classes with a rail their voltage; false when two different rails meet.
 */
static bool join_classes(nodal *equations, const tl_island *island, const tl_net_state *state)
{
    const int count = island->size + island->rails;
    for (int i = 0; i < count; i++)
        equations->class_of[i] = i;
    for (int i = 0; i < island->part_count; i++) {
        const net_part *part = net_part_of(island, i);
        if (part->kind == PART_RESISTOR && part_present(part, state) &&
            tl_net_value_at(part->value, state->values) <= 0)
            equations->class_of[find_class(equations->class_of, island->parts[i].a)] =
                find_class(equations->class_of, island->parts[i].b);
    }
    for (int i = 0; i < count; i++)
        equations->class_of[i] = find_class(equations->class_of, i);
    for (int i = island->size; i < count; i++) {
        const double volts = tl_net_value_at(island->net->nodes[island->nodes[i]].volts, state->values);
        const int cls = equations->class_of[i];
        if (equations->fixed[cls] && equations->volts[cls] != volts)
            return false;
        equations->fixed[cls] = true;
        equations->volts[cls] = volts;
    }
    return true;
}

/* Numbers the unknowns: classes that some resistance connects, over others, to a fixed class. */
static void number_rows(nodal *equations, const tl_island *island, const tl_net_state *state,
                        bool with_floating)
{
    const int count = island->size + island->rails;
    bool *reached = tl_alloc((size_t)count, sizeof *reached);
    memcpy(reached, equations->fixed, (size_t)count * sizeof *reached);
    for (bool grew = true; grew;) {
        grew = false;
        for (int i = 0; i < island->part_count; i++) {
            const net_part *part = net_part_of(island, i);
            const int a = equations->class_of[island->parts[i].a],
                      b = equations->class_of[island->parts[i].b];
            if (part->kind == PART_RESISTOR && part_present(part, state) && reached[a] != reached[b])
                reached[a] = reached[b] = grew = true;
        }
    }
    for (int i = 0; i < count; i++) {
        const bool unknown =
            equations->class_of[i] == i && !equations->fixed[i] && (reached[i] || with_floating);
        equations->row_of[i] = unknown ? equations->rows++ : TL_NET_NONE;
    }
    free(reached);
}

static void stamp_resistor(nodal *equations, int a, int b, double siemens)
{
    const int row[2] = {equations->row_of[a], equations->row_of[b]};
    const int cls[2] = {a, b};
    for (int e = 0; e < 2; e++) {
        if (row[e] == TL_NET_NONE)
            continue;
        equations->matrix[row[e] * equations->rows + row[e]] += siemens;
        if (row[1 - e] != TL_NET_NONE)
            equations->matrix[row[1 - e] * equations->rows + row[e]] -= siemens;
        else
            equations->injected[row[e]] += siemens * equations->volts[cls[1 - e]];
    }
}

tl_net_fault nodal_new(nodal *equations, const tl_island *island, const tl_net_state *state,
                       bool with_floating)
{
    const size_t count = (size_t)(island->size + island->rails);
    *equations = (nodal){
        .class_of = tl_alloc(count, sizeof(int)),
        .row_of = tl_alloc(count, sizeof(int)),
        .fixed = tl_alloc(count, sizeof(bool)),
        .volts = tl_alloc(count, sizeof(double)),
    };
    if (!join_classes(equations, island, state)) {
        nodal_free(equations);
        return TL_NET_SHORTED;
    }
    number_rows(equations, island, state, with_floating);
    equations->matrix = tl_alloc((size_t)equations->rows * (size_t)equations->rows, sizeof(double));
    equations->injected = tl_alloc((size_t)equations->rows, sizeof(double));
    for (int i = 0; i < island->part_count; i++) {
        const net_part *part = net_part_of(island, i);
        const int a = equations->class_of[island->parts[i].a], b = equations->class_of[island->parts[i].b];
        if (!part_present(part, state) || a == b)
            continue;
        const double value = tl_net_value_at(part->value, state->values);
        if (part->kind == PART_RESISTOR) {
            stamp_resistor(equations, a, b, 1 / value);
        } else if (part->kind == PART_CURRENT) {
            if (equations->row_of[a] != TL_NET_NONE)
                equations->injected[equations->row_of[a]] -= value;
            if (equations->row_of[b] != TL_NET_NONE)
                equations->injected[equations->row_of[b]] += value;
        }
    }
    return TL_NET_SOLVED;
}

void nodal_free(nodal *equations)
{
    free(equations->class_of);
    free(equations->row_of);
    free(equations->fixed);
    free(equations->volts);
    free(equations->matrix);
    free(equations->injected);
}

/* --- figures of one state --- */

tl_net_fault nodal_solve(nodal *equations, double *probe)
{
    const int rows = equations->rows;
    if (rows == 0)
        return TL_NET_SOLVED;
    double *right = tl_alloc(2 * (size_t)rows, sizeof *right);
    lapack_int *pivots = tl_alloc((size_t)rows, sizeof *pivots);
    memcpy(right, equations->injected, (size_t)rows * sizeof *right);
    if (probe != NULL)
        memcpy(right + rows, probe, (size_t)rows * sizeof *right);
    const lapack_int info = LAPACKE_dgesv_work(LAPACK_COL_MAJOR, rows, probe != NULL ? 2 : 1,
                                               equations->matrix, rows, pivots, right, rows);
    memcpy(equations->injected, right, (size_t)rows * sizeof *right);
    if (probe != NULL)
        memcpy(probe, right + rows, (size_t)rows * sizeof *right);
    free(right);
    free(pivots);
    return info == 0 ? TL_NET_SOLVED : TL_NET_SINGULAR;
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

/* From a to b; a part across a floating class carries nothing that can be known. */
static double part_amperes(const tl_island *island, const nodal *equations, const tl_net_state *state, int i)
{
    const net_part *part = net_part_of(island, i);
    const int a = equations->class_of[island->parts[i].a], b = equations->class_of[island->parts[i].b];
    const double value = tl_net_value_at(part->value, state->values);
    if (!part_present(part, state) || part->kind == PART_CAPACITOR)
        return 0;
    if (part->kind == PART_CURRENT)
        return value;
    if (a == b || !class_defined(equations, a) || !class_defined(equations, b))
        return 0;
    return (class_volts(equations, a) - class_volts(equations, b)) / value;
}

/*
 * Out of a rail. Zero ohms may hang other nodes on it, so the sum runs over its whole class, less what other
 * ways would bring in there: only parts that leave the class count, each once.
 */
static double rail_amperes(const tl_island *island, const nodal *equations, const tl_net_state *state,
                           int rail)
{
    double sum = 0;
    const int local = island->local[rail];
    if (local == TL_NET_NONE)
        return 0;
    const int cls = equations->class_of[local];
    for (int i = 0; i < island->part_count; i++) {
        const int a = equations->class_of[island->parts[i].a], b = equations->class_of[island->parts[i].b];
        if (a == b)
            continue;
        if (a == cls)
            sum += part_amperes(island, equations, state, i);
        else if (b == cls)
            sum -= part_amperes(island, equations, state, i);
    }
    return sum;
}

static tl_net_fault node_figure(tl_island *island, nodal *equations, tl_figure figure, double *value)
{
    const int cls = equations->class_of[island->local[figure.of]];
    if (!class_defined(equations, cls))
        return TL_NET_FLOATING;
    const int row = equations->row_of[cls];
    double *probe = NULL;
    if (figure.kind == TL_FIGURE_SOURCE_OHMS && row != TL_NET_NONE) {
        probe = tl_alloc((size_t)equations->rows, sizeof *probe);
        probe[row] = 1;
    }
    const tl_net_fault fault = nodal_solve(equations, probe);
    if (figure.kind == TL_FIGURE_VOLTS)
        *value = class_volts(equations, cls);
    else
        *value = probe != NULL ? probe[row] : 0;
    free(probe);
    return fault;
}

static tl_net_fault part_figure(tl_island *island, nodal *equations, const tl_net_state *state,
                                tl_figure figure, double *value)
{
    const tl_net_fault fault = nodal_solve(equations, NULL);
    if (figure.kind == TL_FIGURE_RAIL_AMPERES) {
        *value = rail_amperes(island, equations, state, figure.of);
        return fault;
    }
    *value = 0;
    for (int i = 0; i < island->part_count; i++) {
        if (island->parts[i].part != figure.of)
            continue;
        const double amperes = part_amperes(island, equations, state, i);
        const double ohms = tl_net_value_at(net_part_of(island, i)->value, state->values);
        *value = figure.kind == TL_FIGURE_PART_WATTS ? amperes * amperes * ohms : amperes;
    }
    return fault;
}

tl_net_fault tl_island_figure(tl_island *island, const tl_net_state *state, tl_figure figure, double *result)
{
    nodal equations;
    double value = 0;
    tl_net_fault fault = nodal_new(&equations, island, state, false);
    if (fault != TL_NET_SOLVED)
        return fault;
    if (figure.kind == TL_FIGURE_VOLTS || figure.kind == TL_FIGURE_SOURCE_OHMS)
        fault = node_figure(island, &equations, figure, &value);
    else
        fault = part_figure(island, &equations, state, figure, &value);
    nodal_free(&equations);
    if (fault == TL_NET_SOLVED && !isfinite(value))
        fault = TL_NET_SINGULAR;
    if (fault == TL_NET_SOLVED)
        *result = value - tl_net_value_at(figure.less, state->values);
    return fault;
}
