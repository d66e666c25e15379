/* SPDX-License-Identifier: MIT */
/* Reading a plan file. */
#include "reader/read_plan.h"
#include "base/memory.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

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

/* The pin of the i-th of this many signals of one entry: `L4 .. L7` counts along with their names. */
static bool read_pin(reader *r, const yaml_tree *node, const tl_plan *plan, int names, int i, int *pin)
{
    int pins = 0;
    if (!read_end_range(r, node, &pins))
        return false;
    if (pins != names) {
        report_error(r, "bad-name", node->place, "%d pin%s for %d signal%s", pins, pins == 1 ? "" : "s",
                     names, names == 1 ? "" : "s");
        return false;
    }
    char *name = name_of_range(node->text, i);
    const bool good = read_end(r, node, name, plan, pin);
    free(name);
    return good;
}

/* What of its converter a signal chooses for itself, and what it says the firmware does. */
static bool read_signal_extras(reader *r, const yaml_tree *node, const tl_plan *plan, tl_signal *signal)
{
    const tl_plan_converter *converter = tl_plan_converter_of(plan, signal);
    const yaml_tree *at;
    int choice = 0;
    bool good = take_present(r, node, &keys_signal, signal);
    if (converter != NULL) {
        signal->reference = converter->reference;
        signal->range = converter->range;
        good = read_span_choice(r, node, converter, &signal->reference, &signal->range) && good;
    }
    if ((at = yaml_get(node, "driven")) != NULL) {
        good = take_word(r, at, key_of(&keys_signal, "driven"), &choice) && good;
        signal->driven_place = at->place;
        signal->drives_low = choice != 1;
        signal->drives_high = choice != 0;
    }
    return good;
}

enum { SIGNALS_MOST = 1000 };

/* The i-th signal of an entry that stands for this many names. */
static bool read_signal(reader *r, const yaml_tree *key, const yaml_tree *node, int names, int i,
                        tl_plan *plan)
{
    char *name = name_of_range(key->text, i);
    tl_signal *signal = add_line(plan, name, key->place);
    free(name);
    plan->signal_count = plan->line_count;
    for (int j = 0; j + 1 < plan->signal_count; j++) {
        if (strcmp(plan->signals[j].name, signal->name) == 0) {
            report_error(r, "key-twice", key->place, "there are two signals '%s'", signal->name);
            return false;
        }
    }
    const yaml_tree *at;
    bool good = read_source(r, yaml_get(node, "source"), plan, &signal->source);
    signal->analog = signal->source.kind < TL_SOURCE_CONTACT;
    if ((at = yaml_get(node, "stages")) != NULL)
        good = read_stages(r, at, &signal->stages, &signal->stage_count) && good;
    good = read_pin(r, yaml_get(node, "pin"), plan, names, i, &signal->pin) && good;
    signal->pin_place = yaml_get(node, "pin")->place;
    good = good && check_internal_pulls(r, signal, &plan->pins[signal->pin].limits);
    good = good && read_signal_extras(r, node, plan, signal);
    return read_reading(r, yaml_get(node, "reading"), plan, signal) && good;
}

/* One entry: `knob:` or `heater-1 .. heater-8:`; what is wrong with all of them is said once. */
static bool read_entry(reader *r, const yaml_tree *key, const yaml_tree *node, tl_plan *plan)
{
    int names = 0;
    if (!read_name_range(r, key, &names) || !check_map(r, node, &keys_signal))
        return false;
    if (plan->signal_count + names > SIGNALS_MOST) {
        report_error(r, "too-many", key->place, "a plan has at most %d signals", SIGNALS_MOST);
        return false;
    }
    for (int i = 0; i < names; i++) {
        if (!read_signal(r, key, node, names, i, plan))
            return false;
    }
    return true;
}

