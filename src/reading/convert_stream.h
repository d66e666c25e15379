/* SPDX-License-Identifier: MIT */
/* Rows in, rows out, in one pass and constant memory. */
#ifndef TL_CONVERT_STREAM_H
#define TL_CONVERT_STREAM_H

#include <stdbool.h>
#include <stddef.h>
#include <stdio.h>

/* Appends what a field means to `text` (at most CONVERT_ROOM) and answers its length; -1 with *why for a bad
 * one. */
enum { CONVERT_ROOM = 160 };
typedef int convert_field(void *context, const char *field, size_t length, char text[CONVERT_ROOM],
                          const char **why);

typedef struct {
    const char *column; /* the head of the column wanted; NULL for the first, or `count` */
    const char *head;   /* of the columns that are added */
    bool stop_at_bad;
    const char *name; /* of the input, for messages */
} convert_options;

typedef struct {
    unsigned long rows, bad;
    bool failed; /* reading or writing; said already */
} convert_result;

convert_result convert_stream(FILE *from, FILE *to, const convert_options *o, convert_field *convert,
                              void *context);

#endif
