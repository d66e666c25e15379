/* SPDX-License-Identifier: MIT */
/* Causes and what was seen in plain words. */
#ifndef TL_CAUSE_WORDS_H
#define TL_CAUSE_WORDS_H

#include "explain/rank.h"

enum { WORDS_LONGEST = 240 };

/* `keys.pull is ten times too large (68k)`. */
void cause_in_words(const hypotheses *all, int which, char text[WORDS_LONGEST]);
/* What to do about it. */
void cause_fix(const hypotheses *all, int which, char text[WORDS_LONGEST]);
/* `house-battery, mean count`, and of several situations which: `(2) house-battery, mean count`. */
void figure_in_words(const question *q, int figure, char text[WORDS_LONGEST]);
/* `9.613 kΩ`, or `open`. */
void ohms_in_words(double ohms, char text[40]);
/* A value of it, as it is printed. */
void figure_value(const question *q, int figure, double value, char text[40]);

#endif
