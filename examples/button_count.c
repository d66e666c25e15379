/* A button that bounces: every closing counts once. Somebody presses it three times in 75 seconds. */
#include <stdio.h>
#include <tinyladder/bench.h>
#include <tinyladder/core.h>

enum { LOOK_EVERY_US = 1000, LOOKS = 75000 };

static tl_status watch(const tl_port *port, uint8_t line)
{
    /* A pull-up and a contact to ground: closed reads low. 20 ms is well over its bounce of 6 ms. */
    const tl_button_config config = {.steady_us = 20000, .line = line, .closed_is_low = true};
    tl_button button;
    tl_button_event event = TL_BUTTON_QUIET;
    uint32_t now_us = 0;
    tl_status status = tl_button_init(&button, &config, port);
    for (long look = 0; look < LOOKS && status == TL_OK; look++) {
        status = tl_button_look(&button, port, &event);
        if (status == TL_OK && event != TL_BUTTON_QUIET)
            status = tl_port_clock_us(port, &now_us);
        if (status == TL_OK && event != TL_BUTTON_QUIET)
            printf("%6lu ms: %s, %u so far\n", (unsigned long)now_us / 1000,
                   event == TL_BUTTON_CLOSED ? "closed" : "opened", (unsigned)button.closings);
        if (status == TL_OK)
            status = tl_port_wait_us(port, LOOK_EVERY_US);
    }
    return status;
}

int main(int argc, char **argv)
{
    tl_bench *bench = tl_bench_open(argc > 1 ? argv[1] : "demo/fernhill.plan.yaml",
                                    argc > 2 ? argv[2] : "demo/evening.scene.yaml", NULL);
    char why[32];
    if (bench == NULL) {
        fprintf(stderr, "button_count: cannot read the plan: run it from the project's folder\n");
        return 3;
    }
    const tl_status status = watch(tl_bench_port(bench), (uint8_t)tl_bench_line(bench, "L12"));
    tl_bench_free(bench);
    tl_status_text(status, why, sizeof why);
    if (status != TL_OK)
        fprintf(stderr, "button_count: %s\n", why);
    return status == TL_OK ? 0 : 4;
}
