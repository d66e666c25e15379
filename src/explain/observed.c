/* SPDX-License-Identifier: MIT */
/* Observations of a real board, out of texts and files. */
#include "explain/observed.h"
#include "base/memory.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

/* Without a word about the meter: a handheld one. */
static const double usual_ohms = 10e6, usual_share = 0.005, usual_volts = 3e-3;

situation *observed_add(observed *o)
{
    o->situations = tl_grow(o->situations, (size_t)o->count, sizeof *o->situations);
    o->situations[o->count] = (situation){.sources = NULL};
    return &o->situations[o->count++];
}

seen_signal *situation_signal(situation *in, int signal)
{
    for (int i = 0; i < in->signal_count; i++) {
        if (in->signals[i].signal == signal)
            return &in->signals[i];
    }
    in->signals = tl_grow(in->signals, (size_t)in->signal_count, sizeof *in->signals);
    in->signals[in->signal_count] = (seen_signal){.signal = signal};
    return &in->signals[in->signal_count++];
}

void situation_add_source(situation *in, const seen_source *source)
{
    in->sources = tl_grow(in->sources, (size_t)in->source_count, sizeof *source);
    in->sources[in->source_count++] = *source;
}

void situation_add_output(situation *in, const seen_output *output)
{
    in->outputs = tl_grow(in->outputs, (size_t)in->output_count, sizeof *output);
    in->outputs[in->output_count++] = *output;
}

const seen_source *situation_source(const situation *in, const tl_plan *plan, int signal)
{
    const int source = in->source_count > 0 ? tl_plan_same_source(plan, signal) : TL_NONE;
    for (int i = 0; i < in->source_count; i++) {
        if (in->sources[i].signal == source)
            return &in->sources[i];
    }
    return NULL;
}

void observed_add_meter(observed *o, int number, const seen_meter *meter)
{
    while (o->count <= number)
        (void)observed_add(o);
    situation *in = &o->situations[number];
    in->meters = tl_grow(in->meters, (size_t)in->meter_count, sizeof *meter);
    in->meters[in->meter_count++] = *meter;
}

void observed_free(observed *o)
{
    for (int i = 0; i < o->count; i++) {
        free(o->situations[i].sources);
        free(o->situations[i].signals);
        free(o->situations[i].meters);
        free(o->situations[i].outputs);
    }
    free(o->situations);
    *o = (observed){.situations = NULL};
}

/* --- sources --- */

static tl_dimension dimension_of(const tl_source *source)
{
    return source->kind == TL_SOURCE_POTENTIOMETER ? TL_DIM_PERCENT
           : source->kind == TL_SOURCE_CURRENT     ? TL_DIM_AMPERE
           : source->kind == TL_SOURCE_RESISTANCE  ? TL_DIM_OHM
                                                   : TL_DIM_VOLT;
}

static bool is_word(const char *text, const char *word)
{
    return strcmp(text, word) == 0;
}

/* `closed`, `open`, `on`, `off`, `low`, `high`; a button's name, or `no button`. */
static bool read_state(seen_source *source, const tl_source *of, const char *text)
{
    source->is_state = true;
    source->button = -1;
    for (int i = 0; i < of->button_count; i++) {
        if (is_word(text, of->buttons[i].name)) {
            source->button = i;
            source->pressed = true;
            return true;
        }
    }
    if (of->button_count > 0)
        return is_word(text, "no button");
    source->pressed = is_word(text, "closed") || is_word(text, "on") || is_word(text, "low");
    return source->pressed || is_word(text, "open") || is_word(text, "off") || is_word(text, "high");
}

/* Of a law: `20 degC`, `19 .. 21 degC`, `20 degC ±1 degC`. */
static bool read_of_law(seen_source *source, const char *unit_of_law, const char *text, tl_text_error *error)
{
    char first[TL_QUANTITY_LONGEST], unit[16] = "";
    double value, spread = 0;
    const char *range = strstr(text, ".."), *plus = strstr(text, "±");
    const char *second = range != NULL ? range + 2 : plus != NULL ? plus + strlen("±") : NULL;
    snprintf(first, sizeof first, "%.*s",
             (int)(second == NULL ? strlen(text) : (size_t)((range != NULL ? range : plus) - text)), text);
    if (second != NULL && (!tl_free_figure_read(second + strspn(second, " "), &spread, unit, error) ||
                           strcmp(unit, unit_of_law) != 0)) {
        snprintf(error->text, sizeof error->text, "expected a value in %s", unit_of_law);
        return false;
    }
    if (range != NULL) {
        char *end;
        source->low = strtod(first, &end);
        source->high = spread;
        return end != first && source->low <= source->high;
    }
    if (!tl_free_figure_read(first, &value, unit, error) || strcmp(unit, unit_of_law) != 0) {
        snprintf(error->text, sizeof error->text, "expected a value in %s", unit_of_law);
        return false;
    }
    source->low = value - fabs(spread);
    source->high = value + fabs(spread);
    return true;
}

