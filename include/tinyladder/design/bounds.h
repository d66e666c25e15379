/* SPDX-License-Identifier: MIT */
/**
 * @file
 * What a worst case is: the extremes of a figure, where they lie, and why there may be none.
 *
 * Host side, double precision, SI base units.
 *
 * Stable: within one ABI number of libtinyladder-host (abi/host.map, abi/host.layout) no call, structure or
 * constant here changes.
 *
 * @code{.c}
 * const char *how_it_went(tl_net_status status)
 * {
 *     return status == TL_NET_SOLVED ? "solved" : tl_net_status_text(status);
 * }
 * @endcode
 */
#ifndef TINYLADDER_BOUNDS_H
#define TINYLADDER_BOUNDS_H

#include <stdbool.h>

#ifdef __cplusplus
extern "C" {
#endif

/** The net of parts under a plan, and a connected piece of it: internal to the library. */
typedef struct tl_net tl_net;
typedef struct tl_island tl_island;

enum {
    TL_NET_GROUND = 0,         /**< the node at 0 V, in every net */
    TL_NET_NONE = -1,          /**< no node, no parameter, no contact */
    TL_NET_CORNER_PARAMS = 16, /**< this many toleranced parameters of an island are tried in every corner */
    TL_NET_SEARCHED = 2,       /**< this many more are searched inside their spans too */
    TL_NET_PUSHED = 14,        /**< and this many more are tried together, since they only push */
    TL_NET_LISTED = TL_NET_CORNER_PARAMS + TL_NET_SEARCHED + TL_NET_PUSHED
};

/** Why a question has no answer. */
typedef enum tl_net_status {
    TL_NET_SOLVED,
    TL_NET_FLOATING, /**< nothing defines the level of the node asked for */
    TL_NET_SHORTED,  /**< zero ohms between two rails */
    TL_NET_SINGULAR, /**< the equations have no one answer */
    TL_NET_TOO_WIDE  /**< more toleranced parameters than TL_NET_CORNER_PARAMS */
} tl_net_status;
/** Says a fault in words. */
const char *tl_net_status_text(tl_net_status fault);

/** One state of the whole net: a value for every parameter, closed or not for every contact. */
typedef struct tl_net_state {
    const double *values;
    const bool *closed;
} tl_net_state;

/** A worst case, and where it lies. */
typedef struct tl_bounds {
    double low, nominal, high;
    bool outer; /**< proven but not attained: there were too many parameters to try every corner */
    double attained_low,
        attained_high;        /**< the extremes of the corners that were tried; the same where not outer */
    int params;               /**< how many of the arrays below are used */
    int param[TL_NET_LISTED]; /**< the parameters that matter and are not exact */
    double low_at[TL_NET_LISTED];  /**< their values at the lowest figure */
    double high_at[TL_NET_LISTED]; /**< and at the highest */
} tl_bounds;

#ifdef __cplusplus
}
#endif
#endif
