/* SPDX-License-Identifier: MIT */
/*
 * A whole file compared with the key tables. What a reader has told already is not told again; what it never
 * came to, because something before it was wrong, or because that shape was not asked for, is reported here.
 */
#include "base/memory.h"
#include "base/report_struct.h"
#include "model/take.h"
#include <stdio.h>
#include <string.h>

static void check_section(reader *r, const yaml_tree *node, const key_section *section);

/* Its example; of keys with values the first of them. */
static void example_of(const known_key *key, char *text, size_t size)
{
    const known_key *first = key->section != NULL ? &key->section->keys[0] : NULL;
    const char *value = first == NULL ? NULL : first->example != NULL ? first->example : first->words;
    if (key->example != NULL)
        snprintf(text, size, "%.80s", key->example);
    else if (value != NULL)
        snprintf(text, size, "{%.40s: %.*s}", first->name, (int)strcspn(value, "|"), value);
    else
        snprintf(text, size, "..");
}

static void want_shape(reader *r, const yaml_tree *node, const known_key *key, const char *shape)
{
    char example[120];
    example_of(key, example, sizeof example);
    report_error(r, "wrong-shape", node->place, "%s is %s, such as '%s: %s'", key->name, shape, key->name,
                 example);
}

static bool is_text(reader *r, const yaml_tree *node, const known_key *key)
{
    if (node->kind == YAML_TEXT && node->text[0] != '\0')
        return true;
    want_shape(r, node, key, "one value");
    return false;
}

static void check_word(reader *r, const yaml_tree *node, const known_key *key)
{
    int ignored;
    if (is_text(r, node, key))
        (void)take_word(r, node, key, &ignored);
}

static void check_whole(reader *r, const yaml_tree *node, const known_key *key)
{
    long least, most, ignored;
    if (is_text(r, node, key) && key_bounds(key, &least, &most))
        read_number(r, node, key->name, least, most, &ignored);
}

static void check_quantity(reader *r, const yaml_tree *node, const known_key *key)
{
    tl_located ignored = {0};
    if (node->kind == YAML_LIST)
        want_shape(r, node, key, "one quantity");
    else
        read_quantity(r, node, key->dimension, &ignored);
}

static void check_value(reader *r, const yaml_tree *node, const known_key *key)
{
    double ignored;
    if (is_text(r, node, key))
        read_value(r, node, key->dimension, &ignored);
}

typedef void check_one(reader *r, const yaml_tree *node, const known_key *key);

static void one_or_more(reader *r, const yaml_tree *node, const known_key *key, check_one *check)
{
    if (node->kind == YAML_MAP)
        want_shape(r, node, key, "one, or a list");
    for (int i = 0; node->kind == YAML_LIST && i < node->count; i++)
        check(r, &node->items[i], key);
    if (node->kind == YAML_TEXT)
        check(r, node, key);
}

static void is_any_text(reader *r, const yaml_tree *node, const known_key *key)
{
    (void)is_text(r, node, key);
}

/* --- maps --- */

static bool has_all(const yaml_tree *node, const key_section *section)
{
    for (int i = 0; i < node->count; i++) {
        bool known = node->items[2 * i].kind != YAML_TEXT;
        for (const known_key *key = section->keys; key->name != NULL && !known; key++)
            known = strcmp(key->name, node->items[2 * i].text) == 0;
        if (!known)
            return false;
    }
    return true;
}

/* What names stand for: a supply may be a pin, a converter the board's own. */
static const key_section *section_of(const yaml_tree *node, const known_key *key)
{
    if (key->section == &keys_supply && yaml_find(node, "pin") != NULL)
        return &keys_pin_rail;
    if (key->section == &keys_added_converter && yaml_find(node, "part") == NULL)
        return &keys_own_converter;
    return key->section;
}

static void check_named(reader *r, const yaml_tree *node, const known_key *key)
{
    if (node->kind != YAML_MAP) {
        want_shape(r, node, key, "written as names with what they are");
        return;
    }
    for (int i = 0; key->section != NULL && i < node->count; i++) {
        const yaml_tree *value = &node->items[2 * i + 1];
        if (value->kind == YAML_TEXT && key->section == &keys_supply)
            check_quantity(r, value, key);
        else if (value->kind != YAML_TEXT || key->section != &keys_module_pin)
            check_section(r, value, section_of(value, key));
    }
}

static void check_source(reader *r, const yaml_tree *node)
{
    for (int i = 0; node->kind == YAML_MAP && all_sources[i] != NULL; i++) {
        if (yaml_find(node, all_sources[i]->keys[0].name) == NULL)
            continue;
        check_section(r, node, all_sources[i]);
        return;
    }
}

static void check_stages(reader *r, const yaml_tree *node, const known_key *key)
{
    if (node->kind != YAML_LIST)
        want_shape(r, node, key, "a list of stages");
    for (int i = 0; node->kind == YAML_LIST && i < node->count; i++) {
        const yaml_tree *item = &node->items[i];
        for (int k = 0; item->kind == YAML_MAP && item->count == 1 && all_stages[k].name != NULL; k++) {
            if (item->items[0].kind == YAML_TEXT && strcmp(item->items[0].text, all_stages[k].name) == 0 &&
                all_stages[k].section != NULL && !(all_stages[k].text && item->items[1].kind == YAML_TEXT))
                check_section(r, &item->items[1], all_stages[k].section);
        }
    }
}

