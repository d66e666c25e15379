/* SPDX-License-Identifier: MIT */
/**
 * @file
 * What is wrong, where, why, and what to do about it: filled by the readers and by the checker, printed
 * by others.
 *
 * Stable: within one ABI number of libtinyladder-host (abi/host.map, abi/host.layout) no call, structure or
 * constant here changes.
 *
 * @code{.c}
 * void print_all(const tl_report *report)
 * {
 *     for (int i = 0; i < tl_report_count(report); i++) {
 *         const tl_finding *f = tl_report_finding(report, i);
 *         printf("%s:%d: %s: %s\n", tl_report_path(report, f->place), f->place.line,
 *                tl_severity_name(f->severity), f->cause);
 *     }
 * }
 * @endcode
 */
#ifndef TINYLADDER_FINDINGS_H
#define TINYLADDER_FINDINGS_H

#include <stdbool.h>
#include <stddef.h>
#include <stdio.h>

#include "tinyladder/design/quantity.h"

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

/** What breaks, as figures; NAN where there is none. */
typedef struct tl_figures {
    double value; /**< what is there at worst */
    double limit; /**< what it is compared with */
    tl_dimension dimension;
} tl_figures;

/** What would mend it, as a change of the file; text is NULL where there is none. */
typedef enum tl_change_kind {
    TL_CHANGE_VALUE,  /**< the value at the place becomes `text` */
    TL_CHANGE_KEY,    /**< in the map that begins at the place `key` becomes `text` */
    TL_CHANGE_KEY_OF, /**< the same in the map that is the value of the key at the place */
    TL_CHANGE_STAGE   /**< the signal whose name stands at the place gets one more stage, `key: text` */
} tl_change_kind;
typedef struct tl_change {
    tl_change_kind kind;
    tl_place place;
    const char *key;
    char *text;
} tl_change;

/** Texts may be NULL, except cause and slug. */
typedef struct tl_finding {
    tl_severity severity;
    const char *slug; /**< stable short name of the rule */
    int rule;         /**< its place among tl_plan_rules(); -1 for one of a file's reader */
    tl_place place;
    int subject; /**< the plan's signal, or line behind them, that it is about; -1 for the plan as a whole */
    tl_figures figures;
    char *cause;  /**< one sentence */
    char *also;   /**< further signals of the same entry or bus of which the same is true: `bed-2 .. bed-8` */
    char *figure; /**< what breaks, and its limit */
    char *corner; /**< the worst corner that does it */
    char *fix;    /**< what to change */
    tl_change change;
} tl_finding;

/** Everything that was found, and the files that were read. */
typedef struct tl_report tl_report;

tl_report *tl_report_new(void);
void tl_report_free(tl_report *report);
/** Whether files that join a plan may lie outside its folder; false to begin with. */
void tl_report_allow_outside(tl_report *report, bool allowed);
bool tl_report_outside(const tl_report *report);
int tl_report_count(const tl_report *report);
/** A finding by its number, worst first once it is sorted. */
const tl_finding *tl_report_finding(const tl_report *report, int number);
/** The path and the text of a file, by its number in a place. */
const char *tl_report_file_path(const tl_report *report, int file);
const char *tl_report_file_text(const tl_report *report, int file, size_t *size);
/** Files that are read into this report: one of that path is taken to have this text, the first that was said
 * of it. To try a change before it is written. */
void tl_report_instead(tl_report *report, const char *path, const char *text, size_t size);

/** Adds a finding with its cause; returns it, so that the other texts can be set with tl_finding_text(). */
tl_finding *tl_report_add(tl_report *report, tl_severity severity, const char *slug, tl_place place,
                          const char *cause, ...) __attribute__((format(printf, 5, 6)));
/** Sets one text of a finding (&finding->fix and so on). */
/** Sets what breaks and its limit. */
void tl_finding_figures(tl_finding *finding, tl_dimension dimension, double value, double limit);
/** Says how the file could change; tl_mend_finding() shows whether that mends it. */
void tl_finding_change(tl_finding *finding, tl_change_kind kind, tl_place place, const char *key,
                       const char *text, ...) __attribute__((format(printf, 5, 6)));
void tl_finding_text(char **text, const char *format, ...) __attribute__((format(printf, 2, 3)));

/** How many findings are at least this severe. */
int tl_report_at_least(const tl_report *report, tl_severity severity);
/** Forgets one finding. */
void tl_report_drop(tl_report *report, int number);
/** Worst first; within a severity by file and place. */
void tl_report_sort(tl_report *report);
/** Sorts it and writes a line for each finding, as editors understand it: `FILE:LINE:COLUMN: error: CAUSE
 * [SLUG]`. For programs that only read files. */
void tl_report_tell(tl_report *report, FILE *to);
const char *tl_severity_name(tl_severity severity);
/** The path of a place's file, or "" where it has none. */
const char *tl_report_path(const tl_report *report, tl_place place);
/** The line a place lies in, without its end; length 0 where there is none. */
const char *tl_report_line(const tl_report *report, tl_place place, size_t *length);

#ifdef __cplusplus
}
#endif
#endif
