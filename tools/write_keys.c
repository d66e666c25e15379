/* SPDX-License-Identifier: MIT */
/*
 * write_keys schema FOLDER | reference FILE: what the key tables say, for others: a JSON Schema (2020-12) of
 * each kind of file, and the tables of docs/plan-reference.md between its marks `<!-- keys: NAME -->` and
 * `<!-- end -->`; so is the table of good practice in docs/methods.md.
 */
#define _GNU_SOURCE
#include "base/dimension.h"
#include "model/keys.h"
#include "sizing/practice.h"
#include "tinyladder/design/preferred.h"
#include <jansson.h>
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/* --- schemas --- */

static json_t *definitions; /* of the sections of one schema, by their id */

static json_t *refer_to(const key_section *section);

static json_t *type(const char *name)
{
    return json_pack("{s:s}", "type", name);
}

static json_t *either(json_t *a, json_t *b)
{
    return json_pack("{s:[o,o]}", "anyOf", a, b);
}

static json_t *list_of(json_t *items)
{
    return json_pack("{s:s,s:o}", "type", "array", "items", items);
}

static json_t *word_enum(const known_key *key)
{
    json_t *list = json_array();
    const char *word;
    for (int i = 0, length; (length = key_word(key->words, i, &word)) > 0; i++)
        json_array_append_new(list, json_stringn(word, (size_t)length));
    return json_pack("{s:o}", "enum", list);
}

static json_t *whole(const known_key *key)
{
    long least, most;
    json_t *o = type("integer");
    if (key_bounds(key, &least, &most)) {
        json_object_set_new(o, "minimum", json_integer(least));
        json_object_set_new(o, "maximum", json_integer(most));
    }
    return o;
}

/* Texts that look like numbers are numbers to a reader of YAML. */
static json_t *any_text(void)
{
    return json_pack("{s:[s,s]}", "type", "string", "number");
}

static json_t *named(const known_key *key)
{
    json_t *value = key->section == NULL ? json_object() : refer_to(key->section);
    if (key->section == &keys_module_pin)
        value = either(type("string"), value);
    if (key->section == &keys_supply)
        value = json_pack("{s:[o,o,o]}", "anyOf", type("string"), value, refer_to(&keys_pin_rail));
    if (key->section == &keys_added_converter)
        value = either(value, refer_to(&keys_own_converter));
    return json_pack("{s:s,s:o}", "type", "object", "additionalProperties", value);
}

static json_t *any_of(const key_section *const *sections)
{
    json_t *list = json_array();
    for (int i = 0; sections[i] != NULL; i++)
        json_array_append_new(list, refer_to(sections[i]));
    return json_pack("{s:o}", "anyOf", list);
}

static json_t *stages(void)
{
    if (json_object_get(definitions, "stage") == NULL) {
        json_t *properties = json_object();
        json_object_set_new(definitions, "stage", json_object()); /* they hold no stages themselves */
        for (int i = 0; all_stages[i].name != NULL; i++) {
            json_t *value = all_stages[i].section == NULL ? type("string")
                            : all_stages[i].text ? either(type("string"), refer_to(all_stages[i].section))
                                                 : refer_to(all_stages[i].section);
            json_object_set_new(value, "description", json_string(all_stages[i].sentence));
            json_object_set_new(properties, all_stages[i].name, value);
        }
        json_object_set_new(definitions, "stage",
                            json_pack("{s:s,s:o,s:b,s:i,s:i}", "type", "object", "properties", properties,
                                      "additionalProperties", 0, "minProperties", 1, "maxProperties", 1));
    }
    return list_of(json_pack("{s:s}", "$ref", "#/$defs/stage"));
}

/* One after the other: in which order arguments are worked out is the compiler's affair, and the schema must
 * not be. */
static json_t *reading(void)
{
    json_t *analog = refer_to(&keys_analog_reading);
    return either(analog, refer_to(&keys_digital_reading));
}

static json_t *shape_of(const known_key *key)
{
    switch (key->form) {
    case KEY_FILE:
    case KEY_VALUE:
    case KEY_LEVEL:
    case KEY_LEVELS:
        return type("string");
    case KEY_TEXT:
    case KEY_NAME:
        return any_text();
    case KEY_FILES:
        return either(type("string"), list_of(type("string")));
    case KEY_WHOLE:
        return whole(key);
    case KEY_WHOLES:
        return either(whole(key), list_of(whole(key)));
    case KEY_QUANTITY:
        return either(type("string"), refer_to(&keys_typical));
    case KEY_VALUES:
        return either(type("string"), list_of(type("string")));
    case KEY_WORD:
        return word_enum(key);
    case KEY_WORDS:
        return either(word_enum(key), list_of(word_enum(key)));
    case KEY_YES:
        return json_pack("{s:[s,s]}", "enum", "yes", "no");
    case KEY_NAMES:
        return list_of(any_text());
    case KEY_LIST:
        return type("array");
    case KEY_MAP:
        return refer_to(key->section);
    case KEY_TEXT_OR_MAP:
        return either(type("string"), refer_to(key->section));
    case KEY_MAPS:
        return either(refer_to(key->section), list_of(refer_to(key->section)));
    case KEY_NAMED:
        return named(key);
    case KEY_STAGES:
        return stages();
    case KEY_SOURCE:
        return any_of(all_sources);
    case KEY_READING:
        return reading();
    case KEY_FAULT:
        return list_of(any_of(all_faults));
    case KEY_FREE:
        break;
    }
    return json_object();
}

