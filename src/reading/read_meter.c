/* SPDX-License-Identifier: MIT */
/* What `read --meter` shows below the readings. */
#include "reading/read_meter.h"
#include "analysis/ask.h"
#include "tinyladder/design/calibration.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

static const double no_meter = 1e15; /* ohms */

bool meter_find(meter_on *meter, const char *point, double ohms, tl_circuit *circuit)
{
    int index;
    const tl_plan *plan = tl_circuit_plan(circuit);
    *meter = (meter_on){.name = "a meter", .ohms = 10e6, .limits = NULL};
    snprintf(meter->point, sizeof meter->point, "%s%s", point,
             tl_plan_signal(plan, point, &index) != NULL ? ".pin" : "");
    meter->node = tl_circuit_point(circuit, meter->point);
    if (plan->meter_count > 0) {
        meter->name = plan->meters[0].name;
        meter->ohms = plan->meters[0].ohms;
        meter->limits = &plan->meters[0];
    }
    if (ohms > 0)
        meter->ohms = ohms;
    if (meter->node != TL_NET_NONE && !tl_net_is_rail(tl_circuit_net(circuit), meter->node))
        return true;
    if (meter->node != TL_NET_NONE)
        fprintf(stderr,
                "tinyladder: --meter: '%.80s' is a supply: a meter changes nothing there, and shows what the "
                "plan "
                "says of it\n",
                point);
    else
        fprintf(stderr,
                "tinyladder: --meter: the plan has no point '%.80s'; expected a signal, SIGNAL.source or "
                "SIGNAL.STAGE\n",
                point);
    return false;
}

int *meter_signals(const meter_on *meter, tl_circuit *circuit, int *count)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    int *found = must(calloc((size_t)plan->signal_count + 1, sizeof *found));
    *count = 0;
    for (int i = 0; i < plan->signal_count; i++) {
        if (tl_island_index(tl_circuit_nodes(circuit, i)->island, meter->node) != TL_NET_NONE)
            found[(*count)++] = i;
    }
    return found;
}

/* What the plan's nominal parts say, the sources being where they really are. */
static void predict(meter_on *meter, tl_circuit *circuit, tl_bench *bench)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    const size_t params = (size_t)tl_net_param_count(tl_circuit_net(circuit));
    double *values = must(calloc(params, sizeof *values));
    bool *closed = must(calloc((size_t)tl_net_contact_count(tl_circuit_net(circuit)) + 1, sizeof *closed));
    memcpy(values, tl_circuit_nominal(circuit), params * sizeof *values);
    for (int i = 0; i < plan->signal_count; i++) {
        const tl_signal_nodes *nodes = tl_circuit_nodes(circuit, i);
        const double truth = tl_bench_truth(bench, i);
        if (nodes->unknown != TL_NET_NONE)
            values[nodes->unknown] = truth;
        else if (nodes->contact != TL_NET_NONE)
            closed[nodes->contact] = truth != 0;
        else if (truth > 0)
            closed[nodes->buttons[(int)truth - 1]] = true;
    }
    meter->predicted = tl_circuit_metered(circuit, &(tl_net_state){values, closed}, meter->node, meter->ohms,
                                          &meter->expected[0], &meter->expected[1]);
    free(values);
    free(closed);
}

/* The first signal there says what its source does; of others that the point belongs to all that they may. A
 * line of a bus is at rest. */
static void bound(meter_on *meter, tl_circuit *circuit, tl_bench *bench)
{
    int count;
    int *signals = meter_signals(meter, circuit, &count);
    const int signal = count > 0 ? signals[0] : 0;
    meter->bounded = meter->predicted && tl_circuit_plan(circuit)->signal_count > 0;
    for (int with = 0; with < 2 && meter->bounded; with++) {
        tl_bounds bounds;
        const int unknown = count > 0 ? tl_circuit_nodes(circuit, signal)->unknown : TL_NET_NONE;
        const double truth = count > 0 ? tl_bench_truth(bench, signal) : 0;
        const tl_metered at = {signal,      unknown != TL_NET_NONE ? 0 : (int)truth,
                               meter->node, with == 1 ? meter->ohms : no_meter,
                               unknown,     truth,
                               truth};
        meter->bounded = tl_circuit_with_meter(circuit, &at, &bounds) == TL_NET_SOLVED;
        meter->least[with] = bounds.low;
        meter->most[with] = bounds.high;
    }
    free(signals);
}

