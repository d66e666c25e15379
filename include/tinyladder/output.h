/* SPDX-License-Identifier: MIT */
/**
 * @file
 * What firmware drives: thresholds with two levels, bars of lamps, duty, and lines released whatever
 * happened.
 *
 * Stack: 88 bytes at most, in tl_bar_open(), and what the port's own functions need (docs/targets.md).
 * Called in the main program, thresholds, states and shares anywhere; nothing waits.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * tl_status run_fan(const tl_port *port, const tl_sample *temperature)
 * {
 *     // from 30.0 degrees on, until 28.0
 *     static const tl_output fan = {.line = 9, .as = TL_OUTPUT_THRESHOLD, .threshold = {300, 280}};
 *     static bool on;
 *     return tl_output_show(port, &fan, temperature, &on);
 * }
 * @endcode
 */
#ifndef TINYLADDER_OUTPUT_H
#define TINYLADDER_OUTPUT_H

#include <stdbool.h>
#include <stdint.h>

#include "tinyladder/filter.h"
#include "tinyladder/port.h"
#include "tinyladder/rom.h"

#ifdef __cplusplus
extern "C" {
#endif

/** Starts at one level and stops at another; between them it stays as it is. A constant description; is
 * TL_ROM. */
typedef struct tl_threshold {
    tl_number start,
        stop; /**< start below stop: on below start, off above stop; above: the other way round */
} tl_threshold;

/** @return Whether it is on now. on: whether it was. */
bool tl_threshold_next(const TL_IN_ROM tl_threshold *threshold, bool on, tl_number value);

/** What an output shows while its signal has a fault. */
typedef enum TL_PACKED tl_safe { TL_SAFE_OFF, TL_SAFE_ON, TL_SAFE_HOLD } tl_safe;
/** @return wanted while all is well, else what is safe. was: what it shows now. */
bool tl_safe_state(tl_safe safe, bool fault, bool was, bool wanted);

/** The share of `full` that a count is of its last: count 0 is exactly 0, the last exactly full. Rounded
 * down. */
uint16_t tl_duty_of(uint16_t count, uint16_t last, uint16_t full);

/** What an on-off output does with the value that it shows. */
typedef enum TL_PACKED tl_output_as {
    TL_OUTPUT_FOLLOW,   /**< on while the value is not 0 */
    TL_OUTPUT_INVERTED, /**< on while it is 0 */
    TL_OUTPUT_THRESHOLD /**< between its two levels as it was */
} tl_output_as;

/** One on-off output. A constant description; is TL_ROM. */
typedef struct tl_output {
    uint8_t line;
    uint8_t as;     /**< a tl_output_as */
    uint8_t safe;   /**< a tl_safe: while its value is not fresh */
    bool on_is_low; /**< a lamp that is connected to the supply */
    tl_threshold threshold;
} tl_output;

/** Makes its line an output, off. @return TL_OK; TL_ERR_ARG; or the port's status: its line is then released
 * of. */
tl_status tl_output_open(const tl_port *port, const TL_IN_ROM tl_output *output);

/**
 * Shows a value with its flags (TL_READING_...).
 * @param[in,out] on  Whether it is on.
 * @return TL_OK; or the port's status: its line is then released, and on is false.
 */
tl_status tl_output_show(const tl_port *port, const TL_IN_ROM tl_output *output, const tl_sample *value,
                         bool *on);
tl_status tl_output_release(const tl_port *port, const TL_IN_ROM tl_output *output);

enum { TL_BAR_LINES_MOST = 32 };
/** Lines in a row, such as a bar of lamps. Is TL_ROM. */
typedef struct tl_bar {
    const TL_IN_ROM uint8_t *lines; /**< are TL_ROM themselves */
    uint8_t count;                  /**< 1 .. TL_BAR_LINES_MOST */
    bool lit_is_low;                /**< lamps that are connected to the supply */
} tl_bar;

/** Makes all lines outputs, dark. @return TL_OK; TL_ERR_ARG; or the port's status, and then all are released
 * of. */
tl_status tl_bar_open(const tl_port *port, const TL_IN_ROM tl_bar *bar);
/** Lights the first `lit`. @return TL_OK; or the port's status, and then all are released. */
tl_status tl_bar_show(const tl_port *port, const TL_IN_ROM tl_bar *bar, uint8_t lit);
/** Releases every line: each call is made, the first failure is reported. */
tl_status tl_bar_release(const tl_port *port, const TL_IN_ROM tl_bar *bar);

#ifdef __cplusplus
}
#endif
#endif
