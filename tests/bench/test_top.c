/* SPDX-License-Identifier: MIT */
/* Converters of which the upper bits alone are read, against taking the codes of all bits and shifting them.
 */
#include "support.h"
#include "tinyladder/bench.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

enum { BITS = 10, SPAN = 5 };

static void write_board(bool half, const char *errors)
{
    char text[900];
    snprintf(
        text, sizeof text,
        "tinyladder: board 1\ntitle: B\nsupplies: {v: 5 V ±0 %%}\n"
        "every-pin: {supply: v, limits: 0 V .. rail, vil: 1 V, vih: 2 V}\npins: {A: {channel: 0}}\n"
        "converters: {main: {bits: 10, steps: %s, word: {align: [right, left], in: 16}, references: {v: v}, "
        "sampling: {capacitor: 5 pF, switch: 1k}, acquisition: [1 us], conversion: 1 us%s}}\n",
        half ? "half" : "full", errors);
    (void)scratch_file("top.board.yaml", text, strlen(text));
}

static const char *plan_of(const char *converter)
{
    static char text[500];
    snprintf(text, sizeof text,
             "tinyladder: plan 1\ntitle: t\nboard: top.board.yaml\nconverters: {main: %s}\n"
             "signals: {s: {source: {voltage: 0 V .. 5 V}, pin: A, reading: {unit: V, decimals: 4}}}\n",
             converter);
    return scratch_file("top.plan.yaml", text, strlen(text));
}

static double within(double least, double value, double most)
{
    return value < least ? least : value > most ? most : value;
}

static void reads_what_shifting_gives(bool half, int top)
{
    char choice[60], scene[900] = "tinyladder: scene 1\nlength: 40 s\nvalues: {s: [";
    const double lsb = SPAN / ldexp(1, BITS), begin = half ? 0.5 : 0, cut = ldexp(1, BITS - top);
    double volts[30];
    for (int i = 0; i < 30; i++) { /* two thirds of them around edges of the shorter codes */
        const double edge = cut * (i / 3 * 11 % (1 << top));
        volts[i] = within(0, (edge - begin + (i % 3 - 1) * 0.1 + (i % 3 == 1 ? cut / 3 : 0)) * lsb, 4.999);
        snprintf(scene + strlen(scene), sizeof scene - strlen(scene), "%s%d s: %.6f V", i > 0 ? ", " : "", i,
                 volts[i]);
    }
    strncat(scene, "]}\n", sizeof scene - strlen(scene) - 1);
    snprintf(choice, sizeof choice, "{align: left, top: %d}", top);
    write_board(half, "");
    tl_bench *bench =
        tl_bench_open(plan_of(choice), scratch_file("top.scene.yaml", scene, strlen(scene)), NULL);
    CU_ASSERT_FATAL(bench != NULL);
    for (int i = 0; i < 30; i++) {
        tl_bench_reading reading;
        tl_bench_go_to(bench, i + 0.5);
        CU_ASSERT(tl_bench_read(bench, 0, &reading) == TL_NET_SOLVED && reading.status == TL_OK);
        const double at = tl_bench_pin_volts(bench, 0);
        const long whole = (long)within(0, floor(at / lsb + begin), (1 << BITS) - 1),
                   code = whole >> (BITS - top);
        /* In the middle of all the volts that give it. */
        const double middle = (cut * (double)code - begin + cut / 2) * lsb;
        CU_ASSERT(reading.count == code);
        CU_ASSERT(near(reading.is.value, middle, 2e-6));
        CU_ASSERT(code == 0 || code == (1 << top) - 1 ||
                  (near(reading.is.within.low, middle - cut / 2 * lsb, 1e-5) &&
                   near(reading.is.within.high, middle + cut / 2 * lsb, 1e-5)));
    }
    tl_bench_free(bench);
}

static void the_upper_bits_are_the_code_shifted(void)
{
    for (int half = 0; half < 2; half++) {
        for (int top = 4; top < BITS; top++)
            reads_what_shifting_gives(half != 0, top);
    }
}

/* Four counts of all bits are one of those that are left: its interval is three of them wide. */
static void errors_are_of_all_bits(void)
{
    write_board(true, ", errors: {offset: ±4 counts}");
    tl_bench *bench = tl_bench_open(plan_of("{align: left, top: 8}"), NULL, NULL);
    CU_ASSERT_FATAL(bench != NULL);
    tl_bench_reading reading;
    CU_ASSERT(tl_bench_read(bench, 0, &reading) == TL_NET_SOLVED);
    CU_ASSERT(near(reading.is.within.high - reading.is.within.low, 3 * SPAN / 256.0, 1e-5));
    CU_ASSERT(labs(reading.count - 128) <= 1);
    tl_bench_free(bench);
}

