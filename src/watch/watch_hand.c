/* SPDX-License-Identifier: MIT */
/* The hand in `watch`: keys that turn the chosen source and press the chosen contact. */
#include "watch/watch.h"
#include <math.h>

enum { STEPS_OF_SPAN = 50 };

static const tl_source *source_of(const watching *w, int i)
{
    return &w->plan->signals[w->signals[i]].source;
}

/* Ohms go by a share of themselves, all else in even steps. */
static double stepped(const tl_source *source, double value, double least, double most, int steps)
{
    if (source->kind == TL_SOURCE_RESISTANCE && least > 0)
        return value * pow(most / least, (double)steps / STEPS_OF_SPAN);
    return value + steps * (most - least) / STEPS_OF_SPAN;
}

void hand_turn(watching *w, int steps)
{
    const int i = w->chosen;
    double least, most;
    if (i >= w->count || w->from != NULL)
        return;
    const int signal = w->signals[i], buttons = source_of(w, i)->button_count;
    if (buttons > 0) {
        w->hands[i].button = (w->hands[i].button + (steps > 0 ? 1 : buttons - 1)) % buttons;
    } else if (tl_bench_can_turn(w->bench, signal, &least, &most)) {
        tl_bench_turn(w->bench, signal,
                      stepped(source_of(w, i), tl_bench_truth(w->bench, signal), least, most, steps));
        w->hands[i].holds = true;
    }
}

void hand_press(watching *w)
{
    const int i = w->chosen;
    if (i >= w->count || w->from != NULL || !tl_bench_can_press(w->bench, w->signals[i], w->hands[i].button))
        return;
    const int signal = w->signals[i], button = w->hands[i].button;
    tl_bench_press(w->bench, signal, button, !tl_bench_pressed(w->bench, signal, button));
    w->hands[i].holds = true;
}

void hand_let_go(watching *w)
{
    if (w->chosen >= w->count)
        return;
    tl_bench_let_go(w->bench, w->signals[w->chosen]);
    w->hands[w->chosen].holds = false;
}
