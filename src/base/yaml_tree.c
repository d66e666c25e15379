/* SPDX-License-Identifier: MIT */
/*
 * A file as a tree of texts that know their place, from libfyaml's events. What would cost the parser dearly
 * is refused before it sees it; bytes of every value are kept, so that edits can be exact.
 */
#define _GNU_SOURCE
#include "base/yaml_tree.h"
#include "base/memory.h"
#include "base/plain_text.h"
#include "base/report_struct.h"
#include <errno.h>
#include <libfyaml.h>
#include <limits.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>

enum { LINE_LONGEST = 4000, LINES_MOST = 20000 };

/* --- the file as one text --- */

static int add_file(tl_report *report, const char *path, char *text, size_t size)
{
    report->files = tl_grow(report->files, (size_t)report->file_count, sizeof *report->files);
    report->files[report->file_count] = (tl_report_file){tl_copy_text(path), text, size, false, NULL};
    return report->file_count++;
}

static tl_place place_of_byte(int file, const char *text, size_t at)
{
    tl_place place = {file, 1, 1};
    for (size_t i = 0; i < at; i++) {
        if (text[i] == '\n') {
            place.line++;
            place.column = 1;
        } else if ((text[i] & 0xc0) != 0x80) {
            place.column++;
        }
    }
    return place;
}

/* Opens a regular file that is not too large; says why not. */
static FILE *open_file(const char *path, tl_place asked_from, tl_report *report)
{
    struct stat facts;
    const char *why = NULL;
    if (stat(path, &facts) != 0)
        why = strerror(errno);
    else if (S_ISDIR(facts.st_mode))
        why = "expected a file, got a folder";
    else if (!S_ISREG(facts.st_mode))
        why = "it is no regular file";
    else if (facts.st_size > TL_FILE_LARGEST)
        why = "it is larger than 1 MB, no plan is";
    else if (facts.st_size == 0)
        why = "it is empty";
    FILE *stream = why == NULL ? fopen(path, "rb") : NULL;
    if (why == NULL && stream == NULL && errno == ENOMEM)
        tl_memory_none();
    if (stream == NULL)
        tl_report_add(report, TL_ERROR, "unreadable-file", asked_from, "cannot read '%s': %s", path,
                      why != NULL ? why : strerror(errno));
    return stream;
}

/*
 * What would cost the parser dearly is refused before it sees a byte: very long lines, directives (a line of
 * a million of their signs takes it minutes), hundreds of thousands of blank lines (the same) and brackets
 * within brackets (half a gigabyte).
 */
static const char *costly(const char *text, size_t size, size_t *where)
{
    size_t line_start = 0, depth = 0, lines = 0;
    for (size_t i = 0; i < size; i++) {
        *where = i;
        if (i - line_start > LINE_LONGEST)
            return "a line longer than 4000 bytes: no plan needs one";
        if (text[i] == '%' && i == line_start)
            return "a line must not begin with '%'";
        if (text[i] == '#' && (i == line_start || text[i - 1] == ' ' || text[i - 1] == '\t')) {
            const char *end = memchr(text + i, '\n', size - i);
            i = end != NULL ? (size_t)(end - text) : size - 1;
        }
        if (text[i] == '[' || text[i] == '{')
            depth++;
        else if ((text[i] == ']' || text[i] == '}') && depth > 0)
            depth--;
        if (depth > 2 * TL_YAML_DEEPEST)
            return "nested too deeply";
        if (text[i] == '\n') {
            line_start = i + 1;
            if (++lines > LINES_MOST)
                return "more than 20000 lines: no plan is so long";
        }
    }
    return NULL;
}

