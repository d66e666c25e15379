/*
 * From one voltage world into another. The ways in order of cost;
 * each becomes a choice, or is rejected with the figure that rules it out. An edge, from the level it starts
 * at to the threshold that it must cross, may take a share of a bit.
 */
#include "sizing/sizing.h"

typedef struct {
    const tl_shift_requirement *w;
    double vol, voh, vil, vih, limit; /* with what was not said filled in */
    double vih_back, limit_back;      /* of the way back */
    double start; /* lowest that a rising edge starts at: a low is anything from 0 V to VOL */
    double edge;  /* seconds that an edge may take */
    tl_size_result *answer;
} shift_case;

enum { WAYS = 8 };
static const char no_pull[] = "no pull on offer is quick enough and bears the leakage, either way";

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
                                  .threshold = 1.5};
}

static tl_choice way(const char *name, int order)
{
    return (tl_choice){.way = name, .score = WAYS - order};
}

/* Offers the way if every figure holds; else says which one does not. */
static bool settle(const shift_case *k, const tl_choice *c)
{
    for (int i = 0; i < c->figures; i++) {
        const tl_size_figure *f = &c->figure[i];
        if (!figure_broken(f) || k->answer->compare)
            continue;
        result_reject(k->answer, c, "%s: %s %s, limit %s", c->way, f->name, say_figure(f), say_limit(f));
        return false;
    }
    result_offer(k->answer, c);
    return true;
}

static void rule_out(const shift_case *k, const char *name, const char *why)
{
    result_reject(k->answer, NULL, "%s: %s", name, why);
}

/* R C ln((end - from) / (end - to)); infinite where the threshold is never crossed. */
static double edge_of(double ohms, double farads, double end, double from, double to)
{
    const double ratio = (end - from) / (end - to);
    return ratio >= 1 && isfinite(ratio) ? ohms * farads * log(ratio) : INFINITY;
}

/* What a resistor of a line costs by practice; by any other order the larger comes first. */
static double line_cost(const shift_case *k, const tl_leg *leg, double edge_share)
{
    tl_choice c = {0};
    choice_part(&c, "line", TL_DIM_OHM, leg);
    practice_add(&c, PRACTICE_LINE_SMALL, leg->nominal);
    practice_add(&c, PRACTICE_LINE_LARGE, leg->nominal);
    practice_add(&c, PRACTICE_LINE_MIDDLE, leg->nominal);
    practice_add(&c, PRACTICE_EDGE, edge_share);
    practice_common(&c, k->answer->stock);
    return k->answer->order == TL_BY_PRACTICE ? c.cost : -leg->nominal;
}

/* The part that is asked about at a place of a way; false where there is none. */
static bool take_asked(const shift_case *k, int place, tl_leg *leg)
{
    if (place >= k->answer->stock->count)
        return false;
    *leg = leg_of(k->answer->stock, place);
    return true;
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
        return take_asked(k, at->place, pull);
    for (int i = k->answer->stock->count - 1; i >= 0; i--) {
        const tl_leg leg = leg_of(k->answer->stock, i);
        const double leaks = leg.high * k->w->leakage;
        if (!(leg.nominal <= k->w->most_pull && rail - leaks > to && leaks <= at->over))
            continue;
        const double edge = edge_of(leg.high, k->w->farads, rail - leaks, from, to);
        if (edge > k->edge || (k->w->to.high - k->vol) / leg.low > k->w->drives)
            continue;
        const double cost = line_cost(k, &leg, edge / k->edge);
        if (cost < least - 1e-9) {
            least = cost;
            *pull = leg;
        }
    }
    return isfinite(least);
}

/* Volts over its supply that the receiver stands. */
static double room_over(const shift_case *k)
{
    return k->limit - k->w->to.low;
}

static void try_direct(const shift_case *k)
{
    const tl_shift_requirement *w = k->w;
    tl_choice c = way("none needed", 0);
    if (w->open_drain != 0) {
        rule_out(k, "none needed", "an open drain needs a pull");
        return;
    }
    choice_figure(&c, TL_FIG_HIGH_MARGIN, k->voh - k->vih, 0);
    choice_figure(&c, TL_FIG_LOW_MARGIN, k->vil - k->vol, 0);
    choice_figure(&c, TL_FIG_AT_THE_RECEIVER, w->from.high, k->limit);
    if (w->both_ways != 0) {
        choice_figure(&c, TL_FIG_HIGH_MARGIN_BACK_OF_PART, w->to.low - 0.4 - k->vih_back, 0);
        choice_figure(&c, TL_FIG_AT_THE_DRIVER, w->to.high, k->limit_back);
    }
    settle(k, &c);
}

