/* What `tinyladder size` knows: one row a kind, with its options as a table over its requirement. */
#ifndef TL_SIZE_KINDS_H
#define TL_SIZE_KINDS_H

#include "cli/cli.h"
#include "tinyladder/design/sizing.h"

typedef enum { FORM_RANGE, FORM_VALUE, FORM_NUMBER, FORM_WORD, FORM_FLAG } option_form;

typedef struct {
    const char *name, *argument, *help;
    option_form form;
    tl_dimension dimension;   /* of a range or a value */
    size_t offset;            /* of the member in the requirement: tl_quantity, double, double, int, int */
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
    void (*set_defaults)(void *requirement);
    void (*take_board)(void *requirement,
                       const board_facts *board); /* fills in what has not been said; may be NULL */
    void (*size)(const void *requirement, tl_size_result *answer);
} size_kind;

extern const size_kind size_kinds[];
extern const int size_kind_count;

/* Room for any requirement. */
typedef union {
    tl_divider_requirement divider;
    tl_partner_requirement partner;
    tl_feed_requirement feed;
    tl_follower_requirement follower;
    tl_pull_requirement pull;
    tl_guard_requirement guard;
    tl_lamp_requirement lamp;
    tl_driver_requirement driver;
    tl_loop_requirement loop;
    tl_bus_requirement bus;
    tl_shift_requirement shift;
    tl_mux_requirement mux;
    tl_ladder_requirement ladder;
    tl_filter_requirement filter;
    tl_reservoir_requirement reservoir;
    tl_injection_requirement injection;
} any_wish;

#endif
