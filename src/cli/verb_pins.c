/* SPDX-License-Identifier: MIT */
/* tinyladder pins BOARD|PLAN: every pin, who uses it, what is free, and the header as it looks. */
#include "cli/cli.h"
#include "sheet/wiring.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

typedef struct {
    const char *path;
    const char *wanted; /* abilities, with commas; NULL for none */
    bool json, csv, wiring;
} pins_options;

enum { KEY_FOR = 1000, KEY_WIRING, KEY_CSV };

static const struct argp_option pins_argp_options[] = {
    {"for", KEY_FOR, "ABILITIES", 0,
     "list free pins that support all these functions, such as analog,pull-up", 0},
    {"wiring", KEY_WIRING, NULL, 0, "print the wiring list of a plan, one row per connection", 0},
    {"json", 'j', NULL, 0, "print one JSON object", 0},
    {"csv", KEY_CSV, NULL, 0, "with --wiring: print CSV", 0},
    {0},
};

static error_t parse_pins(int key, char *text, struct argp_state *state)
{
    pins_options *o = state->input;
    switch (key) {
    case 'j':
        o->json = true;
        break;
    case KEY_FOR:
        o->wanted = text;
        break;
    case KEY_WIRING:
        o->wiring = true;
        break;
    case KEY_CSV:
        o->csv = true;
        break;
    case ARGP_KEY_ARG:
        option_file(state, "board or plan", &o->path, text);
        break;
    case ARGP_KEY_END:
        if (o->path == NULL)
            argp_error(state, "which board, or which plan?");
        if (o->csv && (!o->wiring || o->json))
            argp_error(state, "--csv: with --wiring, and without --json");
        if (o->wiring && o->wanted != NULL)
            argp_error(state, "--wiring or --for, not both");
        break;
    default:
        return ARGP_ERR_UNKNOWN;
    }
    return 0;
}

/* --- what a pin is and who has it --- */

typedef struct {
    const tl_board *board;
    const tl_plan *plan; /* NULL for a board alone */
} pin_view;

static bool is_planned(const pin_view *v, int pin)
{
    return v->plan != NULL && tl_plan_pin_use(v->plan, pin, 0).what != NULL;
}

static const char *user_of(const pin_view *v, int pin)
{
    const tl_pin *p = &v->board->pins[pin];
    if (is_planned(v, pin))
        return tl_plan_pin_use(v->plan, pin, 0).owner;
    if (p->rail != TL_PIN_NO_RAIL)
        return p->rail == TL_PIN_IS_GROUND ? "ground" : v->board->supplies[p->rail].name;
    return p->wired ? "the board's own lamp" : NULL;
}

/* What it is there: a bus wire by its role, a select line by its number. */
static const char *role_of(const pin_view *v, int pin)
{
    static char text[24];
    const tl_pin_use use = v->plan != NULL ? tl_plan_pin_use(v->plan, pin, 0) : (tl_pin_use){.what = NULL};
    if (use.what == NULL)
        return NULL;
    for (int b = 0; b < v->plan->bus_count && strcmp(use.what, "bus") == 0; b++) {
        for (int i = 0; i < v->plan->buses[b].line_count; i++) {
            if (v->plan->buses[b].pins[i] == pin)
                return v->plan->buses[b].line_name[i];
        }
    }
    for (int i = 0; use.index != TL_NONE && i < v->plan->muxes[use.index].select_count; i++) {
        snprintf(text, sizeof text, "select %d", i);
        if (v->plan->muxes[use.index].select[i].pin == pin)
            return text;
    }
    return strcmp(use.what, "enable line") == 0   ? "enable"
           : strcmp(use.what, "common line") == 0 ? "common"
           : strcmp(use.what, "chip select") == 0 ? "select"
                                                  : NULL;
}

static bool is_analog(const tl_pin *p)
{
    return p->channel >= 0;
}

static bool is_digital(const tl_pin *p)
{
    return p->digital;
}

static bool has_pull_up(const tl_pin *p)
{
    return p->digital && !isnan(p->limits.pull_up.nominal);
}

static bool is_duty(const tl_pin *p)
{
    return p->duty >= 0;
}

