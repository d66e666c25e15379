/*
 * One island in time: what hangs together by anything but ideal rails, with all the signals in it. It is
 * moved on only when somebody looks: from the last look to now in exact steps, one for each stretch in which
 * its contacts stay as they are and its sources move in straight lines.
 */
#include "../net/memory.h"
#include "bench_internal.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

/* Where sources turn, or ohms move, only the last so many time constants matter; ohms are followed in at most so
 * many pieces over them. So many flips of switches at one moment mean that they chatter. */
enum { SETTLED = 20, PIECES_MOST = 64, FLIPS_MOST = 200 };

/* --- switches that voltages work --- */

static double volts_at(const bench_island *s, int node)
{
    const int index = node == TL_NET_GROUND ? TL_NET_NONE : tl_island_index(s->island, node);
    return index == TL_NET_NONE ? 0 : s->volts[index];
}

/* One that is not as its volts would have it; NULL where all are. */
static const tl_switch *wrong_switch(const tl_bench *bench, const bench_island *s)
{
    for (int i = 0; i < s->switch_count; i++) {
        const tl_switch *sw = &bench->wired->switches[s->switches[i]];
        const double above =
            volts_at(s, sw->node) - volts_at(s, sw->against) - tl_net_value_at(sw->level, s->values);
        if (bench->closed[sw->contact] != (sw->below ? above < 0 : above > 0))
            return sw;
    }
    return NULL;
}

/* Capacitors keep their charge, all else follows at once: switches flip until they agree with it. */
static void settle_switches(tl_bench *bench, bench_island *s)
{
    const tl_switch *wrong;
    s->changed = false;
    for (int flips = 0; flips < FLIPS_MOST; flips++) {
        const bench_system *system = system_now(bench, s);
        if (system == NULL)
            return;
        if (s->mover_count > 0)
            tl_transient_jump(system->transient, s->values);
        tl_transient_step(system->transient, 0, s->volts);
        if (system->floats)
            pins_float(bench, s, system->transient);
        if ((wrong = wrong_switch(bench, s)) == NULL)
            return;
        contact_set(bench, wrong->contact, !bench->closed[wrong->contact]);
        s->changed = false;
    }
}

/* --- steps --- */

/* To a time at which nothing has turned or jumped yet. */
static void step(tl_bench *bench, bench_island *s, const bench_system *system, int64_t to_ns)
{
    if (s->mover_count > 0) {
        movers_set(s, seconds_of(s->at_ns));
        tl_transient_jump(system->transient, s->values);
        movers_set(s, seconds_of(to_ns));
        tl_transient_aim(system->transient, s->values);
    }
    tl_transient_step(system->transient, 1e-9 * (double)(to_ns - s->at_ns), s->volts);
    s->at_ns = to_ns;
    if (system->floats)
        pins_float(bench, s, system->transient);
}

/* Goes back to where it was, and on to just behind the first moment at which a switch must flip. */
static void step_to_flip(tl_bench *bench, bench_island *s, const bench_system *system, int64_t from_ns, int64_t to_ns)
{
    const size_t size = (size_t)tl_island_size(s->island) * sizeof *s->volts;
    int64_t low = from_ns, high = to_ns;
    while (high - low > 1) {
        const int64_t middle = low + (high - low) / 2;
        memcpy(s->volts, s->before, size);
        s->at_ns = from_ns;
        step(bench, s, system, middle);
        if (wrong_switch(bench, s) != NULL)
            high = middle;
        else
            low = middle;
    }
    memcpy(s->volts, s->before, size);
    s->at_ns = from_ns;
    step(bench, s, system, high);
}

/* One stretch of steady contacts and straight lines, unless switches break it. */
static void step_with_switches(tl_bench *bench, bench_island *s, int64_t to_ns)
{
    for (int flips = 0; s->at_ns < to_ns; flips++) {
        const int64_t from_ns = s->at_ns;
        if (s->changed)
            settle_switches(bench, s);
        const bench_system *system = system_now(bench, s);
        if (system == NULL) {
            s->at_ns = to_ns; /* no answer: it stays as it was */
            return;
        }
        memcpy(s->before, s->volts, (size_t)tl_island_size(s->island) * sizeof *s->volts);
        step(bench, s, system, to_ns);
        if (s->switch_count == 0 || flips >= FLIPS_MOST || wrong_switch(bench, s) == NULL)
            return;
        step_to_flip(bench, s, system, from_ns, to_ns);
        settle_switches(bench, s);
    }
}

/* --- stretches between edges --- */

/* How many pieces its ohms need until then, so that each moves them little. */
static int pieces_until(const bench_island *s, int64_t to_ns)
{
    double most = 1;
    for (int i = 0; i < s->mover_count; i++) {
        const bench_mover *mover = &s->movers[i];
        if (mover->exact || mover->held)
            continue;
        const double from = mover_value(mover, seconds_of(s->at_ns)), to = mover_value(mover, seconds_of(to_ns));
        most = fmax(most, ceil(fabs(to - from) / fmax(fabs(mover->by), 1e-12)));
    }
    return most < PIECES_MOST ? (int)most : PIECES_MOST;
}

/* A long way with moving ohms, or over many waves: jumps close to its end, where it has settled anyway. The last
 * whole wave is gone through, so that its peaks are seen. */
