/* SPDX-License-Identifier: MIT */
/* Rules for what a reading says: percent ends, faults, tables, restated facts, buttons on one pin, sweeps. */
#include "analysis/ask.h"
#include "rules/check.h"
#include <math.h>
#include <string.h>

/* --- percent --- */

/* The source's own value behind an end of the percent figure, in the order of its range: -1 low end, 1 high
 * end. */
static int rises_with_source(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_analog_path *path = tl_circuit_path(k->circuit, signal);
    if (s->reading.of != TL_OF_PIN && s->reading.of != TL_OF_COUNTS)
        return s->reading.of == TL_OF_QUANTITY ? 0 : 1;
    if (path->fault != TL_NET_SOLVED || s->source.kind != TL_SOURCE_RESISTANCE)
        return 1;
    double low = 0, high = 0;
    if (tl_plan_unknown(k->circuit, signal, path, path->reference_counts / 4, &low) != TL_NET_SOLVED ||
        tl_plan_unknown(k->circuit, signal, path, path->reference_counts / 2, &high) != TL_NET_SOLVED)
        return 0;
    return high > low ? 1 : -1;
}

/* The end that is 100 %: the high end of a source, unless it says which end is full. */
static void check_percent(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_plan_reading *reading = &s->reading;
    if (!reading->empty.given || reading->of == TL_OF_QUANTITY)
        return;
    const bool rising = reading->full.value.nominal > reading->empty.value.nominal;
    const int with_source = rises_with_source(k, signal);
    const bool resistance = s->source.kind == TL_SOURCE_RESISTANCE;
    if (with_source == 0 || (resistance && !s->source.full.given))
        return;
    const double middle = (s->source.value.value.low + s->source.value.value.high) / 2;
    const bool full_is_high = !resistance || s->source.full.value.nominal > middle;
    if (rising == (full_is_high == (with_source > 0)))
        return;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_PERCENT_REVERSED, reading->empty.place,
                                 "%s: empty and full are exchanged", s->name);
    if (resistance)
        tl_finding_text(&f->figure, "the source says that %s is full",
                        tl_show(s->source.full.value.nominal, TL_DIM_OHM, TL_ROUND_NEAREST).text);
    else
        tl_finding_text(&f->figure, "its empty end is above its full end");
    tl_finding_text(&f->fix, resistance ? "exchange empty and full, or correct 'full' of the source"
                                        : "exchange empty and full");
}

/* --- fault windows --- */

/* What the valid signal gives at the pin, over all corners, as the converter sees it: shares of its
 * reference. Volts are meant at the nominal reference. */
static void valid_range(const tl_checker *k, int signal, tl_dimension dimension, double *low, double *high)
{
    const tl_signal_nodes *nodes = &k->circuit->signals[signal];
    tl_interval codes;
    double middle;
    const tl_analog_path *path = tl_circuit_path(k->circuit, signal);
    const tl_worst_case *worst = tl_circuit_worst_case(k->circuit, signal, 0);
    tl_interval shares;
    *low = worst->volts.low;
    *high = worst->volts.high;
    if (dimension == TL_DIM_VOLT && nodes->reference != TL_NET_NONE &&
        tl_circuit_shares(k->circuit, signal, 0, &shares) == TL_NET_SOLVED) {
        *low = shares.low * k->circuit->nominal[nodes->reference];
        *high = shares.high * k->circuit->nominal[nodes->reference];
    } else if (dimension == TL_DIM_PERCENT && nodes->reference != TL_NET_NONE &&
               tl_plan_state_codes(k->circuit, signal, 0, &codes, &middle) == TL_NET_SOLVED) {
        *low = 100 * codes.low / path->reference_counts;
        *high = 100 * codes.high / path->reference_counts;
    } else if (dimension == TL_DIM_AMPERE) {
        *low = k->plan->signals[signal].source.value.value.low;
        *high = k->plan->signals[signal].source.value.value.high;
    }
}

/* A tenth of what is left on the other side is kept between a valid value and the window. */
static void propose_side(const tl_fault_window *window, bool open, double low, double high, tl_finding *f)
{
    const bool percent = window->dimension == TL_DIM_PERCENT, above = !window->above;
    const double to = above ? high + 0.1 * (percent ? 100 - high : high) : 0.9 * low;
    if (above ? !percent || to < 100 : to > 0)
        tl_finding_text(&f->fix, "set %s: %s %s", open ? "open" : "short", above ? "above" : "below",
                        tl_show(to, window->dimension, above ? TL_ROUND_UP : TL_ROUND_DOWN).text);
}

