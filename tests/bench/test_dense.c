/* SPDX-License-Identifier: MIT */
/*
 * Circuits that are drawn, and solved here by themselves: dense conductances, LAPACK, and the exponential of
 * the whole matrix. The bench must rest where they rest, and move as they move.
 */
#include "support.h"
#include "tinyladder/bench.h"
#include <lapacke.h>
#include <math.h>
#include <stdarg.h>
#include <stdlib.h>
#include <string.h>

enum { NODES = 64, SIGNALS = 6, GROUND = 0, LOGIC = 1 };
static const double rail = 3.3, pin_farads = 7e-12;

/* --- a circuit, and its plan as it grows --- */

typedef struct {
    double g[NODES][NODES]; /* conductances between nodes */
    double amperes[NODES];  /* into them */
    double farads[NODES];   /* to ground */
    bool fixed[NODES];
    double volts[NODES]; /* of those that are fixed */
    int count;
} circuit;

static struct {
    circuit now, then; /* before the step at 1 s, and after it: the same nodes */
    char plan[4000], values[1000], presses[400];
    int pins[SIGNALS], signals, feed;
} drawn;
static unsigned long long state;

static double drawn_share(void)
{
    state = state * 6364136223846793005ull + 1442695040888963407ull;
    return (double)(state >> 40) / (double)(1ull << 24);
}

/* Evenly, in steps that a scene holds without an exponent. */
static double drawn_up_to(double most)
{
    return most * (0.001 + 0.001 * floor(998 * drawn_share()));
}

/* Evenly in decades, as a number that a plan can hold exactly. */
static double drawn_between(double least, double most)
{
    char text[32];
    snprintf(text, sizeof text, "%.3g", least * pow(most / least, drawn_share()));
    return atof(text);
}

static int drawn_of(int count)
{
    return (int)(drawn_share() * count);
}

static void write(char *text, size_t size, const char *format, ...) __attribute__((format(printf, 3, 4)));
static void write(char *text, size_t size, const char *format, ...)
{
    va_list arguments;
    va_start(arguments, format);
    const size_t at = strlen(text);
    vsnprintf(text + at, size - at, format, arguments);
    va_end(arguments);
}
#define PLAN(...) write(drawn.plan, sizeof drawn.plan, __VA_ARGS__)

static int add_node(void)
{
    drawn.then.count = ++drawn.now.count;
    return drawn.now.count - 1;
}

static void join(circuit *c, int a, int b, double ohms)
{
    c->g[a][b] += 1 / ohms;
    c->g[b][a] += 1 / ohms;
}

static void join_both(int a, int b, double ohms)
{
    join(&drawn.now, a, b, ohms);
    join(&drawn.then, a, b, ohms);
}

static void charge_both(int node, double farads)
{
    drawn.now.farads[node] += farads;
    drawn.then.farads[node] += farads;
}

static void fix_both(int node, double now, double then)
{
    drawn.now.fixed[node] = drawn.then.fixed[node] = true;
    drawn.now.volts[node] = now;
    drawn.then.volts[node] = then;
}

/* --- sources and stages --- */

static const char *drawn_rail(int *node)
{
    const bool feed = drawn_of(2) == 0;
    *node = feed ? drawn.feed : LOGIC;
    return feed ? "feed" : "logic";
}

static void value_steps(const char *unit, double now, double then)
{
    write(drawn.values, sizeof drawn.values, "  s%d: {steps: [0 s: %.9g %s, 1 s: %.9g %s]}\n", drawn.signals,
          now, unit, then, unit);
}

