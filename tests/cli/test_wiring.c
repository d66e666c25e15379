/* SPDX-License-Identifier: MIT */
/* The list to wire by, and free pins for what one has in mind. */
#include "support.h"
#include <stdio.h>
#include <string.h>

static run_result shell(const char *script)
{
    const char *const words[] = {"sh", "-c", script, NULL};
    return run_program(words, TL_SOURCE);
}

/* A part of every kind, each between the ends that it is connected to. */
static void every_part_has_its_ends(void)
{
    static const char plan[] =
        "tinyladder: plan 1\n"
        "board: " TL_SOURCE "/demo/lapwing.board.yaml\n"
        "supplies: {five: {voltage: 5 V}}\n"
        "shared: {feed: {from: logic, series: 100 ohm ±5 %}}\n"
        "signals:\n"
        "  cell: {source: {voltage: 0 V .. 12 V}, stages: [divider: {upper: 27k + 2k7, lower: 10k || 10k}, "
        "filter: {series: 1k ±1 %, capacitor: 100 nF}], pin: L4}\n"
        "  loop: {source: {current: 4 mA .. 20 mA, supply: five}, stages: [load: 100 ohm ±1 %, guard: 1k], "
        "pin: L5}\n"
        "  heat: {source: {resistance: 10k, at: 25 degC, beta: 3950 K, over: 0 .. 60 degC}, stages: "
        "[partner: {upper: 10k ±1 %, to: feed}, follower: {supply: five}], pin: L6}\n"
        "  keys: {source: {star: [up: 1k, down: 2k2]}, stages: [pull: {up: 4k7, to: logic}, capacitor: 10 "
        "nF], pin: L7}\n"
        "  far: {source: {logic: five, high: rail - 0.5 V, low: 0.4 V}, stages: [shifter: {way: inverter, "
        "base: 10k}, pull: {up: 10k, to: logic}], pin: L0}\n"
        "  down: {source: {contact: logic}, stages: [pull: {down: 10k}, clamp: {drop: 0.3 V, to: logic}], "
        "pin: L1}\n"
        "outputs:\n"
        "  lamp: {pin: L2, lamp: 2 V, series: 470 ohm ±5 %, to: logic}\n"
        "  pump: {pin: L3, driver: {way: bipolar, gain: 20, series: 1k ±5 %, pull: 10k ±5 %, load: "
        "{resistance: 100 ohm, supply: five}, flyback: yes}}\n"
        "modules: {display: {pins: {VSS: ground, VDD: five, E: L20, D4 .. D5: L30 .. L31, A: {to: feed, "
        "series: "
        "220 ohm ±5 %}, D0: open}}}\n";
    static const char wanted[] =
        "of,from,to,by,bands\n"
        "five,five -,GND (2),wire,\n"
        "feed,feed,3V3 (1),resistor 100R,brown black brown gold\n"
        "cell,source -,GND (2),wire,\n"
        "cell,source +,behind divider,upper resistor 27k + 2k7,red violet orange; red violet red\n"
        "cell,behind divider,GND (2),lower resistor 10k || 10k,brown black orange; brown black orange\n"
        "cell,behind divider,behind filter,resistor 1k,brown black black brown brown\n"
        "cell,behind filter,GND (2),capacitor 100 nF,\n"
        "cell,behind filter,L4 (7),wire,\n"
        "loop,loop +,five,wire,\n"
        "loop,loop -,GND (2),load 100R,brown black black black brown\n"
        "loop,loop -,behind guard,guard resistor 1k,brown black red\n"
        "loop,behind guard,L5 (8),wire,\n"
        "heat,sensor leg 2,GND (2),wire,\n"
        "heat,sensor leg 1,feed,resistor 10k,brown black black red brown\n"
        "heat,sensor leg 1,follower input +,wire,\n"
        "heat,follower input -,follower output,wire,\n"
        "heat,follower supply +,five,wire,\n"
        "heat,follower supply -,GND (2),wire,\n"
        "heat,follower output,L6 (9),wire,\n"
        "keys,common point,up leg 1,resistor 1k,brown black red\n"
        "keys,up other leg,GND (2),wire,\n"
        "keys,common point,down leg 1,resistor 2k2,red red red\n"
        "keys,down other leg,GND (2),wire,\n"
        "keys,common point,3V3 (1),pull-up 4k7,yellow violet red\n"
        "keys,common point,GND (2),capacitor 10 nF,\n"
        "keys,common point,L7 (10),wire,\n"
        "far,its ground,GND (2),wire,\n"
        "far,output,transistor base,resistor 10k,brown black orange\n"
        "far,transistor emitter,GND (2),wire,\n"
        "far,transistor collector,3V3 (1),pull-up 10k,brown black orange\n"
        "far,transistor collector,L0 (3),wire,\n"
        "down,contact leg 2,3V3 (1),wire,\n"
        "down,contact leg 1,GND (2),pull-down 10k,brown black orange\n"
        "down,contact leg 1,3V3 (1),\"diode, its cathode at the rail\",\n"
        "down,contact leg 1,GND (2),\"diode, its anode at ground\",\n"
        "down,contact leg 1,L1 (4),wire,\n"
        "lamp,L2 (5),lamp cathode,resistor 470R,yellow violet brown gold\n"
        "lamp,lamp anode,3V3 (1),wire,\n"
        "pump,L3 (6),transistor base,resistor 1k,brown black red gold\n"
        "pump,transistor base,GND (2),pull-down 10k,brown black orange gold\n"
        "pump,transistor emitter,GND (2),wire,\n"
        "pump,transistor collector,load -,wire,\n"
        "pump,load +,five,wire,\n"
        "pump,load -,load +,\"diode, its cathode at +\",\n"
        "display,VSS,GND (2),wire,\n"
        "display,VDD,five,wire,\n"
        "display,E,L20 (23),wire,\n"
        "display,D4,L30 (33),wire,\n"
        "display,D5,L31 (34),wire,\n"
        "display,A,feed,resistor 220R,red red brown gold\n"
        "display,D0,-,stays open,\n";
    scratch_file("wired.plan.yaml", plan, strlen(plan));
    run_result r = shell(TL_BUILD "/tinyladder pins " TL_SCRATCH "/wired.plan.yaml --wiring --csv");
    CU_ASSERT(r.status == 0 && r.err[0] == '\0');
    CU_ASSERT_STRING_EQUAL(r.out, wanted);
    run_free(&r);
}

