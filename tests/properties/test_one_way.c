/* SPDX-License-Identifier: MIT */
/*
 * One way from count to value: what the library says of a count is what `convert` prints, `convert --back`
 * finds the count again, and the points for firmware lead there too. For every analog signal of every sound
 * plan, at both ends of the codes and between.
 */
#include "support.h"
#include "tinyladder/design/measurement.h"
#include "tinyladder/design/rules.h"
#include <glob.h>
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

enum { STRIDE = 173, ENDS = 6, TEXT = 300000 };

typedef struct {
    const char *path;
    tl_circuit *circuit;
    int signal;
    const char *name;
    long first, last;
} asked_signal;

static int signals, counts, backs, pointed;

static long next_code(const asked_signal *a, long code)
{
    const int step = getenv("TL_LONG") != NULL ? 1 : STRIDE * THINNED;
    return code < a->first + ENDS || code > a->last - ENDS - step ? code + 1 : code + step;
}

/* Whether the figure of a code is that of its neighbours too: then no way back leads to just this one. */
static bool is_level(const asked_signal *a, long code, double figure)
{
    double beside;
    for (int way = -1; way <= 1; way += 2) {
        if (code + way >= a->first && code + way <= a->last &&
            tl_plan_shown(a->circuit, a->signal, (double)(code + way), &beside) == TL_NET_SOLVED &&
            fabs(beside - figure) <= 1e-9 * fabs(figure))
            return true;
    }
    return false;
}

static run_result convert(const asked_signal *a, const char *text, const char *option)
{
    const char *file = scratch_file("one-way.csv", text, strlen(text));
    return option != NULL ? run_command("--outside", "convert", option, a->path, a->name, file, NULL)
                          : run_command("--outside", "convert", a->path, a->name, file, NULL);
}

/* The n-th field of a line, cut out. */
static void field_of(const char *line, int n, char field[80])
{
    while (n-- > 0 && line != NULL)
        line = (line = strchr(line, ',')) != NULL ? line + 1 : NULL;
    snprintf(field, 80, "%.*s", line == NULL ? 0 : (int)strcspn(line, ",\n"), line == NULL ? "" : line);
}

static void forth(const asked_signal *a)
{
    char *text = malloc(TEXT);
    size_t length = (size_t)sprintf(text, "count\n");
    for (long code = a->first; code <= a->last && length < TEXT - 20; code = next_code(a, code))
        length += (size_t)sprintf(text + length, "%ld\n", code);
    run_result r = convert(a, text, NULL);
    const char *line = strchr(r.out, '\n');
    for (long code = a->first; code <= a->last && line != NULL; code = next_code(a, code)) {
        tl_value v;
        char shown[80], wanted[80] = "", volts[80];
        line++;
        field_of(line, 1, volts);
        field_of(line, 2, shown);
        if (tl_plan_value_plain(a->circuit, a->signal, (double)code, &v) == TL_NET_SOLVED && !v.none &&
            !((v.open || v.shorted) && isnan(v.value)))
            snprintf(wanted, sizeof wanted, "%.12g", v.value);
        const double step =
            pow(10, -(double)(strchr(shown, '.') != NULL ? strlen(strchr(shown, '.') + 1) : 0));
        const bool same = v.open || v.shorted || (wanted[0] == '\0') == (shown[0] == '\0');
        const bool near_by =
            wanted[0] == '\0' || shown[0] == '\0' || fabs(atof(shown) - atof(wanted)) <= 0.5001 * step;
        CHECK_ROW(a->name, same && near_by && fabs(atof(volts) - v.pin_volts) < 1.1e-6);
        if (!same || !near_by)
            printf("\n  %s, %s: count %ld: '%s', the library has '%s'\n", a->path, a->name, code, shown,
                   wanted);
        counts++;
        line = strchr(line, '\n');
    }
    run_free(&r);
    free(text);
}

