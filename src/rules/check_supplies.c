/* SPDX-License-Identifier: MIT */
/* Rules of supplies: budgets, what a pin that is a rail gives, rails that nothing is connected to. */
#include "analysis/ask.h"
#include "base/memory.h"
#include "rules/check.h"
#include <math.h>
#include <stdlib.h>

/* A supply or a shared node that nothing is connected to. */
static bool is_used(const tl_checker *k, int rail)
{
    const tl_plan *plan = k->plan;
    for (int i = 0; i < plan->line_count; i++) {
        const tl_source *source = &plan->signals[i].source;
        if (source->supply == rail || source->bottom == rail || source->follows == rail)
            return true;
        for (int j = 0; j < plan->signals[i].stage_count; j++) {
            const tl_stage *stage = &plan->signals[i].stages[j];
            if (stage->to == rail && !stage->internal)
                return true;
        }
    }
    for (int i = 0; i < plan->supply_count; i++) {
        if (plan->supplies[i].kind == TL_RAIL_SHARED && plan->supplies[i].from == rail)
            return true;
    }
    for (int i = 0; i < plan->output_count; i++) {
        if (plan->outputs[i].to == rail ||
            (plan->outputs[i].pin_count == 0 && plan->outputs[i].from == rail) ||
            (plan->outputs[i].driver.way != TL_DRIVER_NONE && plan->outputs[i].driver.supply == rail))
            return true;
    }
    for (int i = 1; i < plan->converter_count; i++) {
        if (plan->converters[i].supply == rail)
            return true;
    }
    for (int i = 0; i < plan->mux_count; i++) {
        if (plan->muxes[i].supply == rail)
            return true;
    }
    for (int i = 0; i < plan->module_count; i++) {
        const tl_module *module = &plan->modules[i];
        bool on_it = module->supply == rail || module->back == rail;
        for (int p = 0; p < module->pin_count; p++)
            on_it = on_it || module->pins[p].rail == rail;
        if (on_it)
            return true;
    }
    return false;
}

void tl_check_unused(const tl_checker *k)
{
    for (int i = k->plan->board->supply_count; i < k->plan->supply_count; i++) {
        const tl_supply *rail = &k->plan->supplies[i];
        if (is_used(k, i))
            continue;
        tl_finding *f =
            tl_check_add(k, TL_USUAL, TL_RULE_UNUSED_SUPPLY, rail->place, "%s is not used", rail->name);
        tl_finding_text(&f->fix, "remove it, or correct the 'to' that should name it");
    }
}

/* Chains that share nodes are one island, and what it draws counts once: with the first of its signals. */
static bool is_counted_with(const tl_checker *k, int signal, int earlier)
{
    return tl_island_index(k->circuit->signals[earlier].island, k->circuit->signals[signal].source) !=
           TL_NET_NONE;
}

static bool is_first_of_island(const tl_checker *k, int signal)
{
    for (int i = 0; i < signal; i++) {
        if (is_counted_with(k, signal, i))
            return false;
    }
    return true;
}

/* Of an island with several signals: all its contacts closed at once. */
static double amperes_all_closed(const tl_checker *k, int first, int supply)
{
    tl_ask ask = tl_ask_of(TL_ASK_RAIL_AMPERES, first, 0, k->circuit->supply_rail[supply]);
    bool *closed = tl_alloc((size_t)tl_net_contact_count(k->circuit->net), sizeof *closed);
    tl_bounds amperes;
    for (int i = first; i < k->plan->line_count; i++) {
        if (k->circuit->signals[i].contact != TL_NET_NONE && is_counted_with(k, i, first))
            closed[k->circuit->signals[i].contact] = true;
    }
    double *loads = tl_loads_aside(k->circuit); /* they are counted by themselves */
    ask.also = closed;
    const bool solved = tl_circuit_ask(k->circuit, &ask, &amperes) == TL_NET_SOLVED;
    tl_loads_back(k->circuit, loads);
    free(closed);
    return solved ? amperes.high : 0;
}

/* The most that a signal's island draws from a supply, over all its states; 0 where another signal counts it.
 */
static double most_amperes(const tl_checker *k, int signal, int supply)
{
    double most = 0;
    bool shared = false;
    if (!is_first_of_island(k, signal))
        return 0;
    for (int i = signal; i < k->plan->line_count; i++) {
        if (i > signal && !is_counted_with(k, i, signal))
            continue;
        shared = shared || i > signal;
        for (int state = 0; state < k->circuit->signals[i].states; state++)
            most = fmax(most, tl_circuit_worst_case(k->circuit, i, state)->amperes[supply]);
    }
    return shared ? fmax(most, amperes_all_closed(k, signal, supply)) : most;
}

/* An output pin that serves as a rail gives its level only up to the current that it drives. */
static void check_pin_rail(const tl_checker *k, const tl_supply *rail, double amperes)
{
    const tl_pin *pin = &k->plan->pins[rail->pin];
    const bool never = amperes > pin->limits.most_amperes;
    if (!never && amperes <= pin->limits.drives)
        return;
    tl_finding *f = tl_check_add(k, never ? TL_GRAVE : TL_USUAL,
                                 never ? TL_RULE_OVER_DRIVE : TL_RULE_WEAK_RAIL, rail->place,
                                 never ? "%s: the current from %s is above its absolute maximum"
                                       : "%s: its load pulls the level of %s down",
                                 rail->name, pin->name);
    tl_finding_figures(f, TL_DIM_AMPERE, amperes, never ? pin->limits.most_amperes : pin->limits.drives);
    tl_finding_text(
        &f->figure, "%s; limit %s", tl_show(amperes, TL_DIM_AMPERE, TL_ROUND_UP).text,
        tl_show(never ? pin->limits.most_amperes : pin->limits.drives, TL_DIM_AMPERE, TL_ROUND_DOWN).text);
    tl_finding_text(&f->fix, "increase the resistances on it at least %.1f times, or use a supply",
                    ceil(10 * amperes / pin->limits.drives) / 10);
}

