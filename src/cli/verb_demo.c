/* SPDX-License-Identifier: MIT */
/* tinyladder demo: the tour. Every step is the command itself on the demo data, as a user would type it. Of a
 * long answer the lines that matter are shown. */
#define _GNU_SOURCE /* memfd_create */
#include "cli/cli.h"
#include "cli/demo_data.h"
#include <errno.h>
#include <limits.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/mman.h>
#include <sys/wait.h>
#include <unistd.h>

typedef struct {
    const char *folder;
    bool all;
} demo_options;

static const struct argp_option demo_argp_options[] = {
    {"data", 'd', "FOLDER", 0, "folder of the demo data (default: beside the program, else ./demo)", 0},
    {"all", 'a', NULL, 0, "do not wait between the steps (default: wait on a terminal)", 0},
    {0},
};

static error_t parse_demo(int key, char *text, struct argp_state *state)
{
    demo_options *o = state->input;
    switch (key) {
    case 'd':
        o->folder = text;
        return 0;
    case 'a':
        o->all = true;
        return 0;
    case ARGP_KEY_ARG:
        argp_error(state, "'%.60s' is one argument too many", text);
        return 0;
    default:
        return ARGP_ERR_UNKNOWN;
    }
}

enum { WORDS_MOST = 13, LINES_MOST = 13 };
typedef struct {
    const verb *verb;
    const char *text;              /* what the step is about */
    const char *words[WORDS_MOST]; /* arguments; one with '/' first is a file of the demo data */
    int status;                    /* how it is meant to end */
    const char *lines[LINES_MOST]; /* beginnings of the lines that are shown; none: all lines */
} tour_step;

static const tour_step tour[] = {
    {&verb_size,
     "1. The house battery has 10.5 V to 14.8 V, and the pin allows 3.2 V. Which two resistors divide the\n"
     "   voltage, with at most 0.5 mA from the battery?",
     {"divider", "--vin", "10.5V..14.8V", "--vmax", "3.2V", "--max-current", "500uA"},
     EXIT_DONE,
     {"  Pick:", "  current limit.", "   ", "  upper  ", "  lower  ", "  tap voltage", "  of the limit",
      "  current,", "  source res", "Plan lines", "  - divider"}},
    {&verb_check,
     "2. One plan file describes 27 signals, from source to pin. Is it safe in every corner of its\n"
     "   tolerances, before anything is powered?",
     {"/fernhill.plan.yaml"},
     EXIT_DONE,
     {"Fernhill", "Worst case", "Absolute", "   ", "  analog signal       pin      ", "  house-battery",
      "  wind-vane", "  heater", "  digital signal   pin", "  open-button", "  stop-button"}},
    {&verb_check,
     "3. The same battery without a divider: a finding with its fix.",
     {"/faulty/over-limit.plan.yaml"},
     EXIT_FOUND,
     {NULL}},
    {&verb_read,
     "4. The plan on a simulated bench, 71 seconds into an evening: the roof is open, one finger is on a\n"
     "   button and another on the keypad. The bounds of each value are guaranteed.",
     {"/fernhill.plan.yaml", "house-battery", "roof-position", "wind-vane", "keypad", "heater-1",
      "open-button", "close-button", "--scene", "/evening.scene.yaml", "--at", "71.1s"},
     EXIT_DONE,
     {NULL}},
    {&verb_read,
     "5. The cable of the mirror sensor comes off after 20 minutes: what does firmware read?",
     {"/fernhill.plan.yaml", "mirror-temperature", "heater-1", "--scene", "/evening.scene.yaml", "--at",
      "18min", "--times", "5", "--every", "4min"},
     EXIT_DONE,
     {NULL}},
    {&verb_trim,
     "6. Compare the reading with a meter: do the tolerances explain the difference?",
     {"/fernhill.plan.yaml", "house-battery", "--scene", "/evening.scene.yaml", "--live", "0s,20min,40min"},
     EXIT_DONE,
     {NULL}},
    {&verb_explain,
     "7. On the real board a battery of 12.6 V reads 0. What is wrong, and what should you measure next?",
     {"/fernhill.plan.yaml", "house-battery", "--saw", "0 0 1", "--source", "12.6 V ±0.1 V", "--most", "3"},
     EXIT_FOUND,
     {NULL}},
    {&verb_sheet,
     "8. What you take to the bench: circuit, wiring list, and what your meter must show. (-o sheet.pdf\n"
     "   draws it; -o sheet.html is a page that judges your readings.)",
     {"/fernhill.plan.yaml", "house-battery", "--form", "txt"},
     EXIT_DONE,
     {NULL}},
    {&verb_header,
     "9. Into the firmware: the constants of a battery signal, tested at every count.",
     {"/fernhill.plan.yaml"},
     EXIT_DONE,
     {"/* --- house-battery", "   L4:", "static const TL_ROM tl_line house_battery",
      "static inline int16_t house_battery", "static inline uint8_t house_battery", "enum { HOUSE_BATTERY"}},
};

/* --- a step --- */

static bool is_shown(const tour_step *step, const char *line)
{
    for (int i = 0; i < LINES_MOST && step->lines[i] != NULL; i++) {
        if (strncmp(line, step->lines[i], strlen(step->lines[i])) == 0)
            return true;
    }
    return false;
}

