/* SPDX-License-Identifier: MIT */
/*
 * Changing a plan's text. Nothing is searched for in the text itself: the file is parsed, the map is found by
 * its place, and the bytes of its keys and values are known from the parser's marks.
 */
#define _GNU_SOURCE
#include "tinyladder/design/edit.h"
#include "base/memory.h"
#include "base/replace_file.h"
#include "base/report_struct.h"
#include "base/yaml_tree.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static bool stands_at(const yaml_tree *node, tl_place place)
{
    return node->place.line == place.line && node->place.column == place.column;
}

/* The first item that may hold what stands at a place: items stand in the order of the file. */
static int item_for(const yaml_tree *node, tl_place place)
{
    int i = 0;
    for (; i + 1 < yaml_items(node); i++) {
        const tl_place next = node->items[i + 1].place;
        if (next.line > place.line || (next.line == place.line && next.column >= place.column))
            break;
    }
    return i;
}

/* The map that begins at a place: of a block that is where its first key stands. */
static const yaml_tree *map_at(const yaml_tree *node, tl_place place)
{
    if (node->kind == YAML_MAP && stands_at(node, place))
        return node;
    const yaml_tree *found = NULL;
    for (int i = item_for(node, place); i < yaml_items(node) && found == NULL; i++)
        found = map_at(&node->items[i], place);
    return found;
}

/* The map that is the value of the key at a place. */
static const yaml_tree *map_of_key(const yaml_tree *node, tl_place place)
{
    const yaml_tree *found = NULL;
    for (int i = 0; node->kind == YAML_MAP && i < node->count && found == NULL; i++) {
        const yaml_tree *key = &node->items[2 * i], *value = &node->items[2 * i + 1];
        found = stands_at(key, place) && value->kind == YAML_MAP ? value : NULL;
    }
    for (int i = item_for(node, place); i < yaml_items(node) && found == NULL; i++)
        found = map_of_key(&node->items[i], place);
    return found;
}

