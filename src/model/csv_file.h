/* SPDX-License-Identifier: MIT */
/* A CSV file that another file names: line by line, each with its place. */
#ifndef TL_CSV_FILE_H
#define TL_CSV_FILE_H

#include "model/take.h"

enum { CSV_FIELDS_MOST = 16, CSV_FIELD_LONGEST = 40 };

typedef struct {
    char field[CSV_FIELDS_MOST][CSV_FIELD_LONGEST]; /* cut off where longer */
    int count;                                      /* fields of the line, also beyond the most */
} csv_line;

/* Called for every line that is not empty. @return false to stop: it has reported why. */
typedef bool csv_visitor(reader *r, void *context, const csv_line *line, tl_place place);

/* The number of the file that a node names, beside the one that is read; -1 where it is none, which is
 * reported. */
int joined_file(reader *r, const yaml_tree *node);
/* node names the file, beside the one that is read. Answers its number in *file, false where it is none. */
bool csv_visit(reader *r, const yaml_tree *node, csv_visitor *visit, void *context, int *file);

/* A finite number below 1e12, written with digits. */
bool csv_figure(const char *text, double *value);

#endif
