/* SPDX-License-Identifier: MIT */
/* The faults of a plan, each with what it is called and how often it is met. */
#include "explain/hypotheses.h"
#include "base/memory.h"
#include "elaborate/circuit_struct.h"
#include "explain/near.h"
#include "model/csv_file.h"
#include "model/parts.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

/* How often each is met on a bench, against each other: kept within a factor of 50, so that they decide
 * between look-alikes and never overrule the figures. */
static const struct {
    const char *kind;
    double weight;
} priors[] = {
    {"sound", 100},
    {"other-source", 10},
    {"open", 10},
    {"pull-missing", 10},
    {"swapped-legs", 8},
    {"wrong-rail", 8},
    {"supply-missing", 8},
    {"same-rail", 6},
    {"ground-open", 6},
    {"ends-swapped", 6},
    {"reversed", 6},
    {"times-10", 5},
    {"tenth", 5},
    {"select-swapped", 5},
    {"enable-off", 5},
    {"cold-joint", 4},
    {"loose", 4},
    {"swapped-pins", 4},
    {"reference", 4},
    {"alignment", 4},
    {"byte-order", 4},
    {"sign", 4},
    {"eight-bit", 4},
    {"range", 4},
    {"integer-division", 4},
    {"wrong-constant", 4},
    {"address", 4},
    {"short-to-ground", 2.5},
    {"short", 2},
    {"neighbour", 2},
    {"acquisition", 2},
    {"bits", 2},
    {"noise", 2},
    {"step-convention", 2},
    {"short-to-rail", 1.5},
    {"stuck-low", 1.5},
    {"stuck-high", 1.5},
    {"stuck-open", 1.5},
    {"stuck-closed", 1.5},
    {"meter-loading", 1.5},
    {"supply-shorted", 1},
    {"inverted", 1},
    {"supply-wrong", 1},
    {"leak", 0.5},
};
enum { PRIORS = sizeof priors / sizeof priors[0] };

const char *prior_kind(int i, double *weight)
{
    if (i < 0 || i >= PRIORS)
        return NULL;
    *weight = priors[i].weight;
    return priors[i].kind;
}

/* `short-to-logic` stands in the table as short-to-rail, `leak-to-ground` as leak. */
static const char *row_of_kind(const char *kind)
{
    for (int i = 0; i < PRIORS; i++) {
        if (strcmp(priors[i].kind, kind) == 0)
            return priors[i].kind;
    }
    return strncmp(kind, "leak", 4) == 0 ? "leak" : "short-to-rail";
}

static double prior_of(const char *kind)
{
    const char *row = row_of_kind(kind);
    int i = 0;
    while (strcmp(priors[i].kind, row) != 0)
        i++;
    return priors[i].weight;
}

/* --- what a line of a scene is called --- */

/* The text of a key of `{key: text, ...}`; empty where it has none. */
static void text_of(const char *line, const char *key, char text[CAUSE_TEXT])
{
    char wanted[40];
    text[0] = '\0';
    snprintf(wanted, sizeof wanted, "%s: ", key);
    for (const char *at = line; (at = strstr(at, wanted)) != NULL; at++) {
        if (at[-1] != '{' && at[-1] != ' ')
            continue;
        at += strlen(wanted);
        at += *at == '[';
        snprintf(text, CAUSE_TEXT, "%.*s", (int)strcspn(at, at[-1] == '[' ? "]" : ",}"), at);
        return;
    }
}

static const tl_plan_part *part_at(const tl_parts *parts, const char *path)
{
    for (int i = 0; i < parts->count; i++) {
        if (strcmp(parts->part[i].path, path) == 0)
            return &parts->part[i];
    }
    return NULL;
}

static bool ends_with(const char *text, const char *end)
{
    const size_t a = strlen(text), b = strlen(end);
    return a >= b && strcmp(text + a - b, end) == 0;
}

static void name(hypothesis *h, const char *kind, const char *part)
{
    snprintf(h->kind, sizeof h->kind, "%.39s", kind);
    snprintf(h->part, sizeof h->part, "%s", part);
}

