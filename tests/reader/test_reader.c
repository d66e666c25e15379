/* SPDX-License-Identifier: MIT */
/* Plans that cannot be read: one clear error each, at its place. */
#include "reader/bad_file.h"
#include "tinyladder/design/scene.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#define HEAD "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\n"
#define KNOB "signals:\n  knob:\n    source: {potentiometer: 10k, top: logic}\n    pin: L5\n"
#define LINE                                                                                                 \
    HEAD "signals: {w: {source: {contact: ground, shortest: 10 ms}, stages: [pull: {up: 10k, to: logic}], "  \
         "pin: L12, reading: {"
#define SET                                                                                                  \
    HEAD "signals: {k: {source: {potentiometer: 10k, top: logic}, pin: L4}, j: {source: {potentiometer: "    \
         "10k, top: logic}, pin: L5}, v: {source: {voltage: 0 V .. 3 V}, pin: L6}}\n"                        \
         "outputs: {o: {pin: L9, lamp: 2 V, series: 1k, shows: k, as: threshold, "

static void plans_are_refused_at_the_place(void)
{
    static const bad_file rows[] = {
        {"nothing but a comment", "# hello\n", "syntax", 1, 1, "nothing in this file"},
        {"not a plan", "a: b\n", "wrong-kind", 1, 1, "tinyladder: plan 1"},
        {"another kind", "tinyladder: scene 1\n", "wrong-kind", 1, 13, "expected 'plan 1'"},
        {"another version", "tinyladder: plan 2\n", "wrong-kind", 1, 13, "expected 'plan 1'"},
        {"broken YAML", HEAD "signals: [a\n", "syntax", 5, 1, ""},
        {"truncated", HEAD "signals:\n  knob: {source: \"abc\n", "syntax", 5, 19, "closing quote"},
        {"anchor", HEAD "signals: &a {}\n", "syntax", 4, 13, "anchors"},
        {"alias", HEAD "signals: *a\n", "syntax", 4, 11, "aliases"},
        {"tag", HEAD "signals: !x {}\n", "syntax", 4, 13, "tags"},
        {"two documents", "---\na: b\n---\nc: d\n", "syntax", 3, 1, "one document"},
        {"binary", "tinyladder: \x01\x02", "syntax", 1, 13, "is no text"},
        {"not UTF-8", "tinyladder: \xff", "syntax", 1, 13, "is no text"},
        {"unknown key", HEAD "titel: x\n" KNOB, "unknown-key", 4, 1, "did you mean 'title'"},
        {"key twice", HEAD "title: x\n" KNOB, "key-twice", 4, 1, "twice"},
        {"missing signals", HEAD, "missing-key", 1, 1, "needs 'signals'"},
        {"missing board file", "tinyladder: plan 1\ntitle: t\nboard: none.yaml\n" KNOB, "unreadable-file", 3,
         8, "No such file"},
        {"board is a folder", "tinyladder: plan 1\ntitle: t\nboard: /\n" KNOB, "unreadable-file", 3, 8,
         "folder"},
        {"unknown pin",
         HEAD "signals:\n  knob:\n    source: {potentiometer: 10k, top: logic}\n    pin: L55\n",
         "unknown-pin", 7, 10, "did you mean"},
        {"number as pin",
         HEAD "signals:\n  knob:\n    source: {potentiometer: 10k, top: logic}\n    pin: 3\n", "unknown-pin",
         7, 10, "position 3 is L0, channel 3 is L7"},
        {"pin is a supply",
         HEAD "signals:\n  knob:\n    source: {potentiometer: 10k, top: logic}\n    pin: 3V3\n",
         "pin-is-rail", 7, 10, "supply pin"},
        {"unknown rail",
         HEAD "signals:\n  knob:\n    source: {potentiometer: 10k, top: logik}\n    pin: L5\n",
         "unknown-rail", 6, 39, "did you mean 'logic'"},
        {"unit missing", HEAD "signals:\n  knob:\n    source: {potentiometer: 10, top: logic}\n    pin: L5\n",
         "bad-quantity", 6, 31, "'10' has no unit"},
        {"range reversed", HEAD "supplies: {b: 9 V .. 5 V}\n" KNOB, "bad-quantity", 4, 19, "reversed"},
        {"negative resistance",
         HEAD "signals:\n  knob:\n    source: {potentiometer: -10k, top: logic}\n    pin: L5\n",
         "bad-quantity", 6, 29, "cannot be negative"},
        {"not a number", HEAD "supplies: {b: .nan}\n" KNOB, "bad-quantity", 4, 15, "expected a voltage"},
        {"zero divider",
         HEAD "signals:\n  k:\n    source: {rail: logic}\n    stages: [divider: {upper: 10k, lower: 0 "
              "ohm}]\n    pin: L5\n",
         "zero-part", 7, 43, "above 0"},
        {"unknown stage",
         HEAD "signals:\n  k:\n    source: {rail: logic}\n    stages: [divder: {upper: 10k, lower: 1k}]\n    "
              "pin: L5\n",
         "unknown-key", 7, 14, "did you mean 'divider'"},
        {"unknown source", HEAD "signals:\n  k:\n    source: {lemon: 1}\n    pin: L5\n", "unknown-source", 6,
         13, "says what it is"},
        {"both ends on one rail",
         HEAD "signals:\n  k:\n    source: {potentiometer: 1k, top: logic, bottom: logic}\n    pin: L5\n",
         "same-rail", 6, 13, "same rail"},
        {"pull both ways",
         HEAD "signals:\n  k:\n    source: {contact: ground}\n    stages: [pull: {up: 1k, down: 1k, to: "
              "logic}]\n    pin: L5\n",
         "missing-key", 7, 20, "one of them"},
        {"typical outside", HEAD "supplies: {b: {range: 1 V .. 2 V, typical: 3 V}}\n" KNOB, "bad-quantity", 4,
         44, "outside the range"},
        {"percent ends alike",
         HEAD "signals:\n  k:\n    source: {rail: logic}\n    pin: L5\n    reading: {percent: {empty: 1 V, "
              "full: 1 V}}\n",
         "percent-ends", 8, 24, "the same"},
        {"two percents of one reading",
         HEAD "signals:\n  s:\n    source: {potentiometer: 10k, top: logic}\n    pin: L4\n    reading: {of: "
              "travel, unit: '%', percent: {empty: 2 %, full: 98 %}}\n",
         "percent-twice", 8, 47, "in % already"},
        {"travel of a rail",
         HEAD "signals:\n  k:\n    source: {rail: logic}\n    pin: L5\n    reading: {of: travel}\n",
         "unknown-word", 8, 19, "source, pin or counts"},
        {"signal name", HEAD "signals:\n  a b:\n    source: {rail: logic}\n    pin: L5\n", "bad-name", 5, 3,
         "is no name"},
        {"reference unknown", HEAD "converters: {main: {reference: outer}}\n" KNOB, "unknown-word", 4, 32,
         "logic, inner"},
        {"fewer pins than names",
         HEAD "signals:\n  k1 .. k3:\n    source: {rail: logic}\n    pin: L4 .. L5\n", "bad-name", 7, 10,
         "2 pins for 3 signals"},
        {"a name of a range that is there already",
         HEAD "signals:\n  k2: {source: {rail: logic}, pin: L4}\n  k1 .. k2: {source: {rail: logic}, pin: L5 "
              ".. L6}\n",
         "key-twice", 6, 3, "two signals 'k2'"},
        {"thresholds the wrong way round",
         HEAD KNOB "outputs: {line: {pin: L13, into: {vil: 2 V, vih: 0.8 V}}}\n", "vil-above-vih", 8, 40,
         "vil: 2 V is not below vih: 0.8 V"},
        {"and of a buffer",
         HEAD "signals:\n  b: {source: {logic: logic}, stages: [shifter: {way: buffer, supply: logic, vil: "
              "0.7 rail, "
              "vih: 0.3 rail, limits: 0 V .. 5 V}], pin: L12}\n",
         "vil-above-vih", 5, 83, "is not below"},
        {"include that is missing", HEAD "include: [none.yaml]\n" KNOB, "unreadable-file", 4, 11,
         "No such file"},
        {"include from elsewhere", HEAD "include: " TL_SOURCE "/demo/fernhill.plan.yaml\n" KNOB, "outside", 4,
         10, "outside the folder"},
        {"include of what is no plan", HEAD "include: other.scene.yaml\n" KNOB, "wrong-kind", 1, 13,
         "expected 'plan 1'"},
        {"a table from elsewhere",
         HEAD "signals:\n  k:\n    source: {resistance: away.table.csv, law: ln, over: 1 .. 2 degC}\n    "
              "pin: L5\n",
         "outside", 6, 26, "outside the folder"},
        {"an escape in a text", "tinyladder: plan 1\ntitle: \"a\\e[31mred\"\n", "syntax", 2, 9,
         "control character"},
        {"a control character of eight bits",
         "tinyladder: plan 1\ntitle: a\xc2\x9b"
         "31m\n",
         "syntax", 2, 9, "no text"},
        {"writing turned round", "tinyladder: plan 1\ntitle: \"\\u202eevil\"\n", "syntax", 2, 9,
         "control character"},
        {"a line break in a title", "tinyladder: plan 1\ntitle: |\n  two\n  lines\n", "syntax", 3, 0,
         "line break"},
        {"supply twice", HEAD "supplies: {a: 1 V, a: 2 V}\n" KNOB, "key-twice", 4, 20, "twice"},
        {"drawer that is a plan", HEAD "drawer: " TL_SOURCE "/demo/fernhill.plan.yaml\n" KNOB, "wrong-kind",
         2, 13, "expected 'drawer 1'"},
        {"a table without its law", HEAD "signals:\n  k:\n    source: {resistance: ntc.csv}\n    pin: L5\n",
         "missing-key", 6, 26, "a table says how it runs"},
        {"upper partner without its rail",
         HEAD "signals:\n  k:\n    source: {resistance: 10k, to: ground}\n    stages: [partner: {upper: "
              "10k}]\n    pin: L5\n",
         "missing-key", 7, 23, "needs 'to'"},
        {"compliance of no supply",
         HEAD "signals:\n  k:\n    source: {current: 4 mA .. 20 mA, compliance: 8 V}\n    pin: L5\n",
         "missing-key", 6, 13, "'supply' is missing"},
        {"a pull-down that the chip lacks",
         HEAD
         "signals:\n  k:\n    source: {contact: logic}\n    stages: [pull: {down: internal}]\n    pin: L12\n",
         "no-internal-pull", 7, 14, "no pull-down"},
        {"an internal pull with a rail",
         HEAD "signals:\n  k:\n    source: {contact: ground}\n    stages: [pull: {up: internal, to: "
              "logic}]\n    pin: L12\n",
         "missing-key", 7, 20, "no 'to'"},
        {"unit of another quantity",
         HEAD "signals:\n  k:\n    source: {current: 4 mA .. 20 mA}\n    pin: L5\n    reading: {unit: V}\n",
         "unknown-word", 8, 21, "A, mA"},
        {"scalar for a map", HEAD "signals: 5\n", "wrong-shape", 4, 10, "names with what they are"},
    };
    static const char other[] = "tinyladder: scene 1\n";
    scratch_file("other.scene.yaml", other, strlen(other));
    unlink(scratch_path("away.table.csv")); /* a link leads out as well as dots do */
    CU_ASSERT(symlink("/etc/passwd", scratch_path("away.table.csv")) == 0);
    for (size_t i = 0; i < ROWS(rows); i++) {
        tl_report *report = tl_report_new();
        CHECK_ROW(rows[i].name,
                  tl_plan_load(scratch_file("bad.plan.yaml", rows[i].text, strlen(rows[i].text)), report) ==
                      NULL);
        check_report(&rows[i], report);
        tl_report_free(report);
    }
}

