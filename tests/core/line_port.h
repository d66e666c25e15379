/* SPDX-License-Identifier: MIT */
#ifndef TL_LINE_PORT_H
#define TL_LINE_PORT_H

#include "tinyladder/port.h"

/* A port that remembers its lines, and what happened in which order. */
typedef struct {
    tl_line_use use[40];
    bool high[40];
    unsigned calls, fail_at;
    uint32_t waited_us;
    bool switched_while_on; /* a select line moved while enable (line 3, active low) let something through */
} line_port;

static inline tl_status enter(line_port *p)
{
    return ++p->calls == p->fail_at ? TL_ERR_PORT : TL_OK;
}

static inline tl_status use_line(void *context, uint8_t line, tl_line_use use)
{
    line_port *p = context;
    const tl_status status = enter(p);
    if (status == TL_OK)
        p->use[line] = use;
    return status;
}

static inline tl_status drive_line(void *context, uint8_t line, bool high)
{
    line_port *p = context;
    const tl_status status = enter(p);
    if (status != TL_OK)
        return status;
    if (line < 3 && p->use[3] == TL_LINE_OUTPUT && !p->high[3] && p->high[line] != high)
        p->switched_while_on = true;
    p->high[line] = high;
    return TL_OK;
}

static inline tl_status wait_us(void *context, uint32_t duration_us)
{
    line_port *p = context;
    p->waited_us = duration_us;
    return enter(p);
}

static const tl_port_ops line_port_ops = {.line_use = use_line, .line_drive = drive_line, .wait_us = wait_us};

#endif
