/* SPDX-License-Identifier: MIT */
/*
 * The generated header as firmware has it: compiled without a warning as C11 and C++17, run over every count,
 * and compared with what the plan says of the same count. What it claims of itself is counted again.
 */
#include "support.h"
#include "tinyladder/design/firmware.h"
#include "tinyladder/design/measurement.h"
#include "tinyladder/design/rules.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

typedef struct {
    tl_report *report;
    tl_plan *plan;
    tl_circuit *circuit;
    tl_firmware_row *rows;
    char *text;
} made;

static made make(const char *path)
{
    char why[200];
    made m = {.report = tl_report_new()};
    tl_report_allow_outside(m.report, true);
    m.plan = tl_plan_load(path, m.report);
    CU_ASSERT_FATAL(m.plan != NULL);
    m.circuit = tl_circuit_new(m.plan);
    m.rows = calloc((size_t)m.plan->signal_count, sizeof *m.rows);
    m.text = tl_firmware_header(m.circuit, NULL, m.rows, why);
    CU_ASSERT_FATAL(m.text != NULL);
    return m;
}

static void drop(made *m)
{
    free(m->text);
    free(m->rows);
    tl_circuit_free(m->circuit);
    tl_plan_free(m->plan);
    tl_report_free(m->report);
}

static bool has_value(const made *m, int signal)
{
    return m->rows[signal].way >= TL_FIRMWARE_LINE;
}

static const char *c_of(const char *name, char text[80])
{
    snprintf(text, 80, "%s%s", name[0] >= '0' && name[0] <= '9' ? "n" : "", name);
    for (char *at = text; *at != '\0'; at++)
        *at = (char)(*at == '-' ? '_' : *at);
    return text;
}

/* Codes are tried one by one, of more than 16 bits every 251st. */
static long stride_of(const tl_analog_path *path)
{
    return path->last_code - path->first_code > 65535 ? 251 : 1;
}

/* A program that says every value and every percent. */
static void write_program(const made *m, FILE *to)
{
    fprintf(to, "#include \"made.h\"\n#include <stdio.h>\nint main(void)\n{\n");
    for (int i = 0; i < m->plan->signal_count; i++) {
        char name[80], percent[100];
        if (!has_value(m, i))
            continue;
        const tl_analog_path *path = tl_circuit_path(m->circuit, i);
        c_of(m->plan->signals[i].name, name);
        snprintf(percent, sizeof percent, "%s_percent", name);
        /* Of up to 16 bits a count from the lowest code on, else the code. */
        const bool wide = path->last_code - path->first_code > 65535;
        fprintf(to,
                "    for (long c = %ld; c <= %ld; c += %ld) {\n        const %s_count is = {(%s)(c - %ld)};\n"
                "        printf(\"%%ld %%d\\n\", (long)%s_value(is), ",
                path->first_code, path->last_code, stride_of(path), name, wide ? "int32_t" : "uint16_t",
                wide ? 0 : path->first_code, name);
        if (strstr(m->text, percent) != NULL)
            fprintf(to, "(int)%s(is));\n    }\n", percent);
        else
            fprintf(to, "-1);\n    }\n");
    }
    fprintf(to, "    return 0;\n}\n");
}

static bool compiles(const char *const *words)
{
    run_result r = run_program(words, TL_SCRATCH);
    const bool good = r.status == 0 && r.err[0] == '\0';
    if (!good)
        printf("\n%s\n", r.err);
    run_free(&r);
    return good;
}

