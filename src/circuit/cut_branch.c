/* SPDX-License-Identifier: MIT */
/* What one branch of an island shows at the node where it is cut off: ohms, volts and amperes. */
#include "base/memory.h"
#include "circuit/cut.h"
#include "circuit/elements.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

/* --- islands of chosen parts --- */

static int local_of(tl_island *island, int node, int *count)
{
    if (island->local[node] == TL_NET_NONE) {
        island->nodes[*count] = node;
        island->local[node] = (*count)++;
    }
    return island->local[node];
}

/* The nodes in the whole island's order, then the rails. */
tl_island *island_of_parts(const tl_net *net, const tl_island *whole, const int *parts, int part_count)
{
    tl_island *island = tl_alloc(1, sizeof *island);
    bool *wanted = tl_alloc((size_t)net->node_count, sizeof *wanted);
    int count = 0;
    island->net = net;
    island->view = TL_VIEW_BELIEVED;
    island->node_count = net->node_count;
    island->local = tl_alloc((size_t)net->node_count, sizeof *island->local);
    island->nodes = tl_alloc((size_t)net->node_count, sizeof *island->nodes);
    island->parts = tl_alloc((size_t)part_count, sizeof *island->parts);
    for (int i = 0; i < net->node_count; i++)
        island->local[i] = TL_NET_NONE;
    for (int i = 0; i < part_count; i++)
        wanted[net->parts[parts[i]].a] = wanted[net->parts[parts[i]].b] = true;
    for (int i = 0; i < whole->size; i++) {
        if (wanted[whole->nodes[i]])
            (void)local_of(island, whole->nodes[i], &count);
    }
    island->size = count;
    for (int i = 0; i < part_count; i++) {
        const net_part *part = &net->parts[parts[i]];
        const int a = local_of(island, part->a, &count), b = local_of(island, part->b, &count);
        island->parts[island->part_count++] = (island_part){.part = parts[i], .a = a, .b = b};
    }
    island->rails = count - island->size;
    free(wanted);
    island_complete(island);
    return island;
}

bool cut_couples(const net_part *part)
{
    return part->is->stamp != NULL || part->is->hold != NULL;
}

static void widen(double span[3], double low, double nominal, double high)
{
    span[0] += low;
    span[1] += nominal;
    span[2] += high;
}

/* The least, nominal and largest of a value whose own parameters stand at their ends. */
static void span_of(const tl_net *net, tl_net_value value, double *values, double span[3])
{
    const int of[3] = {value.first, value.second, value.extra != 0 ? value.third : TL_NET_NONE};
    span[1] = tl_net_value_at(value, values);
    span[0] = INFINITY;
    span[2] = -INFINITY;
    for (unsigned corner = 0; corner < 8; corner++) {
        for (int i = 0; i < 3; i++) {
            if (of[i] != TL_NET_NONE)
                values[of[i]] = (corner >> i & 1u) != 0 ? net->params[of[i]].high : net->params[of[i]].low;
        }
        span[0] = fmin(span[0], tl_net_value_at(value, values));
        span[2] = fmax(span[2], tl_net_value_at(value, values));
    }
    for (int i = 0; i < 3; i++) {
        if (of[i] != TL_NET_NONE)
            values[of[i]] = net->params[of[i]].nominal;
    }
}

/* A branch, and the contacts in it that may stand any way. */
typedef struct {
    tl_island *island;
    int at; /* node of the net */
    const bool *usual, *free;
    bool *closed;
    int *contacts;
    int count;
    bool only_join; /* closing one only ever adds a part: all open and all closed are the ends */
    double *values;
} branch_state;

static void find_contacts(branch_state *b)
{
    b->count = 0;
    b->only_join = true;
    for (int i = 0; i < b->island->part_count; i++) {
        const net_part *part = net_part_of(b->island, i);
        if (part->gate == TL_WHEN_ALWAYS || !in_view(part->gate_view, b->island->view) ||
            !b->free[part->contact])
            continue;
        b->only_join = b->only_join && part->gate == TL_WHEN_CLOSED;
        bool known = false;
        for (int k = 0; k < b->count; k++)
            known = known || b->contacts[k] == part->contact;
        if (!known)
            b->contacts[b->count++] = part->contact;
    }
}

