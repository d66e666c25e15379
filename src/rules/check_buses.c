/* SPDX-License-Identifier: MIT */
/* Rules for I2C buses, after the open specification UM10204. */
#include "analysis/ask.h"
#include "base/memory.h"
#include "rules/check.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

/* The pulls of one side of the shifter; without one there is one side only. */
typedef struct {
    tl_quantity siemens; /* of all together */
    int pulls;
    const tl_plan_part *first;
} bus_side;

static tl_quantity pull_ohms(const tl_checker *k, const tl_plan_part *pull)
{
    return pull->own ? tl_check_pin(k, pull->index)->limits.pull_up : pull->value->value;
}

static bus_side side_of(const tl_checker *k, int line, int at)
{
    bus_side side = {.pulls = 0};
    for (const tl_plan_part *pull = NULL;
         (pull = tl_parts_next(&k->circuit->parts, line, TL_PART_PULL, pull)) != NULL;) {
        if (!pull->up || pull->side != at)
            continue;
        const tl_quantity ohms = pull_ohms(k, pull);
        tl_beside(&side.siemens, &ohms);
        side.first = side.pulls++ == 0 ? pull : side.first;
    }
    return side;
}

/* All pulls of both sides act while a device holds the line low. */
static void check_sink(const tl_checker *k, const tl_bus *bus, const bus_side sides[2])
{
    const tl_bus_sunk sunk = tl_circuit_bus_sink(k->circuit, bus);
    if (sunk.share <= 1)
        return;
    const tl_plan_part *blamed =
        sides[0].siemens.high > sides[1].siemens.high ? sides[0].first : sides[1].first;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_BUS_PULL,
                                 k->plan->signals[blamed->index].stages[blamed->stage].place,
                                 "bus %s: pull-up resistance is too low; VOL is not guaranteed", bus->name);
    if (isinf(sunk.share)) {
        tl_finding_text(&f->figure, "%s mode specifies no low level for 2 V or less",
                        tl_bus_rule_of(bus->mode)->name);
        tl_finding_text(&f->fix, "set mode: fast");
        return;
    }
    tl_finding_figures(f, TL_DIM_AMPERE, sunk.amperes, sunk.allowed);
    tl_finding_text(&f->figure, "pull-ups need %s at VOL %s; %s is guaranteed in %s mode",
                    tl_show(sunk.amperes, TL_DIM_AMPERE, TL_ROUND_UP).text,
                    tl_show(sunk.volts, TL_DIM_VOLT, TL_ROUND_NEAREST).text,
                    tl_show(sunk.allowed, TL_DIM_AMPERE, TL_ROUND_DOWN).text,
                    tl_bus_rule_of(bus->mode)->name);
    tl_fix_resistor(k, f, "increase this pull-up", pull_ohms(k, blamed).low * sunk.share, 1, blamed->value);
}

/* Rise time from VIL to VIH. Each side is charged by its own pulls; the capacitance is stated
 * once. */
static void check_rise(const tl_checker *k, const tl_bus *bus, int line, int at, const bus_side *side)
{
    double ohms;
    const double farads = tl_circuit_line_farads(k->circuit, line, TL_ALL_SIDES),
                 rise = tl_circuit_rise(k->circuit, line, at, tl_bus_rise_share, &ohms);
    const double most = tl_bus_rule_of(bus->mode)->rise;
    if (rise <= most)
        return;
    const double longest = tl_ohms_of(&side->siemens).high - ohms * (1 - most / rise); /* all else as it is */
    tl_finding *f =
        tl_check_add(k, TL_USUAL, TL_RULE_BUS_PULL, k->plan->signals[line].stages[side->first->stage].place,
                     "bus %s: pull-up resistance is too high for the bus capacitance", bus->name);
    tl_finding_figures(f, TL_DIM_SECOND, rise, most);
    tl_finding_text(&f->figure, "rise time %s with %s and %s; maximum %s in %s mode",
                    tl_show(rise, TL_DIM_SECOND, TL_ROUND_UP).text,
                    tl_show(ohms, TL_DIM_OHM, TL_ROUND_UP).text,
                    tl_show(farads, TL_DIM_FARAD, TL_ROUND_UP).text,
                    tl_show(most, TL_DIM_SECOND, TL_ROUND_NEAREST).text, tl_bus_rule_of(bus->mode)->name);
    tl_fix_resistor(k, f, "reduce the pull-up", longest, -1, side->first->own ? NULL : side->first->value);
}

