/* SPDX-License-Identifier: MIT */
/*
 * Marking of resistors and capacitors, IEC 60062:2016, written and read.
 *
 * Colour bands: two digits (three and four bands) or three (five and six), multiplier, tolerance, and in the
 * sixth the temperature coefficient. Letter codes: a letter in the place of the decimal point (4k7, R47),
 * behind a whole code the letter of its tolerance (4k7J). K inside the digits is kilo, behind them 10 %.
 */
#include "base/memory.h"
#include "tinyladder/design/preferred.h"
#include <ctype.h>
#include <math.h>
#include <stdio.h>
#include <string.h>

static const char *const digits[] = {"black", "brown", "red",    "orange", "yellow",
                                     "green", "blue",  "violet", "grey",   "white"};
static const char *const below_one[] = {"gold", "silver", "pink"}; /* multipliers of 10^-1 .. 10^-3 */

/* Narrowest first; none is 20 %. */
static const struct {
    double most;
    char letter;
    const char *colour;
} tolerances[] = {{0.0001, 'L', "grey"},  {0.0002, 'P', "yellow"}, {0.0005, 'W', "orange"},
                  {0.001, 'B', "violet"}, {0.0025, 'C', "blue"},   {0.005, 'D', "green"},
                  {0.01, 'F', "brown"},   {0.02, 'G', "red"},      {0.05, 'J', "gold"},
                  {0.1, 'K', "silver"},   {0.2, 'M', NULL}};

static const struct {
    double per_kelvin;
    const char *colour;
} drifts[] = {{1e-6, "grey"},    {5e-6, "violet"}, {10e-6, "blue"},   {15e-6, "orange"}, {20e-6, "green"},
              {25e-6, "yellow"}, {50e-6, "red"},   {100e-6, "brown"}, {250e-6, "black"}};

enum {
    DIGITS = (int)(sizeof digits / sizeof digits[0]),
    TOLERANCES = (int)(sizeof tolerances / sizeof tolerances[0]),
    DRIFTS = (int)(sizeof drifts / sizeof drifts[0])
};

/* --- writing bands --- */

static const char *multiplier(int power)
{
    if (power >= 0)
        return power < DIGITS ? digits[power] : NULL;
    return power >= -3 ? below_one[-1 - power] : NULL;
}

static const char *tolerance_band(double tolerance)
{
    for (int i = 0; i < TOLERANCES; i++) {
        if (tolerance <= tolerances[i].most * (1 + 1e-9))
            return tolerances[i].colour;
    }
    return NULL;
}

static const char *drift_band(double drift)
{
    for (int i = 0; i < DRIFTS; i++) {
        if (drift <= drifts[i].per_kelvin * (1 + 1e-9))
            return drifts[i].colour;
    }
    return NULL;
}

/* This many digits of the value, and the power of ten behind them; 0 where they do not hold it. */
static int digits_of(double value, int count, int *power)
{
    if (!(value > 0) || !isfinite(value))
        return 0;
    *power = (int)floor(log10(value) + 1e-9) - (count - 1);
    const double scaled = *power >= 0 ? value / pow(10, *power) : value * pow(10, -*power);
    const int number = (int)lround(scaled), least = count == 2 ? 10 : 100;
    return fabs(scaled - number) > 1e-6 * scaled || number < least || number >= 10 * least ? 0 : number;
}

int tl_marking_bands(const tl_marking *m, int count, const char *bands[TL_BANDS_MOST])
{
    int power;
    const bool loose = isnan(m->tolerance) || m->tolerance >= 0.05 * (1 - 1e-9);
    if (count == 0 && !isnan(m->drift))
        count = 6;
    else if (count == 0)
        count = !loose || digits_of(m->value, 2, &power) == 0 ? 5
                : tolerance_band(m->tolerance) != NULL        ? 4
                                                              : 3;
    const int places = count <= 4 ? 2 : 3, number = digits_of(m->value, places, &power);
    if (number == 0 || count < 3 || count > TL_BANDS_MOST)
        return 0;
    int at = 0;
    if (places == 3)
        bands[at++] = digits[number / 100];
    bands[at++] = digits[number / 10 % 10];
    bands[at++] = digits[number % 10];
    bands[at++] = multiplier(power);
    if (count > 3)
        bands[at++] = tolerance_band(m->tolerance);
    if (count > 5)
        bands[at++] = drift_band(m->drift);
    for (int i = 0; i < at; i++) {
        if (bands[i] == NULL)
            return 0;
    }
    return at;
}

int tl_colour_bands(double ohms, double tolerance, const char *bands[TL_BANDS_MOST])
{
    const tl_marking m = {ohms, tolerance, NAN};
    return tl_marking_bands(&m, 0, bands);
}

/* --- reading bands --- */

static int index_of(const char *word, const char *const *names, int count)
{
    for (int i = 0; i < count; i++) {
        if (strcmp(word, names[i]) == 0)
            return i;
    }
    return -1;
}

