/* SPDX-License-Identifier: MIT */
/* In a build that counts what runs (scripts/coverage.sh): a program that a signal ends writes its counts
 * first. */
#include <signal.h>

void __gcov_dump(void);

static void count_and_end(int number)
{
    __gcov_dump();
    signal(number, SIG_DFL);
    raise(number);
}

__attribute__((constructor)) static void count_to_the_end(void)
{
    signal(SIGTERM, count_and_end);
    signal(SIGPIPE, count_and_end);
}
