/* SPDX-License-Identifier: MIT */
/* What `size` found, as tables and as JSON. */
#include "cli/size_call.h"
#include "sizing/sizing.h"
#include <ctype.h>
#include <math.h>
#include <string.h>

shown size_figure(const tl_size_figure *f)
{
    return f->extreme == TL_HIGHEST  ? show_most(f->value, f->dimension)
           : f->extreme == TL_LOWEST ? show_least(f->value, f->dimension)
                                     : show(f->value, f->dimension);
}

column_form size_column(const tl_size_figure *const *figures, int count)
{
    static const double meter_shows_volts = 0.1;
    double values[TL_VALUES_MOST], largest = 0;
    for (int i = 0; i < count; i++) {
        values[i] = figures[i]->value;
        largest = fmax(largest, isfinite(values[i]) ? fabs(values[i]) : 0);
    }
    const bool volts = count > 0 && figures[0]->dimension == TL_DIM_VOLT && largest >= meter_shows_volts;
    return column_of(values, count, count > 0 ? figures[0]->dimension : TL_DIM_NUMBER,
                     volts ? COLUMN_VOLTS : COLUMN_FIGURES, largest);
}

void size_head(table *t, const tl_size_figure *figure, const column_form *form)
{
    table_cell(t, form->unit[0] != '\0' ? "%s, %s" : "%s%s", figure->label, form->unit);
}

void size_cell(table *t, const tl_size_figure *figure, const column_form *form)
{
    char text[40];
    const tl_rounding rounding = figure->extreme == TL_HIGHEST  ? TL_ROUND_UP
                                 : figure->extreme == TL_LOWEST ? TL_ROUND_DOWN
                                                                : TL_ROUND_NEAREST;
    table_cell(t, "%s", isnan(figure->value) ? "-" : column_text(form, figure->value, rounding, text));
}

static bool is_same_table(const tl_choice *a, const tl_choice *b)
{
    return a->way == b->way && a->parts == b->parts && a->figures == b->figures;
}

/* A column is left out where it says nothing: no figure there, for any choice of the table. */
static bool is_empty_column(const tl_choice *choices, int count, int figure)
{
    for (int i = 0; i < count; i++) {
        const tl_size_figure *f = &choices[i].figure[figure];
        if (!isnan(f->value) && !(f->value == 0 && isnan(f->limit) && figure > 0))
            return false;
    }
    return true;
}

/* `300 Ω to 1 MΩ` */
static void write_offered(FILE *to, const tl_size_window *w)
{
    if (isnan(w->offered_least)) {
        fputs("none", to);
        return;
    }
    fputs(show_part(w->offered_least, w->dimension).text, to);
    if (w->offered_least != w->offered_most)
        fprintf(to, " to %s", show_part(w->offered_most, w->dimension).text);
}

/* `280.5 Ω or more (pin current); E24 offers 300 Ω to 1 MΩ`; the range on offer alone where parts bound each
 * other. */
static void write_window(FILE *to, const size_call *call, const tl_size_window *w)
{
    const char *from = call->drawer != NULL           ? "the drawer"
                       : w->dimension == TL_DIM_FARAD ? "E6"
                                                      : tl_series_name(call->series);
    if (!isnan(w->least) && !isnan(w->most))
        fprintf(to, "%s (%s) to %s (%s); ", show_most(w->least, w->dimension).text, w->least_label,
                show_least(w->most, w->dimension).text, w->most_label);
    else if (!isnan(w->least))
        fprintf(to, "%s or more (%s); ", show_most(w->least, w->dimension).text, w->least_label);
    else if (!isnan(w->most))
        fprintf(to, "%s or less (%s); ", show_least(w->most, w->dimension).text, w->most_label);
    if (!isnan(w->least) || !isnan(w->most))
        fprintf(to, "%s offers ", from);
    write_offered(to, w);
}

