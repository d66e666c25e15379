/* SPDX-License-Identifier: MIT */
/* Options of `explain` into observations: pieces of one are situations, or signals. */
#define _GNU_SOURCE
#include "cli/explain_gather.h"
#include "base/nearest_name.h"
#include "base/vcd_read.h"
#include "printing/options.h"
#include "printing/printing.h"
#include "reading/counts.h"
#include "record/record_file.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

typedef struct {
    char text[2000];
    char *piece[GIVEN_MOST];
    int count;
} list_of_pieces;

static void refuse(gathering *g, const char *option, const char *text, const char *why)
{
    enum { SHOWN = 100 };
    if (g->good)
        fprintf(stderr, "tinyladder: %s: '%.*s%s': %s\n", option, SHOWN, text,
                strlen(text) > SHOWN ? "..." : "", why);
    g->good = false;
}

/* Splits a copy at a character, without spaces around; how many pieces. */
static int split(gathering *g, const char *option, const char *text, char at, list_of_pieces *to)
{
    char *rest = to->text;
    const char separator[2] = {at, '\0'};
    to->count = 0;
    if (strlen(text) >= sizeof to->text) {
        refuse(g, option, text, "this is too long: write it into a file, and use --observed");
        return 0;
    }
    snprintf(to->text, sizeof to->text, "%s", text);
    for (char *piece = strsep(&rest, separator); piece != NULL; piece = strsep(&rest, separator)) {
        piece += strspn(piece, " ");
        size_t length = strlen(piece);
        while (length > 0 && piece[length - 1] == ' ')
            piece[--length] = '\0';
        if (to->count == GIVEN_MOST) {
            refuse(g, option, text, "these are too many: write them into a file, and use --observed");
            return 0;
        }
        to->piece[to->count++] = piece;
    }
    return to->count;
}

static const char *name_in(const void *plan, int i)
{
    return ((const tl_plan *)plan)->signals[i].name;
}

static int find_signal(gathering *g, const char *option, const char *name)
{
    int signal;
    char why[160], meant[100];
    if (tl_plan_signal(g->plan, name, &signal) != NULL)
        return signal;
    snprintf(why, sizeof why, "the plan has no such signal%s",
             did_you_mean(nearest_name(name, name_in, g->plan, g->plan->signal_count), meant));
    for (int i = 0; i < g->plan->output_count; i++) {
        if (strcmp(g->plan->outputs[i].name, name) == 0)
            snprintf(why, sizeof why, "this is an output: say what it did with --output '%.60s=on,dark'",
                     name);
    }
    refuse(g, option, name, why);
    return TL_NONE;
}

static situation *situation_at(gathering *g, int k)
{
    while (g->seen->count <= k)
        (void)observed_add(g->seen);
    return &g->seen->situations[k];
}

/* `NAME=REST`, or the signal that goes with this place. */
static int signal_and_rest(gathering *g, const char *option, char *piece, int place, char **rest)
{
    char *equals = strchr(piece, '=');
    *rest = piece;
    if (equals != NULL) {
        *equals = '\0';
        *rest = equals + 1;
        return find_signal(g, option, piece);
    }
    if (g->signal_count == 0)
        refuse(g, option, piece, "of which signal? Name it behind the plan, or write NAME=VALUE");
    else if (g->signal_count > 1 && place >= g->signal_count)
        refuse(g, option, piece, "there is no signal left for it: with several signals each has one piece");
    return !g->good ? TL_NONE : g->signals[g->signal_count > 1 ? place : 0];
}

static void add_samples(gathering *g, situation *in, int signal, const char *text)
{
    list_of_pieces list;
    tl_text_error error = {0, ""};
    seen_signal *seen = situation_signal(in, signal);
    const int count = split(g, "--saw", text, ' ', &list);
    for (int i = 0; i < count && g->good; i++) {
        if (list.piece[i][0] != '\0' && !seen_sample_read(seen, g->plan, list.piece[i], &error))
            refuse(g, "--saw", list.piece[i], error.text);
    }
    if (seen->count == 0)
        refuse(g, "--saw", text, "expected a count or a level");
}

/* A recorded line moves with its source: each level that it had is a situation. */
static void add_recorded(gathering *g, int k, int signal, const char *text)
{
    vcd_levels levels;
    tl_text_error error = {0, ""};
    if (g->plan->signals[signal].analog) {
        refuse(g, "--saw", text, "a recorded line has levels, and this signal has counts");
        return;
    }
    tl_report *report = tl_report_new();
    if (!vcd_load(text, report, &levels))
        refuse(g, "--saw", text, tl_report_finding(report, 0)->cause);
    tl_report_free(report);
    for (int i = 0; g->good && i < levels.count && i < 2; i++)
        g->good = seen_sample_read(situation_signal(situation_at(g, k + i), signal), g->plan,
                                   levels.levels[i].high ? "1" : "0", &error);
    vcd_free(&levels);
}

