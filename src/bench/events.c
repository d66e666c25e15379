/* SPDX-License-Identifier: MIT */
/* What happens to an island, and when: presses that bounce, loose joints, faults that come and go, meters. */
#include "base/memory.h"
#include "bench/bench_internal.h"
#include <math.h>
#include <string.h>

static int64_t ns_of(double seconds)
{
    return (int64_t)llround(1e9 * fmin(seconds, 1e9));
}

/* Edges are few at a time: those of the presses that have begun. */
void edge_add(bench_island *s, int64_t at_ns, edge_kind kind, int which, double value)
{
    const bench_edge edge = {at_ns, kind, which, value};
    int place = s->edge_count;
    s->edges = tl_grow(s->edges, (size_t)s->edge_count++, sizeof *s->edges);
    for (; place > 0 && s->edges[place - 1].at_ns > edge.at_ns; place--)
        s->edges[place] = s->edges[place - 1];
    s->edges[place] = edge;
}

static void add_edge(bench_island *s, double at, edge_kind kind, int which, double value)
{
    edge_add(s, ns_of(at), kind, which, value);
}

/* --- presses and loose joints --- */

/*
 * A change of a contact at a time: the change itself, then two to six short breaks within the bounce time. An
 * odd number of edges in all, so that the contact ends up changed.
 */
void bouncing_edge_add(bench_island *s, random_source *random, int contact, double at, double bounce)
{
    const int breaks = bounce > 0 ? 2 + (int)(5 * random_even(random)) : 0;
    for (int i = 0; i < 1 + 2 * breaks; i++) {
        const double after = i == 0 ? 0 : i == 2 * breaks ? bounce : bounce * random_even(random);
        add_edge(s, at + after, EDGE_PRESS, contact, 0);
    }
}

static void load_press(tl_bench *bench, bench_island *s, bench_cursor *cursor)
{
    const tl_signal_nodes *nodes = &bench->circuit->signals[cursor->signal];
    tl_press repeated;
    const tl_press *press = &repeated;
    if (cursor->pattern != NULL)
        (void)tl_repeat_press(cursor->pattern, cursor->next_repeated++, &repeated);
    else
        press = &bench->scene->presses[cursor->next_press++];
    const int contact = press->button >= 0 ? nodes->buttons[press->button] : nodes->contact;
    if (bench->by_hand[contact])
        return;
    const double bounce = press->recorded ? 0 : bench->circuit->plan->signals[cursor->signal].source.bounce;
    bouncing_edge_add(s, &cursor->random, contact, press->at, fmin(bounce, press->length / 2));
    bouncing_edge_add(s, &cursor->random, contact, press->at + press->length, bounce);
}

/* Off for up to half the mean time between breaks. */
static void load_break(tl_bench *bench, bench_island *s, bench_cursor *cursor)
{
    const tl_scene_fault *fault = cursor->loose;
    const double begin = cursor->next_break, end = begin + 0.5 * fault->every * random_even(&cursor->random);
    for (int i = 0; i < fault->part_count; i++) {
        const int contact = tl_net_open_fault(bench->net, fault->parts[i]);
        add_edge(s, begin, EDGE_CONTACT, contact, 1);
        add_edge(s, fmin(end, fault->until), EDGE_CONTACT, contact, 0);
    }
    cursor->next_break = end - fault->every * log(1 - random_even(&cursor->random));
}

/* When a cursor has its next; INFINITY when there is none any more. */
static double cursor_at(const tl_bench *bench, bench_cursor *cursor)
{
    const tl_scene *scene = bench->scene;
    if (cursor->loose != NULL)
        return cursor->next_break < cursor->loose->until ? cursor->next_break : INFINITY;
    tl_press repeated;
    if (cursor->pattern != NULL)
        return tl_repeat_press(cursor->pattern, cursor->next_repeated, &repeated) ? repeated.at : INFINITY;
    while (cursor->next_press < scene->press_count &&
           scene->presses[cursor->next_press].signal != cursor->signal)
        cursor->next_press++;
    return cursor->next_press < scene->press_count ? scene->presses[cursor->next_press].at : INFINITY;
}

