/* SPDX-License-Identifier: MIT */
/* The analog path of a signal: scales, and the guaranteed interval behind a count. */
#include "analysis/channel.h"
#include "analysis/ask.h"
#include "analysis/inverse.h"
#include "base/memory.h"
#include "elaborate/circuit_struct.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

static tl_figure at_pin(const tl_signal_nodes *nodes, tl_figure_kind kind)
{
    return (tl_figure){.kind = kind,
                       .of = nodes->pin,
                       .less = tl_net_fixed(0),
                       .against = kind == TL_FIGURE_VOLTS ? nodes->negative : TL_NET_GROUND};
}

static double *copy_values(tl_circuit *c, const double *from)
{
    const size_t size = (size_t)tl_net_param_count(c->net) * sizeof *from;
    return memcpy(tl_alloc(size, 1), from, size);
}

/* volts at the pin = slope * unknown + shift, everything else nominal. */
static tl_net_status straight_line(tl_circuit *c, int signal, double *slope, double *shift)
{
    const tl_signal_nodes *nodes = &c->signals[signal];
    double *values = copy_values(c, c->nominal), one = 0;
    const tl_net_state state = {values, tl_circuit_state(c, signal, 0)};
    values[nodes->unknown] = 0;
    tl_net_status fault =
        tl_island_figure(tl_island_view(nodes->island, false), &state, at_pin(nodes, TL_FIGURE_VOLTS), shift);
    values[nodes->unknown] = 1;
    if (fault == TL_NET_SOLVED)
        fault = tl_island_figure(tl_island_view(nodes->island, false), &state, at_pin(nodes, TL_FIGURE_VOLTS),
                                 &one);
    free(values);
    *slope = one - *shift;
    return fault;
}

/* Whether the middle of the travel lies off the straight line by more than a quarter of a code: something
 * loads the wiper. */
static bool bends(tl_circuit *c, int signal, double slope, double shift, double lsb)
{
    const tl_signal_nodes *nodes = &c->signals[signal];
    double *values = copy_values(c, c->nominal), volts = 0;
    const tl_net_state state = {values, tl_circuit_state(c, signal, 0)};
    values[nodes->unknown] = 0.5;
    const bool solved = tl_island_figure(tl_island_view(nodes->island, false), &state,
                                         at_pin(nodes, TL_FIGURE_VOLTS), &volts) == TL_NET_SOLVED;
    free(values);
    return solved && fabs(volts - (shift + 0.5 * slope)) > 0.25 * lsb;
}

static void make_scales(tl_circuit *c, int signal, double slope, double shift, tl_analog_path *path)
{
    const tl_signal *described = &c->plan->signals[signal];
    const tl_converter *converter = tl_plan_converter_of(c->plan, described)->part;
    const double full = tl_net_param_nominal(c->net, c->signals[signal].reference);
    path->pin_scale = (tl_scale_config){
        .reference_low_uv = path->first_code < 0 ? (int32_t)llround(-1e6 * full) : 0,
        .reference_high_uv = (int32_t)llround(1e6 * full),
        .bits = converter->word.bits,
        .steps = converter->steps,
        .undo_num = 1,
        .undo_den = 1,
    };
    path->centre = 0.5 - converter->begin;
    /* What the core's two kinds of step do not say: the upper bits alone begin a little lower. */
    if (converter->steps == TL_STEPS_FULL)
        path->pin_scale.offset_uv = (int32_t)llround(-1e6 * converter->begin * full / path->reference_counts);
    path->slope = slope;
    path->shift = shift;
    if (described->source.kind == TL_SOURCE_POTENTIOMETER) {
        path->travel_low_uv = (int32_t)llround(1e6 * shift);
        path->travel_high_uv = (int32_t)llround(1e6 * (shift + slope));
        path->bends = bends(c, signal, slope, shift, full / path->reference_counts);
    }
}

