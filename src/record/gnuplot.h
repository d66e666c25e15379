/* SPDX-License-Identifier: MIT */
/* gnuplot as a program beside this one: a script goes in by a pipe, the picture comes back by another. */
#ifndef TL_GNUPLOT_H
#define TL_GNUPLOT_H

#include <stddef.h>

typedef enum { PICTURE_TEXT, PICTURE_SVG, PICTURE_PNG, PICTURE_PDF } picture_kind;

/*
 * Draws; *picture is to be freed. Nothing lies in a file on the way, no shell is asked, and what comes back
 * is checked for its end. Answers an exit status, with what is wrong said.
 */
int gnuplot_draw(const char *script, size_t size, picture_kind kind, char **picture, size_t *drawn);

#endif
