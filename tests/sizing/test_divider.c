/* SPDX-License-Identifier: MIT */
/* The divider search against plain enumeration, and its figures against the netlist's worst cases. */
#include "circuit/netlist.h"
#include "support.h"
#include "tinyladder/design/sizing.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

static bool fits(const tl_divider_requirement *w, const tl_choice *c)
{
    return c->figure[TL_DIVIDER_TAP_HIGHEST].value <= w->limit &&
           c->figure[TL_DIVIDER_CURRENT].value <= w->most_amperes &&
           c->figure[TL_DIVIDER_OHMS].value <= w->most_tap_ohms;
}

static tl_divider_requirement random_requirement(int n)
{
    tl_divider_requirement w = tl_divider_requirement_default();
    w.source.low = even_between(0, 20);
    w.source.high = w.source.low + even_between(5.1, 20);
    w.source.nominal = (w.source.low + w.source.high) / 2;
    w.limit = even_between(0.5, 5);
    w.source_ohms = n % 2 ? even_between(0, 1000) : 0;
    w.load_ohms = n % 3 ? (double)INFINITY : even_between(1e4, 1e6);
    w.leakage = n % 6 ? 0 : 1e-6;
    w.most_amperes = n % 4 ? even_between(1e-4, 1e-2) : (double)INFINITY;
    w.most_tap_ohms = n % 5 ? even_between(100, 20e3) : (double)INFINITY;
    w.order = n % 7 == 0 ? TL_ORDER_CURRENT : n % 2 ? TL_ORDER_SHARE : TL_ORDER_PARTS;
    w.lower = (tl_quantity){10e3, n % 11 == 0 ? 10e3 : (double)NAN, 10e3, false};
    return w;
}

/* Every leg of one part, and of two where that is required: plain loops. */
static size_t all_legs(const tl_stock *s, double parts, double fixed, tl_leg *legs)
{
    size_t count = 0;
    if (!isnan(fixed)) {
        legs[count++] = (tl_leg){fixed, fixed, fixed, INFINITY, -1, -1, 0};
        return count;
    }
    for (int i = 0; i < s->count; i++) {
        const tl_stock_part *a = &s->parts[i];
        legs[count++] = (tl_leg){
            a->value * (1 - a->tolerance), a->value, a->value * (1 + a->tolerance), a->watts, i, -1, 0};
        for (int j = i; j < s->count && parts > 1; j++) {
            const tl_stock_part *b = &s->parts[j];
            const double al = a->value * (1 - a->tolerance), bl = b->value * (1 - b->tolerance);
            const double ah = a->value * (1 + a->tolerance), bh = b->value * (1 + b->tolerance),
                         an = a->value, bn = b->value;
            if (i == j && a->count == 1)
                continue;
            legs[count++] = (tl_leg){al + bl, an + bn, ah + bh, fmin(a->watts, b->watts), i, j, '+'};
            legs[count++] = (tl_leg){al * bl / (al + bl),
                                     an * bn / (an + bn),
                                     ah * bh / (ah + bh),
                                     fmin(a->watts, b->watts),
                                     i,
                                     j,
                                     '|'};
        }
    }
    return count;
}

static bool enough(const tl_stock *s, const tl_leg *a, const tl_leg *b)
{
    for (int i = 0; i < s->count; i++) {
        const int used = (a->first == i) + (a->second == i) + (b->first == i) + (b->second == i);
        if (s->parts[i].count >= 0 && used > s->parts[i].count)
            return false;
    }
    return true;
}

