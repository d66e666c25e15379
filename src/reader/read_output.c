/* SPDX-License-Identifier: MIT */
/* Reading what the firmware drives: lamps, loads behind a transistor, inputs of other boards. */
#include "base/memory.h"
#include "reader/read_board.h"
#include "reader/read_plan.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/* --- which pins --- */

static bool add_pins(reader *r, const yaml_tree *node, const tl_plan *plan, tl_plan_output *output)
{
    int names = 0;
    if (!read_name_range(r, node, &names))
        return false;
    for (int i = 0; i < names; i++) {
        if (output->pin_count == TL_INPUTS_MOST) {
            report_error(r, "bad-number", node->place, "more than %d pins", TL_INPUTS_MOST);
            return false;
        }
        char *name = name_of_range(node->text, i);
        const bool good = read_pin_name(r, node, name, plan->board, &output->pins[output->pin_count]);
        free(name);
        if (!good)
            return false;
        if (!plan->board->pins[output->pins[output->pin_count]].digital) {
            report_error(r, "unknown-pin", node->place, "%s cannot be an output",
                         plan->board->pins[output->pins[output->pin_count]].name);
            return false;
        }
        output->pin_count++;
    }
    return true;
}

/* What no pin switches shows nothing and needs no driver. */
static bool is_only_a_lamp(reader *r, const yaml_tree *node)
{
    static const char *const own[] = {"from", "lamp", "series", "to", "fitted"};
    for (int i = 0; i < node->count; i++) {
        const char *key = node->items[2 * i].text;
        bool known = false;
        for (size_t k = 0; k < sizeof own / sizeof own[0]; k++)
            known = known || strcmp(key, own[k]) == 0;
        if (!known) {
            report_error(r, "unknown-key", node->items[2 * i].place,
                         "a lamp that is always on has no '%s': no pin switches it", key);
            return false;
        }
    }
    return true;
}

static bool read_pins(reader *r, const yaml_tree *node, const tl_plan *plan, tl_plan_output *output)
{
    const yaml_tree *pin = yaml_get(node, "pin"), *pins = yaml_get(node, "pins"),
                    *from = yaml_get(node, "from");
    if ((pin != NULL) + (pins != NULL) + (from != NULL) != 1) {
        report_error(r, "missing-key", node->place,
                     "an output has a 'pin' or 'pins', or 'from' a rail a lamp that is always on");
        return false;
    }
    output->pin_place = pin != NULL ? pin->place : pins != NULL ? pins->place : from->place;
    if (from != NULL)
        return read_rail(r, from, false, &output->from) && is_only_a_lamp(r, node);
    if (pin != NULL)
        return add_pins(r, pin, plan, output);
    bool good = check_list(r, pins, "pins");
    for (int i = 0; good && i < pins->count; i++)
        good = add_pins(r, &pins->items[i], plan, output);
    return good;
}

/* --- what is connected to them --- */

static bool read_lamp(reader *r, const yaml_tree *node)
{
    if (yaml_get(node, "series") != NULL)
        return true;
    report_error(r, "missing-key", node->place, "a lamp needs 'series': the resistor that sets its current");
    return false;
}

static bool read_load(reader *r, const yaml_tree *node, tl_driver *driver)
{
    if (!check_map(r, node, &keys_load))
        return false;
    const bool ohms = yaml_get(node, "resistance") != NULL, lamp = yaml_get(node, "lamp") != NULL,
               series = yaml_get(node, "series") != NULL;
    if (ohms == (lamp && series) || lamp != series || (lamp && yaml_get(node, "inductance") != NULL)) {
        report_error(r, "missing-key", node->place,
                     "a load has its 'resistance', or is a 'lamp' with the 'series' that sets its current");
        return false;
    }
    return take_present(r, node, &keys_load, driver);
}

static bool check_transistor(reader *r, const yaml_tree *node, tl_driver_way way)
{
    const bool bipolar = way == TL_DRIVER_BIPOLAR, gain = yaml_get(node, "gain") != NULL,
               on = yaml_get(node, "on-resistance") != NULL,
               saturation = yaml_get(node, "saturation") != NULL;
    if ((bipolar ? gain && !on : on && !gain && !saturation))
        return true;
    report_error(r, "missing-key", node->place,
                 bipolar ? "a bipolar driver has 'gain' and 'saturation'"
                         : "an n-channel driver has 'on-resistance', at the pin's lowest high level");
    return false;
}

