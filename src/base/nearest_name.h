/* SPDX-License-Identifier: MIT */
/* "Did you mean": the likeliest of some names for one that is none of them. */
#ifndef TL_NEAREST_NAME_H
#define TL_NEAREST_NAME_H

/* name() gives the i-th of `count` names of a list. The nearest that is near enough, or NULL. */
const char *nearest_name(const char *wrong, const char *(*name)(const void *list, int i), const void *list,
                         int count);

#endif
