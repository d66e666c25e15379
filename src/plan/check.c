/*
 * The rules. Each asks the netlist for a guaranteed worst case and speaks only when some corner breaks a
 * limit. Severity follows docs/methods.md: an error damages a part or leaves the signal without its use, a
 * warning misreads.
 */
#include "tinyladder/plan.h"
#include "tinyladder/size.h"
#include <math.h>
#include <stdio.h>
#include <string.h>

/* Arithmetic noise must not break a limit that is just met. */
static const double slack_volts = 1e-9;

typedef struct {
    const tl_circuit *circuit;
    const tl_plan *plan;
    tl_report *report;
} checker;

typedef struct {
    char text[32];
} shown;

static shown show(double value, tl_dimension dimension, tl_rounding rounding)
{
    shown s;
    tl_quantity_write(value, dimension, rounding, s.text);
    return s;
}

static const tl_pin *pin_of(const checker *k, int signal)
{
    return &k->plan->board->pins[k->plan->signals[signal].pin];
}

static int pin_supply(const checker *k, const tl_signal *s)
{
    return k->plan->board->pins[s->pin].limits.supply;
}

static void set_corner(const checker *k, tl_finding *finding, const tl_bounds *bounds, const double *values)
{
    char text[600];
    tl_circuit_corner(k->circuit, bounds, values, text, sizeof text);
    if (text[0] != '\0')
        tl_finding_text(&finding->corner, "%s", text);
}

static double value_at_corner(const checker *k, int param, const tl_bounds *bounds, const double *values)
{
    for (int i = 0; i < bounds->params; i++) {
        if (bounds->param[i] == param)
            return values[i];
    }
    return tl_net_param_nominal(k->circuit->net, param);
}

static bool is_taken(const checker *k, int pin)
{
    for (int i = 0; i < k->plan->signal_count; i++) {
        if (k->plan->signals[i].pin == pin)
            return true;
    }
    return false;
}

/* `L5, L6 and 2 more`: free pins that the converter can read, or that can take a digital line. */
static void list_free_pins(const checker *k, bool analog, char *text, size_t size)
{
    int found = 0;
    size_t length = 0;
    text[0] = '\0';
    for (int i = 0; i < k->plan->board->pin_count; i++) {
        const tl_pin *pin = &k->plan->board->pins[i];
        if ((analog ? pin->channel < 0 : !pin->digital) || pin->rail != TL_PIN_NO_RAIL || is_taken(k, i))
            continue;
        if (++found <= 6 && length < size)
            length +=
                (size_t)snprintf(text + length, size - length, "%s%s", found > 1 ? ", " : "", pin->name);
    }
    if (found > 6 && length < size)
        snprintf(text + length, size - length, " and %d more", found - 6);
    if (found == 0)
        snprintf(text, size, "none is free");
}

/* --- what a net cannot answer --- */

static void report_fault(const checker *k, int signal, tl_net_fault fault)
{
    if (fault == TL_NET_FLOATING && k->plan->signals[signal].source.kind == TL_SOURCE_CURRENT) {
        tl_finding *f =
            tl_report_add(k->report, TL_ERROR, "floating-input", k->plan->signals[signal].pin_place,
                          "nothing turns the current of %s into volts", k->plan->signals[signal].name);
        tl_finding_text(&f->fix, "add the stage  - load: R; 'size loop' finds it");
        return;
    }
    const tl_signal *s = &k->plan->signals[signal];
    const char *pin = pin_of(k, signal)->name;
    if (fault != TL_NET_FLOATING) {
        tl_report_add(k->report, TL_ERROR, fault == TL_NET_SHORTED ? "shorted" : "unsolved", s->source.place,
                      "%s: %s", s->name, tl_net_fault_text(fault));
        return;
    }
    tl_finding *f =
        tl_report_add(k->report, TL_ERROR, "floating-input", s->pin_place,
                      "nothing defines the level of %s while the contact of %s is open", pin, s->name);
    tl_finding_text(&f->figure,
                    "the pin reads whatever it picks up; a pull must hold it while the contact is open");
    if (s->source.supply == TL_TO_GROUND)
        tl_finding_text(&f->fix, "add the stage  - pull: {up: 10k, to: %s}",
                        k->plan->supplies[pin_supply(k, s)].name);
    else
        tl_finding_text(&f->fix, "add the stage  - pull: {down: 10k, to: ground}");
}

