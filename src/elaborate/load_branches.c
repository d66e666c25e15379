/*
 * What hangs on outputs, as believed: a lamp lets current through one way and keeps its volts, a pin that
 * drives has the resistance of its output. Each is behind a contact that is closed while its output is on,
 * and that no island goes through unless it is asked to.
 */
#include "base/memory.h"
#include "elaborate/elaborate.h"
#include <math.h>

static const double lamp_siemens = 1e4; /* of a lamp beyond its volts: what they stand for is exact */

static const tl_plan_part *find(const tl_circuit *c, int output, int leg, tl_part_role role, int *at)
{
    for (int i = 0; i < c->parts.count; i++) {
        const tl_plan_part *part = &c->parts.part[i];
        if (part->owner != TL_OWNED_BY_OUTPUT || part->index != output || part->leg != leg ||
            part->role != role)
            continue;
        *at = i;
        return part;
    }
    return NULL;
}

/* A pin as an output: its rail, or ground, behind at most what it drops at the current that it drives. */
static int driven_node(tl_circuit *c, int pin, bool high, const char *path)
{
    const tl_pin_limits *limits = &c->plan->pins[pin].limits;
    const tl_quantity *rail = &c->plan->supplies[limits->supply].volts;
    const double drop =
        high ? rail->high - tl_level_volts(limits->voh, rail->high) : tl_level_volts(limits->vol, rail->low);
    const double most = limits->drives > 0 && drop > 0 ? drop / limits->drives : 0;
    const int node = tl_net_add_node(c->net, path),
              end = high ? c->supply_node[limits->supply] : TL_NET_GROUND;
    const tl_quantity ohms = {0, most / 2, most, true};
    tl_net_add_resistor(c->net, path, node, end,
                        tl_net_of(add_param(c, path, ohms, TL_DIM_OHM, false, TL_CAUSE_SOURCE)));
    return node;
}

/* From one node to another, one behind the other; answers the contact. */
static int add_branch(tl_circuit *c, int output, int leg, int from, int to)
{
    static const tl_part_role in_the_way[] = {TL_PART_LAMP_SERIES, TL_PART_DRIVEN, TL_PART_LAMP};
    int contact = TL_NET_NONE, at;
    for (size_t i = 0; i < sizeof in_the_way / sizeof in_the_way[0]; i++) {
        if (find(c, output, leg, in_the_way[i], &at) == NULL)
            continue;
        tl_plan_part *part = &c->parts.part[at];
        const bool last =
            in_the_way[i] == TL_PART_LAMP || find(c, output, leg, TL_PART_LAMP, &(int){0}) == NULL;
        const int next = last ? to : tl_net_add_node(c->net, part->path);
        if (contact == TL_NET_NONE) {
            contact = tl_net_add_contact(c->net, part->path);
            tl_net_set_route(c->net, contact);
        }
        if (in_the_way[i] != TL_PART_LAMP) {
            tl_net_condition_part(c->net, place_part(c, part, part->path, from, next), TL_WHEN_CLOSED,
                                  contact);
        } else {
            part->param = add_param(c, part->path, part->value->value, TL_DIM_VOLT, true, TL_CAUSE_PART);
            part->a = from;
            part->b = next;
            tl_net_value back = tl_net_of(part->param);
            back.factor = lamp_siemens;
            part->net = tl_net_add_resistor(c->net, part->path, from, next, tl_net_fixed(1 / lamp_siemens));
            tl_net_condition_part(c->net, part->net, TL_WHEN_CLOSED, contact);
            tl_net_condition_part(c->net, tl_net_add_current(c->net, part->path, next, from, back),
                                  TL_WHEN_CLOSED, contact);
        }
        c->lit[at] = contact;
        from = next;
    }
    return contact;
}

static void add_control(tl_circuit *c, int output)
{
    const tl_plan_output *o = &c->plan->outputs[output];
    int at, at_pull;
    if (find(c, output, 0, TL_PART_CONTROL, &at) == NULL)
        return;
    tl_plan_part *series = &c->parts.part[at];
    const bool pull = find(c, output, 0, TL_PART_CONTROL_PULL, &at_pull) != NULL;
    const bool bipolar = o->driver.way == TL_DRIVER_BIPOLAR;
    char path[TL_PATH_LONGEST];
    const int contact = tl_net_add_contact(c->net, series->path);
    tl_net_set_route(c->net, contact);
    const int pin =
        driven_node(c, o->pins[0], true, path_of(path, c->plan->pins[o->pins[0]].name, "output", NULL));
    const int control = tl_net_add_node(c->net, path_of(path, o->name, "gate", NULL));
    tl_net_condition_part(c->net, place_part(c, series, series->path, pin, control), TL_WHEN_CLOSED, contact);
    c->lit[at] = contact;
    if (pull) { /* of an n-channel it stands at the pin, too: in front of its resistor */
        tl_plan_part *down = &c->parts.part[at_pull];
        tl_net_condition_part(c->net, place_part(c, down, down->path, control, TL_NET_GROUND), TL_WHEN_CLOSED,
                              contact);
        c->lit[at_pull] = contact;
    }
    if (!bipolar)
        return;
    const tl_quantity base = {tl_base_on_least, tl_base_on, tl_base_on_most, true};
    const int on = tl_net_add_node(c->net, path_of(path, o->name, "base", NULL));
    tl_net_set_rail(c->net, on, tl_net_of(add_param(c, path, base, TL_DIM_VOLT, true, TL_CAUSE_DROP)));
    tl_net_condition_part(c->net, tl_net_add_resistor(c->net, path, control, on, tl_net_fixed(0)),
                          TL_WHEN_CLOSED, contact);
}

void add_outputs(tl_circuit *c)
{
    char path[TL_PATH_LONGEST];
    c->lit = tl_alloc((size_t)c->parts.count + 1, sizeof *c->lit);
    for (int i = 0; i < c->parts.count; i++)
        c->lit[i] = TL_NET_NONE;
    tl_net_set_view(c->net, TL_VIEW_BELIEVED);
    for (int i = 0; i < c->plan->output_count; i++) {
        const tl_plan_output *o = &c->plan->outputs[i];
        if (o->driver.way != TL_DRIVER_NONE) {
            add_branch(c, i, 0, c->supply_node[o->driver.supply], TL_NET_GROUND);
            add_control(c, i);
            continue;
        }
        if (!o->lamp.given)
            continue;
        if (o->pin_count == 0)
            add_branch(c, i, 0, rail_node(c, o->from), rail_node(c, o->to));
        const bool high = tl_plan_rail_is_low(c->plan, o->to);
        for (int leg = 0; leg < o->pin_count; leg++) {
            const int pin = driven_node(c, o->pins[leg], high,
                                        path_of(path, c->plan->pins[o->pins[leg]].name, "output", NULL));
            add_branch(c, i, leg, high ? pin : rail_node(c, o->to), high ? rail_node(c, o->to) : pin);
        }
    }
    tl_net_set_view(c->net, TL_VIEW_BOTH);
}
