/* SPDX-License-Identifier: MIT */
/* Tables: columns as wide as they must be, figures under each other, a unit once. */
#define _GNU_SOURCE /* asprintf, vasprintf */
#include "printing/tables.h"
#include "printing/printing.h"
#include <stdarg.h>
#include <stdlib.h>
#include <string.h>

void table_begin(table *t, int columns, const char *alignment)
{
    *t = (table){.columns = columns};
    for (int i = 0; i < columns; i++) {
        t->right[i] = alignment[i] != '<';
        t->own_units[i] = alignment[i] == '.';
    }
}

void table_cell(table *t, const char *format, ...)
{
    va_list arguments;
    char *text = NULL;
    const int count = t->rows;
    va_start(arguments, format);
    if (vasprintf(&text, format, arguments) < 0)
        text = must(NULL);
    va_end(arguments);
    t->cells = must(realloc(t->cells, (size_t)(count + 1) * sizeof *t->cells));
    t->inks = must(realloc(t->inks, (size_t)(count + 1) * sizeof *t->inks));
    t->inks[count] = INK_PLAIN;
    t->cells[t->rows++] = text; /* counted in cells until the table ends */
}

void table_ink(table *t, ink colour)
{
    t->inks[t->rows - 1] = (unsigned char)colour;
}

void table_head_row(table *t, const char *const *names, size_t count)
{
    for (size_t i = 0; i < count; i++)
        table_cell(t, "%s", names[i]);
}

void table_drop(table *t)
{
    for (int i = 0; i < t->rows; i++)
        free(t->cells[i]);
    free(t->cells);
    free(t->inks);
}

/* Of a head that is wider than what stands under it, the space where it falls into two lines that are as
 * narrow as can be; NULL where there is none. */
static char *fold_of(char *head, int needed, int *width)
{
    char *best = NULL;
    for (char *space = strchr(head, ' '); space != NULL && *width > needed; space = strchr(space + 1, ' ')) {
        *space = '\0';
        const int first = print_width(head), second = print_width(space + 1),
                  wider = first > second ? first : second, now = wider > needed ? wider : needed;
        *space = ' ';
        if (now < *width) {
            *width = now;
            best = space;
        }
    }
    return best;
}

/* What is blank at its end is left out. inks: of the cells; NULL for a head. */
static void print_row(const table *t, FILE *to, const char *indent, const char *const *cells,
                      const int *width, const unsigned char *inks)
{
    int last = t->columns - 1;
    while (last > 0 && cells[last][strspn(cells[last], " ")] == '\0')
        last--;
    for (int i = 0; i <= last; i++) {
        const int room = width[i] - print_width(cells[i]);
        size_t length = strlen(cells[i]);
        while (i == last && length > 0 && cells[i][length - 1] == ' ')
            length--;
        const ink colour = inks != NULL ? (ink)inks[i] : INK_FAINT;
        const bool inked = colour != INK_PLAIN;
        fprintf(to, "%s%*s%s%.*s%s%*s", i == 0 ? indent : "  ", t->right[i] ? room : 0, "",
                inked ? ink_on(to, colour) : "", (int)length, cells[i], inked ? ink_off(to) : "",
                t->right[i] || i == last ? 0 : room, "");
    }
    fputc('\n', to);
}

/* The heads of a table that is too wide, over two lines. */
static void print_folded(const table *t, FILE *to, const char *indent, int *width)
{
    const char *above[TABLE_COLUMNS], *below[TABLE_COLUMNS];
    bool any = false;
    for (int column = 0; column < t->columns; column++) {
        int needed = 0;
        for (int i = t->columns + column; i < t->rows; i += t->columns)
            needed = print_width(t->cells[i]) > needed ? print_width(t->cells[i]) : needed;
        char *head = t->cells[column], *fold = fold_of(head, needed, &width[column]);
        above[column] = fold != NULL ? head : "";
        below[column] = fold != NULL ? fold + 1 : head;
        any = any || fold != NULL;
        if (fold != NULL)
            *fold = '\0';
    }
    if (any)
        print_row(t, to, indent, above, width, NULL);
    print_row(t, to, indent, below, width, NULL);
}

