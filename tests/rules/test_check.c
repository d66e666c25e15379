/* SPDX-License-Identifier: MIT */
/* The checker: every faulty plan is found by its slug, sound ones pass in silence. */
#include "find_slugs.h"
#include "support.h"
#include "tinyladder/design/rules.h"
#include <dirent.h>
#include <stdio.h>
#include <string.h>

/* Each file of demo/faulty/ is named after the one mistake it holds: nothing else is an error or a warning.
 * Rules that only ever give notes are found among the notes. */
static void every_faulty_plan_is_found(void)
{
    DIR *folder = opendir(TL_SOURCE "/demo/faulty");
    CU_ASSERT_FATAL(folder != NULL);
    int plans = 0;
    for (struct dirent *entry; (entry = readdir(folder)) != NULL;) {
        char path[600], slugs[400], notes[400], wanted[256];
        const char *end = strstr(entry->d_name, ".plan.yaml");
        if (end == NULL)
            continue;
        snprintf(path, sizeof path, TL_SOURCE "/demo/faulty/%s", entry->d_name);
        snprintf(wanted, sizeof wanted, "%.*s", (int)(end - entry->d_name), entry->d_name);
        CHECK_ROW(entry->d_name, find_slugs(path, TL_WARNING, slugs, sizeof slugs));
        CHECK_ROW(entry->d_name, find_slugs(path, TL_NOTE, notes, sizeof notes));
        CHECK_ROW(entry->d_name, strcmp(slugs, wanted) == 0 || (slugs[0] == '\0' && has_word(notes, wanted)));
        plans++;
    }
    closedir(folder);
    int rules = 0;
    (void)tl_plan_rules(&rules);
    CU_ASSERT(plans >= rules - 2); /* 'shorted' and 'unsolved' take more than a plan that can be read */
}

/* No false alarms: plans that look wrong at first sight, and are not. Notes are allowed. */
static void sound_plans_pass_in_silence(void)
{
    DIR *folder = opendir(TL_SOURCE "/demo/sound");
    CU_ASSERT_FATAL(folder != NULL);
    int plans = 0;
    for (struct dirent *entry; (entry = readdir(folder)) != NULL;) {
        char path[600], slugs[400];
        if (strstr(entry->d_name, ".plan.yaml") == NULL)
            continue;
        snprintf(path, sizeof path, TL_SOURCE "/demo/sound/%s", entry->d_name);
        CHECK_ROW(entry->d_name, find_slugs(path, TL_WARNING, slugs, sizeof slugs));
        CHECK_ROW(entry->d_name, slugs[0] == '\0');
        plans++;
    }
    closedir(folder);
    CU_ASSERT(plans >= 25);
}

/* `3.201 V; limit 3.2 V`: whether figure and limit are told apart by their digits. */
static bool differs_from_limit(const tl_finding *f)
{
    char first[60], second[200];
    const char *semicolon = f->figure != NULL ? strchr(f->figure, ';') : NULL;
    if (semicolon == NULL || f->figures.value == f->figures.limit)
        return true;
    const size_t number = strcspn(f->figure, " "), unit = strcspn(f->figure + number + 1, " ;");
    snprintf(first, sizeof first, " %.*s", (int)(number + 1 + unit), f->figure);
    snprintf(second, sizeof second, "%.*s ", (int)strcspn(semicolon + 1, ";"), semicolon + 1);
    const char *same = strstr(second, first);
    return same == NULL || strchr(" ,)", same[strlen(first)]) == NULL;
}

