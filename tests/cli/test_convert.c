/* `tinyladder convert`: rows in, rows out. */
#include "support.h"
#include "tinyladder/scale.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#define PLAN "demo/fernhill.plan.yaml"

static void converts_rows(void)
{
    static const struct {
        const char *name, *words[9], *in;
        int status;
        const char *out, *err;
    } rows[] = {
        {"a list",
         {PLAN, "house-battery"},
         "2764\n0\n4095\n",
         0,
         "2764,2.226855,12.69,fresh\n0,0.000000,0.00,clipped low\n4095,3.299194,18.81,clipped high\n",
         ""},
        {"a column by its head",
         {PLAN, "house-battery"},
         "s,note,count\n1,\"a, b\",2700\n",
         0,
         "s,note,count,pin_v,V,flags\n1,\"a, b\",2700,2.175293,12.40,fresh\n",
         ""},
        {"a column by option",
         {PLAN, "house-battery", "--column", "raw"},
         "raw,count\n2700,1\n",
         0,
         "raw,count,pin_v,V,flags\n2700,1,2.175293,12.40,fresh\n",
         ""},
        {"no such column",
         {PLAN, "house-battery", "--column", "x"},
         "raw\n1\n",
         3,
         "",
         "there is no column 'x'"},
        {"lines of another system",
         {PLAN, "house-battery"},
         "2700\r\n\r\n2700",
         0,
         "2700,2.175293,12.40,fresh\n2700,2.175293,12.40,fresh\n",
         ""},
        {"a broken wire", {PLAN, "mirror-temperature"}, "4090\n", 0, "4090,3.295166,,open wire\n", ""},
        {"a substitute", {PLAN, "heater-1"}, "4090\n", 0, "-99", ""},
        {"below zero", {PLAN, "counterweight"}, "-3607\n", 0, "-3607,-0.011008,-55.1,fresh\n", ""},
        {"bad rows are passed over",
         {PLAN, "house-battery"},
         "1\nx\n-1\n4096\n99999999999999999999\n1.5\nnan\n2\n",
         1,
         "1,0.000806,",
         "standard input:3: error: the converter has no such count"},
        {"and counted",
         {PLAN, "house-battery"},
         "1\nx\n2\n",
         1,
         "2,0.001611,",
         "1 of 3 rows are bad and were passed over"},
        {"or end it",
         {PLAN, "house-battery", "--bad", "stop"},
         "1\nx\n2\n",
         3,
         "1,0.000806,0.00,fresh\n",
         "standard input:2:"},
        {"by options",
         {"--bits", "10", "--reference", "5V", "--steps", "full", "--undo", "2"},
         "512\n",
         0,
         "512,5.004883,fresh\n",
         ""},
        {"words",
         {"--bits", "12", "--reference", "3.3V", "--words", "--align", "left"},
         "0x8000\n0x8001\n",
         1,
         "0x8000,1.650000,fresh\n",
         "no word of this converter: aligned left, the bits below the code are 0"},
        {"back to words aligned left",
         {"--bits", "10", "--reference", "5V", "--words", "--align", "left", "--back"},
         "volts\n2.5\n5\n",
         0,
         "volts,count,word\n2.5,512,0x8000\n5,1023,0xffc0\n",
         ""},
        {"back to stretched words",
         {"--bits", "10", "--reference", "5V", "--words", "--align", "stretched", "--back"},
         "2.5\n",
         0,
         "2.5,512,0x8020\n",
         ""},
        {"back to words with a sign",
         {"--bits", "12", "--reference", "-1V..1V", "--sign", "twos-complement", "--words", "--back"},
         "-0.5\n",
         0,
         "-0.5,-1024,0xfc00\n",
         ""},
        {"24 bits",
         {"--bits", "24", "--reference", "2.5V", "--sign", "twos-complement"},
         "-8388608\n4194304\n",
         0,
         "-8388608,-2.500000,clipped low\n4194304,1.250000,fresh\n",
         ""},
        {"back", {PLAN, "house-battery", "--back"}, "12.7\n", 0, "12.7,2766,2650,2887\n", ""},
        {"back from degrees",
         {PLAN, "heater-1", "--back"},
         "9\nwarm\n",
         1,
         "9,3351,3338,3363\n",
         "a number is wanted here"},
        {"back by options",
         {"--bits", "12", "--reference", "3.3V", "--back"},
         "1.65\n",
         0,
         "1.65,2048\n",
         ""},
        {"buttons on one pin",
         {PLAN, "keypad"},
         "1145\n4093\n2000\n",
         0,
         "1145,0.922485,track,fresh\n4093,3.297583,no button,fresh\n2000,1.611328,between two,fresh\n",
         ""},
        {"a contact", {PLAN, "open-button"}, "1\n", 2, "", "no converter reads it"},
        {"nobody", {PLAN, "nobody"}, "1\n", 2, "", "no signal 'nobody'"},
        {"half the options", {"--bits", "12"}, "1\n", 2, "", "--reference is wanted"},
        {"too many bits", {"--bits", "25", "--reference", "1V"}, "1\n", 2, "", "bits"},
        {"a reference the wrong way",
         {"--bits", "12", "--reference", "0V"},
         "1\n",
         2,
         "",
         "no converter is like that"},
        {"nothing", {PLAN, "house-battery"}, "", 0, "", ""},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        const char *path = scratch_file("rows.csv", rows[i].in, strlen(rows[i].in));
        char line[1200] = TL_BUILD "/tinyladder convert";
        for (int w = 0; w < 9 && rows[i].words[w] != NULL; w++)
            sprintf(line + strlen(line), " '%s'", rows[i].words[w]);
        sprintf(line + strlen(line), " <%s", path);
        const char *const words[] = {"/bin/sh", "-c", line, NULL};
        run_result r = run_program(words, TL_SOURCE);
        CHECK_ROW(rows[i].name, r.status == rows[i].status);
        CHECK_ROW(rows[i].name, strstr(r.out, rows[i].out) != NULL && strstr(r.err, rows[i].err) != NULL);
        if (r.status != rows[i].status || strstr(r.out, rows[i].out) == NULL)
            printf("\n  %s: %d\n%s%s", rows[i].name, r.status, r.out, r.err);
        run_free(&r);
    }
}

