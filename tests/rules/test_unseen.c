/* SPDX-License-Identifier: MIT */
/* Mistakes that a checker easily passes over, one row a class: the plan that has it, and its neighbour that
 * is sound. */
#include "support.h"
#include <CUnit/CUnit.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#define ON_3V "board: " TL_SOURCE "/demo/lapwing.board.yaml\n"
#define SWITCH                                                                                               \
    "{part: " TL_SOURCE "/demo/redshank.mux.yaml, supply: logic, enable: L23, tied: {2 .. 6: ground}, "
#define KNOB "{source: {potentiometer: 10k ±20 %, top: logic}, reading: {decimals: 0}, pin: "
#define METER "meters: {hand: {accuracy: 0.5 %, digits: 2, digit: 1 mV}}\n"

typedef struct {
    const char *name, *slug;
    const char *faulty, *sound; /* the plan behind its first line; what `sound` says of the slug is nothing */
} class;

static const class classes[] = {
    {"a tree that shares its selects", "select-shared",
     "muxes: {near: " SWITCH "select: [L20, L21, L22], common: L4}, far: " SWITCH
     "select: [L20, L21, L22], common: near.7}}\nsignals: {a: " KNOB "far.0}, b: " KNOB "far.1}, c: " KNOB
     "near.0}, d: " KNOB "near.1}, e: " KNOB "far.7}}\n",
     "muxes: {near: " SWITCH "select: [L20, L21, L22], common: L4}, far: " SWITCH
     "select: [L10, L11, L12], common: near.7}}\nsignals: {a: " KNOB "far.0}, b: " KNOB "far.1}, c: " KNOB
     "near.0}, d: " KNOB "near.1}, e: " KNOB "far.7}}\n"},
    {"a tree whose far enable is a near select", "select-shared",
     "muxes: {near: " SWITCH "select: [L20, L21, L22], common: L4}, far: {part: " TL_SOURCE
     "/demo/redshank.mux.yaml, supply: logic, enable: L20, select: [L10, L11, L12], common: "
     "near.7}}\nsignals: {a: " KNOB "far.0}}\n",
     "muxes: {near: " SWITCH "select: [L20, L21, L22], common: L4}, far: {part: " TL_SOURCE
     "/demo/redshank.mux.yaml, supply: logic, enable: L20, select: [L10, L11, L12], common: "
     "near.6}}\nsignals: {a: " KNOB "far.0}}\n"},
    {"a track on a pin that is held low", "same-rail",
     "supplies: {feed: {pin: L0, level: low}}\nsignals: {knob: {source: {potentiometer: 10k ±20 %, top: "
     "feed}, pin: L4}}\n",
     "supplies: {feed: {pin: L0, level: high}}\nsignals: {knob: {source: {potentiometer: 10k ±20 %, top: "
     "feed}, pin: L4}}\n"},
    {"a pin that gives more than it may as a rail", "over-drive",
     "supplies: {feed: {pin: L0, level: high}}\nsignals: {knob: {source: {potentiometer: 200 ohm ±20 %, top: "
     "feed}, pin: L4}}\n",
     "supplies: {feed: {pin: L0, level: high}}\nsignals: {knob: {source: {potentiometer: 10k ±20 %, top: "
     "feed}, pin: L4}}\n"},
    {"leakage of all inputs of a switch", "leakage-error",
     "muxes: {bank: " SWITCH
     "select: [L20, L21, L22], common: L4}}\nsignals: {probe: {source: {voltage: 0 V .. 3 V, "
     "resistance: 47k}, pin: bank.0, reading: {unit: V, decimals: 3}}}\n",
     "muxes: {bank: " SWITCH
     "select: [L20, L21, L22], common: L4}}\nsignals: {probe: {source: {voltage: 0 V .. 3 V, "
     "resistance: 1k}, pin: bank.0, reading: {unit: V, decimals: 3}}}\n"},
    {"a digit finer than a count", "digits-empty",
     "signals: {level: {source: {voltage: 0 V .. 3 V}, pin: L4, reading: {unit: V, decimals: 4}}}\n",
     "signals: {level: {source: {voltage: 0 V .. 3 V}, pin: L4, reading: {unit: V, decimals: 3}}}\n"},
    {"a digit that an average gives, or not", "digits-empty",
     "signals: {level: {source: {voltage: 0 V .. 3 V}, pin: L4, reading: {unit: V, decimals: 4, mean: "
     "32}}}\n",
     "signals: {level: {source: {voltage: 0 V .. 3 V}, pin: L4, reading: {unit: V, decimals: 4, mean: "
     "128}}}\n"},
    {"a rail that does not cancel", "not-ratiometric",
     "signals: {knob: {source: {potentiometer: 10k ±20 %, top: logic, over: 0 % .. 70 %}, pin: L4, "
     "reference: inner, "
     "reading: {decimals: 0}}}\n",
     "signals: {knob: {source: {potentiometer: 10k ±20 %, top: logic, over: 0 % .. 70 %}, pin: L4, reading: "
     "{decimals: "
     "0}}}\n"},
    {"trim points side by side", "trim-close",
     METER "signals: {level: {source: {voltage: 0 V .. 3 V}, pin: L4, reading: {unit: V, trim: {meter: hand, "
           "points: "
           "[2000 counts: 1.611 V, 2400 counts: 1.933 V]}}}}\n",
     METER "signals: {level: {source: {voltage: 0 V .. 3 V}, pin: L4, reading: {unit: V, trim: {meter: hand, "
           "points: "
           "[1500 counts: 1.208 V, 2400 counts: 1.933 V]}}}}\n"},
    {"a trim against the wiring", "trim-contradicts",
     METER "signals: {level: {source: {voltage: 0 V .. 3 V}, pin: L4, reading: {unit: V, trim: {meter: hand, "
           "points: [200 "
           "counts: 0.16 V, 2400 counts: 2.12 V]}}}}\n",
     METER "signals: {level: {source: {voltage: 0 V .. 3 V}, pin: L4, reading: {unit: V, trim: {meter: hand, "
           "points: [200 "
           "counts: 0.16 V, 2400 counts: 1.97 V]}}}}\n"},
    {"a full that never comes", "percent-unreachable",
     "signals: {knob: {source: {potentiometer: 10k ±20 %, top: logic}, pin: L4, reading: {of: pin, percent: "
     "{empty: 0 V, "
     "full: 3.6 V}}}}\n",
     "signals: {knob: {source: {potentiometer: 10k ±20 %, top: logic}, pin: L4, reading: {of: pin, percent: "
     "{empty: 0 V, "
     "full: 3.2 V}}}}\n"},
    {"a threshold that never comes", "threshold-unreachable",
     "signals: {t: {source: {voltage: 0.5 V .. 2.5 V}, pin: L4, reading: {unit: V}}}\noutputs: {low: {pin: "
     "L8, shows: t, as: "
     "threshold, start-above: 2.7 V, stop-below: 1 V}}\n",
     "signals: {t: {source: {voltage: 0.5 V .. 2.5 V}, pin: L4, reading: {unit: V}}}\noutputs: {low: {pin: "
     "L8, shows: t, as: "
     "threshold, start-above: 2.4 V, stop-below: 1 V}}\n"},
    {"a broken wire beyond the codes", "fault-unreachable",
     "signals: {t: {source: {resistance: 1k .. 20k}, stages: [partner: {upper: 4k7 ±1 %, to: logic}], pin: "
     "L4, reading: "
     "{unit: kohm, faults: {open: above 100 %}}}}\n",
     "signals: {t: {source: {resistance: 1k .. 20k}, stages: [partner: {upper: 4k7 ±1 %, to: logic}], pin: "
     "L4, reading: "
     "{unit: kohm, faults: {open: above 99 %}}}}\n"},
    {"selects lower than the switch takes", "select-level",
     "supplies: {five: 5 V ±5 %}\nmuxes: {bank: {part: " TL_SOURCE
     "/demo/redshank.mux.yaml, supply: five, select: [L20, L21, L22], enable: L23, common: L4}}\nsignals: "
     "{k: " KNOB "bank.0}}\n",
     "supplies: {four: 4 V ±1 %}\nmuxes: {bank: {part: " TL_SOURCE
     "/demo/redshank.mux.yaml, supply: four, select: [L20, L21, L22], enable: L23, common: L4}}\nsignals: "
     "{k: " KNOB "bank.0}}\n"},
    {"a switch held off by a pin, or on", "enable-undriven",
     "supplies: {on: {pin: L0, level: high}}\nmuxes: {bank: {part: " TL_SOURCE
     "/demo/redshank.mux.yaml, supply: logic, select: [L20, L21, L22], enable: on, common: L4}}\nsignals: "
     "{k: " KNOB "bank.0}}\n",
     "supplies: {on: {pin: L0, level: low}}\nmuxes: {bank: {part: " TL_SOURCE
     "/demo/redshank.mux.yaml, supply: logic, select: [L20, L21, L22], enable: on, common: L4}}\nsignals: "
     "{k: " KNOB "bank.0}}\n"},
    {"a bus lower than its device takes", "bus-level",
     "supplies: {five: 5 V ±5 %}\nbuses: {w: {pins: {scl: L24, sda: L25}, stages: [pull: {up: 4k7 ±1 %, to: "
     "logic}]}}\n"
     "converters: {f: {part: " TL_SOURCE
     "/demo/dunlin.converter.yaml, supply: five, bus: w, address: 0x2a, range: ±0.1 "
     "V}}\nsignals: {s: {source: {bridge: 350 ohm, voltage: 0 mV .. 20 mV, supply: five}, pin: f.pair-0}}\n",
     "supplies: {five: 5 V ±5 %}\nbuses: {w: {pins: {scl: L24, sda: L25}, stages: [pull: {up: 4k7 ±1 %, to: "
     "five}, "
     "shifter: {way: n-channel, gate: logic, threshold: 1.5 V, diode: 0.7 V}, pull: {up: 4k7 ±1 %, to: "
     "logic}]}}\n"
     "converters: {f: {part: " TL_SOURCE
     "/demo/dunlin.converter.yaml, supply: five, bus: w, address: 0x2a, range: ±0.1 "
     "V}}\nsignals: {s: {source: {bridge: 350 ohm, voltage: 0 mV .. 20 mV, supply: five}, pin: f.pair-0}}\n"},
    {"a lamp that its pin cannot put out", "lamp-lit",
     "supplies: {five: 5 V ±5 %}\noutputs: {a: {pin: L10, lamp: 1.8 V .. 2.1 V, series: 1k ±5 %, to: five}}\n"
     "signals: {k: " KNOB "L4}}\n",
     "supplies: {five: 5 V ±5 %}\noutputs: {a: {pin: L10, lamp: 2.9 V .. 3.3 V, series: 100 ohm ±5 %, to: "
     "five}}\n"
     "signals: {k: " KNOB "L4}}\n"},
    {"a lamp that lifts a released pin", "over-limit",
     "supplies: {twelve: 12 V ±5 %}\noutputs: {a: {pin: L10, lamp: 1.8 V .. 2.1 V, series: 4k7 ±5 %, to: "
     "twelve}}\n"
     "signals: {k: " KNOB "L4}}\n",
     "supplies: {five: 5 V ±5 %}\noutputs: {a: {pin: L10, lamp: 1.8 V .. 2.1 V, series: 4k7 ±5 %, to: "
     "five}}\n"
     "signals: {k: " KNOB "L4}}\n"},
    {"a button on the board's lamp", "wired-lamp",
     "signals: {b: {source: {contact: ground}, stages: [pull: {up: 10k ±5 %, to: logic}], pin: L8}}\n",
     "signals: {b: {source: {contact: ground}, stages: [pull: {up: 470 ohm ±5 %, to: logic}], pin: L8}}\n"},
    {"a clamp part that burns", "clamp-current",
     "supplies: {mains: 48 V}\nsignals: {b: {source: {contact: mains}, stages: [series: 220 ohm ±5 %, clamp: "
     "{to: logic, "
     "drop: 0.25 V, current: 200 mA}, pull: {down: 10k ±5 %, to: ground}], pin: L10}}\n",
     "supplies: {mains: 48 V}\nsignals: {b: {source: {contact: mains}, stages: [series: 270 ohm ±5 %, clamp: "
     "{to: logic, "
     "drop: 0.25 V, current: 200 mA}, pull: {down: 10k ±5 %, to: ground}], pin: L10}}\n"},
};

