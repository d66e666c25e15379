/* SPDX-License-Identifier: MIT */
/* Pages as cairo's surfaces. */
#include "base/memory.h"
#include "sheet/paper.h"
#include "sheet/pen_cairo.h"
#include <cairo-pdf.h>
#include <cairo-svg.h>
#include <stdlib.h>
#include <string.h>

#define POINTS_PER_MM (72 / 25.4)
enum { PNG_WIDTH = 1280, PAGES_MOST = 400 };

struct paper {
    sheet_form form;
    bool nowhere, failed;
    double width, height;
    cairo_surface_t *surface;
    drawn_file files[PAGES_MOST];
    int file_count;
};

bool paper_is_there(void)
{
    return true;
}

static cairo_status_t collect(void *file, const unsigned char *bytes, unsigned size)
{
    drawn_file *to = file;
    unsigned char *all = realloc(to->bytes, to->size + size);
    if (all == NULL)
        return CAIRO_STATUS_NO_MEMORY;
    to->bytes = all;
    memcpy(to->bytes + to->size, bytes, size);
    to->size += size;
    return CAIRO_STATUS_SUCCESS;
}

static void close_surface(paper *p)
{
    cairo_surface_finish(p->surface);
    p->failed = cairo_surface_status(p->surface) != CAIRO_STATUS_SUCCESS || p->failed;
    cairo_surface_destroy(p->surface);
    p->surface = NULL;
}

paper *paper_new(sheet_form form, bool nowhere, double width, double height)
{
    paper *p = tl_alloc(1, sizeof *p);
    p->form = form;
    p->nowhere = nowhere;
    p->width = width;
    p->height = height;
    return p;
}

static void begin_surface(paper *p)
{
    const double width = p->width * POINTS_PER_MM, height = p->height * POINTS_PER_MM;
    if (p->nowhere) {
        p->surface = cairo_recording_surface_create(CAIRO_CONTENT_COLOR, NULL);
        return;
    }
    if (p->file_count == PAGES_MOST) { /* a sheet of more is no sheet */
        p->failed = true;
        p->file_count--;
    }
    drawn_file *to = &p->files[p->file_count++];
    if (p->form == SHEET_PNG)
        p->surface = cairo_image_surface_create(CAIRO_FORMAT_RGB24, PNG_WIDTH,
                                                (int)(p->height * PNG_WIDTH / p->width));
    else if (p->form == SHEET_SVG)
        p->surface = cairo_svg_surface_create_for_stream(collect, to, width, height);
    else
        p->surface = cairo_pdf_surface_create_for_stream(collect, to, width, height);
}

pen *paper_page(paper *p)
{
    if (p->surface == NULL)
        begin_surface(p);
    return pen_cairo(p->surface, p->form == SHEET_PNG && !p->nowhere ? PNG_WIDTH / p->width : POINTS_PER_MM);
}

void paper_page_end(paper *p)
{
    cairo_surface_show_page(p->surface);
    if (p->form == SHEET_PNG && !p->nowhere)
        p->failed = cairo_surface_write_to_png_stream(p->surface, collect, &p->files[p->file_count - 1]) !=
                        CAIRO_STATUS_SUCCESS ||
                    p->failed;
    if (p->nowhere || p->form != SHEET_PDF)
        close_surface(p);
}

drawn_file *paper_close(paper *p, int *count)
{
    drawn_file *files = NULL;
    if (p->surface != NULL)
        close_surface(p);
    *count = p->file_count;
    if (!p->failed && p->file_count > 0) {
        files = tl_alloc((size_t)p->file_count, sizeof *files);
        memcpy(files, p->files, (size_t)p->file_count * sizeof *files);
    }
    for (int i = 0; i < p->file_count && files == NULL; i++)
        free(p->files[i].bytes);
    free(p);
    return files;
}
