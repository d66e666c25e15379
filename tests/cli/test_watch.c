/* SPDX-License-Identifier: MIT */
/* `tinyladder watch` in a terminal of its own, large and small, and where there is none. */
#define _GNU_SOURCE
#include "support.h"
#include <fcntl.h>
#include <poll.h>
#include <pty.h>
#include <signal.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/wait.h>
#include <unistd.h>

#define PLAN TL_SOURCE "/demo/fernhill.plan.yaml"
#define SCENE TL_SOURCE "/demo/evening.scene.yaml"

typedef struct {
    char text[1 << 18];
    size_t size;
    int status;
} screen_run;

/* Runs it in a terminal of this size; keys are typed one after the other, those behind a `?` once `shown` is
 * there; a signal may follow them. */
static void run_in_terminal(screen_run *run, const char *scene, const char *at, int columns, int rows,
                            const char *frames, const char *keys, int number, const char *shown)
{
    struct winsize size = {.ws_col = (unsigned short)columns, .ws_row = (unsigned short)rows};
    int terminal = -1;
    run->size = 0;
    const pid_t child = forkpty(&terminal, NULL, NULL, &size);
    if (child == 0) {
        setenv("TERM", "xterm-256color", 1);
        setenv("LC_ALL", "C.UTF-8", 1);
        execl(TL_BUILD "/tinyladder", "tinyladder", "watch", PLAN, "--scene", scene, "--at", at, "--every",
              "20ms", "--speed", "10", "--frames", frames, (char *)NULL);
        _exit(9);
    }
    for (int idle = 0; idle < 100;) {
        struct pollfd ready = {.fd = terminal, .events = POLLIN};
        if (poll(&ready, 1, 50) <= 0) {
            idle++;
            continue;
        }
        const ssize_t got = read(terminal, run->text + run->size, sizeof run->text - run->size - 1);
        if (got <= 0)
            break;
        run->size += (size_t)got;
        const bool is_shown = memmem(run->text, run->size, shown, strlen(shown)) != NULL;
        if (*keys == '?' && !is_shown)
            continue;
        keys += *keys == '?';
        const size_t key = *keys == '\033' ? 3 : 1; /* an arrow is one key: its bytes come together */
        if (*keys != '\0' && write(terminal, keys, key) == (ssize_t)key)
            keys += key;
        else if (*keys == '\0' && number != 0 && is_shown) {
            kill(child, number);
            number = 0;
        }
        if (run->size > sizeof run->text - 20000)
            break; /* far more than any of these should say */
    }
    run->text[run->size] = '\0';
    kill(child, SIGKILL); /* should it still be there, that is seen in its status */
    waitpid(child, &run->status, 0);
    close(terminal);
}

static bool is_restored(const screen_run *run)
{
    return memmem(run->text, run->size, "\033[?1049l", 8) != NULL;
}

static void shows_and_restores(void)
{
    static screen_run run;
    static const struct {
        const char *name, *frames, *keys, *shown;
        int columns, rows, number;
        const char *scene, *at; /* NULL: the evening's, at 20 min */
    } rows[] = {
        {"wide", "4", "", "open wire", 138, 46, 0, NULL, NULL},
        {"small", "4", "", "house-batter", 40, 12, 0, NULL, NULL},
        {"tiny", "3", "", "house", 20, 4, 0, NULL, NULL},
        {"keys", "40", "vcccu+-ppr\033OB\033OAvcc", "hex", 100, 30, 0, NULL, NULL},
        {"q", "100000", "q", "house-battery", 100, 30, 0, NULL, NULL},
        {"a source by hand", "100000", "\033OC\033OC\033OD?bxq", "by hand", 138, 46, 0, NULL, NULL},
        {"a contact by hand", "100000", "\033OB\033OB\033OB\033OB\033OB ?q", "by hand", 138, 46, 0, NULL,
         NULL},
        {"a button of a keypad", "100000",
         "\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB"
         "\033OB\033OC ?q",
         "pressed: ", 138, 46, 0, NULL, NULL},
        {"outputs", "4", "", "10 of 10 on", 138, 46, 0, NULL, NULL},
        {"scrolled down and up", "100000",
         "\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB"
         "\033OB?\033OA\033OA"
         "\033OA\033OA\033OA\033OA\033OA\033OA\033OA\033OA\033OA\033OA\033OA\033OA\033OA\033OA\033OA\033OAq",
         "keypad", 80, 12, 0, NULL, NULL},
        {"damage", "100000", "", "damaged: L4", 138, 46, SIGTERM, TL_SOURCE "/demo/mishap.scene.yaml", "13s"},
        {"interrupted", "100000", "", "fresh", 100, 30, SIGTERM, NULL, NULL},
        {"hung up", "100000", "", "fresh", 100, 30, SIGHUP, NULL, NULL},
        {"quit", "100000", "", "fresh", 100, 30, SIGQUIT, NULL, NULL},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        run_in_terminal(&run, rows[i].scene != NULL ? rows[i].scene : SCENE,
                        rows[i].at != NULL ? rows[i].at : "20min", rows[i].columns, rows[i].rows,
                        rows[i].frames, rows[i].keys, rows[i].number, rows[i].shown);
        CHECK_ROW(rows[i].name, is_restored(&run));
        CHECK_ROW(rows[i].name, strstr(run.text, rows[i].shown) != NULL);
        if (rows[i].number != 0)
            CHECK_ROW(rows[i].name, WIFSIGNALED(run.status) && WTERMSIG(run.status) == rows[i].number);
        else
            CHECK_ROW(rows[i].name, WIFEXITED(run.status) && WEXITSTATUS(run.status) == 0);
    }
}

static void writes_lines_where_there_is_none(void)
{
    run_result r = run_command("watch", "demo/fernhill.plan.yaml", "keypad", "house-battery", "--scene",
                               "demo/evening.scene.yaml", "--at", "70.9s", "--frames", "6", NULL);
    CU_ASSERT(r.status == 0 &&
              strstr(r.out, "    71.000  keypad                            track  fresh\n") != NULL);
    run_free(&r);
    r = run_command("watch", "demo/fernhill.plan.yaml", "house-battery", "--scene", "demo/mishap.scene.yaml",
                    "--at", "15s", "--frames", "1", NULL);
    CU_ASSERT(r.status == 1 &&
              strstr(r.out, "L4 exceeded its absolute maximum from 10 s to 11 s: ") != NULL &&
              strstr(r.out, "from 14 s to 14.5 s: ") != NULL);
    run_free(&r);
    r = run_command("watch", "demo/fernhill.plan.yaml", NULL);
    CU_ASSERT(r.status == 2 && strstr(r.err, "--frames is required") != NULL);
    run_free(&r);
    r = run_command("watch", "demo/fernhill.plan.yaml", "nobody", "--frames", "1", NULL);
    CU_ASSERT(r.status == 2 && strstr(r.err, "no signal 'nobody'") != NULL);
    run_free(&r);
}

CU_TestInfo watch_tests[] = {
    {"shows and restores", shows_and_restores},
    {"writes lines where there is none", writes_lines_where_there_is_none},
    CU_TEST_INFO_NULL,
};
