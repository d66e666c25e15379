/* SPDX-License-Identifier: MIT */
/* Reading what a signal comes from: one function for each kind of source. */
#include "base/memory.h"
#include "reader/read_plan.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static bool read_rail_source(reader *r, const yaml_tree *node, tl_source *source)
{
    return take_keys(r, node, &keys_rail, source);
}

static bool read_voltage_source(reader *r, const yaml_tree *node, tl_source *source)
{
    if (!take_keys(r, node, &keys_voltage, source))
        return false;
    const tl_supply *back = source->bottom != TL_TO_GROUND ? &(*r->rails)[source->bottom] : NULL;
    if (back == NULL || (back->kind == TL_RAIL_SHARED && back->from == TL_TO_GROUND))
        return true;
    report_error(r, "unknown-rail", yaml_get(node, "return")->place,
                 "a source returns to ground, or to a shared node from ground");
    return false;
}

static bool read_potentiometer(reader *r, const yaml_tree *node, tl_source *source)
{
    if (!take_keys(r, node, &keys_potentiometer, source))
        return false;
    if (source->over.value.low < 0 || source->over.value.high > 100) {
        report_error(r, "bad-quantity", source->over.place, "travel lies within 0 %% .. 100 %%");
        return false;
    }
    if (source->supply == source->bottom) {
        report_error(r, "same-rail", source->place, "both ends of the track are on the same rail");
        return false;
    }
    return true;
}

static bool read_current(reader *r, const yaml_tree *node, tl_source *source)
{
    if (!take_keys(r, node, &keys_current, source))
        return false;
    if (isnan(source->compliance) || source->supply != TL_TO_GROUND)
        return true;
    report_error(r, "missing-key", node->place,
                 "'supply' is missing: a compliance is the voltage that the loop leaves of it");
    return false;
}

/* --- resistances and their laws --- */

/* `-25 .. 60 degC`, in a unit that must be this one. */
static bool read_span_of_unit(reader *r, const yaml_tree *node, const char *unit, tl_located *span)
{
    char first[TL_QUANTITY_LONGEST + 20] = "", found[16] = "";
    tl_text_error error;
    const char *text = NULL, *dots;
    if (!read_text(r, node, "a range of the quantity", &text))
        return false;
    dots = strstr(text, "..");
    if (dots == NULL || strlen(text) > TL_QUANTITY_LONGEST) {
        report_error(r, "bad-quantity", node->place, "expected a range: '-25 .. 60 %s'", unit);
        return false;
    }
    const size_t length = (size_t)(dots - text) - (dots > text && dots[-1] == ' ');
    memcpy(first, text, length);
    if (length > 0 && strchr("0123456789", first[length - 1]) != NULL)
        snprintf(first + length, sizeof first - length, " %s", unit);
    if (!tl_free_figure_read(first, &span->value.low, found, &error) || strcmp(found, unit) != 0 ||
        !tl_free_figure_read(dots + 2, &span->value.high, found, &error) || strcmp(found, unit) != 0 ||
        !(span->value.low < span->value.high)) {
        report_error(r, "bad-quantity", node->place, "expected a range in %s, lower end first", unit);
        return false;
    }
    span->value.nominal = (span->value.low + span->value.high) / 2;
    span->place = node->place;
    span->given = true;
    return true;
}

static bool read_steinhart(reader *r, const yaml_tree *node, tl_response *curve)
{
    bool good = check_list(r, node, "steinhart");
    if (good && node->count != 3) {
        report_error(r, "wrong-shape", node->place, "steinhart is three numbers: [a, b, c]");
        return false;
    }
    for (int i = 0; good && i < 3; i++) {
        char *end = NULL;
        const char *text = NULL;
        good = read_text(r, &node->items[i], "a coefficient", &text);
        curve->steinhart[i] = good ? strtod(text, &end) : 0;
        if (good && (*end != '\0' || !isfinite(curve->steinhart[i]) || fabs(curve->steinhart[i]) > 1)) {
            report_error(r, "bad-number", node->items[i].place, "'%.30s' is no coefficient", text);
            good = false;
        }
    }
    if (good && !(curve->steinhart[1] > 0 && curve->steinhart[2] >= 0)) {
        report_error(r, "bad-number", node->place,
                     "b is above 0 and c not below, or ohms and temperature do not "
                     "belong together one to one");
        return false;
    }
    return good;
}