/* A pull that is off is missing; a potentiometer's end at ground that is off is an open ground. */
static void name_open(hypothesis *h, const tl_parts *parts, const char *path)
{
    const tl_plan_part *part = part_at(parts, path);
    const bool pull = part != NULL && part->role == TL_PART_PULL;
    name(h,
         pull                               ? "pull-missing"
         : ends_with(path, ".enable")       ? "enable-off"
         : ends_with(path, ".source.lower") ? "ground-open"
                                            : "open",
         path);
}

static void name_wrong(hypothesis *h, const tl_parts *parts, const char *path)
{
    tl_quantity is;
    tl_text_error error;
    const tl_plan_part *part = part_at(parts, path);
    if (part == NULL || part->value == NULL || !tl_quantity_read(h->value, TL_DIM_OHM, &is, &error)) {
        name(h, "supply-wrong", path);
        return;
    }
    const double ratio = is.nominal / part->value->value.nominal;
    name(h,
         ratio > 9 && ratio < 11        ? "times-10"
         : ratio > 0.09 && ratio < 0.11 ? "tenth"
                                        : "neighbour",
         path);
}

/* `[a.divider.upper, a.divider.lower]`: the divider; of others both, joined. */
static void name_swap(hypothesis *h, const char *list)
{
    char both[CAUSE_TEXT], *second = strchr(list, ',');
    const size_t first = second != NULL ? (size_t)(second - list) : strlen(list);
    snprintf(both, sizeof both, "%.*s+%s", (int)first, list, second != NULL ? second + 2 : "");
    if (strstr(list, ".select-") != NULL)
        name(h, "select-swapped", both);
    else if (strstr(list, ".pin") != NULL || strstr(list, ".in,") != NULL)
        name(h, "swapped-pins", both);
    else {
        snprintf(both, sizeof both, "%.*s", (int)(strcspn(list, ",")), list);
        const char *dot = strrchr(both, '.');
        both[dot != NULL ? dot - both : 0] = '\0';
        name(h, "swapped-legs", both);
    }
}

static void name_towards(hypothesis *h, const char *what, const char *part)
{
    char to[CAUSE_TEXT], kind[CAUSE_TEXT + 20];
    text_of(h->line, "to", to);
    snprintf(kind, sizeof kind, "%s-to-%s", what, to);
    name(h, kind, part);
}

static void name_misread(hypothesis *h, const char *part)
{
    static const struct {
        const char *as, *kind, *value;
    } ways[] = {{"other-sign", "sign", ""},
                {"inverted", "inverted", ""},
                {"bit-less", "bits", "one less"},
                {"bit-more", "bits", "one more"},
                {"swapped-bytes", "byte-order", ""},
                {"low-byte", "eight-bit", "the low byte"},
                {"high-byte", "bits", "8"},
                {"whole-division", "integer-division", "whole millivolts per count"},
                {"whole-ratio", "integer-division", "a ratio of whole numbers"},
                {"other-steps", "step-convention", ""}};
    char as[CAUSE_TEXT];
    text_of(h->line, "as", as);
    name(h, "wrong-constant", part);
    if (as[0] == '\0')
        text_of(h->line, "factor", as);
    snprintf(h->value, sizeof h->value, "%.39s", as);
    for (size_t i = 0; i < sizeof ways / sizeof ways[0]; i++) {
        if (strcmp(as, ways[i].as) != 0)
            continue;
        name(h, ways[i].kind, part);
        snprintf(h->value, sizeof h->value, "%s", ways[i].value);
    }
}

static void name_setting(hypothesis *h, const char *part)
{
    static const char *const keys[][2] = {{"reference", "reference"},
                                          {"range", "range"},
                                          {"align", "alignment"},
                                          {"acquisition", "acquisition"},
                                          {"address", "address"}};
    char text[CAUSE_TEXT];
    for (size_t i = 0; i < sizeof keys / sizeof keys[0]; i++) {
        text_of(h->line, keys[i][0], text);
        if (text[0] == '\0')
            continue;
        name(h, keys[i][1], part);
        snprintf(h->value, sizeof h->value, "%.39s", text);
    }
}

