/* SPDX-License-Identifier: MIT */
/*
 * Every number of a plan, its board and its devices counts: moved far up or down, some bound, some reading or
 * some finding moves, or docs/plan-reference.md says that it is not looked at. And what mends, mends: the
 * fixes of plans that were damaged so.
 */
#include "elaborate/circuit_struct.h"
#include "support.h"
#include "tinyladder/bench.h"
#include "tinyladder/design/proposals.h"
#include <glob.h>
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/* --- what is known of a plan, as one number --- */

typedef struct {
    tl_report *report;
    tl_plan *plan;
    tl_circuit *circuit;
} asked_plan;

static bool open_plan(asked_plan *a, const char *path, const char *const *file, const char *const *text,
                      int files)
{
    *a = (asked_plan){tl_report_new(), NULL, NULL};
    tl_report_allow_outside(a->report, true);
    for (int i = 0; i < files; i++)
        tl_report_instead(a->report, file[i], text[i], strlen(text[i]));
    a->plan = tl_plan_load(path, a->report);
    if (a->plan == NULL)
        return false;
    a->circuit = tl_circuit_new(a->plan);
    tl_plan_check(a->circuit, a->report);
    return true;
}

static void close_plan(asked_plan *a)
{
    tl_circuit_free(a->circuit);
    tl_plan_free(a->plan);
    tl_report_free(a->report);
}

static void take_bytes(unsigned long long *digest, const void *bytes, size_t size)
{
    const unsigned char *at = bytes;
    for (size_t i = 0; i < size; i++)
        *digest = (*digest ^ at[i]) * 1099511628211ull;
}

static void take_number(unsigned long long *digest, double value)
{
    char text[32];
    snprintf(text, sizeof text, "%.9g", value);
    take_bytes(digest, text, strlen(text));
}

static void take_signal(unsigned long long *digest, const asked_plan *a, int i)
{
    const tl_signal_nodes *nodes = tl_circuit_nodes(a->circuit, i);
    for (int state = 0; state < nodes->states; state++) {
        const tl_worst_case *w = tl_circuit_worst_case(a->circuit, i, state);
        if (w->fault != TL_NET_SOLVED)
            continue;
        const tl_bounds *bounds[] = {&w->volts, &w->over, &w->under, &w->over_range, &w->source_ohms};
        for (int b = 0; b < 5; b++) {
            take_number(digest, bounds[b]->low);
            take_number(digest, bounds[b]->high);
        }
        for (int s = 0; s < a->plan->supply_count; s++)
            take_number(digest, w->amperes[s]);
        take_number(digest, nodes->states == 2 ? tl_circuit_edge(a->circuit, i, state) : 0);
    }
    if (!a->plan->signals[i].analog)
        return;
    const tl_analog_path *path = tl_circuit_path(a->circuit, i);
    tl_value value;
    take_number(digest, path->settling_counts);
    take_number(digest, path->dwell_needed);
    take_number(digest, path->dwell);
    take_number(digest, path->input.longest);
    for (int part = 1; part < 4 && path->fault == TL_NET_SOLVED; part++) {
        const double code =
            floor((double)path->first_code + (double)(path->last_code - path->first_code) * part / 4);
        if (tl_plan_value(a->circuit, i, code, &value) != TL_NET_SOLVED)
            continue;
        take_number(digest, value.value);
        take_number(digest, value.within.low);
        take_number(digest, value.within.high);
        take_number(digest, value.percent + 1000 * value.decimals + value.open * 17 + value.shorted * 19);
    }
}

/* What its source must take or give to hold its levels: the rule 'weak-driver' goes by it. */
static void take_drive(unsigned long long *digest, const asked_plan *a, int signal)
{
    const tl_signal_nodes *nodes = tl_circuit_nodes(a->circuit, signal);
    const int rails[2] = {nodes->off_rail, nodes->on_rail};
    for (int state = 0; state < 2 && nodes->states == 2; state++) {
        const tl_figure figure = {
            .kind = TL_FIGURE_RAIL_AMPERES, .of = rails[state], .less = tl_net_fixed(0)};
        tl_bounds amperes;
        if (rails[state] != TL_NET_NONE &&
            tl_island_bounds(nodes->island, tl_circuit_state(a->circuit, signal, state), figure, &amperes) ==
                TL_NET_SOLVED)
            take_number(digest, amperes.high + 3 * amperes.low);
    }
}

