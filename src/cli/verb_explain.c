/* SPDX-License-Identifier: MIT */
/* tinyladder explain PLAN [SIGNAL...]: from what was seen to what is likely wrong. */
#include "cli/cli.h"
#include "cli/explain_ask.h"
#include "cli/explain_print.h"
#include "explain/cause_words.h"
#include <stdlib.h>

enum {
    KEY_OBSERVED = 1000,
    KEY_SAW,
    KEY_SOURCE_DID,
    KEY_SHOWN,
    KEY_METER_AT,
    KEY_OHMS_BETWEEN,
    KEY_RECORD_OF,
    KEY_OUTPUT_DID,
    KEY_PRIORS,
    KEY_MOST,
    KEY_ASK,
    KEY_COUNTS_FROM,
    KEY_PRACTISE,
    KEY_REVEAL_IT,
    KEY_TWO
};

static const struct argp_option explain_rows[] = {
    {"saw", KEY_SAW, "COUNTS", 0,
     "counts or levels: '2610', samples '2610 2611', one situation after the other '12, 510, 1020', or "
     "several signals "
     "'NAME=2610, NAME=12'; of a line that a logic analyser recorded FILE.vcd:VARIABLE",
     0},
    {"source", KEY_SOURCE_DID, "VALUES", 0,
     "what you believe the source did: '12.7V', '12.6V..12.8V', '0%, 50%, 100%', 'closed', or 'NAME=VALUE'",
     0},
    {"shown", KEY_SHOWN, "NAME=VALUE", 0, "value that the firmware shows", 0},
    {"output", KEY_OUTPUT_DID, "NAME=TOLD,DID[,VOLTAGE]", 0,
     "what an output was told, what its load did, and the voltage at its pin: lamp=on,dim,4.9V", 0},
    {"meter", KEY_METER_AT, "POINT=VOLTAGE", 0, "voltage that a meter shows at a point", 0},
    {"ohms", KEY_OHMS_BETWEEN, "A,B=RESISTANCE", 0,
     "with the power off, the resistance between two points, or open: 'tap.divider,ground=9.6k'", 0},
    {"observed", KEY_OBSERVED, "FILE", 0, "everything that was seen, in one file", 0},
    {"counts", KEY_COUNTS_FROM, "SOURCE", 0,
     "counts from your board: a file, -, DEVICE@SPEED, unix:PATH, tcp:HOST:PORT or mqtt://HOST/TOPIC", 0},
    {"record", KEY_RECORD_OF, "FILE", 0, "the last counts in a record (.csv or .db)", 0},
    {"mystery", KEY_PRACTISE, "N", 0, "practise: one fault, chosen by seed N, is on a simulated bench", 0},
    {"reveal", KEY_REVEAL_IT, NULL, 0, "with --mystery: name the hidden fault in the end", 0},
    {"ask", KEY_ASK, NULL, 0, "ask for one measurement after the other until one cause is left", 0},
    {"two", KEY_TWO, NULL, 0, "try two faults at once, too", 0},
    {"priors", KEY_PRIORS, "FILE", 0, "CSV of KIND,WEIGHT: how often each kind of fault happens", 0},
    {"most", KEY_MOST, "N", 0, "causes to print (default: 5)", 0},
    {"json", 'j', NULL, 0, "print one JSON object", 0},
    {0},
};

static void keep(struct argp_state *state, given *list, const char *option, const char *text)
{
    if (list->count == GIVEN_MOST)
        argp_error(state, "%s: %d at most", option, GIVEN_MOST);
    list->text[list->count++] = text;
}

static error_t parse_explain(int key, char *text, struct argp_state *state)
{
    explain_options *o = state->input;
    switch (key) {
    case KEY_SAW:
        keep(state, &o->saw, "--saw", text);
        break;
    case KEY_SOURCE_DID:
        keep(state, &o->sources, "--source", text);
        break;
    case KEY_SHOWN:
        keep(state, &o->shown, "--shown", text);
        break;
    case KEY_METER_AT:
        keep(state, &o->meters, "--meter", text);
        break;
    case KEY_OHMS_BETWEEN:
        keep(state, &o->ohms, "--ohms", text);
        break;
    case KEY_RECORD_OF:
        o->record = text;
        break;
    case KEY_OUTPUT_DID:
        keep(state, &o->outputs, "--output", text);
        break;
    case KEY_OBSERVED:
        o->observed = text;
        break;
    case KEY_PRIORS:
        o->priors = text;
        break;
    case KEY_MOST:
        o->most = option_number(state, "--most", text, 1, 1000);
        break;
    case KEY_ASK:
        o->ask = true;
        break;
    case KEY_COUNTS_FROM:
        o->counts = text;
        break;
    case KEY_PRACTISE:
        o->mystery = option_number(state, "--mystery", text, 0, 1000000000);
        break;
    case KEY_TWO:
        o->two = true;
        break;
    case KEY_REVEAL_IT:
        o->reveal = true;
        break;
    case 'j':
        o->json = true;
        break;
    case ARGP_KEY_ARG:
        if (o->plan == NULL)
            o->plan = text;
        else
            keep(state, &o->names, "SIGNAL", text);
        break;
    case ARGP_KEY_END:
        if (o->plan == NULL)
            argp_error(state, "which plan?");
        if (o->reveal && o->mystery < 0)
            argp_error(state, "--reveal: with --mystery");
        if (o->mystery >= 0 &&
            (o->observed != NULL || o->counts != NULL || o->record != NULL || o->saw.count > 0))
            argp_error(state, "--mystery: the bench is what is seen, and nothing else");
        if (o->observed == NULL && o->counts == NULL && o->record == NULL && o->mystery < 0 &&
            o->saw.count + o->shown.count + o->meters.count + o->ohms.count + o->outputs.count == 0)
            argp_error(
                state,
                "what was seen? Such as: tinyladder explain %s SIGNAL --saw '2610 2611' --source 12.7V",
                o->plan);
        if (o->ask && o->json)
            argp_error(state, "--ask: without --json");
        break;
    default:
        return ARGP_ERR_UNKNOWN;
    }
    return 0;
}

