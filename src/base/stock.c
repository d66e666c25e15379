/* SPDX-License-Identifier: MIT */
/* What there is to choose from. */
#include "base/memory.h"
#include "tinyladder/design/preferred.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

tl_stock tl_stock_series(tl_series series, double least, double most, double tolerance)
{
    tl_stock stock = {NULL, (int)tl_series_over(series, least, most, NULL, 0)};
    const size_t count = (size_t)stock.count;
    double *values = tl_alloc(count, sizeof *values);
    tl_series_over(series, least, most, values, count);
    stock.parts = tl_alloc(count, sizeof *stock.parts);
    for (int i = 0; i < stock.count; i++)
        stock.parts[i] = (tl_stock_part){values[i], tolerance, INFINITY, -1, 0, false};
    free(values);
    return stock;
}

static bool is_same_value(double a, double b)
{
    return fabs(a - b) <= 1e-9 * b;
}

void tl_stock_add(tl_stock *stock, tl_stock_part part)
{
    int at = 0;
    while (at < stock->count && stock->parts[at].value < part.value * (1 - 1e-9))
        at++;
    for (int i = at; i < stock->count && is_same_value(stock->parts[i].value, part.value); i++) {
        tl_stock_part *same = &stock->parts[i];
        if (same->tolerance == part.tolerance && same->watts == part.watts) {
            same->count = same->count < 0 || part.count < 0 ? -1 : same->count + part.count;
            return;
        }
    }
    tl_stock_part *parts = tl_alloc((size_t)stock->count + 1, sizeof *parts);
    if (stock->count > 0) {
        memcpy(parts, stock->parts, (size_t)at * sizeof *parts);
        memcpy(parts + at + 1, stock->parts + at, (size_t)(stock->count - at) * sizeof *parts);
    }
    parts[at] = part;
    free(stock->parts);
    stock->parts = parts;
    stock->count++;
}

bool tl_stock_take(tl_stock *stock, double value)
{
    for (int i = 0; i < stock->count; i++) {
        if (!is_same_value(stock->parts[i].value, value))
            continue;
        if (stock->parts[i].count > 0 && --stock->parts[i].count == 0) {
            stock->count--;
            memmove(&stock->parts[i], &stock->parts[i + 1],
                    (size_t)(stock->count - i) * sizeof *stock->parts);
        }
        return true;
    }
    return false;
}

void tl_stock_free(tl_stock *stock)
{
    free(stock->parts);
    *stock = (tl_stock){0};
}

tl_leg leg_of(const tl_stock *stock, int index)
{
    const tl_stock_part *part = &stock->parts[index];
    return (tl_leg){part->value * (1 - part->tolerance),
                    part->value,
                    part->value * (1 + part->tolerance),
                    part->watts,
                    index,
                    -1,
                    0};
}

tl_leg leg_exact(double value)
{
    return (tl_leg){value, value, value, INFINITY, -1, -1, 0};
}

static char *write_value(double value, tl_dimension dimension, char text[32])
{
    if (dimension == TL_DIM_OHM && value == 0) {
        snprintf(text, 32, "wire");
        return text;
    }
    if (dimension == TL_DIM_OHM)
        return tl_letter_code_write(value, text);
    tl_quantity_write(value, dimension, TL_ROUND_NEAREST, text);
    /* 220.0 nF reads better as 220 nF on a part. */
    char *point = strchr(text, '.'), *space = strchr(text, ' ');
    if (point != NULL && space != NULL) {
        char *end = space;
        while (end > point && (end[-1] == '0' || end[-1] == '.'))
            if (*--end == '.')
                break;
        memmove(end, space, strlen(space) + 1);
    }
    return text;
}

char *tl_part_write(double value, tl_dimension dimension, char text[32])
{
    static const char *const names[] = {"p", "n", "µ", "m", "", "k", "M", "G"};
    int group = value > 0 ? (int)floor(log10(value) / 3 + 1e-9) : 0;
    group = group < -4 ? -4 : group > 3 ? 3 : group;
    snprintf(text, 32, "%.5g %s%s", value / pow(10, 3 * group), names[group + 4],
             dimension == TL_DIM_FARAD ? "F" : "Ω");
    return text;
}

char *tl_leg_write(const tl_leg *leg, const tl_stock *stock, tl_dimension dimension, char text[40])
{
    char first[32], second[32];
    if (leg->second < 0 || stock == NULL) {
        snprintf(text, 40, "%s", write_value(leg->nominal, dimension, first));
        return text;
    }
    snprintf(text, 40, "%.12s %s %.12s", write_value(stock->parts[leg->first].value, dimension, first),
             leg->join == '+' ? "+" : "||", write_value(stock->parts[leg->second].value, dimension, second));
    return text;
}

/* A part of a leg with the tolerance that its stock has. */
static char *plan_part(const tl_stock *stock, int index, char text[32])
{
    const tl_stock_part *part = &stock->parts[index];
    char value[32];
    snprintf(text, 32, "%.12s ±%g %%", write_value(part->value, TL_DIM_OHM, value),
             round(1e8 * part->tolerance) / 1e6);
    return text;
}

char *tl_leg_plan_text(const tl_leg *leg, const tl_stock *stock, char text[64])
{
    char first[32], second[32];
    if (leg->first < 0 && leg->low == leg->high) { /* given, exact */
        snprintf(text, 64, "%s", tl_letter_code_write(leg->nominal, first));
    } else if (leg->second >= 0) {
        snprintf(text, 64, "%s %s %s", plan_part(stock, leg->first, first), leg->join == '+' ? "+" : "||",
                 plan_part(stock, leg->second, second));
    } else {
        const double tolerance = 100 * (leg->high - leg->nominal) / leg->nominal;
        snprintf(text, 64, "%.20s ±%g %%", tl_letter_code_write(leg->nominal, first),
                 round(1e6 * tolerance) / 1e6);
    }
    return text;
}
