/*
 * The simulator runs the program; here its pins meet the bench. What a line is used for, and drives, goes
 * over to the bench as soon as its registers change; what the bench has at its inputs comes back every
 * LOOK_US. A conversion is the bench's: its word comes out of the chip's own registers. Bytes of the two
 * buses go to the plan's devices, and theirs come back.
 *
 * The bench is never behind the chip. It may be ahead, by as long as it takes for what the chip does in one
 * piece: an acquisition, a transfer on a bus.
 */
#include "avr_chip.h"
#include <errno.h>
#include <fcntl.h>
#include <math.h>
#include <simavr/avr_ioport.h>
#include <simavr/sim_elf.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

enum { PORTS = 8, LOOK_US = 20 };

/* --- time --- */

double chip_time(const chip *of)
{
    return (double)of->avr->cycle / (double)of->hertz;
}

void chip_bring_bench(chip *of)
{
    tl_bench_go_to(of->bench, chip_time(of));
}

/* --- lines --- */

avr_io_t *chip_next(avr_t *avr, avr_io_t *after, const char *kind)
{
    for (avr_io_t *io = after != NULL ? after->next : avr->io_port; io != NULL; io = io->next) {
        if (strcmp(io->kind, kind) == 0)
            return io;
    }
    return NULL;
}

static const avr_ioport_t *port_named(avr_t *avr, char name)
{
    for (avr_io_t *io = chip_next(avr, NULL, "port"); io != NULL; io = chip_next(avr, io, "port")) {
        if (((avr_ioport_t *)io)->name == name)
            return (avr_ioport_t *)io;
    }
    return NULL;
}

static avr_irq_t *port_irq(const chip *of, char port, int index)
{
    return avr_io_getirq(of->avr, (uint32_t)AVR_IOCTL_IOPORT_GETIRQ(port), index);
}

static void find_compare(chip *of, chip_line *line)
{
    const avr_ioport_t *port = port_named(of->avr, line->port);
    for (avr_io_t *io = chip_next(of->avr, NULL, "timer"); io != NULL; io = chip_next(of->avr, io, "timer")) {
        const avr_timer_t *timer = (avr_timer_t *)io;
        for (int i = 0; i < AVR_TIMER_COMP_COUNT; i++) {
            const avr_regbit_t pin = timer->comp[i].com_pin;
            if (pin.reg == port->r_port && pin.bit == line->bit && timer->comp[i].com.reg != 0) {
                line->compare = &timer->comp[i];
                line->timer = timer;
            }
        }
    }
}

/* The share of the time that a timer drives it for; TL_NONE where none does. */
static int share_of(const chip *of, const chip_line *line)
{
    if (line->compare == NULL)
        return TL_NONE;
    const int mode = avr_regbit_get(of->avr, line->compare->com);
    if (mode != avr_timer_com_clear && mode != avr_timer_com_set)
        return TL_NONE;
    unsigned level = of->avr->data[line->compare->r_ocr];
    double top = 255;
    if (line->compare->r_ocrh != 0) {
        level |= (unsigned)of->avr->data[line->compare->r_ocrh] << 8;
        top = line->timer->mode.size >= 8 ? ldexp(1, line->timer->mode.size) - 1 : 65535;
    }
    const double share = fmin(1, (level + 1) / (top + 1));
    return (int)lround(UINT16_MAX * (mode == avr_timer_com_clear ? share : 1 - share));
}

/* What the chip's registers make of a line, told to the bench where it is new. */
static void follow(chip *of, chip_line *line)
{
    const avr_ioport_t *port = port_named(of->avr, line->port);
    const bool out = (of->avr->data[port->r_ddr] >> line->bit & 1) != 0,
               high = (of->avr->data[port->r_port] >> line->bit & 1) != 0;
    const tl_line_use use = out ? TL_LINE_OUTPUT : high ? TL_LINE_INPUT_PULL_UP : TL_LINE_INPUT;
    const int duty = out ? share_of(of, line) : TL_NONE;
    const uint16_t share = duty != TL_NONE ? (uint16_t)duty : high ? UINT16_MAX : 0;
    if (use == line->use && (!out || share == line->share))
        return;
    chip_bring_bench(of);
    if (use != line->use && tl_port_line_use(of->port, line->line, use) != TL_OK)
        (void)tl_port_line_use(of->port, line->line, TL_LINE_INPUT); /* a pull that the board has not */
    if (out && (share == 0 || share == UINT16_MAX))
        (void)tl_port_line_drive(of->port, line->line, share != 0);
    else if (out && tl_port_line_duty(of->port, line->line, share) != TL_OK)
        (void)tl_port_line_drive(of->port, line->line, share > UINT16_MAX / 2);
    if (line->selects && out && share == 0 && line->high) {
        of->selected = line->line;
        tl_bench_spi_begin(of->bench, (uint8_t)of->spi_bus, line->line);
    } else if (line->selects && of->selected == line->line && share != 0) {
        of->selected = TL_NONE;
    }
    line->use = use;
    line->share = share;
    line->high = out && share != 0;
}

