/* SPDX-License-Identifier: MIT */
/* Supplies that are off, against closed forms: open they are fed by what leads to them, shorted they stand at
 * 0 V; and ripple that is fast against a slow filter. */
#include "bench/open_with.h"
#include "elaborate/circuit_struct.h"
#include <complex.h>
#include <math.h>
#include <stdio.h>
#include <string.h>

/* 3 V through 1k and 10k feeds the rail, which 22k and 47k, the 1 Mohm of all else, and a clamp load. */
static void is_fed_by_what_leads_to_it(void)
{
    static const char plan[] =
        "supplies: {five: 5 V ±0 %}\nsignals:\n"
        "  a: {source: {voltage: 3 V}, stages: [series: 1k ±0 %, pull: {up: 10k ±0 %, to: five}], pin: L4}\n"
        "  b: {source: {contact: ground}, stages: [pull: {up: 22k ±0 %, to: five}, guard: 47k ±0 %], pin: "
        "L5}\n"
        "  c: {source: {voltage: 1 V}, stages: [series: 1k ±0 %], pin: L6}\n";
    const double open = 3 * 1e6 / (1e6 + 11e3); /* nothing of b draws */
    static const struct {
        const char *name, *scene;
        double at, a, b;
    } rows[] = {
        {"all is well", "faults: [{missing: five, from: 20 s}]\n", 10, 3 + 2 / 11.0, 0},
        {"off", "faults: [{missing: five, from: 20 s}]\n", 30, 3, 0},
        {"shorted", "faults: [{missing: five, off: shorted, from: 20 s}]\n", 30, 3 - 3 / 11.0, 0},
        {"back again", "faults: [{missing: five, from: 20 s, until: 40 s}]\n", 50, 3 + 2 / 11.0, 0},
        {"pressed", "faults: [{missing: five}]\npresses: {b: [1 s for 50 s]}\n", 30, 3 - 3 / 33.0, 0},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_bench *bench = open_with(plan, rows[i].scene);
        tl_bench_go_to(bench, rows[i].at);
        CHECK_ROW(rows[i].name, near(tl_bench_pin_volts(bench, 0), rows[i].a, 0.004));
        CHECK_ROW(rows[i].name,
                  near(tl_bench_pin_volts(bench, 2), 1, 1e-3)); /* who is not on it does not mind */
        const char *trouble = tl_bench_trouble(bench);
        CHECK_ROW(rows[i].name, trouble == NULL || *trouble == '\0');
        tl_bench_free(bench);
    }
    tl_bench *bench = open_with(plan, "faults: [{missing: five}]\n");
    CU_ASSERT(near(tl_bench_pin_volts(bench, 1), open, 0.01)); /* 22k brings the fed rail to its pin */
    tl_bench_free(bench);
}

/* A pin's clamp feeds the board's rail: 9 V through 1k, and 10 ohm behind 0.3 V over it, against 1k to
 * ground. */
static void is_fed_through_a_clamp(void)
{
    tl_bench *bench =
        open_with("signals:\n"
                  "  a: {source: {voltage: 0 V .. 9 V}, stages: [series: 10k ±0 %], pin: L4}\n"
                  "  b: {source: {voltage: 0 V}, stages: [series: 5k ±0 %, pull: {up: 5k ±0 %, to: "
                  "logic}], pin: L5}\n",
                  "values: {a: [0 s: 9 V]}\nfaults: [{missing: logic}]\n");
    const double load = 1 / (1 / 10e3 + 1 / 1e6), amperes = (9 - 0.3) / (10e3 + 10 + load);
    CU_ASSERT(near(tl_bench_pin_volts(bench, 0), 9 - 10e3 * amperes, 0.01));
    CU_ASSERT(near(tl_bench_pin_volts(bench, 1), load * amperes / 2, 0.01));
    tl_bench_free(bench);
}

/* One look far away and many looks see the same of ripple behind a slow filter, and that is what one pole
 * makes of it. */
