/* SPDX-License-Identifier: MIT */
/*
 * The chip's own SPI and two-wire registers, and its serial line. There is one bus of each kind: its number
 * does not matter. No wait is longer than WAITS looks at a flag, some milliseconds.
 */
#include "port_avr_bus.h"
#include <avr/io.h>
#include <stddef.h>

enum { WAITS = 20000 };

/* --- SPI: mode 0, an eighth of the clock, at most 2 MHz --- */

/* Clock, out and the chip's own select line are outputs from then on: the latter must be, or another board
 * could take the bus over. */
static void open_spi(void)
{
    DDRB |= 1 << PB5 | 1 << PB3 | 1 << PB2;
    SPCR = 1 << SPE | 1 << MSTR | 1 << SPR0;
    SPSR = 1 << SPI2X;
}

static bool exchange_byte(uint8_t out, uint8_t *in)
{
    SPDR = out;
    for (uint16_t i = 0; i < WAITS; i++) {
        if ((SPSR & 1 << SPIF) != 0) {
            *in = SPDR;
            return true;
        }
    }
    return false;
}

tl_status port_avr_spi(void *context, uint8_t bus, uint8_t select, const uint8_t *out, uint8_t *in,
                       uint8_t count)
{
    (void)context;
    (void)bus;
    if (select >= 24)
        return TL_ERR_ARG;
    volatile uint8_t *const pin = select < 8 ? &PINB : select < 16 ? &PINC : &PIND;
    const uint8_t mask = (uint8_t)(1u << (select & 7));
    bool all = true;
    if ((SPCR & 1 << SPE) == 0)
        open_spi();
    pin[2] |= mask; /* high before it becomes an output: no device hears a frame begin */
    pin[1] |= mask;
    pin[2] &= (uint8_t)~mask;
    for (uint8_t i = 0; i < count && all; i++)
        all = exchange_byte(out[i], &in[i]);
    pin[2] |= mask;
    return all ? TL_OK : TL_ERR_PORT;
}

/* --- two wires: 100 kHz --- */

enum {
    STARTED = 0x08,
    STARTED_AGAIN = 0x10,
    ADDRESS_TAKEN_TO_WRITE = 0x18,
    BYTE_TAKEN = 0x28,
    ADDRESS_TAKEN_TO_READ = 0x40
};

void port_avr_open_buses(void)
{
    TWBR = (F_CPU / 100000u - 16) / 2;
}

/* One step of the bus; its state afterwards, 0 where it never ends. */
static uint8_t step(uint8_t what)
{
    TWCR = (uint8_t)(what | 1 << TWINT | 1 << TWEN);
    for (uint16_t i = 0; i < WAITS; i++) {
        if ((TWCR & 1 << TWINT) != 0)
            return TWSR & 0xf8;
    }
    return 0;
}

static tl_status begin(uint8_t address)
{
    const uint8_t started = step(1 << TWSTA);
    if (started != STARTED && started != STARTED_AGAIN)
        return TL_ERR_PORT;
    TWDR = address;
    const uint8_t taken = step(0);
    return taken == ADDRESS_TAKEN_TO_WRITE || taken == ADDRESS_TAKEN_TO_READ ? TL_OK
           : taken == 0                                                      ? TL_ERR_PORT
                                                                             : TL_ERR_ACK;
}

tl_status port_avr_two_wire(void *context, uint8_t bus, uint8_t address, const uint8_t *out,
                            uint8_t out_count, uint8_t *in, uint8_t in_count)
{
    (void)context;
    (void)bus;
    tl_status status = out_count > 0 || in_count == 0 ? begin((uint8_t)(address << 1)) : TL_OK;
    for (uint8_t i = 0; i < out_count && status == TL_OK; i++) {
        TWDR = out[i];
        status = step(0) == BYTE_TAKEN ? TL_OK : TL_ERR_ACK;
    }
    if (status == TL_OK && in_count > 0)
        status = begin((uint8_t)(address << 1 | 1));
    for (uint8_t i = 0; i < in_count && status == TL_OK; i++) {
        if (step(i + 1 < in_count ? 1 << TWEA : 0) == 0)
            status = TL_ERR_PORT;
        in[i] = TWDR;
    }
    TWCR = 1 << TWINT | 1 << TWSTO | 1 << TWEN; /* the stop goes by itself */
    for (uint16_t i = 0; i < WAITS && (TWCR & 1 << TWSTO) != 0; i++) {
    }
    return status;
}

/* --- the serial line --- */

void port_avr_serial(uint32_t bauds)
{
    UBRR0 = (uint16_t)((F_CPU / 8 + bauds / 2) / bauds - 1);
    UCSR0A = 1 << U2X0;
    UCSR0C = 1 << UCSZ01 | 1 << UCSZ00;
    UCSR0B = 1 << TXEN0 | 1 << RXEN0;
}

void port_avr_say(const char *text)
{
    for (; *text != '\0'; text++) {
        for (uint16_t i = 0; i < WAITS && (UCSR0A & 1 << UDRE0) == 0; i++) {
        }
        UDR0 = (uint8_t)*text;
    }
}
