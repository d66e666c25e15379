/* SPDX-License-Identifier: MIT */
/*
 * Rules for signals that the converter reads: channel, range, partner, compliance, followers.
 */
#include "analysis/ask.h"
#include "rules/check.h"
#include "tinyladder/design/preferred.h"
#include "tinyladder/design/sizing.h"
#include <math.h>
#include <stdio.h>

bool tl_check_channel(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_pin *pin = tl_check_pin(k, signal);
    char free_pins[200];
    if (pin->channel >= 0)
        return true;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_NOT_ANALOG, s->pin_place,
                                 "%s needs an ADC input; %s has none", s->name, pin->name);
    tl_check_free_pins(k, true, free_pins, sizeof free_pins);
    tl_finding_text(&f->fix, "use a free pin with an ADC input: %s", free_pins);
    return false;
}

/* The smallest range on offer that reaches so far, if any does. */
static void propose_range(const tl_converter *part, double volts, tl_finding *f)
{
    const tl_quantity *best = NULL;
    for (int i = 0; i < part->range_count; i++) {
        if (part->ranges[i].high >= volts && (best == NULL || part->ranges[i].high < best->high))
            best = &part->ranges[i];
    }
    if (best != NULL)
        tl_finding_text(&f->fix, "set range: %s%s", best->low < 0 ? "±" : "",
                        tl_show(best->high, TL_DIM_VOLT, TL_ROUND_NEAREST).text);
}

/* The converter's smallest range is as good as it gets. */
static bool is_smallest_range(const tl_signal *s, const tl_converter *part)
{
    for (int i = 0; i < part->range_count; i++) {
        if (part->ranges[i].high < part->ranges[s->range].high)
            return false;
    }
    return part->range_count > 0;
}

static const double range_used_least = 0.25;

static double lowest_of(const tl_checker *k, const tl_reference *reference)
{
    return reference->supply < 0 ? reference->volts.low : k->plan->supplies[reference->supply].volts.low;
}

/* The lowest of the converter's references that is still above all that comes, and that the range then fills.
 */
static void propose_lower_reference(const tl_checker *k, const tl_signal *s, const tl_bounds *volts,
                                    tl_finding *f)
{
    const tl_converter *part = tl_plan_converter_of(k->plan, s)->part;
    const tl_reference *lowest = NULL;
    double best = s->reference < part->reference_count && s->reference >= 0
                      ? lowest_of(k, &part->references[s->reference])
                      : 0;
    for (int i = 0; i < part->reference_count; i++) {
        const double at = lowest_of(k, &part->references[i]);
        if (at >= volts->high && at < best && volts->high - volts->low >= range_used_least * at) {
            lowest = &part->references[i];
            best = at;
        }
    }
    if (lowest == NULL)
        return;
    tl_finding_text(&f->fix, "set reference: %s", lowest->name);
    tl_finding_change(f, TL_CHANGE_KEY_OF, s->place, "reference", "%s", lowest->name);
}

