/* SPDX-License-Identifier: MIT */
/* Columns of figures: what a table shows of its numbers, against figures that were typeset by hand. */
#include "printing/columns.h"
#include "printing/tables.h"
#include "support.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum { MOST = 6 };

static void columns_have_one_unit(void)
{
    static const struct {
        const char *name;
        double values[MOST];
        int count;
        tl_dimension dimension;
        column_kind kind;
        tl_rounding rounding;
        double beside; /* 0: the largest of the column */
        const char *unit, *texts[MOST];
    } rows[] = {
        {"resistances",
         {9361.9, 3015.2, 0, 500, 10021},
         5,
         TL_DIM_OHM,
         COLUMN_FIGURES,
         TL_ROUND_UP,
         0,
         "kΩ",
         {"9.37", "3.02", "0", "0.50", "10.03"}},
        {"times as typed",
         {0.3e-6, 1e-6, 3e-6, NAN},
         4,
         TL_DIM_SECOND,
         COLUMN_TYPED,
         TL_ROUND_NEAREST,
         0,
         "µs",
         {"0.3", "1.0", "3.0", ""}},
        {"the least goes down",
         {1.80349, -0.00101, 0, 3.3661},
         4,
         TL_DIM_VOLT,
         COLUMN_VOLTS,
         TL_ROUND_DOWN,
         0,
         "V",
         {"1.803", "-0.002", "0", "3.366"}},
        {"the most goes up",
         {2.65001, 0.0106, 3.3660},
         3,
         TL_DIM_VOLT,
         COLUMN_VOLTS,
         TL_ROUND_UP,
         0,
         "V",
         {"2.651", "0.011", "3.366"}},
        {"a bridge in millivolts",
         {0.0121, -0.001},
         2,
         TL_DIM_VOLT,
         COLUMN_VOLTS,
         TL_ROUND_UP,
         0,
         "mV",
         {"12.100", "-1.000"}},
        {"volts beside volts", {0.0068}, 1, TL_DIM_VOLT, COLUMN_VOLTS, TL_ROUND_UP, 3.3, "V", {"0.007"}},
        {"what does not matter",
         {0.1185, 0.0018, 0, 0.0249},
         4,
         TL_DIM_COUNT,
         COLUMN_FIGURES,
         TL_ROUND_UP,
         0,
         "counts",
         {"0.12", "< 0.01", "0", "0.03"}},
        {"many counts",
         {1534.2, 0.5},
         2,
         TL_DIM_COUNT,
         COLUMN_FIGURES,
         TL_ROUND_UP,
         0,
         "counts",
         {"1534.20", "0.50"}},
        {"amperes beside a limit",
         {34.05e-6, 0},
         2,
         TL_DIM_AMPERE,
         COLUMN_FIGURES,
         TL_ROUND_UP,
         12e-3,
         "mA",
         {"0.0341", "0"}},
        {"a limit as typed",
         {4e-3, 12.5e-3},
         2,
         TL_DIM_AMPERE,
         COLUMN_TYPED,
         TL_ROUND_NEAREST,
         0,
         "mA",
         {"4.0", "12.5"}},
        {"without an end",
         {INFINITY, 100},
         2,
         TL_DIM_OHM,
         COLUMN_FIGURES,
         TL_ROUND_UP,
         0,
         "Ω",
         {"unlimited", "100"}},
        {"none at all", {NAN, NAN}, 2, TL_DIM_OHM, COLUMN_FIGURES, TL_ROUND_UP, 0, "Ω", {"", ""}},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        double largest = rows[i].beside;
        for (int k = 0; k < rows[i].count && rows[i].beside == 0; k++)
            largest = fmax(largest, isfinite(rows[i].values[k]) ? fabs(rows[i].values[k]) : 0);
        const column_form form =
            column_of(rows[i].values, rows[i].count, rows[i].dimension, rows[i].kind, largest);
        CHECK_ROW(rows[i].name, strcmp(form.unit, rows[i].unit) == 0);
        for (int k = 0; k < rows[i].count; k++) {
            char text[40];
            column_text(&form, rows[i].values[k], rows[i].rounding, text);
            CHECK_ROW(rows[i].name, strcmp(text, rows[i].texts[k]) == 0);
            if (strcmp(text, rows[i].texts[k]) != 0)
                printf("\n  %s: '%s' for '%s'\n", rows[i].name, text, rows[i].texts[k]);
        }
    }
}

