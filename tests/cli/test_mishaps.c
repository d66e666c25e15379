/* SPDX-License-Identifier: MIT */
/* Full disks, two runs at once, no memory, strange names: nothing is lost without a word, and nothing half
 * written stays behind. */
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
#define TOOL TL_BUILD "/tinyladder"

/* A line for the shell, in the scratch folder; $T is the command, $D the demo data. */
static run_result shell(const char *line)
{
    char whole[3000];
    snprintf(whole, sizeof whole, "T='%s'; D='%s/demo'; %s", TOOL, TL_SOURCE, line);
    const char *const words[] = {"/bin/sh", "-c", whole, NULL};
    return run_program(words, TL_SCRATCH);
}

typedef struct {
    const char *name, *line;
    int status;
    const char *out, *err; /* must contain */
} shell_row;

static void check_shell(const shell_row *rows, size_t count)
{
    for (size_t i = 0; i < count; i++) {
        run_result r = shell(rows[i].line);
        const bool right = r.status == rows[i].status && strstr(r.out, rows[i].out) != NULL &&
                           strstr(r.err, rows[i].err) != NULL;
        CHECK_ROW(rows[i].name, right);
        if (!right)
            printf("\n  %s: status %d, out '%.300s', err '%.300s'\n", rows[i].name, r.status, r.out, r.err);
        run_free(&r);
    }
}

/* `ulimit -f` counts 512 bytes: a disk that is full after this many. The signal that comes with it is
 * ignored.
 */
static void full_disks_are_told(void)
{
    static const shell_row rows[] = {
        {"help", "$T --help >/dev/full", 4, "", "could not be written: No space left"},
        {"help of a verb", "$T size divider --help >/dev/full", 4, "", "No space left"},
        {"version", "$T --version >/dev/full", 4, "", "No space left"},
        {"table", "$T check $D/fernhill.plan.yaml >/dev/full", 4, "", "No space left"},
        {"JSON", "$T read $D/fernhill.plan.yaml --json >/dev/full", 4, "", "No space left"},
        {"rows", "seq 100000 | $T convert --bits 16 --reference 3.3V >/dev/full", 4, "", "No space left"},
        {"a CSV record keeps whole times",
         "rm -f full.csv; trap '' XFSZ; ulimit -f 8; $T record $D/fernhill.plan.yaml --for 100s -o full.csv",
         4, "time of 27 signals", "full.csv: error: File too large"},
        {"and says how many",
         "N=$(tail -n +2 full.csv | grep -cv ',run,\\|,level,'); tail -c 1 full.csv | od -An -c | grep -q "
         "'n' && "
         "test $((N % 31)) = 0 && test $N -gt 0 && echo whole",
         0, "whole", ""},
        {"a database keeps what it says",
         "rm -f full.db*; trap '' XFSZ; (ulimit -f 800; $T record $D/fernhill.plan.yaml --for 3000s -o "
         "full.db); "
         "echo \"status $?\"",
         0, "status 4", "full.db: error: "},
        {"a chart",
         "rm -f c.csv c.svg; $T record $D/fernhill.plan.yaml --scene $D/evening.scene.yaml --every 1min "
         "-o c.csv >/dev/null; trap '' XFSZ; ulimit -f 8; $T plot c.csv -o c.svg",
         4, "", "c.svg: error: File too large"},
        {"leaves nothing behind", "ls c.svg* 2>/dev/null | wc -l", 0, "0\n", ""},
        {"a chart on the terminal", "$T plot c.csv house-battery >/dev/full", 4, "", "No space left"},
    };
    check_shell(rows, ROWS(rows));
}

/* "N times": as many are in the database afterwards, whatever happened; two signals and an output. */
static void a_database_holds_what_was_said(void)
{
    sqlite3 *database = NULL;
    sqlite3_stmt *statement = NULL;
    run_result r = shell("rm -f said.db*; trap '' XFSZ; ulimit -f 2000; "
                         "$T record $D/fernhill.plan.yaml house-battery twilight --for 60000s -o said.db");
    const char *at = strstr(r.out, "said.db: ");
    const long said = at != NULL ? strtol(at + 9, NULL, 10) : -1;
    CU_ASSERT(r.status == 4 && said > 0 && said < 60001 && strstr(r.out, "the rest is lost") != NULL);
    run_free(&r);
    CU_ASSERT(sqlite3_open(TL_SCRATCH "/said.db", &database) == SQLITE_OK);
    CU_ASSERT(sqlite3_prepare_v2(database, "SELECT count(DISTINCT round(s)), count(*) FROM reading", -1,
                                 &statement, NULL) == SQLITE_OK &&
              sqlite3_step(statement) == SQLITE_ROW);
    CU_ASSERT(sqlite3_column_int(statement, 0) == said && sqlite3_column_int(statement, 1) == 3 * said);
    sqlite3_finalize(statement);
    sqlite3_close(database);
}