static int find_widths(const table *t, const char *indent, int *width)
{
    int all = print_width(indent);
    memset(width, 0, TABLE_COLUMNS * sizeof *width);
    for (int i = 0; i < t->rows; i++) {
        const int now = print_width(t->cells[i]);
        if (now > width[i % t->columns])
            width[i % t->columns] = now;
    }
    for (int i = 0; i < t->columns; i++)
        all += width[i] + (i > 0 ? 2 : 0);
    return all;
}

/* --- figures under each other --- */

/* The figure that a cell begins with, up to its decimal point or the letter that stands for it (4k7); 0 where
 * it begins with none. */
static size_t whole_part(const char *cell)
{
    size_t at = strncmp(cell, "±", strlen("±")) == 0 ? strlen("±") : *cell == '-' || *cell == '+';
    const size_t digits = strspn(cell + at, "0123456789");
    return digits > 0 ? at + digits : 0;
}

/* Cells that begin with a figure get blanks on both sides, so that their points stand under each other; what
 * is beside them stands to the right. */
static void line_up(char **cells, int count, int stride)
{
    int before = 0, behind = 0;
    for (int i = 0; i < count; i++) {
        char *cell = cells[i * stride];
        const size_t whole = whole_part(cell);
        const int rest = print_width(cell + whole), own = print_width(cell) - rest;
        if (whole == 0)
            continue;
        before = own > before ? own : before;
        behind = rest > behind ? rest : behind;
    }
    for (int i = 0; i < count; i++) {
        char *cell = cells[i * stride], *lined = NULL;
        const size_t whole = whole_part(cell);
        const int rest = print_width(cell + whole), own = print_width(cell) - rest;
        if (whole == 0)
            continue;
        if (asprintf(&lined, "%*s%s%*s", before - own, "", cell, behind - rest, "") < 0)
            lined = must(NULL);
        free(cell);
        cells[i * stride] = lined;
    }
}

/* --- units in the heads --- */

/* `2.23 V`, `1.89 V .. 2.95 V`, `1.89 .. 2.95 V`: where its unit begins, at the end, with the blank before
 * it; NULL for anything else. first: where it stands before the dots too, else NULL. */
static char *unit_of(char *cell, char **first)
{
    char *at = cell + whole_part(cell);
    *first = NULL;
    if (at == cell)
        return NULL;
    at += *at == '.' ? 1 + strspn(at + 1, "0123456789") : 0;
    char *dots = strstr(at, " .. ");
    if (dots != NULL) {
        const size_t whole = whole_part(dots + 4);
        *first = dots > at ? at : NULL;
        at = dots + 4 + whole;
        at += *at == '.' ? 1 + strspn(at + 1, "0123456789") : 0;
        if (whole == 0)
            return NULL;
        if (*first != NULL && strncmp(*first, at, (size_t)(dots - *first)) != 0)
            return NULL;
        if (*first != NULL && strlen(at) != (size_t)(dots - *first))
            return NULL;
    }
    return *at == ' ' && strpbrk(at, "0123456789()±,") == NULL && strchr(at + 1, ' ') == NULL ? at : NULL;
}

/* Of a column whose cells are so wide, with its head over two lines. */
static int folded_width(const char *head, int needed)
{
    char copy[120];
    snprintf(copy, sizeof copy, "%s", head);
    int width = print_width(copy);
    width = width > needed ? width : needed;
    (void)fold_of(copy, needed, &width);
    return width;
}

/* What the figures of a column need once they are lined up. */
static int lined_up_width(const table *t, int column)
{
    int before = 0, behind = 0, widest = 0;
    for (int i = t->columns + column; i < t->rows; i += t->columns) {
        const char *cell = t->cells[i];
        const size_t whole = t->right[column] ? whole_part(cell) : 0;
        const int all = print_width(cell), rest = print_width(cell + whole);
        widest = all > widest ? all : widest;
        before = whole > 0 && all - rest > before ? all - rest : before;
        behind = whole > 0 && rest > behind ? rest : behind;
    }
    return before + behind > widest ? before + behind : widest;
}

/* With its figures lined up and, where it is too wide, its heads folded. */
static int width_of_table(const table *t, const char *indent)
{
    int all = print_width(indent) + 2 * (t->columns - 1), saved = 0;
    for (int column = 0; column < t->columns; column++) {
        const int needed = lined_up_width(t, column), head = print_width(t->cells[column]);
        all += head > needed ? head : needed;
        saved += (head > needed ? head : needed) - folded_width(t->cells[column], needed);
    }
    return all > WIDE ? all - saved : all;
}

