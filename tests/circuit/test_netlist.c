/* SPDX-License-Identifier: MIT */
/* Nodal analysis against closed forms and published values, and worst cases that nothing ever exceeds. */
#include "circuit/netlist.h"
#include "support.h"
#include <math.h>

static const tl_net_value nothing = {.first = TL_NET_NONE, .constant = 1, .second = TL_NET_NONE};

static bool one_of_two(void)
{
    return even_between(0, 1) < 0.5;
}

/* A rail, two legs and a load: the tap is node 2, its island is returned. */
static tl_island *divider(tl_net *net, double volts, double upper, double lower, double load)
{
    const int rail = tl_net_add_node(net, "rail"), tap = tl_net_add_node(net, "tap");
    tl_net_set_rail(net, rail, tl_net_fixed(volts));
    tl_net_add_resistor(net, "upper", rail, tap, tl_net_fixed(upper));
    tl_net_add_resistor(net, "lower", tap, TL_NET_GROUND, tl_net_fixed(lower));
    if (load > 0)
        tl_net_add_resistor(net, "load", tap, TL_NET_GROUND, tl_net_fixed(load));
    return tl_island_new(net, TL_VIEW_BELIEVED, tap);
}

static double figure_of(tl_island *island, tl_figure_kind kind, int of)
{
    double value = NAN;
    const tl_net_state state = {NULL, NULL};
    CU_ASSERT(tl_island_figure(island, &state, (tl_figure){kind, of, nothing, TL_NET_GROUND}, &value) ==
              TL_NET_SOLVED);
    return value;
}

static void agrees_with_closed_forms(void)
{
    static const struct {
        const char *name;
        double volts, upper, lower, load, tap, ohms;
    } rows[] = {
        {"47k and 10k", 14.8, 47e3, 10e3, 0, 14.8 * 10 / 57, 47e3 * 10 / 57},
        {"three times 100k (published: 33.3k)", 3, 100e3, 100e3, 100e3, 1, 100e3 / 3},
        {"upper leg of 0 ohm", 5, 0, 10e3, 0, 5, 0},
        {"lower leg of 0 ohm", 5, 10e3, 0, 0, 0, 0},
        {"nine decades apart", 10, 1e9, 1, 0, 10 / (1e9 + 1), 1e9 / (1e9 + 1)},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_net *net = tl_net_new();
        tl_island *island = divider(net, rows[i].volts, rows[i].upper, rows[i].lower, rows[i].load);
        CHECK_ROW(rows[i].name, near(figure_of(island, TL_FIGURE_VOLTS, 2), rows[i].tap, 1e-12));
        CHECK_ROW(rows[i].name, near(figure_of(island, TL_FIGURE_SOURCE_OHMS, 2), rows[i].ohms, 1e-12));
        tl_island_free(island);
        tl_net_free(net);
    }
}

static void finds_currents_and_power(void)
{
    tl_net *net = tl_net_new();
    tl_island *island = divider(net, 10, 1e3, 4e3, 0);
    CU_ASSERT(near(figure_of(island, TL_FIGURE_RAIL_AMPERES, 1), 2e-3, 1e-12));
    CU_ASSERT(near(figure_of(island, TL_FIGURE_RAIL_AMPERES, TL_NET_GROUND), -2e-3, 1e-12));
    CU_ASSERT(near(figure_of(island, TL_FIGURE_PART_AMPERES, 0), 2e-3, 1e-12));
    CU_ASSERT(near(figure_of(island, TL_FIGURE_PART_WATTS, 1), 16e-3, 1e-12));
    tl_island_free(island);
    tl_net_free(net);
}