static void take_readings(unsigned long long *digest, const asked_plan *a)
{
    tl_bench *bench = tl_bench_new(a->circuit, NULL, 7);
    tl_bench_go_to(bench, 1);
    for (int i = 0; i < a->plan->signal_count; i++) {
        tl_bench_reading r;
        if (tl_bench_read(bench, i, &r) != TL_NET_SOLVED)
            continue;
        take_number(digest, r.analog ? (double)r.count : r.volts);
        take_number(digest, tl_bench_time(bench));
        if (!r.analog)
            take_number(digest, tl_plan_button(a->plan, i).steady);
    }
    tl_bench_free(bench);
}

static unsigned long long digest_of(const asked_plan *a)
{
    unsigned long long digest = 14695981039346656037ull;
    for (int i = 0; i < tl_report_count(a->report); i++) {
        const tl_finding *f = tl_report_finding(a->report, i);
        take_bytes(&digest, f->slug, strlen(f->slug));
        if (f->figure != NULL)
            take_bytes(&digest, f->figure, strlen(f->figure));
    }
    if (a->circuit == NULL)
        return digest;
    for (int i = 0; i < a->plan->line_count; i++)
        take_signal(&digest, a, i);
    for (int i = 0; i < a->plan->line_count; i++)
        take_drive(&digest, a, i);
    for (int i = 0; i < a->plan->output_count; i++) {
        take_number(&digest, tl_circuit_pin_amperes(a->circuit, &a->plan->outputs[i]));
        if (a->plan->outputs[i].driver.way != TL_DRIVER_NONE)
            take_number(&digest, tl_circuit_driver(a->circuit, &a->plan->outputs[i]).load);
    }
    take_readings(&digest, a);
    return digest;
}

/* --- numbers in a text --- */

typedef struct {
    size_t begin, end;
} number;

static bool is_digit(char c)
{
    return c >= '0' && c <= '9';
}

/* The next number that stands as a value: after a blank, a bracket or a sign, up to its unit. */
static bool next_number(const char *text, size_t from, number *n)
{
    for (size_t i = from; text[i] != '\0'; i++) {
        if (text[i] == '#' && (i == 0 || text[i - 1] == ' ' || text[i - 1] == '\n')) {
            i += strcspn(text + i, "\n");
            i--;
            continue;
        }
        if (!is_digit(text[i]) || i == 0 || strchr(" [±\261-", text[i - 1]) == NULL)
            continue;
        size_t end = i;
        while (is_digit(text[end]) || (text[end] == '.' && is_digit(text[end + 1])))
            end++;
        if (text[end] != '\0' && strchr("kMR", text[end]) != NULL && is_digit(text[end + 1]))
            end += 2;
        if (text[i - 1] == '-' && (i < 2 || strchr(" [", text[i - 2]) == NULL)) { /* of a name: bed-1 */
            i = end;
            continue;
        }
        const char *after = text + end;
        const bool value = *after == '\0' || strchr(" ,}]\n%kMmunprRFVAHs", *after) != NULL;
        if (!value || (text[i] == '0' && *after == 'x')) {
            i = end;
            continue;
        }
        *n = (number){i, end};
        return true;
    }
    return false;
}

/* `4k7` too. */
static double value_of(const char *text)
{
    char *end;
    const double whole = strtod(text, &end);
    if (strchr("kMR", *end) == NULL || !is_digit(end[1]))
        return whole;
    const double unit = *end == 'k' ? 1e3 : *end == 'M' ? 1e6 : 1;
    return (whole + (end[1] - '0') / 10.0) * unit;
}

