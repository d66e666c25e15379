/* SPDX-License-Identifier: MIT */
/* Reading a converter: what the board's own and one on a bus have in common. */
#include "base/memory.h"
#include "reader/read_board.h"
#include "reader/read_registers.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

static const double CONVERSION_LONGEST = 100; /* seconds */

/* `[a, b]` or `a`: the i-th, or NULL. */
static const yaml_tree *nth_of(const yaml_tree *node, int i)
{
    if (node->kind != YAML_LIST)
        return i == 0 ? node : NULL;
    return i < node->count ? &node->items[i] : NULL;
}

static bool read_aligns(reader *r, const yaml_tree *node, tl_converter *converter)
{
    static const char *const aligns[] = {"right", "left", "stretched", NULL};
    const yaml_tree *at;
    bool good = true;
    converter->align_count = 0;
    for (int i = 0; i < 3 && (at = nth_of(node, i)) != NULL; i++) {
        good = read_choice(r, at, "align", aligns, &converter->aligns[i]) && good;
        converter->align_count++;
    }
    return good;
}

static bool read_word(reader *r, const yaml_tree *node, tl_converter *converter)
{
    int sign = 0, fill = 0;
    long width = converter->word.bits <= 8 ? 8 : converter->word.bits <= 16 ? 16 : 32;
    const yaml_tree *at;
    bool good = take_keys(r, node, &keys_word, converter);
    converter->align_count = 1;
    if ((at = yaml_get(node, "align")) != NULL)
        good = read_aligns(r, at, converter) && good;
    if ((at = yaml_get(node, "in")) != NULL)
        good = read_number(r, at, "the width of a word", converter->word.bits, 32, &width) && good;
    if ((at = yaml_get(node, "sign")) != NULL)
        good = take_word(r, at, key_of(&keys_word, "sign"), &sign) && good;
    if ((at = yaml_get(node, "fill")) != NULL)
        good = take_word(r, at, key_of(&keys_word, "fill"), &fill) && good;
    if (good && converter->bytes == TL_DELIVERED_HIGH_ONLY && converter->word.bits > 8) {
        report_error(r, "unknown-word", yaml_get(node, "bytes")->place,
                     "of %d bits no more than 8 come in the high byte alone: it is an ADC of 8 bits then",
                     converter->word.bits);
        good = false;
    }
    converter->word.align = (uint8_t)converter->aligns[0]; /* in the order of tl_word_align */
    converter->word.width = (uint8_t)width;
    converter->word.sign = (uint8_t)sign;
    converter->word.sign_filled = fill == 1;
    if (good && converter->word.align == TL_WORD_STRETCHED && sign != 0) {
        report_error(r, "unknown-word", node->place, "a stretched word has no sign");
        good = false;
    }
    return good;
}

/* Volts of its own, a supply of the board, or for a converter on a bus the word `supply`. */
static bool read_reference(reader *r, const yaml_tree *value, tl_reference *reference)
{
    const tl_supply *supplies = r->rails != NULL ? *r->rails : NULL;
    const int count = r->rails != NULL ? *r->rail_count : 0;
    tl_located volts = {0};
    reference->supply = TL_NONE;
    if (value->kind == YAML_TEXT && count == 0 && strcmp(value->text, "supply") == 0) {
        reference->supply = TL_REFERENCE_OWN_SUPPLY;
        return true;
    }
    for (int s = 0; value->kind == YAML_TEXT && s < count; s++) {
        if (strcmp(supplies[s].name, value->text) == 0) {
            reference->supply = s;
            return true;
        }
    }
    if (!read_quantity(r, value, TL_DIM_VOLT, &volts))
        return false;
    reference->volts = volts.value;
    if (volts.value.low > 0)
        return true;
    report_error(r, "bad-quantity", value->place, "a reference must be above 0 V");
    return false;
}

static bool read_references(reader *r, const yaml_tree *node, tl_converter *converter)
{
    if (node->kind != YAML_MAP || node->count == 0) {
        report_error(r, "wrong-shape", node->place,
                     "references are written as names with a supply or volts: {logic: logic}");
        return false;
    }
    bool good = true;
    for (int i = 0; i < node->count; i++) {
        tl_reference reference = {0};
        const char *name = NULL;
        if (!read_text(r, &node->items[2 * i], "the name of a reference", &name)) {
            good = false;
            continue;
        }
        good = read_reference(r, &node->items[2 * i + 1], &reference) && good;
        reference.name = tl_copy_text(name);
        converter->references =
            tl_grow(converter->references, (size_t)converter->reference_count, sizeof reference);
        converter->references[converter->reference_count++] = reference;
    }
    return good;
}

static bool read_ranges(reader *r, const yaml_tree *node, tl_converter *converter)
{
    const yaml_tree *at;
    for (int i = 0; (at = nth_of(node, i)) != NULL; i++) {
        tl_located range = {0};
        if (i == TL_RANGES_MOST) {
            report_error(r, "bad-number", at->place, "more than %d ranges", TL_RANGES_MOST);
            return false;
        }
        if (!read_quantity(r, at, TL_DIM_VOLT, &range))
            return false;
        if (!(range.value.high > 0 && (range.value.low == 0 || range.value.low == -range.value.high))) {
            report_error(r, "bad-quantity", at->place,
                         "a range lies around 0 V or begins there: ±0.1 V, 0 V .. 5 V");
            return false;
        }
        converter->ranges[converter->range_count++] = range.value;
    }
    return true;
}

