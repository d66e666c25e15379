/* SPDX-License-Identifier: MIT */
/*
 * A chart in gnuplot's words. Everything is laid out in pixels, on a terminal too, where a row stands for
 * twenty of them: the title, then panels one below the other, each with its names above it, and the digital
 * lines last.
 */
#define _GNU_SOURCE
#include "base/memory.h"
#include "base/plain_text.h"
#include "record/chart.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum {
    WIDTH = 1280,
    TITLE = 40,
    FOOT = 52,    /* the time below */
    NAMES = 21,   /* a row of names above a panel */
    PANEL = 104,  /* the least of a panel itself */
    BETWEEN = 14, /* panels */
    LINE = 25,    /* a digital line, */
    LINE_ON_TERMINAL = 60,
    PAGE = 1500, /* what is higher goes on to another page */
    SHORT = 800  /* what is lower is stretched */
};

static const char *const colours[] = {"#0072b2", "#d55e00", "#009e73", "#cc79a7", "#e69f00",
                                      "#56b4e9", "#7a5195", "#5f5f5f", "#8c6d31", "#ad1a72"};
enum { COLOURS = sizeof colours / sizeof colours[0] };

/* Names go into the script between single quotes: a quote is doubled. */
static void write_text(FILE *to, const char *text)
{
    fputc('\'', to);
    for (; *text != '\0'; text++) {
        if (*text == '\'')
            fputc('\'', to);
        fputc(*text, to);
    }
    fputc('\'', to);
}

/* Letters, not bytes. */
static int letters(const char *text)
{
    int count = 0;
    for (; *text != '\0'; text++)
        count += ((unsigned char)*text & 0xc0) != 0x80;
    return count;
}

/* --- the layout --- */

/* Pixels of one, on the mean. */
static double letter_of(const chart_paper *paper)
{
    return paper->out != NULL ? 8.3 : (double)WIDTH / paper->columns;
}

typedef struct {
    int first, last;           /* panels of this page: first .. last - 1 */
    int first_line, last_line; /* and digital lines */
    double high, stretch;
} page_part;

/* `rain-plate (2)`: a line and how often it has closed. */
static const char *line_name(const chart_series *s, char text[120])
{
    if (s->closings > 0)
        snprintf(text, 120, "%s (%.0f)", s->name, s->closings);
    else
        snprintf(text, 120, "%s", s->name);
    return text;
}

static double left_of(const chart *c, const chart_paper *paper)
{
    char name[120];
    int longest = paper->out != NULL ? 8 : 13; /* a unit beside its numbers, "%, outputs" among them */
    for (int i = 0; i < c->digital_count; i++) {
        const int own = letters(line_name(c->list[c->digital[i]], name));
        longest = own > longest ? own : longest;
    }
    return fmin(0.4, (longest + 3) * letter_of(paper) / WIDTH);
}

static int rows_of_names(const chart *c, const chart_paper *paper, const chart_panel *panel)
{
    int longest = 0;
    for (int i = 0; i < panel->count; i++) {
        const int own = letters(c->list[panel->members[i]]->name);
        longest = own > longest ? own : longest;
    }
    const int columns = (int)fmax(1, 0.85 * WIDTH / ((longest + 7) * letter_of(paper)));
    return (panel->count + columns - 1) / columns;
}

static double panel_high(const chart *c, const chart_paper *paper, int panel)
{
    return PANEL + BETWEEN + NAMES * rows_of_names(c, paper, &c->panels[panel]);
}

static double lines_high(const chart_paper *paper, int count)
{
    return count > 0 ? 34 + (paper->out != NULL ? LINE : LINE_ON_TERMINAL) * count : 0;
}

/* From top to bottom as long as there is room; a page has one thing at least. */
static page_part part_of(const chart *c, const chart_paper *paper, int page)
{
    page_part p = {0};
    for (int at = 0; at <= page; at++) {
        double used = TITLE + FOOT, own;
        bool any = false;
        p.first = p.last;
        p.first_line = p.last_line;
        while (p.last < c->panel_count && (!any || used + panel_high(c, paper, p.last) <= PAGE)) {
            used += panel_high(c, paper, p.last++);
            any = true;
        }
        while (p.last == c->panel_count && p.last_line < c->digital_count &&
               (!any || used + lines_high(paper, p.last_line - p.first_line + 1) <= PAGE)) {
            p.last_line++;
            any = true;
        }
        own = used + lines_high(paper, p.last_line - p.first_line);
        const double plots = PANEL * (p.last - p.first);
        p.stretch = own < SHORT && plots > 0 ? 1 + (SHORT - own) / plots : 1;
        p.high = fmax(own, plots > 0 ? SHORT : own);
    }
    return p;
}

