/* SPDX-License-Identifier: MIT */
/* `tinyladder convert`: rows in, rows out. */
#define _GNU_SOURCE
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
         "3204\n0\n4095\n",
         0,
         "3204,2.581348,12.69,fresh\n0,0.000000,0.00,clipped low\n4095,3.299194,16.22,clipped high\n",
         ""},
        {"a column by its head",
         {PLAN, "house-battery"},
         "s,note,count\n1,\"a, b\",2700\n",
         0,
         "s,note,count,pin_v,V,flags\n1,\"a, b\",2700,2.175293,10.70,fresh\n",
         ""},
        {"a column by option",
         {PLAN, "house-battery", "--column", "raw"},
         "raw,count\n2700,1\n",
         0,
         "raw,count,pin_v,V,flags\n2700,1,2.175293,10.70,fresh\n",
         ""},
        {"no such column",
         {PLAN, "house-battery", "--column", "x"},
         "raw\n1\n",
         3,
         "",
         "there is no column 'x'"},
        {"stretched words with a sign",
         {"--bits", "12", "--reference=-1V..1V", "--align", "stretched", "--sign", "twos-complement",
          "--words"},
         "0x8008\n",
         2,
         "",
         "such words have no sign"},
        {"lines of another system",
         {PLAN, "house-battery"},
         "2700\r\n\r\n2700",
         0,
         "2700,2.175293,10.70,fresh\n2700,2.175293,10.70,fresh\n",
         ""},
        {"a broken wire", {PLAN, "mirror-temperature"}, "4090\n", 0, "4090,3.295166,,open wire\n", ""},
        {"a substitute", {PLAN, "heater-1"}, "4090\n", 0, "-99", ""},
        {"below zero", {PLAN, "counterweight"}, "-3607\n", 0, "-3607,-0.011008,-55.1,fresh\n", ""},
        {"bad rows are passed over",
         {PLAN, "house-battery"},
         "1\nx\n-1\n4096\n99999999999999999999\n1.5\nnan\n2\n",
         1,
         "1,0.000806,",
         "standard input:3: error: the ADC has no such count"},
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
         {"--bits", "10", "--reference", "5V", "--steps", "full", "--ratio", "2"},
         "512\n",
         0,
         "512,5.004883,fresh\n",
         ""},
        {"words",
         {"--bits", "12", "--reference", "3.3V", "--words", "--align", "left"},
         "0x8000\n0x8001\n",
         1,
         "0x8000,1.650000,fresh\n",
         "no word of this ADC: aligned left, the bits below the code are 0"},
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
        {"back", {PLAN, "house-battery", "--back"}, "12.7\n", 0, "12.7,3206,3075,3344\n", ""},
        {"back from degrees",
         {PLAN, "heater-1", "--back"},
         "9\nwarm\n",
         1,
         "9,3351,3338,3363\n",
         "expected a number"},
        {"back, hotter and colder than the law",
         {PLAN, "heater-1", "--back"},
         "200\n-100\n",
         0,
         "200,1252,0,1266\n-100,4000,3992,4095\n",
         ""},
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
        {"a contact", {PLAN, "open-button"}, "1\n", 2, "", "no ADC reads it"},
        {"nobody", {PLAN, "nobody"}, "1\n", 2, "", "no signal 'nobody'"},
        {"half the options", {"--bits", "12"}, "1\n", 2, "", "needs --reference"},
        {"too many bits", {"--bits", "25", "--reference", "1V"}, "1\n", 2, "", "bits"},
        {"a reference the wrong way",
         {"--bits", "12", "--reference", "0V"},
         "1\n",
         2,
         "",
         "no ADC is like that"},
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

