/* SPDX-License-Identifier: MIT */
/*
 * How a channel settles. After a switch the common lines wait (dwell) apart from the sampling capacitor; then
 * the capacitor is joined to the pin (acquisition), and what it still holds drags the line back. Conversions
 * that a sweep throws away are acquisitions too; the line goes on settling while the converter converts. All
 * of it is one linear network stepped exactly, so the share of a difference that is left does not depend on
 * its size: the network is at rest but for 1 V on what still holds the channel before.
 *
 * That difference: where sweeps give the order, the farthest value of the channel before in that order;
 * without a sweep, the other end of the span; from a precharge where the part has one (docs/methods.md).
 *
 * A capacitor at the pin that a sweep samples again and again is pumped: each time it gives charge, and
 * between two it gets back what the time allows. What is left in the end follows from a few periods, since it
 * comes to rest along one exponential: the slowest there is.
 */
#include "analysis/ask.h"
#include "analysis/channel.h"
#include "base/memory.h"
#include "circuit/decay.h"
#include "elaborate/circuit_struct.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

static const double wanted_counts = 0.5; /* what may be left */

/* The network at both ends of the capacitors' tolerance, the sampling capacitor joined, and where it is ever
 * waited for also apart. */
typedef struct {
    const tl_signal_nodes *nodes;
    tl_island *island; /* the signal's view */
    tl_transient *apart[2], *joined[2];
    tl_decay *decay[2];    /* instead of both, where it is joined once and nothing is waited for */
    int ends;              /* 1 where there is no such tolerance */
    double *start, *volts; /* of every node of the island */
    double away;           /* counts that the capacitor may have to go */
    double conversion;     /* seconds between the acquisitions of one read */
    int conversions;
    double period; /* seconds between two reads of it; INFINITY where no sweep says */
} settling;

/* Whether any capacitor of the circuit has a tolerance. */
static bool has_two_ends(const tl_circuit *c)
{
    return memcmp(c->rest[0], c->rest[1], (size_t)tl_net_param_count(c->net) * sizeof(double)) != 0;
}

/* Sources at rest, resistances where the pin sees most; at their largest where it sees nothing of them, as
 * before a follower. */
static double *values_of_network(tl_circuit *c, const tl_island *island, const tl_bounds *ohms, int end)
{
    const size_t size = (size_t)tl_net_param_count(c->net) * sizeof(double);
    double *values = memcpy(tl_alloc(size, 1), c->rest[end], size);
    int count = 0;
    const int *params = tl_island_params(island, &count);
    for (int i = 0; i < count; i++) {
        double low, high;
        tl_net_param_span(c->net, params[i], &low, &high);
        if (c->param[params[i]].dimension == TL_DIM_OHM && !c->param[params[i]].source)
            values[params[i]] = high;
    }
    for (int i = 0; i < ohms->params; i++) {
        if (!c->param[ohms->param[i]].source)
            values[ohms->param[i]] = ohms->high_at[i];
    }
    return values;
}

static tl_transient *network(tl_circuit *c, int signal, tl_island *island, const tl_bounds *ohms, int end,
                             bool sampling)
{
    double *values = values_of_network(c, island, ohms, end);
    bool *closed = tl_circuit_state(c, signal, 0);
    closed[c->signals[signal].sampling] = sampling;
    const tl_net_state state = {values, closed};
    tl_transient *transient = tl_transient_new(island, &state);
    free(values);
    return transient;
}

static tl_decay *decay_of(tl_circuit *c, int signal, tl_island *island, const tl_bounds *ohms, int end)
{
    double *values = values_of_network(c, island, ohms, end);
    bool *closed = tl_circuit_state(c, signal, 0);
    closed[c->signals[signal].sampling] = true;
    const tl_net_state state = {values, closed};
    tl_decay *decay = tl_decay_new(island, &state, tl_island_index(island, c->signals[signal].sampled));
    free(values);
    return decay;
}

/* --- what came before --- */

static const tl_plan_converter *converter_of(tl_circuit *c, int signal)
{
    return tl_plan_converter_of(c->plan, &c->plan->signals[signal]);
}

