/* The mirror's thermistor is watched for a broken wire while it is read: a value that failed is never shown
 * as one. */
#include <stdio.h>
#include <tinyladder/bench.h>
#include <tinyladder/core.h>

/* Pin L17 is channel 6. The sensor is the lower leg: an open wire reads near the top. */
static const tl_input mirror TL_ROM = {
    .channel = 6, .acquisition_ns = 3000, .longest_us = 100, .word = {.bits = 12, .width = 16}};
static const tl_fault_config wire TL_ROM = {.open_side = TL_FAULT_ABOVE,
                                            .open_level = 3973,
                                            .short_side = TL_FAULT_BELOW,
                                            .short_level = 205,
                                            .hysteresis = 41};
/* Counts to tenths of a degree, between 10k to the rail and the sensor of 10k at 25 degC, beta 3950 K. */
static const tl_table_point curve[] TL_ROM = {{1241, 450}, {1614, 350}, {2048, 250}, {2511, 150},
                                              {2956, 50},  {3338, -50}, {3630, -150}};
static const tl_table tenths TL_ROM = {curve, 7, false};

static tl_status look(const tl_port *port, tl_fault *fault)
{
    static const tl_scale_config at_the_pin = {
        .reference_high_uv = 3300000, .bits = 12, .steps = TL_STEPS_HALF, .undo_num = 1, .undo_den = 1};
    tl_scale scale;
    tl_reading reading = {0};
    tl_sample judged;
    char text[8];
    uint32_t now_us = 0;
    tl_status status = tl_scale_init(&scale, &at_the_pin);
    if (status == TL_OK)
        status = tl_input_take(port, &mirror, &scale, &reading);
    if (status == TL_OK)
        status = tl_port_clock_us(port, &now_us);
    if (status != TL_OK)
        return status;
    tl_fault_feed(fault, &wire, &(tl_sample){reading.count, reading.flags}, now_us, &judged);
    (void)tl_text_fixed(tl_table_value(&tenths, judged.value, NULL), 1, 5, text);
    printf("%s degC%s\n", text, (judged.flags & TL_READING_OPEN) != 0 ? ", but its wire is broken" : "");
    return TL_OK;
}

int main(int argc, char **argv)
{
    tl_bench *bench = tl_bench_open(argc > 1 ? argv[1] : "demo/fernhill.plan.yaml",
                                    argc > 2 ? argv[2] : "demo/evening.scene.yaml", NULL);
    tl_fault fault;
    if (bench == NULL) {
        fprintf(stderr, "mirror_fault: cannot read the plan: run it from the project's folder\n");
        return 3;
    }
    tl_status status = tl_fault_init(&fault, &wire);
    for (int minutes = 0; minutes <= 30 && status == TL_OK; minutes += 15) {
        tl_bench_go_to(bench, 60.0 * minutes);
        status = look(tl_bench_port(bench), &fault);
    }
    tl_bench_free(bench);
    return status == TL_OK ? 0 : 4;
}
