/* SPDX-License-Identifier: MIT */
/*
 * tinyladder completion: what a shell asks while you type. The shells' own part is a few lines that ask
 * this program; which options there are it finds out as people do, by --help, so nothing is said twice.
 */
#define _GNU_SOURCE
#include "cli/cli.h"
#include "proposals/jobs.h"
#include <fcntl.h>
#include <spawn.h>
#include <stdlib.h>
#include <string.h>
#include <sys/wait.h>
#include <unistd.h>

extern char **environ;

static const verb *const *verbs;
static int verb_count;

void completion_offers(const verb *const *offered, int count)
{
    verbs = offered;
    verb_count = count;
}

static const char bash_script[] =
    "_tinyladder() {\n"
    "    local IFS=$'\\n' found\n"
    "    found=($(tinyladder completion words \"${COMP_WORDS[@]:1:COMP_CWORD}\" 2>/dev/null))\n"
    "    if [ \"${found[0]}\" = :files ]; then\n"
    "        compopt -o default\n        COMPREPLY=()\n"
    "    else\n        COMPREPLY=(\"${found[@]}\")\n    fi\n"
    "}\ncomplete -F _tinyladder tinyladder\n";

static const char zsh_script[] =
    "_tinyladder() {\n"
    "    local -a found\n"
    "    found=(\"${(@f)$(tinyladder completion words \"${(@)words[2,CURRENT]}\" 2>/dev/null)}\")\n"
    "    if [[ \"$found[1]\" == :files ]]; then _files; else compadd -- $found; fi\n"
    "}\ncompdef _tinyladder tinyladder\n";

static const char fish_script[] =
    "function __tinyladder\n"
    "    set -l words (commandline -opc) (commandline -ct)\n"
    "    set -l found (tinyladder completion words $words[2..-1] 2>/dev/null)\n"
    "    if test \"$found[1]\" = :files\n        __fish_complete_path (commandline -ct)\n"
    "    else\n        printf '%s\\n' $found\n    end\nend\n"
    "complete -c tinyladder -f -a '(__tinyladder)'\n";

static const struct {
    const char *name, *script;
} shells[] = {{"bash", bash_script}, {"zsh", zsh_script}, {"fish", fish_script}};
enum { SHELLS = (int)(sizeof shells / sizeof shells[0]) };

static const char *const common[] = {"--help", "--version", "--outside", NULL};
static const char *const kinds_of_files[] = {"plan", "board", "converter", "mux", "drawer", "plug-in", "scene", NULL};
static const char *const stages[] = {"divider", "partner", "pull", "guard", "filter", "capacitor", "load"};

/* --- options --- */

typedef struct {
    char name[40], letter, argument[24];
} known_option;
enum { OPTIONS_MOST = 60 };

/* A line of argp's help: `  -o, --output=FILE      text`. */
static bool read_option(const char *line, known_option *option)
{
    const char *at = strstr(line, "--");
    if (strspn(line, " ") < 2 || at == NULL || at - line > 8)
        return false;
    const size_t length = strcspn(at, "= \n");
    snprintf(option->name, sizeof option->name, "%.*s", (int)(length < 39 ? length : 39), at);
    option->letter = '\0';
    if (at - line >= 4 && line[2] == '-')
        option->letter = line[3];
    const bool takes = at[length] == '=';
    snprintf(option->argument, sizeof option->argument, "%.*s",
             takes ? (int)strcspn(at + length + 1, " \n") : 0, takes ? at + length + 1 : "");
    return length > 2;
}

/* What `tinyladder VERB [KIND] --help` says. */
static int options_of(const char *verb_name, const char *kind, known_option *options)
{
    char own[] = "/proc/self/exe", help[] = "--help", line[300];
    char *words[5] = {own, (char *)verb_name, kind != NULL ? (char *)kind : help, kind != NULL ? help : NULL,
                      NULL};
    int ends[2], count = 0;
    pid_t child;
    posix_spawn_file_actions_t files;
    if (pipe2(ends, O_CLOEXEC) != 0)
        return 0;
    posix_spawn_file_actions_init(&files);
    posix_spawn_file_actions_adddup2(&files, ends[1], STDOUT_FILENO);
    const int why = posix_spawn(&child, own, &files, NULL, words, environ);
    posix_spawn_file_actions_destroy(&files);
    close(ends[1]);
    FILE *from = fdopen(ends[0], "r");
    while (why == 0 && from != NULL && fgets(line, sizeof line, from) != NULL)
        count += count < OPTIONS_MOST && read_option(line, &options[count]);
    if (from != NULL)
        fclose(from);
    if (why == 0)
        waitpid(child, NULL, 0);
    return count;
}