static bool read_sampling(reader *r, const yaml_tree *node, tl_converter *converter)
{
    static const char *const starts[] = {"unknown", "last", NULL};
    const yaml_tree *start = yaml_get(node, "starts-from");
    tl_text_error ignored;
    tl_quantity volts;
    int choice = 0;
    bool good = take_keys(r, node, &keys_sampling, converter);
    if (!good)
        return false;
    if (start != NULL && start->kind == YAML_TEXT &&
        tl_quantity_read(start->text, TL_DIM_VOLT, &volts, &ignored))
        converter->precharge = volts.nominal;
    else if (start != NULL)
        good = read_choice(r, start, "starts-from", starts, &choice) && good;
    converter->starts_from_last = choice == 1;
    if (good && (converter->sample_farads <= 0 || converter->switch_ohms <= 0)) {
        report_error(r, "bad-quantity", node->place, "the sampling capacitor and its switch must be above 0");
        return false;
    }
    return good;
}

static bool read_acquisitions(reader *r, const yaml_tree *node, tl_converter *converter)
{
    const int count = node->kind == YAML_LIST ? node->count : 1;
    if (count < 1 || count > TL_ACQUISITIONS_MOST) {
        report_error(r, "wrong-shape", node->place, "acquisition lists 1 to %d times", TL_ACQUISITIONS_MOST);
        return false;
    }
    for (int i = 0; i < count; i++) {
        const yaml_tree *item = nth_of(node, i);
        double *seconds = &converter->acquisition[i];
        if (!read_value(r, item, TL_DIM_SECOND, seconds))
            return false;
        if (*seconds <= 0 || *seconds > 1 || (i > 0 && *seconds <= seconds[-1])) {
            report_error(r, "bad-quantity", item->place, "acquisition times rise, above 0 and up to 1 s");
            return false;
        }
    }
    converter->acquisition_count = count;
    return true;
}

static bool read_bits(reader *r, const yaml_tree *node, tl_converter *converter)
{
    const long most = converter->bus == TL_BUS_NONE ? 16 : 24;
    const yaml_tree *at;
    bool good = true;
    for (int i = 0; i < TL_RANGES_MOST && (at = nth_of(node, i)) != NULL; i++)
        good = read_number(r, at, "bits", 4, most, &converter->bits[converter->bits_count++]) && good;
    converter->word.bits = (uint8_t)converter->bits[0];
    return good && converter->bits_count > 0;
}

void scale_errors(tl_converter *part, double factor)
{
    part->offset *= factor;
    part->gain *= factor;
    part->nonlinearity *= factor;
    part->noise *= factor;
}

static bool read_errors(reader *r, const yaml_tree *errors, tl_converter *converter)
{
    const bool good = take_keys(r, errors, &keys_errors, converter);
    if (converter->errors_bits > 0)
        scale_errors(converter, ldexp(1, converter->word.bits - (int)converter->errors_bits));
    return good;
}

/* Longer than any converter takes; a bound in microseconds has room for it. */
static bool is_conversion_time(reader *r, const yaml_tree *at, double seconds)
{
    if (at == NULL || (seconds >= 0 && seconds <= CONVERSION_LONGEST))
        return true;
    report_error(r, "bad-quantity", at->place, "a conversion takes 0 s to %g s", CONVERSION_LONGEST);
    return false;
}

bool read_converter_parts(reader *r, const yaml_tree *node, tl_converter *converter)
{
    int step = 0;
    const yaml_tree *at;
    converter->place = node->place;
    converter->precharge = NAN;
    bool good = read_bits(r, yaml_get(node, "bits"), converter);
    good = take_word(r, yaml_get(node, "steps"), key_of(&keys_converter, "steps"), &step) && good;
    converter->steps = step == 0 ? TL_STEPS_HALF : TL_STEPS_FULL;
    converter->begin = step == 0 ? 0.5 : 0;
    good = good && read_word(r, yaml_get(node, "word"), converter);
    good = is_conversion_time(r, yaml_get(node, "conversion"), converter->conversion) && good;
    converter->set_bits = converter->word.bits;
    converter->set_align = converter->word.align;
    if ((at = yaml_get(node, "references")) != NULL)
        good = read_references(r, at, converter) && good;
    if ((at = yaml_get(node, "ranges")) != NULL)
        good = read_ranges(r, at, converter) && good;
    if ((at = yaml_get(node, "sampling")) != NULL)
        good = read_sampling(r, at, converter) && good;
    if ((at = yaml_get(node, "acquisition")) != NULL)
        good = read_acquisitions(r, at, converter) && good;
    if ((at = yaml_get(node, "registers")) != NULL)
        good = read_registers(r, at, converter) && good;
    if ((at = yaml_get(node, "errors")) != NULL)
        good = read_errors(r, at, converter) && good;
    return good;
}
