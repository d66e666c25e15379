/* SPDX-License-Identifier: MIT */
/* A bench in situations that are always the same; what differs between two of them. */
#include "reading/sight.h"
#include "elaborate/circuit_struct.h"
#include "reading/outputs.h"
#include "reading/taker.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

/* As it comes; then every source at one of its ends, and contacts pressed or not, in turns so that neighbours
 * differ; then all of it the other way round. */
enum { SITUATIONS = 3, LOOKS = 2, WORTH_COUNTS = 3 };

struct sight {
    tl_circuit *circuit;
    taken *readings; /* of all signals, in each situation */
    double *volts;   /* of all nodes; NAN where none can be measured */
    double *amperes; /* of all outputs; NAN where the plan does not say what they drive */
    int damages;
    char trouble[200];
};

/* Not where mains hum passes through 0. */
static const double first_look = 1.0037;
static const double worth_volts = 0.02, worth_share = 0.003, worth_amperes = 1e-4;

static void put_into(tl_bench *bench, const tl_plan *plan, int situation)
{
    for (int i = 0; i < plan->signal_count && situation > 0; i++) {
        double least, most;
        const bool first = (situation + i) % 2 == 0;
        if (tl_bench_can_turn(bench, i, &least, &most))
            tl_bench_turn(bench, i, first ? least : most);
        if (tl_bench_can_press(bench, i, 0))
            tl_bench_press(bench, i, 0, first);
    }
}

/* What shows no signal is switched all the same. */
static void drive(tl_bench *bench, const tl_plan *plan, int situation)
{
    const tl_port *port = tl_bench_port(bench);
    for (int i = 0; i < plan->output_count && situation > 0; i++) {
        const tl_plan_output *o = &plan->outputs[i];
        const bool high = o->driver.way != TL_DRIVER_NONE || tl_plan_rail_is_low(plan, o->to);
        for (int k = 0; k < o->pin_count && o->shows == TL_NONE; k++) {
            const uint8_t pin = (uint8_t)o->pins[k];
            if (o->pins[k] < plan->board->pin_count && tl_port_line_use(port, pin, TL_LINE_OUTPUT) == TL_OK)
                (void)tl_port_line_drive(port, pin, (situation == 1) == high);
        }
    }
}

static bool is_drivable(const tl_plan_output *o)
{
    return o->driver.way != TL_DRIVER_NONE || o->lamp.given;
}

/* Looks twice: a contact that has just been pressed has bounced by the second time. */
static void look(sight *s, tl_bench *bench, const int *signals, outputs *driven, int situation)
{
    const tl_plan *plan = tl_circuit_plan(s->circuit);
    taken *readings = s->readings + (size_t)situation * (size_t)plan->signal_count;
    const int nodes = tl_net_node_count(tl_circuit_net(s->circuit));
    for (int n = 0; n < LOOKS; n++) {
        take_once(bench, signals, plan->signal_count, first_look + situation + 0.5 * n, 0, readings);
        outputs_show(driven, bench, signals, plan->signal_count, readings);
    }
    for (int i = 0; i < plan->output_count; i++)
        s->amperes[situation * plan->output_count + i] =
            is_drivable(&plan->outputs[i]) ? tl_bench_load_amperes(bench, i) : (double)NAN;
    for (int i = 0; i < nodes; i++) {
        double *volts = &s->volts[situation * nodes + i];
        if (tl_bench_node_volts(bench, tl_net_node_name(tl_circuit_net(s->circuit), i), volts) !=
            TL_NET_SOLVED)
            *volts = NAN;
    }
}

sight *sight_of(tl_circuit *circuit, const char *fault, tl_report *report)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    tl_scene *scene = tl_scene_new();
    if (fault != NULL && !tl_scene_add_fault(scene, fault, circuit, report)) {
        tl_scene_free(scene);
        return NULL;
    }
    sight *s = must(calloc(1, sizeof *s));
    const size_t situations = SITUATIONS;
    s->circuit = circuit;
    s->readings = must(calloc(situations * (size_t)plan->signal_count + 1, sizeof *s->readings));
    s->volts =
        must(calloc(situations * (size_t)tl_net_node_count(tl_circuit_net(circuit)) + 1, sizeof *s->volts));
    s->amperes = must(calloc(situations * (size_t)plan->output_count + 1, sizeof *s->amperes));
    int *signals = must(calloc((size_t)plan->signal_count + 1, sizeof *signals));
    outputs driven = {NULL, 0};
    tl_bench *bench = tl_bench_new(circuit, scene, TL_BENCH_IDEAL);
    for (int i = 0; i < plan->signal_count; i++)
        signals[i] = i;
    for (int i = 0; i < SITUATIONS; i++) {
        tl_bench_go_to(bench, 0.9 + i);
        put_into(bench, plan, i);
        drive(bench, plan, i);
        look(s, bench, signals, &driven, i);
    }
    (void)tl_bench_damages(bench, &s->damages);
    if (tl_bench_trouble(bench) != NULL)
        snprintf(s->trouble, sizeof s->trouble, "%s", tl_bench_trouble(bench));
    outputs_free(&driven);
    tl_bench_free(bench);
    tl_scene_free(scene);
    free(signals);
    return s;
}

const char *sight_trouble(const sight *s)
{
    return s->trouble[0] != '\0' ? s->trouble : NULL;
}

static bool readings_differ(const taken *a, const taken *b)
{
    if (a->net != b->net || a->is.status != b->is.status || a->is.undriven != b->is.undriven ||
        a->is.is.open != b->is.is.open || a->is.is.shorted != b->is.is.shorted)
        return true;
    const double value = fabs(a->is.is.value - b->is.is.value);
    if (!a->is.analog)
        return a->is.closed != b->is.closed || value > 0.02 * fabs(a->is.is.value);
    return labs(a->is.count - b->is.count) > WORTH_COUNTS ||
           value > worth_share * fabs(a->is.is.value) + pow(10, -a->is.is.decimals);
}

static bool volts_differ(double a, double b)
{
    return fabs(a - b) > worth_volts + 0.01 * fabs(a);
}

static bool amperes_differ(double a, double b)
{
    return fabs(a - b) > worth_amperes + 0.02 * fabs(a);
}

const char *sight_difference(const sight *a, const sight *b)
{
    const tl_plan *plan = tl_circuit_plan(a->circuit);
    const int nodes = tl_net_node_count(tl_circuit_net(a->circuit));
    for (int i = 0; i < SITUATIONS * plan->signal_count; i++) {
        if (readings_differ(&a->readings[i], &b->readings[i]))
            return plan->signals[i % plan->signal_count].name;
    }
    for (int i = 0; i < SITUATIONS * plan->output_count; i++) {
        if (amperes_differ(a->amperes[i], b->amperes[i]))
            return plan->outputs[i % plan->output_count].name;
    }
    for (int i = 0; i < SITUATIONS * nodes; i++) {
        if (volts_differ(a->volts[i], b->volts[i]))
            return tl_net_node_name(tl_circuit_net(a->circuit), i % nodes);
    }
    return a->damages != b->damages ? "damage" : NULL;
}

void sight_free(sight *s)
{
    if (s == NULL)
        return;
    free(s->readings);
    free(s->volts);
    free(s->amperes);
    free(s);
}
