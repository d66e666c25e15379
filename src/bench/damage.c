/* SPDX-License-Identifier: MIT */
/*
 * What is too much for pins, event by event: how far it went, for how long, how much energy. The moment at
 * which it begins and ends is found as that of a switch is; in between the island goes in short pieces, and
 * the energy is that of the trapezoids under volts times amperes.
 */
#include "base/memory.h"
#include "bench/bench_internal.h"
#include <math.h>

/* A pin that goes on suffering does not fill the memory: from then on its last event takes up the others. */
enum { EVENTS_OF_A_PIN = 100 };

/* Amperes through the pin's own conducting clamp, or against its output; 0 where neither. */
static double forced_amperes(const tl_bench *bench, const bench_island *s, const bench_pin *p, int pin,
                             double volts)
{
    const tl_pin_contacts *own = &bench->circuit->pins[pin];
    const tl_signal_nodes *nodes = &bench->circuit->signals[p->signal];
    const struct {
        int contact, part;
        double across;
    } ways[] = {{nodes->clamp_high, nodes->clamp_part[1], volts - p->highest},
                {nodes->clamp_low, nodes->clamp_part[0], volts - p->lowest},
                {own->drive_low, own->drive_part[0], volts},
                {own->drive_high, own->drive_part[1], volts - p->rail}};
    for (size_t i = 0; i < sizeof ways / sizeof ways[0]; i++) {
        if (ways[i].contact != TL_NET_NONE && bench->closed[ways[i].contact])
            return ways[i].part != TL_NET_NONE
                       ? tl_net_part_amperes(bench->net, ways[i].part, s->values, ways[i].across)
                       : 0;
    }
    return 0;
}

/* Volts outside the limits, unless the pin's clamps carry what that makes; or more amperes than its output
 * stands. */
static bool is_too_much(const tl_bench *bench, const bench_island *s, const bench_pin *p, int pin,
                        double volts, double *amperes)
{
    const tl_pin_limits *limits = &bench->circuit->plan->pins[pin].limits;
    const bool outside = volts < p->lowest - 1e-9 || volts > p->highest + 1e-9;
    *amperes = forced_amperes(bench, s, p, pin, volts);
    if (outside)
        return !(limits->injection > 0) || fabs(*amperes) > limits->injection;
    return limits->most_amperes > 0 && fabs(*amperes) > limits->most_amperes;
}

/* Nearly always nothing is to be said. */
static bool signal_suffers(const tl_bench *bench, const bench_island *s, int signal, double *amperes)
{
    const int pin = bench->circuit->plan->signals[signal].pin;
    const bench_pin *p = &bench->pins[pin];
    const double volts = s->volts[p->node];
    *amperes = 0;
    return (p->drives || volts < p->lowest || volts > p->highest) && p->loose_ns == PIN_DEFINED &&
           signal_is_routed(bench, signal) && is_too_much(bench, s, p, pin, volts, amperes);
}

/* A pin that is a rail, and has no signal: what it gives. */
static bool feed_suffers(const tl_bench *bench, const bench_island *s, const bench_feed *feed,
                         double *amperes)
{
    const double most = bench->circuit->plan->pins[feed->pin].limits.most_amperes;
    const double emf =
        s->values[feed->share] *
        s->values[bench->circuit->supply_param[bench->circuit->plan->pins[feed->pin].limits.supply]];
    *amperes = bench->closed[feed->cut]
                   ? 0
                   : tl_net_part_amperes(bench->net, feed->part, s->values, s->volts[feed->node] - emf);
    return most > 0 && fabs(*amperes) > most;
}

/* An output's pin that has no signal: what it gives or takes. */
static bool load_suffers(const tl_bench *bench, const bench_island *s, const bench_load *load,
                         double *amperes)
{
    const double most = bench->circuit->plan->pins[load->pin].limits.most_amperes;
    *amperes = load_pin_amperes(bench, s, load) * s->values[load->nodes->seldom]; /* while it is on */
    return most > 0 && bench->pins[load->pin].island == NULL && fabs(*amperes) > most;
}

