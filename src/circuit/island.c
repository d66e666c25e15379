/* SPDX-License-Identifier: MIT */
/* An island: the connected parts of a net, and figures of one state of it. */
#include "base/memory.h"
#include "circuit/elements.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/* Gives a node the next local number, count being how many there are. */
static void append_node(tl_island *island, int node, int count)
{
    island->nodes = tl_grow(island->nodes, (size_t)count, sizeof *island->nodes);
    island->nodes[count] = node;
    island->local[node] = count;
}

static void take_param(tl_island *island, int param)
{
    for (int i = 0; i < island->param_count || param == TL_NET_NONE; i++) {
        if (param == TL_NET_NONE || island->params[i] == param)
            return;
    }
    island->params = tl_grow(island->params, (size_t)island->param_count, sizeof *island->params);
    island->params[island->param_count++] = param;
}

static void take_params(tl_island *island)
{
    for (int i = 0; i < island->part_count; i++) {
        const net_part *part = &island->net->parts[island->parts[i].part];
        if (!part->is->at_rest)
            continue;
        take_param(island, part->value.first);
        take_param(island, part->value.second);
        if (part->is->has_gain)
            take_param(island, part->gain.first);
        if (part->value.extra != 0)
            take_param(island, part->value.third);
    }
    for (int i = 0; i < island->rails; i++) {
        const tl_net_value *volts = &island->net->nodes[island->nodes[island->size + i]].volts;
        take_param(island, volts->first);
        take_param(island, volts->second);
        if (volts->extra != 0)
            take_param(island, volts->third);
    }
}

/* Most parts are one parameter's, and always there: what is asked of them in every corner is found out once.
 */
static void find_simple(const tl_island *island, island_part *p)
{
    const net_part *part = &island->net->parts[p->part];
    const tl_net_value *value = &part->value;
    p->always = part->gate == TL_WHEN_ALWAYS && part->open_fault == TL_NET_NONE && part->is->mode == NULL;
    p->simple = value->second == TL_NET_NONE && value->extra == 0;
    p->param = value->first;
    p->times = value->factor * (value->constant + value->slope);
}

void island_complete(tl_island *island)
{
    for (int i = 0; i < island->part_count; i++)
        find_simple(island, &island->parts[i]);
    for (int i = 0; i < island->part_count; i++) {
        const element *is = net_part_of(island, i)->is;
        if (is->at_rest) {
            island->active = tl_grow(island->active, (size_t)island->active_count, sizeof *island->active);
            island->active[island->active_count++] = i;
        }
        if (is->mode != NULL) {
            island->bends = tl_grow(island->bends, (size_t)island->bend_count, sizeof *island->bends);
            island->bends[island->bend_count++] = i;
        }
    }
    take_params(island);
    nodal_alloc(&island->work, island);
    island->right = tl_alloc((size_t)island->size * (TL_FIGURES_MOST + 1), sizeof *island->right);
}

/* The parts at a node, one after the other: first with part = TL_NET_NONE. */
static int next_part(const tl_net *net, int node, int part)
{
    if (part == TL_NET_NONE)
        return net->nodes[node].first_part;
    return net->parts[part].next_at[net->parts[part].a == node ? 0 : 1];
}

static void take_part(tl_island *island, int part)
{
    const net_part *taken = &island->net->parts[part];
    island->parts = tl_grow(island->parts, (size_t)island->part_count, sizeof *island->parts);
    island->parts[island->part_count++] =
        (island_part){.part = part, .a = island->local[taken->a], .b = island->local[taken->b]};
}

/* Whether a part leads on: not where it is in the other view only, and not where it lies on a route that is
 * open. closed may be NULL. */
static bool leads_on(const tl_island *island, int part, const bool *closed)
{
    const net_part *p = &island->net->parts[part];
    if (p->left_out || !in_view(p->view, island->view))
        return false;
    return closed == NULL || p->gate != TL_WHEN_CLOSED || !island->net->routes[p->contact] ||
           closed[p->contact];
}

/* The node that most parts are connected to. */
static int hub_of(const tl_island *island)
{
    int hub = 0, most = -1;
    for (int i = 0; i < island->size; i++) {
        int parts = 0;
        for (int part = next_part(island->net, island->nodes[i], TL_NET_NONE); part != TL_NET_NONE;
             part = next_part(island->net, island->nodes[i], part))
            parts++;
        if (parts > most) {
            most = parts;
            hub = i;
        }
    }
    return hub;
}

