/* SPDX-License-Identifier: MIT */
/* What only shows in time: pins that drive and pull, and whatever switches by itself. Typical values where
 * the plan has none; docs/methods.md lists them. */
#include "base/memory.h"
#include "elaborate/elaborate.h"
#include <math.h>

/* Typical, so that a short hurts instead of being impossible: of a pin where the board does not say what it
 * drives, of a shifter's output, of a follower at its end. */
enum { TL_DRIVER_OHMS = 50, TL_SHIFTER_OHMS = 20, TL_FOLLOWER_OHMS = 1, TL_CHANNEL_SLOPE = 1000000 };

void add_switch(tl_circuit *c, tl_switch on)
{
    c->switches = tl_grow(c->switches, (size_t)c->switch_count, sizeof *c->switches);
    c->switches[c->switch_count++] = on;
}

/* Closed above a level over ground, or below it. */
static tl_switch over_ground(int contact, int node, tl_net_value level, bool below)
{
    return (tl_switch){
        .contact = contact, .node = node, .against = TL_NET_GROUND, .level = level, .below = below};
}

int add_conducting_clamp(tl_circuit *c, const char *path, int rail, double ohms, tl_switch on)
{
    tl_net_set_view(c->net, TL_VIEW_SOLDERED);
    const int part = tl_net_add_resistor(c->net, path, on.node, rail, tl_net_fixed(ohms));
    tl_net_condition_part(c->net, part, TL_WHEN_CLOSED, on.contact);
    tl_net_set_view(c->net, TL_VIEW_BOTH);
    add_switch(c, on);
    return part;
}

/* --- shifters --- */

void add_diode(tl_circuit *c, const char *path, int anode, int cathode, tl_net_value drop, double ohms)
{
    const int contact = tl_net_add_contact(c->net, path);
    tl_net_value back = drop;
    back.factor /= ohms;
    back.extra /= ohms;
    tl_net_condition_part(c->net, tl_net_add_resistor(c->net, path, anode, cathode, tl_net_fixed(ohms)),
                          TL_WHEN_CLOSED, contact);
    tl_net_condition_part(c->net, tl_net_add_current(c->net, path, cathode, anode, back), TL_WHEN_CLOSED,
                          contact);
    add_switch(c, (tl_switch){contact, anode, cathode, drop, false, true, false});
}

/* The rail that the source's side of a shifter idles at: that of its last pull, or the source's own. */
static int rail_before(const tl_signal *signal, const tl_stage *shifter)
{
    int rail = signal->source.supply;
    for (const tl_stage *stage = signal->stages; stage < shifter; stage++) {
        if (stage->kind == TL_STAGE_PULL && !stage->internal)
            rail = stage->to;
    }
    return rail;
}

/* One transistor a line. What flows from one side to the other is what min(V, gate - threshold) differs by on
 * both, over the channel's ohms: a resistor while both sides are low, a source follower while one is. Each
 * side below that level has its half of it. The body diode leads from the low side to the high side. */
static void add_channel(tl_circuit *c, const tl_signal *signal, const tl_stage *stage, const char *path,
                        int node, int next)
{
    const int rail = rail_before(signal, stage);
    const bool node_is_high = rail != TL_TO_GROUND && c->plan->supplies[rail].volts.nominal >
                                                          c->plan->supplies[stage->to].volts.nominal;
    tl_net_value level = tl_net_of(c->supply_param[stage->to]);
    level.extra = -stage->threshold;
    level.third = TL_NET_NONE;
    for (int side = 0; side < 2; side++) {
        const int contact = tl_net_add_contact(c->net, path);
        const int from = side == 0 ? node : next, to = side == 0 ? next : node;
        tl_net_value back = level;
        back.factor /= TL_CHANNEL_OHMS;
        back.extra /= TL_CHANNEL_OHMS;
        tl_net_condition_part(c->net,
                              tl_net_add_channel(c->net, path, from, to, tl_net_fixed(TL_CHANNEL_OHMS)),
                              TL_WHEN_CLOSED, contact);
        tl_net_condition_part(c->net, tl_net_add_current(c->net, path, to, from, back), TL_WHEN_CLOSED,
                              contact);
        /* What it leads to comes to rest, even where nothing else is connected there. */
        tl_net_condition_part(c->net,
                              tl_net_add_resistor(c->net, path, from, to, tl_net_fixed(TL_CHANNEL_SLOPE)),
                              TL_WHEN_CLOSED, contact);
        tl_switch on = over_ground(contact, from, level, true);
        on.by_supply = true;
        add_switch(c, on);
    }
    add_diode(c, path, node_is_high ? next : node, node_is_high ? node : next, tl_net_fixed(stage->drop),
              TL_DIODE_OHMS);
}

