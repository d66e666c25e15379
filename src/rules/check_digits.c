/* SPDX-License-Identifier: MIT */
/*
 * Rules for what a reading's last digit is worth: leakage, counts and noise, a rail that does not cancel, a
 * trim.
 *
 * Each asks the circuit at a few places of the source's range how far something moves the pin, and the plan
 * how much of the shown figure that is there: so a curve or a table counts as it does in the reading.
 */
#include "analysis/ask.h"
#include "base/memory.h"
#include "rules/check.h"
#include "tinyladder/design/calibration.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum { PLACES = 5, RAILS_MOST = 6 };

/* A value of the source, and what comes of it where all else is as written. */
typedef struct {
    double volts, code;
    double per_count; /* of the shown figure; NAN where the plan has none there */
} shown_place;

/* Everything as written, to be changed; the caller frees it. */
static double *values_of(const tl_checker *k)
{
    const size_t size = (size_t)tl_net_param_count(k->circuit->net) * sizeof(double);
    return memcpy(tl_alloc((size_t)tl_net_param_count(k->circuit->net), sizeof(double)), k->circuit->nominal,
                  size);
}

static bool volts_with(const tl_checker *k, int signal, const double *values, double *volts)
{
    *volts = tl_circuit_volts_of(k->circuit, signal, values);
    return !isnan(*volts);
}

static void put_source(const tl_checker *k, int signal, int place, double *values)
{
    const int unknown = k->circuit->signals[signal].unknown;
    double low, high;
    tl_net_param_span(k->circuit->net, unknown, &low, &high);
    values[unknown] = low + (high - low) * place / (PLACES - 1);
}

static double code_of(const tl_checker *k, int signal, double volts, double reference)
{
    const tl_analog_path *path = tl_circuit_path(k->circuit, signal);
    return fmin(fmax(volts / reference * path->reference_counts, (double)path->first_code),
                (double)path->last_code);
}

/* How much of the shown figure one count is at a code. */
static double shown_per_count(const tl_checker *k, int signal, double code)
{
    const tl_analog_path *path = tl_circuit_path(k->circuit, signal);
    const double low = fmax(floor(code) - 1, (double)path->first_code),
                 high = fmin(floor(code) + 1, (double)path->last_code);
    double a, b;
    if (tl_plan_shown(k->circuit, signal, low, &a) != TL_NET_SOLVED ||
        tl_plan_shown(k->circuit, signal, high, &b) != TL_NET_SOLVED || !(high > low))
        return NAN;
    return fabs(b - a) / (high - low);
}

static bool look_at(const tl_checker *k, int signal, const double *values, shown_place *place)
{
    const int reference = k->circuit->signals[signal].reference;
    if (!volts_with(k, signal, values, &place->volts))
        return false;
    place->code = code_of(k, signal, place->volts, values[reference]);
    place->per_count = shown_per_count(k, signal, place->code);
    return true;
}

static double volts_per_count(const tl_checker *k, int signal)
{
    return k->circuit->nominal[k->circuit->signals[signal].reference] /
           tl_circuit_path(k->circuit, signal)->reference_counts;
}

/* The last digit that the plan asks for, in the shown unit; 0 where it does not say. */
static double last_digit(const tl_plan_reading *reading)
{
    return reading->decimals < 0 ? reading->round : fmax(reading->round, pow(10, -reading->decimals));
}

double tl_check_step(const tl_checker *k, int signal, double volts)
{
    const double lsb = volts_per_count(k, signal), digit = last_digit(&k->plan->signals[signal].reading);
    const double reference = k->circuit->nominal[k->circuit->signals[signal].reference];
    const double per_count = shown_per_count(k, signal, code_of(k, signal, volts, reference));
    if (digit <= 0 || isnan(per_count))
        return lsb * tl_circuit_path(k->circuit, signal)->range_counts / 100;
    if (!(per_count > 0))
        return INFINITY;
    /* Where that is finer than a count, the last decimal that holds there. */
    const double holds = digit >= per_count ? digit : pow(10, ceil(log10(per_count) - 1e-9));
    return holds / per_count * lsb;
}

