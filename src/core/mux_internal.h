/* SPDX-License-Identifier: MIT */
/* Switching a multiplexer without waiting: for those who do other work meanwhile. */
#ifndef TL_MUX_INTERNAL_H
#define TL_MUX_INTERNAL_H

#include "tinyladder/mux.h"

/* tl_mux_lead() without its wait: how long to wait is handed out. */
tl_status tl_mux_switch(const tl_port *port, const TL_IN_ROM tl_mux_lines *mux, uint8_t input,
                        tl_span *dwell);

#endif
