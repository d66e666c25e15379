/* SPDX-License-Identifier: MIT */
/* The plan as a devicetree overlay: the compiler of devicetrees takes it, and it says what hand calculation
 * says. */
#include "support.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

/* Compiled and written back by dtc, so that what stands in the tree is what is looked at. */
static const char compile[] =
    "for plan in demo/fernhill.plan.yaml demo/cold-frame.plan.yaml demo/desk.plan.yaml "
    "demo/sound/*.plan.yaml; do " TL_BUILD "/tinyladder header -d $plan --form overlay >" TL_SCRATCH
    "/o.dtso && dtc -@ -I dts -O dtb -o " TL_SCRATCH "/o.dtbo " TL_SCRATCH "/o.dtso 2>" TL_SCRATCH
    "/said || exit 1; [ -s " TL_SCRATCH "/said ] && { echo $plan; cat " TL_SCRATCH
    "/said; }; n=$((n + 1)); done; echo $n overlays";

static void every_plan_compiles(void)
{
    run_result r = run_program((const char *const[]){"/bin/sh", "-c", compile, NULL}, TL_SOURCE);
    char *end;
    CU_ASSERT(r.status == 0 && strtol(r.out, &end, 10) > 40 && strcmp(end, " overlays\n") == 0);
    if (r.status != 0 || strstr(r.out, "\n") != strrchr(r.out, '\n'))
        printf("\n%s%s", r.out, r.err);
    run_free(&r);
}

static void says_what_is_wired(void)
{
    static const char *const said[] = {
        /* 12k of 12k + 47k */
        "house-battery {\n\t\tcompatible = \"voltage-divider\";\n\t\tio-channels = <&adc "
        "0>;\n\t\toutput-ohms = <12000>;\n"
        "\t\tfull-ohms = <59000>;",
        /* 3.3 V * 1200 / 11200 */
        "park {\n\t\t\tlabel = \"park\";\n\t\t\tlinux,code = <0x2c6>;\n\t\t\tpress-threshold-microvolt = "
        "<353571>;",
        "keyup-threshold-microvolt = <3300000>;",
        "open-button {\n\t\t\tlabel = \"open-button\";\n\t\t\tlinux,code = <0x2c0>;\n\t\t\tgpios = <&gpio 12 "
        "1>;\n"
        "\t\t\tdebounce-interval = <20>;",
        "gpios = <&gpio 26 17>;", /* low when closed, with the chip's pull-up */
        "encoder-1 {\n\t\tcompatible = \"rotary-encoder\";\n\t\tgpios = <&gpio 2 0>, <&gpio 3 0>;",
        "wheel {\n\t\tcompatible = \"interrupt-counter\";\n\t\tgpios = <&gpio 13 1>;",
        "mux-gpios = <&gpio 20 0>, <&gpio 21 0>, <&gpio 22 0>;",
        "channels = \"heater-1\", \"heater-2\", ",
        "position-bar-10 {\n\t\t\tlabel = \"position-bar-10\";\n\t\t\tgpios = <&gpio 39 0>;",
        "pwms = <&pwm 2 1000000 0>;", /* 1 kHz */
        "/* motor-status: line 0; no binding for a pattern */",
        "/* dew-heater: line 27; no binding for this load */",
    };
    run_result r = run_command("header", "demo/fernhill.plan.yaml", "--form", "overlay", NULL);
    CU_ASSERT(r.status == 0);
    for (size_t i = 0; i < ROWS(said); i++)
        CHECK_ROW(said[i], strstr(r.out, said[i]) != NULL);
    run_free(&r);
}

/* Of pins called B0 and D2 the names tell no number: positions 14 and 4 of the header do, and the overlay
 * says so. */
static void lines_have_one_numbering(void)
{
    static const char *const said[] = {"its pin's position on the header", "gpios = <&gpio 4 17>;",
                                       "gpios = <&gpio 14 0>;"};
    run_result r = run_command("header", "demo/cold-frame.plan.yaml", "--form", "overlay", NULL);
    for (size_t i = 0; i < ROWS(said); i++)
        CHECK_ROW(said[i], strstr(r.out, said[i]) != NULL);
    run_free(&r);
    r = run_command("header", "demo/fernhill.plan.yaml", "--form", "overlay", NULL);
    CU_ASSERT(strstr(r.out, "the one at the end of its pin's name") != NULL);
    run_free(&r);
}

static void is_kept_like_a_header(void)
{
    const char *path = scratch_path("own.dtso");
    unlink(path);
    const command_row rows[] = {
        {"new",
         {"header", "demo/fernhill.plan.yaml", "--form", "overlay", "-o", path},
         0,
         ": Fernhill observatory",
         NULL},
        {"again",
         {"header", "demo/fernhill.plan.yaml", "--form", "overlay", "-o", path},
         0,
         ": Fernhill observatory",
         NULL},
        {"as it is",
         {"header", "demo/fernhill.plan.yaml", "--form", "overlay", "--verify", path},
         0,
         "as the plan is",
         NULL},
        {"another plan",
         {"header", "demo/desk.plan.yaml", "--form", "overlay", "-o", path},
         4,
         NULL,
         "no overlay of this plan"},
        {"a header over it",
         {"header", "demo/fernhill.plan.yaml", "-o", path},
         4,
         NULL,
         "no header of this plan"},
        {"a form",
         {"header", "demo/fernhill.plan.yaml", "--form", "tree"},
         2,
         NULL,
         "--form: 'tree': header or overlay"},
    };
    check_commands(rows, ROWS(rows));
    FILE *file = fopen(path, "ab");
    CU_ASSERT_FATAL(file != NULL);
    fputs("/* mine */\n", file);
    fclose(file);
    const command_row changed = {"changed",
                                 {"header", "demo/fernhill.plan.yaml", "--form", "overlay", "-o", path},
                                 4,
                                 NULL,
                                 "was changed by hand since it was made"};
    check_commands(&changed, 1);
}

/* The second line of an encoder is looked for when all signals are known. */
static void encoders_have_two_lines(void)
{
    static const struct {
        const char *with, *says;
    } rows[] = {{"nobody", "the plan has no signal 'nobody' [unknown-signal]"},
                {"knob", "'knob' is no digital signal: an encoder has two lines [wrong-shape]"},
                {"a", NULL}};
    for (size_t i = 0; i < ROWS(rows); i++) {
        char text[600];
        snprintf(text, sizeof text,
                 "tinyladder: plan 1\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\nsignals:\n"
                 "  a: {source: {contact: ground}, stages: [pull: {up: 10k, to: logic}], pin: L1, reading: "
                 "{turns-with: %s}}\n"
                 "  b: {source: {contact: ground}, stages: [pull: {up: 10k, to: logic}], pin: L2}\n"
                 "  knob: {source: {potentiometer: 10k, top: logic}, pin: L4}\n",
                 rows[i].with);
        const char *path = scratch_file("encoder.plan.yaml", text, strlen(text));
        run_result r = run_command("--outside", "check", path, NULL);
        CHECK_ROW(rows[i].with, rows[i].says != NULL ? r.status == 3 && strstr(r.err, rows[i].says) != NULL
                                                     : r.status == 0);
        run_free(&r);
    }
}

CU_TestInfo overlay_tests[] = {
    {"every plan compiles", every_plan_compiles},           {"says what is wired", says_what_is_wired},
    {"lines have one numbering", lines_have_one_numbering}, {"is kept like a header", is_kept_like_a_header},
    {"encoders have two lines", encoders_have_two_lines},   CU_TEST_INFO_NULL,
};
