/* A sensor's table from a CSV file: a head line with the units of both columns, then a point a line. */
#include "base/memory.h"
#include "reader/csv_file.h"
#include "reader/read_plan.h"
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

static bool read_point(reader *r, const csv_line *line, tl_place place, double per_ohm, tl_response *curve)
{
    tl_response_point point = {0};
    if (line->count != 2 || !csv_figure(line->field[0], &point.quantity) ||
        !csv_figure(line->field[1], &point.ohms)) {
        report_error(r, "bad-table", place, "a line holds two numbers: %s and ohms", curve->unit);
        return false;
    }
    point.ohms *= per_ohm;
    if (!(point.ohms > 0) || (curve->law == TL_LAW_LOG_LOG && !(point.quantity > 0))) {
        report_error(r, "bad-table", place, "%s",
                     point.ohms > 0 ? "in log-log both columns are above 0"
                                    : "the ohms of a sensor are above 0");
        return false;
    }
    if (curve->count == POINTS_MOST) {
        report_error(r, "bad-table", place, "more than %d points", POINTS_MOST);
        return false;
    }
    curve->points = tl_grow(curve->points, (size_t)curve->count, sizeof point);
    curve->points[curve->count++] = point;
    if (curve->count < 2)
        return true;
    /* Monotonic in both columns, or two answers would fit one reading. */
    const tl_response_point *p = curve->points, *before = &p[curve->count - 2];
    const bool first_rises = p[1].ohms > p[0].ohms;
    if (!(point.quantity > before->quantity) || point.ohms == before->ohms ||
        (point.ohms > before->ohms) != first_rises) {
        report_error(
            r, "table-order", place,
            "the table is not monotonic here: %s must rise, and the ohms keep rising or keep falling",
            curve->unit);
        return false;
    }
    return true;
}

typedef struct {
    tl_response *curve;
    double per_ohm;
    bool headed;
} table_reading;

static bool read_line(reader *r, void *context, const csv_line *line, tl_place place)
{
    table_reading *t = context;
    if (t->headed)
        return read_point(r, line, place, t->per_ohm, t->curve);
    t->headed = true;
    return read_head_line(r, line, place, t->curve, &t->per_ohm);
}

bool read_table(reader *r, const yaml_tree *node, tl_response *curve)
{
    table_reading t = {curve, 1, false};
    int file;
    if (!csv_visit(r, node, read_line, &t, &file))
        return false;
    if (curve->count >= 2)
        return true;
    report_error(r, "bad-table", (tl_place){file, 1, 1}, "a table has at least two points");
    return false;
}
