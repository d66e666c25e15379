/* SPDX-License-Identifier: MIT */
/*
 * Fixes that fix. A part that is there already is sized anew before anything is added; then comes what the
 * rule would write. Each is written into a copy, and the rules are asked again.
 */
#include "base/memory.h"
#include "proposals/resize.h"
#include "tinyladder/design/rules.h"
#include <stdlib.h>
#include <string.h>

/* A file with more findings than that has other troubles; in a large plan each trial takes its time. */
enum { TRIALS_MOST = 48, LARGE = 100 };

/* What is asked again and again while fixes are looked for. */
typedef struct {
    const tl_plan *plan;
    const tl_report *report;
    tl_circuit *circuit; /* of the plan as it is; made when a part is sized */
    tl_report *lost;     /* what it says where a file could not be read again, the first such; NULL */
    tl_edit *own;        /* of every finding what its rule would write */
    int trials, trials_most;
} mending;

static void mending_begin(mending *m, const tl_plan *plan, const tl_report *report)
{
    const int signals = plan->signal_count;
    *m = (mending){.plan = plan, .report = report};
    m->trials_most = signals > LARGE ? TRIALS_MOST * LARGE / signals : TRIALS_MOST;
    m->own = tl_alloc((size_t)tl_report_count(report) + 1, sizeof *m->own);
    tl_edits_of_findings(report, m->own);
}

static void mending_end(mending *m)
{
    for (int i = 0; i < tl_report_count(m->report); i++)
        tl_edit_free(&m->own[i]);
    free(m->own);
    tl_circuit_free(m->circuit);
}

static const tl_edit *own_edit(const mending *m, const tl_finding *finding)
{
    int i = 0;
    while (i < tl_report_count(m->report) && tl_report_finding(m->report, i) != finding)
        i++;
    return i < tl_report_count(m->report) && m->own[i].text != NULL ? &m->own[i] : NULL;
}

static const char wasted[] = "range-wasted";

static int count_of(const tl_report *report, const char *slug, int subject)
{
    int count = 0;
    for (int i = 0; i < tl_report_count(report); i++)
        count += tl_report_finding(report, i)->subject == subject &&
                 strcmp(tl_report_finding(report, i)->slug, slug) == 0;
    return count;
}

/* Ends a trial; where a file was lost in it, its report is kept instead. */
static void end(mending *m, tl_trial *trial)
{
    if (trial->lost != NULL && m->lost == NULL) {
        m->lost = trial->report;
        trial->report = NULL;
    }
    tl_trial_end(trial);
}

static bool wastes_more(const mending *m, const tl_trial *trial, int subject)
{
    return count_of(trial->report, wasted, subject) > count_of(m->report, wasted, subject);
}

/* Whether the finding is gone with these edits, nothing worse has come, and the converter's range is no less
 * used than before. */
static bool is_mended(const mending *m, const tl_trial *trial, const tl_finding *finding)
{
    return trial->plan != NULL &&
           count_of(trial->report, finding->slug, finding->subject) <
               count_of(m->report, finding->slug, finding->subject) &&
           !wastes_more(m, trial, finding->subject) && tl_trial_worse(trial, m->report, TL_NONE) == NULL;
}

static bool passes(mending *m, const tl_finding *finding, const tl_edit *edit)
{
    tl_trial trial;
    size_t size = 0;
    if (m->trials >= m->trials_most || m->lost != NULL)
        return false;
    m->trials++;
    char *text = tl_edit_apply(m->report, edit, 1, &size);
    tl_trial_begin(&trial, m->plan, m->report, edit->file, text, size);
    const bool mended = is_mended(m, &trial, finding);
    end(m, &trial);
    free(text);
    return mended;
}

/* --- candidates --- */

static const tl_signal *signal_of(const mending *m, const tl_finding *finding)
{
    return finding->subject >= 0 && finding->subject < m->plan->signal_count
               ? &m->plan->signals[finding->subject]
               : NULL;
}

/* Whether other values of the signal's parts may mend it: it compares something electrical, and the rule does
 * not know of a key that is wrong. */
