/* SPDX-License-Identifier: MIT */
/*
 * Volts: the plan's own network with the meter in it, every corner of its tolerances, then the meter's own
 * error. Ohms with the power off: more of any resistance never makes the whole less, so that all parts at
 * their lowest and all at their highest bound it.
 */
#include "sheet/checkpoints.h"
#include "analysis/ask.h"
#include "base/memory.h"
#include "circuit/resistances.h"
#include "tinyladder/design/calibration.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static const double ohmmeter = 0.01, ohmmeter_digit = 0.5, most_ohms = 10e6;

typedef struct {
    tl_circuit *c;
    checkpoints of;
    int signal;
    int letters; /* supplies that are measured first */
} maker;

tl_meter checkpoint_meter(const tl_plan *plan)
{
    const tl_meter usual = {.name = "handheld", .ohms = 10e6, .accuracy = 0.5, .digits = 1, .digit = 1e-3};
    tl_meter meter = plan->meter_count > 0 ? plan->meters[0] : usual;
    meter.digits = meter.digits > 0 ? meter.digits : 1; /* what it shows is rounded at least */
    return meter;
}

static checkpoint *add(maker *m, int number, int node, const char *when)
{
    m->of.list = tl_grow(m->of.list, (size_t)m->of.count, sizeof *m->of.list);
    checkpoint *is = &m->of.list[m->of.count++];
    *is = (checkpoint){.number = number, .signal = m->signal, .node = node};
    snprintf(is->when, sizeof is->when, "%s", when);
    return is;
}

/* The last point of its own: its pin, or what a multiplexer leads to one. */
static int point_of(const maker *m)
{
    const tl_signal_nodes *nodes = tl_circuit_nodes(m->c, m->signal);
    return nodes->route_length > 0 ? nodes->end : nodes->pin;
}

/* --- volts --- */

typedef struct {
    int state;
    int param; /* that has just this span; TL_NET_NONE */
    double low, high;
} condition;

static bool volts_at(tl_circuit *c, int signal, int node, const condition *when, tl_bounds *bounds)
{
    const tl_metered at = {signal,      when->state, node,      checkpoint_meter(c->plan).ohms,
                           when->param, when->low,   when->high};
    return tl_circuit_with_meter(c, &at, bounds) == TL_NET_SOLVED;
}

static void put_volts(const tl_plan *plan, checkpoint *is, const tl_bounds *b)
{
    const tl_meter meter = checkpoint_meter(plan);
    is->least = b->low - tl_meter_limit(&meter, b->low);
    is->typical = b->nominal;
    is->most = b->high + tl_meter_limit(&meter, b->high);
    if (b->low >= 0) /* nothing below ground drives it */
        is->least = fmax(0, is->least);
}

static void add_volts(maker *m, int number, const char *text, const char *source, const condition *when)
{
    tl_bounds bounds;
    if (!volts_at(m->c, m->signal, point_of(m), when, &bounds))
        return;
    checkpoint *is = add(m, number, point_of(m), text);
    snprintf(is->source, sizeof is->source, "%.47s", source);
    put_volts(m->c->plan, is, &bounds);
}

/* A supply of wide range is measured first; what follows from it is a factor of it, both readings' errors
 * counted. */
static void add_rail(maker *m, int number, int supply)
{
    const tl_supply *is = &m->c->plan->supplies[supply];
    const tl_meter meter = checkpoint_meter(m->c->plan);
    const double middle = (is->volts.low + is->volts.high) / 2, share = meter.accuracy / 100;
    tl_bounds at_rail = {.low = is->volts.low, .nominal = middle, .high = is->volts.high}, whole, alone;
    char text[80];
    const char letter = (char)('A' + m->letters % 26);
    if (!volts_at(m->c, m->signal, point_of(m), &(condition){0, TL_NET_NONE, 0, 0}, &whole) ||
        !volts_at(m->c, m->signal, point_of(m), &(condition){0, m->c->supply_param[supply], middle, middle},
                  &alone))
        return;
    snprintf(text, sizeof text, "write it down as %c", letter);
    m->letters++;
    m->of.at_source[m->signal] = number;
    checkpoint *rail = add(m, number, m->c->supply_rail[supply], text);
    put_volts(m->c->plan, rail, &at_rail);
    rail->measures = letter;
    snprintf(rail->where, sizeof rail->where, "%.60s to ground", is->name);
    const double least = alone.low / middle * (1 - share) / (1 + share),
                 most = alone.high / middle * (1 + share) / (1 - share);
    snprintf(text, sizeof text, "%c × %.4f .. %.4f", letter, least, most);
    checkpoint *at = add(m, number + 1, point_of(m), text);
    put_volts(m->c->plan, at, &whole);
    at->of = letter;
    at->factor_least = least;
    at->factor_most = most;
    at->fixed = tl_meter_limit(&meter, 0) * (1 + most);
}

