/* SPDX-License-Identifier: MIT */
/* An ohmmeter on a bench that nothing feeds. */
#include "bench/open_with.h"
#include <math.h>

static double ohms_between(tl_bench *bench, const char *one, const char *other)
{
    double ohms;
    tl_circuit *c = tl_bench_circuit(bench);
    const int pair[1][2] = {
        {tl_circuit_point(c, one), other == NULL ? TL_NET_GROUND : tl_circuit_point(c, other)}};
    tl_bench_ohms(bench, pair, 1, &ohms);
    return ohms;
}

/* A thousandth, and what a joint may have. */
static bool agrees(double found, double wanted)
{
    return fabs(found - wanted) <= 1e-3 * wanted + 0.1;
}

static double beside(double a, double b)
{
    return isinf(a) ? b : isinf(b) ? a : a * b / (a + b);
}

/* With the power off a supply is a load that nobody states: what a meter finds there gives it, and by hand
 * all the rest follows. */
static void an_ohmmeter_sees_the_whole_network(void)
{
    static const char plan[] =
        "supplies: {house: 12 V}\nsignals:\n"
        "  tap: {source: {rail: house}, stages: [divider: {upper: 47k, lower: 12k}, filter: {series: 1k, "
        "capacitor: 100 nF}], pin: L4}\n"
        "  knob: {source: {potentiometer: 10k, top: logic}, pin: L5}\n"
        "  door: {source: {contact: ground}, stages: [pull: {up: 10k, to: logic}, guard: 1k], pin: L12}\n";
    static const struct {
        const char *scene;
        double upper, lower; /* of the divider, as they are */
        double travel, door;
    } rows[] = {
        {"values: {knob: [0 s: 50 %]}\n", 47e3, 12e3, 0.5, INFINITY},
        {"values: {knob: [0 s: 30 %]}\npresses: {door: [0 s for 9 s]}\n", 47e3, 12e3, 0.3, 0},
        {"values: {knob: [0 s: 50 %]}\nfaults: [{short: tap.divider.lower}]\n", 47e3, 0, 0.5, INFINITY},
        {"values: {knob: [0 s: 50 %]}\nfaults: [{open: tap.divider.upper}]\n", INFINITY, 12e3, 0.5, INFINITY},
        {"values: {knob: [0 s: 50 %]}\nfaults: [{wrong: tap.divider.lower, value: 120k}]\n", 47e3, 120e3, 0.5,
         INFINITY},
        {"values: {knob: [0 s: 50 %]}\nfaults: [{leak: tap.divider, ohms: 22k, to: ground}]\n", 47e3,
         12e3 * 22e3 / 34e3, 0.5, INFINITY},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_bench *bench = open_with(plan, rows[i].scene);
        tl_bench_go_to(bench, 1);
        for (int signal = 0; signal < 3; signal++)
            (void)tl_bench_pin_volts(bench, signal);
        const double legs = rows[i].upper + rows[i].lower, house = ohms_between(bench, "house", NULL),
                     load = isinf(legs) ? house : 1 / (1 / house - 1 / legs);
        const double divider = beside(rows[i].lower, rows[i].upper + load), knob = 1e4 * rows[i].travel;
        CHECK_ROW(rows[i].scene, agrees(ohms_between(bench, "tap.divider", NULL), divider));
        CHECK_ROW(rows[i].scene, agrees(ohms_between(bench, "tap.pin", NULL), divider + 1e3));
        CHECK_ROW(rows[i].scene, agrees(ohms_between(bench, "tap.pin", "tap.divider"), 1e3));
        /* What else is on the rail: the track, and the pull with its contact. */
        const double logic = ohms_between(bench, "logic", NULL), track = 1e4, pull = 1e4 + rows[i].door,
                     rest = 1 / (1 / logic - 1 / beside(track, pull));
        CHECK_ROW(rows[i].scene, agrees(ohms_between(bench, "knob.pin", NULL),
                                        beside(knob, track - knob + beside(rest, pull))));
        CHECK_ROW(rows[i].scene, agrees(ohms_between(bench, "door.source", NULL),
                                        beside(rows[i].door, 1e4 + beside(rest, track))));
        tl_bench_free(bench);
    }
}

/* What was pressed long before the bench begins is at rest there, for any meter; a capacitor that takes
 * seconds shows it. */
static void a_button_held_since_long_is_at_rest(void)
{
    static const char plan[] =
        "signals:\n  door: {source: {contact: ground}, stages: [pull: {up: 100k, to: logic}, "
        "filter: {series: 100k, capacitor: 10 uF}], pin: L4}\n";
    double volts = NAN;
    tl_bench *planned = open_with(plan, NULL);
    tl_scene *scene = tl_scene_new();
    tl_press press = {.signal = 0, .button = -1, .at = -2000, .length = 1e6};
    scene->presses = &press;
    scene->press_count = 1;
    tl_bench *bench = tl_bench_new(tl_bench_circuit(planned), scene, 3);
    CU_ASSERT(agrees(ohms_between(bench, "door.source", NULL), 0));
    CU_ASSERT(tl_bench_node_volts(bench, "door.pin", &volts) == TL_NET_SOLVED && fabs(volts) < 5e-3);
    tl_bench_free(bench);
    scene->presses = NULL;
    scene->press_count = 0;
    tl_scene_free(scene);
    tl_bench_free(planned);
}

CU_TestInfo ohmmeter_tests[] = {
    {"a button held since long is at rest", a_button_held_since_long_is_at_rest},
    {"an ohmmeter sees the whole network", an_ohmmeter_sees_the_whole_network},
    CU_TEST_INFO_NULL,
};
