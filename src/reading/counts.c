/* SPDX-License-Identifier: MIT */
/* Lines of counts: see counts.h. */
#define _GNU_SOURCE
#include "reading/counts.h"
#include "reading/count_fields.h"
#include "reading/counts_source.h"
#include "reading/ending.h"
#include <errno.h>
#include <jansson.h>
#include <math.h>
#include <poll.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>
#include <unistd.h>

enum { AT_A_TIME = 1000, TOLD_MOST = 3, COLUMN_NONE = -1, COLUMN_TIME = -2 };
static const double LATEST = 1e12; /* seconds: a clock that began at any known year is before */

typedef enum { WRONG_TORN, WRONG_UNKNOWN, WRONG_RANGE, WRONG_LATE, WRONG_DOUBLE, WRONG_KINDS } wrong_kind;
static const char *const wrong_words[] = {"torn", "of no signal", "out of range", "late", "doubled"};

struct counts {
    const char *source;
    int file;
    pid_t helper;
    bool live, ended;
    tl_circuit *circuit;
    const tl_plan *plan;
    char read[COUNT_LINE_LONGEST]; /* and not yet looked at, from read_at on */
    size_t read_at, read_count;
    char text[COUNT_LINE_LONGEST + 1], before[COUNT_LINE_LONGEST + 1];
    size_t filled;
    bool too_long;
    unsigned long line;
    /* CSV */
    bool has_head, any_line;
    int columns[COUNT_COLUMNS_MOST], column_count; /* a signal, COLUMN_NONE or COLUMN_TIME */
    double time_unit;
    /* of the line */
    double sent;            /* NAN: it has no time of its own */
    double at, sent_before; /* the time of the last line that counts; NAN: it had none of its own */
    int *closed;            /* of each contact: -1 before it is known */
    long *closings;
    tl_button *buttons; /* and rhythms: of each line that is measured */
    tl_rhythm *rhythms;
    unsigned long wrong[WRONG_KINDS];
    bool lost; /* it could not be read to its end */
    struct timespec begun;
};

double counts_now(const counts *of)
{
    struct timespec now;
    clock_gettime(CLOCK_MONOTONIC, &now);
    return (double)(now.tv_sec - of->begun.tv_sec) + 1e-9 * (double)(now.tv_nsec - of->begun.tv_nsec);
}

/* Each kind is reported a few times, then only counted. */
static void complain(counts *of, wrong_kind kind, const char *what, const char *name)
{
    if (++of->wrong[kind] > TOLD_MOST)
        return;
    fprintf(stderr, "tinyladder: %s:%lu: %s%s%.60s%s%s\n", of->source, of->line, what,
            name[0] != '\0' ? " '" : "", name, name[0] != '\0' ? "'" : "",
            of->wrong[kind] == TOLD_MOST ? "; further ones are counted" : "");
}

/* --- one count --- */

/* A signal of the plan by its name, or in firmware's spelling of it: house_battery. */
static int signal_named(const counts *of, const char *name)
{
    for (int i = 0; i < of->plan->signal_count; i++) {
        const char *own = of->plan->signals[i].name, *other = name;
        while (*own != '\0' && (*own == *other || (*own == '-' && *other == '_'))) {
            own++;
            other++;
        }
        if (*own == '\0' && *other == '\0')
            return i;
    }
    return COLUMN_NONE;
}

static bool take_contact(const counts *of, int signal, double level, taken *r)
{
    if (level != 0 && level != 1)
        return false;
    const bool high = level != 0, closed = high != tl_plan_button(of->plan, signal).closed_is_low;
    *r = (taken){.is = {.high = high, .closed = closed, .volts = NAN, .flags = TL_READING_FRESH}};
    return true;
}

/* False for one that was out of range, which is reported. */
static bool take_count(counts *of, int signal, double count, taken *readings, bool *told)
{
    const tl_signal *s = &of->plan->signals[signal];
    if (!(s->analog ? count_taken(of->circuit, signal, count, &readings[signal])
                    : take_contact(of, signal, count, &readings[signal]))) {
        complain(of, WRONG_RANGE, s->analog ? "beyond the ADC's counts:" : "a level is 0 or 1:", s->name);
        return false;
    }
    told[signal] = true;
    return true;
}

/* The sender's time; false for one that no clock shows, which is reported. */
static bool take_time(counts *of, double seconds)
{
    if (!(seconds >= 0 && seconds <= LATEST)) {
        complain(of, WRONG_TORN, "a time is 0 or later", "");
        return false;
    }
    of->sent = seconds;
    return true;
}

/* --- kinds of lines --- */

