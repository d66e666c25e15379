/* SPDX-License-Identifier: MIT */
/* Readings against the checkpoints of the same sheet. */
#include "sheet/checked.h"
#include "base/memory.h"
#include "elaborate/circuit_struct.h"
#include "model/csv_file.h"
#include "printing/tables.h"
#include "sheet/list_words.h"
#include "tinyladder/design/calibration.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum { COLUMNS = 5 };
static const char *const heads[COLUMNS] = {"checkpoint", "signal", "power", "when", "measured"};

typedef struct {
    const tl_plan *plan;
    checkpoints of;
    double *measured; /* of each checkpoint; NAN: not yet */
} checked;

/* --- the file --- */

/* `2.21`, `2,21`, `2210m`, `10.9k`, `2.21 V`, `open`: a quantity, whose unit may be left out. */
static bool read_figure(const char *text, bool ohms, double *value)
{
    char plain[TL_QUANTITY_LONGEST];
    tl_quantity q;
    tl_text_error error;
    const tl_dimension dimension = ohms ? TL_DIM_OHM : TL_DIM_VOLT;
    *value = INFINITY;
    if (ohms && (strcmp(text, "open") == 0 || strcmp(text, "OL") == 0))
        return true;
    snprintf(plain, sizeof plain, "%.40s", text);
    if (strchr(plain, ',') != NULL)
        *strchr(plain, ',') = '.';
    if (!tl_quantity_read(plain, dimension, &q, &error)) {
        snprintf(plain + strlen(plain), sizeof plain - strlen(plain), "%s", ohms ? "ohm" : "V");
        if (!tl_quantity_read(plain, dimension, &q, &error))
            return false;
    }
    *value = q.nominal;
    return q.low >= q.high;
}

/* Long ones are cut off when they are read. */
static bool is_field(const char *field, const char *text)
{
    return strncmp(field, text, CSV_FIELD_LONGEST - 1) == 0;
}

static int find(const checked *c, const csv_line *line)
{
    for (int i = 0; i < c->of.count; i++) {
        const checkpoint *is = &c->of.list[i];
        char number[16];
        snprintf(number, sizeof number, "%d", is->number);
        if (strcmp(line->field[0], number) == 0 &&
            is_field(line->field[1], c->plan->signals[is->signal].name) &&
            strcmp(line->field[2], is->power_off ? "off" : "on") == 0 && is_field(line->field[3], is->when))
            return i;
    }
    return -1;
}

static bool take(reader *r, void *context, const csv_line *line, tl_place at_line)
{
    checked *c = context;
    if (line->count != COLUMNS) {
        report_error(r, "bad-table", at_line, "expected the columns checkpoint,signal,power,when,measured");
        return false;
    }
    if (strcmp(line->field[0], heads[0]) == 0)
        return true;
    const int at = find(c, line);
    if (at < 0) {
        report_error(r, "bad-table", at_line,
                     "this sheet has no checkpoint %.10s of '%.60s', power %.10s, '%.60s'; name the signals "
                     "that it was made for",
                     line->field[0], line->field[1], line->field[2], line->field[3]);
        return true;
    }
    if (line->field[4][0] == '\0')
        return true;
    if (!read_figure(line->field[4], c->of.list[at].power_off, &c->measured[at])) {
        report_error(r, "bad-table", at_line, "'%.40s' is no reading; expected one such as %s",
                     line->field[4], c->of.list[at].power_off ? "10.9k, or open" : "2.21 or 2210m");
        c->measured[at] = NAN;
        return true;
    }
    return true;
}

static bool load(checked *c, const char *path, tl_report *report)
{
    int file;
    reader r = {.report = report, .path = path};
    const char *slash = strrchr(path, '/');
    yaml_tree node = {.kind = YAML_TEXT, .text = tl_copy_text(slash != NULL ? slash + 1 : path)};
    const bool good = csv_visit(&r, &node, take, c, &file) && tl_report_at_least(report, TL_ERROR) == 0;
    free(node.text);
    return good;
}

/* --- what it says --- */

/* A factor of a supply that was measured, too, has limits of its own. */
static void limits_of(const checked *c, int i, double *least, double *most)
{
    const checkpoint *is = &c->of.list[i];
    *least = is->least;
    *most = is->most;
    for (int k = 0; k < c->of.count && is->of != '\0'; k++) {
        if (c->of.list[k].measures != is->of || !isfinite(c->measured[k]))
            continue;
        *least = c->measured[k] * is->factor_least - is->fixed;
        *most = c->measured[k] * is->factor_most + is->fixed;
    }
}

