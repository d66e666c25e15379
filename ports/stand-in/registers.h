/* SPDX-License-Identifier: MIT */
/*
 * The registers of a chip that is made up: 64 lines, a converter, a clock, SPI, two wires and a serial line,
 * as small chips have them. `port_stand_in.c` is the port for it, and `tinyladder-bench-run` plays it, with
 * a Cortex-M0 or an RV32 in it. Each register has 32 bits; what is not here reads 0. No interrupts.
 */
#ifndef STAND_IN_REGISTERS_H
#define STAND_IN_REGISTERS_H

#define STAND_IN_BASE 0x40000000u
#define STAND_IN_SIZE 0x1000u

enum {
    STAND_IN_LINES = 64, /* A0 .. A7 are 0 .. 7, B0 .. B7 are 8 .. 15, and so on to H7 */

    /* Lines: 4 bytes each. */
    STAND_IN_LINE_USE =
        0x000, /* as tl_line_use numbers them: released, input, with pull-up, pull-down, output */
    STAND_IN_LINE_LEVEL = 0x100, /* read: the level now; write: drive an output */
    STAND_IN_LINE_SHARE = 0x200, /* write: drive an output high for a share of the time, 0 to 65535 */

    /* Converter: a conversion takes 13 of its clocks, once the channel was connected for the acquisition. */
    STAND_IN_ADC_CHANNEL = 0x300,
    STAND_IN_ADC_REFERENCE = 0x304,   /* a number of the board file's list */
    STAND_IN_ADC_DIVIDER = 0x308,     /* clocks of the processor for one of the converter */
    STAND_IN_ADC_ACQUISITION = 0x30c, /* clocks of the processor; 65535 at most */
    STAND_IN_ADC_START = 0x310,       /* write: start */
    STAND_IN_ADC_ENDED = 0x314,       /* 1 once the word is there */
    STAND_IN_ADC_WORD = 0x318,

    /* Clock. */
    STAND_IN_CLOCK_US = 0x340, /* microseconds since the start */
    STAND_IN_SLEEP_US = 0x344, /* write: the processor stands still for so long */

    /* SPI: the select line is any line. */
    STAND_IN_SPI_CONTROL = 0x380, /* bit 0 late edge, bit 1 clock idles high, bit 2 lowest bit first */
    STAND_IN_SPI_DIVIDER = 0x384, /* clocks of the processor for a bit */
    STAND_IN_SPI_DATA = 0x388,    /* write: send; read: what came back */
    STAND_IN_SPI_ENDED = 0x38c,   /* 1 once the byte has gone */

    /* Two wires: each write to STEP is a step of the bus. */
    STAND_IN_WIRES_DIVIDER = 0x3c0, /* clocks of the processor for a bit */
    STAND_IN_WIRES_DATA = 0x3c4,    /* the byte of the step; read: the byte that came */
    STAND_IN_WIRES_STEP = 0x3c8,
    STAND_IN_WIRES_STATE = 0x3cc, /* bit 0: the step has ended; bit 1: it was acknowledged */

    /* Serial line: no wait is ever needed. */
    STAND_IN_SERIAL_DATA = 0x400, /* write: say; read: hear */
    STAND_IN_SERIAL_HEARD = 0x404 /* 1 where a byte waits */
};

enum { STAND_IN_START = 1, STAND_IN_WRITE, STAND_IN_READ, STAND_IN_READ_LAST, STAND_IN_STOP };
enum { STAND_IN_STEP_ENDED = 1, STAND_IN_ACKNOWLEDGED = 2 };

#endif