static void check_range(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_pin *pin = tl_check_pin(k, signal);
    const tl_worst_case *worst = tl_circuit_worst_case(k->circuit, signal, false);
    const tl_bounds *margin = &worst->over_range, *volts = &worst->volts;
    double least = 0, most = 0,
           reference = tl_net_param_nominal(k->circuit->net, k->circuit->signals[signal].reference);
    tl_net_param_span(k->circuit->net, k->circuit->signals[signal].reference, &least, &most);
    const double lsb = reference / tl_circuit_path(k->circuit, signal)->reference_counts;
    const tl_converter *part = tl_plan_converter_of(k->plan, s)->part;
    const double below = part->word.sign != TL_WORD_UNSIGNED ? -reference - volts->low : 0;
    const double beyond = fmax(margin->high, below);
    if (beyond > lsb / 2 && (s->reading.decimals < 0 || beyond > tl_check_step(k, signal, reference) / 2)) {
        /* More than a hundredth of the span is lost permanently: that end of the signal cannot be told. */
        const bool blind = beyond > reference / 100;
        const double limit =
            tl_circuit_value_at(k->circuit, k->circuit->signals[signal].reference, margin, margin->high_at);
        const bool gain = part->range_count > 0;
        tl_finding *f = tl_check_add(k, blind ? TL_GRAVE : TL_USUAL,
                                     gain ? TL_RULE_GAIN_RANGE : TL_RULE_OVER_RANGE, s->pin_place,
                                     gain ? "%s (%s) can exceed the ADC's range; the reading saturates"
                                          : "%s (%s) can exceed the ADC input range; the reading saturates",
                                     pin->name, s->name);
        if (margin->high >= below) {
            tl_finding_figures(f, TL_DIM_VOLT, limit + margin->high, limit);
            tl_finding_text(&f->figure, "%s at the pin; %s %s",
                            tl_show(limit + margin->high, TL_DIM_VOLT, TL_ROUND_UP).text,
                            part->range_count > 0 ? "range to" : "reference",
                            tl_show(limit, TL_DIM_VOLT, TL_ROUND_DOWN).text);
        } else {
            tl_finding_figures(f, TL_DIM_VOLT, volts->low, -reference);
            tl_finding_text(&f->figure, "%s at the pin; range from %s",
                            tl_show(volts->low, TL_DIM_VOLT, TL_ROUND_DOWN).text,
                            tl_show(-reference, TL_DIM_VOLT, TL_ROUND_UP).text);
        }
        tl_check_corner(k, f, margin, margin->high_at);
        if (part->range_count > 1)
            propose_range(part, reference + beyond, f);
        else if (!tl_fix_reference(k, signal, f))
            tl_fix_lower_volts(k, signal, least, f);
    }
    const double used =
        part->word.sign != TL_WORD_UNSIGNED ? fmax(fabs(volts->high), fabs(volts->low)) / reference
        : s->source.kind == TL_SOURCE_RAIL  ? volts->high / reference /* it is all of it that is measured */
                                            : (volts->high - fmax(0, volts->low)) / reference;
    if (used < range_used_least && volts->high > volts->low && !is_smallest_range(s, part)) {
        tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_RANGE_WASTED, s->pin_place,
                                     "%s uses only a small part of the ADC range", s->name);
        tl_finding_figures(f, TL_DIM_PERCENT, 100 * used, NAN);
        tl_finding_text(&f->figure, "%s of the range, %s to %s",
                        tl_show(100 * used, TL_DIM_PERCENT, TL_ROUND_UP).text,
                        tl_show(volts->low, TL_DIM_VOLT, TL_ROUND_DOWN).text,
                        tl_show(volts->high, TL_DIM_VOLT, TL_ROUND_UP).text);
        propose_lower_reference(k, s, volts, f);
    }
}

