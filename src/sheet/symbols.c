/* SPDX-License-Identifier: MIT */
/* Symbols of IEC 60617, and marks. */
#include "sheet/symbols.h"
#include <math.h>
#include <string.h>

/* Both leads of an upright symbol, as far as its middle. */
static void leads(canvas *c, place top, double upper, double lower)
{
    const int net = c->net;
    c->net = c->net_above;
    wire_draw(c, top, (place){top.x, upper});
    c->net = c->net_below;
    wire_draw(c, (place){top.x, lower}, (place){top.x, top.y + BODY});
    c->net = net;
}

/* --- parts --- */

void resistor_lying(canvas *c, place left, const char *name)
{
    const area at = {left.x, left.y - THICK / 2, left.x + BODY, left.y + THICK / 2};
    frame_draw(c, at, body_width, 0);
    box_keep(c, BOX_SYMBOL, name, at);
}

static void resistor_upright(canvas *c, place top, const char *name)
{
    const area at = {top.x - THICK / 2, top.y, top.x + THICK / 2, top.y + BODY};
    frame_draw(c, at, body_width, 0);
    box_keep(c, BOX_SYMBOL, name, at);
}

/* A stroke across a resistor: it varies; with what makes it so beside it. */
static void stroke(canvas *c, place top, const char *by)
{
    const double k = THICK / 2 + 0.9;
    line_draw(c, (place){top.x - k - 1.3, top.y + BODY - 1}, (place){top.x - k, top.y + BODY - 1}, wire_width,
              INK_BLACK);
    line_draw(c, (place){top.x - k, top.y + BODY - 1}, (place){top.x + k - 0.2, top.y + 1}, wire_width,
              INK_BLACK);
    box_keep(c, BOX_SYMBOL, "stroke",
             (area){top.x - k - 1.3, top.y + BODY - 1.8, top.x - THICK / 2 - 0.1, top.y + BODY - 0.8});
    (void)text_at(c, (place){top.x - THICK / 2 - 0.7, top.y + 3}, TYPE_SMALL, ALIGN_RIGHT, by);
}

static void capacitor(canvas *c, place top, const char *name)
{
    const double middle = top.y + BODY / 2, gap = 0.5;
    leads(c, top, middle - gap, middle + gap);
    for (int side = -1; side <= 1; side += 2)
        line_draw(c, (place){top.x - 1.9, middle + side * gap}, (place){top.x + 1.9, middle + side * gap},
                  0.55, INK_BLACK);
    box_keep(c, BOX_SYMBOL, name, (area){top.x - 1.9, middle - 0.7, top.x + 1.9, middle + 0.7});
}

static void contact(canvas *c, place top, const char *name)
{
    leads(c, top, top.y + 1.7, top.y + BODY - 1.7);
    line_draw(c, (place){top.x, top.y + BODY - 1.7}, (place){top.x - 2, top.y + 1.7}, body_width, INK_BLACK);
    box_keep(c, BOX_SYMBOL, name, (area){top.x - 2.1, top.y + 1.7, top.x + 0.2, top.y + BODY - 1.7});
}

void arrow_draw(canvas *c, place from, place to)
{
    const double way = atan2(to.y - from.y, to.x - from.x);
    place corners[3] = {to, to, to};
    for (int side = 0; side < 2; side++) {
        const double edge = way + (side == 0 ? -2.7 : 2.7);
        corners[1 + side] = (place){to.x + 1.3 * cos(edge), to.y + 1.3 * sin(edge)};
    }
    outline_draw(c, corners, 3, INK_BLACK, 0.01);
}

/* up: its cathode is up; light: arrows leave it. */
static void diode(canvas *c, place top, const char *name, bool up, bool light)
{
    const double half = 1.2, middle = top.y + BODY / 2, base = middle + (up ? half : -half),
                 tip = middle - (up ? half : -half);
    leads(c, top, middle - half, middle + half);
    outline_draw(c, (const place[]){{top.x - 1.4, base}, {top.x + 1.4, base}, {top.x, tip}}, 3, INK_NONE,
                 body_width);
    line_draw(c, (place){top.x - 1.4, tip}, (place){top.x + 1.4, tip}, body_width, INK_BLACK);
    for (int k = 0; k < 2 && light; k++) {
        const place a = {top.x + 1.7, middle - 0.6 + 1.1 * k}, b = {top.x + 3.2, middle - 2 + 1.1 * k};
        line_draw(c, a, b, 0.2, INK_BLACK);
        arrow_draw(c, a, b);
    }
    box_keep(c, BOX_SYMBOL, name, (area){top.x - 1.5, middle - half, top.x + 1.5, middle + half});
    if (light)
        box_keep(c, BOX_SYMBOL, "light", (area){top.x + 1.6, middle - 2.6, top.x + 3.6, middle + 0.6});
}

