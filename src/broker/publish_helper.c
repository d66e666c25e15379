/* SPDX-License-Identifier: MIT */
/*
 * tinyladder-publish HOST PORT STATUS-TOPIC plain|tls CA-FILE LOGIN-FILE: a program of its own, so that
 * nothing else pays for loading the library. Each line of its input is `TOPIC<tab>PAYLOAD`; it hands them to
 * an MQTT 3.1.1 broker, and keeps trying while there is none. What cannot be handed on is dropped and
 * counted: whoever writes the lines never waits. STATUS-TOPIC says `recording`, then `done`, and by the
 * broker's own hand `lost`; a file is "" where there is none.
 */
#define _GNU_SOURCE
#include "broker/mqtt_login.h"
#include <mosquitto.h>
#include <poll.h>
#include <signal.h>
#include <stdatomic.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

enum { PENDING_MOST = 1000, LINE_LONGEST = 4096, LAST_WAIT_MS = 2000, STEP_MS = 20, RETRY_MS = 250 };
enum { PROGRAM, HOST, PORT, STATUS_TOPIC, SECURITY, CA_FILE, LOGIN_FILE, WORDS };

static const char *status_topic;
static atomic_int pending;
static atomic_bool gone;
static _Atomic(const char *) trouble; /* what the broker, or the way to it, said last */

static void on_publish(struct mosquitto *client, void *context, int id)
{
    (void)client, (void)context, (void)id;
    atomic_fetch_sub(&pending, 1);
}

static bool put(struct mosquitto *client, const char *topic, const char *payload, bool kept)
{
    atomic_fetch_add(&pending, 1);
    if (mosquitto_publish(client, NULL, topic, (int)strlen(payload), payload, 1, kept) == MOSQ_ERR_SUCCESS)
        return true;
    atomic_fetch_sub(&pending, 1);
    return false;
}

static void on_connect(struct mosquitto *client, void *context, int answer)
{
    (void)context;
    trouble = answer == 0 ? NULL : mosquitto_connack_string(answer);
    if (answer == 0)
        (void)put(client, status_topic, "recording", true);
}

static void on_disconnect(struct mosquitto *client, void *context, int why)
{
    (void)client, (void)context;
    gone = true;
    if (why != 0 && trouble == NULL)
        trouble = mosquitto_strerror(why);
}

/* Answers whether the line was taken. */
static bool hand_on(struct mosquitto *client, char *line)
{
    char *tab = strchr(line, '\t');
    if (tab == NULL || atomic_load(&pending) >= PENDING_MOST)
        return false;
    *tab = '\0';
    return put(client, line, tab + 1, false);
}

static void wait_for_the_last(void)
{
    for (int waited = 0; waited < LAST_WAIT_MS && atomic_load(&pending) > 0; waited += STEP_MS)
        usleep(STEP_MS * 1000);
}

/* Once a first connection is under way, the library's own thread keeps it up; before that, nothing does but
 * us. */
static bool connect_at_last(struct mosquitto *client, const char *host, int port)
{
    return mosquitto_connect_async(client, host, port, 30) == MOSQ_ERR_SUCCESS &&
           mosquitto_loop_start(client) == MOSQ_ERR_SUCCESS;
}

/* Hands on every whole line of what has come; answers how many bytes are left over. */
static size_t take_lines(struct mosquitto *client, char *text, size_t size, unsigned long *dropped)
{
    char *at = text, *end;
    while ((end = memchr(at, '\n', size - (size_t)(at - text))) != NULL) {
        *end = '\0';
        *dropped += !hand_on(client, at);
        at = end + 1;
    }
    const size_t left = size - (size_t)(at - text);
    memmove(text, at, left);
    return left;
}

static unsigned long hand_on_all(struct mosquitto *client, const char *host, int port)
{
    static char text[LINE_LONGEST];
    unsigned long dropped = 0;
    size_t size = 0;
    bool connected = false;
    for (;;) {
        struct pollfd ready = {.fd = STDIN_FILENO, .events = POLLIN};
        connected = connected || connect_at_last(client, host, port);
        if (poll(&ready, 1, RETRY_MS) <= 0)
            continue;
        const ssize_t got = read(STDIN_FILENO, text + size, sizeof text - size);
        if (got <= 0)
            break;
        size = take_lines(client, text, size + (size_t)got, &dropped);
        if (size == sizeof text)
            size = 0; /* no line of ours is so long */
    }
    wait_for_the_last();
    dropped += (unsigned long)atomic_load(&pending);
    if (dropped == 0 && put(client, status_topic, "done", true))
        wait_for_the_last();
    /* The broker must hear that it is meant, or it says `lost`. */
    gone = mosquitto_disconnect(client) != MOSQ_ERR_SUCCESS;
    for (int waited = 0; waited < LAST_WAIT_MS && !gone; waited += STEP_MS)
        usleep(STEP_MS * 1000);
    if (connected)
        mosquitto_loop_stop(client, true);
    return dropped;
}

static bool prepare(struct mosquitto *client, char **words)
{
    mosquitto_connect_callback_set(client, on_connect);
    mosquitto_disconnect_callback_set(client, on_disconnect);
    mosquitto_publish_callback_set(client, on_publish);
    mosquitto_int_option(client, MOSQ_OPT_PROTOCOL_VERSION, MQTT_PROTOCOL_V311);
    mosquitto_reconnect_delay_set(client, 1, 8, true);
    mosquitto_will_set(client, status_topic, 4, "lost", 1, true);
    if (!mqtt_log_in(client, words[LOGIN_FILE])) {
        fprintf(stderr, "tinyladder: --publish-login: '%s' has no user and password, a line each\n",
                words[LOGIN_FILE]);
        return false;
    }
    if (strcmp(words[SECURITY], "tls") == 0 && !mqtt_secure(client, words[CA_FILE])) {
        fprintf(stderr, "tinyladder: --publish-ca: '%s' cannot be used\n", words[CA_FILE]);
        return false;
    }
    return true;
}

int main(int argc, char **argv)
{
    if (argc != WORDS)
        return 2;
    signal(SIGINT, SIG_IGN); /* whoever ends the command at the keyboard does not mean the last values */
    mosquitto_lib_init();
    status_topic = argv[STATUS_TOPIC];
    struct mosquitto *client = mosquitto_new(NULL, true, NULL);
    const bool ready = client != NULL && prepare(client, argv);
    const unsigned long dropped = ready ? hand_on_all(client, argv[HOST], atoi(argv[PORT])) : 0;
    const char *why = trouble;
    mosquitto_destroy(client);
    mosquitto_lib_cleanup();
    if (dropped > 0)
        fprintf(stderr, "tinyladder: %lu values could not be handed to %s%s%s\n", dropped, argv[HOST],
                why != NULL ? ": " : "", why != NULL ? why : "");
    return ready && dropped == 0 ? 0 : 4;
}
