/* SPDX-License-Identifier: MIT */
/* Rules for shifters, and for how fast a line can move. */
#include "analysis/ask.h"
#include "rules/check.h"
#include <math.h>
#include <stdio.h>

/* The volts that a rail has at most, ground being 0. */
static double rail_high(const tl_checker *k, int rail)
{
    return rail == TL_TO_GROUND ? 0 : k->plan->supplies[rail].volts.high;
}

static double rail_low(const tl_checker *k, int rail)
{
    return rail == TL_TO_GROUND ? 0 : k->plan->supplies[rail].volts.low;
}

/* What the source gives as low at most, and as high at least. */
static double source_low(const tl_checker *k, const tl_signal *s)
{
    return s->source.kind == TL_SOURCE_LOGIC ? tl_level_volts(s->source.low, rail_high(k, s->source.supply))
           : s->source.kind == TL_SOURCE_OPEN_COLLECTOR ? s->source.value.value.high
                                                        : 0;
}

/* The rail that a line rises to before the shifter, or behind it: that of its pull, or the source's own. */
static int rail_of_side(const tl_checker *k, const tl_signal *s, const tl_stage *shifter, bool behind)
{
    const int signal = (int)(s - k->plan->signals);
    for (const tl_plan_part *pull = NULL; (pull = tl_check_next(k, signal, TL_PART_PULL, pull)) != NULL;) {
        if ((pull->of > shifter) == behind && pull->up)
            return pull->rail;
    }
    return behind ? tl_check_pin_supply(k, s) : s->source.supply;
}

static tl_finding *report_direction(const tl_checker *k, const tl_signal *s, const tl_stage *shifter,
                                    const char *why)
{
    return tl_check_add(k, TL_USUAL, TL_RULE_SHIFTER_DIRECTION, shifter->place, "level shifter of %s: %s",
                        s->name, why);
}

/* While its source is low, the current of what is behind a diode flows through both. */
static void check_diode_driver(const tl_checker *k, int signal, const tl_stage *shifter)
{
    const tl_signal *s = &k->plan->signals[signal];
    char path[200];
    tl_bounds amperes;
    snprintf(path, sizeof path, "%.90s.%.60s.on", s->name, shifter->name);
    const int rail = tl_net_find_node(k->circuit->net, path);
    const tl_ask ask = tl_ask_of(TL_ASK_RAIL_AMPERES, signal, 1, rail);
    if (isnan(s->source.drives) || tl_circuit_ask(k->circuit, &ask, &amperes) != TL_NET_SOLVED)
        return;
    const double most = fmax(fabs(amperes.low), fabs(amperes.high));
    if (most <= s->source.drives)
        return;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_WEAK_DRIVER, s->source.place,
                                 "%s: the driver cannot sink the current through the diode", s->name);
    tl_check_drive_figures(f, most, s->source.drives);
    tl_check_corner(k, f, &amperes,
                    fabs(amperes.low) > fabs(amperes.high) ? amperes.low_at : amperes.high_at);
    tl_finding_text(&f->fix, "increase the pull-up behind the diode: tinyladder size shift");
}

static bool check_diode(const tl_checker *k, int signal, const tl_stage *shifter)
{
    const tl_signal *s = &k->plan->signals[signal];
    if (tl_source_closes_low(&s->source)) {
        check_diode_driver(k, signal, shifter);
        return true;
    }
    tl_finding *f = report_direction(k, s, shifter, "a diode passes lows only; this source drives highs");
    tl_finding_text(&f->fix, "use a divider or way: buffer instead of the diode");
    return false;
}

