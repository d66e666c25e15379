/* SPDX-License-Identifier: MIT */
/*
 * Fixes that take some finding: a divider to write, a better reference, a lift above ground.
 */
#include "rules/check.h"
#include "tinyladder/design/sizing.h"
#include <math.h>
#include <stdio.h>
#include <string.h>

/* A good choice keeps away from the edge of a limit. */
static const double easy_share = 0.85;

static bool is_enough(const tl_stock_part *part, double ohms, int side)
{
    return part->count != 0 && (side == 0 || (side > 0 ? part->value * (1 - part->tolerance) >= ohms
                                                       : part->value * (1 + part->tolerance) <= ohms));
}

/* The tolerance that a value has in the plan, or another where none stands there. */
static double stated_tolerance(const tl_located *was, double otherwise)
{
    return was != NULL && was->value.toleranced && was->value.nominal > 0
               ? (was->value.high - was->value.low) / (2 * was->value.nominal)
               : otherwise;
}

static const char *write_ohms(double ohms, double tolerance, char text[40])
{
    char value[32];
    tl_letter_code_write(ohms, value);
    if (tolerance > 0)
        snprintf(text, 40, "%.20s ±%.4g %%", value, round(1e8 * tolerance) / 1e6);
    else
        snprintf(text, 40, "%s", value);
    return text;
}

const char *tl_fix_as_stated(const tl_located *was, char text[40])
{
    return write_ohms(was->value.nominal, stated_tolerance(was, 0), text);
}

const char *tl_fix_ohms(const tl_checker *k, double ohms, int side, const tl_located *was, char text[40])
{
    static const double usual = 0.01;
    const double stated = stated_tolerance(was, usual);
    tl_stock all = k->plan->has_drawer ? k->plan->resistors : tl_stock_series(TL_E24, 1, 22e6, stated);
    const tl_stock_part *best = NULL;
    const double aim = side > 0 ? ohms / easy_share : side < 0 ? ohms * easy_share : ohms;
    for (int i = 0; i < all.count; i++) {
        const tl_stock_part *part = &all.parts[i];
        if (is_enough(part, ohms, side) &&
            (best == NULL || tl_times_apart(part->value, aim) < tl_times_apart(best->value, aim)))
            best = part;
    }
    if (best != NULL)
        write_ohms(best->value, best->tolerance, text);
    const bool found = best != NULL;
    if (!k->plan->has_drawer)
        tl_stock_free(&all);
    return found ? text : NULL;
}

void tl_fix_resistor(const tl_checker *k, tl_finding *finding, const char *what, double ohms, int side,
                     const tl_located *was)
{
    char value[40];
    const char *found = tl_fix_ohms(k, ohms, side, was, value);
    if (found != NULL)
        tl_finding_text(&finding->fix, "%s to %s", what, found);
    else
        tl_finding_text(&finding->fix, "%s to at %s %s", what, side > 0 ? "least" : "most",
                        tl_show(ohms, TL_DIM_OHM, side > 0 ? TL_ROUND_UP : TL_ROUND_DOWN).text);
    if (found != NULL && was != NULL)
        tl_finding_change(finding, TL_CHANGE_VALUE, was->place, NULL, "%s", found);
}

const char *tl_fix_farads(const tl_checker *k, double farads, char text[40])
{
    const bool own = k->plan->has_drawer && k->plan->capacitors.count > 0;
    tl_stock all = own ? k->plan->capacitors : tl_stock_series(TL_E6, 10e-12, 100e-6, 0.1);
    const tl_stock_part *best = NULL;
    for (int i = 0; i < all.count; i++) {
        if (is_enough(&all.parts[i], farads, 1) && (best == NULL || all.parts[i].value < best->value))
            best = &all.parts[i];
    }
    if (best != NULL) {
        char value[32];
        tl_quantity_write(best->value, TL_DIM_FARAD, TL_ROUND_NEAREST, value);
        snprintf(text, 40, "%.20s ±%.4g %%", value, 100 * best->tolerance);
    }
    const bool found = best != NULL;
    if (!own)
        tl_stock_free(&all);
    return found ? text : NULL;
}

