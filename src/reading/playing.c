/* SPDX-License-Identifier: MIT */
/* The options that the playing verbs share, and the plan, circuit and scene that they open. */
#include "reading/playing.h"
#include "printing/options.h"
#include <math.h>
#include <stdlib.h>

static const struct argp_option shared_options[] = {
    {"scene", 's', "FILE", 0, "scene file: what happens on the bench (default: usual source values)", 0},
    {"fault", 'F', "FAULT", 0, "one more fault on the bench, such as '{open: house-battery.divider.lower}'",
     0},
    {"at", 't', "TIME", 0, "time in the scene, such as 90s or 12min (default: 0s)", 0},
    {"every", 'e', "TIME", 0, "time between readings (default: 100ms; record: 1s)", 0},
    {"seed", 'r', "N", 0,
     "seed that selects the real parts within their tolerances (default: from the scene)", 0},
    {0},
};

static void take_word(struct argp_state *state, play_options *o, const char *text)
{
    if (o->plan == NULL) {
        option_file(state, "plan", &o->plan, text);
        return;
    }
    o->names = must(realloc(o->names, ((size_t)o->name_count + 1) * sizeof *o->names));
    o->names[o->name_count++] = text;
}

static error_t parse_shared(int key, char *text, struct argp_state *state)
{
    play_options *o = state->input;
    char most[40];
    switch (key) {
    case 's':
        o->scene = text;
        break;
    case 'F':
        if (o->fault_count == PLAY_FAULTS_MOST)
            argp_error(state, "--fault: at most %d; write more into a scene", PLAY_FAULTS_MOST);
        o->faults[o->fault_count++] = text;
        break;
    case 't':
        o->at = option_value(state, "at", text, TL_DIM_SECOND);
        break;
    case 'e':
        o->every = option_value(state, "every", text, TL_DIM_SECOND);
        snprintf(most, sizeof most, "to %s", show(o->every_most, TL_DIM_SECOND).text);
        if (!(o->every >= o->every_least && o->every <= o->every_most))
            argp_error(state, "--every: expected %s %s", show(o->every_least, TL_DIM_SECOND).text,
                       isfinite(o->every_most) ? most : "or more");
        break;
    case 'r':
        o->seed = option_number(state, "seed", text, 0, 1000000000);
        break;
    case ARGP_KEY_ARG:
        take_word(state, o, text);
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

const struct argp play_argp = {shared_options, parse_shared, NULL, NULL, NULL, NULL, NULL};

int play_open(const play_options *o, play *p)
{
    *p = (play){.report = new_report()};
    if (o->as_if != NULL)
        changes_hold(o->as_if, p->report);
    p->plan = tl_plan_load(o->plan, p->report);
    if (p->plan == NULL)
        return print_unreadable(p->report);
    p->circuit = tl_circuit_new(p->plan);
    p->scene = o->scene != NULL ? tl_scene_load(o->scene, p->circuit, p->report) : tl_scene_new();
    if (p->scene == NULL)
        return print_unreadable(p->report);
    for (int i = 0; i < o->fault_count; i++) {
        if (!tl_scene_add_fault(p->scene, o->faults[i], p->circuit, p->report)) {
            fprintf(stderr, "tinyladder: --fault: '%.100s': %s\n", o->faults[i],
                    tl_report_finding(p->report, tl_report_count(p->report) - 1)->cause);
            return EXIT_USAGE;
        }
    }
    p->seed = o->seed >= 0 ? (unsigned long)o->seed : p->scene->seed;
    return EXIT_DONE;
}

void play_close(play_options *o, play *p)
{
    free(o->names);
    tl_scene_free(p->scene);
    tl_circuit_free(p->circuit);
    tl_plan_free(p->plan);
    tl_report_free(p->report);
}