static bool may_be_resized(const mending *m, const tl_finding *finding)
{
    static const unsigned electrical =
        1u << TL_DIM_OHM | 1u << TL_DIM_VOLT | 1u << TL_DIM_AMPERE | 1u << TL_DIM_WATT | 1u << TL_DIM_COUNT;
    const tl_signal *s = signal_of(m, finding);
    int rules;
    const bool wastes = strcmp(finding->slug, wasted) == 0;
    if (s == NULL || finding->rule < 0 || (finding->severity < TL_WARNING && !wastes) ||
        ((tl_plan_rules(&rules)[finding->rule].asks & electrical) == 0 && !wastes))
        return false;
    if (finding->change.text == NULL || finding->change.kind == TL_CHANGE_STAGE || wastes)
        return true;
    tl_part part;
    return finding->change.kind == TL_CHANGE_VALUE && sized_part_at(m->plan, &finding->change.place, &part) &&
           part.signal == finding->subject;
}

/* A stage of a kind that the signal has already is never put behind it. */
static bool adds_another(const mending *m, const tl_finding *finding)
{
    const tl_signal *s = signal_of(m, finding);
    for (int i = 0; s != NULL && finding->change.kind == TL_CHANGE_STAGE && i < s->stage_count; i++) {
        if (strcmp(s->stages[i].name, finding->change.key) == 0)
            return true;
    }
    return false;
}

/* Keeps the first of the edits that passes, or without a trial the very first. */
static bool take_first(mending *m, const tl_finding *finding, tl_edit *edits, int count, bool tried,
                       tl_edit *edit)
{
    bool found = false;
    for (int i = 0; i < count; i++) {
        if (!found && (!tried || passes(m, finding, &edits[i]))) {
            *edit = edits[i];
            found = true;
        } else {
            tl_edit_free(&edits[i]);
        }
    }
    return found;
}

/* tried: only what is shown to mend; else the likeliest. */
static bool by_part(mending *m, const tl_finding *finding, const tl_part *part, bool tried, tl_edit *edit)
{
    tl_edit edits[RESIZED_MOST];
    if (m->circuit == NULL)
        m->circuit = tl_circuit_new(m->plan);
    const int count = part_resized(m->report, m->circuit, part, edits);
    return take_first(m, finding, edits, count, tried, edit);
}

static bool by_parts(mending *m, const tl_finding *finding, bool tried, tl_edit *edit)
{
    const tl_signal *s = signal_of(m, finding);
    for (int i = 0; s != NULL && i < s->stage_count; i++) {
        tl_part part;
        if (part_of_stage(m->plan, finding->subject, i, &part) && part.stage == &s->stages[i] &&
            by_part(m, finding, &part, tried, edit))
            return true;
    }
    return false;
}

/* The part of an output, a bus or a shared node whose value the rule would change. */
static bool by_place(mending *m, const tl_finding *finding, bool tried, tl_edit *edit)
{
    tl_part part;
    return finding->change.text != NULL && finding->change.kind == TL_CHANGE_VALUE &&
           sized_part_at(m->plan, &finding->change.place, &part) &&
           (part.output >= 0 || part.bus >= 0 || part.shared >= 0) && by_part(m, finding, &part, tried, edit);
}

static bool by_rule(mending *m, const tl_finding *finding, bool tried, tl_edit *edit)
{
    const tl_edit *own = own_edit(m, finding);
    if (own == NULL || adds_another(m, finding))
        return false;
    tl_edit copy = {own->file, own->begin, own->end, tl_copy_text(own->text), NULL};
    return take_first(m, finding, &copy, 1, tried, edit);
}

static bool mend(mending *m, const tl_finding *finding, bool tried, tl_edit *edit)
{
    *edit = (tl_edit){0};
    return by_place(m, finding, tried, edit) ||
           (may_be_resized(m, finding) && by_parts(m, finding, tried, edit)) ||
           by_rule(m, finding, tried, edit);
}

bool tl_mend_finding(const tl_plan *plan, const tl_report *report, const tl_finding *finding, tl_edit *edit)
{
    mending m;
    mending_begin(&m, plan, report);
    const bool mended = mend(&m, finding, true, edit);
    tl_report_free(m.lost);
    mending_end(&m);
    return mended;
}

/* --- all findings of a report --- */

static bool overlap(const tl_edit *a, const tl_edit *b)
{
    return a->file != b->file || (a->begin < b->end && b->begin < a->end) || a->begin == b->begin;
}

static bool is_same_edit(const tl_edit *a, const tl_edit *b)
{
    return a->file == b->file && a->begin == b->begin && a->end == b->end && strcmp(a->text, b->text) == 0;
}

