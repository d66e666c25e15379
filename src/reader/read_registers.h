/* Registers of a converter: names, fields and named values of what is written into them. */
#ifndef TL_REGISTERS_H
#define TL_REGISTERS_H

#include "reader/reader.h"

bool read_registers(reader *r, const yaml_tree *node, tl_converter *converter);

#endif