/* A voltage is the count that such a converter makes of it, edges and 24 bits included. */
static void back_is_what_the_hardware_does(void)
{
    static const struct {
        const char *bits, *steps;
        double codes, begin; /* counts that begin so much below their own number of steps */
    } rows[] = {{"10", "full", 1024, 0},
                {"10", "half", 1024, 0.5},
                {"22", "half", 4194304, 0.5},
                {"24", "full", 16777216, 0}};
    for (size_t i = 0; i < ROWS(rows); i++) {
        char text[40000] = "";
        const double lsb = 4.096 / rows[i].codes;
        for (int n = 1; n < 900; n++) /* the very edges, and within */
            sprintf(text + strlen(text), "%.15f\n",
                    (n * floor(rows[i].codes / 1000) + (n % 2 == 0 ? -rows[i].begin : 0.3)) * lsb);
        run_result r =
            run_command("convert", "--bits", rows[i].bits, "--reference", "4.096V", "--steps", rows[i].steps,
                        "--back", scratch_file("back.csv", text, strlen(text)), NULL);
        const char *at = r.out;
        int right = 0;
        for (int n = 1; n < 900 && at != NULL; n++, at = strchr(at + 1, '\n')) {
            long code = -1;
            (void)sscanf(strchr(at + (n > 1), ','), ",%ld", &code);
            right += code == (long)(n * floor(rows[i].codes / 1000));
        }
        CHECK_ROW(rows[i].bits, right == 899);
        if (right != 899)
            printf("\n  %s bits, %s: %d right\n%.200s", rows[i].bits, rows[i].steps, right, r.out);
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

/* Questions that want no file: by closed forms written here. */
static void answers_without_a_file(void)
{
    static const struct {
        const char *words[10], *says[4];
        int status;
    } rows[] = {
        {{"--bits=10", "--reference=5V", "465"}, {"2.271 ", "2.268       2.273", "count n is n/1024"}, 0},
        {{"--bits=10", "--reference=5V", "--steps=end-to-end", "465"}, {"2.273 ", "count n is n/1023"}, 0},
        {{"--bits=10", "--reference=5V", "--steps=full", "465"},
         {"2.273 ", "2.270       2.276", "count n begins at n/1024"},
         0},
        {{"--bits=10", "--reference=5V", "0x1d1", "--hex"}, {"465 (0x1d1)"}, 0},
        /* 2.7 / 1.47 / 3.3 * 1024 = 569.9 */
        {{"--bits=10", "--reference=3.3V", "--divider=47k/100k", "2.7V"},
         {"570        570", "is 1.47 times"},
         0},
        {{"--bits=10", "--reference=3.3V", "--undo=1.47", "2.7V"}, {"570        570", "is 1.47 times"}, 0},
        {{"--bits=10", "--reference=3.3V", "--divider=47k/100k", "--percent=3.0V..4.2V"},
         {"Empty at 3 V: count 633", "Full at 4.2 V: count 887"},
         0},
        /* 1 + 47 * 1.01 / (100 * 0.99) = 1.47949 and 1 + 47 * 0.99 / 101 = 1.46069: 4.2 V at 3.267 V .. 3.333
           V */
        {{"--bits=10", "--reference=3.3V ±1 %", "--divider=47k ±1 %/100k ±1 %", "4.2V"},
         {"872        901", "1.653 %"},
         0},
        {{"--bits=10", "--reference=3.3V", "9V"}, {"the count stays at 1023"}, 0},
        {{"--bits=10", "--reference=3.3V", "--percent=3.0V..1.0V", "1V", "2V", "3V"},
         {"Empty at 3 V", "  100", "  50", "  0"},
         0},
        {{"--bits=10", "--reference=3.3V", "--words", "--align=stretched", "36131"},
         {"564 (0x8d23)", "stretched"},
         0},
        {{"--bits=12", "--reference=-1V..1V", "2048", "0"}, {"-1.000"}, 0},
        {{"--bits=10", "--reference=5V", "1024"}, {"the ADC has no such count"}, 2},
        {{"--bits=10", "--reference=5V", "2.7"},
         {"neither a count, such as 465, nor a voltage, such as 2.7V"},
         2},
        {{"--bits=10", "--reference=5V", "--divider=47k"}, {"expected UPPER/LOWER"}, 2},
        {{"--bits=10", "--reference=5V", "--divider=47k/0"}, {"expected UPPER/LOWER"}, 2},
        {{"--bits=10", "--reference=5V", "--percent=3V"}, {"expected EMPTY..FULL"}, 2},
        {{"--bits=10", "--reference=5V", "--percent=3V..3V"}, {"empty and full are the same"}, 2},
        {{"--bits=10", "--reference=5V", "--code", "465"}, {"--code is for every count"}, 2},
        {{"--bits=24", "--reference=5V", "--code"}, {"up to 16 bits"}, 1},
        {{"--bits=10", "--reference=3.3V", "--percent=5V..6V", "--code"}, {"less than two counts apart"}, 1},
        {{PLAN, "house-battery", "--hex", "3204"}, {"go with --bits and --reference"}, 2},
        {{PLAN, "house-battery", "3204", "0"},
         {"3204,2.581348,12.69,fresh\n0,0.000000,0.00,clipped low\n"},
         0},
        {{PLAN, "house-battery", "--back", "12.5"}, {"12.5,3156,"}, 0},
        {{PLAN, "house-battery", "5000"}, {"no such count"}, 2},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        const char *const *w = rows[i].words;
        run_result r = run_command("convert", w[0], w[1], w[2], w[3], w[4], w[5], w[6], w[7], NULL);
        for (size_t k = 0; k < ROWS(rows[i].says) && rows[i].says[k] != NULL; k++)
            CHECK_ROW(rows[i].says[k], strstr(r.status <= 0 ? r.out : r.err, rows[i].says[k]) != NULL ||
                                           strstr(r.err, rows[i].says[k]) != NULL);
        CHECK_ROW(rows[i].says[0], r.status == rows[i].status);
        run_free(&r);
    }
}

/* The printed function, compiled: every count is what a double makes of it. */
static void the_code_is_right(void)
{
    static const struct {
        int bits;
        double reference, ratio, empty, full; /* empty = full: millivolts */
        const char *steps;
    } rows[] = {{10, 3.3, 1.47, 3.0, 4.2, "half"}, {12, 3.3, 5.7, 10.5, 14.4, "full"},
                {8, 5, 1, 0.5, 4.5, "end-to-end"}, {16, 2.5, 1, 0.1, 2.4, "half"},
                {12, 3.3, 11, 30, 12, "half"},     {10, 1.1, 1, 0.2, 0.25, "full"},
                {10, 5, 1, 0, 0, "end-to-end"},    {12, 3.3, 5.7, 0, 0, "half"},
                {16, 4.096, 1, 0, 0, "full"},      {4, 3.3, 1, 0, 3.3, "half"},
                {12, 3.3, 30, 0, 0, "full"}};
    char *text = NULL;
    long said[ROWS(rows)]; /* this many are not the nearest, it says itself */
    size_t size = 0;
    FILE *to = open_memstream(&text, &size);
    fputs("#include <math.h>\n#include <stdint.h>\n#include <stdio.h>\n", to);
    for (size_t i = 0; i < ROWS(rows); i++) {
        const double empty = rows[i].empty, over = rows[i].full - empty;
        const bool percent = over != 0;
        char ends[80] = "", line[600];
        if (percent)
            snprintf(ends, sizeof ends, "--percent %gV..%gV", empty, rows[i].full);
        snprintf(line, sizeof line,
                 TL_BUILD "/tinyladder convert --bits %d --reference %gV --ratio %g --steps %s %s --code",
                 rows[i].bits, rows[i].reference, rows[i].ratio, rows[i].steps, ends);
        run_result r = run_program((const char *const[]){"sh", "-c", line, NULL}, TL_SOURCE);
        const char *tried = strstr(r.out, " was tried: ");
        CHECK_ROW(line, r.status == 0 && tried != NULL);
        said[i] = 0;
        if (tried != NULL && strncmp(tried, " was tried: each", 16) != 0)
            CHECK_ROW(line, sscanf(tried, " was tried: %ld of them", &said[i]) == 1 && said[i] < 100);
        fprintf(to, "#define %s_of f%zu\n%s#undef %s_of\n", percent ? "percent" : "millivolts", i, r.out,
                percent ? "percent" : "millivolts");
        fprintf(to,
                "static long wrong_%zu(void)\n{\n    long wrong = 0;\n    for (long c = 0; c < %ld; c++) {\n",
                i, 1L << rows[i].bits);
        fprintf(to,
                "        double v = (c + %s) / %ld * %.17g, w = ", rows[i].steps[0] == 'f' ? "0.5" : "0.0",
                (1L << rows[i].bits) - (rows[i].steps[0] == 'e'), rows[i].reference * rows[i].ratio);
        if (percent)
            fprintf(to, "fmin(fmax(100 * (v - %.17g) / %.17g, 0), 100);\n", empty, over);
        else
            fprintf(to, "1000 * v;\n");
        fprintf(to,
                "        wrong += fabs(f%zu((uint16_t)c) - w) > 0.5 + 1e-6;\n    }\n    return wrong;\n}\n",
                i);
        run_free(&r);
    }
    fprintf(to, "int main(void)\n{\n");
    for (size_t i = 0; i < ROWS(rows); i++)
        fprintf(to, "    printf(\"%zu %%ld\\n\", wrong_%zu());\n", i, i);
    fprintf(to, "    return 0;\n}\n");
    fclose(to);
    const char *source = scratch_file("code.c", text, size);
    char line[1200];
    snprintf(line, sizeof line,
             "cc -std=c11 -Wall -Wextra -Werror -O1 -o '%.300s.out' '%.300s' -lm && '%.300s.out'", source,
             source, source);
    run_result r = run_program((const char *const[]){"sh", "-c", line, NULL}, TL_SOURCE);
    int seen = 0;
    char *save = NULL;
    CU_ASSERT(r.status == 0);
    if (r.status != 0)
        printf("\n%s", r.err);
    for (char *row = strtok_r(r.out, "\n", &save); row != NULL; row = strtok_r(NULL, "\n", &save), seen++)
        CHECK_ROW(row, seen < (int)ROWS(rows) && strtol(row + strcspn(row, " "), NULL, 10) == said[seen]);
    CU_ASSERT(seen == (int)ROWS(rows));
    run_free(&r);
    free(text);
}

CU_TestInfo convert_tests[] = {
    {"answers without a file", answers_without_a_file},
    {"the code is right", the_code_is_right},
    {"long lines are one bad row", long_lines_are_one_bad_row},
    {"converts rows", converts_rows},
    {"back is what the hardware does", back_is_what_the_hardware_does},
    {"is the core's arithmetic", is_the_cores_arithmetic},
    CU_TEST_INFO_NULL,
};
