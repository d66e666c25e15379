/* SPDX-License-Identifier: MIT */
/* tinyladder record: readings over time into a file. */
#define _GNU_SOURCE
#include "cli/cli.h"
#include "publish/publish.h"
#include "reading/counts.h"
#include "reading/damages.h"
#include "reading/ending.h"
#include "reading/explain_hint.h"
#include "reading/playing.h"
#include "reading/taker.h"
#include "record/record_file.h"
#include <errno.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>
#include <time.h>
#include <unistd.h>

enum { KEY_STOP_WHEN = 1000, KEY_FOR, KEY_REAL_TIME, KEY_COUNTS };

typedef struct {
    play_options play;
    const char *out, *stop_when, *counts;
    publish_options publish;
    double length;
    long samples;
    bool real_time;
} record_options;

static const struct argp_option record_argp_options[] = {
    {"for", KEY_FOR, "TIME", 0, "duration of the recording (default: to the end of the scene)", 0},
    {"real-time", KEY_REAL_TIME, NULL, 0, "run in real time, one second per second of the scene", 0},
    {"counts", KEY_COUNTS, "SOURCE", 0,
     "counts from your board instead of the bench: a file, -, DEVICE@SPEED, unix:PATH, tcp:HOST:PORT or "
     "mqtt://HOST/TOPIC",
     0},
    {"mean", 'm', "N", 0, "average N samples per reading (default: from the plan)", 0},
    {"stop-when", KEY_STOP_WHEN, "SIGNAL=STATE", 0,
     "stop when a signal has this state, such as stop-button=closed", 0},
    {"output", 'o', "FILE", 0,
     "write to FILE.csv or FILE.db, append if it exists; or to a new FILE.vcd; - writes CSV to a pipe", 0},
    {0},
};

static error_t parse_record(int key, char *text, struct argp_state *state)
{
    record_options *o = state->input;
    switch (key) {
    case ARGP_KEY_INIT:
        state->child_inputs[0] = &o->play;
        state->child_inputs[1] = &o->publish;
        break;
    case KEY_FOR:
        o->length = option_value(state, "for", text, TL_DIM_SECOND);
        if (!(o->length > 0))
            argp_error(state, "--for: expected more than 0 s");
        break;
    case 'm':
        o->samples = option_number(state, "mean", text, 1, 10000);
        break;
    case KEY_REAL_TIME:
        o->real_time = true;
        break;
    case KEY_COUNTS:
        o->counts = text;
        break;
    case KEY_STOP_WHEN:
        o->stop_when = text;
        break;
    case 'o':
        o->out = text;
        break;
    case ARGP_KEY_END:
        if (o->play.plan != NULL && o->out == NULL)
            argp_error(state, "-o is required: FILE.csv, FILE.db, FILE.vcd or -");
        if (o->counts != NULL && (o->play.scene != NULL || o->play.fault_count > 0 || o->play.at != 0 ||
                                  o->play.seed >= 0 || o->samples > 0 || o->real_time))
            argp_error(
                state,
                "--counts: the real board has no --scene, --fault, --at, --seed, --mean or --real-time");
        break;
    default:
        return ARGP_ERR_UNKNOWN;
    }
    return 0;
}

/* --- when to end --- */

typedef struct {
    int signal; /* -1 for none */
    char state[40];
} stop_rule;

/* A state that it can have, or said which it has. */
static bool can_be(const tl_signal *s, const char *state)
{
    const char *word;
    for (int n = 0; (word = taken_state(s, n)) != NULL; n++) {
        if (strcmp(word, state) == 0)
            return true;
    }
    if (taken_state(s, 0) == NULL)
        fprintf(stderr, "tinyladder: --stop-when: %s has values and no states\n", s->name);
    else
        fprintf(stderr, "tinyladder: --stop-when: %s is never '%.40s'; it is", s->name, state);
    for (int n = 0; (word = taken_state(s, n)) != NULL; n++)
        fprintf(stderr, "%s %s%s", n > 0 ? " or" : "", word, taken_state(s, n + 1) == NULL ? "\n" : "");
    return false;
}

