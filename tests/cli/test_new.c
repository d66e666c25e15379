/* SPDX-License-Identifier: MIT */
/* `new board`: a whole board by what is known of it, and what is still the template's. */
#include "support.h"
#include <jansson.h>
#include <stdio.h>
#include <string.h>

/* What was typed, and which names of the list are then the reader's own. */
static const struct {
    const char *words, *own;
} boards[] = {
    {"--supply '3.3 V ±2 %' --bits 12 --analog 8 --digital 20 --reference '1.2 V ±3 %'",
     "supplies bits references pins"},
    {"--supply 5V", "supplies"},
    {"--bits 16 --analog 1 --digital 0", "bits pins"},
    {"--analog 0 --digital 1", "pins bits references steps word sampling acquisition conversion errors"},
    {"--reference '2.5 V .. 2.6 V' --title Finch", "references"},
};

static bool has_word(const char *list, const char *word)
{
    const size_t length = strlen(word);
    for (const char *at = list; (at = strstr(at, word)) != NULL; at++) {
        if ((at == list || strchr(" ,[", at[-1]) != NULL) && strchr(" ,]", at[length]) != NULL)
            return true;
    }
    return false;
}

/* The board reads, what was typed stands in it, and every line that is marked is in the list, and no other.
 */
static void a_board_in_one_go(void)
{
    static const char *const names[] = {
        "supplies", "pins",    "limits",     "vil",      "vih",         "vol",        "voh",
        "drives",   "current", "injection",  "leakage",  "capacitance", "internal",   "bits",
        "steps",    "word",    "references", "sampling", "acquisition", "conversion", "errors"};
    for (size_t i = 0; i < ROWS(boards); i++) {
        char line[1000], list[600] = "";
        const char *path = scratch_path("own.board.yaml");
        snprintf(line, sizeof line, TL_BUILD "/tinyladder new board %s --force -o '%s'", boards[i].words,
                 path);
        run_result r = run_program((const char *const[]){"sh", "-c", line, NULL}, TL_SOURCE);
        CHECK_ROW(boards[i].words, r.status == 0);
        run_free(&r);
        snprintf(line, sizeof line, "grep '^template:' '%s'", path);
        r = run_program((const char *const[]){"sh", "-c", line, NULL}, TL_SOURCE);
        snprintf(list, sizeof list, "%s", r.out);
        run_free(&r);
        for (size_t n = 0; n < ROWS(names); n++) {
            const bool own = has_word(boards[i].own, names[n]);
            CHECK_ROW(names[n], has_word(list, names[n]) != own);
            snprintf(line, sizeof line, "grep '^ *%s:.*# template' '%s'", names[n], path);
            r = run_program((const char *const[]){"sh", "-c", line, NULL}, TL_SOURCE);
            CHECK_ROW(names[n], (r.status == 0) != own || strcmp(names[n], "pins") == 0);
            run_free(&r);
        }
        r = run_command("pins", path, "--json", NULL);
        CHECK_ROW(boards[i].words, r.status == 0);
        run_free(&r);
    }
}

static void check_says_what_is_left(void)
{
    char line[900];
    const char *board = scratch_path("own.board.yaml");
    static const char plan[] =
        "tinyladder: plan 1\ntitle: t\nboard: own.board.yaml\nsignals:\n"
        "  s: {source: {voltage: 0 V .. 1 V}, pin: A0, reference: own, reading: {unit: V}}\n";
    const char *path = scratch_file("own.plan.yaml", plan, sizeof plan - 1);
    snprintf(line, sizeof line, TL_BUILD "/tinyladder new board %s --force -o '%s'", boards[0].words, board);
    run_result r = run_program((const char *const[]){"sh", "-c", line, NULL}, TL_SOURCE);
    run_free(&r);
    r = run_command("check", path, NULL);
    CU_ASSERT(r.status == 0 && strstr(r.out, "[template-values]") != NULL &&
              strstr(r.out, "not looked up yet: positions, limits, vil,") != NULL &&
              strstr(r.out, "0 warnings, 1 note.") != NULL);
    run_free(&r);
    snprintf(line, sizeof line, "sed -i 's/^template: .*/template: [leakage]/' '%s'", board);
    r = run_program((const char *const[]){"sh", "-c", line, NULL}, TL_SOURCE);
    run_free(&r);
    r = run_command("check", path, NULL);
    CU_ASSERT(strstr(r.out, "not looked up yet: leakage\n") != NULL);
    run_free(&r);
    snprintf(line, sizeof line, "sed -i '/^template: /d' '%s'", board);
    r = run_program((const char *const[]){"sh", "-c", line, NULL}, TL_SOURCE);
    run_free(&r);
    r = run_command("check", path, NULL);
    CU_ASSERT(r.status == 0 && strstr(r.out, "template-values") == NULL && strstr(r.out, "0 notes.") != NULL);
    run_free(&r);
    snprintf(line, sizeof line, "sed -i '2atemplate: [leakige]' '%s'", board);
    r = run_program((const char *const[]){"sh", "-c", line, NULL}, TL_SOURCE);
    run_free(&r);
    r = run_command("check", path, NULL);
    CU_ASSERT(r.status == 3 && strstr(r.err, "did you mean 'leakage'") != NULL);
    run_free(&r);
}

