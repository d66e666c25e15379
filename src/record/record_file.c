/* SPDX-License-Identifier: MIT */
/*
 * Records in CSV and SQLite. A time is in it whole or not at all; who writes has the file to itself (CSV) or
 * in turns (SQLite); what is said to be there has been confirmed by the system.
 */
#define _GNU_SOURCE
#include "record/record_file.h"
#include "base/plain_text.h"
#include "base/replace_file.h"
#include "record/record_row.h"
#include "record/vcd_write.h"
#include <csv.h>
#include <errno.h>
#include <fcntl.h>
#include <math.h>
#include <sqlite3.h>
#include <stdlib.h>
#include <string.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <time.h>
#include <unistd.h>

enum {
    DATABASE_OF_OURS = 0x544c5231, /* application_id: "TLR1" */
    SCHEMA = 4,
    STEPS_A_COMMIT = 200,
    ROW_BESIDE_NAME = 1000
};

struct store {
    record_row *rows; /* of one time */
    char *path;
    const tl_plan *plan;
    recorded_run of;
    int file;       /* of CSV and of a value change dump; -1 */
    vcd_dump *dump; /* of the latter */
    char *text;
    size_t room;
    sqlite3 *database;
    sqlite3_stmt *insert;
    sqlite3_int64 run;
    int steps;           /* since the last commit */
    bool clocked;        /* of CSV: its head has the clock */
    unsigned long times; /* that are there permanently, by this run */
    bool broken;         /* nothing more is put into it */
};

static const char no_file[] = "this is no file; -o - writes CSV to a pipe";

/* --- CSV --- */

static bool put_head(store *s)
{
    s->clocked = s->of.live;
    return write_whole(s->file, s->clocked ? CLOCKED_RECORD_HEAD : RECORD_HEAD,
                       s->clocked ? sizeof(CLOCKED_RECORD_HEAD) - 1 : sizeof(RECORD_HEAD) - 1) ||
           record_failed(s->path, strerror(errno));
}

/* A run that was killed in the middle of a row leaves half of one: it is cut off before anything is added. */
static bool take_up_csv(store *s)
{
    struct stat is;
    char head[sizeof CLOCKED_RECORD_HEAD] = "", tail[4096];
    if (flock(s->file, LOCK_EX | LOCK_NB) != 0 && errno == EWOULDBLOCK)
        return record_failed(s->path, "another run is recording into it: nothing is added to it");
    if (fstat(s->file, &is) != 0)
        return record_failed(s->path, strerror(errno));
    if (!S_ISREG(is.st_mode))
        return record_failed(s->path, no_file);
    if (is.st_size == 0)
        return put_head(s);
    const ssize_t begin = pread(s->file, head, sizeof head - 1, 0);
    s->clocked = begin == (ssize_t)sizeof(CLOCKED_RECORD_HEAD) - 1 && strcmp(head, CLOCKED_RECORD_HEAD) == 0;
    if (!s->clocked && (begin < (ssize_t)sizeof(RECORD_HEAD) - 1 ||
                        strncmp(head, RECORD_HEAD, sizeof(RECORD_HEAD) - 1) != 0))
        return record_failed(s->path, "this file is no record: nothing is added to it");
    const off_t from = is.st_size > (off_t)sizeof tail ? is.st_size - (off_t)sizeof tail : 0;
    const ssize_t got = pread(s->file, tail, sizeof tail, from);
    const char *stop = got > 0 ? memrchr(tail, '\n', (size_t)got) : NULL;
    if (stop == NULL)
        return record_failed(s->path, "this file is no record: nothing is added to it");
    const off_t whole = from + (stop - tail) + 1;
    return (whole == is.st_size || ftruncate(s->file, whole) == 0) && lseek(s->file, 0, SEEK_END) >= 0
               ? true
               : record_failed(s->path, strerror(errno));
}

