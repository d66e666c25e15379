/* tinyladder read PLAN: one reading of each signal on the simulated bench. */
#include "cli.h"
#include "tinyladder/bench.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

typedef struct {
    const char *plan, *scene;
    double at;
    long seed;
    bool json, seeded;
} read_options;

static const struct argp_option read_argp_options[] = {
    {"scene", 's', "FILE", 0, "what happens to the bench (every source at its usual value)", 0},
    {"at", 't', "TIME", 0, "when in the scene, such as 90s or 12min (0s)", 0},
    {"seed", 'r', "N", 0, "draws other real parts from their tolerances (the scene's seed)", 0},
    {"json", 'j', NULL, 0, "the same as one JSON object", 0},
    {0},
};

static error_t parse_read(int key, char *text, struct argp_state *state)
{
    read_options *o = state->input;
    switch (key) {
    case 's':
        o->scene = text;
        break;
    case 't':
        o->at = option_value(state, "at", text, TL_DIM_SECOND);
        break;
    case 'r':
        o->seed = option_number(state, "seed", text, 0, 1000000000);
        o->seeded = true;
        break;
    case 'j':
        o->json = true;
        break;
    case ARGP_KEY_ARG:
        option_file(state, "plan", &o->plan, text);
        break;
    case ARGP_KEY_END:
        if (o->plan == NULL)
            argp_error(state, "which plan?");
        break;
    default:
        return ARGP_ERR_UNKNOWN;
    }
    return 0;
}

/* --- one reading in words --- */

static const char *flags_in_words(const tl_signal *s, const tl_bench_reading *r)
{
    const bool substituted = s->reading.substitute.given;
    if (r->is.open)
        return substituted ? "open wire, substituted" : "open wire";
    if (r->is.shorted)
        return substituted ? "short, substituted" : "short";
    if ((r->flags & TL_READING_CLIPPED_LOW) != 0)
        return "fresh, clipped low";
    if ((r->flags & TL_READING_CLIPPED_HIGH) != 0)
        return "fresh, clipped high";
    return (r->flags & TL_READING_FRESH) != 0 ? "fresh" : "not fresh";
}

static const char *button_of(const tl_signal *s, const tl_bench_reading *r)
{
    return r->is.button >= 0    ? s->source.buttons[r->is.button].name
           : r->is.button == -1 ? "no button"
                                : "between two";
}

/* `12.39 .. 12.82 V`, its ends rounded away from the middle; one-sided where the truth may lie beyond. */
static void show_interval(const tl_interval *within, int decimals, const char *unit, char text[80])
{
    const double step = pow(10, -decimals);
    const double low = floor(within->low / step + 1e-9) * step,
                 high = ceil(within->high / step - 1e-9) * step;
    if (!isfinite(low) && !isfinite(high))
        snprintf(text, 80, "anything");
    else if (!isfinite(low))
        snprintf(text, 80, "at most %.*f %s", decimals, high, unit);
    else if (!isfinite(high))
        snprintf(text, 80, "at least %.*f %s", decimals, low, unit);
    else
        snprintf(text, 80, "%.*f .. %.*f %s", decimals, low, decimals, high, unit);
}

/* Volts at the pin: millivolts of a bridge need more digits. */
static int pin_decimals(const tl_bench_reading *r)
{
    return fabs(r->is.pin_volts) < 0.1 && r->is.pin_within.high < 0.1 ? 6 : 4;
}

static void add_analog(table *t, const tl_signal *s, const tl_bench_reading *r)
{
    char within[80], pin_within[80];
    const bool failed = r->is.open || r->is.shorted;
    show_interval(&r->is.within, r->is.decimals, s->reading.unit, within);
    show_interval(&r->is.pin_within, pin_decimals(r) - 1, "V", pin_within);
    table_cell(t, "%ld", r->count);
    table_cell(t, "%.*f V", pin_decimals(r), r->is.pin_volts);
    table_cell(t, "%s", s->source.button_count > 0 ? "-" : pin_within);
    if (s->source.button_count > 0)
        table_cell(t, "%s", button_of(s, r));
    else if (failed && !s->reading.substitute.given)
        table_cell(t, "-");
    else if (r->is.percent >= 0)
        table_cell(t, "%.*f %s (%d %%)", r->is.decimals, r->is.value, s->reading.unit, r->is.percent);
    else
        table_cell(t, "%.*f %s", r->is.decimals, r->is.value, s->reading.unit);
    table_cell(t, "%s", s->source.button_count > 0 || failed ? "-" : within);
    table_cell(t, "%s", flags_in_words(s, r));
}

