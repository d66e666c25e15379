/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Everything that runs on the microcontroller.
 *
 * Calls named _init and _open look at what they are given, NULL too, once and at the start. All others are
 * called often: their pointers are never NULL, unless a parameter says that it may be.
 *
 * Where: calls that take no port never wait, and may be made from an interrupt or any thread, as long as each
 * object has one caller at a time. Calls that take a port last as long as the port's functions do, within the
 * bounds that they name, and belong to one context: the main program. Between contexts, tl_sweep_copy() hands
 * over a whole sweep, and tl_input_word() and tl_sweep_words() take words that came by themselves.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * const char *text_of(const tl_port *port, const tl_way *way, const tl_line *line)
 * {
 *     static char text[8];
 *     tl_sample sample = {0, 0, TL_OK};
 *     if (tl_take(port, way, &sample) != TL_OK)
 *         return "no value";
 *     (void)tl_text_fixed(tl_line_value(line, (uint16_t)sample.value), 2, 6, text);
 *     return text;
 * }
 * @endcode
 */
#ifndef TINYLADDER_CORE_H
#define TINYLADDER_CORE_H

#include "tinyladder/button.h"
#include "tinyladder/due.h"
#include "tinyladder/external.h"
#include "tinyladder/fault.h"
#include "tinyladder/filter.h"
#include "tinyladder/input.h"
#include "tinyladder/lean.h"
#include "tinyladder/lines.h"
#include "tinyladder/mux.h"
#include "tinyladder/output.h"
#include "tinyladder/port.h"
#include "tinyladder/pulse.h"
#include "tinyladder/quadrature.h"
#include "tinyladder/resistance.h"
#include "tinyladder/rhythm.h"
#include "tinyladder/rom.h"
#include "tinyladder/rungs.h"
#include "tinyladder/scale.h"
#include "tinyladder/share.h"
#include "tinyladder/status.h"
#include "tinyladder/sweep.h"
#include "tinyladder/table.h"
#include "tinyladder/take.h"
#include "tinyladder/text.h"
#include "tinyladder/word.h"

#endif
