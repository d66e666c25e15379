/* SPDX-License-Identifier: MIT */
/* What lean_sums.c needs, and gives. */
#ifndef LEAN_SUMS_H
#define LEAN_SUMS_H

void lean_say(char byte);
void lean_sums(void);

#endif
