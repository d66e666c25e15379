/* SPDX-License-Identifier: MIT */
/* Multiplexers: which switch is closed follows from the lines that the firmware drives. */
#include "base/memory.h"
#include "bench/bench_internal.h"
#include <stdlib.h>

/* A line that nothing drives reads as low here: a real one would do as it likes, which check warns of. */
static bool holds_high(const tl_bench *bench, const tl_line_holder *holder)
{
    int stuck;
    if (holder->pin == TL_NONE)
        return holder->rail != TL_TO_GROUND;
    const bench_line *line = &bench->lines[line_really(bench, holder->pin, &stuck)];
    return stuck >= 0 ? stuck == 1 : line->use == TL_LINE_OUTPUT && line->high;
}

static int chosen_input(const tl_bench *bench, const tl_mux *mux)
{
    int code = 0;
    if (supply_is_missing(bench, mux->supply))
        return TL_NONE;
    for (int i = 0; i < mux->select_count; i++)
        code |= holds_high(bench, &mux->select[i]) << i;
    if (mux->part->enable != 0 && mux->enable.given &&
        holds_high(bench, &mux->enable) != (mux->part->enable == 2))
        return TL_NONE;
    return code;
}

/* Whether any has another input now than it had. */
static bool choose_inputs(tl_bench *bench)
{
    const tl_plan *plan = bench->circuit->plan;
    bool changed = false;
    for (int i = 0; i < bench->mux_count; i++) {
        const int m = bench->muxes[i], input = chosen_input(bench, &plan->muxes[m]);
        changed = changed || input != bench->mux_input[m];
        bench->mux_input[m] = input;
    }
    return changed;
}

/* Inputs that a rail is wired to. */
static void lead_tied(tl_bench *bench, bool make)
{
    const tl_plan *plan = bench->circuit->plan;
    for (int k = 0; k < bench->mux_count; k++) {
        const int m = bench->muxes[k];
        for (int i = 0; i < plan->muxes[m].part->inputs; i++) {
            if (plan->muxes[m].tied[i] != TL_OPEN && (bench->mux_input[m] == i) == make)
                island_set_contact(bench, bench->circuit->mux_contact[m] + i, make);
        }
    }
}

static bool has_tied(const tl_mux *mux)
{
    int i = 0;
    while (i < mux->part->inputs && mux->tied[i] == TL_OPEN)
        i++;
    return i < mux->part->inputs;
}

static void list_muxes(tl_bench *bench)
{
    const tl_circuit *c = bench->circuit;
    const tl_plan *plan = c->plan;
    bool *on = tl_alloc((size_t)plan->mux_count, sizeof *on);
    for (int i = 0; i < bench->routed_count; i++) {
        int pin = plan->signals[bench->routed[i]].pin;
        for (int r = 0; r < c->signals[bench->routed[i]].route_length; r++) {
            on[plan->pins[pin].mux] = true;
            pin = plan->muxes[plan->pins[pin].mux].common;
        }
    }
    bench->muxes = tl_alloc((size_t)plan->mux_count, sizeof *bench->muxes);
    for (int m = 0; m < plan->mux_count; m++) {
        if (on[m] || has_tied(&plan->muxes[m]))
            bench->muxes[bench->mux_count++] = m;
    }
    free(on);
}

void routes_init(tl_bench *bench)
{
    const tl_circuit *c = bench->circuit;
    bench->mux_input = tl_alloc((size_t)c->plan->mux_count, sizeof *bench->mux_input);
    for (int i = 0; i < c->plan->mux_count; i++)
        bench->mux_input[i] = -2; /* not looked at yet */
    bench->routed = tl_alloc((size_t)c->plan->signal_count, sizeof *bench->routed);
    for (int s = 0; s < c->plan->signal_count; s++) {
        if (c->signals[s].route_length > 0 && is_on_bench(bench, s))
            bench->routed[bench->routed_count++] = s;
    }
    list_muxes(bench);
}

/* Break before make: all that open, then the one that closes. */
void muxes_update(tl_bench *bench)
{
    tl_circuit *c = bench->circuit;
    if (!choose_inputs(bench))
        return;
    for (int make = 0; make < 2; make++) {
        lead_tied(bench, make == 1);
        for (int i = 0; i < bench->routed_count; i++) {
            const int s = bench->routed[i];
            int pin = c->plan->signals[s].pin;
            for (int r = 0; r < c->signals[s].route_length; r++) {
                const tl_pin *input = &c->plan->pins[pin];
                const bool closed = bench->mux_input[input->mux] == input->input;
                if (closed == (make == 1))
                    island_set_contact(bench, c->signals[s].route[r], closed);
                pin = c->plan->muxes[input->mux].common;
            }
        }
    }
}
