/* SPDX-License-Identifier: MIT */
/* From a code to what the plan makes of it: volts, the quantity in its unit, percent, faults, the interval.
 */
#include "analysis/channel.h"
#include "elaborate/circuit_struct.h"
#include "tinyladder/design/measurement.h"
#include "tinyladder/share.h"
#include <math.h>

double tl_reading_noise(const tl_plan_reading *reading, double noise)
{
    const double n = fmax(1, reading->samples);
    switch (reading->average) {
    case TL_AVERAGE_NONE:
        return noise;
    case TL_AVERAGE_EXPONENTIAL:
        return noise / sqrt(2 * n - 1);
    case TL_AVERAGE_MEDIAN:
        return noise / sqrt(fmax(1, n * 2 / 3));
    default:
        return noise / sqrt(n);
    }
}

double tl_reading_samples(const tl_plan_reading *reading, double share)
{
    const double n = fmax(1, reading->samples);
    switch (reading->average) {
    case TL_AVERAGE_NONE:
        return 1;
    case TL_AVERAGE_EXPONENTIAL:
        return n > 1 ? ceil(log(share) / log(1 - 1 / n) - 1e-12) : 1;
    case TL_AVERAGE_MEDIAN:
        return floor(n / 2) + 1;
    default:
        return ceil(n * (1 - share));
    }
}

/* --- from a count to the figure that the plan wants --- */

static int decimals_of_step(double step)
{
    int decimals = 0;
    while (decimals < 6 && step < 0.9999999 * pow(10, -decimals))
        decimals++;
    return decimals;
}

/* Straight between points, the outer pieces going on beyond them. */
static double along_pairs(const tl_pair *pairs, int count, double x)
{
    int i = 1;
    while (i + 1 < count && x > pairs[i].from)
        i++;
    const tl_pair *a = &pairs[i - 1], *b = &pairs[i];
    return a->to + (b->to - a->to) * (x - a->from) / (b->from - a->from);
}

/* All that a reading is made from. */
typedef struct {
    const tl_signal *signal;
    const tl_analog_path *path;
    double code; /* of several samples their mean */
    double pin_volts, source_volts;
    double ohms;         /* of a resistance */
    double travel;       /* 0 .. 1, where the way to it bends */
    tl_interval unknown; /* of the source */
} taken_sample;

/* Where a sensor's law ends: a table at its last points, a formula at the ends of what it is stated over. */
typedef struct {
    double ohms[2], quantity[2]; /* of the least ohms, and of the most */
} law_ends;

static law_ends ends_of_law(const tl_source *source)
{
    const tl_response *curve = &source->curve;
    double low = source->over.value.low, high = source->over.value.high;
    if (curve->count >= 2) {
        low = curve->points[0].quantity;
        high = curve->points[curve->count - 1].quantity;
    }
    const double at_low = tl_response_ohms(curve, low), at_high = tl_response_ohms(curve, high);
    return at_low < at_high ? (law_ends){{at_low, at_high}, {low, high}}
                            : (law_ends){{at_high, at_low}, {high, low}};
}

/* The quantity of a resistance; beyond the law the end of it that is nearer. */
static double quantity_of(const tl_source *source, double ohms, bool *beyond)
{
    const law_ends ends = ends_of_law(source);
    *beyond = !(ohms >= ends.ohms[0] && ohms <= ends.ohms[1]);
    return *beyond ? ends.quantity[ohms > ends.ohms[1]] : tl_response_quantity(&source->curve, ohms);
}

static double base_figure(const taken_sample *t, bool *beyond)
{
    const tl_analog_path *path = t->path;
    const double span = 1e-6 * (path->travel_high_uv - path->travel_low_uv);
    *beyond = false;
    switch (t->signal->reading.of) {
    case TL_OF_COUNTS:
        return t->code;
    case TL_OF_PIN:
        return t->pin_volts;
    case TL_OF_TRAVEL:
        return path->bends ? 100 * t->travel
                           : fmin(fmax(100 * (t->pin_volts - 1e-6 * path->travel_low_uv) / span, 0), 100);
    case TL_OF_RESISTANCE:
        return t->ohms;
    case TL_OF_QUANTITY:
        return quantity_of(&t->signal->source, t->ohms, beyond);
    default:
        return t->source_volts;
    }
}