static void slow_filters_pass_fast_ripple(void)
{
    static const char plan[] =
        "supplies: {motor: {voltage: 12 V ±0 %, ripple: 2 V, frequency: 100 Hz}}\n"
        "signals: {s: {source: {rail: motor}, stages: [divider: {upper: 30k ±0 %, lower: 10k ±0 %}, filter: "
        "{series: 1M ±0 %, capacitor: 1 uF ±0 %}], pin: L4}}\n";
    const double ohms = 1e6 + 7.5e3, w = 2 * 3.141592653589793 * 100;
    const double complex swing = 0.25 / (1 + I * w * ohms * 1e-6);
    double first = NAN;
    for (int i = 0; i < 4; i++) {
        const double at = 50 + 0.0025 * i, moved = cimag(swing * (cexp(I * w * at) - cexp(I * w * 50)));
        tl_bench *once = open_with(plan, ""), *often = open_with(plan, "");
        tl_bench_go_to(once, at);
        for (int look = 0; look < 100; look++) {
            tl_bench_go_to(often, at - 0.003 * (100 - look));
            (void)tl_bench_pin_volts(often, 0);
        }
        tl_bench_go_to(often, at);
        const double far = tl_bench_pin_volts(once, 0), close = tl_bench_pin_volts(often, 0);
        first = i == 0 ? far : first; /* leakage shifts the middle: only the swing is known */
        CU_ASSERT(fabs(far - close) < 5e-5 * 0.25);
        CU_ASSERT(fabs(far - first - moved) <= 0.005 * fabs(moved)); /* 32 straight pieces make 0.3 % */
        tl_bench_free(once);
        tl_bench_free(often);
    }
}

/* Whatever the bench draws, a supply leaves its span by half its ripple at most, and does so; and it can be
 * asked for by its name. */
static void ripple_goes_on_top(void)
{
    static const char plan[] =
        HEAD "supplies: {motor: {voltage: 11 V .. 13 V, ripple: 1.8 V, frequency: 100 Hz}}\n"
             "signals: {s: {source: {voltage: 0 V}, stages: [series: 10k, pull: {up: 100k, to: motor}], pin: "
             "L4}}\n";
    const char *path = scratch_file("ripple.plan.yaml", plan, strlen(plan));
    double least = INFINITY, most = -INFINITY;
    for (unsigned long seed = 1; seed <= 20; seed++) {
        tl_report *report = tl_report_new();
        tl_plan *loaded = tl_plan_load(path, report);
        CU_ASSERT_FATAL(loaded != NULL);
        tl_circuit *circuit = tl_circuit_new(loaded);
        tl_bench *bench = tl_bench_new(circuit, NULL, seed);
        for (int i = 0; i < 40; i++) {
            double volts = NAN;
            tl_bench_go_to(bench, 1 + 0.00025 * i);
            CU_ASSERT(tl_bench_node_volts(bench, "motor", &volts) == TL_NET_SOLVED);
            least = fmin(least, volts);
            most = fmax(most, volts);
        }
        tl_bench_free(bench);
        tl_circuit_free(circuit);
        tl_plan_free(loaded);
        tl_report_free(report);
    }
    CU_ASSERT(least >= 11 - 0.9 - 1e-9 && most <= 13 + 0.9 + 1e-9);
    CU_ASSERT(least < 11 - 0.8 && most > 13 + 0.8);
}

