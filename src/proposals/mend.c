/* Fixes that fix: what a rule would write is written into a copy, and the rules are asked again. */
#include "base/memory.h"
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

/* Ends a trial; where a file was lost in it, its report is kept instead, the first such. */
static void end(tl_trial *trial, tl_report **lost)
{
    if (trial->lost != NULL && *lost == NULL) {
        *lost = trial->report;
        trial->report = NULL;
    }
    tl_trial_end(trial);
}

static bool mend(const tl_plan *plan, const tl_report *report, const tl_finding *finding, tl_edit *edit,
                 tl_report **lost)
{
    tl_trial trial;
    size_t size = 0;
    if (!tl_edit_of_change(report, &finding->change, edit))
        return false;
    char *text = tl_edit_apply(report, edit, 1, &size);
    tl_trial_begin(&trial, plan, report, edit->file, text, size);
    const bool mended = trial.plan != NULL && count_of(trial.report, finding) < count_of(report, finding) &&
                        tl_trial_worse(&trial, report, TL_NONE) == NULL;
    end(&trial, lost);
    free(text);
    if (!mended)
        tl_edit_free(edit);
    return mended;
}

bool tl_mend_finding(const tl_plan *plan, const tl_report *report, const tl_finding *finding, tl_edit *edit)
{
    tl_report *lost = NULL;
    const bool mended = mend(plan, report, finding, edit, &lost);
    tl_report_free(lost);
    return mended;
}

/* --- all findings of a report --- */

enum { TRIALS_MOST = 32 }; /* one by one; a file with more findings than that has other troubles */

static bool overlap(const tl_edit *a, const tl_edit *b)
{
    return a->file != b->file || (a->begin < b->end && b->begin < a->end) || a->begin == b->begin;
}

/* Whether all edits together, in one file, leave nothing of their findings and bring nothing worse. */
static bool mend_together(const tl_plan *plan, const tl_report *report, const tl_edit *edits,
                          tl_report **lost)
{
    const int findings = tl_report_count(report);
    tl_edit *all = tl_alloc((size_t)findings, sizeof *all);
    int count = 0;
    bool good = true;
    for (int i = 0; i < findings && good; i++) {
        for (int k = 0; k < count && good && edits[i].text != NULL; k++)
            good = !overlap(&all[k], &edits[i]);
        if (edits[i].text != NULL)
            all[count++] = edits[i];
    }
    if (good && count > 1) {
        tl_trial trial;
        size_t size = 0;
        char *text = tl_edit_apply(report, all, count, &size);
        tl_trial_begin(&trial, plan, report, all[0].file, text, size);
        good = trial.plan != NULL && tl_trial_worse(&trial, report, TL_NONE) == NULL;
        for (int i = 0; i < findings && good; i++)
            good = edits[i].text == NULL || count_of(trial.report, tl_report_finding(report, i)) == 0;
        end(&trial, lost);
        free(text);
    }
    free(all);
    return good && count > 1;
}

tl_report *tl_mend_findings(const tl_plan *plan, const tl_report *report, tl_edit *edits)
{
    const int count = tl_report_count(report);
    tl_report *lost = NULL;
    tl_edits_of_findings(report, edits);
    if (mend_together(plan, report, edits, &lost))
        return NULL;
    for (int i = 0, trials = 0; i < count; i++) {
        const bool tried = edits[i].text != NULL && trials++ < TRIALS_MOST;
        tl_edit_free(&edits[i]);
        if (tried && lost == NULL && !mend(plan, report, tl_report_finding(report, i), &edits[i], &lost))
            edits[i] = (tl_edit){0};
    }
    return lost;
}
