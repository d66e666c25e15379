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

/* `GND (2)`, `battery`: the node of a rail; TL_NET_NONE. */
static int rail_called(const tl_circuit *c, const char *end)
{
    for (int rail = TL_TO_GROUND; rail < c->plan->supply_count; rail++) {
        char name[WIRE_END];
        wiring_rail_end(c->plan, rail, name);
        if (strcmp(name, end) != 0)
            continue;
        if (rail == TL_TO_GROUND)
            return TL_NET_GROUND;
        return c->plan->supplies[rail].kind == TL_RAIL_SHARED ? tl_net_find_node(c->net, name)
                                                              : c->supply_rail[rail];
    }
    return TL_NET_NONE;
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

static bool is_end(const char *one, const char *other)
{
    return strcmp(one, other) == 0 && one[0] != '-';
}

/* From one row to another of the same group: what is called alike is one node. */
static bool along(const wire *a, wire_nets *one, const wire *b, wire_nets *other)
{
    bool more = false;
    if (!wires_belong_together(a, b))
        return false;
    if (is_end(a->from, b->from))
        more = put(&other->from, one->from) || more;
    if (is_end(a->from, b->to))
        more = put(&other->to, one->from) || more;
    if (is_end(a->to, b->from))
        more = put(&other->from, one->to) || more;
    if (is_end(a->to, b->to))
        more = put(&other->to, one->to) || more;
    return more;
}

/* Where a signal is read; of a pair both. */
static void put_pin(const tl_circuit *c, const wire *w, wire_nets *is)
{
    char end[WIRE_END];
    const tl_signal_nodes *nodes = &c->signals[w->index];
    const int pin = c->plan->signals[w->index].pin, second = c->plan->pins[pin].second;
    wire_pin_end(c->plan, wire_positive_of(c->plan, pin), end);
    if (strcmp(w->to, end) == 0)
        (void)put(&is->to, nodes->end);
    if (second == TL_NONE)
        return;
    wire_pin_end(c->plan, second, end);
    if (strcmp(w->to, end) == 0)
        (void)put(&is->to, nodes->negative);
}

static void begin(const tl_circuit *c, const wiring *list, wire_nets *nets)
{
    for (int i = 0; i < list->count; i++) {
        const wire *w = &list->wires[i];
        nets[i] = (wire_nets){.from = rail_called(c, w->from), .to = rail_called(c, w->to)};
        if (w->kind != WIRED_SIGNAL)
            continue;
        put_pin(c, w, &nets[i]);
        const tl_source *source = &c->plan->signals[w->index].source;
        if (source->kind == TL_SOURCE_RAIL && nets[i].from == c->supply_rail[source->supply])
            nets[i].from = c->signals[w->index].source; /* the point that it reads */
    }
}

static const char *end_of(const wiring *list, int end)
{
    return end % 2 == 0 ? list->wires[end / 2].from : list->wires[end / 2].to;
}

/* Pins and supplies are the same for all groups. */
static bool same_net(const tl_circuit *c, const wiring *list, int one, int other)
{
    const char *a = end_of(list, one), *b = end_of(list, other);
    if (strcmp(a, b) != 0 || a[0] == '-')
        return false;
    return strchr(a, '(') != NULL || rail_called(c, a) != TL_NET_NONE ||
           wires_belong_together(&list->wires[one / 2], &list->wires[other / 2]);
}

static int *like_of(wire_nets *nets, int end)
{
    return &nets[end / 2].like[end % 2];
}

static void find_nets(const tl_circuit *c, const wiring *list, wire_nets *nets)
{
    for (int end = 0; end < 2 * list->count; end++) {
        *like_of(nets, end) = end;
        const wire *w = &list->wires[end / 2];
        const bool is_wire = end % 2 == 1 && w->path[0] == '\0' && strncmp(w->part, "wire", 4) == 0;
        for (int other = 0; other < end; other++) {
            const bool joins = same_net(c, list, end, other) || (is_wire && other == end - 1);
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
    find_nets(circuit, list, nets);
    return nets;
}