static json_t *object_of(const key_section *section)
{
    char text[600];
    json_t *properties = json_object(), *required = json_array();
    for (const known_key *key = section->keys; key->name != NULL; key++) {
        json_t *shape = shape_of(key);
        snprintf(text, sizeof text, "%s%s%s%s", key->sentence, key->otherwise != NULL ? " (default: " : "",
                 key->otherwise != NULL ? key->otherwise : "", key->otherwise != NULL ? ")" : "");
        json_object_set_new(shape, "description", json_string(text));
        if (key->example != NULL)
            json_object_set_new(shape, "examples", json_pack("[s]", key->example));
        json_object_set_new(properties, key->name, shape);
        if (key->needed)
            json_array_append_new(required, json_string(key->name));
    }
    return json_pack("{s:s,s:o,s:o,s:b}", "type", "object", "properties", properties, "required", required,
                     "additionalProperties", 0);
}

static json_t *refer_to(const key_section *section)
{
    char path[80];
    if (json_object_get(definitions, section->id) == NULL) {
        json_object_set_new(definitions, section->id, json_object());
        json_object_set_new(definitions, section->id, object_of(section));
    }
    snprintf(path, sizeof path, "#/$defs/%s", section->id);
    return json_pack("{s:s}", "$ref", path);
}

static bool write_schemas(const char *folder)
{
    bool good = true;
    for (int i = 0; file_kinds[i].kind != NULL; i++) {
        char path[600], title[80];
        definitions = json_object();
        json_t *root = object_of(file_kinds[i].section);
        /* What a plan includes is a plan with less. */
        if (file_kinds[i].section == &keys_plan)
            json_object_set_new(root, "required", json_pack("[s]", "tinyladder"));
        snprintf(title, sizeof title, "Tiny Ladder: a %s file", file_kinds[i].kind);
        json_t *schema =
            json_pack("{s:s,s:s}", "$schema", "https://json-schema.org/draft/2020-12/schema", "title", title);
        json_object_update(schema, root);
        json_object_set_new(schema, "$defs", definitions);
        snprintf(path, sizeof path, "%s/%s.schema.json", folder, file_kinds[i].kind);
        good = json_dump_file(schema, path, JSON_INDENT(1) | JSON_ENSURE_ASCII) == 0 && good;
        json_decref(schema);
        json_decref(root);
    }
    return good;
}

/* --- the reference --- */

static void write_cell(FILE *to, const char *text)
{
    for (; text != NULL && *text != '\0'; text++) {
        if (*text == '|')
            fputc('\\', to);
        fputc(*text, to);
    }
}

static void write_words(FILE *to, const char *words)
{
    const char *word;
    for (int i = 0, length; (length = key_word(words, i, &word)) > 0; i++)
        fprintf(to, "%s`%.*s`", i > 0 ? " " : "", length, word);
}

static const char *unit_of(const known_key *key)
{
    const bool measured = key->form == KEY_QUANTITY || key->form == KEY_VALUE || key->form == KEY_VALUES;
    return !measured ? "" : dimensions[key->dimension].unit;
}

static void write_table(FILE *to, const key_section *section)
{
    fprintf(to, "| key | value | meaning | default | example |\n| --- | --- | --- | --- | --- |\n");
    for (const known_key *key = section->keys; key->name != NULL; key++) {
        long least, most;
        fprintf(to, "| `%s` | ", key->name);
        if (key->form == KEY_YES)
            fputs("`yes` `no`", to);
        else if (key_bounds(key, &least, &most))
            fprintf(to, "%ld to %ld", least, most);
        else if (key->words != NULL)
            write_words(to, key->words);
        else
            fputs(unit_of(key), to);
        fputs(" | ", to);
        write_cell(to, key->sentence);
        fputs(" | ", to);
        write_cell(to, key->otherwise != NULL ? key->otherwise : key->needed ? "required" : "");
        fputs(" | ", to);
        if (key->example != NULL) {
            fputc('`', to);
            write_cell(to, key->example);
            fputc('`', to);
        }
        fputs(" |\n", to);
    }
}

