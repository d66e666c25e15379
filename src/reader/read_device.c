/* SPDX-License-Identifier: MIT */
/* Reading the files of parts that a plan adds to a board: a converter on a bus, a multiplexer. */
#include "base/memory.h"
#include "reader/read_board.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/* --- a converter on a bus --- */

static bool read_inputs(reader *r, const yaml_tree *node, tl_converter *converter)
{
    bool good = check_list(r, node, "the inputs");
    for (int i = 0; good && i < node->count; i++) {
        int names = 0;
        good = read_name_range(r, &node->items[i], &names);
        for (int n = 0; good && n < names; n++) {
            if (converter->input_count == TL_INPUTS_MOST) {
                report_error(r, "bad-number", node->items[i].place, "more than %d inputs", TL_INPUTS_MOST);
                return false;
            }
            converter->inputs[converter->input_count++] = name_of_range(node->items[i].text, n);
        }
    }
    if (good && converter->input_count == 0) {
        report_error(r, "missing-key", node->place, "an ADC has at least one input");
        return false;
    }
    return good;
}

static int input_named(const tl_converter *converter, const char *name)
{
    for (int i = 0; i < converter->input_count; i++) {
        if (strcmp(converter->inputs[i], name) == 0)
            return i;
    }
    return TL_NONE;
}

static const char *input_name(const void *list, int i)
{
    return ((const tl_converter *)list)->inputs[i];
}

static bool read_pair(reader *r, const yaml_tree *key, const yaml_tree *node, tl_converter *converter)
{
    const char *name = NULL;
    if (!read_text(r, key, "the name of a pair", &name) || !check_list(r, node, "a pair of inputs"))
        return false;
    if (node->count != 2 || converter->pair_count == TL_INPUTS_MOST) {
        report_error(r, "wrong-shape", node->place,
                     "a pair is two inputs, the positive one first: [in-0, in-1]");
        return false;
    }
    for (int e = 0; e < 2; e++) {
        const char *input = NULL;
        if (!read_text(r, &node->items[e], "an input", &input))
            return false;
        converter->pair_of[converter->pair_count][e] = input_named(converter, input);
        if (converter->pair_of[converter->pair_count][e] == TL_NONE) {
            const char *meant = nearest_name(input, input_name, converter, converter->input_count);
            report_error(r, "unknown-word", node->items[e].place, "there is no input '%.40s'%s%s%s", input,
                         meant != NULL ? ": did you mean '" : "", meant != NULL ? meant : "",
                         meant != NULL ? "'?" : "");
            return false;
        }
    }
    converter->pairs[converter->pair_count++] = tl_copy_text(name);
    return true;
}

static bool read_pairs(reader *r, const yaml_tree *node, tl_converter *converter)
{
    bool good = node->kind == YAML_MAP;
    if (!good)
        report_error(r, "wrong-shape", node->place, "pairs are written as names with two inputs");
    for (int i = 0; good && i < node->count; i++)
        good = read_pair(r, &node->items[2 * i], &node->items[2 * i + 1], converter);
    return good;
}

static const char *register_name(const void *list, int i)
{
    return ((const tl_register *)list)[i].name;
}

/* A register by its name, which then has an address, or by that. index: TL_NONE where the file does not list
 * it. */
static bool find_register(reader *r, tl_place place, const char *text, const tl_converter *part, int *number,
                          int *index)
{
    char *end = NULL;
    const long found = strtol(text, &end, 0);
    const bool named = end == text || *end != '\0';
    *index = TL_NONE;
    for (int i = 0; i < part->register_count; i++) {
        if (named ? strcmp(part->registers[i].name, text) == 0 : part->registers[i].address == found)
            *index = i;
    }
    if (named && *index == TL_NONE) {
        const char *meant = nearest_name(text, register_name, part->registers, part->register_count);
        report_error(r, "unknown-word", place, "there is no register '%.40s'%s%s%s", text,
                     meant != NULL ? ": did you mean '" : "", meant != NULL ? meant : "",
                     meant != NULL ? "'?" : "");
        return false;
    }
    if (named && part->registers[*index].address < 0) {
        report_error(r, "missing-key", place, "register '%.40s' has no 'address'", text);
        return false;
    }
    if (!named && (found < 0 || found > 255)) {
        report_error(r, "bad-number", place, "a register is a name, or a number from 0 to 255, such as 0x1b");
        return false;
    }
    *number = named ? (int)part->registers[*index].address : (int)found;
    return true;
}

/* Where a file gives no addresses, the settings are the only register that it lists. */
static bool read_register_of(reader *r, const yaml_tree *node, const tl_converter *part, int *number,
                             int *index)
{
    const char *text = NULL;
    if (!read_text(r, node, "a register", &text) || !find_register(r, node->place, text, part, number, index))
        return false;
    if (*index == TL_NONE && part->register_count == 1 && part->registers[0].address < 0)
        *index = 0;
    return true;
}

