/* SPDX-License-Identifier: MIT */
/* Columns of figures: see columns.h. */
#include "printing/columns.h"
#include <math.h>
#include <stdio.h>
#include <string.h>

enum { DIGITS = 3, DIGITS_OF_NUMBERS = 4, MORE_DECIMALS = 2, DECIMALS_MOST = 9, FIRST_PREFIX = -4 };
static const double meter_full_scale = 0.1; /* volts: below it a meter is set to millivolts */

/* `Ω`, as running text has it. */
static void unit_of(tl_dimension dimension, int group, char unit[16])
{
    static const char *const prefixes[] = {"p", "n", "µ", "m", "", "k", "M", "G"};
    char text[32];
    tl_quantity_write(1, dimension, TL_ROUND_NEAREST, text);
    const char *space = strrchr(text, ' ');
    snprintf(unit, 16, "%s%s", prefixes[group - FIRST_PREFIX], space != NULL ? space + 1 : "");
}

static bool has_prefix(tl_dimension dimension)
{
    return dimension == TL_DIM_OHM || dimension == TL_DIM_VOLT || dimension == TL_DIM_AMPERE ||
           dimension == TL_DIM_FARAD || dimension == TL_DIM_SECOND || dimension == TL_DIM_WATT ||
           dimension == TL_DIM_HERTZ || dimension == TL_DIM_HENRY;
}

/* The largest and the smallest that count, by size; 0 where there is none. */
static void find_ends(const double *values, int count, double negligible, double *largest, double *smallest)
{
    *largest = 0;
    *smallest = INFINITY;
    for (int i = 0; i < count; i++) {
        const double size = fabs(values[i]);
        if (!isfinite(size) || size <= negligible)
            continue;
        *largest = fmax(*largest, size);
        *smallest = fmin(*smallest, size);
    }
}

static int places_of(double scaled)
{
    return (int)floor(log10(scaled) + 1e-9);
}

/* Decimals that every entry needs to stand there as it was written. */
static int typed_decimals(const double *values, int count, double scale)
{
    int decimals = 0;
    for (int i = 0; i < count; i++) {
        while (isfinite(values[i]) && decimals < DECIMALS_MOST) {
            const double shifted = values[i] / scale * pow(10, decimals);
            if (fabs(shifted - nearbyint(shifted)) < 1e-6 * fmax(1, fabs(shifted)))
                break;
            decimals++;
        }
    }
    return decimals;
}

column_form column_of(const double *values, int count, tl_dimension dimension, column_kind kind,
                      double beside)
{
    column_form form = {.scale = 1, .negligible = dimension == TL_DIM_COUNT ? 0.01 : 0};
    double largest, smallest;
    int group = 0;
    find_ends(values, count, form.negligible, &largest, &smallest);
    if (kind == COLUMN_VOLTS)
        group = beside > 0 && beside < meter_full_scale ? -1 : 0;
    else if (has_prefix(dimension) && beside > 0)
        group = (int)floor(log10(beside) / 3 + 1e-9);
    group = group < FIRST_PREFIX ? FIRST_PREFIX : group > 3 ? 3 : group;
    if (dimension == TL_DIM_SECOND && group < -2)
        group = -2; /* times below a microsecond stand beside those of a data sheet: 0.3 µs */
    form.scale = pow(1000, group);
    unit_of(dimension, group, form.unit);
    if (kind == COLUMN_VOLTS) {
        form.decimals = 3;
    } else if (kind == COLUMN_TYPED) {
        form.decimals = typed_decimals(values, count, form.scale);
    } else if (largest > 0) {
        const int digits = dimension == TL_DIM_NUMBER ? DIGITS_OF_NUMBERS : DIGITS; /* such as a ratio */
        const int least = digits - 1 - places_of(largest / form.scale),
                  wanted = 1 - places_of(smallest / form.scale);
        const int base = least > 0 ? least : 0;
        form.decimals = wanted <= base ? base : wanted < base + MORE_DECIMALS ? wanted : base + MORE_DECIMALS;
        if (form.negligible > 0 && form.decimals > 2)
            form.decimals = 2;
    }
    return form;
}

const char *column_text(const column_form *form, double value, tl_rounding rounding, char text[40])
{
    const double shift = pow(10, form->decimals), scaled = value / form->scale * shift,
                 slack = 1e-9 * fmax(1, fabs(scaled));
    if (isnan(value))
        text[0] = '\0';
    else if (value == 0)
        snprintf(text, 40, "0");
    else if (fabs(value) < form->negligible)
        snprintf(text, 40, "< %g", form->negligible);
    else if (isinf(value))
        snprintf(text, 40, "unlimited");
    else {
        const double whole = rounding == TL_ROUND_UP     ? ceil(scaled - slack)
                             : rounding == TL_ROUND_DOWN ? floor(scaled + slack)
                                                         : nearbyint(scaled);
        snprintf(text, 40, "%.*f", form->decimals, whole == 0 ? 0 : whole / shift);
    }
    return text;
}
