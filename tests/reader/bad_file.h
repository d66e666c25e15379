/* SPDX-License-Identifier: MIT */
/* A file that cannot be read, and the error it must give, at its place. */
#ifndef TL_BAD_FILE_H
#define TL_BAD_FILE_H

#include "support.h"
#include "tinyladder/design/findings.h"
#include <stdio.h>
#include <string.h>

typedef struct {
    const char *name, *text, *slug;
    int line, column;
    const char *says;
} bad_file;

/* The first error of a report must be the row's; column 0 is any. */
static inline void check_report(const bad_file *row, const tl_report *report)
{
    CHECK_ROW(row->name, tl_report_count(report) > 0);
    if (tl_report_count(report) == 0)
        return;
    const tl_finding *f = tl_report_finding(report, 0);
    const bool right = strcmp(f->slug, row->slug) == 0 && f->place.line == row->line &&
                       (row->column == 0 || f->place.column == row->column) &&
                       strstr(f->cause, row->says) != NULL && f->cause[strlen(f->cause) - 1] != ',';
    CHECK_ROW(row->name, right);
    if (!right)
        printf("\n  %s: found %d:%d [%s] %s\n", row->name, f->place.line, f->place.column, f->slug, f->cause);
}

#endif