/* What a pin feeds follows what the firmware does with it: high, low, a share behind a filter, nothing. */
static void follows_the_pin(void)
{
    tl_bench *bench = open_with(
        "supplies: {top: {pin: L8, level: high}, foot: {pin: L30, level: low}}\nsignals:\n"
        "  fed: {source: {rail: top}, stages: [divider: {upper: 1k ±0 %, lower: 1k ±0 %}, filter: {series: "
        "10k ±0 %, capacitor: 1 uF ±0 %}], pin: L4}\n"
        "  sunk: {source: {voltage: 3 V}, stages: [series: 1k ±0 %, pull: {up: 1k ±0 %, to: foot}], pin: "
        "L5}\n",
        "");
    const tl_circuit *c = tl_bench_circuit(bench);
    const tl_port *port = tl_bench_port(bench);
    const uint8_t top = (uint8_t)tl_bench_line(bench, "L8"), foot = (uint8_t)tl_bench_line(bench, "L30");
    double ohms[2] = {0}, logic = 0, leak = 5e-4; /* 50 nA through 10k */
    for (int i = 0; i < tl_net_param_count(tl_circuit_net(c)); i++) {
        const char *name = tl_net_param_name(tl_circuit_net(c), i);
        ohms[0] += strcmp(name, "top.resistance") == 0 ? tl_bench_value(bench, i) : 0;
        ohms[1] += strcmp(name, "foot.resistance") == 0 ? tl_bench_value(bench, i) : 0;
        logic += strcmp(name, "logic") == 0 ? tl_bench_value(bench, i) : 0;
    }
    const double half = logic * 1e3 / (2e3 + ohms[0]);
    CU_ASSERT(ohms[0] > 10 && ohms[1] > 10 && logic > 3);
    CU_ASSERT(fabs(tl_bench_pin_volts(bench, 0) - half) < 2 * leak);
    CU_ASSERT(fabs(tl_bench_pin_volts(bench, 1) - 3 * (1e3 + ohms[1]) / (2e3 + ohms[1])) < leak);
    CU_ASSERT(tl_port_line_duty(port, top, 16384) == TL_OK);
    const double tau = 1e-6 * (10e3 + 1 / (1 / 1e3 + 1 / (1e3 + ohms[0])));
    CU_ASSERT(tl_port_wait_us(port, 5000) == TL_OK);
    CU_ASSERT(fabs(tl_bench_pin_volts(bench, 0) - half * (0.25 + 0.75 * exp(-5e-3 / tau))) < 2 * leak);
    CU_ASSERT(tl_port_line_drive(port, foot, true) == TL_OK && tl_port_wait_us(port, 10) == TL_OK);
    CU_ASSERT(fabs(tl_bench_pin_volts(bench, 1) - (3 + (logic - 3) * 1e3 / (2e3 + ohms[1]))) < leak);
    CU_ASSERT(tl_port_line_use(port, foot, TL_LINE_INPUT) == TL_OK && tl_port_wait_us(port, 10) == TL_OK);
    CU_ASSERT(fabs(tl_bench_pin_volts(bench, 1) - 3) < leak); /* released */
    CU_ASSERT(tl_port_line_drive(port, top, false) == TL_OK && tl_port_wait_us(port, 1000000) == TL_OK);
    CU_ASSERT(fabs(tl_bench_pin_volts(bench, 0)) < 2 * leak);
    tl_bench_free(bench);
}

/* What leads into an input of another board draws its current: from the supply of its pull while the pin
 * drives low, from that of the pin while it drives high; nothing while the pin is released. */
static void far_inputs_draw_their_current(void)
{
    tl_bench *bench = open_with(
        "supplies: {far: {voltage: 5 V ±0 %, resistance: 100 ohm ±0 %}}\nsignals:\n"
        "  m: {source: {rail: far}, stages: [divider: {upper: 30k ±0 %, lower: 10k ±0 %}], pin: L4}\n"
        "outputs:\n"
        "  go: {pin: L8, stages: [series: 220 ohm ±0 %, pull: {up: 680 ohm ±0 %, to: far}], into: {vil: 1.9 "
        "V, "
        "vih: 2 V}}\n",
        "");
    const tl_port *port = tl_bench_port(bench);
    const tl_circuit *circuit = tl_bench_circuit(bench);
    const uint8_t line = (uint8_t)tl_bench_line(bench, "L8");
    const tl_pin_limits *pin = &tl_circuit_plan(circuit)->pins[line].limits;
    const double logic = tl_circuit_plan(circuit)->supplies[pin->supply].volts.nominal,
                 low = tl_level_volts(pin->vol, logic) / pin->drives,
                 high = (logic - tl_level_volts(pin->voh, logic)) / pin->drives, divider = 1 / 40e3;
    CU_ASSERT(fabs(tl_bench_pin_volts(bench, 0) - 5 * 10e3 / 40100) < 1e-3);
    for (int drive = 0; drive < 2; drive++) {
        const double way = 1 / (680 + 220 + (drive == 1 ? high : low)), to = drive == 1 ? logic : 0;
        const double far = (5 / 100.0 + to * way) / (1 / 100.0 + way + divider);
        CU_ASSERT(tl_port_line_use(port, line, TL_LINE_OUTPUT) == TL_OK &&
                  tl_port_line_drive(port, line, drive == 1) == TL_OK &&
                  tl_port_wait_us(port, 1000) == TL_OK);
        CU_ASSERT(far < 4.85 && fabs(tl_bench_pin_volts(bench, 0) - far / 4) < 1e-3);
    }
    CU_ASSERT(tl_port_line_use(port, line, TL_LINE_RELEASED) == TL_OK &&
              tl_port_wait_us(port, 1000) == TL_OK);
    CU_ASSERT(fabs(tl_bench_pin_volts(bench, 0) - 5 * 10e3 / 40100) < 1e-3);
    tl_bench_free(bench);
}

