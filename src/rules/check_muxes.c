/* SPDX-License-Identifier: MIT */
/* Rules for multiplexers: their lines, their inputs, and how long they take. */
#include "analysis/ask.h"
#include "rules/check.h"
#include <math.h>

static int selects_needed(int inputs)
{
    int bits = 0;
    while (1 << bits < inputs)
        bits++;
    return bits;
}

static bool is_used(const tl_checker *k, int pin)
{
    for (int i = 0; i < k->plan->signal_count; i++) {
        if (k->plan->signals[i].pin == pin)
            return true;
    }
    for (int m = 0; m < k->plan->mux_count; m++) {
        if (k->plan->muxes[m].common == pin)
            return true;
    }
    return false;
}

static int highest_used(const tl_checker *k, const tl_mux *mux)
{
    int highest = -1;
    for (int i = 0; i < mux->part->inputs; i++)
        highest = is_used(k, mux->first_pin + i) ? i : highest;
    return highest;
}

static void check_tied(const tl_checker *k, const tl_mux *mux)
{
    for (int i = 0; i < mux->part->inputs; i++) {
        if (mux->tied[i] == TL_OPEN || !is_used(k, mux->first_pin + i))
            continue;
        tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_TIED_INPUT, mux->tied_place,
                                     "input %d of %s is used and also tied to %s", i, mux->name,
                                     mux->tied[i] < 0 ? "ground" : k->plan->supplies[mux->tied[i]].name);
        tl_finding_text(&f->fix, "remove input %d from 'tied'", i);
        return;
    }
}

static void check_selects(const tl_checker *k, const tl_mux *mux)
{
    const int needed = selects_needed(mux->part->inputs);
    if (mux->select_count != needed) {
        tl_finding *f =
            tl_check_add(k, TL_USUAL, TL_RULE_SELECT_MISSING, mux->select_place,
                         "%s has %d select line%s; %d inputs need %d", mux->name, mux->select_count,
                         mux->select_count == 1 ? "" : "s", mux->part->inputs, needed);
        tl_finding_text(&f->figure, "input %d cannot be reached", highest_used(k, mux));
        tl_finding_text(
            &f->fix,
            "list all select lines, lowest bit first; an unused one may be a rail: select: [.., ground]");
    }
    for (int i = 0; i < mux->select_count; i++) {
        for (int j = 0; j < i; j++) {
            if (mux->select[i].pin == TL_NONE || mux->select[i].pin != mux->select[j].pin)
                continue;
            tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_SELECT_SHARED, mux->select[i].place,
                                         "%s: two select lines are on one pin", mux->name);
            tl_finding_text(&f->fix, "give each select line its own pin");
        }
        /* A bit that is held permanently hides the inputs whose number has it the other way. */
        for (int input = 0; mux->select[i].pin == TL_NONE && input < mux->part->inputs; input++) {
            if (((input >> i & 1) != 0) != tl_plan_rail_is_low(k->plan, mux->select[i].rail) ||
                !is_used(k, mux->first_pin + input))
                continue;
            tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_SELECT_MISSING, mux->select[i].place,
                                         "input %d of %s cannot be selected: a select line is tied to a rail",
                                         input, mux->name);
            tl_finding_text(&f->fix, "connect the select line to a pin, or move the signal");
            break;
        }
    }
}

/* The level that a way through a multiplexer asks of a pin: one of its select lines, or its enable line. -1:
 * none. */
static int level_asked(const tl_mux *mux, int input, int pin)
{
    for (int bit = 0; bit < mux->select_count; bit++) {
        if (mux->select[bit].pin == pin)
            return input >> bit & 1;
    }
    return mux->enable.given && mux->enable.pin == pin ? mux->part->enable == 2 : -1;
}

/* A tree asks every level of it at once: inputs whose levels contradict each other can never be reached. */
static void check_tree(const tl_checker *k, const tl_mux *mux)
{
    int lost = 0, first = TL_NONE, pin_of_both = TL_NONE;
    for (int input = 0; input < mux->part->inputs; input++) {
        int contradicts = TL_NONE;
        for (int step = mux->common; k->plan->pins[step].mux != TL_NONE;
             step = k->plan->muxes[k->plan->pins[step].mux].common) {
            const tl_mux *behind = &k->plan->muxes[k->plan->pins[step].mux];
            for (int pin = 0; pin < k->plan->board->pin_count; pin++) {
                const int here = level_asked(mux, input, pin),
                          there = level_asked(behind, k->plan->pins[step].input, pin);
                contradicts = here >= 0 && there >= 0 && here != there ? pin : contradicts;
            }
        }
        if (contradicts == TL_NONE || !is_used(k, mux->first_pin + input))
            continue;
        first = lost++ == 0 ? input : first;
        pin_of_both = contradicts;
    }
    if (lost == 0)
        return;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_SELECT_SHARED, mux->select_place,
                                 "%d input%s of %s cannot be reached: the next multiplexer uses %s, too",
                                 lost, lost == 1 ? "" : "s", mux->name, k->plan->pins[pin_of_both].name);
    tl_finding_text(&f->figure, "input %d first: the two multiplexers need different levels of the pin",
                    first);
    tl_finding_text(&f->fix, "give each multiplexer of a tree its own select pins");
}

