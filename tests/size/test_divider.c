/* The divider search against plain enumeration, and its figures against the netlist's worst cases. */
#include "support.h"
#include "tinyladder/net.h"
#include "tinyladder/size.h"
#include <math.h>
#include <stdlib.h>

static bool fits(const tl_divider_wish *w, const tl_divider_choice *c)
{
    return c->tap_high <= w->limit && c->amperes <= w->most_amperes && c->tap_ohms <= w->most_tap_ohms;
}

static int by_rank(const void *a, const void *b)
{
    const tl_divider_choice *x = a, *y = b;
    if (fabs(x->share - y->share) > 1e-9)
        return x->share > y->share ? -1 : 1;
    return (x->amperes > y->amperes) - (x->amperes < y->amperes);
}

static tl_divider_wish random_wish(int n)
{
    static const tl_series series[] = {TL_E3, TL_E6, TL_E12, TL_E24};
    tl_divider_wish w = tl_divider_wish_default();
    w.source_low = even_between(0, 20);
    w.source_high = w.source_low + even_between(0.1, 20);
    w.limit = even_between(0.5, 5);
    w.source_ohms = n % 2 ? even_between(0, 1000) : 0;
    w.load_ohms = n % 3 ? (double)INFINITY : even_between(1e4, 1e6);
    w.most_amperes = n % 4 ? even_between(1e-4, 1e-2) : (double)INFINITY;
    w.most_tap_ohms = n % 5 ? even_between(100, 20e3) : (double)INFINITY;
    w.tolerance = n % 7 ? 0.01 : 0.05;
    w.series = series[n % 4];
    w.least_ohms = 100;
    w.most_ohms = 1e6;
    w.lower = n % 11 == 0 ? 10e3 : 0;
    return w;
}

static void finds_exactly_what_enumeration_finds(void)
{
    enum { ROOM = 12, WISHES = 200 };
    static double values[200];
    static tl_divider_choice all[200 * 200];
    for (int n = 0; n < WISHES; n++) {
        const tl_divider_wish w = random_wish(n);
        const size_t count = tl_series_over(w.series, w.least_ohms, w.most_ohms, values, 200);
        size_t fitting = 0;
        for (size_t l = 0; l < (w.lower > 0 ? 1 : count); l++) {
            for (size_t u = 0; u < count; u++) {
                const tl_divider_choice c =
                    tl_divider_work_out(&w, values[u], w.lower > 0 ? w.lower : values[l]);
                if (fits(&w, &c))
                    all[fitting++] = c;
            }
        }
        if (fitting > 0)
            qsort(all, fitting, sizeof *all, by_rank);
        tl_divider_choice found[ROOM];
        tl_divider_answer answer;
        const tl_size_status status = tl_size_divider(&w, found, ROOM, &answer);
        CU_ASSERT(status == (fitting > 0 ? TL_SIZE_DONE : TL_SIZE_IMPOSSIBLE));
        CU_ASSERT(answer.fitting == fitting && answer.count == (fitting < ROOM ? fitting : ROOM));
        for (size_t i = 0; i < answer.count && i < fitting; i++)
            CU_ASSERT(near(found[i].share, all[i].share, 1e-9) &&
                      near(found[i].amperes, all[i].amperes, 1e-9));
    }
}

/* The closed forms and the netlist must say the same, corner by corner. */
static void agrees_with_the_netlist(void)
{
    for (int n = 0; n < 100; n++) {
        tl_divider_wish w = random_wish(n);
        const double upper = pow(10, even_between(2, 6)), lower = pow(10, even_between(2, 6)),
                     t = w.tolerance;
        const tl_divider_choice c = tl_divider_work_out(&w, upper, lower);
        tl_net *net = tl_net_new();
        const int volts = tl_net_add_param(net, "v", w.source_low, w.source_low, w.source_high, false);
        const int ru = tl_net_add_param(net, "u", upper * (1 - t), upper, upper * (1 + t), false);
        const int rl = tl_net_add_param(net, "l", lower * (1 - t), lower, lower * (1 + t), false);
        const int rail = tl_net_add_node(net, "rail"), out = tl_net_add_node(net, "out"),
                  tap = tl_net_add_node(net, "tap");
        tl_net_set_rail(net, rail, tl_net_of(volts));
        tl_net_add_resistor(net, "source", rail, out, tl_net_fixed(w.source_ohms));
        tl_net_add_resistor(net, "upper", out, tap, tl_net_of(ru));
        tl_net_add_resistor(net, "lower", tap, TL_NET_GROUND, tl_net_of(rl));
        if (isfinite(w.load_ohms))
            tl_net_add_resistor(net, "load", tap, TL_NET_GROUND, tl_net_fixed(w.load_ohms));
        tl_island *island = tl_island_new(net, tap);
        const tl_net_value zero = tl_net_fixed(0);
        tl_bounds b;
        CU_ASSERT(tl_island_bounds(island, NULL, (tl_figure){TL_FIGURE_VOLTS, tap, zero}, &b) ==
                  TL_NET_SOLVED);
        CU_ASSERT(near(b.low, c.tap_low, 1e-9) && near(b.high, c.tap_high, 1e-9));
        CU_ASSERT(tl_island_bounds(island, NULL, (tl_figure){TL_FIGURE_SOURCE_OHMS, tap, zero}, &b) ==
                  TL_NET_SOLVED);
        CU_ASSERT(near(b.high, c.tap_ohms, 1e-9));
        CU_ASSERT(tl_island_bounds(island, NULL, (tl_figure){TL_FIGURE_RAIL_AMPERES, rail, zero}, &b) ==
                  TL_NET_SOLVED);
        CU_ASSERT(near(b.high, c.amperes, 1e-9));
        tl_island_free(island);
        tl_net_free(net);
    }
}

