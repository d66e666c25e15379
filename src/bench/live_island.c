/* SPDX-License-Identifier: MIT */
/*
 * One island in time: what is connected by anything but ideal rails, with all the signals in it. It is
 * advanced only when it is looked at: from the last look to now in exact steps, one for each stretch in which
 * its contacts stay as they are and its sources move in straight lines.
 */
#include "base/memory.h"
#include "bench/bench_internal.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/* Where sources turn, or ohms move, only the last this many time constants matter; ohms are followed in at
 * most this many pieces over them. This many rounds of flips at one moment mean that switches chatter. */
enum { SETTLED = 20, PIECES_MOST = 64, ROUNDS_MOST = 200, TOGETHER_ROUNDS = 4 };
#define IDLE_VOLTS 1e-11 /* across a diode: no current */

/* --- switches that voltages work --- */

/* Whether it is not as its volts would have it. At the very level it stays as it is. */
static bool is_wrong(const tl_bench *bench, const bench_island *s, const bench_switch *sw)
{
    const double at = sw->node != TL_NET_NONE ? s->volts[sw->node] : 0,
                 against = sw->against != TL_NET_NONE ? s->volts[sw->against] : 0;
    const double above = at - against - sw->level;
    if (sw->is->idle_opens && sw->slack == 0 && above < IDLE_VOLTS && bench->closed[sw->is->contact])
        return true;
    return fabs(above) > fmax(NOTHING_VOLTS, sw->slack) &&
           bench->closed[sw->is->contact] != (sw->is->below ? above < 0 : above > 0);
}

/* The first that is; NULL where none is. */
static bench_switch *wrong_switch(const tl_bench *bench, const bench_island *s)
{
    for (int i = 0; i < s->switch_count; i++) {
        if (is_wrong(bench, s, &s->switches[i]))
            return &s->switches[i];
    }
    return NULL;
}

/* One that agrees with neither of its states, as a transistor that is just on its way, stays in the one that
 * is wrong by hardly anything. */
static void flip(tl_bench *bench, bench_switch *sw, int round)
{
    sw->slack = round < ROUNDS_MOST / 4 ? 0 : round < ROUNDS_MOST / 2 ? 1e-6 : 1e-3;
    contact_set(bench, sw->is->contact, !bench->closed[sw->is->contact]);
}

/* All that are wrong flip together, which mostly takes a round or two; should that go round in a circle, one
 * after the other. False: none is wrong. */
static bool flip_wrong(tl_bench *bench, bench_island *s, int round)
{
    bool flipped = false;
    for (int i = 0; i < s->switch_count && (!flipped || round < TOGETHER_ROUNDS); i++) {
        if (!is_wrong(bench, s, &s->switches[i]))
            continue;
        flip(bench, &s->switches[i], round);
        flipped = true;
    }
    return flipped;
}

/* A bench that cannot make up its mind says so: it is a fault of the bench, never a reading. */
static void note_chatter(tl_bench *bench, bench_island *s)
{
    char what[120];
    const bench_switch *wrong = wrong_switch(bench, s);
    snprintf(what, sizeof what, "the bench finds no state that its switches agree with, at %s",
             wrong != NULL ? tl_net_node_name(bench->net, wrong->is->node) : "one of them");
    trouble_note(bench, s, what);
}

/* Capacitors keep their charge, all else follows at once: switches flip until they agree with it. */
static void settle_switches(tl_bench *bench, bench_island *s)
{
    s->changed = false;
    for (int round = 0; round < ROUNDS_MOST; round++) {
        const bench_system *system = system_now(bench, s);
        if (system == NULL)
            return;
        if (s->stimulus_count > 0)
            tl_transient_jump(system->transient, s->values);
        tl_transient_step(system->transient, 0, s->volts);
        if (system->floats || s->drifts)
            pins_float(bench, s, system->transient);
        if (!flip_wrong(bench, s, round))
            return;
        s->changed = false;
    }
    note_chatter(bench, s);
}

/* --- steps --- */

/* One step of the equations; what was stays in `before`. */
static void move_on(bench_island *s, const bench_system *system, int64_t to_ns)
{
    double *before = s->volts;
    s->volts = s->before;
    s->before = before;
    tl_transient_step_to(system->transient, 1e-9 * (double)(to_ns - s->at_ns), before, s->volts);
    s->at_ns = to_ns;
}

/* What leaks into a line that nothing defines lifts it as far as the diodes of the parts that it leads to. */
static void hold_loose(bench_island *s, const bench_system *system)
{
    for (int node = 0; node < s->size; node++) {
        if (tl_transient_floats(system->transient, node))
            s->volts[node] = fmin(fmax(s->volts[node], s->lowest + ROOM), s->highest - ROOM);
    }
}

