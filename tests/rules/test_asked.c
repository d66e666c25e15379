/* SPDX-License-Identifier: MIT */
/* Verdicts that only the circuit knows, one row a class: the plan that is wrong, and its neighbour that is
 * sound. Each figure is worked out in the comment beside it. */
#include "support.h"
#include <stdio.h>
#include <string.h>

#define HEAD "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\n"
#define DRAWER "drawer: " TL_SOURCE "/demo/bench.drawer.yaml\n" /* a quarter of a watt each */
#define KNOB "k: {source: {potentiometer: 10k ±20 %, top: logic}, pin: L4, reading: {unit: '%'}}"
#define PRESSURE                                                                                             \
    "signals: {p: {source: {voltage: 0.33 V .. 2.97 V, ratiometric: logic}, pin: L4, reading: {unit: V, "    \
    "decimals: 1, "
#define LIVE "supplies: {far: {voltage: 5 V ±5 %, live: always}}\n"
#define LOGIC "source: {logic: far, high: rail - 0.4 V, low: 0.4 V, drives: 4 mA}"
#define LOOP                                                                                                 \
    "supplies: {v24: 24 V ±5 %}\nsignals: {l: {source: {current: 4 mA .. 20 mA, supply: v24}, stages: "     \
    "[load: 120 ohm ±1 %], pin: L4, reading: {unit: mA, decimals: 1, faults: "
#define MUX                                                                                                  \
    "muxes: {bank: {part: " TL_SOURCE "/demo/redshank.mux.yaml, supply: logic, tied: {1 .. 7: ground}, "     \
    "common: L4, select: [L20, L21, L22], enable: "
#define DUTY                                                                                                 \
    "supplies: {v: 12 V ±5 %}\nsignals: {" KNOB "}\noutputs: {o: {pin: L9, shows: k, as: duty, frequency: "
#define DISPLAY(ohms, amperes)                                                                               \
    "supplies: {five: {voltage: 5 V ±2 %, current: 40 mA, resistance: " ohms "}}\nsignals: {k: {source: {"   \
    "potentiometer: 10k ±10 %, top: five}, stages: [divider: {upper: 1M, lower: 1M}], pin: L4, reading: {"  \
    "unit: '%'}}}\nmodules: {d: {supply: five, current: " amperes ", pins: {VDD: five}}}\n"
#define WIRE_BACK(amperes)                                                                                   \
    "shared: {back: {from: ground, series: 100 mohm ±0 %}}\nsignals: {s: {source: {voltage: 0.3 V .. 2.7 "  \
    "V, "                                                                                                    \
    "return: back}, pin: L4, reading: {unit: V, decimals: 3}}}\nmodules: {d: {supply: logic, return: back, " \
    "current: 0 A .. " amperes ", pins: {VSS: back}}}\n"
#define GATE                                                                                                 \
    "driver: {way: n-channel, on-resistance: 60 mohm, gate: 1.5 nF, series: 470 ohm ±1 %, pull: 100k, "     \
    "load: "                                                                                                 \
    "{resistance: 24 ohm, supply: v}}}}\n"

