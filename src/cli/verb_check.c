/* SPDX-License-Identifier: MIT */
/* tinyladder check PLAN: everything wrong or doubtful, worst first. */
#include "base/memory.h"
#include "cli/check_tables.h"
#include "cli/check_vary.h"
#include "cli/cli.h"
#include "cli/demo_data.h"
#include "cli/mend_kinds.h"
#include "elaborate/circuit_struct.h"
#include "printing/changes.h"
#include "tinyladder/design/proposals.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>
#include <sys/wait.h>
#include <unistd.h>

typedef struct {
    const char *plan, *about, *vary;
    bool json, brief, fix, dry, strict;
} check_options;

enum { KEY_DRY_RUN = 400 };

static const struct argp_option check_argp_options[] = {
    {"brief", 'b', NULL, 0, "print one line per finding, in compiler format for editors", 0},
    {"about", 'a', "SLUG", 0,
     "explain a finding: what it means, why it matters, how to fix it; 'all' lists them", 0},
    {"fix", 'f', NULL, 0, "write all proven fixes to the plan's files, print the changes and check again", 0},
    {"mend", 'm', NULL, OPTION_ALIAS | OPTION_HIDDEN, NULL, 0},
    {"dry-run", KEY_DRY_RUN, NULL, 0, "print what --fix would change; write nothing", 0},
    {"vary", 'v', "PATH=VALUES", 0, "compare values of the plan: house-battery.divider.lower=8k2,10k,12k", 0},
    {"strict", 's', NULL, 0, "set the exit status for warnings, too", 0},
    {"json", 'j', NULL, 0, "print one JSON object", 0},
    {0},
};

static error_t parse_check(int key, char *text, struct argp_state *state)
{
    check_options *o = state->input;
    switch (key) {
    case 'j':
        o->json = true;
        break;
    case 'b':
        o->brief = true;
        break;
    case 'f':
    case 'm':
        o->fix = true;
        break;
    case KEY_DRY_RUN:
        o->dry = true;
        break;
    case 's':
        o->strict = true;
        break;
    case 'v':
        o->vary = text;
        break;
    case 'a':
        o->about = text;
        break;
    case ARGP_KEY_ARG:
        option_file(state, "plan", &o->plan, text);
        break;
    case ARGP_KEY_END:
        if (o->plan == NULL && o->about == NULL)
            argp_error(state, "which plan?");
        if (o->json && o->brief)
            argp_error(state, "either --json or --brief, not both");
        if (o->vary != NULL && (o->brief || o->fix || o->dry))
            argp_error(state, "--vary only shows: without --brief, --fix and --dry-run");
        if (o->dry && (o->json || o->brief))
            argp_error(state, "--dry-run prints a diff: without --json and --brief");
        break;
    default:
        return ARGP_ERR_UNKNOWN;
    }
    return 0;
}

/* --- in a line each --- */

/* file:line:col: severity: text [slug], also of what cannot be read */
static void print_brief(const checked *c)
{
    const tl_report *report = c->report;
    for (int i = 0; i < tl_report_count(report); i++) {
        const tl_finding *f = tl_report_finding(report, i);
        if (f->place.line > 0)
            printf("%s:%d:%d: ", tl_report_path(report, f->place), f->place.line, f->place.column);
        else
            printf("tinyladder: "); /* the file that was named is not there */
        printf("%s: %s%s%s%s%s [%s]\n", tl_severity_name(f->severity), f->cause,
               f->also != NULL ? "; also " : "", f->also != NULL ? f->also : "",
               f->figure != NULL ? ": " : "", f->figure != NULL ? f->figure : "", f->slug);
    }
}

static int say_unreadable(const check_options *o, const checked *c)
{
    if (!o->brief)
        return print_unreadable(c->report);
    tl_report_sort(c->report);
    print_brief(c);
    return EXIT_UNREADABLE;
}

/* --- fixes --- */

static int fix_file(const check_options *o)
{
    FILE *const to = o->json || o->brief ? stderr : stdout;
    changes fixed = {0};
    char *text = NULL;
    size_t size = 0;
    FILE *told = tl_text_begin(&text, &size);
    checked lost;
    int status = EXIT_DONE;
    if (!find_fixes(o->plan, &fixed, told, &lost)) {
        status = say_unreadable(o, &lost);
        close_checked(&lost);
    }
    tl_text_end(told, &text);
    if (status == EXIT_DONE)
        status = changes_make(&fixed, o->dry, text, to);
    if (status == EXIT_DONE && fixed.count == 0)
        fputs("tinyladder: no finding has a fix that is shown to work\n", stderr);
    else if (status == EXIT_DONE && !o->dry)
        fputc('\n', to);
    free(text);
    changes_end(&fixed);
    return status;
}

