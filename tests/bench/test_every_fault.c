/* SPDX-License-Identifier: MIT */
/* Every fault that the plans of the demo can have is a real one: it can be written in a scene, the bench
 * solves it, and each kind shows somewhere. */
#include "reading/sight.h"
#include "support.h"
#include "tinyladder/design/scene.h"
#include <ctype.h>
#include <glob.h>
#include <stdlib.h>
#include <string.h>

/* A kind of fault: `open lower`, `misread as: low-byte`. */
enum { KINDS_MOST = 200, KIND_LONGEST = 80 };
static struct {
    char kind[KIND_LONGEST];
    int shown;
} kinds[KINDS_MOST];
static int kind_count, fault_count;

/* The last word of a path, without the number at its end. */
static void put_word(char kind[KIND_LONGEST], const char *path, size_t length)
{
    const char *end = path + length, *word = end;
    while (word > path && word[-1] != '.')
        word--;
    while (end > word && (isdigit((unsigned char)end[-1]) || end[-1] == '-'))
        end--;
    const bool whole = word == path; /* a name of the plan's own */
    strncat(kind, whole ? "*" : word, whole ? 1 : (size_t)(end - word));
}

/* Values apart. */
static void kind_of(const char *line, char kind[KIND_LONGEST])
{
    static const char *const said[] = {"as: ", "at: ", "off: "};
    const char *colon = strchr(line, ':'), *what = colon + 2;
    snprintf(kind, KIND_LONGEST, "%.*s ", (int)(colon - line - 1), line + 1);
    put_word(kind, what + (*what == '['), strcspn(what, ",}]") - (*what == '['));
    for (size_t i = 0; i < ROWS(said); i++) {
        const char *at = strstr(what, said[i]);
        if (at != NULL)
            strncat(kind, at, strcspn(at, ",}"));
    }
}

static void note(const char *line, bool shows)
{
    char kind[KIND_LONGEST];
    int at = 0;
    kind_of(line, kind);
    while (at < kind_count && strcmp(kinds[at].kind, kind) != 0)
        at++;
    CU_ASSERT_FATAL(at < KINDS_MOST);
    if (at == kind_count)
        snprintf(kinds[kind_count++].kind, KIND_LONGEST, "%s", kind);
    kinds[at].shown += shows;
    fault_count++;
}

/* Every n-th of a plan's. */
static void play(const char *path, int every)
{
    tl_report *report = tl_report_new();
    tl_report_allow_outside(report, true);
    tl_plan *plan = tl_plan_load(path, report);
    CHECK_ROW(path, plan != NULL);
    tl_circuit *circuit = tl_circuit_new(plan);
    tl_fault_list list = tl_faults_of_plan(plan);
    sight *sound = sight_of(circuit, NULL, report);
    CHECK_ROW(path, sight_trouble(sound) == NULL);
    for (int i = 0; i < list.count; i += every) {
        if (strncmp(list.line[i], "{loose", 6) == 0)
            continue; /* comes and goes: what it does is open */
        sight *s = sight_of(circuit, list.line[i], report);
        const bool good = s != NULL && sight_trouble(s) == NULL;
        CHECK_ROW(list.line[i], good);
        if (!good)
            printf("\n  %s: %s: %s\n", path, list.line[i],
                   s != NULL ? sight_trouble(s)
                             : tl_report_finding(report, tl_report_count(report) - 1)->cause);
        note(list.line[i], good && sight_difference(sound, s) != NULL);
        sight_free(s);
    }
    sight_free(sound);
    tl_fault_list_free(&list);
    tl_circuit_free(circuit);
    tl_plan_free(plan);
    tl_report_free(report);
}

static void shows_somewhere(void)
{
    const bool all = getenv("TL_LONG") != NULL;
    glob_t found;
    kind_count = fault_count = 0;
    CU_ASSERT_FATAL(
        glob(TL_SOURCE "/demo/{sound/*,cold-frame,desk,fernhill}.plan.yaml", GLOB_BRACE, NULL, &found) == 0);
    for (size_t i = 0; i < found.gl_pathc; i++)
        play(found.gl_pathv[i], (all || strstr(found.gl_pathv[i], "fernhill") == NULL ? 1 : 5) * THINNED);
    if (all) {
        globfree(&found);
        CU_ASSERT_FATAL(glob(TL_SOURCE "/{demo/faulty,docs/recipes}/*.plan.yaml", GLOB_BRACE, NULL, &found) ==
                        0);
        for (size_t i = 0; i < found.gl_pathc; i++)
            play(found.gl_pathv[i], 1);
    }
    globfree(&found);
    int unseen = 0;
    for (int i = 0; i < kind_count; i++) {
        unseen += kinds[i].shown == 0;
        CHECK_ROW(kinds[i].kind, kinds[i].shown > 0 || !all);
    }
    CU_ASSERT(unseen <= 3 * THINNED); /* with a fifth of the demo's */
    CU_ASSERT(kind_count > 60 && fault_count > (all ? 8000 : 3000 / THINNED));
}

CU_TestInfo every_fault_tests[] = {
    {"shows somewhere", shows_somewhere},
    CU_TEST_INFO_NULL,
};
