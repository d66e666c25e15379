#define _GNU_SOURCE /* nftw */
/*
 * Phrases that take a second reading must not come back into what the program says: every text between quotes
 * in src/, joined as the compiler joins it.
 */
#include "support.h"
#include <ctype.h>
#include <ftw.h>
#include <stdlib.h>
#include <string.h>

static const char *const phrases[] = {
    "is wanted",  "are wanted",   "so far apart", "with a board", "nobody",    "somebody",
    "likewise",   "hangs on",     "held against", "come of it",   "for good",  "lets go",
    "surely",     "thrown away",  "given up",     "can all of",   "worlds",    "far end",
    "far input",  "is told",      "besides",      "what is left", "stands on", "it is as it was",
    "truth lies", "that is there"};

enum { TEXT_MOST = 60000 };
static char text[TEXT_MOST];
static int texts, files;

static bool has_phrase(const char *in, const char *phrase)
{
    const size_t length = strlen(phrase);
    for (const char *at = in; (at = strstr(at, phrase)) != NULL; at++) {
        if ((at == in || !isalnum((unsigned char)at[-1])) && !isalnum((unsigned char)at[length]))
            return true;
    }
    return false;
}

static void check_text(const char *path)
{
    texts++;
    for (size_t i = 0; i < ROWS(phrases); i++) {
        const bool plain = !has_phrase(text, phrases[i]);
        CHECK_ROW(path, plain);
        if (!plain)
            printf("\n  %s: '%s' in \"%s\"\n", path, phrases[i], text);
    }
}

/* Behind a comment; where there is none, where it was. */
static const char *behind_comment(const char *at)
{
    if (strncmp(at, "/*", 2) != 0)
        return at;
    const char *end = strstr(at + 2, "*/");
    return end != NULL ? end + 2 : at + strlen(at);
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
        const char *next = behind_comment(at);
        if (next != at) {
            at = next;
        } else if (*at == '\'') { /* a character */
            at += at[1] == '\\' ? 3 : 2;
            at += *at == '\'';
        } else if (*at == '"') {
            at = take_literal(at, &used);
        } else {
            if (used > 0 && !isspace((unsigned char)*at) && *at != '\\') { /* nothing more joins it */
                check_text(path);
                used = 0;
            }
            at++;
        }
    }
}

static int look_at(const char *path, const struct stat *status, int type, struct FTW *where)
{
    (void)status;
    (void)where;
    const char *end = strrchr(path, '.');
    if (type == FTW_F && end != NULL &&
        (strcmp(end, ".c") == 0 || strcmp(end, ".h") == 0 || strcmp(end, ".inc") == 0)) {
        char *source = text_of(path);
        check_source(path + strlen(TL_SOURCE) + 1, source);
        free(source);
        files++;
    }
    return 0;
}

static void texts_are_plain(void)
{
    CU_ASSERT(nftw(TL_SOURCE "/src", look_at, 8, FTW_PHYS) == 0);
    CU_ASSERT(files > 250 && texts > 5000);
}

CU_TestInfo words_tests[] = {
    {"texts are plain", texts_are_plain},
    CU_TEST_INFO_NULL,
};
