/* SPDX-License-Identifier: MIT */
/*
 * Preferred values, IEC 60063. E3 .. E24 are as the standard lists them (they are not what rounding gives);
 * E48 .. E192 are 10^(i/n) rounded to three digits, with the standard's one exception, 9.20. Every E48 is in
 * E96, every E96 in E192, and E3, E6, E12 are every eighth, fourth and second of E24.
 */
#include "tinyladder/design/preferred.h"
#include <ctype.h>
#include <math.h>
#include <stdlib.h>

static const unsigned short e24[] = {100, 110, 120, 130, 150, 160, 180, 200, 220, 240, 270, 300,
                                     330, 360, 390, 430, 470, 510, 560, 620, 680, 750, 820, 910};
static const unsigned short e192[] = {
    100, 101, 102, 104, 105, 106, 107, 109, 110, 111, 113, 114, 115, 117, 118, 120, 121, 123, 124, 126,
    127, 129, 130, 132, 133, 135, 137, 138, 140, 142, 143, 145, 147, 149, 150, 152, 154, 156, 158, 160,
    162, 164, 165, 167, 169, 172, 174, 176, 178, 180, 182, 184, 187, 189, 191, 193, 196, 198, 200, 203,
    205, 208, 210, 213, 215, 218, 221, 223, 226, 229, 232, 234, 237, 240, 243, 246, 249, 252, 255, 258,
    261, 264, 267, 271, 274, 277, 280, 284, 287, 291, 294, 298, 301, 305, 309, 312, 316, 320, 324, 328,
    332, 336, 340, 344, 348, 352, 357, 361, 365, 370, 374, 379, 383, 388, 392, 397, 402, 407, 412, 417,
    422, 427, 432, 437, 442, 448, 453, 459, 464, 470, 475, 481, 487, 493, 499, 505, 511, 517, 523, 530,
    536, 542, 549, 556, 562, 569, 576, 583, 590, 597, 604, 612, 619, 626, 634, 642, 649, 657, 665, 673,
    681, 690, 698, 706, 715, 723, 732, 741, 750, 759, 768, 777, 787, 796, 806, 816, 825, 835, 845, 856,
    866, 876, 887, 898, 909, 920, 931, 942, 953, 965, 976, 988,
};

static const struct {
    const char *name;
    const unsigned short *table;
    size_t count, stride;
} all[] = {
    [TL_E3] = {"E3", e24, 3, 8},        [TL_E6] = {"E6", e24, 6, 4},     [TL_E12] = {"E12", e24, 12, 2},
    [TL_E24] = {"E24", e24, 24, 1},     [TL_E48] = {"E48", e192, 48, 4}, [TL_E96] = {"E96", e192, 96, 2},
    [TL_E192] = {"E192", e192, 192, 1},
};

size_t tl_series_count(tl_series series)
{
    return all[series].count;
}

unsigned tl_series_value(tl_series series, size_t i)
{
    return all[series].table[i * all[series].stride];
}

const char *tl_series_name(tl_series series)
{
    return all[series].name;
}

bool tl_series_read(const char *text, tl_series *series)
{
    char *end = NULL;
    if ((text[0] != 'E' && text[0] != 'e') || !isdigit((unsigned char)text[1]))
        return false;
    const unsigned long number = strtoul(text + 1, &end, 10);
    for (size_t i = 0; *end == '\0' && i < sizeof all / sizeof all[0]; i++) {
        if (all[i].count == number) {
            *series = (tl_series)i;
            return true;
        }
    }
    return false;
}

size_t tl_series_over(tl_series series, double least, double most, double *values, size_t room)
{
    size_t found = 0;
    for (int decade = -13; decade <= 12; decade++) {
        for (size_t i = 0; i < all[series].count; i++) {
            const unsigned digits = tl_series_value(series, i);
            /* One division or multiplication of whole numbers, so that 4700 is exactly 4700. */
            const double ohms = decade >= 2 ? digits * pow(10, decade - 2) : digits / pow(10, 2 - decade);
            if (ohms < least * (1 - 1e-12) || ohms > most * (1 + 1e-12))
                continue;
            if (values != NULL && found < room)
                values[found] = ohms;
            found++;
        }
    }
    return found;
}

double tl_times_apart(double one, double other)
{
    return fabs(log(one / other));
}
