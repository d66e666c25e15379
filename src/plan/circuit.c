/* From a plan to its netlist: every part by its path, every tolerance as a parameter. */
#include "../net/memory.h"
#include "tinyladder/plan.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static int add_param(tl_circuit *c, const char *name, tl_quantity value, tl_dimension dimension, bool source)
{
    const int param = tl_net_add_param(c->net, name, value.low, value.nominal, value.high, false);
    c->dimension = tl_grow(c->dimension, (size_t)param, sizeof *c->dimension);
    c->is_source = tl_grow(c->is_source, (size_t)param, sizeof *c->is_source);
    c->dimension[param] = dimension;
    c->is_source[param] = source;
    return param;
}

/* `signal.stage.leg`; parts of the path may be NULL. */
static char *path_of(char text[160], const tl_signal *signal, const char *stage, const char *leg)
{
    snprintf(text, 160, "%s%s%s%s%s", signal->name, stage != NULL ? "." : "", stage != NULL ? stage : "",
             leg != NULL ? "." : "", leg != NULL ? leg : "");
    return text;
}

static int rail_node(const tl_circuit *c, int supply)
{
    return supply == TL_TO_GROUND ? TL_NET_GROUND : c->supply_node[supply];
}

static void add_resistor(tl_circuit *c, const tl_signal *signal, const char *stage, const char *leg, int a,
                         int b, const tl_written *ohms)
{
    char path[160];
    path_of(path, signal, stage, leg);
    tl_net_add_resistor(c->net, path, a, b, tl_net_of(add_param(c, path, ohms->value, TL_DIM_OHM, false)));
}

static void add_capacitor(tl_circuit *c, const tl_signal *signal, const char *stage, const char *leg,
                          int node, const tl_written *farads)
{
    char path[160];
    path_of(path, signal, stage, leg);
    tl_net_add_capacitor(c->net, path, node, TL_NET_GROUND,
                         tl_net_of(add_param(c, path, farads->value, TL_DIM_FARAD, false)));
}

/* --- sources: each answers the node that the chain starts from --- */

static int add_voltage_source(tl_circuit *c, const tl_signal *signal, tl_signal_nodes *nodes)
{
    char path[160];
    const tl_source *source = &signal->source;
    nodes->unknown =
        add_param(c, path_of(path, signal, "source", "voltage"), source->value.value, TL_DIM_VOLT, true);
    const int emf = tl_net_add_node(c->net, path);
    tl_net_set_rail(c->net, emf, tl_net_of(nodes->unknown));
    if (!source->ohms.given)
        return emf;
    const int node = tl_net_add_node(c->net, path_of(path, signal, "source", NULL));
    add_resistor(c, signal, "source", "resistance", emf, node, &source->ohms);
    return node;
}

static int add_potentiometer(tl_circuit *c, const tl_signal *signal, tl_signal_nodes *nodes)
{
    char path[160];
    const tl_source *source = &signal->source;
    const tl_quantity *over = &source->over.value;
    const int wiper = tl_net_add_node(c->net, path_of(path, signal, "source", NULL));
    const int track = add_param(c, path_of(path, signal, "source", "potentiometer"), source->value.value,
                                TL_DIM_OHM, false);
    nodes->unknown = tl_net_add_param(c->net, path_of(path, signal, "source", "travel"), over->low / 100,
                                      over->nominal / 100, over->high / 100, true);
    c->dimension = tl_grow(c->dimension, (size_t)nodes->unknown, sizeof *c->dimension);
    c->is_source = tl_grow(c->is_source, (size_t)nodes->unknown, sizeof *c->is_source);
    c->dimension[nodes->unknown] = TL_DIM_PERCENT;
    c->is_source[nodes->unknown] = false;

    int top = rail_node(c, source->supply), bottom = rail_node(c, source->bottom);
    if (source->ohms.given) {
        const int track_top = tl_net_add_node(c->net, path_of(path, signal, "source", "top"));
        const int track_bottom = tl_net_add_node(c->net, path_of(path, signal, "source", "bottom"));
        add_resistor(c, signal, "source", "top-end", top, track_top, &source->ohms);
        add_resistor(c, signal, "source", "bottom-end", track_bottom, bottom, &source->ohms);
        top = track_top;
        bottom = track_bottom;
    }
    const tl_net_value above = {1, track, 1, -1, nodes->unknown}, below = {1, track, 0, 1, nodes->unknown};
    tl_net_add_resistor(c->net, path_of(path, signal, "source", "upper"), top, wiper, above);
    tl_net_add_resistor(c->net, path_of(path, signal, "source", "lower"), wiper, bottom, below);
    return wiper;
}

