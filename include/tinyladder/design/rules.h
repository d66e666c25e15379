/* SPDX-License-Identifier: MIT */
/**
 * @file
 * The rules of the checker, and what they find in a plan.
 *
 * Stable: within one ABI number of libtinyladder-host (abi/host.map, abi/host.layout) no call, structure or
 * constant here changes.
 *
 * @code{.c}
 * int errors_of(const tl_plan *plan, tl_report *report)
 * {
 *     tl_circuit *circuit = tl_circuit_new(plan);
 *     if (circuit == NULL)
 *         return -1;
 *     tl_plan_check(circuit, report);
 *     tl_circuit_free(circuit);
 *     return tl_report_at_least(report, TL_ERROR);
 * }
 * @endcode
 */
#ifndef TINYLADDER_RULES_H
#define TINYLADDER_RULES_H

#include "tinyladder/design/circuit.h"

#ifdef __cplusplus
extern "C" {
#endif

/** What a rule looks at. */
typedef enum tl_rule_scope {
    TL_SCOPE_SIGNAL, /**< every signal, and the lines of buses and outputs */
    TL_SCOPE_BUS,
    TL_SCOPE_MUX,
    TL_SCOPE_OUTPUT,
    TL_SCOPE_PLAN, /**< what several of them share */
    TL_SCOPE_FILE  /**< how a file is written: found by its reader */
} tl_rule_scope;

/** Which edits a finding of a rule may carry, where its fix can be written down at all. */
typedef enum tl_rule_mends {
    TL_MENDS_NOT = 0,
    TL_MENDS_VALUE = 1, /**< another value at the place */
    TL_MENDS_KEY = 2,   /**< a key in the map there */
    TL_MENDS_STAGE = 4  /**< one more stage of the signal */
} tl_rule_mends;

/** A rule of the checker: one row a slug. formula may be NULL. */
typedef struct tl_rule {
    const char *slug;
    tl_rule_scope scope;
    unsigned asks; /**< what it compares: bits 1 << tl_dimension; 0 where it only reads the plan */
    tl_severity severity,
        grave; /**< as it usually is, and where a part is damaged or the job cannot be done */
    int mends; /**< of tl_rule_mends */
    const char *meaning, *formula, *fix;
} tl_rule;
/** The rules of the checker. */
const tl_rule *tl_plan_rules(int *count);
/** And what the readers of files find. */
const tl_rule *tl_file_rules(int *count);
/** Of either; NULL for a slug that is none. */
const tl_rule *tl_plan_rule(const char *slug);

/** Adds every finding about a plan to the report, worst first. Every slug is one of tl_plan_rules(). */
void tl_plan_check(tl_circuit *circuit, tl_report *report);
/** Only what no reading can be made of: a pin with two uses, a voltage on a pin without a converter. */
void tl_plan_check_readable(tl_circuit *circuit, tl_report *report);

/* --- figures that the rules work out, for whoever must not differ from them --- */

/** The most that flows while the firmware drives the pin of a signal against its source, amperes. */
double tl_circuit_driven_amperes(tl_circuit *circuit, int signal);
/** The most that a pin's clamp carries, the upper or the lower one; 0 where it never conducts. */
double tl_circuit_clamp_amperes(tl_circuit *circuit, int signal, int state, bool high);
#ifdef __cplusplus
}
#endif
#endif