static void check_line(const tl_checker *k, const tl_bus *bus, int at)
{
    const tl_signal *line = &k->plan->signals[at];
    const bus_side sides[2] = {side_of(k, at, 0), side_of(k, at, 1)};
    const int count = tl_circuit_last_side(k->circuit, at) > 0 ? 2 : 1;
    const double farads = tl_circuit_line_farads(k->circuit, at, TL_ALL_SIDES);
    bool complete = true;
    for (int i = 0; i < count; i++) {
        complete = complete && sides[i].pulls > 0;
        if (sides[i].pulls == 0 && (i == 0 && count == 2)) /* floating-input reports the side of the pin */
            tl_check_add(k, TL_USUAL, TL_RULE_NO_PULL, bus->place,
                         "%s has no pull-up on the other side of its level shifter", line->name);
        if (sides[i].pulls > 1) {
            tl_finding *f =
                tl_check_add(k, TL_USUAL, TL_RULE_SEVERAL_PULLS, line->stages[sides[i].first->stage].place,
                             "%s has %d pull-ups in parallel on one side", line->name, sides[i].pulls);
            const double together = tl_ohms_of(&sides[i].siemens).high;
            tl_finding_figures(f, TL_DIM_OHM, together, NAN);
            tl_finding_text(&f->figure, "%s together", tl_show(together, TL_DIM_OHM, TL_ROUND_NEAREST).text);
            tl_finding_text(&f->fix, "remove all but one of them");
        }
        if (sides[i].pulls > 0)
            check_rise(k, bus, at, i, &sides[i]);
    }
    if (complete)
        check_sink(k, bus, sides);
    if (farads <= tl_bus_rule_of(bus->mode)->most_farads)
        return;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_BUS_CAPACITANCE, bus->place,
                                 "%s: bus capacitance is above the limit of its mode", line->name);
    tl_finding_figures(f, TL_DIM_FARAD, farads, tl_bus_rule_of(bus->mode)->most_farads);
    tl_finding_text(&f->figure, "%s; limit %s", tl_show(farads, TL_DIM_FARAD, TL_ROUND_UP).text,
                    tl_show(tl_bus_rule_of(bus->mode)->most_farads, TL_DIM_FARAD, TL_ROUND_DOWN).text);
    tl_finding_text(&f->fix, "use a shorter cable, or a slower mode");
}

static void check_pins(const tl_checker *k, const tl_bus *bus)
{
    for (int i = 0; i < bus->line_count; i++) {
        const tl_pin *pin = bus->pins[i] != TL_NONE ? &k->plan->pins[bus->pins[i]] : NULL;
        if (pin == NULL || (bus->spi ? (pin->spi >> i & 1) != 0 : pin->i2c))
            continue;
        tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_BUS_PIN, bus->place,
                                     "%s has no hardware function for %s of an %s bus", pin->name,
                                     bus->line_name[i], bus->spi ? "SPI" : "I2C");
        tl_finding_text(&f->fix, "use a pin with that function: 'tinyladder pins' lists them");
        return;
    }
}