/* The signal that the same converter has read before, in a sweep's order, which goes round. */
static int read_before(tl_circuit *c, const tl_plan_sweep *sweep, int at)
{
    const tl_plan_converter *converter = converter_of(c, sweep->signals[at]);
    for (int back = 1; back <= sweep->signal_count; back++) {
        const int signal = sweep->signals[(at + sweep->signal_count - back) % sweep->signal_count];
        if (c->plan->signals[signal].analog && converter_of(c, signal) == converter)
            return signal;
    }
    return sweep->signals[at];
}

/* Volts between what the signal has and what the one before it may have left; over every sweep that reads it.
 * -1 where none does. first: the one before it in the first such sweep. */
static double from_neighbours(tl_circuit *c, int signal, const tl_worst_case *worst, int *first)
{
    double away = -1;
    for (int i = 0; i < c->plan->sweep_count; i++) {
        for (int j = 0; j < c->plan->sweeps[i].signal_count; j++) {
            if (c->plan->sweeps[i].signals[j] != signal)
                continue;
            const int before = read_before(c, &c->plan->sweeps[i], j);
            *first = *first == TL_NONE ? before : *first;
            for (int state = 0; state < c->signals[before].states; state++) {
                const tl_worst_case *other = tl_circuit_worst_case(c, before, state);
                if (other->fault == TL_NET_SOLVED)
                    away = fmax(away, fmax(fabs(worst->volts.high - other->volts.low),
                                           fabs(other->volts.high - worst->volts.low)));
            }
        }
    }
    return away;
}

static double counts_away(tl_circuit *c, int signal, const tl_worst_case *worst, tl_analog_path *path)
{
    const tl_converter *converter = converter_of(c, signal)->part;
    double low = 0, high = 0;
    tl_net_param_span(c->net, c->signals[signal].reference, &low, &high);
    const double neighbours =
        converter->starts_from_last ? from_neighbours(c, signal, worst, &path->before) : -1;
    if (neighbours >= 0)
        return neighbours / low * path->reference_counts;
    if (!isnan(converter->precharge))
        return fmax(fabs(worst->volts.high - converter->precharge),
                    fabs(converter->precharge - worst->volts.low)) /
               low * path->reference_counts;
    /* From 0 V, or from the reference: shares of it, each with the reference that goes with it. */
    const double over = worst->over_range.high,
                 highest = fmin(worst->volts.high / low, 1 + over / (over > 0 ? low : high));
    const double least = worst->volts.low, down = 1 - least / (least > 0 ? high : low);
    return fmax(highest, down) * path->reference_counts;
}

/* Conversions of one read: one more than the sweeps throw away, all of them at least. */
static int conversions_of(tl_circuit *c, int signal)
{
    int least = 0;
    for (int i = 0; i < c->plan->sweep_count; i++) {
        for (int j = 0; j < c->plan->sweeps[i].signal_count; j++) {
            const int now = 1 + c->plan->sweeps[i].discard;
            if (c->plan->sweeps[i].signals[j] == signal && (least == 0 || now < least))
                least = now;
        }
    }
    return least > 0 ? least : 1;
}

/* Seconds from one read to the next: what the quickest sweep says, or as fast as its signals can be
 * converted. */
static double period_of(tl_circuit *c, int signal)
{
    const tl_converter *converter = converter_of(c, signal)->part;
    double least = INFINITY;
    for (int i = 0; i < c->plan->sweep_count; i++) {
        const tl_plan_sweep *sweep = &c->plan->sweeps[i];
        bool reads = false;
        int reading = 0;
        for (int j = 0; j < sweep->signal_count; j++) {
            reads = reads || sweep->signals[j] == signal;
            reading += c->plan->signals[sweep->signals[j]].analog;
        }
        const double once = (1 + sweep->discard) * (converter->acquisition[0] + converter->conversion);
        if (reads)
            least = fmin(least, fmax(sweep->every, reading * once));
    }
    return least;
}

/* --- the network --- */

