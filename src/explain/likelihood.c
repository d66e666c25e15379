/* SPDX-License-Identifier: MIT */
/*
 * Every cause is predicted, and compared with what was seen: figures are taken as independent, and one in a
 * thousand may be anything, so that a wild one counts no more than that.
 */
#include "explain/likelihood.h"
#include <math.h>

static const double anything = 1e-3;

/* Of a source that nothing is said of, no cause is better for being sure what it does; one that is sure can
 * be wrong. */
static double agreement(const figure *f, double mean, double variance)
{
    const double spread = sqrt(variance + f->least_spread * f->least_spread), z = (f->seen - mean) / spread;
    return fmax(-z * z / 2 - log(fmax(spread, f->unstated)),
                log(anything / fmax(f->range, 4 * f->least_spread)));
}

/* Whether the converter has no such count, and no draw has one either. */
static bool is_off_scale(const question *q, const prediction *p, int i)
{
    const figure *f = &q->figures[i];
    if (f->kind != FIGURE_MEAN)
        return false;
    const int signal = q->seen->situations[f->situation].signals[f->index].signal;
    if (!question_signal(q, signal)->analog)
        return false;
    const tl_analog_path *path = tl_circuit_path(q->circuit, signal);
    const double first = (double)path->first_code - 0.5, last = (double)path->last_code + 0.5;
    bool off = f->seen < first || f->seen > last;
    for (int d = 0; d < p->draws && off; d++)
        off = p->all[d * q->count + i] >= first && p->all[d * q->count + i] <= last;
    return off;
}

/* Whether a figure is nowhere near what was predicted: a draw is near within what parts of a bench do, and
 * draws that are far apart leave room between them. */
bool is_wild(const question *q, const prediction *sound, const prediction *p)
{
    for (int i = 0; i < q->count; i++) {
        const figure *f = &q->figures[i];
        double near = INFINITY;
        for (int d = 0; d < p->draws; d++)
            near = fmin(near, fabs(f->seen - p->all[d * q->count + i]));
        if (near > 5 * sqrt(fmin(p->variance[i], sound->variance[i]) + f->least_spread * f->least_spread) &&
            near > sqrt(p->variance[i]))
            return true;
        if (is_off_scale(q, p, i))
            return true;
    }
    return false;
}

/* Draws that part into two camps (an open input that went to one rail or the other) by the figure that does
 * so most; false where none does. */
static bool part_draws(const question *q, const prediction *p, bool *upper)
{
    double widest = 0;
    for (int i = 0; i < q->count; i++) {
        double low = INFINITY, high = -INFINITY, below = -INFINITY, above = INFINITY;
        for (int d = 0; d < p->draws; d++) {
            low = fmin(low, p->all[d * q->count + i]);
            high = fmax(high, p->all[d * q->count + i]);
        }
        const double middle = (low + high) / 2;
        for (int d = 0; d < p->draws; d++) {
            const double is = p->all[d * q->count + i];
            if (is <= middle)
                below = fmax(below, is);
            else
                above = fmin(above, is);
        }
        if (!(above - below > 0.7 * (high - low) && above - below > 20 * q->figures[i].least_spread &&
              above - below > widest))
            continue;
        widest = above - below;
        for (int d = 0; d < p->draws; d++)
            upper[d] = p->all[d * q->count + i] > middle;
    }
    return widest > 0;
}

/* log(exp(a) + exp(b) + ...), of logarithms however low. */
static double log_of_sum(const double *all, int count)
{
    double best = -INFINITY, sum = 0;
    for (int i = 0; i < count; i++)
        best = fmax(best, all[i]);
    for (int i = 0; i < count; i++)
        sum += exp(all[i] - best);
    return best + log(sum);
}

/* How often it goes each way; more of the draws go low and high, since a few would miss them. */
static const double how_often[OPEN_WAYS] = {[GOES_LOW] = 1 / 8.0, [GOES_HIGH] = 1 / 8.0, [WANDERS] = 6 / 8.0};

static int draws_of(const prediction *p, open_way way)
{
    int count = 0;
    for (int d = 0; d < p->draws; d++)
        count += draw_way(d) == way;
    return count;
}

