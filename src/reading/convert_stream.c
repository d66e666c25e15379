/* SPDX-License-Identifier: MIT */
/*
 * Rows in, rows out. A row without quotes is taken apart where it stands, which is what makes it quick; one
 * with quotes goes through libcsv.
 */
#define _GNU_SOURCE /* memrchr */
#include "reading/convert_stream.h"
#include "printing/printing.h"
#include <csv.h>
#include <errno.h>
#include <string.h>
#include <strings.h>
#include <unistd.h>

enum {
    ROW_LONGEST = 1 << 17,
    IN_ROOM = 2 * ROW_LONGEST,
    OUT_ROOM = 3 * ROW_LONGEST,
    SHOWN_MOST = 10,
    FIELD_LONGEST = 256
};
_Static_assert(OUT_ROOM > ROW_LONGEST + ROW_LONGEST / 2 + CONVERT_ROOM,
               "an empty buffer takes any row with what is added to it");

typedef struct {
    const convert_options *o;
    convert_field *convert;
    void *context;
    FILE *to;
    convert_result result;
    unsigned long line;
    int column;    /* -1 before the first row */
    bool skipping; /* the rest of a line that is too long */
    bool unreadable;
    char out[OUT_ROOM];
    size_t used;
    struct csv_parser parser;
} stream;

/* --- out --- */

static void flush(stream *s)
{
    if (s->used > 0 && fwrite(s->out, 1, s->used, s->to) != s->used && !s->result.failed) {
        fprintf(stderr, "tinyladder: the output could not be written: %s\n", strerror(errno));
        s->result.failed = true;
    }
    s->used = 0;
}

static size_t field_length(const char *at, const char *end, bool quoted)
{
    const char *stop = at;
    while (stop < end && *stop != (quoted ? '"' : ','))
        stop++;
    return (size_t)(stop - at);
}

/* Cells that a spreadsheet would take for formulas get an apostrophe. Answers the row's new length, or 0
 * where there is none in it. */
static size_t guard_formulas(const char *row, size_t length, char *to, size_t room)
{
    const char *end = row + length;
    bool quoted = false, any = false;
    size_t used = 0;
    for (const char *at = row; at < end && used + 2 < room; at++) {
        const bool begins = !quoted && (at == row || at[-1] == ',');
        if (*at == '"')
            quoted = !quoted;
        const char *first = begins && *at == '"' ? at + 1 : at;
        const bool formula =
            begins && first < end && csv_is_formula(first, field_length(first, end, first > at));
        any = any || formula;
        if (formula && first == at)
            to[used++] = '\'';
        to[used++] = *at;
        if (formula && first > at)
            to[used++] = '\'';
    }
    return any ? used : 0;
}

/* Rows of numbers have none of these signs. */
static bool may_have_formulas(const char *row, size_t length)
{
    static const bool sign[256] = {['='] = true, ['+'] = true, ['-'] = true, ['@'] = true, ['\t'] = true};
    bool any = false;
    for (size_t i = 0; i < length; i++)
        any |= sign[(unsigned char)row[i]];
    return any;
}

static void put_row(stream *s, const char *row, size_t length, const char *more, size_t more_length)
{
    static char guarded[ROW_LONGEST + ROW_LONGEST / 2];
    const size_t guarded_length =
        may_have_formulas(row, length) ? guard_formulas(row, length, guarded, sizeof guarded) : 0;
    if (guarded_length > 0) {
        row = guarded;
        length = guarded_length;
    }
    if (s->used + length + more_length + 1 > OUT_ROOM)
        flush(s);
    memcpy(s->out + s->used, row, length);
    memcpy(s->out + s->used + length, more, more_length);
    s->used += length + more_length;
    s->out[s->used++] = '\n';
}

/* --- one field of a row --- */

typedef struct {
    int wanted, at;
    const char *name; /* look for this head instead */
    char text[FIELD_LONGEST];
    size_t length;
    int found;
} field_search;

static void see_field(void *text, size_t length, void *context)
{
    field_search *f = context;
    const bool named =
        f->name != NULL && length == strlen(f->name) && strncasecmp(text, f->name, length) == 0;
    if ((f->name == NULL && f->at == f->wanted) || named) {
        f->length = length < FIELD_LONGEST ? length : FIELD_LONGEST - 1;
        memcpy(f->text, text, f->length);
        f->found = f->at;
    }
    f->at++;
}

/* By libcsv: quotes and all. Answers the column, or -1. */
static int search_row(stream *s, const char *row, size_t length, int wanted, const char *name,
                      field_search *f)
{
    *f = (field_search){.wanted = wanted, .name = name, .found = -1};
    if (csv_parse(&s->parser, row, length, see_field, NULL, f) != length ||
        csv_fini(&s->parser, see_field, NULL, f) != 0)
        return -1;
    return f->found;
}

static bool plain_field(const stream *s, const char *row, size_t length, const char **field, size_t *size)
{
    const char *at = row, *end = row + length;
    for (int i = 0; i < s->column; i++) {
        at = memchr(at, ',', (size_t)(end - at));
        if (at == NULL)
            return false;
        at++;
    }
    const char *stop = memchr(at, ',', (size_t)(end - at));
    *field = at;
    *size = (size_t)((stop != NULL ? stop : end) - at);
    return true;
}

/* --- rows --- */

static void bad_row(stream *s, const char *why)
{
    s->result.bad++;
    if (s->result.bad <= SHOWN_MOST)
        fprintf(stderr, "%s:%lu: error: %s\n", s->o->name, s->line, why);
    else if (s->result.bad == SHOWN_MOST + 1)
        fprintf(stderr, "%s: more bad rows follow\n", s->o->name);
    if (s->o->stop_at_bad)
        s->result.failed = true;
}

