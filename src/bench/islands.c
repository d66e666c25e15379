/* SPDX-License-Identifier: MIT */
/* Which islands there are: what is connected by anything but ideal rails, around each signal's pin. */
#include "base/memory.h"
#include "bench/bench_internal.h"
#include <stdlib.h>
#include <string.h>

static bench_island *island_at(tl_bench *bench, int node)
{
    for (int k = 0; k < bench->island_count; k++) {
        if (tl_island_index(bench->islands[k].island, node) != TL_NET_NONE)
            return &bench->islands[k];
    }
    return NULL;
}

static void take_contacts(tl_bench *bench, bench_island *s)
{
    const int contacts = tl_net_contact_count(bench->net);
    bool *marked = tl_alloc((size_t)contacts, sizeof *marked);
    tl_island_mark_contacts(s->island, marked);
    for (int i = 0; i < contacts; i++)
        bench->island_of_contact[i] = marked[i] ? s : bench->island_of_contact[i];
    free(marked);
    for (int i = 0; i < bench->switch_count; i++) {
        const tl_switch *sw = &bench->switches[i];
        if (bench->island_of_contact[sw->contact] != s)
            continue;
        s->switches = tl_grow(s->switches, (size_t)s->switch_count, sizeof *s->switches);
        s->switches[s->switch_count++] = (bench_switch){sw, tl_island_index(s->island, sw->node),
                                                        tl_island_index(s->island, sw->against), 0, 0};
    }
}

static void open_island(tl_bench *bench, bench_island *s, int node)
{
    const size_t params = (size_t)tl_net_param_count(bench->net);
    s->island = tl_island_new(bench->net, TL_VIEW_SOLDERED, node);
    s->size = tl_island_size(s->island);
    s->volts = tl_alloc((size_t)s->size, sizeof *s->volts);
    s->before = tl_alloc((size_t)s->size, sizeof *s->before);
    s->values = tl_alloc(params, sizeof *s->values);
    memcpy(s->values, bench->values, params * sizeof *s->values);
    s->changed = true;
    take_contacts(bench, s);
}

bool is_on_bench(const tl_bench *bench, int line)
{
    return bench->of == NULL || line >= bench->circuit->plan->signal_count || bench->of[line];
}

void leave_others_out(tl_bench *bench)
{
    const tl_circuit *c = bench->circuit;
    if (bench->of == NULL)
        return;
    for (int i = 0; i < c->plan->signal_count; i++) {
        for (int node = c->first_node[i]; node < c->first_node[i + 1] && !bench->of[i]; node++)
            tl_net_leave_out_at(bench->net, node);
    }
}

bool is_point_on_bench(const tl_bench *bench, int node)
{
    const int *first = bench->circuit->first_node;
    int low = 0, high = bench->circuit->plan->signal_count;
    if (bench->of == NULL || node < first[0] || node >= first[high])
        return true;
    while (high - low > 1) {
        const int middle = (low + high) / 2;
        if (first[middle] <= node)
            low = middle;
        else
            high = middle;
    }
    return bench->of[low];
}

/* Lines that are not on the bench all stand at one point that leads nowhere. */
static bench_island *island_of(tl_bench *bench, int line, bench_island **nowhere)
{
    const int pin = bench->circuit->signals[line].pin;
    const bool is_on = is_on_bench(bench, line);
    bench_island *s = is_on ? island_at(bench, pin) : *nowhere;
    if (s == NULL) {
        s = &bench->islands[bench->island_count++];
        open_island(bench, s, pin);
    }
    if (!is_on)
        *nowhere = s;
    return s;
}

static size_t most_islands(const tl_bench *bench)
{
    size_t lines = 1;
    for (int i = 0; i < bench->circuit->plan->line_count; i++)
        lines += is_on_bench(bench, i);
    return lines + 2 * (size_t)bench->load_count;
}

void islands_init(tl_bench *bench)
{
    tl_circuit *c = bench->circuit;
    bench_island *nowhere = NULL;
    const size_t lines = (size_t)c->plan->line_count;
    bench->signals = tl_alloc(lines, sizeof *bench->signals);
    bench->islands = tl_alloc(most_islands(bench), sizeof *bench->islands);
    for (int i = 0; i < c->plan->line_count; i++) {
        bench_island *s = island_of(bench, i, &nowhere);
        bench->signals[i] =
            (bench_signal){s, is_on_bench(bench, i) ? tl_island_index(s->island, c->signals[i].pin) : 0};
        if (!is_on_bench(bench, i))
            continue;
        s->signals = tl_grow(s->signals, (size_t)s->signal_count, sizeof *s->signals);
        s->signals[s->signal_count++] = i;
        s->forced = s->forced || c->plan->signals[i].source.kind == TL_SOURCE_CURRENT;
    }
    for (int i = 0; i < bench->load_count; i++) {
        const bench_load *load = &bench->loads[i];
        int ends[2] = {load_pin_node(bench, load), TL_NET_NONE};
        if (load->nodes->transistor != TL_NET_NONE)
            tl_net_part_ends(bench->net, load->nodes->transistor, &ends[1], &(int){0});
        for (int k = 0; k < 2; k++) {
            if (ends[k] != TL_NET_NONE && !tl_net_is_rail(bench->net, ends[k]) &&
                island_at(bench, ends[k]) == NULL)
                open_island(bench, &bench->islands[bench->island_count++], ends[k]);
        }
    }
}

void islands_free(tl_bench *bench)
{
    for (int k = 0; k < bench->island_count; k++) {
        bench_island *s = &bench->islands[k];
        systems_drop(s);
        tl_island_free(s->island);
        free(s->volts);
        free(s->before);
        free(s->values);
        free(s->edges);
        free(s->cursors);
        free(s->stimuli);
        free(s->switches);
        free(s->signals);
    }
    free(bench->islands);
    free(bench->signals);
}