static void skip_settled(tl_bench *bench, bench_island *s, int64_t to_ns, double period)
{
    const bench_system *system = system_now(bench, s);
    const double slowest = system != NULL ? tl_transient_slowest(system->transient) : 0;
    const int64_t window = (int64_t)(1e9 * fmax(SETTLED * slowest, period)) + 1;
    if (system == NULL || to_ns - s->at_ns <= window)
        return;
    s->at_ns = to_ns - window;
    movers_set(s, seconds_of(s->at_ns));
    if ((system = system_now(bench, s)) == NULL)
        return;
    tl_transient_jump(system->transient, s->values);
    tl_transient_step(system->transient, 2 * SETTLED * slowest, s->volts);
    s->changed = true;
}

/* Of the slowest wave among its sources; 0 for none. */
static double longest_period(const bench_island *s)
{
    double longest = 0;
    for (int i = 0; i < s->mover_count; i++) {
        const bench_mover *mover = &s->movers[i];
        if (mover->course == NULL)
            longest = fmax(longest, 1 / mover->hertz);
        else if (mover->course->shape == TL_COURSE_WAVE)
            longest = fmax(longest, mover->course->period);
    }
    return longest;
}

static bool has_ohms_that_move(const bench_island *s)
{
    for (int i = 0; i < s->mover_count; i++) {
        if (!s->movers[i].exact)
            return true;
    }
    return false;
}

/* Up to an edge; sources may turn on the way. */
static void travel(tl_bench *bench, bench_island *s, int64_t to_ns)
{
    const double period = longest_period(s);
    if (period > 0)
        skip_settled(bench, s, to_ns, period);
    while (s->at_ns < to_ns) {
        int64_t turn = movers_next_turn(s, s->at_ns, to_ns);
        if (has_ohms_that_move(s)) {
            skip_settled(bench, s, turn, 0);
            const int pieces = pieces_until(s, turn);
            const int64_t piece = (turn - s->at_ns) / pieces + 1;
            turn = s->at_ns + piece < turn ? s->at_ns + piece : turn;
        }
        step_with_switches(bench, s, turn);
        if (s->mover_count > 0) { /* what stands at a turn has jumped there */
            movers_set(s, seconds_of(s->at_ns));
            s->changed = s->changed || s->switch_count > 0;
        }
        pins_record(bench, s);
    }
}

void island_advance(tl_bench *bench, bench_island *s, int64_t to_ns)
{
    while (s->at_ns < to_ns) {
        const bench_edge *edge = events_first(bench, s, to_ns);
        const int64_t stop = edge != NULL ? edge->at_ns : to_ns;
        if (stop > s->at_ns)
            travel(bench, s, stop);
        if (edge != NULL)
            events_apply_first(bench, s);
    }
    if (s->changed) {
        settle_switches(bench, s);
        pins_record(bench, s);
    }
}

void island_set_contact(tl_bench *bench, int contact, bool closed)
{
    bench_island *s = bench->island_of_contact[contact];
    if (s != NULL && bench->closed[contact] != closed)
        island_advance(bench, s, bench->now_ns);
    contact_set(bench, contact, closed);
}

/* --- which there are --- */

static bench_island *island_at(tl_bench *bench, int node)
{
    for (int k = 0; k < bench->island_count; k++) {
        if (tl_island_index(bench->islands[k].island, node) != TL_NET_NONE)
            return &bench->islands[k];
    }
    return NULL;
}

static void take_contacts(tl_bench *bench, bench_island *s)
{
    for (int i = 0; i < tl_net_contact_count(bench->wired->net); i++) {
        if (tl_island_has_contact(s->island, i))
            bench->island_of_contact[i] = s;
    }
    for (int i = 0; i < bench->wired->switch_count; i++) {
        if (tl_island_index(s->island, bench->wired->switches[i].node) == TL_NET_NONE)
            continue;
        s->switches = tl_grow(s->switches, (size_t)s->switch_count, sizeof *s->switches);
        s->switches[s->switch_count++] = i;
    }
}

static void open_island(tl_bench *bench, bench_island *s, int node)
{
    const size_t params = (size_t)tl_net_param_count(bench->wired->net);
    s->island = tl_island_new(bench->wired->net, node);
    s->volts = tl_alloc((size_t)tl_island_size(s->island), sizeof *s->volts);
    s->before = tl_alloc((size_t)tl_island_size(s->island), sizeof *s->before);
    s->values = tl_alloc(params, sizeof *s->values);
    memcpy(s->values, bench->values, params * sizeof *s->values);
    s->at_ns = BENCH_BEFORE * INT64_C(1000000000);
    s->changed = true;
    take_contacts(bench, s);
}

void islands_init(tl_bench *bench)
{
    const tl_circuit *c = bench->wired;
    const size_t lines = (size_t)c->plan->line_count;
    bench->signals = tl_alloc(lines, sizeof *bench->signals);
    bench->islands = tl_alloc(lines, sizeof *bench->islands);
    for (int i = 0; i < c->plan->line_count; i++) {
        bench_island *s = island_at(bench, c->signals[i].pin);
        if (s == NULL) {
            s = &bench->islands[bench->island_count++];
            open_island(bench, s, c->signals[i].pin);
        }
        bench->signals[i].island = s;
        s->signals = tl_grow(s->signals, (size_t)s->signal_count, sizeof *s->signals);
        s->signals[s->signal_count++] = i;
    }
}

void islands_free(tl_bench *bench)
{
    for (int k = 0; k < bench->island_count; k++) {
        bench_island *s = &bench->islands[k];
        systems_drop(s);
        tl_island_free(s->island);
        free(s->volts);
        free(s->before);
        free(s->values);
        free(s->edges);
        free(s->cursors);
        free(s->movers);
        free(s->switches);
        free(s->signals);
    }
    free(bench->islands);
    free(bench->signals);
}
