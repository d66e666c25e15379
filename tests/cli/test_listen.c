/* SPDX-License-Identifier: MIT */
/* The bench behind its socket, as a program at the other end meets it. */
#include "support.h"
#include <jansson.h>
#include <signal.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/socket.h>
#include <sys/stat.h>
#include <sys/un.h>
#include <sys/wait.h>
#include <unistd.h>

#define PROGRAM TL_BUILD "/tinyladder-bench"
#define PLAN TL_SOURCE "/demo/fernhill.plan.yaml"
#define SCENE TL_SOURCE "/demo/evening.scene.yaml"

static char text[65600];

static pid_t serve_scene(const char *path, const char *once, const char *scene)
{
    const pid_t child = fork();
    if (child == 0) {
        if (freopen("/dev/null", "w", stdout) == NULL)
            _exit(9);
        execl(PROGRAM, PROGRAM, PLAN, "--scene", scene, "--listen", path, once, (char *)NULL);
        _exit(9);
    }
    return child;
}

static pid_t serve(const char *path, const char *once)
{
    return serve_scene(path, once, SCENE);
}

/* Once it listens: at most ten seconds. */
static int reach(const char *path)
{
    struct sockaddr_un address = {.sun_family = AF_UNIX};
    snprintf(address.sun_path, sizeof address.sun_path, "%s", path);
    for (int i = 0; i < 1000; i++) {
        const int client = socket(AF_UNIX, SOCK_STREAM, 0);
        if (connect(client, (const struct sockaddr *)&address, sizeof address) == 0)
            return client;
        close(client);
        usleep(10000);
    }
    return -1;
}

static json_t *ask_raw(int client, const char *line, size_t length)
{
    size_t size = 0;
    CU_ASSERT(send(client, line, length, MSG_NOSIGNAL) == (ssize_t)length);
    while (size < sizeof text - 1 && memchr(text, '\n', size) == NULL) {
        const ssize_t got = read(client, text + size, sizeof text - 1 - size);
        if (got <= 0)
            return NULL;
        size += (size_t)got;
    }
    return json_loadb(text, size, JSON_DISABLE_EOF_CHECK, NULL);
}

static json_t *ask(int client, const char *line)
{
    char with_end[400];
    snprintf(with_end, sizeof with_end, "%s\n", line);
    return ask_raw(client, with_end, strlen(with_end));
}

static bool is_ok(const json_t *answer)
{
    return json_is_true(json_object_get(answer, "ok")) && json_is_real(json_object_get(answer, "at"));
}

static double number_of(const json_t *answer, const char *key)
{
    return json_number_value(json_object_get(answer, key));
}

/* An end of whoever serves, and whether its socket is gone. */
static int ended(pid_t child, const char *path)
{
    int status = -1;
    struct stat file;
    CU_ASSERT(waitpid(child, &status, 0) == child);
    CU_ASSERT(stat(path, &file) != 0);
    return WIFEXITED(status) ? WEXITSTATUS(status) : -1;
}

/* One after the other, on one bench. */
static void answers_what_is_asked(void)
{
    static const char *const rows[][2] = {
        {"{\"do\": \"read\", \"signal\": \"open-button\"}",
         "\"undriven\":false,\"high\":true,\"closed\":false"},
        {"{\"do\": \"press\", \"signal\": \"open-button\", \"down\": true}", "\"ok\":true"},
        {"{\"do\": \"read\", \"signal\": \"open-button\"}",
         "\"undriven\":false,\"high\":false,\"closed\":true"},
        {"{\"do\": \"truth\", \"signal\": \"open-button\"}", "\"value\":1.0,\"pin_volts\":0.0"},
        {"{\"do\": \"let-go\", \"signal\": \"open-button\"}", "\"ok\":true"},
        {"{\"do\": \"press\", \"signal\": \"keypad\", \"button\": 0, \"down\": true}", "\"ok\":true"},
        {"{\"do\": \"read\", \"signal\": \"keypad\"}", "\"count\":0,"},
        {"{\"do\": \"convert\", \"line\": \"L4\", \"reference\": \"logic\"}", "\"word\":"},
        {"{\"do\": \"convert\", \"channel\": 3}", "\"word\":"},
        {"{\"do\": \"damage\"}", "\"damage\":[]"},
        {"{\"do\": \"trouble\"}", "\"trouble\":null"},
    };
    char path[300];
    snprintf(path, sizeof path, "%s", scratch_path("answers.sock"));
    const pid_t child = serve(path, "--once");
    const int client = reach(path);
    CU_ASSERT_FATAL(client >= 0);
    for (size_t i = 0; i < ROWS(rows); i++) {
        json_t *answer = ask(client, rows[i][0]);
        char *said = json_dumps(answer, JSON_COMPACT);
        CHECK_ROW(rows[i][0], is_ok(answer) && said != NULL && strstr(said, rows[i][1]) != NULL);
        free(said);
        json_decref(answer);
    }
    close(client);
    CU_ASSERT(ended(child, path) == 0);
}

