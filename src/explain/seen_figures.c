/* SPDX-License-Identifier: MIT */
/* What is asked of every cause: the figures that follow from what was seen. */
#include "explain/seen_figures.h"
#include "base/memory.h"
#include "elaborate/circuit_struct.h"
#include <math.h>
#include <stdlib.h>

const tl_signal *question_signal(const question *q, int signal)
{
    return &tl_circuit_plan(q->circuit)->signals[signal];
}

double question_missing(const question *q, int signal)
{
    const tl_signal *s = question_signal(q, signal);
    if (!s->analog)
        return -1;
    const tl_analog_path *path = tl_circuit_path(q->circuit, signal);
    return (double)path->first_code - (double)(path->last_code - path->first_code) / 4;
}

double samples_mean(const double *samples, int count)
{
    double sum = 0;
    for (int i = 0; i < count; i++)
        sum += samples[i];
    return sum / count;
}

/* What an ohmmeter tells apart: 3 % of anything, though neither what leads, probes and a joint have, nor 100
 * Mohm from open. */
static const double least_ohms = 10, most_ohms = 100e6, lead_ohms = 2, finest_decades = 0.015, decades = 7;
static const double usual_volts = 10; /* a meter may show anything up to here */
static const double idle_volts = 0.1; /* a supply that nothing feeds is hardly ever at 0 V */

double samples_spread(const double *samples, int count)
{
    const double mean = samples_mean(samples, count);
    double sum = 0;
    for (int i = 0; i < count; i++)
        sum += (samples[i] - mean) * (samples[i] - mean);
    return log1p(sqrt(sum / count));
}

double question_shown(const question *q, int signal, double count)
{
    tl_value is;
    return tl_plan_value_plain(q->circuit, signal, count, &is) == TL_NET_SOLVED && !is.none ? is.value
                                                                                            : (double)NAN;
}

double samples_last(const seen_signal *s)
{
    for (int i = s->count; i-- > 0;) {
        if (!isnan(s->samples[i]))
            return s->samples[i];
    }
    return NAN;
}

double ohms_figure(double ohms)
{
    return log10(least_ohms + fmin(ohms, most_ohms));
}

double figure_ohms(double decade)
{
    const double ohms = pow(10, decade) - least_ohms;
    return ohms > most_ohms / 2 ? INFINITY : fmax(ohms, 0);
}

double ohms_spread(double ohms)
{
    return hypot(finest_decades, lead_ohms / (least_ohms + fmin(ohms, most_ohms)) / log(10));
}

double supply_spread(const question *q, const seen_meter *meter)
{
    return tl_net_is_rail(tl_circuit_net(q->circuit), meter->node) ? idle_volts : 0;
}

static void add(question *q, figure f)
{
    q->figures = tl_grow(q->figures, (size_t)q->count, sizeof *q->figures);
    q->figures[q->count++] = f;
}

static double full_scale(const question *q, int signal)
{
    const tl_analog_path *path = tl_circuit_path(q->circuit, signal);
    const double low = question_shown(q, signal, (double)path->first_code),
                 high = question_shown(q, signal, (double)path->last_code);
    return isfinite(high - low) ? fabs(high - low) : 1;
}

static void add_signal(question *q, int at, int index)
{
    const seen_signal *s = &q->seen->situations[at].signals[index];
    const bool analog = question_signal(q, s->signal)->analog;
    double samples[SEEN_SAMPLES_MOST];
    for (int i = 0; i < s->count; i++)
        samples[i] = isnan(s->samples[i]) ? question_missing(q, s->signal) : s->samples[i];
    if (s->count > 0 && analog) {
        const tl_analog_path *path = tl_circuit_path(q->circuit, s->signal);
        add(q, (figure){FIGURE_MEAN, at, index, samples_mean(samples, s->count),
                        path->last_code > 20000 ? 4 : 2, (double)(path->last_code - path->first_code), 0});
    } else if (s->count > 0) {
        add(q, (figure){FIGURE_MEAN, at, index, samples_mean(samples, s->count), 0.1, 1, 0});
    }
    if (s->count > 1)
        add(q, (figure){FIGURE_SPREAD, at, index, samples_spread(samples, s->count), 0.5, 7, 0});
    const double should =
        s->has_shown && analog ? question_shown(q, s->signal, samples_last(s)) : (double)NAN;
    if (isfinite(should)) {
        const double digit = pow(10, -question_signal(q, s->signal)->reading.decimals);
        add(q, (figure){FIGURE_SHOWN, at, index, s->shown - should,
                        fmax(0.003 * full_scale(q, s->signal), digit), full_scale(q, s->signal), 0});
    }
}

void question_begin(question *q, tl_circuit *circuit, const observed *seen)
{
    *q = (question){.circuit = circuit, .seen = seen};
    for (int k = 0; k < seen->count; k++) {
        const situation *in = &seen->situations[k];
        for (int i = 0; i < in->signal_count; i++)
            add_signal(q, k, i);
        for (int i = 0; i < in->output_count; i++)
            add(q, (figure){FIGURE_OUTPUT, k, i, (double)in->outputs[i].seen, 0.3, 2, 0});
        for (int i = 0; i < in->meter_count; i++) {
            const seen_meter *m = &in->meters[i];
            add(q, m->other != TL_NET_NONE
                       ? (figure){FIGURE_OHMS, k, i, ohms_figure(m->shows), ohms_spread(m->shows), decades, 0}
                       : (figure){FIGURE_METER, k, i, m->shows,
                                  hypot(m->fixed + m->share * fabs(m->shows), supply_spread(q, m)),
                                  usual_volts, 0});
        }
    }
}

double question_factor(const question *q, int signal)
{
    double shown = 0, should = 0;
    for (int i = 0; i < q->count; i++) {
        const figure *f = &q->figures[i];
        if (f->kind != FIGURE_SHOWN)
            continue;
        const seen_signal *s = &q->seen->situations[f->situation].signals[f->index];
        if (s->signal != signal)
            continue;
        shown += s->shown;
        should += s->shown - f->seen;
    }
    return should != 0 ? shown / should : (double)NAN;
}

void question_free(question *q)
{
    free(q->figures);
    free(q->usual);
    free(q->metered);
    free(q->touched);
    free(q->here);
    free(q->sound);
    *q = (question){.figures = NULL};
}