/* The quantity at either end of the ohms, the sensor's own tolerance included: at or beyond where a law ends.
 */
static tl_interval quantity_interval(const tl_source *source, const tl_interval *ohms)
{
    const tl_response *curve = &source->curve;
    const law_ends ends = ends_of_law(source);
    const double least = fmax(ohms->low, 1e-9) / curve->share_high, most = ohms->high / curve->share_low;
    const double further =
        ends.quantity[0] > ends.quantity[1] ? INFINITY : -INFINITY; /* at ever fewer ohms */
    bool beyond;
    const double a = least < ends.ohms[0] ? further : quantity_of(source, least, &beyond),
                 b = most > ends.ohms[1] ? -further : quantity_of(source, most, &beyond);
    return (tl_interval){fmin(a, b), fmax(a, b)};
}

static tl_interval base_interval(const taken_sample *t, const tl_interval *pin)
{
    const tl_plan_reading *plan = &t->signal->reading;
    switch (plan->of) {
    case TL_OF_COUNTS:
        return (tl_interval){t->code, t->code};
    case TL_OF_PIN:
        return *pin;
    case TL_OF_TRAVEL:
        return (tl_interval){100 * t->unknown.low, 100 * t->unknown.high};
    case TL_OF_QUANTITY:
        return quantity_interval(&t->signal->source, &t->unknown);
    default:
        return t->unknown;
    }
}

/* How much one code is, in the base figure. */
static double base_step(const taken_sample *t, const tl_interval *within)
{
    const tl_analog_path *path = t->path;
    const double lsb =
        1e-6 * (path->pin_scale.reference_high_uv - path->pin_scale.reference_low_uv) / path->range_counts;
    switch (t->signal->reading.of) {
    case TL_OF_COUNTS:
        return 1;
    case TL_OF_PIN:
        return lsb;
    case TL_OF_TRAVEL:
        return 100 / path->range_counts;
    case TL_OF_SOURCE:
        return lsb / fabs(path->slope);
    default: /* finer digits would say nothing */
        return isfinite(within->high - within->low) ? fmax((within->high - within->low) / 4, 1e-6) : 1;
    }
}

static int percent_of(double base, const tl_plan_reading *plan)
{
    const double empty = plan->empty.value.nominal, full = plan->full.value.nominal;
    const double inward = plan->margin / 100 * (full - empty),
                 scale = 1e6 / fmax(1, fmax(fabs(empty), fabs(full)) / 1000);
    uint16_t share = 0;
    if (!plan->empty.given || tl_share_of((int32_t)llround(fmin(fmax(base * scale, -2e9), 2e9)),
                                          (int32_t)llround((empty + inward) * scale),
                                          (int32_t)llround((full - inward) * scale), 100, &share) != TL_OK)
        return -1;
    return share;
}

/* In the unit that is shown. */
static double shown_figure(const tl_plan_reading *plan, double base)
{
    return plan->point_count > 0 ? along_pairs(plan->points, plan->point_count, base) : base * plan->per_base;
}

bool tl_plan_base_of(const tl_signal *signal, double shown, double *base)
{
    const tl_plan_reading *plan = &signal->reading;
    int i = 1;
    if (plan->point_count < 2) {
        *base = shown / plan->per_base;
        return plan->point_count == 0;
    }
    const bool rises = plan->points[plan->point_count - 1].to > plan->points[0].to;
    while (i + 1 < plan->point_count && (rises ? shown > plan->points[i].to : shown < plan->points[i].to))
        i++;
    const tl_pair *a = &plan->points[i - 1], *b = &plan->points[i];
    *base = a->from + (b->from - a->from) * (shown - a->to) / (b->to - a->to);
    return b->to != a->to;
}

double tl_plan_shown_of(const tl_signal *signal, double base)
{
    return shown_figure(&signal->reading, base);
}