/* The file's text, or what the report has been told to take instead. */
static char *take_text(const char *path, tl_place asked_from, tl_report *report, size_t *size)
{
    for (int i = 0; i < report->instead_count; i++) {
        const tl_report_file *file = &report->instead[i];
        if (strcmp(file->path, path) != 0)
            continue;
        *size = file->size;
        return memcpy(tl_alloc(file->size + 1, 1), file->text, *size);
    }
    FILE *stream = open_file(path, asked_from, report);
    if (stream == NULL)
        return NULL;
    char *text = tl_alloc(TL_FILE_LARGEST + 2, 1);
    *size = fread(text, 1, TL_FILE_LARGEST + 1, stream);
    if (ferror(stream) != 0 && errno == ENOMEM)
        tl_memory_none();
    const bool broken = ferror(stream) != 0 || *size > TL_FILE_LARGEST;
    fclose(stream);
    if (!broken)
        return text;
    tl_report_add(report, TL_ERROR, "unreadable-file", asked_from, "cannot read '%s' whole", path);
    free(text);
    return NULL;
}

/* Whether it says what it is, as every file of ours does: `tinyladder:` before anything else but comments. */
static bool says_what_it_is(const char *text)
{
    for (;;) {
        text += strspn(text, " \t\r\n\"'");
        if (*text != '#')
            return strncmp(text, "tinyladder", 10) == 0;
        text += strcspn(text, "\n");
    }
}

/* Into the report's files, if it can be a file of ours. `named`: by another file, not by the user. */
static int take_file(const char *path, char *text, size_t size, bool named, tl_report *report)
{
    const int file = add_file(report, path, text, size);
    report->files[file].hidden = named && !says_what_it_is(text);
    const size_t bad = plain_text_length(text, size, "\n\r\t");
    if (bad < size) {
        tl_place place = place_of_byte(file, text, bad);
        tl_report_add(report, TL_ERROR, "syntax", place,
                      "byte 0x%02x is no text: is this a plan file at all?",
                      (unsigned)(unsigned char)text[bad]);
        return -1;
    }
    size_t where = 0;
    const char *why = costly(text, size, &where);
    if (why != NULL) {
        tl_report_add(report, TL_ERROR, "syntax", place_of_byte(file, text, where), "%s", why);
        return -1;
    }
    return file;
}

int load_text_file(const char *path, tl_place asked_from, tl_report *report)
{
    size_t size = 0;
    char *text = take_text(path, asked_from, report, &size);
    return text != NULL ? take_file(path, text, size, asked_from.file >= 0, report) : -1;
}

typedef enum { BELOW, NOT_BELOW, PATH_UNKNOWN } where_it_lies;

/* Real paths, so that neither dots nor links lead out. One that is not there is let through: opening it
 * tells. */
static where_it_lies where_lies(const char *path, const char *file)
{
    char folder[PATH_MAX], target[PATH_MAX];
    const char *slash = strrchr(file, '/');
    char *named = slash != NULL ? strndup(file, (size_t)(slash - file) + 1) : tl_copy_text(".");
    const bool known = named != NULL && realpath(named, folder) != NULL;
    const int why = errno;
    free(named);
    errno = why;
    if (!known)
        return PATH_UNKNOWN;
    if (realpath(path, target) == NULL)
        return errno == ENOENT ? BELOW : PATH_UNKNOWN;
    const size_t length = strlen(folder);
    const bool is_below =
        strncmp(folder, target, length) == 0 && (target[length] == '/' || folder[1] == '\0');
    return is_below ? BELOW : NOT_BELOW;
}

bool may_join(const char *path, tl_place asked_from, const char *file, tl_report *report)
{
    const where_it_lies where = report->outside ? BELOW : where_lies(path, file);
    if (where == BELOW)
        return true;
    if (where == PATH_UNKNOWN && errno == ENOMEM)
        tl_memory_none();
    if (where == PATH_UNKNOWN)
        tl_report_add(report, TL_ERROR, "unreadable-file", asked_from, "cannot read '%s': %s", path,
                      strerror(errno));
    else
        tl_report_add(report, TL_ERROR, "outside", asked_from,
                      "'%s' lies outside the folder of this file: nothing of it is read", path);
    return false;
}

/* --- events to tree --- */

typedef struct {
    struct fy_parser *parser;
    tl_report *report;
    int file;
    bool failed;
    tl_place last; /* of the event before: where an empty value stands */
} builder;

static tl_place place_of_event(builder *b, struct fy_event *event)
{
    const struct fy_mark *mark = fy_event_start_mark(event);
    if (mark != NULL)
        b->last = (tl_place){b->file, mark->line + 1, mark->column + 1};
    return b->last;
}

