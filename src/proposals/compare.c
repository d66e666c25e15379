/* SPDX-License-Identifier: MIT */
/* Values that are asked about, with their figures in the circuit and every limit that they break. */
#include "proposals/compare.h"
#include "sizing/sizing.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/* --- as they are typed --- */

static double tolerance_among(const tl_stock *stock, double value, double otherwise, double *watts)
{
    for (int i = 0; stock != NULL && i < stock->count; i++) {
        if (stock->parts[i].value != value)
            continue;
        *watts = stock->parts[i].watts;
        return stock->parts[i].tolerance;
    }
    return otherwise;
}

/* As the job counts on where nothing is typed. */
static double capacitor_tolerance(const comparison *c)
{
    static const double usual = 0.1, at_a_pin = 0.2;
    const tl_any_requirement *w = c->requirement;
    if (w == NULL)
        return usual;
    return strcmp(c->kind->name, "filter") == 0      ? w->filter.capacitor_tolerance
           : strcmp(c->kind->name, "reservoir") == 0 ? w->reservoir.capacitor_tolerance
                                                     : at_a_pin;
}

/* One value as `470`, `4k7`, `100nF` or `47k ±1 %`. */
static bool read_value(const comparison *c, const char *text, tl_dimension dimension, tl_stock_part *part)
{
    char with_unit[90];
    tl_quantity q;
    tl_text_error ignored;
    snprintf(with_unit, sizeof with_unit, "%s ohm", text);
    if (!tl_quantity_read(text, dimension, &q, &ignored) &&
        (dimension != TL_DIM_OHM || !tl_quantity_read(with_unit, dimension, &q, &ignored)))
        return false;
    const bool ohms = dimension == TL_DIM_OHM;
    *part = (tl_stock_part){.value = q.nominal, .watts = INFINITY, .count = -1};
    part->tolerance = q.toleranced
                          ? (q.high - q.low) / (2 * q.nominal)
                          : tolerance_among(ohms ? c->resistors : c->capacitors, q.nominal,
                                            ohms ? c->tolerance : capacitor_tolerance(c), &part->watts);
    return q.nominal > 0 && part->tolerance < 1;
}

static bool read_values(const comparison *c, char *text, compared_values *values)
{
    char *at = text;
    values->parts = 0;
    for (bool last = false; !last;) {
        const size_t length = strcspn(at, "/");
        last = at[length] == '\0';
        at[length] = '\0';
        if (values->parts == c->kind->most || values->parts == TL_CHOICE_PARTS ||
            !read_value(c, at, c->kind->of_value[values->parts > 0], &values->part[values->parts]))
            return false;
        values->parts++;
        at += length + 1;
    }
    return values->parts >= c->kind->fewest;
}

int compare_read(const comparison *c, const char *text, compared_values values[COMPARED_MOST], char why[240])
{
    int count = 0;
    for (const char *at = text; *at != '\0'; count++) {
        const size_t length = strcspn(at, ",");
        char word[sizeof values->name];
        if (count == COMPARED_MOST) {
            snprintf(why, 240, "at most %d of them", COMPARED_MOST);
            return -1;
        }
        compared_values *v = &values[count];
        snprintf(v->name, sizeof v->name, "%.*s", (int)(length < sizeof word ? length : sizeof word - 1), at);
        snprintf(word, sizeof word, "%s", v->name);
        if (length >= sizeof word || !read_values(c, word, v)) {
            snprintf(why, 240, "expected values%s, such as %s, got '%.40s'",
                     c->kind->most > 1 ? " with / between those of one choice" : "", c->kind->compared,
                     v->name);
            return -1;
        }
        at += length + (at[length] == ',');
    }
    if (count == 0)
        snprintf(why, 240, "expected values, such as %s", c->kind->compared);
    return count > 0 ? count : -1;
}

const char *compare_value_text(const compared_values *values, int part, tl_dimension dimension, char text[64])
{
    const tl_stock stock = {(tl_stock_part *)values->part, values->parts};
    const tl_leg leg = dimension == TL_DIM_OHM ? leg_of(&stock, part) : capacitor_of(&stock, part);
    return dimension == TL_DIM_OHM ? tl_leg_plan_text(&leg, &stock, text)
                                   : tl_leg_write(&leg, NULL, dimension, text);
}

