/* SPDX-License-Identifier: MIT */
/*
 * From one voltage world into another. The ways in order of cost;
 * each becomes a choice, or is rejected with the figure that rules it out. An edge, from the level it starts
 * at to the threshold that it must cross, may take a share of a bit.
 */
#include "sizing/shift_case.h"
#include "tinyladder/design/standards.h"

tl_shift_requirement tl_shift_requirement_default(void)
{
    return (tl_shift_requirement){.from.nominal = NAN,
                                  .to.nominal = NAN,
                                  .vol = 0.4,
                                  .voh = NAN,
                                  .vil = NAN,
                                  .vih = NAN,
                                  .limit = NAN,
                                  .vih_back = NAN,
                                  .vol_back = 0.4,
                                  .limit_back = NAN,
                                  .body_diode = tl_body_diode,
                                  .drives = 3e-3,
                                  .bits_per_second = 100e3,
                                  .farads = 20e-12,
                                  .most_pull = 1e6,
                                  .vil_share = tl_vil_share,
                                  .vih_share = tl_vih_share,
                                  .edge_share = tl_edge_share,
                                  .diode = 0.35,
                                  .threshold = 1.5,
                                  .clamp = NAN};
}

/* Which of the way's parts it is, the rail that it goes to, volts over its supply that the pin stands, and
 * the edge that it makes. */
typedef struct {
    int place;
    double rail, over, from, to;
} pull_place;

/* The best pull on offer whose rising edge is quick enough, and which the leakage neither leaves below the
 * threshold nor lifts so far over its rail. */
static bool best_pull(const shift_case *k, const pull_place *at, tl_leg *pull)
{
    const double rail = at->rail, from = at->from, to = at->to;
    double least = INFINITY;
    if (k->answer->compare)
        return shift_asked(k, at->place, pull);
    for (int i = k->answer->stock->count - 1; i >= 0; i--) {
        const tl_leg leg = leg_of(k->answer->stock, i);
        const double leaks = leg.high * k->w->leakage;
        if (!(leg.nominal <= k->w->most_pull && rail - leaks > to && leaks <= at->over))
            continue;
        const double edge = shift_edge(leg.high, k->w->farads, rail - leaks, from, to);
        if (edge > k->edge || tl_bus_rise_share * leg.high * k->w->farads > k->rise ||
            (k->w->to.high - k->vol) / leg.low > k->w->drives)
            continue;
        const double cost = shift_line_cost(k, &leg, edge / k->edge);
        if (cost < least - 1e-9) {
            least = cost;
            *pull = leg;
        }
    }
    return isfinite(least);
}

/* What a pull would have to be. */
static void say_no_pull(const shift_case *k, const char *way, const pull_place *at)
{
    const tl_shift_requirement *w = k->w;
    const double by_edge = k->edge / shift_edge(1, w->farads, at->rail, at->from, at->to),
                 by_rise = k->rise / (tl_bus_rise_share * w->farads),
                 by_leakage = w->leakage > 0 ? fmin(at->rail - at->to, at->over) / w->leakage : INFINITY,
                 most = fmin(fmin(by_edge, by_rise), fmin(by_leakage, w->most_pull)),
                 least = (w->to.high - k->vol) / w->drives;
    if (at->rail <= at->to)
        shift_rule_out(k, way, "the pull reaches %s, VIH is %s", say(at->rail, TL_DIM_VOLT),
                       say(at->to, TL_DIM_VOLT));
    else
        shift_rule_out(k, way, "no pull fits: at least %s for the driver current, at most %s for the %s",
                       say(least, TL_DIM_OHM), say(most, TL_DIM_OHM),
                       most == w->most_pull ? "line"
                       : most == by_leakage ? "leakage"
                                            : "edge");
}

/* A pull of this many ohms lifts a line of a bus from VIL to VIH, as UM10204 has it. */
static void add_bus_rise(const shift_case *k, double ohms, tl_choice *c)
{
    if (isfinite(k->rise))
        choice_figure(c, TL_FIG_RISE_TIME, tl_bus_rise_share * ohms * k->w->farads, k->rise);
}

