/* What goes wrong in a scene, and the meter on it: every name is found in the plan's circuit as it is
 * soldered. */
#include "base/memory.h"
#include "scene/fault_names.h"
#include <math.h>
#include <string.h>

enum { FAULTS_MOST = 1000 };

/* --- the kinds --- */

static bool read_short(const finder *f, const yaml_tree *node, tl_scene_fault *fault)
{
    const yaml_tree *what = yaml_get(node, "short"), *to = yaml_get(node, "to");
    fault->ohms = 0;
    if (to != NULL)
        return find_node(f, what, &fault->node[0]) && find_node(f, to, &fault->node[1]);
    if (!find_parts(f, what, fault->parts, &fault->part_count))
        return false;
    tl_net_part_ends(f->circuit->net, fault->parts[0], &fault->node[0], &fault->node[1]);
    fault->part_count = 0;
    return true;
}

static bool read_wrong(const finder *f, const yaml_tree *node, tl_scene_fault *fault)
{
    const yaml_tree *what = yaml_get(node, "wrong");
    if (!find_parts(f, what, fault->parts, &fault->part_count))
        return false;
    fault->param[0] = param_of_part(f, fault->parts[0]);
    fault->part_count = 0;
    if (fault->param[0] == TL_NET_NONE)
        return unknown_name(f, what, "value of a part", NULL);
    return read_value(f->r, yaml_get(node, "value"), f->circuit->param[fault->param[0]].dimension,
                      &fault->value);
}

/* Two signals' plugs: the wire of each pin goes to the other one's. */
static bool swap_plugs(const finder *f, const yaml_tree *list, tl_scene_fault *fault)
{
    for (int i = 0; i < 2; i++) {
        int signal;
        if (signal_before(f, list->items[i].text, "pin", &signal) == NULL)
            return false;
        fault->parts[i] = wire_of_pin(f, signal);
        fault->node[i] = f->circuit->signals[signal].route_length > 0 ? f->circuit->signals[signal].common
                                                                      : f->circuit->signals[signal].pin;
        fault->other[1 - i] = f->circuit->signals[signal].end;
    }
    fault->part_count = 2;
    return fault->parts[0] != TL_NET_NONE && fault->parts[1] != TL_NET_NONE;
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
        return find_parts(f, yaml_get(node, "open"), fault->parts, &fault->part_count);
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
    default:
        return read_setting(f, node, fault);
    }
}

static bool read_fault(const finder *f, const yaml_tree *node, tl_scene_fault *fault)
{
    *fault = (tl_scene_fault){.node = {TL_NET_NONE, TL_NET_NONE},
                              .other = {TL_NET_NONE, TL_NET_NONE},
                              .param = {TL_NET_NONE, TL_NET_NONE},
                              .line = {TL_NONE, TL_NONE},
                              .contact = TL_NET_NONE,
                              .supply = TL_NONE,
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
                 "a fault is written {KIND: WHAT}: open, short, wrong, swap, stuck, missing, loose, leak, "
                 "noise or setting");
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
    const yaml_tree *use;
    tl_scene_meter meter = {.node = TL_NET_NONE};
    if (!check_map(f->r, node, &keys_scene_meter) ||
        !is_a_name(f, use = yaml_get(node, "use"), "a meter's name"))
        return false;
    for (int i = 0; i < f->plan->meter_count; i++) {
        if (strcmp(f->plan->meters[i].name, use->text) == 0)
            meter.ohms = f->plan->meters[i].ohms;
    }
    if (meter.ohms == 0)
        return unknown_name(f, use, "meter", NULL);
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
