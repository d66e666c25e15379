/* SPDX-License-Identifier: MIT */
/* The command as users meet it: what it does, words in and texts out; what it refuses is in test_refusals.c.
 */
#include "support.h"
#include <jansson.h>
#include <stdio.h>
#include <string.h>

#define PLAN "demo/fernhill.plan.yaml"
#define SCENE "demo/evening.scene.yaml"

static void does_what_it_says(void)
{
    static const command_row rows[] = {
        {"help", {"--help"}, 0, "Exit status", NULL},
        {"version", {"--version"}, 0, "tinyladder 0.", NULL},
        {"divider", {"size", "divider", "--vin", "10.5V..14.8V", "--vmax", "3.3V"}, 0, "Plan line", NULL},
        {"divider with one leg fixed",
         {"size", "divider", "--vin", "12V", "--vmax", "3V", "--lower", "10k"},
         0,
         "lower: 10k",
         NULL},
        {"divider with everything",
         {"size", "divider", "--vin=9V..15V", "--vmax=3V", "--max-current=1mA", "--max-source-resistance=5k",
          "--series=E96", "--tolerance=0.5%", "--top=2", "--load-resistance=1M"},
         0,
         "E96 values, ±0.5 %",
         NULL},
        {"check", {"check", PLAN}, 0, "0 errors, 0 warnings, 0 notes", NULL},
        {"check finds",
         {"check", "demo/faulty/same-rail.plan.yaml"},
         1,
         "demo/faulty/same-rail.plan.yaml:8:14: error:",
         NULL},
        {"check in one line",
         {"check", "--brief", "demo/faulty/same-rail.plan.yaml"},
         1,
         "yaml:8:14: error: open-button: contact and pull go to the same rail; the level never changes: both "
         "are on logic [same-rail]\n",
         NULL},
        {"about a finding", {"check", "--about", "slow-acquisition"}, 0, "size reservoir", NULL},
        {"about all",
         {"check", "--about", "all"},
         0,
         "  over-budget        error    The sum of all currents",
         NULL},
        {"read", {"read", PLAN}, 0, "house-battery", NULL},
        {"read a scene", {"read", PLAN, "--scene", SCENE, "--at", "71.1s"}, 0, "closed", NULL},
        {"read tells a dead pin",
         {"read", "demo/faulty/over-limit.plan.yaml"},
         1,
         "exceeded its absolute maximum",
         NULL},
        {"word",
         {"word", "demo/lapwing.board.yaml", "--set", "channel=6", "--set", "align=left"},
         0,
         "= 0x0086 = 0000 0000 1000 0110\n",
         NULL},
        {"word taken apart",
         {"word", "demo/lapwing.board.yaml", "--register=power", "--decode=0x53"},
         0,
         "state  0 .. 1      3  on\n",
         NULL},
        {"bits outside every field",
         {"word", "demo/lapwing.board.yaml", "--register=power", "--decode=0x5b"},
         0,
         "0x8 is set outside every field",
         NULL},
        {"word of a converter on the bus",
         {"word", PLAN, "--converter", "fine", "--set", "input=pair-0"},
         0,
         "settings = 0x10 = 0001 0000",
         NULL},
        {"word of a converter's own file",
         {"word", "demo/dunlin.converter.yaml", "--decode", "0x91"},
         0,
         "pair-0",
         NULL},
        {"word of a plan's settings", {"word", PLAN, "--json"}, 0, "\"means\": \"logic\"", NULL},
        {"demo", {"demo"}, 0, "That was the tour", NULL},
    };
    check_commands(rows, ROWS(rows));
}

