/* SPDX-License-Identifier: MIT */
/* The wiring list, the checkpoints and the parts: rows to tick and fields to write in. */
#include "sheet/list_words.h"
#include "sheet/symbols.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

static const double row_height = 5.4, check_height = 4.8, tick = 3.2;

/* --- wiring --- */

typedef struct {
    double number, of, from, to, by, bands, words;
} columns;

static columns columns_at(const sheet *s)
{
    const double x = s->left;
    return (columns){x + 10.4, x + 13.5, x + 43, x + 70, x + 93, x + 118, x + 143};
}

static void wiring_heads(sheet *s, const columns *x)
{
    static const char *const heads[] = {"of", "from", "to", "by", "colour bands"};
    const double at[] = {x->of, x->from, x->to, x->by, x->bands};
    s->y += 3.5;
    (void)text_at(s->c, (place){x->number, s->y}, TYPE_SMALL, ALIGN_RIGHT, "no.");
    for (int i = 0; i < 5; i++)
        (void)text_at(s->c, (place){at[i], s->y}, TYPE_SMALL, ALIGN_LEFT, heads[i]);
    s->y += 1.8;
    line_draw(s->c, (place){s->left, s->y}, (place){s->right, s->y}, body_width, INK_BLACK);
}

static void tick_draw(sheet *s, double y)
{
    const area box = {s->left, y - tick / 2, s->left + tick, y + tick / 2};
    frame_draw(s->c, box, wire_width, 0);
    box_keep(s->c, BOX_SYMBOL, "tick", box);
}

/* Never cut: at the end of the words stands what tells. Of two parts in one place a line each, and no
 * picture. */
static void bands_and_words(sheet *s, const columns *x, const char *bands)
{
    const char *second = strstr(bands, "; ");
    const double middle = s->y + row_height / 2;
    char first[WIRE_PART];
    snprintf(first, sizeof first, "%.*s", (int)(second != NULL ? (size_t)(second - bands) : strlen(bands)),
             bands);
    if (second != NULL) {
        (void)text_at(s->c, (place){x->bands - 2, middle - 0.4}, TYPE_TINY, ALIGN_LEFT, first);
        (void)text_at(s->c, (place){x->bands - 2, middle + 2}, TYPE_TINY, ALIGN_LEFT, second + 2);
        return;
    }
    const bool long_words = text_width(s->c, TYPE_ROW, first) > s->right - x->words;
    bands_draw(s->c, (place){x->bands, middle}, first);
    (void)text_at(s->c, (place){x->words, middle + 0.95}, long_words ? TYPE_TINY : TYPE_ROW, ALIGN_LEFT,
                  first);
}

static void wiring_ends(sheet *s, const columns *x, int n, bool again)
{
    const wire *row = &s->list.wires[n];
    const double base = s->y + row_height / 2 + 0.95;
    const wire_end *const ends[] = {&row->from, &row->to};
    const double at[] = {x->from, x->to, x->by};
    if (!again)
        (void)text_within(s->c, (place){x->of, base}, TYPE_BOLD, x->from - x->of - 1, row->group);
    for (int i = 0; i < 2; i++) {
        char words[16];
        hole_of_end(s, n, i == 1, words);
        const double end = at[i + 1] - 1.5,
                     width = text_at(s->c, (place){end, base}, TYPE_BOLD, ALIGN_RIGHT, words);
        (void)text_within(s->c, (place){at[i], base}, end_is_pin(s, ends[i]) ? TYPE_BOLD : TYPE_TEXT,
                          end - at[i] - (width > 0 ? width + 1 : 0), ends[i]->name);
    }
}

