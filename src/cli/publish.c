/* Values handed to the helper that speaks MQTT, a line each, never waiting for it. */
#define _GNU_SOURCE
#include "cli/publish.h"
#include <errno.h>
#include <fcntl.h>
#include <math.h>
#include <signal.h>
#include <spawn.h>
#include <stdlib.h>
#include <string.h>
#include <sys/wait.h>
#include <unistd.h>

struct publisher {
    char helper_path[600], host[256], port[8], topic[256];
    int to;
    pid_t helper;
    unsigned long dropped;
};

/* Beside this program, or where it is installed. */
static bool find_helper(char path[600])
{
    char own[400];
    const ssize_t length = readlink("/proc/self/exe", own, sizeof own - 1);
    if (length <= 0)
        return false;
    own[length] = '\0';
    *strrchr(own, '/') = '\0';
    snprintf(path, 600, "%s/tinyladder-publish", own);
    if (access(path, X_OK) == 0)
        return true;
    snprintf(path, 600, "%s/../libexec/tinyladder/tinyladder-publish", own);
    return access(path, X_OK) == 0;
}

/* Topics of MQTT: no wildcard, nothing that is no text. */
static bool is_topic(const char *topic)
{
    for (const char *at = topic; *at != '\0'; at++) {
        if (*at == '+' || *at == '#' || (unsigned char)*at < 0x20)
            return false;
    }
    return topic[0] != '\0';
}

static bool split_url(publisher *p, const char *url)
{
    static const char start[] = "mqtt://";
    const size_t skip = sizeof start - 1;
    const char *slash = strncmp(url, start, skip) == 0 ? strchr(url + skip, '/') : NULL;
    if (slash == NULL || (size_t)(slash - url) - skip >= sizeof p->host ||
        strlen(slash + 1) >= sizeof p->topic)
        return false;
    snprintf(p->host, sizeof p->host, "%.*s", (int)(slash - url) - (int)skip, url + skip);
    snprintf(p->topic, sizeof p->topic, "%s", slash + 1);
    snprintf(p->port, sizeof p->port, "1883");
    char *colon = strchr(p->host, ':');
    if (colon != NULL) {
        char *end = NULL;
        const long port = strtol(colon + 1, &end, 10);
        if (end == colon + 1 || *end != '\0' || port < 1 || port > 65535)
            return false;
        snprintf(p->port, sizeof p->port, "%d", (int)port);
        *colon = '\0';
    }
    return p->host[0] != '\0' && is_topic(p->topic);
}

static bool start_helper(publisher *p)
{
    int ends[2];
    if (pipe2(ends, O_CLOEXEC) != 0)
        return false;
    char *const words[] = {p->helper_path, p->host, p->port, NULL};
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

publisher *publisher_open(const char *url, int *status)
{
    publisher *p = must(calloc(1, sizeof *p));
    *status = EXIT_USAGE;
    if (!split_url(p, url)) {
        fprintf(stderr,
                "tinyladder: --publish: mqtt://HOST/TOPIC is wanted, such as mqtt://localhost/fernhill\n");
    } else if (!find_helper(p->helper_path)) {
        *status = EXIT_HARDWARE;
        fprintf(stderr, "tinyladder: --publish: this was built without libmosquitto\n");
    } else if (!start_helper(p)) {
        *status = EXIT_HARDWARE;
        fprintf(stderr, "tinyladder: --publish: %s\n", strerror(errno));
    } else {
        return p;
    }
    free(p);
    return NULL;
}

/* A whole line or nothing: a pipe takes up to PIPE_BUF bytes at once. `o` is given away. */
static void put_line(publisher *p, const char *name, json_t *o)
{
    char line[1024];
    char *payload = json_dumps(o, JSON_COMPACT | JSON_REAL_PRECISION(9));
    const int length =
        snprintf(line, sizeof line, "%s/%s\t%s\n", p->topic, name, payload != NULL ? payload : "{}");
    if (length < 0 || (size_t)length >= sizeof line || write(p->to, line, (size_t)length) != length)
        p->dropped++;
    free(payload);
    json_decref(o);
}

static json_t *object_of_reading(const tl_signal *s, const taken *t, double at)
{
    char flags[40], text[80];
    json_t *o = json_pack("{s:f,s:s}", "time", at, "flags", taken_flags(s, t, flags));
    if (taken_has_value(s, t)) {
        json_object_set_new(o, "value", json_number(t->is.is.value));
        json_object_set_new(o, "unit", json_string(s->reading.unit));
    } else if (taken_is_good(t) && !t->is.is.open && !t->is.is.shorted) {
        taken_value(s, t, text);
        json_object_set_new(o, "value", json_string(text));
    } else {
        json_object_set_new(o, "value", json_null());
    }
    return o;
}

static json_t *object_of_output(const output_state *of, double at)
{
    char flags[80];
    output_flags(of, flags);
    return json_pack("{s:f,s:s,s:o,s:s}", "time", at, "flags", flags, "value",
                     of->status == TL_OK ? json_number(100 * of->now.duty) : json_null(), "unit", "%");
}

void publisher_put(publisher *p, const tl_plan *plan, const int *signals, const taken *readings, int count,
                   const outputs *beside, double at)
{
    for (int i = 0; i < count && p != NULL; i++)
        put_line(p, plan->signals[signals[i]].name,
                 object_of_reading(&plan->signals[signals[i]], &readings[i], at));
    for (int i = 0; i < plan->output_count && p != NULL && beside->shown > 0; i++) {
        if (beside->of[i].shown)
            put_line(p, plan->outputs[i].name, object_of_output(&beside->of[i], at));
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