static bool read_driver(reader *r, const yaml_tree *node, tl_driver *driver)
{
    int way = 0;
    if (!check_map(r, node, &keys_driver) ||
        !take_word(r, yaml_get(node, "way"), key_of(&keys_driver, "way"), &way))
        return false;
    driver->way = way == 0 ? TL_DRIVER_BIPOLAR : TL_DRIVER_N_CHANNEL;
    driver->place = node->place;
    bool good = check_transistor(r, node, driver->way);
    good = take_present(r, node, &keys_driver, driver) && good;
    if (way == 0)
        driver->on_drop = tl_base_on;
    else
        driver->saturation = 0;
    return read_load(r, yaml_get(node, "load"), driver) && good;
}

static tl_pin far_input(const yaml_tree *into)
{
    return (tl_pin){.place = into->place,
                    .duty = TL_NONE,
                    .channel = -1,
                    .digital = true,
                    .converter = TL_NONE,
                    .second = TL_NONE,
                    .mux = TL_NONE,
                    .input = TL_NONE,
                    .limits = unknown_limits()};
}

/* From one of its pins: a line of its own, driven at the pin's output levels. */
static bool add_far_line(reader *r, const yaml_tree *node, tl_plan *plan, const tl_plan_output *output, int i)
{
    const yaml_tree *into = yaml_get(node, "into"), *stages = yaml_get(node, "stages");
    const tl_pin *from = &plan->board->pins[output->pins[i]];
    tl_pin far = far_input(into);
    char name[2 * TL_QUANTITY_LONGEST];
    if (!take_present(r, into, &keys_into, &far.limits) || !limits_rise(r, into, &far.limits))
        return false;
    if (isnan(from->limits.drives)) {
        report_error(r, "missing-key", into->place, "the board does not say what the pin 'drives'");
        return false;
    }
    far.limits.supply = from->limits.supply;
    if (yaml_get(into, "limits") == NULL) {
        far.limits.lowest = (tl_level){-2000, 0};
        far.limits.highest = (tl_level){2000, 0};
    }
    snprintf(name, sizeof name, output->pin_count == 1 ? "%.60s" : "%.60s-%d", output->name, i + 1);
    tl_signal *line = add_line(plan, name, output->place);
    line->source = (tl_source){.kind = TL_SOURCE_LOGIC,
                               .place = output->pin_place,
                               .supply = from->limits.supply,
                               .bottom = TL_TO_GROUND,
                               .follows = TL_TO_GROUND,
                               .high = from->limits.voh,
                               .low = from->limits.vol,
                               .drives = from->limits.drives,
                               .compliance = NAN,
                               .rate = output->rate};
    line->pin = add_pin(plan, name, "into", &far);
    line->pin_place = into->place;
    return stages == NULL || read_stages(r, stages, &line->stages, &line->stage_count);
}

/* An input of another board behind each of its pins, all alike. */
static bool read_into(reader *r, const yaml_tree *node, tl_plan *plan, tl_plan_output *output)
{
    bool good = check_map(r, yaml_get(node, "into"), &keys_into);
    output->has_into = true;
    output->first_line = plan->line_count;
    for (int i = 0; i < output->pin_count && good; i++)
        good = add_far_line(r, node, plan, output, i);
    return good;
}

static bool read_hanging(reader *r, const yaml_tree *node, tl_plan *plan, tl_plan_output *output)
{
    const yaml_tree *lamp = yaml_get(node, "lamp"), *driver = yaml_get(node, "driver"),
                    *into = yaml_get(node, "into");
    const int ways = (lamp != NULL) + (driver != NULL) + (into != NULL);
    output->wired = ways == 0 && output->pin_count > 0 && plan->board->pins[output->pins[0]].wired;
    if (ways == 0 && output->pin_count == 0) {
        report_error(r, "missing-key", node->place, "'from' needs a 'lamp' with its 'series'");
        return false;
    }
    if (ways > 1 || (ways == 0 && !output->wired)) {
        report_error(r, "missing-key", node->place,
                     "an output drives one thing: a 'lamp', a 'driver' or 'into' an input of another board");
        return false;
    }
    if (into == NULL && yaml_get(node, "stages") != NULL) {
        report_error(r, "unknown-key", yaml_get(node, "stages")->place,
                     "'stages' need 'into', the input of another board");
        return false;
    }
    if (output->wired) {
        const tl_pin *pin = &plan->board->pins[output->pins[0]];
        output->lamp = (tl_located){.value = pin->lamp, .given = true};
        output->series = (tl_located){.value = pin->lamp_ohms, .given = true};
    }
    return lamp != NULL     ? read_lamp(r, node)
           : driver != NULL ? read_driver(r, driver, &output->driver)
           : into != NULL   ? read_into(r, node, plan, output)
                            : true;
}