const char *tl_fix_pull(const tl_checker *k, char text[40])
{
    static const double usual = 10e3;
    return tl_fix_ohms(k, usual, 0, NULL, text);
}

/* A divider that would keep a source within a limit, as the plan line to write; empty where none can. */
static void propose_divider(const tl_checker *k, int signal, double limit, char *text, size_t size)
{
    const tl_signal *s = &k->plan->signals[signal];
    tl_divider_requirement requirement = tl_divider_requirement_default();
    text[0] = '\0';
    if (s->source.kind != TL_SOURCE_RAIL && s->source.kind != TL_SOURCE_VOLTAGE)
        return;
    requirement.source =
        s->source.kind == TL_SOURCE_RAIL ? k->plan->supplies[s->source.supply].volts : s->source.value.value;
    requirement.source.low = fmax(0, requirement.source.low);
    requirement.source_ohms = s->source.ohms.value.high;
    requirement.limit = limit;
    requirement.most_tap_ohms = 10e3;
    const tl_quantity *leakage = &k->plan->pins[s->pin].limits.leakage;
    requirement.leakage = fmax(fabs(leakage->low), fabs(leakage->high));
    tl_stock stock = tl_stock_series(TL_E24, 1e3, 10e6, 0.01);
    tl_size_result *answer = tl_size_result_new(&stock, 1);
    tl_size_divider(&requirement, answer);
    if (answer->count > 0)
        snprintf(
            text, size, "%s  (at most %s at the pin)", answer->choices[0].plan,
            tl_show(answer->choices[0].figure[TL_DIVIDER_TAP_HIGHEST].value, TL_DIM_VOLT, TL_ROUND_UP).text);
    tl_size_result_free(answer);
    tl_stock_free(&stock);
}

/* This many tracks are connected to one top. */
static int tracks_at(const tl_plan *plan, int top)
{
    int tracks = 0;
    for (int i = 0; i < plan->signal_count; i++)
        tracks +=
            plan->signals[i].source.kind == TL_SOURCE_POTENTIOMETER && plan->signals[i].source.supply == top;
    return tracks;
}

/* The resistor above a track with which its top comes no higher. */
static void propose_feed(const tl_checker *k, const tl_signal *s, double limit, tl_finding *finding)
{
    char value[40];
    const tl_supply *top = &k->plan->supplies[s->source.supply];
    const double wanted = tl_feed_at_least(s->source.value.value.high / tracks_at(k->plan, s->source.supply),
                                           top->volts.high, limit);
    if (!(wanted > 0)) {
        tl_finding_text(&finding->fix, "add a resistor above the potentiometer: tinyladder size feed");
        return;
    }
    const bool found = tl_fix_ohms(k, wanted, 1, top->ohms.given ? &top->ohms : NULL, value) != NULL;
    tl_finding_text(&finding->fix, "use a resistor of at least %s above the potentiometer%s%s",
                    tl_show(wanted, TL_DIM_OHM, TL_ROUND_UP).text, found ? ": " : "", found ? value : "");
    if (found && top->kind == TL_RAIL_SHARED && top->ohms.given)
        tl_finding_change(finding, TL_CHANGE_VALUE, top->ohms.place, NULL, "%s", value);
}

/* The rail that a signal is a share of; a shared node's is the one that feeds it. */
static int rail_shared_by(const tl_checker *k, int signal)
{
    const tl_source *source = &k->plan->signals[signal].source;
    const tl_plan_part *partner = tl_check_part(k, signal, TL_PART_PARTNER);
    int rail = source->kind == TL_SOURCE_VOLTAGE                         ? source->follows
               : source->kind == TL_SOURCE_RESISTANCE && partner == NULL ? TL_NONE
               : source->kind == TL_SOURCE_RESISTANCE && partner->up     ? partner->rail
               : source->kind == TL_SOURCE_RESISTANCE || source->kind == TL_SOURCE_POTENTIOMETER ||
                       source->kind == TL_SOURCE_BRIDGE
                   ? source->supply
                   : TL_NONE;
    while (rail >= 0 && k->plan->supplies[rail].kind == TL_RAIL_SHARED)
        rail = k->plan->supplies[rail].from;
    return rail;
}