static bool read_signals(reader *r, const yaml_tree *node, tl_plan *plan)
{
    if (node->kind != YAML_MAP || node->count == 0) {
        report_error(r, "wrong-shape", node->place,
                     "signals are written as names with what they are: 'knob: {source: ..}'");
        return false;
    }
    bool good = true;
    for (int i = 0; i < node->count; i++)
        good = read_entry(r, &node->items[2 * i], &node->items[2 * i + 1], plan) && good;
    return good;
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

/* The board's pins and its own converter, which the plan's stand behind. */
static void take_board(tl_plan *plan)
{
    const tl_board *board = plan->board;
    take_board_supplies(plan);
    for (int i = 0; i < board->pin_count; i++) {
        plan->pins = tl_grow(plan->pins, (size_t)i, sizeof *plan->pins);
        plan->pins[plan->pin_count++] = board->pins[i];
    }
    plan->converters = tl_grow(plan->converters, 0, sizeof *plan->converters);
    plan->converters[plan->converter_count++] =
        (tl_plan_converter){.name = tl_copy_text(board->converter.name),
                            .place = board->converter.place,
                            .part = &board->converter,
                            .bits = board->converter.word.bits,
                            .supply = TL_NONE,
                            .bus = TL_NONE,
                            .address = -1,
                            .select_pin = TL_NONE};
}

/* --- other files: includes and drawers --- */

enum { INCLUDES_MOST = 16 };

/* A file that joins this plan: its tree, and its own path for what it might name. */
typedef struct {
    const yaml_tree *root;
    char *path;
} included_file;

/* `a.yaml` or `[a.yaml, b.yaml]`: the i-th, or NULL. */
static const yaml_tree *file_name(const yaml_tree *node, int i)
{
    if (node == NULL || node->kind == YAML_MAP)
        return NULL;
    if (node->kind == YAML_TEXT)
        return i == 0 ? node : NULL;
    return i < node->count ? &node->items[i] : NULL;
}

static bool open_includes(reader *r, const yaml_tree *node, included_file files[INCLUDES_MOST], int *count)
{
    bool good = true;
    const yaml_tree *name;
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
        file->root = may_join(file->path, name->place, r->path, r->report)
                         ? yaml_read_file(file->path, name->place, r->report)
                         : NULL;
        good = file->root != NULL && read_head(r, file->root, "plan") &&
               check_map(r, file->root, &keys_include) && good;
    }
    return good;
}

static void close_includes(included_file *files, int count)
{
    for (int i = 0; i < count; i++)
        free(files[i].path);
}