/* An input that is open goes one way or another on each bench; one of them is enough. Of what does not float
 * all draws tell, whichever way. */
static double likelihood_of_ways(const question *q, const prediction *p)
{
    double all[OPEN_WAYS];
    for (open_way way = GOES_LOW; way < OPEN_WAYS; way++) {
        bool in[DRAWS];
        all[way] = log(how_often[way]);
        for (int d = 0; d < p->draws; d++)
            in[d] = draw_way(d) == way;
        for (int i = 0; i < q->count; i++) {
            double mean = p->mean[i], variance = p->variance[i];
            if (p->floats[i])
                moments(p, q->count, i, in, &mean, &variance);
            all[way] += agreement(&q->figures[i], mean, variance);
        }
    }
    return log_of_sum(all, OPEN_WAYS);
}

static double likelihood_of_all(const question *q, const prediction *p)
{
    double sum = 0;
    for (int i = 0; i < q->count; i++)
        sum += agreement(&q->figures[i], p->mean[i], p->variance[i]);
    return sum;
}

static double best_draws(const question *q, const prediction *sound, const prediction *p)
{
    double all[DRAWS];
    for (int d = 0; d < p->draws; d++) {
        all[d] = log(how_often[draw_way(d)] / draws_of(p, draw_way(d)));
        for (int i = 0; i < q->count; i++)
            all[d] += agreement(&q->figures[i], p->all[d * q->count + i], sound->variance[i]);
    }
    return log_of_sum(all, p->draws);
}

/* What a line does that nothing holds is another on each bench: each draw is a way of its own, with the
 * spread that sound parts have. Where many signals share a reference or a supply, one of the draws has it as
 * it was, of sound parts, too: that says nothing for a cause. */
double likelihood_of_draws(const question *q, const prediction *sound, const prediction *p)
{
    return best_draws(q, sound, p) - fmax(0, best_draws(q, sound, sound) - likelihood_of_all(q, sound));
}

double likelihood_of(const question *q, const prediction *sound, const prediction *p)
{
    bool upper[DRAWS], in[DRAWS], floats = false;
    const double sum = likelihood_of_all(q, p);
    for (int i = 0; i < q->count; i++)
        floats = floats || p->floats[i];
    if (floats)
        return fmax(sum, fmax(likelihood_of_ways(q, p), likelihood_of_draws(q, sound, p)));
    if (!part_draws(q, p, upper))
        return sum;
    double camps[2] = {0, 0}, share[2] = {0, 0};
    for (int side = 0; side < 2; side++) {
        for (int d = 0; d < p->draws; d++) {
            in[d] = upper[d] == (side == 1);
            share[side] += in[d] / (double)p->draws;
        }
        for (int i = 0; i < q->count; i++) {
            double mean, variance;
            moments(p, q->count, i, in, &mean, &variance);
            camps[side] +=
                agreement(&q->figures[i], mean, fmax(variance, share[side] < 0.3 ? p->variance[i] / 100 : 0));
        }
        camps[side] += log(share[side]);
    }
    return fmax(sum, log_of_sum(camps, 2));
}

/* By the first draws alone: each is off from the same draw of sound parts by what the fault does, which has
 * tolerances of its own. What comes off may go either way, so the best of them counts. False where the fault
 * does nothing to what was seen. */
bool glance(const question *q, const prediction *sound, const prediction *p, double *likelihood)
{
    bool changed = false;
    *likelihood = -INFINITY;
    for (int d = 0; d < p->draws; d++) {
        double sum = 0;
        for (int i = 0; i < q->count; i++) {
            const double shift = p->all[d * q->count + i] - q->sound[d * q->count + i];
            changed = changed || shift != 0;
            const double elsewhere = p->floats[i] ? q->figures[i].range / 3 : 0;
            sum += agreement(&q->figures[i], sound->mean[i] + shift,
                             4 * sound->variance[i] + (shift / 4) * (shift / 4) + elsewhere * elsewhere);
        }
        *likelihood = fmax(*likelihood, sum);
    }
    return changed;
}