/* A factor below 0 takes the sign before the number away; NULL where it has none. */
static char *with_number(const char *text, number n, double factor)
{
    char now[60];
    const bool whole = memchr(text + n.begin, '.', n.end - n.begin) == NULL;
    const double was = value_of(text + n.begin), value = was == 0 ? ceil(fabs(factor)) : was * fabs(factor);
    const size_t begin = factor < 0 ? n.begin - 1 : n.begin;
    if (factor < 0 && text[begin] != '-')
        return NULL;
    snprintf(now, sizeof now,
             is_digit(text[n.end - 1]) && strpbrk(text + n.begin, "kMR") != NULL &&
                     strpbrk(text + n.begin, "kMR") < text + n.end
                 ? "%.0f ohm"
             : whole && value >= 1 ? "%.0f"
                                   : "%.9g",
             value);
    if (strchr(now, 'e') != NULL)
        snprintf(now, sizeof now, "%.12f", value);
    char *made = malloc(strlen(text) + sizeof now);
    sprintf(made, "%.*s%s%s", (int)begin, text, now, text + n.end);
    return made;
}

/* --- every number counts --- */

/* Numbers that are names, or that the reference calls not looked at. */
static const char *const not_looked_at[] = {"tinyladder:", "title:",   "position:", "port:", "inductance:",
                                            "full:",       "address:", "channel:",  "duty:", "frequency:"};

/* Behind these a file tells words and frames, which the suites of `word` and of the bus compare with it. */
static const char *const words_begin[] = {"registers:", "frame:", "header:"};

/* And what moves nothing in one plan, with its reason. */
static const struct {
    const char *file, *line, *why;
} alone[] = {
    {"data-line-through-one-transistor.plan.yaml", "supplies: {sensor: 5 V ±",
     "the gate is far enough below it"},
    {"fernhill.plan.yaml",
     "motor:   {voltage: 12 V ±5 %, resistance: ", "a load's current is taken at its most"},
    {"fernhill.plan.yaml", "expect: [high ", "a pattern takes time to be read"},
    {"fernhill.plan.yaml", "expect: [high 300 ms, low ", "likewise"},
    {"fernhill.plan.yaml", "low 200 ms, high ", "likewise"},
    {"fernhill.plan.yaml", "high 300 ms, low ", "likewise"},
    {"fernhill.plan.yaml", "within: ", "likewise"},
    {"fernhill.plan.yaml", "lamp: 10k], bounce: ", "of a keypad: it shows while a key is pressed"},
    {"fernhill.plan.yaml", "as: levels, hysteresis: ", "it shows when the figure turns"},
    {"fernhill.plan.yaml", "start-below: ", "likewise"},
    {"fernhill.plan.yaml", "handheld: {resistance: ", "no signal is trimmed with this meter"},
    {"fernhill.plan.yaml", "10 Mohm, accuracy: ", "likewise"},
    {"fernhill.plan.yaml", "digits: ", "likewise"},
    {"fernhill.plan.yaml", "digit: ", "likewise"},
    {"dome.plan.yaml", "hysteresis: ", "it shows when the figure turns"},
    {"dome.plan.yaml", "microvolts: {resistance: ", "the bridge is stiff against it"},
    {"lapwing.board.yaml", "inner: ", "nothing of the plan reads against it"},
    {"lapwing.board.yaml", "inner: 2.5 V ±", "likewise"},
    {"lapwing.board.yaml", "drift: ", "likewise"},
    {"lapwing.board.yaml", "3 us, ", "no signal needs so long"},
    {"lapwing.board.yaml", "10 us, ", "likewise"},
    {"lapwing.board.yaml", "align: [right, left], in: ", "the width of a word is the port's"},
    {"plover.board.yaml", "align: [right, left], in: ", "likewise"},
    {"plover.board.yaml", "hysteresis: ", "no source of that plan stays between the thresholds"},
    {"plover.board.yaml", "vol: ", "it drives no far input there"},
    {"plover.board.yaml", "inner: ", "nothing of the plan reads against it"},
    {"plover.board.yaml", "inner: 1.1 V ±", "likewise"},
    {"plover.board.yaml", "6 us, ", "no signal needs so long"},
    {"plover.board.yaml", "12 us, ", "likewise"},
    {"plover.board.yaml", "24 us, ", "likewise"},
    {"dunlin.converter.yaml", "injection: ", "no clamp of it ever conducts"},
    {"knot.converter.yaml", "injection: ", "likewise"},
    {"inverted-from-12-v.plan.yaml", "supplies: {motor: 12 V ±", "the base gets enough from a quarter of it"},
};

