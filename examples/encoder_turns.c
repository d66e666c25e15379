/* A knob with two outputs a quarter turn apart: which way, and how far? */
#include "example.h"

/* By what was seen last and what is seen now, two bits each: on, back, or 2 for a jump that cannot be told.
 */
static const int8_t moves[4][4] = {{0, 1, -1, 2}, {-1, 0, 2, 1}, {1, 2, 0, -1}, {2, -1, 1, 0}};
enum { LOOK_EVERY_US = 500, LOOKS = 100, QUARTERS_A_STEP = 4 };

static tl_status see(const tl_port *port, uint8_t *seen)
{
    bool one = false, two = false;
    tl_status status = tl_port_line_level(port, ENCODER_1_LINE, &one);
    if (status == TL_OK)
        status = tl_port_line_level(port, ENCODER_2_LINE, &two);
    *seen = (uint8_t)(one | two << 1);
    return status;
}

static tl_status count(const tl_port *port, FILE *out)
{
    int quarters = 0, missed = 0;
    uint8_t last = 0, seen = 0;
    tl_status status = tl_port_line_use(port, ENCODER_1_LINE, TL_LINE_INPUT);
    if (status == TL_OK)
        status = tl_port_line_use(port, ENCODER_2_LINE, TL_LINE_INPUT);
    if (status == TL_OK)
        status = tl_port_wait_us(port, 12100000);
    if (status == TL_OK)
        status = see(port, &last);
    for (int look = 0; look < LOOKS && status == TL_OK; look++) {
        status = tl_port_wait_us(port, LOOK_EVERY_US);
        if (status == TL_OK)
            status = see(port, &seen);
        const int8_t move = moves[last][seen];
        missed += move == 2;
        quarters += move == 2 ? 0 : move;
        last = seen;
    }
    if (status == TL_OK)
        fprintf(out, "%+d steps, %d missed\n", quarters / QUARTERS_A_STEP, missed);
    return status;
}

int main(int argc, char **argv)
{
    return example_main(argc, argv, count);
}
