/* SPDX-License-Identifier: MIT */
/* What `watch` sees at each look: readings, their extremes and their past, outputs. */
#include "watch/watch.h"
#include <math.h>
#include <string.h>
#include <time.h>

#define LATE_AFTER 3.0 /* seconds without a word of a signal */
#define PAUSE 0.01     /* so long nothing has come: that was all, for this look */

double share_of_span(const watching *w, int i)
{
    const tl_analog_path *path = tl_circuit_path(tl_bench_circuit(w->bench), w->signals[i]);
    const double span = (double)(path->last_code - path->first_code);
    const double share = span > 0 ? ((double)w->now[i].is.count - (double)path->first_code) / span : 0;
    return w->past[i].falls ? 1 - share : share;
}

bool value_falls(const watching *w, int i)
{
    tl_circuit *circuit = tl_bench_circuit(w->bench);
    const tl_analog_path *path = tl_circuit_path(circuit, w->signals[i]);
    const double span = (double)(path->last_code - path->first_code);
    double low = 0, high = 0;
    return w->plan->signals[w->signals[i]].analog && path->fault == TL_NET_SOLVED &&
           tl_plan_shown(circuit, w->signals[i], (double)path->first_code + round(span / 4), &low) ==
               TL_NET_SOLVED &&
           tl_plan_shown(circuit, w->signals[i], (double)path->first_code + round(3 * span / 4), &high) ==
               TL_NET_SOLVED &&
           high < low;
}

static double figure_of(const watching *w, int i)
{
    const tl_value *is = &w->now[i].is.is;
    return w->as == SHOW_UNIT || !w->now[i].is.analog ? is->value
           : w->as == SHOW_VOLTS                      ? is->pin_volts
                                                      : (double)w->now[i].is.count;
}

static void remember(past_of *p, float share)
{
    p->past[p->next] = share;
    p->next = (p->next + 1) % HISTORY;
    p->filled = p->filled < HISTORY ? p->filled + 1 : HISTORY;
}

const output_state *output_at(const watching *w, int i)
{
    return &w->outputs.of[w->shown[i]];
}

static double seconds_now(void)
{
    struct timespec now;
    clock_gettime(CLOCK_MONOTONIC, &now);
    return (double)now.tv_sec + 1e-9 * (double)now.tv_nsec;
}

/* What the board has said: all that has come if the output is a screen, else line by line. */
static void hear(watching *w)
{
    const double until = seconds_now() + w->every; /* a board that never stops talking is looked at, too */
    counts_got got = COUNTS_LATE;
    do {
        got = counts_next(w->from, w->on_screen ? PAUSE : INFINITY, w->heard, w->told, &w->at);
        for (int i = 0; i < w->count && got == COUNTS_LINE; i++) {
            if (!w->told[w->signals[i]])
                continue;
            w->now[i] = w->heard[w->signals[i]];
            w->heard_at[i] = seconds_now();
        }
    } while (got == COUNTS_LINE && w->on_screen && seconds_now() < until);
    w->ended = w->ended || got == COUNTS_END;
    for (int i = 0; i < w->count; i++) {
        if (seconds_now() - w->heard_at[i] > LATE_AFTER)
            w->now[i] =
                (taken){.is = {.analog = w->plan->signals[w->signals[i]].analog, .status = TL_ERR_LATE},
                        .closings = -1};
    }
}

void look(watching *w)
{
    if (w->from != NULL) {
        hear(w);
    } else {
        taker_look(w->taker, w->bench, w->at, w->now);
        outputs_show(&w->outputs, w->bench, w->signals, w->count, w->now);
    }
    publisher_put(w->to, w->plan, &(published){w->signals, w->now, w->count, &w->outputs, w->at});
    for (int i = 0; i < w->shown_count; i++)
        remember(&w->past[w->count + i],
                 output_at(w, i)->status == TL_OK ? (float)output_at(w, i)->now.duty : -1);
    for (int i = 0; i < w->count; i++) {
        past_of *p = &w->past[i];
        const taken *t = &w->now[i];
        const bool analog = t->is.analog, good = taken_is_good(t);
        const bool failed = !good || t->is.is.open || t->is.is.shorted;
        remember(p, failed ? -1 : analog ? (float)share_of_span(w, i) : (float)w->now[i].is.high);
        if (!failed && (analog || taken_has_value(&w->plan->signals[w->signals[i]], t))) {
            p->least = fmin(p->least, figure_of(w, i));
            p->most = fmax(p->most, figure_of(w, i));
        }
    }
}

void reset_extremes(watching *w)
{
    for (int i = 0; i < w->count; i++) {
        w->past[i].least = INFINITY;
        w->past[i].most = -INFINITY;
    }
}

static void write_count(long count, show_as as, char text[80])
{
    if (as == SHOW_DECIMAL)
        snprintf(text, 80, "%ld", count);
    else if (as == SHOW_HEX)
        snprintf(text, 80, "0x%lx", (unsigned long)count & 0xffffffUL);
    else {
        int at = 0;
        for (int bit = count >= 65536 || count < 0 ? 23 : 15; bit >= 0; bit--) {
            text[at++] = (char)('0' + (count >> bit & 1));
            if (bit % 4 == 0 && bit > 0)
                text[at++] = ' ';
        }
        text[at] = '\0';
    }
}

void value_text(const watching *w, int i, char text[80])
{
    const taken *t = &w->now[i];
    if (!taken_is_good(t) || !t->is.analog || w->as == SHOW_UNIT)
        taken_value(&w->plan->signals[w->signals[i]], t, text);
    else if (w->as == SHOW_VOLTS)
        snprintf(text, 80, "%.4f V", t->is.is.pin_volts);
    else
        write_count(t->is.count, w->as, text);
}
