/* SPDX-License-Identifier: MIT */
/* Writing quantities: at most four significant digits, the prefix that reads best, and never past a bound;
 * ohms as a letter code (IEC 60062). */
#include "base/dimension.h"
#include "tinyladder/design/quantity.h"
#include <math.h>
#include <stdio.h>
#include <string.h>

const dimension_info dimensions[] = {
    [TL_DIM_OHM] = {"Ω", 0, 1e12},
    [TL_DIM_VOLT] = {"V", -2000, 2000},
    [TL_DIM_AMPERE] = {"A", -1000, 1000},
    [TL_DIM_FARAD] = {"F", 0, 1},
    [TL_DIM_SECOND] = {"s", 0, 1e7},
    [TL_DIM_PERCENT] = {"%", -1e6, 1e6},
    [TL_DIM_COUNT] = {"counts", -1e9, 1e9},
    [TL_DIM_WATT] = {"W", 0, 1e6},
    [TL_DIM_HERTZ] = {"Hz", 0, 1e9},
    [TL_DIM_HENRY] = {"H", 0, 1e3},
    [TL_DIM_CELSIUS] = {"degC", -273.15, 5000},
    [TL_DIM_KELVIN] = {"K", 0, 1e6},
    [TL_DIM_DRIFT] = {"/K", 0, 1},
    [TL_DIM_NUMBER] = {"", -1e300, 1e300},
};

static double round_to(double value, double unit, tl_rounding rounding)
{
    const double steps = value / unit;
    const double slack = 1e-9 * (fabs(steps) + 1); /* what binary fractions add must not move a digit */
    if (rounding == TL_ROUND_DOWN)
        return floor(steps + slack) * unit;
    if (rounding == TL_ROUND_UP)
        return ceil(steps - slack) * unit;
    return round(steps) * unit;
}

char *tl_quantity_write(double value, tl_dimension dimension, tl_rounding rounding, char text[32])
{
    static const char *const names[] = {"p", "n", "µ", "m", "", "k", "M", "G"};
    const bool prefixed = dimension != TL_DIM_PERCENT && dimension != TL_DIM_COUNT &&
                          dimension != TL_DIM_NUMBER && dimension != TL_DIM_CELSIUS &&
                          dimension != TL_DIM_KELVIN;
    const char *unit = dimension == TL_DIM_CELSIUS ? "°C" : dimensions[dimension].unit;
    if (!isfinite(value)) {
        snprintf(text, 32, "%s", value > 0 ? "no limit" : value < 0 ? "no limit below" : "unknown");
        return text;
    }
    if (value == 0 || fabs(value) < 1e-15) {
        snprintf(text, 32, dimension == TL_DIM_NUMBER ? "0" : "0 %s", unit);
        return text;
    }
    int exponent = (int)floor(log10(fabs(value)) + 1e-12);
    const double rounded = round_to(value, pow(10, exponent - 3), rounding);
    if (fabs(rounded) >= pow(10, exponent + 1))
        exponent++;
    int group = prefixed ? (int)floor(exponent / 3.0) : 0;
    const int highest = dimension == TL_DIM_SECOND ? 0 : 3; /* kiloseconds are not in use */
    group = group < -4 ? -4 : group > highest ? highest : group;
    int decimals = 3 - (exponent - 3 * group);
    decimals = decimals < 0 ? 0 : decimals > 6 ? 6 : decimals;
    snprintf(text, 32, "%.*f", decimals, rounded / pow(10, 3 * group));
    size_t length = strlen(text);
    while (decimals > 0 && (text[length - 1] == '0' || text[length - 1] == '.')) /* 3.3 V, not 3.300 V */
        decimals = text[--length] == '.' ? 0 : decimals;
    text[length] = '\0';
    if (dimension != TL_DIM_NUMBER)
        snprintf(text + length, 32 - length, " %s%s", names[group + 4], unit);
    return text;
}

char *tl_letter_code_write(double ohms, char text[32])
{
    static const struct {
        double unit;
        char letter;
    } letters[] = {{1e9, 'G'}, {1e6, 'M'}, {1e3, 'k'}, {1, 'R'}};
    char digits[24];
    size_t l = 0;
    while (l < 3 && ohms < letters[l].unit * 0.99999)
        l++;
    if (ohms > 0 && ohms < 0.99999) { /* the letter comes first: R47 */
        snprintf(digits, sizeof digits, "%.9f", ohms);
        size_t length = strlen(digits);
        while (digits[length - 1] == '0')
            digits[--length] = '\0';
        snprintf(text, 32, "R%s", digits + 2);
        return text;
    }
    snprintf(digits, sizeof digits, "%.6g", ohms / letters[l].unit);
    char *point = strchr(digits, '.');
    if (point != NULL) {
        *point = letters[l].letter;
        snprintf(text, 32, "%s", digits);
    } else {
        snprintf(text, 32, "%s%c", digits, letters[l].letter);
    }
    return text;
}
