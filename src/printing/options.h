/* SPDX-License-Identifier: MIT */
/* Options that say a quantity, a number or a file. */
#ifndef TL_OPTIONS_H
#define TL_OPTIONS_H

#include <argp.h>

#include "tinyladder/design/quantity.h"

/* argp_parse(), but an unknown option is answered with the nearest one, and ends the command as wrong usage.
 */
void options_parse(const struct argp *argp, int argc, char **argv, void *input);
/* `; did you mean 'check'?`, or nothing; the caller's text is where it is written. */
const char *did_you_mean(const char *meant, char text[100]);
/* Reads an option's quantity; a bad one ends the command as wrong usage, naming the option. */
tl_quantity option_quantity(struct argp_state *state, const char *option, const char *text,
                            tl_dimension dimension);
double option_value(struct argp_state *state, const char *option, const char *text, tl_dimension dimension);
/* The one file a verb works on; kind: what it may be, such as "plan". A second one is wrong usage. */
void option_file(struct argp_state *state, const char *kind, const char **path, const char *text);
long option_number(struct argp_state *state, const char *option, const char *text, long least, long most);

#endif
