/*
 * An island that too much hangs on, cut at a node that all of it leads through. What lies beyond such a node
 * acts on the rest as the resistors and voltages that it shows there (Thevenin), each branch by itself. Their
 * bounds come from the branches alone; side by side they are one resistor of the sum of the conductances,
 * behind a voltage between the least and the largest. That holds all that the branches can do together, and a
 * little more: what they share with the rest is let go.
 */
#include "circuit/cut.h"
#include "base/memory.h"
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
static tl_island *island_of(const tl_net *net, const tl_island *whole, const int *parts, int part_count)
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

/* --- what hangs together beside a node --- */

static int find(int *of, int node)
{
    while (of[node] != node)
        node = of[node] = of[of[node]];
    return node;
}

static bool couples(const net_part *part)
{
    return part->is->stamp != NULL || part->is->hold != NULL;
}

/* Of each node the branch that it is in when `at` is taken out. */
static void find_branches(const tl_island *whole, int at, int *branch)
{
    for (int i = 0; i < whole->size; i++)
        branch[i] = i;
    for (int i = 0; i < whole->part_count; i++) {
        const int a = whole->parts[i].a, b = whole->parts[i].b;
        if (a < whole->size && b < whole->size && a != at && b != at && couples(net_part_of(whole, i)))
            branch[find(branch, a)] = find(branch, b);
    }
    for (int i = 0; i < whole->size; i++)
        branch[i] = find(branch, i);
}

/* Branches that hold a node which must stay are marked, the node itself never. */
static bool mark_kept(const tl_island *whole, int at, const bool *keep, const int *branch, bool *kept)
{
    bool all = true;
    memset(kept, 0, (size_t)whole->size * sizeof *kept);
    for (int i = 0; i < whole->size; i++)
        kept[branch[i]] = kept[branch[i]] || (i != at && keep[whole->nodes[i]]);
    for (int i = 0; i < whole->size; i++)
        all = all && (i == at || kept[branch[i]]);
    return !all;
}

/* Which branch a part belongs to; TL_NET_NONE for one between the node and rails. */
static int branch_of_part(const tl_island *whole, int at, const int *branch, int i)
{
    const int a = whole->parts[i].a, b = whole->parts[i].b;
    if (a < whole->size && a != at)
        return branch[a];
    return b < whole->size && b != at ? branch[b] : TL_NET_NONE;
}

static void count_value(const tl_net *net, bool *seen, tl_net_value value, int *count)
{
    const int of[3] = {value.first, value.second, value.extra != 0 ? value.third : TL_NET_NONE};
    for (int i = 0; i < 3; i++) {
        if (of[i] == TL_NET_NONE || seen[of[i]] || net->params[of[i]].low == net->params[of[i]].high)
            continue;
        seen[of[i]] = true;
        ++*count;
    }
}

/* So many parameters vary in what stays. */
static int count_params(const tl_island *whole, int at, const int *branch, const bool *kept, bool *seen)
{
    const tl_net *net = whole->net;
    int count = 0;
    memset(seen, 0, (size_t)net->param_count * sizeof *seen);
    for (int i = 0; i < whole->part_count; i++) {
        const net_part *part = net_part_of(whole, i);
        const int of = branch_of_part(whole, at, branch, i);
        if (of != TL_NET_NONE && !kept[of])
            continue;
        if (part->is->at_rest)
            count_value(net, seen, part->value, &count);
        for (int end = 0; end < 2; end++) {
            const net_node *node = &net->nodes[end == 0 ? part->a : part->b];
            if (node->is_rail)
                count_value(net, seen, node->volts, &count);
        }
    }
    return count;
}

/* --- what a branch shows --- */

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

/* So many states of the contacts are looked at; 0: there are too many. */
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

