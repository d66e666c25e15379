/* SPDX-License-Identifier: MIT */
/* From a plan to its netlist: supplies, and the whole of it put together. */
#include "base/memory.h"
#include "elaborate/elaborate.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/* --- supplies and shared nodes --- */

/* A supply behind its resistance, an output pin, a shared node: a node that parts can move. */
static void add_soft_rail(tl_circuit *c, int i, int behind, const char *name)
{
    char path[TL_PATH_LONGEST];
    const tl_supply *supply = &c->plan->supplies[i];
    tl_net_value ohms = tl_net_fixed(0);
    c->supply_node[i] = tl_net_add_node(c->net, supply->name);
    path_of(path, supply->name, name, NULL);
    if (supply->ohms.given) {
        c->shared_ohms[i] = add_param(c, path, supply->ohms.value, TL_DIM_OHM, false,
                                      supply->kind == TL_RAIL_SHARED ? TL_CAUSE_SHARED : TL_CAUSE_SUPPLY);
        c->param[c->shared_ohms[i]].drift = supply->ohms.drift;
        ohms = tl_net_of(c->shared_ohms[i]);
    }
    const int net = tl_net_add_resistor(c->net, path, behind, c->supply_node[i], ohms);
    for (int p = 0; p < c->parts.count; p++) {
        tl_plan_part *part = &c->parts.part[p];
        if (part->owner != TL_OWNED_BY_RAIL || part->index != i)
            continue;
        part->net = net;
        part->a = behind;
        part->b = c->supply_node[i];
        part->param = c->shared_ohms[i];
    }
    if (supply->carries.low == 0 && supply->carries.high == 0)
        return;
    c->shared_amperes[i] = add_param(c, path_of(path, supply->name, "carries", NULL), supply->carries,
                                     TL_DIM_AMPERE, true, TL_CAUSE_CARRIES);
    tl_net_add_current(c->net, path, TL_NET_GROUND, c->supply_node[i], tl_net_of(c->shared_amperes[i]));
}

static void add_supply(tl_circuit *c, int i)
{
    char path[TL_PATH_LONGEST];
    const tl_supply *supply = &c->plan->supplies[i];
    const int of_pin =
        supply->kind == TL_RAIL_PIN ? c->plan->board->pins[supply->pin].limits.supply : TL_NONE;
    c->shared_ohms[i] = c->shared_amperes[i] = TL_NET_NONE;
    if (supply->kind == TL_RAIL_SHARED && supply->from != TL_TO_GROUND)
        c->supply_param[i] = c->supply_param[supply->from];
    else if (of_pin != TL_NONE && supply->high)
        c->supply_param[i] = c->supply_param[of_pin];
    else
        c->supply_param[i] =
            add_param(c, supply->name, supply->kind == TL_RAIL_SHARED ? (tl_quantity){0} : supply->volts,
                      TL_DIM_VOLT, true, TL_CAUSE_RAIL);
    if (supply->kind == TL_RAIL_SHARED) {
        add_soft_rail(c, i, rail_node(c, supply->from), "series");
        c->supply_rail[i] = supply->from == TL_TO_GROUND ? TL_NET_GROUND : c->supply_rail[supply->from];
        return;
    }
    const bool soft = supply->ohms.given;
    const int node = tl_net_add_node(c->net, soft ? path_of(path, supply->name, "emf", NULL) : supply->name);
    tl_net_set_rail(c->net, node, tl_net_of(c->supply_param[i]));
    c->supply_node[i] = c->supply_rail[i] = node;
    if (soft)
        add_soft_rail(c, i, node, "resistance");
}

static void add_supplies(tl_circuit *c)
{
    const size_t count = (size_t)c->plan->supply_count;
    c->supply_node = tl_alloc(count, sizeof *c->supply_node);
    c->supply_param = tl_alloc(count, sizeof *c->supply_param);
    c->supply_rail = tl_alloc(count, sizeof *c->supply_rail);
    c->shared_ohms = tl_alloc(count, sizeof *c->shared_ohms);
    c->shared_amperes = tl_alloc(count, sizeof *c->shared_amperes);
    for (int i = 0; i < c->plan->supply_count; i++)
        add_supply(c, i);
}

/* The values that questions start from. */
static void list_values(tl_circuit *c)
{
    const int count = tl_net_param_count(c->net);
    c->nominal = tl_alloc((size_t)count, sizeof *c->nominal);
    c->rest[0] = tl_alloc((size_t)count, sizeof *c->rest[0]);
    c->rest[1] = tl_alloc((size_t)count, sizeof *c->rest[1]);
    for (int i = 0; i < count; i++) {
        double span[2];
        tl_net_param_span(c->net, i, &span[0], &span[1]);
        c->nominal[i] = tl_net_param_nominal(c->net, i);
        for (int end = 0; end < 2; end++)
            c->rest[end][i] = c->param[i].source                      ? 0
                              : c->param[i].dimension == TL_DIM_FARAD ? span[end]
                                                                      : c->nominal[i];
    }
}

/* --- the whole --- */

