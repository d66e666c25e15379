/* SPDX-License-Identifier: MIT */
/* Every other sizing: published values, what is worked out by hand, impossible requirements, nonsense. */
#include "sizing_figures.h"
#include <math.h>
#include <string.h>

/* For three buttons every choice of values can be tried: the search must find the largest distance. */
static void a_ladder_is_the_best_there_is(void)
{
    tl_stock stock = tl_stock_series(TL_E6, 100, 1e6, 0.05);
    tl_ladder_requirement w = tl_ladder_requirement_default();
    tl_size_result *answer = tl_size_result_new(&stock, 1);
    double best = 0;
    w.buttons = 3;
    tl_size_ladder(&w, answer);
    for (int p = 0; p < stock.count; p++) {
        if (stock.parts[p].value < w.pull / 3 || stock.parts[p].value > w.pull * 3)
            continue;
        for (int i = 0; i < stock.count; i++) {
            for (int j = 0; j < stock.count; j++) {
                const double pull = stock.parts[p].value, s1 = stock.parts[i].value,
                             s2 = s1 + stock.parts[j].value;
                const double low1 = 4096 * s1 * 0.95 / (s1 * 0.95 + pull * 1.05) - 4.5,
                             high1 = 4096 * s1 * 1.05 / (s1 * 1.05 + pull * 0.95) + 4.5;
                const double low2 = 4096 * s2 * 0.95 / (s2 * 0.95 + pull * 1.05) - 4.5,
                             high2 = 4096 * s2 * 1.05 / (s2 * 1.05 + pull * 0.95) + 4.5;
                best = fmax(best, fmin(fmin(low1 - 4.5, low2 - high1), 4091 - high2));
            }
        }
    }
    CU_ASSERT(answer->count == 1 && near(figure(&answer->choices[0], "least apart")->value, best, 1e-9));
    tl_size_result_free(answer);
    tl_stock_free(&stock);
}

static void bus_pulls_are_as_published(void)
{
    static const struct {
        const char *name;
        tl_bus_mode mode;
        double low, high, farads, least, most;
        bool possible;
    } rows[] = {
        {"fast, 3.3 V, 200 pF", TL_BUS_FAST, 3.3, 3.3, 200e-12, 966.7, 1770.3, true},
        {"standard, 5 V, 400 pF", TL_BUS_STANDARD, 5, 5, 400e-12, 1533.3, 2950.5, true},
        {"fast, 1.8 V", TL_BUS_FAST, 1.8, 1.8, 100e-12, 720, 3540.7, true},
        {"a rail across the step at 2 V", TL_BUS_FAST, 1.8, 2.2, 100e-12, 800, 3540.7, true},
        {"fast-plus, 3.3 V, 400 pF", TL_BUS_FAST_PLUS, 3.3, 3.3, 400e-12, 145, 354.1, true},
        {"standard at 2 V has no level", TL_BUS_STANDARD, 2, 2, 100e-12, 0, 0, false},
        {"too much capacitance", TL_BUS_FAST, 3.3, 3.3, 401e-12, 0, 0, false},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        const tl_bus_requirement w = {rows[i].mode, span(rows[i].low, rows[i].high), rows[i].farads};
        double least = 0, most = 0;
        char why[240];
        CHECK_ROW(rows[i].name, tl_bus_limits(&w, &least, &most, why) == rows[i].possible);
        CHECK_ROW(rows[i].name, near(least, rows[i].least, 1e-4) && near(most, rows[i].most, 1e-4));
    }
    tl_stock stock = tl_stock_series(TL_E24, 10, 1e6, 0.01);
    tl_size_result *answer = tl_size_result_new(&stock, 5);
    const tl_bus_requirement crossing = {TL_BUS_FAST, span(5, 5),
                                         400e-12}; /* 1533 ohm at least, 885 at most */
    tl_size_bus_pull(&crossing, answer);
    CU_ASSERT(answer->status == TL_SIZE_IMPOSSIBLE &&
              strstr(answer->refusal, "reduce the capacitance") != NULL);
    tl_size_result_free(answer);
    tl_stock_free(&stock);
}