static void try_direct(const shift_case *k)
{
    const tl_shift_requirement *w = k->w;
    tl_choice c = shift_choice("none needed", WAY_NONE);
    if (w->open_drain != 0) {
        shift_rule_out(k, "none needed", "an open drain needs a pull");
        return;
    }
    choice_figure(&c, TL_FIG_HIGH_MARGIN, k->voh - k->vih, 0);
    choice_figure(&c, TL_FIG_LOW_MARGIN, k->vil - k->vol, 0);
    choice_figure(&c, TL_FIG_AT_THE_RECEIVER, w->from.high, k->limit);
    if (w->both_ways != 0) {
        choice_figure(&c, TL_FIG_HIGH_MARGIN_BACK_OF_PART, w->to.low - 0.4 - k->vih_back, 0);
        choice_figure(&c, TL_FIG_AT_THE_DRIVER, w->to.high, k->limit_back);
    }
    shift_add_off(k, &(shift_off){w->from.high, 0, w->both_ways != 0 ? w->drives : 0}, &c);
    shift_settle(k, &c);
}

/* A driver that only pulls low, with a pull to the receiver's rail. */
static void try_open_drain(const shift_case *k)
{
    const tl_shift_requirement *w = k->w;
    tl_choice c = shift_choice("open drain and pull", WAY_OPEN_DRAIN);
    tl_leg pull;
    char value[64];
    if (w->open_drain == 0) {
        shift_rule_out(k, c.way, "the driver also drives high");
        return;
    }
    const pull_place at = {0, w->to.low, shift_room(k), k->start, k->vih};
    if (!best_pull(k, &at, &pull)) {
        say_no_pull(k, c.way, &at);
        return;
    }
    choice_part(&c, "pull", TL_DIM_OHM, &pull);
    choice_figure(&c, TL_FIG_LOW_MARGIN, k->vil - k->vol, 0);
    if (w->both_ways != 0) /* the pull is all that lifts the first side too */
        choice_figure(&c, TL_FIG_HIGH_MARGIN_BACK, w->to.low - pull.high * w->leakage - k->vih_back, 0);
    choice_figure(&c, TL_FIG_RISES_IN, shift_edge(pull.high, w->farads, w->to.low, k->start, k->vih),
                  k->edge);
    choice_figure(&c, TL_FIG_DRIVER_TAKES, (w->to.high - k->vol) / pull.low, w->drives);
    add_bus_rise(k, pull.high, &c);
    shift_add_off(k, &(shift_off){NAN, 0, 0}, &c);
    choice_plan(&c, "- pull: {up: %s, to: RAIL}", tl_leg_plan_text(&pull, k->answer->stock, value));
    shift_settle(k, &c);
}

static void try_clamp(const shift_case *k)
{
    const tl_shift_requirement *w = k->w;
    tl_choice c = shift_choice("series resistor into the clamp", WAY_CLAMP);
    char value[64];
    if (w->both_ways != 0 || w->open_drain != 0 || !shift_goes_down(k) || !(w->injection > 0)) {
        if (w->both_ways == 0 && w->open_drain == 0 && shift_goes_down(k))
            shift_rule_out(k, c.way, "the receiver allows no injection; its pin would exceed its limit by %s",
                           say(w->from.high - k->limit, TL_DIM_VOLT));
        else
            shift_rule_out(k, c.way, "only from a higher to a lower supply, one direction");
        return;
    }
    for (int i = 0; i < k->answer->stock->count;
         i++) { /* the smallest that the clamp stands is the quickest */
        const tl_leg series = leg_of(k->answer->stock, i);
        if ((w->from.high - k->limit) / series.low > w->injection && !k->answer->compare)
            continue;
        choice_part(&c, "series", TL_DIM_OHM, &series);
        choice_figure(&c, TL_FIG_HIGH_MARGIN, k->voh - k->vih, 0);
        choice_figure(&c, TL_FIG_LOW_MARGIN, k->vil - k->vol, 0);
        choice_figure(&c, TL_FIG_INJECTED, (w->from.high - k->limit) / series.low, w->injection);
        choice_figure(&c, TL_FIG_RISES_IN, shift_edge(series.high, w->farads, k->voh, k->start, k->vih),
                      k->edge);
        choice_figure(&c, TL_FIG_FALLS_IN, shift_edge(series.high, w->farads, -k->vol, -k->limit, -k->vil),
                      k->edge);
        shift_add_off(k, &(shift_off){NAN, (w->from.high - shift_room(k)) / series.low, 0}, &c);
        choice_plan(&c, "- series: %s\n- clamp: pin", tl_leg_plan_text(&series, k->answer->stock, value));
        choice_note(&c, "If the receiver is off, the driver feeds it through the clamp.");
        shift_settle(k, &c);
        return;
    }
    shift_rule_out(k, c.way, "no resistor limits the injected current to %s; that needs %s or more",
                   say(w->injection, TL_DIM_AMPERE),
                   say((w->from.high - k->limit) / w->injection, TL_DIM_OHM));
}

