/*
 * One signal's island in time. It is moved on only when somebody looks: from the last look to now in exact
 * steps, one for each stretch in which its contact stays as it is and its source hardly moves.
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

static int compare_times(const void *a, const void *b)
{
    const int64_t x = *(const int64_t *)a, y = *(const int64_t *)b;
    return x < y ? -1 : x > y;
}

/*
 * A change of a contact at a time: the change itself, then two to six short breaks within the bounce time. An
 * odd number of edges in all, so that the contact ends up changed.
 */
static void add_bouncing_edge(tl_bench *bench, bench_signal *s, double at, double bounce)
{
    const int breaks = bounce > 0 ? 2 + (int)(5 * random_even(&bench->random)) : 0;
    for (int i = 0; i < 1 + 2 * breaks; i++) {
        const double after = i == 0 ? 0 : i == 2 * breaks ? bounce : bounce * random_even(&bench->random);
        s->edges = tl_grow(s->edges, (size_t)s->edge_count, sizeof *s->edges);
        s->edges[s->edge_count++] = (int64_t)llround((at + after) * 1e9);
    }
}

static void plan_presses(tl_bench *bench, int signal)
{
    bench_signal *s = &bench->signals[signal];
    const double bounce = bench->circuit->plan->signals[signal].source.bounce;
    for (int i = 0; bench->scene != NULL && i < bench->scene->press_count; i++) {
        const tl_press *press = &bench->scene->presses[i];
        if (press->signal != signal)
            continue;
        add_bouncing_edge(bench, s, press->at, fmin(bounce, press->length / 2));
        add_bouncing_edge(bench, s, press->at + press->length, bounce);
    }
    if (s->edge_count > 0)
        qsort(s->edges, (size_t)s->edge_count, sizeof *s->edges, compare_times);
}

void signal_init(tl_bench *bench, int signal)
{
    bench_signal *s = &bench->signals[signal];
    const tl_signal_nodes *nodes = &bench->circuit->signals[signal];
    s->volts = tl_alloc((size_t)tl_island_size(nodes->island), sizeof *s->volts);
    for (int i = 0; bench->scene != NULL && i < bench->scene->course_count; i++) {
        if (bench->scene->courses[i].signal == signal)
            s->course = &bench->scene->courses[i];
    }
    plan_presses(bench, signal);
    s->at_ns = -1000000000; /* a second before the scene, so that everything has settled when it begins */
}

void signal_free(bench_signal *signal)
{
    free(signal->volts);
    free(signal->edges);
    tl_transient_free(signal->transient);
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
    return rail * fmin(fmax(0.5 + hum + 0.1 * random_normal(&bench->random), 0), 1);
}

static double course_at(const tl_course *course, double seconds)
{
    const tl_moment *m = course->moments;
    if (seconds <= m[0].at)
        return m[0].value;
    for (int i = 1; i < course->count; i++) {
        if (seconds < m[i].at)
            return m[i - 1].value +
                   (m[i].value - m[i - 1].value) * (seconds - m[i - 1].at) / (m[i].at - m[i - 1].at);
    }
    return m[course->count - 1].value;
}

/* Sets the source for a time; says whether that changed anything. */
static bool set_source(tl_bench *bench, int signal, int64_t at_ns)
{
    const bench_signal *s = &bench->signals[signal];
    const int unknown = bench->circuit->signals[signal].unknown;
    if (s->course == NULL)
        return false;
    const bool turns = bench->circuit->plan->signals[signal].source.kind == TL_SOURCE_POTENTIOMETER;
    const double value = course_at(s->course, ns * (double)at_ns) / (turns ? 100 : 1);
    const bool changed = bench->values[unknown] != value;
    bench->values[unknown] = value;
    return changed;
}

/* How many edges lie at or before a time: odd means closed. */
static int edges_until(const bench_signal *s, int64_t at_ns)
{
    int low = 0, high = s->edge_count;
    while (low < high) {
        const int middle = (low + high) / 2;
        if (s->edges[middle] <= at_ns)
            low = middle + 1;
        else
            high = middle;
    }
    return low;
}

