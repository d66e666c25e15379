/* SPDX-License-Identifier: MIT */
/* Causes, played on the plan's bench in the situations that were seen. */
#include "explain/predict.h"
#include "base/memory.h"
#include "bench/part_of_plan.h"
#include "elaborate/circuit_struct.h"
#include "explain/situation_scene.h"
#include "explain/touch.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

static const double tolerance_stretch = 1.3; /* a few draws see less than all of a tolerance */

/* --- outputs --- */

/* As firmware would that shows nothing but this. */
static void command(tl_bench *bench, const tl_plan *plan, int output, bool on)
{
    const tl_plan_output *o = &plan->outputs[output];
    const tl_port *port = tl_bench_port(bench);
    const bool high = o->driver.way != TL_DRIVER_NONE || tl_plan_rail_is_low(plan, o->to);
    for (int i = 0; i < o->pin_count; i++) {
        const uint8_t pin = (uint8_t)o->pins[i];
        if (o->pins[i] < plan->board->pin_count && tl_port_line_use(port, pin, TL_LINE_OUTPUT) == TL_OK)
            (void)tl_port_line_drive(port, pin, on == high);
    }
}

/* What all loads take where nothing is wrong. */
static void find_usual(question *q)
{
    const tl_plan *plan = tl_circuit_plan(q->circuit);
    q->usual = tl_alloc((size_t)plan->output_count + 1, sizeof *q->usual);
    tl_bench *bench = bench_new_of(q->circuit, NULL, TL_BENCH_IDEAL, q->parts->wired);
    for (int i = 0; i < plan->output_count; i++) {
        command(bench, plan, i, true);
        tl_bench_go_to(bench, tl_bench_time(bench) + 0.5);
        q->usual[i] = tl_bench_load_amperes(bench, i);
        command(bench, plan, i, false);
    }
    tl_bench_free(bench);
}

/* An eye sees a tenth as dim, and a third as almost all. */
static double light_of(double share)
{
    return share <= 0.02 ? 0 : share >= 0.4 ? 2 : fmin(2, fmax(0, 1 + log10(share / 0.1) / 0.7));
}

/* --- what it shows --- */

typedef struct {
    double samples[SEEN_SAMPLES_MOST];
    double shown_off; /* of the last */
    bool floats;      /* nothing defines it */
} taken_signal;

/* One bench of eight goes low, one high: the others wander. */
static open_way way_of(unsigned long seed)
{
    return seed % 8 == 1 ? GOES_HIGH : seed % 8 == 2 ? GOES_LOW : WANDERS;
}

/* Of four draws one goes low and one high: a few would miss one of them. */
static unsigned long seed_of(int draw)
{
    return 97 + 8 * (unsigned long)(draw / 4) + (unsigned long)(draw % 4);
}

open_way draw_way(int draw)
{
    return way_of(seed_of(draw));
}

/* `sample`: of all situations. */
static double floating_level(unsigned long seed, int signal, int sample)
{
    const open_way way = way_of(seed);
    return way != WANDERS ? way == GOES_HIGH
                          : drawn(seed, 8000u + 10000u * (unsigned)signal + (unsigned)sample) < 0.5;
}

static double level_now(const question *q, tl_bench *bench, const seen_signal *s, int sample,
                        unsigned long seed, taken_signal *t)
{
    const int signal = s->signal;
    tl_bench_reading r;
    bool high = false;
    if (sample % SEEN_SAMPLES_MOST == 0) { /* the firmware has put the line to use by then */
        (void)tl_bench_read_plain(bench, signal, &r);
        high = r.high;
    } else {
        (void)tl_port_line_level(tl_bench_port(bench), (uint8_t)question_signal(q, signal)->pin, &high);
    }
    const bool open = tl_bench_undriven(bench, signal) || tl_bench_undefined(bench, signal);
    t->floats = t->floats || open;
    return open ? floating_level(seed, signal, sample) : high;
}

static void take(const question *q, tl_bench *bench, const seen_signal *s, int sample, unsigned long seed,
                 taken_signal *t)
{
    const int n = sample % SEEN_SAMPLES_MOST;
    tl_bench_reading r;
    if (!question_signal(q, s->signal)->analog) {
        t->samples[n] = level_now(q, bench, s, sample, seed, t);
        return;
    }
    (void)tl_bench_read_plain(bench, s->signal, &r);
    t->floats = r.undriven;
    t->samples[n] = r.status == TL_ERR_WORD ? (double)r.word /* firmware that does not look prints it */
                    : r.status != TL_OK     ? question_missing(q, s->signal)
                                            : (double)r.count;
    if (r.status == TL_OK)
        t->shown_off = r.is.value - question_shown(q, s->signal, (double)r.count);
}

