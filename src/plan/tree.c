#include "tree.h"
#include "../net/memory.h"
#include <errno.h>
#include <libfyaml.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>

enum { LINE_LONGEST = 4000, LINES_MOST = 20000 };

/* --- the file as one text --- */

static int add_file(tl_report *report, const char *path, char *text, size_t size)
{
    report->files = tl_grow(report->files, (size_t)report->file_count, sizeof *report->files);
    report->files[report->file_count] = (tl_report_file){tl_copy_text(path), text, size};
    return report->file_count++;
}

/* Where text stops being UTF-8 without control characters; size where it never does. */
static size_t first_bad_byte(const unsigned char *text, size_t size)
{
    size_t at = 0;
    while (at < size) {
        const unsigned char lead = text[at];
        if (lead < 0x80) {
            if ((lead < 0x20 && lead != '\n' && lead != '\r' && lead != '\t') || lead == 0x7f)
                return at;
            at++;
            continue;
        }
        const size_t length = lead >= 0xf0 && lead <= 0xf4 ? 4 : lead >= 0xe0 ? 3 : 2;
        if (lead < 0xc2 || lead > 0xf4 || at + length > size)
            return at;
        for (size_t i = 1; i < length; i++) {
            if ((text[at + i] & 0xc0) != 0x80)
                return at;
        }
        at += length;
    }
    return size;
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
        why = "it is a folder, a file is wanted";
    else if (!S_ISREG(facts.st_mode))
        why = "it is no regular file";
    else if (facts.st_size > TL_FILE_LARGEST)
        why = "it is larger than 1 MB, no plan is";
    else if (facts.st_size == 0)
        why = "it is empty";
    FILE *stream = why == NULL ? fopen(path, "rb") : NULL;
    if (stream == NULL)
        tl_report_add(report, TL_ERROR, "unreadable-file", asked_from, "cannot read '%s': %s", path,
                      why != NULL ? why : strerror(errno));
    return stream;
}

/*
 * What would cost the parser dearly is refused before it sees a byte: very long lines, directives (a line of
 * a million of their signs takes it minutes), hundreds of thousands of blank lines (likewise) and brackets
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
        if (depth > 2 * TL_TREE_DEEPEST)
            return "nested too deeply";
        if (text[i] == '\n') {
            line_start = i + 1;
            if (++lines > LINES_MOST)
                return "more than 20000 lines: no plan is so long";
        }
    }
    return NULL;
}

int load_text_file(const char *path, tl_place asked_from, tl_report *report)
{
    FILE *stream = open_file(path, asked_from, report);
    if (stream == NULL)
        return -1;
    char *text = tl_alloc(TL_FILE_LARGEST + 2, 1);
    const size_t size = fread(text, 1, TL_FILE_LARGEST + 1, stream);
    const bool broken = ferror(stream) != 0 || size > TL_FILE_LARGEST;
    fclose(stream);
    if (broken) {
        tl_report_add(report, TL_ERROR, "unreadable-file", asked_from, "cannot read '%s' whole", path);
        free(text);
        return -1;
    }
    const int file = add_file(report, path, text, size);
    const size_t bad = first_bad_byte((const unsigned char *)text, size);
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

/* Anchors and tags hang on the event that they decorate. */
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
    refuse(b, place, error != NULL && error->msg != NULL ? error->msg : "this is not YAML");
}

static bool build_node(builder *b, struct fy_event *event, int depth, tree *node);

/* Items up to the closing event, which it swallows. */
static void build_items(builder *b, enum fy_event_type close, int depth, tree *node)
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
            node->items[count] = (tree){0};
            build_node(b, event, depth + 1, &node->items[count++]);
        }
        fy_parser_event_free(b->parser, event);
        if (closed)
            break;
    }
    node->count = node->kind == TREE_MAP ? count / 2 : count;
    /* The parser places a pair inside a list at its colon: its key is the better place. */
    if (node->kind == TREE_MAP && node->count > 0 && node->place.line == node->items[0].place.line &&
        node->place.column > node->items[0].place.column)
        node->place = node->items[0].place;
    if (b->failed) /* a map cut off after a key: free what there is as a list */
        node->kind = TREE_LIST, node->count = count;
}