/* A dash is the terminal, as for the tools around it; no file of that name is left. */
static void a_dash_is_the_terminal(void)
{
    static const char *const lines[] = {"new board", "header '" TL_SOURCE "/demo/fernhill.plan.yaml'",
                                        "plot record.csv"};
    const char *record = scratch_path("record.csv");
    remove(record);
    run_result r = run_command("record", "demo/fernhill.plan.yaml", "--for=1s", "-o", record, NULL);
    run_free(&r);
    for (size_t i = 0; i < sizeof lines / sizeof lines[0]; i++) {
        char line[900];
        snprintf(line, sizeof line,
                 "rm -f ./- && '" TL_BUILD "/tinyladder' %s > plain && '" TL_BUILD
                 "/tinyladder' %s -o - > dashed && "
                 "cmp plain dashed && test -s plain && test ! -e ./-",
                 lines[i], lines[i]);
        r = run_program((const char *const[]){"sh", "-c", line, NULL}, TL_SCRATCH);
        CU_ASSERT(r.status == 0 && r.err[0] == '\0');
        run_free(&r);
    }
}

/* Who names no reference measures against the supply; the second one is asked for by name. */
static void the_supply_is_the_first_reference(void)
{
    const char *board = scratch_path("first.board.yaml");
    static const char plan[] = "tinyladder: plan 1\ntitle: t\nboard: first.board.yaml\nsignals:\n"
                               "  s: {source: {voltage: 0 V .. 3 V}, pin: A0, reading: {unit: V}}\n";
    const char *path = scratch_file("first.plan.yaml", plan, sizeof plan - 1);
    char line[900];
    snprintf(line, sizeof line, TL_BUILD "/tinyladder new board %s --force -o '%s'", boards[0].words, board);
    run_result r = run_program((const char *const[]){"sh", "-c", line, NULL}, TL_SOURCE);
    run_free(&r);
    r = run_command("check", path, NULL);
    CU_ASSERT(r.status == 0 && strstr(r.out, "0 errors, 0 warnings") != NULL);
    run_free(&r);
}

static void what_makes_no_board_is_told(void)
{
    static const struct {
        const char *words[5], *says;
    } wrong[] = {
        {{"plan", "--bits=12"}, "are for a board"},
        {{"board", "--analog=0", "--digital=0"}, "a board needs pins"},
        {{"board", "--analog=0", "--bits=12"}, "which has analog pins"},
        {{"board", "--supply=fast"}, "--supply"},
        {{"board", "--bits=3"}, "--bits"},
        {{"board", "--reference=3 ohm"}, "--reference"},
    };
    for (size_t i = 0; i < ROWS(wrong); i++) {
        const char *const *w = wrong[i].words;
        run_result r = run_command("new", w[0], w[1], w[2], w[3], NULL);
        CHECK_ROW(wrong[i].says, r.status == 2 && r.out[0] == '\0' && strstr(r.err, wrong[i].says) != NULL);
        run_free(&r);
    }
}

/* A board whose registers call their fields by other names: with `means` the words are the same, bit by bit;
 * without, the channel is not known, and that is said. */
static void fields_are_known_by_meaning(void)
{
    char line[1500];
    static const char edit[] =
        "d='" TL_SCRATCH "/means'; rm -rf \"$d\"; cp -r demo \"$d\"; sed -i -e 's/^          channel: {/     "
        "     mux-sel: {%s/' -e "
        "'s/^          align: {/          ljust: {%s/' -e 's/^          start: {/          go: {%s/' -e 's/^ "
        "         reference: {/     "
        "     vsel: {%s/' \"$d/lapwing.board.yaml\"; for s in house-battery twilight paddle-y; do " TL_BUILD
        "/tinyladder word \"$d/fernhill.plan.yaml\" $s; done";
    snprintf(line, sizeof line, edit, "means: channel, ", "means: align, ", "means: start, ",
             "means: reference, ");
    run_result meant = run_program((const char *const[]){"sh", "-c", line, NULL}, TL_SOURCE);
    run_result plain =
        run_program((const char *const[]){"sh", "-c",
                                          "for s in house-battery twilight paddle-y; do " TL_BUILD
                                          "/tinyladder word demo/fernhill.plan.yaml $s; done",
                                          NULL},
                    TL_SOURCE);
    const char *a = meant.out, *b = plain.out;
    int words = 0;
    while ((a = strstr(a, " = 0x")) != NULL && (b = strstr(b, " = 0x")) != NULL) {
        CU_ASSERT(strncmp(a, b, 9) == 0);
        a++;
        b++;
        words++;
    }
    CU_ASSERT(meant.status == 0 && words >= 6 && strstr(meant.out, "No field says") == NULL);
    run_free(&meant);
    run_free(&plain);
    snprintf(line, sizeof line, edit, "", "", "", "");
    meant = run_program((const char *const[]){"sh", "-c", line, NULL}, TL_SOURCE);
    CU_ASSERT(strstr(meant.out, "No field says which channel is converted (it is ") != NULL);
    run_free(&meant);
    snprintf(line, sizeof line, edit, "means: channel, ", "means: channel, ", "", "");
    meant = run_program((const char *const[]){"sh", "-c", line, NULL}, TL_SOURCE);
    CU_ASSERT(meant.status == 3 && strstr(meant.err, "means channel already") != NULL);
    run_free(&meant);
    snprintf(line, sizeof line, edit, "means: chanel, ", "", "", "");
    meant = run_program((const char *const[]){"sh", "-c", line, NULL}, TL_SOURCE);
    CU_ASSERT(meant.status == 3 && strstr(meant.err, "did you mean 'channel'") != NULL);
    run_free(&meant);
}

CU_TestInfo new_tests[] = {
    {"fields are known by meaning", fields_are_known_by_meaning},
    {"a board in one go", a_board_in_one_go},
    {"check says what is left", check_says_what_is_left},
    {"a dash is the terminal", a_dash_is_the_terminal},
    {"the supply is the first reference", the_supply_is_the_first_reference},
    {"what makes no board is told", what_makes_no_board_is_told},
    CU_TEST_INFO_NULL,
};
