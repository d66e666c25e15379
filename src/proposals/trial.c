/* SPDX-License-Identifier: MIT */
/*
 * A plan as it would be: one of its files is taken to have another text, everything is read and every rule
 * asked again. Nothing is written, and nothing of the plan as it is changes.
 */
#include "base/report_struct.h"
#include "tinyladder/design/proposals.h"
#include <string.h>

const tl_finding *tl_finding_unread(const tl_report *report)
{
    for (int i = 0; i < tl_report_count(report); i++) {
        if (strcmp(tl_report_finding(report, i)->slug, "unreadable-file") == 0)
            return tl_report_finding(report, i);
    }
    return NULL;
}

void tl_trial_begin(tl_trial *trial, const tl_plan *plan, const tl_report *report, int file, const char *text,
                    size_t size)
{
    *trial = (tl_trial){.report = tl_report_new(), .lost = NULL};
    tl_report_allow_outside(trial->report, tl_report_outside(report));
    tl_report_instead(trial->report, tl_report_file_path(report, file), text, size);
    for (int i = 0; i < report->instead_count; i++) { /* what is not written yet holds, too */
        const tl_report_file *held = &report->instead[i];
        tl_report_instead(trial->report, held->path, held->text, held->size);
    }
    trial->plan = tl_plan_load(plan->path, trial->report);
    if (trial->plan == NULL) {
        trial->lost = tl_finding_unread(trial->report);
        return;
    }
    trial->circuit = tl_circuit_new(trial->plan);
    tl_plan_check(trial->circuit, trial->report);
}

void tl_trial_end(tl_trial *trial)
{
    tl_circuit_free(trial->circuit);
    tl_plan_free(trial->plan);
    tl_report_free(trial->report);
    *trial = (tl_trial){NULL, NULL, NULL, NULL};
}

static bool is_like(const tl_finding *a, const tl_finding *b)
{
    return a->subject == b->subject && a->severity <= b->severity && strcmp(a->slug, b->slug) == 0;
}

/* How many like it there are up to the i-th. */
static int count_like(const tl_report *report, int most, const tl_finding *finding)
{
    int count = 0;
    for (int i = 0; i < tl_report_count(report) && i <= most; i++)
        count += is_like(finding, tl_report_finding(report, i));
    return count;
}

const tl_finding *tl_trial_worse(const tl_trial *trial, const tl_report *before, int subject)
{
    return tl_trial_worse_after(trial, before, subject, NULL);
}

const tl_finding *tl_trial_worse_after(const tl_trial *trial, const tl_report *before, int subject,
                                       const tl_finding *last)
{
    bool behind = last == NULL;
    for (int i = 0; i < tl_report_count(trial->report); i++) {
        const tl_finding *f = tl_report_finding(trial->report, i);
        const bool told = !behind;
        behind = behind || f == last;
        if (f->severity < TL_WARNING || told)
            continue;
        if ((subject >= 0 && f->subject == subject) ||
            count_like(trial->report, i, f) > count_like(before, tl_report_count(before), f))
            return f;
    }
    return NULL;
}

int tl_part_edits(const tl_report *report, const tl_part *part, const char *const values[2], tl_edit edits[2])
{
    int count = 0;
    for (int i = 0; i < 2 && values[i] != NULL; i++) {
        if (part->value[i] == NULL || !part->value[i]->given ||
            !tl_edit_value(report, part->value[i]->place, values[i], &edits[count])) {
            while (count > 0)
                tl_edit_free(&edits[--count]);
            return 0;
        }
        count++;
    }
    return count;
}