static void describe_input(tl_circuit *c, int signal, const tl_worst_case *worst, tl_analog_path *path)
{
    const tl_signal *described = &c->plan->signals[signal];
    const tl_converter *converter = tl_plan_converter_of(c->plan, described)->part;
    const int channel = c->plan->pins[described->pin].channel;
    path->source_ohms = worst->source_ohms.high;
    path->input = (tl_input){
        .acquisition_ns = (uint32_t)llround(1e9 * path->acquisition),
        .longest = (uint32_t)ceil(2e6 * (path->acquisition + converter->conversion)) + 100,
        .channel = channel >= 0 ? (uint8_t)channel : 0,
        .reference = (uint8_t)described->reference,
        .word = converter->word,
    };
}

/* Volts are straight in the reference, so their share of it runs one way between its ends: both are tried,
 * with the rail that it is held there. */
static tl_net_status shares_with(tl_circuit *c, int signal, const bool *closed, tl_interval *shares)
{
    const tl_signal_nodes *nodes = &c->signals[signal];
    const tl_figure figure = at_pin(nodes, TL_FIGURE_VOLTS);
    const double nominal = tl_net_param_nominal(c->net, nodes->reference);
    double ends[2];
    tl_net_status fault = TL_NET_SOLVED;
    tl_net_param_span(c->net, nodes->reference, &ends[0], &ends[1]);
    *shares = (tl_interval){INFINITY, -INFINITY};
    for (int end = 0; end < 2 && fault == TL_NET_SOLVED; end++) {
        tl_bounds volts;
        tl_net_set_param(c->net, nodes->reference, ends[end], ends[end], ends[end]);
        fault = tl_island_bounds(nodes->island, closed, figure, &volts);
        if (fault == TL_NET_SOLVED) {
            shares->low = fmin(shares->low, volts.low / ends[end]);
            shares->high = fmax(shares->high, volts.high / ends[end]);
        }
    }
    tl_net_set_param(c->net, nodes->reference, ends[0], nominal, ends[1]);
    return fault;
}

static void find_held(tl_circuit *c, int signal, tl_analog_path *path)
{
    const tl_signal_nodes *nodes = &c->signals[signal];
    path->held_low = -INFINITY;
    path->held_high = INFINITY;
    for (int e = 0; e < nodes->end_count; e++) {
        tl_interval held;
        bool *closed = tl_circuit_state(c, signal, 0);
        closed[nodes->ends[e].contact] = true;
        if (shares_with(c, signal, closed, &held) != TL_NET_SOLVED)
            continue;
        if (nodes->ends[e].high)
            path->held_high = fmin(path->held_high, held.low);
        else
            path->held_low = fmax(path->held_low, held.high);
    }
}

static tl_net_status work_out_path(tl_circuit *c, int signal, tl_analog_path *path)
{
    const tl_signal *described = &c->plan->signals[signal];
    const tl_plan_converter *used = tl_plan_converter_of(c->plan, described);
    double slope = 0, shift = 0;
    if (used == NULL)
        return TL_NET_FLOATING;
    const tl_converter *converter = used->part;
    const tl_worst_case *worst = tl_circuit_worst_case(c, signal, 0);
    const bool is_signed = converter->word.sign != TL_WORD_UNSIGNED;
    path->range_counts = ldexp(1, converter->word.bits);
    path->reference_counts = is_signed ? path->range_counts / 2 : path->range_counts;
    path->first_code = is_signed ? -(long)path->reference_counts : 0;
    path->last_code = (long)path->reference_counts - 1;
    tl_net_status fault = worst->fault;
    if (fault == TL_NET_SOLVED && c->signals[signal].unknown != TL_NET_NONE)
        fault = straight_line(c, signal, &slope, &shift);
    if (fault == TL_NET_SOLVED)
        fault = settle_path(c, signal, worst, path);
    if (fault != TL_NET_SOLVED)
        return fault;
    find_held(c, signal, path);
    describe_input(c, signal, worst, path);
    make_scales(c, signal, slope, shift, path);
    return TL_NET_SOLVED;
}

