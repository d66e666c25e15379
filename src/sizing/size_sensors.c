/* SPDX-License-Identifier: MIT */
/* What stands at a sensor: the partner of a resistance, the feed of a potentiometer, the load of a current
 * loop. */
#include "sizing/sizing.h"

/* --- partner --- */

tl_partner_requirement tl_partner_requirement_default(void)
{
    return (tl_partner_requirement){.sensor.nominal = NAN,
                                    .rail.nominal = NAN,
                                    .at = NAN,
                                    .most_amperes = INFINITY,
                                    .most_tap_ohms = INFINITY,
                                    .limit = NAN,
                                    .most_heat = INFINITY,
                                    .kelvins_per_watt = NAN,
                                    .most_kelvins = INFINITY,
                                    .bits = 12};
}

/* Share of the rail across the lower leg. */
static double share_across(const tl_partner_requirement *w, double sensor, double partner)
{
    return (w->leg == 0 ? partner : sensor) / (sensor + partner);
}

static double swing_of(const tl_partner_requirement *w, double partner)
{
    return fabs(share_across(w, w->sensor.low, partner) - share_across(w, w->sensor.high, partner));
}

/* Counts that one ohm makes: the slope of the share is Rp / (R + Rp)^2 in either leg. */
static double counts_per_ohm(const tl_partner_requirement *w, double sensor, double partner)
{
    return ldexp(1, (int)w->bits) * partner / ((sensor + partner) * (sensor + partner));
}

static void work_out_partner(const void *requirement, const tl_leg *partner, tl_choice *c)
{
    const tl_partner_requirement *w = requirement;
    char value[64];
    const double v = w->rail.high;
    const double ends[4] = {
        share_across(w, w->sensor.low, partner->low), share_across(w, w->sensor.low, partner->high),
        share_across(w, w->sensor.high, partner->low), share_across(w, w->sensor.high, partner->high)};
    const double least = fmin(fmin(ends[0], ends[1]), fmin(ends[2], ends[3]));
    const double most = fmax(fmax(ends[0], ends[1]), fmax(ends[2], ends[3]));
    /* Heat in the sensor peaks where it equals its partner; a smaller partner only adds to it. */
    const double hottest = fmin(fmax(partner->low, w->sensor.low), w->sensor.high);
    const double amperes = v / (hottest + partner->low);
    choice_part(c, "partner", TL_DIM_OHM, partner);
    choice_figure(c, TL_FIG_SWING, 100 * fmin(swing_of(w, partner->low), swing_of(w, partner->high)), NAN);
    choice_figure(c, TL_FIG_TAP_LOWEST, w->rail.low * least, NAN);
    choice_figure(c, TL_FIG_TAP_HIGHEST, v * most, w->limit);
    choice_figure(c, TL_FIG_CURRENT, v / (w->sensor.low + partner->low), w->most_amperes);
    choice_figure(c, TL_FIG_CURRENT_AT_0_OHM, v / partner->low, w->most_amperes);
    choice_figure(c, TL_FIG_SOURCE_RESISTANCE, parallel_of(w->sensor.high, partner->high), w->most_tap_ohms);
    choice_figure(c, TL_FIG_HEAT_IN_SENSOR, amperes * amperes * hottest, w->most_heat);
    if (is_said(w->kelvins_per_watt))
        choice_figure(c, TL_FIG_WARMS_ITSELF_BY, w->kelvins_per_watt * amperes * amperes * hottest,
                      w->most_kelvins);
    choice_figure(c, TL_FIG_COUNTS_PER_OHM_LOW_END, counts_per_ohm(w, w->sensor.low, partner->nominal), NAN);
    choice_figure(c, TL_FIG_COUNTS_PER_OHM_HIGH_END, counts_per_ohm(w, w->sensor.high, partner->nominal),
                  NAN);
    if (is_said(w->at)) {
        const double at =
            fmin(counts_per_ohm(w, w->at, partner->low), counts_per_ohm(w, w->at, partner->high));
        choice_figure(c, TL_FIG_COUNTS_PER_OHM_WANTED, at, NAN);
        c->extreme = at;
    } else {
        c->extreme = c->figure[0].value;
    }
    choice_plan(c, "- partner: {%s: %s%s}", w->leg == 0 ? "lower" : "upper",
                tl_leg_plan_text(partner, NULL, value), w->leg == 0 ? "" : ", to: RAIL");
}

