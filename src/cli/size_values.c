/* SPDX-License-Identifier: MIT */
/* `size nearest`: preferred values near one that is required. `size marking`: bands and letter codes, both
 * ways. */
#include "cli/size_call.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum { NEAREST_MOST = 20 };

/* --- nearest --- */

typedef struct {
    double wanted;
    tl_series series;
    const char *drawer;
    long top;
    bool json;
} nearest_options;

static const struct argp_option nearest_argp_options[] = {
    {"value", 'v', "OHMS", 0, "value to approximate", 0},
    {"series", 's', "E24", 0, "preferred values: E3 E6 E12 E24 E48 E96 E192 (default: E24)", 0},
    {"drawer", 'd', "FILE", 0, "use only parts in this drawer file", 0},
    {"top", 't', "N", 0, "number of values to print (default: 3)", 0},
    {"json", 'j', NULL, 0, "print one JSON object", 0},
    {0},
};

static error_t parse_nearest(int key, char *text, struct argp_state *state)
{
    nearest_options *o = state->input;
    switch (key) {
    case 'v':
        o->wanted = option_value(state, "value", text, TL_DIM_OHM);
        return 0;
    case 's':
        if (!tl_series_read(text, &o->series))
            argp_error(state, "--series: expected E3, E6, E12, E24, E48, E96 or E192, got '%.20s'", text);
        return 0;
    case 'd':
        o->drawer = text;
        return 0;
    case 't':
        o->top = option_number(state, "top", text, 1, NEAREST_MOST);
        return 0;
    case 'j':
        o->json = true;
        return 0;
    case ARGP_KEY_ARG:
        argp_error(state, "'%.60s' is one argument too many", text);
        return 0;
    case ARGP_KEY_END:
        if (!(o->wanted > 0))
            argp_error(state, "which value? Such as --value 48k");
        return 0;
    default:
        return ARGP_ERR_UNKNOWN;
    }
}

/* Indices of the stock, nearest first. */
static int find_nearest(const tl_stock *stock, double wanted, int found[NEAREST_MOST], int most)
{
    int count = 0;
    for (int i = 0; i < stock->count; i++) {
        int at = count < most ? count++ : most;
        while (at > 0 && tl_times_apart(stock->parts[i].value, wanted) <
                             tl_times_apart(stock->parts[found[at - 1]].value, wanted)) {
            if (at < most)
                found[at] = found[at - 1];
            at--;
        }
        if (at < most)
            found[at] = i;
    }
    return count;
}

static void print_nearest(const nearest_options *o, const tl_stock *stock, const int *found, int count)
{
    char code[32];
    table t;
    table_begin(&t, 3, ">>>");
    table_heads(&t, " ", "value", "off by");
    for (int i = 0; i < count; i++) {
        const double value = stock->parts[found[i]].value;
        table_cell(&t, "%d", i + 1);
        table_cell(&t, "%s", tl_letter_code_write(value, code));
        table_cell(&t, "%+.2f %%", 100 * (value / o->wanted - 1));
    }
    table_end(&t, stdout, "  ");
}

static void print_nearest_json(const nearest_options *o, const tl_stock *stock, const int *found, int count)
{
    char code[32];
    json_t *list = json_array();
    for (int i = 0; i < count; i++) {
        const double value = stock->parts[found[i]].value;
        json_array_append_new(list, json_pack("{s:s,s:o,s:o}", "code", tl_letter_code_write(value, code),
                                              "value_ohm", json_number(value), "off_by",
                                              json_number(value / o->wanted - 1)));
    }
    json_print(
        json_pack("{s:s,s:o,s:o}", "size", "nearest", "wanted_ohm", json_number(o->wanted), "nearest", list));
}

int size_nearest(int argc, char **argv)
{
    static const struct argp argp = {nearest_argp_options,
                                     parse_nearest,
                                     NULL,
                                     "Find the preferred values nearest to a value, by the smallest "
                                     "ratio.\vExample: tinyladder size nearest --value 48k --series E12",
                                     NULL,
                                     NULL,
                                     NULL};
    nearest_options o = {.wanted = NAN, .series = TL_E24, .top = 3};
    char name[] = "tinyladder size nearest";
    argv[0] = name;
    options_parse(&argp, argc, argv, &o);
    tl_report *report = new_report();
    tl_stock stock = {0}, capacitors = {0};
    int status = EXIT_DONE;
    if (o.drawer == NULL)
        stock = tl_stock_series(o.series, o.wanted / 20, o.wanted * 20, 0);
    else if (!tl_drawer_load(o.drawer, &stock, &capacitors, report))
        status = print_unreadable(report);
    if (status == EXIT_DONE) {
        int found[NEAREST_MOST];
        const int count = find_nearest(&stock, o.wanted, found, (int)o.top);
        (o.json ? print_nearest_json : print_nearest)(&o, &stock, found, count);
    }
    tl_stock_free(&stock);
    tl_stock_free(&capacitors);
    tl_report_free(report);
    return status;
}

/* --- marking --- */

typedef struct {
    tl_marking marking;
    tl_dimension dimension;
    int bands;
    const char *read;
    bool said, json;
} marking_options;