/* How far an open input wanders depends on what is near it: on each bench other. */
static double wander(bool floats, unsigned long seed, double spread)
{
    return floats ? fmax(0, spread - 3 * drawn(seed, 90000)) : spread;
}

/* And on half of them it reads anything. */
static double anywhere(const question *q, int signal, bool floats, unsigned long seed, double mean)
{
    if (!floats || way_of(seed) != WANDERS)
        return mean;
    const tl_analog_path *path = tl_circuit_path(q->circuit, signal);
    const double share = drawn(seed, 92000u + (unsigned)signal);
    return (double)path->first_code + share * (double)(path->last_code - path->first_code);
}

/* Whether the converter's charge goes on to a signal that is asked for: the next that it converts, after the
 * last the first again. */
static bool hands_on(const question *q, const situation *in, int i)
{
    const tl_plan_converter *own =
        tl_plan_converter_of(tl_circuit_plan(q->circuit), question_signal(q, in->signals[i].signal));
    for (int n = 1; n <= in->signal_count && own != NULL; n++) {
        const int next = in->signals[(i + n) % in->signal_count].signal;
        if (question_signal(q, next)->analog &&
            tl_plan_converter_of(tl_circuit_plan(q->circuit), question_signal(q, next)) == own)
            return q->touched[next];
    }
    return false;
}

/* Without what feeds its own pins the chip does not run, and no sample comes. */
static bool is_dead(const question *q, const hypothesis *h)
{
    const tl_plan *plan = tl_circuit_plan(q->circuit);
    for (int i = 0; i < plan->board->pin_count && h->line != NULL; i++) {
        if (h->fault.kind == TL_SCENE_MISSING && plan->pins[i].limits.supply == h->fault.supply)
            return true;
    }
    return false;
}

static void take_samples(const question *q, const hypothesis *h, tl_bench *bench, int k, unsigned long seed,
                         taken_signal *taken)
{
    const situation *in = &q->seen->situations[k];
    if (is_dead(q, h)) {
        for (int i = 0; i < in->signal_count; i++) {
            for (int n = 0; n < in->signals[i].count; n++)
                taken[i].samples[n] = question_missing(q, in->signals[i].signal);
        }
        return;
    }
    const double spacing = spacing_of(q, h);
    int left = 1;
    for (int n = 0; left > 0; n++) {
        /* No firmware samples in step with the mains. */
        const double late = hum_seconds * drawn(seed, 500000u + 1000u * (unsigned)k + (unsigned)n);
        left = 0;
        tl_bench_go_to(bench, rest_seconds + n * spacing + fmin(late, 0.5 * spacing));
        for (int i = 0; i < in->signal_count; i++) {
            if (n >= in->signals[i].count || (!q->touched[in->signals[i].signal] && !hands_on(q, in, i)))
                continue;
            take(q, bench, &in->signals[i], k * SEEN_SAMPLES_MOST + n, seed, &taken[i]);
            left += n + 1 < in->signals[i].count;
        }
    }
}

/* Whether the way of a signal has a multiplexer none of whose signals comes later. */
static bool moves_one(const tl_plan *plan, int signal, bool *moved)
{
    bool more = false;
    for (int pin = plan->signals[signal].pin; plan->pins[pin].mux != TL_NONE;) {
        const int mux = plan->pins[pin].mux;
        more = more || !moved[mux];
        moved[mux] = true;
        pin = plan->muxes[mux].common;
    }
    return more;
}

/* Meters come behind the samples, while multiplexers stay on the last channel that was asked for. */
static void stay_on_last(const question *q, const hypothesis *h, tl_bench *bench, const situation *in)
{
    if (in->meter_count == 0 || is_dead(q, h))
        return;
    const tl_plan *plan = tl_circuit_plan(q->circuit);
    bool *moved = tl_alloc((size_t)plan->mux_count + 1, sizeof *moved),
         *last = tl_alloc((size_t)in->signal_count + 1, sizeof *last);
    for (int i = in->signal_count; i-- > 0;)
        last[i] = moves_one(plan, in->signals[i].signal, moved);
    for (int i = 0; i < in->signal_count; i++) {
        tl_bench_reading r;
        if (last[i])
            (void)tl_bench_read_plain(bench, in->signals[i].signal, &r);
    }
    free(moved);
    free(last);
}

