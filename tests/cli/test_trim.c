/* SPDX-License-Identifier: MIT */
/* `tinyladder trim`: pairs in, a correction and a verdict out; and into the plan, byte by byte. */
#include "support.h"
#include "tinyladder/design/edit.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>
#include <unistd.h>

#define PLAN "demo/fernhill.plan.yaml"
#define HEAD                                                                                                 \
    "tinyladder: plan 1\ntitle: t # a title\nboard: " TL_SOURCE                                              \
    "/demo/lapwing.board.yaml\nmeters: {hand: {accuracy: 0.5 %, digits: 1, digit: 1 mV}}\nsignals:\n"

static void fits_and_judges(void)
{
    static const struct {
        const char *words[7];
        int status;
        const char *out, *err;
    } rows[] = {
        {{"house-battery", "3210=12.71V", "2782=11.05V"}, 0, "is explained: trim it.", ""},
        {{"house-battery", "3210=12.71V", "2782=11.05V"},
         0,
         "trim: {meter: handheld, points: [2782 counts: 11.05 V, 3210 counts: 12.71 V]}",
         ""},
        {{"house-battery", "3210=14.1V", "2782=12.4V"}, 1, "look for a fault before you trim", ""},
        {{"house-battery", "3210=14.1V", "2782=12.4V", "--write"},
         1,
         "",
         "more is off than the parts explain; the plan is as it was"},
        {{"house-battery", "3210=12.71V", "2782=11.05V", "3014=11.95V", "--table"},
         0,
         "3014 counts: 11.95 V",
         ""},
        {{"house-battery", "--of", "pin", "3210=2.61V", "2782=2.216V"}, 0, "of: pin", ""},
        {{"house-battery", "3210=12.71V", "2782=11.05V", "3014=14.95V", "2898=11.5V"},
         1,
         "The pair 3014=14.95V is wild: 3",
         ""},
        {{"house-battery", "3210=12.71V", "2782=11.05V", "3014=14.95V", "2898=11.5V"},
         1,
         "leave it out: --leave-out 3014",
         ""},
        {{"house-battery", "3210=12.71V", "2782=11.05V", "3014=14.95V", "2898=11.5V", "--leave-out=3014"},
         0,
         "points: [2782 counts:",
         ""},
        {{"house-battery", "3210=12.71V", "2782=11.05V", "--leave-out=3014"},
         2,
         "",
         "there is no pair with the count '3014'"},
        {{"house-battery", "3210=12.71V", "2782=11.05V", "3014=14.95V", "2898=11.5V", "--write"},
         1,
         "is wild",
         "a pair is wild; the plan is as it was"},
        /* A gain of half a percent that is unsure by 1.7 %: an offset of 0.36 V alone, then one that no meter
           sees. */
        {{"house-battery", "3204=13.05V", "3362=13.68V"},
         0,
         "trim: {meter: handheld, points: [3204 counts: 13.0521 V, 3362 counts: 13.6779 V]}",
         ""},
        {{"house-battery", "3204=13.05V", "3362=13.68V"}, 0, "so only the offset is corrected", ""},
        {{"house-battery", "3204=12.75V", "3362=13.37V"}, 0, "no trim is needed", ""},
        {{"house-battery", "3204=12.75V", "3362=13.37V", "--write"},
         0,
         "no trim is needed",
         "the plan is as it was"},
        {{"house-battery", "3210=12.71V"}, 1, "", "at least two pairs"},
        {{"house-battery", "3210=12.71V", "3222=12.76V"},
         0,
         "Uncertainty of the gain: 20 %, of which 12 % from the digits",
         ""},
        {{"house-battery", "3210=12.71V", "2782=11.05V", "--json"}, 0, "\"share_nonlinearity\": 0.00", ""},
        {{"counterweight", "1410=12 kg", "2800=25kg"},
         1,
         "{meter: handheld, points: [1410 counts: 0.0024 V, 2800",
         ""},
        {{"counterweight", "1410=12 kg", "2800=25kg"}, 1, "  meter, kg  ", ""},
        {{"counterweight", "1410=12 kg", "2800=25kg", "--json"}, 1, "\"stated\": 25.0", ""},
        {{"house-battery", "3210=12.71V", "2782=11.05V", "3014=11.95V"}, 0, "reference 63 %", ""},
        {{"counterweight", "1410=12 lb", "2800=25kg"},
         2,
         "",
         "'lb' is not a unit of voltage; counterweight reads kg, which may stand here too"},
        {{"house-battery", "--against", "house-battery", "--live", "0s", "--json"},
         0,
         "\"other_rms_v\": 0.0",
         ""},
        {{"mirror-temperature", "--curve", "beta", "25degC=10k", "0degC=33.6206k", "--json"},
         0,
         "\"beta_k\": 3949.99",
         ""},
        {{"mirror-temperature", "--curve", "table", "25degC=10k", "0degC=33k", "--json"},
         0,
         "\"ohm\": 33000.0",
         ""},
        {{"house-battery", "3210=12.71V", "3210=12.7V"}, 1, "", "3210 counts stand there twice"},
        {{"house-battery", "3210"}, 2, "", "COUNT=VOLTS"},
        {{"house-battery", "3210=12.71"}, 2, "", "'12.71' has no unit"},
        {{"house-battery", "x=12.71V", "2=1V"}, 2, "", "x=12.71V: error"},
        {{"house-battery"}, 2, "", "give pairs in one way"},
        {{"mirror-temperature", "1=1V", "2=2V"}, 1, "", "has no volts to compare"},
        {{"house-battery", "--live", "0s,10min,20min", "--scene", "demo/evening.scene.yaml"},
         0,
         "is explained",
         ""},
        {{"mirror-temperature", "--curve", "beta", "25degC=10k", "0degC=33.6206k"}, 0, "beta: 3950 K", ""},
        {{"mirror-temperature", "--curve", "steinhart", "25degC=10k", "0degC=33.6k"},
         1,
         "",
         "three different pairs"},
        {{"mirror-temperature", "--curve", "beta", "25degC=10k", "25degC=10k"}, 1, "", "two different pairs"},
        {{"mirror-temperature", "--curve", "table", "25degC=10k", "0degC=33k", "25degC=10.2k"},
         0,
         "degC,ohm\n0,33000\n25,10100\n",
         ""},
        {{"mirror-temperature", "--curve", "table", "25degC=10k", "0degC=33k", "30degC=12k"},
         1,
         "",
         "at 30 degC the ohms turn back"},
        {{"house-battery", "--against", "twilight", "--of", "pin", "3204/3200=2.5813V"},
         0,
         "house-battery is nearer: ",
         ""},
        {{"house-battery", "--against", "twilight", "3204=2.2V"}, 2, "", "COUNT/COUNT=VOLTS"},
        {{"house-battery", "--pairs", "none.csv"}, 3, "", "none.csv: error: cannot be read"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        const char *const *w = rows[i].words;
        run_result r = run_command("trim", PLAN, w[0], w[1], w[2], w[3], w[4], w[5], NULL);
        CHECK_ROW(w[1], r.status == rows[i].status && strstr(r.out, rows[i].out) != NULL &&
                            strstr(r.err, rows[i].err) != NULL);
        if (r.status != rows[i].status || strstr(r.out, rows[i].out) == NULL ||
            strstr(r.err, rows[i].err) == NULL)
            printf("\n  %s: %d\n%s%s", w[1], r.status, r.out, r.err);
        run_free(&r);
    }
}

/* What is explained is never more than all that may be off added up, with a noisy converter and a perfect
 * one; and `read --meter` counts all that the plan's meter may be off: 0.5 % of 2.2259 V, and three digits of
 * a millivolt. */
static void nothing_explains_more_than_the_sum(void)
{
    static const char *const words[][4] = {{"house-battery", "3210=12.71V", "2782=11.05V"},
                                           {"house-battery", "--of=pin", "3210=2.23V", "2782=1.934V"},
                                           {"counterweight", "20=0.05mV", "3150=9.61mV"}};
    for (size_t i = 0; i < ROWS(words); i++) {
        run_result r = run_command("trim", PLAN, words[i][0], words[i][1], words[i][2],
                                   words[i][3] != NULL ? words[i][3] : "--json",
                                   words[i][3] != NULL ? "--json" : NULL, NULL);
        const char *explained = strstr(r.out, "\"explained_v\": "), *sum = strstr(r.out, "\"all_added_v\": ");
        CHECK_ROW(words[i][0], explained != NULL && sum != NULL);
        if (explained != NULL && sum != NULL)
            CHECK_ROW(words[i][0], strtod(explained + 15, NULL) > 0 &&
                                       strtod(explained + 15, NULL) <= strtod(sum + 15, NULL));
        run_free(&r);
    }
    run_result r =
        run_command("read", PLAN, "house-battery", "--meter", "house-battery.divider", "--json", NULL);
    const char *loaded = strstr(r.out, "\"loaded_v\": "), *off = strstr(r.out, "\"may_be_off_v\": ");
    CU_ASSERT_FATAL(loaded != NULL && off != NULL);
    CU_ASSERT(near(strtod(off + 15, NULL), 0.005 * strtod(loaded + 11, NULL) + 3e-3, 1e-9));
    run_free(&r);
}

/* Everything but the trim stays as it was, comments and all. */
static void changes_only_the_bytes_concerned(void)
{
#define SIGNAL "  s: {source: {voltage: 0 V .. 3 V}, pin: L4, reading: "
#define TRIM "{meter: hand, points: [1000 counts: 0.81 V, 3000 counts: 2.46 V]}"
    static const struct {
        const char *name, *before, *after;
        int status;
    } rows[] = {
        {"a map in a line", SIGNAL "{unit: V, decimals: 2} }   # measured\n",
         SIGNAL "{unit: V, decimals: 2, trim: " TRIM "} }   # measured\n", 0},
        {"an old trim", SIGNAL "{trim: {points: [1 counts: 1 V, 2 counts: 2 V]}, unit: V}}\n",
         SIGNAL "{trim: " TRIM ", unit: V}}\n", 0},
        {"a block",
         "  s:\n    pin: L4\n    reading:\n      unit: V   # volts\n      decimals: 2\n    source: {voltage: "
         "0 V .. 3 V}\n",
         "  s:\n    pin: L4\n    reading:\n      trim: " TRIM
         "\n      unit: V   # volts\n      decimals: 2\n    source: {voltage: 0 V .. 3 V}\n",
         0},
        {"an old trim in a block",
         "  s:\n    pin: L4\n    source: {voltage: 0 V .. 3 V}\n    reading:\n      unit: V\n      trim: "
         "{points: [1 counts: 1 V, 2 counts: 2 V]} # old\n",
         "  s:\n    pin: L4\n    source: {voltage: 0 V .. 3 V}\n    reading:\n      unit: V\n      "
         "trim: " TRIM " # old\n",
         0},
        {"a comment that speaks of a trim", SIGNAL "{unit: V, # trim: {old}\n    decimals: 2}}\n",
         SIGNAL "{unit: V, # trim: {old}\n    decimals: 2, trim: " TRIM "}}\n", 0},
        {"a text that speaks of one", SIGNAL "{unit: 'V'}} # trim: {}\n",
         SIGNAL "{unit: 'V', trim: " TRIM "}} # trim: {}\n", 0},
        {"a space before the colon", SIGNAL "{trim : {points: [1 counts: 1 V, 2 counts: 2 V]}, unit: V}}\n",
         SIGNAL "{trim : " TRIM ", unit: V}}\n", 0},
        {"a key in quotes", SIGNAL "{\"trim\": {points: [1 counts: 1 V, 2 counts: 2 V]}, unit: V}}\n",
         SIGNAL "{\"trim\": " TRIM ", unit: V}}\n", 0},
        {"a comma at the end", SIGNAL "{unit: V,}}\n", SIGNAL "{unit: V, trim: " TRIM ",}}\n", 0},
        {"an old trim in a block of its own",
         "  s:\n    pin: L4\n    source: {voltage: 0 V .. 3 V}\n    reading:\n      trim:\n        points:\n"
         "          - 1 counts: 1 V\n          - 2 counts: 2 V # the last\n      unit: V\n",
         "  s:\n    pin: L4\n    source: {voltage: 0 V .. 3 V}\n    reading:\n      trim:\n        " TRIM
         " # the last\n      unit: V\n",
         0},
        {"letters of more than a byte", SIGNAL "{unit: \"V\" , # µΩ é\n    decimals: 2}} # Ω\n",
         SIGNAL "{unit: \"V\" , # µΩ é\n    decimals: 2, trim: " TRIM "}} # Ω\n", 0},
        {"lines that end with two characters",
         "  s:\r\n    pin: L4\r\n    source: {voltage: 0 V .. 3 V}\r\n    reading:\r\n      unit: V\r\n",
         "  s:\r\n    pin: L4\r\n    source: {voltage: 0 V .. 3 V}\r\n    reading:\r\n      trim: " TRIM
         "\r\n      unit: V\r\n",
         0},
        {"no reading", "  s: {source: {voltage: 0 V .. 3 V}, pin: L4}\n", NULL, 1},
        {"one for two", "  s-1 .. s-2: {source: {voltage: 0 V .. 3 V}, pin: L4 .. L5, reading: {unit: V}}\n",
         NULL, 1},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char before[3000], after[3000];
        snprintf(before, sizeof before, "%s%s# the end\n", HEAD, rows[i].before);
        snprintf(after, sizeof after, "%s%s# the end\n", HEAD,
                 rows[i].after != NULL ? rows[i].after : rows[i].before);
        const char *path = scratch_file("trim.plan.yaml", before, strlen(before));
        run_result r = run_command("trim", path, strstr(before, "s-1") != NULL ? "s-1" : "s", "1000=0.81V",
                                   "3000=2.46V", "--write", NULL);
        char *text = text_of(path);
        CHECK_ROW(rows[i].name, r.status == rows[i].status && strcmp(text, after) == 0);
        if (strcmp(text, after) != 0 || r.status != rows[i].status)
            printf("\n  %s: %d\n%s%s\n%s", rows[i].name, r.status, r.out, r.err, text);
        free(text);
        run_free(&r);
    }
    CU_ASSERT(!tl_edit_write("/nowhere/at/all", "text", 4));
}

/* A link stays one, a mode stays, what nobody may write is left alone, and nothing is left beside it. */
static void changes_files_as_they_are(void)
{
    static const char plan[] = HEAD SIGNAL "{unit: V}}\n";
    struct stat is;
    const char *file = scratch_file("kept.plan.yaml", plan, strlen(plan)),
               *link = scratch_path("link.plan.yaml");
    unlink(link);
    CU_ASSERT(symlink("kept.plan.yaml", link) == 0 && chmod(file, 0640) == 0);
    run_result r = run_command("trim", link, "s", "1000=0.81V", "3000=2.46V", "--write", NULL);
    CU_ASSERT(r.status == 0 && lstat(link, &is) == 0 && S_ISLNK(is.st_mode));
    CU_ASSERT(stat(file, &is) == 0 && (is.st_mode & 07777) == 0640);
    run_free(&r);
    char *text = text_of(file);
    CU_ASSERT(strstr(text, "unit: V, trim: {") != NULL);
    free(text);
    CU_ASSERT(chmod(file, 0444) == 0);
    r = run_command("trim", file, "s", "1000=0.82V", "3000=2.46V", "--write", NULL);
    CU_ASSERT(r.status == 4 && strstr(r.err, "Permission denied; the file is unchanged") != NULL);
    run_free(&r);
    text = text_of(file);
    CU_ASSERT(strstr(text, "0.82 V") == NULL);
    free(text);
    r = run_program((const char *const[]){"/bin/sh", "-c", "ls -A | grep -c 'plan.yaml[.]'", NULL},
                    TL_SCRATCH);
    CU_ASSERT_STRING_EQUAL(r.out, "0\n");
    run_free(&r);
}

CU_TestInfo trim_tests[] = {
    {"nothing explains more than the sum", nothing_explains_more_than_the_sum},
    {"fits and judges", fits_and_judges},
    {"changes only the bytes concerned", changes_only_the_bytes_concerned},
    {"changes files as they are", changes_files_as_they_are},
    CU_TEST_INFO_NULL,
};