const tl_analog_path *tl_circuit_path(tl_circuit *circuit, int signal)
{
    tl_analog_path *path = &circuit->paths[signal];
    if (!path->known)
        path->fault = work_out_path(circuit, signal, path);
    path->known = true;
    return path;
}

double tl_circuit_acquisition_needed(tl_circuit *circuit, int signal)
{
    return settle_needed(circuit, signal, tl_circuit_path(circuit, signal));
}

/* --- the interval behind a count --- */

/*
 * The unknown is searched for in a straight line (volts, amperes, travel) or in its logarithm (ohms). Its
 * ends stand for whatever lies beyond them.
 */
typedef struct {
    tl_circuit *circuit;
    const tl_signal_nodes *nodes;
    const bool *closed;
    double *values;
    bool in_logarithm;
    bool in_volts;                  /* what is sought is volts at the pin, not a share of the reference */
    double least, most;             /* of the unknown, or of its logarithm */
    double below_least, above_most; /* what the ends mean */
    double direction;               /* -1 where the pin falls as the unknown rises */
} inversion;

static inversion inversion_of(tl_circuit *c, int signal, double *values)
{
    const tl_source *source = &c->plan->signals[signal].source;
    inversion v = {c,
                   &c->signals[signal],
                   tl_circuit_state(c, signal, 0),
                   values,
                   false,
                   false,
                   -2000,
                   2000,
                   -INFINITY,
                   INFINITY,
                   1};
    if (source->kind == TL_SOURCE_POTENTIOMETER) {
        v.least = v.below_least = 0;
        v.most = v.above_most = 1;
    } else if (source->kind == TL_SOURCE_RESISTANCE) {
        v.in_logarithm = true;
        v.least = log(1e-3 * fmax(source->value.value.low, 1));
        v.most = log(1e3 * fmax(source->value.value.high, 1));
        v.below_least = 0;
    }
    return v;
}

/* Volts at the pin less share of the reference, turned so that it rises with the unknown. */
static tl_net_status excess(inversion *v, double unknown, double share, double *result)
{
    const tl_net_state state = {v->values, v->closed};
    const tl_figure figure = {.kind = TL_FIGURE_VOLTS,
                              .of = v->nodes->pin,
                              .less = v->in_volts ? tl_net_fixed(share)
                                                  : (tl_net_value){.factor = share,
                                                                   .first = v->nodes->reference,
                                                                   .constant = 1,
                                                                   .second = TL_NET_NONE},
                              .against = v->nodes->negative};
    v->values[v->nodes->unknown] = v->in_logarithm ? exp(unknown) : unknown;
    const tl_net_status fault = tl_island_figure(tl_island_narrow(v->nodes->island), &state, figure, result);
    *result *= v->direction;
    return fault;
}

/* The unknown that puts the pin at this share of the reference; what lies beyond an end where none does. */
static tl_net_status invert(inversion *v, double share, double *unknown)
{
    double low = v->least, high = v->most, f_low = 0, f_high = 0, f = 0, at = low;
    v->direction = 1;
    tl_net_status fault = excess(v, low, share, &f_low);
    if (fault == TL_NET_SOLVED)
        fault = excess(v, high, share, &f_high);
    if (f_high < f_low) {
        v->direction = -1;
        f_low = -f_low;
        f_high = -f_high;
    }
    if (f_low >= 0 || f_high <= 0) {
        *unknown = f_low >= 0 ? v->below_least : v->above_most;
        return fault;
    }
    /* False position, halving the value at an end that stays (Illinois): one step for a straight line. */
    int side = 0;
    for (int step = 0; step < 100 && fault == TL_NET_SOLVED && high - low > 1e-13 * fabs(v->most); step++) {
        at = low - f_low * (high - low) / (f_high - f_low);
        fault = excess(v, at, share, &f);
        if (fabs(f) < 1e-13)
            break;
        if (f < 0) {
            low = at;
            f_low = f;
            f_high = side == -1 ? f_high / 2 : f_high;
            side = -1;
        } else {
            high = at;
            f_high = f;
            f_low = side == 1 ? f_low / 2 : f_low;
            side = 1;
        }
    }
    *unknown = v->in_logarithm ? exp(at) : at;
    return fault;
}

