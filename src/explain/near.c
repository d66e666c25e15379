/* SPDX-License-Identifier: MIT */
/* Of a large plan most faults cannot change what was seen: they are left out before any is played. In doubt
 * it is near. */
#include "explain/near.h"
#include "base/memory.h"
#include "elaborate/circuit_struct.h"
#include "explain/touch.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/* Signals that share only rails with what was seen tell of it where a supply is missing, and to an ohmmeter,
 * which sees the whole network. In a plan of more signals than this, one of them makes no difference that
 * shows. */
enum { ALL_TELL = 100 };

static bool touches_any(tl_circuit *circuit, const bool *lines, int node, int param)
{
    for (int k = 0; k < circuit->plan->line_count; k++) {
        if (lines[k] && (is_of_signal(circuit, k, node) || has_param_of(circuit, k, param)))
            return true;
    }
    return false;
}

/* What was asked for, and the lines of the buses that it comes over. */
static bool *lines_of(const tl_plan *plan, const bool *asked)
{
    bool *lines = tl_alloc((size_t)plan->line_count + 1, sizeof *lines);
    for (int i = 0; i < plan->signal_count; i++) {
        const int converter = plan->signals[i].analog ? plan->pins[plan->signals[i].pin].converter : 0;
        lines[i] = asked[i];
        if (!asked[i] || converter <= 0)
            continue;
        const tl_bus *bus = &plan->buses[plan->converters[converter].bus];
        for (int k = 0; k < bus->line_count && !bus->spi; k++)
            lines[bus->first_line + k] = true;
    }
    return lines;
}

/* Of each signal of the plan: a fault of its parts, its wires or its pin may touch one of those that are
 * asked for. */
static bool *signals_near(tl_circuit *circuit, const bool *asked)
{
    const tl_plan *plan = circuit->plan;
    bool *near = tl_alloc((size_t)plan->signal_count + 1, sizeof *near), *lines = lines_of(plan, asked);
    for (int i = 0; i < plan->signal_count; i++) {
        near[i] = lines[i] || touches_any(circuit, lines, circuit->signals[i].pin, TL_NET_NONE);
        for (int node = circuit->first_node[i]; node < circuit->first_node[i + 1] && !near[i]; node++)
            near[i] = touches_any(circuit, lines, node, TL_NET_NONE);
        for (int param = circuit->first_param[i]; param < circuit->first_param[i + 1] && !near[i]; param++)
            near[i] = touches_any(circuit, lines, TL_NET_NONE, param);
        for (int k = 0; k < plan->signal_count && !near[i]; k++)
            near[i] = asked[k] && is_on_way(plan, k, plan->signals[i].pin);
    }
    free(lines);
    return near;
}

/* --- what was asked for --- */

/* A meter or a load stands for the signals whose network it is on. */
static void ask_of_node(tl_circuit *circuit, int node, bool *asked)
{
    for (int i = 0; i < circuit->plan->signal_count; i++)
        asked[i] = asked[i] || is_of_signal(circuit, i, node);
}

static void ask_of_output(tl_circuit *circuit, int output, bool *asked)
{
    const char *name = circuit->plan->outputs[output].name;
    const size_t length = strlen(name);
    for (int node = 0; node < tl_net_node_count(circuit->net); node++) {
        const char *of = tl_net_node_name(circuit->net, node);
        if (strncmp(of, name, length) == 0 && of[length] == '.')
            ask_of_node(circuit, node, asked);
    }
}

/* False: everything may show. */
static bool ask_of(tl_circuit *circuit, const situation *in, bool *asked)
{
    bool few = true;
    for (int i = 0; i < in->signal_count; i++)
        asked[in->signals[i].signal] = true;
    for (int i = 0; i < in->output_count; i++)
        ask_of_output(circuit, in->outputs[i].output, asked);
    for (int i = 0; i < in->meter_count; i++) {
        const bool ohms = in->meters[i].other != TL_NET_NONE;
        few = few && !(ohms && circuit->plan->signal_count <= ALL_TELL);
        ask_of_node(circuit, in->meters[i].node, asked);
        if (ohms)
            ask_of_node(circuit, in->meters[i].other, asked);
    }
    return few;
}

/* --- what is left --- */

/* The signal whose name this path begins with; TL_NONE. */
static int owner_of_path(const tl_plan *plan, const char *path)
{
    int signal;
    char owner[TL_PART_PATH];
    snprintf(owner, sizeof owner, "%.*s", (int)strcspn(path, ".,]"), path);
    return tl_plan_signal(plan, owner, &signal) != NULL ? signal : TL_NONE;
}

