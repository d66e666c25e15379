/* tinyladder-sheet PLAN FILE a4|letter inside|outside [SIGNAL...]: draws the sheet; `tinyladder sheet` calls
 * it, and has looked at all words but the names of signals. */
#include "base/nearest_name.h"
#include "printing/options.h"
#include "sheet/sheet.h"
#include "tinyladder/design/memory.h"
#include "tinyladder/design/rules.h"
#include <stdlib.h>
#include <string.h>

typedef struct {
    const char *plan, *output;
    char **names;
    int name_count;
    bool letter;
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

static void put_verdict(tl_circuit *circuit, char text[100])
{
    int found[3] = {0, 0, 0};
    tl_report *report = new_report();
    tl_plan_check(circuit, report);
    for (int i = 0; i < tl_report_count(report); i++)
        found[tl_report_finding(report, i)->severity]++;
    snprintf(text, 100, "check: %d error%s, %d warning%s", found[TL_ERROR], found[TL_ERROR] == 1 ? "" : "s",
             found[TL_WARNING], found[TL_WARNING] == 1 ? "" : "s");
    tl_report_free(report);
}

static bool form_of(const char *path, sheet_form *form)
{
    static const char *const endings[] = {[SHEET_PDF] = ".pdf", [SHEET_SVG] = ".svg", [SHEET_PNG] = ".png"};
    const char *dot = strrchr(path, '.');
    for (int i = 0; i < 3 && dot != NULL; i++) {
        if (strcmp(dot, endings[i]) == 0) {
            *form = (sheet_form)i;
            return true;
        }
    }
    return false;
}

static int draw(const sheet_arguments *a, tl_circuit *circuit)
{
    const tl_plan *plan = tl_circuit_plan(circuit);
    int *signals = must(calloc((size_t)plan->signal_count + (size_t)a->name_count + 1, sizeof *signals)),
        count;
    char verdict[100], command[300], why[1200];
    sheet_form form = SHEET_PDF;
    int status = EXIT_USAGE;
    if (!form_of(a->output, &form)) {
        fprintf(stderr, "tinyladder: --output: '%s': expected a name that ends in .pdf, .svg or .png\n",
                a->output);
    } else if (choose(a, plan, signals, &count)) {
        put_verdict(circuit, verdict);
        size_t used = (size_t)snprintf(command, sizeof command, "tinyladder sheet %.150s", a->plan);
        for (int i = 0; i < a->name_count && used < sizeof command; i++)
            used += (size_t)snprintf(command + used, sizeof command - used, " %s", a->names[i]);
        const sheet_options o = {signals, count, a->name_count == 0, a->letter, command, verdict};
        const int pages = sheet_write(circuit, &o, a->output, form, why);
        status = pages > 0 ? EXIT_DONE : EXIT_UNREADABLE;
        const int files = form == SHEET_PDF ? 1 : pages;
        char first[1000], last[1000];
        sheet_file_name(a->output, files, 0, first);
        sheet_file_name(a->output, files, files - 1, last);
        if (pages > 0)
            printf("%s%s%s: %d page%s, %d signal%s\n", first, files > 1 ? " .. " : "", files > 1 ? last : "",
                   pages, pages == 1 ? "" : "s", count, count == 1 ? "" : "s");
        else
            fprintf(stderr, "%s\n", why);
    }
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
    if (argc < 5)
        return EXIT_USAGE;
    a.plan = argv[1];
    a.output = argv[2];
    a.letter = strcmp(argv[3], "letter") == 0;
    if (strcmp(argv[4], "outside") == 0)
        allow_outside();
    a.names = argv + 5;
    a.name_count = argc - 5;
    if (!tl_attempt(run, &a))
        must(NULL);
    return a.status;
}
