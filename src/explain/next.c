/* SPDX-License-Identifier: MIT */
/*
 * Every point that a meter reaches, in every situation that was seen, and with the power off every pair of
 * points of one signal: what each of the likely causes predicts there, and how much of the doubt is left on
 * the mean when it has been measured.
 */
#include "explain/next.h"
#include "base/memory.h"
#include "elaborate/circuit_struct.h"
#include "explain/touch.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum {
    NEXT_DRAWS = 3,
    POINTS_MOST = 60,
    PAIRS_MOST = 140,
    METERS_MOST = POINTS_MOST + PAIRS_MOST,
    SITUATIONS_MOST = 3
};
static const double near_enough = 7, least_gain = 0.02;
static const double power_off_work = 0.03; /* bits: of two that tell the same, the voltage */

/* What a probe can touch: supplies, and no point inside of a chip, a source or a track. */
static bool is_reachable(const tl_circuit *c, int node)
{
    static const char *const inside[] = {".sampled", ".source.top", ".source.bottom", ".leakage"};
    const char *name = tl_net_node_name(c->net, node);
    bool supply = false;
    for (int i = 0; i < c->plan->supply_count; i++)
        supply = supply || c->supply_rail[i] == node;
    if (tl_net_is_rail(c->net, node))
        return supply && node != TL_NET_GROUND;
    for (size_t i = 0; i < sizeof inside / sizeof inside[0]; i++) {
        const size_t length = strlen(name), end = strlen(inside[i]);
        if (length >= end && strcmp(name + length - end, inside[i]) == 0)
            return false;
    }
    return true;
}

/* Signals that some of the causes touch; those that touch almost all say nothing of where to look. */
static bool *touched_by(const diagnosis *d, int causes)
{
    const int count = d->asked.circuit->plan->signal_count;
    bool *any = tl_alloc((size_t)count + 1, sizeof *any), *one = tl_alloc((size_t)count + 1, sizeof *one);
    for (int i = 0; i < causes; i++) {
        const hypothesis *h = &d->all.list[d->causes[i].hypothesis];
        int touched = 0;
        if (h->line == NULL)
            continue;
        for (int k = 0; k < count; k++) {
            one[k] = touches(d->asked.circuit, &h->fault, k);
            touched += one[k];
        }
        for (int k = 0; k < count && (touched <= 4 || 2 * touched <= count); k++)
            any[k] = any[k] || one[k];
    }
    free(one);
    return any;
}

/* An end of what a cause says is at fault. */
static bool is_at_fault(const diagnosis *d, int causes, int node)
{
    const tl_net *net = d->asked.circuit->net;
    for (int i = 0; i < causes; i++) {
        const hypothesis *h = &d->all.list[d->causes[i].hypothesis];
        bool at = h->line != NULL && (h->fault.node[0] == node || h->fault.node[1] == node);
        for (int k = 0; h->line != NULL && k < h->fault.part_count; k++) {
            int end[2];
            tl_net_part_ends(net, h->fault.parts[k], &end[0], &end[1]);
            at = at || end[0] == node || end[1] == node;
        }
        if (at)
            return true;
    }
    return false;
}

static bool is_near(const diagnosis *d, int causes, const bool *touched, int node)
{
    const tl_circuit *c = d->asked.circuit;
    if (tl_net_is_rail(c->net, node) || is_at_fault(d, causes, node))
        return true;
    for (int i = 0; i < c->plan->signal_count; i++) {
        if (touched[i] && (d->parts.wired == NULL || d->parts.wired[i]) && is_of_signal(c, i, node))
            return true;
    }
    for (int k = 0; k < d->asked.seen->count; k++) {
        const situation *in = &d->asked.seen->situations[k];
        for (int i = 0; i < in->output_count; i++) {
            const char *name = c->plan->outputs[in->outputs[i].output].name;
            const size_t length = strlen(name);
            if (strncmp(tl_net_node_name(c->net, node), name, length) == 0 &&
                tl_net_node_name(c->net, node)[length] == '.')
                return true;
        }
    }
    return false;
}

