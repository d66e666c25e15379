/* SPDX-License-Identifier: MIT */
/* Figures that a fix or an advice names, against what a hand calculation gives: plans with one value changed.
 */
#include "support.h"
#include <stdio.h>
#include <string.h>

static void fixes_name_the_right_value(void)
{
    static const struct {
        const char *name, *plan, *on_board, *on_plan, *says;
    } rows[] = {
        /* 100 steps a period, and 1, 2 or 5 times a power of ten */
        {"steps of 64 MHz", "duty-steps", "", "", "fix: set frequency: 500 kHz\n"},
        {"steps of 32 MHz", "duty-steps", "s/duty-clock: 64 MHz/duty-clock: 32 MHz/", "",
         "fix: set frequency: 200 kHz\n"},
        {"steps of 12.8 MHz", "duty-steps", "s/duty-clock: 64 MHz/duty-clock: 12.8 MHz/", "",
         "fix: set frequency: 100 kHz\n"},
        {"steps of 80 kHz", "duty-steps", "s/duty-clock: 64 MHz/duty-clock: 80 kHz/", "",
         "fix: set frequency: 500 Hz\n"},
        {"a frequency that flickers", "duty-flicker", "", "", "fix: set frequency: 200 Hz\n"},
        /* 3.234 V through 101 kohm is 32.02 uA; through 10.1 kohm 320.2 uA; through 8.08 kohm 400.2 uA */
        {"wetting behind 100k", "wetting", "", "", "reduce the pull at least 156.2 times"},
        {"wetting behind 10k", "wetting", "", "s/100k/10k/", "reduce the pull at least 15.7 times"},
        {"wetting of 1 mA behind 8k", "wetting", "", "s/100k/8k/; s/5 mA/1 mA/",
         "reduce the pull at least 2.5 times"},
        /* 120 kohm at the middle of its track: ln 8192 times 120 kohm + 1.5 kohm and 12 pF, and the 7 pF of
           the pin */
        {"the last acquisition on offer", "slow-acquisition", "", "s/1M/400k/",
         "fix: set acquisition: 30 us\n"},
        /* 0.8473 times 47k + 1 % and 100 pF + 7 pF of the pin */
        {"rise of a bus", "bus-pull", "", "s/470 ohm/47k/",
         "rise time 4.304 µs with 47.47 kΩ and 107 pF; maximum 1 µs in standard mode\n"},
        {"fall of a bus", "bus-pull", "", "", "fix: change dome.pull to 3k3 ±1 %\n"},
        {"some inputs float", "mux-floating", "", "", "inputs 5 .. 7 of bank are unused and float"},
        {"one input floats", "mux-floating", "", "s/knob-5/knob-7/; s/bank.4/bank.6/",
         "input 7 of bank is unused and floats"},
        {"a gap on either side", "mux-floating", "", "s/knob-5/knob-2/; s/bank.0 .. bank.4/bank.1 .. bank.2/",
         "inputs 0, 3 .. 7 of bank"},
        {"what ties them", "mux-floating", "", "s/knob-5/knob-2/; s/bank.0 .. bank.4/bank.1 .. bank.2/",
         "fix: set tied: {0: ground, 3 .. 7: ground}\n"},
        {"what ties the rest", "mux-floating", "", "s/common: L5/common: L5, tied: {7: ground}/",
         "advice: add to tied: {5 .. 6: ground}\n"},
        {"a select line that is held", "select-missing", "", "s/L21\\]/L21, ground]/",
         "input 4 of bank cannot be selected"},
        /* 2k7 takes 27 of 49 shares of the heat, 1k2 beside 10k 100 of 112; each stands 250 mW */
        {"heat of two in series", "power-rating", "", "s/upper: 4k7/upper: 2k2 + 2k7/", "; rated 453.7 mW\n"},
        {"heat of two in parallel", "power-rating", "", "s/upper: 4k7/upper: 1k2 || 10k/",
         "; rated 280 mW\n"},
        {"signals alike, one apart", "source-resistance", "",
         "s/^  probe: \\(.*\\)pin: L4\\(.*\\)/  bed-3 .. bed-5: \\1pin: L4 .. L6\\2/",
         "; also bed-4, bed-5 ["},
        {"signals alike, more of them", "source-resistance", "",
         "s/^  probe: \\(.*\\)pin: L4\\(.*\\)/  bed-3 .. bed-6: \\1pin: L4 .. L7\\2/",
         "; also bed-4 .. bed-6 ["},
        {"two signals alike", "source-resistance", "",
         "s/^  probe: \\(.*\\)pin: L4\\(.*\\)/  bed-3 .. bed-4: \\1pin: L4 .. L5\\2/", "; also bed-4 ["},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char script[800];
        snprintf(script, sizeof script,
                 "sed '%s' demo/lapwing.board.yaml >%s/lapwing.board.yaml && cp demo/redshank.mux.yaml "
                 "demo/bench.drawer.yaml %s && "
                 "sed 's/: \\.\\.\\//: /; s/part: \\.\\.\\//part: /; %s' "
                 "demo/faulty/%s.plan.yaml >%s/one.plan.yaml; %s/tinyladder check %s/one.plan.yaml",
                 rows[i].on_board, TL_SCRATCH, TL_SCRATCH, rows[i].on_plan, rows[i].plan, TL_SCRATCH,
                 TL_BUILD, TL_SCRATCH);
        run_result r = run_program((const char *const[]){"sh", "-c", script, NULL}, TL_SOURCE);
        const bool right = strstr(r.out, rows[i].says) != NULL;
        CHECK_ROW(rows[i].name, right);
        if (!right)
            printf("\n  %s: %.400s%s\n", rows[i].name, r.out, r.err);
        run_free(&r);
    }
}

CU_TestInfo fix_value_tests[] = {
    {"fixes name the right value", fixes_name_the_right_value},
    CU_TEST_INFO_NULL,
};