static const tl_stage *find_stage(const tl_signal *signal, tl_stage_kind kind)
{
    for (int i = 0; i < signal->stage_count; i++) {
        if (signal->stages[i].kind == kind)
            return &signal->stages[i];
    }
    return NULL;
}

/* --- limits of the pin --- */

static double level_at(const checker *k, int signal, tl_level level, const tl_bounds *bounds,
                       const double *values)
{
    const int rail = k->circuit->supply_param[pin_of(k, signal)->limits.supply];
    return level.volts + level.share * value_at_corner(k, rail, bounds, values);
}

/* A divider that would keep a source within a limit, as the plan line to write; empty where none can. */
static void propose_divider(const checker *k, int signal, double limit, char *text, size_t size)
{
    const tl_signal *s = &k->plan->signals[signal];
    tl_divider_wish wish = tl_divider_wish_default();
    text[0] = '\0';
    if (s->source.kind != TL_SOURCE_RAIL && s->source.kind != TL_SOURCE_VOLTAGE)
        return;
    wish.source =
        s->source.kind == TL_SOURCE_RAIL ? k->plan->supplies[s->source.supply].volts : s->source.value.value;
    wish.source.low = fmax(0, wish.source.low);
    wish.source_ohms = s->source.ohms.value.high;
    wish.limit = limit;
    wish.most_tap_ohms = 10e3;
    const tl_quantity *leakage = &k->plan->board->pins[s->pin].limits.leakage;
    wish.leakage = fmax(fabs(leakage->low), fabs(leakage->high));
    tl_stock stock = tl_stock_series(TL_E24, 1e3, 10e6, 0.01);
    tl_answer *answer = tl_answer_new(&stock, 1);
    tl_size_divider(&wish, answer);
    if (answer->count > 0)
        snprintf(
            text, size, "%s  (at most %s at the pin)", answer->choices[0].plan,
            show(answer->choices[0].figure[TL_DIVIDER_TAP_HIGHEST].value, TL_DIM_VOLT, TL_ROUND_UP).text);
    tl_answer_free(answer);
    tl_stock_free(&stock);
}

/* A track and its converter do best on one and the same supply. */
static void propose_reference(const checker *k, const tl_signal *s, tl_finding *finding)
{
    const tl_converter *converter = &k->plan->board->converter;
    for (int i = 0; i < converter->reference_count; i++) {
        if (i != k->plan->reference && converter->references[i].supply == s->source.supply) {
            tl_finding_text(&finding->fix,
                            "read it against the rail it hangs on: converters: {%s: {reference: %s}}",
                            converter->name, converter->references[i].name);
            return;
        }
    }
    tl_finding_text(&finding->fix,
                    "put the top of the track on a supply that is a reference of the converter: top: %s",
                    k->plan->supplies[pin_supply(k, s)].name);
}

static void propose_lower_volts(const checker *k, int signal, double limit, tl_finding *finding)
{
    char line[480];
    const tl_signal *s = &k->plan->signals[signal];
    propose_divider(k, signal, limit, line, sizeof line);
    if (line[0] != '\0')
        tl_finding_text(&finding->fix, "write the stage  %s", line);
    else if (s->source.kind == TL_SOURCE_POTENTIOMETER)
        propose_reference(k, s, finding);
    else
        tl_finding_text(&finding->fix, "tie the contact and its pull to the supply of the pin or to ground");
}

/* Two equal legs to a supply halve the signal and lift it by half that supply. */
static void propose_lift(const checker *k, const tl_signal *s, double lowest, tl_finding *finding)
{
    const tl_supply *rail = &k->plan->supplies[pin_supply(k, s)];
    if (lowest + rail->volts.low > 0 && s->source.kind == TL_SOURCE_VOLTAGE &&
        s->source.value.value.high <= rail->volts.low)
        tl_finding_text(&finding->fix,
                        "halve and lift it: - divider: {upper: 10k ±1 %%, lower: 10k ±1 %%, to: %s}",
                        rail->name);
    else
        tl_finding_text(&finding->fix,
                        "lift it by a divider whose lower leg goes to a supply, or invert it before the pin");
}

