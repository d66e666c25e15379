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

/* A terminal of this size; keys are typed one after the other, the first once there is something, those
 * behind a `?` once `shown` is there; a signal may follow them. */
typedef struct {
    const char *name, *frames, *keys, *shown;
    int columns, rows, number;
    const char *scene, *at; /* NULL: the evening's, at 20 min */
    const char *locale;     /* NULL: one that has more than plain letters */
    int status;             /* where no signal ends it */
    const char *counts;     /* of a board, instead of a bench */
} screen_row;

/* An arrow is one key, with shift or without: its bytes come together. */
static size_t key_length(const char *keys)
{
    return keys[0] != '\033' ? 1 : keys[1] == '[' ? 6 : 3;
}

static void run_in_terminal(screen_run *run, const screen_row *row)
{
    struct winsize size = {.ws_col = (unsigned short)row->columns, .ws_row = (unsigned short)row->rows};
    const char *keys = row->keys, *shown = row->shown;
    int terminal = -1, number = row->number;
    run->size = 0;
    const pid_t child = forkpty(&terminal, NULL, NULL, &size);
    if (child == 0) {
        setenv("TERM", "xterm-256color", 1);
        setenv("LC_ALL", row->locale != NULL ? row->locale : "C.UTF-8", 1);
        if (row->counts != NULL)
            execl(TL_BUILD "/tinyladder", "tinyladder", "watch", PLAN, "--counts",
                  scratch_file("watched.txt", row->counts, strlen(row->counts)), "--frames", row->frames,
                  (char *)NULL);
        execl(TL_BUILD "/tinyladder", "tinyladder", "watch", PLAN, "--scene",
              row->scene != NULL ? row->scene : SCENE, "--at", row->at != NULL ? row->at : "20min", "--every",
              "20ms", "--speed", "10", "--frames", row->frames, (char *)NULL);
        _exit(9);
    }
    for (int idle = 0; idle < 100;) {
        struct pollfd ready = {.fd = terminal, .events = POLLIN};
        if (poll(&ready, 1, 50) <= 0) {
            idle++; /* a key may have changed nothing: the next one is typed all the same */
        } else {
            const ssize_t got = read(terminal, run->text + run->size, sizeof run->text - run->size - 1);
            if (got <= 0)
                break;
            run->size += (size_t)got;
        }
        const bool is_shown = memmem(run->text, run->size, shown, strlen(shown)) != NULL;
        if (run->size == 0 || (*keys == '?' && !is_shown))
            continue;
        keys += *keys == '?';
        const size_t key = key_length(keys);
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
    static const screen_row rows[] = {
        {"wide", "4", "", "open wire", 138, 46, 0, NULL, NULL, NULL, 0, NULL},
        {"small", "4", "", "house-batter", 40, 12, 0, NULL, NULL, NULL, 0, NULL},
        {"tiny", "3", "", "house", 20, 4, 0, NULL, NULL, NULL, 0, NULL},
        {"keys", "40", "vcccu+-ppr\033OB\033OAvcc", "hex", 100, 30, 0, NULL, NULL, NULL, 0, NULL},
        {"q", "100000", "q", "house-battery", 100, 30, 0, NULL, NULL, NULL, 0, NULL},
        {"a source by hand", "100000", "\033OC\033OC\033OD?bxq", "by hand", 138, 46, 0, NULL, NULL, NULL, 0,
         NULL},
        {"a contact by hand", "100000", "\033OB\033OB\033OB\033OB\033OB ?q", "by hand", 138, 46, 0, NULL,
         NULL, NULL, 0, NULL},
        {"a button of a keypad", "100000",
         "\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB"
         "\033OB\033OC ?q",
         "pressed: ", 138, 46, 0, NULL, NULL, NULL, 0, NULL},
        {"outputs", "4", "", "10 of 10 on", 138, 46, 0, NULL, NULL, NULL, 0, NULL},
        {"scrolled down and up", "100000",
         "\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB"
         "\033OB?\033OA\033OA"
         "\033OA\033OA\033OA\033OA\033OA\033OA\033OA\033OA\033OA\033OA\033OA\033OA\033OA\033OA\033OA\033OAq",
         "keypad", 80, 12, 0, NULL, NULL, NULL, 0, NULL},
        {"damage", "100000", "?q", "damaged: L4", 138, 46, 0, TL_SOURCE "/demo/mishap.scene.yaml", "13s",
         NULL, 1, NULL},
        {"damage in few columns", "100000", "?q", "damaged: L", 30, 20, 0,
         TL_SOURCE "/demo/mishap.scene.yaml", "13s", NULL, 1, NULL},
        {"in bits", "100000", "ccc?q", "0000 ", 138, 46, 0, NULL, NULL, NULL, 0, NULL},
        {"round to counts", "100000", "cccc?q", "house-battery", 138, 46, 0, NULL, NULL, NULL, 0, NULL},
        {"plain letters", "6", "", "house-battery", 138, 46, 0, NULL, NULL, "C", 0, NULL},
        {"ten steps", "100000", "\033[1;2C\033[1;2D\033[1;2C?bq", "by hand", 138, 46, 0, NULL, NULL, NULL, 0,
         NULL},
        {"a button back", "100000",
         "\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB"
         "\033OB\033OD ?  q",
         "pressed: ", 138, 46, 0, NULL, NULL, NULL, 0, NULL},
        {"what cannot be turned", "100000", "\033OB\033OB\033OB\033OB\033OB\033OCx?q", "house-battery", 138,
         46, 0, NULL, NULL, NULL, 0, NULL},
        {"interrupted", "100000", "", "fresh", 100, 30, SIGTERM, NULL, NULL, NULL, 0, NULL},
        {"hung up", "100000", "", "fresh", 100, 30, SIGHUP, NULL, NULL, NULL, 0, NULL},
        {"quit", "100000", "", "fresh", 100, 30, SIGQUIT, NULL, NULL, NULL, 0, NULL},
        {"ohms by hand", "100000", "\033OB\033OB\033OB\033OC?bq", "by hand", 138, 46, 0, NULL, NULL, NULL, 0,
         NULL},
        {"outputs chosen", "100000",
         "\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB"
         "\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB\033OB"
         "\033OC b?q",
         "10 of 10 on", 138, 60, 0, NULL, NULL, NULL, 0, NULL},
        {"counts of a board", "100000", "\033OC b?pq", "12.60 V", 138, 46, 0, NULL, NULL, NULL, 0,
         "s 1 house-battery 3180\ns 2 house-battery 3181\n"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        run_in_terminal(&run, &rows[i]);
        CHECK_ROW(rows[i].name, is_restored(&run));
        for (size_t k = 0; k < run.size && rows[i].locale != NULL; k++)
            CHECK_ROW(rows[i].name, (unsigned char)run.text[k] < 0x80);
        CHECK_ROW(rows[i].name, strstr(run.text, rows[i].shown) != NULL);
        if (rows[i].number != 0)
            CHECK_ROW(rows[i].name, WIFSIGNALED(run.status) && WTERMSIG(run.status) == rows[i].number);
        else
            CHECK_ROW(rows[i].name, WIFEXITED(run.status) && WEXITSTATUS(run.status) == rows[i].status);
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
