/* What the files of `tinyladder trim` share. */
#ifndef TL_TRIM_VERB_H
#define TL_TRIM_VERB_H

#include "cli/readings.h"
#include "tinyladder/design/calibration.h"

typedef struct {
    const char *plan, *name, *scene, *live, *pairs, *meter, *law, *against;
    const char *words[TL_TRIM_PAIRS_MOST];
    int word_count;
    bool at_pin, write, table, json;
} trim_options;

typedef struct {
    double left[TL_TRIM_PAIRS_MOST], right[TL_TRIM_PAIRS_MOST];
    int count;
} pair_list;

/* Pairs from words or a file; false with what is wrong said. */
bool trim_read_pairs(const trim_options *o, pair_list *list, tl_dimension left, tl_dimension right);
/* Pairs taken on the bench; meter: NULL for a perfect one. */
bool trim_take_live(const trim_options *o, tl_circuit *circuit, int signal, const tl_meter *meter,
                    pair_list *list, tl_report *report);
/* `--curve`, from pairs to what to write; answers the exit status. */
int trim_fit_curve(const trim_options *o);

#endif
