/* SPDX-License-Identifier: MIT */
/*
 * Answers of `size` as its users get them, each compared with its closed form written out here: what is
 * easily forgotten (leakage, tolerance of a leg that is there already, what a board says), the parts' ends as
 * exact numbers, and what must be refused. One row a class.
 */
#include "support.h"
#include <jansson.h>
#include <math.h>
#include <stdio.h>
#include <string.h>

#define LAPWING " --board demo/lapwing.board.yaml"
#define PLOVER " --board demo/plover.board.yaml"
#define RAIL " --rail '3.3 V ±2 %'"

/* Where the number stands: a figure of the first choice, an exact number, a part, the exit status. */
typedef enum { FIGURE, EXACT, PART, STATUS } place;

static const struct {
    const char *words;
    place where;
    const char *name; /* of the figure or the exact number; of a refusal: a word of its reason */
    double value, relative;
} rows[] = {
    /* divider */
    {"divider --vin 14.8V --vmax 2.5V --lower 1k6 --tolerance 5% --order parts", FIGURE, "tap, highest",
     14.8 * 1680 / (1680 + 9100 * 0.95), 1e-6},
    {"divider --vin 14.8V --vmax 2.5V --upper '47k ±1 %' --order parts", FIGURE, "tap, highest",
     14.8 * 9100 * 1.01 / (9100 * 1.01 + 47e3 * 0.99), 1e-6},
    {"divider --vin 10.5V..14.8V --vmax 3.2V --order current", FIGURE, "of the limit",
     100 * 14.8 * 11.11 / (11.11 + 91 * 0.99) / 3.2, 1e-6}, /* no less than half of what can be had */
    {"divider --vin 12V --vmax 3V --upper 10k --lower 10k", STATUS, "over the limit", 1, 0},
    {"ratio --ratio 33/148 --sum 20k..200k", EXACT, "upper by lower", 115.0 / 33, 1e-9},
    /* pull */
    {"pull" RAIL " --leakage 1uA --contact-resistance 100ohm", FIGURE, "closed level",
     3.234 * 100 / 10000 + 1e-6 * 100 * 9900 / 10000, 1e-6}, /* nearest to its limit on the low rail */
    {"pull" RAIL " --leakage 1uA", EXACT, "largest for the leakage", 0.3 * 3.234 / 1e-6, 1e-9},
    {"pull" RAIL " --max-current 1mA", EXACT, "smallest for the current", 3.366 / 1e-3, 1e-9},
    {"pull" RAIL " --leakage 1uA --guard 10k", EXACT, "largest for the leakage", 0.3 * 3.234 / 1e-6 - 10e3,
     1e-9},
    {"pull --vdd 3.3V --vil 0.8V", STATUS, NULL, 0, 0},
    {"pull --vdd 3.3V --vil 1.5V --vih 1V", STATUS, "VIH is above VIL", 2, 0},
    /* shift */
    {"shift --driver-supply '5 V ±5 %' --receiver-supply '3.3 V ±2 %' --bit-rate 1kHz --open-drain "
     "--pin-leakage 1uA --order largest",
     PART, "pull", 270e3, 1e-9}, /* 300k would lift it by more than 0.3 V */
    {"shift --driver-supply '5 V ±5 %' --receiver-supply '3.3 V ±2 %' --bit-rate 1kHz --open-drain --order "
     "largest",
     PART, "pull", 1e6, 1e-9},
    /* R C ln(3.3 / 0.99) within 3 us: 120k, since the low may be all of 0 V */
    {"shift --driver-supply 5V --receiver-supply 3.3V --open-drain --order largest", PART, "pull", 120e3,
     1e-9},
    {"shift --driver-supply '3.3 V ±2 %' --receiver-supply '5 V ±5 %' --bit-rate 100kHz --both-ways "
     "--open-drain",
     FIGURE, "high margin back", 4.75 - 0.7 * 3.366, 1e-6},
    /* partner, feed, follower: the board's reference and limits */
    {"partner --sensor 1k..30k --supply 3.3V --thermal-resistance 500 --order swing", FIGURE,
     "warms itself by", 500 * 3.3 * 3.3 / 4 / (5600 * 0.99), 1e-6},
    {"partner --sensor 1k..30k --supply 3.3V", EXACT, "partner for the widest swing", 5477.225575, 1e-9},
    /* a reference that is not the rail: (2 kohm of the sensor) s / (1 - s), s the reference's share of the
       rail */
    {"partner --sensor 2k..200k --supply '3.3 V ±2 %' --vmax 1.176V", EXACT, "largest for the limit",
     2e3 * (1.176 / 3.366) / (1 - 1.176 / 3.366), 1e-6},
    {"partner --sensor 2k..200k --supply '3.3 V ±2 %' --vmax 1.176V", PART, "partner", 1e3, 1e-9},
    {"partner --sensor 2k..200k --supply '3.3 V ±2 %' --vmax 1.176V --position upper", EXACT,
     "smallest for the limit", 200e3 * (3.366 / 1.176 - 1), 1e-6},
    {"feed --track '10k ±20 %' --supply '5 V ±5 %'" LAPWING, EXACT, "smallest feed",
     12e3 * (5.25 / (3.3 * 0.98) - 1), 1e-6},
    {"follower --vin 0V..3.2V --source-resistance 250k --supply '5 V ±5 %' --out-high 2V --out-low "
     "0.1V" LAPWING,
     FIGURE, "at the pin", 3.2 + 250e3 * 50e-9,
     1e-6}, /* a capacitor is enough: the leakage through the source */
    {"follower --vin 0V..3.2V --source-resistance 250k --supply '3.3 V ±2 %' --out-high 0.2V --out-low 0.1V "
     "--vmax "
     "3.5V "
     "--reference 3V",
     STATUS, "output, highest", 1, 0},
    /* mux */
    {"mux --r-on 70ohm..200ohm --source-resistance 10k" PLOVER, FIGURE, "one channel", 6e-6 + 90e-6, 1e-9},
    {"mux --r-on 70ohm..200ohm --source-resistance 1k,10k --used 8 --mux-leakage 10nA" PLOVER, FIGURE,
     "leakage costs", (7 * 10e-9 + 1e-6) * 10200, 1e-6},
    {"mux --r-on 70ohm..200ohm --source-resistance 10k --used 9" LAPWING, EXACT, "parts", 3, 1e-9},
    /* loads */
    {"driver --supply 12V --load-resistance 80ohm..100ohm --voh 2.8V..3.4V --pin-current 10mA", EXACT,
     "largest base resistor", (2.8 - 0.9) / (12.0 / 80 / 20), 1e-6},
    {"driver --supply 12V --load-resistance 80ohm..100ohm --voh 2.8V..3.4V --pin-current 10mA", EXACT,
     "smallest base resistor", (3.4 - 0.65) / 10e-3, 1e-6},
    {"driver --supply 12V --load-resistance 80ohm..100ohm --voh 2.8V..3.4V --pin-current 10mA --pin-leakage "
     "5uA",
     EXACT, "largest pull that keeps it off", 0.4 / 5e-6, 1e-9},
    {"loop --vmax 3.2V --supply 24V", EXACT, "largest load for the pin", 3.2 / 0.025, 1e-9},
    {"loop --vmax 3.2V --supply 24V", FIGURE, "shorted, current", 24 / 118.8, 1e-6},
    {"loop --vmax 3.2V --supply 24V", FIGURE, "shorted, power", 24 * 24 / 118.8, 1e-6},
    {"lamp --supply '3.3 V ±2 %' --vf 1.9V..2.2V --led-current 4mA", EXACT, "smallest series resistor",
     (3.366 - 1.9) / 4e-3, 1e-9},
    {"injection --vin 0V..26V" RAIL " --injection 1mA", EXACT, "smallest series resistor",
     (26 - 3.234 - 0.3) / 1e-3, 1e-9},
    {"injection --vin 0V..2V" RAIL " --injection 1mA --unpowered --order least", FIGURE, "injected, above",
     1.7 / 1782, 1e-6},
    {"guard --vdd 3.366V --pin-current 12mA", EXACT, "smallest guard", 3.366 / 12e-3, 1e-9},
    /* ladder: the pin's leakage weighs on large pulls, so the smallest third is best */
    {"ladder --buttons 5 --pull 100k --order apart" PLOVER, PART, "pull", 36e3, 1e-9},
    /* capacitors */
    {"reservoir --source-resistance 10k --sample-rate 10Hz --drawer demo/bench.drawer.yaml" LAPWING, FIGURE,
     "at once", 4096 * 12e-12 / (12e-12 + 220e-9 * 0.9), 1e-6},
    {"filter --passband 20kHz --stopband 500kHz" PLOVER, FIGURE, "kept", 100 / 1.1192774,
     1e-3}, /* 1 / hypot(1, 2 pi 20k 3k636 1.1n) */
};