/* The first row is a head unless its field is a number. */
static bool take_head(stream *s, const char *row, size_t length)
{
    char text[CONVERT_ROOM];
    const char *why = NULL;
    field_search f;
    if (s->o->column != NULL || search_row(s, row, length, 0, "count", &f) >= 0) {
        s->column = search_row(s, row, length, 0, s->o->column != NULL ? s->o->column : "count", &f);
        if (s->column < 0) {
            fprintf(stderr, "%s:%lu: error: there is no column '%.60s'\n", s->o->name, s->line, s->o->column);
            s->result.failed = true;
            return true;
        }
        put_row(s, row, length, s->o->head, strlen(s->o->head));
        return true;
    }
    s->column = 0;
    if (search_row(s, row, length, 0, NULL, &f) >= 0 &&
        s->convert(s->context, f.text, f.length, text, &why) >= 0)
        return false;
    if (f.length > 0 && strchr("0123456789-+.", f.text[0]) != NULL)
        return false; /* a number, though a bad one */
    put_row(s, row, length, s->o->head, strlen(s->o->head));
    return true;
}

static const char too_long[] = "this line is longer than 131072 bytes";

static bool quotes_end(const char *row, size_t length)
{
    size_t quotes = 0;
    for (size_t i = 0; i < length; i++)
        quotes += row[i] == '"';
    return quotes % 2 == 0;
}

static void take_row(stream *s, const char *row, size_t length)
{
    char text[CONVERT_ROOM];
    const char *field = NULL, *why = NULL;
    size_t size = 0;
    field_search f;
    s->line++;
    if (length > 0 && row[length - 1] == '\r')
        length--;
    if (length > ROW_LONGEST) {
        bad_row(s, too_long);
        return;
    }
    if (length == 0)
        return;
    if (memchr(row, '"', length) != NULL && !quotes_end(row, length)) {
        bad_row(s, "quotes that do not end");
        return;
    }
    if (s->column < 0 && take_head(s, row, length))
        return;
    bool there;
    if (memchr(row, '"', length) == NULL) {
        there = plain_field(s, row, length, &field, &size);
    } else {
        there = search_row(s, row, length, s->column, NULL, &f) >= 0;
        field = f.text;
        size = f.length;
    }
    const int more = there ? s->convert(s->context, field, size, text, &why) : -1;
    if (more < 0) {
        bad_row(s, there ? why : "this row has no such column");
        return;
    }
    s->result.rows++;
    put_row(s, row, length, text, (size_t)more);
}

/* Where a row ends: at a line feed that is in no quotes. NULL: not here. */
static const char *end_of_row(const char *at, const char *end)
{
    const char *stop = memchr(at, '\n', (size_t)(end - at));
    bool quoted = false;
    while (stop != NULL) {
        for (const char *mark = at; (mark = memchr(mark, '"', (size_t)(stop - mark))) != NULL; mark++)
            quoted = !quoted;
        if (!quoted)
            return stop;
        at = stop + 1;
        stop = memchr(at, '\n', (size_t)(end - at));
    }
    return NULL;
}

/* Every whole line of what there is; answers how many bytes are left, moved to the front. Of a line that does
 * not end within the longest row only its end is looked for: it is one bad row, and what follows it is not
 * lost. */
static size_t take_rows(stream *s, char *in, size_t size)
{
    const char *at = in, *end = in + size, *stop;
    while (!s->result.failed &&
           (stop = s->skipping ? memchr(at, '\n', (size_t)(end - at)) : end_of_row(at, end)) != NULL) {
        if (!s->skipping)
            take_row(s, at, (size_t)(stop - at));
        s->skipping = false;
        at = stop + 1;
    }
    size_t left = (size_t)(end - at);
    if (s->skipping) {
        left = 0;
    } else if (left > ROW_LONGEST + 1) { /* one more: a carriage return is no part of the row */
        s->line++;
        bad_row(s, too_long);
        s->skipping = true;
        left = 0;
    }
    memmove(in, at, left);
    return left;
}

/* What there is, without waiting for more; 0 at the end. */
static size_t read_some(stream *s, FILE *from, char *to, size_t room)
{
    ssize_t got;
    while ((got = read(fileno(from), to, room)) < 0 && errno == EINTR)
        continue;
    s->unreadable = got < 0;
    return got > 0 ? (size_t)got : 0;
}

convert_result convert_stream(FILE *from, FILE *to, const convert_options *o, convert_field *convert,
                              void *context)
{
    static char in[IN_ROOM];
    static stream s;
    size_t kept = 0, got;
    s = (stream){.o = o, .convert = convert, .context = context, .to = to, .column = -1};
    if (csv_init(&s.parser, CSV_STRICT) != 0) {
        s.result.failed = true;
        return s.result;
    }
    while (!s.result.failed && (got = read_some(&s, from, in + kept, IN_ROOM - kept)) > 0) {
        const bool all = got < IN_ROOM - kept; /* all that is there: a reader may be waiting for it */
        kept = take_rows(&s, in, kept + got);
        if (all) {
            flush(&s);
            fflush(to);
        }
    }
    if (kept > 0 && !s.result.failed && !s.skipping)
        take_row(&s, in, kept);
    if (s.unreadable && !s.result.failed) {
        fprintf(stderr, "%s: error: cannot be read: %s\n", o->name, strerror(errno));
        s.result.failed = true;
    }
    flush(&s);
    csv_free(&s.parser);
    return s.result;
}
