/* SPDX-License-Identifier: MIT */
/* The limits of a pin, wherever they are described. */
#include "reader/read_board.h"
#include <math.h>

tl_pin_limits unknown_limits(void)
{
    return (tl_pin_limits){.supply = TL_NONE,
                           .highest = {0, 1},
                           .voh = {0, 1},
                           .injection = NAN,
                           .pull_up.nominal = NAN,
                           .pull_down.nominal = NAN,
                           .drives = NAN,
                           .most_amperes = NAN};
}

bool limits_rise(reader *r, const yaml_tree *node, const tl_pin_limits *limits)
{
    return levels_rise(r, node, "vil", &limits->vil, "vih", &limits->vih) &&
           levels_rise(r, node, "vol", &limits->vol, "voh", &limits->voh);
}

bool read_limits(reader *r, const yaml_tree *node, tl_pin_limits *limits)
{
    const yaml_tree *supply = yaml_get(node, "supply"), *internal = yaml_get(node, "internal");
    bool good = supply == NULL || read_rail(r, supply, false, &limits->supply);
    if (internal != NULL) {
        limits->pull_up.nominal = limits->pull_down.nominal = NAN;
        good = take_keys(r, internal, &keys_internal, limits) && good;
    }
    return limits_rise(r, node, limits) && good;
}