/* To a time at which nothing has turned or jumped yet; where it was stands in `before` then. */
static void step(tl_bench *bench, bench_island *s, const bench_system *system, int64_t to_ns)
{
    if (s->stimulus_count > 0) {
        stimuli_set(bench, s, s->at_ns);
        tl_transient_jump(system->transient, s->values);
        stimuli_aim(bench, s, s->at_ns, to_ns);
        tl_transient_aim(system->transient, s->values);
    }
    move_on(s, system, to_ns);
    if (system->loose)
        hold_loose(s, system);
    if (system->floats || s->drifts)
        pins_float(bench, s, system->transient);
}

/* No passive circuit leaves its rails: a bench that does is wrong, and says so rather than a number. */
static void check_volts(tl_bench *bench, bench_island *s)
{
    for (int node = 0; node < s->size && !s->forced; node++) {
        if (!(s->volts[node] < s->lowest || s->volts[node] > s->highest))
            continue;
        char what[120];
        snprintf(what, sizeof what, "the bench makes %.4g V where no more than %.4g .. %.4g V can be",
                 s->volts[node], s->lowest, s->highest);
        trouble_note(bench, s, what);
        return;
    }
}

static void step_back(bench_island *s, int64_t to_ns)
{
    memcpy(s->volts, s->before, (size_t)s->size * sizeof *s->volts);
    s->at_ns = to_ns;
}

/* Whether a switch must flip, or a pin begins or ceases to suffer. */
static bool turns(const tl_bench *bench, const bench_island *s)
{
    return (s->switch_count > 0 && wrong_switch(bench, s) != NULL) || damage_turns(bench, s);
}

/* Goes back to where it was, and on to just behind the first moment at which that is so. */
static void step_to_turn(tl_bench *bench, bench_island *s, const bench_system *system, int64_t from_ns,
                         int64_t to_ns)
{
    int64_t low = from_ns, high = to_ns;
    while (high - low > 1) {
        const int64_t middle = low + (high - low) / 2;
        step_back(s, from_ns);
        step(bench, s, system, middle);
        if (turns(bench, s))
            high = middle;
        else
            low = middle;
    }
    step_back(s, from_ns);
    step(bench, s, system, high);
}

/* While a pin suffers it goes in pieces, short against what decays and against what moves. */
static int64_t piece_of_suffering(const bench_island *s, const bench_system *system, int64_t begun_ns,
                                  int64_t to_ns)
{
    bool moves = false;
    for (int i = 0; i < s->stimulus_count && s->suffers; i++)
        moves = moves || s->stimuli[i].waveform == NULL || s->stimuli[i].waveform->shape != TL_WAVEFORM_STEPS;
    if (!s->suffers || (!moves && tl_transient_rests(system->transient, s->volts, NOTHING_VOLTS)))
        return to_ns;
    const double slowest = tl_transient_slowest(system->transient),
                 way = moves ? seconds_of(to_ns - begun_ns) : 0,
                 piece = 1e9 * fmax(slowest, way) / PIECES_MOST + 1;
    return (double)(to_ns - s->at_ns) > piece ? s->at_ns + (int64_t)piece : to_ns;
}

/* One stretch of steady contacts and straight lines, unless switches break it. */
static void step_with_switches(tl_bench *bench, bench_island *s, int64_t to_ns)
{
    const int64_t begun_ns = s->at_ns;
    for (int flips = 0; s->at_ns < to_ns;) {
        const int64_t from_ns = s->at_ns;
        if (s->changed)
            settle_switches(bench, s);
        const bench_system *system = system_now(bench, s);
        if (system == NULL) {
            s->at_ns = to_ns; /* no answer: it stays as it was */
            return;
        }
        const int64_t stop_ns = piece_of_suffering(s, system, begun_ns, to_ns);
        step(bench, s, system, stop_ns);
        s->settled = s->stimulus_count == 0 && !system->floats &&
                     tl_transient_rests(system->transient, s->volts, NOTHING_VOLTS);
        if (flips < ROUNDS_MOST && turns(bench, s)) {
            flips++;
            step_to_turn(bench, s, system, from_ns, stop_ns);
            if (wrong_switch(bench, s) != NULL) {
                settle_switches(bench, s);
                continue; /* what a nanosecond of a pin's own capacitance drives through a clamp is no damage
                           */
            }
        }
        if (s->at_ns < to_ns)
            damage_record(bench, s);
    }
    check_volts(bench, s);
}

/* --- stretches between edges --- */

/* How many pieces its ohms need until then, so that each moves them little. */
static int pieces_until(bench_island *s, int64_t to_ns)
{
    double most = 1;
    for (int i = 0; i < s->stimulus_count; i++) {
        bench_stimulus *stimulus = &s->stimuli[i];
        if (stimulus->exact || stimulus->held)
            continue;
        const double from = stimulus_value(stimulus, s->at_ns), to = stimulus_value(stimulus, to_ns);
        most = fmax(most, ceil(fabs(to - from) / fmax(fabs(stimulus->by), 1e-12)));
    }
    return most < PIECES_MOST ? (int)most : PIECES_MOST;
}

