/* SPDX-License-Identifier: MIT */
/*
 * What is guaranteed of a reading that was compared with a meter: the meter's accuracy at the points, and
 * what can still change since then. The tolerances of the parts are in the trim already.
 *
 * Between two points, and beyond them, the line's error is that of its points by their weights. Each point is
 * off by the meter, half a count and the nonlinearity; at the code itself half a count, the nonlinearity and
 * what settling leaves come once more. Rails, leakages, and what the reference and the resistors drift over
 * `ambient` may have been at one end of their spans on that day and be at the other now. Source: straight
 * sums of limits, as everywhere here.
 */
#include "analysis/channel.h"
#include "base/memory.h"
#include "elaborate/circuit_struct.h"
#include "tinyladder/design/calibration.h"
#include <math.h>

/* The two points that a code is read from, and how much of each. */
static int piece_of(const tl_plan_reading *reading, double code, double weight[2])
{
    int i = 1;
    while (i + 1 < reading->trim_count && code > reading->trim[i].from)
        i++;
    weight[1] = (code - reading->trim[i - 1].from) / (reading->trim[i].from - reading->trim[i - 1].from);
    weight[0] = 1 - weight[1];
    return i - 1;
}

double tl_meter_limit(const tl_meter *meter, double volts)
{
    return meter == NULL ? 0
                         : meter->accuracy / 100 * fabs(volts) + meter->digits * meter->digit +
                               meter->of_range / 100 * meter->range;
}

/* How far the plan's volts of a code move while one parameter goes from here to there, all else nominal. */
static double moved_across(tl_circuit *c, int signal, double share, int param, double from, double to)
{
    double a = 0, b = 0;
    const double nominal = c->nominal[param];
    c->nominal[param] = from;
    tl_net_status fault = unknown_at(c, signal, share, &a);
    c->nominal[param] = to;
    if (fault == TL_NET_SOLVED)
        fault = unknown_at(c, signal, share, &b);
    c->nominal[param] = nominal;
    return fault == TL_NET_SOLVED && isfinite(a) && isfinite(b) ? fabs(b - a) : 0;
}

static bool is_supply(const tl_circuit *c, int param)
{
    for (int i = 0; i < c->plan->supply_count; i++) {
        if (c->supply_param[i] == param)
            return true;
    }
    return false;
}

/* Volts, at the source or the pin, that the code may mean otherwise than on the day of the trim. */
static double changed_since(tl_circuit *c, int signal, double code, double per_count)
{
    const tl_signal_nodes *nodes = &c->signals[signal];
    const tl_analog_path *path = tl_circuit_path(c, signal);
    const tl_signal *s = &c->plan->signals[signal];
    const double centre = code + path->centre;
    const double kelvins = c->plan->warmest - c->plan->coldest, share = centre / path->reference_counts;
    double sum = 0, least, most;
    tl_net_param_span(c->net, nodes->reference, &least, &most);
    if (is_supply(c, nodes->reference) && (s->reading.trim_at_pin || s->source.follows == TL_TO_GROUND))
        sum += fabs(centre * per_count) * (most - least) / least;
    else if (!is_supply(c, nodes->reference))
        sum += fabs(centre * per_count) * tl_plan_converter_of(c->plan, s)->part->drift * kelvins;
    for (int p = 0; p < tl_net_param_count(c->net) && !s->reading.trim_at_pin; p++) {
        const bool leakage = c->param[p].cause == TL_CAUSE_LEAKAGE ||
                             c->param[p].cause == TL_CAUSE_OPEN_LEAKAGE ||
                             c->param[p].cause == TL_CAUSE_BIAS || c->param[p].cause == TL_CAUSE_CARRIES;
        const bool rail = is_supply(c, p) && p != nodes->reference;
        if (p == nodes->unknown || !tl_island_has_param(nodes->island, p))
            continue;
        const double nominal = c->nominal[p], drift = c->param[p].drift * kelvins;
        tl_net_param_span(c->net, p, &least, &most);
        if (leakage || rail)
            sum += moved_across(c, signal, share, p, least, most);
        else if (drift > 0)
            sum += fmax(moved_across(c, signal, share, p, nominal, nominal * (1 + drift)),
                        moved_across(c, signal, share, p, nominal, nominal * (1 - drift)));
    }
    return sum;
}

static double limit_at(tl_circuit *c, int signal, double code)
{
    const tl_signal *s = &c->plan->signals[signal];
    const tl_plan_reading *reading = &s->reading;
    const tl_converter *part = tl_plan_converter_of(c->plan, s)->part;
    const tl_analog_path *path = tl_circuit_path(c, signal);
    const tl_meter *meter = reading->meter == TL_NONE ? NULL : &c->plan->meters[reading->meter];
    double weight[2], sum = 0;
    const tl_pair *a = &reading->trim[piece_of(reading, code, weight)], *b = a + 1;
    const double per_count = fabs((b->to - a->to) / (b->from - a->from));
    for (int i = 0; i < 2; i++)
        sum += fabs(weight[i]) *
               (tl_meter_limit(meter, i == 0 ? a->to : b->to) + (0.5 + part->nonlinearity) * per_count);
    sum += (0.5 + part->nonlinearity + path->settling_counts) * per_count;
    return sum + changed_since(c, signal, code, per_count);
}

/* Of one whole code, worked out once. */
static double limit_of(tl_circuit *c, int signal, long code)
{
    enum { CODES_MOST = 1 << 16 };
    const tl_analog_path *path = tl_circuit_path(c, signal);
    const long at = code - path->first_code, codes = path->last_code - path->first_code + 1;
    if (codes > CODES_MOST || at < 0 || at >= codes)
        return limit_at(c, signal, (double)code);
    if (c->trim_limits[signal] == NULL)
        c->trim_limits[signal] = tl_alloc((size_t)codes, sizeof **c->trim_limits);
    double *kept = &c->trim_limits[signal][at];
    if (*kept == 0) /* no limit is: half a count is always left */
        *kept = limit_at(c, signal, (double)code);
    return *kept;
}

double tl_trimmed_limit(tl_circuit *c, int signal, double code)
{
    return fmax(limit_of(c, signal, (long)floor(code)), limit_of(c, signal, (long)ceil(code)));
}