static bool is_i2c(const tl_pin *p)
{
    return p->i2c;
}

static bool is_spi(const tl_pin *p)
{
    return p->spi;
}

/* What people look for a free pin for. */
static const struct {
    const char *requirement, *key;
    bool (*can)(const tl_pin *pin);
} requirements[] = {
    {"an analog input", "analog", is_analog},
    {"a digital input or output", "digital", is_digital},
    {"an input with internal pull-up", "pull_up", has_pull_up},
    {"a PWM output", "duty", is_duty},
    {"an I2C bus", "i2c", is_i2c},
    {"an SPI bus", "spi", is_spi},
};
enum { WISHES = (int)(sizeof requirements / sizeof requirements[0]) };

static char *abilities_of(const tl_pin *p, char text[80])
{
    text[0] = '\0';
    for (int i = 0; i < WISHES; i++) {
        if (requirements[i].can(p)) {
            strncat(text, text[0] != '\0' ? ", " : "", 79 - strlen(text));
            strncat(text, strcmp(requirements[i].key, "pull_up") == 0 ? "pull-up" : requirements[i].key,
                    79 - strlen(text));
        }
    }
    return text;
}

static void limits_of(const pin_view *v, const tl_pin *p, double *low, double *high)
{
    const double rail = v->board->supplies[p->limits.supply].volts.low; /* where the limit is tightest */
    *low = tl_level_volts(p->limits.lowest, rail);
    *high = tl_level_volts(p->limits.highest, rail);
}

/* --- free pins with given functions --- */

/* Bits of `requirements`; false, and told, for one that is not among them. */
static bool read_abilities(const char *text, unsigned *wanted)
{
    *wanted = 0;
    while (*text != '\0') {
        const size_t length = strcspn(text, ",");
        int found = -1;
        for (int i = 0; i < WISHES; i++) {
            const char *name = strcmp(requirements[i].key, "pull_up") == 0 ? "pull-up" : requirements[i].key;
            if (strlen(name) == length && strncmp(name, text, length) == 0)
                found = i;
        }
        if (found < 0) {
            fprintf(stderr,
                    "tinyladder: --for: unknown function '%.*s'; the functions are analog, digital, pull-up, "
                    "duty, i2c, "
                    "spi\n",
                    (int)(length < 40 ? length : 40), text);
            return false;
        }
        *wanted |= 1u << found;
        text += length + (text[length] == ',');
    }
    return true;
}

static bool is_free_for(const pin_view *v, int pin, unsigned wanted)
{
    const tl_pin *p = &v->board->pins[pin];
    bool can = p->rail == TL_PIN_NO_RAIL && user_of(v, pin) == NULL;
    for (int i = 0; i < WISHES; i++)
        can = can && ((wanted >> i & 1) == 0 || requirements[i].can(p));
    return can;
}

static int print_free_for(const pin_view *v, const pins_options *o)
{
    unsigned wanted;
    int count = 0;
    if (!read_abilities(o->wanted, &wanted))
        return EXIT_USAGE;
    json_t *list = json_array();
    for (int i = 0; i < v->board->pin_count; i++) {
        const tl_pin *p = &v->board->pins[i];
        char abilities[80];
        if (!is_free_for(v, i, wanted))
            continue;
        count++;
        if (o->json)
            json_array_append_new(list, json_string(p->name));
        else if (p->position >= 0)
            printf("%s (%d): %s\n", p->name, p->position, abilities_of(p, abilities));
        else
            printf("%s: %s\n", p->name, abilities_of(p, abilities));
    }
    if (o->json)
        json_print(json_pack("{s:s,s:s,s:O}", "board", v->board->title, "for", o->wanted, "free", list));
    else if (count == 0)
        printf("No pin of %s is free for %s.\n", v->board->title, o->wanted);
    json_decref(list);
    return count > 0 ? EXIT_DONE : EXIT_FOUND;
}

/* --- as text --- */

/* A limit in millivolts that is never laxer than it is. */
static double inward(double volts, bool low)
{
    return (low ? ceil(1000 * volts - 1e-6) : floor(1000 * volts + 1e-6)) / 1000;
}