/* Two at once into one file: one is refused, or both are in it; never one into the other's rows. */
static void two_runs_do_not_mix(void)
{
    static const shell_row rows[] = {
        {"CSV: the second is refused",
         "rm -f two.csv; $T record $D/fernhill.plan.yaml --for 20s --every 1ms -o two.csv >first.txt & sleep "
         "0.3; "
         "$T record $D/fernhill.plan.yaml --for 1s -o two.csv; echo \"second $?\"; kill $!; wait $! "
         "2>/dev/null; true",
         0, "second 4", "another run is recording into it"},
        {"a new database: both are in it",
         "rm -f two.db*; for i in 1 2 3 4; do $T record $D/fernhill.plan.yaml house-battery --for 20s -o "
         "two.db & "
         "done; wait; $T plot two.db house-battery >/dev/null && echo drawn",
         0, "drawn", ""},
    };
    check_shell(rows, ROWS(rows));
    sqlite3 *database = NULL;
    sqlite3_stmt *statement = NULL;
    CU_ASSERT(sqlite3_open(TL_SCRATCH "/two.db", &database) == SQLITE_OK);
    CU_ASSERT(sqlite3_prepare_v2(database, "SELECT (SELECT count(*) FROM run), count(*) FROM reading", -1,
                                 &statement, NULL) == SQLITE_OK &&
              sqlite3_step(statement) == SQLITE_ROW);
    CU_ASSERT(sqlite3_column_int(statement, 0) == 4 && sqlite3_column_int(statement, 1) == 4 * 21);
    sqlite3_finalize(statement);
    sqlite3_close(database);
}

/* Names are never part of a shell's line or of a script, and a terminal never obeys them. */
static void strange_names_do_nothing(void)
{
    static const shell_row rows[] = {
        {"a folder for temporary files",
         "rm -f P7; TMPDIR='inj/$(touch P7)' $T plot c.csv house-battery >/dev/null; "
         "echo $?; test -e P7 || echo clean",
         0, "0\nclean", ""},
        {"one that is not there", "TMPDIR=/no/where $T plot c.csv -o t.png && echo drawn", 0, "drawn", ""},
        {"a record",
         "cp c.csv \"it's \\$(touch P8).csv\"; $T plot \"it's \\$(touch P8).csv\" -o \"a'b;c.svg\" && "
         "test ! -e P8 && head -c 5 \"a'b;c.svg\"",
         0, "<?xml", ""},
        {"an escape in an option", "$T check \"$(printf 'a\\033[31m')\"", 2, "",
         "argument 2 holds a control character"},
        {"an escape of eight bits", "$T size divider --vin \"$(printf '\\302\\2331m')\"", 2, "",
         "(byte 0xc2)"},
        {"an escape in TERM",
         "TERM=$(printf 'x\\033[31m') script -qec \"$T watch $D/fernhill.plan.yaml --frames 1\" /dev/null | "
         "od -An -c | "
         "grep -c '033'; true",
         0, "0\n", ""},
        {"a TERM of no terminal",
         "TERM=no-such-terminal script -qec \"$T watch $D/fernhill.plan.yaml --frames 1\" /dev/null", 4,
         "this terminal cannot be used", ""},
        {"an escape in a record",
         "printf 's,signal,kind,count,pin_v,value,unit,low,high,flags\\n0,a\\033[31mb,analog,1,"
         "1,1,V,1,1,fresh\\n1,a\\033[31mb,analog,1,1,2,V,1,1,fresh\\n' >e.csv; $T plot e.csv | "
         "od -An -c | grep -c 033; true",
         0, "0\n", ""},
        {"two flags are one field of a record",
         "rm -f stop.csv; $T record stop.plan.yaml --scene stop.scene.yaml -o stop.csv >/dev/null; "
         "grep -c '\"fresh, clipped high\"$' stop.csv; $T plot stop.csv | grep -c knob",
         0, "3\n1\n", ""},
        {"and of a reading",
         "$T read stop.plan.yaml --scene stop.scene.yaml --csv | grep -c '\"fresh, clipped high\"$'", 0,
         "1\n", ""},
    };
    static const char plan[] =
        "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE
        "/demo/lapwing.board.yaml\nsignals: {knob: {source: {potentiometer: 10k, top: logic}, "
        "pin: L5}}\n",
                      scene[] = "tinyladder: scene 1\nlength: 2 s\nvalues: {knob: [0 s: 100 %]}\n";
    scratch_file("stop.plan.yaml", plan, strlen(plan));
    scratch_file("stop.scene.yaml", scene, strlen(scene));
    check_shell(rows, ROWS(rows));
}

