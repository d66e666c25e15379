/* SPDX-License-Identifier: MIT */
/*
 * One instant, one reading: whichever signals are asked for, alone or in a series, read, recorded or watched,
 * a row of the same moment says the same, noise and all. The words of the command are compared, so every
 * layer is in it.
 */
#define _GNU_SOURCE
#include "support.h"
#include <dirent.h>
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#define PLAN "demo/fernhill.plan.yaml"
#define SCENE "demo/evening.scene.yaml"

enum { CLOSINGS = 9, ROW = 400 };

static int compared;

/* A row without its closings, which tell how long it has been watched. Kind: a record has it after the name.
 */
static void row_of(const char *line, bool has_kind, char row[ROW])
{
    char copy[ROW], *rest = copy, *field;
    size_t used = 0;
    snprintf(copy, sizeof copy, "%.*s", (int)strcspn(line, "\n"), line);
    row[0] = '\0';
    for (int i = 0; (field = strsep(&rest, ",")) != NULL; i++) {
        const int place = has_kind ? i - (i > 2) : i;
        if ((has_kind && i == 2) || place == CLOSINGS)
            continue;
        used += (size_t)snprintf(row + used, ROW - used, "%s,", field);
    }
}

/* The row of a signal that is sampled within ten milliseconds after a time; empty where there is none. */
static void find_row(const char *text, double at, const char *signal, bool has_kind, char row[ROW])
{
    const size_t length = strlen(signal);
    row[0] = '\0';
    for (const char *line = text; line != NULL && *line != '\0'; line = strchr(line, '\n')) {
        line += *line == '\n';
        const char *comma = strchr(line, ',');
        const double after = strtod(line, NULL) - at;
        if (comma != NULL && strncmp(comma + 1, signal, length) == 0 && comma[1 + length] == ',' &&
            after > -1e-7 && after < 0.01)
            row_of(line, has_kind, row);
    }
}

static void same(const char *name, const char *a, const char *b)
{
    CHECK_ROW(name, a[0] != '\0' && strcmp(a, b) == 0);
    if (strcmp(a, b) != 0)
        printf("\n  %s: '%s'\n  and '%s'\n", name, a, b);
    compared++;
}

/* Asked alone, in a series, recorded, and watched. */
static void is_the_same_however_asked(double at, const char *const *signals, int count)
{
    char here[20], before[20], wanted[ROW], found[ROW];
    const char *path = scratch_path("instants.csv");
    snprintf(here, sizeof here, "%.9gs", at);
    snprintf(before, sizeof before, "%.9gs", at - 0.2);
    run_result all = run_command("read", PLAN, "--scene", SCENE, "--at", here, "--csv", NULL);
    run_result series = run_command("read", PLAN, "--scene", SCENE, "--at", before, "--times", "3", "--every",
                                    "100ms", "--csv", NULL);
    unlink(path);
    run_result recorded = run_command("record", PLAN, "--scene", SCENE, "--at", before, "--for", "200ms",
                                      "--every", "100ms", "-o", path, NULL);
    run_result table = run_command("read", PLAN, "--scene", SCENE, "--at", here, NULL);
    char *rows = text_of(path);
    CU_ASSERT(all.status <= 1 && series.status <= 1 && recorded.status == 0);
    for (int i = 0; i < count; i++) {
        run_result alone =
            run_command("read", PLAN, signals[i], "--scene", SCENE, "--at", here, "--csv", NULL);
        run_result watched =
            run_command("watch", PLAN, signals[i], "--scene", SCENE, "--at", here, "--frames", "1", NULL);
        char value[40] = "";
        find_row(all.out, at, signals[i], false, wanted);
        find_row(alone.out, at, signals[i], false, found);
        same(signals[i], wanted, found);
        find_row(series.out, at, signals[i], false, found);
        same(signals[i], wanted, found);
        find_row(rows, at, signals[i], true, found);
        if (strcmp(signals[i], "keypad") !=
            0) /* of a keypad the record has the button, the list of rows nothing */
            same(signals[i], wanted, found);
        if (sscanf(watched.out, "%*f %*s %39[^\n]", value) == 1) { /* `12.70 V (90 %)  fresh` */
            char *gap = strstr(value, "  ");
            const char *line = strstr(table.out, signals[i]);
            if (gap != NULL)
                *gap = '\0';
            CHECK_ROW(signals[i],
                      line != NULL && memmem(line, strcspn(line, "\n"), value, strlen(value)) != NULL);
        }
        CHECK_ROW(signals[i], value[0] != '\0');
        run_free(&alone);
        run_free(&watched);
    }
    free(rows);
    run_free(&all);
    run_free(&series);
    run_free(&recorded);
    run_free(&table);
}

/* Bounces under way, keys pressed, a mirror's wire off, rain, and quiet moments. */
static void moments_of_the_evening(void)
{
    static const char *const signals[] = {
        "house-battery", "roof-position", "wind-vane",         "open-button", "wheel",
        "motor-status",  "encoder-1",     "paddle-x",          "keypad",      "heater-1",
        "heater-8",      "counterweight", "mirror-temperature"};
    static const double moments[] = {0, 0.3, 5.004, 12.37, 71.1, 1250, 2061.5};
    compared = 0;
    for (size_t i = 0; i < ROWS(moments); i += THINNED)
        is_the_same_however_asked(fmax(moments[i], 0.2), signals, ROWS(signals));
    CU_ASSERT(compared > 250 / THINNED);
}

/* Every sound plan, one second on: each signal alone as among all. */
static void sound_plans(void)
{
    DIR *folder = opendir(TL_SOURCE "/demo/sound");
    CU_ASSERT_FATAL(folder != NULL);
    compared = 0;
    int plans = 0;
    for (const struct dirent *entry; (entry = readdir(folder)) != NULL;) {
        char path[300], name[80], wanted[ROW], found[ROW];
        if (strstr(entry->d_name, ".plan.yaml") == NULL || plans++ % THINNED != 0)
            continue;
        snprintf(path, sizeof path, "demo/sound/%s", entry->d_name);
        run_result all = run_command("read", path, "--at", "1s", "--csv", NULL);
        for (const char *line = strchr(all.out, '\n'); line != NULL && line[1] != '\0';
             line = strchr(line + 1, '\n')) {
            if (sscanf(line + 1, "%*f,%79[^,]", name) != 1)
                continue;
            run_result alone = run_command("read", path, name, "--at", "1s", "--csv", NULL);
            if (alone.status != 2) { /* an output is no signal */
                find_row(all.out, 1, name, false, wanted);
                find_row(alone.out, 1, name, false, found);
                same(name, wanted, found);
            }
            run_free(&alone);
        }
        run_free(&all);
    }
    closedir(folder);
    CU_ASSERT(compared > 40 / THINNED);
}

CU_TestInfo instant_tests[] = {
    {"moments of the evening", moments_of_the_evening},
    {"sound plans", sound_plans},
    CU_TEST_INFO_NULL,
};