/* One sensible call of every sizing: an answer, with plan lines where the language has them. */
static void sizes_everything(void)
{
#define BOARD "--board", "demo/lapwing.board.yaml"
    static const command_row rows[] = {
        {"list of kinds", {"size", "--help"}, 0, "injection", NULL},
        {"help of a kind", {"size", "pull", "--help"}, 0, "Example: tinyladder size pull", NULL},
        {"divider with a board",
         {"size", "divider", "--vin", "10.5V..14.8V", BOARD},
         0,
         "pin leakage of 50 nA",
         NULL},
        {"divider of two parts a leg",
         {"size", "divider", "--vin=12V", "--vmax=3V", "--parts=2", "--order=share", "--series=E12"},
         0,
         " + ",
         NULL},
        {"divider from a drawer",
         {"size", "divider", "--vin=12V", "--vmax=3V", "--drawer=demo/bench.drawer.yaml"},
         0,
         "Values from demo/bench.drawer.yaml",
         NULL},
        {"near rejected of a drawer",
         {"size", "divider", "--vin=14.8V", "--vmax=2.5V", "--lower=1k6", "--drawer=demo/bench.drawer.yaml"},
         0,
         "The upper resistor needs 7.872 kΩ; with 6k8 the",
         NULL},
        {"partner", {"size", "partner", "--sensor", "400 ohm..900k", BOARD}, 0, "partner: {lower: ", NULL},
        {"feed",
         {"size", "feed", "--track=10k ±20 %", "--supply=5V ±5 %", "--tracks=2", BOARD},
         0,
         "series: 4k7",
         NULL},
        {"follower",
         {"size", "follower", "--vin=0.1V..3.2V", "--source-resistance=1M", "--supply=5V ±5 %",
          "--out-high=1.4V", BOARD},
         0,
         "follower and divider",
         NULL},
        {"pull",
         {"size", "pull", "--internal", "30k..60k", BOARD},
         0,
         "is enough: you need no resistor",
         NULL},
        {"guard", {"size", "guard", BOARD}, 0, "guard: 1k", NULL},
        {"lamp", {"size", "lamp", "--vf", "1.9V..2.2V", BOARD}, 0, "series: 470R", NULL},
        {"driver",
         {"size", "driver", "--supply=12V", "--load-resistance=240ohm", "--coil=100mH", "--rds-on=0.5ohm",
          "--forced-gain=30", BOARD},
         0,
         "N-channel MOSFET",
         NULL},
        {"loop", {"size", "loop", "--supply=24V", BOARD}, 0, "load: 120R", NULL},
        {"bus-pull",
         {"size", "bus-pull", "--mode=fast", "--line-capacitance=200pF", BOARD},
         0,
         "to 1.77 kΩ",
         NULL},
        {"shift",
         {"size", "shift", "--driver-supply=5V ±5 %", "--bit-rate=100kHz", BOARD},
         0,
         "direct connection: input voltage max 5.25 V",
         NULL},
        {"mux",
         {"size", "mux", "--r-on=70ohm..200ohm", "--source-resistance=10k", "--used=5", BOARD},
         0,
         "3:011",
         NULL},
        {"ladder", {"size", "ladder", "--buttons=5"}, 0, "anything else is between", NULL},
        {"star", {"size", "ladder", "--buttons=6", "--circuit=star"}, 0, "read as a third", NULL},
        {"filter", {"size", "filter", "--passband=1Hz", "--stopband=50Hz"}, 0, "filter: {series", NULL},
        {"reservoir",
         {"size", "reservoir", "--source-resistance=100k", "--sample-rate=10Hz", BOARD},
         0,
         "capacitor: 470 nF",
         NULL},
        {"reservoir from a drawer",
         {"size", "reservoir", "--source-resistance=100k", "--sample-rate=10Hz",
          "--drawer=demo/bench.drawer.yaml", BOARD},
         0,
         "capacitor: 220 nF ±10 %",
         NULL},
        {"injection",
         {"size", "injection", "--vin=0V..26V", "--injection=1mA", BOARD},
         0,
         "series: 47k",
         NULL},
        {"colour bands", {"size", "guard", BOARD}, 0, "guard 1k: brown black black brown brown", NULL},
        {"what a plan used up",
         {"size", "divider", "--vin=12V", "--vmax=3V", "--drawer=demo/bench.drawer.yaml", "--plan", PLAN},
         0,
         "divider",
         NULL},
    };
#undef BOARD
    check_commands(rows, ROWS(rows));
}

/* What size proposes can be pasted into a plan: its stage is read, and a check of the plan has nothing
 * against it. */