/* What fits, part by part, of the first choice's way; of the first way where there is no choice. */
void size_print_window(const size_call *call, const tl_size_result *result)
{
    char *text = NULL;
    size_t size = 0;
    int told = 0;
    FILE *to = must(open_memstream(&text, &size));
    fputs("Fits: ", to);
    for (int i = 0; i < result->window_count; i++) {
        const tl_size_window *w = &result->window[i];
        if (w->way != (result->count > 0 ? result->choices[0].way : result->window[0].way))
            continue;
        if (w->least > w->most)
            fprintf(to, "%s%s: no value, at least %s (%s) and at most %s (%s)", told++ > 0 ? "; " : "",
                    w->part, show_most(w->least, w->dimension).text, w->least_label,
                    show_least(w->most, w->dimension).text, w->most_label);
        else {
            fprintf(to, "%s%s ", told++ > 0 ? "; " : "", w->part);
            write_window(to, call, w);
        }
    }
    fputc('.', to);
    fclose(to);
    if (told > 0)
        put_note("  ", "  ", must(text));
    free(text);
}

void size_print_pick(const tl_size_result *result)
{
    char line[sizeof result->reason + 10];
    if (result->count == 0 || result->reason[0] == '\0')
        return;
    snprintf(line, sizeof line, "Pick: %s", result->reason);
    put_note("  ", "  ", line);
}

/* In whole percent, rounded up; near 100 % with a decimal, so that what passes and what fails differ. */
static void add_share(table *t, const char *label, double percent)
{
    const int decimals = percent > 95 && percent < 105 ? 1 : 0;
    const double shift = pow(10, decimals);
    table_cell(t, "%s %.*f %%", label, decimals, ceil(percent * shift - 1e-6) / shift);
}

/* A figure that says how much of the limit is used says all that the closest limit would. */
static bool has_share_of_limit(const tl_choice *choice)
{
    for (int f = 0; f < choice->figures; f++) {
        if (strcmp(choice->figure[f].label, "of the limit") == 0)
            return true;
    }
    return false;
}

static bool any_limit(const tl_choice *choices, int count)
{
    double used;
    bool any = false;
    for (int i = 0; i < count; i++)
        any = any || tl_choice_tightest(&choices[i], &used) != NULL;
    return any;
}

/* Choices of one way side by side: parts, figures, and the limit that each comes nearest to. */
static void print_choices(const tl_size_result *result, const tl_choice *choices, int count, int first_number)
{
    table t;
    char value[40], alignment[TABLE_COLUMNS * 2 + 1];
    int column[TL_CHOICE_FIGURES], columns = 0;
    for (int f = 0; f < choices->figures; f++) {
        if (!is_empty_column(choices, count, f) && 2 + choices->parts + columns < TABLE_COLUMNS)
            column[columns++] = f;
    }
    column_form forms[TL_CHOICE_FIGURES];
    for (int f = 0; f < columns; f++) {
        const tl_size_figure *figures[TL_VALUES_MOST];
        int listed = 0;
        for (; listed < count && listed < TL_VALUES_MOST; listed++)
            figures[listed] = &choices[listed].figure[column[f]];
        forms[f] = size_column(figures, listed);
    }
    memset(alignment, '>', sizeof alignment);
    alignment[1 + choices->parts + columns] = '<';
    const bool closest = !has_share_of_limit(choices) && any_limit(choices, count);
    table_begin(&t, 1 + choices->parts + columns + closest, alignment);
    table_cell(&t, " ");
    for (int p = 0; p < choices->parts; p++)
        table_cell(&t, "%s", choices->part_name[p]);
    for (int f = 0; f < columns; f++)
        size_head(&t, &choices->figure[column[f]], &forms[f]);
    if (closest)
        table_cell(&t, "closest limit");
    for (int i = 0; i < count; i++) {
        const tl_choice *c = &choices[i];
        double used;
        const tl_size_figure *tightest = closest ? tl_choice_tightest(c, &used) : NULL;
        table_cell(&t, "%d", first_number + i);
        for (int p = 0; p < c->parts; p++)
            table_cell(&t, "%s", tl_leg_write(&c->part[p], result->stock, c->part_dimension[p], value));
        for (int f = 0; f < columns; f++)
            size_cell(&t, &c->figure[column[f]], &forms[f]);
        if (tightest != NULL)
            add_share(&t, tightest->label, 100 * used);
        else if (closest)
            table_cell(&t, "%s", "");
    }
    table_end_turned(&t, stdout, "  ");
}

