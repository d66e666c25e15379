/* SPDX-License-Identifier: MIT */
/* Rules for converters on a bus: what firmware cannot tell them, or cannot take from them. */
#include "rules/check.h"

static void add(const tl_checker *k, int signal, tl_place place, const char *who,
                const tl_plan_converter *converter, const char *why)
{
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_NOT_SENDABLE, place,
                                 "%s: no setting for %s: %s", converter->name, who, why);
    f->subject = signal;
    tl_finding_text(&f->fix,
                    "describe its registers, fields and frame as in the data sheet: docs/board-guide.md");
}

void tl_check_converters(const tl_checker *k)
{
    const tl_plan *plan = k->plan;
    char why[160];
    for (int c = 1; c < plan->converter_count; c++) {
        tl_external external;
        if (!tl_plan_external(plan, c, &external, why)) {
            add(k, TL_NONE, plan->converters[c].place, "a conversion", &plan->converters[c], why);
            continue;
        }
        for (int i = 0; i < plan->signal_count; i++) {
            const tl_signal *signal = &plan->signals[i];
            uint32_t settings;
            if (tl_plan_converter_of(plan, signal) == &plan->converters[c] &&
                !tl_plan_external_input(plan, i, &settings, why))
                add(k, i, signal->pin_place, signal->name, &plan->converters[c], why);
        }
    }
}
