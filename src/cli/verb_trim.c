/* SPDX-License-Identifier: MIT */
/* tinyladder trim: a meter against the converter, corrections, and whether the parts explain what is seen. */
#define _GNU_SOURCE
#include "cli/cli.h"
#include "printing/changes.h"
#include "reading/trim.h"
#include "tinyladder/design/calibration.h"
#include "tinyladder/design/edit.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum {
    KEY_LIVE = 1000,
    KEY_OF,
    KEY_WRITE,
    KEY_DRY_RUN,
    KEY_CURVE,
    KEY_TABLE,
    KEY_PAIRS,
    KEY_METER,
    KEY_AGAINST,
    KEY_COUNTS,
    KEY_LEAVE_OUT
};

static const struct argp_option trim_argp_options[] = {
    {"pairs", KEY_PAIRS, "FILE", 0,
     "CSV file of pairs: count and voltage; with --curve: quantity and resistance", 0},
    {"live", KEY_LIVE, "TIMES", 0,
     "take pairs on the bench at these times of the scene, such as 0s,10min,30min", 0},
    {"scene", 's', "FILE", 0, "scene file: what happens on the bench", 0},
    {"counts", KEY_COUNTS, "SOURCE", 0,
     "take pairs from your board: type each meter reading; the counts come from DEVICE@SPEED, unix:PATH, "
     "tcp:HOST:PORT or mqtt://HOST/TOPIC",
     0},
    {"of", KEY_OF, "source|pin", 0, "position of the meter: source or pin (default: source)", 0},
    {"meter", KEY_METER, "NAME", 0, "meter in the plan (default: the first)", 0},
    {"table", KEY_TABLE, NULL, 0, "make a table through all pairs instead of a straight line", 0},
    {"against", KEY_AGAINST, "OTHER", 0,
     "compare two signals of one source with the meter; pairs such as 2764/1802=12.71V", 0},
    {"curve", KEY_CURVE, "beta|steinhart|table", 0, "fit a sensor curve to pairs such as 25degC=10.1k", 0},
    {"leave-out", KEY_LEAVE_OUT, "COUNTS", 0, "leave out the pairs with these counts", 0},
    {"write", KEY_WRITE, NULL, 0, "write the trim to the plan file and print the change", 0},
    {"dry-run", KEY_DRY_RUN, NULL, 0, "print what --write would change; write nothing", 0},
    {"json", 'j', NULL, 0, "print one JSON object", 0},
    {0},
};

/* What is no option, and whether all of it makes sense together. */
static error_t parse_rest(int key, char *text, struct argp_state *state)
{
    trim_options *o = state->input;
    switch (key) {
    case ARGP_KEY_ARG:
        if (o->plan == NULL)
            o->plan = text;
        else if (o->name == NULL)
            o->name = text;
        else if (o->word_count < TL_TRIM_PAIRS_MOST)
            o->words[o->word_count++] = text;
        else
            argp_error(state, "%d pairs at most", TL_TRIM_PAIRS_MOST);
        break;
    case ARGP_KEY_END:
        if (o->plan == NULL || o->name == NULL)
            argp_error(state, "expected PLAN and SIGNAL");
        if ((o->word_count > 0) + (o->pairs != NULL) + (o->live != NULL) + (o->counts != NULL) != 1)
            argp_error(
                state,
                "give pairs in one way: as words such as 2764=12.71V, with --pairs, --live or --counts");
        if (o->counts != NULL && (strcmp(o->counts, "-") == 0 || o->against != NULL || o->law != NULL))
            argp_error(
                state,
                "--counts: standard input is for the meter, and --against and --curve have pairs of their "
                "own");
        if (o->against != NULL && (o->write || o->dry || o->law != NULL || o->pairs != NULL))
            argp_error(state, "--against takes its pairs as words or by --live, and only compares");
        if (o->law != NULL && (o->write || o->dry || o->live != NULL))
            argp_error(state, "--curve takes its pairs from words or --pairs, and prints what to write");
        if (o->dry && o->json)
            argp_error(state, "--dry-run prints a diff: without --json");
        break;
    default:
        return ARGP_ERR_UNKNOWN;
    }
    return 0;
}

