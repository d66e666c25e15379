/* A simulated chip from inside: its lines, its converter, and what goes on on its buses. */
#ifndef TINYLADDER_BENCH_AVR_CHIP_H
#define TINYLADDER_BENCH_AVR_CHIP_H

#include "chip.h"
#include "tinyladder/design/plan.h"
#include <simavr/avr_adc.h>
#include <simavr/avr_timer.h>
#include <simavr/avr_twi.h>
#include <simavr/sim_avr.h>
#include <simavr/sim_io.h>

enum { SUPPLY_MV = 60000 }; /* the simulator's, in steps much finer than a count: any word can be had */

/* What a program may set otherwise than the plan: each is named once. */
typedef enum {
    MISTAKE_REFERENCE,
    MISTAKE_CLOCK,
    MISTAKE_SPI_MODE,
    MISTAKE_SPI_ORDER,
    MISTAKE_RATE
} chip_mistake;

enum { LINES_MOST = 96, TRANSFER_MOST = 255, AHEAD = 8, SAID_MOST = 256 };

/* A pin of the board at a line of the chip. */
typedef struct {
    uint8_t line; /* of the bench */
    char port;
    uint8_t bit;
    const avr_timer_comp_t *compare; /* what may drive it for a share of the time; NULL */
    const avr_timer_t *timer;
    bool selects;    /* a device on SPI */
    tl_line_use use; /* as the bench was told */
    bool high;
    uint16_t share;
    bool level; /* as the chip was told */
    avr_irq_t *in;
} chip_line;

/* What has gone over the two-wire bus since its start. */
typedef struct {
    uint8_t address;
    uint8_t out[TRANSFER_MOST], in[AHEAD];
    uint8_t out_count, in_at;
    bool reads, there;
} two_wire;

struct chip {
    tl_bench *bench;
    const tl_port *port;
    avr_t *avr;
    avr_adc_t *converter;
    unsigned long hertz;
    chip_line lines[LINES_MOST];
    int line_count;
    uint8_t mux; /* of the converter, and since when */
    avr_cycle_count_t mux_since;
    avr_irq_t *two_wire_in, *spi_in, *serial_in;
    two_wire transfer;
    avr_twi_t *two_wire;
    bool addressed;                /* just now */
    int two_wire_bus, spi_bus;     /* of the plan; TL_NONE */
    int selected;                  /* the line that selects a device now; TL_NONE */
    unsigned named;                /* a bit a chip_mistake */
    uint8_t spi_late, spi_late_in; /* the bit that comes with the next byte */
    bool changed, crashed;
    chip_heard *heard;
    void *heard_by;
    char said[SAID_MOST];
    unsigned said_first, said_count;
    bool full;
};

/* The bench, no earlier than the chip. */
void chip_bring_bench(chip *of);
/* What the chip's registers make of its lines, told to the bench where it is new. */
void chip_follow(chip *of);
/* The next part of the simulator of that kind; the first after NULL. */
avr_io_t *chip_next(avr_t *avr, avr_io_t *after, const char *kind);

/* chip_settings.c: what its registers make of the converter and the buses, beside what the plan says. */
/* The number of the reference that is chosen. */
uint8_t chip_before_conversion(chip *of, uint8_t channel);
/* The word as such a conversion leaves it. */
uint32_t chip_converted(chip *of, uint32_t word);
uint8_t chip_spi_exchange(chip *of, uint8_t out, uint8_t (*device)(chip *of, uint8_t out));
/* Before each transfer on the two wires. */
void chip_look_at_rate(chip *of);

/* chip_buses.c: two wires, SPI and the serial line. */
void chip_wire_buses(chip *of, const tl_plan *plan);
void chip_wire_serial(chip *of);
/* After an instruction: what the simulator has got wrong on the two wires. */
void chip_put_right(chip *of);

#endif
