/* SPDX-License-Identifier: MIT */
/* Readings at their instants: see taker.h. */
#include "reading/taker.h"
#include <math.h>
#include <stdlib.h>

/* Before its first look a contact is watched this many steady times, so that what bounces has come to rest; a
 * line that is measured this many times as long as it takes to find out that it stands still. */
enum { STEADY_TIMES = 10, STILL_TIMES = 4, WATCHED_MOST = 64 };

static const double look_seconds = 4e-6; /* a look at a line, and the clock */

typedef struct {
    int signal;
    int place; /* among those that are asked for; -1: converted only because it stands before one of them */
    double after; /* the moment of the look, seconds */
} slot;

typedef struct {
    int place, signal;
    double after; /* the moment of the look, seconds */
    tl_button button;
    uint16_t before; /* closings when it was first asked */
    bool undriven;   /* nothing defined it once, and what it did then is no closing */
} contact;

/* A line whose frequency, duty or period is measured by the bench, from edge to edge. */
typedef struct {
    int place, signal;
    double after;
    tl_status status; /* of setting it up */
} measured;

struct taker {
    tl_circuit *circuit;
    int samples;
    slot *slots; /* rising */
    int slot_count;
    contact *contacts;
    int contact_count;
    measured *measured;
    int measured_count;
    double lead; /* so long before the first look everything begins */
    int first;   /* converted once before it: the signal whose charge the first slot meets */
    bool begun;
    double late; /* the most that a look was */
};

/* --- the plan of a look --- */

static bool is_own(const tl_plan *plan, int signal)
{
    const tl_pin *pin = &plan->pins[plan->signals[signal].pin];
    return plan->signals[signal].analog && pin->converter == 0 && pin->channel >= 0;
}

/* The signal of the board's converter that stands before this one in the plan, the last before the first. */
static int before(const tl_plan *plan, int signal)
{
    for (int back = 1; back <= plan->signal_count; back++) {
        const int i = (signal - back + plan->signal_count) % plan->signal_count;
        if (is_own(plan, i))
            return i;
    }
    return signal;
}

/* How long each signal of the plan takes is tried out once, on a bench with nominal parts. */
static double *durations_of(tl_circuit *circuit, int samples)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    double *durations = must(calloc((size_t)plan->signal_count + 1, sizeof *durations));
    tl_bench *bench = tl_bench_new(circuit, NULL, TL_BENCH_IDEAL);
    for (int i = 0; i < plan->signal_count; i++) {
        const double begun = tl_bench_time(bench);
        if (!plan->signals[i].analog)
            continue;
        tl_bench_pass(bench, i, samples);
        durations[i] = tl_bench_time(bench) - begun;
    }
    tl_bench_free(bench);
    return durations;
}

/* A signal, what stands before it in the converter, and all of the sweep that it is read in. */
static void want(tl_circuit *circuit, int signal, bool *wanted)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    int i = signal;
    for (int steps = 0; steps < plan->signal_count && i != TL_NONE; steps++) {
        wanted[i] = true;
        if (is_own(plan, i))
            wanted[before(plan, i)] = true;
        i = plan->signals[i].analog ? tl_circuit_path(circuit, i)->before : TL_NONE;
    }
}

static void plan_look(taker *t, const int *signals, int count)
{
    const tl_plan *plan = tl_circuit_plan(t->circuit);
    double *durations = durations_of(t->circuit, t->samples), after = 0;
    bool *wanted = must(calloc((size_t)plan->signal_count + 1, sizeof *wanted));
    int last = -1;
    for (int k = 0; k < count; k++)
        want(t->circuit, signals[k], wanted);
    for (int i = 0; i < plan->signal_count; i++) {
        if (!plan->signals[i].analog)
            after += look_seconds;
        t->lead = fmax(t->lead, plan->signals[i].analog ? 0 : STEADY_TIMES * plan->signals[i].reading.steady);
    }
    for (int i = 0; i < t->measured_count; i++) {
        const tl_plan_reading *reading = &plan->signals[t->measured[i].signal].reading;
        t->lead = fmax(t->lead, reading->over + STILL_TIMES * reading->stopped_after);
    }
    for (int i = 0; i < plan->signal_count; i++) {
        if (wanted[i] && plan->signals[i].analog) {
            t->slots[t->slot_count++] = (slot){.signal = i, .place = -1, .after = after};
            last = is_own(plan, i) ? i : last;
        }
        after += durations[i];
    }
    t->first = last;
    t->lead += 1e-3 + (last >= 0 ? 2 * durations[last] : 0); /* a millisecond for setting up */
    free(wanted);
    free(durations);
}