void owners_of(const tl_plan *plan, const char *line, int owner[2])
{
    const char *space = strchr(line, ' '), *path = space != NULL ? space + 1 : line,
               *other = *path == '[' ? strchr(path, ' ') : NULL;
    owner[0] = owner_of_path(plan, path + (*path == '['));
    owner[1] = other != NULL ? owner_of_path(plan, other + 1) : owner[0];
}

/* A fault of nothing but signals that are not near. */
static bool is_far(const int owner[2], const bool *near)
{
    return owner[0] != TL_NONE && owner[1] != TL_NONE && !near[owner[0]] && !near[owner[1]];
}

/* --- what has to be on a bench --- */

static int first_of(int *network, int signal)
{
    while (network[signal] != signal)
        signal = network[signal] = network[network[signal]];
    return signal;
}

static bool has_point_of(const tl_circuit *circuit, int signal, const tl_island *island)
{
    for (int node = circuit->first_node[signal]; node < circuit->first_node[signal + 1]; node++) {
        if (tl_island_index(island, node) != TL_NET_NONE)
            return true;
    }
    return false;
}

/* Joins all signals that have a point in common with the network around the pin of one of them. */
static void join_network(tl_circuit *circuit, int signal, int *network, bool *known)
{
    tl_island *island = tl_island_new(circuit->net, TL_VIEW_SOLDERED, circuit->signals[signal].pin);
    for (int i = 0; i < circuit->plan->signal_count; i++) {
        if (!has_point_of(circuit, i, island))
            continue;
        const int one = first_of(network, signal), other = first_of(network, i);
        network[one > other ? one : other] = one < other ? one : other;
        known[i] = known[i] || tl_island_index(island, circuit->signals[i].pin) != TL_NET_NONE;
    }
    tl_island_free(island);
}

int *networks_of(tl_circuit *circuit)
{
    const int count = circuit->plan->signal_count;
    int *network = tl_alloc((size_t)count + 1, sizeof *network);
    bool *known = tl_alloc((size_t)count + 1, sizeof *known);
    for (int i = 0; i < count; i++)
        network[i] = i;
    for (int i = 0; i < count; i++) {
        if (!known[i])
            join_network(circuit, i, network, known);
    }
    for (int i = 0; i < count; i++)
        network[i] = first_of(network, i);
    free(known);
    return network;
}

void signals_wired(const int *network, int count, bool *wired)
{
    bool *any = tl_alloc((size_t)count + 1, sizeof *any);
    for (int i = 0; i < count; i++)
        any[network[i]] = any[network[i]] || wired[i];
    for (int i = 0; i < count; i++)
        wired[i] = any[network[i]];
    free(any);
}

bool *signals_of_meters(tl_circuit *circuit, const observed *seen)
{
    bool *asked = tl_alloc((size_t)circuit->plan->signal_count + 1, sizeof *asked);
    for (int k = 0; k < seen->count; k++) {
        situation others = seen->situations[k];
        others.signal_count = 0;
        (void)ask_of(circuit, &others, asked);
    }
    return asked;
}

void bench_parts_free(bench_parts *parts)
{
    free(parts->wired);
    free(parts->network);
}

tl_fault_list faults_near(tl_circuit *circuit, const observed *seen, bench_parts *parts)
{
    const tl_plan *plan = circuit->plan;
    tl_fault_list faults = tl_faults_of_plan(plan);
    bool *asked = tl_alloc((size_t)plan->signal_count + 1, sizeof *asked), few = true;
    int kept = 0;
    for (int k = 0; k < seen->count; k++)
        few = ask_of(circuit, &seen->situations[k], asked) && few;
    bool *near = signals_near(circuit, asked),
         *named = tl_alloc((size_t)plan->signal_count + 1, sizeof *named);
    for (int i = 0; i < plan->signal_count; i++)
        named[i] = near[i];
    for (int i = 0; i < faults.count; i++) {
        int owner[2];
        owners_of(plan, faults.line[i], owner);
        if (few && is_far(owner, near)) {
            free(faults.line[i]);
            continue;
        }
        faults.line[kept++] = faults.line[i];
        for (int k = 0; k < 2 && owner[k] != TL_NONE; k++)
            named[owner[k]] = true;
    }
    faults.count = kept;
    *parts = (bench_parts){NULL, networks_of(circuit)};
    if (plan->signal_count > ALL_TELL) {
        parts->wired = named;
        signals_wired(parts->network, plan->signal_count, named);
    } else {
        free(named);
    }
    free(asked);
    free(near);
    return faults;
}
