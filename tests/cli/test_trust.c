/* SPDX-License-Identifier: MIT */
/* What must not happen to anybody's files and time: lost updates, half files, waits without an end, inputs
 * without a bound. */
#define _GNU_SOURCE
#include "base/replace_file.h"
#include "support.h"
#include <errno.h>
#include <fcntl.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

/* Sanitizers reserve more than there is. */
#ifdef TL_SANITIZED
#define MEMORY_OF(kilobytes) ""
#else
#define MEMORY_OF(kilobytes) "ulimit -v " #kilobytes "; "
#endif

static run_result sh(const char *script)
{
    return run_program((const char *const[]){"/bin/sh", "-c", script, NULL}, TL_SOURCE);
}

/* Each row is a script in a folder of its own; T is the command. */
typedef struct {
    const char *name, *script, *says;
} trust_row;

static void check_rows(const trust_row *rows, size_t count)
{
    for (size_t i = 0; i < count; i++) {
        char script[3000];
        snprintf(script, sizeof script,
                 "S=$PWD; T=" TL_BUILD "/tinyladder; rm -rf " TL_SCRATCH "/in; mkdir " TL_SCRATCH
                 "/in; cd " TL_SCRATCH "/in; cp $S/demo/lapwing.board.yaml .; { %s; } 2>&1",
                 rows[i].script);
        run_result r = sh(script);
        const bool good = strstr(r.out, rows[i].says) != NULL;
        CHECK_ROW(rows[i].name, good);
        if (!good)
            printf("\n  %s: %d\n%s", rows[i].name, r.status, r.out);
        run_free(&r);
    }
}

/* --- files --- */

static void no_update_is_lost(void)
{
    const char *path = scratch_file("own.txt", "old", 3);
    CU_ASSERT(!replace_file_of(path, &(file_before){"other", 5}, "new", 3) && errno == ESTALE);
    CU_ASSERT(!replace_file_of(path, &(file_before){"ol", 2}, "new", 3) && errno == ESTALE);
    CU_ASSERT(!replace_file_of(path, &(file_before){"older", 5}, "new", 3) && errno == ESTALE);
    const int file = open(path, O_RDONLY);
    CU_ASSERT_FATAL(flock(file, LOCK_EX) == 0);
    CU_ASSERT(!replace_file_of(path, &(file_before){"old", 3}, "new", 3) && errno == EWOULDBLOCK);
    close(file);
    CU_ASSERT(replace_file_of(path, &(file_before){"old", 3}, "new", 3));
    char *text = text_of(path);
    CU_ASSERT_STRING_EQUAL(text, "new");
    free(text);
    /* Two writers at once, twenty times: each either writes or says so, and what was said to be written is
     * there. */
    static const trust_row row = {
        "two writers",
        "sed -n '/^# /d; p' $S/demo/faulty/over-limit.plan.yaml | sed 's|board: .*|board: "
        "lapwing.board.yaml|' >a.yaml; lost=0; "
        "for i in 1 2 3 4 5 6 7 8 9 10 11 12 13 14 15 16 17 18 19 20; do cp a.yaml p.plan.yaml; "
        "$T check p.plan.yaml --fix >one 2>&1 & $T trim p.plan.yaml house-battery 1000=0.81V 3000=2.42V --of "
        "pin "
        "--write >two 2>&1; two=$?; "
        "wait $!; grep -q 'changed it meanwhile\\|is writing it' one; one=$?; "
        "[ $two = 0 ] && ! grep -q trim p.plan.yaml && lost=$((lost + 1)); "
        "[ $one = 1 ] && ! grep -q divider p.plan.yaml && lost=$((lost + 1)); done; echo lost $lost",
        "lost 0\n"};
    check_rows(&row, 1);
}

static void nothing_is_left_behind(void)
{
    char live[300];
    const char *path = scratch_file("kept.txt", "old", 3);
    snprintf(live, sizeof live, "%s.%ld-7", path, (long)getpid());
    char *dead = strdup(scratch_file("kept.txt.99999999-0", "x", 1)),
         *other = strdup(scratch_file("kept.txt.bak-1", "x", 1));
    FILE *file = fopen(live, "w");
    CU_ASSERT_FATAL(file != NULL);
    fclose(file);
    CU_ASSERT(replace_file(path, "new", 3));
    CU_ASSERT(access(dead, F_OK) != 0 && access(other, F_OK) == 0 && access(live, F_OK) == 0);
    unlink(live);
    struct stat is;
    if (geteuid() == 0) { /* root changes a user's file, and it stays the user's */
        CU_ASSERT(chown(path, 4321, 8765) == 0 && chmod(path, 0640) == 0 && replace_file(path, "newer", 5));
        CU_ASSERT(stat(path, &is) == 0 && is.st_uid == 4321 && is.st_gid == 8765 &&
                  (is.st_mode & 07777) == 0640);
    }
    free(dead);
    free(other);
}