static bool is_excused(const char *file, const char *text, number n)
{
    for (size_t i = 0; i < ROWS(alone); i++) {
        const size_t length = strlen(alone[i].line);
        if (strcmp(file, alone[i].file) == 0 && n.begin >= length &&
            strncmp(text + n.begin - length, alone[i].line, length) == 0)
            return true;
    }
    for (size_t i = 0; i < ROWS(words_begin); i++) {
        const char *begin = strstr(text, words_begin[i]);
        if (begin != NULL && begin < text + n.begin)
            return true;
    }
    /* The key before the number: back to the last `word:`. */
    size_t colon = n.begin;
    while (colon > 0 && text[colon] != ':' && text[colon] != '\n')
        colon--;
    size_t begin = colon;
    while (begin > 0 && strchr(" {,\n", text[begin - 1]) == NULL)
        begin--;
    for (size_t i = 0; i < ROWS(not_looked_at); i++) {
        if (strncmp(text + begin, not_looked_at[i], colon - begin + 1) == 0 && colon > begin)
            return true;
    }
    return false;
}

typedef struct {
    int numbers, unseen;
} tally;

/* Moves each number of one file of a plan up and down. */
static void move_numbers(const char *plan, const char *file, unsigned long long before, tally *t)
{
    char *text = text_of(file);
    number n = {0, 0};
    for (size_t from = 0; next_number(text, from, &n); from = n.end) {
        static const double factors[] = {0.2, 5, 0.1, 10, 1.5, 0.6,  1e-3, 1e3,
                                         0.7, 8, 15,  50, 90,  1e-6, 1e6,  -1};
        bool moved = is_excused(strrchr(file, '/') + 1, text, n), readable = false;
        t->numbers += !moved;
        for (size_t i = 0; i < ROWS(factors) && !moved; i++) {
            char *changed = with_number(text, n, factors[i]);
            asked_plan a;
            if (changed == NULL)
                continue;
            if (open_plan(&a, plan, (const char *const[]){file}, (const char *const[]){changed}, 1)) {
                readable = true;
                moved = digest_of(&a) != before;
            }
            close_plan(&a);
            free(changed);
        }
        moved = moved || !readable; /* one of a few that are offered */
        t->unseen += !moved;
        if (!moved) {
            size_t line = n.begin;
            while (line > 0 && text[line - 1] != '\n')
                line--;
            printf("\n  %s: %.*s<%.*s>", strrchr(file, '/') + 1, (int)(n.begin - line), text + line,
                   (int)(n.end - n.begin), text + n.begin);
        }
    }
    free(text);
}

static void every_number_counts(void)
{
    tally t = {0, 0};
    glob_t found;
    CU_ASSERT_FATAL(glob(TL_SOURCE "/demo/sound/*.plan.yaml", 0, NULL, &found) == 0);
    for (size_t f = 0; f < found.gl_pathc; f++) {
        asked_plan a;
        const bool good = open_plan(&a, found.gl_pathv[f], NULL, NULL, 0);
        CHECK_ROW(found.gl_pathv[f], good);
        const unsigned long long before = digest_of(&a);
        close_plan(&a);
        move_numbers(found.gl_pathv[f], found.gl_pathv[f], before, &t);
    }
    globfree(&found);
    static const char *const others[][2] = {
        {"fernhill.plan.yaml", "fernhill.plan.yaml"},
        {"fernhill.plan.yaml", "dome.plan.yaml"},
        {"fernhill.plan.yaml", "lapwing.board.yaml"},
        {"fernhill.plan.yaml", "redshank.mux.yaml"},
        {"fernhill.plan.yaml", "dunlin.converter.yaml"},
        {"sound/workshop-on-the-plover.plan.yaml", "sound/../plover.board.yaml"},
    };
    for (size_t i = getenv("TL_LONG") != NULL ? 0 : ROWS(others) - 1; i < ROWS(others); i++) {
        char plan[300], file[300];
        asked_plan a;
        snprintf(plan, sizeof plan, TL_SOURCE "/demo/%s", others[i][0]);
        snprintf(file, sizeof file, TL_SOURCE "/demo/%s", others[i][1]);
        CHECK_ROW(plan, open_plan(&a, plan, NULL, NULL, 0));
        const unsigned long long before = digest_of(&a);
        close_plan(&a);
        move_numbers(plan, file, before, &t);
    }
    printf("  %d numbers moved, %d unseen ", t.numbers, t.unseen);
    CU_ASSERT(t.numbers > 300 && t.unseen == 0);
}

