/* The roof's slide potentiometer lights ten lamps: as many as it has travelled tenths, without flicker in
 * between. */
#include <stdio.h>
#include <tinyladder/bench.h>
#include <tinyladder/core.h>

enum { LAMPS = 10, FOUR_SECONDS_US = 4000000, HYSTERESIS_COUNTS = 40 };

/* Pin L16 is channel 5: 12 bits, and the track is fed by the reference, so only the count matters. */
static const tl_input knob TL_ROM = {
    .channel = 5, .acquisition_ns = 1000, .longest_us = 100, .word = {.bits = 12, .width = 16}};
static const tl_scale_config at_the_pin = {
    .reference_high_uv = 3300000, .bits = 12, .steps = TL_STEPS_HALF, .undo_num = 1, .undo_den = 1};

static tl_status follow(const tl_port *port, const uint8_t *lamps)
{
    tl_scale scale;
    tl_reading reading = {0};
    uint8_t lit = 0;
    tl_status status = tl_scale_init(&scale, &at_the_pin);
    for (int i = 0; i < LAMPS && status == TL_OK; i++)
        status = tl_port_line_use(port, lamps[i], TL_LINE_OUTPUT);
    for (int seconds = 0; seconds <= 44 && status == TL_OK; seconds += 4) {
        status = tl_input_take(port, &knob, &scale, &reading);
        if (status == TL_OK)
            status = tl_level_of(reading.count, 0, scale.last, HYSTERESIS_COUNTS, LAMPS, &lit);
        for (int i = 0; i < LAMPS && status == TL_OK; i++)
            status = tl_port_line_drive(port, lamps[i], i < lit);
        if (status == TL_OK)
            printf("%2d s: %4u counts  %.*s%.*s\n", seconds, (unsigned)reading.count, lit, "**********",
                   LAMPS - lit, "..........");
        if (status == TL_OK)
            status = tl_port_wait_us(port, FOUR_SECONDS_US);
    }
    for (int i = 0; i < LAMPS; i++) /* whatever happened, no lamp stays on */
        (void)tl_port_line_use(port, lamps[i], TL_LINE_RELEASED);
    return status;
}

int main(int argc, char **argv)
{
    tl_bench *bench = tl_bench_open(argc > 1 ? argv[1] : "demo/fernhill.plan.yaml",
                                    argc > 2 ? argv[2] : "demo/evening.scene.yaml", NULL);
    uint8_t lamps[LAMPS];
    char name[8];
    if (bench == NULL) {
        fprintf(stderr, "knob_lamps: cannot read the plan: run it from the project's folder\n");
        return 3;
    }
    for (int i = 0; i < LAMPS; i++) {
        snprintf(name, sizeof name, "L%d", 30 + i); /* the lamps hang on L30 .. L39 */
        lamps[i] = (uint8_t)tl_bench_line(bench, name);
    }
    const tl_status status = follow(tl_bench_port(bench), lamps);
    tl_bench_free(bench);
    return status == TL_OK ? 0 : 4;
}
