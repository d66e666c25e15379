/* The circuits alone, as one drawing with its own style, for pages of documents. */
#include "base/replace_file.h"
#include "sheet/sheet.h"
#include <errno.h>
#include <stdlib.h>
#include <string.h>

static const double whole = 182, endless = 1e5, pixels = 4.2, margin = 2;

static const char style[] =
    "<style>svg{--page:#fff;--ink:#000;--soft:#555;--pale:#b8b8b8;--meter:#004d80}"
    "@media(prefers-color-scheme:dark){svg{--page:#0d1117;--ink:#e8e8e8;--soft:#a8a8a8;--pale:#555;--meter:#"
    "7cc0f5}}"
    "text{font-family:'DejaVu Sans Condensed','Roboto Condensed','Arial Narrow',sans-serif;white-space:pre}"
    ".b{font-weight:bold}.n{fill:none}.fk{fill:var(--ink)}.fg{fill:var(--soft)}.fp{fill:var(--pale)}"
    ".fw{fill:var(--page)}.fm{fill:var(--meter)}.sk{stroke:var(--ink)}.sg{stroke:var(--soft)}"
    ".sp{stroke:var(--pale)}.sw{stroke:var(--page)}.sm{stroke:var(--meter)}</style>";

static drawn_text drawing_of(sheet *s)
{
    drawn_text body = {NULL, 0, 0}, all = {NULL, 0, 0};
    s->left = 0;
    s->right = whole;
    s->y = 0;
    s->c = canvas_new(pen_svg(&body), (area){-margin, -margin, whole + margin, endless});
    s->c->plain = true;
    const double width = sheet_put_circuits(s) + 2 * margin, height = s->y + 2 * margin;
    s->faults += canvas_faults(s->c, "drawing", s->faults_to);
    canvas_flush(s->c);
    canvas_free(s->c);
    s->c = NULL;
    drawn_add(&all,
              "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"%.2f %.2f %.2f %.2f\" width=\"%.0f\" "
              "height=\"%.0f\">\n<title>",
              -margin, -margin, width, height, width * pixels, height * pixels);
    drawn_add_escaped(&all, s->plan->title);
    drawn_add(&all,
              "</title>\n%s\n<rect x=\"%.2f\" y=\"%.2f\" width=\"%.2f\" height=\"%.2f\" "
              "class=\"fw\"/>\n%s\n</svg>\n",
              style, -margin, -margin, width, height, body.text != NULL ? body.text : "");
    free(body.text);
    return all;
}

bool sheet_write_drawing(tl_circuit *circuit, const sheet_options *o, const char *path, char why[1200])
{
    sheet s = sheet_of(circuit, o);
    drawn_text drawing = drawing_of(&s);
    const bool good = replace_file(path, (unsigned char *)drawing.text, drawing.length);
    if (!good)
        snprintf(why, 1200, "%.1000s: error: %s", path, strerror(errno));
    free(drawing.text);
    sheet_free(&s);
    return good;
}

int sheet_prove_drawing(tl_circuit *circuit, const sheet_options *o, FILE *to)
{
    sheet s = sheet_of(circuit, o);
    s.faults_to = to;
    drawn_text drawing = drawing_of(&s);
    const int faults = s.faults;
    free(drawing.text);
    sheet_free(&s);
    return faults;
}
