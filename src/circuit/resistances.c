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

/* Rows of the nodes that stand for others, ground without one. What much is connected to, as to a rail, comes
 * last: then few rows reach far back. */
static int number_rows(const resistances *r, int *row)
{
    enum { MUCH = 8 };
    int rows = 0;
    int *connected = tl_alloc((size_t)r->nodes, sizeof *connected);
    for (int i = 0; i < r->count; i++) {
        connected[standing_for(r, r->list[i].a)]++;
        connected[standing_for(r, r->list[i].b)]++;
    }
    for (int pass = 0; pass < 2; pass++) {
        for (int i = 0; i < r->nodes; i++) {
            if (i == TL_NET_GROUND || r->joined[i] != i)
                row[i] = TL_NET_NONE;
            else if ((connected[i] > MUCH) == (pass == 1))
                row[i] = rows++;
        }
    }
    free(connected);
    return rows;
}

/* What connects two rows, and how far back each goes: the first that it is connected to. */
typedef struct {
    int rows;
    int *row, *first; /* of each node; of each row */
    long *start;      /* where column 0 of each row would stand */
    double *matrix;
} envelope;

/* The rows at the ends of a conductance; false where it leads from a row to itself. */
static bool find_ends(const resistances *r, const envelope *e, int i, int ends[2])
{
    ends[0] = e->row[standing_for(r, r->list[i].a)];
    ends[1] = e->row[standing_for(r, r->list[i].b)];
    return ends[0] != ends[1];
}

static envelope envelope_of(const resistances *r)
{
    int ends[2];
    long size = 0;
    envelope e = {.row = tl_alloc((size_t)r->nodes, sizeof *e.row)};
    e.rows = number_rows(r, e.row);
    e.first = tl_alloc((size_t)e.rows + 1, sizeof *e.first);
    e.start = tl_alloc((size_t)e.rows + 1, sizeof *e.start);
    for (int i = 0; i < e.rows; i++)
        e.first[i] = i;
    for (int i = 0; i < r->count; i++) {
        if (!find_ends(r, &e, i, ends) || ends[0] == TL_NET_NONE || ends[1] == TL_NET_NONE)
            continue;
        const int later = ends[0] > ends[1] ? ends[0] : ends[1], earlier = ends[0] + ends[1] - later;
        e.first[later] = e.first[later] < earlier ? e.first[later] : earlier;
    }
    for (int i = 0; i < e.rows; i++) {
        e.start[i] = size - e.first[i];
        size += i - e.first[i] + 1;
    }
    e.matrix = tl_alloc((size_t)size + 1, sizeof *e.matrix);
    for (int i = 0; i < e.rows; i++)
        e.matrix[e.start[i] + i] = stray_siemens;
    return e;
}

static void stamp(envelope *e, const int ends[2], double siemens)
{
    for (int k = 0; k < 2; k++) {
        if (ends[k] == TL_NET_NONE)
            continue;
        e->matrix[e->start[ends[k]] + ends[k]] += siemens;
        if (ends[1 - k] != TL_NET_NONE && ends[1 - k] < ends[k])
            e->matrix[e->start[ends[k]] + ends[1 - k]] -= siemens;
    }
}

static void envelope_free(envelope *e)
{
    free(e->row);
    free(e->first);
    free(e->start);
    free(e->matrix);
}

void resistances_between(const resistances *r, const int (*pairs)[2], int count, double *ohms)
{
    int ends[2];
    envelope e = envelope_of(r);
    double *right = tl_alloc((size_t)e.rows * (size_t)count + 1, sizeof *right);
    for (int i = 0; i < r->count; i++) {
        if (find_ends(r, &e, i, ends))
            stamp(&e, ends, r->list[i].siemens);
    }
    for (int k = 0; k < count; k++) {
        for (int end = 0; end < 2; end++) {
            const int at = e.row[standing_for(r, pairs[k][end])];
            if (at != TL_NET_NONE)
                right[k * e.rows + at] += end == 0 ? 1 : -1;
        }
    }
    const bool solved = e.rows == 0 || envelope_solve(e.matrix, e.start, e.first, e.rows, right, count);
    for (int k = 0; k < count; k++) {
        double volts = 0;
        for (int end = 0; end < 2; end++) {
            const int at = e.row[standing_for(r, pairs[k][end])];
            if (at != TL_NET_NONE)
                volts += (end == 0 ? 1 : -1) * right[k * e.rows + at];
        }
        ohms[k] = solved && volts < endless_ohms ? fmax(volts, 0) : INFINITY;
    }
    envelope_free(&e);
    free(right);
}

void resistances_free(resistances *r)
{
    if (r == NULL)
        return;
    free(r->joined);
    free(r->list);
    free(r);
}