/* A rail that the node is tied to while the contact lets it. */
static void add_pulled(tl_circuit *c, const char *path, int node, tl_net_value volts, tl_net_value ohms,
                       tl_when when)
{
    const int rail = tl_net_add_node(c->net, path);
    tl_net_set_rail(c->net, rail, volts);
    tl_net_condition_part(c->net, tl_net_add_resistor(c->net, path, node, rail, ohms), when.gate,
                          when.contact);
}

void add_soldered_shifter(tl_circuit *c, const tl_signal *signal, const tl_stage *stage, int node, int next)
{
    char path[TL_PATH_LONGEST];
    const int supply = stage->to;
    tl_net_value top, middle;
    path_of(path, signal->name, stage->name, NULL);
    if (stage->way == TL_SHIFT_DIODE) {
        add_diode(c, path, next, node, tl_net_fixed(stage->drop), TL_DIODE_OHMS);
        return;
    }
    if (stage->way == TL_SHIFT_N_CHANNEL) {
        add_channel(c, signal, stage, path, node, next);
        return;
    }
    tl_net_tie(c->net, node, next);
    const int low = tl_net_add_contact(c->net, path);
    const tl_when is_low = {TL_WHEN_CLOSED, low}, is_high = {TL_WHEN_OPEN, low};
    if (stage->way == TL_SHIFT_INVERTER) {
        char base_path[TL_PATH_LONGEST];
        /* Half of what is believed is its junction, the rest is room for its resistance. */
        tl_net_value saturation =
            tl_net_of(tl_circuit_param(c, path_of(base_path, signal->name, stage->name, "saturation")));
        saturation.factor = 0.5;
        const int base = tl_circuit_param(c, path_of(base_path, signal->name, stage->name, "base"));
        /* What floats is held at its junction's volts by itself alone: that is no base current. */
        add_switch(c, over_ground(low, node, tl_net_fixed(tl_base_on + 0.01), true));
        add_pulled(c, path, next, saturation, tl_net_fixed(TL_SHIFTER_OHMS), is_high);
        add_pulled(c, path, node, tl_net_fixed(tl_base_on),
                   base != TL_NET_NONE ? tl_net_of(base) : tl_net_fixed(stage->first.value.nominal), is_high);
        return;
    }
    /* Half of what is believed is its own loss, the rest is room for its resistance. */
    char loss_path[TL_PATH_LONGEST];
    const int loss = tl_circuit_param(c, path_of(loss_path, signal->name, stage->name, "loss"));
    tl_net_value bottom = tl_net_of(loss);
    bottom.factor = 0.5;
    top = tl_net_of(c->supply_param[supply]);
    top.extra = -0.5;
    top.third = loss;
    middle = (tl_net_value){.factor = 1,
                            .first = TL_NET_NONE,
                            .constant = (stage->vil.volts + stage->vih.volts) / 2,
                            .slope = (stage->vil.share + stage->vih.share) / 2,
                            .second = c->supply_param[supply]};
    add_switch(c, over_ground(low, node, middle, true));
    add_pulled(c, path, next, bottom, tl_net_fixed(TL_SHIFTER_OHMS), is_low);
    add_pulled(c, path, next, top, tl_net_fixed(TL_SHIFTER_OHMS), is_high);
}

/* --- followers at the ends of what their outputs reach --- */

void add_follower_limits(tl_circuit *c, const tl_signal *signal, const tl_stage *stage,
                         const tl_placed_follower *follower, tl_signal_nodes *nodes)
{
    const int part = follower->part;
    char path[TL_PATH_LONGEST];
    path_of(path, signal->name, stage->name, "limit");
    for (int high = 0; high < 2; high++) {
        const tl_level end = high ? stage->out_high : stage->out_low;
        /* At either end it follows no more. */
        const int contact = high ? tl_net_add_contact(c->net, path) : tl_net_open_fault(c->net, part);
        if (high)
            tl_net_condition_part(c->net, part, TL_WHEN_OPEN, contact);
        tl_net_value volts = {.factor = 1,
                              .first = TL_NET_NONE,
                              .constant = end.volts,
                              .slope = end.share,
                              .second = c->supply_param[stage->to]};
        add_pulled(c, path, follower->out, volts, tl_net_fixed(TL_FOLLOWER_OHMS),
                   (tl_when){TL_WHEN_CLOSED, contact});
        volts.extra = follower->offset.first != TL_NET_NONE ? -1 : 0;
        volts.third = follower->offset.first;
        add_switch(c, over_ground(contact, follower->in, volts, !high));
        add_chain_end(nodes, contact, high);
    }
}

void add_chain_end(tl_signal_nodes *nodes, int contact, bool high)
{
    if (nodes->end_count < TL_CHAIN_ENDS_MOST)
        nodes->ends[nodes->end_count++] = (tl_chain_end){contact, high};
}

/* --- pins --- */

int pull_contact(tl_circuit *c, int pin, bool up)
{
    int *contact = up ? &c->pins[pin].pull_up : &c->pins[pin].pull_down;
    if (*contact == TL_NET_NONE)
        *contact = tl_net_add_contact(c->net, c->plan->pins[pin].name);
    return *contact;
}

