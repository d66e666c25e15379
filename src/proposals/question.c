/* SPDX-License-Identifier: MIT */
/*
 * What a sizing found, asked of the circuit: every choice is put into the smallest plan that holds the
 * question, on a board with one kind of pin, and the plan is read, elaborated and checked as any other.
 * Choices that break a rule go to the rejected; of the others every figure is the circuit's own worst case.
 */
#include "proposals/question.h"
#include "base/memory.h"
#include <ctype.h>
#include <stdlib.h>
#include <string.h>

static const char plan_path[] = "asked.plan.yaml", board_path[] = "asked.board.yaml",
                  part_path[] = "asked.mux.yaml";
enum { ASKED_PINS = 8, ASKED_LINES = 18 }; /* analog ones, and others */

/* --- the board --- */

static double fact(const tl_facts *facts, tl_fact which, double otherwise)
{
    return or_else(facts->of[which].nominal, otherwise);
}

static asked_pin pin_of(const tl_facts *facts)
{
    return (asked_pin){
        .rail = facts->of[TL_FACT_RAIL],
        .lowest = fact(facts, TL_FACT_LEAST, -tl_clamp_drop),
        .highest = fact(facts, TL_FACT_LIMIT, NAN),
        .over = or_else(facts->of[TL_FACT_LIMIT].nominal - facts->of[TL_FACT_RAIL].low, tl_clamp_drop),
        .voh = NAN,
        .voh_below = NAN,
        .vil = fact(facts, TL_FACT_VIL, NAN),
        .vih = fact(facts, TL_FACT_VIH, NAN),
        .vil_share = fact(facts, TL_FACT_VIL_SHARE, tl_vil_share),
        .vih_share = fact(facts, TL_FACT_VIH_SHARE, tl_vih_share),
        .leakage = fact(facts, TL_FACT_LEAKAGE, 0),
        .farads = fact(facts, TL_FACT_FARADS, 0),
        .drives = fact(facts, TL_FACT_DRIVES, NAN),
        .most_amperes = fact(facts, TL_FACT_MOST_AMPERES, NAN),
        .injection = fact(facts, TL_FACT_INJECTION, NAN),
        .internal = facts->of[TL_FACT_INTERNAL],
        .reference = fact(facts, TL_FACT_REFERENCE, NAN),
        .bits = fact(facts, TL_FACT_BITS, 12),
        .sample_farads = fact(facts, TL_FACT_SAMPLING, NAN),
        .switch_ohms = fact(facts, TL_FACT_SWITCH, NAN),
        .acquisition = fact(facts, TL_FACT_ACQUISITION, NAN),
        .acquisitions = facts->acquisitions,
        .conversion = fact(facts, TL_FACT_CONVERSION, 1e-6),
        .full_steps = fact(facts, TL_FACT_FULL_STEPS, 0) > 0,
    };
}

static void write_level(FILE *to, const char *key, double volts, double share)
{
    if (is_said(volts))
        fprintf(to, ", %s: %s", key, written(volts, "V"));
    else
        fprintf(to, ", %s: %.12g rail", key, share);
}

static void write_said(FILE *to, const char *key, double value, const char *unit)
{
    if (is_said(value) && value > 0 && isfinite(value))
        fprintf(to, ", %s: %s", key, written(value, unit));
}

/* A reference that is never above the rail's least is the rail itself: what is connected to it is
 * ratiometric. */
static void write_converter(FILE *to, const asked_pin *pin)
{
    const bool own = is_said(pin->reference) && fabs(pin->reference - pin->rail.low) > 1e-9;
    fprintf(to, "converters:\n  main:\n    bits: %.0f\n    steps: %s\n    word: {in: %d}\n", pin->bits,
            pin->full_steps ? "full" : "half", pin->bits > 16 ? 32 : 16);
    if (own)
        fprintf(to, "    references: {own: %s}\n", written(pin->reference, "V"));
    else
        fprintf(to, "    references: {logic: logic}\n");
    fprintf(to, "    sampling: {capacitor: %s, switch: %s}\n",
            written(or_else(pin->sample_farads, 1e-15), "F"), written(or_else(pin->switch_ohms, 1), "ohm"));
    fprintf(to, "    acquisition: [");
    for (int i = 0; i < pin->acquisitions.count; i++) {
        if (pin->acquisitions.of[i] < pin->acquisition * (1 - 1e-9))
            fprintf(to, "%s, ", written(pin->acquisitions.of[i], "s"));
    }
    fprintf(to, "%s]\n    conversion: %s\n", written(or_else(pin->acquisition, 1e-3), "s"),
            written(pin->conversion, "s"));
    if (pin->errors > 0)
        fprintf(to, "    errors: {offset: ±%.12g counts}\n", pin->errors);
}

