/* SPDX-License-Identifier: MIT */
/* What the sizings share: filling answers, and the one engine that tries every value of a single part. */
#ifndef TL_SIZING_H
#define TL_SIZING_H

#include "base/memory.h"
#include "sizing/practice.h"
#include "tinyladder/design/sizing.h"
#include <math.h>

void result_refuse(tl_size_result *answer, tl_size_status status, const char *format, ...)
    __attribute__((format(printf, 3, 4)));
void result_note(tl_size_result *answer, const char *format, ...) __attribute__((format(printf, 2, 3)));
enum { RESULT_ALIKE = 20 }; /* kept in addition, until those that are nearly the same are thinned out */

/* What fits at one place of a way; NULL where there is no room for more. */
tl_size_window *result_window(tl_size_result *answer, const char *way, const char *part,
                              tl_dimension dimension);
/* Widens the windows of what is on offer by a choice that meets every limit. */
void result_fits(tl_size_result *answer, const tl_choice *choice);
/* A figure that is required exactly; left out where it is none. */
void result_exact(tl_size_result *answer, const char *name, double value, tl_dimension dimension);
/* The same of a part, that must be so large at least or so small at most. */
void result_bound(tl_size_result *answer, const char *name, double value, tl_dimension dimension);
/* Keeps the choice if it is among the best; equal scores stay in the order they came. */
void result_offer(tl_size_result *answer, const tl_choice *choice);
tl_rejected *result_reject(tl_size_result *answer, const tl_choice *choice, const char *format, ...)
    __attribute__((format(printf, 3, 4)));

void choice_part(tl_choice *choice, const char *name, tl_dimension dimension, const tl_leg *leg);
void choice_figure(tl_choice *choice, tl_figure_id id, double value, double limit);
void choice_plan(tl_choice *choice, const char *format, ...) __attribute__((format(printf, 2, 3)));
void choice_note(tl_choice *choice, const char *format, ...) __attribute__((format(printf, 2, 3)));
bool figure_broken(const tl_size_figure *figure);
bool choice_fits(const tl_choice *choice);
/* Whether it is offered: it fits, or it is what was asked about. */
bool result_takes(const tl_size_result *answer, const tl_choice *choice);

/* How a ladder is read: the codes of no button, and of each, from lowest to highest. */
void ladder_note(tl_choice *choice, double (*codes)[2], int buttons);

tl_leg leg_of(const tl_stock *stock, int index);
tl_leg leg_exact(double value);

/* The capacitors on offer: the answer's own, or E6 up to `most`. Free them with release_capacitors(). */
tl_stock offered_capacitors(const tl_size_result *answer, double most, double tolerance);
void release_capacitors(const tl_size_result *answer, tl_stock *capacitors);
tl_leg capacitor_of(const tl_stock *capacitors, int index);

static const tl_size_converter unknown_converter = {
    .reference = NAN, .bits = 12, .sample_farads = NAN, .switch_ohms = NAN, .acquisition = NAN};

/* A quantity in running text; a few of them can stand in one call. */
const char *say(double value, tl_dimension dimension);
/* The same, never beyond a bound; a limit is rounded inward. */
const char *say_rounded(double value, tl_dimension dimension, tl_rounding rounding);
/* A circuit as a data sheet calls it; its name in JSON (tl_choice.way) stays what it is. */
const char *say_way(const char *way);
/* A part's value as it is bought: `4.7 kΩ`. */
const char *say_part(double value, tl_dimension dimension);
/* A figure's value, rounded so that it stays a bound; in the same way a limit that it is compared with is
 * never made laxer. */
const char *say_figure(const tl_size_figure *figure);
const char *say_limit(const tl_size_figure *figure);

/*
 * Tries every value of the stock in one place of a circuit: work_out() makes the choice, with its figures,
 * limits and score. Those that fit are offered; for every figure the nearest value that breaks this one alone
 * is rejected.
 */
typedef void work_out_one(const void *requirement, const tl_leg *leg, tl_choice *choice);
/* What good practice has against a choice of this job, in addition to what every choice has; NULL for
 * nothing. */
typedef void weigh_one(const void *requirement, const practice_window *window, tl_choice *choice);
typedef struct {
    tl_figure_id figure;
    const char *name; /* empty: it says the same as another one */
} bound_name;
typedef struct {
    tl_dimension dimension;
    work_out_one *work_out;
    weigh_one *weigh;         /* or NULL */
    const bound_name *bounds; /* what the bounds by some figures are called; ended by NULL, or NULL */
} one_part_job;
/* Where an exact part begins and stops to meet each limit: as exact figures, and as the part's window. */
void find_window(const one_part_job *job, const void *requirement, tl_size_result *answer);
void try_every_value(const one_part_job *job, const void *requirement, tl_size_result *answer);
/* The score by the order that was asked for; the job's own extreme stands in the choice, its costs too. */
void result_score(const tl_size_result *answer, tl_choice *choice);
/* Keeps some more while they are offered, so that result_rank() can thin them out. */
void result_keep_more(tl_size_result *answer);
/* The same ratio a decade away, or every part within 10 %: no alternative. */
bool choice_is_alike(const tl_choice *a, const tl_choice *b);
/* Once all are offered: no two that are nearly the same, and why the first comes first. */
void result_rank(tl_size_result *answer);
/* Why the first comes before the second; for when the first is another one now. */
void result_tell_why(tl_size_result *answer);

double parallel_of(double a, double b);
bool is_said(double value);
bool is_range(const tl_quantity *quantity);     /* said, and low <= high */
double or_else(double value, double otherwise); /* value where it was said */

#endif
