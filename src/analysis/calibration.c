/* SPDX-License-Identifier: MIT */
/* A meter against the converter: the line between them, and whether the parts explain the rest. */
#include "tinyladder/design/calibration.h"
#include "analysis/channel.h"
#include "elaborate/circuit_struct.h"
#include <math.h>
#include <string.h>

/* --- volts without trim --- */

bool tl_trim_plain(tl_circuit *c, int signal, double count, bool at_pin, double *volts)
{
    const tl_signal *s = &c->plan->signals[signal];
    const tl_analog_path *path = s->analog ? tl_circuit_path(c, signal) : NULL;
    if (path == NULL || path->fault != TL_NET_SOLVED)
        return false;
    const double centre = count + path->centre;
    if (at_pin) {
        *volts = centre / path->reference_counts * c->nominal[c->signals[signal].reference];
        return true;
    }
    const tl_source_kind kind = s->source.kind;
    return (kind == TL_SOURCE_VOLTAGE || kind == TL_SOURCE_RAIL || kind == TL_SOURCE_BRIDGE) &&
           unknown_at(c, signal, centre / path->reference_counts, volts) == TL_NET_SOLVED;
}

/* --- the line --- */

static bool fit_without(const double *x, const tl_trim_pair *pairs, int count, int without, double *offset,
                        double *gain)
{
    double n = 0, mean_x = 0, mean_y = 0, xx = 0, xy = 0;
    for (int i = 0; i < count; i++) {
        if (i == without)
            continue;
        n++;
        mean_x += x[i];
        mean_y += pairs[i].volts;
    }
    mean_x /= n;
    mean_y /= n;
    for (int i = 0; i < count; i++) {
        if (i == without)
            continue;
        xx += (x[i] - mean_x) * (x[i] - mean_x);
        xy += (x[i] - mean_x) * (pairs[i].volts - mean_y);
    }
    *gain = xx > 0 ? xy / xx : NAN;
    *offset = mean_y - *gain * mean_x;
    return xx > 0;
}

/* How far a pair is from the line through the others, in what they are off themselves. */
static double wildness(const double *x, const tl_trim_pair *pairs, int count, int which, double lsb)
{
    double offset, gain, sum = 0;
    if (!fit_without(x, pairs, count, which, &offset, &gain))
        return 0;
    for (int i = 0; i < count; i++) {
        const double off = pairs[i].volts - offset - gain * x[i];
        sum += i == which ? 0 : off * off;
    }
    const double others = sqrt(sum / (count - 1)), own = fabs(pairs[which].volts - offset - gain * x[which]);
    return own > 3 * lsb ? own / fmax(others, lsb / 2) : 0;
}

tl_trim_fault tl_trim_fit(tl_circuit *c, int signal, bool at_pin, const tl_trim_pair *pairs, int count,
                          tl_trim_line *line)
{
    double x[TL_TRIM_PAIRS_MOST], next = 0;
    *line = (tl_trim_line){.which = -1};
    if (count < 2 || count > TL_TRIM_PAIRS_MOST)
        return TL_TRIM_TOO_FEW;
    for (int i = 0; i < count; i++) {
        line->which = i;
        if (!tl_trim_plain(c, signal, pairs[i].count, at_pin, &x[i]))
            return TL_TRIM_NO_VOLTS;
        for (int k = 0; k < i; k++) {
            if (pairs[k].count == pairs[i].count)
                return TL_TRIM_EQUAL;
        }
    }
    (void)tl_trim_plain(c, signal, pairs[0].count + 1, at_pin, &next);
    double wildest = 5;
    line->which = -1;
    for (int i = 0; i < count && count >= 4; i++) {
        const double wild = wildness(x, pairs, count, i, fabs(next - x[0]));
        if (wild > wildest) {
            wildest = wild;
            line->which = i;
        }
    }
    (void)fit_without(x, pairs, count, line->which, &line->offset, &line->gain);
    for (int i = 0; i < count; i++) {
        line->residual[i] = pairs[i].volts - line->offset - line->gain * x[i];
        if (i != line->which)
            line->worst = fmax(line->worst, fabs(line->residual[i]));
    }
    return line->which >= 0 ? TL_TRIM_WILD : TL_TRIM_GOOD;
}

