/* SPDX-License-Identifier: MIT */
/* What is among the choices: the quickest, nothing twice, heat of the hotter part, and a resistor only where
 * one is needed. */
#include "sizing_figures.h"
#include <math.h>

/* A dwell in front of a shorter acquisition: no acquisition that could be on offer scans faster. */
static void no_acquisition_scans_faster(void)
{
    tl_stock stock = tl_stock_series(TL_E24, 10, 1e6, 0.01);
    tl_mux_requirement mux = tl_mux_requirement_default();
    mux.on_ohms = span(70, 200);
    mux.source_ohms = (tl_values){{10e3}, 1};
    mux.common_farads = 25e-12;
    mux.conversion = 2e-6;
    mux.converter = (tl_size_converter){3.3, 12, 12e-12, 1500, 1e-3, 7e-12};
    double alone = 0, free_scans = 0, best = 0;
    for (int tenth = 0; tenth <= 10; tenth++) {
        tl_size_result *m = tl_size_result_new(&stock, 5);
        mux.offered = (tl_values){{alone * tenth / 10}, tenth > 0};
        tl_size_mux(&mux, m);
        CU_ASSERT(m->count > 0 || tenth > 0); /* a very short one is never enough */
        for (int e = 0; e < m->exact_count; e++)
            alone = strcmp(m->exact[e].name, "acquisition alone") == 0 ? m->exact[e].value : alone;
        for (int c = 0; c < m->count; c++) {
            if (figure(&m->choices[c], "dwell")->value <= 0)
                continue;
            const double scans = figure(&m->choices[c], "scans a second")->value;
            *(tenth == 0 ? &free_scans : &best) = fmax(tenth == 0 ? free_scans : best, scans);
        }
        tl_size_result_free(m);
    }
    CU_ASSERT(best > 0 && free_scans >= best * (1 - 1e-9) && free_scans < 1.1 * best);
    tl_stock_free(&stock);
}

/* Two limits that nothing is measured against, and one that is. */
static void the_tightest_has_a_limit(void)
{
    double used = NAN;
    tl_choice c = {.figures = 4,
                   .figure = {{.name = "none", .value = 5, .limit = NAN},
                              {.name = "of nothing", .value = NAN, .limit = 1},
                              {.name = "below 0", .value = -2, .limit = -1, .extreme = TL_HIGHEST},
                              {.name = "half of it", .value = 2, .limit = 4, .extreme = TL_HIGHEST}}};
    const tl_size_figure *tightest = tl_choice_tightest(&c, &used);
    CU_ASSERT(tightest == &c.figure[3] && near(used, 0.5, 1e-12));
    c.figures = 3;
    CU_ASSERT(tl_choice_tightest(&c, &used) == NULL && used == 0);
}

static bool within_a_tenth(const tl_choice *a, const tl_choice *b)
{
    bool near_all = a->parts == b->parts && a->way == b->way;
    for (int i = 0; i < a->parts && near_all; i++)
        near_all = fabs(log(a->part[i].nominal / b->part[i].nominal)) < log(1.1) - 1e-9;
    return near_all;
}

/* What is offered beside the first is something else; the heat is that of the hotter leg; what is fixed may
 * be as small as one likes. */
static void dividers_are_told_apart(void)
{
    tl_stock stock = tl_stock_series(TL_E96, 100, 1e6, 0.01);
    tl_size_result *answer = tl_size_result_new(&stock, 8), *fixed = tl_size_result_new(&stock, 1);
    tl_divider_requirement w = tl_divider_requirement_default();
    w.source = span(18, 20);
    w.limit = 16;
    tl_size_divider(&w, answer);
    CU_ASSERT_FATAL(answer->count == 8);
    for (int i = 0; i < answer->count; i++) {
        const tl_choice *c = &answer->choices[i];
        const double upper = c->part[0].nominal, lower = c->part[1].nominal, amperes = 20 / (upper + lower),
                     heat = amperes * amperes * lower;
        CU_ASSERT(lower > upper && c->figure[TL_DIVIDER_POWER].value > heat &&
                  c->figure[TL_DIVIDER_POWER].value < 1.05 * heat);
        for (int k = 0; k < i; k++)
            CU_ASSERT(!within_a_tenth(c, &answer->choices[k]));
    }
    w.limit = 19.99;
    w.upper = span(0.5, 0.5);
    w.most_amperes = 1;
    tl_size_divider(&w, fixed);
    CU_ASSERT(fixed->status != TL_SIZE_NONSENSE);
    tl_size_result_free(answer);
    tl_size_result_free(fixed);
    tl_stock_free(&stock);
}

/* Between the clamps nothing needs a resistor; a little beyond either something does. */
static void clamps_begin_beyond_the_rails(void)
{
    static const struct {
        double low, high;
        tl_size_status status;
    } rows[] = {{-0.29, 3.29, TL_SIZE_IMPOSSIBLE}, {0, 3.31, TL_SIZE_DONE}, {-0.31, 3, TL_SIZE_DONE}};
    tl_stock stock = tl_stock_series(TL_E24, 10, 1e6, 0.01);
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_size_result *answer = tl_size_result_new(&stock, 1);
        tl_injection_requirement w = tl_injection_requirement_default();
        w.rail = span(3, 3.6);
        w.amperes = 1e-3;
        w.fault = span(rows[i].low, rows[i].high);
        tl_size_injection(&w, answer);
        CU_ASSERT(answer->status == rows[i].status);
        tl_size_result_free(answer);
    }
    tl_stock_free(&stock);
}

CU_TestInfo choice_tests[] = {
    {"no acquisition scans faster", no_acquisition_scans_faster},
    {"the tightest has a limit", the_tightest_has_a_limit},
    {"dividers are told apart", dividers_are_told_apart},
    {"clamps begin beyond the rails", clamps_begin_beyond_the_rails},
    CU_TEST_INFO_NULL,
};
