/* SPDX-License-Identifier: MIT */
#define _GNU_SOURCE
#include "support.h"
#include <fcntl.h>
#include <math.h>
#include <poll.h>
#include <signal.h>
#include <stdarg.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/wait.h>
#include <unistd.h>

bool near(double found, double wanted, double relative)
{
    return fabs(found - wanted) <= relative * fmax(fabs(found), fabs(wanted));
}

double even_between(double low, double high)
{
    static uint64_t state = 1;
    state = state * UINT64_C(6364136223846793005) + UINT64_C(1442695040888963407); /* Knuth, MMIX */
    return low + (high - low) * ldexp((double)(state >> 11), -53);
}

static char *read_whole(FILE *stream, size_t *size)
{
    char *text = NULL;
    size_t room = 0;
    *size = 0;
    rewind(stream);
    for (;;) {
        if (*size + 4097 > room) {
            room = 2 * room + 8192;
            text = realloc(text, room);
        }
        const size_t got = fread(text + *size, 1, 4096, stream);
        *size += got;
        if (got == 0)
            break;
    }
    text[*size] = '\0';
    fclose(stream);
    return text;
}

#ifdef TL_SANITIZED
enum { PROGRAM_SECONDS = 900 };
#else
enum { PROGRAM_SECONDS = 300 };
#endif

run_result run_program(const char *const *words, const char *folder)
{
    run_result result = {.status = -1};
    FILE *out = tmpfile(), *err = tmpfile();
    size_t err_size;
    const pid_t child = fork();
    if (child == 0) {
        const int nothing = open("/dev/null", O_RDONLY);
        dup2(nothing, 0);
        dup2(fileno(out), 1);
        dup2(fileno(err), 2);
        if (chdir(folder) == 0) {
            alarm(PROGRAM_SECONDS); /* survives exec: nothing waits for ever */
            execvp(words[0], (char *const *)words);
        }
        _exit(127);
    }
    int status = 0;
    waitpid(child, &status, 0);
    if (WIFEXITED(status))
        result.status = WEXITSTATUS(status);
    result.out = read_whole(out, &result.out_size);
    result.err = read_whole(err, &err_size);
    return result;
}

void run_free(run_result *result)
{
    free(result->out);
    free(result->err);
}

run_result run_command(const char *first, ...)
{
    const char *words[26] = {TL_BUILD "/tinyladder", first};
    va_list more;
    va_start(more, first);
    for (int i = 2; i < 25 && words[i - 1] != NULL; i++)
        words[i] = va_arg(more, const char *);
    va_end(more);
    return run_program(words, TL_SOURCE);
}

void check_commands(const command_row *rows, size_t count)
{
    for (size_t i = 0; i < count; i++) {
        const char *const *w = rows[i].words;
        run_result r = run_command(w[0], w[1], w[2], w[3], w[4], w[5], w[6], w[7], w[8], w[9], NULL);
        const bool out = rows[i].out == NULL ? r.out[0] == '\0' : strstr(r.out, rows[i].out) != NULL;
        const bool err = rows[i].err == NULL ? r.err[0] == '\0' : strstr(r.err, rows[i].err) != NULL;
        CHECK_ROW(rows[i].name, r.status == rows[i].status && out && err);
        if (r.status != rows[i].status || !out || !err)
            printf("\n  %s: status %d, out '%.300s', err '%.300s'\n", rows[i].name, r.status, r.out, r.err);
        run_free(&r);
    }
}

const char *scratch_path_in(const char *folder, const char *name)
{
    static char paths[4][512];
    static int next;
    char *path = paths[next++ % 4];
    snprintf(path, sizeof paths[0], "%s/%s", folder, name);
    return path;
}

const char *scratch_file_in(const char *folder, const char *name, const void *text, size_t size)
{
    const char *path = scratch_path_in(folder, name);
    FILE *stream = fopen(path, "wb");
    if (stream == NULL || fwrite(text, 1, size, stream) != size)
        CU_FAIL("a scratch file could not be written");
    if (stream != NULL)
        fclose(stream);
    return path;
}

char *text_of(const char *path)
{
    char *text = calloc(1, 1 << 20);
    FILE *from = fopen(path, "rb");
    if (text != NULL && from != NULL)
        text[fread(text, 1, (1 << 20) - 1, from)] = '\0';
    if (from != NULL)
        fclose(from);
    return text;
}

int rounds_of(int usual, int when_long)
{
    return getenv("TL_LONG") != NULL ? when_long : usual / THINNED;
}