static void back(const asked_signal *a)
{
    char *text = malloc(TEXT);
    long *codes = malloc(TEXT * sizeof *codes);
    int asked = 0;
    size_t length = (size_t)sprintf(text, "value\n");
    for (long code = a->first; code <= a->last && length < TEXT - 40; code = next_code(a, code)) {
        double figure;
        if (tl_plan_shown(a->circuit, a->signal, (double)code, &figure) != TL_NET_SOLVED ||
            !isfinite(figure) || is_level(a, code, figure))
            continue;
        length += (size_t)sprintf(text + length, "%.12g\n", figure);
        codes[asked++] = code;
    }
    run_result r = convert(a, text, "--back");
    const char *line = strchr(r.out, '\n');
    for (int i = 0; i < asked && line != NULL; i++) {
        char found[80], low[80], high[80];
        line++;
        field_of(line, 1, found);
        field_of(line, 2, low);
        field_of(line, 3, high);
        const bool same = atol(found) == codes[i] && atol(low) <= codes[i] && atol(high) >= codes[i];
        CHECK_ROW(a->name, same);
        if (!same)
            printf("\n  %s, %s: count %ld came back as %s (%s .. %s)\n", a->path, a->name, codes[i], found,
                   low, high);
        backs++;
        line = strchr(line, '\n');
    }
    run_free(&r);
    free(codes);
    free(text);
}

static void by_points(const asked_signal *a)
{
    tl_table_point points[255];
    tl_table_points made = {points, 255, 0};
    if (tl_plan_segments(a->circuit, a->signal, 1, 1, &made) != TL_NET_SOLVED)
        return;
    const int count = made.count;
    const tl_table table = {.points = points, .count = (uint8_t)count};
    bool beyond;
    CHECK_ROW(a->name, tl_table_check(&table) == TL_OK);
    for (long code = a->first; code <= a->last; code = next_code(a, code)) {
        double figure;
        if (code < points[0].from || code > points[count - 1].from ||
            tl_plan_shown(a->circuit, a->signal, (double)code, &figure) != TL_NET_SOLVED || !isfinite(figure))
            continue;
        double next = figure; /* half a count, where that is coarser */
        (void)tl_plan_shown(a->circuit, a->signal, (double)(code < a->last ? code + 1 : code - 1), &next);
        const double most = 0.1001 * fmax(1, isfinite(next) ? 10 * fabs(next - figure) / 2 : 1e9);
        const bool same = fabs(0.1 * tl_table_value(&table, (int32_t)code, &beyond) - figure) <= most;
        CHECK_ROW(a->name, same);
        if (!same)
            printf("\n  %s, %s: count %ld is %.6g, by points %.6g\n", a->path, a->name, code, figure,
                   0.1 * tl_table_value(&table, (int32_t)code, &beyond));
        pointed++;
    }
}

static void every_room_says_the_same(void)
{
    glob_t found;
    CU_ASSERT_FATAL(glob(TL_SOURCE "/demo/sound/*.plan.yaml", 0, NULL, &found) == 0);
    for (size_t f = 0; f < found.gl_pathc; f++) {
        tl_report *report = tl_report_new();
        tl_report_allow_outside(report, true);
        tl_plan *plan = tl_plan_load(found.gl_pathv[f], report);
        tl_circuit *circuit = plan != NULL ? tl_circuit_new(plan) : NULL;
        for (int i = 0; circuit != NULL && i < plan->signal_count; i++) {
            const tl_analog_path *path = plan->signals[i].analog ? tl_circuit_path(circuit, i) : NULL;
            /* Repeated entries are alike: the first is enough. */
            if (path == NULL || path->fault != TL_NET_SOLVED || tl_circuit_nodes(circuit, i)->states > 1 ||
                (i > 0 && plan->signals[i].place.line == plan->signals[i - 1].place.line))
                continue;
            const asked_signal a = {found.gl_pathv[f],     circuit,          i,
                                    plan->signals[i].name, path->first_code, path->last_code};
            forth(&a);
            back(&a);
            by_points(&a);
            signals++;
        }
        tl_circuit_free(circuit);
        tl_plan_free(plan);
        tl_report_free(report);
    }
    globfree(&found);
    printf("  %d signals: %d counts, %d back, %d by points ", signals, counts, backs, pointed);
    CU_ASSERT(signals > 25 && counts > 1000 / THINNED && backs > 900 / THINNED && pointed > 600 / THINNED);
}

