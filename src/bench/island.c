/*
 * One island in time: what hangs together by anything but ideal rails, with all the signals in it. It is
 * moved on only when somebody looks: from the last look to now in exact steps, one for each stretch in which
 * its contacts stay as they are and its sources hardly move.
 */
#include "../net/memory.h"
#include "bench_internal.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

static const double ns = 1e-9;
enum {
    COURSE_PIECES = 16,
    SETTLED = 20
}; /* a moving source is followed in 16 pieces over the last 20 time constants */

/* --- what happens to it --- */

/* Edges are few at a time: those of the presses that have begun. */
static void add_edge(bench_island *s, double at, int contact)
{
    const bench_edge edge = {(int64_t)llround(at * 1e9), contact};
    int place = s->edge_count;
    s->edges = tl_grow(s->edges, (size_t)s->edge_count++, sizeof *s->edges);
    for (; place > 0 && s->edges[place - 1].at_ns > edge.at_ns; place--)
        s->edges[place] = s->edges[place - 1];
    s->edges[place] = edge;
}

/*
 * A change of a contact at a time: the change itself, then two to six short breaks within the bounce time. An
 * odd number of edges in all, so that the contact ends up changed.
 */
static void add_bouncing_edge(bench_island *s, random_source *random, int contact, double at, double bounce)
{
    const int breaks = bounce > 0 ? 2 + (int)(5 * random_even(random)) : 0;
    for (int i = 0; i < 1 + 2 * breaks; i++) {
        const double after = i == 0 ? 0 : i == 2 * breaks ? bounce : bounce * random_even(random);
        add_edge(s, at + after, contact);
    }
}

/* The next press of a signal, from its cursor on; NULL when there is none any more. */
static const tl_press *next_press(const tl_bench *bench, bench_presses *presses)
{
    const tl_scene *scene = bench->scene;
    while (presses->next_press < scene->press_count &&
           scene->presses[presses->next_press].signal != presses->signal)
        presses->next_press++;
    return presses->next_press < scene->press_count ? &scene->presses[presses->next_press] : NULL;
}

/* The cursor whose press begins first; NULL when all are over. */
static bench_presses *first_presses(const tl_bench *bench, bench_island *s, double *at)
{
    bench_presses *first = NULL;
    for (int i = 0; i < s->presses_count; i++) {
        const tl_press *press = next_press(bench, &s->presses[i]);
        if (press != NULL && (first == NULL || press->at < *at)) {
            first = &s->presses[i];
            *at = press->at;
        }
    }
    return first;
}

/* Makes sure that the first edge up to a time is there: presses are loaded only when they begin before it. */
static void load_edges(tl_bench *bench, bench_island *s, int64_t to_ns)
{
    double at = 0;
    bench_presses *presses;
    while ((presses = first_presses(bench, s, &at)) != NULL &&
           at * 1e9 < (double)(s->edge_count > 0 ? s->edges[0].at_ns : to_ns) + 1) {
        const double bounce = bench->circuit->plan->signals[presses->signal].source.bounce;
        const tl_signal_nodes *nodes = &bench->circuit->signals[presses->signal];
        const tl_press *press = &bench->scene->presses[presses->next_press++];
        const int contact = press->button >= 0 ? nodes->buttons[press->button] : nodes->contact;
        add_bouncing_edge(s, &presses->bounces, contact, press->at, fmin(bounce, press->length / 2));
        add_bouncing_edge(s, &presses->bounces, contact, press->at + press->length, bounce);
    }
}

static void take_signal(tl_bench *bench, bench_island *s, int signal)
{
    bench_signal *taken = &bench->signals[signal];
    taken->island = s;
    s->signals = tl_grow(s->signals, (size_t)s->signal_count, sizeof *s->signals);
    s->signals[s->signal_count++] = signal;
    for (int i = 0; bench->scene != NULL && i < bench->scene->course_count; i++) {
        if (bench->scene->courses[i].signal == signal)
            taken->course = &bench->scene->courses[i];
    }
    s->moves = s->moves || taken->course != NULL;
    bench_presses presses = {signal, 0, random_stream(bench->seed, RANDOM_PRESSES + (unsigned)signal)};
    if (bench->scene != NULL && next_press(bench, &presses) != NULL) {
        s->presses = tl_grow(s->presses, (size_t)s->presses_count, sizeof *s->presses);
        s->presses[s->presses_count++] = presses;
    }
}