/* Answers the node that the stages begin at. */
static int add_source(int kind)
{
    const int node = add_node();
    int to;
    PLAN("  s%d: {source: {", drawn.signals);
    if (kind == 0) {
        const int emf = add_node();
        const double ohms = drawn_between(10, 1e5), now = drawn_up_to(3), then = drawn_up_to(3);
        PLAN("voltage: 0 V .. 3 V, resistance: %.9g ohm}, stages: [", ohms);
        fix_both(emf, now, then);
        join_both(emf, node, ohms);
        value_steps("V", now, then);
    } else if (kind == 1) {
        const double now = drawn_between(100, 1e5), then = drawn_between(100, 1e5),
                     partner = drawn_between(300, 3e4);
        const char *name = drawn_rail(&to);
        PLAN("resistance: 10 ohm .. 1M}, stages: [partner: {upper: %.9g ohm, to: %s}, ", partner, name);
        join_both(node, to, partner);
        join(&drawn.now, node, GROUND, now);
        join(&drawn.then, node, GROUND, then);
        value_steps("ohm", now, then);
    } else if (kind == 2) {
        const double track = drawn_between(1e3, 1e5), now = drawn_up_to(1), then = drawn_up_to(1);
        const char *name = drawn_rail(&to);
        PLAN("potentiometer: %.9g ohm, top: %s}, stages: [", track, name);
        join(&drawn.now, to, node, track * (1 - now));
        join(&drawn.now, node, GROUND, track * now);
        join(&drawn.then, to, node, track * (1 - then));
        join(&drawn.then, node, GROUND, track * then);
        value_steps("%", 100 * now, 100 * then);
    } else if (kind == 3) {
        const double now = drawn_up_to(1e-3), then = drawn_up_to(1e-3), load = drawn_between(100, 2e3);
        PLAN("current: 0 mA .. 2 mA}, stages: [load: %.9g ohm, ", load);
        drawn.now.amperes[node] = now;
        drawn.then.amperes[node] = then;
        join_both(node, GROUND, load);
        value_steps("mA", 1e3 * now, 1e3 * then);
    } else {
        const double closed = drawn_between(0.1, 10), pull = drawn_between(1e3, 1e5);
        const char *name = drawn_rail(&to);
        PLAN("contact: ground, closed: %.9g ohm}, stages: [pull: {up: %.9g ohm, to: %s}, ", closed, pull,
             name);
        join_both(node, to, pull);
        join(&drawn.then, node, GROUND, closed);
        write(drawn.presses, sizeof drawn.presses, "  s%d: [1 s for 9 s]\n", drawn.signals);
    }
    return node;
}

static int add_stage(int node, bool analog)
{
    static const char *const none = "";
    const int kind = drawn_of(analog ? 5 : 3), next = kind == 1 ? node : add_node();
    const double ohms = drawn_between(100, 1e5), farads = drawn_between(1e-10, 1e-6);
    int to;
    if (kind == 0) {
        PLAN("guard: %.9g ohm%s, ", ohms, none);
        join_both(node, next, ohms);
    } else if (kind == 1) {
        PLAN("capacitor: %.9g nF, ", 1e9 * farads);
        charge_both(node, farads);
    } else if (kind == 2) {
        PLAN("filter: {series: %.9g ohm, capacitor: %.9g nF}, ", ohms, 1e9 * farads);
        join_both(node, next, ohms);
        charge_both(next, farads);
    } else if (kind == 3) {
        const double lower = drawn_between(1e3, 1e5);
        PLAN("divider: {upper: %.9g ohm, lower: %.9g ohm}, ", ohms, lower);
        join_both(node, next, ohms);
        join_both(next, GROUND, lower);
    } else {
        const char *name = drawn_rail(&to);
        PLAN("guard: %.9g ohm, pull: {up: %.9g ohm, to: %s}, ", ohms, 10 * ohms, name);
        join_both(node, next, ohms);
        join_both(next, to, 10 * ohms);
    }
    return next;
}

static void draw(unsigned long long seed)
{
    static const char *const analog[] = {"L4", "L5", "L6", "L7", "L15", "L16"}, *const digital[] = {
                                                                                    "L10", "L11", "L12",
                                                                                    "L13", "L14", "L20"};
    memset(&drawn, 0, sizeof drawn);
    state = seed * 2862933555777941757ull + 3037000493ull;
    drawn.now.count = drawn.then.count = 2;
    fix_both(GROUND, 0, 0);
    fix_both(LOGIC, rail, rail);
    drawn.feed = add_node();
    const double series = drawn_between(1, 1e3);
    join_both(LOGIC, drawn.feed, series);
    PLAN("tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE
         "/demo/lapwing.board.yaml\nsupplies: {logic: 3.3 V}\n"
         "shared: {feed: {from: logic, series: %.9g ohm}}\nsignals:\n",
         series);
    const int signals = 2 + drawn_of(SIGNALS - 1);
    while (drawn.signals < signals) {
        const int kind = drawn_of(5);
        int node = add_source(kind);
        for (int stages = drawn_of(3); stages > 0; stages--)
            node = add_stage(node, kind != 4);
        charge_both(node, pin_farads);
        drawn.plan[strlen(drawn.plan) - (drawn.plan[strlen(drawn.plan) - 1] == ' ' ? 2 : 0)] = '\0';
        PLAN("], pin: %s}\n", (kind == 4 ? digital : analog)[drawn.signals]);
        drawn.pins[drawn.signals++] = node;
    }
}