static double number_in(const json_t *list, const char *name)
{
    size_t i;
    const json_t *one;
    json_array_foreach(list, i, one)
    {
        if (strcmp(json_string_value(json_object_get(one, "name")), name) == 0)
            return json_number_value(json_object_get(one, "value"));
    }
    return NAN;
}

static void numbers_are_those_of_the_closed_form(void)
{
    for (size_t i = 0; i < ROWS(rows); i++) {
        char line[600];
        snprintf(line, sizeof line, TL_BUILD "/tinyladder size %s --json", rows[i].words);
        run_result r = run_program((const char *const[]){"/bin/sh", "-c", line, NULL}, TL_SOURCE);
        json_t *o = json_loads(r.out, 0, NULL);
        const json_t *first = json_array_get(json_object_get(o, "choices"), 0);
        if (rows[i].where == STATUS) {
            CHECK_ROW(rows[i].words, r.status == (int)rows[i].value);
            CHECK_ROW(rows[i].words, rows[i].name == NULL || strstr(r.out, rows[i].name) != NULL ||
                                         strstr(r.err, rows[i].name) != NULL);
        } else {
            const double found = number_in(
                rows[i].where == EXACT ? json_object_get(o, "exact")
                                       : json_object_get(first, rows[i].where == PART ? "parts" : "figures"),
                rows[i].name);
            const bool good =
                (r.status == 0 || rows[i].where == EXACT) && near(found, rows[i].value, rows[i].relative);
            CHECK_ROW(rows[i].words, good);
            if (!good)
                printf("\n  size %s: %s %.9g, not %.9g\n", rows[i].words, rows[i].name, found, rows[i].value);
        }
        /* Every choice says its way, and no figure gets lost for want of a unit. */
        if (first != NULL) {
            CHECK_ROW(rows[i].words, json_is_string(json_object_get(first, "way")));
            const json_t *figures = json_object_get(first, "figures");
            for (size_t f = 0; f < json_array_size(figures); f++)
                CHECK_ROW(rows[i].words, json_is_string(json_object_get(json_array_get(figures, f), "unit")));
        }
        json_decref(o);
        run_free(&r);
    }
}

CU_TestInfo answer_tests[] = {
    {"numbers are those of the closed form", numbers_are_those_of_the_closed_form},
    CU_TEST_INFO_NULL,
};
