/* SPDX-License-Identifier: MIT */
/* The bench's speed: settled conversions, a whole day, and one step of a network of ten nodes. */
#include "circuit/netlist.h"
#include <lapacke.h>
#include <math.h>
#include <stdio.h>
#include <string.h>
#include <time.h>
#include <tinyladder/bench.h>
#include <tinyladder/button.h>

static double now(void)
{
    struct timespec t;
    clock_gettime(CLOCK_MONOTONIC, &t);
    return (double)t.tv_sec + 1e-9 * (double)t.tv_nsec;
}

static void settled_conversions(const char *plan)
{
    enum { N = 3000000 };
    tl_bench *bench = tl_bench_open(plan, NULL, NULL);
    if (bench == NULL)
        return;
    const tl_port *port = tl_bench_port(bench);
    double sum = 0, squares = 0;
    uint32_t word = 0;
    const double start = now();
    for (int i = 0; i < N; i++) {
        (void)tl_port_convert(port, 0, 0, 1000, 100, &word);
        sum += word;
        squares += (double)word * word;
    }
    const double took = now() - start;
    printf("  settled, noisy 12-bit conversions through the core       %6.2f million a second (noise %.2f "
           "counts)\n",
           1e-6 * N / took, sqrt(squares / N - sum / N * (sum / N)));
    tl_bench_free(bench);
}

static void whole_day(const char *plan, const char *scene)
{
    static const char *const lines[] = {"L12", "L10", "L11", "L13"};
    static const uint8_t channels[] = {0, 1, 2, 3, 4, 5, 6, 7};
    tl_bench *bench = tl_bench_open(plan, scene, NULL);
    if (bench == NULL)
        return;
    const tl_port *port = tl_bench_port(bench);
    tl_button buttons[4];
    unsigned long conversions = 0;
    const double start = now();
    for (int i = 0; i < 4; i++) {
        const tl_button_config config = {
            .steady = 20000, .line = (uint8_t)tl_bench_line(bench, lines[i]), .closed_is_low = i != 2};
        (void)tl_button_init(&buttons[i], &config, port);
    }
    for (int look = 0; tl_bench_time(bench) < 86400; look++) {
        tl_button_event event;
        uint32_t word;
        for (int i = 0; i < 4; i++)
            (void)tl_button_look(&buttons[i], port, &event);
        for (int i = 0; i < 8 && look % 10 == 0; i++)
            conversions += tl_port_convert(port, channels[i], 0, 3000, 100, &word) == TL_OK;
        (void)tl_port_wait_us(port, 9960);
    }
    printf("  24 h: 8 analog signals 10 times, 4 buttons 100 times a second   %6.2f s (%lu conversions)\n",
           now() - start, conversions);
    tl_bench_free(bench);
}

/* --- a ladder of ten sections --- */

enum { NODES = 10, STEPS = 200000 };

static double our_steps(double end)
{
    tl_net *net = tl_net_new();
    int node[NODES], at = tl_net_add_node(net, "rail");
    double volts[NODES] = {0};
    const int rail = at;
    tl_net_set_rail(net, at, tl_net_fixed(3.3));
    for (int i = 0; i < NODES; i++) {
        node[i] = tl_net_add_node(net, "n");
        tl_net_add_resistor(net, "r", at, node[i], tl_net_fixed(1000));
        tl_net_add_capacitor(net, "c", node[i], TL_NET_GROUND, tl_net_fixed(1e-9));
        at = node[i];
    }
    (void)rail;
    tl_island *island = tl_island_new(net, TL_VIEW_BELIEVED, node[0]);
    const tl_net_state state = {NULL, NULL};
    tl_transient *t = tl_transient_new(island, &state);
    const double start = now();
    for (int i = 0; i < STEPS; i++)
        tl_transient_step(t, end / STEPS, volts);
    const double took = now() - start;
    printf("  a step of ten nodes, this library                        %8.3f us (end at %.6f V)\n",
           1e6 * took / STEPS, volts[tl_island_index(island, node[NODES - 1])]);
    tl_transient_free(t);
    tl_island_free(island);
    tl_net_free(net);
    return took / STEPS;
}

/* The same by the usual way: trapezoidal rule, the matrix solved anew in every step. */
static double lapack_steps(double end)
{
    static double a[NODES * NODES], solved[NODES * NODES], v[NODES], right[NODES];
    const double g = 1e-3, c = 2 * 1e-9 / (end / STEPS);
    lapack_int pivots[NODES];
    for (int i = 0; i < NODES; i++) {
        a[i * NODES + i] = c + g + (i + 1 < NODES ? g : 0);
        if (i > 0)
            a[i * NODES + i - 1] = a[(i - 1) * NODES + i] = -g;
    }
    const double start = now();
    for (int s = 0; s < STEPS; s++) {
        for (int i = 0; i < NODES; i++) {
            const double before = i > 0 ? v[i - 1] : 3.3, behind = i + 1 < NODES ? v[i + 1] : v[i];
            right[i] = c * v[i] + g * (before - v[i]) + g * (behind - v[i]) + (i == 0 ? g * 3.3 : 0);
        }
        memcpy(solved, a, sizeof a);
        memcpy(v, right, sizeof v);
        (void)LAPACKE_dgesv_work(LAPACK_COL_MAJOR, NODES, 1, solved, NODES, pivots, v, NODES);
    }
    const double took = now() - start;
    printf("  the same, a LAPACK solve a step                          %8.3f us (end at %.6f V)\n",
           1e6 * took / STEPS, v[NODES - 1]);
    return took / STEPS;
}

int main(int argc, char **argv)
{
    if (argc != 3)
        return 2;
    settled_conversions(argv[1]);
    whole_day(argv[1], argv[2]);
    const double ours = our_steps(100e-6), theirs = lapack_steps(100e-6);
    printf("  LAPACK takes %.1f times as long\n", theirs / ours);
    printf("us %.6f\n", 1e6 * ours);
    return 0;
}
