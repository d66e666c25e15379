/* tinyladder watch: every signal live on the terminal, while the scene plays on the bench. */
#define _GNU_SOURCE
#include "base/plain_text.h"
#include "cli/ending.h"
#include "cli/playing.h"
#include "cli/publish.h"
#include "cli/terminal.h"
#include <curses.h>
#include <langinfo.h>
#include <locale.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

enum { HISTORY = 200, KEY_FRAMES = 1000, KEY_SPEED, KEY_PUBLISH };

typedef struct {
    play_options play;
    const char *publish;
    double speed;
    long frames;
} watch_options;

static const struct argp_option watch_argp_options[] = {
    {"speed", KEY_SPEED, "N", 0, "so many seconds of the scene a second (1)", 0},
    {"publish", KEY_PUBLISH, "mqtt://HOST/TOPIC", 0,
     "hands every value on to an MQTT broker, one topic a signal", 0},
    {"frames", KEY_FRAMES, "N", 0, "ends after so many looks", 0},
    {0},
};

static error_t parse_watch(int key, char *text, struct argp_state *state)
{
    watch_options *o = state->input;
    switch (key) {
    case ARGP_KEY_INIT:
        state->child_inputs[0] = &o->play;
        break;
    case KEY_SPEED:
        o->speed = (double)option_number(state, "speed", text, 1, 100000);
        break;
    case KEY_PUBLISH:
        o->publish = text;
        break;
    case KEY_FRAMES:
        o->frames = option_number(state, "frames", text, 1, 1000000000);
        break;
    default:
        return ARGP_ERR_UNKNOWN;
    }
    return 0;
}

/* --- what is shown --- */

typedef enum { SHOW_UNIT, SHOW_VOLTS, SHOW_DECIMAL, SHOW_HEX, SHOW_BINARY } show_as;

typedef struct {
    double least, most;  /* of what is shown, since the last reset */
    float past[HISTORY]; /* shares of the range, or levels; the newest at `next` - 1 */
    int filled, next;
    bool falls; /* its value falls while its counts rise */
} past_of;

typedef struct {
    const watch_options *o;
    const tl_plan *plan;
    tl_bench *bench;
    int *signals, count;
    taken *now;
    past_of *past;
    line_watch lines;
    publisher *to;
    double at, end, speed;
    show_as as;
    int top; /* first row that is seen */
    bool paused, utf8, ended;
} watching;

static double share_of(const watching *w, int i)
{
    const tl_analog_path *path = tl_circuit_path(tl_bench_circuit(w->bench), w->signals[i]);
    const double span = (double)(path->last_code - path->first_code);
    const double share = span > 0 ? ((double)w->now[i].is.count - (double)path->first_code) / span : 0;
    return w->past[i].falls ? 1 - share : share;
}

static bool value_falls(const watching *w, int i)
{
    tl_circuit *circuit = tl_bench_circuit(w->bench);
    const tl_analog_path *path = tl_circuit_path(circuit, w->signals[i]);
    const double span = (double)(path->last_code - path->first_code);
    double low = 0, high = 0;
    return w->plan->signals[w->signals[i]].analog && path->fault == TL_NET_SOLVED &&
           tl_plan_shown(circuit, w->signals[i], (double)path->first_code + round(span / 4), &low) ==
               TL_NET_SOLVED &&
           tl_plan_shown(circuit, w->signals[i], (double)path->first_code + round(3 * span / 4), &high) ==
               TL_NET_SOLVED &&
           high < low;
}

static double figure_of(const watching *w, int i)
{
    const tl_value *is = &w->now[i].is.is;
    return w->as == SHOW_UNIT ? is->value : w->as == SHOW_VOLTS ? is->pin_volts : (double)w->now[i].is.count;
}

