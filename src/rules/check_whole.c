/*
 * Rules over the plan as a whole: pins taken twice, supply budgets, tolerances left out, the drawer.
 */
#include "analysis/ask.h"
#include "base/memory.h"
#include "rules/check.h"
#include <math.h>
#include <stdlib.h>

static bool is_select(const tl_pin_use *use)
{
    return use->index != TL_NONE;
}

/* Two multiplexers may share select lines, as long as something else tells them apart. */
static bool may_share(const tl_checker *k, const tl_pin_use *a, const tl_pin_use *b)
{
    if (!is_select(a) || !is_select(b))
        return false;
    const tl_mux *first = &k->plan->muxes[a->index], *second = &k->plan->muxes[b->index];
    return a->index != b->index &&
           (first->common != second->common || first->enable.pin != second->enable.pin);
}

static void check_pin(const tl_checker *k, int pin)
{
    const tl_pin_use first = tl_plan_pin_use(k->plan, pin, 0);
    char free_pins[200];
    for (int n = 1; first.what != NULL; n++) {
        const tl_pin_use use = tl_plan_pin_use(k->plan, pin, n);
        if (use.what == NULL)
            return;
        if (may_share(k, &first, &use))
            continue;
        const bool selects = is_select(&first) || is_select(&use);
        int signal = TL_NONE;
        const bool analog =
            tl_plan_signal(k->plan, use.owner, &signal) != NULL && k->plan->signals[signal].analog;
        tl_finding *f = tl_check_add(k, TL_USUAL, selects ? TL_RULE_SELECT_SHARED : TL_RULE_PIN_TAKEN,
                                     use.place, "%s is taken: the %s %s uses it already (line %d)",
                                     k->plan->pins[pin].name, first.what, first.owner, first.place.line);
        tl_check_free_pins(k, analog, free_pins, sizeof free_pins);
        tl_finding_text(&f->fix, "pins that could take the %s %s and are free: %s", use.what, use.owner,
                        free_pins);
    }
}

/* Pins of the board, and inputs of the plan's own multiplexers and converters. */
void tl_check_pins(const tl_checker *k)
{
    for (int pin = 0; pin < k->plan->pin_count; pin++)
        check_pin(k, pin);
}

/* A supply or a shared node that nothing hangs on. */
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
    return false;
}

void tl_check_unused(const tl_checker *k)
{
    for (int i = k->plan->board->supply_count; i < k->plan->supply_count; i++) {
        const tl_supply *rail = &k->plan->supplies[i];
        if (is_used(k, i))
            continue;
        tl_finding *f =
            tl_check_add(k, TL_USUAL, TL_RULE_UNUSED_SUPPLY, rail->place, "nothing hangs on %s", rail->name);
        tl_finding_text(&f->fix, "leave it out, or see which 'to' should have named it");
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
                                 never ? "%s takes more from %s than it may ever give"
                                       : "%s takes more from %s than its output levels hold for",
                                 rail->name, pin->name);
    tl_finding_figures(f, TL_DIM_AMPERE, amperes, never ? pin->limits.most_amperes : pin->limits.drives);
    tl_finding_text(
        &f->figure, "%s, limit %s", tl_show(amperes, TL_DIM_AMPERE, TL_ROUND_UP).text,
        tl_show(never ? pin->limits.most_amperes : pin->limits.drives, TL_DIM_AMPERE, TL_ROUND_DOWN).text);
    tl_finding_text(&f->fix, "larger resistances on it, or a supply of its own");
}

/* What is drawn from one supply, each at its worst. */
typedef struct {
    double sum, by_outputs, largest;
    int hungriest; /* signal */
} supply_load;

static supply_load load_of(const tl_checker *k, int supply)
{
    supply_load load = {0, 0, 0, 0};
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
    load.sum += load.by_outputs;
    return load;
}

static void report_hungriest(const tl_checker *k, const tl_supply *rail, const supply_load *load)
{
    const tl_signal *s = &k->plan->signals[load->hungriest];
    const tl_plan_part *divider = tl_check_part(k, load->hungriest, TL_PART_LOWER);
    tl_finding *f =
        tl_check_add(k, TL_USUAL, TL_RULE_OVER_BUDGET, divider != NULL ? divider->of->place : s->place,
                     "more is drawn from %s than its budget", rail->name);
    tl_finding_figures(f, TL_DIM_AMPERE, load->sum, rail->most_amperes);
    tl_finding_text(&f->figure, "%s together, budget %s; %s of it by %s",
                    tl_show(load->sum, TL_DIM_AMPERE, TL_ROUND_UP).text,
                    tl_show(rail->most_amperes, TL_DIM_AMPERE, TL_ROUND_DOWN).text,
                    tl_show(load->largest, TL_DIM_AMPERE, TL_ROUND_UP).text, s->name);
    const double others = load->sum - load->largest;
    if (divider != NULL && others < rail->most_amperes)
        tl_finding_text(&f->fix, "make both legs of its divider at least %.1f times larger",
                        ceil(10 * load->largest / (rail->most_amperes - others)) / 10);
    else
        tl_finding_text(&f->fix, "make the resistances of %s larger", s->name);
}

