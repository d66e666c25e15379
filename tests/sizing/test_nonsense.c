/* SPDX-License-Identifier: MIT */
/* A requirement that can be met, and then one number of it that makes no sense: each such number is refused
 * alone, however good the others are. */
#include "sizing_figures.h"
#include <math.h>
#include <stddef.h>
#include <stdio.h>

typedef enum {
    DIVIDER,
    RATIO,
    PARTNER,
    FEED,
    FOLLOWER,
    PULL,
    GUARD,
    LAMP,
    DRIVER,
    LOOP,
    BUS,
    SHIFT,
    MUX,
    LADDER,
    FILTER,
    RESERVOIR,
    INJECTION,
    JOBS
} job;

static const tl_quantity two_to_four = {2, 3, 4, true};

static void good_requirement(job is, tl_any_requirement *w)
{
    switch (is) {
    case DIVIDER:
        w->divider = tl_divider_requirement_default();
        w->divider.source = span(10, 14);
        w->divider.limit = 3;
        break;
    case RATIO:
        w->ratio = tl_ratio_requirement_default();
        w->ratio.ratio = 0.3;
        break;
    case PARTNER:
        w->partner = tl_partner_requirement_default();
        w->partner.sensor = span(1e3, 50e3);
        w->partner.rail = two_to_four;
        break;
    case FEED:
        w->feed = tl_feed_requirement_default();
        w->feed.track = span(8e3, 12e3);
        w->feed.rail = span(4.75, 5.25);
        w->feed.limit = 3.2;
        break;
    case FOLLOWER:
        w->follower = tl_follower_requirement_default();
        w->follower.source = span(0, 2);
        w->follower.source_ohms = 1e6;
        w->follower.supply = span(4.75, 5.25);
        w->follower.limit = 3;
        break;
    case PULL:
        w->pull = tl_pull_requirement_default();
        w->pull.rail = two_to_four;
        break;
    case GUARD:
        w->guard = tl_guard_requirement_default();
        w->guard.rail = two_to_four;
        w->guard.pin_amperes = 10e-3;
        break;
    case LAMP:
        w->lamp = tl_lamp_requirement_default();
        w->lamp.supply = span(4.75, 5.25);
        w->lamp.forward = span(1.8, 2.2);
        w->lamp.amperes = 10e-3;
        break;
    case DRIVER:
        w->driver = tl_driver_requirement_default();
        w->driver.supply = span(11, 13);
        w->driver.load = span(200, 240);
        w->driver.high = span(3, 3.3);
        w->driver.pin_amperes = 10e-3;
        break;
    case LOOP:
        w->loop = tl_loop_requirement_default();
        w->loop.limit = 3;
        break;
    case BUS:
        w->bus = tl_bus_requirement_default();
        w->bus.rail = span(3.2, 3.4);
        w->bus.farads = 100e-12;
        break;
    case SHIFT:
        w->shift = tl_shift_requirement_default();
        w->shift.from = span(4.75, 5.25);
        w->shift.to = span(3.2, 3.4);
        break;
    case MUX:
        w->mux = tl_mux_requirement_default();
        w->mux.on_ohms = span(70, 200);
        w->mux.source_ohms = (tl_values){.of = {10e3}, .count = 1};
        w->mux.offered = (tl_values){.of = {50e-6}, .count = 1};
        w->mux.converter.bits = 12;
        w->mux.converter.sample_farads = 10e-12;
        w->mux.converter.switch_ohms = 1e3;
        w->mux.converter.acquisition = 100e-6;
        break;
    case LADDER:
        w->ladder = tl_ladder_requirement_default();
        w->ladder.buttons = 3;
        break;
    case FILTER:
        w->filter = tl_filter_requirement_default();
        w->filter.keep = 10;
        w->filter.reject = 1000;
        break;
    case RESERVOIR:
        w->reservoir = tl_reservoir_requirement_default();
        w->reservoir.source_ohms = 100e3;
        w->reservoir.rate = 10;
        w->reservoir.converter.bits = 12;
        w->reservoir.converter.sample_farads = 10e-12;
        break;
    case INJECTION:
        w->injection = tl_injection_requirement_default();
        w->injection.fault = span(-20, 20);
        w->injection.rail = two_to_four;
        w->injection.amperes = 1e-3;
        break;
    case JOBS:
        break;
    }
}

