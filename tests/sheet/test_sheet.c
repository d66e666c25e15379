/* SPDX-License-Identifier: MIT */
/* The bench sheet: nothing on anything else, on plans of all shapes and both papers; the proof itself; what
 * checkpoints say, by hand; the command. */
#include "elaborate/circuit_struct.h"
#include "sheet/sheet.h"
#include "sheet/symbols.h"
#include "sheet/wiring_nets.h"
#include "support.h"
#include "tinyladder/design/rules.h"
#include <glob.h>
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static int faults_of(tl_circuit *circuit, bool letter, FILE *to)
{
    const int count = tl_circuit_plan(circuit)->signal_count;
    int *signals = calloc((size_t)count + 1, sizeof *signals);
    for (int i = 0; i < count; i++)
        signals[i] = i;
    tl_report *report = tl_report_new();
    tl_plan_check(circuit, report);
    const sheet_options o = {signals, count, true, letter, false, "a command", "a verdict", report};
    int faults = sheet_prove(circuit, &o, to);
    static const sheet_form forms[] = {SHEET_SVG, SHEET_HTML};
    for (size_t i = 0; i < ROWS(forms); i++) {
        int found;
        free(sheet_text(circuit, &o, forms[i], to, &found));
        faults += found;
    }
    tl_report_free(report);
    free(signals);
    return faults;
}

/* What the list of wires says of a part is a part of the plan, so that all else may be asked of it. */
static void paths_are_parts(const tl_plan *plan)
{
    wiring list = wiring_of(plan);
    tl_parts parts = tl_plan_parts(plan);
    for (int i = 0; i < list.count; i++) {
        bool known = list.wires[i].path[0] == '\0';
        for (int k = 0; k < parts.count; k++)
            known = known || strcmp(parts.part[k].path, list.wires[i].path) == 0;
        CHECK_ROW(list.wires[i].path, known);
        if (!known)
            printf("\n  %s: no part '%s'\n", plan->title, list.wires[i].path);
    }
    tl_parts_free(&parts);
    free(list.wires);
}

/* The ends of a part are its own, those of a wire are one node, and a name stands for one node. */
static void ends_are_nodes(tl_circuit *circuit)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    wiring list = wiring_of(plan);
    wire_nets *nets = wiring_nets(circuit, &list);
    int known = 0, signal_rows = 0;
    for (int i = 0; i < list.count; i++) {
        const wire *w = &list.wires[i];
        signal_rows += w->kind == WIRED_SIGNAL;
        known += w->kind == WIRED_SIGNAL && nets[i].from != TL_NET_NONE && nets[i].to != TL_NET_NONE;
        if (strcmp(w->part, "wire") == 0)
            CHECK_ROW(w->from.name, nets[i].from == nets[i].to);
        for (int k = 0; k < list.count; k++) {
            const bool same = wires_belong_together(w, &list.wires[k]) && w->from.kind == END_BEHIND &&
                              strcmp(w->from.name, list.wires[k].to.name) == 0;
            if (same)
                CHECK_ROW(w->from.name, nets[i].from == nets[k].to);
        }
        int ends[2];
        const int part = w->path[0] != '\0'
                             ? tl_net_find_part(tl_circuit_net(circuit), TL_VIEW_BELIEVED, w->path)
                             : TL_NET_NONE;
        if (part == TL_NET_NONE || nets[i].from == TL_NET_NONE || nets[i].to == TL_NET_NONE)
            continue;
        tl_net_part_ends(tl_circuit_net(circuit), part, &ends[0], &ends[1]);
        CHECK_ROW(w->path, (ends[0] == nets[i].from && ends[1] == nets[i].to) ||
                               (ends[1] == nets[i].from && ends[0] == nets[i].to));
    }
    CHECK_ROW(plan->title, 2 * known >= signal_rows); /* points between the buttons of a chain have no node */
    free(nets);
    free(list.wires);
}

