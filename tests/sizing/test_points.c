/* SPDX-License-Identifier: MIT */
/* No random point inside the ranges and tolerances lies beyond the worst case that a sizing states. */
#include "sizing_figures.h"
#include <math.h>

/* A value that some corner or inner point gives must lie on the right side of the figure that bounds it. */
static void bounded(const char *what, const tl_choice *c, const char *name, double found)
{
    const tl_size_figure *f = figure(c, name);
    const double slack = 1e-9 * (fabs(found) + fabs(f->value));
    CHECK_ROW(what, f->extreme == TL_LOWEST ? found >= f->value - slack : found <= f->value + slack);
}

static double point(double low, double high, int n)
{
    return low + (high - low) * (n % 2 ? even_between(0, 1) : round(even_between(0, 1)));
}

static double inside(const tl_quantity *q, int n)
{
    return point(q->low, q->high, n);
}

static double of_leg(const tl_leg *leg, int n)
{
    return point(leg->low, leg->high, n);
}

enum { POINTS = 12500 }; /* eight sizings: 100 000 in all */

static void no_point_exceeds_a_partner_or_a_feed(void)
{
    tl_stock stock = tl_stock_series(TL_E24, 10, 10e6, 0.05);
    tl_size_result *a = tl_size_result_new(&stock, 1), *b = tl_size_result_new(&stock, 1);
    tl_partner_requirement p = tl_partner_requirement_default();
    p.sensor = span(1e3, 50e3);
    p.rail = logic;
    tl_size_partner(&p, a);
    tl_feed_requirement f = tl_feed_requirement_default();
    f.track = span(8e3, 12e3);
    f.rail = span(4.75, 5.25);
    f.tracks = 2;
    f.limit = 3.2;
    tl_size_feed(&f, b);
    CU_ASSERT_FATAL(a->count == 1 && b->count == 1);
    for (int n = 0; n < POINTS; n++) {
        const double r = inside(&p.sensor, n), rp = of_leg(&a->choices[0].part[0], n), v = inside(&p.rail, n);
        bounded("partner tap", &a->choices[0], "tap, highest", v * rp / (r + rp));
        bounded("partner tap", &a->choices[0], "tap, lowest", v * rp / (r + rp));
        bounded("partner current", &a->choices[0], "current", v / (r + rp));
        bounded("partner ohms", &a->choices[0], "source resistance", r * rp / (r + rp));
        bounded("sensor heat", &a->choices[0], "heat in sensor", v * v * r / (r + rp) / (r + rp));
        /* Two tracks, wipers anywhere: solved from the top node down. */
        const double t1 = inside(&f.track, n), t2 = inside(&f.track, n + 1),
                     rf = of_leg(&b->choices[0].part[0], n), vf = inside(&f.rail, n), x = even_between(0, 1);
        const double both = t1 * t2 / (t1 + t2), above = (1 - x) * t1 + rf * t2 / (rf + t2), below = x * t1;
        bounded("feed top", &b->choices[0], "top, highest", vf * both / (both + rf));
        bounded("feed top", &b->choices[0], "top, lowest", vf * both / (both + rf));
        bounded("feed current", &b->choices[0], "current", vf / (both + rf));
        bounded("wiper ohms", &b->choices[0], "source resistance", above * below / (above + below));
        bounded("feed power", &b->choices[0], "feed power", vf * vf * rf / (both + rf) / (both + rf));
    }
    tl_size_result_free(a);
    tl_size_result_free(b);
    tl_stock_free(&stock);
}