/* --- what mends, mends --- */

typedef struct {
    int plans, fixes, wrong;
} mend_tally;

static int count_slug(const asked_plan *a, const char *slug)
{
    int count = 0;
    for (int i = 0; i < tl_report_count(a->report); i++)
        count += strcmp(tl_report_finding(a->report, i)->slug, slug) == 0;
    return count;
}

/* Each fix that is printed as one, put into the text by itself: its finding is gone, and no error or warning
 * of another kind has come. */
static void try_fixes(const char *path, const char *text, mend_tally *t)
{
    asked_plan a;
    const char *const file[] = {path}, *const now[] = {text};
    if (open_plan(&a, path, file, now, 1)) {
        const int count = tl_report_count(a.report);
        tl_edit *edits = calloc((size_t)count + 1, sizeof *edits);
        tl_mend_findings(a.plan, a.report, edits);
        t->plans++;
        for (int i = 0; i < count; i++) {
            size_t size = 0;
            if (edits[i].text == NULL)
                continue;
            char *mended = tl_edit_apply(a.report, &edits[i], 1, &size);
            const tl_finding *f = tl_report_finding(a.report, i);
            asked_plan b;
            bool good = open_plan(&b, path, file, (const char *const[]){mended}, 1) &&
                        count_slug(&b, f->slug) < count_slug(&a, f->slug) &&
                        tl_report_at_least(b.report, TL_ERROR) <= tl_report_at_least(a.report, TL_ERROR);
            for (int j = 0; j < tl_report_count(b.report); j++) {
                const tl_finding *after = tl_report_finding(b.report, j);
                good = good && (after->severity < TL_WARNING ||
                                count_slug(&b, after->slug) <= count_slug(&a, after->slug));
            }
            if (!good)
                printf("\n  %s [%s]: %s\n%s", strrchr(path, '/') + 1, f->slug, edits[i].text, mended);
            CHECK_ROW(f->slug, good);
            t->fixes++;
            t->wrong += !good;
            close_plan(&b);
            free(mended);
        }
        for (int i = 0; i < count; i++)
            tl_edit_free(&edits[i]);
        free(edits);
    }
    close_plan(&a);
}

/* Some number of the text, far up or down. */
static char *damaged(const char *text)
{
    int count = 0;
    number n = {0, 0};
    for (size_t from = 0; next_number(text, from, &n); from = n.end)
        count++;
    int which = (int)even_between(0, count - 1e-6);
    for (size_t from = 0; next_number(text, from, &n) && which-- > 0; from = n.end)
        continue;
    return with_number(text, n, pow(10, even_between(-3, 3)));
}

static void what_mends_mends(void)
{
    enum { ROUNDS = 10, LONG = 200 };
    const int rounds = rounds_of(ROUNDS, LONG);
    mend_tally t = {0, 0, 0};
    glob_t found;
    CU_ASSERT_FATAL(glob(TL_SOURCE "/demo/sound/*.plan.yaml", 0, NULL, &found) == 0);
    for (size_t f = 0; f < found.gl_pathc; f++) {
        char *text = text_of(found.gl_pathv[f]);
        for (int round = 0; round < rounds; round++) {
            char *now = damaged(text), *worse = round % 2 == 0 ? damaged(now) : NULL;
            try_fixes(found.gl_pathv[f], worse != NULL ? worse : now, &t);
            free(worse);
            free(now);
        }
        free(text);
    }
    globfree(&found);
    printf("  %d damaged plans, %d fixes tried, %d wrong ", t.plans, t.fixes, t.wrong);
    CU_ASSERT(t.plans > 30 * rounds && t.fixes > 5 * rounds && t.wrong == 0);
}

CU_TestInfo mutation_tests[] = {
    {"every number counts", every_number_counts},
    {"what mends, mends", what_mends_mends},
    CU_TEST_INFO_NULL,
};