static void nothing_waits_for_ever(void)
{
    static const trust_row rows[] = {
        {"a plan", "mkfifo p.plan.yaml; timeout 5 $T check p.plan.yaml; echo $?", "it is no regular file"},
        {"a header", "mkfifo p.h; timeout 5 $T header $S/demo/desk.plan.yaml -o p.h; echo $?",
         "no header of this plan"},
        {"a header that is forced",
         "mkfifo p.h; timeout 5 $T header $S/demo/desk.plan.yaml -f -o p.h; echo $?", "\n4\n"},
        {"a record", "mkfifo p.csv; timeout 5 $T record $S/demo/desk.plan.yaml --for 1s -o p.csv; echo $?",
         "p.csv: error: this is no file; -o - writes CSV to a pipe\n4\n"},
        {"a database", "mkfifo p.db; timeout 5 $T record $S/demo/desk.plan.yaml --for 1s -o p.db; echo $?",
         "this is no file"},
        {"a dump", "mkfifo p.vcd; timeout 5 $T record $S/demo/desk.plan.yaml --for 1s -o p.vcd; echo $?",
         "this is no file"},
        {"a plot", "mkfifo p.csv; timeout 5 $T plot p.csv; echo $?", "p.csv: error: this is no file\n3\n"},
        {"a disk that is full",
         "ulimit -f 1; $T record $S/demo/fernhill.plan.yaml --for 100s -o p.csv; echo $?",
         "p.csv: error: File too large"},
        {"its rest",
         "ulimit -f 1; $T record $S/demo/fernhill.plan.yaml --for 100s -o p.csv >/dev/null; echo $?; tail -c "
         "1 p.csv | od -An -c",
         "4\n  \\n\n"},
    };
    check_rows(rows, ROWS(rows));
}

/* --- what comes in --- */

static void inputs_have_bounds(void)
{
    static const trust_row rows[] = {
        {"keys",
         "{ echo 'tinyladder: plan 1'; echo 'board: lapwing.board.yaml'; seq -f 'key%.0f: 1' 19000; } "
         ">p.plan.yaml; "
         "" MEMORY_OF(524288) "timeout 2 $T check p.plan.yaml; echo $?",
         "a plan has at most 1000 keys [too-many]"},
        {"signals",
         "{ echo 'tinyladder: plan 1'; echo 'board: lapwing.board.yaml'; echo 'signals:'; seq -f '  s%.0f: "
         "{source: {rail: logic}, pin: L4}' "
         "9000; } >p.plan.yaml; timeout 5 $T check p.plan.yaml; echo $?",
         "a plan has at most 1000 signals [too-many]"},
        {"a record without a line",
         "{ printf 's,signal,kind,count,pin_v,value,unit,percent,low,high,closings,flags\\n'; head -c "
         "100000000 /dev/zero "
         "| tr '\\0' x; } >p.csv; " MEMORY_OF(262144) "timeout 2 $T plot p.csv; echo $?",
         "this is no record\n3\n"},
        {"a table that fuzzing found",
         "cp $S/docs/recipes/oil.plan.yaml $S/docs/recipes/*.board.yaml .; printf "
         "'degC,ohm\\n2147483648,520\\n120,82\\n' "
         ">oil.table.csv; $T header oil.plan.yaml -d >o.h; [ $? -le 3 ] && echo ended",
         "ended\n"},
        {"names",
         "printf 'tinyladder: plan 1\\nboard: lapwing.board.yaml\\nsignals:\\n  --json: {source: {rail: "
         "logic}, pin: L4}\\n' >p.plan.yaml; "
         "$T check p.plan.yaml; echo $?",
         "'--json' is no name: it would look like an option"},
        {"a line of counts",
         "printf 'house-battery \\033[31m12\\n' >c; timeout 5 $T read $S/demo/fernhill.plan.yaml "
         "house-battery --counts c | od -c "
         "| grep -c 033; echo none",
         "0\nnone\n"},
    };
    check_rows(rows, ROWS(rows));
}

static void tables_are_tables(void)
{
    static const trust_row rows[] = {
        {"a line break in quotes",
         "printf 'count,note\\n5,\"a\\nb\"\\n6,c\\n' | $T convert --bits 10 --reference 5V",
         "count,note,volts,flags\n5,\"a\nb\",0.024414,fresh\n6,c,0.029297,fresh\n"},
        {"quotes without an end",
         "printf 'count,note\\n5,\"a\\n6,c\\n' | $T convert --bits 10 --reference 5V; echo $?", "error:"},
        {"formulas",
         "printf 'count,note\\n5,=1+1\\n6,@x\\n7,\"=x,y\"\\n8,-5\\n9,+a\\n10,-\\n' | $T convert --bits 10 "
         "--reference 5V | cut -d, -f2",
         "note\n'=1+1\n'@x\n\"'=x\n-5\n'+a\n-\n"},
        {"a title",
         "printf 'tinyladder: plan 1\\ntitle: =2+5\\nboard: lapwing.board.yaml\\nsignals: {s: {source: "
         "{rail: logic}, pin: L4}}\\n' >p.plan.yaml; "
         "$T record p.plan.yaml --for 1s -o - | sed -n 2p",
         ",\"'=2+5: no scene, seed 1\"\n"},
    };
    check_rows(rows, ROWS(rows));
}

CU_TestInfo trust_tests[] = {
    {"no update is lost", no_update_is_lost},           {"nothing is left behind", nothing_is_left_behind},
    {"nothing waits for ever", nothing_waits_for_ever}, {"inputs have bounds", inputs_have_bounds},
    {"tables are tables", tables_are_tables},           CU_TEST_INFO_NULL,
};