/* A pin that a wire brings 12 V is in the list, with what it suffers. */
static void lists_the_damage(void)
{
    static const char scene[] =
        "tinyladder: scene 1\nlength: 9 s\nfaults: [{short: house-battery.pin, to: battery}]\n";
    char path[300], of[300];
    snprintf(path, sizeof path, "%s", scratch_path("damage.sock"));
    snprintf(of, sizeof of, "%s", scratch_file("damage.scene.yaml", scene, strlen(scene)));
    const pid_t child = serve_scene(path, "--once", of);
    const int client = reach(path);
    CU_ASSERT_FATAL(client >= 0);
    json_decref(ask(client, "{\"do\": \"wait\", \"us\": 1000000}"));
    json_t *answer = ask(client, "{\"do\": \"damage\"}");
    const json_t *first = json_array_get(json_object_get(answer, "damage"), 0);
    CU_ASSERT(strcmp(json_string_value(json_object_get(first, "pin")), "L4") == 0 &&
              json_is_null(json_object_get(first, "coil_of")));
    CU_ASSERT(number_of(first, "volts") > 3.6 && number_of(first, "amperes") > 0.1 &&
              number_of(first, "seconds") >= 0.9);
    json_decref(answer);
    close(client);
    CU_ASSERT(ended(child, path) == 0);
}

/* Every example of docs/bench-socket.md answers as it says, and every call of the table has one. */
static void what_is_written_works(void)
{
    char path[300], name[40], request[300];
    char *doc = text_of(TL_SOURCE "/docs/bench-socket.md"), *table = text_of(TL_SOURCE "/src/listen/calls.c");
    int asked = 0, calls = 0;
    snprintf(path, sizeof path, "%s", scratch_path("doc.sock"));
    const pid_t child = serve(path, "--once");
    const int client = reach(path);
    CU_ASSERT_FATAL(client >= 0 && doc != NULL && table != NULL);
    json_decref(ask(client, "{\"do\": \"use\", \"line\": \"L8\", \"as\": \"output\"}"));
    json_decref(ask(client, "{\"do\": \"use\", \"line\": \"L13\", \"as\": \"input\"}"));
    for (const char *at = doc; (at = strstr(at, "`{\"do\"")) != NULL; at++) {
        const char *end = strchr(at + 1, '`');
        snprintf(request, sizeof request, "%.*s", (int)(end - at - 1), at + 1);
        json_t *answer = ask(client, request);
        /* The demo has no converter on SPI: that one is refused, in a sentence. */
        CHECK_ROW(request, is_ok(answer) || strstr(request, "\"spi\"") != NULL);
        char key[40] = ""; /* the first of the answer's, in the second column */
        if (is_ok(answer) && sscanf(end, "` | `%39[^`]", key) == 1)
            CHECK_ROW(request, json_object_get(answer, key) != NULL);
        json_decref(answer);
        asked++;
    }
    for (const char *at = table; (at = strstr(at, "    {\"")) != NULL; at++) {
        char wanted[60];
        CU_ASSERT_FATAL(sscanf(at, "    {\"%39[^\"]\"", name) == 1);
        snprintf(wanted, sizeof wanted, "{\"do\": \"%s\"", name);
        CHECK_ROW(name, strstr(doc, wanted) != NULL);
        calls++;
    }
    CU_ASSERT(asked == calls && calls > 15);
    close(client);
    CU_ASSERT(ended(child, path) == 0);
    free(doc);
    free(table);
}