/* Makes the transient for the present values and contacts, unless the one there still holds. */
static void prepare(tl_bench *bench, int signal, bool closed, bool values_changed)
{
    bench_signal *s = &bench->signals[signal];
    const tl_signal_nodes *nodes = &bench->circuit->signals[signal];
    const bool sampling = nodes->sampling != TL_NET_NONE && bench->closed[nodes->sampling];
    if (s->transient != NULL && !values_changed && s->closed == closed && s->sampling == sampling)
        return;
    if (nodes->contact != TL_NET_NONE)
        bench->closed[nodes->contact] = closed;
    const tl_net_state state = {bench->values, bench->closed};
    const tl_figure pin = {TL_FIGURE_VOLTS, nodes->pin, tl_net_fixed(0)};
    double ignored;
    tl_transient_free(s->transient);
    s->transient = tl_transient_new(nodes->island, &state);
    s->floating = tl_island_figure(nodes->island, &state, pin, &ignored) == TL_NET_FLOATING;
    s->closed = closed;
    s->sampling = sampling;
}

static void step(tl_bench *bench, int signal, int64_t from_ns, int64_t to_ns, bool closed)
{
    bench_signal *s = &bench->signals[signal];
    const bool changed = set_source(bench, signal, from_ns + (to_ns - from_ns) / 2);
    prepare(bench, signal, closed, changed);
    if (s->transient != NULL)
        tl_transient_step(s->transient, ns * (double)(to_ns - from_ns), s->volts);
    s->at_ns = to_ns;
    if (s->floating) { /* what leaks into it goes somewhere in the end: it picks up what is around */
        const double volts = stray_volts(bench, bench->values[bench->circuit->reference_param]);
        for (int i = 0; i < tl_island_size(bench->circuit->signals[signal].island); i++)
            s->volts[i] = volts;
    }
}

static void record_limits(tl_bench *bench, int signal)
{
    const int pin = bench->circuit->plan->signals[signal].pin;
    const tl_pin_limits *limits = &bench->circuit->plan->board->pins[pin].limits;
    const double rail = bench->values[bench->circuit->supply_param[limits->supply]];
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
        (tl_bench_damage){pin, volts, ns * (double)bench->signals[signal].at_ns};
}

/* A moving source: where it is settled anyway, jump close to the end, then follow it in pieces. */
static void follow_course(tl_bench *bench, int signal, int64_t to_ns, bool closed)
{
    bench_signal *s = &bench->signals[signal];
    prepare(bench, signal, closed, set_source(bench, signal, to_ns));
    const double slowest = s->transient != NULL ? tl_transient_slowest(s->transient) : 0;
    const double window = SETTLED * slowest * 1e9;
    if (window < (double)(to_ns - s->at_ns)) {
        const int64_t near = to_ns - (int64_t)window;
        set_source(bench, signal, near);
        prepare(bench, signal, closed, true);
        if (s->transient != NULL)
            tl_transient_step(s->transient, 2 * SETTLED * slowest, s->volts);
        s->at_ns = near;
    }
    const int64_t piece = (to_ns - s->at_ns) / COURSE_PIECES + 1;
    while (s->at_ns < to_ns)
        step(bench, signal, s->at_ns, s->at_ns + piece < to_ns ? s->at_ns + piece : to_ns, closed);
    if (set_source(bench, signal, to_ns))
        prepare(bench, signal, closed, true);
}

void signal_advance(tl_bench *bench, int signal, int64_t to_ns)
{
    bench_signal *s = &bench->signals[signal];
    int edge = edges_until(s, s->at_ns);
    while (s->at_ns < to_ns) {
        const int64_t stop = edge < s->edge_count && s->edges[edge] < to_ns ? s->edges[edge] : to_ns;
        if (s->course != NULL)
            follow_course(bench, signal, stop, (edge & 1) != 0);
        else if (stop > s->at_ns)
            step(bench, signal, s->at_ns, stop, (edge & 1) != 0);
        record_limits(bench, signal);
        if (stop < to_ns)
            edge++;
    }
}

double signal_pin_volts(const tl_bench *bench, int signal)
{
    const tl_signal_nodes *nodes = &bench->circuit->signals[signal];
    return bench->signals[signal].volts[tl_island_index(nodes->island, nodes->pin)];
}
