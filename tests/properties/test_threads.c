/* SPDX-License-Identifier: MIT */
/* Two circuits in two threads: neither knows of the other, and each says what it says alone. Run under the
 * thread sanitizer by `make check-threads`. */
#include "support.h"
#include "tinyladder/bench.h"
#include "tinyladder/design/proposals.h"
#include "tinyladder/design/rules.h"
#include "tinyladder/design/sizing.h"
#include <pthread.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

enum { TIMES = 3, SAID_LONGEST = 20000 };

typedef struct {
    const char *path;
    char said[SAID_LONGEST];
} errand;

static void say_more(errand *e, const char *text)
{
    const size_t length = strlen(e->said);
    snprintf(e->said + length, sizeof e->said - length, "%s\n", text);
}

static void say_sizes(errand *e, const tl_plan *plan)
{
    tl_stock stock = tl_stock_series(TL_E24, 10, 1e6, 0.01);
    tl_bus_requirement w = tl_bus_requirement_default();
    tl_size_result *result = tl_size_result_new(&stock, 3);
    w.rail = plan->supplies[0].volts;
    w.farads = 100e-12;
    tl_size_bus_pull(&w, result);
    for (int i = 0; i < result->note_count; i++)
        say_more(e, result->notes[i]);
    tl_size_result_free(result);
    tl_stock_free(&stock);
}

static void say_readings(errand *e, tl_circuit *circuit)
{
    tl_bench *bench = tl_bench_new(circuit, NULL, 7);
    for (int i = 0; i < tl_circuit_plan(circuit)->signal_count; i++) {
        tl_bench_reading reading;
        char text[200];
        const tl_net_status status = tl_bench_read(bench, i, &reading);
        snprintf(text, sizeof text, "%d %d %.9g", (int)status, (int)reading.status,
                 tl_bench_pin_volts(bench, i));
        say_more(e, text);
    }
    tl_bench_free(bench);
}

/* Read, elaborate, check, size, read on the bench. */
static void *run_errand(void *context)
{
    errand *e = context;
    for (int n = 0; n < TIMES; n++) {
        tl_report *report = tl_report_new();
        e->said[0] = '\0';
        tl_plan *plan = tl_plan_load(e->path, report);
        if (plan != NULL) {
            tl_circuit *circuit = tl_circuit_new(plan);
            tl_plan_check(circuit, report);
            for (int i = 0; i < tl_report_count(report); i++) {
                tl_edit edit;
                say_more(e, tl_report_finding(report, i)->cause);
                if (!tl_mend_finding(plan, report, tl_report_finding(report, i), &edit))
                    continue;
                say_more(e, edit.text);
                tl_edit_free(&edit);
            }
            say_sizes(e, plan);
            say_readings(e, circuit);
            tl_circuit_free(circuit);
        }
        tl_plan_free(plan);
        tl_report_free(report);
    }
    return NULL;
}

static void two_threads_say_what_one_says(void)
{
    static errand alone[2], together[2];
    static const char *const paths[] = {TL_SOURCE "/demo/sound/workshop-on-the-plover.plan.yaml",
                                        TL_SOURCE "/demo/faulty/pull-too-high.plan.yaml"};
    pthread_t thread[2];
    for (int i = 0; i < 2; i++) {
        alone[i].path = together[i].path = paths[i];
        (void)run_errand(&alone[i]);
        CU_ASSERT(strlen(alone[i].said) > 100 && strlen(alone[i].said) < SAID_LONGEST - 200);
    }
    for (int i = 0; i < 2; i++)
        CU_ASSERT_FATAL(pthread_create(&thread[i], NULL, run_errand, &together[i]) == 0);
    for (int i = 0; i < 2; i++)
        CU_ASSERT(pthread_join(thread[i], NULL) == 0 && strcmp(alone[i].said, together[i].said) == 0);
}

CU_TestInfo thread_tests[] = {
    {"two threads say what one says", two_threads_say_what_one_says},
    CU_TEST_INFO_NULL,
};