static bool read_stop_rule(const record_options *o, const tl_plan *plan, stop_rule *rule)
{
    char name[80];
    *rule = (stop_rule){.signal = -1};
    const char *equals = o->stop_when != NULL ? strchr(o->stop_when, '=') : NULL;
    if (o->stop_when == NULL)
        return true;
    if (equals != NULL && (size_t)(equals - o->stop_when) < sizeof name) {
        snprintf(name, sizeof name, "%.*s", (int)(equals - o->stop_when), o->stop_when);
        snprintf(rule->state, sizeof rule->state, "%s", equals + 1);
        if (tl_plan_signal(plan, name, &rule->signal) != NULL)
            return can_be(&plan->signals[rule->signal], rule->state);
    }
    fprintf(stderr, "tinyladder: --stop-when: expected SIGNAL=STATE, such as stop-button=closed\n");
    return false;
}

/* --- recording --- */

typedef struct {
    const record_options *o;
    bool appends; /* the file has earlier rows */
    const tl_plan *plan;
    tl_bench *bench;
    int *signals, count; /* that are recorded; the one that stops it may stand behind them */
    taken *readings;
    taker *taker;
    outputs outputs;
    stop_rule stop;
    publisher *to;
    double end;
} recording;

/* A pipe has the rows alone. */
static FILE *told_to(const recording *r)
{
    return strcmp(r->o->out, "-") == 0 ? stderr : stdout;
}

static void show_progress(const recording *r, double at, bool last)
{
    static long before = -1;
    const double done = r->end > r->o->play.at ? (at - r->o->play.at) / (r->end - r->o->play.at) : 1;
    const long percent = (long)(100 * done);
    if (!isatty(STDERR_FILENO) || (percent == before && !last))
        return;
    before = percent;
    fprintf(stderr, "\r%3ld %%, %s of %s%s", percent, show(at - r->o->play.at, TL_DIM_SECOND).text,
            show(r->end - r->o->play.at, TL_DIM_SECOND).text, last ? "\n" : "   ");
}

/* The state to wait for is read along with the rest, whether it is recorded or not. */
static int add_stop_signal(recording *r)
{
    int i = 0;
    while (i < r->count && r->signals[i] != r->stop.signal)
        i++;
    if (i < r->count || r->stop.signal < 0)
        return r->count;
    r->signals = must(realloc(r->signals, ((size_t)r->count + 1) * sizeof *r->signals));
    r->signals[r->count] = r->stop.signal;
    return r->count + 1;
}

static bool is_time_to_stop(const recording *r)
{
    char text[80];
    int i = 0;
    if (r->stop.signal < 0)
        return false;
    while (r->signals[i] != r->stop.signal)
        i++;
    taken_value(&r->plan->signals[r->stop.signal], &r->readings[i], text);
    return strcmp(text, r->stop.state) == 0;
}

/* So that whoever follows along sees what happens when it happens. A signal that ends the recording ends
 * this, too. */
static void wait_for_clock(const struct timespec *begun, double after)
{
    const double seconds = after + 1e-9 * (double)begun->tv_nsec, whole = floor(seconds);
    const struct timespec until = {begun->tv_sec + (time_t)whole, (long)(1e9 * (seconds - whole))};
    while (!ending_asked() && clock_nanosleep(CLOCK_MONOTONIC, TIMER_ABSTIME, &until, NULL) == EINTR)
        continue;
}

static const char *appended(const recording *r)
{
    return r->appends ? "appended " : "";
}

static const char *plural(unsigned long count)
{
    return count == 1 ? "" : "s";
}

