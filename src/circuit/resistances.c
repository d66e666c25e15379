/* SPDX-License-Identifier: MIT */
/*
 * Every node against ground, by conductances. Each node has a way to ground too, so small that no meter shows
 * it: then nodes that nothing connects to ground have a solution as well. Less than a joint's resistance
 * makes one node of two.
 */
#include "circuit/resistances.h"
#include "base/memory.h"
#include "circuit/elements.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

static const double joint_ohms = 0.05, stray_siemens = 1e-12, endless_ohms = 1e9;

typedef struct {
    int a, b;
    double siemens;
} conductance;

struct resistances {
    int nodes;
    int *joined; /* of each node the one that stands for it */
    conductance *list;
    int count;
};

static int standing_for(const resistances *r, int node)
{
    while (r->joined[node] != node)
        node = r->joined[node];
    return node;
}

void resistances_add(resistances *r, int a, int b, double ohms)
{
    if (ohms > joint_ohms) {
        r->list = tl_grow(r->list, (size_t)r->count, sizeof *r->list);
        r->list[r->count++] = (conductance){a, b, 1 / ohms};
        return;
    }
    const int one = standing_for(r, a), other = standing_for(r, b);
    r->joined[one > other ? one : other] = one > other ? other : one; /* ground is the first */
}

resistances *resistances_of(const tl_net *net, const tl_net_state *state, const bool *by_voltage)
{
    resistances *r = tl_alloc(1, sizeof *r);
    r->nodes = net->node_count;
    r->joined = tl_alloc((size_t)r->nodes, sizeof *r->joined);
    for (int i = 0; i < r->nodes; i++)
        r->joined[i] = i;
    for (int i = 0; i < net->part_count; i++) {
        const net_part *part = &net->parts[i];
        if (!in_view(part->view, TL_VIEW_SOLDERED) || !part_present(part, TL_VIEW_SOLDERED, state) ||
            (part->gate != TL_WHEN_ALWAYS && by_voltage[part->contact]))
            continue;
        if (part->is == &element_tie)
            resistances_add(r, part->a, part->b, 0);
        else if (part->is == &element_resistor)
            resistances_add(r, part->a, part->b, tl_net_value_at(part->value, state->values));
    }
    return r;
}

/* Rows of the nodes that stand for others, ground without one. Few reach far back, rails do. */
static int number_rows(const resistances *r, int *row)
{
    int rows = 0;
    for (int i = 0; i < r->nodes; i++)
        row[i] = i != TL_NET_GROUND && r->joined[i] == i ? rows++ : TL_NET_NONE;
    return rows;
}

static void stamp(double *matrix, int *first, int rows, const int row[2], double siemens)
{
    for (int e = 0; e < 2; e++) {
        if (row[e] == TL_NET_NONE)
            continue;
        matrix[row[e] * rows + row[e]] += siemens;
        if (row[1 - e] == TL_NET_NONE)
            continue;
        matrix[row[e] * rows + row[1 - e]] -= siemens;
        first[row[e]] = first[row[e]] < row[1 - e] ? first[row[e]] : row[1 - e];
    }
}

void resistances_between(const resistances *r, const int (*pairs)[2], int count, double *ohms)
{
    int *row = tl_alloc((size_t)r->nodes, sizeof *row);
    const int rows = number_rows(r, row);
    const size_t n = (size_t)rows;
    double *matrix = tl_alloc(n * n + 1, sizeof *matrix),
           *right = tl_alloc(n * (size_t)count + 1, sizeof *right);
    int *first = tl_alloc(n + 1, sizeof *first);
    for (int i = 0; i < rows; i++) {
        matrix[i * rows + i] = stray_siemens;
        first[i] = i;
    }
    for (int i = 0; i < r->count; i++) {
        const int a = standing_for(r, r->list[i].a), b = standing_for(r, r->list[i].b);
        if (a != b)
            stamp(matrix, first, rows, (int[]){row[a], row[b]}, r->list[i].siemens);
    }
    for (int k = 0; k < count; k++) {
        for (int e = 0; e < 2; e++) {
            const int at = row[standing_for(r, pairs[k][e])];
            if (at != TL_NET_NONE)
                right[k * rows + at] += e == 0 ? 1 : -1;
        }
    }
    const bool solved = rows == 0 || envelope_solve(matrix, first, rows, right, count);
    for (int k = 0; k < count; k++) {
        double volts = 0;
        for (int e = 0; e < 2; e++) {
            const int at = row[standing_for(r, pairs[k][e])];
            if (at != TL_NET_NONE)
                volts += (e == 0 ? 1 : -1) * right[k * rows + at];
        }
        ohms[k] = solved && volts < endless_ohms ? fmax(volts, 0) : INFINITY;
    }
    free(matrix);
    free(right);
    free(first);
    free(row);
}

void resistances_free(resistances *r)
{
    if (r == NULL)
        return;
    free(r->joined);
    free(r->list);
    free(r);
}