static void plan_lines_can_be_pasted(void)
{
    static const struct {
        const char *words[8], *source;
    } rows[] = {
        {{"divider", "--vin=10.5V..14.8V", "--vmax=3.2V"}, "{rail: battery}"},
        {{"divider", "--vin=10.5V..14.8V", "--vmax=3.2V", "--drawer=demo/bench.drawer.yaml"},
         "{rail: battery}"},
        {{"divider", "--vin=10.5V..14.8V", "--vmax=3.2V", "--parts=2", "--order=share"}, "{rail: battery}"},
        {{"partner", "--sensor=1k..50k", "--supply=3.3V"}, "{resistance: 1k .. 50k, to: logic}"},
        {{"partner", "--sensor=1k..50k", "--supply=3.3V", "--position=upper"},
         "{resistance: 1k .. 50k, to: ground}"},
        {{"loop", "--vmax=3.2V"}, "{current: 4 mA .. 20 mA}"},
        {{"filter", "--passband=1Hz", "--stopband=50Hz"}, "{voltage: 0 V .. 3.2 V}"},
        {{"reservoir", "--source-resistance=10k", "--sample-rate=10Hz", "--adc-capacitance=12pF"},
         "{voltage: 0 V .. 3.2 V, resistance: 10k}"},
        {{"pull", "--vdd=3.3V"}, "{contact: ground}"},
        {{"pull", "--vdd=3.3V", "--direction=down"}, "{contact: logic}"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        const char *const *w = rows[i].words;
        run_result r = run_command("size", w[0], "--json", w[1], w[2], w[3], w[4], NULL);
        json_t *object = json_loads(r.out, 0, NULL);
        run_free(&r);
        CU_ASSERT_FATAL(object != NULL);
        char line[400], plan[1000];
        snprintf(line, sizeof line, "%s",
                 json_string_value(
                     json_object_get(json_array_get(json_object_get(object, "choices"), 0), "plan")));
        json_decref(object);
        char *rail = strstr(line, "RAIL");
        if (rail != NULL) {
            memmove(rail + 5, rail + 4, strlen(rail + 4) + 1);
            memcpy(rail, "logic", 5);
        }
        snprintf(plan, sizeof plan,
                 "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE
                 "/demo/lapwing.board.yaml\nsupplies: {battery: 10.5 V .. 14.8 V}\n"
                 "signals:\n  s:\n    source: %s\n    stages:\n      %s\n    pin: L4\n",
                 rows[i].source, line);
        r = run_command("check", "--brief", scratch_file("pasted.plan.yaml", plan, strlen(plan)), NULL);
        CHECK_ROW(line, r.status == 0 && strstr(r.out, ": warning:") == NULL && r.err[0] == '\0');
        if (r.status != 0)
            printf("\n  %s\n%s%s", plan, r.out, r.err);
        run_free(&r);
    }
}

static void shows_the_pins(void)
{
    static const command_row rows[] = {
        {"of a plan",
         {"pins", PLAN},
         0,
         "7  L4             0               analog, digital, pull-up  house-battery",
         NULL},
        {"free for", {"pins", PLAN}, 0, "No pin is free for an analog input.\n", NULL},
        {"the header", {"pins", PLAN}, 0, "3V3     L0         L2         L4", NULL},
        {"of a board",
         {"pins", "demo/lapwing.board.yaml"},
         0,
         "Free for an analog input: L4 L5 L6 L7 L15 L16 L17 L18 L19\n",
         NULL},
        {"as JSON", {"pins", PLAN, "--json"}, 0, "\"user\": \"roof-position\"", NULL},
        {"neither board nor plan", {"pins", SCENE}, 3, NULL, "expected 'plan 1'"},
        {"none", {"pins"}, 2, NULL, "which board"},
    };
    check_commands(rows, ROWS(rows));
}

/* An option that is added stands in the manual, too, and the formatter has nothing to say. */
static void the_manual_has_every_option(void)
{
    static const char script[] =
        "rm -rf " TL_SCRATCH "/man; mkdir " TL_SCRATCH "/man; /usr/bin/python3 scripts/manual.py " TL_BUILD
        " " TL_SCRATCH "/man; for page in " TL_SCRATCH "/man/*.1; do diff $page docs/man/; done; "
        "for page in docs/man/*.1; do groff -man -Tutf8 -ww -z $page 2>&1; done; cat docs/man/*.1 | grep -c "
        "'^.TP'; "
        "for verb in $(" TL_BUILD "/tinyladder --help | sed -n 's/^  \\([a-z]*\\)  *[A-Z].*/\\1/p'); do "
        "grep -q \"^.B $verb$\" docs/man/tinyladder.1 || echo $verb; done";
    run_result r = run_program((const char *const[]){"/bin/sh", "-ec", script, NULL}, TL_SOURCE);
    char *end;
    CU_ASSERT(r.status == 0 && strtol(r.out, &end, 10) > 300 &&
              strcmp(end, "\n") == 0); /* else: make manual */
    if (strcmp(end, "\n") != 0)
        printf("\n%s", r.out);
    run_free(&r);
}

CU_TestInfo command_tests[] = {
    {"does what it says", does_what_it_says},
    {"sizes everything", sizes_everything},
    {"plan lines can be pasted", plan_lines_can_be_pasted},
    {"shows the pins", shows_the_pins},
    {"the manual has every option", the_manual_has_every_option},
    CU_TEST_INFO_NULL,
};
