/* The sheet as one page of HTML: the same drawings and lists, with rows to tick and fields for the meter. */
#include "base/memory.h"
#include "base/replace_file.h"
#include "sheet/drawings.h"
#include "sheet/list_words.h"
#include "sheet/page_texts.h"
#include "sheet/symbols.h"
#include <errno.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>

static const double column = 86.5, whole = 182, pixels = 4.2; /* of a millimetre on a screen */

static void add_text(drawn_text *to, const char *before, const char *text, const char *after)
{
    drawn_add(to, "%s", before);
    drawn_add_escaped(to, text);
    drawn_add(to, "%s", after);
}

/* --- drawings --- */

static void begin_drawing(sheet *s, drawn_text *to, double width, double height, const char *label)
{
    drawn_add(to,
              "<svg viewBox=\"-1 -1 %.2f %.2f\" width=\"%.0f\" height=\"%.0f\" role=\"img\" aria-label=\"",
              width + 2, height + 2, (width + 2) * pixels, (height + 2) * pixels);
    add_text(to, "", label, "\">");
    s->left = 0;
    s->right = width;
    s->y = 0;
    s->c = canvas_new(pen_svg(to), (area){-1, -1, width + 1, height + 1});
}

static void end_drawing(sheet *s, drawn_text *to, const char *name)
{
    s->faults += canvas_faults(s->c, name, s->faults_to);
    canvas_flush(s->c);
    canvas_free(s->c);
    s->c = NULL;
    drawn_add(to, "</svg>");
}

static void add_findings(const sheet *s, drawn_text *to, int subject)
{
    int count = 0;
    for (int i = 0; s->o->findings != NULL && i < tl_report_count(s->o->findings); i++) {
        const tl_finding *f = tl_report_finding(s->o->findings, i);
        if (!finding_is_of(s, f, subject))
            continue;
        drawn_add(to, "%s<li>%s: ", count++ == 0 ? "<ul class=\"findings\">" : "",
                  f->severity == TL_ERROR ? "error" : "warning");
        add_text(to, "", f->cause, "</li>");
    }
    drawn_add(to, count > 0 ? "</ul>\n" : "");
}

static void add_circuit(sheet *s, drawn_text *to, const drawing *d)
{
    char note[160];
    const double width = fmin(fmax(d->width, column), whole);
    drawing_note(d, note);
    add_text(to, "<figure><div><h3>", drawing_title(d), "</h3>");
    add_text(to, "<span class=\"note\">", note, "</span></div>\n");
    canvas *measures = s->c;
    const double height = drawing_height(s, d, width);
    begin_drawing(s, to, width, height, drawing_title(d));
    drawing_draw(s, d, 0, d->room.up, width);
    end_drawing(s, to, drawing_title(d));
    s->c = measures;
    if (d->signal != TL_NONE)
        add_findings(s, to, d->signal);
    drawn_add(to, "</figure>\n");
}

static void add_circuits(sheet *s, drawn_text *to)
{
    drawn_text scratch = {NULL, 0, 0};
    drawn_add(to,
              "<section id=\"circuits\"><h2>Circuits</h2>\n<p class=\"soft\">Number in a box: row of the "
              "wiring list. Number in a disc: checkpoint. Black tag: pin and position; below it the least "
              "and the most it may see.</p>\n");
    add_findings(s, to, TL_NONE);
    drawn_add(to, "<div class=\"drawings\">\n");
    s->c = canvas_new(pen_svg(&scratch), (area){0, 0, whole, 1000});
    drawings all = drawings_of(s);
    for (int i = 0; i < all.count; i++)
        add_circuit(s, to, &all.list[i]);
    canvas_free(s->c);
    s->c = NULL;
    free(scratch.text);
    drawings_free(&all);
    drawn_add(to, "</div></section>\n");
}

