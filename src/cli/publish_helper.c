/*
 * tinyladder-publish HOST PORT: a program of its own, so that nothing else pays for loading the library. Each
 * line of its input is `TOPIC<tab>PAYLOAD`; it hands them to an MQTT 3.1.1 broker, and keeps trying while
 * there is none. What cannot be handed on is dropped and counted: whoever writes the lines never waits.
 */
#define _GNU_SOURCE
#include <mosquitto.h>
#include <stdatomic.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

enum { PENDING_MOST = 1000, LINE_LONGEST = 4096, LAST_WAIT_MS = 2000, STEP_MS = 20 };

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

int main(int argc, char **argv)
{
    static char line[LINE_LONGEST];
    unsigned long dropped = 0;
    if (argc != 3)
        return 2;
    mosquitto_lib_init();
    struct mosquitto *client = mosquitto_new(NULL, true, NULL);
    if (client == NULL)
        return 4;
    mosquitto_publish_callback_set(client, on_publish);
    mosquitto_int_option(client, MOSQ_OPT_PROTOCOL_VERSION, MQTT_PROTOCOL_V311);
    mosquitto_reconnect_delay_set(client, 1, 8, true);
    /* A broker that is not there yet is tried again by the library's own thread. */
    (void)mosquitto_connect_async(client, argv[1], atoi(argv[2]), 30);
    if (mosquitto_loop_start(client) != MOSQ_ERR_SUCCESS)
        return 4;
    while (fgets(line, sizeof line, stdin) != NULL) {
        line[strcspn(line, "\n")] = '\0';
        dropped += !hand_on(client, line);
    }
    wait_for_the_last();
    dropped += (unsigned long)atomic_load(&pending);
    mosquitto_disconnect(client);
    mosquitto_loop_stop(client, true);
    mosquitto_destroy(client);
    mosquitto_lib_cleanup();
    if (dropped > 0)
        fprintf(stderr, "tinyladder: %lu values could not be handed to %s\n", dropped, argv[1]);
    return 0;
}
