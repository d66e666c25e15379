/* SPDX-License-Identifier: MIT */
/* The command says no: exit status 1 to 4, with one clear error. */
#include "support.h"
#include <stdio.h>
#include <string.h>

#define PLAN "demo/fernhill.plan.yaml"
#define SCENE "demo/evening.scene.yaml"

static void refuses_wrong_usage_with_status_2(void)
{
    static const command_row rows[] = {
        {"nothing", {NULL}, 2, NULL, "Usage"},
        {"unknown verb", {"sise"}, 2, NULL, "unknown verb 'sise'"},
        {"size what", {"size"}, 2, NULL, "divider"},
        {"size nonsense", {"size", "dividend"}, 2, NULL, "unknown job 'dividend'"},
        {"unknown option",
         {"check", "--fast", PLAN},
         2,
         NULL,
         "unknown option '--fast'\n'tinyladder check --help'"},
        {"nearly an option",
         {"check", "--bref", PLAN},
         2,
         NULL,
         "unknown option '--bref'; did you mean '--brief'?"},
        {"the beginning of a name", {"read", PLAN, "house"}, 2, NULL, "did you mean 'house-battery'?"},
        {"about nothing", {"check", "--about", "slow"}, 2, NULL, "no finding 'slow'"},
        {"brief and JSON",
         {"check", "--brief", "--json", PLAN},
         2,
         "\"error\": \"tinyladder check: either",
         "not both"},
        {"JSON of wrong usage",
         {"size", "divider", "--json"},
         2,
         "{\n  \"status\": 2,\n",
         "--vin is required"},
        {"JSON of no such file",
         {"check", "none.yaml", "--json"},
         3,
         "\"slug\": \"unreadable-file\"",
         "none.yaml"},
        {"brief of no such file",
         {"check", "none.yaml", "--brief"},
         3,
         "tinyladder: error: cannot read 'none.yaml': No such file or directory [unreadable-file]\n",
         ""},
        {"fixes of no such file", {"check", "none.yaml", "--fix"}, 3, "", "cannot read 'none.yaml'"},
        {"a diff for no such file", {"check", "none.yaml", "--dry-run"}, 3, "", "cannot read 'none.yaml'"},
        {"JSON of no file to convert",
         {"trim", "none.yaml", "a", "1=1V", "--json"},
         3,
         "\"status\": 3",
         "none.yaml"},
        {"two plans", {"check", PLAN, PLAN}, 2, NULL, "one plan at a time"},
        {"no plan", {"read"}, 2, NULL, "which plan?"},
        {"no limit", {"size", "divider", "--vin", "12V"}, 2, NULL, "--vmax is required"},
        {"unit missing",
         {"size", "divider", "--vin", "12", "--vmax", "3V"},
         2,
         NULL,
         "--vin: '12' has no unit; expected a voltage\n"},
        {"range reversed",
         {"size", "divider", "--vin", "14V..10V", "--vmax", "3V"},
         2,
         NULL,
         "--vin: the range is reversed"},
        {"negative budget",
         {"size", "divider", "--vin", "12V", "--vmax", "3V", "--max-source-resistance", "-5k"},
         2,
         NULL,
         "--max-source-resistance: a resistance cannot be negative"},
        {"not a number",
         {"size", "divider", "--vin", "nan", "--vmax", "3V"},
         2,
         NULL,
         "--vin: expected a voltage"},
        {"huge",
         {"size", "divider", "--vin", "99999999999999999999V", "--vmax", "3V"},
         2,
         NULL,
         "believable"},
        {"zero limit", {"size", "divider", "--vin", "12V", "--vmax", "0V"}, 2, NULL, "a limit above 0 V"},
        {"below ground", {"size", "divider", "--vin=-5V..5V", "--vmax", "3V"}, 2, NULL, "below 0 V"},
        {"no such series",
         {"size", "divider", "--vin", "12V", "--vmax", "3V", "--series", "E25"},
         2,
         NULL,
         "--series"},
        {"tolerance of 100 %",
         {"size", "divider", "--vin", "12V", "--vmax", "3V", "--tolerance", "100%"},
         2,
         NULL,
         "tolerance"},
        {"too many choices",
         {"size", "divider", "--vin", "12V", "--vmax", "3V", "--top", "51"},
         2,
         NULL,
         "--top: expected a whole number from 1 to 50"},
        {"word without a board", {"word"}, 2, NULL, "which board"},
        {"unknown converter", {"word", PLAN, "--converter", "fin"}, 2, NULL, "it has: main, fine"},
        {"unknown field", {"word", "demo/lapwing.board.yaml", "--set", "gain=1"}, 2, NULL, "no field 'gain'"},
        {"value too large",
         {"word", "demo/lapwing.board.yaml", "--set", "channel=16"},
         2,
         NULL,
         "does not fit into channel: 0 .. 15"},
        {"value's name misspelt",
         {"word", "demo/lapwing.board.yaml", "--set", "align=lefft"},
         2,
         NULL,
         "did you mean 'left'"},
        {"set without a value",
         {"word", "demo/lapwing.board.yaml", "--set", "align"},
         2,
         NULL,
         "FIELD=VALUE"},
        {"decode of which",
         {"word", "demo/lapwing.board.yaml", "--decode", "1"},
         2,
         NULL,
         "of which register"},
        {"word too wide",
         {"word", "demo/lapwing.board.yaml", "-r", "power", "--decode", "0x100"},
         2,
         NULL,
         "a word of 8 bits"},
        {"no such register",
         {"word", "demo/lapwing.board.yaml", "-r", "mode"},
         2,
         NULL,
         "no register 'mode'"},
        {"no such word",
         {"size", "divider", "--vin", "12V", "--vmax", "3V", "--order", "price"},
         2,
         NULL,
         "--order: expected one of practice, parts, share, current"},
        {"half a part",
         {"size", "divider", "--vin", "12V", "--vmax", "3V", "--parts", "1.5"},
         2,
         NULL,
         "for example"},
        {"series and drawer", {"size", "guard", "--series", "E12", "--drawer", "x"}, 2, NULL, "not both"},
        {"plan without drawer", {"size", "guard", "--plan", PLAN}, 2, NULL, "goes with --drawer"},
        {"number that is none",
         {"size", "ladder", "--buttons", "five"},
         2,
         NULL,
         "--buttons: expected a number"},
        {"too many buttons", {"size", "ladder", "--buttons", "9"}, 2, NULL, "2 to 8 buttons"},
        {"sensor reversed",
         {"size", "partner", "--sensor", "9k..1k", "--supply", "5V"},
         2,
         NULL,
         "--sensor: the range is reversed"},
        {"time without unit", {"read", PLAN, "--at", "5"}, 2, NULL, "--at: '5' has no unit"},
        {"after the end of the scene",
         {"record", PLAN, "--scene", SCENE, "--at", "41min", "-o", "never.csv"},
         2,
         NULL,
         "the scene ends at"},
    };
    check_commands(rows, ROWS(rows));
}