/* The unknown's values at both ends of the shares; an end that is infinite leaves it open on the side it
 * points to. */
static tl_net_status invert_both(inversion *v, const tl_interval *shares, tl_interval *found)
{
    double ends[2] = {0, 0};
    const double share[2] = {shares->low, shares->high};
    tl_net_status fault = TL_NET_SOLVED;
    for (int i = 0; i < 2 && fault == TL_NET_SOLVED; i++) {
        /* Far outside the reference stands for infinite, and tells the direction too. */
        fault = invert(v, isfinite(share[i]) ? share[i] : share[i] < 0 ? -1e6 : 1e6, &ends[i]);
    }
    found->low = fmin(found->low, fmin(ends[0], ends[1]));
    found->high = fmax(found->high, fmax(ends[0], ends[1]));
    return fault;
}

tl_net_status unknown_at(tl_circuit *c, int signal, double share, double *unknown)
{
    if (c->signals[signal].unknown == TL_NET_NONE) {
        *unknown = NAN;
        return TL_NET_SOLVED;
    }
    double *values = copy_values(c, c->nominal);
    inversion v = inversion_of(c, signal, values);
    const tl_net_status fault = invert(&v, share, unknown);
    free(values);
    return fault;
}

/* Which parameters are tried at both ends; false where they are too many. */
static bool corner_params(const tl_circuit *c, int signal, int params[TL_NET_CORNER_PARAMS], int *count)
{
    const tl_signal_nodes *nodes = &c->signals[signal];
    *count = 0;
    for (int i = 0; i < tl_net_param_count(c->net); i++) {
        double low, high;
        tl_net_param_span(c->net, i, &low, &high);
        if (low == high || i == nodes->unknown ||
            (i != nodes->reference && !tl_island_has_param(tl_island_narrow(nodes->island), i)) ||
            c->param[i].dimension == TL_DIM_FARAD)
            continue;
        if (i == nodes->track)
            continue;
        if (*count == TL_NET_CORNER_PARAMS)
            return false;
        params[(*count)++] = i;
    }
    return true;
}

/* The closed way back of a signal, or one over all its corners; NULL where it has none. */
static const tl_inverse *inverse_of(tl_circuit *c, int signal)
{
    tl_inverse *to = &c->inverses[signal];
    (void)tl_circuit_path(c, signal);
    if (!to->known)
        inverse_make(c, signal, to);
    return to->usable ? to : NULL;
}

static const tl_inverse *inverse_with_corners(tl_circuit *c, int signal)
{
    tl_inverse *to = &c->inverses[signal];
    int params[TL_NET_CORNER_PARAMS], count;
    if (inverse_of(c, signal) != NULL && !to->corners_known && corner_params(c, signal, params, &count))
        inverse_make_corners(c, signal, params, count, to);
    to->corners_known = true;
    return to->count > 0 ? to : NULL;
}

tl_net_status tl_plan_unknown(tl_circuit *c, int signal, const tl_analog_path *path, double count,
                              double *unknown)
{
    const double centre = count + path->centre;
    const tl_inverse *closed = c->signals[signal].unknown != TL_NET_NONE ? inverse_of(c, signal) : NULL;
    if (closed != NULL) {
        *unknown = inverse_nominal(closed, centre / path->reference_counts);
        return TL_NET_SOLVED;
    }
    return unknown_at(c, signal, centre / path->reference_counts, unknown);
}

/* Inside the span of a parameter that stands in two places both ends of the interval may be extreme: where
 * they turn between the ends of the span it is looked through, the best three points giving the last step. */