static void take_head(counts *of, const char *text)
{
    count_fields f;
    of->has_head = true;
    if (!count_fields_split(text, &f))
        complain(of, WRONG_TORN, "no head line: quotes that do not match", "");
    for (int i = 0; i < f.count && i < COUNT_COLUMNS_MOST; i++) {
        const double unit = count_unit_of_time(f.of[i]);
        const int signal = signal_named(of, f.of[i]);
        of->columns[of->column_count++] = unit > 0 ? COLUMN_TIME : signal;
        of->time_unit = unit > 0 ? unit : of->time_unit;
        if (unit == 0 && signal == COLUMN_NONE)
            complain(of, WRONG_UNKNOWN, "the plan has no signal", f.of[i]);
    }
}

static bool take_row(counts *of, const char *text, taken *readings, bool *told)
{
    count_fields f;
    bool any = false;
    const bool whole = count_fields_split(text, &f);
    if (!whole || f.count != of->column_count) {
        complain(of, WRONG_TORN,
                 !whole                       ? "quotes that do not match"
                 : f.count > of->column_count ? "more fields than the head has"
                                              : "fewer fields than the head has",
                 "");
        return false;
    }
    for (int i = 0; i < f.count; i++) {
        const int signal = of->columns[i];
        double number;
        if (f.of[i][0] == '\0' || signal == COLUMN_NONE)
            continue;
        if (!count_number(f.of[i], &number)) {
            complain(of, WRONG_TORN, "no number:", f.of[i]);
            return false;
        }
        if (signal != COLUMN_TIME)
            any = take_count(of, signal, number, readings, told) || any;
        else if (!take_time(of, number * of->time_unit))
            return false;
    }
    return any;
}

/* `name count`, several of them, and whatever else behind. */
static bool take_pairs(counts *of, char *text, taken *readings, bool *told)
{
    static const char apart[] = " \t=:;";
    char *at = text, *left = NULL, *name, *value;
    double number;
    bool any = false, first = true;
    while ((name = strtok_r(at, apart, &left)) != NULL) {
        at = NULL;
        const double unit = count_unit_of_time(name);
        const int signal = signal_named(of, name);
        if (unit == 0 && signal == COLUMN_NONE) {
            if (first)
                complain(of, WRONG_UNKNOWN, "the plan has no signal", name);
            break;
        }
        value = strtok_r(NULL, apart, &left);
        if (value == NULL || !count_number(value, &number)) {
            complain(of, WRONG_TORN, "no count behind", name);
            return false;
        }
        first = false;
        if (unit == 0)
            any = take_count(of, signal, number, readings, told) || any;
        else if (!take_time(of, number * unit))
            return false;
    }
    return any;
}

static bool take_object(counts *of, const char *text, taken *readings, bool *told)
{
    json_t *object = json_loads(text, JSON_REJECT_DUPLICATES, NULL), *value;
    const char *name;
    bool any = false, torn = !json_is_object(object), untimely = false;
    json_object_foreach(object, name, value)
    {
        const double unit = count_unit_of_time(name);
        const int signal = signal_named(of, name);
        double number = json_is_boolean(value) ? json_boolean_value(value) : json_number_value(value);
        const bool is_word = json_is_string(value) && count_number(json_string_value(value), &number);
        if (unit == 0 && signal == COLUMN_NONE)
            complain(of, WRONG_UNKNOWN, "the plan has no signal", name);
        else if (!json_is_number(value) && (unit > 0 || !(json_is_boolean(value) || is_word)))
            torn = true;
        else if (unit == 0)
            any = take_count(of, signal, number, readings, told) || any;
        else if (!take_time(of, number * unit))
            untimely = true;
    }
    if (torn)
        complain(of, WRONG_TORN, "no JSON object of numbers", "");
    json_decref(object);
    return any && !torn && !untimely;
}

/* Of a line that counts. */
static void count_closings(counts *of, taken *readings, const bool *told)
{
    for (int i = 0; i < of->plan->signal_count; i++) {
        if (!told[i] || of->plan->signals[i].analog)
            continue;
        of->closings[i] += readings[i].is.closed && of->closed[i] == 0;
        of->closed[i] = readings[i].is.closed;
        readings[i].closings = of->closings[i];
        readings[i].is.toggled = of->closings[i] % 2 != 0;
    }
}

/* When a line is: as its sender says, or by this computer; once a sender has said a time, it is his clock
 * that counts. */
static double time_of_line(const counts *of)
{
    return !isnan(of->sent) ? of->sent : !isnan(of->sent_before) ? of->at : counts_now(of);
}