static void add_header(sheet *s, drawn_text *to)
{
    drawn_text scratch = {NULL, 0, 0};
    s->left = 0;
    s->right = whole;
    s->c = canvas_new(pen_svg(&scratch), (area){0, 0, whole, 1000});
    const double height = sheet_header_height(s);
    canvas_free(s->c);
    free(scratch.text);
    if (height <= 0)
        return;
    drawn_add(to, "<section id=\"header\"><h2>Header, from above</h2><p class=\"soft\">" SHEET_HEADER_KEY
                  "</p>\n");
    begin_drawing(s, to, whole, height, "header from above");
    sheet_put_header(s);
    end_drawing(s, to, "header");
    drawn_add(to, "</section>\n");
}

/* --- lists --- */

static void add_bands(sheet *s, drawn_text *to, const char *bands)
{
    const double width = 23, height = 3.5;
    if (bands[0] == '\0')
        return;
    drawn_add(to, "<span class=\"bands\">");
    if (strstr(bands, "; ") == NULL) { /* of two in one place words alone */
        begin_drawing(s, to, width, height, "colour bands");
        bands_draw(s->c, (place){2, height / 2}, bands);
        end_drawing(s, to, "bands");
    }
    add_text(to, "", bands, "</span>");
}

static void add_wire(sheet *s, drawn_text *to, int i)
{
    const wire *w = &s->list.wires[i];
    const bool first = i == 0 || !wires_belong_together(w, &s->list.wires[i - 1]);
    const int check = check_before_wire(s, w), row = i + 1;
    char word[120];
    drawn_add(to, "<tr id=\"w%d\" class=\"%s%s\"><td class=\"box\">", row, w->fitted ? "" : "tick",
              first ? " first" : "");
    if (w->fitted)
        drawn_add(to, "–");
    else
        drawn_add(to, "<input type=\"checkbox\" id=\"t%d\" data-row=\"%d\" aria-label=\"row %d is wired\">",
                  row, row, row);
    drawn_add(to, "</td><td class=\"figure\">%d</td>", row);
    add_text(to, "<td><b>", first ? w->group : "", "</b></td>");
    for (int e = 0; e < 2; e++) {
        const char *end = e == 0 ? w->from : w->to;
        char words[16];
        hole_of_end(s, i, e == 1, words);
        add_text(to, end_is_pin(s, end) ? "<td><b>" : "<td>", end,
                 end_is_pin(s, end) ? "</b></td>" : "</td>");
    }
    add_text(to, "<td><b>", w->value, "</b> ");
    add_text(to, "", word_beside_value(w, word), "</td><td>");
    if (w->fitted)
        drawn_add(to, "fitted: nothing to do");
    else if (w->bands[0] != '\0')
        add_bands(s, to, w->bands);
    else if (check > 0)
        drawn_add(to,
                  "only when <a href=\"#c%d\" class=\"check\" data-check=\"%d\">checkpoint %d</a> is right",
                  check, check, check);
    drawn_add(to, "</td></tr>\n");
}

static void add_wiring(sheet *s, drawn_text *to)
{
    drawn_add(
        to,
        "<section id=\"wiring\"><h2>Wiring list</h2><p class=\"soft\">Everything off; from top to "
        "bottom; tick each.</p>\n<div class=\"wide\"><table><thead><tr><th></th><th class=\"figure\">no.</th>"
        "<th>of</th><th>from</th><th>to</th><th>by</th><th>colour bands</th></tr></thead><tbody>\n");
    for (int i = 0; i < s->list.count; i++)
        add_wire(s, to, i);
    drawn_add(to, "</tbody></table></div></section>\n");
}

static void add_grids(sheet *s, drawn_text *to)
{
    for (int board = 0; s->plan->plug_in != NULL && board < s->on_board.boards; board++) {
        char title[40];
        snprintf(title, sizeof title, s->on_board.boards > 1 ? "Plug-in board %d" : "Plug-in board",
                 board + 1);
        add_text(to, "<section class=\"wide\"><h2>", title, "</h2>\n");
        s->left = 0;
        s->right = whole;
        const double height = sheet_grid_height(s);
        begin_drawing(s, to, whole, height, title);
        sheet_put_grid(s, board);
        end_drawing(s, to, title);
        drawn_add(to, "</section>\n");
    }
}

