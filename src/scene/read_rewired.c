/* SPDX-License-Identifier: MIT */
/* Faults of the wiring: joints with resistance, parts on another rail, parts the wrong way round. */
#include "scene/fault_names.h"
#include <stdio.h>
#include <string.h>

static void lead(tl_scene_fault *fault, int part, int from, int to)
{
    fault->parts[fault->part_count] = part;
    fault->from_node[fault->part_count] = from;
    fault->to_node[fault->part_count++] = to;
}

bool read_joint(const finder *f, const yaml_tree *node, tl_scene_fault *fault)
{
    int parts[TL_SCENE_PARTS_MOST], count, signal;
    const yaml_tree *what = yaml_get(node, "joint"), *ohms = yaml_get(node, "ohms");
    if (!find_parts(f, what, parts, &count) || !read_value(f->r, ohms, TL_DIM_OHM, &fault->ohms))
        return false;
    if (!(fault->ohms >= 1e-3)) {
        report_error(f->r, "bad-quantity", ohms->place, "a joint with resistance has 1 mohm or more");
        return false;
    }
    const bool wire = signal_before(f, what->text, "source", &signal) != NULL;
    for (int i = 0; i < count; i++) {
        int a, b;
        tl_net_part_ends(f->circuit->net, parts[i], &a, &b);
        const int end = wire && b == f->circuit->signals[signal].source ? b : a;
        lead(fault, parts[i], end, end);
    }
    return true;
}

/* Whether a node is a supply, a shared node or ground. */
static bool is_supply(const finder *f, int node)
{
    bool is = node == TL_NET_GROUND;
    for (int i = 0; i < f->plan->supply_count; i++)
        is = is || f->circuit->supply_node[i] == node;
    return is;
}

/* Of what leads to a shared node, `NODE.series`: that node; TL_NET_NONE for others. */
static int own_node(const finder *f, const char *part)
{
    for (int i = 0; i < f->plan->supply_count; i++) {
        const size_t length = strlen(f->plan->supplies[i].name);
        if (f->plan->supplies[i].kind == TL_RAIL_SHARED && strncmp(part, f->plan->supplies[i].name, length) == 0 &&
            part[length] == '.')
            return f->circuit->supply_node[i];
    }
    return TL_NET_NONE;
}

bool read_moved(const finder *f, const yaml_tree *node, tl_scene_fault *fault)
{
    int parts[TL_SCENE_PARTS_MOST], count, rail;
    const yaml_tree *what = yaml_get(node, "moved"), *to = yaml_get(node, "to");
    if (!find_parts(f, what, parts, &count) || !read_rail(f->r, to, true, &rail))
        return false;
    const int there = rail < 0 ? TL_NET_GROUND : f->circuit->supply_node[rail], own = own_node(f, what->text);
    int ends = 0;
    for (int i = 0; i < count; i++) {
        int end[2];
        tl_net_part_ends(f->circuit->net, parts[i], &end[0], &end[1]);
        for (int k = 0; k < 2; k++) {
            if (!is_supply(f, end[k]) || end[k] == own)
                continue;
            lead(fault, parts[i], end[k], there);
            ends++;
        }
    }
    if (ends == 1 && fault->from_node[0] != there)
        return true;
    if (ends == 1)
        report_error(f->r, "no-effect", to->place, "'%.80s' is connected to %s already", what->text,
                     to->text);
    else if (ends == 0)
        report_error(f->r, "no-effect", what->place, "no end of '%.80s' is connected to a rail", what->text);
    else
        report_error(f->r, "no-effect", what->place,
                     "%d ends of '%.80s' are connected to rails: name one part, such as %.60s.upper", ends,
                     what->text, what->text);
    return false;
}

/* The part of a signal that is called so; TL_NET_NONE. */
static int part_of(const finder *f, const char *signal, const char *what)
{
    char path[TL_PART_PATH];
    snprintf(path, sizeof path, "%.80s.%s", signal, what);
    return tl_net_find_part(f->circuit->net, TL_VIEW_SOLDERED, path);
}

/* Two parts' ends change places. */
static void exchange(const finder *f, tl_scene_fault *fault, int one, int one_end, int other, int other_end)
{
    int a[2], b[2];
    tl_net_part_ends(f->circuit->net, one, &a[0], &a[1]);
    tl_net_part_ends(f->circuit->net, other, &b[0], &b[1]);
    lead(fault, one, a[one_end], b[other_end]);
    lead(fault, other, b[other_end], a[one_end]);
}

bool swap_plugs(const finder *f, const yaml_tree *list, tl_scene_fault *fault)
{
    int wire[2], end[2];
    for (int i = 0; i < 2; i++) {
        int signal, b;
        if (signal_before(f, list->items[i].text, "pin", &signal) == NULL ||
            (wire[i] = wire_of_pin(f, signal)) == TL_NET_NONE)
            return false;
        tl_net_part_ends(f->circuit->net, wire[i], &end[i], &b);
    }
    lead(fault, wire[0], end[0], end[1]);
    lead(fault, wire[1], end[1], end[0]);
    return true;
}

/* What blocks when it is the wrong way round is as good as off. */
static bool take_blocking(const finder *f, const yaml_tree *what, tl_scene_fault *fault)
{
    fault->kind = TL_SCENE_OPEN;
    return find_parts(f, what, fault->parts, &fault->part_count);
}

bool read_reversed(const finder *f, const yaml_tree *node, tl_scene_fault *fault)
{
    const yaml_tree *what = yaml_get(node, "reversed");
    int signal;
    if (!is_a_name(f, what, "a part's name"))
        return false;
    const tl_signal *s = signal_before(f, what->text, "source", &signal);
    if (s != NULL && s->source.kind == TL_SOURCE_POTENTIOMETER) {
        exchange(f, fault, part_of(f, s->name, "source.upper"), 0, part_of(f, s->name, "source.lower"), 1);
        return true;
    }
    if (s != NULL && s->source.kind == TL_SOURCE_BRIDGE &&
        part_of(f, s->name, "pin-negative") != TL_NET_NONE) {
        exchange(f, fault, part_of(f, s->name, "pin"), 0, part_of(f, s->name, "pin-negative"), 0);
        return true;
    }
    if (s != NULL && s->source.kind == TL_SOURCE_CURRENT)
        return take_blocking(f, what, fault);
    const tl_parts *parts = &f->circuit->parts;
    bool known = false;
    for (int i = 0; i < parts->count; i++) {
        if (strcmp(parts->part[i].path, what->text) != 0)
            continue;
        if (parts->part[i].role == TL_PART_LAMP)
            return take_blocking(f, what, fault);
        known = true;
    }
    if (s == NULL && !known)
        return unknown_name(f, what, "source or lamp", NULL);
    report_error(f->r, "no-effect", what->place, "'%.80s' is the same the other way round", what->text);
    return false;
}
