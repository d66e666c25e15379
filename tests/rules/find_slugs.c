/* SPDX-License-Identifier: MIT */
#include "find_slugs.h"
#include "support.h"
#include <math.h>
#include <stdio.h>
#include <string.h>

/* What a finding holds against a limit is what its rule's row says that it compares. */
static void compares_what_its_rule_says(const tl_finding *f)
{
    const tl_rule *rule = tl_plan_rule(f->slug);
    const bool has_figures = !isnan(f->figures.value) || !isnan(f->figures.limit);
    CHECK_ROW(f->slug, rule != NULL && (!has_figures || (rule->asks >> f->figures.dimension & 1u) != 0));
}

bool has_word(const char *list, const char *word)
{
    const size_t length = strlen(word);
    for (const char *at = list; (at = strstr(at, word)) != NULL; at += length) {
        if ((at == list || at[-1] == ' ') && (at[length] == ' ' || at[length] == '\0'))
            return true;
    }
    return false;
}

/* A headline of one line that says what is wrong, and advice that says what to do: its first word is a verb.
 */
static void is_plain(const tl_finding *f)
{
    static const char verbs[] =
        "add buy calculate change connect convert correct describe discard divide exchange give halve "
        "increase list look measure move name raise reduce remove replace set size supply switch take tie "
        "use";
    char first[40] = "";
    int length = 0;
    for (const char *at = f->cause; *at != '\0'; at++)
        length += ((unsigned char)*at & 0xc0) != 0x80;
    CHECK_ROW(f->slug, length <= 80);
    if (f->fix == NULL)
        return;
    sscanf(f->fix, "%39[a-z]", first);
    CHECK_ROW(f->fix, first[0] != '\0' && has_word(verbs, first));
}

bool find_slugs(const char *path, tl_severity least, char *slugs, size_t size)
{
    tl_report *report = tl_report_new();
    tl_plan *plan = tl_plan_load(path, report);
    slugs[0] = '\0';
    if (plan != NULL) {
        tl_circuit *circuit = tl_circuit_new(plan);
        tl_plan_check(circuit, report);
        for (int i = 0; i < tl_report_count(report); i++) {
            compares_what_its_rule_says(tl_report_finding(report, i));
            is_plain(tl_report_finding(report, i));
            const bool asked = tl_report_finding(report, i)->severity >= least &&
                               strcmp(tl_report_finding(report, i)->slug, "no-reading") != 0;
            if (asked || (least == TL_NOTE && strstr(path, "no-reading") != NULL))
                snprintf(slugs + strlen(slugs), size - strlen(slugs), "%s%s", slugs[0] ? " " : "",
                         tl_report_finding(report, i)->slug);
        }
        tl_circuit_free(circuit);
    }
    tl_plan_free(plan);
    tl_report_free(report);
    return plan != NULL;
}
