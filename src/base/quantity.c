/* SPDX-License-Identifier: MIT */
/* Reading quantities. The digits go to strtod() as one decimal text, so 4k7 is exactly 4700. */
#include "tinyladder/design/quantity.h"
#include "base/dimension.h"
#include <ctype.h>
#include <math.h>
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/* Every unit that can be written, with the dimension it belongs to. scale: how many base units it is. */
static const struct {
    const char *text;
    tl_dimension dimension;
    bool prefixed;
    double scale;
} units[] = {
    {"ohm", TL_DIM_OHM, true, 1},       {"Ω", TL_DIM_OHM, true, 1},
    {"\u2126", TL_DIM_OHM, true, 1},    {"R", TL_DIM_OHM, false, 1},
    {"V", TL_DIM_VOLT, true, 1},        {"A", TL_DIM_AMPERE, true, 1},
    {"F", TL_DIM_FARAD, true, 1},       {"min", TL_DIM_SECOND, false, 60},
    {"h", TL_DIM_SECOND, false, 3600},  {"s", TL_DIM_SECOND, true, 1},
    {"%", TL_DIM_PERCENT, false, 1},    {"counts", TL_DIM_COUNT, false, 1},
    {"count", TL_DIM_COUNT, false, 1},  {"W", TL_DIM_WATT, true, 1},
    {"Hz", TL_DIM_HERTZ, true, 1},      {"H", TL_DIM_HENRY, true, 1},
    {"degC", TL_DIM_CELSIUS, false, 1}, {"°C", TL_DIM_CELSIUS, false, 1},
    {"K", TL_DIM_KELVIN, false, 1},     {"ppm/K", TL_DIM_DRIFT, false, 1e-6},
};

static const struct {
    const char *text;
    int power;
} prefixes[] = {{"p", -12}, {"n", -9}, {"u", -6}, {"µ", -6}, {"μ", -6},
                {"m", -3},  {"k", 3},  {"M", 6},  {"G", 9}};

typedef struct {
    const char *start, *at;
    tl_text_error *error;
} reader;

static bool fail(reader *r, const char *at, const char *format, ...) __attribute__((format(printf, 3, 4)));
static bool fail(reader *r, const char *at, const char *format, ...)
{
    va_list arguments;
    va_start(arguments, format);
    r->error->offset = (size_t)(at - r->start);
    vsnprintf(r->error->text, sizeof r->error->text, format, arguments);
    va_end(arguments);
    return false;
}

static void skip_space(reader *r)
{
    while (*r->at == ' ' || *r->at == '\t')
        r->at++;
}

static bool take(reader *r, const char *text)
{
    const size_t length = strlen(text);
    if (strncmp(r->at, text, length) != 0)
        return false;
    r->at += length;
    return true;
}

static bool take_tolerance_sign(reader *r)
{
    return take(r, "±") || take(r, "+-") || take(r, "+/-");
}

/* A word must end where a unit ends: "Vx" is not V. */
static bool ends_word(const char *at)
{
    return !isalnum((unsigned char)*at) && (unsigned char)*at < 0x80;
}

static bool take_unit(reader *r, tl_dimension *dimension, int *power, double *scale)
{
    const char *start = r->at;
    for (size_t p = 0; p <= sizeof prefixes / sizeof prefixes[0]; p++) {
        const bool prefixed = p > 0;
        r->at = start;
        if (prefixed && !take(r, prefixes[p - 1].text))
            continue;
        const char *after_prefix = r->at;
        for (size_t u = 0; u < sizeof units / sizeof units[0]; u++) {
            r->at = after_prefix;
            if ((prefixed && !units[u].prefixed) || !take(r, units[u].text) ||
                !(ends_word(r->at) || strncmp(r->at, "±", strlen("±")) == 0))
                continue;
            *dimension = units[u].dimension;
            *power = prefixed ? prefixes[p - 1].power : 0;
            *scale = units[u].scale;
            return true;
        }
    }
    r->at = start;
    return false;
}

