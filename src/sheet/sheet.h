/* SPDX-License-Identifier: MIT */
/* The bench sheet: circuits, the list that one wires by, the header, checkpoints and parts, page by page. */
#ifndef TL_SHEET_H
#define TL_SHEET_H

#include "model/parts.h"
#include "sheet/canvas.h"
#include "sheet/checkpoints.h"
#include "sheet/paper.h"
#include "sheet/placement.h"
#include "sheet/wiring.h"

typedef struct {
    const int *signals; /* of the plan, in the order of the sheet */
    int signal_count;
    bool whole; /* outputs and all other wires, too */
    bool letter;
    bool circuits;             /* and nothing else */
    const char *command;       /* at the foot */
    const char *verdict;       /* of check, in words */
    const tl_report *findings; /* and all of them; NULL */
} sheet_options;

/* Writes FILE, or of forms with a page a file FILE-1, FILE-2 and so on before its ending. How many pages; 0
 * where a file cannot be written: `why` says so. */
int sheet_write(tl_circuit *circuit, const sheet_options *o, const char *path, sheet_form form,
                char why[1200]);
/* The name of one of these files, from 0 on. */
void sheet_file_name(const char *path, int files, int file, char name[1000]);
/* Of forms that are one text: SHEET_SVG, the circuits alone as one drawing; SHEET_HTML, a page that needs no
 * other file and no network; SHEET_TEXT, for a terminal. To be freed. */
char *sheet_text(tl_circuit *circuit, const sheet_options *o, sheet_form form, FILE *faults_to, int *faults);
/* Into a file. False: `why` says so. */
bool sheet_write_text(tl_circuit *circuit, const sheet_options *o, const char *path, sheet_form form,
                      char why[1200]);
/* Draws all pages nowhere: how many things lie on each other. Each is said on `to`, unless that is NULL. */
int sheet_prove(tl_circuit *circuit, const sheet_options *o, FILE *to);

/* --- for the files that draw a part of it --- */

typedef struct {
    tl_circuit *circuit;
    const tl_plan *plan;
    const sheet_options *o;
    wiring list; /* in the order of the sheet */
    tl_parts parts;
    checkpoints checks;
    placement on_board; /* where the plan names a plug-in board */
    /* the page */
    canvas *c;
    double width, height, left, right, bottom;
    double y; /* where the next thing may begin */
    int page, pages;
    int faults;
    FILE *faults_to;
    paper *on;
} sheet;

#define SHEET_HEADER_KEY "thick: on this sheet   ·   thin: other uses in the plan   ·   dotted: free"

/* What a sheet says, not drawn yet; ended with sheet_free(). */
sheet sheet_of(tl_circuit *circuit, const sheet_options *o);
void sheet_free(sheet *s);

/* Ends the page, and begins another. */
void sheet_turn(sheet *s);
/* Ends the last. */
void sheet_end(sheet *s);
/* A heading; on another page where `room` is not left. */
void sheet_heading(sheet *s, const char *title, const char *beside, double room);

/* Errors and warnings of a signal; of TL_NONE those that belong to no drawing. */
bool finding_is_of(const sheet *s, const tl_finding *f, int subject);
double sheet_notes_height(sheet *s, int subject, double width);
/* at: above the first line. */
void sheet_draw_notes(sheet *s, int subject, place at, double width);

typedef void sheet_maker(sheet *s, FILE *to);
sheet_maker sheet_put_drawing, sheet_put_page, sheet_put_text;

void sheet_draw_circuits(sheet *s);
/* From s->y on, without pages and legend; how wide they are. */
double sheet_put_circuits(sheet *s);
void sheet_draw_wiring(sheet *s);
void sheet_draw_header(sheet *s);
/* Without a heading: 0 where the board has none; from s->y on. */
double sheet_header_height(const sheet *s);
void sheet_put_header(sheet *s);
/* The plug-in board's holes, one drawing for each board that is needed; and what else goes into them. */
void sheet_draw_grids(sheet *s);
double sheet_grid_height(const sheet *s);
/* From s->y on. */
void sheet_put_grid(sheet *s, int board);
void sheet_draw_checkpoints(sheet *s);
void sheet_draw_parts(sheet *s);

#endif
