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
    CU_ASSERT(lines_of(text) == 1 + 11 * 3 && strncmp(text,
                                                      "s,signal,kind,count,pin_v,value,unit,percent,low,high,"
                                                      "closings,flags\n0.000093,house-battery,analog,",
                                                      90) == 0);
    free(text);
    /* A killed run left half a row: it is cut off, and nothing else. */
    FILE *half = fopen(path, "ab");
    fputs("660.000000,house-bat", half);
    fclose(half);
    CU_ASSERT(record_to(path, "--at", "25min") == 0);
    text = text_of(path);
    CU_ASSERT(lines_of(text) == 1 + 11 * 3 + 16 * 3 && strstr(text, "house-bat\n") == NULL &&
              strstr(text, "house-bat1") == NULL);
    CU_ASSERT(strstr(text, "1500.000204,mirror-temperature,analog,") != NULL &&
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
    CU_ASSERT(record_to(scratch_path("x.csv"), "--for", "2h") == 2);
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
        usleep(400000);
        kill(child, SIGTERM);
        CU_ASSERT(waitpid(child, &status, 0) == child && WIFSIGNALED(status) && WTERMSIG(status) == SIGTERM);
        run_result r = run_command("plot", path, "house-battery", NULL);
        CU_ASSERT(r.status == 0 && strstr(r.out, "house-battery") != NULL);
        run_free(&r);
    }
}

static void draws_records(void)
{
    const char *record = scratch_path("chart.csv"), *svg = scratch_path("chart.svg");
    unlink(record);
    unlink(svg);
    run_result r = run_command("record", PLAN, "--scene", SCENE, "--every", "2min", "-o", record, NULL);
    CU_ASSERT(r.status == 0);
    run_free(&r);
    r = run_command("plot", record, "--plan", PLAN, "-o", svg, NULL);
    CU_ASSERT(r.status == 0 && r.err[0] == '\0');
    run_free(&r);
    char *text = text_of(svg);
    CU_ASSERT(strstr(text, "<svg") != NULL && strstr(text, "house-battery") != NULL &&
              strstr(text, "starts") != NULL && strstr(text, "failed") != NULL &&
              strstr(text, "rain-plate") != NULL && strstr(text, "</svg>") != NULL);
    free(text);
    static const struct {
        const char *words[3];
        int status;
        const char *err;
    } rows[] = {{{"nobody"}, 1, "nothing to plot"},
                {{"-o", "x.pdf"}, 2, ".svg or .png"},
                {{"-o", "/nowhere/x.svg"}, 4, ""}};
    for (size_t i = 0; i < ROWS(rows); i++) {
        r = run_command("plot", record, rows[i].words[0], rows[i].words[1], NULL);
        CHECK_ROW(rows[i].words[0], r.status == rows[i].status && strstr(r.err, rows[i].err) != NULL);
        run_free(&r);
    }
    r = run_command("plot", PLAN, NULL);
    CU_ASSERT(r.status == 3 && strstr(r.err, "this is no record") != NULL);
    run_free(&r);
}

CU_TestInfo record_tests[] = {
    {"records and adds", records_and_adds},
    {"keeps a database", keeps_a_database},
    {"refuses what is not its own", refuses_what_is_not_its_own},
    {"ends when asked", ends_when_asked},
    {"draws records", draws_records},
    CU_TEST_INFO_NULL,
};
