/* SPDX-License-Identifier: MIT */
/* Smallest plans of what is on the way: level shifters, multiplexers, button ladders, filters,
 * reservoirs. */
#include "proposals/question.h"
#include <string.h>

/* --- shift --- */

static void take_shift(const void *requirement, asked_pin *pin)
{
    const tl_shift_requirement *w = requirement;
    pin->rail = w->to;
    /* The limit is meant at the lowest supply, and follows it. */
    pin->over = is_said(w->limit) ? w->limit - w->to.low : pin->over;
    pin->highest = pin->over < 0 ? w->limit : (double)NAN;
    pin->vil = w->vil;
    pin->vih = w->vih;
    pin->vil_share = w->vil_share;
    pin->vih_share = w->vih_share;
    pin->leakage = w->leakage;
    pin->injection = w->injection > 0 ? w->injection : (double)NAN;
    pin->farads = 0; /* it is in the requirement's, a cable here */
}

static void write_shift(const asked_text *t)
{
    const tl_shift_requirement *w = t->question->requirement;
    const char *const names[] = {"RAIL", "logic", "FROM",  "from",
                                 "TO",   "logic", "LOWER", w->from.low < w->to.low ? "from" : "logic",
                                 NULL};
    fprintf(t->to, "supplies: {from: ");
    if (w->receiver_off != 0) {
        fprintf(t->to, "{voltage: ");
        write_range(t->to, &w->from, "V");
        fprintf(t->to, ", live: always}");
    } else {
        write_range(t->to, &w->from, "V");
    }
    /* Two bits make one period. */
    fprintf(t->to, "}\nsignals:\n  signal:\n    source: ");
    if (w->open_drain != 0)
        fprintf(t->to, "{open-collector: ground, saturation: %s, on: %s", written(w->vol, "V"),
                written(w->drives, "A"));
    else
        fprintf(t->to, "{logic: from, low: %s, high: %s, drives: %s", written(w->vol, "V"),
                written(or_else(w->voh, w->from.low - 0.4), "V"), written(w->drives, "A"));
    fprintf(t->to, ", rate: %s}\n    stages:\n", written(w->bits_per_second / 2, "Hz"));
    if (t->choice->plan[0] != '\0')
        write_choice(t, 6, names);
    fprintf(t->to, "      - cable: %s\n    pin: line-0\n    reading: {steady: 0 s}\n",
            written(w->farads, "F"));
}

static double rail_amperes(const asked_circuit *a, int state, int rail)
{
    const tl_ask ask = tl_ask_of(TL_ASK_RAIL_AMPERES, a->signal, state, rail);
    const double most = tl_circuit_most(a->circuit, &ask);
    return isnan(most) ? 0 : most;
}

/* What the driver gives or takes at most: itself, or the level that its shifter lends from it. */
static double driver_amperes(const asked_circuit *a, int high)
{
    const tl_signal_nodes *nodes = &a->circuit->signals[a->signal];
    const bool inverts = tl_net_find_node(a->circuit->net, "signal.shifter.base") != TL_NET_NONE;
    const int lent = inverts ? TL_NET_NONE : tl_net_find_node(a->circuit->net, "signal.shifter.on");
    return inverts ? rail_amperes(a, high, high == 1 ? nodes->on_rail : nodes->off_rail)
                   : fmax(fmax(rail_amperes(a, 1, nodes->on_rail), rail_amperes(a, 0, nodes->off_rail)),
                          rail_amperes(a, 1, lent));
}

/* By the slower of its pulls. */
static double bus_rise(const asked_circuit *a)
{
    static const char *const pulls[] = {"signal.pull", "signal.pull-2"};
    double most = NAN;
    for (int i = 0; i < 2; i++) {
        double low, high;
        const int pull = tl_circuit_param(a->circuit, pulls[i]);
        if (pull == TL_NET_NONE)
            continue;
        tl_net_param_span(a->circuit->net, pull, &low, &high);
        most = fmax(most, high);
    }
    return tl_bus_rise_share * most * tl_circuit_line_farads(a->circuit, a->signal, TL_ALL_SIDES);
}