int chart_pages(const chart *c, const chart_paper *paper)
{
    int pages = 0;
    for (page_part p = {0}; p.last < c->panel_count || p.last_line < c->digital_count;)
        p = part_of(c, paper, pages++);
    return pages;
}

/* --- one panel --- */

/* Seconds, minutes or hours, whichever reads best. */
static double time_unit(const chart *c, const char **name)
{
    const double span = c->last - c->first;
    *name = span > 3 * 3600 ? "h" : span > 300 ? "min" : "s";
    return span > 3 * 3600 ? 3600 : span > 300 ? 60 : 1;
}

/* Steps of 1, 2 or 5 of a decade: some four of them over the span. */
static double sensible_step(double span)
{
    const double decade = pow(10, floor(log10(span / 4)));
    const double share = span / 4 / decade;
    return decade * (share < 1.5 ? 1 : share < 3.5 ? 2 : share < 7.5 ? 5 : 10);
}

/* Levels are named beside their lines: those at the edge want room. */
static void write_range(FILE *to, const chart *c, const chart_panel *panel, bool picture)
{
    const double span = panel->most - panel->least;
    bool at_edge = false;
    for (int i = 0; i < c->level_count; i++)
        at_edge = at_edge || (chart_shows_level(c, panel, &c->levels[i]) &&
                              (c->levels[i].value < panel->least + 0.15 * span ||
                               c->levels[i].value > panel->most - 0.15 * span));
    const double margin = span > 0 ? (at_edge ? 0.2 : 0.07) * span : fmax(fabs(panel->least), 1e-3) * 0.1;
    if (!isfinite(panel->least) || !isfinite(panel->most))
        fputs("set yrange [0:1]\nset ytics ()\n", to);
    else
        /* On a terminal the topmost row is the legend's. */
        fprintf(to, "set yrange [%.9g:%.9g]\nset ytics %.9g\n", panel->least - margin,
                panel->most + (picture ? margin : fmax(margin, 0.2 * span)),
                sensible_step(span + 2 * margin));
}

/* Where a signal had no value: a quiet band, and why. */
static void write_failures(FILE *to, const chart *c, const chart_panel *panel, double per, bool picture)
{
    int rows = 0;
    for (int i = 0; i < panel->count; i++) {
        const chart_series *s = c->list[panel->members[i]];
        for (int k = 0; k < s->failure_count; k++) {
            const chart_failure *f = &s->failures[k];
            if (picture)
                fprintf(to,
                        "set object rectangle from first %.9g, graph 0 to first %.9g, graph 1 behind fc rgb "
                        "'#f7e9e4' fs solid noborder\n",
                        f->from / per, fmax(f->until, f->from + 0.002 * (c->last - c->first)) / per);
            if (k > 0 || rows == 3) /* once a signal, and not too many */
                continue;
            char why[200];
            snprintf(why, sizeof why, "%s: %s", s->name, f->why);
            fputs("set label ", to);
            write_text(to, why);
            /* Beyond the middle it goes to the left. */
            const bool late = f->from > c->first + 0.7 * (c->last - c->first);
            const char *side = late ? "right" : "left";
            if (picture)
                fprintf(to, " at first %.9g, graph 1 %s offset %s,%.1f font ',9' tc rgb '#a04030' front\n",
                        f->from / per, side, late ? "-0.3" : "0.3", -0.8 - 1.1 * rows);
            else
                fprintf(to, " at first %.9g, graph 1 %s offset %d,%d front\n", f->from / per, side,
                        late ? -1 : 1, -1 - rows);
            rows++;
        }
    }
}

/* The levels that outputs act at, each named at its line: the upper one of two above it. */
static void write_levels(FILE *to, const chart *c, const chart_panel *panel, bool picture)
{
    for (int i = 0; i < c->level_count; i++) {
        const chart_level *level = &c->levels[i];
        bool upper = true;
        for (int k = 0; k < c->level_count; k++)
            upper = upper &&
                    !(strcmp(c->levels[k].signal, level->signal) == 0 && c->levels[k].value > level->value);
        if (!chart_shows_level(c, panel, level) || level->value < panel->least || level->value > panel->most)
            continue;
        fprintf(to, "set arrow from graph 0, first %.9g to graph 1, first %.9g nohead%s\n", level->value,
                level->value, picture ? " dt 2 lw 1 lc rgb '#8a8a8a'" : "");
        bool said = false; /* one label for what acts at the same level */
        for (int k = 0; k < i; k++)
            said = said ||
                   (c->levels[k].value == level->value && strcmp(c->levels[k].signal, level->signal) == 0);
        if (said)
            continue;
        char text[600];
        int length = snprintf(text, sizeof text, "%s", level->text);
        for (int k = i + 1; k < c->level_count && length < 400; k++) {
            if (c->levels[k].value == level->value && strcmp(c->levels[k].signal, level->signal) == 0)
                length += snprintf(text + length, sizeof text - (size_t)length, ", %s", c->levels[k].text);
        }
        snprintf(text + length, sizeof text - (size_t)length, " %.4g %s", level->value, level->unit);
        fputs("set label ", to);
        write_text(to, text);
        if (picture)
            fprintf(to, " at graph 0.004, first %.9g left offset 0,%s font ',9' tc rgb '#5f5f5f' front\n",
                    level->value, upper ? "0.5" : "-0.6");
        else
            fprintf(to, " at graph 0, first %.9g left offset 2,0 front\n", level->value);
    }
}

