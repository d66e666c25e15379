/* SPDX-License-Identifier: MIT */
/* A build without cairo and pango: sheets are drawn for pages of HTML alone. */
#include "sheet/paper.h"

bool paper_is_there(void)
{
    return false;
}

paper *paper_new(sheet_form form, bool nowhere, double width, double height)
{
    (void)form;
    (void)nowhere;
    (void)width;
    (void)height;
    return NULL;
}

pen *paper_page(paper *p)
{
    (void)p;
    return NULL;
}

void paper_page_end(paper *p)
{
    (void)p;
}

drawn_file *paper_close(paper *p, int *count)
{
    (void)p;
    *count = 0;
    return NULL;
}