static void add_signal(tl_circuit *c, int index)
{
    const tl_signal *signal = &c->plan->signals[index];
    tl_signal_nodes *nodes = &c->signals[index];
    *nodes = (tl_signal_nodes){.end = TL_NET_NONE,
                               .pin = TL_NET_NONE,
                               .negative = TL_NET_GROUND,
                               .sampled = TL_NET_NONE,
                               .sampling = TL_NET_NONE,
                               .unknown = TL_NET_NONE,
                               .track = TL_NET_NONE,
                               .contact = TL_NET_NONE,
                               .on_rail = TL_NET_NONE,
                               .off_rail = TL_NET_NONE,
                               .clamp_high = TL_NET_NONE,
                               .clamp_low = TL_NET_NONE,
                               .high_rail = TL_NET_NONE,
                               .low_rail = TL_NET_NONE,
                               .clamp_part = {TL_NET_NONE, TL_NET_NONE},
                               .lower_open = TL_NET_NONE,
                               .shorted = TL_NET_NONE,
                               .lamp = TL_NET_NONE,
                               .driven = {TL_NET_NONE, TL_NET_NONE},
                               .driven_part = {TL_NET_NONE, TL_NET_NONE},
                               .reference = TL_NET_NONE,
                               .states = 1};
    nodes->source = add_source(c, signal, nodes);
    int node = nodes->source, negative = nodes->negative;
    for (int j = 0; j < signal->stage_count; j++) {
        node = add_stage(c, signal, j, false, node, nodes);
        if (negative != TL_NET_GROUND) /* a bridge has the same in both legs */
            negative = add_stage(c, signal, j, true, negative, nodes);
    }
    add_end(c, index, node, negative);
    nodes->first_worst = c->worst_count;
    c->worst_count += nodes->states;
}

const tl_plan *tl_circuit_plan(const tl_circuit *circuit)
{
    return circuit->plan;
}

tl_net *tl_circuit_net(const tl_circuit *circuit)
{
    return circuit->net;
}

const tl_signal_nodes *tl_circuit_nodes(const tl_circuit *circuit, int signal)
{
    return &circuit->signals[signal];
}

const double *tl_circuit_nominal(const tl_circuit *circuit)
{
    return circuit->nominal;
}

int tl_circuit_supply_param(const tl_circuit *circuit, int supply)
{
    return circuit->supply_param[supply];
}

tl_circuit *tl_circuit_new(const tl_plan *plan)
{
    tl_circuit *c = tl_alloc(1, sizeof *c);
    c->plan = plan;
    c->net = tl_net_new();
    c->parts = tl_plan_parts(plan);
    c->pins = tl_alloc((size_t)plan->pin_count, sizeof *c->pins);
    for (int i = 0; i < plan->pin_count; i++)
        c->pins[i] =
            (tl_pin_contacts){TL_NET_NONE, TL_NET_NONE, TL_NET_NONE, TL_NET_NONE, {TL_NET_NONE, TL_NET_NONE}};
    c->signals = tl_alloc((size_t)plan->line_count, sizeof *c->signals);
    c->first_node = tl_alloc((size_t)plan->line_count + 1, sizeof *c->first_node);
    c->first_param = tl_alloc((size_t)plan->line_count + 1, sizeof *c->first_param);
    add_supplies(c);
    add_muxes(c);
    for (int i = 0; i < plan->line_count; i++) {
        c->first_node[i] = tl_net_node_count(c->net);
        c->first_param[i] = tl_net_param_count(c->net);
        add_signal(c, i);
    }
    c->first_node[plan->line_count] = tl_net_node_count(c->net);
    c->first_param[plan->line_count] = tl_net_param_count(c->net);
    add_pin_drivers(c);
    c->part_params = tl_net_param_count(c->net);
    add_outputs(c);
    c->state = tl_alloc((size_t)tl_net_contact_count(c->net), sizeof *c->state);
    for (int i = 0; i < plan->line_count; i++)
        c->signals[i].island = tl_island_new_along(c->net, c->signals[i].pin, tl_circuit_state(c, i, 0));
    c->real_params = tl_net_param_count(c->net);
    narrow_islands(c);
    list_values(c);
    c->worst = tl_alloc((size_t)c->worst_count, sizeof *c->worst);
    c->paths = tl_alloc((size_t)plan->line_count, sizeof *c->paths);
    c->inverses = tl_alloc((size_t)plan->line_count, sizeof *c->inverses);
    c->trim_limits = tl_alloc((size_t)plan->line_count, sizeof *c->trim_limits);
    return c;
}

bool tl_signal_closes_low(const tl_signal *signal)
{
    bool low = tl_source_closes_low(&signal->source);
    for (int i = 0; i < signal->stage_count; i++)
        low ^= signal->stages[i].kind == TL_STAGE_SHIFTER && signal->stages[i].way == TL_SHIFT_INVERTER;
    return low;
}