static void names_what_has_no_answer(void)
{
    tl_net *net = tl_net_new();
    const int rail = tl_net_add_node(net, "rail"), node = tl_net_add_node(net, "node"),
              alone = tl_net_add_node(net, "alone");
    const int contact = tl_net_add_contact(net, "contact");
    bool closed[1] = {false};
    double value = -7;
    const tl_net_state state = {NULL, closed};
    tl_net_set_rail(net, rail, tl_net_fixed(5));
    tl_net_condition_part(net, tl_net_add_resistor(net, "a", rail, node, tl_net_fixed(0)), TL_WHEN_CLOSED,
                          contact);
    tl_net_condition_part(net, tl_net_add_resistor(net, "b", node, TL_NET_GROUND, tl_net_fixed(0)),
                          TL_WHEN_CLOSED, contact);
    tl_net_add_resistor(net, "c", node, alone, tl_net_fixed(1e3));
    tl_island *island = tl_island_new(net, TL_VIEW_BELIEVED, node);
    const tl_figure volts = {TL_FIGURE_VOLTS, alone, nothing, TL_NET_GROUND};
    CU_ASSERT(tl_island_figure(island, &state, volts, &value) == TL_NET_FLOATING && value == -7);
    closed[0] = true;
    CU_ASSERT(tl_island_figure(island, &state, volts, &value) == TL_NET_SHORTED && value == -7);
    CU_ASSERT(tl_transient_new(island, &state) == NULL);
    tl_island_free(island);
    tl_net_free(net);
}

/* A follower's gain is a part's value like any other: with few parameters exactly, with many at least within
 * the bound. */
static void a_followers_gain_counts(void)
{
    for (int others = 0; others <= 20; others += 20) {
        tl_net *net = tl_net_new();
        const int source = tl_net_add_node(net, "source"), out = tl_net_add_node(net, "out"),
                  far = tl_net_add_node(net, "far");
        const int gain = tl_net_add_param(net, "gain", 2, 2.5, 3, false);
        tl_bounds bounds, far_bounds;
        tl_net_set_rail(net, source, tl_net_fixed(1));
        tl_net_add_follower(net, "follower", source, out,
                            &(tl_net_follower){tl_net_fixed(0.1), tl_net_of(gain), 0});
        tl_net_add_resistor(net, "way", out, far, tl_net_fixed(10));
        for (int i = 0; i < others; i++) {
            const int load = tl_net_add_param(net, "load", 900, 1000, 1100, false);
            tl_net_add_resistor(net, "load", far, TL_NET_GROUND,
                                (tl_net_value){1, load, 1, 0, TL_NET_NONE, 0, 0});
        }
        tl_island *island = tl_island_new(net, TL_VIEW_BELIEVED, out);
        CU_ASSERT(tl_island_bounds(island, NULL, (tl_figure){TL_FIGURE_VOLTS, out, nothing, TL_NET_GROUND},
                                   &bounds) == TL_NET_SOLVED &&
                  tl_island_bounds(island, NULL, (tl_figure){TL_FIGURE_VOLTS, far, nothing, TL_NET_GROUND},
                                   &far_bounds) == TL_NET_SOLVED);
        /* Whatever is connected to it: the loads move nothing there, and cost no corners. */
        CU_ASSERT(!bounds.outer && near(bounds.low, 2.2, 1e-12) && near(bounds.nominal, 2.75, 1e-12) &&
                  near(bounds.high, 3.3, 1e-12));
        const double least = others > 0 ? 45.0 / 55 : 1, most = others > 0 ? 55.0 / 65 : 1;
        CU_ASSERT(far_bounds.outer == (others > 0) && far_bounds.low <= 2.2 * least + 1e-9 &&
                  far_bounds.high >= 3.3 * most - 1e-9);
        tl_island_free(island);
        tl_net_free(net);
    }
}

/* Currents of up to 1 mA into 1 kohm: more than corners can be tried of, and each moves the node by a volt.
 * All push one way, so twenty of them still have an exact bound; of forty some are not tried. */