void islands_init(tl_bench *bench)
{
    const tl_circuit *c = bench->circuit;
    const size_t signals = (size_t)c->plan->signal_count;
    bench->signals = tl_alloc(signals, sizeof *bench->signals);
    bench->islands = tl_alloc(signals, sizeof *bench->islands);
    for (int i = 0; i < c->plan->signal_count; i++) {
        bench_island *s = NULL;
        for (int k = 0; k < bench->island_count && s == NULL; k++) {
            if (tl_island_index(bench->islands[k].island, c->signals[i].pin) != TL_NET_NONE)
                s = &bench->islands[k];
        }
        if (s == NULL) {
            s = &bench->islands[bench->island_count++];
            s->island = tl_island_new(c->net, c->signals[i].pin);
            s->volts = tl_alloc((size_t)tl_island_size(s->island), sizeof *s->volts);
            s->at_ns =
                -1000000000; /* a second before the scene, so that everything has settled when it begins */
            s->stale = true;
        }
        take_signal(bench, s, i);
    }
}

void islands_free(tl_bench *bench)
{
    for (int k = 0; k < bench->island_count; k++) {
        bench_island *s = &bench->islands[k];
        tl_transient_free(s->transient);
        tl_island_free(s->island);
        free(s->volts);
        free(s->edges);
        free(s->presses);
        free(s->signals);
    }
    free(bench->islands);
    free(bench->signals);
}

int signal_of_pin(const tl_bench *bench, int pin)
{
    for (int i = 0; i < bench->circuit->plan->signal_count; i++) {
        if (bench->circuit->plan->signals[i].pin == pin)
            return i;
    }
    return -1;
}

double stray_volts(tl_bench *bench, double rail)
{
    const double hum = 0.45 * sin(6.283185307179586 * 50 * ns * (double)bench->now_ns);
    return rail * fmin(fmax(0.5 + hum + 0.1 * random_normal(&bench->noise), 0), 1);
}

bool signal_is_routed(const tl_bench *bench, int signal)
{
    const tl_signal_nodes *nodes = &bench->circuit->signals[signal];
    for (int i = 0; i < nodes->route_length; i++) {
        if (!bench->closed[nodes->route[i]])
            return false;
    }
    return true;
}

/* Sets the sources of an island for a time; says whether that changed anything. */
static bool set_sources(tl_bench *bench, const bench_island *s, int64_t at_ns)
{
    bool changed = false;
    for (int i = 0; i < s->signal_count && s->moves; i++) {
        const bench_signal *signal = &bench->signals[s->signals[i]];
        const int unknown = bench->circuit->signals[s->signals[i]].unknown;
        if (signal->course == NULL)
            continue;
        const tl_source *source = &bench->circuit->plan->signals[s->signals[i]].source;
        double value = tl_course_at(signal->course, ns * (double)at_ns);
        if (source->kind == TL_SOURCE_POTENTIOMETER)
            value /= 100;
        else if (signal->course->of_quantity)
            value = tl_curve_ohms(&source->curve, value);
        changed = changed || bench->values[unknown] != value;
        bench->values[unknown] = value;
    }
    return changed;
}

static bool is_floating(tl_bench *bench, const bench_island *s, int signal)
{
    const tl_net_state state = {bench->values, bench->closed};
    const tl_figure pin = {
        .kind = TL_FIGURE_VOLTS, .of = bench->circuit->signals[signal].pin, .less = tl_net_fixed(0)};
    double ignored;
    return tl_island_figure(s->island, &state, pin, &ignored) == TL_NET_FLOATING;
}

/* Makes the transient for the present values and contacts, unless the one there still holds. */
static void prepare(tl_bench *bench, bench_island *s, bool values_changed)
{
    if (s->transient != NULL && !values_changed && !s->stale)
        return;
    const tl_net_state state = {bench->values, bench->closed};
    tl_transient_free(s->transient);
    s->transient = tl_transient_new(s->island, &state);
    for (int i = 0; i < s->signal_count; i++)
        bench->signals[s->signals[i]].floating = is_floating(bench, s, s->signals[i]);
    s->stale = false;
}

/* What leaks into a floating node goes somewhere in the end: it picks up what is around. */
static void pick_up(tl_bench *bench, bench_island *s)
{
    bool all = true, any = false;
    for (int i = 0; i < s->signal_count; i++) {
        all = all && bench->signals[s->signals[i]].floating;
        any = any || bench->signals[s->signals[i]].floating;
    }
    if (!any)
        return;
    const double volts = stray_volts(bench, bench->values[bench->circuit->supply_param[0]]);
    for (int i = 0; i < tl_island_size(s->island) && all; i++)
        s->volts[i] = volts;
    for (int i = 0; i < s->signal_count; i++) {
        const int signal = s->signals[i];
        if (bench->signals[signal].floating)
            s->volts[tl_island_index(s->island, bench->circuit->signals[signal].pin)] = volts;
    }
}