bool seen_source_read(seen_source *source, const tl_plan *plan, int signal, const char *text,
                      tl_text_error *error)
{
    const tl_signal *s = &plan->signals[signal];
    tl_quantity q;
    *source = (seen_source){.signal = tl_plan_same_source(plan, signal), .button = -1};
    if (!s->analog || s->source.button_count > 0) {
        if (read_state(source, &s->source, text))
            return true;
        snprintf(error->text, sizeof error->text, "expected a state, such as %s",
                 s->source.button_count > 0 ? "'no button' or a button's name" : "closed or open");
        return false;
    }
    if (s->source.curve.law != TL_LAW_NONE)
        return read_of_law(source, s->source.curve.unit, text, error);
    if (!tl_quantity_read(text, dimension_of(&s->source), &q, error))
        return false;
    if (s->source.kind == TL_SOURCE_POTENTIOMETER && !(q.nominal >= 0 && q.nominal <= 100)) {
        snprintf(error->text, sizeof error->text, "travel lies within 0 %% .. 100 %%");
        return false;
    }
    source->low = q.low;
    source->high = q.high;
    return true;
}

/* --- what was measured --- */

/* As `read --meter` has it: a signal's own name is its pin. */
static int point_named(tl_circuit *circuit, const char *name)
{
    int signal;
    if (is_word(name, "ground"))
        return TL_NET_GROUND;
    return tl_plan_signal(tl_circuit_plan(circuit), name, &signal) != NULL
               ? tl_circuit_nodes(circuit, signal)->pin
               : tl_circuit_point(circuit, name);
}

bool seen_meter_read(seen_meter *meter, tl_circuit *circuit, const char *point, const char *text,
                     tl_text_error *error)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    const tl_meter *own = plan->meter_count > 0 ? &plan->meters[0] : NULL;
    tl_quantity volts;
    *meter = (seen_meter){.node = point_named(circuit, point),
                          .other = TL_NET_NONE,
                          .own_ohms = own != NULL ? own->ohms : usual_ohms,
                          .share = usual_share,
                          .fixed = usual_volts};
    snprintf(meter->point, sizeof meter->point, "%s", point);
    if (meter->node < 0) {
        snprintf(error->text, sizeof error->text, "the plan has no point '%.60s'", point);
        return false;
    }
    if (!tl_quantity_read(text, TL_DIM_VOLT, &volts, error))
        return false;
    meter->shows = volts.nominal;
    meter->fixed = fmax(meter->fixed, (volts.high - volts.low) / 2);
    return true;
}

bool seen_ohms_read(seen_meter *meter, tl_circuit *circuit, const char *points, const char *text,
                    tl_text_error *error)
{
    char first[100], second[100];
    tl_quantity ohms;
    *meter = (seen_meter){.other = TL_NET_NONE};
    if (sscanf(points, " %99[^, ] , %99[^, ]", first, second) != 2) {
        snprintf(error->text, sizeof error->text, "expected two points: A,B=RESISTANCE; ground is one");
        return false;
    }
    meter->node = point_named(circuit, first);
    meter->other = point_named(circuit, second);
    if (meter->node < 0 || meter->other < 0) {
        snprintf(error->text, sizeof error->text, "the plan has no point '%.60s'",
                 meter->node < 0 ? first : second);
        return false;
    }
    if (meter->node == meter->other) {
        snprintf(error->text, sizeof error->text, "these are one point");
        return false;
    }
    snprintf(meter->point, sizeof meter->point, "%s,%s", first, second);
    meter->shows = INFINITY;
    if (is_word(text, "open") || is_word(text, "OL")) /* what its display says */
        return true;
    if (!tl_quantity_read(text, TL_DIM_OHM, &ohms, error))
        return false;
    meter->shows = ohms.nominal;
    return true;
}

