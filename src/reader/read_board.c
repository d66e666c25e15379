/* SPDX-License-Identifier: MIT */
/* Reading a board file. */
#include "reader/read_board.h"
#include "base/memory.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/* --- pins --- */

/* A number for each name of a range: the first, and how far from one to the next; first is -1 for none. */
typedef struct {
    int first, stride;
} counting;

static int counted(counting c, int i)
{
    return c.first < 0 ? -1 : c.first + i * c.stride;
}

/* Either one number for all, or a range that counts along with the names. */
static bool read_counting(reader *r, const yaml_tree *node, const char *what, int names, long most,
                          counting *found)
{
    const char *text = NULL;
    char *end = NULL;
    if (!read_text(r, node, what, &text))
        return false;
    const long from = strtol(text, &end, 10);
    const char *rest = end + strspn(end, " ");
    found->stride = 0;
    if (end != text && strncmp(rest, "..", 2) == 0) {
        char *stop = NULL;
        const long to = strtol(rest + 2, &stop, 10);
        const bool in_range = from >= 0 && to <= most;
        if (in_range && *stop == '\0' && to - from + 1 == names) {
            *found = (counting){(int)from, 1};
            return true;
        }
        if (in_range)
            report_error(r, "bad-number", node->place, "%s: expected %d numbers, one per name", what, names);
        else
            report_error(r, "bad-number", node->place, "%s: expected numbers from 0 to %ld", what, most);
        return false;
    }
    long number = 0;
    if (!read_number(r, node, what, 0, most, &number))
        return false;
    found->first = (int)number;
    if (names == 1)
        return true;
    report_error(r, "bad-number", node->place, "%s: %d pins cannot all have number %ld", what, names, number);
    return false;
}

static bool read_abilities(reader *r, const yaml_tree *node, tl_pin *pin)
{
    static const char *const abilities[] = {"digital", "i2c", "spi-clock", "spi-in", "spi-out", "spi", NULL};
    bool good = check_list(r, node, "what a pin can do");
    pin->digital = false;
    for (int i = 0; good && i < node->count; i++) {
        int choice = 0;
        good = read_choice(r, &node->items[i], "an ability", abilities, &choice);
        pin->digital = pin->digital || (good && choice == 0);
        pin->i2c = pin->i2c || (good && choice == 1);
        if (good && choice >= 2)
            pin->spi |= choice == 5 ? 7u : 1u << (choice - 2);
    }
    return good;
}

/* What the board has on the pin: a lamp of this many volts behind this many ohms. */
static bool read_wired(reader *r, const yaml_tree *node, tl_pin *pin)
{
    pin->wired = true;
    return take_keys(r, node, &keys_wired, pin);
}

static bool read_pin(reader *r, const yaml_tree *key, const yaml_tree *node, const tl_pin_limits *usual,
                     tl_board *board)
{
    int names = 0;
    counting position = {-1, 0}, channel = {-1, 0}, duty = {-1, 0};
    tl_pin pin = {.place = key->place,
                  .rail = TL_PIN_NO_RAIL,
                  .digital = true,
                  .limits = *usual,
                  .converter = TL_NONE,
                  .second = TL_NONE,
                  .mux = TL_NONE,
                  .input = TL_NONE};
    const char *port = NULL;
    if (!read_name_range(r, key, &names) || !check_map(r, node, &keys_pin))
        return false;
    bool good = take_present(r, node, &keys_pin, &pin);
    good = read_limits(r, node, &pin.limits) && good;
    const yaml_tree *at;
    if ((at = yaml_get(node, "position")) != NULL)
        good = read_counting(r, at, "a position", names, 9999, &position) && good;
    if ((at = yaml_get(node, "channel")) != NULL)
        good = read_counting(r, at, "a channel", names, 255, &channel) && good;
    if ((at = yaml_get(node, "duty")) != NULL)
        good = read_counting(r, at, "a duty channel", names, 255, &duty) && good;
    if ((at = yaml_get(node, "wired")) != NULL)
        good = read_wired(r, at, &pin) && good;
    if ((at = yaml_get(node, "can")) != NULL)
        good = read_abilities(r, at, &pin) && good;
    if ((at = yaml_get(node, "port")) != NULL)
        good = read_text(r, at, "what a port needs to find the pin", &port) && good;
    if ((at = yaml_get(node, "rail")) != NULL) {
        int rail = -1;
        good = read_rail(r, at, true, &rail) && good;
        pin.rail = rail == TL_TO_GROUND ? TL_PIN_IS_GROUND : rail;
        pin.digital = false;
    }
    for (int i = 0; good && i < names; i++) {
        pin.name = name_of_range(key->text, i);
        pin.position = counted(position, i);
        pin.channel = counted(channel, i);
        pin.port = port != NULL ? tl_copy_text(port) : NULL;
        pin.converter = pin.channel >= 0 ? 0 : TL_NONE;
        pin.duty = counted(duty, i);
        for (int j = 0; j < board->pin_count && good; j++) {
            const tl_pin *other = &board->pins[j];
            if (strcmp(other->name, pin.name) == 0) {
                report_error(r, "key-twice", key->place, "the pin '%s' stands here twice", pin.name);
                good = false;
            } else if (pin.channel >= 0 && other->channel == pin.channel) {
                report_error(r, "channel-twice", key->place, "channel %d belongs to %s already", pin.channel,
                             other->name);
                good = false;
            }
        }
        board->pins = tl_grow(board->pins, (size_t)board->pin_count, sizeof *board->pins);
        board->pins[board->pin_count++] = pin;
    }
    if (board->pin_count > 256) {
        report_error(r, "bad-number", key->place, "more than 256 pins");
        good = false;
    }
    return good;
}

