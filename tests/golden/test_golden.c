/* SPDX-License-Identifier: MIT */
/* What every verb says on the demo data, held against what it said before. A change is meant to be seen:
 * `make golden` takes it over, and the difference stands in the commit. */
#define _GNU_SOURCE
#include "support.h"
#include <ctype.h>
#include <dirent.h>
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/* The last of ten printed digits may hang on the processor's linear algebra: figures agree within this share.
 */
static const double figure_share = 1e-6;

static bool same_line(const char *a, const char *b)
{
    while (*a != '\0' && *b != '\0') {
        if (isdigit((unsigned char)*a) && isdigit((unsigned char)*b)) {
            char *after_a, *after_b;
            const double x = strtod(a, &after_a), y = strtod(b, &after_b);
            if (fabs(x - y) > figure_share * fmax(fabs(x), fabs(y)))
                return false;
            a = after_a;
            b = after_b;
        } else if (*a++ != *b++) {
            return false;
        }
    }
    return *a == *b;
}

/* The first line in which two files differ, or 0; its texts are printed below the call it belongs to. */
static int first_difference(const char *kept_path, const char *now_path)
{
    char *kept = NULL, *now = NULL, call[400] = "";
    size_t kept_room = 0, now_room = 0;
    int line = 0, found = 0;
    FILE *k = fopen(kept_path, "r"), *n = fopen(now_path, "r");
    while (k != NULL && n != NULL && found == 0) {
        const bool more_kept = getline(&kept, &kept_room, k) >= 0,
                   more_now = getline(&now, &now_room, n) >= 0;
        line++;
        if (!more_kept && !more_now)
            break;
        if (more_kept && kept[0] == '$')
            snprintf(call, sizeof call, "%.390s", kept);
        if (!more_kept || !more_now || !same_line(kept, now)) {
            found = line;
            printf("\n  %s:%d: %s    was  %s    is   %s", kept_path, line, call,
                   more_kept ? kept : "(nothing)\n", more_now ? now : "(nothing)\n");
        }
    }
    found = k == NULL || n == NULL ? 1 : found;
    if (k != NULL)
        fclose(k);
    if (n != NULL)
        fclose(n);
    free(kept);
    free(now);
    return found;
}

static void nothing_changes_unseen(void)
{
    if (THINNED > 1)
        return; /* under sanitizers each verb has a suite of its own */
    static const char kept[] = TL_SOURCE "/tests/golden", now[] = TL_SCRATCH "/golden";
    const char *const words[] = {TL_SOURCE "/tests/golden/record.sh", TL_BUILD "/tinyladder", now, NULL};
    run_result r = run_program(words, TL_SOURCE);
    CU_ASSERT(r.status == 0 && r.err[0] == '\0');
    run_free(&r);
    int files = 0;
    DIR *folder = opendir(now);
    for (const struct dirent *entry; folder != NULL && (entry = readdir(folder)) != NULL;) {
        char a[600], b[600];
        if (strstr(entry->d_name, ".txt") == NULL)
            continue;
        snprintf(a, sizeof a, "%s/%s", kept, entry->d_name);
        snprintf(b, sizeof b, "%s/%s", now, entry->d_name);
        CHECK_ROW(entry->d_name, first_difference(a, b) == 0);
        files++;
    }
    if (folder != NULL)
        closedir(folder);
    CU_ASSERT(files == 17);
}

/* Every recipe says what its commands print today: `scripts/recipes.py build` writes it anew. */
static void recipes_say_what_comes(void)
{
#ifndef TL_SANITIZED /* whose library links into programs of its kind only */
    const char *const words[] = {"scripts/recipes.py", TL_BUILD, "check", NULL};
    run_result r = run_program(words, TL_SOURCE);
    CU_ASSERT(r.status == 0 && strstr(r.out, " blocks run, 0 differ from the page\n") != NULL);
    if (r.status != 0)
        printf("\n%s%s", r.out, r.err);
    run_free(&r);
    /* The index has them all. */
    const char *const list[] = {
        "sh", "-c", "cd docs/recipes; for r in *.md; do grep -q \"]($r)\" README.md || echo $r; done", NULL};
    r = run_program(list, TL_SOURCE);
    CU_ASSERT_STRING_EQUAL(r.out, "README.md\n");
    run_free(&r);
#endif
}

CU_TestInfo golden_tests[] = {
    {"nothing changes unseen", nothing_changes_unseen},
    {"recipes say what comes", recipes_say_what_comes},
    CU_TEST_INFO_NULL,
};