static int record_all(recording *r, store *to)
{
    unsigned long steps = 0, kept = 0;
    double at = r->o->play.at;
    bool good = true, stopped = false;
    struct timespec begun;
    clock_gettime(CLOCK_MONOTONIC, &begun);
    for (; good && !stopped && !ending_asked() && at <= r->end + 1e-9; steps++) {
        if (r->o->real_time)
            wait_for_clock(&begun, at - r->o->play.at);
        taker_look(r->taker, r->bench, at, r->readings);
        outputs_show(&r->outputs, r->bench, r->signals, r->count, r->readings);
        good = store_put(to, r->signals, r->readings, r->count, &r->outputs);
        publisher_put(r->to, r->plan, &(published){r->signals, r->readings, r->count, &r->outputs, at});
        stopped = is_time_to_stop(r);
        show_progress(r, at, false);
        at = r->o->play.at + (double)(steps + 1) * r->o->play.every;
    }
    const double last = at - r->o->play.every;
    show_progress(r, last, true);
    good = store_close(to, &kept) && good;
    fprintf(told_to(r), "%s: %s%lu time%s of %d signal%s, up to %s%s\n", r->o->out, appended(r), kept,
            plural(kept), r->count, plural((unsigned long)r->count),
            show(fmax(kept < steps ? r->o->play.at + ((double)kept - 1) * r->o->play.every : last, 0),
                 TL_DIM_SECOND)
                .text,
            kept < steps     ? "; the rest is lost"
            : stopped        ? "; stopped as asked"
            : ending_asked() ? "; interrupted"
                             : "");
    if (taker_late(r->taker) > 0)
        fprintf(
            told_to(r),
            "Reading all signals takes longer than --every: up to %s late. The rows have the real times.\n",
            show(taker_late(r->taker), TL_DIM_SECOND).text);
    const bool hurt = damages_print(told_to(r), r->bench);
    explain_hint(told_to(r), r->plan, r->signals, r->readings, r->count, NULL);
    return !good ? EXIT_HARDWARE : hurt ? EXIT_FOUND : EXIT_DONE;
}

/* --- from the real board --- */

/* Of what a line told the signals that are required, put together. */
static int gather(const recording *r, const taken *all, const bool *told, int *signals, taken *readings)
{
    int count = 0;
    for (int i = 0; i < r->count; i++) {
        if (!told[r->signals[i]])
            continue;
        signals[count] = r->signals[i];
        readings[count++] = all[r->signals[i]];
    }
    return count;
}

static bool says_stop(const recording *r, const taken *all, const bool *told)
{
    char text[80];
    if (r->stop.signal < 0 || !told[r->stop.signal])
        return false;
    taken_value(&r->plan->signals[r->stop.signal], &all[r->stop.signal], text);
    return strcmp(text, r->stop.state) == 0;
}

/* As the lines come, to their end, for so long, or until a signal says so. */
static int record_counts(recording *r, store *to, counts *from)
{
    const size_t all = (size_t)r->plan->signal_count;
    taken *now = must(calloc(all + 1, sizeof *now)), *readings = must(calloc(all + 1, sizeof *readings));
    bool *told = must(calloc(all + 1, sizeof *told)), good = true, stopped = false;
    int *signals = must(calloc(all + 1, sizeof *signals));
    unsigned long lines = 0, kept = 0;
    double at = 0, last = 0;
    struct timespec begun, clock;
    clock_gettime(CLOCK_MONOTONIC, &begun);
    double left = r->o->length > 0 ? r->o->length : INFINITY;
    while (good && !stopped && left > 0 && counts_next(from, left, now, told, &at) == COUNTS_LINE) {
        const int count = gather(r, now, told, signals, readings);
        if (count > 0) {
            good = store_put(to, signals, readings, count, &r->outputs);
            publisher_put(r->to, r->plan, &(published){signals, readings, count, &r->outputs, at});
            lines++;
            last = at;
        }
        stopped = says_stop(r, now, told);
        clock_gettime(CLOCK_MONOTONIC, &clock);
        if (r->o->length > 0)
            left = r->o->length -
                   ((double)(clock.tv_sec - begun.tv_sec) + 1e-9 * (double)(clock.tv_nsec - begun.tv_nsec));
    }
    good = store_close(to, &kept) && good;
    fprintf(told_to(r), "%s: %s%lu line%s from %s, up to %s%s\n", r->o->out, appended(r), kept, plural(kept),
            counts_name(r->o->counts), show(last, TL_DIM_SECOND).text,
            kept < lines     ? "; the rest is lost"
            : stopped        ? "; stopped as asked"
            : ending_asked() ? "; interrupted"
                             : "");
    free(now);
    free(readings);
    free(told);
    free(signals);
    return good ? EXIT_DONE : EXIT_HARDWARE;
}

