/* Reading a plan file. */
#include "../net/memory.h"
#include "plan_internal.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static const known_key plan_keys[] = {{"tinyladder", true}, {"title", true},    {"board", true},
                                      {"supplies", false},  {"signals", true},  {"converters", false},
                                      {"drawer", false},    {"include", false}, {NULL, false}};
static const known_key include_keys[] = {
    {"tinyladder", true}, {"title", false}, {"supplies", false}, {"signals", false}, {NULL, false}};
static const known_key signal_keys[] = {{"source", true},   {"stages", false},      {"pin", true},
                                        {"reading", false}, {"acquisition", false}, {NULL, false}};
static const known_key converter_keys[] = {{"reference", false}, {NULL, false}};
static const known_key analog_reading_keys[] = {
    {"of", false}, {"unit", false}, {"decimals", false}, {"percent", false}, {NULL, false}};
static const known_key digital_reading_keys[] = {{"steady", false}, {NULL, false}};
static const known_key percent_keys[] = {{"empty", true}, {"full", true}, {NULL, false}};

/* --- pins --- */

static const char *pin_name(const void *list, int i)
{
    return ((const tl_pin *)list)[i].name;
}

/* People mix up a pin's position, its name and its channel: a bare number is answered with what it could
 * mean. */
static void report_number_as_pin(reader *r, const tree *node, const tl_board *board)
{
    char all[200] = "";
    size_t length = 0;
    const long number = strtol(node->text, NULL, 10);
    for (int i = 0; i < board->pin_count && length < sizeof all; i++) {
        const tl_pin *pin = &board->pins[i];
        if (pin->position == number)
            length += (size_t)snprintf(all + length, sizeof all - length, "%sposition %ld is %s",
                                       length > 0 ? ", " : "", number, pin->name);
        if (pin->channel == number && length < sizeof all)
            length += (size_t)snprintf(all + length, sizeof all - length, "%schannel %ld is %s",
                                       length > 0 ? ", " : "", number, pin->name);
    }
    report_error(r, "unknown-pin", node->place, "a pin is called by its name%s%s", length > 0 ? ": " : "",
                 all);
}

static bool read_pin_name(reader *r, const tree *node, const char *text, const tl_board *board, int *pin)
{
    for (int i = 0; i < board->pin_count; i++) {
        if (strcmp(board->pins[i].name, text) != 0)
            continue;
        if (board->pins[i].rail != TL_PIN_NO_RAIL) {
            report_error(r, "pin-is-rail", node->place, "%s is a supply pin of %s", text, board->title);
            return false;
        }
        *pin = i;
        return true;
    }
    if (strspn(text, "0123456789") == strlen(text)) {
        report_number_as_pin(r, node, board);
        return false;
    }
    const char *meant = nearest_name(text, pin_name, board->pins, board->pin_count);
    report_error(r, "unknown-pin", node->place, "%s has no pin '%.40s'%s%s%s", board->title, text,
                 meant != NULL ? ": did you mean '" : "", meant != NULL ? meant : "",
                 meant != NULL ? "'?" : "");
    return false;
}

/* The pin of the i-th of so many signals of one entry: `L4 .. L7` counts along with their names. */
static bool read_pin(reader *r, const tree *node, const tl_board *board, int names, int i, int *pin)
{
    int pins = 0;
    if (!read_name_range(r, node, &pins))
        return false;
    if (pins != names) {
        report_error(r, "bad-name", node->place, "%d pin%s for %d signal%s", pins, pins == 1 ? "" : "s",
                     names, names == 1 ? "" : "s");
        return false;
    }
    char *name = name_of_range(node->text, i);
    const bool good = read_pin_name(r, node, name, board, pin);
    free(name);
    return good;
}

/* --- readings --- */

static bool read_percent(reader *r, const tree *node, tl_dimension dimension, tl_plan_reading *reading)
{
    if (!check_map(r, node, "percent", percent_keys))
        return false;
    bool good = read_quantity(r, tree_get(node, "empty"), dimension, &reading->empty);
    good = read_quantity(r, tree_get(node, "full"), dimension, &reading->full) && good;
    if (good && reading->empty.value.nominal == reading->full.value.nominal) {
        report_error(r, "percent-ends", node->place, "empty and full are the same");
        return false;
    }
    return good;
}

/* What each reading can be called in; the first is the default. */
static const char *const *units_of(const tl_signal *signal, tl_reading_of of)
{
    static const char *const volts[] = {"V", "mV", NULL}, *const amperes[] = {"A", "mA", NULL};
    static const char *const ohms[] = {"ohm", "kohm", NULL}, *const travel[] = {"%", NULL},
                             *const counts[] = {"counts", NULL};
    if (of == TL_OF_SOURCE && signal->source.kind == TL_SOURCE_CURRENT)
        return amperes;
    return of == TL_OF_TRAVEL ? travel : of == TL_OF_COUNTS ? counts : of == TL_OF_RESISTANCE ? ohms : volts;
}

