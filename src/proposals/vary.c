/* SPDX-License-Identifier: MIT */
/* A path of names and keys, followed through the files of a plan; and the figures that may move with it. */
#include "proposals/vary.h"
#include "base/memory.h"
#include "base/report_struct.h"
#include "base/yaml_tree.h"
#include "elaborate/circuit_struct.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/* --- the wish --- */

static void trim_copy(char *to, size_t room, const char *text, size_t length)
{
    while (length > 0 && *text == ' ') {
        text++;
        length--;
    }
    while (length > 0 && text[length - 1] == ' ')
        length--;
    snprintf(to, room, "%.*s", (int)length, text);
}

bool vary_read(const char *text, vary_wish *wish, char why[VARY_WHY])
{
    static const char example[] = "such as house-battery.divider.lower=8k2,10k,12k";
    const char *equals = strchr(text, '=');
    *wish = (vary_wish){.count = 0};
    if (equals == NULL || equals == text) {
        snprintf(why, VARY_WHY, "expected a path and its values, %s", example);
        return false;
    }
    trim_copy(wish->path, sizeof wish->path, text, (size_t)(equals - text));
    for (const char *at = equals + 1; *at != '\0';) {
        const size_t length = strcspn(at, ",");
        if (wish->count == VARY_MOST || length >= sizeof wish->value[0] ||
            equals - text >= (int)sizeof wish->path) {
            snprintf(why, VARY_WHY, "at most %d values, none of them long, %s", VARY_MOST, example);
            return false;
        }
        trim_copy(wish->value[wish->count++], sizeof wish->value[0], at, length);
        at += length + (at[length] == ',');
    }
    if (wish->count == 0)
        snprintf(why, VARY_WHY, "expected values behind the =, %s", example);
    return wish->count > 0;
}

/* --- the path --- */

enum { SEGMENTS_MOST = 12 };

typedef struct {
    char name[SEGMENTS_MOST][100];
    int count;
} segments;

/* At the dots between names; those of `knob-1 .. knob-8` and `0.5 V` are no such. */
static bool split(const char *path, segments *s)
{
    size_t used = 0;
    s->count = 0;
    for (const char *at = path;; at++) {
        const bool dot =
            *at == '.' && at > path && at[-1] != '.' && at[-1] != ' ' && at[1] != '.' && at[1] != ' ';
        if (*at == '\0' || dot) {
            s->name[s->count][used] = '\0';
            if (used == 0)
                return false;
            used = 0;
            s->count++;
            if (*at == '\0')
                return true;
            if (s->count == SEGMENTS_MOST)
                return false;
        } else if (used + 1 < sizeof s->name[0]) {
            s->name[s->count][used++] = *at;
        } else {
            return false;
        }
    }
}

/* Of a file that may be shown, and that could be read; else NULL. */
static const yaml_tree *root_of(const tl_report *report, int file)
{
    return report->files[file].hidden ? NULL : report->files[file].root;
}

/* Where a path has led so far: a node of a file. */
typedef struct {
    int file;
    const yaml_tree *node;
} spot;

/* The value of a key; of a list the item that is called so, or that stands there. */
static const yaml_tree *step_inside(const yaml_tree *node, const char *name)
{
    if (node->kind == YAML_MAP)
        return yaml_find(node, name);
    for (int i = 0; node->kind == YAML_LIST && i < node->count; i++) {
        const yaml_tree *item = &node->items[i];
        if (item->kind == YAML_MAP && yaml_find(item, name) != NULL)
            return yaml_find(item, name);
    }
    return NULL;
}

/* A list of stages is no name that anybody types: `bell.pull` is enough. */
static const yaml_tree *step_over(const yaml_tree *node, const char *name)
{
    const yaml_tree *found = step_inside(node, name);
    const yaml_tree *stages = found == NULL && node->kind == YAML_MAP ? yaml_find(node, "stages") : NULL;
    return found != NULL || stages == NULL ? found : step_inside(stages, name);
}

