/* SPDX-License-Identifier: MIT */
/*
 * An island that too much is connected to, cut at a node that all of it leads through. What lies beyond such
 * a node acts on the rest as the resistors and voltages that it shows there (Thevenin), each branch by
 * itself. Their bounds come from the branches alone; side by side they are one resistor of the sum of the
 * conductances, behind a voltage between the least and the largest. That holds all that the branches can do
 * together, and a little more: what they share with the rest is released.
 */
#include "circuit/cut.h"
#include "base/memory.h"
#include "circuit/elements.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

/* --- what is connected beside a node --- */

static int find(int *of, int node)
{
    while (of[node] != node)
        node = of[node] = of[of[node]];
    return node;
}

/* Of each node the branch that it is in when `at` is taken out. */
static void find_branches(const tl_island *whole, int at, int *branch)
{
    for (int i = 0; i < whole->size; i++)
        branch[i] = i;
    for (int i = 0; i < whole->part_count; i++) {
        const int a = whole->parts[i].a, b = whole->parts[i].b;
        if (a < whole->size && b < whole->size && a != at && b != at && cut_couples(net_part_of(whole, i)))
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

/* This many parameters vary in what stays. */
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

/* --- branches side by side --- */

/* The way of branches on such a rail; NULL where there are too many. */
static cut_way *way_of(cut *found, int rail)
{
    for (int i = 0; i < found->way_count; i++) {
        if (found->ways[i].rail == rail)
            return &found->ways[i];
    }
    if (found->way_count == CUT_WAYS_MOST)
        return NULL;
    found->ways[found->way_count] = (cut_way){.volts = {INFINITY, 0, -INFINITY}, .rail = rail};
    return &found->ways[found->way_count++];
}

/* Sums up in siemens and amperes. False where it is not usable, or stands between different rails and that is
 * not wanted. */
static bool add_branch(const cut_branch *shown, bool mixed, cut *found)
{
    if (!shown->usable)
        return false;
    for (int i = 0; i < 3; i++)
        found->amperes[i] += shown->amperes[i];
    found->is_at_rest = found->is_at_rest && !shown->drives;
    found->is_in_time = found->is_in_time && !shown->drives && !shown->stores;
    if (isinf(shown->ohms[0]))
        return true; /* nothing leads from there to a rail */
    cut_way *way = shown->between && !mixed ? NULL : way_of(found, shown->rail);
    if (way == NULL)
        return false;
    found->is_at_rest = found->is_at_rest && way->rail != TL_NET_NONE;
    way->volts[0] = fmin(way->volts[0], shown->volts[0]);
    way->volts[1] += shown->volts[1] / shown->ohms[1];
    way->volts[2] = fmax(way->volts[2], shown->volts[2]);
    for (int i = 0; i < 3; i++)
        way->ohms[i] += 1 / shown->ohms[i];
    return true;
}

/* While one looks for a place: what is cut, and which branches are connected to the place that is looked at.
 */
typedef struct {
    const tl_island *whole;
    const cut_question *asked;
    int *branch; /* of each node */
    bool *kept;  /* of each branch, by its first node */
} cutting;

static bool add_branches(const cutting *w, int at, bool mixed, cut *found)
{
    const tl_island *whole = w->whole;
    const int *branch = w->branch;
    int *parts = tl_alloc((size_t)whole->part_count, sizeof *parts);
    bool good = true;
    for (int b = 0; b < whole->size && good; b++) {
        int count = 0;
        bool touches = false;
        if (branch[b] != b || b == at || w->kept[b])
            continue;
        for (int i = 0; i < whole->part_count; i++) {
            if (branch_of_part(whole, at, branch, i) != b)
                continue;
            touches = touches || whole->parts[i].a == at || whole->parts[i].b == at;
            parts[count++] = whole->parts[i].part;
        }
        if (touches)
            good = add_branch(cut_look(w->asked, whole, whole->nodes[at], parts, count), mixed, found);
    }
    free(parts);
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
static bool cut_at(const cutting *w, int at, bool mixed, cut *found)
{
    const tl_island *whole = w->whole;
    *found = (cut){.at = whole->nodes[at], .is_at_rest = true, .is_in_time = true};
    find_branches(whole, at, w->branch);
    (void)mark_kept(whole, at, w->asked->keep, w->branch, w->kept);
    if (!add_branches(w, at, mixed, found))
        return false;
    for (int i = 0; i < found->way_count; i++)
        in_ohms(&found->ways[i]);
    found->beyond = tl_alloc((size_t)whole->part_count, sizeof *found->beyond);
    for (int i = 0; i < whole->part_count; i++) {
        const int of = branch_of_part(whole, at, w->branch, i);
        found->beyond[i] = of != TL_NET_NONE && !w->kept[of];
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

/* Places to cut, while one looks for the best. */
typedef struct {
    cutting work;
    int *left;            /* this many parameters stay; TL_NET_NONE: it is no place */
    bool *looked, *tried; /* of each place: is `left` known; was it of no use */
    bool *beyond;         /* another place cuts it off as well */
    bool *clears, *seen;  /* no contact stays that may be either; room for counting */
} places;

/* Finds the branches there; false where it is no place. */
static bool look_at_place(places *p, int at)
{
    const cutting *w = &p->work;
    find_branches(w->whole, at, w->branch);
    const bool is_one = mark_kept(w->whole, at, w->asked->keep, w->branch, w->kept);
    if (is_one && !p->looked[at]) {
        p->left[at] = count_params(w->whole, at, w->branch, w->kept, p->seen);
        p->clears[at] = p->left[at] <= TL_NET_CORNER_PARAMS &&
                        !keeps_a_contact(w->whole, at, w->asked, w->branch, w->kept);
    }
    p->looked[at] = true;
    return is_one;
}

/* Those nearest to the nodes that must stay, but for those of no use. */
static void look_at_nearest(places *p, const int *order, int reached)
{
    memset(p->beyond, 0, (size_t)p->work.whole->size * sizeof *p->beyond);
    for (int i = 0; i < reached; i++) {
        const int at = order[i];
        if (p->beyond[at] || p->tried[at] || (p->looked[at] && p->left[at] == TL_NET_NONE) ||
            !look_at_place(p, at))
            continue;
        for (int node = 0; node < p->work.whole->size; node++)
            p->beyond[node] = p->beyond[node] || (node != at && !p->work.kept[p->work.branch[node]]);
    }
}

/* From the nodes that must stay outwards. */
static int order_outwards(const tl_island *whole, const bool *keep, int *order)
{
    bool *reached = tl_alloc((size_t)whole->size, sizeof *reached);
    int count = 0;
    for (int i = 0; i < whole->size; i++) {
        reached[i] = keep[whole->nodes[i]];
        if (reached[i])
            order[count++] = i;
    }
    for (bool grew = true; grew;) {
        grew = false;
        for (int i = 0; i < whole->part_count; i++) {
            const int a = whole->parts[i].a, b = whole->parts[i].b;
            if (a >= whole->size || b >= whole->size || reached[a] == reached[b] ||
                !cut_couples(net_part_of(whole, i)))
                continue;
            order[count++] = reached[a] ? b : a;
            reached[a] = reached[b] = grew = true;
        }
    }
    free(reached);
    return count;
}

/* The one that leaves least, of those not tried yet; or most, of those that clear the contacts. */
static int best_place(const places *p, bool mixed)
{
    int best = TL_NET_NONE;
    for (int at = 0; at < p->work.whole->size; at++) {
        if (p->left[at] == TL_NET_NONE || p->tried[at] || (mixed ? !p->clears[at] : p->beyond[at]))
            continue;
        if (best == TL_NET_NONE || (mixed ? p->left[at] > p->left[best] : p->left[at] < p->left[best]))
            best = at;
    }
    return best;
}

/*
 * Of all places the one that leaves least: one that another one cuts off as well leaves more, so it is looked
 * at only when that was of no use. Between different rails a branch says little, so where that cannot be
 * helped it is the place that leaves most: close to the branch, with the rails that feed the node still
 * there.
 */
bool cut_find(const tl_island *whole, const cut_question *asked, cut *found)
{
    const size_t size = (size_t)whole->size;
    int *order = tl_alloc(size, sizeof *order), at;
    places p = {.work = {whole, asked, tl_alloc(size, sizeof(int)), tl_alloc(size, sizeof(bool))},
                .left = tl_alloc(size, sizeof(int)),
                .looked = tl_alloc(size, sizeof(bool)),
                .tried = tl_alloc(size, sizeof(bool)),
                .beyond = tl_alloc(size, sizeof(bool)),
                .clears = tl_alloc(size, sizeof(bool)),
                .seen = tl_alloc((size_t)whole->net->param_count, sizeof(bool))};
    const int reached = order_outwards(whole, asked->keep, order);
    bool good = false;
    for (int i = 0; i < whole->size; i++)
        p.left[i] = TL_NET_NONE;
    for (;;) {
        look_at_nearest(&p, order, reached);
        if ((at = best_place(&p, false)) == TL_NET_NONE)
            break;
        p.tried[at] = true;
        if ((good = cut_at(&p.work, at, false, found)))
            break;
    }
    memset(p.tried, 0, size * sizeof *p.tried);
    while (!good && (at = best_place(&p, true)) != TL_NET_NONE) {
        p.tried[at] = true;
        good = cut_at(&p.work, at, true, found);
    }
    free(order);
    free(p.work.branch);
    free(p.work.kept);
    free(p.left);
    free(p.looked);
    free(p.tried);
    free(p.beyond);
    free(p.clears);
    free(p.seen);
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
        int rail = of->ways[i].rail;
        if (rail == TL_NET_NONE) {
            rail = tl_net_add_node(net, "beyond");
            tl_net_set_rail(net, rail,
                            volts[i] != TL_NET_NONE ? tl_net_of(volts[i])
                                                    : tl_net_fixed(of->ways[i].volts[1]));
        }
        parts[count++] = tl_net_add_resistor(net, "beyond", rail, of->at, tl_net_of(ohms[i]));
    }
    if (amperes != TL_NET_NONE)
        parts[count++] = tl_net_add_current(net, "beyond", TL_NET_GROUND, of->at, tl_net_of(amperes));
    tl_net_set_view(net, view);
    tl_island *left = island_of_parts(net, whole, parts, count);
    free(parts);
    return left;
}
