/* SPDX-License-Identifier: MIT */
/*
 * Taking a tree of texts apart: shapes, keys, words, numbers, quantities, names and ranges of names. Every
 * function reports what is wrong at its place.
 */
#include "model/take.h"
#include "base/memory.h"
#include <ctype.h>
#include <math.h>
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

void report_error(reader *r, const char *slug, tl_place place, const char *format, ...)
{
    char text[400];
    va_list arguments;
    va_start(arguments, format);
    vsnprintf(text, sizeof text, format, arguments);
    va_end(arguments);
    /* A place may be looked at in two ways: what is wrong there is said once. */
    for (int i = 0; i < tl_report_count(r->report); i++) {
        const tl_finding *f = tl_report_finding(r->report, i);
        if (f->place.file == place.file && f->place.line == place.line && f->place.column == place.column &&
            strcmp(f->cause, text) == 0)
            return;
    }
    tl_report_add(r->report, TL_ERROR, slug, place, "%s", text);
}

static const char *key_name(const void *list, int i)
{
    return ((const known_key *)list)[i].name;
}

static const char *choice_name(const void *list, int i)
{
    return ((const char *const *)list)[i];
}

/* --- shapes --- */

bool read_head(reader *r, const yaml_tree *root, const char *kind)
{
    const yaml_tree *head = yaml_get(root, "tinyladder") != NULL ? &root->items[1] : NULL;
    if (head == NULL || root->items[0].kind != YAML_TEXT || strcmp(root->items[0].text, "tinyladder") != 0 ||
        head->kind != YAML_TEXT) {
        report_error(r, "wrong-kind", root->place, "the first key must be 'tinyladder: %s 1'", kind);
        return false;
    }
    char wanted[40];
    snprintf(wanted, sizeof wanted, "%s 1", kind);
    if (strcmp(head->text, wanted) == 0)
        return true;
    report_error(r, "wrong-kind", head->place, "wrong kind of file: expected '%s', got '%.40s'", wanted,
                 head->text);
    return false;
}

static bool check_key(reader *r, const yaml_tree *map, int i, const key_section *section, int count)
{
    const char *what = section->what;
    const known_key *keys = section->keys;
    const yaml_tree *key = &map->items[2 * i];
    if (key->kind != YAML_TEXT) {
        report_error(r, "wrong-shape", key->place, "expected a key of %s", what);
        return false;
    }
    for (int j = 0; j < i; j++) {
        if (map->items[2 * j].kind == YAML_TEXT && strcmp(map->items[2 * j].text, key->text) == 0) {
            report_error(r, "key-twice", key->place, "'%.60s' stands here twice, first in line %d", key->text,
                         map->items[2 * j].place.line);
            return false;
        }
    }
    for (int j = 0; j < count; j++) {
        if (strcmp(keys[j].name, key->text) == 0)
            return true;
    }
    const char *meant = nearest_name(key->text, key_name, keys, count);
    if (meant != NULL) {
        report_error(r, "unknown-key", key->place, "%s has no key '%.60s': did you mean '%s'?", what,
                     key->text, meant);
        return false;
    }
    char all[256] = "";
    size_t length = 0;
    for (int j = 0; j < count && length < sizeof all; j++)
        length +=
            (size_t)snprintf(all + length, sizeof all - length, "%s%s", j > 0 ? ", " : "", keys[j].name);
    report_error(r, "unknown-key", key->place, "%s has no key '%.60s'; it has: %s", what, key->text, all);
    return false;
}

enum { MAP_MOST = 1000 };