/* One write for all rows of a time, so that a reader never sees some of them. */
static bool put_csv(store *s, const record_row *rows, int count)
{
    size_t needed = 0;
    for (int i = 0; i < count; i++)
        needed += strlen(rows[i].name) + ROW_BESIDE_NAME;
    if (s->room < needed) {
        s->room = needed;
        char *more = realloc(s->text, s->room);
        if (more == NULL)
            return record_failed(s->path, strerror(errno));
        s->text = more;
    }
    char *end = s->text;
    for (int i = 0; i < count; i++)
        end = write_row(&rows[i], s->clocked, end);
    const size_t used = (size_t)(end - s->text);
    const off_t before = lseek(s->file, 0, SEEK_CUR);
    if (write_whole(s->file, s->text, used)) {
        s->times++;
        return true;
    }
    const int why = errno;
    if (before >= 0 && ftruncate(s->file, before) != 0)
        fprintf(stderr, "%s: error: the last row may be cut off\n", s->path);
    return record_failed(s->path, strerror(why));
}

/* The levels that outputs act at, of signals that are recorded. What another signal sets is recorded as that
 * signal. */
static int level_rows(const store *s, record_row *rows)
{
    int count = 0;
    for (int i = 0; i < s->plan->output_count; i++) {
        bool recorded = false;
        for (int k = 0; k < s->of.count; k++)
            recorded = recorded || s->of.signals[k] == s->plan->outputs[i].shows;
        if (s->plan->outputs[i].as != TL_OUT_THRESHOLD || !recorded)
            continue;
        for (int stop = 0; stop < 2; stop++) {
            if ((stop == 0 ? s->plan->outputs[i].start : s->plan->outputs[i].stop).of == TL_NONE)
                rows[count++] = row_of_level(s->plan, i, stop == 1);
        }
    }
    return count;
}

/* The first rows of a run: what it is of, and the levels. No time of it yet. */
static bool put_csv_run(store *s)
{
    record_row *rows = must(calloc(2 * (size_t)s->plan->output_count + 1, sizeof *rows));
    rows[0] = row_of_run(&s->of);
    const bool good = put_csv(s, rows, 1 + level_rows(s, rows + 1));
    s->times = 0;
    free(rows);
    return good;
}

/* --- value change dumps --- */

/* One write for all rows of a time, and of nothing of them where that fails. */
static bool put_dump(store *s, char *text)
{
    const bool good = write_whole(s->file, text, strlen(text)) || record_failed(s->path, strerror(errno));
    free(text);
    s->times += good;
    return good;
}

static bool begin_dump(store *s)
{
    struct stat is;
    if (fstat(s->file, &is) != 0)
        return record_failed(s->path, strerror(errno));
    if (!S_ISREG(is.st_mode))
        return record_failed(s->path, no_file);
    if (is.st_size > 0)
        return record_failed(s->path, "a value change dump holds one run: nothing is added to it");
    s->dump = vcd_dump_new(&s->of);
    const bool good = put_dump(s, vcd_dump_head(s->dump));
    s->times = 0;
    return good;
}

/* --- SQLite --- */

static const char schema[] =
    "CREATE TABLE run (id INTEGER PRIMARY KEY, started TEXT NOT NULL, plan_path TEXT NOT NULL, plan TEXT NOT "
    "NULL, scene TEXT, "
    "seed INTEGER NOT NULL, title TEXT NOT NULL);"
    "CREATE TABLE level (run INTEGER NOT NULL REFERENCES run, signal TEXT NOT NULL, value REAL, unit TEXT, "
    "what "
    "TEXT NOT NULL);"
    "CREATE TABLE reading (run INTEGER NOT NULL REFERENCES run, s REAL NOT NULL, signal TEXT NOT NULL, kind "
    "TEXT NOT NULL, "
    "count INTEGER, pin_v REAL, value REAL, unit TEXT, percent INTEGER, low REAL, high REAL, closings "
    "INTEGER, flags TEXT NOT NULL, clock TEXT);"
    "CREATE INDEX reading_by_time ON reading (run, s);";

