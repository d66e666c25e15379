/* SPDX-License-Identifier: MIT */
/* What a program at the other end of the socket may ask of the bench: one JSON object, one answer. */
#ifndef TL_CALLS_H
#define TL_CALLS_H

#include "tinyladder/bench.h"
#include <jansson.h>

/* The answer to a line, to be released: `ok`, `at` (seconds of the scene), and what was asked or `error`. */
json_t *calls_answer(tl_bench *bench, const char *line, size_t length);

#endif
