/* SPDX-License-Identifier: MIT */
/* What is answered in JSON where a verb cannot answer. */
#ifndef TL_JSON_ANSWER_H
#define TL_JSON_ANSWER_H

#include "tinyladder/design/findings.h"
#include <jansson.h>

#define JSON_ANSWER_FORM (JSON_INDENT(2) | JSON_REAL_PRECISION(10)) /* of everything that is printed */

/* Looks through the arguments once, before a verb runs. */
void json_answer_asked(int argc, char **argv);
/* An answer was printed: nothing need follow. */
void json_answer_given(void);
/* The findings that kept a file from being read, where JSON was asked for. */
void json_answer_unreadable(const tl_report *report);

#endif