void tl_trim_offset_alone(tl_circuit *c, int signal, bool at_pin, const tl_trim_pair *pairs, int count,
                          tl_trim_line *line)
{
    double sum = 0, plain[TL_TRIM_PAIRS_MOST] = {0};
    for (int i = 0; i < count; i++) {
        (void)tl_trim_plain(c, signal, pairs[i].count, at_pin, &plain[i]);
        sum += pairs[i].volts - plain[i];
    }
    *line = (tl_trim_line){.offset = sum / count, .gain = 1, .which = -1};
    for (int i = 0; i < count; i++) {
        line->residual[i] = pairs[i].volts - plain[i] - line->offset;
        line->worst = fmax(line->worst, fabs(line->residual[i]));
    }
}

/* --- the verdict --- */

/* The most that one parameter moves the plan's volts, to either side; the rest stays at its nominal. */
static double moved_by(tl_circuit *c, int signal, const tl_trim_pair *pair, bool at_pin, int param,
                       double plain)
{
    double low, high, volts, most = 0;
    const double nominal = c->nominal[param];
    tl_net_param_span(c->net, param, &low, &high);
    const double ends[2] = {low, high};
    for (int i = 0; i < 2 && low != high; i++) {
        c->nominal[param] = ends[i];
        if (tl_trim_plain(c, signal, pair->count, at_pin, &volts))
            most = fmax(most, fabs(volts - plain));
    }
    c->nominal[param] = nominal;
    return most;
}

const char *tl_trim_part_name(tl_trim_part part)
{
    static const char *const names[] = {"reference",    "resistors", "offset",       "gain",
                                        "nonlinearity", "noise",     "quantisation", "meter"};
    return names[part];
}

void tl_trim_gain_unsure(const tl_trim_pair *first, const tl_trim_pair *last, const tl_meter *meter,
                         double *digits, double *with_count)
{
    const double apart = fabs(last->volts - first->volts), counts = fabs(last->count - first->count);
    *digits = meter == NULL ? 0 : 2 * meter->digits * meter->digit / apart;
    *with_count = *digits + 1 / counts;
}

/* A limit is taken as rectangular. */
static void add_limit(double *variance, double *straight, double limit)
{
    *variance += limit * limit / 3;
    *straight += limit;
}

/* What may be off: squared by its cause, and all of it straight. */
typedef struct {
    double variance[TL_TRIM_PARTS], straight;
} doubts;

static void add_parts(tl_circuit *c, int signal, bool at_pin, const tl_trim_pair *pair, double plain,
                      doubts *to)
{
    const tl_signal_nodes *nodes = &c->signals[signal];
    for (int i = 0; i < tl_net_param_count(c->net); i++) {
        const bool reference = i == nodes->reference;
        if (i == nodes->unknown || (!reference && (at_pin || !tl_island_has_param(nodes->island, i))))
            continue;
        add_limit(&to->variance[reference ? TL_TRIM_REFERENCE : TL_TRIM_RESISTORS], &to->straight,
                  moved_by(c, signal, pair, at_pin, i, plain));
    }
}

static void add_converter(tl_circuit *c, int signal, double lsb, doubts *to)
{
    const tl_converter *part = tl_plan_converter_of(c->plan, &c->plan->signals[signal])->part;
    add_limit(&to->variance[TL_TRIM_OFFSET], &to->straight, part->offset * lsb);
    add_limit(&to->variance[TL_TRIM_GAIN], &to->straight, part->gain * lsb);
    add_limit(&to->variance[TL_TRIM_NONLINEARITY], &to->straight, part->nonlinearity * lsb);
    /* These two are no limits of a part: half a count either way, and the noise's standard deviation. */
    to->variance[TL_TRIM_QUANTISATION] += lsb * lsb / 12;
    to->variance[TL_TRIM_NOISE] += part->noise * lsb * part->noise * lsb;
}

