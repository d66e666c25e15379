/* SPDX-License-Identifier: MIT */
/* What `watch` shows and how: the parts of it that its files share. */
#ifndef TL_WATCH_H
#define TL_WATCH_H

#include "publish/publish.h"
#include "reading/counts.h"
#include "reading/taker.h"

enum { HISTORY = 200 };

typedef enum { SHOW_UNIT, SHOW_VOLTS, SHOW_DECIMAL, SHOW_HEX, SHOW_BINARY } show_as;

typedef struct {
    double least, most;  /* of what is shown, since the last reset */
    float past[HISTORY]; /* shares of the range, or levels; the newest at `next` - 1 */
    int filled, next;
    bool falls; /* its value falls while its counts rise */
} past_of;

/* What a hand does to a signal's source. */
typedef struct {
    int button; /* of a keypad: the one that would be pressed */
    bool holds; /* the scene moves it no more */
} hand;

typedef struct {
    const tl_plan *plan;
    tl_bench *bench;
    int *signals, count;
    taken *now;
    int *shown, shown_count; /* the outputs that show one of them, below */
    outputs outputs;
    past_of *past; /* of the signals, then of the outputs */
    taker *taker;
    counts *from; /* of the real board; NULL: the bench */
    taken *heard; /* the last of every signal of the plan */
    bool *told;
    double *heard_at; /* of each watched one, by this computer's clock; -INFINITY */
    publisher *to;
    double at, end, every, speed;
    long frames; /* 0: until the user ends it */
    show_as as;
    int top;    /* first row that is seen */
    int chosen; /* row of the hand */
    hand *hands;
    bool paused, utf8, ended, on_screen;
} watching;

/* watch_look.c: what there is to see. */
void look(watching *w);
void reset_extremes(watching *w);
const output_state *output_at(const watching *w, int i);
/* Of its converter's span, from the end where its value is least. */
double share_of_span(const watching *w, int i);
void value_text(const watching *w, int i, char text[80]);
bool value_falls(const watching *w, int i);

/* watch_hand.c: the chosen source, turned and pressed from the keyboard. */
void hand_turn(watching *w, int steps);
void hand_press(watching *w);
void hand_let_go(watching *w);

/* watch_screen.c: how it is on the terminal. */
void draw(watching *w);
/* Signals, a line between, outputs. */
int row_count(const watching *w);

#endif