/* This many states of the contacts are looked at; 0: there are too many. */
static unsigned states_of(const branch_state *b)
{
    enum { CONTACTS_MOST = 4 };
    if (b->only_join)
        return b->count > 0 ? 2 : 1;
    return b->count <= CONTACTS_MOST ? 1u << b->count : 0;
}

static void set_state(branch_state *b, unsigned state)
{
    for (int k = 0; k < b->count; k++)
        b->closed[b->contacts[k]] = b->only_join ? state == 1 : (state >> k & 1u) != 0;
}

static bool has_lamp(const tl_island *island)
{
    bool has = false;
    for (int i = 0; i < island->part_count; i++)
        has = has || net_part_of(island, i)->is->turns;
    return has;
}

/* Least, nominal and largest ohms over all states of the contacts. INFINITY where nothing leads to a rail. */
static bool find_ohms(branch_state *b, double ohms[3])
{
    const tl_figure figure = {.kind = TL_FIGURE_SOURCE_OHMS, .of = b->at, .less = tl_net_fixed(0)};
    const tl_net_state nominal = {b->values, b->usual};
    const unsigned states = states_of(b);
    const bool lamp = has_lamp(b->island);
    tl_net_status fault = tl_island_figure(b->island, &nominal, figure, &ohms[1]);
    ohms[0] = INFINITY;
    ohms[2] = 0;
    if (fault == TL_NET_FLOATING)
        ohms[1] = INFINITY;
    else if (fault != TL_NET_SOLVED)
        return false;
    for (unsigned state = 0; state < states; state++) {
        tl_bounds found = {.low = INFINITY, .high = INFINITY};
        set_state(b, state);
        b->island->work.all_lit = lamp; /* the least where it conducts; */
        fault = island_ohms(b->island, b->closed, &figure, &found);
        b->island->work.all_lit = false;
        if (fault == TL_NET_FLOATING)
            found.low = found.high = INFINITY;
        else if (fault != TL_NET_SOLVED)
            return false;
        ohms[0] = fmin(ohms[0], found.low);
        ohms[2] = fmax(ohms[2], lamp ? INFINITY : found.high); /* but it may not */
    }
    for (int k = 0; k < b->count; k++)
        b->closed[b->contacts[k]] = b->usual[b->contacts[k]];
    return states > 0 && ohms[0] > 0;
}

/* A one-way part shows its drop beside the rail behind it: above one that it leads to, below one it comes
 * from. */
static void widen_by_drops(const branch_state *b, double volts[3])
{
    const tl_island *island = b->island;
    double span[3], up = 0, down = 0;
    for (int i = 0; i < island->part_count; i++) {
        const net_part *part = net_part_of(island, i);
        if (!part->is->turns)
            continue;
        span_of(island->net, part->value, b->values, span);
        up += island->net->nodes[part->a].is_rail ? 0 : span[2];
        down += island->net->nodes[part->b].is_rail ? 0 : span[2];
    }
    volts[0] -= down;
    volts[2] += up;
}

/* Whether more than a current leads to a rail. */
static bool leads_to(const tl_island *island, int rail)
{
    bool leads = false;
    for (int i = 0; i < island->part_count; i++)
        leads = leads || (net_part_of(island, i)->is->reach != REACH_NONE &&
                          (island->parts[i].a == rail || island->parts[i].b == rail));
    return leads;
}

/* The rails that a branch is connected to, and the span of their volts. */
static void find_rails(const branch_state *b, cut_branch *shown)
{
    const tl_island *island = b->island;
    double span[3], nominal = NAN;
    int count = 0;
    for (int i = island->size; i < island->size + island->rails; i++) {
        if (!leads_to(island, i))
            continue;
        span_of(island->net, island->net->nodes[island->nodes[i]].volts, b->values, span);
        shown->between = shown->between || (count > 0 && fabs(nominal - span[1]) > 1e-9);
        shown->rail = count++ == 0 ? island->nodes[i] : TL_NET_NONE;
        shown->volts[0] = fmin(shown->volts[0], span[0]);
        shown->volts[2] = fmax(shown->volts[2], span[2]);
        nominal = span[1];
    }
}

