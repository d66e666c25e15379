/** @file Changing a plan's text: only the bytes concerned, so that comments and layout stay. */
#ifndef TINYLADDER_PLAN_EDIT_H
#define TINYLADDER_PLAN_EDIT_H

#include "tinyladder/report.h"
#include <stdbool.h>

#ifdef __cplusplus
extern "C" {
#endif

enum { TL_EDIT_INDENT_MOST = 60 };

/**
 * The text of a plan's file with another trim in one reading.
 * @param reading  Where the value of the key `reading` stands (tl_plan_reading.place).
 * @param trim     The new value, such as `{points: [20 counts: 0.05 V, 3000 counts: 2.4 V]}`.
 * @return To be freed; NULL where the reading is no map at that place.
 */
char *tl_plan_text_with_trim(const char *text, tl_place reading, const char *trim);

/** Writes a file aside and renames it; false, and errno, where that cannot be: the old one is then still
 * there. */
bool tl_replace_file(const char *path, const char *text);

#ifdef __cplusplus
}
#endif
#endif
