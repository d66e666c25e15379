/* What every port must keep; see docs/porting.md. Run it against a board of yours with these facts about it.
 */
#ifndef TL_PORT_CONFORMANCE_H
#define TL_PORT_CONFORMANCE_H

#include "tinyladder/port.h"

typedef struct {
    uint8_t input_line;  /* can be an input, with something defined on it */
    bool input_high;     /* and that is its level */
    uint8_t output_line; /* can be an output, with nothing on it */
    uint8_t no_line;     /* not there */
    bool has_duty;       /* one that can be driven for a share of the time: */
    uint8_t duty_line;
    bool has_wait_change;                       /* it can sleep until a line changes */
    bool has_power;                             /* the converter can be switched off */
    uint8_t channel;                            /* of the converter */
    uint8_t no_channel;                         /* not there */
    uint32_t largest_word;                      /* no word of this converter is above */
    bool has_i2c;                               /* the rest holds where there is one: */
    uint8_t i2c_bus, i2c_address, i2c_register; /* a device there has this register of one byte */
    uint8_t i2c_nobody;                         /* an address that nobody answers to */
    bool has_spi;
    uint8_t spi_bus, spi_select; /* nothing need answer: the bytes must be moved */
} port_facts;

void port_conformance(const tl_port *port, const port_facts *facts);

#endif
