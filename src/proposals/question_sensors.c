/* SPDX-License-Identifier: MIT */
/* Smallest plans of what stands at a sensor: divider, partner, feed, load of a loop, follower. */
#include "proposals/question.h"
#include <string.h>

/* Volts at the pin with all parameters in the middle but for up to two. */
static double volts_with(const asked_circuit *a, int first, double first_value, int second,
                         double second_value)
{
    tl_circuit *c = a->circuit;
    const size_t count = (size_t)tl_net_param_count(c->net);
    double *values = tl_alloc(count, sizeof *values), volts = NAN;
    memcpy(values, c->nominal, count * sizeof *values);
    values[first] = first_value;
    if (second != TL_NET_NONE)
        values[second] = second_value;
    volts = tl_circuit_volts_of(c, a->signal, values);
    free(values);
    return volts;
}

static int param_of(const asked_circuit *a, const char *path)
{
    return tl_circuit_param(a->circuit, path);
}

static double watts_of(const asked_circuit *a, const char *part, const tl_leg *leg)
{
    const tl_quantity ohms = {leg->low, leg->nominal, leg->high, true};
    return tl_circuit_resistor_watts(a->circuit, a->signal, part_of(a, part), &ohms);
}

static void write_voltage(FILE *to, const tl_quantity *volts, double ohms)
{
    fprintf(to, "signals:\n  signal:\n    source: {voltage: ");
    write_range(to, volts, "V");
    if (ohms > 0)
        fprintf(to, ", resistance: %s", written(ohms, "ohm"));
    fprintf(to, "}\n    stages:\n");
}

/* --- divider --- */

static void take_divider(const void *requirement, asked_pin *pin)
{
    const tl_divider_requirement *w = requirement;
    pin->highest = or_else(w->limit, pin->highest);
    pin->reference = or_else(w->reference, w->limit);
    pin->leakage = w->leakage;
    if (!is_said(pin->rail.nominal))
        pin->rail = (tl_quantity){pin->reference, pin->reference, pin->reference, false};
}

static void write_divider(const asked_text *t)
{
    static const char *const names[] = {NULL};
    const tl_divider_requirement *w = t->question->requirement;
    write_voltage(t->to, &w->source, w->source_ohms);
    write_choice(t, 6, names);
    if (isfinite(w->load_ohms))
        fprintf(t->to, "      - load: %s ±0 %%\n", written(w->load_ohms, "ohm"));
    fprintf(t->to, "    pin: pin-0\n");
}

static void measure_divider(const asked_circuit *a, tl_choice *c)
{
    const tl_divider_requirement *w = a->question->requirement;
    const tl_worst_case *worst = worst_of(a, 0);
    const tl_leg *upper = &c->part[0], *lower = &c->part[1];
    const double limit = fmin(or_else(w->limit, w->reference), or_else(w->reference, w->limit));
    const double heat[2] = {watts_of(a, "divider.upper", upper), watts_of(a, "divider.lower", lower)};
    const bool in_upper = isinf(upper->watts) && isinf(lower->watts)
                              ? heat[0] > heat[1]
                              : heat[0] / upper->watts > heat[1] / lower->watts;
    double off = NAN, metered = NAN;
    const tl_net_state as_written = {a->circuit->nominal, tl_circuit_state(a->circuit, a->signal, 0)};
    (void)tl_circuit_metered(a->circuit, &as_written, a->circuit->signals[a->signal].pin, w->meter_ohms, &off,
                             &metered);
    put_figure(c, TL_FIG_TAP_LOWEST, worst->volts.low);
    put_figure(c, TL_FIG_TAP_HIGHEST, worst->volts.high);
    put_figure(c, is_said(w->least_share) ? TL_FIG_OF_THE_LIMIT_LEAST : TL_FIG_OF_THE_LIMIT,
               100 * worst->volts.high / limit);
    put_figure(c, TL_FIG_CURRENT, amperes_in(a, 0, "divider.upper").high);
    put_figure(c, TL_FIG_SOURCE_RESISTANCE, worst->source_ohms.high);
    put_figure(c, TL_FIG_POWER_IN_A_LEG, heat[!in_upper]);
    put_figure(c, TL_FIG_METER_SHOWS, metered);
}

/* --- partner --- */

static void take_partner(const void *requirement, asked_pin *pin)
{
    const tl_partner_requirement *w = requirement;
    pin->rail = w->rail;
    pin->bits = w->bits;
    if (is_said(w->limit))
        pin->reference = w->limit;
}

