/* SPDX-License-Identifier: MIT */
/* The sheet as one page of HTML: the same drawings and lists, with rows to tick and fields for the meter. */
#include "base/memory.h"
#include "sheet/drawings.h"
#include "sheet/list_words.h"
#include "sheet/page_texts.h"
#include "sheet/symbols.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

static const double column = 86.5, whole = 182, pixels = 4.2; /* of a millimetre on a screen */

static void add_text(FILE *to, const char *before, const char *text, const char *after)
{
    fprintf(to, "%s", before);
    svg_escape(to, text);
    fprintf(to, "%s", after);
}

/* --- drawings --- */

static void begin_drawing(sheet *s, FILE *to, double width, double height, const char *label)
{
    fprintf(to, "<svg viewBox=\"-1 -1 %.2f %.2f\" width=\"%.0f\" height=\"%.0f\" role=\"img\" aria-label=\"",
            width + 2, height + 2, (width + 2) * pixels, (height + 2) * pixels);
    add_text(to, "", label, "\">");
    s->left = 0;
    s->right = width;
    s->y = 0;
    s->c = canvas_new(pen_svg(to), (area){-1, -1, width + 1, height + 1});
}

static void end_drawing(sheet *s, FILE *to, const char *name)
{
    s->faults += canvas_faults(s->c, name, s->faults_to);
    canvas_flush(s->c);
    canvas_free(s->c);
    s->c = NULL;
    fprintf(to, "</svg>");
}

static void add_findings(const sheet *s, FILE *to, int subject)
{
    int count = 0;
    for (int i = 0; s->o->findings != NULL && i < tl_report_count(s->o->findings); i++) {
        const tl_finding *f = tl_report_finding(s->o->findings, i);
        if (!finding_is_of(s, f, subject))
            continue;
        fprintf(to, "%s<li>%s: ", count++ == 0 ? "<ul class=\"findings\">" : "",
                f->severity == TL_ERROR ? "error" : "warning");
        add_text(to, "", f->cause, "</li>");
    }
    fprintf(to, count > 0 ? "</ul>\n" : "");
}

static void add_circuit(sheet *s, FILE *to, const drawing *d)
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
    fprintf(to, "</figure>\n");
}

static void add_circuits(sheet *s, FILE *to)
{
    fprintf(to, "<section id=\"circuits\"><h2>Circuits</h2>\n<p class=\"soft\">Number in a box: row of the "
                "wiring list. Number in a disc: checkpoint. Black tag: pin and position; below it the least "
                "and the most it may see.</p>\n");
    add_findings(s, to, TL_NONE);
    fprintf(to, "<div class=\"drawings\">\n");
    s->c = canvas_new(pen_svg(NULL), (area){0, 0, whole, 1000});
    drawings all = drawings_of(s);
    for (int i = 0; i < all.count; i++)
        add_circuit(s, to, &all.list[i]);
    canvas_free(s->c);
    s->c = NULL;
    drawings_free(&all);
    fprintf(to, "</div></section>\n");
}

static void add_header(sheet *s, FILE *to)
{
    s->left = 0;
    s->right = whole;
    s->c = canvas_new(pen_svg(NULL), (area){0, 0, whole, 1000});
    const double height = sheet_header_height(s);
    canvas_free(s->c);
    if (height <= 0)
        return;
    fprintf(to,
            "<section id=\"header\"><h2>Header, from above</h2><p class=\"soft\">" SHEET_HEADER_KEY "</p>\n");
    begin_drawing(s, to, whole, height, "header from above");
    sheet_put_header(s);
    end_drawing(s, to, "header");
    fprintf(to, "</section>\n");
}

/* --- lists --- */

static void add_bands(sheet *s, FILE *to, const char *bands)
{
    const double width = 23, height = 3.5;
    if (bands[0] == '\0')
        return;
    fprintf(to, "<span class=\"bands\">");
    if (strstr(bands, "; ") == NULL) { /* of two in one place words alone */
        begin_drawing(s, to, width, height, "colour bands");
        bands_draw(s->c, (place){2, height / 2}, bands);
        end_drawing(s, to, "bands");
    }
    add_text(to, "", bands, "</span>");
}

