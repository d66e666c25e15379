/* SPDX-License-Identifier: MIT */
/* Tables against exact rationals, and figures as text. */
#include "support.h"
#include "tinyladder/table.h"
#include "tinyladder/text.h"
#include <math.h>
#include <string.h>

static const tl_table_point bent[] = {{-100, 1000}, {0, 0}, {50, 25}, {1000, -1000000}};
static const tl_table stays = {bent, 4, false}, goes_on = {bent, 4, true};

static void runs_straight_between_points(void)
{
    static const struct {
        const char *name;
        const tl_table *table;
        int32_t from, to;
        bool beyond;
    } rows[] = {
        {"a point", &stays, 0, 0, false},
        {"half way", &stays, -50, 500, false},
        {"rounded up", &stays, 1, 1, false},
        {"rounded away from 0, falling", &stays, -1, 10, false},
        {"the last point", &stays, 1000, -1000000, false},
        {"beyond: the end stands", &stays, 2000, -1000000, true},
        {"before: the end stands", &stays, -200, 1000, true},
        {"before, going on", &goes_on, -200, 2000, true},
        {"beyond, going on", &goes_on, 1950, -2000025, true},
        {"so far that it would not fit", &goes_on, INT32_MAX, INT32_MIN, true},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        bool beyond = !rows[i].beyond;
        CHECK_ROW(rows[i].name, tl_table_value(rows[i].table, rows[i].from, &beyond) == rows[i].to &&
                                    beyond == rows[i].beyond);
    }
    static const tl_table_point falls_back[] = {{0, 0}, {0, 1}};
    const tl_table broken = {falls_back, 2, false}, short_one = {bent, 1, false};
    CU_ASSERT(tl_table_check(&stays) == TL_OK && tl_table_check(&broken) == TL_ERR_RANGE &&
              tl_table_check(&short_one) == TL_ERR_ARG);
}

/* Within half a unit of the exact value, and monotonic, over the widest points there are. */
static void is_exact_to_half_a_unit(void)
{
    static const tl_table_point widest[] = {{INT32_MIN, INT32_MIN}, {-7, 5}, {INT32_MAX, INT32_MAX}};
    const tl_table table = {widest, 3, false};
    int32_t before = INT32_MIN;
    bool exact = true, rising = true;
    for (int i = 0; i < 20000; i++) {
        const int32_t from = (int32_t)(INT32_MIN + (int64_t)i * 214748);
        const int piece = from > -7;
        const double x = (double)from - widest[piece].from,
                     run = (double)widest[piece + 1].from - widest[piece].from;
        const double wanted = widest[piece].to + ((double)widest[piece + 1].to - widest[piece].to) * x / run;
        const int32_t found = tl_table_value(&table, from, NULL);
        exact = exact && fabs(found - wanted) <= 0.5 + 1e-6;
        rising = rising && found >= before;
        before = found;
    }
    CU_ASSERT(exact && rising);
}

static void figures_leave_nothing_behind(void)
{
    static const struct {
        int32_t value;
        uint8_t decimals, width;
        const char *text;
    } rows[] = {
        {1234, 2, 8, "   12.34"},
        {-5, 2, 6, " -0.05"},
        {0, 0, 3, "  0"},
        {0, 3, 5, "0.000"},
        {7, 0, 1, "7"},
        {-7, 0, 1, "#"},
        {12345, 1, 5, "#####"},
        {12345, 1, 6, "1234.5"},
        {INT32_MIN, 0, 11, "-2147483648"},
        {INT32_MAX, 9, 11, "2.147483647"},
        {-999, 0, 4, "-999"},
        {-1000, 0, 4, "####"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char text[16] = "stale stale";
        const tl_status status = tl_text_fixed(rows[i].value, rows[i].decimals, rows[i].width, text);
        CHECK_ROW(rows[i].text, strcmp(text, rows[i].text) == 0 && (status == TL_OK) == (text[0] != '#'));
    }
    char text[4];
    CU_ASSERT(tl_text_fixed(1, 10, 3, text) == TL_ERR_ARG && tl_text_fixed(1, 0, 0, text) == TL_ERR_ARG);
    static const struct {
        uint32_t word;
        uint8_t digits;
        tl_status status;
        const char *text;
    } hex[] = {{0x1b, 4, TL_OK, "001B"},
               {0, 1, TL_OK, "0"},
               {0xf, 1, TL_OK, "F"},
               {0x10, 1, TL_ERR_RANGE, "#"},
               {0xdeadbeef, 8, TL_OK, "DEADBEEF"},
               {0x1234567, 6, TL_ERR_RANGE, "######"}};
    for (size_t k = 0; k < ROWS(hex); k++) {
        char digits[12] = "...........";
        CHECK_ROW(hex[k].text, tl_text_hex(hex[k].word, hex[k].digits, digits) == hex[k].status &&
                                   strcmp(digits, hex[k].text) == 0);
    }
    CU_ASSERT(tl_text_hex(1, 0, text) == TL_ERR_ARG && tl_text_hex(1, 9, text) == TL_ERR_ARG &&
              tl_text_hex(1, 4, NULL) == TL_ERR_ARG);
}

CU_TestInfo table_tests[] = {
    {"runs straight between points", runs_straight_between_points},
    {"is exact to half a unit", is_exact_to_half_a_unit},
    {"figures leave nothing behind", figures_leave_nothing_behind},
    CU_TEST_INFO_NULL,
};
