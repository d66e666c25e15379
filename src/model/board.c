/* SPDX-License-Identifier: MIT */
/* Boards and the converters and multiplexers beside them: letting them go, and their register words. Reading
 * one is the business of src/reader. */
#include "tinyladder/design/board.h"
#include "base/nearest_name.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static void free_registers(tl_converter *converter)
{
    for (int i = 0; i < converter->register_count; i++) {
        tl_register *reg = &converter->registers[i];
        for (int f = 0; f < reg->field_count; f++) {
            for (int v = 0; v < reg->fields[f].value_count; v++)
                free(reg->fields[f].values[v].name);
            free(reg->fields[f].values);
            free(reg->fields[f].name);
            free(reg->fields[f].means);
        }
        free(reg->fields);
        free(reg->name);
    }
    free(converter->registers);
}

static void free_converter_parts(tl_converter *converter)
{
    for (int i = 0; i < converter->reference_count; i++)
        free(converter->references[i].name);
    for (int i = 0; i < converter->input_count; i++)
        free(converter->inputs[i]);
    for (int i = 0; i < converter->pair_count; i++)
        free(converter->pairs[i]);
    for (int i = 0; i < converter->frame.send_count; i++)
        free(converter->frame.send[i]);
    free(converter->references);
    free_registers(converter);
    free(converter->name);
}

void tl_converter_free(tl_converter *converter)
{
    if (converter == NULL)
        return;
    free_converter_parts(converter);
    free(converter);
}

void tl_mux_part_free(tl_mux_part *part)
{
    if (part == NULL)
        return;
    free(part->title);
    free(part);
}

static void free_pin(tl_pin *pin)
{
    free(pin->name);
    free(pin->port);
}

void tl_board_free(tl_board *board)
{
    if (board == NULL)
        return;
    for (int i = 0; i < board->supply_count; i++)
        free(board->supplies[i].name);
    for (int i = 0; i < board->pin_count; i++)
        free_pin(&board->pins[i]);
    for (int i = 0; board->header != NULL && i < board->header_rows * board->header_columns; i++)
        free(board->header[i]);
    free(board->header);
    free_converter_parts(&board->converter);
    free(board->supplies);
    free(board->pins);
    free(board->title);
    free(board->from_template);
    free(board);
}

/* --- words --- */

const tl_field *tl_converter_field(const tl_converter *converter, const char *name, int *register_index)
{
    for (int by_name = 0; by_name < 2; by_name++) {
        for (int i = 0; i < converter->register_count; i++) {
            for (int f = 0; f < converter->registers[i].field_count; f++) {
                const tl_field *field = &converter->registers[i].fields[f];
                const char *called = by_name ? field->name : field->means;
                if (called != NULL && strcmp(called, name) == 0) {
                    *register_index = i;
                    return field;
                }
            }
        }
    }
    return NULL;
}

static unsigned long largest(const tl_field *field)
{
    return (unsigned long)((1ull << (field->high - field->low + 1)) - 1);
}

static const char *value_name(const void *list, int i)
{
    return ((const tl_field_value *)list)[i].name;
}

bool tl_field_set(const tl_field *field, const char *value, unsigned long *word, char why[160])
{
    char *end = NULL;
    unsigned long number = 0;
    bool named = false;
    for (int i = 0; i < field->value_count && !named; i++) {
        named = strcmp(field->values[i].name, value) == 0;
        number = named ? field->values[i].number : 0;
    }
    if (!named) {
        number = strtoul(value, &end, 0);
        if (end == value || *end != '\0' || value[0] == '-' || value[0] == '+') {
            const char *meant = nearest_name(value, value_name, field->values, field->value_count);
            snprintf(why, 160, "'%.40s' is no value of %.40s%s%s%s", value, field->name,
                     meant != NULL ? ": did you mean '" : "", meant != NULL ? meant : "",
                     meant != NULL ? "'?" : "");
            return false;
        }
        if (number > largest(field)) {
            snprintf(why, 160, "%.40s does not fit into %.40s: 0 .. %lu", value, field->name, largest(field));
            return false;
        }
    }
    *word = (*word & ~(largest(field) << field->low)) | number << field->low;
    return true;
}

unsigned long tl_field_get(const tl_field *field, unsigned long word)
{
    return word >> field->low & largest(field);
}

const char *tl_field_value_name(const tl_field *field, unsigned long number)
{
    for (int i = 0; i < field->value_count; i++) {
        if (field->values[i].number == number)
            return field->values[i].name;
    }
    return NULL;
}

bool tl_converter_offers_bits(const tl_converter *part, long bits)
{
    bool offered = false;
    for (int i = 0; i < part->bits_count; i++)
        offered = offered || part->bits[i] == bits;
    return offered;
}

bool tl_converter_offers_align(const tl_converter *part, int align)
{
    bool offered = false;
    for (int i = 0; i < part->align_count; i++)
        offered = offered || part->aligns[i] == align;
    return offered;
}