/* The same microvolts as the core's, for every count of 16 bits; long rows and binary rubbish do no harm. */
static void is_the_cores_arithmetic(void)
{
    static char text[800000];
    size_t length = 0;
    tl_scale scale;
    const tl_scale_config config = {.reference_high_uv = 4096000, .bits = 16, .undo_num = 1, .undo_den = 1};
    for (int code = 0; code < 65536; code++)
        length += (size_t)sprintf(text + length, "%d\n", code);
    run_result r = run_command("convert", "--bits", "16", "--reference", "4.096V",
                               scratch_file("all.csv", text, length), NULL);
    CU_ASSERT(r.status == 0 && tl_scale_init(&scale, &config) == TL_OK);
    const char *at = r.out;
    int same = 0;
    for (int code = 0; code < 65536 && at != NULL; code++) {
        long found = 0, volts = 0, micro = 0;
        if (sscanf(at, "%ld,%ld.%6ld", &found, &volts, &micro) == 3)
            same += found == code && volts * 1000000 + micro == tl_scale_uv(&scale, (uint16_t)code);
        at = strchr(at, '\n');
        at = at != NULL ? at + 1 : NULL;
    }
    CU_ASSERT(same == 65536);
    run_free(&r);
    memset(text, '7', sizeof text);
    text[1000] = '\0';
    r = run_command("convert", PLAN, "house-battery", scratch_file("long.csv", text, sizeof text), NULL);
    CU_ASSERT(r.status == 1 && strstr(r.err, "rows are bad") != NULL);
    run_free(&r);
}

/* However long a line is: it is one bad row, and the rows around it are there. The pieces that are read end
 * anywhere in it. */
static void long_lines_are_one_bad_row(void)
{
    static const size_t lengths[] = {1000, 131065, 131072, 131073, 262131, 262144, 262145, 300000, 800000};
    static char text[900000];
    for (size_t i = 0; i < ROWS(lengths); i++) {
        for (int head = 0; head < 2; head++) {
            const char *before = head ? "count,note\n" : "";
            size_t size = (size_t)sprintf(text, "%s1,a\n", before);
            const size_t start = size;
            size += (size_t)sprintf(text + size, "123,");
            memset(text + size, 'y', lengths[i] - 4);
            size = start + lengths[i];
            for (int row = 0; row < 1000; row++)
                size += (size_t)sprintf(text + size, "\n7,b");
            run_result r = run_command("convert", "--bits", "12", "--reference", "3.3V",
                                       scratch_file("lines.csv", text, size), NULL);
            const bool fits = lengths[i] <= 131072;
            int rows = 0;
            for (const char *at = strstr(r.out, "7,b,0.005640,fresh\n"); at != NULL;
                 at = strstr(at + 1, "7,b,0.005640,fresh\n"))
                rows++;
            CU_ASSERT(rows == 1000 && strncmp(r.out + strlen(head ? "count,note,volts,flags\n" : ""),
                                              "1,a,0.000806", 12) == 0);
            CU_ASSERT(fits ? r.status == 0 && strstr(r.out, "yyy,0.099097,fresh\n7,b") != NULL
                           : r.status == 1 && strstr(r.err, "1 of 1002 rows are bad") != NULL &&
                                 strstr(r.err, head ? ":3: error: this line is longer"
                                                    : ":2: error: this line is longer") != NULL);
            run_free(&r);
        }
    }
}

CU_TestInfo convert_tests[] = {
    {"long lines are one bad row", long_lines_are_one_bad_row},
    {"converts rows", converts_rows},
    {"is the core's arithmetic", is_the_cores_arithmetic},
    CU_TEST_INFO_NULL,
};
