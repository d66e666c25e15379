/* SPDX-License-Identifier: MIT */
/* A sensor's table from a CSV file: a head line with the units of both columns, then a point a line, in any
 * order. */
#include "base/memory.h"
#include "model/csv_file.h"
#include "reader/read_plan.h"
#include <stdlib.h>
#include <string.h>

enum { POINTS_MOST = 2000 };

static bool read_head_line(reader *r, const csv_line *line, tl_place place, tl_response *curve,
                           double *per_ohm)
{
    const size_t length = strlen(line->field[0]);
    *per_ohm = strcmp(line->field[1], "kohm") == 0 ? 1e3 : 1;
    if (line->count == 2 && length > 0 && length < sizeof curve->unit &&
        strspn(line->field[0], "0123456789.-+") == 0 &&
        (strcmp(line->field[1], "ohm") == 0 || strcmp(line->field[1], "kohm") == 0)) {
        memcpy(curve->unit, line->field[0], length + 1);
        return true;
    }
    report_error(r, "bad-table", place,
                 "the first line names the units of both columns: 'degC,ohm' or 'degC,kohm'");
    return false;
}

typedef struct {
    tl_response_point point;
    tl_place place;
} placed_point;

typedef struct {
    tl_response *curve;
    double per_ohm;
    bool headed;
    placed_point *points;
    int count;
} table_reading;

static bool read_point(reader *r, const csv_line *line, tl_place place, table_reading *t)
{
    tl_response_point point = {0};
    if (line->count != 2 || !csv_figure(line->field[0], &point.quantity) ||
        !csv_figure(line->field[1], &point.ohms)) {
        report_error(r, "bad-table", place, "a line holds two numbers: %s and ohms", t->curve->unit);
        return false;
    }
    point.ohms *= t->per_ohm;
    if (!(point.ohms > 0) || (t->curve->law == TL_LAW_LOG_LOG && !(point.quantity > 0))) {
        report_error(r, "bad-table", place, "%s",
                     point.ohms > 0 ? "in log-log both columns are above 0"
                                    : "the ohms of a sensor are above 0");
        return false;
    }
    if (t->count == POINTS_MOST) {
        report_error(r, "bad-table", place, "more than %d points", POINTS_MOST);
        return false;
    }
    t->points = tl_grow(t->points, (size_t)t->count, sizeof *t->points);
    t->points[t->count++] = (placed_point){point, place};
    return true;
}

static int by_quantity(const void *a, const void *b)
{
    const placed_point *x = a, *y = b;
    if (x->point.quantity != y->point.quantity)
        return x->point.quantity < y->point.quantity ? -1 : 1;
    return x->place.line - y->place.line;
}

/* Of those that come again, the first; monotonic in both columns, or two answers would fit one reading. */
static bool take_points(reader *r, table_reading *t)
{
    tl_response *curve = t->curve;
    if (t->count > 1)
        qsort(t->points, (size_t)t->count, sizeof *t->points, by_quantity);
    for (int i = 0; i < t->count; i++) {
        const tl_response_point point = t->points[i].point, *p = curve->points;
        const tl_response_point *before = curve->count > 0 ? &p[curve->count - 1] : NULL;
        if (before != NULL && point.quantity == before->quantity && point.ohms == before->ohms)
            continue;
        if (before != NULL && point.quantity == before->quantity) {
            report_error(r, "table-order", t->points[i].place,
                         "%g %s stands there twice: %g ohm here, %g ohm before", point.quantity, curve->unit,
                         point.ohms, before->ohms);
            return false;
        }
        if (before != NULL &&
            (point.ohms == before->ohms ||
             (curve->count > 1 && (point.ohms > before->ohms) != (p[1].ohms > p[0].ohms)))) {
            report_error(r, "table-order", t->points[i].place,
                         "the table is not monotonic here: from %g %s to %g %s the ohms go from %g to %g",
                         before->quantity, curve->unit, point.quantity, curve->unit, before->ohms,
                         point.ohms);
            return false;
        }
        curve->points = tl_grow(curve->points, (size_t)curve->count, sizeof point);
        curve->points[curve->count++] = point;
    }
    return true;
}

static bool read_line(reader *r, void *context, const csv_line *line, tl_place place)
{
    table_reading *t = context;
    if (t->headed)
        return read_point(r, line, place, t);
    t->headed = true;
    return read_head_line(r, line, place, t->curve, &t->per_ohm);
}

bool read_table(reader *r, const yaml_tree *node, tl_response *curve)
{
    table_reading t = {.curve = curve, .per_ohm = 1};
    int file;
    const bool good = csv_visit(r, node, read_line, &t, &file) && take_points(r, &t);
    free(t.points);
    if (good && curve->count < 2)
        report_error(r, "bad-table", (tl_place){file, 1, 1}, "a table has at least two points");
    return good && curve->count >= 2;
}