static const key_section *find_section(const char *id)
{
    static const key_section *const others[] = {
        &keys_include,
        &keys_supply,
        &keys_pin_rail,
        &keys_shared,
        &keys_signal,
        &keys_mux,
        &keys_bus,
        &keys_i2c_pins,
        &keys_spi_pins,
        &keys_own_converter,
        &keys_added_converter,
        &keys_output,
        &keys_driver,
        &keys_load,
        &keys_into,
        &keys_sweep,
        &keys_meter,
        &keys_module,
        &keys_module_pin,
        &keys_divider,
        &keys_pull,
        &keys_partner,
        &keys_filter,
        &keys_capacitor,
        &keys_follower,
        &keys_shifter,
        &keys_clamp,
        &keys_analog_reading,
        &keys_digital_reading,
        &keys_percent,
        &keys_windows,
        &keys_trim,
        &keys_restated_word,
        &keys_limits,
        &keys_pin,
        &keys_internal,
        &keys_wired,
        &keys_converter,
        &keys_word,
        &keys_sampling,
        &keys_errors,
        &keys_frame,
        &keys_register,
        &keys_entry,
        &keys_typical,
        &keys_wave,
        &keys_steps,
        &keys_values_file,
        &keys_repeat,
        &keys_scene_meter,
        &keys_situation,
    };
    for (int i = 0; file_kinds[i].kind != NULL; i++) {
        if (strcmp(file_kinds[i].section->id, id) == 0)
            return file_kinds[i].section;
    }
    for (int i = 0; all_sources[i] != NULL; i++) {
        if (strcmp(all_sources[i]->id, id) == 0)
            return all_sources[i];
    }
    for (int i = 0; all_faults[i] != NULL; i++) {
        if (strcmp(all_faults[i]->id, id) == 0)
            return all_faults[i];
    }
    for (size_t i = 0; i < sizeof others / sizeof others[0]; i++) {
        if (strcmp(others[i]->id, id) == 0)
            return others[i];
    }
    return NULL;
}

/* --- good practice --- */

static void write_comfort(FILE *to, const practice_row *row)
{
    static const char *const forms[] = {
        [COST_OVER] = "at most ", [COST_UNDER] = "at least ", [COST_MIDDLE] = "near ", [COST_FLAT] = ""};
    char text[32];
    fputs(forms[row->form], to);
    if (row->form == COST_FLAT)
        fputs("–", to);
    else if (isnan(row->at))
        fputs("what the job says", to);
    else if (row->dimension == TL_DIM_PERCENT)
        fprintf(to, "%.3g %%", 100 * row->at);
    else if (row->dimension == TL_DIM_OHM || row->dimension == TL_DIM_FARAD)
        fputs(tl_part_write(row->at, row->dimension, text), to);
    else
        fputs(tl_quantity_write(row->at, row->dimension, TL_ROUND_NEAREST, text), to);
}

static void write_practice(FILE *to)
{
    int count;
    const practice_row *rows = practice_rows(&count);
    fprintf(to, "| quantity | comfortable | weight | why |\n| --- | --- | --: | --- |\n");
    for (int i = 0; i < count; i++) {
        fprintf(to, "| %s | ", rows[i].name);
        write_comfort(to, &rows[i]);
        fprintf(to, " | %g | %s |\n", rows[i].weight, rows[i].why);
    }
}

/* Everything but what stands between the marks stays. */
static bool write_reference(const char *path)
{
    static const char begin[] = "<!-- keys: ", end[] = "<!-- end -->";
    char *line = NULL, *whole = NULL, id[60];
    size_t room = 0, size = 0;
    bool inside = false, good = true;
    FILE *from = fopen(path, "r"), *to = open_memstream(&whole, &size);
    if (from == NULL || to == NULL)
        return false;
    while (getline(&line, &room, from) > 0) {
        if (strncmp(line, end, sizeof end - 1) == 0)
            inside = false;
        if (!inside)
            fputs(line, to);
        if (sscanf(line, "<!-- keys: %59[a-z0-9-] -->", id) == 1 &&
            strncmp(line, begin, sizeof begin - 1) == 0) {
            const key_section *section = find_section(id);
            if (strcmp(id, "practice") == 0) {
                write_practice(to);
            } else if (section == NULL) {
                fprintf(stderr, "%s: there is no section '%s'\n", path, id);
                good = false;
            } else {
                write_table(to, section);
            }
            inside = true;
        }
    }
    fclose(from);
    free(line);
    fclose(to);
    from = good ? fopen(path, "w") : NULL;
    good = from != NULL && fwrite(whole, 1, size, from) == size;
    good = from != NULL && fclose(from) == 0 && good;
    free(whole);
    return good;
}

int main(int argc, char **argv)
{
    const bool schema = argc == 3 && strcmp(argv[1], "schema") == 0,
               reference = argc == 3 && strcmp(argv[1], "reference") == 0;
    if (!schema && !reference) {
        fprintf(stderr, "write_keys schema FOLDER | reference FILE\n");
        return 2;
    }
    if (schema ? write_schemas(argv[2]) : write_reference(argv[2]))
        return 0;
    fprintf(stderr, "%s could not be written\n", argv[2]);
    return 4;
}
