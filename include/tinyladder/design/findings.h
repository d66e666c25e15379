/**
 * @file What is wrong, where, why, and what to do about it: filled by the readers and by the checker, printed
 * by others.
 */
#ifndef TINYLADDER_REPORT_H
#define TINYLADDER_REPORT_H

#include <stdbool.h>
#include <stddef.h>

#ifdef __cplusplus
extern "C" {
#endif

typedef enum tl_severity {
    TL_NOTE,    /**< wasteful, unproven, or resting on what the plan does not say */
    TL_WARNING, /**< some corner misreads by more than the plan's own resolution */
    TL_ERROR    /**< damages a part, cannot do its job, or cannot be read */
} tl_severity;

/** A spot in a text file. file is an index into the report's files, or -1; line and column count from 1, 0
 * for none. */
typedef struct tl_place {
    int file, line, column;
} tl_place;

/** Texts may be NULL, except cause and slug. */
typedef struct tl_finding {
    tl_severity severity;
    const char *slug; /**< stable short name of the rule */
    tl_place place;
    char *cause;  /**< one sentence */
    char *figure; /**< what breaks, and its limit */
    char *corner; /**< the worst corner that does it */
    char *fix;    /**< what to change */
} tl_finding;

typedef struct tl_report_file {
    char *path;
    char *text;
    size_t size;
    bool hidden; /**< it may be anybody's: not a line of it is shown */
} tl_report_file;

typedef struct tl_report {
    tl_finding *findings;
    int count;
    tl_report_file *files;
    int file_count;
    bool outside;           /**< files that join a plan may lie outside its folder; false to begin with */
    tl_report_file instead; /**< see tl_report_instead() */
} tl_report;

tl_report *tl_report_new(void);
void tl_report_free(tl_report *report);
/** Files that are read into this report: one of that path is taken to have this text. To try a change before
 * it is written. */
void tl_report_instead(tl_report *report, const char *path, const char *text, size_t size);

/** Adds a finding with its cause; returns it, so that the other texts can be set with tl_finding_text(). */
tl_finding *tl_report_add(tl_report *report, tl_severity severity, const char *slug, tl_place place,
                          const char *cause, ...) __attribute__((format(printf, 5, 6)));
/** Sets one text of a finding (&finding->fix and so on). */
void tl_finding_text(char **text, const char *format, ...) __attribute__((format(printf, 2, 3)));

/** How many findings are at least this severe. */
int tl_report_at_least(const tl_report *report, tl_severity severity);
/** Worst first; within a severity by file and place. */
void tl_report_sort(tl_report *report);
const char *tl_severity_name(tl_severity severity);
/** The path of a place's file, or "" where it has none. */
const char *tl_report_path(const tl_report *report, tl_place place);
/** The line a place lies in, without its end; length 0 where there is none. */
const char *tl_report_line(const tl_report *report, tl_place place, size_t *length);

#ifdef __cplusplus
}
#endif
#endif