static bool read_pins(reader *r, const yaml_tree *node, const tl_pin_limits *usual, tl_board *board)
{
    if (node->kind != YAML_MAP) {
        report_error(r, "wrong-shape", node->place,
                     "pins are written as names with what they are: 'L4: {channel: 0}'");
        return false;
    }
    bool good = true;
    for (int i = 0; i < node->count; i++)
        good = read_pin(r, &node->items[2 * i], &node->items[2 * i + 1], usual, board) && good;
    return good;
}

/* --- header --- */

static bool read_header(reader *r, const yaml_tree *node, tl_board *board)
{
    bool good = check_list(r, node, "the header");
    board->header_rows = good ? node->count : 0;
    for (int i = 0; good && i < node->count; i++) {
        good = check_list(r, &node->items[i], "a row of the header");
        if (good && (node->items[i].count != node->items[0].count || node->items[i].count == 0)) {
            report_error(r, "wrong-shape", node->items[i].place, "all rows of the header are equally long");
            good = false;
        }
    }
    if (!good || node->count == 0)
        return good;
    board->header_columns = node->items[0].count;
    board->header =
        tl_alloc((size_t)board->header_rows * (size_t)board->header_columns, sizeof *board->header);
    for (int i = 0; i < board->header_rows * board->header_columns; i++) {
        const yaml_tree *item = &node->items[i / board->header_columns].items[i % board->header_columns];
        const char *name = NULL;
        if (!read_text(r, item, "the name of a pin", &name))
            return false;
        board->header[i] = tl_copy_text(name);
        bool known = false;
        for (int p = 0; p < board->pin_count; p++)
            known = known || strcmp(board->pins[p].name, name) == 0;
        if (!known) {
            report_error(r, "unknown-pin", item->place, "the header names '%.40s', but there is no such pin",
                         name);
            good = false;
        }
    }
    return good;
}

/* --- the whole --- */

/* A computer, say: its plans read volts by converters of their own. What stands in for it has no channel. */
static bool without_converter(reader *r, const yaml_tree *root, tl_board *board)
{
    for (int i = 0; i < board->pin_count; i++) {
        if (board->pins[i].channel >= 0) {
            report_error(r, "missing-key", root->place,
                         "pins have a 'channel', so the board needs 'converters'");
            return false;
        }
    }
    board->converter.name = tl_copy_text("(none)");
    board->converter.place = root->place;
    board->converter.word = (tl_word){.bits = 12, .width = 16};
    board->converter.references = tl_alloc(1, sizeof *board->converter.references);
    board->converter.references[0] = (tl_reference){.name = tl_copy_text("none"), .supply = 0};
    board->converter.reference_count = 1;
    board->converter.acquisition[0] = board->converter.conversion = 1e-6;
    board->converter.acquisition_count = 1;
    board->converter.precharge = NAN;
    return true;
}

