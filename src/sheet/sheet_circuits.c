/* SPDX-License-Identifier: MIT */
/* The circuits: rows of two where both fit beside each other, else over the whole width; what is alike once.
 */
#include "base/memory.h"
#include "sheet/drawings.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

static const double gutter = 9, title_room = 7, row_gap = 8;

static size_t stem(const char *name)
{
    size_t length = strlen(name);
    while (length > 0 && strchr("0123456789-", name[length - 1]) != NULL)
        length--;
    return length;
}

/* One of an array with one that is drawn already. */
static bool joins(drawings *all, const chain *is)
{
    for (int i = 0; i < all->count; i++) {
        if (all->list[i].chip != NULL)
            continue;
        chain *other = &all->list[i].is;
        const size_t length = stem(is->title);
        if (length == 0 || length != stem(other->title) || strncmp(is->title, other->title, length) != 0 ||
            !chains_alike(other, is))
            continue;
        const size_t used = strlen(other->others);
        other->alike++;
        snprintf(other->others + used, sizeof other->others - used, "%s%s", used > 0 ? ", " : "", is->tag);
        return true;
    }
    return false;
}

static void add(sheet *s, drawings *all, const chain *is, const int which[2])
{
    if (joins(all, is))
        return;
    all->list = tl_grow(all->list, (size_t)all->count, sizeof *all->list);
    drawing *d = &all->list[all->count++];
    *d = (drawing){.is = *is, .signal = which[0], .output = which[1]};
    d->width = strip_measure(s->c, &d->is);
    d->room = strip_room_of(&d->is);
}

static void put_span(const sheet *s, int signal, chain *is)
{
    const tl_worst_case *worst = tl_circuit_worst_case(s->circuit, signal, 0);
    double low = worst->volts.low, high = worst->volts.high;
    const tl_signal_nodes *nodes = tl_circuit_nodes(s->circuit, signal);
    for (int state = 1; state < nodes->states; state++) {
        worst = tl_circuit_worst_case(s->circuit, signal, state);
        low = fmin(low, worst->volts.low);
        high = fmax(high, worst->volts.high);
    }
    const bool fine = fmax(fabs(low), fabs(high)) < 0.1;
    if (worst->fault == TL_NET_SOLVED && fine)
        snprintf(is->span, sizeof is->span, "%.1f .. %.1f mV", 1e3 * low, 1e3 * high);
    else if (worst->fault == TL_NET_SOLVED)
        snprintf(is->span, sizeof is->span, "%.2f .. %.2f V", fabs(low) < 0.005 ? 0 : low, high);
}

/* A node that several share has a drawing of its own; where its name stands in another, it is that wire. */
static void add_shared(sheet *s, drawings *all, const chain_maker *m)
{
    for (int i = 0; i < s->plan->supply_count; i++) {
        chain is;
        if (chain_of_shared(m, i, &is))
            add(s, all, &is, (const int[]){TL_NONE, TL_NONE});
    }
}

static void add_chip(sheet *s, drawings *all, const chain_maker *m, wired_kind kind, int index)
{
    chip is;
    if (!chip_of(m, kind, index, &is))
        return;
    all->list = tl_grow(all->list, (size_t)all->count, sizeof *all->list);
    drawing *d = &all->list[all->count++];
    *d = (drawing){.chip = tl_alloc(1, sizeof is), .signal = TL_NONE, .output = TL_NONE};
    *d->chip = is;
    d->width = chip_measure(s->c, d->chip);
    d->room = (strip_room){chip_up(d->chip), chip_down(d->chip)};
}

static void add_chips(sheet *s, drawings *all, const chain_maker *m)
{
    for (int i = 0; i < s->plan->mux_count; i++)
        add_chip(s, all, m, WIRED_MUX, i);
    for (int i = 1; i < s->plan->converter_count; i++) /* the first is the board's own */
        add_chip(s, all, m, WIRED_CONVERTER, i);
    for (int i = 0; i < s->plan->module_count; i++)
        add_chip(s, all, m, WIRED_MODULE, i);
}

