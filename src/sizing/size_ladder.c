/* SPDX-License-Identifier: MIT */
/*
 * k buttons on one converter pin. Chain: from the pull, a chain of resistors; each button takes its tap to
 * ground, the first one the pin itself. Star: each button ties its own resistor from the pin to ground.
 * Either way button i gives the level S / (Rp + S), S being what is between pin and ground.
 *
 * For a given distance D between neighbours, taking the smallest S that keeps D from the one before leaves
 * most room for the rest: so D can be had exactly if this greedy walk ends below the idle level. The largest
 * D is found by halving over it.
 */
#include "sizing/sizing.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

tl_ladder_requirement tl_ladder_requirement_default(void)
{
    return (tl_ladder_requirement){
        .buttons = NAN, .pull = 10e3, .bits = 12, .apart = NAN, .errors = 4, .rail.nominal = NAN};
}

typedef struct {
    double low, high; /* counts, guaranteed */
} count_span;

typedef struct {
    const tl_ladder_requirement *w;
    const tl_stock *stock;
    tl_leg pull;
    tl_leg
        part[TL_LADDER_BUTTONS]; /* the chain's sections, or the star's own resistors; the first is a wire */
    count_span span[TL_LADDER_BUTTONS + 1]; /* the last is idle */
    int buttons;
    bool common; /* of common values only, but for the pull */
} ladder;

static double counts_of(const ladder *l, double pull, double ohms)
{
    return ldexp(1, (int)l->w->bits) * ohms / (pull + ohms);
}

/* What the pin's leakage moves it by, through the pull and what stands to ground beside it. */
static double leakage_counts(const ladder *l, double ohms)
{
    const tl_ladder_requirement *w = l->w;
    const double beside = isinf(ohms) ? l->pull.high : parallel_of(l->pull.high, ohms);
    return is_said(w->rail.nominal) ? ldexp(1, (int)w->bits) * w->leakage * beside / w->rail.low : 0;
}

static count_span span_of(const ladder *l, double least_ohms, double most_ohms)
{
    const double e = l->w->errors + 0.5 + leakage_counts(l, most_ohms + l->w->contact_ohms);
    return (count_span){counts_of(l, l->pull.high, least_ohms) - e,
                        counts_of(l, l->pull.low, most_ohms + l->w->contact_ohms) + e};
}

/* What stands between pin and ground with button i: a sum in the chain, its own part in the star. */
static count_span span_with(const ladder *l, int i, const tl_leg *candidate)
{
    double least = candidate->low, most = candidate->high;
    for (int j = 1; j < i && l->w->star == 0; j++) {
        least += l->part[j].low;
        most += l->part[j].high;
    }
    return span_of(l, least, most);
}

/* Whether the pull and the buttons so far have taken all there are of a value. */
static bool is_used_up(const ladder *l, int buttons, int index)
{
    int used = l->pull.first == index;
    for (int i = 1; i < buttons; i++)
        used += l->part[i].first == index;
    return l->stock->parts[index].count >= 0 && used >= l->stock->parts[index].count;
}

static count_span idle_span(const ladder *l)
{
    const double most = ldexp(1, (int)l->w->bits) - 1;
    return (count_span){most - l->w->errors - leakage_counts(l, INFINITY), most};
}

/* The greedy walk for one distance; whether idle is still that far away. */
static bool walk(ladder *l, double apart)
{
    l->part[0] = leg_exact(0);
    l->span[0] = span_of(l, 0, 0);
    for (int i = 1; i < l->buttons; i++) {
        int low = 0, high = l->stock->count;
        while (low < high) {
            const int middle = (low + high) / 2;
            const tl_leg leg = leg_of(l->stock, middle);
            if (span_with(l, i, &leg).low < l->span[i - 1].high + apart)
                low = middle + 1;
            else
                high = middle;
        }
        /* a drawer may hold few of a value */
        while (low < l->stock->count &&
               (is_used_up(l, i, low) || (l->common && !practice_is_common(l->stock->parts[low].value))))
            low++;
        if (low == l->stock->count)
            return false;
        l->part[i] = leg_of(l->stock, low);
        l->span[i] = span_with(l, i, &l->part[i]);
    }
    l->span[l->buttons] = idle_span(l);
    return l->span[l->buttons].low >= l->span[l->buttons - 1].high + apart;
}

static double least_distance(const ladder *l)
{
    double least = INFINITY;
    for (int i = 1; i <= l->buttons; i++)
        least = fmin(least, l->span[i].low - l->span[i - 1].high);
    return least;
}