bool check_map(reader *r, const yaml_tree *node, const key_section *section)
{
    const known_key *keys = section->keys;
    if (node->kind != YAML_MAP) {
        report_error(r, "wrong-shape", node->place, "%s is written as keys with values: '%s: ...'",
                     section->what, keys[0].name);
        return false;
    }
    bool good = true;
    int count = 0;
    while (keys[count].name != NULL)
        count++;
    if (node->count > MAP_MOST) {
        report_error(r, "too-many", node->place, "%s has at most %d keys", section->what, MAP_MOST);
        return false;
    }
    for (int i = 0; i < node->count; i++)
        good = check_key(r, node, i, section, count) && good;
    for (int j = 0; j < count; j++) {
        if (keys[j].needed && yaml_find(node, keys[j].name) == NULL) {
            const char *example = keys[j].example;
            const bool such = example != NULL && strlen(example) <= 40;
            report_error(r, "missing-key", node->place, "%s needs '%s'%s%s%s%s", section->what, keys[j].name,
                         such ? ", such as " : "", such ? keys[j].name : "", such ? ": " : "",
                         such ? example : "");
            good = false;
        }
    }
    return good;
}

bool check_list(reader *r, const yaml_tree *node, const char *what)
{
    if (node->kind == YAML_LIST)
        return true;
    report_error(r, "wrong-shape", node->place, "write %s as a list: [.., ..]", what);
    return false;
}

bool read_text(reader *r, const yaml_tree *node, const char *what, const char **text)
{
    if (node->kind == YAML_TEXT && node->text[0] != '\0') {
        *text = node->text;
        return true;
    }
    report_error(r, "wrong-shape", node->place, "expected %s", what);
    return false;
}

bool read_number(reader *r, const yaml_tree *node, const char *what, long least, long most, long *number)
{
    const char *text = NULL;
    char *end = NULL;
    if (!read_text(r, node, what, &text))
        return false;
    const long found = strtol(text, &end, 10);
    if (end == text || *end != '\0' || !(isdigit((unsigned char)text[0]) || text[0] == '-') ||
        found < least || found > most) {
        report_error(r, "bad-number", node->place, "%s is a whole number from %ld to %ld, not '%.40s'", what,
                     least, most, text);
        return false;
    }
    *number = found;
    return true;
}

bool read_address(reader *r, const yaml_tree *node, long *address)
{
    const char *text = NULL;
    char *end = NULL;
    if (!read_text(r, node, "an address", &text))
        return false;
    *address = strtol(text, &end, 0);
    if (end != text && *end == '\0' && *address >= 0x08 && *address <= 0x77)
        return true;
    report_error(r, "bad-number", node->place, "expected a 7-bit address, 0x08 to 0x77");
    return false;
}

bool read_choice(reader *r, const yaml_tree *node, const char *what, const char *const *choices, int *choice)
{
    const char *text = NULL;
    int count = 0;
    if (!read_text(r, node, what, &text))
        return false;
    for (; choices[count] != NULL; count++) {
        if (strcmp(choices[count], text) == 0) {
            *choice = count;
            return true;
        }
    }
    const char *meant = nearest_name(text, choice_name, choices, count);
    char all[320] = "";
    size_t length = 0;
    for (int j = 0; j < count && length < sizeof all; j++)
        length += (size_t)snprintf(all + length, sizeof all - length, "%s%s", j > 0 ? ", " : "", choices[j]);
    report_error(r, "unknown-word", node->place, "%s cannot be '%.40s'%s%s%s; it is one of: %s", what, text,
                 meant != NULL ? ": did you mean '" : "", meant != NULL ? meant : "",
                 meant != NULL ? "'?" : "", all);
    return false;
}

/* --- quantities --- */

/* An error inside a text is placed at the character that is wrong. */
static void report_text_error(reader *r, const yaml_tree *node, const tl_text_error *error)
{
    tl_place place = node->place;
    for (size_t i = 0; i < error->offset && node->text[i] != '\0'; i++)
        place.column += ((unsigned char)node->text[i] & 0xc0) != 0x80;
    report_error(r, "bad-quantity", place, "%s", error->text);
}

