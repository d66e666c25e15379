/* SPDX-License-Identifier: MIT */
/* tinyladder sheet PLAN [SIGNAL...] -o FILE: what one wires by, on paper. */
#include "cli/cli.h"
#include "sheet/paper.h"
#include <string.h>
#include <unistd.h>

typedef struct {
    const char *plan, *output, *form, *checked;
    const char *names[256];
    int name_count;
    bool letter, circuits;
} sheet_arguments;

enum { KEY_PAPER = 1000, KEY_FORM, KEY_CHECKED, KEY_CIRCUITS };

static const struct argp_option sheet_rows[] = {
    {"output", 'o', "FILE", 0,
     "file to write: .pdf, .svg, .png, .html or .txt; of .svg and .png one file a page", 0},
    {"form", KEY_FORM, "pdf|svg|png|html|txt", 0,
     "what it is, whatever FILE ends in; txt without a FILE goes to the terminal", 0},
    {"circuits", KEY_CIRCUITS, NULL, 0,
     "the circuits alone: of .svg one drawing as large as they are, or txt", 0},
    {"checked", KEY_CHECKED, "FILE.csv", 0,
     "readings that were written down at the checkpoints: which agree, and what to ask about the others", 0},
    {"paper", KEY_PAPER, "a4|letter", 0, "paper (default: a4)", 0},
    {0},
};

static const char *form_called(const char *name)
{
    for (int i = 0; i < SHEET_FORMS; i++) {
        if (strcmp(name, sheet_form_names[i]) == 0)
            return sheet_form_names[i];
    }
    return NULL;
}

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
    case KEY_FORM:
        a->form = form_called(text);
        if (a->form == NULL)
            argp_error(state, "--form: '%s': pdf, svg, png, html or txt", text);
        break;
    case KEY_CIRCUITS:
        a->circuits = true;
        break;
    case KEY_CHECKED:
        a->checked = text;
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
        if (a->checked != NULL && (a->output != NULL || a->form != NULL))
            argp_error(state, "--checked: it draws nothing: without --output and --form");
        else if (a->checked == NULL && a->output == NULL && (a->form == NULL || strcmp(a->form, "txt") != 0))
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
    "Draw the bench sheet of a plan: circuits, wiring list, header, checkpoints and parts.\v"
    "A number in a little box beside a part is its row in the wiring list; a number in a disc is a "
    "checkpoint. "
    "Without signals the sheet has all of them.",
    NULL,
    NULL,
    NULL};

/* What it draws with would cost every verb its start, so it is a program of its own. */
static int run_sheet(int argc, char **argv)
{
    sheet_arguments a = {.plan = NULL};
    char path[600];
    const char *words[300] = {NULL};
    int count = 6;
    options_parse(&sheet_argp, argc, argv, &a);
    const char *dot = a.output != NULL ? strrchr(a.output, '.') : NULL;
    if (a.form == NULL && dot != NULL)
        a.form = form_called(dot + 1);
    if (a.form == NULL && a.checked == NULL) {
        fprintf(stderr,
                "tinyladder: --output: '%s': expected a name that ends in .pdf, .svg, .png, .html or .txt\n",
                a.output);
        return EXIT_USAGE;
    }
    if (a.circuits && (a.checked != NULL || (strcmp(a.form, "svg") != 0 && strcmp(a.form, "txt") != 0))) {
        fprintf(stderr, "tinyladder: --circuits: only as .svg or .txt\n");
        return EXIT_USAGE;
    }
    words[0] = path;
    words[1] = a.plan;
    words[2] = a.checked != NULL ? a.checked : a.output != NULL ? a.output : "-";
    words[3] = a.checked != NULL ? "checked" : a.form;
    words[4] = a.circuits ? "circuits" : a.letter ? "letter" : "a4";
    words[5] = outside_is_allowed() ? "outside" : "inside";
    for (int i = 0; i < a.name_count; i++)
        words[count++] = a.names[i];
    if (helper_program("tinyladder-sheet", path))
        (void)execv(path, (char *const *)words);
    fprintf(stderr, "tinyladder: the program tinyladder-sheet is missing beside this one\n");
    return EXIT_UNREADABLE;
}

const verb verb_sheet = {"sheet", "Draw the bench sheet of a plan: circuits, wiring list, checkpoints.",
                         run_sheet};
