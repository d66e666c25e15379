/* SPDX-License-Identifier: MIT */
/* SysTick counts a period of 10 ms down; its interrupt counts the periods. */
#include "port_cortex_m.h"
#include <stddef.h>

#define SYSTICK_CONTROL (*(volatile uint32_t *)0xe000e010u)
#define SYSTICK_RELOAD (*(volatile uint32_t *)0xe000e014u)
#define SYSTICK_LEFT (*(volatile uint32_t *)0xe000e018u)
#define PENDING (*(volatile uint32_t *)0xe000ed04u >> 26 & 1u)

enum { PERIOD_US = 10000, MEGAHERTZ_MOST = 1600, TRIES = 10000 };

static struct {
    uint32_t megahertz;
    volatile uint32_t base_us; /* of the periods that are over */
} own;

void port_cortex_m_tick(void)
{
    own.base_us += PERIOD_US;
}

/* A period ends as the count reaches 0, where it stays for a tick before it is loaded anew: that tick is let
 * pass. A period that is over while its interrupt waits is counted here. */
uint32_t port_cortex_m_now_us(void)
{
    uint32_t base_us, left, pending;
    uint16_t tries = TRIES; /* do not wait for a timer that was stopped */
    do {
        base_us = own.base_us;
        pending = PENDING;
        left = SYSTICK_LEFT;
    } while (tries-- > 0 && (left == 0 || base_us != own.base_us || pending != PENDING));
    return base_us + (pending != 0 ? PERIOD_US : 0) + (SYSTICK_RELOAD + 1u - left) / own.megahertz;
}

bool port_cortex_m_start(uint32_t hertz)
{
    own.megahertz = hertz / 1000000u;
    if (own.megahertz == 0 || own.megahertz > MEGAHERTZ_MOST || hertz != own.megahertz * 1000000u)
        return false;
    SYSTICK_RELOAD = PERIOD_US * own.megahertz - 1u;
    SYSTICK_LEFT = 0;
    SYSTICK_CONTROL = 7; /* on, with its interrupt, by the processor's clock */
    return true;
}

#ifndef TL_SMALL
#define now_us port_cortex_m_now_us
#include "../processor_clock.h"

const tl_port *port_cortex_m(uint32_t hertz, const tl_port_ops *chip, void *context)
{
    return chip != NULL && port_cortex_m_start(hertz) ? with_clock(chip, context) : NULL;
}
#endif
