/*
 * Rules over the plan as a whole: pins taken twice, supply budgets, tolerances left out, the drawer.
 */
#include "check.h"
#include <math.h>

void tl_check_pin_taken(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    char free_pins[200];
    for (int other = 0; other < signal; other++) {
        if (k->plan->signals[other].pin != s->pin)
            continue;
        tl_finding *f =
            tl_report_add(k->report, TL_ERROR, "pin-taken", s->pin_place,
                          "%s is taken: %s uses it already (line %d)", tl_check_pin(k, signal)->name,
                          k->plan->signals[other].name, k->plan->signals[other].pin_place.line);
        tl_check_free_pins(k, s->analog, free_pins, sizeof free_pins);
        tl_finding_text(&f->fix, "pins that could take %s and are free: %s", s->name, free_pins);
        return;
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
    if (sum <= rail->most_amperes)
        return;
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
    if (part->value.low == part->value.high && part->place.file >= 0 && found->count++ == 0)
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