static bool run_sql(store *s, const char *sql)
{
    return sqlite3_exec(s->database, sql, NULL, NULL, NULL) == SQLITE_OK ||
           record_failed(s->path, sqlite3_errmsg(s->database));
}

/* Several runs that begin at once all want to change how a new file is written; SQLite does not wait there.
 */
static bool use_log(store *s)
{
    enum { TRIES = 250, WAIT_MS = 20 };
    int status = SQLITE_BUSY;
    for (int i = 0; i < TRIES && (status == SQLITE_BUSY || status == SQLITE_LOCKED); i++) {
        if (i > 0)
            sqlite3_sleep(WAIT_MS);
        status = sqlite3_exec(s->database, "PRAGMA journal_mode = WAL", NULL, NULL, NULL);
    }
    return status == SQLITE_OK || record_failed(s->path, sqlite3_errmsg(s->database));
}

static char *whole_file(const char *path)
{
    FILE *from = fopen(path, "rb");
    char *text = must(calloc(1, (1 << 20) + 1));
    if (from != NULL)
        text[fread(text, 1, 1 << 20, from)] = '\0';
    if (from != NULL)
        fclose(from);
    return text;
}

/* The plan stands beside the data, as it was then. */
static bool begin_run(store *s)
{
    sqlite3_stmt *statement = NULL;
    char now[32];
    const time_t at = time(NULL);
    strftime(now, sizeof now, "%Y-%m-%dT%H:%M:%SZ", gmtime(&at));
    char *plan = whole_file(s->plan->path);
    const record_row own = row_of_run(&s->of);
    bool good = sqlite3_prepare_v2(
                    s->database,
                    "INSERT INTO run (started, plan_path, plan, scene, seed, title) VALUES (?,?,?,?,?,?)", -1,
                    &statement, NULL) == SQLITE_OK;
    if (good) {
        sqlite3_bind_text(statement, 1, now, -1, SQLITE_STATIC);
        sqlite3_bind_text(statement, 2, s->plan->path, -1, SQLITE_STATIC);
        sqlite3_bind_text(statement, 3, plan != NULL ? plan : "", -1, SQLITE_STATIC);
        sqlite3_bind_text(statement, 4, s->of.scene, -1, SQLITE_STATIC);
        sqlite3_bind_int64(statement, 5, (sqlite3_int64)s->of.seed);
        sqlite3_bind_text(statement, 6, own.flags, -1, SQLITE_STATIC);
        good = sqlite3_step(statement) == SQLITE_DONE;
    }
    sqlite3_finalize(statement);
    free(plan);
    s->run = sqlite3_last_insert_rowid(s->database);
    return good || record_failed(s->path, sqlite3_errmsg(s->database));
}

static bool put_levels(store *s)
{
    sqlite3_stmt *statement = NULL;
    record_row *rows = must(calloc(2 * (size_t)s->plan->output_count + 1, sizeof *rows));
    const int count = level_rows(s, rows);
    bool good = sqlite3_prepare_v2(s->database, "INSERT INTO level VALUES (?,?,?,?,?)", -1, &statement,
                                   NULL) == SQLITE_OK;
    for (int i = 0; i < count && good; i++) {
        sqlite3_reset(statement);
        sqlite3_bind_int64(statement, 1, s->run);
        sqlite3_bind_text(statement, 2, rows[i].name, -1, SQLITE_STATIC);
        sqlite3_bind_double(statement, 3, rows[i].value);
        sqlite3_bind_text(statement, 4, rows[i].unit, -1, SQLITE_STATIC);
        sqlite3_bind_text(statement, 5, rows[i].flags, -1, SQLITE_STATIC);
        good = sqlite3_step(statement) == SQLITE_DONE;
    }
    sqlite3_finalize(statement);
    free(rows);
    return good || record_failed(s->path, sqlite3_errmsg(s->database));
}

