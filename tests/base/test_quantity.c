/* SPDX-License-Identifier: MIT */
/* Quantities read and written. */
#include "base/plain_text.h"
#include "support.h"
#include "tinyladder/design/preferred.h"
#include "tinyladder/design/quantity.h"
#include <math.h>
#include <stdio.h>
#include <string.h>

static void reads_what_people_write(void)
{
    static const struct {
        const char *text;
        tl_dimension dimension;
        double low, nominal, high;
    } rows[] = {
        {"47k", TL_DIM_OHM, 47e3, 47e3, 47e3},
        {"4k7", TL_DIM_OHM, 4700, 4700, 4700},
        {"2R2", TL_DIM_OHM, 2.2, 2.2, 2.2},
        {"0R5", TL_DIM_OHM, 0.5, 0.5, 0.5},
        {"1M5", TL_DIM_OHM, 1.5e6, 1.5e6, 1.5e6},
        {"10R", TL_DIM_OHM, 10, 10, 10},
        {"4.7 kohm", TL_DIM_OHM, 4700, 4700, 4700},
        {"4.7 kΩ", TL_DIM_OHM, 4700, 4700, 4700},
        {"100 ohm", TL_DIM_OHM, 100, 100, 100},
        {"0 ohm .. 20 ohm", TL_DIM_OHM, 0, 10, 20},
        {"100n", TL_DIM_FARAD, 100e-9, 100e-9, 100e-9},
        {"4n7", TL_DIM_FARAD, 4.7e-9, 4.7e-9, 4.7e-9},
        {"300 pF", TL_DIM_FARAD, 300e-12, 300e-12, 300e-12},
        {"2.2 µF", TL_DIM_FARAD, 2.2e-6, 2.2e-6, 2.2e-6},
        {"10.5 V .. 14.8 V", TL_DIM_VOLT, 10.5, 12.65, 14.8},
        {"10.5V..14.8V", TL_DIM_VOLT, 10.5, 12.65, 14.8},
        {"-1 V .. 2 V", TL_DIM_VOLT, -1, 0.5, 2},
        {"5 V ±5 %", TL_DIM_VOLT, 4.75, 5, 5.25},
        {"5 V +-5%", TL_DIM_VOLT, 4.75, 5, 5.25},
        {"3.3 V ±0.1 V", TL_DIM_VOLT, 3.2, 3.3, 3.4},
        {"±50 nA", TL_DIM_AMPERE, -50e-9, 0, 50e-9},
        {"±2 counts", TL_DIM_COUNT, -2, 0, 2},
        {"20 ms", TL_DIM_SECOND, 0.02, 0.02, 0.02},
        {"40 min", TL_DIM_SECOND, 2400, 2400, 2400},
        {"1.5 h", TL_DIM_SECOND, 5400, 5400, 5400},
        {"98.5 %", TL_DIM_PERCENT, 98.5, 98.5, 98.5},
        {"22k + 4k7", TL_DIM_OHM, 26.7e3, 26.7e3, 26.7e3},
        {"10k || 10k", TL_DIM_OHM, 5e3, 5e3, 5e3},
        {"1k+2k+3k", TL_DIM_OHM, 6e3, 6e3, 6e3},
        {"1k ±1 % + 2k ±10 %", TL_DIM_OHM, 2790, 3000, 3210},
        {"10k ±10 % || 10k ±10 %", TL_DIM_OHM, 4500, 5000, 5500},
        {"5\tV", TL_DIM_VOLT, 5, 5, 5},
        {"+5 V +/-0.1 V", TL_DIM_VOLT, 4.9, 5, 5.1},
        {"5V±5%", TL_DIM_VOLT, 4.75, 5, 5.25},
        {"p68", TL_DIM_FARAD, 0.68e-12, 0.68e-12, 0.68e-12},
        {"-25 .. 45 degC", TL_DIM_CELSIUS, -25, 10, 45},
        {"-25 degC .. 45 degC", TL_DIM_CELSIUS, -25, 10, 45},
        {"0 ohm || 0 ohm", TL_DIM_OHM, 0, 0, 0},
        {"1k || 2k ±1 %", TL_DIM_OHM, 1e3 * 1980 / 2980, 2e6 / 3e3, 1e3 * 2020 / 3020},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_quantity q = {0};
        tl_text_error error = {0};
        CHECK_ROW(rows[i].text, tl_quantity_read(rows[i].text, rows[i].dimension, &q, &error));
        CHECK_ROW(rows[i].text, near(q.low, rows[i].low, 1e-15) && near(q.nominal, rows[i].nominal, 1e-15) &&
                                    near(q.high, rows[i].high, 1e-15));
    }
}

