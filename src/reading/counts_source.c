/* SPDX-License-Identifier: MIT */
/* Files, serial devices and sockets that lines of counts come from. */
#define _GNU_SOURCE
#include "reading/counts_source.h"
#include "broker/mqtt_address.h"
#include "printing/printing.h"
#include <errno.h>
#include <fcntl.h>
#include <netdb.h>
#include <signal.h>
#include <spawn.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/socket.h>
#include <sys/stat.h>
#include <sys/un.h>
#include <sys/wait.h>
#include <termios.h>
#include <unistd.h>

static const struct {
    unsigned long bauds;
    speed_t speed;
} speeds[] = {{1200, B1200},     {2400, B2400},     {4800, B4800},     {9600, B9600},
              {19200, B19200},   {38400, B38400},   {57600, B57600},   {115200, B115200},
              {230400, B230400}, {460800, B460800}, {921600, B921600}, {1000000, B1000000}};

static int refused(char why[160])
{
    snprintf(why, 160, "%s", strerror(errno));
    return -1;
}

static int open_unix(const char *path, char why[160])
{
    struct sockaddr_un address = {.sun_family = AF_UNIX};
    if (strlen(path) >= sizeof address.sun_path) {
        snprintf(why, 160, "the path is too long");
        return -1;
    }
    snprintf(address.sun_path, sizeof address.sun_path, "%s", path);
    const int file = socket(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0);
    if (file < 0 || connect(file, (const struct sockaddr *)&address, sizeof address) != 0) {
        (void)refused(why);
        if (file >= 0)
            close(file);
        return -1;
    }
    return file;
}

/* Whether the network's own functions take it whole: they leave out what is above 65535. */
static bool is_port(const char *text)
{
    char *end;
    const unsigned long number = strtoul(text, &end, 10);
    return end != text && *end == '\0' && number >= 1 && number <= UINT16_MAX;
}

/* HOST:PORT; of an address with colons [HOST]:PORT. */
static int open_tcp(const char *where, char why[160])
{
    char host[200];
    const struct addrinfo wanted = {.ai_socktype = SOCK_STREAM};
    struct addrinfo *found = NULL;
    const char *colon = strrchr(where, ':');
    int file = -1;
    if (colon == NULL || colon == where || (size_t)(colon - where) >= sizeof host || !is_port(colon + 1)) {
        snprintf(why, 160, "expected tcp:HOST:PORT");
        return -1;
    }
    const bool bracketed = where[0] == '[' && colon[-1] == ']';
    snprintf(host, sizeof host, "%.*s", (int)(colon - where) - 2 * bracketed, where + bracketed);
    const int trouble = getaddrinfo(host, colon + 1, &wanted, &found);
    if (trouble != 0) {
        snprintf(why, 160, "%s", gai_strerror(trouble));
        return -1;
    }
    errno = ECONNREFUSED;
    for (const struct addrinfo *at = found; at != NULL && file < 0; at = at->ai_next) {
        file = socket(at->ai_family, at->ai_socktype | SOCK_CLOEXEC, at->ai_protocol);
        if (file >= 0 && connect(file, at->ai_addr, at->ai_addrlen) != 0) {
            const int kept = errno;
            close(file);
            file = -1;
            errno = kept;
        }
    }
    freeaddrinfo(found);
    return file < 0 ? refused(why) : file;
}

static bool set_speed(int file, const char *text, char why[160])
{
    struct termios settings;
    char *end;
    const unsigned long bauds = strtoul(text, &end, 10);
    for (size_t i = 0; i < sizeof speeds / sizeof speeds[0]; i++) {
        if (*end != '\0' || speeds[i].bauds != bauds)
            continue;
        if (tcgetattr(file, &settings) != 0) {
            snprintf(why, 160, "no serial line: a speed means nothing there");
            return false;
        }
        cfmakeraw(&settings);
        settings.c_cflag |= CLOCAL | CREAD;
        if (cfsetspeed(&settings, speeds[i].speed) == 0 && tcsetattr(file, TCSANOW, &settings) == 0)
            return true;
        (void)refused(why);
        return false;
    }
    snprintf(why, 160, "'%.40s' is no speed; such as 9600 or 115200", text);
    return false;
}