static void check_window(const tl_checker *k, int signal, const tl_fault_window *window, bool open)
{
    const tl_signal *s = &k->plan->signals[signal];
    double low = 0, high = 0;
    if (!window->level.given)
        return;
    valid_range(k, signal, window->dimension, &low, &high);
    const double level = window->level.value.nominal;
    const tl_shown at = tl_show(level, window->dimension, TL_ROUND_NEAREST);
    /* With the sensor in the lower leg a broken wire lets the pin rise to the partner's rail; in the upper it
     * falls. */
    const tl_plan_part *partner = tl_check_part(k, signal, TL_PART_PARTNER);
    const bool opens_high = partner != NULL && partner->up;
    if (partner != NULL && window->dimension != TL_DIM_AMPERE && window->above != (open == opens_high)) {
        tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_FAULT_SIDE, window->level.place,
                                     "%s of %s reads at the other end of the range",
                                     open ? "an open wire" : "a short", s->name);
        tl_finding_text(&f->figure, "the sensor is the %s resistor: when %s, the pin goes %s",
                        opens_high ? "lower" : "upper", open ? "open" : "shorted",
                        window->above ? "low" : "high");
        propose_side(window, open, low, high, f);
        return;
    }
    if (s->source.kind == TL_SOURCE_CURRENT && window->above == open) {
        tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_FAULT_SIDE, window->level.place,
                                     "%s of %s reads at the other end of the range",
                                     open ? "an open loop" : "a short", s->name);
        tl_finding_text(&f->figure, open ? "no current flows in an open loop: it reads low"
                                         : "shorted, the loop gives all that its supply can: it reads high");
        tl_finding_text(&f->fix, open ? "set open: below 3.6 mA" : "set short: above 21 mA");
        return;
    }
    if (window->above ? level >= high : level <= low)
        return;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_FAULT_WINDOW, window->level.place,
                                 "%s: a valid reading can be inside the fault window", s->name);
    tl_finding_figures(f, window->dimension, low, high);
    tl_finding_text(&f->figure, "window %s %s; valid range %s to %s", window->above ? "above" : "below",
                    at.text, tl_show(low, window->dimension, TL_ROUND_DOWN).text,
                    tl_show(high, window->dimension, TL_ROUND_UP).text);
    if (window->dimension == TL_DIM_PERCENT && (window->above ? high >= 100 : low <= 0))
        tl_finding_text(&f->fix, "change the partner so that a window is left: tinyladder size partner");
    else {
        /* A tenth of what is left on that side is kept between a valid value and the window. */
        const bool percent = window->dimension == TL_DIM_PERCENT;
        const double to =
            window->above ? high + 0.1 * (percent ? 100 - high : fabs(high)) : low - 0.1 * fabs(low);
        const tl_shown shown = tl_show(to, window->dimension, window->above ? TL_ROUND_UP : TL_ROUND_DOWN);
        tl_finding_text(&f->fix, "set %s: %s %s", open ? "open" : "short", window->above ? "above" : "below",
                        shown.text);
        tl_finding_change(f, TL_CHANGE_VALUE, window->level.place, NULL, "%s %s",
                          window->above ? "above" : "below", shown.text);
    }
}

/* --- tables --- */

