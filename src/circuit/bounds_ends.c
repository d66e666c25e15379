/* SPDX-License-Identifier: MIT */
/*
 * Parameters whose worst end is known without trying both.
 *
 * Source resistances need no corners at all. In a network of resistors the resistance seen from a node never
 * falls as one of them grows (Rayleigh's law), so nearly every parameter has an end at which it is most and
 * another at which it is least. One that makes some resistors larger and others smaller, as the travel of a
 * wiper does, is looked at inside its span: the resistance seen is concave in all resistances, since it is
 * the least power that a current of one ampere can take, so it is least at an end and has one largest value
 * at most.
 *
 * Volts rise everywhere, or stay, as more current flows into any node and as any rail rises: resistors, and
 * parts whose current grows with the volts across them, have no other way. So all that only pushes stands at
 * one end together where a node is highest, and at the other where it is lowest.
 */
#include "base/memory.h"
#include "circuit/bounds_internal.h"
#include "circuit/elements.h"
#include <math.h>
#include <stdlib.h>

static int way_of_sign(double one, double other)
{
    return (fmax(one, other) > 0 ? WAY_UP : 0) | (fmin(one, other) < 0 ? WAY_DOWN : 0);
}

/* Which way a parameter moves a value over all spans; 0 for not at all. */
static int way_of(const tl_net *net, const tl_net_value *value, int param)
{
    const net_param *first = value->first != TL_NET_NONE ? &net->params[value->first] : NULL,
                    *second = value->second != TL_NET_NONE ? &net->params[value->second] : NULL;
    int way = 0;
    if (value->first == param)
        way |= way_of_sign(
            value->factor * (value->constant + value->slope * (second != NULL ? second->low : 1)),
            value->factor * (value->constant + value->slope * (second != NULL ? second->high : 1)));
    if (value->second == param)
        way |= way_of_sign(value->factor * value->slope * (first != NULL ? first->low : 1),
                           value->factor * value->slope * (first != NULL ? first->high : 1));
    if (value->third == param)
        way |= way_of_sign(value->extra, value->extra);
    return way;
}

static int turned(int way)
{
    return way == WAY_UP ? WAY_DOWN : way == WAY_DOWN ? WAY_UP : way;
}

/* Which way a parameter of a part pushes the volts of nodes. */
static int push_of_part(const tl_island *island, int i, int param)
{
    const net_part *part = net_part_of(island, i);
    const tl_net *net = island->net;
    const int way =
        way_of(net, &part->value, param) | (part->is->has_gain ? way_of(net, &part->gain, param) : 0);
    if (way == 0 || !part->is->at_rest)
        return 0;
    if (!part->is->pushes || net->nodes[part->a].is_rail == net->nodes[part->b].is_rail)
        return WAY_BOTH;
    return net->nodes[part->a].is_rail ? way : turned(way);
}

int tl_island_push(const tl_island *island, int param)
{
    int way = 0;
    for (int i = 0; i < island->part_count && way != WAY_BOTH; i++) {
        if (net_part_of(island, i)->is->hold != NULL)
            return 0;
        way |= push_of_part(island, i, param);
    }
    for (int i = island->size; i < island->size + island->rails; i++)
        way |= way_of(island->net, &island->net->nodes[island->nodes[i]].volts, param);
    return way == WAY_UP ? 1 : way == WAY_DOWN ? -1 : 0;
}

/* Which way each listed parameter moves the resistors of the island, all in one look at them. */
static void find_ways(const search *s, int ways[PARAMS_MOST])
{
    const tl_net_state state = {s->values, s->closed};
    const tl_net *net = s->island->net;
    int *all = tl_alloc((size_t)net->param_count, sizeof *all);
    for (int i = 0; i < s->island->part_count; i++) {
        const net_part *part = net_part_of(s->island, i);
        const tl_net_value *value = &part->value;
        const int of[3] = {value->first, value->second, value->extra != 0 ? value->third : TL_NET_NONE};
        if (!part->is->is_ohms || !part_present(part, s->island->view, &state))
            continue;
        for (int k = 0; k < 3; k++) {
            if (of[k] != TL_NET_NONE)
                all[of[k]] |= way_of(net, value, of[k]);
        }
    }
    for (int i = 0; i < s->listed_count; i++)
        ways[i] = all[s->listed[i]];
    free(all);
}

bool ohms_need_no_corners(const search *s)
{
    const tl_net_state state = {s->values, s->closed};
    int ways[PARAMS_MOST], both = 0;
    for (int i = 0; i < s->island->part_count; i++) {
        const net_part *part = net_part_of(s->island, i);
        if ((part->is->lopsided || (part->is->turns && !s->island->work.all_lit) || part->is->hold != NULL) &&
            part_present(part, s->island->view, &state))
            return false;
    }
    find_ways(s, ways);
    for (int i = 0; i < s->listed_count; i++)
        both += ways[i] == WAY_BOTH;
    return both <= TL_NET_SEARCHED;
}

tl_net_status bounds_of_ohms(search *s)
{
    tl_bounds *bounds = s->bounds;
    int ways[PARAMS_MOST];
    reach found;
    double nominal;
    const bool lit = s->island->work.all_lit;
    s->concave = true;
    s->island->work.all_lit = true; /* what leaks is no resistance */
    tl_net_status fault = search_figures(s, &nominal);
    *bounds = (tl_bounds){.low = INFINITY, .nominal = nominal, .high = -INFINITY};
    find_ways(s, ways);
    for (int i = 0; i < s->listed_count; i++) {
        if (ways[i] != 0 && bounds->params < TL_NET_LISTED)
            bounds->param[bounds->params++] = s->listed[i];
        if (ways[i] == WAY_BOTH)
            s->searched[s->searched_count++] = s->listed[i];
    }
    for (int most = 0; most < 2 && fault == TL_NET_SOLVED; most++) {
        for (int i = 0; i < s->listed_count; i++) {
            const net_param *span = &s->island->net->params[s->listed[i]];
            s->values[s->listed[i]] = (ways[i] == WAY_UP) == (most == 1) ? span->high : span->low;
        }
        fault = search_inside(s, 0, &found);
    }
    s->island->work.all_lit = lit;
    bounds->attained_low = bounds->low;
    bounds->attained_high = bounds->high;
    return fault;
}
