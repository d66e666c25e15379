/* SPDX-License-Identifier: MIT */
/* Setting a bench up, and what can be asked of it beside the port. */
#include "base/memory.h"
#include "bench/bench_internal.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum { MICROSECOND = 1000 };

tl_bench *bench_new_of(tl_circuit *circuit, const tl_scene *scene, unsigned long seed, const bool *wired)
{
    tl_bench *bench = tl_alloc(1, sizeof *bench);
    bench->of = wired;
    bench->circuit = circuit;
    bench->scene = scene;
    bench->seed = seed;
    bench->parts = random_stream(seed, RANDOM_PARTS);
    bench->hand = random_stream(seed, RANDOM_HAND);
    bench->jitter = random_stream(seed, RANDOM_JITTER);
    for (int i = 0; i < TL_BENCH_CALLS; i++)
        bench->call_ns[i] = MICROSECOND;
    bench->port = (tl_port){&bench_port_ops, bench, &bench->reader};
    wiring_init(bench);
    bench->lines = tl_alloc((size_t)circuit->plan->board->pin_count, sizeof *bench->lines);
    routes_init(bench);
    feeds_begin(bench);
    converter_init(bench);
    leave_others_out(bench);
    islands_init(bench);
    pins_init(bench);
    feeds_find(bench);
    loads_find(bench);
    events_init(bench);
    stimuli_init(bench);
    lines_turn(bench);
    bench->line_turn_ns = lines_turn_after(bench, bench->now_ns);
    bench->wired = true;
    return bench;
}

tl_bench *tl_bench_new(tl_circuit *circuit, const tl_scene *scene, unsigned long seed)
{
    return bench_new_of(circuit, scene, seed, NULL);
}

