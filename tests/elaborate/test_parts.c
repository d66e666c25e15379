/* SPDX-License-Identifier: MIT */
/* The list of a plan's parts: every kind of stage has a shape, every part a place in the circuit, every path
 * one part. And questions leave the circuit as it was. */
#include "analysis/ask.h"
#include "base/memory.h"
#include "elaborate/circuit_struct.h"
#include "support.h"
#include "tinyladder/design/findings.h"
#include "tinyladder/design/rules.h"
#include <glob.h>
#include <stdio.h>
#include <stdlib.h>
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

static void look_at(const char *path, tl_circuit *c)
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

static void with_every_plan(void (*look)(const char *path, tl_circuit *c))
{
    glob_t files;
    CU_ASSERT_FATAL(glob(TL_SOURCE "/demo/*.plan.yaml", 0, NULL, &files) == 0 &&
                    glob(TL_SOURCE "/demo/sound/*.plan.yaml", GLOB_APPEND, NULL, &files) == 0 &&
                    glob(TL_SOURCE "/demo/faulty/*.plan.yaml", GLOB_APPEND, NULL, &files) == 0);
    for (size_t i = 0; i < files.gl_pathc; i++) {
        tl_plan *plan;
        tl_circuit *circuit = open_file(files.gl_pathv[i], &plan);
        if (circuit != NULL) /* the demo's dome is wrong on purpose */
            look(files.gl_pathv[i], circuit);
        tl_circuit_free(circuit);
        tl_plan_free(plan);
    }
    globfree(&files);
}

static void every_part_has_a_place(void)
{
    with_every_plan(look_at);
    for (int role = 0; role < TL_PART_ROLES; role++)
        CHECK_ROW(tl_role_of((tl_part_role)role)->name, seen[role]);
}

/* Least, nominal and most of every parameter. */
static double *spans_of(const tl_circuit *c)
{
    const int count = tl_net_param_count(c->net);
    double *spans = tl_alloc(3 * (size_t)count + 1, sizeof *spans);
    for (int i = 0; i < count; i++) {
        tl_net_param_span(c->net, i, &spans[3 * i], &spans[3 * i + 2]);
        spans[3 * i + 1] = tl_net_param_nominal(c->net, i);
    }
    return spans;
}

/* Rules ask what would be without a load, a leak or a supply, and with a sensor shorted. */
static void ask_everything(const char *path, tl_circuit *c)
{
    double *before = spans_of(c), hertz[2];
    tl_report *first = tl_report_new(), *again = tl_report_new();
    tl_plan_check(c, first);
    for (int i = 0; i < c->plan->output_count; i++)
        (void)tl_circuit_output(c, i);
    for (int i = 0; i < c->plan->signal_count; i++)
        tl_circuit_corner_hertz(c, i, &hertz[0], &hertz[1]);
    double *after = spans_of(c);
    CHECK_ROW(path, memcmp(before, after, 3 * (size_t)tl_net_param_count(c->net) * sizeof *before) == 0);
    tl_plan_check(c, again);
    CHECK_ROW(path, tl_report_count(first) == tl_report_count(again));
    for (int i = 0; i < tl_report_count(first) && i < tl_report_count(again); i++) {
        const tl_finding *one = tl_report_finding(first, i), *other = tl_report_finding(again, i);
        CHECK_ROW(path, strcmp(one->slug, other->slug) == 0 && strcmp(one->cause, other->cause) == 0 &&
                            (one->figure == NULL) == (other->figure == NULL) &&
                            (one->figure == NULL || strcmp(one->figure, other->figure) == 0));
    }
    tl_report_free(first);
    tl_report_free(again);
    free(before);
    free(after);
}

static void questions_leave_the_circuit_as_it_was(void)
{
    with_every_plan(ask_everything);
}

CU_TestInfo part_tests[] = {
    {"every kind and role has a row", every_kind_and_role_has_a_row},
    {"a bridge has its stages twice", a_bridge_has_its_stages_twice},
    {"every part has a place", every_part_has_a_place},
    {"questions leave the circuit as it was", questions_leave_the_circuit_as_it_was},
    CU_TEST_INFO_NULL,
};