/* Sections of several files join: chains of one are connected to rails of another; names count along with
 * their pins.
 */
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

static void includes_join_and_names_count_along(void)
{
    static const char dome[] = "tinyladder: plan 1\nsupplies: {dome: 5 V}\nsignals: {hatch: {source: "
                               "{contact: ground}, stages: [pull: {up: 1k, to: logic}], pin: L15}}\n";
    static const char twice[] = "tinyladder: plan 1\nsupplies: {main: 5 V}\n";
    static const char plan_text[] =
        HEAD "include: [dome.plan.yaml]\nsupplies: {main: 9 V}\nsignals:\n  k1 .. k3: {source: "
             "{potentiometer: 10k, top: dome}, stages: [series: 22k + 4k7], pin: L4 .. L6}\n";
    tl_report *report = tl_report_new();
    scratch_file("dome.plan.yaml", dome, strlen(dome));
    tl_plan *plan = tl_plan_load(scratch_file("joined.plan.yaml", plan_text, strlen(plan_text)), report);
    CU_ASSERT_FATAL(plan != NULL && plan->signal_count == 4);
    CU_ASSERT_STRING_EQUAL(plan->signals[2].name, "k3");
    CU_ASSERT_STRING_EQUAL(plan->pins[plan->signals[2].pin].name, "L6");
    CU_ASSERT_STRING_EQUAL(plan->supplies[plan->signals[0].source.supply].name, "dome");
    CU_ASSERT(plan->signals[0].stages[0].first.value.nominal == 26700 &&
              plan->signals[0].stages[0].first.parts[1] == 4700);
    tl_plan_free(plan);
    tl_report_free(report);
    report = tl_report_new();
    scratch_file("dome.plan.yaml", twice, strlen(twice));
    CU_ASSERT(tl_plan_load(scratch_file("joined.plan.yaml", plan_text, strlen(plan_text)), report) == NULL);
    CU_ASSERT(strcmp(tl_report_finding(report, 0)->slug, "key-twice") == 0 &&
              strstr(tl_report_path(report, tl_report_finding(report, 0)->place), "dome.plan.yaml") != NULL);
    tl_report_free(report);
}