/* Which law the keys make, its own figures with it. */
static bool read_law(reader *r, const yaml_tree *node, tl_source *source)
{
    static const tl_law meant[] = {TL_LAW_LN, TL_LAW_LINEAR, TL_LAW_LOG_LOG, TL_LAW_PLATINUM};
    const yaml_tree *law = yaml_get(node, "law"), *beta = yaml_get(node, "beta"), *at = yaml_get(node, "at"),
                    *steinhart = yaml_get(node, "steinhart"), *value = yaml_get(node, "resistance");
    const bool file = value->kind == YAML_TEXT && strstr(value->text, ".csv") != NULL;
    tl_response *curve = &source->curve;
    tl_located kelvins = {0};
    int choice = 0;
    if (law != NULL && !take_word(r, law, key_of(&keys_resistance, "law"), &choice))
        return false;
    curve->law = law != NULL         ? meant[choice]
                 : beta != NULL      ? TL_LAW_BETA
                 : steinhart != NULL ? TL_LAW_STEINHART
                                     : TL_LAW_NONE;
    if ((law != NULL) + (beta != NULL) + (steinhart != NULL) > 1 || (beta == NULL) != (at == NULL)) {
        report_error(r, "missing-key", node->place,
                     "one law: 'law' alone, or 'at' with 'beta', or 'steinhart'");
        return false;
    }
    if (file != (curve->law == TL_LAW_LN || curve->law == TL_LAW_LINEAR || curve->law == TL_LAW_LOG_LOG)) {
        report_error(r, "missing-key", law != NULL ? law->place : value->place,
                     file ? "a table says how it runs between its points: 'law' ln, linear or log-log"
                          : "this law belongs to a table: resistance: NAME.csv");
        return false;
    }
    strcpy(curve->unit, "degC");
    if (beta != NULL && !read_quantity(r, beta, TL_DIM_KELVIN, &kelvins))
        return false;
    curve->beta = kelvins.value.nominal;
    curve->beta_off = fmax(kelvins.value.high - curve->beta, curve->beta - kelvins.value.low);
    if (at != NULL && !(curve->beta > 0)) {
        report_error(r, "bad-quantity", beta->place, "beta is above 0 K");
        return false;
    }
    return (steinhart == NULL || read_steinhart(r, steinhart, curve)) &&
           (!file || read_table(r, value, curve));
}

/* The ohms over the range of the quantity, the sensor's own tolerance included. */
static bool find_ohms(reader *r, const yaml_tree *node, tl_source *source)
{
    const yaml_tree *over = yaml_get(node, "over");
    tl_response *curve = &source->curve;
    const bool table = curve->count > 0;
    if (over == NULL && table)
        source->over.value =
            (tl_quantity){curve->points[0].quantity,
                          (curve->points[0].quantity + curve->points[curve->count - 1].quantity) / 2,
                          curve->points[curve->count - 1].quantity, false};
    else if (over == NULL) {
        report_error(r, "missing-key", node->place, "a law needs 'over': the range of the quantity");
        return false;
    } else if (!read_span_of_unit(r, over, curve->unit, &source->over)) {
        return false;
    }
    const tl_quantity *span = &source->over.value;
    if (strcmp(curve->unit, "degC") == 0 && span->low <= -273) {
        report_error(r, "bad-quantity", over != NULL ? over->place : node->place,
                     "that is below absolute zero");
        return false;
    }
    tl_response_spread(curve, span);
    const double a = tl_response_ohms(curve, span->low), b = tl_response_ohms(curve, span->high);
    source->value.given = true;
    source->value.place = yaml_get(node, "resistance")->place;
    source->value.value = (tl_quantity){fmin(a, b) * curve->share_low, tl_response_ohms(curve, span->nominal),
                                        fmax(a, b) * curve->share_high, false};
    if (source->value.value.low > 0 && source->value.value.high < 1e12)
        return true;
    report_error(r, "bad-quantity", node->place, "over this range the law leaves 0 .. 1e12 ohms");
    return false;
}

static bool read_resistance(reader *r, const yaml_tree *node, tl_source *source)
{
    tl_located ohms = {0};
    if (!take_keys(r, node, &keys_resistance, source) || !read_law(r, node, source))
        return false;
    tl_response *curve = &source->curve;
    const yaml_tree *value = yaml_get(node, "resistance"), *over = yaml_get(node, "over");
    curve->share_low = curve->share_high = 1;
    if (curve->law == TL_LAW_NONE) {
        if (over != NULL)
            report_error(r, "unknown-key", over->place,
                         "'over' belongs to a law: beta, steinhart, platinum or a table");
        return read_quantity(r, value, TL_DIM_OHM, &source->value) && over == NULL;
    }
    if (curve->count == 0) {
        if (!read_part(r, value, TL_DIM_OHM, "a sensor's resistance", &ohms))
            return false;
        curve->ohms = ohms.value.nominal;
        curve->share_low = ohms.value.low / ohms.value.nominal;
        curve->share_high = ohms.value.high / ohms.value.nominal;
    }
    return find_ohms(r, node, source);
}

/* --- bridges and buttons on one pin --- */

static bool read_bridge(reader *r, const yaml_tree *node, tl_source *source)
{
    return take_keys(r, node, &keys_bridge, source);
}

