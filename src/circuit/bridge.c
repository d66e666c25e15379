/* SPDX-License-Identifier: MIT */
/*
 * Chains between two nodes. A current that leaks into a chain reaches both nodes, some of it each, so either
 * gets anything between nothing and all of it; that holds a little more than what can be.
 */
#include "circuit/bridge.h"
#include "base/memory.h"
#include "circuit/cut.h"
#include "circuit/elements.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum { PARAMS_OF_A_CHAIN = 8 };

/* While one looks: nodes are the island's. */
typedef struct {
    const tl_island *whole;
    int a, b;
    const bool *keep, *free;
    double *values;
    tl_net_state state;
    int *branch, *degree; /* of each node: a node of its branch; resistors that it has left */
    bool *alive;          /* of each part: a resistor that is left */
} looking;

static int root_of(int *branch, int node)
{
    while (branch[node] != node)
        node = branch[node] = branch[branch[node]];
    return node;
}

static bool is_inside(const looking *l, int node)
{
    return node < l->whole->size && node != l->a && node != l->b;
}

static void find_branches(looking *l)
{
    for (int i = 0; i < l->whole->size; i++)
        l->branch[i] = i;
    for (int i = 0; i < l->whole->part_count; i++) {
        const int a = l->whole->parts[i].a, b = l->whole->parts[i].b;
        if (is_inside(l, a) && is_inside(l, b) && cut_couples(net_part_of(l->whole, i)))
            l->branch[root_of(l->branch, a)] = root_of(l->branch, b);
    }
    for (int i = 0; i < l->whole->size; i++)
        l->branch[i] = root_of(l->branch, i);
}

/* The branch of a part; TL_NET_NONE for one that is in none. */
static int branch_of_part(const looking *l, int i)
{
    const int a = l->whole->parts[i].a, b = l->whole->parts[i].b;
    return is_inside(l, a) ? l->branch[a] : is_inside(l, b) ? l->branch[b] : TL_NET_NONE;
}

/* Whether a part may be in a chain: a resistor that leads to no rail, a capacitor, or what leaks. */
static bool may_be_in_chain(const looking *l, int i)
{
    const net_part *part = net_part_of(l->whole, i);
    if (part->gate != TL_WHEN_ALWAYS && in_view(part->gate_view, l->whole->view) && l->free[part->contact])
        return false;
    if (part->is->is_ohms)
        return l->whole->parts[i].a < l->whole->size && l->whole->parts[i].b < l->whole->size;
    return part->is == &element_capacitor || part->is == &element_current || part->is == &element_leak;
}

static bool is_usable(const looking *l, int branch)
{
    for (int node = 0; node < l->whole->size; node++) {
        if (is_inside(l, node) && l->branch[node] == branch && l->keep[l->whole->nodes[node]])
            return false;
    }
    for (int i = 0; i < l->whole->part_count; i++) {
        if (branch_of_part(l, i) == branch && !may_be_in_chain(l, i))
            return false;
    }
    return true;
}

/* Takes off what leads nowhere, from its ends inwards. */
static void prune(looking *l, int branch)
{
    for (bool pruned = true; pruned;) {
        pruned = false;
        for (int i = 0; i < l->whole->part_count; i++) {
            const int ends[2] = {l->whole->parts[i].a, l->whole->parts[i].b};
            if (!l->alive[i] || branch_of_part(l, i) != branch)
                continue;
            for (int k = 0; k < 2 && l->alive[i]; k++) {
                if (!is_inside(l, ends[k]) || l->degree[ends[k]] != 1)
                    continue;
                l->alive[i] = false;
                l->degree[ends[0]]--;
                l->degree[ends[1]]--;
                pruned = true;
            }
        }
    }
}

static bool list_param(const looking *l, int param, int params[PARAMS_OF_A_CHAIN], int *count)
{
    if (param == TL_NET_NONE || l->whole->net->params[param].low == l->whole->net->params[param].high)
        return true;
    for (int i = 0; i < *count; i++) {
        if (params[i] == param)
            return true;
    }
    if (*count == PARAMS_OF_A_CHAIN)
        return false;
    params[(*count)++] = param;
    return true;
}

static double sum_of(const looking *l, int branch)
{
    double sum = 0;
    for (int i = 0; i < l->whole->part_count; i++) {
        if (l->alive[i] && branch_of_part(l, i) == branch)
            sum += tl_net_value_at(net_part_of(l->whole, i)->value, l->values);
    }
    return sum;
}

/* The ohms of a chain, over the corners of all its parameters: products of them, so extreme there. False
 * where it is no chain from one node to the other. */
static bool ohms_of(looking *l, int branch, double ohms[3])
{
    const net_param *all = l->whole->net->params;
    int params[PARAMS_OF_A_CHAIN], count = 0, at_a = 0, at_b = 0;
    for (int i = 0; i < l->whole->part_count; i++) {
        if (!l->alive[i] || branch_of_part(l, i) != branch)
            continue;
        const tl_net_value value = net_part_of(l->whole, i)->value;
        const int ends[2] = {l->whole->parts[i].a, l->whole->parts[i].b};
        for (int k = 0; k < 2; k++) {
            at_a += ends[k] == l->a;
            at_b += ends[k] == l->b;
            if (is_inside(l, ends[k]) && l->degree[ends[k]] != 2)
                return false;
        }
        if (!list_param(l, value.first, params, &count) || !list_param(l, value.second, params, &count) ||
            (value.extra != 0 && !list_param(l, value.third, params, &count)))
            return false;
    }
    if (at_a != 1 || at_b != 1)
        return false;
    ohms[1] = sum_of(l, branch);
    ohms[0] = INFINITY;
    ohms[2] = 0;
    for (unsigned corner = 0; corner < 1u << count; corner++) {
        for (int i = 0; i < count; i++)
            l->values[params[i]] = (corner >> i & 1u) != 0 ? all[params[i]].high : all[params[i]].low;
        ohms[0] = fmin(ohms[0], sum_of(l, branch));
        ohms[2] = fmax(ohms[2], sum_of(l, branch));
    }
    for (int i = 0; i < count; i++)
        l->values[params[i]] = all[params[i]].nominal;
    return ohms[0] > 0;
}

