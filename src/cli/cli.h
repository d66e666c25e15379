/* SPDX-License-Identifier: MIT */
/* What the verbs share. A verb parses its own arguments, asks the libraries and prints; it holds no
 * electrical formula. */
#ifndef TL_CLI_H
#define TL_CLI_H

#include "printing/options.h"
#include "printing/printing.h"
#include "printing/tables.h"

typedef struct {
    const char *name, *summary;
    int (*run)(int argc, char **argv);
} verb;

extern const verb verb_new, verb_pins, verb_size, verb_word, verb_check, verb_read, verb_convert, verb_record,
    verb_plot, verb_watch, verb_trim, verb_header, verb_demo, verb_completion, verb_explain, verb_sheet;
/* The verbs that a shell may complete to; main.c lists them. */
void completion_offers(const verb *const *verbs, int count);

#endif