static void answers_no_with_status_1(void)
{
    static const command_row rows[] = {
        {"impossible divider",
         {"size", "divider", "--vin", "10V..15V", "--vmax", "3V", "--max-current", "1uA"},
         1,
         "none of 21025 pairs",
         NULL},
        {"board without registers", {"word", "demo/plover.board.yaml"}, 1, NULL, "lists no registers"},
        {"source under the limit",
         {"size", "divider", "--vin", "2V", "--vmax", "3V"},
         1,
         "no divider is needed",
         NULL},
        {"feed that is not needed",
         {"size", "feed", "--track", "10k", "--supply", "3V", "--vmax", "3.3V"},
         1,
         "no resistor is needed",
         NULL},
        {"nothing to inject",
         {"size", "injection", "--vin=0V..3V", "--vdd=3.3V", "--injection=1mA"},
         1,
         "no resistor is needed",
         NULL},
        {"nothing in the drawer",
         {"size", "guard", "--vdd=5V", "--pin-current=1uA", "--drawer=demo/bench.drawer.yaml"},
         1,
         "none of the 52 values",
         NULL},
        {"a threshold that nothing reaches",
         {"size", "shift", "--driver-supply=5V", "--receiver-supply=3.3V", "--injection=1mA", "--vih=3.4V",
          "--bit-rate=100MHz"},
         1,
         "breaks a rule",
         NULL},
        {"bus without a level",
         {"size", "bus-pull", "--supply=1.8V", "--line-capacitance=100pF"},
         1,
         "use fast mode",
         NULL},
        {"lamp that stays dark",
         {"size", "lamp", "--supply=1.8V", "--vf=1.9V..2.2V", "--led-current=4mA"},
         1,
         "may stay dark",
         NULL},
        {"read of a pin with two signals",
         {"read", "demo/faulty/pin-taken.plan.yaml"},
         1,
         NULL,
         "[pin-taken]"},
        {"read of a pin without a converter",
         {"read", "demo/faulty/not-analog.plan.yaml"},
         1,
         NULL,
         "[not-analog]"},
    };
    check_commands(rows, ROWS(rows));
}

