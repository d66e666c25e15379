/* SPDX-License-Identifier: MIT */
/* What the files of `tinyladder trim` share. */
#ifndef TL_TRIM_H
#define TL_TRIM_H

#include "reading/readings.h"
#include "tinyladder/design/calibration.h"

typedef struct {
    const char *plan, *name, *scene, *live, *counts, *pairs, *meter, *law, *against;
    const char *words[TL_TRIM_PAIRS_MOST];
    int word_count;
    const char *leave_out; /* counts with commas; NULL */
    bool at_pin, write, dry, table, json;
} trim_options;

typedef struct {
    double left[TL_TRIM_PAIRS_MOST], right[TL_TRIM_PAIRS_MOST];
    int count;
    bool known_values; /* in the reading's own unit, such as weights: no meter has shown them */
} pair_list;

/* Pairs from words or a file; false with what is wrong said. signal: whose reading's unit may stand for its
 * volts; NULL where ohms are required. */
bool trim_read_pairs(const trim_options *o, const tl_signal *signal, pair_list *list);
/* Whether a figure of a pair was typed in volts. */
bool trim_is_volts(const char *text);
/* One figure of a pair: volts, or what the signal's reading shows, put back into volts. */
bool trim_read_volts(const tl_signal *signal, const char *text, double *volts, const char *from);
/* Pairs taken on the bench; meter: NULL for a perfect one. */
bool trim_take_live(const trim_options *o, tl_circuit *circuit, int signal, const tl_meter *meter,
                    pair_list *list, tl_report *report);
/* Pairs of counts from the real board and volts that are typed; else a status. */
bool trim_take_counts(const trim_options *o, tl_circuit *circuit, int signal, pair_list *list, int *status);
/* `--curve`, from pairs to what to write; answers the exit status. */
int trim_fit_curve(const trim_options *o);

/* One trim in volts: what was given, and what was found. */
typedef struct {
    const trim_options *o;
    tl_circuit *circuit;
    int signal;
    const tl_meter *meter;
    tl_trim_pair pairs[TL_TRIM_PAIRS_MOST];
    int count;
    tl_trim_line line;
    double gain_by_digits, gain_unsure;
    bool known_values;       /* no meter has shown them */
    int wild;                /* the pair that does not belong to the others; -1 */
    bool offset_alone;       /* the gain is not significant */
    bool nothing_to_trim;    /* nor is the offset */
    tl_trim_verdict verdict; /* of the pair that is farthest off what is explained */
} trimming;

/* `{meter: handheld, points: [..]}`, as it would stand in the plan. */
void trim_write_value(const trimming *t, char *text, size_t size);

void trim_print(const trimming *t, const char *value);
void trim_print_json(const trimming *t, const char *value);

#endif