static bool open_drawers(reader *r, const yaml_tree *node, tl_plan *plan)
{
    bool good = true;
    const yaml_tree *name;
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

static bool open_plug_in(reader *r, const yaml_tree *node, tl_plan *plan)
{
    const char *text = NULL;
    if (node == NULL)
        return true;
    if (!read_text(r, node, "a plug-in board's file name", &text))
        return false;
    char *path = beside(r->path, text);
    reader of = {.report = r->report, .path = path};
    const yaml_tree *root =
        may_join(path, node->place, r->path, r->report) ? yaml_read_file(path, node->place, r->report) : NULL;
    bool good = root != NULL && read_head(&of, root, "plug-in");
    if (good) {
        plan->plug_in = tl_alloc(1, sizeof *plan->plug_in);
        *plan->plug_in = (tl_plug_in){.rows = 5, .rails = 2};
        good = take_keys(&of, root, &keys_plug_in, plan->plug_in);
        good = check_all(&of, root, &keys_plug_in) && good;
    }
    free(path);
    return good;
}

/* --- the whole --- */

static bool read_board(reader *r, const yaml_tree *node, tl_plan *plan)
{
    const char *board = NULL;
    if (node == NULL || !read_text(r, node, "the board file's name", &board))
        return false;
    char *path = beside(r->path, board);
    plan->board = board_load_from(path, node->place, r->report);
    free(path);
    if (plan->board != NULL)
        take_board(plan);
    return plan->board != NULL;
}

/* A line of a bus: the far device releases it or pulls it low; on SPI what comes in is driven both ways. */
static void add_bus_line(tl_plan *plan, tl_bus *bus, int i)
{
    const tl_bus_rule *rule = tl_bus_rule_of(bus->mode);
    char name[2 * TL_QUANTITY_LONGEST];
    const double low = isnan(bus->low) ? rule->low_volts : bus->low;
    snprintf(name, sizeof name, "%.60s.%s", bus->name, bus->line_name[i]);
    tl_signal *line = add_line(plan, name, bus->place);
    line->pin = bus->pins[i];
    line->pin_place = bus->place;
    line->source = (tl_source){.kind = TL_SOURCE_OPEN_COLLECTOR,
                               .place = bus->place,
                               .supply = TL_TO_GROUND,
                               .bottom = TL_TO_GROUND,
                               .follows = TL_TO_GROUND,
                               .compliance = NAN,
                               .value = {.value = {0, low / 2, low, true}},
                               .drives = isnan(bus->drives) ? rule->low_amperes : bus->drives};
    for (int c = 1; bus->spi && c < plan->converter_count; c++) {
        if (&plan->buses[plan->converters[c].bus] != bus)
            continue;
        line->source.kind = TL_SOURCE_LOGIC;
        line->source.supply = plan->converters[c].supply;
        line->source.high = (tl_level){0, 1};
        line->source.low = (tl_level){low, 0};
        line->source.drives = isnan(bus->drives) ? NAN : bus->drives;
    }
    for (int s = 0; s < bus->stage_count; s++) {
        line->stages = tl_grow(line->stages, (size_t)s, sizeof *line->stages);
        line->stages[s] = bus->stages[s];
        line->stages[s].name = tl_copy_text(bus->stages[s].name);
        line->stage_count++;
    }
}

static bool add_bus_lines(reader *r, const yaml_tree *node, tl_plan *plan)
{
    (void)r;
    (void)node;
    for (int b = 0; b < plan->bus_count; b++) {
        tl_bus *bus = &plan->buses[b];
        bus->first_line = plan->line_count;
        for (int i = 0; i < bus->line_count; i++) {
            if (bus->pins[i] != TL_NONE && (!bus->spi || strcmp(bus->line_name[i], "in") == 0))
                add_bus_line(plan, bus, i);
        }
    }
    return true;
}

static bool read_plan_supplies(reader *r, const yaml_tree *node, tl_plan *plan)
{
    const int board_file = plan->board->supplies[0].place.file;
    return read_supplies(r, node, plan->board, &plan->supplies, &plan->supply_count, board_file);
}

static bool read_plan_shared(reader *r, const yaml_tree *node, tl_plan *plan)
{
    return read_shared(r, node, &plan->supplies, &plan->supply_count);
}

/* Sections of the plan and of the files it includes, in the order in which they lean on each other: all
 * supplies before all signals, so that chains of one file may be connected to rails of another. */
static bool read_sections(reader *r, const yaml_tree *root, const included_file *files, int count,
                          tl_plan *plan)
{
    /* once: for the first file that has the section, since it looks at all that was read of it */
    static const struct {
        const char *name;
        bool (*read)(reader *r, const yaml_tree *node, tl_plan *plan);
        bool once, stood_on;
    } sections[] = {{"supplies", read_plan_supplies, false, false}, {"shared", read_plan_shared, false, true},
                    {"meters", read_meters, false, true},           {"buses", read_buses, false, true},
                    {"converters", read_converters, false, true},   {"muxes", read_muxes, false, true},
                    {"muxes", connect_muxes, false, true},          {"muxes", join_muxes, true, true},
                    {"signals", read_signals, false, false},        {"buses", add_bus_lines, true, false},
                    {"outputs", read_outputs, false, false},        {"sweeps", read_sweeps, false, false},
                    {"modules", read_modules, false, false}};
    bool good = true;
    for (size_t s = 0; s < sizeof sections / sizeof sections[0]; s++) {
        bool section = true, done = false;
        for (int i = -1; i < count; i++) {
            reader own = {.report = r->report,
                          .path = i < 0 ? r->path : files[i].path,
                          .rails = &plan->supplies,
                          .rail_count = &plan->supply_count};
            const yaml_tree *node = yaml_get(i < 0 ? root : files[i].root, sections[s].name);
            if (node == NULL || (sections[s].once && done))
                continue;
            section = sections[s].read(&own, node, plan) && section;
            done = true;
        }
        good = section && good;
        /* What later sections are on must be whole; supplies and signals alone can tell more that is wrong.
         */
        if (!section && sections[s].stood_on)
            return false;
        if (!good && sections[s].read != read_plan_supplies && !sections[s].stood_on)
            return false;
    }
    return good;
}

/* Once all signals have names. */
static bool find_second_lines(reader *r, tl_plan *plan)
{
    bool good = true;
    for (int i = 0; i < plan->signal_count; i++) {
        tl_plan_reading *reading = &plan->signals[i].reading;
        int other;
        if (reading->turns_with == NULL || strcmp(reading->turns_with, plan->signals[i].name) == 0)
            continue;
        const tl_signal *second = tl_plan_signal(plan, reading->turns_with, &other);
        if (second != NULL && !second->analog && second->reading.second_line == TL_NONE) {
            reading->second_line = other;
            continue;
        }
        report_error(r, second == NULL ? "unknown-signal" : "wrong-shape", reading->turns_place,
                     second == NULL   ? "the plan has no signal '%.60s'"
                     : second->analog ? "'%.60s' is no digital signal: an encoder has two lines"
                                      : "'%.60s' is the first line of another encoder",
                     reading->turns_with);
        good = false;
    }
    return good;
}

static bool read_ambient(reader *r, const yaml_tree *node, tl_plan *plan)
{
    tl_located ambient = {0};
    plan->coldest = plan->warmest = 25;
    if (node == NULL)
        return true;
    if (!read_quantity(r, node, TL_DIM_CELSIUS, &ambient))
        return false;
    plan->coldest = ambient.value.low;
    plan->warmest = ambient.value.high;
    return true;
}

/* `demo/fernhill.plan.yaml` is called fernhill where it has no title. */
static char *name_of_file(const char *path)
{
    const char *slash = strrchr(path, '/'), *name = slash != NULL ? slash + 1 : path;
    char *copy = tl_copy_text(name);
    copy[strcspn(copy, ".")] = '\0';
    return copy;
}

static bool read_plan(reader *r, const yaml_tree *root, tl_plan *plan)
{
    const char *title = NULL;
    included_file files[INCLUDES_MOST];
    int count = 0;
    if (!read_head(r, root, "plan"))
        return false;
    bool good = check_map(r, root, &keys_plan);
    if (yaml_get(root, "title") != NULL)
        good = read_text(r, yaml_get(root, "title"), "the plan's title", &title) && good;
    if (title != NULL)
        plan->title = tl_copy_text(title);
    if (!read_board(r, yaml_get(root, "board"), plan))
        return false;
    good = read_ambient(r, yaml_get(root, "ambient"), plan) && good;
    good = open_includes(r, yaml_get(root, "include"), files, &count) && good;
    good = open_drawers(r, yaml_get(root, "drawer"), plan) && good;
    good = open_plug_in(r, yaml_get(root, "plug-in"), plan) && good;
    bool whole = true;
    for (int i = 0; i < count; i++)
        whole = whole && files[i].root != NULL;
    if (whole)
        good = read_sections(r, root, files, count, plan) && good;
    for (int i = 0; i < count; i++) {
        reader own = {.report = r->report, .path = files[i].path};
        good = (files[i].root == NULL || check_all(&own, files[i].root, &keys_include)) && good;
    }
    close_includes(files, count);
    good = good && find_second_lines(r, plan);
    if (good && plan->has_drawer)
        plan_take_tolerances(plan);
    if (plan->title == NULL)
        plan->title = name_of_file(r->path);
    if (good && plan->line_count == 0 && plan->output_count == 0) {
        report_error(r, "missing-key", root->place, "a plan needs 'signals', 'outputs' or 'buses'");
        return false;
    }
    return good;
}

tl_plan *tl_plan_load(const char *path, tl_report *report)
{
    reader r = {.report = report, .path = path};
    const yaml_tree *root = yaml_read_file(path, (tl_place){-1, 0, 0}, report);
    if (root == NULL)
        return NULL;
    tl_plan *plan = tl_alloc(1, sizeof *plan);
    plan->path = tl_copy_text(path);
    bool good = read_plan(&r, root, plan);
    good = check_all(&r, root, &keys_plan) && good;
    if (good)
        return plan;
    tl_plan_free(plan);
    return NULL;
}