void drawings_free(drawings *all)
{
    for (int i = 0; i < all->count; i++)
        free(all->list[i].chip);
    free(all->list);
    *all = (drawings){NULL, 0};
}

const char *drawing_title(const drawing *d)
{
    return d->chip != NULL ? d->chip->title : d->is.title;
}

drawings drawings_of(sheet *s)
{
    drawings all = {NULL, 0};
    const chain_maker m = {s->plan, &s->parts, &s->list};
    for (int i = 0; i < s->o->signal_count; i++) {
        chain is = chain_of_signal(&m, s->o->signals[i]);
        is.check = s->checks.at_pin[s->o->signals[i]];
        if (is.count > 0 && is.cells[0].kind == CELL_NODE)
            is.cells[0].check = s->checks.at_source[s->o->signals[i]];
        put_span(s, s->o->signals[i], &is);
        add(s, &all, &is, (const int[]){s->o->signals[i], TL_NONE});
        if (chain_of_other_leg(&m, s->o->signals[i], &is))
            add(s, &all, &is, (const int[]){TL_NONE, TL_NONE});
    }
    add_shared(s, &all, &m);
    add_chips(s, &all, &m);
    for (int b = 0; b < s->plan->bus_count && s->o->whole; b++) {
        for (int line = 0; line < s->plan->buses[b].line_count; line++) {
            chain is;
            if (chain_of_bus(&m, b, line, &is))
                add(s, &all, &is, (const int[]){TL_NONE, TL_NONE});
        }
    }
    for (int i = 0; i < s->plan->output_count && s->o->whole; i++) {
        for (int pin = 0; pin == 0 || pin < s->plan->outputs[i].pin_count; pin++) {
            chain is = chain_of_output(&m, i, pin);
            if (is.tag[0] != '\0' && is.count > 0)
                add(s, &all, &is, (const int[]){TL_NONE, i});
        }
    }
    return all;
}

double drawing_height(const sheet *s, const drawing *d, double width)
{
    int first[STRIP_ROWS_MOST + 1];
    if (d->chip != NULL)
        return d->room.up + d->room.down;
    const int rows = d->width > width ? strip_fold(s->c, &d->is, width, first) : 1;
    return rows * (d->room.up + d->room.down) + (d->is.alike > 0 ? 4 : 0);
}

void drawing_note(const drawing *d, char note[160])
{
    snprintf(note, 160, "%.60s", d->chip != NULL ? d->chip->note : d->is.note);
    if (d->is.alike > 0)
        snprintf(note + strlen(note), 160 - strlen(note), "%sone of %d alike", note[0] != '\0' ? ", " : "",
                 d->is.alike + 1);
}

static void draw_title(sheet *s, const drawing *d, double x, double width)
{
    char note[160];
    drawing_note(d, note);
    const double used = text_at(s->c, (place){x, s->y + 2.6}, TYPE_SIGNAL, ALIGN_LEFT, drawing_title(d)),
                 noted = text_width(s->c, TYPE_SMALL, note), room = width - used - 3;
    if (noted <= room)
        (void)text_at(s->c, (place){x + width, s->y + 2.6}, TYPE_SMALL, ALIGN_RIGHT, note);
    else
        (void)text_within(s->c, (place){x + used + 3, s->y + 2.6}, TYPE_SMALL, room, note);
    line_draw(s->c, (place){x, s->y + 4.2}, (place){x + width, s->y + 4.2}, hair_width, INK_BLACK);
}