/*
 * Numbers the nodes so that each comes behind what is connected to it, seen from the hub, which comes last:
 * chains and stars are then solved without filling up (envelope_solve()).
 */
static void number_inwards(tl_island *island, const bool *closed)
{
    const tl_net *net = island->net;
    const size_t size = (size_t)island->size;
    int *order = tl_alloc(size, sizeof *order), *stack = tl_alloc(size, sizeof *stack),
        *at = tl_alloc(size, sizeof *at), depth = 1, done = 0;
    bool *seen = tl_alloc(size, sizeof *seen);
    for (int i = 0; i < island->size; i++)
        at[i] = TL_NET_NONE;
    stack[0] = hub_of(island);
    seen[stack[0]] = true;
    while (depth > 0) {
        const int local = stack[depth - 1], node = island->nodes[local];
        const int part = at[local] = next_part(net, node, at[local]);
        if (part == TL_NET_NONE) {
            order[done++] = node;
            depth--;
            continue;
        }
        const int other = island->local[net->parts[part].a == node ? net->parts[part].b : net->parts[part].a];
        if (other == TL_NET_NONE || seen[other] || !leads_on(island, part, closed))
            continue;
        seen[other] = true;
        stack[depth++] = other;
    }
    for (int i = 0; i < done; i++) {
        island->nodes[i] = order[i];
        island->local[order[i]] = i;
    }
    free(order);
    free(stack);
    free(at);
    free(seen);
}

static tl_island *new_island(const tl_net *net, tl_net_view view, int node, const bool *closed)
{
    tl_island *island = tl_alloc(1, sizeof *island);
    island->net = net;
    island->view = view;
    island->node_count = net->node_count;
    island->local = tl_alloc((size_t)net->node_count, sizeof *island->local);
    for (int i = 0; i < net->node_count; i++)
        island->local[i] = TL_NET_NONE;

    /* Spread from the node over every part, not through rails; then take the rails, then the parts, each
     * once. */
    append_node(island, node, 0);
    island->size = 1;
    for (int looked = 0; looked < island->size; looked++) {
        const int at = island->nodes[looked];
        for (int part = next_part(net, at, TL_NET_NONE); part != TL_NET_NONE;
             part = next_part(net, at, part)) {
            const int other = net->parts[part].a == at ? net->parts[part].b : net->parts[part].a;
            if (net->nodes[other].is_rail || island->local[other] != TL_NET_NONE ||
                !leads_on(island, part, closed))
                continue;
            append_node(island, other, island->size);
            island->size++;
        }
    }
    number_inwards(island, closed);
    for (int i = 0; i < island->size; i++) {
        const int at = island->nodes[i];
        for (int part = next_part(net, at, TL_NET_NONE); part != TL_NET_NONE;
             part = next_part(net, at, part)) {
            const int other = net->parts[part].a == at ? net->parts[part].b : net->parts[part].a;
            if (!leads_on(island, part, closed))
                continue;
            if (net->nodes[other].is_rail && island->local[other] == TL_NET_NONE) {
                append_node(island, other, island->size + island->rails);
                island->rails++;
            }
            if (net->nodes[other].is_rail || net->parts[part].a == at)
                take_part(island, part);
        }
    }
    island_complete(island);
    return island;
}

tl_island *tl_island_new(const tl_net *net, tl_net_view view, int node)
{
    return new_island(net, view, node, NULL);
}

tl_island *tl_island_new_along(const tl_net *net, int node, const bool *closed)
{
    return new_island(net, TL_VIEW_BELIEVED, node, closed);
}

void tl_island_free(tl_island *island)
{
    if (island == NULL)
        return;
    tl_island_free(island->narrow);
    nodal_free(&island->work);
    nodal_free(&island->in_time);
    free(island->params);
    free(island->active);
    free(island->kept);
    free(island->bends);
    free(island->right);
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
    const int local = node < island->node_count ? island->local[node] : TL_NET_NONE;
    return local < island->size ? local : TL_NET_NONE;
}

bool tl_island_touches(const tl_island *island, int node)
{
    return node < island->node_count && island->local[node] != TL_NET_NONE;
}

bool tl_island_has_part(const tl_island *island, int part)
{
    for (int i = 0; i < island->part_count; i++) {
        if (island->parts[i].part == part)
            return true;
    }
    return false;
}

