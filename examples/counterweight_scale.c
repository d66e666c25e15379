/* How heavy is the counterweight? A load cell on a converter of 16 bits, over the bus, averaged and shown. */
#include <stdio.h>
#include <tinyladder/bench.h>
#include <tinyladder/core.h>

/* Dunlin, as its data sheet says: settings in register 1, the result in register 0, bit 7 tells when it is
 * ready. */
static const tl_external dunlin TL_ROM = {.kind = TL_EXTERNAL_I2C,
                                          .bus = 0,
                                          .seat = 0x2a,
                                          .word = {16, 16, TL_WORD_RIGHT, TL_WORD_TWOS_COMPLEMENT, true},
                                          .longest_us = 200000,
                                          .settings = 1,
                                          .result = 0,
                                          .ready_bit = 7};
static const tl_external_input load_cell TL_ROM = {.settings = 0x90}; /* pair-0, range 100 mV, start now */
/* 10 mV are 50 kg, and 32768 codes are 100 mV: in grams */
static const tl_table_point points[] TL_ROM = {{0, 0}, {3277, 50000}};
static const tl_table grams TL_ROM = {points, 2, true};

static tl_status weigh(const tl_port *port)
{
    tl_mean mean;
    tl_sample quiet = {0, 0};
    char text[8];
    tl_status status = tl_mean_init(&mean, 4);
    for (bool enough = false; !enough && status == TL_OK;) {
        tl_sample sample = {0, 0};
        status = tl_external_take(port, &dunlin, &load_cell, &sample);
        if (status == TL_OK)
            enough = tl_mean_feed(&mean, &sample, &quiet);
    }
    if (status == TL_OK)
        status = tl_text_fixed(tl_table_value(&grams, quiet.value, NULL) / 100, 1, 6, text);
    if (status == TL_OK)
        printf("%s kg\n", text);
    return status;
}

int main(int argc, char **argv)
{
    tl_bench *bench = tl_bench_open(argc > 1 ? argv[1] : "demo/fernhill.plan.yaml",
                                    argc > 2 ? argv[2] : "demo/evening.scene.yaml", NULL);
    if (bench == NULL) {
        fprintf(stderr, "counterweight_scale: cannot read the plan: run it from the project's folder\n");
        return 3;
    }
    tl_status status = weigh(tl_bench_port(bench));
    tl_bench_go_to(bench, 400); /* somebody hangs a camera on it meanwhile */
    if (status == TL_OK)
        status = weigh(tl_bench_port(bench));
    tl_bench_free(bench);
    return status == TL_OK ? 0 : 4;
}
