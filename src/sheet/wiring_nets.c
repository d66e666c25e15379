/* SPDX-License-Identifier: MIT */
/*
 * A part's ends are those of the circuit; a rail is known by its name, a pin by the signal that it reads. A
 * wire has one node at both ends, and within one signal a name is one node: what is known is handed on along
 * both until nothing new comes.
 */
#include "sheet/wiring_nets.h"
#include "base/memory.h"
#include "elaborate/circuit_struct.h"
#include "sheet/wiring_rows.h"
#include <stdlib.h>
#include <string.h>

/* The node of a rail; TL_NET_NONE. */
static int rail_node(const tl_circuit *c, const wire_end *end)
{
    if (end->kind != END_RAIL)
        return TL_NET_NONE;
    if (end->index == TL_TO_GROUND)
        return TL_NET_GROUND;
    return c->plan->supplies[end->index].kind == TL_RAIL_SHARED
               ? tl_net_find_node(c->net, c->plan->supplies[end->index].name)
               : c->supply_rail[end->index];
}

static const tl_plan_part *part_of(const tl_circuit *c, const wire *w)
{
    for (int i = 0; w->path[0] != '\0' && i < c->parts.count; i++) {
        if (strcmp(c->parts.part[i].path, w->path) == 0)
            return &c->parts.part[i];
    }
    return NULL;
}

static bool put(int *at, int node)
{
    if (node == TL_NET_NONE || *at != TL_NET_NONE)
        return false;
    *at = node;
    return true;
}

static bool put_both(wire_nets *is, int from, int to)
{
    const bool one = put(&is->from, from), other = put(&is->to, to);
    return one || other;
}

/* Of a part one end gives the other. */
static bool across(const tl_plan_part *part, wire_nets *is)
{
    if (is->from == part->a || is->to == part->b)
        return put_both(is, part->a, part->b);
    if (is->from == part->b || is->to == part->a)
        return put_both(is, part->b, part->a);
    return false;
}

/* From one row to another of the same group: what is called alike is one node. */
static bool along(const wire *a, wire_nets *one, const wire *b, wire_nets *other)
{
    const wire_end *const ends[] = {&a->from, &a->to}, *const others[] = {&b->from, &b->to};
    int *const nodes[] = {&one->from, &one->to}, *const there[] = {&other->from, &other->to};
    bool more = false;
    for (int i = 0; i < 4; i++) {
        if ((ends[i / 2]->kind == END_POINT || ends[i / 2]->kind == END_BEHIND) &&
            wire_ends_alike(a, ends[i / 2], b, others[i % 2]))
            more = put(there[i % 2], *nodes[i / 2]) || more;
    }
    return more;
}

/* Where a signal is read; of a pair both. */
static void put_pin(const tl_circuit *c, const wire *w, wire_nets *is)
{
    const tl_signal_nodes *nodes = &c->signals[w->index];
    const int pin = c->plan->signals[w->index].pin, second = c->plan->pins[pin].second;
    if (w->to.kind != END_PIN)
        return;
    if (w->to.index == wire_positive_of(c->plan, pin))
        (void)put(&is->to, nodes->end);
    else if (w->to.index == second)
        (void)put(&is->to, nodes->negative);
}

static void begin(const tl_circuit *c, const wiring *list, wire_nets *nets)
{
    for (int i = 0; i < list->count; i++) {
        const wire *w = &list->wires[i];
        nets[i] = (wire_nets){.from = rail_node(c, &w->from), .to = rail_node(c, &w->to)};
        if (w->kind != WIRED_SIGNAL)
            continue;
        put_pin(c, w, &nets[i]);
        const tl_source *source = &c->plan->signals[w->index].source;
        if (source->kind == TL_SOURCE_RAIL && nets[i].from == c->supply_rail[source->supply])
            nets[i].from = c->signals[w->index].source; /* the point that it reads */
    }
}

static const wire_end *end_of(const wiring *list, int end)
{
    return end % 2 == 0 ? &list->wires[end / 2].from : &list->wires[end / 2].to;
}

static int *like_of(wire_nets *nets, int end)
{
    return &nets[end / 2].like[end % 2];
}

static void find_nets(const wiring *list, wire_nets *nets)
{
    for (int end = 0; end < 2 * list->count; end++) {
        *like_of(nets, end) = end;
        const wire *w = &list->wires[end / 2];
        const bool is_wire = end % 2 == 1 && w->path[0] == '\0' && strncmp(w->part, "wire", 4) == 0;
        for (int other = 0; other < end; other++) {
            const bool joins =
                wire_ends_alike(w, end_of(list, end), &list->wires[other / 2], end_of(list, other)) ||
                (is_wire && other == end - 1);
            const int from = *like_of(nets, end), to = *like_of(nets, other), least = from < to ? from : to,
                      most = from < to ? to : from;
            for (int k = 0; joins && k <= end; k++) {
                if (*like_of(nets, k) == most)
                    *like_of(nets, k) = least;
            }
        }
    }
}

wire_nets *wiring_nets(tl_circuit *circuit, const wiring *list)
{
    wire_nets *nets = tl_alloc((size_t)list->count + 1, sizeof *nets);
    begin(circuit, list, nets);
    for (bool more = true; more;) {
        more = false;
        for (int i = 0; i < list->count; i++) {
            const wire *w = &list->wires[i];
            const tl_plan_part *part = part_of(circuit, w);
            if (part != NULL && part->a != TL_NONE && part->b != TL_NONE && part->contact == TL_NONE)
                more = across(part, &nets[i]) || more;
            else if (w->path[0] == '\0' && strncmp(w->part, "wire", 4) == 0)
                more = put(&nets[i].from, nets[i].to) || put(&nets[i].to, nets[i].from) || more;
            for (int k = 0; k < list->count; k++)
                more = along(w, &nets[i], &list->wires[k], &nets[k]) || more;
        }
    }
    find_nets(list, nets);
    return nets;
}
