/* SPDX-License-Identifier: MIT */
/* A plan that is checked, and its fixes. */
#ifndef TL_MEND_KINDS_H
#define TL_MEND_KINDS_H

#include "printing/changes.h"
#include "tinyladder/design/circuit.h"
#include "tinyladder/design/edit.h"

/* A plan as it is checked: its findings, and of each the edit that mends it, text NULL where none is shown
 * to. */
typedef struct {
    tl_report *report;
    tl_plan *plan;
    tl_circuit *circuit;
    tl_edit *edits;
} checked;

/* Checks a plan, files that are changed as they will be. False where a file cannot be read: the report says
 * which. Close it either way. */
bool check_only(checked *c, const char *path, const changes *fixed);
/* With the edits that are shown to mend, too. */
bool check_file(checked *c, const char *path, const changes *fixed);
void close_checked(checked *c);

/*
 * Finds all fixes, a line of text for each. One kind after the other, since a fix can take other findings
 * with it: after each, all is read anew. What nothing mends is tried again once nothing else is left. False
 * where a file cannot be read: `lost` says which, and is to be closed.
 */
bool find_fixes(const char *path, changes *fixed, FILE *told, checked *lost);

#endif