void chip_follow(chip *of)
{
    of->changed = false;
    for (int i = 0; i < of->line_count; i++)
        follow(of, &of->lines[i]);
}

/* The levels of a port's inputs, so that the simulator keeps to them whenever something is written to the
 * port. */
static void hold_inputs(chip *of, char port)
{
    unsigned mask = 0, value = 0;
    for (int i = 0; i < of->line_count; i++) {
        const chip_line *line = &of->lines[i];
        if (line->port != port)
            continue;
        mask |= 1u << line->bit;
        value |= (unsigned)line->level << line->bit;
    }
    avr_ioport_external_t held = {
        .name = (unsigned long)port & 0x7f, .mask = mask & 0xff, .value = value & 0xff};
    (void)avr_ioctl(of->avr, (uint32_t)AVR_IOCTL_IOPORT_SET_EXTERNAL(port), &held);
}

/* Inputs, as the bench has them now. */
static void look(chip *of)
{
    chip_bring_bench(of);
    for (int i = 0; i < of->line_count; i++) {
        chip_line *line = &of->lines[i];
        bool high = line->level;
        if (line->use == TL_LINE_OUTPUT || tl_port_line_level(of->port, line->line, &high) != TL_OK ||
            high == line->level)
            continue;
        line->level = high;
        hold_inputs(of, line->port);
        avr_raise_irq(line->in, high);
    }
}

static void on_change(struct avr_irq_t *irq, uint32_t value, void *param)
{
    (void)irq;
    (void)value;
    ((chip *)param)->changed = true;
}

/* --- converter --- */

/* Millivolts that the simulator takes for the reference now. */
static uint32_t full_scale_of(const chip *of)
{
    const uint16_t reference =
        of->converter->ref_values[avr_regbit_get_array(of->avr, of->converter->ref, 3)];
    return reference > ADC_VREF_AVCC ? reference : SUPPLY_MV;
}

/* The word that the bench has for it; the volts are those that give this word in the simulator's reckoning.
 */
static void on_conversion(struct avr_irq_t *irq, uint32_t value, void *param)
{
    (void)irq;
    chip *of = param;
    union {
        avr_adc_mux_t mux;
        uint32_t value;
    } asked = {.value = value};
    const double clock =
                     1e9 * (1 << avr_regbit_get_array(of->avr, of->converter->adps, 3)) / (double)of->hertz,
                 connected = 1e9 * (double)(of->avr->cycle - of->mux_since) / (double)of->hertz + 1.5 * clock;
    uint32_t word = 0;
    bool ended = false;
    if (asked.mux.kind != ADC_MUX_SINGLE || asked.mux.src > ADC_IRQ_ADC7)
        return;
    chip_bring_bench(of);
    const uint8_t reference = chip_before_conversion(of, (uint8_t)asked.mux.src);
    if (tl_port_claim(of->port, of) != TL_OK ||
        tl_port_conversion_start(of->port, of, (uint8_t)asked.mux.src, reference,
                                 (uint32_t)fmin(connected, 1e5)) != TL_OK)
        return;
    for (int i = 0; i < 1000 && !ended; i++) {
        if (tl_port_conversion_ended(of->port, of, &ended) != TL_OK ||
            (!ended && tl_port_wait_us(of->port, 10) != TL_OK))
            return;
    }
    if (tl_port_conversion_word(of->port, of, &word) == TL_OK)
        avr_raise_irq(of->converter->io.irq + ADC_IRQ_ADC0 + asked.mux.src,
                      (chip_converted(of, word) * full_scale_of(of) + 1022) / 1023);
    of->mux_since = of->avr->cycle;
}

/* --- the whole --- */

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
static bool wire_pin(chip *of, const tl_plan *plan, int pin, char why[200])
{
    const char *place = plan->board->pins[pin].port;
    if (place == NULL || place[0] == '\0')
        return true;
    const bool named =
        place[0] >= 'A' && place[0] < 'A' + PORTS && place[1] >= '0' && place[1] <= '7' && place[2] == '\0';
    if (!named || port_named(of->avr, place[0]) == NULL) {
        snprintf(why, 200, "pin %s: the chip has no line %s", plan->board->pins[pin].name, place);
        return false;
    }
    if (!plan->board->pins[pin].digital || of->line_count == LINES_MOST)
        return true;
    chip_line *line = &of->lines[of->line_count++];
    *line = (chip_line){.line = (uint8_t)pin,
                        .port = place[0],
                        .bit = (uint8_t)(place[1] - '0'),
                        .use = TL_LINE_RELEASED,
                        .selects = is_select(plan, pin),
                        .in = port_irq(of, place[0], place[1] - '0')};
    find_compare(of, line);
    return true;
}