/* What is asked over the socket is what the bench knows: the scene's press, a turned source, a driven line.
 */
static void is_the_bench(void)
{
    char path[300];
    snprintf(path, sizeof path, "%s", scratch_path("bench.sock"));
    const pid_t child = serve(path, NULL);
    for (int round = 0; round < 2; round++) { /* the second client begins anew */
        const int client = reach(path);
        CU_ASSERT_FATAL(client >= 0);
        json_decref(ask(client, "{\"do\": \"use\", \"line\": \"L12\", \"as\": \"input\"}"));
        json_t *answer =
            ask(client, "{\"do\": \"wait-change\", \"lines\": [\"L12\"], \"at_most_us\": 9000000}");
        CU_ASSERT(json_is_true(json_object_get(answer, "changed")) && number_of(answer, "at") > 5 &&
                  number_of(answer, "at") < 5.01);
        json_decref(answer);
        json_decref(ask(client, "{\"do\": \"turn\", \"signal\": \"house-battery\", \"value\": 11.2}"));
        json_decref(ask(client, "{\"do\": \"wait\", \"us\": 100000}"));
        answer = ask(client, "{\"do\": \"read\", \"signal\": \"house-battery\"}");
        CU_ASSERT(near(number_of(answer, "value"), 11.2, 0.05) && number_of(answer, "count") > 2000);
        json_decref(answer);
        json_decref(ask(client, "{\"do\": \"use\", \"line\": 8, \"as\": \"output\"}"));
        json_decref(ask(client, "{\"do\": \"drive\", \"line\": 8, \"high\": true}"));
        close(client);
    }
    kill(child, SIGTERM);
    CU_ASSERT(ended(child, path) == 0);
}

