/* SPDX-License-Identifier: MIT */
/* Sources as they were believed to be, the fault, and meters one behind the other. */
#include "explain/situation_scene.h"
#include "base/memory.h"
#include "bench/random.h"
#include "elaborate/circuit_struct.h"
#include <math.h>

/* A bench begins at rest, so samples may follow each other quickly where nothing comes and goes by itself;
 * meters stay for a while behind the last. */
static const double quick_seconds = 5e-3, meter_seconds = 0.1, usual_every = 0.1;
const double rest_seconds = 1e-3, hum_seconds = 0.02;

double drawn(unsigned long seed, unsigned which)
{
    random_source own = random_stream(seed, which);
    return random_even(&own);
}

static void set_source(tl_scene *scene, int signal, bool of_quantity, double value)
{
    tl_waveform w = {.signal = signal, .shape = TL_WAVEFORM_STEPS, .of_quantity = of_quantity, .count = 1};
    w.moments = tl_alloc(1, sizeof *w.moments);
    w.moments[0].value = value;
    scene->waveforms = tl_grow(scene->waveforms, (size_t)scene->waveform_count, sizeof w);
    scene->waveforms[scene->waveform_count++] = w;
}

static void move_source(const question *q, tl_scene *scene, const seen_source *source, double share)
{
    const tl_source *s = &question_signal(q, source->signal)->source;
    const double value = (source->low + source->high) / 2 + share * (source->high - source->low) / 2;
    set_source(scene, source->signal, s->curve.law != TL_LAW_NONE,
               s->kind == TL_SOURCE_POTENTIOMETER ? fmin(fmax(value, 0), 100) : value);
}

/* Since long before the bench begins: it has bounced, and all is at rest. */
static void press_source(tl_scene *scene, const seen_source *source)
{
    static const double long_ago = -2000;
    if (!source->pressed)
        return;
    scene->presses = tl_grow(scene->presses, (size_t)scene->press_count, sizeof *scene->presses);
    scene->presses[scene->press_count++] = (tl_press){source->signal, source->button, long_ago, 1e6, false};
}

/* Evenly in what the sensor feels, not in its ohms. */
static double between(const tl_response *curve, double least, double most, double share)
{
    if (curve->law == TL_LAW_NONE)
        return least + share * (most - least);
    const double low = tl_response_quantity(curve, least), high = tl_response_quantity(curve, most);
    return tl_response_ohms(curve, low + share * (high - low));
}

/* What a source did that nothing is said of: anything that it can do, the same for every cause. */
static void draw_source(const question *q, tl_scene *scene, int signal, double share)
{
    const tl_source *s = &question_signal(q, signal)->source;
    const tl_signal_nodes *nodes = &q->circuit->signals[signal];
    double least = 0, most = 0;
    if (nodes->unknown != TL_NET_NONE)
        tl_net_param_span(tl_circuit_net(q->circuit), nodes->unknown, &least, &most);
    if (most > least)
        set_source(scene, signal, false,
                   between(&s->curve, least, most, share) * (s->kind == TL_SOURCE_POTENTIOMETER ? 100 : 1));
    else if (nodes->contact != TL_NET_NONE || s->button_count > 0)
        press_source(
            scene,
            &(seen_source){.signal = signal, .button = s->button_count > 0 ? 0 : -1, .pressed = share < 0.5});
}

double spacing_of(const question *q, const hypothesis *h)
{
    const double every = q->seen->every > 0 ? q->seen->every : usual_every;
    const bool comes_and_goes =
        h->line != NULL && (h->fault.kind == TL_SCENE_LOOSE || h->fault.kind == TL_SCENE_NOISE);
    return comes_and_goes ? every : fmin(every, quick_seconds);
}

static double length_of(const question *q, const hypothesis *h, int k)
{
    const situation *in = &q->seen->situations[k];
    int most = 1;
    for (int i = 0; i < in->signal_count; i++)
        most = in->signals[i].count > most ? in->signals[i].count : most;
    return rest_seconds + most * (spacing_of(q, h) + hum_seconds);
}

/* A meter after the other, none while samples are taken. */
static double meter_from(const question *q, const hypothesis *h, int k, int meter)
{
    return length_of(q, h, k) + (1.1 * meter + 0.05) * meter_seconds;
}

double meter_moment(const question *q, const hypothesis *h, int k, int meter)
{
    return meter_from(q, h, k, meter) + 0.9 * meter_seconds;
}

tl_scene *scene_of(const question *q, const hypothesis *h, int k, unsigned long seed)
{
    const situation *in = &q->seen->situations[k];
    tl_scene *scene = tl_scene_new();
    if (h->line != NULL) {
        scene->faults = tl_alloc(1, sizeof *scene->faults);
        scene->faults[scene->fault_count++] = h->fault;
    }
    if (h->is_pair) {
        scene->faults = tl_grow(scene->faults, 1, sizeof *scene->faults);
        scene->faults[scene->fault_count++] = h->other;
    }
    for (int i = 0; i < in->source_count; i++) {
        const seen_source *source = &in->sources[i];
        if (source->is_state)
            press_source(scene, source);
        else
            move_source(q, scene, source,
                        h->wider * (2 * drawn(seed, (unsigned)(1000 * k + source->signal)) - 1));
    }
    const tl_plan *plan = tl_circuit_plan(q->circuit);
    for (int i = 0; i < plan->signal_count; i++) {
        const bool far = q->here != NULL && !q->here[i] && plan->signals[i].source.kind != TL_SOURCE_RAIL;
        if (!far && situation_source(in, plan, i) == NULL && tl_plan_same_source(plan, i) == i)
            draw_source(q, scene, i, drawn(seed, 700000u + 1000u * (unsigned)k + (unsigned)i));
    }
    for (int i = 0; i < in->meter_count; i++) {
        const double from = meter_from(q, h, k, i);
        if (in->meters[i].other == TL_NET_NONE)
            tl_scene_add_meter(scene, (tl_scene_meter){in->meters[i].node, in->meters[i].own_ohms, from,
                                                       from + meter_seconds});
    }
    return scene;
}
