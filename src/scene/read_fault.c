/* SPDX-License-Identifier: MIT */
/* What goes wrong in a scene, and the meter on it: every name is found in the plan's circuit as it is
 * soldered. */
#include "base/memory.h"
#include "elaborate/elaborate.h"
#include "scene/fault_names.h"
#include <ctype.h>
#include <math.h>
#include <string.h>

enum { FAULTS_MOST = 1000 };
static const double short_ohms = 0.05; /* of two wires that touch: typical */

/* --- the kinds --- */

/* A line that a rail holds has no wire from the board. */
static bool report_held(const finder *f, const yaml_tree *what)
{
    report_error(f->r, "no-effect", what->place,
                 "'%.80s' has no wire to the board: a rail holds it, or nothing", what->text);
    return false;
}

/* A part, a wire of the circuit; or one of the board's own wires that only carry levels. */
static bool read_open(const finder *f, const yaml_tree *what, tl_scene_fault *fault)
{
    char path[TL_PATH_LONGEST];
    if (!is_a_name(f, what, "a part's name"))
        return false;
    for (int i = 0; i < f->plan->bus_count; i++) { /* of I2C the wire to the board's pin */
        for (int k = 0; !f->plan->buses[i].spi && k < f->plan->buses[i].line_count; k++) {
            const tl_signal *line = &f->plan->signals[f->plan->buses[i].first_line + k];
            if (strcmp(line->name, what->text) != 0)
                continue;
            fault->parts[0] =
                tl_net_find_part(f->circuit->net, TL_VIEW_SOLDERED, path_of(path, line->name, "pin", NULL));
            fault->part_count = 1;
            return fault->parts[0] != TL_NET_NONE;
        }
    }
    if (level_wire_named(f, what->text, &fault->line[0]))
        return fault->line[0] != TL_NONE || report_held(f, what);
    return find_parts(f, what, fault->parts, &fault->part_count);
}

/* Not itself; and of two supplies the plan does not say which one breaks down. */
static bool may_touch(const finder *f, const yaml_tree *node, const tl_scene_fault *fault)
{
    const tl_net *net = f->circuit->net;
    if (fault->node[0] == fault->node[1])
        report_error(f->r, "no-effect", yaml_get(node, "to")->place, "'%.80s' is the same point",
                     yaml_get(node, "to")->text);
    else if (tl_net_is_rail(net, fault->node[0]) && tl_net_is_rail(net, fault->node[1]))
        report_error(f->r, "no-effect", node->place,
                     "both are rails, and the plan does not say what gives way: for a supply that is shorted "
                     "to ground write {missing: %.60s, off: shorted}",
                     yaml_get(node, fault->node[0] == TL_NET_GROUND ? "to" : "short")->text);
    else
        return true;
    return false;
}

static bool read_short(const finder *f, const yaml_tree *node, tl_scene_fault *fault)
{
    const yaml_tree *what = yaml_get(node, "short"), *to = yaml_get(node, "to");
    fault->ohms = short_ohms;
    if (to != NULL)
        return find_node(f, what, &fault->node[0]) && find_node(f, to, &fault->node[1]) &&
               may_touch(f, node, fault);
    if (!find_parts(f, what, fault->parts, &fault->part_count))
        return false;
    tl_net_part_ends(f->circuit->net, fault->parts[0], &fault->node[0], &fault->node[1]);
    fault->part_count = 0;
    return true;
}

/* A supply that gives other volts; of a shared node or a pin that feeds, the reason why it does not. */
static bool read_wrong_supply(const finder *f, const yaml_tree *node, int supply, tl_scene_fault *fault)
{
    const tl_supply *of = &f->plan->supplies[supply];
    if (of->kind != TL_RAIL_SUPPLY) {
        report_error(f->r, "no-effect", yaml_get(node, "wrong")->place,
                     "'%.80s' has no voltage of its own: %s", of->name,
                     of->kind == TL_RAIL_PIN ? "a pin feeds it" : "it is a wire of another rail");
        return false;
    }
    fault->param[0] = f->circuit->supply_param[supply];
    return read_value(f->r, yaml_get(node, "value"), TL_DIM_VOLT, &fault->value);
}

