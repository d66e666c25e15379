/* SPDX-License-Identifier: MIT */
/* Filling results: choices kept by score, notes, what is required exactly, and quantities in running text. */
#include "sizing/figures.h"
#include "sizing/sizing.h"
#include <math.h>
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

tl_size_result *tl_size_result_new(const tl_stock *stock, int room)
{
    tl_size_result *answer = tl_alloc(1, sizeof *answer);
    answer->stock = stock;
    answer->room = room;
    answer->choices = tl_alloc((size_t)room + RESULT_ALIKE, sizeof *answer->choices);
    return answer;
}

void tl_size_result_free(tl_size_result *answer)
{
    if (answer == NULL)
        return;
    free(answer->choices);
    free(answer);
}

void result_refuse(tl_size_result *answer, tl_size_status status, const char *format, ...)
{
    va_list arguments;
    va_start(arguments, format);
    vsnprintf(answer->refusal, sizeof answer->refusal, format, arguments);
    va_end(arguments);
    answer->status = status;
}

void result_note(tl_size_result *answer, const char *format, ...)
{
    va_list arguments;
    if (answer->note_count == TL_RESULT_NOTES)
        return;
    va_start(arguments, format);
    vsnprintf(answer->notes[answer->note_count], sizeof answer->notes[0], format, arguments);
    va_end(arguments);
    answer->note_count++;
}

void result_exact(tl_size_result *answer, const char *name, double value, tl_dimension dimension)
{
    if (answer->exact_count == TL_RESULT_EXACT || !isfinite(value))
        return;
    tl_size_exact *exact = &answer->exact[answer->exact_count++];
    *exact = (tl_size_exact){.value = value, .dimension = dimension};
    snprintf(exact->name, sizeof exact->name, "%s", name);
}

void result_bound(tl_size_result *answer, const char *name, double value, tl_dimension dimension)
{
    const int count = answer->exact_count;
    result_exact(answer, name, value, dimension);
    if (answer->exact_count > count)
        answer->exact[count].bound = true;
}

tl_size_window *result_window(tl_size_result *answer, const char *way, const char *part,
                              tl_dimension dimension)
{
    for (int i = 0; i < answer->window_count; i++) {
        tl_size_window *own = &answer->window[i];
        if (own->way == way && strcmp(own->part, part) == 0)
            return own;
    }
    if (answer->window_count == TL_RESULT_WINDOWS)
        return NULL;
    tl_size_window *window = &answer->window[answer->window_count++];
    *window = (tl_size_window){.way = way,
                               .part = part,
                               .dimension = dimension,
                               .least = NAN,
                               .most = NAN,
                               .offered_least = NAN,
                               .offered_most = NAN};
    return window;
}

void result_fits(tl_size_result *answer, const tl_choice *choice)
{
    for (int i = 0; i < choice->parts; i++) {
        tl_size_window *window =
            result_window(answer, choice->way, choice->part_name[i], choice->part_dimension[i]);
        if (window == NULL)
            return;
        window->offered_least = fmin(window->offered_least, choice->part[i].nominal);
        window->offered_most = fmax(window->offered_most, choice->part[i].nominal);
    }
}

bool choice_is_alike(const tl_choice *a, const tl_choice *b)
{
    bool near = a->parts > 0, same_times = a->parts > 1;
    if (a->way != b->way || a->parts != b->parts)
        return false;
    const double times = a->part[0].nominal / b->part[0].nominal;
    for (int i = 0; i < a->parts; i++) {
        const double ratio = a->part[i].nominal / b->part[i].nominal;
        near = near && ratio > 1 / 1.1 && ratio < 1.1;
        same_times = same_times && fabs(ratio / times - 1) < 1e-6;
    }
    const double decades = same_times ? log10(times) : 0.5;
    return near || fabs(decades - round(decades)) < 1e-6;
}

/* Choices are large, and most that come are dropped again: result_rank() sorts them once. Of two that are
 * nearly the same the better one stays, so that alternatives find room. */