static void currents_that_are_not_tried_count_in_volts(void)
{
    for (int currents = 20; currents <= 40; currents += 20) {
        tl_net *net = tl_net_new();
        const int rail = tl_net_add_node(net, "rail"), node = tl_net_add_node(net, "node");
        tl_bounds bounds;
        tl_net_set_rail(net, rail, tl_net_fixed(5));
        tl_net_add_resistor(net, "r", rail, node, tl_net_fixed(1000));
        for (int i = 0; i < currents; i++) {
            const int amperes = tl_net_add_param(net, "i", 0, 0.5e-3, 1e-3, false);
            tl_net_add_current(net, "i", TL_NET_GROUND, node, tl_net_of(amperes));
        }
        tl_island *island = tl_island_new(net, TL_VIEW_BELIEVED, node);
        CU_ASSERT(tl_island_bounds(island, NULL, (tl_figure){TL_FIGURE_VOLTS, node, nothing, TL_NET_GROUND},
                                   &bounds) == TL_NET_SOLVED);
        CU_ASSERT(bounds.outer == (currents == 40) && bounds.high >= 5 + currents - 1e-9 &&
                  bounds.low <= 5 + 1e-9);
        CU_ASSERT(bounds.outer || (near(bounds.high, 5 + currents, 1e-12) && near(bounds.low, 5, 1e-12)));
        tl_island_free(island);
        tl_net_free(net);
    }
}

/* A track with feed: the extreme of its source resistance lies inside the travel. */
static void finds_extremes_inside_the_travel(void)
{
    tl_net *net = tl_net_new();
    const int rail = tl_net_add_node(net, "rail"), top = tl_net_add_node(net, "top"),
              wiper = tl_net_add_node(net, "wiper");
    const int travel = tl_net_add_param(net, "travel", 0, 0.5, 1, true);
    tl_bounds bounds;
    tl_net_set_rail(net, rail, tl_net_fixed(5));
    tl_net_add_resistor(net, "feed", rail, top, tl_net_fixed(5600));
    tl_net_add_resistor(net, "above", top, wiper, (tl_net_value){10e3, TL_NET_NONE, 1, -1, travel, 0, 0});
    tl_net_add_resistor(net, "below", wiper, TL_NET_GROUND,
                        (tl_net_value){10e3, TL_NET_NONE, 0, 1, travel, 0, 0});
    tl_island *island = tl_island_new(net, TL_VIEW_BELIEVED, wiper);
    CU_ASSERT(tl_island_bounds(island, NULL,
                               (tl_figure){TL_FIGURE_SOURCE_OHMS, wiper, nothing, TL_NET_GROUND},
                               &bounds) == TL_NET_SOLVED);
    CU_ASSERT(near(bounds.nominal, 3397.4359, 1e-6)); /* 10k track, 5.6k feed, middle: 3397 ohm */
    CU_ASSERT(near(bounds.high, (10e3 + 5.6e3) / 4, 1e-9) && bounds.low == 0);
    CU_ASSERT(near(bounds.high_at[0], 0.78, 1e-4)); /* x R = (R + Rf) / 2 */
    CU_ASSERT(tl_island_bounds(island, NULL, (tl_figure){TL_FIGURE_VOLTS, wiper, nothing, TL_NET_GROUND},
                               &bounds) == TL_NET_SOLVED);
    CU_ASSERT(bounds.low == 0 && near(bounds.high, 5 * 10 / 15.6, 1e-12));
    tl_island_free(island);
    tl_net_free(net);
}

/* A random ladder with toleranced parts, source and leakage: 100 000 points inside the box and at its
 * corners. */