/* A driver that only pulls low, with a pull to the receiver's rail. */
static void try_open_drain(const shift_case *k)
{
    const tl_shift_requirement *w = k->w;
    tl_choice c = way("open drain and pull", 1);
    tl_leg pull;
    char value[64];
    if (w->open_drain == 0) {
        rule_out(k, c.way, "the driver also drives high");
        return;
    }
    if (!best_pull(k, &(pull_place){0, w->to.low, room_over(k), k->start, k->vih}, &pull)) {
        rule_out(k, c.way, no_pull);
        return;
    }
    choice_part(&c, "pull", TL_DIM_OHM, &pull);
    choice_figure(&c, TL_FIG_LOW_MARGIN, k->vil - k->vol, 0);
    if (w->both_ways != 0) /* the pull is all that lifts the first side too */
        choice_figure(&c, TL_FIG_HIGH_MARGIN_BACK, w->to.low - pull.high * w->leakage - k->vih_back, 0);
    choice_figure(&c, TL_FIG_RISES_IN, edge_of(pull.high, w->farads, w->to.low, k->start, k->vih), k->edge);
    choice_figure(&c, TL_FIG_DRIVER_TAKES, (w->to.high - k->vol) / pull.low, w->drives);
    choice_plan(&c, "- pull: {up: %s, to: RAIL}", tl_leg_plan_text(&pull, k->answer->stock, value));
    settle(k, &c);
}

static bool goes_down(const shift_case *k)
{
    return k->w->from.high > k->w->to.low;
}

static void try_clamp(const shift_case *k)
{
    const tl_shift_requirement *w = k->w;
    tl_choice c = way("series resistor into the clamp", 2);
    char value[64];
    if (w->both_ways != 0 || w->open_drain != 0 || !goes_down(k) || !(w->injection > 0)) {
        rule_out(k, c.way,
                 w->injection > 0 ? "only downwards, one way" : "the receiver's pin allows no injection");
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
        choice_figure(&c, TL_FIG_RISES_IN, edge_of(series.high, w->farads, k->voh, k->start, k->vih),
                      k->edge);
        choice_figure(&c, TL_FIG_FALLS_IN, edge_of(series.high, w->farads, -k->vol, -k->limit, -k->vil),
                      k->edge);
        choice_plan(&c, "- series: %s\n- clamp: pin", tl_leg_plan_text(&series, k->answer->stock, value));
        choice_note(&c, "With the receiver off, the driver feeds it through the clamp.");
        settle(k, &c);
        return;
    }
    rule_out(k, c.way, "no resistor on offer keeps the injected current low enough");
}

static tl_choice divider_choice(const shift_case *k, const tl_leg *upper, const tl_leg *lower)
{
    const tl_shift_requirement *w = k->w;
    tl_choice c = way("divider", 3);
    const double least = lower->low / (upper->high + lower->low),
                 most = lower->high / (upper->low + lower->high);
    const double ohms = parallel_of(upper->high, lower->high), leaks = ohms * w->leakage;
    choice_part(&c, "upper", TL_DIM_OHM, upper);
    choice_part(&c, "lower", TL_DIM_OHM, lower);
    choice_figure(&c, TL_FIG_HIGH_MARGIN, k->voh * least - leaks - k->vih, 0);
    choice_figure(&c, TL_FIG_LOW_MARGIN, k->vil - k->vol * most - leaks, 0);
    choice_figure(&c, TL_FIG_AT_THE_RECEIVER, w->from.high * most + leaks, k->limit);
    choice_figure(&c, TL_FIG_RISES_IN,
                  edge_of(ohms, w->farads, k->voh * least - leaks, k->start * least, k->vih), k->edge);
    choice_figure(&c, TL_FIG_FALLS_IN,
                  edge_of(ohms, w->farads, -k->vol * most - leaks, -w->from.high * most, -k->vil), k->edge);
    choice_figure(&c, TL_FIG_DRIVER_GIVES, w->from.high / (upper->low + lower->low), w->drives);
    return c;
}

/* By practice the sum and the values; by any other order the current alone. Once it exceeds `enough` the rest
 * is not added. */
