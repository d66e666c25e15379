/* SPDX-License-Identifier: MIT */
/* A knob's volts with three decimals on a display of two lines of 16 characters, its count below, in decimal
 * and in hexadecimal; and on four digits. A mean of 16 counts is finer than one: 3.3 V / 4096 is 0.8 mV. */
#include "knob_display.h"
#include "desk_plan.h" /* made of demo/desk.plan.yaml by `tinyladder header` */
#include "display.h"
#include <string.h>
#include <tinyladder/bench.h>

enum { SECOND_US = 1000000, LOOKS = 4 };

static tl_status take_mean(const tl_port *port, tl_sample *result)
{
    tl_mean mean;
    tl_sample sample = {0};
    tl_status status = tl_mean_init(&mean, KNOB_MEAN);
    for (int i = 0; i < KNOB_MEAN && status == TL_OK; i++) {
        status = tl_input_sample(port, &knob_input, &sample);
        if (status == TL_OK)
            (void)tl_mean_feed(&mean, &sample, result);
    }
    return status;
}

static tl_status show(const tl_port *port, knob_count knob, FILE *out)
{
    char rows[DISPLAY_ROWS][DISPLAY_COLUMNS + 1] = {"knob            ", "count           "}, number[9];
    const int16_t value = knob_value(knob);
    (void)tl_text_fixed(value, KNOB_DECIMALS, 8, number);
    memcpy(&rows[0][6], number, 8);
    memcpy(&rows[0][15], KNOB_UNIT, 1);
    (void)tl_text_fixed(TL_NUMBER(knob), 0, 4, number);
    memcpy(&rows[1][6], number, 4);
    memcpy(&rows[1][11], "0x", 2);
    (void)tl_text_hex(TL_NUMBER(knob), 3, &rows[1][13]);
    tl_status status = TL_OK;
    for (uint8_t row = 0; row < DISPLAY_ROWS && status == TL_OK; row++)
        status = characters_put(port, characters_lines, row, rows[row]);
    if (status == TL_OK)
        status = digits_put(port, digits_lines, value, KNOB_DECIMALS);
    if (status == TL_OK)
        fprintf(out, "|%s|\n|%s|\n\n", rows[0], rows[1]);
    return status;
}

tl_status knob_display(const tl_port *port, FILE *out)
{
    tl_sample knob = {0};
    tl_status status = characters_open(port, characters_lines);
    if (status == TL_OK)
        status = digits_open(port, digits_lines);
    for (int look = 0; look < LOOKS && status == TL_OK; look++) {
        status = take_mean(port, &knob);
        knob_count count;
        if (status == TL_OK && knob_of(&knob, &count))
            status = show(port, count, out);
        if (status == TL_OK)
            status = tl_port_wait_us(port, SECOND_US);
    }
    /* Whatever happened, no line stays driven. */
    const tl_status one = characters_close(port, characters_lines), other = digits_close(port, digits_lines);
    return status != TL_OK ? status : one != TL_OK ? one : other;
}

int main(void)
{
    tl_bench *bench = tl_bench_open("demo/desk.plan.yaml", "demo/desk.scene.yaml", NULL);
    if (bench == NULL) {
        fprintf(stderr, "cannot read the plan or its scene: run it from the project's folder\n");
        return 3;
    }
    const tl_status status = knob_display(tl_bench_port(bench), stdout);
    tl_bench_free(bench);
    return status == TL_OK ? 0 : 4;
}