/* The lines of an answer that a step shows; a gap is three dots. */
static void print_lines(FILE *from, const tour_step *step)
{
    char *line = NULL;
    size_t room = 0;
    bool gap = false, blank = false;
    while (getline(&line, &room, from) > 0) {
        line[strcspn(line, "\n")] = '\0';
        if (line[0] == '\0') {
            blank = true;
        } else if (is_shown(step, line)) {
            printf("%s%s%s\n", gap ? "  ...\n" : "", blank ? "\n" : "", line);
            gap = blank = false;
        } else {
            gap = true;
        }
    }
    if (gap)
        puts("  ...");
    free(line);
}

/* In a process of its own: some verbs become another program. Its answer goes to a file, or to the terminal
 * where that is -1. */
static int run_verb_alone(const tour_step *step, int count, char **words, int answer)
{
    int status = 0;
    fflush(stdout);
    const pid_t child = fork();
    if (child == 0) {
        if (answer >= 0 && dup2(answer, STDOUT_FILENO) < 0)
            _exit(EXIT_HARDWARE);
        exit(step->verb->run(count, words));
    }
    while (child > 0 && waitpid(child, &status, 0) < 0 && errno == EINTR)
        continue;
    if (child > 0 && WIFEXITED(status))
        return WEXITSTATUS(status);
    perror("tinyladder: demo");
    return EXIT_HARDWARE;
}

/* The answer goes into a file in memory, and of that the lines of the step to the terminal. */
static int run_filtered(const tour_step *step, int count, char **words)
{
    const int answer = memfd_create("answer", MFD_CLOEXEC);
    if (answer < 0) {
        perror("tinyladder: demo");
        return EXIT_HARDWARE;
    }
    const int status = run_verb_alone(step, count, words, answer);
    lseek(answer, 0, SEEK_SET);
    FILE *from = fdopen(answer, "r");
    if (from == NULL)
        return EXIT_HARDWARE;
    print_lines(from, step);
    fclose(from);
    return status;
}

static int run_step(const tour_step *step, const char *folder)
{
    char paths[WORDS_MOST][PATH_MAX + 64], name[64];
    char *words[WORDS_MOST + 2];
    int count = 1;
    printf("%s%s%s\n\n   $ tinyladder %s", ink_on(stdout, INK_STRONG), step->text, ink_off(stdout),
           step->verb->name);
    snprintf(name, sizeof name, "tinyladder %s", step->verb->name);
    words[0] = name;
    for (int i = 0; i < WORDS_MOST && step->words[i] != NULL; i++) {
        snprintf(paths[i], sizeof paths[i], "%s%s", step->words[i][0] == '/' ? folder : "", step->words[i]);
        words[count++] = paths[i];
        printf(strchr(paths[i], ' ') != NULL ? " '%s'" : " %s", paths[i]);
    }
    words[count] = NULL;
    printf("\n\n");
    const int status =
        step->lines[0] != NULL ? run_filtered(step, count, words) : run_verb_alone(step, count, words, -1);
    printf("\n%s   exit status %d%s\n\n", ink_on(stdout, INK_FAINT), status, ink_off(stdout));
    return status;
}

/* Waits for Enter; false where the user has seen enough. */
static bool wait_for_user(void)
{
    char line[80];
    printf("%s   Enter: next step; q: quit %s", ink_on(stdout, INK_FAINT), ink_off(stdout));
    fflush(stdout);
    const bool goes_on = fgets(line, sizeof line, stdin) != NULL && line[0] != 'q';
    putchar('\n');
    return goes_on;
}

static int run_demo(int argc, char **argv)
{
    static const struct argp argp = {demo_argp_options,
                                     parse_demo,
                                     NULL,
                                     "Show a tour of the commands on the demo data.",
                                     NULL,
                                     NULL,
                                     NULL};
    demo_options o = {0};
    char folder[PATH_MAX];
    options_parse(&argp, argc, argv, &o);
    if (!demo_data_find(o.folder, folder)) {
        fprintf(stderr, "tinyladder: cannot find the demo data%s%s; say where with --data FOLDER\n",
                o.folder != NULL ? " in " : "", o.folder != NULL ? o.folder : "");
        return EXIT_UNREADABLE;
    }
    const bool waits = !o.all && isatty(STDIN_FILENO) && isatty(STDOUT_FILENO);
    for (size_t i = 0; i < sizeof tour / sizeof tour[0]; i++) {
        if (i > 0 && waits && !wait_for_user())
            return EXIT_DONE;
        const int status = run_step(&tour[i], folder);
        if (status != tour[i].status) {
            fprintf(stderr, "tinyladder: this step should have ended with status %d\n", tour[i].status);
            return EXIT_HARDWARE;
        }
    }
    printf("That was the tour. Three things to try:\n\n"
           "  tinyladder new board -o own.board.yaml; tinyladder new plan -o own.plan.yaml\n"
           "      a plan of your own: change it, and check it with 'tinyladder check own.plan.yaml'\n"
           "  tinyladder watch %s/fernhill.plan.yaml --scene %s/evening.scene.yaml\n"
           "      the whole bench, live: turn and press with the arrows and space\n"
           "  tinyladder explain %s/cold-frame.plan.yaml --mystery 4 --ask\n"
           "      a hidden fault: find it with as few measurements as you can\n",
           folder, folder, folder);
    return EXIT_DONE;
}

const verb verb_demo = {"demo", "Show a tour of the commands on the demo data.", run_demo};