static bool check_n_channel(const tl_checker *k, const tl_signal *s, const tl_stage *shifter)
{
    const int before = rail_of_side(k, s, shifter, false), behind = rail_of_side(k, s, shifter, true);
    const double lower = fmin(rail_low(k, before), rail_low(k, behind));
    if (rail_high(k, shifter->to) > lower * 1.25 &&
        rail_low(k, shifter->to) > fmin(rail_high(k, before), rail_high(k, behind))) {
        tl_finding *f =
            report_direction(k, s, shifter, "its gate is on the higher supply; it never turns off");
        tl_finding_figures(f, TL_DIM_VOLT, rail_low(k, shifter->to), lower);
        tl_finding_text(&f->figure, "gate %s; lower side %s",
                        tl_show(rail_low(k, shifter->to), TL_DIM_VOLT, TL_ROUND_NEAREST).text,
                        tl_show(lower, TL_DIM_VOLT, TL_ROUND_NEAREST).text);
        tl_finding_text(&f->fix, "set gate: %s",
                        rail_low(k, before) < rail_low(k, behind) && before >= 0
                            ? k->plan->supplies[before].name
                        : behind >= 0 ? k->plan->supplies[behind].name
                                      : "the lower rail");
        return false;
    }
    /* From the higher side the channel must open past the body diode. */
    const bool from_high = rail_high(k, before) > rail_high(k, behind);
    const double drive = rail_low(k, shifter->to) - source_low(k, s) - (from_high ? shifter->drop : 0);
    if (drive >= shifter->threshold)
        return true;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_SHIFTER_WEAK, shifter->place,
                                 "level shifter of %s: the gate voltage is below the threshold", s->name);
    tl_finding_figures(f, TL_DIM_VOLT, drive, shifter->threshold);
    tl_finding_text(&f->figure, "%s between gate and source; threshold up to %s",
                    tl_show(drive, TL_DIM_VOLT, TL_ROUND_DOWN).text,
                    tl_show(shifter->threshold, TL_DIM_VOLT, TL_ROUND_UP).text);
    tl_finding_text(&f->fix, "use a transistor with a threshold below %s",
                    tl_show(drive, TL_DIM_VOLT, TL_ROUND_DOWN).text);
    return false;
}

/* What flows into the base while the source is high, and what the transistor then takes from its line. */
static tl_bounds base_amperes(const tl_checker *k, int signal, const tl_stage *shifter, double *collector)
{
    const tl_signal *s = &k->plan->signals[signal];
    const int high = tl_source_closes_low(&s->source) ? 0 : 1;
    const tl_bounds none = {.low = NAN, .nominal = NAN, .high = NAN};
    char path[200];
    tl_bounds base;
    snprintf(path, sizeof path, "%.90s.%.60s.base", s->name, shifter->name);
    const tl_ask into = tl_ask_of(TL_ASK_RAIL_AMPERES, signal, high, tl_net_find_node(k->circuit->net, path));
    snprintf(path, sizeof path, "%.90s.%.60s.on", s->name, shifter->name);
    const tl_ask from = tl_ask_of(TL_ASK_RAIL_AMPERES, signal, high, tl_net_find_node(k->circuit->net, path));
    *collector = tl_circuit_most(k->circuit, &from);
    if (tl_circuit_ask(k->circuit, &into, &base) != TL_NET_SOLVED)
        return none;
    return (tl_bounds){.low = -base.high, .nominal = -base.nominal, .high = -base.low};
}

/* What drives the base must be able to. */
static bool check_base_driver(const tl_checker *k, const tl_signal *s, const tl_stage *shifter)
{
    double collector;
    const double most = base_amperes(k, (int)(s - k->plan->signals), shifter, &collector).high;
    if (s->source.kind != TL_SOURCE_LOGIC || isnan(s->source.drives) || !(most > s->source.drives))
        return true;
    const double times = most / s->source.drives;
    tl_finding *f =
        tl_check_add(k, TL_USUAL, TL_RULE_WEAK_DRIVER, s->source.place,
                     "%s: the driver cannot supply the base current of its level shifter", s->name);
    tl_check_drive_figures(f, most, s->source.drives);
    tl_finding_text(&f->fix, "increase the base resistor: base: %s or more",
                    tl_show(shifter->first.value.low * times, TL_DIM_OHM, TL_ROUND_UP).text);
    return false;
}