static void check_budget(const tl_checker *k, int supply)
{
    const tl_supply *rail = &k->plan->supplies[supply];
    if (!isfinite(rail->most_amperes))
        return;
    const supply_load load = load_of(k, supply);
    if (rail->kind == TL_RAIL_PIN) {
        check_pin_rail(k, rail, load.sum);
    } else if (load.sum > rail->most_amperes && load.by_outputs > load.sum / 2) {
        tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_OVER_BUDGET, rail->place,
                                     "the outputs draw more from %s than its budget", rail->name);
        tl_finding_figures(f, TL_DIM_AMPERE, load.sum, rail->most_amperes);
        tl_finding_text(&f->figure, "%s together, budget %s",
                        tl_show(load.sum, TL_DIM_AMPERE, TL_ROUND_UP).text,
                        tl_show(rail->most_amperes, TL_DIM_AMPERE, TL_ROUND_DOWN).text);
        tl_finding_text(&f->fix, "a stronger supply, a lighter load, or see that they are never on together");
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
        tl_finding *f =
            tl_check_add(k, TL_USUAL, TL_RULE_UNPROVEN, s->place,
                         "too many toleranced parts hang together with %s to try every corner", s->name);
        tl_finding_text(
            &f->figure,
            "its volts are bounded from outside; the rules look at the corners that move it most");
        tl_finding_text(&f->fix, "tolerances that do not matter can be left out");
        return;
    }
}

/* Every part that could come from a drawer. */
static void visit_parts(const tl_checker *k, tl_part_visitor *visit, void *context)
{
    const tl_parts *parts = &k->circuit->parts;
    for (int i = 0; i < parts->count; i++) {
        if (tl_part_is_bought(&parts->part[i]))
            visit(context, parts->part[i].value, tl_role_of(parts->part[i].role)->dimension,
                  parts->part[i].fitted);
    }
}

/* Parts that stand without a tolerance, and where the first of them is. */
typedef struct {
    tl_place first;
    int count;
} untoleranced_parts;

static void count_untoleranced(void *context, tl_located *part, tl_dimension dimension, bool fitted)
{
    untoleranced_parts *found = context;
    (void)dimension;
    (void)fitted;
    if (part->value.low == part->value.high && part->place.line > 0 && found->count++ == 0)
        found->first = part->place;
}

/* A part without any tolerance is exact to the checker: that rests on what the plan does not say. */
void tl_check_tolerances(const tl_checker *k)
{
    untoleranced_parts found = {{-1, 0, 0}, 0};
    visit_parts(k, count_untoleranced, &found);
    if (found.count == 0)
        return;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_NO_TOLERANCE, found.first,
                                 "%d part%s without tolerance, this one first: taken as exact", found.count,
                                 found.count == 1 ? " is" : "s are");
    tl_finding_text(&f->fix, "say what the part is: 10k ±1 %%");
}

/* How often a value is wanted from the drawer so close, and where first. */
typedef struct {
    double value, tolerance;
    tl_place first;
    int count;
} wanted_parts;

static double tolerance_of(const tl_quantity *q)
{
    return q->high / q->nominal - 1;
}

static void count_wanted(void *context, tl_located *part, tl_dimension dimension, bool fitted)
{
    wanted_parts *wanted = context;
    const double closest = tolerance_of(&part->value);
    for (int i = 0; i < 2 && dimension == TL_DIM_OHM && !fitted; i++) {
        /* What is written without a tolerance is served by any. */
        if (fabs(part->parts[i] - wanted->value) <= 1e-9 * wanted->value &&
            (closest <= 0 ? 1 : closest) <= wanted->tolerance * (1 + 1e-6) && wanted->count++ == 0)
            wanted->first = part->place;
    }
}

/* So close or closer; -1 for plenty. */
static int count_there(const tl_stock *stock, double value, double tolerance)
{
    int there = 0;
    for (int i = 0; i < stock->count; i++) {
        const tl_stock_part *part = &stock->parts[i];
        if (fabs(part->value - value) > 1e-9 * value || part->tolerance > tolerance * (1 + 1e-6))
            continue;
        if (part->count < 0)
            return -1;
        there += part->count;
    }
    return there;
}

/* Whether all that want a value so close or closer can be served by what is so close or closer. */
static bool check_stock(const tl_checker *k, double value, double tolerance)
{
    wanted_parts wanted = {value, tolerance, {-1, 0, 0}, 0};
    char code[32];
    const int there = count_there(&k->plan->resistors, value, tolerance);
    if (there >= 0)
        visit_parts(k, count_wanted, &wanted);
    if (wanted.count <= there || there < 0)
        return true;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_DRAWER_EXHAUSTED, wanted.first,
                                 "the drawer holds too few of %s%s, this one first",
                                 tl_letter_code_write(value, code), tolerance < 1 ? " so close" : "");
    tl_finding_figures(f, TL_DIM_NUMBER, wanted.count, there);
    tl_finding_text(&f->figure, "%d wanted, %d there", wanted.count, there);
    tl_finding_text(&f->fix, "buy some, or ask 'size' for another value: --drawer FILE --plan FILE");
    return false;
}

void tl_check_drawer(const tl_checker *k)
{
    const tl_stock *stock = &k->plan->resistors;
    for (int i = 0; k->plan->has_drawer && i < stock->count; i++) {
        const double value = stock->parts[i].value;
        if (i > 0 && stock->parts[i - 1].value >= value * (1 - 1e-9))
            continue; /* the same value with another tolerance: looked at already */
        bool enough = check_stock(k, value, 1);
        for (int j = i; enough && j < stock->count && stock->parts[j].value <= value * (1 + 1e-9); j++)
            enough = check_stock(k, value, stock->parts[j].tolerance);
    }
}