/* SQLite takes a file that is shorter than its own head for a new one. */
static bool begins_otherwise(const char *path)
{
    static const char magic[] = "SQLite format 3";
    char head[sizeof magic] = "";
    const int file = open(path, O_RDONLY | O_CLOEXEC);
    const ssize_t got = file >= 0 ? read(file, head, sizeof head) : 0;
    if (file >= 0)
        close(file);
    return got > 0 && (got < (ssize_t)sizeof head || memcmp(head, magic, sizeof magic) != 0);
}

static bool open_database(store *s)
{
    static const char insert[] = "INSERT INTO reading VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?)";
    char sql[80];
    struct stat is;
    if (stat(s->path, &is) == 0 && !S_ISREG(is.st_mode))
        return record_failed(s->path, no_file);
    if (begins_otherwise(s->path))
        return record_failed(s->path, "this file is no database: nothing is added to it");
    if (sqlite3_open(s->path, &s->database) != SQLITE_OK)
        return record_failed(s->path, sqlite3_errmsg(s->database));
    sqlite3_busy_timeout(s->database, 5000);
    /* What is there is asked under the lock: two runs may begin a new file at the same time. */
    if (!use_log(s) || !run_sql(s, "PRAGMA synchronous = NORMAL; BEGIN IMMEDIATE"))
        return false;
    const sqlite3_int64 tables = database_number(s->database, "SELECT count(*) FROM sqlite_master", -1);
    if (tables < 0)
        return record_failed(s->path, "this file is no database: nothing is added to it");
    if (tables > 0 && (database_number(s->database, "PRAGMA application_id", 0) != DATABASE_OF_OURS ||
                       database_number(s->database, "PRAGMA user_version", 0) != SCHEMA))
        return record_failed(s->path, "this is a database of something else: nothing is added to it");
    snprintf(sql, sizeof sql, "PRAGMA application_id = %d; PRAGMA user_version = %d", DATABASE_OF_OURS,
             SCHEMA);
    if (tables == 0 && (!run_sql(s, schema) || !run_sql(s, sql)))
        return false;
    return begin_run(s) && put_levels(s) && run_sql(s, "COMMIT; BEGIN") &&
           (sqlite3_prepare_v2(s->database, insert, -1, &s->insert, NULL) == SQLITE_OK ||
            record_failed(s->path, sqlite3_errmsg(s->database)));
}

static void bind_number(sqlite3_stmt *to, int place, double value)
{
    if (isfinite(value))
        sqlite3_bind_double(to, place, value);
    else
        sqlite3_bind_null(to, place);
}

static bool put_database_row(store *s, const record_row *row)
{
    sqlite3_stmt *to = s->insert;
    sqlite3_reset(to);
    sqlite3_bind_int64(to, 1, s->run);
    sqlite3_bind_double(to, 2, row->at);
    sqlite3_bind_text(to, 3, row->name, -1, SQLITE_STATIC);
    sqlite3_bind_text(to, 4, row->kind, -1, SQLITE_STATIC);
    bind_number(to, 5, row->count);
    bind_number(to, 6, row->pin_v);
    if (row->text[0] != '\0')
        sqlite3_bind_text(to, 7, row->text, -1, SQLITE_TRANSIENT);
    else
        bind_number(to, 7, row->value);
    sqlite3_bind_text(to, 8, row->unit, -1, SQLITE_STATIC);
    bind_number(to, 9, row->percent);
    bind_number(to, 10, row->low);
    bind_number(to, 11, row->high);
    bind_number(to, 12, row->closings);
    sqlite3_bind_text(to, 13, row->flags, -1, SQLITE_TRANSIENT);
    sqlite3_bind_text(to, 14, row->clock[0] != '\0' ? row->clock : NULL, -1, SQLITE_TRANSIENT);
    return sqlite3_step(to) == SQLITE_DONE || record_failed(s->path, sqlite3_errmsg(s->database));
}

/* What was put since the last time is there permanently, or it is not there at all. */
static bool commit(store *s)
{
    const int steps = s->steps;
    s->steps = 0;
    if (!run_sql(s, "COMMIT")) {
        sqlite3_exec(s->database, "ROLLBACK", NULL, NULL, NULL);
        return false;
    }
    s->times += (unsigned long)steps;
    return true;
}