static void refuse(builder *b, tl_place place, const char *text)
{
    if (!b->failed)
        tl_report_add(b->report, TL_ERROR, "syntax", place, "%s", text);
    b->failed = true;
}

/* The bytes of a text with its quotes: the parser's marks lie inside them. */
static void mark_text(builder *b, struct fy_event *event, yaml_tree *node)
{
    const struct fy_mark *start = fy_event_start_mark(event), *end = fy_event_end_mark(event);
    const char *text = b->report->files[b->file].text;
    if (start == NULL || end == NULL || end->input_pos < start->input_pos)
        return;
    node->begin = start->input_pos;
    node->end = end->input_pos;
    const char quote = node->begin > 0 ? text[node->begin - 1] : '\0';
    if ((quote == '\'' || quote == '"') && text[node->end] == quote) {
        node->begin--;
        node->end++;
    }
}

static bool holds_text(const builder *b, const yaml_tree *node)
{
    const char first = b->report->files[b->file].text[node->begin];
    return node->end > node->begin + (first == '\'' || first == '"' ? 2 : 0);
}

/* In braces or brackets up to the closing one; a block ends with its last item. */
static void mark_end(builder *b, struct fy_event *closing, yaml_tree *node, int items)
{
    const struct fy_mark *end = fy_event_end_mark(closing);
    const char open = b->report->files[b->file].text[node->begin];
    if ((open == '{' || open == '[') && end != NULL)
        node->end = end->input_pos;
    else if (items > 0)
        node->end = node->items[items - 1].end;
}

/* Anchors and tags are connected to the event that they decorate. */
static bool decorated(const struct fy_event *event)
{
    switch (event->type) {
    case FYET_SCALAR:
        return event->scalar.anchor != NULL || event->scalar.tag != NULL;
    case FYET_SEQUENCE_START:
        return event->sequence_start.anchor != NULL || event->sequence_start.tag != NULL;
    case FYET_MAPPING_START:
        return event->mapping_start.anchor != NULL || event->mapping_start.tag != NULL;
    default:
        return false;
    }
}

static void report_syntax_error(builder *b, struct fy_diag *diag)
{
    void *iterator = NULL;
    const struct fy_diag_error *error = fy_diag_errors_iterate(diag, &iterator);
    tl_place place = {b->file, 1, 1};
    if (error != NULL && error->line >= 0) {
        place.line = error->line;
        place.column = error->column;
    }
    if (error == NULL || error->msg == NULL)
        tl_memory_none(); /* the parser says why it stops, unless it has no room for that */
    refuse(b, place, error->msg);
}

static bool build_node(builder *b, struct fy_event *event, int depth, yaml_tree *node);

/* Items up to the closing event, which it swallows. */
static void build_items(builder *b, enum fy_event_type close, int depth, yaml_tree *node)
{
    int count = 0;
    while (!b->failed) {
        struct fy_event *event = fy_parser_parse(b->parser);
        if (event == NULL) {
            b->failed = true;
            break;
        }
        const bool closed = event->type == close;
        if (!closed) {
            node->items = tl_grow(node->items, (size_t)count, sizeof *node->items);
            node->items[count] = (yaml_tree){0};
            build_node(b, event, depth + 1, &node->items[count++]);
        } else {
            mark_end(b, event, node, count);
        }
        fy_parser_event_free(b->parser, event);
        if (closed)
            break;
    }
    node->count = node->kind == YAML_MAP ? count / 2 : count;
    /* The parser places a pair inside a list at its colon: its key is the better place. */
    if (node->kind == YAML_MAP && node->count > 0 && node->place.line == node->items[0].place.line &&
        node->place.column > node->items[0].place.column) {
        node->place = node->items[0].place;
        node->begin = node->items[0].begin;
    }
    if (b->failed) /* a map cut off after a key: free what there is as a list */
        node->kind = YAML_LIST, node->count = count;
}

