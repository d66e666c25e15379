/* SPDX-License-Identifier: MIT */
/*
 * tinyladder-bench-run PLAN IMAGE: a compiled program on the simulated bench of its plan. What is flashed is
 * what was tried: the same file, run instruction by instruction, among the plan's own parts, contacts,
 * devices and faults.
 */
#define _GNU_SOURCE
#include "chip.h"
#include "tinyladder/design/memory.h"
#include "tinyladder/design/quantity.h"
#include <argp.h>
#include <errno.h>
#include <fcntl.h>
#include <math.h>
#include <signal.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>
#include <unistd.h>

enum { DONE = 0, DAMAGED = 1, USAGE = 2, UNREADABLE = 3, CRASHED = 4 };
enum { KEY_FOR = 1000, KEY_PTY, KEY_REAL_TIME, KEY_CHIP, KEY_HERTZ, KEY_OUTPUTS };

typedef struct {
    const char *plan, *image, *scene, *chip;
    double seconds;
    unsigned long hertz;
    long seed;
    bool pty, real_time, outputs;
    int status;
} options;

static const struct argp_option rows[] = {
    {"scene", 's', "FILE", 0, "what happens to the bench (every source at its usual value)", 0},
    {"seed", 'r', "N", 0, "draws other real parts from their tolerances (the scene's seed)", 0},
    {"for", KEY_FOR, "TIME", 0, "so long, of the chip's time (10s)", 0},
    {"pty", KEY_PTY, NULL, 0, "its serial line is a terminal of its own, whose name is printed", 0},
    {"real-time", KEY_REAL_TIME, NULL, 0, "a second of the chip takes a second, or longer", 0},
    {"outputs", KEY_OUTPUTS, NULL, 0, "in the end, what it drives at the pins of the plan's outputs", 0},
    {"chip", KEY_CHIP, "NAME", 0, "as its simulator calls it (the usual one for the image's processor)", 0},
    {"hertz", KEY_HERTZ, "N", 0, "its clock (16000000)", 0},
    {0},
};

static unsigned long whole_number(struct argp_state *state, const char *option, const char *text,
                                  unsigned long most)
{
    char *end;
    errno = 0;
    const unsigned long number = strtoul(text, &end, 10);
    if (errno != 0 || *end != '\0' || end == text || text[0] == '-' || number > most)
        argp_error(state, "%s: expected a whole number from 0 to %lu", option, most);
    return number;
}

static double seconds_of(struct argp_state *state, const char *text)
{
    tl_quantity time;
    tl_text_error error;
    if (!tl_quantity_read(text, TL_DIM_SECOND, &time, &error))
        argp_error(state, "--for: %s", error.text);
    if (!(time.nominal > 0) || !(time.nominal <= 86400))
        argp_error(state, "--for: expected a time up to 24 h, such as 10s");
    return time.nominal;
}

static error_t parse(int key, char *text, struct argp_state *state)
{
    options *o = state->input;
    switch (key) {
    case 's':
        o->scene = text;
        break;
    case 'r':
        o->seed = (long)whole_number(state, "--seed", text, 1000000000);
        break;
    case KEY_FOR:
        o->seconds = seconds_of(state, text);
        break;
    case KEY_PTY:
        o->pty = true;
        break;
    case KEY_REAL_TIME:
        o->real_time = true;
        break;
    case KEY_OUTPUTS:
        o->outputs = true;
        break;
    case KEY_CHIP:
        o->chip = text;
        break;
    case KEY_HERTZ:
        o->hertz = whole_number(state, "--hertz", text, 100000000);
        if (o->hertz < 100000)
            argp_error(state, "--hertz: at least 100000");
        break;
    case ARGP_KEY_ARG:
        if (o->image != NULL)
            argp_error(state, "one plan and one image");
        *(o->plan == NULL ? &o->plan : &o->image) = text;
        break;
    case ARGP_KEY_END:
        if (o->image == NULL)
            argp_error(state, o->plan == NULL ? "which plan, and which image?" : "which image?");
        break;
    default:
        return ARGP_ERR_UNKNOWN;
    }
    return 0;
}

static const struct argp arguments = {
    rows,
    parse,
    "PLAN IMAGE",
    "Runs a compiled program (ELF) of an 8-bit AVR, or of a Cortex-M0 or RV32 in a made-up chip, on the "
    "simulated bench of its plan.\v"
    "The plan's board says with 'port: B3' where on the chip each pin is. Exit status: 0 done, 1 a pin was "
    "damaged, "
    "2 wrong usage, 3 unreadable input, 4 the program ran into what the chip cannot do.",
    NULL,
    NULL,
    NULL};

/* --- the serial line --- */

static int terminal = -1; /* the near end of its own terminal */

static void heard(void *context, char byte)
{
    (void)context;
    if (terminal < 0)
        putchar(byte);
    else if (write(terminal, &byte, 1) < 0) /* no reader: the byte is lost, as on a wire */
        return;
}

static void hear(chip *to)
{
    char byte;
    while (terminal >= 0 && read(terminal, &byte, 1) == 1)
        chip_say(to, byte);
}

static bool open_terminal(void)
{
    terminal = posix_openpt(O_RDWR | O_NOCTTY | O_NONBLOCK);
    if (terminal < 0 || grantpt(terminal) != 0 || unlockpt(terminal) != 0) {
        fprintf(stderr, "tinyladder-bench-run: --pty: %s\n", strerror(errno));
        return false;
    }
    printf("serial line: %s\n", ptsname(terminal));
    fflush(stdout);
    return true;
}