static const char *state_of(const tl_signal *s, const tl_bench_reading *r)
{
    if (s->source.kind == TL_SOURCE_LOGIC)
        return r->closed ? "low" : "high";
    if (s->source.kind == TL_SOURCE_OPEN_COLLECTOR)
        return r->closed ? "on" : "off";
    return r->closed ? "closed" : "open";
}

static void add_digital(table *t, const tl_signal *s, const tl_bench_reading *r)
{
    table_cell(t, "%s", r->high ? "high" : "low");
    table_cell(t, "%.4f V", r->volts);
    table_cell(t, "-");
    table_cell(t, "%s", state_of(s, r));
    table_cell(t, "-");
    table_cell(t, "%s", flags_in_words(s, r));
}

static void print_damages(tl_bench *bench)
{
    int count;
    const tl_bench_damage *damages = tl_bench_damages(bench, &count);
    for (int i = 0; i < count; i++)
        printf("\n%s%s was outside its absolute limits: %s, first at %s. A real pin may be dead now.%s\n",
               ink_on(stdout, INK_ERROR), tl_bench_circuit(bench)->plan->pins[damages[i].pin].name,
               show(damages[i].volts, TL_DIM_VOLT).text, show(damages[i].at, TL_DIM_SECOND).text,
               ink_off(stdout));
}

static void print_readings(tl_bench *bench, const read_options *o, const tl_bench_reading *readings)
{
    static const char *const heads[] = {
        "signal", "pin", "count", "at the pin", "pin lies within", "reads", "truth lies within", "flags"};
    const tl_plan *plan = tl_bench_circuit(bench)->plan;
    table t;
    printf("%s, %s at %s. Intervals are guaranteed but for noise.\n\n", plan->title,
           o->scene != NULL ? o->scene : "no scene", show(o->at, TL_DIM_SECOND).text);
    table_begin(&t, 8, "<<>>>>><");
    for (int i = 0; i < 8; i++)
        table_cell(&t, "%s", heads[i]);
    for (int i = 0; i < plan->signal_count; i++) {
        table_cell(&t, "%s", plan->signals[i].name);
        table_cell(&t, "%s", plan->pins[plan->signals[i].pin].name);
        if (readings[i].analog)
            add_analog(&t, &plan->signals[i], &readings[i]);
        else
            add_digital(&t, &plan->signals[i], &readings[i]);
    }
    table_end(&t, stdout, "  ");
    print_damages(bench);
}

static json_t *reading_object(const tl_plan *plan, int signal, const tl_bench_reading *r)
{
    const tl_signal *s = &plan->signals[signal];
    json_t *o =
        json_pack("{s:s,s:s,s:b,s:b,s:b}", "signal", s->name, "pin", plan->pins[s->pin].name, "fresh",
                  (r->flags & TL_READING_FRESH) != 0, "clipped_low", (r->flags & TL_READING_CLIPPED_LOW) != 0,
                  "clipped_high", (r->flags & TL_READING_CLIPPED_HIGH) != 0);
    if (r->analog) {
        json_object_update_new(
            o, json_pack("{s:I,s:o,s:o,s:o,s:o,s:s,s:o,s:o,s:i}", "count", (json_int_t)r->count, "pin_v",
                         json_number(r->is.pin_volts), "pin_low_v", json_number(r->is.pin_within.low),
                         "pin_high_v", json_number(r->is.pin_within.high), "value", json_number(r->is.value),
                         "unit", s->reading.unit, "low", json_number(r->is.within.low), "high",
                         json_number(r->is.within.high), "decimals", r->is.decimals));
        json_object_set_new(o, "percent", r->is.percent >= 0 ? json_integer(r->is.percent) : json_null());
        json_object_update_new(o, json_pack("{s:b,s:b}", "open_wire", r->is.open, "short", r->is.shorted));
        if (s->source.button_count > 0)
            json_object_set_new(o, "button", json_string(button_of(s, r)));
    } else {
        json_object_update_new(o, json_pack("{s:s,s:s,s:o}", "level", r->high ? "high" : "low", "state",
                                            state_of(s, r), "pin_v", json_number(r->volts)));
    }
    return o;
}

