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
} row;

typedef struct {
    const char *first; /* head of the names */
    const column *columns;
    int column_count;
    row *rows;
    int count;
} block;

/* --- rows --- */

/* The number at the end of a name, and how long the name is before it; -1 without one. */
static long number_behind(const char *name, size_t *stem)
{
    size_t length = strlen(name);
    *stem = length;
    while (*stem > 0 && name[*stem - 1] >= '0' && name[*stem - 1] <= '9')
        --*stem;
    return *stem < length && length - *stem < 9 ? strtol(name + *stem, NULL, 10) : -1;
}

static bool follows(const char *name, const char *before)
{
    size_t a, b;
    const long now = number_behind(name, &a), was = number_behind(before, &b);
    return now >= 0 && now == was + 1 && a == b && strncmp(name, before, a) == 0;
}

static bool has_equal_cells(char (*cells)[40], int columns, int a, int b)
{
    for (int i = 0; i < columns; i++) {
        if (strcmp(cells[a * columns + i], cells[b * columns + i]) != 0)
            return false;
    }
    return true;
}

/* `heater-2 .. -8`, or both names where they have little in common. */
static void join_names(const char *first, const char *last, char text[200])
{
    size_t stem;
    (void)number_behind(last, &stem);
    const size_t from = stem > 0 && (last[stem - 1] == '-' || last[stem - 1] == '.') ? stem - 1 : 0;
    snprintf(text, 200, "%s .. %s", first, last + from);
}

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

/* A block's rows, those that are alike and numbered one after the other as one. */
static void print_block(const block *b)
{
    column_form forms[FIGURES_MOST];
    table t;
    char heads[FIGURES_MOST][60],
        (*cells)[40] = must(calloc((size_t)b->count * FIGURES_MOST + 1, sizeof *cells));
    double *values = must(calloc((size_t)b->count + 1, sizeof *values));
    char alignment[FIGURES_MOST + 3] = "<<";
    for (int i = 0; i < b->column_count; i++) {
        for (int k = 0; k < b->count; k++)
            values[k] = b->rows[k].of[i];
        forms[i] = column_of(values, b->count, b->columns[i].dimension, b->columns[i].kind,
                             largest_of(b, b->columns[i].dimension));
        for (int k = 0; k < b->count; k++)
            column_text(&forms[i], b->rows[k].of[i], b->columns[i].rounding, cells[k * b->column_count + i]);
        snprintf(heads[i], sizeof heads[i], "%s, %s", b->columns[i].head, forms[i].unit);
        strcat(alignment, ">");
    }
    table_begin(&t, 2 + b->column_count, alignment);
    table_cell(&t, "%s", b->first);
    table_cell(&t, "pin");
    for (int i = 0; i < b->column_count; i++)
        table_cell(&t, "%s", heads[i]);
    for (int k = 0, last; k < b->count; k = last + 1) {
        char name[200], pin[200];
        for (last = k;
             last + 1 < b->count && b->rows[k].instead == NULL && b->rows[last + 1].instead == NULL &&
             follows(b->rows[last + 1].name, b->rows[last].name) &&
             follows(b->rows[last + 1].pin, b->rows[last].pin) &&
             has_equal_cells(cells, b->column_count, k, last + 1);
             last++)
            continue;
        snprintf(name, sizeof name, "%s", b->rows[k].name);
        snprintf(pin, sizeof pin, "%s", b->rows[k].pin);
        if (last > k) {
            join_names(b->rows[k].name, b->rows[last].name, name);
            join_names(b->rows[k].pin, b->rows[last].pin, pin);
        }
        table_cell(&t, "%s", name);
        table_cell(&t, "%s", pin);
        for (int i = 0; i < b->column_count; i++)
            table_cell(&t, "%s",
                       b->rows[k].instead == NULL ? cells[k * b->column_count + i]
                       : i == 0                   ? b->rows[k].instead
                                                  : "");
    }
    putchar('\n');
    table_end(&t, stdout, "  ");
    free(values);
    free(cells);
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
        r->of[5] = limits_of(circuit, i).high;
        if (path == NULL || path->fault != TL_NET_SOLVED)
            continue;
        r->of[2] = path->source_ohms;
        if (path->acquisition > 0) { /* else the converter settles by itself */
            r->of[3] = path->acquisition;
            r->of[4] = path->settling_counts;
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