static void print_bands(const tl_size_result *result, const tl_choice *c)
{
    const char *bands[TL_BANDS_MOST];
    char value[40];
    for (int p = 0; p < c->parts; p++) {
        const tl_leg *leg = &c->part[p];
        const int indices[2] = {leg->first, leg->second};
        for (int i = 0; i < 2 && c->part_dimension[p] == TL_DIM_OHM; i++) {
            if (indices[i] < 0)
                continue;
            const tl_stock_part *part = &result->stock->parts[indices[i]];
            const int count = tl_colour_bands(part->value, part->tolerance, bands);
            printf("  %s %s:", c->part_name[p], tl_letter_code_write(part->value, value));
            for (int b = 0; b < count; b++)
                printf(" %s", bands[b]);
            printf("%s\n", count == 0 ? " no bands for this value" : "");
        }
    }
}

/* The lines of a note; long ones go on below. */
static void print_indented(const char *text, const char *more)
{
    for (const char *at = text; *at != '\0';) {
        char line[1200];
        const size_t length = strcspn(at, "\n");
        snprintf(line, sizeof line, "%.*s", (int)length, at);
        const int inner = (int)strspn(line, " ");
        char begin[40], next[60];
        snprintf(begin, sizeof begin, "  %*s", inner, "");
        snprintf(next, sizeof next, "%s%s", begin, more);
        put_note(begin, next, line + inner);
        at += length + (at[length] != '\0');
    }
}

/* Plan lines with the rail that the board gives its pins. */
static const char *with_rail(const size_call *call, const char *plan, char text[1400])
{
    static const char token[] = "to: RAIL";
    size_t length = 0;
    while (*plan != '\0' && length < 1300) {
        if (call->rail[0] != '\0' && strncmp(plan, token, sizeof token - 1) == 0) {
            length += (size_t)snprintf(text + length, 1400 - length, "to: %s", call->rail);
            plan += sizeof token - 1;
        } else {
            text[length++] = *plan++;
        }
    }
    text[length] = '\0';
    return text;
}

static void print_first(const size_call *call, const tl_size_result *result)
{
    char plan[1400];
    const tl_choice *best = &result->choices[0];
    if (best->parts > 0 && best->part_dimension[0] == TL_DIM_OHM) {
        printf("\nColour bands of the first:\n");
        print_bands(result, best);
    }
    if (best->note[0] != '\0') {
        putchar('\n');
        print_indented(best->note, "");
    }
    if (best->plan[0] != '\0') {
        printf("\nPlan lines for the first:\n");
        print_indented(with_rail(call, best->plan, plan), "    ");
    }
}

static void print_rejected(const tl_size_result *result)
{
    char value[40];
    if (result->rejected_count == 0)
        return;
    printf("\n%s:\n", result->count > 0 ? "Why others fail" : "What comes nearest, and why it fails");
    for (int i = 0; i < result->rejected_count; i++) {
        const tl_rejected *miss = &result->rejected[i];
        char *text = NULL;
        size_t size = 0;
        FILE *to = must(open_memstream(&text, &size));
        fputs(miss->why, to);
        for (int p = 0; p < miss->choice.parts; p++)
            fprintf(
                to, "%s%s %s", p == 0 ? "  (" : ", ", miss->choice.part_name[p],
                tl_leg_write(&miss->choice.part[p], result->stock, miss->choice.part_dimension[p], value));
        fputs(miss->choice.parts > 0 ? ")" : "", to);
        fclose(to);
        put_note("  - ", "    ", must(text));
        free(text);
    }
}

bool size_is_listed(const size_call *call, const tl_choice *choice, int place)
{
    static const double far = 3; /* a factor of twenty */
    return call->all || call->order != TL_BY_PRACTICE || place < 3 || choice->cost <= far;
}

