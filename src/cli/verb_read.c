/* SPDX-License-Identifier: MIT */
/* tinyladder read PLAN [SIGNAL...]: readings on the simulated bench. */
#include "cli/cli.h"
#include "cli/read_vary.h"
#include "reading/counts.h"
#include "reading/damages.h"
#include "reading/expect.h"
#include "reading/explain_hint.h"
#include "reading/mystery.h"
#include "reading/outputs.h"
#include "reading/playing.h"
#include "reading/read_meter.h"
#include "reading/read_seeds.h"
#include "reading/read_why.h"
#include "reading/reading_tables.h"
#include "reading/readings.h"
#include "reading/taker.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

typedef struct {
    play_options play;
    const char *meter, *expect, *counts, *vary;
    double meter_ohms, within, wait;
    long times, samples;
    long seeds, mystery;
    bool json, csv, strict, ideal, reveal, why;
    char hidden[MYSTERY_LINE]; /* the fault that was drawn; empty for none */
} read_options;

enum {
    KEY_METER = 1000,
    KEY_METER_OHMS,
    KEY_STRICT,
    KEY_EXPECT,
    KEY_WITHIN,
    KEY_CSV,
    KEY_SEEDS,
    KEY_IDEAL,
    KEY_MYSTERY,
    KEY_REVEAL,
    KEY_COUNTS,
    KEY_WAIT,
    KEY_WHY,
    KEY_VARY
};

static const struct argp_option read_argp_options[] = {
    {"times", 'n', "N", 0, "number of readings (default: 1)", 0},
    {"mean", 'm', "N", 0, "average N samples per reading (default: from the plan)", 0},
    {"meter", KEY_METER, "POINT", 0, "point to measure with a voltmeter, such as SIGNAL or SIGNAL.divider",
     0},
    {"meter-resistance", KEY_METER_OHMS, "OHMS", 0,
     "input resistance of the voltmeter (default: from the plan, else 10Mohm)", 0},
    {"meter-ohms", 0, NULL, OPTION_ALIAS | OPTION_HIDDEN, NULL, 0},
    {"expect", KEY_EXPECT, "LENGTHS", 0,
     "wait for this pulse pattern on one digital signal, such as '300ms high, 200ms low'; plan: the "
     "pattern in the plan; FILE.vcd:NAME: that of a recorded line",
     0},
    {"within", KEY_WITHIN, "PERCENT", 0,
     "tolerance of the pattern's lengths (default: from the plan, else 5%)", 0},
    {"seeds", KEY_SEEDS, "N", 0,
     "read on N benches with different real parts; print minimum, mean and maximum", 0},
    {"vary", KEY_VARY, "PATH=VALUES", 0,
     "compare values of the plan: house-battery.divider.lower=8k2,10k,12k", 0},
    {"ideal", KEY_IDEAL, NULL, 0, "use nominal parts and an ADC without errors or noise", 0},
    {"mystery", KEY_MYSTERY, "N", 0, "hide one fault, chosen by seed N: find it with readings and meters", 0},
    {"reveal", KEY_REVEAL, NULL, 0, "with --mystery: name the hidden fault", 0},
    {"counts", KEY_COUNTS, "SOURCE", 0,
     "counts from your board instead of the bench: a file, -, DEVICE@SPEED, unix:PATH, tcp:HOST:PORT or "
     "mqtt://HOST/TOPIC",
     0},
    {"wait", KEY_WAIT, "TIME", 0, "with --counts: time to wait for all signals (default: 10s)", 0},
    {"why", KEY_WHY, NULL, 0, "list the sources of error of each analog reading in counts, largest first", 0},
    {"strict", KEY_STRICT, NULL, 0, "a pin that exceeded its limits stays broken", 0},
    {"json", 'j', NULL, 0, "print one JSON object", 0},
    {"csv", KEY_CSV, NULL, 0, "print CSV, one line per signal and time", 0},
    {0},
};