static void sizes_are_those_worked_out_by_hand(void)
{
    tl_stock stock = tl_stock_series(TL_E24, 10, 10e6, 0);
    tl_size_result *a[6];
    for (int i = 0; i < 6; i++) {
        a[i] = tl_size_result_new(&stock, 3);
        a[i]->order = TL_BY_EXTREME;
    }
    tl_partner_requirement p = tl_partner_requirement_default();
    p.sensor = span(1e3, 100e3);
    p.rail = logic;
    tl_size_partner(&p, a[0]); /* sqrt(1k * 100k) = 10k */
    CU_ASSERT(a[0]->choices[0].part[0].nominal == 10e3);
    tl_guard_requirement g = tl_guard_requirement_default();
    g.rail = span(5, 5);
    g.pin_amperes = 10e-3;
    tl_size_guard(&g, a[1]); /* 5 V / 10 mA = 500, the next is 510 */
    CU_ASSERT(a[1]->choices[0].part[0].nominal == 510);
    tl_injection_requirement j = tl_injection_requirement_default();
    j.fault = span(-12, 24);
    j.rail = span(3, 3.6);
    j.amperes = 1e-3;
    tl_size_injection(&j, a[2]); /* (24 - 3.3) / 1 mA = 20.7k; below ground 11.7k would do */
    CU_ASSERT(a[2]->choices[0].part[0].nominal == 22e3);
    j.unpowered = 1; /* 23.7k */
    tl_size_injection(&j, a[3]);
    CU_ASSERT(a[3]->choices[0].part[0].nominal == 24e3);
    tl_reservoir_requirement r = tl_reservoir_requirement_default();
    r.source_ohms = 10e3;
    r.rate = 1;
    r.capacitor_tolerance = 0;
    r.converter.sample_farads = 12e-12; /* 12 pF * 8191 = 98.3 nF */
    tl_size_reservoir(&r, a[4]);
    CU_ASSERT(a[4]->choices[0].part[0].nominal == 100e-9);
    r.rate = 1e6; /* 10k * 12p * 1M = 12 % of the difference, for ever */
    tl_size_reservoir(&r, a[5]);
    CU_ASSERT(a[5]->status == TL_SIZE_IMPOSSIBLE && strstr(a[5]->refusal, "at most 1.017 kHz") != NULL);
    const tl_size_converter published = {3, 12, 8e-12, 1e3, 792.96e-9, 0}; /* half an LSB behind 10 kohm */
    CU_ASSERT(near(tl_converter_longest_ohms(&published), 10e3, 1e-4));
    for (int i = 0; i < 6; i++)
        tl_size_result_free(a[i]);
    tl_stock_free(&stock);
}

/* The way that is found first, and why each cheaper one is not it. */
static void shifts_take_the_cheapest_way(void)
{
    static const struct {
        const char *name;
        double from, to, rate, injection;
        int both, drain, invert;
        const char *first;
    } rows[] = {
        {"3.3 V into 3.3 V", 3.3, 3.3, 1e6, 0, 0, 0, 0, "none needed"},
        {"5 V down", 5, 3.3, 1e5, 0, 0, 0, 0, "divider"},
        {"5 V down, the clamp may carry it", 5, 3.3, 1e5, 1e-3, 0, 0, 0, "series resistor into the clamp"},
        {"5 V down, too quick for resistors", 5, 3.3, 50e6, 0, 0, 0, 0, "buffer"},
        {"3.3 V up", 3.3, 5, 1e5, 0, 0, 0, 0, "N-channel transistor a line"},
        {"3.3 V up, inverted will do", 3.3, 5, 1e5, 0, 0, 0, 1, "transistor to ground, inverting"},
        {"open drain up", 3.3, 5, 1e5, 0, 0, 1, 0, "open drain and pull"},
        {"both ways", 3.3, 5, 1e5, 0, 1, 0, 0, "N-channel transistor a line"},
        {"1.8 V both ways: the channel does not open", 1.8, 5, 1e5, 0, 1, 0, 0, "buffer"},
    };
    tl_stock stock = tl_stock_series(TL_E24, 100, 1e6, 0.01);
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_shift_requirement w = tl_shift_requirement_default();
        w.from = span(rows[i].from, rows[i].from);
        w.to = span(rows[i].to, rows[i].to);
        w.bits_per_second = rows[i].rate;
        w.injection = rows[i].injection;
        w.both_ways = rows[i].both;
        w.open_drain = rows[i].drain;
        w.may_invert = rows[i].invert;
        tl_size_result *answer = tl_size_result_new(&stock, 10);
        tl_size_shift(&w, answer);
        CHECK_ROW(rows[i].name, rows[i].first == NULL ? answer->count == 0
                                                      : answer->count > 0 && strcmp(answer->choices[0].way,
                                                                                    rows[i].first) == 0);
        /* Every way is answered for; one that goes one way and is driven has a buffer with two supplies, too.
         */
        CHECK_ROW(rows[i].name,
                  answer->count + answer->rejected_count == (rows[i].both || rows[i].drain ? 8 : 9));
        tl_size_result_free(answer);
    }
    tl_stock_free(&stock);
}

