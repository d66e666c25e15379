/* SPDX-License-Identifier: MIT */
/* The circuits alone, as one drawing with its own style, for pages of documents. */
#include "base/memory.h"
#include "sheet/page_texts.h"
#include "sheet/sheet.h"
#include <stdlib.h>

static const double whole = 182, endless = 1e5, pixels = 4.2, margin = 2;

void sheet_put_drawing(sheet *s, FILE *to)
{
    char *body = NULL;
    size_t size = 0;
    FILE *drawn = tl_text_begin(&body, &size);
    s->left = 0;
    s->right = whole;
    s->y = 0;
    s->c = canvas_new(pen_svg(drawn), (area){-margin, -margin, whole + margin, endless});
    s->c->plain = true;
    const double width = sheet_put_circuits(s) + 2 * margin, height = s->y + 2 * margin;
    s->faults += canvas_faults(s->c, "drawing", s->faults_to);
    canvas_flush(s->c);
    canvas_free(s->c);
    s->c = NULL;
    tl_text_end(drawn, &body);
    fprintf(to,
            "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"%.2f %.2f %.2f %.2f\" width=\"%.0f\" "
            "height=\"%.0f\">\n<title>",
            -margin, -margin, width, height, width * pixels, height * pixels);
    svg_escape(to, s->plan->title);
    fprintf(to,
            "</title>\n<style>\n%s</style>\n<rect x=\"%.2f\" y=\"%.2f\" width=\"%.2f\" height=\"%.2f\" "
            "class=\"fw\"/>\n%s\n</svg>\n",
            (const char *)sheet_drawing_css, -margin, -margin, width, height, body);
    free(body);
}