/* Over and under the absolute limits; true where the pin is safe. */
static bool check_limits(const checker *k, int signal, bool closed)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_pin *pin = pin_of(k, signal);
    const tl_worst *worst = tl_circuit_worst(k->circuit, signal, closed);
    const tl_bounds *over = &worst->over, *under = &worst->under;
    if (over->high > slack_volts) {
        const double limit = level_at(k, signal, pin->limits.highest, over, over->high_at);
        tl_finding *f = tl_report_add(k->report, TL_ERROR, "over-limit", s->pin_place,
                                      "%s can drive %s over its absolute limit", s->name, pin->name);
        tl_finding_text(&f->figure, "%s at the pin, limit %s",
                        show(limit + over->high, TL_DIM_VOLT, TL_ROUND_UP).text,
                        show(limit, TL_DIM_VOLT, TL_ROUND_DOWN).text);
        set_corner(k, f, over, over->high_at);
        double least_rail = 0, most_rail = 0;
        tl_net_param_span(k->circuit->net, k->circuit->reference_param, &least_rail, &most_rail);
        propose_lower_volts(k, signal, fmin(limit, s->analog ? least_rail : limit), f);
    }
    if (under->low < -slack_volts) {
        const double limit = level_at(k, signal, pin->limits.lowest, under, under->low_at);
        tl_finding *f = tl_report_add(k->report, TL_ERROR, "below-ground", s->pin_place,
                                      "%s can pull %s under its absolute limit", s->name, pin->name);
        tl_finding_text(&f->figure, "%s at the pin, limit %s",
                        show(limit + under->low, TL_DIM_VOLT, TL_ROUND_DOWN).text,
                        show(limit, TL_DIM_VOLT, TL_ROUND_UP).text);
        set_corner(k, f, under, under->low_at);
        propose_lift(k, s, under->low + limit, f);
    }
    return over->high <= slack_volts && under->low >= -slack_volts;
}

/* --- the converter --- */

static bool check_channel(const checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_pin *pin = pin_of(k, signal);
    char free_pins[200];
    if (pin->channel >= 0)
        return true;
    tl_finding *f = tl_report_add(k->report, TL_ERROR, "not-analog", s->pin_place,
                                  "%s is a voltage, but %s has no converter channel", s->name, pin->name);
    list_free_pins(k, true, free_pins, sizeof free_pins);
    tl_finding_text(&f->fix, "pins that the converter can read and that are free: %s", free_pins);
    return false;
}

static void check_range(const checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_pin *pin = pin_of(k, signal);
    const tl_worst *worst = tl_circuit_worst(k->circuit, signal, false);
    const tl_bounds *margin = &worst->over_range, *volts = &worst->volts;
    double least = 0, most = 0,
           reference = tl_net_param_nominal(k->circuit->net, k->circuit->reference_param);
    tl_net_param_span(k->circuit->net, k->circuit->reference_param, &least, &most);
    const double lsb = reference / ldexp(1, k->plan->board->converter.word.bits);
    if (margin->high > lsb / 2) {
        /* More than a hundredth of the span is lost for good: that end of the signal cannot be told. */
        const bool blind = margin->high > reference / 100;
        const double limit = value_at_corner(k, k->circuit->reference_param, margin, margin->high_at);
        tl_finding *f = tl_report_add(
            k->report, blind ? TL_ERROR : TL_WARNING, "over-range", s->pin_place,
            "%s goes beyond what the converter can tell at %s: it sticks at the top", s->name, pin->name);
        tl_finding_text(&f->figure, "%s at the pin, reference %s",
                        show(limit + margin->high, TL_DIM_VOLT, TL_ROUND_UP).text,
                        show(limit, TL_DIM_VOLT, TL_ROUND_DOWN).text);
        set_corner(k, f, margin, margin->high_at);
        propose_lower_volts(k, signal, least, f);
    }
    const double used = (volts->high - fmax(0, volts->low)) / reference;
    if (used < 0.25 && volts->high > volts->low && s->source.kind != TL_SOURCE_RAIL) {
        tl_finding *f = tl_report_add(k->report, TL_NOTE, "range-wasted", s->pin_place,
                                      "%s uses little of the converter's range", s->name);
        tl_finding_text(&f->figure, "%s of it, from %s to %s",
                        show(100 * used, TL_DIM_PERCENT, TL_ROUND_UP).text,
                        show(volts->low, TL_DIM_VOLT, TL_ROUND_DOWN).text,
                        show(volts->high, TL_DIM_VOLT, TL_ROUND_UP).text);
    }
}