/* A situation on one bench, with all samples taken. */
typedef struct {
    const question *q;
    const hypothesis *h;
    int k;
    unsigned long seed;
    tl_scene *scene;
    tl_bench *bench;
    taken_signal *taken; /* of each signal in it */
    double *ohms;        /* of each meter that is an ohmmeter */
} played;

static double *ohms_of(tl_bench *bench, const situation *in)
{
    const size_t count = (size_t)in->meter_count;
    double *ohms = tl_alloc(count + 1, sizeof *ohms), *of_pair = tl_alloc(count + 1, sizeof *of_pair);
    int(*pairs)[2] = tl_alloc(count + 1, sizeof *pairs), found = 0, next = 0;
    for (int i = 0; i < in->meter_count; i++) {
        if (in->meters[i].other == TL_NET_NONE)
            continue;
        pairs[found][0] = in->meters[i].node;
        pairs[found++][1] = in->meters[i].other;
    }
    if (found > 0)
        tl_bench_ohms(bench, (const int(*)[2])pairs, found, of_pair);
    for (int i = 0; i < in->meter_count; i++)
        ohms[i] = in->meters[i].other == TL_NET_NONE ? 0 : of_pair[next++];
    free(pairs);
    free(of_pair);
    return ohms;
}

static played play_situation(const question *q, const hypothesis *h, int k, unsigned long seed)
{
    const situation *in = &q->seen->situations[k];
    played p = {.q = q, .h = h, .k = k, .seed = seed, .scene = scene_of(q, h, k, seed)};
    p.taken = tl_alloc((size_t)in->signal_count + 1, sizeof *p.taken);
    p.bench = bench_new_of(q->circuit, p.scene, seed, q->here);
    p.ohms = ohms_of(p.bench, in); /* before anything is fed */
    for (int i = 0; i < in->output_count; i++)
        command(p.bench, tl_circuit_plan(q->circuit), in->outputs[i].output, in->outputs[i].commanded);
    take_samples(q, h, p.bench, k, seed, p.taken);
    stay_on_last(q, h, p.bench, in);
    return p;
}

static void played_end(played *p)
{
    tl_bench_free(p->bench);
    tl_scene_free(p->scene);
    free(p->taken);
    free(p->ohms);
}

static double signal_figure(const played *p, figure_kind kind, int index)
{
    const seen_signal *s = &p->q->seen->situations[p->k].signals[index];
    const taken_signal *t = &p->taken[index];
    const bool floats =
        t->floats && question_signal(p->q, s->signal)->analog; /* levels have their own ways */
    if (kind == FIGURE_MEAN)
        return anywhere(p->q, s->signal, floats, p->seed, samples_mean(t->samples, s->count));
    return kind == FIGURE_SPREAD ? wander(floats, p->seed, samples_spread(t->samples, s->count))
                                 : t->shown_off;
}

static double load_light(const played *p, int output)
{
    return light_of(tl_bench_load_amperes(p->bench, output) / p->q->usual[output]);
}

static double meter_volts(const played *p, int index)
{
    double volts = 0;
    const seen_meter *m = &p->q->seen->situations[p->k].meters[index];
    tl_bench_go_to(p->bench, meter_moment(p->q, p->h, p->k, index));
    const char *node = tl_net_node_name(tl_circuit_net(p->q->circuit), m->node);
    return tl_bench_node_volts(p->bench, node, &volts) == TL_NET_FLOATING ? 0 : volts;
}

static double figure_now(const played *p, figure_kind kind, int index)
{
    switch (kind) {
    case FIGURE_MEAN:
    case FIGURE_SPREAD:
    case FIGURE_SHOWN:
        return signal_figure(p, kind, index);
    case FIGURE_OUTPUT:
        return load_light(p, p->q->seen->situations[p->k].outputs[index].output);
    case FIGURE_OHMS:
        return ohms_figure(p->ohms[index]);
    case FIGURE_METER:
        break;
    }
    return meter_volts(p, index);
}

/* Whether what meters and loads show may be other than with sound parts. In a large plan it is where the
 * fault touches a signal that they are on. */
static bool meters_tell(const question *q)
{
    bool any = false;
    for (int i = 0; q->parts->wired != NULL && i < tl_circuit_plan(q->circuit)->signal_count; i++) {
        if (q->metered[i] && q->touched[i])
            return true;
        any = any || q->metered[i];
    }
    return !any;
}

