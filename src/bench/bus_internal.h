/* What the two kinds of bus share. */
#ifndef TL_BUS_INTERNAL_H
#define TL_BUS_INTERNAL_H

#include "bench/bench_internal.h"

/* Starts a conversion of an input by its name; of nothing where it is NULL. */
void chip_convert(tl_bench *bench, int converter, const char *input);
/* The input that the settings name. */
const char *chip_input(const tl_converter *part, uint8_t settings);
/* Bits that name one of its inputs. */
int chip_channel_bits(const tl_converter *part);

#endif