static bool read_typical(reader *r, const yaml_tree *node, tl_dimension dimension, tl_located *written)
{
    tl_located typical = {0};
    if (!check_map(r, node, &keys_typical) ||
        !read_quantity(r, yaml_get(node, "range"), dimension, written) ||
        !read_quantity(r, yaml_get(node, "typical"), dimension, &typical))
        return false;
    if (typical.value.nominal < written->value.low || typical.value.nominal > written->value.high) {
        report_error(r, "bad-quantity", typical.place, "the typical value lies outside the range");
        return false;
    }
    written->value.nominal = typical.value.nominal;
    return true;
}

bool read_quantity(reader *r, const yaml_tree *node, tl_dimension dimension, tl_located *written)
{
    tl_text_error error;
    written->place = node->place;
    if (node->kind == YAML_MAP) {
        if (!read_typical(r, node, dimension, written))
            return false;
    } else if (node->kind != YAML_TEXT) {
        report_error(r, "wrong-shape", node->place, "expected one quantity");
        return false;
    } else if (!tl_quantity_parts_read(node->text, dimension, &written->value, written->parts, &error)) {
        report_text_error(r, node, &error);
        return false;
    }
    written->given = true;
    return true;
}

/* A resistance that must be there: a divider leg of 0 ohm is a short, and no pull at all. */
bool read_part(reader *r, const yaml_tree *node, tl_dimension dimension, const char *what,
               tl_located *written)
{
    if (!read_quantity(r, node, dimension, written))
        return false;
    if (written->value.low > 0)
        return true;
    report_error(r, "zero-part", node->place, "%s must be above 0", what);
    return false;
}

bool read_value(reader *r, const yaml_tree *node, tl_dimension dimension, double *value)
{
    tl_located written = {0};
    if (!read_quantity(r, node, dimension, &written))
        return false;
    if (written.value.low != written.value.high) {
        report_error(r, "bad-quantity", node->place, "expected one value, got a range");
        return false;
    }
    *value = written.value.nominal;
    return true;
}

static bool read_length(reader *r, const yaml_tree *node, const char *const words[2], tl_length *length)
{
    const char *text = NULL;
    tl_text_error error;
    tl_quantity seconds;
    if (!read_text(r, node, "a length, such as 'high 300 ms'", &text))
        return false;
    for (int high = 0; high < 2; high++) {
        const size_t size = strlen(words[high]);
        if (strncmp(text, words[high], size) == 0 && text[size] == ' ' &&
            tl_quantity_read(text + size + 1, TL_DIM_SECOND, &seconds, &error) && seconds.nominal > 0) {
            *length = (tl_length){high == 1, seconds.nominal};
            return true;
        }
    }
    report_error(r, "bad-quantity", node->place, "a length is written '%s 300 ms' or '%s 200 ms'", words[1],
                 words[0]);
    return false;
}

bool read_lengths(reader *r, const yaml_tree *node, const char *const words[2], tl_length *lengths, int most,
                  int *count)
{
    bool good = check_list(r, node, "the lengths");
    for (*count = 0; good && *count < node->count; ++*count) {
        const yaml_tree *item = &node->items[*count];
        if (*count == most) {
            report_error(r, "wrong-shape", item->place, "up to %d lengths", most);
            return false;
        }
        good = read_length(r, item, words, &lengths[*count]);
        if (good && *count > 0 && lengths[*count - 1].high == lengths[*count].high) {
            report_error(r, "wrong-shape", item->place, "%s and %s take turns", words[1], words[0]);
            return false;
        }
    }
    return good;
}

bool read_level(reader *r, const yaml_tree *node, tl_level *level)
{
    const char *text = NULL;
    tl_text_error error;
    if (!read_text(r, node, "a level: volts, or a part of the rail", &text))
        return false;
    if (tl_level_read(text, level, &error))
        return true;
    report_text_error(r, node, &error);
    return false;
}