static void check_acquisition(const checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_converter *converter = &k->plan->board->converter;
    const tl_analog_path *path = tl_circuit_path(k->circuit, signal);
    if (path->fault != TL_NET_SOLVED || path->settling_counts <= 0.5)
        return;
    const double longest = converter->acquisition[converter->acquisition_count - 1];
    const bool longer = path->acquisition < longest;
    const bool useless = path->settling_counts > path->range_counts / 100;
    tl_finding *f = tl_report_add(k->report, useless ? TL_ERROR : TL_WARNING, "slow-acquisition",
                                  s->acquisition.given ? s->acquisition.place : s->pin_place,
                                  "the source resistance of %s is too high for the acquisition time: it "
                                  "reads low or drags along the channel before",
                                  s->name);
    tl_finding_text(&f->figure,
                    "%s of error after %s, half a count is wanted; the pin sees up to %s, %s would do",
                    show(path->settling_counts, TL_DIM_COUNT, TL_ROUND_UP).text,
                    show(path->acquisition, TL_DIM_SECOND, TL_ROUND_NEAREST).text,
                    show(path->source_ohms, TL_DIM_OHM, TL_ROUND_UP).text,
                    show(path->longest_source_ohms, TL_DIM_OHM, TL_ROUND_DOWN).text);
    if (longer)
        tl_finding_text(&f->fix,
                        "leave 'acquisition' out: the shortest that is enough is then taken (up to %s)",
                        show(longest, TL_DIM_SECOND, TL_ROUND_NEAREST).text);
    else
        tl_finding_text(
            &f->fix,
            "add the stage  - capacitor: %s  (%.0f times the sampling capacitor), or lower the "
            "resistances",
            show(converter->sample_farads * (2 * path->range_counts - 1), TL_DIM_FARAD, TL_ROUND_UP).text,
            2 * path->range_counts - 1);
}

/* The step that the plan itself wants to tell apart, in volts at the pin; a hundredth of the span where it
 * says nothing. */
static double wanted_step(const checker *k, int signal)
{
    const tl_plan_reading *reading = &k->plan->signals[signal].reading;
    const tl_analog_path *path = tl_circuit_path(k->circuit, signal);
    const double span = 1e-6 * path->pin_scale.reference_high_uv;
    const bool volts = reading->of == TL_OF_SOURCE || reading->of == TL_OF_PIN;
    if (path->fault != TL_NET_SOLVED || reading->decimals < 0 || !volts)
        return span / 100;
    const double step = pow(10, -reading->decimals) * (reading->unit[0] == 'm' ? 1e-3 : 1);
    return reading->of == TL_OF_PIN ? step : step * path->source_scale.undo_den / path->source_scale.undo_num;
}

static void check_leakage(const checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_quantity *leakage = &pin_of(k, signal)->limits.leakage;
    const double amperes = fmax(fabs(leakage->low), fabs(leakage->high));
    const double ohms = tl_circuit_worst(k->circuit, signal, false)->source_ohms.high,
                 step = wanted_step(k, signal);
    if (amperes * ohms <= step)
        return;
    tl_finding *f =
        tl_report_add(k->report, TL_WARNING, "leakage-error", s->pin_place,
                      "the leakage of %s moves %s by more than %s", pin_of(k, signal)->name, s->name,
                      s->reading.decimals >= 0 ? "its reading resolves" : "a hundredth of the span");
    tl_finding_text(&f->figure, "%s through %s is %s, %s is resolved",
                    show(amperes, TL_DIM_AMPERE, TL_ROUND_UP).text, show(ohms, TL_DIM_OHM, TL_ROUND_UP).text,
                    show(amperes * ohms, TL_DIM_VOLT, TL_ROUND_UP).text,
                    show(step, TL_DIM_VOLT, TL_ROUND_NEAREST).text);
    tl_finding_text(&f->fix, "smaller resistances, or a follower ('size follower')");
}