/* A diode of its own holds the pin a little above the receiver's supply, which must take the current. */
static void try_diode_clamp(const shift_case *k)
{
    const tl_shift_requirement *w = k->w;
    tl_choice c = shift_choice("series resistor and clamp diode", WAY_DIODE_CLAMP);
    const double over = shift_room(k), edge_end = k->voh;
    tl_leg series = {0};
    char value[64];
    double least = INFINITY;
    if (!is_said(w->clamp))
        return;
    if (w->both_ways != 0 || w->open_drain != 0 || !shift_goes_down(k)) {
        shift_rule_out(k, c.way, "only from a higher to a lower supply, one direction");
        return;
    }
    for (int i = 0; i < k->answer->stock->count; i++) {
        const tl_leg leg = leg_of(k->answer->stock, i);
        const double edge = shift_edge(leg.high, w->farads, edge_end, k->start, k->vih);
        if (!k->answer->compare && (leg.nominal > w->most_pull || edge > k->edge ||
                                    (w->from.high - w->to.low - w->clamp) / leg.low > w->drives))
            continue;
        const double cost = shift_line_cost(k, &leg, edge / k->edge);
        if (cost < least - 1e-9) {
            least = cost;
            series = leg;
        }
    }
    if (!isfinite(least)) {
        shift_rule_out(k, c.way,
                       "no resistor fits: at least %s for the driver current, at most %s for the edge",
                       say((w->from.high - w->to.low - w->clamp) / w->drives, TL_DIM_OHM),
                       say(k->edge / shift_edge(1, w->farads, edge_end, k->start, k->vih), TL_DIM_OHM));
        return;
    }
    choice_part(&c, "series", TL_DIM_OHM, &series);
    choice_figure(&c, TL_FIG_HIGH_MARGIN, k->voh - k->vih, 0);
    choice_figure(&c, TL_FIG_LOW_MARGIN, k->vil - k->vol, 0);
    choice_figure(&c, TL_FIG_ABOVE_THE_SUPPLY, w->clamp, over);
    choice_figure(&c, TL_FIG_RISES_IN, shift_edge(series.high, w->farads, k->voh, k->start, k->vih), k->edge);
    choice_figure(&c, TL_FIG_FALLS_IN, shift_edge(series.high, w->farads, -k->vol, -k->limit, -k->vil),
                  k->edge);
    choice_figure(&c, TL_FIG_DRIVER_GIVES, (w->from.high - w->to.low - w->clamp) / series.low, w->drives);
    /* A diode to a supply that is off lifts it: all the current goes into the dead board. */
    shift_add_off(k, &(shift_off){NAN, fmax(0, w->from.high - w->clamp) / series.low, 0}, &c);
    choice_plan(&c, "- series: %s\n- clamp: {to: RAIL, drop: %g V}",
                tl_leg_plan_text(&series, k->answer->stock, value), w->clamp);
    choice_note(&c, "The receiver's supply must consume the diode current, else it rises.");
    shift_settle(k, &c);
}

/* The diode points at the driver: it pulls the receiver low, and blocks the driver's high. */
static void try_diode(const shift_case *k)
{
    const tl_shift_requirement *w = k->w;
    tl_choice c = shift_choice("diode and pull", WAY_DIODE);
    tl_leg pull;
    char value[64];
    if (w->both_ways != 0) {
        shift_rule_out(k, c.way, "one direction only");
        return;
    }
    /* Towards a higher world the driver's high holds the pull down through the diode, a diode's volts above
     * it. */
    const double high = w->open_drain != 0 ? w->to.low : fmin(w->to.low, k->voh + w->diode);
    const pull_place at = {0, high, shift_room(k), k->start + w->diode, k->vih};
    if (high <= k->vih || !best_pull(k, &at, &pull)) {
        choice_figure(&c, TL_FIG_HIGH_MARGIN, high - k->vih, 0);
        if (high <= k->vih)
            shift_settle(k, &c);
        else
            say_no_pull(k, c.way, &at);
        return;
    }
    choice_part(&c, "pull", TL_DIM_OHM, &pull);
    choice_figure(&c, TL_FIG_HIGH_MARGIN, high - k->vih, 0);
    choice_figure(&c, TL_FIG_LOW_MARGIN, k->vil - k->vol - w->diode, 0);
    choice_figure(&c, TL_FIG_RISES_IN, shift_edge(pull.high, w->farads, high, k->start + w->diode, k->vih),
                  k->edge);
    choice_figure(&c, TL_FIG_DRIVER_TAKES, (w->to.high - k->vol) / pull.low, w->drives);
    const double back = fmax(0, w->to.high - w->diode - shift_room_back(k)) / pull.low;
    shift_add_off(k, &(shift_off){NAN, 0, back}, &c);
    choice_plan(&c, "- shifter: {way: diode, drop: %g V}\n- pull: {up: %s, to: RAIL}", w->diode,
                tl_leg_plan_text(&pull, k->answer->stock, value));
    shift_settle(k, &c);
}

