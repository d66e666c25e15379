/* SPDX-License-Identifier: MIT */
/*
 * I2C, bit by bit (UM10204): two lines that anybody can pull low, a clock that a chip may stretch, an
 * acknowledge after every byte. What is low enough, and whether a released line has risen in time, comes from
 * the network.
 */
#include "base/memory.h"
#include "bench/bus_internal.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum { SCL, SDA, LONGEST_NS = 10000000 };

typedef enum { CHIP_IDLE, CHIP_ADDRESS, CHIP_WRITE, CHIP_READ } chip_state;

/* One chip in one transfer. */
typedef struct {
    int converter;
    chip_state state;
    uint8_t shift;
    int bits;       /* of the byte so far; the ninth is the acknowledge */
    int bytes;      /* since the address */
    bool low;       /* it pulls SDA low now */
    bool addressed; /* the address and its acknowledge are over */
    int64_t stretch_ns;
} i2c_chip;

typedef struct {
    tl_bench *bench;
    int bus;
    bench_bus_line *lines; /* of this bus */
    i2c_chip *chips;       /* on this bus */
    int chip_count;
    int64_t half_ns, started_ns;
} i2c_run;

/* --- what the lines do --- */

static void pull(tl_bench *bench, int line, bool board, bool chip)
{
    const int pin = bench->circuit->plan->signals[line].pin;
    if (bench->circuit->pins[pin].drive_low != TL_NET_NONE) /* a rail's own pin never moves */
        island_set_contact(bench, bench->circuit->pins[pin].drive_low, board);
    island_set_contact(bench, bench->circuit->signals[line].contact, chip);
}

/* A chip's input is high above 0.7 of its supply and low below 0.3 of it; between them it stays as it was. */
static bool chip_sees_high(tl_bench *bench, int line, double chip_rail, bool before)
{
    const tl_signal_nodes *nodes = &bench->circuit->signals[line];
    const bench_island *s = bench->signals[line].island;
    const int node = tl_island_index(s->island, nodes->source);
    const double volts = node != TL_NET_NONE ? s->volts[node] : 0;
    return volts > (before ? 0.3 : 0.7) * chip_rail;
}

static double rail_of_chips(const tl_bench *bench, int bus)
{
    const tl_plan *plan = bench->circuit->plan;
    for (int i = 1; i < plan->converter_count; i++) {
        if (plan->converters[i].bus == bus)
            return bench->values[bench->circuit->supply_param[plan->converters[i].supply]];
    }
    return 0;
}

/* Whether what was found the last time must be so again: the same contacts, nothing that has happened,
 * nothing that moves, no fault of a line that comes and goes. */
static bool is_as_before(const i2c_run *run, int which)
{
    const tl_bench *bench = run->bench;
    const bench_bus_line *line = &run->lines[which];
    const bench_island *s = bench->signals[bench->circuit->plan->buses[run->bus].first_line + which].island;
    for (int i = 0; bench->scene != NULL && i < bench->scene->fault_count; i++) {
        if (bench->scene->faults[i].line[0] != TL_NONE)
            return false;
    }
    return line->known && line->key == s->key && line->events == s->events && s->stimulus_count == 0 &&
           s->edge_count == 0 && s->cursor_count == 0 && !bench->strict;
}

/* Tries out every state for half a bit: a release is seen from the low before it, as slow as it is. */
static void probe_line(i2c_run *run, int which)
{
    tl_bench *bench = run->bench;
    if (is_as_before(run, which)) {
        bench_pass_to(bench, bench->now_ns + 4 * run->half_ns);
        return;
    }
    const tl_bus *bus = &bench->circuit->plan->buses[run->bus];
    const int line = bus->first_line + which, pin = bus->pins[which];
    const double rail = rail_of_chips(bench, run->bus);
    static const bool order[4][2] = {{true, false}, {true, true}, {false, true}, {false, false}};
    bool seen = true;
    for (int i = 0; i < 4; i++) {
        const bool board = order[i][0], chip = order[i][1];
        pull(bench, line, board, chip);
        bench_pass_to(bench, bench->now_ns + run->half_ns);
        run->lines[which].at_pin[board][chip] = pin_level(bench, pin);
        seen = chip_sees_high(bench, line, rail, seen);
        run->lines[which].at_chip[board][chip] = seen;
    }
    const bench_island *s = bench->signals[line].island;
    run->lines[which].known = true;
    run->lines[which].key = s->key;
    run->lines[which].events = s->events;
}