/* The way of branches with such rails; NULL where there are too many kinds. */
static cut_way *way_of(cut *found, double rail)
{
    for (int i = 0; i < found->way_count; i++) {
        const double has = found->ways[i].rail;
        if ((isnan(has) && isnan(rail)) || fabs(has - rail) < 1e-9)
            return &found->ways[i];
    }
    if (found->way_count == CUT_WAYS_MOST)
        return NULL;
    found->ways[found->way_count] = (cut_way){.volts = {INFINITY, 0, -INFINITY}, .rail = rail};
    return &found->ways[found->way_count++];
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

/* The span of a branch's rails, and their nominal volts: NAN where they differ. */
static double rails_of(const branch_state *b, double volts[3])
{
    const tl_island *island = b->island;
    double rail = INFINITY, span[3];
    for (int i = island->size; i < island->size + island->rails; i++) {
        if (!leads_to(island, i))
            continue;
        span_of(island->net, island->net->nodes[island->nodes[i]].volts, b->values, span);
        rail = isinf(rail) ? span[1] : fabs(rail - span[1]) < 1e-9 ? rail : NAN;
        volts[0] = fmin(volts[0], span[0]);
        volts[2] = fmax(volts[2], span[2]);
    }
    return rail;
}

/* What leaks into a branch comes out at the node at most. False for what is neither resistor nor current. */
static bool find_amperes(const branch_state *b, double amperes[3])
{
    const tl_island *island = b->island;
    double span[3];
    for (int i = 0; i < island->part_count; i++) {
        const net_part *part = net_part_of(island, i);
        if (part->is == &element_current) {
            span_of(island->net, part->value, b->values, span);
            const bool out = part->b == TL_NET_GROUND;
            widen(amperes, fmin(0, out ? -span[2] : span[0]), 0, fmax(0, out ? -span[0] : span[2]));
        } else if (part->is == &element_leak) { /* towards the rail, or from it */
            span_of(island->net, part->value, b->values, span);
            const bool in = island->net->nodes[part->a].is_rail;
            widen(amperes, in ? 0 : -fmax(0, span[2]), 0, in ? fmax(0, span[2]) : 0);
        } else if (couples(part) && part->is != &element_resistor && !part->is->turns) {
            return false;
        }
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
    if (!find_amperes(b, shown->amperes))
        return;
    find_contacts(b);
    if (!find_ohms(b, shown->ohms))
        return;
    if (isfinite(shown->ohms[1]) &&
        tl_island_figure(b->island, &state, figure, &shown->volts[1]) != TL_NET_SOLVED)
        return;
    shown->rail = rails_of(b, shown->volts);
    widen_by_drops(b, shown->volts);
    shown->usable = true;
}

/* Sums up in siemens and amperes. False where it is not usable, or stands between different rails and that is
 * not wanted. */
static bool add_branch(const cut_branch *shown, bool mixed, cut *found)
{
    if (!shown->usable)
        return false;
    for (int i = 0; i < 3; i++)
        found->amperes[i] += shown->amperes[i];
    if (isinf(shown->ohms[0]))
        return true; /* nothing leads from there to a rail */
    cut_way *way = isnan(shown->rail) && !mixed ? NULL : way_of(found, shown->rail);
    if (way == NULL)
        return false;
    way->volts[0] = fmin(way->volts[0], shown->volts[0]);
    way->volts[1] += shown->volts[1] / shown->ohms[1];
    way->volts[2] = fmax(way->volts[2], shown->volts[2]);
    widen(way->ohms, 1 / shown->ohms[0], 1 / shown->ohms[1], 1 / shown->ohms[2]);
    return true;
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

static bool add_branches(const tl_island *whole, int at, const int *branch, const bool *kept,
                         const cut_question *asked, bool mixed, cut *found)
{
    const tl_net *net = whole->net;
    const size_t contacts = (size_t)net->contact_count;
    int *parts = tl_alloc((size_t)whole->part_count, sizeof *parts);
    branch_state state = {.at = whole->nodes[at],
                          .usual = asked->closed,
                          .free = asked->free,
                          .closed = tl_alloc(contacts, sizeof(bool)),
                          .contacts = tl_alloc(contacts, sizeof(int)),
                          .values = tl_alloc((size_t)net->param_count, sizeof(double))};
    bool good = true;
    memcpy(state.closed, asked->closed, contacts * sizeof *state.closed);
    for (int i = 0; i < net->param_count; i++)
        state.values[i] = net->params[i].nominal;
    for (int b = 0; b < whole->size && good; b++) {
        int count = 0;
        bool known, touches = false;
        if (branch[b] != b || b == at || kept[b])
            continue;
        for (int i = 0; i < whole->part_count; i++) {
            if (branch_of_part(whole, at, branch, i) != b)
                continue;
            touches = touches || whole->parts[i].a == at || whole->parts[i].b == at;
            parts[count++] = whole->parts[i].part;
        }
        if (!touches)
            continue;
        cut_branch *shown =
            remember(asked->memory, key_of_branch(asked, net, state.at, parts, count), &known);
        if (!known) {
            state.island = island_of(net, whole, parts, count);
            look_at_branch(&state, shown);
            tl_island_free(state.island);
        }
        good = add_branch(shown, mixed, found);
    }
    free(parts);
    free(state.closed);
    free(state.contacts);
    free(state.values);
    return good;
}

/* Of sums of siemens into ohms, of sums of amperes into volts. */
static void in_ohms(cut_way *way)
{
    const double siemens[3] = {way->ohms[2], way->ohms[1], way->ohms[0]};
    for (int i = 0; i < 3; i++)
        way->ohms[2 - i] = siemens[i] > 0 ? 1 / siemens[i] : INFINITY;
    way->volts[1] = isfinite(way->ohms[1]) ? way->volts[1] * way->ohms[1]
                                           : (way->volts[0] + way->volts[2]) / 2; /* nothing flows there */
}

/* One place to cut; false where the branches there cannot be put together. */
static bool cut_at(const tl_island *whole, int at, const cut_question *asked, bool mixed, int *branch,
                   bool *kept, cut *found)
{
    *found = (cut){.at = whole->nodes[at]};
    find_branches(whole, at, branch);
    (void)mark_kept(whole, at, asked->keep, branch, kept);
    if (!add_branches(whole, at, branch, kept, asked, mixed, found))
        return false;
    for (int i = 0; i < found->way_count; i++)
        in_ohms(&found->ways[i]);
    found->beyond = tl_alloc((size_t)whole->part_count, sizeof *found->beyond);
    for (int i = 0; i < whole->part_count; i++) {
        const int of = branch_of_part(whole, at, branch, i);
        found->beyond[i] = of != TL_NET_NONE && !kept[of];
    }
    return true;
}

/* Whether a contact that may be either stands in what stays. */
static bool keeps_a_contact(const tl_island *whole, int at, const cut_question *asked, const int *branch,
                            const bool *kept)
{
    for (int i = 0; i < whole->part_count; i++) {
        const net_part *part = net_part_of(whole, i);
        const int of = branch_of_part(whole, at, branch, i);
        if ((of == TL_NET_NONE || kept[of]) && part->gate != TL_WHEN_ALWAYS &&
            in_view(part->gate_view, whole->view) && asked->free[part->contact])
            return true;
    }
    return false;
}

/*
 * Of all places the one that leaves least. Between different rails a branch says little, so where that cannot
 * be helped it is the place that leaves most: close to the branch, with the rails that feed the node still
 * there.
 */
bool cut_find(const tl_island *whole, const cut_question *asked, cut *found)
{
    const size_t size = (size_t)whole->size;
    int *branch = tl_alloc(size, sizeof *branch), *left = tl_alloc(size, sizeof *left);
    bool *kept = tl_alloc(size, sizeof *kept), *clears = tl_alloc(size, sizeof *clears),
         *seen = tl_alloc((size_t)whole->net->param_count, sizeof *seen), good = false;
    for (int at = 0; at < whole->size; at++) {
        find_branches(whole, at, branch);
        left[at] = TL_NET_NONE;
        if (!mark_kept(whole, at, asked->keep, branch, kept))
            continue;
        left[at] = count_params(whole, at, branch, kept, seen);
        clears[at] = left[at] <= TL_NET_CORNER_PARAMS && !keeps_a_contact(whole, at, asked, branch, kept);
    }
    for (int mixed = 0; mixed < 2 && !good; mixed++) {
        bool *tried = tl_alloc(size, sizeof *tried);
        for (;;) {
            int best = TL_NET_NONE;
            for (int at = 0; at < whole->size; at++) {
                if (left[at] == TL_NET_NONE || tried[at] || (mixed && !clears[at]))
                    continue;
                if (best == TL_NET_NONE || (mixed ? left[at] > left[best] : left[at] < left[best]))
                    best = at;
            }
            if (best == TL_NET_NONE)
                break;
            tried[best] = true;
            if ((good = cut_at(whole, best, asked, mixed == 1, branch, kept, found)))
                break;
        }
        free(tried);
    }
    free(branch);
    free(left);
    free(kept);
    free(clears);
    free(seen);
    return good;
}

void cut_free(cut *of)
{
    free(of->beyond);
    of->beyond = NULL;
}

tl_island *cut_make(tl_net *net, const tl_island *whole, const cut *of, const int *ohms, const int *volts,
                    int amperes)
{
    int *parts = tl_alloc((size_t)whole->part_count + CUT_WAYS_MOST + 1, sizeof *parts), count = 0;
    const tl_net_view view = net->view;
    for (int i = 0; i < whole->part_count; i++) {
        if (!of->beyond[i])
            parts[count++] = whole->parts[i].part;
    }
    tl_net_set_view(net, TL_VIEW_ASIDE);
    for (int i = 0; i < of->way_count; i++) {
        const int rail = tl_net_add_node(net, "beyond");
        tl_net_set_rail(net, rail,
                        volts[i] != TL_NET_NONE ? tl_net_of(volts[i]) : tl_net_fixed(of->ways[i].volts[1]));
        parts[count++] = tl_net_add_resistor(net, "beyond", rail, of->at, tl_net_of(ohms[i]));
    }
    if (amperes != TL_NET_NONE)
        parts[count++] = tl_net_add_current(net, "beyond", TL_NET_GROUND, of->at, tl_net_of(amperes));
    tl_net_set_view(net, view);
    tl_island *left = island_of(net, whole, parts, count);
    free(parts);
    return left;
}
