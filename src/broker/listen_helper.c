/* SPDX-License-Identifier: MIT */
/*
 * tinyladder-listen HOST PORT TOPIC plain|tls CA-FILE LOGIN-FILE: a program of its own, as tinyladder-publish
 * is. What an MQTT broker says about TOPIC comes out as it is, a line a message; about TOPIC/NAME as `NAME
 * payload`. It ends when its output is closed, or when there is no broker at the first try; later it
 * connects anew.
 */
#define _GNU_SOURCE
#include "broker/mqtt_login.h"
#include <errno.h>
#include <mosquitto.h>
#include <poll.h>
#include <signal.h>
#include <stdbool.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

enum { LINE_LONGEST = 4096, STEP_MS = 100, RETRY_US = 500000 };
enum { PROGRAM, HOST, PORT, TOPIC, SECURITY, CA_FILE, LOGIN_FILE, WORDS };

static const char *topic;
static bool refused;
static unsigned long dropped; /* messages */

static void on_connect(struct mosquitto *client, void *context, int answer)
{
    char below[300];
    (void)context;
    if (answer != 0) {
        fprintf(stderr, "tinyladder: --counts: %s\n", mosquitto_connack_string(answer));
        refused = true;
        return;
    }
    snprintf(below, sizeof below, "%s/+", topic);
    (void)mosquitto_subscribe(client, NULL, topic, 1);
    (void)mosquitto_subscribe(client, NULL, below, 1);
}

/* A topic below the one is a signal, and its message one word: what would say more, or something of another
 * signal, is dropped, and said once. */
static bool is_one_line(const struct mosquitto_message *message, const char *name)
{
    const char *text = message->payload;
    bool good = message->payloadlen >= 0 && strpbrk(name, " \n\r\t") == NULL;
    for (int i = 0; good && i < message->payloadlen; i++)
        good = text[i] != '\n' && text[i] != '\r' && text[i] != '\0' && (*name == '\0' || text[i] != ' ');
    return good;
}

static void drop(const char *name)
{
    if (dropped++ == 0)
        fprintf(stderr,
                "tinyladder: --counts: dropped a message of %s: more than one line, one value or %d bytes\n",
                *name == '/' ? "a topic below" : "the topic", LINE_LONGEST);
}

/* A whole line at once, or nothing. */
static void on_message(struct mosquitto *client, void *context, const struct mosquitto_message *message)
{
    char line[LINE_LONGEST];
    const size_t length = strlen(topic);
    const char *name = message->topic + length;
    (void)client, (void)context;
    if (!is_one_line(message, name)) {
        drop(name);
        return;
    }
    const int used =
        snprintf(line, sizeof line, "%s%s%.*s\n", *name == '/' ? name + 1 : "", *name == '/' ? " " : "",
                 message->payloadlen, message->payloadlen > 0 ? (const char *)message->payload : "");
    if (used <= 0 || (size_t)used >= sizeof line)
        drop(name);
    else if (write(STDOUT_FILENO, line, (size_t)used) != used)
        refused = true;
}

static bool is_read(void)
{
    struct pollfd out = {.fd = STDOUT_FILENO, .events = POLLOUT};
    return poll(&out, 1, 0) >= 0 && (out.revents & (POLLERR | POLLHUP | POLLNVAL)) == 0;
}

static int listen_to(struct mosquitto *client, const char *host, int port)
{
    const int answer = mosquitto_connect(client, host, port, 30);
    if (answer != MOSQ_ERR_SUCCESS) {
        fprintf(stderr, "tinyladder: --counts: %s:%d: %s\n", host, port,
                answer == MOSQ_ERR_ERRNO ? strerror(errno) : mosquitto_strerror(answer));
        return 4;
    }
    while (is_read() && !refused) {
        if (mosquitto_loop(client, STEP_MS, 1) != MOSQ_ERR_SUCCESS && !refused) {
            usleep(RETRY_US);
            (void)mosquitto_reconnect(client);
        }
    }
    return refused ? 4 : 0;
}

int main(int argc, char **argv)
{
    if (argc != WORDS)
        return 2;
    signal(SIGPIPE, SIG_IGN);
    mosquitto_lib_init();
    topic = argv[TOPIC];
    struct mosquitto *client = mosquitto_new(NULL, true, NULL);
    if (client == NULL)
        return 4;
    mosquitto_connect_callback_set(client, on_connect);
    mosquitto_message_callback_set(client, on_message);
    mosquitto_int_option(client, MOSQ_OPT_PROTOCOL_VERSION, MQTT_PROTOCOL_V311);
    int status = 4;
    if (!mqtt_log_in(client, argv[LOGIN_FILE]))
        fprintf(stderr, "tinyladder: --counts: '%s' has no user and password, a line each\n",
                argv[LOGIN_FILE]);
    else if (strcmp(argv[SECURITY], "tls") == 0 && !mqtt_secure(client, argv[CA_FILE]))
        fprintf(stderr, "tinyladder: --counts: the certificates '%s' cannot be used\n", argv[CA_FILE]);
    else
        status = listen_to(client, argv[HOST], atoi(argv[PORT]));
    mosquitto_destroy(client);
    mosquitto_lib_cleanup();
    return status;
}
