/* SPDX-License-Identifier: MIT */
/* Text of a header: names in C, comments, strings. */
#include "firmware/maker.h"
#include <ctype.h>
#include <string.h>

static const char *changed(const char *name, char text[MAKER_NAME], int (*change)(int))
{
    /* A digit cannot begin a name in C. */
    size_t length = isdigit((unsigned char)name[0]) ? 1 : 0;
    text[0] = (char)change('n');
    for (; *name != '\0' && length + 1 < MAKER_NAME; name++)
        text[length++] = isalnum((unsigned char)*name) ? (char)change((unsigned char)*name) : '_';
    text[length] = '\0';
    return text;
}

static int same(int c)
{
    return c;
}

const char *c_name(const char *name, char text[MAKER_NAME])
{
    return changed(name, text, same);
}

const char *c_capitals(const char *name, char text[MAKER_NAME])
{
    return changed(name, text, toupper);
}

void put_pin(const maker *m, int pin)
{
    char name[MAKER_NAME];
    const tl_pin *of = &m->plan->pins[pin];
    fprintf(m->out, "TL_PIN(%d, %s)", pin, c_name(of->port != NULL ? of->port : of->name, name));
}

void put_unsigned(const maker *m, double value)
{
    fprintf(m->out, "%.0fu", value);
}

void put_comment(const maker *m, const char *text)
{
    for (char before = '\0'; *text != '\0'; before = *text++) {
        const bool edge = (before == '*' && *text == '/') || (before == '/' && *text == '*');
        fputc(edge || (unsigned char)*text < ' ' ? ' ' : *text, m->out);
    }
}

void put_too_wide(const maker *m, const char *name, const char *why)
{
    fprintf(m->out, "#ifdef TL_SMALL\n#error \"");
    put_comment(m, name);
    fprintf(m->out, ": %s: use the ordinary build, without TL_SMALL\"\n#endif\n", why);
}

/* Question marks too: two and another sign are one sign in old C. */
void put_string(const maker *m, const char *text)
{
    fputc('"', m->out);
    for (; *text != '\0'; text++) {
        if (strchr("\"\\?", *text) != NULL)
            fputc('\\', m->out);
        fputc((unsigned char)*text < ' ' ? ' ' : *text, m->out);
    }
    fputc('"', m->out);
}
