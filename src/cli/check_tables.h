/* SPDX-License-Identifier: MIT */
/* What `check` prints of a plan that it has gone through: worst cases at the pins, and what outputs drive. */
#ifndef TL_CHECK_TABLES_H
#define TL_CHECK_TABLES_H

#include "tinyladder/design/circuit.h"

void print_worst_cases(tl_circuit *circuit);

#endif
