/* SPDX-License-Identifier: MIT */
/* Values handed to the helper that speaks MQTT, a line each, never waiting for it. */
#define _GNU_SOURCE
#include "publish/publish.h"
#include "broker/mqtt_address.h"
#include "printing/options.h"
#include "printing/printing.h"
#include <errno.h>
#include <fcntl.h>
#include <math.h>
#include <signal.h>
#include <spawn.h>
#include <stdlib.h>
#include <string.h>
#include <sys/wait.h>
#include <unistd.h>

enum { KEY_PUBLISH = 3000, KEY_LOGIN, KEY_CA, KEY_AS };

static const struct argp_option publish_argp_options[] = {
    {"publish", KEY_PUBLISH, "mqtt://HOST/TOPIC", 0,
     "send every value to an MQTT broker, one topic per signal; mqtts:// uses TLS", 2},
    {"publish-login", KEY_LOGIN, "FILE", 0, "file with user and password of the broker, one per line", 2},
    {"publish-ca", KEY_CA, "FILE", 0, "file with trusted certificates (default: the system's)", 2},
    {"publish-as", KEY_AS, "FORM", 0,
     "message format: object (JSON) or value (the shown value without its unit) (default: object)", 2},
    {0},
};

static error_t parse_publish(int key, char *text, struct argp_state *state)
{
    publish_options *o = state->input;
    switch (key) {
    case KEY_PUBLISH:
        o->url = text;
        return 0;
    case KEY_LOGIN:
        o->login = text;
        return 0;
    case KEY_CA:
        o->ca = text;
        return 0;
    case KEY_AS:
        if (strcmp(text, "object") != 0 && strcmp(text, "value") != 0)
            argp_error(state, "--publish-as is object or value, not '%s'", text);
        o->as = text;
        return 0;
    case ARGP_KEY_END:
        if (o->url == NULL && (o->login != NULL || o->ca != NULL || o->as != NULL))
            argp_error(state, "--publish-as, --publish-login and --publish-ca go with --publish");
        return 0;
    default:
        return ARGP_ERR_UNKNOWN;
    }
}

const struct argp publish_argp = {publish_argp_options, parse_publish, NULL, NULL, NULL, NULL, NULL};

struct publisher {
    char helper_path[600], status_topic[300];
    mqtt_address at;
    bool values; /* alone */
    int to;
    pid_t helper;
    unsigned long dropped;
};

static bool start_helper(publisher *p, const publish_options *o)
{
    int ends[2];
    snprintf(p->status_topic, sizeof p->status_topic, "%s/status", p->at.topic);
    if (pipe2(ends, O_CLOEXEC) != 0)
        return false;
    char *const words[] = {p->helper_path,
                           p->at.host,
                           p->at.port,
                           p->status_topic,
                           p->at.tls ? "tls" : "plain",
                           o->ca != NULL ? (char *)o->ca : "",
                           o->login != NULL ? (char *)o->login : "",
                           NULL};
    posix_spawn_file_actions_t files;
    int why = posix_spawn_file_actions_init(&files);
    if (why == 0) {
        why = posix_spawn_file_actions_adddup2(&files, ends[0], STDIN_FILENO);
        why = why != 0 ? why : posix_spawn(&p->helper, p->helper_path, &files, NULL, words, environ);
        posix_spawn_file_actions_destroy(&files);
    }
    close(ends[0]);
    p->to = ends[1];
    signal(SIGPIPE, SIG_IGN);
    if (why == 0 && fcntl(p->to, F_SETFL, O_NONBLOCK) != 0)
        why = errno;
    errno = why;
    return why == 0;
}

/* What the helper could not read would be found out too late. */
static bool is_there(const char *option, const char *path)
{
    if (path == NULL || access(path, R_OK) == 0)
        return true;
    fprintf(stderr, "tinyladder: %s: '%s': %s\n", option, path, strerror(errno));
    return false;
}

static bool says_nothing_secret(const char *url)
{
    if (strchr(url, '@') == NULL)
        return true;
    fprintf(stderr, "tinyladder: --publish: user and password are seen by everybody there: --publish-login "
                    "FILE has them, "
                    "a line each, or TINYLADDER_MQTT_USER and TINYLADDER_MQTT_PASSWORD\n");
    return false;
}