static error_t parse_trim(int key, char *text, struct argp_state *state)
{
    trim_options *o = state->input;
    switch (key) {
    case KEY_PAIRS:
        o->pairs = text;
        break;
    case KEY_LIVE:
        o->live = text;
        break;
    case 's':
        o->scene = text;
        break;
    case KEY_COUNTS:
        o->counts = text;
        break;
    case KEY_OF:
        if (strcmp(text, "source") != 0 && strcmp(text, "pin") != 0)
            argp_error(state, "--of: source or pin");
        o->at_pin = strcmp(text, "pin") == 0;
        break;
    case KEY_METER:
        o->meter = text;
        break;
    case KEY_TABLE:
        o->table = true;
        break;
    case KEY_CURVE:
        if (strcmp(text, "beta") != 0 && strcmp(text, "steinhart") != 0 && strcmp(text, "table") != 0)
            argp_error(state, "--curve: beta, steinhart or table");
        o->law = text;
        break;
    case KEY_AGAINST:
        o->against = text;
        break;
    case KEY_WRITE:
        o->write = true;
        break;
    case KEY_DRY_RUN:
        o->dry = true;
        break;
    case KEY_LEAVE_OUT:
        o->leave_out = text;
        break;
    case 'j':
        o->json = true;
        break;
    default:
        return parse_rest(key, text, state);
    }
    return 0;
}

/* --- voltage --- */

static int compare_pairs(const void *a, const void *b)
{
    const tl_trim_pair *x = a, *y = b;
    return x->count < y->count ? -1 : x->count > y->count;
}

/* Another signal that stands in the same reading, of a range of names; NULL. */
static const char *shares_reading(const tl_plan *plan, int signal)
{
    const tl_place place = plan->signals[signal].reading.place;
    for (int i = 0; i < plan->signal_count; i++) {
        const tl_place other = plan->signals[i].reading.place;
        if (i != signal && other.line == place.line && other.column == place.column &&
            other.file == place.file)
            return plan->signals[i].name;
    }
    return NULL;
}

/* Whether the changed plan is one, and says of the signal just what was found. */
static bool has_trim(const tl_plan *changed, const trimming *t)
{
    const tl_plan_reading *reading = changed != NULL ? &changed->signals[t->signal].reading : NULL;
    bool same = reading != NULL && changed->signal_count == tl_circuit_plan(t->circuit)->signal_count &&
                reading->trim_count >= 2 && reading->trim_at_pin == t->o->at_pin;
    for (int i = 0; same && i < reading->trim_count; i++) {
        bool known = false;
        for (int k = 0; k < t->count; k++)
            known =
                known || fabs(reading->trim[i].from - t->pairs[k].count) <= 1e-6 * fmax(1, t->pairs[k].count);
        same = known;
    }
    return same;
}

/* Into the file that the reading stands in: first tried as if it stood there, then written. */
static int write_plan(const trimming *t, const tl_report *report, const char *value)
{
    const tl_plan *plan = tl_circuit_plan(t->circuit);
    const tl_signal *s = &plan->signals[t->signal];
    const char *name = s->name;
    tl_edit edit;
    size_t size = 0;
    if (s->reading.given && shares_reading(plan, t->signal) != NULL) {
        fprintf(stderr, "tinyladder: --write: this reading stands for %s too: give %s one of its own\n",
                shares_reading(plan, t->signal), name);
        return EXIT_FOUND;
    }
    if (!s->reading.given || !tl_edit_key(report, s->reading.place, "trim", value, &edit)) {
        fprintf(
            stderr,
            "tinyladder: --write: %s has no 'reading: {...}' to put it into; write the line above there\n",
            name);
        return EXIT_FOUND;
    }
    int status = EXIT_DONE;
    char *text = tl_edit_apply(report, &edit, 1, &size);
    tl_report *again = new_report();
    FILE *const to = t->o->json ? stderr : stdout;
    changes trimmed = {0};
    changes_put(&trimmed, report, edit.file, text, size);
    changes_hold(&trimmed, again);
    tl_plan *changed = tl_plan_load(plan->path, again);
    if (!has_trim(changed, t)) {
        fprintf(stderr, "tinyladder: --write: could not add the trim; the plan file is unchanged\n");
        status = EXIT_FOUND;
    } else {
        status = changes_make(&trimmed, t->o->dry, "\nThe trim is in the plan now:", to);
    }
    changes_end(&trimmed);
    tl_plan_free(changed);
    tl_report_free(again);
    tl_edit_free(&edit);
    free(text);
    return status;
}