static void nothing_exceeds_a_bound(void)
{
    enum { NETS = 100, POINTS = 1000, PARAMS = 6 };
    for (int n = 0; n < NETS; n++) {
        tl_net *net = tl_net_new();
        double values[PARAMS];
        int params[PARAMS];
        for (int i = 0; i < PARAMS; i++) {
            const double nominal = i < 4 ? pow(10, even_between(2, 6)) : i == 4 ? even_between(1, 24) : 0;
            const double by = i == 5 ? 1e-6 : nominal * even_between(0, 0.2);
            params[i] = tl_net_add_param(net, "p", nominal - by, nominal, nominal + by, false);
        }
        const int rail = tl_net_add_node(net, "rail"), a = tl_net_add_node(net, "a"),
                  b = tl_net_add_node(net, "b");
        tl_net_set_rail(net, rail, tl_net_of(params[4]));
        tl_net_add_resistor(net, "r0", rail, a, tl_net_of(params[0]));
        tl_net_add_resistor(net, "r1", a, TL_NET_GROUND, tl_net_of(params[1]));
        tl_net_add_resistor(net, "r2", a, b, tl_net_of(params[2]));
        tl_net_add_resistor(net, "r3", b, n % 2 ? rail : TL_NET_GROUND, tl_net_of(params[3]));
        tl_net_add_current(net, "leak", b, TL_NET_GROUND, tl_net_of(params[5]));
        tl_island *island = tl_island_new(net, TL_VIEW_BELIEVED, b);
        const tl_figure figures[] = {
            {TL_FIGURE_VOLTS, b, nothing, TL_NET_GROUND},
            {TL_FIGURE_SOURCE_OHMS, b, nothing, TL_NET_GROUND},
            {TL_FIGURE_RAIL_AMPERES, rail, nothing, TL_NET_GROUND},
            {TL_FIGURE_VOLTS, a, {0.7, params[4], 1, 0, TL_NET_NONE, 0, 0}, TL_NET_GROUND}};
        const tl_figure figure = figures[n % 4];
        tl_bounds bounds;
        CU_ASSERT(tl_island_bounds(island, NULL, figure, &bounds) == TL_NET_SOLVED);
        bool within = true;
        for (int p = 0; p < POINTS; p++) {
            double found = NAN;
            const tl_net_state state = {values, NULL};
            for (int i = 0; i < PARAMS; i++) {
                double low, high;
                tl_net_param_span(net, params[i], &low, &high);
                const double where = p % 2 ? even_between(0, 1) : round(even_between(0, 1));
                values[params[i]] = low + (high - low) * where;
            }
            CU_ASSERT(tl_island_figure(island, &state, figure, &found) == TL_NET_SOLVED);
            const double slack = 1e-9 * (fabs(bounds.low) + fabs(bounds.high));
            within = within && found >= bounds.low - slack && found <= bounds.high + slack;
        }
        CU_ASSERT(within);
        tl_island_free(island);
        tl_net_free(net);
    }
}

/* A ladder of more toleranced resistors than corners can be tried: the bound is outer, and nothing leaves it.
 */
static void bounds_wide_islands_from_outside(void)
{
    enum { RUNGS = 12, TRIES = 400 };
    tl_net *net = tl_net_new();
    double values[2 * RUNGS];
    const int rail = tl_net_add_node(net, "rail");
    int at = rail, middle = TL_NET_NONE;
    tl_net_set_rail(net, rail, tl_net_fixed(5));
    for (int i = 0; i < 2 * RUNGS; i++)
        (void)tl_net_add_param(net, "p", i % 2 ? 9900 : 990, i % 2 ? 10e3 : 1e3, i % 2 ? 10.1e3 : 1010,
                               false);
    for (int i = 0; i < RUNGS; i++) {
        const int next = tl_net_add_node(net, "tap");
        tl_net_add_resistor(net, "along", at, next, tl_net_of(2 * i));
        tl_net_add_resistor(net, "down", next, TL_NET_GROUND, tl_net_of(2 * i + 1));
        at = next;
        middle = i == 2 ? next : middle;
    }
    tl_island *island = tl_island_new(net, TL_VIEW_BELIEVED, middle);
    tl_bounds bounds;
    CU_ASSERT(tl_island_bounds(island, NULL, (tl_figure){TL_FIGURE_VOLTS, middle, nothing, TL_NET_GROUND},
                               &bounds) == TL_NET_SOLVED);
    CU_ASSERT(bounds.outer && bounds.high < 5 && bounds.low > 0);
    for (int n = 0; n < TRIES; n++) {
        double volts = NAN;
        for (int i = 0; i < 2 * RUNGS; i++)
            values[i] = (i % 2 ? 10e3 : 1e3) * (one_of_two() ? 1.01 : 0.99);
        const tl_net_state state = {values, NULL};
        CU_ASSERT(tl_island_figure(island, &state,
                                   (tl_figure){TL_FIGURE_VOLTS, middle, nothing, TL_NET_GROUND},
                                   &volts) == TL_NET_SOLVED);
        CU_ASSERT(volts >= bounds.low && volts <= bounds.high);
    }
    CU_ASSERT(tl_island_bounds(island, NULL,
                               (tl_figure){TL_FIGURE_RAIL_AMPERES, rail, nothing, TL_NET_GROUND},
                               &bounds) == TL_NET_TOO_WIDE);
    tl_island_free(island);
    tl_net_free(net);
}