/* Every value: as near as the row says, and as often not the nearest; percent exactly as the plan has it. */
static void check_values(const char *name, const made *m, int signal, char **at)
{
    const tl_firmware_row *row = &m->rows[signal];
    const tl_analog_path *path = tl_circuit_path(m->circuit, signal);
    const tl_plan_reading *reading = &m->plan->signals[signal].reading;
    long wrong = 0, seen = 0, percents = 0, steps = 0;
    double worst = 0;
    for (long c = path->first_code; c <= path->last_code; c += stride_of(path)) {
        double shown = NAN;
        tl_value v;
        const long value = strtol(*at, at, 10), percent = strtol(*at, at, 10);
        if (tl_plan_shown(m->circuit, signal, (double)c, &shown) == TL_NET_SOLVED) {
            const double off = fabs((double)value - shown * pow(10, row->decimals));
            if (off <= row->deviation + 1e-6) {
                seen++;
                worst = fmax(worst, off);
                wrong += off > 0.5 + 1e-6;
            }
        }
        /* A coarser step is kept to, but where two are equally near. */
        if (reading->round > 0 && tl_plan_value_plain(m->circuit, signal, (double)c, &v) == TL_NET_SOLVED)
            steps += fabs((double)value - v.value * pow(10, row->decimals)) > 1e-6 &&
                     fabs(fabs(shown / reading->round - floor(shown / reading->round)) - 0.5) > 1e-6 &&
                     isfinite(v.value) && !v.open && !v.shorted;
        if (percent >= 0 && tl_plan_value_plain(m->circuit, signal, (double)c, &v) == TL_NET_SOLVED &&
            v.percent >= 0 && v.percent != percent)
            percents++;
    }
    const bool whole = stride_of(path) == 1;
    CHECK_ROW(name, percents == 0);
    if (row->way == TL_FIRMWARE_TABLE)
        return; /* in half counts where these are coarser: suite "every count" */
    CHECK_ROW(name, row->wrong > 0 || reading->round == 0 || steps == 0);
    CHECK_ROW(name, whole ? seen >= row->counts : seen > 0);
    CHECK_ROW(name, !whole || reading->round > 0 || (wrong >= row->wrong && worst >= row->deviation - 1e-6));
    if (percents != 0 || (whole && seen < row->counts))
        printf("\n  %s, %s: %ld of %ld as near as %g, %ld percents differ\n", name,
               m->plan->signals[signal].name, seen, row->counts, row->deviation, percents);
}

static void run_over_every_count(const char *name, const char *path)
{
    static const char *const as_c[] = {"cc",
                                       "-std=c11",
                                       "-O1",
                                       "-Wall",
                                       "-Wextra",
                                       "-Wconversion",
                                       "-Wshadow",
                                       "-Wpedantic",
                                       "-Werror",
                                       "-I",
                                       TL_SOURCE "/include",
                                       "made.c",
                                       TL_SOURCE "/src/core/lean.c",
                                       TL_SOURCE "/src/core/table.c",
                                       TL_SOURCE "/src/core/ratio.c",
                                       TL_SOURCE "/src/core/share.c",
                                       TL_SOURCE "/src/core/rungs.c",
                                       "-o",
                                       "made",
                                       NULL};
    static const char *const as_cpp[] = {
        "c++",     "-std=c++17",    "-Wall", "-Wextra", "-Wconversion", "-Wshadow",           "-Wpedantic",
        "-Werror", "-fsyntax-only", "-x",    "c++",     "-I",           TL_SOURCE "/include", "made.c",
        NULL};
    made m = make(path);
    scratch_file("made.h", m.text, strlen(m.text));
    FILE *to = fopen(scratch_path("made.c"), "w");
    write_program(&m, to);
    fclose(to);
    CHECK_ROW(name, compiles(as_cpp));
    CHECK_ROW(name, compiles(as_c));
    const char *const words[] = {scratch_path("made"), NULL};
    run_result r = run_program(words, TL_SCRATCH);
    char *at = r.out;
    CHECK_ROW(name, r.status == 0);
    for (int i = 0; i < m.plan->signal_count; i++) {
        if (has_value(&m, i))
            check_values(name, &m, i, &at);
    }
    CHECK_ROW(name, strtol(at, &at, 10) == 0 && *at == '\n');
    run_free(&r);
    drop(&m);
}

/* Falling, in coarse steps, bent, of 24 bits with a sign, as counts; percent that falls. */
static const char odd_part[] =
    "tinyladder: converter 1\ntitle: Wide\nbus: spi\nsupply: 2.7 V .. 5.5 V\nbits: 24\nsteps: half\nword: "
    "{sign: "
    "twos-complement, in: 24}\nranges: [±2 V]\ninputs: [x, y]\nlimits: -0.3 V .. rail + 0.3 V\nconversion: 8 "
    "us\nframe: {send: [1, channel], zeros: 1, take: 24}\n";
