/* SPDX-License-Identifier: MIT */
/*
 * The roof's controller, whole: every signal of the Fernhill plan, outputs included, by the constants of the
 * generated header. It runs unchanged on whatever has a port.
 */
#ifndef FERNHILL_FIRMWARE_H
#define FERNHILL_FIRMWARE_H

#include <tinyladder/core.h>

/* Provided by the target: the serial port, or whatever takes its place. With -DFERNHILL_QUIET nothing is
 * said. */
void fernhill_say(char c);

/* Puts all lines to use. @return the first status that was not TL_OK; what can be used is used all the same.
 */
tl_status fernhill_begin(const tl_port *port);

/* One pass; call it again and again. It never blocks: some ten port calls, of which none waits. */
void fernhill_pass(void);

#endif
