/* SPDX-License-Identifier: MIT */
/**
 * @file
 * What every call of the core and of a port answers.
 *
 * Stack: 16 bytes at most, in tl_status_text() (docs/targets.md).
 * Called anywhere, also in an interrupt, one caller at a time for each object; nothing waits.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * const char *say(tl_status status)
 * {
 *     static char text[64];
 *     tl_status_text(status, text, sizeof text);
 *     return text;
 * }
 * @endcode
 */
#ifndef TINYLADDER_STATUS_H
#define TINYLADDER_STATUS_H

#include <stddef.h>

#ifdef __cplusplus
extern "C" {
#endif

/** Enumerations are as small as they can be, whatever -fshort-enums says: code that was compiled with it and
 * code that was not go together. */
#ifdef __GNUC__
#define TL_PACKED __attribute__((packed))
#else
#define TL_PACKED
#endif

/** 0 is fine; everything else is negative. Numbers are never reused. */
typedef enum TL_PACKED tl_status {
    TL_OK = 0,               /**< done */
    TL_ERR_ARG = -1,         /**< the caller passed something that has no meaning */
    TL_ERR_RANGE = -2,       /**< a value lies outside what the call can represent */
    TL_ERR_UNSUPPORTED = -3, /**< this port's board has no such thing */
    TL_ERR_LATE = -4,        /**< the hardware did not answer within the bound */
    TL_ERR_CLOCK = -5,       /**< the port's clock stands still */
    TL_ERR_WORD = -6,        /**< a converter word breaks the promise of its format */
    TL_ERR_PORT = -7,        /**< the hardware refused or failed */
    TL_ERR_ACK = -8,         /**< no device acknowledged on the bus */
    TL_ERR_BUSY = -9         /**< someone else is reading just now */
} tl_status;

/**
 * A short English text for a status, for a display or a log.
 *
 * @param status  Any value; unknown ones give "unknown status".
 * @param[out] text  Receives the text, always closed by a 0 when size > 0.
 * @param size  Bytes at text; 32 are enough for every text.
 */
void tl_status_text(tl_status status, char *text, size_t size);

#ifdef __cplusplus
}
#endif
#endif