static const char odd_plan[] =
    "tinyladder: plan 1\ntitle: odd\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\n"
    "supplies: {battery: 10 V .. 15 V}\nsignals:\n"
    "  falling: {source: {potentiometer: 10k ±0 %, top: logic}, pin: L4, reading: {points: [0 %: 180 deg, "
    "100 %: "
    "-180 deg], decimals: 1}}\n"
    "  coarse: {source: {rail: battery}, stages: [divider: {upper: 47k ±1 %, lower: 10k ±1 %}], pin: L6, "
    "reading: "
    "{unit: V, round: 0.5 V, percent: {empty: 14 V, full: 11 V}}}\n"
    "  3rd: {source: {potentiometer: 10k ±0 %, top: logic}, pin: L7, reading: {points: [0 %: 0 mm, 40 %: 100 "
    "mm, "
    "60 %: 120 mm, 100 %: 400 mm], decimals: 1}}\n"
    "  fine-x: {source: {voltage: -0.2 V .. 1.9 V}, pin: wide.x, reading: {unit: mV, decimals: 2}}\n"
    "  stepped: {source: {rail: battery}, stages: [divider: {upper: 47k ±1 %, lower: 10k ±1 %}], pin: L17, "
    "reading: "
    "{unit: V, decimals: 2, round: 0.29 V}}\n"
    "  typed: {source: {potentiometer: 10k ±0 %, top: logic}, pin: L18, reading: {points: [0 %: 0 "
    "a\"*/b?\\?/, 100 %: "
    "100 a\"*/b?\\?/], decimals: 0}}\n"
    "  mid: {source: {voltage: 1 V .. 2 V}, pin: L16, reading: {of: counts}}\n"
    "buses: {w: {pins: {clock: L27, in: L28, out: L29}, mode: spi}}\n"
    "converters: {wide: {part: odd.converter.yaml, supply: logic, bus: w, select: L26}}\n";

static void values_are_the_plans(void)
{
    static const char *const paths[] = {TL_SOURCE "/demo/fernhill.plan.yaml",
                                        TL_SOURCE "/demo/sound/workshop-on-the-plover.plan.yaml",
                                        TL_SOURCE "/demo/sound/knob-with-end-resistance.plan.yaml",
                                        TL_SOURCE "/demo/sound/three-decades-of-light.plan.yaml",
                                        TL_SOURCE "/demo/sound/slightly-below-ground.plan.yaml"};
    for (size_t i = 0; i < ROWS(paths); i++)
        run_over_every_count(paths[i], paths[i]);
    scratch_file("odd.converter.yaml", odd_part, strlen(odd_part));
    run_over_every_count("odd", scratch_file("odd.plan.yaml", odd_plan, strlen(odd_plan)));
}

/* Straight lines come out right at every count, wherever 16 bits of a multiplier and a count let them. */
static void lines_are_rounded_right(void)
{
    made m = make(TL_SOURCE "/demo/fernhill.plan.yaml");
    int lines = 0;
    for (int i = 0; i < m.plan->signal_count; i++) {
        if (m.rows[i].way != TL_FIRMWARE_LINE || m.rows[i].counts > 4096)
            continue;
        CHECK_ROW(m.plan->signals[i].name, m.rows[i].wrong == 0 && m.rows[i].deviation <= 0.5 + 1e-6);
        lines++;
    }
    CU_ASSERT(lines == 6);
    drop(&m);
}

static int lines_that_differ(const char *a, const char *b)
{
    int differ = 0;
    while (*a != '\0' && *b != '\0') {
        const size_t x = strcspn(a, "\n"), y = strcspn(b, "\n");
        differ += x != y || strncmp(a, b, x) != 0;
        a += x + (a[x] == '\n');
        b += y + (b[y] == '\n');
    }
    return differ + (*a != *b);
}