static void says_what_is_wrong(void)
{
    static const struct {
        const char *ask, *error;
    } rows[] = {
        {"nonsense", "no JSON"},
        {"[1]", "expected a JSON object"},
        {"{}", "'do': expected a text"},
        {"{\"do\": \"levle\"}", "did you mean 'level'?"},
        {"{\"do\": \"clock\", \"do\": \"clock\"}", "no JSON: duplicate"},
        {"{\"do\": \"clock\", \"line\": 1}", "'clock' has no field 'line'"},
        {"{\"do\": \"level\"}", "the name of a pin, or its number"},
        {"{\"do\": \"level\", \"line\": \"L99\"}", "the board has no pin 'L99'"},
        {"{\"do\": \"level\", \"line\": -1}", "the name of a pin, or its number"},
        {"{\"do\": \"level\", \"line\": 99999999999}", "the name of a pin, or its number"},
        {"{\"do\": \"use\", \"line\": \"L8\", \"as\": \"lamp\"}", "released, input, pull-up"},
        {"{\"do\": \"drive\", \"line\": \"L8\", \"high\": 1}", "true or false"},
        {"{\"do\": \"drive\", \"line\": \"L8\", \"high\": true}", "bad argument"},
        {"{\"do\": \"duty\", \"line\": \"L8\", \"share\": 1.5}", "from 0 to 1"},
        {"{\"do\": \"convert\", \"line\": \"L8\"}", "no channel"},
        {"{\"do\": \"convert\", \"channel\": 1e300}", "from 0 to 255"},
        {"{\"do\": \"wait\", \"us\": -1}", "from 0 to 2147483647"},
        {"{\"do\": \"wait-change\", \"lines\": [], \"at_most_us\": 5}", "a list of pins"},
        {"{\"do\": \"i2c\", \"bus\": \"attic\", \"address\": 1}", "no bus 'attic'"},
        {"{\"do\": \"i2c\", \"bus\": \"dome\", \"address\": 1, \"out\": [256]}", "from 0 to 255"},
        {"{\"do\": \"i2c\", \"bus\": \"dome\", \"address\": 1, \"out\": [1]}", "acknowledge"},
        {"{\"do\": \"read\", \"signal\": \"house-batery\"}", "did you mean 'house-battery'?"},
        {"{\"do\": \"turn\", \"signal\": \"house-battery\", \"value\": 99}", "from 10.5 to 14.8"},
        {"{\"do\": \"turn\", \"signal\": \"open-button\", \"value\": 1}", "cannot be turned"},
        {"{\"do\": \"press\", \"signal\": \"keypad\", \"button\": 200, \"down\": true}", "no such contact"},
        {"{\"do\": \"volts\", \"point\": \"attic\"}", "no such point"},
        {"{\"do\": \"volts\"}", "'point': expected a text"},
        {"{\"do\": \"truth\", \"signal\": \"attic\"}", "no signal 'attic'"},
        {"{\"do\": \"let-go\", \"signal\": 5}", "'signal': expected a text"},
        {"{\"do\": \"read\", \"signal\": \"a-signal-of-another-plan\"}", "another-plan'"},
        {"{\"do\": \"press\", \"signal\": \"attic\", \"down\": true}", "no signal 'attic'"},
        {"{\"do\": \"press\", \"signal\": \"keypad\", \"down\": 1}", "'down': expected true or false"},
        {"{\"do\": \"turn\", \"signal\": \"house-battery\", \"value\": \"11\"}", "from 10.5 to 14.8"},
        {"{\"do\": \"turn\", \"signal\": \"attic\", \"value\": 11}", "no signal 'attic'"},
        {"{\"do\": \"power\", \"on\": null}", "true or false"},
        {"{\"do\": \"level\", \"line\": true}", "the name of a pin, or its number"},
        {"{\"do\": \"convert\", \"line\": \"L4\", \"reference\": \"attic\"}", "one of the ADC's references"},
        {"{\"do\": \"convert\", \"line\": \"L4\", \"reference\": 1}", "one of the ADC's references"},
        {"{\"do\": \"i2c\", \"bus\": 9, \"address\": 1}", "'bus': expected a number from 0 to 0"},
        {"{\"do\": \"i2c\", \"bus\": 0, \"address\": 1}", "acknowledge"},
        {"{\"do\": \"i2c\", \"bus\": \"dome\", \"address\": 1, \"out\": \"1\"}",
         "a list of at most 255 bytes"},
        {"{\"do\": \"i2c\", \"bus\": \"dome\", \"address\": 1, \"out\": [1.5]}",
         "whole numbers from 0 to 255"},
        {"{\"do\": \"i2c\", \"bus\": \"dome\", \"address\": 1, \"out\": [-1]}",
         "whole numbers from 0 to 255"},
        {"{\"do\": \"wait-change\", \"lines\": \"L12\", \"at_most_us\": 5}", "a list of pins"},
        {"{\"do\": \"wait-change\", \"lines\": [\"L99\"], \"at_most_us\": 5}", "the board has no pin 'L99'"},
    };
    char path[300];
    snprintf(path, sizeof path, "%s", scratch_path("wrong.sock"));
    const pid_t child = serve(path, "--once");
    const int client = reach(path);
    CU_ASSERT_FATAL(client >= 0);
    for (size_t i = 0; i < ROWS(rows); i++) {
        json_t *answer = ask(client, rows[i].ask);
        const char *error = json_string_value(json_object_get(answer, "error"));
        CHECK_ROW(rows[i].ask, json_is_false(json_object_get(answer, "ok")) && error != NULL);
        CHECK_ROW(rows[i].ask, error != NULL && strstr(error, rows[i].error) != NULL);
        json_decref(answer);
    }
    static char many[3 * 256 + 100] = "{\"do\": \"i2c\", \"bus\": \"dome\", \"address\": 1, \"out\": [0";
    for (int i = 0; i < 255; i++)
        strcat(many, ",0");
    strcat(many, "]}\n");
    json_t *refused = ask_raw(client, many, strlen(many));
    const char *why = json_string_value(json_object_get(refused, "error"));
    CU_ASSERT(why != NULL && strstr(why, "a list of at most 255 bytes") != NULL);
    json_decref(refused);
    static char huge[70000];
    memset(huge, ' ', sizeof huge);
    json_t *answer = ask_raw(client, huge, sizeof huge);
    CU_ASSERT(strstr(json_string_value(json_object_get(answer, "error")), "65535 bytes") != NULL);
    json_decref(answer);
    close(client);
    CU_ASSERT(ended(child, path) == 0);
}