static void drivers_followers_and_filters_say_why(void)
{
    tl_stock stock = tl_stock_series(TL_E24, 10, 1e6, 0.01);
    tl_size_result *d = tl_size_result_new(&stock, 5), *f = tl_size_result_new(&stock, 5),
                   *g = tl_size_result_new(&stock, 5), *m = tl_size_result_new(&stock, 5);
    d->order = TL_BY_EXTREME;
    tl_driver_requirement relay = tl_driver_requirement_default();
    relay.supply = span(12, 12);
    relay.load = span(120, 120); /* 100 mA: 5 mA into the base at a forced gain of 20 */
    relay.henries = 0.1;
    relay.high = span(2.9, 3.3);
    relay.pin_amperes = 8e-3;
    relay.on_ohms = 0.5;
    tl_size_driver(&relay, d);
    CU_ASSERT(d->count == 4 && strcmp(d->choices[0].way, "bipolar transistor") == 0 &&
              d->choices[0].part[0].nominal == 390); /* (2.9 - 0.9) / 5 mA = 400 */
    CU_ASSERT(near(figure(&d->choices[0], "diode carries")->value, 0.1, 1e-12) &&
              strstr(d->rejected[0].why, "coil") != NULL);
    tl_follower_requirement weak = tl_follower_requirement_default();
    weak.source = span(0.1, 3);
    weak.source_ohms = 1e6;
    weak.supply = span(4.75, 5.25);
    weak.out_high = weak.in_high = 1.2;
    weak.bias = 1e-9;
    weak.limit = 3.5;
    tl_size_follower(&weak, f);
    CU_ASSERT(f->count == 5 &&
              strcmp(f->choices[0].way, "follower and divider") == 0); /* 5.25 V - 1.2 V can be on the pin */
    CU_ASSERT(near(figure(&f->choices[0], "bias and offset cost")->value, 1e-3, 1e-12));
    tl_filter_requirement rc = tl_filter_requirement_default();
    rc.keep = 1;
    rc.reject = 50;
    tl_size_filter(&rc, g);
    CU_ASSERT(g->count == 5 && figure(&g->choices[0], "kept")->value >= 89.1 &&
              figure(&g->choices[0], "falls by")->value >= 10);
    tl_mux_requirement mux = tl_mux_requirement_default();
    mux.on_ohms = span(70, 200);
    mux.source_ohms = (tl_values){{10e3}, 1};
    mux.common_farads = 25e-12;
    mux.off_leakage = 10e-9;
    mux.converter = (tl_size_converter){3.3, 12, 12e-12, 1500, 30e-6, 0};
    tl_size_mux(&mux, m);
    CU_ASSERT(m->count >= 1 && near(figure(&m->choices[0], "leakage costs")->value, 7 * 10e-9 * 10200, 1e-9));
    /* Exact, so below the safe closed form, and above what either capacitor alone would need. */
    const double needs = figure(&m->choices[0], "acquisition")->value, ln = log(8192);
    CU_ASSERT(needs < (10200 * 37e-12 + 1500 * 12e-12) * ln && needs > 10200 * 25e-12 * ln);
    tl_size_result_free(d);
    tl_size_result_free(f);
    tl_size_result_free(g);
    tl_size_result_free(m);
    tl_stock_free(&stock);
}

