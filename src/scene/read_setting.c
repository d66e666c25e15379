/* SPDX-License-Identifier: MIT */
/* Faults of converters' settings. */
#include "scene/fault_names.h"
#include <math.h>
#include <string.h>

static bool find_converter(const finder *f, const yaml_tree *node, int *found)
{
    if (!is_a_name(f, node, "an ADC's name"))
        return false;
    for (int i = 0; i < f->plan->converter_count; i++) {
        if (strcmp(f->plan->converters[i].name, node->text) == 0) {
            *found = i;
            return true;
        }
    }
    return unknown_name(f, node, "converter", NULL);
}

static bool read_reference(const finder *f, const yaml_tree *node, const tl_converter *part, int *reference)
{
    for (int i = 0; node->kind == YAML_TEXT && i < part->reference_count; i++) {
        if (strcmp(part->references[i].name, node->text) == 0) {
            *reference = i;
            return true;
        }
    }
    report_error(f->r, "unknown-name", node->place, "this ADC has no such reference");
    return false;
}

static bool read_range(const finder *f, const yaml_tree *node, const tl_converter *part, int *range)
{
    tl_located written = {0};
    if (!read_quantity(f->r, node, TL_DIM_VOLT, &written))
        return false;
    for (int i = 0; i < part->range_count; i++) {
        if (part->ranges[i].high == written.value.high && part->ranges[i].low == written.value.low) {
            *range = i;
            return true;
        }
    }
    report_error(f->r, "unknown-name", node->place, "this ADC has no such range");
    return false;
}

/* A stretched word repeats the bits of its code, which a signed one cannot. */
static bool read_align(const finder *f, const yaml_tree *node, const tl_converter *part, int *align)
{
    static const char *const aligns[] = {"right", "left", "stretched", NULL};
    if (!read_choice(f->r, node, "an alignment", aligns, align))
        return false;
    if (*align == TL_WORD_STRETCHED && part->word.sign != TL_WORD_UNSIGNED) {
        report_error(f->r, "no-effect", node->place, "a signed result cannot be stretched");
        return false;
    }
    return true;
}

/* What only a device on I2C has. */
static bool is_on_i2c(const finder *f, const yaml_tree *node, const tl_converter *part, const char *what)
{
    if (part->bus != TL_BUS_I2C)
        report_error(f->r, "no-effect", node->place, "this ADC has no %s: it is not on I2C", what);
    return part->bus == TL_BUS_I2C;
}

bool read_setting(const finder *f, const yaml_tree *node, tl_scene_fault *fault)
{
    tl_scene_setting *s = &fault->setting;
    const yaml_tree *at;
    bool good = find_converter(f, yaml_get(node, "setting"), &s->converter);
    if (!good)
        return false;
    const tl_converter *part = f->plan->converters[s->converter].part;
    if ((at = yaml_get(node, "reference")) != NULL)
        good = read_reference(f, at, part, &s->reference);
    if ((at = yaml_get(node, "range")) != NULL)
        good = read_range(f, at, part, &s->range) && good;
    if ((at = yaml_get(node, "align")) != NULL)
        good = read_align(f, at, part, &s->align) && good;
    if ((at = yaml_get(node, "acquisition")) != NULL)
        good = read_value(f->r, at, TL_DIM_SECOND, &s->acquisition) && good;
    if ((at = yaml_get(node, "address")) != NULL)
        good = is_on_i2c(f, at, part, "address") && read_address(f->r, at, &s->address) && good;
    if ((at = yaml_get(node, "stretch")) != NULL)
        good = is_on_i2c(f, at, part, "clock to hold") && read_value(f->r, at, TL_DIM_SECOND, &s->stretch) &&
               good;
    if (good && s->reference == TL_NONE && s->range == TL_NONE && s->align == TL_NONE &&
        isnan(s->acquisition) && s->address < 0 && s->stretch == 0) {
        report_error(f->r, "missing-key", node->place,
                     "say what is set: reference, range, align, acquisition, address or stretch");
        return false;
    }
    return good;
}

/* Bits of the converter of an analog signal. */
static int bits_of(const finder *f, const tl_signal *s)
{
    return f->plan->converters[f->plan->pins[s->pin].converter].part->word.bits;
}

/* An analog signal of a converter that has this name: all of them are misread. NULL: there is none. */
static const tl_signal *first_of_converter(const finder *f, const char *name, tl_scene_fault *fault)
{
    for (int i = 0; i < f->plan->signal_count; i++) {
        const tl_signal *s = &f->plan->signals[i];
        const int converter = s->analog ? f->plan->pins[s->pin].converter : TL_NONE;
        if (converter == TL_NONE || strcmp(f->plan->converters[converter].name, name) != 0)
            continue;
        fault->signal = TL_NONE;
        fault->setting.converter = converter;
        return s;
    }
    return NULL;
}

bool read_misread(const finder *f, const yaml_tree *node, tl_scene_fault *fault)
{
    static const char *const ways[] = {"swapped-bytes",  "other-sign",  "low-byte", "high-byte",
                                       "inverted",       "bit-less",    "bit-more", "other-steps",
                                       "whole-division", "whole-ratio", NULL};
    const yaml_tree *what = yaml_get(node, "misread"), *as = yaml_get(node, "as"),
                    *factor = yaml_get(node, "factor");
    int way = TL_MISREAD_FACTOR;
    if (!is_a_name(f, what, "a signal's name"))
        return false;
    const tl_signal *s = tl_plan_signal(f->plan, what->text, &fault->signal);
    if (s == NULL)
        s = first_of_converter(f, what->text, fault);
    if (s == NULL)
        return unknown_name(f, what, "signal", NULL);
    if (!s->analog) {
        report_error(f->r, "wrong-shape", what->place, "'%.80s' has no counts: it is digital", what->text);
        return false;
    }
    if ((as == NULL) == (factor == NULL)) {
        report_error(f->r, "missing-key", node->place, "say what goes wrong: either 'as' or 'factor'");
        return false;
    }
    if (as != NULL && !read_choice(f->r, as, "a mistake", ways, &way))
        return false;
    fault->misread = (tl_scene_misread)way;
    double percent = 0;
    if (factor != NULL && !read_value(f->r, factor, TL_DIM_PERCENT, &percent))
        return false;
    if (factor != NULL && !(percent >= 0.1 && percent <= 100000 && percent != 100)) {
        report_error(f->r, "bad-quantity", factor->place,
                     "a wrong factor is 0.1 %% to 100000 %%, and not 100 %%");
        return false;
    }
    fault->factor = percent / 100;
    if (bits_of(f, s) > 8 ||
        (way != TL_MISREAD_SWAPPED_BYTES && way != TL_MISREAD_LOW_BYTE && way != TL_MISREAD_HIGH_BYTE))
        return true;
    report_error(f->r, "no-effect", as->place, "the ADC of '%.80s' has no more than one byte", what->text);
    return false;
}