tl_button_config tl_plan_button(const tl_plan *plan, int signal)
{
    const tl_signal *s = &plan->signals[signal];
    bool internal = false;
    for (int i = 0; i < s->stage_count; i++)
        internal = internal || (s->stages[i].kind == TL_STAGE_PULL && s->stages[i].internal);
    return (tl_button_config){.steady = (uint32_t)llround(1e6 * s->reading.steady),
                              .line = (uint8_t)s->pin,
                              .closed_is_low = tl_signal_closes_low(s),
                              .internal_pull = internal};
}

int tl_circuit_last_side(const tl_circuit *circuit, int line)
{
    const tl_signal *s = &circuit->plan->signals[line];
    int side = 0;
    for (int i = 0; i < s->stage_count; i++)
        side += s->stages[i].kind == TL_STAGE_SHIFTER;
    return side;
}

void tl_circuit_free(tl_circuit *circuit)
{
    if (circuit == NULL)
        return;
    for (int i = 0; i < circuit->plan->line_count; i++)
        tl_island_free(circuit->signals[i].island);
    tl_parts_free(&circuit->parts);
    free(circuit->param);
    free(circuit->first_node);
    free(circuit->first_param);
    free(circuit->leaks);
    free(circuit->first_leg);
    free(circuit->outputs);
    free(circuit->output_figures);
    for (int i = 0; i < circuit->worst_count; i++)
        free(circuit->worst[i].amperes);
    free(circuit->nominal);
    free(circuit->switches);
    free(circuit->pins);
    free(circuit->rest[0]);
    free(circuit->rest[1]);
    free(circuit->worst);
    for (int i = 0; i < circuit->plan->line_count; i++) {
        free(circuit->inverses[i].corners);
        free(circuit->trim_limits[i]);
    }
    free(circuit->inverses);
    free(circuit->trim_limits);
    free(circuit->paths);
    tl_net_free(circuit->net);
    tl_net_free(circuit->metered);
    free(circuit->supply_node);
    free(circuit->supply_param);
    free(circuit->supply_rail);
    free(circuit->shared_ohms);
    free(circuit->shared_amperes);
    free(circuit->mux_contact);
    free(circuit->mux_common);
    free(circuit->signals);
    free(circuit->state);
    free(circuit);
}

/* The end of a part where a meter has something to show: the first that is no rail; TL_NET_NONE. */
static int end_of_part(const tl_circuit *circuit, const char *path)
{
    int end[2];
    const int part = tl_net_find_part(circuit->net, TL_VIEW_SOLDERED, path);
    if (part == TL_NET_NONE)
        return TL_NET_NONE;
    tl_net_part_ends(circuit->net, part, &end[0], &end[1]);
    return tl_net_is_rail(circuit->net, end[0]) ? end[1] : end[0];
}

int tl_circuit_point(tl_circuit *circuit, const char *path)
{
    const tl_plan *plan = circuit->plan;
    const char *dot = strrchr(path, '.');
    for (int i = 0; i < plan->line_count && dot != NULL; i++) {
        const size_t length = strlen(plan->signals[i].name);
        if ((size_t)(dot - path) != length || strncmp(path, plan->signals[i].name, length) != 0)
            continue;
        if (strcmp(dot + 1, "pin") == 0)
            return circuit->signals[i].pin;
        if (strcmp(dot + 1, "source") == 0)
            return circuit->signals[i].source;
    }
    for (int i = 0; i < plan->supply_count; i++) {
        if (strcmp(plan->supplies[i].name, path) == 0)
            return circuit->supply_node[i];
    }
    const int node = tl_net_find_node(circuit->net, path);
    return node != TL_NET_NONE ? node : end_of_part(circuit, path);
}

/* `knob.source.travel` as `knob travel`. */
static char *path_in_words(char *path)
{
    static const char source[] = ".source.";
    char *found = strstr(path, source);
    if (found != NULL)
        memmove(found + 1, found + sizeof source - 1, strlen(found + sizeof source - 1) + 1);
    for (char *dot = path; (dot = strchr(dot, '.')) != NULL;)
        *dot = ' ';
    return path;
}

void tl_circuit_corner(tl_circuit *circuit, const tl_bounds *bounds, const double *values, char *text,
                       size_t size)
{
    size_t length = 0;
    text[0] = '\0';
    for (int i = 0; i < bounds->params && length < size; i++) {
        const tl_param_info *info = &circuit->param[bounds->param[i]];
        const tl_dimension dimension = info->dimension;
        char value[32];
        if (info->cause == TL_CAUSE_LOADS && dimension == TL_DIM_OHM) {
            length += (size_t)snprintf(text + length, size - length, "%soutputs at %s %s", i > 0 ? ", " : "",
                                       tl_net_node_name(circuit->net, info->node),
                                       values[i] < loads_off_ohms ? "on" : "off");
            continue;
        }
        tl_quantity_write(dimension == TL_DIM_PERCENT ? 100 * values[i] : values[i], dimension,
                          TL_ROUND_NEAREST, value);
        char name[200];
        snprintf(name, sizeof name, "%s", tl_net_param_name(circuit->net, bounds->param[i]));
        length += (size_t)snprintf(text + length, size - length, "%s%s %s", i > 0 ? ", " : "",
                                   path_in_words(name), value);
    }
}