/* All figures of a situation; what the fault does not touch is as it is without it. */
static int look(const question *q, const hypothesis *h, int k, int draw, prediction *p, int at)
{
    const situation *in = &q->seen->situations[k];
    double *figures = p->all + draw * q->count;
    const bool meters = meters_tell(q);
    played now = play_situation(q, h, k, seed_of(draw));
    for (; at < q->count && q->figures[at].situation == k; at++) {
        const figure *f = &q->figures[at];
        const bool of_signal = f->kind == FIGURE_MEAN || f->kind == FIGURE_SPREAD || f->kind == FIGURE_SHOWN;
        const bool as_sound = of_signal ? !q->touched[in->signals[f->index].signal] : !meters;
        figures[at] = as_sound ? q->sound[draw * q->count + at] : figure_now(&now, f->kind, f->index);
        p->floats[at] = p->floats[at] || (of_signal && !as_sound && now.taken[f->index].floats);
    }
    played_end(&now);
    return at;
}

/* The signals that tell of a cause: what it may change, what it has to do with, what meters and loads are on,
 * and what hands its charge on to them. */
static void wire_for(const question *q, const hypothesis *h)
{
    const int count = tl_circuit_plan(q->circuit)->signal_count;
    const bool all = q->parts->wired == NULL && (h->line == NULL || touches_all(q->circuit, &h->fault) ||
                                                 (h->is_pair && touches_all(q->circuit, &h->other)));
    for (int i = 0; i < count; i++)
        q->here[i] = all || (q->metered != NULL && q->metered[i]);
    for (int i = 0; i < 4; i++) {
        if (h->line != NULL && h->owner[i] != TL_NONE)
            q->here[h->owner[i]] = true;
    }
    for (int k = 0; k < q->seen->count; k++) {
        const situation *in = &q->seen->situations[k];
        for (int i = 0; i < in->signal_count; i++) {
            const int signal = in->signals[i].signal;
            q->here[signal] = q->here[signal] || q->touched[signal] || hands_on(q, in, i);
        }
    }
    signals_wired(q->parts->network, count, q->here);
}

static bool may_change(const question *q, const hypothesis *h, int signal)
{
    return touches(q->circuit, h->line != NULL ? &h->fault : NULL, signal) ||
           (h->is_pair && touches(q->circuit, &h->other, signal));
}

/* Finds out which of the signals that were seen, or that a meter is on, a cause may change. */
static void touch_by(const question *q, const hypothesis *h)
{
    for (int k = 0; k < q->seen->count; k++) {
        const situation *in = &q->seen->situations[k];
        for (int i = 0; i < in->signal_count; i++)
            q->touched[in->signals[i].signal] = may_change(q, h, in->signals[i].signal);
    }
    for (int i = 0; q->metered != NULL && i < tl_circuit_plan(q->circuit)->signal_count; i++) {
        if (q->metered[i])
            q->touched[i] = may_change(q, h, i);
    }
    if (q->here != NULL)
        wire_for(q, h);
}

void question_play(const question *q, const hypothesis *h, int k, unsigned long seed, situation *in)
{
    touch_by(q, &(hypothesis){.line = NULL});
    played now = play_situation(q, h, k, seed);
    for (int i = 0; i < in->signal_count; i++) {
        seen_signal *s = &in->signals[i];
        memcpy(s->samples, now.taken[i].samples, (size_t)s->count * sizeof *s->samples);
        s->shown = question_shown(q, s->signal, samples_last(s)) + now.taken[i].shown_off;
        s->has_shown = s->has_shown && isfinite(s->shown);
    }
    for (int i = 0; i < in->output_count; i++) {
        const double light = load_light(&now, in->outputs[i].output);
        in->outputs[i].seen = light < 0.5 ? LOAD_OFF : light < 1.5 ? LOAD_WEAK : LOAD_ON;
    }
    for (int i = 0; i < in->meter_count; i++)
        in->meters[i].shows = in->meters[i].other != TL_NET_NONE ? now.ohms[i] : meter_volts(&now, i);
    played_end(&now);
}

static bool shows_in(const question *q, int k)
{
    const situation *in = &q->seen->situations[k];
    bool any = in->output_count + in->meter_count > 0 && meters_tell(q);
    for (int i = 0; i < in->signal_count; i++)
        any = any || q->touched[in->signals[i].signal];
    return any;
}

