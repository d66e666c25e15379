/* What the verbs share. A verb parses its own arguments, asks the libraries and prints; it holds no
 * electrical formula. */
#ifndef TL_CLI_H
#define TL_CLI_H

#include <argp.h>
#include <jansson.h>
#include <stdbool.h>
#include <stdio.h>

#include "tinyladder/design/measurement.h"
#include "tinyladder/design/quantity.h"
#include "tinyladder/design/rules.h"

/* Exit statuses of the command. */
enum { EXIT_DONE = 0, EXIT_FOUND = 1, EXIT_USAGE = 2, EXIT_UNREADABLE = 3, EXIT_HARDWARE = 4 };

typedef struct {
    const char *name, *arguments, *summary;
    int (*run)(int argc, char **argv);
} verb;

extern const verb verb_new, verb_pins, verb_size, verb_word, verb_check, verb_read, verb_convert, verb_record,
    verb_plot, verb_watch, verb_trim, verb_header, verb_demo, verb_completion;
/* The verbs that a shell may complete to; main.c lists them. */
void completion_offers(const verb *const *verbs, int count);

/* --- memory --- */

/* What was asked for, or the end of the command: one line, and EXIT_HARDWARE. */
void *must(void *memory);

/* --- tables: columns as wide as their widest cell, by characters of UTF-8 --- */

enum { TABLE_COLUMNS = 16, WIDE = 100 }; /* more columns than WIDE do not stand on every screen */
typedef struct {
    int columns, rows;
    bool right[TABLE_COLUMNS];     /* numbers stand to the right */
    bool own_units[TABLE_COLUMNS]; /* each row has a unit of its own, even where they are alike */
    char **cells;
} table;

void table_begin(table *t, int columns, const char *alignment); /* one of '<' '>' '.' for each */
void table_cell(table *t, const char *format, ...) __attribute__((format(printf, 2, 3)));
/* Several heads at once. */
void table_head_row(table *t, const char *const *names, size_t count);
#define table_heads(t, ...)                                                                                  \
    table_head_row(t, (const char *const[]){__VA_ARGS__},                                                    \
                   sizeof((const char *const[]){__VA_ARGS__}) / sizeof(const char *))
void table_drop(table *t); /* frees without printing */
/* Prints and frees; the first row is the head, over two lines where the table would be wider than 100
 * columns. */
void table_end(table *t, FILE *to, const char *indent);
/* The same, but where it would be too wide all the same, its columns become rows. */
void table_end_turned(table *t, FILE *to, const char *indent);
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

/* --- reports --- */

/* An empty one, which lets files join from where the command's first option allows it. */
tl_report *new_report(void);
/* `--outside`, before the verb. */
void allow_outside(void);
/* proven: its fix is shown to mend it; else what it says is advice. */
void print_finding(FILE *to, const tl_report *report, const tl_finding *finding, bool proven);
/* What kept a file from being read, to stderr, sorted; answers EXIT_UNREADABLE. */
int print_unreadable(tl_report *report);

/* --- options --- */

/* Reads an option's quantity; a bad one ends the command as wrong usage, naming the option. */
tl_quantity option_quantity(struct argp_state *state, const char *option, const char *text,
                            tl_dimension dimension);
double option_value(struct argp_state *state, const char *option, const char *text, tl_dimension dimension);
/* The one file a verb works on; kind: what it may be, such as "plan". A second one is wrong usage. */
void option_file(struct argp_state *state, const char *kind, const char **path, const char *text);
long option_number(struct argp_state *state, const char *option, const char *text, long least, long most);

/* --- CSV --- */

/* A field as RFC 4180 has it: in quotes where it must be. Whole, or "" where the room is too small. */
const char *csv_text(const char *text, char *to, size_t room);

/* --- JSON --- */

json_t *json_number(double value); /* null where it is not finite */
void json_print(json_t *object);   /* prints and frees */

#endif
