/* SPDX-License-Identifier: MIT */
/* The checker on a plan of 200 signals (dividers with filter, potentiometers, buttons), all corners:
 * tl_plan_check() alone. */
#define _POSIX_C_SOURCE 199309L
#include <math.h>
#include <stdio.h>
#include <time.h>
#include <tinyladder/design/rules.h>

static double seconds(void)
{
    struct timespec now;
    clock_gettime(CLOCK_MONOTONIC, &now);
    return (double)now.tv_sec + 1e-9 * (double)now.tv_nsec;
}

int main(int argc, char **argv)
{
    tl_report *report = tl_report_new();
    tl_plan *plan = argc == 2 ? tl_plan_load(argv[1], report) : NULL;
    double quickest = INFINITY;
    if (plan == NULL)
        return 1;
    for (int run = 0; run < 10; run++) {
        tl_circuit *circuit = tl_circuit_new(plan);
        const double start = seconds();
        tl_plan_check(circuit, report);
        quickest = fmin(quickest, seconds() - start);
        tl_circuit_free(circuit);
    }
    printf("  check of %d signals, all corners %31.1f ms\n", plan->signal_count, 1e3 * quickest);
    tl_plan_free(plan);
    tl_report_free(report);
    return 0;
}
