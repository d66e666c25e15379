/* SPDX-License-Identifier: MIT */
/* How `watch` is on the terminal: a row for each signal and output, as many columns as there is room for.
 */
#define _GNU_SOURCE
#include "watch/watch.h"
#include <curses.h>
#include <math.h>
#include <string.h>

static const char *const blocks[] = {"▁", "▂", "▃", "▄", "▅", "▆", "▇", "█"};
static const char plain_blocks[] = "_.-=+*%#";

static void draw_bar(const watching *w, double share, int y, int x, int width)
{
    const int full = (int)lround(fmin(fmax(share, 0), 1) * width);
    move(y, x);
    for (int k = 0; k < width; k++)
        addstr(w->utf8 ? (k < full ? "━" : "─") : (k < full ? "=" : "-"));
}

static float past_share(const past_of *p, int back)
{
    return p->past[(p->next - back + 2 * HISTORY) % HISTORY];
}

/* From the least to the most that is seen, but never less than a fiftieth of the range: noise is no news. */
static void scale_strip(const past_of *p, int width, float *low, float *span)
{
    float high = -1;
    *low = 2;
    for (int back = 1; back <= width && back <= p->filled; back++) {
        const float share = past_share(p, back);
        *low = share >= 0 ? fminf(*low, share) : *low;
        high = fmaxf(high, share);
    }
    *span = fmaxf(high - *low, 0.02F);
}

/* How a strip is drawn: a line has two levels, a figure what it moved by, scaled to what is seen, and a share
 * its whole span. */
typedef enum { STRIP_OF_LINE, STRIP_OF_FIGURE, STRIP_OF_SHARE } strip_form;

/* The newest stands at the right. */
static void draw_strip(const watching *w, const past_of *p, strip_form form, int y, int x, int width)
{
    float low = 0, span = 1;
    if (form == STRIP_OF_FIGURE)
        scale_strip(p, width, &low, &span);
    for (int k = 0; k < width; k++) {
        const int back = width - k;
        move(y, x + k);
        if (back > p->filled) {
            addch(' ');
            continue;
        }
        const float share = past_share(p, back);
        const int level = share < 0 ? -1 : (int)fminf(7, (share - low) / span * 8);
        if (level < 0)
            addch('?');
        else if (form == STRIP_OF_LINE)
            addstr(w->utf8 ? (level > 0 ? "▔" : "▁") : (level > 0 ? "-" : "_"));
        else if (w->utf8)
            addstr(blocks[level]);
        else
            addch((chtype)plain_blocks[level]);
    }
}

typedef struct {
    int name, value, bar, extremes, strip, flags;
} widths;

/* Narrow terminals lose the strip, then the extremes, then the bar. */
static widths split_width(int columns)
{
    widths s = {.name = columns < 60 ? 13 : 20, .value = columns < 60 ? 15 : 18};
    int left = columns - s.name - s.value - 2;
    s.flags = left >= 14 ? (left > 60 ? 20 : 12) : left > 0 ? left : 0;
    left -= s.flags + 1;
    s.bar = left >= 12 ? (left > 50 ? 20 : 10) : 0;
    left -= s.bar > 0 ? s.bar + 1 : 0;
    s.extremes = left >= 40 ? 22 : 0;
    left -= s.extremes > 0 ? s.extremes + 1 : 0;
    s.strip = left >= 8 ? left : 0;
    return s;
}

/* Which button of a keypad space would press, or has pressed. */
static const char *pressing_text(const watching *w, int i, char text[80])
{
    const tl_source *source = &w->plan->signals[w->signals[i]].source;
    const int button = w->hands[i].button;
    const bool down = tl_bench_pressed(w->bench, w->signals[i], button);
    text[0] = '\0';
    if (w->chosen == i || down)
        snprintf(text, 80, "%s %s", down ? "pressed:" : "space:", source->buttons[button].name);
    return text;
}

static void draw_row(const watching *w, int i, int y, const widths *s)
{
    char text[80], flags[40];
    const tl_signal *signal = &w->plan->signals[w->signals[i]];
    const taken *t = &w->now[i];
    int x = s->name;
    if (w->chosen == i)
        attron(A_REVERSE);
    mvprintw(y, 0, "%-*.*s", s->name - 1, s->name - 1, signal->name);
    attroff(A_REVERSE);
    value_text(w, i, text);
    mvprintw(y, x, "%*.*s", s->value, s->value, text);
    x += s->value + 2;
    const bool analog = t->is.analog && taken_is_good(t);
    if (s->bar > 0) {
        if (analog && !t->is.is.open && !t->is.is.shorted)
            draw_bar(w, share_of_span(w, i), y, x, s->bar);
        x += s->bar + 1;
    }
    if (s->extremes > 0) {
        const past_of *p = &w->past[i];
        const int decimals = w->as == SHOW_UNIT || !analog ? t->is.is.decimals : w->as == SHOW_VOLTS ? 4 : 0;
        if ((analog || taken_is_figure(signal, t)) && p->most >= p->least && signal->source.button_count == 0)
            mvprintw(y, x, "%9.*f .. %-9.*f", decimals, p->least, decimals, p->most);
        else if (signal->source.button_count > 0)
            mvprintw(y, x, "%.*s", s->extremes, pressing_text(w, i, text));
        else if (!t->is.analog && t->closings > 0)
            mvprintw(y, x, "closed %ldx", t->closings);
        x += s->extremes + 1;
    }
    if (s->strip > 0) {
        draw_strip(w, &w->past[i], t->is.analog ? STRIP_OF_FIGURE : STRIP_OF_LINE, y, x, s->strip);
        x += s->strip + 1;
    }
    const char *said = taken_flags(signal, t, flags);
    if (w->hands[i].holds && strcmp(said, "fresh") == 0)
        said = "by hand";
    const bool fine = strncmp(said, "fresh", 5) == 0 || w->hands[i].holds;
    attron(fine ? A_DIM : A_BOLD);
    if (s->flags > 0)
        mvprintw(y, x, "%.*s", s->flags, said);
    attroff(fine ? A_DIM : A_BOLD);
}

