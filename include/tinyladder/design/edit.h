/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Changing a plan's text: only the bytes concerned, so that comments and layout stay.
 *
 * Stable: within one ABI number of libtinyladder-host (abi/host.map, abi/host.layout) no call, structure or
 * constant here changes.
 *
 * @code{.c}
 * bool write_value(const tl_report *report, tl_place place, const char *value)
 * {
 *     tl_edit edit;
 *     size_t size;
 *     if (!tl_edit_value(report, place, value, &edit))
 *         return false;
 *     char *text = tl_edit_apply(report, &edit, 1, &size);
 *     const bool good = text != NULL && tl_edit_write(tl_report_path(report, place), text, size);
 *     free(text);
 *     tl_edit_free(&edit);
 *     return good;
 * }
 * @endcode
 */
#ifndef TINYLADDER_EDIT_H
#define TINYLADDER_EDIT_H

#include "tinyladder/design/findings.h"
#include <stdbool.h>

#ifdef __cplusplus
extern "C" {
#endif

/** The bytes `begin` .. `end` of one file become `text`. */
typedef struct tl_edit {
    int file; /**< of the report */
    size_t begin, end;
    char *text;
    char *said; /**< what it changes, in words; NULL where that is not known */
} tl_edit;

/**
 * How to give a key of a map another value, or to add the key.
 *
 * The file is taken apart anew, so that places are exact whatever quotes, comments and line ends it has.
 *
 * @param map    Where the map begins, such as tl_plan_reading.place.
 * @param value  YAML on one line, such as `{points: [20 counts: 0.05 V, 3000 counts: 2.4 V]}`.
 * @param[out] edit  To be freed with tl_edit_free().
 * @return false where no map begins at that place.
 */
bool tl_edit_key(const tl_report *report, tl_place map, const char *key, const char *value, tl_edit *edit);

/** How to give the value at a place another text. @return false where no value begins there. */
bool tl_edit_value(const tl_report *report, tl_place place, const char *text, tl_edit *edit);
/** The edit that makes a finding's change. @return false where it has none, or the file has not what it
 * speaks of. */
bool tl_edit_of_change(const tl_report *report, const tl_change *change, tl_edit *edit);
/** The same for every finding of a report, text NULL where there is none; each file is looked through once.
 */
void tl_edits_of_findings(const tl_report *report, tl_edit *edits);

/** The text of the edits' one file with all of them in it; to be freed. They must not
 * overlap. */
char *tl_edit_apply(const tl_report *report, const tl_edit *edits, int count, size_t *size);
void tl_edit_free(tl_edit *edit);

/**
 * Writes the text in place of a file: aside, then renamed. A symbolic link stays one; a file that no user may
 * write is left alone. @return false, and errno, where that cannot be: the old file is then still there.
 */
bool tl_edit_write(const char *path, const char *text, size_t size);

#ifdef __cplusplus
}
#endif
#endif
