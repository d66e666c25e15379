/* SPDX-License-Identifier: MIT */
/* Every suite; with arguments only those named. */
#include "support.h"
#include <CUnit/Basic.h>
#include <stdio.h>
#include <string.h>

static CU_SuiteInfo suites[] = {
    /* Core, circuit, bench and what they are on: quick, and without the command. */
    {"contract", NULL, NULL, NULL, NULL, contract_tests},
    {"arguments", NULL, NULL, NULL, NULL, argument_tests},
    {"scale", NULL, NULL, NULL, NULL, scale_tests},
    {"filter", NULL, NULL, NULL, NULL, filter_tests},
    {"mux", NULL, NULL, NULL, NULL, mux_tests},
    {"pulse", NULL, NULL, NULL, NULL, pulse_tests},
    {"rhythm", NULL, NULL, NULL, NULL, rhythm_tests},
    {"rhythms on the bench", NULL, NULL, NULL, NULL, rhythms_tests},
    {"output", NULL, NULL, NULL, NULL, output_tests},
    {"sweep", NULL, NULL, NULL, NULL, sweep_tests},
    {"take", NULL, NULL, NULL, NULL, take_tests},
    {"resistance", NULL, NULL, NULL, NULL, resistance_tests},
    {"table", NULL, NULL, NULL, NULL, table_tests},
    {"external", NULL, NULL, NULL, NULL, external_tests},
    {"word", NULL, NULL, NULL, NULL, word_tests},
    {"input", NULL, NULL, NULL, NULL, input_tests},
    {"share", NULL, NULL, NULL, NULL, share_tests},
    {"button", NULL, NULL, NULL, NULL, button_tests},
    {"lean", NULL, NULL, NULL, NULL, lean_tests},
    {"turning", NULL, NULL, NULL, NULL, turning_tests},
    {"edges of the core", NULL, NULL, NULL, NULL, edge_tests},
    {"net", NULL, NULL, NULL, NULL, net_tests},
    {"transient", NULL, NULL, NULL, NULL, transient_tests},
    {"one-way parts", NULL, NULL, NULL, NULL, one_way_part_tests},
    {"quantity", NULL, NULL, NULL, NULL, quantity_tests},
    {"preferred", NULL, NULL, NULL, NULL, preferred_tests},
    {"parts", NULL, NULL, NULL, NULL, part_tests},
    {"bench", NULL, NULL, NULL, NULL, bench_tests},
    {"hand", NULL, NULL, NULL, NULL, hand_tests},
    {"physics", NULL, NULL, NULL, NULL, physics_tests},
    {"ohmmeter", NULL, NULL, NULL, NULL, ohmmeter_tests},
    {"supplies", NULL, NULL, NULL, NULL, supply_tests},
    {"loads", NULL, NULL, NULL, NULL, load_tests},
    {"threads", NULL, NULL, NULL, NULL, thread_tests},
#ifndef TL_NEAR
    {"divider", NULL, NULL, NULL, NULL, divider_tests},
    {"sizings", NULL, NULL, NULL, NULL, sizing_tests},
    {"points of sizings", NULL, NULL, NULL, NULL, point_tests},
    {"answers", NULL, NULL, NULL, NULL, answer_tests},
    {"choices of sizings", NULL, NULL, NULL, NULL, choice_tests},
    {"nonsense", NULL, NULL, NULL, NULL, nonsense_tests},
    {"bounds of sizings", NULL, NULL, NULL, NULL, bound_tests},
    {"reader", NULL, NULL, NULL, NULL, reader_tests},
    {"refused wiring", NULL, NULL, NULL, NULL, refused_wiring_tests},
    {"wrong words", NULL, NULL, NULL, NULL, wrong_words_tests},
    {"odd input", NULL, NULL, NULL, NULL, odd_input_tests},
    {"files", NULL, NULL, NULL, NULL, file_tests},
    {"check", NULL, NULL, NULL, NULL, check_tests},
    {"points of rules", NULL, NULL, NULL, NULL, rule_point_tests},
    {"asked", NULL, NULL, NULL, NULL, asked_tests},
    {"values of fixes", NULL, NULL, NULL, NULL, fix_value_tests},
    {"unseen", NULL, NULL, NULL, NULL, unseen_tests},
    {"curve", NULL, NULL, NULL, NULL, curve_tests},
    {"keys", NULL, NULL, NULL, NULL, key_tests},
    {"random", NULL, NULL, NULL, NULL, random_plan_tests},
    {"trimmed", NULL, NULL, NULL, NULL, trimmed_tests},
    {"mutations", NULL, NULL, NULL, NULL, mutation_tests},
    {"one way", NULL, NULL, NULL, NULL, one_way_tests},
    {"interval", NULL, NULL, NULL, NULL, interval_tests},
    {"segments", NULL, NULL, NULL, NULL, segment_tests},
    {"explain", NULL, NULL, NULL, NULL, explain_tests},
    {"large plans", NULL, NULL, NULL, NULL, large_plan_tests},
    {"sheet", NULL, NULL, NULL, NULL, sheet_tests},
    {"placement", NULL, NULL, NULL, NULL, placement_tests},
    {"sheet page", NULL, NULL, NULL, NULL, sheet_page_tests},
    {"scene", NULL, NULL, NULL, NULL, scene_tests},
    {"others", NULL, NULL, NULL, NULL, others_tests},
    {"instants", NULL, NULL, NULL, NULL, instant_tests},
    {"top bits", NULL, NULL, NULL, NULL, top_tests},
    {"registers", NULL, NULL, NULL, NULL, register_tests},
    {"header", NULL, NULL, NULL, NULL, header_tests},
    {"every count", NULL, NULL, NULL, NULL, every_count_tests},
    {"outputs of the header", NULL, NULL, NULL, NULL, header_outputs_tests},
    {"install", NULL, NULL, NULL, NULL, install_tests},
    {"conformance", NULL, NULL, NULL, NULL, conformance_tests},
    {"linux", NULL, NULL, NULL, NULL, linux_tests},
    {"displays", NULL, NULL, NULL, NULL, display_tests},
    {"counts from a board", NULL, NULL, NULL, NULL, counts_tests},
    {"wiring", NULL, NULL, NULL, NULL, wiring_tests},
    {"why", NULL, NULL, NULL, NULL, why_tests},
    {"faults", NULL, NULL, NULL, NULL, fault_tests},
    {"every fault", NULL, NULL, NULL, NULL, every_fault_tests},
    {"dense", NULL, NULL, NULL, NULL, dense_tests},
    {"command", NULL, NULL, NULL, NULL, command_tests},
    {"refusals", NULL, NULL, NULL, NULL, refusal_tests},
    {"columns", NULL, NULL, NULL, NULL, columns_tests},
    {"json", NULL, NULL, NULL, NULL, json_tests},
    {"read", NULL, NULL, NULL, NULL, read_tests},
    {"convert", NULL, NULL, NULL, NULL, convert_tests},
    {"record", NULL, NULL, NULL, NULL, record_tests},
    {"dumps", NULL, NULL, NULL, NULL, dump_tests},
    {"trust", NULL, NULL, NULL, NULL, trust_tests},
    {"overlay", NULL, NULL, NULL, NULL, overlay_tests},
    {"plot", NULL, NULL, NULL, NULL, plot_tests},
    {"size verb", NULL, NULL, NULL, NULL, size_tests},
    {"completion", NULL, NULL, NULL, NULL, completion_tests},
    {"table files", NULL, NULL, NULL, NULL, table_file_tests},
    {"proposals", NULL, NULL, NULL, NULL, proposal_tests},
    {"mends", NULL, NULL, NULL, NULL, mends_tests},
    {"vary", NULL, NULL, NULL, NULL, vary_tests},
    {"new board", NULL, NULL, NULL, NULL, new_tests},
    {"agreement", NULL, NULL, NULL, NULL, agreement_tests},
    {"limits", NULL, NULL, NULL, NULL, limit_tests},
    {"potentiometers", NULL, NULL, NULL, NULL, potentiometer_tests},
    {"proposed", NULL, NULL, NULL, NULL, proposed_tests},
    {"house", NULL, NULL, NULL, NULL, house_tests},
    {"promises", NULL, NULL, NULL, NULL, promises_tests},
    {"words", NULL, NULL, NULL, NULL, words_tests},
    {"terminal", NULL, NULL, NULL, NULL, terminal_tests},
    {"golden", NULL, NULL, NULL, NULL, golden_tests},
    {"mishaps", NULL, NULL, NULL, NULL, mishap_tests},
    {"trim", NULL, NULL, NULL, NULL, trim_tests},
    {"watch", NULL, NULL, NULL, NULL, watch_tests},
    {"listen", NULL, NULL, NULL, NULL, listen_tests},
    {"publish", NULL, NULL, NULL, NULL, publish_tests},
    {"setup", NULL, NULL, NULL, NULL, setup_tests},
    {"examples", NULL, NULL, NULL, NULL, example_tests},
#endif
    CU_SUITE_INFO_NULL,
};

int main(int argc, char **argv)
{
    if (CU_initialize_registry() != CUE_SUCCESS || CU_register_suites(suites) != CUE_SUCCESS) {
        fprintf(stderr, "the suites could not be set up: %s\n", CU_get_error_msg());
        return 2;
    }
    for (int i = 0; argc > 1 && suites[i].pName != NULL; i++) {
        bool wanted = false;
        for (int j = 1; j < argc; j++)
            wanted = wanted || strcmp(argv[j], suites[i].pName) == 0;
        CU_set_suite_active(CU_get_suite(suites[i].pName), wanted ? CU_TRUE : CU_FALSE);
    }
    CU_set_fail_on_inactive(CU_FALSE);
    CU_basic_set_mode(CU_BRM_NORMAL);
    CU_basic_run_tests();
    const unsigned failures = CU_get_number_of_failures(), run = CU_get_number_of_tests_run();
    CU_cleanup_registry();
    if (run == 0)
        fprintf(stderr, "no suite of that name\n");
    return failures > 0 || run == 0;
}