static double pair_cost(const shift_case *k, const tl_leg *upper, const tl_leg *lower, double amperes,
                        double enough)
{
    const tl_shift_requirement *w = k->w;
    const double sum = upper->nominal + lower->nominal, most = lower->high / (upper->low + lower->high);
    if (k->answer->order != TL_BY_PRACTICE)
        return amperes;
    if (sum < 1e3 || sum > 1e6) /* far from what anybody would take */
        return 10 + fabs(log(sum / 20e3));
    double cost = practice_cost(PRACTICE_SUM_MIDDLE, sum) + practice_cost_near(PRACTICE_SUM_SMALL, sum, 3e3) +
                  practice_cost_near(PRACTICE_SUM_LARGE, sum, 40e3);
    if (cost < enough)
        cost += practice_cost(PRACTICE_LOOP_VOLTS, w->from.high * most / k->limit);
    if (cost >= enough)
        return cost;
    const double least = lower->low / (upper->high + lower->low),
                 ohms = parallel_of(upper->high, lower->high),
                 edge = edge_of(ohms, w->farads, k->voh * least, k->start * least, k->vih);
    tl_choice c = {0};
    choice_part(&c, "upper", TL_DIM_OHM, upper);
    choice_part(&c, "lower", TL_DIM_OHM, lower);
    practice_add(&c, PRACTICE_HIGH_LEVEL, k->vih / (k->voh * least));
    practice_add(&c, PRACTICE_LOW_LEVEL, k->vol * most / k->vil);
    practice_add(&c, PRACTICE_EDGE, edge / k->edge);
    practice_add(&c, PRACTICE_AMPERES, amperes / w->drives);
    practice_common(&c, k->answer->stock);
    return cost + c.cost;
}

static void offer_divider(const shift_case *k, tl_choice *c)
{
    char upper[64], lower[64];
    choice_plan(c, "- divider: {upper: %s, lower: %s}",
                tl_leg_plan_text(&c->part[0], k->answer->stock, upper),
                tl_leg_plan_text(&c->part[1], k->answer->stock, lower));
    result_offer(k->answer, c);
}

/* The best divider of all pairs that do it. */
static void try_divider(const shift_case *k)
{
    const tl_shift_requirement *w = k->w;
    const tl_stock *stock = k->answer->stock;
    tl_choice best = {0}, nearest = {0};
    double nearest_excess = INFINITY, least = INFINITY;
    if (w->both_ways != 0 || w->open_drain != 0 || !goes_down(k)) {
        rule_out(k, "divider", "only downwards, one way, from a driver that drives both levels");
        return;
    }
    tl_leg asked[2];
    if (k->answer->compare) {
        if (take_asked(k, 0, &asked[0]) && take_asked(k, 1, &asked[1])) {
            best = divider_choice(k, &asked[0], &asked[1]);
            offer_divider(k, &best);
        }
        return;
    }
    for (int i = 0; i < stock->count; i++) {
        for (int j = 0; j < stock->count; j++) {
            const tl_leg upper = leg_of(stock, i), lower = leg_of(stock, j);
            if (upper.nominal > w->most_pull || lower.nominal > w->most_pull)
                continue;
            const double most = lower.high / (upper.low + lower.high),
                         amperes = w->from.high / (upper.low + lower.low);
            if (w->from.high * most > k->limit)
                continue;
            const double cost = pair_cost(k, &upper, &lower, amperes, least);
            if (best.parts > 0 && cost >= least)
                continue; /* cheap to tell: no better than the best so far */
            const tl_choice c = divider_choice(k, &upper, &lower);
            const double excess = fmax(0, -c.figure[0].value) + fmax(0, -c.figure[1].value) +
                                  fmax(0, c.figure[3].value / k->edge - 1) +
                                  fmax(0, c.figure[5].value / w->drives - 1);
            if (choice_fits(&c)) {
                best = c;
                least = cost;
            } else if (excess < nearest_excess) {
                nearest_excess = excess;
                nearest = c;
            }
        }
    }
    if (best.parts > 0)
        offer_divider(k, &best);
    else if (nearest.parts > 0)
        settle(k, &nearest);
    else
        rule_out(k, "divider", "none on offer stays within the receiver's limit");
}