static error_t parse_read(int key, char *text, struct argp_state *state)
{
    read_options *o = state->input;
    switch (key) {
    case ARGP_KEY_INIT:
        state->child_inputs[0] = &o->play;
        break;
    case 'n':
        o->times = option_number(state, "times", text, 1, 1000000);
        break;
    case 'm':
        o->samples = option_number(state, "mean", text, 1, 10000);
        break;
    case 'j':
        o->json = true;
        break;
    case KEY_METER:
        o->meter = text;
        break;
    case KEY_METER_OHMS:
        o->meter_ohms = option_value(state, "meter-resistance", text, TL_DIM_OHM);
        if (!(o->meter_ohms > 0))
            argp_error(state, "--meter-resistance: expected more than 0 ohm");
        break;
    case KEY_EXPECT:
        o->expect = text;
        break;
    case KEY_WITHIN:
        o->within = option_value(state, "within", text, TL_DIM_PERCENT);
        if (!(o->within >= 0 && o->within <= 50))
            argp_error(state, "--within: expected 0%% to 50%%");
        break;
    case KEY_SEEDS:
        o->seeds = option_number(state, "seeds", text, 2, 100000);
        break;
    case KEY_IDEAL:
        o->ideal = true;
        break;
    case KEY_MYSTERY:
        o->mystery = option_number(state, "mystery", text, 0, 1000000000);
        break;
    case KEY_REVEAL:
        o->reveal = true;
        break;
    case KEY_STRICT:
        o->strict = true;
        break;
    case KEY_CSV:
        o->csv = true;
        break;
    case KEY_COUNTS:
        o->counts = text;
        break;
    case KEY_WHY:
        o->why = true;
        break;
    case KEY_WAIT:
        o->wait = option_value(state, "wait", text, TL_DIM_SECOND);
        if (!(o->wait > 0 && o->wait <= 86400))
            argp_error(state, "--wait: expected up to 24 h");
        break;
    case KEY_VARY:
        o->vary = text;
        break;
    case ARGP_KEY_END:
        if (o->vary != NULL &&
            (o->csv || o->times > 1 || o->seeds > 0 || o->mystery >= 0 || o->meter != NULL ||
             o->expect != NULL || o->why || o->counts != NULL || o->strict))
            argp_error(state,
                       "--vary: one moment of the bench, as a table or with --json; no --csv, --times, "
                       "--seeds, --mystery, --meter, --expect, --why, --counts or --strict beside it");
        if (o->json && o->csv)
            argp_error(state, "--json or --csv, not both");
        if (o->seeds > 0 && (o->csv || o->ideal || o->times > 1 || o->meter != NULL || o->expect != NULL))
            argp_error(state, "--seeds: one moment, as a table or with --json; no --csv, --ideal, --times, "
                              "--meter or --expect beside it");
        if (o->meter != NULL && (o->csv || o->times > 1 || o->expect != NULL))
            argp_error(
                state,
                "--meter: one moment, as a table or with --json; no --csv, --times or --expect beside it");
        if (o->reveal && o->mystery < 0)
            argp_error(state, "--reveal: of which --mystery?");
        if (o->ideal && o->play.seed >= 0)
            argp_error(state, "--ideal or --seed, not both");
        if (o->why && (o->csv || o->times > 1 || o->seeds > 0))
            argp_error(
                state,
                "--why: one moment, as a table or with --json; no --csv, --times or --seeds beside it");
        if (o->counts != NULL && (o->play.scene != NULL || o->play.fault_count > 0 || o->play.at != 0 ||
                                  o->play.seed >= 0 || o->ideal || o->seeds > 0 || o->mystery >= 0 ||
                                  o->meter != NULL || o->expect != NULL || o->strict || o->samples > 0))
            argp_error(state,
                       "--counts: the real board has no --scene, --fault, --at, --seed, --ideal, --seeds, "
                       "--mystery, --meter, "
                       "--expect, --strict or --mean");
        break;
    default:
        return ARGP_ERR_UNKNOWN;
    }
    return 0;
}

/* --- what is read --- */

typedef struct {
    const read_options *o;
    const tl_plan *plan;
    const meter_on *meter; /* NULL for none */
    tl_bench *bench;
    int *signals, count;
    taken *readings;
    taker *taker;   /* of the bench; or */
    counts *counts; /* of the real board */
    outputs outputs;
    json_t *series; /* of more than one time */
} session;