/* What the rule's row promises is what its findings are: severity, and which edits they carry. */
static void findings_keep_to_their_rows(void)
{
    static const int kinds[] = {[TL_CHANGE_VALUE] = TL_MENDS_VALUE,
                                [TL_CHANGE_KEY] = TL_MENDS_KEY,
                                [TL_CHANGE_KEY_OF] = TL_MENDS_KEY,
                                [TL_CHANGE_STAGE] = TL_MENDS_STAGE};
    int seen = 0;
    DIR *folder = opendir(TL_SOURCE "/demo/faulty");
    CU_ASSERT_FATAL(folder != NULL);
    for (struct dirent *entry; (entry = readdir(folder)) != NULL;) {
        char path[600];
        snprintf(path, sizeof path, "%s/demo/faulty/%s", TL_SOURCE, entry->d_name);
        tl_report *report = tl_report_new();
        tl_report_allow_outside(report, true);
        tl_plan *plan = strstr(path, ".plan.yaml") != NULL ? tl_plan_load(path, report) : NULL;
        tl_circuit *circuit = plan != NULL ? tl_circuit_new(plan) : NULL;
        if (circuit != NULL)
            tl_plan_check(circuit, report);
        for (int i = 0; i < tl_report_count(report) && circuit != NULL; i++) {
            const tl_finding *f = tl_report_finding(report, i);
            const tl_rule *rule = tl_plan_rule(f->slug);
            CHECK_ROW(f->slug, rule != NULL && (f->severity == rule->severity || f->severity == rule->grave));
            CHECK_ROW(f->slug, f->change.text == NULL || (rule->mends & kinds[f->change.kind]) != 0);
            CHECK_ROW(f->slug, (f->subject >= 0) <= (rule->scope == TL_SCOPE_SIGNAL));
            CHECK_ROW(f->slug, differs_from_limit(f));
            seen++;
        }
        tl_circuit_free(circuit);
        tl_plan_free(plan);
        tl_report_free(report);
    }
    closedir(folder);
    CU_ASSERT(seen > 70);
}

/* Whatever a finding is called, --about can explain it; and a rule that nothing raises would be a promise. */
static void every_finding_is_explained(void)
{
    int count;
    const tl_rule *rules = tl_plan_rules(&count);
    for (int i = 0; i < count; i++)
        CHECK_ROW(rules[i].slug, strlen(rules[i].meaning) > 40 && strlen(rules[i].fix) > 10 &&
                                     tl_plan_rule(rules[i].slug) == &rules[i]);
    DIR *folder = opendir(TL_SOURCE "/demo/faulty");
    CU_ASSERT_FATAL(folder != NULL);
    for (struct dirent *entry; (entry = readdir(folder)) != NULL;) {
        char slug[256];
        const char *end = strstr(entry->d_name, ".plan.yaml");
        snprintf(slug, sizeof slug, "%.*s", end != NULL ? (int)(end - entry->d_name) : 0, entry->d_name);
        CHECK_ROW(entry->d_name, end == NULL || tl_plan_rule(slug) != NULL);
    }
    closedir(folder);
    CU_ASSERT(tl_plan_rule("no-such-rule") == NULL);
}

/* The readers' own, as their sources have them. */
static void every_error_of_a_file_is_explained(void)
{
    FILE *found =
        popen("cat " TL_SOURCE "/src/reader/*.c " TL_SOURCE "/src/scene/*.c | tr '\\n' ' ' | grep -oE "
              "'report_error\\([^;\"]*\"[a-z-]+\"' | grep -oE '[a-z-]+\"$' | sort -u",
              "r");
    CU_ASSERT_FATAL(found != NULL);
    char slug[80];
    int count = 0;
    for (; fgets(slug, sizeof slug, found) != NULL; count++) {
        slug[strcspn(slug, "\"")] = '\0';
        CHECK_ROW(slug, tl_plan_rule(slug) != NULL);
    }
    pclose(found);
    CU_ASSERT(count > 20);
}

static void the_demo_plan_is_clean(void)
{
    char slugs[400];
    CU_ASSERT(find_slugs(TL_SOURCE "/demo/fernhill.plan.yaml", TL_NOTE, slugs, sizeof slugs));
    CU_ASSERT_STRING_EQUAL(slugs, "");
}

CU_TestInfo check_tests[] = {
    {"every faulty plan is found", every_faulty_plan_is_found},
    {"sound plans pass in silence", sound_plans_pass_in_silence},
    {"findings keep to their rows", findings_keep_to_their_rows},
    {"every finding is explained", every_finding_is_explained},
    {"every error of a file is explained", every_error_of_a_file_is_explained},
    {"the demo plan is clean", the_demo_plan_is_clean},
    CU_TEST_INFO_NULL,
};
