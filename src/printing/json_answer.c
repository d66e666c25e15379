/* SPDX-License-Identifier: MIT */
/*
 * Whoever asks for JSON gets JSON, also where nothing could be answered: what went to standard error is kept,
 * and an object with it is printed on the way out (status 2 and 3).
 */
#define _GNU_SOURCE
#include "printing/json_answer.h"
#include "base/memory.h"
#include "printing/printing.h"
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

enum { KEPT_MOST = 4000 };

static bool asked, answered;
static char kept[KEPT_MOST + 1];
static size_t kept_size;

static ssize_t write_and_keep(void *cookie, const char *text, size_t size)
{
    (void)cookie;
    const size_t room = KEPT_MOST - kept_size, taken = size < room ? size : room;
    memcpy(kept + kept_size, text, taken);
    kept_size += taken;
    return write(STDERR_FILENO, text, size);
}

static void print_answer(json_t *object)
{
    answered = true;
    json_dumpf(object, stdout, JSON_ANSWER_FORM);
    fputc('\n', stdout);
    json_decref(object);
}

static void answer_at_exit(int status, void *context)
{
    (void)context;
    if (answered || (status != EXIT_USAGE && status != EXIT_UNREADABLE))
        return;
    while (kept_size > 0 && kept[kept_size - 1] == '\n')
        kept_size--;
    print_answer(json_pack("{s:i,s:s%}", "status", status, "error", kept, kept_size));
}

void json_answer_asked(int argc, char **argv)
{
    for (int i = 1; i < argc; i++)
        asked = asked || strcmp(argv[i], "--json") == 0 || strcmp(argv[i], "-j") == 0;
    if (!asked)
        return;
    FILE *both = fopencookie(NULL, "w", (cookie_io_functions_t){.write = write_and_keep});
    if (both == NULL || on_exit(answer_at_exit, NULL) != 0)
        tl_memory_none();
    setvbuf(both, NULL, _IONBF, 0);
    stderr = both;
}

void json_answer_given(void)
{
    answered = true;
}

void json_answer_unreadable(const tl_report *report)
{
    if (!asked || answered)
        return;
    json_t *list = json_array();
    for (int i = 0; i < tl_report_count(report); i++) {
        const tl_finding *f = tl_report_finding(report, i);
        json_array_append_new(list, json_pack("{s:s,s:s,s:s,s:i,s:i,s:s,s:s?,s:s?}", "severity",
                                              tl_severity_name(f->severity), "slug", f->slug, "file",
                                              tl_report_path(report, f->place), "line", f->place.line,
                                              "column", f->place.column, "cause", f->cause, "figure",
                                              f->figure, "fix", f->fix));
    }
    print_answer(json_pack("{s:i,s:o}", "status", EXIT_UNREADABLE, "findings", list));
}
