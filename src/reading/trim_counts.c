/* SPDX-License-Identifier: MIT */
/* Pairs from the real board: you type what the meter shows, the counts of just then come from the
 * board. */
#include "reading/counts.h"
#include "reading/ending.h"
#include "reading/trim.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

enum { SAMPLES = 16, LINE_LONGEST = 100 };
static const double longest = 10; /* seconds, for as many counts */

/* The next line that is typed, counts passing by meanwhile; false at its end, or at an empty one. */
static bool typed_line(counts *from, char line[LINE_LONGEST])
{
    size_t length = 0;
    char c = '\0';
    while (counts_pass_until(from, STDIN_FILENO) && read(STDIN_FILENO, &c, 1) == 1 && c != '\n') {
        if (length < LINE_LONGEST - 1)
            line[length++] = c;
    }
    while (length > 0 && (line[length - 1] == ' ' || line[length - 1] == '\r'))
        length--;
    line[length] = '\0';
    return length > 0;
}

/* The mean of the counts that come now; NAN where none does. */
static double mean_now(counts *from, const tl_plan *plan, int signal, int *samples)
{
    taken *now = must(calloc((size_t)plan->signal_count + 1, sizeof *now));
    bool *told = must(calloc((size_t)plan->signal_count + 1, sizeof *told));
    const double until = counts_now(from) + longest;
    double sum = 0, at;
    *samples = 0;
    while (*samples < SAMPLES && counts_now(from) < until &&
           counts_next(from, until - counts_now(from), now, told, &at) == COUNTS_LINE) {
        if (told[signal]) {
            sum += (double)now[signal].is.count;
            ++*samples;
        }
    }
    free(now);
    free(told);
    return *samples > 0 ? sum / *samples : NAN;
}

bool trim_take_counts(const trim_options *o, tl_circuit *circuit, int signal, pair_list *list, int *status)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    char line[LINE_LONGEST];
    int samples = 0;
    counts *from = counts_open(o->counts, circuit, status);
    if (from == NULL)
        return false;
    ending_watch();
    *status = EXIT_USAGE;
    bool good = counts_is_live(from);
    if (!good)
        fprintf(stderr,
                "tinyladder: --counts: a file was written before the meter was read; use a live source\n");
    if (good && isatty(STDIN_FILENO))
        fprintf(stderr,
                "Type what the meter shows, such as 12.71V, while it shows it; an empty line ends.\n");
    while (good && list->count < TL_TRIM_PAIRS_MOST && typed_line(from, line)) {
        good = trim_read_volts(&plan->signals[signal], line, &list->right[list->count], line);
        list->known_values = list->known_values || (good && !trim_is_volts(line));
        if (!good)
            break;
        list->left[list->count] = mean_now(from, plan, signal, &samples);
        good = samples > 0;
        if (good)
            fprintf(stderr, "%s: %.7g counts, the mean of %d\n", line, list->left[list->count++], samples);
        else
            fprintf(stderr, "tinyladder: --counts: %s: no count of %s in %.0f s\n", o->counts,
                    plan->signals[signal].name, longest);
        *status = good ? *status : EXIT_HARDWARE;
    }
    if (counts_close(from, EXIT_DONE) == EXIT_DONE)
        return good;
    *status = EXIT_HARDWARE;
    return false;
}