/* --- the whole --- */

static int record_to(recording *r, store *to, const play *p, counts *from)
{
    ending_watch();
    if (from != NULL)
        return record_counts(r, to, from);
    const int read = add_stop_signal(r);
    r->readings = must(calloc((size_t)read + 1, sizeof *r->readings));
    r->taker = taker_new(p->circuit, r->signals, read, (int)r->o->samples);
    r->bench = tl_bench_new(p->circuit, p->scene, p->seed);
    const int status = record_all(r, to);
    tl_bench_free(r->bench);
    taker_free(r->taker);
    outputs_free(&r->outputs);
    free(r->readings);
    return status;
}

static int record_plan(const record_options *o, const play *p)
{
    recording r = {.o = o, .plan = p->plan};
    int status = EXIT_USAGE;
    counts *from = NULL;
    r.end = o->length > 0 ? o->play.at + o->length : p->scene->length;
    if (o->counts == NULL && (!isfinite(r.end) || r.end < o->play.at)) {
        fprintf(stderr,
                isfinite(r.end)
                    ? "tinyladder: --at: the scene ends at %s; use --for TIME to record beyond it\n"
                    : "tinyladder: --for is required if there is no scene\n",
                show(p->scene->length, TL_DIM_SECOND).text);
        return EXIT_USAGE;
    }
    r.signals = choose_signals(p->plan, o->play.names, o->play.name_count, &r.count);
    if (r.signals == NULL || !read_stop_rule(o, p->plan, &r.stop)) {
        free(r.signals);
        return EXIT_USAGE;
    }
    if (o->counts != NULL && (from = counts_open(o->counts, p->circuit, &status)) == NULL) {
        free(r.signals);
        return status;
    }
    if (o->publish.url != NULL && (r.to = publisher_open(&o->publish, &status)) == NULL) {
        free(r.signals);
        if (from != NULL)
            status = counts_close(from, status);
        return status;
    }
    const recorded_run what = {
        p->plan, o->play.scene, o->counts, p->seed, r.signals, r.count, o->counts != NULL || o->real_time};
    struct stat before;
    r.appends = stat(o->out, &before) == 0 && S_ISREG(before.st_mode) && before.st_size > 0;
    store *to = store_open(o->out, &what, &status);
    if (to != NULL)
        status = record_to(&r, to, p, from);
    if (from != NULL)
        status = counts_close(from, status);
    if (!publisher_close(r.to) && status == EXIT_DONE)
        status = EXIT_HARDWARE;
    free(r.signals);
    return status;
}

static int run_record(int argc, char **argv)
{
    static const struct argp_child children[] = {{&play_argp, 0, NULL, 0}, {&publish_argp, 0, NULL, 0}, {0}};
    static const struct argp argp = {record_argp_options,
                                     parse_record,
                                     "PLAN [SIGNAL...]",
                                     "Record readings of the simulated bench or of your board as CSV, in an "
                                     "SQLite database, or as a value change dump.",
                                     children,
                                     NULL,
                                     NULL};
    record_options o = {.play = {.every = 1, .every_least = 1e-3, .every_most = INFINITY, .seed = -1}};
    play p;
    options_parse(&argp, argc, argv, &o);
    int status = play_open(&o.play, &p);
    if (status == EXIT_DONE)
        status = record_plan(&o, &p);
    play_close(&o.play, &p);
    ending_obey();
    return status;
}

const verb verb_record = {"record", "Record readings over time as CSV or in SQLite.", run_record};