static void add_limits(drawn_text *to, const checkpoint *is)
{
    static const char *const names[] = {"figure least", "figure", "figure most"};
    const double figures[] = {is->least, is->typical, is->most};
    for (int i = 0; i < 3; i++) {
        char text[40];
        figure_of_checkpoint(text, figures[i], is->power_off);
        drawn_add(to, i == 1 ? "<td class=\"%s\"><b>%s</b></td>" : "<td class=\"%s\">%s</td>", names[i],
                  text);
    }
}

static void add_field(const sheet *s, drawn_text *to, int i)
{
    const checkpoint *is = &s->checks.list[i];
    drawn_add(
        to,
        "<td><input class=\"reading\" id=\"f%d\" inputmode=\"text\" autocomplete=\"off\" data-check=\"%d\" "
        "data-ohms=\"%d\" data-least=\"%.9g\" data-most=\"%.9g\"",
        i + 1, is->number, is->power_off, is->least, is->most);
    if (is->measures != '\0')
        drawn_add(to, " data-measures=\"%c\"", is->measures);
    if (is->of != '\0')
        drawn_add(to,
                  " data-of=\"%c\" data-factor-least=\"%.9g\" data-factor-most=\"%.9g\" data-fixed=\"%.9g\"",
                  is->of, is->factor_least, is->factor_most, is->fixed);
    add_text(to, " data-signal=\"", s->plan->signals[is->signal].name, "\"");
    add_text(to, " data-when=\"", is->when, "\"");
    drawn_add(to, " aria-label=\"reading at checkpoint %d, ", is->number);
    add_text(to, "", is->when, "\"> ");
    drawn_add(to, "<output id=\"f%dv\" for=\"f%d\" aria-live=\"polite\"></output></td></tr>\n", i + 1, i + 1);
}

static void add_checkpoints(sheet *s, drawn_text *to)
{
    if (s->checks.count == 0)
        return;
    add_text(to, "<section id=\"checkpoints\"><h2>Checkpoints</h2><p class=\"soft\">", s->checks.meter,
             "</p>\n<div class=\"wide\"><table><thead><tr><th></th><th>signal</th><th>meter from, "
             "to</th><th>when</th><th class=\"figure\">least</th><th class=\"figure\">typical</th><th "
             "class=\"figure\">most</th><th>measured</th></tr></thead><tbody>\n");
    for (int i = 0; i < s->checks.count; i++) {
        const checkpoint *is = &s->checks.list[i], *before = i > 0 ? &s->checks.list[i - 1] : NULL;
        const bool section = before == NULL || before->power_off != is->power_off,
                   again = !section && before->number == is->number;
        if (section)
            drawn_add(to, "<tr class=\"section\"><td colspan=\"8\">%s</td></tr>\n",
                      is->power_off ? POWER_OFF_WORDS : POWER_ON_WORDS);
        drawn_add(
            to, again ? "<tr><td></td>" : "<tr class=\"first\"%s%d\"><td><span class=\"disc\">%d</span></td>",
            is->power_off ? " id=\"o" : " id=\"c", is->number, is->number);
        add_text(to, "<td><b>", again ? "" : s->plan->signals[is->signal].name, "</b></td>");
        add_text(to, "<td>", again ? "" : is->where, "</td>");
        add_text(to, "<td>", is->when, "</td>");
        add_limits(to, is);
        add_field(s, to, i);
    }
    drawn_add(to, "</tbody></table></div></section>\n");
}