/* The same plan, the same bytes, wherever it is; another resistor is a matter of a few lines. */
static void changes_little(void)
{
    char *text = text_of(TL_SOURCE "/demo/sound/budget-just-kept.plan.yaml");
    char *same = malloc(strlen(text) + 400), *upper;
    const char *board = strstr(text, "board: ");
    CU_ASSERT_FATAL(board != NULL);
    sprintf(same, "%.*sboard: " TL_SOURCE "/demo/sound/%s", (int)(board - text), text,
            board + strlen("board: "));
    made a = make(TL_SOURCE "/demo/sound/budget-just-kept.plan.yaml");
    made b = make(scratch_file("budget-just-kept.plan.yaml", same, strlen(same)));
    CU_ASSERT_STRING_EQUAL(a.text, b.text);
    drop(&b);
    upper = strstr(same, "upper: ");
    CU_ASSERT_FATAL(upper != NULL);
    upper[strlen("upper: ")] = upper[strlen("upper: ")] == '9' ? '8' : '9';
    b = make(scratch_file("budget-just-kept.plan.yaml", same, strlen(same)));
    const int differ = lines_that_differ(a.text, b.text);
    CU_ASSERT(differ > 2 && differ < 9);
    drop(&b);
    drop(&a);
    free(same);
    free(text);
}

/* Names that are one in C are told; errors of a plan stand in its header where they are accepted. */
static void says_what_cannot_be(void)
{
    static const char twice[] =
        "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE
        "/demo/lapwing.board.yaml\nsignals:\n  knob: {source: {potentiometer: 10k, top: logic}, pin: L4}\n"
        "  Knob: {source: {potentiometer: 10k, top: logic}, pin: L6}\n";
    const char *path = scratch_file("twice.plan.yaml", twice, strlen(twice)), *out = scratch_path("out.h");
    run_result r = run_command("header", path, NULL);
    CU_ASSERT(r.status == 1 && strstr(r.err, "'knob' and 'Knob' would both be called KNOB") != NULL &&
              r.out[0] == '\0');
    run_free(&r);
    remove(out);
    r = run_command("header", "demo/faulty/over-limit.plan.yaml", "-o", out, NULL);
    CU_ASSERT(r.status == 1 && strstr(r.err, "[over-limit]") != NULL && fopen(out, "r") == NULL);
    run_free(&r);
    r = run_command("header", "demo/faulty/over-limit.plan.yaml", "-o", out, "--despite-errors", NULL);
    char *text = text_of(out);
    CU_ASSERT(r.status == 0 && strstr(text, "/* ERROR in line ") != NULL &&
              strstr(text, "[over-limit] */") != NULL);
    run_free(&r);
    free(text);
}

/* Pins that something runs on are lines which the firmware sets first. */
static void pins_that_are_rails_are_lines(void)
{
    static const char *const rails[] = {
        "enum { KNOB_HIGH_RAIL_LINE = TL_PIN(6, D4), KNOB_HIGH_RAIL_HIGH = 1 };",
        "enum { KNOB_LOW_RAIL_LINE = TL_PIN(7, D5), KNOB_LOW_RAIL_HIGH = 0 };"};
    run_result r = run_command("header", "docs/recipes/probe.plan.yaml", NULL);
    for (size_t i = 0; i < ROWS(rails); i++)
        CHECK_ROW(rails[i], r.status == 0 && strstr(r.out, rails[i]) != NULL &&
                                strstr(r.out, rails[i]) < strstr(r.out, "knob_take("));
    run_free(&r);
}

/* A header is made anew over its own like, over anything else only when forced; --verify tells what differs.
 */
