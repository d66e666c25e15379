/* SPDX-License-Identifier: MIT */
/* Options that say a quantity, a number or a file: read, or refused as wrong usage. */
#include "printing/options.h"
#include "base/nearest_name.h"
#include "printing/printing.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

enum { OPTIONS_MOST = 120 };

/* The long options of a verb, its children's among them, and argp's own. */
typedef struct {
    const char *names[OPTIONS_MOST];
    int count;
} option_names;

static void add_names(const struct argp *argp, option_names *of)
{
    for (const struct argp_option *o = argp->options;
         o != NULL && (o->name != NULL || o->key != 0 || o->doc != NULL); o++) {
        if (o->name != NULL && of->count < OPTIONS_MOST) /* hidden ones, too: they are understood */
            of->names[of->count++] = o->name;
    }
    for (const struct argp_child *child = argp->children; child != NULL && child->argp != NULL; child++)
        add_names(child->argp, of);
}

static const char *name_at(const void *list, int i)
{
    return ((const option_names *)list)->names[i];
}

/* Whether it is one of them, or the beginning of one, as getopt takes it. */
static bool is_known(const option_names *of, const char *name, size_t length)
{
    for (int i = 0; i < of->count; i++) {
        if (strncmp(of->names[i], name, length) == 0)
            return true;
    }
    return false;
}

const char *did_you_mean(const char *meant, char text[100])
{
    snprintf(text, 100, meant != NULL ? "; did you mean '%.70s'?" : "%.0s", meant != NULL ? meant : "");
    return text;
}

void options_parse(const struct argp *argp, int argc, char **argv, void *input)
{
    option_names of = {.names = {"help", "usage"}, .count = 2};
    add_names(argp, &of);
    for (int i = 1; i < argc && strcmp(argv[i], "--") != 0; i++) {
        char name[60], text[100], option[72];
        const char *end = strchr(argv[i], '=');
        const size_t length = (end != NULL ? (size_t)(end - argv[i]) : strlen(argv[i])) - 2;
        if (strncmp(argv[i], "--", 2) != 0 || is_known(&of, argv[i] + 2, length))
            continue;
        snprintf(name, sizeof name, "%.*s", length < 50 ? (int)length : 50, argv[i] + 2);
        const char *meant = nearest_name(name, name_at, &of, of.count);
        snprintf(option, sizeof option, "--%.60s", meant != NULL ? meant : "");
        fprintf(stderr, "%s: unknown option '--%s'%s\n'%s --help' lists the options.\n", argv[0], name,
                did_you_mean(meant != NULL ? option : NULL, text), argv[0]);
        exit(EXIT_USAGE);
    }
    if (argp_parse(argp, argc, argv, 0, NULL, input) != 0)
        must(NULL);
}

tl_quantity option_quantity(struct argp_state *state, const char *option, const char *text,
                            tl_dimension dimension)
{
    tl_quantity quantity = {0};
    tl_text_error error;
    if (!tl_quantity_read(text, dimension, &quantity, &error)) {
        char quoted[80];
        snprintf(quoted, sizeof quoted, "'%.70s'", text);
        if (strstr(error.text, quoted) != NULL)
            argp_error(state, "--%s: %s", option, error.text);
        argp_error(state, strncmp(error.text, "expected", 8) == 0 ? "--%s: %s, got %s" : "--%s: %s: %s",
                   option, error.text, quoted);
    }
    return quantity;
}

double option_value(struct argp_state *state, const char *option, const char *text, tl_dimension dimension)
{
    const tl_quantity quantity = option_quantity(state, option, text, dimension);
    if (quantity.low != quantity.high)
        argp_error(state, "--%s: expected one value, got the range '%.70s'", option, text);
    return quantity.nominal;
}

void option_file(struct argp_state *state, const char *kind, const char **path, const char *text)
{
    if (*path != NULL)
        argp_error(state, "one %s at a time: '%.60s' is one argument too many", kind, text);
    *path = text;
}

long option_number(struct argp_state *state, const char *option, const char *text, long least, long most)
{
    char *end = NULL;
    const long number = strtol(text, &end, 10);
    if (end == text || *end != '\0' || number < least || number > most)
        argp_error(state, "--%s: expected a whole number from %ld to %ld, got '%.70s'", option, least, most,
                   text);
    return number;
}