/* The partner with the widest swing, as the plan line to write. */
static void propose_partner(const checker *k, const tl_signal *s, tl_finding *finding)
{
    const bool upper = s->source.supply == TL_TO_GROUND;
    const int rail = upper ? pin_supply(k, s) : s->source.supply;
    char value[32];
    tl_partner_wish wish = tl_partner_wish_default();
    wish.sensor = s->source.value.value;
    wish.rail = k->plan->supplies[rail].volts;
    wish.leg = upper;
    tl_stock stock = tl_stock_series(TL_E24, 100, 1e6, 0.01);
    tl_answer *answer = tl_answer_new(&stock, 1);
    tl_size_partner(&wish, answer);
    if (answer->count == 0)
        tl_finding_text(&finding->fix, "add a partner in the other leg; 'size partner' finds its value");
    else if (upper)
        tl_finding_text(&finding->fix, "add the stage  - partner: {upper: %s ±1 %%, to: %s}",
                        tl_letter_code_write(answer->choices[0].part[0].nominal, value),
                        k->plan->supplies[rail].name);
    else
        tl_finding_text(&finding->fix, "add the stage  - partner: {lower: %s ±1 %%}",
                        tl_letter_code_write(answer->choices[0].part[0].nominal, value));
    tl_answer_free(answer);
    tl_stock_free(&stock);
}

/* A resistance alone hangs on one rail and never moves. */
static bool check_partner(const checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_worst *worst = tl_circuit_worst(k->circuit, signal, false);
    if (s->source.kind != TL_SOURCE_RESISTANCE || find_stage(s, TL_STAGE_PARTNER) != NULL ||
        find_stage(s, TL_STAGE_PULL) != NULL || find_stage(s, TL_STAGE_LOAD) != NULL ||
        find_stage(s, TL_STAGE_DIVIDER) != NULL)
        return true;
    tl_finding *f =
        tl_report_add(k->report, TL_ERROR, "no-partner", s->source.place,
                      "the resistance of %s has no partner: the pin always sees its far end", s->name);
    tl_finding_text(&f->figure, "%s .. %s at the pin, whatever its ohms",
                    show(worst->volts.low, TL_DIM_VOLT, TL_ROUND_DOWN).text,
                    show(worst->volts.high, TL_DIM_VOLT, TL_ROUND_UP).text);
    propose_partner(k, s, f);
    return false;
}

/* What a current loop has left for its transmitter when the most flows. */
static void check_compliance(const checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_figure source = {TL_FIGURE_VOLTS, k->circuit->signals[signal].source, tl_net_fixed(0)};
    tl_bounds volts;
    if (s->source.kind != TL_SOURCE_CURRENT || isnan(s->source.compliance) ||
        tl_island_bounds(k->circuit->signals[signal].island, k->circuit->at_rest, source, &volts) !=
            TL_NET_SOLVED)
        return;
    const double left = k->plan->supplies[s->source.supply].volts.low - volts.high;
    if (left >= s->source.compliance)
        return;
    tl_finding *f =
        tl_report_add(k->report, TL_ERROR, "compliance", s->source.place,
                      "the loop of %s runs out of volts before it reaches its highest current", s->name);
    tl_finding_text(&f->figure, "%s left for it, %s needed", show(left, TL_DIM_VOLT, TL_ROUND_DOWN).text,
                    show(s->source.compliance, TL_DIM_VOLT, TL_ROUND_UP).text);
    set_corner(k, f, &volts, volts.high_at);
    tl_finding_text(&f->fix, "a smaller load ('size loop'), or a higher supply of the loop");
}

static void check_analog(const checker *k, int signal)
{
    const tl_net_fault fault = tl_circuit_worst(k->circuit, signal, false)->fault;
    if (fault != TL_NET_SOLVED) {
        report_fault(k, signal, fault);
        return;
    }
    const bool readable = check_channel(k, signal);
    if (!check_limits(k, signal, false) || !readable)
        return;
    if (!check_partner(k, signal))
        return;
    check_range(k, signal);
    check_acquisition(k, signal);
    check_leakage(k, signal);
    check_compliance(k, signal);
}

/* --- contacts --- */

/* A level is reached when it clears its threshold at every corner. high: which level this state should
 * give.
 */