/* --- what moves a reading and is not its source --- */

static bool is_foreign(const tl_circuit *c, int param)
{
    return c->param[param].cause == TL_CAUSE_CARRIES || c->param[param].cause == TL_CAUSE_LOADS;
}

static bool is_leakage(const tl_circuit *c, int param)
{
    return c->param[param].cause == TL_CAUSE_LEAKAGE || c->param[param].cause == TL_CAUSE_OPEN_LEAKAGE ||
           c->param[param].cause == TL_CAUSE_BIAS;
}

/* A follower's offset, and what its gain lacks. */
static bool is_follower(const tl_circuit *c, int param)
{
    return c->param[param].cause == TL_CAUSE_OFFSET || c->param[param].cause == TL_CAUSE_GAIN;
}

/* What each rule looks at, and how it is said. */
typedef struct {
    tl_rule_id rule;
    bool (*is)(const tl_circuit *c, int param);
    const char *what, *fix;
} stray;

static const stray strays[] = {
    {TL_RULE_LEAKAGE_ERROR, is_leakage, "leakage current",
     "add a follower before the leaking pin: tinyladder size follower"},
    {TL_RULE_GROUND_SHIFT, is_foreign, "load current in its wiring",
     "use a separate supply or ground wire, or a thicker one, or reroute the load current"},
    {TL_RULE_FOLLOWER_ERROR, is_follower, "follower offset and gain",
     "use a follower with less offset or more gain, or trim the reading"},
};

/* A supply that is measured itself sags with its loads: that is what is read, no error of it. */
static bool sags_what_is_read(const tl_checker *k, int signal, int param)
{
    const tl_source *source = &k->plan->signals[signal].source;
    return source->kind == TL_SOURCE_RAIL && source->supply >= 0 &&
           k->circuit->param[param].cause == TL_CAUSE_LOADS &&
           k->circuit->param[param].node == k->circuit->supply_node[source->supply];
}

/* The parameters of a kind in a signal's island, each in turn: the place in the island's list to go on from.
 */
static int next_stray(const tl_checker *k, int signal, const stray *kind, int *at)
{
    const tl_circuit *c = k->circuit;
    int count = 0;
    const int *params = tl_island_params(tl_island_view(c->signals[signal].island, false), &count);
    while (*at < count) {
        const int p = params[(*at)++];
        if (p != c->signals[signal].unknown && kind->is(c, p) && !sags_what_is_read(k, signal, p))
            return p;
    }
    return TL_NET_NONE;
}

/* The most that all of a kind together move the pin from where it is without, by superposition, and the
 * amperes among them. No resistance seen from anywhere grows when a part of it shrinks, so the parts stand at
 * their largest. */
typedef struct {
    double amperes, volts;
} stray_sum;

static stray_sum moved_by(const tl_checker *k, int signal, const stray *kind, double *values, double without)
{
    const tl_circuit *c = k->circuit;
    int at = 0;
    stray_sum sum = {0, 0};
    for (int p; (p = next_stray(k, signal, kind, &at)) != TL_NET_NONE;) {
        double low, high, with, moved = 0;
        tl_net_param_span(c->net, p, &low, &high);
        for (int end = 0; end < 2; end++) {
            values[p] = end ? high : low;
            if (volts_with(k, signal, values, &with))
                moved = fmax(moved, fabs(with - without));
        }
        values[p] = c->nominal[p];
        sum.amperes += c->param[p].dimension == TL_DIM_AMPERE ? fmax(fabs(low), fabs(high)) : 0;
        sum.volts += moved;
    }
    return sum;
}

static void enlarge_parts(const tl_checker *k, int signal, double *values)
{
    int count = 0;
    const int *params = tl_island_params(tl_island_view(k->circuit->signals[signal].island, false), &count);
    for (int i = 0; i < count; i++) {
        double low, high;
        tl_net_param_span(k->circuit->net, params[i], &low, &high);
        if (k->circuit->param[params[i]].dimension == TL_DIM_OHM &&
            params[i] != k->circuit->signals[signal].unknown)
            values[params[i]] = high;
    }
}

