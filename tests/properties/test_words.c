/* SPDX-License-Identifier: MIT */
#define _GNU_SOURCE /* nftw */
/*
 * Phrases that take a second reading must not come back: into what the program says (every text between
 * quotes in src/, joined as the compiler joins it), into comments, and into the documentation.
 */
#include "support.h"
#include <ctype.h>
#include <ftw.h>
#include <stdlib.h>
#include <string.h>

static const char *const phrases[] = {
    "is wanted", "are wanted", "so far apart", "so many",      "nobody",       "somebody", "likewise",
    "hangs on",  "hang on",    "hangs at",     "held against", "come of it",   "for good", "lets go",
    "surely",    "given up",   "can all of",   "thrown away",  "is told",      "are told", "worlds",
    "far end",   "far input",  "stands on",    "truth lies",   "that is there"};
/* Harmless in a comment, misleading in a message. */
static const char *const in_messages[] = {"with a board", "besides", "what is left", "it is as it was"};
/* Of the list, what is plain English in running text. */
static const char *const fine_in_text[] = {"that is there"};

enum { TEXT_MOST = 60000 };
static char text[TEXT_MOST];
static int texts, comments, files, pages;

/* Case of the first letter apart; a space stands for any blanks, and for a comment's stars between lines. */
static bool begins_with(const char *at, const char *phrase)
{
    if (tolower((unsigned char)*at) != *phrase)
        return false;
    for (; *phrase != '\0'; phrase++) {
        if (*phrase == ' ') {
            if (!isspace((unsigned char)*at))
                return false;
            at += strspn(at, " \n*");
        } else if (tolower((unsigned char)*at++) != *phrase) {
            return false;
        }
    }
    return !isalnum((unsigned char)*at) && *at != '_' && *at != '-';
}

static bool has_phrase(const char *in, const char *phrase)
{
    for (const char *at = in; *at != '\0'; at++) {
        if ((at == in || (!isalnum((unsigned char)at[-1]) && at[-1] != '_' && at[-1] != '-')) &&
            begins_with(at, phrase))
            return true;
    }
    return false;
}

static bool is_among(const char *const *list, size_t count, const char *phrase)
{
    for (size_t i = 0; i < count; i++) {
        if (strcmp(list[i], phrase) == 0)
            return true;
    }
    return false;
}

/* where: of a message, a comment or a page. */
static void check_text(const char *path, const char *where, const char *said)
{
    const bool message = strcmp(where, "message") == 0;
    for (size_t i = 0; i < ROWS(phrases) + (message ? ROWS(in_messages) : 0); i++) {
        const char *phrase = i < ROWS(phrases) ? phrases[i] : in_messages[i - ROWS(phrases)];
        if (!message && is_among(fine_in_text, ROWS(fine_in_text), phrase))
            continue;
        const bool plain = !has_phrase(said, phrase);
        CHECK_ROW(path, plain);
        if (!plain)
            printf("\n  %s: '%s' in a %s: %.300s\n", path, phrase, where, said);
    }
}

/* Behind a comment, which is checked; where there is none, where it was. */
static const char *behind_comment(const char *path, const char *at)
{
    if (strncmp(at, "/*", 2) != 0)
        return at;
    const char *end = strstr(at + 2, "*/");
    if (end == NULL)
        return at + strlen(at);
    char *comment = strndup(at, (size_t)(end - at));
    check_text(path, "comment", comment);
    free(comment);
    comments++;
    return end + 2;
}

/* Appends what stands between quotes; answers where the closing one is passed. */
static const char *take_literal(const char *at, size_t *used)
{
    for (at++; *at != '"' && *at != '\0'; at++) {
        if (*at == '\\' && at[1] != '\0' && *used + 2 < TEXT_MOST)
            text[(*used)++] = *at++;
        if (*used + 1 < TEXT_MOST)
            text[(*used)++] = *at;
    }
    text[*used] = '\0';
    return *at == '"' ? at + 1 : at;
}

static void check_source(const char *path, const char *source)
{
    size_t used = 0;
    for (const char *at = source; *at != '\0';) {
        const char *next = behind_comment(path, at);
        if (next != at) {
            at = next;
        } else if (*at == '\'') { /* a character */
            at += at[1] == '\\' ? 3 : 2;
            at += *at == '\'';
        } else if (*at == '"') {
            at = take_literal(at, &used);
        } else {
            if (used > 0 && !isspace((unsigned char)*at) && *at != '\\') { /* nothing more joins it */
                texts++;
                check_text(path, "message", text);
                used = 0;
            }
            at++;
        }
    }
}

static bool ends_with(const char *path, const char *end)
{
    const size_t length = strlen(path), tail = strlen(end);
    return length > tail && strcmp(path + length - tail, end) == 0;
}

static int look_at(const char *path, const struct stat *status, int type, struct FTW *where)
{
    (void)status;
    (void)where;
    const bool source = ends_with(path, ".c") || ends_with(path, ".h") || ends_with(path, ".inc"),
               page = ends_with(path, ".md") || ends_with(path, ".yaml") || ends_with(path, ".1");
    if (type != FTW_F || (!source && !page))
        return 0;
    char *content = text_of(path);
    const char *name = path + strlen(TL_SOURCE) + 1;
    if (source)
        check_source(name, content);
    else
        check_text(name, "page", content);
    free(content);
    files += source;
    pages += page;
    return 0;
}

static void texts_are_plain(void)
{
    static const char *const folders[] = {"src",  "include", "examples",  "ports",       "conformance",
                                          "docs", "demo",    "README.md", "CHANGELOG.md"};
    for (size_t i = 0; i < ROWS(folders); i++) {
        char path[400];
        snprintf(path, sizeof path, TL_SOURCE "/%s", folders[i]);
        CHECK_ROW(folders[i], nftw(path, look_at, 8, FTW_PHYS) == 0);
    }
    CU_ASSERT(files > 350 && texts > 5000 && comments > 3000 && pages > 150);
    if (files <= 350 || texts <= 5000 || comments <= 3000 || pages <= 150)
        printf("\n%d files, %d texts, %d comments, %d pages\n", files, texts, comments, pages);
}

CU_TestInfo words_tests[] = {
    {"texts are plain", texts_are_plain},
    CU_TEST_INFO_NULL,
};