static bool wire(chip *of, char why[200])
{
    const tl_plan *plan = tl_circuit_plan(tl_bench_circuit(of->bench));
    for (int i = 0; i < plan->board->pin_count; i++) {
        if (!wire_pin(of, plan, i, why))
            return false;
    }
    if (of->line_count == 0) {
        snprintf(why, 200, "no pin of the board says where it is on the chip (port: B3)");
        return false;
    }
    for (char port = 'A'; port < 'A' + PORTS; port++) {
        if (port_named(of->avr, port) == NULL)
            continue;
        for (int i = IOPORT_IRQ_DIRECTION_ALL; i <= IOPORT_IRQ_REG_PORT; i++)
            avr_irq_register_notify(port_irq(of, port, i), on_change, of);
    }
    of->converter = (avr_adc_t *)chip_next(of->avr, NULL, "adc");
    if (of->converter != NULL)
        avr_irq_register_notify(of->converter->io.irq + ADC_IRQ_OUT_TRIGGER, on_conversion, of);
    if (of->converter != NULL && plan->board->has_converter && plan->converters[0].part->word.bits != 10) {
        snprintf(why, 200, "the chip's converter has 10 bits, the board says %d",
                 plan->converters[0].part->word.bits);
        return false;
    }
    chip_wire_buses(of, plan);
    chip_wire_serial(of);
    return true;
}

/* The head of an ELF file says for which kind of chip it is; the simulator would take any file. */
static bool is_for_avr(const char *image)
{
    enum { MACHINE_AT = 18, AVR = 83 };
    unsigned char head[MACHINE_AT + 2] = {0};
    const int file = open(image, O_RDONLY | O_CLOEXEC);
    const bool whole = file >= 0 && read(file, head, sizeof head) == (ssize_t)sizeof head;
    if (file >= 0)
        close(file);
    return whole && memcmp(head, "\177ELF", 4) == 0 && head[MACHINE_AT] == AVR && head[MACHINE_AT + 1] == 0;
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

chip *chip_new(tl_bench *bench, const char *image, const char *name, unsigned long hertz, char why[200])
{
    elf_firmware_t firmware = {0};
    chip *of = calloc(1, sizeof *of);
    snprintf(why, 200, "there is no more memory");
    if (of == NULL)
        return NULL;
    *of = (chip){.bench = bench, .port = tl_bench_port(bench), .hertz = hertz};
    for (int call = 0; call < TL_BENCH_CALLS; call++)
        tl_bench_call_takes(bench, (tl_bench_call)call, 1e-9, 0); /* time passes on the chip */
    snprintf(why, 200, "%s: not a program for such a chip", image);
    if (access(image, R_OK) != 0) {
        snprintf(why, 200, "%s: %s", image, strerror(errno));
        free(of);
        return NULL;
    }
    if (!is_for_avr(image) || !read_image(image, &firmware)) {
        free(of);
        return NULL;
    }
    of->avr = avr_make_mcu_by_name(name);
    if (of->avr == NULL) {
        snprintf(why, 200, "the simulator knows no chip '%s'", name);
        free(of);
        return NULL;
    }
    avr_init(of->avr);
    of->avr->log = LOG_NONE;
    avr_load_firmware(of->avr, &firmware);
    of->avr->frequency = (uint32_t)hertz;
    of->avr->vcc = of->avr->avcc = of->avr->aref = SUPPLY_MV;
    if (wire(of, why))
        return of;
    chip_free(of);
    return NULL;
}

void chip_free(chip *of)
{
    if (of == NULL)
        return;
    avr_terminate(of->avr);
    free(of->avr);
    free(of);
}

bool chip_drives(const chip *of, int pin, double *share)
{
    for (int i = 0; i < of->line_count; i++) {
        *share = of->lines[i].share / (double)UINT16_MAX;
        if (of->lines[i].line == pin)
            return of->lines[i].use == TL_LINE_OUTPUT;
    }
    return false;
}

bool chip_crashed(const chip *of)
{
    return of->crashed;
}

bool chip_run(chip *of, double until)
{
    const avr_cycle_count_t end = (avr_cycle_count_t)(until * (double)of->hertz),
                            every = (avr_cycle_count_t)of->hertz * LOOK_US / 1000000;
    avr_cycle_count_t next = of->avr->cycle;
    while (of->avr->cycle < end) {
        if (of->avr->cycle >= next) {
            chip_follow(of); /* a timer may have taken a line over */
            look(of);
            next = of->avr->cycle + every;
        }
        const int state = avr_run(of->avr);
        if (of->converter != NULL && of->avr->data[of->converter->r_admux] != of->mux) {
            of->mux = of->avr->data[of->converter->r_admux];
            of->mux_since = of->avr->cycle;
        }
        if (of->addressed)
            chip_put_right(of);
        if (of->changed)
            chip_follow(of);
        of->crashed = state == cpu_Crashed;
        if (state == cpu_Done || of->crashed)
            return false;
    }
    return true;
}