tl_island *tl_island_narrow(tl_island *island)
{
    return island->narrow != NULL ? island->narrow : island;
}

void tl_island_rails(const tl_island *island, const double *values, double *lowest, double *highest)
{
    *lowest = *highest = 0;
    for (int i = island->size; i < island->size + island->rails; i++) {
        const double volts = tl_net_value_at(island->net->nodes[island->nodes[i]].volts, values);
        *lowest = fmin(*lowest, volts);
        *highest = fmax(*highest, volts);
    }
}

const int *tl_island_params(const tl_island *island, int *count)
{
    *count = island->param_count;
    return island->params;
}

bool tl_island_has_param(const tl_island *island, int param)
{
    for (int i = 0; i < island->param_count; i++) {
        if (island->params[i] == param)
            return true;
    }
    return false;
}

void tl_island_mark_contacts(const tl_island *island, bool *marked)
{
    for (int i = 0; i < island->part_count; i++) {
        const net_part *part = &island->net->parts[island->parts[i].part];
        if (part->gate != TL_WHEN_ALWAYS)
            marked[part->contact] = true;
        if (part->open_fault != TL_NET_NONE)
            marked[part->open_fault] = true;
    }
}

/* --- figures of one state --- */

/* From a to b; a part across a floating class carries nothing that can be known. */
static double part_amperes(const tl_island *island, const nodal *equations, int i)
{
    const net_part *part = net_part_of(island, i);
    const int a = equations->class_of[island->parts[i].a], b = equations->class_of[island->parts[i].b];
    if (!equations->present[i] || part->is->amperes == NULL)
        return 0;
    const bool known = a != b && class_defined(equations, a) && class_defined(equations, b);
    return part->is->amperes(equations->value[i],
                             known ? class_volts(equations, a) - class_volts(equations, b) : NAN);
}

/*
 * Out of a rail. Zero ohms may join other nodes to it, so the sum runs over its whole class, less what other
 * ways would bring in there: only parts that leave the class count, each once.
 */
static double rail_amperes(const tl_island *island, const nodal *equations, int rail)
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
            sum += part_amperes(island, equations, i);
        else if (b == cls)
            sum -= part_amperes(island, equations, i);
    }
    return sum;
}

static double part_figure(const tl_island *island, const nodal *equations, tl_figure figure)
{
    for (int i = 0; i < island->part_count; i++) {
        if (island->parts[i].part != figure.of)
            continue;
        const double amperes = part_amperes(island, equations, i);
        return figure.kind == TL_FIGURE_PART_WATTS ? amperes * amperes * equations->value[i] : amperes;
    }
    return 0;
}

static bool is_of_node(tl_figure figure)
{
    return figure.kind == TL_FIGURE_VOLTS || figure.kind == TL_FIGURE_SHARE ||
           figure.kind == TL_FIGURE_SOURCE_OHMS;
}

/* Puts a unit current into the node of every source resistance that is asked for: one more column each. */
static tl_net_status add_probes(const tl_island *island, nodal *equations, const tl_figure *figures,
                                int count, double *right, int *more)
{
    *more = 0;
    for (int f = 0; f < count; f++) {
        if (!is_of_node(figures[f]))
            continue;
        const int cls = equations->class_of[island->local[figures[f].of]], row = equations->row_of[cls];
        if (!class_defined(equations, cls))
            return TL_NET_FLOATING;
        if (figures[f].kind != TL_FIGURE_SOURCE_OHMS || row == TL_NET_NONE)
            continue;
        double *column = right + (size_t)equations->rows * (size_t)(1 + (*more)++);
        memset(column, 0, (size_t)equations->rows * sizeof *column);
        column[row] = equations->held[cls] ? 0 : 1; /* no current moves a follower's output */
    }
    return TL_NET_SOLVED;
}

/* Ground need not be part of the island. */
static double volts_against(const tl_island *island, const nodal *equations, int node)
{
    const int local = node == TL_NET_GROUND ? TL_NET_NONE : island->local[node];
    return local == TL_NET_NONE ? 0 : class_volts(equations, equations->class_of[local]);
}