static void measure_shift(const asked_circuit *a, tl_choice *c)
{
    const tl_shift_requirement *w = a->question->requirement;
    const tl_signal *s = &a->circuit->plan->signals[a->signal];
    const tl_signal_nodes *nodes = &a->circuit->signals[a->signal];
    const int high = tl_signal_closes_low(s) ? 0 : 1, given = tl_source_closes_low(&s->source) ? 0 : 1;
    const double amperes = driver_amperes(a, given);
    put_figure(c, TL_FIG_HIGH_MARGIN, worst_of(a, high)->above_vih.low);
    put_figure(c, TL_FIG_LOW_MARGIN, -worst_of(a, 1 - high)->above_vil.high);
    put_figure(c, TL_FIG_AT_THE_RECEIVER, fmax(worst_of(a, 0)->volts.high, worst_of(a, 1)->volts.high));
    put_figure(c, TL_FIG_INJECTED, tl_circuit_clamp_amperes(a->circuit, a->signal, high, true));
    put_figure(c, TL_FIG_RISES_IN, tl_circuit_edge(a->circuit, a->signal, high));
    put_figure(c, TL_FIG_RISE_TIME, bus_rise(a));
    put_figure(c, TL_FIG_FALLS_IN, tl_circuit_edge(a->circuit, a->signal, 1 - high));
    /* Into a diode of its own the driver gives what the diode carries. */
    const bool clamped = !isnan(figure_in(c, TL_FIG_ABOVE_THE_SUPPLY));
    put_figure(c, TL_FIG_DRIVER_GIVES,
               clamped ? tl_circuit_clamp_amperes(a->circuit, a->signal, high, true) : amperes);
    put_figure(c, TL_FIG_DRIVER_TAKES, amperes);
    put_figure(c, TL_FIG_HIGH_MARGIN_BACK,
               bounds_of(a, 0, TL_ASK_VOLTS, nodes->source).low -
                   or_else(w->vih_back, tl_vih_share * w->from.high));
    const tl_bounds base =
        bounds_of(a, given, TL_ASK_RAIL_AMPERES, tl_net_find_node(a->circuit->net, "signal.shifter.base"));
    put_figure(c, TL_FIG_BASE_CURRENT_LEAST, -base.high);
}

/* --- mux --- */

static void take_converter(const tl_size_converter *converter, asked_pin *pin)
{
    pin->reference = or_else(converter->reference, pin->reference);
    pin->bits = converter->bits;
    pin->sample_farads = converter->sample_farads;
    pin->switch_ohms = converter->switch_ohms;
    pin->acquisition = converter->acquisition;
    if (!is_said(pin->reference))
        pin->reference = 1;
    if (!is_said(pin->rail.nominal))
        pin->rail = (tl_quantity){pin->reference, pin->reference, pin->reference, false};
}

static void take_mux(const void *requirement, asked_pin *pin)
{
    const tl_mux_requirement *w = requirement;
    take_converter(&w->converter, pin);
    pin->leakage = w->pin_leakage;
    pin->conversion = w->conversion;
    pin->farads = w->converter.pin_farads;
}

static void write_mux_part(const tl_question *question, FILE *to)
{
    const tl_mux_requirement *w = question->requirement;
    fprintf(to, "tinyladder: mux 1\ntitle: the part\ninputs: %.0f\nenable: %s\non-resistance: ", w->inputs,
            w->enable_low != 0 ? "low" : "high");
    write_range(to, &w->on_ohms, "ohm");
    fprintf(to, "\nsignals: -1 V .. rail + 1 V\n"); /* what it passes was not asked */
    if (w->off_leakage > 0)
        fprintf(to, "leakage: ±%s\n", written(w->off_leakage, "A"));
    if (w->common_farads > 0)
        fprintf(to, "capacitance: %s\n", written(w->common_farads, "F"));
}

/* The source ends where leakage cannot push it beyond the reference; what settles still comes from the span's
 * other end. */
