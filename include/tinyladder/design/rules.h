/** @file The rules of the checker, and what they find in a plan. */
#ifndef TINYLADDER_RULES_H
#define TINYLADDER_RULES_H

#include "tinyladder/design/circuit.h"

#ifdef __cplusplus
extern "C" {
#endif

/** What a rule of the checker means. formula may be NULL. */
typedef struct tl_rule {
    const char *slug, *meaning, *formula, *fix;
} tl_rule;
const tl_rule *tl_plan_rules(int *count);
/** NULL for a slug that is none. */
const tl_rule *tl_plan_rule(const char *slug);

/** Adds every finding about a plan to the report, worst first. Every slug is one of tl_plan_rules(). */
void tl_plan_check(const tl_circuit *circuit, tl_report *report);

#ifdef __cplusplus
}
#endif
#endif
