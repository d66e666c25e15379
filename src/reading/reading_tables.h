/* SPDX-License-Identifier: MIT */
/* Readings as tables: those of converters with the voltages at their pins, and those of digital pins. */
#ifndef TL_READING_TABLES_H
#define TL_READING_TABLES_H

#include "reading/readings.h"

void print_readings(tl_circuit *circuit, const int *signals, const taken *readings, int count);

#endif
