/* SPDX-License-Identifier: MIT */
/*
 * An 8-bit AVR: the simulator runs the program; here its pins meet the bench. What a line is used for, and
 * drives, goes over to the bench as soon as its registers change; what the bench has at its inputs comes back
 * every LOOK_US. A conversion is the bench's: its word comes out of the chip's own registers. Bytes of the
 * two buses go to the plan's devices, and theirs come back.
 *
 * The bench is never behind the chip. It may be ahead, by as long as it takes for what the chip does in one
 * piece: an acquisition, a transfer on a bus.
 */
#include "avr_chip.h"
#include <fcntl.h>
#include <math.h>
#include <simavr/avr_ioport.h>
#include <simavr/sim_elf.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

enum { LOOK_US = 20 };

static double time_of(const chip *base)
{
    return (double)((const avr_chip *)base)->avr->cycle / (double)base->hertz;
}

/* --- lines --- */

avr_io_t *avr_next(avr_t *avr, avr_io_t *after, const char *kind)
{
    for (avr_io_t *io = after != NULL ? after->next : avr->io_port; io != NULL; io = io->next) {
        if (strcmp(io->kind, kind) == 0)
            return io;
    }
    return NULL;
}

static const avr_ioport_t *port_named(avr_t *avr, char name)
{
    for (avr_io_t *io = avr_next(avr, NULL, "port"); io != NULL; io = avr_next(avr, io, "port")) {
        if (((avr_ioport_t *)io)->name == name)
            return (avr_ioport_t *)io;
    }
    return NULL;
}

static bool has_port(const chip *base, char name)
{
    return port_named(((const avr_chip *)base)->avr, name) != NULL;
}

static avr_irq_t *port_irq(const avr_chip *of, char port, int index)
{
    return avr_io_getirq(of->avr, (uint32_t)AVR_IOCTL_IOPORT_GETIRQ(port), index);
}

static void find_compare(avr_chip *of, const chip_line *line, avr_line *at)
{
    const avr_ioport_t *port = port_named(of->avr, line->port);
    for (avr_io_t *io = avr_next(of->avr, NULL, "timer"); io != NULL; io = avr_next(of->avr, io, "timer")) {
        const avr_timer_t *timer = (avr_timer_t *)io;
        for (int i = 0; i < AVR_TIMER_COMP_COUNT; i++) {
            const avr_regbit_t pin = timer->comp[i].com_pin;
            if (pin.reg == port->r_port && pin.bit == line->bit && timer->comp[i].com.reg != 0) {
                at->compare = &timer->comp[i];
                at->timer = timer;
            }
        }
    }
}

/* The share of the time that a timer drives it for; TL_NONE where none does. */
static int share_of(const avr_chip *of, const avr_line *at)
{
    if (at->compare == NULL)
        return TL_NONE;
    const int mode = avr_regbit_get(of->avr, at->compare->com);
    if (mode != avr_timer_com_clear && mode != avr_timer_com_set)
        return TL_NONE;
    unsigned level = of->avr->data[at->compare->r_ocr];
    double top = 255;
    if (at->compare->r_ocrh != 0) {
        level |= (unsigned)of->avr->data[at->compare->r_ocrh] << 8;
        top = at->timer->mode.size >= 8 ? ldexp(1, at->timer->mode.size) - 1 : 65535;
    }
    const double share = fmin(1, (level + 1) / (top + 1));
    return (int)lround(UINT16_MAX * (mode == avr_timer_com_clear ? share : 1 - share));
}

static void follow(avr_chip *of, chip_line *line, const avr_line *at)
{
    const avr_ioport_t *port = port_named(of->avr, line->port);
    const bool out = (of->avr->data[port->r_ddr] >> line->bit & 1) != 0,
               high = (of->avr->data[port->r_port] >> line->bit & 1) != 0;
    const tl_line_use use = out ? TL_LINE_OUTPUT : high ? TL_LINE_INPUT_PULL_UP : TL_LINE_INPUT;
    const int duty = out ? share_of(of, at) : TL_NONE;
    chip_set_line(&of->base, line, use, duty != TL_NONE ? (uint16_t)duty : high ? UINT16_MAX : 0);
}

void avr_follow(avr_chip *of)
{
    of->changed = false;
    for (int i = 0; i < of->base.line_count; i++)
        follow(of, &of->base.lines[i], &of->at[i]);
}