/* The base must get a twentieth of what the transistor takes, and nothing while the source is low. */
static bool check_inverter(const tl_checker *k, const tl_signal *s, const tl_stage *shifter)
{
    if (source_low(k, s) > tl_base_off) {
        tl_finding *f =
            tl_check_add(k, TL_USUAL, TL_RULE_SHIFTER_INPUT, shifter->place,
                         "level shifter of %s: the low level does not turn its transistor off", s->name);
        tl_finding_figures(f, TL_DIM_VOLT, source_low(k, s), tl_base_off);
        tl_finding_text(&f->figure, "low up to %s, off at %s",
                        tl_show(source_low(k, s), TL_DIM_VOLT, TL_ROUND_UP).text,
                        tl_show(tl_base_off, TL_DIM_VOLT, TL_ROUND_NEAREST).text);
        tl_finding_text(&f->fix, "use way: buffer");
        return false;
    }
    double collector;
    const double base = base_amperes(k, (int)(s - k->plan->signals), shifter, &collector).low;
    if (!(base * tl_forced_gain < collector))
        return true;
    const double share = base * tl_forced_gain / collector;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_SHIFTER_WEAK, shifter->place,
                                 "level shifter of %s: the base current is too small", s->name);
    tl_finding_figures(f, TL_DIM_AMPERE, base, collector / tl_forced_gain);
    tl_finding_text(&f->figure, "base current %s; %s needed (gain %.0f guaranteed)",
                    tl_show(base, TL_DIM_AMPERE, TL_ROUND_DOWN).text,
                    tl_show(collector / tl_forced_gain, TL_DIM_AMPERE, TL_ROUND_UP).text, tl_forced_gain);
    tl_finding_text(&f->fix, "reduce the base resistor: base: %s",
                    tl_show(shifter->first.value.high * share, TL_DIM_OHM, TL_ROUND_DOWN).text);
    return false;
}

/* A buffer sees the source's levels against thresholds of its own. */
static bool check_buffer(const tl_checker *k, const tl_signal *s, const tl_stage *shifter)
{
    const double least = rail_low(k, shifter->to), most = rail_high(k, shifter->to);
    const int side = rail_of_side(k, s, shifter, false);
    const double low = source_low(k, s), highest = rail_high(k, side);
    const double high = s->source.kind == TL_SOURCE_LOGIC ? tl_level_volts(s->source.high, rail_low(k, side))
                                                          : rail_low(k, side);
    const double vil = tl_level_volts(shifter->vil, least), vih = tl_level_volts(shifter->vih, most);
    const double limit = tl_level_volts(shifter->highest, least);
    const tl_plan_part *lower = tl_check_part(k, (int)(s - k->plan->signals), TL_PART_LOWER);
    if (lower != NULL && lower->of < shifter)
        return true; /* its levels are the divider's: not looked at */
    const double lowest = tl_level_volts(shifter->lowest, most);
    if (low <= vil && high >= vih && highest <= limit && lowest <= 0)
        return true;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_SHIFTER_INPUT, shifter->place,
                                 highest > limit ? "%s exceeds the maximum input voltage of its buffer"
                                 : lowest > 0    ? "%s goes below the minimum input voltage of its buffer"
                                                 : "%s does not reach the input thresholds of its buffer",
                                 s->name);
    if (lowest > 0 && highest <= limit) {
        tl_finding_figures(f, TL_DIM_VOLT, 0, lowest);
        tl_finding_text(&f->figure, "down to 0 V, limit %s", tl_show(lowest, TL_DIM_VOLT, TL_ROUND_UP).text);
    } else if (highest > limit) {
        tl_finding_figures(f, TL_DIM_VOLT, highest, limit);
        tl_finding_text(&f->figure, "%s, limit %s", tl_show(highest, TL_DIM_VOLT, TL_ROUND_UP).text,
                        tl_show(limit, TL_DIM_VOLT, TL_ROUND_DOWN).text);
    } else {
        tl_finding_figures(f, TL_DIM_VOLT, low > vil ? low : high, low > vil ? vil : vih);
        tl_finding_text(
            &f->figure, "low %s max, VIL %s; high %s min, VIH %s",
            tl_show(low, TL_DIM_VOLT, TL_ROUND_UP).text, tl_show(vil, TL_DIM_VOLT, TL_ROUND_DOWN).text,
            tl_show(high, TL_DIM_VOLT, TL_ROUND_DOWN).text, tl_show(vih, TL_DIM_VOLT, TL_ROUND_UP).text);
    }
    tl_finding_text(&f->fix, "use a buffer with inputs for %s",
                    side >= 0 ? k->plan->supplies[side].name : "the source");
    return false;
}

