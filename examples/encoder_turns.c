/* SPDX-License-Identifier: MIT */
/* A knob with two outputs a quarter turn apart: which way, and how far? */
#include "example.h"

enum { LOOK_EVERY_US = 500, LOOKS = 100, QUARTERS_A_STEP = 4 };

static tl_status look(const tl_port *port, tl_quadrature *knob)
{
    bool one = false, two = false;
    tl_status status = tl_port_line_level(port, ENCODER_1_LINE, &one);
    if (status == TL_OK)
        status = tl_port_line_level(port, ENCODER_2_LINE, &two);
    if (status == TL_OK)
        (void)tl_quadrature_feed(knob, one, two);
    return status;
}

static tl_status count(const tl_port *port, FILE *out)
{
    tl_quadrature knob;
    tl_status status = tl_quadrature_init(&knob);
    if (status == TL_OK)
        status = tl_port_line_use(port, ENCODER_1_LINE, TL_LINE_INPUT);
    if (status == TL_OK)
        status = tl_port_line_use(port, ENCODER_2_LINE, TL_LINE_INPUT);
    if (status == TL_OK)
        status = tl_port_wait_us(port, 12100000);
    for (int i = 0; i <= LOOKS && status == TL_OK; i++) {
        status = look(port, &knob);
        if (status == TL_OK && i < LOOKS)
            status = tl_port_wait_us(port, LOOK_EVERY_US);
    }
    if (status == TL_OK)
        fprintf(out, "%+ld steps, %u missed\n", (long)tl_quadrature_steps(&knob, QUARTERS_A_STEP),
                (unsigned)knob.missed);
    return status;
}

int main(int argc, char **argv)
{
    return example_main(argc, argv, count);
}
