/* SPDX-License-Identifier: MIT */
/* What `size` knows: one row a kind, with its options as a table over its requirement. */
#ifndef TL_JOBS_H
#define TL_JOBS_H

#include "tinyladder/design/proposals.h"
#include <stddef.h>

typedef enum { FORM_RANGE, FORM_VALUE, FORM_LIST, FORM_NUMBER, FORM_WORD, FORM_FLAG } option_form;

typedef struct {
    const char *help;
    tl_fact from; /* what stands for it where it is not typed: from the board, or from the plan */
    const char *name, *argument;
    option_form form;
    tl_dimension dimension; /* of a range or a value */
    size_t offset; /* of the member in the requirement: tl_quantity, double, tl_values, double, int, int */
    const char *const *words; /* of a word: what its numbers are called, ended by NULL */
} size_option;

typedef struct {
    const char *name, *summary, *needs; /* needs: an example of what must be said */
    const size_option *options;         /* ends with a NULL name */
    void (*set_defaults)(void *requirement);
    void (*size)(const void *requirement, tl_size_result *result);
    const char *compared;     /* what --compare takes, such as 470/180,4k7/1k8 */
    int fewest, most;         /* values of one that is compared; */
    tl_dimension of_value[2]; /* the first, and all others */
} size_kind;

extern const size_kind size_kinds[];
extern const int size_kind_count;

enum { SIZE_OPTIONS_MOST = 40 };

/* NULL where there is none of this name. */
const size_kind *size_kind_of(const char *name);
/* What is known of a board or a plan goes into the requirement; an option that was typed wins. typed: one
 * mark an option, or NULL. */
void size_take_facts(const size_kind *kind, void *requirement, const bool *typed, const tl_facts *facts);

#endif
