/* tinyladder plot: a record as a chart, drawn by gnuplot. */
#define _GNU_SOURCE
#include "base/memory.h"
#include "base/plain_text.h"
#include "base/replace_file.h"
#include "cli/gnuplot.h"
#include "cli/record_file.h"
#include <errno.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>
#include <sys/ioctl.h>
#include <unistd.h>

enum { KEY_PLAN = 1000 };

typedef struct {
    const char *record, *out, *plan;
    const char **names;
    int name_count;
} plot_options;

static const struct argp_option plot_argp_options[] = {
    {"output", 'o', "FILE", 0, "FILE.svg or FILE.png (onto the terminal)", 0},
    {"plan", KEY_PLAN, "PLAN", 0, "marks the thresholds of the plan's outputs", 0},
    {0},
};

static void take_name(plot_options *o, const char *name)
{
    o->names = must(realloc(o->names, ((size_t)o->name_count + 1) * sizeof *o->names));
    o->names[o->name_count++] = name;
}

static error_t parse_plot(int key, char *text, struct argp_state *state)
{
    plot_options *o = state->input;
    switch (key) {
    case 'o':
        o->out = text;
        break;
    case KEY_PLAN:
        o->plan = text;
        break;
    case ARGP_KEY_ARG:
        if (o->record == NULL)
            o->record = text;
        else
            take_name(o, text);
        break;
    case ARGP_KEY_END:
        if (o->record == NULL)
            argp_error(state, "which record?");
        break;
    default:
        return ARGP_ERR_UNKNOWN;
    }
    return 0;
}

/* --- the record, one block of data a signal --- */

typedef struct {
    char name[64], unit[16];
    bool digital, output, any, faulty;
    double least, most;
    FILE *to; /* into `data`, until it is closed */
    char *data;
    size_t size;
} series;

typedef struct {
    const plot_options *o;
    series **list; /* each stays where it is: its stream writes into it */
    int count;
    double first, last;
} chart;

static bool is_wanted(const plot_options *o, const char *name)
{
    for (int i = 0; i < o->name_count; i++) {
        if (strcmp(o->names[i], name) == 0)
            return true;
    }
    return o->name_count == 0;
}

static series *series_of(chart *c, const stored_row *row)
{
    for (int i = 0; i < c->count; i++) {
        if (strcmp(c->list[i]->name, row->signal) == 0)
            return c->list[i];
    }
    c->list = must(realloc(c->list, ((size_t)c->count + 1) * sizeof *c->list));
    series *s = c->list[c->count] = must(calloc(1, sizeof *s));
    *s = (series){.digital = row->digital, .output = row->output, .least = INFINITY, .most = -INFINITY};
    s->to = tl_text_begin(&s->data, &s->size);
    snprintf(s->name, sizeof s->name, "%s", row->signal);
    snprintf(s->unit, sizeof s->unit, "%s", row->output ? "outputs, %" : row->unit);
    c->count++;
    return s;
}

/* Time, value, interval, and once more for what is wrong: NaN breaks a line, as it should. */
static bool take_row(void *context, const stored_row *row)
{
    chart *c = context;
    if (!is_wanted(c->o, row->signal))
        return true;
    series *s = series_of(c, row);
    const bool fresh = row->output || strncmp(row->flags, "fresh", 5) == 0;
    if (s->unit[0] == '\0')
        snprintf(s->unit, sizeof s->unit, "%s", row->unit);
    s->any = s->any || isfinite(row->value);
    if (fresh && isfinite(row->value)) {
        s->least = fmin(s->least, isfinite(row->low) ? row->low : row->value);
        s->most = fmax(s->most, isfinite(row->high) ? row->high : row->value);
    }
    s->faulty = s->faulty || !fresh;
    fprintf(s->to, "%.9g %.9g %.9g %.9g %d\n", row->at, fresh ? row->value : NAN, fresh ? row->low : NAN,
            fresh ? row->high : NAN, fresh ? 0 : 1);
    c->first = fmin(c->first, row->at);
    c->last = fmax(c->last, row->at);
    return true;
}

/* --- the script --- */

static const char *const colours[] = {"#0072b2", "#d55e00", "#009e73", "#cc79a7",
                                      "#e69f00", "#56b4e9", "#5f5f5f"};

/* Units share a panel: how many panels there are, and which unit each has. */
static int find_panels(const chart *c, const char **units)
{
    int count = 0;
    for (int i = 0; i < c->count; i++) {
        bool known = c->list[i]->digital || !c->list[i]->any;
        for (int k = 0; k < count && !known; k++)
            known = strcmp(units[k], c->list[i]->unit) == 0;
        if (!known)
            units[count++] = c->list[i]->unit;
    }
    return count;
}