/* --- what it shows --- */

/* Whether a signal has a figure in this unit: its value, or the percent beside it. */
static bool shows_unit(const tl_signal *s, const char *unit)
{
    return s->reading.unit[0] != '\0' &&
           (strcmp(s->reading.unit, unit) == 0 || (strcmp(unit, "%") == 0 && s->reading.empty.given));
}

/* `2 degC`, `set-point`, `set-point - 2 degC`; the unit is left empty where none is written. */
static bool read_threshold_level(reader *r, const yaml_tree *at, const tl_plan *plan, tl_output_level *level,
                                 char unit[16])
{
    char name[80], *sign;
    tl_text_error error;
    level->of = TL_NONE;
    level->place = at->place;
    if (tl_free_figure_read(at->text, &level->value, unit, &error))
        return true;
    if (at->text[0] == '\0' || strchr("0123456789+-.", at->text[0]) != NULL) {
        report_error(r, "bad-quantity", at->place, "%s", error.text);
        return false;
    }
    snprintf(name, sizeof name, "%s", at->text);
    sign = strstr(name, " + ") != NULL ? strstr(name, " + ") : strstr(name, " - ");
    if (sign != NULL && !tl_free_figure_read(sign + 3, &level->value, unit, &error)) {
        report_error(r, "bad-quantity", at->place, "behind '%.2s': %s", sign + 1, error.text);
        return false;
    }
    if (sign != NULL && sign[1] == '-')
        level->value = -level->value;
    if (sign != NULL)
        *sign = '\0';
    return read_signal_name(r, at, name, plan, &level->of);
}

/* The signal that sets a level. */
static bool check_other(reader *r, const tl_output_level *level, const tl_signal *shown,
                        const tl_signal *other, const char *unit)
{
    if (shown == NULL)
        report_error(r, "missing-key", level->place,
                     "what is compared with %s is missing: 'shows' names that signal", other->name);
    else if (other == shown)
        report_error(r, "bad-quantity", level->place,
                     "%s is what the output shows: a figure or another signal sets the threshold",
                     other->name);
    else if (!shows_unit(other, unit))
        report_error(r, "bad-quantity", level->place,
                     "%s gives no figure in %s, like the threshold's other side", other->name, unit);
    else
        return true;
    return false;
}

/* The unit that both levels are in, by what is written and what the signals show. */
static bool find_unit(reader *r, const tl_plan *plan, const char written[2][16], tl_plan_output *output)
{
    const tl_output_level *const levels[2] = {&output->start, &output->stop};
    const tl_signal *shown = output->shows == TL_NONE ? NULL : &plan->signals[output->shows];
    const char *unit = written[0][0] != '\0' ? written[0] : written[1];
    if (unit[0] == '\0') { /* names alone */
        const tl_signal *other = &plan->signals[output->start.of];
        unit = shown != NULL && shows_unit(other, shown->reading.unit) ? shown->reading.unit : "%";
    }
    snprintf(output->unit, sizeof output->unit, "%.15s", unit);
    for (int i = 0; i < 2; i++) {
        const tl_signal *other = levels[i]->of == TL_NONE ? NULL : &plan->signals[levels[i]->of];
        if ((written[i][0] != '\0' && strcmp(written[i], unit) != 0) ||
            (shown != NULL && !shows_unit(shown, unit))) {
            report_error(r, "bad-quantity", levels[i]->place,
                         "thresholds are in %s, like the reading they follow",
                         shown != NULL && shown->reading.unit[0] != '\0' ? shown->reading.unit : unit);
            return false;
        }
        if (other != NULL && !check_other(r, levels[i], shown, other, unit))
            return false;
    }
    return true;
}

static void report_apart(reader *r, const tl_plan *plan, const tl_plan_output *output)
{
    if (output->start.of == TL_NONE)
        report_error(r, "bad-quantity", output->stop.place,
                     "start and stop differ, and between them the state stays");
    else
        report_error(r, "bad-quantity", output->stop.place,
                     "start and stop differ: where both follow %s, one is written '%s %c 2 %s', say",
                     plan->signals[output->start.of].name, plan->signals[output->start.of].name,
                     output->start_below ? '+' : '-', plan->signals[output->start.of].reading.unit);
}

