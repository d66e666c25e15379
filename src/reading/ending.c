/* SPDX-License-Identifier: MIT */
/* Requests to end, noticed by one flag and obeyed by the signal itself once all is written. */
#include "reading/ending.h"
#include <signal.h>
#include <stddef.h>
#include <stdio.h>

static volatile sig_atomic_t asked; /* the signal's number; 0 */

static void on_signal(int number)
{
    asked = number;
}

void ending_watch(void)
{
    static const int signals[] = {SIGINT, SIGTERM, SIGHUP, SIGQUIT};
    const struct sigaction action = {.sa_handler = on_signal};
    for (size_t i = 0; i < sizeof signals / sizeof signals[0]; i++)
        sigaction(signals[i], &action, NULL);
}

bool ending_asked(void)
{
    return asked != 0;
}

void ending_obey(void)
{
    if (asked == 0)
        return;
    fflush(stdout);
    signal(asked, SIG_DFL);
    raise(asked);
}
