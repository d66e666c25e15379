/* SPDX-License-Identifier: MIT */
/* The steps from a way to a sample, for those who have claimed the port: sweeps, and one take. */
#ifndef TL_TAKING_H
#define TL_TAKING_H

#include "tinyladder/take.h"

enum { TAKING_IDLE, TAKING_LEAD, TAKING_DWELL, TAKING_AWAIT };

/*
 * What can be done now; ended: it has its value. What concerns this way only is reported in `own`; what this
 * answers concerns the port: its clock.
 */
tl_status tl_taking_go(tl_taking *taking, const tl_port *port, tl_sample *sample, tl_status *own,
                       bool *ended);
/* Between two steps of those who wait for the end. */
tl_status tl_taking_rest(const tl_taking *taking, const tl_port *port);
/* What a word says that came by itself. */
tl_status tl_taking_word(const TL_IN_ROM tl_convertible *input, tl_raw word, tl_sample *sample);

#endif