static void check_level(const checker *k, int signal, bool closed, bool high)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_pin *pin = pin_of(k, signal);
    const tl_level threshold = high ? pin->limits.vih : pin->limits.vil;
    const tl_worst *worst = tl_circuit_worst(k->circuit, signal, closed);
    const tl_bounds *margin = high ? &worst->above_vih : &worst->above_vil;
    if (high ? margin->low >= -slack_volts : margin->high <= slack_volts)
        return;
    const double *corner = high ? margin->low_at : margin->high_at;
    const double limit = level_at(k, signal, threshold, margin, corner);
    tl_finding *f = tl_report_add(k->report, TL_ERROR, "level-not-reached", s->pin_place,
                                  "%s does not give %s a sure %s while its contact is %s", s->name, pin->name,
                                  high ? "high" : "low", closed ? "closed" : "open");
    tl_finding_text(
        &f->figure, "%s at the pin, %s %s is needed",
        show(limit + (high ? margin->low : margin->high), TL_DIM_VOLT, high ? TL_ROUND_DOWN : TL_ROUND_UP)
            .text,
        high ? "at least" : "at most", show(limit, TL_DIM_VOLT, TL_ROUND_NEAREST).text);
    set_corner(k, f, margin, corner);
    if (find_stage(s, TL_STAGE_GUARD) != NULL && find_stage(s, TL_STAGE_PULL) > find_stage(s, TL_STAGE_GUARD))
        tl_finding_text(&f->fix, "put the pull before the guard: behind it, pull and guard divide the level");
    else
        tl_finding_text(&f->fix,
                        "choose a pull that is smaller against the leakage and larger against what closes");
}

static void check_steady(const checker *k, const tl_signal *s)
{
    if (!s->reading.steady_given || s->reading.steady >= s->source.bounce)
        return;
    tl_finding *f = tl_report_add(
        k->report, TL_WARNING, "steady-too-short", s->reading.place,
        "%s may count one closing several times: its steady time is shorter than its bounce", s->name);
    tl_finding_text(&f->figure, "steady %s, bounce %s",
                    show(s->reading.steady, TL_DIM_SECOND, TL_ROUND_NEAREST).text,
                    show(s->source.bounce, TL_DIM_SECOND, TL_ROUND_NEAREST).text);
    tl_finding_text(&f->fix, "reading: {steady: %s}, or leave it out: twice the bounce is taken",
                    show(2 * s->source.bounce, TL_DIM_SECOND, TL_ROUND_NEAREST).text);
}

/* The current that an open collector or a logic output must take or give at its level. */
static void check_drive(const checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_signal_nodes *nodes = &k->circuit->signals[signal];
    for (int closed = 0; closed < 2 && !isnan(s->source.drives); closed++) {
        const int rail = closed ? nodes->on_rail : nodes->off_rail;
        const tl_figure figure = {TL_FIGURE_RAIL_AMPERES, rail, tl_net_fixed(0)};
        tl_bounds amperes;
        if (rail == TL_NET_NONE)
            continue;
        k->circuit->at_rest[nodes->contact] = closed == 1; /* lent: open again before this returns */
        const tl_net_fault fault = tl_island_bounds(nodes->island, k->circuit->at_rest, figure, &amperes);
        k->circuit->at_rest[nodes->contact] = false;
        const double most = fmax(fabs(amperes.low), fabs(amperes.high));
        if (fault != TL_NET_SOLVED || most <= s->source.drives)
            continue;
        tl_finding *f =
            tl_report_add(k->report, TL_ERROR, "weak-driver", s->source.place,
                          "what drives %s cannot hold its level against the rest of the chain", s->name);
        tl_finding_text(&f->figure, "%s needed, %s at hand", show(most, TL_DIM_AMPERE, TL_ROUND_UP).text,
                        show(s->source.drives, TL_DIM_AMPERE, TL_ROUND_DOWN).text);
        set_corner(k, f, &amperes, fabs(amperes.low) > fabs(amperes.high) ? amperes.low_at : amperes.high_at);
        tl_finding_text(&f->fix,
                        "a larger pull or larger resistances ('size pull --drives'), or a stronger driver");
        return;
    }
}

