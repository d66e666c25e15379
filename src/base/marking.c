/* Colour bands, IEC 60062:2016. */
#include "base/memory.h"
#include "tinyladder/design/preferred.h"
#include <math.h>

static const char *const digits[] = {"black", "brown", "red",    "orange", "yellow",
                                     "green", "blue",  "violet", "grey",   "white"};

static const char *multiplier(int power)
{
    static const char *const below[] = {"gold", "silver", "pink"};
    if (power >= 0)
        return power <= 9 ? digits[power] : NULL;
    return power >= -3 ? below[-1 - power] : NULL;
}

static const char *tolerance_band(double tolerance)
{
    static const struct {
        double most;
        const char *colour;
    } bands[] = {{0.0001, "grey"}, {0.0002, "yellow"}, {0.0005, "orange"}, {0.001, "violet"},
                 {0.0025, "blue"}, {0.005, "green"},   {0.01, "brown"},    {0.02, "red"},
                 {0.05, "gold"},   {0.1, "silver"}};
    for (size_t i = 0; i < sizeof bands / sizeof bands[0]; i++) {
        if (tolerance <= bands[i].most * (1 + 1e-9))
            return bands[i].colour;
    }
    return NULL; /* none: 20 % */
}

int tl_colour_bands(double ohms, double tolerance, const char *bands[TL_BANDS_MOST])
{
    if (!(ohms > 0) || !isfinite(ohms))
        return 0;
    int power = (int)floor(log10(ohms) + 1e-9) - 2;
    const double scaled = power >= 0 ? ohms / pow(10, power) : ohms * pow(10, -power);
    const int number = (int)lround(scaled); /* three digits */
    if (fabs(scaled - number) > 1e-6 * scaled || number < 100 || number > 999)
        return 0;
    const bool three = number % 10 != 0 || tolerance < 0.05 * (1 - 1e-9);
    int count = 0;
    bands[count++] = digits[number / 100];
    bands[count++] = digits[number / 10 % 10];
    if (three)
        bands[count++] = digits[number % 10];
    else
        power++;
    bands[count] = multiplier(power);
    if (bands[count++] == NULL)
        return 0;
    const char *tolerated = tolerance_band(tolerance);
    if (tolerated != NULL)
        bands[count++] = tolerated;
    return count;
}
