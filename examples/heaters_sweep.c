/* Eight thermistors behind a multiplexer, all in one go: which part of the rim is coldest? */
#include <stdio.h>
#include <tinyladder/bench.h>
#include <tinyladder/core.h>

enum { HEATERS = 8 };

/* Their common line is channel 1. The lines of the multiplexer are pins of the bench. */
static const tl_input common TL_ROM = {
    .channel = 1, .acquisition_ns = 3000, .longest_us = 100, .word = {.bits = 12, .width = 16}};

static tl_status find_coldest(const tl_port *port, const tl_mux_lines *lines)
{
    tl_mux_step route[HEATERS];
    tl_sweep_entry entries[HEATERS];
    tl_sample values[HEATERS], work[HEATERS];
    tl_sweep sweep;
    int coldest = 0;
    for (uint8_t i = 0; i < HEATERS; i++) {
        route[i] = (tl_mux_step){lines, i};
        entries[i] = (tl_sweep_entry){.input = &common, .route = &route[i], .route_length = 1, .discard = 1};
    }
    tl_status status = tl_mux_open(port, lines);
    if (status == TL_OK)
        status = tl_sweep_init(&sweep, entries, HEATERS, values, work);
    if (status == TL_OK)
        status = tl_sweep_run(&sweep, port);
    for (int i = 0; status == TL_OK && i < HEATERS; i++) {
        printf("heater-%d: %4ld counts\n", i + 1, (long)values[i].value);
        coldest = values[i].value > values[coldest].value ? i : coldest; /* cold thermistors have more ohms */
    }
    if (status == TL_OK)
        printf("coldest: heater-%d, after %lu us\n", coldest + 1, (unsigned long)sweep.stamp_us);
    (void)tl_mux_release(port, lines); /* whatever happened, no line stays driven */
    return status;
}

int main(int argc, char **argv)
{
    tl_bench *bench = tl_bench_open(argc > 1 ? argv[1] : "demo/fernhill.plan.yaml",
                                    argc > 2 ? argv[2] : "demo/evening.scene.yaml", NULL);
    if (bench == NULL) {
        fprintf(stderr, "heaters_sweep: cannot read the plan: run it from the project's folder\n");
        return 3;
    }
    const tl_mux_lines lines = {.select = {(uint8_t)tl_bench_line(bench, "L20"),
                                           (uint8_t)tl_bench_line(bench, "L21"),
                                           (uint8_t)tl_bench_line(bench, "L22")},
                                .select_count = 3,
                                .enable = (uint8_t)tl_bench_line(bench, "L23"),
                                .dwell_us = 20};
    const tl_status status = find_coldest(tl_bench_port(bench), &lines);
    tl_bench_free(bench);
    return status == TL_OK ? 0 : 4;
}