/* --- running --- */

static volatile sig_atomic_t ended;

static void on_signal(int number)
{
    (void)number;
    ended = 1;
}

static double wall(void)
{
    struct timespec now;
    clock_gettime(CLOCK_MONOTONIC, &now);
    return (double)now.tv_sec + 1e-9 * (double)now.tv_nsec;
}

static void pace(double begun, double of_chip)
{
    const double left = begun + of_chip - wall();
    if (left > 0)
        (void)nanosleep(&(struct timespec){(time_t)left, (long)(1e9 * fmod(left, 1))}, NULL);
}

static int damages_of(tl_bench *bench)
{
    int count;
    const tl_bench_damage *damages = tl_bench_damages(bench, &count);
    const tl_plan *plan = tl_circuit_plan(tl_bench_circuit(bench));
    for (int i = 0; i < count; i++) {
        const tl_bench_damage *d = &damages[i];
        char at[32], volts[32], amperes[32];
        tl_quantity_write(d->at, TL_DIM_SECOND, TL_ROUND_NEAREST, at);
        tl_quantity_write(d->volts, TL_DIM_VOLT, TL_ROUND_NEAREST, volts);
        tl_quantity_write(fabs(d->amperes), TL_DIM_AMPERE, TL_ROUND_UP, amperes);
        if (d->output != TL_NONE)
            fprintf(stderr,
                    "tinyladder-bench-run: at %s the coil of %s was let go with %s in it: it has no flyback "
                    "diode\n",
                    at, plan->outputs[d->output].name, amperes);
        else
            fprintf(stderr,
                    "tinyladder-bench-run: at %s %s was outside its absolute limits: %s, %s through it\n", at,
                    plan->pins[d->pin].name, volts, amperes);
    }
    if (tl_bench_trouble(bench) != NULL)
        fprintf(stderr, "tinyladder-bench-run: %s\n", tl_bench_trouble(bench));
    return count > 0 || tl_bench_trouble(bench) != NULL ? DAMAGED : DONE;
}

static void tell_outputs(tl_bench *bench, const chip *of)
{
    const tl_plan *plan = tl_circuit_plan(tl_bench_circuit(bench));
    for (int i = 0; i < plan->output_count; i++) {
        for (int k = 0; k < plan->outputs[i].pin_count; k++) {
            const int pin = plan->outputs[i].pins[k];
            double share;
            if (chip_drives(of, pin, &share))
                printf("%s %s %.1f %%\n", plan->outputs[i].name, plan->pins[pin].name, 100 * share);
            else
                printf("%s %s released\n", plan->outputs[i].name, plan->pins[pin].name);
        }
    }
}

static int run_on(tl_bench *bench, const options *o)
{
    char why[200];
    chip *on_bench = chip_new(bench, o->image, o->chip, o->hertz, why);
    if (on_bench == NULL) {
        fprintf(stderr, "tinyladder-bench-run: %s\n", why);
        return UNREADABLE;
    }
    if (o->pty && !open_terminal()) {
        chip_free(on_bench);
        return UNREADABLE;
    }
    const double begun = wall();
    bool on = true;
    chip_listen(on_bench, heard, NULL);
    for (double at = 0.01; on && !ended && at < o->seconds + 0.01; at += 0.01) {
        on = chip_run(on_bench, fmin(at, o->seconds));
        hear(on_bench);
        fflush(stdout);
        if (o->real_time)
            pace(begun, at);
    }
    const bool crashed = chip_crashed(on_bench);
    if (crashed)
        fprintf(stderr, "tinyladder-bench-run: at %.6g s the program met what the chip cannot do\n",
                chip_time(on_bench));
    if (o->outputs)
        tell_outputs(bench, on_bench);
    chip_free(on_bench);
    const int damaged = damages_of(bench);
    return crashed ? CRASHED : damaged;
}

static void run(void *context)
{
    options *o = context;
    tl_report *report = tl_report_new();
    tl_plan *plan = tl_plan_load(o->plan, report);
    tl_circuit *circuit = plan != NULL ? tl_circuit_new(plan) : NULL;
    tl_scene *scene = circuit == NULL    ? NULL
                      : o->scene != NULL ? tl_scene_load(o->scene, circuit, report)
                                         : tl_scene_new();
    if (scene == NULL) {
        tl_report_tell(report, stderr);
        o->status = UNREADABLE;
    } else {
        tl_bench *bench = tl_bench_new(circuit, scene, o->seed >= 0 ? (unsigned long)o->seed : scene->seed);
        o->status = run_on(bench, o);
        tl_bench_free(bench);
    }
    tl_scene_free(scene);
    tl_circuit_free(circuit);
    tl_plan_free(plan);
    tl_report_free(report);
}

int main(int argc, char **argv)
{
    options o = {.seed = -1, .seconds = 10};
    argp_err_exit_status = USAGE;
    if (argp_parse(&arguments, argc, argv, 0, NULL, &o) != 0) {
        fputs("out of memory\n", stderr);
        return 4;
    }
    signal(SIGINT, on_signal);
    signal(SIGTERM, on_signal);
    if (tl_attempt(run, &o))
        return o.status;
    fputs("tinyladder-bench-run: there is not enough memory\n", stderr);
    return UNREADABLE;
}
