/* Rules of heat: what resistors take, and what flows when a sensor is shorted. */
#include "rules/check.h"
#include <math.h>

/* What a part of this value from the drawer takes; INFINITY where nobody says. */
static double watts_of(const tl_checker *k, const tl_located *part, bool fitted)
{
    double most = 0;
    for (int i = 0; i < k->plan->resistors.count && !fitted; i++) {
        const tl_stock_part *stock = &k->plan->resistors.parts[i];
        if (fabs(stock->value - part->parts[0]) <= 1e-9 * stock->value)
            most = fmax(most, stock->watts);
    }
    return most > 0 ? most : INFINITY;
}

static void check_resistor(const tl_checker *k, int signal, int stage, int leg)
{
    const tl_signal *s = &k->plan->signals[signal];
    const int resistor = k->circuit->signals[signal].part[stage][leg];
    const tl_located *part = leg == 0 ? &s->stages[stage].first : &s->stages[stage].second;
    if (resistor == TL_NET_NONE || !part->given)
        return;
    const double rated = watts_of(k, part, s->stages[stage].fitted), volts = tl_check_most_volts(k, s);
    if (!isfinite(rated) ||
        (isfinite(volts) && volts * volts / part->value.low <= rated)) /* mostly that is answer enough */
        return;
    const double watts = tl_circuit_part_watts(k->circuit, signal, resistor, &part->value);
    if (watts <= rated)
        return;
    tl_finding *f = tl_check_add(k, TL_USUAL, "power-rating", part->place,
                                 "a resistor of %s gets hotter than it stands", s->name);
    tl_finding_figures(f, TL_DIM_WATT, watts, rated);
    tl_finding_text(&f->figure, "%s, rated %s", tl_show(watts, TL_DIM_WATT, TL_ROUND_UP).text,
                    tl_show(rated, TL_DIM_WATT, TL_ROUND_DOWN).text);
    tl_finding_text(&f->fix, "larger resistances, a larger part, or two that share it: 22k + 22k");
}

/* A shorted sensor leaves its partner alone across the rail. */
static void check_shorted_sensor(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_stage *partner = tl_check_stage(s, TL_STAGE_PARTNER);
    if (s->source.kind != TL_SOURCE_RESISTANCE || partner == NULL)
        return;
    const int rail = s->source.supply >= 0 ? s->source.supply : partner->to;
    if (rail < 0)
        return;
    double ohms = partner->first.value.low + s->source.ohms.value.low;
    for (const tl_stage *stage = s->stages; stage < partner; stage++)
        ohms += stage->kind == TL_STAGE_SERIES || stage->kind == TL_STAGE_GUARD ? stage->first.value.low : 0;
    const tl_supply *supply = &k->plan->supplies[rail];
    const double amperes = supply->volts.high / ohms, watts = amperes * amperes * partner->first.value.low;
    const double rated = watts_of(k, &partner->first, partner->fitted);
    if (amperes <= supply->most_amperes && watts <= rated)
        return;
    tl_finding *f =
        tl_check_add(k, TL_USUAL, "sensor-short", partner->place,
                     "at 0 ohm the sensor of %s leaves only its partner across %s", s->name, supply->name);
    if (amperes > supply->most_amperes) {
        tl_finding_figures(f, TL_DIM_AMPERE, amperes, supply->most_amperes);
        tl_finding_text(&f->figure, "%s, budget %s", tl_show(amperes, TL_DIM_AMPERE, TL_ROUND_UP).text,
                        tl_show(supply->most_amperes, TL_DIM_AMPERE, TL_ROUND_DOWN).text);
    } else {
        tl_finding_figures(f, TL_DIM_WATT, watts, rated);
        tl_finding_text(&f->figure, "%s in the partner, rated %s",
                        tl_show(watts, TL_DIM_WATT, TL_ROUND_UP).text,
                        tl_show(rated, TL_DIM_WATT, TL_ROUND_DOWN).text);
    }
    tl_finding_text(&f->fix, "a larger partner, or a resistor in series with the sensor: 'size partner "
                             "--current' keeps to a limit");
}

void tl_check_power(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    check_shorted_sensor(k, signal);
    if (!k->plan->has_drawer)
        return;
    for (int i = 0; i < s->stage_count; i++) {
        for (int leg = 0; leg < 2; leg++)
            check_resistor(k, signal, i, leg);
    }
}
