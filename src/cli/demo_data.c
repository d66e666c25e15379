/* SPDX-License-Identifier: MIT */
/* Beside the program as built or installed, or where one is. */
#include "cli/demo_data.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

/* Whether the data lies there; the path is then made plain. */
static bool is_data(const char *folder, char path[PATH_MAX])
{
    char plan[PATH_MAX + 32];
    snprintf(plan, sizeof plan, "%s/fernhill.plan.yaml", folder);
    if (access(plan, R_OK) != 0)
        return false;
    if (folder[0] != '/') /* as the user would type it */
        snprintf(path, PATH_MAX, "%s", folder);
    return folder[0] != '/' || realpath(folder, path) != NULL;
}

bool demo_data_find(const char *wanted, char path[PATH_MAX])
{
    static const char *const places[] = {"../demo", "../share/tinyladder/demo"};
    char program[PATH_MAX] = "", folder[PATH_MAX + 64];
    if (wanted != NULL)
        return is_data(wanted, path);
    if (is_data("demo", path))
        return true;
    const ssize_t length = readlink("/proc/self/exe", program, sizeof program - 1);
    char *slash = length > 0 ? strrchr(program, '/') : NULL;
    if (slash == NULL)
        return false;
    *slash = '\0';
    for (size_t i = 0; i < sizeof places / sizeof places[0]; i++) {
        snprintf(folder, sizeof folder, "%s/%s", program, places[i]);
        if (is_data(folder, path))
            return true;
    }
    return false;
}