static bench_cursor *first_cursor(const tl_bench *bench, bench_island *s, double *at)
{
    bench_cursor *first = NULL;
    *at = INFINITY;
    for (int i = 0; i < s->cursor_count; i++) {
        const double next = cursor_at(bench, &s->cursors[i]);
        if (next < *at) {
            first = &s->cursors[i];
            *at = next;
        }
    }
    return first;
}

const bench_edge *events_first(tl_bench *bench, bench_island *s, int64_t to_ns)
{
    double at;
    bench_cursor *cursor;
    if (s->next_event * 1e9 > (double)to_ns + 1)
        return s->edge_count > 0 && s->edges[0].at_ns <= to_ns ? &s->edges[0] : NULL;
    /* Cursors are loaded only when they begin before what is due first. */
    while ((cursor = first_cursor(bench, s, &at)) != NULL &&
           at * 1e9 <
               (double)(s->edge_count > 0 && s->edges[0].at_ns < to_ns ? s->edges[0].at_ns : to_ns) + 1) {
        if (cursor->loose != NULL)
            load_break(bench, s, cursor);
        else
            load_press(bench, s, cursor);
    }
    s->next_event = at;
    return s->edge_count > 0 && s->edges[0].at_ns <= to_ns ? &s->edges[0] : NULL;
}

void island_set_value(tl_bench *bench, bench_island *s, int param, double value)
{
    s->values[param] = value;
    s->touched_ns = s->at_ns;
    s->events++;
    systems_drop(s);
    levels_update(bench, s);
    s->changed = true;
}

void events_apply_first(tl_bench *bench, bench_island *s)
{
    const bench_edge edge = s->edges[0];
    s->edge_count--;
    memmove(s->edges, s->edges + 1, (size_t)s->edge_count * sizeof *s->edges);
    if (edge.kind == EDGE_VALUE || edge.kind == EDGE_FREE) {
        for (int i = 0; i < s->stimulus_count; i++) {
            if (s->stimuli[i].param == edge.which)
                s->stimuli[i].held = edge.kind == EDGE_VALUE;
        }
        island_set_value(bench, s, edge.which, edge.value);
        return;
    }
    s->events++;
    s->touched_ns = s->at_ns;
    if (edge.kind == EDGE_PRESS)
        bench->pressed[edge.which] ^= true;
    if (edge.kind == EDGE_HOLD)
        bench->held[edge.which] = (uint8_t)edge.value;
    if (edge.kind == EDGE_CONTACT)
        contact_set(bench, edge.which, edge.value != 0);
    else
        contact_set(bench, edge.which,
                    bench->held[edge.which] != 0 ? bench->held[edge.which] == 2 : bench->pressed[edge.which]);
}

/* --- the scene's faults --- */

/* What is there from the beginning has been there before it, too. */
static double beginning(double from)
{
    return from > 0 ? from : BENCH_BEFORE;
}

static void add_contact_edges(tl_bench *bench, int contact, double from, double until)
{
    bench_island *s = bench->island_of_contact[contact];
    if (s == NULL)
        return; /* on no island that anybody can look at */
    add_edge(s, beginning(from), EDGE_CONTACT, contact, 1);
    if (isfinite(until))
        add_edge(s, until, EDGE_CONTACT, contact, 0);
}

/* Every island has its own view of the parameters. */
static void add_value_edges(tl_bench *bench, int param, double value, const tl_scene_fault *fault)
{
    for (int k = 0; k < bench->island_count; k++) {
        add_edge(&bench->islands[k], beginning(fault->from), EDGE_VALUE, param, value);
        if (isfinite(fault->until))
            add_edge(&bench->islands[k], fault->until, EDGE_FREE, param, bench->values[param]);
    }
}

static void add_cursor(bench_island *s, bench_cursor cursor)
{
    s->cursors = tl_grow(s->cursors, (size_t)s->cursor_count, sizeof *s->cursors);
    s->cursors[s->cursor_count++] = cursor;
}