bool tl_check_shifters(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    bool good = true;
    for (const tl_plan_part *part = NULL; (part = tl_check_next(k, signal, TL_PART_SHIFTER, part)) != NULL;) {
        const tl_stage *stage = part->of;
        switch (stage->way) {
        case TL_SHIFT_DIODE:
            good = check_diode(k, signal, stage) && good;
            break;
        case TL_SHIFT_N_CHANNEL:
            good = check_n_channel(k, s, stage) && good;
            break;
        case TL_SHIFT_INVERTER:
            good = check_base_driver(k, s, stage) && check_inverter(k, s, stage) && good;
            break;
        case TL_SHIFT_BUFFER:
            good = check_buffer(k, s, stage) && good;
            break;
        }
    }
    return good;
}

/* --- speed --- */

void tl_check_speed(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_plan_part *shifter = tl_check_part(k, signal, TL_PART_SHIFTER);
    const double half = s->source.rate > 0 ? 0.5 / s->source.rate : INFINITY;
    const double bit = fmin(half, s->source.shortest > 0 ? s->source.shortest : INFINITY);
    if (!isfinite(bit))
        return;
    const bool quick = tl_circuit_edge_within(k->circuit, signal, 0, tl_edge_share * bit) &&
                       tl_circuit_edge_within(k->circuit, signal, 1, tl_edge_share * bit);
    const double edge =
        quick ? 0 : fmax(tl_circuit_edge(k->circuit, signal, 0), tl_circuit_edge(k->circuit, signal, 1));
    if (isfinite(edge) && !quick) { /* a level that is never reached has a finding of its own */
        tl_finding *f = tl_check_add(
            k, TL_USUAL, shifter != NULL ? TL_RULE_SHIFTER_SLOW : TL_RULE_EDGE_SLOW, s->pin_place,
            shifter != NULL ? "%s: its level shifter is too slow for the shortest pulse"
                            : "%s: its edges are too slow for the shortest pulse",
            s->name);
        tl_finding_figures(f, TL_DIM_SECOND, edge, bit);
        tl_finding_text(&f->figure, "edge up to %s; %.0f %% of %s is %s",
                        tl_show(edge, TL_DIM_SECOND, TL_ROUND_UP).text, 100 * tl_edge_share,
                        tl_show(bit, TL_DIM_SECOND, TL_ROUND_NEAREST).text,
                        tl_show(tl_edge_share * bit, TL_DIM_SECOND, TL_ROUND_DOWN).text);
        tl_finding_text(&f->fix, "reduce the resistances or capacitors at least %.1f times",
                        ceil(10 * edge / (tl_edge_share * bit)) / 10);
    }
    if (s->reading.steady <= bit)
        return;
    tl_finding *f = tl_check_add(k, tl_check_counts(s), TL_RULE_STEADY_TOO_LONG,
                                 s->reading.steady_given ? s->reading.place : s->source.place,
                                 "%s: the debounce time is longer than the shortest pulse", s->name);
    tl_finding_figures(f, TL_DIM_SECOND, s->reading.steady, bit);
    tl_finding_text(&f->figure, "debounce time %s; shortest pulse %s",
                    tl_show(s->reading.steady, TL_DIM_SECOND, TL_ROUND_NEAREST).text,
                    tl_show(bit, TL_DIM_SECOND, TL_ROUND_NEAREST).text);
    tl_finding_text(&f->fix, "set reading: {steady: ..} between the bounce (%s) and the shortest pulse",
                    tl_show(s->source.bounce, TL_DIM_SECOND, TL_ROUND_NEAREST).text);
}
