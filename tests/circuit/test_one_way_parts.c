/* SPDX-License-Identifier: MIT */
/* Parts that conduct one way: closed forms, and random networks against every state tried by a solver of the
 * test's own; over a box of tolerances nothing ever leaves the bounds. */
#include "circuit/netlist.h"
#include "support.h"
#include <math.h>
#include <string.h>

static double volts_of(tl_island *island, const double *values, int node)
{
    double volts = NAN;
    const tl_net_state state = {values, NULL};
    CU_ASSERT(tl_island_figure(island, &state,
                               (tl_figure){TL_FIGURE_VOLTS, node, tl_net_fixed(0), TL_NET_GROUND},
                               &volts) == TL_NET_SOLVED);
    return volts;
}

static void keep_their_drop_and_let_nothing_back(void)
{
    static const struct {
        const char *name;
        double rail, series, drop, across; /* a resistor from the rail; lamp and 1k from there to ground */
        double volts;
    } rows[] = {
        {"lit", 5, 150, 2, 1e3, 2},
        {"dark: the divider alone", 5, 2e3, 2, 1e3, 5.0 / 3},
        {"just dark", 6 - 1e-3, 2e3, 2, 1e3, (6 - 1e-3) / 3},
        {"just lit", 6 + 1e-3, 2e3, 2, 1e3, 2},
        {"a dead rail is not fed", 0, 150, 2, 1e3, 0},
        {"below ground it does nothing", -3, 1e3, 2, 1e3, -1.5},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_net *net = tl_net_new();
        const int rail = tl_net_add_node(net, "rail"), node = tl_net_add_node(net, "node");
        tl_net_set_rail(net, rail, tl_net_fixed(rows[i].rail));
        tl_net_add_resistor(net, "series", rail, node, tl_net_fixed(rows[i].series));
        tl_net_add_resistor(net, "across", node, TL_NET_GROUND, tl_net_fixed(rows[i].across));
        tl_net_add_one_way(net, "lamp", node, TL_NET_GROUND, tl_net_fixed(rows[i].drop));
        tl_island *island = tl_island_new(net, TL_VIEW_BELIEVED, node);
        CHECK_ROW(rows[i].name,
                  fabs(volts_of(island, NULL, node) - rows[i].volts) < 3e-7); /* 20 mA in 10 uohm */
        tl_island_free(island);
        tl_net_free(net);
    }
}

/* --- random networks --- */

enum { NODES = 4, WAYS = 4, LINKS = 6, PARAMS = LINKS + WAYS + 1 };

typedef struct {
    int a[LINKS], b[LINKS], from[WAYS], to[WAYS]; /* 0: ground, 1: the rail, 2 and above: nodes */
} shape;

/* Gauss with pivoting; false where it has no one answer. */
static bool solve(double m[NODES][NODES + 1])
{
    for (int k = 0; k < NODES; k++) {
        int best = k;
        for (int i = k; i < NODES; i++)
            best = fabs(m[i][k]) > fabs(m[best][k]) ? i : best;
        if (fabs(m[best][k]) < 1e-12)
            return false;
        for (int j = 0; j <= NODES; j++) {
            const double kept = m[k][j];
            m[k][j] = m[best][j];
            m[best][j] = kept;
        }
        for (int i = 0; i < NODES; i++) {
            const double times = i == k ? 0 : m[i][k] / m[k][k];
            for (int j = 0; j <= NODES && times != 0; j++)
                m[i][j] -= times * m[k][j];
        }
    }
    return true;
}

static void stamp(double m[NODES][NODES + 1], int a, int b, double siemens, double amperes, double rail)
{
    const int end[2] = {a - 2, b - 2};
    for (int e = 0; e < 2; e++) {
        if (end[e] < 0)
            continue;
        m[end[e]][end[e]] += siemens;
        m[end[e]][NODES] += e == 0 ? amperes : -amperes;
        if (end[1 - e] >= 0)
            m[end[e]][end[1 - e]] -= siemens;
        else
            m[end[e]][NODES] += siemens * (end[1 - e] == -1 ? rail : 0);
    }
}