/* Both legs drift apart, and a calibration has taken all else: (l - d) / (l - d + u + d). */
static void a_calibrated_ratio_only_drifts(void)
{
    tl_stock stock = tl_stock_series(TL_E24, 10, 1e6, 0.01);
    tl_size_result *r = tl_size_result_new(&stock, 1), *d = tl_size_result_new(&stock, 1);
    tl_ratio_requirement ratio = tl_ratio_requirement_default();
    tl_divider_requirement divider = tl_divider_requirement_default();
    ratio.ratio = 12.0 / 59;
    ratio.sum = span(58e3, 60e3);
    divider.source = span(0, 10);
    divider.limit = 3;
    ratio.drift = divider.drift = 100e-6;
    ratio.away = divider.away = 40;
    tl_size_ratio(&ratio, r);
    tl_size_divider(&divider, d);
    const double u = 47, l = 12, nominal = l / (u + l), by = 0.004;
    const double least = l * (1 - by) / (l * (1 - by) + u * (1 + by)),
                 most = l * (1 + by) / (l * (1 + by) + u * (1 - by));
    CU_ASSERT(near(figure(&r->choices[0], "calibrated, lowest")->value, 100 * (least / nominal - 1), 1e-9));
    CU_ASSERT(near(figure(&r->choices[0], "calibrated, highest")->value, 100 * (most / nominal - 1), 1e-9));
    const tl_leg *upper = &d->choices[0].part[0], *lower = &d->choices[0].part[1];
    const double share = lower->nominal / (lower->nominal + upper->nominal);
    CU_ASSERT(near(figure(&d->choices[0], "error now")->value,
                   100 * (lower->high / (lower->high + upper->low) / share - 1), 1e-9));
    CU_ASSERT(near(
        figure(&d->choices[0], "calibrated")->value,
        100 *
            (lower->nominal * (1 + by) / (lower->nominal * (1 + by) + upper->nominal * (1 - by)) / share - 1),
        1e-9));
    tl_size_result_free(r);
    tl_size_result_free(d);
    tl_stock_free(&stock);
}

/* A tree by small steps, each line through its switch: all lines and the sampling capacitor start at 1, the
 * source rests at 0. */
static double left_in_tree(double ohms, int levels, double acquisition)
{
    const double on = 200, line = 25e-12, pin = 7e-12, cs = 12e-12, rs = 1500;
    const int steps = 40000;
    const double dt = acquisition / steps;
    double volts[4] = {1, 1, 1, 1};
    for (int i = 0; i < steps; i++) {
        double amperes[5] = {-volts[0] / (ohms + on)};
        for (int level = 1; level < levels; level++)
            amperes[level] = (volts[level - 1] - volts[level]) / on;
        amperes[levels] = (volts[levels - 1] - volts[levels]) / rs;
        for (int level = 0; level < levels; level++)
            volts[level] +=
                dt * (amperes[level] - amperes[level + 1]) / (line + (level == levels - 1 ? pin : 0));
        volts[levels] += dt * amperes[levels] / cs;
    }
    return volts[levels];
}

/* Trees of parts, and inputs that are not alike: parts, leakage and scans by hand; the rest by small
 * steps. */
