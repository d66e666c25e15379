/* SPDX-License-Identifier: MIT */
/* The sheet for a terminal: circuits as lines of letters, and the same lists. */
#include "base/memory.h"
#include "printing/tables.h"
#include "sheet/drawings.h"
#include "sheet/list_words.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

/* Rail above, part above, the line, part below, rail below. */
enum { RAIL_UP, PART_UP, LINE, PART_DOWN, RAIL_DOWN, TEXT_ROWS };

typedef struct {
    FILE *row[TEXT_ROWS];
    char *text[TEXT_ROWS];
    size_t size[TEXT_ROWS];
} letters;

static size_t letters_of(const char *text)
{
    size_t count = 0;
    for (; *text != '\0'; text++)
        count += ((unsigned char)*text & 0xc0) != 0x80;
    return count;
}

static void add_cell(letters *l, const char *const text[TEXT_ROWS])
{
    size_t width = 0;
    for (int i = 0; i < TEXT_ROWS; i++)
        width = letters_of(text[i]) > width ? letters_of(text[i]) : width;
    for (int i = 0; i < TEXT_ROWS; i++) {
        const size_t left = i == LINE ? 0 : (width - letters_of(text[i])) / 2;
        for (size_t k = 0; k < left; k++)
            fprintf(l->row[i], " ");
        fprintf(l->row[i], "%s", text[i]);
        for (size_t k = left + letters_of(text[i]); k < width; k++)
            fprintf(l->row[i], i == LINE ? "─" : " ");
    }
}

static void part_words(const branch *b, char part[100], char rail[100])
{
    part[0] = rail[0] = '\0';
    if (!b->used)
        return;
    snprintf(part, 100, " %.40s%s%.40s ", b->value[0] != '\0' ? b->value : b->name,
             b->contact[0] != '\0' ? " " : "", b->contact);
    snprintf(rail, 100, " %.60s ", b->rail[0] != '\0' ? b->rail : "GND");
}

static void add_node(letters *l, const cell *is)
{
    char up[100], rail[100], down[100], low[100];
    part_words(&is->up, up, rail);
    part_words(&is->down, down, low);
    const char *mark = is->up.used && is->down.used ? "┼" : is->up.used ? "┴" : is->down.used ? "┬" : "─";
    size_t half = 0;
    const char *const words[] = {up, rail, down, low};
    for (int i = 0; i < 4; i++)
        half = letters_of(words[i]) > half ? letters_of(words[i]) : half;
    char line[300] = "";
    for (size_t k = 0; k < half / 2; k++)
        snprintf(line + strlen(line), sizeof line - strlen(line), "─");
    snprintf(line + strlen(line), sizeof line - strlen(line), "%s", mark);
    add_cell(l, (const char *const[]){rail, up, line, down, low});
}

static void add_line(letters *l, const char *before, const char *text, const char *after)
{
    char whole[200];
    snprintf(whole, sizeof whole, "%s%.120s%s", before, text, after);
    add_cell(l, (const char *const[]){"", "", whole, "", ""});
}

static void add_chain(letters *l, const chain *is)
{
    char pin[100];
    snprintf(pin, sizeof pin, "%.64s%s%.8s%s", is->tag, is->position[0] != '\0' ? " (" : "", is->position,
             is->position[0] != '\0' ? ")" : "");
    if (is->out)
        add_line(l, "", pin, " ─");
    for (int i = 0; i < is->count; i++) {
        const cell *c = &is->cells[i];
        if (c->kind == CELL_NODE)
            add_node(l, c);
        else if (c->kind == CELL_TRACK || c->kind == CELL_BOX)
            add_cell(l, (const char *const[]){c->up.rail, "", c->value[0] != '\0' ? c->value : c->name, "",
                                              c->down.rail[0] != '\0' ? c->down.rail : "GND"});
        else
            add_line(l, "──[", c->value[0] != '\0' ? c->value : c->name, "]──");
    }
    if (!is->out)
        add_line(l, "──▶ ", pin, "");
}

/* Nothing goes on behind the last: without spaces, and without a line. */
static void print_row(FILE *to, char *text)
{
    const size_t dash = strlen("─");
    size_t length = strlen(text);
    while (length > 0 && text[length - 1] == ' ')
        length--;
    while (length >= dash && strncmp(text + length - dash, "─", dash) == 0)
        length -= dash;
    if (length > 0)
        fprintf(to, "  %.*s\n", (int)length, text);
}

static void print_circuit(FILE *to, const drawing *d)
{
    letters l;
    char note[160];
    drawing_note(d, note);
    fprintf(to, "%s%s%s\n", drawing_title(d), note[0] != '\0' ? ", " : "", note);
    for (int row = 0; row < TEXT_ROWS; row++)
        l.row[row] = tl_text_begin(&l.text[row], &l.size[row]);
    add_chain(&l, &d->is);
    for (int row = 0; row < TEXT_ROWS; row++) {
        tl_text_end(l.row[row], &l.text[row]);
        print_row(to, l.text[row]);
        free(l.text[row]);
    }
    if (d->is.alike > 0)
        fprintf(to, "  the same at %s\n", d->is.others);
    fputc('\n', to);
}