static void add_open_leakage(tl_circuit *c, const tl_signal *signal, int node, int contact)
{
    char path[160];
    const int rail = rail_node(c, signal->source.supply);
    const tl_quantity amperes = {0, 0, signal->source.leakage, false};
    if (!(signal->source.leakage > 0))
        return;
    const int leak = add_param(c, path_of(path, signal, "source", "leakage"), amperes, TL_DIM_AMPERE, true);
    const bool sinks = signal->source.supply == TL_TO_GROUND;
    const int current =
        tl_net_add_current(c->net, path, sinks ? node : rail, sinks ? rail : node, tl_net_of(leak));
    tl_net_gate_part(c->net, current, TL_GATE_OPEN, contact);
}

static int add_contact(tl_circuit *c, const tl_signal *signal, tl_signal_nodes *nodes)
{
    char path[160];
    const tl_source *source = &signal->source;
    const int node = tl_net_add_node(c->net, path_of(path, signal, "source", NULL));
    const int rail = rail_node(c, source->supply);
    nodes->contact = tl_net_add_contact(c->net, path);
    const int closed =
        add_param(c, path_of(path, signal, "source", "closed"), source->ohms.value, TL_DIM_OHM, false);
    const int part = tl_net_add_resistor(c->net, path, node, rail, tl_net_of(closed));
    tl_net_gate_part(c->net, part, TL_GATE_CLOSED, nodes->contact);
    add_open_leakage(c, signal, node, nodes->contact);
    return node;
}

/* What a closed or a driving state ties the node to: a rail of its own with that level, through `ohms` (0).
 */
static int add_driven_rail(tl_circuit *c, const tl_signal *signal, const char *name, int node,
                           tl_net_gate gate, int contact, tl_net_value volts)
{
    char path[160];
    const int rail = tl_net_add_node(c->net, path_of(path, signal, "source", name));
    tl_net_set_rail(c->net, rail, volts);
    const int ohms = add_param(c, path, signal->source.ohms.value, TL_DIM_OHM, false);
    tl_net_gate_part(c->net, tl_net_add_resistor(c->net, path, node, rail, tl_net_of(ohms)), gate, contact);
    return rail;
}

static int add_open_collector(tl_circuit *c, const tl_signal *signal, tl_signal_nodes *nodes)
{
    char path[160];
    const tl_source *source = &signal->source;
    const int node = tl_net_add_node(c->net, path_of(path, signal, "source", NULL));
    nodes->contact = tl_net_add_contact(c->net, path);
    path_of(path, signal, "source", "saturation");
    tl_net_value on;
    if (source->supply == TL_TO_GROUND) {
        on = tl_net_of(add_param(c, path, source->value.value, TL_DIM_VOLT, true));
    } else { /* so far below its rail: as a share of it, which at the rail's high end is a little more than
                was said */
        const double most = source->value.value.high / c->plan->supplies[source->supply].volts.low;
        const int share = add_param(c, path, (tl_quantity){0, most / 2, most, true}, TL_DIM_NUMBER, false);
        on = (tl_net_value){1, c->supply_param[source->supply], 1, -1, share};
    }
    nodes->on_rail = add_driven_rail(c, signal, "on", node, TL_GATE_CLOSED, nodes->contact, on);
    add_open_leakage(c, signal, node, nodes->contact);
    return node;
}

