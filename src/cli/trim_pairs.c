/* Where the pairs of `trim` come from: words, a file, or the bench. */
#define _GNU_SOURCE
#include "cli/trim.h"
#include <errno.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>

static bool add_pair(pair_list *list, const char *left, const char *right, tl_dimension left_is,
                     tl_dimension right_is, const char *from)
{
    tl_text_error error = {0};
    tl_quantity a, b;
    char *end = NULL;
    char bare[64];
    if (list->count == TL_TRIM_PAIRS_MOST) {
        fprintf(stderr, "%s: error: %d pairs at most\n", from, TL_TRIM_PAIRS_MOST);
        return false;
    }
    /* A bare count is a count. */
    const double number = strtod(left, &end);
    if (left_is == TL_DIM_COUNT && end != left && *end == '\0' && isfinite(number))
        a = (tl_quantity){number, number, number, false};
    else if (!tl_quantity_read(left, left_is, &a, &error)) {
        fprintf(stderr, "%s: error: %s\n", from, error.text);
        return false;
    }
    snprintf(bare, sizeof bare, "%.60s", right);
    if (!tl_quantity_read(bare, right_is, &b, &error) || a.low != a.high || b.low != b.high) {
        fprintf(stderr, "%s: error: %s\n", from,
                error.text[0] != '\0' ? error.text : "one value is wanted, not a range");
        return false;
    }
    list->left[list->count] = a.nominal;
    list->right[list->count++] = b.nominal;
    return true;
}

/* `2764=12.71V`, or a line `2764,12.71V`. */
static bool split_pair(pair_list *list, const char *text, char between, tl_dimension left, tl_dimension right,
                       const char *from)
{
    char copy[160];
    snprintf(copy, sizeof copy, "%s", text);
    char *middle = strchr(copy, between);
    if (middle == NULL) {
        fprintf(stderr, "%s: error: a pair is written %s: '%.60s'\n", from,
                left == TL_DIM_COUNT ? "COUNT=VOLTS, such as 2764=12.71V"
                                     : "QUANTITY=OHMS, such as 25degC=10.1k",
                text);
        return false;
    }
    *middle = '\0';
    return add_pair(list, copy, middle + 1, left, right, from);
}

/* A head line without a digit is passed over. */
static bool read_pairs_file(pair_list *list, const char *path, tl_dimension left, tl_dimension right)
{
    char line[200], from[300];
    FILE *file = fopen(path, "r");
    bool good = file != NULL;
    if (!good)
        fprintf(stderr, "%s: error: cannot be read: %s\n", path, strerror(errno));
    for (int number = 1; good && fgets(line, sizeof line, file) != NULL; number++) {
        line[strcspn(line, "\r\n")] = '\0';
        if (line[0] == '\0' || (number == 1 && strpbrk(line, "0123456789") == NULL))
            continue;
        snprintf(from, sizeof from, "%.250s:%d", path, number);
        good = split_pair(list, line, ',', left, right, from);
    }
    if (file != NULL)
        fclose(file);
    return good;
}

bool trim_read_pairs(const trim_options *o, pair_list *list, tl_dimension left, tl_dimension right)
{
    bool good = true;
    if (o->pairs != NULL)
        return read_pairs_file(list, o->pairs, left, right);
    for (int i = 0; i < o->word_count && good; i++)
        good = split_pair(list, o->words[i], '=', left, right, o->words[i]);
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
        take_all(bench, &signal, 1, at.nominal, 64, &t);
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
