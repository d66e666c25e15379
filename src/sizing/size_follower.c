/* SPDX-License-Identifier: MIT */
/* A source too weak for the pin: as it is, with a capacitor at the pin, behind a follower, with a divider
 * behind that. */
#include "sizing/sizing.h"
#include <stdio.h>
#include <string.h>

tl_follower_requirement tl_follower_requirement_default(void)
{
    return (tl_follower_requirement){.source.nominal = NAN,
                                     .source_ohms = NAN,
                                     .supply.nominal = NAN,
                                     .limit = NAN,
                                     .converter = unknown_converter};
}

/* The one at the pin that good practice takes, of those that hold half a count; false where none does. */
static bool held_by(const tl_follower_requirement *w, const tl_size_result *answer, tl_leg *farads)
{
    const double least = w->converter.sample_farads * (2 * ldexp(1, (int)w->converter.bits) - 1);
    tl_stock capacitors = offered_capacitors(answer, 1, 0.2);
    double smallest = INFINITY, cheapest = INFINITY;
    for (int i = 0; i < capacitors.count; i++) {
        const tl_leg candidate = capacitor_of(&capacitors, i);
        tl_choice c = {0};
        if (candidate.low < least && !answer->compare)
            continue;
        smallest = fmin(smallest, candidate.nominal); /* they rise */
        choice_part(&c, "capacitor", TL_DIM_FARAD, &candidate);
        practice_held(&c, candidate.nominal, smallest);
        practice_common(&c, NULL);
        const double cost = answer->order == TL_BY_LARGEST ? -candidate.nominal
                            : answer->order == TL_BY_LEAST ? candidate.nominal
                                                           : c.cost;
        if (cost < cheapest) {
            cheapest = cost;
            *farads = candidate;
        }
    }
    release_capacitors(answer, &capacitors);
    return isfinite(cheapest);
}

static void try_as_it_is(const tl_follower_requirement *w, double longest, tl_size_result *answer)
{
    char capacitance[40];
    tl_choice direct = {.way = "as it is", .score = 4}, held = {.way = "capacitor at the pin", .score = 3};
    choice_figure(&direct, TL_FIG_SOURCE_RESISTANCE, w->source_ohms, longest);
    choice_figure(&direct, TL_FIG_AT_THE_PIN, w->source.high, w->limit);
    if (choice_fits(&direct))
        result_offer(answer, &direct);
    else
        result_reject(answer, &direct,
                      "direct connection: source resistance %s, limit %s; pin voltage %s, limit %s",
                      say(w->source_ohms, TL_DIM_OHM), say(longest, TL_DIM_OHM),
                      say(w->source.high, TL_DIM_VOLT), say(w->limit, TL_DIM_VOLT));
    if (!is_said(w->converter.sample_farads))
        return;
    const double codes = ldexp(1, (int)w->converter.bits);
    tl_leg farads;
    if (!held_by(w, answer, &farads))
        return;
    choice_part(&held, "capacitor", TL_DIM_FARAD, &farads);
    choice_figure(&held, TL_FIG_AT_THE_PIN, w->source.high, w->limit);
    choice_figure(&held, TL_FIG_FOLLOWS_A_STEP_IN, w->source_ohms * farads.high * log(2 * codes), NAN);
    choice_plan(&held, "- capacitor: %s ±%g %%", tl_leg_write(&farads, NULL, TL_DIM_FARAD, capacitance),
                100 * (farads.high - farads.nominal) / farads.nominal);
    choice_note(
        &held,
        "Good for a slow signal that is seldom read; 'size reservoir' calculates the samples per second.");
    if (result_takes(answer, &held))
        result_offer(answer, &held);
    else
        result_reject(answer, &held, "capacitor at the pin: over the limit");
}

/* `- follower: {supply: RAIL, output: 0.05 V .. rail - 0.05 V, ..}`: what is 0 is left out. */
static void write_follower_plan(const tl_follower_requirement *w, char plan[TL_CHOICE_TEXT])
{
    int at = snprintf(plan, TL_CHOICE_TEXT, "- follower: {supply: RAIL");
    if (w->out_low > 0 || w->out_high > 0)
        at += snprintf(plan + at, TL_CHOICE_TEXT - (size_t)at, ", output: %s .. rail - %s",
                       say(w->out_low, TL_DIM_VOLT), say(w->out_high, TL_DIM_VOLT));
    if (w->in_low > 0 || w->in_high > 0)
        at += snprintf(plan + at, TL_CHOICE_TEXT - (size_t)at, ", input: %s .. rail - %s",
                       say(w->in_low, TL_DIM_VOLT), say(w->in_high, TL_DIM_VOLT));
    if (w->bias > 0)
        at += snprintf(plan + at, TL_CHOICE_TEXT - (size_t)at, ", bias: %s", say(w->bias, TL_DIM_AMPERE));
    if (w->offset != 0)
        at += snprintf(plan + at, TL_CHOICE_TEXT - (size_t)at, ", offset: %s",
                       say(fabs(w->offset), TL_DIM_VOLT));
    snprintf(plan + at, TL_CHOICE_TEXT - (size_t)at, "}");
}