/* What leaks into a branch at the least and at most. */
static void add_leaks(const looking *l, int branch, bridge *found)
{
    for (int i = 0; i < l->whole->part_count; i++) {
        const net_part *part = net_part_of(l->whole, i);
        if (branch_of_part(l, i) != branch)
            continue;
        found->stores = found->stores || part->is == &element_capacitor;
        if (part->is != &element_current && part->is != &element_leak)
            continue;
        const int of = part->value.first;
        const double sign = is_inside(l, l->whole->parts[i].b) ? 1 : -1;
        const double ends[2] = {of != TL_NET_NONE ? part->value.factor * l->whole->net->params[of].low
                                                  : tl_net_value_at(part->value, l->values),
                                of != TL_NET_NONE ? part->value.factor * l->whole->net->params[of].high
                                                  : tl_net_value_at(part->value, l->values)};
        found->amperes[0] += fmin(0, fmin(sign * ends[0], sign * ends[1]));
        found->amperes[2] += fmax(0, fmax(sign * ends[0], sign * ends[1]));
    }
}

static void take_chain(looking *l, int branch, bridge *found)
{
    double ohms[3];
    prune(l, branch);
    if (!ohms_of(l, branch, ohms))
        return;
    found->count++;
    for (int i = 0; i < 3; i++)
        found->ohms[i] += 1 / ohms[2 - i]; /* siemens, until all are there */
    add_leaks(l, branch, found);
    for (int i = 0; i < l->whole->part_count; i++)
        found->beyond[i] = found->beyond[i] || branch_of_part(l, i) == branch;
}

static void count_degrees(looking *l)
{
    for (int i = 0; i < l->whole->part_count; i++) {
        const net_part *part = net_part_of(l->whole, i);
        l->alive[i] = part->is->is_ohms && part_present(part, l->whole->view, &l->state);
        for (int k = 0; k < 2 && l->alive[i]; k++) {
            const int end = k == 0 ? l->whole->parts[i].a : l->whole->parts[i].b;
            if (end < l->whole->size)
                l->degree[end]++;
        }
    }
}

bridge bridge_find(const tl_island *whole, int a, int b, const bool *keep, const bool *closed,
                   const bool *free_contacts)
{
    const size_t size = (size_t)whole->size, parts = (size_t)whole->part_count,
                 params = (size_t)whole->net->param_count;
    bridge found = {.a = a, .b = b, .beyond = tl_alloc(parts, sizeof *found.beyond)};
    looking l = {.whole = whole,
                 .a = whole->local[a],
                 .b = whole->local[b],
                 .keep = keep,
                 .free = free_contacts,
                 .values = tl_alloc(params, sizeof *l.values),
                 .branch = tl_alloc(size, sizeof *l.branch),
                 .degree = tl_alloc(size, sizeof *l.degree),
                 .alive = tl_alloc(parts, sizeof *l.alive)};
    for (size_t i = 0; i < params; i++)
        l.values[i] = whole->net->params[i].nominal;
    l.state = (tl_net_state){l.values, closed};
    find_branches(&l);
    count_degrees(&l);
    for (int node = 0; node < whole->size; node++) {
        if (is_inside(&l, node) && l.branch[node] == node && is_usable(&l, node))
            take_chain(&l, node, &found);
    }
    const double siemens[3] = {found.ohms[0], found.ohms[1], found.ohms[2]};
    for (int i = 0; i < 3 && found.count > 0; i++) /* the least siemens are the most ohms */
        found.ohms[i] = 1 / siemens[2 - i];
    free(l.values);
    free(l.branch);
    free(l.degree);
    free(l.alive);
    return found;
}

void bridge_free(bridge *of)
{
    free(of->beyond);
    of->beyond = NULL;
}

tl_island *bridge_make(tl_net *net, const tl_island *whole, const bridge *of, int ohms, const int amperes[2])
{
    int *parts = tl_alloc((size_t)whole->part_count + 3, sizeof *parts), count = 0;
    const tl_net_view view = net->view;
    for (int i = 0; i < whole->part_count; i++) {
        if (!of->beyond[i])
            parts[count++] = whole->parts[i].part;
    }
    tl_net_set_view(net, TL_VIEW_ASIDE);
    parts[count++] = tl_net_add_resistor(net, "beside", of->a, of->b, tl_net_of(ohms));
    for (int end = 0; end < 2; end++) {
        if (amperes[end] != TL_NET_NONE)
            parts[count++] = tl_net_add_current(net, "beside", TL_NET_GROUND, end == 0 ? of->a : of->b,
                                                tl_net_of(amperes[end]));
    }
    tl_net_set_view(net, view);
    tl_island *left = island_of_parts(net, whole, parts, count);
    free(parts);
    return left;
}
