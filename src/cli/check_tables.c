/* SPDX-License-Identifier: MIT */
/*
 * The worst cases that were checked, so that a clean answer says what it rests on: analog pins with their
 * settling, digital pins in both states beside their thresholds, outputs with their currents. What is the
 * same for all is said once above the table; equal rows of numbered names are one row.
 */
#include "cli/check_tables.h"
#include "elaborate/circuit_struct.h"
#include "printing/columns.h"
#include "printing/printing.h"
#include "printing/tables.h"
#include "tinyladder/design/measurement.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum { FIGURES_MOST = 8 };

/* A column of figures, of all rows. */
typedef struct {
    const char *head;
    tl_dimension dimension;
    column_kind kind;
    tl_rounding rounding;
} column;

typedef struct {
    char name[80], pin[80];
    const char *instead; /* said in place of the figures */
    double of[FIGURES_MOST];
    ink colours[FIGURES_MOST]; /* of a figure that is close to its limit, or beyond it */
} row;

typedef struct {
    const char *first; /* head of the names */
    const column *columns;
    int column_count;
    row *rows;
    int count;
} block;

/* --- rows --- */

/* Of all columns of a dimension: they have one prefix. */
static double largest_of(const block *b, tl_dimension dimension)
{
    double largest = 0;
    for (int i = 0; i < b->column_count; i++) {
        for (int k = 0; k < b->count && b->columns[i].dimension == dimension; k++)
            largest = fmax(largest, isfinite(b->rows[k].of[i]) ? fabs(b->rows[k].of[i]) : 0);
    }
    return largest;
}

static bool has_entry(const block *b, int which)
{
    for (int k = 0; k < b->count; k++) {
        if (!isnan(b->rows[k].of[which]))
            return true;
    }
    return false;
}

/* A block's rows; a column without an entry is left out. */
static void print_block(const block *b)
{
    column_form forms[FIGURES_MOST];
    table t;
    int filled[FIGURES_MOST], filled_count = 0;
    double *values = must(calloc((size_t)b->count + 1, sizeof *values));
    char text[40], alignment[FIGURES_MOST + 3] = "<<";
    for (int i = 0; i < b->column_count; i++) {
        if (!has_entry(b, i))
            continue;
        for (int k = 0; k < b->count; k++)
            values[k] = b->rows[k].of[i];
        forms[i] = column_of(values, b->count, b->columns[i].dimension, b->columns[i].kind,
                             largest_of(b, b->columns[i].dimension));
        filled[filled_count++] = i;
        strcat(alignment, ">");
    }
    table_begin(&t, 2 + filled_count, alignment);
    table_heads(&t, b->first, "pin");
    for (int i = 0; i < filled_count; i++)
        table_cell(&t, "%s, %s", b->columns[filled[i]].head, forms[filled[i]].unit);
    for (int k = 0; k < b->count; k++) {
        table_heads(&t, b->rows[k].name, b->rows[k].pin);
        for (int i = 0; i < filled_count; i++) {
            const int at = filled[i];
            table_cell(&t, "%s",
                       b->rows[k].instead == NULL
                           ? column_text(&forms[at], b->rows[k].of[at], b->columns[at].rounding, text)
                       : i == 0 ? b->rows[k].instead
                                : "");
            if (b->rows[k].instead == NULL)
                table_ink(&t, b->rows[k].colours[at]);
        }
    }
    table_join_rows(&t, 2);
    putchar('\n');
    table_end(&t, stdout, "  ");
    free(values);
}

/* --- limits --- */

typedef struct {
    double low, high; /* absolute minimum and maximum, at the corner of the supply that is worst */
} span;

static span limits_of(tl_circuit *circuit, int signal)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    const tl_pin_limits *limits = &plan->pins[plan->signals[signal].pin].limits;
    double least, most;
    tl_net_param_span(tl_circuit_net(circuit), tl_circuit_supply_param(circuit, limits->supply), &least,
                      &most);
    return (span){tl_level_volts(limits->lowest, most), tl_level_volts(limits->highest, least)};
}

/* Where all pins have the same limits, they are said once. */
static bool share_limits(tl_circuit *circuit, span *all)
{
    const int count = tl_circuit_plan(circuit)->signal_count;
    *all = count > 0 ? limits_of(circuit, 0) : (span){NAN, NAN};
    for (int i = 1; i < count; i++) {
        const span own = limits_of(circuit, i);
        if (own.low != all->low || own.high != all->high)
            return false;
    }
    return count > 0;
}

/* --- colours --- */