static void no_point_exceeds_a_pull_a_lamp_or_a_loop(void)
{
    tl_stock stock = tl_stock_series(TL_E24, 10, 10e6, 0.05);
    tl_size_result *up = tl_size_result_new(&stock, 1), *down = tl_size_result_new(&stock, 1),
                   *lamp = tl_size_result_new(&stock, 1), *loop = tl_size_result_new(&stock, 1);
    tl_pull_requirement u = tl_pull_requirement_default(), d;
    u.rail = logic;
    u.closed = (tl_quantity){0, 50, 100, true};
    u.farads = 1e-9;
    u.longest_edge = 1e-3;
    u.guard = 10e3;
    d = u;
    d.down = 1;
    tl_size_pull(&u, up);
    tl_size_pull(&d, down);
    tl_lamp_requirement l = tl_lamp_requirement_default();
    l.supply = logic;
    l.forward = span(1.9, 2.2);
    l.amperes = 4e-3;
    l.most_drop = 0.4;
    tl_size_lamp(&l, lamp);
    tl_loop_requirement o = tl_loop_requirement_default();
    o.limit = 3.5;
    o.supply = span(22, 26);
    tl_size_loop(&o, loop);
    CU_ASSERT_FATAL(up->count == 1 && down->count == 1 && lamp->count == 1 && loop->count == 1);
    for (int n = 0; n < POINTS; n++) {
        const double v = inside(&logic, n), r = of_leg(&up->choices[0].part[0], n), rc = point(0, 100, n),
                     i = point(0, u.leakage, n);
        /* At the figure's own rail corner the level is compared with that corner's threshold. */
        const tl_size_figure *idle = figure(&up->choices[0], "idle level"),
                             *closed = figure(&up->choices[0], "closed level");
        CU_ASSERT(v - (r + u.guard) * i - 0.7 * v >= idle->value - idle->limit - 1e-9);
        CU_ASSERT(0.3 * v - v * rc / (r + rc) - i * (r * rc / (r + rc) + u.guard) >=
                  closed->limit - closed->value - 1e-9);
        bounded("pull current", &up->choices[0], "current, closed", v / (r + rc));
        bounded("rise", &up->choices[0], "rises back in",
                r * u.farads * log((v - r * i - 0) / (v - r * i - 0.7 * v)));
        const double rd = of_leg(&down->choices[0].part[0], n);
        bounded("fall", &down->choices[0], "falls back in",
                rd * u.farads * log((v - rd * i) / (0.3 * v - rd * i)));
        const double rs = of_leg(&lamp->choices[0].part[0], n), vf = inside(&l.forward, n),
                     drop = point(0, 0.4, n), amperes = (v - vf - drop) / rs;
        bounded("lamp", &lamp->choices[0], "current, most", amperes);
        bounded("lamp", &lamp->choices[0], "current, least", amperes);
        bounded("lamp power", &lamp->choices[0], "power", amperes * amperes * rs);
        const double load = of_leg(&loop->choices[0].part[0], n);
        bounded("loop", &loop->choices[0], "at 4 mA", 0.004 * load);
        bounded("loop", &loop->choices[0], "at the most", 0.025 * load);
        bounded("loop", &loop->choices[0], "left for the loop", inside(&o.supply, n) - 0.020 * load);
    }
    tl_size_result_free(up);
    tl_size_result_free(down);
    tl_size_result_free(lamp);
    tl_size_result_free(loop);
    tl_stock_free(&stock);
}

/* Levels of a ladder, any corner, any contact, any converter error: inside the interval that its choice
 * prints. */
/* What first looks like no corner of its own: a contact's wetting current, a meter in a loop, heat that peaks
 * inside a tolerance, a base that takes less, leakage out of a pin at 0 V. */
