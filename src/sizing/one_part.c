/* SPDX-License-Identifier: MIT */
/* Jobs of one part: every value on offer is tried, and where a part begins or stops to fit is found by
 * asking the same arithmetic, so that a bound and what is offered cannot contradict each other. */
#include "sizing/figures.h"
#include "sizing/sizing.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/* The one figure that is broken, or -1 where none or several are. */
static int only_broken(const tl_choice *choice)
{
    int broken = -1;
    for (int i = 0; i < choice->figures; i++) {
        if (!figure_broken(&choice->figure[i]))
            continue;
        if (broken >= 0)
            return -1;
        broken = i;
    }
    return broken;
}

static double excess(const tl_size_figure *figure)
{
    return fabs(figure->value - figure->limit);
}

/* Of values that break a limit: the nearest that breaks one alone, for each figure, and the nearest of all.
 */
typedef struct {
    tl_choice nearest[TL_CHOICE_FIGURES], any;
    bool missed[TL_CHOICE_FIGURES];
    double least_excess;
} near_misses;

static void keep_miss(near_misses *m, const tl_choice *choice)
{
    const int broken = only_broken(choice);
    if (broken >= 0 && (!m->missed[broken] ||
                        excess(&choice->figure[broken]) < excess(&m->nearest[broken].figure[broken]))) {
        m->nearest[broken] = *choice;
        m->missed[broken] = true;
    }
    double sum = 0; /* of relative excesses, for when nothing breaks one figure alone */
    for (int f = 0; f < choice->figures; f++) {
        if (figure_broken(&choice->figure[f]))
            sum += excess(&choice->figure[f]) / (fabs(choice->figure[f].limit) + 1e-300);
    }
    if (sum < m->least_excess) {
        m->least_excess = sum;
        m->any = *choice;
    }
}

static void tell_misses(near_misses *m, tl_size_result *answer)
{
    for (int f = 0; f < TL_CHOICE_FIGURES; f++) {
        const tl_size_figure *figure = &m->nearest[f].figure[f];
        if (m->missed[f])
            result_reject(answer, &m->nearest[f], "%s: %s, limit %s", figure->label, say_figure(figure),
                          say_limit(figure));
    }
    if (answer->count > 0)
        return;
    if (answer->rejected_count == 0 && m->any.parts > 0)
        result_reject(answer, &m->any, "exceeds more than one limit; the nearest value");
    result_refuse(answer, TL_SIZE_IMPOSSIBLE, "none of the %d values meets all limits", answer->stock->count);
}

/* --- where a part begins and stops to fit --- */

static bool is_broken_at(const one_part_job *job, const void *requirement, double value, int figure)
{
    const tl_leg leg = leg_exact(value);
    tl_choice choice = {0};
    job->work_out(requirement, &leg, &choice);
    return figure_broken(&choice.figure[figure]);
}

/* Between a value that breaks a figure and one that does not: the last that does not, by halving. */
static double edge_between(const one_part_job *job, const void *requirement, int figure, double broken,
                           double whole)
{
    while (fabs(whole / broken - 1) > 1e-12) {
        const double middle = sqrt(broken * whole);
        if (middle == broken || middle == whole)
            break;
        if (is_broken_at(job, requirement, middle, figure))
            broken = middle;
        else
            whole = middle;
    }
    return whole;
}

static void name_bound(const one_part_job *job, const tl_size_figure *figure, bool least, char name[48])
{
    for (const bound_name *b = job->bounds; b != NULL && b->name != NULL; b++) {
        if (b->figure == figure->id) {
            snprintf(name, 48, "%s", b->name);
            return;
        }
    }
    snprintf(name, 48, "%s for the %s", least ? "smallest" : "largest", figure->name);
}

void find_window(const one_part_job *job, const void *requirement, tl_size_result *answer)
{
    const bool farads = job->dimension == TL_DIM_FARAD;
    const double low = farads ? 1e-18 : 1e-6, high = farads ? 1e3 : 1e12;
    const tl_leg least_leg = leg_exact(low), most_leg = leg_exact(high);
    tl_choice at_low = {0}, at_high = {0};
    job->work_out(requirement, &least_leg, &at_low);
    job->work_out(requirement, &most_leg, &at_high);
    tl_size_window *window = result_window(answer, at_low.way, at_low.part_name[0], job->dimension);
    for (int f = 0; f < at_low.figures; f++) {
        const bool least = figure_broken(&at_low.figure[f]);
        char name[48];
        if (least == figure_broken(&at_high.figure[f]))
            continue;
        const double edge = edge_between(job, requirement, f, least ? low : high, least ? high : low);
        name_bound(job, &at_low.figure[f], least, name);
        if (name[0] != '\0')
            result_bound(answer, name, edge, job->dimension);
        if (window != NULL && least && !(edge <= window->least)) {
            window->least = edge;
            window->least_for = at_low.figure[f].name;
            window->least_label = at_low.figure[f].label;
        } else if (window != NULL && !least && !(edge >= window->most)) {
            window->most = edge;
            window->most_for = at_low.figure[f].name;
            window->most_label = at_low.figure[f].label;
        }
    }
}

/* --- the values on offer --- */

void try_every_value(const one_part_job *job, const void *requirement, tl_size_result *answer)
{
    near_misses misses = {.least_excess = INFINITY};
    practice_window window = {INFINITY, 0};
    bool *fits = tl_alloc((size_t)answer->stock->count, sizeof *fits);
    result_keep_more(answer);
    find_window(job, requirement, answer);
    for (int i = 0; i < answer->stock->count; i++) {
        const tl_leg leg = leg_of(answer->stock, i);
        tl_choice choice = {0};
        job->work_out(requirement, &leg, &choice);
        answer->tried++;
        fits[i] = result_takes(answer, &choice);
        if (fits[i]) {
            answer->fitting++;
            window = (practice_window){fmin(window.least, leg.nominal), fmax(window.most, leg.nominal)};
        } else {
            keep_miss(&misses, &choice);
        }
    }
    for (int i = 0; i < answer->stock->count; i++) {
        const tl_leg leg = leg_of(answer->stock, i);
        tl_choice choice = {0};
        if (!fits[i])
            continue;
        job->work_out(requirement, &leg, &choice);
        result_fits(answer, &choice);
        if (job->weigh != NULL)
            job->weigh(requirement, &window, &choice);
        practice_common(&choice, answer->stock);
        result_score(answer, &choice);
        result_offer(answer, &choice);
    }
    free(fits);
    tell_misses(&misses, answer);
    result_rank(answer);
}
