/* SPDX-License-Identifier: MIT */
/* Plans beyond single chains that cannot be read: one clear error each, at its place. */
#include "reader/bad_file.h"
#include "tinyladder/design/plan.h"

#define HEAD "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\n"
#define KNOB "signals:\n  knob:\n    source: {potentiometer: 10k, top: logic}\n    pin: L5\n"
#define LINE                                                                                                 \
    HEAD "signals: {w: {source: {contact: ground, shortest: 10 ms}, stages: [pull: {up: 10k, to: logic}], "  \
         "pin: L12, reading: {"
#define SET                                                                                                  \
    HEAD "signals: {k: {source: {potentiometer: 10k, top: logic}, pin: L4}, j: {source: {potentiometer: "    \
         "10k, top: logic}, pin: L5}, v: {source: {voltage: 0 V .. 3 V}, pin: L6}}\n"                        \
         "outputs: {o: {pin: L9, lamp: 2 V, series: 1k, shows: k, as: threshold, "

/* Everything beyond single chains: rails, sensors, multiplexers, buses, outputs, sweeps. Columns behind a
 * file's path depend on where the project lies: 0 asks for none. */
static void wiring_is_refused_at_the_place(void)
{
    static const bad_file rows[] = {
        {"a pin as a rail with a word for its level",
         HEAD "supplies: {p: {pin: L40, level: up}}\nsignals: {k: {source: {potentiometer: 10k, top: logic}, "
              "pin: L4}}\n",
         "unknown-word", 4, 33, "level cannot be 'up'; it is one of"},
        {"a supply pin as a rail",
         HEAD "supplies: {p: {pin: 3V3, level: high}}\nsignals: {k: {source: {potentiometer: 10k, top: "
              "logic}, pin: L4}}\n",
         "pin-is-rail", 4, 21, "3V3 is a supply pin of Lapwing"},
        {"ripple below zero",
         HEAD "supplies: {p: {voltage: 5 V, ripple: -1 V}}\nsignals: {k: {source: {potentiometer: 10k, top: "
              "logic}, pin: L4}}\n",
         "bad-quantity", 4, 38, "ripple is given peak to peak, so i"},
        {"a resistance in what pins run on",
         HEAD "supplies: {logic: {voltage: 3.3 V, resistance: 1 ohm}}\nsignals: {k: {source: {potentiometer: "
              "10k, top: logic}, pin: L4}}\n",
         "bad-quantity", 4, 12, "the supply of the board's pins has a "},
        {"a shared node without its rail",
         HEAD
         "shared: {n: {series: 1k}}\nsignals: {k: {source: {potentiometer: 10k, top: logic}, pin: L4}}\n",
         "missing-key", 4, 13, "a shared node needs 'from'"},
        {"a shared node on one that comes later",
         HEAD "shared: {n: {from: m}, m: {from: logic}}\nsignals: {k: {source: {potentiometer: 10k, top: "
              "logic}, pin: L4}}\n",
         "unknown-rail", 4, 20, "there is no supply 'm'; there are:"},
        {"one name for a supply and a shared node",
         HEAD "supplies: {n: 5 V}\nshared: {n: {from: logic}}\nsignals: {k: {source: {potentiometer: 10k, "
              "top: logic}, pin: L4}}\n",
         "key-twice", 5, 10, "the supply 'n' stands here twice"},
        {"steinhart of two",
         HEAD
         "signals: {k: {source: {resistance: 10k, steinhart: [1e-3, 2e-4], over: 0 .. 50 degC}, pin: L4}}\n",
         "wrong-shape", 4, 0, "steinhart is three numbers"},
        {"steinhart of words",
         HEAD
         "signals: {k: {source: {resistance: 10k, steinhart: [a, b, c], over: 0 .. 50 degC}, pin: L4}}\n",
         "bad-number", 4, 0, ""},
        {"steinhart that falls",
         HEAD "signals: {k: {source: {resistance: 10k, steinhart: [1e-3, -2e-4, 1e-7], over: 0 .. 50 degC}, "
              "pin: L4}}\n",
         "bad-number", 4, 0, ""},
        {"beta of nothing",
         HEAD
         "signals: {k: {source: {resistance: 10k, at: 25 degC, beta: 0 K, over: 0 .. 50 degC}, pin: L4}}\n",
         "bad-quantity", 4, 0, "beta is above 0 K"},
        {"a law of its own range",
         HEAD "signals: {k: {source: {resistance: 10k, over: 0 .. 50 degC}, pin: L4}}\n", "unknown-key", 4, 0,
         ""},
        {"a chain in a map", HEAD "signals: {k: {source: {chain: {a: 1k}, from: logic}, pin: L4}}\n",
         "unknown-key", 4, 0, "a chain has no key 'from'"},
        {"a button of two keys", HEAD "signals: {k: {source: {star: [{a: 1k, b: 2k}]}, pin: L4}}\n",
         "wrong-shape", 4, 0, "a button is written"},
        {"a saturation below 0",
         HEAD "signals: {k: {source: {open-collector: ground, saturation: -0.1 V .. 0.2 V, on: 1 mA}, pin: "
              "L12}}\n",
         "bad-quantity", 4, 0, ""},
        {"a logic output that drives nothing",
         HEAD "supplies: {f: 5 V}\nsignals: {k: {source: {logic: f, high: 4 V, low: 0.4 V, drives: 0 mA}, "
              "pin: L12}}\n",
         "bad-quantity", 5, 0, "a logic output must drive"},
        {"points that turn",
         HEAD "signals: {k: {source: {potentiometer: 10k, top: logic}, reading: {unit: m, points: [0 %: 0 m, "
              "50 %: 2 m, 100 %: 1 m]}, pin: L4}}\n",
         "table-order", 4, 0, "keep rising or keep falling"},
        {"points in a map",
         HEAD "signals: {k: {source: {potentiometer: 10k, top: logic}, reading: {unit: m, points: {0: 1}}, "
              "pin: L4}}\n",
         "wrong-shape", 4, 0, ""},
        {"one point",
         HEAD "signals: {k: {source: {potentiometer: 10k, top: logic}, reading: {unit: m, points: [0 %: 0 "
              "m]}, pin: L4}}\n",
         "wrong-shape", 4, 0, "points are 2 to"},
        {"a point of two",
         HEAD "signals: {k: {source: {potentiometer: 10k, top: logic}, reading: {unit: m, points: [{0 %: 0 "
              "m, 5 %: 1 m}, 100 %: 1 m]}, pin: L4}}\n",
         "wrong-shape", 4, 0, "expected a list of pairs"},
        {"a trim that falls",
         HEAD "signals: {k: {source: {potentiometer: 10k, top: logic}, reading: {trim: {points: [2000 "
              "counts: 2 V, 1000 counts: 1 V]}}, pin: L4}}\n",
         "table-order", 4, 0, "the counts rise"},
        {"a scale of nothing",
         HEAD "signals: {k: {source: {potentiometer: 10k, top: logic}, reading: {scale: 0}, pin: L4}}\n",
         "bad-number", 4, 0, "a scale is source volts"},
        {"a window that is none",
         HEAD "signals: {k: {source: {potentiometer: 10k, top: logic}, reading: {faults: {open: sparrow}}, "
              "pin: L4}}\n",
         "bad-quantity", 4, 0, ""},
        {"stages in a map",
         HEAD "signals: {k: {source: {potentiometer: 10k, top: logic}, stages: {guard: 1k}, pin: L4}}\n",
         "wrong-shape", 4, 0, ""},
        {"a stage of two keys",
         HEAD "signals: {k: {source: {potentiometer: 10k, top: logic}, stages: [{guard: 1k, filter: {series: "
              "1k, capacitor: 1n}}], pin: L4}}\n",
         "wrong-shape", 4, 0, "a stage is one key"},
        {"a shifter without its parts",
         HEAD "signals: {k: {source: {contact: ground}, stages: [shifter: {way: n-channel}], pin: L12}}\n",
         "missing-key", 4, 0, "needs"},
        {"buses in a list",
         HEAD "buses: [1]\nsignals: {k: {source: {potentiometer: 10k, top: logic}, pin: L4}}\n",
         "wrong-shape", 4, 0, "buses are written as names"},
        {"a supply of nothing",
         HEAD
         "supplies: {n: {current: 1 A}}\nsignals: {k: {source: {potentiometer: 10k, top: logic}, pin: L4}}\n",
         "missing-key", 4, 0, "a supply needs 'voltage'"},
        {"a current below 0",
         HEAD "supplies: {n: {voltage: 5 V, current: -1 A}}\nsignals: {k: {source: {potentiometer: 10k, top: "
              "logic}, pin: L4}}\n",
         "bad-quantity", 4, 0, "must be able to give"},
        {"supplies in a list",
         HEAD "supplies: [1]\nsignals: {k: {source: {potentiometer: 10k, top: logic}, pin: L4}}\n",
         "wrong-shape", 4, 0, "supplies are written as names"},
        {"a frequency of nothing",
         HEAD "outputs: {o: {pin: L9, into: {vil: 0.8 V, vih: 2 V}, shows: k, as: duty, frequency: 0 "
              "Hz}}\nsignals: {k: {source: {potentiometer: 10k, top: logic}, pin: L4}}\n",
         "bad-quantity", 4, 0, "a frequency is above 0 Hz"},
        {"an output with stages",
         HEAD "outputs: {o: {pin: L9, lamp: 2 V, series: 470 ohm, stages: [guard: 1k]}}\nsignals: {k: "
              "{source: {potentiometer: 10k, top: logic}, pin: L4}}\n",
         "unknown-key", 4, 0, ""},
        {"a return that is a supply",
         HEAD "supplies: {n: 5 V}\nsignals: {k: {source: {voltage: 0 V .. 3 V, return: n}, pin: L4}}\n",
         "unknown-rail", 5, 0, ""},
        {"ambient below absolute zero",
         HEAD "ambient: -300 .. 20 degC\nsignals: {k: {source: {potentiometer: 10k, top: logic}, pin: L4}}\n",
         "bad-quantity", 4, 10, "beyond what is believable: -273.15"},
        {"a law and no range",
         HEAD "signals: {k: {source: {resistance: 10k, at: 25 degC, beta: 3950 K}, pin: L4}}\n",
         "missing-key", 4, 23, "a law needs 'over': the range of t"},
        {"beta without its temperature",
         HEAD "signals: {k: {source: {resistance: 10k, beta: 3950 K, over: 0 .. 50 degC}, pin: L4}}\n",
         "missing-key", 4, 23, "one law: 'law' alone, or 'at' with"},
        {"a range in another unit",
         HEAD
         "signals: {k: {source: {resistance: 10k, at: 25 degC, beta: 3950 K, over: 0 .. 50 lux}, pin: L4}}\n",
         "bad-quantity", 4, 74, "expected a range in degC, lower end"},
        {"two laws",
         HEAD "signals: {k: {source: {resistance: 10k, law: platinum, steinhart: [1, 2, 3], over: 0 .. 50 "
              "degC}, pin: L4}}\n",
         "missing-key", 4, 23, "one law: 'law' alone, or 'at' with"},
        {"a table law without a table",
         HEAD "signals: {k: {source: {resistance: 10k, law: ln, over: 0 .. 50 degC}, pin: L4}}\n",
         "missing-key", 4, 46, "this law belongs to a table: resis"},
        {"coefficients that are words",
         HEAD
         "signals: {k: {source: {resistance: 10k, steinhart: [a, b, c], over: 0 .. 50 degC}, pin: L4}}\n",
         "bad-number", 4, 53, "'a' is no coefficient"},
        {"a bridge without its voltage", HEAD "signals: {k: {source: {bridge: 1k}, pin: L4}}\n",
         "missing-key", 4, 23, "a bridge needs 'voltage'"},
        {"a chain of nothing", HEAD "signals: {k: {source: {chain: []}, pin: L4}}\n", "missing-key", 4, 31,
         "expected at least one button"},
        {"one button twice", HEAD "signals: {k: {source: {chain: [a: 0 ohm, a: 1k]}, pin: L4}}\n",
         "key-twice", 4, 42, "there are two buttons 'a'"},
        {"two buttons in one place", HEAD "signals: {k: {source: {chain: [a: 0 ohm, b: 0 ohm]}, pin: L4}}\n",
         "zero-part", 4, 42, "each button behind the first has a"},
        {"a shifter without its way",
         HEAD "signals: {k: {source: {contact: ground}, stages: [shifter: {gate: logic}], pin: L12}}\n",
         "missing-key", 4, 60, "a shifter needs 'way'"},
        {"a shifter with a key of another way",
         HEAD "signals: {k: {source: {contact: ground}, stages: [shifter: {way: diode, drop: 0.3 V, gate: "
              "logic}], pin: L12}}\n",
         "unknown-key", 4, 86, "a shifter of the way 'diode' has n"},
        {"a follower without its supply",
         HEAD "signals: {k: {source: {voltage: 0 V .. 3 V}, stages: [follower: {bias: 1 nA}], pin: L4}}\n",
         "missing-key", 4, 65, "a follower needs 'supply'"},
        {"a clamp to nothing",
         HEAD "signals: {k: {source: {voltage: 0 V .. 3 V}, stages: [clamp: yes], pin: L4}}\n", "wrong-shape",
         4, 62, "a clamp is written as keys with va"},
        {"points that fall",
         HEAD "signals: {k: {source: {voltage: 0 V .. 3 V}, pin: L4, reading: {points: [1 V: 0 m, 0.5 V: 1 "
              "m]}}}\n",
         "table-order", 4, 84, "the left sides rise from point to "},
        {"points in two units",
         HEAD
         "signals: {k: {source: {voltage: 0 V .. 3 V}, pin: L4, reading: {points: [0 V: 0 m, 1 V: 1 km]}}}\n",
         "table-order", 4, 84, "all points are in one unit"},
        {"points without a unit",
         HEAD "signals: {k: {source: {voltage: 0 V .. 3 V}, pin: L4, reading: {points: [0 V: 0, 1 V: 1]}}}\n",
         "bad-quantity", 4, 79, "'0' has no unit"},
        {"ohms without a unit before a tolerance",
         HEAD "outputs: {o: {pin: L9, lamp: 2 V, series: 470 ±5 %}}\n" KNOB, "bad-quantity", 4, 47,
         "'470' has no unit; expected a resistance"},
        {"a step of another unit",
         HEAD "signals: {k: {source: {voltage: 0 V .. 3 V}, pin: L4, reading: {round: 1 m}}}\n",
         "bad-quantity", 4, 72, "a step is above 0 and in V, like t"},
        {"two averages",
         HEAD "signals: {k: {source: {voltage: 0 V .. 3 V}, pin: L4, reading: {mean: 4, median: 3}}}\n",
         "unknown-key", 4, 82, "only one of mean, median, rolling "},
        {"a median of four",
         HEAD "signals: {k: {source: {voltage: 0 V .. 3 V}, pin: L4, reading: {median: 4}}}\n", "bad-number",
         4, 73, "a median is of an odd number of sa"},
        {"an exponential mean of 12",
         HEAD "signals: {k: {source: {voltage: 0 V .. 3 V}, pin: L4, reading: {exponential: 12}}}\n",
         "bad-number", 4, 78, "of a power of two: 16 is the nearest"},
        {"a fault window without a side",
         HEAD "signals: {k: {source: {voltage: 0 V .. 3 V}, pin: L4, reading: {faults: {open: 97 %}}}}\n",
         "bad-quantity", 4, 80, "a fault window is written 'above 9"},
        {"a trim of one point",
         HEAD "signals: {k: {source: {voltage: 0 V .. 3 V}, pin: L4, reading: {trim: {points: [1 counts: 1 "
              "V]}}}}\n",
         "wrong-shape", 4, 80, "a trim has 2 to 32 points: [20 cou"},
        {"a meter that is not there",
         HEAD "signals: {k: {source: {voltage: 0 V .. 3 V}, pin: L4, reading: {trim: {points: [1 counts: 1 "
              "V, 2 counts: 2 V], meter: hand}}}}\n",
         "unknown-word", 4, 119, "there is no meter 'hand'"},
        {"a margin of a half",
         HEAD "signals: {k: {source: {voltage: 0 V .. 3 V}, pin: L4, reading: {percent: {empty: 0 V, full: 1 "
              "V, margin: 50 %}}}}\n",
         "bad-quantity", 4, 106, "a margin lies between 0 % and 50 %"},
        {"lengths without what is expected",
         HEAD "signals: {k: {source: {contact: ground}, pin: L12, reading: {as: lengths}}}\n", "missing-key",
         4, 61, "lengths and 'expect' go together: "},
        {"two highs in a row",
         HEAD "signals: {k: {source: {contact: ground}, pin: L12, reading: {as: lengths, expect: [high 1 s, "
              "high 2 s]}}}\n",
         "wrong-shape", 4, 94, "high and low take turns"},
        {"a multiplexer without its part",
         HEAD "muxes: {m: {supply: logic, select: [L20], common: L5}}\nsignals: {k: {source: {potentiometer: "
              "10k, top: logic}, pin: L4}}\n",
         "missing-key", 4, 12, "a multiplexer needs 'part'"},
        {"a ring of multiplexers",
         HEAD "muxes: {m: {part: " TL_SOURCE "/demo/redshank.mux.yaml, supply: logic, select: [L20, L21, "
              "L22], enable: ground, common: n.0}, n: {part: " TL_SOURCE
              "/demo/redshank.mux.yaml, supply: logic, select: [L10, L11, L12], enable: ground, common: "
              "m.0}}\nsignals: {k: {source: {potentiometer: 10k, top: logic}, pin: L4}}\n",
         "wrong-shape", 4, 0, "these multiplexers form a ring"},
        {"tied inputs beyond the last",
         HEAD "muxes: {m: {part: " TL_SOURCE
              "/demo/redshank.mux.yaml, supply: logic, select: [L20, L21, L22], enable: ground, common: L5, "
              "tied: {5 .. 8: ground}}}\nsignals: {k: {source: {potentiometer: 10k, top: logic}, pin: L4}}\n",
         "bad-number", 4, 0, "inputs are 0 to 7, the lower one f"},
        {"a converter on no bus",
         HEAD "converters: {fine: {part: " TL_SOURCE
              "/demo/dunlin.converter.yaml, supply: logic, bus: dome, address: 0x2a}}\nsignals: {k: {source: "
              "{potentiometer: 10k, top: logic}, pin: L4}}\n",
         "unknown-word", 4, 0, "there is no bus 'dome'"},
        {"an address beyond seven bits",
         HEAD "buses: {dome: {pins: {scl: L24, sda: L25}}}\nconverters: {fine: {part: " TL_SOURCE
              "/demo/dunlin.converter.yaml, supply: logic, bus: dome, address: 0xaa}}\nsignals: {k: {source: "
              "{potentiometer: 10k, top: logic}, pin: L4}}\n",
         "bad-number", 5, 0, "expected a 7-bit address, 0x08 to"},
        {"an SPI part on I2C",
         HEAD "buses: {dome: {pins: {scl: L24, sda: L25}}}\nconverters: {fine: {part: " TL_SOURCE
              "/demo/knot.converter.yaml, supply: logic, bus: dome, select: L26}}\nsignals: {k: {source: "
              "{potentiometer: 10k, top: logic}, pin: L4}}\n",
         "unknown-word", 5, 0, "dome is no SPI bus"},
        {"a range that is not offered",
         HEAD "buses: {dome: {pins: {scl: L24, sda: L25}}}\nconverters: {fine: {part: " TL_SOURCE
              "/demo/dunlin.converter.yaml, supply: logic, bus: dome, address: 0x2a, range: ±5 V}}\nsignals: "
              "{k: {source: {potentiometer: 10k, top: logic}, pin: L4}}\n",
         "unknown-word", 5, 0, "the ADC offers no such range"},
        {"an alignment that is not offered",
         HEAD "converters: {main: {align: stretched}}\nsignals: {k: {source: {potentiometer: 10k, top: "
              "logic}, pin: L4}}\n",
         "unknown-word", 4, 28, "the ADC does not align 'stre"},
        {"a bus without its data line",
         HEAD "buses: {dome: {pins: {scl: L24}}}\nsignals: {k: {source: {potentiometer: 10k, top: logic}, "
              "pin: L4}}\n",
         "missing-key", 4, 22, "the bus needs 'sda'"},
        {"an output with nothing on it",
         HEAD "outputs: {o: {pin: L9}}\nsignals: {k: {source: {potentiometer: 10k, top: logic}, pin: L4}}\n",
         "missing-key", 4, 14, "an output drives one thing: a 'lam"},
        {"a lamp without its resistor",
         HEAD "outputs: {o: {pin: L9, lamp: 2 V}}\nsignals: {k: {source: {potentiometer: 10k, top: logic}, "
              "pin: L4}}\n",
         "missing-key", 4, 14, "a lamp needs 'series': the resisto"},
        {"always on, and switched",
         HEAD "outputs: {o: {from: logic, lamp: 2 V, series: 1k, shows: k}}\nsignals: {k: {source: "
              "{potentiometer: 10k, top: logic}, pin: L4}}\n",
         "unknown-key", 4, 51, "a lamp that is always on has no 'shows'"},
        {"always on, and on a pin",
         HEAD "outputs: {o: {from: logic, pin: L9, lamp: 2 V, series: 1k}}\nsignals: {k: {source: "
              "{potentiometer: 10k, top: logic}, pin: L4}}\n",
         "missing-key", 4, 14, "an output has a 'pin' or 'pins', or 'from'"},
        {"nothing, always on",
         HEAD
         "outputs: {o: {from: logic}}\nsignals: {k: {source: {potentiometer: 10k, top: logic}, pin: L4}}\n",
         "missing-key", 4, 14, "'from' needs a 'lamp'"},
        {"a load of two kinds",
         HEAD "outputs: {o: {pin: L9, driver: {way: n-channel, on-resistance: 1 ohm, series: 1k, load: "
              "{resistance: "
              "1k, lamp: 2 V, series: 1k, supply: logic}}}}\nsignals: {k: {source: {potentiometer: 10k, top: "
              "logic}, pin: L4}}\n",
         "missing-key", 4, 89, "a load has its 'resistance', or is"},
        {"a lamp and a driver",
         HEAD "outputs: {o: {pin: L9, lamp: 2 V, series: 1k, into: {vil: 1 V, vih: 2 V}}}\nsignals: {k: "
              "{source: {potentiometer: 10k, top: logic}, pin: L4}}\n",
         "missing-key", 4, 14, "an output drives one thing: a 'lam"},
        {"duty on a pin without",
         HEAD "outputs: {o: {pin: L10, lamp: 2 V, series: 1k, as: duty}}\nsignals: {k: {source: "
              "{potentiometer: 10k, top: logic}, pin: L4}}\n",
         "unknown-pin", 4, 20, "L10 has no duty channel"},
        {"a frequency on a pin without",
         HEAD "outputs: {o: {pin: L10, lamp: 2 V, series: 1k, frequency: 1 kHz}}\nsignals: {k: {source: "
              "{potentiometer: 10k, top: logic}, pin: L4}}\n",
         "unknown-key", 4, 59, "a frequency belongs to a pin that has a duty channel"},
        {"a module on a pin that is none", HEAD "modules: {d: {pins: {VDD: logic, E: L99}}}\n" KNOB,
         "unknown-pin", 4, 37, "no pin 'L99'"},
        {"a module's pins that do not count along",
         HEAD "modules: {d: {pins: {D4 .. D7: L30 .. L32}}}\n" KNOB, "bad-name", 4, 32, "3 pins for 4"},
        {"a module that takes from nowhere", HEAD "modules: {d: {current: 1 mA, pins: {VDD: logic}}}\n" KNOB,
         "missing-key", 4, 24, "comes from its 'supply'"},
        {"a module that gives",
         HEAD "modules: {d: {supply: logic, current: -1 mA, pins: {VDD: logic}}}\n" KNOB, "bad-quantity", 4,
         39, "0 A or more"},
        {"a current back to a supply",
         HEAD "modules: {d: {supply: logic, return: logic, current: 1 mA, pins: {VDD: logic}}}\n" KNOB,
         "unknown-rail", 4, 38, "goes back to ground"},
        {"a pin of a module that goes nowhere", HEAD "modules: {d: {pins: {A: {series: 1k}}}}\n" KNOB,
         "missing-key", 4, 25, "a pin of a module needs 'to'"},
        {"a hysteresis that no lamp overcomes",
         HEAD "outputs: {o: {pins: [L30, L31, L32, L33], lamp: 2 V, series: 1k, shows: k, as: levels, "
              "hysteresis: 20 %}}\n"
              "signals: {k: {source: {potentiometer: 10k, top: logic}, pin: L4}}\n",
         "bad-quantity", 4, 100, "with 4 lamps the hysteresis stays below 19.9 %"},
        {"an output that shows nothing there is",
         HEAD "outputs: {o: {pin: L9, lamp: 2 V, series: 1k, shows: knob}}\nsignals: {k: {source: "
              "{potentiometer: 10k, top: logic}, pin: L4}}\n",
         "unknown-signal", 4, 54, "the plan has no signal 'knob'"},
        {"a threshold the wrong way",
         HEAD "outputs: {o: {pin: L9, lamp: 2 V, series: 1k, shows: k, as: threshold, start-below: 40 %, "
              "stop-above: 30 %}}\nsignals: {k: {source: {potentiometer: 10k, top: logic}, pin: L4}}\n",
         "bad-quantity", 4, 103, "start and stop differ, and between"},
        {"a threshold in another unit",
         HEAD "outputs: {o: {pin: L9, lamp: 2 V, series: 1k, shows: k, as: threshold, start-below: 1 V, "
              "stop-above: 2 V}}\nsignals: {k: {source: {potentiometer: 10k, top: logic}, pin: L4}}\n",
         "bad-quantity", 4, 85, "thresholds are in %, like the read"},
        {"a time of what is not measured", LINE "as: count, over: 1 s}}}\n", "unknown-key", 4, 134,
         "'over' goes with 'as: frequency'"},
        {"decimals of a level", LINE "decimals: 1}}}\n", "unknown-key", 4, 127, "'decimals' goes with"},
        {"a duty of three decimals", LINE "as: duty, decimals: 3}}}\n", "bad-number", 4, 137,
         "a duty has 0 to 2 decimals"},
        {"no time to come to a stand", LINE "as: period, stopped-after: 0 s}}}\n", "bad-quantity", 4, 144,
         "'stopped-after' is 1 us .. 1073 s"},
        {"too long for the clock", LINE "as: period, over: 20 min}}}\n", "bad-quantity", 4, 135,
         "'over' is 0 s .. 1073 s"},
        {"stopped before a period is over", LINE "as: period, stopped-after: 10 ms}}}\n", "bad-quantity", 4,
         144, "'stopped-after' is 0.01 s, but a period takes 0.02 s"},
        {"lengths without any", LINE "as: lengths}}}\n", "missing-key", 4, 116, "lengths and 'expect'"},
        {"a lamp that follows a frequency",
         LINE "as: frequency}}}\noutputs: {o: {pin: L9, lamp: 2 V, series: 1k, shows: w}}\n", "wrong-shape",
         5, 54, "w has a figure: 'as: threshold'"},
        {"levels of a frequency",
         LINE
         "as: frequency}}}\noutputs: {o: {pins: [L30, L31], lamp: 2 V, series: 1k, shows: w, as: levels}}\n",
         "wrong-shape", 5, 63, "w has a figure: 'as: threshold'"},
        {"a threshold that it shows itself", SET "start-above: k, stop-below: 10 %}}\n", "bad-quantity", 5,
         85, "k is what the output shows: a figure or"},
        {"a threshold set by nothing there is", SET "start-above: knob, stop-below: 10 %}}\n",
         "unknown-signal", 5, 85, "the plan has no signal 'knob'"},
        {"both levels at one place", SET "start-above: j, stop-below: j}}\n", "bad-quantity", 5, 100,
         "start and stop differ: where both follow j, one is written 'j - 2 %"},
        {"more than a signal and a figure", SET "start-above: j + much, stop-below: j}}\n", "bad-quantity", 5,
         85, "behind '+ ': "},
        {"a threshold set in volts", SET "start-above: v, stop-below: 10 %}}\n", "bad-quantity", 5, 85,
         "v gives no figure in %"},
        {"a level with nothing to compare",
         HEAD
         "signals: {k: {source: {potentiometer: 10k, top: logic}, pin: L4}}\n"
         "outputs: {o: {pin: L9, lamp: 2 V, series: 1k, as: threshold, start-above: k, stop-below: 10 %}}\n",
         "missing-key", 5, 75, "what is compared with k is missing"},
        {"a bipolar driver with an on-resistance",
         HEAD "supplies: {m: 12 V}\noutputs: {o: {pin: L9, driver: {way: bipolar, on-resistance: 1 ohm, "
              "series: 1k, load: {resistance: 100 ohm, supply: m}}}}\nsignals: {k: {source: {potentiometer: "
              "10k, top: logic}, pin: L4}}\n",
         "missing-key", 5, 32, "a bipolar driver has 'gain' and 's"},
        {"a sweep of a button",
         HEAD "signals: {b: {source: {contact: ground}, pin: L12}}\nsweeps: {s: {signals: [b]}}\n",
         "wrong-shape", 5, 24, "a sweep reads ADCs: b is dig"},
        {"a meter with words for digits",
         HEAD
         "meters: {m: {digits: many}}\nsignals: {k: {source: {potentiometer: 10k, top: logic}, pin: L4}}\n",
         "bad-number", 4, 22, "digits is a whole number from 0 to"},
        {"a dotted name", HEAD "signals: {a.b: {source: {potentiometer: 10k, top: logic}, pin: L4}}\n",
         "bad-name", 4, 11, "'a.b' is no name: a dot joins the "},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_report *report = tl_report_new();
        tl_plan *plan =
            tl_plan_load(scratch_file("wiring.plan.yaml", rows[i].text, strlen(rows[i].text)), report);
        CHECK_ROW(rows[i].name, plan == NULL);
        check_report(&rows[i], report);
        tl_plan_free(plan);
        tl_report_free(report);
    }
}

CU_TestInfo refused_wiring_tests[] = {
    {"wiring is refused at the place", wiring_is_refused_at_the_place},
    CU_TEST_INFO_NULL,
};
