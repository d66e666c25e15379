/* SPDX-License-Identifier: MIT */
/* A diagnosis on paper and as JSON. */
#ifndef TL_EXPLAIN_PRINT_H
#define TL_EXPLAIN_PRINT_H

#include "explain/next.h"
#include <jansson.h>

/* findings: what check says of the signals that were seen, or NULL. */
void explain_print(const diagnosis *d, const next_measurement *next, long most, const tl_report *findings);
json_t *explain_object(const diagnosis *d, const next_measurement *next, long most,
                       const tl_report *findings);
/* What `check` finds about the signals that were seen; to be freed. */
tl_report *explain_findings(const diagnosis *d);

#endif