static tl_dimension dimension_of(const tl_signal *signal, tl_reading_of of)
{
    if (of == TL_OF_SOURCE && signal->source.kind == TL_SOURCE_CURRENT)
        return TL_DIM_AMPERE;
    return of == TL_OF_TRAVEL       ? TL_DIM_PERCENT
           : of == TL_OF_COUNTS     ? TL_DIM_COUNT
           : of == TL_OF_RESISTANCE ? TL_DIM_OHM
                                    : TL_DIM_VOLT;
}

/* The farthest back that a source allows. */
static tl_reading_of farthest_of(const tl_source *source)
{
    return source->kind == TL_SOURCE_POTENTIOMETER ? TL_OF_TRAVEL
           : source->kind == TL_SOURCE_RESISTANCE  ? TL_OF_RESISTANCE
                                                   : TL_OF_SOURCE;
}

static bool read_of(reader *r, const tree *node, const tl_signal *signal, tl_plan_reading *reading)
{
    static const char *const of[] = {"source", "pin", "counts", "travel", "resistance", NULL};
    const tl_reading_of farthest = farthest_of(&signal->source);
    int choice = 0;
    if (!read_choice(r, node, "of", of, &choice))
        return false;
    if (choice != TL_OF_PIN && choice != TL_OF_COUNTS && choice != (int)farthest) {
        report_error(r, "unknown-word", node->place, "of this source can be read: %s, pin or counts",
                     of[farthest]);
        return false;
    }
    reading->of = (tl_reading_of)choice;
    return true;
}

static bool read_unit(reader *r, const tree *node, const tl_signal *signal, tl_plan_reading *reading)
{
    const char *const *units = units_of(signal, reading->of);
    int unit = 0;
    if (!read_choice(r, node, "the unit of this reading", units, &unit))
        return false;
    reading->unit = units[unit];
    return true;
}

static bool read_analog_reading(reader *r, const tree *node, const tl_signal *signal,
                                tl_plan_reading *reading)
{
    const tree *at;
    long decimals = -1;
    if (!check_map(r, node, "the reading of an analog signal", analog_reading_keys))
        return false;
    bool good = (at = tree_get(node, "of")) == NULL || read_of(r, at, signal, reading);
    if (good && (at = tree_get(node, "unit")) != NULL)
        good = read_unit(r, at, signal, reading);
    if ((at = tree_get(node, "decimals")) != NULL) {
        good = read_number(r, at, "decimals", 0, 6, &decimals) && good;
        reading->decimals = (int)decimals;
    }
    if (good && (at = tree_get(node, "percent")) != NULL)
        good = read_percent(r, at, dimension_of(signal, reading->of), reading);
    return good;
}

static bool read_reading(reader *r, const tree *node, const tl_signal *signal, tl_plan_reading *reading)
{
    reading->decimals = -1;
    reading->of = farthest_of(&signal->source);
    reading->steady = 2 * signal->source.bounce;
    bool good = true;
    if (node != NULL) {
        reading->place = node->place;
        if (signal->analog) {
            good = read_analog_reading(r, node, signal, reading);
        } else {
            good = check_map(r, node, "the reading of a digital signal", digital_reading_keys);
            reading->steady_given = tree_get(node, "steady") != NULL;
            if (reading->steady_given)
                good = read_value(r, tree_get(node, "steady"), TL_DIM_SECOND, &reading->steady) && good;
        }
    }
    if (signal->analog && reading->unit == NULL)
        reading->unit = units_of(signal, reading->of)[0];
    return good;
}

/* --- signals --- */

static bool check_internal_pulls(reader *r, const tl_signal *signal, const tl_pin_limits *limits)
{
    for (int i = 0; i < signal->stage_count; i++) {
        const tl_stage *stage = &signal->stages[i];
        if (stage->internal && isnan((stage->up ? limits->pull_up : limits->pull_down).nominal)) {
            report_error(r, "no-internal-pull", stage->place, "this pin has no pull-%s of its own",
                         stage->up ? "up" : "down");
            return false;
        }
    }
    return true;
}

