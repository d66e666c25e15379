/* SPDX-License-Identifier: MIT */
/* Files as a verb changes them. What differs is found by diff, of the package diffutils, which every Debian
 * has. */
#define _GNU_SOURCE
#include "printing/changes.h"
#include "base/plain_text.h"
#include "base/replace_file.h"
#include "printing/printing.h"
#include <errno.h>
#include <fcntl.h>
#include <spawn.h>
#include <stdlib.h>
#include <string.h>
#include <sys/mman.h>
#include <sys/wait.h>
#include <unistd.h>

extern char **environ;

static char *copy_of(const char *text, size_t size)
{
    return memcpy(must(malloc(size + 1)), text, size);
}

void changes_put(changes *c, const tl_report *report, int file, const char *text, size_t size)
{
    const char *path = tl_report_file_path(report, file);
    changed_file *f = NULL;
    for (int i = 0; i < c->count; i++) {
        if (strcmp(c->files[i].path, path) == 0)
            f = &c->files[i];
    }
    if (f == NULL) {
        size_t was;
        const char *before = tl_report_file_text(report, file, &was);
        c->files = must(realloc(c->files, (size_t)(c->count + 1) * sizeof *c->files));
        f = &c->files[c->count++];
        *f = (changed_file){must(strdup(path)), copy_of(before, was), NULL, was, 0};
    }
    free(f->after);
    f->after = copy_of(text, size);
    f->after_size = size;
}

void changes_hold(const changes *c, tl_report *report)
{
    for (int i = 0; i < c->count; i++)
        tl_report_instead(report, c->files[i].path, c->files[i].after, c->files[i].after_size);
}

/* A file in memory that a child can open by its number; -1 where there is none. */
static int hold_in_memory(const char *text, size_t size)
{
    const int file = memfd_create("text", 0);
    if (file >= 0 && !write_whole(file, text, size)) {
        close(file);
        return -1;
    }
    return file;
}

static void show_line(const char *line, FILE *to)
{
    char plain[1000];
    const ink colour = line[0] == '+'   ? INK_NOTE
                       : line[0] == '-' ? INK_ERROR
                       : line[0] == '@' ? INK_FAINT
                                        : INK_PLAIN;
    plain_text_copy(plain, sizeof plain, line);
    fprintf(to, "%s%s%s\n", ink_on(to, colour), plain, ink_off(to));
}

/* diff's exit status is 1 where the files differ. */
static bool run_diff(char *const words[], FILE *to)
{
    posix_spawn_file_actions_t files;
    int ends[2];
    pid_t child;
    if (pipe2(ends, O_CLOEXEC) != 0)
        return false;
    int why = posix_spawn_file_actions_init(&files);
    if (why == 0) {
        why = posix_spawn_file_actions_adddup2(&files, ends[1], STDOUT_FILENO);
        why = why != 0 ? why : posix_spawnp(&child, words[0], &files, NULL, words, environ);
        posix_spawn_file_actions_destroy(&files);
    }
    close(ends[1]);
    const bool started = why == 0;
    FILE *from = started ? fdopen(ends[0], "r") : NULL;
    why = started && from == NULL ? errno : why;
    char *line = NULL;
    size_t room = 0;
    if (from == NULL)
        close(ends[0]);
    while (from != NULL && getline(&line, &room, from) > 0) {
        line[strcspn(line, "\n")] = '\0';
        show_line(line, to);
    }
    free(line);
    why = from != NULL && ferror(from) != 0 ? EIO : why;
    if (from != NULL && fclose(from) != 0)
        why = errno;
    int status = 0;
    const bool ended =
        started && waitpid(child, &status, 0) == child && WIFEXITED(status) && WEXITSTATUS(status) < 2;
    errno = why != 0 ? why : errno;
    return why == 0 && ended;
}

static bool show_file(const changed_file *f, FILE *to)
{
    char name[2][32];
    const int before = hold_in_memory(f->before, f->before_size),
              after = hold_in_memory(f->after, f->after_size);
    bool good = before >= 0 && after >= 0;
    if (good) {
        snprintf(name[0], sizeof name[0], "/dev/fd/%d", before);
        snprintf(name[1], sizeof name[1], "/dev/fd/%d", after);
        char *const words[] = {"diff",  "-u", "--label", f->path, "--label",
                               f->path, "--", name[0],   name[1], NULL};
        good = run_diff(words, to);
    }
    if (before >= 0)
        close(before);
    if (after >= 0)
        close(after);
    return good;
}

/* Every changed line, with three lines around it, as `diff -u` has it. */
static bool show_all(const changes *c, FILE *to)
{
    for (int i = 0; i < c->count; i++) {
        if (!show_file(&c->files[i], to)) {
            fprintf(stderr, "tinyladder: no diff of %s: the program 'diff' of the package diffutils: %s\n",
                    c->files[i].path, errno != 0 ? strerror(errno) : "it failed");
            return false;
        }
    }
    return true;
}

static bool write_all(const changes *c)
{
    for (int i = 0; i < c->count; i++) {
        const changed_file *f = &c->files[i];
        if (!replace_file_of(f->path, &(file_before){f->before, f->before_size}, f->after, f->after_size)) {
            fprintf(stderr, "%s: error: %s; the file is unchanged\n", f->path,
                    errno == ESTALE        ? "another program has changed it meanwhile"
                    : errno == EWOULDBLOCK ? "another program is writing it"
                                           : strerror(errno));
            return false;
        }
    }
    return true;
}

int changes_make(const changes *c, bool dry, const char *head, FILE *to)
{
    if (!dry && !write_all(c))
        return EXIT_HARDWARE;
    if (!dry && c->count > 0)
        fprintf(to, "%s\n", head);
    return show_all(c, to) ? EXIT_DONE : EXIT_HARDWARE;
}

void changes_end(changes *c)
{
    for (int i = 0; i < c->count; i++) {
        free(c->files[i].path);
        free(c->files[i].before);
        free(c->files[i].after);
    }
    free(c->files);
    *c = (changes){0};
}