/* The levels of a port's inputs, so that the simulator keeps to them whenever something is written to the
 * port. */
static void hold_inputs(avr_chip *of, char port)
{
    unsigned mask = 0, value = 0;
    for (int i = 0; i < of->base.line_count; i++) {
        const chip_line *line = &of->base.lines[i];
        if (line->port != port)
            continue;
        mask |= 1u << line->bit;
        value |= (unsigned)of->at[i].level << line->bit;
    }
    avr_ioport_external_t held = {
        .name = (unsigned long)port & 0x7f, .mask = mask & 0xff, .value = value & 0xff};
    (void)avr_ioctl(of->avr, (uint32_t)AVR_IOCTL_IOPORT_SET_EXTERNAL(port), &held);
}

/* Inputs, as the bench has them now. */
static void look(avr_chip *of)
{
    chip_bring_bench(&of->base);
    for (int i = 0; i < of->base.line_count; i++) {
        const chip_line *line = &of->base.lines[i];
        bool high = of->at[i].level;
        if (line->use == TL_LINE_OUTPUT || tl_port_line_level(of->base.port, line->line, &high) != TL_OK ||
            high == of->at[i].level)
            continue;
        of->at[i].level = high;
        hold_inputs(of, line->port);
        avr_raise_irq(of->at[i].in, high);
    }
}

static void on_change(struct avr_irq_t *irq, uint32_t value, void *param)
{
    (void)irq;
    (void)value;
    ((avr_chip *)param)->changed = true;
}

/* --- converter --- */

static uint16_t chosen_mv(const avr_chip *of)
{
    return of->converter->ref_values[avr_regbit_get_array(of->avr, of->converter->ref, 3)];
}

/* Which of the plan's references the program has chosen, and else its volts: 0 where nothing is at the pin.
 */
static int chosen_reference(const avr_chip *of, double *volts)
{
    const uint16_t chosen = chosen_mv(of);
    const tl_converter *part = chip_plan(&of->base)->converters[0].part;
    *volts = chosen > ADC_VREF_AVCC ? chosen / 1e3 : 0;
    for (int i = 0; i < part->reference_count; i++) {
        const tl_reference *r = &part->references[i];
        /* What is wired to the reference pin has a name that says so. */
        const bool is = chosen > ADC_VREF_AVCC    ? r->supply < 0 && fabs(r->volts.nominal - *volts) < 1e-3
                        : chosen == ADC_VREF_AVCC ? r->supply == 0
                                                  : strcmp(r->name, "outer") == 0;
        if (is)
            return i;
    }
    return TL_NONE;
}

/* The word that the bench has for it; the volts are those that give this word in the simulator's reckoning.
 * The channel is connected since it was chosen, and for another cycle and a half of the converter. */
static void on_conversion(struct avr_irq_t *irq, uint32_t value, void *param)
{
    (void)irq;
    avr_chip *of = param;
    union {
        avr_adc_mux_t mux;
        uint32_t value;
    } asked = {.value = value};
    if (asked.mux.kind != ADC_MUX_SINGLE || asked.mux.src > ADC_IRQ_ADC7)
        return;
    const double hertz = (double)of->base.hertz,
                 clock = hertz / (1 << avr_regbit_get_array(of->avr, of->converter->adps, 3)),
                 connected = (double)(of->avr->cycle - of->mux_since) / hertz + 1.5 / clock;
    const uint32_t full_mv = chosen_mv(of) > ADC_VREF_AVCC ? chosen_mv(of) : SUPPLY_MV;
    uint32_t word = 0;
    double volts;
    chip_bring_bench(&of->base);
    const int chosen = chosen_reference(of, &volts);
    const uint8_t reference = chip_before_conversion(&of->base, (uint8_t)asked.mux.src, chosen, volts);
    if (chip_convert(&of->base, (uint8_t)asked.mux.src, reference, connected, clock, &word))
        avr_raise_irq(of->converter->io.irq + ADC_IRQ_ADC0 + asked.mux.src, (word * full_mv + 1022) / 1023);
    of->mux_since = of->avr->cycle;
}

/* --- the whole --- */