static bool any_low(const i2c_run *run)
{
    bool low = false;
    for (int i = 0; i < run->chip_count; i++)
        low = low || run->chips[i].low;
    return low;
}

/* --- a chip --- */

/* How far the i-th byte of a register is above its lowest bit; -1 beyond its end. */
static int byte_shift(const tl_converter *part, int width, int i)
{
    const int count = (width + 7) / 8;
    if (i >= count)
        return -1;
    return 8 * (part->bytes == TL_DELIVERED_LOW_FIRST ? i : count - 1 - i);
}

/* The file's register at an address; where it gives no addresses, the settings. */
static int register_at(const tl_converter *part, int address)
{
    for (int i = 0; i < part->register_count; i++) {
        if (part->registers[i].address == address)
            return i;
    }
    return address == part->frame.settings ? part->frame.settings_register : TL_NONE;
}

static uint8_t byte_to_send(const tl_bench *bench, const i2c_chip *chip)
{
    const tl_converter *part = bench->circuit->plan->converters[chip->converter].part;
    const tl_frame *frame = &part->frame;
    const bench_chip *state = &bench->chips[chip->converter];
    const bool done = bench->now_ns >= state->end_ns && !bench->never_end;
    const int found = register_at(part, state->pointer);
    int width = found != TL_NONE ? part->registers[found].width : 8;
    unsigned long word = found != TL_NONE ? state->words[found] : 0xff;
    if (state->pointer == frame->result) {
        width = part->word.width;
        word = state->word;
    }
    if (state->pointer == frame->ready && frame->ready_bit != TL_NONE)
        word = (word & ~(1ul << frame->ready_bit)) | (unsigned long)(done == frame->ready_when)
                                                         << frame->ready_bit;
    const int shift = byte_shift(part, width, chip->bytes);
    return (uint8_t)(shift < 0 ? 0xff : word >> shift);
}

/* A part without a field that starts converts with every write of its settings. */
static void start_as_told(tl_bench *bench, int converter)
{
    const tl_converter *part = bench->circuit->plan->converters[converter].part;
    const unsigned long *words = bench->chips[converter].words;
    int index = 0;
    const tl_field *start = tl_converter_field(part, "start", &index);
    const char *told = start != NULL ? tl_field_value_name(start, tl_field_get(start, words[index])) : "now";
    if (told != NULL ? strcmp(told, "now") == 0 : tl_field_get(start, words[index]) != 0)
        chip_convert(bench, converter, chip_input(part, words));
}

static void take_byte(tl_bench *bench, i2c_chip *chip, uint8_t byte)
{
    const tl_converter *part = bench->circuit->plan->converters[chip->converter].part;
    bench_chip *state = &bench->chips[chip->converter];
    if (chip->bytes == 0) {
        state->pointer = byte;
        return;
    }
    const int found = register_at(part, state->pointer), at = chip->bytes - 1;
    const int width = found != TL_NONE ? part->registers[found].width : 0,
              shift = byte_shift(part, width, at);
    if (shift < 0)
        return;
    state->words[found] = (state->words[found] & ~(0xfful << shift)) | (unsigned long)byte << shift;
    if (found == part->frame.settings_register && at == (width + 7) / 8 - 1)
        start_as_told(bench, chip->converter);
}

static long address_of(const tl_bench *bench, int converter)
{
    const tl_scene_setting *setting = setting_of(bench, converter);
    return setting != NULL && setting->address >= 0 ? setting->address
                                                    : bench->circuit->plan->converters[converter].address;
}

