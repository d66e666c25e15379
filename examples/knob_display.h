/* SPDX-License-Identifier: MIT */
/* The example's story, for whoever looks at its lines. */
#ifndef TL_EXAMPLE_KNOB_DISPLAY_H
#define TL_EXAMPLE_KNOB_DISPLAY_H

#include <stdio.h>
#include <tinyladder/core.h>

tl_status knob_display(const tl_port *port, FILE *out);

#endif
