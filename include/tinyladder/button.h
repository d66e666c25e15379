/* SPDX-License-Identifier: MIT */
/**
 * @file
 * A contact on a digital line: debounced, counted, with its two events.
 *
 * Stack: 80 bytes at most, in tl_line_await(), and what the port's own functions need (docs/targets.md).
 * Called in the main program; nothing waits.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * bool bell_rang(const tl_port *port)
 * {
 *     static const tl_button_config config = {.steady = TL_TIME_US(20000), .line = 4,
 *                                             .closed_is_low = true};
 *     static tl_button bell;
 *     static bool ready;
 *     tl_button_event event = TL_BUTTON_QUIET;
 *     if (!ready)
 *         ready = tl_button_init(&bell, &config, port) == TL_OK;
 *     return ready && tl_button_look(&bell, port, &event) == TL_OK && event == TL_BUTTON_CLOSED;
 * }
 * @endcode
 */
#ifndef TINYLADDER_BUTTON_H
#define TINYLADDER_BUTTON_H

#include <stdbool.h>
#include <stdint.h>

#include "tinyladder/port.h"
#include "tinyladder/rom.h"

#ifdef __cplusplus
extern "C" {
#endif

typedef enum TL_PACKED tl_button_event {
    TL_BUTTON_QUIET,
    TL_BUTTON_CLOSED,
    TL_BUTTON_OPENED
} tl_button_event;

/** A constant description; is TL_ROM. */
typedef struct tl_button_config {
    tl_time steady; /**< a new level counts once it has been seen steadily for so long; 0 .. TL_TIME_MOST */
    uint8_t line;
    bool closed_is_low; /**< true with a pull-up and a contact to ground */
    bool internal_pull; /**< use the chip's own pull away from the closed level; else the plan has a resistor
                         */
} tl_button_config;

/** The caller's memory, 24 bytes at most. Read its members freely; only the calls below write them. */
typedef struct tl_button {
    tl_time needed;
    tl_time steady;    /**< for how long the level seen last has been seen without a break */
    tl_time seen_at;   /**< the clock at the last look */
    uint16_t closings; /**< how often it was accepted as closed; wraps */
    uint8_t line;
    bool closed_is_low;
    bool closed; /**< the accepted state */
    bool seen;   /**< closed or not, as seen last */
#ifndef TL_SMALL
    uint16_t still; /**< looks since the clock moved, while a new level waits */
#endif
} tl_button;

/**
 * Starts with the contact taken as open, whatever it is; a contact that is held closed is accepted, and
 * counted, after its steady time.
 * @return TL_OK; TL_ERR_ARG; or the port's status, and then the button must not be used.
 */
tl_status tl_button_init(tl_button *button, const TL_IN_ROM tl_button_config *config, const tl_port *port);

/**
 * Looks at the line once. Call it more often than the steady time.
 * @param[out] event  What was accepted by this look; TL_BUTTON_QUIET on failure.
 * @return TL_OK; TL_ERR_CLOCK where the clock stands while a new level waits for its time
 * (TL_PORT_FROZEN_POLLS looks; not in the small build); or the port's status, and then nothing has changed.
 */
tl_status tl_button_look(tl_button *button, const tl_port *port, tl_button_event *event);

/** The same, from a level that the caller has: for lines read in other ways. */
tl_button_event tl_button_feed(tl_button *button, bool high, tl_time now);

/** Every closing turns it over: off to begin with. */
static inline bool tl_button_toggled(const tl_button *button)
{
    return (button->closings & 1u) != 0;
}

/** Tells when a button is kept closed: once after so long, then again and again. The caller's memory, 20
 * bytes. */
typedef struct tl_hold {
    tl_time after;   /**< 0 .. TL_TIME_MOST */
    tl_time every;   /**< between repetitions; 0 for none */
    tl_time lasted;  /**< since it was closed, or since the last event */
    tl_time seen_at; /**< the clock when it was fed last */
    bool closed, held;
} tl_hold;

typedef enum TL_PACKED tl_hold_event { TL_HOLD_QUIET, TL_HOLD_KEPT, TL_HOLD_AGAIN } tl_hold_event;

/** Times by TL_TIME_US(). @return TL_OK; TL_ERR_ARG for times above TL_TIME_MOST. */
tl_status tl_hold_init(tl_hold *hold, tl_time after, tl_time every);
/** Feed it the accepted state, more often than the times above. One event a call at most: none is made up for
 * later. */
tl_hold_event tl_hold_feed(tl_hold *hold, bool closed, tl_time now);

/**
 * Waits until a line has a level, not longer than a bound.
 * @param longest  1 .. TL_SPAN_MOST
 * @return TL_OK; TL_ERR_LATE; TL_ERR_CLOCK where the clock stands still; TL_ERR_ARG; or the port's status.
 */
tl_status tl_line_await(const tl_port *port, uint8_t line, bool high, tl_span longest);

#ifdef __cplusplus
}
#endif
#endif
