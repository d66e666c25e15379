/* SPDX-License-Identifier: MIT */
/* What `trim` found: a table in volts and in the signal's own unit, or JSON, and the line for the plan. */
#include "printing/tables.h"
#include "reading/trim.h"
#include <math.h>
#include <string.h>

static double plain_of(const trimming *t, double count)
{
    double volts = NAN;
    (void)tl_trim_plain(t->circuit, t->signal, count, t->o->at_pin, &volts);
    return volts;
}

/* The volts that the trim makes of a pair's count. */
static double trimmed_of(const trimming *t, int i)
{
    return t->o->table ? t->pairs[i].volts : t->line.offset + t->line.gain * plain_of(t, t->pairs[i].count);
}

/* `{meter: handheld, points: [20 counts: 0.05 V, ..]}` */
void trim_write_value(const trimming *t, char *text, size_t size)
{
    size_t at = (size_t)snprintf(text, size, "{%s%s%s%spoints: [", t->meter != NULL ? "meter: " : "",
                                 t->meter != NULL ? t->meter->name : "", t->meter != NULL ? ", " : "",
                                 t->o->at_pin ? "of: pin, " : "");
    const int points = t->o->table ? t->count : 2;
    for (int i = 0; i < points && at < size; i++) {
        const int which = t->o->table ? i : i == 0 ? 0 : t->count - 1;
        at += (size_t)snprintf(text + at, size - at, "%s%.6g counts: %.6g V", i > 0 ? ", " : "",
                               t->pairs[which].count, trimmed_of(t, which));
    }
    if (at < size)
        snprintf(text + at, size - at, "]}");
}

/* The signal's own unit, where its reading makes something else of the volts; or NULL. */
static const char *own_unit(const trimming *t)
{
    const char *unit = tl_circuit_plan(t->circuit)->signals[t->signal].reading.unit;
    return t->o->at_pin || unit[0] == '\0' || strcmp(unit, "V") == 0 ? NULL : unit;
}

static double in_own_unit(const trimming *t, double volts)
{
    return tl_plan_shown_of(&tl_circuit_plan(t->circuit)->signals[t->signal], volts);
}

/* What is but the last bits of a sum is nothing. */
static double cleared(double off, double one_end, double other_end)
{
    return fabs(off) > 1e-9 * fabs(one_end - other_end) ? off : 0;
}

/* What is off, in volts. */
static double cleared_volts(const trimming *t, double off)
{
    return cleared(off, t->pairs[0].volts, t->pairs[t->count - 1].volts);
}

/* What is off, in the signal's own unit. */
static double off_by(const trimming *t, double stated, double volts)
{
    return cleared(in_own_unit(t, stated) - in_own_unit(t, volts), in_own_unit(t, t->pairs[0].volts),
                   in_own_unit(t, t->pairs[t->count - 1].volts));
}

/* Decimals with which a tenth of a count shows. */
static int decimals_of_counts(const trimming *t, bool own)
{
    const double from = plain_of(t, t->pairs[0].count), to = plain_of(t, t->pairs[0].count + 1);
    const double step = own ? fabs(in_own_unit(t, to) - in_own_unit(t, from)) : fabs(to - from);
    const int decimals = step > 0 && isfinite(step) ? (int)ceil(1 - log10(step)) : 0;
    return decimals < 0 ? 0 : decimals > 9 ? 9 : decimals;
}

/* The pairs in volts, or in the signal's own unit; the wild one is marked. */
static void print_pairs(const trimming *t, const char *unit)
{
    const bool wild = t->wild >= 0, own = unit != NULL;
    const int decimals = decimals_of_counts(t, own);
    table rows;
    table_begin(&rows, 5 + wild, ">>>>><");
    table_cell(&rows, "count");
    for (int i = 0; i < 4; i++) {
        static const char *const heads[] = {"meter", "plan", "difference", "after trim"};
        table_cell(&rows, "%s, %s", heads[i], own ? unit : "V");
    }
    if (wild)
        table_cell(&rows, "%s", "");
    for (int i = 0; i < t->count; i++) {
        const double volts = t->pairs[i].volts, plain = plain_of(t, t->pairs[i].count),
                     left = t->o->table ? 0 : cleared_volts(t, t->line.residual[i]);
        table_cell(&rows, "%.6g", t->pairs[i].count);
        table_cell(&rows, "%.*f", decimals, own ? in_own_unit(t, volts) : volts);
        table_cell(&rows, "%.*f", decimals, own ? in_own_unit(t, plain) : plain);
        table_cell(&rows, "%+.*f", decimals, own ? off_by(t, volts, plain) : volts - plain);
        table_cell(&rows, "%+.*f", decimals, own ? off_by(t, volts, trimmed_of(t, i)) : left);
        if (wild)
            table_cell(&rows, "%s", i == t->wild ? "wild" : "");
    }
    table_end(&rows, stdout, "  ");
}

/* What is to be trimmed, as far as the pairs tell. */
static void print_line(const trimming *t)
{
    if (t->o->table)
        return;
    if (t->offset_alone)
        printf("Offset %+.4g V; remaining error at most %.2g V.\n", t->line.offset,
               cleared_volts(t, t->line.worst));
    else
        printf("Offset %+.4g V, gain %.6g (%+.3g %%); remaining error at most %.2g V.\n", t->line.offset,
               t->line.gain, 100 * (t->line.gain - 1), cleared_volts(t, t->line.worst));
}