static void step(tl_bench *bench, bench_island *s, int64_t from_ns, int64_t to_ns)
{
    prepare(bench, s, set_sources(bench, s, from_ns + (to_ns - from_ns) / 2));
    if (s->transient != NULL)
        tl_transient_step(s->transient, ns * (double)(to_ns - from_ns), s->volts);
    s->at_ns = to_ns;
    pick_up(bench, s);
}

static void record_pin(tl_bench *bench, int signal)
{
    const int pin = bench->circuit->plan->signals[signal].pin;
    const tl_pin_limits *limits = &bench->circuit->plan->pins[pin].limits;
    const double rail =
        limits->supply != TL_NONE ? bench->values[bench->circuit->supply_param[limits->supply]] : 0;
    const double volts = signal_pin_volts(bench, signal);
    const double lowest = tl_level_volts(limits->lowest, rail);
    const double highest = tl_level_volts(limits->highest, rail);
    if (bench->signals[signal].floating || (volts >= lowest - 1e-9 && volts <= highest + 1e-9))
        return;
    for (int i = 0; i < bench->damage_count; i++) {
        tl_bench_damage *damage = &bench->damages[i];
        if (damage->pin == pin) {
            if (fabs(volts - rail / 2) > fabs(damage->volts - rail / 2))
                damage->volts = volts;
            return;
        }
    }
    bench->damages = tl_grow(bench->damages, (size_t)bench->damage_count, sizeof *bench->damages);
    bench->damages[bench->damage_count++] =
        (tl_bench_damage){pin, volts, ns * (double)bench->signals[signal].island->at_ns};
}

static void record_limits(tl_bench *bench, const bench_island *s)
{
    for (int i = 0; i < s->signal_count; i++) {
        if (signal_is_routed(bench, s->signals[i]))
            record_pin(bench, s->signals[i]);
    }
}

/* A moving source: where it is settled anyway, jump close to the end, then follow it in pieces. */
static void follow_courses(tl_bench *bench, bench_island *s, int64_t to_ns)
{
    prepare(bench, s, set_sources(bench, s, to_ns));
    const double slowest = s->transient != NULL ? tl_transient_slowest(s->transient) : 0;
    const double window = SETTLED * slowest * 1e9;
    if (window < (double)(to_ns - s->at_ns)) {
        const int64_t near = to_ns - (int64_t)window;
        set_sources(bench, s, near);
        prepare(bench, s, true);
        if (s->transient != NULL)
            tl_transient_step(s->transient, 2 * SETTLED * slowest, s->volts);
        s->at_ns = near;
    }
    const int64_t piece = (to_ns - s->at_ns) / COURSE_PIECES + 1;
    while (s->at_ns < to_ns)
        step(bench, s, s->at_ns, s->at_ns + piece < to_ns ? s->at_ns + piece : to_ns);
    prepare(bench, s, set_sources(bench, s, to_ns));
}

void island_advance(tl_bench *bench, bench_island *s, int64_t to_ns)
{
    while (s->at_ns < to_ns) {
        load_edges(bench, s, to_ns);
        const bool edge = s->edge_count > 0 && s->edges[0].at_ns <= to_ns;
        const int64_t stop = edge ? s->edges[0].at_ns : to_ns;
        if (stop > s->at_ns && s->moves)
            follow_courses(bench, s, stop);
        else if (stop > s->at_ns)
            step(bench, s, s->at_ns, stop);
        record_limits(bench, s);
        if (!edge)
            break;
        bench->closed[s->edges[0].contact] ^= true;
        s->edge_count--;
        memmove(s->edges, s->edges + 1, (size_t)s->edge_count * sizeof *s->edges);
        s->stale = true;
    }
}

void island_set_contact(tl_bench *bench, bench_island *s, int contact, bool closed)
{
    if (bench->closed[contact] == closed)
        return;
    island_advance(bench, s, bench->now_ns);
    bench->closed[contact] = closed;
    s->stale = true;
}

double signal_pin_volts(const tl_bench *bench, int signal)
{
    const tl_signal_nodes *nodes = &bench->circuit->signals[signal];
    const bench_island *s = bench->signals[signal].island;
    const double negative =
        nodes->negative == TL_NET_GROUND ? 0 : s->volts[tl_island_index(s->island, nodes->negative)];
    return s->volts[tl_island_index(s->island, nodes->pin)] - negative;
}

void signal_advance(tl_bench *bench, int signal, int64_t to_ns)
{
    island_advance(bench, bench->signals[signal].island, to_ns);
}