static bool wire(avr_chip *of, char why[200])
{
    const tl_plan *plan = chip_plan(&of->base);
    if (!chip_wire_lines(&of->base, has_port, why))
        return false;
    for (int i = 0; i < of->base.line_count; i++) {
        const chip_line *line = &of->base.lines[i];
        of->at[i].in = port_irq(of, line->port, line->bit);
        find_compare(of, line, &of->at[i]);
    }
    for (char port = 'A'; port < 'A' + PORTS; port++) {
        if (port_named(of->avr, port) == NULL)
            continue;
        for (int i = IOPORT_IRQ_DIRECTION_ALL; i <= IOPORT_IRQ_REG_PORT; i++)
            avr_irq_register_notify(port_irq(of, port, i), on_change, of);
    }
    of->converter = (avr_adc_t *)avr_next(of->avr, NULL, "adc");
    if (of->converter != NULL)
        avr_irq_register_notify(of->converter->io.irq + ADC_IRQ_OUT_TRIGGER, on_conversion, of);
    if (of->converter != NULL && plan->board->has_converter && plan->converters[0].part->word.bits != 10) {
        snprintf(why, 200, "the chip's converter has 10 bits, the board says %d",
                 plan->converters[0].part->word.bits);
        return false;
    }
    avr_wire_buses(of);
    avr_wire_serial(of);
    return true;
}

/* The simulator tells on standard output what it loads: that is the serial line's. */
static bool read_image(const char *image, elf_firmware_t *firmware)
{
    fflush(stdout);
    const int out = dup(STDOUT_FILENO), nowhere = open("/dev/null", O_WRONLY | O_CLOEXEC);
    if (out >= 0 && nowhere >= 0)
        (void)dup2(nowhere, STDOUT_FILENO);
    const bool good = elf_read_firmware(image, firmware) == 0 && firmware->flash != NULL;
    fflush(stdout);
    if (out >= 0) {
        (void)dup2(out, STDOUT_FILENO);
        close(out);
    }
    if (nowhere >= 0)
        close(nowhere);
    return good;
}

static chip *make(void)
{
    avr_chip *of = calloc(1, sizeof *of);
    return of != NULL ? &of->base : NULL;
}

static bool open_image(chip *base, const char *image, const char *name, char why[200])
{
    avr_chip *of = (avr_chip *)base;
    elf_firmware_t firmware = {0};
    if (!read_image(image, &firmware))
        return false;
    of->avr = avr_make_mcu_by_name(name);
    if (of->avr == NULL) {
        snprintf(why, 200, "the simulator knows no chip '%s'", name);
        return false;
    }
    avr_init(of->avr);
    of->avr->log = LOG_NONE;
    avr_load_firmware(of->avr, &firmware);
    of->avr->frequency = (uint32_t)base->hertz;
    of->avr->vcc = of->avr->avcc = of->avr->aref = SUPPLY_MV;
    return wire(of, why);
}

static void free_chip(chip *base)
{
    avr_chip *of = (avr_chip *)base;
    if (of->avr != NULL) {
        avr_terminate(of->avr);
        free(of->avr);
    }
    free(of);
}

static bool run(chip *base, double until)
{
    avr_chip *of = (avr_chip *)base;
    const avr_cycle_count_t end = (avr_cycle_count_t)(until * (double)base->hertz),
                            every = (avr_cycle_count_t)base->hertz * LOOK_US / 1000000;
    avr_cycle_count_t next = of->avr->cycle;
    while (of->avr->cycle < end) {
        if (of->avr->cycle >= next) {
            avr_follow(of); /* a timer may have taken a line over */
            look(of);
            next = of->avr->cycle + every;
        }
        const int state = avr_run(of->avr);
        if (of->converter != NULL && of->avr->data[of->converter->r_admux] != of->mux) {
            of->mux = of->avr->data[of->converter->r_admux];
            of->mux_since = of->avr->cycle;
        }
        if (of->addressed)
            avr_put_right(of);
        if (of->changed)
            avr_follow(of);
        base->crashed = state == cpu_Crashed;
        if (state == cpu_Done || base->crashed)
            return false;
    }
    return true;
}

const chip_kind chip_kind_avr = {.machine = 83,
                                 .bits = 32,
                                 .name = BENCH_RUN_AVR,
                                 .hertz = BENCH_RUN_AVR_HERTZ,
                                 .make = make,
                                 .open = open_image,
                                 .run = run,
                                 .time = time_of,
                                 .free = free_chip};
