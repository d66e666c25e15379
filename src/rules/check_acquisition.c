/* SPDX-License-Identifier: MIT */
/* Rules of sampling: what a converter's capacitor still lacks when it releases. */
#include "rules/check.h"
#include <math.h>
#include <stdio.h>

/* Whether a sweep reads it twice and keeps the second. */
static bool is_discarded(const tl_checker *k, int signal)
{
    for (int i = 0; i < k->plan->sweep_count; i++) {
        for (int j = 0; j < k->plan->sweeps[i].signal_count; j++) {
            if (k->plan->sweeps[i].signals[j] == signal && k->plan->sweeps[i].discard > 0)
                return true;
        }
    }
    return false;
}

/* Half a count of a full step: this many times the sampling capacitor, at the capacitor's least. */
static void propose_reservoir(const tl_checker *k, int signal, double times, tl_finding *f)
{
    const tl_signal *s = &k->plan->signals[signal];
    const double farads = times * tl_plan_converter_of(k->plan, s)->part->sample_farads;
    const tl_plan_part *there = tl_check_part(k, signal, TL_PART_CAPACITOR);
    char value[40];
    const char *found = tl_fix_farads(k, farads, value);
    tl_finding_text(&f->fix, "%s: %s  (%.0f times the sampling capacitor)",
                    there != NULL ? "increase the capacitor" : "add the stage  - capacitor",
                    found != NULL ? found : tl_show(farads, TL_DIM_FARAD, TL_ROUND_UP).text, times);
    if (found == NULL)
        return;
    if (there != NULL)
        tl_finding_change(f, TL_CHANGE_VALUE, there->value->place, NULL, "%s", value);
    else
        tl_finding_change(f, TL_CHANGE_STAGE, s->place, "capacitor", "%s", value);
}

/* The shortest time on offer that is enough. */
static void propose_acquisition(const tl_checker *k, int signal, double needed, tl_finding *f)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_converter *converter = tl_plan_converter_of(k->plan, s)->part;
    char text[40];
    int i = 0;
    while (i < converter->acquisition_count - 1 && converter->acquisition[i] < needed)
        i++;
    snprintf(text, sizeof text, "%.6g us", 1e6 * converter->acquisition[i]);
    tl_finding_text(&f->fix, "set acquisition: %s", text);
    if (s->acquisition.given)
        tl_finding_change(f, TL_CHANGE_VALUE, s->acquisition.place, NULL, "%s", text);
    else
        tl_finding_change(f, TL_CHANGE_KEY_OF, s->place, "acquisition", "%s", text);
}

void tl_check_acquisition(const tl_checker *k, int signal)
{
    const tl_signal *s = &k->plan->signals[signal];
    const tl_converter *converter = tl_plan_converter_of(k->plan, s)->part;
    const tl_analog_path *path = tl_circuit_path(k->circuit, signal);
    /* A rule of its own reports what a short dwell leaves. */
    if (path->fault != TL_NET_SOLVED || path->settling_counts <= 0.5 || path->dwell < path->dwell_needed)
        return;
    const double longest = converter->acquisition[converter->acquisition_count - 1];
    const bool longer = path->acquisition < longest;
    const bool useless = path->settling_counts > path->range_counts / 100;
    /* A second conversion starts from where the first has left the capacitor, or lower. */
    const double again = path->settling_counts * path->settling_counts / path->range_counts;
    const bool reservoir = tl_check_part(k, signal, TL_PART_CAPACITOR) != NULL;
    const bool once_more = !longer && !reservoir && !is_discarded(k, signal) && again <= 0.5;
    const tl_rule_id rule = longer      ? TL_RULE_SLOW_ACQUISITION
                            : reservoir ? TL_RULE_RESERVOIR_SMALL
                            : once_more ? TL_RULE_DISCARD_NEEDED
                                        : TL_RULE_SOURCE_RESISTANCE;
    tl_finding *f =
        tl_check_add(k, useless && !once_more ? TL_GRAVE : TL_USUAL, rule,
                     s->acquisition.given ? s->acquisition.place : s->pin_place,
                     longer      ? "%s: source resistance is too high for the acquisition time"
                     : reservoir ? "%s: the capacitor at the pin is too small for the source resistance"
                     : once_more ? "%s: one conversion is not enough after the previous channel"
                                 : "%s: source resistance is too high even for the longest acquisition time",
                     s->name);
    tl_finding_figures(f, TL_DIM_COUNT, path->settling_counts, 0.5);
    tl_finding_text(&f->figure, "settling error %s after %s with %s",
                    tl_show(path->settling_counts, TL_DIM_COUNT, TL_ROUND_UP).text,
                    tl_show(path->acquisition, TL_DIM_SECOND, TL_ROUND_NEAREST).text,
                    tl_show(path->source_ohms, TL_DIM_OHM, TL_ROUND_UP).text);
    const double needed = tl_circuit_acquisition_needed(k->circuit, signal);
    if (isfinite(needed))
        tl_finding_text(&f->figure, "%s; half a count needs %s", f->figure,
                        tl_show(needed, TL_DIM_SECOND, TL_ROUND_UP).text);
    else
        tl_finding_text(&f->figure, "%s; half a count is allowed", f->figure);
    if (longer && needed <= longest)
        propose_acquisition(k, signal, needed, f);
    else if (once_more)
        tl_finding_text(
            &f->fix, "discard the first conversion: sweeps: {..: {signals: [%s, ..], discard: 1}}", s->name);
    else
        propose_reservoir(k, signal, 2 * path->range_counts - 1, f);
}