static void write_mux(const asked_text *t)
{
    const tl_mux_requirement *w = t->question->requirement;
    const double dwell = figure_in(t->choice, TL_FIG_DWELL);
    const double used = or_else(w->used, fmax(w->inputs, w->source_ohms.count));
    double worst = 0, reach = w->inputs;
    int levels = 1, line = 0;
    for (int i = 0; i < w->source_ohms.count; i++)
        worst = fmax(worst, w->source_ohms.of[i]);
    while (reach < used) {
        reach *= w->inputs;
        levels++;
    }
    fprintf(t->to, "muxes:\n");
    for (int level = 1; level <= levels; level++) {
        fprintf(t->to, "  mux-%d:\n    part: asked.mux.yaml\n    supply: logic\n    select: [", level);
        for (int i = 0; ldexp(1, i) < w->inputs; i++)
            fprintf(t->to, "%sline-%d", i > 0 ? ", " : "", line++);
        fprintf(t->to, "]\n    enable: %s\n    dwell: %s\n    tied: {1 .. %.0f: ground}\n    common: ",
                w->enable_low != 0 ? "ground" : "logic", written(dwell, "s"), w->inputs - 1);
        fprintf(t->to, level == 1 ? "pin-0\n" : "mux-%d.0\n", level - 1);
    }
    fprintf(t->to, "signals:\n  signal:\n    source: {voltage: 0 V .. %s",
            written(0.9 * or_else(w->converter.reference, 1), "V"));
    if (worst > 0)
        fprintf(t->to, ", resistance: %s", written(worst, "ohm"));
    fprintf(t->to, "}\n    pin: mux-%d.0\n    acquisition: %s\n", levels,
            written(figure_in(t->choice, TL_FIG_ACQUISITION), "s"));
    if (t->choice->conversions > 1)
        fprintf(t->to, "sweeps: {sweep: {signals: [signal], discard: %d}}\n", t->choice->conversions - 1);
}

/* Volts that everything but the source moves the pin by, away from what the source gives. */
static double volts_off(const asked_circuit *a)
{
    const tl_signal_nodes *nodes = &a->circuit->signals[a->signal];
    const double half = tl_net_param_nominal(a->circuit->net, nodes->unknown);
    const tl_bounds volts = bounds_at(a, TL_ASK_VOLTS, nodes->pin, nodes->unknown, half);
    return fmax(volts.high - half, half - volts.low);
}

static void measure_mux(const asked_circuit *a, tl_choice *c)
{
    const tl_mux_requirement *w = a->question->requirement;
    const tl_analog_path *path = tl_circuit_path(a->circuit, a->signal);
    const double off = volts_off(a);
    put_figure(c, TL_FIG_CROSSTALK_LEFT, path->settling_counts);
    put_figure(c, TL_FIG_LEAKAGE_COSTS, off);
    put_figure(c, TL_FIG_OF_IT_IN_COUNTS, off / w->converter.reference * ldexp(1, (int)w->converter.bits));
}

/* --- ladder --- */

static void take_ladder(const void *requirement, asked_pin *pin)
{
    static const tl_quantity any = {3.3, 3.3, 3.3, false}; /* without leakage all is a share of it */
    const tl_ladder_requirement *w = requirement;
    pin->bits = w->bits;
    pin->leakage = is_said(w->rail.nominal) ? w->leakage : 0;
    pin->errors = w->errors;
    pin->rail = is_said(w->rail.nominal) ? w->rail : any;
    pin->reference = NAN;
    pin->highest = NAN;
}

static void write_ladder(const asked_text *t)
{
    static const char *const names[] = {"RAIL", "logic", NULL};
    const tl_ladder_requirement *w = t->question->requirement;
    fprintf(t->to, "signals:\n  signal:\n");
    write_choice(t, 4, names);
    fprintf(t->to, "    pin: pin-0\n");
    if (is_said(w->apart))
        fprintf(t->to, "    reading: {apart: %.12g counts}\n", w->apart);
}

/* Contacts are closed by 0 ohm in a plan: with more, the closed form says less, and stays. */
static void measure_ladder(const asked_circuit *a, tl_choice *c)
{
    const tl_ladder_requirement *w = a->question->requirement;
    const int states = a->circuit->signals[a->signal].states;
    double least = INFINITY, middle;
    double codes[TL_LADDER_BUTTONS + 1][2];
    for (int i = 0; i < states; i++) {
        tl_interval of;
        if (tl_plan_state_codes(a->circuit, a->signal, i, &of, &middle) != TL_NET_SOLVED)
            return;
        codes[i][0] = of.low;
        codes[i][1] = of.high;
        for (int j = 0; j < i; j++)
            least = fmin(least, fmax(codes[i][0] - codes[j][1], codes[j][0] - codes[i][1]));
    }
    if (w->contact_ohms > 0)
        return;
    put_figure(c, TL_FIG_LEAST_APART, least);
    ladder_note(c, codes, states - 1);
}

/* --- filter --- */