/* Pieces without names are situations of the one signal, or one for each of the signals. */
static void take_saw(gathering *g, const char *text)
{
    list_of_pieces list;
    char *rest;
    const int count = split(g, "--saw", text, ',', &list);
    for (int i = 0; i < count && g->good; i++) {
        const bool named = strchr(list.piece[i], '=') != NULL;
        const int signal = signal_and_rest(g, "--saw", list.piece[i], i, &rest),
                  k = named || g->signal_count > 1 ? 0 : i;
        if (signal != TL_NONE && names_vcd(rest))
            add_recorded(g, k, signal, rest);
        else if (signal != TL_NONE)
            add_samples(g, situation_at(g, k), signal, rest);
    }
}

static void add_source(gathering *g, int k, int signal, const char *text)
{
    tl_text_error error = {0, ""};
    seen_source source;
    situation *in = situation_at(g, k);
    if (!seen_source_read(&source, g->plan, signal, text, &error))
        refuse(g, "--source", text, error.text);
    else if (situation_source(in, g->plan, signal) != NULL)
        refuse(g, "--source", text,
               "this source has a value already: a rail has one, whichever signal measures it");
    else
        situation_add_source(in, &source);
}

/* In the same way; one for all situations is the same in each. */
static void take_source(gathering *g, const char *text)
{
    list_of_pieces list;
    char *rest;
    const int count = split(g, "--source", text, ',', &list), situations = g->seen->count;
    const bool one_by_one = g->signal_count <= 1 && strchr(text, '=') == NULL;
    if (one_by_one && count > 1 && situations > 0 && count != situations) {
        refuse(g, "--source", text, "give one for each situation in --saw, or one for all");
        return;
    }
    for (int i = 0; i < count && g->good; i++) {
        const int signal = signal_and_rest(g, "--source", list.piece[i], i, &rest);
        const bool for_all = !(one_by_one && count > 1);
        for (int k = for_all ? 0 : i; signal != TL_NONE && g->good && k < (for_all ? situations : i + 1); k++)
            add_source(g, k, signal, rest);
        if (signal != TL_NONE && for_all && situations == 0)
            add_source(g, 0, signal, rest);
    }
}

/* `NAME=REST`; false where there is none. */
static bool name_and_rest(gathering *g, const char *option, const char *text, char name[200],
                          const char **rest)
{
    const char *equals = strchr(text, '=');
    if (equals == NULL || equals - text > 199) {
        refuse(g, option, text,
               strcmp(option, "--ohms") == 0 ? "expected A,B=RESISTANCE" : "expected NAME=VALUE");
        return false;
    }
    snprintf(name, 200, "%.*s", (int)(equals - text), text);
    *rest = equals + 1;
    return true;
}

static void take_shown(gathering *g, const char *text)
{
    char name[200];
    const char *rest;
    tl_text_error error = {0, ""};
    if (!name_and_rest(g, "--shown", text, name, &rest))
        return;
    const int signal = find_signal(g, "--shown", name);
    if (signal != TL_NONE &&
        !seen_shown_read(situation_signal(situation_at(g, 0), signal), g->plan, rest, &error))
        refuse(g, "--shown", rest, error.text);
}

static void take_measured(gathering *g, const char *option, const char *text, seen_meter_reader *read)
{
    char point[200];
    const char *rest;
    tl_text_error error = {0, ""};
    seen_meter meter;
    if (!name_and_rest(g, option, text, point, &rest))
        return;
    if (!read(&meter, g->circuit, point, rest, &error))
        refuse(g, option, text, error.text);
    else
        observed_add_meter(g->seen, 0, &meter);
}

/* `on,dim,4.9 V`: the volts at its pin, too. */
static void take_output_volts(gathering *g, const char *name, char *text)
{
    char point[200], *comma = strrchr(text, ',');
    tl_text_error error = {0, ""};
    seen_meter meter;
    if (comma == NULL || strchr(text, ',') == comma)
        return;
    *comma = '\0';
    snprintf(point, sizeof point, "%.190s.pin", name);
    if (!seen_meter_read(&meter, g->circuit, point, comma + 1 + strspn(comma + 1, " "), &error))
        refuse(g, "--output", comma + 1, error.text);
    else
        observed_add_meter(g->seen, 0, &meter);
}

static void take_output(gathering *g, const char *text)
{
    char name[200], told[200];
    const char *rest;
    tl_text_error error = {0, ""};
    seen_output output;
    if (!name_and_rest(g, "--output", text, name, &rest))
        return;
    snprintf(told, sizeof told, "%s", rest);
    take_output_volts(g, name, told);
    if (!g->good)
        return;
    if (!seen_output_read(&output, g->plan, name, told, &error)) {
        refuse(g, "--output", text, error.text);
        return;
    }
    situation_add_output(situation_at(g, 0), &output);
}

