/* How full is the house battery? A reading every ten minutes of an evening, as volts and percent. */
#include <stdio.h>
#include <tinyladder/bench.h>
#include <tinyladder/core.h>

/* Pin L4 is channel 0: 12 bits against 3.3 V, behind a divider of 47k and 10k. */
static const tl_input battery TL_ROM = {
    .channel = 0, .acquisition_ns = 300, .longest_us = 100, .word = {.bits = 12, .width = 16}};
static const tl_scale_config at_the_battery = {.reference_high_uv = 3300000,
                                               .bits = 12,
                                               .steps = TL_STEPS_HALF,
                                               .undo_num = 57,
                                               .undo_den = 10}; /* (47k + 10k) / 10k */
enum { EMPTY_UV = 10800000, FULL_UV = 12900000, TEN_MINUTES_US = 600000000 };

static tl_status watch(const tl_port *port)
{
    tl_scale scale;
    tl_reading reading = {0};
    uint16_t percent = 0;
    tl_status status = tl_scale_init(&scale, &at_the_battery);
    for (int minutes = 0; minutes <= 40 && status == TL_OK; minutes += 10) {
        status = tl_input_take(port, &battery, &scale, &reading);
        if (status == TL_OK)
            status = tl_share_of(reading.value_uv, EMPTY_UV, FULL_UV, 100, &percent);
        if (status == TL_OK)
            printf("%2d min: %5ld mV, %3u %%\n", minutes, (long)reading.value_uv / 1000, (unsigned)percent);
        if (status == TL_OK)
            status = tl_port_wait_us(port, TEN_MINUTES_US);
    }
    return status;
}

int main(int argc, char **argv)
{
    /* On a board this is the board's own port; here a simulated one, with the battery sagging as the scene
     * says. */
    tl_bench *bench = tl_bench_open(argc > 1 ? argv[1] : "demo/fernhill.plan.yaml",
                                    argc > 2 ? argv[2] : "demo/evening.scene.yaml", NULL);
    char why[32];
    if (bench == NULL) {
        fprintf(stderr, "battery_percent: cannot read the plan: run it from the project's folder\n");
        return 3;
    }
    const tl_status status = watch(tl_bench_port(bench));
    tl_bench_free(bench);
    tl_status_text(status, why, sizeof why);
    if (status != TL_OK)
        fprintf(stderr, "battery_percent: %s\n", why);
    return status == TL_OK ? 0 : 4;
}