/* A figure that must not exceed its limit, comfortable up to a share of that. */
static ink ink_below(double value, double limit, double share)
{
    return !(limit > 0) || isnan(value) ? INK_PLAIN
           : value > limit * (1 + 1e-9) ? INK_ERROR
           : value > limit * share      ? INK_WARNING
                                        : INK_PLAIN;
}

static ink ink_above(double value, double limit, double share)
{
    return !(limit > 0) || isnan(value) ? INK_PLAIN
           : value < limit * (1 - 1e-9) ? INK_ERROR
           : value < limit / share      ? INK_WARNING
                                        : INK_PLAIN;
}

/* What size counts as comfortable, too. */
static const double volts_share = 0.97, current_share = 0.8;

/* Of a state that is low or high in every corner; of neither, both ends are wrong. */
static void colour_level(row *r, int state, double vil, double vih)
{
    const double low = r->of[2 * state], high = r->of[2 * state + 1];
    ink *colours = &r->colours[2 * state];
    if (high <= vil)
        colours[1] = ink_below(high, vil, volts_share);
    else if (low >= vih)
        colours[0] = ink_above(low, vih, volts_share);
    else if (!isnan(vil) && !isnan(vih))
        colours[0] = colours[1] = INK_ERROR;
}

/* --- the three tables --- */

static row *start_row(block *b, const tl_plan *plan, int signal)
{
    const tl_signal *s = &plan->signals[signal];
    row *r = &b->rows[b->count++];
    snprintf(r->name, sizeof r->name, "%s", s->name);
    snprintf(r->pin, sizeof r->pin, "%s", plan->pins[s->pin].name);
    for (int i = 0; i < FIGURES_MOST; i++)
        r->of[i] = NAN;
    return r;
}

static void print_analog(tl_circuit *circuit, bool limits_shared, bool fine)
{
    static const column columns[] = {
        {"pin min", TL_DIM_VOLT, COLUMN_VOLTS, TL_ROUND_DOWN},
        {"pin max", TL_DIM_VOLT, COLUMN_VOLTS, TL_ROUND_UP},
        {"source resistance", TL_DIM_OHM, COLUMN_FIGURES, TL_ROUND_UP},
        {"acquisition", TL_DIM_SECOND, COLUMN_TYPED, TL_ROUND_NEAREST},
        {"settling error", TL_DIM_COUNT, COLUMN_FIGURES, TL_ROUND_UP},
        {"abs. max", TL_DIM_VOLT, COLUMN_VOLTS, TL_ROUND_DOWN},
    };
    const tl_plan *plan = tl_circuit_plan(circuit);
    block b = {.first = "analog signal",
               .columns = columns,
               .column_count = limits_shared ? 5 : 6,
               .rows = must(calloc((size_t)plan->signal_count + 1, sizeof(row)))};
    for (int i = 0; i < plan->signal_count; i++) {
        if (!plan->signals[i].analog || tl_circuit_is_fine(circuit, i) != fine)
            continue;
        row *r = start_row(&b, plan, i);
        const tl_worst_case *worst = tl_circuit_worst_case(circuit, i, 0);
        const tl_analog_path *path =
            plan->pins[plan->signals[i].pin].channel >= 0 ? tl_circuit_path(circuit, i) : NULL;
        r->instead = worst->fault == TL_NET_SOLVED ? NULL : "floating";
        r->of[0] = worst->volts.low;
        r->of[1] = worst->volts.high;
        const span limits = limits_of(circuit, i);
        r->of[5] = limits.high;
        r->colours[0] = ink_below(-worst->volts.low, -limits.low, volts_share);
        r->colours[1] = ink_below(worst->volts.high, limits.high, volts_share);
        if (path == NULL || path->fault != TL_NET_SOLVED)
            continue;
        r->of[2] = path->source_ohms;
        if (path->acquisition > 0) { /* else the converter settles by itself */
            r->of[3] = path->acquisition;
            r->of[4] = path->settling_counts;
            r->colours[4] = ink_below(path->settling_counts, 0.5, current_share);
        }
    }
    if (b.count > 0)
        print_block(&b);
    free(b.rows);
}

