/* Sources that move by themselves: courses of the scene, ripple of supplies. */
#include "base/memory.h"
#include "bench/bench_internal.h"
#include <math.h>
#include <string.h>

enum { PIECES_OF_A_PERIOD = 32 };
static const double turn = 6.283185307179586;

static double value_at(const bench_mover *mover, double seconds)
{
    if (mover->course == NULL)
        return mover->middle + mover->swing * sin(turn * fmod(seconds * mover->hertz, 1));
    const double value = tl_course_at(mover->course, seconds);
    if (mover->source->kind == TL_SOURCE_POTENTIOMETER)
        return value / 100;
    return mover->course->of_quantity ? tl_curve_ohms(&mover->source->curve, value) : value;
}

/* The ends of a step are asked for again and again. */
double mover_value(bench_mover *mover, int64_t at_ns)
{
    for (int i = 0; i < 2; i++) {
        if (mover->known_ns[i] == at_ns)
            return mover->known[i];
    }
    const int place = mover->known_next;
    mover->known_next = 1 - place;
    mover->known_ns[place] = at_ns;
    mover->known[place] = value_at(mover, seconds_of(at_ns));
    return mover->known[place];
}

void movers_set(tl_bench *bench, bench_island *s, int64_t at_ns)
{
    for (int i = 0; i < s->mover_count; i++) {
        if (!s->movers[i].held)
            s->values[s->movers[i].param] = mover_value(&s->movers[i], at_ns);
    }
    if (s->rails_move)
        levels_update(bench, s);
}

void movers_aim(tl_bench *bench, bench_island *s, int64_t from_ns, int64_t to_ns)
{
    for (int i = 0; i < s->mover_count; i++) {
        bench_mover *mover = &s->movers[i];
        const bool jumps = mover->course != NULL && mover->course->shape == TL_COURSE_STEPS;
        if (!mover->held)
            s->values[mover->param] = mover_value(mover, jumps ? from_ns : to_ns);
    }
    if (s->rails_move)
        levels_update(bench, s);
}

static int64_t next_of_course(const tl_course *course, int64_t after_ns)
{
    if (course->shape == TL_COURSE_WAVE) {
        const double piece = course->period / PIECES_OF_A_PERIOD;
        return (int64_t)llround(1e9 * piece * (floor(seconds_of(after_ns) / piece + 1e-6) + 1));
    }
    int low = 0, high = course->count; /* the first moment after it */
    while (low < high) {
        const int middle = (low + high) / 2;
        if ((int64_t)llround(1e9 * course->moments[middle].at) > after_ns)
            high = middle;
        else
            low = middle + 1;
    }
    return low < course->count ? (int64_t)llround(1e9 * course->moments[low].at) : INT64_MAX;
}

int64_t movers_next_turn(const bench_island *s, int64_t after_ns, int64_t to_ns)
{
    int64_t next = to_ns;
    for (int i = 0; i < s->mover_count; i++) {
        const bench_mover *mover = &s->movers[i];
        const double piece = mover->course == NULL ? 1 / (mover->hertz * PIECES_OF_A_PERIOD) : 0;
        const int64_t at = mover->course != NULL ? next_of_course(mover->course, after_ns)
                                                 : after_ns + (int64_t)fmax(1e9 * piece, 1);
        next = at < next ? at : next;
    }
    return next;
}

/* Shares of its own largest value, or of 1 where that is more, that it changes in a second at most. */
static double steepness_of(const bench_mover *mover)
{
    const tl_course *course = mover->course;
    double most = 1, steepest = 0;
    if (course == NULL)
        return turn * mover->hertz * mover->swing / fmax(fabs(mover->middle), 1);
    if (course->shape == TL_COURSE_STEPS)
        return 0; /* it jumps at moments of its own, and stands still in between */
    if (course->shape == TL_COURSE_WAVE)
        return turn / course->period * fabs(course->swing) /
               (course->of_quantity ? 1 : fmax(fabs(course->middle), 1));
    for (int i = 0; i + 1 < course->count; i++) {
        const tl_moment *a = &course->moments[i], *b = a + 1;
        most = fmax(most, fmax(fabs(a->value), fabs(b->value)));
        steepest = fmax(steepest, fabs(b->value - a->value) / (b->at - a->at));
    }
    /* A quantity's ohms go by less than a tenth of themselves a degree. */
    return steepest / (course->of_quantity ? 1 : most);
}

static void add_mover(bench_island *s, bench_mover mover)
{
    s->steepest = fmax(s->steepest, steepness_of(&mover));
    mover.known_ns[0] = mover.known_ns[1] = INT64_MIN;
    mover.placed = NAN;
    s->ohms_move = s->ohms_move || !mover.exact;
    s->jumps = s->jumps || (mover.course != NULL && mover.course->shape == TL_COURSE_STEPS);
    if (mover.course == NULL)
        s->period = fmax(s->period, 1 / mover.hertz);
    else if (mover.course->shape == TL_COURSE_WAVE)
        s->period = fmax(s->period, mover.course->period);
    s->rails_move = s->rails_move || mover.exact;
    s->movers = tl_grow(s->movers, (size_t)s->mover_count, sizeof *s->movers);
    s->movers[s->mover_count++] = mover;
}

/* A source that is measured as a rail moves the rail for everybody who hangs on it. */
static void add_course(tl_bench *bench, const tl_course *course)
{
    const int param = bench->wired->signals[course->signal].unknown;
    const tl_source *source = &bench->circuit->plan->signals[course->signal].source;
    for (int k = 0; k < bench->island_count; k++) {
        if (tl_island_has_param(bench->islands[k].island, param) ||
            bench->signals[course->signal].island == &bench->islands[k])
            add_mover(&bench->islands[k], (bench_mover){.param = param,
                                                        .course = course,
                                                        .source = source,
                                                        .exact = source->kind != TL_SOURCE_RESISTANCE &&
                                                                 source->kind != TL_SOURCE_POTENTIOMETER});
    }
}

static bool has_course(const tl_bench *bench, int param)
{
    for (int i = 0; bench->scene != NULL && i < bench->scene->course_count; i++) {
        if (bench->wired->signals[bench->scene->courses[i].signal].unknown == param)
            return true;
    }
    return false;
}

static void add_ripple(tl_bench *bench, int supply)
{
    const tl_supply *of = &bench->circuit->plan->supplies[supply];
    const int param = bench->wired->supply_param[supply];
    if (!(of->ripple > 0) || !(of->ripple_hertz > 0) || of->kind != TL_RAIL_SUPPLY ||
        has_course(bench, param))
        return;
    for (int k = 0; k < bench->island_count; k++) {
        if (tl_island_has_param(bench->islands[k].island, param))
            add_mover(&bench->islands[k], (bench_mover){.param = param,
                                                        .middle = bench->values[param],
                                                        .swing = of->ripple / 2,
                                                        .hertz = of->ripple_hertz,
                                                        .exact = true});
    }
}

void movers_init(tl_bench *bench)
{
    for (int i = 0; bench->scene != NULL && i < bench->scene->course_count; i++)
        add_course(bench, &bench->scene->courses[i]);
    for (int i = 0; i < bench->circuit->plan->supply_count; i++)
        add_ripple(bench, i);
}