/* A unit that all figures of a column have stands in its head, once, where there is room for it, or that
 * makes the column no wider. */
static void take_unit(table *t, int column, const char *indent)
{
    char unit[24] = "", *first;
    bool all = t->cells[column][0] != '\0';
    int needed = 0;
    for (int i = t->columns + column; i < t->rows && all; i += t->columns) {
        const char *own = unit_of(t->cells[i], &first);
        needed = print_width(t->cells[i]) > needed ? print_width(t->cells[i]) : needed;
        if (strcmp(t->cells[i], "-") == 0)
            continue;
        all = own != NULL && (unit[0] == '\0' || strcmp(own, unit) == 0) && strlen(own) < sizeof unit;
        if (all)
            snprintf(unit, sizeof unit, "%s", own);
    }
    if (!all || unit[0] == '\0')
        return;
    char *head = NULL;
    if (asprintf(&head, "%s,%s", t->cells[column], unit) < 0)
        head = must(NULL);
    int width[TABLE_COLUMNS];
    const int all_wide = find_widths(t, indent, width),
              more = print_width(head) > width[column] ? print_width(head) - width[column] : 0;
    if (all_wide + more > WIDE &&
        folded_width(head, needed - print_width(unit)) > folded_width(t->cells[column], needed)) {
        free(head);
        return;
    }
    free(t->cells[column]);
    t->cells[column] = head;
    for (int i = t->columns + column; i < t->rows; i += t->columns) {
        char *own = unit_of(t->cells[i], &first);
        if (own == NULL)
            continue;
        *own = '\0';
        if (first != NULL)
            memmove(first, first + strlen(unit), strlen(first + strlen(unit)) + 1);
    }
}

/* --- the whole --- */

void table_end(table *t, FILE *to, const char *indent)
{
    int width[TABLE_COLUMNS];
    for (int column = 0; column < t->columns && t->rows > t->columns; column++) {
        if (!t->right[column])
            continue;
        if (!t->own_units[column])
            take_unit(t, column, indent);
        line_up(&t->cells[t->columns + column], t->rows / t->columns - 1, t->columns);
    }
    const int all = find_widths(t, indent, width);
    if (all > WIDE)
        print_folded(t, to, indent, width);
    for (int i = all > WIDE ? t->columns : 0; i + t->columns <= t->rows; i += t->columns)
        print_row(t, to, indent, (const char *const *)&t->cells[i], width, i > 0 ? &t->inks[i] : NULL);
    table_drop(t);
}

/* Every column as a row, so that what was above each other stands side by side; as many as there is room for,
 * then the next. */
static void print_turned(table *t, FILE *to, const char *indent)
{
    const int things = t->rows / t->columns - 1;
    int label = 0;
    for (int i = 0; i < t->columns; i++)
        label = print_width(t->cells[i]) > label ? print_width(t->cells[i]) : label;
    for (int first = 0, next; first < things; first = next) {
        int width[TABLE_COLUMNS * 4], all = print_width(indent) + label;
        for (next = first; next < things && next - first < TABLE_COLUMNS * 4; next++) {
            int own = 0;
            for (int i = 0; i < t->columns; i++) {
                const int now = print_width(t->cells[(next + 1) * t->columns + i]);
                own = now > own ? now : own;
            }
            if (next > first && all + 2 + own > WIDE)
                break;
            width[next - first] = own;
            all += 2 + own;
        }
        if (first > 0)
            fputc('\n', to);
        for (int i = 0; i < t->columns; i++) {
            fprintf(to, "%s%s%s%s%*s", indent, ink_on(to, INK_FAINT), t->cells[i], ink_off(to),
                    label - print_width(t->cells[i]), "");
            for (int k = first; k < next; k++) {
                const char *cell = t->cells[(k + 1) * t->columns + i];
                size_t length = strlen(cell);
                while (k == next - 1 && length > 0 && cell[length - 1] == ' ')
                    length--;
                fprintf(to, "  %*s%.*s", width[k - first] - print_width(cell), "", (int)length, cell);
            }
            fputc('\n', to);
        }
    }
}

void table_end_turned(table *t, FILE *to, const char *indent)
{
    if (width_of_table(t, indent) <= WIDE) {
        table_end(t, to, indent);
        return;
    }
    print_turned(t, to, indent);
    table_drop(t);
}