static void name_moved(hypothesis *h, const tl_plan *plan, const char *part)
{
    char to[CAUSE_TEXT];
    text_of(h->line, "to", to);
    name(h, ends_with(part, ".source") ? "same-rail" : "wrong-rail", part);
    for (int i = 0; i < plan->supply_count; i++) { /* a shared node: it is fed by another supply */
        const size_t length = strlen(plan->supplies[i].name);
        if (strncmp(part, plan->supplies[i].name, length) == 0 && strcmp(part + length, ".series") == 0)
            h->part[length] = '\0';
    }
    snprintf(h->value, sizeof h->value, "%.39s", to);
}

/* A pin of the board by what is connected to it. */
static void name_pin(hypothesis *h, const tl_plan *plan, const char *pin)
{
    snprintf(h->part, sizeof h->part, "%s", pin);
    for (int i = 0; i < plan->signal_count; i++) {
        if (strcmp(plan->pins[plan->signals[i].pin].name, pin) == 0)
            snprintf(h->part, sizeof h->part, "%.80s.pin", plan->signals[i].name);
    }
    for (int i = 0; i < plan->output_count; i++) {
        if (plan->outputs[i].pin_count == 1 && strcmp(plan->pins[plan->outputs[i].pins[0]].name, pin) == 0)
            snprintf(h->part, sizeof h->part, "%.80s.pin", plan->outputs[i].name);
    }
}

static void name_line(hypothesis *h, const tl_plan *plan, const tl_parts *parts)
{
    static const char *const keys[] = {"open",    "short", "wrong",    "swap",  "stuck",
                                       "missing", "loose", "leak",     "noise", "setting",
                                       "joint",   "moved", "reversed", "meter", "misread"};
    char what[CAUSE_TEXT], other[CAUSE_TEXT];
    size_t key = 0;
    while (key < sizeof keys / sizeof keys[0]) {
        text_of(h->line, keys[key], what);
        if (strncmp(h->line + 1, keys[key], strlen(keys[key])) == 0 && what[0] != '\0')
            break;
        key++;
    }
    text_of(h->line, "ohms", other);
    if (other[0] == '\0')
        text_of(h->line, "value", other);
    snprintf(h->value, sizeof h->value, "%.39s", other);
    switch ((tl_scene_fault_kind)key) {
    case TL_SCENE_OPEN:
        name_open(h, parts, what);
        break;
    case TL_SCENE_SHORT:
        text_of(h->line, "to", other);
        if (other[0] != '\0')
            name_towards(h, "short", what);
        else
            name(h, "short", what);
        break;
    case TL_SCENE_WRONG:
        name_wrong(h, parts, what);
        break;
    case TL_SCENE_SWAP:
        name_swap(h, what);
        break;
    case TL_SCENE_STUCK:
        text_of(h->line, "at", other);
        snprintf(h->kind, sizeof h->kind, ends_with(what, ".enable") ? "enable-off" : "stuck-%.20s", other);
        name_pin(h, plan, what);
        break;
    case TL_SCENE_MISSING:
        text_of(h->line, "off", other);
        name(h, other[0] != '\0' ? "supply-shorted" : "supply-missing", what);
        break;
    case TL_SCENE_LOOSE:
        name(h, "loose", what);
        break;
    case TL_SCENE_LEAK:
        name_towards(h, "leak", what);
        break;
    case TL_SCENE_NOISE:
        name(h, "noise", what);
        break;
    case TL_SCENE_SETTING:
        name_setting(h, what);
        break;
    case TL_SCENE_JOINT:
        name(h, "cold-joint", what);
        break;
    case TL_SCENE_MOVED:
        name_moved(h, plan, what);
        break;
    case TL_SCENE_REVERSED:
        name(h, part_at(parts, what) != NULL ? "reversed" : "ends-swapped", what);
        break;
    case TL_SCENE_METER:
        text_of(h->line, "on", other);
        name(h, "meter-loading", other);
        break;
    case TL_SCENE_MISREAD:
        name_misread(h, what);
        break;
    }
}

static hypothesis *add(hypotheses *all)
{
    all->list = tl_grow(all->list, (size_t)all->count, sizeof *all->list);
    all->list[all->count] =
        (hypothesis){.wider = 1, .share = 1, .owner = {TL_NONE, TL_NONE, TL_NONE, TL_NONE}};
    return &all->list[all->count++];
}