static void check_tables(const tl_checker *k, const tl_signal *s)
{
    const tl_response *curve = &s->source.curve;
    const tl_plan_reading *reading = &s->reading;
    if (curve->count > 0 && s->source.over.given) {
        const double first = curve->points[0].quantity, last = curve->points[curve->count - 1].quantity;
        if (s->source.over.value.low < first || s->source.over.value.high > last) {
            tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_TABLE_SHORT, s->source.over.place,
                                         "%s: the sensor table does not cover the range in use", s->name);
            tl_finding_text(&f->figure, "range %g to %g %s; table %g to %g %s", s->source.over.value.low,
                            s->source.over.value.high, curve->unit, first, last, curve->unit);
            tl_finding_text(&f->fix, "add points, or set over: %g .. %g %s",
                            fmax(first, s->source.over.value.low), fmin(last, s->source.over.value.high),
                            curve->unit);
        }
    }
    /* Two points are a straight line and hold beyond them; more are a table, and only hold between them. */
    if (reading->point_count <= 2 || reading->of != TL_OF_SOURCE || !s->source.value.given)
        return;
    const double first = reading->points[0].from, last = reading->points[reading->point_count - 1].from;
    if (s->source.value.value.low >= first && s->source.value.value.high <= last)
        return;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_TABLE_SHORT, reading->points[0].place,
                                 "%s: the points do not cover the source range", s->name);
    tl_finding_figures(f, s->source.kind == TL_SOURCE_CURRENT ? TL_DIM_AMPERE : TL_DIM_VOLT, first, last);
    tl_finding_text(
        &f->figure, "points %s to %s",
        tl_show(first, s->source.kind == TL_SOURCE_CURRENT ? TL_DIM_AMPERE : TL_DIM_VOLT, TL_ROUND_NEAREST)
            .text,
        tl_show(last, s->source.kind == TL_SOURCE_CURRENT ? TL_DIM_AMPERE : TL_DIM_VOLT, TL_ROUND_NEAREST)
            .text);
    tl_finding_text(&f->fix, "add points at both ends of the source range");
}

/* --- what existing firmware believes --- */

static tl_finding *contradiction(const tl_checker *k, const tl_signal *s, tl_place place, const char *what)
{
    return tl_check_add(k, TL_GRAVE, TL_RULE_RESTATED, place,
                        "the %s that the firmware uses for %s contradicts the wiring", what, s->name);
}

static void check_scale(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_analog_path *path = tl_circuit_path(k->circuit, signal);
    if (!s->reading.scale.given || path->fault != TL_NET_SOLVED)
        return;
    const double found = 1 / path->slope, said = s->reading.scale.value.nominal;
    if (fabs(said - found) <= found / path->range_counts)
        return;
    tl_finding *f = contradiction(k, s, s->reading.scale.place, "scale");
    tl_finding_text(&f->figure, "firmware %g; the parts give %.5g: error %.2f %%", said, found,
                    100 * fabs(said / found - 1));
    tl_finding_text(&f->fix, "set scale: %.5g  in the firmware", found);
    tl_finding_change(f, TL_CHANGE_VALUE, s->reading.scale.place, NULL, "%.7g", found);
}

static void check_word(const tl_checker *k, const tl_signal *s)
{
    static const char *const steps[] = {"half", "full", "end-to-end"};
    const tl_plan_reading *reading = &s->reading;
    const tl_plan_converter *used = tl_plan_converter_of(k->plan, s);
    if (used == NULL)
        return;
    const tl_converter *part = used->part;
    if (reading->steps >= 0 && reading->steps != (int)part->steps) {
        tl_finding *f =
            tl_check_add(k, reading->steps == 2 ? TL_USUAL : TL_GRAVE, TL_RULE_RESTATED, reading->steps_place,
                         "the steps that the firmware uses for %s are not the ADC's", s->name);
        tl_finding_text(&f->figure, "firmware %s; board file %s: error up to %s", steps[reading->steps],
                        steps[part->steps],
                        reading->steps == 2 && part->steps == TL_STEPS_HALF ? "an LSB" : "half an LSB");
        tl_finding_text(&f->fix, "calculate with steps: %s", steps[part->steps]);
        tl_finding_change(f, TL_CHANGE_VALUE, reading->steps_place, NULL, "%s", steps[part->steps]);
    }
    const int align = part->word.align == TL_WORD_STRETCHED ? 2 : part->word.align == TL_WORD_LEFT ? 1 : 0;
    const bool wrong = (reading->word_bits > 0 && reading->word_bits != part->word.bits) ||
                       (reading->word_in > 0 && reading->word_in != part->word.width) ||
                       (reading->word_align >= 0 && reading->word_align != align) ||
                       (reading->word_sign >= 0 && reading->word_sign != (int)part->word.sign) ||
                       (reading->word_bytes >= 0 && reading->word_bytes != part->bytes);
    if (!wrong)
        return;
    static const char *const aligns[] = {"right", "left", "stretched"};
    tl_finding *f = contradiction(k, s, reading->word_place, "word");
    tl_finding_text(&f->figure, "the ADC gives %d bits in %d, aligned %s", part->word.bits, part->word.width,
                    aligns[align]);
    if (reading->word_bits > 0 && reading->word_bits != part->word.bits &&
        tl_converter_offers_bits(part, reading->word_bits))
        tl_finding_text(&f->fix, "correct the firmware, or set converters: {%s: {bits: %ld}}", used->name,
                        reading->word_bits);
    else if (reading->word_align >= 0 && reading->word_align != align &&
             tl_converter_offers_align(part, reading->word_align))
        tl_finding_text(&f->fix, "correct the firmware, or set converters: {%s: {align: %s}}", used->name,
                        aligns[reading->word_align]);
    else
        tl_finding_text(&f->fix, "correct the firmware; the ADC has no such format");
}

