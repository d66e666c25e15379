/* SPDX-License-Identifier: MIT */
/* Names in a scene's faults: parts, wires, points and lines of the plan's circuit as it is soldered. */
#include "scene/fault_names.h"
#include "elaborate/elaborate.h"
#include <stdio.h>
#include <string.h>

/* --- names --- */

static const char *part_name(const void *list, int i)
{
    return tl_net_part_in(list, TL_VIEW_SOLDERED, i) ? tl_net_part_name(list, i) : "";
}

static const char *node_name(const void *list, int i)
{
    return tl_net_node_name(list, i);
}

bool unknown_name(const finder *f, const yaml_tree *node, const char *what, const char *meant)
{
    report_error(f->r, "unknown-name", node->place, "the plan has no %s '%.80s'%s%s%s", what, node->text,
                 meant != NULL ? ": did you mean '" : "", meant != NULL ? meant : "",
                 meant != NULL ? "'?" : "");
    return false;
}

bool is_a_name(const finder *f, const yaml_tree *node, const char *what)
{
    const char *text;
    return read_text(f->r, node, what, &text);
}

/* `NAME.pin` or `NAME.source`: the signal; else NULL. */
const tl_signal *signal_before(const finder *f, const char *path, const char *end, int *index)
{
    char name[TL_PATH_LONGEST] = "";
    const char *dot = strrchr(path, '.');
    if (dot == NULL || strcmp(dot + 1, end) != 0 || (size_t)(dot - path) >= sizeof name)
        return NULL;
    memcpy(name, path, (size_t)(dot - path));
    return tl_plan_signal(f->plan, name, index);
}

static bool begins_with(const char *text, const char *name, const char *then)
{
    const size_t length = strlen(name);
    return strncmp(text, name, length) == 0 && strncmp(text + length, then, strlen(then)) == 0;
}

/* The wire from a source: all of the source that its first node is connected to; of a rail, what the chain
 * has on it. */
static int wire_of_source(const finder *f, int signal, int *parts)
{
    const tl_net *net = f->circuit->net;
    const int node = f->circuit->signals[signal].source;
    const char *name = f->plan->signals[signal].name, *then = tl_net_is_rail(net, node) ? "." : ".source";
    int at[256], count = 0;
    const int there = tl_net_parts_at(net, TL_VIEW_SOLDERED, node, at, 256);
    for (int i = 0; i < there && i < 256; i++) {
        if (!begins_with(tl_net_part_name(net, at[i]), name, then))
            continue;
        if (count < TL_SCENE_PARTS_MOST)
            parts[count] = at[i];
        count++;
    }
    return there <= 256 ? count : there;
}

/* The wire to a pin: behind a multiplexer its switch. */
int wire_of_pin(const finder *f, int signal)
{
    char path[TL_PATH_LONGEST];
    const tl_pin *pin = &f->plan->pins[f->plan->signals[signal].pin];
    if (pin->mux != TL_NONE)
        snprintf(path, sizeof path, "%.80s.%d", f->plan->muxes[pin->mux].name, pin->input);
    else
        path_of(path, f->plan->signals[signal].name, "pin", NULL);
    return tl_net_find_part(f->circuit->net, TL_VIEW_SOLDERED, path);
}

/* All that has this name: a diode, say, is more than one. */
static int parts_called(const finder *f, const char *name, int *parts)
{
    const tl_net *net = f->circuit->net;
    int count = 0;
    for (int i = 0; i < tl_net_part_count(net); i++) {
        if (!tl_net_part_in(net, TL_VIEW_SOLDERED, i) || strcmp(tl_net_part_name(net, i), name) != 0)
            continue;
        if (count < TL_SCENE_PARTS_MOST)
            parts[count] = i;
        count++;
    }
    return count;
}

/* What follows of a text behind `OWNER.`; NULL. */
static const char *behind_owner(const char *text, const char *owner)
{
    const size_t length = strlen(owner);
    return strncmp(text, owner, length) == 0 && text[length] == '.' ? text + length + 1 : NULL;
}