static void print_json(tl_bench *bench, const read_options *o, const tl_bench_reading *readings)
{
    const tl_plan *plan = tl_bench_circuit(bench)->plan;
    json_t *list = json_array(), *dead = json_array();
    int count;
    const tl_bench_damage *damages = tl_bench_damages(bench, &count);
    for (int i = 0; i < plan->signal_count; i++)
        json_array_append_new(list, reading_object(plan, i, &readings[i]));
    for (int i = 0; i < count; i++)
        json_array_append_new(dead, json_pack("{s:s,s:o,s:o}", "pin", plan->pins[damages[i].pin].name,
                                              "volts", json_number(damages[i].volts), "first_at_s",
                                              json_number(damages[i].at)));
    json_print(json_pack("{s:s,s:o,s:o,s:o,s:o}", "plan", plan->path, "scene",
                         o->scene != NULL ? json_string(o->scene) : json_null(), "at_s", json_number(o->at),
                         "readings", list, "over_limit", dead));
}

/* Contacts first, from so long before the moment that they are debounced at it; then the converter, at the
 * moment. */
static int take_readings(tl_bench *bench, const read_options *o, tl_bench_reading *readings)
{
    const tl_plan *plan = tl_bench_circuit(bench)->plan;
    double lead = 0;
    for (int i = 0; i < plan->signal_count; i++)
        lead = fmax(lead, tl_bench_read_lead(bench, i));
    for (int pass = 0; pass < 2; pass++) {
        for (int i = 0; i < plan->signal_count; i++) {
            if (plan->signals[i].analog != (pass == 1))
                continue;
            tl_bench_go_to(bench, o->at - tl_bench_read_lead(bench, i));
            const tl_net_fault fault = tl_bench_read(bench, i, &readings[i]);
            char why[32] = "";
            tl_status_text(readings[i].status, why, sizeof why);
            if (fault == TL_NET_SOLVED && readings[i].status == TL_OK)
                continue;
            fprintf(stderr, "tinyladder: %s cannot be read: %s; try 'tinyladder check %s'\n",
                    plan->signals[i].name, fault != TL_NET_SOLVED ? tl_net_fault_text(fault) : why, o->plan);
            return EXIT_HARDWARE;
        }
    }
    return EXIT_DONE;
}

/* What no bench can make sense of: a pin with two signals, a voltage where there is no converter. */
static bool is_unreadable(const tl_circuit *circuit, tl_report *report)
{
    bool found = false;
    tl_plan_check(circuit, report);
    for (int i = 0; i < report->count; i++) {
        const char *slug = report->findings[i].slug;
        if (strcmp(slug, "pin-taken") == 0 || strcmp(slug, "not-analog") == 0) {
            print_finding(stderr, report, &report->findings[i]);
            found = true;
        }
    }
    return found;
}

static int read_plan(const read_options *o, const tl_plan *plan, const tl_scene *scene, tl_report *report)
{
    tl_circuit *circuit = tl_circuit_new(plan);
    if (is_unreadable(circuit, report)) {
        tl_circuit_free(circuit);
        return EXIT_FOUND;
    }
    const unsigned long seed = o->seeded ? (unsigned long)o->seed : scene != NULL ? scene->seed : 1;
    tl_bench *bench = tl_bench_new(circuit, scene, seed);
    tl_bench_reading *readings = calloc((size_t)plan->signal_count, sizeof *readings);
    const int status = readings != NULL ? take_readings(bench, o, readings) : EXIT_HARDWARE;
    if (status == EXIT_DONE)
        (o->json ? print_json : print_readings)(bench, o, readings);
    free(readings);
    tl_bench_free(bench);
    tl_circuit_free(circuit);
    return status;
}

static int run_read(int argc, char **argv)
{
    static const struct argp argp = {
        read_argp_options,
        parse_read,
        "PLAN",
        "Reads every signal once, on a simulated bench, through the code that runs on the microcontroller.",
        NULL,
        NULL,
        NULL};
    read_options o = {0};
    argp_parse(&argp, argc, argv, 0, NULL, &o);
    tl_report *report = tl_report_new();
    tl_plan *plan = tl_plan_load(o.plan, report);
    tl_scene *scene = plan != NULL && o.scene != NULL ? tl_scene_load(o.scene, plan, report) : NULL;
    int status;
    if (plan == NULL || (o.scene != NULL && scene == NULL)) {
        status = print_unreadable(report);
    } else if (scene != NULL && o.at > scene->length) {
        fprintf(stderr, "tinyladder: --at: the scene ends at %s\n", show(scene->length, TL_DIM_SECOND).text);
        status = EXIT_USAGE;
    } else {
        status = read_plan(&o, plan, scene, report);
    }
    tl_scene_free(scene);
    tl_plan_free(plan);
    tl_report_free(report);
    return status;
}

const verb verb_read = {"read", "PLAN [--scene FILE] [--at T]", "reads every signal on the simulated bench",
                        run_read};
