/* Reading a board file. */
#include "../net/memory.h"
#include "reader.h"
#include "registers.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static const known_key board_keys[] = {{"tinyladder", true}, {"title", true}, {"supplies", true},
                                       {"every-pin", true},  {"pins", true},  {"converters", true},
                                       {"header", false},    {NULL, false}};
static const known_key limit_keys[] = {{"supply", false},      {"limits", false},   {"leakage", false},
                                       {"capacitance", false}, {"vil", false},      {"vih", false},
                                       {"hysteresis", false},  {"internal", false}, {"drives", false},
                                       {"current", false},     {NULL, false}};
static const known_key pin_keys[] = {
    {"position", false},   {"channel", false},  {"can", false},         {"rail", false},    {"supply", false},
    {"limits", false},     {"leakage", false},  {"capacitance", false}, {"vil", false},     {"vih", false},
    {"hysteresis", false}, {"internal", false}, {"drives", false},      {"current", false}, {"duty", false},
    {"wired", false},      {NULL, false}};
static const known_key internal_keys[] = {{"up", false}, {"down", false}, {NULL, false}};
static const known_key wired_keys[] = {{"lamp", false}, {"series", false}, {NULL, false}};
static const known_key converter_keys[] = {
    {"bits", true},        {"steps", true},      {"word", true},    {"references", true}, {"sampling", true},
    {"acquisition", true}, {"conversion", true}, {"errors", false}, {"registers", false}, {NULL, false}};
static const known_key word_keys[] = {{"align", false}, {"in", false}, {NULL, false}};
static const known_key sampling_keys[] = {
    {"capacitor", true}, {"switch", true}, {"starts-from", false}, {NULL, false}};
static const known_key error_keys[] = {
    {"offset", false}, {"gain", false}, {"nonlinearity", false}, {"noise", false}, {NULL, false}};

/* --- pins --- */

/* The chip's own pulls. */
static bool read_internal(reader *r, const tree *node, tl_pin_limits *limits)
{
    tl_written up = {.value.nominal = NAN}, down = {.value.nominal = NAN};
    bool good = check_map(r, node, "internal", internal_keys);
    if (good && tree_get(node, "up") != NULL)
        good = read_quantity(r, tree_get(node, "up"), TL_DIM_OHM, &up);
    if (good && tree_get(node, "down") != NULL)
        good = read_quantity(r, tree_get(node, "down"), TL_DIM_OHM, &down) && good;
    limits->pull_up = up.value;
    limits->pull_down = down.value;
    return good;
}

/* What every-pin and a pin's own entry share. Keys that are absent leave what was there. */
static bool read_limits(reader *r, const tree *node, const tl_board *board, tl_pin_limits *limits)
{
    bool good = true;
    tl_written written = {0};
    const tree *at;
    if ((at = tree_get(node, "supply")) != NULL)
        good = read_rail(r, at, board->supplies, board->supply_count, false, &limits->supply) && good;
    if ((at = tree_get(node, "limits")) != NULL)
        good = read_level_span(r, at, &limits->lowest, &limits->highest) && good;
    if ((at = tree_get(node, "vil")) != NULL)
        good = read_level(r, at, &limits->vil) && good;
    if ((at = tree_get(node, "vih")) != NULL)
        good = read_level(r, at, &limits->vih) && good;
    if ((at = tree_get(node, "hysteresis")) != NULL)
        good = read_value(r, at, TL_DIM_VOLT, &limits->hysteresis) && good;
    if ((at = tree_get(node, "capacitance")) != NULL)
        good = read_value(r, at, TL_DIM_FARAD, &limits->farads) && good;
    if ((at = tree_get(node, "drives")) != NULL)
        good = read_value(r, at, TL_DIM_AMPERE, &limits->drives) && good;
    if ((at = tree_get(node, "current")) != NULL)
        good = read_value(r, at, TL_DIM_AMPERE, &limits->most_amperes) && good;
    if ((at = tree_get(node, "internal")) != NULL)
        good = read_internal(r, at, limits) && good;
    if ((at = tree_get(node, "leakage")) != NULL) {
        const bool read = read_quantity(r, at, TL_DIM_AMPERE, &written);
        if (read)
            limits->leakage = written.value;
        good = read && good;
    }
    return good;
}