static bool put_database(store *s, const record_row *rows, int count)
{
    if (!run_sql(s, "SAVEPOINT one"))
        return false;
    for (int i = 0; i < count; i++) {
        if (!put_database_row(s, &rows[i])) {
            sqlite3_exec(s->database, "ROLLBACK TO one", NULL, NULL, NULL);
            return false;
        }
    }
    if (!run_sql(s, "RELEASE one"))
        return false;
    return ++s->steps < STEPS_A_COMMIT || (commit(s) && run_sql(s, "BEGIN"));
}

/* --- both --- */

store *store_open(const char *path, const recorded_run *of, int *status)
{
    store *s = must(calloc(1, sizeof *s));
    *s = (store){.path = must(strdup(path)), .plan = of->plan, .of = *of, .file = -1};
    bool good = false;
    *status = EXIT_HARDWARE;
    if (strcmp(path, "-") == 0) {
        s->file = dup(STDOUT_FILENO);
        good =
            s->file >= 0 ? put_head(s) && put_csv_run(s) : record_failed("standard output", strerror(errno));
    } else if (path_ends_with(path, ".csv")) {
        s->file = open(path, O_RDWR | O_CREAT | O_CLOEXEC, 0666);
        good = s->file >= 0 ? take_up_csv(s) && put_csv_run(s) : record_failed(path, strerror(errno));
    } else if (path_ends_with(path, ".vcd")) {
        s->file = open(path, O_RDWR | O_CREAT | O_CLOEXEC, 0666);
        good = s->file >= 0 ? begin_dump(s) : record_failed(path, strerror(errno));
    } else if (path_ends_with(path, ".db")) {
        good = open_database(s);
    } else {
        *status = EXIT_USAGE;
        fprintf(stderr, "tinyladder: -o: a file ends in .csv, .vcd or .db, or is - for CSV to a pipe: '%s'\n",
                path);
    }
    if (good)
        return s;
    s->broken = true;
    (void)store_close(s, NULL);
    return NULL;
}

bool store_put(store *s, const int *signals, const taken *readings, int count, const outputs *beside)
{
    int used = 0;
    char clock[CLOCK_ROOM] = "";
    if (s->of.live)
        clock_text(clock);
    if (s->rows == NULL)
        s->rows = must(calloc((size_t)(count + s->plan->output_count) + 1, sizeof *s->rows));
    for (int i = 0; i < count; i++)
        s->rows[used++] = row_of_reading(s->plan, signals[i], &readings[i]);
    for (int i = 0; i < s->plan->output_count && beside->shown > 0; i++) {
        if (beside->of[i].shown)
            s->rows[used++] = row_of_output(s->plan, i, &beside->of[i]);
    }
    for (int i = 0; i < used; i++)
        snprintf(s->rows[i].clock, sizeof s->rows[i].clock, "%s", clock);
    const bool good = s->dump != NULL ? put_dump(s, vcd_dump_rows(s->dump, s->rows, used))
                      : s->file >= 0  ? put_csv(s, s->rows, used)
                                      : put_database(s, s->rows, used);
    s->broken = s->broken || !good;
    return good;
}

bool store_close(store *s, unsigned long *times)
{
    bool good = true;
    if (s->file >= 0 && close(s->file) != 0)
        good = record_failed(s->path, strerror(errno));
    if (s->database != NULL) {
        if (s->insert != NULL && sqlite3_get_autocommit(s->database) == 0)
            good = commit(s); /* after a failure, too: what was put before it is good */
        sqlite3_finalize(s->insert);
        if (sqlite3_close(s->database) != SQLITE_OK && good)
            good = record_failed(s->path, "could not be closed");
    }
    if (times != NULL)
        *times = s->times;
    good = good && !s->broken;
    vcd_dump_free(s->dump);
    free(s->text);
    free(s->rows);
    free(s->path);
    free(s);
    return good;
}
