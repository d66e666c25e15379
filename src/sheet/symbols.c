/* Symbols of IEC 60617, and marks. */
#include "sheet/symbols.h"
#include <math.h>
#include <string.h>

static const double full_turn = 2 * G_PI;

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
    cairo_move_to(c->c, to.x, to.y);
    for (int side = -1; side <= 1; side += 2)
        cairo_line_to(c->c, to.x + 1.3 * cos(way + side * 2.7), to.y + 1.3 * sin(way + side * 2.7));
    cairo_close_path(c->c);
    cairo_set_source_rgb(c->c, 0, 0, 0);
    cairo_fill(c->c);
}

/* up: its cathode is up; light: arrows leave it. */
static void diode(canvas *c, place top, const char *name, bool up, bool light)
{
    const double half = 1.2, middle = top.y + BODY / 2, base = middle + (up ? half : -half),
                 tip = middle - (up ? half : -half);
    leads(c, top, middle - half, middle + half);
    cairo_move_to(c->c, top.x - 1.4, base);
    cairo_line_to(c->c, top.x + 1.4, base);
    cairo_line_to(c->c, top.x, tip);
    cairo_close_path(c->c);
    cairo_set_line_width(c->c, body_width);
    cairo_set_source_rgb(c->c, 0, 0, 0);
    cairo_stroke(c->c);
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
    const double dashes[] = {0.8, 0.6};
    cairo_save(c->c);
    cairo_translate(c->c, at.x, at.y);
    cairo_scale(c->c, 0.8, 2);
    cairo_new_sub_path(c->c);
    cairo_arc(c->c, 0, 0, 1, 0, full_turn);
    cairo_restore(c->c);
    cairo_set_dash(c->c, dashes, 2, 0);
    cairo_set_line_width(c->c, wire_width);
    cairo_set_source_rgb(c->c, 0, 0, 0);
    cairo_stroke(c->c);
    cairo_set_dash(c->c, NULL, 0, 0);
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
    cairo_move_to(c->c, at.x, at.y);
    cairo_line_to(c->c, at.x + way * tip, at.y - half);
    cairo_line_to(c->c, at.x + way * width, at.y - half);
    cairo_line_to(c->c, at.x + way * width, at.y + half);
    cairo_line_to(c->c, at.x + way * tip, at.y + half);
    cairo_close_path(c->c);
    cairo_set_source_rgb(c->c, own ? 0 : 1, own ? 0 : 1, own ? 0 : 1);
    cairo_fill_preserve(c->c);
    cairo_set_source_rgb(c->c, 0, 0, 0);
    cairo_set_line_width(c->c, wire_width);
    cairo_stroke(c->c);
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
    if (half > 1.75) { /* three digits: a pill */
        disc_fill(c, (place){middle.x - half + 1.75, middle.y}, 1.75, INK_METER);
        disc_fill(c, (place){middle.x + half - 1.75, middle.y}, 1.75, INK_METER);
        area_fill(c, (area){middle.x - half + 1.75, middle.y - 1.75, middle.x + half - 1.75, middle.y + 1.75},
                  INK_METER);
    } else {
        disc_fill(c, middle, 1.75, INK_METER);
    }
    text_inside(c, (place){middle.x, middle.y + 0.87}, TYPE_SMALL, INK_WHITE, 2 * half, text);
    box_keep(c, BOX_SYMBOL, text, (area){middle.x - half, middle.y - 1.75, middle.x + half, middle.y + 1.75});
}

void check_draw(canvas *c, place at, int number)
{
    line_draw(c, at, (place){at.x, at.y - 1.9}, 0.3, INK_METER);
    check_disc(c, (place){at.x, at.y - 3.5}, number);
}

void row_draw(canvas *c, place middle, int number)
{
    char text[16];
    if (number <= 0)
        return;
    snprintf(text, sizeof text, "%d", number);
    const double half = fmax(3, text_width(c, TYPE_ROW, text) + 1.2) / 2;
    const area at = {middle.x - half, middle.y - 1.35, middle.x + half, middle.y + 1.35};
    frame_draw(c, at, hair_width, 0.4);
    text_inside(c, (place){middle.x, middle.y + 0.8}, TYPE_ROW, INK_BLACK, 2 * half, text);
    box_keep(c, BOX_SYMBOL, text, at);
}

/* --- colour bands --- */

static const struct {
    const char *word;
    double red, green, blue;
} colours[] = {{"black", 0, 0, 0},       {"brown", .45, .24, .1},  {"red", .82, .1, .1},
               {"orange", .95, .5, .05}, {"yellow", .98, .85, .1}, {"green", .1, .55, .2},
               {"blue", .1, .3, .75},    {"violet", .5, .2, .65},  {"grey", .55, .55, .55},
               {"white", 1, 1, 1},       {"gold", .8, .65, .2},    {"silver", .78, .78, .8}};

static void band(canvas *c, area at, const char *word, size_t length)
{
    for (size_t i = 0; i < sizeof colours / sizeof colours[0]; i++) {
        if (strlen(colours[i].word) != length || strncmp(colours[i].word, word, length) != 0)
            continue;
        cairo_rectangle(c->c, at.x0, at.y0, at.x1 - at.x0, at.y1 - at.y0);
        cairo_set_source_rgb(c->c, colours[i].red, colours[i].green, colours[i].blue);
        cairo_fill_preserve(c->c);
        cairo_set_source_rgb(c->c, 0, 0, 0);
        cairo_set_line_width(c->c, hair_width);
        cairo_stroke(c->c);
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