/* Either one number for all, or a range that counts along with the names. */
static bool read_counting(reader *r, const tree *node, const char *what, int names, long most, int *first,
                          int *stride)
{
    const char *text = NULL;
    char *end = NULL;
    if (!read_text(r, node, what, &text))
        return false;
    const long from = strtol(text, &end, 10);
    const char *rest = end + strspn(end, " ");
    *stride = 0;
    if (end != text && strncmp(rest, "..", 2) == 0) {
        char *stop = NULL;
        const long to = strtol(rest + 2, &stop, 10);
        if (from >= 0 && to <= most && *stop == '\0' && to - from + 1 == names) {
            *first = (int)from;
            *stride = 1;
            return true;
        }
        report_error(r, "bad-number", node->place,
                     "%s: %d numbers are wanted here, as many as there are names", what, names);
        return false;
    }
    long number = 0;
    if (!read_number(r, node, what, 0, most, &number))
        return false;
    *first = (int)number;
    if (names == 1)
        return true;
    report_error(r, "bad-number", node->place, "%s: %d pins cannot all have number %ld", what, names, number);
    return false;
}

static bool read_abilities(reader *r, const tree *node, tl_pin *pin)
{
    static const char *const abilities[] = {"digital", "i2c", "spi", NULL};
    bool good = check_list(r, node, "what a pin can do");
    pin->digital = false;
    for (int i = 0; good && i < node->count; i++) {
        int choice = 0;
        good = read_choice(r, &node->items[i], "an ability", abilities, &choice);
        pin->digital = pin->digital || (good && choice == 0);
        pin->i2c = pin->i2c || (good && choice == 1);
        pin->spi = pin->spi || (good && choice == 2);
    }
    return good;
}

/* What the board hangs on the pin: a lamp of so many volts behind so many ohms. */
static bool read_wired(reader *r, const tree *node, tl_pin *pin)
{
    tl_written ignored = {0};
    bool good = check_map(r, node, "wired", wired_keys);
    if (good && tree_get(node, "lamp") != NULL)
        good = read_quantity(r, tree_get(node, "lamp"), TL_DIM_VOLT, &ignored);
    if (good && tree_get(node, "series") != NULL)
        good = read_quantity(r, tree_get(node, "series"), TL_DIM_OHM, &ignored);
    pin->wired = true;
    return good;
}

