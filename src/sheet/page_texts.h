/* SPDX-License-Identifier: MIT */
/* What pages and drawings hold: sheet_drawing.css, sheet_page.css and sheet_page.js, as the build has put
 * them in. */
#ifndef TL_PAGE_TEXTS_H
#define TL_PAGE_TEXTS_H

extern const unsigned char sheet_drawing_css[], sheet_page_css[], sheet_page_js[];

#endif