static void show(const taken_sample *t, tl_value *v)
{
    const tl_plan_reading *plan = &t->signal->reading;
    const double base = base_figure(t, &v->beyond);
    const tl_interval within = base_interval(t, &v->pin_within);
    const double step = base_step(t, &within);
    const double a = shown_figure(plan, within.low), b = shown_figure(plan, within.high);
    v->value = shown_figure(plan, base);
    v->none = !isfinite(v->value);
    v->within = (tl_interval){fmin(a, b), fmax(a, b)};
    v->percent = v->none ? -1 : percent_of(base, plan);
    const double shown_step =
        plan->round > 0 ? plan->round : fabs(shown_figure(plan, base + step) - v->value);
    v->decimals = plan->decimals >= 0 ? plan->decimals : decimals_of_step(shown_step);
    if (plan->round > 0)
        v->value = plan->round * round(v->value / plan->round);
    if (v->none)
        v->value = NAN;
}

/* --- faults and buttons --- */

static bool in_window(const tl_fault_window *window, const taken_sample *t, const tl_analog_path *path)
{
    if (!window->level.given)
        return false;
    const double level = window->level.value.nominal;
    const double figure = window->dimension == TL_DIM_PERCENT ? 100 * t->code / path->reference_counts
                          : window->dimension == TL_DIM_VOLT  ? t->pin_volts
                                                              : t->source_volts;
    return window->above ? figure > level : figure < level;
}

static void look_for_faults(const taken_sample *t, tl_value *v)
{
    const tl_plan_reading *plan = &t->signal->reading;
    v->open = in_window(&plan->open, t, t->path);
    v->shorted = in_window(&plan->shorted, t, t->path);
    if (!v->open && !v->shorted)
        return;
    v->percent = -1;
    if (plan->substitute.given)
        v->value = plan->substitute.value;
}

/* The button whose codes the reading lies in. */
static tl_net_status find_button(tl_circuit *c, int signal, double code, int *button)
{
    const int states = c->signals[signal].states;
    *button = -2;
    for (int state = 0; state < states; state++) {
        tl_interval codes;
        double middle;
        const tl_net_status fault = tl_plan_state_codes(c, signal, state, &codes, &middle);
        if (fault != TL_NET_SOLVED)
            return fault;
        if (code >= codes.low && code <= codes.high)
            *button = state - 1;
    }
    return TL_NET_SOLVED;
}

/* --- the whole --- */

/* Volts of a code that need not be whole: the core's line, without its rounding to microvolts. */
static double volts_of(const tl_analog_path *path, double reference, double code)
{
    return (code + path->centre) / path->reference_counts * reference;
}

static void take_volts(double reference, taken_sample *t)
{
    const tl_plan_reading *plan = &t->signal->reading;
    const tl_analog_path *path = t->path;
    t->pin_volts = volts_of(path, reference, t->code);
    t->source_volts = (t->pin_volts - path->shift) / path->slope;
    if (plan->trim_count == 0)
        return;
    const double trimmed = along_pairs(plan->trim, plan->trim_count, t->code);
    if (!plan->trim_at_pin) {
        t->source_volts = trimmed;
        return;
    }
    t->pin_volts = trimmed;
    t->source_volts = (trimmed - path->shift) / path->slope;
}

/* The interval of a mean holds those of both codes around it. */
static tl_net_status find_interval(tl_circuit *c, int signal, taken_sample *t, tl_interval *pin)
{
    const long low = (long)floor(t->code), high = (long)ceil(t->code);
    tl_interval unknown, other;
    tl_net_status fault = tl_plan_interval(c, signal, t->path, low, &t->unknown, pin);
    if (fault == TL_NET_SOLVED && high != low) {
        fault = tl_plan_interval(c, signal, t->path, high, &unknown, &other);
        t->unknown = (tl_interval){fmin(t->unknown.low, unknown.low), fmax(t->unknown.high, unknown.high)};
        *pin = (tl_interval){fmin(pin->low, other.low), fmax(pin->high, other.high)};
    }
    if (fault == TL_NET_TOO_WIDE) { /* no bound that could be proved: anything */
        t->unknown = *pin = (tl_interval){-INFINITY, INFINITY};
        fault = TL_NET_SOLVED;
    }
    return fault;
}

/* What was compared with a meter lies around what it says, as far as meter and time allow; where the parts as
 * stated agree, in what they allow too. */