static void print_digital(tl_circuit *circuit, bool limits_shared)
{
    static const column columns[] = {
        {"at rest min", TL_DIM_VOLT, COLUMN_VOLTS, TL_ROUND_DOWN},
        {"at rest max", TL_DIM_VOLT, COLUMN_VOLTS, TL_ROUND_UP},
        {"active min", TL_DIM_VOLT, COLUMN_VOLTS, TL_ROUND_DOWN},
        {"active max", TL_DIM_VOLT, COLUMN_VOLTS, TL_ROUND_UP},
        {"VIL", TL_DIM_VOLT, COLUMN_VOLTS, TL_ROUND_DOWN},
        {"VIH", TL_DIM_VOLT, COLUMN_VOLTS, TL_ROUND_UP},
        {"abs. max", TL_DIM_VOLT, COLUMN_VOLTS, TL_ROUND_DOWN},
    };
    const tl_plan *plan = tl_circuit_plan(circuit);
    block b = {.first = "digital signal",
               .columns = columns,
               .column_count = limits_shared ? 6 : 7,
               .rows = must(calloc((size_t)plan->signal_count + 1, sizeof(row)))};
    for (int i = 0; i < plan->signal_count; i++) {
        const tl_pin_limits *limits = &plan->pins[plan->signals[i].pin].limits;
        if (plan->signals[i].analog)
            continue;
        row *r = start_row(&b, plan, i);
        double least, most;
        tl_net_param_span(tl_circuit_net(circuit), tl_circuit_supply_param(circuit, limits->supply), &least,
                          &most);
        for (int state = 0; state < 2; state++) {
            const tl_worst_case *worst = tl_circuit_worst_case(circuit, i, state);
            if (worst->fault != TL_NET_SOLVED)
                r->instead = "floating";
            r->of[2 * state] = worst->volts.low;
            r->of[2 * state + 1] = worst->volts.high;
        }
        r->of[4] = tl_level_volts(limits->vil, least);
        r->of[5] = tl_level_volts(limits->vih, most);
        r->of[6] = limits_of(circuit, i).high;
        for (int state = 0; state < 2; state++)
            colour_level(r, state, r->of[4], r->of[5]);
    }
    if (b.count > 0)
        print_block(&b);
    free(b.rows);
}

static void print_outputs(tl_circuit *circuit)
{
    static const column columns[] = {
        {"current per pin", TL_DIM_AMPERE, COLUMN_FIGURES, TL_ROUND_UP},
        {"total", TL_DIM_AMPERE, COLUMN_FIGURES, TL_ROUND_UP},
        {"rated", TL_DIM_AMPERE, COLUMN_TYPED, TL_ROUND_NEAREST},
        {"abs. max", TL_DIM_AMPERE, COLUMN_TYPED, TL_ROUND_NEAREST},
    };
    const tl_plan *plan = tl_circuit_plan(circuit);
    block b = {.first = "output",
               .columns = columns,
               .column_count = 4,
               .rows = must(calloc((size_t)plan->output_count + 1, sizeof(row)))};
    for (int i = 0; i < plan->output_count; i++) {
        const tl_plan_output *o = &plan->outputs[i];
        row *r = &b.rows[b.count++];
        *r = (row){.of = {NAN, NAN, NAN, NAN}};
        snprintf(r->name, sizeof r->name, "%s", o->name);
        if (o->pin_count == 0) {
            snprintf(r->pin, sizeof r->pin, "%s, always on", plan->supplies[o->from].name);
            r->of[0] = r->of[1] = tl_circuit_load_amperes(circuit, o).high;
            continue;
        }
        const tl_pin_limits *limits = &plan->pins[o->pins[0]].limits;
        snprintf(r->pin, sizeof r->pin, o->pin_count > 1 ? "%.30s .. %.30s" : "%.30s%.0s",
                 plan->pins[o->pins[0]].name, plan->pins[o->pins[o->pin_count - 1]].name);
        r->of[0] = tl_circuit_pin_amperes(circuit, o);
        r->of[1] = o->pin_count * r->of[0];
        r->of[2] = limits->drives;
        r->of[3] = limits->most_amperes;
        r->colours[0] = ink_below(r->of[0], limits->most_amperes, 1) != INK_PLAIN         ? INK_ERROR
                        : ink_below(r->of[0], limits->drives, current_share) != INK_PLAIN ? INK_WARNING
                                                                                          : INK_PLAIN;
    }
    if (b.count > 0)
        print_block(&b);
    free(b.rows);
}

void print_worst_cases(tl_circuit *circuit)
{
    span all;
    const bool shared = share_limits(circuit, &all);
    printf("Worst case over all supplies, tolerances and leakages.\n");
    if (shared)
        printf("Absolute maximum of every pin: %g V to %s.\n", all.low,
               show_least(all.high, TL_DIM_VOLT).text);
    print_analog(circuit, shared, false);
    print_analog(circuit, shared, true);
    print_digital(circuit, shared);
    print_outputs(circuit);
}