static void write_partner(const asked_text *t)
{
    static const char *const names[] = {"RAIL", "logic", NULL};
    const tl_partner_requirement *w = t->question->requirement;
    fprintf(t->to, "signals:\n  signal:\n    source: {resistance: ");
    write_range(t->to, &w->sensor, "ohm");
    fprintf(t->to, "%s}\n    stages:\n", w->leg == 0 ? ", to: logic" : "");
    write_choice(t, 6, names);
    fprintf(t->to, "    pin: pin-0\n");
}

/* Of the rail, between both ends of the sensor, the partner having this many ohms. */
static double swing_with(const asked_circuit *a, double partner)
{
    const tl_partner_requirement *w = a->question->requirement;
    const int sensor = a->circuit->signals[a->signal].unknown, fixed = param_of(a, "signal.partner");
    return fabs(volts_with(a, sensor, w->sensor.low, fixed, partner) -
                volts_with(a, sensor, w->sensor.high, fixed, partner)) /
           w->rail.nominal;
}

/* Around this many ohms of the sensor, a ten-thousandth to either side. */
static double counts_per_ohm(const asked_circuit *a, double ohms, double partner)
{
    static const double by = 1e-4;
    const tl_partner_requirement *w = a->question->requirement;
    const int sensor = a->circuit->signals[a->signal].unknown, fixed = param_of(a, "signal.partner");
    const double up = volts_with(a, sensor, ohms * (1 + by), fixed, partner),
                 down = volts_with(a, sensor, ohms * (1 - by), fixed, partner);
    return fabs(up - down) / (2 * by * ohms) / w->rail.nominal * ldexp(1, (int)w->bits);
}

static void measure_partner(const asked_circuit *a, tl_choice *c)
{
    const tl_partner_requirement *w = a->question->requirement;
    const tl_worst_case *worst = worst_of(a, 0);
    const int sensor = a->circuit->signals[a->signal].unknown;
    const tl_leg *partner = &c->part[0];
    const tl_bounds amperes = amperes_in(a, 0, "partner"),
                    shorted = bounds_at(a, TL_ASK_AMPERES, part_of(a, "partner"), sensor, 0);
    /* Heat in the sensor peaks where it equals its partner; a smaller partner only adds to it. */
    const double hottest = fmin(fmax(partner->low, w->sensor.low), w->sensor.high);
    put_figure(c, TL_FIG_SWING, 100 * fmin(swing_with(a, partner->low), swing_with(a, partner->high)));
    put_figure(c, TL_FIG_TAP_LOWEST, worst->volts.low);
    put_figure(c, TL_FIG_TAP_HIGHEST, worst->volts.high);
    put_figure(c, TL_FIG_CURRENT, fmax(fabs(amperes.low), fabs(amperes.high)));
    put_figure(c, TL_FIG_CURRENT_AT_0_OHM, fmax(fabs(shorted.low), fabs(shorted.high)));
    put_figure(c, TL_FIG_SOURCE_RESISTANCE, worst->source_ohms.high);
    const double watts = bounds_at(a, TL_ASK_WATTS, part_of(a, "source.resistance"), sensor, hottest).high;
    put_figure(c, TL_FIG_HEAT_IN_SENSOR, watts);
    put_figure(c, TL_FIG_COUNTS_PER_OHM_LOW_END, counts_per_ohm(a, w->sensor.low, partner->nominal));
    put_figure(c, TL_FIG_COUNTS_PER_OHM_HIGH_END, counts_per_ohm(a, w->sensor.high, partner->nominal));
    put_figure(c, TL_FIG_COUNTS_PER_OHM_WANTED,
               fmin(counts_per_ohm(a, w->at, partner->low), counts_per_ohm(a, w->at, partner->high)));
    put_figure(c, TL_FIG_WARMS_ITSELF_BY, w->kelvins_per_watt * watts);
}

/* --- feed --- */

static void take_feed(const void *requirement, asked_pin *pin)
{
    const tl_feed_requirement *w = requirement;
    pin->highest = w->limit;
    pin->reference = fmin(or_else(pin->reference, w->limit), w->limit);
    if (!is_said(pin->rail.nominal))
        pin->rail = (tl_quantity){w->limit, w->limit, w->limit, false};
}