static void weigh_partner(const void *requirement, const practice_window *window, tl_choice *c)
{
    const tl_partner_requirement *w = requirement;
    const tl_leg *partner = &c->part[0];
    const double low = fmax(w->sensor.low, w->sensor.high / 10), shorted = w->rail.high / partner->low;
    const double hottest = fmin(fmax(partner->low, w->sensor.low), w->sensor.high),
                 amperes = w->rail.high / (hottest + partner->low);
    (void)window;
    practice_near(c, PRACTICE_PARTNER_MIDDLE, partner->nominal,
                  is_said(w->at) ? w->at : sqrt(low * w->sensor.high));
    practice_add(c, PRACTICE_PARTNER_AMPERES, shorted);
    if (w->sensor.low > 0)
        practice_add(c, PRACTICE_SENSOR_HEAT, amperes * amperes * hottest);
    practice_add(c, PRACTICE_PARTNER_OHMS, parallel_of(w->sensor.high, partner->high));
    practice_add(c, PRACTICE_PARTNER_HEAT, shorted * w->rail.high);
}

static const one_part_job lower_partner_job = {
    TL_DIM_OHM, work_out_partner, weigh_partner,
    (const bound_name[]){{TL_FIG_TAP_HIGHEST, "largest for the limit"}, {0}}};
static const one_part_job upper_partner_job = {
    TL_DIM_OHM, work_out_partner, weigh_partner,
    (const bound_name[]){{TL_FIG_TAP_HIGHEST, "smallest for the limit"}, {0}}};

void tl_size_partner(const tl_partner_requirement *w, tl_size_result *answer)
{
    if (!is_range(&w->sensor) || !is_range(&w->rail) || w->sensor.low < 0 ||
        w->sensor.high <= w->sensor.low || w->rail.low <= 0 || w->at <= 0 || w->limit <= 0 || w->bits < 6 ||
        w->bits > 24) {
        result_refuse(
            answer, TL_SIZE_NONSENSE,
            "the job needs the range of the sensor, lower end first and not equal, and a supply and "
            "limit above 0 V");
        return;
    }
    result_exact(answer,
                 is_said(w->at) ? "partner for the best resolution there" : "partner for the widest swing",
                 is_said(w->at) ? w->at : sqrt(w->sensor.low * w->sensor.high), TL_DIM_OHM);
    try_every_value(w->leg == 0 ? &lower_partner_job : &upper_partner_job, w, answer);
    result_note(answer, "With the fixed resistor %s, the pin voltage %s as the sensor resistance rises.",
                w->leg == 0 ? "below the sensor" : "above the sensor", w->leg == 0 ? "falls" : "rises");
    if (is_said(w->at))
        result_note(answer, "The best resolution at %s needs a fixed resistor of the same value.",
                    say(w->at, TL_DIM_OHM));
    else
        result_note(answer, "%s %s, the geometric mean of the sensor's ends.",
                    is_said(w->limit) && w->limit < w->rail.high
                        ? "Without the limit the widest swing would need"
                        : "The widest swing needs",
                    say(sqrt(w->sensor.low * w->sensor.high), TL_DIM_OHM));
    result_note(answer, "At 0 Ω of the sensor only the fixed resistor limits the current.");
}

/* --- feed --- */

tl_feed_requirement tl_feed_requirement_default(void)
{
    return (tl_feed_requirement){.track.nominal = NAN,
                                 .rail.nominal = NAN,
                                 .tracks = 1,
                                 .limit = NAN,
                                 .most_amperes = INFINITY,
                                 .most_tap_ohms = INFINITY};
}

/* Largest resistance seen from one wiper: x R || ((1-x) R + F), F the feed with the other tracks across it.
 */
static double wiper_ohms(double track, double feed)
{
    return feed <= track ? (track + feed) / 4 : track * feed / (track + feed);
}