static tl_net_status invert_inside(inversion *v, int param, const tl_interval *shares, tl_interval *found)
{
    enum { STEPS = 12 };
    double low, high;
    tl_interval at[STEPS + 1];
    const tl_net *net = v->circuit->net;
    tl_net_param_span(net, param, &low, &high);
    const double close = 1e-4 * (high - low), ends[4] = {low, low + close, high - close, high};
    tl_interval near[4];
    for (int i = 0; i < 4; i++) {
        near[i] = (tl_interval){INFINITY, -INFINITY};
        v->values[param] = ends[i];
        const tl_net_status fault = invert_both(v, shares, &near[i]);
        if (fault != TL_NET_SOLVED)
            return fault;
        found->low = fmin(found->low, near[i].low);
        found->high = fmax(found->high, near[i].high);
    }
    const bool low_turns = near[1].low < near[0].low &&
                           near[2].low<near[3].low, high_turns = near[1].high> near[0].high &&
                           near[2].high > near[3].high;
    if (!low_turns && !high_turns)
        return TL_NET_SOLVED;
    for (int i = 0; i <= STEPS; i++) {
        at[i] = (tl_interval){INFINITY, -INFINITY};
        v->values[param] = low + i * (high - low) / STEPS;
        const tl_net_status fault = invert_both(v, shares, &at[i]);
        if (fault != TL_NET_SOLVED)
            return fault;
    }
    for (int i = 1; i < STEPS; i++) {
        /* The parabola through three neighbours reaches (b - a)^2 / 8c beyond the middle one. */
        const double up = at[i + 1].high - at[i - 1].high,
                     bend = 2 * at[i].high - at[i - 1].high - at[i + 1].high,
                     down = at[i + 1].low - at[i - 1].low,
                     dip = at[i - 1].low + at[i + 1].low - 2 * at[i].low;
        if (high_turns && bend > 0 && fabs(up) <= 2 * bend)
            found->high = fmax(found->high, at[i].high + up * up / (8 * bend));
        if (low_turns && dip > 0 && fabs(down) <= 2 * dip)
            found->low = fmin(found->low, at[i].low - down * down / (8 * dip));
    }
    return TL_NET_SOLVED;
}

/* Which shares of the reference the converter can have seen, by the width of the code and the converter's
 * errors. */
static tl_interval shares_of_count(tl_circuit *c, int signal, const tl_analog_path *path, long count)
{
    const tl_converter *converter = tl_plan_converter_of(c->plan, &c->plan->signals[signal])->part;
    const double code = (double)count;
    const double below = converter->begin, above = 1 - below;
    const double errors = converter->offset + converter->gain * (fabs(code) + 1) / path->reference_counts +
                          converter->nonlinearity + path->settling_counts;
    tl_interval shares = {(code - below - errors) / path->reference_counts,
                          (code + above + errors) / path->reference_counts};
    if (count <= path->first_code)
        shares.low = -INFINITY;
    if (count >= path->last_code)
        shares.high = INFINITY;
    return shares;
}

/* Every unknown behind these shares of the reference, or volts, over every corner, by searching. */
static tl_net_status unknowns_of(tl_circuit *c, int signal, const tl_interval *shares, bool in_volts,
                                 tl_interval *unknown)
{
    const tl_signal_nodes *nodes = &c->signals[signal];
    int params[TL_NET_CORNER_PARAMS], count_of_params = 0;
    tl_net_status fault = TL_NET_SOLVED;
    if (!corner_params(c, signal, params, &count_of_params))
        return TL_NET_TOO_WIDE;
    inversion v = inversion_of(c, signal, copy_values(c, c->nominal));
    v.in_volts = in_volts;
    tl_interval found = {INFINITY, -INFINITY};
    for (unsigned corner = 0; corner < 1u << count_of_params && fault == TL_NET_SOLVED; corner++) {
        for (int i = 0; i < count_of_params; i++) {
            double span[2];
            tl_net_param_span(c->net, params[i], &span[0], &span[1]);
            v.values[params[i]] = span[corner >> i & 1u];
        }
        fault = nodes->track != TL_NET_NONE ? invert_inside(&v, nodes->track, shares, &found)
                                            : invert_both(&v, shares, &found);
    }
    free(v.values);
    if (fault == TL_NET_SOLVED)
        *unknown = found;
    return fault;
}