/* The other tracks as one: at the worst corners all of them stand alike. */
static void write_feed(const asked_text *t)
{
    static const char *const names[] = {"RAIL", "above", NULL};
    const tl_feed_requirement *w = t->question->requirement;
    const double others = w->tracks - 1;
    fprintf(t->to, "supplies: {above: ");
    write_range(t->to, &w->rail, "V");
    fprintf(t->to, "}\n");
    write_choice(t, 0, names);
    fprintf(t->to, "signals:\n  signal:\n    source: {potentiometer: ");
    write_range(t->to, &w->track, "ohm");
    fprintf(t->to, ", top: top}\n    pin: pin-0\n");
    if (others < 1)
        return;
    const tl_quantity together = {w->track.low / others, w->track.nominal / others, w->track.high / others,
                                  true};
    fprintf(t->to, "  others:\n    source: {potentiometer: ");
    write_range(t->to, &together, "ohm");
    fprintf(t->to, ", top: top}\n    pin: pin-1\n");
}

static void measure_feed(const asked_circuit *a, tl_choice *c)
{
    const tl_feed_requirement *w = a->question->requirement;
    const tl_bounds top = bounds_of(a, 0, TL_ASK_VOLTS, node_of(a, "top"));
    const int feed = tl_net_find_part(a->circuit->net, TL_VIEW_BELIEVED, "top.series");
    const tl_quantity ohms = {c->part[0].low, c->part[0].nominal, c->part[0].high, true};
    put_figure(c, TL_FIG_TOP_LOWEST, top.low);
    put_figure(c, TL_FIG_TOP_HIGHEST, top.high);
    put_figure(c, TL_FIG_OF_THE_LIMIT, 100 * top.high / w->limit);
    put_figure(c, TL_FIG_CURRENT, bounds_of(a, 0, TL_ASK_AMPERES, feed).high);
    put_figure(c, TL_FIG_SOURCE_RESISTANCE, worst_of(a, 0)->source_ohms.high);
    put_figure(c, TL_FIG_FEED_POWER, tl_circuit_resistor_watts(a->circuit, a->signal, feed, &ohms));
}

/* --- loop --- */

static void take_loop(const void *requirement, asked_pin *pin)
{
    const tl_loop_requirement *w = requirement;
    pin->highest = w->limit;
    pin->reference = or_else(w->reference, w->limit);
    pin->bits = w->bits;
    if (!is_said(pin->rail.nominal))
        pin->rail = (tl_quantity){pin->reference, pin->reference, pin->reference, false};
}

static void write_loop(const asked_text *t)
{
    static const char *const names[] = {NULL};
    const tl_loop_requirement *w = t->question->requirement;
    const bool supplied = is_said(w->supply.nominal);
    if (supplied) {
        fprintf(t->to, "supplies: {loop: ");
        write_range(t->to, &w->supply, "V");
        fprintf(t->to, "}\n");
    }
    fprintf(t->to, "signals:\n  signal:\n    source: {current: 4 mA .. 20 mA");
    if (supplied)
        fprintf(t->to, ", supply: loop, compliance: %s", written(w->compliance, "V"));
    fprintf(t->to, "}\n    stages:\n");
    if (w->wire_ohms + w->meter_ohms > 0)
        fprintf(t->to, "      - series: %s ±0 %%\n", written(w->wire_ohms + w->meter_ohms, "ohm"));
    write_choice(t, 6, names);
    fprintf(t->to, "    pin: pin-0\n");
}

static void measure_loop(const asked_circuit *a, tl_choice *c)
{
    const tl_loop_requirement *w = a->question->requirement;
    const tl_signal_nodes *nodes = &a->circuit->signals[a->signal];
    const int load = param_of(a, "signal.load");
    const double least = c->part[0].low, reference = or_else(w->reference, w->limit);
    const double makes =
        volts_with(a, nodes->unknown, 0.020, load, least) - volts_with(a, nodes->unknown, 0.004, load, least);
    put_figure(c, TL_FIG_AT_4_MA, bounds_at(a, TL_ASK_VOLTS, nodes->pin, nodes->unknown, 0.004).low);
    put_figure(c, TL_FIG_AT_20_MA, bounds_at(a, TL_ASK_VOLTS, nodes->pin, nodes->unknown, 0.020).high);
    put_figure(c, TL_FIG_FAULT_AT_21_MA, bounds_at(a, TL_ASK_VOLTS, nodes->pin, nodes->unknown, 0.021).high);
    put_figure(c, TL_FIG_AT_THE_MOST,
               bounds_at(a, TL_ASK_VOLTS, nodes->pin, nodes->unknown, w->most_amperes).high);
    const double reached = fmin(w->most_amperes, 0.021); /* what a transmitter's own fault signal is */
    put_figure(c, TL_FIG_4_TO_20_MA_MAKES, makes / reference * ldexp(1, (int)w->bits));
    if (is_said(w->supply.nominal))
        put_figure(c, TL_FIG_LEFT_FOR_THE_LOOP,
                   w->supply.low - bounds_at(a, TL_ASK_VOLTS, nodes->source, nodes->unknown, reached).high);
    put_figure(c, TL_FIG_POWER,
               bounds_at(a, TL_ASK_WATTS, part_of(a, "load"), nodes->unknown, w->most_amperes).high);
    if (!is_said(w->supply.nominal))
        return;
    tl_bounds volts, watts;
    const double amperes = tl_circuit_shorted_loop(a->circuit, a->signal, part_of(a, "load"), &volts, &watts);
    put_figure(c, TL_FIG_SHORTED_CURRENT, amperes);
    put_figure(c, TL_FIG_SHORTED_AT_THE_PIN, volts.high);
    put_figure(c, TL_FIG_SHORTED_POWER, watts.high);
}