static bool take_prefix(reader *r, tl_dimension dimension, int *power)
{
    for (size_t p = 0; p < sizeof prefixes / sizeof prefixes[0]; p++) {
        if (take(r, prefixes[p].text)) {
            *power = prefixes[p].power;
            return true;
        }
    }
    *power = 0;
    return dimension == TL_DIM_OHM && take(r, "R");
}

/* The wrong case of a unit or prefix is a common slip: say which one was probably meant. */
static const char *other_case(const char *word)
{
    static const struct {
        const char *wrong, *right;
    } slips[] = {{"v", "V"},       {"mv", "mV"},     {"MV", "mV"},     {"a", "A"},       {"ma", "mA"},
                 {"MA", "mA"},     {"K", "k"},       {"ua", "uA"},     {"S", "s"},       {"MS", "ms"},
                 {"Ms", "ms"},     {"kOhm", "kohm"}, {"Ohm", "ohm"},   {"KOhm", "kohm"}, {"uf", "uF"},
                 {"nf", "nF"},     {"pf", "pF"},     {"Kohm", "kohm"}, {"sec", "s"},     {"hz", "Hz"},
                 {"degc", "degC"}, {"DegC", "degC"}, {"C", "degC"}};
    for (size_t i = 0; i < sizeof slips / sizeof slips[0]; i++) {
        const size_t length = strlen(slips[i].wrong);
        if (strncmp(word, slips[i].wrong, length) == 0 && ends_word(word + length))
            return slips[i].right;
    }
    return NULL;
}

static const char *dimension_name(tl_dimension dimension)
{
    static const char *const names[] = {
        [TL_DIM_OHM] = "a resistance",
        [TL_DIM_VOLT] = "a voltage",
        [TL_DIM_AMPERE] = "a current",
        [TL_DIM_FARAD] = "a capacitance",
        [TL_DIM_SECOND] = "a time",
        [TL_DIM_PERCENT] = "a percentage",
        [TL_DIM_COUNT] = "a count",
        [TL_DIM_WATT] = "a power",
        [TL_DIM_HERTZ] = "a frequency",
        [TL_DIM_HENRY] = "an inductance",
        [TL_DIM_CELSIUS] = "a temperature",
        [TL_DIM_KELVIN] = "a temperature difference",
        [TL_DIM_DRIFT] = "a temperature coefficient, such as 50 ppm/K",
        [TL_DIM_NUMBER] = "a number",
    };
    return names[dimension];
}

/* Digits as they are taken, with room for an exponent behind them. */
typedef struct {
    char text[2 * TL_QUANTITY_LONGEST + 8];
    size_t length;
} digits_taken;

/* Digits and at most one point; appended to digits[]. */
static bool take_digits(reader *r, tl_dimension dimension, digits_taken *digits)
{
    const char *start = r->at;
    bool point = false, any = false;
    while (isdigit((unsigned char)*r->at) || (*r->at == '.' && !point && isdigit((unsigned char)r->at[1]))) {
        point = point || *r->at == '.';
        any = any || *r->at != '.';
        if (digits->length + 1 < sizeof digits->text - 8)
            digits->text[digits->length++] = *r->at;
        r->at++;
    }
    digits->text[digits->length] = '\0';
    return any ? true : fail(r, start, "expected %s", dimension_name(dimension));
}

/* What follows the digits: a unit, a letter code's letter with more digits behind it, a prefix alone, or
 * nothing. */