static void look(watching *w)
{
    take_watched(w->bench, w->signals, w->count, w->at, 0, w->now, &w->lines);
    publisher_put(w->to, w->plan, w->signals, w->now, w->count, w->at);
    for (int i = 0; i < w->count; i++) {
        past_of *p = &w->past[i];
        const taken *t = &w->now[i];
        const bool analog = t->is.analog, good = taken_is_good(t);
        const bool failed = !good || t->is.is.open || t->is.is.shorted;
        p->past[p->next] = failed ? -1 : analog ? (float)share_of(w, i) : (float)w->now[i].is.high;
        p->next = (p->next + 1) % HISTORY;
        p->filled = p->filled < HISTORY ? p->filled + 1 : HISTORY;
        if (!failed && analog) {
            p->least = fmin(p->least, figure_of(w, i));
            p->most = fmax(p->most, figure_of(w, i));
        }
    }
}

static void reset_extremes(watching *w)
{
    for (int i = 0; i < w->count; i++) {
        w->past[i].least = INFINITY;
        w->past[i].most = -INFINITY;
    }
}

static void write_count(long count, show_as as, char text[80])
{
    if (as == SHOW_DECIMAL)
        snprintf(text, 80, "%ld", count);
    else if (as == SHOW_HEX)
        snprintf(text, 80, "0x%lx", (unsigned long)count & 0xffffffUL);
    else {
        int at = 0;
        for (int bit = count >= 65536 || count < 0 ? 23 : 15; bit >= 0; bit--) {
            text[at++] = (char)('0' + (count >> bit & 1));
            if (bit % 4 == 0 && bit > 0)
                text[at++] = ' ';
        }
        text[at] = '\0';
    }
}

static void value_text(const watching *w, int i, char text[80])
{
    const taken *t = &w->now[i];
    if (!taken_is_good(t) || !t->is.analog || w->as == SHOW_UNIT)
        taken_value(&w->plan->signals[w->signals[i]], t, text);
    else if (w->as == SHOW_VOLTS)
        snprintf(text, 80, "%.4f V", t->is.is.pin_volts);
    else
        write_count(t->is.count, w->as, text);
}

/* --- the screen --- */

static const char *const blocks[] = {"▁", "▂", "▃", "▄", "▅", "▆", "▇", "█"};
static const char plain_blocks[] = "_.-=+*%#";

