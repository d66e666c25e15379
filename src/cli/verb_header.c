/* SPDX-License-Identifier: MIT */
/* tinyladder header PLAN: the plan as constants for firmware. */
#define _GNU_SOURCE
#include "base/memory.h"
#include "base/plain_text.h"
#include "base/replace_file.h"
#include "cli/cli.h"
#include "tinyladder/design/firmware.h"
#include <errno.h>
#include <math.h>
#include <spawn.h>
#include <stdlib.h>
#include <string.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

extern char **environ;

enum { LARGEST = 8 << 20 }; /* bytes of a header that is there */

typedef struct {
    const char *plan, *out, *verify;
    bool despite_errors, force, json, overlay;
} header_options;

enum { KEY_FORM = 1000 };

static const struct argp_option header_argp_options[] = {
    {"output", 'o', "FILE", 0, "write to FILE (default, and -: the terminal)", 0},
    {"verify", 'v', "FILE", 0, "compare with an existing header; print the difference", 0},
    {"despite-errors", 'd', NULL, 0, "write the header even if the plan has errors; list them in it", 0},
    {"force", 'f', NULL, 0, "overwrite FILE even if it is not the header of this plan", 0},
    {"form", KEY_FORM, "header|overlay", 0,
     "header: C constants (default); overlay: a devicetree overlay for a Linux computer, FILE.dtso", 0},
    {"json", 'j', NULL, 0, "with --output: print the accuracy of each signal as one JSON object", 0},
    {0},
};

static error_t parse_header(int key, char *text, struct argp_state *state)
{
    header_options *o = state->input;
    switch (key) {
    case 'o':
        o->out = strcmp(text, "-") == 0 ? NULL : text;
        return 0;
    case 'v':
        o->verify = text;
        return 0;
    case 'd':
        o->despite_errors = true;
        return 0;
    case 'f':
        o->force = true;
        return 0;
    case 'j':
        o->json = true;
        return 0;
    case KEY_FORM:
        o->overlay = strcmp(text, "overlay") == 0;
        if (!o->overlay && strcmp(text, "header") != 0)
            argp_error(state, "--form: '%.40s': header or overlay", text);
        return 0;
    case ARGP_KEY_ARG:
        option_file(state, "plan", &o->plan, text);
        return 0;
    case ARGP_KEY_END:
        if (o->plan == NULL)
            argp_error(state, "which plan?");
        if (o->out != NULL && o->verify != NULL)
            argp_error(state, "either --output or --verify, not both");
        if (o->json && o->overlay)
            argp_error(state, "--json: an overlay has no accuracy to print");
        if (o->json && o->out == NULL)
            argp_error(state, "--json goes with --output: else the header itself is printed");
        return 0;
    default:
        return ARGP_ERR_UNKNOWN;
    }
}

/* --- a file that is there --- */

/* Its text, to be freed; NULL with errno where it cannot be read, ENODATA where it is no text of this size.
 */
static char *text_there(const char *path)
{
    struct stat is;
    if (stat(path, &is) != 0)
        return NULL;
    if (!S_ISREG(is.st_mode)) {
        errno = ENODATA;
        return NULL;
    }
    FILE *file = fopen(path, "rb");
    if (file == NULL)
        return NULL;
    char *text = must(malloc(LARGEST + 1));
    errno = 0;
    const size_t size = fread(text, 1, LARGEST, file);
    const bool good = !ferror(file) && size < LARGEST && plain_text_length(text, size, "\n\t") == size;
    const int why = errno;
    fclose(file);
    text[size] = '\0';
    if (good)
        return text;
    free(text);
    errno = why != 0 ? why : ENODATA;
    return NULL;
}

static const char *why_not(void)
{
    return errno == ENODATA ? "this is no header" : strerror(errno);
}

/* Whether it begins as this plan's header does: its first line names the plan. */
static bool is_of_this_plan(const char *there, const char *text)
{
    const size_t length = strcspn(text, "\n");
    return strncmp(there, text, length) == 0 && there[length] == '\n';
}

/* --- what has changed --- */

static int memory_file(const char *text)
{
    const int file = memfd_create("header", 0);
    if (file >= 0 && !write_whole(file, text, strlen(text))) {
        close(file);
        return -1;
    }
    return file;
}

