/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Two builds of one source: the ordinary one, and the small one, -DTL_SMALL for the core, the port and
 * the program alike.
 *
 * The small build has one port, bound when the program is linked (port.h); samples of 16 bits, for words of
 * up to 15 bits, or 16 with a sign; the times of contacts, beats, holds and faults in ticks of 1024 us, up to
 * half a minute, those of conversions in 16 us, up to half a second; and it trusts constant descriptions,
 * which `tinyladder header` has proved. Develop with the ordinary one, which checks.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * tl_time patience(void)
 * {
 *     return TL_TIME_US(20000); // 20 ms, in the unit of this build
 * }
 * @endcode
 */
#ifndef TINYLADDER_SMALL_H
#define TINYLADDER_SMALL_H

#include <stdint.h>

#ifdef TL_SMALL
/** What samples, levels and thresholds are. */
typedef int16_t tl_number;
#define TL_NUMBER_LEAST INT16_MIN
#define TL_NUMBER_MOST INT16_MAX
/** What a converter delivers. */
typedef uint16_t tl_raw;
/** A time of the port's clock: ticks. */
typedef uint16_t tl_time;
#define TL_TIME_MOST 0x7fffu
/** Microseconds as a tl_time, rounded up. */
#define TL_TIME_US(us) ((tl_time)(((us) + 1023u) / 1024u))
/** The port's clock as a tl_time, and as a tl_span. */
#define TL_TIME_OF_CLOCK(now_us) ((tl_time)((now_us) >> 10))
#define TL_SPAN_OF_CLOCK(now_us) ((tl_span)((now_us) >> 4))
/** How long conversions and multiplexers take: in 16 us, up to half a second. */
typedef uint16_t tl_span;
#define TL_SPAN_MOST 0x7fffu
#define TL_SPAN_US(us) ((tl_span)(((us) + 15u) / 16u))
#define TL_SPAN_IN_US(span) ((uint32_t)(span)*16u)
#else
typedef int32_t tl_number;
#define TL_NUMBER_LEAST INT32_MIN
#define TL_NUMBER_MOST INT32_MAX
typedef uint32_t tl_raw;
typedef uint32_t tl_time;
#define TL_TIME_MOST 0x7fffffffu
#define TL_TIME_US(us) (us)
#define TL_TIME_OF_CLOCK(now_us) (now_us)
#define TL_SPAN_OF_CLOCK(now_us) (now_us)
typedef uint32_t tl_span;
#define TL_SPAN_MOST 0x7fffffffu
#define TL_SPAN_US(us) (us)
#define TL_SPAN_IN_US(span) (span)
#endif

#endif
