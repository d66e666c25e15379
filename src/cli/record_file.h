/* Where records go: a CSV file or an SQLite database. docs/records.md has both formats. */
#ifndef TL_STORE_H
#define TL_STORE_H

#include "cli/outputs.h"
#include "cli/readings.h"

typedef struct store store;

/* Opens a file by its ending, .csv or .db; one that is there is appended to, unless it is something else.
 * NULL with what is wrong said; *status is then the exit status. */
store *store_open(const char *path, const tl_plan *plan, const char *scene, unsigned long seed, int *status);
/* One time's readings: all of them, or none. false with what is wrong said. */
bool store_put(store *s, const int *signals, const taken *readings, int count, const outputs *beside);
/* false where something could not be written, now or before; *times (may be NULL): how many times are there
 * for good. */
bool store_close(store *s, unsigned long *times);

/* --- reading one back --- */

typedef struct {
    double at, value, low, high; /* NAN where there is none */
    char signal[64], unit[16], flags[40];
    bool digital, closed, output;
} stored_row;
typedef bool stored_visitor(void *context, const stored_row *row);
/* Every row of a record, in the order of time; false with what is wrong said. */
bool store_visit(const char *path, stored_visitor *visit, void *context);

#endif