static bool read_pin(reader *r, const tree *key, const tree *node, const tl_pin_limits *usual,
                     tl_board *board)
{
    int names = 0, position = -1, channel = -1, position_stride = 0, channel_stride = 0;
    int duty = -1, duty_stride = 0;
    if (!read_name_range(r, key, &names) || !check_map(r, node, "a pin", pin_keys))
        return false;
    tl_pin pin = {.place = key->place, .rail = TL_PIN_NO_RAIL, .digital = true, .limits = *usual};
    bool good = read_limits(r, node, board, &pin.limits);
    const tree *at;
    if ((at = tree_get(node, "position")) != NULL)
        good = read_counting(r, at, "a position", names, 9999, &position, &position_stride) && good;
    if ((at = tree_get(node, "channel")) != NULL)
        good = read_counting(r, at, "a channel", names, 255, &channel, &channel_stride) && good;
    if ((at = tree_get(node, "duty")) != NULL)
        good = read_counting(r, at, "a duty channel", names, 255, &duty, &duty_stride) && good;
    if ((at = tree_get(node, "wired")) != NULL)
        good = read_wired(r, at, &pin) && good;
    if ((at = tree_get(node, "can")) != NULL)
        good = read_abilities(r, at, &pin) && good;
    if ((at = tree_get(node, "rail")) != NULL) {
        int rail = -1;
        good = read_rail(r, at, board->supplies, board->supply_count, true, &rail) && good;
        pin.rail = rail == TL_TO_GROUND ? TL_PIN_IS_GROUND : rail;
        pin.digital = false;
    }
    for (int i = 0; good && i < names; i++) {
        pin.name = name_of_range(key->text, i);
        pin.position = position < 0 ? -1 : position + i * position_stride;
        pin.channel = channel < 0 ? -1 : channel + i * channel_stride;
        pin.duty = duty < 0 ? -1 : duty + i * duty_stride;
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

static bool read_pins(reader *r, const tree *node, const tl_pin_limits *usual, tl_board *board)
{
    if (node->kind != TREE_MAP) {
        report_error(r, "wrong-shape", node->place,
                     "pins are written as names with what they are: 'L4: {channel: 0}'");
        return false;
    }
    bool good = true;
    for (int i = 0; i < node->count; i++)
        good = read_pin(r, &node->items[2 * i], &node->items[2 * i + 1], usual, board) && good;
    return good;
}

/* --- converter --- */

/* `[a, b]` or `a`: the first is the default, and the one that counts here. */
static const tree *first_of(const tree *node)
{
    return node->kind == TREE_LIST && node->count > 0 ? &node->items[0] : node;
}

static bool read_word(reader *r, const tree *node, tl_converter *converter)
{
    static const char *const aligns[] = {"right", "left", NULL};
    int align = 0;
    long width = converter->word.bits <= 8 ? 8 : 16;
    const tree *at;
    bool good = check_map(r, node, "word", word_keys);
    if ((at = tree_get(node, "align")) != NULL)
        good = read_choice(r, first_of(at), "align", aligns, &align) && good;
    if ((at = tree_get(node, "in")) != NULL)
        good = read_number(r, at, "the width of a word", converter->word.bits, 32, &width) && good;
    converter->word.align = align == 1 ? TL_WORD_LEFT : TL_WORD_RIGHT;
    converter->word.width = (uint8_t)width;
    return good;
}

static bool read_references(reader *r, const tree *node, const tl_board *board, tl_converter *converter)
{
    if (node->kind != TREE_MAP || node->count == 0) {
        report_error(r, "wrong-shape", node->place,
                     "references are written as names with a supply or volts: {logic: logic}");
        return false;
    }
    bool good = true;
    for (int i = 0; i < node->count; i++) {
        const tree *key = &node->items[2 * i], *value = &node->items[2 * i + 1];
        tl_reference reference = {.supply = -1};
        tl_written volts = {0};
        const char *name = NULL;
        if (!read_text(r, key, "the name of a reference", &name)) {
            good = false;
            continue;
        }
        for (int s = 0; value->kind == TREE_TEXT && s < board->supply_count; s++) {
            if (strcmp(board->supplies[s].name, value->text) == 0)
                reference.supply = s;
        }
        if (reference.supply < 0) {
            const bool read = read_quantity(r, value, TL_DIM_VOLT, &volts);
            if (read && volts.value.low <= 0) {
                report_error(r, "bad-quantity", value->place, "a reference must be above 0 V");
                good = false;
            }
            good = read && good;
        }
        reference.volts = volts.value;
        reference.name = tl_copy_text(name);
        converter->references =
            tl_grow(converter->references, (size_t)converter->reference_count, sizeof reference);
        converter->references[converter->reference_count++] = reference;
    }
    return good;
}

static bool read_sampling(reader *r, const tree *node, tl_converter *converter)
{
    static const char *const starts[] = {"unknown", "last", NULL};
    int start = 0;
    bool good = check_map(r, node, "sampling", sampling_keys);
    if (!good)
        return false;
    good = read_value(r, tree_get(node, "capacitor"), TL_DIM_FARAD, &converter->sample_farads);
    good = read_value(r, tree_get(node, "switch"), TL_DIM_OHM, &converter->switch_ohms) && good;
    if (tree_get(node, "starts-from") != NULL)
        good = read_choice(r, tree_get(node, "starts-from"), "starts-from", starts, &start) && good;
    converter->starts_from_last = start == 1;
    if (good && (converter->sample_farads <= 0 || converter->switch_ohms <= 0)) {
        report_error(r, "bad-quantity", node->place, "the sampling capacitor and its switch must be above 0");
        return false;
    }
    return good;
}

static bool read_acquisitions(reader *r, const tree *node, tl_converter *converter)
{
    const bool list = node->kind == TREE_LIST;
    const int count = list ? node->count : 1;
    if (count < 1 || count > TL_ACQUISITIONS_MOST) {
        report_error(r, "wrong-shape", node->place, "acquisition lists 1 to %d times", TL_ACQUISITIONS_MOST);
        return false;
    }
    for (int i = 0; i < count; i++) {
        const tree *item = list ? &node->items[i] : node;
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

/* The largest size of an error written as `±2 counts`. */
static bool read_size(reader *r, const tree *node, const char *key, double *size)
{
    tl_written written = {0};
    const tree *at = tree_get(node, key);
    if (at == NULL)
        return true;
    if (!read_quantity(r, at, TL_DIM_COUNT, &written))
        return false;
    *size = fmax(fabs(written.value.low), fabs(written.value.high));
    return true;
}

static bool read_converter(reader *r, const tree *key, const tree *node, tl_board *board)
{
    static const char *const steps[] = {"half", "full", NULL};
    tl_converter *converter = &board->converter;
    long bits = 0;
    int step = 0;
    if (!check_map(r, node, "a converter", converter_keys))
        return false;
    converter->name = tl_copy_text(key->text);
    converter->place = key->place;
    bool good = read_number(r, first_of(tree_get(node, "bits")), "bits", 6, 16, &bits);
    converter->word.bits = (uint8_t)bits;
    good = read_choice(r, tree_get(node, "steps"), "steps", steps, &step) && good;
    converter->steps = step == 0 ? TL_STEPS_HALF : TL_STEPS_FULL;
    good = good && read_word(r, tree_get(node, "word"), converter);
    good = read_references(r, tree_get(node, "references"), board, converter) && good;
    good = read_sampling(r, tree_get(node, "sampling"), converter) && good;
    good = read_acquisitions(r, tree_get(node, "acquisition"), converter) && good;
    good = read_value(r, tree_get(node, "conversion"), TL_DIM_SECOND, &converter->conversion) && good;
    if (tree_get(node, "registers") != NULL)
        good = read_registers(r, tree_get(node, "registers"), converter) && good;
    const tree *errors = tree_get(node, "errors");
    if (errors != NULL) {
        good = check_map(r, errors, "errors", error_keys) && good;
        good = read_size(r, errors, "offset", &converter->offset) && good;
        good = read_size(r, errors, "gain", &converter->gain) && good;
        good = read_size(r, errors, "nonlinearity", &converter->nonlinearity) && good;
        good = read_size(r, errors, "noise", &converter->noise) && good;
    }
    return good;
}

/* --- header --- */

static bool read_header(reader *r, const tree *node, tl_board *board)
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
        const tree *item = &node->items[i / board->header_columns].items[i % board->header_columns];
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

static bool read_board(reader *r, const tree *root, tl_board *board)
{
    const char *title = NULL;
    tl_pin_limits usual = {
        .supply = -1, .pull_up.nominal = NAN, .pull_down.nominal = NAN, .drives = NAN, .most_amperes = NAN};
    if (!read_head(r, root, "board") || !check_map(r, root, "a board", board_keys))
        return false;
    bool good = read_text(r, tree_get(root, "title"), "the board's name", &title);
    if (good)
        board->title = tl_copy_text(title);
    good = read_supplies(r, tree_get(root, "supplies"), &board->supplies, &board->supply_count, -1) && good;
    const tree *every = tree_get(root, "every-pin");
    static const char *const needed[] = {"supply", "limits", "vil", "vih"};
    if (!good || !check_map(r, every, "every-pin", limit_keys) || !read_limits(r, every, board, &usual))
        return false;
    for (size_t i = 0; i < sizeof needed / sizeof needed[0]; i++) {
        if (tree_get(every, needed[i]) == NULL) {
            report_error(r, "missing-key", every->place, "every-pin needs '%s'", needed[i]);
            good = false;
        }
    }
    board->usual = usual;
    good = read_pins(r, tree_get(root, "pins"), &usual, board) && good;
    if (tree_get(root, "header") != NULL)
        good = read_header(r, tree_get(root, "header"), board) && good;
    const tree *converters = tree_get(root, "converters");
    if (converters->kind != TREE_MAP || converters->count != 1 || converters->items[0].kind != TREE_TEXT) {
        report_error(r, "wrong-shape", converters->place,
                     "a board has one converter here: 'main: {bits: 12, ..}'");
        return false;
    }
    return read_converter(r, &converters->items[0], &converters->items[1], board) && good;
}

tl_board *board_load_from(const char *path, tl_place asked_from, tl_report *report)
{
    reader r = {report, path};
    tree *root = tree_read_file(path, asked_from, report);
    if (root == NULL)
        return NULL;
    tl_board *board = tl_alloc(1, sizeof *board);
    const bool good = read_board(&r, root, board);
    tree_free(root);
    if (good)
        return board;
    tl_board_free(board);
    return NULL;
}

void tl_file_kind(const char *path, char kind[16])
{
    char line[64] = "";
    FILE *stream = fopen(path, "rb");
    kind[0] = '\0';
    if (stream == NULL)
        return;
    if (fgets(line, sizeof line, stream) != NULL)
        (void)sscanf(line, "tinyladder: %15[a-z]", kind);
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

void tl_board_free(tl_board *board)
{
    if (board == NULL)
        return;
    for (int i = 0; i < board->supply_count; i++)
        free(board->supplies[i].name);
    for (int i = 0; i < board->pin_count; i++)
        free(board->pins[i].name);
    for (int i = 0; i < board->converter.reference_count; i++)
        free(board->converter.references[i].name);
    for (int i = 0; board->header != NULL && i < board->header_rows * board->header_columns; i++)
        free(board->header[i]);
    free(board->header);
    free(board->converter.references);
    free_registers(&board->converter);
    free(board->converter.name);
    free(board->supplies);
    free(board->pins);
    free(board->title);
    free(board);
}