bool seen_sample_read(seen_signal *seen, const tl_plan *plan, const char *text, tl_text_error *error)
{
    char *end = NULL;
    const bool missed = is_word(text, "null") || is_word(text, "-") || is_word(text, "~"),
               analog = plan->signals[seen->signal].analog;
    const double value = missed ? (double)NAN : strtod(text, &end);
    if (!missed && (end == text || *end != '\0' || !(fabs(value) <= 4294967295.0)))
        snprintf(error->text, sizeof error->text, "expected a count or a level");
    else if (!missed && !analog && value != 0 && value != 1)
        snprintf(error->text, sizeof error->text, "a level is 1 for high or 0 for low");
    else if (seen->count == SEEN_SAMPLES_MOST)
        snprintf(error->text, sizeof error->text, "%d samples at most", SEEN_SAMPLES_MOST);
    else {
        seen->samples[seen->count++] = value;
        return true;
    }
    return false;
}

bool seen_shown_read(seen_signal *seen, const tl_plan *plan, const char *text, tl_text_error *error)
{
    const char *unit_of = plan->signals[seen->signal].reading.unit;
    char unit[16] = "";
    seen->has_shown = tl_free_figure_read(text, &seen->shown, unit, error) && strcmp(unit, unit_of) == 0;
    if (!seen->has_shown)
        snprintf(error->text, sizeof error->text, "expected what it shows, in %s", unit_of);
    return seen->has_shown;
}

static bool load_named(const char *text, load_state *state)
{
    static const struct {
        const char *word;
        load_state state;
    } words[] = {{"dark", LOAD_OFF},  {"off", LOAD_OFF},   {"stands", LOAD_OFF}, {"dim", LOAD_WEAK},
                 {"weak", LOAD_WEAK}, {"slow", LOAD_WEAK}, {"bright", LOAD_ON},  {"lit", LOAD_ON},
                 {"on", LOAD_ON},     {"runs", LOAD_ON}};
    for (size_t i = 0; i < sizeof words / sizeof words[0]; i++) {
        if (!is_word(text, words[i].word))
            continue;
        *state = words[i].state;
        return true;
    }
    return false;
}

bool seen_output_read(seen_output *seen, const tl_plan *plan, const char *name, const char *text,
                      tl_text_error *error)
{
    char told[8] = "", did[16] = "";
    *seen = (seen_output){.output = TL_NONE};
    for (int i = 0; i < plan->output_count; i++) {
        if (is_word(name, plan->outputs[i].name))
            seen->output = i;
    }
    const int words = sscanf(text, "%7[a-z] , %15[a-z]", told, did);
    seen->commanded = is_word(told, "on");
    if (seen->output == TL_NONE)
        snprintf(error->text, sizeof error->text, "the plan has no output '%.60s'", name);
    else if (words != 2 || !(seen->commanded || is_word(told, "off")) || !load_named(did, &seen->seen))
        snprintf(
            error->text, sizeof error->text,
            "expected what it was told and what its load did, such as 'on, dark': on or off; dark, dim or "
            "bright; stands, slow or runs");
    else
        return true;
    return false;
}

/* --- files --- */

typedef struct {
    reader *r;
    tl_circuit *circuit;
    observed *all;
    situation *in; /* the last of all */
} taking;

static bool say(const taking *t, const yaml_tree *node, const tl_text_error *error)
{
    report_error(t->r, "bad-observation", node->place, "%s", error->text);
    return false;
}

static bool find_signal(const taking *t, const yaml_tree *key, int *signal)
{
    if (key->kind == YAML_TEXT && tl_plan_signal(tl_circuit_plan(t->circuit), key->text, signal) != NULL)
        return true;
    report_error(t->r, "unknown-signal", key->place, "the plan has no signal '%.60s'",
                 key->kind == YAML_TEXT ? key->text : "");
    return false;
}

static bool take_source(const taking *t, const yaml_tree *key, const yaml_tree *value)
{
    int signal;
    tl_text_error error = {0, ""};
    seen_source source;
    const char *text;
    if (!find_signal(t, key, &signal) || !read_text(t->r, value, "what the source did", &text))
        return false;
    if (!seen_source_read(&source, tl_circuit_plan(t->circuit), signal, text, &error))
        return say(t, value, &error);
    if (situation_source(t->in, tl_circuit_plan(t->circuit), signal) != NULL) {
        report_error(t->r, "key-twice", key->place,
                     "this source has a value already: a rail has one, whichever signal measures it");
        return false;
    }
    situation_add_source(t->in, &source);
    return true;
}

static bool take_sample(const taking *t, const yaml_tree *node, seen_signal *seen)
{
    tl_text_error error = {0, ""};
    const char *text = node->kind == YAML_TEXT ? node->text : "";
    return seen_sample_read(seen, tl_circuit_plan(t->circuit), text, &error) || say(t, node, &error);
}