static bool check_same_rail(const checker *k, const tl_signal *s)
{
    const tl_stage *pull = find_stage(s, TL_STAGE_PULL);
    const int pulls_to = pull == NULL || !pull->internal ? 0 : pull->up ? pin_supply(k, s) : TL_TO_GROUND;
    if (pull == NULL || s->source.kind == TL_SOURCE_LOGIC ||
        (pull->internal ? pulls_to : pull->to) != s->source.supply)
        return true;
    const bool to_ground = s->source.supply == TL_TO_GROUND;
    const char *rail = to_ground ? "ground" : k->plan->supplies[s->source.supply].name;
    tl_finding *f = tl_report_add(
        k->report, TL_ERROR, "same-rail", pull->place,
        "the contact of %s closes to the rail that its pull is on: pressing changes nothing", s->name);
    tl_finding_text(&f->figure, "both are on %s", rail);
    if (to_ground)
        tl_finding_text(&f->fix, "pull: {up: 10k, to: %s}", k->plan->supplies[pin_supply(k, s)].name);
    else
        tl_finding_text(&f->fix, "let the contact close to ground: source: {contact: ground}, or pull: "
                                 "{down: 10k, to: ground}");
    return false;
}

static void check_contact(const checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const bool closes_low = tl_source_closes_low(&s->source);
    check_steady(k, s);
    const bool apart = check_same_rail(k, s);
    bool safe = true;
    check_drive(k, signal);
    for (int closed = 0; closed < 2; closed++) {
        const tl_net_fault fault = tl_circuit_worst(k->circuit, signal, closed == 1)->fault;
        if (fault != TL_NET_SOLVED)
            report_fault(k, signal, fault);
        else if (safe)
            safe = check_limits(k, signal, closed == 1);
        if (fault == TL_NET_SOLVED && safe && apart)
            check_level(k, signal, closed == 1, closes_low == (closed == 0));
    }
}

/* --- the plan as a whole --- */

static void check_pin_taken(const checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    char free_pins[200];
    for (int other = 0; other < signal; other++) {
        if (k->plan->signals[other].pin != s->pin)
            continue;
        tl_finding *f = tl_report_add(k->report, TL_ERROR, "pin-taken", s->pin_place,
                                      "%s is taken: %s uses it already (line %d)", pin_of(k, signal)->name,
                                      k->plan->signals[other].name, k->plan->signals[other].pin_place.line);
        list_free_pins(k, s->analog, free_pins, sizeof free_pins);
        tl_finding_text(&f->fix, "pins that could take %s and are free: %s", s->name, free_pins);
        return;
    }
}

/* The most that one signal draws from a supply, over both states of its contact. */
static double most_amperes(const checker *k, int signal, int supply)
{
    double most = tl_circuit_worst(k->circuit, signal, false)->amperes[supply];
    if (k->circuit->signals[signal].contact != TL_NET_NONE)
        most = fmax(most, tl_circuit_worst(k->circuit, signal, true)->amperes[supply]);
    return most;
}

static void check_budget(const checker *k, int supply)
{
    const tl_supply *rail = &k->plan->supplies[supply];
    double sum = 0, largest = 0;
    int hungriest = 0;
    if (!isfinite(rail->most_amperes))
        return;
    for (int i = 0; i < k->plan->signal_count; i++) {
        const double amperes = most_amperes(k, i, supply);
        sum += amperes;
        if (amperes > largest) {
            largest = amperes;
            hungriest = i;
        }
    }
    if (sum <= rail->most_amperes)
        return;
    const tl_signal *s = &k->plan->signals[hungriest];
    const tl_stage *divider = find_stage(s, TL_STAGE_DIVIDER);
    tl_finding *f =
        tl_report_add(k->report, TL_ERROR, "over-budget", divider != NULL ? divider->place : s->place,
                      "more is drawn from %s than its budget", rail->name);
    tl_finding_text(&f->figure, "%s together, budget %s; %s of it by %s",
                    show(sum, TL_DIM_AMPERE, TL_ROUND_UP).text,
                    show(rail->most_amperes, TL_DIM_AMPERE, TL_ROUND_DOWN).text,
                    show(largest, TL_DIM_AMPERE, TL_ROUND_UP).text, s->name);
    const double others = sum - largest;
    if (divider != NULL && others < rail->most_amperes)
        tl_finding_text(&f->fix, "make both legs of its divider at least %.1f times larger",
                        ceil(10 * largest / (rail->most_amperes - others)) / 10);
    else
        tl_finding_text(&f->fix, "make the resistances of %s larger", s->name);
}