/* The largest distance that any choice of values can have; false where not even 0 can be had. */
static bool best_values(ladder *l)
{
    double low = 0, high = ldexp(1, (int)l->w->bits);
    if (!walk(l, 0))
        return false;
    for (int i = 0; i < 60; i++) {
        const double middle = (low + high) / 2;
        ladder tried = *l;
        if (walk(&tried, middle))
            low = middle;
        else
            high = middle;
    }
    return walk(l, low);
}

/* Two buttons at once in a star: their resistors in parallel must not read as a third. How many pairs do. */
static int confused_pairs(const ladder *l, char *text, size_t size)
{
    int confused = 0;
    size_t length = 0;
    text[0] = '\0';
    for (int i = 1; i < l->buttons && l->w->star != 0; i++) {
        for (int j = i + 1; j < l->buttons; j++) {
            const count_span both = span_of(l, parallel_of(l->part[i].low, l->part[j].low),
                                            parallel_of(l->part[i].high, l->part[j].high));
            for (int k = 0; k < l->buttons; k++) {
                if (k == i || k == j || both.high < l->span[k].low || both.low > l->span[k].high)
                    continue;
                confused++;
                if (length + 30 < size)
                    length += (size_t)snprintf(text + length, size - length, "%s%d and %d as %d",
                                               confused > 1 ? ", " : "", i + 1, j + 1, k + 1);
            }
        }
    }
    return confused;
}

static const char *const part_names[TL_LADDER_BUTTONS] = {"button 1", "button 2", "button 3", "button 4",
                                                          "button 5", "button 6", "button 7", "button 8"};

void ladder_note(tl_choice *c, double (*codes)[2], int buttons)
{
    snprintf(c->note, sizeof c->note, "Counts:");
    for (int i = 1; i <= buttons; i++) {
        const size_t length = strlen(c->note);
        snprintf(c->note + length, sizeof c->note - length, " %d: %.0f .. %.0f,", i, codes[i][0],
                 codes[i][1]);
    }
    const size_t length = strlen(c->note);
    snprintf(c->note + length, sizeof c->note - length, " idle %.0f .. %.0f; anything else is between.",
             codes[0][0], codes[0][1]);
}

static tl_choice choice_of(const ladder *l, double wanted)
{
    tl_choice c = {.way = l->w->star != 0 ? "star" : "chain"};
    size_t length;
    const double distance = least_distance(l);
    choice_part(&c, "pull", TL_DIM_OHM, &l->pull);
    for (int i = 0; i < l->buttons; i++)
        choice_part(&c, part_names[i], TL_DIM_OHM, &l->part[i]);
    choice_figure(&c, TL_FIG_LEAST_APART, distance, wanted);
    c.score = c.extreme = distance;
    char value[64];
    snprintf(c.plan, sizeof c.plan, "source: {%s: [", l->w->star != 0 ? "star" : "chain");
    for (int i = 0; i < l->buttons; i++) {
        length = strlen(c.plan);
        snprintf(c.plan + length, sizeof c.plan - length, "%sbutton-%d: %s", i > 0 ? ", " : "", i + 1,
                 i == 0 ? "0 ohm" : tl_leg_plan_text(&l->part[i], l->stock, value));
    }
    length = strlen(c.plan);
    snprintf(c.plan + length, sizeof c.plan - length, "]}\nstages: [pull: {up: %s, to: RAIL}]",
             tl_leg_plan_text(&l->pull, l->stock, value));
    double codes[TL_LADDER_BUTTONS + 1][2];
    for (int i = 0; i <= l->buttons; i++) {
        double *code = codes[i < l->buttons ? i + 1 : 0]; /* idle is the last here, and the first there */
        code[0] = fmax(0, floor(l->span[i].low));
        code[1] = fmin(ldexp(1, (int)l->w->bits) - 1, ceil(l->span[i].high));
    }
    ladder_note(&c, codes, l->buttons);
    return c;
}

/* The pull and the sections that are asked about, nearest to the pin first. */
static void take_asked(ladder *l)
{
    l->pull = leg_of(l->stock, 0);
    l->part[0] = leg_exact(0);
    l->span[0] = span_of(l, 0, 0);
    for (int i = 1; i < l->buttons; i++) {
        l->part[i] = leg_of(l->stock, i);
        l->span[i] = span_with(l, i, &l->part[i]);
    }
    l->span[l->buttons] = idle_span(l);
}

