/* SPDX-License-Identifier: MIT */
/* tinyladder new KIND: a file to begin with, made of the key tables: what is required, and as comments what
 * is optional. */
#include "base/memory.h"
#include "base/replace_file.h"
#include "cli/cli.h"
#include "cli/new_board.h"
#include "model/keys.h"
#include <errno.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

typedef struct {
    const char *kind, *out;
    bool force, described; /* described: something is known of the board */
    new_board board;
} new_options;

enum { KEY_SUPPLY = 1000, KEY_BITS, KEY_ANALOG, KEY_DIGITAL, KEY_REFERENCE, KEY_TITLE };

static const struct argp_option new_argp_options[] = {
    {"output", 'o', "FILE", 0, "write to FILE (default, and -: the terminal)", 0},
    {"force", 'f', NULL, 0, "overwrite an existing file", 0},
    {0, 0, NULL, 0, "Of a board, what is known of it: the rest is marked as the template's", 1},
    {"title", KEY_TITLE, "NAME", 0, "title of the board (default: Own board)", 1},
    {"supply", KEY_SUPPLY, "VOLTS", 0, "supply voltage of the pins, such as '3.3 V ±2 %'", 1},
    {"bits", KEY_BITS, "N", 0, "resolution of the ADC in bits, 4 to 16", 1},
    {"reference", KEY_REFERENCE, "VOLTS", 0, "second reference of the ADC, such as '1.2 V ±3 %'", 1},
    {"analog", KEY_ANALOG, "N", 0, "number of pins with an ADC input", 1},
    {"digital", KEY_DIGITAL, "N", 0, "number of other pins", 1},
    {0},
};

static error_t parse_new(int key, char *text, struct argp_state *state)
{
    new_options *o = state->input;
    o->described = o->described || (key >= KEY_SUPPLY && key <= KEY_TITLE);
    switch (key) {
    case KEY_TITLE:
        o->board.title = text;
        return 0;
    case KEY_SUPPLY:
        option_quantity(state, "supply", text, TL_DIM_VOLT);
        o->board.supply = text;
        return 0;
    case KEY_REFERENCE:
        option_quantity(state, "reference", text, TL_DIM_VOLT);
        o->board.reference = text;
        return 0;
    case KEY_BITS:
        o->board.bits = option_number(state, "bits", text, 4, 16);
        return 0;
    case KEY_ANALOG:
        o->board.analog = option_number(state, "analog", text, 0, 64);
        return 0;
    case KEY_DIGITAL:
        o->board.digital = option_number(state, "digital", text, 0, 200);
        return 0;
    case 'o':
        o->out = strcmp(text, "-") == 0 ? NULL : text;
        return 0;
    case 'f':
        o->force = true;
        return 0;
    case ARGP_KEY_ARG:
        option_file(state, "kind of file", &o->kind, text);
        return 0;
    case ARGP_KEY_END:
        if (o->kind == NULL)
            argp_error(state, "which kind? plan, board, converter, mux, drawer, plug-in or scene");
        if (o->described && strcmp(o->kind, "board") != 0)
            argp_error(state,
                       "--supply, --bits, --reference, --analog, --digital and --title are for a board");
        if (o->board.analog == 0 && o->board.digital == 0)
            argp_error(state, "a board needs pins");
        if (o->board.analog == 0 && (o->board.bits >= 0 || o->board.reference != NULL))
            argp_error(state, "--bits and --reference are of an ADC, which has analog pins");
        return 0;
    default:
        return ARGP_ERR_UNKNOWN;
    }
}

/* Names of a map in braces are on lines of their own; what they hold stays in one. */
static void write_value(FILE *to, const known_key *key)
{
    const char *at = key->example;
    const size_t length = strlen(at);
    if ((key->form != KEY_NAMED && key->form != KEY_MAP) || at[0] != '{' || length < 60) {
        fprintf(to, " %s", at);
        return;
    }
    int depth = 0;
    fputs("\n  ", to);
    for (size_t i = 1; i + 1 < length; i++) {
        depth += (at[i] == '{' || at[i] == '[') - (at[i] == '}' || at[i] == ']');
        if (depth == 0 && at[i] == ',') {
            fputs("\n  ", to);
            i += at[i + 1] == ' ';
        } else {
            fputc(at[i], to);
        }
    }
}

static void write_sentence(FILE *to, const known_key *key)
{
    fprintf(to, "  # %s", key->sentence);
    if (key->otherwise != NULL)
        fprintf(to, " (default: %s)", key->otherwise);
    fputc('\n', to);
}

/* What has no default comes first; a plan without a signal would be none. */
static bool is_wanted(const known_key *key)
{
    return key->example != NULL && (key->needed || key->otherwise == NULL || key->section == &keys_signal);
}

static void write_file(FILE *to, const file_kind *kind)
{
    for (const known_key *key = kind->section->keys; key->name != NULL; key++) {
        if (!is_wanted(key))
            continue;
        fprintf(to, "%s:", key->name);
        if (strcmp(key->name, "title") != 0 && strcmp(key->name, "tinyladder") != 0 &&
            strlen(key->example) >= 60) {
            fprintf(to, "  # %s", key->sentence);
            write_value(to, key);
            fputc('\n', to);
        } else {
            write_value(to, key);
            write_sentence(to, key);
        }
    }
    fputs("\n# Optional keys, each with its default:\n", to);
    for (const known_key *key = kind->section->keys; key->name != NULL; key++) {
        if (is_wanted(key))
            continue;
        fprintf(to, "# %s: %s", key->name, key->example != NULL ? key->example : "{..}");
        write_sentence(to, key);
    }
}

static int run_new(int argc, char **argv)
{
    static const struct argp argp = {
        new_argp_options,
        parse_new,
        "plan|board|converter|mux|drawer|plug-in|scene",
        "Make a new file. It has every required key with an example, and every optional key as a comment.",
        NULL,
        NULL,
        NULL};
    new_options o = {.board = {.bits = -1, .analog = -1, .digital = -1}};
    options_parse(&argp, argc, argv, &o);
    const file_kind *kind = file_kinds;
    while (kind->kind != NULL && strcmp(kind->kind, o.kind) != 0)
        kind++;
    if (kind->kind == NULL) {
        fprintf(stderr,
                "tinyladder: new: '%.40s' is no kind of file: plan, board, converter, mux, drawer, plug-in or scene\n",
                o.kind);
        return EXIT_USAGE;
    }
    char *text = NULL;
    size_t size = 0;
    FILE *to = tl_text_begin(&text, &size);
    if (o.described)
        new_board_write(to, &o.board);
    else
        write_file(to, kind);
    tl_text_end(to, &text);
    int status = EXIT_DONE;
    if (o.out == NULL) {
        fwrite(text, 1, size, stdout);
    } else if (!o.force && access(o.out, F_OK) == 0) {
        fprintf(stderr, "%s: error: it is there already; --force writes over it\n", o.out);
        status = EXIT_HARDWARE;
    } else if (!replace_file(o.out, text, size)) {
        fprintf(stderr, "%s: error: %s\n", o.out, strerror(errno));
        status = EXIT_HARDWARE;
    } else {
        printf("%s: new %s file\n", o.out, kind->kind);
    }
    free(text);
    return status;
}

const verb verb_new = {"new", "Make a new plan, board file or part file with comments.", run_new};
