/* SPDX-License-Identifier: MIT */
/* Tables: columns as wide as their widest cell, by characters of UTF-8. */
#ifndef TL_TABLES_H
#define TL_TABLES_H

#include "printing/printing.h"
#include <stdbool.h>
#include <stdio.h>

enum { TABLE_COLUMNS = 16 };
typedef struct {
    int columns, rows;
    bool right[TABLE_COLUMNS];     /* numbers stand to the right */
    bool own_units[TABLE_COLUMNS]; /* each row has a unit of its own, even where they are alike */
    char **cells;
    unsigned char *inks; /* of each cell */
} table;

void table_begin(table *t, int columns, const char *alignment); /* one of '<' '>' '.' for each */
void table_cell(table *t, const char *format, ...) __attribute__((format(printf, 2, 3)));
/* How the last cell is coloured on a terminal. */
void table_ink(table *t, ink colour);
/* Several heads at once. */
void table_head_row(table *t, const char *const *names, size_t count);
#define table_heads(t, ...)                                                                                  \
    table_head_row(t, (const char *const[]){__VA_ARGS__},                                                    \
                   sizeof((const char *const[]){__VA_ARGS__}) / sizeof(const char *))
/* Rows that are alike but for their first `names` cells, numbered one after the other, become one row:
 * `heater-2 .. -8`. Before the table ends. */
void table_join_rows(table *t, int names);
void table_drop(table *t); /* frees without printing */
/* Prints and frees; the first row is the head, over two lines where the table would be wider than 100
 * columns. */
void table_end(table *t, FILE *to, const char *indent);
/* The same, but where it would be too wide all the same, its columns become rows. */
void table_end_turned(table *t, FILE *to, const char *indent);

#endif