static tl_net_status narrow_by_trim(tl_circuit *c, int signal, taken_sample *t, tl_interval *pin)
{
    const tl_plan_reading *plan = &t->signal->reading;
    if (plan->trim_count < 2 || t->code <= (double)t->path->first_code ||
        t->code >= (double)t->path->last_code)
        return TL_NET_SOLVED;
    const double said = plan->trim_at_pin ? t->pin_volts : t->source_volts,
                 limit = tl_trimmed_limit(c, signal, t->code);
    tl_interval *of = plan->trim_at_pin ? pin : &t->unknown;
    const bool agree = said >= of->low && said <= of->high;
    /* An end that is open stays so: there the count says no more. */
    if (isfinite(of->low))
        of->low = agree ? fmax(of->low, said - limit) : said - limit;
    if (isfinite(of->high))
        of->high = agree ? fmin(of->high, said + limit) : said + limit;
    return plan->trim_at_pin && c->signals[signal].unknown != TL_NET_NONE
               ? tl_unknowns_behind(c, signal, pin, &t->unknown)
               : TL_NET_SOLVED;
}

/* The nominal figures; a fault of the net where a resistance cannot be told. */
static tl_net_status take_code(tl_circuit *c, int signal, double code, taken_sample *t)
{
    *t = (taken_sample){
        .signal = &c->plan->signals[signal], .path = tl_circuit_path(c, signal), .code = code, .ohms = NAN};
    if (t->path->fault != TL_NET_SOLVED)
        return t->path->fault;
    take_volts(c->nominal[c->signals[signal].reference], t);
    if (t->signal->source.kind == TL_SOURCE_RESISTANCE)
        return tl_plan_unknown(c, signal, t->path, code, &t->ohms);
    if (t->path->bends)
        return unknown_at(c, signal, t->pin_volts / (1e-6 * t->path->pin_scale.reference_high_uv),
                          &t->travel);
    return TL_NET_SOLVED;
}

/* Without bounds both intervals are unknown, and so are decimals that would follow from them. */
static tl_net_status value_of(tl_circuit *c, int signal, double code, bool bounded, tl_value *value)
{
    taken_sample t;
    *value = (tl_value){.percent = -1, .button = -1};
    tl_net_status fault = take_code(c, signal, code, &t);
    if (fault != TL_NET_SOLVED)
        return fault;
    value->pin_volts = t.pin_volts;
    if (c->signals[signal].states > 1) {
        value->pin_within = (tl_interval){t.pin_volts, t.pin_volts};
        fault = find_button(c, signal, code, &value->button);
    } else if (bounded) {
        fault = find_interval(c, signal, &t, &value->pin_within);
        if (fault == TL_NET_SOLVED)
            fault = narrow_by_trim(c, signal, &t, &value->pin_within);
    } else {
        t.unknown = value->pin_within = (tl_interval){NAN, NAN};
    }
    if (fault != TL_NET_SOLVED)
        return fault;
    show(&t, value);
    look_for_faults(&t, value);
    return TL_NET_SOLVED;
}

tl_net_status tl_plan_value(tl_circuit *c, int signal, double code, tl_value *value)
{
    return value_of(c, signal, code, true, value);
}

tl_net_status tl_plan_value_plain(tl_circuit *c, int signal, double code, tl_value *value)
{
    return value_of(c, signal, code, false, value);
}

tl_net_status tl_plan_shown(tl_circuit *c, int signal, double code, double *shown)
{
    taken_sample t;
    bool beyond;
    const tl_net_status fault = take_code(c, signal, code, &t);
    if (fault == TL_NET_SOLVED)
        *shown = shown_figure(&t.signal->reading, base_figure(&t, &beyond));
    return fault;
}

bool tl_circuit_is_fine(tl_circuit *circuit, int signal)
{
    static const double full_scale = 0.1; /* volts */
    if (!circuit->plan->signals[signal].analog ||
        circuit->plan->pins[circuit->plan->signals[signal].pin].channel < 0)
        return false;
    const tl_analog_path *path = tl_circuit_path(circuit, signal);
    return path->fault == TL_NET_SOLVED &&
           1e-6 * (double)path->pin_scale.reference_high_uv <= full_scale * (1 + 1e-9);
}