static void draw_bar(const watching *w, int i, int y, int x, int width)
{
    const int full = (int)lround(fmin(fmax(share_of(w, i), 0), 1) * width);
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

/* The newest stands at the right. */
static void draw_strip(const watching *w, int i, int y, int x, int width)
{
    const past_of *p = &w->past[i];
    float low = 0, span = 1;
    if (w->now[i].is.analog)
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
        else if (!w->now[i].is.analog)
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

static void draw_row(const watching *w, int i, int y, const widths *s)
{
    char text[80], flags[40];
    const tl_signal *signal = &w->plan->signals[w->signals[i]];
    const taken *t = &w->now[i];
    int x = s->name;
    mvprintw(y, 0, "%-*.*s", s->name, s->name - 1, signal->name);
    value_text(w, i, text);
    mvprintw(y, x, "%*.*s", s->value, s->value, text);
    x += s->value + 2;
    const bool analog = t->is.analog && taken_is_good(t);
    if (s->bar > 0) {
        if (analog && !t->is.is.open && !t->is.is.shorted)
            draw_bar(w, i, y, x, s->bar);
        x += s->bar + 1;
    }
    if (s->extremes > 0) {
        const past_of *p = &w->past[i];
        const int decimals = w->as == SHOW_UNIT ? t->is.is.decimals : w->as == SHOW_VOLTS ? 4 : 0;
        if (analog && p->most >= p->least && signal->source.button_count == 0)
            mvprintw(y, x, "%9.*f .. %-9.*f", decimals, p->least, decimals, p->most);
        else if (!t->is.analog && t->closings > 0)
            mvprintw(y, x, "closed %ldx", t->closings);
        x += s->extremes + 1;
    }
    if (s->strip > 0) {
        draw_strip(w, i, y, x, s->strip);
        x += s->strip + 1;
    }
    const char *said = taken_flags(signal, t, flags);
    const bool fine = strncmp(said, "fresh", 5) == 0;
    attron(fine ? A_DIM : A_BOLD);
    if (s->flags > 0)
        mvprintw(y, x, "%.*s", s->flags, said);
    attroff(fine ? A_DIM : A_BOLD);
}

static void draw(watching *w)
{
    static const char *const modes[] = {"unit", "volts", "counts", "hex", "binary"};
    int rows, columns;
    getmaxyx(stdscr, rows, columns);
    erase();
    const widths s = split_width(columns);
    const int room = rows > 3 ? rows - 3 : 1;
    if (w->top > w->count - room)
        w->top = w->count > room ? w->count - room : 0;
    attron(A_BOLD);
    mvprintw(0, 0, "%.*s", columns - 1, w->plan->title);
    attroff(A_BOLD);
    mvprintw(1, 0, "%.*s", columns - 1, "");
    char line[160];
    snprintf(line, sizeof line, "%s  x%g  %s%s", show(w->at, TL_DIM_SECOND).text, w->speed, modes[w->as],
             w->ended    ? "  the scene has ended"
             : w->paused ? "  paused"
                         : "");
    mvprintw(1, 0, "%.*s", columns - 1, line);
    for (int i = 0; i < room && w->top + i < w->count && 2 + i < rows - 1; i++)
        draw_row(w, w->top + i, 2 + i, &s);
    attron(A_DIM);
    mvprintw(rows - 1, 0, "%.*s", columns - 1,
             "q end  space pause  u unit  v volts  c counts  r reset  +/- speed  up/down");
    attroff(A_DIM);
    refresh();
}

/* --- keys --- */

/* Answers false where it is time to end. */
static bool take_key(watching *w, int key)
{
    switch (key) {
    case 'q':
        return false;
    case ' ':
        w->paused = !w->paused;
        break;
    case 'u':
        w->as = SHOW_UNIT;
        reset_extremes(w);
        break;
    case 'v':
        w->as = SHOW_VOLTS;
        reset_extremes(w);
        break;
    case 'c':
        w->as = w->as < SHOW_DECIMAL || w->as == SHOW_BINARY ? SHOW_DECIMAL : (show_as)(w->as + 1);
        reset_extremes(w);
        break;
    case 'r':
        reset_extremes(w);
        break;
    case '+':
        w->speed = fmin(w->speed * 2, 131072);
        break;
    case '-':
        w->speed = fmax(w->speed / 2, 0.125);
        break;
    case KEY_UP:
        w->top = w->top > 0 ? w->top - 1 : 0;
        break;
    case KEY_DOWN:
        w->top++;
        break;
    default:
        break;
    }
    return true;
}

static void move_on(watching *w)
{
    if (w->paused || w->ended)
        return;
    w->at += w->o->play.every * w->speed;
    if (w->at >= w->end) {
        w->at = w->end;
        w->ended = true;
    }
}

/* A terminal that is gone answers at once, again and again. */
static bool is_gone(void)
{
    return !isatty(STDOUT_FILENO) || !isatty(STDIN_FILENO);
}

static int watch_screen(watching *w)
{
    long frames = 0;
    bool on = true;
    setlocale(LC_ALL, "");
    w->utf8 = strcmp(nl_langinfo(CODESET), "UTF-8") == 0;
    SCREEN *screen = terminal_is_known() ? newterm(NULL, stdout, stdin) : NULL;
    if (screen == NULL) {
        char name[40];
        plain_text_copy(name, sizeof name, getenv("TERM") != NULL ? getenv("TERM") : "");
        fprintf(stderr, "tinyladder: this terminal cannot be used: TERM says '%s'\n", name);
        return EXIT_HARDWARE;
    }
    noecho();
    cbreak();
    keypad(stdscr, TRUE);
    curs_set(0);
    timeout((int)lround(1000 * w->o->play.every));
    while (on && !ending_asked()) {
        look(w);
        draw(w);
        if (w->o->frames > 0 && ++frames >= w->o->frames)
            break;
        const int key = getch();
        on = key == ERR ? !is_gone() : take_key(w, key);
        move_on(w);
    }
    endwin();
    delscreen(screen);
    return EXIT_DONE;
}

/* Where standard output is no terminal: a line for every signal that has changed, and all of them at first.
 */
static int watch_lines(watching *w)
{
    char text[80], flags[40];
    char(*before)[80] = must(calloc((size_t)w->count + 1, sizeof *before));
    for (long frame = 0; !ending_asked() && (w->o->frames == 0 || frame < w->o->frames); frame++) {
        look(w);
        for (int i = 0; i < w->count; i++) {
            value_text(w, i, text);
            if (strcmp(text, before[i]) == 0)
                continue;
            memcpy(before[i], text, sizeof text);
            const tl_signal *signal = &w->plan->signals[w->signals[i]];
            printf("%10.3f  %-20s %18s  %s\n", w->at, signal->name, text,
                   taken_flags(signal, &w->now[i], flags));
        }
        if (fflush(stdout) != 0 || w->ended)
            break;
        move_on(w);
    }
    free(before);
    return EXIT_DONE;
}

/* --- the whole --- */

static int watch_plan(const watch_options *o, const play *p)
{
    const bool screen = isatty(STDOUT_FILENO) && isatty(STDIN_FILENO);
    watching w = {.o = o, .plan = p->plan, .at = o->play.at, .end = p->scene->length, .speed = o->speed};
    if (!isfinite(w.end) && !screen && o->frames == 0) {
        fprintf(stderr, "tinyladder: --frames N is wanted without a scene and a terminal\n");
        return EXIT_USAGE;
    }
    w.signals = choose_signals(p->plan, o->play.names, o->play.name_count, &w.count);
    if (w.signals == NULL)
        return EXIT_USAGE;
    int status = EXIT_DONE;
    if (o->publish != NULL && (w.to = publisher_open(o->publish, &status)) == NULL) {
        free(w.signals);
        return status;
    }
    w.bench = tl_bench_new(p->circuit, p->scene, p->seed);
    w.now = must(calloc((size_t)w.count + 1, sizeof *w.now));
    w.past = must(calloc((size_t)w.count + 1, sizeof *w.past));
    reset_extremes(&w);
    for (int i = 0; i < w.count; i++)
        w.past[i].falls = value_falls(&w, i);
    status = (screen ? watch_screen : watch_lines)(&w);
    if (!publisher_close(w.to) && status == EXIT_DONE)
        status = EXIT_HARDWARE;
    line_watch_free(&w.lines);
    free(w.past);
    free(w.now);
    tl_bench_free(w.bench);
    free(w.signals);
    return status;
}

static int run_watch(int argc, char **argv)
{
    static const struct argp_child children[] = {{&play_argp, 0, NULL, 0}, {0}};
    static const struct argp argp = {
        watch_argp_options,
        parse_watch,
        "PLAN [SIGNAL...]",
        "Shows signals live: value, bar, extremes, strip chart, flags. Plain lines of what changes where the "
        "output is no terminal.",
        children,
        NULL,
        NULL};
    watch_options o = {.play = {.every = 0.1, .every_least = 0.01, .every_most = 60, .seed = -1}, .speed = 1};
    play p;
    argp_parse(&argp, argc, argv, 0, NULL, &o);
    ending_watch();
    int status = play_open(&o.play, &p);
    if (status == EXIT_DONE)
        status = watch_plan(&o, &p);
    play_close(&o.play, &p);
    ending_obey();
    return status;
}

const verb verb_watch = {"watch", "PLAN [SIGNAL...] [--scene FILE]", "signals live on the terminal",
                         run_watch};