/* Where all pins have the same limits, they are said once. */
static bool share_limits(const pin_view *v, double *lowest, double *highest)
{
    bool any = false;
    for (int i = 0; i < v->board->pin_count; i++) {
        double low, high;
        if (v->board->pins[i].rail != TL_PIN_NO_RAIL)
            continue;
        limits_of(v, &v->board->pins[i], &low, &high);
        if (any && (low != *lowest || high != *highest))
            return false;
        *lowest = low;
        *highest = high;
        any = true;
    }
    return any;
}

static void put_number(table *t, int number)
{
    if (number >= 0)
        table_cell(t, "%d", number);
    else
        table_cell(t, "%s", "");
}

static void print_pin_table(const pin_view *v)
{
    double lowest = NAN, highest = NAN;
    const bool shared = share_limits(v, &lowest, &highest);
    table t;
    if (shared)
        printf("Absolute maximum of every pin: %g V to %g V.\n\n", inward(lowest, true),
               inward(highest, false));
    table_begin(&t, shared ? 6 : 8, shared ? "><>><<" : "><>><>><");
    table_heads(&t, "position", "pin", "ADC channel", "PWM channel", "functions");
    if (!shared)
        table_heads(&t, "abs. min, V", "abs. max, V");
    table_cell(&t, "used by");
    for (int i = 0; i < v->board->pin_count; i++) {
        const tl_pin *p = &v->board->pins[i];
        const char *user = user_of(v, i);
        char abilities[80];
        double low, high;
        limits_of(v, p, &low, &high);
        put_number(&t, p->position);
        table_cell(&t, "%s", p->name);
        put_number(&t, p->channel);
        put_number(&t, p->duty);
        table_cell(&t, "%s", p->rail != TL_PIN_NO_RAIL ? "supply" : abilities_of(p, abilities));
        if (!shared && p->rail != TL_PIN_NO_RAIL) {
            table_heads(&t, "", "");
        } else if (!shared) {
            table_cell(&t, "%g", inward(low, true));
            table_cell(&t, "%g", inward(high, false));
        }
        const char *role = role_of(v, i);
        table_cell(&t, "%s%s%s", user != NULL ? user : "free", role != NULL ? " " : "",
                   role != NULL ? role : "");
    }
    table_end(&t, stdout, "  ");
}

static int pin_by_name(const tl_board *board, const char *name)
{
    for (int i = 0; i < board->pin_count; i++) {
        if (strcmp(board->pins[i].name, name) == 0)
            return i;
    }
    return -1;
}

/* Cuts a name so that a column stays narrow. */
static void short_name(const char *name, char text[12])
{
    if (strlen(name) > 9)
        snprintf(text, 12, "%.8s…", name);
    else
        snprintf(text, 12, "%s", name);
}

/* The header as it looks from above, a stretch of columns at a time; users stand outside the rows. */
static void print_header_part(const pin_view *v, int first, int columns)
{
    const tl_board *b = v->board;
    table t;
    table_begin(&t, columns, "<<<<<<<<<<<<<<<<");
    for (int row = 0; row < b->header_rows; row++) {
        const bool user_below = row > 0 || b->header_rows == 1;
        for (int line = 0; line < 2; line++) {
            for (int c = first; c < first + columns; c++) {
                const int pin = pin_by_name(b, b->header[row * b->header_columns + c]);
                const char *user = user_of(v, pin);
                char text[12];
                short_name(user == NULL                                ? "·"
                           : b->pins[pin].rail != TL_PIN_NO_RAIL       ? user
                           : b->pins[pin].wired && !is_planned(v, pin) ? "(board)"
                                                                       : user,
                           text);
                table_cell(&t, "%s", (line == 1) == user_below ? text : b->pins[pin].name);
            }
        }
    }
    table_end(&t, stdout, "  ");
}

static void print_header(const pin_view *v)
{
    enum { AT_ONCE = 11 };
    if (v->board->header == NULL)
        return;
    printf("\nThe header from above, left to right; · is free:\n");
    for (int first = 0; first < v->board->header_columns; first += AT_ONCE) {
        const int left = v->board->header_columns - first;
        putchar('\n');
        print_header_part(v, first, left < AT_ONCE ? left : AT_ONCE);
    }
}

