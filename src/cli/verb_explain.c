/* tinyladder explain PLAN [SIGNAL...]: from what was seen to what is likely wrong. */
#include "cli/cli.h"
#include "cli/explain_print.h"
#include "printing/json_answer.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum { GIVEN_MOST = 64 };

typedef struct {
    const char *text[GIVEN_MOST];
    int count;
} given;

typedef struct {
    const char *plan, *observed, *priors;
    given names, saw, sources, shown, meters, outputs;
    long most;
    bool json, ask;
} explain_options;

enum {
    KEY_OBSERVED = 1000,
    KEY_SAW,
    KEY_SOURCE_DID,
    KEY_SHOWN,
    KEY_METER_AT,
    KEY_OUTPUT_DID,
    KEY_PRIORS,
    KEY_MOST,
    KEY_ASK
};

static const struct argp_option explain_rows[] = {
    {"saw", KEY_SAW, "COUNTS", 0,
     "counts or levels: '2610', samples '2610 2611', one situation after the other '12, 510, 1020', or "
     "several signals "
     "'NAME=2610, NAME=12'",
     0},
    {"source", KEY_SOURCE_DID, "VALUES", 0,
     "what you believe the source did: '12.7V', '12.6V..12.8V', '0%, 50%, 100%', 'closed', or 'NAME=VALUE'",
     0},
    {"shown", KEY_SHOWN, "NAME=VALUE", 0, "value that the firmware shows", 0},
    {"output", KEY_OUTPUT_DID, "NAME=TOLD,DID", 0,
     "what an output was told and what its load did: lamp=on,dim", 0},
    {"meter", KEY_METER_AT, "POINT=VOLTAGE", 0, "voltage that a meter shows at a point", 0},
    {"observed", KEY_OBSERVED, "FILE", 0, "everything that was seen, in one file", 0},
    {"ask", KEY_ASK, NULL, 0, "ask for one measurement after the other until one cause is left", 0},
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
        if (o->observed == NULL && o->saw.count + o->shown.count + o->meters.count + o->outputs.count == 0)
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

static const struct argp explain_argp = {explain_rows,
                                         parse_explain,
                                         "PLAN [SIGNAL...]",
                                         "Finds the likely causes of what was seen on a real board.\v"
                                         "Each cause is a fault of the plan, tried on simulated benches with "
                                         "real parts. The result is a ranked list with "
                                         "probabilities, what each cause predicts, what mends it, and the "
                                         "measurement that tells the causes apart.",
                                         NULL,
                                         NULL,
                                         NULL};

/* --- what was seen, from options --- */

typedef struct {
    tl_circuit *circuit;
    const tl_plan *plan;
    observed *seen;
    int signals[GIVEN_MOST]; /* named on the command line */
    int signal_count;
    bool good;
} gathering;

static void refuse(gathering *g, const char *option, const char *text, const char *why)
{
    if (g->good)
        fprintf(stderr, "tinyladder: %s: '%s': %s\n", option, text, why);
    g->good = false;
}

/* Splits at a character, without spaces around; how many pieces. */
static int split(char *text, char at, char *pieces[GIVEN_MOST])
{
    int count = 0;
    const char separator[2] = {at, '\0'};
    for (char *piece = strsep(&text, separator); piece != NULL && count < GIVEN_MOST;
         piece = strsep(&text, separator)) {
        piece += strspn(piece, " ");
        size_t length = strlen(piece);
        while (length > 0 && piece[length - 1] == ' ')
            piece[--length] = '\0';
        pieces[count++] = piece;
    }
    return count;
}

static int find_signal(gathering *g, const char *option, const char *name)
{
    int signal;
    if (tl_plan_signal(g->plan, name, &signal) != NULL)
        return signal;
    refuse(g, option, name, "the plan has no such signal");
    return TL_NONE;
}

static situation *situation_at(gathering *g, int k)
{
    while (g->seen->count <= k)
        (void)observed_add(g->seen);
    return &g->seen->situations[k];
}

/* `NAME=REST`, or the signal that goes with this place. */
static int signal_and_rest(gathering *g, const char *option, char *piece, int place, char **rest)
{
    char *equals = strchr(piece, '=');
    *rest = piece;
    if (equals != NULL) {
        *equals = '\0';
        *rest = equals + 1;
        return find_signal(g, option, piece);
    }
    if (g->signal_count == 0)
        refuse(g, option, piece, "of which signal? Name it behind the plan, or write NAME=VALUE");
    return g->signal_count == 0 ? TL_NONE : g->signals[place < g->signal_count ? place : g->signal_count - 1];
}

static void add_samples(gathering *g, situation *in, int signal, char *text)
{
    char *pieces[GIVEN_MOST];
    seen_signal *seen = situation_signal(in, signal);
    const int count = split(text, ' ', pieces);
    for (int i = 0; i < count; i++) {
        char *end;
        const double value = strcmp(pieces[i], "-") == 0 ? (double)NAN : strtod(pieces[i], &end);
        if (pieces[i][0] == '\0')
            continue;
        if (seen->count == SEEN_SAMPLES_MOST ||
            (!isnan(value) && (*end != '\0' || fabs(value) > 4294967295.0)))
            refuse(g, "--saw", pieces[i], "expected a count or a level");
        else
            seen->samples[seen->count++] = value;
    }
}

/* Pieces without names are situations of the one signal, or one for each of the signals. */
static void take_saw(gathering *g, const char *text)
{
    char copy[2000], *pieces[GIVEN_MOST], *rest;
    snprintf(copy, sizeof copy, "%s", text);
    const int count = split(copy, ',', pieces);
    for (int i = 0; i < count && g->good; i++) {
        const bool named = strchr(pieces[i], '=') != NULL;
        const int signal = signal_and_rest(g, "--saw", pieces[i], i, &rest),
                  k = named || g->signal_count > 1 ? 0 : i;
        if (signal != TL_NONE)
            add_samples(g, situation_at(g, k), signal, rest);
    }
}

static void take_source(gathering *g, const char *text)
{
    char copy[2000], *pieces[GIVEN_MOST], *rest;
    snprintf(copy, sizeof copy, "%s", text);
    const int count = split(copy, ',', pieces);
    for (int i = 0; i < count && g->good; i++) {
        const bool named = strchr(pieces[i], '=') != NULL;
        const int signal = signal_and_rest(g, "--source", pieces[i], i, &rest);
        tl_text_error error = {0, ""};
        seen_source source;
        if (signal == TL_NONE)
            return;
        situation *in = situation_at(g, named || g->signal_count > 1 ? 0 : i);
        if (!seen_source_read(&source, g->plan, signal, rest, &error)) {
            refuse(g, "--source", rest, error.text);
            return;
        }
        in->sources = must(realloc(in->sources, (size_t)(in->source_count + 1) * sizeof source));
        in->sources[in->source_count++] = source;
    }
}

/* `NAME=REST`; false where there is none. */
static bool name_and_rest(gathering *g, const char *option, const char *text, char name[200],
                          const char **rest)
{
    const char *equals = strchr(text, '=');
    if (equals == NULL || equals - text > 199) {
        refuse(g, option, text, "expected NAME=VALUE");
        return false;
    }
    snprintf(name, 200, "%.*s", (int)(equals - text), text);
    *rest = equals + 1;
    return true;
}

static void take_shown(gathering *g, const char *text)
{
    char name[200];
    const char *rest;
    tl_text_error error = {0, ""};
    if (!name_and_rest(g, "--shown", text, name, &rest))
        return;
    const int signal = find_signal(g, "--shown", name);
    if (signal != TL_NONE &&
        !seen_shown_read(situation_signal(situation_at(g, 0), signal), g->plan, rest, &error))
        refuse(g, "--shown", rest, error.text);
}

static void take_meter(gathering *g, const char *text)
{
    char name[200];
    const char *rest;
    tl_text_error error = {0, ""};
    seen_meter meter;
    if (!name_and_rest(g, "--meter", text, name, &rest))
        return;
    if (!seen_meter_read(&meter, g->circuit, name, rest, &error)) {
        refuse(g, "--meter", text, error.text);
        return;
    }
    observed_add_meter(g->seen, 0, &meter);
}

static void take_output(gathering *g, const char *text)
{
    char name[200];
    const char *rest;
    tl_text_error error = {0, ""};
    seen_output output;
    if (!name_and_rest(g, "--output", text, name, &rest))
        return;
    if (!seen_output_read(&output, g->plan, name, rest, &error)) {
        refuse(g, "--output", text, error.text);
        return;
    }
    situation *in = situation_at(g, 0);
    in->outputs = must(realloc(in->outputs, (size_t)(in->output_count + 1) * sizeof output));
    in->outputs[in->output_count++] = output;
}

static bool gather(const explain_options *o, gathering *g)
{
    for (int i = 0; i < o->names.count && g->good; i++)
        g->signals[g->signal_count++] = find_signal(g, "SIGNAL", o->names.text[i]);
    if (g->signal_count == 0 && g->plan->signal_count == 1)
        g->signals[g->signal_count++] = 0;
    for (int i = 0; i < o->saw.count && g->good; i++)
        take_saw(g, o->saw.text[i]);
    for (int i = 0; i < o->sources.count && g->good; i++)
        take_source(g, o->sources.text[i]);
    for (int i = 0; i < o->shown.count && g->good; i++)
        take_shown(g, o->shown.text[i]);
    for (int i = 0; i < o->meters.count && g->good; i++)
        take_meter(g, o->meters.text[i]);
    for (int i = 0; i < o->outputs.count && g->good; i++)
        take_output(g, o->outputs.text[i]);
    return g->good;
}

/* --- the dialogue --- */

/* A line of an answer: volts; `skip` or nothing; `quit`, or the end. False: it is over. */
static bool read_answer(double *volts, bool *skipped)
{
    char line[200];
    for (;;) {
        tl_quantity q;
        tl_text_error error = {0, ""};
        printf("volts, skip or quit: ");
        fflush(stdout);
        if (fgets(line, sizeof line, stdin) == NULL) {
            putchar('\n');
            return false;
        }
        line[strcspn(line, "\r\n")] = '\0';
        *skipped = strcmp(line, "skip") == 0 || line[0] == '\0';
        if (strcmp(line, "quit") == 0)
            return false;
        if (*skipped)
            return true;
        if (tl_quantity_read(line, TL_DIM_VOLT, &q, &error)) {
            *volts = q.nominal;
            return true;
        }
        printf("%s\n", error.text);
    }
}

/* Another measurement goes in beside what was seen; false: it is over. */
static bool ask_on(observed *seen, tl_circuit *circuit, const next_measurement *next)
{
    double volts = 0;
    bool skipped = false;
    tl_text_error error;
    seen_meter meter;
    if (!read_answer(&volts, &skipped) || skipped)
        return false;
    if (!seen_meter_read(&meter, circuit, next->point, "0 V", &error))
        return false;
    meter.volts = volts;
    observed_add_meter(seen, next->situation, &meter);
    return true;
}

static int explain_once(const explain_options *o, tl_circuit *circuit, const observed *seen,
                        next_measurement *next, bool *more, tl_report *report)
{
    diagnosis d;
    if (!diagnose(&d, circuit, seen, o->priors, report))
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

static int run_explain(int argc, char **argv)
{
    explain_options o = {.most = 5};
    observed seen = {NULL, 0, 0};
    next_measurement next;
    bool more = true;
    options_parse(&explain_argp, argc, argv, &o);
    if (o.json && o.most == 5)
        o.most = 40;
    tl_report *report = new_report();
    tl_plan *plan = tl_plan_load(o.plan, report);
    tl_circuit *circuit = plan != NULL ? tl_circuit_new(plan) : NULL;
    gathering g = {.circuit = circuit, .plan = plan, .seen = &seen, .good = true};
    int status = EXIT_DONE;
    if (circuit == NULL || (o.observed != NULL && !observed_load(&seen, o.observed, circuit, report)))
        status = print_unreadable(report);
    else if (!gather(&o, &g))
        status = EXIT_USAGE;
    else if (seen.count == 0)
        status = EXIT_USAGE;
    else
        do
            status = explain_once(&o, circuit, &seen, &next, &more, report);
        while (o.ask && more && ask_on(&seen, circuit, &next));
    observed_free(&seen);
    tl_circuit_free(circuit);
    tl_plan_free(plan);
    tl_report_free(report);
    return status;
}

const verb verb_explain = {"explain", "Find the likely causes of what was seen on a real board.",
                           run_explain};