static void refuses_with_the_place_and_the_reason(void)
{
    static const struct {
        const char *text;
        tl_dimension dimension;
        size_t offset;
        const char *says;
    } rows[] = {
        {"", TL_DIM_OHM, 0, "nothing"},
        {"10", TL_DIM_OHM, 2, "'10' has no unit"},
        {"10 ", TL_DIM_VOLT, 3, "'10' has no unit"},
        {"5 v", TL_DIM_VOLT, 2, "did you mean '5 V'"},
        {"10 K", TL_DIM_OHM, 3, "did you mean '10 k'"},
        {"10 V", TL_DIM_OHM, 3, "expected a resistance"},
        {"10 Vx", TL_DIM_VOLT, 3, "not a unit"},
        {"14.8 V .. 10.5 V", TL_DIM_VOLT, 7, "reversed"},
        {"-5 ohm", TL_DIM_OHM, 0, "cannot be negative"},
        {"-4k7", TL_DIM_OHM, 0, "cannot be negative"},
        {"nan", TL_DIM_VOLT, 0, "expected a voltage"},
        {"inf V", TL_DIM_VOLT, 0, "expected a voltage"},
        {"1e3 ohm", TL_DIM_OHM, 1, "not a unit"},
        {"0x10 ohm", TL_DIM_OHM, 1, "not a unit"},
        {"1.2.3 V", TL_DIM_VOLT, 3, "has no unit"},
        {"1,5 V", TL_DIM_VOLT, 1, "has no unit"},
        {"4.7k3", TL_DIM_OHM, 3, "not both"},
        {"4k7k", TL_DIM_OHM, 1, "not a unit"},
        {"99999999 V", TL_DIM_VOLT, 0, "believable"},
        {"99999999999999999999999999999999999 ohm", TL_DIM_OHM, 0, "believable"},
        {"5 V ±100 %", TL_DIM_VOLT, 6, "between 0 %"},
        {"5 V ±-1 %", TL_DIM_VOLT, 6, "between 0 %"},
        {"1 ohm ±2 ohm", TL_DIM_OHM, 8, "could be negative"},
        {"5 V 6 V", TL_DIM_VOLT, 4, "not understood"},
        {"1k + 2k || 3k", TL_DIM_OHM, 8, "not both"},
        {"1 V + 2 V", TL_DIM_VOLT, 4, "not understood"},
        {"1k .. 2k + 3k", TL_DIM_OHM, 9, "not understood"},
        {"1k +", TL_DIM_OHM, 4, "expected a resistance"},
        {"5 V ..", TL_DIM_VOLT, 6, "expected a voltage"},
        {"5 ±1 V", TL_DIM_VOLT, 2, "'5' has no unit"},
        {"5mv", TL_DIM_VOLT, 1, "did you mean '5mV'"},
        {"10kOhm", TL_DIM_OHM, 2, "did you mean '10kohm'"},
        {"5 MV", TL_DIM_VOLT, 0, "beyond what is believable: -2000 .. 2000 V"},
        {"25degc", TL_DIM_CELSIUS, 2, "did you mean '25degC'"},
        {"25 C", TL_DIM_CELSIUS, 3, "did you mean '25 degC'"},
        {"5 MA", TL_DIM_VOLT, 2, "did you mean '5 mA'"},
        {"5 S", TL_DIM_SECOND, 2, "did you mean '5 s'"},
        {"5 sparrowsandmore", TL_DIM_VOLT, 2, "'sparrowsandm' is not a unit of voltage"},
        {"5 €", TL_DIM_VOLT, 2, "'€' is not a unit of voltage"},
        {"5 ?", TL_DIM_VOLT, 2, "'5' has no unit"},
        {"R4.7", TL_DIM_OHM, 0, "expected a resistance"},
        {"R47x", TL_DIM_OHM, 0, "expected a resistance"},
        {"50 % ±-1 %", TL_DIM_PERCENT, 7, "cannot be negative"},
        {"5 V ±x", TL_DIM_VOLT, 6, "expected a voltage"},
        {"±x", TL_DIM_VOLT, 2, "expected a voltage"},
        {"±1 V 2", TL_DIM_VOLT, 6, "not understood"},
        {".. 5 V", TL_DIM_VOLT, 0, "expected a voltage"},
        {"1 .. 2 V x", TL_DIM_VOLT, 2, "has no unit"},
        {"5%", TL_DIM_VOLT, 1, "expected a voltage"},
        {"5 k", TL_DIM_COUNT, 2, "is not a unit of count"},
        {"1111111111111111111111111111111111111111111111111111111111111111 ohm", TL_DIM_OHM, 0,
         "longer than 64"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_quantity q = {-7, -7, -7, false};
        tl_text_error error = {.offset = 999};
        CHECK_ROW(rows[i].text, !tl_quantity_read(rows[i].text, rows[i].dimension, &q, &error));
        CHECK_ROW(error.text, strstr(error.text, rows[i].says) != NULL);
        CHECK_ROW(rows[i].text, error.offset == rows[i].offset && q.nominal == -7);
    }
}

static void reads_levels_that_follow_a_rail(void)
{
    static const struct {
        const char *text;
        bool good;
        double volts, share;
    } rows[] = {
        {"0.8 V", true, 0.8, 0},
        {"rail", true, 0, 1},
        {"0.3 rail", true, 0, 0.3},
        {"rail + 0.3 V", true, 0.3, 1},
        {"rail - 0.4 V", true, -0.4, 1},
        {"-0.3 V", true, -0.3, 0},
        {"rails", false, 0, 0},
        {"rail +", false, 0, 0},
        {"0.3", false, 0, 0},
        {"0.3 railing", false, 0, 0},
        {"", false, 0, 0},
        {"rail + 1 V 2", false, 0, 0},
        {"rail * 2", false, 0, 0},
        {"x", false, 0, 0},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_level level = {0, 0};
        tl_text_error error;
        CHECK_ROW(rows[i].text, tl_level_read(rows[i].text, &level, &error) == rows[i].good);
        CHECK_ROW(rows[i].text, level.volts == rows[i].volts && level.share == rows[i].share);
    }
    tl_level low, high;
    tl_text_error error;
    CU_ASSERT(tl_level_span_read("-0.3 V .. rail + 0.3 V", &low, &high, &error) && low.volts == -0.3 &&
              high.share == 1);
    static const char *const no_spans[] = {"-0.3 V", "", "x .. 3 V", "1 V .. x", "1 V .. 2 V x"};
    for (size_t i = 0; i < ROWS(no_spans); i++)
        CHECK_ROW(no_spans[i], !tl_level_span_read(no_spans[i], &low, &high, &error));
}

/* Figures of units that the plan's own words name. */
static void reads_figures_of_any_unit(void)
{
    static const struct {
        const char *text;
        double value;
        const char *unit, *says;
    } rows[] = {
        {"12.5 kg", 12.5, "kg", NULL},         {"-3 m/s", -3, "m/s", NULL},
        {"+1e3 lx", 1000, "lx", NULL},         {"", 0, NULL, "nothing"},
        {"kg", 0, NULL, "expected a number"},  {"-x", 0, NULL, "expected a number"},
        {"2e9 kg", 0, NULL, "up to 1e9"},      {"1e400 kg", 0, NULL, "up to 1e9"},
        {"0x10 kg", 0, NULL, "up to 1e9"},     {"5", 0, NULL, "'5' has no unit"},
        {"5 kg m", 0, NULL, "not understood"}, {"5 sixteen-letters-", 0, NULL, "at most 15"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        double value = 0;
        char unit[16] = "";
        tl_text_error error = {0, ""};
        const bool good = tl_free_figure_read(rows[i].text, &value, unit, &error);
        CHECK_ROW(rows[i].text, good == (rows[i].says == NULL));
        CHECK_ROW(rows[i].text, good ? value == rows[i].value && strcmp(unit, rows[i].unit) == 0
                                     : strstr(error.text, rows[i].says) != NULL);
    }
}

/* Bands as they are painted, and what cannot be painted. */
static void paints_what_it_reads(void)
{
    static const struct {
        double value, tolerance, drift;
        int count;
        const char *bands;
    } rows[] = {
        {4700, 0.05, (double)NAN, 0, "yellow violet red gold"},
        {4700, (double)NAN, (double)NAN, 0, "yellow violet red"},
        {4700, 0.3, (double)NAN, 0, "yellow violet red"},
        {4700, 0.01, (double)NAN, 0, "yellow violet black brown brown"},
        {4990, 0.05, (double)NAN, 0, "yellow white white brown gold"},
        {0.47, 0.05, (double)NAN, 4, "yellow violet silver gold"},
        {4700, 0.01, 50e-6, 0, "yellow violet black brown brown red"},
        {4700, 0.01, 1, 0, NULL},
        {4700, 0.3, (double)NAN, 4, NULL},
        {4990, 0.05, (double)NAN, 4, NULL},
        {0, 0.05, (double)NAN, 4, NULL},
        {-5, 0.05, (double)NAN, 4, NULL},
        {(double)INFINITY, 0.05, (double)NAN, 4, NULL},
        {1e-4, 0.05, (double)NAN, 4, NULL},
        {47e12, 0.05, (double)NAN, 4, NULL},
        {4700, 0.05, (double)NAN, 2, NULL},
        {4700, 0.05, (double)NAN, 7, NULL},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        const char *bands[TL_BANDS_MOST];
        char text[100] = "", why[160], row[160];
        const tl_marking m = {rows[i].value, rows[i].tolerance, rows[i].drift};
        const int count = tl_marking_bands(&m, rows[i].count, bands);
        tl_marking back;
        for (int k = 0; k < count; k++)
            strcat(strcat(text, k > 0 ? " " : ""), bands[k]);
        snprintf(row, sizeof row, "%g, %g, %d bands: %s", rows[i].value, rows[i].tolerance, rows[i].count,
                 text);
        CHECK_ROW(row, strcmp(text, rows[i].bands != NULL ? rows[i].bands : "") == 0);
        if (count > 0)
            CHECK_ROW(row, tl_marking_read_bands(text, &back, why) && near(back.value, m.value, 1e-12));
    }
}

static void refuses_what_is_no_marking(void)
{
    static const struct {
        const char *text;
        bool code;
        const char *why;
    } rows[] = {
        {"yellow violet", false, "three to six bands, got 2"},
        {"red red red red red red red", false, "more than 6"},
        {"yellow 4 red", false, "expected colours"},
        {"black violet red", false, "no first figure"},
        {"yellow sparrow red", false, "no figure"},
        {"yellow violet sparrowhawkers", false, "is no multiplier"},
        {"yellow violet red sparrow", false, "no tolerance"},
        {"red red red red red sparrow", false, "no temperature coefficient"},
        {"4k7Q", true, "is no letter of a tolerance"},
        {"47", true, "no letter code"},
        {"k", true, "no letter code"},
        {"4k7JJ", true, "no letter code"},
        {"4.7k", true, "no letter code"},
        {"4x7J", true, ""},
        {"44444444444444444444444k", true, ""},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char why[160] = "";
        tl_marking m;
        CHECK_ROW(rows[i].text, !(rows[i].code ? tl_marking_read_code(rows[i].text, TL_DIM_OHM, &m, why)
                                               : tl_marking_read_bands(rows[i].text, &m, why)));
        CHECK_ROW(rows[i].text, why[0] != '\0' && strstr(why, rows[i].why) != NULL);
    }
}

/* What a terminal would obey, or could not show, is a question mark; no half character stands at the end. */
static void shows_nothing_that_a_terminal_obeys(void)
{
    static const struct {
        const char *text;
        size_t room;
        const char *shown;
    } rows[] = {
        {"12 µV", 20, "12 µV"},
        {"a\x1b[2Jb", 20, "a?[2Jb"},
        {"a\x7f", 20, "a?"},
        {"\xc2\x85x", 20, "??x"}, /* a control character of the second kind */
        {"\xe2\x80\xae"
         "abc",
         20, "???abc"}, /* turns the writing */
        {"\xe2\x80\x8f", 20, "???"},
        {"\xe2\x81\xa7", 20, "???"},
        {"\xe2\x81\xaa", 20, "\xe2\x81\xaa"},
        {"\xc0\xaf", 20, "??"}, /* overlong */
        {"\xe0\x80\xaf", 20, "???"},
        {"\xed\xa0\x80", 20, "???"},      /* a surrogate */
        {"\xf4\x90\x80\x80", 20, "????"}, /* beyond the last */
        {"\xf0\x9f\x98\x80", 20, "\xf0\x9f\x98\x80"},
        {"\xf0\x9f\x98", 20, "???"},
        {"\xe2\x82"
         "A",
         20, "??A"},
        {"\xff", 20, "?"},
        {"12 µV", 5, "12 "},
        {"12 µV", 6, "12 µ"},
        {"\x1b\x1b\x1b", 3, "??"},
        {"abc", 1, ""},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char shown[20] = "before";
        plain_text_copy(shown, rows[i].room, rows[i].text);
        CHECK_ROW(rows[i].shown, strcmp(shown, rows[i].shown) == 0);
    }
    char kept[2] = "x";
    plain_text_copy(kept, 0, "abc");
    CU_ASSERT(kept[0] == 'x');
    CU_ASSERT(plain_text_length("a\tb", 3, "\t") == 3 && plain_text_length("a\tb", 3, NULL) == 1 &&
              plain_text_length("a\0b", 3, "\t") == 1);
}

static void writes_bounds_away_from_the_middle(void)
{
    static const struct {
        double value;
        tl_dimension dimension;
        tl_rounding rounding;
        const char *text;
    } rows[] = {
        {46531.9, TL_DIM_OHM, TL_ROUND_NEAREST, "46.53 kΩ"},
        {46531.9, TL_DIM_OHM, TL_ROUND_UP, "46.54 kΩ"},
        {3.30049, TL_DIM_VOLT, TL_ROUND_UP, "3.301 V"},
        {3.30051, TL_DIM_VOLT, TL_ROUND_DOWN, "3.3 V"},
        {3.3, TL_DIM_VOLT, TL_ROUND_UP, "3.3 V"},
        {-0.30004, TL_DIM_VOLT, TL_ROUND_DOWN, "-300.1 mV"},
        {999.96, TL_DIM_OHM, TL_ROUND_NEAREST, "1 kΩ"},
        {0, TL_DIM_AMPERE, TL_ROUND_UP, "0 A"},
        {2.2e-7, TL_DIM_FARAD, TL_ROUND_NEAREST, "220 nF"},
        {2340, TL_DIM_SECOND, TL_ROUND_NEAREST, "2340 s"},
        {99.999, TL_DIM_PERCENT, TL_ROUND_NEAREST, "100 %"},
        {(double)NAN, TL_DIM_VOLT, TL_ROUND_UP, "unknown"},
        {(double)INFINITY, TL_DIM_OHM, TL_ROUND_UP, "no limit"},
        {(double)-INFINITY, TL_DIM_OHM, TL_ROUND_UP, "no limit below"},
        {-12.34, TL_DIM_CELSIUS, TL_ROUND_NEAREST, "-12.34 °C"},
        {0, TL_DIM_NUMBER, TL_ROUND_NEAREST, "0"},
        {1e-20, TL_DIM_VOLT, TL_ROUND_NEAREST, "0 V"},
    };
    char text[32];
    for (size_t i = 0; i < ROWS(rows); i++)
        CHECK_ROW(rows[i].text,
                  strcmp(tl_quantity_write(rows[i].value, rows[i].dimension, rows[i].rounding, text),
                         rows[i].text) == 0);
}

static void writes_letter_codes_that_read_back(void)
{
    static const struct {
        double ohms;
        const char *text;
    } rows[] = {{4700, "4k7"},   {2.2, "2R2"},  {1e6, "1M"}, {10, "10R"},     {0.47, "R47"},
                {0.051, "R051"}, {999, "999R"}, {1e3, "1k"}, {1.02e6, "1M02"}};
    char text[32];
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_quantity q;
        tl_text_error error;
        CHECK_ROW(rows[i].text, strcmp(tl_letter_code_write(rows[i].ohms, text), rows[i].text) == 0);
        CHECK_ROW(rows[i].text, tl_quantity_read(text, TL_DIM_OHM, &q, &error) && q.nominal == rows[i].ohms);
    }
}

CU_TestInfo quantity_tests[] = {
    {"reads what people write", reads_what_people_write},
    {"refuses with the place and the reason", refuses_with_the_place_and_the_reason},
    {"reads levels that follow a rail", reads_levels_that_follow_a_rail},
    {"reads figures of any unit", reads_figures_of_any_unit},
    {"paints what it reads", paints_what_it_reads},
    {"refuses what is no marking", refuses_what_is_no_marking},
    {"shows nothing that a terminal obeys", shows_nothing_that_a_terminal_obeys},
    {"writes bounds away from the middle", writes_bounds_away_from_the_middle},
    {"writes letter codes that read back", writes_letter_codes_that_read_back},
    CU_TEST_INFO_NULL,
};
