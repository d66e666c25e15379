/* SPDX-License-Identifier: MIT */
/* Draws on a surface of cairo, with texts by pango. */
#ifndef TL_PEN_CAIRO_H
#define TL_PEN_CAIRO_H

#include "sheet/pen.h"
#include <cairo.h>

/* scale: of the surface's units to a millimetre. */
pen *pen_cairo(cairo_surface_t *surface, double scale);
#endif
