/* SPDX-License-Identifier: MIT */
/*
 * Worst cases of outputs, each asked of the circuit with its contact closed: what its load takes, what its
 * pin gives, what comes into the base of its transistor.
 *
 * Everything else on the same supplies is as it is when all other outputs are off: a supply that sags gives
 * an output less, so the most is found that way.
 */
#include "analysis/ask.h"
#include "base/memory.h"
#include "elaborate/elaborate.h"
#include "tinyladder/design/circuit.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

double *tl_loads_aside(tl_circuit *c)
{
    const int count = tl_net_param_count(c->net);
    if (!c->has_loads)
        return NULL;
    double *kept = tl_alloc(3 * (size_t)count, sizeof *kept);
    for (int p = 0; p < count; p++) {
        double *of = kept + 3 * (size_t)p;
        tl_net_param_span(c->net, p, &of[0], &of[2]);
        of[1] = tl_net_param_nominal(c->net, p);
        if (c->param[p].cause == TL_CAUSE_LOADS && c->param[p].dimension == TL_DIM_OHM)
            tl_net_set_param(c->net, p, loads_off_ohms, loads_off_ohms, loads_off_ohms);
    }
    return kept;
}

void tl_loads_back(tl_circuit *c, double *kept)
{
    const int count = kept != NULL ? tl_net_param_count(c->net) : 0;
    for (int p = 0; p < count; p++) {
        if (c->param[p].cause == TL_CAUSE_LOADS)
            tl_net_set_param(c->net, p, kept[3 * p], kept[3 * p + 1], kept[3 * p + 2]);
    }
    free(kept);
}

/* What is asked of an island with some contacts closed. */
typedef struct {
    tl_island *island;
    const bool *closed;
    const tl_figure *figures;
    int count;
} island_question;

/* With too many parts on its supply to try every corner, all but its own and the rails stay as they are
 * written. */
static tl_net_status bounds_of_own(tl_circuit *c, const tl_output_nodes *nodes, const island_question *asked,
                                   tl_bounds *bounds)
{
    int params = 0;
    const int *param = tl_island_params(asked->island, &params);
    double(*kept)[3] = tl_alloc((size_t)params, sizeof *kept);
    for (int i = 0; i < params; i++) {
        const tl_param_info *info = &c->param[param[i]];
        tl_net_param_span(c->net, param[i], &kept[i][0], &kept[i][2]);
        kept[i][1] = tl_net_param_nominal(c->net, param[i]);
        if (info->cause != TL_CAUSE_RAIL && info->output != nodes)
            tl_net_set_param(c->net, param[i], kept[i][1], kept[i][1], kept[i][1]);
    }
    const tl_net_status fault =
        tl_island_bounds_all(asked->island, asked->closed, asked->figures, asked->count, bounds);
    for (int i = 0; i < params; i++)
        tl_net_set_param(c->net, param[i], kept[i][0], kept[i][1], kept[i][2]);
    for (int f = 0; f < asked->count && fault == TL_NET_SOLVED; f++)
        bounds[f].outer = true;
    free(kept);
    return fault;
}

static tl_net_status bounds_when_on(tl_circuit *c, const tl_output_nodes *nodes, int node,
                                    const tl_figure *figures, int count, tl_bounds *bounds)
{
    bool *closed = tl_alloc((size_t)tl_net_contact_count(c->net), sizeof *closed);
    double *kept = tl_loads_aside(c);
    closed[nodes->on] = true;
    tl_island *island = tl_island_new_along(c->net, node, closed);
    tl_net_status fault = tl_island_bounds_all(island, closed, figures, count, bounds);
    if (fault == TL_NET_TOO_WIDE)
        fault = bounds_of_own(c, nodes, &(island_question){island, closed, figures, count}, bounds);
    tl_island_free(island);
    tl_loads_back(c, kept);
    free(closed);
    return fault;
}

static tl_figure amperes_through(int part)
{
    return (tl_figure){.kind = TL_FIGURE_PART_AMPERES, .of = part, .less = tl_net_fixed(0)};
}

/* Amperes below this are rounding. */
static double clean(double amperes)
{
    return amperes > 1e-12 ? amperes : 0;
}

static tl_quantity as_quantity(const tl_bounds *b)
{
    return (tl_quantity){clean(b->low), clean(b->nominal), clean(b->high), true};
}

/* The part of an output's pin that its load, or its base, is fed through. */
static const tl_plan_part *way_of(const tl_circuit *c, int output, int leg, bool control)
{
    for (int i = c->parts.first[c->plan->line_count]; i < c->parts.count; i++) {
        const tl_plan_part *part = &c->parts.part[i];
        if (part->owner == TL_OWNED_BY_OUTPUT && part->index == output && part->leg == leg &&
            (control ? part->role == TL_PART_CONTROL || part->role == TL_PART_CONTROL_PULL
                     : part->role == TL_PART_LAMP_SERIES || part->role == TL_PART_DRIVEN))
            return part;
    }
    return NULL;
}

/* Across the transistor, and its heat: what its load takes, and what a bipolar one needs into its base for
 * that. high: the least volts of its pin. */
static void find_transistor(const tl_driver *driver, double high, tl_output_figures *found)
{
    const double most = found->load.high;
    if (driver->way == TL_DRIVER_BIPOLAR) {
        found->transistor_volts = driver->saturation;
        found->base_ohms = (high - tl_base_on_most) * driver->gain / most;
        found->transistor_watts = most * (driver->saturation + driver->on_drop / driver->gain);
    } else {
        found->transistor_volts = most * driver->on_ohms;
        found->transistor_watts = most * found->transistor_volts;
    }
}