static void plan_loose(tl_bench *bench, const tl_scene_fault *fault, unsigned stream)
{
    bench_island *s = bench->island_of_contact[tl_net_open_fault(bench->net, fault->parts[0])];
    bench_cursor cursor = {.loose = fault, .random = random_stream(bench->seed, stream)};
    cursor.next_break = fault->from - fault->every * log(1 - random_even(&cursor.random));
    if (s != NULL)
        add_cursor(s, cursor);
}

/* What the supply feeds goes off with it. */
static void plan_missing(tl_bench *bench, const tl_scene_fault *fault)
{
    for (int i = 0; i < bench->circuit->plan->signal_count; i++) {
        const unpowered of = unpowered_signal(bench, i, fault->supply);
        for (int k = 0; k < of.count; k++)
            add_contact_edges(bench, tl_net_open_fault(bench->net, of.parts[k]), fault->from, fault->until);
        if (of.param != TL_NET_NONE)
            add_value_edges(bench, of.param, 0, fault);
    }
}

static void plan_fault(tl_bench *bench, int index)
{
    const tl_scene_fault *fault = &bench->scene->faults[index];
    if (fault->kind == TL_SCENE_LOOSE) {
        plan_loose(bench, fault, RANDOM_LOOSE + (unsigned)index);
        return;
    }
    for (int i = 0; i < fault->part_count && fault->kind == TL_SCENE_OPEN; i++)
        add_contact_edges(bench, tl_net_open_fault(bench->net, fault->parts[i]), fault->from, fault->until);
    if (bench->fault_contact[index] != TL_NET_NONE)
        add_contact_edges(bench, bench->fault_contact[index], fault->from, fault->until);
    if (fault->kind == TL_SCENE_MISSING)
        plan_missing(bench, fault);
    if (fault->kind == TL_SCENE_SWAP && fault->param[0] != TL_NET_NONE) {
        add_value_edges(bench, fault->param[0], bench->values[fault->param[1]], fault);
        add_value_edges(bench, fault->param[1], bench->values[fault->param[0]], fault);
    } else if (fault->param[0] != TL_NET_NONE) {
        add_value_edges(bench, fault->param[0], fault->kind == TL_SCENE_MISSING ? 0 : fault->value, fault);
    }
    if (fault->contact != TL_NET_NONE && bench->island_of_contact[fault->contact] != NULL) {
        bench_island *s = bench->island_of_contact[fault->contact];
        add_edge(s, beginning(fault->from), EDGE_HOLD, fault->contact, fault->closed ? 2 : 1);
        if (isfinite(fault->until))
            add_edge(s, fault->until, EDGE_HOLD, fault->contact, 0);
    }
}

void events_init(tl_bench *bench)
{
    if (bench->scene == NULL)
        return;
    for (int k = 0; k < bench->island_count; k++)
        bench->islands[k].next_event = -INFINITY; /* a button may have been held since before it begins */
    for (int i = 0; i < bench->circuit->plan->signal_count; i++) {
        bench_cursor cursor = {.signal = i,
                               .random = random_stream(bench->seed, RANDOM_PRESSES + (unsigned)i)};
        if (isfinite(cursor_at(bench, &cursor)))
            add_cursor(bench->signals[i].island, cursor);
    }
    for (int i = 0; i < bench->scene->repeat_count; i++) {
        const tl_repeat *pattern = &bench->scene->repeats[i];
        add_cursor(
            bench->signals[pattern->signal].island,
            (bench_cursor){.signal = pattern->signal,
                           .pattern = pattern,
                           .random = random_stream(bench->seed, RANDOM_PRESSES + (unsigned)pattern->signal)});
    }
    for (int i = 0; i < bench->scene->fault_count; i++)
        plan_fault(bench, i);
    for (int i = 0; i < bench->scene->meter_count; i++) {
        const tl_scene_meter *meter = &bench->scene->meters[i];
        add_contact_edges(bench, bench->fault_contact[bench->scene->fault_count + i], meter->from,
                          meter->until);
    }
}
