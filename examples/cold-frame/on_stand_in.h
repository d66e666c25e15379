/* SPDX-License-Identifier: MIT */
/* The cold frame on a chip that is made up, with a Cortex-M0 or an RV32 in it. */
#include "port_stand_in.h"
#define TL_PIN PORT_STAND_IN_PIN
#define here_say port_stand_in_say
#define here_open port_stand_in

#ifdef __arm__
/* start.c names it; there is no such timer here. */
void port_cortex_m_tick(void);
void port_cortex_m_tick(void)
{
}
#endif