static void check_faults(reader *r, const yaml_tree *node, const known_key *key)
{
    if (node->kind != YAML_LIST)
        want_shape(r, node, key, "a list");
    for (int i = 0; node->kind == YAML_LIST && i < node->count; i++) {
        for (int k = 0; node->items[i].kind == YAML_MAP && all_faults[k] != NULL; k++) {
            if (yaml_find(&node->items[i], all_faults[k]->keys[0].name) == NULL)
                continue;
            check_section(r, &node->items[i], all_faults[k]);
            break;
        }
    }
}

static void check_shape(reader *r, const yaml_tree *node, const known_key *key)
{
    if (node->kind == YAML_MAP || (key->form == KEY_MAPS && node->kind == YAML_LIST)) {
        if (key->form != KEY_MAPS || node->kind == YAML_MAP)
            check_section(r, node, key->section);
        else
            for (int i = 0; i < node->count; i++)
                check_section(r, &node->items[i], key->section);
    } else if (!(key->form == KEY_TEXT_OR_MAP && node->kind == YAML_TEXT)) {
        want_shape(r, node, key, "written as keys with values");
    }
}

static void check_value_of(reader *r, const yaml_tree *node, const known_key *key)
{
    static check_one *const checks[] = {
        [KEY_TEXT] = is_any_text,
        [KEY_NAME] = is_any_text,
        [KEY_FILE] = is_any_text,
        [KEY_WHOLE] = check_whole,
        [KEY_QUANTITY] = check_quantity,
        [KEY_VALUE] = check_value,
        [KEY_LEVEL] = is_any_text,
        [KEY_LEVELS] = is_any_text,
        [KEY_WORD] = check_word,
        [KEY_YES] = is_any_text,
        [KEY_MAP] = check_shape,
        [KEY_TEXT_OR_MAP] = check_shape,
        [KEY_MAPS] = check_shape,
        [KEY_NAMED] = check_named,
        [KEY_STAGES] = check_stages,
        [KEY_FAULT] = check_faults,
        [KEY_FREE] = NULL,
    };
    switch (key->form) {
    case KEY_FILES:
    case KEY_WHOLES:
        one_or_more(r, node, key, is_any_text);
        break;
    case KEY_VALUES:
        one_or_more(r, node, key, check_quantity);
        break;
    case KEY_WORDS:
        one_or_more(r, node, key, check_word);
        break;
    case KEY_NAMES:
    case KEY_LIST:
        if (node->kind != YAML_LIST)
            want_shape(r, node, key, "a list");
        break;
    case KEY_SOURCE:
        check_source(r, node);
        break;
    case KEY_READING:
        if (node->kind == YAML_MAP)
            check_section(r, node,
                          has_all(node, &keys_digital_reading) && !has_all(node, &keys_analog_reading)
                              ? &keys_digital_reading
                              : &keys_analog_reading);
        else
            want_shape(r, node, key, "written as keys with values");
        break;
    default:
        if (checks[key->form] != NULL)
            checks[key->form](r, node, key);
    }
}

static void check_section(reader *r, const yaml_tree *node, const key_section *section)
{
    if (!check_map(r, node, section) && node->kind != YAML_MAP)
        return;
    for (const known_key *key = section->keys; key->name != NULL; key++) {
        const yaml_tree *value = yaml_find(node, key->name);
        if (value != NULL)
            check_value_of(r, value, key);
    }
    for (int i = 0; r->is_read && node->kind == YAML_MAP && i < node->count; i++) {
        const known_key *key = key_of(section, node->items[2 * i].text);
        if (!node->items[2 * i].asked && key->binding.into != INTO_NOTHING)
            report_error(r, "unread-key", node->items[2 * i].place,
                         "%s: nothing reads '%s': that is a mistake of this program", section->what,
                         node->items[2 * i].text);
    }
}

/* --- the whole --- */

static bool is_told(const tl_report *report, tl_place place)
{
    for (int i = 0; i < report->count; i++) {
        const tl_place other = report->findings[i].place;
        if (other.file == place.file && other.line == place.line && other.column == place.column)
            return true;
    }
    return false;
}

/* A file of another kind has no such keys. */
static bool is_another_kind(const tl_report *report, tl_place place)
{
    for (int i = 0; i < report->count; i++) {
        if (report->findings[i].place.file == place.file &&
            strcmp(report->findings[i].slug, "wrong-kind") == 0)
            return true;
    }
    return false;
}

bool check_all(reader *r, const yaml_tree *root, const key_section *section)
{
    if (is_another_kind(r->report, root->place))
        return false;
    tl_report *apart = tl_report_new();
    /* Whoever stops at an error leaves keys unread. */
    reader own = {.report = apart, .path = r->path, .is_read = tl_report_at_least(r->report, TL_ERROR) == 0};
    check_section(&own, root, section);
    const int before = r->report->count;
    for (int i = 0; i < apart->count; i++) {
        const tl_finding *f = &apart->findings[i];
        if (!is_told(r->report, f->place))
            tl_report_add(r->report, f->severity, f->slug, f->place, "%s", f->cause);
    }
    tl_report_free(apart);
    return r->report->count == before;
}
