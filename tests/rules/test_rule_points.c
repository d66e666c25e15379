/* SPDX-License-Identifier: MIT */
/* The rules at their limits: each speaks just beyond its limit, and is silent just within. */
#include "find_slugs.h"
#include "support.h"
#include <stdio.h>
#include <string.h>

#define HEAD "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\n"

#define DRAWER "drawer: " TL_SOURCE "/demo/bench.drawer.yaml\n"

/* Just on one side of a limit and just on the other. */
static void limits_are_met_to_the_point(void)
{
    static const struct {
        const char *name, *text, *slugs;
    } rows[] = {
        {"under the limit at the low corner of its rail (3.234 + 0.3 V)",
         "signals: {s: {source: {voltage: 0 V .. 3.5339 V}, pin: L4}}\n", "over-range"},
        {"over it", "signals: {s: {source: {voltage: 0 V .. 3.5341 V}, pin: L4}}\n", "over-limit"},
        {"on a digital pin the converter's range does not matter",
         "signals: {s: {source: {contact: logic}, stages: [pull: {down: 10k, to: ground}], pin: L12}}\n",
         "no-tolerance"},
        {"a knob that follows the reference is never over range",
         "signals: {k: {source: {potentiometer: 10k, top: logic}, pin: L4}}\n", ""},
        {"little of the range", "signals: {s: {source: {voltage: 0 V .. 0.7 V}, pin: L4}}\n", "range-wasted"},
        {"source of 26 kohm settles in 3 us",
         "signals: {s: {source: {voltage: 0 V .. 3 V, resistance: 16k}, pin: L4, acquisition: 3 us}}\n", ""},
        {"source of 27 kohm does not",
         "signals: {s: {source: {voltage: 0 V .. 3 V, resistance: 27k}, pin: L4, acquisition: 3 us}}\n",
         "slow-acquisition"},
        {"a reservoir makes up for 1 Mohm",
         "signals: {s: {source: {voltage: 0 V .. 3 V, resistance: 100k}, stages: [capacitor: 1 uF ±10 %], "
         "pin: L4}}\n",
         ""},
        {"but not for its leakage: 50 nA through 700 kohm",
         "signals: {s: {source: {voltage: 0 V .. 3 V, resistance: 700k}, stages: [capacitor: 1 uF ±10 %], "
         "pin: L4}}\n",
         "leakage-error"},
        {"600 kohm stay within a hundredth",
         "signals: {s: {source: {voltage: 0 V .. 3 V, resistance: 600k}, stages: [capacitor: 1 uF ±10 %], "
         "pin: L4}}\n",
         ""},
        {"0.95 mV where three decimals are wanted",
         "signals: {s: {source: {voltage: 0 V .. 3 V, resistance: 19k}, pin: L4, reading: {decimals: 3}}}\n",
         ""},
        {"1.05 mV is more",
         "signals: {s: {source: {voltage: 0 V .. 3 V, resistance: 21k}, pin: L4, reading: {decimals: 3}}}\n",
         "leakage-error"},
        {"a small capacitor does not",
         "signals: {s: {source: {voltage: 0 V .. 3 V, resistance: 500k}, stages: [capacitor: 100p ±1 %], "
         "pin: "
         "L4}}\n",
         "reservoir-small"},
        {"steady time equal to the bounce",
         "signals: {b: {source: {contact: ground, bounce: 6 ms}, stages: [pull: {up: 10k ±1 %, to: logic}], "
         "pin: L12, reading: {steady: 6 ms}}}\n",
         ""},
        {"shorter",
         "signals: {b: {source: {contact: ground, bounce: 6 ms}, stages: [pull: {up: 10k ±1 %, to: logic}], "
         "pin: L12, reading: {steady: 5 ms}}}\n",
         "steady-too-short"},
        {"leakage that a 10k pull holds",
         "signals: {b: {source: {contact: ground, leakage: 90 uA}, stages: [pull: {up: 10k ±1 %, to: "
         "logic}], pin: L12}}\n",
         ""},
        {"and one that it does not",
         "signals: {b: {source: {contact: ground, leakage: 110 uA}, stages: [pull: {up: 10k ±1 %, to: "
         "logic}], pin: L12}}\n",
         "level-not-reached"},
        {"a contact to 12 V",
         "supplies: {motor: 12 V}\nsignals: {b: {source: {contact: motor}, stages: [pull: {down: 10k ±1 %, "
         "to: ground}], pin: L12}}\n",
         "over-limit"},
        {"5 V logic straight on the pin",
         "supplies: {five: 5 V}\nsignals: {e: {source: {logic: five}, pin: L12}}\n", "shifter-missing"},
        {"behind a divider",
         "supplies: {five: 5 V}\nsignals: {e: {source: {logic: five, high: 4.5 V, low: 0.4 V}, stages: "
         "[divider: {upper: 10k ±1 %, lower: 18k ±1 %}], pin: L12}}\n",
         ""},
        {"behind one that takes too much",
         "supplies: {five: 5 V}\nsignals: {e: {source: {logic: five, high: 4.5 V, low: 0.4 V}, stages: "
         "[divider: {upper: 18k ±1 %, lower: 10k ±1 %}], pin: L12}}\n",
         "level-not-reached"},
        {"logic of 1.8 V does not reach",
         "supplies: {core: 1.8 V}\nsignals: {e: {source: {logic: core}, pin: L12}}\n", "shifter-missing"},
        {"the chip's own pull is enough",
         "signals: {b: {source: {contact: ground}, stages: [pull: {up: internal}], pin: L12}}\n", ""},
        {"not against 30 uA of leakage",
         "signals: {b: {source: {contact: ground, leakage: 30 uA}, stages: [pull: {up: internal}], pin: "
         "L12}}\n",
         "level-not-reached"},
        {"open collector and its pull on ground",
         "signals: {b: {source: {open-collector: ground}, stages: [pull: {down: 10k ±1 %, to: ground}], pin: "
         "L12}}\n",
         "same-rail"},
        {"collector that saturates over VIL",
         "signals: {b: {source: {open-collector: ground, saturation: 1.1 V}, stages: [pull: {up: 10k ±1 %, "
         "to: logic}], pin: L12}}\n",
         "level-not-reached"},
        {"emitter follower to the rail, pulled down",
         "signals: {b: {source: {open-collector: logic, on: 1 mA}, stages: [pull: {down: 10k ±1 %, to: "
         "ground}], pin: L12}}\n",
         ""},
        {"current without a load", "signals: {c: {source: {current: 4 mA .. 20 mA}, pin: L4}}\n",
         "floating-input"},
        {"load too large",
         "signals: {c: {source: {current: 4 mA .. 20 mA}, stages: [load: 180 ohm ±1 %], pin: L4}}\n",
         "over-limit"},
        {"a sensor with its partner",
         "signals: {r: {source: {resistance: 1k .. 100k, to: ground}, stages: [partner: {upper: 10k ±1 %, "
         "to: logic}], pin: L4}}\n",
         ""},
        {"tolerances come from the drawer",
         DRAWER "signals: {s: {source: {voltage: 0 V .. 3 V}, stages: [series: 1k], pin: L4}}\n", ""},
        {"a value that is not in it",
         DRAWER "signals: {s: {source: {voltage: 0 V .. 3 V}, stages: [series: 1k1], pin: L4}}\n",
         "no-tolerance"},
        {"joined values",
         DRAWER "signals: {s: {source: {voltage: 0 V .. 3 V}, stages: [series: 1k || 1k], pin: L4}}\n", ""},
        {"two of two",
         DRAWER "signals: {b1 .. b2: {source: {contact: ground}, stages: [pull: {up: 1M5, to: logic}], pin: "
                "L12 .. L13}}\n",
         ""},
        {"three of two",
         DRAWER "signals: {b1 .. b3: {source: {contact: ground}, stages: [pull: {up: 1M5, to: logic}], pin: "
                "L12 .. L14}}\n",
         "drawer-exhausted"},
        {"three, but they came fitted",
         DRAWER "signals: {b1 .. b3: {source: {contact: ground}, stages: [pull: {up: 1M5 ±5 %, to: logic, "
                "fitted: yes}], pin: L12 .. L14}}\n",
         ""},
        {"twelve of ten and two with another tolerance",
         DRAWER "signals: {b1 .. b12: {source: {contact: ground}, stages: [pull: {up: 15k, to: logic}], pin: "
                "L12 .. L23}}\n",
         ""},
        {"budget just met",
         "supplies: {b: {voltage: 10 V, current: 1 mA}}\nsignals: {s: {source: {rail: b}, stages: [divider: "
         "{upper: 8k ±0.1 %, lower: 2k1 ±0.1 %}], pin: L4}}\n",
         ""},
        {"budget just missed",
         "supplies: {b: {voltage: 10 V, current: 0.98 mA}}\nsignals: {s: {source: {rail: b}, stages: "
         "[divider: {upper: 8k ±0.1 %, lower: 2k1 ±0.1 %}], pin: L4}}\n",
         "over-budget"},
        {"the clamp just stands it: (25.2 V - 3.534 V) / 21.78 kohm",
         "supplies: {m: 24 V ±5 %}\nsignals: {r: {source: {logic: m}, stages: [guard: 22k ±1 %, clamp: pin], "
         "pin: L12}}\n",
         ""},
        {"and just not",
         "supplies: {m: 24 V ±5 %}\nsignals: {r: {source: {logic: m}, stages: [guard: 21k ±1 %, clamp: pin], "
         "pin: L12}}\n",
         "injection"},
        {"a live supply through 25k into a board that is off: just under 1 mA",
         "supplies: {g: {voltage: 24 V ±5 %, live: always}}\nsignals: {r: {source: {logic: g, low: 1 V, "
         "high: "
         "rail - 1 V}, stages: [divider: {upper: 25k ±0.1 %, lower: 3k9 ±0.1 %}], pin: L12}}\n",
         ""},
        {"through 22k just over",
         "supplies: {g: {voltage: 24 V ±5 %, live: always}}\nsignals: {r: {source: {logic: g, low: 1 V, "
         "high: "
         "rail - 1 V}, stages: [divider: {upper: 22k ±0.1 %, lower: 3k4 ±0.1 %}], pin: L12}}\n",
         "back-feed"},
        {"a lamp of 3.98 mA where 4 are sure: (3.366 - 1.9) V / 368 ohm",
         "signals: {k: {source: {potentiometer: 10k, top: logic}, pin: L4}}\noutputs: {l: {pin: L9, lamp: "
         "1.9 V .. "
         "2.2 V, series: 372 ohm ±1 %}}\n",
         ""},
        {"of 4.02 mA",
         "signals: {k: {source: {potentiometer: 10k, top: logic}, pin: L4}}\noutputs: {l: {pin: L9, lamp: "
         "1.9 V .. "
         "2.2 V, series: 368 ohm ±1 %}}\n",
         "over-drive"},
        {"a lamp that is always on: (5.25 V - 1.9 V) / 990 ohm of 3.4 mA",
         "supplies: {s: {voltage: 5 V ±5 %, current: 3.4 mA}}\nsignals: {k: {source: {potentiometer: 10k, "
         "top: "
         "logic}, pin: L4}}\noutputs: {l: {from: s, lamp: 1.9 V .. 2.2 V, series: 1k ±1 %}}\n",
         ""},
        {"of 3.3 mA",
         "supplies: {s: {voltage: 5 V ±5 %, current: 3.3 mA}}\nsignals: {k: {source: {potentiometer: 10k, "
         "top: "
         "logic}, pin: L4}}\noutputs: {l: {from: s, lamp: 1.9 V .. 2.2 V, series: 1k ±1 %}}\n",
         "over-budget"},
        {"a soft supply that is measured, too: 10 V / 100 ohm and 9.9 V / 10001 ohm of 101.1 mA",
         "supplies: {m: {voltage: 10 V, resistance: 1 ohm, current: 101.1 mA}}\nsignals: {r: {source: {rail: "
         "m}, stages: "
         "[divider: {upper: 8k ±0.01 %, lower: 2k ±0.01 %}], pin: L4, reading: {unit: V, decimals: "
         "0}}}\noutputs: {l: "
         "{pin: L9, driver: {way: n-channel, on-resistance: 60 mohm, series: 100 ohm ±5 %, pull: 100k ±5 %, "
         "load: "
         "{resistance: 100 ohm ±0 %, supply: m}}}}\n",
         ""},
        {"and sags by more than it shows: that is what is read",
         "supplies: {m: {voltage: 10 V, resistance: 1 ohm}}\nsignals: {r: {source: {rail: m}, stages: "
         "[divider: {upper: 8k "
         "±0.01 %, lower: 2k ±0.01 %}], pin: L4, reading: {unit: V, decimals: 2}}}\noutputs: {l: {pin: L9, "
         "driver: {way: "
         "n-channel, on-resistance: 60 mohm, series: 100 ohm ±5 %, pull: 100k ±5 %, load: {resistance: 20 "
         "ohm ±0 %, "
         "supply: m}}}}\n",
         ""},
        {"of 99.9 mA: 10 V over 1 ohm and 100.06 ohm beside 10k",
         "supplies: {m: {voltage: 10 V, resistance: 1 ohm, current: 99.9 mA}}\nsignals: {r: {source: {rail: "
         "m}, stages: "
         "[divider: {upper: 8k ±0.01 %, lower: 2k ±0.01 %}], pin: L4, reading: {unit: V, decimals: "
         "0}}}\noutputs: {l: "
         "{pin: L9, driver: {way: n-channel, on-resistance: 60 mohm, series: 100 ohm ±5 %, pull: 100k ±5 %, "
         "load: "
         "{resistance: 100 ohm ±0 %, supply: m}}}}\n",
         "over-budget"},
        {"a lamp behind a transistor with 4.75 V - 4.6 V left for its resistor",
         "supplies: {s: 5 V ±5 %}\nsignals: {k: {source: {potentiometer: 10k, top: logic}, pin: "
         "L4}}\noutputs: {l: "
         "{pin: L9, driver: {way: n-channel, on-resistance: 60 mohm, series: 100 ohm ±5 %, pull: 100k ±5 %, "
         "load: "
         "{lamp: 4.2 V "
         ".. 4.6 V, series: 100 ohm ±1 %, supply: s}}}}\n",
         ""},
        {"with 4.75 V - 4.7 V",
         "supplies: {s: 5 V ±5 %}\nsignals: {k: {source: {potentiometer: 10k, top: logic}, pin: "
         "L4}}\noutputs: {l: "
         "{pin: L9, driver: {way: n-channel, on-resistance: 60 mohm, series: 100 ohm ±5 %, pull: 100k ±5 %, "
         "load: "
         "{lamp: 4.2 V "
         ".. 4.7 V, series: 100 ohm ±1 %, supply: s}}}}\n",
         "lamp-dark"},
        {"12.6 V / 60 ohm through 100 mohm lower the knob's top by 21 mV of 3.3 V",
         "supplies: {m: {voltage: 12 V ±5 %, resistance: 100 mohm}}\nsignals: {k: {source: {potentiometer: "
         "10k, top: "
         "m}, stages: [divider: {upper: 33k ±0.1 %, lower: 10k ±0.1 %}], pin: L4, reading: {unit: '%', "
         "decimals: "
         "0}}}\noutputs: {l: {pin: L9, driver: {way: n-channel, on-resistance: 60 mohm, series: 100 ohm ±5 "
         "%, "
         "pull: 100k ±5 %, "
         "load: {resistance: 60 ohm ±0 %, supply: m}}}}\n",
         "not-ratiometric"},
        {"and through 1 ohm by a hundredth and more",
         "supplies: {m: {voltage: 12 V ±5 %, resistance: 1 ohm}}\nsignals: {k: {source: {potentiometer: 10k, "
         "top: "
         "m}, stages: [divider: {upper: 33k ±0.1 %, lower: 10k ±0.1 %}], pin: L4, reading: {unit: '%', "
         "decimals: "
         "0}}}\noutputs: {l: {pin: L9, driver: {way: n-channel, on-resistance: 60 mohm, series: 100 ohm ±5 "
         "%, "
         "pull: 100k ±5 %, "
         "load: {resistance: 60 ohm ±0 %, supply: m}}}}\n",
         "ground-shift not-ratiometric"},
        {"standard bus, 400 pF: 2950.5 ohm just rise in time (UM10204)",
         "signals: {k: {source: {potentiometer: 10k, top: logic}, pin: L4}}\nbuses: {b: {pins: {scl: L24, "
         "sda: L25}, "
         "stages: [pull: {up: 2.95 kohm ±0.001 %, to: logic}, cable: 393 pF]}}\n",
         ""},
        {"2951 ohm do not",
         "signals: {k: {source: {potentiometer: 10k, top: logic}, pin: L4}}\nbuses: {b: {pins: {scl: L24, "
         "sda: L25}, "
         "stages: [pull: {up: 2.951 kohm ±0.001 %, to: logic}, cable: 393 pF]}}\n",
         "bus-pull"},
        {"a capacitor on a bus counts like its cable",
         "signals: {k: {source: {potentiometer: 10k, top: logic}, pin: L4}}\nbuses: {b: {pins: {scl: L24, "
         "sda: L25}, stages: [pull: {up: 2.96 kohm ±0.001 %, to: logic}, cable: 193 pF, capacitor: 199.5 pF "
         "±0.001 %]}}\n",
         "bus-pull"},
        {"a contact to a live rail feeds the board once it is closed",
         "supplies: {battery: {voltage: 12 V ±1 %, live: always}}\nsignals: {c: {source: {contact: battery}, "
         "stages: "
         "[divider: {upper: 10k ±1 %, lower: 3k3 ±1 %}], pin: L12}}\n",
         "back-feed"},
        {"and not through more ohms",
         "supplies: {battery: {voltage: 12 V ±1 %, live: always}}\nsignals: {c: {source: {contact: battery}, "
         "stages: "
         "[divider: {upper: 15k ±1 %, lower: 4k99 ±1 %}], pin: L12}}\n",
         ""},
        {"a supply's ripple stands on top of it",
         "supplies: {p: {voltage: 3.1 V ±1 %, ripple: 1 V}}\nsignals: {c: {source: {rail: p}, pin: L4}}\n",
         "over-limit"},
        {"half of it above, half below: 3.131 V + 0.4 V stay under 3.534 V",
         "supplies: {p: {voltage: 3.1 V ±1 %, ripple: 0.8 V}}\nsignals: {c: {source: {rail: p}, pin: L4}}\n",
         "over-range"},
        {"3.131 V + 0.405 V do not",
         "supplies: {p: {voltage: 3.1 V ±1 %, ripple: 0.81 V}}\nsignals: {c: {source: {rail: p}, pin: L4}}\n",
         "over-limit"},
        {"a contact's own resistance saves a pin that drives against it",
         "signals: {c: {source: {contact: ground, closed: 300 ohm .. 400 ohm}, stages: [pull: {up: 10k "
         "±1 %, to: "
         "logic}], pin: L12, driven: high}}\n",
         ""},
        {"with less of it",
         "signals: {c: {source: {contact: ground, closed: 200 ohm .. 400 ohm}, stages: [pull: {up: 10k "
         "±1 %, to: "
         "logic}], pin: L12, driven: high}}\n",
         "driven-contact"},
        {"a buffer's VIH at its highest supply is 2.3562 V",
         "supplies: {s: 2.35 V ±0.001 %}\nsignals: {c: {source: {logic: s, low: 0.2 V}, stages: [shifter: "
         "{way: buffer, supply: "
         "logic, vil: 0.3 rail, vih: 0.7 rail, limits: -0.3 V .. 5.5 V}], pin: L12}}\n",
         "shifter-input"},
        {"which 2.357 V reach",
         "supplies: {s: 2.357 V ±0.001 %}\nsignals: {c: {source: {logic: s, low: 0.2 V}, stages: [shifter: "
         "{way: buffer, supply: "
         "logic, vil: 0.3 rail, vih: 0.7 rail, limits: -0.3 V .. 5.5 V}], pin: L12}}\n",
         ""},
        {"a contact to a ground wire that others use closes low",
         "shared: {wire: {from: ground, series: 0.1 ohm ±1 %, carries: 0 A .. 1 A}}\nsignals: {c: {source: "
         "{contact: wire}, "
         "stages: [pull: {up: 10k ±1 %, to: logic}], pin: L12}}\n",
         ""},
        {"a base asks for 5 mA, and the driver has 1 mA",
         "supplies: {motor: 12 V ±5 %}\nsignals: {c: {source: {logic: motor, low: 0.5 V, drives: 1 mA}, "
         "stages: [shifter: "
         "{way: inverter, base: 2k2 ±1 %}, pull: {up: 10k ±1 %, to: logic}], pin: L12}}\n",
         "weak-driver"},
        {"(12.6 V - 0.65 V) / 12.07 kohm are less than 1 mA",
         "supplies: {motor: 12 V ±5 %}\nsignals: {c: {source: {logic: motor, low: 0.5 V, drives: 1 mA}, "
         "stages: [shifter: "
         "{way: inverter, base: 12.1 kohm ±0.1 %}, pull: {up: 10k ±1 %, to: logic}], pin: L12}}\n",
         ""},
        {"two multiplexers with an enable each: the pin is taken, the select lines may be shared",
         "signals:\n  v: {source: {voltage: 0 V .. 3 V, resistance: 100 ohm}, pin: a.0}\n  w: {source: "
         "{voltage: 0 V .. 3 V, "
         "resistance: 100 ohm}, pin: b.0}\nmuxes:\n  a: {part: " TL_SOURCE
         "/demo/redshank.mux.yaml, supply: logic, "
         "select: [L20, L21, L22], enable: L23, common: L6, tied: {1 .. 7: ground}}\n  b: {part: " TL_SOURCE
         "/demo/redshank.mux.yaml, supply: logic, select: [L20, L21, L22], enable: L30, common: L6, tied: {1 "
         ".. 7: ground}}\n",
         "pin-taken"},
        {"a window for a short just under the lowest valid 34.7 mV",
         "signals: {t: {source: {resistance: 400 ohm .. 900k, to: logic}, stages: [partner: {lower: 10k ±1 "
         "%}], pin: "
         "L4, reading: {of: pin, faults: {open: below 0.03 V}}}}\n",
         ""},
        {"and just over it",
         "signals: {t: {source: {resistance: 400 ohm .. 900k, to: logic}, stages: [partner: {lower: 10k ±1 "
         "%}], pin: "
         "L4, reading: {of: pin, faults: {open: below 0.04 V}}}}\n",
         "fault-window"},
        {"1007 .. 1025 and 1053 .. 1071 counts lie 28 apart",
         "signals: {t: {source: {star: [a: 3k3 ±0.1 %, b: 3k5 ±0.1 %]}, stages: [pull: {up: 10k ±0.1 %, to: "
         "logic}], "
         "pin: L4, reading: {apart: 27 counts}}}\n",
         ""},
        {"where more is wanted",
         "signals: {t: {source: {star: [a: 3k3 ±0.1 %, b: 3k5 ±0.1 %]}, stages: [pull: {up: 10k ±0.1 %, to: "
         "logic}], "
         "pin: L4, reading: {apart: 32 counts}}}\n",
         "buttons-close"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char text[1000], slugs[400];
        snprintf(text, sizeof text, HEAD "%s", rows[i].text);
        CHECK_ROW(rows[i].name, find_slugs(scratch_file("limit.plan.yaml", text, strlen(text)), TL_NOTE,
                                           slugs, sizeof slugs));
        CHECK_ROW(rows[i].name, strcmp(slugs, rows[i].slugs) == 0);
        if (strcmp(slugs, rows[i].slugs) != 0)
            printf("\n  %s: found '%s'\n", rows[i].name, slugs);
    }
}

CU_TestInfo rule_point_tests[] = {
    {"limits are met to the point", limits_are_met_to_the_point},
    CU_TEST_INFO_NULL,
};
