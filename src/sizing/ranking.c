/* SPDX-License-Identifier: MIT */
/* The order of choices: by good practice, or by an extreme; no two that are nearly the same; and why the
 * first comes first. */
#include "sizing/sizing.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

void result_score(const tl_size_result *answer, tl_choice *choice)
{
    static const double tie = 0.002; /* costs so close weigh the same: then the larger ohms come first */
    switch (answer->order) {
    case TL_BY_PRACTICE:
        choice->score = -floor(choice->cost / tie + 0.5) + 1e-9 * log10(choice->part[0].nominal + 1e-15);
        break;
    case TL_BY_LEAST:
        choice->score = -choice->part[0].nominal;
        break;
    case TL_BY_LARGEST:
        choice->score = choice->part[0].nominal;
        break;
    case TL_BY_EXTREME:
        choice->score = choice->extreme;
        break;
    }
}

void result_keep_more(tl_size_result *answer)
{
    answer->spare = answer->order == TL_BY_PRACTICE ? RESULT_ALIKE : 0;
}

/* --- why the first comes first --- */

static void write_leg(FILE *to, const tl_size_result *answer, const tl_choice *choice, int part)
{
    const tl_leg *leg = &choice->part[part];
    if (leg->second < 0) {
        fputs(say_part(leg->nominal, choice->part_dimension[part]), to);
        return;
    }
    fprintf(to, "%s %s %s", say_part(answer->stock->parts[leg->first].value, TL_DIM_OHM),
            leg->join == '+' ? "+" : "||", say_part(answer->stock->parts[leg->second].value, TL_DIM_OHM));
}

static void write_parts(FILE *to, const tl_size_result *answer, const tl_choice *choice)
{
    if (choice->parts > 2) { /* a ladder: its pull says which */
        fprintf(to, "%s ", choice->part_name[0]);
        write_leg(to, answer, choice, 0);
        return;
    }
    for (int i = 0; i < choice->parts; i++) {
        fputs(i == 0 ? "" : strcmp(choice->part_name[i], "lower") == 0 ? " over " : " with ", to);
        write_leg(to, answer, choice, i);
    }
}

static const tl_cost *same_cost(const tl_choice *choice, const tl_cost *cost)
{
    for (int i = 0; i < choice->costs; i++) {
        if (choice->cost_of[i].name == cost->name)
            return &choice->cost_of[i];
    }
    return NULL;
}

/* `95 % of the voltage limit`; # in the phrase is the figure. */
static void write_phrase(FILE *to, const tl_cost *cost)
{
    const char *number = strchr(cost->phrase, '#');
    char text[40];
    if (cost->dimension == TL_DIM_PERCENT)
        snprintf(text, sizeof text, fabs(cost->x - 1) < 0.05 ? "%.1f %%" : "%.0f %%", 100 * cost->x);
    else
        snprintf(text, sizeof text, "%s", say(cost->x, cost->dimension));
    fprintf(to, "%.*s%s%s", (int)(number - cost->phrase), cost->phrase, text, number + 1);
}

enum { TOLD_COSTS = 2 };

/* The costs by which another choice is dearer, dearest first. */
static int dearer_by(const tl_choice *other, const tl_choice *pick, const tl_cost *by[TOLD_COSTS])
{
    double more[TOLD_COSTS] = {0};
    int count = 0;
    for (int i = 0; i < other->costs; i++) {
        const tl_cost *own = same_cost(pick, &other->cost_of[i]);
        double now = other->cost_of[i].cost - (own != NULL ? own->cost : 0);
        const tl_cost *cost = &other->cost_of[i];
        for (int k = 0; k < TOLD_COSTS && now > 0; k++) {
            if (now <= more[k])
                continue;
            const double less = more[k];
            const tl_cost *lesser = by[k];
            more[k] = now;
            by[k] = cost;
            count = k < count ? count : k + 1;
            now = less;
            cost = lesser;
        }
    }
    return count;
}

static void write_figures(FILE *to, const tl_choice *choice, const tl_cost *const *by, int count)
{
    int written = 0;
    for (int i = 0; i < count; i++) {
        const tl_cost *cost = same_cost(choice, by[i]);
        if (cost == NULL || cost->phrase[0] == '\0' || (i > 0 && strcmp(by[i]->phrase, by[0]->phrase) == 0))
            continue;
        fputs(written++ == 0 ? "" : ", ", to);
        write_phrase(to, cost);
    }
}

