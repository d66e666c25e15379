/* SPDX-License-Identifier: MIT */
/* Counts that a real board sends, line by line: from a file, standard input, a serial line or a socket. The
 * plan makes the rest of them. docs/counts.md tells what a line may look like. */
#ifndef TL_COUNTS_H
#define TL_COUNTS_H

#include "reading/readings.h"

typedef struct counts counts;

/* SOURCE: a file, `-`, DEVICE@SPEED, unix:PATH, tcp:HOST:PORT, mqtt://HOST/TOPIC. What is wrong is reported;
 * NULL, and an exit status. */
counts *counts_open(const char *source, tl_circuit *circuit, int *status);
/* As a sentence has it: `-` is the standard input. */
const char *counts_name(const char *source);
/* Whether it may still be sending when all has been read. */
bool counts_is_live(const counts *of);

typedef enum { COUNTS_LINE, COUNTS_LATE, COUNTS_END } counts_got;
/*
 * The next line about a signal, within this many seconds from now. Other lines are reported on
 * the error stream, counted and passed over. readings: of every signal of the plan; told[]: which of them
 * this line had. *at: the sender's time, or this computer's since the opening; seconds.
 */
counts_got counts_next(counts *of, double within, taken *readings, bool *told, double *at);
/* The next that comes of each of these signals: of a file its last lines, of what is live the first that
 * come, within this many seconds. What does not come is late. */
void counts_take_all(counts *of, const int *signals, int count, double within, taken *readings);
/* Seconds since it was opened, by this computer's clock. */
double counts_now(const counts *of);
/* Lets lines go by until another file can be read, so that what comes then is of then; false where the source
 * ended, or the user wants to. */
bool counts_pass_until(counts *of, int other);
/* How many lines were left out. */
unsigned long counts_left_out(const counts *of);
/* Says how many lines were left out, and why; nothing where none was. Closes it. Answers the status, or
 * EXIT_HARDWARE where the source could not be read to its end. */
int counts_close(counts *of, int status);

/* count_taken.c: the reading of an analog signal's count; false for one that its ADC does not have. */
bool count_taken(tl_circuit *c, int signal, double count, taken *r);

#endif
