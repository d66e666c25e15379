/* SPDX-License-Identifier: MIT */
/* What is fuzzed: a function each, given the bytes; FUZZ_TARGET names the one that is (scripts/fuzz.sh). */
#ifndef TL_FUZZ_H
#define TL_FUZZ_H

#include <stddef.h>
#include <stdint.h>

typedef struct {
    const uint8_t *data;
    size_t size;
} input;

typedef void fuzz_target(void *context);
fuzz_target fuzz_plan, fuzz_board, fuzz_scene, fuzz_table, fuzz_converter, fuzz_quantity, fuzz_dump,
    fuzz_word, fuzz_marking, fuzz_counts, fuzz_record, fuzz_request, fuzz_bus, fuzz_sheet, fuzz_edit;

#endif