static bool take_figures(char words[][12], int places, double *value, char why[160])
{
    *value = 0;
    for (int i = 0; i < places; i++) {
        const int digit = index_of(words[i], digits, DIGITS);
        if (digit < 0 || (i == 0 && digit == 0)) {
            snprintf(why, 160, "%s is no %sfigure: read from the other end?", words[i],
                     i == 0 ? "first " : "");
            return false;
        }
        *value = 10 * *value + digit;
    }
    const int above = index_of(words[places], digits, DIGITS), below = index_of(words[places], below_one, 3);
    if (above < 0 && below < 0)
        snprintf(why, 160, "%s is no multiplier", words[places]);
    *value = below >= 0 ? *value / pow(10, 1 + below) : *value * pow(10, above);
    return above >= 0 || below >= 0;
}

static bool take_tolerance(const char *word, double *tolerance, char why[160])
{
    for (int i = 0; i < TOLERANCES; i++) {
        if (tolerances[i].colour != NULL && strcmp(word, tolerances[i].colour) == 0) {
            *tolerance = tolerances[i].most;
            return true;
        }
    }
    snprintf(why, 160, "%s is no tolerance: read from the other end?", word);
    return false;
}

static bool take_drift(const char *word, double *drift, char why[160])
{
    for (int i = 0; i < DRIFTS; i++) {
        if (strcmp(word, drifts[i].colour) == 0) {
            *drift = drifts[i].per_kelvin;
            return true;
        }
    }
    snprintf(why, 160, "%s is no temperature coefficient", word);
    return false;
}

bool tl_marking_read_bands(const char *text, tl_marking *m, char why[160])
{
    char words[TL_BANDS_MOST + 1][12];
    int count = 0;
    while (*text != '\0' && count <= TL_BANDS_MOST) {
        size_t length = 0;
        text += strspn(text, " ,-/\t");
        for (; isalpha((unsigned char)*text); text++) {
            if (length + 1 < sizeof words[0])
                words[count][length++] = (char)tolower((unsigned char)*text);
        }
        words[count][length] = '\0';
        if (length == 0 && *text != '\0') {
            snprintf(why, 160, "expected colours, such as yellow violet red gold");
            return false;
        }
        count += length > 0;
    }
    if (count < 3 || count > TL_BANDS_MOST) {
        snprintf(why, 160, "expected three to six bands, got %s%d", count > TL_BANDS_MOST ? "more than " : "",
                 count > TL_BANDS_MOST ? TL_BANDS_MOST : count);
        return false;
    }
    const int places = count <= 4 ? 2 : 3;
    *m = (tl_marking){NAN, 0.2, NAN};
    return take_figures(words, places, &m->value, why) &&
           (count <= 3 || take_tolerance(words[places + 1], &m->tolerance, why)) &&
           (count <= 5 || take_drift(words[5], &m->drift, why));
}

/* --- letter codes --- */

/* A whole code: digits and one letter in the place of the point, before, between or behind them. */
static bool is_whole_code(const char *text, size_t length)
{
    int letters = 0, figures = 0;
    for (size_t i = 0; i < length; i++) {
        letters += isalpha((unsigned char)text[i]) != 0;
        figures += isdigit((unsigned char)text[i]) != 0;
    }
    return letters == 1 && figures >= 1 && (size_t)(letters + figures) == length;
}

bool tl_marking_read_code(const char *text, tl_dimension dimension, tl_marking *m, char why[160])
{
    const size_t length = strlen(text);
    char code[24];
    tl_quantity value;
    tl_text_error error;
    *m = (tl_marking){NAN, NAN, NAN};
    const bool toleranced = length >= 3 && length < sizeof code && isalpha((unsigned char)text[length - 1]) &&
                            is_whole_code(text, length - 1);
    if (!toleranced && !is_whole_code(text, length)) {
        snprintf(why, 160,
                 "no letter code: digits and one letter in the place of the point, such as 4k7, 4k7J or R47");
        return false;
    }
    snprintf(code, sizeof code, "%.*s", (int)(toleranced ? length - 1 : length), text);
    for (char *at = code; *at != '\0'; at++)
        *at = *at == 'K' ? 'k' : *at; /* the standard writes kilo as K */
    if (!tl_quantity_read(code, dimension, &value, &error)) {
        snprintf(why, 160, "%.150s", error.text);
        return false;
    }
    m->value = value.nominal;
    for (int i = 0; i < TOLERANCES && toleranced; i++) {
        if (tolerances[i].letter == text[length - 1])
            m->tolerance = tolerances[i].most;
    }
    if (toleranced && isnan(m->tolerance))
        snprintf(why, 160, "%c is no letter of a tolerance", text[length - 1]);
    return !toleranced || !isnan(m->tolerance);
}

char tl_marking_letter(double tolerance)
{
    for (int i = 0; i < TOLERANCES; i++) {
        if (tolerance <= tolerances[i].most * (1 + 1e-9))
            return tolerances[i].letter;
    }
    return '\0';
}
