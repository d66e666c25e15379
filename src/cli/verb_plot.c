/* SPDX-License-Identifier: MIT */
/* tinyladder plot: a record as a chart, drawn by gnuplot. */
#define _GNU_SOURCE
#include "base/memory.h"
#include "base/replace_file.h"
#include "cli/cli.h"
#include "record/chart.h"
#include "record/gnuplot.h"
#include <errno.h>
#include <stdlib.h>
#include <string.h>
#include <sys/ioctl.h>
#include <unistd.h>

enum { KEY_RUN = 1000 };

typedef struct {
    chart_choice choice;
    const char *out;
    const char **names;
} plot_options;

static const struct argp_option plot_argp_options[] = {
    {"output", 'o', "FILE", 0, "write FILE.svg, FILE.png or FILE.pdf (default, and -: the terminal)", 0},
    {"run", KEY_RUN, "N", 0, "run to draw: a number or all (default: the last)", 0},
    {0},
};

static void take_name(plot_options *o, const char *name)
{
    o->names = must(realloc(o->names, ((size_t)o->choice.name_count + 1) * sizeof *o->names));
    o->names[o->choice.name_count++] = name;
}

static int run_of(struct argp_state *state, const char *text)
{
    char *end;
    const long run = strtol(text, &end, 10);
    if (strcmp(text, "all") == 0)
        return -1;
    if (*text == '\0' || *end != '\0' || run < 1 || run > 1000000)
        argp_error(state, "--run: a number from 1 on, or all: '%s'", text);
    return (int)run;
}

static error_t parse_plot(int key, char *text, struct argp_state *state)
{
    plot_options *o = state->input;
    switch (key) {
    case 'o':
        o->out = strcmp(text, "-") == 0 ? NULL : text;
        break;
    case KEY_RUN:
        o->choice.run = run_of(state, text);
        break;
    case ARGP_KEY_ARG:
        if (o->choice.record == NULL)
            o->choice.record = text;
        else
            take_name(o, text);
        break;
    case ARGP_KEY_END:
        if (o->choice.record == NULL)
            argp_error(state, "which record?");
        break;
    default:
        return ARGP_ERR_UNKNOWN;
    }
    return 0;
}

static bool ends_in(const char *path, const char *end)
{
    const size_t length = strlen(path), size = strlen(end);
    return length > size && strcmp(path + length - size, end) == 0;
}

static bool is_picture(const char *out)
{
    if (ends_in(out, ".svg") || ends_in(out, ".png") || ends_in(out, ".pdf"))
        return true;
    fprintf(stderr, "tinyladder: -o: a file ends in .svg, .png or .pdf: '%s'\n", out);
    return false;
}

static chart_paper paper_of(const char *out)
{
    struct winsize size = {0};
    const bool known = ioctl(STDOUT_FILENO, TIOCGWINSZ, &size) == 0 && size.ws_col > 20 && size.ws_row > 8;
    return (chart_paper){out, known ? size.ws_col : 100, known ? size.ws_row - 2 : 36};
}

/* `chart.png`, or `chart-2.png` where there are more of them. */
static char *name_of_page(const char *out, int page, int pages)
{
    char *name = must(calloc(1, strlen(out) + 16));
    if (pages > 1)
        sprintf(name, "%.*s-%d%s", (int)strlen(out) - 4, out, page + 1, out + strlen(out) - 4);
    else
        strcpy(name, out);
    return name;
}

/* Without the blanks at the ends of its lines; of empty lines one, and none above and below. */
static void print_text(const char *picture, size_t drawn)
{
    size_t empty = 0, printed = 0;
    for (size_t at = 0; at < drawn;) {
        const char *newline = memchr(picture + at, '\n', drawn - at);
        const size_t length = newline != NULL ? (size_t)(newline - picture) - at : drawn - at;
        size_t kept = length;
        while (kept > 0 && (picture[at + kept - 1] == ' ' || picture[at + kept - 1] == '\f'))
            kept--;
        if (kept == 0) {
            empty++;
        } else {
            printf(empty > 0 && printed > 0 ? "\n" : "");
            printf("%.*s\n", (int)kept, picture + at);
            empty = 0;
            printed++;
        }
        at += length + 1;
    }
}

static int write_picture(const char *path, const char *picture, size_t drawn)
{
    if (path == NULL) {
        print_text(picture, drawn);
        return EXIT_DONE;
    }
    if (replace_file(path, picture, drawn))
        return EXIT_DONE;
    fprintf(stderr, "%s: error: %s\n", path, strerror(errno));
    return EXIT_HARDWARE;
}

static int draw_page(const chart *c, const chart_paper *paper, int page, int pages)
{
    const char *out = paper->out;
    const picture_kind kind = out == NULL            ? PICTURE_TEXT
                              : ends_in(out, ".svg") ? PICTURE_SVG
                              : ends_in(out, ".pdf") ? PICTURE_PDF
                                                     : PICTURE_PNG;
    char *picture = NULL;
    size_t size = 0, drawn = 0;
    char *script = chart_script(c, paper, page, &size);
    int status = gnuplot_draw(script, size, kind, &picture, &drawn);
    free(script);
    if (status == EXIT_DONE) {
        char *name = out != NULL ? name_of_page(out, page < 0 ? 0 : page, page < 0 ? 1 : pages) : NULL;
        status = write_picture(name, picture, drawn);
        if (status == EXIT_DONE && pages > 1 && page >= 0 && name != NULL)
            printf("%s\n", name);
        free(name);
    }
    free(picture);
    return status;
}

static int draw(const chart *c, const plot_options *o)
{
    const chart_paper paper = paper_of(o->out);
    const int pages = chart_pages(c, &paper);
    int status = EXIT_DONE;
    if (pages == 0) {
        fprintf(stderr, "tinyladder: there is nothing to plot in '%s'%s%s\n", o->choice.record,
                o->choice.name_count > 0 ? " of these signals" : "",
                o->choice.run > c->runs ? " of that run" : "");
        return EXIT_FOUND;
    }
    if (c->runs > 1 && o->choice.run == 0)
        fprintf(stderr, "tinyladder: '%s' holds %d runs; this is the last (--run 1, --run all)\n",
                o->choice.record, c->runs);
    if (o->out != NULL && ends_in(o->out, ".pdf"))
        return draw_page(c, &paper, -1, pages);
    for (int page = 0; page < pages && status == EXIT_DONE; page++)
        status = draw_page(c, &paper, page, pages);
    return status;
}

static int run_plot(int argc, char **argv)
{
    static const struct argp argp = {
        plot_argp_options,
        parse_plot,
        "RECORD [SIGNAL...]",
        "Draw a record: analog signals with the bounds of the true value and the thresholds of outputs, and "
        "digital signals below. Signals of one unit share a chart if their ranges are similar. A band marks "
        "the time in which a signal had no value. Further pages go to FILE-2 and so on.",
        NULL,
        NULL,
        NULL};
    plot_options o = {0};
    chart c = {0};
    options_parse(&argp, argc, argv, &o);
    o.choice.names = o.names;
    int status = EXIT_USAGE;
    if (o.out == NULL || is_picture(o.out)) {
        status = chart_load(&c, &o.choice) ? draw(&c, &o) : EXIT_UNREADABLE;
        chart_free(&c);
    }
    free(o.names);
    return status;
}

const verb verb_plot = {"plot", "Draw a record as a chart.", run_plot};