/* Lines that are measured, by the levels and times that the board tells. */
static void measure(counts *of, taken *readings, const bool *told)
{
    const uint32_t at_us = (uint32_t)(uint64_t)llround(1e6 * of->at);
    for (int i = 0; i < of->plan->signal_count; i++) {
        tl_value *is = &readings[i].is.is;
        if (!told[i] || !tl_reading_is_timed(&of->plan->signals[i].reading))
            continue;
        (void)tl_button_feed(&of->buttons[i], readings[i].is.high, at_us);
        (void)tl_rhythm_feed(&of->rhythms[i], of->buttons[i].closed != of->rhythms[i].of_open, at_us);
        tl_plan_rhythm_value(of->plan, i, &of->rhythms[i], INFINITY, 0, is);
        is->within = (tl_interval){NAN, NAN}; /* it is not known how often the board looks */
        readings[i].is.flags = is->none ? 0 : TL_READING_FRESH;
        readings[i].closings = -1;
    }
}

/* A whole line: whether it has told of a signal, at a time that is not before the last one's. */
static bool take_line(counts *of, taken *readings, bool *told)
{
    char text[COUNT_LINE_LONGEST + 1];
    snprintf(text, sizeof text, "%s", of->text);
    of->sent = NAN;
    memset(told, 0, (size_t)of->plan->signal_count * sizeof *told);
    if (text[0] == '\0' || text[0] == '#')
        return false;
    const bool first = !of->any_line;
    of->any_line = true;
    bool any;
    if (text[0] == '{') {
        any = take_object(of, text, readings, told);
    } else if (of->has_head || (first && strchr(text, ',') != NULL)) {
        if (!of->has_head) {
            take_head(of, text);
            return false;
        }
        any = take_row(of, text, readings, told);
    } else {
        any = take_pairs(of, text, readings, told);
    }
    if (any && of->sent == of->sent_before && strcmp(of->text, of->before) == 0) {
        complain(of, WRONG_DOUBLE, "the same line again", "");
        return false;
    }
    const double at = time_of_line(of);
    if (any && at < of->at) {
        complain(of, WRONG_LATE, "its time is before that of the line before", "");
        return false;
    }
    if (any) {
        of->at = at;
        of->sent_before = isnan(of->sent) ? of->sent_before : of->sent;
    }
    snprintf(of->before, sizeof of->before, "%s", of->text);
    if (any) {
        count_closings(of, readings, told);
        measure(of, readings, told);
    }
    return any;
}

/* --- bytes --- */

/* Goes on to the end of a line in what has been read; false where it does not end there. */
static bool finish_line(counts *of)
{
    while (of->read_at < of->read_count) {
        const char byte = of->read[of->read_at++];
        if (byte == '\n')
            return true;
        if (of->filled < COUNT_LINE_LONGEST)
            of->text[of->filled++] = byte;
        else
            of->too_long = true;
    }
    return false;
}

/* What there is, without waiting for a whole line of it; false at the end. */
static bool read_more(counts *of)
{
    const ssize_t got = read(of->file, of->read, sizeof of->read);
    of->read_at = 0;
    of->read_count = got > 0 ? (size_t)got : 0;
    of->lost = got < 0 && errno != EINTR;
    if (of->lost)
        fprintf(stderr, "tinyladder: %s: %s\n", of->source, strerror(errno));
    return got > 0 || (got < 0 && !of->lost);
}

/* The end of the file; what stands there without an end of line is torn. */
static void end(counts *of)
{
    of->ended = true;
    if (of->filled == 0)
        return;
    of->line++;
    complain(of, WRONG_TORN, "the last line has no end", "");
    of->filled = 0;
}

counts_got counts_next(counts *of, double within, taken *readings, bool *told, double *at)
{
    const double until = counts_now(of) + within;
    while (!of->ended && !ending_asked()) {
        if (!finish_line(of)) {
            /* What has come already is read even where there is no time to wait. */
            const double left = until - counts_now(of), patience = 0.1;
            struct pollfd ready = {.fd = of->file, .events = POLLIN};
            const bool more = poll(&ready, 1, (int)fmin(ceil(1000 * fmax(0, left)), 100)) > 0;
            if (left < 0 && (!more || left < -patience))
                return COUNTS_LATE;
            if (more && !read_more(of))
                end(of);
            continue;
        }
        of->line++;
        while (of->filled > 0 && of->text[of->filled - 1] == '\r')
            of->filled--;
        of->text[of->filled] = '\0';
        const bool torn = of->too_long || memchr(of->text, '\0', of->filled) != NULL;
        of->filled = 0;
        of->too_long = false;
        if (torn) {
            complain(of, WRONG_TORN, "no line of text", "");
            continue;
        }
        if (!take_line(of, readings, told))
            continue;
        *at = of->at;
        for (int i = 0; i < of->plan->signal_count; i++)
            readings[i].is.at = told[i] ? *at : readings[i].is.at;
        return COUNTS_LINE;
    }
    return COUNTS_END;
}

