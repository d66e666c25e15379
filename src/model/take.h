/* SPDX-License-Identifier: MIT */
/* Helpers for taking a tree apart: every one reports what is wrong with its place, and answers whether all
 * was well. */
#ifndef TL_TAKE_H
#define TL_TAKE_H

#include "base/nearest_name.h"
#include "base/yaml_tree.h"
#include "model/keys.h"
#include "tinyladder/design/plan.h"

/* The places of a tree are reported into this. */
typedef struct {
    tl_report *report;
    const char *path;        /* of the file being read, for files it names */
    tl_supply *const *rails; /* those that a name may mean, while they are being read; NULL for none */
    const int *rail_count;
    bool is_read; /* check_all(): all was read, so that every key must have been asked for */
} reader;

void report_error(reader *r, const char *slug, tl_place place, const char *format, ...)
    __attribute__((format(printf, 4, 5)));

/* The first line of every file: `tinyladder: KIND 1`. */
bool read_head(reader *r, const yaml_tree *root, const char *kind);

/* That it is a map of a section's keys: none twice, none unknown (did you mean), none missing. */
bool check_map(reader *r, const yaml_tree *node, const key_section *section);
/*
 * The same for all that stands below, as far as the key tables know it: shapes, words, whole numbers,
 * quantities. Reported once: a second error at one place is passed over. So every
 * error of a file is reported in one run, whatever the readers have stopped at.
 */
bool check_all(reader *r, const yaml_tree *root, const key_section *section);
bool check_list(reader *r, const yaml_tree *node, const char *what);

/* take_keys.c: check_map(), and then every key that has a field goes there (keys.h). What is left out, and
 * what is refused, leaves its field as it was, or as the row says. */
bool take_keys(reader *r, const yaml_tree *node, const key_section *section, void *into);
/* The same of a map that is checked already. */
bool take_present(reader *r, const yaml_tree *node, const key_section *section, void *into);
/* A row by its name. */
const known_key *key_of(const key_section *section, const char *name);
/* One of a row's words: which. */
bool take_word(reader *r, const yaml_tree *node, const known_key *key, int *choice);
/* A rail of the reader's by name, or `ground` where allowed. */
bool read_rail(reader *r, const yaml_tree *node, bool ground, int *rail);

/* A word, a whole number, one of some words. */
bool read_text(reader *r, const yaml_tree *node, const char *what, const char **text);
bool read_number(reader *r, const yaml_tree *node, const char *what, long least, long most, long *number);
/* On I2C: `0x2a` or `42`. */
bool read_address(reader *r, const yaml_tree *node, long *address);
bool read_choice(reader *r, const yaml_tree *node, const char *what, const char *const *choices, int *choice);

/* A quantity, with `{range: .., typical: ..}` where the middle is not usual. */
bool read_quantity(reader *r, const yaml_tree *node, tl_dimension dimension, tl_located *written);
/* A quantity that must be one value: its nominal. */
bool read_value(reader *r, const yaml_tree *node, tl_dimension dimension, double *value);
/* `[high 300 ms, low 200 ms]`: words[1] is the one that is stored as high; they take turns. */
bool read_lengths(reader *r, const yaml_tree *node, const char *const words[2], tl_length *lengths, int most,
                  int *count);
bool read_level(reader *r, const yaml_tree *node, tl_level *level);
/* A part that must be there: 0 ohm or 0 F is refused. */
bool read_part(reader *r, const yaml_tree *node, tl_dimension dimension, const char *what,
               tl_located *written);
/* Whether one of two levels, which must rise, lies below the other whatever the rail is; where it cannot be
 * told (one a share, the other volts) all is well. */
bool levels_rise(reader *r, const yaml_tree *map, const char *low_key, const tl_level *low,
                 const char *high_key, const tl_level *high);
bool read_level_span(reader *r, const yaml_tree *node, tl_level *low, tl_level *high);

/* Names: letters, digits and '-'. `L4 .. L7` counts along: how many names it stands for, and the i-th. */
bool read_name_range(reader *r, const yaml_tree *node, int *count);
/* The same for the end of a chain, whose name may have a dot: `heaters.0 .. heaters.7`. */
bool read_end_range(reader *r, const yaml_tree *node, int *count);
char *name_of_range(const char *range, int i);

/* A path that a file names, relative to that file. Freed by the caller. */
char *beside(const char *file, const char *named);

#endif