/* What is drawn from one supply, each at its worst. */
typedef struct {
    double sum, by_outputs, by_modules, largest;
    int hungriest; /* signal */
} supply_load;

/* From a shared node, and so from what that is connected to. */
static double module_amperes(const tl_plan *plan, const tl_module *module, int supply)
{
    int rail = module->supply;
    while (rail != supply && rail >= 0 && plan->supplies[rail].kind == TL_RAIL_SHARED)
        rail = plan->supplies[rail].from;
    return rail == supply ? module->amperes.high : 0;
}

/* What a module takes passes the resistance of its supply: where signals are behind that, their island's
 * current has it already. */
static bool is_in_an_island(const tl_checker *k, const tl_module *module)
{
    for (int i = 0; module->supply >= 0 && i < k->plan->line_count; i++) {
        if (tl_island_index(k->circuit->signals[i].island, k->circuit->supply_node[module->supply]) !=
            TL_NET_NONE)
            return true;
    }
    return false;
}

static supply_load load_of(const tl_checker *k, int supply)
{
    supply_load load = {0, 0, 0, 0, 0};
    for (int i = 0; i < k->plan->line_count; i++) {
        const double amperes = most_amperes(k, i, supply);
        load.sum += amperes;
        if (amperes > load.largest) {
            load.largest = amperes;
            load.hungriest = i;
        }
    }
    for (int i = 0; i < k->plan->output_count; i++)
        load.by_outputs += tl_check_output_amperes(k, &k->plan->outputs[i], supply);
    for (int i = 0; i < k->plan->module_count; i++) {
        const tl_module *module = &k->plan->modules[i];
        const double amperes = module_amperes(k->plan, module, supply);
        load.by_modules += amperes;
        load.sum += is_in_an_island(k, module) ? 0 : amperes;
    }
    load.sum += load.by_outputs;
    return load;
}

static void report_hungriest(const tl_checker *k, const tl_supply *rail, const supply_load *load)
{
    const tl_signal *s = &k->plan->signals[load->hungriest];
    const tl_plan_part *divider = tl_check_part(k, load->hungriest, TL_PART_LOWER);
    tl_finding *f =
        tl_check_add(k, TL_USUAL, TL_RULE_OVER_BUDGET, divider != NULL ? divider->of->place : s->place,
                     "%s: total current is above its budget", rail->name);
    tl_finding_figures(f, TL_DIM_AMPERE, load->sum, rail->most_amperes);
    tl_finding_text(&f->figure, "%s in total; budget %s; %s of it by %s",
                    tl_show(load->sum, TL_DIM_AMPERE, TL_ROUND_UP).text,
                    tl_show(rail->most_amperes, TL_DIM_AMPERE, TL_ROUND_DOWN).text,
                    tl_show(load->largest, TL_DIM_AMPERE, TL_ROUND_UP).text, s->name);
    const double others = load->sum - load->largest;
    if (divider != NULL && others < rail->most_amperes)
        tl_finding_text(&f->fix, "increase both resistors of the divider at least %.1f times",
                        ceil(10 * load->largest / (rail->most_amperes - others)) / 10);
    else if (others < rail->most_amperes)
        tl_finding_text(&f->fix, "increase the resistances of %s at least %.1f times", s->name,
                        ceil(10 * load->largest / (rail->most_amperes - others)) / 10);
}

static void check_budget(const tl_checker *k, int supply)
{
    const tl_supply *rail = &k->plan->supplies[supply];
    if (!isfinite(rail->most_amperes))
        return;
    const supply_load load = load_of(k, supply);
    if (rail->kind == TL_RAIL_PIN) {
        check_pin_rail(k, rail, load.sum);
    } else if (load.sum > rail->most_amperes && load.by_outputs + load.by_modules > load.sum / 2) {
        tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_OVER_BUDGET, rail->place,
                                     "%s take more current from %s than its budget",
                                     load.by_modules == 0   ? "outputs"
                                     : load.by_outputs == 0 ? "modules"
                                                            : "outputs and modules",
                                     rail->name);
        tl_finding_figures(f, TL_DIM_AMPERE, load.sum, rail->most_amperes);
        tl_finding_text(&f->figure, "%s in total; budget %s",
                        tl_show(load.sum, TL_DIM_AMPERE, TL_ROUND_UP).text,
                        tl_show(rail->most_amperes, TL_DIM_AMPERE, TL_ROUND_DOWN).text);
        tl_finding_text(&f->fix, "use a supply of at least %s, or never turn all of them on",
                        tl_show(load.sum, TL_DIM_AMPERE, TL_ROUND_UP).text);
    } else if (load.sum > rail->most_amperes) {
        report_hungriest(k, rail, &load);
    }
}

void tl_check_budgets(const tl_checker *k)
{
    for (int i = 0; i < k->plan->supply_count; i++)
        check_budget(k, i);
}

/* Volts of an island with too many toleranced parts have an outer bound, currents none.
 */
void tl_check_unproven(const tl_checker *k)
{
    for (int i = 0; i < k->plan->line_count; i++) {
        const tl_signal *s = &k->plan->signals[i];
        if (!tl_circuit_worst_case(k->circuit, i, 0)->volts_only)
            continue;
        tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_UNPROVEN, s->place,
                                     "%s: too many parts with tolerances to try every worst case", s->name);
        tl_finding_text(&f->figure,
                        "voltages have outer bounds; the rules use the corners with the largest effect");
        tl_finding_text(&f->fix, "remove tolerances that do not matter");
        return;
    }
}