/* The partner with the widest swing, as the plan line to write. */
static void propose_partner(const tl_checker *k, const tl_signal *s, tl_finding *finding)
{
    const bool upper = s->source.supply == TL_TO_GROUND;
    const int rail = upper ? tl_check_pin_supply(k, s) : s->source.supply;
    char value[40];
    tl_partner_requirement requirement = tl_partner_requirement_default();
    requirement.sensor = s->source.value.value;
    requirement.rail = k->plan->supplies[rail].volts;
    requirement.leg = upper;
    /* What the pin's leakage moves by a count at most. */
    const tl_quantity *leakage = &k->plan->pins[s->pin].limits.leakage;
    const double amperes = fmax(fabs(leakage->low), fabs(leakage->high));
    const tl_analog_path *path = tl_circuit_path(k->circuit, (int)(s - k->plan->signals));
    if (amperes > 0 && path->reference_counts > 0)
        requirement.most_tap_ohms = requirement.rail.high / path->reference_counts / amperes;
    tl_stock stock = tl_stock_series(TL_E24, 100, 1e6, 0.01);
    tl_size_result *answer = tl_size_result_new(&stock, 1);
    tl_size_partner(&requirement, answer);
    if (answer->count == 0)
        tl_finding_text(&finding->fix, "add a resistor to the other rail: tinyladder size partner");
    else if (upper) {
        tl_finding_text(&finding->fix, "add the stage  - partner: {upper: %s, to: %s}",
                        tl_fix_ohms(k, answer->choices[0].part[0].nominal, 0, NULL, value),
                        k->plan->supplies[rail].name);
        tl_finding_change(finding, TL_CHANGE_STAGE, s->place, "partner", "{upper: %s, to: %s}", value,
                          k->plan->supplies[rail].name);
    } else {
        tl_finding_text(&finding->fix, "add the stage  - partner: {lower: %s}",
                        tl_fix_ohms(k, answer->choices[0].part[0].nominal, 0, NULL, value));
        tl_finding_change(finding, TL_CHANGE_STAGE, s->place, "partner", "{lower: %s}", value);
    }
    tl_size_result_free(answer);
    tl_stock_free(&stock);
}

/* A resistance alone is connected to one rail and never moves. */
static bool check_partner(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_worst_case *worst = tl_circuit_worst_case(k->circuit, signal, false);
    if (s->source.kind != TL_SOURCE_RESISTANCE || tl_check_part(k, signal, TL_PART_PARTNER) != NULL ||
        tl_check_part(k, signal, TL_PART_PULL) != NULL || tl_check_part(k, signal, TL_PART_LOAD) != NULL ||
        tl_check_part(k, signal, TL_PART_LOWER) != NULL)
        return true;
    tl_finding *f =
        tl_check_add(k, TL_USUAL, TL_RULE_NO_PARTNER, s->source.place,
                     "%s: the sensor has no partner resistor, so the pin voltage never changes", s->name);
    tl_finding_figures(f, TL_DIM_VOLT, worst->volts.low, worst->volts.high);
    tl_finding_text(&f->figure, "pin voltage %s to %s at any sensor resistance",
                    tl_show(worst->volts.low, TL_DIM_VOLT, TL_ROUND_DOWN).text,
                    tl_show(worst->volts.high, TL_DIM_VOLT, TL_ROUND_UP).text);
    propose_partner(k, s, f);
    return false;
}

/* What a current loop has left for its transmitter when the most flows. */
static void check_compliance(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_ask source = tl_ask_of(TL_ASK_VOLTS, signal, 0, k->circuit->signals[signal].source);
    tl_bounds volts;
    if (s->source.kind != TL_SOURCE_CURRENT || isnan(s->source.compliance) ||
        tl_circuit_ask(k->circuit, &source, &volts) != TL_NET_SOLVED)
        return;
    const double left = k->plan->supplies[s->source.supply].volts.low - volts.high;
    if (left >= s->source.compliance)
        return;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_COMPLIANCE, s->source.place,
                                 "%s: the loop supply is too low for the highest current", s->name);
    tl_finding_figures(f, TL_DIM_VOLT, left, s->source.compliance);
    tl_finding_text(&f->figure, "%s left for the transmitter; it needs %s",
                    tl_show(left, TL_DIM_VOLT, TL_ROUND_DOWN).text,
                    tl_show(s->source.compliance, TL_DIM_VOLT, TL_ROUND_UP).text);
    tl_check_corner(k, f, &volts, volts.high_at);
    const tl_plan_part *load = tl_check_part(k, signal, TL_PART_LOAD);
    const double most = k->plan->supplies[s->source.supply].volts.low - s->source.compliance;
    if (load != NULL && most > 0)
        tl_finding_text(&f->fix, "reduce the load to at most %s, or use a higher loop supply",
                        tl_show(load->value->value.high * most / volts.high, TL_DIM_OHM, TL_ROUND_DOWN).text);
}

