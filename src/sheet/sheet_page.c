/* Pages, one after the other, with head and foot; what is on one is proven before it is turned. */
#include "base/memory.h"
#include "sheet/sheet.h"
#include <cairo-svg.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>

static const double margin_top = 13, margin_bottom = 13;
enum { PNG_WIDTH = 1280 };

drawn_file *sheet_file(sheet *s)
{
    s->files = tl_grow(s->files, (size_t)s->file_count, sizeof *s->files);
    s->files[s->file_count] = (drawn_file){NULL, 0};
    return &s->files[s->file_count++];
}

cairo_status_t sheet_collect(void *file, const unsigned char *bytes, unsigned size)
{
    drawn_file *to = file;
    to->bytes = realloc(to->bytes, to->size + size);
    if (to->bytes == NULL)
        return CAIRO_STATUS_NO_MEMORY;
    memcpy(to->bytes + to->size, bytes, size);
    to->size += size;
    return CAIRO_STATUS_SUCCESS;
}

static void begin_page(sheet *s)
{
    const area frame = {s->left, margin_top - 8, s->right, s->height - 6};
    s->page++;
    if (s->nowhere)
        s->surface = cairo_recording_surface_create(CAIRO_CONTENT_COLOR, NULL);
    else if (s->form == SHEET_PNG)
        s->surface = cairo_image_surface_create(CAIRO_FORMAT_RGB24, PNG_WIDTH,
                                                (int)(s->height * PNG_WIDTH / s->width));
    else if (s->form == SHEET_SVG)
        s->surface = cairo_svg_surface_create_for_stream(sheet_collect, &s->files[s->page - 1],
                                                         s->width * POINTS_PER_MM, s->height * POINTS_PER_MM);
    const double scale = s->form == SHEET_PNG && !s->nowhere ? PNG_WIDTH / s->width : POINTS_PER_MM;
    s->c = canvas_new(s->surface, scale, frame);
    cairo_set_source_rgb(s->c->c, 1, 1, 1);
    cairo_paint(s->c->c);
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
    cairo_show_page(s->c->c);
    canvas_free(s->c);
    s->c = NULL;
    if (s->form == SHEET_PNG && !s->nowhere)
        s->failed = cairo_surface_write_to_png_stream(s->surface, sheet_collect, &s->files[s->page - 1]) !=
                        CAIRO_STATUS_SUCCESS ||
                    s->failed;
    if (s->nowhere || s->form != SHEET_PDF)
        sheet_close(s);
}

void sheet_close(sheet *s)
{
    cairo_surface_finish(s->surface);
    s->failed = cairo_surface_status(s->surface) != CAIRO_STATUS_SUCCESS || s->failed;
    cairo_surface_destroy(s->surface);
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
