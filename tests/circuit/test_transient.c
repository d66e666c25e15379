/* SPDX-License-Identifier: MIT */
/* Steps in time against closed forms. */
#include "circuit/netlist.h"
#include "support.h"
#include <math.h>
#include <stdio.h>

static const bool open_contact[1] = {false}, closed_contact[1] = {true};

/* rail - R - node - capacitor, and a contact from the node through Rs to a sampling capacitor. */
typedef struct {
    tl_net *net;
    tl_island *island;
    int node, sampled;
} sampler;

static sampler sampler_new(double volts, double ohms, double farads, double switch_ohms, double sample_farads)
{
    sampler s = {.net = tl_net_new()};
    const int rail = tl_net_add_node(s.net, "rail"), contact = tl_net_add_contact(s.net, "sampling");
    s.node = tl_net_add_node(s.net, "node");
    s.sampled = tl_net_add_node(s.net, "sampled");
    tl_net_set_rail(s.net, rail, tl_net_fixed(volts));
    tl_net_add_resistor(s.net, "source", rail, s.node, tl_net_fixed(ohms));
    if (farads > 0)
        tl_net_add_capacitor(s.net, "reservoir", s.node, TL_NET_GROUND, tl_net_fixed(farads));
    tl_net_condition_part(s.net,
                          tl_net_add_resistor(s.net, "switch", s.node, s.sampled, tl_net_fixed(switch_ohms)),
                          TL_WHEN_CLOSED, contact);
    tl_net_add_capacitor(s.net, "sample", s.sampled, TL_NET_GROUND, tl_net_fixed(sample_farads));
    s.island = tl_island_new(s.net, TL_VIEW_BELIEVED, s.node);
    return s;
}

static double sample_after(sampler *s, const bool *contact, double from, double at_node, double seconds)
{
    double volts[2];
    const tl_net_state state = {NULL, contact};
    tl_transient *t = tl_transient_new(s->island, &state);
    volts[tl_island_index(s->island, s->node)] = at_node;
    volts[tl_island_index(s->island, s->sampled)] = from;
    tl_transient_step(t, seconds, volts);
    tl_transient_free(t);
    return volts[tl_island_index(s->island, s->sampled)];
}

static void sampler_free(sampler *s)
{
    tl_island_free(s->island);
    tl_net_free(s->net);
}

static void settles_as_published(void)
{
    /* 12 bit, 10 kohm + 1 kohm switch, 8 pF: half an LSB of a full-scale step after 792.96 ns. */
    sampler s = sampler_new(1, 10e3, 0, 1e3, 8e-12);
    CU_ASSERT(near((1 - sample_after(&s, closed_contact, 0, 0, 792.96e-9)) * 8192, 1, 1e-4));
    CU_ASSERT(sample_after(&s, open_contact, 0.25, 1, 1) == 0.25); /* not joined: it keeps what it holds */
    sampler_free(&s);
}

static void shares_charge_with_a_reservoir(void)
{
    /* A reservoir that is much faster than the source: at first the charge is only shared. */
    sampler s = sampler_new(1, 10e6, 220e-9, 1500, 12e-12);
    const double shared = (220e-9 * 1 + 12e-12 * 0) / (220e-9 + 12e-12);
    CU_ASSERT(near(sample_after(&s, closed_contact, 0, 1, 1e-6), shared, 1e-6));
    CU_ASSERT(1 - sample_after(&s, closed_contact, 0, 1, 100) < 1e-9); /* and in the end it is the source's */
    sampler_free(&s);
}

static void keeps_a_charge_that_has_nowhere_to_go(void)
{
    tl_net *net = tl_net_new();
    const int node = tl_net_add_node(net, "node");
    tl_net_add_capacitor(net, "c", node, TL_NET_GROUND, tl_net_fixed(7e-12));
    tl_net_add_current(net, "leak", node, TL_NET_GROUND, tl_net_fixed(7e-12));
    tl_island *island = tl_island_new(net, TL_VIEW_BELIEVED, node);
    const tl_net_state state = {NULL, NULL};
    tl_transient *t = tl_transient_new(island, &state);
    double volts = 2;
    tl_transient_step(t, 0.5, &volts);
    CU_ASSERT(near(volts, 1.5, 1e-12)); /* I t / C = 0.5 V */
    CU_ASSERT(tl_transient_slowest(t) == 0);
    tl_transient_free(t);
    tl_island_free(island);
    tl_net_free(net);
}

/* --- ladders of up to ten sections against the matrix exponential --- */

enum { LADDER_MOST = 10, DIM = LADDER_MOST + 2 }; /* the volts, the source, and how fast it rises */

typedef struct {
    double m[DIM][DIM];
} matrix;

static matrix product(const matrix *a, const matrix *b)
{
    matrix c = {0};
    for (int i = 0; i < DIM; i++) {
        for (int k = 0; k < DIM; k++) {
            for (int j = 0; j < DIM; j++)
                c.m[i][j] += a->m[i][k] * b->m[k][j];
        }
    }
    return c;
}

/* By its series for a 2^-30th of the time, squared thirty times. */
static matrix exponential(const matrix *a, double seconds)
{
    const double part = ldexp(seconds, -30);
    matrix sum = {0}, term = {0};
    for (int i = 0; i < DIM; i++)
        sum.m[i][i] = term.m[i][i] = 1;
    for (int n = 1; n <= 12; n++) {
        term = product(&term, a);
        for (int i = 0; i < DIM * DIM; i++) {
            term.m[i / DIM][i % DIM] *= part / n;
            sum.m[i / DIM][i % DIM] += term.m[i / DIM][i % DIM];
        }
    }
    for (int i = 0; i < 30; i++)
        sum = product(&sum, &sum);
    return sum;
}

