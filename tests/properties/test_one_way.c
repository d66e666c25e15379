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
    const int step = getenv("TL_LONG") != NULL ? 1 : STRIDE;
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
        CHECK_ROW(a->name, same && near_by && fabs(atof(volts) - v.pin_volts) < 1e-6);
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
    int count = 0;
    if (tl_plan_segments(a->circuit, a->signal, 1, 1, points, 255, &count) != TL_NET_SOLVED)
        return;
    const tl_table table = {.points = points, .count = (uint8_t)count};
    bool beyond;
    CHECK_ROW(a->name, tl_table_check(&table) == TL_OK);
    for (long code = a->first; code <= a->last; code = next_code(a, code)) {
        double figure;
        if (code < points[0].from || code > points[count - 1].from ||
            tl_plan_shown(a->circuit, a->signal, (double)code, &figure) != TL_NET_SOLVED || !isfinite(figure))
            continue;
        const bool same = fabs(0.1 * tl_table_value(&table, (int32_t)code, &beyond) - figure) <= 0.1001;
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
    CU_ASSERT(signals > 25 && counts > 1000 && backs > 900 && pointed > 600);
}

CU_TestInfo one_way_tests[] = {
    {"every room says the same", every_room_says_the_same},
    CU_TEST_INFO_NULL,
};
