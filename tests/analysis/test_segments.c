/* SPDX-License-Identifier: MIT */
/* From code to value as points: every code of every table that the demo's plan needs. */
#include "support.h"
#include "tinyladder/design/measurement.h"
#include <math.h>
#include <string.h>

enum { MOST = 64 };

static void every_code_is_within_the_tolerance(void)
{
    static const struct {
        const char *signal;
        int decimals;
        double tolerance;
        long codes; /* at least, so that nothing is left out that should be there */
    } rows[] = {{"house-battery", 3, 2, 1000},      {"roof-position", 1, 1, 3800},
                {"wind-vane", 1, 1, 3800},          {"twilight", 4, 2, 3800},
                {"mirror-temperature", 2, 5, 2600}, {"heater-1", 2, 5, 2600},
                {"counterweight", 1, 1, 10000},     {"paddle-x", 1, 1, 3300}};
    tl_report *report = tl_report_new();
    tl_plan *plan = tl_plan_load(TL_SOURCE "/demo/fernhill.plan.yaml", report);
    CU_ASSERT_FATAL(plan != NULL);
    tl_circuit *circuit = tl_circuit_new(plan);
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_table_point points[MOST];
        tl_table_points made = {points, MOST, 0};
        int signal = 0;
        double shown = 0, worst = 0;
        while (strcmp(plan->signals[signal].name, rows[i].signal) != 0)
            signal++;
        const tl_net_status fault =
            tl_plan_segments(circuit, signal, rows[i].decimals, rows[i].tolerance, &made);
        const int count = made.count;
        CHECK_ROW(rows[i].signal, fault == TL_NET_SOLVED && count >= 2);
        const tl_table table = {points, (uint8_t)count, false};
        for (int32_t code = points[0].from; fault == TL_NET_SOLVED && code <= points[count - 1].from;
             code++) {
            CU_ASSERT(tl_plan_shown(circuit, signal, code, &shown) == TL_NET_SOLVED);
            double next = shown; /* half a count is allowed where that is coarser */
            if (code < points[count - 1].from)
                CU_ASSERT(tl_plan_shown(circuit, signal, code + 1, &next) == TL_NET_SOLVED);
            const double digits = pow(10, rows[i].decimals);
            worst = fmax(worst, fabs(tl_table_value(&table, code, NULL) - shown * digits) /
                                    fmax(1, fabs(next - shown) * digits / 2));
        }
        CHECK_ROW(rows[i].signal, worst <= rows[i].tolerance);
        CHECK_ROW(rows[i].signal, points[count - 1].from - points[0].from >= rows[i].codes);
        made.most = count - 1;
        if (count > 2)
            CHECK_ROW(rows[i].signal, tl_plan_segments(circuit, signal, rows[i].decimals, rows[i].tolerance,
                                                       &made) == TL_NET_TOO_WIDE);
    }
    tl_circuit_free(circuit);
    tl_plan_free(plan);
    tl_report_free(report);
}

CU_TestInfo segment_tests[] = {
    {"every code is within the tolerance", every_code_is_within_the_tolerance},
    CU_TEST_INFO_NULL,
};