/* Low is somewhere from 0 V to its highest, high from its lowest to the supply. */
static int add_logic(tl_circuit *c, const tl_signal *signal, tl_signal_nodes *nodes)
{
    char path[160];
    const tl_source *source = &signal->source;
    const tl_quantity *rail = &c->plan->supplies[source->supply].volts;
    const double most_low = tl_level_volts(source->low, rail->high);
    const double least_high = tl_level_volts(source->high, rail->low);
    const tl_quantity low = {0, most_low / 2, most_low, true},
                      high = {least_high, (least_high + rail->high) / 2, rail->high, true};
    const int node = tl_net_add_node(c->net, path_of(path, signal, "source", NULL));
    nodes->contact = tl_net_add_contact(c->net, path);
    const int low_param = add_param(c, path_of(path, signal, "source", "low"), low, TL_DIM_VOLT, true);
    const int high_param = add_param(c, path_of(path, signal, "source", "high"), high, TL_DIM_VOLT, true);
    nodes->on_rail =
        add_driven_rail(c, signal, "low", node, TL_GATE_CLOSED, nodes->contact, tl_net_of(low_param));
    nodes->off_rail =
        add_driven_rail(c, signal, "high", node, TL_GATE_OPEN, nodes->contact, tl_net_of(high_param));
    return node;
}

static int add_current(tl_circuit *c, const tl_signal *signal, tl_signal_nodes *nodes)
{
    char path[160];
    const int node = tl_net_add_node(c->net, path_of(path, signal, "source", NULL));
    nodes->unknown = add_param(c, path_of(path, signal, "source", "current"), signal->source.value.value,
                               TL_DIM_AMPERE, true);
    tl_net_add_current(c->net, path, TL_NET_GROUND, node, tl_net_of(nodes->unknown));
    return node;
}

static int add_resistance(tl_circuit *c, const tl_signal *signal, tl_signal_nodes *nodes)
{
    char path[160];
    const tl_source *source = &signal->source;
    const int node = tl_net_add_node(c->net, path_of(path, signal, "source", NULL));
    int far = rail_node(c, source->supply);
    nodes->unknown =
        add_param(c, path_of(path, signal, "source", "resistance"), source->value.value, TL_DIM_OHM, false);
    if (source->ohms.given) {
        const int lead = tl_net_add_node(c->net, path_of(path, signal, "source", "lead"));
        add_resistor(c, signal, "source", "lead", lead, far, &source->ohms);
        far = lead;
    }
    tl_net_add_resistor(c->net, path_of(path, signal, "source", "resistance"), node, far,
                        tl_net_of(nodes->unknown));
    return node;
}

static int add_source(tl_circuit *c, const tl_signal *signal, tl_signal_nodes *nodes)
{
    switch (signal->source.kind) {
    case TL_SOURCE_RAIL:
        nodes->unknown = c->supply_param[signal->source.supply];
        return c->supply_node[signal->source.supply];
    case TL_SOURCE_VOLTAGE:
        return add_voltage_source(c, signal, nodes);
    case TL_SOURCE_POTENTIOMETER:
        return add_potentiometer(c, signal, nodes);
    case TL_SOURCE_CURRENT:
        return add_current(c, signal, nodes);
    case TL_SOURCE_RESISTANCE:
        return add_resistance(c, signal, nodes);
    case TL_SOURCE_OPEN_COLLECTOR:
        return add_open_collector(c, signal, nodes);
    case TL_SOURCE_LOGIC:
        return add_logic(c, signal, nodes);
    default:
        return add_contact(c, signal, nodes);
    }
}

/* --- stages: each answers the node that the next one hangs on --- */