void symbol_upright(canvas *c, symbol which, place top, const char *name)
{
    switch (which) {
    case SYMBOL_WIRE:
        wire_draw(c, top, (place){top.x, top.y + BODY});
        break;
    case SYMBOL_RESISTOR:
        resistor_upright(c, top, name);
        break;
    case SYMBOL_THERMISTOR:
        resistor_upright(c, top, name);
        stroke(c, top, "ϑ");
        break;
    case SYMBOL_VARIABLE:
        resistor_upright(c, top, name);
        stroke(c, top, "");
        break;
    case SYMBOL_CAPACITOR:
        capacitor(c, top, name);
        break;
    case SYMBOL_CONTACT:
        contact(c, top, name);
        break;
    case SYMBOL_LAMP:
        diode(c, top, name, false, true);
        break;
    case SYMBOL_DIODE:
        diode(c, top, name, true, false);
        break;
    }
}

/* --- rails --- */

void ground_draw(canvas *c, place at)
{
    static const double half[] = {1.7, 1.05, 0.4};
    for (int i = 0; i < 3; i++)
        line_draw(c, (place){at.x - half[i], at.y + 0.65 * i}, (place){at.x + half[i], at.y + 0.65 * i},
                  body_width, INK_BLACK);
    box_keep(c, BOX_SYMBOL, "ground", (area){at.x - 1.7, at.y - 0.1, at.x + 1.7, at.y + 1.5});
}

double rail_width(const canvas *c, const char *name, const char *extra)
{
    return text_width(c, TYPE_VALUE, name) - 1.7 +
           (extra[0] != '\0' ? text_width(c, TYPE_SMALL, extra) + 1.1 : 0);
}

void rail_draw(canvas *c, place at, const char *name, const char *extra)
{
    line_draw(c, (place){at.x - 1.7, at.y}, (place){at.x + 1.7, at.y}, bar_width, INK_BLACK);
    box_keep(c, BOX_SYMBOL, "rail", (area){at.x - 1.7, at.y - 0.3, at.x + 1.7, at.y + 0.3});
    const double width = text_at(c, (place){at.x - 1.7, at.y - 1.3}, TYPE_VALUE, ALIGN_LEFT, name);
    (void)text_at(c, (place){at.x - 1.7 + width + 1.1, at.y - 1.3}, TYPE_SMALL, ALIGN_LEFT, extra);
}

void cable_draw(canvas *c, place at)
{
    oval_draw(c, (area){at.x - 0.8, at.y - 2, at.x + 0.8, at.y + 2}, wire_width);
}

/* --- marks --- */

double tag_length(const canvas *c, const char *pin, const char *position)
{
    const double name = fmin(fmax(TAG_WIDTH, text_width(c, TYPE_VALUE, pin) + 4.5), TAG_MOST);
    return name + (position[0] != '\0' ? TAG_POSITION : 0);
}

void tag_draw(canvas *c, place at, const char *pin, const char *position, bool out)
{
    const double half = 2.1, tip = 1.8, way = out ? -1 : 1, length = tag_length(c, pin, position),
                 width = length - (position[0] != '\0' ? TAG_POSITION : 0);
    const bool own = position[0] != '\0';
    outline_draw(c,
                 (const place[]){at,
                                 {at.x + way * tip, at.y - half},
                                 {at.x + way * width, at.y - half},
                                 {at.x + way * width, at.y + half},
                                 {at.x + way * tip, at.y + half}},
                 5, own ? INK_BLACK : INK_WHITE, wire_width);
    text_inside(c, (place){at.x + way * (tip + (width - tip) / 2 - 0.3), at.y + 1.05}, TYPE_VALUE,
                own ? INK_WHITE : INK_BLACK, width - tip - 1, pin);
    if (own) {
        const double edge = at.x + way * width, end = at.x + way * length;
        frame_draw(c, (area){fmin(edge, end), at.y - half, fmax(edge, end), at.y + half}, wire_width, 0);
        text_inside(c, (place){(edge + end) / 2, at.y + 1}, TYPE_TEXT, INK_BLACK, 5.4, position);
    }
    box_keep(c, BOX_SYMBOL, pin,
             (area){fmin(at.x + way * 0.4, at.x + way * length), at.y - half,
                    fmax(at.x + way * 0.4, at.x + way * length), at.y + half});
}