/* Whatever the figures are, a bound never moves inward, and never by more than one in the last place. */
static void bounds_go_outward(void)
{
    unsigned long seed = 99;
    int wrong = 0;
    for (int round = 0; round < 3000; round++) {
        double values[MOST], largest = 0;
        for (int k = 0; k < MOST; k++) {
            seed = seed * 6364136223846793005ul + 1442695040888963407ul;
            values[k] = ((double)(seed >> 11) / 9007199254740992.0 - 0.3) * pow(10, (double)(round % 14) - 8);
            largest = fmax(largest, fabs(values[k]));
        }
        const column_form form = column_of(values, MOST, TL_DIM_OHM, COLUMN_FIGURES, largest);
        for (int k = 0; k < MOST; k++) {
            char up[40], down[40];
            const double step = pow(10, -form.decimals) * form.scale,
                         above = strtod(column_text(&form, values[k], TL_ROUND_UP, up), NULL) * form.scale,
                         below =
                             strtod(column_text(&form, values[k], TL_ROUND_DOWN, down), NULL) * form.scale,
                         slack = 1e-8 * step + 1e-12 * largest;
            wrong += !(above >= values[k] - slack && above <= values[k] + step + slack &&
                       below <= values[k] + slack && below >= values[k] - step - slack);
        }
    }
    CU_ASSERT(wrong == 0);
}

/* A unit that all cells of a column have goes into its head; ranges have it once, or at both ends. */
static void units_go_into_heads(void)
{
    static const struct {
        const char *name, *cells[4], *printed;
    } rows[] = {
        {"one unit", {"2.5 V", "12 V", "-3 V", "0.1 V"}, "a,V"},
        {"ranges", {"1.89 V .. 2.95 V", "1 V .. 2 V", "0.5 V .. 10 V", "3 V .. 4 V"}, "a,V"},
        {"ranges with the unit behind", {"1.89 .. 2.95 V", "1 .. 2 V", "0.5 .. 10 V", "3 .. 4 V"}, "a,V"},
        {"two units", {"1 V .. 2 A", "1 V .. 2 V", "3 V .. 4 V", "5 V .. 6 V"}, "1 V .. 2 A"},
        {"a longer unit behind", {"1 V .. 2 Vx", "1 V .. 2 V", "3 V .. 4 V", "5 V .. 6 V"}, "1 V .. 2 Vx"},
        {"no figure behind", {"1 V .. open", "1 V .. 2 V", "3 V .. 4 V", "5 V .. 6 V"}, "1 V .. open"},
        {"a word", {"open", "1 V", "2 V", "3 V"}, "open"},
        {"two words behind", {"1 V or so", "1 V", "2 V", "3 V"}, "1 V or so"},
        {"other units", {"1 V", "2 A", "3 V", "4 V"}, "2 A"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char *text = NULL;
        size_t size = 0;
        table t;
        FILE *to = open_memstream(&text, &size);
        CU_ASSERT_FATAL(to != NULL);
        table_begin(&t, 2, "<>");
        table_heads(&t, "name", "a");
        for (int k = 0; k < 4; k++) {
            table_cell(&t, "row %d", k);
            table_cell(&t, "%s", rows[i].cells[k]);
        }
        table_end(&t, to, "");
        fclose(to);
        const bool in_head = rows[i].printed[0] == 'a';
        CHECK_ROW(rows[i].name, in_head ? strstr(text, "a, V") != NULL && strstr(text, "5 V") == NULL
                                        : strstr(text, rows[i].printed) != NULL);
        if (getenv("TL_SHOW") != NULL)
            printf("\n%s", text);
        free(text);
    }
}

CU_TestInfo columns_tests[] = {
    {"columns have one unit", columns_have_one_unit},
    {"bounds go outward", bounds_go_outward},
    {"units go into heads", units_go_into_heads},
    CU_TEST_INFO_NULL,
};