static bool take_rest(reader *r, tl_dimension dimension, digits_taken *digits, int *power, double *scale)
{
    tl_dimension found;
    const char *glued = r->at;
    skip_space(r);
    const char *word = r->at;
    if (take_unit(r, &found, power, scale)) {
        if (found != dimension && other_case(word) != NULL)
            return fail(r, word, "case matters in units: did you mean '%s%s%s'?", digits->text,
                        word == glued ? "" : " ", other_case(word));
        if (found != dimension)
            return fail(r, word, "expected %s", dimension_name(dimension));
        return true;
    }
    *scale = 1;
    if (word == glued && dimension != TL_DIM_COUNT && dimension != TL_DIM_PERCENT &&
        take_prefix(r, dimension, power)) {
        if (isdigit((unsigned char)*r->at)) {
            if (strchr(digits->text, '.') != NULL)
                return fail(r, word, "either a decimal point or a letter in its place, not both");
            digits->text[digits->length++] = '.';
            if (!take_digits(r, dimension, digits))
                return false;
        }
        if (ends_word(r->at))
            return true;
        if (other_case(word) == NULL)
            return fail(r, word, "'%.12s' is not a unit", word);
    }
    if (other_case(word) != NULL)
        return fail(r, word, "case matters in units: did you mean '%s%s%s'?", digits->text,
                    word == glued ? "" : " ", other_case(word));
    const bool plus_minus = strncmp(word, "±", strlen("±")) == 0; /* the unit before it is missing */
    if (!plus_minus && (isalpha((unsigned char)*word) || (unsigned char)*word >= 0x80)) {
        int shown = 0;
        while (shown < 12 && !ends_word(word + shown))
            shown++;
        if (shown > 0)
            return fail(r, word, "'%.*s' is not a unit of %s", shown, word,
                        strchr(dimension_name(dimension), ' ') + 1);
    }
    return fail(r, word, "'%s' has no unit; expected %s", digits->text, dimension_name(dimension));
}

/* A letter code below its unit begins with the letter: R47, p68. */
static bool take_leading_letter(reader *r, tl_dimension dimension, digits_taken *digits, int *power)
{
    const char *start = r->at;
    if ((dimension == TL_DIM_OHM || dimension == TL_DIM_FARAD) && take_prefix(r, dimension, power) &&
        isdigit((unsigned char)*r->at)) {
        *digits = (digits_taken){"0.", 2};
        if (take_digits(r, dimension, digits) && strchr(digits->text + 2, '.') == NULL && ends_word(r->at))
            return true;
    }
    r->at = start;
    digits->length = 0;
    return false;
}

static bool take_value(reader *r, tl_dimension dimension, double *value)
{
    digits_taken digits = {"", 0};
    int power = 0;
    double scale = 1;
    skip_space(r);
    const char *start = r->at;
    const bool negative = take(r, "-");
    if (!negative)
        (void)take(r, "+");
    if (!take_leading_letter(r, dimension, &digits, &power) &&
        (!take_digits(r, dimension, &digits) || !take_rest(r, dimension, &digits, &power, &scale)))
        return false;
    snprintf(digits.text + digits.length, sizeof digits.text - digits.length, "e%d", power);
    *value = (negative ? -scale : scale) * strtod(digits.text, NULL);
    const dimension_info *info = &dimensions[dimension];
    if (negative && *value < info->least && info->least == 0)
        return fail(r, start, "%s cannot be negative", dimension_name(dimension));
    if (*value < info->least || *value > info->most)
        return fail(r, start, "beyond what is believable: %g .. %g%s%s", info->least, info->most,
                    info->unit[0] != '\0' ? " " : "", info->unit);
    return true;
}

/* The tolerance after its sign: percent of the value, or a difference in the value's own unit. */
static bool take_tolerance(reader *r, tl_dimension dimension, tl_quantity *quantity)
{
    double by = 0;
    tl_text_error ignored;
    reader percent = {r->start, r->at, &ignored};
    const char *start = r->at;
    if (dimension != TL_DIM_PERCENT && take_value(&percent, TL_DIM_PERCENT, &by)) {
        r->at = percent.at;
        if (by < 0 || by >= 100)
            return fail(r, start, "a tolerance lies between 0 %% and 100 %%");
        by *= fabs(quantity->nominal) / 100;
    } else if (!take_value(r, dimension, &by)) {
        return false;
    }
    if (by < 0)
        return fail(r, start, "a tolerance cannot be negative");
    quantity->low = quantity->nominal - by;
    quantity->high = quantity->nominal + by;
    quantity->toleranced = true;
    if (quantity->low < dimensions[dimension].least)
        return fail(r, start, "with this tolerance it could be negative");
    return true;
}

