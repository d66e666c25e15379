/* SPDX-License-Identifier: MIT */
/* What a plan chooses of what a converter offers: reference, range, resolution, alignment, upper bits alone.
 */
#include "reader/read_board.h"
#include "reader/read_plan.h"
#include <math.h>
#include <stdio.h>

/* A range is meant where it is written alike: `±0.1 V`. */
static bool read_range(reader *r, const yaml_tree *node, const tl_converter *part, int *range)
{
    tl_located wanted = {0};
    char all[160] = "";
    size_t length = 0;
    if (!read_quantity(r, node, TL_DIM_VOLT, &wanted))
        return false;
    for (int i = 0; i < part->range_count; i++) {
        if (fabs(part->ranges[i].low - wanted.value.low) < 1e-9 &&
            fabs(part->ranges[i].high - wanted.value.high) < 1e-9) {
            *range = i;
            return true;
        }
        if (length < sizeof all)
            length += (size_t)snprintf(all + length, sizeof all - length, "%s%g V .. %g V", i > 0 ? ", " : "",
                                       part->ranges[i].low, part->ranges[i].high);
    }
    report_error(r, "unknown-word", node->place, "the ADC offers no such range%s%s",
                 length > 0 ? "; it has: " : "", all);
    return false;
}

bool read_span_choice(reader *r, const yaml_tree *node, const tl_plan_converter *converter, int *reference,
                      int *range)
{
    const tl_converter *part = converter->part;
    const char *choices[17] = {NULL};
    const yaml_tree *at;
    bool good = true;
    for (int i = 0; i < part->reference_count && i < 16; i++)
        choices[i] = part->references[i].name;
    if ((at = yaml_get(node, "reference")) != NULL)
        good = read_choice(r, at, "the reference", choices, reference);
    if ((at = yaml_get(node, "range")) != NULL)
        good = read_range(r, at, part, range) && good;
    return good;
}

/* Its upper bits alone are read: a converter of this many bits that cuts off. That is the full kind of step,
 * and as far lower as a code of all its bits begins below itself. */
static bool read_top(reader *r, const yaml_tree *node, tl_converter *part)
{
    long top = 0;
    if (!read_number(r, node, "top", 4, part->word.bits - 1, &top))
        return false;
    if (part->word.align == TL_WORD_STRETCHED) {
        report_error(r, "unknown-word", node->place,
                     "a stretched word repeats its upper bits: align it left");
        return false;
    }
    const double cut = ldexp(1, (int)(part->word.bits - top));
    part->begin /= cut;
    part->steps = TL_STEPS_FULL;
    scale_errors(part, 1 / cut);
    part->word.bits = (uint8_t)top;
    part->word.width = (uint8_t)(top <= 8 ? 8 : top <= 16 ? 16 : 32);
    part->word.align = TL_WORD_RIGHT;
    return true;
}

/* The choice among the resolutions and alignments that the part offers. Each converter of a plan has a part
 * of its own, so that a choice can be written there. */
bool read_word_choice(reader *r, const yaml_tree *node, tl_plan_converter *converter, tl_converter *part)
{
    const known_key *aligns = key_of(&keys_own_converter, "align");
    const yaml_tree *at;
    long bits = part->bits[0];
    int align = part->align_count > 0 ? part->aligns[0] : 0;
    bool good = true;
    if ((at = yaml_get(node, "bits")) != NULL) {
        good = read_number(r, at, "bits", 4, 24, &bits);
        if (good && !tl_converter_offers_bits(part, bits)) {
            report_error(r, "unknown-word", at->place, "the ADC does not offer %ld bits", bits);
            good = false;
        }
    }
    if ((at = yaml_get(node, "align")) != NULL) {
        good = take_word(r, at, aligns, &align) && good;
        if (good && !tl_converter_offers_align(part, align)) {
            report_error(r, "unknown-word", at->place, "the ADC does not align '%s'", at->text);
            good = false;
        }
    }
    if (part->errors_bits > 0)
        scale_errors(part, ldexp(1, (int)bits - part->word.bits));
    part->word.bits = (uint8_t)bits;
    part->word.align = (uint8_t)align;
    part->set_bits = (int)bits;
    part->set_align = align;
    if (good && (at = yaml_get(node, "top")) != NULL)
        good = read_top(r, at, part);
    converter->bits = part->word.bits;
    return good;
}