static void prove_file(const char *path)
{
    tl_report *report = tl_report_new();
    tl_report_allow_outside(report, true);
    tl_plan *plan = tl_plan_load(path, report);
    if (plan == NULL)
        tl_report_tell(report, stdout);
    CU_ASSERT_FATAL(plan != NULL);
    paths_are_parts(plan);
    tl_circuit *circuit = tl_circuit_new(plan);
    ends_are_nodes(circuit);
    tl_plug_in on = {30, 5, 2}, *const before = plan->plug_in;
    for (int letter = 0; letter < 2; letter++) {
        plan->plug_in = letter == 1 ? &on : before;
        CHECK_ROW(path, faults_of(circuit, letter == 1, stdout) == 0);
    }
    plan->plug_in = before;
    tl_circuit_free(circuit);
    tl_plan_free(plan);
    tl_report_free(report);
}

static void nothing_lies_on_anything(void)
{
    glob_t found;
    CU_ASSERT_FATAL(glob(TL_SOURCE "/demo/{sound/*,faulty/*,cold-frame,desk,fernhill}.plan.yaml", GLOB_BRACE,
                         NULL, &found) == 0);
    CU_ASSERT(found.gl_pathc > 60);
    for (size_t i = 0; i < found.gl_pathc; i += THINNED)
        prove_file(found.gl_pathv[i]);
    globfree(&found);
}

/* --- plans that no hand wrote --- */

static unsigned long long state = 20261130;

static unsigned pick(unsigned of)
{
    state = state * 6364136223846793005ull + 1442695040888963407ull;
    return (unsigned)(state >> 33) % of;
}

static const char *one_of(const char *const *texts, unsigned count)
{
    return texts[pick(count)];
}
#define ONE_OF(texts) one_of(texts, sizeof texts / sizeof *(texts))

static void add_stages(FILE *to)
{
    static const char *const ohms[] = {"R15", "47R", "1k", "4k7", "10k", "27k + 2k7", "2M2", "470R", "100k"},
                             *const farads[] = {"100 pF", "220n", "4.7 uF", "1n"},
                             *const rails[] = {"logic", "motor", "sensor-supply-of-the-gate", "five"};
    for (unsigned n = pick(5); n > 0; n--) {
        switch (pick(7)) {
        case 0:
            fprintf(to, "divider: {upper: %s, lower: %s}", ONE_OF(ohms), ONE_OF(ohms));
            break;
        case 1:
            fprintf(to, "filter: {series: %s, capacitor: %s}", ONE_OF(ohms), ONE_OF(farads));
            break;
        case 2:
            fprintf(to, "partner: {upper: %s, to: %s}", ONE_OF(ohms), ONE_OF(rails));
            break;
        case 3:
            fprintf(to, "pull: {up: %s, to: %s}", ONE_OF(ohms), ONE_OF(rails));
            break;
        case 4:
            fprintf(to, "pull: {down: %s}", ONE_OF(ohms));
            break;
        case 5:
            fprintf(to, "guard: %s", ONE_OF(ohms));
            break;
        default:
            fprintf(to, "cable: 300 pF");
        }
        fputs(n > 1 ? ", " : "", to);
    }
}

static void add_source(FILE *to)
{
    static const char *const sources[] = {
        "rail: motor",
        "rail: sensor-supply-of-the-gate",
        "resistance: 10k, beta: 3950 K, at: 25 degC, over: 0 degC .. 40 degC",
        "resistance: 400 ohm .. 900k, to: logic",
        "potentiometer: 10k, top: five",
        "potentiometer: 2M2, top: sensor-supply-of-the-gate",
        "voltage: 0 V .. 3 V, resistance: 100 ohm",
        "chain: [left: 0 ohm, right: 1k, up-and-further: 2k2, down: 4k7]",
        "chain: [a: 0 ohm, b: 1k, c: 2k2, d: 4k7, e: 10k, f: 22k, g: 47k]",
        "star: [red: 1k, green: 2k2, blue: 4k7]"};
    fputs(ONE_OF(sources), to);
}

/* Nine signals to a plan, on the board's nine analog pins. */
static void write_plan(const char *path, unsigned number)
{
    static const char *const pins[] = {"L4", "L5", "L6", "L7", "L15", "L16", "L17", "L18", "L19"};
    FILE *to = fopen(path, "w");
    fprintf(to,
            "tinyladder: plan 1\ntitle: Of words drawn by lot, number %u\nboard: " TL_SOURCE
            "/demo/lapwing.board.yaml\n",
            number);
    fprintf(
        to,
        "supplies: {motor: 12 V ±20 %%, five: 5 V ±5 %%, sensor-supply-of-the-gate: 5 V ±5 %%}\nsignals:\n");
    for (unsigned i = 0; i < 9; i++) {
        fprintf(to, "  ");
        for (unsigned n = 1 + pick(20); n > 0; n--)
            fputc("abcdefghimnorstuw"[pick(17)], to);
        fprintf(to, "-%u: {source: {", i);
        add_source(to);
        fprintf(to, "}, stages: [");
        add_stages(to);
        fprintf(to, "], pin: %s}\n", pins[i]);
    }
    fclose(to);
}

