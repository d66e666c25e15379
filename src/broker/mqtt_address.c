/* SPDX-License-Identifier: MIT */
/* mqtt://HOST/TOPIC, and the helpers that speak to whoever is there. */
#define _GNU_SOURCE
#include "broker/mqtt_address.h"
#include <jansson.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/* Topics of MQTT: no wildcard, nothing that is no text, none that belongs to the broker. */
static bool is_topic(const char *topic)
{
    json_t *text = json_string(topic);
    const bool is_text = text != NULL;
    json_decref(text);
    for (const char *at = topic; *at != '\0'; at++) {
        if (*at == '+' || *at == '#' || (unsigned char)*at < 0x20)
            return false;
    }
    return is_text && topic[0] != '\0' && topic[0] != '$';
}

/* `HOST`, `HOST:PORT`, `[ADDRESS]`, `[ADDRESS]:PORT`: what has colons of its own stands in brackets. */
static bool split_host(mqtt_address *p, const char *text, size_t length)
{
    const bool bracket = text[0] == '[';
    const char *end = bracket ? memchr(text, ']', length) : memchr(text, ':', length);
    size_t own = end != NULL ? (size_t)(end - text) - bracket : length;
    if ((bracket && end == NULL) || own == 0 || own >= sizeof p->host)
        return false;
    snprintf(p->host, sizeof p->host, "%.*s", (int)own, text + bracket);
    const char *rest = text + own + (bracket ? 2 : 0);
    snprintf(p->port, sizeof p->port, p->tls ? "8883" : "1883");
    if (rest == text + length)
        return true;
    char *stop = NULL;
    const long port = *rest == ':' ? strtol(rest + 1, &stop, 10) : 0;
    snprintf(p->port, sizeof p->port, "%d", (int)(port < 1 || port > 65535 ? 0 : port));
    return stop == text + length && port >= 1 && port <= 65535;
}

bool mqtt_address_of(const char *url, mqtt_address *p)
{
    p->tls = strncmp(url, "mqtts://", 8) == 0;
    if (!p->tls && strncmp(url, "mqtt://", 7) != 0)
        return false;
    const char *host = url + (p->tls ? 8 : 7), *slash = strchr(host, '/');
    if (slash == NULL || strlen(slash + 1) >= sizeof p->topic || !split_host(p, host, (size_t)(slash - host)))
        return false;
    snprintf(p->topic, sizeof p->topic, "%s", slash + 1);
    return is_topic(p->topic);
}