/* 1 Mohm twice, a follower, then a divider: no load reaches back, and what stands behind it sees 0 ohm. */
static void followers_keep_apart(void)
{
    tl_net *net = tl_net_new();
    const int rail = tl_net_add_node(net, "rail"), in = tl_net_add_node(net, "in"),
              out = tl_net_add_node(net, "out"), tap = tl_net_add_node(net, "tap");
    tl_net_set_rail(net, rail, tl_net_fixed(4));
    tl_net_add_resistor(net, "a", rail, in, tl_net_fixed(1e6));
    tl_net_add_resistor(net, "b", in, TL_NET_GROUND, tl_net_fixed(1e6));
    tl_net_add_follower(net, "f", in, out, &(tl_net_follower){tl_net_fixed(0.003), tl_net_fixed(1), 0});
    tl_net_add_resistor(net, "c", out, tap, tl_net_fixed(1e3));
    tl_net_add_resistor(net, "d", tap, TL_NET_GROUND, tl_net_fixed(1e3));
    tl_net_add_capacitor(net, "e", tap, TL_NET_GROUND, tl_net_fixed(1e-6));
    tl_island *island = tl_island_new(net, TL_VIEW_BELIEVED, tap);
    CU_ASSERT(near(figure_of(island, TL_FIGURE_VOLTS, in), 2, 1e-12));
    CU_ASSERT(near(figure_of(island, TL_FIGURE_VOLTS, tap), 2.003 / 2, 1e-12));
    CU_ASSERT(near(figure_of(island, TL_FIGURE_SOURCE_OHMS, tap), 500, 1e-12));
    CU_ASSERT(figure_of(island, TL_FIGURE_SOURCE_OHMS, out) == 0);
    double volts[3] = {0, 0, 0};
    const tl_net_state state = {NULL, NULL};
    tl_transient *transient = tl_transient_new(island, &state);
    CU_ASSERT_FATAL(transient != NULL);
    tl_transient_step(transient, 500e-6, volts); /* one time constant of 500 ohm and 1 uF */
    CU_ASSERT(near(volts[tl_island_index(island, tap)], 1.0015 * (1 - exp(-1)), 1e-9));
    tl_transient_free(transient);
    tl_island_free(island);
    tl_net_free(net);
}

/* Two tracks on one feed of many resistors: what the first wiper sees, by the rules of series and parallel.
 */
static double seen_by_first(double feed, const double track[2], const double travel[2], double load)
{
    const double low = track[1] * travel[1], beside = track[1] * (1 - travel[1]) + low * load / (low + load);
    const double top = feed * beside / (feed + beside), up = track[0] * (1 - travel[0]) + top,
                 down = track[0] * travel[0];
    return up * down / (up + down);
}

