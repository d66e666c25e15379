/* SPDX-License-Identifier: MIT */
/* `convert --bits N --reference VOLTS COUNT|VALUE...`: questions that want no file. */
#ifndef TL_CONVERT_ANSWER_H
#define TL_CONVERT_ANSWER_H

#include "reading/count_format.h"

typedef struct {
    const count_format *format;
    const char *const *words; /* counts, words or values, as they were typed */
    int word_count;
    long bits;
    int steps;             /* a tl_steps */
    tl_quantity reference; /* volts, with its tolerance; the lower end of a range stands in `low` */
    double low;            /* volts of the lowest count */
    bool range;            /* the reference is a range: both ends are exact */
    tl_quantity ratio;     /* volts at the source for one at the pin */
    char divider[80];      /* as it was typed; empty for none */
    tl_quantity percent;   /* source volts that are empty and full: low and high; NAN for none */
    bool reversed;         /* empty is the higher of both */
    bool hex, code, json;
} convert_question;

/* Whether a word is a count or a value in volts, and no file. */
bool is_asked(const char *word);
/* Answers an exit status. */
int convert_answer(const convert_question *q);

#endif