/* A map that names a part's file has that file's keys, too. */
static bool step_file(const tl_report *report, const spot *at, const char *name, spot *next)
{
    for (int i = 0; at->node->kind == YAML_MAP && i < at->node->count; i++) {
        const yaml_tree *value = &at->node->items[2 * i + 1];
        if (value->kind != YAML_TEXT)
            continue;
        for (int f = 0; f < report->file_count; f++) {
            const char *path = report->files[f].path, *slash = strrchr(path, '/'),
                       *file = strrchr(value->text, '/');
            const yaml_tree *found =
                root_of(report, f) != NULL &&
                        strcmp(slash != NULL ? slash + 1 : path, file != NULL ? file + 1 : value->text) == 0
                    ? step_over(root_of(report, f), name)
                    : NULL;
            if (found != NULL) {
                *next = (spot){f, found};
                return true;
            }
        }
    }
    return false;
}

/* Follows the path from one of its segments on; how many could be followed. */
static int follow(const tl_report *report, const segments *s, int from, spot *at)
{
    int i = from;
    for (; i < s->count; i++) {
        const yaml_tree *found = step_over(at->node, s->name[i]);
        spot next = {at->file, found};
        if (found == NULL && !step_file(report, at, s->name[i], &next))
            break;
        *at = next;
    }
    return i;
}

/* From the root of a file, and from each of its maps: the longest way wins, the first of equal ones. */
static int follow_longest(const tl_report *report, const segments *s, spot *best)
{
    int longest = 0;
    for (int f = 0; f < report->file_count && longest < s->count; f++) {
        const yaml_tree *root = root_of(report, f);
        for (int i = -1; root != NULL && root->kind == YAML_MAP && i < root->count; i++) {
            spot at = {f, i < 0 ? root : &root->items[2 * i + 1]};
            const int reached = follow(report, s, 0, &at);
            if (reached > longest) {
                longest = reached;
                *best = at;
            }
        }
    }
    return longest;
}

static void list_keys(const yaml_tree *node, char *why)
{
    const yaml_tree *map = node;
    size_t used = strlen(why);
    for (int i = 0; map->kind == YAML_MAP && i < map->count && used + 60 < VARY_WHY; i++)
        used += (size_t)snprintf(why + used, VARY_WHY - used, "%s%.40s",
                                 i > 0 ? ", " : "; it has: ", map->items[2 * i].text);
}

/* `8k2` in place of `10k ±1 %` is `8k2 ±1 %`; a range, and a value that is nothing but a tolerance, have none
 * to hand on. */
static void keep_tolerance(const char *was, char value[VARY_VALUE])
{
    const char *from = strstr(was, "±");
    const size_t used = strlen(value);
    if (from == NULL || from == was || strstr(was, "..") != NULL || strstr(value, "±") != NULL ||
        strstr(value, "..") != NULL)
        return;
    size_t length = strcspn(from, "+|");
    while (length > 0 && from[length - 1] == ' ')
        length--;
    snprintf(value + used, VARY_VALUE - used, " %.*s", (int)length, from);
}

bool vary_edit(const tl_report *report, const char *path, char value[VARY_VALUE], tl_edit *edit,
               char why[VARY_WHY])
{
    segments s;
    spot at = {-1, NULL};
    bool found = false;
    *edit = (tl_edit){.file = -1};
    if (!split(path, &s)) {
        snprintf(why, VARY_WHY, "'%.80s' is no path of names with dots between them", path);
        return false;
    }
    const int reached = follow_longest(report, &s, &at);
    if (reached == s.count && at.node->kind != YAML_MAP) {
        if (at.node->kind == YAML_TEXT)
            keep_tolerance(at.node->text, value);
        *edit = (tl_edit){at.file, at.node->begin, at.node->end, tl_copy_text(value), NULL};
        found = true;
    } else if (reached == s.count) {
        snprintf(why, VARY_WHY, "'%.80s' is no single value", path);
        list_keys(at.node, why);
    } else if (reached == s.count - 1 && reached > 0 && at.node->kind == YAML_MAP) {
        tl_place place = at.node->place;
        place.file = at.file;
        found = tl_edit_key(report, place, s.name[reached], value, edit);
    } else if (reached == 0) {
        snprintf(why, VARY_WHY, "nothing in the plan, its board or its parts is called '%.80s'", s.name[0]);
    } else {
        snprintf(why, VARY_WHY, "'%.80s' has no '%.60s'", s.name[reached - 1], s.name[reached]);
        list_keys(at.node, why);
    }
    return found;
}

/* --- figures --- */

typedef struct {
    vary_figure *figure;
    int count;
} figure_list;