/* --- followers and pairs --- */

/* What a follower must give lies within what its output reaches, and what it takes within its input range. */
static void check_follower(const tl_checker *k, int signal, const tl_stage *stage)
{
    const tl_signal *s = &k->plan->signals[signal];
    static const char *const what[] = {"output", "output", "input", "input"};
    const tl_level limits[4] = {stage->out_high, stage->out_low, stage->in_high, stage->in_low};
    char path[200];
    snprintf(path, sizeof path, "%.90s.%.60s", s->name, stage->name);
    const int node = tl_net_find_node(k->circuit->net, path);
    const double middle = k->circuit->nominal[k->circuit->signals[signal].reference] / 2;
    tl_ask asks[4];
    tl_bounds bounds[4];
    for (int i = 0; i < 4; i++)
        asks[i] = tl_ask_against(signal, 0, node, tl_level_value(k->circuit, limits[i], stage->to));
    if (node == TL_NET_NONE || tl_circuit_ask_all(k->circuit, asks, 4, bounds) != TL_NET_SOLVED)
        return;
    for (int i = 0; i < 4; i++) {
        const bool high = i % 2 == 0;
        const tl_bounds volts = bounds[i];
        const double beyond = high ? volts.high : -volts.low;
        if (beyond <= fmax(tl_check_step(k, signal, middle), stage->offset + 1e-3))
            continue;
        tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_FOLLOWER_HEADROOM, stage->place,
                                     "%s: the %s range of its follower is too small", s->name, what[i]);
        tl_finding_figures(f, TL_DIM_VOLT, beyond, 0);
        tl_finding_text(&f->figure, "%s beyond the %s limit", tl_show(beyond, TL_DIM_VOLT, TL_ROUND_UP).text,
                        high ? "upper" : "lower");
        tl_check_corner(k, f, &volts, high ? volts.high_at : volts.low_at);
        tl_finding_text(&f->fix,
                        high ? "use a higher supply for the follower, or one whose %s reaches its rail"
                             : "use a follower whose %s reaches ground",
                        what[i]);
        return;
    }
}

/* A track moves only between two different levels. */
static bool check_track(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const int top = s->source.supply, bottom = s->source.bottom;
    if (s->source.kind != TL_SOURCE_POTENTIOMETER ||
        (top != bottom && !(tl_plan_rail_is_low(k->plan, top) && tl_plan_rail_is_low(k->plan, bottom))))
        return true;
    const char *name = top == TL_TO_GROUND ? "ground" : k->plan->supplies[top].name;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_SAME_RAIL, s->source.place,
                                 "%s: both ends of the potentiometer are on the same rail", s->name);
    tl_finding_text(&f->figure, "top on %s, bottom on %s", name,
                    bottom == TL_TO_GROUND ? "ground" : k->plan->supplies[bottom].name);
    tl_finding_text(&f->fix, "set top: %s", k->plan->supplies[tl_check_pin_supply(k, s)].name);
    tl_finding_change(f, TL_CHANGE_KEY, s->source.place, "top", "%s",
                      k->plan->supplies[tl_check_pin_supply(k, s)].name);
    return false;
}

/* Which rail would give it two different levels, in the words of the plan; NULL where that is not so simple.
 */
static void propose_other_rail(const tl_checker *k, int signal, tl_finding *f)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_plan_part *partner = tl_check_part(k, signal, TL_PART_PARTNER);
    char value[40];
    if (s->source.kind != TL_SOURCE_RESISTANCE || partner == NULL) {
        tl_finding_text(&f->fix, "connect one end of %s to another rail", s->name);
        return;
    }
    const bool up = s->source.supply == TL_TO_GROUND;
    tl_fix_as_stated(partner->value, value);
    if (up)
        tl_finding_text(&f->fix, "move the partner to the other rail: - partner: {upper: %s, to: %s}", value,
                        k->plan->supplies[tl_check_pin_supply(k, s)].name);
    else
        tl_finding_text(&f->fix,
                        "move the partner to ground, since the sensor is on %s: - partner: {lower: %s}",
                        k->plan->supplies[s->source.supply].name, value);
}

