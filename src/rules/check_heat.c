/* SPDX-License-Identifier: MIT */
/* Rules of heat: what resistors take, and what flows when a sensor is shorted. */
#include "analysis/ask.h"
#include "rules/check.h"
#include <math.h>
#include <stdio.h>
#include <string.h>

/* The share of a part's heat that each of its one or two resistors takes, and what that one stands: the most
 * of the heat in the whole that both allow; INFINITY where that is not given. */
static double rated_watts(const tl_checker *k, const tl_plan_part *part)
{
    const tl_located *value = part->value;
    double allowed = INFINITY;
    for (int i = 0; i < 2 && value->parts[i] > 0 && !part->fitted; i++) {
        const double whole = value->value.nominal, one = value->parts[i];
        const double share = !(value->parts[1] > 0) ? 1 : whole > one ? one / whole : whole / one;
        double most = 0;
        for (int s = 0; s < k->plan->resistors.count; s++) {
            const tl_stock_part *stock = &k->plan->resistors.parts[s];
            if (fabs(stock->value - one) <= 1e-9 * stock->value)
                most = fmax(most, stock->watts);
        }
        if (most > 0)
            allowed = fmin(allowed, most / share);
    }
    return allowed;
}

static const char *owner_of(const tl_checker *k, const tl_plan_part *part)
{
    return part->owner == TL_OWNED_BY_LINE   ? k->plan->signals[part->index].name
           : part->owner == TL_OWNED_BY_RAIL ? k->plan->supplies[part->index].name
                                             : k->plan->outputs[part->index].name;
}

static void check_part(const tl_checker *k, int index)
{
    const tl_plan_part *part = &k->circuit->parts.part[index];
    const double rated = tl_role_of(part->role)->dimension == TL_DIM_OHM ? rated_watts(k, part) : INFINITY;
    if (!isfinite(rated) || !part->value->given)
        return;
    const double watts = tl_circuit_part_watts(k->circuit, index, rated);
    if (watts <= rated)
        return;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_POWER_RATING, part->value->place,
                                 "%s: the power in a resistor is above its rating", owner_of(k, part));
    tl_finding_figures(f, TL_DIM_WATT, watts, rated);
    tl_finding_text(&f->figure, "%s; rated %s", tl_show(watts, TL_DIM_WATT, TL_ROUND_UP).text,
                    tl_show(rated, TL_DIM_WATT, TL_ROUND_DOWN).text);
    tl_finding_text(&f->fix, "use a part rated for at least %s, or two of half the resistance in series",
                    tl_show(watts, TL_DIM_WATT, TL_ROUND_UP).text);
}

/* A shorted sensor leaves its partner alone across the rail: the circuit is asked with 0 ohms in its place.
 */
static void check_shorted_sensor(const tl_checker *k, int signal)
{
    tl_circuit *c = k->circuit;
    const tl_signal *s = &k->plan->signals[signal];
    const tl_plan_part *partner = tl_parts_next(&c->parts, signal, TL_PART_PARTNER, NULL);
    if (s->source.kind != TL_SOURCE_RESISTANCE || partner == NULL)
        return;
    const int rail = s->source.supply >= 0 ? s->source.supply : partner->rail;
    if (rail < 0)
        return;
    double amperes, watts;
    if (!tl_circuit_shorted_sensor(c, signal, partner, &amperes, &watts))
        return;
    const tl_supply *supply = &k->plan->supplies[rail];
    const double rated = rated_watts(k, partner);
    if (amperes <= supply->most_amperes && watts <= rated)
        return;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_SENSOR_SHORT, s->stages[partner->stage].place,
                                 "%s: a shorted sensor overloads its partner on %s", s->name, supply->name);
    if (amperes > supply->most_amperes) {
        tl_finding_figures(f, TL_DIM_AMPERE, amperes, supply->most_amperes);
        tl_finding_text(&f->figure, "%s; budget %s", tl_show(amperes, TL_DIM_AMPERE, TL_ROUND_UP).text,
                        tl_show(supply->most_amperes, TL_DIM_AMPERE, TL_ROUND_DOWN).text);
    } else {
        tl_finding_figures(f, TL_DIM_WATT, watts, rated);
        tl_finding_text(&f->figure, "%s in the partner; rated %s",
                        tl_show(watts, TL_DIM_WATT, TL_ROUND_UP).text,
                        tl_show(rated, TL_DIM_WATT, TL_ROUND_DOWN).text);
    }
    const double times = fmax(amperes / supply->most_amperes, isfinite(rated) ? watts / rated : 0);
    tl_finding_text(&f->fix, "use a partner of at least %s, or a series resistor at the sensor",
                    tl_show(partner->value->value.low * times, TL_DIM_OHM, TL_ROUND_UP).text);
}

void tl_check_power(const tl_checker *k, int signal)
{
    check_shorted_sensor(k, signal);
    for (int i = k->circuit->parts.first[signal];
         k->plan->has_drawer && i < k->circuit->parts.first[signal + 1]; i++)
        check_part(k, i);
}

void tl_check_shared_power(const tl_checker *k)
{
    for (int i = k->circuit->parts.first[k->plan->line_count];
         k->plan->has_drawer && i < k->circuit->parts.count; i++)
        check_part(k, i);
}
