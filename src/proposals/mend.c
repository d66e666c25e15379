/* Fixes that fix: what a rule would write is written into a copy, and the rules are asked again. */
#include "tinyladder/design/proposals.h"
#include <stdlib.h>
#include <string.h>

static int count_of(const tl_report *report, const tl_finding *finding)
{
    int count = 0;
    for (int i = 0; i < tl_report_count(report); i++)
        count += tl_report_finding(report, i)->subject == finding->subject &&
                 strcmp(tl_report_finding(report, i)->slug, finding->slug) == 0;
    return count;
}

bool tl_mend_finding(const tl_plan *plan, const tl_report *report, const tl_finding *finding, tl_edit *edit)
{
    tl_trial trial;
    size_t size = 0;
    if (!tl_edit_of_change(report, &finding->change, edit))
        return false;
    char *text = tl_edit_apply(report, edit, 1, &size);
    tl_trial_begin(&trial, plan, report, edit->file, text, size);
    const bool mended = trial.plan != NULL && count_of(trial.report, finding) < count_of(report, finding) &&
                        tl_trial_worse(&trial, report, TL_NONE) == NULL;
    tl_trial_end(&trial);
    free(text);
    if (!mended)
        tl_edit_free(edit);
    return mended;
}
