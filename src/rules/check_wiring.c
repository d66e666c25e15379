/* SPDX-License-Identifier: MIT */
/* Rules of what is wired and put in: pins taken twice, tolerances left out, the drawer. */
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
        tl_finding *f = tl_check_add(
            k, TL_USUAL, selects ? TL_RULE_SELECT_SHARED : TL_RULE_PIN_TAKEN, use.place,
            selects ? "%s is shared with the %s %s (line %d)" : "%s is already used by the %s %s (line %d)",
            k->plan->pins[pin].name, first.what, first.owner, first.place.line);
        tl_check_free_pins(k, analog, free_pins, sizeof free_pins);
        tl_finding_text(&f->fix, "move the %s %s to a free pin: %s", use.what, use.owner, free_pins);
    }
}

/* Pins of the board, and inputs of the plan's own multiplexers and converters. */
void tl_check_pins(const tl_checker *k)
{
    for (int pin = 0; pin < k->plan->pin_count; pin++)
        check_pin(k, pin);
}

/* The next part that could come from a drawer; after: NULL for the first. */
static const tl_plan_part *next_bought(const tl_checker *k, const tl_plan_part *after)
{
    const tl_parts *parts = &k->circuit->parts;
    for (int i = after == NULL ? 0 : (int)(after - parts->part) + 1; i < parts->count; i++) {
        if (tl_part_is_bought(&parts->part[i]))
            return &parts->part[i];
    }
    return NULL;
}

/* A part without any tolerance is exact to the checker: that rests on what the plan does not say. */
void tl_check_tolerances(const tl_checker *k)
{
    int count = 0;
    tl_place first = {-1, 0, 0};
    double nominal = 0;
    tl_dimension dimension = TL_DIM_OHM;
    for (const tl_plan_part *part = NULL; (part = next_bought(k, part)) != NULL;) {
        const tl_located *value = part->value;
        if (value->value.low == value->value.high && value->place.line > 0 && count++ == 0) {
            first = value->place;
            nominal = value->value.nominal;
            dimension = tl_role_of(part->role)->dimension;
        }
    }
    if (count == 0)
        return;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_NO_TOLERANCE, first,
                                 "%d part%s without tolerance and assumed exact; the first one is here",
                                 count, count == 1 ? " is" : "s are");
    char code[32];
    tl_finding_text(&f->fix, "add its tolerance: %s ±%d %%, or as printed on it",
                    dimension == TL_DIM_OHM ? tl_letter_code_write(nominal, code)
                                            : tl_part_write(nominal, dimension, code),
                    dimension == TL_DIM_OHM ? 1 : 10);
}

void tl_check_template(const tl_checker *k)
{
    const tl_board *board = k->plan->board;
    if (board->from_template == NULL)
        return;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_TEMPLATE_VALUES, board->template_place,
                                 "some values of %s are still those of the template", board->title);
    tl_finding_text(&f->figure, "not looked up yet: %s", board->from_template);
    tl_finding_text(&f->fix,
                    "look them up as docs/board-guide.md shows, then remove their names from 'template'");
}

static double tolerance_of(const tl_quantity *q)
{
    return q->high / q->nominal - 1;
}

/* How often a value is required from the drawer so close, and where first. */
static int count_wanted(const tl_checker *k, double value, double tolerance, tl_place *first)
{
    int count = 0;
    for (const tl_plan_part *part = NULL; (part = next_bought(k, part)) != NULL;) {
        const tl_located *written = part->value;
        const double closest = tolerance_of(&written->value);
        if (part->fitted || tl_role_of(part->role)->dimension != TL_DIM_OHM)
            continue;
        for (int i = 0; i < 2; i++) {
            /* What is written without a tolerance is served by any. */
            if (fabs(written->parts[i] - value) <= 1e-9 * value &&
                (closest <= 0 ? 1 : closest) <= tolerance * (1 + 1e-6) && count++ == 0)
                *first = written->place;
        }
    }
    return count;
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
    tl_place first = {-1, 0, 0};
    char code[32];
    const int there = count_there(&k->plan->resistors, value, tolerance);
    const int wanted = there < 0 ? 0 : count_wanted(k, value, tolerance, &first);
    if (there < 0 || wanted <= there)
        return true;
    tl_finding *f =
        tl_check_add(k, TL_USUAL, TL_RULE_DRAWER_EXHAUSTED, first,
                     "not enough %s resistors%s in the drawer; the first one is here",
                     tl_letter_code_write(value, code), tolerance < 1 ? " of this tolerance" : "");
    tl_finding_figures(f, TL_DIM_NUMBER, wanted, there);
    tl_finding_text(&f->figure, "%d needed; %d in stock", wanted, there);
    tl_finding_text(&f->fix, "buy some, or size another value: tinyladder size .. --drawer FILE --plan FILE");
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

/* Away from the rail that the source closes to. */
static void propose_pull(const tl_checker *k, const tl_signal *s, tl_finding *f)
{
    char ohms[40];
    const bool up = s->source.supply == TL_TO_GROUND;
    const char *value = tl_fix_pull(k, ohms),
               *rail = up ? k->plan->supplies[tl_check_pin_supply(k, s)].name : "ground";
    if (value == NULL)
        return;
    tl_finding_text(&f->fix, "add the stage  - pull: {%s: %s, to: %s}", up ? "up" : "down", value, rail);
    tl_finding_change(f, TL_CHANGE_STAGE, s->place, "pull", "{%s: %s, to: %s}", up ? "up" : "down", value,
                      rail);
}

void tl_check_fault(const tl_checker *k, int signal, tl_net_status fault)
{
    if (fault == TL_NET_FLOATING && k->plan->signals[signal].source.kind == TL_SOURCE_CURRENT) {
        tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_FLOATING_INPUT, k->plan->signals[signal].pin_place,
                                     "%s: no load resistor turns its current into a voltage",
                                     k->plan->signals[signal].name);
        tl_finding_text(&f->fix, "add the stage  - load: R  (tinyladder size loop)");
        return;
    }
    const tl_signal *s = &k->plan->signals[signal];
    const char *pin = tl_check_pin(k, signal)->name;
    if (fault == TL_NET_FLOATING && s->source.kind == TL_SOURCE_OPEN_COLLECTOR) {
        tl_finding *f =
            tl_check_add(k, TL_USUAL, TL_RULE_NO_PULL, s->pin_place,
                         "%s: no pull resistor on %s; its output drives one level only", s->name, pin);
        propose_pull(k, s, f);
        return;
    }
    if (fault != TL_NET_FLOATING) {
        tl_check_add(k, TL_USUAL, fault == TL_NET_SHORTED ? TL_RULE_SHORTED : TL_RULE_UNSOLVED,
                     s->source.place, "%s: %s", s->name, tl_net_status_text(fault));
        return;
    }
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_FLOATING_INPUT, s->pin_place,
                                 "%s floats while the contact of %s is open", pin, s->name);
    tl_finding_text(&f->figure, "an open input reads at random; a pull resistor must hold its level");
    propose_pull(k, s, f);
}
