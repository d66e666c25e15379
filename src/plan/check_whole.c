/*
 * Rules over the plan as a whole: pins taken twice, supply budgets, tolerances left out, the drawer.
 */
#include "check.h"
#include <math.h>

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
    return a->index == b->index || first->common != second->common || first->enable.pin != second->enable.pin;
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
        tl_finding *f = tl_report_add(k->report, TL_ERROR, selects ? "select-shared" : "pin-taken", use.place,
                                      "%s is taken: the %s %s uses it already (line %d)",
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
        tl_finding *f = tl_report_add(k->report, TL_NOTE, "unused-supply", rail->place, "nothing hangs on %s",
                                      rail->name);
        tl_finding_text(&f->fix, "leave it out, or see which 'to' should have named it");
    }
}

/* The most that one signal draws from a supply, over all its states. */
static double most_amperes(const tl_checker *k, int signal, int supply)
{
    double most = 0;
    for (int state = 0; state < k->circuit->signals[signal].states; state++)
        most = fmax(most, tl_circuit_worst(k->circuit, signal, state)->amperes[supply]);
    return most;
}

void tl_check_budget(const tl_checker *k, int supply)
{
    const tl_supply *rail = &k->plan->supplies[supply];
    double sum = 0, largest = 0;
    int hungriest = 0;
    if (!isfinite(rail->most_amperes))
        return;
    for (int i = 0; i < k->plan->line_count; i++) {
        const double amperes = most_amperes(k, i, supply);
        sum += amperes;
        if (amperes > largest) {
            largest = amperes;
            hungriest = i;
        }
    }
    double by_outputs = 0;
    for (int i = 0; i < k->plan->output_count; i++)
        by_outputs += tl_check_output_amperes(k, &k->plan->outputs[i], supply);
    sum += by_outputs;
    if (sum <= rail->most_amperes)
        return;
    if (by_outputs > sum / 2) {
        tl_finding *f = tl_report_add(k->report, TL_ERROR, "over-budget", rail->place,
                                      "the outputs draw more from %s than its budget", rail->name);
        tl_finding_text(&f->figure, "%s together, budget %s", tl_show(sum, TL_DIM_AMPERE, TL_ROUND_UP).text,
                        tl_show(rail->most_amperes, TL_DIM_AMPERE, TL_ROUND_DOWN).text);
        tl_finding_text(&f->fix, "a stronger supply, a lighter load, or see that they are never on together");
        return;
    }
    const tl_signal *s = &k->plan->signals[hungriest];
    const tl_stage *divider = tl_check_stage(s, TL_STAGE_DIVIDER);
    tl_finding *f =
        tl_report_add(k->report, TL_ERROR, "over-budget", divider != NULL ? divider->place : s->place,
                      "more is drawn from %s than its budget", rail->name);
    tl_finding_text(&f->figure, "%s together, budget %s; %s of it by %s",
                    tl_show(sum, TL_DIM_AMPERE, TL_ROUND_UP).text,
                    tl_show(rail->most_amperes, TL_DIM_AMPERE, TL_ROUND_DOWN).text,
                    tl_show(largest, TL_DIM_AMPERE, TL_ROUND_UP).text, s->name);
    const double others = sum - largest;
    if (divider != NULL && others < rail->most_amperes)
        tl_finding_text(&f->fix, "make both legs of its divider at least %.1f times larger",
                        ceil(10 * largest / (rail->most_amperes - others)) / 10);
    else
        tl_finding_text(&f->fix, "make the resistances of %s larger", s->name);
}

/* Parts that stand without a tolerance, and where the first of them is. */
typedef struct {
    tl_place first;
    int count;
} untoleranced_parts;

static void count_untoleranced(void *context, tl_written *part, tl_dimension dimension, bool fitted)
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
    tl_plan_visit_parts(k->plan, count_untoleranced, &found);
    if (found.count == 0)
        return;
    tl_finding *f = tl_report_add(k->report, TL_NOTE, "no-tolerance", found.first,
                                  "%d part%s without tolerance, this one first: taken as exact", found.count,
                                  found.count == 1 ? " is" : "s are");
    tl_finding_text(&f->fix, "say what the part is: 10k ±1 %%");
}

/* How often a value is wanted from the drawer, and where first. */
typedef struct {
    double value;
    tl_place first;
    int count;
} wanted_parts;

static void count_wanted(void *context, tl_written *part, tl_dimension dimension, bool fitted)
{
    wanted_parts *wanted = context;
    for (int i = 0; i < 2 && dimension == TL_DIM_OHM && !fitted; i++) {
        if (fabs(part->parts[i] - wanted->value) <= 1e-9 * wanted->value && wanted->count++ == 0)
            wanted->first = part->place;
    }
}

/* Of all tolerances together; -1 for plenty. */
static int count_there(const tl_stock *stock, double value)
{
    int there = 0;
    for (int i = 0; i < stock->count; i++) {
        if (fabs(stock->parts[i].value - value) > 1e-9 * value)
            continue;
        if (stock->parts[i].count < 0)
            return -1;
        there += stock->parts[i].count;
    }
    return there;
}

void tl_check_drawer(const tl_checker *k)
{
    const tl_stock *stock = &k->plan->resistors;
    for (int i = 0; k->plan->has_drawer && i < stock->count; i++) {
        const double value = stock->parts[i].value;
        wanted_parts wanted = {value, {-1, 0, 0}, 0};
        char code[32];
        if (i > 0 && stock->parts[i - 1].value >= value * (1 - 1e-9))
            continue; /* the same value with another tolerance: counted already */
        const int there = count_there(stock, value);
        if (there >= 0)
            tl_plan_visit_parts(k->plan, count_wanted, &wanted);
        if (wanted.count <= there || there < 0)
            continue;
        tl_finding *f = tl_report_add(k->report, TL_WARNING, "drawer-exhausted", wanted.first,
                                      "the drawer holds too few of %s, this one first",
                                      tl_letter_code_write(value, code));
        tl_finding_text(&f->figure, "%d wanted, %d there", wanted.count, there);
        tl_finding_text(&f->fix, "buy some, or ask 'size' for another value: --drawer FILE --plan FILE");
    }
}