static void print_table(const session *s, double at)
{
    char faults[40] = "";
    if (s->o->play.fault_count > 0)
        snprintf(faults, sizeof faults, " with %d more fault%s", s->o->play.fault_count,
                 s->o->play.fault_count == 1 ? "" : "s");
    if (s->counts != NULL)
        printf("%s, counts from %s. Bounds are guaranteed except for noise.\n", s->plan->title,
               counts_name(s->o->counts));
    else
        printf("%s, %s%s at %s. Bounds are guaranteed except for noise.\n", s->plan->title,
               s->o->play.scene != NULL ? s->o->play.scene : "no scene", faults,
               show(at, TL_DIM_SECOND).text);
    print_readings(tl_bench_circuit(s->bench), s->signals, s->readings, s->count);
    print_advice(s->plan, s->signals, s->readings, s->count, s->counts != NULL);
    outputs_print(&s->outputs, tl_bench_circuit(s->bench));
}

/* Several times: a line a time, a column a signal. */
static void print_line(const session *s, double at, bool head)
{
    char text[80];
    if (head) {
        printf("%10s", "s");
        for (int i = 0; i < s->count; i++)
            printf("  %20.20s", s->plan->signals[s->signals[i]].name);
        putchar('\n');
    }
    printf("%10.3f", at);
    for (int i = 0; i < s->count; i++) {
        taken_value(&s->plan->signals[s->signals[i]], &s->readings[i], text);
        if (s->readings[i].closings > 0) {
            const size_t used = strlen(text);
            snprintf(text + used, sizeof text - used, ", %ldx", s->readings[i].closings);
        }
        printf("  %20s", text);
    }
    putchar('\n');
}

/* Nothing for one that is not known. */
static const char *whole_text(long number, char text[24])
{
    text[0] = '\0';
    if (number >= 0)
        snprintf(text, 24, "%ld", number);
    return text;
}

static const char *volts_text(double volts, char text[24])
{
    text[0] = '\0';
    if (!isnan(volts))
        snprintf(text, 24, "%.9g", volts);
    return text;
}

static void print_csv(const session *s, bool head)
{
    char text[80], quoted[90], unit[40], whole[24], volts[24], low[24], high[24];
    if (head)
        puts("s,signal,count,pin_v,value,unit,percent,low,high,closings,flags");
    for (int i = 0; i < s->count; i++) {
        const tl_signal *signal = &s->plan->signals[s->signals[i]];
        const taken *t = &s->readings[i];
        const tl_value *is = &t->is.is;
        printf("%.6f,%s,", t->is.at, signal->name);
        if (!taken_is_good(t))
            printf(",,,,,,,,");
        else if (taken_has_value(signal, t) && !t->is.analog)
            printf("%d,%s,%.9g,%s,,%s,%s,,", t->is.high, volts_text(t->is.volts, volts), is->value,
                   signal->reading.unit, volts_text(is->within.low, low), volts_text(is->within.high, high));
        else if (taken_has_value(signal, t))
            printf("%ld,%.9g,%.9g,%s,%s,%.9g,%.9g,,", t->is.count, is->pin_volts, is->value,
                   csv_text(signal->reading.unit, unit, sizeof unit), whole_text(is->percent, whole),
                   is->within.low, is->within.high);
        else if (t->is.analog)
            printf("%ld,%.9g,,,,,,,", t->is.count, is->pin_volts);
        else
            printf("%d,%s,%s,,,,,%s,", t->is.high, volts_text(t->is.volts, volts),
                   tl_reading_is_timed(&signal->reading) ? ""
                   : t->is.closed                        ? "1"
                                                         : "0",
                   whole_text(t->closings, whole));
        printf("%s\n", csv_text(taken_flags(signal, t, text), quoted, sizeof quoted));
    }
    outputs_print_csv(&s->outputs, tl_bench_circuit(s->bench));
}

static json_t *readings_array(const session *s)
{
    json_t *list = json_array();
    for (int i = 0; i < s->count; i++)
        json_array_append_new(list, taken_object(s->plan, s->signals[i], &s->readings[i]));
    return list;
}

/* --- one time after the other --- */

static void show_time(session *s, double at, long time)
{
    if (s->o->json && s->o->times > 1)
        json_array_append_new(s->series, json_pack("{s:o,s:o,s:o}", "at_s", json_number(at), "readings",
                                                   readings_array(s), "outputs",
                                                   outputs_array(&s->outputs, tl_bench_circuit(s->bench))));
    else if (s->o->csv)
        print_csv(s, time == 0);
    else if (!s->o->json && s->o->times > 1)
        print_line(s, at, time == 0);
    else if (!s->o->json)
        print_table(s, at);
}