static bool read_threshold(reader *r, const yaml_tree *node, const tl_plan *plan, tl_plan_output *output)
{
    const yaml_tree *start[] = {yaml_get(node, "start-below"), yaml_get(node, "start-above")},
                    *stop[] = {yaml_get(node, "stop-above"), yaml_get(node, "stop-below")};
    const int way = start[0] != NULL ? 0 : 1;
    char units[2][16] = {"", ""};
    for (int i = 0; i < 2; i++) {
        const yaml_tree *at = i == 0 ? start[way] : stop[way];
        if (at == NULL || start[1 - way] != NULL || stop[1 - way] != NULL || at->kind != YAML_TEXT) {
            report_error(
                r, "missing-key", node->place,
                "a threshold has 'start-below' with 'stop-above', or 'start-above' with 'stop-below'");
            return false;
        }
        if (!read_threshold_level(r, at, plan, i == 0 ? &output->start : &output->stop, units[i]))
            return false;
    }
    output->start_below = way == 0;
    if (output->start.of == output->stop.of &&
        (way == 0 ? output->start.value >= output->stop.value : output->start.value <= output->stop.value)) {
        report_apart(r, plan, output);
        return false;
    }
    return find_unit(r, plan, (const char(*)[16])units, output);
}

/* Of a frequency, a period: what has no whole. */
static bool can_show(reader *r, const tl_plan *plan, const tl_plan_output *output)
{
    const tl_plan_reading *reading = &plan->signals[output->shows].reading;
    const tl_read_as as = reading->as;
    const bool share = output->as == TL_OUT_LEVELS || output->as == TL_OUT_DUTY;
    if (!tl_reading_is_timed(reading) || output->as == TL_OUT_THRESHOLD || (share && as == TL_AS_DUTY))
        return true;
    report_error(r, "wrong-shape", output->shows_place, "%s has a figure: 'as: threshold' shows it%s",
                 plan->signals[output->shows].name, as == TL_AS_DUTY ? ", or 'levels' or 'duty'" : "");
    return false;
}

static bool read_shown(reader *r, const yaml_tree *node, const tl_plan *plan, tl_plan_output *output)
{
    const yaml_tree *at;
    bool good = true;
    output->shows = TL_NONE;
    if ((at = yaml_get(node, "shows")) != NULL) {
        output->shows_place = at->place;
        good = read_signal_name(r, at, NULL, plan, &output->shows);
    }
    if (good && output->as == TL_OUT_THRESHOLD)
        good = read_threshold(r, node, plan, output);
    if (good && output->shows != TL_NONE && !can_show(r, plan, output))
        return false;
    if (good && output->as == TL_OUT_DUTY && plan->board->pins[output->pins[0]].duty < 0) {
        report_error(r, "unknown-pin", output->pin_place, "%s has no duty channel",
                     plan->board->pins[output->pins[0]].name);
        return false;
    }
    if ((at = yaml_get(node, "frequency")) != NULL) {
        output->frequency_place = at->place;
        if (output->pin_count == 0 || plan->board->pins[output->pins[0]].duty < 0) {
            report_error(r, "unknown-key", at->place, "a frequency belongs to a pin that has a duty channel");
            return false;
        }
        if (output->frequency <= 0) {
            report_error(r, "bad-quantity", at->place, "a frequency is above 0 Hz");
            return false;
        }
    }
    /* Wider than a lamp's own share, none would ever change. */
    if (good && output->as == TL_OUT_LEVELS && !(output->hysteresis * (output->pin_count + 1) < 99.9)) {
        report_error(r, "bad-quantity", yaml_get(node, "hysteresis")->place,
                     "with %d lamps the hysteresis stays below %.1f %%", output->pin_count,
                     floor(999.0 / (output->pin_count + 1)) / 10);
        return false;
    }
    return good;
}

static bool read_output(reader *r, const yaml_tree *key, const yaml_tree *node, tl_plan *plan)
{
    int names = 0;
    if (!read_name_range(r, key, &names) || !check_map(r, node, &keys_output))
        return false;
    tl_plan_output output = {.name = tl_copy_text(key->text),
                             .place = key->place,
                             .from = TL_NONE,
                             .to = TL_TO_GROUND,
                             .start = {.of = TL_NONE},
                             .stop = {.of = TL_NONE}};
    bool good = take_present(r, node, &keys_output, &output);
    good = read_pins(r, node, plan, &output) && good;
    good = good && read_hanging(r, node, plan, &output);
    good = good && read_shown(r, node, plan, &output);
    plan->outputs = tl_grow(plan->outputs, (size_t)plan->output_count, sizeof output);
    plan->outputs[plan->output_count++] = output;
    return good;
}

bool read_outputs(reader *r, const yaml_tree *node, tl_plan *plan)
{
    return read_named(r, node, "outputs", read_output, plan);
}