/* By diff, which prints it. Both texts are plain. */
static void print_difference(const char *path, const char *there, const char *text)
{
    char files[2][40];
    const int old = memory_file(there), now = memory_file(text);
    snprintf(files[0], sizeof files[0], "/dev/fd/%d", old);
    snprintf(files[1], sizeof files[1], "/dev/fd/%d", now);
    char *const words[] = {
        "diff",   "-u",     "--label", (char *)(uintptr_t)path, "--label", "the plan as it is now",
        files[0], files[1], NULL};
    pid_t child;
    fflush(stdout);
    if (old < 0 || now < 0 || posix_spawnp(&child, words[0], NULL, NULL, words, environ) != 0)
        fprintf(stderr, "tinyladder: the difference cannot be shown: diff does not start\n");
    else
        while (waitpid(child, NULL, 0) < 0 && errno == EINTR)
            continue;
    close(old);
    close(now);
}

static int verify(const char *path, const char *text)
{
    char *there = text_there(path);
    if (there == NULL) {
        fprintf(stderr, "%s: error: %s\n", path, why_not());
        return EXIT_UNREADABLE;
    }
    const bool same = strcmp(there, text) == 0;
    if (same)
        printf("%s: as the plan is\n", path);
    else
        print_difference(path, there, text);
    free(there);
    return same ? EXIT_DONE : EXIT_FOUND;
}

/* --- how near it comes --- */

static const char *way_name(tl_firmware_way way)
{
    static const char *const names[] = {"left out", "contact", "buttons", "rhythm", "line", "curve", "table"};
    return names[way];
}

/* The signals with a value; contacts and buttons have none, and are only counted. */
static void print_rows(const tl_plan *plan, const tl_firmware_row *rows)
{
    table t;
    int others = 0, values = 0;
    table_begin(&t, 7, "<<.>>>>");
    table_heads(&t, "signal", "method", "resolution", "points", "counts", "misrounded counts",
                "max error, digits");
    for (int i = 0; i < plan->signal_count; i++) {
        const tl_firmware_row *r = &rows[i];
        if (r->way < TL_FIRMWARE_RHYTHM) {
            others += r->way != TL_FIRMWARE_LEFT_OUT;
            continue;
        }
        values++;
        table_cell(&t, "%s", plan->signals[i].name);
        table_cell(&t, "%s", way_name(r->way));
        table_cell(&t, "%.*f %s", r->decimals, pow(10, -r->decimals),
                   unit_shown(plan->signals[i].reading.unit));
        table_cell(&t, "%.0d", r->points); /* nothing for 0 */
        table_cell(&t, "%.0ld", r->counts);
        table_cell(&t, "%ld", r->wrong);
        table_cell(&t, "%.2f", r->deviation);
    }
    if (values > 0) {
        table_join_rows(&t, 1);
        table_end(&t, stdout, "  ");
        putchar('\n');
    } else {
        table_drop(&t);
    }
    if (others > 0)
        printf("%d signal%s without a value: contacts, and buttons that share a pin.\n", others,
               others > 1 ? "s" : "");
    for (int i = 0; i < plan->signal_count; i++) {
        if (rows[i].way == TL_FIRMWARE_LEFT_OUT)
            printf("%s is left out: %s\n", plan->signals[i].name, rows[i].why);
    }
}

static void print_rows_json(const char *path, const tl_plan *plan, const tl_firmware_row *rows)
{
    json_t *list = json_array();
    for (int i = 0; i < plan->signal_count; i++) {
        const tl_firmware_row *r = &rows[i];
        const bool value = r->way >= TL_FIRMWARE_RHYTHM, counted = r->way >= TL_FIRMWARE_LINE;
        json_array_append_new(
            list, json_pack("{s:s,s:s,s:o,s:o,s:o,s:o,s:o,s:o}", "signal", plan->signals[i].name, "as",
                            way_name(r->way), "decimals", value ? json_integer(r->decimals) : json_null(),
                            "points", r->points > 0 ? json_integer(r->points) : json_null(), "counts",
                            counted ? json_integer(r->counts) : json_null(), "wrong",
                            counted ? json_integer(r->wrong) : json_null(), "deviation_digits",
                            value ? json_number(r->deviation) : json_null(), "why",
                            r->why[0] != '\0' ? json_string(r->why) : json_null()));
    }
    json_print(json_pack("{s:s,s:o}", "header", path, "signals", list));
}