/* The wire of a multiplexer's common line: it leads to all of its switches, or to the input of another. */
static int wire_of_common(const finder *f, const char *name, int *parts)
{
    char path[TL_PATH_LONGEST];
    int count = 0;
    for (int m = 0; m < f->plan->mux_count; m++) {
        const tl_mux *mux = &f->plan->muxes[m];
        const tl_pin *behind = &f->plan->pins[mux->common];
        const char *wire = behind_owner(name, mux->name);
        if (wire == NULL || strcmp(wire, "common") != 0)
            continue;
        if (behind->mux != TL_NONE) {
            snprintf(path, sizeof path, "%.80s.%d", f->plan->muxes[behind->mux].name, behind->input);
            return parts_called(f, path, parts);
        }
        for (int i = 0; i < mux->part->inputs && count < TL_SCENE_PARTS_MOST; i++) {
            snprintf(path, sizeof path, "%.80s.%d", mux->name, i);
            count += parts_called(f, path, parts + count);
        }
    }
    return count;
}

bool find_parts(const finder *f, const yaml_tree *node, int *parts, int *count)
{
    int signal;
    if (!is_a_name(f, node, "a part's name"))
        return false;
    *count = wire_of_common(f, node->text, parts);
    if (*count == 0 && signal_before(f, node->text, "source", &signal) != NULL) {
        *count = wire_of_source(f, signal, parts);
    } else if (*count == 0 && signal_before(f, node->text, "pin", &signal) != NULL) {
        *count = 1;
        parts[0] = wire_of_pin(f, signal);
    } else if (*count == 0) {
        *count = parts_called(f, node->text, parts);
    }
    if (*count > TL_SCENE_PARTS_MOST) {
        report_error(f->r, "bad-number", node->place,
                     "%d parts are connected to '%.80s', at most %d can come off at once", *count, node->text,
                     TL_SCENE_PARTS_MOST);
        return false;
    }
    if (*count > 0 && parts[0] != TL_NET_NONE)
        return true;
    return unknown_name(
        f, node, "part",
        nearest_name(node->text, part_name, f->circuit->net, tl_net_part_count(f->circuit->net)));
}

bool find_node(const finder *f, const yaml_tree *node, int *found)
{
    if (!is_a_name(f, node, "a point's name"))
        return false;
    *found = tl_circuit_point(f->circuit, node->text);
    return *found != TL_NET_NONE || unknown_name(f, node, "point",
                                                 nearest_name(node->text, node_name, f->circuit->net,
                                                              tl_net_node_count(f->circuit->net)));
}

/* Whether a text is `OWNER.END`; only then *pin is set. */
static bool is_wire(const char *owner, const char *end, const char *text, int at, int *pin)
{
    const char *is = behind_owner(text, owner);
    if (is == NULL || strcmp(is, end) != 0)
        return false;
    *pin = at;
    return true;
}

/* `BUS.clock` and so on, or `CONVERTER.select`, on SPI. */
static bool is_spi_wire(const finder *f, const char *text, int *pin)
{
    static const char *const ends[] = {"clock", "in", "out"};
    for (int i = 0; i < f->plan->bus_count; i++) {
        for (int k = 0; f->plan->buses[i].spi && k < 3; k++) {
            if (is_wire(f->plan->buses[i].name, ends[k], text, f->plan->buses[i].pins[k], pin))
                return true;
        }
    }
    for (int i = 1; i < f->plan->converter_count; i++) {
        const tl_plan_converter *converter = &f->plan->converters[i];
        if (f->plan->buses[converter->bus].spi &&
            is_wire(converter->name, "select", text, converter->select_pin, pin))
            return true;
    }
    return false;
}

bool level_wire_named(const finder *f, const char *text, int *pin)
{
    char select[24];
    for (int m = 0; m < f->plan->mux_count; m++) {
        const tl_mux *mux = &f->plan->muxes[m];
        if (behind_owner(text, mux->name) == NULL)
            continue;
        for (int i = 0; i < mux->select_count; i++) {
            snprintf(select, sizeof select, "select-%d", i);
            if (is_wire(mux->name, select, text, mux->select[i].pin, pin))
                return true;
        }
        if (is_wire(mux->name, "enable", text, mux->enable.given ? mux->enable.pin : TL_NONE, pin))
            return true;
    }
    return is_spi_wire(f, text, pin);
}

int line_named(const finder *f, const char *text)
{
    int signal, pin;
    if (level_wire_named(f, text, &pin))
        return pin;
    for (int i = 0; i < f->plan->board->pin_count; i++) {
        if (strcmp(f->plan->pins[i].name, text) == 0)
            return i;
    }
    const tl_signal *s = signal_before(f, text, "pin", &signal);
    return s != NULL && !s->analog ? s->pin : TL_NONE;
}

int param_of_part(const finder *f, int part)
{
    return tl_circuit_param(f->circuit, tl_net_part_name(f->circuit->net, part));
}
