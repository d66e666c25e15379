/* SPDX-License-Identifier: MIT */
/* tinyladder-sheet PLAN FILE pdf|svg|png|html|txt|checked a4|letter|circuits inside|outside [SIGNAL...]:
 * draws the sheet, or looks at what was measured; `tinyladder sheet` calls it, and has looked at all words
 * but the names of signals. FILE `-`: stdout. */
#include "base/memory.h"
#include "base/nearest_name.h"
#include "printing/options.h"
#include "sheet/checked.h"
#include "sheet/sheet.h"
#include "tinyladder/design/memory.h"
#include "tinyladder/design/rules.h"
#include <langinfo.h>
#include <locale.h>
#include <stdlib.h>
#include <string.h>

typedef struct {
    const char *plan, *output, *checked;
    char **names;
    int name_count;
    sheet_form form;
    bool letter, circuits;
    int status;
} sheet_arguments;

static const char *name_in(const void *plan, int i)
{
    return ((const tl_plan *)plan)->signals[i].name;
}

static bool has(const int *signals, int count, int signal)
{
    bool found = false;
    for (int i = 0; i < count; i++)
        found = found || signals[i] == signal;
    return found;
}

/* false: a name is none, and it is said. */
static bool choose(const sheet_arguments *a, const tl_plan *plan, int *signals, int *count)
{
    *count = 0;
    for (int i = 0; i < a->name_count; i++) {
        char meant[100];
        int signal;
        if (tl_plan_signal(plan, a->names[i], &signal) == NULL) {
            fprintf(stderr, "tinyladder: SIGNAL: '%s': the plan has no such signal%s\n", a->names[i],
                    did_you_mean(nearest_name(a->names[i], name_in, plan, plan->signal_count), meant));
            return false;
        }
        if (!has(signals, *count, signal))
            signals[(*count)++] = signal;
    }
    for (int i = 0; i < plan->signal_count && a->name_count == 0; i++)
        signals[(*count)++] = i;
    return true;
}

static void put_verdict(const tl_report *report, char text[100])
{
    int found[3] = {0, 0, 0};
    for (int i = 0; i < tl_report_count(report); i++)
        found[tl_report_finding(report, i)->severity]++;
    snprintf(text, 100, "check: %d error%s, %d warning%s", found[TL_ERROR], found[TL_ERROR] == 1 ? "" : "s",
             found[TL_WARNING], found[TL_WARNING] == 1 ? "" : "s");
}

static int write_pages(const sheet_arguments *a, tl_circuit *circuit, const sheet_options *o)
{
    char why[1200], first[1000], last[1000];
    const int pages = sheet_write(circuit, o, a->output, a->form, why),
              files = a->form == SHEET_PDF ? 1 : pages;
    if (pages == 0) {
        fprintf(stderr, "%s\n", why);
        return EXIT_UNREADABLE;
    }
    sheet_file_name(a->output, files, 0, first);
    sheet_file_name(a->output, files, files - 1, last);
    printf("%s%s%s: %d page%s, %d signal%s\n", first, files > 1 ? " .. " : "", files > 1 ? last : "", pages,
           pages == 1 ? "" : "s", o->signal_count, o->signal_count == 1 ? "" : "s");
    return EXIT_DONE;
}

/* Without the letters that a terminal of another encoding has not. */
static void put_plain(FILE *to, const char *text)
{
    static const char *const plain[][2] = {{"─", "-"},   {"┬", "+"},  {"┴", "+"},   {"┼", "+"}, {"▶", ">"},
                                           {"Ω", "ohm"}, {"µ", "u"},  {"°", "deg"}, {"×", "x"}, {"–", "-"},
                                           {"“", "\""},  {"”", "\""}, {"±", "+-"},  {"·", "-"}, {"…", "..."}};
    while (*text != '\0') {
        size_t i = 0, length = 1;
        while (i < sizeof plain / sizeof plain[0] && strncmp(text, plain[i][0], strlen(plain[i][0])) != 0)
            i++;
        if (i < sizeof plain / sizeof plain[0]) {
            fputs(plain[i][1], to);
            text += strlen(plain[i][0]);
            continue;
        }
        fputc((unsigned char)*text < 0x80 ? *text : '?', to);
        while (((unsigned char)text[length] & 0xc0) == 0x80)
            length++;
        text += length;
    }
}