/* The state of the lamps that agrees with itself, by trying all; with 10 uohm in each, as there. */
static bool by_trying(const shape *s, const double *values, double volts[NODES + 2])
{
    const double rail = values[PARAMS - 1], siemens = 1e5;
    for (unsigned lit = 0; lit < 1u << WAYS; lit++) {
        double m[NODES][NODES + 1] = {{0}};
        bool agrees = true;
        for (int i = 0; i < LINKS; i++)
            stamp(m, s->a[i], s->b[i], 1 / values[i], 0, rail);
        for (int i = 0; i < WAYS; i++) {
            if ((lit >> i & 1u) != 0)
                stamp(m, s->from[i], s->to[i], siemens, siemens * values[LINKS + i], rail);
        }
        if (!solve(m))
            continue;
        volts[0] = 0;
        volts[1] = rail;
        for (int i = 0; i < NODES; i++)
            volts[2 + i] = m[i][NODES] / m[i][i];
        for (int i = 0; i < WAYS; i++) {
            const double beyond = volts[s->from[i]] - volts[s->to[i]] - values[LINKS + i];
            agrees = agrees && ((lit >> i & 1u) != 0 ? beyond > -1e-11 : beyond < 1e-11);
        }
        if (agrees)
            return true;
    }
    return false;
}

static int any_end(int but)
{
    int end;
    do
        end = (int)even_between(0, NODES + 2 - 1e-9);
    while (end == but);
    return end;
}

/* Every node is connected to the one before it, so that all are defined. */
static shape any_shape(void)
{
    shape s;
    for (int i = 0; i < LINKS; i++) {
        s.a[i] = i < NODES ? 2 + i : any_end(-1);
        s.b[i] = i < NODES ? 1 + i : any_end(s.a[i]);
    }
    for (int i = 0; i < WAYS; i++) {
        s.from[i] = any_end(-1);
        s.to[i] = any_end(s.from[i]);
        if (s.from[i] + s.to[i] == 1) /* straight across the supply nothing limits it */
            s.to[i] = 2;
    }
    return s;
}

static void agree_with_every_state_tried(void)
{
    int lamps_lit = 0;
    for (int round = 0; round < 300; round++) {
        const shape s = any_shape();
        tl_net *net = tl_net_new();
        int node[NODES + 2] = {TL_NET_GROUND};
        double low[PARAMS], high[PARAMS], values[PARAMS], volts[NODES + 2];
        for (int i = 0; i < PARAMS; i++) {
            const double middle = i < LINKS        ? pow(10, even_between(1, 4))
                                  : i < PARAMS - 1 ? even_between(0.2, 3)
                                                   : even_between(-2, 8);
            const double off = fabs(middle) * even_between(0, 0.3);
            low[i] = middle - off;
            high[i] = middle + off;
            tl_net_add_param(net, "p", low[i], middle, high[i], false);
        }
        for (int i = 1; i < NODES + 2; i++)
            node[i] = tl_net_add_node(net, "n");
        tl_net_set_rail(net, node[1], tl_net_of(PARAMS - 1));
        for (int i = 0; i < LINKS; i++)
            tl_net_add_resistor(net, "link", node[s.a[i]], node[s.b[i]], tl_net_of(i));
        for (int i = 0; i < WAYS; i++)
            tl_net_add_one_way(net, "lamp", node[s.from[i]], node[s.to[i]], tl_net_of(LINKS + i));
        tl_island *island = tl_island_new(net, TL_VIEW_BELIEVED, node[2]);
        for (int n = 2; n < NODES + 2; n++) {
            tl_bounds bounds = {0};
            CU_ASSERT(tl_island_bounds(island, NULL,
                                       (tl_figure){TL_FIGURE_VOLTS, node[n], tl_net_fixed(0), TL_NET_GROUND},
                                       &bounds) == TL_NET_SOLVED);
            for (int draw = 0; draw < 6; draw++) {
                for (int i = 0; i < PARAMS; i++)
                    values[i] = even_between(low[i], high[i]);
                CU_ASSERT(by_trying(&s, values, volts));
                CU_ASSERT(fabs(volts_of(island, values, node[n]) - volts[n]) < 1e-5);
                CU_ASSERT(volts[n] > bounds.low - 1e-6 && volts[n] < bounds.high + 1e-6);
                for (int i = 0; i < WAYS; i++)
                    lamps_lit += volts[s.from[i]] - volts[s.to[i]] > values[LINKS + i] - 1e-6;
            }
        }
        tl_island_free(island);
        tl_net_free(net);
    }
    CU_ASSERT(lamps_lit > 1000);
}