static void draw_output(const watching *w, int i, int y, const widths *s)
{
    char text[80], flags[80];
    const tl_plan_output *output = &w->plan->outputs[w->shown[i]];
    const output_state *of = output_at(w, i);
    int x = s->name;
    if (w->chosen == w->count + 1 + i)
        attron(A_REVERSE);
    mvprintw(y, 0, "%-*.*s", s->name - 1, s->name - 1, output->name);
    attroff(A_REVERSE);
    output_state_text(output, of, text);
    mvprintw(y, x, "%*.*s", s->value, s->value, text);
    x += s->value + 2;
    if (s->bar > 0 && of->status == TL_OK)
        draw_bar(w, of->now.duty, y, x, s->bar);
    x += s->bar > 0 ? s->bar + 1 : 0;
    x += s->extremes > 0 ? s->extremes + 1 : 0;
    if (s->strip > 0)
        draw_strip(w, &w->past[w->count + i], STRIP_OF_SHARE, y, x, s->strip);
    x += s->strip > 0 ? s->strip + 1 : 0;
    output_flags(of, flags);
    if (s->flags > 0 && strcmp(flags, "fresh") != 0)
        mvprintw(y, x, "%.*s", s->flags, flags);
}

int row_count(const watching *w)
{
    return w->count + (w->shown_count > 0 ? 1 + w->shown_count : 0);
}

static void draw_line_of(const watching *w, int i, int y, int columns, const widths *s)
{
    if (i < w->count)
        draw_row(w, i, y, s);
    else if (i > w->count)
        draw_output(w, i - w->count - 1, y, s);
    else {
        attron(A_BOLD);
        mvprintw(y, 0, "%.*s", columns - 1, "outputs");
        attroff(A_BOLD);
    }
}

static bool is_listed_before(const tl_bench_damage *damages, int i)
{
    for (int k = 0; k < i; k++) {
        if (damages[k].pin == damages[i].pin && damages[k].output == damages[i].output)
            return true;
    }
    return false;
}

/* Which pins and coils a real board would have lost by now. */
static void draw_damaged(const watching *w, int x, int columns)
{
    int count = 0;
    const tl_bench_damage *damages = w->from == NULL ? tl_bench_damages(w->bench, &count) : NULL;
    char line[160] = "damaged:";
    size_t used = strlen(line);
    for (int i = 0; i < count && used < sizeof line; i++) {
        if (!is_listed_before(damages, i))
            used += (size_t)snprintf(line + used, sizeof line - used, "%s %s%s", i > 0 ? "," : "",
                                     w->plan->pins[damages[i].pin].name,
                                     damages[i].output != TL_NONE ? " (coil)" : "");
    }
    attron(A_BOLD);
    if (count > 0 && x < columns - 1)
        mvprintw(1, x, "%.*s", columns - 1 - x, line);
    attroff(A_BOLD);
}

void draw(watching *w)
{
    static const char *const modes[] = {"unit", "volts", "counts", "hex", "binary"};
    int rows, columns;
    getmaxyx(stdscr, rows, columns);
    erase();
    const widths s = split_width(columns);
    const int room = rows > 3 ? rows - 3 : 1;
    if (w->chosen < w->top)
        w->top = w->chosen;
    if (w->chosen >= w->top + room)
        w->top = w->chosen - room + 1;
    if (w->top > row_count(w) - room)
        w->top = row_count(w) > room ? row_count(w) - room : 0;
    attron(A_BOLD);
    mvprintw(0, 0, "%.*s", columns - 1, w->plan->title);
    attroff(A_BOLD);
    char line[160];
    snprintf(line, sizeof line, "%s  x%g  %s%s", show(w->at, TL_DIM_SECOND).text, w->speed, modes[w->as],
             w->ended    ? (w->from != NULL ? "  no more counts come" : "  the scene has ended")
             : w->paused ? "  paused"
                         : "");
    mvprintw(1, 0, "%.*s", columns - 1, line);
    draw_damaged(w, (int)strlen(line) + 2, columns);
    for (int i = 0; i < room && w->top + i < row_count(w) && 2 + i < rows - 1; i++)
        draw_line_of(w, w->top + i, 2 + i, columns, &s);
    attron(A_DIM);
    mvprintw(
        rows - 1, 0, "%.*s", columns - 1,
        "q end  up/down choose  left/right turn  space press  b back to the scene  p pause  u unit  v volts  "
        "c counts  r reset  +/- speed");
    attroff(A_DIM);
    refresh();
}
