/* SPDX-License-Identifier: MIT */
/* What the rows of the lists say. */
#include "sheet/list_words.h"
#include "base/memory.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

bool end_is_pin(const sheet *s, const wire_end *end)
{
    return end->kind == END_PIN && end->index < s->plan->board->pin_count;
}

int check_before_wire(const sheet *s, const wire *row)
{
    if (row->kind != WIRED_SIGNAL || !end_is_pin(s, &row->to))
        return 0;
    const tl_source *source = &s->plan->signals[row->index].source;
    return source->kind == TL_SOURCE_RAIL && source->supply >= s->plan->board->supply_count
               ? s->checks.at_pin[row->index]
               : 0;
}

const char *word_beside_value(const wire *row, char text[120])
{
    char *end;
    snprintf(text, 120, "%s", row->word);
    if (row->value[0] != '\0' && (end = strstr(text, " resistor")) != NULL)
        *end = '\0';
    return text;
}

void hole_of_end(const sheet *s, int i, bool to, char text[16])
{
    text[0] = '\0';
    if (s->plan->plug_in != NULL)
        hole_in_words(&s->on_board, s->plan->plug_in,
                      to ? &s->on_board.rows[i].to : &s->on_board.rows[i].from, text);
}

/* --- checkpoints --- */

void figure_of_checkpoint(char text[40], double value, bool ohms)
{
    if (isinf(value))
        snprintf(text, 40, "open");
    else if (ohms)
        snprintf(text, 40,
                 value >= 1e6   ? "%.3f MΩ"
                 : value >= 1e3 ? "%.2f kΩ"
                                : "%.0f Ω",
                 value >= 1e6   ? value / 1e6
                 : value >= 1e3 ? value / 1e3
                                : value);
    else
        snprintf(text, 40, "%.3f V", fabs(value) < 5e-4 ? 0 : value);
}

/* --- parts --- */

static void count_part(part_row **rows, int *count, const char *value, const char *bands)
{
    int at = 0;
    while (at < *count && (strcmp((*rows)[at].value, value) != 0 || strcmp((*rows)[at].bands, bands) != 0))
        at++;
    if (at == *count) {
        *rows = tl_grow(*rows, (size_t)(*count)++, sizeof **rows);
        (*rows)[at] = (part_row){.count = 0};
        snprintf((*rows)[at].value, sizeof(*rows)[at].value, "%s", value);
        snprintf((*rows)[at].bands, sizeof(*rows)[at].bands, "%s", bands);
    }
    (*rows)[at].count++;
}

/* Two in one place, `27k + 2k7`, are two parts. */
static void count_row(part_row **rows, int *count, const wire *w)
{
    char first[40], second[40], bands[WIRE_PART];
    const char *semicolon = strstr(w->bands, "; ");
    if (semicolon == NULL || sscanf(w->value, "%39s %*[+|] %39s", first, second) != 2) {
        count_part(rows, count, w->value, w->bands);
        return;
    }
    snprintf(bands, sizeof bands, "%.*s", (int)(semicolon - w->bands), w->bands);
    count_part(rows, count, first, bands);
    count_part(rows, count, second, semicolon + 2);
}

int parts_to_fit(const sheet *s, part_row **rows)
{
    int count = 0;
    for (int i = 0; i < s->list.count; i++) {
        const wire *w = &s->list.wires[i];
        if (!w->fitted && w->path[0] != '\0' && w->value[0] != '\0')
            count_row(rows, &count, w);
    }
    return count;
}

void stock_of_part(const sheet *s, const part_row *row, char text[40])
{
    tl_quantity q;
    tl_text_error error;
    const bool farads = row->bands[0] == '\0';
    const tl_stock *stock = farads ? &s->plan->capacitors : &s->plan->resistors;
    snprintf(text, 40, "to get");
    if (!tl_quantity_read(row->value, farads ? TL_DIM_FARAD : TL_DIM_OHM, &q, &error))
        return;
    for (int i = 0; i < stock->count; i++) {
        if (fabs(stock->parts[i].value / q.nominal - 1) > 1e-6)
            continue;
        if (stock->parts[i].count < 0)
            snprintf(text, 40, "in the drawer");
        else
            snprintf(text, 40, "%d in the drawer", stock->parts[i].count);
        return;
    }
}
