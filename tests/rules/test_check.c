/* The checker: every faulty plan is found by its slug, sound ones pass in silence. */
#include "support.h"
#include "tinyladder/design/rules.h"
#include <dirent.h>
#include <math.h>
#include <stdio.h>
#include <string.h>

#define HEAD "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\n"

#define DRAWER "drawer: " TL_SOURCE "/demo/bench.drawer.yaml\n"

/* What a finding holds against a limit is what its rule's row says that it compares. */
static void compares_what_its_rule_says(const tl_finding *f)
{
    const tl_rule *rule = tl_plan_rule(f->slug);
    const bool has_figures = !isnan(f->figures.value) || !isnan(f->figures.limit);
    CHECK_ROW(f->slug, rule != NULL && (!has_figures || (rule->asks >> f->figures.dimension & 1u) != 0));
}

/* Whether a word stands in a list of words. */
static bool has_word(const char *list, const char *word)
{
    const size_t length = strlen(word);
    for (const char *at = list; (at = strstr(at, word)) != NULL; at += length) {
        if ((at == list || at[-1] == ' ') && (at[length] == ' ' || at[length] == '\0'))
            return true;
    }
    return false;
}

/* A headline of one line that says what is wrong, and advice that says what to do: its first word is a verb.
 */
static void is_plain(const tl_finding *f)
{
    static const char verbs[] =
        "add buy calculate change connect convert correct describe discard divide exchange give halve "
        "increase list look measure move name raise reduce remove replace set size supply switch take tie "
        "use";
    char first[40] = "";
    int length = 0;
    for (const char *at = f->cause; *at != '\0'; at++)
        length += ((unsigned char)*at & 0xc0) != 0x80;
    CHECK_ROW(f->slug, length <= 80);
    if (f->fix == NULL)
        return;
    sscanf(f->fix, "%39[a-z]", first);
    CHECK_ROW(f->fix, first[0] != '\0' && has_word(verbs, first));
}

/* The findings of a plan as `slug slug`, errors and warnings and, where wanted, notes. */
static bool find_slugs(const char *path, tl_severity least, char *slugs, size_t size)
{
    tl_report *report = tl_report_new();
    tl_plan *plan = tl_plan_load(path, report);
    slugs[0] = '\0';
    if (plan != NULL) {
        tl_circuit *circuit = tl_circuit_new(plan);
        tl_plan_check(circuit, report);
        for (int i = 0; i < tl_report_count(report); i++) {
            compares_what_its_rule_says(tl_report_finding(report, i));
            is_plain(tl_report_finding(report, i));
            const bool asked = tl_report_finding(report, i)->severity >= least &&
                               strcmp(tl_report_finding(report, i)->slug, "no-reading") != 0;
            if (asked || (least == TL_NOTE && strstr(path, "no-reading") != NULL))
                snprintf(slugs + strlen(slugs), size - strlen(slugs), "%s%s", slugs[0] ? " " : "",
                         tl_report_finding(report, i)->slug);
        }
        tl_circuit_free(circuit);
    }
    tl_plan_free(plan);
    tl_report_free(report);
    return plan != NULL;
}

/* Each file of demo/faulty/ is named after the one mistake it holds: nothing else is an error or a warning.
 * Rules that only ever give notes are found among the notes. */
static void every_faulty_plan_is_found(void)
{
    DIR *folder = opendir(TL_SOURCE "/demo/faulty");
    CU_ASSERT_FATAL(folder != NULL);
    int plans = 0;
    for (struct dirent *entry; (entry = readdir(folder)) != NULL;) {
        char path[600], slugs[400], notes[400], wanted[256];
        const char *end = strstr(entry->d_name, ".plan.yaml");
        if (end == NULL)
            continue;
        snprintf(path, sizeof path, TL_SOURCE "/demo/faulty/%s", entry->d_name);
        snprintf(wanted, sizeof wanted, "%.*s", (int)(end - entry->d_name), entry->d_name);
        CHECK_ROW(entry->d_name, find_slugs(path, TL_WARNING, slugs, sizeof slugs));
        CHECK_ROW(entry->d_name, find_slugs(path, TL_NOTE, notes, sizeof notes));
        CHECK_ROW(entry->d_name, strcmp(slugs, wanted) == 0 || (slugs[0] == '\0' && has_word(notes, wanted)));
        plans++;
    }
    closedir(folder);
    int rules = 0;
    (void)tl_plan_rules(&rules);
    CU_ASSERT(plans >= rules - 2); /* 'shorted' and 'unsolved' take more than a plan that can be read */
}

/* No false alarms: plans that look wrong at first sight, and are not. Notes are allowed. */
static void sound_plans_pass_in_silence(void)
{
    DIR *folder = opendir(TL_SOURCE "/demo/sound");
    CU_ASSERT_FATAL(folder != NULL);
    int plans = 0;
    for (struct dirent *entry; (entry = readdir(folder)) != NULL;) {
        char path[600], slugs[400];
        if (strstr(entry->d_name, ".plan.yaml") == NULL)
            continue;
        snprintf(path, sizeof path, TL_SOURCE "/demo/sound/%s", entry->d_name);
        CHECK_ROW(entry->d_name, find_slugs(path, TL_WARNING, slugs, sizeof slugs));
        CHECK_ROW(entry->d_name, slugs[0] == '\0');
        plans++;
    }
    closedir(folder);
    CU_ASSERT(plans >= 25);
}

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