/* --- leaks --- */

/* One node: resistors to rails, leaks from 3.3 V into it and out of it to ground; found by halving. */
static double by_halving(const double *volts, const double *ohms, int count, double in, double out)
{
    double low = -20, high = 20;
    for (int i = 0; i < 200; i++) {
        const double v = (low + high) / 2;
        double amperes = v < 3.3 ? in : 0;
        amperes -= v > 0 ? out : 0;
        for (int k = 0; k < count; k++)
            amperes += (volts[k] - v) / ohms[k];
        *(amperes > 0 ? &low : &high) = v;
    }
    return (low + high) / 2;
}

static void leaks_go_no_further_than_their_rails(void)
{
    static const struct {
        const char *name;
        double rail, ohms, in, out, volts;
    } rows[] = {
        {"a pull-up to the pin's own supply is not lifted", 3.3, 330e3, 1e-6, 0, 3.3},
        {"nor is it by much more", 3.3, 330e3, 1e-3, 0, 3.3},
        {"it is pulled down by all of it", 3.3, 330e3, 0, 1e-6, 3.3 - 0.33},
        {"a pull-down is not pulled below ground", 0, 470e3, 0, 1e-6, 0},
        {"and lifted by all of it", 0, 470e3, 1e-6, 0, 0.47},
        {"below ground nothing pulls any more", -1, 470e3, 0, 1e-6, -1},
        {"above its supply nothing lifts", 5, 470e3, 1e-6, 0, 5},
        {"but something pulls", 5, 470e3, 0, 1e-6, 4.53},
        {"half way between both flow", 1.5, 100e3, 1e-6, 3e-6, 1.3},
    };
    for (size_t i = 0; i < ROWS(rows) + 200; i++) {
        const bool row = i < ROWS(rows);
        double volts[3], ohms[3], in = row ? rows[i].in : pow(10, even_between(-8, -4)),
                                  out = row ? rows[i].out : pow(10, even_between(-8, -4));
        tl_net *net = tl_net_new();
        const int supply = tl_net_add_node(net, "supply"), node = tl_net_add_node(net, "node");
        tl_net_set_rail(net, supply, tl_net_fixed(3.3));
        for (int k = 0; k < 3; k++) {
            volts[k] = row ? rows[i].rail : even_between(-2, 6);
            ohms[k] = row ? 3 * rows[i].ohms : pow(10, even_between(3, 6));
            const int rail = tl_net_add_node(net, "rail");
            tl_net_set_rail(net, rail, tl_net_fixed(volts[k]));
            tl_net_add_resistor(net, "r", rail, node, tl_net_fixed(ohms[k]));
        }
        tl_net_add_leak(net, "in", supply, node, tl_net_fixed(in));
        tl_net_add_leak(net, "out", node, TL_NET_GROUND, tl_net_fixed(out));
        tl_island *island = tl_island_new(net, TL_VIEW_BELIEVED, node);
        const double found = volts_of(island, NULL, node), wanted = by_halving(volts, ohms, 3, in, out);
        CHECK_ROW(row ? rows[i].name : "random", fabs(found - wanted) < 3e-6);
        CHECK_ROW(row ? rows[i].name : "random", !row || fabs(found - rows[i].volts) < 3e-6);
        tl_island_free(island);
        tl_net_free(net);
    }
}

CU_TestInfo one_way_part_tests[] = {
    {"keep their drop and let nothing back", keep_their_drop_and_let_nothing_back},
    {"agree with every state tried", agree_with_every_state_tried},
    {"leaks go no further than their rails", leaks_go_no_further_than_their_rails},
    CU_TEST_INFO_NULL,
};
