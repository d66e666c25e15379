/* SPDX-License-Identifier: MIT */
/*
 * "Did you mean": the fewest changes (a letter put in, left out, exchanged, or two neighbours swapped: the
 * edit distance of Damerau and Levenshtein, case aside) that turn what was typed into a known name; at most a
 * third of its letters.
 */
#include "base/nearest_name.h"
#include <ctype.h>
#include <stddef.h>
#include <string.h>

/* Edit distance with neighbours swapped counting once; texts longer than the table are far from everything.
 */
static int distance(const char *a, const char *b)
{
    enum { MOST = 40 };
    int table[MOST + 1][MOST + 1];
    const int n = (int)strlen(a), m = (int)strlen(b);
    if (n > MOST || m > MOST)
        return MOST;
    for (int i = 0; i <= n; i++) {
        for (int j = 0; j <= m; j++) {
            if (i == 0 || j == 0) {
                table[i][j] = i + j;
                continue;
            }
            const int change = tolower((unsigned char)a[i - 1]) != tolower((unsigned char)b[j - 1]);
            int best = table[i - 1][j - 1] + change;
            if (table[i - 1][j] + 1 < best)
                best = table[i - 1][j] + 1;
            if (table[i][j - 1] + 1 < best)
                best = table[i][j - 1] + 1;
            if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1] &&
                table[i - 2][j - 2] + 1 < best)
                best = table[i - 2][j - 2] + 1;
            table[i][j] = best;
        }
    }
    return table[n][m];
}

/* The one name that begins with it, or NULL. */
static const char *only_that_begins(const char *beginning, const char *(*name)(const void *list, int i),
                                    const void *list, int count)
{
    enum { LEAST = 3 };
    const char *found = NULL;
    const size_t length = strlen(beginning);
    for (int i = 0; i < count && length >= LEAST; i++) {
        if (strncmp(name(list, i), beginning, length) != 0)
            continue;
        if (found != NULL)
            return NULL;
        found = name(list, i);
    }
    return found;
}

const char *nearest_name(const char *wrong, const char *(*name)(const void *list, int i), const void *list,
                         int count)
{
    const char *nearest = NULL;
    int best = 1 + (int)strlen(wrong) / 3;
    for (int i = 0; i < count; i++) {
        const int now = distance(wrong, name(list, i));
        if (now <= best && (nearest == NULL || now < best)) {
            best = now;
            nearest = name(list, i);
        }
    }
    return nearest != NULL ? nearest : only_that_begins(wrong, name, list, count);
}