static void print_free(const pin_view *v)
{
    putchar('\n');
    for (int w = 0; w < WISHES; w++) {
        int count = 0;
        for (int i = 0; i < v->board->pin_count; i++) {
            const tl_pin *p = &v->board->pins[i];
            if (p->rail != TL_PIN_NO_RAIL || user_of(v, i) != NULL || !requirements[w].can(p))
                continue;
            if (++count == 1)
                printf("Free for %s:", requirements[w].requirement);
            printf("%s %s", count > 1 && count % 24 == 1 ? "\n   " : "", p->name);
        }
        printf(count > 0 ? "\n" : "No pin is free for %s.\n", requirements[w].requirement);
    }
}

static void print_pins(const pin_view *v)
{
    int users = 0;
    for (int i = 0; i < v->board->pin_count; i++)
        users += user_of(v, i) != NULL;
    printf("%s%s%s: %d pins, %d in use.\n\n", v->board->title, v->plan != NULL ? ", " : "",
           v->plan != NULL ? v->plan->title : "", v->board->pin_count, users);
    print_pin_table(v);
    print_header(v);
    print_free(v);
}

/* --- as JSON --- */

static void print_json(const pin_view *v)
{
    json_t *list = json_array();
    for (int i = 0; i < v->board->pin_count; i++) {
        const tl_pin *p = &v->board->pins[i];
        const char *user = user_of(v, i), *role = role_of(v, i);
        json_t *can = json_array();
        double low, high;
        limits_of(v, p, &low, &high);
        for (int w = 0; w < WISHES; w++) {
            if (requirements[w].can(p))
                json_array_append_new(can, json_string(requirements[w].key));
        }
        json_array_append_new(
            list, json_pack("{s:s,s:o,s:o,s:o,s:o,s:o,s:o,s:o,s:o,s:o,s:b}", "pin", p->name, "position",
                            p->position >= 0 ? json_integer(p->position) : json_null(), "channel",
                            p->channel >= 0 ? json_integer(p->channel) : json_null(), "duty",
                            p->duty >= 0 ? json_integer(p->duty) : json_null(), "can", can, "lowest_v",
                            json_number(low), "highest_v", json_number(high), "user",
                            user != NULL ? json_string(user) : json_null(), "role",
                            role != NULL ? json_string(role) : json_null(), "port",
                            p->port != NULL ? json_string(p->port) : json_null(), "free", user == NULL));
    }
    json_print(json_pack("{s:s,s:o,s:o}", "board", v->board->title, "plan",
                         v->plan != NULL ? json_string(v->plan->title) : json_null(), "pins", list));
}

static int run_pins(int argc, char **argv)
{
    static const struct argp argp = {
        pins_argp_options,
        parse_pins,
        "BOARD|PLAN",
        "Show every pin of a board: position, functions, what uses it, and which pins are free.",
        NULL,
        NULL,
        NULL};
    pins_options o = {0};
    char kind[16];
    options_parse(&argp, argc, argv, &o);
    tl_report *report = new_report();
    tl_file_kind(o.path, kind);
    tl_plan *plan = strcmp(kind, "board") != 0 ? tl_plan_load(o.path, report) : NULL;
    tl_board *board = strcmp(kind, "board") == 0 ? tl_board_load(o.path, report) : NULL;
    const pin_view view = {plan != NULL ? plan->board : board, plan};
    int status = EXIT_DONE;
    if (view.board == NULL)
        status = print_unreadable(report);
    else if (o.wanted != NULL)
        status = print_free_for(&view, &o);
    else if (o.wiring && plan == NULL)
        fprintf(stderr, "tinyladder: --wiring: expected a plan, got a board file\n"), status = EXIT_USAGE;
    else if (o.wiring)
        wiring_print(plan, o.json ? WIRING_JSON : o.csv ? WIRING_CSV : WIRING_TABLE);
    else
        (o.json ? print_json : print_pins)(&view);
    tl_plan_free(plan);
    tl_board_free(board);
    tl_report_free(report);
    return status;
}

const verb verb_pins = {"pins", "Show every pin, what uses it, and which pins are free.", run_pins};