static void write_series(FILE *to, const chart *c, const chart_panel *panel, double per, bool picture)
{
    const char *comma = "plot ";
    for (int i = 0; i < panel->count && picture; i++) {
        if (c->list[panel->members[i]]->kind != STORED_ANALOG &&
            c->list[panel->members[i]]->kind != STORED_TIMED)
            continue;
        fprintf(
            to,
            "%s$data%d using ($1/%g):3:4 with filledcurves fs transparent solid 0.13 noborder lc rgb '%s' "
            "notitle",
            comma, panel->members[i], per, colours[i % COLOURS]);
        comma = ", ";
    }
    for (int i = 0; i < panel->count; i++) {
        const chart_series *s = c->list[panel->members[i]];
        fprintf(to, "%s$data%d using ($1/%g):2 with %s lw 1.7 dt %d lc rgb '%s' title ", comma,
                panel->members[i], per, s->kind == STORED_OUTPUT ? "steps" : "lines", 1 + i / COLOURS,
                colours[i % COLOURS]);
        write_text(to, s->name);
        comma = ", ";
    }
    fputc('\n', to);
}

/* --- the page --- */

/* Where the next panel lies, from top to bottom, as shares of the page. */
static void write_place(FILE *to, double high, double top, double bottom)
{
    fprintf(
        to,
        "unset label\nunset arrow\nunset object\nset tmargin at screen %.5f\nset bmargin at screen %.5f\n",
        1 - top / high, 1 - bottom / high);
}

static void write_time(FILE *to, const char *name)
{
    fprintf(to, "set xlabel '%s' offset 0,0.4\nset format x '%%g'\n", name);
}

static void write_title(FILE *to, const chart *c, double high, int page, int pages)
{
    char text[300];
    if (pages > 1)
        snprintf(text, sizeof text, "%s (%d of %d)", c->title, page + 1, pages);
    else
        snprintf(text, sizeof text, "%s", c->title);
    fputs("set label ", to);
    write_text(to, text);
    fprintf(to, " at screen 0.01, screen %.5f left font ',13'\n", 1 - 20 / high);
}

static void write_lines(FILE *to, const chart *c, const page_part *p, double per, bool picture)
{
    const int lines = p->last_line - p->first_line;
    fprintf(to, "unset ylabel\nunset key\nset yrange [-0.25:%d]\nset ytics (", lines);
    for (int i = 0; i < lines; i++) {
        const chart_series *s = c->list[c->digital[p->first_line + i]];
        char name[120];
        fputs(i > 0 ? ", " : "", to);
        write_text(to, line_name(s, name));
        fprintf(to, " %g", lines - 1 - i + 0.3);
    }
    fputs(")\n", to);
    for (int i = 0; i < lines && picture; i++) {
        const chart_series *s = c->list[c->digital[p->first_line + i]];
        for (int k = 0; k < s->failure_count; k++)
            fprintf(to,
                    "set object rectangle from first %.9g, first %g to first %.9g, first %g behind fc rgb "
                    "'#f7e9e4' "
                    "fs solid noborder\n",
                    s->failures[k].from / per, lines - 1 - i - 0.1,
                    fmax(s->failures[k].until, s->failures[k].from + 0.002 * (c->last - c->first)) / per,
                    lines - 1 - i + 0.8);
    }
    fprintf(to,
            "set label 'high is up; in brackets how often it closed' at graph 0, graph 1 left offset %s\n",
            picture ? "0,0.7 font ',9' tc rgb '#5f5f5f'" : "2,1");
    for (int i = 0; i < lines; i++)
        fprintf(to, "%s$data%d using ($1/%g):($2*0.65+%d) with steps lw 1.7 lc rgb '%s' notitle",
                i > 0 ? ", " : "plot ", c->digital[p->first_line + i], per, lines - 1 - i,
                colours[(p->first_line + i) % COLOURS]);
    fputc('\n', to);
}