/* Seconds, minutes or hours, whichever reads best. */
static double time_unit(const chart *c, const char **name)
{
    const double span = c->last - c->first;
    *name = span > 3 * 3600 ? "h" : span > 300 ? "min" : "s";
    return span > 3 * 3600 ? 3600 : span > 300 ? 60 : 1;
}

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

static void write_terminal(FILE *to, const char *out, double high)
{
    struct winsize size = {0};
    if (out == NULL) {
        const bool known =
            ioctl(STDOUT_FILENO, TIOCGWINSZ, &size) == 0 && size.ws_col > 20 && size.ws_row > 8;
        /* more rows than the window has where the panels need them: a terminal scrolls */
        fprintf(to, "set terminal dumb noenhanced size %d,%.0f\n", known ? size.ws_col : 100,
                fmax(known ? size.ws_row - 2 : 36, high > 800 ? ceil(high / 22) : 0));
        return;
    }
    const size_t length = strlen(out);
    if (strcmp(out + length - 4, ".svg") == 0)
        fprintf(
            to,
            "set terminal svg noenhanced size 1280,%.0f dynamic background '#ffffff' font 'DejaVu Sans,13'\n",
            high);
    else
        fprintf(
            to,
            "set terminal pngcairo noenhanced size 1280,%.0f background '#ffffff' font 'DejaVu Sans,11'\n",
            high);
}

static bool has_series(const chart *c, const char *name, const char *unit)
{
    for (int i = 0; i < c->count; i++) {
        if (strcmp(c->list[i]->name, name) == 0 && strcmp(c->list[i]->unit, unit) == 0)
            return true;
    }
    return false;
}

/* Start and stop of the outputs that a signal switches, in its own unit; each level once. */
static void write_thresholds(FILE *to, const tl_plan *plan, const chart *c, const char *unit)
{
    double *drawn = must(calloc(2 * (plan != NULL ? (size_t)plan->output_count : 0) + 1, sizeof *drawn));
    int count = 0;
    for (int i = 0; plan != NULL && i < plan->output_count; i++) {
        const tl_plan_output *output = &plan->outputs[i];
        if (output->as != TL_OUT_THRESHOLD || output->shows == TL_NONE ||
            !has_series(c, plan->signals[output->shows].name, unit))
            continue;
        for (int stop = 0; stop < 2; stop++) {
            const double level = stop ? output->stop.value : output->start.value;
            bool known = false;
            for (int k = 0; k < count; k++)
                known = known || drawn[k] == level;
            if (known)
                continue;
            char label[120];
            drawn[count++] = level;
            snprintf(label, sizeof label, "%s %s %s %.4g", output->name, stop ? "stops" : "starts",
                     output->start_below == !stop ? "below" : "above", level);
            fprintf(to, ", %.9g with lines dt 2 lw 1 lc rgb '#5f5f5f' title ", level);
            write_text(to, label);
        }
    }
    free(drawn);
}

/* Steps of 1, 2 or 5 of a decade: some four of them over the span. */
static double sensible_step(double span)
{
    const double decade = pow(10, floor(log10(span / 4)));
    const double share = span / 4 / decade;
    return decade * (share < 1.5 ? 1 : share < 3.5 ? 2 : share < 7.5 ? 5 : 10);
}

static void write_range(FILE *to, const chart *c, const char *unit)
{
    double least = INFINITY, most = -INFINITY;
    for (int i = 0; i < c->count; i++) {
        if (c->list[i]->digital || !c->list[i]->any || strcmp(c->list[i]->unit, unit) != 0)
            continue;
        least = fmin(least, c->list[i]->least);
        most = fmax(most, c->list[i]->most);
    }
    const double margin = most > least ? 0.06 * (most - least) : fmax(fabs(least), 1e-3) * 0.1;
    if (!isfinite(least) || !isfinite(most))
        fputs("set yrange [*:*]\nset ytics auto\n", to);
    else
        fprintf(to, "set yrange [%.9g:%.9g]\nset ytics %.9g\n", least - margin, most + margin,
                sensible_step(most - least + 2 * margin));
}

