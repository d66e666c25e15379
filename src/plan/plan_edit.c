/* Changing a plan's text: only the bytes concerned, so that comments and layout stay. */
#define _GNU_SOURCE
#include "tinyladder/plan_edit.h"
#include "../net/memory.h"
#include <errno.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>
#include <unistd.h>

typedef struct {
    const char *text;
    size_t size;
} content;

/* Columns count characters. */
static size_t offset_of(const content *c, tl_place place)
{
    size_t at = 0;
    for (int line = 1; line < place.line && at < c->size; at++)
        line += c->text[at] == '\n';
    for (int column = 1; column < place.column && at < c->size;) {
        at++;
        while (at < c->size && ((unsigned char)c->text[at] & 0xc0) == 0x80)
            at++;
        column++;
    }
    return at;
}

/* Behind the bracket that closes the one at `at`; quotes and comments are passed over. Size where none does.
 */
static size_t behind_bracket(const content *c, size_t at)
{
    int depth = 0;
    for (; at < c->size; at++) {
        const char now = c->text[at];
        if (now == '\'' || now == '"') {
            const char *end = memchr(c->text + at + 1, now, c->size - at - 1);
            at = end != NULL ? (size_t)(end - c->text) : c->size;
        } else if (now == '#' && at > 0 && (c->text[at - 1] == ' ' || c->text[at - 1] == '\n')) {
            const char *end = memchr(c->text + at, '\n', c->size - at);
            at = end != NULL ? (size_t)(end - c->text) : c->size;
        } else if (now == '{' || now == '[') {
            depth++;
        } else if ((now == '}' || now == ']') && --depth == 0) {
            return at + 1;
        }
    }
    return c->size;
}

/* `trim:` as a key of the flow map that begins at `from`: where its value stands. */
static bool find_in_flow(const content *c, size_t from, size_t to, size_t *begin, size_t *end)
{
    for (size_t at = from + 1; at + 5 < to; at++) {
        if (c->text[at] == '{' || c->text[at] == '[') {
            at = behind_bracket(c, at) - 1;
            continue;
        }
        if (strncmp(c->text + at, "trim:", 5) != 0 || strchr("{ ,\n", c->text[at - 1]) == NULL)
            continue;
        *begin = at + 5 + strspn(c->text + at + 5, " \n");
        *end = behind_bracket(c, *begin);
        return c->text[*begin] == '{' && *end <= to;
    }
    return false;
}

/* The same among the lines of a block that are indented like its first key. */
static bool find_in_block(const content *c, size_t from, size_t indent, size_t *begin, size_t *end)
{
    size_t at = from;
    while (at < c->size) {
        if (strncmp(c->text + at, "trim:", 5) == 0) {
            *begin = at + 5 + strspn(c->text + at + 5, " ");
            *end = behind_bracket(c, *begin);
            return c->text[*begin] == '{' && *end <= c->size;
        }
        const char *next = memchr(c->text + at, '\n', c->size - at);
        if (next == NULL)
            return false;
        at = (size_t)(next + 1 - c->text);
        const size_t spaces = strspn(c->text + at, " ");
        if (spaces < indent && c->text[at + spaces] != '\n' && c->text[at + spaces] != '#')
            return false;
        at += spaces;
    }
    return false;
}

static char *replaced(const content *c, size_t begin, size_t end, const char *before, const char *text,
                      const char *after)
{
    const size_t room = c->size + strlen(before) + strlen(text) + strlen(after) + 1;
    char *whole = tl_alloc(room, 1);
    snprintf(whole, room, "%.*s%s%s%s%s", (int)begin, c->text, before, text, after, c->text + end);
    return whole;
}

char *tl_plan_text_with_trim(const char *text, tl_place reading, const char *trim)
{
    const content c = {text, strlen(text)};
    const size_t at = offset_of(&c, reading);
    size_t begin = 0, end = 0;
    if (at >= c.size)
        return NULL;
    if (c.text[at] == '{') {
        const size_t behind = behind_bracket(&c, at);
        if (find_in_flow(&c, at, behind, &begin, &end))
            return replaced(&c, begin, end, "", trim, "");
        size_t last = behind - 1;
        while (last > at + 1 && c.text[last - 1] == ' ')
            last--;
        return replaced(&c, last, last, last > at + 1 ? ", trim: " : "trim: ", trim, "");
    }
    size_t line = at;
    while (line > 0 && c.text[line - 1] != '\n')
        line--;
    const size_t indent = at - line;
    if (strspn(c.text + line, " ") != indent)
        return NULL; /* a value, not a block of keys */
    if (find_in_block(&c, at, indent, &begin, &end))
        return replaced(&c, begin, end, "", trim, "");
    char after[TL_EDIT_INDENT_MOST + 2];
    if (indent > TL_EDIT_INDENT_MOST)
        return NULL;
    snprintf(after, sizeof after, "\n%*s", (int)indent, "");
    return replaced(&c, at, at, "trim: ", trim, after);
}

/* Written aside, then renamed: whoever looks finds the old file or the new one. */
bool tl_replace_file(const char *path, const char *text)
{
    char aside[600];
    struct stat was;
    const size_t size = strlen(text);
    snprintf(aside, sizeof aside, "%.500s.%ld", path, (long)getpid());
    FILE *to = fopen(aside, "wb");
    if (to == NULL)
        return false;
    bool good = fwrite(text, 1, size, to) == size && fflush(to) == 0 && fsync(fileno(to)) == 0;
    good = fclose(to) == 0 && good;
    if (good && stat(path, &was) == 0)
        good = chmod(aside, was.st_mode & 07777) == 0;
    good = good && rename(aside, path) == 0;
    if (!good) {
        const int why = errno;
        unlink(aside);
        errno = why;
    }
    return good;
}
