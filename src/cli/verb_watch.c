/* SPDX-License-Identifier: MIT */
/* tinyladder watch: every signal live on the terminal, while the scene plays on the bench. */
#define _GNU_SOURCE
#include "base/plain_text.h"
#include "cli/cli.h"
#include "reading/damages.h"
#include "reading/ending.h"
#include "reading/explain_hint.h"
#include "reading/playing.h"
#include "watch/terminal.h"
#include "watch/watch.h"
#include <curses.h>
#include <langinfo.h>
#include <locale.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>
#include <unistd.h>

enum { KEY_FRAMES = 1000, KEY_SPEED, KEY_COUNTS };

typedef struct {
    play_options play;
    publish_options publish;
    const char *counts;
    double speed;
    long frames;
} watch_options;

static const struct argp_option watch_argp_options[] = {
    {"speed", KEY_SPEED, "N", 0, "seconds of the scene per second (default: 1)", 0},
    {"counts", KEY_COUNTS, "SOURCE", 0,
     "counts from your board instead of the bench: a file, -, DEVICE@SPEED, unix:PATH, tcp:HOST:PORT or "
     "mqtt://HOST/TOPIC",
     0},
    {"frames", KEY_FRAMES, "N", 0, "stop after N frames", 0},
    {0},
};

static error_t parse_watch(int key, char *text, struct argp_state *state)
{
    watch_options *o = state->input;
    switch (key) {
    case ARGP_KEY_INIT:
        state->child_inputs[0] = &o->play;
        state->child_inputs[1] = &o->publish;
        break;
    case KEY_SPEED:
        o->speed = (double)option_number(state, "speed", text, 1, 100000);
        break;
    case KEY_COUNTS:
        o->counts = text;
        break;
    case ARGP_KEY_END:
        if (o->counts != NULL && (o->play.scene != NULL || o->play.fault_count > 0 || o->play.at != 0 ||
                                  o->play.seed >= 0 || o->speed != 1))
            argp_error(state, "--counts: the real board has no --scene, --fault, --at, --seed or --speed");
        break;
    case KEY_FRAMES:
        o->frames = option_number(state, "frames", text, 1, 1000000000);
        break;
    default:
        return ARGP_ERR_UNKNOWN;
    }
    return 0;
}

/* --- keys --- */

/* Answers false where it is time to end. */
static bool take_key(watching *w, int key)
{
    switch (key) {
    case 'q':
        return false;
    case 'p':
        w->paused = !w->paused;
        break;
    case ' ':
        hand_press(w);
        break;
    case KEY_LEFT:
    case KEY_RIGHT:
        hand_turn(w, key == KEY_LEFT ? -1 : 1);
        break;
    case KEY_SLEFT:
    case KEY_SRIGHT:
        hand_turn(w, key == KEY_SLEFT ? -10 : 10);
        break;
    case 'b':
        hand_let_go(w);
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
        w->chosen -= w->chosen > 0;
        break;
    case KEY_DOWN:
        w->chosen += w->chosen + 1 < row_count(w);
        break;
    default:
        break;
    }
    return true;
}

static void move_on(watching *w)
{
    if (w->paused || w->from != NULL)
        return;
    w->at += w->every * w->speed;
    if (w->at >= w->end && !w->ended) {
        w->at = w->end; /* one look at the very end */
        w->ended = true;
    }
}

/* A terminal that is gone answers at once, again and again. */
static bool is_gone(void)
{
    return !isatty(STDOUT_FILENO) || !isatty(STDIN_FILENO);
}

static double clock_seconds(void)
{
    struct timespec now;
    clock_gettime(CLOCK_MONOTONIC, &now);
    return (double)now.tv_sec + 1e-9 * (double)now.tv_nsec;
}

/* Keys until the next look is due: they do not hasten it. Answers false where it is time to end. */
static bool take_keys(watching *w, double due)
{
    double left;
    do {
        left = fmax(due - clock_seconds(), 0);
        timeout((int)ceil(1000 * left));
        const int key = getch();
        if (key == ERR ? is_gone() : !take_key(w, key))
            return false;
    } while (left > 0 && !ending_asked());
    return true;
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
    while (on && !ending_asked()) {
        const double due = clock_seconds() + w->every;
        if (!w->paused || w->from == NULL)
            look(w);
        draw(w);
        if (w->frames > 0 && ++frames >= w->frames)
            break;
        on = take_keys(w, due);
        move_on(w);
    }
    endwin();
    delscreen(screen);
    return EXIT_DONE;
}

static void print_changed(const watching *w, char before[80], const char *name, const char *text,
                          const char *flags)
{
    if (strcmp(text, before) == 0)
        return;
    snprintf(before, 80, "%s", text);
    printf("%10.3f  %-20s %18s  %s\n", w->at, name, text, flags);
}

