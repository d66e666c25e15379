/*
 * tinyladder-publish HOST PORT: a program of its own, so that nothing else pays for loading the library. Each
 * line of its input is `TOPIC<tab>PAYLOAD`; it hands them to an MQTT 3.1.1 broker, and keeps trying while
 * there is none. What cannot be handed on is dropped and counted: whoever writes the lines never waits.
 */
#define _GNU_SOURCE
#include <mosquitto.h>
#include <poll.h>
#include <signal.h>
#include <stdatomic.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

enum { PENDING_MOST = 1000, LINE_LONGEST = 4096, LAST_WAIT_MS = 2000, STEP_MS = 20, RETRY_MS = 250 };

static atomic_int pending;

static void on_publish(struct mosquitto *client, void *context, int id)
{
    (void)client, (void)context, (void)id;
    atomic_fetch_sub(&pending, 1);
}

/* Answers whether the line was taken. */
static bool hand_on(struct mosquitto *client, char *line)
{
    char *tab = strchr(line, '\t');
    if (tab == NULL || atomic_load(&pending) >= PENDING_MOST)
        return false;
    *tab = '\0';
    atomic_fetch_add(&pending, 1);
    if (mosquitto_publish(client, NULL, line, (int)strlen(tab + 1), tab + 1, 1, false) == MOSQ_ERR_SUCCESS)
        return true;
    atomic_fetch_sub(&pending, 1);
    return false;
}

static void wait_for_the_last(void)
{
    for (int waited = 0; waited < LAST_WAIT_MS && atomic_load(&pending) > 0; waited += STEP_MS)
        usleep(STEP_MS * 1000);
}

/* Once a first connection is under way, the library's own thread keeps it up; before that, nobody does but
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
    mosquitto_disconnect(client);
    if (connected)
        mosquitto_loop_stop(client, true);
    return dropped;
}

int main(int argc, char **argv)
{
    if (argc != 3)
        return 2;
    signal(SIGINT, SIG_IGN); /* whoever ends the command at the keyboard does not mean the last values */
    mosquitto_lib_init();
    struct mosquitto *client = mosquitto_new(NULL, true, NULL);
    if (client == NULL)
        return 4;
    mosquitto_publish_callback_set(client, on_publish);
    mosquitto_int_option(client, MOSQ_OPT_PROTOCOL_VERSION, MQTT_PROTOCOL_V311);
    mosquitto_reconnect_delay_set(client, 1, 8, true);
    const unsigned long dropped = hand_on_all(client, argv[1], atoi(argv[2]));
    mosquitto_destroy(client);
    mosquitto_lib_cleanup();
    if (dropped > 0)
        fprintf(stderr, "tinyladder: %lu values could not be handed to %s\n", dropped, argv[1]);
    return dropped > 0 ? 4 : 0;
}