/* The eighth bit has come: what the chip makes of the byte, and whether it acknowledges. */
static bool end_of_byte(tl_bench *bench, i2c_chip *chip)
{
    if (chip->state == CHIP_ADDRESS) {
        const bool mine = chip->shift >> 1 == address_of(bench, chip->converter) &&
                          !supply_is_missing(bench, bench->circuit->plan->converters[chip->converter].supply);
        chip->state = !mine ? CHIP_IDLE : (chip->shift & 1) != 0 ? CHIP_READ : CHIP_WRITE;
        return mine;
    }
    if (chip->state != CHIP_WRITE)
        return false;
    take_byte(bench, chip, chip->shift);
    chip->bytes++;
    return true;
}

static void begin_read(const tl_bench *bench, i2c_chip *chip)
{
    if (chip->state == CHIP_READ && chip->bits == 0)
        chip->shift = byte_to_send(bench, chip);
    chip->low = chip->state == CHIP_READ && (chip->shift >> (7 - chip->bits) & 1) == 0;
}

/* A whole clock as the chip sees it; high: SDA while the clock was high. */
static void clock_chip(tl_bench *bench, i2c_chip *chip, bool high)
{
    if (chip->state == CHIP_IDLE)
        return;
    const bool reads = chip->state == CHIP_READ && chip->addressed;
    if (chip->bits < 8 && !reads)
        chip->shift = (uint8_t)(chip->shift << 1 | high);
    chip->bits++;
    chip->low = false;
    if (chip->bits == 8 && !reads) {
        chip->low = end_of_byte(bench, chip);
        return;
    }
    if (chip->bits == 9) {
        chip->bits = 0;
        chip->addressed = true;
        chip->bytes += reads;
        if (reads && high)
            chip->state = CHIP_IDLE; /* not acknowledged: the board has had enough */
    }
    if (chip->bits < 8)
        begin_read(bench, chip);
}

/* --- the board's side --- */

/* While a chip stretches the clock, nothing goes on. */
static tl_status stretch(i2c_run *run)
{
    for (int i = 0; i < run->chip_count; i++) {
        if (run->chips[i].bits == 8)
            bench_pass_to(run->bench, run->bench->now_ns + run->chips[i].stretch_ns);
    }
    return run->bench->now_ns - run->started_ns > LONGEST_NS ? TL_ERR_PORT : TL_OK;
}

/* One bit: the board releases SDA or pulls it low; answers what it sees while the clock is high. */
static tl_status clock_bit(i2c_run *run, bool release, bool *seen)
{
    const bool chip_low = any_low(run);
    const tl_status status = stretch(run);
    bench_pass_to(run->bench, run->bench->now_ns + 2 * run->half_ns);
    *seen = run->lines[SDA].at_pin[!release][chip_low];
    if (!run->lines[SCL].at_pin[0][0])
        return TL_ERR_PORT; /* the clock never rises: a device holds it low for ever */
    const bool clock_is_seen = run->lines[SCL].at_chip[0][0] && !run->lines[SCL].at_chip[1][0];
    for (int i = 0; i < run->chip_count && clock_is_seen; i++)
        clock_chip(run->bench, &run->chips[i], run->lines[SDA].at_chip[!release][chip_low]);
    return status;
}

static void start(i2c_run *run)
{
    bench_pass_to(run->bench, run->bench->now_ns + 2 * run->half_ns);
    for (int i = 0; i < run->chip_count; i++) {
        i2c_chip *chip = &run->chips[i];
        *chip =
            (i2c_chip){.converter = chip->converter, .state = CHIP_ADDRESS, .stretch_ns = chip->stretch_ns};
    }
}

static tl_status write_byte(i2c_run *run, uint8_t byte)
{
    bool seen = false;
    tl_status status = TL_OK;
    for (int bit = 7; bit >= 0 && status == TL_OK; bit--)
        status = clock_bit(run, (byte >> bit & 1) != 0, &seen);
    if (status == TL_OK)
        status = clock_bit(run, true, &seen);
    return status == TL_OK && seen ? TL_ERR_ACK : status;
}

