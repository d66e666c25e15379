/*
 * Every point that a meter reaches, in every situation that was seen: what each of the likely causes predicts
 * there, and how much of the doubt is left on the mean when it has been measured.
 */
#include "explain/next.h"
#include "base/memory.h"
#include "elaborate/circuit_struct.h"
#include "explain/touch.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum { NEXT_DRAWS = 3, POINTS_MOST = 60, SITUATIONS_MOST = 3 };
static const double near_enough = 7, least_gain = 0.02;

/* What a probe can touch: no wire inside of the chip, no model of one. */
static bool is_reachable(const char *node)
{
    const char *end = strrchr(node, '.');
    return strstr(node, ".sampled") == NULL && strstr(node, ".clamp") == NULL &&
           strstr(node, ".emf") == NULL && (end == NULL || strcmp(end, ".leakage") != 0);
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
        touch(d->asked.circuit, &h->fault, one);
        for (int k = 0; k < count; k++)
            touched += one[k];
        for (int k = 0; k < count && (touched <= 4 || 2 * touched <= count); k++)
            any[k] = any[k] || one[k];
    }
    free(one);
    return any;
}

static bool is_near(const diagnosis *d, const bool *touched, int node)
{
    const tl_circuit *c = d->asked.circuit;
    if (tl_net_is_rail(c->net, node))
        return node != TL_NET_GROUND;
    for (int i = 0; i < c->plan->signal_count; i++) {
        if (touched[i] && is_of_signal(c, i, node))
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
    const tl_net *net = d->asked.circuit->net;
    bool *touched = touched_by(d, causes);
    int count = 0;
    for (int node = 0; node < tl_net_node_count(net) && count < POINTS_MOST; node++) {
        if (is_reachable(tl_net_node_name(net, node)) && is_near(d, touched, node))
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

/* The observations, with a meter at each of the points instead of all else. */
static observed metered(const observed *seen, int k, const tl_circuit *c, const int *points, int count)
{
    observed with = {.every = seen->every};
    situation *in = observed_add(&with);
    const situation *from = &seen->situations[k];
    in->sources = tl_alloc((size_t)from->source_count + 1, sizeof *in->sources);
    for (; in->source_count < from->source_count; in->source_count++)
        in->sources[in->source_count] = from->sources[in->source_count];
    in->outputs = tl_alloc((size_t)from->output_count + 1, sizeof *in->outputs);
    for (; in->output_count < from->output_count; in->output_count++)
        in->outputs[in->output_count] = from->outputs[in->output_count];
    in->meters = tl_alloc((size_t)count + 1, sizeof *in->meters);
    for (int i = 0; i < count; i++) {
        in->meters[i] = (seen_meter){.node = points[i],
                                     .ohms = c->plan->meter_count > 0 ? c->plan->meters[0].ohms : 10e6};
        snprintf(in->meters[i].point, sizeof in->meters[i].point, "%s", tl_net_node_name(c->net, points[i]));
    }
    in->meter_count = count;
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

static double gain_of(const double *prior, int count, const double *mean, const double *spread)
{
    double after = 0, sum = 0;
    for (int truth = 0; truth < count; truth++) {
        double weight[NEXT_CAUSES], best = -INFINITY;
        for (int i = 0; i < count; i++)
            best = fmax(best, tail(mean[truth], mean[i], spread[i]));
        for (int i = 0; i < count; i++)
            weight[i] = prior[i] * exp(tail(mean[truth], mean[i], spread[i]) - best);
        after += prior[truth] * entropy(weight, count);
        sum += prior[truth];
    }
    return entropy(prior, count) - after / sum;
}

/* The volts at all points that each cause predicts in one situation: [cause][point]. */
static void predict_points(const diagnosis *d, int causes, const observed *with, int points, double *mean,
                           double *spread)
{
    question q;
    question_of(&q, d->asked.circuit, with);
    for (int i = 0; i < causes; i++) {
        prediction p;
        predict(&q, &d->all.list[d->causes[i].hypothesis], NEXT_DRAWS, &p);
        for (int k = 0; k < points; k++) {
            const int at = q.count - points + k;
            const double floor = 4e-3 + 0.004 * fabs(p.mean[at]);
            mean[i * points + k] = p.mean[at];
            spread[i * points + k] = sqrt(1.5 * p.variance[at] + floor * floor);
        }
        prediction_free(&p);
    }
    question_free(&q);
}

static bool is_measured(const situation *in, int node)
{
    for (int i = 0; i < in->meter_count; i++) {
        if (in->meters[i].node == node)
            return true;
    }
    return false;
}

static void try_situation(const diagnosis *d, int k, int causes, next_measurement *next)
{
    int points[POINTS_MOST];
    double prior[NEXT_CAUSES];
    const tl_circuit *c = d->asked.circuit;
    const int count = points_of(d, causes, points);
    observed with = metered(d->asked.seen, k, c, points, count);
    double *mean = tl_alloc((size_t)(causes * count) + 1, sizeof *mean),
           *spread = tl_alloc((size_t)(causes * count) + 1, sizeof *spread);
    for (int i = 0; i < causes; i++)
        prior[i] = d->causes[i].probability;
    predict_points(d, causes, &with, count, mean, spread);
    for (int p = 0; p < count; p++) {
        if (is_measured(&d->asked.seen->situations[k], points[p]))
            continue;
        double m[NEXT_CAUSES], s[NEXT_CAUSES];
        for (int i = 0; i < causes; i++) {
            m[i] = mean[i * count + p];
            s[i] = spread[i * count + p];
        }
        const double gain = gain_of(prior, causes, m, s);
        if (gain <= next->gain)
            continue;
        *next = (next_measurement){.situation = k, .node = points[p], .gain = gain, .causes = causes};
        snprintf(next->point, sizeof next->point, "%s", tl_net_node_name(c->net, points[p]));
        memcpy(next->mean, m, sizeof m);
        memcpy(next->spread, s, sizeof s);
    }
    free(mean);
    free(spread);
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