/* Whether they are valid words is checked with its row. */
static bool read_template(reader *r, const yaml_tree *node, tl_board *board)
{
    if (!check_list(r, node, "what is the template's"))
        return false;
    for (int i = 0; i < node->count; i++) {
        const char *before = board->from_template != NULL ? board->from_template : "";
        if (node->items[i].kind == YAML_TEXT)
            tl_finding_text(&board->from_template, "%s%s%s", before, before[0] != '\0' ? ", " : "",
                            node->items[i].text);
    }
    board->template_place = node->place;
    return true;
}

static bool read_board(reader *r, const yaml_tree *root, tl_board *board)
{
    const char *title = NULL;
    tl_pin_limits usual = unknown_limits();
    if (!read_head(r, root, "board") || !check_map(r, root, &keys_board))
        return false;
    bool good = read_text(r, yaml_get(root, "title"), "the board's name", &title);
    if (good)
        board->title = tl_copy_text(title);
    good = read_supplies(r, yaml_get(root, "supplies"), NULL, &board->supplies, &board->supply_count, -1) &&
           good;
    const yaml_tree *every = yaml_get(root, "every-pin");
    static const char *const needed[] = {"supply", "limits", "vil", "vih"};
    if (!good || !take_keys(r, every, &keys_limits, &usual) || !read_limits(r, every, &usual))
        return false;
    for (size_t i = 0; i < sizeof needed / sizeof needed[0]; i++) {
        if (yaml_get(every, needed[i]) == NULL) {
            report_error(r, "missing-key", every->place, "every-pin needs '%s'", needed[i]);
            good = false;
        }
    }
    board->usual = usual;
    board->total_amperes = INFINITY;
    board->duty_bits = 16;
    good = take_present(r, root, &keys_board, board) && good;
    good = read_pins(r, yaml_get(root, "pins"), &usual, board) && good;
    if (yaml_get(root, "template") != NULL)
        good = read_template(r, yaml_get(root, "template"), board) && good;
    if (yaml_get(root, "header") != NULL)
        good = read_header(r, yaml_get(root, "header"), board) && good;
    const yaml_tree *converters = yaml_get(root, "converters");
    if (converters == NULL)
        return without_converter(r, root, board) && good;
    board->has_converter = true;
    if (converters->kind != YAML_MAP || converters->count != 1 || converters->items[0].kind != YAML_TEXT) {
        report_error(r, "wrong-shape", converters->place, "a board has one ADC here: 'main: {bits: 12, ..}'");
        return false;
    }
    const yaml_tree *own = &converters->items[1];
    board->converter.name = tl_copy_text(converters->items[0].text);
    return take_keys(r, own, &keys_converter, &board->converter) &&
           read_converter_parts(r, own, &board->converter) && good;
}

tl_board *board_load_from(const char *path, tl_place asked_from, tl_report *report)
{
    const yaml_tree *root = yaml_read_file(path, asked_from, report);
    if (root == NULL)
        return NULL;
    tl_board *board = tl_alloc(1, sizeof *board);
    reader r = {
        .report = report, .path = path, .rails = &board->supplies, .rail_count = &board->supply_count};
    bool good = read_board(&r, root, board);
    good = check_all(&r, root, &keys_board) && good;
    if (good)
        return board;
    tl_board_free(board);
    return NULL;
}

void tl_file_kind(const char *path, char kind[16])
{
    char line[4200];
    FILE *stream = fopen(path, "rb");
    kind[0] = '\0';
    /* Behind comments and blank lines. */
    while (stream != NULL && fgets(line, sizeof line, stream) != NULL) {
        const size_t spaces = strspn(line, " \t\r\n");
        if (line[spaces] == '\0' || line[spaces] == '#')
            continue;
        if (sscanf(line + spaces, "tinyladder: %15s", kind) != 1)
            kind[0] = '\0';
        break;
    }
    if (stream != NULL)
        fclose(stream);
}

tl_board *tl_board_load(const char *path, tl_report *report)
{
    return board_load_from(path, (tl_place){-1, 0, 0}, report);
}

const tl_pin_limits *tl_board_usual_limits(const tl_board *board)
{
    return &board->usual;
}
