/* The limits of a pin, wherever they are described. */
#include "reader/read_board.h"
#include <math.h>

/* The chip's own pulls. */
static bool read_internal(reader *r, const yaml_tree *node, tl_pin_limits *limits)
{
    tl_located up = {.value.nominal = NAN}, down = {.value.nominal = NAN};
    bool good = check_map(r, node, &keys_internal);
    if (good && yaml_get(node, "up") != NULL)
        good = read_quantity(r, yaml_get(node, "up"), TL_DIM_OHM, &up);
    if (good && yaml_get(node, "down") != NULL)
        good = read_quantity(r, yaml_get(node, "down"), TL_DIM_OHM, &down) && good;
    limits->pull_up = up.value;
    limits->pull_down = down.value;
    return good;
}

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

/* Keys whose value is one quantity. */
static bool read_limit_values(reader *r, const yaml_tree *node, tl_pin_limits *limits)
{
    const struct {
        const char *key;
        tl_dimension dimension;
        double *value;
    } values[] = {
        {"hysteresis", TL_DIM_VOLT, &limits->hysteresis}, {"capacitance", TL_DIM_FARAD, &limits->farads},
        {"drives", TL_DIM_AMPERE, &limits->drives},       {"current", TL_DIM_AMPERE, &limits->most_amperes},
        {"injection", TL_DIM_AMPERE, &limits->injection},
    };
    bool good = true;
    for (size_t i = 0; i < sizeof values / sizeof values[0]; i++) {
        const yaml_tree *at = yaml_get(node, values[i].key);
        if (at != NULL)
            good = read_value(r, at, values[i].dimension, values[i].value) && good;
    }
    return good;
}

bool read_limits(reader *r, const yaml_tree *node, const tl_supply *supplies, int supply_count,
                 tl_pin_limits *limits)
{
    const struct {
        const char *key;
        tl_level *level;
    } levels[] = {{"vil", &limits->vil}, {"vih", &limits->vih}, {"vol", &limits->vol}, {"voh", &limits->voh}};
    bool good = read_limit_values(r, node, limits);
    tl_located leakage = {0};
    const yaml_tree *at;
    if (supply_count > 0 && (at = yaml_get(node, "supply")) != NULL)
        good = read_rail(r, at, supplies, supply_count, false, &limits->supply) && good;
    if ((at = yaml_get(node, "limits")) != NULL)
        good = read_level_span(r, at, &limits->lowest, &limits->highest) && good;
    for (size_t i = 0; i < sizeof levels / sizeof levels[0]; i++) {
        if ((at = yaml_get(node, levels[i].key)) != NULL)
            good = read_level(r, at, levels[i].level) && good;
    }
    good = good && levels_rise(r, node, "vil", &limits->vil, "vih", &limits->vih) &&
           levels_rise(r, node, "vol", &limits->vol, "voh", &limits->voh);
    if ((at = yaml_get(node, "internal")) != NULL)
        good = read_internal(r, at, limits) && good;
    if ((at = yaml_get(node, "leakage")) != NULL) {
        const bool read = read_quantity(r, at, TL_DIM_AMPERE, &leakage);
        if (read)
            limits->leakage = leakage.value;
        good = read && good;
    }
    return good;
}