static void keep_unsorted(tl_size_result *answer, const tl_choice *choice)
{
    int alike = 0;
    if (answer->count == answer->room + answer->spare &&
        choice->score <= answer->choices[answer->worst].score)
        return;
    while (alike < answer->count && !choice_is_alike(choice, &answer->choices[alike]))
        alike++;
    if (alike < answer->count && choice->score <= answer->choices[alike].score)
        return;
    if (alike < answer->count)
        answer->choices[alike] = *choice;
    else if (answer->count < answer->room + answer->spare)
        answer->choices[answer->count++] = *choice;
    else
        answer->choices[answer->worst] = *choice;
    answer->worst = 0;
    for (int i = 1; i < answer->count; i++) {
        if (answer->choices[i].score < answer->choices[answer->worst].score)
            answer->worst = i;
    }
}

void result_offer(tl_size_result *answer, const tl_choice *choice)
{
    int at = answer->count;
    if (answer->furthest.parts == 0 || choice->extreme > answer->furthest.extreme)
        answer->furthest = *choice;
    if (answer->spare > 0) {
        keep_unsorted(answer, choice);
        return;
    }
    while (at > 0 && choice->score > answer->choices[at - 1].score)
        at--;
    if (at >= answer->room)
        return;
    if (answer->count < answer->room)
        answer->count++;
    memmove(&answer->choices[at + 1], &answer->choices[at],
            (size_t)(answer->count - 1 - at) * sizeof *choice);
    answer->choices[at] = *choice;
}

tl_rejected *result_reject(tl_size_result *answer, const tl_choice *choice, const char *format, ...)
{
    va_list arguments;
    if (answer->rejected_count == TL_RESULT_REJECTED)
        return NULL;
    tl_rejected *refused = &answer->rejected[answer->rejected_count++];
    va_start(arguments, format);
    vsnprintf(refused->why, sizeof refused->why, format, arguments);
    va_end(arguments);
    refused->choice = choice != NULL ? *choice : (tl_choice){0};
    return refused;
}

void choice_part(tl_choice *choice, const char *name, tl_dimension dimension, const tl_leg *leg)
{
    if (choice->parts == TL_CHOICE_PARTS)
        return;
    choice->part_name[choice->parts] = name;
    choice->part_dimension[choice->parts] = dimension;
    choice->part[choice->parts++] = *leg;
}

void choice_figure(tl_choice *choice, tl_figure_id id, double value, double limit)
{
    const tl_figure_row *row = tl_figure_row_of(id);
    if (choice->figures < TL_CHOICE_FIGURES)
        choice->figure[choice->figures++] = (tl_size_figure){.id = id,
                                                             .name = row->name,
                                                             .label = row->label,
                                                             .value = value,
                                                             .dimension = row->dimension,
                                                             .extreme = row->extreme,
                                                             .limit = isinf(limit) ? (double)NAN : limit};
}

void choice_plan(tl_choice *choice, const char *format, ...)
{
    va_list arguments;
    va_start(arguments, format);
    vsnprintf(choice->plan, sizeof choice->plan, format, arguments);
    va_end(arguments);
}

void choice_note(tl_choice *choice, const char *format, ...)
{
    va_list arguments;
    va_start(arguments, format);
    vsnprintf(choice->note, sizeof choice->note, format, arguments);
    va_end(arguments);
}

/* Arithmetic noise must not break a limit that is just met. */
bool figure_broken(const tl_size_figure *figure)
{
    if (isnan(figure->limit) || isnan(figure->value))
        return false;
    const double slack = 1e-12 * fabs(figure->limit);
    return figure->extreme == TL_LOWEST ? figure->value < figure->limit - slack
                                        : figure->value > figure->limit + slack;
}

bool choice_fits(const tl_choice *choice)
{
    for (int i = 0; i < choice->figures; i++) {
        if (figure_broken(&choice->figure[i]))
            return false;
    }
    return true;
}