/* No corner is tried for it, so there may be any number of parameters. */
static void source_ohms_hold_every_corner(void)
{
    enum { NETS = 12, FEEDS = 20, STEPS = 100 };
    for (int k = 0; k < NETS; k++) {
        tl_net *net = tl_net_new();
        const int rail = tl_net_add_node(net, "rail"), first = tl_net_add_node(net, "first"),
                  second = tl_net_add_node(net, "second");
        tl_net_set_rail(net, rail, tl_net_fixed(5));
        double feed[2] = {0, 0}, track[2][2], load[2];
        int node = rail, travels[2];
        for (int i = 0; i < FEEDS; i++) {
            const double ohms = pow(10, even_between(1, 3));
            const int next = tl_net_add_node(net, "feed");
            tl_net_add_resistor(
                net, "feed", node, next,
                tl_net_of(tl_net_add_param(net, "feed", 0.9 * ohms, ohms, 1.1 * ohms, false)));
            feed[0] += 0.9 * ohms;
            feed[1] += 1.1 * ohms;
            node = next;
        }
        for (int i = 0; i < 2; i++) {
            const double ohms = pow(10, even_between(3, 5));
            const int wiper = i == 0 ? first : second;
            track[i][0] = 0.8 * ohms;
            track[i][1] = 1.2 * ohms;
            const int param = tl_net_add_param(net, "track", track[i][0], ohms, track[i][1], false);
            travels[i] = tl_net_add_param(net, "travel", 0, 0.5, 1, true);
            const tl_net_value below = {.factor = 1, .first = param, .slope = 1, .second = travels[i]},
                               above = {.factor = 1,
                                        .first = param,
                                        .constant = 1,
                                        .slope = -1,
                                        .second = travels[i]};
            tl_net_add_resistor(net, "above", node, wiper, above);
            tl_net_add_resistor(net, "below", wiper, TL_NET_GROUND, below);
        }
        load[0] = pow(10, even_between(3, 5));
        load[1] = 1.5 * load[0];
        tl_net_add_resistor(net, "load", second, TL_NET_GROUND,
                            tl_net_of(tl_net_add_param(net, "load", load[0], load[0], load[1], false)));
        tl_island *island = tl_island_new(net, TL_VIEW_BELIEVED, first);
        tl_bounds bounds;
        CU_ASSERT(tl_island_bounds(island, NULL,
                                   (tl_figure){TL_FIGURE_SOURCE_OHMS, first, nothing, TL_NET_GROUND},
                                   &bounds) == TL_NET_SOLVED);
        double most = 0;
        for (int corner = 0; corner < 16; corner++) {
            const double tracks[2] = {track[0][corner & 1], track[1][corner >> 1 & 1]};
            for (int i = 0; i <= STEPS * STEPS; i++) {
                const double at[2] = {(double)(i / STEPS) / STEPS, (double)(i % STEPS) / (STEPS - 1)};
                most = fmax(most, seen_by_first(feed[corner >> 2 & 1], tracks, at, load[corner >> 3 & 1]));
            }
        }
        CU_ASSERT(bounds.low == 0 && bounds.high >= most * (1 - 1e-12) && bounds.high <= 1.0002 * most &&
                  !bounds.outer);
        tl_island_free(island);
        tl_net_free(net);
    }
}

CU_TestInfo net_tests[] = {
    {"currents that are not tried count in volts", currents_that_are_not_tried_count_in_volts},
    {"a follower's gain counts", a_followers_gain_counts},
    {"bounds wide islands from outside", bounds_wide_islands_from_outside},
    {"followers keep apart", followers_keep_apart},
    {"agrees with closed forms", agrees_with_closed_forms},
    {"finds currents and power", finds_currents_and_power},
    {"names what has no answer", names_what_has_no_answer},
    {"finds extremes inside the travel", finds_extremes_inside_the_travel},
    {"source ohms hold every corner", source_ohms_hold_every_corner},
    {"nothing exceeds a bound", nothing_exceeds_a_bound},
    CU_TEST_INFO_NULL,
};
