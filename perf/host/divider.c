/* SPDX-License-Identifier: MIT */
/*
 * The best network of up to two resistors in each leg, E96 over six decades: the search, and plain
 * enumeration timed on a smaller set and extrapolated to the same number of pairs.
 */
#define _POSIX_C_SOURCE 199309L
#include <math.h>
#include <stdio.h>
#include <time.h>
#include <tinyladder/design/sizing.h>

static double seconds(void)
{
    struct timespec now;
    clock_gettime(CLOCK_MONOTONIC, &now);
    return (double)now.tv_sec + 1e-9 * (double)now.tv_nsec;
}

static double parallel(double a, double b)
{
    return a * b / (a + b);
}

/* The leanest enumeration one would write: tap and source resistance of every pair, the best kept. */
static double enumerate(const double *legs, size_t count, double volts, double limit, double most_ohms)
{
    double best = 0;
    for (size_t l = 0; l < count; l++) {
        for (size_t u = 0; u < count; u++) {
            const double tap = volts * legs[l] / (legs[u] + legs[l]);
            if (tap <= limit && tap > best && parallel(legs[u], legs[l]) <= most_ohms)
                best = tap;
        }
    }
    return best;
}

int main(void)
{
    tl_stock stock = tl_stock_series(TL_E96, 10, 10e6, 0.01);
    tl_divider_requirement requirement = tl_divider_requirement_default();
    requirement.source = (tl_quantity){10.5, 12.65, 14.8, true};
    requirement.limit = 3.2;
    requirement.most_tap_ohms = 10e3;
    requirement.parts = 2;
    requirement.order = TL_ORDER_SHARE;
    double quickest = INFINITY;
    for (int run = 0; run < 5; run++) {
        tl_size_result *answer = tl_size_result_new(&stock, 5);
        const double start = seconds();
        tl_size_divider(&requirement, answer);
        quickest = fmin(quickest, seconds() - start);
        tl_size_result_free(answer);
    }
    static double legs[6000];
    size_t count = 0;
    for (int i = 0; i < stock.count && count < 6000; i += 9)
        for (int j = i; j < stock.count && count < 6000; j += 9)
            legs[count++] = stock.parts[i].value + stock.parts[j].value;
    const double start = seconds();
    volatile double best = enumerate(legs, count, 14.8, 3.2, 10e3);
    const double a_pair = (seconds() - start) / ((double)count * (double)count);
    (void)best;
    const double all = (double)stock.count + (double)stock.count * (stock.count + 1);
    printf("  exact search over %.3g pairs of legs %26.1f ms\n", all * all, 1e3 * quickest);
    printf("  plain enumeration, %.2f ns a pair, extrapolated %16.0f s, %.0f times as long\n", 1e9 * a_pair,
           a_pair * all * all, a_pair * all * all / quickest);
    tl_stock_free(&stock);
    return 0;
}
