/* SPDX-License-Identifier: MIT */
/* A chip that is made up, from inside: its registers (ports/stand-in/registers.h) and the emulated processor
 * in it. */
#ifndef TINYLADDER_BENCH_STAND_IN_H
#define TINYLADDER_BENCH_STAND_IN_H

#include "chip_inside.h"
#include <unicorn/unicorn.h>

typedef struct {
    uint32_t channel, reference, divider, acquisition, word;
    uint64_t ends; /* the clock at which the word is there */
} stand_in_converter;

typedef struct {
    uint32_t control, divider, in;
    uint64_t ends;
} stand_in_spi;

typedef struct {
    uint32_t divider, data;
    bool acknowledged;
    uint64_t ends;
} stand_in_wires;

typedef struct {
    chip base;
    uc_engine *processor;
    uint64_t clocks; /* since the start: an instruction takes one */
    uint64_t end;    /* of this run */
    uint64_t asleep; /* until then */
    uint32_t next;   /* the instruction to go on with */
    stand_in_converter converter;
    stand_in_spi spi;
    stand_in_wires wires;
} stand_in;

/* stand_in_registers.c */
uint64_t stand_in_read(uc_engine *processor, uint64_t offset, unsigned size, void *of);
void stand_in_write(uc_engine *processor, uint64_t offset, unsigned size, uint64_t value, void *of);

#endif
