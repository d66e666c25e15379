/* SPDX-License-Identifier: MIT */
/* The command line that finds the cause of a flagged reading. */
#include "reading/explain_hint.h"
#include <stdio.h>

/* A knob at its stop is clipped, too: that alone is no symptom. */
static bool is_symptom(const tl_signal *s, const taken *t)
{
    if (t->net != TL_NET_SOLVED || tl_reading_is_timed(&s->reading))
        return false;
    return t->is.status != TL_OK || t->is.undriven || t->is.undefined || t->is.is.open || t->is.is.shorted ||
           (t->is.analog && t->is.is.none && s->source.button_count == 0);
}

static void put_seen(FILE *to, const taken *t)
{
    if (t->is.status != TL_OK && t->is.status != TL_ERR_RANGE)
        fputc('-', to);
    else if (t->is.analog)
        fprintf(to, "%ld", t->is.count);
    else
        fputc(t->is.high ? '1' : '0', to);
}

void explain_hint(FILE *to, const tl_plan *plan, const int *signals, const taken *readings, int count,
                  const hint_meter *meter)
{
    enum { MOST = 4 };
    int found = 0;
    for (int i = 0; i < count && found < MOST; i++) {
        const tl_signal *s = &plan->signals[signals[i]];
        if (!is_symptom(s, &readings[i]))
            continue;
        fprintf(to, found == 0 ? "\nTo find the cause: tinyladder explain %s --saw '%s=" : "%s, %s=",
                found == 0 ? plan->path : "", s->name);
        put_seen(to, &readings[i]);
        found++;
    }
    if (found == 0)
        return;
    fputs("' --source 'NAME=WHAT IT DID'", to);
    if (meter != NULL)
        fprintf(to, " --meter '%s=%.3g V'", meter->point, meter->volts);
    fputc('\n', to);
}
