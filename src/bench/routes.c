/* Multiplexers: which switch is closed follows from the lines that the firmware drives. */
#include "bench/bench_internal.h"
#include <math.h>

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
    for (int m = 0; m < plan->mux_count; m++) {
        const int input = chosen_input(bench, &plan->muxes[m]);
        changed = changed || input != bench->mux_input[m];
        bench->mux_input[m] = input;
    }
    return changed;
}

int64_t routes_turn_after(const tl_bench *bench, int64_t after_ns)
{
    int64_t next = INT64_MAX;
    if (bench->circuit->plan->mux_count == 0 || bench->scene == NULL)
        return next;
    for (int i = 0; i < bench->scene->fault_count; i++) {
        const tl_scene_fault *fault = &bench->scene->faults[i];
        const double ends[2] = {fault->from, fault->until};
        if (fault->kind != TL_SCENE_MISSING && fault->line[0] == TL_NONE)
            continue;
        for (int end = 0; end < 2; end++) {
            const int64_t at = isfinite(ends[end]) ? (int64_t)llround(1e9 * ends[end]) : INT64_MAX;
            next = at > after_ns && at < next ? at : next;
        }
    }
    return next;
}

/* Break before make: all that open, then the one that closes. */
void muxes_update(tl_bench *bench)
{
    tl_circuit *c = bench->circuit;
    if (!choose_inputs(bench))
        return;
    for (int make = 0; make < 2; make++) {
        for (int s = 0; s < c->plan->signal_count; s++) {
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
