/* SPDX-License-Identifier: MIT */
/* What the bench says was hurt, in words and as JSON. */
#include "reading/damages.h"
#include "printing/printing.h"
#include <math.h>

enum { DAMAGES_SHOWN = 10 };

static void print_coil(FILE *to, tl_bench *bench, const tl_bench_damage *d)
{
    fprintf(to,
            "%sThe coil of %s, turned off at %s with %s, drives %.2g J through its transistor: it has no "
            "flyback diode.%s\n",
            ink_on(to, INK_ERROR), tl_circuit_plan(tl_bench_circuit(bench))->outputs[d->output].name,
            show(d->at, TL_DIM_SECOND).text, show(d->amperes, TL_DIM_AMPERE).text, d->joules, ink_off(to));
}

static void print_pin(FILE *to, tl_bench *bench, const tl_bench_damage *d)
{
    fprintf(to, "%s%s exceeded its absolute maximum ", ink_on(to, INK_ERROR),
            tl_circuit_plan(tl_bench_circuit(bench))->pins[d->pin].name);
    if (d->seconds > 0)
        fprintf(to, "from %s to %s", show(d->at, TL_DIM_SECOND).text,
                show(d->at + d->seconds, TL_DIM_SECOND).text);
    else
        fprintf(to, "at %s", show(d->at, TL_DIM_SECOND).text);
    fprintf(to, ": %s", show(d->volts, TL_DIM_VOLT).text);
    if (d->amperes != 0)
        fprintf(to, ", %s", show(fabs(d->amperes), TL_DIM_AMPERE).text);
    if (d->joules > 0)
        fprintf(to, ", %.2g J", d->joules);
    if (d->events > 1)
        fprintf(to, ", %d times", d->events);
    fprintf(to, ". A real pin may be destroyed.%s\n", ink_off(to));
}

bool damages_print(FILE *to, tl_bench *bench)
{
    int count;
    const tl_bench_damage *damages = tl_bench_damages(bench, &count);
    if (count > 0)
        fputc('\n', to);
    for (int i = 0; i < count && i < DAMAGES_SHOWN; i++)
        (damages[i].output != TL_NONE ? print_coil : print_pin)(to, bench, &damages[i]);
    if (count > DAMAGES_SHOWN)
        fprintf(to, "%d further ones; 'read --json' lists all.\n", count - DAMAGES_SHOWN);
    if (tl_bench_trouble(bench) != NULL)
        fprintf(to, "\n%sThis cannot be: %s. What it supplies is shown as before.%s\n", ink_on(to, INK_ERROR),
                tl_bench_trouble(bench), ink_off(to));
    return count > 0;
}

json_t *damages_array(tl_bench *bench)
{
    int count;
    const tl_plan *plan = tl_circuit_plan(tl_bench_circuit(bench));
    json_t *list = json_array();
    const tl_bench_damage *damages = tl_bench_damages(bench, &count);
    for (int i = 0; i < count; i++)
        json_array_append_new(
            list,
            json_pack("{s:s,s:o,s:o,s:o,s:o,s:o,s:o,s:i}", "pin", plan->pins[damages[i].pin].name, "coil_of",
                      damages[i].output != TL_NONE ? json_string(plan->outputs[damages[i].output].name)
                                                   : json_null(),
                      "at_s", json_number(damages[i].at), "seconds", json_number(damages[i].seconds), "volts",
                      json_number(damages[i].volts), "amperes", json_number(damages[i].amperes), "joules",
                      json_number(damages[i].joules), "events", damages[i].events));
    return list;
}