static void wiring_row(sheet *s, const columns *x, int i, bool again)
{
    const wire *row = &s->list.wires[i];
    const double middle = s->y + row_height / 2, base = middle + 0.95;
    const int check = check_before_wire(s, row);
    const bool alone = row->bands[0] == '\0' && !row->fitted && check == 0;
    char text[120];
    line_draw(s->c, (place){again ? x->from : s->left, s->y}, (place){s->right, s->y},
              again ? hair_width : wire_width, again ? INK_PALE : INK_BLACK);
    if (row->fitted)
        (void)text_at(s->c, (place){s->left + tick / 2, base}, TYPE_TEXT, ALIGN_MIDDLE, "–");
    else
        tick_draw(s, middle);
    snprintf(text, sizeof text, "%d", i + 1);
    (void)text_at(s->c, (place){x->number, base}, TYPE_SMALL, ALIGN_RIGHT, text);
    wiring_ends(s, x, i, again);
    const double value = text_at(s->c, (place){x->by, base}, TYPE_VALUE, ALIGN_LEFT, row->value);
    const double word = value > 0 ? fmax(value + 1.4, 8) : 0, end = alone ? s->right : x->bands - 3;
    (void)text_within(s->c, (place){x->by + word, base}, TYPE_TEXT, end - x->by - word,
                      word_beside_value(row, text));
    if (row->fitted) {
        (void)text_at(s->c, (place){x->bands - 2, base}, TYPE_SMALL, ALIGN_LEFT, "fitted: nothing to do");
    } else if (row->bands[0] != '\0') {
        bands_and_words(s, x, row->bands);
    } else if (check > 0) {
        snprintf(text, sizeof text, "only when checkpoint %d is right with power on", check);
        (void)text_at(s->c, (place){x->bands - 2, base}, TYPE_SMALL, ALIGN_LEFT, text);
    }
    s->y += row_height;
}

/* Rows of one signal that come together. */
static int rows_of_group(const sheet *s, int from)
{
    int count = 1;
    while (from + count < s->list.count &&
           wires_belong_together(&s->list.wires[from + count], &s->list.wires[from]))
        count++;
    return count;
}

void sheet_draw_wiring(sheet *s)
{
    const columns x = columns_at(s);
    const double whole_list = 8 + s->list.count * row_height;
    sheet_heading(s, "Wiring list", "everything off; from top to bottom; tick each",
                  fmin(whole_list, s->bottom - 40)); /* on one page, if it can be */
    wiring_heads(s, &x);
    for (int i = 0; i < s->list.count;) {
        const int rows = rows_of_group(s, i);
        if (s->y + fmin(rows, 12) * row_height > s->bottom) { /* a signal stays on one page */
            line_draw(s->c, (place){s->left, s->y}, (place){s->right, s->y}, body_width, INK_BLACK);
            sheet_turn(s);
            wiring_heads(s, &x);
        }
        for (int k = 0; k < rows; k++) {
            if (s->y + row_height > s->bottom) {
                sheet_turn(s);
                wiring_heads(s, &x);
            }
            wiring_row(s, &x, i + k, k > 0);
        }
        i += rows;
    }
    line_draw(s->c, (place){s->left, s->y}, (place){s->right, s->y}, body_width, INK_BLACK);
}

/* --- checkpoints --- */

static void checkpoint_heads(sheet *s)
{
    static const char *const heads[] = {"signal", "meter from, to", "when", "least", "typical", "most"};
    const double at[] = {s->left + 6.5, s->left + 37,  s->left + 80,
                         s->left + 121, s->left + 137, s->left + 154};
    s->y += 3.5;
    for (int i = 0; i < 6; i++)
        (void)text_at(s->c, (place){at[i], s->y}, TYPE_SMALL, i < 3 ? ALIGN_LEFT : ALIGN_RIGHT, heads[i]);
    (void)text_at(s->c, (place){s->right - 22, s->y}, TYPE_SMALL, ALIGN_LEFT, "measured");
    s->y += 1.8;
    line_draw(s->c, (place){s->left, s->y}, (place){s->right, s->y}, body_width, INK_BLACK);
}

static void section(sheet *s, bool power_off)
{
    area_fill(s->c, (area){s->left, s->y + 0.5, s->right, s->y + 0.5 + check_height}, INK_BAR);
    (void)text_at(s->c, (place){s->left + 1.2, s->y + check_height / 2 + 1.5}, TYPE_BOLD, ALIGN_LEFT,
                  power_off ? POWER_OFF_WORDS : POWER_ON_WORDS);
    s->y += check_height + 0.5;
}