/* What the part takes for a high is not in its file: seven tenths of its supply is usual. */
static void check_select_levels(const tl_checker *k, const tl_mux *mux)
{
    const double wanted = tl_vih_share * k->plan->supplies[mux->supply].volts.high;
    const tl_line_holder *lowest = NULL;
    double least = INFINITY;
    for (int i = 0; i <= mux->select_count; i++) {
        const tl_line_holder *holder = i < mux->select_count ? &mux->select[i] : &mux->enable;
        if (!holder->given || holder->pin == TL_NONE)
            continue;
        const tl_pin_limits *limits = &k->plan->pins[holder->pin].limits;
        const double high = tl_level_volts(limits->voh, k->plan->supplies[limits->supply].volts.low);
        if (high < least) {
            least = high;
            lowest = holder;
        }
    }
    if (lowest == NULL || least >= wanted)
        return;
    tl_finding *f =
        tl_check_add(k, TL_USUAL, TL_RULE_SELECT_LEVEL, lowest->place,
                     "%s: its high level may be too low for the select lines of %s on %s",
                     k->plan->pins[lowest->pin].name, mux->name, k->plan->supplies[mux->supply].name);
    tl_finding_figures(f, TL_DIM_VOLT, least, wanted);
    tl_finding_text(&f->figure, "high level %s min; usual VIH %s (the part file states none)",
                    tl_show(least, TL_DIM_VOLT, TL_ROUND_DOWN).text,
                    tl_show(wanted, TL_DIM_VOLT, TL_ROUND_UP).text);
    tl_finding_text(&f->fix, "supply it from the rail of the pins, or use a part with a lower VIH");
}

static void check_enable(const tl_checker *k, const tl_mux *mux)
{
    if (mux->part->enable == 0)
        return;
    const bool held_off = mux->enable.given && mux->enable.pin == TL_NONE &&
                          tl_plan_rail_is_low(k->plan, mux->enable.rail) == (mux->part->enable == 2);
    if (mux->enable.given && !held_off)
        return;
    tl_finding *f =
        tl_check_add(k, TL_USUAL, TL_RULE_ENABLE_UNDRIVEN, mux->enable.given ? mux->enable.place : mux->place,
                     held_off ? "%s: its enable line is tied off" : "%s: its enable line floats", mux->name);
    tl_finding_text(&f->fix, "set enable: %s  (active %s), or a pin",
                    mux->part->enable == 1 ? "ground" : k->plan->supplies[mux->supply].name,
                    mux->part->enable == 1 ? "low" : "high");
    tl_finding_change(f, TL_CHANGE_KEY_OF, mux->place, "enable", "%s",
                      mux->part->enable == 1 ? "ground" : k->plan->supplies[mux->supply].name);
}

/* `5 .. 7`, with what is written behind each range. */
static size_t write_range(char *text, size_t at, size_t size, int first, int last, const char *after)
{
    const char *before = at > 0 && text[at - 1] != '{' ? ", " : "";
    const int length = first == last
                           ? snprintf(text + at, size - at, "%s%d%s", before, first, after)
                           : snprintf(text + at, size - at, "%s%d .. %d%s", before, first, last, after);
    return at + (size_t)length < size ? at + (size_t)length : size - 1;
}

static void check_inputs(const tl_checker *k, const tl_mux *mux)
{
    enum { LONGEST = 400 }; /* 16 ranges of 32 inputs */
    char list[LONGEST] = "", tied[LONGEST] = "{";
    size_t list_length = 0, tied_length = 1;
    int open = 0, first = TL_NONE;
    bool any_tied = false;
    for (int i = 0; i <= mux->part->inputs; i++) {
        const bool is_open =
            i < mux->part->inputs && mux->tied[i] == TL_OPEN && !is_used(k, mux->first_pin + i);
        any_tied = any_tied || (i < mux->part->inputs && mux->tied[i] != TL_OPEN);
        open += is_open;
        if (is_open && first == TL_NONE)
            first = i;
        if (is_open || first == TL_NONE)
            continue;
        list_length = write_range(list, list_length, sizeof list, first, i - 1, "");
        tied_length = write_range(tied, tied_length, sizeof tied, first, i - 1, ": ground");
        first = TL_NONE;
    }
    if (open == 0)
        return;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_MUX_FLOATING, mux->place,
                                 open == 1 ? "input %s of %s is unused and floats"
                                           : "inputs %s of %s are unused and float",
                                 list, mux->name);
    tl_finding_text(&f->figure, "a floating input can leave the supply range and disturb the selected one");
    tl_finding_text(&f->fix, any_tied ? "add to tied: %s}" : "set tied: %s}", tied);
    if (!any_tied)
        tl_finding_change(f, TL_CHANGE_KEY_OF, mux->place, "tied", "%s}", tied);
}

