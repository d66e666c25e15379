/* SPDX-License-Identifier: MIT */
/* The list of a plan's parts: every kind of stage has a shape, every part a place in the circuit, every path
 * one part. */
#include "elaborate/circuit_struct.h"
#include "support.h"
#include "tinyladder/design/findings.h"
#include <glob.h>
#include <stdio.h>
#include <string.h>

static bool seen[TL_PART_ROLES];

static void every_kind_and_role_has_a_row(void)
{
    for (int kind = 0; kind < TL_STAGE_KINDS; kind++)
        CU_ASSERT(tl_stage_shape_of((tl_stage_kind)kind)->parts > 0);
    for (int role = 0; role < TL_PART_ROLES; role++)
        CU_ASSERT(tl_role_of((tl_part_role)role)->name != NULL);
}

/* Parts without a value of their own are built of several elements, and have no one place. */
static bool is_built_of_several(const tl_plan_part *part)
{
    return part->value == NULL || part->role == TL_PART_BASE;
}

static void look_at(const char *path, const tl_circuit *c)
{
    for (int i = 0; i < c->parts.count; i++) {
        const tl_plan_part *part = &c->parts.part[i];
        seen[part->role] = true;
        CHECK_ROW(part->path, is_built_of_several(part) || part->net != TL_NET_NONE);
        if (part->net == TL_NET_NONE && !is_built_of_several(part))
            printf("\n  %s: %s is nowhere in the circuit\n", path, part->path);
        for (int k = 0; k < i; k++)
            CHECK_ROW(part->path, strcmp(part->path, c->parts.part[k].path) != 0);
        if (part->param != TL_NET_NONE && part->role != TL_PART_SHARED)
            CHECK_ROW(part->path, strcmp(tl_net_param_name(c->net, part->param), part->path) == 0);
    }
}

static tl_circuit *open_file(const char *path, tl_plan **plan)
{
    tl_report *report = tl_report_new();
    *plan = tl_plan_load(path, report);
    tl_report_free(report);
    return *plan != NULL ? tl_circuit_new(*plan) : NULL;
}

/* A bridge has the same stages in both legs: 100 ohm and a capacitor with a resistance, twice. */
static void a_bridge_has_its_stages_twice(void)
{
    static const char text[] =
        "tinyladder: plan 1\nboard: " TL_SOURCE "/demo/curlew.board.yaml\nsignals:\n  tray:\n"
        "    source: {bridge: 1k, voltage: -1 mV .. 12 mV, supply: logic}\n"
        "    stages: [series: 100 ohm ±1 %, capacitor: {capacitance: 100 nF ±10 %, resistance: 1 ohm}]\n"
        "    pin: fine.pair-0\n    reading: {unit: mV}\n"
        "buses: {b: {pins: {scl: C5, sda: C4}, stages: [pull: {up: 4k7 ±5 %, to: logic}]}}\n"
        "converters: {fine: {part: " TL_SOURCE
        "/demo/dunlin.converter.yaml, supply: logic, bus: b, address: 0x2a, range: ±0.1 V}}\n";
    tl_plan *plan;
    tl_circuit *c = open_file(scratch_file("bridge.plan.yaml", text, strlen(text)), &plan);
    CU_ASSERT_FATAL(c != NULL);
    look_at("bridge", c);
    int legs[2] = {0, 0};
    for (const tl_plan_part *part = NULL; (part = tl_parts_with(&c->parts, 0, TL_BOUGHT, part)) != NULL;)
        legs[part->twin]++;
    CU_ASSERT(legs[0] == 2 && legs[1] == 2);
    tl_circuit_free(c);
    tl_plan_free(plan);
}

static void every_part_has_a_place(void)
{
    glob_t files;
    CU_ASSERT_FATAL(glob(TL_SOURCE "/demo/*.plan.yaml", 0, NULL, &files) == 0 &&
                    glob(TL_SOURCE "/demo/sound/*.plan.yaml", GLOB_APPEND, NULL, &files) == 0 &&
                    glob(TL_SOURCE "/demo/faulty/*.plan.yaml", GLOB_APPEND, NULL, &files) == 0);
    for (size_t i = 0; i < files.gl_pathc; i++) {
        tl_plan *plan;
        tl_circuit *circuit = open_file(files.gl_pathv[i], &plan);
        if (circuit != NULL) /* the demo's dome is wrong on purpose */
            look_at(files.gl_pathv[i], circuit);
        tl_circuit_free(circuit);
        tl_plan_free(plan);
    }
    globfree(&files);
    for (int role = 0; role < TL_PART_ROLES; role++)
        CHECK_ROW(tl_role_of((tl_part_role)role)->name, seen[role]);
}

CU_TestInfo part_tests[] = {
    {"every kind and role has a row", every_kind_and_role_has_a_row},
    {"a bridge has its stages twice", a_bridge_has_its_stages_twice},
    {"every part has a place", every_part_has_a_place},
    CU_TEST_INFO_NULL,
};