/* The best values of a pull; false where they are not far enough apart, or none can be had. */
static bool try_pull(const tl_ladder_requirement *w, double wanted, ladder *l, tl_choice *c)
{
    if (l->pull.nominal < w->pull / 3 || l->pull.nominal > w->pull * 3 || !best_values(l))
        return false;
    *c = choice_of(l, wanted);
    return true;
}

/* Every pull on offer within a factor of three of the requirement, each with its best values. Answers the
 * best distance of all. */
static double try_every_pull(const tl_ladder_requirement *w, double wanted, bool common,
                             tl_size_result *answer)
{
    tl_choice *found = tl_alloc((size_t)answer->stock->count, sizeof *found);
    double best = 0;
    result_keep_more(answer);
    for (int p = 0; p < answer->stock->count; p++) {
        ladder l = {.w = w,
                    .stock = answer->stock,
                    .pull = leg_of(answer->stock, p),
                    .buttons = (int)w->buttons,
                    .common = common};
        if (try_pull(w, wanted, &l, &found[p]))
            best = fmax(best, found[p].extreme);
        answer->tried += found[p].parts > 0;
    }
    for (int p = 0; p < answer->stock->count; p++) {
        tl_choice *c = &found[p];
        if (c->parts == 0 || !choice_fits(c))
            continue;
        answer->fitting++;
        practice_near(c, PRACTICE_LADDER_PULL, c->part[0].nominal, w->pull);
        practice_add(c, PRACTICE_LADDER_APART, c->extreme / best);
        result_score(answer, c);
        result_offer(answer, c);
    }
    free(found);
    return best;
}

void tl_size_ladder(const tl_ladder_requirement *w, tl_size_result *answer)
{
    if (!(w->buttons >= 2 && w->buttons <= TL_LADDER_BUTTONS) || w->buttons != floor(w->buttons) ||
        !(w->pull > 0) || !(w->bits >= 6 && w->bits <= 16) || w->contact_ohms < 0 || w->errors < 0 ||
        !(w->leakage >= 0) || (is_said(w->rail.nominal) && !(w->rail.low > 0)) || w->apart < 0 ||
        answer->stock->count == 0) {
        result_refuse(answer, TL_SIZE_NONSENSE,
                      "a ladder has 2 to %d buttons, a pull above 0 ohm and 6 to 16 bits", TL_LADDER_BUTTONS);
        return;
    }
    const double wanted = or_else(w->apart, ldexp(0.01, (int)w->bits));
    if (answer->compare && answer->stock->count != (int)w->buttons) {
        result_refuse(answer, TL_SIZE_IMPOSSIBLE,
                      "%.0f buttons have a pull and %.0f resistors: %.0f values, the pull first", w->buttons,
                      w->buttons - 1, w->buttons);
        return;
    }
    if (answer->compare) {
        ladder asked = {.w = w, .stock = answer->stock, .buttons = (int)w->buttons};
        take_asked(&asked);
        const tl_choice choice = choice_of(&asked, wanted);
        result_offer(answer, &choice);
        return;
    }
    const double common_distance =
        answer->order == TL_BY_PRACTICE ? try_every_pull(w, wanted, true, answer) : 0;
    const double best_distance =
        answer->count > 0 ? common_distance : fmax(common_distance, try_every_pull(w, wanted, false, answer));
    result_rank(answer);
    if (answer->count == 0) {
        result_refuse(answer, TL_SIZE_IMPOSSIBLE,
                      "%.0f buttons cannot be %s apart with these values: %s at best; use fewer buttons, "
                      "closer tolerances or more bits",
                      w->buttons, say(wanted, TL_DIM_COUNT), say(best_distance, TL_DIM_COUNT));
        return;
    }
    if (w->star == 0) {
        result_note(answer,
                    "Two buttons at once in a chain: the one nearer to the pin is read, never a third.");
        return;
    }
    ladder first = {.w = w,
                    .stock = answer->stock,
                    .pull = answer->choices[0].part[0],
                    .buttons = (int)w->buttons,
                    .common = common_distance >= wanted};
    char pairs[160];
    if (best_values(&first) && confused_pairs(&first, pairs, sizeof pairs) > 0)
        result_note(answer,
                    "Two buttons at once in this star read as a third: %s. A chain has no such pairs.",
                    pairs);
    else
        result_note(answer, "In the first choice no two buttons read as a third (button 1, to ground "
                            "directly, is always read).");
}
