/* SPDX-License-Identifier: MIT */
/* Pins by their names: a wrong name is answered with what could be meant. */
#include "reader/read_plan.h"
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static const char *pin_name(const void *list, int i)
{
    return ((const tl_pin *)list)[i].name;
}

/* People mix up a pin's position, its name and its channel: a bare number is answered with what it could
 * mean. */
static void report_number_as_pin(reader *r, const yaml_tree *node, const tl_board *board)
{
    char all[200] = "";
    size_t length = 0;
    const long number = strtol(node->text, NULL, 10);
    for (int i = 0; i < board->pin_count && length < sizeof all; i++) {
        const tl_pin *pin = &board->pins[i];
        if (pin->position == number)
            length += (size_t)snprintf(all + length, sizeof all - length, "%sposition %ld is %s",
                                       length > 0 ? ", " : "", number, pin->name);
        if (pin->channel == number && length < sizeof all)
            length += (size_t)snprintf(all + length, sizeof all - length, "%schannel %ld is %s",
                                       length > 0 ? ", " : "", number, pin->name);
    }
    report_error(r, "unknown-pin", node->place, "a pin is called by its name%s%s", length > 0 ? ": " : "",
                 all);
}

/* The pins of a board, or of a plan, which has more. */
typedef struct {
    const tl_board *board;
    const tl_pin *pins;
    int count;
} pin_list;

static bool find_pin(reader *r, const yaml_tree *node, const char *text, const pin_list *of, int *found)
{
    const tl_board *board = of->board;
    const tl_pin *pins = of->pins;
    if (text == NULL && !read_text(r, node, "the name of a pin", &text))
        return false;
    for (int i = 0; i < of->count; i++) {
        if (strcmp(pins[i].name, text) != 0)
            continue;
        if (pins[i].rail != TL_PIN_NO_RAIL) {
            report_error(r, "pin-is-rail", node->place, "%s is a supply pin of %s", text, board->title);
            return false;
        }
        *found = i;
        return true;
    }
    if (strspn(text, "0123456789") == strlen(text)) {
        report_number_as_pin(r, node, board);
        return false;
    }
    const char *meant = nearest_name(text, pin_name, pins, of->count);
    report_error(r, "unknown-pin", node->place, "%s has no pin '%.40s'%s%s%s", board->title, text,
                 meant != NULL ? ": did you mean '" : "", meant != NULL ? meant : "",
                 meant != NULL ? "'?" : "");
    return false;
}

bool read_pin_name(reader *r, const yaml_tree *node, const char *text, const tl_board *board, int *pin)
{
    return find_pin(r, node, text, &(pin_list){board, board->pins, board->pin_count}, pin);
}

bool read_end(reader *r, const yaml_tree *node, const char *text, const tl_plan *plan, int *pin)
{
    return find_pin(r, node, text, &(pin_list){plan->board, plan->pins, plan->pin_count}, pin);
}
