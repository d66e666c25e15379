/* tinyladder sheet PLAN [SIGNAL...] -o FILE: what one wires by, on paper. */
#include "cli/cli.h"
#include <string.h>
#include <unistd.h>

typedef struct {
    const char *plan, *output;
    const char *names[256];
    int name_count;
    bool letter;
} sheet_arguments;

enum { KEY_PAPER = 1000 };

static const struct argp_option sheet_rows[] = {
    {"output", 'o', "FILE", 0, "file to write: .pdf, .svg or .png; of .svg and .png one file a page", 0},
    {"paper", KEY_PAPER, "a4|letter", 0, "paper (default: a4)", 0},
    {0},
};

static error_t parse_sheet(int key, char *text, struct argp_state *state)
{
    sheet_arguments *a = state->input;
    switch (key) {
    case 'o':
        a->output = text;
        break;
    case KEY_PAPER:
        if (strcmp(text, "a4") != 0 && strcmp(text, "letter") != 0)
            argp_error(state, "--paper: '%s': a4 or letter", text);
        a->letter = strcmp(text, "letter") == 0;
        break;
    case ARGP_KEY_ARG:
        if (a->plan == NULL)
            a->plan = text;
        else if (a->name_count < (int)(sizeof a->names / sizeof a->names[0]))
            a->names[a->name_count++] = text;
        break;
    case ARGP_KEY_END:
        if (a->plan == NULL)
            argp_error(state, "which plan?");
        if (a->output == NULL)
            argp_error(state, "which file? Such as: tinyladder sheet %s -o sheet.pdf", a->plan);
        break;
    default:
        return ARGP_ERR_UNKNOWN;
    }
    return 0;
}

static const struct argp sheet_argp = {
    sheet_rows,
    parse_sheet,
    "PLAN [SIGNAL...]",
    "Draws the bench sheet of a plan: circuits, wiring list, header, checkpoints and parts.\v"
    "A number in a little box beside a part is its row in the wiring list; a number in a disc is a "
    "checkpoint. "
    "Without signals the sheet has all of them.",
    NULL,
    NULL,
    NULL};

static bool has_form(const char *path)
{
    static const char *const endings[] = {".pdf", ".svg", ".png"};
    const char *dot = strrchr(path, '.');
    for (int i = 0; i < 3 && dot != NULL; i++) {
        if (strcmp(dot, endings[i]) == 0)
            return true;
    }
    return false;
}

/* What it draws with would cost every verb its start, so it is a program of its own. */
static int run_sheet(int argc, char **argv)
{
    sheet_arguments a = {.plan = NULL};
    char path[600];
    const char *words[300] = {NULL};
    int count = 5;
    options_parse(&sheet_argp, argc, argv, &a);
    if (!has_form(a.output)) {
        fprintf(stderr, "tinyladder: --output: '%s': expected a name that ends in .pdf, .svg or .png\n",
                a.output);
        return EXIT_USAGE;
    }
    words[0] = path;
    words[1] = a.plan;
    words[2] = a.output;
    words[3] = a.letter ? "letter" : "a4";
    words[4] = outside_is_allowed() ? "outside" : "inside";
    for (int i = 0; i < a.name_count; i++)
        words[count++] = a.names[i];
    if (helper_program("tinyladder-sheet", path))
        (void)execv(path, (char *const *)words);
    fprintf(stderr,
            "tinyladder: the program tinyladder-sheet is missing: it needs pangocairo when it is built\n");
    return EXIT_UNREADABLE;
}

const verb verb_sheet = {"sheet", "Draw the bench sheet of a plan: circuits, wiring list, checkpoints.",
                         run_sheet};