static bool open_text(reader *r, const char *text, tl_text_error *error)
{
    *r = (reader){text, text, error};
    error->offset = 0;
    if (text[0] == '\0')
        return fail(r, text, "nothing is written here");
    if (strlen(text) > TL_QUANTITY_LONGEST)
        return fail(r, text, "longer than %d characters", TL_QUANTITY_LONGEST);
    skip_space(r);
    return true;
}

static bool close_text(reader *r)
{
    skip_space(r);
    return *r->at == '\0' ? true : fail(r, r->at, "'%.20s' is not understood here", r->at);
}

/* A value, with its tolerance where one is written. */
static bool take_part(reader *r, tl_dimension dimension, tl_quantity *part)
{
    *part = (tl_quantity){0};
    if (!take_value(r, dimension, &part->nominal))
        return false;
    part->low = part->high = part->nominal;
    skip_space(r);
    return !take_tolerance_sign(r) || take_tolerance(r, dimension, part);
}

static double in_parallel(double a, double b)
{
    return a + b > 0 ? a * b / (a + b) : 0;
}

/* `22k + 4k7` and `10k || 10k`: resistors in series or parallel, each with its own tolerance; one sign
 * throughout. */
static bool take_joined(reader *r, tl_quantity *sum, double parts[2])
{
    bool parallel = false, joined = false;
    for (;;) {
        const char *sign = r->at;
        tl_quantity next;
        skip_space(r);
        const bool is_parallel = take(r, "||");
        if (!is_parallel && !take(r, "+"))
            return true;
        if (joined && is_parallel != parallel)
            return fail(r, sign, "either in series or in parallel, not both");
        if (!take_part(r, TL_DIM_OHM, &next))
            return false;
        if (is_parallel)
            *sum = (tl_quantity){in_parallel(sum->low, next.low), in_parallel(sum->nominal, next.nominal),
                                 in_parallel(sum->high, next.high), sum->toleranced || next.toleranced};
        else
            *sum = (tl_quantity){sum->low + next.low, sum->nominal + next.nominal, sum->high + next.high,
                                 sum->toleranced || next.toleranced};
        parts[1] = next.nominal;
        parallel = is_parallel;
        joined = true;
    }
}

/* `-25 .. 45 degC`: a unit that stands apart at the end is that of both ends. NULL where there is nothing to
 * add. */
static const char *unit_for_both(const char *text)
{
    const char *dots = strstr(text, "..");
    if (dots == NULL || dots == text || strlen(text) > TL_QUANTITY_LONGEST)
        return NULL;
    const char *last = dots - 1;
    while (last > text && *last == ' ')
        last--;
    const char *second = dots + 2 + strspn(dots + 2, " ");
    const char *unit = second + strspn(second, "+-.0123456789");
    return isdigit((unsigned char)*last) && strncmp(unit, " ", 1) == 0 && unit[1] != '\0' &&
                   strchr(unit + 1, ' ') == NULL
               ? unit
               : NULL;
}