static void is_written_and_verified(void)
{
    static const char *const plan = "demo/fernhill.plan.yaml";
    const char *out = scratch_path("own.h");
    remove(out);
    const struct {
        const char *name, *words[4];
        int status;
        const char *says, *complains, *before;
    } rows[] = {
        {"written", {"-o", out}, 0, "house-battery", "", NULL},
        {"the same again", {"-o", out}, 0, "max error, digits", "", NULL},
        {"as it is", {"--verify", out}, 0, "as the plan is", "", NULL},
        {"as JSON", {"-o", out, "--json"}, 0, "\"deviation_digits\": 0.5", "", NULL},
        {"not there", {"--verify", "/nonexistent/x.h"}, 3, "", "No such file", NULL},
        {"nowhere to write", {"-o", "/nonexistent/x.h"}, 4, "", "No such file", NULL},
        {"another file", {"-o", out}, 4, "", "--force writes over it", "int x;\n"},
        {"which stays", {"--verify", out}, 1, "-int x;", "", NULL},
        {"forced", {"-o", out, "--force"}, 0, "house-battery", "", NULL},
        {"no text", {"--verify", out}, 3, "", "this is no header", "\x1b[2J\n"},
        {"both", {"-o", out, "--verify", out}, 2, "", "not both", NULL},
        {"JSON of nothing", {"--json"}, 2, "", "goes with --output", NULL},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        if (rows[i].before != NULL)
            scratch_file("own.h", rows[i].before, strlen(rows[i].before));
        run_result r = run_command("header", plan, rows[i].words[0], rows[i].words[1], rows[i].words[2],
                                   rows[i].words[3], NULL);
        CHECK_ROW(rows[i].name, r.status == rows[i].status && strstr(r.out, rows[i].says) != NULL &&
                                    strstr(r.err, rows[i].complains) != NULL);
        run_free(&r);
    }
    /* A figure changed by hand is not lost; a header of the plan as it was is made anew. */
    run_result r = run_command("header", plan, "-o", out, "--force", NULL);
    run_free(&r);
    char *text = text_of(out), *mean = strstr(text, "_MEAN = 16");
    CU_ASSERT_FATAL(mean != NULL && tl_firmware_header_is_whole(text));
    mean[9] = '7';
    CU_ASSERT(!tl_firmware_header_is_whole(text));
    scratch_file("own.h", text, strlen(text));
    r = run_command("header", plan, "-o", out, NULL);
    char *now = text_of(out);
    CU_ASSERT(r.status == 4 && strstr(r.err, "changed by hand") != NULL && strcmp(now, text) == 0);
    run_free(&r);
    free(text);
    free(now);
}

/* What 16 bits cannot hold does not compile in the small build, and says which signal; all else does. */
static void says_what_the_small_build_cannot_hold(void)
{
    static const struct {
        const char *plan, *says; /* NULL: it compiles */
    } rows[] = {{"demo/fernhill.plan.yaml", NULL},
                {"demo/cold-frame.plan.yaml", NULL},
                {TL_SCRATCH "/odd.plan.yaml", "fine-x: its words have more than 15 bits"},
                {"docs/recipes/bath.plan.yaml", "damp: frequency, duty and period"}};
    for (size_t i = 0; i < ROWS(rows); i++) {
        run_result r =
            run_command("--outside", "header", rows[i].plan, "-o", TL_SCRATCH "/small.h", "--force", NULL);
        CHECK_ROW(rows[i].plan, r.status == 0);
        run_free(&r);
        r = run_program((const char *const[]){"cc", "-std=c11", "-w", "-DTL_SMALL", "-fsyntax-only", "-I",
                                              TL_SOURCE "/include", "-x", "c", TL_SCRATCH "/small.h", NULL},
                        TL_SOURCE);
        CHECK_ROW(rows[i].plan, rows[i].says == NULL ? r.status == 0
                                                     : r.status != 0 && strstr(r.err, rows[i].says) != NULL);
        run_free(&r);
    }
}