static void add_states(maker *m, int number)
{
    const tl_signal *s = &m->c->plan->signals[m->signal];
    const tl_signal_nodes *nodes = tl_circuit_nodes(m->c, m->signal);
    const bool logic = s->source.kind == TL_SOURCE_LOGIC,
               switched = s->source.kind == TL_SOURCE_OPEN_COLLECTOR;
    for (int state = 0; state < nodes->states; state++) {
        const char *text = s->source.button_count > 0
                               ? (state == 0 ? "none pressed" : s->source.buttons[state - 1].name)
                           : logic    ? (state == 0 ? "high" : "low")
                           : switched ? (state == 0 ? "off" : "on")
                                      : (state == 0 ? "open" : "closed");
        add_volts(m, number, text, s->source.button_count > 0 && state == 0 ? "no button" : text,
                  &(condition){state, TL_NET_NONE, 0, 0});
    }
}

/* At two temperatures that a room has, or at both ends of the range. */
static void add_sensor(maker *m, int number)
{
    const tl_source *s = &m->c->plan->signals[m->signal].source;
    const tl_signal_nodes *nodes = tl_circuit_nodes(m->c, m->signal);
    double low, high;
    tl_net_param_span(m->c->net, nodes->unknown, &low, &high);
    for (int i = 0; i < 2; i++) {
        char text[80], value[48];
        double ohms = i == 0 ? low : high, off = 0;
        snprintf(text, sizeof text, "at %s", tl_quantity_write(ohms, TL_DIM_OHM, TL_ROUND_NEAREST, value));
        if (s->curve.law != TL_LAW_NONE) {
            const double least = tl_response_quantity(&s->curve, high),
                         most = tl_response_quantity(&s->curve, low), bottom = fmin(least, most),
                         top = fmax(least, most);
            const bool degrees = strcmp(s->curve.unit, "degC") == 0;
            const double at = degrees && bottom < 10 && top > 20 ? (i == 0 ? 10 : 20) : i == 0 ? bottom : top;
            ohms = tl_response_ohms(&s->curve, at);
            off = 0.01; /* as exactly as a thermometer beside it knows */
            snprintf(text, sizeof text, "at %.3g %s", at, degrees ? "°C" : s->curve.unit);
            snprintf(value, sizeof value, "%.3g %.30s", at, s->curve.unit);
        }
        add_volts(m, number, text, value,
                  &(condition){0, nodes->unknown, ohms * (1 - off), ohms * (1 + off)});
    }
}

static void add_span(maker *m, int number)
{
    const tl_source *s = &m->c->plan->signals[m->signal].source;
    const tl_signal_nodes *nodes = tl_circuit_nodes(m->c, m->signal);
    double low, high;
    tl_net_param_span(m->c->net, nodes->unknown, &low, &high);
    for (int i = 0; i < 2 && (i == 0 || high > low); i++) {
        char text[80];
        const double at = i == 0 ? low : high;
        if (s->kind == TL_SOURCE_POTENTIOMETER)
            snprintf(text, sizeof text, "at %.0f %%", 100 * at);
        else
            snprintf(text, sizeof text, "at %.4g %s", s->kind == TL_SOURCE_CURRENT ? 1e3 * at : at,
                     s->kind == TL_SOURCE_CURRENT ? "mA" : "V");
        add_volts(m, number, text, text + strlen("at "), &(condition){0, nodes->unknown, at, at});
    }
}

static void add_signal(maker *m, int *number)
{
    const tl_signal *s = &m->c->plan->signals[m->signal];
    const tl_signal_nodes *nodes = tl_circuit_nodes(m->c, m->signal);
    const bool pair = m->c->plan->pins[s->pin].second != TL_NONE;
    const int before = m->of.count;
    if (nodes->pin < 0 || pair)
        return;
    if (s->source.kind == TL_SOURCE_RAIL && m->c->plan->supplies[s->source.supply].volts.high >
                                                1.1 * m->c->plan->supplies[s->source.supply].volts.low)
        add_rail(m, *number, s->source.supply);
    else if (nodes->states > 1)
        add_states(m, *number);
    else if (s->source.kind == TL_SOURCE_RESISTANCE)
        add_sensor(m, *number);
    else if (nodes->unknown != TL_NET_NONE)
        add_span(m, *number);
    else
        add_volts(m, *number, "", "", &(condition){0, TL_NET_NONE, 0, 0});
    if (m->of.count == before)
        return;
    *number = m->of.list[m->of.count - 1].number;
    m->of.at_pin[m->signal] = (*number)++;
}

/* --- ohms --- */

/* What stands for all signals' questions: parameters at their least, nominal and most. */
typedef struct {
    double *values[3];
    bool *by_voltage;
    double (*ohms)[3]; /* of each signal; NAN until it is asked for */
} power_off;