/* Solves the state of the parts whose current bends, and the probes with it. */
static tl_net_status solve_state(tl_island *island, const tl_net_state *state, const tl_figure *figures,
                                 int count, int *more)
{
    nodal *equations = &island->work;
    tl_net_status fault = TL_NET_SOLVED;
    bool turned = true;
    for (int round = 0; turned && fault == TL_NET_SOLVED; round++) {
        fault = nodal_fill(equations, island, state, false);
        if (fault == TL_NET_SOLVED)
            fault = add_probes(island, equations, figures, count, island->right, more);
        if (fault == TL_NET_SOLVED)
            fault = nodal_solve(equations, island->right, *more);
        turned = island->bend_count > 0 && fault == TL_NET_SOLVED &&
                 nodal_turn(island, state, round < TURNS_TOGETHER);
        if (turned && round == nodal_rounds(island))
            fault = TL_NET_SINGULAR;
    }
    return fault;
}

static bool any_tapers(const tl_island *island)
{
    bool any = false;
    for (int k = 0; k < island->bend_count; k++)
        any = any || island->work.mode[island->bends[k]] == MODE_TAPER;
    return any;
}

static double ohms_of(const tl_island *island, const nodal *equations, const tl_figure *figure, int *probe)
{
    const int row = equations->row_of[equations->class_of[island->local[figure->of]]];
    return row == TL_NET_NONE ? 0 : island->right[equations->rows * (1 + (*probe)++) + row];
}

tl_net_status tl_island_figures(tl_island *island, const tl_net_state *state, const tl_figure *figures,
                                int count, double *results)
{
    nodal *equations = &island->work;
    int more = 0, probe = 0;
    tl_net_status fault = solve_state(island, state, figures, count, &more);
    for (int f = 0; f < count && fault == TL_NET_SOLVED; f++) {
        const tl_figure figure = figures[f];
        if (figure.kind == TL_FIGURE_VOLTS || figure.kind == TL_FIGURE_SHARE)
            results[f] = class_volts(equations, equations->class_of[island->local[figure.of]]) -
                         volts_against(island, equations, figure.against);
        else if (figure.kind == TL_FIGURE_RAIL_AMPERES)
            results[f] = rail_amperes(island, equations, figure.of);
        else if (figure.kind != TL_FIGURE_SOURCE_OHMS)
            results[f] = part_figure(island, equations, figure);
    }
    if (more > 0 && fault == TL_NET_SOLVED && any_tapers(island)) { /* what leaks is no resistance */
        equations->no_taper = true;
        fault = nodal_fill(equations, island, state, false);
        if (fault == TL_NET_SOLVED)
            fault = add_probes(island, equations, figures, count, island->right, &more);
        if (fault == TL_NET_SOLVED)
            fault = nodal_solve(equations, island->right, more);
        equations->no_taper = false;
    }
    for (int f = 0; f < count && fault == TL_NET_SOLVED; f++) {
        if (figures[f].kind == TL_FIGURE_SOURCE_OHMS)
            results[f] = ohms_of(island, equations, &figures[f], &probe);
        if (!isfinite(results[f]))
            fault = TL_NET_SINGULAR;
        const double less = tl_net_value_at(figures[f].less, state->values);
        results[f] = figures[f].kind == TL_FIGURE_SHARE ? results[f] / less : results[f] - less;
    }
    return fault;
}

void tl_island_blame(tl_island *island, const tl_net_state *state, char *text, size_t size)
{
    nodal *equations = &island->work;
    const tl_net_status fault = nodal_fill(equations, island, state, false);
    snprintf(text, size, "%s", tl_net_status_text(fault));
    for (int i = island->size; fault == TL_NET_SHORTED && i < island->size + island->rails; i++) {
        for (int j = island->size; j < i; j++) {
            const net_node *a = &island->net->nodes[island->nodes[j]],
                           *b = &island->net->nodes[island->nodes[i]];
            if (equations->class_of[i] == equations->class_of[j] &&
                tl_net_value_at(a->volts, state->values) != tl_net_value_at(b->volts, state->values)) {
                snprintf(text, size, "%s and %s are joined by 0 ohm", a->name, b->name);
                return;
            }
        }
    }
}

tl_net_status tl_island_figure(tl_island *island, const tl_net_state *state, tl_figure figure, double *result)
{
    double value;
    const tl_net_status fault = tl_island_figures(island, state, &figure, 1, &value);
    if (fault == TL_NET_SOLVED)
        *result = value;
    return fault;
}