static void check_restated(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_pin *pin = tl_check_pin(k, signal);
    if (!s->analog && s->reading.active >= 0 && (s->reading.active == 0) != tl_signal_closes_low(s)) {
        const bool logic = s->source.kind == TL_SOURCE_LOGIC;
        const bool low = tl_signal_closes_low(s);
        if (!logic || (s->reading.active == 0) == low) {
            tl_finding *f = contradiction(k, s, s->reading.active_place, "active level");
            tl_finding_text(&f->figure, "closing gives a %s level", low ? "low" : "high");
            tl_finding_text(&f->fix, "set active: %s", low ? "low" : "high");
            tl_finding_change(f, TL_CHANGE_VALUE, s->reading.active_place, NULL, "%s", low ? "low" : "high");
        }
    }
    if (s->channel >= 0 && s->channel != pin->channel) {
        tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_CHANNEL_DISAGREES, s->channel_place,
                                     "%s: the firmware converts another channel", s->name);
        if (pin->channel >= 0)
            tl_finding_text(&f->figure, "%s is channel %d; the firmware converts %d", pin->name, pin->channel,
                            s->channel);
        else
            tl_finding_text(&f->figure, "%s has no channel; the firmware converts %d", pin->name, s->channel);
        tl_finding_text(&f->fix, "move the wire, or convert the channel of the pin");
        if (pin->channel >= 0)
            tl_finding_change(f, TL_CHANGE_VALUE, s->channel_place, NULL, "%d", pin->channel);
    }
    if (!s->analog)
        return;
    check_scale(k, signal);
    check_word(k, s);
}

void tl_check_reading(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    if (s->analog && !s->reading.given && s->source.button_count == 0) {
        tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_NO_READING, s->place,
                                     "%s has no reading; %s is assumed", s->name, s->reading.unit);
        tl_finding_text(&f->fix, "add reading: {unit: '%s'}", s->reading.unit);
        tl_finding_change(f, TL_CHANGE_KEY_OF, s->place, "reading", "{unit: '%s'}", s->reading.unit);
    }
    check_restated(k, signal);
    check_tables(k, s);
    if (!s->analog || tl_circuit_path(k->circuit, signal)->fault != TL_NET_SOLVED)
        return;
    check_percent(k, signal);
    check_window(k, signal, &s->reading.open, true);
    check_window(k, signal, &s->reading.shorted, false);
}

/* --- buttons on one pin --- */

static const char *state_name(const tl_signal *s, int state)
{
    return state == 0 ? "no button" : s->source.buttons[state - 1].name;
}

/* Two buttons of a star at once must not read as a third. */
static void check_two_at_once(const tl_checker *k, int signal, const tl_interval *codes, int states)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_signal_nodes *nodes = &k->circuit->signals[signal];
    const double per_volt = tl_circuit_path(k->circuit, signal)->reference_counts /
                            tl_net_param_nominal(k->circuit->net, nodes->reference);
    for (int a = 1; a < states; a++) {
        for (int b = a + 1; b < states; b++) {
            tl_bounds volts;
            tl_ask ask = tl_ask_of(TL_ASK_VOLTS, signal, a, nodes->pin);
            ask.closes[0] = nodes->buttons[b - 1];
            if (tl_circuit_ask(k->circuit, &ask, &volts) != TL_NET_SOLVED)
                continue;
            for (int third = 0; third < states; third++) {
                if (third == a || third == b || volts.high * per_volt < codes[third].low ||
                    volts.low * per_volt > codes[third].high)
                    continue;
                tl_finding *f =
                    tl_check_add(k, TL_USUAL, TL_RULE_TWO_AS_THIRD, s->source.buttons[a - 1].ohms.place,
                                 "%s and %s of %s together can read as %s", state_name(s, a),
                                 state_name(s, b), s->name, state_name(s, third));
                tl_finding_text(&f->figure, "%.0f to %.0f counts together; %.0f to %.0f alone",
                                volts.low * per_volt, volts.high * per_volt, codes[third].low,
                                codes[third].high);
                tl_finding_text(&f->fix,
                                "use a chain, in which the nearer button wins, or values from 'size ladder'");
                return;
            }
        }
    }
}

