/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Proposals are checked before they are made: what a board or a plan says of a part that is to be
 * sized, a plan tried with other values, and fixes that are shown to fix.
 *
 * Host side. Nothing here writes a file: an edit says what would be written.
 *
 * Stable: within one ABI number of libtinyladder-host (abi/host.map, abi/host.layout) no call, structure or
 * constant here changes.
 *
 * @code{.c}
 * double pull_supply(const tl_board *board)
 * {
 *     tl_facts facts;
 *     tl_facts_none(&facts);
 *     tl_facts_of_board(board, &facts);
 *     return facts.of[TL_FACT_RAIL].high;
 * }
 * @endcode
 */
#ifndef TINYLADDER_PROPOSALS_H
#define TINYLADDER_PROPOSALS_H

#include "tinyladder/design/edit.h"
#include "tinyladder/design/measurement.h"
#include "tinyladder/design/rules.h"
#include "tinyladder/design/sizing.h"

#ifdef __cplusplus
extern "C" {
#endif

/* --- facts: what need not be typed --- */

/** What a board, or a plan at the place of a part, says. Values are in base units. */
typedef enum tl_fact {
    TL_FACT_NONE,
    TL_FACT_RAIL,            /**< volts of the pin's supply, or of the rail that the part is connected to */
    TL_FACT_LIMIT,           /**< volts: the pin's absolute limit, its supply at its lowest */
    TL_FACT_REFERENCE,       /**< volts of the converter, lowest */
    TL_FACT_LEAST_LIMIT,     /**< the lower of both */
    TL_FACT_OTHER_REFERENCE, /**< the reference, where it is not the rail that the part is connected to */
    TL_FACT_LEAKAGE,         /**< amperes of the pin, either way */
    TL_FACT_FARADS,          /**< of the pin, and of what is connected to it */
    TL_FACT_DRIVES,          /**< amperes at which the pin's output levels hold */
    TL_FACT_MOST_AMPERES,    /**< never more through the pin */
    TL_FACT_HIGH,            /**< volts of the pin's high level */
    TL_FACT_PIN_OHMS,        /**< of the pin as an output, at most: what it drops over what it drives */
    TL_FACT_BITS,            /**< of the converter */
    TL_FACT_SAMPLING,        /**< farads of its sampling capacitor */
    TL_FACT_SWITCH,          /**< ohms of its switch */
    TL_FACT_ACQUISITION,     /**< seconds, the longest on offer, or what the signal says */
    TL_FACT_FULL_STEPS,      /**< 1 where its first step is as wide as the others, 0 where half as wide */
    TL_FACT_ERRORS,          /**< counts: its offset, gain and nonlinearity together, at most */
    TL_FACT_CONVERSION,      /**< seconds after each acquisition */
    TL_FACT_SEES,            /**< ohms: the most source resistance that settles in that time */
    TL_FACT_LEAST,           /**< volts: the pin's lowest limit */
    TL_FACT_VIL,             /**< volts of its low threshold, where it does not follow its supply, */
    TL_FACT_VIH,             /**< and of its high one; */
    TL_FACT_VIL_SHARE,       /**< the share of its supply, where it does, */
    TL_FACT_VIH_SHARE,
    TL_FACT_INJECTION, /**< amperes that its clamps stand */
    TL_FACT_INTERNAL,  /**< ohms of its own pull-up */
    /* of a plan alone */
    TL_FACT_SOURCE,         /**< volts of the source */
    TL_FACT_SOURCE_OHMS,    /**< its own resistance, at most */
    TL_FACT_BUDGET,         /**< amperes that its rail allows */
    TL_FACT_LOAD,           /**< ohms across the lower leg */
    TL_FACT_SENSOR,         /**< ohms, lowest to highest */
    TL_FACT_UPPER,          /**< 1 where the partner stands in the upper leg, else 0 */
    TL_FACT_TRACK,          /**< ohms of a potentiometer */
    TL_FACT_TOP_RAIL,       /**< volts that its feed is connected to */
    TL_FACT_TRACKS,         /**< this many on one feed */
    TL_FACT_DOWN,           /**< 1 for a pull-down, else 0 */
    TL_FACT_FORWARD,        /**< volts of a lamp */
    TL_FACT_LOAD_SUPPLY,    /**< volts that the load of a transistor is connected to, */
    TL_FACT_LOAD_OHMS,      /**< its ohms, */
    TL_FACT_COIL,           /**< and henries */
    TL_FACT_GAIN,           /**< of the transistor: the forced gain it needs, */
    TL_FACT_SATURATION,     /**< volts across it, */
    TL_FACT_ON_OHMS,        /**< or its on-resistance */
    TL_FACT_BUS_MODE,       /**< a tl_bus_mode */
    TL_FACT_BUS_FARADS,     /**< of one line */
    TL_FACT_FAULT,          /**< volts that can be on the wire */
    TL_FACT_DRIVER,         /**< volts of the supply of what drives a line, */
    TL_FACT_VOL,            /**< its low at most, */
    TL_FACT_VOH,            /**< its high at least, */
    TL_FACT_DRIVER_AMPERES, /**< amperes at those levels, */
    TL_FACT_BIT_RATE,       /**< and bits a second */
    TL_FACT_LINE_FARADS,    /**< of the pin and of all that is connected to the line */
    TL_FACT_MAY_INVERT,     /**< 1 where the plan has an inverting way, else 0 */
    TL_FACT_DIODE,          /**< volts of a shifter's diode, or of its body diode */
    TL_FACT_THRESHOLD,      /**< volts of an N-channel shifter */
    TL_FACTS
} tl_fact;

/** What is known; a nominal of NAN is not. */
typedef struct tl_facts {
    tl_quantity of[TL_FACTS];
    tl_values acquisitions; /**< seconds, all that are on offer */
} tl_facts;

void tl_facts_none(tl_facts *facts);
/** What a board says of most of its pins, and of its own converter. */
void tl_facts_of_board(const tl_board *board, tl_facts *facts);

/** A part of a plan whose values can be chosen: of a signal, of a bus, of an output, of a shared node. */
typedef struct tl_part {
    const char *job;            /**< the sizing that finds it: `divider`, `pull` ... */
    const char *way;            /**< the way of the job that the plan has; NULL for any */
    const char *owner, *called; /**< `house-battery`, `divider` */
    int signal; /**< that it moves: its own, a line of the bus, one that is connected to the node; TL_NONE */
    int bus, output, shared;    /**< whose it is, else TL_NONE */
    const tl_stage *stage;      /**< NULL where it is none */
    const tl_located *value[2]; /**< where its values stand; the second may be NULL */
    const char *name[2];        /**< as the sizing calls them: `upper`, `lower` */
} tl_part;

enum { TL_PART_WHY = 400 }; /**< bytes that a reason takes at most */

/**
 * Finds a part by its path, such as `house-battery.divider`, `dome.pull` of a bus, `map-light.series` of an
 * output, `paddle-top` of a shared node.
 * @param[out] why  What is wrong, where it answers false.
 */
bool tl_part_find(const tl_plan *plan, const char *path, tl_part *part, char why[TL_PART_WHY]);
/** What the plan says where the part stands. */
void tl_facts_of_part(tl_circuit *circuit, const tl_part *part, tl_facts *facts);

/* --- trials: a plan as it would be --- */

/** A finding that says that a file cannot be read, or NULL. */
const tl_finding *tl_finding_unread(const tl_report *report);

/** A plan read and checked anew, with one of its files changed. */
typedef struct tl_trial {
    tl_report *report;
    tl_plan *plan;          /**< NULL where it would be none any more */
    tl_circuit *circuit;    /**< of it */
    const tl_finding *lost; /**< of its report: a file that cannot be read this time; NULL. No answer then. */
} tl_trial;

/** @param report  Of the plan as it is: read and checked. @param file  Which of its files has other text. */
void tl_trial_begin(tl_trial *trial, const tl_plan *plan, const tl_report *report, int file, const char *text,
                    size_t size);
void tl_trial_end(tl_trial *trial);
/**
 * What has come that was not there before: the first finding that is a warning at least and of which there
 * are more than in the report, or any of the signal `subject` (-1 for no signal); NULL for nothing.
 */
const tl_finding *tl_trial_worse(const tl_trial *trial, const tl_report *before, int subject);
/** The next of them; `last`: the one before, NULL for the first. */
const tl_finding *tl_trial_worse_after(const tl_trial *trial, const tl_report *before, int subject,
                                       const tl_finding *last);

/** The edits that put other values into a part; answers how many, 0 where that cannot be. */
int tl_part_edits(const tl_report *report, const tl_part *part, const char *const values[2],
                  tl_edit edits[2]);

/* --- questions: what a sizing found, asked of the smallest plan that holds it --- */

/** What was asked of a sizing. */
typedef struct tl_question {
    const char *kind;        /**< the sizing: `divider`, `pull` ... */
    const void *requirement; /**< as it was given to it */
    const tl_facts
        *facts;         /**< of a board, or none: the plan's board is made of them and of the requirement */
    const char *drawer; /**< a drawer's file, or NULL */
} tl_question;

/**
 * Puts every choice into the smallest plan that holds the question, and asks its circuit and every rule. What
 * breaks a rule goes to the rejected, with the finding; of the others each figure becomes the circuit's own
 * worst case, by the same functions as `check` asks it (tl_size_figure.proved). At most this many are kept,
 * in their order; with tl_size_result.compare all of them. TL_SIZE_UNPROVED where nothing proves this kind of
 * sizing, or a file of the question cannot be read.
 */
void tl_question_ask(const tl_question *question, tl_size_result *result, int most);

/* --- mending --- */

/**
 * The edit that mends a finding, shown to do so: applied, the finding is gone and nothing worse has come.
 * @param[out] edit  To be freed with tl_edit_free().
 * @return false where there is none such.
 */
bool tl_mend_finding(const tl_plan *plan, const tl_report *report, const tl_finding *finding, tl_edit *edit);
/**
 * The same for every finding of a report: tried all together first, and one by one those that do not stand
 * with the others. In a plan of more than 100 signals fewer are tried one by one, the larger it is.
 * @param[out] edits  One for each finding, text NULL where there is none such; each to be freed.
 * @return NULL; or, where a file of the plan cannot be read this time, the report that says so, the caller's
 * to free: whether an edit mends is not known then.
 */
tl_report *tl_mend_findings(const tl_plan *plan, const tl_report *report, tl_edit *edits);
/** The same for findings of one kind: `slug`, or NULL for all. */
tl_report *tl_mend_kind(const tl_plan *plan, const tl_report *report, const char *slug, tl_edit *edits);
/** Whether two or more edits, text NULL for those that are left out, mend their findings together: one of
 * them for each finding, all in one file. */
bool tl_mends_together(const tl_plan *plan, const tl_report *report, const tl_edit *edits);

#ifdef __cplusplus
}
#endif
#endif
