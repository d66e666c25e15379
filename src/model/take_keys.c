/* SPDX-License-Identifier: MIT */
/* Reading a section by its rows: every key that has a field goes there. */
#include "model/take.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

int key_word(const char *words, int i, const char **word)
{
    for (; words != NULL && i > 0; i--) {
        words = strchr(words, '|');
        words = words != NULL ? words + 1 : NULL;
    }
    *word = words;
    return words != NULL ? (int)strcspn(words, "|") : 0;
}

bool key_bounds(const known_key *key, long *least, long *most)
{
    const char *dots = key->words != NULL ? strstr(key->words, "..") : NULL;
    if (dots == NULL)
        return false;
    *least = strtol(key->words, NULL, 10);
    *most = strtol(dots + 2, NULL, 10);
    return true;
}

static const char *supply_name(const void *list, int i)
{
    return ((const tl_supply *)list)[i].name;
}

bool read_rail(reader *r, const yaml_tree *node, bool ground, int *rail)
{
    const tl_supply *supplies = r->rails != NULL ? *r->rails : NULL;
    const int count = r->rails != NULL ? *r->rail_count : 0;
    const char *text = NULL;
    if (!read_text(r, node, "the name of a supply", &text))
        return false;
    if (ground && strcmp(text, "ground") == 0) {
        *rail = TL_TO_GROUND;
        return true;
    }
    for (int i = 0; i < count; i++) {
        if (strcmp(supplies[i].name, text) == 0) {
            *rail = i;
            return true;
        }
    }
    const char *meant = nearest_name(text, supply_name, supplies, count);
    char all[200] = "";
    size_t length = 0;
    for (int j = 0; j < count && length < sizeof all; j++)
        length +=
            (size_t)snprintf(all + length, sizeof all - length, "%s%s", j > 0 ? ", " : "", supplies[j].name);
    report_error(r, "unknown-rail", node->place, "there is no supply '%.40s'%s%s%s; there are: %s%s", text,
                 meant != NULL ? ": did you mean '" : "", meant != NULL ? meant : "",
                 meant != NULL ? "'?" : "", all, ground ? ", ground" : "");
    return false;
}

bool take_word(reader *r, const yaml_tree *node, const known_key *key, int *choice)
{
    enum { WORDS_MOST = 32, WORD_LONGEST = 24 };
    const char *choices[WORDS_MOST] = {NULL}, *word;
    char words[WORDS_MOST][WORD_LONGEST];
    for (int i = 0, length; i < WORDS_MOST - 1 && (length = key_word(key->words, i, &word)) > 0; i++) {
        snprintf(words[i], WORD_LONGEST, "%.*s", length, word);
        choices[i] = words[i];
    }
    return read_choice(r, node, key->name, choices, choice);
}

static bool take_whole(reader *r, const yaml_tree *node, const known_key *key, long *number)
{
    long least = 0, most = 0;
    (void)key_bounds(key, &least, &most);
    return read_number(r, node, key->name, least, most, number);
}

/* Fields are written once the value is known to be good, so that what is refused leaves what was there. */
static bool take_one(reader *r, const yaml_tree *node, const known_key *key, void *field)
{
    tl_located written = {0};
    tl_level *levels = field;
    long number = 0;
    int choice = 0;
    bool good = false;
    switch (key->binding.into) {
    case INTO_CODE:
    case INTO_NOTHING:
        return true;
    case INTO_LOCATED:
        return read_quantity(r, node, key->dimension, field);
    case INTO_PART:
        return read_part(r, node, key->dimension, key->name, field);
    case INTO_QUANTITY:
    case INTO_OHMS:
        good = key->binding.into == INTO_OHMS ? read_part(r, node, key->dimension, key->name, &written)
                                              : read_quantity(r, node, key->dimension, &written);
        if (good)
            *(tl_quantity *)field = written.value;
        return good;
    case INTO_VALUE:
        return read_value(r, node, key->dimension, field);
    case INTO_SIZE:
        good = read_quantity(r, node, key->dimension, &written);
        if (good)
            *(double *)field = fmax(fabs(written.value.low), fabs(written.value.high));
        return good;
    case INTO_LEVEL:
        return read_level(r, node, field);
    case INTO_LEVELS:
        return read_level_span(r, node, &levels[0], &levels[1]);
    case INTO_RAIL:
    case INTO_SUPPLY:
        return read_rail(r, node, key->binding.into == INTO_RAIL, field);
    case INTO_WORD:
        return take_word(r, node, key, field);
    case INTO_SECOND:
        good = take_word(r, node, key, &choice);
        *(bool *)field = choice == 1;
        return good;
    case INTO_WHOLE:
    case INTO_LONG:
    case INTO_COUNT:
        if (!take_whole(r, node, key, &number))
            return false;
        if (key->binding.into == INTO_WHOLE)
            *(int *)field = (int)number;
        else if (key->binding.into == INTO_LONG)
            *(long *)field = number;
        else
            *(double *)field = (double)number;
        return true;
    case INTO_YES:
        good = read_choice(r, node, key->name, (const char *const[]){"no", "yes", NULL}, &choice);
        *(bool *)field = choice == 1;
        return good;
    }
    return false;
}

/* What the row says of a key that is left out. */
static void take_default(const known_key *key, void *field)
{
    tl_text_error ignored;
    tl_quantity value = {0};
    tl_level *levels = field;
    if (key->binding.into == INTO_LEVEL)
        (void)tl_level_read(key->otherwise, field, &ignored);
    else if (key->binding.into == INTO_LEVELS)
        (void)tl_level_span_read(key->otherwise, &levels[0], &levels[1], &ignored);
    else if (tl_quantity_read(key->otherwise, key->dimension, &value, &ignored)) {
        if (key->binding.into == INTO_LOCATED)
            ((tl_located *)field)->value = value; /* not given */
        else
            *(double *)field = value.nominal;
    }
}

const known_key *key_of(const key_section *section, const char *name)
{
    const known_key *key = section->keys;
    while (key->name != NULL && strcmp(key->name, name) != 0)
        key++;
    return key;
}

bool take_present(reader *r, const yaml_tree *node, const key_section *section, void *into)
{
    bool good = true;
    for (const known_key *key = section->keys; key->name != NULL; key++) {
        const key_binding *to = &key->binding;
        if (to->at == NOWHERE)
            continue;
        const yaml_tree *at = yaml_get(node, key->name);
        if (at != NULL)
            good = take_one(r, at, key, (char *)into + to->at) && good;
        else if (to->otherwise)
            take_default(key, (char *)into + to->at);
        if (at != NULL && to->place != NOWHERE)
            *(tl_place *)(void *)((char *)into + to->place) = at->place;
    }
    return good;
}

bool take_keys(reader *r, const yaml_tree *node, const key_section *section, void *into)
{
    return check_map(r, node, section) && take_present(r, node, section, into);
}