static int points_of(const diagnosis *d, int causes, int points[POINTS_MOST])
{
    const tl_circuit *c = d->asked.circuit;
    bool *touched = touched_by(d, causes);
    int count = 0;
    for (int node = 0; node < tl_net_node_count(c->net) && count < POINTS_MOST; node++) {
        if (is_reachable(c, node) && is_near(d, causes, touched, node))
            points[count++] = node;
    }
    free(touched);
    return count;
}

/* First, middle and last. */
static int situations_of(const observed *seen, int chosen[SITUATIONS_MOST])
{
    int count = 0;
    const int wanted[SITUATIONS_MOST] = {0, seen->count / 2, seen->count - 1};
    for (int i = 0; i < SITUATIONS_MOST && seen->count > 0; i++) {
        if (count == 0 || chosen[count - 1] != wanted[i])
            chosen[count++] = wanted[i];
    }
    return count;
}

static void add_pair(seen_meter *meters, int *count, const tl_circuit *c, int node, int other)
{
    if (*count == METERS_MOST)
        return;
    seen_meter *m = &meters[(*count)++];
    char one[TL_POINT_NAME], two[TL_POINT_NAME];
    circuit_point_name(c, node, one);
    circuit_point_name(c, other, two);
    *m = (seen_meter){.node = node, .other = other};
    snprintf(m->point, sizeof m->point, "%s,%s", one, two);
}

static bool in_one_signal(const tl_circuit *c, int one, int other)
{
    for (int i = 0; i < c->plan->line_count; i++) {
        if (one >= c->first_node[i] && one < c->first_node[i + 1])
            return other >= c->first_node[i] && other < c->first_node[i + 1];
    }
    return false;
}

/* A voltmeter at each point; an ohmmeter from each to ground, to each supply, and to the others of its
 * signal. */
static int meters_of(const tl_circuit *c, const int *points, int count, seen_meter meters[METERS_MOST])
{
    int all = 0;
    for (int i = 0; i < count; i++) {
        meters[all] = (seen_meter){.node = points[i],
                                   .other = TL_NET_NONE,
                                   .own_ohms = c->plan->meter_count > 0 ? c->plan->meters[0].ohms : 10e6,
                                   .share = 0.005,
                                   .fixed = 3e-3};
        circuit_point_name(c, points[i], meters[all].point);
        all++;
    }
    for (int i = 0; i < count; i++) {
        const bool rail = tl_net_is_rail(c->net, points[i]);
        add_pair(meters, &all, c, points[i], TL_NET_GROUND);
        for (int k = 0; k < count && !rail; k++) {
            if (tl_net_is_rail(c->net, points[k]) || (k > i && in_one_signal(c, points[i], points[k])))
                add_pair(meters, &all, c, points[i], points[k]);
        }
    }
    return all;
}

/* The observations, with these meters instead of all else. */
static observed metered(const observed *seen, int k, const seen_meter *meters, int count)
{
    observed with = {.every = seen->every};
    situation *in = observed_add(&with);
    const situation *from = &seen->situations[k];
    for (int i = 0; i < from->source_count; i++)
        situation_add_source(in, &from->sources[i]);
    for (int i = 0; i < from->signal_count; i++)
        (void)situation_signal(in, from->signals[i].signal);
    for (int i = 0; i < from->output_count; i++)
        situation_add_output(in, &from->outputs[i]);
    for (int i = 0; i < count; i++)
        observed_add_meter(&with, 0, &meters[i]);
    return with;
}

static double tail(double seen, double mean, double spread)
{
    const double z = (seen - mean) / spread;
    return -3.5 * log(1 + z * z / 6) - log(spread);
}

static double entropy(const double *weight, int count)
{
    double sum = 0, bits = 0;
    for (int i = 0; i < count; i++)
        sum += weight[i];
    for (int i = 0; i < count; i++)
        bits -= weight[i] > 0 ? weight[i] / sum * log2(weight[i] / sum) : 0;
    return bits;
}

static double gain_of(const double *prior, int count, const predicted_reading *of)
{
    double after = 0, sum = 0;
    for (int truth = 0; truth < count; truth++) {
        double weight[NEXT_CAUSES], best = -INFINITY;
        for (int i = 0; i < count; i++)
            best = fmax(best, tail(of[truth].mean, of[i].mean, of[i].spread));
        for (int i = 0; i < count; i++)
            weight[i] = prior[i] * exp(tail(of[truth].mean, of[i].mean, of[i].spread) - best);
        after += prior[truth] * entropy(weight, count);
        sum += prior[truth];
    }
    return entropy(prior, count) - after / sum;
}