bool tl_trim_judge(tl_circuit *c, int signal, bool at_pin, const tl_trim_pair *pair, const tl_meter *meter,
                   tl_trim_verdict *v)
{
    double plain = 0, next = 0, sum = 0;
    doubts found = {{0}, 0};
    *v = (tl_trim_verdict){0};
    if (!tl_trim_plain(c, signal, pair->count, at_pin, &plain) ||
        !tl_trim_plain(c, signal, pair->count + 1, at_pin, &next))
        return false;
    add_parts(c, signal, at_pin, pair, plain, &found);
    const double lsb = fabs(next - plain);
    add_converter(c, signal, lsb, &found);
    if (meter != NULL)
        add_limit(&found.variance[TL_TRIM_METER], &found.straight, tl_meter_limit(meter, pair->volts));
    for (int i = 0; i < TL_TRIM_PARTS; i++)
        sum += found.variance[i];
    for (int i = 0; i < TL_TRIM_PARTS; i++)
        v->share[i] = sum > 0 ? found.variance[i] / sum : 0;
    v->deviation = pair->volts - plain;
    v->straight = found.straight;
    v->most = v->straight + 0.5 * lsb + 3.3 * sqrt(found.variance[TL_TRIM_NOISE]);
    v->expanded = fmin(2 * sqrt(sum), v->most);
    v->explained = fabs(v->deviation) <= v->expanded;
    return true;
}

/* --- sensors' own curves --- */

/* Solves the n x n normal equations, n at most 3, by elimination with pivots. */
static bool solve_small(int n, double a[3][4])
{
    for (int k = 0; k < n; k++) {
        int best = k;
        for (int i = k + 1; i < n; i++)
            best = fabs(a[i][k]) > fabs(a[best][k]) ? i : best;
        if (fabs(a[best][k]) < 1e-14)
            return false;
        for (int j = 0; j <= n; j++) {
            const double kept = a[k][j];
            a[k][j] = a[best][j];
            a[best][j] = kept;
        }
        for (int i = 0; i < n; i++) {
            const double factor = i == k ? 0 : a[i][k] / a[k][k];
            for (int j = k; j <= n && i != k; j++)
                a[i][j] -= factor * a[k][j];
        }
    }
    for (int k = 0; k < n; k++)
        a[k][n] /= a[k][k];
    return true;
}

/* 1/T = sum of coefficients x powers of u, u being ln R about its mean; in millikelvins' reciprocals, so that
 * the equations stay well scaled. */
static bool fit_reciprocal(const tl_response_pair *pairs, int count, int terms, const int *powers,
                           double centre, double *coefficients)
{
    double a[3][4] = {{0}};
    for (int p = 0; p < count; p++) {
        double term[3];
        const double u = log(pairs[p].ohms) - centre, y = 1000 / (pairs[p].quantity + 273.15);
        for (int i = 0; i < terms; i++)
            term[i] = pow(u, powers[i]);
        for (int i = 0; i < terms; i++) {
            for (int j = 0; j < terms; j++)
                a[i][j] += term[i] * term[j];
            a[i][terms] += term[i] * y;
        }
    }
    if (!solve_small(terms, a))
        return false;
    for (int i = 0; i < terms; i++)
        coefficients[i] = a[i][terms] / 1000;
    return true;
}

bool tl_response_fit(tl_law law, const tl_response_pair *pairs, int count, tl_response *curve,
                     double *residual)
{
    static const int straight[] = {0, 1}, cubic[] = {0, 1, 3};
    double k[3] = {0};
    const bool beta = law == TL_LAW_BETA;
    *curve = (tl_response){.law = law, .unit = "degC", .share_low = 1, .share_high = 1};
    if ((law != TL_LAW_BETA && law != TL_LAW_STEINHART) || count < (beta ? 2 : 3))
        return false;
    double centre = 0;
    for (int i = 0; i < count; i++) {
        if (!(pairs[i].ohms > 0) || !(pairs[i].quantity > -273))
            return false;
        centre += beta ? log(pairs[i].ohms) / count : 0;
    }
    if (!fit_reciprocal(pairs, count, beta ? 2 : 3, beta ? straight : cubic, centre, k))
        return false;
    if (beta) { /* 1/T = 1/T0 + ln(R/R0) / beta, at the mean of the logarithms */
        curve->ohms = exp(centre);
        curve->at = 1 / k[0] - 273.15;
        curve->beta = 1 / k[1];
    } else {
        memcpy(curve->steinhart, k, sizeof k);
    }
    for (int i = 0; i < count; i++)
        residual[i] = pairs[i].quantity - tl_response_quantity(curve, pairs[i].ohms);
    return true;
}
