/* SPDX-License-Identifier: MIT */
/* What a count means: by a plan's signal, or by what the options say of a converter. */
#ifndef TL_COUNT_FORMAT_H
#define TL_COUNT_FORMAT_H

#include "printing/printing.h"
#include "tinyladder/core.h"
#include "tinyladder/design/measurement.h"

typedef struct {
    tl_circuit *circuit; /* NULL: by options */
    int signal;
    tl_scale_config config;
    tl_scale scale; /* up to 16 bits */
    tl_wide wide;   /* beyond */
    tl_word word;
    bool is_word; /* the numbers are words as the converter delivers them */
    long first, last;
    int decimals;  /* of values */
    char head[80]; /* of the columns that are added: `pin_v,degC,flags` */
    /* up to 16 bits every code's text is written once */
    char *texts;
    unsigned char *lengths;
} count_format;

enum { COUNT_FORMAT_TEXT = 64 };

/* Both say what is wrong and answer false where it cannot be: a signal that no converter reads, options
 * without sense. */
bool count_format_of_signal(count_format *m, tl_circuit *circuit, int signal);
bool count_format_of_options(count_format *m, const tl_scale_config *config, const tl_word *word);
void count_format_free(count_format *m);

/* `,2.199000,12.54,fresh` of a code; answers its length. */
int count_format_write(count_format *m, long code, char text[COUNT_FORMAT_TEXT]);
/* The middle of a code in volts, by the scale's own rule, but not rounded to microvolts: of many bits a code
 * is less than one. */
double count_format_volts(const count_format *m, long code);
/* The code of a number; why: what is wrong with it, or NULL. */
const char *count_format_code(const count_format *m, long number, long *code);

#endif
