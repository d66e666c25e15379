/* SPDX-License-Identifier: MIT */
/*
 * What takes or gives how many counts of a reading: one thing after the other, all else as it should be. What
 * has no business there (leakage, ends of a track, wires, offsets) is away to begin with; what belongs there
 * stands at its nominal value. One solution of the net for each end of each parameter.
 */
#include "base/memory.h"
#include "elaborate/circuit_struct.h"
#include "tinyladder/design/measurement.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

typedef struct {
    tl_circuit *c;
    int signal;
    const tl_signal_nodes *nodes;
    const tl_analog_path *path;
    const bool *closed;
    double *values;
    tl_effect *rows;
    int count, most;
} asker;

/* In plain words; the path stays where there are none. */
static void put_words(const asker *a, int param, char text[TL_EFFECT_LONGEST])
{
    static const struct {
        const char *own, *others; /* of the signal itself, of what it shares */
    } words[] = {
        [TL_CAUSE_REFERENCE] = {"reference of the ADC", "reference of the ADC"},
        [TL_CAUSE_SHARED] = {"the way to %.60s", "the way to %.60s"},
        [TL_CAUSE_RAIL] = {"voltage of %.60s", "voltage of %.60s"},
        [TL_CAUSE_TOP_END] = {"end resistance of the track at 100 %%", NULL},
        [TL_CAUSE_BOTTOM_END] = {"end resistance of the track at 0 %%", NULL},
        [TL_CAUSE_LEAD] = {"the leads of the sensor", NULL},
        [TL_CAUSE_LEAKAGE] = {"leakage of the pin", NULL},
        [TL_CAUSE_SOURCE_OHMS] = {"the source's own resistance", NULL},
        [TL_CAUSE_SWITCH] = {NULL, NULL},
    };
    const tl_cause cause = a->c->param[param].cause;
    const bool own = param >= a->c->first_param[a->signal] && param < a->c->first_param[a->signal + 1];
    const char *name = tl_net_param_name(a->c->net, param);
    const char *rest = own ? name + strlen(a->c->plan->signals[a->signal].name) + 1 : NULL;
    const char *known = rest != NULL ? words[cause].own : words[cause].others;
    char rail[64];
    snprintf(rail, sizeof rail, "%.*s", (int)strcspn(name, "."), name);
    if (param == a->nodes->track)
        snprintf(text, TL_EFFECT_LONGEST, "ohms of the track");
    else if (known != NULL)
        snprintf(text, TL_EFFECT_LONGEST, known, rail);
    else
        snprintf(text, TL_EFFECT_LONGEST, "%s%.60s", tl_cause_is_loss(cause) ? "" : "tolerance of ",
                 rest != NULL ? rest : name);
}

static bool count_now(const asker *a, double *count)
{
    const tl_net_state state = {a->values, a->closed};
    const tl_figure figure = {
        .kind = TL_FIGURE_VOLTS, .of = a->nodes->pin, .less = tl_net_fixed(0), .against = a->nodes->negative};
    double volts;
    if (tl_island_figure(a->nodes->island, &state, figure, &volts) != TL_NET_SOLVED)
        return false;
    *count = volts / a->values[a->nodes->reference] * a->path->reference_counts;
    return isfinite(*count);
}

static void add_row(asker *a, double low, double high, const char *words)
{
    enum { LEAST_PER_MILLE = 5 }; /* of a count: less is nothing */
    if (a->count == a->most || fmax(fabs(low), fabs(high)) < LEAST_PER_MILLE / 1000.0)
        return;
    tl_effect *row = &a->rows[a->count++];
    *row = (tl_effect){.low = fmin(low, high), .high = fmax(low, high)};
    snprintf(row->what, sizeof row->what, "%s", words);
}

static void try_param(asker *a, int param, double base)
{
    const tl_net *net = a->c->net;
    double span[2], ends[2], kept = a->values[param];
    char words[TL_EFFECT_LONGEST];
    tl_net_param_span(net, param, &span[0], &span[1]);
    const bool loss = tl_cause_is_loss(a->c->param[param].cause);
    if (param == a->nodes->unknown || (span[0] == span[1] && !loss))
        return;
    for (int end = 0; end < 2; end++) {
        a->values[param] = span[end];
        if (!count_now(a, &ends[end]))
            ends[end] = base;
    }
    a->values[param] = kept;
    put_words(a, param, words);
    add_row(a, ends[0] - base, ends[1] - base, words);
}