bool result_takes(const tl_size_result *answer, const tl_choice *choice)
{
    return answer->compare || choice_fits(choice);
}

const tl_size_figure *tl_choice_tightest(const tl_choice *choice, double *used)
{
    const tl_size_figure *tightest = NULL;
    *used = 0;
    for (int i = 0; i < choice->figures; i++) {
        const tl_size_figure *f = &choice->figure[i];
        if (isnan(f->limit) || isnan(f->value) || f->limit <= 0 || f->value <= 0)
            continue;
        const double now = f->extreme == TL_LOWEST ? f->limit / f->value : f->value / f->limit;
        if (now > *used) {
            *used = now;
            tightest = f;
        }
    }
    return tightest;
}

const char *say_rounded(double value, tl_dimension dimension, tl_rounding rounding)
{
    static _Thread_local char texts[8][32];
    static _Thread_local int next;
    return tl_quantity_write(value, dimension, rounding, texts[next++ % 8]);
}

const char *say(double value, tl_dimension dimension)
{
    return say_rounded(value, dimension, TL_ROUND_NEAREST);
}

const char *say_way(const char *way)
{
    static const char *const names[][2] = {{"none needed", "direct connection"},
                                           {"as it is", "direct connection"},
                                           {"diode and pull", "diode and pull-up"},
                                           {"open drain and pull", "open drain and pull-up"},
                                           {"N-channel transistor a line", "N-channel MOSFET, one per line"},
                                           {"N-channel transistor", "N-channel MOSFET"}};
    for (size_t i = 0; i < sizeof names / sizeof names[0]; i++) {
        if (strcmp(way, names[i][0]) == 0)
            return names[i][1];
    }
    return way;
}

const char *say_part(double value, tl_dimension dimension)
{
    static _Thread_local char texts[8][32];
    static _Thread_local int next;
    return tl_part_write(value, dimension, texts[next++ % 8]);
}

const char *say_figure(const tl_size_figure *f)
{
    static const tl_rounding roundings[] = {
        [TL_HIGHEST] = TL_ROUND_UP, [TL_LOWEST] = TL_ROUND_DOWN, [TL_TYPICAL] = TL_ROUND_NEAREST};
    return say_rounded(f->value, f->dimension, roundings[f->extreme]);
}

const char *say_limit(const tl_size_figure *f)
{
    return say_rounded(f->limit, f->dimension, f->extreme == TL_LOWEST ? TL_ROUND_UP : TL_ROUND_DOWN);
}

double parallel_of(double a, double b)
{
    if (a == 0 || b == 0)
        return 0;
    return isinf(b) ? a : isinf(a) ? b : a * b / (a + b);
}

bool is_said(double value)
{
    return !isnan(value);
}

bool is_range(const tl_quantity *quantity)
{
    return is_said(quantity->nominal) && quantity->low <= quantity->high && isfinite(quantity->low) &&
           isfinite(quantity->high);
}

double or_else(double value, double otherwise)
{
    return is_said(value) ? value : otherwise;
}

tl_stock offered_capacitors(const tl_size_result *answer, double most, double tolerance)
{
    return answer->capacitors != NULL ? *answer->capacitors
                                      : tl_stock_series(TL_E6, 100e-12, most, tolerance);
}

void release_capacitors(const tl_size_result *answer, tl_stock *capacitors)
{
    if (answer->capacitors == NULL)
        tl_stock_free(capacitors);
}

tl_leg capacitor_of(const tl_stock *capacitors, int index)
{
    const double value = capacitors->parts[index].value, tolerance = capacitors->parts[index].tolerance;
    return (tl_leg){value * (1 - tolerance), value, value * (1 + tolerance), INFINITY, -1, -1, 0};
}

double tl_converter_longest_ohms(const tl_size_converter *c)
{
    const double tau = c->acquisition / log(ldexp(1, (int)or_else(c->bits, 12) + 1));
    return (tau - c->switch_ohms * c->sample_farads) / (c->sample_farads + c->pin_farads);
}
