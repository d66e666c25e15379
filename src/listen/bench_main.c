/* SPDX-License-Identifier: MIT */
/*
 * tinyladder-bench PLAN --listen SOCKET: the bench for programs in other languages. Each client has a bench
 * of its own, from the beginning of the scene; one JSON object a line each way. docs/bench-socket.md tells
 * the calls.
 */
#include "listen/calls.h"
#include "listen/socket.h"
#include "tinyladder/design/memory.h"
#include <argp.h>
#include <errno.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

enum { DONE = 0, USAGE = 2, UNREADABLE = 3, NO_SOCKET = 4 };
enum { KEY_ONCE = 1000 };

typedef struct {
    const char *plan, *scene, *listen;
    long seed;
    bool once;
    int status;
} options;

static const struct argp_option rows[] = {
    {"listen", 'l', "SOCKET", 0, "the path of the socket (needed)", 0},
    {"scene", 's', "FILE", 0, "what happens to the bench (every source at its usual value)", 0},
    {"seed", 'r', "N", 0, "draws other real parts from their tolerances (the scene's seed)", 0},
    {"once", KEY_ONCE, NULL, 0, "ends when its first client has gone", 0},
    {0},
};

static error_t parse(int key, char *text, struct argp_state *state)
{
    options *o = state->input;
    char *end;
    switch (key) {
    case 'l':
        o->listen = text;
        break;
    case 's':
        o->scene = text;
        break;
    case 'r':
        errno = 0;
        o->seed = strtol(text, &end, 10);
        if (errno != 0 || *end != '\0' || end == text || o->seed < 0 || o->seed > 1000000000)
            argp_error(state, "--seed: expected a whole number from 0 to 1000000000");
        break;
    case KEY_ONCE:
        o->once = true;
        break;
    case ARGP_KEY_ARG:
        if (o->plan != NULL)
            argp_error(state, "one plan");
        o->plan = text;
        break;
    case ARGP_KEY_END:
        if (o->plan == NULL)
            argp_error(state, "which plan?");
        if (o->listen == NULL)
            argp_error(state, "--listen is required: path of the socket");
        break;
    default:
        return ARGP_ERR_UNKNOWN;
    }
    return 0;
}

static const struct argp arguments = {
    rows,
    parse,
    "PLAN",
    "The bench of a plan behind a Unix socket: one JSON object a line.\v"
    "Each client begins anew. Exit status: 0 done, 2 wrong usage, 3 unreadable input, 4 no socket.",
    NULL,
    NULL,
    NULL};

/* Answers until the client has gone. */
static void serve(int client, tl_circuit *circuit, const tl_scene *scene, unsigned long seed)
{
    static socket_lines lines;
    static const char too_much[] = "{\"error\": \"a line has at most 65535 bytes\", \"ok\": false}\n";
    tl_bench *bench = tl_bench_new(circuit, scene, seed);
    size_t length;
    bool too_long = false, goes_on = true;
    lines.client = client;
    lines.size = lines.taken = 0;
    for (char *line; goes_on && (line = socket_line(&lines, &length, &too_long)) != NULL;) {
        json_t *answer = calls_answer(bench, line, length);
        char *text = json_dumps(answer, JSON_COMPACT | JSON_REAL_PRECISION(12));
        json_decref(answer);
        goes_on = text != NULL && socket_send(client, text, strlen(text)) && socket_send(client, "\n", 1);
        free(text);
    }
    if (too_long)
        (void)socket_send(client, too_much, sizeof too_much - 1);
    tl_bench_free(bench);
    close(client);
}

static void run(void *context)
{
    options *o = context;
    char why[200];
    tl_report *report = tl_report_new();
    tl_plan *plan = tl_plan_load(o->plan, report);
    tl_circuit *circuit = plan != NULL ? tl_circuit_new(plan) : NULL;
    tl_scene *scene = circuit == NULL    ? NULL
                      : o->scene != NULL ? tl_scene_load(o->scene, circuit, report)
                                         : tl_scene_new();
    int listening = -1;
    if (scene == NULL) {
        tl_report_tell(report, stderr);
        o->status = UNREADABLE;
    } else if ((listening = socket_listen(o->listen, why, sizeof why)) < 0) {
        fprintf(stderr, "tinyladder-bench: --listen %s: %s\n", o->listen, why);
        o->status = NO_SOCKET;
    } else {
        printf("%s listens on %s\n", tl_circuit_plan(circuit)->title, o->listen);
        fflush(stdout);
        for (int client; (client = socket_accept(listening)) >= 0;) {
            serve(client, circuit, scene, o->seed >= 0 ? (unsigned long)o->seed : scene->seed);
            if (o->once)
                break;
        }
        close(listening);
        unlink(o->listen);
    }
    tl_scene_free(scene);
    tl_circuit_free(circuit);
    tl_plan_free(plan);
    tl_report_free(report);
}

static void *json_memory(size_t size)
{
    void *memory = malloc(size);
    if (memory == NULL) {
        fputs("tinyladder-bench: there is not enough memory\n", stderr);
        _exit(NO_SOCKET);
    }
    return memory;
}

int main(int argc, char **argv)
{
    options o = {.seed = -1};
    argp_err_exit_status = USAGE;
    json_set_alloc_funcs(json_memory, free);
    if (argp_parse(&arguments, argc, argv, 0, NULL, &o) != 0) {
        fputs("out of memory\n", stderr);
        return 4;
    }
    socket_watch_ending();
    if (tl_attempt(run, &o))
        return o.status;
    fputs("tinyladder-bench: there is not enough memory\n", stderr);
    return NO_SOCKET;
}
