/* The examples, run on the bench as a reader would run them. */
#include "support.h"
#include <string.h>

static run_result run_example(const char *program, const char *plan)
{
    const char *const words[] = {program, plan, NULL};
    return run_program(words, TL_SOURCE);
}

static void print_what_they_promise(void)
{
    static const struct {
        const char *program, *out;
    } rows[] = {
        {"battery_percent",
         " 0 min: 12757 mV,  93 %\n10 min: 12555 mV,  84 %\n20 min: 12353 mV,  74 %\n30 min: "
         "12151 mV,  64 %\n40 min: 11650 mV,  41 %\n"},
        {"button_count", "closed, 3 so far\n"},
        {"heaters_sweep", "heater-1: 3359 counts\nheater-2: 3337 counts\n"},
        {"counterweight_scale", "  26.0 kg\n  37.0 kg\n"},
        {"mirror_fault", " 12.1 degC\n  9.2 degC\n  6.5 degC\n"},
        {"knob_lamps", "40 s: 4089 counts  **********\n"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char program[600] = TL_BUILD "/examples/example-";
        strcat(program, rows[i].program);
        run_result r = run_example(program, NULL);
        CHECK_ROW(rows[i].program, r.status == 0 && r.err[0] == '\0' && strstr(r.out, rows[i].out) != NULL);
        CHECK_ROW(rows[i].program, strstr(r.out, "4 so far") == NULL);
        run_free(&r);
        r = run_example(program, "none.yaml");
        CHECK_ROW(rows[i].program, r.status == 3 && strstr(r.err, "cannot read the plan") != NULL);
        run_free(&r);
    }
}

CU_TestInfo example_tests[] = {
    {"print what they promise", print_what_they_promise},
    CU_TEST_INFO_NULL,
};