static void work_out_feed(const void *requirement, const tl_leg *feed, tl_choice *c)
{
    const tl_feed_requirement *w = requirement;
    char value[64];
    const double most_track = w->track.high / w->tracks, least_track = w->track.low / w->tracks;
    const double top = w->rail.high * most_track / (most_track + feed->low);
    const double amperes = w->rail.high / (least_track + feed->low);
    const double others = w->tracks > 1 ? w->track.high / (w->tracks - 1) : INFINITY;
    /* Power in the feed peaks where it equals the tracks. */
    const double hottest = fmin(fmax(least_track, feed->low), feed->high);
    const double in_feed = w->rail.high / (least_track + hottest);
    choice_part(c, "feed", TL_DIM_OHM, feed);
    choice_figure(c, TL_FIG_TOP_LOWEST, w->rail.low * least_track / (least_track + feed->high), NAN);
    choice_figure(c, TL_FIG_TOP_HIGHEST, top, w->limit);
    choice_figure(c, TL_FIG_OF_THE_LIMIT, 100 * top / w->limit, NAN);
    choice_figure(c, TL_FIG_CURRENT, amperes, w->most_amperes);
    choice_figure(c, TL_FIG_SOURCE_RESISTANCE, wiper_ohms(w->track.high, parallel_of(feed->high, others)),
                  w->most_tap_ohms);
    choice_figure(c, TL_FIG_FEED_POWER, in_feed * in_feed * hottest, feed->watts);
    c->extreme = top;
    practice_add(c, PRACTICE_FEED_SHARE, top / w->limit);
    choice_plan(c, "shared:\n  top: {from: RAIL, series: %s}", tl_leg_plan_text(feed, NULL, value));
    if (w->tracks > 1)
        choice_note(c, "With only one track the top reaches %s.",
                    say(w->rail.high * w->track.high / (w->track.high + feed->low), TL_DIM_VOLT));
}

double tl_feed_at_least(double track, double rail, double limit)
{
    return track * (rail / limit - 1);
}

double tl_partner_for(double ohms, double share, bool above)
{
    return above ? ohms * (1 - share) / share : ohms * share / (1 - share);
}

static const one_part_job feed_job = {TL_DIM_OHM, work_out_feed, NULL,
                                      (const bound_name[]){{TL_FIG_TOP_HIGHEST, "smallest feed"}, {0}}};

void tl_size_feed(const tl_feed_requirement *w, tl_size_result *answer)
{
    if (!is_range(&w->track) || !is_range(&w->rail) || w->track.low <= 0 || w->rail.low <= 0 ||
        !(w->limit > 0) || w->tracks < 1 || w->tracks != floor(w->tracks)) {
        result_refuse(
            answer, TL_SIZE_NONSENSE,
            "the job needs the track resistance, a supply and a limit above 0, and at least one track");
        return;
    }
    if (w->rail.high <= w->limit) {
        result_refuse(
            answer, TL_SIZE_IMPOSSIBLE,
            "no resistor is needed: the supply never exceeds %s; connect the top of the track to it",
            say(w->limit, TL_DIM_VOLT));
        return;
    }
    const double track = w->track.high / w->tracks;
    result_note(answer, "Minimum resistance in the worst case: %s (supply %s, track %s).",
                say(tl_feed_at_least(track, w->rail.high, w->limit), TL_DIM_OHM),
                say(w->rail.high, TL_DIM_VOLT), say(w->track.high, TL_DIM_OHM));
    try_every_value(&feed_job, w, answer);
    if (w->tracks > 1)
        result_note(answer, "If one track is disconnected, the voltage of the others rises.");
}

/* --- loop --- */

tl_loop_requirement tl_loop_requirement_default(void)
{
    return (tl_loop_requirement){.limit = NAN,
                                 .most_amperes = 0.025,
                                 .supply.nominal = NAN,
                                 .compliance = 8,
                                 .reference = NAN,
                                 .bits = 12};
}