/* What still holds the channel before: the sampling capacitor, and behind a multiplexer every common line. */
static void hold_before(tl_circuit *c, int signal, const settling *s)
{
    const tl_island *island = s->island;
    int at = c->plan->signals[signal].pin;
    s->start[tl_island_index(island, s->nodes->sampled)] = 1;
    if (c->plan->pins[at].mux == TL_NONE)
        return;
    s->start[tl_island_index(island, s->nodes->pin)] = s->start[tl_island_index(island, s->nodes->common)] =
        1;
    for (; c->plan->pins[at].mux != TL_NONE; at = c->plan->muxes[c->plan->pins[at].mux].common) {
        const int common = tl_island_index(island, c->mux_common[c->plan->pins[at].mux]);
        if (common != TL_NET_NONE)
            s->start[common] = 1;
    }
}

static bool begin(settling *s, tl_circuit *c, int signal, const tl_worst_case *worst, tl_analog_path *path)
{
    tl_island *island = tl_island_view(c->signals[signal].island, true);
    const size_t size = (size_t)tl_island_size(island);
    *s = (settling){.nodes = &c->signals[signal],
                    .island = island,
                    .away = counts_away(c, signal, worst, path),
                    .conversion = converter_of(c, signal)->part->conversion,
                    .conversions = path->conversions,
                    .period = period_of(c, signal)};
    const bool waits = c->plan->pins[c->plan->signals[signal].pin].mux != TL_NONE || s->conversions > 1 ||
                       isfinite(s->period);
    bool good = true;
    s->ends = has_two_ends(c) ? 2 : 1;
    for (int end = 0; end < s->ends; end++) {
        s->decay[end] = waits ? NULL : decay_of(c, signal, island, &worst->source_ohms, end);
        if (s->decay[end] != NULL)
            continue;
        s->joined[end] = network(c, signal, island, &worst->source_ohms, end, true);
        s->apart[end] = waits ? network(c, signal, island, &worst->source_ohms, end, false) : NULL;
        good = good && s->joined[end] != NULL && (!waits || s->apart[end] != NULL);
    }
    s->start = tl_alloc(size, sizeof *s->start);
    s->volts = tl_alloc(size, sizeof *s->volts);
    hold_before(c, signal, s);
    return good;
}

static void finish(settling *s)
{
    for (int end = 0; end < 2; end++) {
        tl_decay_free(s->decay[end]);
        tl_transient_free(s->joined[end]);
        tl_transient_free(s->apart[end]);
    }
    free(s->start);
    free(s->volts);
}

/* One read: the line alone, then every conversion; volts on the sampling capacitor. */
static double read_once(const settling *s, int end, double dwell, double acquisition)
{
    if (dwell > 0)
        tl_transient_step(s->apart[end], dwell, s->volts);
    for (int i = 0; i < s->conversions; i++) {
        if (i > 0 && s->conversion > 0)
            tl_transient_step(s->apart[end], s->conversion, s->volts);
        tl_transient_step(s->joined[end], acquisition, s->volts);
    }
    return s->volts[tl_island_index(s->island, s->nodes->sampled)];
}

/* What a read finds after ever this many of them: from three in a row, along one exponential. */
static double read_pumped(const settling *s, int end, double dwell, double acquisition)
{
    enum { PERIODS = 6 };
    const int size = tl_island_size(s->island);
    const double rest =
        s->period - dwell - s->conversions * acquisition - (s->conversions - 1) * s->conversion;
    double last[3] = {0, 0, 0};
    for (int i = 0; i < PERIODS; i++) {
        last[0] = last[1];
        last[1] = last[2];
        last[2] = read_once(s, end, dwell, acquisition);
        if (rest > 0)
            tl_transient_step(s->apart[end], rest, s->volts);
        for (int node = 0; node < size; node++) { /* the channel before comes back to what holds it */
            if (s->start[node] != 0)
                s->volts[node] = s->start[node];
        }
    }
    const double grown = last[2] - last[1], before = last[1] - last[0];
    const double ratio = before != 0 ? grown / before : 0;
    return ratio > 0 && ratio < 1 ? last[2] + grown * ratio / (1 - ratio) : last[2];
}

