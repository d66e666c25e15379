/* SPDX-License-Identifier: MIT */
/* Four digital lines debounced in one go: it begins to rain, and the stop button is released. */
#include "example.h"

enum { LINES = 4, STEPS = 4, LOOK_EVERY_US = 2000, LOOKS = 40 };
static const struct {
    uint8_t line;
    const char *name;
    bool active_is_low;
} watched[LINES] = {{RAIN_PLATE_LINE, "rain", true},
                    {STOP_BUTTON_LINE, "stop", false},
                    {OPEN_BUTTON_LINE, "open", true},
                    {CLOSE_BUTTON_LINE, "close", true}};

static tl_status see(const tl_port *port, uint32_t *seen)
{
    tl_status status = TL_OK;
    *seen = 0;
    for (int i = 0; i < LINES && status == TL_OK; i++) {
        bool high = false;
        status = tl_port_line_level(port, watched[i].line, &high);
        *seen |= (uint32_t)(high != watched[i].active_is_low) << i;
    }
    return status;
}

static tl_status watch(const tl_port *port, FILE *out)
{
    tl_lines lines;
    uint32_t seen = 0;
    tl_status status = tl_lines_init(&lines, 0, STEPS);
    for (int i = 0; i < LINES && status == TL_OK; i++)
        status = tl_port_line_use(port, watched[i].line, TL_LINE_INPUT);
    if (status == TL_OK)
        status = tl_port_wait_us(port, 1979960000); /* the clouds come after 33 minutes */
    for (int look = 0; look < LOOKS && status == TL_OK; look++) {
        status = see(port, &seen);
        const uint32_t changed = status == TL_OK ? tl_lines_look(&lines, seen) : 0;
        for (int i = 0; i < LINES; i++) {
            if ((changed >> i & 1) != 0)
                fprintf(out, "look %d: %s %s\n", look, watched[i].name,
                        (lines.accepted >> i & 1) != 0 ? "on" : "off");
        }
        if (status == TL_OK)
            status = tl_port_wait_us(port, LOOK_EVERY_US);
    }
    return status;
}

int main(int argc, char **argv)
{
    return example_main(argc, argv, watch);
}
