/* SPDX-License-Identifier: MIT */
/* What the suites share. */
#ifndef TL_TEST_SUPPORT_H
#define TL_TEST_SUPPORT_H

#include <CUnit/CUnit.h>
#include <stdbool.h>
#include <stddef.h>

/* Like CU_ASSERT, but a failure prints the row's name. */
#define CHECK_ROW(name, cond)                                                                                \
    CU_assertImplementation((cond) ? CU_TRUE : CU_FALSE, __LINE__, (name), __FILE__, "", CU_FALSE)
#define ROWS(table) (sizeof(table) / sizeof((table)[0]))

/* Sanitizers look at every step: of many draws, plans or rows a test takes one in so many there. */
#ifdef TL_SANITIZED
enum { THINNED = 6 };
#else
enum { THINNED = 1 };
#endif
/* How many rounds such a test goes: many more with TL_LONG. */
int rounds_of(int usual, int when_long);

/* One suite per module: its tests end with a NULL name. */
extern CU_TestInfo explain_tests[], large_plan_tests[], wrong_words_tests[], odd_input_tests[], sheet_tests[],
    sheet_page_tests[], placement_tests[], ohmmeter_tests[], part_tests[], asked_tests[],
    one_way_part_tests[], proposal_tests[], mends_tests[], vary_tests[], new_tests[], proposed_tests[],
    potentiometer_tests[], golden_tests[], agreement_tests[], file_tests[], limit_tests[], thread_tests[],
    house_tests[], contract_tests[], argument_tests[], mishap_tests[], scale_tests[], word_tests[],
    filter_tests[], mux_tests[], pulse_tests[], rhythm_tests[], rhythms_tests[], header_outputs_tests[],
    columns_tests[], words_tests[], terminal_tests[], output_tests[], external_tests[], table_tests[],
    resistance_tests[], sweep_tests[], take_tests[], every_count_tests[], input_tests[], share_tests[],
    button_tests[], net_tests[], transient_tests[], quantity_tests[], preferred_tests[], divider_tests[],
    sizing_tests[], answer_tests[], bound_tests[], nonsense_tests[], choice_tests[], reader_tests[],
    refused_wiring_tests[], check_tests[], rule_point_tests[], unseen_tests[], curve_tests[], key_tests[],
    random_plan_tests[], mutation_tests[], trimmed_tests[], one_way_tests[], interval_tests[], bench_tests[],
    hand_tests[], instant_tests[], others_tests[], command_tests[], setup_tests[], example_tests[],
    segment_tests[], scene_tests[], physics_tests[], supply_tests[], top_tests[], load_tests[], plot_tests[],
    size_tests[], completion_tests[], table_file_tests[], register_tests[], header_tests[], install_tests[],
    turning_tests[], edge_tests[], fix_value_tests[], conformance_tests[], display_tests[], counts_tests[],
    json_tests[], point_tests[], why_tests[], wiring_tests[], linux_tests[], lean_tests[], fault_tests[],
    every_fault_tests[], dense_tests[], read_tests[], convert_tests[], record_tests[], dump_tests[],
    trust_tests[], promises_tests[], overlay_tests[], publish_tests[], watch_tests[], trim_tests[],
    listen_tests[], refusal_tests[];

/* Relative difference. */
bool near(double found, double wanted, double relative);

/* Random numbers for property tests, the same in every run. */
double even_between(double low, double high);

/* A program run to its end, at most 60 s (300 s under sanitizers); both outputs kept. Free with run_free().
 */
typedef struct {
    int status; /* exit status, or -1 when it was killed or never ended */
    char *out, *err;
    size_t out_size;
} run_result;
run_result run_program(const char *const *words, const char *folder);
void run_free(run_result *result);
/* The command with up to 23 words, in the project's folder. */
run_result run_command(const char *first, ...);

/* Commands, each with its status and what its outputs must contain; NULL: must be empty. */
typedef struct {
    const char *name;
    const char *words[10];
    int status;
    const char *out, *err;
} command_row;
void check_commands(const command_row *rows, size_t count);

/* A text file in the scratch folder; returns its path in a static buffer of four. Each test file has a folder
 * of its own (TL_SCRATCH), so that suites can run side by side. */
const char *scratch_file_in(const char *folder, const char *name, const void *text, size_t size);
const char *scratch_path_in(const char *folder, const char *name);
#define scratch_file(name, text, size) scratch_file_in(TL_SCRATCH, name, text, size)
#define scratch_path(name) scratch_path_in(TL_SCRATCH, name)
/* What stands in a file, at most 1 MiB; to be freed. */
char *text_of(const char *path);

#endif