static void play(const question *q, const hypothesis *h, int draw, prediction *p)
{
    int at = 0;
    for (int k = 0; k < q->seen->count; k++) {
        if (shows_in(q, k)) {
            at = look(q, h, k, draw, p, at);
            continue;
        }
        for (; at < q->count && q->figures[at].situation == k; at++)
            p->all[draw * q->count + at] = q->sound[draw * q->count + at];
    }
}

/* Mean and variance of a figure over those draws that are in; NULL: over all. A few draws see less than all
 * of a tolerance. */
void moments(const prediction *p, int figures, int which, const bool *in, double *mean, double *variance)
{
    double sum = 0, squares = 0;
    int count = 0;
    for (int d = 0; d < p->draws; d++)
        count += in == NULL || in[d];
    for (int d = 0; d < p->draws; d++)
        sum += in == NULL || in[d] ? p->all[d * figures + which] / count : 0;
    for (int d = 0; d < p->draws; d++) {
        const double off = p->all[d * figures + which] - sum;
        squares += in == NULL || in[d] ? off * off : 0;
    }
    *mean = sum;
    *variance = count > 1 ? squares / (count - 1) * tolerance_stretch * (1 + 1.0 / count) : 0;
}

/* Of a source that nothing is said of, a count tells no more than that it can be: no cause is better for
 * being sure of it. */
static void note_unstated(question *q)
{
    const prediction sound = {.draws = DRAWS, .all = q->sound};
    for (int i = 0; i < q->count; i++) {
        figure *f = &q->figures[i];
        const situation *in = &q->seen->situations[f->situation];
        double mean, variance;
        if (f->kind != FIGURE_MEAN ||
            situation_source(in, tl_circuit_plan(q->circuit), in->signals[f->index].signal) != NULL)
            continue;
        moments(&sound, q->count, i, NULL, &mean, &variance);
        f->unstated = sqrt(variance);
    }
}

void question_of(question *q, tl_circuit *circuit, const observed *seen, const bench_parts *parts)
{
    static const hypothesis sound = {.wider = 1};
    question_begin(q, circuit, seen);
    q->parts = parts;
    find_usual(q);
    q->touched = tl_alloc((size_t)tl_circuit_plan(circuit)->signal_count + 1, sizeof *q->touched);
    if (parts->network != NULL) {
        q->here = tl_alloc((size_t)tl_circuit_plan(circuit)->signal_count + 1, sizeof *q->here);
        q->metered = signals_of_meters(circuit, seen);
    }
    q->sound = tl_alloc((size_t)(DRAWS * q->count) + 1, sizeof *q->sound);
    touch_by(q, &sound);
    prediction all = {.all = q->sound, .floats = tl_alloc((size_t)q->count + 1, sizeof *all.floats)};
    for (int d = 0; d < DRAWS; d++)
        play(q, &sound, d, &all);
    free(all.floats);
    note_unstated(q);
}

bool shows_anywhere(question *q, const hypothesis *h)
{
    bool any = false;
    touch_by(q, h);
    for (int k = 0; k < q->seen->count; k++)
        any = any || shows_in(q, k);
    return any;
}

void predict(question *q, const hypothesis *h, int draws, prediction *p)
{
    double *all = tl_alloc((size_t)(draws * q->count) + 1, sizeof *all);
    *p =
        (prediction){.draws = draws, .all = all, .floats = tl_alloc((size_t)q->count + 1, sizeof *p->floats)};
    touch_by(q, h);
    for (int d = 0; d < draws; d++)
        play(q, h, d, p);
    prediction_sum(q, p);
}

void prediction_copy(const question *q, const prediction *from, prediction *to)
{
    const size_t count = (size_t)q->count;
    *to = (prediction){.draws = from->draws,
                       .all = tl_alloc((size_t)from->draws * count + 1, sizeof(double)),
                       .floats = tl_alloc(count + 1, sizeof(bool))};
    memcpy(to->all, from->all, (size_t)from->draws * count * sizeof *to->all);
    memcpy(to->floats, from->floats, count * sizeof *to->floats);
    prediction_sum(q, to);
}

void prediction_sum(const question *q, prediction *p)
{
    p->mean = tl_alloc((size_t)q->count + 1, sizeof(double));
    p->variance = tl_alloc((size_t)q->count + 1, sizeof(double));
    for (int i = 0; i < q->count; i++)
        moments(p, q->count, i, NULL, &p->mean[i], &p->variance[i]);
}

void prediction_free(prediction *p)
{
    free(p->all);
    free(p->mean);
    free(p->variance);
    free(p->floats);
    *p = (prediction){.all = NULL};
}