static void try_inverter(const shift_case *k)
{
    const tl_shift_requirement *w = k->w;
    tl_choice c = shift_choice("transistor to ground, inverting", WAY_INVERTER);
    tl_leg pull, base = {0};
    char a[64], b[64];
    if (w->both_ways != 0 || w->may_invert == 0 || w->open_drain != 0) {
        shift_rule_out(k, c.way,
                       w->may_invert == 0 ? "it inverts, which is not allowed (--may-invert)"
                                          : "one direction only, and it needs a push-pull driver");
        return;
    }
    if (k->vol > tl_base_off) {
        shift_rule_out(k, c.way, "VOL %s does not turn the transistor off; it is off below %s",
                       say(k->vol, TL_DIM_VOLT), say(tl_base_off, TL_DIM_VOLT));
        return;
    }
    const pull_place at = {0, w->to.low, shift_room(k), 0, k->vih};
    if (!best_pull(k, &at, &pull)) {
        say_no_pull(k, c.way, &at);
        return;
    }
    const double needed = w->to.high / pull.low / tl_forced_gain;
    double least = INFINITY;
    if (k->answer->compare && !shift_asked(k, 1, &base))
        return;
    for (int i = k->answer->stock->count - 1; i >= 0 && !k->answer->compare; i--) {
        const tl_leg leg = leg_of(k->answer->stock, i);
        if (!(leg.nominal <= w->most_pull && (k->voh - tl_base_on_most) / leg.high >= needed))
            continue;
        const double cost = shift_line_cost(k, &leg, 0);
        if (cost < least) {
            least = cost;
            base = leg;
        }
    }
    choice_part(&c, "pull", TL_DIM_OHM, &pull);
    choice_part(&c, "base resistor", TL_DIM_OHM, &base);
    choice_figure(&c, TL_FIG_LOW_MARGIN, k->vil - tl_saturated, 0);
    choice_figure(&c, TL_FIG_BASE_WHILE_OFF, k->vol, tl_base_off);
    choice_figure(&c, TL_FIG_RISES_IN, shift_edge(pull.high, w->farads, w->to.low, 0, k->vih), k->edge);
    choice_figure(&c, TL_FIG_BASE_CURRENT_LEAST, (k->voh - tl_base_on_most) / base.high, needed);
    choice_figure(&c, TL_FIG_DRIVER_GIVES, (w->from.high - tl_base_on_least) / base.low, w->drives);
    shift_add_off(k, &(shift_off){NAN, 0, 0}, &c);
    choice_plan(&c, "- shifter: {way: inverter, base: %s}\n- pull: {up: %s, to: RAIL}",
                tl_leg_plan_text(&base, k->answer->stock, a), tl_leg_plan_text(&pull, k->answer->stock, b));
    choice_note(&c,
                "Assumed: forced gain %g, VCE(sat) %g V, VBE %g V. Add the storage time of the "
                "transistor.",
                tl_forced_gain, tl_saturated, tl_base_on_most);
    shift_settle(k, &c);
}

