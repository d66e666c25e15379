/* SPDX-License-Identifier: MIT */
/* Where the pairs of `trim` come from: words, a file, or the bench. */
#define _GNU_SOURCE
#include "reading/taker.h"
#include "reading/trim.h"
#include <ctype.h>
#include <errno.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>

bool trim_is_volts(const char *text)
{
    tl_text_error ignored;
    tl_quantity q;
    char bare[64];
    snprintf(bare, sizeof bare, "%.60s", text);
    return tl_quantity_read(bare, TL_DIM_VOLT, &q, &ignored);
}

bool trim_read_volts(const tl_signal *signal, const char *text, double *volts, const char *from)
{
    tl_text_error error = {0};
    tl_quantity b;
    tl_free_figure figure = {0};
    char bare[64];
    snprintf(bare, sizeof bare, "%.60s", text);
    if (tl_quantity_read(bare, TL_DIM_VOLT, &b, &error) && b.low == b.high) {
        *volts = b.nominal;
        return true;
    }
    tl_text_error other;
    if (signal->reading.unit[0] != '\0' && tl_free_figure_read(bare, &figure.value, figure.unit, &other) &&
        strcmp(figure.unit, signal->reading.unit) == 0 && tl_plan_base_of(signal, figure.value, volts))
        return true;
    fprintf(stderr, "%s: error: %s", from,
            error.text[0] != '\0' ? error.text : "expected one value, got a range");
    if (signal->reading.unit[0] != '\0' && strcmp(signal->reading.unit, "V") != 0)
        fprintf(stderr, "; %s reads %s, which may stand here too", signal->name, signal->reading.unit);
    fputc('\n', stderr);
    return false;
}

/* A bare count is a count, as a bare number of a table is in its head's unit. */
static bool read_left(const char *text, tl_dimension is, double *value, const char *from)
{
    tl_text_error error = {0};
    tl_quantity a;
    char *end = NULL;
    *value = strtod(text, &end);
    if (is == TL_DIM_COUNT && end != text && *end == '\0' && isfinite(*value))
        return true;
    if (tl_quantity_read(text, is, &a, &error) && a.low == a.high) {
        *value = a.nominal;
        return true;
    }
    fprintf(stderr, "%s: error: %s\n", from,
            error.text[0] != '\0' ? error.text : "expected one value, got a range");
    return false;
}

/* signal: NULL for quantity and ohms. */
static bool add_pair(pair_list *list, const tl_signal *signal, const char *left, const char *right,
                     const char *from)
{
    if (list->count == TL_TRIM_PAIRS_MOST) {
        fprintf(stderr, "%s: error: %d pairs at most\n", from, TL_TRIM_PAIRS_MOST);
        return false;
    }
    const bool good =
        read_left(left, signal != NULL ? TL_DIM_COUNT : TL_DIM_CELSIUS, &list->left[list->count], from) &&
        (signal != NULL ? trim_read_volts(signal, right, &list->right[list->count], from)
                        : read_left(right, TL_DIM_OHM, &list->right[list->count], from));
    list->known_values = list->known_values || (good && signal != NULL && !trim_is_volts(right));
    list->count += good;
    return good;
}

static void with_unit(char to[200], const char *figure, const char *unit)
{
    const size_t length = strlen(figure);
    const bool bare = length > 0 && isdigit((unsigned char)figure[length - 1]);
    snprintf(to, 200, "%s%s%s", figure, bare && unit[0] != '\0' ? " " : "", bare ? unit : "");
}

/* `2764=12.71V`, or a line `2764,12.71V`; units: of a table's head line, put behind its bare numbers. */
static bool split_pair(pair_list *list, const tl_signal *signal, const char *text, char between,
                       const char units[2][24], const char *from)
{
    char copy[160], left[200], right[200];
    snprintf(copy, sizeof copy, "%s", text);
    char *middle = strchr(copy, between);
    if (middle == NULL) {
        fprintf(stderr, "%s: error: a pair is written %s: '%.60s'\n", from,
                signal != NULL ? "COUNT=VOLTS, such as 2764=12.71V" : "QUANTITY=OHMS, such as 25degC=10.1k",
                text);
        return false;
    }
    *middle = '\0';
    with_unit(left, copy, units[0]);
    with_unit(right, middle + 1, units[1]);
    return add_pair(list, signal, left, right, from);
}