static int lines_before(const tl_plan *plan, int signal)
{
    int count = 0;
    for (int i = 0; i < signal; i++)
        count += !plan->signals[i].analog;
    return count;
}

taker *taker_new(tl_circuit *circuit, const int *signals, int count, int samples)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    taker *t = must(calloc(1, sizeof *t));
    *t = (taker){.circuit = circuit, .samples = samples, .first = -1};
    t->slots = must(calloc((size_t)plan->signal_count + 1, sizeof *t->slots));
    t->contacts = must(calloc((size_t)count + 1, sizeof *t->contacts));
    t->measured = must(calloc((size_t)count + 1, sizeof *t->measured));
    for (int k = 0; k < count; k++) {
        const double after = lines_before(plan, signals[k]) * look_seconds;
        if (tl_reading_is_timed(&plan->signals[signals[k]].reading))
            t->measured[t->measured_count++] = (measured){.place = k, .signal = signals[k], .after = after};
        else if (!plan->signals[signals[k]].analog)
            t->contacts[t->contact_count++] = (contact){.place = k, .signal = signals[k], .after = after};
    }
    plan_look(t, signals, count);
    for (int k = 0; k < count; k++) {
        for (int i = 0; i < t->slot_count; i++) {
            if (t->slots[i].signal == signals[k])
                t->slots[i].place = k;
        }
    }
    return t;
}

void taker_free(taker *t)
{
    if (t == NULL)
        return;
    free(t->slots);
    free(t->contacts);
    free(t->measured);
    free(t);
}

void taker_restart(taker *t)
{
    t->begun = false;
}

double taker_late(const taker *t)
{
    return t->late;
}

/* --- contacts --- */

static tl_status look_at(contact *c, tl_bench *bench)
{
    tl_button_event event;
    const tl_status status = tl_button_look(&c->button, tl_bench_port(bench), &event);
    c->undriven = c->undriven || tl_bench_undriven(bench, c->signal);
    return status;
}

static bool is_high(const tl_button *button)
{
    return button->seen != button->closed_is_low;
}

/* Microseconds until one of them would be accepted in a new state if it stays as it is; at most this many. */
static uint32_t next_due(const taker *t, uint32_t now_us, uint32_t most_us)
{
    for (int i = 0; i < t->contact_count; i++) {
        const tl_button *b = &t->contacts[i].button;
        const uint32_t lasted_us = b->steady + (now_us - b->seen_at);
        if (b->seen == b->closed)
            continue;
        const uint32_t left_us = lasted_us < b->needed ? b->needed - lasted_us : 1;
        most_us = left_us < most_us ? left_us : most_us;
    }
    return most_us;
}

/* Looks at every line whenever one of them may have changed, until so short before the time that another look
 * at all of them would come too late. */
static void watch_until(taker *t, tl_bench *bench, double at)
{
    const tl_port *port = tl_bench_port(bench);
    const double all = (t->contact_count + 1) * look_seconds;
    uint8_t lines[WATCHED_MOST];
    bool seen[WATCHED_MOST];
    const int watched = t->contact_count < WATCHED_MOST ? t->contact_count : WATCHED_MOST;
    for (int i = 0; i < watched; i++)
        lines[i] = t->contacts[i].button.line;
    while (tl_bench_time(bench) + 2 * all < at && watched > 0) {
        uint32_t now_us = 0;
        for (int i = 0; i < t->contact_count; i++)
            (void)look_at(&t->contacts[i], bench);
        for (int i = 0; i < watched; i++)
            seen[i] = is_high(&t->contacts[i].button);
        const double left_us = fmin(floor(1e6 * (at - all - tl_bench_time(bench))), INT32_MAX);
        if (left_us < 1 || tl_port_clock_us(port, &now_us) != TL_OK)
            return;
        const uint32_t most_us = next_due(t, now_us, (uint32_t)left_us);
        /* More lines than are watched at once: looked at as often as they must be. */
        if (t->contact_count > WATCHED_MOST)
            (void)tl_port_wait_us(port, most_us < 1000 ? most_us : 1000);
        else if (tl_port_wait_change(port, lines, seen, (uint8_t)watched, most_us) != TL_OK)
            return;
    }
}