static void put_figure(table *t, double value, bool ohms)
{
    char text[40];
    figure_of_checkpoint(text, value, ohms);
    table_cell(t, "%s", text);
}

static int print_verdicts(const checked *c)
{
    table t;
    int wrong = 0;
    table_begin(&t, 8, "><<<>>><");
    table_heads(&t, "no.", "signal", "power", "when", "least", "most", "measured", "");
    for (int i = 0; i < c->of.count; i++) {
        const checkpoint *is = &c->of.list[i];
        double least, most;
        if (isnan(c->measured[i]))
            continue;
        limits_of(c, i, &least, &most);
        const bool below = c->measured[i]<least, above = c->measured[i]> most;
        table_cell(&t, "%d", is->number);
        table_cell(&t, "%s", c->plan->signals[is->signal].name);
        table_cell(&t, is->power_off ? "off" : "on");
        table_cell(&t, "%s", is->when);
        put_figure(&t, least, is->power_off);
        put_figure(&t, most, is->power_off);
        put_figure(&t, c->measured[i], is->power_off);
        table_cell(&t, below ? "below" : above ? "above" : "inside");
        wrong += below || above;
    }
    table_end(&t, stdout, "");
    return wrong;
}

/* What the source did: as the checkpoint wants it; of a supply that was measured what it was, as far as a
 * meter tells. */
static void print_source(const checked *c, const checkpoint *is)
{
    const tl_meter meter = checkpoint_meter(c->plan);
    const char *signal = c->plan->signals[is->signal].name;
    if (is->source[0] != '\0')
        printf(" --source '%s=%s'", signal, is->source);
    for (int k = 0; k < c->of.count && is->of != '\0'; k++) {
        const double volts = c->measured[k], off = tl_meter_limit(&meter, volts);
        if (c->of.list[k].measures == is->of && isfinite(volts))
            printf(" --source '%s=%.6g V .. %.6g V'", signal, volts - off, volts + off);
    }
}

/* A line for each reading that is not inside. */
static void print_questions(const checked *c, const tl_circuit *circuit, const char *plan)
{
    puts("\nTo find the cause:");
    for (int i = 0; i < c->of.count; i++) {
        const checkpoint *is = &c->of.list[i];
        double least, most;
        char point[TL_POINT_NAME];
        if (isnan(c->measured[i]))
            continue;
        limits_of(c, i, &least, &most);
        if (c->measured[i] >= least && c->measured[i] <= most)
            continue;
        circuit_point_name(circuit, is->node, point);
        printf("  tinyladder explain %s ", plan);
        if (is->power_off && isinf(c->measured[i]))
            printf("--ohms '%s,ground=open'", point);
        else if (is->power_off)
            printf("--ohms '%s,ground=%.6gR'", point, c->measured[i]);
        else
            printf("--meter '%s=%.6g V'", point, c->measured[i]);
        if (!is->power_off)
            print_source(c, is);
        putchar('\n');
    }
}

static checked checked_of(tl_circuit *circuit, const int *signals, int count)
{
    checked c = {.plan = tl_circuit_plan(circuit), .of = checkpoints_of(circuit, signals, count)};
    c.measured = tl_alloc((size_t)c.of.count + 1, sizeof *c.measured);
    for (int i = 0; i < c.of.count; i++)
        c.measured[i] = NAN;
    return c;
}

int sheet_check(tl_circuit *circuit, const int *signals, int count, const char *plan, const char *path)
{
    checked c = checked_of(circuit, signals, count);
    tl_report *report = new_report();
    int status = EXIT_UNREADABLE, known = 0;
    if (load(&c, path, report)) {
        for (int i = 0; i < c.of.count; i++)
            known += !isnan(c.measured[i]);
        const int wrong = print_verdicts(&c);
        printf("\n%d of %d readings are inside; %d checkpoint%s not measured.\n", known - wrong, known,
               c.of.count - known, c.of.count - known == 1 ? " is" : "s are");
        if (wrong > 0)
            print_questions(&c, circuit, plan);
        status = wrong > 0 ? EXIT_FOUND : EXIT_DONE;
    } else {
        (void)print_unreadable(report);
    }
    tl_report_free(report);
    checkpoints_free(&c.of);
    free(c.measured);
    return status;
}