static const struct {
    const char *name, *slug, *faulty, *sound;
} classes[] = {
    /* It follows the reference: 2.97 V of 3.3 V are 90 % whatever the rail is, never 2.99 V of it. */
    {"a window beside a ratiometric signal", "fault-window", PRESSURE "faults: {short: above 2.96 V}}}}\n",
     PRESSURE "faults: {short: above 2.98 V}}}}\n"},
    {"a full that a ratiometric signal never reaches", "percent-unreachable",
     PRESSURE "percent: {empty: 0.33 V, full: 3.02 V}}}}\n",
     PRESSURE "percent: {empty: 0.33 V, full: 2.97 V}}}}\n"},
    {"a threshold below what a sensor gives", "threshold-unreachable",
     "signals: {t: {source: {resistance: 10k ±0 %, at: 25 degC, beta: 3950 K, over: 0 .. 50 degC}, stages: "
     "[partner: "
     "{upper: 10k ±0.1 %, to: logic}], pin: L4, reading: {decimals: 0}}}\noutputs: {o: {pin: L8, shows: t, "
     "as: "
     "threshold, start-below: -2 degC, stop-above: 5 degC}}\n",
     "signals: {t: {source: {resistance: 10k ±0 %, at: 25 degC, beta: 3950 K, over: 0 .. 50 degC}, stages: "
     "[partner: "
     "{upper: 10k ±0.1 %, to: logic}], pin: L4, reading: {decimals: 0}}}\noutputs: {o: {pin: L8, shows: t, "
     "as: "
     "threshold, start-below: 2 degC, stop-above: 5 degC}}\n"},
    /* 0.3 A through 0.2 ohm are 60 mV, behind 15.3k / (10k + 15.3k) 36 mV; half of that would pass at 20 mV.
     */
    {"the whole of a foreign current", "ground-shift",
     "shared: {back: {from: ground, series: 50 mohm ±0 %, carries: 0 A .. 0.3 A}}\nsignals: {s: {source: "
     "{voltage: 0.3 "
     "V .. 2.7 V, return: back}, pin: L4, reading: {unit: V, decimals: 2}}}\n",
     "shared: {back: {from: ground, series: 30 mohm ±0 %, carries: 0 A .. 0.3 A}}\nsignals: {s: {source: "
     "{voltage: 0.3 "
     "V .. 2.7 V, return: back}, pin: L4, reading: {unit: V, decimals: 2}}}\n"},
    /* A muxed line is pulled below ground by nothing; 600k above 3.534 V would need a supply of its own. */
    {"leakage that would need a rail of its own", "pull-too-high",
     "supplies: {five: 5 V ±5 %}\nsignals: {b: {source: {contact: ground}, stages: [pull: {up: 1M ±1 %, to: "
     "five}], "
     "pin: L12}}\n",
     "signals: {b: {source: {contact: ground}, stages: [pull: {up: 9M ±1 %, to: logic}], pin: L12}}\n"},
    /* (12.6 - 2)^2 / 330 = 0.34 W; at 680 ohm 0.17 W. */
    {"the resistor of a lamp that is always on", "power-rating",
     DRAWER "supplies: {v: 12 V ±5 %}\nsignals: {" KNOB
            "}\noutputs: {o: {from: v, lamp: 2 V, series: 330 ohm}}\n",
     DRAWER "supplies: {v: 12 V ±5 %}\nsignals: {" KNOB
            "}\noutputs: {o: {from: v, lamp: 2 V, series: 680 ohm}}\n"},
    /* Behind the supply's ohm the knob's island has the display's current already: 39 mA and 5.061 V / 9k are
     * 39.56 mA, 40 mA and that are not 40 mA any more. */
    {"a display and a knob on one supply", "over-budget", DISPLAY("1 ohm", "40 mA"),
     DISPLAY("1 ohm", "39 mA")},
    /* Without: 39.4 mA and 5.1 V / 9k = 0.567 mA are 39.97 mA, 39.5 mA are not. */
    {"and on one without resistance", "over-budget", DISPLAY("0 ohm", "39.5 mA"),
     DISPLAY("0 ohm", "39.4 mA")},
    /* 20 mA through 0.1 ohm are 2 mV, 2 mA a fifth of that: 1 mV is the last digit, half of it counts. */
    {"a display's current in the wire of a sensor", "ground-shift", WIRE_BACK("20 mA"), WIRE_BACK("4 mA")},
    /* The eye's limit itself is enough; 64 MHz / 640 kHz are 100 steps. */
    {"a lamp that flickers", "duty-flicker", DUTY "99 Hz, lamp: 2 V, series: 1k}}\n",
     DUTY "100 Hz, lamp: 2 V, series: 1k}}\n"},
    {"a timer with few steps", "duty-steps", DUTY "641 kHz, lamp: 2 V, series: 1k}}\n",
     DUTY "640 kHz, lamp: 2 V, series: 1k}}\n"},
    /* ln 9 (1.01 * 470 + 0.4 V / 4 mA) 1.5 nF = 1.894 us: a hundredth of 5.278 kHz. */
    {"a gate slower than a step", "duty-edge", DUTY "5.29 kHz, " GATE, DUTY "5.27 kHz, " GATE},
    /* (12.6 - 3)^2 / 47 is 2 W; above a track of 100 ohm, 100 ohm take 12.6^2 / 4 / 100 = 0.4 W. */
    {"the resistor of a lamp behind a transistor", "power-rating",
     DRAWER "supplies: {v: 12 V ±5 %}\nsignals: {" KNOB "}\noutputs: {o: {pin: L27, driver: {way: n-channel, "
            "on-resistance: 60 mohm, series: 100 ohm, pull: 100k, load: {lamp: 3 V, series: 100 ohm, supply: "
            "v}}}}\n",
     DRAWER "supplies: {v: 12 V ±5 %}\nsignals: {" KNOB "}\noutputs: {o: {pin: L27, driver: {way: n-channel, "
            "on-resistance: 60 mohm, series: 100 ohm, pull: 100k, load: {lamp: 3 V, series: 680 ohm, supply: "
            "v}}}}\n"},
    {"a resistor above a track", "power-rating",
     DRAWER "supplies: {v: 12 V ±5 %}\nshared: {top: {from: v, series: 100 ohm}}\nsignals: {s: {source: "
            "{potentiometer: "
            "100 ohm ±10 %, top: top}, stages: [divider: {upper: 100k, lower: 15k}], pin: L4, reading: "
            "{unit: '%'}}}\n",
     DRAWER
     "supplies: {v: 12 V ±5 %}\nshared: {top: {from: v, series: 1k}}\nsignals: {s: {source: {potentiometer: "
     "1k ±10 %, top: top}, stages: [divider: {upper: 100k, lower: 15k}], pin: L4, reading: {unit: '%'}}}\n"},
    {"a sensor and its partner both at ground", "dead-signal",
     "signals: {s: {source: {resistance: 1k .. 9k}, stages: [partner: {lower: 3k3 ±1 %}], pin: L4, reading: "
     "{unit: "
     "ohm}}}\n",
     "signals: {s: {source: {resistance: 1k .. 9k}, stages: [partner: {upper: 3k3 ±1 %, to: logic}], pin: "
     "L4, reading: "
     "{unit: ohm}}}\n"},
    {"a sensor and its partner both at a supply", "dead-signal",
     "signals: {s: {source: {resistance: 1k .. 9k, to: logic}, stages: [partner: {upper: 3k3 ±1 %, to: "
     "logic}], pin: "
     "L4, reading: {unit: ohm}}}\n",
     "signals: {s: {source: {resistance: 1k .. 9k, to: logic}, stages: [partner: {lower: 3k3 ±1 %}], pin: "
     "L4, reading: "
     "{unit: ohm}}}\n"},
    {"a track between two pins held high", "dead-signal",
     "supplies: {a: {pin: L10, level: high}, b: {pin: L11, level: high}}\nsignals: {s: {source: "
     "{potentiometer: 10k "
     "±10 %, top: a, bottom: b}, pin: L4, reading: {unit: '%'}}}\n",
     "supplies: {a: {pin: L10, level: high}, b: {pin: L11, level: low}}\nsignals: {s: {source: "
     "{potentiometer: 10k ±10 "
     "%, top: a, bottom: b}, pin: L4, reading: {unit: '%'}}}\n"},
    /* At 0 ohm 3.366 V flow through the partner and what is in series with the sensor: 6.6 mA, 0.7 mA. */
    {"a shorted sensor without anything in its way", "sensor-short",
     "supplies: {v: {voltage: 3.3 V ±2 %, current: 1 mA}}\nsignals: {s: {source: {resistance: 100 ohm .. "
     "20k}, stages: "
     "[partner: {upper: 510 ohm ±1 %, to: v}], pin: L4, reading: {unit: ohm}}}\n",
     "supplies: {v: {voltage: 3.3 V ±2 %, current: 1 mA}}\nshared: {top: {from: v, series: 4k7 ±1 "
     "%}}\nsignals: {s: "
     "{source: {resistance: 100 ohm .. 20k}, stages: [partner: {upper: 510 ohm ±1 %, to: top}], pin: L4, "
     "reading: "
     "{unit: ohm}}}\n"},
    /* 0.8473 (2k2 + 100) 1 nF are 2 us, of 300 ns; without the capacitor 20 pF are left. */
    {"a filter on a bus line", "bus-pull",
     "signals: {" KNOB
     "}\nbuses: {w: {pins: {scl: L24, sda: L25}, mode: fast, stages: [pull: {up: 2k2 ±1 %, to: "
     "logic}, filter: {series: 100 ohm ±1 %, capacitor: 1 nF ±10 %}]}}\n",
     "signals: {" KNOB
     "}\nbuses: {w: {pins: {scl: L24, sda: L25}, mode: fast, stages: [pull: {up: 2k2 ±1 %, to: "
     "logic}, filter: {series: 100 ohm ±1 %, capacitor: 47 pF ±10 %}]}}\n"},
    /* 3.366 V / 99 ohm = 34 mA, of 12 mA. */
    {"a pin that drives its own pull", "driven-contact",
     "signals: {s: {source: {contact: logic}, stages: [pull: {down: 100 ohm ±1 %}], pin: L12, driven: "
     "high}}\n",
     "signals: {s: {source: {contact: logic}, stages: [pull: {down: 1k ±1 %}], pin: L12, driven: high}}\n"},
    {"a diode that blocks is no way into the board", "back-feed",
     LIVE "signals: {s: {" LOGIC ", pin: L12}}\n",
     LIVE "signals: {s: {" LOGIC
          ", stages: [shifter: {way: diode, drop: 0.35 V}, pull: {up: 10k ±1 %, to: logic}], "
          "pin: L12}}\n"},
    {"nor is the body diode of a transistor", "back-feed", LIVE "signals: {s: {" LOGIC ", pin: L12}}\n",
     LIVE "signals: {s: {source: {open-collector: ground, saturation: 0.4 V, on: 3 mA}, stages: [pull: {up: "
          "4k7 ±1 %, "
          "to: far}, shifter: {way: n-channel, gate: logic, threshold: 1.5 V, diode: 0.7 V}, pull: {up: 10k "
          "±1 %, to: "
          "logic}], pin: L12}}\n"},
    {"a clamp of the plan's own feeds the rail, not the pin", "back-feed",
     LIVE "signals: {s: {" LOGIC ", stages: [series: 470 ohm ±1 %], pin: L12}}\n",
     LIVE "signals: {s: {" LOGIC
          ", stages: [series: 470 ohm ±1 %, clamp: {to: logic, drop: 0.25 V, current: 100 mA}], "
          "pin: L12}}\n"},
    /* A lamp is no battery: on a wire that others use it takes, and lifts it, but pulls nothing below ground.
     */
    {"a lamp on a rail that may be 0 V", "below-ground",
     "signals: {s: {source: {voltage: -1 V .. 2 V}, pin: L4, reading: {unit: "
     "V}}}\n",
     "supplies: {v: {voltage: 0 V .. 2.5 V, resistance: 100 ohm}}\nsignals: {s: {source: {rail: v}, pin: L4, "
     "reading: "
     "{unit: V}}}\noutputs: {o: {from: v, lamp: 2 V, series: 470 ohm}}\n"},
    {"an enable on one of its own selects", "select-shared",
     MUX "L22}}\nsignals: {s: {source: {potentiometer: 10k ±20 "
         "%, top: logic}, pin: bank.0, reading: {unit: '%'}}}\n",
     MUX "L23}}\nsignals: {s: {source: {potentiometer: 10k ±20 %, top: logic}, pin: bank.0, reading: {unit: "
         "'%'}}}\n"},
    {"an open loop that is waited for at the top", "fault-side", LOOP "{open: above 21 mA}}}}\n",
     LOOP "{open: below 3.6 mA, short: above 21 mA}}}}\n"},
    {"start and stop within a count", "threshold-close",
     "signals: {" KNOB
     "}\noutputs: {o: {pin: L8, shows: k, as: threshold, start-above: 50 %, stop-below: 49.99 %}}\n",
     "signals: {" KNOB
     "}\noutputs: {o: {pin: L8, shows: k, as: threshold, start-above: 50 %, stop-below: 49 %}}\n"},
    {"start and stop as one signal sets them, within a count", "threshold-close",
     "signals: {" KNOB ", j: {source: {potentiometer: 10k ±20 %, top: logic}, pin: L5}"
     "}\noutputs: {o: {pin: L8, shows: k, as: threshold, start-above: j, stop-below: j - 0.03 %}}\n",
     "signals: {" KNOB ", j: {source: {potentiometer: 10k ±20 %, top: logic}, pin: L5}"
     "}\noutputs: {o: {pin: L8, shows: k, as: threshold, start-above: j, stop-below: j - 0.07 %}}\n"},
    {"start and stop that cross", "threshold-close",
     "signals: {" KNOB ", j: {source: {potentiometer: 10k ±20 %, top: logic}, pin: L5}"
     "}\noutputs: {o: {pin: L8, shows: k, as: threshold, start-above: j, stop-below: 20 %}}\n",
     "signals: {" KNOB ", j: {source: {potentiometer: 10k ±20 %, top: logic, over: 30 % .. 80 %}, pin: L5}"
     "}\noutputs: {o: {pin: L8, shows: k, as: threshold, start-above: j, stop-below: 20 %}}\n"},
    {"start above all that there is, however it is set", "threshold-unreachable",
     "signals: {" KNOB ", j: {source: {potentiometer: 10k ±20 %, top: logic}, pin: L5}"
     "}\noutputs: {o: {pin: L8, shows: k, as: threshold, start-above: j + 120 %, stop-below: j}}\n",
     "signals: {" KNOB ", j: {source: {potentiometer: 10k ±20 %, top: logic}, pin: L5}"
     "}\noutputs: {o: {pin: L8, shows: k, as: threshold, start-above: j + 80 %, stop-below: j}}\n"},
    {"percent of a battery within a percent", "threshold-close",
     "signals: {b: {source: {voltage: 1 V .. 3 V}, pin: L4, reading: {unit: V, percent: {empty: 1 V, full: 3 "
     "V}}}"
     "}\noutputs: {o: {pin: L8, shows: b, as: threshold, start-above: 50 %, stop-below: 49.5 %}}\n",
     "signals: {b: {source: {voltage: 1 V .. 3 V}, pin: L4, reading: {unit: V, percent: {empty: 1 V, full: 3 "
     "V}}}"
     "}\noutputs: {o: {pin: L8, shows: b, as: threshold, start-above: 50 %, stop-below: 48 %}}\n"},
    {"a gate that its pull divides", "driver-weak",
     "supplies: {v: 12 V ±5 %}\nsignals: {" KNOB
     "}\noutputs: {o: {pin: L27, driver: {way: n-channel, on-resistance: 60 "
     "mohm, series: 10k ±1 %, pull: 10k ±1 %, load: {resistance: 100 ohm, supply: v}}}}\n",
     "supplies: {v: 12 V ±5 %}\nsignals: {" KNOB
     "}\noutputs: {o: {pin: L27, driver: {way: n-channel, on-resistance: 60 "
     "mohm, series: 1k ±1 %, pull: 100k ±1 %, load: {resistance: 100 ohm, supply: v}}}}\n"},
    /* 12.6 V / 120 ohm through 20 ohm are 2.1 V, through 10 ohm 1.15 V: a tenth of the least supply is 1.14
       V. */
    {"a transistor that takes a tenth of the supply", "driver-weak",
     "supplies: {v: 12 V ±5 %}\nsignals: {" KNOB
     "}\noutputs: {o: {pin: L27, driver: {way: n-channel, on-resistance: 10 ohm, series: 1k ±1 %, pull: 100k "
     "±1 %, load: {resistance: 100 ohm, supply: v}}}}\n",
     "supplies: {v: 12 V ±5 %}\nsignals: {" KNOB
     "}\noutputs: {o: {pin: L27, driver: {way: n-channel, on-resistance: 9 ohm, series: 1k ±1 %, pull: 100k "
     "±1 %, load: {resistance: 100 ohm, supply: v}}}}\n"},
    /* At VIL, 0.3 of 3.234 V, 24k7 ask for (3.366 - 1.01) / 24.5k = 96 uA, at 0 V for 137 uA. */
    {"a weak transistor that still makes a low", "weak-driver",
     "signals: {s: {source: {open-collector: ground, saturation: 0 V .. 0.3 V, on: 90 uA}, stages: [pull: "
     "{up: 24k7 ±1 "
     "%, to: logic}], pin: L12}}\n",
     "signals: {s: {source: {open-collector: ground, saturation: 0 V .. 0.3 V, on: 110 uA}, stages: [pull: "
     "{up: 24k7 "
     "±1 %, to: logic}], pin: L12}}\n"},
    {"a supply for nothing", "unused-supply", "supplies: {five: 5 V ±5 %}\nsignals: {" KNOB "}\n",
     "supplies: {five: 5 V ±5 %}\nsignals: {" KNOB "}\nmodules: {d: {supply: five, current: 10 mA}}\n"},
    {"a supply that a pin of a module is on", "unused-supply",
     "supplies: {five: 5 V ±5 %}\nsignals: {" KNOB
     "}\nmodules: {d: {supply: logic, current: 10 mA, pins: {VDD: logic}}}\n",
     "supplies: {five: 5 V ±5 %}\nsignals: {" KNOB
     "}\nmodules: {d: {supply: logic, current: 10 mA, pins: {VDD: five}}}\n"},
    {"points that end before the source does", "table-short",
     "signals: {s: {source: {voltage: 0 V .. 3 V}, pin: L4, reading: {unit: kg, points: [0.5 V: 0 kg, 1 V: 2 "
     "kg, 3 V: 5 "
     "kg], decimals: 1}}}\n",
     "signals: {s: {source: {voltage: 0 V .. 3 V}, pin: L4, reading: {unit: kg, points: [0 V: 0 kg, 1 V: 2 "
     "kg, 3 V: 5 "
     "kg], decimals: 1}}}\n"},
    {"points of a loop that end before it does", "table-short",
     "supplies: {v24: 24 V ±5 %}\nsignals: {l: {source: {current: 4 mA .. 20 mA, supply: v24}, stages: "
     "[load: 120 ohm "
     "±1 %], pin: L4, reading: {unit: kg, points: [4 mA: 0 kg, 8 mA: 2 kg, 19 mA: 5 kg], decimals: 1}}}\n",
     "supplies: {v24: 24 V ±5 %}\nsignals: {l: {source: {current: 4 mA .. 20 mA, supply: v24}, stages: "
     "[load: 120 ohm "
     "±1 %], pin: L4, reading: {unit: kg, points: [4 mA: 0 kg, 8 mA: 2 kg, 20 mA: 5 kg], decimals: 1}}}\n"},
    {"firmware that divides by all counts", "restated",
     "signals: {k: {source: {potentiometer: 10k ±20 %, top: logic}, pin: L4, reading: {unit: '%', steps: "
     "full}}}\n",
     "signals: {k: {source: {potentiometer: 10k ±20 %, top: logic}, pin: L4, reading: {unit: '%', steps: "
     "half}}}\n"},
    {"firmware that divides by the last count", "restated",
     "signals: {k: {source: {potentiometer: 10k ±20 %, top: logic}, pin: L4, reading: {unit: '%', steps: "
     "end-to-end}}}\n",
     "signals: {k: {source: {potentiometer: 10k ±20 %, top: logic}, pin: L4, reading: {unit: '%'}}}\n"},
    {"a rail behind a pin's resistance is more than its supply", "measures-itself",
     "signals: {s: {source: {rail: logic}, stages: [divider: {upper: 10k ±1 %, lower: 10k ±1 %}], pin: L4, "
     "reading: "
     "{unit: V}}}\n",
     "supplies: {hot: {pin: L10, level: high}}\nsignals: {s: {source: {rail: hot}, stages: [guard: 1k ±1 %], "
     "pin: L4, "
     "reading: {unit: V}}, t: {source: {potentiometer: 1k ±10 %, top: hot}, pin: L5, reading: {unit: "
     "'%'}}}\n"},
};

static run_result check_plan(const char *plan)
{
    static char text[4000];
    snprintf(text, sizeof text, HEAD "%s", plan);
    return run_command("--outside", "check", scratch_file("asked.plan.yaml", text, strlen(text)), "--brief",
                       NULL);
}

static void the_circuit_is_asked(void)
{
    for (size_t i = 0; i < ROWS(classes); i++) {
        char slug[60];
        snprintf(slug, sizeof slug, "[%s]", classes[i].slug);
        run_result faulty = check_plan(classes[i].faulty), sound = check_plan(classes[i].sound);
        const bool good = strstr(faulty.out, slug) != NULL && strstr(sound.out, slug) == NULL &&
                          faulty.err[0] == '\0' && sound.err[0] == '\0';
        CHECK_ROW(classes[i].name, good);
        if (!good)
            printf("\n  %s:\n  faulty: %s%s\n  sound: %s%s\n", classes[i].name, faulty.out, faulty.err,
                   sound.out, sound.err);
        run_free(&faulty);
        run_free(&sound);
    }
}

CU_TestInfo asked_tests[] = {
    {"the circuit is asked", the_circuit_is_asked},
    CU_TEST_INFO_NULL,
};
