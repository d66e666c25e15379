/* SPDX-License-Identifier: MIT */
/* `tinyladder record` and `plot`: what is written stays, whatever happens. */
#define _GNU_SOURCE
#include "support.h"
#include <signal.h>
#include <sqlite3.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <time.h>
#include <unistd.h>

#define PLAN "demo/fernhill.plan.yaml"
#define SCENE "demo/evening.scene.yaml"

static int lines_of(const char *text)
{
    int lines = 0;
    for (; *text != '\0'; text++)
        lines += *text == '\n';
    return lines;
}

static int record_to(const char *path, const char *option, const char *value)
{
    run_result r = run_command("record", PLAN, "house-battery", "rain-plate", "mirror-temperature", "--scene",
                               SCENE, "--every", "1min", "-o", path, option, value, NULL);
    const int status = r.status;
    run_free(&r);
    return status;
}

static void records_and_adds(void)
{
    const char *path = scratch_path("night.csv");
    unlink(path);
    CU_ASSERT(record_to(path, "--for", "10min") == 0);
    char *text = text_of(path);
    static const char begin[] =
        "s,signal,kind,count,pin_v,value,unit,percent,low,high,closings,flags\n0.000000,run,run,,,,,,,,,\""
        "Fernhill observatory, roll-off roof: evening.scene.yaml, seed 7\"\n0.000075,house-battery,analog,";
    CU_ASSERT(lines_of(text) == 2 + 11 * 3 && strncmp(text, begin, sizeof begin - 1) == 0);
    free(text);
    /* A killed run left half a row: it is cut off, and nothing else. */
    FILE *half = fopen(path, "ab");
    fputs("660.000000,house-bat", half);
    fclose(half);
    CU_ASSERT(record_to(path, "--at", "25min") == 0);
    text = text_of(path);
    CU_ASSERT(lines_of(text) == 2 + 11 * 3 + 1 + 16 * 3 && strstr(text, "house-bat\n") == NULL &&
              strstr(text, "house-bat1") == NULL);
    CU_ASSERT(strstr(text, "1500.000161,mirror-temperature,analog,") != NULL &&
              strstr(text, ",,,,,,,open wire\n") != NULL);
    CU_ASSERT(strstr(text, "2100.000016,rain-plate,digital,0,") != NULL);
    free(text);
    unlink(scratch_path("keypad.csv"));
    unlink(scratch_path("stop.csv"));
    run_result k = run_command("record", PLAN, "keypad", "--scene", SCENE, "--at", "71s", "--for", "1s", "-o",
                               scratch_path("keypad.csv"), NULL);
    text = text_of(scratch_path("keypad.csv"));
    CU_ASSERT(k.status == 0 && strstr(text, ",track,,,,,,fresh\n") != NULL &&
              strstr(text, ",no button,,,,,,") != NULL);
    free(text);
    run_free(&k);
    run_result r = run_command("record", PLAN, "rain-plate", "--scene", SCENE, "--at", "30min", "--every",
                               "10s", "--stop-when", "rain-plate=on", "-o", scratch_path("stop.csv"), NULL);
    CU_ASSERT(r.status == 0 && strstr(r.out, "stopped as asked") != NULL &&
              strstr(r.out, "20 times") != NULL);
    run_free(&r);
}

static void keeps_a_database(void)
{
    const char *path = scratch_path("night.db");
    sqlite3 *database = NULL;
    sqlite3_stmt *statement = NULL;
    unlink(path);
    CU_ASSERT(record_to(path, "--for", "10min") == 0 && record_to(path, "--for", "5min") == 0);
    CU_ASSERT(sqlite3_open(path, &database) == SQLITE_OK);
    CU_ASSERT(sqlite3_prepare_v2(
                  database,
                  "SELECT count(*), (SELECT count(*) FROM run), (SELECT plan FROM run LIMIT 1) FROM reading",
                  -1, &statement, NULL) == SQLITE_OK &&
              sqlite3_step(statement) == SQLITE_ROW);
    CU_ASSERT(sqlite3_column_int(statement, 0) == (11 + 6) * 3 && sqlite3_column_int(statement, 1) == 2);
    CU_ASSERT(strstr((const char *)sqlite3_column_text(statement, 2), "Fernhill observatory") != NULL);
    sqlite3_finalize(statement);
    sqlite3_close(database);
}

/* The table writes the database's numbers as printf writes them with nine digits, and times to the
 * microsecond. */
