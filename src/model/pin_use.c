/* SPDX-License-Identifier: MIT */
/* Who uses a pin: for rules, and for the table of pins. */
#include "tinyladder/design/plan.h"
#include <stddef.h>

/* Counts down to the one that is asked for. */
typedef struct {
    int pin, left;
    tl_pin_use found;
} pin_search;

static void look(pin_search *s, int pin, const char *what, const char *owner, tl_place place, int index)
{
    if (pin != s->pin || s->found.what != NULL)
        return;
    if (s->left-- == 0)
        s->found = (tl_pin_use){what, owner, place, index};
}

static void look_at_shared(const tl_plan *plan, pin_search *s)
{
    for (int m = 0; m < plan->mux_count; m++) {
        const tl_mux *mux = &plan->muxes[m];
        look(s, mux->common, "common line", mux->name, mux->common_place, TL_NONE);
        for (int i = 0; i < mux->select_count; i++)
            look(s, mux->select[i].pin, "select line", mux->name, mux->select[i].place, m);
        if (mux->enable.given)
            look(s, mux->enable.pin, "enable line", mux->name, mux->enable.place, m);
    }
    for (int b = 0; b < plan->bus_count; b++) {
        for (int i = 0; i < plan->buses[b].line_count; i++)
            look(s, plan->buses[b].pins[i], "bus", plan->buses[b].name, plan->buses[b].place, TL_NONE);
    }
    for (int c = 1; c < plan->converter_count; c++)
        look(s, plan->converters[c].select_pin, "chip select", plan->converters[c].name,
             plan->converters[c].place, TL_NONE);
    for (int i = 0; i < plan->supply_count; i++) {
        if (plan->supplies[i].kind == TL_RAIL_PIN)
            look(s, plan->supplies[i].pin, "rail", plan->supplies[i].name, plan->supplies[i].place, TL_NONE);
    }
}

tl_pin_use tl_plan_pin_use(const tl_plan *plan, int pin, int n)
{
    pin_search s = {pin, n, {NULL, NULL, {-1, 0, 0}, TL_NONE}};
    for (int i = 0; i < plan->signal_count; i++)
        look(&s, plan->signals[i].pin, "signal", plan->signals[i].name, plan->signals[i].pin_place, TL_NONE);
    for (int i = 0; i < plan->output_count; i++) {
        for (int p = 0; p < plan->outputs[i].pin_count; p++)
            look(&s, plan->outputs[i].pins[p], "output", plan->outputs[i].name, plan->outputs[i].pin_place,
                 TL_NONE);
    }
    look_at_shared(plan, &s);
    /* A module's wire shares the pin with what drives it, and modules share one; alone it is a use. */
    const bool used = s.left < n || s.found.what != NULL;
    for (int i = 0; i < plan->module_count && !used && s.found.what == NULL && n == 0; i++) {
        for (int p = 0; p < plan->modules[i].pin_count; p++)
            look(&s, plan->modules[i].pins[p].pin, "module", plan->modules[i].name, plan->modules[i].place,
                 TL_NONE);
    }
    return s.found;
}
