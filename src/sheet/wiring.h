/* The list that one wires by. */
#ifndef TL_WIRING_H
#define TL_WIRING_H

#include "printing/printing.h"

enum { WIRE_END = 64, WIRE_PART = 96 };

/* One connection: a wire, or a part between two ends. */
typedef struct {
    char group[WIRE_END]; /* what it belongs to: a signal, an output, a bus, a part */
    char from[WIRE_END], to[WIRE_END];
    char part[WIRE_PART];  /* `wire`, `resistor 47k`, ... */
    char bands[WIRE_PART]; /* of a resistor; empty for none */
} wire;

typedef struct {
    wire *wires;
    int count;
} wiring;

/* In the order of the hands: rails, signals from source to pin, outputs, buses, multiplexers and converters
 * pin by pin, what stays open and what is tied. Free wires. */
wiring wiring_of(const tl_plan *plan);

typedef enum { WIRING_TABLE, WIRING_CSV, WIRING_JSON } wiring_form;
void wiring_print(const tl_plan *plan, wiring_form form);

#endif
