/* SPDX-License-Identifier: MIT */
/* What tests of sizings share: ranges, and a choice's figure by its name. */
#ifndef SIZING_FIGURES_H
#define SIZING_FIGURES_H

#include "support.h"
#include "tinyladder/design/sizing.h"
#include <string.h>

static const tl_quantity logic = {3.234, 3.3, 3.366, true};

static inline tl_quantity span(double low, double high)
{
    return (tl_quantity){low, (low + high) / 2, high, true};
}

static inline const tl_size_figure *figure(const tl_choice *c, const char *name)
{
    for (int i = 0; i < c->figures; i++) {
        if (strcmp(c->figure[i].name, name) == 0)
            return &c->figure[i];
    }
    CU_FAIL("no such figure");
    return &c->figure[0];
}

#endif