/* --- what they do --- */

static void add_reason(compared_row *row, const char *text)
{
    const size_t used = strlen(row->why);
    snprintf(row->why + used, sizeof row->why - used, "%s%s", used > 0 ? "; " : "", text);
}

static bool is_same_way(const tl_choice *a, const tl_choice *b)
{
    return a->way == b->way && a->parts == b->parts;
}

/* What a rule has against it, without the name of the circuit, which stands beside it. */
static const char *without_way(const tl_rejected *rejected)
{
    const char *way = rejected->choice.way;
    const size_t length = way != NULL ? strlen(way) : 0;
    return length > 0 && strncmp(rejected->why, way, length) == 0 && rejected->why[length] == ':'
               ? rejected->why + length + 2
               : rejected->why;
}

/* Every limit that it breaks; where it breaks none, the rule that it breaks. */
static void say_why(const tl_size_result *result, compared_row *row)
{
    char text[240];
    for (int i = 0; i < row->choice.figures; i++) {
        const tl_size_figure *f = &row->choice.figure[i];
        if (!figure_broken(f))
            continue;
        snprintf(text, sizeof text, "%s %s, limit %s", f->label, say_figure(f), say_limit(f));
        add_reason(row, text);
    }
    for (int i = 0; i < result->rejected_count && row->why[0] == '\0'; i++) {
        if (is_same_way(&result->rejected[i].choice, &row->choice))
            add_reason(row, without_way(&result->rejected[i]));
    }
}

/* The one acquisition that a multiplexer is compared at stands in its requirement; all else is its stock. */
static const void *requirement_with(const comparison *c, const compared_values *v, tl_any_requirement *own)
{
    if (c->kind->of_value[0] != TL_DIM_SECOND)
        return c->requirement;
    *own = *(const tl_any_requirement *)c->requirement;
    own->mux.offered = (tl_values){.of = {v->part[0].value}, .count = 1};
    own->mux.converter.acquisition = v->part[0].value;
    return own;
}

/* A wire is no part. */
static int bought_parts(const tl_choice *choice)
{
    int count = 0;
    for (int i = 0; i < choice->parts; i++)
        count += choice->part[i].nominal > 0;
    return count;
}

int compare_try(const comparison *c, const compared_values *v, compared_row *rows, int room)
{
    enum { WAYS_MOST = 12 };
    tl_any_requirement own;
    const bool seconds = c->kind->of_value[0] == TL_DIM_SECOND;
    const int ohms = c->kind->of_value[0] == TL_DIM_FARAD   ? 0
                     : c->kind->of_value[1] == TL_DIM_FARAD ? 1
                                                            : v->parts;
    const tl_stock resistors = {(tl_stock_part *)v->part, ohms},
                   capacitors = {(tl_stock_part *)v->part + ohms, v->parts - ohms};
    tl_size_result *result = tl_size_result_new(&resistors, WAYS_MOST);
    result->capacitors = &capacitors;
    result->compare = true;
    const tl_question question = {c->kind->name, requirement_with(c, v, &own), c->facts, c->drawer};
    c->kind->size(question.requirement, result);
    tl_question_ask(&question, result, WAYS_MOST);
    int count = 0;
    for (int i = 0; i < result->count && count < room; i++) {
        if (!seconds && bought_parts(&result->choices[i]) != v->parts)
            continue;
        rows[count] = (compared_row){v->name, result->choices[i], true, ""};
        say_why(result, &rows[count++]);
    }
    if (count == 0 && room > 0) {
        rows[count] = (compared_row){.name = v->name, .known = false};
        add_reason(&rows[count++], result->refusal[0] != '\0'   ? result->refusal
                                   : result->rejected_count > 0 ? result->rejected[0].why
                                                                : "no way takes these values");
    }
    tl_size_result_free(result);
    return count;
}

double compare_off_by(const tl_divider_requirement *with, const tl_choice *choice)
{
    const double nominal =
        with->source.high * choice->part[1].nominal / (choice->part[1].nominal + choice->part[0].nominal);
    return 100 * fmax(fabs(choice->figure[TL_DIVIDER_TAP_HIGHEST].value / nominal - 1),
                      fabs(choice->figure[TL_DIVIDER_TAP_LOWEST].value * with->source.high /
                               with->source.low / nominal -
                           1));
}