void size_print_text(const size_call *call, const tl_size_result *result)
{
    if (call->drawer != NULL)
        printf("Values from %s. ", call->drawer);
    else
        printf("%s values, ±%g %%. ", tl_series_name(call->series), 100 * call->tolerance);
    printf("Figures are guaranteed worst cases over ranges and tolerances.\n");
    size_print_window(call, result);
    size_print_pick(result);
    for (int i = 0; i < result->exact_count; i++) {
        const tl_size_exact *e = &result->exact[i];
        if (e->bound) /* what binds stands in the window */
            continue;
        printf("  %c%s: ", toupper((unsigned char)e->name[0]), e->name + 1);
        if (e->dimension == TL_DIM_NUMBER && e->value == floor(e->value))
            printf("%.0f\n", e->value);
        else
            printf("%s\n", show(e->value, e->dimension).text);
    }
    for (int i = 0; i < result->note_count; i++)
        put_note("  ", "  ", result->notes[i]);
    if (result->count == 0)
        printf("\n%sNo: %s.%s\n", ink_on(stdout, INK_ERROR), result->refusal, ink_off(stdout));
    for (int i = 0, next; i < result->count; i = next) {
        for (next = i + 1;
             next < result->count && is_same_table(&result->choices[i], &result->choices[next]);)
            next++;
        printf("\n");
        if (result->choices[i].way != NULL)
            printf("%s%s%s\n", ink_on(stdout, INK_STRONG), say_way(result->choices[i].way), ink_off(stdout));
        print_choices(result, &result->choices[i], next - i, i + 1);
    }
    if (!call->all && result->fitting > result->count && result->count > 0)
        printf("\n  %.0f fit; --all shows up to %d of them.\n", (double)result->fitting, SIZE_ALL);
    if (result->count > 0)
        print_first(call, result);
    print_rejected(result);
}

/* --- as JSON --- */

static const char *unit_of(tl_dimension dimension)
{
    static const char *const units[] = {
        [TL_DIM_OHM] = "ohm",   [TL_DIM_VOLT] = "V",    [TL_DIM_AMPERE] = "A",     [TL_DIM_FARAD] = "F",
        [TL_DIM_SECOND] = "s",  [TL_DIM_PERCENT] = "%", [TL_DIM_COUNT] = "counts", [TL_DIM_WATT] = "W",
        [TL_DIM_HERTZ] = "Hz",  [TL_DIM_HENRY] = "H",   [TL_DIM_CELSIUS] = "degC", [TL_DIM_KELVIN] = "K",
        [TL_DIM_DRIFT] = "1/K", [TL_DIM_NUMBER] = "",
    };
    return units[dimension];
}

json_t *size_windows(const tl_size_result *result)
{
    json_t *list = json_array();
    for (int i = 0; i < result->window_count; i++) {
        const tl_size_window *w = &result->window[i];
        json_array_append_new(list, json_pack("{s:s?,s:s,s:s,s:o,s:s?,s:o,s:s?,s:o,s:o}", "way", w->way,
                                              "part", w->part, "unit", unit_of(w->dimension), "least",
                                              json_number(w->least), "least_for", w->least_for, "most",
                                              json_number(w->most), "most_for", w->most_for, "offered_least",
                                              json_number(w->offered_least), "offered_most",
                                              json_number(w->offered_most)));
    }
    return list;
}

/* Dearest first; what costs nothing is left out. */
static json_t *costs_array(const tl_choice *c)
{
    json_t *list = json_array();
    bool told[TL_CHOICE_COSTS] = {false};
    for (int n = 0; n < c->costs; n++) {
        int dearest = -1;
        for (int i = 0; i < c->costs; i++) {
            if (!told[i] && (dearest < 0 || c->cost_of[i].cost > c->cost_of[dearest].cost))
                dearest = i;
        }
        told[dearest] = true;
        if (c->cost_of[dearest].cost > 0)
            json_array_append_new(list, json_pack("{s:s,s:o}", "name", c->cost_of[dearest].name, "value",
                                                  json_number(c->cost_of[dearest].cost)));
    }
    return list;
}