/* `MUX.3` */
static bool is_mux_switch(const finder *f, const char *name)
{
    const char *dot = strrchr(name, '.');
    for (int m = 0; m < f->plan->mux_count && dot != NULL; m++) {
        const char *mux = f->plan->muxes[m].name;
        if (strlen(mux) == (size_t)(dot - name) && strncmp(mux, name, (size_t)(dot - name)) == 0 &&
            isdigit((unsigned char)dot[1]))
            return true;
    }
    return false;
}

static bool read_wrong(const finder *f, const yaml_tree *node, tl_scene_fault *fault)
{
    const yaml_tree *what = yaml_get(node, "wrong");
    for (int i = 0; what->kind == YAML_TEXT && i < f->plan->supply_count; i++) {
        if (strcmp(f->plan->supplies[i].name, what->text) == 0)
            return read_wrong_supply(f, node, i, fault);
    }
    if (!find_parts(f, what, fault->parts, &fault->part_count))
        return false;
    fault->param[0] = param_of_part(f, fault->parts[0]);
    fault->part_count = 0;
    if (fault->param[0] == TL_NET_NONE && is_mux_switch(f, what->text)) {
        report_error(f->r, "no-effect", what->place,
                     "all switches of a multiplexer have one resistance: add some to this one by {joint: "
                     "%.60s, ohms: ...}",
                     what->text);
        return false;
    }
    if (fault->param[0] == TL_NET_NONE)
        return unknown_name(f, what, "value of a part", NULL);
    return read_value(f->r, yaml_get(node, "value"), f->circuit->param[fault->param[0]].dimension,
                      &fault->value);
}

static bool read_swap(const finder *f, const yaml_tree *node, tl_scene_fault *fault)
{
    const yaml_tree *list = yaml_get(node, "swap");
    int part[TL_SCENE_PARTS_MOST], count;
    if (!check_list(f->r, list, "two of a kind"))
        return false;
    if (list->count != 2 || list->items[0].kind != YAML_TEXT || list->items[1].kind != YAML_TEXT) {
        report_error(f->r, "wrong-shape", list->place,
                     "expected two names: two parts, two lines, or two pins");
        return false;
    }
    if (swap_plugs(f, list, fault))
        return true;
    fault->part_count = 0;
    for (int i = 0; i < 2; i++)
        fault->line[i] = line_named(f, list->items[i].text);
    if (fault->line[0] != TL_NONE && fault->line[1] != TL_NONE)
        return true;
    fault->line[0] = fault->line[1] = TL_NONE;
    for (int i = 0; i < 2; i++) {
        if (!find_parts(f, &list->items[i], part, &count))
            return false;
        fault->param[i] = param_of_part(f, part[0]);
        if (fault->param[i] == TL_NET_NONE)
            return unknown_name(f, &list->items[i], "value of a part", NULL);
    }
    if (f->circuit->param[fault->param[0]].dimension == f->circuit->param[fault->param[1]].dimension)
        return true;
    report_error(f->r, "wrong-shape", list->place, "only parts of one kind can have changed places");
    return false;
}

static bool read_stuck(const finder *f, const yaml_tree *node, tl_scene_fault *fault)
{
    static const char *const states[] = {"low", "high", "open", "closed", NULL};
    const yaml_tree *what = yaml_get(node, "stuck");
    int signal, state;
    if (!is_a_name(f, what, "a line's name") ||
        !read_choice(f->r, yaml_get(node, "at"), "a state", states, &state))
        return false;
    if (state < 2) {
        fault->line[0] = line_named(f, what->text);
        fault->level = state;
        if (fault->line[0] == TL_NONE && level_wire_named(f, what->text, &signal))
            return report_held(f, what);
        return fault->line[0] != TL_NONE || unknown_name(f, what, "line", NULL);
    }
    fault->closed = state == 3;
    if (signal_before(f, what->text, "source", &signal) != NULL)
        fault->contact = f->circuit->signals[signal].contact;
    return fault->contact != TL_NET_NONE || unknown_name(f, what, "contact (SIGNAL.source)", NULL);
}