static void take_contacts(taker *t, tl_bench *bench, double at, taken *readings)
{
    for (int i = 0; i < t->contact_count; i++) {
        contact *c = &t->contacts[i];
        taken *r = &readings[c->place];
        tl_bench_go_to(bench, at + c->after);
        r->is = (tl_bench_reading){.at = tl_bench_time(bench)};
        r->is.status = look_at(c, bench);
        r->is.high = is_high(&c->button);
        r->is.closed = c->button.closed;
        r->is.volts = tl_bench_pin_volts(bench, c->signal);
        r->is.undriven = tl_bench_undriven(bench, c->signal);
        r->is.undefined = tl_bench_undefined(bench, c->signal);
        r->is.flags = r->is.undriven || r->is.undefined || r->is.status != TL_OK ? 0 : TL_READING_FRESH;
        r->net = TL_NET_SOLVED;
        r->closings = c->undriven ? -1 : (uint16_t)(c->button.closings - c->before);
        r->is.toggled = r->closings > 0 && r->closings % 2 != 0;
    }
}

static void take_measured(taker *t, tl_bench *bench, double at, taken *readings)
{
    for (int i = 0; i < t->measured_count; i++) {
        const measured *m = &t->measured[i];
        taken *r = &readings[m->place];
        tl_bench_go_to(bench, at + m->after);
        *r = (taken){.net = TL_NET_SOLVED, .closings = -1};
        const tl_status status = tl_bench_measured(bench, m->signal, &r->is);
        r->is.status = m->status != TL_OK ? m->status : status;
    }
}

/* --- a look --- */

/* Long enough before the time that contacts are debounced at it, and the converter has what it would have. */
static void begin(taker *t, tl_bench *bench, double at)
{
    tl_bench_begin(bench, at - t->lead);
    for (int i = 0; i < t->contact_count; i++) {
        contact *c = &t->contacts[i];
        const tl_button_config config = tl_plan_button(tl_circuit_plan(t->circuit), c->signal);
        c->undriven = false;
        if (tl_button_init(&c->button, &config, tl_bench_port(bench)) != TL_OK) /* its looks will fail, too */
            c->button = (tl_button){.line = config.line, .closed_is_low = config.closed_is_low};
    }
    for (int i = 0; i < t->measured_count; i++)
        t->measured[i].status = tl_bench_measure(bench, t->measured[i].signal);
    if (t->first >= 0)
        tl_bench_pass(bench, t->first, t->samples);
    watch_until(t, bench, at);
    for (int i = 0; i < t->contact_count; i++)
        t->contacts[i].before = t->contacts[i].button.closings;
    t->begun = true;
}

void taker_look(taker *t, tl_bench *bench, double at, taken *readings)
{
    if (!t->begun)
        begin(t, bench, at);
    const double now = tl_bench_time(bench);
    if (now > at + 1e-9) {
        t->late = fmax(t->late, now - at);
        at = now;
    }
    watch_until(t, bench, at);
    take_contacts(t, bench, at, readings);
    take_measured(t, bench, at, readings);
    for (int i = 0; i < t->slot_count; i++) {
        const slot *s = &t->slots[i];
        tl_bench_go_to(bench, at + s->after);
        if (s->place < 0) {
            tl_bench_pass(bench, s->signal, t->samples);
            continue;
        }
        taken *r = &readings[s->place];
        *r = (taken){.closings = -1};
        r->net = tl_bench_read_mean(bench, s->signal, t->samples, &r->is);
    }
}

void take_once(tl_bench *bench, const int *signals, int count, double at, int samples, taken *readings)
{
    taker *t = taker_new(tl_bench_circuit(bench), signals, count, samples);
    taker_look(t, bench, at, readings);
    taker_free(t);
}
