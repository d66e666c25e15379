/* `record --publish` against a broker on the loopback, and against none. */
#define _GNU_SOURCE
#include "support.h"
#include <arpa/inet.h>
#include <fcntl.h>
#include <signal.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/socket.h>
#include <sys/wait.h>
#include <unistd.h>

#define PLAN "demo/fernhill.plan.yaml"
#define SCENE "demo/evening.scene.yaml"

static pid_t start(const char *const *words, const char *out)
{
    const pid_t child = fork();
    if (child == 0) {
        setpgid(0, 0);
        const int to = open(out, O_WRONLY | O_CREAT | O_TRUNC, 0666);
        dup2(to, STDOUT_FILENO);
        dup2(to, STDERR_FILENO);
        execvp(words[0], (char *const *)words);
        _exit(127);
    }
    return child;
}

/* Until somebody listens there, five seconds at most. */
static bool wait_for_port(const char *port)
{
    struct sockaddr_in at = {.sin_family = AF_INET,
                             .sin_port = htons((uint16_t)atoi(port)),
                             .sin_addr.s_addr = htonl(INADDR_LOOPBACK)};
    for (int tries = 0; tries < 100; tries++) {
        const int to = socket(AF_INET, SOCK_STREAM, 0);
        const bool there = connect(to, (struct sockaddr *)&at, sizeof at) == 0;
        close(to);
        if (there)
            return true;
        usleep(50000);
    }
    return false;
}

static int lines_in(const char *path)
{
    char *text = text_of(path);
    int lines = 0;
    for (const char *at = text; *at != '\0'; at++)
        lines += *at == '\n';
    free(text);
    return lines;
}

static void hands_values_on(void)
{
    char config[100], port[8], url[80], heard[600];
    snprintf(port, sizeof port, "%d", 20000 + (int)(getpid() % 20000));
    snprintf(config, sizeof config, "listener %s 127.0.0.1\nallow_anonymous true\npersistence false\n", port);
    snprintf(url, sizeof url, "mqtt://127.0.0.1:%s/fern/hill", port);
    snprintf(heard, sizeof heard, "%s", scratch_path("heard"));
    const char *const broker[] = {"/usr/sbin/mosquitto", "-c",
                                  scratch_file("broker.conf", config, strlen(config)), NULL};
    const char *const listener[] = {"mosquitto_sub", "-h", "127.0.0.1", "-p", port, "-v", "-t",
                                    "fern/#",        "-C", "20",        "-W", "20", NULL};
    const pid_t serves = start(broker, scratch_path("broker.log"));
    CU_ASSERT(wait_for_port(port));
    const pid_t listens = start(listener, heard);
    usleep(700000);
    run_result r = run_command("record", PLAN, "house-battery", "rain-plate", "mirror-temperature",
                               "twilight", "--scene", SCENE, "--at", "20min", "--for", "3min", "--every",
                               "1min", "--publish", url, "-o", scratch_path("published.csv"), NULL);
    CU_ASSERT(r.status == 0 && r.err[0] == '\0');
    run_free(&r);
    int status = 0;
    waitpid(listens, &status, 0);
    char *text = text_of(heard);
    CU_ASSERT(lines_in(heard) == 20);
    CU_ASSERT(strstr(text, "fern/hill/house-battery {\"time\":1200.0,\"flags\":\"fresh\",\"value\":12.3") !=
              NULL);
    CU_ASSERT(strstr(text, "\"unit\":\"V\"") != NULL && strstr(text, "fern/hill/rain-plate ") != NULL);
    CU_ASSERT(strstr(text, "\"flags\":\"open wire\",\"value\":null") != NULL);
    CU_ASSERT(strstr(text, "fern/hill/map-light {\"time\":1200.0,\"flags\":\"fresh\",\"value\":14.") != NULL);
    free(text);
    kill(serves, SIGTERM);
    waitpid(serves, &status, 0);
    unlink(scratch_path("published.csv"));
}

/* A broker that comes later, goes and comes again: what is said while it is there is heard. */
static void finds_a_broker_again(void)
{
    char config[100], port[8], script[700], heard[600];
    int status = 0;
    snprintf(port, sizeof port, "%d", 20000 + (int)((getpid() + 7) % 20000));
    snprintf(config, sizeof config, "listener %s 127.0.0.1\nallow_anonymous true\npersistence false\n", port);
    snprintf(heard, sizeof heard, "%s", scratch_path("heard-later"));
    snprintf(script, sizeof script,
             "for i in $(seq 100); do printf 'a/b\\t%%d\\n' $i; sleep 0.4; done "
             "| " TL_BUILD "/tinyladder-publish 127.0.0.1 %s",
             port);
    const char *const broker[] = {"/usr/sbin/mosquitto", "-c",
                                  scratch_file("later.conf", config, strlen(config)), NULL};
    const char *const talker[] = {"/bin/sh", "-c", script, NULL};
    const char *const listener[] = {"mosquitto_sub", "-h", "127.0.0.1", "-p", port, "-t",
                                    "a/#",           "-C", "3",         "-W", "10", NULL};
    const pid_t talks = start(talker, scratch_path("talker.log"));
    for (int time = 0; time < 2; time++) {
        usleep(700000);
        const pid_t serves = start(broker, scratch_path("later.log"));
        CU_ASSERT(wait_for_port(port));
        const pid_t listens = start(listener, heard);
        waitpid(listens, &status, 0);
        CU_ASSERT(WIFEXITED(status) && WEXITSTATUS(status) == 0 && lines_in(heard) == 3);
        kill(serves, SIGTERM);
        waitpid(serves, &status, 0);
    }
    kill(-talks, SIGTERM);
    waitpid(talks, &status, 0);
}

/* A dead broker does not keep anything from being recorded. */
static void nobody_listens(void)
{
    const char *path = scratch_path("alone.csv");
    unlink(path);
    run_result r = run_command("record", PLAN, "house-battery", "--scene", SCENE, "--every", "1min",
                               "--publish", "mqtt://127.0.0.1:1/x", "-o", path, NULL);
    CU_ASSERT(r.status == 4 && strstr(r.err, "41 values could not be handed to 127.0.0.1") != NULL);
    CU_ASSERT(lines_in(path) == 42);
    run_free(&r);
    static const char *const urls[] = {"http://x/y", "mqtt://x",     "mqtt:///y",
                                       "mqtt://x/",  "mqtt://x:0/y", "mqtt://x/a#"};
    for (size_t i = 0; i < ROWS(urls); i++) {
        r = run_command("record", PLAN, "--for", "1s", "--publish", urls[i], "-o", path, NULL);
        CHECK_ROW(urls[i], r.status == 2 && strstr(r.err, "mqtt://HOST/TOPIC is wanted") != NULL);
        run_free(&r);
    }
}

CU_TestInfo publish_tests[] = {
    {"hands values on", hands_values_on},
    {"finds a broker again", finds_a_broker_again},
    {"nobody listens", nobody_listens},
    CU_TEST_INFO_NULL,
};