static void add_own_pull(tl_circuit *c, int pin, int node, bool up)
{
    char path[TL_PATH_LONGEST];
    const tl_pin_limits *limits = &c->plan->pins[pin].limits;
    const tl_quantity ohms = up ? limits->pull_up : limits->pull_down;
    if (isnan(ohms.nominal) || !(ohms.nominal > 0) ||
        (up ? c->pins[pin].pull_up : c->pins[pin].pull_down) != TL_NET_NONE)
        return;
    const int param = add_param(c, path_of(path, c->plan->pins[pin].name, up ? "pull-up" : "pull-down", NULL),
                                ohms, TL_DIM_OHM, false, TL_CAUSE_PART);
    const int part = tl_net_add_resistor(
        c->net, path, node, up ? c->supply_node[limits->supply] : TL_NET_GROUND, tl_net_of(param));
    tl_net_condition_part(c->net, part, TL_WHEN_CLOSED, pull_contact(c, pin, up));
}

/* The output's resistance: what it drops at the current that it drives; typical where the board says neither.
 */
static double driver_ohms(const tl_pin_limits *limits, double rail, bool high)
{
    const double drop = high ? rail - tl_level_volts(limits->voh, rail) : tl_level_volts(limits->vol, rail);
    return limits->drives > 0 ? fmax(drop, 0) / limits->drives : TL_DRIVER_OHMS;
}

double driver_most_ohms(const tl_circuit *c, const tl_pin_limits *limits, bool high)
{
    const tl_quantity *rail = &c->plan->supplies[limits->supply].volts;
    return fmax(driver_ohms(limits, rail->low, high),
                fmax(driver_ohms(limits, rail->nominal, high), driver_ohms(limits, rail->high, high)));
}

void add_pin_driver(tl_circuit *c, int pin, int node, bool reads, int seldom)
{
    char path[TL_PATH_LONGEST];
    const tl_pin_limits *limits = &c->plan->pins[pin].limits;
    if (limits->supply == TL_NONE)
        return;
    const double rail = c->plan->supplies[limits->supply].volts.nominal;
    for (int high = 0; high < 2; high++) {
        const double ohms = driver_ohms(limits, rail, high != 0);
        path_of(path, c->plan->pins[pin].name, high ? "drive-high" : "drive-low", NULL);
        const int contact = tl_net_add_contact(c->net, path);
        const int part = tl_net_add_resistor(
            c->net, path, node, high ? c->supply_node[limits->supply] : TL_NET_GROUND,
            (tl_net_value){.factor = ohms, .first = seldom, .constant = 1, .second = TL_NET_NONE});
        tl_net_condition_part(c->net, part, TL_WHEN_CLOSED, contact);
        c->pins[pin].drive_part[high] = part;
        *(high ? &c->pins[pin].drive_high : &c->pins[pin].drive_low) = contact;
        if (reads)
            add_own_pull(c, pin, node, high != 0);
    }
}

/* What a bus is on is driven, whatever else the pin can do; that it cannot in hardware is the rule 'bus-pin'.
 */
static bool is_driven(const tl_plan *plan, int pin)
{
    for (int b = 0; b < plan->bus_count; b++) {
        for (int i = 0; i < plan->buses[b].line_count; i++) {
            if (plan->buses[b].pins[i] == pin)
                return true;
        }
    }
    return plan->pins[pin].digital;
}

int far_driver(const tl_circuit *c, const tl_signal *line)
{
    const int at = (int)(line - c->plan->signals);
    for (int i = 0; i < c->plan->output_count; i++) {
        const tl_plan_output *output = &c->plan->outputs[i];
        if (output->has_into && at >= output->first_line && at < output->first_line + output->pin_count)
            return output->pins[at - output->first_line];
    }
    return TL_NONE;
}

void add_pin_drivers(tl_circuit *c)
{
    tl_net_set_view(c->net, TL_VIEW_SOLDERED);
    for (int i = 0; i < c->plan->line_count; i++) {
        const int pin = far_driver(c, &c->plan->signals[i]);
        if (pin != TL_NONE && c->pins[pin].drive_low == TL_NET_NONE)
            add_pin_driver(c, pin, c->signals[i].source, false, TL_NET_NONE);
    }
    for (int i = 0; i < c->plan->line_count; i++) {
        const int pin = c->plan->signals[i].pin;
        if (pin < c->plan->board->pin_count && is_driven(c->plan, pin) &&
            c->pins[pin].drive_low == TL_NET_NONE && c->signals[i].pin != TL_NET_GROUND &&
            !tl_net_is_rail(c->net, c->signals[i].pin))
            add_pin_driver(c, pin, c->signals[i].pin, true, TL_NET_NONE);
    }
    tl_net_set_view(c->net, TL_VIEW_BOTH);
}