static json_t *bands_array(const tl_size_result *result, const tl_leg *leg, tl_dimension dimension)
{
    const char *bands[TL_BANDS_MOST];
    json_t *list = json_array();
    const int indices[2] = {leg->first, leg->second};
    for (int i = 0; i < 2 && dimension == TL_DIM_OHM; i++) {
        if (indices[i] < 0)
            continue;
        const tl_stock_part *part = &result->stock->parts[indices[i]];
        json_t *one = json_array();
        const int count = tl_colour_bands(part->value, part->tolerance, bands);
        for (int b = 0; b < count; b++)
            json_array_append_new(one, json_string(bands[b]));
        json_array_append_new(list, one);
    }
    return list;
}

/* kind: what a choice without a way of its own is called; NULL: nothing. */
static json_t *choice_object(const size_call *call, const char *kind, const tl_size_result *result,
                             const tl_choice *c)
{
    char plan[1400];
    static const char *const extremes[] = {
        [TL_HIGHEST] = "highest", [TL_LOWEST] = "lowest", [TL_TYPICAL] = "typical"};
    json_t *parts = json_array(), *figures = json_array();
    char value[40];
    double used;
    for (int p = 0; p < c->parts; p++)
        json_array_append_new(
            parts, json_pack("{s:s,s:s,s:o,s:o,s:o,s:s,s:o}", "name", c->part_name[p], "text",
                             tl_leg_write(&c->part[p], result->stock, c->part_dimension[p], value), "value",
                             json_number(c->part[p].nominal), "low", json_number(c->part[p].low), "high",
                             json_number(c->part[p].high), "unit", unit_of(c->part_dimension[p]), "bands",
                             bands_array(result, &c->part[p], c->part_dimension[p])));
    for (int f = 0; f < c->figures; f++)
        json_array_append_new(
            figures,
            json_pack("{s:s,s:s,s:o,s:s,s:s,s:o,s:s}", "name", c->figure[f].name, "label", c->figure[f].label,
                      "value", json_number(c->figure[f].value), "unit", unit_of(c->figure[f].dimension),
                      "extreme", extremes[c->figure[f].extreme], "limit", json_number(c->figure[f].limit),
                      "by", c->figure[f].proved ? "circuit" : "arithmetic"));
    const tl_size_figure *tightest = tl_choice_tightest(c, &used);
    const char *way = c->way != NULL ? c->way : kind;
    return json_pack("{s:o,s:o,s:o,s:o,s:s,s:s,s:o,s:o}", "way", way != NULL ? json_string(way) : json_null(),
                     "parts", parts, "figures", figures, "nearest_limit",
                     tightest != NULL ? json_string(tightest->name) : json_null(), "plan",
                     with_rail(call, c->plan, plan), "note", c->note, "cost", json_number(c->cost), "costs",
                     costs_array(c));
}

/* Nothing where the search does not count them. */
static json_t *counted(double number)
{
    return number > 0 ? json_integer((json_int_t)number) : json_null();
}

void size_print_json(const size_call *call, const tl_size_result *result)
{
    json_t *choices = json_array(), *rejected = json_array(), *notes = json_array(), *exact = json_array();
    for (int i = 0; i < result->count; i++)
        json_array_append_new(choices, choice_object(call, call->kind->name, result, &result->choices[i]));
    for (int i = 0; i < result->rejected_count; i++)
        json_array_append_new(rejected,
                              json_pack("{s:s,s:o}", "why", result->rejected[i].why, "choice",
                                        choice_object(call, NULL, result, &result->rejected[i].choice)));
    for (int i = 0; i < result->exact_count; i++)
        json_array_append_new(exact, json_pack("{s:s,s:o,s:s}", "name", result->exact[i].name, "value",
                                               json_number(result->exact[i].value), "unit",
                                               unit_of(result->exact[i].dimension)));
    for (int i = 0; i < result->note_count; i++)
        json_array_append_new(notes, json_string(result->notes[i]));
    json_print(json_pack("{s:s,s:b,s:o,s:o,s:o,s:o,s:o,s:o,s:o,s:o,s:s}", "size", call->kind->name,
                         "possible", result->status == TL_SIZE_DONE, "refusal",
                         result->count == 0 ? json_string(result->refusal) : json_null(), "fitting",
                         counted(result->fitting), "tried", counted(result->tried), "exact", exact, "choices",
                         choices, "rejected", rejected, "notes", notes, "window", size_windows(result),
                         "reason", result->reason));
}