static int refuse(const trimming *t, tl_trim_fault fault)
{
    const tl_trim_pair *pair = &t->pairs[t->line.which >= 0 ? t->line.which : 0];
    switch (fault) {
    case TL_TRIM_TOO_FEW:
        fprintf(stderr, "tinyladder: expected at least two pairs\n");
        break;
    case TL_TRIM_EQUAL:
        fprintf(stderr, "tinyladder: %g counts stand there twice\n", pair->count);
        break;
    default:
        fprintf(stderr,
                "tinyladder: %s has no volts to compare; a sensor's own curve is --curve, the pin's volts "
                "--of pin\n",
                tl_circuit_plan(t->circuit)->signals[t->signal].name);
    }
    return EXIT_FOUND;
}

/* The one that is named, or the plan's first; NULL where it has none. */
static bool choose_meter(const trim_options *o, const tl_plan *plan, const tl_meter **meter)
{
    for (int i = 0; i < plan->meter_count; i++) {
        if (o->meter == NULL ? i == 0 : strcmp(o->meter, plan->meters[i].name) == 0)
            *meter = &plan->meters[i];
    }
    if (o->meter == NULL || *meter != NULL)
        return true;
    fprintf(stderr, "tinyladder: --meter: the plan has no meter '%.60s'\n", o->meter);
    return false;
}

/* Pairs whose counts are named are no pairs of it; false, said, where there is none such. */
static bool leave_out(const trim_options *o, trimming *t)
{
    for (const char *at = o->leave_out != NULL ? o->leave_out : ""; *at != '\0';) {
        char *end = NULL;
        const double count = strtod(at, &end);
        int kept = 0;
        for (int i = 0; i < t->count; i++) {
            if (t->pairs[i].count != count)
                t->pairs[kept++] = t->pairs[i];
        }
        if (end == at || kept == t->count || (*end != ',' && *end != '\0')) {
            fprintf(stderr, "tinyladder: --leave-out: there is no pair with the count '%.30s'\n", at);
            return false;
        }
        t->count = kept;
        at = *end == ',' ? end + 1 : end;
    }
    return true;
}

/* What of the line is significant: a gain that is within what it is unsure by is none, an offset within what
 * the meter may be off neither. */
static void keep_significant(trimming *t)
{
    double limit = 0;
    const tl_meter *meter = t->known_values ? NULL : t->meter;
    tl_trim_gain_unsure(&t->pairs[0], &t->pairs[t->count - 1], meter, &t->gain_by_digits, &t->gain_unsure);
    t->offset_alone = !t->o->table && t->wild < 0 && fabs(t->line.gain - 1) <= t->gain_unsure;
    if (!t->offset_alone)
        return;
    tl_trim_offset_alone(t->circuit, t->signal, t->o->at_pin, t->pairs, t->count, &t->line);
    for (int i = 0; i < t->count; i++)
        limit = fmax(limit, tl_meter_limit(meter, t->pairs[i].volts));
    t->nothing_to_trim = t->verdict.explained && fabs(t->line.offset) <= limit;
}

