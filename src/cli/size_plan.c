/* tinyladder size PLAN SIGNAL.PART: every candidate is put into the plan and asked of the circuit and of the
 * rules. */
#include "cli/size_kinds.h"
#include <errno.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum { REASONS_MOST = 10, SHOWN_MOST = 50 };

/* A candidate that passed, with what its circuit says. */
typedef struct {
    char value[2][64];
    double low, high;   /* volts at the pin, over all states */
    double range, ohms; /* analog: share of the reference that is used; what the pin sees */
    double settling;    /* counts */
    double margin;      /* two states: volts that the nearest threshold is cleared by */
} passed_choice;

typedef struct {
    const size_call *call;
    const tl_plan *plan;
    const tl_report *report;
    const tl_part *part;
    passed_choice passed[SHOWN_MOST];
    int passed_count, tried;
    char *reason[REASONS_MOST];
    int reason_count, refused;
    bool lost; /* a file could not be read again */
} plan_sizing;

/* --- one candidate --- */

/* The same worst cases that `check` looks at. */
static void measure(tl_circuit *circuit, int signal, passed_choice *c)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    const tl_signal *s = &plan->signals[signal];
    const bool analog = s->analog && plan->pins[s->pin].channel >= 0;
    c->low = INFINITY;
    c->high = -INFINITY;
    c->margin = INFINITY;
    c->range = c->ohms = c->settling = NAN;
    for (int state = 0; state < tl_circuit_nodes(circuit, signal)->states; state++) {
        const tl_worst_case *worst = tl_circuit_worst_case(circuit, signal, state);
        if (worst->fault != TL_NET_SOLVED)
            continue;
        c->low = fmin(c->low, worst->volts.low);
        c->high = fmax(c->high, worst->volts.high);
        if (!s->analog)
            c->margin = fmin(c->margin, fmax(worst->above_vih.low, -worst->above_vil.high));
    }
    if (!analog)
        return;
    double least, most;
    const tl_analog_path *path = tl_circuit_path(circuit, signal);
    tl_net_param_span(tl_circuit_net(circuit), tl_circuit_nodes(circuit, signal)->reference, &least, &most);
    c->range = (c->high - c->low) / most;
    c->ohms = path->fault == TL_NET_SOLVED ? path->source_ohms : NAN;
    c->settling = path->fault == TL_NET_SOLVED ? path->settling_counts : NAN;
}

/* Reasons are told once, with the first candidate that they refuse. */
static void keep_reason(plan_sizing *z, const passed_choice *c, const tl_finding *f)
{
    char *text = NULL;
    z->refused++;
    if (f == NULL)
        tl_finding_text(&text, "%s%s%s: the plan would be none any more", c->value[0],
                        c->value[1][0] != '\0' ? ", " : "", c->value[1]);
    else
        tl_finding_text(&text, "%s%s%s: %s%s%s [%s]", c->value[0], c->value[1][0] != '\0' ? ", " : "",
                        c->value[1], f->cause, f->figure != NULL ? ": " : "",
                        f->figure != NULL ? f->figure : "", f->slug);
    const char *slug = strrchr(text, '[');
    for (int i = 0; i < z->reason_count && slug != NULL; i++) {
        const char *known = strrchr(z->reason[i], '[');
        if (known != NULL && strcmp(known, slug) == 0) {
            free(text);
            return;
        }
    }
    if (z->reason_count < REASONS_MOST)
        z->reason[z->reason_count++] = text;
    else
        free(text);
}

static char *edited(const plan_sizing *z, const passed_choice *c, int *file, size_t *size)
{
    tl_edit edits[2];
    const char *const values[2] = {c->value[0], z->part->value[1] != NULL ? c->value[1] : NULL};
    const int count = tl_part_edits(z->report, z->part, values, edits);
    char *text = count > 0 ? tl_edit_apply(z->report, edits, count, size) : NULL;
    *file = count > 0 ? edits[0].file : -1;
    for (int i = 0; i < count; i++)
        tl_edit_free(&edits[i]);
    return text;
}