/* Whether its sources hardly move over a stretch: then it follows them so closely that nothing shows. */
static bool hardly_moves(bench_island *s, int64_t from_ns, int64_t to_ns)
{
    for (int i = 0; i < s->stimulus_count; i++) {
        bench_stimulus *stimulus = &s->stimuli[i];
        const double from = stimulus_value(stimulus, from_ns), to = stimulus_value(stimulus, to_ns);
        if (!stimulus->held && fabs(to - from) > 1e-5 * fabs(stimulus->exact ? 1 : stimulus->by))
            return false;
    }
    return true;
}

/* Where it rests as its sources are now: switches flip until they agree with that. What never rests has to be
 * lived through, from this instant on. */
static void rest(tl_bench *bench, bench_island *s)
{
    bool wrong = false;
    for (int round = 0; round < ROUNDS_MOST; round++) {
        const bench_system *system = system_now(bench, s);
        if (system == NULL)
            return;
        if (s->stimulus_count > 0)
            tl_transient_jump(system->transient, s->values);
        tl_transient_settle(system->transient, s->volts);
        if (system->floats || s->drifts)
            pins_float(bench, s, system->transient);
        wrong = flip_wrong(bench, s, round);
        if (!wrong)
            break;
    }
    s->changed = wrong;
}

/* An island as it stands: its volts, and what its switches do. */
typedef struct {
    int64_t at_ns;
    double *volts;
    bool *closed, changed;
} island_state;

static island_state state_kept(const tl_bench *bench, const bench_island *s)
{
    island_state kept = {.at_ns = s->at_ns, .changed = s->changed};
    kept.volts = tl_alloc((size_t)s->size + 1, sizeof *kept.volts);
    kept.closed = tl_alloc((size_t)s->switch_count + 1, sizeof *kept.closed);
    memcpy(kept.volts, s->volts, (size_t)s->size * sizeof *kept.volts);
    for (int i = 0; i < s->switch_count; i++)
        kept.closed[i] = bench->closed[s->switches[i].is->contact];
    return kept;
}

static void state_restore(tl_bench *bench, bench_island *s, const island_state *kept)
{
    s->at_ns = kept->at_ns;
    s->changed = kept->changed;
    memcpy(s->volts, kept->volts, (size_t)s->size * sizeof *s->volts);
    for (int i = 0; i < s->switch_count; i++)
        contact_set(bench, s->switches[i].is->contact, kept->closed[i]);
    stimuli_set(bench, s, s->at_ns);
}

static void state_free(island_state *kept)
{
    free(kept->volts);
    free(kept->closed);
}

static double slowest_now(tl_bench *bench, bench_island *s)
{
    const bench_system *system = system_now(bench, s);
    return system != NULL ? tl_transient_slowest(system->transient) : INFINITY;
}

/* A long way with moving ohms, or over many waves: jumps close to its end, where it has settled anyway. The
 * last whole wave is gone through, so that its peaks are seen. Where it is slower there than here, as beside
 * a clamp or a leak that holds it here, it begins as much earlier. */
static void skip_settled(tl_bench *bench, bench_island *s, int64_t to_ns, double period)
{
    double slowest = slowest_now(bench, s), there = 0;
    for (;; slowest = there) {
        const double window = 1e9 * fmax(SETTLED * slowest, period) + 1;
        if (!((double)(to_ns - s->at_ns) > window))
            return;
        island_state kept = state_kept(bench, s);
        const int64_t from_ns = to_ns - (int64_t)window;
        s->at_ns = period == 0 && hardly_moves(s, from_ns, to_ns) ? to_ns : from_ns;
        stimuli_set(bench, s, s->at_ns);
        rest(bench, s);
        there = slowest_now(bench, s);
        const bool settled = there <= slowest;
        if (!settled)
            state_restore(bench, s, &kept);
        state_free(&kept);
        if (settled)
            return;
    }
}

/* The same, though where a pin begins or ceases to suffer on the way, only as far as there. */
static void skip_to_turn(tl_bench *bench, bench_island *s, int64_t to_ns)
{
    enum { FINE_NS = 1000 };
    island_state before = state_kept(bench, s);
    skip_settled(bench, s, to_ns, 0);
    if (s->at_ns > before.at_ns && damage_turns(bench, s)) {
        int64_t low = before.at_ns, high = s->at_ns;
        while (high - low > FINE_NS) {
            const int64_t middle = low + (high - low) / 2;
            state_restore(bench, s, &before);
            skip_settled(bench, s, middle, 0);
            if (damage_turns(bench, s))
                high = middle;
            else
                low = middle;
        }
        state_restore(bench, s, &before);
        skip_settled(bench, s, high, 0);
        damage_record(bench, s);
    }
    state_free(&before);
}

