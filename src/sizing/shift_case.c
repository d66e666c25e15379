/* SPDX-License-Identifier: MIT */
/* What the ways from one voltage world into another share. */
#include "sizing/shift_case.h"
#include <stdarg.h>
#include <stdio.h>

tl_choice shift_choice(const char *name, shift_way way)
{
    return (tl_choice){.way = name, .score = WAYS - way};
}

bool shift_settle(const shift_case *k, const tl_choice *c)
{
    for (int i = 0; i < c->figures; i++) {
        const tl_size_figure *f = &c->figure[i];
        if (!figure_broken(f) || k->answer->compare)
            continue;
        result_reject(k->answer, c, "%s: %s %s, limit %s", say_way(c->way), f->label, say_figure(f),
                      say_limit(f));
        return false;
    }
    result_offer(k->answer, c);
    return true;
}

void shift_rule_out(const shift_case *k, const char *name, const char *format, ...)
{
    char why[200];
    va_list arguments;
    va_start(arguments, format);
    vsnprintf(why, sizeof why, format, arguments);
    va_end(arguments);
    result_reject(k->answer, NULL, "%s: %s", say_way(name), why);
}

void shift_add_off(const shift_case *k, const shift_off *off, tl_choice *c)
{
    if (k->w->receiver_off != 0 && is_said(off->receiver_volts))
        choice_figure(c, TL_FIG_RECEIVER_OFF_VOLTS, off->receiver_volts, shift_room(k));
    else if (k->w->receiver_off != 0)
        choice_figure(c, TL_FIG_RECEIVER_OFF, off->receiver_amperes, k->w->injection);
    if (k->w->driver_off != 0)
        choice_figure(c, TL_FIG_DRIVER_OFF, off->driver_amperes, 0);
}

double shift_edge(double ohms, double farads, double end, double from, double to)
{
    const double ratio = (end - from) / (end - to);
    return ratio >= 1 && isfinite(ratio) ? ohms * farads * log(ratio) : INFINITY;
}

double shift_line_cost(const shift_case *k, const tl_leg *leg, double edge_share)
{
    tl_choice c = {0};
    choice_part(&c, "line", TL_DIM_OHM, leg);
    practice_add(&c, PRACTICE_LINE_SMALL, leg->nominal);
    practice_add(&c, PRACTICE_LINE_LARGE, leg->nominal);
    practice_add(&c, PRACTICE_LINE_MIDDLE, leg->nominal);
    practice_add(&c, PRACTICE_EDGE, edge_share);
    practice_common(&c, k->answer->stock);
    return k->answer->order == TL_BY_PRACTICE ? c.cost : -leg->nominal;
}

bool shift_asked(const shift_case *k, int place, tl_leg *leg)
{
    if (place >= k->answer->stock->count)
        return false;
    *leg = leg_of(k->answer->stock, place);
    return true;
}

double shift_room(const shift_case *k)
{
    return k->limit - k->w->to.low;
}

double shift_room_back(const shift_case *k)
{
    return k->limit_back - k->w->from.low;
}

bool shift_goes_down(const shift_case *k)
{
    return k->w->from.high > k->w->to.low;
}