/* What a meter loads has no guaranteed bounds: they are of the plan, which has no meter. */
static void drop_bounds(session *s)
{
    int count;
    int *loaded = meter_signals(s->meter, tl_bench_circuit(s->bench), &count);
    for (int i = 0; i < s->count; i++) {
        for (int k = 0; k < count; k++) {
            if (loaded[k] == s->signals[i])
                s->readings[i].is.is.within = s->readings[i].is.is.pin_within = (tl_interval){NAN, NAN};
        }
    }
    free(loaded);
}

static json_t *faults_array(const play_options *o)
{
    json_t *list = json_array();
    for (int i = 0; i < o->fault_count; i++)
        json_array_append_new(list, json_string(o->faults[i]));
    return list;
}

static int read_times(session *s)
{
    bool good = true;
    s->series = json_array();
    for (long time = 0; time < s->o->times; time++) {
        const double at = s->o->play.at + (double)time * s->o->play.every;
        if (s->counts != NULL)
            counts_take_all(s->counts, s->signals, s->count, s->o->wait, s->readings);
        else
            taker_look(s->taker, s->bench, at, s->readings);
        if (s->meter != NULL)
            drop_bounds(s);
        for (int i = 0; i < s->count; i++)
            good = good && taken_is_good(&s->readings[i]);
        if (s->counts == NULL)
            outputs_show(&s->outputs, s->bench, s->signals, s->count, s->readings);
        show_time(s, at, time);
    }
    if (s->o->json) {
        const char *trouble = tl_bench_trouble(s->bench);
        json_print(
            json_pack("{s:s,s:o,s:o,s:o,s:o,s:o,s:o,s:o,s:o,s:o,s:o,s:o}", "plan", s->plan->path, "counts",
                      s->o->counts != NULL ? json_string(s->o->counts) : json_null(), "scene",
                      s->o->play.scene != NULL ? json_string(s->o->play.scene) : json_null(), "faults",
                      faults_array(&s->o->play), "at_s", json_number(s->o->play.at),
                      s->o->times > 1 ? "series" : "readings",
                      s->o->times > 1 ? json_incref(s->series) : readings_array(s), "outputs",
                      s->o->times > 1 ? json_null() : outputs_array(&s->outputs, tl_bench_circuit(s->bench)),
                      "over_limit", damages_array(s->bench), "trouble",
                      trouble != NULL ? json_string(trouble) : json_null(), "meter",
                      s->meter != NULL ? meter_object(s->meter) : json_null(), "why",
                      s->o->why ? why_array(s->bench, s->signals, s->count, s->readings) : json_null(),
                      "mystery", s->o->reveal ? json_string(s->o->hidden) : json_null()));
    } else if (!s->o->csv) {
        if (s->o->times == 1 && s->counts == NULL && !s->o->why)
            why_hint(s->plan, s->signals, s->count, s->readings);
        if (s->o->why)
            why_print(s->bench, s->signals, s->count, s->readings);
        (void)damages_print(stdout, s->bench);
        if (s->meter != NULL)
            meter_print(s->meter);
        if (s->meter != NULL)
            explain_hint(stdout, s->plan, s->signals, s->readings, s->count,
                         &(hint_meter){s->meter->point, s->meter->seen[1]});
        else
            explain_hint(stdout, s->plan, s->signals, s->readings, s->count, NULL);
    }
    json_decref(s->series);
    if (!good && s->counts != NULL)
        fprintf(stderr, "tinyladder: not every signal came from %s\n", counts_name(s->o->counts));
    else if (!good)
        fprintf(stderr, "tinyladder: not every signal could be read; try 'tinyladder check %s'\n",
                s->o->play.plan);
    int hurt;
    (void)tl_bench_damages(s->bench, &hurt);
    if (s->o->csv)
        (void)damages_print(stderr, s->bench);
    return !good ? EXIT_HARDWARE : hurt > 0 ? EXIT_FOUND : EXIT_DONE;
}

/* --- the whole --- */

