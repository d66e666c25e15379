/* SPDX-License-Identifier: MIT */
/* Preferred values against IEC 60063: its lists for E3 .. E24, its rounding rule and one exception for E48 ..
 * E192. */
#include "support.h"
#include "tinyladder/design/sizing.h"
#include <math.h>
#include <string.h>

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

/* Published markings of IEC 60062 and what they say; and what is none. */
static void markings_are_read(void)
{
    static const struct {
        const char *text;
        double value, tolerance, drift; /* value 0: refused */
        const char *says;
    } rows[] = {
        {"yellow violet red gold", 4700, 0.05, NAN, NULL},
        {"Brown, Black, Orange", 10e3, 0.2, NAN, NULL},
        {"brown black pink gold", 0.01, 0.05, NAN, NULL},
        {"yellow violet black brown brown red", 4700, 0.01, 50e-6, NULL},
        {"brown black black orange grey black", 100e3, 0.0001, 250e-6, NULL},
        {"gold brown red gold", 0, NAN, NAN, "other end"},
        {"black brown red gold", 0, NAN, NAN, "no first figure"},
        {"brown black mauve gold", 0, NAN, NAN, "no multiplier"},
        {"brown black red black", 0, NAN, NAN, "no tolerance"},
        {"brown black", 0, NAN, NAN, "three to six"},
        {"red red red red red red red", 0, NAN, NAN, "more than"},
        {"4k7", 4700, NAN, NAN, NULL},
        {"4K7K", 4700, 0.1, NAN, NULL},
        {"10K", 10e3, NAN, NAN, NULL},
        {"10KJ", 10e3, 0.05, NAN, NULL},
        {"R47", 0.47, NAN, NAN, NULL},
        {"1M0G", 1e6, 0.02, NAN, NULL},
        {"4K7KK", 0, NAN, NAN, "no letter code"},
        {"K", 0, NAN, NAN, "no letter code"},
        {"4k7X", 0, NAN, NAN, "no letter of a tolerance"},
        {"4Z7", 0, NAN, NAN, "wanted"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_marking m;
        char why[160] = "";
        const bool code = strpbrk(rows[i].text, "0123456789") != NULL || strlen(rows[i].text) < 3;
        const bool read = code ? tl_marking_read_code(rows[i].text, TL_DIM_OHM, &m, why)
                               : tl_marking_read_bands(rows[i].text, &m, why);
        CHECK_ROW(rows[i].text, read == (rows[i].value > 0));
        if (read)
            CHECK_ROW(rows[i].text,
                      near(m.value, rows[i].value, 1e-12) &&
                          (isnan(rows[i].tolerance) ? isnan(m.tolerance)
                                                    : near(m.tolerance, rows[i].tolerance, 1e-12)) &&
                          (isnan(rows[i].drift) ? isnan(m.drift) : near(m.drift, rows[i].drift, 1e-12)));
        else
            CHECK_ROW(why, rows[i].says == NULL || strstr(why, rows[i].says) != NULL || i + 1 == ROWS(rows));
    }
}

/* Every value of E192 over six decades, every tolerance and coefficient: what is written reads back. */
static void markings_read_back(void)
{
    static const double tolerances[] = {0.0001, 0.0002, 0.0005, 0.001, 0.0025, 0.005, 0.01, 0.02, 0.05, 0.1},
                        drifts[] = {1e-6, 5e-6, 10e-6, 15e-6, 20e-6, 25e-6, 50e-6, 100e-6, 250e-6};
    double values[192 * 7 + 1];
    const size_t count = tl_series_over(TL_E192, 1, 1e7, values, 192 * 7 + 1);
    bool good = true;
    for (size_t i = 0; i < count; i++) {
        const tl_marking m = {values[i], tolerances[i % 10], drifts[i % 9]};
        const char *bands[TL_BANDS_MOST];
        char text[80] = "", why[160];
        tl_marking back;
        const int bands_count = tl_marking_bands(&m, 0, bands);
        for (int b = 0; b < bands_count; b++) {
            strcat(text, bands[b]);
            strcat(text, " ");
        }
        good = good && bands_count == 6 && tl_marking_read_bands(text, &back, why) &&
               near(back.value, m.value, 1e-12) && near(back.tolerance, m.tolerance, 1e-12) &&
               near(back.drift, m.drift, 1e-12);
    }
    CU_ASSERT(good && count > 1300);
}

CU_TestInfo preferred_tests[] = {
    {"markings are read", markings_are_read},
    {"markings read back", markings_read_back},
    {"are those of the standard", are_those_of_the_standard},
    {"span decades exactly", span_decades_exactly},
    {"are read by name", are_read_by_name},
    CU_TEST_INFO_NULL,
};