static void take_filter(const void *requirement, asked_pin *pin)
{
    const tl_filter_requirement *w = requirement;
    take_converter(&w->converter, pin);
    pin->leakage = w->leakage;
    pin->farads = 0;
}

static void write_source(const asked_text *t, const asked_pin *pin, double ohms)
{
    static const char *const names[] = {NULL};
    /* Leakage must not push it beyond the reference. */
    fprintf(t->to, "signals:\n  signal:\n    source: {voltage: 0 V .. %s",
            written(0.9 * pin->reference, "V"));
    if (ohms > 0)
        fprintf(t->to, ", resistance: %s", written(ohms, "ohm"));
    fprintf(t->to, "}\n    stages:\n");
    write_choice(t, 6, names);
    fprintf(t->to, "    pin: pin-0\n");
}

static void write_filter(const asked_text *t)
{
    const tl_filter_requirement *w = t->question->requirement;
    asked_pin pin = {.reference = t->question->facts->of[TL_FACT_REFERENCE].nominal,
                     .rail = t->question->facts->of[TL_FACT_RAIL]};
    take_filter(w, &pin);
    write_source(t, &pin, w->source_ohms);
}

static void measure_filter(const asked_circuit *a, tl_choice *c)
{
    const tl_filter_requirement *w = a->question->requirement;
    tl_ask keep = tl_ask_of(TL_ASK_KEPT, a->signal, 0, TL_NET_NONE), reject = keep,
           settle = tl_ask_of(TL_ASK_SETTLE, a->signal, 0, TL_NET_NONE);
    double lowest, highest;
    keep.at = w->keep;
    reject.at = w->reject;
    settle.at = ldexp(1, -(int)w->converter.bits - 1); /* half a count of the whole range */
    tl_circuit_corner_hertz(a->circuit, a->signal, &lowest, &highest);
    put_figure(c, TL_FIG_CORNER_LOWEST, lowest);
    put_figure(c, TL_FIG_CORNER_HIGHEST, highest);
    put_figure(c, TL_FIG_KEPT, 100 * bounds_for(a, &keep).low);
    put_figure(c, TL_FIG_FALLS_BY, 1 / bounds_for(a, &reject).high);
    put_figure(c, TL_FIG_SETTLES_IN, bounds_for(a, &settle).high);
    put_figure(c, TL_FIG_SOURCE_RESISTANCE, worst_of(a, 0)->source_ohms.high);
    put_figure(c, TL_FIG_LEAKAGE_COSTS, volts_off(a));
}

/* --- reservoir --- */

static void take_reservoir(const void *requirement, asked_pin *pin)
{
    const tl_reservoir_requirement *w = requirement;
    take_converter(&w->converter, pin);
    pin->leakage = pin->farads = 0;
}

static void write_reservoir(const asked_text *t)
{
    const tl_reservoir_requirement *w = t->question->requirement;
    asked_pin pin = {.reference = NAN, .rail.nominal = NAN};
    take_reservoir(w, &pin);
    write_source(t, &pin, w->source_ohms);
    fprintf(t->to, "sweeps: {sweep: {signals: [signal], every: %s}}\n", written(1 / w->rate, "s"));
}

static void measure_reservoir(const asked_circuit *a, tl_choice *c)
{
    const tl_reservoir_requirement *w = a->question->requirement;
    const double codes = ldexp(1, (int)w->converter.bits);
    tl_ask settle = tl_ask_of(TL_ASK_SETTLE, a->signal, 0, TL_NET_NONE);
    double at_once, steadily;
    settle.at = 0.5 / codes;
    tl_circuit_charge_taken(a->circuit, a->signal, w->rate, &at_once, &steadily);
    put_figure(c, TL_FIG_AT_ONCE, codes * at_once);
    put_figure(c, TL_FIG_STEADILY, codes * steadily);
    put_figure(c, TL_FIG_TOGETHER, codes * (at_once + steadily));
    put_figure(c, TL_FIG_FOLLOWS_A_STEP_IN, bounds_for(a, &settle).high);
}

const question_kind line_questions[] = {
    {"shift", take_shift, write_shift, measure_shift, NULL},
    {"mux", take_mux, write_mux, measure_mux, write_mux_part},
    {"ladder", take_ladder, write_ladder, measure_ladder, NULL},
    {"filter", take_filter, write_filter, measure_filter, NULL},
    {"reservoir", take_reservoir, write_reservoir, measure_reservoir, NULL},
    {0},
};