static void print_circuits(sheet *s, FILE *to)
{
    s->c = canvas_new(pen_svg(NULL), (area){0, 0, 182, 1000});
    drawings all = drawings_of(s);
    for (int i = 0; i < all.count; i++) {
        if (all.list[i].chip == NULL) /* of these the wiring list says it better */
            print_circuit(to, &all.list[i]);
    }
    canvas_free(s->c);
    s->c = NULL;
    drawings_free(&all);
}

static void print_wiring(const sheet *s, FILE *to)
{
    table t;
    fputs("Wiring list: everything off, from top to bottom\n\n", to);
    table_begin(&t, 6, "><<<<<");
    table_heads(&t, "no.", "of", "from", "to", "by", "colour bands");
    for (int i = 0; i < s->list.count; i++) {
        const wire *w = &s->list.wires[i];
        const bool first = i == 0 || !wires_belong_together(w, &s->list.wires[i - 1]);
        const int check = check_before_wire(s, w);
        table_cell(&t, "%d", i + 1);
        table_cell(&t, "%s", first ? w->group : "");
        for (int e = 0; e < 2; e++) {
            char words[16];
            hole_of_end(s, i, e == 1, words);
            table_cell(&t, "%s%s%s", e == 0 ? w->from.name : w->to.name, words[0] != '\0' ? " " : "", words);
        }
        table_cell(&t, "%s", w->part);
        if (w->fitted)
            table_cell(&t, "fitted: nothing to do");
        else if (check > 0)
            table_cell(&t, "only when checkpoint %d is right", check);
        else
            table_cell(&t, "%s", w->bands);
    }
    table_end(&t, to, "  ");
}

static void print_grid(const sheet *s, FILE *to)
{
    const placed *const lists[] = {s->on_board.links, s->on_board.leads};
    const int counts[] = {s->on_board.link_count, s->on_board.lead_count};
    for (int k = 0; k < 2; k++) {
        for (int i = 0; i < counts[k]; i++) {
            char from[16], end[16];
            hole_in_words(&s->on_board, s->plan->plug_in, &lists[k][i].from, from);
            hole_in_words(&s->on_board, s->plan->plug_in, &lists[k][i].to, end);
            fprintf(to, "%s  %s: %s%s%s\n",
                    i == 0 ? (k == 0 ? "\nWires beside the list\n\n" : "\nLegs\n\n") : "", lists[k][i].what,
                    from, from[0] != '\0' && end[0] != '\0' ? " to " : "", end);
        }
    }
}

static void print_checkpoints(const sheet *s, FILE *to)
{
    for (int off = 1; off >= 0; off--) {
        table t;
        int count = 0;
        table_begin(&t, 7, "><<<>>>");
        table_heads(&t, "no.", "signal", "meter from, to", "when", "least", "typical", "most");
        for (int i = 0; i < s->checks.count; i++) {
            const checkpoint *is = &s->checks.list[i];
            const double figures[] = {is->least, is->typical, is->most};
            if (is->power_off != (off == 1))
                continue;
            count++;
            table_cell(&t, "%d", is->number);
            table_cell(&t, "%s", s->plan->signals[is->signal].name);
            table_cell(&t, "%s", is->where);
            table_cell(&t, "%s", is->when);
            for (int n = 0; n < 3; n++) {
                char text[40];
                figure_of_checkpoint(text, figures[n], is->power_off);
                table_cell(&t, "%s", text);
            }
        }
        if (count == 0) {
            table_drop(&t);
            continue;
        }
        fprintf(to, "\n%s%s\n\n", off == 1 ? "Checkpoints. " : "",
                off == 1 ? POWER_OFF_WORDS : POWER_ON_WORDS);
        table_end(&t, to, "  ");
    }
}

static void print_parts(const sheet *s, FILE *to)
{
    table t;
    part_row *rows = NULL;
    const int count = parts_to_fit(s, &rows);
    fputs("\nParts\n\n", to);
    table_begin(&t, 4, "><<<");
    table_heads(&t, "pieces", "value", "colour bands", "");
    for (int i = 0; i < count; i++) {
        char stock[40] = "";
        if (s->plan->has_drawer)
            stock_of_part(s, &rows[i], stock);
        table_cell(&t, "%d", rows[i].count);
        table_cell(&t, "%s", rows[i].value);
        table_cell(&t, "%s", rows[i].bands);
        table_cell(&t, "%s", stock);
    }
    table_end(&t, to, "  ");
    free(rows);
}

static void print_findings(const sheet *s, FILE *to)
{
    for (int i = 0; s->o->findings != NULL && i < tl_report_count(s->o->findings); i++) {
        const tl_finding *f = tl_report_finding(s->o->findings, i);
        if (f->severity != TL_NOTE)
            fprintf(to, "%s: %s\n", f->severity == TL_ERROR ? "error" : "warning", f->cause);
    }
}

void sheet_put_text(sheet *s, FILE *to)
{
    if (s->o->circuits) {
        print_circuits(s, to);
        return;
    }
    fprintf(to, "%s\nBoard %s, %s\n", s->plan->title, s->plan->board->title, s->o->verdict);
    print_findings(s, to);
    fputc('\n', to);
    print_circuits(s, to);
    print_wiring(s, to);
    print_grid(s, to);
    print_checkpoints(s, to);
    print_parts(s, to);
}
