/* tinyladder demo: the tour. Every step is the command itself on the demo data, as a user would type it. */
#include "cli/cli.h"
#include <limits.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

typedef struct {
    const char *folder;
} demo_options;

static const struct argp_option demo_argp_options[] = {
    {"data", 'd', "FOLDER", 0, "folder of the demo data (default: beside the program, else ./demo)", 0},
    {0},
};

static error_t parse_demo(int key, char *text, struct argp_state *state)
{
    demo_options *o = state->input;
    switch (key) {
    case 'd':
        o->folder = text;
        return 0;
    case ARGP_KEY_ARG:
        argp_error(state, "'%.60s' is one argument too many", text);
        return 0;
    default:
        return ARGP_ERR_UNKNOWN;
    }
}

/* Whether the data lies there; the path is then made plain. */
static bool is_data(const char *folder, char path[PATH_MAX])
{
    char plan[PATH_MAX + 32];
    snprintf(plan, sizeof plan, "%s/fernhill.plan.yaml", folder);
    if (access(plan, R_OK) != 0)
        return false;
    if (folder[0] != '/') /* as the user would type it */
        snprintf(path, PATH_MAX, "%s", folder);
    return folder[0] != '/' || realpath(folder, path) != NULL;
}

/* Finds the data: where the option says, or ./demo, or beside the program as built or installed. */
static bool find_data(const char *wanted, char path[PATH_MAX])
{
    static const char *const places[] = {"../demo", "../share/tinyladder/demo"};
    char program[PATH_MAX] = "", folder[PATH_MAX + 64];
    if (wanted != NULL)
        return is_data(wanted, path);
    if (is_data("demo", path))
        return true;
    const ssize_t length = readlink("/proc/self/exe", program, sizeof program - 1);
    char *slash = length > 0 ? strrchr(program, '/') : NULL;
    if (slash == NULL)
        return false;
    *slash = '\0';
    for (size_t i = 0; i < sizeof places / sizeof places[0]; i++) {
        snprintf(folder, sizeof folder, "%s/%s", program, places[i]);
        if (is_data(folder, path))
            return true;
    }
    return false;
}

enum { WORDS_MOST = 12 };
typedef struct {
    const verb *verb;
    const char *text;              /* what the step is about */
    const char *words[WORDS_MOST]; /* arguments; one with '/' first is a file of the demo data */
    int status;                    /* how it is meant to end */
} tour_step;

static const tour_step tour[] = {
    {&verb_size,
     "1. The house battery has 10.5 V to 14.8 V; the pin takes 3.2 V at most. Which two resistors\n"
     "   bring it down, without costing the battery more than half a milliampere?",
     {"divider", "--vin", "10.5V..14.8V", "--vmax", "3.2V", "--max-current", "500uA"},
     EXIT_DONE},
    {&verb_check,
     "2. The whole plan is one file: 27 signals, from the source to the pin. Is it sound in every\n"
     "   corner of its tolerances, before anything is powered?",
     {"/fernhill.plan.yaml"},
     EXIT_DONE},
    {&verb_check,
     "3. The same battery, straight on the pin: what the checker is for.",
     {"/faulty/over-limit.plan.yaml"},
     EXIT_FOUND},
    {&verb_read,
     "4. The plan on a simulated bench, ten minutes into an evening, read by the very code that runs\n"
     "   on the microcontroller. Each figure says how far it can be trusted.",
     {"/fernhill.plan.yaml", "--scene", "/evening.scene.yaml", "--at", "10min"},
     EXIT_DONE},
    {&verb_read,
     "5. And while the roof rolls, a finger is on the button and another on the keypad.",
     {"/fernhill.plan.yaml", "--scene", "/evening.scene.yaml", "--at", "71.1s"},
     EXIT_DONE},
    {&verb_read,
     "6. The mirror's cable comes off after 20 minutes: what does the evening look like then?",
     {"/fernhill.plan.yaml", "mirror-temperature", "heater-1", "--scene", "/evening.scene.yaml", "--at",
      "18min", "--times", "5", "--every", "4min"},
     EXIT_DONE},
    {&verb_trim,
     "7. Hold it against a meter: is what is off explained by the parts, and what would take it away?",
     {"/fernhill.plan.yaml", "house-battery", "--scene", "/evening.scene.yaml", "--live", "0s,20min,40min"},
     EXIT_DONE},
    {&verb_header,
     "8. Into the firmware: what the plan says of a battery, as constants that were tried at every count.",
     {"/sound/budget-just-kept.plan.yaml"},
     EXIT_DONE},
};

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
        printf(" %s", paths[i]);
    }
    words[count] = NULL;
    printf("\n\n");
    const int status = step->verb->run(count, words);
    printf("\n%s   exit status %d%s\n\n", ink_on(stdout, INK_FAINT), status, ink_off(stdout));
    return status;
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
    if (!find_data(o.folder, folder)) {
        fprintf(stderr, "tinyladder: cannot find the demo data%s%s; say where with --data FOLDER\n",
                o.folder != NULL ? " in " : "", o.folder != NULL ? o.folder : "");
        return EXIT_UNREADABLE;
    }
    for (size_t i = 0; i < sizeof tour / sizeof tour[0]; i++) {
        const int status = run_step(&tour[i], folder);
        if (status != tour[i].status) {
            fprintf(stderr, "tinyladder: this step should have ended with status %d\n", tour[i].status);
            return EXIT_HARDWARE;
        }
    }
    printf("That was the tour. The plan is %s/fernhill.plan.yaml: change a number and check it again.\n",
           folder);
    return EXIT_DONE;
}

const verb verb_demo = {"demo", "Show a tour of the commands on the demo data.", run_demo};