/* --- its own solution --- */

/* G of the nodes that are not fixed, and what flows into them; the place of each. */
static int reduce(const circuit *c, double *g, double *into, int *place)
{
    int n = 0;
    for (int i = 0; i < c->count; i++)
        place[i] = c->fixed[i] ? -1 : n++;
    for (int i = 0; i < c->count; i++) {
        if (place[i] < 0)
            continue;
        into[place[i]] = c->amperes[i];
        for (int k = 0; k < c->count; k++) {
            g[place[i] * n + place[i]] += c->g[i][k];
            if (place[k] >= 0)
                g[place[i] * n + place[k]] -= c->g[i][k];
            else
                into[place[i]] += c->g[i][k] * c->volts[k];
        }
    }
    return n;
}

static bool solve(int n, double *a, int columns, double *b)
{
    lapack_int pivots[NODES];
    return n == 0 || LAPACKE_dgesv(LAPACK_ROW_MAJOR, n, columns, a, n, pivots, b, columns) == 0;
}

static bool rest_of(const circuit *c, double *volts)
{
    double g[NODES * NODES] = {0}, into[NODES] = {0};
    int place[NODES];
    const int n = reduce(c, g, into, place);
    const bool good = solve(n, g, 1, into);
    for (int i = 0; i < c->count; i++)
        volts[i] = place[i] < 0 ? c->volts[i] : into[place[i]];
    return good;
}

/* exp(A) b, A of n by n: a Taylor series of a 2^-k part of it, k times squared. */
static void exponential(int n, double *a, double *result)
{
    static double term[NODES * NODES], next[NODES * NODES];
    double norm = 0;
    int halvings = 0;
    for (int i = 0; i < n; i++) {
        double sum = 0;
        for (int k = 0; k < n; k++)
            sum += fabs(a[i * n + k]);
        norm = fmax(norm, sum);
    }
    while (norm > 0.25) {
        norm /= 2;
        halvings++;
    }
    for (int i = 0; i < n * n; i++) {
        a[i] = ldexp(a[i], -halvings);
        term[i] = result[i] = i % (n + 1) == 0;
    }
    for (int order = 1; order <= 16; order++) {
        memset(next, 0, sizeof next);
        for (int i = 0; i < n; i++) {
            for (int k = 0; k < n; k++) {
                for (int j = 0; j < n; j++)
                    next[i * n + j] += term[i * n + k] * a[k * n + j] / order;
            }
        }
        memcpy(term, next, sizeof term);
        for (int i = 0; i < n * n; i++)
            result[i] += term[i];
    }
    for (; halvings > 0; halvings--) {
        memset(next, 0, sizeof next);
        for (int i = 0; i < n; i++) {
            for (int k = 0; k < n; k++) {
                for (int j = 0; j < n; j++)
                    next[i * n + j] += result[i * n + k] * result[k * n + j];
            }
        }
        memcpy(result, next, sizeof next);
    }
}

/* Volts of all nodes so long after the step, from where they rested before it. Nodes without a capacitor
 * follow those that have one (Schur). */