/* --- in words --- */

static void print_findings(const checked *c)
{
    tl_circuit *circuit = c->circuit;
    const tl_report *report = c->report;
    for (int i = 0; i < tl_report_count(report); i++) {
        print_finding(stdout, report, tl_report_finding(report, i), &c->edits[i]);
        putchar('\n');
    }
    const int errors = tl_report_at_least(report, TL_ERROR);
    const int warnings = tl_report_at_least(report, TL_WARNING) - errors,
              notes = tl_report_count(report) - errors - warnings;
    printf("%s: %d signal%s checked on %s: %d error%s, %d warning%s, %d note%s.\n",
           tl_circuit_plan(circuit)->title, tl_circuit_plan(circuit)->signal_count,
           tl_circuit_plan(circuit)->signal_count == 1 ? "" : "s", tl_circuit_plan(circuit)->board->title,
           errors, errors == 1 ? "" : "s", warnings, warnings == 1 ? "" : "s", notes, notes == 1 ? "" : "s");
    print_worst_cases(circuit);
}

/* A paragraph, broken at words. */
static void print_wrapped(const char *text)
{
    enum { WIDTH = 96 };
    int column = 0;
    for (const char *at = text; *at != '\0';) {
        const size_t length = strcspn(at, " ");
        if (column > 0 && (size_t)column + 1 + length > WIDTH) {
            putchar('\n');
            column = 0;
        }
        column += printf("%s%.*s", column > 0 ? " " : "  ", (int)length, at);
        at += length + strspn(at + length, " ");
    }
    putchar('\n');
}

static const char *const severities[] = {[TL_NOTE] = "note", [TL_WARNING] = "warning", [TL_ERROR] = "error"};

/* The first sentence of what a rule means. */
static void print_line(FILE *to, const tl_rule *rule)
{
    const char *end = strstr(rule->meaning, ". ");
    const int length = end != NULL ? (int)(end - rule->meaning) : (int)strcspn(rule->meaning, ".");
    fprintf(to, "  %-18s %-8s %.*s\n", rule->slug, severities[rule->grave], length, rule->meaning);
}

/* "Compares: voltage, current." */
static void print_asked(unsigned asks)
{
    static const char *const names[] = {
        [TL_DIM_OHM] = "resistance",      [TL_DIM_VOLT] = "voltage",
        [TL_DIM_AMPERE] = "current",      [TL_DIM_FARAD] = "capacitance",
        [TL_DIM_SECOND] = "time",         [TL_DIM_PERCENT] = "percentage",
        [TL_DIM_COUNT] = "counts",        [TL_DIM_WATT] = "power",
        [TL_DIM_HERTZ] = "frequency",     [TL_DIM_HENRY] = "inductance",
        [TL_DIM_CELSIUS] = "temperature", [TL_DIM_KELVIN] = "temperature difference",
        [TL_DIM_DRIFT] = "drift",         [TL_DIM_NUMBER] = "figures of a reading, or numbers of parts"};
    const char *before = "\n  Compares: ";
    for (int i = 0; i <= TL_DIM_NUMBER; i++) {
        if ((asks >> i & 1u) == 0)
            continue;
        printf("%s%s", before, names[i]);
        before = ", ";
    }
    if (asks != 0)
        printf(".\n");
}

/* A plan of the demo data that has this finding, as a drawing: where the data and what draws are there. */
static void print_example(const char *slug)
{
    char folder[PATH_MAX], plan[PATH_MAX + 100], program[600];
    int status;
    if (!demo_data_find(NULL, folder) || !helper_program("tinyladder-sheet", program))
        return;
    snprintf(plan, sizeof plan, "%s/faulty/%s.plan.yaml", folder, slug);
    if (access(plan, R_OK) != 0)
        return;
    printf("\nExample, %s:\n\n", plan);
    fflush(stdout);
    char *const words[] = {program, plan, "-", "txt", "circuits", "inside", NULL};
    const pid_t child = fork();
    if (child == 0) {
        (void)execv(program, words);
        _exit(EXIT_UNREADABLE);
    }
    if (child > 0)
        (void)waitpid(child, &status, 0);
}