tl_bench *tl_bench_open(const char *plan_path, const char *scene_path, tl_report *report)
{
    tl_report *own = report == NULL ? tl_report_new() : NULL;
    tl_report *to = report != NULL ? report : own;
    tl_bench *bench = NULL;
    tl_plan *plan = tl_plan_load(plan_path, to);
    tl_circuit *circuit = plan != NULL ? tl_circuit_new(plan) : NULL;
    tl_scene *scene = plan != NULL && scene_path != NULL ? tl_scene_load(scene_path, circuit, to) : NULL;
    if (plan != NULL && (scene_path == NULL || scene != NULL)) {
        bench = tl_bench_new(circuit, scene, scene != NULL ? scene->seed : 1);
        bench->own_plan = plan;
        bench->own_circuit = circuit;
        bench->own_scene = scene;
    } else {
        tl_scene_free(scene);
        tl_circuit_free(circuit);
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
    free(bench->buses);
    free(bench->read_last);
    for (int i = 0; i < bench->circuit->plan->signal_count; i++)
        free(bench->filters[i].codes);
    free(bench->filters);
    free(bench->first_at_channel);
    free(bench->chips);
    free(bench->told);
    free(bench->lines);
    free(bench->mux_input);
    free(bench->routed);
    free(bench->muxes);
    free(bench->pins);
    free(bench->closed);
    free(bench->pressed);
    free(bench->by_hand);
    free(bench->held);
    free(bench->island_of_contact);
    free(bench->fault_contact);
    free(bench->hum);
    free(bench->lifts);
    free(bench->feeds);
    free(bench->loads);
    free(bench->leaking);
    free(bench->switches);
    free(bench->values);
    free(bench->damages);
    free(bench->rhythms);
    tl_net_free(bench->net);
    tl_circuit_free(bench->own_circuit);
    tl_scene_free(bench->own_scene);
    tl_plan_free(bench->own_plan);
    free(bench);
}

const tl_port *tl_bench_port(tl_bench *bench)
{
    return &bench->port;
}

tl_circuit *tl_bench_circuit(const tl_bench *bench)
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

int tl_bench_signal(const tl_bench *bench, const char *name)
{
    const tl_plan *plan = bench->circuit->plan;
    for (int i = 0; i < plan->signal_count; i++) {
        if (strcmp(plan->signals[i].name, name) == 0)
            return i;
    }
    return -1;
}

void tl_bench_begin(tl_bench *bench, double seconds)
{
    if (seconds >= 0 || bench->now_ns != 0 || bench->calls > 0) {
        tl_bench_go_to(bench, seconds);
        return;
    }
    bench->now_ns = (int64_t)llround(1e9 * fmax(seconds, BENCH_BEFORE + 1));
    bench->begun_ns = bench->now_ns;
    for (int i = 0; i < bench->island_count; i++)
        bench->islands[i].wired = bench->islands[i].begun = false;
}

double tl_bench_pin_volts(tl_bench *bench, int signal)
{
    return signal_volts(bench, signal);
}

bool tl_bench_undriven(tl_bench *bench, int signal)
{
    island_advance(bench, bench->signals[signal].island, bench->now_ns);
    return signal_floats(bench, signal) || only_hums(bench, signal);
}

bool tl_bench_undefined(tl_bench *bench, int signal)
{
    int stuck;
    const tl_signal *s = &bench->circuit->plan->signals[signal];
    if (s->analog || s->pin >= bench->circuit->plan->board->pin_count)
        return false;
    const bench_pin *p = &bench->pins[line_really(bench, s->pin, &stuck)];
    if (stuck >= 0 || p->island == NULL || tl_bench_undriven(bench, signal))
        return false;
    const double volts = signal_volts(bench, p->signal);
    return volts > p->vil && volts < p->vih;
}

double tl_bench_truth(tl_bench *bench, int signal)
{
    const tl_signal_nodes *nodes = &bench->circuit->signals[signal];
    bench_island *s = bench->signals[signal].island;
    island_advance(bench, s, bench->now_ns);
    if (nodes->unknown != TL_NET_NONE)
        return s->values[nodes->unknown];
    if (nodes->contact != TL_NET_NONE)
        return bench->closed[nodes->contact];
    for (int i = 0; i + 1 < nodes->states; i++) { /* of a chain or star the nearest that is pressed */
        if (bench->closed[nodes->buttons[i]])
            return i + 1;
    }
    return 0;
}

tl_net_status tl_bench_node_volts(tl_bench *bench, const char *name, double *volts)
{
    const int node = tl_net_find_node(bench->net, name);
    if (node != TL_NET_NONE && tl_net_is_rail(bench->net, node) && bench->island_count > 0) {
        island_advance(bench, &bench->islands[0], bench->now_ns); /* each knows what faults make of rails */
        *volts = tl_net_rail_volts(bench->net, node, bench->islands[0].values);
        return TL_NET_SOLVED;
    }
    for (int k = 0; k < bench->island_count && node != TL_NET_NONE; k++) {
        bench_island *s = &bench->islands[k];
        const int index = tl_island_index(s->island, node);
        if (index == TL_NET_NONE)
            continue;
        island_advance(bench, s, bench->now_ns);
        *volts = s->volts[index];
        return s->in_trouble ? TL_NET_SHORTED : TL_NET_SOLVED;
    }
    return TL_NET_FLOATING;
}

double tl_bench_value(const tl_bench *bench, int param)
{
    return bench->values[param];
}

const char *tl_bench_trouble(const tl_bench *bench)
{
    return bench->trouble[0] != '\0' ? bench->trouble : NULL;
}

void tl_bench_be_strict(tl_bench *bench, bool strict)
{
    bench->strict = strict;
}

tl_line_use tl_bench_line_use(const tl_bench *bench, int line, bool *high)
{
    if (high != NULL)
        *high = bench->lines[line].high;
    return bench->lines[line].use;
}

const tl_bench_damage *tl_bench_damages(tl_bench *bench, int *count)
{
    for (int k = 0; k < bench->island_count; k++)
        island_advance(bench, &bench->islands[k], bench->now_ns);
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

void tl_bench_call_takes(tl_bench *bench, tl_bench_call call, double seconds, double jitter)
{
    for (int i = 0; i < TL_BENCH_CALLS; i++) {
        if (call != TL_BENCH_CALLS && i != (int)call)
            continue;
        bench->call_ns[i] = (int64_t)llround(1e9 * fmin(fmax(seconds, 1e-9), 10));
        bench->call_jitter_ns[i] = (int64_t)llround(1e9 * fmin(fmax(jitter, 0), 10));
    }
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
