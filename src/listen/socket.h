/* SPDX-License-Identifier: MIT */
/* The socket: one client after the other, one line after the other. */
#ifndef TL_SOCKET_H
#define TL_SOCKET_H

#include <stdbool.h>
#include <stddef.h>

/* From now on a request to end (SIGINT, SIGTERM, SIGHUP) is noticed between two lines. */
void socket_watch_ending(void);

/* The descriptor, open to this user only; -1 with a message in why. A socket without a listener
 * is replaced, anything else at that path is left. */
int socket_listen(const char *path, char *why, size_t size);

/* The next client; -1 when the end is asked for. */
int socket_accept(int listening);

/* A client's lines, the newline cut off. */
typedef struct {
    int client;
    char text[65536];
    size_t size, taken;
} socket_lines;

/* NULL when the client has gone, the end is asked for, or a line is longer than there is room for (too_long).
 */
char *socket_line(socket_lines *lines, size_t *length, bool *too_long);
/* Whether all of it has gone out. */
bool socket_send(int client, const char *text, size_t size);

#endif
