/* SPDX-License-Identifier: MIT */
/* A Unix socket that is listened to: waits are broken off by signals, which are let in only while it waits.
 */
#define _GNU_SOURCE
#include "listen/socket.h"
#include <errno.h>
#include <poll.h>
#include <signal.h>
#include <stdio.h>
#include <string.h>
#include <sys/socket.h>
#include <sys/stat.h>
#include <sys/un.h>
#include <unistd.h>

static volatile sig_atomic_t ending;
static sigset_t while_waiting;

static void on_signal(int number)
{
    ending = number;
}

void socket_watch_ending(void)
{
    static const int signals[] = {SIGINT, SIGTERM, SIGHUP};
    const struct sigaction action = {.sa_handler = on_signal};
    sigset_t blocked;
    sigemptyset(&blocked);
    for (size_t i = 0; i < sizeof signals / sizeof signals[0]; i++) {
        sigaction(signals[i], &action, NULL);
        sigaddset(&blocked, signals[i]);
    }
    sigprocmask(SIG_BLOCK, &blocked, &while_waiting);
    signal(SIGPIPE, SIG_IGN);
}

/* Whether there is something to do; not when the end is asked for. */
static bool wait_for(int descriptor, short what)
{
    struct pollfd one = {.fd = descriptor, .events = what};
    while (!ending) {
        if (ppoll(&one, 1, NULL, &while_waiting) > 0)
            return true;
        if (errno != EINTR)
            return false;
    }
    return false;
}

/* A process that crashed may have left its socket. */
static void take_away_a_dead_one(const struct sockaddr_un *address)
{
    struct stat there;
    const int probe = socket(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0);
    if (probe < 0)
        return;
    if (lstat(address->sun_path, &there) == 0 && S_ISSOCK(there.st_mode) &&
        connect(probe, (const struct sockaddr *)address, sizeof *address) != 0 && errno == ECONNREFUSED)
        unlink(address->sun_path);
    close(probe);
}

int socket_listen(const char *path, char *why, size_t size)
{
    struct sockaddr_un address = {.sun_family = AF_UNIX};
    if (strlen(path) >= sizeof address.sun_path) {
        snprintf(why, size, "a socket's path has at most %zu characters", sizeof address.sun_path - 1);
        return -1;
    }
    strcpy(address.sun_path, path);
    take_away_a_dead_one(&address);
    const mode_t mask = umask(077);
    const int listening = socket(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0);
    const bool good = listening >= 0 &&
                      bind(listening, (const struct sockaddr *)&address, sizeof address) == 0 &&
                      listen(listening, 8) == 0;
    if (!good)
        snprintf(why, size, "%s",
                 errno == EADDRINUSE ? "the path exists, or another program listens to it" : strerror(errno));
    umask(mask);
    if (!good && listening >= 0)
        close(listening);
    return good ? listening : -1;
}

int socket_accept(int listening)
{
    return wait_for(listening, POLLIN) ? accept4(listening, NULL, NULL, SOCK_CLOEXEC) : -1;
}

char *socket_line(socket_lines *lines, size_t *length, bool *too_long)
{
    *too_long = false;
    memmove(lines->text, lines->text + lines->taken, lines->size - lines->taken);
    lines->size -= lines->taken;
    lines->taken = 0;
    for (size_t looked = 0;;) {
        char *end = memchr(lines->text + looked, '\n', lines->size - looked);
        if (end != NULL) {
            *length = (size_t)(end - lines->text);
            lines->taken = *length + 1;
            return lines->text;
        }
        looked = lines->size;
        *too_long = lines->size == sizeof lines->text;
        if (*too_long || !wait_for(lines->client, POLLIN))
            return NULL;
        const ssize_t got = read(lines->client, lines->text + lines->size, sizeof lines->text - lines->size);
        if (got <= 0)
            return NULL;
        lines->size += (size_t)got;
    }
}

bool socket_send(int client, const char *text, size_t size)
{
    while (size > 0) {
        if (!wait_for(client, POLLOUT))
            return false;
        const ssize_t put = send(client, text, size, MSG_NOSIGNAL | MSG_DONTWAIT);
        if (put < 0 && errno != EAGAIN)
            return false;
        if (put > 0) {
            text += put;
            size -= (size_t)put;
        }
    }
    return true;
}
