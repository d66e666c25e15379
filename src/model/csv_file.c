/* SPDX-License-Identifier: MIT */
/* Tables of numbers beside a plan, by libcsv, line by line with their places. */
#include "model/csv_file.h"
#include "base/memory.h"
#include "base/report_struct.h"
#include <csv.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>

static void take_field(void *text, size_t length, void *context)
{
    csv_line *line = context;
    if (line->count < CSV_FIELDS_MOST) {
        const size_t kept = length < CSV_FIELD_LONGEST - 1 ? length : CSV_FIELD_LONGEST - 1;
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

static bool visit_lines(reader *r, struct csv_parser *parser, int file, csv_visitor *visit, void *context)
{
    const char *text = r->report->files[file].text, *end = text + r->report->files[file].size;
    for (int number = 1; text < end; number++) {
        const char *stop = memchr(text, '\n', (size_t)(end - text));
        const size_t length = (size_t)((stop != NULL ? stop : end) - text);
        const tl_place place = {file, number, 1};
        csv_line line;
        if (!split_line(parser, text, length, &line)) {
            if (csv_error(parser) == CSV_ENOMEM)
                tl_memory_none();
            report_error(r, "bad-table", place, "this line is no CSV");
            return false;
        }
        text += length + 1;
        if (line.count == 0 || (line.count == 1 && line.field[0][0] == '\0'))
            continue;
        if (!visit(r, context, &line, place))
            return false;
    }
    return true;
}

int joined_file(reader *r, const yaml_tree *node)
{
    char *path = beside(r->path, node->text);
    const int file =
        may_join(path, node->place, r->path, r->report) ? load_text_file(path, node->place, r->report) : -1;
    free(path);
    if (file >= 0)
        r->report->files[file].hidden = r->report->outside;
    return file;
}

bool csv_visit(reader *r, const yaml_tree *node, csv_visitor *visit, void *context, int *file)
{
    struct csv_parser parser;
    bool good = false;
    *file = joined_file(r, node);
    if (*file >= 0 && csv_init(&parser, CSV_STRICT | CSV_STRICT_FINI) == 0) {
        good = visit_lines(r, &parser, *file, visit, context);
        csv_free(&parser);
    }
    return good;
}

bool csv_figure(const char *text, double *value)
{
    char *end = NULL;
    *value = strtod(text, &end);
    return end != text && *end == '\0' && isfinite(*value) && fabs(*value) < 1e12 &&
           strpbrk(text, "xXnN") == NULL;
}