/* The best scores of all pairs, by trying every one. */
static size_t enumerate(const tl_divider_requirement *w, const tl_stock *s, double *scores, size_t room)
{
    static tl_leg uppers[20000], lowers[20000];
    const size_t nu = all_legs(s, w->parts, w->upper.nominal, uppers),
                 nl = all_legs(s, w->parts, w->lower.nominal, lowers);
    size_t count = 0;
    double best = 0; /* percent; where the least current comes first, half of it is asked for */
    for (size_t n = 0; n < 2 * nl * nu; n++) {
        const size_t l = n / nu % nl, u = n % nu;
        {
            const tl_choice c = tl_divider_work_out(w, &uppers[u], &lowers[l]);
            const double share = c.figure[TL_DIVIDER_SHARE].value;
            if (!fits(w, &c) || c.figure[TL_DIVIDER_POWER].value > uppers[u].watts ||
                !enough(s, &uppers[u], &lowers[l]))
                continue;
            if (n < nl * nu) {
                best = fmax(best, share);
                continue;
            }
            if (w->order == TL_ORDER_CURRENT && share < best / 2 * (1 - 1e-9))
                continue;
            size_t at = count < room ? count++ : room;
            for (; at > 0 && (at == room || c.score > scores[at - 1]); at--) {
                if (at < room)
                    scores[at] = scores[at - 1];
                else if (c.score <= scores[room - 1])
                    break;
            }
            if (at < room)
                scores[at] = c.score;
        }
    }
    return count;
}

static void compare_with_enumeration(const tl_divider_requirement *w, const tl_stock *stock)
{
    enum { ROOM = 6 };
    double scores[ROOM];
    const size_t count = enumerate(w, stock, scores, ROOM);
    tl_size_result *answer = tl_size_result_new(stock, ROOM);
    tl_size_divider(w, answer);
    CU_ASSERT((size_t)answer->count == count);
    CU_ASSERT(answer->status == (count > 0 ? TL_SIZE_DONE : TL_SIZE_IMPOSSIBLE));
    for (size_t i = 0; i < count && i < (size_t)answer->count; i++)
        CU_ASSERT(fabs(answer->choices[i].score - scores[i]) < 1e-9);
    tl_size_result_free(answer);
}

static void finds_exactly_what_enumeration_finds(void)
{
    static const tl_series series[] = {TL_E3, TL_E6, TL_E12, TL_E24};
    for (int n = 0; n < 120; n++) {
        const tl_divider_requirement w = random_requirement(n);
        tl_stock stock = tl_stock_series(series[n % 4], 100, 1e6, n % 7 ? 0.01 : 0.05);
        compare_with_enumeration(&w, &stock);
        tl_stock_free(&stock);
    }
}

/* Two parts in a leg, and a drawer of mixed tolerances of which there are few. */
static void finds_it_for_two_parts_and_for_drawers(void)
{
    for (int n = 0; n < 30; n++) {
        tl_divider_requirement w = random_requirement(n);
        tl_stock stock = tl_stock_series(n % 2 ? TL_E3 : TL_E6, 1e3, 47e3, 0.01);
        w.parts = 2;
        for (int i = 0; i < stock.count && n % 3 == 0; i++) {
            stock.parts[i].tolerance = i % 2 ? 0.05 : 0.001;
            stock.parts[i].count = 1 + i % 3;
        }
        compare_with_enumeration(&w, &stock);
        tl_stock_free(&stock);
    }
}