static int print_about(const char *slug)
{
    static const char *const scopes[] = {"of a signal",  "of a bus",    "of a multiplexer",
                                         "of an output", "of the plan", "of a file"};
    int count;
    const tl_rule *rules = tl_plan_rules(&count), *rule = tl_plan_rule(slug);
    if (rule != NULL) {
        printf("%s%s%s  (%s%s%s, %s)\n\n", ink_on(stdout, INK_STRONG), rule->slug, ink_off(stdout),
               severities[rule->severity], rule->grave != rule->severity ? " or " : "",
               rule->grave != rule->severity ? severities[rule->grave] : "", scopes[rule->scope]);
        print_wrapped(rule->meaning);
        print_asked(rule->asks);
        if (rule->formula != NULL)
            printf("\n  %s\n", rule->formula);
        printf("\n");
        print_wrapped(rule->fix);
        print_example(rule->slug);
        return EXIT_DONE;
    }
    const bool all = strcmp(slug, "all") == 0;
    if (!all)
        fprintf(stderr, "tinyladder: --about: there is no finding '%.40s'; there are:\n", slug);
    for (int i = 0; i < count; i++)
        print_line(all ? stdout : stderr, &rules[i]);
    rules = tl_file_rules(&count);
    for (int i = 0; i < count; i++)
        print_line(all ? stdout : stderr, &rules[i]);
    return all ? EXIT_DONE : EXIT_USAGE;
}

static json_t *text_or_null(const char *text)
{
    return text != NULL ? json_string(text) : json_null();
}

/* All pulls of a line together. */
static json_t *pulls_object(const tl_plan *plan, const tl_signal *line)
{
    const tl_quantity ohms = tl_plan_pulls(plan, line);
    return isnan(ohms.nominal) ? json_null()
                               : json_pack("{s:o,s:o,s:o}", "low_ohms", json_number(ohms.low), "nominal_ohms",
                                           json_number(ohms.nominal), "high_ohms", json_number(ohms.high));
}

static json_t *bus_object(const tl_plan *plan, const tl_bus *bus)
{
    return json_pack("{s:s,s:o}", "bus", bus->name, "pulls",
                     pulls_object(plan, &plan->signals[bus->first_line]));
}

static json_t *worst_object(tl_circuit *circuit, int signal)
{
    const tl_signal *s = &tl_circuit_plan(circuit)->signals[signal];
    const tl_pin *pin = &tl_circuit_plan(circuit)->pins[s->pin];
    const tl_worst_case *worst = tl_circuit_worst_case(circuit, signal, 0);
    const bool solved = worst->fault == TL_NET_SOLVED;
    json_t *o =
        json_pack("{s:s,s:s,s:o,s:o,s:b}", "signal", s->name, "pin", pin->name, "low_v",
                  json_number(solved ? worst->volts.low : NAN), "high_v",
                  json_number(solved ? worst->volts.high : NAN), "attained", solved && !worst->volts.outer);
    if (!s->analog) {
        const tl_worst_case *active = tl_circuit_worst_case(circuit, signal, 1);
        const bool known = active->fault == TL_NET_SOLVED;
        double least, most;
        tl_net_param_span(tl_circuit_net(circuit), tl_circuit_supply_param(circuit, pin->limits.supply),
                          &least, &most);
        json_object_update_new(o, json_pack("{s:o,s:o,s:o,s:o,s:o}", "active_low_v",
                                            json_number(known ? active->volts.low : NAN), "active_high_v",
                                            json_number(known ? active->volts.high : NAN), "vil_v",
                                            json_number(tl_level_volts(pin->limits.vil, least)), "vih_v",
                                            json_number(tl_level_volts(pin->limits.vih, most)), "pulls",
                                            pulls_object(tl_circuit_plan(circuit), s)));
    }
    const tl_analog_path *path = s->analog && pin->channel >= 0 ? tl_circuit_path(circuit, signal) : NULL;
    if (path != NULL && path->fault == TL_NET_SOLVED)
        json_object_update_new(
            o, json_pack("{s:o,s:o,s:o,s:o,s:o,s:o}", "source_ohms", json_number(path->source_ohms),
                         "acquisition_s", json_number(path->acquisition), "acquisition_needed_s",
                         json_number(tl_circuit_acquisition_needed(circuit, signal)), "settling_counts",
                         json_number(path->settling_counts), "noise_counts",
                         json_number(tl_reading_noise(
                             &s->reading, tl_plan_converter_of(tl_circuit_plan(circuit), s)->part->noise)),
                         "step_samples", json_number(tl_reading_samples(&s->reading, 0.01))));
    return o;
}

static json_t *output_object(tl_circuit *circuit, const tl_plan_output *output)
{
    return json_pack("{s:s,s:i,s:o,s:b,s:o}", "output", output->name, "pins", output->pin_count, "each_a",
                     json_number(tl_circuit_pin_amperes(circuit, output)), "always_on",
                     output->pin_count == 0, "load_a",
                     json_number(tl_circuit_load_amperes(circuit, output).high));
}

/* Old text and new, where the plan's file would change. */
static json_t *edit_object(const checked *c, const tl_edit *edit)
{
    if (edit->text == NULL)
        return json_null();
    size_t size;
    const char *text = tl_report_file_text(c->report, edit->file, &size);
    json_t *old = json_stringn(text + edit->begin, edit->end - edit->begin);
    return json_pack("{s:s,s:I,s:I,s:o,s:s}", "file", tl_report_file_path(c->report, edit->file), "begin",
                     (json_int_t)edit->begin, "end", (json_int_t)edit->end, "old", old, "new", edit->text);
}