static int add_stage(tl_circuit *c, const tl_signal *signal, const tl_stage *stage, int node)
{
    char path[160];
    const bool goes_on = stage->kind == TL_STAGE_SERIES || stage->kind == TL_STAGE_GUARD ||
                         stage->kind == TL_STAGE_DIVIDER || stage->kind == TL_STAGE_FILTER;
    const int next = goes_on ? tl_net_add_node(c->net, path_of(path, signal, stage->name, NULL)) : node;
    switch (stage->kind) {
    case TL_STAGE_SERIES:
    case TL_STAGE_GUARD:
        add_resistor(c, signal, stage->name, NULL, node, next, &stage->first);
        break;
    case TL_STAGE_DIVIDER:
        add_resistor(c, signal, stage->name, "upper", node, next, &stage->first);
        add_resistor(c, signal, stage->name, "lower", next, rail_node(c, stage->to), &stage->second);
        break;
    case TL_STAGE_FILTER:
        add_resistor(c, signal, stage->name, "series", node, next, &stage->first);
        add_capacitor(c, signal, stage->name, "capacitor", next, &stage->second);
        break;
    case TL_STAGE_PULL:
        if (stage->internal) {
            const tl_pin_limits *limits = &c->plan->board->pins[signal->pin].limits;
            const tl_written own = {.value = stage->up ? limits->pull_up : limits->pull_down};
            add_resistor(c, signal, stage->name, NULL, node,
                         stage->up ? c->supply_node[limits->supply] : TL_NET_GROUND, &own);
            break;
        }
        add_resistor(c, signal, stage->name, NULL, node, rail_node(c, stage->to), &stage->first);
        break;
    case TL_STAGE_PARTNER:
        add_resistor(c, signal, stage->name, NULL, node, rail_node(c, stage->to), &stage->first);
        break;
    case TL_STAGE_LOAD:
        add_resistor(c, signal, stage->name, NULL, node, TL_NET_GROUND, &stage->first);
        break;
    case TL_STAGE_CAPACITOR:
    case TL_STAGE_CABLE:
        add_capacitor(c, signal, stage->name, NULL, node, &stage->first);
        break;
    }
    return next;
}

/* The pin itself: its leakage, its capacitance, and behind it the converter's sampling capacitor. */
static void add_pin(tl_circuit *c, const tl_signal *signal, int last, tl_signal_nodes *nodes)
{
    char path[160];
    const tl_pin *pin = &c->plan->board->pins[signal->pin];
    const tl_converter *converter = &c->plan->board->converter;
    nodes->pin = tl_net_add_node(c->net, path_of(path, signal, "pin", NULL));
    tl_net_add_resistor(c->net, path, last, nodes->pin, tl_net_fixed(0));
    if (pin->limits.leakage.low != 0 || pin->limits.leakage.high != 0) {
        const int leak =
            add_param(c, path_of(path, signal, "pin", "leakage"), pin->limits.leakage, TL_DIM_AMPERE, true);
        tl_net_add_current(c->net, path, nodes->pin, TL_NET_GROUND, tl_net_of(leak));
    }
    if (pin->limits.farads > 0)
        tl_net_add_capacitor(c->net, path_of(path, signal, "pin", "capacitance"), nodes->pin, TL_NET_GROUND,
                             tl_net_fixed(pin->limits.farads));
    if (!signal->analog)
        return;
    nodes->sampled = tl_net_add_node(c->net, path_of(path, signal, "pin", "sampled"));
    nodes->sampling = tl_net_add_contact(c->net, path);
    const int part =
        tl_net_add_resistor(c->net, path, nodes->pin, nodes->sampled, tl_net_fixed(converter->switch_ohms));
    tl_net_gate_part(c->net, part, TL_GATE_CLOSED, nodes->sampling);
    tl_net_add_capacitor(c->net, path, nodes->sampled, TL_NET_GROUND, tl_net_fixed(converter->sample_farads));
}