/* The sensor's own tolerance: it has other ohms than its law says. */
static void add_sensor(asker *a, double base)
{
    const tl_response *curve = &a->c->plan->signals[a->signal].source.curve;
    const double shares[2] = {curve->share_low, curve->share_high}, kept = a->values[a->nodes->unknown];
    double ends[2];
    if (curve->law == TL_LAW_NONE || curve->share_low == curve->share_high)
        return;
    for (int end = 0; end < 2; end++) {
        a->values[a->nodes->unknown] = kept * shares[end];
        if (!count_now(a, &ends[end]))
            ends[end] = base;
    }
    a->values[a->nodes->unknown] = kept;
    add_row(a, ends[0] - base, ends[1] - base, "tolerance of the sensor");
}

static void add_converter(asker *a, double count)
{
    const tl_plan_converter *converter = tl_plan_converter_of(a->c->plan, &a->c->plan->signals[a->signal]);
    if (converter == NULL)
        return;
    const tl_converter *part = converter->part;
    const double full = a->path->range_counts, gain = part->gain * fabs(count) / full;
    add_row(a, -part->offset, part->offset, "offset of the ADC");
    add_row(a, -gain, gain, "gain of the ADC");
    add_row(a, -part->nonlinearity, part->nonlinearity, "nonlinearity of the ADC");
    add_row(a, -a->path->settling_counts, a->path->settling_counts, "what acquisition leaves");
    add_row(a, -0.5, 0.5, "the step of a count");
}

static int by_size(const void *one, const void *other)
{
    const tl_effect *a = one, *b = other;
    const double first = fmax(fabs(a->low), fabs(a->high)), second = fmax(fabs(b->low), fabs(b->high));
    return first < second ? 1 : first > second ? -1 : strcmp(a->what, b->what);
}

int tl_plan_why(tl_circuit *circuit, int signal, double unknown, tl_effect *effects, int most, double *ideal)
{
    const tl_net *net = circuit->net;
    const int params = tl_net_param_count(net);
    asker a = {.c = circuit,
               .signal = signal,
               .nodes = &circuit->signals[signal],
               .path = tl_circuit_path(circuit, signal),
               .closed = tl_circuit_state(circuit, signal, 0),
               .values = tl_alloc((size_t)params, sizeof(double)),
               .rows = effects,
               .most = most};
    bool good = a.path->fault == TL_NET_SOLVED && a.nodes->unknown != TL_NET_NONE;
    memcpy(a.values, tl_circuit_nominal(circuit), (size_t)circuit->real_params * sizeof *a.values);
    for (int i = 0; i < params && good; i++) {
        if (tl_island_has_param(a.nodes->island, i) && tl_cause_is_loss(circuit->param[i].cause))
            a.values[i] = 0;
    }
    if (good)
        a.values[a.nodes->unknown] = unknown;
    good = good && count_now(&a, ideal);
    for (int i = 0; i < circuit->real_params && good; i++) {
        if (tl_island_has_param(a.nodes->island, i))
            try_param(&a, i, *ideal);
    }
    if (good && !tl_island_has_param(a.nodes->island, a.nodes->reference))
        try_param(&a, a.nodes->reference, *ideal);
    if (good)
        add_sensor(&a, *ideal);
    if (good)
        add_converter(&a, *ideal);
    free(a.values);
    qsort(effects, (size_t)a.count, sizeof *effects, by_size);
    return good ? a.count : -1;
}

bool tl_effects_explain(const tl_effect *effects, int count, double off)
{
    double low = 0, high = 0;
    for (int i = 0; i < count; i++) {
        low += fmin(effects[i].low, 0);
        high += fmax(effects[i].high, 0);
    }
    return off >= 1.5 * low - 8 && off <= 1.5 * high + 8;
}