static bool build_node(builder *b, struct fy_event *event, int depth, tree *node)
{
    node->place = place_of_event(b, event);
    if (decorated(event))
        refuse(b, node->place, "anchors and tags are not part of the plan language");
    else if (event->type == FYET_ALIAS)
        refuse(b, node->place,
               "aliases are not part of the plan language: write the value again, or use a range of names");
    else if (depth > TL_TREE_DEEPEST)
        refuse(b, node->place, "nested too deeply");
    if (b->failed)
        return false;
    switch (event->type) {
    case FYET_SCALAR: {
        size_t length = 0;
        const char *text = fy_token_get_text(event->scalar.value, &length);
        node->kind = TREE_TEXT;
        node->text = tl_alloc(length + 1, 1);
        if (text != NULL)
            memcpy(node->text, text, length);
        return true;
    }
    case FYET_SEQUENCE_START:
        node->kind = TREE_LIST;
        build_items(b, FYET_SEQUENCE_END, depth, node);
        return true;
    case FYET_MAPPING_START:
        node->kind = TREE_MAP;
        build_items(b, FYET_MAPPING_END, depth, node);
        return true;
    default:
        refuse(b, node->place, "this is not understood here");
        return false;
    }
}

/* One document, and nothing after it. */
static void build_document(builder *b, tree *root)
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

tree *tree_read_file(const char *path, tl_place asked_from, tl_report *report)
{
    const int file = load_text_file(path, asked_from, report);
    if (file < 0)
        return NULL;

    struct fy_diag_cfg quiet;
    fy_diag_cfg_default(&quiet);
    quiet.fp = NULL;
    struct fy_diag *diag = fy_diag_create(&quiet);
    fy_diag_set_collect_errors(diag, true);
    const struct fy_parse_cfg config = {.flags = FYPCF_QUIET | FYPCF_DISABLE_MMAP_OPT, .diag = diag};
    builder b = {fy_parser_create(&config), report, file, false, {file, 1, 1}};
    tree *root = tl_alloc(1, sizeof *root);
    if (b.parser == NULL ||
        fy_parser_set_string(b.parser, report->files[file].text, report->files[file].size) != 0)
        refuse(&b, (tl_place){file, 1, 1}, "this is not YAML");
    else
        build_document(&b, root);
    if (b.parser != NULL && fy_parser_get_stream_error(b.parser)) {
        b.failed = tl_report_at_least(report, TL_ERROR) > 0 && b.failed;
        report_syntax_error(&b, diag);
    }
    if (!b.failed && root->place.line == 0)
        refuse(&b, (tl_place){file, 1, 1}, "there is nothing in this file");
    fy_parser_destroy(b.parser);
    fy_diag_destroy(diag);
    if (!b.failed)
        return root;
    tree_free(root);
    return NULL;
}

static void free_inside(tree *node)
{
    const int items = node->kind == TREE_MAP ? 2 * node->count : node->count;
    for (int i = 0; i < items; i++)
        free_inside(&node->items[i]);
    free(node->items);
    free(node->text);
}

void tree_free(tree *root)
{
    if (root == NULL)
        return;
    free_inside(root);
    free(root);
}

const tree *tree_get(const tree *map, const char *key)
{
    if (map == NULL || map->kind != TREE_MAP)
        return NULL;
    for (int i = 0; i < map->count; i++) {
        const tree *name = &map->items[2 * i];
        if (name->kind == TREE_TEXT && strcmp(name->text, key) == 0)
            return &map->items[2 * i + 1];
    }
    return NULL;
}