static void size_it(job is, const tl_any_requirement *w, tl_size_result *answer)
{
    switch (is) {
#define SIZE(which, kind, size)                                                                              \
    case which:                                                                                              \
        size(&w->kind, answer);                                                                              \
        break;
        SIZE(DIVIDER, divider, tl_size_divider)
        SIZE(RATIO, ratio, tl_size_ratio)
        SIZE(PARTNER, partner, tl_size_partner)
        SIZE(FEED, feed, tl_size_feed)
        SIZE(FOLLOWER, follower, tl_size_follower)
        SIZE(PULL, pull, tl_size_pull)
        SIZE(GUARD, guard, tl_size_guard)
        SIZE(LAMP, lamp, tl_size_lamp)
        SIZE(DRIVER, driver, tl_size_driver)
        SIZE(LOOP, loop, tl_size_loop)
        SIZE(BUS, bus, tl_size_bus_pull)
        SIZE(SHIFT, shift, tl_size_shift)
        SIZE(MUX, mux, tl_size_mux)
        SIZE(LADDER, ladder, tl_size_ladder)
        SIZE(FILTER, filter, tl_size_filter)
        SIZE(RESERVOIR, reservoir, tl_size_reservoir)
        SIZE(INJECTION, injection, tl_size_injection)
#undef SIZE
    case JOBS:
        break;
    }
}

#define OF(kind, field) offsetof(tl_any_requirement, kind.field)