static void add_wire(sheet *s, FILE *to, int i)
{
    const wire *w = &s->list.wires[i];
    const bool first = i == 0 || !wires_belong_together(w, &s->list.wires[i - 1]);
    const int check = check_before_wire(s, w), row = i + 1;
    char word[120];
    fprintf(to, "<tr id=\"w%d\" class=\"%s%s\"><td class=\"box\">", row, w->fitted ? "" : "tick",
            first ? " first" : "");
    if (w->fitted)
        fprintf(to, "–");
    else
        fprintf(to, "<input type=\"checkbox\" id=\"t%d\" data-row=\"%d\" aria-label=\"row %d is wired\">",
                row, row, row);
    fprintf(to, "</td><td class=\"figure\">%d</td>", row);
    add_text(to, "<td><b>", first ? w->group : "", "</b></td>");
    for (int e = 0; e < 2; e++) {
        const wire_end *end = e == 0 ? &w->from : &w->to;
        char words[16];
        hole_of_end(s, i, e == 1, words);
        add_text(to, end_is_pin(s, end) ? "<td><b>" : "<td>", end->name,
                 end_is_pin(s, end) ? "</b></td>" : "</td>");
    }
    add_text(to, "<td><b>", w->value, "</b> ");
    add_text(to, "", word_beside_value(w, word), "</td><td>");
    if (w->fitted)
        fprintf(to, "fitted: nothing to do");
    else if (w->bands[0] != '\0')
        add_bands(s, to, w->bands);
    else if (check > 0)
        fprintf(to, "only when <a href=\"#c%d\" class=\"check\" data-check=\"%d\">checkpoint %d</a> is right",
                check, check, check);
    fprintf(to, "</td></tr>\n");
}

static void add_wiring(sheet *s, FILE *to)
{
    fprintf(
        to,
        "<section id=\"wiring\"><h2>Wiring list</h2><p class=\"soft\">Everything off; from top to "
        "bottom; tick each.</p>\n<div class=\"wide\"><table><thead><tr><th></th><th class=\"figure\">no.</th>"
        "<th>of</th><th>from</th><th>to</th><th>by</th><th>colour bands</th></tr></thead><tbody>\n");
    for (int i = 0; i < s->list.count; i++)
        add_wire(s, to, i);
    fprintf(to, "</tbody></table></div></section>\n");
}

static void add_grids(sheet *s, FILE *to)
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
        fprintf(to, "</section>\n");
    }
}

static void add_limits(FILE *to, const checkpoint *is)
{
    static const char *const names[] = {"figure least", "figure", "figure most"};
    const double figures[] = {is->least, is->typical, is->most};
    for (int i = 0; i < 3; i++) {
        char text[40];
        figure_of_checkpoint(text, figures[i], is->power_off);
        fprintf(to, i == 1 ? "<td class=\"%s\"><b>%s</b></td>" : "<td class=\"%s\">%s</td>", names[i], text);
    }
}

static void add_field(const sheet *s, FILE *to, int i)
{
    const checkpoint *is = &s->checks.list[i];
    fprintf(
        to,
        "<td><input class=\"reading\" id=\"f%d\" inputmode=\"text\" autocomplete=\"off\" data-check=\"%d\" "
        "data-ohms=\"%d\" data-least=\"%.9g\" data-most=\"%.9g\"",
        i + 1, is->number, is->power_off, is->least, is->most);
    if (is->measures != '\0')
        fprintf(to, " data-measures=\"%c\"", is->measures);
    if (is->of != '\0')
        fprintf(to,
                " data-of=\"%c\" data-factor-least=\"%.9g\" data-factor-most=\"%.9g\" data-fixed=\"%.9g\"",
                is->of, is->factor_least, is->factor_most, is->fixed);
    add_text(to, " data-signal=\"", s->plan->signals[is->signal].name, "\"");
    add_text(to, " data-when=\"", is->when, "\"");
    fprintf(to, " aria-label=\"reading at checkpoint %d, ", is->number);
    add_text(to, "", is->when, "\"> ");
    fprintf(to, "<output id=\"f%dv\" for=\"f%d\" aria-live=\"polite\"></output></td></tr>\n", i + 1, i + 1);
}