bool tl_fix_reference(const tl_checker *k, int signal, tl_finding *finding)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_plan_converter *converter = tl_plan_converter_of(k->plan, s);
    const bool in_volts =
        s->reading.of == TL_OF_PIN || s->reading.of == TL_OF_COUNTS; /* a share is not asked for */
    const int rail = in_volts ? TL_NONE : rail_shared_by(k, signal);
    for (int i = 0; converter != NULL && rail >= 0 && i < converter->part->reference_count; i++) {
        const tl_reference *reference = &converter->part->references[i];
        if (i == s->reference || reference->supply != rail)
            continue;
        tl_finding_text(&finding->fix, "use the rail that supplies it: reference: %s", reference->name);
        tl_finding_change(finding, TL_CHANGE_KEY_OF, s->place, "reference", "%s", reference->name);
        return true;
    }
    return false;
}

/* A track and its converter do best on one and the same supply. */
static void propose_top(const tl_checker *k, const tl_signal *s, double limit, tl_finding *finding)
{
    const tl_plan_converter *converter = tl_plan_converter_of(k->plan, s);
    const bool chosen =
        converter != NULL && s->reference >= 0 && s->reference < converter->part->reference_count;
    const int rail = chosen ? converter->part->references[s->reference].supply : tl_check_pin_supply(k, s);
    if (rail < 0 || rail == s->source.supply || k->plan->supplies[s->source.supply].kind == TL_RAIL_SHARED) {
        propose_feed(k, s, limit, finding);
        return;
    }
    tl_finding_text(&finding->fix, "connect its top to the reference: top: %s", k->plan->supplies[rail].name);
    tl_finding_change(finding, TL_CHANGE_KEY, s->source.place, "top", "%s", k->plan->supplies[rail].name);
}

/* The partner of a resistance with which its tap comes no higher, with a little room for leakage. */
static bool fix_partner(const tl_checker *k, int signal, double limit, tl_finding *finding)
{
    static const double room = 0.98;
    char value[40];
    const tl_signal *s = &k->plan->signals[signal];
    const tl_plan_part *partner = tl_check_part(k, signal, TL_PART_PARTNER);
    const int rail = partner == NULL ? TL_NONE : partner->up ? partner->rail : s->source.supply;
    if (s->source.kind != TL_SOURCE_RESISTANCE || rail < 0)
        return false;
    const tl_quantity *ohms = &s->source.value.value;
    const double share = room * limit / k->plan->supplies[rail].volts.high;
    const double wanted = tl_partner_for(partner->up ? ohms->high : ohms->low, share, partner->up);
    if (!(share < 1) || !(wanted > 0) ||
        tl_fix_ohms(k, wanted, partner->up ? 1 : -1, partner->value, value) == NULL)
        return false;
    tl_finding_text(&finding->fix, "change the partner to %s %s: %s", partner->up ? "at least" : "at most",
                    tl_show(wanted, TL_DIM_OHM, partner->up ? TL_ROUND_UP : TL_ROUND_DOWN).text, value);
    tl_finding_change(finding, TL_CHANGE_VALUE, partner->value->place, NULL, "%s", value);
    return true;
}