/* What leaks into a branch comes out at the node at most. False for what is neither resistor nor current. */
static bool find_amperes(const branch_state *b, cut_branch *shown)
{
    double *amperes = shown->amperes;
    const tl_island *island = b->island;
    double span[3];
    for (int i = 0; i < island->part_count; i++) {
        const net_part *part = net_part_of(island, i);
        if (part->is == &element_current) {
            span_of(island->net, part->value, b->values, span);
            const bool out = part->b == TL_NET_GROUND;
            widen(amperes, fmin(0, out ? -span[2] : span[0]), 0, fmax(0, out ? -span[0] : span[2]));
            shown->drives = shown->drives || span[1] != 0;
        } else if (part->is == &element_leak) { /* towards the rail, or from it */
            span_of(island->net, part->value, b->values, span);
            const bool in = island->net->nodes[part->a].is_rail;
            widen(amperes, in ? 0 : -fmax(0, span[2]), 0, in ? fmax(0, span[2]) : 0);
        } else if (cut_couples(part) && part->is != &element_resistor && !part->is->turns) {
            return false;
        }
        shown->stores = shown->stores || part->is->store != NULL;
    }
    return true;
}

/* A branch's volts lie between those of its rails. Not usable where it is not made of resistors and currents
 * alone, or shows no resistance. */
static void look_at_branch(branch_state *b, cut_branch *shown)
{
    const tl_net_state state = {b->values, b->usual};
    const tl_figure figure = {.kind = TL_FIGURE_VOLTS, .of = b->at, .less = tl_net_fixed(0)};
    shown->volts[0] = INFINITY;
    shown->volts[2] = -INFINITY;
    if (!find_amperes(b, shown))
        return;
    find_contacts(b);
    if (!find_ohms(b, shown->ohms))
        return;
    if (isfinite(shown->ohms[1]) &&
        tl_island_figure(b->island, &state, figure, &shown->volts[1]) != TL_NET_SOLVED)
        return;
    find_rails(b, shown);
    if (has_lamp(b->island)) {
        widen_by_drops(b, shown->volts);
        shown->rail = TL_NET_NONE;
        shown->drives = true;
    }
    shown->usable = true;
}

/* A branch is the same from wherever it is seen, while its parts and what its contacts may do are. */
static uint64_t key_of_branch(const cut_question *asked, const tl_net *net, int at, const int *parts,
                              int count)
{
    uint64_t key = (uint64_t)at;
    for (int i = 0; i < count; i++) {
        const net_part *part = &net->parts[parts[i]];
        const int contact = part->gate == TL_WHEN_ALWAYS ? TL_NET_NONE : part->contact;
        const unsigned may = contact == TL_NET_NONE
                                 ? 0
                                 : 1u + (asked->closed[contact] ? 1u : 0) + (asked->free[contact] ? 2u : 0);
        key = (key ^ ((uint64_t)parts[i] << 3 | may)) * UINT64_C(0x9e3779b97f4a7c15);
        key ^= key >> 29;
    }
    return key;
}

static cut_branch *remember(cut_memory *memory, uint64_t key, bool *known)
{
    *known = true;
    for (int i = 0; i < memory->count; i++) {
        if (memory->of[i].key == key)
            return &memory->of[i];
    }
    *known = false;
    memory->of = tl_grow(memory->of, (size_t)memory->count, sizeof *memory->of);
    memory->of[memory->count] = (cut_branch){.key = key};
    return &memory->of[memory->count++];
}

const cut_branch *cut_look(const cut_question *asked, const tl_island *whole, int at, const int *parts,
                           int count)
{
    bool known;
    const tl_net *net = whole->net;
    const size_t contacts = (size_t)net->contact_count, params = (size_t)net->param_count;
    cut_branch *shown = remember(asked->memory, key_of_branch(asked, net, at, parts, count), &known);
    if (known)
        return shown;
    branch_state state = {.island = island_of_parts(net, whole, parts, count),
                          .at = at,
                          .usual = asked->closed,
                          .free = asked->free,
                          .closed = tl_alloc(contacts, sizeof(bool)),
                          .contacts = tl_alloc(contacts, sizeof(int)),
                          .values = tl_alloc(params, sizeof(double))};
    memcpy(state.closed, asked->closed, contacts * sizeof *state.closed);
    for (size_t i = 0; i < params; i++)
        state.values[i] = net->params[i].nominal;
    look_at_branch(&state, shown);
    tl_island_free(state.island);
    free(state.closed);
    free(state.contacts);
    free(state.values);
    return shown;
}
