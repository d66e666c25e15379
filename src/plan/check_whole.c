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

/* The most that one signal draws from a supply, over both states of its contact. */
static double most_amperes(const tl_checker *k, int signal, int supply)
{
    double most = tl_circuit_worst(k->circuit, signal, false)->amperes[supply];
    if (k->circuit->signals[signal].contact != TL_NET_NONE)
        most = fmax(most, tl_circuit_worst(k->circuit, signal, true)->amperes[supply]);
    return most;
}

void tl_check_budget(const tl_checker *k, int supply)
{
    const tl_supply *rail = &k->plan->supplies[supply];
    double sum = 0, largest = 0;
    int hungriest = 0;
    if (!isfinite(rail->most_amperes))
        return;
    for (int i = 0; i < k->plan->signal_count; i++) {
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

/* A part without any tolerance is exact to the tl_checker: that rests on what the plan does not say. */
void tl_check_tolerances(const tl_checker *k)
{
    tl_place first = {-1, 0, 0};
    int count = 0;
    for (int i = 0; i < k->plan->signal_count; i++) {
        const tl_signal *s = &k->plan->signals[i];
        for (int j = 0; j < s->stage_count; j++) {
            const tl_written *parts[2] = {&s->stages[j].first, &s->stages[j].second};
            for (int p = 0; p < 2; p++) {
                if (!parts[p]->given || parts[p]->value.low != parts[p]->value.high)
                    continue;
                if (count++ == 0)
                    first = parts[p]->place;
            }
        }
    }
    if (count == 0)
        return;
    tl_finding *f = tl_report_add(k->report, TL_NOTE, "no-tolerance", first,
                                  "%d part%s without tolerance, this one first: taken as exact", count,
                                  count == 1 ? " is" : "s are");
    tl_finding_text(&f->fix, "say what the part is: 10k ±1 %%");
}

/* How often the plan wants a resistor of this value from the drawer, and where it does so first. */
static int count_wanted(const tl_checker *k, double value, tl_place *first)
{
    int wanted = 0;
    for (int i = 0; i < k->plan->signal_count; i++) {
        const tl_signal *s = &k->plan->signals[i];
        for (int j = 0; j < s->stage_count; j++) {
            const tl_stage *stage = &s->stages[j];
            const tl_written *parts[2] = {&stage->first, &stage->second};
            const bool farads = stage->kind == TL_STAGE_CAPACITOR || stage->kind == TL_STAGE_CABLE;
            const int legs = stage->fitted || farads ? 0 : stage->kind == TL_STAGE_FILTER ? 1 : 2;
            for (int p = 0; p < 2 * legs; p++) {
                if (!parts[p / 2]->given || fabs(parts[p / 2]->parts[p % 2] - value) > 1e-9 * value)
                    continue;
                if (wanted++ == 0)
                    *first = parts[p / 2]->place;
            }
        }
    }
    return wanted;
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
        tl_place first = {-1, 0, 0};
        char code[32];
        if (i > 0 && stock->parts[i - 1].value >= value * (1 - 1e-9))
            continue; /* the same value with another tolerance: counted already */
        const int there = count_there(stock, value), wanted = there >= 0 ? count_wanted(k, value, &first) : 0;
        if (wanted <= there || there < 0)
            continue;
        tl_finding *f = tl_report_add(k->report, TL_WARNING, "drawer-exhausted", first,
                                      "the drawer holds too few of %s, this one first",
                                      tl_letter_code_write(value, code));
        tl_finding_text(&f->figure, "%d wanted, %d there", wanted, there);
        tl_finding_text(&f->fix, "buy some, or ask 'size' for another value: --drawer FILE --plan FILE");
    }
}
