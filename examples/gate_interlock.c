/* SPDX-License-Identifier: MIT */
/* Wait for the gate, but not for ever; while it is open, the fan must stand still. */
#include "example.h"

/* Not as the plan has it: here the fan follows the gate. */
static const TL_ROM tl_output fan = {.line = DEW_FAN_LINE, .as = TL_OUTPUT_FOLLOW, .safe = TL_SAFE_OFF};

static tl_status follow_condition(const tl_port *port, FILE *out)
{
    bool closed = false, on = false;
    tl_status status = tl_port_line_use(port, GATE_CLOSED_LINE, TL_LINE_INPUT);
    if (status == TL_OK)
        status = tl_line_await(port, GATE_CLOSED_LINE, true, 100);
    if (status == TL_ERR_LATE) {
        fprintf(out, "still open after 100 us\n");
        status = tl_port_wait_us(port, 19999600); /* it falls shut after 20 s */
    }
    if (status == TL_OK)
        status = tl_line_await(port, GATE_CLOSED_LINE, true, 1000);
    for (int look = 0; look < 2 && status == TL_OK; look++) {
        status = tl_port_line_level(port, GATE_CLOSED_LINE, &closed);
        /* The second reading fails: a value that is not fresh stops the fan. */
        const tl_sample sample = {closed, look == 0 ? TL_READING_FRESH : TL_READING_STALE, 0};
        if (status == TL_OK)
            status = tl_output_show(port, &fan, &sample, &on);
        if (status == TL_OK)
            fprintf(out, "gate %s, %s: fan %s\n", closed ? "shut" : "open", look == 0 ? "fresh" : "stale",
                    on ? "on" : "off");
    }
    return status;
}

static tl_status guard(const tl_port *port, FILE *out)
{
    tl_status status = tl_output_open(port, &fan);
    if (status == TL_OK)
        status = follow_condition(port, out);
    return first_trouble(status, tl_output_release(port, &fan));
}

int main(int argc, char **argv)
{
    return example_main(argc, argv, guard);
}
