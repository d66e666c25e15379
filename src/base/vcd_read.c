/* SPDX-License-Identifier: MIT */
/* Value change dumps, word by word: declarations first, then times and changes. */
#include "base/vcd_read.h"
#include "base/memory.h"
#include "base/report_struct.h"
#include "base/yaml_tree.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

enum { WORD_LONGEST = 120, SCOPES_LONGEST = 200 };

typedef struct {
    const char *at, *end;
    int line;
    char word[WORD_LONGEST]; /* the last that was read, cut off where longer */
    char scopes[SCOPES_LONGEST];
    const char *name; /* that is looked for; NULL for the only one */
    char id[WORD_LONGEST], found[WORD_LONGEST];
    int found_count;
    double scale, now; /* seconds a unit; -1 before the first time */
    vcd_levels *to;
    char *why;
} dump;

static bool fail(dump *d, const char *format, const char *what)
{
    snprintf(d->why, 200, format, what);
    return false;
}

static bool is_space(char c)
{
    return c == ' ' || c == '\t' || c == '\n' || c == '\r';
}

static bool next_word(dump *d)
{
    size_t length = 0;
    for (; d->at < d->end && is_space(*d->at); d->at++)
        d->line += *d->at == '\n';
    for (; d->at < d->end && !is_space(*d->at); d->at++) {
        if (length + 1 < sizeof d->word)
            d->word[length++] = *d->at;
    }
    d->word[length] = '\0';
    return length > 0;
}

static bool is_word(const dump *d, const char *word)
{
    return strcmp(d->word, word) == 0;
}

static bool skip_to_end(dump *d)
{
    while (!is_word(d, "$end")) {
        if (!next_word(d))
            return fail(d, "this file ends in the middle of a declaration%s", "");
    }
    return true;
}

/* --- declarations --- */

/* `1 us`, or `10ns`. */
static bool take_timescale(dump *d)
{
    static const struct {
        const char *unit;
        double seconds;
    } units[] = {{"s", 1}, {"ms", 1e-3}, {"us", 1e-6}, {"ns", 1e-9}, {"ps", 1e-12}, {"fs", 1e-15}};
    char text[2 * WORD_LONGEST] = "", *unit;
    while (next_word(d) && !is_word(d, "$end")) {
        if (strlen(text) + strlen(d->word) < sizeof text)
            strcat(text, d->word);
    }
    const long number = strtol(text, &unit, 10);
    for (size_t i = 0; i < sizeof units / sizeof units[0]; i++) {
        if (strcmp(unit, units[i].unit) == 0 && (number == 1 || number == 10 || number == 100))
            d->scale = (double)number * units[i].seconds;
    }
    return d->scale > 0 ||
           fail(d, "this is no time scale: '%.60s' (1, 10 or 100 of s, ms, us, ns, ps or fs)", text);
}

static bool enter_scope(dump *d)
{
    if (!next_word(d) || !next_word(d)) /* its kind, its name */
        return fail(d, "this file ends in the middle of a declaration%s", "");
    if (strlen(d->scopes) + strlen(d->word) + 2 > sizeof d->scopes)
        return fail(d, "scopes are nested too deeply%s", "");
    strcat(strcat(d->scopes, d->word), ".");
    return skip_to_end(d);
}

static void leave_scope(dump *d)
{
    size_t length = strlen(d->scopes);
    if (length > 0)
        d->scopes[--length] = '\0';
    while (length > 0 && d->scopes[length - 1] != '.')
        d->scopes[--length] = '\0';
}

/* `wire 1 ! D0 $end`, with `[0]` behind the name or without. */
static bool take_variable(dump *d)
{
    char kind[16], id[WORD_LONGEST], name[WORD_LONGEST], whole[SCOPES_LONGEST + WORD_LONGEST];
    long bits = 0;
    for (int i = 0; i < 4; i++) {
        if (!next_word(d) || is_word(d, "$end"))
            return fail(d, "expected $var KIND BITS ID NAME $end%s", "");
        if (i == 0)
            snprintf(kind, sizeof kind, "%.15s", d->word);
        else if (i == 1)
            bits = strtol(d->word, NULL, 10);
        else
            snprintf(i == 2 ? id : name, WORD_LONGEST, "%s", d->word);
    }
    const char *bare = name[0] == '\\' ? name + 1 : name;
    snprintf(whole, sizeof whole, "%s%s", d->scopes, bare);
    const bool is_line = bits == 1 && strcmp(kind, "real") != 0,
               is_meant = d->name == NULL || strcmp(d->name, bare) == 0 || strcmp(d->name, whole) == 0;
    if (is_line && is_meant && (d->found_count == 0 || strcmp(d->id, id) != 0)) {
        snprintf(d->id, sizeof d->id, "%s", id);
        snprintf(d->found, sizeof d->found, "%.119s", whole);
        d->found_count++;
    }
    return skip_to_end(d);
}

