/*
 * Changing a plan's text. Nothing is searched for in the text itself: the file is parsed, the map is found by
 * its place, and the bytes of its keys and values are known from the parser's marks.
 */
#define _GNU_SOURCE
#include "tinyladder/design/edit.h"
#include "base/memory.h"
#include "base/replace_file.h"
#include "reader/yaml_tree.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static const yaml_tree *map_at(const yaml_tree *node, tl_place place)
{
    if (node->kind == YAML_MAP && node->place.line == place.line && node->place.column == place.column)
        return node;
    const int items = node->kind == YAML_MAP ? 2 * node->count : node->count;
    const yaml_tree *found = NULL;
    for (int i = 0; i < items && found == NULL; i++)
        found = map_at(&node->items[i], place);
    return found;
}

static char *text_of(const char *format, const char *a, const char *b, const char *c, const char *d)
{
    char *text = NULL;
    if (asprintf(&text, format, a, b, c, d) < 0)
        text = NULL;
    return text != NULL ? text : tl_copy_text("");
}

/* The key is not there yet. In braces it comes behind the last one; in a block it becomes the first, which
 * needs no knowledge of where a block ends. */
static void add_key(const tl_report_file *file, const yaml_tree *map, const char *key, const char *value,
                    tl_edit *edit)
{
    if (file->text[map->begin] == '{') {
        edit->begin = map->count > 0 ? map->items[2 * map->count - 1].end : map->begin + 1;
        edit->text = text_of("%s%s: %s%s", map->count > 0 ? ", " : "", key, value, "");
    } else {
        size_t line = map->begin;
        while (line > 0 && file->text[line - 1] != '\n')
            line--;
        const size_t stop = map->begin + strcspn(file->text + map->begin, "\n");
        const bool carriage = stop > 0 && file->text[stop - 1] == '\r';
        char *indent = tl_alloc(map->begin - line + 1, 1);
        memset(indent, ' ', map->begin - line);
        edit->begin = map->begin;
        edit->text = text_of("%s: %s%s%s", key, value, carriage ? "\r\n" : "\n", indent);
        free(indent);
    }
    edit->end = edit->begin;
}

bool tl_edit_key(const tl_report *report, tl_place map, const char *key, const char *value, tl_edit *edit)
{
    bool found = false;
    tl_report *scratch = tl_report_new();
    if (map.file >= 0 && map.file < report->file_count) {
        const tl_report_file *file = &report->files[map.file];
        yaml_tree *root = yaml_read_text(file->text, file->size, scratch);
        const yaml_tree *at = root != NULL ? map_at(root, map) : NULL;
        const yaml_tree *old = yaml_get(at, key);
        found = at != NULL && at->begin < at->end;
        *edit = (tl_edit){.file = map.file};
        if (found && old != NULL)
            *edit = (tl_edit){map.file, old->begin, old->end, tl_copy_text(value)};
        else if (found)
            add_key(file, at, key, value, edit);
        yaml_free(root);
    }
    tl_report_free(scratch);
    return found;
}

char *tl_edit_apply(const tl_report *report, const tl_edit *edit, size_t *size)
{
    const tl_report_file *file = &report->files[edit->file];
    const size_t added = strlen(edit->text), rest = file->size - edit->end;
    char *text = tl_alloc(edit->begin + added + rest + 1, 1);
    memcpy(text, file->text, edit->begin);
    memcpy(text + edit->begin, edit->text, added);
    memcpy(text + edit->begin + added, file->text + edit->end, rest);
    *size = edit->begin + added + rest;
    return text;
}

void tl_edit_free(tl_edit *edit)
{
    free(edit->text);
    *edit = (tl_edit){0};
}

bool tl_edit_write(const char *path, const char *text, size_t size)
{
    return replace_file(path, text, size);
}