static void one_number_that_makes_no_sense_is_refused(void)
{
    static const struct {
        const char *name;
        job is;
        size_t at;
        double value;
    } rows[] = {
        {"source below ground", DIVIDER, OF(divider, source.low), -1},
        {"source without an end", DIVIDER, OF(divider, source.high), NAN},
        {"limit of 0", DIVIDER, OF(divider, limit), 0},
        {"endless limit", DIVIDER, OF(divider, limit), INFINITY},
        {"source resistance", DIVIDER, OF(divider, source_ohms), -1},
        {"endless source resistance", DIVIDER, OF(divider, source_ohms), INFINITY},
        {"load", DIVIDER, OF(divider, load_ohms), 0},
        {"budget", DIVIDER, OF(divider, most_amperes), 0},
        {"tap", DIVIDER, OF(divider, most_tap_ohms), 0},
        {"meter", DIVIDER, OF(divider, meter_ohms), 0},
        {"leakage", DIVIDER, OF(divider, leakage), -1e-9},
        {"share below 0", DIVIDER, OF(divider, least_share), -0.1},
        {"share above 1", DIVIDER, OF(divider, least_share), 1.1},
        {"parts of a leg", DIVIDER, OF(divider, parts), 3},
        {"ratio of 0", RATIO, OF(ratio, ratio), 0},
        {"ratio of 1", RATIO, OF(ratio, ratio), 1},
        {"parts of a ratio", RATIO, OF(ratio, parts), 3},
        {"drift", RATIO, OF(ratio, drift), -1e-6},
        {"away", RATIO, OF(ratio, away), -1},
        {"sensor below 0", PARTNER, OF(partner, sensor.low), -1},
        {"sensor without a range", PARTNER, OF(partner, sensor.high), 1e3},
        {"rail", PARTNER, OF(partner, rail.low), 0},
        {"at", PARTNER, OF(partner, at), 0},
        {"limit", PARTNER, OF(partner, limit), 0},
        {"few bits", PARTNER, OF(partner, bits), 5},
        {"many bits", PARTNER, OF(partner, bits), 25},
        {"track", FEED, OF(feed, track.low), 0},
        {"rail", FEED, OF(feed, rail.low), 0},
        {"limit", FEED, OF(feed, limit), 0},
        {"no track", FEED, OF(feed, tracks), 0},
        {"half a track", FEED, OF(feed, tracks), 1.5},
        {"source resistance", FOLLOWER, OF(follower, source_ohms), 0},
        {"supply", FOLLOWER, OF(follower, supply.low), 0},
        {"limit", FOLLOWER, OF(follower, limit), 0},
        {"low end of its output", FOLLOWER, OF(follower, out_low), -0.1},
        {"high end of its output", FOLLOWER, OF(follower, out_high), -0.1},
        {"low end of its input", FOLLOWER, OF(follower, in_low), -0.1},
        {"high end of its input", FOLLOWER, OF(follower, in_high), -0.1},
        {"bias", FOLLOWER, OF(follower, bias), -1e-9},
        {"rail of 0", PULL, OF(pull, rail.low), 0},
        {"rail without an end", PULL, OF(pull, rail.high), NAN},
        {"leakage", PULL, OF(pull, leakage), -1e-6},
        {"margin", PULL, OF(pull, margin), -0.1},
        {"contact", PULL, OF(pull, closed.low), -1},
        {"contact without an end", PULL, OF(pull, closed.high), NAN},
        {"guard", PULL, OF(pull, guard), -1},
        {"saturation", PULL, OF(pull, saturation.low), -0.1},
        {"saturation without an end", PULL, OF(pull, saturation.high), NAN},
        {"saturation as high as the rail", PULL, OF(pull, saturation.high), 2},
        {"drives nothing", PULL, OF(pull, drives), 0},
        {"wetting", PULL, OF(pull, wetting), -1e-3},
        {"budget", PULL, OF(pull, most_amperes), 0},
        {"capacitance", PULL, OF(pull, farads), -1e-12},
        {"edge", PULL, OF(pull, longest_edge), 0},
        {"thresholds that cross", PULL, OF(pull, vil_share), 0.7},
        {"rail", GUARD, OF(guard, rail.low), 0},
        {"pin", GUARD, OF(guard, pin_amperes), 0},
        {"pull", GUARD, OF(guard, pull), 0},
        {"leakage", GUARD, OF(guard, leakage), -1e-9},
        {"capacitance", GUARD, OF(guard, farads), -1e-12},
        {"supply", LAMP, OF(lamp, supply.low), 0},
        {"forward", LAMP, OF(lamp, forward.low), -0.1},
        {"current", LAMP, OF(lamp, amperes), 0},
        {"drop", LAMP, OF(lamp, drop), -0.1},
        {"pin", LAMP, OF(lamp, pin_ohms), -1},
        {"no lamp", LAMP, OF(lamp, lamps), 0},
        {"least above most", LAMP, OF(lamp, least_amperes), 20e-3},
        {"supply", DRIVER, OF(driver, supply.low), 0},
        {"load", DRIVER, OF(driver, load.low), 0},
        {"high level", DRIVER, OF(driver, high.low), 0},
        {"pin", DRIVER, OF(driver, pin_amperes), 0},
        {"gain", DRIVER, OF(driver, forced_gain), 0.5},
        {"base", DRIVER, OF(driver, base_volts), 0},
        {"saturation", DRIVER, OF(driver, saturation), -0.1},
        {"on-resistance", DRIVER, OF(driver, on_ohms), 0},
        {"heat", DRIVER, OF(driver, most_watts), 0},
        {"coil", DRIVER, OF(driver, henries), -1e-3},
        {"leakage", DRIVER, OF(driver, leakage), -1e-9},
        {"off", DRIVER, OF(driver, off_volts), 0},
        {"limit", LOOP, OF(loop, limit), 0},
        {"current below the fault's", LOOP, OF(loop, most_amperes), 0.0209},
        {"wire", LOOP, OF(loop, wire_ohms), -1},
        {"meter", LOOP, OF(loop, meter_ohms), -1},
        {"compliance", LOOP, OF(loop, compliance), -1},
        {"reference", LOOP, OF(loop, reference), 0},
        {"rail", BUS, OF(bus, rail.low), 0},
        {"capacitance", BUS, OF(bus, farads), 0},
        {"driver's supply", SHIFT, OF(shift, from.low), 0},
        {"receiver's supply", SHIFT, OF(shift, to.low), 0},
        {"low level", SHIFT, OF(shift, vol), -0.1},
        {"drives nothing", SHIFT, OF(shift, drives), 0},
        {"speed", SHIFT, OF(shift, bits_per_second), 0},
        {"capacitance", SHIFT, OF(shift, farads), 0},
        {"no time for an edge", SHIFT, OF(shift, edge_share), 0},
        {"more than a bit for an edge", SHIFT, OF(shift, edge_share), 1.1},
        {"diode", SHIFT, OF(shift, diode), -0.1},
        {"threshold", SHIFT, OF(shift, threshold), -0.1},
        {"injection", SHIFT, OF(shift, injection), -1e-3},
        {"leakage", SHIFT, OF(shift, leakage), -1e-9},
        {"largest pull", SHIFT, OF(shift, most_pull), 0},
        {"clamp", SHIFT, OF(shift, clamp), -0.1},
        {"on-resistance", MUX, OF(mux, on_ohms.low), -1},
        {"no input", MUX, OF(mux, inputs), 0},
        {"many inputs", MUX, OF(mux, inputs), 65},
        {"half an input", MUX, OF(mux, inputs), 4.5},
        {"none used", MUX, OF(mux, used), 0},
        {"half of one used", MUX, OF(mux, used), 2.5},
        {"leakage of switches", MUX, OF(mux, off_leakage), -1e-9},
        {"leakage of the pin", MUX, OF(mux, pin_leakage), -1e-9},
        {"source", MUX, OF(mux, source_ohms.of[0]), -1},
        {"acquisition on offer", MUX, OF(mux, offered.of[0]), 0},
        {"common line", MUX, OF(mux, common_farads), -1e-12},
        {"pin", MUX, OF(mux, converter.pin_farads), -1e-12},
        {"rate", MUX, OF(mux, rate), -1},
        {"conversion", MUX, OF(mux, conversion), -1e-6},
        {"sampling capacitor", MUX, OF(mux, converter.sample_farads), 0},
        {"sampling switch", MUX, OF(mux, converter.switch_ohms), 0},
        {"acquisition", MUX, OF(mux, converter.acquisition), 0},
        {"few bits", MUX, OF(mux, converter.bits), 3},
        {"many bits", MUX, OF(mux, converter.bits), 25},
        {"one button", LADDER, OF(ladder, buttons), 1},
        {"nine buttons", LADDER, OF(ladder, buttons), 9},
        {"half a button", LADDER, OF(ladder, buttons), 2.5},
        {"pull", LADDER, OF(ladder, pull), 0},
        {"few bits", LADDER, OF(ladder, bits), 5},
        {"many bits", LADDER, OF(ladder, bits), 17},
        {"contact", LADDER, OF(ladder, contact_ohms), -1},
        {"errors", LADDER, OF(ladder, errors), -1},
        {"leakage", LADDER, OF(ladder, leakage), -1e-9},
        {"distance", LADDER, OF(ladder, apart), -1},
        {"keeps nothing", FILTER, OF(filter, keep), 0},
        {"rejects what it keeps", FILTER, OF(filter, reject), 10},
        {"by nothing", FILTER, OF(filter, by), 1},
        {"source", FILTER, OF(filter, source_ohms), -1},
        {"resistance", FILTER, OF(filter, most_ohms), 0},
        {"leakage", FILTER, OF(filter, leakage), -1e-9},
        {"tolerance below 0", FILTER, OF(filter, capacitor_tolerance), -0.1},
        {"tolerance of all", FILTER, OF(filter, capacitor_tolerance), 1},
        {"source", RESERVOIR, OF(reservoir, source_ohms), 0},
        {"rate", RESERVOIR, OF(reservoir, rate), 0},
        {"sampling capacitor", RESERVOIR, OF(reservoir, converter.sample_farads), 0},
        {"few bits", RESERVOIR, OF(reservoir, converter.bits), 5},
        {"many bits", RESERVOIR, OF(reservoir, converter.bits), 25},
        {"tolerance below 0", RESERVOIR, OF(reservoir, capacitor_tolerance), -0.1},
        {"tolerance of all", RESERVOIR, OF(reservoir, capacitor_tolerance), 1},
        {"fault without an end", INJECTION, OF(injection, fault.high), NAN},
        {"rail", INJECTION, OF(injection, rail.low), 0},
        {"current", INJECTION, OF(injection, amperes), 0},
        {"clamp", INJECTION, OF(injection, clamp), -0.1},
        {"no pin", INJECTION, OF(injection, pins), 0},
        {"board", INJECTION, OF(injection, board_amperes), -1e-3},
    };
    tl_stock stock = tl_stock_series(TL_E24, 10, 1e6, 0.01);
    for (int is = 0; is < JOBS; is++) {
        tl_any_requirement w;
        tl_size_result *answer = tl_size_result_new(&stock, 1);
        good_requirement((job)is, &w);
        size_it((job)is, &w, answer);
        CHECK_ROW("as it should be", answer->status != TL_SIZE_NONSENSE);
        if (answer->status == TL_SIZE_NONSENSE)
            printf("\n  %d: %s\n", is, answer->refusal);
        tl_size_result_free(answer);
    }
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_any_requirement w;
        tl_size_result *answer = tl_size_result_new(&stock, 1);
        good_requirement(rows[i].is, &w);
        *(double *)((char *)&w + rows[i].at) = rows[i].value;
        size_it(rows[i].is, &w, answer);
        CHECK_ROW(rows[i].name, answer->status == TL_SIZE_NONSENSE && answer->count == 0);
        if (answer->status != TL_SIZE_NONSENSE)
            printf("\n  %d: %s\n", (int)rows[i].is, rows[i].name);
        tl_size_result_free(answer);
    }
    tl_stock_free(&stock);
}