/* false where the plan's file has no place for the values, or a file was lost. */
static bool try_choice(plan_sizing *z, const passed_choice *values)
{
    tl_trial trial;
    int file;
    size_t size = 0;
    passed_choice c = *values;
    char *text = edited(z, &c, &file, &size);
    if (text == NULL)
        return false;
    tl_trial_begin(&trial, z->plan, z->report, file, text, size);
    free(text);
    z->tried++;
    if (trial.lost != NULL) {
        z->lost = true;
        (void)print_unreadable(trial.report);
        tl_trial_end(&trial);
        return false;
    }
    const tl_finding *worse = trial.plan != NULL ? tl_trial_worse(&trial, z->report, z->part->signal) : NULL;
    if (trial.plan == NULL || worse != NULL) {
        keep_reason(z, &c, worse);
    } else {
        measure(trial.circuit, z->part->signal, &c);
        if (z->passed_count < SHOWN_MOST)
            z->passed[z->passed_count++] = c;
    }
    tl_trial_end(&trial);
    return true;
}

/* The values of a choice by the names that the part has for them. */
static bool values_of(const plan_sizing *z, const tl_size_result *candidates, const tl_choice *choice,
                      passed_choice *c)
{
    bool whole = true;
    *c = (passed_choice){.value = {"", ""}};
    for (int i = 0; i < 2 && z->part->name[i] != NULL; i++) {
        bool found = false;
        for (int p = 0; p < choice->parts && !found; p++) {
            found = strcmp(choice->part_name[p], z->part->name[i]) == 0;
            if (!found)
                continue;
            const bool ohms = choice->part_dimension[p] == TL_DIM_OHM;
            tl_leg_plan_text(&choice->part[p], ohms ? candidates->stock : candidates->capacitors,
                             c->value[i]);
            if (!ohms)
                tl_leg_write(&choice->part[p], NULL, TL_DIM_FARAD, c->value[i]);
        }
        whole = whole && found;
    }
    return whole;
}

/* --- what came of it --- */

static void print_table(const plan_sizing *z)
{
    table t;
    const bool two = z->part->value[1] != NULL, analog = !isnan(z->passed[0].range);
    char alignment[16] = ">";
    memset(alignment, '>', sizeof alignment - 1);
    table_begin(&t, 2 + two + (analog ? 4 : 2), alignment);
    table_cell(&t, " ");
    table_cell(&t, "%s", z->part->name[0]);
    if (two)
        table_cell(&t, "%s", z->part->name[1]);
    table_cell(&t, "at the pin");
    if (analog) {
        table_cell(&t, "range used");
        table_cell(&t, "source resistance");
        table_cell(&t, "settling error");
    } else {
        table_cell(&t, "threshold cleared by");
    }
    for (int i = 0; i < z->passed_count && i < z->call->top; i++) {
        const passed_choice *c = &z->passed[i];
        table_cell(&t, "%d", i + 1);
        table_cell(&t, "%s", c->value[0]);
        if (two)
            table_cell(&t, "%s", c->value[1]);
        table_cell(&t, "%s .. %s", show_least(c->low, TL_DIM_VOLT).text,
                   show_most(c->high, TL_DIM_VOLT).text);
        if (analog) {
            table_cell(&t, "%s", show_least(100 * c->range, TL_DIM_PERCENT).text);
            table_cell(&t, "%s", show_most(c->ohms, TL_DIM_OHM).text);
            table_cell(&t, "%s", show_most(c->settling, TL_DIM_COUNT).text);
        } else {
            table_cell(&t, "%s", show_least(c->margin, TL_DIM_VOLT).text);
        }
    }
    table_end(&t, stdout, "  ");
}