/* The amplifier alone: its input range, its output range, and what its bias current and offset cost. */
static tl_choice follower_choice(const tl_follower_requirement *w)
{
    tl_choice c = {.way = "follower", .score = 2};
    const double error = w->bias * w->source_ohms + fabs(w->offset);
    choice_figure(&c, TL_FIG_INPUT_HIGHEST, w->source.high, w->supply.low - w->in_high);
    choice_figure(&c, TL_FIG_INPUT_LOWEST, w->source.low, w->in_low);
    choice_figure(&c, TL_FIG_OUTPUT_HIGHEST, w->source.high + error, w->supply.low - w->out_high);
    choice_figure(&c, TL_FIG_OUTPUT_STAYS_ABOVE, w->out_low, NAN);
    const double span = w->source.high - w->source.low,
                 top = fmin(w->source.high, w->supply.low - w->out_high),
                 bottom = fmax(w->source.low, w->out_low);
    if (span > 0)
        choice_figure(&c, TL_FIG_FOLLOWS_OF_THE_RANGE, 100 * fmax(0, top - bottom) / span, NAN);
    choice_figure(&c, TL_FIG_BIAS_AND_OFFSET_COST, error, NAN);
    if (is_said(w->converter.reference))
        choice_figure(&c, TL_FIG_OF_IT_IN_COUNTS,
                      error / w->converter.reference * ldexp(1, (int)w->converter.bits), NAN);
    if (w->source.low - error < w->out_low)
        choice_note(&c, "Its output stays at %s or more: lower signals are lost.",
                    say(w->out_low, TL_DIM_VOLT));
    write_follower_plan(w, c.plan);

    return c;
}

static void try_every_way(const tl_follower_requirement *w, tl_size_result *answer)
{
    const double longest = or_else(tl_converter_longest_ohms(&w->converter), 10e3);
    result_note(answer, "Source resistance at the pin: %s max%s.", say(longest, TL_DIM_OHM),
                is_said(tl_converter_longest_ohms(&w->converter)) ? " (longest acquisition time)"
                                                                  : " (usual; give the board)");
    try_as_it_is(w, longest, answer);
    const tl_choice follower = follower_choice(w);
    for (int i = 0; i < follower.figures; i++) {
        if (!figure_broken(&follower.figure[i]))
            continue;
        result_reject(answer, &follower,
                      "follower: %s %s, limit %s: the amplifier needs another supply or less headroom",
                      follower.figure[i].label, say_figure(&follower.figure[i]),
                      say_limit(&follower.figure[i]));
        if (answer->count == 0)
            result_refuse(answer, TL_SIZE_IMPOSSIBLE, "neither a direct connection nor this amplifier works");
        return;
    }
    /* Without a signal the output may still stand at its supply: that, not the signal, must stay within the
     * pin's limit. */
    if (w->supply.high - w->out_high <= w->limit) {
        result_offer(answer, &follower);
        return;
    }
    result_reject(answer, &follower, "follower alone: its output can reach %s, above the limit",
                  say(w->supply.high - w->out_high, TL_DIM_VOLT));
    tl_divider_requirement behind = tl_divider_requirement_default();
    behind.source =
        (tl_quantity){fmax(0, w->source.low), w->source.nominal, w->supply.high - w->out_high, true};
    behind.limit = w->limit;
    behind.most_tap_ohms = longest;
    behind.most_amperes = 1e-3;
    behind.line = true; /* an amplifier drives it */
    tl_size_result *dividers = tl_size_result_new(answer->stock, answer->room);
    tl_size_divider(&behind, dividers);
    for (int i = 0; i < dividers->count; i++) {
        tl_choice c = follower;
        char upper[64], lower[64];
        c.way = "follower and divider";
        c.score = 1 - 0.01 * i;
        choice_part(&c, "upper", TL_DIM_OHM, &dividers->choices[i].part[0]);
        choice_part(&c, "lower", TL_DIM_OHM, &dividers->choices[i].part[1]);
        choice_figure(&c, TL_FIG_AT_THE_PIN, dividers->choices[i].figure[TL_DIVIDER_TAP_HIGHEST].value,
                      w->limit);
        choice_figure(&c, TL_FIG_SOURCE_RESISTANCE, dividers->choices[i].figure[TL_DIVIDER_OHMS].value,
                      longest);
        write_follower_plan(w, c.plan);
        const size_t length = strlen(c.plan);
        snprintf(c.plan + length, sizeof c.plan - length, "\n- divider: {upper: %s, lower: %s}",
                 tl_leg_plan_text(&c.part[0], answer->stock, upper),
                 tl_leg_plan_text(&c.part[1], answer->stock, lower));

        result_offer(answer, &c);
    }
    tl_size_result_free(dividers);
}

void tl_size_follower(const tl_follower_requirement *w, tl_size_result *answer)
{
    if (!is_range(&w->source) || !(w->source_ohms > 0) || !is_range(&w->supply) || w->supply.low <= 0 ||
        !(w->limit > 0) || w->out_low < 0 || w->out_high < 0 || w->in_low < 0 || w->in_high < 0 ||
        w->bias < 0) {
        result_refuse(answer, TL_SIZE_NONSENSE,
                      "a follower needs the source voltage and resistance, the supply of the amplifier and "
                      "the maximum pin voltage");
        return;
    }
    try_every_way(w, answer);
    result_tell_why(answer);
}