static void check_stray(const tl_checker *k, int signal, const stray *kind)
{
    const tl_signal *s = &k->plan->signals[signal];
    double worst = 1, worst_volts = 0, worst_step = 0, worst_amperes = 0;
    int any = 0;
    if (next_stray(k, signal, kind, &any) == TL_NET_NONE)
        return;
    double *values = values_of(k);
    enlarge_parts(k, signal, values);
    for (int i = 0; i < PLACES; i++) {
        double without;
        put_source(k, signal, i, values);
        if (!volts_with(k, signal, values, &without))
            continue;
        const stray_sum moved = moved_by(k, signal, kind, values, without);
        const double step = tl_check_step(k, signal, without);
        if (moved.volts <= worst * step)
            continue;
        worst = moved.volts / step;
        worst_volts = moved.volts;
        worst_step = step;
        worst_amperes = moved.amperes;
    }
    free(values);
    if (worst <= 1)
        return;
    const tl_analog_path *path = tl_circuit_path(k->circuit, signal);
    const bool useless = worst_volts > volts_per_count(k, signal) * path->range_counts / 100;
    tl_finding *f = tl_check_add(k, useless ? TL_GRAVE : TL_USUAL, kind->rule, s->pin_place,
                                 "%s: the error from %s exceeds %s", s->name, kind->what,
                                 last_digit(&s->reading) > 0 ? "one digit" : "1 % of full scale");
    tl_finding_figures(f, TL_DIM_VOLT, worst_volts, worst_step);
    const bool resolves = isfinite(worst_step);
    tl_finding_text(&f->figure, "%s%s%s at the pin%s%s",
                    worst_amperes > 0 ? tl_show(worst_amperes, TL_DIM_AMPERE, TL_ROUND_UP).text : "",
                    worst_amperes > 0 ? " max: " : "", tl_show(worst_volts, TL_DIM_VOLT, TL_ROUND_UP).text,
                    resolves ? "; the reading resolves " : "",
                    resolves ? tl_show(worst_step, TL_DIM_VOLT, TL_ROUND_NEAREST).text : "");
    tl_finding_text(&f->fix, "%s", kind->fix);
}

/* --- digits that are not there --- */

/* What an average of this many readings makes of a count: with noise of half a count or more it lies finer
 * between them, with less every reading is the same. */
static double resolved(const tl_plan_reading *reading, double noise)
{
    const double left = tl_reading_noise(reading, noise);
    return fmax(noise >= 0.5 ? left / noise : 1, left);
}

static void check_decimals(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_plan_reading *reading = &s->reading;
    const double noise = tl_plan_converter_of(k->plan, s)->part->noise;
    const double digit = last_digit(reading), counts = resolved(reading, noise);
    double *values = values_of(k), finest = INFINITY;
    if (digit <= 0 || reading->of == TL_OF_COUNTS) {
        free(values);
        return;
    }
    for (int i = 0; i < PLACES; i++) {
        shown_place place;
        put_source(k, signal, i, values);
        if (look_at(k, signal, values, &place) && place.per_count > 0)
            finest = fmin(finest, place.per_count);
    }
    free(values);
    const double least = finest * counts;
    if (isinf(finest) || digit >= least * (1 - 1e-6))
        return;
    const int rest = (int)floor(-log10(least) + 1e-6);
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_DIGITS_EMPTY, reading->place,
                                 "%s: the last digit is finer than the ADC resolution", s->name);
    tl_finding_figures(f, TL_DIM_NUMBER, digit, least);
    tl_finding_text(&f->figure,
                    "%g %s per digit; one count is %.3g %s or more, noise %.2g counts rms, %d sample%s: "
                    "resolution %.3g %s",
                    digit, reading->unit, finest, reading->unit, noise,
                    reading->average == TL_AVERAGE_NONE ? 1 : reading->samples,
                    reading->average == TL_AVERAGE_NONE || reading->samples == 1 ? "" : "s", least,
                    reading->unit);
    if (rest >= 0)
        tl_finding_text(&f->fix, "set decimals: %d, or average more samples", rest);
    else
        tl_finding_text(&f->fix, "set decimals: 0 and round: %g", pow(10, -rest));
}

