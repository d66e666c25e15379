/* Reading what a signal comes from: one function for each kind of source. */
#include "plan_internal.h"
#include <math.h>

static const known_key rail_keys[] = {{"rail", true}, {NULL, false}};
static const known_key voltage_keys[] = {{"voltage", true}, {"resistance", false}, {NULL, false}};
static const known_key current_keys[] = {
    {"current", true}, {"supply", false}, {"compliance", false}, {NULL, false}};
static const known_key resistance_keys[] = {
    {"resistance", true}, {"to", true}, {"lead", false}, {NULL, false}};
static const known_key potentiometer_keys[] = {{"potentiometer", true}, {"top", true},   {"bottom", false},
                                               {"end", false},          {"over", false}, {NULL, false}};
static const known_key contact_keys[] = {
    {"contact", true}, {"closed", false}, {"leakage", false}, {"bounce", false}, {NULL, false}};
static const known_key collector_keys[] = {{"open-collector", true}, {"on", false},     {"saturation", false},
                                           {"leakage", false},       {"bounce", false}, {NULL, false}};
static const known_key logic_keys[] = {{"logic", true},   {"high", false},       {"low", false},
                                       {"drives", false}, {"resistance", false}, {NULL, false}};

static bool read_rail_source(reader *r, const tree *node, const tl_plan *plan, tl_source *source)
{
    return check_map(r, node, "a rail as source", rail_keys) &&
           read_rail(r, tree_get(node, "rail"), plan->supplies, plan->supply_count, false, &source->supply);
}

static bool read_voltage_source(reader *r, const tree *node, const tl_plan *plan, tl_source *source)
{
    (void)plan;
    if (!check_map(r, node, "a voltage source", voltage_keys))
        return false;
    bool good = read_quantity(r, tree_get(node, "voltage"), TL_DIM_VOLT, &source->value);
    if (tree_get(node, "resistance") != NULL)
        good = read_quantity(r, tree_get(node, "resistance"), TL_DIM_OHM, &source->ohms) && good;
    return good;
}

static bool read_potentiometer(reader *r, const tree *node, const tl_plan *plan, tl_source *source)
{
    const tree *at;
    if (!check_map(r, node, "a potentiometer", potentiometer_keys))
        return false;
    source->bottom = TL_TO_GROUND;
    source->over.value = (tl_quantity){0, 50, 100, false};
    bool good = read_part(r, tree_get(node, "potentiometer"), TL_DIM_OHM, "a track", &source->value);
    good = read_rail(r, tree_get(node, "top"), plan->supplies, plan->supply_count, true, &source->supply) &&
           good;
    if ((at = tree_get(node, "bottom")) != NULL)
        good = read_rail(r, at, plan->supplies, plan->supply_count, true, &source->bottom) && good;
    if ((at = tree_get(node, "end")) != NULL)
        good = read_quantity(r, at, TL_DIM_OHM, &source->ohms) && good;
    if ((at = tree_get(node, "over")) != NULL)
        good = read_quantity(r, at, TL_DIM_PERCENT, &source->over) && good;
    if (good && (source->over.value.low < 0 || source->over.value.high > 100)) {
        report_error(r, "bad-quantity", source->over.place, "travel lies within 0 %% .. 100 %%");
        good = false;
    }
    if (good && source->supply == source->bottom) {
        report_error(r, "same-rail", source->place, "both ends of the track are on the same rail");
        good = false;
    }
    return good;
}

static bool read_current(reader *r, const tree *node, const tl_plan *plan, tl_source *source)
{
    const tree *at;
    source->supply = TL_TO_GROUND;
    if (!check_map(r, node, "a current source", current_keys))
        return false;
    bool good = read_quantity(r, tree_get(node, "current"), TL_DIM_AMPERE, &source->value);
    if ((at = tree_get(node, "supply")) != NULL)
        good = read_rail(r, at, plan->supplies, plan->supply_count, false, &source->supply) && good;
    if ((at = tree_get(node, "compliance")) != NULL)
        good = read_value(r, at, TL_DIM_VOLT, &source->compliance) && good;
    if (good && !isnan(source->compliance) && source->supply == TL_TO_GROUND) {
        report_error(r, "missing-key", node->place,
                     "a compliance says what is left of a supply: 'supply' is missing");
        good = false;
    }
    return good;
}

static bool read_resistance(reader *r, const tree *node, const tl_plan *plan, tl_source *source)
{
    if (!check_map(r, node, "a resistance", resistance_keys))
        return false;
    bool good = read_quantity(r, tree_get(node, "resistance"), TL_DIM_OHM, &source->value);
    good =
        read_rail(r, tree_get(node, "to"), plan->supplies, plan->supply_count, true, &source->supply) && good;
    if (tree_get(node, "lead") != NULL)
        good = read_quantity(r, tree_get(node, "lead"), TL_DIM_OHM, &source->ohms) && good;
    return good;
}