/* Counts that are left on the sampling capacitor, the worse end of the tolerances. */
static double counts_left(const settling *s, double dwell, double acquisition)
{
    const size_t size = (size_t)tl_island_size(s->island) * sizeof *s->volts;
    double most = 0;
    for (int end = 0; end < s->ends; end++) {
        memcpy(s->volts, s->start, size);
        const double left = s->decay[end] != NULL ? tl_decay_left(s->decay[end], acquisition)
                            : isfinite(s->period) ? read_pumped(s, end, dwell, acquisition)
                                                  : read_once(s, end, dwell, acquisition);
        most = fmax(most, fabs(left));
    }
    return most * s->away;
}

/* The shortest dwell, or acquisition, with which so little is left; the other of them is given. To a per
 * mille; INFINITY where none does. */
static double time_for(const settling *s, bool of_dwell, double other)
{
    static const double longest = 10;
    double low = 0, high = 1e-10;
    if (counts_left(s, of_dwell ? 0 : other, of_dwell ? other : 0) <= wanted_counts)
        return 0;
    if (counts_left(s, of_dwell ? longest : other, of_dwell ? other : longest) > wanted_counts)
        return INFINITY;
    while (counts_left(s, of_dwell ? high : other, of_dwell ? other : high) > wanted_counts) {
        low = high;
        high *= 2;
    }
    while (high - low > 1e-3 * high) {
        const double middle = (low + high) / 2;
        if (counts_left(s, of_dwell ? middle : other, of_dwell ? other : middle) > wanted_counts)
            low = middle;
        else
            high = middle;
    }
    return high;
}

static double dwell_for(const settling *s, double acquisition)
{
    return time_for(s, true, acquisition);
}

/* --- what is chosen --- */

static bool may_be(const tl_located *wanted, double acquisition)
{
    return !wanted->given || acquisition >= wanted->value.nominal * (1 - 1e-9);
}

/* Behind a multiplexer whose dwell is left open: the pair that takes the least time. */
static void choose_pair(const settling *s, const tl_converter *converter, const tl_located *wanted,
                        tl_analog_path *path)
{
    double least = INFINITY;
    for (int i = 0; i < converter->acquisition_count; i++) {
        const double acquisition = converter->acquisition[i];
        const double dwell = may_be(wanted, acquisition) ? dwell_for(s, acquisition) : INFINITY;
        if (!(acquisition + dwell < least)) /* none will do: the longest, or the one that is required */
            continue;
        least = acquisition + dwell;
        path->acquisition = acquisition;
        path->dwell = path->dwell_needed = dwell;
        if (wanted->given)
            break;
    }
    if (isfinite(least))
        return;
    path->acquisition = converter->acquisition[converter->acquisition_count - 1];
    for (int i = converter->acquisition_count - 1; i >= 0 && wanted->given; i--) {
        if (may_be(wanted, converter->acquisition[i]))
            path->acquisition = converter->acquisition[i];
    }
    /* A longer dwell gains nothing once the line itself is there. */
    path->dwell = 1e-9;
    while (path->dwell < 10 && counts_left(s, path->dwell, path->acquisition) >
                                   1.001 * counts_left(s, 10, path->acquisition) + 0.01)
        path->dwell *= 1.25;
    path->dwell_needed = path->dwell;
}

/* The shortest acquisition offered that is enough after this dwell, or no shorter than the plan says. */
static void choose_acquisition(const settling *s, const tl_converter *converter, const tl_located *wanted,
                               double dwell, tl_analog_path *path)
{
    path->dwell = dwell;
    for (int i = 0; i < converter->acquisition_count; i++) {
        path->acquisition = converter->acquisition[i];
        if (wanted->given ? may_be(wanted, path->acquisition)
                          : counts_left(s, dwell, path->acquisition) <= wanted_counts)
            break;
    }
}