void check_disc(canvas *c, place middle, int number)
{
    char text[16];
    snprintf(text, sizeof text, "%d", number);
    const double half = fmax(1.75, text_width(c, TYPE_SMALL, text) / 2 + 0.3);
    mark_draw(c, MARK_CHECK, number);
    if (half > 1.75) { /* three digits: a pill */
        disc_fill(c, (place){middle.x - half + 1.75, middle.y}, 1.75, INK_METER);
        disc_fill(c, (place){middle.x + half - 1.75, middle.y}, 1.75, INK_METER);
        area_fill(c, (area){middle.x - half + 1.75, middle.y - 1.75, middle.x + half - 1.75, middle.y + 1.75},
                  INK_METER);
    } else {
        disc_fill(c, middle, 1.75, INK_METER);
    }
    text_inside(c, (place){middle.x, middle.y + 0.87}, TYPE_SMALL, INK_WHITE, 2 * half, text);
    mark_draw(c, MARK_CHECK, 0);
    box_keep(c, BOX_SYMBOL, text, (area){middle.x - half, middle.y - 1.75, middle.x + half, middle.y + 1.75});
}

void check_draw(canvas *c, place at, int number)
{
    if (c->plain)
        return;
    line_draw(c, at, (place){at.x, at.y - 1.9}, 0.3, INK_METER);
    check_disc(c, (place){at.x, at.y - 3.5}, number);
}

void row_draw(canvas *c, place middle, int number)
{
    char text[16];
    if (number <= 0 || c->plain)
        return;
    snprintf(text, sizeof text, "%d", number);
    const double half = fmax(3, text_width(c, TYPE_ROW, text) + 1.2) / 2;
    const area at = {middle.x - half, middle.y - 1.35, middle.x + half, middle.y + 1.35};
    mark_draw(c, MARK_ROW, number);
    frame_draw(c, at, hair_width, 0.4);
    text_inside(c, (place){middle.x, middle.y + 0.8}, TYPE_ROW, INK_BLACK, 2 * half, text);
    mark_draw(c, MARK_ROW, 0);
    box_keep(c, BOX_SYMBOL, text, at);
}

/* --- colour bands --- */

static const struct {
    const char *word;
    pen_ink ink;
} colours[] = {{"black", BAND_BLACK},   {"brown", BAND_BROWN}, {"red", BAND_RED},   {"orange", BAND_ORANGE},
               {"yellow", BAND_YELLOW}, {"green", BAND_GREEN}, {"blue", BAND_BLUE}, {"violet", BAND_VIOLET},
               {"grey", BAND_GREY},     {"white", BAND_WHITE}, {"gold", BAND_GOLD}, {"silver", BAND_SILVER}};

static void band(canvas *c, area at, const char *word, size_t length)
{
    for (size_t i = 0; i < sizeof colours / sizeof colours[0]; i++) {
        if (strlen(colours[i].word) == length && strncmp(colours[i].word, word, length) == 0)
            band_draw(c, at, colours[i].ink);
    }
}

void bands_draw(canvas *c, place at, const char *words)
{
    const double width = 19, half = 1.65;
    int count = 1, n = 0;
    for (const char *p = words; *p != '\0' && *p != ';'; p++)
        count += *p == ' ';
    line_draw(c, (place){at.x - 2, at.y}, (place){at.x, at.y}, wire_width, INK_BLACK);
    line_draw(c, (place){at.x + width, at.y}, (place){at.x + width + 2, at.y}, wire_width, INK_BLACK);
    frame_draw(c, (area){at.x, at.y - half, at.x + width, at.y + half}, wire_width, 0.9);
    for (const char *p = words; *p != '\0' && *p != ';'; n++) { /* the tolerance stands apart */
        const size_t length = strcspn(p, " ;");
        const double x = n == count - 1 && count > 3 ? at.x + width - 3.6 : at.x + 1.9 + 2.75 * n;
        band(c, (area){x, at.y - half, x + 1.6, at.y + half}, p, length);
        p += length + (p[length] == ' ');
    }
    box_keep(c, BOX_SYMBOL, "bands", (area){at.x - 2, at.y - half, at.x + width + 2, at.y + half});
}

void cut_draw(canvas *c, place at, char letter)
{
    const char text[2] = {letter, '\0'};
    disc_fill(c, at, 1.75, INK_BLACK);
    disc_fill(c, at, 1.4, INK_WHITE);
    text_inside(c, (place){at.x, at.y + 0.85}, TYPE_SMALL, INK_BLACK, 3, text);
    box_keep(c, BOX_SYMBOL, text, (area){at.x - 1.75, at.y - 1.75, at.x + 1.75, at.y + 1.75});
}
