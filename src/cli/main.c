/* The command: one table of verbs, and what is common to all of them on the way out. */
#include "cli.h"
#include <errno.h>
#include <stdlib.h>
#include <string.h>

static const verb *const verbs[] = {&verb_pins,  &verb_size,   &verb_check, &verb_read,
                                    &verb_watch, &verb_record, &verb_plot,  &verb_convert,
                                    &verb_trim,  &verb_word,   &verb_demo};
enum { VERBS = (int)(sizeof verbs / sizeof verbs[0]) };

static void print_help(FILE *to)
{
    fputs("Usage: tinyladder VERB [ARGUMENT...]\n\n"
          "Wires buttons and sensors to microcontroller pins: finds the values, checks the plan,\n"
          "reads it on a simulated bench.\n\nVerbs:\n",
          to);
    for (int i = 0; i < VERBS; i++)
        fprintf(to, "  %-8s %-40s %s\n", verbs[i]->name, verbs[i]->arguments, verbs[i]->summary);
    fputs("\n'tinyladder VERB --help' tells the options of a verb. Start with 'tinyladder demo'.\n"
          "\nExit status: 0 done, 1 findings or no way to do it, 2 wrong usage, 3 unreadable input,\n"
          "4 hardware, or the output could not be written.\n",
          to);
}

static int run_verb(int argc, char **argv)
{
    char name[64];
    for (int i = 0; i < VERBS; i++) {
        if (strcmp(argv[1], verbs[i]->name) != 0)
            continue;
        snprintf(name, sizeof name, "tinyladder %s", verbs[i]->name);
        argv[1] = name; /* so that argp speaks of the verb */
        return verbs[i]->run(argc - 1, argv + 1);
    }
    fprintf(stderr, "tinyladder: there is no verb '%.60s'; the verbs are:", argv[1]);
    for (int i = 0; i < VERBS; i++)
        fprintf(stderr, " %s", verbs[i]->name);
    fputc('\n', stderr);
    return EXIT_USAGE;
}

int main(int argc, char **argv)
{
    int status = EXIT_DONE;
    argp_err_exit_status = EXIT_USAGE;
    if (argc < 2) {
        print_help(stderr);
        status = EXIT_USAGE;
    } else if (strcmp(argv[1], "--help") == 0 || strcmp(argv[1], "-h") == 0 || strcmp(argv[1], "help") == 0) {
        print_help(stdout);
    } else if (strcmp(argv[1], "--version") == 0) {
        puts("tinyladder " TL_VERSION);
    } else {
        status = run_verb(argc, argv);
    }
    if (fflush(stdout) != 0 || ferror(stdout)) {
        fprintf(stderr, "tinyladder: the output could not be written: %s\n", strerror(errno));
        return EXIT_HARDWARE;
    }
    return status;
}
