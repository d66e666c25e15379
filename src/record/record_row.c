/* SPDX-License-Identifier: MIT */
/* Rows of a record: see record_row.h. */
#define _GNU_SOURCE
#include "record/record_row.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum { NUMBER_LONGEST = 40 };

static record_row bare_row(const char *name, const char *kind)
{
    return (record_row){.name = name,
                        .kind = kind,
                        .unit = "",
                        .count = NAN,
                        .pin_v = NAN,
                        .value = NAN,
                        .percent = NAN,
                        .low = NAN,
                        .high = NAN,
                        .closings = NAN};
}

record_row row_of_reading(const tl_plan *plan, int signal, const taken *t)
{
    char flags[40];
    const tl_signal *of = &plan->signals[signal];
    const tl_value *is = &t->is.is;
    const bool timed = tl_reading_is_timed(&of->reading);
    record_row row = bare_row(of->name, of->analog ? "analog" : timed ? "timed" : "digital");
    row.unit = of->reading.unit;
    row.at = t->is.at;
    if (t->closings >= 0)
        row.closings = (double)t->closings;
    snprintf(row.flags, sizeof row.flags, "%s", taken_flags(of, t, flags));
    if (!taken_is_good(t))
        return row;
    row.count = of->analog ? (double)t->is.count : t->is.high;
    row.pin_v = of->analog ? is->pin_volts : t->is.volts;
    if (!of->analog && !timed)
        row.value = t->is.undriven                   ? (double)NAN
                    : of->reading.as != TL_AS_TOGGLE ? t->is.closed
                    : t->closings < 0                ? (double)NAN
                                                     : t->is.toggled;
    else if (of->source.button_count > 0)
        taken_value(of, t, row.text);
    if (taken_has_value(of, t)) {
        row.value = is->value;
        row.low = is->within.low;
        row.high = is->within.high;
        row.percent = is->percent >= 0 ? is->percent : (double)NAN;
    }
    return row;
}

record_row row_of_run(const recorded_run *of)
{
    record_row row = bare_row("run", "run");
    const char *slash = of->scene != NULL ? strrchr(of->scene, '/') : NULL;
    if (of->counts != NULL)
        snprintf(row.flags, sizeof row.flags, "%.100s: counts of %.60s", of->plan->title, of->counts);
    else
        snprintf(row.flags, sizeof row.flags, "%.100s: %.60s, seed %lu", of->plan->title,
                 slash != NULL       ? slash + 1
                 : of->scene != NULL ? of->scene
                                     : "no scene",
                 of->seed);
    return row;
}

record_row row_of_level(const tl_plan *plan, int output, bool stop)
{
    const tl_plan_output *of = &plan->outputs[output];
    record_row row = bare_row(plan->signals[of->shows].name, "level");
    row.value = stop ? of->stop.value : of->start.value;
    row.unit = of->unit;
    snprintf(row.flags, sizeof row.flags, "%s %s %s", of->name, stop ? "stops" : "starts",
             of->start_below == !stop ? "below" : "above");
    return row;
}

record_row row_of_output(const tl_plan *plan, int output, const output_state *of)
{
    record_row row = {.name = plan->outputs[output].name,
                      .kind = "output",
                      .unit = "%",
                      .at = of->at,
                      .count = of->now.lit,
                      .pin_v = NAN,
                      .value = 100 * of->now.duty,
                      .percent = NAN,
                      .low = NAN,
                      .high = NAN,
                      .closings = NAN};
    output_flags(of, row.flags);
    return row;
}

/* Fields are written without printf, which is slow where any library has added conversions to it. A row fits
 * into the room that put_csv() has made for it: names are short. */
static char *write_text(char *to, const char *text)
{
    const size_t length = strlen(text);
    memcpy(to, text, length);
    to[length] = ',';
    return to + length + 1;
}

/* `number` with a point before its last this many digits; keep: with the zeros at the end. No comma. */
static char *write_digits(char *to, unsigned long number, int decimals, bool keep)
{
    char digits[40];
    int count = 0;
    for (; !keep && decimals > 0 && number % 10 == 0; decimals--)
        number /= 10;
    do {
        digits[count++] = (char)('0' + number % 10);
        number /= 10;
    } while (number > 0 || count <= decimals);
    while (count > 0) {
        *to++ = digits[--count];
        if (count == decimals && count > 0)
            *to++ = '.';
    }
    return to;
}