/* For a terminal, with the letters that it has. */
static void print_sheet(tl_circuit *circuit, const sheet_options *o)
{
    int faults;
    char *text = sheet_text(circuit, o, SHEET_TEXT, NULL, &faults);
    if (strcmp(nl_langinfo(CODESET), "UTF-8") == 0)
        fputs(text, stdout);
    else
        put_plain(stdout, text);
    free(text);
}

/* For a browser, as text, or one drawing. */
static int write_one(const sheet_arguments *a, tl_circuit *circuit, const sheet_options *o)
{
    char why[1200];
    if (strcmp(a->output, "-") == 0) {
        print_sheet(circuit, o);
        return EXIT_DONE;
    }
    if (!sheet_write_text(circuit, o, a->output, a->form, why)) {
        fprintf(stderr, "%s\n", why);
        return EXIT_UNREADABLE;
    }
    printf("%s: %d signal%s\n", a->output, o->signal_count, o->signal_count == 1 ? "" : "s");
    return EXIT_DONE;
}

static int write_sheet(const sheet_arguments *a, tl_circuit *circuit, const int *signals, int count)
{
    char verdict[100], *command = NULL;
    size_t size = 0;
    tl_report *report = new_report();
    tl_plan_check(circuit, report);
    tl_report_sort(report);
    put_verdict(report, verdict);
    FILE *to = tl_text_begin(&command, &size);
    fprintf(to, "tinyladder sheet %s", a->plan);
    for (int i = 0; i < a->name_count; i++)
        fprintf(to, " %s", a->names[i]);
    tl_text_end(to, &command);
    const sheet_options o = {signals, count, a->name_count == 0, a->letter, a->circuits, command,
                             verdict, report};
    const int status = a->form == SHEET_HTML || a->form == SHEET_TEXT || a->circuits
                           ? write_one(a, circuit, &o)
                           : write_pages(a, circuit, &o);
    tl_report_free(report);
    free(command);
    return status;
}

static int draw(const sheet_arguments *a, tl_circuit *circuit)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    int *signals = must(calloc((size_t)plan->signal_count + (size_t)a->name_count + 1, sizeof *signals)),
        count;
    int status = EXIT_USAGE;
    if (choose(a, plan, signals, &count))
        status = a->checked != NULL ? sheet_check(circuit, signals, count, a->plan, a->checked)
                                    : write_sheet(a, circuit, signals, count);
    free(signals);
    return status;
}

static void run(void *context)
{
    sheet_arguments *a = context;
    tl_report *report = new_report();
    tl_plan *plan = tl_plan_load(a->plan, report);
    tl_circuit *circuit = plan != NULL ? tl_circuit_new(plan) : NULL;
    a->status = circuit != NULL ? draw(a, circuit) : print_unreadable(report);
    tl_circuit_free(circuit);
    tl_plan_free(plan);
    tl_report_free(report);
}

int main(int argc, char **argv)
{
    sheet_arguments a = {.status = EXIT_HARDWARE};
    if (argc < 6)
        return EXIT_USAGE;
    (void)setlocale(LC_CTYPE, "");
    a.plan = argv[1];
    *(strcmp(argv[3], "checked") == 0 ? &a.checked : &a.output) = argv[2];
    for (int i = 0; i < SHEET_FORMS; i++)
        a.form = strcmp(argv[3], sheet_form_names[i]) == 0 ? (sheet_form)i : a.form;
    a.letter = strcmp(argv[4], "letter") == 0;
    a.circuits = strcmp(argv[4], "circuits") == 0;
    if (strcmp(argv[5], "outside") == 0)
        allow_outside();
    a.names = argv + 6;
    a.name_count = argc - 6;
    if (!tl_attempt(run, &a))
        must(NULL);
    return a.status;
}
