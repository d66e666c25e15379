/* SPDX-License-Identifier: MIT */
/* What check found, below the drawing that it is about: whole sentences, as many lines as they need. */
#include "sheet/sheet.h"
#include <string.h>

static const double line_height = 3.2;

bool finding_is_of(const sheet *s, const tl_finding *f, int subject)
{
    const bool of_drawing = f->subject >= 0 && f->subject < s->plan->signal_count;
    return f->severity != TL_NOTE && (of_drawing ? f->subject : TL_NONE) == subject;
}

/* As many words as there is room for; where the next line begins. */
static const char *line_of(const sheet *s, const char *text, double width, char line[400])
{
    size_t fits = 0;
    for (size_t end = 1;; end++) {
        if (text[end] != ' ' && text[end] != '\0')
            continue;
        snprintf(line, 400, "%.*s", (int)(end < 390 ? end : 390), text);
        if (fits > 0 && (text_width(s->c, TYPE_SMALL, line) > width || end >= 390))
            break;
        fits = end;
        if (text[end] == '\0')
            break;
    }
    snprintf(line, 400, "%.*s", (int)fits, text);
    return text + fits + strspn(text + fits, " ");
}

static double lines_of(sheet *s, int subject, area at, bool draw)
{
    double y = at.y0;
    for (int i = 0; s->o->findings != NULL && i < tl_report_count(s->o->findings); i++) {
        const tl_finding *f = tl_report_finding(s->o->findings, i);
        char text[700], line[400];
        if (!finding_is_of(s, f, subject))
            continue;
        snprintf(text, sizeof text, "%s: %.680s", f->severity == TL_ERROR ? "Error" : "Warning", f->cause);
        for (const char *rest = text; *rest != '\0'; y += line_height) {
            rest = line_of(s, rest, at.x1 - at.x0, line);
            if (draw)
                (void)text_at(s->c, (place){at.x0, y + line_height}, TYPE_SMALL, ALIGN_LEFT, line);
        }
    }
    return y - at.y0;
}

double sheet_notes_height(sheet *s, int subject, double width)
{
    return lines_of(s, subject, (area){0, 0, width, 0}, false);
}

void sheet_draw_notes(sheet *s, int subject, place at, double width)
{
    (void)lines_of(s, subject, (area){at.x, at.y, at.x + width, at.y}, true);
}
