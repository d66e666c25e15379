/* SPDX-License-Identifier: MIT */
/* The command: one table of verbs, and what is common to all of them on the way out. */
#include "base/nearest_name.h"
#include "base/plain_text.h"
#include "cli/cli.h"
#include "printing/json_answer.h"
#include "tinyladder/design/memory.h"
#include <errno.h>
#include <signal.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

static const verb *const all_verbs[] = {&verb_new,     &verb_pins,   &verb_size,    &verb_check,
                                        &verb_read,    &verb_watch,  &verb_record,  &verb_plot,
                                        &verb_convert, &verb_trim,   &verb_explain, &verb_sheet,
                                        &verb_word,    &verb_header, &verb_demo,    &verb_completion};
static const int all_verb_count = (int)(sizeof all_verbs / sizeof all_verbs[0]);

/* The help of a verb is as wide as tables may be, or as the terminal. */
static const char *help_width(void)
{
    static char text[48];
    snprintf(text, sizeof text, "rmargin=%d,no-dup-args-note", print_columns() - 1);
    return text;
}

static void print_help(FILE *to)
{
    fputs("Usage: tinyladder VERB [ARGUMENT...]\n\n"
          "Connect buttons and sensors to microcontroller pins: find part values, check a plan, and read it\n"
          "on a simulated bench or on your board.\n\nVerbs:\n",
          to);
    for (int i = 0; i < all_verb_count; i++)
        fprintf(to, "  %-10s %s\n", all_verbs[i]->name, all_verbs[i]->summary);
    fputs("\n'tinyladder VERB --help' shows the options of a verb. Start with 'tinyladder demo'.\n"
          "'tinyladder --outside VERB ...' lets a plan include files and tables outside its folder.\n"
          "\nExit status: 0 success, 1 findings or no solution, 2 usage error, 3 unreadable input,\n"
          "4 hardware error, or the output could not be written.\n",
          to);
}

static const char *verb_name(const void *list, int i)
{
    return ((const verb *const *)list)[i]->name;
}

static int run_verb(int argc, char **argv)
{
    char name[64];
    completion_offers(all_verbs, all_verb_count);
    for (int i = 0; i < all_verb_count; i++) {
        if (strcmp(argv[1], all_verbs[i]->name) != 0)
            continue;
        snprintf(name, sizeof name, "tinyladder %s", all_verbs[i]->name);
        argv[1] = name; /* so that argp speaks of the verb */
        return all_verbs[i]->run(argc - 1, argv + 1);
    }
    char text[100];
    const char *meant = nearest_name(argv[1], verb_name, all_verbs, all_verb_count);
    fprintf(stderr, "tinyladder: unknown verb '%.60s'%s\n'tinyladder --help' lists the verbs.\n", argv[1],
            did_you_mean(meant, text));
    return EXIT_USAGE;
}

/* Last of all, however the command ends (argp's --help ends it by itself): what was printed must have
 * arrived. */
static void close_output(void)
{
    if (fflush(stdout) == 0 && !ferror(stdout) && (fclose(stdout) == 0 || errno == EBADF))
        return;
    fprintf(stderr, "tinyladder: the output could not be written: %s\n", strerror(errno));
    fflush(stderr);
    _exit(EXIT_HARDWARE);
}

/* Messages quote what was typed: nothing that a terminal would obey is taken. */
static bool is_plain(int argc, char **argv)
{
    for (int i = 1; i < argc; i++) {
        const size_t length = strlen(argv[i]), plain = plain_text_length(argv[i], length, NULL);
        if (plain == length)
            continue;
        fprintf(stderr, "tinyladder: argument %d holds a control character, or is no UTF-8 (byte 0x%02x)\n",
                i, (unsigned)(unsigned char)argv[i][plain]);
        return false;
    }
    return true;
}

static void *json_memory(size_t size)
{
    return must(malloc(size));
}

/* A verb, attempted: a library without memory is reported in one line. */
typedef struct {
    int argc;
    char **argv;
    int status;
} verb_call;

static void run_call(void *context)
{
    verb_call *call = context;
    call->status = run_verb(call->argc, call->argv);
}

int main(int argc, char **argv)
{
    int status = EXIT_DONE;
    argp_err_exit_status = EXIT_USAGE;
    (void)signal(SIGXFSZ, SIG_IGN); /* a file that may grow no further is an error of that file */
    if (setenv("ARGP_HELP_FMT", help_width(), 0) != 0)
        must(NULL);
    json_set_alloc_funcs(json_memory, free);
    if (atexit(close_output) != 0)
        must(NULL);
    json_answer_asked(argc, argv);
    const bool plain = is_plain(argc, argv);
    if (plain && argc > 1 && strcmp(argv[1], "--outside") == 0) {
        allow_outside();
        argc--;
        argv++;
    }
    if (!plain) {
        status = EXIT_USAGE;
    } else if (argc < 2) {
        print_help(stderr);
        status = EXIT_USAGE;
    } else if (strcmp(argv[1], "--help") == 0 || strcmp(argv[1], "-h") == 0 || strcmp(argv[1], "help") == 0) {
        print_help(stdout);
    } else if (strcmp(argv[1], "--version") == 0) {
        puts("tinyladder " TL_VERSION);
    } else {
        verb_call call = {argc, argv, EXIT_HARDWARE};
        if (!tl_attempt(run_call, &call))
            must(NULL);
        status = call.status;
    }
    return status;
}
