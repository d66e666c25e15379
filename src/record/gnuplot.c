/* SPDX-License-Identifier: MIT */
/* gnuplot beside this program: started without a shell, fed and emptied by pipes at the same time, its
 * picture checked for its end. */
#define _GNU_SOURCE
#include "record/gnuplot.h"
#include "printing/printing.h"
#include <errno.h>
#include <fcntl.h>
#include <poll.h>
#include <signal.h>
#include <spawn.h>
#include <stdlib.h>
#include <string.h>
#include <sys/wait.h>
#include <unistd.h>

extern char **environ;

typedef struct {
    pid_t child;
    int to, from; /* our ends; -1 once closed */
} helper;

/* Settings of its user's own stay out of it (-d): the same record gives the same picture. */
static int spawn(helper *h, int in, int out)
{
    char *const words[] = {"gnuplot", "-d", "-", NULL};
    posix_spawn_file_actions_t files;
    posix_spawnattr_t attributes;
    sigset_t defaults;
    sigemptyset(&defaults);
    sigaddset(&defaults, SIGPIPE);
    int why = posix_spawn_file_actions_init(&files);
    if (why != 0)
        return why;
    why = posix_spawnattr_init(&attributes);
    if (why == 0) {
        posix_spawnattr_setsigdefault(&attributes, &defaults);
        posix_spawnattr_setflags(&attributes, POSIX_SPAWN_SETSIGDEF);
        why = posix_spawn_file_actions_adddup2(&files, in, STDIN_FILENO);
        why = why != 0 ? why : posix_spawn_file_actions_adddup2(&files, out, STDOUT_FILENO);
        why = why != 0 ? why
                       : posix_spawn_file_actions_addopen(&files, STDERR_FILENO, "/dev/null", O_WRONLY, 0);
        why = why != 0 ? why : posix_spawnp(&h->child, words[0], &files, &attributes, words, environ);
        posix_spawnattr_destroy(&attributes);
    }
    posix_spawn_file_actions_destroy(&files);
    return why;
}

static int start(helper *h)
{
    int in[2], out[2];
    if (pipe2(in, O_CLOEXEC) != 0)
        return errno;
    if (pipe2(out, O_CLOEXEC) != 0) {
        const int why = errno;
        close(in[0]);
        close(in[1]);
        return why;
    }
    int why = spawn(h, in[0], out[1]);
    close(in[0]);
    close(out[1]);
    h->to = in[1];
    h->from = out[0];
    if (why == 0 && fcntl(h->to, F_SETFL, O_NONBLOCK) != 0)
        why = errno;
    return why;
}

static void close_end(int *end)
{
    if (*end >= 0)
        close(*end);
    *end = -1;
}

/* Answers false where nothing more will come. */
static bool take(helper *h, char **text, size_t *size)
{
    enum { PIECE = 1 << 16 };
    *text = must(realloc(*text, *size + PIECE));
    const ssize_t got = read(h->from, *text + *size, PIECE);
    if (got > 0)
        *size += (size_t)got;
    return got > 0 || (got < 0 && errno == EINTR);
}

/* Writes what it takes and reads what it gives, whichever is ready: neither side waits for the other for
 * ever. */
static void exchange(helper *h, const char *script, size_t size, char **text, size_t *got)
{
    struct sigaction ignore = {.sa_handler = SIG_IGN}, before;
    sigaction(SIGPIPE, &ignore, &before);
    for (;;) {
        struct pollfd ready[2] = {{.fd = h->from, .events = POLLIN}, {.fd = h->to, .events = POLLOUT}};
        if (poll(ready, 2, -1) < 0 && errno != EINTR)
            break;
        if (ready[1].revents != 0) {
            const ssize_t done = write(h->to, script, size);
            script += done > 0 ? done : 0;
            size -= done > 0 ? (size_t)done : 0;
            if (size == 0 || (done < 0 && errno != EAGAIN && errno != EINTR))
                close_end(&h->to);
        }
        if (ready[0].revents != 0 && !take(h, text, got))
            break;
    }
    sigaction(SIGPIPE, &before, NULL);
}

/* gnuplot says nothing where a disk or its memory runs out: a picture has an end of its own. */
static bool is_whole(picture_kind kind, const char *picture, size_t size)
{
    static const char svg_end[] = "</svg>", png_end[] = "IEND\xae\x42\x60\x82";
    const size_t tail = size < 64 ? size : 64;
    if (kind == PICTURE_SVG)
        return memmem(picture + size - tail, tail, svg_end, sizeof svg_end - 1) != NULL;
    if (kind == PICTURE_PNG)
        return memmem(picture + size - tail, tail, png_end, sizeof png_end - 1) != NULL;
    if (kind == PICTURE_PDF)
        return memmem(picture + size - tail, tail, "%%EOF", 5) != NULL;
    return size > 0;
}

int gnuplot_draw(const char *script, size_t size, picture_kind kind, char **picture, size_t *drawn)
{
    helper h = {.child = -1, .to = -1, .from = -1};
    int ended = -1;
    *picture = NULL;
    *drawn = 0;
    const int why = start(&h);
    if (why == 0)
        exchange(&h, script, size, picture, drawn);
    close_end(&h.to);
    close_end(&h.from);
    if (why != 0) {
        fprintf(stderr, "tinyladder: gnuplot could not be started: %s%s\n", strerror(why),
                why == ENOENT ? ": it is not installed (apt-get install gnuplot-nox)" : "");
        return EXIT_HARDWARE;
    }
    while (waitpid(h.child, &ended, 0) < 0 && errno == EINTR)
        continue;
    if (WIFEXITED(ended) && WEXITSTATUS(ended) == 0 && is_whole(kind, *picture, *drawn))
        return EXIT_DONE;
    fprintf(stderr, "tinyladder: gnuplot could not draw this\n");
    return EXIT_HARDWARE;
}