static void nor_on_plans_drawn_by_lot(void)
{
    const int plans = rounds_of(12, 112);
    for (int i = 0; i < plans; i++) {
        char path[300];
        snprintf(path, sizeof path, "%s", scratch_path("lot.plan.yaml"));
        write_plan(path, (unsigned)i);
        prove_file(path);
    }
}

/* --- the proof itself --- */

typedef void breaks(canvas *c);

static void label_on_label(canvas *c)
{
    (void)text_at(c, (place){20, 20}, TYPE_TEXT, ALIGN_LEFT, "one");
    (void)text_at(c, (place){21, 20.5}, TYPE_TEXT, ALIGN_LEFT, "other");
}

static void wire_through_body(canvas *c)
{
    resistor_lying(c, (place){20, 20}, "10k");
    wire_draw(c, (place){18, 20}, (place){40, 20});
}

static void net_on_net(canvas *c)
{
    c->net = 1;
    wire_draw(c, (place){20, 20}, (place){40, 20});
    c->net = 2;
    wire_draw(c, (place){30, 10}, (place){30, 30});
}

static void along_a_net(canvas *c)
{
    c->net = 1;
    wire_draw(c, (place){20, 20}, (place){40, 20});
    c->net = 2;
    wire_draw(c, (place){40, 20}, (place){50, 20});
}

static void inside_of_nothing(canvas *c)
{
    resistor_lying(c, (place){20, 20}, "10k");
    box_keep(c, BOX_INSIDE, "a name", (area){19, 19.5, 24, 20.5});
}

static void beyond_the_frame(canvas *c)
{
    (void)text_at(c, (place){95, 20}, TYPE_TEXT, ALIGN_LEFT, "too far to the right");
}

static void all_is_well(canvas *c)
{
    c->net = 1;
    wire_draw(c, (place){10, 20}, (place){20, 20});
    resistor_lying(c, (place){20, 20}, "10k");
    (void)text_at(c, (place){20, 17}, TYPE_TEXT, ALIGN_LEFT, "10k");
    c->net = 2;
    wire_draw(c, (place){20 + BODY, 20}, (place){40, 20});
}

static void the_proof_finds_breaks(void)
{
    static const struct {
        const char *name;
        breaks *draw;
        bool good;
    } rows[] = {{"label on label", label_on_label, false},
                {"wire through a body", wire_through_body, false},
                {"net across net", net_on_net, false},
                {"net along net", along_a_net, false},
                {"beyond the frame", beyond_the_frame, false},
                {"not within its symbol", inside_of_nothing, false},
                {"all is well", all_is_well, true}};
    for (size_t i = 0; i < ROWS(rows); i++) {
        canvas *c = canvas_new(pen_svg(NULL), (area){0, 0, 100, 100});
        rows[i].draw(c);
        CHECK_ROW(rows[i].name, (canvas_faults(c, "", NULL) == 0) == rows[i].good);
        canvas_free(c);
    }
}

/* --- checkpoints --- */

static double share(double upper, double lower)
{
    const double beside = lower * 10e6 / (lower + 10e6); /* the meter */
    return beside / (upper + beside);
}

