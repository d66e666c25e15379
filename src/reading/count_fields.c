/* SPDX-License-Identifier: MIT */
/* Takes the words of a line of counts apart. */
#include "reading/count_fields.h"
#include <csv.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>

double count_unit_of_time(const char *name)
{
    return strcmp(name, "s") == 0 ? 1 : strcmp(name, "ms") == 0 ? 1e-3 : strcmp(name, "us") == 0 ? 1e-6 : 0;
}

bool count_number(const char *text, double *number)
{
    static const struct {
        const char *word;
        double number;
    } words[] = {{"low", 0}, {"high", 1}, {"false", 0}, {"true", 1}};
    char *end;
    for (size_t i = 0; i < sizeof words / sizeof words[0]; i++) {
        *number = words[i].number;
        if (strcmp(text, words[i].word) == 0)
            return true;
    }
    *number = strtod(text, &end);
    return end != text && *end == '\0' && isfinite(*number);
}

static void take_field(void *text, size_t length, void *context)
{
    count_fields *f = context;
    if (f->count > COUNT_COLUMNS_MOST || f->used + length + 1 > sizeof f->text)
        return;
    memcpy(f->text + f->used, text, length);
    f->text[f->used + length] = '\0';
    f->of[f->count++] = f->text + f->used;
    f->used += length + 1;
}

bool count_fields_split(const char *text, count_fields *f)
{
    struct csv_parser parser;
    const size_t length = strlen(text);
    f->used = 0;
    f->count = 0;
    if (csv_init(&parser, CSV_STRICT | CSV_STRICT_FINI) != 0)
        return false;
    const bool good = csv_parse(&parser, text, length, take_field, NULL, f) == length &&
                      csv_fini(&parser, take_field, NULL, f) == 0;
    csv_free(&parser);
    return good;
}