/* Where standard output is no terminal: a line for each that has changed, and all of them at first. */
static int watch_lines(watching *w)
{
    char text[80], flags[80];
    char(*before)[80] = must(calloc((size_t)(w->count + w->shown_count) + 1, sizeof *before));
    for (long frame = 0; !ending_asked() && (w->frames == 0 || frame < w->frames); frame++) {
        look(w);
        for (int i = 0; i < w->count; i++) {
            const tl_signal *signal = &w->plan->signals[w->signals[i]];
            value_text(w, i, text);
            print_changed(w, before[i], signal->name, text, taken_flags(signal, &w->now[i], flags));
        }
        for (int i = 0; i < w->shown_count; i++) {
            const tl_plan_output *output = &w->plan->outputs[w->shown[i]];
            output_state_text(output, output_at(w, i), text);
            output_flags(output_at(w, i), flags);
            print_changed(w, before[w->count + i], output->name, text, flags);
        }
        if (fflush(stdout) != 0 || w->ended)
            break;
        move_on(w);
    }
    free(before);
    return EXIT_DONE;
}

/* --- the whole --- */

static void choose_outputs(watching *w)
{
    w->shown = must(calloc((size_t)w->plan->output_count + 1, sizeof *w->shown));
    for (int i = 0; i < w->plan->output_count; i++) {
        bool wanted = false;
        for (int k = 0; k < w->count; k++)
            wanted = wanted || w->signals[k] == w->plan->outputs[i].shows;
        if (wanted)
            w->shown[w->shown_count++] = i;
    }
}

static int watch_plan(const watch_options *o, const play *p)
{
    const bool screen = isatty(STDOUT_FILENO) && isatty(STDIN_FILENO);
    watching w = {.frames = o->frames,
                  .every = o->play.every,
                  .plan = p->plan,
                  .at = o->play.at,
                  .end = p->scene->length,
                  .speed = o->speed};
    if (!isfinite(w.end) && !screen && o->frames == 0 && o->counts == NULL) {
        fprintf(stderr, "tinyladder: --frames is required without a scene and a terminal\n");
        return EXIT_USAGE;
    }
    w.signals = choose_signals(p->plan, o->play.names, o->play.name_count, &w.count);
    if (w.signals == NULL)
        return EXIT_USAGE;
    int status = EXIT_DONE;
    w.on_screen = screen;
    if (o->counts != NULL && (w.from = counts_open(o->counts, p->circuit, &status)) == NULL) {
        free(w.signals);
        return status;
    }
    if (o->publish.url != NULL && (w.to = publisher_open(&o->publish, &status)) == NULL) {
        if (w.from != NULL)
            status = counts_close(w.from, status);
        free(w.signals);
        return status;
    }
    w.heard = must(calloc((size_t)p->plan->signal_count + 1, sizeof *w.heard));
    w.told = must(calloc((size_t)p->plan->signal_count + 1, sizeof *w.told));
    w.heard_at = must(calloc((size_t)w.count + 1, sizeof *w.heard_at));
    for (int i = 0; i < w.count; i++)
        w.heard_at[i] = -INFINITY;
    w.bench = tl_bench_new(p->circuit, p->scene, p->seed);
    w.now = must(calloc((size_t)w.count + 1, sizeof *w.now));
    w.taker = taker_new(p->circuit, w.signals, w.count, 0);
    choose_outputs(&w);
    if (w.from != NULL) /* counts do not say what the board does with its outputs */
        w.shown_count = 0;
    w.past = must(calloc((size_t)(w.count + w.shown_count) + 1, sizeof *w.past));
    w.hands = must(calloc((size_t)w.count + 1, sizeof *w.hands));
    reset_extremes(&w);
    for (int i = 0; i < w.count; i++)
        w.past[i].falls = value_falls(&w, i);
    status = (screen ? watch_screen : watch_lines)(&w);
    if (w.from == NULL && damages_print(stdout, w.bench) && status == EXIT_DONE)
        status = EXIT_FOUND;
    explain_hint(stdout, w.plan, w.signals, w.now, w.count, NULL);
    if (!publisher_close(w.to) && status == EXIT_DONE)
        status = EXIT_HARDWARE;
    if (w.from != NULL)
        status = counts_close(w.from, status);
    free(w.heard);
    free(w.told);
    free(w.heard_at);
    taker_free(w.taker);
    outputs_free(&w.outputs);
    free(w.shown);
    free(w.hands);
    free(w.past);
    free(w.now);
    tl_bench_free(w.bench);
    free(w.signals);
    return status;
}

static int run_watch(int argc, char **argv)
{
    static const struct argp_child children[] = {{&play_argp, 0, NULL, 0}, {&publish_argp, 0, NULL, 0}, {0}};
    static const struct argp argp = {
        watch_argp_options,
        parse_watch,
        "PLAN [SIGNAL...]",
        "Show signals live: value, bar, minimum and maximum, strip chart and flags; outputs below. If the "
        "output is not a terminal, print one line per change.\vKeys: up and down choose a source, left and "
        "right turn it (with shift ten steps), space presses and releases it, b returns it to the scene, p "
        "pauses, u v c show units, volts, counts, r resets minimum and maximum, + and - change the speed, q "
        "quits.",
        children,
        NULL,
        NULL};
    watch_options o = {.play = {.every = 0.1, .every_least = 0.01, .every_most = 60, .seed = -1}, .speed = 1};
    play p;
    options_parse(&argp, argc, argv, &o);
    ending_watch();
    int status = play_open(&o.play, &p);
    if (status == EXIT_DONE)
        status = watch_plan(&o, &p);
    play_close(&o.play, &p);
    ending_obey();
    return status;
}

const verb verb_watch = {"watch", "Show signals live on the terminal.", run_watch};