static void write_board(FILE *to, const asked_pin *pin)
{
    fprintf(to, "tinyladder: board 1\ntitle: the board\nsupplies: {logic: ");
    write_range(to, &pin->rail, "V");
    fprintf(to, "}\nevery-pin: {supply: logic");
    if (is_said(pin->highest))
        fprintf(to, ", limits: %s .. %s", written(pin->lowest, "V"), written(pin->highest, "V"));
    else
        fprintf(to, ", limits: %s .. rail + %s", written(pin->lowest, "V"), written(pin->over, "V"));
    write_level(to, "vil", pin->vil, pin->vil_share);
    write_level(to, "vih", pin->vih, pin->vih_share);
    if (pin->leakage > 0)
        fprintf(to, ", leakage: ±%s", written(pin->leakage, "A"));
    if (is_said(pin->voh))
        fprintf(to, ", voh: %s", written(pin->voh, "V"));
    if (is_said(pin->voh_below))
        fprintf(to, ", voh: rail - %s", written(pin->voh_below, "V"));
    write_said(to, "capacitance", pin->farads, "F");
    write_said(to, "drives", pin->drives, "A");
    write_said(to, "current", pin->most_amperes, "A");
    write_said(to, "injection", pin->injection, "A");
    if (is_said(pin->internal.nominal)) {
        fprintf(to, ", internal: {up: ");
        write_range(to, &pin->internal, "ohm");
        fprintf(to, ", down: ");
        write_range(to, &pin->internal, "ohm");
        fprintf(to, "}");
    }
    fprintf(to, "}\npins:\n");
    fprintf(to,
            "  pin-0 .. pin-%d: {position: 1 .. %d, channel: 0 .. %d}\n"
            "  line-0 .. line-%d: {position: %d .. %d, can: [digital, i2c]}\n",
            ASKED_PINS - 1, ASKED_PINS, ASKED_PINS - 1, ASKED_LINES - 1, ASKED_PINS + 1,
            ASKED_PINS + ASKED_LINES);
    write_converter(to, pin);
}

/* --- the plan --- */

/* A text that is written piece by piece. */
typedef struct {
    FILE *to;
    char *text;
    size_t size;
} growing_text;

static void begin_text(growing_text *g)
{
    *g = (growing_text){0};
    g->to = tl_text_begin(&g->text, &g->size);
}

static char *end_text(growing_text *g)
{
    tl_text_end(g->to, &g->text);
    return g->text;
}

static char *plan_text(const question_kind *kind, const tl_question *question, const tl_size_result *result,
                       const tl_choice *choice)
{
    growing_text g;
    begin_text(&g);
    const asked_text t = {question, result, choice, g.to};
    fprintf(g.to, "tinyladder: plan 1\nboard: %s\n", board_path);
    if (question->drawer != NULL)
        fprintf(g.to, "drawer: %s\n", question->drawer);
    kind->write(&t);
    return end_text(&g);
}

/* Nothing else is on offer than what a choice acquires with, where it says so. */
static char *board_text(const question_kind *kind, const tl_question *question, const tl_choice *choice)
{
    growing_text g;
    asked_pin pin = pin_of(question->facts);
    begin_text(&g);
    kind->take(question->requirement, &pin);
    if (is_said(figure_in(choice, TL_FIG_ACQUISITION))) {
        pin.acquisition = figure_in(choice, TL_FIG_ACQUISITION);
        pin.acquisitions.count = 0;
    }
    write_board(g.to, &pin);
    return end_text(&g);
}

static char *part_text(const question_kind *kind, const tl_question *question)
{
    growing_text g;
    begin_text(&g);
    if (kind->write_part != NULL)
        kind->write_part(question, g.to);
    return end_text(&g);
}

/* --- figures --- */

/* --- choices --- */

static const question_kind *kind_of(const char *name)
{
    const question_kind *const lists[] = {sensor_questions, contact_questions, load_questions,
                                          line_questions};
    for (size_t i = 0; i < sizeof lists / sizeof lists[0]; i++) {
        for (const question_kind *k = lists[i]; k->kind != NULL; k++) {
            if (strcmp(k->kind, name) == 0)
                return k;
        }
    }
    return NULL;
}