/* A fault of a scene; NULL where the plan cannot have it. */
static hypothesis *add_line(hypotheses *all, tl_circuit *circuit, const char *line)
{
    tl_scene *scene = tl_scene_new();
    tl_report *report = tl_report_new();
    hypothesis *h = NULL;
    if (tl_scene_add_fault(scene, line, circuit, report)) {
        h = add(all);
        h->line = tl_copy_text(line);
        h->fault = scene->faults[0];
        owners_of(tl_circuit_plan(circuit), line, h->owner);
    }
    tl_report_free(report);
    tl_scene_free(scene);
    return h;
}

/* Code that takes words apart is mostly shared by all signals of a converter. */
static void share_words(hypotheses *all, const tl_plan *plan)
{
    for (int i = 0; i < all->count; i++) {
        hypothesis *h = &all->list[i];
        int signal;
        if (strcmp(h->kind, "sign") != 0 && strcmp(h->kind, "byte-order") != 0)
            continue;
        if (tl_plan_signal(plan, h->part, &signal) != NULL)
            h->share /= 2;
    }
}

bool hypotheses_same(const hypothesis *a, const hypothesis *b)
{
    return a->line != NULL && b->line != NULL && memcmp(&a->fault, &b->fault, sizeof a->fault) == 0;
}

bool hypotheses_one_point(const hypothesis *a, const hypothesis *b)
{
    const tl_scene_fault *one = &a->fault, *other = &b->fault;
    const bool of_nodes = one->kind == TL_SCENE_SHORT || one->kind == TL_SCENE_LEAK ||
                          one->kind == TL_SCENE_NOISE || one->kind == TL_SCENE_METER;
    if (hypotheses_same(a, b) && one->line[0] != TL_NONE)
        return true;
    return a->line != NULL && b->line != NULL && of_nodes && one->kind == other->kind &&
           one->node[0] == other->node[0] && one->node[1] == other->node[1] &&
           strcmp(a->kind, b->kind) == 0 && strcmp(a->value, b->value) == 0;
}

/* A line of the board, or else a point; `places` for neither. */
static int place_of(const hypothesis *h, int nodes, int places)
{
    const int line = h->fault.line[0], node = h->fault.node[0];
    return line >= 0 && nodes + line < places ? nodes + line : node >= 0 && node < nodes ? node : places;
}

/* Behind a multiplexer all pins are one point, and a line is one, however many multiplexers it selects: a
 * fault there is met as often as at any other. */
static void share_points(hypotheses *all, int nodes, int lines)
{
    const int places = nodes + lines;
    int *first = tl_alloc((size_t)places + 1, sizeof *first), /* of each place, and the next there of each */
        *next = tl_alloc((size_t)all->count, sizeof *next);
    for (int i = 0; i <= places; i++)
        first[i] = TL_NONE;
    for (int i = FIRST_FAULT; i < all->count; i++) {
        const int place = place_of(&all->list[i], nodes, places);
        next[i] = first[place];
        first[place] = i;
    }
    for (int i = FIRST_FAULT; i < all->count; i++) {
        const int place = place_of(&all->list[i], nodes, places);
        int names = 0;
        for (int k = place < places ? first[place] : TL_NONE; k != TL_NONE; k = next[k])
            names += hypotheses_one_point(&all->list[i], &all->list[k]);
        if (names > 1)
            all->list[i].share /= names;
    }
    free(first);
    free(next);
}

void hypotheses_add_factor(hypotheses *all, tl_circuit *circuit, const char *signal, double factor)
{
    char line[CAUSE_TEXT];
    if (!(factor >= 0.001 && factor <= 1000 && fabs(factor - 1) > 0.02 && fabs(factor - 1.1) > 0.01))
        return;
    snprintf(line, sizeof line, "{misread: %.80s, factor: %.6g %%}", signal, 100 * factor);
    hypothesis *h = add_line(all, circuit, line);
    if (h == NULL)
        return;
    name(h, "wrong-constant", signal);
    snprintf(h->value, sizeof h->value, "%.4g %%", 100 * factor);
    h->prior = prior_of(h->kind) / 4; /* it was fitted to what it explains */
}