/* Two rooms: what `pins` says is used is what the wires lead to, in every plan that is sound. */
static void every_used_pin_has_a_wire(void)
{
    char script[1600];
    snprintf(script, sizeof script,
             "for plan in $(ls demo/fernhill.plan.yaml demo/cold-frame.plan.yaml demo/sound/*.plan.yaml | awk 'NR %% %d == 0'); do " TL_BUILD
             "/tinyladder pins $plan --wiring --csv | tr ',\"' '\\n' | sed 's/ ([0-9]*)$//' | sort -u >" TL_SCRATCH
             "/wires; " TL_BUILD "/tinyladder pins $plan --json | python3 -c 'import json, sys\n"
             "for p in json.load(sys.stdin)[\"pins\"]:\n"
             "    if not p[\"free\"] and p[\"can\"] and \"own lamp\" not in p[\"user\"]: print(p[\"pin\"])' | "
             "sort -u | comm -23 - " TL_SCRATCH "/wires | sed \"s|^|$plan: |\"; echo done; done",
             THINNED);
    run_result r = shell(script);
    int plans = 0;
    for (const char *at = r.out; (at = strstr(at, "done\n")) != NULL; at++)
        plans++;
    CU_ASSERT(r.status == 0 && plans > 50 / THINNED - 1 && strstr(r.out, "plan.yaml:") == NULL);
    if (strstr(r.out, "plan.yaml:") != NULL)
        printf("\n%s%s", r.out, r.err);
    run_free(&r);
}