/* `bit 7`, `bit 15 of status`, `bit 3 of status is 0`. */
static bool read_ready(reader *r, const yaml_tree *node, const tl_converter *part, tl_frame *frame)
{
    const char *text = NULL;
    char reg[68] = "", level = '1';
    int bit = 0, end = 0;
    if (!read_text(r, node, "the ready bit, such as 'bit 7'", &text))
        return false;
    if (sscanf(text, "bit %2d%n", &bit, &end) == 1) {
        const char *rest = text + end;
        if (sscanf(rest, " of %67s%n", reg, &end) == 1)
            rest += end;
        if (sscanf(rest, " is %c%n", &level, &end) == 1)
            rest += end;
        if (*rest == '\0' && bit >= 0 && bit < 32 && (level == '0' || level == '1')) {
            frame->ready_bit = bit;
            frame->ready_when = level == '1';
            frame->ready = frame->settings;
            frame->ready_register = frame->settings_register;
            const int own = frame->settings_register;
            return reg[0] == '\0' || (own != TL_NONE && strcmp(part->registers[own].name, reg) == 0) ||
                   find_register(r, node->place, reg, part, &frame->ready, &frame->ready_register);
        }
    }
    report_error(r, "bad-number", node->place,
                 "the ready bit is written 'bit 7', 'bit 15 of status' or 'bit 3 of status is 0'");
    return false;
}

static bool is_sendable(const tl_converter *part, const char *text)
{
    static const char *const words[] = {"0", "1", "single", "channel"};
    int index = 0;
    for (size_t i = 0; i < sizeof words / sizeof words[0]; i++) {
        if (strcmp(text, words[i]) == 0)
            return true;
    }
    return tl_converter_field(part, text, &index) != NULL;
}

static bool read_send(reader *r, const yaml_tree *node, const tl_converter *part, tl_frame *frame)
{
    bool good = check_list(r, node, "what is sent");
    if (good && node->count > TL_SENDS_MOST) {
        report_error(r, "bad-number", node->place, "more than %d bits and fields", TL_SENDS_MOST);
        return false;
    }
    for (int i = 0; good && i < node->count; i++) {
        const char *text = NULL;
        good = read_text(r, &node->items[i], "a bit or a field", &text);
        if (good && !is_sendable(part, text)) {
            report_error(
                r, "unknown-word", node->items[i].place,
                "what is sent is 0, 1, 'single' (1 for one input, 0 for a pair), 'channel' (its bits) "
                "or a field of the file's registers");
            good = false;
        }
        if (good)
            frame->send[frame->send_count++] = tl_copy_text(text);
    }
    return good;
}

/* `{mode: once, rate: 3}`: values by name or number, of fields that the file lists. */
static bool read_also(reader *r, const yaml_tree *node, const tl_converter *part, tl_frame *frame)
{
    if (node->kind != YAML_MAP) {
        report_error(r, "wrong-shape", node->place, "expected fields with their values: {rate: fast}");
        return false;
    }
    for (int i = 0; i < node->count; i++) {
        const yaml_tree *key = &node->items[2 * i], *at = &node->items[2 * i + 1];
        const char *name = NULL, *value = NULL;
        char why[160];
        int index = 0;
        if (!read_text(r, key, "the name of a field", &name) || !read_text(r, at, "a value of it", &value))
            return false;
        const tl_field *field = tl_converter_field(part, name, &index);
        if (field == NULL) {
            report_error(r, "unknown-word", key->place, "no register has a field '%.40s'", name);
            return false;
        }
        if (!tl_field_set(field, value, &frame->also[index], why)) {
            report_error(r, "unknown-word", at->place, "%s", why);
            return false;
        }
    }
    return true;
}

static bool read_frame(reader *r, const yaml_tree *node, const tl_converter *part, tl_frame *frame)
{
    const yaml_tree *at;
    int index = 0;
    bool good = take_keys(r, node, &keys_frame, frame);
    if ((at = yaml_get(node, "settings")) != NULL)
        good = read_register_of(r, at, part, &frame->settings, &frame->settings_register) && good;
    if ((at = yaml_get(node, "result")) != NULL)
        good = read_register_of(r, at, part, &frame->result, &index) && good;
    if ((at = yaml_get(node, "ready")) != NULL)
        good = read_ready(r, at, part, frame) && good;
    if ((at = yaml_get(node, "also")) != NULL)
        good = read_also(r, at, part, frame) && good;
    if ((at = yaml_get(node, "send")) != NULL)
        good = read_send(r, at, part, frame) && good;
    const char *const needed = part->bus == TL_BUS_I2C ? "result" : "take";
    if (good && yaml_get(node, needed) == NULL) {
        report_error(r, "missing-key", node->place, "a frame on this bus needs '%s'", needed);
        good = false;
    }
    return good;
}

