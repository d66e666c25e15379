/*
 * How long an edge takes, guaranteed: t = R C ln((E - S) / (E - T)) from the level S of the other state to
 * the threshold T on the way to E. It grows with T - S and falls with E - T, so the worst of both, each at
 * its own corner, is never too short:
 *
 *     t <= R C ln(1 + (T - S) / (E - T)).
 *
 * All capacitance behind the last shifter stands at the pin, behind all the resistance that the pin sees: the
 * line itself is never slower.
 */
#include "elaborate/circuit_struct.h"
#include "tinyladder/design/circuit.h"
#include <math.h>

double tl_circuit_value_at(tl_circuit *circuit, int param, const tl_bounds *bounds, const double *values)
{
    for (int i = 0; i < bounds->params; i++) {
        if (bounds->param[i] == param)
            return values[i];
    }
    return tl_net_param_nominal(circuit->net, param);
}

double tl_circuit_level_at(tl_circuit *circuit, int signal, tl_level level, const tl_bounds *bounds,
                           const double *values)
{
    const int supply = circuit->plan->pins[circuit->plan->signals[signal].pin].limits.supply;
    return tl_level_volts(level, tl_circuit_value_at(circuit, circuit->supply_param[supply], bounds, values));
}

static double farads_at_pin(tl_circuit *circuit, int signal)
{
    const tl_signal *s = &circuit->plan->signals[signal];
    double farads = circuit->plan->pins[s->pin].limits.farads;
    int first = 0;
    for (int i = 0; i < s->stage_count; i++)
        first = s->stages[i].kind == TL_STAGE_SHIFTER ? i : first;
    for (int i = first; i < s->stage_count; i++) {
        const tl_stage *stage = &s->stages[i];
        if (stage->kind == TL_STAGE_CAPACITOR || stage->kind == TL_STAGE_CABLE)
            farads += stage->first.value.high;
        else if (stage->kind == TL_STAGE_FILTER)
            farads += stage->second.value.high;
    }
    return farads;
}

double tl_circuit_edge(tl_circuit *circuit, int signal, int state)
{
    const tl_signal *s = &circuit->plan->signals[signal];
    const tl_pin_limits *limits = &circuit->plan->pins[s->pin].limits;
    const tl_quantity *rail = &circuit->plan->supplies[limits->supply].volts;
    const bool rises = tl_signal_closes_low(s) == (state == 0);
    const tl_worst_case *to = tl_circuit_worst_case(circuit, signal, state),
                        *from = tl_circuit_worst_case(circuit, signal, 1 - state);
    const tl_figure seen = {
        .kind = TL_FIGURE_SOURCE_OHMS, .of = circuit->signals[signal].pin, .less = tl_net_fixed(0)};
    tl_bounds ohms;
    if (to->fault != TL_NET_SOLVED || from->fault != TL_NET_SOLVED ||
        tl_island_bounds(circuit->signals[signal].island, tl_circuit_state(circuit, signal, state), seen,
                         &ohms) != TL_NET_SOLVED)
        return INFINITY;
    const double left = rises ? to->above_vih.low : -to->above_vil.high;
    const double way = rises ? tl_level_volts(limits->vih, rail->high) - from->volts.low
                             : from->volts.high - tl_level_volts(limits->vil, rail->low);
    if (way <= 0)
        return 0;
    return left > 0 ? ohms.high * farads_at_pin(circuit, signal) * log(1 + way / left) : INFINITY;
}