static bool build_node(builder *b, struct fy_event *event, int depth, yaml_tree *node)
{
    node->place = place_of_event(b, event);
    if (fy_event_start_mark(event) != NULL)
        node->begin = fy_event_start_mark(event)->input_pos;
    if (decorated(event))
        refuse(b, node->place, "anchors and tags are not part of the plan language");
    else if (event->type == FYET_ALIAS)
        refuse(b, node->place,
               "aliases are not part of the plan language: write the value again, or use a range of names");
    else if (depth > TL_YAML_DEEPEST)
        refuse(b, node->place, "nested too deeply");
    if (b->failed)
        return false;
    switch (event->type) {
    case FYET_SCALAR: {
        size_t length = 0;
        const char *text = fy_token_get_text(event->scalar.value, &length);
        node->kind = YAML_TEXT;
        node->text = tl_alloc(length + 1, 1);
        mark_text(b, event, node);
        if (text != NULL)
            memcpy(node->text, text, length);
        if (length == 0 && holds_text(b, node))
            tl_memory_none(); /* there is text in the file, and the parser had no room for it */
        if (plain_text_length(node->text, length, NULL) < length)
            refuse(b, node->place, "this text holds a control character or a line break");
        return !b->failed;
    }
    case FYET_SEQUENCE_START:
        node->kind = YAML_LIST;
        build_items(b, FYET_SEQUENCE_END, depth, node);
        return true;
    case FYET_MAPPING_START:
        node->kind = YAML_MAP;
        build_items(b, FYET_MAPPING_END, depth, node);
        return true;
    default:
        refuse(b, node->place, "this is not understood here");
        return false;
    }
}

/* One document, and nothing after it. */
static void build_document(builder *b, yaml_tree *root)
{
    int documents = 0;
    struct fy_event *event;
    while (!b->failed && (event = fy_parser_parse(b->parser)) != NULL) {
        if (event->type == FYET_DOCUMENT_START && ++documents > 1)
            refuse(b, place_of_event(b, event),
                   "one file holds one document: put the second into a file of its own");
        else if (event->type == FYET_SCALAR || event->type == FYET_MAPPING_START ||
                 event->type == FYET_SEQUENCE_START || event->type == FYET_ALIAS)
            build_node(b, event, 0, root);
        fy_parser_event_free(b->parser, event);
    }
}

static const yaml_tree *parse(int file, tl_report *report)
{
    struct fy_diag_cfg quiet;
    fy_diag_cfg_default(&quiet);
    quiet.fp = NULL;
    struct fy_diag *diag = fy_diag_create(&quiet);
    if (diag == NULL)
        tl_memory_none();
    fy_diag_set_collect_errors(diag, true);
    const struct fy_parse_cfg config = {.flags = FYPCF_QUIET | FYPCF_DISABLE_MMAP_OPT, .diag = diag};
    builder b = {fy_parser_create(&config), report, file, false, {file, 1, 1}};
    yaml_tree *root = tl_alloc(1, sizeof *root);
    report->files[file].root = root;
    if (b.parser == NULL ||
        fy_parser_set_string(b.parser, report->files[file].text, report->files[file].size) != 0)
        tl_memory_none();
    build_document(&b, root);
    if (fy_parser_get_stream_error(b.parser)) {
        b.failed = tl_report_at_least(report, TL_ERROR) > 0 && b.failed;
        report_syntax_error(&b, diag);
    }
    if (!b.failed && root->place.line == 0)
        refuse(&b, (tl_place){file, 1, 1}, "there is nothing in this file");
    fy_parser_destroy(b.parser);
    fy_diag_destroy(diag);
    if (!b.failed)
        return root;
    yaml_free(root);
    report->files[file].root = NULL;
    return NULL;
}

const yaml_tree *yaml_read_file(const char *path, tl_place asked_from, tl_report *report)
{
    const bool named = asked_from.file >= 0; /* by another file: many multiplexers are of one */
    for (int i = 0; i < report->file_count && named; i++) {
        if (report->files[i].root != NULL && strcmp(report->files[i].path, path) == 0)
            return report->files[i].root;
    }
    const int file = load_text_file(path, asked_from, report);
    return file >= 0 ? parse(file, report) : NULL;
}