static void write_analog_panel(FILE *to, const chart *c, const tl_plan *plan, const char *unit, double per,
                               bool bands)
{
    const char *comma = "plot ";
    int colour = 0;
    fputs("set ylabel ", to);
    write_text(to, unit);
    fputc('\n', to);
    write_range(to, c, unit);
    for (int i = 0; i < c->count; i++) {
        const series *s = c->list[i];
        if (s->digital || !s->any || strcmp(s->unit, unit) != 0)
            continue;
        const char *shade = colours[colour++ % 7];
        if (bands)
            fprintf(to,
                    "%s$data%d using ($1/%g):3:4 with filledcurves fs transparent solid 0.12 noborder lc rgb "
                    "'%s' notitle",
                    comma, i, per, shade);
        fprintf(to, "%s$data%d using ($1/%g):2 with %s lw 1.6 lc rgb '%s' title ", bands ? ", " : comma, i,
                per, s->output ? "steps" : "lines", shade);
        write_text(to, s->name);
        comma = ", ";
        if (s->faulty) {
            fprintf(to,
                    ", $data%d using ($5==1?$1/%g:1/0):(1) axes x1y2 with impulses lw 2 lc rgb '#b0d00000' "
                    "title ",
                    i, per);
            char label[100];
            snprintf(label, sizeof label, "%s failed", s->name);
            write_text(to, label);
        }
    }
    write_thresholds(to, plan, c, unit);
    fputc('\n', to);
}

static int count_digital(const chart *c)
{
    int count = 0;
    for (int i = 0; i < c->count; i++)
        count += c->list[i]->digital;
    return count;
}

static void write_digital_panel(FILE *to, const chart *c, double per)
{
    int line = 0;
    const int lines = count_digital(c);
    fprintf(to, "unset ylabel\nset offsets 0, 0, 0, 0\nset yrange [-0.2:%d]\nset ytics (", lines);
    for (int i = 0; i < c->count; i++) {
        if (!c->list[i]->digital)
            continue;
        fputs(line > 0 ? ", " : "", to);
        write_text(to, c->list[i]->name);
        fprintf(to, " %g", lines - ++line + 0.35);
    }
    fputs(")\nunset key\nplot ", to);
    line = 0;
    for (int i = 0; i < c->count; i++) {
        if (!c->list[i]->digital)
            continue;
        fprintf(to, "%s$data%d using ($1/%g):($2*0.7+%d) with steps lw 1.6 lc rgb '%s' notitle",
                line > 0 ? ", " : "", i, per, lines - 1 - line, colours[line % 7]);
        line++;
    }
    fputs("\nset key\n", to);
}

/* Pixels that a panel needs, so that its names find room beside it. */
static double panel_pixels(const chart *c, const char *unit, bool thresholds)
{
    int entries = thresholds ? 2 : 0;
    for (int i = 0; i < c->count; i++) {
        if (!c->list[i]->digital && c->list[i]->any && strcmp(c->list[i]->unit, unit) == 0)
            entries += 1 + c->list[i]->faulty;
    }
    return fmax(130, 50 + 22 * entries);
}

static void write_frame(FILE *to, const chart *c, double per, bool picture)
{
    fprintf(
        to,
        "set encoding utf8\nset multiplot\nset lmargin 16\nset rmargin %d\nset tmargin 0.6\nset bmargin 1.6\n"
        "set border 3 lc rgb '#5f5f5f'\nset tics nomirror out scale 0.5\n"
        "set key at graph 1.02, graph 1 left top Left reverse maxcols 1 samplen 1.5 spacing 1.1\nset y2range "
        "[0:1]\n"
        "set format x ''\n",
        picture ? 30 : 26);
    if (picture)
        fputs("set grid ytics lc rgb '#dddddd' lt 1\n", to);
    fprintf(to, "set xrange [%.9g:%.9g]\n", c->first / per, fmax(c->last, c->first + 1e-3) / per);
}

static void write_script(FILE *to, const chart *c, const tl_plan *plan)
{
    const char *out = c->o->out;
    const char **units = must(calloc((size_t)c->count + 1, sizeof *units)), *time_name;
    const int panels = find_panels(c, units), digital = count_digital(c);
    const double per = time_unit(c, &time_name);
    const double below =
        digital > 0 ? 65 + (out != NULL ? 24 : 50) * digital : 0; /* on a terminal rows are few */
    double high = 40 + below, top = 0;
    for (int i = 0; i < panels; i++)
        high += panel_pixels(c, units[i], plan != NULL);
    const double stretch = high < 800 ? (800 - 40 - below) / fmax(high - 40 - below, 1) : 1;
    high = fmax(high, 800);
    write_terminal(to, c->o->out, high);
    write_frame(to, c, per, out != NULL);
    for (int i = 0; i < panels; i++) {
        const double size = panel_pixels(c, units[i], plan != NULL) * stretch / high;
        top += size;
        fprintf(to, "set origin 0,%g\nset size 1,%g\n", 1 - 10 / high - top, size);
        if (i + 1 == panels && digital == 0)
            fprintf(to, "set xlabel '%s' offset 0,0.5\nset bmargin 3\nset format x '%%g'\n", time_name);
        write_analog_panel(to, c, plan, units[i], per, out != NULL);
    }
    if (digital > 0) {
        fprintf(to,
                "set origin 0,0\nset size 1,%g\nset xlabel '%s' offset 0,0.5\nset bmargin 3\nset format x "
                "'%%g'\n",
                (panels > 0 ? below + 20 : high) / high, time_name);
        write_digital_panel(to, c, per);
    }
    fputs("unset multiplot\n", to);
    free(units);
}

