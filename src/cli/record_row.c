/* Rows of a record: see record_row.h. */
#define _GNU_SOURCE
#include "cli/record_row.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum { NUMBER_LONGEST = 40 };

record_row row_of_reading(const tl_plan *plan, int signal, const taken *t)
{
    char flags[40];
    const tl_signal *of = &plan->signals[signal];
    const tl_value *is = &t->is.is;
    record_row row = {.name = of->name,
                      .kind = of->analog ? "analog" : "digital",
                      .unit = of->reading.unit,
                      .at = t->is.at,
                      .count = NAN,
                      .pin_v = NAN,
                      .value = NAN,
                      .percent = NAN,
                      .low = NAN,
                      .high = NAN,
                      .closings = t->closings >= 0 ? (double)t->closings : (double)NAN};
    snprintf(row.flags, sizeof row.flags, "%s", taken_flags(of, t, flags));
    if (!taken_is_good(t))
        return row;
    row.count = of->analog ? (double)t->is.count : t->is.high;
    row.pin_v = of->analog ? is->pin_volts : t->is.volts;
    if (!of->analog)
        row.value = t->is.undriven ? (double)NAN : t->is.closed;
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

static char *write_integer(char *to, long value)
{
    char digits[24];
    int count = 0;
    unsigned long left = value < 0 ? 0UL - (unsigned long)value : (unsigned long)value;
    do {
        digits[count++] = (char)('0' + left % 10);
        left /= 10;
    } while (left > 0);
    if (value < 0)
        *to++ = '-';
    while (count > 0)
        *to++ = digits[--count];
    *to = ',';
    return to + 1;
}

/* A number and its comma, or the comma alone. */
static char *write_number(char *to, double value)
{
    if (isnan(value))
        *to = '\0';
    else if (fabs(value) < 1e9 && value == trunc(value))
        return write_integer(to, (long)value);
    else
        strfromd(to, NUMBER_LONGEST, "%.9g", value);
    to += strlen(to);
    *to = ',';
    return to + 1;
}

char *write_row(const record_row *row, char *to)
{
    char quoted[170];
    const bool measured = !isnan(row->value) && strcmp(row->kind, "digital") != 0;
    strfromd(to, NUMBER_LONGEST, "%.6f", row->at);
    to += strlen(to);
    *to++ = ',';
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
    to[-1] = '\n';
    return to;
}
