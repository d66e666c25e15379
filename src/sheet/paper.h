/* SPDX-License-Identifier: MIT */
/* What pages are drawn on: a file each, or of PDF one for all of them. */
#ifndef TL_PAPER_H
#define TL_PAPER_H

#include "sheet/pen.h"

typedef enum { SHEET_PDF, SHEET_SVG, SHEET_PNG, SHEET_HTML, SHEET_TEXT, SHEET_FORMS } sheet_form;
static const char *const sheet_form_names[SHEET_FORMS] = {"pdf", "svg", "png", "html", "txt"};

/* A file that is drawn: it is written when all of them are. */
typedef struct {
    unsigned char *bytes;
    size_t size;
} drawn_file;

typedef struct paper paper;

/* Whether this build has what draws pages. */
bool paper_is_there(void);
/* Millimetres. nowhere: nothing is kept. */
paper *paper_new(sheet_form form, bool nowhere, double width, double height);
/* Another page, with what draws on it: to be freed before the page ends. */
pen *paper_page(paper *p);
void paper_page_end(paper *p);
/* All files, which are the caller's from now on; NULL: there was no memory for them, or nothing was kept. */
drawn_file *paper_close(paper *p, int *count);

#endif