/* --- follower --- */

static void take_follower(const void *requirement, asked_pin *pin)
{
    const tl_follower_requirement *w = requirement;
    pin->highest = w->limit;
    pin->reference = or_else(w->converter.reference, w->limit);
    pin->bits = w->converter.bits;
    pin->sample_farads = w->converter.sample_farads;
    pin->switch_ohms = w->converter.switch_ohms;
    pin->acquisition = w->converter.acquisition;
    pin->farads = w->converter.pin_farads;
    if (!is_said(pin->rail.nominal))
        pin->rail = (tl_quantity){pin->reference, pin->reference, pin->reference, false};
}

static void write_follower(const asked_text *t)
{
    static const char *const names[] = {"RAIL", "amplifier", NULL};
    const tl_follower_requirement *w = t->question->requirement;
    fprintf(t->to, "supplies: {amplifier: ");
    write_range(t->to, &w->supply, "V");
    fprintf(t->to, "}\n");
    write_voltage(t->to, &w->source, w->source_ohms);
    if (t->choice->plan[0] != '\0')
        write_choice(t, 6, names);
    else
        fprintf(t->to, "      []\n");
    fprintf(t->to, "    pin: pin-0\n");
}

static void measure_follower(const asked_circuit *a, tl_choice *c)
{
    const tl_follower_requirement *w = a->question->requirement;
    const tl_signal_nodes *nodes = &a->circuit->signals[a->signal];
    const tl_worst_case *worst = worst_of(a, 0);
    const int out = node_of(a, "signal.follower");
    put_figure(c, TL_FIG_SOURCE_RESISTANCE, worst->source_ohms.high);
    put_figure(c, TL_FIG_AT_THE_PIN, worst->volts.high);
    tl_ask settle = tl_ask_of(TL_ASK_SETTLE, a->signal, 0, TL_NET_NONE);
    settle.at = ldexp(1, -(int)w->converter.bits - 1); /* half a count of the whole range */
    put_figure(c, TL_FIG_FOLLOWS_A_STEP_IN, bounds_for(a, &settle).high);
    if (out == TL_NET_NONE)
        return;
    const tl_bounds input = bounds_of(a, 0, TL_ASK_VOLTS, nodes->source),
                    output = bounds_of(a, 0, TL_ASK_VOLTS, out);
    const double error = output.high - w->source.high;
    put_figure(c, TL_FIG_INPUT_HIGHEST, input.high);
    put_figure(c, TL_FIG_INPUT_LOWEST, input.low);
    put_figure(c, TL_FIG_OUTPUT_HIGHEST, output.high);
    put_figure(c, TL_FIG_BIAS_AND_OFFSET_COST, error);
    put_figure(c, TL_FIG_OF_IT_IN_COUNTS, error / w->converter.reference * ldexp(1, (int)w->converter.bits));
    /* Without a signal the output may stand at its supply. */
    put_figure(c, TL_FIG_AT_THE_PIN,
               bounds_at(a, TL_ASK_VOLTS, nodes->pin, nodes->unknown, w->supply.high - w->out_high).high);
}

const question_kind sensor_questions[] = {
    {"divider", take_divider, write_divider, measure_divider, NULL},
    {"partner", take_partner, write_partner, measure_partner, NULL},
    {"feed", take_feed, write_feed, measure_feed, NULL},
    {"loop", take_loop, write_loop, measure_loop, NULL},
    {"follower", take_follower, write_follower, measure_follower, NULL},
    {0},
};