static void power_is_never_exceeded(void)
{
    for (int n = 0; n < 200; n++) {
        const tl_divider_wish w = random_wish(n);
        const double upper = pow(10, even_between(2, 4)), lower = pow(10, even_between(2, 4));
        const tl_divider_choice c = tl_divider_work_out(&w, upper, lower);
        for (int p = 0; p < 100; p++) {
            const double u = upper * (1 + w.tolerance * even_between(-1, 1)),
                         l = lower * (1 + w.tolerance * even_between(-1, 1));
            const double load = isinf(w.load_ohms) ? l : l * w.load_ohms / (l + w.load_ohms);
            const double amperes = w.source_high / (w.source_ohms + u + load), tap = amperes * load;
            CU_ASSERT(amperes * amperes * u <= c.upper_watts * (1 + 1e-9) &&
                      tap * tap / l <= c.lower_watts * (1 + 1e-9));
        }
    }
}

static void says_how_near_the_impossible_comes(void)
{
    tl_divider_wish w = tl_divider_wish_default();
    tl_divider_choice choice;
    tl_divider_answer answer;
    w.source_low = 10;
    w.source_high = 15;
    w.limit = 3;
    w.lower = 10e3; /* a quarter of the limit is wanted from 10 uA: 300 kohm would be needed */
    w.most_amperes = 10e-6;
    w.most_ohms = 1e6;
    CU_ASSERT(tl_size_divider(&w, &choice, 1, &answer) == TL_SIZE_IMPOSSIBLE && answer.count == 0);
    CU_ASSERT(answer.miss[TL_DIVIDER_OVER_CURRENT].any &&
              near(answer.miss[TL_DIVIDER_OVER_CURRENT].choice.upper, 1e6, 0));
    for (int i = 0; i < TL_DIVIDER_REASONS; i++)
        CU_ASSERT(!answer.miss[i].any || !fits(&w, &answer.miss[i].choice));
}

static void refuses_nonsense(void)
{
    tl_divider_choice choice;
    tl_divider_answer answer;
    tl_divider_wish good = tl_divider_wish_default();
    good.source_high = 12;
    good.limit = 3;
    CU_ASSERT(tl_size_divider(&good, &choice, 1, &answer) == TL_SIZE_DONE);
    for (int i = 0; i < 9; i++) {
        tl_divider_wish w = good;
        double *const wrong[] = {&w.source_low, &w.limit,        &w.limit,       &w.source_ohms, &w.load_ohms,
                                 &w.tolerance,  &w.most_amperes, &w.source_high, &w.least_ohms};
        const double values[] = {13, 0, (double)NAN, -1, 0, 1, 0, (double)INFINITY, 0};
        *wrong[i] = values[i];
        CU_ASSERT(tl_size_divider(&w, &choice, 1, &answer) == TL_SIZE_NONSENSE);
    }
}

CU_TestInfo divider_tests[] = {
    {"finds exactly what enumeration finds", finds_exactly_what_enumeration_finds},
    {"agrees with the netlist", agrees_with_the_netlist},
    {"power is never exceeded", power_is_never_exceeded},
    {"says how near the impossible comes", says_how_near_the_impossible_comes},
    {"refuses nonsense", refuses_nonsense},
    CU_TEST_INFO_NULL,
};