/* An empty requirement of each kind is nonsense, never a crash; and so is one whose every number is not a
 * number. */
static void empty_requirements_are_nonsense(void)
{
    tl_stock stock = tl_stock_series(TL_E6, 10, 1e6, 0.01);
#define EMPTY_IS_NONSENSE(kind, size)                                                                        \
    {                                                                                                        \
        const tl_##kind##_requirement requirement = tl_##kind##_requirement_default();                       \
        tl_size_result *answer = tl_size_result_new(&stock, 3);                                              \
        size(&requirement, answer);                                                                          \
        CHECK_ROW(#kind,                                                                                     \
                  answer->status == TL_SIZE_NONSENSE && answer->count == 0 && answer->refusal[0] != '\0');   \
        tl_size_result_free(answer);                                                                         \
    }
    EMPTY_IS_NONSENSE(divider, tl_size_divider)
    EMPTY_IS_NONSENSE(partner, tl_size_partner)
    EMPTY_IS_NONSENSE(feed, tl_size_feed)
    EMPTY_IS_NONSENSE(follower, tl_size_follower)
    EMPTY_IS_NONSENSE(pull, tl_size_pull)
    EMPTY_IS_NONSENSE(guard, tl_size_guard)
    EMPTY_IS_NONSENSE(lamp, tl_size_lamp)
    EMPTY_IS_NONSENSE(driver, tl_size_driver)
    EMPTY_IS_NONSENSE(loop, tl_size_loop)
    EMPTY_IS_NONSENSE(bus, tl_size_bus_pull)
    EMPTY_IS_NONSENSE(shift, tl_size_shift)
    EMPTY_IS_NONSENSE(mux, tl_size_mux)
    EMPTY_IS_NONSENSE(ladder, tl_size_ladder)
    EMPTY_IS_NONSENSE(filter, tl_size_filter)
    EMPTY_IS_NONSENSE(reservoir, tl_size_reservoir)
    EMPTY_IS_NONSENSE(injection, tl_size_injection)
#undef EMPTY_IS_NONSENSE
    tl_stock_free(&stock);
}

CU_TestInfo nonsense_tests[] = {
    {"empty requirements are nonsense", empty_requirements_are_nonsense},
    {"one number that makes no sense is refused", one_number_that_makes_no_sense_is_refused},
    CU_TEST_INFO_NULL,
};