static predicted_reading reading_of(const question *q, const prediction *p, int which)
{
    const figure *f = &q->figures[which];
    const seen_meter *meter = &q->seen->situations[f->situation].meters[f->index];
    const double floor = f->kind == FIGURE_OHMS
                             ? ohms_spread(figure_ohms(p->mean[which]))
                             : hypot(4e-3 + 0.004 * fabs(p->mean[which]), supply_spread(q, meter));
    predicted_reading is = {p->mean[which], sqrt(1.5 * p->variance[which] + floor * floor), INFINITY,
                            -INFINITY};
    for (int d = 0; d < p->draws; d++) {
        is.least = fmin(is.least, p->all[d * q->count + which]);
        is.most = fmax(is.most, p->all[d * q->count + which]);
    }
    return is;
}

/* What each cause predicts of all meters in one situation: [meter][cause]. */
static void predict_meters(const diagnosis *d, int causes, const observed *with, predicted_reading *of)
{
    question q;
    question_of(&q, d->asked.circuit, with, &d->parts);
    const int meters = with->situations[0].meter_count;
    for (int i = 0; i < causes; i++) {
        prediction p;
        predict(&q, &d->all.list[d->causes[i].hypothesis], NEXT_DRAWS, &p);
        for (int k = 0; k < meters; k++)
            of[k * causes + i] = reading_of(&q, &p, q.count - meters + k);
        prediction_free(&p);
    }
    question_free(&q);
}

static bool is_measured(const situation *in, const seen_meter *meter)
{
    for (int i = 0; i < in->meter_count; i++) {
        if (in->meters[i].node == meter->node && in->meters[i].other == meter->other)
            return true;
    }
    return false;
}

/* Behind a multiplexer it matters which channel is selected: the last one that was asked for. */
static int selected_for(const tl_circuit *c, const situation *in, const seen_meter *meter)
{
    int selected = TL_NONE;
    for (int i = 0; i < in->signal_count && meter->other == TL_NET_NONE; i++) {
        const int signal = in->signals[i].signal;
        if (c->plan->pins[c->plan->signals[signal].pin].mux != TL_NONE &&
            is_of_signal(c, signal, meter->node))
            selected = signal;
    }
    return selected;
}

static void try_situation(const diagnosis *d, int k, int causes, next_measurement *next)
{
    int points[POINTS_MOST];
    double prior[NEXT_CAUSES];
    seen_meter meters[METERS_MOST];
    const tl_circuit *c = d->asked.circuit;
    const int count = meters_of(c, points, points_of(d, causes, points), meters);
    observed with = metered(d->asked.seen, k, meters, count);
    predicted_reading *of = tl_alloc((size_t)(causes * count) + 1, sizeof *of);
    for (int i = 0; i < causes; i++)
        prior[i] = d->causes[i].probability;
    predict_meters(d, causes, &with, of);
    for (int p = 0; p < count; p++) {
        if (is_measured(&d->asked.seen->situations[k], &meters[p]))
            continue;
        const double work = meters[p].other != TL_NET_NONE ? power_off_work : 0,
                     gain = gain_of(prior, causes, of + p * causes) - work;
        if (gain <= next->gain)
            continue;
        *next = (next_measurement){.situation = k,
                                   .meter = meters[p],
                                   .selected = selected_for(c, &d->asked.seen->situations[k], &meters[p]),
                                   .gain = gain,
                                   .causes = causes};
        memcpy(next->of, of + p * causes, (size_t)causes * sizeof *of);
    }
    free(of);
    observed_free(&with);
}

bool next_of(diagnosis *d, next_measurement *next)
{
    int chosen[SITUATIONS_MOST], causes = 0;
    *next = (next_measurement){.gain = least_gain};
    while (causes < d->count && causes < NEXT_CAUSES && d->causes[causes].likelihood >= -near_enough)
        causes++;
    const int count = situations_of(d->asked.seen, chosen);
    for (int i = 0; i < count && causes > 1; i++)
        try_situation(d, chosen[i], causes, next);
    return next->causes > 0;
}