/* 24 bits over a bus, a photodiode's nanoamperes, and two references of one converter: each by hand. */
static void small_figures_keep_their_digits(void)
{
    static const char part[] = "tinyladder: converter 1\ntitle: Wide\nbus: i2c\nsupply: 2.7 V .. 5.5 "
                               "V\nbits: 24\nsteps: half\nword: {sign: "
                               "twos-complement, in: 24, fill: sign}\nranges: [±1 V]\ninputs: "
                               "[in-0]\nlimits: -0.3 V .. rail + 0.3 V\n"
                               "conversion: 60 ms\nerrors: {offset: ±0 counts, gain: ±0 counts, "
                               "nonlinearity: ±0 counts}\nframe: {settings: "
                               "0x01, result: 0x00, ready: bit 7, longest: 80 ms}\n";
    static const char plan_text[] =
        "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE
        "/demo/lapwing.board.yaml\nbuses: {w: {pins: {scl: L24, sda: L25}, stages: [pull: {up: 4k7, to: "
        "logic}]}}\n"
        "converters: {f: {part: wide.converter.yaml, supply: logic, bus: w, address: 0x2a}}\nsignals:\n"
        "  wide: {source: {voltage: 0 V .. 0.9 V}, pin: f.in-0, reading: {unit: uV}}\n"
        "  photo: {source: {current: 0 uA .. 2 uA}, stages: [load: 1M], pin: L4, reading: {unit: nA}}\n"
        "  first: {source: {voltage: 0 V .. 2 V}, pin: L5, reference: inner, reading: {unit: V}}\n"
        "  second: {source: {voltage: 0 V .. 2 V}, pin: L6, reading: {unit: V}}\n";
    static const struct {
        int signal;
        double code, value;
    } rows[] = {
        {0, 1193047, 1193047 / 8.388608}, {0, -1, -1 / 8.388608}, {1, 3, 3 * 3.3e3 / 4096},
        {1, 1738, 1738 * 3.3e3 / 4096},   {2, 2048, 1.25},        {3, 2048, 1.65},
    };
    tl_report *report = tl_report_new();
    tl_report_allow_outside(report, true);
    tl_report_instead(report, "/nowhere/t.plan.yaml", plan_text, sizeof plan_text - 1);
    tl_report_instead(report, "/nowhere/wide.converter.yaml", part, sizeof part - 1);
    tl_plan *plan = tl_plan_load("/nowhere/t.plan.yaml", report);
    for (int i = 0; plan == NULL && i < tl_report_count(report); i++)
        printf("\n  %s", tl_report_finding(report, i)->cause);
    CU_ASSERT_FATAL(plan != NULL);
    tl_circuit *circuit = tl_circuit_new(plan);
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_value v;
        CHECK_ROW("solved", tl_plan_value(circuit, rows[i].signal, rows[i].code, &v) == TL_NET_SOLVED);
        CHECK_ROW(plan->signals[rows[i].signal].name, near(v.value, rows[i].value, 1e-9));
        CHECK_ROW(plan->signals[rows[i].signal].name, v.within.low < v.value && v.within.high > v.value);
    }
    tl_circuit_free(circuit);
    tl_plan_free(plan);
    tl_report_free(report);
}

CU_TestInfo one_way_tests[] = {
    {"every room says the same", every_room_says_the_same},
    {"small figures keep their digits", small_figures_keep_their_digits},
    CU_TEST_INFO_NULL,
};