static bool after_step(double seconds, double *volts)
{
    static double g[NODES * NODES], block[NODES * NODES], right[NODES * NODES], power[NODES * NODES];
    double into[NODES] = {0}, before[NODES], rests[NODES], away[NODES];
    int place[NODES], charged[NODES], others[NODES], m = 0, r = 0;
    memset(g, 0, sizeof g);
    const circuit *c = &drawn.then;
    const int n = reduce(c, g, into, place);
    bool good = rest_of(&drawn.now, before) && rest_of(c, rests);
    for (int i = 0; i < c->count; i++) {
        if (place[i] >= 0 && c->farads[i] > 0)
            charged[m++] = i;
        else if (place[i] >= 0)
            others[r++] = i;
    }
    for (int i = 0; i < r; i++) { /* others = -Goo^-1 Goc charged */
        for (int k = 0; k < r; k++)
            block[i * r + k] = g[place[others[i]] * n + place[others[k]]];
        for (int k = 0; k < m; k++)
            right[i * m + k] = -g[place[others[i]] * n + place[charged[k]]];
    }
    good = good && (r == 0 || m == 0 || solve(r, block, m, right));
    for (int i = 0; i < m; i++) { /* C dv/dt = -(Gcc + Gco (others)) v, v from the rest on */
        for (int k = 0; k < m; k++) {
            double sum = g[place[charged[i]] * n + place[charged[k]]];
            for (int o = 0; o < r; o++)
                sum += g[place[charged[i]] * n + place[others[o]]] * right[o * m + k];
            block[i * m + k] = -seconds * sum / c->farads[charged[i]];
        }
        away[i] = before[charged[i]] - rests[charged[i]];
    }
    exponential(m, block, power);
    double then[NODES] = {0};
    for (int i = 0; i < m; i++) {
        for (int k = 0; k < m; k++)
            then[i] += power[i * m + k] * away[k];
    }
    memcpy(volts, rests, sizeof rests);
    for (int i = 0; i < m; i++)
        volts[charged[i]] += then[i];
    for (int o = 0; o < r; o++) {
        for (int k = 0; k < m; k++)
            volts[others[o]] += right[o * m + k] * then[k];
    }
    return good;
}

/* --- the comparison --- */

static bool compare(tl_bench *bench, const double *volts, double slack, unsigned long long seed, double at)
{
    double feed = 0;
    bool same =
        tl_bench_node_volts(bench, "feed", &feed) != TL_NET_SOLVED || fabs(feed - volts[drawn.feed]) < slack;
    for (int i = 0; i < drawn.signals; i++)
        same = same && fabs(tl_bench_pin_volts(bench, i) - volts[drawn.pins[i]]) < slack;
    for (int i = 0; i < drawn.signals && !same; i++)
        printf("\n  %llu at %g s, s%d: bench %.9g, here %.9g\n", seed, at, i, tl_bench_pin_volts(bench, i),
               volts[drawn.pins[i]]);
    if (!same)
        printf("%s%s%s", drawn.plan, drawn.values, drawn.presses);
    return same;
}

static void moves_as_it_is_solved_here(void)
{
    static const double after[] = {1e-7, 1e-6, 2e-5, 5e-4, 1e-2, 0.3};
    /* Behind a millisecond the many squarings of the exponential leave microvolts. */
    const unsigned long long rounds = (unsigned long long)rounds_of(300, 10000);
    int good = 0, compared = 0;
    for (unsigned long long seed = 1; seed <= rounds; seed++) {
        double volts[NODES];
        char scene_text[2000];
        draw(seed);
        tl_report *report = tl_report_new();
        tl_plan *plan = tl_plan_load(scratch_file("dense.plan.yaml", drawn.plan, strlen(drawn.plan)), report);
        if (plan == NULL)
            printf("\n%s\n%s\n", tl_report_finding(report, 0)->cause, drawn.plan);
        CU_ASSERT_FATAL(plan != NULL);
        tl_circuit *c = tl_circuit_new(plan);
        snprintf(scene_text, sizeof scene_text, "tinyladder: scene 1\nlength: 20 s\n%s%s%s%s",
                 drawn.values[0] != '\0' ? "values:\n" : "", drawn.values,
                 drawn.presses[0] != '\0' ? "presses:\n" : "", drawn.presses);
        tl_scene *scene =
            tl_scene_load(scratch_file("dense.scene.yaml", scene_text, strlen(scene_text)), c, report);
        CU_ASSERT_FATAL(scene != NULL);
        tl_bench *bench = tl_bench_new(c, scene, TL_BENCH_IDEAL);
        tl_bench_go_to(bench, 0.9);
        good += rest_of(&drawn.now, volts) && compare(bench, volts, 1e-8, seed, 0.9);
        compared++;
        for (size_t i = 0; i < ROWS(after); i++, compared++) {
            tl_bench_go_to(bench, 1 + after[i]);
            good += after_step(after[i], volts) &&
                    compare(bench, volts, after[i] < 1e-3 ? 1e-6 : 2e-5, seed, 1 + after[i]);
        }
        CU_ASSERT(tl_bench_trouble(bench) == NULL);
        tl_bench_free(bench);
        tl_scene_free(scene);
        tl_circuit_free(c);
        tl_plan_free(plan);
        tl_report_free(report);
    }
    CU_ASSERT(good == compared);
    if (good != compared)
        printf("\n  %d of %d\n", good, compared);
}