/* --- a rail that does not cancel --- */

/* The shown figure at the corner that lies furthest from the middle, over rails and reference alone. */
static double rails_move(const tl_checker *k, int signal, double *values)
{
    const tl_signal_nodes *nodes = &k->circuit->signals[signal];
    int moving[RAILS_MOST], count = 0;
    double middle, most = 0;
    shown_place place;
    for (int p = 0; p < tl_net_param_count(k->circuit->net) && count < RAILS_MOST; p++) {
        bool rail = p == nodes->reference;
        for (int i = 0; i < k->plan->supply_count && !rail; i++)
            rail = p == k->circuit->supply_param[i] && tl_island_has_param(nodes->island, p);
        if (rail)
            moving[count++] = p;
    }
    if (!look_at(k, signal, values, &place) ||
        tl_plan_shown(k->circuit, signal, place.code, &middle) != TL_NET_SOLVED)
        return 0;
    for (int corner = 0; corner < 1 << count; corner++) {
        double shown;
        for (int i = 0; i < count; i++) {
            double low, high;
            tl_net_param_span(k->circuit->net, moving[i], &low, &high);
            values[moving[i]] = corner >> i & 1 ? high : low;
        }
        if (look_at(k, signal, values, &place) &&
            tl_plan_shown(k->circuit, signal, place.code, &shown) == TL_NET_SOLVED)
            most = fmax(most, fabs(shown - middle));
    }
    for (int i = 0; i < count; i++)
        values[moving[i]] = k->circuit->nominal[moving[i]];
    return most;
}

/* Only what is a share of its rail can cancel at all. */
static bool is_share(const tl_source *source)
{
    return source->kind == TL_SOURCE_RESISTANCE || source->kind == TL_SOURCE_POTENTIOMETER ||
           (source->kind == TL_SOURCE_BRIDGE && source->supply != TL_TO_GROUND) ||
           (source->kind == TL_SOURCE_VOLTAGE && source->follows != TL_TO_GROUND);
}

static void check_cancels(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const double digit = last_digit(&s->reading);
    double most = 0;
    if (!is_share(&s->source) || digit <= 0 || s->reading.of == TL_OF_PIN || s->reading.of == TL_OF_COUNTS)
        return;
    double *values = values_of(k);
    for (int i = 0; i < PLACES; i++) {
        put_source(k, signal, i, values);
        most = fmax(most, rails_move(k, signal, values));
    }
    free(values);
    if (most <= digit)
        return;
    tl_finding *f =
        tl_check_add(k, TL_USUAL, TL_RULE_NOT_RATIOMETRIC, s->reading.place,
                     "%s: its supply is not the ADC reference, so both tolerances add up", s->name);
    tl_finding_figures(f, TL_DIM_NUMBER, most, digit);
    tl_finding_text(&f->figure, "up to %.3g %s from these two; one digit is %g %s", most, s->reading.unit,
                    digit, s->reading.unit);
    if (!tl_fix_reference(k, signal, f))
        tl_finding_text(&f->fix, "supply it from the reference, or show fewer decimals");
}

/* --- trim --- */