/* The first against another one, which practice puts behind it. */
static void write_why(FILE *to, const tl_size_result *answer, const tl_choice *other)
{
    const tl_choice *pick = &answer->choices[0];
    const tl_cost *by[TOLD_COSTS] = {NULL, NULL};
    const int count = dearer_by(other, pick, by);
    write_parts(to, answer, pick);
    if (count == 0) {
        fputs(".", to);
    } else if (by[0]->phrase[0] != '\0') {
        fputs(": ", to);
        write_figures(to, pick, by, count);
        fputs(". ", to);
        write_parts(to, answer, other);
        fputs(" would give ", to);
        write_figures(to, other, by, count);
        fprintf(to, ". %s", by[0]->why);
    } else {
        fputs(" rather than ", to);
        write_parts(to, answer, other);
        fprintf(to, ". %s", by[0]->why);
    }
}

static void tell_why(tl_size_result *answer, const tl_choice *other)
{
    static const char *const orders[] = {[TL_BY_PRACTICE] = "",
                                         [TL_BY_LEAST] = ", the least value that fits",
                                         [TL_BY_LARGEST] = ", the largest value that fits",
                                         [TL_BY_EXTREME] = ", the first in the order that you chose"};
    const tl_choice *pick = &answer->choices[0];
    char *text = NULL;
    size_t size = 0;
    answer->reason[0] = '\0';
    if (answer->count == 0)
        return;
    FILE *to = tl_text_begin(&text, &size);
    if (pick->way != NULL && (other == NULL || other->way != pick->way)) {
        fprintf(to, "%s%s", say_way(pick->way), pick->parts > 0 ? ", " : "");
        write_parts(to, answer, pick);
        fputs(", the simplest circuit that meets every limit.", to);
    } else if (other != NULL && answer->order == TL_BY_PRACTICE) {
        write_why(to, answer, other);
    } else {
        write_parts(to, answer, pick);
        fprintf(to, "%s.",
                answer->fitting == 1 ? ", the only value on offer that fits" : orders[answer->order]);
    }
    tl_text_end(to, &text);
    snprintf(answer->reason, sizeof answer->reason, "%s", text);
    free(text);
}

void result_tell_why(tl_size_result *answer)
{
    tell_why(answer, answer->count > 1 ? &answer->choices[1] : NULL);
}

/* A remark for what is far from good practice; where even the first uses up a hard limit, that is said. */
static void note_costs(tl_size_result *answer)
{
    static const double far = 1, tight = 0.02;
    for (int i = 0; i < answer->count; i++) {
        tl_choice *c = &answer->choices[i];
        const tl_cost *dearest = NULL;
        for (int k = 0; k < c->costs; k++) {
            if (dearest == NULL || c->cost_of[k].cost > dearest->cost)
                dearest = &c->cost_of[k];
        }
        if (c->cost <= far || dearest == NULL)
            continue;
        const size_t length = strlen(c->note);
        snprintf(c->note + length, sizeof c->note - length, "%sBeyond good practice: %s.",
                 length > 0 ? " " : "", dearest->name);
    }
    for (int k = 0; answer->count > 0 && k < answer->choices[0].costs; k++) {
        const tl_cost *cost = &answer->choices[0].cost_of[k];
        if (!cost->hard || cost->cost < tight)
            continue;
        char *text = NULL;
        size_t size = 0;
        FILE *to = tl_text_begin(&text, &size);
        fputs("Tight: ", to);
        write_phrase(to, cost);
        tl_text_end(to, &text);
        result_note(answer, "%s; good practice is %.0f %% at most. %s", text, 100 * cost->at, cost->why);
        free(text);
        return;
    }
}

/* Of those that have not been looked at; the first of equals; -1: none is left. */
static int next_best(const tl_size_result *answer)
{
    int best = -1;
    for (int i = 0; i < answer->count; i++) {
        const tl_choice *c = &answer->choices[i];
        if (c->parts >= 0 && (best < 0 || c->score > answer->choices[best].score))
            best = i;
    }
    return best;
}

void result_rank(tl_size_result *answer)
{
    int kept = 0;
    answer->spare = 0;
    if (answer->order != TL_BY_PRACTICE || answer->count == 0) {
        result_tell_why(answer);
        return;
    }
    tl_choice *ranked = tl_alloc((size_t)answer->room + RESULT_ALIKE, sizeof *ranked);
    for (int i = next_best(answer); i >= 0 && kept < answer->room; i = next_best(answer)) {
        bool alike = false;
        for (int k = 0; k < kept && !alike; k++)
            alike = choice_is_alike(&answer->choices[i], &ranked[k]);
        if (!alike)
            ranked[kept++] = answer->choices[i];
        answer->choices[i].parts = -1; /* it has been looked at */
    }
    free(answer->choices);
    answer->choices = ranked;
    answer->count = kept;
    if (answer->furthest.parts > 0 && !choice_is_alike(&answer->furthest, &answer->choices[0]))
        tell_why(answer, &answer->furthest);
    else
        result_tell_why(answer);
    note_costs(answer);
}