/* Edits of one file, each once. Those that cannot stand with one before them are to be tried alone. */
static int gather(const tl_edit *edits, int findings, tl_edit *all, bool *alone)
{
    int count = 0;
    for (int i = 0; i < findings; i++) {
        bool known = edits[i].text == NULL || alone[i];
        for (int k = 0; k < count && !known; k++) {
            known = is_same_edit(&all[k], &edits[i]);
            alone[i] = !known && overlap(&all[k], &edits[i]);
            known = known || alone[i];
        }
        if (!known)
            all[count++] = edits[i];
    }
    return count;
}

/* Finds edits that leave their findings, or where something worse has come; false where there are any. */
static bool all_mended(const mending *m, const tl_trial *trial, const tl_edit *edits, bool *alone)
{
    const int findings = tl_report_count(m->report);
    const tl_finding *worse = NULL;
    bool good = true;
    for (int i = 0; i < findings; i++) {
        const tl_finding *f = tl_report_finding(m->report, i);
        if (edits[i].text == NULL || alone[i])
            continue;
        alone[i] = count_of(trial->report, f->slug, f->subject) > 0 || wastes_more(m, trial, f->subject);
        good = good && !alone[i];
    }
    while ((worse = tl_trial_worse_after(trial, m->report, TL_NONE, worse)) != NULL) {
        for (int i = 0; i < findings; i++)
            alone[i] = alone[i] || tl_report_finding(m->report, i)->subject == worse->subject;
        good = false;
    }
    return good;
}

/* Whether these edits, in one file, leave nothing of their findings and bring nothing worse. Those that do
 * not stand with the others are to be tried alone. */
static bool stand_together(mending *m, const tl_edit *edits, bool *alone)
{
    const int findings = tl_report_count(m->report);
    tl_edit *all = tl_alloc((size_t)findings + 1, sizeof *all);
    const int count = gather(edits, findings, all, alone);
    bool good = count > 1;
    if (good) {
        tl_trial trial;
        size_t size = 0;
        char *text = tl_edit_apply(m->report, all, count, &size);
        tl_trial_begin(&trial, m->plan, m->report, all[0].file, text, size);
        good = trial.plan != NULL && all_mended(m, &trial, edits, alone);
        end(m, &trial);
        free(text);
    }
    free(all);
    return good;
}

/* Tries all edits together, then without those that do not stand with the others; false where none do. */
static bool mend_together(mending *m, const tl_edit *edits, bool *alone)
{
    enum { TRIES = 3 };
    bool good = false;
    for (int i = 0; i < TRIES && !good && m->lost == NULL; i++)
        good = stand_together(m, edits, alone);
    return good;
}

bool tl_mends_together(const tl_plan *plan, const tl_report *report, const tl_edit *edits)
{
    mending m;
    bool *alone = tl_alloc((size_t)tl_report_count(report) + 1, sizeof *alone), good;
    mending_begin(&m, plan, report);
    good = stand_together(&m, edits, alone);
    for (int i = 0; i < tl_report_count(report); i++)
        good = good && !alone[i];
    tl_report_free(m.lost);
    mending_end(&m);
    free(alone);
    return good;
}

tl_report *tl_mend_kind(const tl_plan *plan, const tl_report *report, const char *slug, tl_edit *edits)
{
    const int count = tl_report_count(report);
    bool *alone = tl_alloc((size_t)count + 1, sizeof *alone);
    mending m;
    mending_begin(&m, plan, report);
    memset(edits, 0, (size_t)count * sizeof *edits);
    for (int i = 0; i < count; i++) {
        const tl_finding *f = tl_report_finding(report, i);
        if (slug == NULL || strcmp(f->slug, slug) == 0)
            mend(&m, f, false, &edits[i]);
    }
    const bool good = mend_together(&m, edits, alone);
    for (int i = 0; i < count; i++) {
        if (edits[i].text == NULL || (good && !alone[i]))
            continue;
        tl_edit_free(&edits[i]);
        mend(&m, tl_report_finding(report, i), true, &edits[i]);
    }
    mending_end(&m);
    free(alone);
    return m.lost;
}

tl_report *tl_mend_findings(const tl_plan *plan, const tl_report *report, tl_edit *edits)
{
    return tl_mend_kind(plan, report, NULL, edits);
}