void tl_check_buttons(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const int states = k->circuit->signals[signal].states;
    tl_interval codes[TL_BUTTONS_MOST + 1];
    double middle;
    const double apart =
        s->reading.apart > 0 ? s->reading.apart : tl_circuit_path(k->circuit, signal)->reference_counts / 100;
    for (int state = 0; state < states; state++) {
        const tl_net_status fault = tl_plan_state_codes(k->circuit, signal, state, &codes[state], &middle);
        if (fault == TL_NET_SOLVED)
            continue;
        tl_check_fault(k, signal, fault);
        return;
    }
    int worst[2] = {0, 0};
    double closest = INFINITY;
    for (int a = 0; a < states; a++) {
        for (int b = 0; b < a; b++) {
            const double between =
                codes[a].low > codes[b].low ? codes[a].low - codes[b].high : codes[b].low - codes[a].high;
            if (between >= closest)
                continue;
            closest = between;
            worst[0] = b;
            worst[1] = a;
        }
    }
    if (closest < apart) {
        const int a = worst[1], b = worst[0];
        tl_finding *f = tl_check_add(k, closest < 0 ? TL_GRAVE : TL_USUAL, TL_RULE_BUTTONS_CLOSE,
                                     a > 0 ? s->source.buttons[a - 1].ohms.place : s->source.place,
                                     "%s and %s of %s cannot always be distinguished", state_name(s, b),
                                     state_name(s, a), s->name);
        tl_finding_figures(f, TL_DIM_COUNT, closest, apart);
        tl_finding_text(&f->figure, "%.0f to %.0f and %.0f to %.0f counts; they must be %.0f apart",
                        codes[b].low, codes[b].high, codes[a].low, codes[a].high, apart);
        tl_finding_text(&f->fix, "use values from 'size ladder', or closer tolerances");
        return;
    }
    if (s->source.kind == TL_SOURCE_STAR)
        check_two_at_once(k, signal, codes, states);
}

/* --- sweeps --- */

static double time_of(const tl_checker *k, int signal, int discard)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_plan_converter *converter = tl_plan_converter_of(k->plan, s);
    const tl_analog_path *path = tl_circuit_path(k->circuit, signal);
    if (converter == NULL || path->fault != TL_NET_SOLVED)
        return 0;
    const int samples = s->reading.average == TL_AVERAGE_NONE ? 1 : s->reading.samples;
    return path->dwell + (samples + discard) * (path->acquisition + converter->part->conversion);
}

void tl_check_sweeps(const tl_checker *k)
{
    for (int i = 0; i < k->plan->sweep_count; i++) {
        const tl_plan_sweep *sweep = &k->plan->sweeps[i];
        double sum = 0;
        for (int j = 0; j < sweep->signal_count; j++)
            sum += time_of(k, sweep->signals[j], sweep->discard);
        if (!(sweep->every > 0) || sum <= sweep->every)
            continue;
        tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_SWEEP_SLOW, sweep->every_place,
                                     "sweep %s takes longer than its interval", sweep->name);
        tl_finding_figures(f, TL_DIM_SECOND, sum, sweep->every);
        tl_finding_text(&f->figure, "%s for %d signals; interval %s",
                        tl_show(sum, TL_DIM_SECOND, TL_ROUND_UP).text, sweep->signal_count,
                        tl_show(sweep->every, TL_DIM_SECOND, TL_ROUND_NEAREST).text);
        tl_finding_text(&f->fix, "set every: %s, or take fewer samples per signal",
                        tl_show(sum, TL_DIM_SECOND, TL_ROUND_UP).text);
        tl_finding_change(f, TL_CHANGE_VALUE, sweep->every_place, NULL, "%s",
                          tl_show(sum, TL_DIM_SECOND, TL_ROUND_UP).text);
    }
}