static void trees_are_those_worked_out_by_hand(void)
{
    static const struct {
        double used;
        int levels;
        double parts, lines;
        double ohms[2];
    } rows[] = {
        {8, 1, 1, 3, {10e3, 10e3}},
        {9, 2, 3, 6, {10e3, 47e3}},
        {64, 2, 9, 6, {1e3, 22e3}},
        {65, 3, 12, 9, {4.7e3, 1e3}},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_stock stock = tl_stock_series(TL_E24, 10, 1e6, 0.01);
        tl_size_result *m = tl_size_result_new(&stock, 5);
        tl_mux_requirement mux = tl_mux_requirement_default();
        mux.used = rows[i].used;
        mux.on_ohms = span(70, 200);
        mux.source_ohms = (tl_values){{rows[i].ohms[0], rows[i].ohms[1]}, 2};
        mux.common_farads = 25e-12;
        mux.off_leakage = 10e-9;
        mux.pin_leakage = 50e-9;
        mux.conversion = 2e-6;
        mux.converter = (tl_size_converter){3.3, 12, 12e-12, 1500, 1e-3, 7e-12};
        tl_size_mux(&mux, m);
        const double worst = fmax(rows[i].ohms[0], rows[i].ohms[1]),
                     best = fmin(rows[i].ohms[0], rows[i].ohms[1]);
        double leaks = 50e-9 * (worst + 200 * rows[i].levels);
        for (int level = 1; level <= rows[i].levels; level++)
            leaks += 7 * 10e-9 * (worst + 200 * level);
        const tl_choice *alone = NULL;
        for (int c = 0; c < m->count; c++) {
            if (strcmp(m->choices[c].way, "acquisition alone") == 0)
                alone = &m->choices[c];
        }
        CU_ASSERT_FATAL(alone != NULL);
        const double acquisition = figure(alone, "acquisition")->value;
        CU_ASSERT(near(figure(alone, "leakage costs")->value, leaks, 1e-9));
        CU_ASSERT(near(figure(alone, "of it in counts")->value, 4096 * leaks / 3.3, 1e-9));
        CU_ASSERT(near(4096 * left_in_tree(worst, rows[i].levels, acquisition), 0.5, 5e-3));
        /* One of them has the better source, all the others the worse. */
        const double others = rows[i].used - 1 - (best == worst);
        double quick = acquisition;
        while (best < worst && 4096 * left_in_tree(best, rows[i].levels, quick) < 0.5)
            quick *= 0.99;
        CU_ASSERT(near(1 / figure(alone, "scans a second")->value,
                       (others + (best == worst)) * (acquisition + 2e-6) + quick + 2e-6, 2e-3));
        double exact[2] = {0, 0};
        for (int e = 0; e < m->exact_count; e++) {
            exact[0] = strcmp(m->exact[e].name, "parts") == 0 ? m->exact[e].value : exact[0];
            exact[1] = strcmp(m->exact[e].name, "select lines") == 0 ? m->exact[e].value : exact[1];
        }
        CU_ASSERT(exact[0] == rows[i].parts && exact[1] == rows[i].lines);
        tl_size_result_free(m);
        tl_stock_free(&stock);
    }
}

static void colour_bands_are_those_of_the_standard(void)
{
    static const struct {
        double ohms, tolerance;
        const char *bands;
    } rows[] = {
        {4700, 0.05, "yellow violet red gold "},
        {4700, 0.01, "yellow violet black brown brown "},
        {10, 0.1, "brown black black silver "},
        {2.2, 0.05, "red red gold gold "},
        {0.47, 0.05, "yellow violet silver gold "},
        {0.047, 0.05, "yellow violet pink gold "},
        {1e6, 0.02, "brown black black yellow red "},
        {52.3e3, 0.001, "green red orange red violet "},
        {47e3, 0.2, "yellow violet orange "},
        {1.234e3, 0.01, ""},
        {0, 0.01, ""},
        {9.1e9, 0.005, "white brown black violet "},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        const char *bands[TL_BANDS_MOST];
        char text[100] = "";
        const int count = tl_colour_bands(rows[i].ohms, rows[i].tolerance, bands);
        for (int b = 0; b < count; b++) {
            strcat(text, bands[b]);
            strcat(text, " ");
        }
        CHECK_ROW(rows[i].bands, strncmp(text, rows[i].bands, strlen(rows[i].bands)) == 0 &&
                                     (rows[i].bands[0] != '\0' || count == 0));
    }
}