/* Whether the unknown moves the pin by a count at all, over its whole range: the circuit knows, whatever its
 * shape. */
static bool check_alive(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_signal_nodes *nodes = &k->circuit->signals[signal];
    const tl_analog_path *path = tl_circuit_path(k->circuit, signal);
    double span[2], low = INFINITY, high = -INFINITY;
    if (nodes->unknown == TL_NET_NONE || nodes->reference == TL_NET_NONE ||
        s->source.kind == TL_SOURCE_RAIL || path->fault != TL_NET_SOLVED)
        return true;
    tl_net_param_span(k->circuit->net, nodes->unknown, &span[0], &span[1]);
    if (span[0] == span[1])
        return true;
    for (int i = 0; i <= 4; i++) {
        const double at = span[0] + (span[1] - span[0]) * i / 4,
                     volts = tl_circuit_pin_volts(k->circuit, signal, at);
        low = fmin(low, volts);
        high = fmax(high, volts);
    }
    const double count = k->circuit->nominal[nodes->reference] / path->reference_counts;
    if (!(high - low < count))
        return true;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_DEAD_SIGNAL, s->source.place,
                                 "%s: the source changes the voltage at %s by less than one count", s->name,
                                 tl_check_pin(k, signal)->name);
    tl_finding_figures(f, TL_DIM_VOLT, high - low, count);
    tl_finding_text(&f->figure, "%s over the whole source range; one count is %s",
                    tl_show(high - low, TL_DIM_VOLT, TL_ROUND_UP).text,
                    tl_show(count, TL_DIM_VOLT, TL_ROUND_NEAREST).text);
    propose_other_rail(k, signal, f);
    return false;
}

static bool check_pair(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_pin *pin = tl_check_pin(k, signal);
    if (s->source.kind != TL_SOURCE_BRIDGE)
        return true;
    if (pin->second == TL_NONE) {
        tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_NOT_DIFFERENTIAL, s->pin_place,
                                     "%s needs a differential input; %s is single-ended", s->name, pin->name);
        tl_finding_text(&f->figure, "a single input reads half the bridge supply and almost no signal");
        tl_finding_text(&f->fix, "use an ADC with differential inputs: pin: CONVERTER.PAIR");
        return false;
    }
    if (s->source.supply != TL_TO_GROUND)
        return true;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_FLOATING_INPUT, s->source.place,
                                 "%s: the bridge has no supply", s->name);
    tl_finding_text(&f->fix, "name its supply: source: {bridge: .., supply: NAME}");
    return false;
}

void tl_check_analog(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_net_status fault = tl_circuit_worst_case(k->circuit, signal, 0)->fault;
    if (fault != TL_NET_SOLVED) {
        tl_check_fault(k, signal, fault);
        return;
    }
    const bool readable = tl_check_channel(k, signal);
    const bool safe = tl_check_limits(k, signal, 0);
    if (readable && !safe && s->source.button_count > 0)
        tl_check_buttons(k, signal);
    if (!safe || !readable || !check_pair(k, signal))
        return;
    if (!check_partner(k, signal) || !check_track(k, signal) ||
        (s->source.button_count == 0 && !check_alive(k, signal)))
        return;
    if (s->source.button_count > 0)
        tl_check_buttons(k, signal);
    else
        check_range(k, signal);
    for (const tl_plan_part *part = NULL;
         (part = tl_parts_next(&k->circuit->parts, signal, TL_PART_FOLLOWER, part)) != NULL;)
        check_follower(k, signal, part->of);
    tl_check_acquisition(k, signal);
    check_compliance(k, signal);
    tl_check_digits(k, signal);
}