/* A load pulls its soft supply down, by its duty; lamps lift the wire that their current returns over; a coil
 * that is released without a diode leaves its energy in the transistor. */
static void loads_draw_their_current(void)
{
    tl_bench *bench = open_with(
        "supplies: {motor: {voltage: 12 V ±0 %, resistance: 1 ohm ±0 %}}\n"
        "shared: {foot: {from: ground, series: 10 ohm ±0 %}}\nsignals:\n"
        "  m: {source: {rail: motor}, stages: [divider: {upper: 30k ±0 %, lower: 10k ±0 %}], pin: L4}\n"
        "  f: {source: {resistance: 0 ohm .. 100 ohm, to: foot}, stages: [partner: {upper: 10k ±0 %, to: "
        "logic}], pin: L5}\n"
        "outputs:\n"
        "  fan: {pin: L8, driver: {way: n-channel, on-resistance: 1 ohm, series: 100 ohm, load: {resistance: "
        "10 ohm ±0 %, "
        "inductance: 0.1 H, supply: motor}}}\n"
        "  lamps: {pins: [L30 .. L33], lamp: 2 V, series: 100 ohm, to: foot}\n",
        "values: {f: [0 s: 0 ohm]}\n");
    const tl_port *port = tl_bench_port(bench);
    const uint8_t fan = (uint8_t)tl_bench_line(bench, "L8"), lamp = (uint8_t)tl_bench_line(bench, "L30");
    const double logic = tl_bench_value(bench, tl_circuit_supply_param(tl_bench_circuit(bench), 0)),
                 source = 12 - 0.3e-3;
    int count;
    CU_ASSERT(fabs(tl_bench_pin_volts(bench, 0) - source / 4) < 1e-3);
    CU_ASSERT(tl_port_line_use(port, fan, TL_LINE_OUTPUT) == TL_OK &&
              tl_port_line_drive(port, fan, true) == TL_OK && tl_port_wait_us(port, 1000) == TL_OK);
    CU_ASSERT(fabs(tl_bench_pin_volts(bench, 0) - source / 4 * 11 / 12) < 1e-3);
    CU_ASSERT(tl_port_line_duty(port, fan, 32768) == TL_OK && tl_port_wait_us(port, 1000) == TL_OK);
    CU_ASSERT(fabs(tl_bench_pin_volts(bench, 0) - source / 4 * 22 / 23) < 1e-3);
    (void)tl_bench_damages(bench, &count);
    CU_ASSERT(tl_port_line_drive(port, fan, false) == TL_OK && tl_port_wait_us(port, 1000) == TL_OK);
    const tl_bench_damage *damages = tl_bench_damages(bench, &count);
    CU_ASSERT(fabs(tl_bench_pin_volts(bench, 0) - source / 4) < 1e-3);
    const double mean =
        source / 23; /* half the time 12 V through 1, 1 and 10 ohm; before that all the time */
    CU_ASSERT(count == 2 && damages[0].output == 0 && damages[1].output == 0);
    CU_ASSERT(near(damages[0].amperes, source / 12, 1e-3) && near(damages[1].amperes, mean, 1e-3));
    CU_ASSERT(near(damages[1].joules, 0.1 / 2 * mean * mean, 2e-3));
    const double idle = logic * 10 / 10010, each = 100 + 0.4 / 4e-3;
    CU_ASSERT(fabs(tl_bench_pin_volts(bench, 1) - idle) < 1e-3);
    for (uint8_t i = 0; i < 4; i++)
        CU_ASSERT(tl_port_line_use(port, (uint8_t)(lamp + i), TL_LINE_OUTPUT) == TL_OK &&
                  tl_port_line_drive(port, (uint8_t)(lamp + i), true) == TL_OK);
    CU_ASSERT(tl_port_wait_us(port, 1000) == TL_OK);
    const double foot = (4 * (logic - 2) / each + logic / 10e3) / (4 / each + 1 / 10.0 + 1 / 10e3);
    CU_ASSERT(foot > 0.1 && fabs(tl_bench_pin_volts(bench, 1) - foot) < 1e-3);
    tl_bench_free(bench);
}

/* What a supply feeds goes off with it, and comes back: a logic output's wire is what its own resistors make
 * of it, a loop has no current, a bridge no difference, a converter no answer, a multiplexer no way. */