static void add(figure_list *list, const char *of, const char *what, double value, tl_dimension dimension,
                tl_extreme extreme)
{
    list->figure = tl_grow(list->figure, (size_t)list->count, sizeof *list->figure);
    vary_figure *f = &list->figure[list->count++];
    *f = (vary_figure){.value = value, .dimension = dimension, .extreme = extreme};
    snprintf(f->name, sizeof f->name, "%.60s, %s", of, what);
}

/* How far the reading may be off, in the middle of what comes. */
static void add_reading(figure_list *list, tl_circuit *circuit, int signal, const tl_analog_path *path)
{
    const tl_signal *s = &tl_circuit_plan(circuit)->signals[signal];
    const tl_worst_case *worst = tl_circuit_worst_case(circuit, signal, 0);
    const tl_signal_nodes *nodes = tl_circuit_nodes(circuit, signal);
    double least, most;
    tl_value is;
    if (s->source.button_count > 0 || nodes->reference == TL_NET_NONE || worst->fault != TL_NET_SOLVED)
        return;
    tl_net_param_span(tl_circuit_net(circuit), nodes->reference, &least, &most);
    const double middle = (worst->volts.low + worst->volts.high) / (least + most) * path->reference_counts;
    if (tl_plan_value(circuit, signal, fmin(fmax(middle, (double)path->first_code), (double)path->last_code),
                      &is) != TL_NET_SOLVED ||
        isnan(is.value))
        return;
    add(list, s->name, "reading in the middle off by",
        fmax(is.value - is.within.low, is.within.high - is.value), TL_DIM_NUMBER, TL_HIGHEST);
    list->figure[list->count - 1].unit = s->reading.unit;
    list->figure[list->count - 1].decimals = is.decimals + 1;
}

static void add_analog(figure_list *list, tl_circuit *circuit, int signal)
{
    const tl_signal *s = &tl_circuit_plan(circuit)->signals[signal];
    const tl_analog_path *path = tl_circuit_path(circuit, signal);
    if (path->fault != TL_NET_SOLVED)
        return;
    add(list, s->name, "source resistance", path->source_ohms, TL_DIM_OHM, TL_HIGHEST);
    if (path->acquisition > 0) {
        add(list, s->name, "acquisition", path->acquisition, TL_DIM_SECOND, TL_TYPICAL);
        add(list, s->name, "acquisition needed", tl_circuit_acquisition_needed(circuit, signal),
            TL_DIM_SECOND, TL_HIGHEST);
        add(list, s->name, "settling error", path->settling_counts, TL_DIM_COUNT, TL_HIGHEST);
    }
    add_reading(list, circuit, signal, path);
}

static void add_signal(figure_list *list, tl_circuit *circuit, int signal)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    const tl_signal *s = &plan->signals[signal];
    const bool analog = s->analog && plan->pins[s->pin].channel >= 0;
    double low = INFINITY, high = -INFINITY, margin = INFINITY;
    for (int state = 0; state < tl_circuit_nodes(circuit, signal)->states; state++) {
        const tl_worst_case *worst = tl_circuit_worst_case(circuit, signal, state);
        if (worst->fault != TL_NET_SOLVED)
            continue;
        low = fmin(low, worst->volts.low);
        high = fmax(high, worst->volts.high);
        if (!s->analog)
            margin = fmin(margin, fmax(worst->above_vih.low, -worst->above_vil.high));
    }
    if (isfinite(low)) {
        add(list, s->name, "at the pin, lowest", low, TL_DIM_VOLT, TL_LOWEST);
        add(list, s->name, "at the pin, highest", high, TL_DIM_VOLT, TL_HIGHEST);
    }
    if (isfinite(margin))
        add(list, s->name, "threshold cleared by", margin, TL_DIM_VOLT, TL_LOWEST);
    if (analog)
        add_analog(list, circuit, signal);
}

vary_figure *vary_figures(tl_circuit *circuit, int *count)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    figure_list list = {NULL, 0};
    for (int i = 0; i < plan->signal_count; i++)
        add_signal(&list, circuit, i);
    for (int i = 0; i < plan->output_count; i++) {
        const tl_plan_output *o = &plan->outputs[i];
        if (o->pin_count > 0)
            add(&list, o->name, "current of each pin", tl_circuit_pin_amperes(circuit, o), TL_DIM_AMPERE,
                TL_HIGHEST);
        add(&list, o->name, "current of the load", tl_circuit_load_amperes(circuit, o).high, TL_DIM_AMPERE,
            TL_HIGHEST);
    }
    *count = list.count;
    return list.figure;
}