static const yaml_tree *text_at(const yaml_tree *node, tl_place place)
{
    if (node->kind == YAML_TEXT && stands_at(node, place))
        return node;
    const yaml_tree *found = NULL;
    for (int i = item_for(node, place); i < yaml_items(node) && found == NULL; i++)
        found = text_at(&node->items[i], place);
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

/* One more item for a list: behind the last in brackets, or on a line of its own like the others. */
static void add_item(const tl_report_file *file, const yaml_tree *list, const char *key, const char *value,
                     tl_edit *edit)
{
    if (list->count == 0 || file->text[list->begin] == '[') {
        edit->begin = list->count > 0 ? list->items[list->count - 1].end : list->begin + 1;
        edit->text = text_of("%s%s: %s%s", list->count > 0 ? ", " : "", key, value, "");
    } else {
        size_t line = list->begin;
        while (line > 0 && file->text[line - 1] != '\n')
            line--;
        const size_t spaces = strspn(file->text + line, " ");
        char *indent = tl_alloc(spaces + 1, 1);
        memset(indent, ' ', spaces);
        edit->begin = list->items[list->count - 1].end;
        edit->text = text_of("\n%s- %s: %s%s", indent, key, value, "");
        free(indent);
    }
    edit->end = edit->begin;
}

/* A file as it was read. */
static const tl_report_file *file_of(const tl_report *report, tl_place place)
{
    return place.file >= 0 && place.file < report->file_count && report->files[place.file].root != NULL
               ? &report->files[place.file]
               : NULL;
}

/* --- each in a file that could be read --- */

static bool edit_key(const tl_report_file *file, tl_place map, bool of_key, const char *key,
                     const char *value, tl_edit *edit)
{
    const yaml_tree *at = (of_key ? map_of_key : map_at)(file->root, map);
    const yaml_tree *old = yaml_get(at, key);
    const bool found = at != NULL && at->begin < at->end;
    *edit = (tl_edit){.file = map.file};
    if (found && old != NULL)
        *edit = (tl_edit){map.file, old->begin, old->end, tl_copy_text(value), NULL};
    else if (found)
        add_key(file, at, key, value, edit);
    return found;
}

static bool edit_value(const tl_report_file *file, tl_place place, const char *text, tl_edit *edit)
{
    const yaml_tree *at = text_at(file->root, place);
    const bool found = at != NULL && at->begin < at->end;
    *edit = (tl_edit){.file = place.file};
    if (found)
        *edit = (tl_edit){place.file, at->begin, at->end, tl_copy_text(text), NULL};
    return found;
}

static bool add_stage(const tl_report_file *file, const tl_change *change, tl_edit *edit)
{
    const yaml_tree *signal = map_of_key(file->root, change->place);
    const yaml_tree *stages = yaml_get(signal, "stages");
    const bool found = signal != NULL && (stages == NULL || stages->kind == YAML_LIST);
    *edit = (tl_edit){.file = change->place.file};
    if (found && stages != NULL) {
        add_item(file, stages, change->key, change->text, edit);
    } else if (found) {
        char *list = text_of("[%s: %s]%s%s", change->key, change->text, "", "");
        add_key(file, signal, "stages", list, edit);
        free(list);
    }
    return found;
}

static bool edit_of(const tl_report_file *file, const tl_change *change, tl_edit *edit)
{
    switch (change->kind) {
    case TL_CHANGE_VALUE:
        return edit_value(file, change->place, change->text, edit);
    case TL_CHANGE_KEY:
    case TL_CHANGE_KEY_OF:
        return edit_key(file, change->place, change->kind == TL_CHANGE_KEY_OF, change->key, change->text,
                        edit);
    case TL_CHANGE_STAGE:
        return add_stage(file, change, edit);
    }
    return false;
}

/* --- edits --- */

bool tl_edit_key(const tl_report *report, tl_place map, const char *key, const char *value, tl_edit *edit)
{
    const tl_report_file *file = file_of(report, map);
    return file != NULL && edit_key(file, map, false, key, value, edit);
}

bool tl_edit_value(const tl_report *report, tl_place place, const char *text, tl_edit *edit)
{
    const tl_report_file *file = file_of(report, place);
    return file != NULL && edit_value(file, place, text, edit);
}

bool tl_edit_of_change(const tl_report *report, const tl_change *change, tl_edit *edit)
{
    const tl_report_file *file = file_of(report, change->place);
    return change->text != NULL && file != NULL && edit_of(file, change, edit);
}

void tl_edits_of_findings(const tl_report *report, tl_edit *edits)
{
    for (int i = 0; i < report->count; i++) {
        if (!tl_edit_of_change(report, &report->findings[i].change, &edits[i]))
            edits[i] = (tl_edit){0};
    }
}

char *tl_edit_apply(const tl_report *report, const tl_edit *edits, int count, size_t *size)
{
    const tl_report_file *file = &report->files[edits[0].file];
    size_t room = file->size + 1, from = 0, used = 0;
    for (int i = 0; i < count; i++)
        room += strlen(edits[i].text);
    char *text = tl_alloc(room, 1);
    int *order = tl_alloc((size_t)count, sizeof *order);
    for (int i = 0; i < count; i++) { /* in the order of the file */
        int at = i;
        for (; at > 0 && edits[order[at - 1]].begin > edits[i].begin; at--)
            order[at] = order[at - 1];
        order[at] = i;
    }
    for (int i = 0; i < count; i++) {
        const tl_edit *next = &edits[order[i]];
        memcpy(text + used, file->text + from, next->begin - from);
        used += next->begin - from;
        memcpy(text + used, next->text, strlen(next->text));
        used += strlen(next->text);
        from = next->end;
    }
    free(order);
    memcpy(text + used, file->text + from, file->size - from);
    *size = used + file->size - from;
    return text;
}

void tl_edit_free(tl_edit *edit)
{
    free(edit->text);
    free(edit->said);
    *edit = (tl_edit){0};
}

bool tl_edit_write(const char *path, const char *text, size_t size)
{
    return replace_file(path, text, size);
}
