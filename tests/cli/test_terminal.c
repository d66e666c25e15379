/* SPDX-License-Identifier: MIT */
/* What the command does on a terminal alone: colours of figures near their limits, pauses of the tour. */
#define _GNU_SOURCE
#include "support.h"
#include <poll.h>
#include <pty.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/wait.h>
#include <unistd.h>

enum { SCREEN = 1 << 17 };

/* Runs a line of the shell in a terminal; each time that it asks for Enter, the next key is typed. */
static int run_on_terminal(const char *line, const char *keys, char *text)
{
    struct winsize size = {.ws_col = 140, .ws_row = 50};
    int terminal = -1, status = -1;
    size_t used = 0, seen = 0;
    const pid_t child = forkpty(&terminal, NULL, NULL, &size);
    if (child == 0) {
        setenv("TERM", "xterm-256color", 1);
        unsetenv("NO_COLOR");
        execl("/bin/sh", "sh", "-c", line, (char *)NULL);
        _exit(9);
    }
    for (int idle = 0; idle < 200 && used + 1 < SCREEN;) {
        struct pollfd ready = {.fd = terminal, .events = POLLIN};
        if (poll(&ready, 1, 50) <= 0) {
            idle++;
            continue;
        }
        const ssize_t got = read(terminal, text + used, SCREEN - used - 1);
        if (got <= 0)
            break;
        used += (size_t)got;
        text[used] = '\0';
        const char *asks = strstr(text + seen, "q: quit");
        if (asks == NULL || *keys == '\0')
            continue;
        seen = (size_t)(asks - text) + 7;
        const char typed[2] = {*keys++, '\n'};
        CU_ASSERT(write(terminal, typed, sizeof typed) == sizeof typed);
    }
    kill(child, SIGKILL); /* should it wait for ever, that is seen in its status */
    waitpid(child, &status, 0);
    close(terminal);
    text[used] = '\0';
    return WIFEXITED(status) ? WEXITSTATUS(status) : -1;
}

#define T "cd " TL_SOURCE " && " TL_BUILD "/tinyladder "

static void figures_near_limits_are_coloured(void)
{
    static char text[SCREEN];
    static const struct {
        const char *line, *shows;
        bool has;
    } rows[] = {
        {T "check demo/faulty/over-limit.plan.yaml", "\033[1;31m14.800\033[0m", true},
        {T "check demo/faulty/over-limit.plan.yaml | cat", "\033[", false},
        {"export NO_COLOR=1; " T "check demo/faulty/over-limit.plan.yaml", "\033[", false},
        {T "check demo/faulty/level-not-reached.plan.yaml", "\033[1;31m", true},
        {T "check demo/faulty/slow-acquisition.plan.yaml", "\033[1;31m1534\033[0m", true},
        {T "check demo/faulty/over-drive.plan.yaml", "\033[1;31m", true},
        {T "check demo/sound/budget-just-kept.plan.yaml", "\033[1;3",
         false}, /* nothing near, nothing marked */
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        run_on_terminal(rows[i].line, "", text);
        CHECK_ROW(rows[i].line, (strstr(text, rows[i].shows) != NULL) == rows[i].has);
    }
}

static void tour_waits(void)
{
    static char text[SCREEN];
    CU_ASSERT(run_on_terminal(T "demo", "xq", text) == 0);
    CU_ASSERT(strstr(text, "2. One plan file") != NULL && strstr(text, "3. The same battery") == NULL);
    CU_ASSERT(run_on_terminal(T "demo --all", "", text) == 0);
    CU_ASSERT(strstr(text, "That was the tour") != NULL && strstr(text, "q: quit") == NULL);
}

CU_TestInfo terminal_tests[] = {
    {"figures near limits are coloured", figures_near_limits_are_coloured},
    {"the tour waits", tour_waits},
    CU_TEST_INFO_NULL,
};