/* What the chain brings must lie within what the multiplexer passes. */
static void check_signal(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_pin *pin = tl_check_pin(k, signal);
    const tl_mux *mux = &k->plan->muxes[pin->mux];
    tl_ask asks[2];
    tl_bounds bounds[2];
    for (int high = 0; high < 2; high++)
        asks[high] = tl_ask_against(
            signal, 0, k->circuit->signals[signal].end,
            tl_level_value(k->circuit, high ? mux->part->highest : mux->part->lowest, mux->supply));
    if (tl_circuit_ask_all(k->circuit, asks, 2, bounds) != TL_NET_SOLVED)
        return;
    for (int high = 0; high < 2; high++) {
        const tl_bounds volts = bounds[high];
        const double over = high ? volts.high : -volts.low;
        if (over <= 0.01) /* a leakage through the source is no matter */
            continue;
        tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_MUX_RANGE, s->pin_place,
                                     "%s exceeds the signal range of %s", s->name, mux->name);
        tl_finding_figures(f, TL_DIM_VOLT, over, 0);
        tl_finding_text(&f->figure, "%s beyond the %s limit; supply %s",
                        tl_show(over, TL_DIM_VOLT, TL_ROUND_UP).text, high ? "upper" : "lower",
                        k->plan->supplies[mux->supply].name);
        tl_check_corner(k, f, &volts, high ? volts.high_at : volts.low_at);
        tl_finding_text(&f->fix, "divide it down, or supply the multiplexer from a higher rail");
        return;
    }
}

/* After dwell and acquisition together no more than half a count may be left of the channel before. */
static void check_dwell(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_mux *mux = &k->plan->muxes[tl_check_pin(k, signal)->mux];
    const tl_analog_path *path = tl_circuit_path(k->circuit, signal);
    if (isnan(mux->dwell) || mux->dwell >= path->dwell_needed || path->settling_counts <= 0.5)
        return;
    const bool useless = path->settling_counts > path->range_counts / 100;
    tl_finding *f =
        tl_check_add(k, useless ? TL_GRAVE : TL_USUAL, TL_RULE_DWELL_SHORT, mux->dwell_place,
                     "%s: the time after switching is too short for %s to settle", mux->name, s->name);
    tl_finding_figures(f, TL_DIM_SECOND, mux->dwell, path->dwell_needed);
    tl_finding_text(&f->figure, "dwell %s; half a count needs %s",
                    tl_show(mux->dwell, TL_DIM_SECOND, TL_ROUND_NEAREST).text,
                    tl_show(path->dwell_needed, TL_DIM_SECOND, TL_ROUND_UP).text);
    const tl_shown longer = tl_show(1.05 * path->dwell_needed, TL_DIM_SECOND, TL_ROUND_UP);
    tl_finding_text(&f->fix, "set dwell: %s, or remove the key", longer.text);
    tl_finding_change(f, TL_CHANGE_VALUE, mux->dwell_place, NULL, "%s", longer.text);
}

void tl_check_muxes(const tl_checker *k)
{
    for (int m = 0; m < k->plan->mux_count; m++) {
        const tl_mux *mux = &k->plan->muxes[m];
        int slowest = TL_NONE;
        check_tied(k, mux);
        check_selects(k, mux);
        check_tree(k, mux);
        check_select_levels(k, mux);
        check_enable(k, mux);
        check_inputs(k, mux);
        for (int i = 0; i < k->plan->signal_count; i++) {
            if (tl_check_pin(k, i)->mux != m ||
                tl_circuit_worst_case(k->circuit, i, 0)->fault != TL_NET_SOLVED)
                continue;
            check_signal(k, i);
            const tl_analog_path *path = k->plan->signals[i].analog ? tl_circuit_path(k->circuit, i) : NULL;
            if (path != NULL && path->fault == TL_NET_SOLVED &&
                (slowest == TL_NONE ||
                 path->dwell_needed > tl_circuit_path(k->circuit, slowest)->dwell_needed))
                slowest = i;
        }
        if (slowest != TL_NONE)
            check_dwell(k, slowest);
    }
}