static bool read_missing(const finder *f, const yaml_tree *node, tl_scene_fault *fault)
{
    const yaml_tree *what = yaml_get(node, "missing");
    static const char *const ways[] = {"open", "shorted", NULL};
    int off = 0;
    if (!read_rail(f->r, what, false, &fault->supply))
        return false;
    fault->param[0] = f->circuit->supply_param[fault->supply];
    if (yaml_get(node, "off") != NULL &&
        !read_choice(f->r, yaml_get(node, "off"), "how it is off", ways, &off))
        return false;
    fault->shorted = off == 1;
    return true;
}

static bool find_meter(const finder *f, const yaml_tree *node, double *ohms)
{
    if (!is_a_name(f, node, "a meter's name"))
        return false;
    *ohms = 0;
    for (int i = 0; i < f->plan->meter_count; i++) {
        if (strcmp(f->plan->meters[i].name, node->text) == 0)
            *ohms = f->plan->meters[i].ohms;
    }
    return *ohms > 0 || unknown_name(f, node, "meter", NULL);
}

static bool read_left_meter(const finder *f, const yaml_tree *node, tl_scene_fault *fault)
{
    fault->node[1] = TL_NET_GROUND;
    return find_meter(f, yaml_get(node, "meter"), &fault->ohms) &&
           find_node(f, yaml_get(node, "on"), &fault->node[0]);
}

static bool read_loose(const finder *f, const yaml_tree *node, tl_scene_fault *fault)
{
    const yaml_tree *every = yaml_get(node, "every");
    fault->every = 1;
    if (every != NULL && !read_value(f->r, every, TL_DIM_SECOND, &fault->every))
        return false;
    if (fault->every < 1e-3) {
        report_error(f->r, "bad-quantity", every->place, "a loose joint comes and goes every 1 ms or more");
        return false;
    }
    return find_parts(f, yaml_get(node, "loose"), fault->parts, &fault->part_count);
}

static bool read_leak(const finder *f, const yaml_tree *node, tl_scene_fault *fault)
{
    return find_node(f, yaml_get(node, "leak"), &fault->node[0]) &&
           find_node(f, yaml_get(node, "to"), &fault->node[1]) &&
           read_value(f->r, yaml_get(node, "ohms"), TL_DIM_OHM, &fault->ohms);
}

static bool read_noise(const finder *f, const yaml_tree *node, tl_scene_fault *fault)
{
    const yaml_tree *through = yaml_get(node, "through");
    fault->ohms = 1e6;
    if (through != NULL && !read_value(f->r, through, TL_DIM_OHM, &fault->ohms))
        return false;
    if (fault->ohms < 1) {
        report_error(f->r, "bad-quantity", through->place, "a hum comes through 1 ohm or more");
        return false;
    }
    return find_node(f, yaml_get(node, "noise"), &fault->node[0]) &&
           read_value(f->r, yaml_get(node, "volts"), TL_DIM_VOLT, &fault->volts) &&
           read_value(f->r, yaml_get(node, "frequency"), TL_DIM_HERTZ, &fault->hertz);
}

/* --- the sections --- */

static bool read_span(const finder *f, const yaml_tree *node, double *from, double *until)
{
    const yaml_tree *at;
    bool good = true;
    *from = 0;
    *until = INFINITY;
    if ((at = yaml_get(node, "from")) != NULL)
        good = read_value(f->r, at, TL_DIM_SECOND, from);
    if ((at = yaml_get(node, "until")) != NULL)
        good = read_value(f->r, at, TL_DIM_SECOND, until) && good;
    if (good && !(*from >= 0 && *from < *until)) {
        report_error(f->r, "time-order", node->place, "'from' lies before 'until', and neither before 0 s");
        return false;
    }
    return good;
}

