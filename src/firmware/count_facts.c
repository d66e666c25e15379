/* SPDX-License-Identifier: MIT */
/* The plan's figures, asked count by count; where there are more than 16 bits, the highest 16 of them. */
#include "firmware/count_facts.h"
#include "base/memory.h"
#include <math.h>
#include <stdlib.h>

/* A coarser step in last digits; it has more of them where it is no whole number of those that there are. */
static long step_of(double round, int *decimals)
{
    while (*decimals < 6 && fabs(round * pow(10, *decimals) - nearbyint(round * pow(10, *decimals))) > 1e-9)
        ++*decimals;
    return (long)fmax(1, nearbyint(round * pow(10, *decimals)));
}

count_facts count_facts_of(tl_circuit *circuit, int signal)
{
    const tl_analog_path *path = tl_circuit_path(circuit, signal);
    const tl_plan_reading *reading = &tl_circuit_plan(circuit)->signals[signal].reading;
    count_facts f = {
        .first_code = path->first_code, .count = path->last_code - path->first_code + 1, .step = 1};
    tl_value v;
    for (; f.count > 65536; f.count /= 2)
        f.drop++;
    const double cell = ldexp(1, f.drop); /* codes that are one count here; their middle stands for them */
    f.value = tl_alloc((size_t)f.count, sizeof *f.value);
    f.percent = tl_alloc((size_t)f.count, sizeof *f.percent);
    f.fault = tl_alloc((size_t)f.count, sizeof *f.fault);
    f.beyond = tl_alloc((size_t)f.count, sizeof *f.beyond);
    const double middle = (double)path->first_code + (double)(f.count / 2) * cell;
    f.decimals = tl_plan_value(circuit, signal, middle, &v) == TL_NET_SOLVED ? v.decimals : 0;
    if (reading->round > 0)
        f.step = step_of(reading->round, &f.decimals);
    for (long i = 0; i < f.count; i++) {
        double shown = NAN;
        const double code = (double)f.first_code + (double)i * cell + (cell - 1) / 2;
        f.percent[i] = -1;
        if (tl_plan_shown(circuit, signal, code, &shown) != TL_NET_SOLVED)
            shown = NAN;
        f.value[i] = shown * pow(10, f.decimals) / (double)f.step;
        if (tl_plan_value_plain(circuit, signal, code, &v) != TL_NET_SOLVED)
            continue;
        f.percent[i] = v.percent;
        f.beyond[i] = v.beyond;
        f.fault[i] = (char)(v.open ? 'o' : v.shorted ? 's' : 0);
    }
    return f;
}

void count_facts_free(count_facts *f)
{
    free(f->value);
    free(f->percent);
    free(f->fault);
    free(f->beyond);
}