static const struct argp_option marking_argp_options[] = {
    {"value", 'v', "OHMS", 0, "value to mark, such as \"4k7 ±1 %\"", 0},
    {"tempco", 'k', "PPM", 0, "temperature coefficient for the sixth band, such as \"50 ppm/K\"", 0},
    {"drift", 0, NULL, OPTION_ALIAS | OPTION_HIDDEN, NULL, 0},
    {"bands", 'b', "N", 0, "number of bands, 3 to 6 (default: as many as needed)", 0},
    {"read", 'r', "TEXT", 0, "marking to read: \"yellow violet red gold\", 4K7K or R47", 0},
    {"farads", 'f', NULL, 0, "read the letter code as a capacitor's", 0},
    {"json", 'j', NULL, 0, "print one JSON object", 0},
    {0},
};

static error_t parse_marking(int key, char *text, struct argp_state *state)
{
    marking_options *o = state->input;
    tl_quantity value;
    switch (key) {
    case 'v':
        value = option_quantity(state, "value", text, TL_DIM_OHM);
        o->marking.value = value.nominal;
        o->marking.tolerance = value.toleranced ? (value.high - value.low) / 2 / value.nominal : (double)NAN;
        o->said = true;
        return 0;
    case 'k':
        o->marking.drift = option_value(state, "tempco", text, TL_DIM_DRIFT);
        return 0;
    case 'b':
        o->bands = (int)option_number(state, "bands", text, 3, TL_BANDS_MOST);
        return 0;
    case 'r':
        o->read = text;
        return 0;
    case 'f':
        o->dimension = TL_DIM_FARAD;
        return 0;
    case 'j':
        o->json = true;
        return 0;
    case ARGP_KEY_ARG:
        argp_error(state, "'%.60s' is one argument too many", text);
        return 0;
    case ARGP_KEY_END:
        if (o->said == (o->read != NULL))
            argp_error(state, "either --value \"4k7 ±1 %%\" or --read \"yellow violet red gold\"");
        if (o->said && o->dimension != TL_DIM_OHM)
            argp_error(state, "--farads goes with --read: a capacitor's code is read, not written");
        if (o->said && o->bands > 3 && isnan(o->marking.tolerance))
            argp_error(state, "--bands: the fourth says the tolerance: --value \"4k7 ±1 %%\"");
        if (o->said && o->bands == 6 && isnan(o->marking.drift))
            argp_error(state,
                       "--bands: the sixth band is the temperature coefficient: --tempco \"50 ppm/K\"");
        return 0;
    default:
        return ARGP_ERR_UNKNOWN;
    }
}

/* Colours have spaces or commas between them, or are one word without a figure; a code has figures. */
static bool read_marking(marking_options *o, char why[160])
{
    return strcspn(o->read, "0123456789") == strlen(o->read) && strlen(o->read) > 2
               ? tl_marking_read_bands(o->read, &o->marking, why)
               : tl_marking_read_code(o->read, o->dimension, &o->marking, why);
}

static json_t *bands_list(const marking_options *o, char text[120])
{
    const char *bands[TL_BANDS_MOST];
    json_t *list = json_array();
    const int count = o->dimension == TL_DIM_OHM ? tl_marking_bands(&o->marking, o->bands, bands) : 0;
    size_t length = 0;
    text[0] = '\0';
    for (int i = 0; i < count; i++) {
        json_array_append_new(list, json_string(bands[i]));
        length += (size_t)snprintf(text + length, 120 - length, "%s%s", i > 0 ? " " : "", bands[i]);
    }
    return list;
}

static int print_marking(const marking_options *o)
{
    const tl_marking *m = &o->marking;
    char code[40] = "", bands[120];
    json_t *list = bands_list(o, bands);
    if (o->dimension == TL_DIM_OHM)
        tl_letter_code_write(m->value, code);
    if (code[0] != '\0' && !isnan(m->tolerance) && tl_marking_letter(m->tolerance) != '\0')
        snprintf(code + strlen(code), sizeof code - strlen(code), "%c", tl_marking_letter(m->tolerance));
    const int status = o->said && bands[0] == '\0' ? EXIT_FOUND : EXIT_DONE;
    if (o->json) {
        json_print(json_pack("{s:s,s:o,s:s,s:o,s:o,s:s,s:o}", "size", "marking", "value",
                             json_number(m->value), "unit", o->dimension == TL_DIM_OHM ? "ohm" : "F",
                             "tolerance", json_number(m->tolerance), "drift_per_k", json_number(m->drift),
                             "code", code, "bands", list));
        return status;
    }
    json_decref(list);
    printf("%s", show(m->value, o->dimension).text);
    if (!isnan(m->tolerance))
        printf(" ±%g %%", 100 * m->tolerance);
    if (!isnan(m->drift))
        printf(", %g ppm/K", 1e6 * m->drift);
    printf("\n%s%s%s", code[0] != '\0' ? "  code  " : "", code, code[0] != '\0' ? "\n" : "");
    if (bands[0] != '\0')
        printf("  bands %s\n", bands);
    else if (o->said)
        printf("  this number of bands cannot show this value\n");
    return status;
}

int size_marking(int argc, char **argv)
{
    static const struct argp argp = {marking_argp_options,
                                     parse_marking,
                                     NULL,
                                     "Writes and reads the marking of a resistor (IEC 60062).\v"
                                     "Example: tinyladder size marking --read \"yellow violet red gold\"",
                                     NULL,
                                     NULL,
                                     NULL};
    marking_options o = {.marking = {NAN, NAN, NAN}, .dimension = TL_DIM_OHM};
    char name[] = "tinyladder size marking", why[160];
    argv[0] = name;
    options_parse(&argp, argc, argv, &o);
    if (o.read != NULL && !read_marking(&o, why)) {
        fprintf(stderr, "tinyladder: size marking: --read: %s\n", why);
        return EXIT_USAGE;
    }
    return print_marking(&o);
}