tl_net_status tl_unknowns_behind(tl_circuit *c, int signal, const tl_interval *pin_volts,
                                 tl_interval *unknown)
{
    return unknowns_of(c, signal, pin_volts, true, unknown);
}

tl_net_status tl_plan_interval(tl_circuit *c, int signal, const tl_analog_path *path, long count,
                               tl_interval *unknown, tl_interval *pin)
{
    const tl_signal_nodes *nodes = &c->signals[signal];
    tl_interval shares = shares_of_count(c, signal, path, count);
    double reference[2];
    tl_net_param_span(c->net, nodes->reference, &reference[0], &reference[1]);
    *unknown = (tl_interval){NAN, NAN};
    *pin = (tl_interval){shares.low * reference[shares.low < 0], shares.high * reference[shares.high > 0]};
    if (nodes->unknown == nodes->reference) { /* a share of itself: the count says nothing of it */
        *unknown = (tl_interval){-INFINITY, INFINITY};
        return TL_NET_SOLVED;
    }
    if (shares.low <= path->held_low)
        shares.low = -INFINITY;
    if (shares.high >= path->held_high)
        shares.high = INFINITY;
    if (nodes->unknown == TL_NET_NONE)
        return TL_NET_SOLVED;
    const tl_inverse *closed = inverse_with_corners(c, signal);
    if (closed == NULL)
        return unknowns_of(c, signal, &shares, false, unknown);
    inverse_bounds(closed, &shares, unknown);
    return TL_NET_SOLVED;
}

tl_net_status tl_circuit_shares(tl_circuit *c, int signal, int state, tl_interval *shares)
{
    const tl_worst_case *worst = tl_circuit_worst_case(c, signal, state);
    tl_worst_case *kept = &c->worst[c->signals[signal].first_worst + state];
    tl_net_status fault = worst->fault;
    *shares = (tl_interval){kept->share_low, kept->share_high};
    if (fault != TL_NET_SOLVED || kept->shares_known)
        return fault;
    fault = shares_with(c, signal, tl_circuit_state(c, signal, state), shares);
    kept->share_low = shares->low;
    kept->share_high = shares->high;
    kept->shares_known = fault == TL_NET_SOLVED;
    return fault;
}

tl_net_status tl_plan_state_codes(tl_circuit *c, int signal, int state, tl_interval *codes, double *middle)
{
    const tl_converter *part = tl_plan_converter_of(c->plan, &c->plan->signals[signal])->part;
    const tl_analog_path *path = tl_circuit_path(c, signal);
    const tl_worst_case *worst = tl_circuit_worst_case(c, signal, state);
    tl_interval shares;
    tl_net_status fault =
        path->fault != TL_NET_SOLVED ? path->fault : tl_circuit_shares(c, signal, state, &shares);
    if (fault != TL_NET_SOLVED)
        return fault;
    /* The whole codes that the hardware can give: the half kind begins a code half a step lower. */
    const double errors = part->offset + part->gain + part->nonlinearity + path->settling_counts;
    const double begin = part->begin, last = (double)path->last_code;
    const double share = worst->volts.nominal / tl_net_param_nominal(c->net, c->signals[signal].reference);
    *middle = fmin(floor(share * path->reference_counts + begin), last);
    codes->low = fmin(fmax(0, floor(shares.low * path->reference_counts - errors + begin)), last);
    codes->high = fmin(last, floor(shares.high * path->reference_counts + errors + begin));
    return TL_NET_SOLVED;
}