/* A pin that a real board would have lost: the record is whole, and the status says it. */
static void tells_of_damage(void)
{
    unlink(scratch_path("hurt.csv"));
    run_result r = run_command("record", PLAN, "house-battery", "--scene", "demo/mishap.scene.yaml",
                               "--every", "10s", "-o", scratch_path("hurt.csv"), NULL);
    char *text = text_of(scratch_path("hurt.csv"));
    CU_ASSERT(r.status == 1 && lines_of(text) == 2 + 5 &&
              strstr(r.out, "L4 exceeded its absolute maximum from 10 s to 11 s: ") != NULL);
    free(text);
    run_free(&r);
}

static void both_kinds_hold_the_same_numbers(void)
{
    static const struct {
        const char *name, *format;
    } columns[] = {{"s", "%.6f"},     {NULL, NULL}, {NULL, NULL},        {"count", "%.9g"}, {"pin_v", "%.9g"},
                   {"value", "%.9g"}, {NULL, NULL}, {"percent", "%.9g"}, {"low", "%.9g"},   {"high", "%.9g"}};
    const char *paths[] = {scratch_path("same.csv"), scratch_path("same.db")};
    sqlite3 *database = NULL;
    sqlite3_stmt *statement = NULL;
    int compared = 0;
    for (int i = 0; i < 2; i++) {
        unlink(paths[i]);
        run_result r = run_command("record", PLAN, "--scene", SCENE, "--every", "20s", "-o", paths[i], NULL);
        CU_ASSERT(r.status == 0);
        run_free(&r);
    }
    char *text = text_of(paths[0]), *line = strstr(text, "\n0.000075,") + 1;
    CU_ASSERT(sqlite3_open(paths[1], &database) == SQLITE_OK);
    CU_ASSERT(sqlite3_prepare_v2(database,
                                 "SELECT s, signal, kind, count, pin_v, value, unit, percent, low, high FROM "
                                 "reading ORDER BY rowid",
                                 -1, &statement, NULL) == SQLITE_OK);
    while (sqlite3_step(statement) == SQLITE_ROW && *line != '\0') {
        char *at = line;
        line = strchr(line, '\n') + 1;
        for (size_t c = 0; c < ROWS(columns); c++) {
            char wanted[60];
            const size_t length = strcspn(at, ",\n");
            if (columns[c].name != NULL && sqlite3_column_type(statement, (int)c) != SQLITE_NULL &&
                sqlite3_column_type(statement, (int)c) != SQLITE_TEXT) {
                snprintf(wanted, sizeof wanted, columns[c].format, sqlite3_column_double(statement, (int)c));
                CHECK_ROW(columns[c].name, strlen(wanted) == length && strncmp(wanted, at, length) == 0);
                compared++;
            }
            at += length + 1;
        }
    }
    CU_ASSERT(*line == '\0' && compared > 10000);
    sqlite3_finalize(statement);
    sqlite3_close(database);
    free(text);
}

static void refuses_what_is_not_its_own(void)
{
    const char *other = scratch_path("other.db");
    sqlite3 *database = NULL;
    unlink(other);
    CU_ASSERT(sqlite3_open(other, &database) == SQLITE_OK &&
              sqlite3_exec(database, "CREATE TABLE recipe (cake TEXT)", NULL, NULL, NULL) == SQLITE_OK);
    sqlite3_close(database);
    CU_ASSERT(record_to(other, NULL, NULL) == 4);
    const char *list = scratch_file("list.csv", "cake,eggs\n1,2\n", 14),
               *rubbish = scratch_file("rubbish.db", "no database at all", 18);
    CU_ASSERT(record_to(list, NULL, NULL) == 4 && record_to(rubbish, NULL, NULL) == 4);
    char *text = text_of(list);
    CU_ASSERT_STRING_EQUAL(text, "cake,eggs\n1,2\n");
    free(text);
    CU_ASSERT(record_to(scratch_path("no/such/folder.csv"), NULL, NULL) == 4);
    const char *full = scratch_path("full.csv");
    unlink(full);
    CU_ASSERT(symlink("/dev/full", full) == 0 && record_to(full, NULL, NULL) == 4);
    unlink(full);
    CU_ASSERT(record_to(scratch_path("record.txt"), NULL, NULL) == 2);
    CU_ASSERT(record_to(scratch_path("x.csv"), "--stop-when", "nobody=closed") == 2);
    /* A state that a signal never has would never stop anything. */
    static const char *const never[] = {"stop-button=banana", "stop-button=",        "stop-button=high",
                                        "encoder-1=open",     "motor-status=closed", "keypad=nobody",
                                        "house-battery=12.5", "house-battery=open"};
    for (size_t i = 0; i < ROWS(never); i++)
        CHECK_ROW(never[i], record_to(scratch_path("x.csv"), "--stop-when", never[i]) == 2);
    static const char *const states[] = {"stop-button=closed", "stop-button=open", "encoder-1=low",
                                         "keypad=park", "keypad=no button"};
    for (size_t i = 0; i < ROWS(states); i++)
        CHECK_ROW(states[i], record_to(scratch_path("x.csv"), "--stop-when", states[i]) == 0);
}