/* The diode points at the driver: it pulls the receiver low, and blocks the driver's high. */
static void try_diode(const shift_case *k)
{
    const tl_shift_requirement *w = k->w;
    tl_choice c = way("diode and pull", 4);
    tl_leg pull;
    char value[64];
    if (w->both_ways != 0) {
        rule_out(k, c.way, "one way only");
        return;
    }
    /* Towards a higher world the driver's high holds the pull down through the diode, a diode's volts above
     * it. */
    const double high = w->open_drain != 0 ? w->to.low : fmin(w->to.low, k->voh + w->diode);
    if (high <= k->vih ||
        !best_pull(k, &(pull_place){0, high, room_over(k), k->start + w->diode, k->vih}, &pull)) {
        choice_figure(&c, TL_FIG_HIGH_MARGIN, high - k->vih, 0);
        if (high <= k->vih)
            settle(k, &c);
        else
            rule_out(k, c.way, no_pull);
        return;
    }
    choice_part(&c, "pull", TL_DIM_OHM, &pull);
    choice_figure(&c, TL_FIG_HIGH_MARGIN, high - k->vih, 0);
    choice_figure(&c, TL_FIG_LOW_MARGIN, k->vil - k->vol - w->diode, 0);
    choice_figure(&c, TL_FIG_RISES_IN, edge_of(pull.high, w->farads, high, k->start + w->diode, k->vih),
                  k->edge);
    choice_figure(&c, TL_FIG_DRIVER_TAKES, (w->to.high - k->vol) / pull.low, w->drives);
    choice_plan(&c, "- shifter: {way: diode, drop: %g V}\n- pull: {up: %s, to: RAIL}", w->diode,
                tl_leg_plan_text(&pull, k->answer->stock, value));
    settle(k, &c);
}

static void try_inverter(const shift_case *k)
{
    const tl_shift_requirement *w = k->w;
    tl_choice c = way("transistor to ground, inverting", 5);
    tl_leg pull, base = {0};
    char a[64], b[64];
    if (w->both_ways != 0 || w->may_invert == 0 || w->open_drain != 0) {
        rule_out(k, c.way,
                 w->may_invert == 0 ? "it inverts, and that was not allowed"
                                    : "one way only, and it must be driven high");
        return;
    }
    if (k->vol > tl_base_off) {
        rule_out(k, c.way, "its low leaves the transistor's base conducting");
        return;
    }
    if (!best_pull(k, &(pull_place){0, w->to.low, room_over(k), 0, k->vih}, &pull)) {
        rule_out(k, c.way, no_pull);
        return;
    }
    const double needed = w->to.high / pull.low / tl_forced_gain;
    double least = INFINITY;
    if (k->answer->compare && !take_asked(k, 1, &base))
        return;
    for (int i = k->answer->stock->count - 1; i >= 0 && !k->answer->compare; i--) {
        const tl_leg leg = leg_of(k->answer->stock, i);
        if (!(leg.nominal <= w->most_pull && (k->voh - tl_base_on_most) / leg.high >= needed))
            continue;
        const double cost = line_cost(k, &leg, 0);
        if (cost < least) {
            least = cost;
            base = leg;
        }
    }
    choice_part(&c, "pull", TL_DIM_OHM, &pull);
    choice_part(&c, "base resistor", TL_DIM_OHM, &base);
    choice_figure(&c, TL_FIG_LOW_MARGIN, k->vil - tl_saturated, 0);
    choice_figure(&c, TL_FIG_BASE_WHILE_OFF, k->vol, tl_base_off);
    choice_figure(&c, TL_FIG_RISES_IN, edge_of(pull.high, w->farads, w->to.low, 0, k->vih), k->edge);
    choice_figure(&c, TL_FIG_BASE_CURRENT_LEAST, (k->voh - tl_base_on_most) / base.high, needed);
    choice_figure(&c, TL_FIG_DRIVER_GIVES, (w->from.high - tl_base_on_least) / base.low, w->drives);
    choice_plan(&c, "- shifter: {way: inverter, base: %s}\n- pull: {up: %s, to: RAIL}",
                tl_leg_plan_text(&base, k->answer->stock, a), tl_leg_plan_text(&pull, k->answer->stock, b));
    choice_note(&c,
                "Counted on: forced gain %g, saturation %g V, base %g V. Storage time of the "
                "transistor comes on top.",
                tl_forced_gain, tl_saturated, tl_base_on_most);
    settle(k, &c);
}