void counts_take_all(counts *of, const int *signals, int count, double within, taken *readings)
{
    const size_t all = (size_t)of->plan->signal_count;
    taken *now = must(calloc(all + 1, sizeof *now));
    bool *told = must(calloc(all + 1, sizeof *told)), *has = must(calloc(all + 1, sizeof *has));
    const double until = counts_now(of) + within;
    int left = count;
    double at;
    while ((left > 0 || !of->live) &&
           counts_next(of, until - counts_now(of), now, told, &at) == COUNTS_LINE) {
        for (int i = 0; i < count; i++) {
            if (!told[signals[i]])
                continue;
            left -= !has[i];
            has[i] = true;
            readings[i] = now[signals[i]];
        }
    }
    for (int i = 0; i < count; i++) {
        if (!has[i] && now[signals[i]].is.status == TL_ERR_RANGE)
            readings[i] = now[signals[i]];
        else if (!has[i])
            readings[i] =
                (taken){.is = {.analog = of->plan->signals[signals[i]].analog, .status = TL_ERR_LATE},
                        .closings = -1};
    }
    free(now);
    free(told);
    free(has);
}

/* --- the whole --- */

const char *counts_name(const char *source)
{
    return strcmp(source, "-") == 0 ? "standard input" : source;
}

counts *counts_open(const char *source, tl_circuit *circuit, int *status)
{
    char why[160];
    bool live;
    pid_t helper;
    const int file = counts_source_open(source, &live, &helper, why);
    if (file < 0) {
        fprintf(stderr, "tinyladder: --counts: %s: %s\n", source, why);
        *status = EXIT_UNREADABLE;
        return NULL;
    }
    counts *of = must(calloc(1, sizeof *of));
    const tl_plan *plan = tl_circuit_plan(circuit);
    *of = (counts){.source = source,
                   .file = file,
                   .helper = helper,
                   .live = live,
                   .circuit = circuit,
                   .plan = plan,
                   .sent_before = NAN};
    of->closed = must(calloc((size_t)plan->signal_count + 1, sizeof *of->closed));
    of->closings = must(calloc((size_t)plan->signal_count + 1, sizeof *of->closings));
    of->buttons = must(calloc((size_t)plan->signal_count + 1, sizeof *of->buttons));
    of->rhythms = must(calloc((size_t)plan->signal_count + 1, sizeof *of->rhythms));
    for (int i = 0; i < plan->signal_count; i++) {
        const tl_button_config config = tl_plan_button(plan, i);
        const tl_rhythm_config how = tl_plan_rhythm(plan, i);
        of->closed[i] = -1;
        of->buttons[i] = (tl_button){.needed = config.steady, .closed_is_low = config.closed_is_low};
        if (tl_reading_is_timed(&plan->signals[i].reading))
            (void)tl_rhythm_init(&of->rhythms[i], &how);
    }
    clock_gettime(CLOCK_MONOTONIC, &of->begun);
    return of;
}

bool counts_is_live(const counts *of)
{
    return of->live;
}

bool counts_pass_until(counts *of, int other)
{
    const size_t all = (size_t)of->plan->signal_count;
    taken *now = must(calloc(all + 1, sizeof *now));
    bool *told = must(calloc(all + 1, sizeof *told)), waiting = true;
    double at;
    while (waiting && !of->ended && !ending_asked()) {
        struct pollfd ready[] = {{.fd = other, .events = POLLIN}, {.fd = of->file, .events = POLLIN}};
        waiting = poll(ready, 2, 100) <= 0 || ready[0].revents == 0;
        /* A source that never pauses must not keep the other from being looked at. */
        for (int lines = 0; lines < AT_A_TIME && counts_next(of, 0, now, told, &at) == COUNTS_LINE; lines++)
            continue;
    }
    free(now);
    free(told);
    return !waiting;
}

unsigned long counts_left_out(const counts *of)
{
    unsigned long all = 0;
    for (int i = 0; i < WRONG_KINDS; i++)
        all += of->wrong[i];
    return all;
}

int counts_close(counts *of, int status)
{
    const bool lost = of->lost;
    const unsigned long all = counts_left_out(of);
    if (all > 0) {
        const char *comma = "";
        fprintf(stderr, "tinyladder: %s: of %lu lines left out or in part: ", of->source, of->line);
        for (int i = 0; i < WRONG_KINDS; i++) {
            if (of->wrong[i] > 0)
                fprintf(stderr, "%s%lu %s", comma, of->wrong[i], wrong_words[i]);
            comma = of->wrong[i] > 0 ? ", " : comma;
        }
        fputc('\n', stderr);
    }
    counts_source_close(of->file, of->helper);
    free(of->closed);
    free(of->closings);
    free(of->buttons);
    free(of->rhythms);
    free(of);
    return lost ? EXIT_HARDWARE : status;
}