/* What no bench can make sense of: a pin with two signals, a voltage where there is no converter. */
static bool is_unreadable(tl_circuit *circuit, tl_report *report)
{
    bool found = false;
    tl_plan_check_readable(circuit, report);
    for (int i = 0; i < tl_report_count(report); i++) {
        const tl_finding *finding = tl_report_finding(report, i);
        if (strcmp(finding->slug, "pin-taken") != 0 && strcmp(finding->slug, "not-analog") != 0)
            continue; /* shared select lines still read something */
        print_finding(stderr, report, finding, NULL);
        found = true;
    }
    return found;
}

/* With a meter the bench is read while the meter is connected: those of its own point, unless others are
 * named. */
static int read_signals(const read_options *o, play *p)
{
    session s = {.o = o, .plan = p->plan};
    meter_on meter;
    if (o->meter != NULL && !meter_find(&meter, o->meter, o->meter_ohms, p->circuit))
        return EXIT_USAGE;
    s.signals = o->meter != NULL && o->play.name_count == 0
                    ? meter_signals(&meter, p->circuit, &s.count)
                    : choose_signals(s.plan, o->play.names, o->play.name_count, &s.count);
    if (s.signals == NULL)
        return EXIT_USAGE;
    if (o->meter != NULL) {
        meter_put(&meter, p, o->play.at);
        s.meter = &meter;
    }
    int status = EXIT_USAGE;
    if (o->counts != NULL && (s.counts = counts_open(o->counts, p->circuit, &status)) == NULL) {
        free(s.signals);
        return status;
    }
    s.readings = must(calloc((size_t)s.count + 1, sizeof *s.readings));
    s.bench = tl_bench_new(p->circuit, p->scene, p->seed);
    tl_bench_be_strict(s.bench, o->strict);
    if (s.counts == NULL)
        s.taker = taker_new(p->circuit, s.signals, s.count, (int)o->samples);
    if (o->expect == NULL)
        status = read_times(&s);
    else if (s.count == 1)
        status = expect_lengths(s.bench, s.signals[0], o->expect, o->within, o->play.at, o->json);
    else
        fprintf(stderr, "tinyladder: --expect: name the one signal that should show it\n");
    taker_free(s.taker);
    if (s.counts != NULL)
        status = counts_close(s.counts, status);
    outputs_free(&s.outputs);
    tl_bench_free(s.bench);
    free(s.readings);
    free(s.signals);
    return status;
}

static int read_plan(read_options *o, play *p)
{
    if (is_unreadable(p->circuit, p->report))
        return EXIT_FOUND;
    if (o->mystery >= 0 && !mystery_hide(p, (unsigned long)o->mystery, o->hidden)) {
        fprintf(stderr, "tinyladder: --mystery: nothing of this plan can break so that a reading shows it\n");
        return EXIT_FOUND;
    }
    if (o->seeds > 0) {
        const seeds_options seeds = {o->seeds, o->samples, o->play.at, o->json};
        return read_seeds(&seeds, p, o->play.names, o->play.name_count);
    }
    if (o->ideal)
        p->seed = TL_BENCH_IDEAL;
    const int status = read_signals(o, p);
    if (o->hidden[0] != '\0' && !o->json && !o->csv)
        printf("\n%s%s\n",
               o->reveal ? "The fault: " : "Something is wrong on this bench. --reveal names the fault.",
               o->reveal ? o->hidden : "");
    return status;
}

static int run_read(int argc, char **argv)
{
    static const struct argp_child children[] = {{&play_argp, 0, NULL, 0}, {0}};
    static const struct argp argp = {
        read_argp_options,
        parse_read,
        "PLAN [SIGNAL...]",
        "Read signals on a simulated bench, with the code that runs on the microcontroller.",
        children,
        NULL,
        NULL};
    read_options o = {.play = {.every = 0.1, .every_least = 1e-3, .every_most = INFINITY, .seed = -1},
                      .times = 1,
                      .mystery = -1,
                      .wait = 10,
                      .within = NAN};
    play p;
    options_parse(&argp, argc, argv, &o);
    const read_how how = {o.ideal, o.json, (int)o.samples};
    int status = play_open(&o.play, &p);
    if (status == EXIT_DONE && o.vary != NULL)
        status = is_unreadable(p.circuit, p.report) ? EXIT_FOUND : read_vary(&o.play, o.vary, &how);
    else if (status == EXIT_DONE)
        status = read_plan(&o, &p);
    play_close(&o.play, &p);
    return status;
}

const verb verb_read = {"read", "Read signals on a simulated bench or from your board.", run_read};
