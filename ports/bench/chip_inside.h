/* SPDX-License-Identifier: MIT */
/*
 * What all kinds of chips share: the pins of the board at the chip's lines, what the program set beside what
 * the plan says, and the devices of the plan on the chip's buses. A kind is a simulator behind a row of
 * functions.
 */
#ifndef TINYLADDER_BENCH_CHIP_INSIDE_H
#define TINYLADDER_BENCH_CHIP_INSIDE_H

#include "chip.h"
#include "tinyladder/design/plan.h"

/* What a program may set otherwise than the plan: each is named once. */
typedef enum {
    MISTAKE_REFERENCE,
    MISTAKE_CLOCK,
    MISTAKE_ACQUISITION,
    MISTAKE_SPI_MODE,
    MISTAKE_SPI_ORDER,
    MISTAKE_RATE
} chip_mistake;

enum { LINES_MOST = 96, TRANSFER_MOST = 255, AHEAD = 8, SAID_MOST = 256, PORTS = 8 };

/* A pin of the board at a line of the chip. */
typedef struct {
    uint8_t line; /* of the bench */
    char port;
    uint8_t bit;
    bool selects;    /* a device on SPI */
    tl_line_use use; /* as the bench was told */
    uint16_t share;
} chip_line;

/* What has gone over the two-wire bus since its start. */
typedef struct {
    uint8_t address;
    uint8_t out[TRANSFER_MOST], in[AHEAD];
    uint8_t out_count, in_at;
    bool reads, there;
} two_wire;

typedef struct {
    uint16_t machine; /* in the head of an ELF file */
    uint8_t bits;     /* and the width of its addresses there */
    const char *name; /* the usual chip of this kind */
    unsigned long hertz;
    /* A chip of this kind with nothing in it; NULL: there is no memory. */
    chip *(*make)(void);
    /* The program into it, its lines and converter to the bench; false with the reason. */
    bool (*open)(chip *of, const char *image, const char *name, char why[200]);
    bool (*run)(chip *of, double until);
    double (*time)(const chip *of);
    void (*free)(chip *of);
} chip_kind;

/* Each kind has this first in its own. */
struct chip {
    const chip_kind *kind;
    tl_bench *bench;
    const tl_port *port;
    unsigned long hertz;
    chip_line lines[LINES_MOST];
    int line_count;
    int two_wire_bus, spi_bus; /* of the plan; TL_NONE */
    int selected;              /* the line that selects a device now; TL_NONE */
    two_wire transfer;
    unsigned named;                /* a bit a chip_mistake */
    uint8_t spi_late, spi_late_in; /* the bit that comes with the next byte */
    bool crashed;
    chip_heard *heard;
    void *heard_by;
    char said[SAID_MOST];
    unsigned said_first, said_count;
};

extern const chip_kind chip_kind_avr, chip_kind_arm, chip_kind_riscv;

const tl_plan *chip_plan(const chip *of);
/* The bench, no earlier than the chip. */
void chip_bring_bench(chip *of);
/* The next byte that waits for its serial line; false: none. */
bool chip_next_said(chip *of, uint8_t *byte);

/* chip_lines.c: each pin of the board that names a place of the chip gets a line; false with the reason.
 * exists: whether the chip has lines of that letter. */
bool chip_wire_lines(chip *of, bool (*exists)(const chip *of, char port), char why[200]);
/* The bench hears what the program made of a line, where it is new. */
void chip_set_line(chip *of, chip_line *line, tl_line_use use, uint16_t share);

/* chip_settings.c: what the program set, beside what the plan says. */
/* reference: its place in the list of the plan's converter; TL_NONE: another, of these volts: 0 where
 * nothing is at the pin. Returns the number to convert against. */
uint8_t chip_before_conversion(chip *of, uint8_t channel, int reference, double volts);
/* A whole conversion by the bench, connected for so long; the word as such a clock leaves it, and false
 * where there is none. */
bool chip_convert(chip *of, uint8_t channel, uint8_t reference, double connected_s, double clock_hertz,
                  uint32_t *word);
uint8_t chip_spi_exchange(chip *of, unsigned mode, bool low_first, uint8_t out);
/* Before each transfer on the two wires. */
void chip_look_at_rate(chip *of, double hertz);

/* chip_two_wire.c: a step of the bus each. The first says whether a device is there, and so does each byte.
 */
bool chip_two_wire_start(chip *of, uint8_t address);
bool chip_two_wire_write(chip *of, uint8_t byte);
bool chip_two_wire_read(chip *of, uint8_t *byte);
void chip_two_wire_stop(chip *of);

#endif
