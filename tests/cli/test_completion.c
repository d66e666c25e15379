/* SPDX-License-Identifier: MIT */
/* `tinyladder completion`: what a shell is answered while somebody types. */
#include "support.h"
#include <stdio.h>
#include <string.h>

#define PLAN "demo/fernhill.plan.yaml"

static bool has_line(const char *text, const char *line)
{
    const size_t length = strlen(line);
    for (const char *at = text; (at = strstr(at, line)) != NULL; at += length) {
        if ((at == text || at[-1] == '\n') && at[length] == '\n')
            return true;
    }
    return false;
}

static void words_are_completed(void)
{
    static const struct {
        const char *name, *words[6];
        const char *has, *has_not;
    } rows[] = {
        {"verbs", {"re"}, "record", "plot"},
        {"all verbs", {""}, "completion", "--help"},
        {"what is common", {"--"}, "--outside", "read"},
        {"an option", {"read", "--sc"}, "--scene", "--seed"},
        {"options of a kind", {"size", "divider", "--"}, "--vmax", "--track"},
        {"options of another", {"size", "feed", "--tr"}, "--track", "--vmax"},
        {"kinds", {"size", "bus"}, "bus-pull", "divider"},
        {"a plan", {"read", ""}, ":files", "house-battery"},
        {"signals", {"read", PLAN, "he"}, "heater-8", "house-battery"},
        {"signals behind an option's value", {"read", PLAN, "--mean", "4", "wi"}, "wind-vane", ":files"},
        {"signals behind a letter's value", {"read", PLAN, "-m", "4", "wi"}, "wind-vane", ":files"},
        {"a file behind an option", {"read", PLAN, "--scene", "de"}, ":files", "dew-fan"},
        {"a file behind a letter", {"record", "-o", ""}, ":files", "house-battery"},
        {"no value is known", {"record", PLAN, "--for", ""}, NULL, ":files"},
        {"parts of a plan", {"size", PLAN, "house"}, "house-battery.divider", "house-battery.pull"},
        {"parts", {"size", PLAN, "rain-plate."}, "rain-plate.pull", "rain-plate.divider"},
        {"files to begin", {"new", ""}, "scene", ":files"},
        {"shells", {"completion", "f"}, "fish", "bash"},
        {"a record", {"plot", ""}, ":files", "house-battery"},
        {"no such plan", {"read", "none.plan.yaml", ""}, NULL, ":files"},
        {"no such verb", {"bake", ""}, ":files", "read"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        run_result r = run_command("completion", "words", rows[i].words[0], rows[i].words[1],
                                   rows[i].words[2], rows[i].words[3], rows[i].words[4], NULL);
        const bool right = r.status == 0 && (rows[i].has == NULL || has_line(r.out, rows[i].has)) &&
                           !has_line(r.out, rows[i].has_not);
        if (!right)
            printf("\n  %s: %s", rows[i].name, r.out);
        CHECK_ROW(rows[i].name, right);
        run_free(&r);
    }
}

/* bash itself, with its function; the others' scripts are looked at by their users. */
static void bash_takes_it(void)
{
    static const char script[] =
        "PATH=" TL_BUILD ":$PATH; source <(tinyladder completion bash); COMP_WORDS=(tinyladder read " PLAN
        " he); COMP_CWORD=3; _tinyladder; echo \"${#COMPREPLY[@]} ${COMPREPLY[7]}\"";
    const char *const words[] = {"bash", "-c", script, NULL};
    run_result r = run_program(words, TL_SOURCE);
    CU_ASSERT(r.status == 0 && strcmp(r.out, "8 heater-8\n") == 0);
    run_free(&r);
    static const char *const others[][2] = {{"zsh", "compdef _tinyladder"},
                                            {"fish", "complete -c tinyladder"}};
    for (size_t i = 0; i < ROWS(others); i++) {
        r = run_command("completion", others[i][0], NULL);
        CHECK_ROW(others[i][0], r.status == 0 && strstr(r.out, others[i][1]) != NULL);
        run_free(&r);
    }
    r = run_command("completion", "csh", NULL);
    CU_ASSERT(r.status == 2 && strstr(r.err, "bash|zsh|fish") != NULL);
    run_free(&r);
}

CU_TestInfo completion_tests[] = {
    {"words are completed", words_are_completed},
    {"bash takes it", bash_takes_it},
    CU_TEST_INFO_NULL,
};