static void add_parts(sheet *s, drawn_text *to)
{
    part_row *rows = NULL;
    const int count = parts_to_fit(s, &rows);
    drawn_add(to, "<section id=\"parts\"><h2>Parts</h2>\n<div class=\"wide\"><table><tbody>\n");
    for (int i = 0; i < count; i++) {
        char stock[40] = "";
        drawn_add(to,
                  "<tr class=\"tick\"><td class=\"box\"><input type=\"checkbox\" id=\"p%d\" "
                  "aria-label=\"part %d is "
                  "there\"></td><td class=\"figure\">%d ×</td>",
                  i + 1, i + 1, rows[i].count);
        add_text(to, "<td><b>", rows[i].value, "</b></td><td>");
        add_bands(s, to, rows[i].bands);
        if (s->plan->has_drawer)
            stock_of_part(s, &rows[i], stock);
        add_text(to, "</td><td>", stock, "</td></tr>\n");
    }
    drawn_add(to, "</tbody></table></div></section>\n");
    free(rows);
}

/* --- the page --- */

/* Ticks and readings belong to this sheet, and to no other: FNV-1a. */
static unsigned long long hash_of(const drawn_text *text)
{
    unsigned long long hash = 14695981039346656037ull;
    for (size_t i = 0; i < text->length; i++)
        hash = (hash ^ (unsigned char)text->text[i]) * 1099511628211ull;
    return hash;
}

static drawn_text body_of(sheet *s)
{
    drawn_text body = {NULL, 0, 0};
    add_text(&body, "<h1>", s->plan->title, "</h1>\n");
    add_text(&body, "<p>Board ", s->plan->board->title, " · ");
    add_text(&body, "", s->o->verdict, " · ");
    drawn_add(&body, "%d signal%s</p>\n", s->o->signal_count, s->o->signal_count == 1 ? "" : "s");
    drawn_add(&body, "<nav><a href=\"#circuits\">Circuits</a> <a href=\"#wiring\">Wiring list</a> ");
    drawn_add(&body,
              "<a href=\"#header\">Header</a> <a href=\"#checkpoints\">Checkpoints</a> <a "
              "href=\"#parts\">Parts</a> <button id=\"save\">Save the readings</button> <button "
              "id=\"clear\">Begin anew</button> <span id=\"told\" role=\"status\"></span></nav>\n<main>\n");
    add_circuits(s, &body);
    add_wiring(s, &body);
    add_grids(s, &body);
    add_header(s, &body);
    add_checkpoints(s, &body);
    add_parts(s, &body);
    add_text(&body, "</main>\n<footer class=\"soft\"><p>", s->o->command, "</p></footer>\n");
    return body;
}

static drawn_text page_of(sheet *s)
{
    drawn_text page = {NULL, 0, 0}, body = body_of(s);
    add_text(
        &page,
        "<!doctype html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><meta name=\"viewport\" "
        "content=\"width=device-width, initial-scale=1\"><meta http-equiv=\"Content-Security-Policy\" "
        "content=\"default-src 'none'; style-src 'unsafe-inline'; script-src 'unsafe-inline'\">\n<title>",
        s->plan->title, "</title>\n<style>\n");
    drawn_add(&page,
              "%s</style></head>\n<body data-key=\"%016llx\">\n%s<script>\n%s</script>\n</body></html>\n",
              (const char *)sheet_page_css, hash_of(&body), body.text, (const char *)sheet_page_js);
    free(body.text);
    return page;
}

bool sheet_write_page(tl_circuit *circuit, const sheet_options *o, const char *path, char why[1200])
{
    sheet s = sheet_of(circuit, o);
    drawn_text page = page_of(&s);
    const bool good = replace_file(path, (unsigned char *)page.text, page.length);
    if (!good)
        snprintf(why, 1200, "%.1000s: error: %s", path, strerror(errno));
    free(page.text);
    sheet_free(&s);
    return good;
}

int sheet_prove_page(tl_circuit *circuit, const sheet_options *o, FILE *to)
{
    sheet s = sheet_of(circuit, o);
    s.faults_to = to;
    drawn_text page = page_of(&s);
    const int faults = s.faults;
    free(page.text);
    sheet_free(&s);
    return faults;
}