static void no_point_exceeds_what_is_easily_forgotten(void)
{
    tl_stock stock = tl_stock_series(TL_E24, 10, 1e6, 0.05);
    tl_size_result *pull = tl_size_result_new(&stock, 1), *loop = tl_size_result_new(&stock, 1),
                   *feed = tl_size_result_new(&stock, 1), *driver = tl_size_result_new(&stock, 1),
                   *divider = tl_size_result_new(&stock, 1);
    tl_pull_requirement p = tl_pull_requirement_default();
    p.rail = span(4.5, 5.5);
    p.closed = (tl_quantity){0, 50, 100, true};
    p.wetting = 0.5e-3;
    tl_size_pull(&p, pull);
    tl_loop_requirement l = tl_loop_requirement_default();
    l.limit = 3.3;
    l.supply = span(20, 28);
    l.meter_ohms = 100;
    l.wire_ohms = 30;
    tl_size_loop(&l, loop);
    tl_feed_requirement f = tl_feed_requirement_default();
    f.track = span(10e3, 10e3); /* the 10 kohm that fits best lies on both sides of it */
    f.rail = span(5, 5);
    f.limit = 2.6;
    feed->order = TL_BY_EXTREME;
    tl_size_feed(&f, feed);
    tl_driver_requirement d = tl_driver_requirement_default();
    d.supply = span(12, 12);
    d.load = span(240, 240);
    d.high = span(2.9, 3.4);
    d.pin_amperes = 20e-3;
    tl_size_driver(&d, driver);
    tl_divider_requirement v = tl_divider_requirement_default();
    v.source = span(0, 12);
    v.limit = 3.3;
    v.leakage = 1e-5;
    tl_size_divider(&v, divider);
    CU_ASSERT_FATAL(pull->count == 1 && loop->count == 1 && feed->count == 1 && driver->count == 1 &&
                    divider->count == 1);
    CU_ASSERT(feed->choices[0].part[0].low < 10e3 && feed->choices[0].part[0].high > 10e3);
    for (int n = 0; n < POINTS; n++) {
        const double r = of_leg(&pull->choices[0].part[0], n), load = of_leg(&loop->choices[0].part[0], n),
                     rf = of_leg(&feed->choices[0].part[0], n), rb = of_leg(&driver->choices[0].part[0], n),
                     upper = of_leg(&divider->choices[0].part[0], n),
                     lower = of_leg(&divider->choices[0].part[1], n + 1);
        bounded("wetting", &pull->choices[0], "wetting current",
                inside(&p.rail, n + 1) / (r + point(0, p.closed.high, n)));
        bounded("loop", &loop->choices[0], "left for the loop",
                inside(&l.supply, n + 1) - 0.020 * (load + l.meter_ohms + l.wire_ohms));
        bounded("feed", &feed->choices[0], "feed power", 25 * rf / (10e3 + rf) / (10e3 + rf));
        bounded("base", &driver->choices[0], "pin current, most",
                (inside(&d.high, n + 1) - point(0.65, 0.9, n)) / rb);
        bounded("base", &driver->choices[0], "base current, least",
                (inside(&d.high, n + 1) - point(0.65, 0.9, n)) / rb);
        bounded("divider", &divider->choices[0], "tap, lowest",
                (point(0, 12, n) - v.leakage * upper) * lower / (upper + lower));
    }
    CU_ASSERT(near(figure(&pull->choices[0], "wetting current")->value,
                   4.5 / (pull->choices[0].part[0].high + 100), 1e-9));
    tl_size_result_free(pull);
    tl_size_result_free(loop);
    tl_size_result_free(feed);
    tl_size_result_free(driver);
    tl_size_result_free(divider);
    tl_stock_free(&stock);
}

static void no_point_leaves_its_ladder_interval(void)
{
    tl_stock stock = tl_stock_series(TL_E24, 10, 1e6, 0.05);
    for (int star = 0; star < 2; star++) {
        tl_ladder_requirement w = tl_ladder_requirement_default();
        w.buttons = 5;
        w.star = star;
        w.contact_ohms = 50;
        tl_size_result *answer = tl_size_result_new(&stock, 1);
        tl_size_ladder(&w, answer);
        CU_ASSERT_FATAL(answer->count == 1);
        const tl_choice *c = &answer->choices[0];
        double low[6] = {1e9, 1e9, 1e9, 1e9, 1e9, 4091}, high[6] = {0};
        for (int n = 0; n < POINTS; n++) {
            const double pull = of_leg(&c->part[0], n), contact = point(0, 50, n);
            double sum = 0;
            for (int i = 0; i < 5; i++) {
                const double own = of_leg(&c->part[1 + i], n + i);
                sum = star != 0 ? own : sum + own;
                const double counts =
                    4096 * (sum + contact) / (pull + sum + contact) + point(-4.5, 4.5, n + 1);
                low[i] = fmin(low[i], counts);
                high[i] = fmax(high[i], counts);
            }
        }
        for (int i = 0; i < 5; i++)
            CU_ASSERT(low[i + 1] - high[i] >= figure(c, "least apart")->value - 1e-9);
        tl_size_result_free(answer);
    }
    tl_stock_free(&stock);
}

CU_TestInfo point_tests[] = {
    {"no point exceeds a partner or a feed", no_point_exceeds_a_partner_or_a_feed},
    {"no point exceeds a pull, a lamp or a loop", no_point_exceeds_a_pull_a_lamp_or_a_loop},
    {"no point exceeds what is easily forgotten", no_point_exceeds_what_is_easily_forgotten},
    {"no point leaves its ladder interval", no_point_leaves_its_ladder_interval},
    CU_TEST_INFO_NULL,
};