/* What comes over the bus is the word, or its lower end where the word is aligned right. */
static bool word_fits(reader *r, const yaml_tree *frame, const tl_converter *part)
{
    static const char *const aligns[] = {"right", "left", "stretched"};
    const yaml_tree *take = yaml_get(frame, "take");
    const int bits = part->word.bits, width = part->word.width, taken = part->frame.take;
    if (part->bus != TL_BUS_SPI || take == NULL)
        return true;
    const bool right = part->word.align == TL_WORD_RIGHT;
    if (right ? taken >= bits && taken <= width : taken == width)
        return true;
    if (right)
        report_error(r, "word-unfit", take->place,
                     "%d bits are taken: a code of %d bits in a word of %d wants %d to %d of them", taken,
                     bits, width, bits, width);
    else
        report_error(r, "word-unfit", take->place,
                     "%d bits are taken: a word of %d bits that is %s%s wants all of them", taken, width,
                     part->word.align == TL_WORD_LEFT ? "aligned " : "", aligns[part->word.align]);
    return false;
}

static bool read_converter(reader *r, const yaml_tree *root, tl_converter *converter)
{
    int bus = 0;
    const char *title = "converter";
    const yaml_tree *at;
    if (!read_head(r, root, "converter") || !check_map(r, root, &keys_converter_file))
        return false;
    converter->limits = unknown_limits();
    converter->frame = (tl_frame){.settings = TL_NONE,
                                  .result = TL_NONE,
                                  .settings_register = TL_NONE,
                                  .ready = TL_NONE,
                                  .ready_register = TL_NONE,
                                  .ready_bit = TL_NONE};
    bool good = take_present(r, root, &keys_converter_file, converter);
    good = take_word(r, yaml_get(root, "bus"), key_of(&keys_converter_file, "bus"), &bus) && good;
    converter->bus = bus == 0 ? TL_BUS_I2C : TL_BUS_SPI;
    if ((at = yaml_get(root, "title")) != NULL)
        good = read_text(r, at, "the title", &title) && good;
    converter->name = tl_copy_text(title);
    good = read_converter_parts(r, root, converter) && good;
    good = read_inputs(r, yaml_get(root, "inputs"), converter) && good;
    if (good && (at = yaml_get(root, "pairs")) != NULL)
        good = read_pairs(r, at, converter);
    if ((at = yaml_get(root, "frame")) != NULL)
        good = read_frame(r, at, converter, &converter->frame) && word_fits(r, at, converter) && good;
    if (good && converter->range_count == 0 && converter->reference_count == 0) {
        report_error(r, "missing-key", root->place,
                     "an ADC needs 'ranges' or 'references': what its span is");
        good = false;
    }
    return good;
}

tl_converter *converter_load_from(const char *path, tl_place asked_from, tl_report *report)
{
    reader r = {.report = report, .path = path};
    const yaml_tree *root = yaml_read_file(path, asked_from, report);
    if (root == NULL)
        return NULL;
    tl_converter *converter = tl_alloc(1, sizeof *converter);
    bool good = read_converter(&r, root, converter);
    good = check_all(&r, root, &keys_converter_file) && good;
    if (good)
        return converter;
    tl_converter_free(converter);
    return NULL;
}

tl_converter *tl_converter_load(const char *path, tl_report *report)
{
    return converter_load_from(path, (tl_place){-1, 0, 0}, report);
}

/* --- a multiplexer --- */

static bool read_mux(reader *r, const yaml_tree *root, tl_mux_part *part)
{
    const char *title = NULL;
    if (!read_head(r, root, "mux") || !check_map(r, root, &keys_mux_file))
        return false;
    part->highest = (tl_level){0, 1};
    bool good = read_text(r, yaml_get(root, "title"), "the title", &title);
    part->title = tl_copy_text(title != NULL ? title : "");
    return take_present(r, root, &keys_mux_file, part) && good;
}

tl_mux_part *mux_part_load_from(const char *path, tl_place asked_from, tl_report *report)
{
    reader r = {.report = report, .path = path};
    const yaml_tree *root = yaml_read_file(path, asked_from, report);
    if (root == NULL)
        return NULL;
    tl_mux_part *part = tl_alloc(1, sizeof *part);
    bool good = read_mux(&r, root, part);
    good = check_all(&r, root, &keys_mux_file) && good;
    if (good)
        return part;
    tl_mux_part_free(part);
    return NULL;
}

tl_mux_part *tl_mux_part_load(const char *path, tl_report *report)
{
    return mux_part_load_from(path, (tl_place){-1, 0, 0}, report);
}