static void work_out_loop(const void *requirement, const tl_leg *load, tl_choice *c)
{
    const tl_loop_requirement *w = requirement;
    char value[64];
    const double reference = or_else(w->reference, w->limit);
    choice_part(c, "load", TL_DIM_OHM, load);
    choice_figure(c, TL_FIG_AT_4_MA, 0.004 * load->low, NAN);
    choice_figure(c, TL_FIG_AT_20_MA, 0.020 * load->high, reference);
    choice_figure(c, TL_FIG_FAULT_AT_21_MA, 0.021 * load->high, reference);
    choice_figure(c, TL_FIG_AT_THE_MOST, w->most_amperes * load->high, w->limit);
    choice_figure(c, TL_FIG_4_TO_20_MA_MAKES, 0.016 * load->low / reference * ldexp(1, (int)w->bits), NAN);
    if (is_said(w->supply.nominal))
        choice_figure(c, TL_FIG_LEFT_FOR_THE_LOOP,
                      w->supply.low -
                          fmin(w->most_amperes, 0.021) * (load->high + w->wire_ohms + w->meter_ohms),
                      w->compliance);
    choice_figure(c, TL_FIG_POWER, w->most_amperes * w->most_amperes * load->high, load->watts);
    if (is_said(w->supply.nominal)) { /* a transmitter that is shorted: its supply across all the ohms */
        const double others = w->wire_ohms + w->meter_ohms, amperes = w->supply.high / (load->low + others),
                     worst = fmin(fmax(others, load->low), load->high);
        choice_figure(c, TL_FIG_SHORTED_CURRENT, amperes, NAN);
        choice_figure(c, TL_FIG_SHORTED_AT_THE_PIN, w->supply.high * load->high / (load->high + others), NAN);
        choice_figure(c, TL_FIG_SHORTED_POWER,
                      w->supply.high * w->supply.high / ((worst + others) * (worst + others)) * worst, NAN);
    }
    c->extreme = load->nominal;
    practice_add(c, PRACTICE_LOOP_LITTLE, w->most_amperes * load->high / w->limit);
    choice_plan(c, "- load: %s", tl_leg_plan_text(load, NULL, value));
    choice_note(c, "Fault windows: below %s, above %s.", say(0.0036 * load->low, TL_DIM_VOLT),
                say(0.021 * load->low, TL_DIM_VOLT));
}

static const one_part_job loop_job = {
    TL_DIM_OHM, work_out_loop, NULL,
    (const bound_name[]){{TL_FIG_AT_THE_MOST, "largest load for the pin"},
                         {TL_FIG_FAULT_AT_21_MA, "largest load for the ADC"},
                         {TL_FIG_AT_20_MA, ""},
                         {TL_FIG_LEFT_FOR_THE_LOOP, "largest load for the loop"},
                         {0}}};

void tl_size_loop(const tl_loop_requirement *w, tl_size_result *answer)
{
    if (!(w->limit > 0) || !(w->most_amperes >= 0.021) || w->wire_ohms < 0 || w->meter_ohms < 0 ||
        !(w->compliance >= 0) || w->reference <= 0 || (is_said(w->supply.nominal) && w->supply.low <= 0)) {
        result_refuse(answer, TL_SIZE_NONSENSE,
                      "a loop needs a limit above 0 V and a highest current of at least 21 mA");
        return;
    }
    result_note(answer, "Maximum resistance: %s (%s at %s).",
                say(fmin(w->limit / w->most_amperes, or_else(w->reference, w->limit) / 0.021), TL_DIM_OHM),
                say(w->limit, TL_DIM_VOLT), say(w->most_amperes, TL_DIM_AMPERE));
    if (is_said(w->supply.nominal) && w->supply.high > w->limit)
        result_note(answer,
                    "A shorted transmitter puts most of its supply on the pin: 'size injection' finds a "
                    "series resistor that protects the pin.");
    try_every_value(&loop_job, w, answer);
    result_note(answer, "Below 3.6 mA a wire is broken, above 21 mA the transmitter reports a fault: set "
                        "the fault windows there.");
    result_note(answer, "A meter in the loop adds its burden voltage (often 0.2 V to 1 V at 20 mA).");
}