/* In the library: an attempt that finds no memory ends, and the next one works. */
static void no_memory_is_a_status(void)
{
#ifdef TL_SANITIZED
    return; /* which has a memory of its own */
#endif
    run_result r = run_program((const char *const[]){TL_BUILD "/tests/attempts",
                                                     "demo/sound/workshop-on-the-plover.plan.yaml", NULL},
                               TL_SOURCE);
    CU_ASSERT(r.status == 0 && atol(r.out) > 200);
    if (r.status != 0)
        printf("\n  attempts: %d %s%s\n", r.status, r.out, r.err);
    run_free(&r);
}

/* A request for memory that fails gives the whole answer all the same, or one line and status 4. Libraries
 * that begin before main() has its say are left out. */
/* Each call about files, folders and children fails once (here: six of each run, `make check-long` all).
 */
static void files_that_fail_are_told(void)
{
#ifdef TL_SANITIZED
    return; /* its own calls come first */
#endif
    run_result r =
        run_program((const char *const[]){"python3", "tests/cli/failing_files.py", TOOL,
                                          TL_BUILD "/tests/libno-files.so", "demo", TL_SCRATCH "/failing",
                                          getenv("TL_LONG") != NULL ? "100000" : "6", NULL},
                    TL_SOURCE);
    CU_ASSERT(r.status == 0 && strstr(r.out, " 0 of them badly ended\n") != NULL);
    if (r.status != 0)
        printf("\n%s%s\n", r.out, r.err);
    run_free(&r);
}

static void no_memory_is_told(void)
{
#ifdef TL_SANITIZED
    return; /* which has a memory of its own */
#else
    static const struct {
        const char *words;
        int first, step, most;
    } rows[] = {
        {"size divider --vin 12V --vmax 3V --drawer $D/bench.drawer.yaml --json", 60, 37, 1800},
        {"read $D/fernhill.plan.yaml --json", 60, 211, 9000},
        {"check $D/faulty/over-limit.plan.yaml --json", 60, 67, 3000},
        {"pins $D/fernhill.plan.yaml --json", 60, 97, 4000},
        {"word $D/lapwing.board.yaml --set channel=6 --json", 60, 53, 1500},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char line[1200];
        snprintf(line, sizeof line,
                 "$T %s >whole.txt 2>whole.err; W=$?; for n in $(seq %d %d %d); do for on in '' "
                 "NO_MEMORY_ON=1; do "
                 "env $on LD_PRELOAD='" TL_BUILD
                 "/tests/libno-memory.so' NO_MEMORY_AT=$n $T %s >part.txt 2>part.err; "
                 "S=$?; if [ $S = $W ] && cmp -s whole.txt part.txt; then :; elif [ $S = 4 ] && grep -q 'out "
                 "of memory' "
                 "part.err; then echo refused; else echo \"at $n: status $S: $(head -c 80 part.err)\" >&2; "
                 "fi; done; done "
                 "| sort | uniq -c",
                 rows[i].words, rows[i].first, rows[i].step, rows[i].most, rows[i].words);
        run_result r = shell(line);
        CHECK_ROW(rows[i].words, r.err[0] == '\0' && strstr(r.out, "refused") != NULL);
        if (r.err[0] != '\0')
            printf("\n  %s: %.400s\n", rows[i].words, r.err);
        run_free(&r);
    }
#endif
}

CU_TestInfo mishap_tests[] = {
    {"full disks are told", full_disks_are_told},
    {"a database holds what was said", a_database_holds_what_was_said},
    {"two runs do not mix", two_runs_do_not_mix},
    {"strange names do nothing", strange_names_do_nothing},
    {"files that fail are told", files_that_fail_are_told},
    {"no memory is told", no_memory_is_told},
    {"no memory is a status", no_memory_is_a_status},
    CU_TEST_INFO_NULL,
};