/* --- the whole --- */

static bool ends_in(const char *path, const char *end)
{
    const size_t length = strlen(path), size = strlen(end);
    return length > size && strcmp(path + length - size, end) == 0;
}

static bool is_picture(const char *out)
{
    if (ends_in(out, ".svg") || ends_in(out, ".png"))
        return true;
    fprintf(stderr, "tinyladder: -o: a file ends in .svg or .png: '%s'\n", out);
    return false;
}

/* The data in blocks of their own, then what to draw of them. */
static char *whole_script(chart *c, const tl_plan *plan, size_t *size)
{
    char *text = NULL;
    FILE *to = tl_text_begin(&text, size);
    for (int i = 0; i < c->count; i++) {
        fprintf(to, "$data%d << end_of_data\n", i);
        fwrite(c->list[i]->data, 1, c->list[i]->size, to);
        fputs("end_of_data\n", to);
    }
    write_script(to, c, plan);
    tl_text_end(to, &text);
    return text;
}

static int draw(chart *c, const tl_plan *plan)
{
    const char *out = c->o->out;
    const picture_kind kind = out == NULL ? PICTURE_TEXT : ends_in(out, ".svg") ? PICTURE_SVG : PICTURE_PNG;
    char *picture = NULL;
    size_t size = 0, drawn = 0;
    if (c->count == 0) {
        fprintf(stderr, "tinyladder: there is nothing to plot in '%s'%s\n", c->o->record,
                c->o->name_count > 0 ? " of these signals" : "");
        return EXIT_FOUND;
    }
    char *script = whole_script(c, plan, &size);
    int status = gnuplot_draw(script, size, kind, &picture, &drawn);
    free(script);
    if (status == EXIT_DONE && out == NULL) {
        fwrite(picture, 1, drawn, stdout);
    } else if (status == EXIT_DONE && !replace_file(out, picture, drawn)) {
        fprintf(stderr, "%s: error: %s\n", out, strerror(errno));
        status = EXIT_HARDWARE;
    }
    free(picture);
    return status;
}

/* Closes what is still open; the texts are whole only then. */
static void close_series(chart *c)
{
    for (int i = 0; i < c->count; i++) {
        if (c->list[i]->to != NULL)
            tl_text_end(c->list[i]->to, &c->list[i]->data);
        c->list[i]->to = NULL;
    }
}

static int plot(const plot_options *o, const tl_plan *plan)
{
    chart c = {.o = o, .first = INFINITY, .last = -INFINITY};
    int status = EXIT_UNREADABLE;
    const bool good = store_visit(o->record, take_row, &c);
    close_series(&c);
    if (good)
        status = draw(&c, plan);
    for (int i = 0; i < c.count; i++) {
        free(c.list[i]->data);
        free(c.list[i]);
    }
    free(c.list);
    return status;
}

static int run_plot(int argc, char **argv)
{
    static const struct argp argp = {plot_argp_options,
                                     parse_plot,
                                     "RECORD [SIGNAL...]",
                                     "Draws a record: analog signals with the interval in which the truth "
                                     "lies, by unit; digital lines below; "
                                     "red where a value failed.",
                                     NULL,
                                     NULL,
                                     NULL};
    plot_options o = {0};
    argp_parse(&argp, argc, argv, 0, NULL, &o);
    tl_report *report = new_report();
    tl_plan *plan = o.plan != NULL ? tl_plan_load(o.plan, report) : NULL;
    int status = EXIT_USAGE;
    if (o.plan != NULL && plan == NULL)
        status = print_unreadable(report);
    else if (o.out == NULL || is_picture(o.out))
        status = plot(&o, plan);
    free(o.names);
    tl_plan_free(plan);
    tl_report_free(report);
    return status;
}

const verb verb_plot = {"plot", "RECORD [SIGNAL...] [-o FILE]", "a record as a chart", run_plot};