/* The i-th signal of an entry that stands for so many names. */
static bool read_signal(reader *r, const tree *key, const tree *node, int names, int i, tl_plan *plan)
{
    plan->signals = tl_grow(plan->signals, (size_t)plan->signal_count, sizeof *plan->signals);
    tl_signal *signal = &plan->signals[plan->signal_count++];
    *signal = (tl_signal){.name = name_of_range(key->text, i), .place = key->place};
    for (int j = 0; j + 1 < plan->signal_count; j++) {
        if (strcmp(plan->signals[j].name, signal->name) == 0) {
            report_error(r, "key-twice", key->place, "there are two signals '%s'", signal->name);
            return false;
        }
    }
    const tree *at;
    bool good = read_source(r, tree_get(node, "source"), plan, &signal->source);
    signal->analog = signal->source.kind < TL_SOURCE_CONTACT;
    if ((at = tree_get(node, "stages")) != NULL)
        good = read_stages(r, at, plan, signal) && good;
    good = read_pin(r, tree_get(node, "pin"), plan->board, names, i, &signal->pin) && good;
    signal->pin_place = tree_get(node, "pin")->place;
    good = good && check_internal_pulls(r, signal, &plan->board->pins[signal->pin].limits);
    if ((at = tree_get(node, "acquisition")) != NULL)
        good = read_part(r, at, TL_DIM_SECOND, "an acquisition time", &signal->acquisition) && good;
    return read_reading(r, tree_get(node, "reading"), signal, &signal->reading) && good;
}

/* One entry: `knob:` or `heater-1 .. heater-8:`; what is wrong with all of them is said once. */
static bool read_entry(reader *r, const tree *key, const tree *node, tl_plan *plan)
{
    int names = 0;
    if (!read_name_range(r, key, &names) || !check_map(r, node, "a signal", signal_keys))
        return false;
    for (int i = 0; i < names; i++) {
        if (!read_signal(r, key, node, names, i, plan))
            return false;
    }
    return true;
}

static bool read_signals(reader *r, const tree *node, tl_plan *plan)
{
    if (node->kind != TREE_MAP || node->count == 0) {
        report_error(r, "wrong-shape", node->place,
                     "signals are written as names with what they are: 'knob: {source: ..}'");
        return false;
    }
    bool good = true;
    for (int i = 0; i < node->count; i++)
        good = read_entry(r, &node->items[2 * i], &node->items[2 * i + 1], plan) && good;
    return good;
}

/* The plan's choice among what the board's converter offers. */
static bool read_converters(reader *r, const tree *node, tl_plan *plan)
{
    const tl_converter *converter = &plan->board->converter;
    const known_key names[] = {{converter->name, false}, {NULL, false}};
    if (!check_map(r, node, "converters", names))
        return false;
    const tree *own = tree_get(node, converter->name);
    if (own == NULL || !check_map(r, own, "a converter", converter_keys))
        return own == NULL;
    const tree *reference = tree_get(own, "reference");
    if (reference == NULL)
        return true;
    const char *choices[17] = {NULL};
    for (int i = 0; i < converter->reference_count && i < 16; i++)
        choices[i] = converter->references[i].name;
    return read_choice(r, reference, "the reference", choices, &plan->reference);
}

static void take_board_supplies(tl_plan *plan)
{
    for (int i = 0; i < plan->board->supply_count; i++) {
        plan->supplies = tl_grow(plan->supplies, (size_t)i, sizeof *plan->supplies);
        plan->supplies[i] = plan->board->supplies[i];
        plan->supplies[i].name = tl_copy_text(plan->supplies[i].name);
        plan->supply_count++;
    }
}

/* --- other files: includes and drawers --- */

enum { INCLUDES_MOST = 16 };

/* A file that joins this plan: its tree, and its own path for what it might name. */
typedef struct {
    tree *root;
    char *path;
} included_file;

/* `a.yaml` or `[a.yaml, b.yaml]`: the i-th, or NULL. */
static const tree *file_name(const tree *node, int i)
{
    if (node == NULL || node->kind == TREE_MAP)
        return NULL;
    if (node->kind == TREE_TEXT)
        return i == 0 ? node : NULL;
    return i < node->count ? &node->items[i] : NULL;
}

static bool open_includes(reader *r, const tree *node, included_file files[INCLUDES_MOST], int *count)
{
    bool good = true;
    const tree *name;
    for (int i = 0; (name = file_name(node, i)) != NULL; i++) {
        const char *text = NULL;
        if (i == INCLUDES_MOST) {
            report_error(r, "bad-number", name->place, "more than %d files to include", INCLUDES_MOST);
            return false;
        }
        if (!read_text(r, name, "a plan file's name", &text)) {
            good = false;
            continue;
        }
        included_file *file = &files[(*count)++];
        file->path = beside(r->path, text);
        file->root = tree_read_file(file->path, name->place, r->report);
        good = file->root != NULL && read_head(r, file->root, "plan") &&
               check_map(r, file->root, "an included plan", include_keys) && good;
    }
    return good;
}

static void close_includes(included_file *files, int count)
{
    for (int i = 0; i < count; i++) {
        tree_free(files[i].root);
        free(files[i].path);
    }
}