hypotheses hypotheses_of(tl_circuit *circuit, const tl_fault_list *faults)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    hypotheses all = {NULL, 0};
    tl_parts parts = tl_plan_parts(plan);
    name(add(&all), "sound", "");
    hypothesis *other = add(&all);
    name(other, "other-source", "");
    other->wider = 3;
    for (int i = 0; i < faults->count; i++) {
        hypothesis *h = add_line(&all, circuit, faults->line[i]);
        if (h != NULL)
            name_line(h, plan, &parts);
    }
    share_words(&all, plan);
    share_points(&all, tl_net_node_count(tl_circuit_net(circuit)), plan->pin_count);
    for (int i = 0; i < all.count; i++)
        all.list[i].prior = prior_of(all.list[i].kind) * all.list[i].share;
    tl_parts_free(&parts);
    return all;
}

hypotheses hypotheses_of_plan(tl_circuit *circuit)
{
    tl_fault_list faults = tl_faults_of_plan(tl_circuit_plan(circuit));
    const hypotheses all = hypotheses_of(circuit, &faults);
    tl_fault_list_free(&faults);
    return all;
}

/* How much rarer two faults are than one. */
static const double pair_share = 0.002;

void hypotheses_add_pair(hypotheses *all, int one, int other)
{
    char part[CAUSE_TEXT], value[40];
    hypothesis *h = add(all);
    const hypothesis *a = &all->list[one], *b = &all->list[other];
    snprintf(part, sizeof part, "%.75s+%.75s", a->part, b->part);
    snprintf(value, sizeof value, "%.18s+%.18s", a->kind, b->kind);
    *h = (hypothesis){.line = tl_copy_text(a->line),
                      .fault = a->fault,
                      .other = b->fault,
                      .is_pair = true,
                      .pair = {one, other},
                      .owner = {a->owner[0], a->owner[1], b->owner[0], b->owner[1]},
                      .wider = 1,
                      .prior = pair_share * a->prior * b->prior};
    name(h, "two-faults", part);
    snprintf(h->value, sizeof h->value, "%s", value);
}

int hypotheses_find(const hypotheses *all, const char *line)
{
    for (int i = 0; i < all->count; i++) {
        if (all->list[i].line != NULL && strcmp(all->list[i].line, line) == 0)
            return i;
    }
    return -1;
}

void hypotheses_free(hypotheses *all)
{
    for (int i = 0; i < all->count; i++)
        free(all->list[i].line);
    free(all->list);
    *all = (hypotheses){NULL, 0};
}

/* --- weights of one's own --- */

static bool weigh(reader *r, void *context, const csv_line *line, tl_place place)
{
    hypotheses *all = context;
    double weight;
    bool known = false;
    if (line->count == 2 && strcmp(line->field[0], "kind") == 0)
        return true;
    if (line->count != 2 || !csv_figure(line->field[1], &weight) || !(weight >= 0 && weight <= 1e6)) {
        report_error(r, "bad-table", place, "expected a kind of fault and its weight, 0 to 1000000");
        return false;
    }
    for (int i = 0; i < PRIORS; i++)
        known = known || strcmp(priors[i].kind, line->field[0]) == 0;
    if (!known) {
        report_error(r, "bad-table", place, "there is no kind of fault '%.39s'", line->field[0]);
        return false;
    }
    for (int i = 0; i < all->count; i++) {
        const char *row = row_of_kind(all->list[i].kind);
        if (strcmp(row, line->field[0]) == 0)
            all->list[i].prior = weight * all->list[i].share;
    }
    return true;
}

bool priors_load(hypotheses *all, const char *path, tl_report *report)
{
    int file;
    reader r = {.report = report, .path = path};
    const char *slash = strrchr(path, '/');
    yaml_tree node = {.kind = YAML_TEXT, .text = tl_copy_text(slash != NULL ? slash + 1 : path)};
    const bool good = csv_visit(&r, &node, weigh, all, &file) && tl_report_at_least(report, TL_ERROR) == 0;
    free(node.text);
    return good;
}