static void add_supplies(tl_circuit *c)
{
    const tl_plan *plan = c->plan;
    c->supply_node = tl_alloc((size_t)plan->supply_count, sizeof *c->supply_node);
    c->supply_param = tl_alloc((size_t)plan->supply_count, sizeof *c->supply_param);
    for (int i = 0; i < plan->supply_count; i++) {
        c->supply_param[i] = add_param(c, plan->supplies[i].name, plan->supplies[i].volts, TL_DIM_VOLT, true);
        c->supply_node[i] = tl_net_add_node(c->net, plan->supplies[i].name);
        tl_net_set_rail(c->net, c->supply_node[i], tl_net_of(c->supply_param[i]));
    }
    const tl_reference *reference = &plan->board->converter.references[plan->reference];
    c->reference_param =
        reference->supply >= 0
            ? c->supply_param[reference->supply] /* the board's supplies come first, in its order */
            : add_param(c, "reference", reference->volts, TL_DIM_VOLT, true);
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
            c->rest[end][i] = c->is_source[i]                   ? 0
                              : c->dimension[i] == TL_DIM_FARAD ? span[end]
                                                                : c->nominal[i];
    }
}

tl_circuit *tl_circuit_new(const tl_plan *plan)
{
    tl_circuit *c = tl_alloc(1, sizeof *c);
    c->plan = plan;
    c->net = tl_net_new();
    c->signals = tl_alloc((size_t)plan->signal_count, sizeof *c->signals);
    add_supplies(c);
    for (int i = 0; i < plan->signal_count; i++) {
        const tl_signal *signal = &plan->signals[i];
        tl_signal_nodes *nodes = &c->signals[i];
        *nodes = (tl_signal_nodes){.sampled = TL_NET_NONE,
                                   .sampling = TL_NET_NONE,
                                   .unknown = TL_NET_NONE,
                                   .contact = TL_NET_NONE,
                                   .on_rail = TL_NET_NONE,
                                   .off_rail = TL_NET_NONE};
        nodes->source = add_source(c, signal, nodes);
        int node = nodes->source;
        for (int j = 0; j < signal->stage_count; j++)
            node = add_stage(c, signal, &signal->stages[j], node);
        add_pin(c, signal, node, nodes);
    }
    for (int i = 0; i < plan->signal_count; i++)
        c->signals[i].island = tl_island_new(c->net, c->signals[i].pin);
    list_values(c);
    c->worst = tl_alloc(2 * (size_t)plan->signal_count, sizeof *c->worst);
    c->paths = tl_alloc((size_t)plan->signal_count, sizeof *c->paths);
    c->at_rest = tl_alloc((size_t)tl_net_contact_count(c->net), sizeof *c->at_rest);
    return c;
}

void tl_circuit_free(tl_circuit *circuit)
{
    if (circuit == NULL)
        return;
    for (int i = 0; i < circuit->plan->signal_count; i++)
        tl_island_free(circuit->signals[i].island);
    for (int i = 0; i < 2 * circuit->plan->signal_count; i++)
        free(circuit->worst[i].amperes);
    free(circuit->nominal);
    free(circuit->rest[0]);
    free(circuit->rest[1]);
    free(circuit->worst);
    free(circuit->paths);
    tl_net_free(circuit->net);
    free(circuit->dimension);
    free(circuit->is_source);
    free(circuit->supply_node);
    free(circuit->supply_param);
    free(circuit->signals);
    free(circuit->at_rest);
    free(circuit);
}

int tl_circuit_param(const tl_circuit *circuit, const char *path)
{
    for (int i = 0; i < tl_net_param_count(circuit->net); i++) {
        if (strcmp(tl_net_param_name(circuit->net, i), path) == 0)
            return i;
    }
    return TL_NET_NONE;
}

void tl_circuit_corner(const tl_circuit *circuit, const tl_bounds *bounds, const double *values, char *text,
                       size_t size)
{
    size_t length = 0;
    text[0] = '\0';
    for (int i = 0; i < bounds->params && length < size; i++) {
        const tl_dimension dimension = circuit->dimension[bounds->param[i]];
        char value[32];
        tl_quantity_write(dimension == TL_DIM_PERCENT ? 100 * values[i] : values[i], dimension,
                          TL_ROUND_NEAREST, value);
        length += (size_t)snprintf(text + length, size - length, "%s%s %s", i > 0 ? ", " : "",
                                   tl_net_param_name(circuit->net, bounds->param[i]), value);
    }
}
