/* Eight thermistors behind a multiplexer, all in one go: which part of the rim is coldest? */
#include "example.h"

enum { HEATERS = 8 };

static const tl_mux_step routes[HEATERS] TL_ROM = {{&heaters, 0}, {&heaters, 1}, {&heaters, 2},
                                                   {&heaters, 3}, {&heaters, 4}, {&heaters, 5},
                                                   {&heaters, 6}, {&heaters, 7}};
/* One conversion after each switch is thrown away: the sampling capacitor still holds the neighbour. */
#define HEATER(n)                                                                                            \
    {                                                                                                        \
        .input = &heaters_common, .route = &routes[n], .route_length = 1, .discard = 1                       \
    }
static const tl_sweep_entry entries[HEATERS] TL_ROM = {HEATER(0), HEATER(1), HEATER(2), HEATER(3),
                                                       HEATER(4), HEATER(5), HEATER(6), HEATER(7)};

static tl_status find_coldest(const tl_port *port, FILE *out)
{
    tl_sample values[HEATERS], work[HEATERS];
    tl_sweep sweep;
    int coldest = 0;
    tl_status status = tl_mux_open(port, &heaters);
    if (status == TL_OK)
        status = tl_sweep_init(&sweep, entries, HEATERS, values, work);
    if (status == TL_OK) {
        sweep.sleeps = true; /* the converter is switched off in between: the battery must last the night */
        status = tl_sweep_run(&sweep, port);
    }
    for (int i = 0; status == TL_OK && i < HEATERS; i++) {
        char text[8];
        const int32_t tenths = tl_table_value(&heater_tenths, values[i].value, NULL);
        status = tl_text_fixed(tenths, 1, 5, text);
        fprintf(out, "heater-%d: %4ld counts, %s degC\n", i + 1, (long)values[i].value, text);
        coldest = values[i].value > values[coldest].value ? i : coldest; /* cold thermistors have more ohms */
    }
    if (status == TL_OK)
        fprintf(out, "coldest: heater-%d, after %lu us\n", coldest + 1, (unsigned long)sweep.stamp_us);
    /* Whatever happened, no line stays driven. */
    return first_trouble(status, tl_mux_release(port, &heaters));
}

int main(int argc, char **argv)
{
    return example_main(argc, argv, find_coldest);
}
