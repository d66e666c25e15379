/* SPDX-License-Identifier: MIT */
/* A simulated chip, instruction by instruction, wired to the bench of a plan pin by pin. */
#ifndef TINYLADDER_BENCH_CHIP_H
#define TINYLADDER_BENCH_CHIP_H

#include "tinyladder/bench.h"
#include <stdbool.h>

typedef struct chip chip;

/** What its serial line says, byte by byte. */
typedef void chip_heard(void *context, char byte);

/**
 * Puts a program on the kind of chip that it was compiled for, and the chip on the bench: each pin of the
 * plan's board that names a place of the chip (`port: B3`) is that line. Both must outlive it.
 * @param name   The chip, as its simulator calls it; NULL: the usual one of its kind.
 * @param hertz  Its clock; 0: the usual one.
 * @param[out] why  What is wrong, where NULL is returned.
 */
chip *chip_new(tl_bench *bench, const char *image, const char *name, unsigned long hertz, char why[200]);
void chip_free(chip *of);
/** Who listens to its serial line. */
void chip_listen(chip *of, chip_heard *heard, void *context);
/** A byte into its serial line, as soon as it has room. */
void chip_say(chip *of, char byte);
/** Runs on to a time of its own, seconds since it was started; the bench comes along. False: it has ended, or
 * met what it cannot run. */
bool chip_run(chip *of, double until);
/** Whether it met what it cannot run. */
bool chip_crashed(const chip *of);
double chip_time(const chip *of);
/** Whether it drives a pin of the board now, and high for which share of the time. */
bool chip_drives(const chip *of, int pin, double *share);

#endif