void tl_fix_lower_volts(const tl_checker *k, int signal, double limit, tl_finding *finding)
{
    char line[480];
    const tl_signal *s = &k->plan->signals[signal];
    const tl_plan_part *divider = tl_check_part(k, signal, TL_PART_UPPER);
    propose_divider(k, signal, limit, line, sizeof line);
    if (divider != NULL && divider->of != NULL) {
        tl_finding_text(&finding->fix, "change the divider: tinyladder size %s %s.%s", k->plan->path, s->name,
                        divider->of->name);
    } else if (line[0] != '\0') {
        tl_finding_text(&finding->fix, "add the stage  %s", line);
        tl_finding_change(finding, TL_CHANGE_STAGE, s->place, "divider", "%.*s",
                          (int)strcspn(line + 11, "}") + 1, line + 11); /* behind "- divider: " */
    } else if (s->source.kind == TL_SOURCE_POTENTIOMETER)
        propose_top(k, s, limit, finding);
    else if (s->source.kind == TL_SOURCE_CURRENT)
        tl_finding_text(&finding->fix, "reduce the load to at most %s",
                        tl_show(limit / s->source.value.value.high, TL_DIM_OHM, TL_ROUND_DOWN).text);
    else if (!fix_partner(k, signal, limit, finding) && s->source.kind == TL_SOURCE_CONTACT &&
             s->source.supply >= 0)
        tl_finding_text(&finding->fix, "connect the contact to ground, or to %s",
                        k->plan->supplies[tl_check_pin_supply(k, s)].name);
}

/* The divider that `size shift` would take, where there is one; else where to ask for the other ways. */
void tl_fix_shift(const tl_checker *k, int signal, double limit, tl_finding *finding)
{
    enum { WAYS = 12 };
    static const char way[] = "- divider: ";
    const tl_signal *s = &k->plan->signals[signal];
    const tl_quantity *from = &k->plan->supplies[s->source.supply].volts,
                      *to = &k->plan->supplies[tl_check_pin_supply(k, s)].volts;
    const tl_pin_limits *pin = &k->plan->pins[s->pin].limits;
    tl_shift_requirement w = tl_shift_requirement_default();
    w.from = *from;
    w.to = *to;
    w.vol = tl_level_volts(s->source.low, from->high);
    w.voh = tl_level_volts(s->source.high, from->low);
    w.vil = tl_level_volts(pin->vil, to->low);
    w.vih = tl_level_volts(pin->vih, to->high);
    w.limit = limit;
    w.leakage = fmax(fabs(pin->leakage.low), fabs(pin->leakage.high));
    if (s->source.drives > 0)
        w.drives = s->source.drives;
    if (s->source.rate > 0)
        w.bits_per_second = 2 * s->source.rate;
    if (pin->farads > 0)
        w.farads = pin->farads;
    tl_stock stock = tl_stock_series(TL_E24, 100, 1e6, 0.01);
    tl_size_result *answer = tl_size_result_new(&stock, WAYS);
    tl_size_shift(&w, answer);
    tl_finding_text(&finding->fix,
                    "add a level shifter: tinyladder size shift --driver-supply \"%.4g V .. %.4g V\" "
                    "--receiver-supply \"%.4g V .. %.4g V\"",
                    from->low, from->high, to->low, to->high);
    for (int i = 0; i < answer->count; i++) {
        const char *line = answer->choices[i].plan;
        if (strncmp(line, way, sizeof way - 1) != 0)
            continue;
        tl_finding_text(&finding->fix, "add the stage  %s", line);
        tl_finding_change(finding, TL_CHANGE_STAGE, s->place, "divider", "%s", line + sizeof way - 1);
        break;
    }
    tl_size_result_free(answer);
    tl_stock_free(&stock);
}

/* Two equal legs to a supply halve the signal and lift it by half that supply. */
void tl_fix_lift(const tl_checker *k, const tl_signal *s, double lowest, tl_finding *finding)
{
    const tl_supply *rail = &k->plan->supplies[tl_check_pin_supply(k, s)];
    if (lowest + rail->volts.low > 0 && s->source.kind == TL_SOURCE_VOLTAGE &&
        s->source.value.value.high <= rail->volts.low) {
        tl_finding_text(&finding->fix,
                        "halve and raise it: - divider: {upper: 10k ±1 %%, lower: 10k ±1 %%, to: %s}",
                        rail->name);
        tl_finding_change(finding, TL_CHANGE_STAGE, s->place, "divider",
                          "{upper: 10k ±1 %%, lower: 10k ±1 %%, to: %s}", rail->name);
    } else
        tl_finding_text(&finding->fix, "raise it with a divider whose lower resistor goes to a supply");
}