/* The nearest whole number, unless it is so near to the middle that the multiplication may have decided. */
static bool is_surely(long double scaled, unsigned long *nearest)
{
    *nearest = (unsigned long)(scaled + 0.5L);
    return fabsl(fabsl(scaled - (long double)*nearest) - 0.5L) > 1e-6L;
}

/* As "%.9g" writes it, where that has no exponent; 0 .. 12 decimals, by the size of the number. */
static bool nine_digits(double size, unsigned long *number, int *decimals)
{
    static const double tens[] = {1e0, 1e1, 1e2, 1e3, 1e4, 1e5, 1e6, 1e7, 1e8, 1e9, 1e10, 1e11, 1e12};
    if (!(size >= 1e-4 && size < 99999999))
        return false;
    for (*decimals = 12; size * tens[*decimals] >= 1e9; --*decimals)
        continue;
    /* What rounds up to ten digits has one decimal less. */
    return is_surely((long double)size * (long double)tens[*decimals], number) && *number < 1000000000;
}

/* A number and its comma, or the comma alone. */
static char *write_number(char *to, double value)
{
    unsigned long number = 0;
    int decimals = 0;
    const double size = fabs(value);
    if (isnan(value)) {
        *to++ = ',';
        return to;
    }
    if ((size < 1e9 && size == trunc(size)) || nine_digits(size, &number, &decimals)) {
        if (value < 0)
            *to++ = '-';
        to = write_digits(to, decimals > 0 ? number : (unsigned long)size, decimals, false);
    } else {
        strfromd(to, NUMBER_LONGEST, "%.9g", value);
        to += strlen(to);
    }
    *to = ',';
    return to + 1;
}

/* Seconds, to the microsecond. */
static char *write_time(char *to, double seconds)
{
    unsigned long number = 0;
    if (seconds >= 0 && seconds < 1e9 && is_surely((long double)seconds * 1e6L, &number)) {
        to = write_digits(to, number, 6, true);
    } else {
        strfromd(to, NUMBER_LONGEST, "%.6f", seconds);
        to += strlen(to);
    }
    *to = ',';
    return to + 1;
}

char *write_row(const record_row *row, bool clocked, char *to)
{
    char quoted[420];
    const bool measured = !isnan(row->value) && strcmp(row->kind, "digital") != 0;
    to = write_time(to, row->at);
    to = write_text(to, row->name);
    to = write_text(to, row->kind);
    to = write_number(to, row->count);
    to = write_number(to, row->pin_v);
    to = row->text[0] != '\0' ? write_text(to, csv_text(row->text, quoted, sizeof quoted))
                              : write_number(to, row->value);
    to = write_text(to, measured ? csv_text(row->unit, quoted, sizeof quoted) : "");
    to = write_number(to, row->percent);
    to = write_number(to, row->low);
    to = write_number(to, row->high);
    to = write_number(to, row->closings);
    to = write_text(to, csv_text(row->flags, quoted, sizeof quoted));
    if (clocked)
        to = write_text(to, row->clock);
    to[-1] = '\n';
    return to;
}

bool record_failed(const char *path, const char *what)
{
    fprintf(stderr, "%s: error: %s\n", path, what);
    return false;
}

bool path_ends_with(const char *path, const char *end)
{
    const size_t length = strlen(path), size = strlen(end);
    return length > size && strcmp(path + length - size, end) == 0;
}

sqlite3_int64 database_number(sqlite3 *database, const char *sql, sqlite3_int64 otherwise)
{
    sqlite3_stmt *statement = NULL;
    sqlite3_int64 found = otherwise;
    if (sqlite3_prepare_v2(database, sql, -1, &statement, NULL) == SQLITE_OK &&
        sqlite3_step(statement) == SQLITE_ROW)
        found = sqlite3_column_int64(statement, 0);
    sqlite3_finalize(statement);
    return found;
}