static void checkpoint_row(sheet *s, const checkpoint *is, bool again)
{
    const double base = s->y + check_height / 2 + 0.95;
    const double at[] = {s->left + 121, s->left + 137, s->left + 154},
                 figures[] = {is->least, is->typical, is->most};
    if (!again) {
        check_disc(s->c, (place){s->left + 1.8, s->y + check_height / 2}, is->number);
        (void)text_within(s->c, (place){s->left + 6.5, base}, TYPE_BOLD, 29.5,
                          s->plan->signals[is->signal].name);
        (void)text_within(s->c, (place){s->left + 37, base}, TYPE_TEXT, 42, is->where);
    }
    (void)text_within(s->c, (place){s->left + 80, base}, TYPE_TEXT, 28, is->when);
    for (int i = 0; i < 3; i++) {
        char text[40];
        figure_of_checkpoint(text, figures[i], is->power_off);
        (void)text_at(s->c, (place){at[i], base}, i == 1 ? TYPE_BOLD : TYPE_TEXT, ALIGN_RIGHT, text);
    }
    const area box = {s->right - 22, s->y + 0.45, s->right, s->y + check_height - 0.45};
    frame_draw(s->c, box, wire_width, 0);
    box_keep(s->c, BOX_SYMBOL, "field", box);
    s->y += check_height;
}

void sheet_draw_checkpoints(sheet *s)
{
    if (s->checks.count == 0)
        return;
    sheet_heading(s, "Checkpoints", s->checks.meter,
                  fmin(20 + s->checks.count * check_height, s->bottom - 40));
    checkpoint_heads(s);
    for (int i = 0; i < s->checks.count; i++) {
        const checkpoint *is = &s->checks.list[i], *before = i > 0 ? &s->checks.list[i - 1] : NULL;
        const bool first = before == NULL || before->power_off != is->power_off;
        const bool turned = s->y + (first ? 2 : 1) * check_height > s->bottom;
        if (turned) {
            sheet_turn(s);
            checkpoint_heads(s);
        }
        if (first || turned)
            section(s, is->power_off);
        checkpoint_row(s, is, !first && !turned && before->number == is->number);
    }
}

/* --- parts --- */

void sheet_draw_parts(sheet *s)
{
    part_row *rows = NULL;
    const int count = parts_to_fit(s, &rows);
    const double column = (s->right - s->left - 9) / 2;
    sheet_heading(s, "Parts", s->plan->has_drawer ? "what lies in the drawer, and what to get" : "", 12);
    line_draw(s->c, (place){s->left, s->y - 1}, (place){s->right, s->y - 1}, body_width, INK_BLACK);
    for (int i = 0; i < count; i += 2) {
        if (s->y + row_height > s->bottom)
            sheet_turn(s);
        for (int side = 0; side < 2 && i + side < count; side++) {
            const part_row *row = &rows[i + side];
            const double x = s->left + side * (column + 9), base = s->y + row_height / 2 + 0.95;
            char text[60];
            const area box = {x, s->y + row_height / 2 - tick / 2, x + tick,
                              s->y + row_height / 2 + tick / 2};
            frame_draw(s->c, box, wire_width, 0);
            box_keep(s->c, BOX_SYMBOL, "tick", box);
            snprintf(text, sizeof text, "%d ×", row->count);
            (void)text_at(s->c, (place){x + 11.5, base}, TYPE_TEXT, ALIGN_RIGHT, text);
            (void)text_within(s->c, (place){x + 13, base}, TYPE_VALUE, 18, row->value);
            if (row->bands[0] != '\0')
                bands_draw(s->c, (place){x + 34, s->y + row_height / 2}, row->bands);
            stock_of_part(s, row, text);
            if (s->plan->has_drawer)
                (void)text_at(s->c, (place){x + column, base},
                              strcmp(text, "to get") == 0 ? TYPE_BOLD : TYPE_TEXT, ALIGN_RIGHT, text);
        }
        s->y += row_height;
    }
    free(rows);
}