void meter_put(meter_on *meter, play *p, double at)
{
    meter->at = at;
    for (int with = 0; with < 2; with++) {
        tl_bench *bench = tl_bench_new(p->circuit, p->scene, p->seed);
        tl_bench_go_to(bench, at);
        meter->seen[with] = NAN;
        (void)tl_bench_node_volts(bench, tl_net_node_name(tl_circuit_net(p->circuit), meter->node),
                                  &meter->seen[with]);
        if (with == 0) {
            predict(meter, p->circuit, bench);
            bound(meter, p->circuit, bench);
            tl_scene_add_meter(p->scene, (tl_scene_meter){meter->node, meter->ohms, 0, INFINITY});
        }
        tl_bench_free(bench);
    }
}

/* By its accuracy, its share of the range and its last digits together; nothing where the plan has none. */
static double may_be_off(const meter_on *meter)
{
    return meter->limits != NULL ? tl_meter_limit(meter->limits, meter->seen[1]) : 0;
}

void meter_print(const meter_on *meter)
{
    const double accuracy = may_be_off(meter);
    const int digits = fabs(meter->seen[0]) < 0.1 ? 6 : 4;
    printf("\n%s (%s) at %s, %s. The readings include its load, so they have no bounds.\n\n", meter->name,
           show(meter->ohms, TL_DIM_OHM).text, meter->point, show(meter->at, TL_DIM_SECOND).text);
    printf("             meter off    meter on\n");
    if (meter->predicted)
        printf("  predicted  %9.*f V  %9.*f V   nominal parts, the sources as they are\n", digits,
               meter->expected[0], digits, meter->expected[1]);
    else
        printf("  predicted          -           -   nothing defines this point\n");
    if (meter->bounded) {
        printf("  at least   %9.*f V  %9.*f V   on any bench whose parts are within their tolerances\n",
               digits, meter->least[0], digits, meter->least[1]);
        printf("  at most    %9.*f V  %9.*f V\n", digits, meter->most[0], digits, meter->most[1]);
    }
    printf("  this bench %9.*f V  %9.*f V   load error %+.*f V", digits, meter->seen[0], digits,
           meter->seen[1], digits, meter->seen[1] - meter->seen[0]);
    if (accuracy > 0)
        printf("; the meter may show %.*f V to %.*f V", digits, meter->seen[1] - accuracy, digits,
               meter->seen[1] + accuracy);
    putchar('\n');
}

static json_t *figure(const meter_on *meter, double value)
{
    return json_number(meter->bounded ? value : NAN);
}

json_t *meter_object(const meter_on *meter)
{
    return json_pack("{s:s,s:s,s:o,s:o,s:o,s:o,s:o,s:o,s:o,s:o,s:o,s:o}", "point", meter->point, "meter",
                     meter->name, "ohms", json_number(meter->ohms), "predicted_unloaded_v",
                     json_number(meter->predicted ? meter->expected[0] : NAN), "predicted_loaded_v",
                     json_number(meter->predicted ? meter->expected[1] : NAN), "unloaded_v",
                     json_number(meter->seen[0]), "loaded_v", json_number(meter->seen[1]), "may_be_off_v",
                     json_number(may_be_off(meter)), "least_unloaded_v", figure(meter, meter->least[0]),
                     "most_unloaded_v", figure(meter, meter->most[0]), "least_loaded_v",
                     figure(meter, meter->least[1]), "most_loaded_v", figure(meter, meter->most[1]));
}