/* A head line without a digit names the columns; in a sensor's table they are units. */
static bool read_head(const char *line, bool curve, char units[2][24])
{
    if (strpbrk(line, "0123456789") != NULL)
        return false;
    const char *comma = strchr(line, ',');
    if (curve && comma != NULL) {
        snprintf(units[0], sizeof units[0], "%.*s", (int)(comma - line < 20 ? comma - line : 20), line);
        snprintf(units[1], sizeof units[1], "%.20s", comma + 1);
    }
    return true;
}

static bool read_pairs_file(pair_list *list, const tl_signal *signal, const char *path)
{
    char line[200], from[300], units[2][24] = {"", ""};
    FILE *file = fopen(path, "r");
    bool good = file != NULL;
    if (!good)
        fprintf(stderr, "%s: error: cannot be read: %s\n", path, strerror(errno));
    for (int number = 1; good && fgets(line, sizeof line, file) != NULL; number++) {
        line[strcspn(line, "\r\n")] = '\0';
        if (line[0] == '\0' || (number == 1 && read_head(line, signal == NULL, units)))
            continue;
        snprintf(from, sizeof from, "%.250s:%d", path, number);
        good = split_pair(list, signal, line, ',', (const char(*)[24])units, from);
    }
    if (file != NULL)
        fclose(file);
    return good;
}

bool trim_read_pairs(const trim_options *o, const tl_signal *signal, pair_list *list)
{
    static const char no_units[2][24] = {"", ""};
    bool good = true;
    if (o->pairs != NULL)
        return read_pairs_file(list, signal, o->pairs);
    for (int i = 0; i < o->word_count && good; i++)
        good = split_pair(list, signal, o->words[i], '=', no_units, o->words[i]);
    return good;
}

/* The meter is off by a share of its accuracy that stays the same, and shows whole digits. */
static double shown_by(const tl_meter *meter, double volts)
{
    if (meter == NULL)
        return volts;
    const double off = volts * (1 + 0.4 * meter->accuracy / 100);
    return meter->digit > 0 ? meter->digit * round(off / meter->digit) : off;
}

bool trim_take_live(const trim_options *o, tl_circuit *circuit, int signal, const tl_meter *meter,
                    pair_list *list, tl_report *report)
{
    tl_text_error error;
    tl_scene *scene = o->scene != NULL ? tl_scene_load(o->scene, circuit, report) : tl_scene_new();
    if (scene == NULL) {
        (void)print_unreadable(report);
        return false;
    }
    tl_bench *bench = tl_bench_new(circuit, scene, scene->seed);
    char *copy = must(strdup(o->live)), *save = NULL;
    bool good = copy != NULL;
    for (char *word = good ? strtok_r(copy, ",", &save) : NULL; word != NULL && good;
         word = strtok_r(NULL, ",", &save)) {
        tl_quantity at;
        taken t;
        good = tl_quantity_read(word, TL_DIM_SECOND, &at, &error) && list->count < TL_TRIM_PAIRS_MOST;
        if (!good) {
            fprintf(stderr, "tinyladder: --live: %s\n",
                    list->count < TL_TRIM_PAIRS_MOST ? error.text : "too many times");
            break;
        }
        take_once(bench, &signal, 1, at.nominal, 64, &t);
        good = taken_is_good(&t);
        list->left[list->count] = (double)t.is.count;
        list->right[list->count++] =
            shown_by(meter, o->at_pin ? tl_bench_pin_volts(bench, signal) : tl_bench_truth(bench, signal));
    }
    free(copy);
    tl_bench_free(bench);
    tl_scene_free(scene);
    return good;
}