publisher *publisher_open(const publish_options *o, int *status)
{
    publisher *p = must(calloc(1, sizeof *p));
    p->values = o->as != NULL && strcmp(o->as, "value") == 0;
    *status = EXIT_USAGE;
    if (!says_nothing_secret(o->url)) {
        ;
    } else if (!mqtt_address_of(o->url, &p->at)) {
        fprintf(stderr, "tinyladder: --publish: expected mqtt://HOST/TOPIC or mqtts://HOST/TOPIC, such as "
                        "mqtt://localhost/fernhill; the topic has no + or # and does not begin with $\n");
    } else if (!is_there("--publish-ca", o->ca) || !is_there("--publish-login", o->login)) {
        *status = EXIT_UNREADABLE;
    } else if (!helper_program("tinyladder-publish", p->helper_path)) {
        *status = EXIT_HARDWARE;
        fprintf(stderr, "tinyladder: --publish: this program was built without MQTT: install "
                        "libmosquitto-dev, and build it again\n");
    } else if (!start_helper(p, o)) {
        *status = EXIT_HARDWARE;
        fprintf(stderr, "tinyladder: --publish: %s\n", strerror(errno));
    } else {
        return p;
    }
    free(p);
    return NULL;
}

/* A whole line or nothing: a pipe takes up to PIPE_BUF bytes at once. */
static void put_line(publisher *p, const char *name, const char *payload)
{
    char line[1024];
    const int length = snprintf(line, sizeof line, "%s/%s\t%s\n", p->at.topic, name, payload);
    if (length < 0 || (size_t)length >= sizeof line || write(p->to, line, (size_t)length) != length)
        p->dropped++;
}

/* `o` is given away. */
static void put_object(publisher *p, const char *name, json_t *o)
{
    char clock[CLOCK_ROOM];
    clock_text(clock);
    json_object_set_new(o, "clock", json_string(clock));
    char *payload = json_dumps(o, JSON_COMPACT | JSON_REAL_PRECISION(9));
    put_line(p, name, payload != NULL ? payload : "{}");
    free(payload);
    json_decref(o);
}

/* As it is shown; where there is none, what is wrong. */
static void put_value(publisher *p, const tl_signal *s, const taken *t)
{
    char text[80], flags[40];
    if (taken_has_value(s, t))
        snprintf(text, sizeof text, "%.*f", t->is.is.decimals, t->is.is.value);
    else if (taken_is_good(t) && !t->is.undriven && !t->is.is.open && !t->is.is.shorted && !t->is.is.none)
        taken_value(s, t, text);
    else
        snprintf(text, sizeof text, "%s", taken_flags(s, t, flags));
    put_line(p, s->name, text);
}

static json_t *object_of_reading(const tl_signal *s, const taken *t, double at)
{
    char flags[40], text[80];
    json_t *o = json_pack("{s:f,s:s}", "time", at, "flags", taken_flags(s, t, flags));
    if (taken_has_value(s, t)) {
        json_object_set_new(o, "value", json_number(t->is.is.value));
        json_object_set_new(o, "unit", json_string(s->reading.unit));
        if (t->is.is.percent >= 0)
            json_object_set_new(o, "percent", json_integer(t->is.is.percent));
    } else if (taken_is_good(t) && !t->is.is.open && !t->is.is.shorted) {
        taken_value(s, t, text);
        json_object_set_new(o, "value", json_string(text));
    } else {
        json_object_set_new(o, "value", json_null());
    }
    if (!t->is.analog && t->closings >= 0)
        json_object_set_new(o, "closings", json_integer(t->closings));
    return o;
}

static json_t *object_of_output(const output_state *of, double at)
{
    char flags[80];
    output_flags(of, flags);
    return json_pack("{s:f,s:s,s:o,s:s}", "time", at, "flags", flags, "value",
                     of->status == TL_OK ? json_number(100 * of->now.duty) : json_null(), "unit", "%");
}

void publisher_put(publisher *p, const tl_plan *plan, const published *now)
{
    for (int i = 0; i < now->count && p != NULL; i++) {
        const tl_signal *signal = &plan->signals[now->signals[i]];
        if (p->values)
            put_value(p, signal, &now->readings[i]);
        else
            put_object(p, signal->name, object_of_reading(signal, &now->readings[i], now->at));
    }
    for (int i = 0; i < plan->output_count && p != NULL && now->beside->shown > 0; i++) {
        const output_state *of = &now->beside->of[i];
        char text[80];
        if (of->shown && p->values) {
            output_state_text(&plan->outputs[i], of, text);
            put_line(p, plan->outputs[i].name, text);
        } else if (of->shown) {
            put_object(p, plan->outputs[i].name, object_of_output(of, now->at));
        }
    }
}

bool publisher_close(publisher *p)
{
    int ended = -1;
    if (p == NULL)
        return true;
    close(p->to);
    while (waitpid(p->helper, &ended, 0) < 0 && errno == EINTR)
        continue;
    const bool good = p->dropped == 0 && WIFEXITED(ended) && WEXITSTATUS(ended) == 0;
    if (p->dropped > 0)
        fprintf(stderr, "tinyladder: %lu values were dropped: the other side is too slow\n", p->dropped);
    free(p);
    return good;
}