static int open_path(const char *source, char why[160])
{
    char path[1000];
    const char *at = strrchr(source, '@');
    snprintf(path, sizeof path, "%s", source);
    if (at != NULL && access(source, F_OK) != 0 && (size_t)(at - source) < sizeof path)
        path[at - source] = '\0';
    else
        at = NULL;
    const int file = open(path, O_RDONLY | O_NOCTTY | O_CLOEXEC);
    if (file < 0)
        return refused(why);
    if (at != NULL && !set_speed(file, at + 1, why)) {
        close(file);
        return -1;
    }
    return file;
}

/* A helper listens, and writes what it hears. Login and certificates come from the environment: the same for
 * both of these. */
static int open_mqtt(const char *url, pid_t *helper, char why[160])
{
    mqtt_address at;
    char path[600];
    int ends[2];
    const char *ca = getenv("TINYLADDER_MQTT_CA"), *login = getenv("TINYLADDER_MQTT_LOGIN");
    if (strchr(url, '@') != NULL || !mqtt_address_of(url, &at)) {
        snprintf(why, 160,
                 "expected mqtt://HOST/TOPIC or mqtts://HOST/TOPIC, with user and password in "
                 "TINYLADDER_MQTT_USER and TINYLADDER_MQTT_PASSWORD");
        return -1;
    }
    if (!helper_program("tinyladder-listen", path)) {
        snprintf(why, 160,
                 "this program was built without MQTT: install libmosquitto-dev, and build it again");
        return -1;
    }
    if (pipe2(ends, O_CLOEXEC) != 0)
        return refused(why);
    char *const words[] = {path,
                           at.host,
                           at.port,
                           at.topic,
                           at.tls ? "tls" : "plain",
                           ca != NULL ? (char *)(uintptr_t)ca : "",
                           login != NULL ? (char *)(uintptr_t)login : "",
                           NULL};
    posix_spawn_file_actions_t files;
    errno = posix_spawn_file_actions_init(&files);
    if (errno == 0) {
        errno = posix_spawn_file_actions_adddup2(&files, ends[1], STDOUT_FILENO);
        errno = errno != 0 ? errno : posix_spawn(helper, path, &files, NULL, words, environ);
        posix_spawn_file_actions_destroy(&files);
    }
    close(ends[1]);
    if (errno == 0)
        return ends[0];
    *helper = 0;
    const int kept = errno;
    close(ends[0]);
    errno = kept;
    return refused(why);
}

void counts_source_close(int file, pid_t helper)
{
    if (file != STDIN_FILENO)
        close(file);
    if (helper <= 0)
        return;
    kill(helper, SIGTERM);
    while (waitpid(helper, NULL, 0) < 0 && errno == EINTR)
        continue;
}

int counts_source_open(const char *source, bool *live, pid_t *helper, char why[160])
{
    struct stat is;
    *helper = 0;
    const int file = strcmp(source, "-") == 0 ? STDIN_FILENO
                     : strncmp(source, "mqtt", 4) == 0 && strstr(source, "://") != NULL
                         ? open_mqtt(source, helper, why)
                     : strncmp(source, "unix:", 5) == 0 ? open_unix(source + 5, why)
                     : strncmp(source, "tcp:", 4) == 0  ? open_tcp(source + 4, why)
                                                        : open_path(source, why);
    if (file < 0)
        return -1;
    if (fstat(file, &is) == 0 && S_ISDIR(is.st_mode)) {
        snprintf(why, 160, "a folder");
        close(file);
        return -1;
    }
    *live = !S_ISREG(is.st_mode);
    return file;
}