static int trim_volts(const trim_options *o, tl_circuit *circuit, int signal, tl_report *report)
{
    trimming t = {.o = o, .circuit = circuit, .signal = signal, .wild = -1};
    pair_list list = {.count = 0};
    char value[2000];
    double worst = -1;
    if (!choose_meter(o, tl_circuit_plan(circuit), &t.meter))
        return EXIT_USAGE;
    int status = EXIT_USAGE;
    if (o->counts != NULL && !trim_take_counts(o, circuit, signal, &list, &status))
        return status;
    if (o->counts == NULL &&
        !(o->live != NULL ? trim_take_live(o, circuit, signal, t.meter, &list, report)
                          : trim_read_pairs(o, &tl_circuit_plan(circuit)->signals[signal], &list)))
        return o->pairs != NULL || o->live != NULL ? EXIT_UNREADABLE : EXIT_USAGE;
    t.count = list.count;
    t.known_values = list.known_values;
    for (int i = 0; i < t.count; i++)
        t.pairs[i] = (tl_trim_pair){list.left[i], list.right[i]};
    if (!leave_out(o, &t))
        return EXIT_USAGE;
    qsort(t.pairs, (size_t)t.count, sizeof *t.pairs, compare_pairs);
    const tl_trim_fault fault = tl_trim_fit(circuit, signal, o->at_pin, t.pairs, t.count, &t.line);
    if (fault != TL_TRIM_GOOD && fault != TL_TRIM_WILD)
        return refuse(&t, fault);
    t.wild = t.line.which;
    for (int i = 0; i < t.count; i++) {
        tl_trim_verdict v;
        if (i != t.wild && tl_trim_judge(circuit, signal, o->at_pin, &t.pairs[i], t.meter, &v) &&
            fabs(v.deviation) / fmax(v.expanded, 1e-12) > worst) {
            worst = fabs(v.deviation) / fmax(v.expanded, 1e-12);
            t.verdict = v;
        }
    }
    keep_significant(&t);
    trim_write_value(&t, value, sizeof value);
    if (!o->dry)
        (o->json ? trim_print_json : trim_print)(&t, value);
    const char *unfit = t.wild >= 0            ? "a pair is wild"
                        : t.nothing_to_trim    ? "there is nothing to trim"
                        : !t.verdict.explained ? "more is off than the parts explain"
                                               : NULL;
    if ((o->write || o->dry) && unfit != NULL) {
        fprintf(stderr, "tinyladder: --write: %s; the plan is as it was\n", unfit);
        return t.nothing_to_trim ? EXIT_DONE : EXIT_FOUND;
    }
    if (t.wild >= 0)
        return EXIT_FOUND;
    status = o->write || o->dry ? write_plan(&t, report, value) : EXIT_DONE;
    return status != EXIT_DONE ? status : t.verdict.explained ? EXIT_DONE : EXIT_FOUND;
}

/* --- two side by side --- */

typedef struct {
    double counts[2][TL_TRIM_PAIRS_MOST], volts[TL_TRIM_PAIRS_MOST];
    int count;
} both_counts;

/* `2764/1802=12.71V` */
static bool split_both(const trim_options *o, const tl_signal *signal, both_counts *both)
{
    for (int i = 0; i < o->word_count; i++) {
        char copy[160], *save = NULL, *end[2] = {NULL, NULL};
        snprintf(copy, sizeof copy, "%s", o->words[i]);
        const char *a = strtok_r(copy, "/", &save), *b = strtok_r(NULL, "=", &save),
                   *c = strtok_r(NULL, "", &save);
        if (a != NULL && b != NULL && c != NULL) {
            both->counts[0][i] = strtod(a, &end[0]);
            both->counts[1][i] = strtod(b, &end[1]);
        }
        if (end[0] == NULL || *end[0] != '\0' || *end[1] != '\0') {
            fprintf(stderr,
                    "tinyladder: a pair is written COUNT/COUNT=VOLTS, of two signals with volts: '%.60s'\n",
                    o->words[i]);
            return false;
        }
        if (!trim_read_volts(signal, c, &both->volts[i], o->words[i]))
            return false;
        both->count++;
    }
    return true;
}

/* Both at the same moments of the bench, the meter at what the first is of. */
static bool take_both(const trim_options *o, tl_circuit *circuit, const int signals[2], const tl_meter *meter,
                      tl_report *report, both_counts *both)
{
    pair_list first = {.count = 0}, second = {.count = 0};
    if (!trim_take_live(o, circuit, signals[0], meter, &first, report) ||
        !trim_take_live(o, circuit, signals[1], meter, &second, report))
        return false;
    both->count = first.count;
    memcpy(both->counts[0], first.left, sizeof first.left);
    memcpy(both->counts[1], second.left, sizeof second.left);
    memcpy(both->volts, first.right, sizeof first.right);
    return true;
}