static run_result check_plan(const char *plan, const char *option)
{
    char path[700];
    char text[3000];
    snprintf(text, sizeof text, "tinyladder: plan 1\ntitle: t\n" ON_3V "%s", plan);
    scratch_file("unseen.plan.yaml", text, strlen(text));
    snprintf(path, sizeof path, TL_SCRATCH "/unseen.plan.yaml");
    return run_command("--outside", "check", path, option, NULL);
}

static void each_class_is_seen_and_its_neighbour_left_alone(void)
{
    for (size_t i = 0; i < sizeof classes / sizeof classes[0]; i++) {
        char slug[60];
        snprintf(slug, sizeof slug, "[%s]", classes[i].slug);
        run_result faulty = check_plan(classes[i].faulty, "--brief"),
                   sound = check_plan(classes[i].sound, "--brief");
        CHECK_ROW(classes[i].name, strstr(faulty.out, slug) != NULL && faulty.err[0] == '\0');
        CHECK_ROW(classes[i].name, strstr(sound.out, slug) == NULL && sound.err[0] == '\0');
        if (strstr(faulty.out, slug) == NULL || strstr(sound.out, slug) != NULL || sound.err[0] != '\0')
            printf("\n  %s: faulty '%s%s' sound '%s%s'\n", classes[i].name, faulty.out, faulty.err, sound.out,
                   sound.err);
        run_free(&faulty);
        run_free(&sound);
    }
}