static void note(tl_bench *bench, const bench_island *s, int pin, bool suffers, double volts, double amperes)
{
    bench_pin *p = &bench->pins[pin];
    const double seconds = seconds_of(s->at_ns - p->looked_ns), watts = fabs(volts * amperes);
    const bool goes_on = p->suffers;
    p->suffers = suffers;
    if (!suffers && !goes_on)
        return;
    if (!goes_on && p->events < EVENTS_OF_A_PIN) {
        bench->damages = tl_grow(bench->damages, (size_t)bench->damage_count, sizeof *bench->damages);
        p->damage = bench->damage_count++;
        bench->damages[p->damage] = (tl_bench_damage){
            .pin = pin, .output = TL_NONE, .volts = volts, .at = fmax(seconds_of(s->at_ns), 0)};
    }
    tl_bench_damage *damage = &bench->damages[p->damage];
    if (!goes_on) {
        p->events++;
        damage->events++;
    } else {
        damage->joules += (p->watts + watts) / 2 * seconds;
        damage->seconds += seconds;
    }
    if (fabs(amperes) > fabs(damage->amperes) ||
        (amperes == 0 && damage->amperes == 0 &&
         fabs(volts - p->rail / 2) > fabs(damage->volts - p->rail / 2))) {
        damage->volts = volts;
        damage->amperes = amperes;
    }
    p->watts = watts;
}

bool damage_turns(const tl_bench *bench, const bench_island *s)
{
    double amperes;
    for (int i = 0; i < s->signal_count; i++) {
        if (signal_suffers(bench, s, s->signals[i], &amperes) !=
            bench->pins[bench->circuit->plan->signals[s->signals[i]].pin].suffers)
            return true;
    }
    for (int i = 0; i < bench->feed_count; i++) {
        if (bench->feeds[i].island == s &&
            feed_suffers(bench, s, &bench->feeds[i], &amperes) != bench->pins[bench->feeds[i].pin].suffers)
            return true;
    }
    for (int i = 0; i < bench->load_count; i++) {
        if (bench->loads[i].island == s &&
            load_suffers(bench, s, &bench->loads[i], &amperes) != bench->pins[bench->loads[i].pin].suffers)
            return true;
    }
    return false;
}

void damage_record(tl_bench *bench, bench_island *s)
{
    s->suffers = s->hurt = false;
    for (int i = 0; i < s->signal_count && bench->lift_count > 0; i++)
        pin_levels_update(bench, bench->circuit->plan->signals[s->signals[i]].pin);
    for (int i = 0; i < s->signal_count; i++) {
        const int pin = bench->circuit->plan->signals[s->signals[i]].pin;
        bench_pin *p = &bench->pins[pin];
        double amperes;
        const bool suffers = signal_suffers(bench, s, s->signals[i], &amperes);
        if (suffers || p->suffers)
            note(bench, s, pin, suffers, s->volts[p->node], amperes);
        p->looked_ns = s->at_ns;
        s->suffers = s->suffers || suffers;
        s->hurt = s->hurt || (p->events > 0 && p->events < EVENTS_OF_A_PIN);
    }
    for (int i = 0; i < bench->feed_count; i++) {
        const bench_feed *feed = &bench->feeds[i];
        double amperes;
        if (feed->island != s)
            continue;
        const bool suffers = feed_suffers(bench, s, feed, &amperes);
        note(bench, s, feed->pin, suffers, s->volts[feed->node], amperes);
        bench->pins[feed->pin].looked_ns = s->at_ns;
        s->suffers = s->suffers || suffers;
    }
    for (int i = 0; i < bench->load_count; i++) {
        const bench_load *load = &bench->loads[i];
        double amperes;
        if (load->island != s || bench->pins[load->pin].island != NULL)
            continue;
        const bool suffers = load_suffers(bench, s, load, &amperes);
        note(bench, s, load->pin, suffers, s->volts[tl_island_index(s->island, load_pin_node(bench, load))],
             amperes);
        bench->pins[load->pin].looked_ns = s->at_ns;
        s->suffers = s->suffers || suffers;
    }
}
