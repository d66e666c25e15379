/* SPDX-License-Identifier: MIT */
/* Settings of a converter as register fields: read from the board file, composed into words and taken apart
 * again. */
#include "reader/read_registers.h"
#include "base/memory.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/* --- reading --- */

/* `7` or `0 .. 3`. */
static bool read_bits(reader *r, const yaml_tree *node, int width, tl_field *field)
{
    const char *text = NULL;
    char *end = NULL;
    if (!read_text(r, node, "a bit, or bits LOW .. HIGH", &text))
        return false;
    const long low = strtol(text, &end, 10);
    const char *rest = end + strspn(end, " ");
    long high = low;
    if (end != text && strncmp(rest, "..", 2) == 0)
        high = strtol(rest + 2, &end, 10);
    if (end == text || *end != '\0' || low < 0 || high < low || high >= width) {
        report_error(r, "bad-number", node->place, "bits lie within 0 .. %d, the lower one first: '%.20s'",
                     width - 1, text);
        return false;
    }
    field->low = (int)low;
    field->high = (int)high;
    return true;
}

static bool read_field_value(reader *r, const yaml_tree *key, const yaml_tree *node, tl_field *field)
{
    long number = 0;
    const char *name = NULL;
    const long most = (long)((1ull << (field->high - field->low + 1)) - 1);
    if (!read_text(r, key, "the name of a value", &name) ||
        !read_number(r, node, "a value of this field", 0, most, &number))
        return false;
    field->values = tl_grow(field->values, (size_t)field->value_count, sizeof *field->values);
    field->values[field->value_count++] = (tl_field_value){tl_copy_text(name), (unsigned long)number};
    return true;
}

/* What a field is for, where a data sheet calls it something else; one field has each meaning. */
static bool read_means(reader *r, const yaml_tree *node, const tl_converter *converter, tl_field *field)
{
    static const char *const meanings[] = {"align", "bits",  "channel",     "input", "reference",
                                           "range", "start", "acquisition", NULL};
    int choice = 0, index = 0;
    if (!read_choice(r, node, "what a field means", meanings, &choice))
        return false;
    const tl_field *other = tl_converter_field(converter, meanings[choice], &index);
    if (other != NULL && other != field) {
        report_error(r, "key-twice", node->place, "the field '%.40s' means %s already", other->name,
                     meanings[choice]);
        return false;
    }
    field->means = tl_copy_text(meanings[choice]);
    return true;
}

static bool read_field(reader *r, const yaml_tree *key, const yaml_tree *node, const tl_converter *converter,
                       tl_register *reg)
{
    const char *name = NULL;
    const yaml_tree *bits = yaml_get(node, "bits"), *means = yaml_get(node, "means");
    if (!read_text(r, key, "the name of a field", &name))
        return false;
    if (bits == NULL) {
        report_error(r, "missing-key", node->place,
                     "a field needs 'bits'; its other keys are 'means' and names of values");
        return false;
    }
    reg->fields = tl_grow(reg->fields, (size_t)reg->field_count, sizeof *reg->fields);
    tl_field *field = &reg->fields[reg->field_count++];
    *field = (tl_field){.name = tl_copy_text(name), .place = key->place};
    if (!read_bits(r, bits, reg->width, field))
        return false;
    bool good = means == NULL || read_means(r, means, converter, field);
    for (int i = 0; i < node->count; i++) {
        if (&node->items[2 * i + 1] != bits && &node->items[2 * i + 1] != means)
            good = read_field_value(r, &node->items[2 * i], &node->items[2 * i + 1], field) && good;
    }
    for (int i = 0; i + 1 < reg->field_count; i++) {
        const tl_field *other = &reg->fields[i];
        if (field->low <= other->high && other->low <= field->high) {
            report_error(r, "fields-overlap", key->place, "'%s' overlaps '%s' in bit %d", field->name,
                         other->name, field->low > other->low ? field->low : other->low);
            good = false;
        }
    }
    return good;
}

/* Fields are called by their name alone, so a name stands once in all registers of a converter. */
static bool is_new_field(reader *r, const yaml_tree *key, const tl_converter *converter)
{
    int index;
    if (key->kind != YAML_TEXT || tl_converter_field(converter, key->text, &index) == NULL)
        return true;
    report_error(r, "key-twice", key->place, "there is a field '%.40s' already, in register '%s'", key->text,
                 converter->registers[index].name);
    return false;
}

/* `0x2a` or `42`. */
bool read_byte(reader *r, const yaml_tree *node, const char *what, long *byte)
{
    const char *text = NULL;
    char *end = NULL;
    if (!read_text(r, node, what, &text))
        return false;
    *byte = strtol(text, &end, 0);
    if (end != text && *end == '\0' && *byte >= 0 && *byte <= 255)
        return true;
    report_error(r, "bad-number", node->place, "%s is a number from 0 to 255, such as 0x1b", what);
    return false;
}

static bool read_register_address(reader *r, const yaml_tree *node, const tl_converter *converter,
                                  long *address)
{
    if (!read_byte(r, node, "the address of a register", address))
        return false;
    for (int i = 0; i + 1 < converter->register_count; i++) {
        if (converter->registers[i].address == *address) {
            report_error(r, "key-twice", node->place, "register '%s' has this address already",
                         converter->registers[i].name);
            return false;
        }
    }
    return true;
}

static bool read_register(reader *r, const yaml_tree *key, const yaml_tree *node, tl_converter *converter)
{
    long width = 0;
    const char *name = NULL;
    if (converter->register_count == TL_REGISTERS_MOST) {
        report_error(r, "bad-number", key->place, "more than %d registers", TL_REGISTERS_MOST);
        return false;
    }
    if (!read_text(r, key, "the name of a register", &name) || !check_map(r, node, &keys_register) ||
        !read_number(r, yaml_get(node, "width"), "the width of a register", 8, 32, &width))
        return false;
    converter->registers =
        tl_grow(converter->registers, (size_t)converter->register_count, sizeof *converter->registers);
    tl_register *reg = &converter->registers[converter->register_count++];
    *reg = (tl_register){.name = tl_copy_text(name), .place = key->place, .width = (int)width, .address = -1};
    const yaml_tree *address = yaml_get(node, "address");
    if (address != NULL && !read_register_address(r, address, converter, &reg->address))
        return false;
    const yaml_tree *fields = yaml_get(node, "fields");
    if (fields->kind != YAML_MAP) {
        report_error(r, "wrong-shape", fields->place,
                     "fields are written as names with bits: 'channel: {bits: 0 .. 3}'");
        return false;
    }
    bool good = true;
    for (int i = 0; i < fields->count; i++)
        good = is_new_field(r, &fields->items[2 * i], converter) &&
               read_field(r, &fields->items[2 * i], &fields->items[2 * i + 1], converter, reg) && good;
    return good;
}

bool read_registers(reader *r, const yaml_tree *node, tl_converter *converter)
{
    if (node->kind != YAML_MAP) {
        report_error(r, "wrong-shape", node->place, "registers are written as names with width and fields");
        return false;
    }
    bool good = true;
    for (int i = 0; i < node->count; i++)
        good = read_register(r, &node->items[2 * i], &node->items[2 * i + 1], converter) && good;
    return good;
}
