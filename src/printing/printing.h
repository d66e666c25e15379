/* SPDX-License-Identifier: MIT */
/* What the command says, and how: memory, widths, colours, quantities in running text, findings, CSV and
 * JSON. */
#ifndef TL_PRINTING_H
#define TL_PRINTING_H

#include <jansson.h>
#include <stdbool.h>
#include <stdio.h>

#include "tinyladder/design/edit.h"
#include "tinyladder/design/quantity.h"
#include "tinyladder/design/rules.h"

/* Exit statuses of the command. */
enum { EXIT_DONE = 0, EXIT_FOUND = 1, EXIT_USAGE = 2, EXIT_UNREADABLE = 3, EXIT_HARDWARE = 4 };

/* --- memory --- */

/* What was asked for, or the end of the command: one line, and EXIT_HARDWARE. */
void *must(void *memory);
/* Where a program of ours is: beside this one, or where it is installed; false: nowhere. */
bool helper_program(const char *name, char path[600]);
bool outside_is_allowed(void);

/* --- widths --- */

enum { WIDE = 100 }; /* columns; more do not are on every screen */
/* How wide text may be: 100 columns, or the terminal's where those are fewer. */
int print_columns(void);
/* Characters on the screen: every byte that starts one. */
int print_width(const char *text);
/* A sentence, folded between words at 100 columns, or at the terminal's where those are fewer. */
void put_note(const char *indent, const char *more, const char *text);

/* --- colours: only on a terminal, never against NO_COLOR --- */

typedef enum { INK_PLAIN, INK_STRONG, INK_ERROR, INK_WARNING, INK_NOTE, INK_FAINT } ink;
const char *ink_on(FILE *to, ink colour);
const char *ink_off(FILE *to);

/* --- quantities in running text --- */

typedef struct {
    char text[32];
} shown;
shown show(double value, tl_dimension dimension);
shown show_least(double value, tl_dimension dimension); /* the lower end of a guaranteed span: rounded down */
shown show_most(double value, tl_dimension dimension);
shown show_code(double ohms);
shown show_part(double value, tl_dimension dimension); /* `4.7 kΩ` */

/* A unit as people read it: `°C` for `degC`; in files and JSON it stays as it is. */
const char *unit_shown(const char *unit);

/* --- reports --- */

/* An empty one, which lets files join from where the command's first option allows it. */
tl_report *new_report(void);
/* `--outside`, before the verb. */
void allow_outside(void);
/* edit: what is shown to mend it; NULL, or without a text: what the rule says is advice. */
void print_finding(FILE *to, const tl_report *report, const tl_finding *finding, const tl_edit *edit);
const char *fix_of(const tl_finding *finding, const tl_edit *edit);
/* What kept a file from being read, to stderr, sorted; answers EXIT_UNREADABLE. */
int print_unreadable(tl_report *report);

/* --- the wall clock --- */

enum { CLOCK_ROOM = 28 };
/* Now, as ISO 8601 has it, to the millisecond: 2026-11-30T20:06:12.345Z. */
void clock_text(char text[CLOCK_ROOM]);

/* --- CSV --- */

/* Whether a spreadsheet would take this for a formula: it begins like one, and is no number. */
bool csv_is_formula(const char *text, size_t length);
/* A field as RFC 4180 has it: in quotes where it must be; what would be a formula has an apostrophe before
 * it. Whole, or "" where the room is too small. */
const char *csv_text(const char *text, char *to, size_t room);

/* --- JSON --- */

json_t *json_number(double value); /* null where it is not finite */
void json_print(json_t *object);   /* prints and frees */

#endif
