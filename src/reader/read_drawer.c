/* SPDX-License-Identifier: MIT */
/* Reading a drawer file: which parts there are. */
#include "base/memory.h"
#include "model/parts.h"
#include "reader/read_plan.h"
#include "tinyladder/design/preferred.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

static bool read_preferred(reader *r, const yaml_tree *node, const yaml_tree *over, tl_dimension dimension,
                           tl_stock_part part, tl_stock *stock)
{
    const char *text = NULL;
    tl_series series;
    tl_located range = {0};
    if (over == NULL) {
        report_error(r, "missing-key", node->place, "'preferred' needs 'over': from which value to which");
        return false;
    }
    if (!read_text(r, node, "a series, such as E24", &text) || !read_quantity(r, over, dimension, &range))
        return false;
    if (!tl_series_read(text, &series)) {
        report_error(r, "unknown-word", node->place,
                     "'%.20s' is no series: E3, E6, E12, E24, E48, E96 or E192", text);
        return false;
    }
    if (range.value.low <= 0) {
        report_error(r, "zero-part", over->place, "a series begins above 0");
        return false;
    }
    tl_stock values = tl_stock_series(series, range.value.low, range.value.high, part.tolerance);
    for (int i = 0; i < values.count; i++) {
        part.value = values.parts[i].value;
        tl_stock_add(stock, part);
    }
    tl_stock_free(&values);
    return true;
}

static bool read_values(reader *r, const yaml_tree *node, tl_dimension dimension, tl_stock_part part,
                        tl_stock *stock)
{
    bool good = check_list(r, node, "values");
    for (int i = 0; good && i < node->count; i++) {
        good = read_value(r, &node->items[i], dimension, &part.value);
        if (good && part.value <= 0) {
            report_error(r, "zero-part", node->items[i].place, "a part must be above 0");
            good = false;
        }
        if (good)
            tl_stock_add(stock, part);
    }
    return good;
}

static bool read_entry(reader *r, const yaml_tree *node, tl_dimension dimension, tl_stock *stock)
{
    tl_stock_part part = {.watts = INFINITY, .count = -1};
    long count = 0;
    if (!check_map(r, node, &keys_entry))
        return false;
    const yaml_tree *preferred = yaml_get(node, "preferred"), *values = yaml_get(node, "values"), *at;
    if ((preferred == NULL) == (values == NULL)) {
        report_error(r, "missing-key", node->place, "an entry has either 'preferred' or 'values'");
        return false;
    }
    bool good = read_value(r, yaml_get(node, "tolerance"), TL_DIM_PERCENT, &part.tolerance);
    part.tolerance /= 100;
    if (good && !(part.tolerance >= 0 && part.tolerance < 1)) {
        report_error(r, "bad-quantity", yaml_get(node, "tolerance")->place,
                     "a tolerance lies between 0 %% and 100 %%");
        good = false;
    }
    if ((at = yaml_get(node, "power")) != NULL)
        good = read_value(r, at, TL_DIM_WATT, &part.watts) && good;
    if ((at = yaml_get(node, "count")) != NULL) {
        good = read_number(r, at, "the count", 0, 1000000, &count) && good;
        part.count = (int)count;
    }
    if ((at = yaml_get(node, "drift")) != NULL)
        good = read_value(r, at, TL_DIM_DRIFT, &part.drift) && good;
    if (!good || part.count == 0)
        return good;
    return preferred != NULL ? read_preferred(r, preferred, yaml_get(node, "over"), dimension, part, stock)
                             : read_values(r, values, dimension, part, stock);
}

static bool read_entries(reader *r, const yaml_tree *node, const char *what, tl_dimension dimension,
                         tl_stock *stock)
{
    bool good = node == NULL || check_list(r, node, what);
    for (int i = 0; good && node != NULL && i < node->count; i++)
        good = read_entry(r, &node->items[i], dimension, stock) && good;
    return good;
}