/* As long a bar as a plan may have, and lines that the firmware drives as it likes. */
static void many_lines_of_one_output(void)
{
    static const char plan[] =
        "tinyladder: plan 1\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\nsignals: {k: {source: "
        "{potentiometer: 10k, top: logic}, pin: L4}}\noutputs:\n  bar: {pins: [L8 .. L14, L16 .. L39, L0], "
        "lamp: 2 V, series: 1k, shows: k, as: levels}\n  free: {pins: [L1 .. L3], into: {vil: 0.6 V, vih: 2 "
        "V}}\n";
    scratch_file("bar.plan.yaml", plan, strlen(plan));
    run_result r = run_command("header", TL_SCRATCH "/bar.plan.yaml", NULL);
    CU_ASSERT(r.status == 0 && strstr(r.out, "static const TL_ROM tl_bar bar_lamps") != NULL &&
              strstr(r.out, "TL_PIN(41, L39), TL_PIN(2, L0)};") != NULL &&
              strstr(r.out, "tl_level_by(bar_steps, 32, TL_NUMBER(is), was)") != NULL);
    CU_ASSERT(
        strstr(
            r.out,
            "enum { FREE_LINES = 3 };\nstatic const TL_ROM uint8_t free_lines[FREE_LINES] = {TL_PIN(3, L1), "
            "TL_PIN(4, L2), TL_PIN(5, L3)};") != NULL);
    if (r.status != 0)
        printf("\n%s", r.err);
    run_free(&r);
}

/* `sleep: yes` of a sweep is what its set-up tells the core, and nothing else does. */
static void a_sweep_sleeps(void)
{
    static const char *const asleep[] = {"", ", sleep: no", ", sleep: yes"};
    for (size_t i = 0; i < ROWS(asleep); i++) {
        char text[500];
        snprintf(text, sizeof text,
                 "tinyladder: plan 1\nboard: " TL_SOURCE
                 "/demo/lapwing.board.yaml\nsignals: {a: {source: {voltage: 0 V .. 3 V}, pin: "
                 "L4, reading: {unit: V}}}\nsweeps: {night: {signals: [a], every: 1 s%s}}\n",
                 asleep[i]);
        run_result r =
            run_command("--outside", "header", scratch_file("sleep.plan.yaml", text, strlen(text)), NULL);
        CHECK_ROW(asleep[i],
                  r.status == 0 &&
                      strstr(r.out, "night_init(tl_sweep *sweep, tl_sample (*samples)[NIGHT_SAMPLES])") !=
                          NULL);
        CHECK_ROW(asleep[i], (strstr(r.out, "sweep->sleeps = true;") != NULL) == (i == 2));
        run_free(&r);
    }
}

/* What the comments say of a pin holds, to the last digit: the circuit's own ends lie within, and so near
 * that another digit would not. */
static void worst_cases_hold_in_comments(void)
{
    made m = make(TL_SOURCE "/demo/fernhill.plan.yaml");
    int seen = 0;
    for (int i = 0; i < m.plan->signal_count; i++) {
        char head[100], end[2][16];
        double low = 0, high = 0;
        snprintf(head, sizeof head, "/* --- %s ---\n", m.plan->signals[i].name);
        const char *at = strstr(m.text, head), *said = at != NULL ? strstr(at, "at worst: ") : NULL;
        if (said == NULL || said > strstr(at, "*/") ||
            sscanf(said, "at worst: %lf %15s .. %lf %15[mV]", &low, end[0], &high, end[1]) != 4)
            continue;
        low *= end[0][0] == 'm' ? 1e-3 : 1;
        high *= end[1][0] == 'm' ? 1e-3 : 1;
        const tl_bounds *volts = &tl_circuit_worst_case(m.circuit, i, 0)->volts;
        CHECK_ROW(head, low <= volts->low + 1e-12 && high >= volts->high - 1e-12);
        CHECK_ROW(head, volts->low - low <= 1e-3 && high - volts->high <= 1e-3);
        seen++;
    }
    CU_ASSERT(seen > 10);
    drop(&m);
}

CU_TestInfo header_tests[] = {
    {"worst cases hold in comments", worst_cases_hold_in_comments},
    {"a sweep sleeps", a_sweep_sleeps},
    {"pins that are rails are lines", pins_that_are_rails_are_lines},
    {"values are the plan's", values_are_the_plans},
    {"lines are rounded right", lines_are_rounded_right},
    {"changes little", changes_little},
    {"says what cannot be", says_what_cannot_be},
    {"is written and verified", is_written_and_verified},
    {"says what the small build cannot hold", says_what_the_small_build_cannot_hold},
    {"many lines of one output", many_lines_of_one_output},
    CU_TEST_INFO_NULL,
};