/* --- the whole --- */

static int write_out(const header_options *o, const tl_plan *plan, const char *text,
                     const tl_firmware_row *rows)
{
    if (o->out == NULL) {
        fputs(text, stdout);
        return EXIT_DONE;
    }
    if (!o->force && access(o->out, F_OK) == 0) {
        char *there = text_there(o->out);
        const bool own = there != NULL && is_of_this_plan(there, text);
        const bool whole =
            own && (o->overlay ? tl_overlay_is_whole(there) : tl_firmware_header_is_whole(there));
        free(there);
        if (!whole) {
            fprintf(stderr, "%s: error: it is there, and %s; --force writes over it\n", o->out,
                    own          ? "was changed by hand since it was made"
                    : o->overlay ? "no overlay of this plan"
                                 : "no header of this plan");
            return EXIT_HARDWARE;
        }
    }
    if (!replace_file(o->out, text, strlen(text))) {
        fprintf(stderr, "%s: error: %s\n", o->out, strerror(errno));
        return EXIT_HARDWARE;
    }
    if (o->json) {
        print_rows_json(o->out, plan, rows);
        return EXIT_DONE;
    }
    printf("%s: %s\n%s", o->out, plan->title, o->overlay ? "" : "\n");
    if (!o->overlay)
        print_rows(plan, rows);
    return EXIT_DONE;
}

/* Errors of the plan, unless they are accepted; true where nothing stands in the way. */
static bool is_fit(const header_options *o, const tl_report *report)
{
    const int errors = tl_report_at_least(report, TL_ERROR);
    if (errors == 0 || o->despite_errors)
        return true;
    for (int i = 0; i < tl_report_count(report); i++) {
        const tl_finding *f = tl_report_finding(report, i);
        if (f->severity == TL_ERROR)
            print_finding(stderr, report, f, NULL);
    }
    fprintf(stderr,
            "tinyladder: the plan has %d error%s: no header is made of it. --despite-errors makes one.\n",
            errors, errors == 1 ? "" : "s");
    return false;
}

static int make(const header_options *o, const tl_plan *plan, tl_report *report)
{
    tl_circuit *circuit = tl_circuit_new(plan);
    tl_firmware_row *rows = must(calloc((size_t)plan->signal_count + 1, sizeof *rows));
    char why[200];
    int status = EXIT_FOUND;
    tl_plan_check(circuit, report);
    char *text = !is_fit(o, report) ? NULL
                 : o->overlay       ? tl_overlay(circuit)
                                    : tl_firmware_header(circuit, report, rows, why);
    if (text != NULL)
        status = o->verify != NULL ? verify(o->verify, text) : write_out(o, plan, text, rows);
    else if (tl_report_at_least(report, TL_ERROR) == 0 || o->despite_errors)
        fprintf(stderr, "%s: error: %s\n", o->plan, why);
    free(text);
    free(rows);
    tl_circuit_free(circuit);
    return status;
}

static int run_header(int argc, char **argv)
{
    static const struct argp argp = {
        header_argp_options,
        parse_header,
        "PLAN",
        "Write the plan as constants for C11 and C++17 firmware: inputs, lines, values in the unit of each "
        "signal, percent, faults, multiplexers, scans, ADCs on buses and outputs. Every count is "
        "tested.\vExample: tinyladder header demo/fernhill.plan.yaml -o fernhill_plan.h",
        NULL,
        NULL,
        NULL};
    header_options o = {0};
    options_parse(&argp, argc, argv, &o);
    tl_report *report = new_report();
    tl_plan *plan = tl_plan_load(o.plan, report);
    const int status = plan != NULL ? make(&o, plan, report) : print_unreadable(report);
    tl_plan_free(plan);
    tl_report_free(report);
    return status;
}

const verb verb_header = {"header", "Write the plan as C constants for your firmware.", run_header};