/* A repeated entry is one finding that lists all; what follows from a finding is not said beside it. */
static void one_cause_is_one_finding(void)
{
    static const struct {
        const char *name, *plan, *said, *not_said;
    } rows[] = {
        {"a repeated entry",
         "signals: {bed-1 .. bed-4: {source: {voltage: 0 V .. 9 V}, pin: L4 .. L7, reading: {unit: V}}}\n",
         "L4 (bed-1) can exceed its absolute maximum voltage; also bed-2 .. bed-4: ", "bed-3"},
        {"firmware that believes what the wiring cannot give",
         "signals: {b: {source: {contact: logic}, stages: [pull: {up: 10k, to: logic}], pin: L10, reading: "
         "{active: low}}}\n",
         "[same-rail]", "[restated]"},
        {"a clamp that carries too much, and a board without power",
         "supplies: {field: {voltage: 24 V ±5 %, live: always}}\nsignals: {b: {source: {logic: field}, "
         "stages: "
         "[series: 2k2 ±5 %, "
         "clamp: pin], pin: L10}}\n",
         "[injection]", "[back-feed]"},
    };
    for (size_t i = 0; i < sizeof rows / sizeof rows[0]; i++) {
        run_result r = check_plan(rows[i].plan, "--brief");
        const bool good = strstr(r.out, rows[i].said) != NULL && strstr(r.out, rows[i].not_said) == NULL;
        CHECK_ROW(rows[i].name, good);
        if (!good)
            printf("\n  %s: %s%s\n", rows[i].name, r.out, r.err);
        run_free(&r);
    }
}

CU_TestInfo unseen_tests[] = {
    {"each class is seen, and its neighbour left alone", each_class_is_seen_and_its_neighbour_left_alone},
    {"one cause is one finding", one_cause_is_one_finding},
    CU_TEST_INFO_NULL,
};
