/* SPDX-License-Identifier: MIT */
/* Quantities read and written. */
#include "support.h"
#include "tinyladder/design/quantity.h"
#include <math.h>
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
    CU_ASSERT(!tl_level_span_read("-0.3 V", &low, &high, &error));
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
    {"writes bounds away from the middle", writes_bounds_away_from_the_middle},
    {"writes letter codes that read back", writes_letter_codes_that_read_back},
    CU_TEST_INFO_NULL,
};
