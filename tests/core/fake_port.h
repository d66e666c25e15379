/* SPDX-License-Identifier: MIT */
/* A port that does what its members say: the clock is a plain variable. */
#ifndef TL_FAKE_PORT_H
#define TL_FAKE_PORT_H

#include "tinyladder/port.h"

typedef struct {
    uint32_t now_us, tick_us;     /* every question about the time moves the clock by a tick */
    uint32_t grain_us;            /* of which it shows whole ones; 0: every microsecond */
    uint32_t questions_until_end; /* UINT32_MAX: never ends */
    uint32_t word;
    uint8_t channel, reference;
    uint32_t acquisition_ns;
    bool high;
    unsigned calls, fail_at;
    unsigned conversions;                   /* begun */
    unsigned clock_questions, step_back_at; /* at that question the clock is set back, by */
    uint32_t step_back_us;
    tl_port_reader reader;
} fake_port;

tl_port fake_port_of(fake_port *fake);

#endif
