/* SPDX-License-Identifier: MIT */
/* Files as a verb changes them: shown as a unified diff, then written, or only shown. */
#ifndef TL_CHANGES_H
#define TL_CHANGES_H

#include "tinyladder/design/findings.h"
#include <stdbool.h>
#include <stdio.h>

typedef struct {
    char *path, *before, *after;
    size_t before_size, after_size;
} changed_file;

typedef struct {
    changed_file *files;
    int count;
} changes;

/* The text of one of the report's files is this from now on. What was there first is what the diff begins
 * from. */
void changes_put(changes *c, const tl_report *report, int file, const char *text, size_t size);
/* Files that are read into the report are as they will be. */
void changes_hold(const changes *c, tl_report *report);
/*
 * Writes every file that is changed, each whole or not at all, and then shows what changed under a head that
 * says so; with `dry` it only shows. Answers the exit status; what cannot be written has its line on stderr.
 */
int changes_make(const changes *c, bool dry, const char *head, FILE *to);
void changes_end(changes *c);

#endif