/* What the rule's row promises is what its findings are: severity, and which edits they carry. */
static void findings_keep_to_their_rows(void)
{
    static const int kinds[] = {[TL_CHANGE_VALUE] = TL_MENDS_VALUE,
                                [TL_CHANGE_KEY] = TL_MENDS_KEY,
                                [TL_CHANGE_KEY_OF] = TL_MENDS_KEY,
                                [TL_CHANGE_STAGE] = TL_MENDS_STAGE};
    int seen = 0;
    DIR *folder = opendir(TL_SOURCE "/demo/faulty");
    CU_ASSERT_FATAL(folder != NULL);
    for (struct dirent *entry; (entry = readdir(folder)) != NULL;) {
        char path[600];
        snprintf(path, sizeof path, "%s/demo/faulty/%s", TL_SOURCE, entry->d_name);
        tl_report *report = tl_report_new();
        tl_report_allow_outside(report, true);
        tl_plan *plan = strstr(path, ".plan.yaml") != NULL ? tl_plan_load(path, report) : NULL;
        tl_circuit *circuit = plan != NULL ? tl_circuit_new(plan) : NULL;
        if (circuit != NULL)
            tl_plan_check(circuit, report);
        for (int i = 0; i < tl_report_count(report) && circuit != NULL; i++) {
            const tl_finding *f = tl_report_finding(report, i);
            const tl_rule *rule = tl_plan_rule(f->slug);
            CHECK_ROW(f->slug, rule != NULL && (f->severity == rule->severity || f->severity == rule->grave));
            CHECK_ROW(f->slug, f->change.text == NULL || (rule->mends & kinds[f->change.kind]) != 0);
            CHECK_ROW(f->slug, (f->subject >= 0) <= (rule->scope == TL_SCOPE_SIGNAL));
            seen++;
        }
        tl_circuit_free(circuit);
        tl_plan_free(plan);
        tl_report_free(report);
    }
    closedir(folder);
    CU_ASSERT(seen > 70);
}

/* Whatever a finding is called, --about can explain it; and a rule that nothing raises would be a promise. */
static void every_finding_is_explained(void)
{
    int count;
    const tl_rule *rules = tl_plan_rules(&count);
    for (int i = 0; i < count; i++)
        CHECK_ROW(rules[i].slug, strlen(rules[i].meaning) > 40 && strlen(rules[i].fix) > 10 &&
                                     tl_plan_rule(rules[i].slug) == &rules[i]);
    DIR *folder = opendir(TL_SOURCE "/demo/faulty");
    CU_ASSERT_FATAL(folder != NULL);
    for (struct dirent *entry; (entry = readdir(folder)) != NULL;) {
        char slug[256];
        const char *end = strstr(entry->d_name, ".plan.yaml");
        snprintf(slug, sizeof slug, "%.*s", end != NULL ? (int)(end - entry->d_name) : 0, entry->d_name);
        CHECK_ROW(entry->d_name, end == NULL || tl_plan_rule(slug) != NULL);
    }
    closedir(folder);
    CU_ASSERT(tl_plan_rule("no-such-rule") == NULL);
}

/* The readers' own, as their sources have them. */
static void every_error_of_a_file_is_explained(void)
{
    FILE *found =
        popen("cat " TL_SOURCE "/src/reader/*.c " TL_SOURCE "/src/scene/*.c | tr '\\n' ' ' | grep -oE "
              "'report_error\\([^;\"]*\"[a-z-]+\"' | grep -oE '[a-z-]+\"$' | sort -u",
              "r");
    CU_ASSERT_FATAL(found != NULL);
    char slug[80];
    int count = 0;
    for (; fgets(slug, sizeof slug, found) != NULL; count++) {
        slug[strcspn(slug, "\"")] = '\0';
        CHECK_ROW(slug, tl_plan_rule(slug) != NULL);
    }
    pclose(found);
    CU_ASSERT(count > 20);
}

static void the_demo_plan_is_clean(void)
{
    char slugs[400];
    CU_ASSERT(find_slugs(TL_SOURCE "/demo/fernhill.plan.yaml", TL_NOTE, slugs, sizeof slugs));
    CU_ASSERT_STRING_EQUAL(slugs, "");
}

CU_TestInfo check_tests[] = {
    {"every faulty plan is found", every_faulty_plan_is_found},
    {"sound plans pass in silence", sound_plans_pass_in_silence},
    {"limits are met to the point", limits_are_met_to_the_point},
    {"findings keep to their rows", findings_keep_to_their_rows},
    {"every finding is explained", every_finding_is_explained},
    {"every error of a file is explained", every_error_of_a_file_is_explained},
    {"the demo plan is clean", the_demo_plan_is_clean},
    CU_TEST_INFO_NULL,
};