/* A part without any tolerance is exact to the checker: that rests on what the plan does not say. */
static void check_tolerances(const checker *k)
{
    tl_place first = {-1, 0, 0};
    int count = 0;
    for (int i = 0; i < k->plan->signal_count; i++) {
        const tl_signal *s = &k->plan->signals[i];
        for (int j = 0; j < s->stage_count; j++) {
            const tl_written *parts[2] = {&s->stages[j].first, &s->stages[j].second};
            for (int p = 0; p < 2; p++) {
                if (!parts[p]->given || parts[p]->value.low != parts[p]->value.high)
                    continue;
                if (count++ == 0)
                    first = parts[p]->place;
            }
        }
    }
    if (count == 0)
        return;
    tl_finding *f = tl_report_add(k->report, TL_NOTE, "no-tolerance", first,
                                  "%d part%s without tolerance, this one first: taken as exact", count,
                                  count == 1 ? " is" : "s are");
    tl_finding_text(&f->fix, "say what the part is: 10k ±1 %%");
}

/* How often the plan wants a resistor of this value from the drawer, and where it does so first. */
static int count_wanted(const checker *k, double value, tl_place *first)
{
    int wanted = 0;
    for (int i = 0; i < k->plan->signal_count; i++) {
        const tl_signal *s = &k->plan->signals[i];
        for (int j = 0; j < s->stage_count; j++) {
            const tl_stage *stage = &s->stages[j];
            const tl_written *parts[2] = {&stage->first, &stage->second};
            const bool farads = stage->kind == TL_STAGE_CAPACITOR || stage->kind == TL_STAGE_CABLE;
            const int legs = stage->fitted || farads ? 0 : stage->kind == TL_STAGE_FILTER ? 1 : 2;
            for (int p = 0; p < 2 * legs; p++) {
                if (!parts[p / 2]->given || fabs(parts[p / 2]->parts[p % 2] - value) > 1e-9 * value)
                    continue;
                if (wanted++ == 0)
                    *first = parts[p / 2]->place;
            }
        }
    }
    return wanted;
}

/* Of all tolerances together; -1 for plenty. */
static int count_there(const tl_stock *stock, double value)
{
    int there = 0;
    for (int i = 0; i < stock->count; i++) {
        if (fabs(stock->parts[i].value - value) > 1e-9 * value)
            continue;
        if (stock->parts[i].count < 0)
            return -1;
        there += stock->parts[i].count;
    }
    return there;
}

static void check_drawer(const checker *k)
{
    const tl_stock *stock = &k->plan->resistors;
    for (int i = 0; k->plan->has_drawer && i < stock->count; i++) {
        const double value = stock->parts[i].value;
        tl_place first = {-1, 0, 0};
        char code[32];
        if (i > 0 && stock->parts[i - 1].value >= value * (1 - 1e-9))
            continue; /* the same value with another tolerance: counted already */
        const int there = count_there(stock, value), wanted = there >= 0 ? count_wanted(k, value, &first) : 0;
        if (wanted <= there || there < 0)
            continue;
        tl_finding *f = tl_report_add(k->report, TL_WARNING, "drawer-exhausted", first,
                                      "the drawer holds too few of %s, this one first",
                                      tl_letter_code_write(value, code));
        tl_finding_text(&f->figure, "%d wanted, %d there", wanted, there);
        tl_finding_text(&f->fix, "buy some, or ask 'size' for another value: --drawer FILE --plan FILE");
    }
}

void tl_plan_check(const tl_circuit *circuit, tl_report *report)
{
    const checker k = {circuit, circuit->plan, report};
    for (int i = 0; i < k.plan->signal_count; i++) {
        check_pin_taken(&k, i);
        if (k.plan->signals[i].analog)
            check_analog(&k, i);
        else
            check_contact(&k, i);
    }
    for (int i = 0; i < k.plan->supply_count; i++)
        check_budget(&k, i);
    check_tolerances(&k);
    check_drawer(&k);
    tl_report_sort(report);
}
