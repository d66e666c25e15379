/* What `tinyladder size` knows: one row a kind, with its options as a table over its wish. */
#ifndef TL_SIZE_KINDS_H
#define TL_SIZE_KINDS_H

#include "cli/cli.h"
#include "tinyladder/design/sizing.h"

typedef enum { FORM_RANGE, FORM_VALUE, FORM_NUMBER, FORM_WORD, FORM_FLAG } option_form;

typedef struct {
    const char *name, *argument, *help;
    option_form form;
    tl_dimension dimension;   /* of a range or a value */
    size_t offset;            /* of the member in the wish: tl_quantity, double, double, int, int */
    const char *const *words; /* of a word: what its numbers are called, ended by NULL */
} size_option;

/* What a board file says for all its pins; NAN where there is no board. */
typedef struct {
    bool given;
    tl_quantity rail;
    double limit, leakage, farads, drives, most_amperes;
    tl_size_converter converter;
} board_facts;

typedef struct {
    const char *name, *summary, *needs; /* needs: an example of what must be said */
    const size_option *options;         /* ends with a NULL name */
    void (*set_defaults)(void *wish);
    void (*take_board)(void *wish,
                       const board_facts *board); /* fills in what has not been said; may be NULL */
    void (*size)(const void *wish, tl_answer *answer);
} size_kind;

extern const size_kind size_kinds[];
extern const int size_kind_count;

/* Room for any wish. */
typedef union {
    tl_divider_wish divider;
    tl_partner_wish partner;
    tl_feed_wish feed;
    tl_follower_wish follower;
    tl_pull_wish pull;
    tl_guard_wish guard;
    tl_lamp_wish lamp;
    tl_driver_wish driver;
    tl_loop_wish loop;
    tl_bus_wish bus;
    tl_shift_wish shift;
    tl_mux_wish mux;
    tl_ladder_wish ladder;
    tl_filter_wish filter;
    tl_reservoir_wish reservoir;
    tl_injection_wish injection;
} any_wish;

#endif