static bool read_kind(const finder *f, const yaml_tree *node, tl_scene_fault *fault)
{
    switch (fault->kind) {
    case TL_SCENE_OPEN:
        return read_open(f, yaml_get(node, "open"), fault);
    case TL_SCENE_SHORT:
        return read_short(f, node, fault);
    case TL_SCENE_WRONG:
        return read_wrong(f, node, fault);
    case TL_SCENE_SWAP:
        return read_swap(f, node, fault);
    case TL_SCENE_STUCK:
        return read_stuck(f, node, fault);
    case TL_SCENE_MISSING:
        return read_missing(f, node, fault);
    case TL_SCENE_LOOSE:
        return read_loose(f, node, fault);
    case TL_SCENE_LEAK:
        return read_leak(f, node, fault);
    case TL_SCENE_NOISE:
        return read_noise(f, node, fault);
    case TL_SCENE_SETTING:
        return read_setting(f, node, fault);
    case TL_SCENE_JOINT:
        return read_joint(f, node, fault);
    case TL_SCENE_MOVED:
        return read_moved(f, node, fault);
    case TL_SCENE_REVERSED:
        return read_reversed(f, node, fault);
    case TL_SCENE_METER:
        return read_left_meter(f, node, fault);
    case TL_SCENE_MISREAD:
        return read_misread(f, node, fault);
    }
    return false;
}

static bool read_fault(const finder *f, const yaml_tree *node, tl_scene_fault *fault)
{
    *fault = (tl_scene_fault){.node = {TL_NET_NONE, TL_NET_NONE},
                              .param = {TL_NET_NONE, TL_NET_NONE},
                              .line = {TL_NONE, TL_NONE},
                              .contact = TL_NET_NONE,
                              .supply = TL_NONE,
                              .signal = TL_NONE,
                              .setting = {TL_NONE, TL_NONE, TL_NONE, TL_NONE, -1, NAN, 0}};
    if (node->kind == YAML_MAP) {
        for (int kind = 0; all_faults[kind] != NULL; kind++) {
            if (yaml_get(node, all_faults[kind]->keys[0].name) == NULL)
                continue;
            fault->kind = (tl_scene_fault_kind)kind;
            return check_map(f->r, node, all_faults[kind]) &&
                   read_span(f, node, &fault->from, &fault->until) && read_kind(f, node, fault);
        }
    }
    report_error(f->r, "wrong-shape", node->place,
                 "a fault is written {KIND: WHAT}: open, short, joint, loose, leak, wrong, swap, moved, "
                 "reversed, stuck, missing, noise, meter, setting or misread");
    return false;
}

static bool read_faults(const finder *f, const yaml_tree *node, tl_scene *scene)
{
    bool good = check_list(f->r, node, "the faults");
    if (good && node->count > FAULTS_MOST) {
        report_error(f->r, "wrong-shape", node->place, "%d faults at most", FAULTS_MOST);
        return false;
    }
    for (int i = 0; good && i < node->count; i++) {
        scene->faults = tl_grow(scene->faults, (size_t)scene->fault_count, sizeof *scene->faults);
        good = read_fault(f, &node->items[i], &scene->faults[scene->fault_count++]);
    }
    return good;
}

static bool read_meter(const finder *f, const yaml_tree *node, tl_scene *scene)
{
    tl_scene_meter meter = {.node = TL_NET_NONE};
    if (!check_map(f->r, node, &keys_scene_meter) || !find_meter(f, yaml_get(node, "use"), &meter.ohms))
        return false;
    if (!find_node(f, yaml_get(node, "on"), &meter.node) || !read_span(f, node, &meter.from, &meter.until))
        return false;
    tl_scene_add_meter(scene, meter);
    return true;
}

bool read_scene_faults(reader *r, const yaml_tree *faults, const yaml_tree *meter, tl_circuit *circuit,
                       tl_scene *scene)
{
    bool good = true;
    if (faults == NULL && meter == NULL)
        return true;
    const finder f = {r, circuit->plan, circuit};
    if (faults != NULL)
        good = read_faults(&f, faults, scene);
    if (meter != NULL && meter->kind == YAML_LIST) {
        for (int i = 0; i < meter->count; i++)
            good = read_meter(&f, &meter->items[i], scene) && good;
    } else if (meter != NULL) {
        good = read_meter(&f, meter, scene) && good;
    }
    return good;
}