/* `[home: 0 ohm, park: 1k2]` */
static bool read_buttons(reader *r, const yaml_tree *node, bool star, tl_source *source)
{
    bool good = check_list(r, node, "the buttons");
    for (int i = 0; good && i < node->count; i++) {
        const yaml_tree *item = &node->items[i];
        const char *name = NULL;
        int names = 0;
        if (source->button_count == TL_BUTTONS_MOST) {
            report_error(r, "bad-number", item->place, "more than %d buttons on one pin", TL_BUTTONS_MOST);
            return false;
        }
        if (item->kind != YAML_MAP || item->count != 1) {
            report_error(r, "wrong-shape", item->place,
                         "a button is written 'NAME: RESISTANCE', nearest first");
            return false;
        }
        tl_source_button *button = &source->buttons[source->button_count];
        good = read_name_range(r, &item->items[0], &names) &&
               read_text(r, &item->items[0], "a name", &name) &&
               read_quantity(r, &item->items[1], TL_DIM_OHM, &button->ohms);
        if (good && (names != 1 || (button->ohms.value.low <= 0 && i > 0 && !star))) {
            report_error(r, "zero-part", item->place,
                         "each button behind the first has a resistance of its own");
            good = false;
        }
        for (int b = 0; good && b < source->button_count; b++) {
            if (strcmp(source->buttons[b].name, name) == 0) {
                report_error(r, "key-twice", item->place, "there are two buttons '%.40s'", name);
                good = false;
            }
        }
        if (good)
            source->buttons[source->button_count++].name = tl_copy_text(name);
    }
    if (good && source->button_count == 0) {
        report_error(r, "missing-key", node->place, "expected at least one button");
        good = false;
    }
    return good;
}

static bool read_chain(reader *r, const yaml_tree *node, tl_source *source)
{
    const bool star = source->kind == TL_SOURCE_STAR;
    return take_keys(r, node, star ? &keys_star : &keys_chain, source) &&
           read_buttons(r, yaml_get(node, star ? "star" : "chain"), star, source);
}

/* --- contacts and outputs of two states --- */

static bool read_open_collector(reader *r, const yaml_tree *node, tl_source *source)
{
    if (!take_keys(r, node, &keys_collector, source))
        return false;
    tl_quantity *saturation = &source->value.value;
    if (!saturation->toleranced && saturation->high > 0) /* one value is the most, and any less may be */
        *saturation = (tl_quantity){0, saturation->high / 2, saturation->high, true};
    if (saturation->low >= 0 && !(source->drives <= 0))
        return true;
    report_error(r, "bad-quantity", node->place, "saturation and on-current cannot be negative");
    return false;
}

static bool read_logic(reader *r, const yaml_tree *node, tl_source *source)
{
    if (!take_keys(r, node, &keys_logic, source))
        return false;
    if (!(source->drives <= 0))
        return true;
    report_error(r, "bad-quantity", node->place, "a logic output must drive something");
    return false;
}

static bool read_contact(reader *r, const yaml_tree *node, tl_source *source)
{
    return take_keys(r, node, &keys_contact, source);
}

static const struct {
    const char *key;
    tl_source_kind kind;
    bool (*read)(reader *r, const yaml_tree *node, tl_source *source);
} source_kinds[] = {
    {"rail", TL_SOURCE_RAIL, read_rail_source},
    {"bridge", TL_SOURCE_BRIDGE, read_bridge}, /* before voltage: it has one as well */
    {"voltage", TL_SOURCE_VOLTAGE, read_voltage_source},
    {"potentiometer", TL_SOURCE_POTENTIOMETER, read_potentiometer},
    {"contact", TL_SOURCE_CONTACT, read_contact},
    {"open-collector", TL_SOURCE_OPEN_COLLECTOR, read_open_collector},
    {"logic", TL_SOURCE_LOGIC, read_logic},
    {"current", TL_SOURCE_CURRENT, read_current},
    {"chain", TL_SOURCE_CHAIN, read_chain},
    {"star", TL_SOURCE_STAR, read_chain},
    {"resistance", TL_SOURCE_RESISTANCE,
     read_resistance}, /* last: a voltage and a logic output have a resistance too */
};

bool tl_source_closes_low(const tl_source *source)
{
    return source->kind == TL_SOURCE_LOGIC || source->supply == TL_TO_GROUND || source->ground_side;
}

bool read_source(reader *r, const yaml_tree *node, const tl_plan *plan, tl_source *source)
{
    source->place = node->place;
    source->drives = source->compliance = NAN;
    source->supply = source->bottom = source->follows = TL_TO_GROUND;
    for (size_t i = 0; i < sizeof source_kinds / sizeof source_kinds[0]; i++) {
        if (yaml_get(node, source_kinds[i].key) != NULL) {
            source->kind = source_kinds[i].kind;
            const bool good = source_kinds[i].read(r, node, source);
            source->ground_side = good && tl_plan_rail_is_low(plan, source->supply);
            return good;
        }
    }
    report_error(
        r, "unknown-source", node->place,
        "a source says what it is: rail, voltage, current, bridge, resistance, potentiometer, chain, star, "
        "contact, open-collector or logic, as in {rail: battery}");
    return false;
}