/* One N-channel transistor a line, gate on the lower rail, a pull on each side. */
static void try_n_channel(const shift_case *k)
{
    const tl_shift_requirement *w = k->w;
    tl_choice c = shift_choice("N-channel transistor a line", WAY_N_CHANNEL);
    const double low = fmin(w->from.low, w->to.low);
    const bool from_high_side = w->from.high > w->to.high;
    tl_leg pull, other;
    char a[64], b[64];
    /* The driver's own side only needs a pull where it does not drive high itself or where the line goes both
     * ways. */
    const pull_place at = {0, w->to.low, shift_room(k), k->start, k->vih},
                     back = {1, w->from.low, INFINITY, k->start, tl_vih_share * w->from.low};
    const bool near = best_pull(k, &at, &pull);
    if (!near || !best_pull(k, &back, &other)) {
        say_no_pull(k, c.way, near ? &back : &at);
        return;
    }
    choice_part(&c, "pull, receiver", TL_DIM_OHM, &pull);
    choice_part(&c, "pull, driver", TL_DIM_OHM, &other);
    choice_figure(&c, TL_FIG_GATE_OVER_SOURCE,
                  w->both_ways == 0 ? low - k->vol - (from_high_side ? w->body_diode : 0)
                  : from_high_side  ? fmin(low - k->vol - w->body_diode, low - w->vol_back)
                                    : fmin(low - k->vol, low - w->vol_back - w->body_diode),
                  w->threshold);
    choice_figure(&c, TL_FIG_LOW_MARGIN, k->vil - k->vol, 0);
    choice_figure(&c, TL_FIG_RISES_IN,
                  fmax(shift_edge(pull.high, w->farads, w->to.low, k->start, k->vih),
                       shift_edge(other.high, w->farads, w->from.low, k->start, tl_vih_share * w->from.low)),
                  k->edge);
    choice_figure(&c, TL_FIG_DRIVER_TAKES, w->to.high / pull.low + w->from.high / other.low, w->drives);
    add_bus_rise(k, fmax(pull.high, other.high), &c);
    const double fed = fmax(0, w->to.high - shift_room_back(k)) / pull.low;
    if (from_high_side) /* while the driver is off the receiver's pull feeds it; the transistor's gate stays
                           up */
        shift_add_off(k, &(shift_off){NAN, 0, fed}, &c);
    else /* while the receiver is off the driver lifts its pin through the transistor's own diode */
        shift_add_off(k, &(shift_off){fmax(0, w->from.high - w->body_diode), 0, 0}, &c);
    choice_plan(&c,
                "- pull: {up: %s, to: FROM}\n- shifter: {way: n-channel, gate: LOWER, threshold: %g V, "
                "diode: %g V}\n- pull: {up: %s, to: TO}",
                tl_leg_plan_text(&other, k->answer->stock, a), w->threshold, w->body_diode,
                tl_leg_plan_text(&pull, k->answer->stock, b));
    choice_note(&c, "Source to the lower side, gate to its supply. Works in both directions.");
    shift_settle(k, &c);
}

static void try_buffer(const shift_case *k)
{
    tl_choice c = shift_choice("buffer", WAY_BUFFER);
    c.beyond = k->w->both_ways != 0 || k->w->open_drain != 0;
    choice_figure(&c, TL_FIG_INPUT_HIGH_AT_MOST, k->voh, NAN);
    choice_figure(&c, TL_FIG_INPUT_LOW_AT_LEAST, k->vol, NAN);
    if (c.beyond)
        choice_note(&c,
                    "Use a bidirectional part, or one for open drains, with a supply on each side. Its data "
                    "sheet must give the "
                    "levels and %s. A plan cannot describe such a part.",
                    say(k->w->bits_per_second, TL_DIM_HERTZ));
    if (c.beyond) {
        result_offer(k->answer, &c);
        return;
    }
    choice_plan(&c, "- shifter: {way: buffer, supply: TO, vil: %g V, vih: %g V, limits: -0.3 V .. %g V}",
                k->vol, k->voh, k->w->from.high);
    choice_note(&c,
                "Choose a part on the receiver supply whose input thresholds are between these levels and "
                "whose input withstands %s%s. Its speed is not in this table: check %s in its data sheet.",
                say(k->w->from.high, TL_DIM_VOLT),
                k->w->receiver_off != 0 ? ", also while its supply is off" : "",
                say(k->w->bits_per_second, TL_DIM_HERTZ));
    result_offer(k->answer, &c);
}