/* The option that this word is and whose value the next word would be; -1 for none. */
static int waits_for_value(const known_option *options, int count, const char *word)
{
    for (int i = 0; i < count; i++) {
        const bool named = strcmp(word, options[i].name) == 0,
                   lettered = options[i].letter != '\0' && word[0] == '-' && word[1] == options[i].letter &&
                              word[2] == '\0';
        if ((named || lettered) && options[i].argument[0] != '\0')
            return i;
    }
    return -1;
}

/* --- candidates --- */

static void offer(const char *candidate, const char *begun)
{
    if (strncmp(candidate, begun, strlen(begun)) == 0)
        puts(candidate);
}

static void offer_all(const char *const *list, const char *begun)
{
    for (; *list != NULL; list++)
        offer(*list, begun);
}

static void offer_signals(const char *path, const char *begun, bool parts)
{
    tl_report *report = new_report();
    tl_plan *plan = tl_plan_load(path, report);
    for (int i = 0; plan != NULL && i < plan->signal_count; i++) {
        char text[160], why[TL_PART_WHY];
        tl_part part;
        if (!parts)
            offer(plan->signals[i].name, begun);
        for (size_t k = 0; parts && k < sizeof stages / sizeof stages[0]; k++) {
            snprintf(text, sizeof text, "%.100s.%s", plan->signals[i].name, stages[k]);
            if (tl_part_find(plan, text, &part, why))
                offer(text, begun);
        }
    }
    tl_plan_free(plan);
    tl_report_free(report);
}

static void offer_argument(const char *verb_name, int place, const char *first, const char *begun)
{
    const bool size = strcmp(verb_name, "size") == 0;
    if (strcmp(verb_name, "new") == 0) {
        offer_all(kinds_of_files, begun);
    } else if (strcmp(verb_name, "completion") == 0) {
        for (int i = 0; i < SHELLS; i++)
            offer(shells[i].name, begun);
    } else if (size && place == 0 && strpbrk(begun, "./") == NULL && begun[0] != '\0') {
        for (int i = 0; i < size_kind_count; i++)
            offer(size_kinds[i].name, begun);
        puts(":files");
    } else if (place == 0) {
        puts(":files");
    } else if (strcmp(verb_name, "plot") != 0) {
        offer_signals(first, begun, size);
    }
}

/* words: all behind `tinyladder`, the last one as far as it is typed. */
static void complete(int count, char **words)
{
    known_option options[OPTIONS_MOST];
    const char *begun = words[count - 1], *first = "";
    if (count == 1) {
        for (int i = 0; i < verb_count; i++)
            offer(verbs[i]->name, begun);
        if (begun[0] == '-')
            offer_all(common, begun);
        return;
    }
    const bool of_kind =
        strcmp(words[0], "size") == 0 && count > 2 && words[1][0] != '-' && strpbrk(words[1], "./") == NULL;
    const int known = options_of(words[0], of_kind ? words[1] : NULL, options);
    int place = 0;
    for (int i = 1; i < count - 1; i++) {
        if (words[i][0] == '-') {
            i += waits_for_value(options, known, words[i]) >= 0 && i < count - 2;
        } else if (place++ == 0) {
            first = words[i];
        }
    }
    const int waiting = waits_for_value(options, known, words[count - 2]);
    if (waiting >= 0 && count > 2) {
        if (strstr(options[waiting].argument, "FILE") != NULL ||
            strcmp(options[waiting].argument, "SOURCE") == 0)
            puts(":files");
    } else if (begun[0] == '-') {
        for (int i = 0; i < known; i++)
            offer(options[i].name, begun);
    } else if (!of_kind) {
        offer_argument(words[0], place, first, begun);
    }
}

static int run_completion(int argc, char **argv)
{
    if (argc > 2 && strcmp(argv[1], "words") == 0) {
        complete(argc - 2, argv + 2);
        return EXIT_DONE;
    }
    for (int i = 0; i < SHELLS && argc == 2; i++) {
        if (strcmp(argv[1], shells[i].name) != 0)
            continue;
        fputs(shells[i].script, stdout);
        return EXIT_DONE;
    }
    const bool help = argc == 2 && (strcmp(argv[1], "--help") == 0 || strcmp(argv[1], "-?") == 0);
    fputs("Usage: tinyladder completion bash|zsh|fish\nPrint what the shell needs to complete verbs, "
          "options, files, "
          "signals and\nparts while you type:\n\n"
          "  source <(tinyladder completion bash)      in ~/.bashrc\n"
          "  source <(tinyladder completion zsh)       in ~/.zshrc, behind compinit\n"
          "  tinyladder completion fish | source       in ~/.config/fish/config.fish\n",
          help ? stdout : stderr);
    return help ? EXIT_DONE : EXIT_USAGE;
}

const verb verb_completion = {"completion", "Print the shell script that completes words while you type.",
                              run_completion};