static void print_text(const plan_sizing *z, const char *path, const tl_size_result *candidates)
{
    printf("%s of %s: %d candidates of 'size %s' put into the plan, %d pass every rule.\n"
           "Guaranteed worst cases of the circuit, as 'check' has them.\n\n",
           z->part->stage->name, path, z->tried, z->call->kind->name, z->passed_count);
    if (z->passed_count > 0)
        print_table(z);
    else
        printf("%sNo: %s.%s\n", ink_on(stdout, INK_ERROR),
               candidates->count == 0 ? candidates->refusal : "none of them passes", ink_off(stdout));
    if (z->reason_count > 0)
        printf("\nWhy others fail:\n");
    for (int i = 0; i < z->reason_count; i++)
        put_note("  - ", "    ", z->reason[i]);
}

static json_t *choice_json(const plan_sizing *z, const passed_choice *c)
{
    json_t *o = json_object();
    for (int i = 0; i < 2 && z->part->name[i] != NULL; i++)
        json_object_set_new(o, z->part->name[i], json_string(c->value[i]));
    json_object_update_new(o,
                           json_pack("{s:o,s:o,s:o,s:o,s:o,s:o}", "pin_low_v", json_number(c->low),
                                     "pin_high_v", json_number(c->high), "range_share", json_number(c->range),
                                     "source_ohms", json_number(c->ohms), "settling_counts",
                                     json_number(c->settling), "threshold_margin_v", json_number(c->margin)));
    return o;
}

static void print_json(const plan_sizing *z, const char *path, const tl_size_result *candidates)
{
    json_t *choices = json_array(), *reasons = json_array();
    for (int i = 0; i < z->passed_count && i < z->call->top; i++)
        json_array_append_new(choices, choice_json(z, &z->passed[i]));
    for (int i = 0; i < z->reason_count; i++)
        json_array_append_new(reasons, json_string(z->reason[i]));
    json_print(json_pack("{s:s,s:s,s:s,s:s,s:i,s:i,s:o,s:o,s:o}", "plan", z->plan->path, "signal", path,
                         "part", z->part->stage->name, "size", z->call->kind->name, "tried", z->tried,
                         "fitting", z->passed_count, "refusal",
                         candidates->count == 0 ? json_string(candidates->refusal) : json_null(), "choices",
                         choices, "rejected", reasons));
}

static int write_first(const plan_sizing *z)
{
    int file;
    size_t size = 0;
    char *text = edited(z, &z->passed[0], &file, &size);
    const char *path = tl_report_file_path(z->report, file);
    const bool good = tl_edit_write(path, text, size);
    if (good)
        fprintf(z->call->json ? stderr : stdout, "\n%s has the first now.\n", path);
    else
        fprintf(stderr, "%s: error: %s; it is as it was\n", path, strerror(errno));
    free(text);
    return good ? EXIT_DONE : EXIT_HARDWARE;
}

int size_in_plan(const size_call *call, const tl_plan *plan, tl_report *report, tl_circuit *circuit,
                 const tl_part *part, const tl_size_result *candidates)
{
    static plan_sizing z; /* too large for the stack of a small system */
    z = (plan_sizing){.call = call, .plan = plan, .report = report, .part = part};
    const char *name = tl_circuit_plan(circuit)->signals[part->signal].name;
    for (int i = 0; i < candidates->count; i++) {
        passed_choice c;
        if (!values_of(&z, candidates, &candidates->choices[i], &c))
            continue;
        if (!try_choice(&z, &c)) {
            if (!z.lost)
                fprintf(
                    stderr,
                    "tinyladder: %s.%s: its values do not stand in the plan where they could be replaced\n",
                    name, part->stage->name);
            for (int k = 0; k < z.reason_count; k++)
                free(z.reason[k]);
            return z.lost ? EXIT_UNREADABLE : EXIT_FOUND;
        }
    }
    (call->json ? print_json : print_text)(&z, name, candidates);
    for (int i = 0; i < z.reason_count; i++)
        free(z.reason[i]);
    if (z.passed_count == 0)
        return EXIT_FOUND;
    return call->write ? write_first(&z) : EXIT_DONE;
}