/* All signals whose contacts at rest are as those of `first`, in one solution of the whole network. */
static void ask_ohms(maker *m, power_off *p, const int *signals, int count, int first)
{
    const size_t contacts = (size_t)tl_net_contact_count(m->c->net);
    bool *closed = tl_alloc(contacts + 1, sizeof *closed);
    int(*pairs)[2] = tl_alloc((size_t)count, sizeof *pairs), *asked = tl_alloc((size_t)count, sizeof *asked);
    double *ohms = tl_alloc((size_t)count, sizeof *ohms);
    int pair_count = 0;
    memcpy(closed, tl_circuit_state(m->c, first, 0), contacts * sizeof *closed);
    for (int i = 0; i < count; i++) {
        m->signal = signals[i];
        if (m->of.at_pin[m->signal] == 0 || !isnan(p->ohms[m->signal][0]) ||
            memcmp(closed, tl_circuit_state(m->c, m->signal, 0), contacts * sizeof *closed) != 0)
            continue;
        pairs[pair_count][0] = point_of(m);
        pairs[pair_count][1] = TL_NET_GROUND;
        asked[pair_count++] = m->signal;
    }
    for (int end = 0; end < 3; end++) {
        resistances *r = resistances_of(m->c->net, &(tl_net_state){p->values[end], closed}, p->by_voltage);
        resistances_between(r, (const int(*)[2])pairs, pair_count, ohms);
        resistances_free(r);
        for (int i = 0; i < pair_count; i++)
            p->ohms[asked[i]][end] = ohms[i];
    }
    free(ohms);
    free(asked);
    free(pairs);
    free(closed);
}

/* Only where it tells something: within a fifth. */
static void add_ohms(maker *m, const double ohms[3])
{
    if (!(ohms[2] < most_ohms) || ohms[2] > 1.2 * ohms[0] + 1)
        return;
    checkpoint *is = add(m, m->of.at_pin[m->signal], point_of(m), "");
    is->power_off = true;
    is->least = fmax(0, ohms[0] * (1 - ohmmeter) - ohmmeter_digit);
    is->typical = ohms[1];
    is->most = ohms[2] * (1 + ohmmeter) + ohmmeter_digit;
}

static void add_power_off(maker *m, const int *signals, int count)
{
    const int params = tl_net_param_count(m->c->net);
    power_off p = {.by_voltage = tl_alloc((size_t)tl_net_contact_count(m->c->net) + 1, sizeof *p.by_voltage),
                   .ohms = tl_alloc((size_t)m->c->plan->signal_count + 1, sizeof *p.ohms)};
    circuit_mark_by_voltage(m->c, p.by_voltage);
    for (int i = 0; i < 3; i++)
        p.values[i] = tl_alloc((size_t)params + 1, sizeof(double));
    for (int i = 0; i < params; i++) {
        tl_net_param_span(m->c->net, i, &p.values[0][i], &p.values[2][i]);
        p.values[1][i] = tl_net_param_nominal(m->c->net, i);
    }
    for (int i = 0; i < m->c->plan->signal_count; i++)
        p.ohms[i][0] = NAN;
    for (int i = 0; i < count; i++) {
        if (m->of.at_pin[signals[i]] == 0)
            continue;
        if (isnan(p.ohms[signals[i]][0]))
            ask_ohms(m, &p, signals, count, signals[i]);
        m->signal = signals[i];
        add_ohms(m, p.ohms[signals[i]]);
    }
    for (int i = 0; i < 3; i++)
        free(p.values[i]);
    free(p.by_voltage);
    free(p.ohms);
}

checkpoints checkpoints_of(tl_circuit *circuit, const int *signals, int count)
{
    int number = 1;
    maker m = {.c = circuit};
    const tl_meter meter = checkpoint_meter(circuit->plan);
    m.of.at_pin = tl_alloc((size_t)circuit->plan->signal_count + 1, sizeof *m.of.at_pin);
    m.of.at_source = tl_alloc((size_t)circuit->plan->signal_count + 1, sizeof *m.of.at_source);
    for (int i = 0; i < count; i++) {
        m.signal = signals[i];
        add_signal(&m, &number);
    }
    const int volts = m.of.count;
    add_power_off(&m, signals, count);
    checkpoint *sorted = tl_alloc((size_t)m.of.count + 1, sizeof *sorted); /* power off first */
    for (int i = 0; i < m.of.count; i++)
        sorted[(i + m.of.count - volts) % m.of.count] = m.of.list[i];
    free(m.of.list);
    m.of.list = sorted;
    snprintf(m.of.meter, sizeof m.of.meter,
             "as the meter “%.30s” shows it: %.3g MΩ, %.3g %% + %.3g mV; ohms %.0f %% + %.1f Ω", meter.name,
             meter.ohms / 1e6, meter.accuracy, 1e3 * tl_meter_limit(&meter, 0), 100 * ohmmeter,
             ohmmeter_digit);
    return m.of;
}

void checkpoints_free(checkpoints *of)
{
    free(of->list);
    free(of->at_pin);
    free(of->at_source);
    *of = (checkpoints){.list = NULL};
}