bool levels_rise(reader *r, const yaml_tree *map, const char *low_key, const tl_level *low,
                 const char *high_key, const tl_level *high)
{
    const yaml_tree *low_at = yaml_get(map, low_key), *high_at = yaml_get(map, high_key);
    if (low_at == NULL || high_at == NULL || low->volts < high->volts || low->share < high->share ||
        isnan(low->volts) || isnan(high->volts))
        return true;
    report_error(r, "vil-above-vih", low_at->place, "%s: %.40s is not below %s: %.40s", low_key, low_at->text,
                 high_key, high_at->text);
    return false;
}

bool read_level_span(reader *r, const yaml_tree *node, tl_level *low, tl_level *high)
{
    const char *text = NULL;
    tl_text_error error;
    if (!read_text(r, node, "two levels: LOW .. HIGH", &text))
        return false;
    if (tl_level_span_read(text, low, high, &error))
        return true;
    report_text_error(r, node, &error);
    return false;
}

/* --- names --- */

static size_t name_length(const char *text)
{
    size_t length = 0;
    while (isalnum((unsigned char)text[length]) || text[length] == '-' ||
           (text[length] == '.' && isalnum((unsigned char)text[length + 1]))) /* two dots are a range */
        length++;
    return length;
}

/* Splits `L4 .. L7`: the common head, and the numbers behind it. A single name has from == to. */
static bool split_range(const char *text, size_t *head, long *from, long *to)
{
    const size_t first = name_length(text);
    *head = first;
    *from = *to = 0;
    if (first == 0)
        return false;
    if (text[first] == '\0')
        return true;
    const char *second = text + first;
    while (*second == ' ')
        second++;
    if (strncmp(second, "..", 2) != 0)
        return false;
    for (second += 2; *second == ' ';)
        second++;
    while (*head > 0 && isdigit((unsigned char)text[*head - 1]))
        --*head;
    if (*head == first || first - *head > 6 || strncmp(text, second, *head) != 0 ||
        second[name_length(second)] != '\0')
        return false;
    char *end = NULL;
    *from = strtol(text + *head, NULL, 10);
    *to = strtol(second + *head, &end, 10);
    return *end == '\0' && end != second + *head && *from < *to && *to - *from < 1000;
}

bool read_end_range(reader *r, const yaml_tree *node, int *count)
{
    size_t head;
    long from, to;
    const char *text = NULL;
    if (!read_text(r, node, "a name", &text))
        return false;
    if (strlen(text) > TL_QUANTITY_LONGEST || !split_range(text, &head, &from, &to)) {
        report_error(r, "bad-name", node->place,
                     "'%.40s' is no name: letters, digits and '-', at most %d; a range is 'L4 .. L7'", text,
                     TL_QUANTITY_LONGEST);
        return false;
    }
    *count = (int)(to - from) + 1;
    return true;
}

bool read_name_range(reader *r, const yaml_tree *node, int *count)
{
    if (!read_end_range(r, node, count))
        return false;
    if (node->text[0] == '-') {
        report_error(r, "bad-name", node->place, "'%.40s' is no name: it would look like an option",
                     node->text);
        return false;
    }
    if (strchr(node->text, '.') == NULL || strstr(node->text, "..") == strchr(node->text, '.'))
        return true;
    report_error(r, "bad-name", node->place, "'%.40s' is no name: a dot joins the parts of a path",
                 node->text);
    return false;
}

char *name_of_range(const char *range, int i)
{
    size_t head = 0;
    long from = 0, to = 0;
    split_range(range, &head, &from, &to);
    if (from == to)
        return tl_copy_text(range);
    char name[2 * TL_QUANTITY_LONGEST];
    snprintf(name, sizeof name, "%.*s%ld", (int)head, range, from + i);
    return tl_copy_text(name);
}

char *beside(const char *file, const char *named)
{
    const char *slash = strrchr(file, '/');
    const size_t folder = slash != NULL && named[0] != '/' ? (size_t)(slash - file) + 1 : 0;
    char *path = tl_alloc(folder + strlen(named) + 1, 1);
    memcpy(path, file, folder);
    strcpy(path + folder, named);
    return path;
}