/* Source, then sections of a resistor and a capacitor; before section `follower` stands one (0 for none). */
static void one_ladder(int sections, int follower, double lag)
{
    tl_net *net = tl_net_new();
    int node[LADDER_MOST], at = tl_net_add_node(net, "source");
    const int source = tl_net_add_param(net, "volts", -10, 0, 10, false);
    matrix motion = {0};
    double volts[LADDER_MOST + 1] = {0}, values[1] = {1}, slowest = 0;
    tl_net_set_rail(net, at, tl_net_of(source));
    for (int i = 0; i < sections; i++) {
        const double r = 1e3 * pow(10, even_between(0, 2)), c = 1e-9 * pow(10, even_between(0, 2));
        const bool apart = follower == i && i > 0;
        slowest += r * c * (i + 1);
        if (apart) {
            const int out = tl_net_add_node(net, "out");
            tl_net_add_follower(net, "f", at, out,
                                &(tl_net_follower){tl_net_fixed(0.01), tl_net_fixed(0.999), lag});
            at = out;
        }
        node[i] = tl_net_add_node(net, "n");
        tl_net_add_resistor(net, "r", at, node[i], tl_net_fixed(r));
        tl_net_add_capacitor(net, "c", node[i], TL_NET_GROUND, tl_net_fixed(c));
        at = node[i];
        /* C v' = (what is before - v) / R, and the section before gives as much, unless a follower does. */
        motion.m[i][i] -= 1 / (r * c);
        motion.m[i][i == 0 ? LADDER_MOST : i - 1] += (apart ? 0.999 : 1) / (r * c);
        if (i > 0 && !apart) {
            motion.m[i - 1][i - 1] -= 1 / (r * volts[i]);
            motion.m[i - 1][i] += 1 / (r * volts[i]);
        }
        volts[i + 1] = c; /* kept for the section behind it */
    }
    motion.m[LADDER_MOST][LADDER_MOST + 1] = 1;
    tl_island *island = tl_island_new(net, TL_VIEW_BELIEVED, node[0]);
    const tl_net_state state = {values, NULL};
    tl_transient *t = tl_transient_new(island, &state);
    CU_ASSERT_FATAL(t != NULL);
    CU_ASSERT(tl_transient_track(t, &state, &source, values, 1));
    const double end = slowest * even_between(0.02, 0.4), rise = even_between(-1, 1) / end;
    matrix grown = exponential(&motion, end);
    double found[2 * LADDER_MOST] = {0};
    values[0] = 1 + rise * end;
    tl_transient_aim(t, values);
    tl_transient_step(t, end, found);
    for (int i = 0; i < sections; i++) {
        double wanted = grown.m[i][LADDER_MOST] + rise * grown.m[i][LADDER_MOST + 1];
        if (follower > 0) /* its offset, like a second source behind it */
            wanted = i < follower ? wanted : NAN;
        CU_ASSERT(isnan(wanted) ||
                  fabs(found[tl_island_index(island, node[i])] - wanted) < (follower > 0 ? 1e-4 : 1e-7));
    }
    tl_transient_free(t);
    tl_island_free(island);
    tl_net_free(net);
}

static void follows_ladders(void)
{
    for (int sections = 1; sections <= LADDER_MOST; sections++) {
        for (int times = 0; times < 5; times++)
            one_ladder(sections, 0, 0);
    }
    one_ladder(6, 3, 0);
}

/* Two equal time constants with a follower in between: 1 - (1 + t/T) exp(-t/T); with its own lag a third. */
static void follows_through_a_follower(void)
{
    const double times[] = {0.1, 1, 3}, tau = 1e-3;
    for (int lags = 0; lags < 2; lags++) {
        tl_net *net = tl_net_new();
        const int rail = tl_net_add_node(net, "rail"), in = tl_net_add_node(net, "in"),
                  out = tl_net_add_node(net, "out"), tap = tl_net_add_node(net, "tap");
        tl_net_set_rail(net, rail, tl_net_fixed(1));
        tl_net_add_resistor(net, "a", rail, in, tl_net_fixed(1e3));
        tl_net_add_capacitor(net, "b", in, TL_NET_GROUND, tl_net_fixed(1e-6));
        tl_net_add_follower(net, "f", in, out,
                            &(tl_net_follower){tl_net_fixed(0), tl_net_fixed(1), lags ? tau : 0});
        tl_net_add_resistor(net, "c", out, tap, tl_net_fixed(10e3));
        tl_net_add_capacitor(net, "d", tap, TL_NET_GROUND, tl_net_fixed(0.1e-6));
        tl_island *island = tl_island_new(net, TL_VIEW_BELIEVED, tap);
        const tl_net_state state = {NULL, NULL};
        tl_transient *t = tl_transient_new(island, &state);
        CU_ASSERT_FATAL(t != NULL);
        for (size_t i = 0; i < ROWS(times); i++) {
            const double x = times[i];
            double volts[3] = {0};
            tl_transient_step(t, x * tau, volts);
            CU_ASSERT(fabs(volts[tl_island_index(island, tap)] - 1 +
                           (1 + x + (lags ? x * x / 2 : 0)) * exp(-x)) < 1e-4);
        }
        tl_transient_free(t);
        tl_island_free(island);
        tl_net_free(net);
    }
}

CU_TestInfo transient_tests[] = {
    {"settles as published", settles_as_published},
    {"shares charge with a reservoir", shares_charge_with_a_reservoir},
    {"keeps a charge that has nowhere to go", keeps_a_charge_that_has_nowhere_to_go},
    {"follows ladders", follows_ladders},
    {"follows through a follower", follows_through_a_follower},
    CU_TEST_INFO_NULL,
};
