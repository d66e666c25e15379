/* SPDX-License-Identifier: MIT */
/* Rows of a table that are alike, and whose names are numbered one after the other, become one row. */
#include "printing/tables.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/* The number at the end of a name, and how long the name is before it; -1 without one. */
static long number_behind(const char *name, size_t *stem)
{
    size_t length = strlen(name);
    *stem = length;
    while (*stem > 0 && name[*stem - 1] >= '0' && name[*stem - 1] <= '9')
        --*stem;
    return *stem < length && length - *stem < 9 ? strtol(name + *stem, NULL, 10) : -1;
}

static bool follows(const char *name, const char *before)
{
    size_t a, b;
    const long now = number_behind(name, &a), was = number_behind(before, &b);
    return now >= 0 && now == was + 1 && a == b && strncmp(name, before, a) == 0;
}

/* Whether row b goes on where row a stops. */
static bool goes_on(const table *t, int names, int a, int b)
{
    for (int i = 0; i < t->columns; i++) {
        const char *now = t->cells[b * t->columns + i], *was = t->cells[a * t->columns + i];
        if (i < names ? !follows(now, was) : strcmp(now, was) != 0)
            return false;
    }
    return true;
}

/* `heater-2 .. -8`, or both names where they have little in common. */
static char *join_names(const char *first, const char *last)
{
    size_t stem;
    (void)number_behind(last, &stem);
    const size_t from = stem > 0 && (last[stem - 1] == '-' || last[stem - 1] == '.') ? stem - 1 : 0,
                 size = strlen(first) + strlen(last + from) + 5;
    char *text = must(malloc(size));
    snprintf(text, size, "%s .. %s", first, last + from);
    return text;
}

void table_join_rows(table *t, int names)
{
    const int rows = t->rows / t->columns;
    int kept = 1; /* the head */
    for (int row = 1, last; row < rows; row = last + 1) {
        for (last = row; last + 1 < rows && goes_on(t, names, last, last + 1); last++)
            continue;
        for (int i = 0; i < names && last > row; i++) {
            char *joined = join_names(t->cells[row * t->columns + i], t->cells[last * t->columns + i]);
            free(t->cells[row * t->columns + i]);
            t->cells[row * t->columns + i] = joined;
        }
        for (int other = row + 1; other <= last; other++) {
            for (int i = 0; i < t->columns; i++)
                free(t->cells[other * t->columns + i]);
        }
        memmove(&t->cells[kept * t->columns], &t->cells[row * t->columns],
                (size_t)t->columns * sizeof *t->cells);
        memmove(&t->inks[kept * t->columns], &t->inks[row * t->columns],
                (size_t)t->columns * sizeof *t->inks);
        kept++;
    }
    t->rows = kept * t->columns;
}