static bool take_samples(const taking *t, const yaml_tree *key, const yaml_tree *value)
{
    int signal;
    if (!find_signal(t, key, &signal))
        return false;
    seen_signal *seen = situation_signal(t->in, signal);
    bool good = true;
    if (value->kind != YAML_LIST)
        return take_sample(t, value, seen);
    for (int i = 0; i < value->count && good; i++)
        good = take_sample(t, &value->items[i], seen);
    return good;
}

static bool take_shown(const taking *t, const yaml_tree *key, const yaml_tree *value)
{
    int signal;
    tl_text_error error = {0, ""};
    const char *text;
    if (!find_signal(t, key, &signal) || !read_text(t->r, value, "what it shows", &text))
        return false;
    return seen_shown_read(situation_signal(t->in, signal), tl_circuit_plan(t->circuit), text, &error) ||
           say(t, value, &error);
}

static bool take_measured(const taking *t, const yaml_tree *key, const yaml_tree *value,
                          seen_meter_reader *read)
{
    tl_text_error error = {0, ""};
    seen_meter meter;
    const char *point, *text;
    if (!read_text(t->r, key, "where it was measured", &point) ||
        !read_text(t->r, value, "what the meter showed", &text))
        return false;
    if (!read(&meter, t->circuit, point, text, &error))
        return say(t, value, &error);
    observed_add_meter(t->all, t->all->count - 1, &meter);
    return true;
}

static bool take_meter(const taking *t, const yaml_tree *key, const yaml_tree *value)
{
    return take_measured(t, key, value, seen_meter_read);
}

static bool take_ohms(const taking *t, const yaml_tree *key, const yaml_tree *value)
{
    return take_measured(t, key, value, seen_ohms_read);
}

static bool take_output(const taking *t, const yaml_tree *key, const yaml_tree *value)
{
    tl_text_error error = {0, ""};
    seen_output seen;
    const char *name, *text;
    if (!read_text(t->r, key, "an output", &name) || !read_text(t->r, value, "what it did", &text))
        return false;
    if (!seen_output_read(&seen, tl_circuit_plan(t->circuit), name, text, &error))
        return say(t, value, &error);
    situation_add_output(t->in, &seen);
    return true;
}

static bool take_map(const taking *t, const yaml_tree *map, const char *key,
                     bool (*take)(const taking *t, const yaml_tree *key, const yaml_tree *value))
{
    const yaml_tree *node = yaml_get(map, key);
    bool good = node == NULL || node->kind == YAML_MAP;
    if (!good)
        report_error(t->r, "wrong-shape", node->place, "expected names and what was seen of each");
    for (int i = 0; node != NULL && node->kind == YAML_MAP && i < node->count; i++)
        good = take(t, &node->items[2 * i], &node->items[2 * i + 1]) && good;
    return good;
}

static bool take_situation(reader *r, const yaml_tree *node, tl_circuit *circuit, observed *o)
{
    const taking t = {r, circuit, o, observed_add(o)};
    bool good = check_map(r, node, &keys_situation);
    good = take_map(&t, node, "sources", take_source) && good;
    good = take_map(&t, node, "counts", take_samples) && good;
    good = take_map(&t, node, "levels", take_samples) && good;
    good = take_map(&t, node, "shown", take_shown) && good;
    good = take_map(&t, node, "outputs", take_output) && good;
    good = take_map(&t, node, "ohms", take_ohms) && good;
    return take_map(&t, node, "meters", take_meter) && good;
}

static bool take_all(reader *r, const yaml_tree *root, tl_circuit *circuit, observed *o)
{
    const yaml_tree *seen = yaml_get(root, "seen"), *every = yaml_get(root, "every");
    bool good = read_head(r, root, "observed") && check_map(r, root, &keys_observed);
    if (every != NULL)
        good = read_value(r, every, TL_DIM_SECOND, &o->every) && good;
    if (seen == NULL || !check_list(r, seen, "the situations"))
        return false;
    for (int i = 0; i < seen->count; i++)
        good = take_situation(r, &seen->items[i], circuit, o) && good;
    return good;
}

bool observed_load(observed *o, const char *path, tl_circuit *circuit, tl_report *report)
{
    reader r = {.report = report, .path = path};
    const yaml_tree *root = yaml_read_file(path, (tl_place){-1, 0, 0}, report);
    const bool good = root != NULL && take_all(&r, root, circuit, o);
    return good;
}