static json_t *finding_object(const checked *c, int i)
{
    static const char *const units[] = {
        [TL_DIM_OHM] = "ohm",   [TL_DIM_VOLT] = "V",    [TL_DIM_AMPERE] = "A",     [TL_DIM_FARAD] = "F",
        [TL_DIM_SECOND] = "s",  [TL_DIM_PERCENT] = "%", [TL_DIM_COUNT] = "counts", [TL_DIM_WATT] = "W",
        [TL_DIM_HERTZ] = "Hz",  [TL_DIM_HENRY] = "H",   [TL_DIM_CELSIUS] = "degC", [TL_DIM_KELVIN] = "K",
        [TL_DIM_DRIFT] = "1/K", [TL_DIM_NUMBER] = "",
    };
    const tl_finding *f = tl_report_finding(c->report, i);
    const bool proven = c->edits[i].text != NULL;
    return json_pack("{s:s,s:s,s:s,s:i,s:i,s:o,s:o,s:s,s:o,s:o,s:o,s:s,s:o,s:o,s:b,s:o}", "severity",
                     tl_severity_name(f->severity), "slug", f->slug, "file",
                     tl_report_path(c->report, f->place), "line", f->place.line, "column", f->place.column,
                     "signal", f->subject >= 0 ? json_string(c->plan->signals[f->subject].name) : json_null(),
                     "also", text_or_null(f->also), "cause", f->cause, "figure", text_or_null(f->figure),
                     "value", json_number(f->figures.value), "limit", json_number(f->figures.limit), "unit",
                     units[f->figures.dimension], "corner", text_or_null(f->corner), "fix",
                     text_or_null(fix_of(f, &c->edits[i])), "fix_is_proven", proven, "edit",
                     edit_object(c, &c->edits[i]));
}

static void print_json(const checked *c)
{
    tl_circuit *circuit = c->circuit;
    const tl_report *report = c->report;
    json_t *list = json_array();
    for (int i = 0; i < tl_report_count(report); i++) {
        json_array_append_new(list, finding_object(c, i));
    }
    const tl_plan *plan = tl_circuit_plan(circuit);
    json_t *worst = json_array(), *outputs = json_array(), *buses = json_array();
    for (int i = 0; i < plan->bus_count; i++)
        json_array_append_new(buses, bus_object(plan, &plan->buses[i]));
    for (int i = 0; i < tl_circuit_plan(circuit)->signal_count; i++)
        json_array_append_new(worst, worst_object(circuit, i));
    for (int i = 0; i < tl_circuit_plan(circuit)->output_count; i++)
        json_array_append_new(outputs, output_object(circuit, &tl_circuit_plan(circuit)->outputs[i]));
    const int errors = tl_report_at_least(report, TL_ERROR),
              warnings = tl_report_at_least(report, TL_WARNING) - errors;
    json_print(json_pack("{s:s,s:i,s:i,s:i,s:i,s:o,s:o,s:o,s:o}", "plan", plan->path, "signals",
                         tl_circuit_plan(circuit)->signal_count, "errors", errors, "warnings", warnings,
                         "notes", tl_report_count(report) - errors - warnings, "findings", list,
                         "worst_cases", worst, "outputs", outputs, "buses", buses));
}

static int run_check(int argc, char **argv)
{
    static const struct argp argp = {
        check_argp_options,
        parse_check,
        "PLAN",
        "Find errors and risks in a plan, worst first: where, why, the figure with its limit, and a fix.",
        NULL,
        NULL,
        NULL};
    check_options o = {0};
    int status = EXIT_DONE;
    options_parse(&argp, argc, argv, &o);
    if (o.about != NULL)
        return print_about(o.about);
    const changes none = {0};
    if (o.fix || o.dry)
        status = fix_file(&o);
    if (status != EXIT_DONE || o.dry)
        return status;
    checked c;
    if (!(o.vary != NULL ? check_only : check_file)(&c, o.plan, &none)) {
        status = say_unreadable(&o, &c);
    } else if (o.vary != NULL) {
        status = check_vary(c.plan, c.circuit, c.report, o.vary, o.json);
    } else {
        (o.json ? print_json : o.brief ? print_brief : print_findings)(&c);
        status = tl_report_at_least(c.report, o.strict ? TL_WARNING : TL_ERROR) > 0 ? EXIT_FOUND : EXIT_DONE;
    }
    close_checked(&c);
    return status;
}

const verb verb_check = {"check", "Find errors in a plan, with the worst case and a fix.", run_check};
