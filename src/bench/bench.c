/* Setting a bench up, and what can be asked of it beside the port. */
#include "../net/memory.h"
#include "bench_internal.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

/* Every part gets a real value from its tolerance; what a scene or the plan's nominal decides stays nominal.
 */
static void draw_values(tl_bench *bench)
{
    const tl_net *net = bench->circuit->net;
    bench->values = tl_alloc((size_t)tl_net_param_count(net), sizeof *bench->values);
    for (int i = 0; i < tl_net_param_count(net); i++) {
        double low, high;
        tl_net_param_span(net, i, &low, &high);
        bench->values[i] = low + (high - low) * random_even(&bench->parts);
    }
    for (int i = 0; i < bench->circuit->plan->signal_count; i++) {
        const int unknown = bench->circuit->signals[i].unknown;
        if (unknown != TL_NET_NONE)
            bench->values[unknown] = tl_net_param_nominal(net, unknown);
    }
}

tl_bench *tl_bench_new(const tl_circuit *circuit, const tl_scene *scene, unsigned long seed)
{
    tl_bench *bench = tl_alloc(1, sizeof *bench);
    bench->circuit = circuit;
    bench->scene = scene;
    bench->seed = seed;
    bench->parts = random_stream(seed, RANDOM_PARTS);
    bench->noise = random_stream(seed, RANDOM_NOISE);
    bench->port = (tl_port){&bench_port_ops, bench};
    draw_values(bench);
    bench->closed = tl_alloc((size_t)tl_net_contact_count(circuit->net), sizeof *bench->closed);
    bench->lines = tl_alloc((size_t)circuit->plan->board->pin_count, sizeof *bench->lines);
    converter_init(bench);
    islands_init(bench);
    muxes_update(bench);
    for (int i = 0; i < bench->island_count; i++)
        island_advance(bench, &bench->islands[i], 0);
    return bench;
}

tl_bench *tl_bench_open(const char *plan_path, const char *scene_path, tl_report *report)
{
    tl_report *own = report == NULL ? tl_report_new() : NULL;
    tl_report *to = report != NULL ? report : own;
    tl_bench *bench = NULL;
    tl_plan *plan = tl_plan_load(plan_path, to);
    tl_scene *scene = plan != NULL && scene_path != NULL ? tl_scene_load(scene_path, plan, to) : NULL;
    if (plan != NULL && (scene_path == NULL || scene != NULL)) {
        tl_circuit *circuit = tl_circuit_new(plan);
        bench = tl_bench_new(circuit, scene, scene != NULL ? scene->seed : 1);
        bench->own_plan = plan;
        bench->own_circuit = circuit;
        bench->own_scene = scene;
    } else {
        tl_scene_free(scene);
        tl_plan_free(plan);
    }
    tl_report_free(own);
    return bench;
}

void tl_bench_free(tl_bench *bench)
{
    if (bench == NULL)
        return;
    islands_free(bench);
    free(bench->errors);
    free(bench->chips);
    free(bench->lines);
    free(bench->closed);
    free(bench->values);
    free(bench->damages);
    tl_circuit_free(bench->own_circuit);
    tl_scene_free(bench->own_scene);
    tl_plan_free(bench->own_plan);
    free(bench);
}

const tl_port *tl_bench_port(tl_bench *bench)
{
    return &bench->port;
}

const tl_circuit *tl_bench_circuit(const tl_bench *bench)
{
    return bench->circuit;
}

int tl_bench_line(const tl_bench *bench, const char *pin)
{
    const tl_board *board = bench->circuit->plan->board;
    for (int i = 0; i < board->pin_count; i++) {
        if (strcmp(board->pins[i].name, pin) == 0)
            return i;
    }
    return -1;
}

double tl_bench_time(const tl_bench *bench)
{
    return 1e-9 * (double)bench->now_ns;
}

void tl_bench_go_to(tl_bench *bench, double seconds)
{
    const int64_t to_ns = (int64_t)llround(1e9 * fmin(seconds, 1e9));
    /* Straight lines are extreme at their ends: look there on the way, so that no overvoltage goes unseen. */
    for (int i = 0; i < bench->circuit->plan->signal_count; i++) {
        const tl_course *course = bench->signals[i].course;
        for (int m = 0; course != NULL && m < course->count; m++) {
            const int64_t at_ns = (int64_t)llround(1e9 * course->moments[m].at);
            if (at_ns > bench->signals[i].island->at_ns && at_ns < to_ns)
                signal_advance(bench, i, at_ns);
        }
    }
    if (to_ns > bench->now_ns)
        bench->now_ns = to_ns;
}

double tl_bench_pin_volts(tl_bench *bench, int signal)
{
    signal_advance(bench, signal, bench->now_ns);
    return signal_pin_volts(bench, signal);
}

double tl_bench_truth(tl_bench *bench, int signal)
{
    const tl_signal_nodes *nodes = &bench->circuit->signals[signal];
    signal_advance(bench, signal, bench->now_ns);
    if (nodes->unknown != TL_NET_NONE)
        return bench->values[nodes->unknown];
    if (nodes->contact != TL_NET_NONE)
        return bench->closed[nodes->contact];
    for (int i = 0; i + 1 < nodes->states; i++) { /* of a chain or star the nearest that is pressed */
        if (bench->closed[nodes->buttons[i]])
            return i + 1;
    }
    return 0;
}

tl_line_use tl_bench_line_use(const tl_bench *bench, int line, bool *high)
{
    if (high != NULL)
        *high = bench->lines[line].high;
    return bench->lines[line].use;
}

const tl_bench_damage *tl_bench_damages(const tl_bench *bench, int *count)
{
    *count = bench->damage_count;
    return bench->damages;
}

void tl_bench_fail_at(tl_bench *bench, unsigned long call, bool once)
{
    bench->fail_at = call != 0 ? bench->calls + call : 0;
    bench->fail_once = once;
}

unsigned long tl_bench_calls(const tl_bench *bench)
{
    return bench->calls;
}

void tl_bench_never_end(tl_bench *bench, bool never)
{
    bench->never_end = never;
}

void tl_bench_freeze_clock(tl_bench *bench, bool frozen)
{
    bench->frozen = frozen;
    bench->frozen_ns = bench->now_ns;
}

void tl_bench_set_clock(tl_bench *bench, uint32_t now_us)
{
    bench->clock_start_us = now_us - (uint32_t)(uint64_t)(bench->now_ns / 1000);
}
