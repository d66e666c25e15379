/* What pins see, and what they suffer. */
#include "base/memory.h"
#include "bench/bench_internal.h"
#include "elaborate/elaborate.h"
#include <math.h>
#include <stdlib.h>

static const double turn = 6.283185307179586, mains = 50, drift_seconds = 0.05;

/* --- nothing there --- */

double stray_volts(const tl_bench *bench, double rail)
{
    random_source noise = noise_at(bench, NOISE_WIRE, 0, bench->now_ns);
    const double hum = 0.45 * sin(turn * fmod(mains * seconds_of(bench->now_ns), 1));
    return rail * fmin(fmax(0.5 + hum + 0.1 * random_normal(&noise), 0), 1);
}

void pin_levels_update(tl_bench *bench, int pin)
{
    const tl_pin_limits *limits = &bench->circuit->plan->pins[pin].limits;
    bench_pin *p = &bench->pins[pin];
    const int param = limits->supply != TL_NONE ? bench->circuit->supply_param[limits->supply] : TL_NET_NONE;
    p->rail = param == TL_NET_NONE ? 0
              : p->island != NULL  ? param_volts(bench, p->island, param)
                                   : bench->values[param];
    p->lowest = tl_level_volts(limits->lowest, p->rail);
    p->highest = tl_level_volts(limits->highest, p->rail);
    p->middle = (tl_level_volts(limits->vil, p->rail) + tl_level_volts(limits->vih, p->rail)) / 2;
}

/* What leaks into a pin that nothing defines takes it somewhere in the end, and it picks up what is around.
 */
static double drifted(const tl_bench *bench, bench_pin *pin, double rail, int64_t at_ns, double was)
{
    random_source noise = noise_at(bench, NOISE_PIN, (int)(pin - bench->pins), at_ns);
    if (pin->loose_ns == PIN_DEFINED) {
        pin->loose_ns = at_ns;
        pin->loose_volts = was;
    }
    const double gone = exp(-seconds_of(at_ns - pin->loose_ns) / drift_seconds), to = pin->stray * rail;
    const double hum = 0.45 * sin(turn * fmod(mains * seconds_of(at_ns), 1)) + 0.1 * random_normal(&noise);
    return fmin(fmax(to + (pin->loose_volts - to) * gone + (1 - gone) * rail * hum, 0), rail);
}

void pins_float(tl_bench *bench, bench_island *s, const tl_transient *transient)
{
    const bool any = tl_transient_any_floats(transient);
    s->drifts = false;
    for (int i = 0; i < s->signal_count; i++) {
        bench_pin *pin = &bench->pins[bench->circuit->plan->signals[s->signals[i]].pin];
        if (!any) {
            pin->loose_ns = PIN_DEFINED;
            continue;
        }
        const int node = tl_island_index(s->island, bench->circuit->signals[s->signals[i]].pin);
        if (!tl_transient_floats(transient, node)) {
            pin->loose_ns = PIN_DEFINED;
            continue;
        }
        const double volts = drifted(bench, pin, pin->rail, s->at_ns, s->volts[node]);
        for (int other = 0; other < s->size; other++) {
            if (tl_transient_float_together(transient, node, other))
                s->volts[other] = volts;
        }
        s->drifts = true;
    }
}

/* --- volts and levels --- */

double signal_volts(tl_bench *bench, int signal)
{
    const tl_signal_nodes *nodes = &bench->circuit->signals[signal];
    bench_island *s = bench->signals[signal].island;
    island_advance(bench, s, bench->now_ns);
    const double negative =
        nodes->negative == TL_NET_GROUND ? 0 : s->volts[tl_island_index(s->island, nodes->negative)];
    return s->volts[bench->signals[signal].node] - negative;
}

bool signal_floats(tl_bench *bench, int signal)
{
    bench_island *s = bench->signals[signal].island;
    const bench_system *system = system_now(bench, s);
    return system != NULL && system->floats &&
           tl_transient_floats(system->transient,
                               tl_island_index(s->island, bench->circuit->signals[signal].pin));
}

bool signal_is_routed(const tl_bench *bench, int signal)
{
    const tl_signal_nodes *nodes = &bench->circuit->signals[signal];
    for (int i = 0; i < nodes->route_length; i++) {
        if (!bench->closed[nodes->route[i]])
            return false;
    }
    return true;
}

bool pin_level(tl_bench *bench, int line)
{
    int stuck;
    const int pin = line_really(bench, line, &stuck);
    bench_pin *p = &bench->pins[pin];
    const double hysteresis = bench->circuit->plan->pins[pin].limits.hysteresis;
    if (stuck >= 0)
        return stuck == 1;
    if (bench->strict && p->damage != TL_NONE)
        return p->level; /* what is broken stays as it was */
    if (p->island == NULL && bench->lines[pin].use == TL_LINE_OUTPUT)
        return bench->lines[pin].high;
    const double volts = p->island != NULL ? signal_volts(bench, p->signal) : stray_volts(bench, p->rail);
    p->level = volts >= p->middle + (p->level ? -0.5 : 0.5) * hysteresis;
    return p->level;
}

void pin_use(tl_bench *bench, int pin)
{
    const tl_pin_contacts *own = &bench->circuit->pins[pin];
    const bench_line *line = &bench->lines[pin];
    const bool drives = line->use == TL_LINE_OUTPUT;
    bench->pins[pin].drives = drives;
    const struct {
        int contact;
        bool closed;
    } wanted[] = {{own->drive_low, drives && !line->high},
                  {own->drive_high, drives && line->high},
                  {own->pull_up, line->use == TL_LINE_INPUT_PULL_UP},
                  {own->pull_down, line->use == TL_LINE_INPUT_PULL_DOWN}};
    for (int opens = 1; opens >= 0; opens--) { /* break before make */
        for (int i = 0; i < 4; i++) {
            if (wanted[i].contact != TL_NET_NONE && wanted[i].closed == (opens == 0))
                island_set_contact(bench, wanted[i].contact, wanted[i].closed);
        }
    }
}

void pins_init(tl_bench *bench)
{
    const tl_plan *plan = bench->circuit->plan;
    bench->pins = tl_alloc((size_t)plan->pin_count, sizeof *bench->pins);
    for (int i = 0; i < plan->pin_count; i++)
        bench->pins[i] = (bench_pin){
            .loose_ns = PIN_DEFINED, .damage = TL_NONE, .stray = 0.2 + 0.6 * random_even(&bench->parts)};
    for (int i = plan->line_count; i-- > 0;) { /* the first signal of a pin comes last, and stays */
        bench_pin *pin = &bench->pins[plan->signals[i].pin];
        pin->signal = i;
        pin->island = bench->signals[i].island;
        pin->node = tl_island_index(pin->island->island, bench->circuit->signals[i].pin);
    }
    for (int i = 0; i < plan->pin_count; i++)
        pin_levels_update(bench, i);
    for (int k = 0; k < bench->island_count; k++)
        levels_update(bench, &bench->islands[k]);
}