static void all_errors_of_a_file_come_in_one_run(void)
{
    static const char text[] =
        HEAD "titel: x\nsupplies: {b: 5}\nsignals:\n  knob:\n    source: {potentiometer: 10, tip: logic}\n"
             "    stages: [gard: 1k, pull: {up: 10}]\n    pin: Q5\n    reading: {decimals: many}\n";
    tl_report *report = tl_report_new();
    CU_ASSERT(tl_plan_load(scratch_file("many.plan.yaml", text, strlen(text)), report) == NULL);
    CU_ASSERT(tl_report_count(report) == 9);
    tl_report_free(report);
}

/* What would cost a parser minutes or gigabytes. */
static void costly_files_are_refused_cheaply(void)
{
    static const struct {
        const char *name, *unit;
        size_t size;
        const char *slug, *says;
    } rows[] = {
        {"more than 1 MB", "x", (1u << 20) + 1, "unreadable-file", "larger than 1 MB"},
        {"one line of a megabyte", "a: ", 1u << 20, "syntax", "4000 bytes"},
        {"a million percent signs", "%", 1u << 20, "syntax", "begin with '%'"},
        {"brackets in brackets", "[\n", 1u << 20, "syntax", "nested too deeply"},
        {"braces", "{a: ", 2000, "syntax", "nested too deeply"},
        {"lists in lists", "- ", 400, "syntax", "nested too deeply"},
        {"blank lines", "  \n", 1u << 20, "syntax", "20000 lines"},
        {"zeros", "\0", 5000, "syntax", "is no text"},
        {"empty", "", 0, "unreadable-file", "is empty"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char *text = malloc(rows[i].size + 1);
        const size_t unit = strlen(rows[i].unit) > 0 ? strlen(rows[i].unit) : 1;
        for (size_t at = 0; at < rows[i].size; at++)
            text[at] = rows[i].unit[at % unit];
        tl_report *report = tl_report_new();
        CHECK_ROW(rows[i].name,
                  tl_plan_load(scratch_file("costly.yaml", text, rows[i].size), report) == NULL);
        CHECK_ROW(rows[i].name, tl_report_count(report) == 1 &&
                                    strcmp(tl_report_finding(report, 0)->slug, rows[i].slug) == 0 &&
                                    strstr(tl_report_finding(report, 0)->cause, rows[i].says) != NULL);
        tl_report_free(report);
        free(text);
    }
}

CU_TestInfo reader_tests[] = {
    {"wiring is refused at the place", wiring_is_refused_at_the_place},
    {"plans are refused at the place", plans_are_refused_at_the_place},
    {"includes join and names count along", includes_join_and_names_count_along},
    {"all errors of a file come in one run", all_errors_of_a_file_come_in_one_run},
    {"costly files are refused cheaply", costly_files_are_refused_cheaply},
    CU_TEST_INFO_NULL,
};