static void refuses_unreadable_input_with_status_3(void)
{
    char junk[4096];
    for (size_t i = 0; i < sizeof junk; i++)
        junk[i] = (char)even_between(-128, 127);
    scratch_file("junk.yaml", junk, sizeof junk);
    scratch_file("empty.yaml", "", 0);
    FILE *big = fopen(scratch_path("big.yaml"), "wb");
    CU_ASSERT_FATAL(big != NULL);
    CU_ASSERT(fseek(big, 50L << 20, SEEK_SET) == 0 && fputc('\n', big) != EOF);
    fclose(big);
    const command_row rows[] = {
        {"missing file", {"check", "none.yaml"}, 3, NULL, "tinyladder: error: cannot read 'none.yaml'"},
        {"folder", {"check", "demo"}, 3, NULL, "folder"},
        {"device", {"check", "/dev/zero"}, 3, NULL, "no regular file"},
        {"empty file", {"check", scratch_path("empty.yaml")}, 3, NULL, "empty"},
        {"junk", {"check", scratch_path("junk.yaml")}, 3, NULL, "no text"},
        {"50 MB", {"check", scratch_path("big.yaml")}, 3, NULL, "larger than 1 MB"},
        {"a board is no plan",
         {"check", "demo/lapwing.board.yaml"},
         3,
         NULL,
         "lapwing.board.yaml:2:13: error: wrong kind of file: expected 'plan 1', got 'board 1'"},
        {"board missing", {"size", "guard", "--board", "none.yaml"}, 3, NULL, "cannot read 'none.yaml'"},
        {"a plan is no drawer", {"size", "guard", "--drawer", PLAN}, 3, NULL, "expected 'drawer 1'"},
        {"missing scene", {"read", PLAN, "--scene", "none.yaml"}, 3, NULL, "cannot read 'none.yaml'"},
        {"demo data elsewhere", {"demo", "--data", "/nowhere"}, 3, NULL, "cannot find the demo data"},
    };
    check_commands(rows, ROWS(rows));
    remove(scratch_path("big.yaml"));
}

static void points_at_the_place_with_a_caret(void)
{
    static const char text[] =
        "tinyladder: plan 1\ntitle: Ω\nboard: lapwing.board.yaml\nsignals:\n  µ-knob: {sorce: 1}\n";
    run_result r = run_command("check", scratch_file("caret.yaml", text, strlen(text)), NULL);
    CU_ASSERT(r.status == 3 && strstr(r.err, "caret.yaml:3:8: error: cannot read") != NULL);
    CU_ASSERT(strstr(r.err, "     3 | board: lapwing.board.yaml\n       |        ^\n") != NULL);
    run_free(&r);
}

static void says_when_its_output_is_lost(void)
{
    const char *const words[] = {"sh", "-c", TL_BUILD "/tinyladder check " PLAN " >/dev/full", NULL};
    run_result r = run_program(words, TL_SOURCE);
    CU_ASSERT(r.status == 4 && strstr(r.err, "could not be written") != NULL);
    run_free(&r);
}

CU_TestInfo refusal_tests[] = {
    {"refuses wrong usage with status 2", refuses_wrong_usage_with_status_2},
    {"answers no with status 1", answers_no_with_status_1},
    {"refuses unreadable input with status 3", refuses_unreadable_input_with_status_3},
    {"points at the place with a caret", points_at_the_place_with_a_caret},
    {"says when its output is lost", says_when_its_output_is_lost},
    CU_TEST_INFO_NULL,
};