static void go(tl_bench *bench, bench_island *s, int64_t to_ns)
{
    const int64_t from_ns = s->at_ns;
    while (s->at_ns < to_ns) {
        stimuli_rest(s, from_ns, to_ns);
        int64_t turn = stimuli_next_turn(s, s->at_ns, to_ns);
        if (s->ohms_move) {
            skip_to_turn(bench, s, turn);
            if (s->at_ns == turn && !s->changed) {
                damage_record(bench, s);
                continue;
            }
            const int pieces = pieces_until(s, turn);
            const int64_t piece = (turn - s->at_ns) / pieces + 1;
            turn = s->at_ns + piece < turn ? s->at_ns + piece : turn;
        }
        step_with_switches(bench, s, turn);
        stimuli_set(bench, s, s->at_ns);
        s->changed = s->changed || s->jumps;
        damage_record(bench, s);
    }
}

/* Waves that harm nothing are skipped but for the last: whether they do is seen in the first, since something
 * happened last. Those that harm are gone through, until the record of the pin is full. */
static void go_over_waves(tl_bench *bench, bench_island *s, int64_t to_ns)
{
    const int64_t wave = (int64_t)(1e9 * s->period) + 1;
    if (s->calm_ns <= s->touched_ns && to_ns - s->at_ns > 2 * wave) {
        go(bench, s, s->at_ns + wave);
        s->calm_ns = s->at_ns;
    }
    while (s->hurt && s->at_ns < to_ns)
        go(bench, s, to_ns - s->at_ns > wave ? s->at_ns + wave : to_ns);
    skip_settled(bench, s, to_ns, s->period);
    go(bench, s, to_ns);
}

/* Up to an edge; sources may turn on the way. */
static void travel(tl_bench *bench, bench_island *s, int64_t to_ns)
{
    if (s->stimulus_count == 0) {
        step_with_switches(bench, s, to_ns);
        damage_record(bench, s);
        return;
    }
    if (s->period == 0)
        go(bench, s, to_ns);
    while (s->at_ns < to_ns)
        go_over_waves(bench, s, stimuli_next_knot(s, s->at_ns, to_ns));
}

void island_wire(tl_bench *bench, bench_island *s)
{
    if (s->wired)
        return;
    s->wired = true;
    s->at_ns = BENCH_BEFORE * INT64_C(1000000000); /* a pin that floats has drifted by now */
    while (events_first(bench, s, s->at_ns) != NULL)
        events_apply_first(bench, s);
    stimuli_set(bench, s, bench->begun_ns);
}

/* It begins at rest, when the bench did, though no earlier than it is asked for. */
static void begin(tl_bench *bench, bench_island *s)
{
    s->begun = true;
    island_wire(bench, s);
    rest(bench, s);
    s->at_ns = bench->begun_ns;
    if (s->drifts)
        s->changed = true;
    check_volts(bench, s);
    damage_record(bench, s);
}

void island_advance(tl_bench *bench, bench_island *s, int64_t to_ns)
{
    if (!bench->wired)
        return;
    if (!s->begun)
        begin(bench, s);
    while (s->at_ns < to_ns) {
        const bool quiet = s->edge_count == 0 && s->next_event * 1e9 > (double)to_ns + 1;
        const bench_edge *edge = quiet ? NULL : events_first(bench, s, to_ns);
        const int64_t stop = edge != NULL ? edge->at_ns : to_ns;
        if (stop > s->at_ns && s->settled && !s->suffers)
            s->at_ns = stop;
        else if (stop > s->at_ns)
            travel(bench, s, stop);
        if (edge != NULL)
            events_apply_first(bench, s);
    }
    if (s->changed) {
        settle_switches(bench, s);
        damage_record(bench, s);
    }
}

void island_step_still(tl_bench *bench, bench_island *s, int64_t to_ns)
{
    const bench_system *system = system_now(bench, s);
    if (system == NULL) {
        s->at_ns = to_ns;
        return;
    }
    if (s->stimulus_count > 0)
        tl_transient_jump(system->transient, s->values);
    move_on(s, system, to_ns);
    if (s->switch_count > 0 && wrong_switch(bench, s) != NULL)
        s->changed = true;
}

/* Several at one moment make one change: nothing flows in between. */
void island_set_contact(tl_bench *bench, int contact, bool closed)
{
    bench_island *s = bench->island_of_contact[contact];
    if (s != NULL && bench->closed[contact] != closed && (!s->begun || s->at_ns < bench->now_ns))
        island_advance(bench, s, bench->now_ns);
    contact_set(bench, contact, closed);
}

/* --- which there are --- */