/* Each reason once, with the first choice that it refuses. */
static void refuse(tl_size_result *result, const tl_choice *choice, const tl_finding *f)
{
    char slug[80];
    const char *way = choice->way != NULL ? say_way(choice->way) : "";
    snprintf(slug, sizeof slug, "[%s]", f->slug);
    for (int i = 0; i < result->rejected_count; i++) {
        if (strstr(result->rejected[i].why, slug) != NULL && strstr(result->rejected[i].why, way) != NULL)
            return;
    }
    result_reject(result, choice, "%s%s%s%s%s %s", way, way[0] != '\0' ? ": " : "", f->cause,
                  f->figure != NULL ? ": " : "", f->figure != NULL ? f->figure : "", slug);
}

/* The figure that the circuit's worst case breaks, where the closed form had let it pass. */
static bool is_within(tl_size_result *result, const tl_choice *choice)
{
    for (int i = 0; i < choice->figures; i++) {
        const tl_size_figure *f = &choice->figure[i];
        if (!figure_broken(f))
            continue;
        result_reject(result, choice, "%s%s%s: %s, limit %s", choice->way != NULL ? say_way(choice->way) : "",
                      choice->way != NULL ? ": " : "", f->label, say_figure(f), say_limit(f));
        return false;
    }
    return true;
}

static const tl_finding *worst_finding(const tl_report *report)
{
    for (int i = 0; i < tl_report_count(report); i++) {
        if (tl_report_finding(report, i)->severity >= TL_WARNING)
            return tl_report_finding(report, i);
    }
    return NULL;
}

typedef struct {
    const question_kind *kind;
    const tl_question *question;
    char *part;
} asking;

static bool ask_choice(const asking *k, tl_size_result *result, tl_choice *choice)
{
    if (choice->beyond)
        return true;
    char *text = plan_text(k->kind, k->question, result, choice),
         *board = board_text(k->kind, k->question, choice);
    tl_report *report = tl_report_new();
    tl_report_allow_outside(report, true);
    tl_report_instead(report, plan_path, text, strlen(text));
    tl_report_instead(report, board_path, board, strlen(board));
    tl_report_instead(report, part_path, k->part, strlen(k->part));
    tl_plan *plan = tl_plan_load(plan_path, report);
    tl_circuit *circuit = plan != NULL ? tl_circuit_new(plan) : NULL;
    if (circuit != NULL)
        tl_plan_check(circuit, report);
    const tl_finding *finding = worst_finding(report), *lost = tl_finding_unread(report);
    if (lost != NULL) {
        result_refuse(result, TL_SIZE_UNPROVED, "%s", lost->cause);
    } else if (finding != NULL) {
        refuse(result, choice, finding);
    }
    if (lost == NULL && circuit != NULL && (finding == NULL || result->compare)) {
        const asked_circuit a = {k->question, circuit, 0};
        k->kind->measure(&a, choice);
    }
    tl_circuit_free(circuit);
    tl_plan_free(plan);
    tl_report_free(report);
    free(board);
    free(text);
    return result->compare || (finding == NULL && is_within(result, choice));
}

void tl_question_ask(const tl_question *question, tl_size_result *result, int most)
{
    static const char *const no_circuit[] = {"ratio"}; /* two resistors alone ask nothing of one */
    const question_kind *kind = kind_of(question->kind);
    if (result->count == 0)
        return;
    for (size_t i = 0; i < sizeof no_circuit / sizeof no_circuit[0]; i++) {
        if (strcmp(question->kind, no_circuit[i]) != 0)
            continue;
        result->count = result->count > most ? most : result->count;
        return;
    }
    if (kind == NULL) {
        result->count = 0;
        result_refuse(result, TL_SIZE_UNPROVED, "no circuit proves what '%s' finds", question->kind);
        return;
    }
    asking k = {kind, question, part_text(kind, question)};
    int kept = 0;
    bool first = true;
    for (int i = 0; i < result->count && kept < most && result->status != TL_SIZE_UNPROVED; i++) {
        tl_choice choice = result->choices[i];
        if (ask_choice(&k, result, &choice))
            result->choices[kept++] = choice;
        else if (i == 0)
            first = false;
    }
    result->count = kept;
    if (!first)
        result_tell_why(result);
    if (result->status == TL_SIZE_UNPROVED)
        result->count = 0;
    else if (kept == 0)
        result_refuse(result, TL_SIZE_IMPOSSIBLE, "what fits by arithmetic breaks a rule of 'check'");
    free(k.part);
}
