/* SPDX-License-Identifier: MIT */
/* Counts from a real board, through the command: what a line may look like, what is wrong with one, and that
 * the plan makes of a count what it makes of the bench's. */
#include "support.h"
#include <stdio.h>
#include <string.h>

#define PLAN "demo/fernhill.plan.yaml"
#define TINYLADDER TL_BUILD "/tinyladder"
#define FILE_OF TL_SCRATCH "/counts.txt"

static run_result shell(const char *script)
{
    const char *const words[] = {"sh", "-c", script, NULL};
    return run_program(words, TL_SOURCE);
}

static run_result read_counts(const char *signals)
{
    char script[3000];
    snprintf(script, sizeof script, "%s read " PLAN " %s --counts " FILE_OF " --csv --wait 1s", TINYLADDER,
             signals);
    return shell(script);
}

static void kinds_of_lines(void)
{
    static const struct {
        const char *name, *lines, *signals, *out, *err;
    } rows[] = {
        {"pairs", "house-battery 3179\n", "house-battery", ",house-battery,3179,2.56120605,12.5925964,V,85,",
         ""},
        {"firmware's names, and words behind", "house_battery=3179 is 12.59 V\n", "house-battery",
         ",3179,2.561", ""},
        {"several", "twilight: 900; house-battery: 3179\r\n", "twilight", "twilight,900,", ""},
        {"a mean", "house-battery 3179.5\n", "house-battery", ",12.594577,V,", ""},
        {"csv, its time in ms", "ms,twilight,house-battery\n1500,900,3179\n", "house-battery",
         "1.500000,house-battery,3179", ""},
        {"csv, quoted, empty fields", "\"us\",\"twilight\",house-battery\n7,,3179\n8,900,\n",
         "twilight house-battery", "0.000008,twilight,900", ""},
        {"csv, quotes that do not match", "s,twilight\n1,900\n2,\"5\n", "twilight", "twilight,900,",
         ":3: quotes that do not match"},
        {"json", "{\"s\": 2, \"twilight\": 900, \"open-button\": false}\n", "open-button",
         "2.000000,open-button,0,,1,", ""},
        {"levels", "open-button high\n", "open-button", "open-button,1,,0,", ""},
        {"the last of a file counts", "twilight 5\ntwilight 900\n", "twilight", "twilight,900,", ""},
        {"an end of the converter", "twilight 0\n", "twilight", "fresh, clipped low", ""},
        {"beyond the sensor's law", "mirror-temperature 267\n", "mirror-temperature",
         ",45,degC,,45,inf,,\"fresh, beyond\"", ""},
        {"a fault's window", "mirror-temperature 4090\n", "mirror-temperature", "open wire", ""},
        {"comments and empty lines", "# a board\n\ntwilight 900\n", "twilight", "twilight,900,", ""},
        {"no such signal", "nothing 4\ntwilight 900\n", "twilight", "twilight,900,",
         ":1: the plan has no signal 'nothing'"},
        {"no such column", "twilight,nothing\n900,4\n", "twilight", "twilight,900,",
         ":1: the plan has no signal 'nothing'"},
        {"no count", "twilight abc\ntwilight 900\n", "twilight", "twilight,900,",
         ":1: no count behind 'twilight'"},
        {"no JSON", "{\"twilight\": 5\n{\"twilight\": 900}\n", "twilight", "twilight,900,",
         ":1: no JSON object of numbers"},
        {"out of range", "twilight 900\ntwilight 4096\n", "twilight", "twilight,900,",
         ":2: beyond the ADC's counts: 'twilight'"},
        {"no level", "open-button 0\nopen-button 2\n", "open-button", "open-button,0,",
         ":2: a level is 0 or 1: 'open-button'"},
        {"too few fields", "s,twilight\n1,900\n2\n", "twilight", "twilight,900,",
         ":3: fewer fields than the head has"},
        {"too many fields", "s,twilight\n1,900\n2,5,5\n", "twilight", "twilight,900,",
         ":3: more fields than the head has"},
        {"no end of line", "twilight 900\ntwilight 9", "twilight", "twilight,900,",
         ":2: the last line has no end"},
        {"doubled", "s,twilight\n1,900\n1,900\n", "twilight", "twilight,900,", ":3: the same line again"},
        {"late", "s,twilight\n2,900\n1,5\n", "twilight", "twilight,900,",
         ":3: its time is before that of the line before"},
        {"levels in JSON words", "{\"open-button\": \"high\"}\n", "open-button", "open-button,1,,0,", ""},
        {"a line without a time behind one with", "twilight 900 s 7\nhouse-battery 3179\n", "house-battery",
         "7.000000,house-battery,3179", ""},
        {"before 0", "s,twilight\n1,900\n-2,5\n", "twilight", "twilight,900,", ":3: a time is 0 or later"},
        {"no time of a clock", "twilight 900\nus 1e30 twilight 5\n", "twilight", "twilight,900,",
         ":2: a time is 0 or later"},
        {"a time in a JSON word", "{\"twilight\": 900}\n{\"s\": true, \"twilight\": 5}\n", "twilight",
         "twilight,900,", ":2: no JSON object of numbers"},
        {"a JSON time before 0", "{\"twilight\": 900}\n{\"twilight\": 5, \"ms\": -1}\n", "twilight",
         "twilight,900,", ":2: a time is 0 or later"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        scratch_file("counts.txt", rows[i].lines, strlen(rows[i].lines));
        run_result r = read_counts(rows[i].signals);
        const bool good = r.status == 0 && strstr(r.out, rows[i].out) != NULL &&
                          (rows[i].err[0] == '\0'
                               ? r.err[0] == '\0'
                               : strstr(r.err, rows[i].err) != NULL && strstr(r.err, "left out") != NULL);
        CHECK_ROW(rows[i].name, good);
        if (!good)
            printf("\n  %s: %d\n%s%s", rows[i].name, r.status, r.out, r.err);
        run_free(&r);
    }
    scratch_file("counts.txt", "twilight 900\n\0\n", 15);
    run_result r = read_counts("twilight house-battery");
    CU_ASSERT(r.status == 4 && strstr(r.out, "house-battery,,,,,,,,,no answer in time") != NULL &&
              strstr(r.err, "not every signal came from") != NULL &&
              strstr(r.err, ":2: no line of text") != NULL);
    run_free(&r);
}

/* What the bench reads, sent back as counts, is the same to the last figure. */
static void the_plan_makes_the_same_of_them(void)
{
    char script[3000];
    snprintf(
        script, sizeof script,
        "%s read " PLAN
        " --csv | grep -v ',output\\|undriven' | awk -F, 'NR > 1 && $3 != \"\" { print $2, $3 }' >" FILE_OF
        "; %s read " PLAN " --csv | cut -d, -f 2,3,5-10,12 | sort >" FILE_OF ".bench"
        "; %s read " PLAN " --csv --counts " FILE_OF " 2>" FILE_OF
        ".err | cut -d, -f 2,3,5-10,12 | sort >" FILE_OF ".back"
        "; grep -c . " FILE_OF "; comm -12 " FILE_OF ".bench " FILE_OF ".back | wc -l",
        TINYLADDER, TINYLADDER, TINYLADDER);
    run_result r = shell(script);
    int sent = 0, same = 0;
    CU_ASSERT(sscanf(r.out, "%d %d", &sent, &same) == 2);
    CU_ASSERT(sent >= 27 && same >= 26); /* all but outputs and the head, which is there twice */
    run_free(&r);
}

/* Half a line that nobody ends holds up nothing: what came before it counts, and the time that was given is
 * kept. */
static void half_a_line_does_not_wait_for_ever(void)
{
    run_result r =
        shell("rm -f " FILE_OF "; mkfifo " FILE_OF "; timeout 20 " TINYLADDER " read " PLAN
              " twilight house-battery --csv --counts - --wait 500ms <" FILE_OF " & exec 3>" FILE_OF
              "; printf 'twilight 900\\nhouse-battery 27' >&3; wait $!; echo $?; rm -f " FILE_OF);
    CU_ASSERT(strstr(r.out, ",twilight,900,") != NULL &&
              strstr(r.out, "house-battery,,,,,,,,,no answer in time\n4\n") != NULL);
    run_free(&r);
    r = shell("rm -f " FILE_OF " " FILE_OF ".csv; mkfifo " FILE_OF "; timeout 20 " TINYLADDER " record " PLAN
              " twilight --counts - --for 500ms -o " FILE_OF ".csv <" FILE_OF " & exec 3>" FILE_OF
              "; printf 'twilight 900\\ntwil' >&3; wait $!; echo $?; rm -f " FILE_OF);
    CU_ASSERT(strstr(r.out, "1 line from standard input") != NULL && strstr(r.out, "\n0\n") != NULL);
    run_free(&r);
    r = shell("echo house-battery 900 | " TINYLADDER " read " PLAN " house-battery --counts -");
    CU_ASSERT(strstr(r.out, ", counts from standard input. ") != NULL);
    run_free(&r);
}

/* A press in a line that is left out is none. */
static void closings_are_those_of_lines_that_count(void)
{
    static const char lines[] = "s,open-button\n1,1\n2,0\n3,1\n2.5,0\n3.5,1\n4,0\n";
    scratch_file("counts.txt", lines, strlen(lines));
    run_result r = shell("rm -f " FILE_OF ".csv; " TINYLADDER " record " PLAN " open-button --counts " FILE_OF
                         " -o " FILE_OF ".csv; tail -1 " FILE_OF ".csv");
    CU_ASSERT(strstr(r.out, "4.000000,open-button,digital,0,,1,,,,,2,fresh,2") != NULL &&
              strstr(r.err, "1 late") != NULL);
    run_free(&r);
}

/* A board that tells a line's level with its time: 25 ms a period, then nothing for two seconds. */
static void rhythms_are_measured(void)
{
    static const struct {
        const char *at, *out;
    } rows[] = {{"too early", "\n0.112500,speed,timed,1,,,,,,,,not measured yet,"},
                {"it turns", "\n1.500000,speed,timed,0,,40,Hz,,,,,fresh,"},
                {"it stands", "\n4.000000,speed,timed,1,,0,Hz,,,,,fresh,"}};
    char lines[20000] = "";
    for (int i = 0; i <= 120; i++)
        sprintf(lines + strlen(lines), "s %.4f speed %d\n", 0.0125 * i, i % 2 != 0);
    sprintf(lines + strlen(lines), "s 1.51 speed 1\ns 2.5 speed 1\ns 4 speed 1\n");
    scratch_file("counts.txt", lines, strlen(lines));
    for (size_t i = 0; i < ROWS(rows); i++) {
        run_result r = shell("rm -f " FILE_OF ".csv; " TINYLADDER
                             " record docs/recipes/bath.plan.yaml speed --counts " FILE_OF " -o " FILE_OF
                             ".csv; cat " FILE_OF ".csv");
        CHECK_ROW(rows[i].at, strstr(r.out, rows[i].out) != NULL);
        run_free(&r);
    }
}

/* The sender's end stays open all the while. */
static void are_recorded_as_they_come(void)
{
#define RECORD TL_SCRATCH "/counts.csv"
    run_result r = shell(
        "rm -f " RECORD " " FILE_OF "; mkfifo " FILE_OF "; timeout 15 " TINYLADDER " record " PLAN
        " twilight --counts - -o " RECORD " --stop-when stop-button=closed <" FILE_OF " & exec 3>" FILE_OF
        "; trap : PIPE; for i in 1 2 3 4 5; do echo \"s $i twilight 90$i stop-button $((i > 2))\" "
        ">&3; done; wait $!; echo $?; "
        "cut -d, -f 1,2,4 " RECORD);
    CU_ASSERT(strstr(r.out, "3 lines from standard input, up to 3 s; stopped as asked\n0\n") != NULL &&
              strstr(r.out, "1.000000,twilight,901\n2.000000,twilight,902\n3.000000,twilight,903\n") !=
                  NULL &&
              strstr(r.out, "904") == NULL);
    run_free(&r);
}

static void sources_that_are_not_there(void)
{
    static const struct {
        const char *options, *err;
        int status;
    } rows[] = {
        {"--counts /nowhere/at-all", "--counts: /nowhere/at-all: No such file or directory", 3},
        {"--counts demo", "--counts: demo: a folder", 3},
        {"--counts " PLAN "@9600", "no serial line: a speed means nothing there", 3},
        {"--counts unix:/nowhere/x", "No such file or directory", 3},
        {"--counts tcp:localhost", "expected tcp:HOST:PORT", 3},
        {"--counts tcp:127.0.0.1:1", "Connection refused", 3},
        {"--counts - --at 5s", "--counts: the real board has no --scene, --fault, --at", 2},
        {"--counts - --wait 0s", "--wait: expected up to 24 h", 2},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char script[3000];
        snprintf(script, sizeof script, "%s read " PLAN " twilight %s </dev/null", TINYLADDER,
                 rows[i].options);
        run_result r = shell(script);
        CHECK_ROW(rows[i].options, r.status == rows[i].status && strstr(r.err, rows[i].err) != NULL);
        run_free(&r);
    }
}

/* A row is handed on when it comes, not when the input ends. */
static void convert_does_not_wait_for_the_end(void)
{
    run_result r = shell("rm -f " FILE_OF " " FILE_OF ".out; mkfifo " FILE_OF "; timeout 15 " TINYLADDER
                         " convert " PLAN " house-battery <" FILE_OF " >" FILE_OF ".out & exec 3>" FILE_OF
                         "; echo 100 >&3; for i in 1 2 3 4 5 6 7 8 9 10; do sleep 0.1; [ ! -s " FILE_OF
                         ".out ] || break; done; cat " FILE_OF ".out; rm -f " FILE_OF);
    CU_ASSERT(strncmp(r.out, "100,0.0805", 10) == 0);
    run_free(&r);
}

/* For people: the value stands at the end of the law, and the truth is there or beyond. */
static void a_law_that_ends_is_said(void)
{
    const char *path = scratch_file("hot", "mirror-temperature 267\n", 23);
    run_result r =
        run_command("read", "demo/fernhill.plan.yaml", "mirror-temperature", "--counts", path, NULL);
    CU_ASSERT(r.status == 0 && strstr(r.out, " at or beyond 45.0 °C ") != NULL &&
              strstr(r.out, "beyond: the sensor's law ends here") != NULL);
    run_free(&r);
    r = run_command("read", "demo/fernhill.plan.yaml", "mirror-temperature", "--counts", path, "--json",
                    NULL);
    CU_ASSERT(r.status == 0 && strstr(r.out, "\"beyond\": true") != NULL &&
              strstr(r.out, "\"high\": null") != NULL);
    run_free(&r);
}

/* `watch`, as lines: what has changed, whom nothing was heard of, and the end. */
static void watch_follows_the_board(void)
{
    const char *path = scratch_file("watched", "wanted 818\nlid 1\nwanted 818\nnobody 4\nwanted 400\n", 48);
    run_result r =
        run_command("watch", "demo/cold-frame.plan.yaml", "wanted", "lid", "tank", "--counts", path, NULL);
    CU_ASSERT(r.status == 0 && strstr(r.out, "80 %  fresh\n") != NULL &&
              strstr(r.out, "39 %  fresh\n") != NULL);
    CU_ASSERT(strstr(r.out, "lid                                open  fresh\n") != NULL &&
              strstr(r.out, "no answer in time") != NULL);
    CU_ASSERT(strstr(r.err, "the plan has no signal 'nobody'") != NULL);
    int wanted = 0;
    for (const char *at = r.out; (at = strstr(at, "wanted ")) != NULL; at++)
        wanted++;
    CU_ASSERT(wanted == 2); /* 80 %, 39 %: the same again is not told */
    run_free(&r);
    r = run_command("watch", "demo/cold-frame.plan.yaml", "--counts", path, "--speed", "3", NULL);
    CU_ASSERT(r.status == 2 && strstr(r.err, "the real board has no --scene") != NULL);
    run_free(&r);
    r = run_command("watch", "demo/cold-frame.plan.yaml", "--counts", "/nowhere/at-all", NULL);
    CU_ASSERT(r.status != 0 && r.err[0] != '\0');
    run_free(&r);
}

/* Somebody holds a meter to a battery of 12.71 V and then of 11.05 V, and types that: the counts are of just
 * then. */
static void trim_takes_them_beside_a_meter(void)
{
    static const struct {
        const char *name, *typed, *out, *err;
        int status;
    } rows[] = {
        {"two pairs", "sleep 1; echo 12.71V; sleep 3; touch low; sleep 1; echo 11.05 V; sleep 3; echo",
         "   3210   12.7100 ", "11.05 V: 2782 counts, the mean of 16\n", 0},
        {"one is too few", "sleep 0.5; echo 12.71V; sleep 1", "", "at least two pairs", 1},
        {"no unit", "sleep 0.5; echo 12.71", "", "12.71: error: '12.71' has no unit", 2},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char script[1200];
        snprintf(script, sizeof script,
                 "cd " TL_SCRATCH "; rm -f board low; mkfifo board; "
                 "(n=0; while [ $n -lt 3000 ]; do n=$((n + 1)); [ -e low ] && c=2782 || c=3210; "
                 "echo \"house-battery $c twilight 7\"; sleep 0.01; done >board 2>/dev/null) & "
                 "(%s) | " TL_BUILD "/tinyladder trim " TL_SOURCE
                 "/demo/fernhill.plan.yaml house-battery --counts board; s=$?; kill $! 2>/dev/null; exit $s",
                 rows[i].typed);
        run_result r = shell(script);
        CHECK_ROW(rows[i].name, r.status == rows[i].status && strstr(r.out, rows[i].out) != NULL &&
                                    strstr(r.err, rows[i].err) != NULL);
        if (strstr(r.err, rows[i].err) == NULL || r.status != rows[i].status)
            printf("\n  %s: %d\n%s%s", rows[i].name, r.status, r.out, r.err);
        run_free(&r);
    }
    /* A board that never pauses does not keep the meter from being typed. */
    run_result r =
        shell("cd " TL_SCRATCH "; rm -f board; mkfifo board; (yes 'house-battery 3210' >board "
              "2>/dev/null) & (sleep 0.5; echo 12.71V; sleep 0.5; echo) | timeout 30 " TL_BUILD
              "/tinyladder trim " TL_SOURCE "/demo/fernhill.plan.yaml house-battery --counts board");
    CU_ASSERT(strstr(r.err, "12.71V: 3210 counts, the mean of 16") != NULL &&
              strstr(r.err, "two pairs") != NULL);
    run_free(&r);
    r = run_command("trim", "demo/fernhill.plan.yaml", "house-battery", "--counts", "demo/fernhill.plan.yaml",
                    NULL);
    CU_ASSERT(r.status == 2 && strstr(r.err, "before the meter was read") != NULL);
    run_free(&r);
    r = run_command("trim", "demo/fernhill.plan.yaml", "house-battery", "--counts", "-", NULL);
    CU_ASSERT(r.status == 2 && strstr(r.err, "standard input is for the meter") != NULL);
    run_free(&r);
}

/* Of one signal, a row as each comes; lines that tell of no signal are told and counted. */
static void convert_takes_what_a_board_sends(void)
{
    static const char lines[] = "s 1 house-battery 3210\ns 2 twilight 9\ns 3 house-battery 2782\nnobody 3\n";
    const char *path = scratch_file("sent", lines, strlen(lines));
    run_result r = run_command("convert", "demo/fernhill.plan.yaml", "house-battery", "--counts", path, NULL);
    CU_ASSERT(r.status == 1 && strstr(r.err, "no signal 'nobody'") != NULL);
    CU_ASSERT_STRING_EQUAL(r.out, "s,count,pin_v,V,flags\n1.000000,3210,2.586182,12.72,fresh\n"
                                  "3.000000,2782,2.241357,11.02,fresh\n");
    run_free(&r);
    r = run_command("convert", "demo/fernhill.plan.yaml", "house-battery", path, "--counts", path, NULL);
    CU_ASSERT(r.status == 2 && strstr(r.err, "--counts goes with PLAN and SIGNAL alone") != NULL);
    run_free(&r);
}

/* A source that cannot be read to its end is no end: what has come is not all. (Of this one the first byte
 * fails.) */
static void a_source_that_fails_is_told(void)
{
    static const char *const verbs[] = {"convert", "read", "watch", "explain"};
    for (size_t i = 0; i < ROWS(verbs); i++) {
        run_result r =
            run_command(verbs[i], "demo/cold-frame.plan.yaml", "wanted", "--counts", "/proc/self/mem", NULL);
        CHECK_ROW(verbs[i],
                  r.status == 4 && strstr(r.err, "tinyladder: /proc/self/mem: Input/output error\n") != NULL);
        run_free(&r);
    }
}

CU_TestInfo counts_tests[] = {
    {"a source that fails is told", a_source_that_fails_is_told},
    {"rhythms are measured", rhythms_are_measured},
    {"trim takes them beside a meter", trim_takes_them_beside_a_meter},
    {"convert takes what a board sends", convert_takes_what_a_board_sends},
    {"a law that ends is said", a_law_that_ends_is_said},
    {"watch follows the board", watch_follows_the_board},
    {"come in three kinds of lines", kinds_of_lines},
    {"the plan makes the same of them", the_plan_makes_the_same_of_them},
    {"half a line does not wait for ever", half_a_line_does_not_wait_for_ever},
    {"closings are those of lines that count", closings_are_those_of_lines_that_count},
    {"are recorded as they come", are_recorded_as_they_come},
    {"sources that are not there", sources_that_are_not_there},
    {"convert does not wait for the end", convert_does_not_wait_for_the_end},
    CU_TEST_INFO_NULL,
};