static void answers_by_its_options(void)
{
    static const struct {
        const char *options, *says;
        int status;
    } rows[] = {
        {"demo/plover.board.yaml --for duty",
         "P2 (5): digital, pull-up, duty\nP3 (6): digital, pull-up, duty\n", 0},
        {"demo/fernhill.plan.yaml --for spi,digital", "L28 (31): digital, pull-up, spi\nL29 (32)", 0},
        {"demo/fernhill.plan.yaml --for analog", "No pin of Lapwing is free for analog.", 1},
        {"demo/plover.board.yaml --for analog,i2c --json", "\"free\": [\n    \"P12\",\n    \"P13\"", 0},
        {"demo/plover.board.yaml --for pullup", "unknown function 'pullup'; the functions are analog, digital, pull-up",
         2},
        {"docs/recipes/computer.board.yaml --for analog", "No pin of Bench computer is free for analog.", 1},
        {"docs/recipes/pond.plan.yaml --wiring", "wet in     D16 (19)         eight data out  wire\n", 0},
        {"demo/plover.board.yaml --wiring", "expected a plan, got a board", 2},
        {"demo/fernhill.plan.yaml --csv", "--csv: with --wiring", 2},
        {"demo/fernhill.plan.yaml --wiring --for spi", "--wiring or --for, not both", 2},
        {"demo/fernhill.plan.yaml --wiring --json", "\"from\": \"wiper\",\n      \"to\": \"L16 (19)\"", 0},
        {"demo/cold-frame.plan.yaml --wiring", "tank-bus in     B4 (18)          slow data out  wire", 0},
        {"demo/cold-frame.plan.yaml", "tray-bus scl\n", 0},
        {"demo/fernhill.plan.yaml --json", "\"role\": \"select 1\"", 0},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char script[3000];
        snprintf(script, sizeof script, TL_BUILD "/tinyladder pins %s", rows[i].options);
        run_result r = shell(script);
        CHECK_ROW(rows[i].options, r.status == rows[i].status &&
                                       strstr(rows[i].status == 2 ? r.err : r.out, rows[i].says) != NULL);
        run_free(&r);
    }
}

/* A board may have no converter; then no pin has a channel, and what asks for its converter is told so. */
static void a_board_without_a_converter(void)
{
#define RECIPES TL_SCRATCH "/recipes"
    run_result copied = shell("rm -rf " RECIPES "; mkdir -p " RECIPES "; cp docs/recipes/*.yaml " RECIPES);
    run_free(&copied);
    run_result r =
        shell("sed 's/D0 .. D11: {position: 3 .. 14}/D0 .. D11: {position: 3 .. 14, channel: 0 .. 11}/' "
              "docs/recipes/computer.board.yaml >" TL_SCRATCH "/channels.board.yaml; " TL_BUILD
              "/tinyladder pins " TL_SCRATCH "/channels.board.yaml");
    CU_ASSERT(r.status == 3 &&
              strstr(r.err, "pins have a 'channel', so the board needs 'converters'") != NULL);
    run_free(&r);
    r = shell(TL_BUILD "/tinyladder word docs/recipes/computer.board.yaml");
    CU_ASSERT(r.status == 2 && strcmp(r.err, "tinyladder: Bench computer has no ADC\n") == 0);
    run_free(&r);
    r = shell(TL_BUILD "/tinyladder word docs/recipes/pond.plan.yaml --converter none");
    CU_ASSERT(r.status == 2 && strstr(r.err, "the plan has no converter 'none'; it has: eight\n") != NULL);
    run_free(&r);
    r = shell("sed 's/eight: {part: eight.converter.yaml, /main: {/' docs/recipes/pond.plan.yaml "
              ">" RECIPES "/zz.plan.yaml; " TL_BUILD "/tinyladder check " RECIPES "/zz.plan.yaml --brief");
    CU_ASSERT(strstr(r.out, "the board has no ADC: each here needs a 'part'") != NULL);
    run_free(&r);
    r = shell("sed 's/eight.in-3/D4/' docs/recipes/pond.plan.yaml >" RECIPES "/zz.plan.yaml; " TL_BUILD
              "/tinyladder check " RECIPES "/zz.plan.yaml --brief");
    CU_ASSERT(strstr(r.out, "water needs an ADC input; D4 has none") != NULL);
    run_free(&r);
    r = shell(TL_BUILD "/tinyladder read docs/recipes/pond.plan.yaml water --csv");
    CU_ASSERT(r.status == 0 && strstr(r.out, ",water,5") != NULL);
    run_free(&r);
}

CU_TestInfo wiring_tests[] = {
    {"every part has its ends", every_part_has_its_ends},
    {"every used pin has a wire", every_used_pin_has_a_wire},
    {"answers by its options", answers_by_its_options},
    {"a board without a converter", a_board_without_a_converter},
    CU_TEST_INFO_NULL,
};
