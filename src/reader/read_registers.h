/* SPDX-License-Identifier: MIT */
/* Registers of a converter: names, fields and named values of what is written into them. */
#ifndef TL_READ_REGISTERS_H
#define TL_READ_REGISTERS_H

#include "reader/reader.h"

/* A number of 8 bits, also in hex. */
bool read_byte(reader *r, const yaml_tree *node, const char *what, long *byte);
bool read_registers(reader *r, const yaml_tree *node, tl_converter *converter);

#endif