static void what_it_feeds_goes_off(void)
{
    static const char plan[] =
        "supplies: {field: 12 V ±0 %, loop: 24 V ±0 %, aux: 3.3 V ±0 %}\nshared: {far: {from: field, series: "
        "10 ohm}}\n"
        "muxes: {bank: {part: " TL_SOURCE
        "/demo/redshank.mux.yaml, supply: field, select: [ground, ground, ground], common: "
        "L5}}\n"
        "buses: {wire: {pins: {scl: L24, sda: L25}, stages: [pull: {up: 4k7, to: logic}]}}\n"
        "converters: {fine: {part: " TL_SOURCE
        "/demo/dunlin.converter.yaml, supply: aux, bus: wire, address: 0x2a}}\n"
        "signals:\n"
        "  a: {source: {logic: field}, stages: [divider: {upper: 30k ±0 %, lower: 10k ±0 %}], pin: L4}\n"
        "  b: {source: {logic: far}, stages: [series: 30k ±0 %, pull: {up: 10k ±0 %, to: logic}], pin: L6}\n"
        "  c: {source: {current: 4 mA .. 20 mA, supply: loop}, stages: [load: 150 ohm ±0 %], pin: L7}\n"
        "  d: {source: {voltage: 1 V, resistance: 1k}, pin: bank.0}\n"
        "  e: {source: {bridge: 350 ohm, voltage: -10 mV .. 10 mV, supply: far}, pin: fine.pair-0}\n";
    static const struct {
        const char *name, *faults;
        double at, a, b, c, e; /* volts; b: of the pull's 3.3 V as a share */
        bool muxed, answers;
    } rows[] = {
        {"all is well", "", 10, 3, NAN, 1.8, NAN, true, true},
        {"field", "faults: [{missing: field, from: 20 s, until: 40 s}]\n", 30, 0, 1, 1.8, 0, false, true},
        {"field shorted", "faults: [{missing: field, off: shorted}]\n", 30, 0, 1, 1.8, 0, false, true},
        {"aux", "faults: [{missing: aux}]\n", 30, 3, NAN, 1.8, NAN, true, false},
        {"back again", "faults: [{missing: field, from: 20 s, until: 40 s}]\n", 50, 3, NAN, 1.8, NAN, true,
         true},
        {"loop", "faults: [{missing: loop}]\n", 30, 3, NAN, 0, NAN, true, true},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char scene[200];
        snprintf(scene, sizeof scene, "values: {c: [0 s: 12 mA], e: [0 s: 5 mV]}\n%s", rows[i].faults);
        tl_bench *bench = open_with(plan, scene);
        tl_bench_reading r;
        tl_bench_go_to(bench, rows[i].at);
        const double logic = tl_bench_value(bench, tl_circuit_supply_param(tl_bench_circuit(bench), 0));
        CHECK_ROW(rows[i].name, fabs(tl_bench_pin_volts(bench, 0) - rows[i].a) < 0.01);
        CHECK_ROW(rows[i].name,
                  isnan(rows[i].b) || fabs(tl_bench_pin_volts(bench, 1) - rows[i].b * logic) < 0.01);
        CHECK_ROW(rows[i].name, fabs(tl_bench_pin_volts(bench, 2) - rows[i].c) < 0.01);
        (void)tl_bench_read(bench, 3, &r);
        CHECK_ROW(rows[i].name, (fabs(tl_bench_pin_volts(bench, 3) - 1) < 0.01) == rows[i].muxed);
        (void)tl_bench_read(bench, 4, &r);
        CHECK_ROW(rows[i].name, (r.status == TL_OK) == rows[i].answers);
        const char *trouble = tl_bench_trouble(bench);
        CHECK_ROW(rows[i].name, trouble == NULL || *trouble == '\0');
        tl_bench_free(bench);
    }
}

CU_TestInfo supply_tests[] = {
    {"what it feeds goes off", what_it_feeds_goes_off},
    {"loads draw their current", loads_draw_their_current},
    {"what leads into far inputs draws its current", far_inputs_draw_their_current},
    {"ripple goes on top", ripple_goes_on_top},
    {"follows the pin", follows_the_pin},
    {"is fed by what leads to it", is_fed_by_what_leads_to_it},
    {"is fed through a clamp", is_fed_through_a_clamp},
    {"slow filters pass fast ripple", slow_filters_pass_fast_ripple},
    CU_TEST_INFO_NULL,
};