tl_net_status settle_path(tl_circuit *c, int signal, const tl_worst_case *worst, tl_analog_path *path)
{
    const tl_signal *described = &c->plan->signals[signal];
    const tl_converter *converter = converter_of(c, signal)->part;
    const int mux = c->plan->pins[described->pin].mux;
    const double given = mux != TL_NONE ? c->plan->muxes[mux].dwell : 0;
    path->acquisition = converter->acquisition_count > 0 ? converter->acquisition[0] : 0;
    path->dwell = isnan(given) ? 0 : given;
    path->before = TL_NONE;
    path->conversions = conversions_of(c, signal);
    if (c->signals[signal].sampled == TL_NET_NONE || converter->acquisition_count == 0)
        return TL_NET_SOLVED; /* a converter whose file says nothing of its sampling settles by itself */
    settling s;
    const bool solved = begin(&s, c, signal, worst, path);
    if (solved && isnan(given)) {
        choose_pair(&s, converter, &described->acquisition, path);
    } else if (solved) {
        choose_acquisition(&s, converter, &described->acquisition, given, path);
        path->dwell_needed = mux != TL_NONE ? dwell_for(&s, path->acquisition) : 0;
        if (isinf(path->dwell_needed)) /* the acquisition is what is too short */
            path->dwell_needed = given;
    }
    if (solved)
        path->settling_counts = counts_left(&s, path->dwell, path->acquisition);
    finish(&s);
    return solved ? TL_NET_SOLVED : TL_NET_SHORTED;
}

double settle_needed(tl_circuit *c, int signal, const tl_analog_path *path)
{
    const tl_worst_case *worst = tl_circuit_worst_case(c, signal, 0);
    double needed = 0;
    if (path->fault != TL_NET_SOLVED || c->signals[signal].sampled == TL_NET_NONE ||
        converter_of(c, signal)->part->acquisition_count == 0)
        return 0;
    settling s;
    tl_analog_path again = *path;
    if (begin(&s, c, signal, worst, &again))
        needed = time_for(&s, false, path->dwell);
    finish(&s);
    return needed;
}

/* --- after a step of the source --- */

/* Seconds until such a share is left at the pin: from where it started to where it rests at 0. */
static double settles_from(tl_transient *still, const double *start, double *volts, int size, int pin,
                           double share)
{
    static const double longest = 1e6;
    const double wanted = share * fabs(start[pin]);
    double low = 0, high = 1e-12;
    bool found = false;
    while (high < longest && !(found && high - low <= 1e-9 * high)) {
        const double at = found ? (low + high) / 2 : high;
        memcpy(volts, start, (size_t)size * sizeof *volts);
        tl_transient_step(still, at, volts);
        if (fabs(volts[pin]) <= wanted) {
            found = true;
            high = at;
        } else {
            low = at;
            high = found ? high : 2 * high;
        }
    }
    return found ? high : INFINITY;
}

double tl_circuit_settles_in(tl_circuit *c, int signal, double share)
{
    const tl_signal_nodes *nodes = &c->signals[signal];
    const tl_worst_case *worst = tl_circuit_worst_case(c, signal, 0);
    double seconds = NAN;
    if (worst->fault != TL_NET_SOLVED || nodes->unknown == TL_NET_NONE)
        return NAN;
    tl_island *island = tl_island_view(nodes->island, true);
    const int size = tl_island_size(island), pin = tl_island_index(island, nodes->pin);
    double *values = values_of_network(c, island, &worst->source_ohms, 1);
    double *start = tl_alloc((size_t)size, sizeof *start), *volts = tl_alloc((size_t)size, sizeof *volts);
    const tl_net_state state = {values, tl_circuit_state(c, signal, 0)};
    tl_transient *still = tl_transient_new(island, &state);
    values[nodes->unknown] = 1; /* until now it gave one of its units */
    tl_transient *before = tl_transient_new(island, &state);
    if (still != NULL && before != NULL) {
        tl_transient_settle(before, start);
        seconds = settles_from(still, start, volts, size, pin, share);
    }
    tl_transient_free(before);
    tl_transient_free(still);
    free(values);
    free(start);
    free(volts);
    return seconds;
}

void tl_circuit_charge_taken(tl_circuit *c, int signal, double rate, double *at_once, double *steadily)
{
    const double sampled = converter_of(c, signal)->part->sample_farads,
                 farads = tl_circuit_pin_farads(c, signal),
                 drawn = tl_circuit_worst_case(c, signal, 0)->source_ohms.high * sampled * rate;
    *at_once = sampled / (sampled + farads);
    *steadily = drawn / (1 + drawn);
}
