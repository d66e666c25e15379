/* SPDX-License-Identifier: MIT */
/* Pages, one after the other, with head and foot; what is on one is proven before it is turned. */
#include "sheet/sheet.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

static const double margin_top = 13, margin_bottom = 13;

static void begin_page(sheet *s)
{
    const area frame = {s->left, margin_top - 8, s->right, s->height - 6};
    s->page++;
    s->c = canvas_new(paper_page(s->on), frame);
}

static void draw_head(sheet *s)
{
    char text[300];
    if (s->page > 1) {
        (void)text_within(s->c, (place){s->left, margin_top + 2.8}, TYPE_BOLD, s->right - s->left - 60,
                          s->plan->title);
        snprintf(text, sizeof text, "Board %.60s", s->plan->board->title);
        (void)text_at(s->c, (place){s->right, margin_top + 2.8}, TYPE_TEXT, ALIGN_RIGHT, text);
        line_draw(s->c, (place){s->left, margin_top + 5}, (place){s->right, margin_top + 5}, 0.6, INK_BLACK);
        s->y = margin_top + 5;
        return;
    }
    const double title_room = s->right - s->left - 50;
    const bool long_title = text_width(s->c, TYPE_TITLE, s->plan->title) > title_room;
    (void)text_within(s->c, (place){s->left, margin_top + 5}, long_title ? TYPE_SIGNAL : TYPE_TITLE,
                      title_room, s->plan->title);
    snprintf(text, sizeof text, "Board %.60s   ·   %.80s   ·   this sheet: %d signal%s",
             s->plan->board->title, s->o->verdict, s->o->signal_count, s->o->signal_count == 1 ? "" : "s");
    (void)text_within(s->c, (place){s->left, margin_top + 10.5}, TYPE_TEXT, s->right - s->left - 50, text);
    for (int i = 0; i < 2; i++) {
        const double y = margin_top + 5 + 7 * i, x = s->right - 34;
        (void)text_at(s->c, (place){x - 1.5, y}, TYPE_TEXT, ALIGN_RIGHT, i == 0 ? "Wired by" : "Date");
        line_draw(s->c, (place){x, y + 0.7}, (place){s->right, y + 0.7}, hair_width, INK_BLACK);
    }
    line_draw(s->c, (place){s->left, margin_top + 15.5}, (place){s->right, margin_top + 15.5}, 0.6,
              INK_BLACK);
    s->y = margin_top + 15.5;
}

void sheet_end(sheet *s)
{
    char text[40];
    if (s->c == NULL)
        return;
    (void)text_within(s->c, (place){s->left, s->height - margin_bottom + 3}, TYPE_SMALL,
                      s->right - s->left - 20, s->o->command);
    snprintf(text, sizeof text, "%d / %d", s->page, s->pages);
    (void)text_at(s->c, (place){s->right, s->height - margin_bottom + 3}, TYPE_TEXT, ALIGN_RIGHT, text);
    snprintf(text, sizeof text, "page %d", s->page);
    s->faults += canvas_faults(s->c, text, s->faults_to);
    canvas_flush(s->c);
    canvas_free(s->c);
    s->c = NULL;
    paper_page_end(s->on);
}

void sheet_turn(sheet *s)
{
    sheet_end(s);
    begin_page(s);
    draw_head(s);
}

void sheet_heading(sheet *s, const char *title, const char *beside, double room)
{
    if (s->y + 9 + room > s->bottom)
        sheet_turn(s);
    s->y += 9;
    (void)text_at(s->c, (place){s->left, s->y}, TYPE_BLOCK, ALIGN_LEFT, title);
    (void)text_at(s->c, (place){s->right, s->y}, TYPE_SMALL, ALIGN_RIGHT, beside);
    s->y += 3;
}
