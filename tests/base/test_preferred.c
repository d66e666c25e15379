/* Preferred values against IEC 60063: its lists for E3 .. E24, its rounding rule and one exception for E48 ..
 * E192. */
#include "support.h"
#include "tinyladder/design/sizing.h"
#include <math.h>

static void are_those_of_the_standard(void)
{
    static const unsigned e12[] = {100, 120, 150, 180, 220, 270, 330, 390, 470, 560, 680, 820};
    static const unsigned e24_between[] = {110, 130, 160, 200, 240, 300, 360, 430, 510, 620, 750, 910};
    static const struct {
        tl_series series;
        unsigned n;
    } computed[] = {{TL_E48, 48}, {TL_E96, 96}, {TL_E192, 192}};
    CU_ASSERT(tl_series_count(TL_E3) == 3 && tl_series_value(TL_E3, 1) == 220 &&
              tl_series_value(TL_E3, 2) == 470);
    CU_ASSERT(tl_series_count(TL_E6) == 6 && tl_series_value(TL_E6, 1) == 150 &&
              tl_series_value(TL_E6, 5) == 680);
    for (size_t i = 0; i < 12; i++) {
        CU_ASSERT(tl_series_value(TL_E12, i) == e12[i]);
        CU_ASSERT(tl_series_value(TL_E24, 2 * i) == e12[i] &&
                  tl_series_value(TL_E24, 2 * i + 1) == e24_between[i]);
    }
    for (size_t s = 0; s < ROWS(computed); s++) {
        CU_ASSERT(tl_series_count(computed[s].series) == computed[s].n);
        for (unsigned i = 0; i < computed[s].n; i++) {
            unsigned wanted = (unsigned)lround(100 * pow(10, (double)i / computed[s].n));
            if (wanted == 919)
                wanted = 920; /* the exception */
            CU_ASSERT(tl_series_value(computed[s].series, i) == wanted);
        }
    }
}

static void span_decades_exactly(void)
{
    double values[200];
    CU_ASSERT(tl_series_over(TL_E24, 1e3, 10e3, values, 200) == 25);
    CU_ASSERT(values[0] == 1000 && values[16] == 4700 && values[24] == 10000);
    CU_ASSERT(tl_series_over(TL_E12, 0.1, 1, values, 200) == 13 && values[1] == 0.12);
    CU_ASSERT(tl_series_over(TL_E96, 10, 10e6, NULL, 0) == 6 * 96 + 1);
    CU_ASSERT(tl_series_over(TL_E24, 1e3, 10e3, values, 3) == 25); /* counts all, writes three */
}

static void are_read_by_name(void)
{
    static const struct {
        const char *text;
        bool good;
        tl_series series;
    } rows[] = {{"E3", true, TL_E3},     {"e96", true, TL_E96},  {"E192", true, TL_E192},
                {"E13", false, TL_E24},  {"E", false, TL_E24},   {"24", false, TL_E24},
                {"E24x", false, TL_E24}, {"E-24", false, TL_E24}};
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_series series = TL_E24;
        CHECK_ROW(rows[i].text,
                  tl_series_read(rows[i].text, &series) == rows[i].good && series == rows[i].series);
    }
}

CU_TestInfo preferred_tests[] = {
    {"are those of the standard", are_those_of_the_standard},
    {"span decades exactly", span_decades_exactly},
    {"are read by name", are_read_by_name},
    CU_TEST_INFO_NULL,
};