/* The command line that finds the cause. */
static void print_question(const trimming *t)
{
    const tl_plan *plan = tl_circuit_plan(t->circuit);
    printf("To find the cause: tinyladder explain %s %s --saw '", plan->path, plan->signals[t->signal].name);
    for (int i = 0; i < t->count; i++)
        printf("%s%.0f", i > 0 ? ", " : "", t->pairs[i].count);
    printf("' --source '");
    for (int i = 0; i < t->count; i++)
        printf("%s%.6g V", i > 0 ? ", " : "", t->pairs[i].volts);
    puts("'");
}

/* The wild one, and what to do with it. */
static void print_wild(const trimming *t)
{
    const tl_trim_pair *pair = &t->pairs[t->wild];
    printf(
        "%sThe pair %.6g=%.6gV is wild: %.3g V from the line through the others, which are within %.2g V of "
        "it.%s\nMeasure it again, or leave it out: --leave-out %.6g\n",
        ink_on(stdout, INK_ERROR), pair->count, pair->volts, fabs(t->line.residual[t->wild]), t->line.worst,
        ink_off(stdout), pair->count);
    if (own_unit(t) == NULL && !t->o->at_pin)
        print_question(t);
}

static void print_verdict(const trimming *t)
{
    const tl_trim_verdict *v = &t->verdict;
    const char *between = "";
    printf("\nTolerances explain up to %.3g V (coverage 2; all limits added: %.3g V):\n  ", v->expanded,
           v->most);
    for (int i = 0; i < TL_TRIM_PARTS; i++) {
        if (v->share[i] < 0.005)
            continue;
        printf("%s%s %.0f %%", between, tl_trim_part_name((tl_trim_part)i), 100 * v->share[i]);
        between = ", ";
    }
    printf("\n%s%+.3g V %s%s\n", ink_on(stdout, v->explained ? INK_STRONG : INK_ERROR), v->deviation,
           v->explained ? t->nothing_to_trim ? "is explained." : "is explained: trim it."
                        : "is more than that: look for a fault before you trim.",
           ink_off(stdout));
    if (!v->explained && own_unit(t) == NULL && !t->o->at_pin)
        print_question(t);
}

void trim_print(const trimming *t, const char *value)
{
    const bool wild = t->wild >= 0;
    print_pairs(t, NULL);
    if (own_unit(t) != NULL) {
        putchar('\n');
        print_pairs(t, own_unit(t));
    }
    putchar('\n');
    if (wild) {
        print_wild(t);
        return;
    }
    print_line(t);
    if (t->count == 2 && !t->offset_alone)
        printf("Two pairs always fit; measure a third one to see the remaining error.\n");
    printf("Uncertainty of the gain: %.2g %%, of which %.2g %% from the digits of the meter, the rest from "
           "one count.\n",
           100 * t->gain_unsure, 100 * t->gain_by_digits);
    if (t->offset_alone)
        printf("The gain error is not larger than that, so only the offset is corrected.\n");
    print_verdict(t);
    if (t->nothing_to_trim)
        printf("The offset is within the accuracy of the meter: no trim is needed.\n");
    else
        printf("Counts below %.6g or above %.6g are extrapolated.\n\n  trim: %s\n", t->pairs[0].count,
               t->pairs[t->count - 1].count, value);
}

void trim_print_json(const trimming *t, const char *value)
{
    const tl_trim_verdict *v = &t->verdict;
    json_t *list = json_array();
    for (int i = 0; i < t->count; i++)
        json_array_append_new(
            list, json_pack("{s:f,s:f,s:f,s:o,s:f}", "count", t->pairs[i].count, "meter_v", t->pairs[i].volts,
                            "meter_limit_v", tl_meter_limit(t->meter, t->pairs[i].volts), "plan_v",
                            json_number(plain_of(t, t->pairs[i].count)), "residual_v", t->line.residual[i]));
    for (int i = 0; own_unit(t) != NULL && i < t->count; i++) {
        const double stated = t->pairs[i].volts, plain = plain_of(t, t->pairs[i].count);
        json_t *pair = json_array_get(list, (size_t)i);
        json_object_set_new(pair, "unit", json_string(own_unit(t)));
        json_object_set_new(pair, "stated", json_number(in_own_unit(t, stated)));
        json_object_set_new(pair, "plan", json_number(in_own_unit(t, plain)));
        json_object_set_new(pair, "off", json_number(off_by(t, stated, trimmed_of(t, i))));
    }
    json_t *verdict =
        json_pack("{s:f,s:f,s:f,s:f,s:b}", "deviation_v", v->deviation, "explained_v", v->expanded,
                  "straight_sum_v", v->straight, "all_added_v", v->most, "explained", v->explained);
    for (int i = 0; i < TL_TRIM_PARTS; i++) {
        char key[40];
        snprintf(key, sizeof key, "share_%s", tl_trim_part_name((tl_trim_part)i));
        json_object_set_new(verdict, key, json_real(v->share[i]));
    }
    json_t *wild = t->wild >= 0 ? json_real(t->pairs[t->wild].count) : json_null();
    json_print(json_pack("{s:o,s:f,s:f,s:f,s:f,s:o,s:o,s:b,s:b,s:o}", "pairs", list, "offset_v",
                         t->line.offset, "gain", t->line.gain, "gain_unsure", t->gain_unsure,
                         "gain_unsure_by_digits", t->gain_by_digits, "wild", wild, "verdict", verdict,
                         "offset_alone", t->offset_alone, "nothing_to_trim", t->nothing_to_trim, "trim",
                         t->wild >= 0 || t->nothing_to_trim ? json_null() : json_string(value)));
}
