/* SPDX-License-Identifier: MIT */
/* Every request for memory fails once, in turn, while a circuit is made, checked and read: each attempt must
 * end with a status, and the next one must work. Prints how many did. */
#include "tinyladder/bench.h"
#include "tinyladder/design/memory.h"
#include "tinyladder/design/rules.h"
#include <stdio.h>

void no_memory_at(long at); /* of no_memory.c */

typedef struct {
    const tl_plan *plan;
    double volts;
} errand;

static void make_and_read(void *context)
{
    errand *e = context;
    tl_bench_reading reading;
    tl_report *report = tl_report_new();
    tl_circuit *circuit = tl_circuit_new(e->plan);
    tl_plan_check(circuit, report);
    tl_bench *bench = tl_bench_new(circuit, NULL, 1);
    (void)tl_bench_read(bench, 0, &reading);
    e->volts = tl_bench_pin_volts(bench, 0);
    tl_bench_free(bench);
    tl_circuit_free(circuit);
    tl_report_free(report);
}

int main(int argc, char **argv)
{
    tl_report *report = tl_report_new();
    tl_plan *plan = argc == 2 ? tl_plan_load(argv[1], report) : NULL;
    tl_report_free(report);
    if (plan == NULL)
        return 2;
    errand whole = {plan, 0};
    if (!tl_attempt(make_and_read, &whole))
        return 3;
    long failed = 0;
    for (bool good = false; !good; failed += !good) {
        errand e = {plan, 0};
        no_memory_at(failed + 1);
        good = tl_attempt(make_and_read, &e);
        no_memory_at(0);
        if (good && e.volts != whole.volts)
            return 4;
    }
    tl_plan_free(plan);
    printf("%ld\n", failed);
    return 0;
}