static void add_checkpoints(sheet *s, FILE *to)
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
            fprintf(to, "<tr class=\"section\"><td colspan=\"8\">%s</td></tr>\n",
                    is->power_off ? POWER_OFF_WORDS : POWER_ON_WORDS);
        fprintf(to,
                again ? "<tr><td></td>" : "<tr class=\"first\"%s%d\"><td><span class=\"disc\">%d</span></td>",
                is->power_off ? " id=\"o" : " id=\"c", is->number, is->number);
        add_text(to, "<td><b>", again ? "" : s->plan->signals[is->signal].name, "</b></td>");
        add_text(to, "<td>", again ? "" : is->where, "</td>");
        add_text(to, "<td>", is->when, "</td>");
        add_limits(to, is);
        add_field(s, to, i);
    }
    fprintf(to, "</tbody></table></div></section>\n");
}

static void add_parts(sheet *s, FILE *to)
{
    part_row *rows = NULL;
    const int count = parts_to_fit(s, &rows);
    fprintf(to, "<section id=\"parts\"><h2>Parts</h2>\n<div class=\"wide\"><table><tbody>\n");
    for (int i = 0; i < count; i++) {
        char stock[40] = "";
        fprintf(to,
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
    fprintf(to, "</tbody></table></div></section>\n");
    free(rows);
}

/* --- the page --- */

/* Ticks and readings belong to this sheet, and to no other: FNV-1a. */
static unsigned long long hash_of(const char *text)
{
    unsigned long long hash = 14695981039346656037ull;
    for (; *text != '\0'; text++)
        hash = (hash ^ (unsigned char)*text) * 1099511628211ull;
    return hash;
}

static char *body_of(sheet *s)
{
    char *text = NULL;
    size_t size = 0;
    FILE *to = tl_text_begin(&text, &size);
    add_text(to, "<h1>", s->plan->title, "</h1>\n");
    add_text(to, "<p>Board ", s->plan->board->title, " · ");
    add_text(to, "", s->o->verdict, " · ");
    fprintf(to, "%d signal%s</p>\n", s->o->signal_count, s->o->signal_count == 1 ? "" : "s");
    fputs("<nav><a href=\"#circuits\">Circuits</a> <a href=\"#wiring\">Wiring list</a> <a "
          "href=\"#header\">Header</a> <a href=\"#checkpoints\">Checkpoints</a> <a "
          "href=\"#parts\">Parts</a> <button id=\"save\">Save the readings</button> <button "
          "id=\"clear\">Begin anew</button> <span id=\"told\" role=\"status\"></span></nav>\n<main>\n",
          to);
    add_circuits(s, to);
    add_wiring(s, to);
    add_grids(s, to);
    add_header(s, to);
    add_checkpoints(s, to);
    add_parts(s, to);
    add_text(to, "</main>\n<footer class=\"soft\"><p>", s->o->command, "</p></footer>\n");
    tl_text_end(to, &text);
    return text;
}

void sheet_put_page(sheet *s, FILE *to)
{
    char *body = body_of(s);
    add_text(
        to,
        "<!doctype html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><meta name=\"viewport\" "
        "content=\"width=device-width, initial-scale=1\"><meta http-equiv=\"Content-Security-Policy\" "
        "content=\"default-src 'none'; style-src 'unsafe-inline'; script-src 'unsafe-inline'\">\n<title>",
        s->plan->title, "</title>\n<style>\n");
    fprintf(to, "%s%s</style></head>\n<body data-key=\"%016llx\" data-command=\"",
            (const char *)sheet_drawing_css, (const char *)sheet_page_css, hash_of(body));
    add_text(to, "", s->o->command, "\">\n");
    fprintf(to, "%s<script>\n%s</script>\n</body></html>\n", body, (const char *)sheet_page_js);
    free(body);
}