/* Behind its end a scene goes on: what moved stays, a pattern comes again and again. One closing in 60 ms
 * since 1 s, in a scene of two seconds, debounced for 5 ms: 1 + floor((100 - 0.005 - 1) / 0.06), whichever
 * rows are taken. */
static void goes_on_behind_the_scene(void)
{
    static const char scene[] = "tinyladder: scene 1\nlength: 2 s\nvalues:\n"
                                "  wheel: {repeat: [closed 15 ms, open 45 ms], from: 1 s}\n"
                                "  house-battery: [0 s: 12 V, 2 s: 11 V]\n";
    static const char *const every[] = {"10s", "50s"};
    const char *path = scratch_path("behind.csv");
    for (int i = 0; i < 2; i++) {
        unlink(path);
        run_result r = run_command("record", PLAN, "wheel", "house-battery", "--scene",
                                   scratch_file("short.scene.yaml", scene, strlen(scene)), "--for", "100s",
                                   "--every", every[i], "-o", path, NULL);
        char *text = text_of(path), wanted[40];
        snprintf(wanted, sizeof wanted, ",,,,,%d,fresh\n", 1 + (int)((100 - 0.005 - 1) / 0.06));
        const char *last = strstr(text, "\n100.0");
        CU_ASSERT(r.status == 0 && last != NULL && strstr(last, wanted) != NULL);
        CU_ASSERT(last != NULL && strstr(last, "house-battery,analog,") != NULL &&
                  strstr(last, ",10.95") != NULL);
        free(text);
        run_free(&r);
    }
}

/* A look of the whole plan takes longer than a millisecond: that is said, and no two rows of a signal tell
 * one time. A second of the scene takes a second where that is asked. */
static void tells_true_times(void)
{
    const char *path = scratch_path("quick.csv");
    double before = -1;
    int rows = 0;
    unlink(path);
    run_result r = run_command("record", PLAN, "--for", "50ms", "--every", "1ms", "-o", path, NULL);
    CU_ASSERT(r.status == 0 && strstr(r.out, "takes longer than --every") != NULL);
    char *text = text_of(path);
    for (const char *line = text; (line = strchr(line, '\n')) != NULL; line++) {
        if (strstr(line, ",counterweight,") == NULL || strstr(line, ",counterweight,") > line + 20)
            continue;
        const double at = strtod(line + 1, NULL);
        CU_ASSERT(at > before + 0.05); /* its converter takes 62 ms */
        before = at;
        rows++;
    }
    CU_ASSERT(rows == 51);
    free(text);
    run_free(&r);
    struct timespec begun, ended;
    clock_gettime(CLOCK_MONOTONIC, &begun);
    r = run_command("record", PLAN, "wheel", "--for", "300ms", "--every", "100ms", "--real-time", "-o",
                    scratch_path("paced.csv"), NULL);
    clock_gettime(CLOCK_MONOTONIC, &ended);
    CU_ASSERT(r.status == 0 &&
              difftime(ended.tv_sec, begun.tv_sec) + 1e-9 * (double)(ended.tv_nsec - begun.tv_nsec) >= 0.3);
    run_free(&r);
}

/* A pipe carries rows and nothing else. What happens now tells the wall clock too; a file that began without
 * goes on without. */