/* Of one pin; of a load that is connected to ideal rails alone the same for every pin of one kind. */
static tl_output_figures work_out(tl_circuit *c, int output, int leg)
{
    const tl_output_nodes *nodes = &c->outputs[c->first_leg[output] + leg];
    const tl_plan_part *load = way_of(c, output, leg, false), *control = way_of(c, output, leg, true);
    tl_output_figures found = {.known = true, .gate_least = INFINITY};
    tl_bounds bounds[2];
    if (nodes->on == TL_NET_NONE)
        return found;
    if (load != NULL) {
        const tl_figure figures[] = {
            amperes_through(load->net),
            {.kind = TL_FIGURE_PART_WATTS, .of = load->net, .less = tl_net_fixed(0)}};
        const int node = tl_net_is_rail(c->net, load->a) ? load->b : load->a;
        if (bounds_when_on(c, nodes, node, figures, 2, bounds) == TL_NET_SOLVED) {
            found.load = as_quantity(&bounds[0]);
            found.series_watts = bounds[1].high;
            found.series_volts = found.load.low * load->value->value.high;
        }
    }
    found.pin = c->plan->outputs[output].pin_count > 0 ? found.load.high : 0;
    if (c->plan->outputs[output].driver.way == TL_DRIVER_NONE)
        return found;
    const tl_figure figures[] = {amperes_through(control != NULL ? control->net : TL_NET_NONE),
                                 amperes_through(nodes->base)};
    const bool bipolar = nodes->base != TL_NET_NONE;
    found.pin = 0;
    if ((control != NULL || bipolar) &&
        bounds_when_on(c, nodes, nodes->control, control != NULL ? figures : figures + 1,
                       (control != NULL) + bipolar, bounds) == TL_NET_SOLVED) {
        found.pin = as_quantity(&bounds[0]).high;
        found.base_least = bipolar ? as_quantity(&bounds[control != NULL]).low : 0;
    }
    const tl_figure gate = {.kind = TL_FIGURE_VOLTS, .of = nodes->control, .less = tl_net_fixed(0)};
    if (!bipolar && bounds_when_on(c, nodes, nodes->control, &gate, 1, bounds) == TL_NET_SOLVED)
        found.gate_least = bounds[0].low;
    const tl_pin_limits *limits = &c->plan->pins[c->plan->outputs[output].pins[leg]].limits;
    const tl_driver *driver = &c->plan->outputs[output].driver;
    found.gate_seconds = bipolar ? 0
                                 : log(9) * driver->gate_farads *
                                       (driver->series.value.high + fmax(driver_most_ohms(c, limits, true),
                                                                         driver_most_ohms(c, limits, false)));
    find_transistor(driver, tl_level_volts(limits->voh, c->plan->supplies[limits->supply].volts.low), &found);
    return found;
}

static bool same_pin(const tl_plan *plan, const tl_plan_output *o, int leg)
{
    const tl_pin_limits *a = &plan->pins[o->pins[leg - 1]].limits, *b = &plan->pins[o->pins[leg]].limits;
    return a->supply == b->supply && a->drives == b->drives && memcmp(&a->voh, &b->voh, sizeof a->voh) == 0 &&
           memcmp(&a->vol, &b->vol, sizeof a->vol) == 0;
}

const tl_output_figures *tl_circuit_output(tl_circuit *c, int output)
{
    const tl_plan_output *o = &c->plan->outputs[output];
    tl_output_figures *all = &c->output_figures[output];
    for (int leg = 0; !all->known && leg < c->first_leg[output + 1] - c->first_leg[output]; leg++) {
        if (leg > 0 && same_pin(c->plan, o, leg))
            continue;
        const tl_output_figures one = work_out(c, output, leg);
        all->load.low = leg == 0 ? one.load.low : fmin(all->load.low, one.load.low);
        all->load.nominal = leg == 0 ? one.load.nominal : all->load.nominal;
        all->load.high = fmax(all->load.high, one.load.high);
        all->pin = fmax(all->pin, one.pin);
        all->series_watts = fmax(all->series_watts, one.series_watts);
        all->series_volts = leg == 0 ? one.series_volts : fmin(all->series_volts, one.series_volts);
        all->transistor_watts = fmax(all->transistor_watts, one.transistor_watts);
        all->transistor_volts = fmax(all->transistor_volts, one.transistor_volts);
        all->gate_seconds = fmax(all->gate_seconds, one.gate_seconds);
        all->base_ohms = leg == 0 ? one.base_ohms : fmin(all->base_ohms, one.base_ohms);
        all->gate_least = leg == 0 ? one.gate_least : fmin(all->gate_least, one.gate_least);
        all->base_least = leg == 0 ? one.base_least : fmin(all->base_least, one.base_least);
    }
    all->known = true;
    return all;
}

tl_quantity tl_circuit_load_amperes(tl_circuit *circuit, const tl_plan_output *output)
{
    return tl_circuit_output(circuit, (int)(output - circuit->plan->outputs))->load;
}

double tl_circuit_pin_amperes(tl_circuit *circuit, const tl_plan_output *output)
{
    return tl_circuit_output(circuit, (int)(output - circuit->plan->outputs))->pin;
}

tl_driver_amperes tl_circuit_driver(tl_circuit *circuit, const tl_plan_output *output)
{
    const tl_output_figures *found = tl_circuit_output(circuit, (int)(output - circuit->plan->outputs));
    return (tl_driver_amperes){found->load.high, found->pin, found->base_least};
}