/* The closed forms and the netlist must say the same, corner by corner. */
static void agrees_with_the_netlist(void)
{
    for (int n = 0; n < 100; n++) {
        tl_divider_requirement w = random_requirement(n);
        const double upper = pow(10, even_between(2, 5)), lower = pow(10, even_between(2, 5)),
                     t = n % 7 ? 0.01 : 0.05;
        const tl_leg ul = {upper * (1 - t), upper, upper * (1 + t), INFINITY, -1, -1, 0},
                     ll = {lower * (1 - t), lower, lower * (1 + t), INFINITY, -1, -1, 0};
        const tl_choice c = tl_divider_work_out(&w, &ul, &ll);
        tl_net *net = tl_net_new();
        const int volts = tl_net_add_param(net, "v", w.source.low, w.source.low, w.source.high, false);
        const int ru = tl_net_add_param(net, "u", ul.low, upper, ul.high, false);
        const int rl = tl_net_add_param(net, "l", ll.low, lower, ll.high, false);
        const int leak = tl_net_add_param(net, "i", -w.leakage, 0, w.leakage, false);
        const int rail = tl_net_add_node(net, "rail"), out = tl_net_add_node(net, "out"),
                  tap = tl_net_add_node(net, "tap");
        tl_net_set_rail(net, rail, tl_net_of(volts));
        tl_net_add_resistor(net, "source", rail, out, tl_net_fixed(w.source_ohms));
        tl_net_add_resistor(net, "upper", out, tap, tl_net_of(ru));
        tl_net_add_resistor(net, "lower", tap, TL_NET_GROUND, tl_net_of(rl));
        tl_net_add_current(net, "leak", TL_NET_GROUND, tap, tl_net_of(leak));
        if (isfinite(w.load_ohms))
            tl_net_add_resistor(net, "load", tap, TL_NET_GROUND, tl_net_fixed(w.load_ohms));
        tl_island *island = tl_island_new(net, TL_VIEW_BELIEVED, tap);
        const tl_net_value zero = tl_net_fixed(0);
        tl_bounds b;
        CU_ASSERT(tl_island_bounds(island, NULL, (tl_figure){TL_FIGURE_VOLTS, tap, zero, TL_NET_GROUND},
                                   &b) == TL_NET_SOLVED);
        CU_ASSERT(near(b.low, c.figure[TL_DIVIDER_TAP_LOWEST].value, 1e-9) &&
                  near(b.high, c.figure[TL_DIVIDER_TAP_HIGHEST].value, 1e-9));
        CU_ASSERT(tl_island_bounds(island, NULL, (tl_figure){TL_FIGURE_SOURCE_OHMS, tap, zero, TL_NET_GROUND},
                                   &b) == TL_NET_SOLVED);
        CU_ASSERT(near(b.high, c.figure[TL_DIVIDER_OHMS].value, 1e-9));
        CU_ASSERT(tl_island_bounds(island, NULL,
                                   (tl_figure){TL_FIGURE_RAIL_AMPERES, rail, zero, TL_NET_GROUND},
                                   &b) == TL_NET_SOLVED);
        CU_ASSERT(b.high <= c.figure[TL_DIVIDER_CURRENT].value * (1 + 1e-9) &&
                  b.high >= c.figure[TL_DIVIDER_CURRENT].value - 2 * w.leakage - 1e-12);
        tl_island_free(island);
        tl_net_free(net);
    }
}

static void says_what_is_wanted_and_what_comes_near(void)
{
    tl_divider_requirement w = tl_divider_requirement_default();
    tl_stock stock = tl_stock_series(TL_E12, 1e3, 1e6, 0);
    w.source = (tl_quantity){15, 15, 15, false};
    w.limit = 3;
    w.lower = (tl_quantity){10e3, 10e3, 10e3,
                            false}; /* 40 kohm would be right: 39k is over the limit, 47k under it */
    tl_size_result *answer = tl_size_result_new(&stock, 2);
    tl_size_divider(&w, answer);
    CU_ASSERT(answer->count == 2 && near(answer->choices[0].part[0].nominal, 47e3, 0));
    CU_ASSERT_STRING_EQUAL(answer->notes[1], "The upper resistor needs 40 kΩ; with 39k the output is "
                                             "3.062 V, above the limit of 3 V.");
    CU_ASSERT_STRING_EQUAL(answer->notes[2], "The upper resistor needs 40 kΩ; with 47k the output is "
                                             "2.632 V, below the limit of 3 V.");
    CU_ASSERT(answer->rejected_count == 1 && near(answer->rejected[0].choice.part[0].nominal, 39e3, 0));
    CU_ASSERT(
        near(answer->choices[0].figure[TL_DIVIDER_METER].value, 2.62941, 1e-5)); /* 10k || 10M below 47k */
    tl_size_result_free(answer);
    tl_stock_free(&stock);
}

