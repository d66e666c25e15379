/* SPDX-License-Identifier: MIT */
/* Contacts that only voltages close: with the power off they are open. */
#include "elaborate/circuit_struct.h"

static void mark(bool *marks, int contact)
{
    if (contact != TL_NET_NONE)
        marks[contact] = true;
}

void circuit_mark_by_voltage(const tl_circuit *c, bool *marks)
{
    for (int i = 0; i < c->switch_count; i++)
        mark(marks, c->switches[i].contact);
    for (int i = 0; i < c->plan->pin_count; i++) {
        mark(marks, c->pins[i].drive_low);
        mark(marks, c->pins[i].drive_high);
        mark(marks, c->pins[i].pull_up);
        mark(marks, c->pins[i].pull_down);
    }
    for (int m = 0; m < c->plan->mux_count; m++) {
        for (int i = 0; i < c->plan->muxes[m].part->inputs; i++)
            mark(marks, c->mux_contact[m] + i);
    }
    for (int i = 0; i < c->first_leg[c->plan->output_count]; i++)
        mark(marks, c->outputs[i].channel);
}