static bool open_drawers(reader *r, const tree *node, tl_plan *plan)
{
    bool good = true;
    const tree *name;
    for (int i = 0; (name = file_name(node, i)) != NULL; i++) {
        const char *text = NULL;
        tl_stock resistors = {0}, capacitors = {0};
        if (!read_text(r, name, "a drawer file's name", &text))
            return false;
        char *path = beside(r->path, text);
        good = drawer_load_from(path, name->place, &resistors, &capacitors, r->report) && good;
        free(path);
        for (int j = 0; j < resistors.count; j++)
            tl_stock_add(&plan->resistors, resistors.parts[j]);
        for (int j = 0; j < capacitors.count; j++)
            tl_stock_add(&plan->capacitors, capacitors.parts[j]);
        tl_stock_free(&resistors);
        tl_stock_free(&capacitors);
        plan->has_drawer = true;
    }
    return good;
}

/* --- the whole --- */

static bool read_board(reader *r, const tree *node, tl_plan *plan)
{
    const char *board = NULL;
    if (node == NULL || !read_text(r, node, "the board file's name", &board))
        return false;
    char *path = beside(r->path, board);
    plan->board = board_load_from(path, node->place, r->report);
    free(path);
    if (plan->board != NULL)
        take_board_supplies(plan);
    return plan->board != NULL;
}

/* All supplies before all signals, so that chains of one file may hang on rails of another. */
static bool read_sections(reader *r, const tree *root, const included_file *files, int count, tl_plan *plan)
{
    bool good = true;
    const int board_file = plan->board->supplies[0].place.file;
    for (int i = -1; i < count; i++) {
        const tree *supplies = tree_get(i < 0 ? root : files[i].root, "supplies");
        if (supplies != NULL)
            good = read_supplies(r, supplies, &plan->supplies, &plan->supply_count, board_file) && good;
    }
    if (tree_get(root, "converters") != NULL)
        good = read_converters(r, tree_get(root, "converters"), plan) && good;
    for (int i = -1; i < count; i++) {
        const tree *signals = tree_get(i < 0 ? root : files[i].root, "signals");
        if (signals != NULL)
            good = read_signals(r, signals, plan) && good;
    }
    return good;
}

static bool read_plan(reader *r, const tree *root, tl_plan *plan)
{
    const char *title = NULL;
    included_file files[INCLUDES_MOST];
    int count = 0;
    if (!read_head(r, root, "plan"))
        return false;
    bool good = check_map(r, root, "a plan", plan_keys);
    if (tree_get(root, "title") != NULL && read_text(r, tree_get(root, "title"), "the plan's title", &title))
        plan->title = tl_copy_text(title);
    if (!read_board(r, tree_get(root, "board"), plan))
        return false;
    good = open_includes(r, tree_get(root, "include"), files, &count) && good;
    good = open_drawers(r, tree_get(root, "drawer"), plan) && good;
    bool whole = true;
    for (int i = 0; i < count; i++)
        whole = whole && files[i].root != NULL;
    if (whole)
        good = read_sections(r, root, files, count, plan) && good;
    close_includes(files, count);
    if (good && plan->has_drawer)
        plan_take_tolerances(plan);
    return good && plan->title != NULL && plan->signal_count > 0;
}

tl_plan *tl_plan_load(const char *path, tl_report *report)
{
    reader r = {report, path};
    tree *root = tree_read_file(path, (tl_place){-1, 0, 0}, report);
    if (root == NULL)
        return NULL;
    tl_plan *plan = tl_alloc(1, sizeof *plan);
    plan->path = tl_copy_text(path);
    const bool good = read_plan(&r, root, plan);
    tree_free(root);
    if (good)
        return plan;
    tl_plan_free(plan);
    return NULL;
}

void tl_plan_free(tl_plan *plan)
{
    if (plan == NULL)
        return;
    for (int i = 0; i < plan->signal_count; i++) {
        for (int j = 0; j < plan->signals[i].stage_count; j++)
            free(plan->signals[i].stages[j].name);
        free(plan->signals[i].stages);
        free(plan->signals[i].name);
    }
    for (int i = 0; i < plan->supply_count; i++)
        free(plan->supplies[i].name);
    tl_board_free(plan->board);
    tl_stock_free(&plan->resistors);
    tl_stock_free(&plan->capacitors);
    free(plan->signals);
    free(plan->supplies);
    free(plan->title);
    free(plan->path);
    free(plan);
}

const tl_signal *tl_plan_signal(const tl_plan *plan, const char *name, int *index)
{
    for (int i = 0; i < plan->signal_count; i++) {
        if (strcmp(plan->signals[i].name, name) == 0) {
            if (index != NULL)
                *index = i;
            return &plan->signals[i];
        }
    }
    return NULL;
}
