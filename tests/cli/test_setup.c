/* SPDX-License-Identifier: MIT */
/* The set-up script with a package manager, a user and a sudo that only say what they were asked. */
#include "support.h"
#include <stdio.h>
#include <string.h>
#include <sys/stat.h>

static void write_tool(const char *name, const char *body)
{
    char text[300];
    snprintf(text, sizeof text, "#!/bin/sh\n%s\n", body);
    const char *path = scratch_file(name, text, strlen(text));
    chmod(path, 0755);
}

/* dpkg: what dpkg-query answers for every package. */
static run_result set_up(const char *dpkg, const char *user, const char *sudo, const char *apt)
{
    static const char *const words[] = {
        "env", "PATH=" TL_SCRATCH ":/usr/bin:/bin", "sh", "scripts/setup.sh", "check", NULL};
    write_tool("dpkg-query", dpkg);
    write_tool("id", user);
    write_tool("sudo", sudo);
    write_tool("apt-get", apt);
    return run_program(words, TL_SOURCE);
}

static void installs_what_is_missing_and_says_so(void)
{
    static const struct {
        const char *name, *dpkg, *user, *sudo, *apt;
        int status;
        const char *out, *err;
    } rows[] = {
        {"nothing missing", "echo installed", "echo 0", "exit 9", "exit 9", 0, NULL, NULL},
        {"root", "exit 1", "echo 0", "exit 9", "exit 0", 0, "installing Debian packages: gcc", NULL},
        {"removed, but its settings are still there", "echo config-files", "echo 0", "exit 9", "exit 0", 0,
         "libcunit1-dev", NULL},
        {"a user with sudo", "exit 1", "echo 1000", "[ \"$1\" = -n ] || exec \"$@\"", "exit 0", 0,
         "installing", NULL},
        {"a user without", "exit 1", "echo 1000", "exit 1", "exit 9", 1, NULL,
         "apt-get install --no-install-recommends gcc"},
        {"the package manager fails", "exit 1", "echo 0", "exit 9", "echo no network; exit 100", 1,
         "installing", "no network"},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        run_result r = set_up(rows[i].dpkg, rows[i].user, rows[i].sudo, rows[i].apt);
        CHECK_ROW(rows[i].name, r.status == rows[i].status);
        CHECK_ROW(rows[i].name, rows[i].out == NULL ? r.out[0] == '\0' : strstr(r.out, rows[i].out) != NULL);
        CHECK_ROW(rows[i].name, rows[i].err == NULL ? r.err[0] == '\0' : strstr(r.err, rows[i].err) != NULL);
        run_free(&r);
    }
}

/* What make would run: packages are installed where the goal says so, and nowhere else. */
static void only_some_goals_install(void)
{
    static const struct {
        const char *goal;
        bool installs;
    } rows[] = {{"all", false}, {"install", false}, {"setup", true}, {"demo", true}, {"check", true}};
    for (size_t i = 0; i < ROWS(rows); i++) {
        const char *const words[] = {"make", "-n", "BUILD=" TL_SCRATCH "/none", rows[i].goal, NULL};
        run_result r = run_program(words, TL_SOURCE);
        CHECK_ROW(rows[i].goal,
                  r.status == 0 && (strstr(r.out, "scripts/setup.sh") != NULL) == rows[i].installs);
        run_free(&r);
    }
}

CU_TestInfo setup_tests[] = {
    {"only some goals install", only_some_goals_install},
    {"installs what is missing and says so", installs_what_is_missing_and_says_so},
    CU_TEST_INFO_NULL,
};