void drawing_draw(sheet *s, const drawing *d, double x, double y, double width)
{
    int first[STRIP_ROWS_MOST + 1];
    if (d->chip != NULL) {
        chip_draw(s->c, d->chip, (place){x, y});
        return;
    }
    if (d->width <= width) {
        strip_draw(s->c, &d->is, (place){x, y}, x + width);
    } else {
        const int rows = strip_fold(s->c, &d->is, width, first);
        for (int i = 0; i < rows; i++, y += d->room.up + d->room.down)
            strip_draw_row(s->c, &d->is, (place){x, y}, x + width, &first[i]);
        y -= d->room.up + d->room.down;
    }
    if (d->is.alike > 0) {
        char text[240];
        snprintf(text, sizeof text, "the same at %s", d->is.others);
        while (text_width(s->c, TYPE_SMALL, text) > width && strrchr(text, ',') != NULL)
            snprintf(strrchr(text, ','), 6, " ...");
        (void)text_at(s->c, (place){x, y + d->room.down + 2.5}, TYPE_SMALL, ALIGN_LEFT, text);
    }
}

/* up: of the row, so that its bars are in one line. */
static void draw(sheet *s, const drawing *d, double x, double width, double up)
{
    draw_title(s, d, x, width);
    drawing_draw(s, d, x, s->y + title_room + up, width);
    if (d->signal != TL_NONE)
        sheet_draw_notes(s, d->signal,
                         (place){x, s->y + title_room + up - d->room.up + drawing_height(s, d, width)},
                         width);
}

static double whole_height(sheet *s, const drawing *d, double width, double up)
{
    return title_room + up - d->room.up + drawing_height(s, d, width) +
           (d->signal != TL_NONE ? sheet_notes_height(s, d->signal, width) : 0);
}

/* Of the plan as a whole, before all; and what the marks mean, behind all. */
static void draw_general_notes(sheet *s)
{
    const double height = sheet_notes_height(s, TL_NONE, s->right - s->left);
    if (height > 0)
        sheet_draw_notes(s, TL_NONE, (place){s->left, s->y}, s->right - s->left);
    s->y += height > 0 ? height + 4 : 0;
}

static void draw_legend(sheet *s)
{
    static const char legend[] =
        "Number in a box: row of the wiring list  ·  in a disc: checkpoint  ·  black tag: pin and "
        "position, below it what it may see  ·  one name, one wire";
    if (s->y + 4 > s->bottom)
        sheet_turn(s);
    s->y += 2;
    (void)text_within(s->c, (place){s->left, s->y}, TYPE_SMALL, s->right - s->left, legend);
}

/* turns: to another page where there is no room. */
static void draw_rows(sheet *s, const drawings *all, bool turns)
{
    const double whole = s->right - s->left, column = (whole - gutter) / 2;
    for (int i = 0; i < all->count;) {
        const drawing *d = &all->list[i], *beside = i + 1 < all->count ? &all->list[i + 1] : NULL;
        const bool two = d->width <= column && beside != NULL && beside->width <= column;
        const double width = d->width <= column ? column : whole,
                     up = two ? fmax(d->room.up, beside->room.up) : d->room.up;
        double height = whole_height(s, d, width, up);
        if (two)
            height = fmax(height, whole_height(s, beside, column, up));
        if (turns && s->y + height > s->bottom) {
            sheet_turn(s);
            s->y += 6;
        }
        draw(s, d, s->left, width, up);
        if (two)
            draw(s, beside, s->left + column + gutter, column, up);
        s->y += height + row_gap;
        i += two ? 2 : 1;
    }
}

void sheet_draw_circuits(sheet *s)
{
    drawings all = drawings_of(s);
    s->y += 6;
    draw_general_notes(s);
    draw_rows(s, &all, true);
    draw_legend(s);
    drawings_free(&all);
}

double sheet_put_circuits(sheet *s)
{
    drawings all = drawings_of(s);
    bool alone = all.count == 1;
    if (alone) /* as wide as it needs to be */
        s->right =
            s->left + fmin(s->right - s->left, fmax(all.list[0].width, (s->right - s->left - gutter) / 2));
    draw_rows(s, &all, false);
    drawings_free(&all);
    return s->right;
}