/* One N-channel transistor a line, gate on the lower rail, a pull on each side. */
static void try_n_channel(const shift_case *k)
{
    const tl_shift_requirement *w = k->w;
    tl_choice c = way("N-channel transistor a line", 6);
    const double low = fmin(w->from.low, w->to.low);
    const bool from_high_side = w->from.high > w->to.high;
    tl_leg pull, other;
    char a[64], b[64];
    /* The driver's own side only needs a pull where it does not drive high itself or where the line goes both
     * ways. */
    if (!best_pull(k, &(pull_place){0, w->to.low, room_over(k), k->start, k->vih}, &pull) ||
        !best_pull(k, &(pull_place){1, w->from.low, INFINITY, k->start, tl_vih_share * w->from.low},
                   &other)) {
        rule_out(k, c.way, no_pull);
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
                  fmax(edge_of(pull.high, w->farads, w->to.low, k->start, k->vih),
                       edge_of(other.high, w->farads, w->from.low, k->start, tl_vih_share * w->from.low)),
                  k->edge);
    choice_figure(&c, TL_FIG_DRIVER_TAKES, w->to.high / pull.low + w->from.high / other.low, w->drives);
    choice_plan(&c,
                "- pull: {up: %s, to: FROM}\n- shifter: {way: n-channel, gate: LOWER, threshold: %g V, "
                "diode: %g V}\n- pull: {up: %s, to: TO}",
                tl_leg_plan_text(&other, k->answer->stock, a), w->threshold, w->body_diode,
                tl_leg_plan_text(&pull, k->answer->stock, b));
    choice_note(&c, "Source to the lower side, gate to its rail. Works both ways.");
    settle(k, &c);
}

static void try_buffer(const shift_case *k)
{
    tl_choice c = way("buffer", 7);
    c.beyond = k->w->both_ways != 0 || k->w->open_drain != 0;
    choice_figure(&c, TL_FIG_INPUT_HIGH_AT_MOST, k->voh, NAN);
    choice_figure(&c, TL_FIG_INPUT_LOW_AT_LEAST, k->vol, NAN);
    if (c.beyond)
        choice_note(
            &c,
            "A two-way one, or one for open drains, with a supply on each side: its data sheet must give the "
            "levels and %s. The plan's language has none such.",
            say(k->w->bits_per_second, TL_DIM_HERTZ));
    if (c.beyond) {
        result_offer(k->answer, &c);
        return;
    }
    choice_plan(&c, "- shifter: {way: buffer, supply: TO, vil: %g V, vih: %g V, limits: -0.3 V .. %g V}",
                k->vol, k->voh, k->w->from.high);
    choice_note(&c,
                "Choose one on the receiver's supply whose input thresholds lie between these levels and "
                "whose input stands %s. Its own speed is not in this table: the data sheet must give it %s.",
                say(k->w->from.high, TL_DIM_VOLT), say(k->w->bits_per_second, TL_DIM_HERTZ));
    result_offer(k->answer, &c);
}

static void try_every_way(const shift_case *k)
{
    try_direct(k);
    try_open_drain(k);
    try_clamp(k);
    try_divider(k);
    try_diode(k);
    try_inverter(k);
    try_n_channel(k);
    try_buffer(k);
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
                        answer};
}

void tl_size_shift(const tl_shift_requirement *w, tl_size_result *answer)
{
    if (!is_range(&w->from) || !is_range(&w->to) || w->from.low <= 0 || w->to.low <= 0 || w->vol < 0 ||
        !(w->drives > 0) || !(w->bits_per_second > 0) || !(w->farads > 0) ||
        !(w->edge_share > 0 && w->edge_share <= 1) || w->diode < 0 || w->threshold < 0 || w->injection < 0 ||
        w->leakage < 0 || !(w->most_pull > 0)) {
        result_refuse(
            answer, TL_SIZE_NONSENSE,
            "a shift needs the supplies of driver and receiver, a bit rate and a capacitance, all above 0");
        return;
    }
    const shift_case k = case_of(w, w->bits_per_second, answer);
    result_note(answer, "Driver: low at most %s, high at least %s, up to %s.", say(k.vol, TL_DIM_VOLT),
                say(k.voh, TL_DIM_VOLT), say(w->from.high, TL_DIM_VOLT));
    result_note(answer, "Receiver: low at most %s, high at least %s, never above %s.",
                say(k.vil, TL_DIM_VOLT), say(k.vih, TL_DIM_VOLT), say(k.limit, TL_DIM_VOLT));
    result_note(answer, "%s: an edge may take %s.", say(w->bits_per_second, TL_DIM_HERTZ),
                say(k.edge, TL_DIM_SECOND));
    if (w->injection > 0 && goes_down(&k))
        result_exact(answer, "smallest series resistor into the clamp",
                     (w->from.high - k.limit) / w->injection, TL_DIM_OHM);
    try_every_way(&k);
    result_tell_why(answer);
}