bool tl_quantity_parts_read(const char *text, tl_dimension dimension, tl_quantity *quantity, double parts[2],
                            tl_text_error *error)
{
    reader r;
    tl_quantity found = {0};
    if (!open_text(&r, text, error))
        return false;
    if (take_tolerance_sign(&r)) {
        if (!take_tolerance(&r, dimension, &found) || !close_text(&r))
            return false;
        *quantity = found;
        return true;
    }
    char filled[3 * TL_QUANTITY_LONGEST];
    const char *unit = unit_for_both(text);
    if (unit != NULL) {
        const char *dots = strstr(text, "..");
        snprintf(filled, sizeof filled, "%.*s%s %s", (int)(dots - text), text, unit, dots);
        return tl_quantity_parts_read(filled, dimension, quantity, parts, error);
    }
    if (!take_part(&r, dimension, &found))
        return false;
    skip_space(&r);
    const char *sign = r.at;
    double own[2] = {found.nominal, 0};
    if (!found.toleranced && take(&r, "..")) {
        if (!take_value(&r, dimension, &found.high))
            return false;
        if (found.low > found.high)
            return fail(&r, sign, "the range is reversed: write the lower end first");
        found.nominal = own[0] = (found.low + found.high) / 2;
        found.toleranced = true;
    } else if (dimension == TL_DIM_OHM && !take_joined(&r, &found, own)) {
        return false;
    }
    if (!close_text(&r))
        return false;
    *quantity = found;
    parts[0] = own[0];
    parts[1] = own[1];
    return true;
}

bool tl_free_figure_read(const char *text, double *value, char unit[16], tl_text_error *error)
{
    reader r;
    char *end = NULL;
    if (!open_text(&r, text, error))
        return false;
    const char *digits = r.at + (*r.at == '-' || *r.at == '+');
    if (!isdigit((unsigned char)*digits))
        return fail(&r, r.at, "expected a number");
    const double found = strtod(r.at, &end);
    if (!isfinite(found) || fabs(found) > 1e9 || memchr(r.at, 'x', (size_t)(end - r.at)) != NULL)
        return fail(&r, r.at, "expected a number up to 1e9");
    r.at = end;
    skip_space(&r);
    const size_t length = strcspn(r.at, " \t");
    if (length == 0)
        return fail(&r, r.at, "'%.20s' has no unit", text);
    if (length > 15)
        return fail(&r, r.at, "a unit has at most 15 characters");
    memcpy(unit, r.at, length);
    unit[length] = '\0';
    r.at += length;
    *value = found;
    return close_text(&r);
}

bool tl_quantity_read(const char *text, tl_dimension dimension, tl_quantity *quantity, tl_text_error *error)
{
    double ignored[2];
    return tl_quantity_parts_read(text, dimension, quantity, ignored, error);
}

static bool take_level(reader *r, tl_level *level)
{
    skip_space(r);
    *level = (tl_level){0};
    if (!take(r, "rail")) {
        digits_taken digits = {"", 0};
        const char *start = r->at;
        if (isdigit((unsigned char)*r->at) && take_digits(r, TL_DIM_VOLT, &digits)) {
            skip_space(r);
            if (take(r, "rail")) {
                level->share = strtod(digits.text, NULL);
                return ends_word(r->at) ? true : fail(r, r->at, "expected 'rail' or a voltage");
            }
        }
        r->at = start;
        return take_value(r, TL_DIM_VOLT, &level->volts);
    }
    if (!ends_word(r->at))
        return fail(r, r->at, "expected 'rail' or a voltage");
    level->share = 1;
    skip_space(r);
    const bool minus = *r->at == '-';
    if (*r->at != '+' && !minus)
        return true;
    r->at++;
    if (!take_value(r, TL_DIM_VOLT, &level->volts))
        return false;
    level->volts = minus ? -level->volts : level->volts;
    return true;
}

bool tl_level_read(const char *text, tl_level *level, tl_text_error *error)
{
    reader r;
    tl_level found;
    if (!open_text(&r, text, error) || !take_level(&r, &found) || !close_text(&r))
        return false;
    *level = found;
    return true;
}

bool tl_level_span_read(const char *text, tl_level *low, tl_level *high, tl_text_error *error)
{
    reader r;
    tl_level first, second;
    if (!open_text(&r, text, error) || !take_level(&r, &first))
        return false;
    skip_space(&r);
    if (!take(&r, ".."))
        return fail(&r, r.at, "expected a range: LOW .. HIGH");
    if (!take_level(&r, &second) || !close_text(&r))
        return false;
    *low = first;
    *high = second;
    return true;
}