/* 0.5 % and 1 mV of the usual meter. */
static void checkpoints_are_worked_out_by_hand(void)
{
    static const char text[] =
        "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\n"
        "supplies: {house: 10 V .. 14 V}\nsignals:\n"
        "  tap: {source: {rail: house}, stages: [divider: {upper: 47k ±1 %, lower: 12k ±1 %}], pin: L4}\n"
        "  door: {source: {contact: ground}, stages: [pull: {up: 10k ±5 %, to: logic}], pin: L12}\n";
    const double leak = 1e-6 * 0.05 * 9.6e3; /* 50 nA through the divider */
    tl_report *report = tl_report_new();
    tl_report_allow_outside(report, true);
    tl_plan *plan = tl_plan_load(scratch_file("checks.plan.yaml", text, strlen(text)), report);
    CU_ASSERT_FATAL(plan != NULL);
    tl_circuit *circuit = tl_circuit_new(plan);
    checkpoints of = checkpoints_of(circuit, (const int[]){0, 1}, 2);
    const struct {
        const char *name;
        double is, wanted, within;
    } rows[] = {
        {"ohms, typical", of.list[0].typical, 12e3, 1},
        {"ohms, least", of.list[0].least, 12e3 * 0.99 * 0.99 - 0.5, 30},
        {"house, least", of.list[1].least, 10 * 0.995 - 1e-3, 1e-6},
        {"tap, typical", of.list[2].typical, 12 * share(47e3, 12e3), 1e-4},
        {"tap, least", of.list[2].least, 10 * share(47e3 * 1.01, 12e3 * 0.99) * 0.995 - 1e-3, leak + 4e-3},
        {"tap, most", of.list[2].most, 14 * share(47e3 * 0.99, 12e3 * 1.01) * 1.005 + 1e-3, leak + 4e-3},
        {"door open", of.list[3].typical, 3.3 * 10e6 / (10e6 + 10e3), 1e-3},
        {"door closed", of.list[4].typical, 0, 1e-3},
    };
    CU_ASSERT_FATAL(of.count == 5);
    for (size_t i = 0; i < ROWS(rows); i++) {
        CHECK_ROW(rows[i].name, fabs(rows[i].is - rows[i].wanted) <= rows[i].within);
        if (fabs(rows[i].is - rows[i].wanted) > rows[i].within)
            printf("\n  %s: %g, not %g\n", rows[i].name, rows[i].is, rows[i].wanted);
    }
    CU_ASSERT(of.at_source[0] == 1 && of.at_pin[0] == 2 && of.at_pin[1] == 3);
    CU_ASSERT(strstr(of.list[2].when, " × 0.19") != NULL);
    checkpoints_free(&of);
    tl_circuit_free(circuit);
    tl_plan_free(plan);
    tl_report_free(report);
}

/* All that a meter is said to be off by: percent of what it shows, of its range, and digits. */
static void a_meter_is_as_bad_as_it_is_said_to_be(void)
{
    static const struct {
        const char *meter;
        double off; /* at 10 V */
    } rows[] = {
        {"", 0.05 + 1e-3},
        {"meters: {m: {accuracy: 0.8 %, digits: 4, digit: 10 mV}}\n", 0.08 + 0.04},
        {"meters: {m: {accuracy: 1 %, digit: 10 mV}}\n", 0.1 + 0.01},
        {"meters: {m: {accuracy: 0.2 %, of-range: 0.1 %, range: 20 V, digits: 2, digit: 1 mV}}\n",
         0.02 + 0.02 + 2e-3},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char text[600];
        snprintf(text, sizeof text,
                 "tinyladder: plan 1\ntitle: t\nboard: " TL_SOURCE "/demo/lapwing.board.yaml\n%s"
                 "supplies: {house: 10 V .. 14 V}\nsignals:\n  tap: {source: {rail: house}, stages: "
                 "[divider: {upper: "
                 "47k, lower: 12k}], pin: L4}\n",
                 rows[i].meter);
        tl_report *report = tl_report_new();
        tl_report_allow_outside(report, true);
        tl_plan *plan = tl_plan_load(scratch_file("meter.plan.yaml", text, strlen(text)), report);
        if (plan == NULL)
            tl_report_tell(report, stdout);
        CU_ASSERT_FATAL(plan != NULL);
        tl_circuit *circuit = tl_circuit_new(plan);
        checkpoints of = checkpoints_of(circuit, (const int[]){0}, 1);
        const checkpoint *house = of.list;
        while (house->measures == '\0')
            house++;
        CHECK_ROW(rows[i].meter, fabs(house->least - (10 - rows[i].off)) < 1e-9);
        checkpoints_free(&of);
        tl_circuit_free(circuit);
        tl_plan_free(plan);
        tl_report_free(report);
    }
}

/* --- the command --- */

