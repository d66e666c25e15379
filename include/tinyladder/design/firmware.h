/* SPDX-License-Identifier: MIT */
/**
 * @file
 * A plan as constants for firmware: one C header, for C11 and C++17.
 *
 * Stable: within one ABI number of libtinyladder-host (abi/host.map, abi/host.layout) no call, structure or
 * constant here changes.
 *
 * @code{.c}
 * char *header_of(const tl_plan *plan)
 * {
 *     tl_circuit *circuit = tl_circuit_new(plan);
 *     char *text = NULL;
 *     if (circuit != NULL) {
 *         tl_firmware_row *rows = calloc((size_t)plan->signal_count, sizeof *rows);
 *         char why[200];
 *         text = rows != NULL ? tl_firmware_header(circuit, NULL, rows, why) : NULL;
 *         free(rows);
 *     }
 *     tl_circuit_free(circuit);
 *     return text;
 * }
 * @endcode
 */
#ifndef TINYLADDER_FIRMWARE_H
#define TINYLADDER_FIRMWARE_H

#include "tinyladder/design/circuit.h"

#ifdef __cplusplus
extern "C" {
#endif

typedef enum tl_firmware_way {
    TL_FIRMWARE_LEFT_OUT, /**< it cannot be read: `why` says it */
    TL_FIRMWARE_CONTACT,  /**< a line, debounced or timed */
    TL_FIRMWARE_BUTTONS,  /**< buttons on one pin, by their counts */
    TL_FIRMWARE_RHYTHM,   /**< a line measured from edge to edge: tl_rhythm */
    TL_FIRMWARE_LINE,     /**< tl_line */
    TL_FIRMWARE_CURVE,    /**< tl_curve */
    TL_FIRMWARE_TABLE     /**< tl_table, with its division: values of more than 16 bits, or counts */
} tl_firmware_way;

/** What became of a signal, and how near its arithmetic comes to the exact value. Every count was tried. */
typedef struct tl_firmware_row {
    tl_firmware_way way;
    char why[160];
    int decimals;     /**< values are whole numbers of 10^-decimals of the unit */
    int points;       /**< of a curve or table */
    long counts;      /**< that have a value; of others the value at the end stands */
    long wrong;       /**< counts whose value is not the nearest one */
    double deviation; /**< largest distance from the exact value, in last digits: 0.5 where all are right */
} tl_firmware_row;

/**
 * The text of the header, to be freed. The same plan gives the same bytes.
 *
 * @param findings   Of tl_plan_check(), to stand in it where errors were accepted; or NULL.
 * @param[out] rows  One for each signal of the plan.
 * @param[out] why   Says which names of the plan cannot stand side by side in C; untouched on success.
 * @return NULL where two names of the plan are one in C.
 */
char *tl_firmware_header(tl_circuit *circuit, const tl_report *findings, tl_firmware_row *rows,
                         char why[200]);

/**
 * The plan as a devicetree overlay for a Linux computer, to be freed: keys, counters, encoders, channels
 * behind dividers, shunts and multiplexers, lamps. What no binding can say is a comment. Source: the bindings
 * of the Linux kernel that name no vendor.
 */
char *tl_overlay(tl_circuit *circuit);
/** Whether a text is such an overlay as it was made. */
bool tl_overlay_is_whole(const char *text);

/** Whether a text is such a header as it was made: what follows its id is unchanged. */
bool tl_firmware_header_is_whole(const char *text);

#ifdef __cplusplus
}
#endif
#endif