/* Its inputs run on the driver's supply, its outputs on the receiver's; either may be off. */
static void try_two_supplies(const shift_case *k)
{
    const tl_shift_requirement *w = k->w;
    tl_choice c = shift_choice("buffer with two supplies", WAY_TWO_SUPPLIES);
    const double vil = tl_vil_share * w->from.low, vih = tl_vih_share * w->from.high;
    if (w->both_ways != 0 || w->open_drain != 0)
        return; /* the buffer before it says what such lines want */
    choice_figure(&c, TL_FIG_HIGH_MARGIN_INPUT, k->voh - vih, 0);
    choice_figure(&c, TL_FIG_LOW_MARGIN_INPUT, vil - k->vol, 0);
    shift_add_off(k, &(shift_off){NAN, 0, 0}, &c);
    choice_plan(&c, "- shifter: {way: buffer, supply: TO, vil: %g V, vih: %g V, limits: -0.3 V .. %g V}", vil,
                vih, w->from.high + tl_clamp_drop);
    choice_note(
        &c,
        "Choose a part whose inputs use the driver supply, from %s to %s, and whose outputs are off while "
        "either supply is off. Its speed is not in this table: check %s in its data sheet.",
        say(w->from.low, TL_DIM_VOLT), say(w->from.high, TL_DIM_VOLT), say(w->bits_per_second, TL_DIM_HERTZ));
    shift_settle(k, &c);
}

static void try_every_way(const shift_case *k)
{
    try_direct(k);
    try_open_drain(k);
    try_clamp(k);
    try_diode_clamp(k);
    shift_try_divider(k);
    try_diode(k);
    try_inverter(k);
    try_n_channel(k);
    try_buffer(k);
    try_two_supplies(k);
}

/* An open-drain line that goes both ways is one of a bus: its mode follows from its rate. */
static double bus_rise(const tl_shift_requirement *w, double bits_per_second)
{
    if (w->open_drain == 0 || w->both_ways == 0 || bits_per_second > 1e6)
        return INFINITY;
    return tl_bus_rule_of(bits_per_second <= 100e3   ? TL_BUS_STANDARD
                          : bits_per_second <= 400e3 ? TL_BUS_FAST
                                                     : TL_BUS_FAST_PLUS)
        ->rise;
}

static shift_case case_of(const tl_shift_requirement *w, double bits_per_second, tl_size_result *answer)
{
    return (shift_case){w,
                        w->vol,
                        or_else(w->voh, w->from.low - 0.4),
                        or_else(w->vil, w->vil_share * w->to.low),
                        or_else(w->vih, w->vih_share * w->to.high),
                        or_else(w->limit, w->to.low + tl_clamp_drop),
                        or_else(w->vih_back, tl_vih_share * w->from.high),
                        or_else(w->limit_back, w->from.low + tl_clamp_drop),
                        0,
                        w->edge_share / bits_per_second,
                        bus_rise(w, bits_per_second),
                        answer};
}

void tl_size_shift(const tl_shift_requirement *w, tl_size_result *answer)
{
    if (!is_range(&w->from) || !is_range(&w->to) || w->from.low <= 0 || w->to.low <= 0 || w->vol < 0 ||
        !(w->drives > 0) || !(w->bits_per_second > 0) || !(w->farads > 0) ||
        !(w->edge_share > 0 && w->edge_share <= 1) || w->diode < 0 || w->threshold < 0 || w->injection < 0 ||
        w->leakage < 0 || !(w->most_pull > 0) || w->clamp < 0) {
        result_refuse(
            answer, TL_SIZE_NONSENSE,
            "a shift needs the supplies of driver and receiver, a bit rate and a capacitance, all above 0");
        return;
    }
    const shift_case k = case_of(w, w->bits_per_second, answer);
    result_note(answer, "Driver: VOL %s max; VOH %s min, %s max.", say(k.vol, TL_DIM_VOLT),
                say(k.voh, TL_DIM_VOLT), say(w->from.high, TL_DIM_VOLT));
    result_note(answer, "Receiver: VIL %s max; VIH %s min; input voltage %s max.",
                say_rounded(k.vil, TL_DIM_VOLT, TL_ROUND_DOWN), say_rounded(k.vih, TL_DIM_VOLT, TL_ROUND_UP),
                say_rounded(k.limit, TL_DIM_VOLT, TL_ROUND_DOWN));
    result_note(answer, "Bit rate %s: an edge may take %s (%.0f %% of a bit).",
                say(w->bits_per_second, TL_DIM_HERTZ), say(k.edge, TL_DIM_SECOND), 100 * w->edge_share);
    if (w->injection > 0 && shift_goes_down(&k))
        result_exact(answer, "smallest series resistor into the clamp",
                     (w->from.high - k.limit) / w->injection, TL_DIM_OHM);
    try_every_way(&k);
    result_tell_why(answer);
}