bool drawer_load_from(const char *path, tl_place asked_from, tl_stock *resistors, tl_stock *capacitors,
                      tl_report *report)
{
    reader r = {.report = report, .path = path};
    tl_stock ohms = {0}, farads = {0};
    const yaml_tree *root = yaml_read_file(path, asked_from, report);
    if (root == NULL)
        return false;
    bool good = read_head(&r, root, "drawer") && check_map(&r, root, &keys_drawer);
    if (good) {
        good = read_entries(&r, yaml_get(root, "resistors"), "resistors", TL_DIM_OHM, &ohms);
        good = read_entries(&r, yaml_get(root, "capacitors"), "capacitors", TL_DIM_FARAD, &farads) && good;
    }
    good = check_all(&r, root, &keys_drawer) && good;
    if (good && resistors != NULL)
        *resistors = ohms;
    else
        tl_stock_free(&ohms);
    if (good && capacitors != NULL)
        *capacitors = farads;
    else
        tl_stock_free(&farads);
    return good;
}

bool tl_drawer_load(const char *path, tl_stock *resistors, tl_stock *capacitors, tl_report *report)
{
    return drawer_load_from(path, (tl_place){-1, 0, 0}, resistors, capacitors, report);
}

/* --- what a plan does with a drawer --- */

static const tl_stock_part *find_part(const tl_stock *stock, double value)
{
    for (int i = 0; i < stock->count; i++) {
        if (fabs(stock->parts[i].value - value) <= 1e-9 * value)
            return &stock->parts[i];
    }
    return NULL;
}

/* One value, or two that were joined: in series where they add up to it, else in parallel. */
static void take_tolerance(tl_located *part, const tl_stock *stock, double kelvins)
{
    const tl_stock_part *first = find_part(stock, part->parts[0]), *second = find_part(stock, part->parts[1]);
    double low[2], high[2];
    if (!part->given || part->value.toleranced || part->value.low != part->value.high || first == NULL)
        return;
    const double off = first->tolerance + first->drift * kelvins;
    low[0] = first->value * (1 - off);
    high[0] = first->value * (1 + off);
    part->value.toleranced = true;
    part->drift = fmax(first->drift, second != NULL ? second->drift : 0);
    if (!(part->parts[1] > 0)) {
        part->value.low = low[0];
        part->value.high = high[0];
        return;
    }
    const double tolerance = second != NULL ? second->tolerance + second->drift * kelvins : 0;
    const bool series = part->value.nominal > part->parts[0];
    low[1] = part->parts[1] * (1 - tolerance);
    high[1] = part->parts[1] * (1 + tolerance);
    part->value.low = series ? low[0] + low[1] : low[0] * low[1] / (low[0] + low[1]);
    part->value.high = series ? high[0] + high[1] : high[0] * high[1] / (high[0] + high[1]);
}

/* The plan is being read: what its parts are is still its reader's to write. */
void plan_take_tolerances(tl_plan *plan)
{
    const double kelvins = fmax(fabs(plan->warmest - 25), fabs(plan->coldest - 25));
    tl_parts parts = tl_plan_parts(plan);
    for (int i = 0; i < parts.count; i++) {
        const tl_plan_part *part = &parts.part[i];
        const bool farads = tl_role_of(part->role)->dimension == TL_DIM_FARAD;
        if (tl_part_is_bought(part) && !part->fitted)
            take_tolerance((tl_located *)part->value, farads ? &plan->capacitors : &plan->resistors, kelvins);
    }
    tl_parts_free(&parts);
}

static void mark_used(tl_stock *resistors, double value)
{
    for (int i = 0; i < resistors->count; i++)
        resistors->parts[i].used =
            resistors->parts[i].used || fabs(resistors->parts[i].value / value - 1) < 1e-9;
}

void take_parts(const tl_parts *parts, tl_stock *resistors)
{
    for (int i = 0; i < parts->count; i++) {
        const tl_plan_part *part = &parts->part[i];
        if (!tl_part_is_bought(part) || part->fitted || tl_role_of(part->role)->dimension != TL_DIM_OHM)
            continue;
        for (int k = 0; k < 2; k++) {
            if (part->value->parts[k] > 0)
                mark_used(resistors, part->value->parts[k]);
            if (part->value->parts[k] > 0)
                (void)tl_stock_take(resistors, part->value->parts[k]);
        }
    }
}

void tl_plan_take_parts(const tl_plan *plan, tl_stock *resistors)
{
    tl_parts parts = tl_plan_parts(plan);
    take_parts(&parts, resistors);
    tl_parts_free(&parts);
}
