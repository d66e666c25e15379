/* SPDX-License-Identifier: MIT */
/* What is wrong, collected: findings with their places, sorted worst first, and the lines of the files that
 * they point to. */
#include "base/memory.h"
#include "base/report_struct.h"
#include "base/yaml_node.h"
#include <math.h>
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

tl_report *tl_report_new(void)
{
    return tl_alloc(1, sizeof(tl_report));
}

static void free_texts(tl_finding *f)
{
    free(f->cause);
    free(f->also);
    free(f->figure);
    free(f->corner);
    free(f->fix);
    free(f->change.text);
}

void tl_report_free(tl_report *report)
{
    if (report == NULL)
        return;
    for (int i = 0; i < report->count; i++) {
        free_texts(&report->findings[i]);
    }
    for (int i = 0; i < report->file_count; i++) {
        free(report->files[i].path);
        free(report->files[i].text);
        yaml_free(report->files[i].root);
    }
    for (int i = 0; i < report->instead_count; i++) {
        free(report->instead[i].path);
        free(report->instead[i].text);
    }
    free(report->instead);
    free(report->findings);
    free(report->files);
    free(report);
}

void tl_report_allow_outside(tl_report *report, bool allowed)
{
    report->outside = allowed;
}

bool tl_report_outside(const tl_report *report)
{
    return report->outside;
}

int tl_report_count(const tl_report *report)
{
    return report->count;
}

const tl_finding *tl_report_finding(const tl_report *report, int number)
{
    return &report->findings[number];
}

const char *tl_report_file_path(const tl_report *report, int file)
{
    return report->files[file].path;
}

const char *tl_report_file_text(const tl_report *report, int file, size_t *size)
{
    *size = report->files[file].size;
    return report->files[file].text;
}

void tl_report_instead(tl_report *report, const char *path, const char *text, size_t size)
{
    report->instead = tl_grow(report->instead, (size_t)report->instead_count, sizeof *report->instead);
    tl_report_file *file = &report->instead[report->instead_count++];
    *file = (tl_report_file){tl_copy_text(path), tl_alloc(size + 1, 1), size, false, NULL};
    memcpy(file->text, text, size);
}

static char *text_from(const char *format, va_list arguments)
{
    va_list again;
    va_copy(again, arguments);
    const int length = vsnprintf(NULL, 0, format, again);
    va_end(again);
    char *text = tl_alloc((size_t)(length < 0 ? 0 : length) + 1, 1);
    vsnprintf(text, (size_t)(length < 0 ? 0 : length) + 1, format, arguments);
    return text;
}

tl_finding *tl_report_add(tl_report *report, tl_severity severity, const char *slug, tl_place place,
                          const char *cause, ...)
{
    va_list arguments;
    va_start(arguments, cause);
    report->findings = tl_grow(report->findings, (size_t)report->count, sizeof *report->findings);
    tl_finding *finding = &report->findings[report->count++];
    *finding = (tl_finding){.severity = severity,
                            .slug = slug,
                            .rule = -1,
                            .place = place,
                            .subject = -1,
                            .figures = {NAN, NAN, TL_DIM_NUMBER},
                            .cause = text_from(cause, arguments)};
    va_end(arguments);
    return finding;
}

void tl_finding_figures(tl_finding *finding, tl_dimension dimension, double value, double limit)
{
    finding->figures = (tl_figures){value, limit, dimension};
}

void tl_finding_change(tl_finding *finding, tl_change_kind kind, tl_place place, const char *key,
                       const char *text, ...)
{
    va_list arguments;
    va_start(arguments, text);
    free(finding->change.text);
    finding->change = (tl_change){kind, place, key, text_from(text, arguments)};
    va_end(arguments);
}

void tl_finding_text(char **text, const char *format, ...)
{
    va_list arguments;
    va_start(arguments, format);
    char *before = *text; /* may be among the arguments */
    *text = text_from(format, arguments);
    free(before);
    va_end(arguments);
}

int tl_report_at_least(const tl_report *report, tl_severity severity)
{
    int count = 0;
    for (int i = 0; i < report->count; i++)
        count += report->findings[i].severity >= severity;
    return count;
}

static int compare(const void *left, const void *right)
{
    const tl_finding *a = left, *b = right;
    if (a->severity != b->severity)
        return a->severity > b->severity ? -1 : 1;
    if (a->place.file != b->place.file)
        return a->place.file < b->place.file ? -1 : 1;
    if (a->place.line != b->place.line)
        return a->place.line < b->place.line ? -1 : 1;
    if (a->place.column != b->place.column)
        return a->place.column < b->place.column ? -1 : 1;
    return strcmp(a->slug, b->slug);
}

void tl_report_sort(tl_report *report)
{
    if (report->count > 1)
        qsort(report->findings, (size_t)report->count, sizeof *report->findings, compare);
}

void tl_report_drop(tl_report *report, int number)
{
    free_texts(&report->findings[number]);
    memmove(&report->findings[number], &report->findings[number + 1],
            (size_t)(report->count - number - 1) * sizeof *report->findings);
    report->count--;
}

const char *tl_severity_name(tl_severity severity)
{
    return severity == TL_ERROR ? "error" : severity == TL_WARNING ? "warning" : "note";
}

const char *tl_report_path(const tl_report *report, tl_place place)
{
    return place.file >= 0 && place.file < report->file_count ? report->files[place.file].path : "";
}

const char *tl_report_line(const tl_report *report, tl_place place, size_t *length)
{
    *length = 0;
    if (place.file < 0 || place.file >= report->file_count || place.line < 1 ||
        report->files[place.file].hidden)
        return "";
    const tl_report_file *file = &report->files[place.file];
    const char *at = file->text, *end = file->text + file->size;
    for (int line = 1; line < place.line; line++) {
        const char *next = memchr(at, '\n', (size_t)(end - at));
        if (next == NULL)
            return "";
        at = next + 1;
    }
    const char *stop = memchr(at, '\n', (size_t)(end - at));
    *length = (size_t)((stop != NULL ? stop : end) - at);
    if (*length > 0 && at[*length - 1] == '\r')
        --*length;
    return at;
}

void tl_report_tell(tl_report *report, FILE *to)
{
    tl_report_sort(report);
    for (int i = 0; i < tl_report_count(report); i++) {
        const tl_finding *f = tl_report_finding(report, i);
        if (f->place.file >= 0)
            fprintf(to, "%s:%d:%d: ", tl_report_file_path(report, f->place.file), f->place.line,
                    f->place.column);
        fprintf(to, "error: %s [%s]\n", f->cause, f->slug);
    }
}
