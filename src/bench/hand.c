/* SPDX-License-Identifier: MIT */
/* A hand on the bench while it runs: turns sources, presses contacts, whatever the scene has for them. */
#include "bench/bench_internal.h"
#include <math.h>

bool tl_bench_can_turn(const tl_bench *bench, int signal, double *least, double *most)
{
    const int param = bench->circuit->signals[signal].unknown;
    if (param == TL_NET_NONE)
        return false;
    tl_net_param_span(bench->net, param, least, most);
    return *most > *least;
}

/* Every island has its own view of the parameters; the edge comes at the very next instant. */
static void set_value(tl_bench *bench, int signal, edge_kind kind, double value)
{
    for (int k = 0; k < bench->island_count; k++) {
        bench_island *s = &bench->islands[k];
        island_advance(bench, s, bench->now_ns);
        edge_add(s, bench->now_ns + 1, kind, bench->circuit->signals[signal].unknown, value);
    }
}

void tl_bench_turn(tl_bench *bench, int signal, double value)
{
    double least, most;
    if (tl_bench_can_turn(bench, signal, &least, &most))
        set_value(bench, signal, EDGE_VALUE, fmin(fmax(value, least), most));
}

static int contact_of(const tl_bench *bench, int signal, int button)
{
    const tl_signal_nodes *nodes = &bench->circuit->signals[signal];
    const int buttons = bench->circuit->plan->signals[signal].source.button_count;
    if (buttons > 0)
        return button >= 0 && button < buttons ? nodes->buttons[button] : TL_NET_NONE;
    return nodes->contact;
}

/* What bounces still has an even number of edges before it or an odd one: that tells where it ends. */
static bool ends_pressed(const tl_bench *bench, const bench_island *s, int contact)
{
    bool pressed = bench->pressed[contact];
    for (int i = 0; i < s->edge_count; i++)
        pressed ^= s->edges[i].kind == EDGE_PRESS && s->edges[i].which == contact;
    return pressed;
}

bool tl_bench_can_press(const tl_bench *bench, int signal, int button)
{
    return contact_of(bench, signal, button) != TL_NET_NONE;
}

bool tl_bench_pressed(tl_bench *bench, int signal, int button)
{
    const int contact = contact_of(bench, signal, button);
    bench_island *s = bench->signals[signal].island;
    island_advance(bench, s, bench->now_ns);
    return contact != TL_NET_NONE && ends_pressed(bench, s, contact);
}

/* What the scene still had in mind for it is forgotten. */
static void drop_presses(bench_island *s, int contact)
{
    int kept = 0;
    for (int i = 0; i < s->edge_count; i++) {
        if (s->edges[i].kind != EDGE_PRESS || s->edges[i].which != contact)
            s->edges[kept++] = s->edges[i];
    }
    s->edge_count = kept;
}

void tl_bench_press(tl_bench *bench, int signal, int button, bool down)
{
    const int contact = contact_of(bench, signal, button);
    if (contact == TL_NET_NONE)
        return;
    bench->by_hand[contact] = true;
    if (tl_bench_pressed(bench, signal, button) == down)
        return;
    bench_island *s = bench->signals[signal].island;
    drop_presses(s, contact);
    if (bench->pressed[contact] != down)
        bouncing_edge_add(s, &bench->hand, contact, tl_bench_time(bench) + 1e-9,
                          bench->circuit->plan->signals[signal].source.bounce);
}

void tl_bench_let_go(tl_bench *bench, int signal)
{
    double least, most;
    const int buttons = bench->circuit->plan->signals[signal].source.button_count;
    if (tl_bench_can_turn(bench, signal, &least, &most))
        set_value(bench, signal, EDGE_FREE, bench->values[bench->circuit->signals[signal].unknown]);
    for (int i = 0; i < (buttons > 0 ? buttons : 1); i++) {
        const int contact = contact_of(bench, signal, i);
        if (contact == TL_NET_NONE || !bench->by_hand[contact])
            continue;
        tl_bench_press(bench, signal, i, false);
        bench->by_hand[contact] = false;
    }
}