static void write_terminal(FILE *to, const chart_paper *paper, double high)
{
    const char *out = paper->out;
    const char *end = out != NULL ? out + strlen(out) - 4 : "";
    if (out == NULL) /* more rows than the window has where the panels need them: a terminal scrolls */
        fprintf(to, "set terminal dumb noenhanced size %d,%.0f\n", paper->columns,
                fmax(paper->rows, high > SHORT ? ceil(high / 20) : 0));
    else if (strcmp(end, ".svg") == 0)
        fprintf(
            to,
            "set terminal svg noenhanced size %d,%.0f dynamic background '#ffffff' font 'DejaVu Sans,13'\n",
            WIDTH, high);
    else if (strcmp(end, ".pdf") == 0) /* a picture's pixel is a hundredth of an inch */
        fprintf(
            to,
            "set terminal pdfcairo noenhanced size %.2fin,%.2fin background '#ffffff' font 'DejaVu Sans,8'\n",
            WIDTH / 100.0, high / 100);
    else
        fprintf(to,
                "set terminal pngcairo noenhanced size %d,%.0f background '#ffffff' font 'DejaVu Sans,11'\n",
                WIDTH, high);
}

static void write_frame(FILE *to, const chart *c, const chart_paper *paper, double per)
{
    const bool picture = paper->out != NULL;
    fprintf(
        to,
        "set encoding utf8\nset multiplot\nset lmargin at screen %.4f\nset rmargin at screen 0.985\n"
        "set border 3%s\nset tics nomirror out scale 0.5\nset format x ''\n"
        "set key at graph 0, graph 1 left bottom horizontal Left reverse samplen %s spacing 1.05 width %d\n",
        left_of(c, paper), picture ? " lc rgb '#5f5f5f'" : "", picture ? "1.6" : "2", picture ? 1 : 6);
    if (picture)
        fputs("set grid ytics lc rgb '#e2e2e2' lt 1\n", to);
    fprintf(to, "set xrange [%.9g:%.9g]\n", c->first / per, fmax(c->last, c->first + 1e-3) / per);
}

static void write_page(FILE *to, const chart *c, const chart_paper *paper, int page)
{
    const page_part p = part_of(c, paper, page);
    const bool picture = paper->out != NULL;
    const char *time_name;
    const double per = time_unit(c, &time_name);
    double top = TITLE;
    if (page == 0 || !(picture && strcmp(paper->out + strlen(paper->out) - 4, ".pdf") == 0))
        write_terminal(to, paper, p.high);
    write_frame(to, c, paper, per);
    for (int i = p.first; i < p.last; i++) {
        const chart_panel *panel = &c->panels[i];
        const double names = NAMES * rows_of_names(c, paper, panel), plot = PANEL * p.stretch;
        write_place(to, p.high, top + names, top + names + plot);
        if (i == p.first)
            write_title(to, c, p.high, page, chart_pages(c, paper));
        fputs("set ylabel ", to);
        write_text(to, panel->unit);
        /* A terminal writes it level, and would write over the numbers. */
        fprintf(to, picture ? "\n" : " offset %d,0\n", -letters(panel->unit) / 4);
        if (i + 1 == p.last && p.first_line == p.last_line)
            write_time(to, time_name);
        write_range(to, c, panel, picture);
        write_failures(to, c, panel, per, picture);
        write_levels(to, c, panel, picture);
        write_series(to, c, panel, per, picture);
        top += names + plot + BETWEEN;
    }
    if (p.last_line > p.first_line) {
        write_place(to, p.high, top + 30, p.high - FOOT);
        if (p.first == p.last)
            write_title(to, c, p.high, page, chart_pages(c, paper));
        write_time(to, time_name);
        write_lines(to, c, &p, per, picture);
    }
    fputs("unset multiplot\n", to);
}

/* The data in blocks of their own, then what to draw of them. All pages of a PDF are one file. */
char *chart_script(const chart *c, const chart_paper *paper, int page, size_t *size)
{
    char *text = NULL;
    FILE *to = tl_text_begin(&text, size);
    for (int i = 0; i < c->count; i++) {
        fprintf(to, "$data%d << end_of_data\n", i);
        fwrite(c->list[i]->data, 1, c->list[i]->size, to);
        fputs("end_of_data\n", to);
    }
    const bool whole = page < 0;
    for (int i = whole ? 0 : page; i < (whole ? chart_pages(c, paper) : page + 1); i++)
        write_page(to, c, paper, i);
    tl_text_end(to, &text);
    return text;
}