bool explain_gather(const explain_options *o, gathering *g)
{
    for (int i = 0; i < o->names.count && g->good; i++)
        g->signals[g->signal_count++] = find_signal(g, "SIGNAL", o->names.text[i]);
    if (g->signal_count == 0 && g->plan->signal_count == 1)
        g->signals[g->signal_count++] = 0;
    for (int i = 0; i < o->saw.count && g->good; i++)
        take_saw(g, o->saw.text[i]);
    for (int i = 0; i < o->sources.count && g->good; i++)
        take_source(g, o->sources.text[i]);
    for (int i = 0; i < o->shown.count && g->good; i++)
        take_shown(g, o->shown.text[i]);
    for (int i = 0; i < o->meters.count && g->good; i++)
        take_measured(g, "--meter", o->meters.text[i], seen_meter_read);
    for (int i = 0; i < o->ohms.count && g->good; i++)
        take_measured(g, "--ohms", o->ohms.text[i], seen_ohms_read);
    for (int i = 0; i < o->outputs.count && g->good; i++)
        take_output(g, o->outputs.text[i]);
    return g->good;
}

int explain_gather_counts(const explain_options *o, gathering *g)
{
    enum { LIVE = 4, WAIT_SECONDS = 10 };
    int status = EXIT_DONE;
    counts *from = counts_open(o->counts, g->circuit, &status);
    if (from == NULL)
        return status;
    int *all = must(calloc((size_t)(g->plan->signal_count + g->signal_count) + 1, sizeof *all)),
        count = g->signal_count, came = 0;
    memcpy(all, g->signals, (size_t)count * sizeof *all);
    for (int i = 0; g->signal_count == 0 && i < g->plan->signal_count; i++)
        all[count++] = i;
    taken *readings = must(calloc((size_t)count + 1, sizeof *readings));
    for (int n = 0; n < (counts_is_live(from) ? LIVE : 1); n++) {
        counts_take_all(from, all, count, WAIT_SECONDS, readings);
        for (int i = 0; i < count; i++) {
            const bool known = readings[i].is.status == TL_OK || readings[i].is.status == TL_ERR_RANGE;
            seen_signal *seen = known ? situation_signal(situation_at(g, 0), all[i]) : NULL;
            came += known;
            if (seen != NULL && seen->count < SEEN_SAMPLES_MOST)
                seen->samples[seen->count++] =
                    g->plan->signals[all[i]].analog ? (double)readings[i].is.count : readings[i].is.high;
        }
    }
    free(readings);
    free(all);
    status = counts_close(from, came > 0 ? EXIT_DONE : EXIT_HARDWARE);
    if (came == 0)
        fprintf(stderr, "tinyladder: no signal came from %s\n", counts_name(o->counts));
    return status;
}

/* --- a record --- */

typedef struct {
    gathering *g;
    situation *in;
    int run;
} recorded;

static bool is_asked(const gathering *g, int signal)
{
    bool asked = g->signal_count == 0;
    for (int i = 0; i < g->signal_count; i++)
        asked = asked || g->signals[i] == signal;
    return asked;
}

/* The source may have moved: only the last few tell where it is. */
static bool take_row(void *context, const stored_row *row)
{
    enum { LAST = 8 };
    int signal;
    recorded *r = context;
    const tl_signal *s = tl_plan_signal(r->g->plan, row->signal, &signal);
    if (row->run != r->run) {
        for (int i = 0; i < r->in->signal_count; i++)
            r->in->signals[i].count = 0;
        r->run = row->run;
    }
    if (s == NULL || !is_asked(r->g, signal) || row->kind == STORED_RUN || row->kind == STORED_OUTPUT ||
        row->kind == STORED_LEVEL || isnan(row->count))
        return true;
    seen_signal *seen = situation_signal(r->in, signal);
    if (seen->count == LAST)
        memmove(seen->samples, seen->samples + 1, (size_t)--seen->count * sizeof *seen->samples);
    seen->samples[seen->count++] = row->count;
    return true;
}

int explain_gather_record(const explain_options *o, gathering *g)
{
    recorded r = {g, situation_at(g, 0), 0};
    if (!store_visit(o->record, take_row, &r))
        return EXIT_UNREADABLE;
    for (int i = 0; i < r.in->signal_count; i++) {
        if (r.in->signals[i].count > 0)
            return EXIT_DONE;
    }
    fprintf(stderr, "tinyladder: %s: there is no count of these signals\n", o->record);
    return EXIT_UNREADABLE;
}
