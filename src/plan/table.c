/* A sensor's table from a CSV file: a head line with the units of both columns, then a point a line. */
#include "../net/memory.h"
#include "plan_internal.h"
#include <csv.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum { POINTS_MOST = 2000, FIELD_LONGEST = 40 };

/* One line's fields as they come from the CSV parser. */
typedef struct {
    char field[3][FIELD_LONGEST];
    int count;
} csv_line;

static void take_field(void *text, size_t length, void *context)
{
    csv_line *line = context;
    if (line->count < 3) {
        const size_t kept = length < FIELD_LONGEST - 1 ? length : FIELD_LONGEST - 1;
        memcpy(line->field[line->count], text, kept);
        line->field[line->count][kept] = '\0';
    }
    line->count++;
}

static bool split_line(struct csv_parser *parser, const char *text, size_t length, csv_line *line)
{
    line->count = 0;
    return csv_parse(parser, text, length, take_field, NULL, line) == length &&
           csv_fini(parser, take_field, NULL, line) == 0;
}

static bool read_head_line(reader *r, const csv_line *line, tl_place place, tl_curve *curve, double *per_ohm)
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

static bool read_figure(const char *text, double *value)
{
    char *end = NULL;
    *value = strtod(text, &end);
    return end != text && *end == '\0' && isfinite(*value) && fabs(*value) < 1e12 &&
           strpbrk(text, "xXnN") == NULL;
}

static bool read_point(reader *r, const csv_line *line, tl_place place, double per_ohm, tl_curve *curve)
{
    tl_curve_point point = {0};
    if (line->count != 2 || !read_figure(line->field[0], &point.quantity) ||
        !read_figure(line->field[1], &point.ohms)) {
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
    const tl_curve_point *p = curve->points, *before = &p[curve->count - 2];
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

static bool read_lines(reader *r, struct csv_parser *parser, int file, tl_curve *curve)
{
    const char *text = r->report->files[file].text, *end = text + r->report->files[file].size;
    double per_ohm = 1;
    bool headed = false;
    for (int number = 1; text < end; number++) {
        const char *stop = memchr(text, '\n', (size_t)(end - text));
        const size_t length = (size_t)((stop != NULL ? stop : end) - text);
        const tl_place place = {file, number, 1};
        csv_line line;
        if (!split_line(parser, text, length, &line)) {
            report_error(r, "bad-table", place, "this line is no CSV");
            return false;
        }
        text += length + 1;
        if (line.count == 0 || (line.count == 1 && line.field[0][0] == '\0'))
            continue;
        if (!(headed ? read_point(r, &line, place, per_ohm, curve)
                     : read_head_line(r, &line, place, curve, &per_ohm)))
            return false;
        headed = true;
    }
    if (curve->count >= 2)
        return true;
    report_error(r, "bad-table", (tl_place){file, 1, 1}, "a table has at least two points");
    return false;
}

bool read_table(reader *r, const tree *node, tl_curve *curve)
{
    struct csv_parser parser;
    char *path = beside(r->path, node->text);
    const int file = load_text_file(path, node->place, r->report);
    bool good = false;
    free(path);
    if (file < 0)
        return false;
    if (csv_init(&parser, CSV_STRICT | CSV_STRICT_FINI) == 0) {
        good = read_lines(r, &parser, file, curve);
        csv_free(&parser);
    }
    return good;
}