static void refuses_nonsense_and_the_impossible(void)
{
    tl_stock stock = tl_stock_series(TL_E12, 1e3, 1e6, 0.01);
    tl_divider_requirement good = tl_divider_requirement_default();
    good.source = (tl_quantity){12, 12, 12, false};
    good.limit = 3;
    for (int i = 0; i < 12; i++) {
        tl_divider_requirement w = good;
        double *const member[] = {&w.source.low, &w.limit,         &w.limit,        &w.source_ohms,
                                  &w.load_ohms,  &w.upper.nominal, &w.most_amperes, &w.source.high,
                                  &w.parts,      &w.leakage,       &w.limit,        &w.most_amperes};
        const double value[] = {-1, 0, (double)NAN, -1, 0, 5, 0, (double)INFINITY, 3, -1, 12, 1e-6};
        *member[i] = value[i];
        tl_size_result *answer = tl_size_result_new(&stock, 1);
        tl_size_divider(&w, answer);
        CU_ASSERT(answer->status == (i < 10 ? TL_SIZE_NONSENSE : TL_SIZE_IMPOSSIBLE) && answer->count == 0 &&
                  answer->refusal[0] != '\0');
        tl_size_result_free(answer);
    }
    tl_stock_free(&stock);
}

/* Every pair of singles, and of a small stock every leg of two, by brute force. */
static void the_nearest_ratio_is_found(void)
{
    tl_stock stock = tl_stock_series(TL_E12, 100, 1e5, 0.02), few = tl_stock_series(TL_E6, 1e3, 1e5, 0.01);
    for (int n = 0; n < 60; n++) {
        const tl_stock *s = n % 2 == 0 ? &stock : &few;
        static tl_leg legs[20000];
        tl_ratio_requirement w = tl_ratio_requirement_default();
        w.ratio = even_between(0.02, 0.98);
        w.sum = n % 3 == 0 ? w.sum : (tl_quantity){2e3, 2e4, 8e4, true};
        w.parts = n % 2 == 0 ? 1 : 2;
        const size_t count = all_legs(s, w.parts, (double)NAN, legs);
        double best = INFINITY;
        for (size_t i = 0; i < count; i++) {
            for (size_t j = 0; j < count; j++) {
                const double sum = legs[i].nominal + legs[j].nominal;
                if (sum >= w.sum.low && sum <= w.sum.high)
                    best = fmin(best, fabs(legs[j].nominal / sum - w.ratio));
            }
        }
        tl_size_result *answer = tl_size_result_new(s, 1);
        answer->order = TL_BY_EXTREME;
        tl_size_ratio(&w, answer);
        CU_ASSERT_FATAL(answer->count == 1);
        const double found = fabs(answer->choices[0].figure[0].value - w.ratio);
        CU_ASSERT(found <= best * (1 + 1e-9) + 1e-8);
        if (found > best * (1 + 1e-9) + 1e-8)
            printf("\n  ratio %g: off by %g, %g is there\n", w.ratio, found, best);
        tl_size_result_free(answer);
    }
    tl_stock_free(&stock);
    tl_stock_free(&few);
}

CU_TestInfo divider_tests[] = {
    {"the nearest ratio is found", the_nearest_ratio_is_found},
    {"finds exactly what enumeration finds", finds_exactly_what_enumeration_finds},
    {"finds it for two parts and for drawers", finds_it_for_two_parts_and_for_drawers},
    {"agrees with the netlist", agrees_with_the_netlist},
    {"says what is wanted and what comes near", says_what_is_wanted_and_what_comes_near},
    {"refuses nonsense and the impossible", refuses_nonsense_and_the_impossible},
    CU_TEST_INFO_NULL,
};
