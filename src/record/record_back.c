/* SPDX-License-Identifier: MIT */
/* Records read back, from CSV and SQLite. */
#define _GNU_SOURCE
#include "base/plain_text.h"
#include "record/record_row.h"
#include <csv.h>
#include <errno.h>
#include <math.h>
#include <sqlite3.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>

enum { RECORD_LINE_LONGEST = 4096 };
enum { SCHEMA_WITH_RUNS = 3 /* from here on a database knows titles and levels */ };

enum { S, SIGNAL, KIND, COUNT, PIN_V, VALUE, UNIT, PERCENT, LOW, HIGH, CLOSINGS, FLAGS, COLUMNS };

static double figure(const char *text)
{
    char *end = NULL;
    const double found = text != NULL ? strtod(text, &end) : NAN;
    return text == NULL || end == text ? NAN : found;
}

static bool visit_texts(const char *const *column, int run, stored_visitor *visit, void *context)
{
    static const char *const kinds[STORED_KINDS] = {"analog", "digital", "output", "level", "run", "timed"};
    stored_row row = {.kind = STORED_KINDS,
                      .run = run,
                      .at = figure(column[S]),
                      .count = figure(column[COUNT]),
                      .value = figure(column[VALUE]),
                      .low = figure(column[LOW]),
                      .high = figure(column[HIGH]),
                      .closings = figure(column[CLOSINGS])};
    if (!isfinite(row.at) || column[SIGNAL] == NULL || column[KIND] == NULL)
        return false;
    for (int i = 0; i < STORED_KINDS; i++)
        row.kind = strcmp(column[KIND], kinds[i]) == 0 ? (stored_kind)i : row.kind;
    if (row.kind == STORED_KINDS)
        return false;
    plain_text_copy(row.signal, sizeof row.signal, column[SIGNAL]);
    plain_text_copy(row.unit, sizeof row.unit, column[UNIT] != NULL ? column[UNIT] : "");
    plain_text_copy(row.flags, sizeof row.flags, column[FLAGS] != NULL ? column[FLAGS] : "");
    return visit(context, &row);
}

/* Rows of a statement whose columns are those of a record, and the run's number behind them. */
static bool visit_rows(sqlite3 *database, const char *sql, stored_visitor *visit, void *context)
{
    sqlite3_stmt *statement = NULL;
    int step = SQLITE_DONE, run = 0;
    sqlite3_int64 last = -1;
    bool good = sqlite3_prepare_v2(database, sql, -1, &statement, NULL) == SQLITE_OK;
    while (good && (step = sqlite3_step(statement)) == SQLITE_ROW) {
        const char *column[COLUMNS];
        for (int i = 0; i < COLUMNS; i++)
            column[i] = (const char *)sqlite3_column_text(statement, i);
        run += sqlite3_column_int64(statement, COLUMNS) != last;
        last = sqlite3_column_int64(statement, COLUMNS);
        good = visit_texts(column, run, visit, context);
    }
    sqlite3_finalize(statement);
    return good && step == SQLITE_DONE;
}

/* Run by run: what it is of, its levels, its readings. Databases of before have neither titles nor levels. */
static bool visit_database(const char *path, stored_visitor *visit, void *context)
{
    static const char readings[] = "SELECT s, signal, kind, count, pin_v, value, unit, percent, low, high, "
                                   "closings, flags, run FROM reading ORDER BY run, rowid";
    static const char all[] = "SELECT 0, 'run', 'run', NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, "
                              "title, id, 0, 0 FROM run WHERE id "
                              "IN (SELECT run FROM reading) UNION ALL SELECT 0, signal, 'level', NULL, NULL, "
                              "value, unit, NULL, NULL, "
                              "NULL, NULL, what, run, 1, rowid FROM level WHERE run IN (SELECT run FROM "
                              "reading) UNION ALL SELECT s, "
                              "signal, kind, count, pin_v, value, unit, percent, low, high, closings, flags, "
                              "run, 2, rowid FROM reading "
                              "ORDER BY 13, 14, 15";
    sqlite3 *database = NULL;
    const bool good =
        sqlite3_open_v2(path, &database, SQLITE_OPEN_READONLY, NULL) == SQLITE_OK &&
        visit_rows(database,
                   database_number(database, "PRAGMA user_version", 0) >= SCHEMA_WITH_RUNS ? all : readings,
                   visit, context);
    if (!good)
        record_failed(path, "this is no record");
    sqlite3_close(database);
    return good;
}

typedef struct {
    char text[COLUMNS][200];
    int count;
} csv_row;

static void take_field(void *text, size_t length, void *context)
{
    csv_row *row = context;
    if (row->count < COLUMNS)
        snprintf(row->text[row->count], sizeof row->text[0], "%.*s", (int)length, (const char *)text);
    row->count++;
}

static bool visit_csv(const char *path, stored_visitor *visit, void *context)
{
    struct csv_parser parser;
    char line[RECORD_LINE_LONGEST];
    int run = 0;
    bool first = true;
    FILE *from = fopen(path, "rb");
    if (from == NULL)
        return record_failed(path, strerror(errno));
    bool good = csv_init(&parser, CSV_STRICT) == 0 && fgets(line, sizeof line, from) != NULL &&
                (strcmp(line, RECORD_HEAD) == 0 || strcmp(line, CLOCKED_RECORD_HEAD) == 0);
    const int fields = good && strcmp(line, CLOCKED_RECORD_HEAD) == 0
                           ? COLUMNS + 1
                           : COLUMNS; /* the clock is not asked for */
    /* Half a line at the end is what a killed run leaves; a longer one is not of a record. */
    while (good && fgets(line, sizeof line, from) != NULL) {
        const size_t length = strlen(line);
        if (length == 0 || line[length - 1] != '\n') {
            good = length + 1 < sizeof line;
            break;
        }
        csv_row row = {.count = 0};
        const char *column[COLUMNS];
        good = csv_parse(&parser, line, length, take_field, NULL, &row) == length && row.count == fields;
        for (int i = 0; i < COLUMNS; i++)
            column[i] = row.text[i][0] != '\0' ? row.text[i] : NULL;
        /* Records of before say nothing of runs: all of such a file is one. */
        run += run == 0 || (good && strcmp(row.text[KIND], "run") == 0 && !first);
        first = false;
        good = good && visit_texts(column, run, visit, context);
    }
    csv_free(&parser);
    fclose(from);
    return good || record_failed(path, "this is no record");
}

bool store_visit(const char *path, stored_visitor *visit, void *context)
{
    struct stat is;
    if (stat(path, &is) == 0 && !S_ISREG(is.st_mode))
        return record_failed(path, "this is no file");
    return path_ends_with(path, ".db") ? visit_database(path, visit, context)
                                       : visit_csv(path, visit, context);
}