/* A socket that somebody died on is taken over; one that lives, or a file, is left. */
static void leaves_what_is_there(void)
{
    char path[300], file[300];
    run_result r;
    snprintf(path, sizeof path, "%s", scratch_path("taken.sock"));
    snprintf(file, sizeof file, "%s", scratch_file("taken.txt", "mine", 4));
    pid_t child = serve(path, NULL);
    close(reach(path));
    const char *const second[] = {PROGRAM, PLAN, "--listen", path, NULL};
    r = run_program(second, TL_SOURCE);
    CU_ASSERT(r.status == 4 && strstr(r.err, "another program listens to it") != NULL);
    run_free(&r);
    kill(child, SIGKILL);
    CU_ASSERT(waitpid(child, NULL, 0) == child && access(path, F_OK) == 0);
    child = serve(path, "--once");
    const int client = reach(path);
    CU_ASSERT(client >= 0);
    close(client);
    CU_ASSERT(ended(child, path) == 0);
    const char *const on_a_file[] = {PROGRAM, PLAN, "--listen", file, NULL};
    r = run_program(on_a_file, TL_SOURCE);
    char *kept = text_of(file);
    CU_ASSERT(r.status == 4 && strcmp(kept, "mine") == 0);
    free(kept);
    run_free(&r);
    static const struct {
        const char *words[6];
        int status;
        const char *err;
    } rows[] = {
        {{PROGRAM, NULL}, 2, "which plan?"},
        {{PROGRAM, PLAN, NULL}, 2, "--listen is required"},
        {{PROGRAM, PLAN, "--listen", "x", "--seed=-1", NULL}, 2, "--seed"},
        {{PROGRAM, "nowhere.plan.yaml", "--listen", "x", NULL}, 3, "nowhere.plan.yaml"},
        {{PROGRAM, PLAN, "--listen", "/nowhere/x", NULL}, 4, "No such file"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        r = run_program(rows[i].words, TL_SOURCE);
        CHECK_ROW(rows[i].err, r.status == rows[i].status && strstr(r.err, rows[i].err) != NULL);
        run_free(&r);
    }
}

static void the_client_runs(void)
{
    char path[300];
    snprintf(path, sizeof path, "%s", scratch_path("client.sock"));
    const pid_t child = serve(path, "--once");
    for (int i = 0; i < 1000 && access(path, F_OK) != 0; i++)
        usleep(10000);
    run_result r = run_program(
        (const char *const[]){"python3", TL_SOURCE "/examples/bench_client.py", path, NULL}, TL_SOURCE);
    CU_ASSERT(r.status == 0 && strstr(r.out, "5.02 s: the open button is pressed\n"
                                             "5.02 s: the battery has 12.7 V\n"
                                             "5.22 s: the open button is released\n") != NULL);
    run_free(&r);
    CU_ASSERT(ended(child, path) == 0);
}

CU_TestInfo listen_tests[] = {
    {"what is written works", what_is_written_works},
    {"answers what is asked", answers_what_is_asked},
    {"lists the damage", lists_the_damage},
    {"is the bench", is_the_bench},
    {"says what is wrong", says_what_is_wrong},
    {"leaves what is there", leaves_what_is_there},
    {"the client runs", the_client_runs},
    CU_TEST_INFO_NULL,
};