/* What a contact and an open collector share: leakage while open, and bounce. */
static bool read_open_state(reader *r, const tree *node, tl_source *source)
{
    tl_written leakage = {0};
    const tree *at;
    bool good = true;
    if ((at = tree_get(node, "leakage")) != NULL)
        good = read_quantity(r, at, TL_DIM_AMPERE, &leakage);
    if ((at = tree_get(node, "bounce")) != NULL)
        good = read_value(r, at, TL_DIM_SECOND, &source->bounce) && good;
    source->leakage = fmax(fabs(leakage.value.low), fabs(leakage.value.high));
    return good;
}

static bool read_open_collector(reader *r, const tree *node, const tl_plan *plan, tl_source *source)
{
    double saturation = 0.4;
    if (!check_map(r, node, "an open collector", collector_keys))
        return false;
    bool good = read_rail(r, tree_get(node, "open-collector"), plan->supplies, plan->supply_count, true,
                          &source->supply);
    if (tree_get(node, "saturation") != NULL)
        good = read_value(r, tree_get(node, "saturation"), TL_DIM_VOLT, &saturation) && good;
    if (tree_get(node, "on") != NULL)
        good = read_value(r, tree_get(node, "on"), TL_DIM_AMPERE, &source->drives) && good;
    if (good && (saturation < 0 || source->drives <= 0)) {
        report_error(r, "bad-quantity", node->place, "saturation and on-current cannot be negative");
        good = false;
    }
    source->value.value = (tl_quantity){0, saturation / 2, saturation, true};
    return read_open_state(r, node, source) && good;
}

static bool read_logic(reader *r, const tree *node, const tl_plan *plan, tl_source *source)
{
    source->high = (tl_level){0, 1};
    if (!check_map(r, node, "a logic output", logic_keys))
        return false;
    bool good =
        read_rail(r, tree_get(node, "logic"), plan->supplies, plan->supply_count, false, &source->supply);
    if (tree_get(node, "high") != NULL)
        good = read_level(r, tree_get(node, "high"), &source->high) && good;
    if (tree_get(node, "low") != NULL)
        good = read_level(r, tree_get(node, "low"), &source->low) && good;
    if (tree_get(node, "drives") != NULL)
        good = read_value(r, tree_get(node, "drives"), TL_DIM_AMPERE, &source->drives) && good;
    if (tree_get(node, "resistance") != NULL)
        good = read_quantity(r, tree_get(node, "resistance"), TL_DIM_OHM, &source->ohms) && good;
    if (good && source->drives <= 0) {
        report_error(r, "bad-quantity", node->place, "a logic output must drive something");
        good = false;
    }
    return good;
}

static bool read_contact(reader *r, const tree *node, const tl_plan *plan, tl_source *source)
{
    if (!check_map(r, node, "a contact", contact_keys))
        return false;
    bool good =
        read_rail(r, tree_get(node, "contact"), plan->supplies, plan->supply_count, true, &source->supply);
    if (tree_get(node, "closed") != NULL)
        good = read_quantity(r, tree_get(node, "closed"), TL_DIM_OHM, &source->ohms) && good;
    return read_open_state(r, node, source) && good;
}

static const struct {
    const char *key;
    tl_source_kind kind;
    bool (*read)(reader *r, const tree *node, const tl_plan *plan, tl_source *source);
} source_kinds[] = {
    {"rail", TL_SOURCE_RAIL, read_rail_source},
    {"voltage", TL_SOURCE_VOLTAGE, read_voltage_source},
    {"potentiometer", TL_SOURCE_POTENTIOMETER, read_potentiometer},
    {"contact", TL_SOURCE_CONTACT, read_contact},
    {"open-collector", TL_SOURCE_OPEN_COLLECTOR, read_open_collector},
    {"logic", TL_SOURCE_LOGIC, read_logic},
    {"current", TL_SOURCE_CURRENT, read_current},
    {"resistance", TL_SOURCE_RESISTANCE,
     read_resistance}, /* last: a voltage and a logic output have a resistance too */
};

bool tl_source_closes_low(const tl_source *source)
{
    return source->kind == TL_SOURCE_LOGIC || source->supply == TL_TO_GROUND;
}

bool read_source(reader *r, const tree *node, const tl_plan *plan, tl_source *source)
{
    source->place = node->place;
    source->drives = source->compliance = NAN;
    for (size_t i = 0; i < sizeof source_kinds / sizeof source_kinds[0]; i++) {
        if (tree_get(node, source_kinds[i].key) != NULL) {
            source->kind = source_kinds[i].kind;
            return source_kinds[i].read(r, node, plan, source);
        }
    }
    report_error(r, "unknown-source", node->place,
                 "a source says what it is: rail, voltage, current, resistance, potentiometer, contact, "
                 "open-collector or logic, as in {rail: battery}");
    return false;
}