static void a_stock_counts_what_is_taken(void)
{
    tl_stock stock = {0};
    tl_stock_add(&stock, (tl_stock_part){4700, 0.01, 0.25, 2, 0, false});
    tl_stock_add(&stock, (tl_stock_part){1000, 0.01, 0.25, -1, 0, false});
    tl_stock_add(&stock, (tl_stock_part){4700, 0.01, 0.25, 1, 0, false});
    CU_ASSERT(stock.count == 2 && stock.parts[0].value == 1000 && stock.parts[1].count == 3);
    CU_ASSERT(tl_stock_take(&stock, 4700) && tl_stock_take(&stock, 4700) && tl_stock_take(&stock, 4700));
    CU_ASSERT(stock.count == 1 && !tl_stock_take(&stock, 4700) && tl_stock_take(&stock, 1000) &&
              stock.count == 1);
    tl_stock_free(&stock);
}

/* What the plan has already costs 0.01 less, the last of a value 0.05 more, whatever else it costs. A divider
 * whose two values are there costs 0.02 less. */
static void a_stock_is_weighed(void)
{
    static const struct {
        const char *name;
        bool used;
        int count;
        double more;
    } rows[] = {{"plenty", false, -1, 0},
                {"two of them", false, 2, 0},
                {"the last", false, 1, 0.05},
                {"in the plan", true, 5, -0.01},
                {"the last, in its place", true, 1, -0.01}};
    for (size_t i = 0; i < ROWS(rows); i++) {
        double cost[2];
        for (int own = 0; own < 2; own++) {
            tl_stock stock = {0};
            tl_stock_add(&stock, (tl_stock_part){12e3, 0.01, INFINITY, own ? rows[i].count : -1, 0,
                                                 own && rows[i].used});
            tl_pull_requirement w = tl_pull_requirement_default();
            w.rail = (tl_quantity){3.2, 3.3, 3.4, true};
            tl_size_result *answer = tl_size_result_new(&stock, 3);
            tl_size_pull(&w, answer);
            CU_ASSERT_FATAL(answer->count == 1);
            cost[own] = answer->choices[0].cost;
            tl_size_result_free(answer);
            tl_stock_free(&stock);
        }
        CHECK_ROW(rows[i].name, fabs(cost[1] - cost[0] - rows[i].more) < 1e-12);
    }
    tl_stock stock = tl_stock_series(TL_E24, 1e3, 1e6, 0.01);
    tl_divider_requirement w = tl_divider_requirement_default();
    w.source = (tl_quantity){10.5, 12.6, 14.8, true};
    w.limit = 3.2;
    tl_size_result *all = tl_size_result_new(&stock, 50);
    tl_size_divider(&w, all);
    CU_ASSERT_FATAL(all->count == 50);
    for (int i = 10; i < 50; i += 13) { /* each in turn */
        const tl_choice *c = &all->choices[i];
        for (int k = 0; k < stock.count; k++)
            stock.parts[k].used = k == c->part[0].first || k == c->part[1].first;
        tl_size_result *one = tl_size_result_new(&stock, 50);
        tl_size_divider(&w, one);
        bool found = false;
        for (int k = 0; k < one->count && !found; k++)
            found = one->choices[k].part[0].nominal == c->part[0].nominal &&
                    one->choices[k].part[1].nominal == c->part[1].nominal &&
                    fabs(one->choices[k].cost - c->cost + 0.02) < 1e-12;
        CU_ASSERT(found);
        tl_size_result_free(one);
    }
    tl_size_result_free(all);
    tl_stock_free(&stock);
}

CU_TestInfo sizing_tests[] = {
    {"a stock is weighed", a_stock_is_weighed},
    {"a ladder is the best there is", a_ladder_is_the_best_there_is},
    {"bus pulls are as published", bus_pulls_are_as_published},
    {"sizes are those worked out by hand", sizes_are_those_worked_out_by_hand},
    {"shifts take the cheapest way", shifts_take_the_cheapest_way},
    {"drivers, followers and filters say why", drivers_followers_and_filters_say_why},
    {"a calibrated ratio only drifts", a_calibrated_ratio_only_drifts},
    {"trees are those worked out by hand", trees_are_those_worked_out_by_hand},
    {"colour bands are those of the standard", colour_bands_are_those_of_the_standard},
    {"a stock counts what is taken", a_stock_counts_what_is_taken},
    CU_TEST_INFO_NULL,
};