/* What each says of each pair, and how far it is off. */
static int print_both(const trim_options *o, tl_circuit *circuit, const int signals[2],
                      const both_counts *both)
{
    double worst[2] = {0, 0}, squares[2] = {0, 0};
    const char *const names[2] = {o->name, o->against};
    table rows;
    json_t *pairs = json_array();
    table_begin(&rows, 5, ">>>>>");
    table_heads(&rows, "meter", names[0], "off by", names[1], "off by");
    for (int i = 0; i < both->count; i++) {
        json_t *pair = json_pack("{s:f}", "meter_v", both->volts[i]);
        table_cell(&rows, "%.6g V", both->volts[i]);
        for (int k = 0; k < 2; k++) {
            double plain = NAN;
            if (!tl_trim_plain(circuit, signals[k], both->counts[k][i], o->at_pin, &plain)) {
                fprintf(stderr, "tinyladder: %s has no volts to compare\n", names[k]);
                table_drop(&rows);
                return EXIT_USAGE;
            }
            const double off = both->volts[i] - plain;
            table_cell(&rows, "%.6g V", plain);
            table_cell(&rows, "%+.3g V", off);
            json_object_set_new(pair, k == 0 ? "count" : "other_count", json_real(both->counts[k][i]));
            json_object_set_new(pair, k == 0 ? "off_v" : "other_off_v", json_real(off));
            worst[k] = fmax(worst[k], fabs(off));
            squares[k] += off * off;
        }
        json_array_append_new(pairs, pair);
    }
    const double rms[2] = {sqrt(squares[0] / both->count), sqrt(squares[1] / both->count)};
    const int nearer = rms[1] < rms[0];
    if (o->json) {
        table_drop(&rows);
        json_print(json_pack("{s:o,s:s,s:f,s:f,s:f,s:f}", "pairs", pairs, "nearer", names[nearer], "rms_v",
                             rms[nearer], "worst_v", worst[nearer], "other_rms_v", rms[1 - nearer],
                             "other_worst_v", worst[1 - nearer]));
        return EXIT_DONE;
    }
    json_decref(pairs);
    table_end(&rows, stdout, "  ");
    if (fabs(rms[0] - rms[1]) < 1e-9) {
        printf("\nBoth are as near: %.3g V rms (%.3g V at worst).\n", rms[0], worst[0]);
        return EXIT_DONE;
    }
    printf("\n%s is nearer: %.3g V rms (%.3g V at worst) against %.3g V rms (%.3g V).\n", names[nearer],
           rms[nearer], worst[nearer], rms[1 - nearer], worst[1 - nearer]);
    return EXIT_DONE;
}

static int compare_two(const trim_options *o, tl_circuit *circuit, int signal, tl_report *report)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    int other = -1;
    both_counts both = {.count = 0};
    const tl_meter *meter = NULL;
    if (tl_plan_signal(plan, o->against, &other) == NULL) {
        fprintf(stderr, "tinyladder: --against: the plan has no signal '%.60s'\n", o->against);
        return EXIT_USAGE;
    }
    if (!choose_meter(o, plan, &meter))
        return EXIT_USAGE;
    if (!(o->live != NULL ? take_both(o, circuit, (const int[2]){signal, other}, meter, report, &both)
                          : split_both(o, &plan->signals[signal], &both)))
        return o->live != NULL ? EXIT_UNREADABLE : EXIT_USAGE;
    return print_both(o, circuit, (const int[2]){signal, other}, &both);
}

static int run_trim(int argc, char **argv)
{
    static const struct argp argp = {trim_argp_options,
                                     parse_trim,
                                     "PLAN SIGNAL [COUNT=VOLTS...]",
                                     "Compare a voltmeter with the ADC: print offset, gain and the "
                                     "remaining error, and whether the part tolerances explain it.",
                                     NULL,
                                     NULL,
                                     NULL};
    trim_options o = {0};
    int signal = -1, status = EXIT_USAGE;
    options_parse(&argp, argc, argv, &o);
    tl_report *report = new_report();
    tl_plan *plan = tl_plan_load(o.plan, report);
    if (plan == NULL) {
        status = print_unreadable(report);
    } else if (tl_plan_signal(plan, o.name, &signal) == NULL) {
        fprintf(stderr, "tinyladder: the plan has no signal '%.60s'\n", o.name);
    } else if (o.law != NULL) {
        status = trim_fit_curve(&o);
    } else {
        tl_circuit *circuit = tl_circuit_new(plan);
        status = o.against != NULL ? compare_two(&o, circuit, signal, report)
                                   : trim_volts(&o, circuit, signal, report);
        tl_circuit_free(circuit);
    }
    tl_plan_free(plan);
    tl_report_free(report);
    return status;
}

const verb verb_trim = {"trim", "Compare a voltmeter with the ADC and correct the reading.", run_trim};