static const struct argp explain_argp = {
    explain_rows,
    parse_explain,
    "PLAN [SIGNAL...]",
    "Find the likely causes of what was seen on a real board.\v"
    "Each cause is a fault of the plan, tried on simulated benches with "
    "real parts. The result is a ranked list with "
    "probabilities, what each cause predicts, the fix, and the "
    "measurement that tells the causes apart. --shown, --meter, --ohms and "
    "--output belong to the first situation.",
    NULL,
    NULL,
    NULL};

static int explain_once(const explain_options *o, tl_circuit *circuit, const observed *seen,
                        next_measurement *next, bool *more, tl_report *report)
{
    diagnosis d;
    if (!diagnose(&d, circuit, seen, &(diagnose_options){o->priors, o->two}, report))
        return print_unreadable(report);
    tl_report *findings = explain_findings(&d);
    const bool has_next = !(d.causes[0].probability > 0.97) && !d.within && next_of(&d, next);
    if (o->json)
        json_print(explain_object(&d, has_next ? next : NULL, o->most, findings));
    else
        explain_print(&d, has_next ? next : NULL, o->most, findings);
    *more = has_next;
    const int status = d.within ? EXIT_DONE : EXIT_FOUND;
    tl_report_free(findings);
    diagnosis_free(&d);
    return status;
}

static void reveal_it(const hidden_fault *hidden)
{
    char text[WORDS_LONGEST];
    cause_in_words(&hidden->all, hidden->is, text);
    printf("\nThe fault: %s: %s\n", text, hidden->all.list[hidden->is].line);
}

/* Every fault is played in every situation: more than this takes longer than anyone waits. */
static bool is_too_much(const explain_options *o, const gathering *g)
{
    enum { PRACTICE = 60, SEEN = 2000, SITUATIONS_TIMES_SIGNALS = 16000 };
    const int signals = g->plan->signal_count, most = SITUATIONS_TIMES_SIGNALS / (signals > 0 ? signals : 1);
    int seen = 0;
    for (int k = 0; k < g->seen->count; k++)
        seen += g->seen->situations[k].signal_count;
    if (o->mystery >= 0 && signals > PRACTICE)
        fprintf(stderr,
                "tinyladder: --mystery: practise with a plan of %d signals at most: this one has %d\n",
                PRACTICE, signals);
    else if (g->seen->count > most)
        fprintf(stderr, "tinyladder: %d situations of a plan of %d signals: %d at most\n", g->seen->count,
                signals, most);
    else if (seen > SEEN)
        fprintf(stderr, "tinyladder: %d signals were seen, over all situations: %d at most\n", seen, SEEN);
    else
        return false;
    return true;
}

static int explain_plan(const explain_options *o, gathering *g, tl_report *report)
{
    hidden_fault hidden = {.is = -1};
    next_measurement next;
    bool more = true;
    int status = EXIT_DONE;
    if (o->observed != NULL && !observed_load(g->seen, o->observed, g->circuit, report))
        return print_unreadable(report);
    if (!explain_gather(o, g))
        return EXIT_USAGE;
    if (o->counts != NULL && (status = explain_gather_counts(o, g)) != EXIT_DONE)
        return status;
    if (o->record != NULL && (status = explain_gather_record(o, g)) != EXIT_DONE)
        return status;
    if (is_too_much(o, g))
        return EXIT_USAGE;
    if (o->mystery >= 0 && !explain_hide(o, g, report, &hidden)) {
        fprintf(stderr, "tinyladder: the plan has no fault that shows\n");
        hypotheses_free(&hidden.all);
        return EXIT_FOUND;
    }
    do
        status = explain_once(o, g->circuit, g->seen, &next, &more, report);
    while (o->ask && more && status != EXIT_UNREADABLE && explain_ask(g->seen, g->circuit, &next, &hidden));
    if (o->reveal && !o->json)
        reveal_it(&hidden);
    hypotheses_free(&hidden.all);
    return status;
}

static int run_explain(int argc, char **argv)
{
    explain_options o = {.most = 5, .mystery = -1};
    observed seen = {NULL, 0, 0};
    options_parse(&explain_argp, argc, argv, &o);
    if (o.json && o.most == 5)
        o.most = 40;
    tl_report *report = new_report();
    tl_plan *plan = tl_plan_load(o.plan, report);
    tl_circuit *circuit = plan != NULL ? tl_circuit_new(plan) : NULL;
    gathering g = {.circuit = circuit, .plan = plan, .seen = &seen, .good = true};
    const int status = circuit != NULL ? explain_plan(&o, &g, report) : print_unreadable(report);
    observed_free(&seen);
    tl_circuit_free(circuit);
    tl_plan_free(plan);
    tl_report_free(report);
    return status;
}

const verb verb_explain = {"explain", "Find the likely causes of what was seen on a real board.",
                           run_explain};