static void check_trim(const tl_checker *k, int signal)
{
    const tl_plan_reading *reading = &k->plan->signals[signal].reading;
    if (reading->trim_count < 2)
        return;
    const tl_pair *first = &reading->trim[0], *last = &reading->trim[reading->trim_count - 1];
    const tl_meter *meter = reading->meter == TL_NONE ? NULL : &k->plan->meters[reading->meter];
    const char *name = k->plan->signals[signal].name;
    const double apart = fabs(last->to - first->to),
                 digits = meter == NULL ? 0 : meter->digits * meter->digit;
    const tl_trim_pair ends[2] = {{first->from, first->to}, {last->from, last->to}};
    double by_digits, unsure;
    tl_trim_gain_unsure(&ends[0], &ends[1], meter, &by_digits, &unsure);
    if (unsure > 0.01) {
        tl_finding *f =
            tl_check_add(k, TL_USUAL, TL_RULE_TRIM_CLOSE, first->place,
                         "%s: the trim points are too close together to determine the gain", name);
        tl_finding_figures(f, TL_DIM_PERCENT, 100 * unsure, 1);
        tl_finding_text(&f->figure, "%s apart, meter resolution %s: gain uncertainty %s",
                        tl_show(apart, TL_DIM_VOLT, TL_ROUND_NEAREST).text,
                        tl_show(digits, TL_DIM_VOLT, TL_ROUND_UP).text,
                        tl_show(100 * unsure, TL_DIM_PERCENT, TL_ROUND_UP).text);
        tl_finding_text(&f->fix, "take points near both ends of the range");
    }
    const tl_analog_path *path = tl_circuit_path(k->circuit, signal);
    for (int i = 0; i < reading->trim_count; i++) {
        if (reading->trim[i].from >= (double)path->first_code &&
            reading->trim[i].from <= (double)path->last_code)
            continue;
        tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_TRIM_CONTRADICTS, reading->trim[i].place,
                                     "%s: a trim point is outside the count range of the ADC", name);
        tl_finding_figures(f, TL_DIM_COUNT, reading->trim[i].from, (double)path->last_code);
        tl_finding_text(&f->figure, "%g counts; the range is %ld to %ld", reading->trim[i].from,
                        path->first_code, path->last_code);
        tl_finding_text(&f->fix, "correct the count; 'trim --live' takes pairs from the board");
        return;
    }
    for (int i = 0; i < reading->trim_count; i++) {
        const tl_trim_pair pair = {reading->trim[i].from, reading->trim[i].to};
        tl_trim_verdict verdict;
        if (!tl_trim_judge(k->circuit, signal, reading->trim_at_pin, &pair, meter, &verdict) ||
            fabs(verdict.deviation) <= verdict.most)
            continue;
        tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_TRIM_CONTRADICTS, reading->trim[i].place,
                                     "%s: a trim point differs by more than all tolerances allow", name);
        tl_finding_figures(f, TL_DIM_VOLT, fabs(verdict.deviation), verdict.most);
        tl_finding_text(&f->figure, "%s from the calculated value; parts and meter allow %s",
                        tl_show(verdict.deviation, TL_DIM_VOLT, TL_ROUND_NEAREST).text,
                        tl_show(verdict.most, TL_DIM_VOLT, TL_ROUND_UP).text);
        tl_finding_text(&f->fix,
                        "measure again; if it repeats, the wiring differs from the plan: run 'trim'");
        return;
    }
}

void tl_check_digits(const tl_checker *k, int signal)
{
    const tl_signal_nodes *nodes = &k->circuit->signals[signal];
    if (nodes->unknown == TL_NET_NONE || nodes->states > 1 || nodes->reference == TL_NET_NONE ||
        tl_circuit_path(k->circuit, signal)->fault != TL_NET_SOLVED)
        return;
    const int rail = k->plan->signals[signal].source.supply;
    const bool soft = rail >= 0 && k->circuit->supply_node[rail] != k->circuit->supply_rail[rail];
    if (nodes->unknown == nodes->reference && soft) /* what its resistance drops is measured */
        return;
    if (nodes->unknown == nodes->reference) {
        tl_finding *f = tl_check_add(
            k, TL_USUAL, TL_RULE_MEASURES_ITSELF, k->plan->signals[signal].source.place,
            "%s is its own ADC reference, so the count never changes", k->plan->signals[signal].name);
        tl_finding_text(&f->fix, "set another reference of the ADC: reference: NAME");
        return;
    }
    for (size_t i = 0; i < sizeof strays / sizeof strays[0]; i++)
        check_stray(k, signal, &strays[i]);
    check_decimals(k, signal);
    check_cancels(k, signal);
    check_trim(k, signal);
}
