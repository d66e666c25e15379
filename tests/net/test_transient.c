/* Steps in time against closed forms. */
#include "support.h"
#include "tinyladder/net.h"
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
    tl_net_gate_part(s.net,
                     tl_net_add_resistor(s.net, "switch", s.node, s.sampled, tl_net_fixed(switch_ohms)),
                     TL_GATE_CLOSED, contact);
    tl_net_add_capacitor(s.net, "sample", s.sampled, TL_NET_GROUND, tl_net_fixed(sample_farads));
    s.island = tl_island_new(s.net, s.node);
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
    tl_island *island = tl_island_new(net, node);
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

/* A ladder of ten equal sections, its end after a step, against small explicit steps (Heun, error far below
 * 0.1 %). */
static void follows_a_ladder_of_ten(void)
{
    enum { N = 10, STEPS = 40000 };
    const double r = 1e3, c = 1e-9, end = 60e-6, dt = end / STEPS;
    tl_net *net = tl_net_new();
    int nodes[N];
    const int rail = tl_net_add_node(net, "rail");
    tl_net_set_rail(net, rail, tl_net_fixed(1));
    for (int i = 0; i < N; i++) {
        nodes[i] = tl_net_add_node(net, "n");
        tl_net_add_resistor(net, "r", i == 0 ? rail : nodes[i - 1], nodes[i], tl_net_fixed(r));
        tl_net_add_capacitor(net, "c", nodes[i], TL_NET_GROUND, tl_net_fixed(c));
    }
    tl_island *island = tl_island_new(net, nodes[0]);
    const tl_net_state state = {NULL, NULL};
    tl_transient *t = tl_transient_new(island, &state);
    double volts[N] = {0}, v[N] = {0};
    tl_transient_step(t, end, volts);
    for (int s = 0; s < STEPS; s++) {
        double k1[N], k2[N], w[N];
        for (int pass = 0; pass < 2; pass++) {
            const double *from = pass == 0 ? v : w;
            double *k = pass == 0 ? k1 : k2;
            for (int i = 0; i < N; i++)
                k[i] = ((i == 0 ? 1 : from[i - 1]) - from[i] + (i + 1 < N ? from[i + 1] - from[i] : 0)) /
                       (r * c);
            for (int i = 0; pass == 0 && i < N; i++)
                w[i] = v[i] + dt * k1[i];
        }
        for (int i = 0; i < N; i++)
            v[i] += dt * (k1[i] + k2[i]) / 2;
    }
    for (int i = 0; i < N; i++)
        CU_ASSERT(near(volts[tl_island_index(island, nodes[i])], v[i], 1e-5));
    tl_transient_free(t);
    tl_island_free(island);
    tl_net_free(net);
}

CU_TestInfo transient_tests[] = {
    {"settles as published", settles_as_published},
    {"shares charge with a reservoir", shares_charge_with_a_reservoir},
    {"keeps a charge that has nowhere to go", keeps_a_charge_that_has_nowhere_to_go},
    {"follows a ladder of ten", follows_a_ladder_of_ten},
    CU_TEST_INFO_NULL,
};