/* Lamps and loads behind transistors, by Ohm: a pin gives 4 mA at 0.4 V below its rail, so it has 100 ohm.
 * With its resistor shorted a lamp takes more than a pin stands, and the event says how much. */
static void outputs_take_what_their_parts_let_through(void)
{
    state = 5;
    for (int round = 0; round < 40; round++) {
        const double lamp = 1.6 + drawn_up_to(0.6), series = drawn_between(100, 2e3),
                     load = drawn_between(50, 1e3);
        const bool to_ground = drawn_of(2) == 0, shorted = round % 4 == 3;
        const double pin_ohms = 4e-1 / 4e-3, wire = 0.05;
        char text[1500];
        snprintf(text, sizeof text,
                 "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\n"
                 "supplies: {logic: 3.3 V, power: 12 V}\noutputs:\n"
                 "  lamp: {pin: L10, lamp: %.9g V, series: %.9g ohm%s}\n"
                 "  heater: {pin: L11, driver: {way: n-channel, on-resistance: 1 ohm, series: 100 ohm, load: "
                 "{resistance: "
                 "%.9g ohm, "
                 "supply: power}}}\n",
                 lamp, series, to_ground ? "" : ", to: logic", load);
        tl_report *report = tl_report_new();
        tl_plan *plan = tl_plan_load(scratch_file("loads.plan.yaml", text, strlen(text)), report);
        CU_ASSERT_FATAL(plan != NULL);
        tl_circuit *c = tl_circuit_new(plan);
        tl_scene *scene = tl_scene_new();
        CU_ASSERT(!shorted || tl_scene_add_fault(scene, "{short: lamp.series}", c, report));
        tl_bench *bench = tl_bench_new(c, scene, TL_BENCH_IDEAL);
        for (int i = 0; i < 2; i++) {
            const uint8_t pin = (uint8_t)plan->outputs[i].pins[0];
            CU_ASSERT(tl_port_line_use(tl_bench_port(bench), pin, TL_LINE_OUTPUT) == TL_OK);
            CU_ASSERT(tl_port_line_drive(tl_bench_port(bench), pin, i == 1 || to_ground) == TL_OK);
        }
        const double amperes = (3.3 - lamp) / (pin_ohms + (shorted ? 1 / (1 / wire + 1 / series) : series));
        CHECK_ROW(text, near(tl_bench_load_amperes(bench, 0), amperes, 1e-4));
        CHECK_ROW(text, near(tl_bench_load_amperes(bench, 1), 12 / (load + 1), 1e-6));
        tl_bench_go_to(bench, 1);
        int count;
        const tl_bench_damage *damages = tl_bench_damages(bench, &count);
        CHECK_ROW(text, count == (amperes > 12e-3));
        CHECK_ROW(text, count == 0 || near(fabs(damages[0].amperes), amperes, 1e-4));
        tl_bench_free(bench);
        tl_scene_free(scene);
        tl_circuit_free(c);
        tl_plan_free(plan);
        tl_report_free(report);
    }
}

CU_TestInfo dense_tests[] = {
    {"outputs take what their parts let through", outputs_take_what_their_parts_let_through},
    {"moves as it is solved here", moves_as_it_is_solved_here},
    CU_TEST_INFO_NULL,
};
