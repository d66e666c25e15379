/* What the bench says was hurt, in words and as JSON. */
#include "reading/damages.h"
#include "printing/printing.h"
#include <math.h>

enum { DAMAGES_SHOWN = 10 };

static void print_coil(tl_bench *bench, const tl_bench_damage *d)
{
    printf("%sThe coil of %s, let go at %s with %s in it, drives %.2g J through its transistor: it has no "
           "flyback "
           "diode.%s\n",
           ink_on(stdout, INK_ERROR), tl_circuit_plan(tl_bench_circuit(bench))->outputs[d->output].name,
           show(d->at, TL_DIM_SECOND).text, show(d->amperes, TL_DIM_AMPERE).text, d->joules, ink_off(stdout));
}

void damages_print(tl_bench *bench)
{
    int count;
    const tl_bench_damage *damages = tl_bench_damages(bench, &count);
    if (count > 0)
        putchar('\n');
    for (int i = 0; i < count && i < DAMAGES_SHOWN; i++) {
        if (damages[i].output != TL_NONE) {
            print_coil(bench, &damages[i]);
            continue;
        }
        printf("%s%s was outside its absolute maximum ratings at %s", ink_on(stdout, INK_ERROR),
               tl_circuit_plan(tl_bench_circuit(bench))->pins[damages[i].pin].name,
               show(damages[i].at, TL_DIM_SECOND).text);
        if (damages[i].seconds > 0)
            printf(", for %s", show(damages[i].seconds, TL_DIM_SECOND).text);
        printf(": %s", show(damages[i].volts, TL_DIM_VOLT).text);
        if (damages[i].amperes != 0)
            printf(", %s through it", show(fabs(damages[i].amperes), TL_DIM_AMPERE).text);
        if (damages[i].joules > 0)
            printf(", %.2g J", damages[i].joules);
        if (damages[i].events > 1)
            printf(", %d times in all", damages[i].events);
        printf(". A real pin may be dead now.%s\n", ink_off(stdout));
    }
    if (count > DAMAGES_SHOWN)
        printf("%d times more; --json lists them.\n", count - DAMAGES_SHOWN);
    if (tl_bench_trouble(bench) != NULL)
        printf("\n%sThis cannot be: %s. What it supplies is shown as before.%s\n", ink_on(stdout, INK_ERROR),
               tl_bench_trouble(bench), ink_off(stdout));
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