static bool take_declarations(dump *d)
{
    while (next_word(d)) {
        bool good = true;
        if (is_word(d, "$enddefinitions"))
            return skip_to_end(d);
        if (is_word(d, "$timescale"))
            good = take_timescale(d);
        else if (is_word(d, "$scope"))
            good = enter_scope(d);
        else if (is_word(d, "$var"))
            good = take_variable(d);
        else if (d->word[0] == '$')
            good = (is_word(d, "$upscope") ? leave_scope(d) : (void)0, skip_to_end(d));
        else
            return fail(d, "this is no value change dump: '%.60s' stands before $enddefinitions", d->word);
        if (!good)
            return false;
    }
    return fail(d, "this is no value change dump: it has no $enddefinitions%s", "");
}

static bool check_found(dump *d)
{
    if (d->scale == 0)
        return fail(d, "this dump has no $timescale%s", "");
    if (d->found_count == 0)
        return fail(d,
                    d->name != NULL ? "there is no variable of one bit called '%.60s'"
                                    : "there is no variable of one bit%s",
                    d->name != NULL ? d->name : "");
    return d->found_count == 1 ||
           fail(d, "there are several such variables, '%.100s' for one: say which", d->found);
}

/* --- changes --- */

static bool put_level(dump *d, bool high)
{
    vcd_levels *to = d->to;
    if (to->count > 0 && to->levels[to->count - 1].high == high)
        return true;
    if (to->count > 0 && to->levels[to->count - 1].at >= d->now) { /* there and back at once */
        to->levels[to->count - 1].high = high;
        if (to->count > 1 && to->levels[to->count - 2].high == high)
            to->count--;
        return true;
    }
    if (to->count == VCD_LEVELS_MOST)
        return fail(d, "the line changes too often: 100000 times at most%s", "");
    to->levels = tl_grow(to->levels, (size_t)to->count, sizeof *to->levels);
    to->levels[to->count++] = (vcd_level){d->now, high};
    return true;
}

static bool take_time(dump *d)
{
    char *end;
    const double time = strtod(d->word + 1, &end) * d->scale;
    if (end == d->word + 1 || *end != '\0' || !(time >= 0 && time < 1e9))
        return fail(d, "this is no time: '%.60s'", d->word);
    if (time < d->now)
        return fail(d, "times rise: '%.60s' is before the one above it", d->word);
    d->now = time;
    return true;
}

static bool take_changes(dump *d)
{
    d->now = 0;
    while (next_word(d)) {
        const char first = d->word[0];
        bool good = true;
        if (first == '#') {
            good = take_time(d);
        } else if (first == '$') {
            if (is_word(d, "$comment"))
                good = skip_to_end(d);
        } else if (strchr("01xXzZ", first) != NULL) {
            if (strcmp(d->word + 1, d->id) == 0 && (first == '0' || first == '1'))
                good = put_level(d, first == '1');
        } else if (strchr("bBrRsS", first) != NULL) {
            const char bit = d->word[1];
            const bool of_bits = first == 'b' || first == 'B';
            if (!next_word(d))
                return fail(d, "this file ends in the middle of a value%s", "");
            if (of_bits && strcmp(d->word, d->id) == 0 && (bit == '0' || bit == '1'))
                good = put_level(d, bit == '1');
        } else {
            return fail(d, "this is no change of a value: '%.60s'", d->word);
        }
        if (!good)
            return false;
    }
    d->to->end = d->now;
    return d->to->count > 0 || put_level(d, false);
}

bool vcd_read(const char *text, size_t size, const char *name, vcd_levels *levels, int *line, char why[200])
{
    dump d = {.at = text, .end = text + size, .line = 1, .name = name, .to = levels, .why = why};
    *levels = (vcd_levels){NULL, 0, 0};
    const bool good = take_declarations(&d) && check_found(&d) && take_changes(&d);
    *line = d.line;
    if (!good)
        vcd_free(levels);
    return good;
}

bool names_vcd(const char *text)
{
    const char *at = strstr(text, ".vcd");
    return at != NULL && (at[4] == '\0' || at[4] == ':');
}

bool vcd_load(const char *text, tl_report *report, vcd_levels *levels)
{
    char path[1000], why[200];
    int line;
    const char *end = strstr(text, ".vcd") + strlen(".vcd");
    *levels = (vcd_levels){NULL, 0, 0};
    snprintf(path, sizeof path, "%.*s", (int)(end - text), text);
    const int file = load_text_file(path, (tl_place){-1, 0, 0}, report);
    if (file < 0)
        return false;
    const tl_report_file *is = &report->files[file];
    if (vcd_read(is->text, is->size, *end == ':' ? end + 1 : NULL, levels, &line, why))
        return true;
    tl_report_add(report, TL_ERROR, "bad-table", (tl_place){file, line, 1}, "%s", why);
    return false;
}

void vcd_free(vcd_levels *levels)
{
    free(levels->levels);
    *levels = (vcd_levels){NULL, 0, 0};
}