static void the_command_writes_it(void)
{
    static const struct {
        const char *script, *said, *file;
        int status;
    } rows[] = {
        {"sheet %s/demo/cold-frame.plan.yaml -o s.pdf", "s.pdf: ", "s.pdf", 0},
        {"sheet %s/demo/cold-frame.plan.yaml -o s.png --paper letter", "s-1.png .. s-", "s-1.png", 0},
        {"sheet %s/demo/cold-frame.plan.yaml air -o one.svg", "1 signal", "one.svg", 0},
        {"sheet %s/demo/cold-frame.plan.yaml air --circuits -o one.svg", "1 signal", "one.svg", 0},
        {"sheet %s/demo/cold-frame.plan.yaml air --circuits -o x.pdf", "only as .svg or .txt", NULL, 2},
        {"check --about no-pull # %s", "open collector\n        GND", NULL, 0},
        {"sheet %s/demo/cold-frame.plan.yaml airr -o x.pdf", "did you mean 'air'?", NULL, 2},
        {"sheet %s/demo/cold-frame.plan.yaml", "which file?", NULL, 2},
        {"sheet %s/demo/cold-frame.plan.yaml -o x.doc", "ends in .pdf, .svg, .png, .html or .txt", NULL, 2},
        {"sheet %s/demo/cold-frame.plan.yaml -o x.pdf --paper b5", "a4 or letter", NULL, 2},
        {"sheet %s/demo/cold-frame.plan.yaml -o x.pdf --form rtf", "pdf, svg, png, html or txt", NULL, 2},
        {"sheet %s/demo/cold-frame.plan.yaml --checked x.csv -o x.pdf", "it draws nothing", NULL, 2},
        {"sheet %s/demo/cold-frame.plan.yaml --checked /nowhere.csv", "/nowhere.csv", NULL, 3},
        {"sheet %s/demo/cold-frame.plan.yaml -o /nowhere/x.html", "/nowhere/x.html", NULL, 3},
        {"sheet %s/demo/cold-frame.plan.yaml -o /nowhere/x.txt", "/nowhere/x.txt", NULL, 3},
        {"sheet %s/demo/cold-frame.plan.yaml -o /nowhere/x.pdf", "/nowhere/x.pdf", NULL, 3},
        {"sheet %s/nowhere.yaml -o x.pdf", "nowhere.yaml", NULL, 3},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        char script[600], line[1000];
        snprintf(script, sizeof script, rows[i].script, TL_SOURCE);
        snprintf(line, sizeof line, "rm -f s.* s-* one* x.*; '%s/tinyladder' --outside %s 2>&1", TL_BUILD,
                 script);
        run_result r = run_program((const char *const[]){"/bin/sh", "-c", line, NULL}, TL_SCRATCH);
        CHECK_ROW(rows[i].script, r.status == rows[i].status && strstr(r.out, rows[i].said) != NULL);
        if (r.status != rows[i].status || strstr(r.out, rows[i].said) == NULL)
            printf("\n  %s: %d %s", rows[i].script, r.status, r.out);
        run_free(&r);
        FILE *made = rows[i].file != NULL ? fopen(scratch_path(rows[i].file), "rb") : NULL;
        CHECK_ROW(rows[i].script, (made != NULL) == (rows[i].file != NULL));
        if (made != NULL) {
            char head[5] = "";
            CHECK_ROW(rows[i].script, fread(head, 1, 4, made) == 4 &&
                                          (strcmp(head, "%PDF") == 0 || strcmp(head, "\x89PNG") == 0 ||
                                           strcmp(head, "<?xm") == 0 || strcmp(head, "<svg") == 0));
            fclose(made);
        }
        FILE *none = fopen(scratch_path("x.pdf"), "rb");
        CHECK_ROW(rows[i].script, none == NULL);
        if (none != NULL)
            fclose(none);
    }
}

CU_TestInfo sheet_tests[] = {{"nothing lies on anything", nothing_lies_on_anything},
                             {"nor on plans drawn by lot", nor_on_plans_drawn_by_lot},
                             {"the proof finds breaks", the_proof_finds_breaks},
                             {"checkpoints are worked out by hand", checkpoints_are_worked_out_by_hand},
                             {"a meter is as bad as it is said to be", a_meter_is_as_bad_as_it_is_said_to_be},
                             {"the command writes it", the_command_writes_it},
                             CU_TEST_INFO_NULL};