static tl_status read_byte(i2c_run *run, bool last, uint8_t *byte)
{
    bool seen = false;
    tl_status status = TL_OK;
    uint8_t value = 0;
    for (int bit = 0; bit < 8 && status == TL_OK; bit++) {
        status = clock_bit(run, true, &seen);
        value = (uint8_t)(value << 1 | seen);
    }
    *byte = value;
    return status == TL_OK ? clock_bit(run, last, &seen) : status;
}

static tl_status transfer(i2c_run *run, uint8_t address, const uint8_t *out, uint8_t out_count, uint8_t *in,
                          uint8_t in_count)
{
    tl_status status = TL_OK;
    if (out_count > 0 || in_count == 0) {
        start(run);
        status = write_byte(run, (uint8_t)(address << 1));
    }
    for (uint8_t i = 0; i < out_count && status == TL_OK; i++)
        status = write_byte(run, out[i]);
    if (status == TL_OK && in_count > 0) {
        start(run);
        status = write_byte(run, (uint8_t)(address << 1 | 1));
    }
    for (uint8_t i = 0; i < in_count && status == TL_OK; i++)
        status = read_byte(run, i + 1 == in_count, &in[i]);
    bench_pass_to(run->bench, run->bench->now_ns + 2 * run->half_ns); /* the stop */
    return status;
}

static void find_chips(i2c_run *run)
{
    const tl_plan *plan = run->bench->circuit->plan;
    run->chips = tl_alloc((size_t)plan->converter_count, sizeof *run->chips);
    for (int i = 1; i < plan->converter_count; i++) {
        if (plan->converters[i].bus != run->bus || plan->converters[i].part->bus != TL_BUS_I2C)
            continue;
        const tl_scene_setting *setting = setting_of(run->bench, i);
        const double stretch = setting != NULL ? setting->stretch : 0;
        run->chips[run->chip_count++] =
            (i2c_chip){.converter = i, .stretch_ns = stretch > 0 ? (int64_t)llround(1e9 * stretch) : 0};
    }
}

double tl_bench_bus_rate(const tl_bench *bench, uint8_t bus)
{
    return 0.5 / tl_bus_rule_of(bench->circuit->plan->buses[bus].mode)->half_clock;
}

void tl_bench_set_bus_rate(tl_bench *bench, uint8_t bus, double hertz)
{
    bench->bus_rate = hertz;
    bench->rated_bus = bus;
}

/* Half a clock, as the plan has it, or as a chip drives it. */
static double half_of(const tl_bench *bench, int bus)
{
    return bench->bus_rate > 0 && bench->rated_bus == bus ? 0.5 / bench->bus_rate
                                                          : 0.5 / tl_bench_bus_rate(bench, (uint8_t)bus);
}

tl_status bus_i2c(tl_bench *bench, uint8_t bus, uint8_t address, const uint8_t *out, uint8_t out_count,
                  uint8_t *in, uint8_t in_count)
{
    const tl_plan *plan = bench->circuit->plan;
    uint8_t taken[UINT8_MAX];
    if (bus >= plan->bus_count || plan->buses[bus].spi)
        return TL_ERR_ARG;
    i2c_run run = {.bench = bench,
                   .bus = bus,
                   .lines = bench->buses[bus],
                   .half_ns = llround(1e9 * half_of(bench, bus)),
                   .started_ns = bench->now_ns};
    find_chips(&run);
    probe_line(&run, SCL);
    probe_line(&run, SDA);
    /* A line that stays low: the bus is never free. */
    const bool is_free = run.lines[SCL].at_pin[0][0] && run.lines[SDA].at_pin[0][0];
    const tl_status status = is_free ? transfer(&run, address, out, out_count, taken, in_count) : TL_ERR_PORT;
    free(run.chips);
    if (status == TL_OK && in_count > 0)
        memcpy(in, taken, in_count);
    return status;
}
