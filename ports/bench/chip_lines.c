/* SPDX-License-Identifier: MIT */
/* Pins of the board at the chip's lines: what the program makes of them goes over to the bench. */
#include "chip_inside.h"
#include <stdio.h>

/* Whether a device on SPI listens to this pin. */
static bool is_select(const tl_plan *plan, int pin)
{
    for (int i = 1; i < plan->converter_count; i++) {
        if (plan->converters[i].select_pin == pin)
            return true;
    }
    return false;
}

/* A pin's place on the chip, such as B3. */
static bool wire_pin(chip *of, int pin, bool (*exists)(const chip *of, char port), char why[200])
{
    const tl_plan *plan = chip_plan(of);
    const char *place = plan->board->pins[pin].port;
    if (place == NULL || place[0] == '\0')
        return true;
    const bool named =
        place[0] >= 'A' && place[0] < 'A' + PORTS && place[1] >= '0' && place[1] <= '7' && place[2] == '\0';
    if (!named || !exists(of, place[0])) {
        snprintf(why, 200, "pin %s: the chip has no line %s", plan->board->pins[pin].name, place);
        return false;
    }
    if (!plan->board->pins[pin].digital || of->line_count == LINES_MOST)
        return true;
    of->lines[of->line_count++] = (chip_line){.line = (uint8_t)pin,
                                              .port = place[0],
                                              .bit = (uint8_t)(place[1] - '0'),
                                              .use = TL_LINE_RELEASED,
                                              .selects = is_select(plan, pin)};
    return true;
}

bool chip_wire_lines(chip *of, bool (*exists)(const chip *of, char port), char why[200])
{
    for (int i = 0; i < chip_plan(of)->board->pin_count; i++) {
        if (!wire_pin(of, i, exists, why))
            return false;
    }
    if (of->line_count == 0)
        snprintf(why, 200, "no pin of the board says where it is on the chip (port: B3)");
    return of->line_count > 0;
}

void chip_set_line(chip *of, chip_line *line, tl_line_use use, uint16_t share)
{
    const bool out = use == TL_LINE_OUTPUT, was_high = line->use == TL_LINE_OUTPUT && line->share != 0;
    if (use == line->use && (!out || share == line->share))
        return;
    chip_bring_bench(of);
    if (use != line->use && tl_port_line_use(of->port, line->line, use) != TL_OK)
        (void)tl_port_line_use(of->port, line->line, TL_LINE_INPUT); /* a pull that the board has not */
    if (out && (share == 0 || share == UINT16_MAX))
        (void)tl_port_line_drive(of->port, line->line, share != 0);
    else if (out && tl_port_line_duty(of->port, line->line, share) != TL_OK)
        (void)tl_port_line_drive(of->port, line->line, share > UINT16_MAX / 2);
    if (line->selects && out && share == 0 && was_high) {
        of->selected = line->line;
        tl_bench_spi_begin(of->bench, (uint8_t)of->spi_bus, line->line);
    } else if (line->selects && of->selected == line->line && share != 0) {
        of->selected = TL_NONE;
    }
    line->use = use;
    line->share = share;
}
