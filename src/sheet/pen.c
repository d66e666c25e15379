/* SPDX-License-Identifier: MIT */
/* What both pens share: the types and the inks. */
#include "sheet/pen.h"

static const double point_mm = 0.3528;

static const struct {
    double size;
    bool bold;
} types[] = {[TYPE_TITLE] = {15, true}, [TYPE_BLOCK] = {13, true},  [TYPE_SIGNAL] = {10, true},
             [TYPE_VALUE] = {8, true},  [TYPE_TEXT] = {7.5, false}, [TYPE_BOLD] = {7.5, true},
             [TYPE_SMALL] = {7, false}, [TYPE_ROW] = {6.5, false},  [TYPE_TINY] = {5.5, false}};

static const pen_colour inks[] = {
    [INK_BLACK] = {0, 0, 0},          [INK_GREY] = {0.35, 0.35, 0.35},   [INK_PALE] = {0.72, 0.72, 0.72},
    [INK_WHITE] = {1, 1, 1},          [INK_METER] = {0, 0.3, 0.5},       [INK_BAR] = {0.9, 0.9, 0.9},
    [BAND_BLACK] = {0, 0, 0},         [BAND_WHITE] = {1, 1, 1},          [BAND_BROWN] = {0.45, 0.24, 0.1},
    [BAND_RED] = {0.82, 0.1, 0.1},    [BAND_ORANGE] = {0.95, 0.5, 0.05}, [BAND_YELLOW] = {0.98, 0.85, 0.1},
    [BAND_GREEN] = {0.1, 0.55, 0.2},  [BAND_BLUE] = {0.1, 0.3, 0.75},    [BAND_VIOLET] = {0.5, 0.2, 0.65},
    [BAND_GREY] = {0.55, 0.55, 0.55}, [BAND_GOLD] = {0.8, 0.65, 0.2},    [BAND_SILVER] = {0.78, 0.78, 0.8}};

double type_size(type how)
{
    return types[how].size;
}

bool type_bold(type how)
{
    return types[how].bold;
}

double type_height(type how)
{
    return types[how].size * point_mm;
}

pen_colour ink_colour(pen_ink ink)
{
    return inks[ink];
}