/* The lowest high that a device on a bus gets, and which rail or pin gives it. */
static double least_high(const tl_checker *k, const tl_bus *bus, const char **giver)
{
    double high = 0;
    for (int i = 0; bus->spi && i < bus->line_count; i++) {
        if (bus->pins[i] == TL_NONE || i == 1) /* its data line is the device's to drive */
            continue;
        const tl_pin *pin = &k->plan->pins[bus->pins[i]];
        *giver = pin->name;
        return tl_level_volts(pin->limits.voh, k->plan->supplies[pin->limits.supply].volts.low);
    }
    for (const tl_plan_part *pull = NULL;
         (pull = tl_parts_next(&k->circuit->parts, bus->first_line, TL_PART_PULL, pull)) != NULL;) {
        const int rail = pull->rail;
        if (pull->up && pull->side == 0 && rail != TL_TO_GROUND && k->plan->supplies[rail].volts.low > high) {
            high = k->plan->supplies[rail].volts.low;
            *giver = k->plan->supplies[rail].name;
        }
    }
    return high;
}

/* What a device takes for a high: seven tenths of its own supply, by UM10204 and by what is usual on SPI. */
static void check_device_level(const tl_checker *k, const tl_plan_converter *converter)
{
    const tl_bus *bus = &k->plan->buses[converter->bus];
    const char *giver = NULL;
    const double high = least_high(k, bus, &giver),
                 wanted = tl_vih_share * k->plan->supplies[converter->supply].volts.high;
    if (giver == NULL || high >= wanted)
        return;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_BUS_LEVEL, converter->place,
                                 "bus %s: high level may be below VIH of %s on %s", bus->name,
                                 converter->name, k->plan->supplies[converter->supply].name);
    tl_finding_figures(f, TL_DIM_VOLT, high, wanted);
    tl_finding_text(&f->figure, "%s gives %s min; VIH %s (0.7 of its supply)", giver,
                    tl_show(high, TL_DIM_VOLT, TL_ROUND_DOWN).text,
                    tl_show(wanted, TL_DIM_VOLT, TL_ROUND_UP).text);
    tl_finding_text(&f->fix, "supply %s from the rail of the bus, or add a level shifter: 'size shift'",
                    converter->name);
}

void tl_check_buses(const tl_checker *k)
{
    for (int b = 0; b < k->plan->bus_count; b++) {
        const tl_bus *bus = &k->plan->buses[b];
        check_pins(k, bus);
        if (bus->spi)
            continue;
        check_line(k, bus, bus->first_line); /* both lines are alike */
    }
    for (int c = 1; c < k->plan->converter_count; c++) {
        const tl_plan_converter *converter = &k->plan->converters[c];
        const tl_quantity *rail = &k->plan->supplies[converter->supply].volts;
        check_device_level(k, converter);
        for (int other = 1; other < c; other++) {
            if (k->plan->converters[other].bus != converter->bus ||
                k->plan->converters[other].address != converter->address || converter->address < 0)
                continue;
            tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_ADDRESS_TWICE, converter->place,
                                         "%s and %s have the same address on one bus", converter->name,
                                         k->plan->converters[other].name);
            tl_finding_text(&f->figure, "both use address 0x%02lx", (unsigned long)converter->address);
            tl_finding_text(&f->fix, "set another address at one of them, or move it to another bus");
        }
        if (rail->low >= converter->part->supply.low && rail->high <= converter->part->supply.high)
            continue;
        tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_PART_SUPPLY, converter->place,
                                     "%s: the voltage of %s is outside its supply range", converter->name,
                                     k->plan->supplies[converter->supply].name);
        tl_finding_figures(f, TL_DIM_VOLT, rail->low, rail->high);
        tl_finding_text(&f->figure, "%s to %s; the part needs %s to %s",
                        tl_show(rail->low, TL_DIM_VOLT, TL_ROUND_DOWN).text,
                        tl_show(rail->high, TL_DIM_VOLT, TL_ROUND_UP).text,
                        tl_show(converter->part->supply.low, TL_DIM_VOLT, TL_ROUND_NEAREST).text,
                        tl_show(converter->part->supply.high, TL_DIM_VOLT, TL_ROUND_NEAREST).text);
    }
}
