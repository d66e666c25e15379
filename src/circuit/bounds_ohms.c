/*
 * Source resistances need no corners. In a network of resistors the resistance seen from a node never falls
 * as one of them grows (Rayleigh's law), so nearly every parameter has an end at which it is most and another
 * at which it is least. One that makes some resistors larger and others smaller, as the travel of a wiper
 * does, is looked at inside its span: the resistance seen is concave in all resistances, since it is the
 * least power that a current of one ampere can take, so it is least at an end and has one largest value at
 * most.
 */
#include "circuit/bounds_internal.h"
#include "circuit/elements.h"
#include <math.h>

/* Which way a parameter moves a part's ohms over all spans; 0 for not at all. */
static int way_of(const search *s, const tl_net_value *value, int param)
{
    double low, high;
    int way = 0;
    const tl_net_value first = {.factor = value->factor,
                                .first = TL_NET_NONE,
                                .constant = value->constant,
                                .slope = value->slope,
                                .second = value->second};
    if (value->first == param) {
        search_span(s, first, &low, &high);
        way |= (high > 0 ? WAY_UP : 0) | (low < 0 ? WAY_DOWN : 0);
    }
    if (value->second == param && value->slope != 0)
        way |= value->factor * value->slope > 0 ? WAY_UP : WAY_DOWN;
    if (value->extra != 0 && value->third == param)
        way |= value->extra > 0 ? WAY_UP : WAY_DOWN;
    return way;
}

static int way_of_all(const search *s, int param)
{
    const tl_net_state state = {s->values, s->closed};
    int way = 0;
    for (int i = 0; i < s->island->part_count && way != WAY_BOTH; i++) {
        const net_part *part = net_part_of(s->island, i);
        if (part->is->is_ohms && part_present(part, s->island->view, &state))
            way |= way_of(s, &part->value, param);
    }
    return way;
}

bool ohms_need_no_corners(const search *s)
{
    const tl_net_state state = {s->values, s->closed};
    int both = 0;
    for (int i = 0; i < s->island->part_count; i++) {
        const net_part *part = net_part_of(s->island, i);
        if ((part->is->lopsided || (part->is->turns && !s->island->work.all_lit) || part->is->hold != NULL) &&
            part_present(part, s->island->view, &state))
            return false;
    }
    for (int i = 0; i < s->listed_count; i++)
        both += way_of_all(s, s->listed[i]) == WAY_BOTH;
    return both <= TL_NET_SEARCHED;
}

tl_net_status bounds_of_ohms(search *s)
{
    tl_bounds *bounds = s->bounds;
    int ways[PARAMS_MOST];
    reach found;
    double nominal;
    const bool lit = s->island->work.all_lit;
    s->concave = true;
    s->island->work.all_lit = true; /* what leaks is no resistance */
    tl_net_status fault = search_figures(s, &nominal);
    *bounds = (tl_bounds){.low = INFINITY, .nominal = nominal, .high = -INFINITY};
    for (int i = 0; i < s->listed_count; i++) {
        ways[i] = way_of_all(s, s->listed[i]);
        if (ways[i] != 0 && bounds->params < TL_NET_CORNER_PARAMS + TL_NET_SEARCHED)
            bounds->param[bounds->params++] = s->listed[i];
        if (ways[i] == WAY_BOTH)
            s->searched[s->searched_count++] = s->listed[i];
    }
    for (int most = 0; most < 2 && fault == TL_NET_SOLVED; most++) {
        for (int i = 0; i < s->listed_count; i++) {
            const net_param *span = &s->island->net->params[s->listed[i]];
            s->values[s->listed[i]] = (ways[i] == WAY_UP) == (most == 1) ? span->high : span->low;
        }
        fault = search_inside(s, 0, &found);
    }
    s->island->work.all_lit = lit;
    bounds->attained_low = bounds->low;
    bounds->attained_high = bounds->high;
    return fault;
}