static void goes_to_a_pipe(void)
{
    run_result r = run_command("record", PLAN, "--for", "50ms", "--every", "1ms", "-o", "-", NULL);
    CU_ASSERT(r.status == 0 && strncmp(r.out, "s,signal,kind,", 14) == 0 &&
              strstr(r.out, "takes longer") == NULL && strstr(r.out, " times of ") == NULL);
    CU_ASSERT(strstr(r.err, "takes longer than --every") != NULL && strstr(r.err, "51 times of ") != NULL);
    CU_ASSERT(strstr(r.out, ",clock\n") == NULL && strstr(r.out, ",flags\n") != NULL);
    run_free(&r);
    r = run_command("record", PLAN, "wheel", "--for", "10ms", "--every", "10ms", "--real-time", "-o", "-",
                    NULL);
    int year = 0, millis = -1;
    const char *row = strstr(r.out, ",wheel,");
    CU_ASSERT(strstr(r.out, ",flags,clock\n") != NULL && row != NULL &&
              sscanf(strstr(row, ",fresh,"), ",fresh,%4d-%*2d-%*2dT%*2d:%*2d:%*2d.%3dZ", &year, &millis) ==
                  2 &&
              year > 2025 && millis >= 0);
    run_free(&r);
    unlink(scratch_path("older.csv"));
    for (int live = 0; live < 2; live++) {
        r = run_command("record", PLAN, "wheel", "--for", "10ms", "--every", "10ms", "-o",
                        scratch_path("older.csv"), live ? "--real-time" : NULL, NULL);
        CU_ASSERT(r.status == 0);
        run_free(&r);
    }
    char *text = text_of(scratch_path("older.csv"));
    CU_ASSERT(lines_of(text) == 1 + 2 * 3 && strstr(text, "Z\n") == NULL && strstr(text, "clock") == NULL);
    free(text);
}

/* Asked to end at any time: whole rows, a closed database, and the end that was asked for. */
static void ends_when_asked(void)
{
    static const char *const files[] = {"killed.csv", "killed.db"};
    for (int i = 0; i < 2; i++) {
        int status = 0;
        const char *path = scratch_path(files[i]);
        unlink(path);
        const pid_t child = fork();
        if (child == 0) {
            if (freopen("/dev/null", "w", stdout) == NULL)
                _exit(9);
            execl(TL_BUILD "/tinyladder", "tinyladder", "record", TL_SOURCE "/" PLAN, "--scene",
                  TL_SOURCE "/" SCENE, "--every", "10ms", "-o", path, (char *)NULL);
            _exit(9);
        }
        struct stat file = {.st_size = 0};
        for (int wait = 0; wait < 1000 && (stat(path, &file) != 0 || file.st_size == 0); wait++)
            usleep(20000);
        usleep(500000); /* some looks of it */
        kill(child, SIGTERM);
        CU_ASSERT(waitpid(child, &status, 0) == child && WIFSIGNALED(status) && WTERMSIG(status) == SIGTERM);
        run_result r = run_command("plot", path, "house-battery", NULL);
        CU_ASSERT(r.status == 0 && strstr(r.out, "house-battery") != NULL);
        run_free(&r);
    }
}

/* Somebody sets the clock meanwhile: as many rows as else, at the same times, and an end. */
static void goes_by_a_clock_that_is_not_set(void)
{
#ifdef TL_SANITIZED
    return; /* its own calls come first */
#endif
    static const struct {
        const char *before, *words, *rows;
    } rows[] = {
        {"", "--for 300ms --every 100ms --real-time", "0 4\n"},
        {"(printf 's 1 wanted 500\\n'; sleep 2) |", "--counts - --for 300ms", "0 1\n"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char line[900];
        snprintf(
            line, sizeof line,
            "rm -f jump.csv; %s ASAN_OPTIONS=verify_asan_link_order=0 LD_PRELOAD='" TL_BUILD
            "/tests/libjumping-clock.so' '" TL_BUILD "/tinyladder' record '" TL_SOURCE
            "/demo/cold-frame.plan.yaml' wanted %s -o jump.csv >jump.out; echo $? $(cut -d, -f2 jump.csv | "
            "grep -c wanted) $(awk -F, '$2 == \"wanted\" && !($1 >= 0 && $1 < 60)' jump.csv)",
            rows[i].before, rows[i].words);
        run_result r = run_program((const char *const[]){"sh", "-c", line, NULL}, TL_SCRATCH);
        CHECK_ROW(rows[i].words, strcmp(r.out, rows[i].rows) == 0);
        if (strcmp(r.out, rows[i].rows) != 0)
            printf("\n  %s: %s%s\n", rows[i].words, r.out, r.err);
        run_free(&r);
    }
}

CU_TestInfo record_tests[] = {
    {"records and adds", records_and_adds},
    {"keeps a database", keeps_a_database},
    {"tells of damage", tells_of_damage},
    {"both kinds hold the same numbers", both_kinds_hold_the_same_numbers},
    {"refuses what is not its own", refuses_what_is_not_its_own},
    {"goes to a pipe", goes_to_a_pipe},
    {"ends when asked", ends_when_asked},
    {"goes on behind the scene", goes_on_behind_the_scene},
    {"tells true times", tells_true_times},
    {"goes by a clock that is not set", goes_by_a_clock_that_is_not_set},
    CU_TEST_INFO_NULL,
};