/* The settings are those of the whole word: the converter knows nothing of who reads half of it. */
static void settings_are_of_all_bits(void)
{
    static const struct {
        const char *plan, *word;
    } rows[] = {
        {"{align: left, top: 8}", "left"}, {"{align: right, top: 8}", "right"}, {"{align: left}", "left"}};
    for (size_t i = 0; i < ROWS(rows); i++) {
        write_board(true, ", registers: {r: {width: 8, fields: {align: {bits: 5, right: 0, left: 1}, bits: "
                          "{bits: 0 .. 3}}}}");
        run_result r = run_command("word", plan_of(rows[i].plan), "s", NULL);
        char wanted[80];
        snprintf(wanted, sizeof wanted, "%s\n", rows[i].word);
        CHECK_ROW(rows[i].plan,
                  r.status == 0 && strstr(r.out, wanted) != NULL && strstr(r.out, "     10") != NULL);
        if (strstr(r.out, wanted) == NULL)
            printf("\n%s%s", r.out, r.err);
        run_free(&r);
    }
}

/* What firmware gets is that word, and every count of it is right. */
static void firmware_gets_the_shorter_word(void)
{
    write_board(true, "");
    run_result r = run_command("header", plan_of("{align: left, top: 8}"), NULL);
    CU_ASSERT(r.status == 0 && strstr(r.out, "TL_MEMBER(bits) 8, TL_MEMBER(width) 8, ") != NULL &&
              strstr(r.out, "if (word > 255u)") != NULL &&
              strstr(r.out, "all 256 counts are rounded right") != NULL);
    run_free(&r);
    r = run_command("header", plan_of("{align: left, top: 9}"), NULL);
    CU_ASSERT(r.status == 0 && strstr(r.out, "TL_MEMBER(bits) 9, TL_MEMBER(width) 16, ") != NULL);
    run_free(&r);
}

static void what_makes_no_sense_is_refused(void)
{
    static const char *const rows[][2] = {
        {"{top: 10}", "4 to 9"}, {"{top: 3}", "4 to 9"}, {"{top: 7.5}", "4 to 9"}};
    for (size_t i = 0; i < ROWS(rows); i++) {
        write_board(true, "");
        run_result r = run_command("check", plan_of(rows[i][0]), NULL);
        CHECK_ROW(rows[i][0],
                  r.status != 0 && strstr(r.err, rows[i][1]) != NULL && strstr(r.err, ":4:") != NULL);
        run_free(&r);
    }
}

/* The counts of twelve bits are a sixteenth as many of eight; without saying so they are as many. */
static void errors_shrink_with_the_bits(void)
{
    static const struct {
        const char *name, *offered, *choice, *errors;
        double half_width; /* of the interval at 2.5 V, in volts: half a step and the errors */
    } rows[] = {
        {"twelve of twelve", "[12, 8]", "{bits: 12}", "{bits: 12, offset: ±8 counts}", 8.5 * 5 / 4096},
        {"eight of twelve", "[12, 8]", "{bits: 8}", "{bits: 12, offset: ±8 counts}",
         (0.5 + 8 / 16.0) * 5 / 256},
        {"the upper eight", "[12, 8]", "{bits: 12, top: 8}", "{bits: 12, offset: ±8 counts}",
         (0.5 + 8 / 16.0) * 5 / 256},
        {"not said", "[12, 8]", "{bits: 8}", "{offset: ±8 counts}", 8.5 * 5 / 256},
        {"stated for another width than the usual", "[8, 12]", "{bits: 8}", "{bits: 10, offset: ±2 counts}",
         (0.5 + 0.5) * 5 / 256},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char text[900];
        snprintf(
            text, sizeof text,
            "tinyladder: board 1\ntitle: B\nsupplies: {v: 5 V ±0 %%}\n"
            "every-pin: {supply: v, limits: 0 V .. rail, vil: 1 V, vih: 2 V}\npins: {A: {channel: 0}}\n"
            "converters: {main: {bits: %s, steps: half, word: {in: 16}, references: {v: v}, "
            "sampling: {capacitor: 5 pF, switch: 1k}, acquisition: [1 us], conversion: 1 us, errors: %s}}\n",
            rows[i].offered, rows[i].errors);
        (void)scratch_file("top.board.yaml", text, strlen(text));
        tl_bench *bench = tl_bench_open(plan_of(rows[i].choice), NULL, NULL);
        tl_bench_reading r;
        CU_ASSERT_FATAL(bench != NULL);
        CHECK_ROW(rows[i].name, tl_bench_read(bench, 0, &r) == TL_NET_SOLVED);
        CHECK_ROW(rows[i].name, near((r.is.within.high - r.is.within.low) / 2, rows[i].half_width,
                                     0.1 * rows[i].half_width));
        tl_bench_free(bench);
    }
}

CU_TestInfo top_tests[] = {
    {"errors shrink with the bits", errors_shrink_with_the_bits},
    {"the upper bits are the code shifted", the_upper_bits_are_the_code_shifted},
    {"errors are of all bits", errors_are_of_all_bits},
    {"settings are of all bits", settings_are_of_all_bits},
    {"firmware gets the shorter word", firmware_gets_the_shorter_word},
    {"what makes no sense is refused", what_makes_no_sense_is_refused},
    CU_TEST_INFO_NULL,
};
