/* SPDX-License-Identifier: MIT */
/* What goes over the chip's two buses and its serial line: to the plan's devices, to whoever listens, and
 * back. */
#include "avr_chip.h"
#include <simavr/avr_spi.h>
#include <simavr/avr_uart.h>
#include <stddef.h>

/* --- two wires --- */

static void reply(avr_chip *of, uint8_t message, uint8_t data)
{
    avr_raise_irq(of->two_wire_in, avr_twi_irq_msg(message, of->base.transfer.address, data));
}

static double rate_of(const avr_chip *of)
{
    const uint8_t divider = of->avr->data[of->two_wire->r_twbr],
                  scale = of->avr->data[of->two_wire->r_twsr] & 3;
    return (double)of->base.hertz / (16 + 2.0 * divider * (1 << 2 * scale));
}

static void on_two_wire(struct avr_irq_t *irq, uint32_t value, void *param)
{
    (void)irq;
    avr_chip *of = param;
    const avr_twi_msg_irq_t message = {.u.v = value};
    const uint8_t kind = message.u.twi.msg;
    uint8_t byte;

    chip_look_at_rate(&of->base, rate_of(of));
    if ((kind & TWI_COND_STOP) != 0)
        chip_two_wire_stop(&of->base);
    if ((kind & TWI_COND_START) != 0) {
        of->addressed = true;
        if (chip_two_wire_start(&of->base, message.u.twi.addr))
            reply(of, TWI_COND_ACK, 1);
    }
    if ((kind & TWI_COND_WRITE) != 0 && chip_two_wire_write(&of->base, message.u.twi.data))
        reply(of, TWI_COND_ACK, 1);
    if ((kind & TWI_COND_READ) != 0 && chip_two_wire_read(&of->base, &byte))
        reply(of, TWI_COND_READ, byte);
}

/* Two things that this simulator gets wrong are put right: its flag stays up when a step begins, so that a
 * program that asks again and again takes the state before for the new one; */
static void on_step(struct avr_t *avr, avr_io_addr_t address, uint8_t value, void *param)
{
    (void)address;
    avr_chip *of = param;
    if ((value >> of->two_wire->twi.raised.bit & 1) != 0)
        avr_regbit_clear(avr, of->two_wire->twi.raised);
}

/* and it takes an address for a byte when the data register was filled before the step. */
void avr_put_right(avr_chip *of)
{
    enum { ADDRESS_TAKEN = 0x18, ADDRESS_REFUSED = 0x20, BYTE_TAKEN = 0x28, BYTE_REFUSED = 0x30 };
    uint8_t *state = &of->avr->data[of->two_wire->r_twsr];

    if (!avr_regbit_get(of->avr, of->two_wire->twi.raised))
        return; /* still under way */
    of->addressed = false;
    if ((*state & 0xf8) == BYTE_TAKEN)
        *state = (uint8_t)((*state & 7) | ADDRESS_TAKEN);
    if ((*state & 0xf8) == BYTE_REFUSED)
        *state = (uint8_t)((*state & 7) | ADDRESS_REFUSED);
}

/* --- SPI --- */

static void on_spi(struct avr_irq_t *irq, uint32_t value, void *param)
{
    enum { LOW_FIRST = 1 << 5, IDLE_HIGH = 1 << 3, LATE = 1 << 2 };
    (void)irq;
    avr_chip *of = param;
    const avr_spi_t *spi = (const avr_spi_t *)avr_next(of->avr, NULL, "spi");
    const uint8_t control = spi != NULL ? of->avr->data[spi->r_spcr] : 0;
    const unsigned mode = (control & IDLE_HIGH) / IDLE_HIGH * 2u + (control & LATE) / LATE;
    if (of->changed)
        avr_follow(of);
    avr_raise_irq(of->spi_in, chip_spi_exchange(&of->base, mode, (control & LOW_FIRST) != 0, (uint8_t)value));
}

/* --- serial line --- */

static void on_serial(struct avr_irq_t *irq, uint32_t value, void *param)
{
    (void)irq;
    const chip *of = param;
    if (of->heard != NULL)
        of->heard(of->heard_by, (char)value);
}

static void on_room(struct avr_irq_t *irq, uint32_t value, void *param)
{
    (void)irq;
    (void)value;
    avr_chip *of = param;
    uint8_t byte;
    of->full = false;
    while (!of->full && chip_next_said(&of->base, &byte))
        avr_raise_irq(of->serial_in, byte);
}

static void on_full(struct avr_irq_t *irq, uint32_t value, void *param)
{
    (void)irq;
    (void)value;
    ((avr_chip *)param)->full = true;
}

void avr_wire_serial(avr_chip *of)
{
    uint32_t flags = 0;
    (void)avr_ioctl(of->avr, AVR_IOCTL_UART_SET_FLAGS('0'),
                    &flags); /* what it says goes to who listens, not here */
    of->serial_in = avr_io_getirq(of->avr, AVR_IOCTL_UART_GETIRQ('0'), UART_IRQ_INPUT);
    if (of->serial_in == NULL)
        return;
    avr_irq_register_notify(avr_io_getirq(of->avr, AVR_IOCTL_UART_GETIRQ('0'), UART_IRQ_OUTPUT), on_serial,
                            &of->base);
    avr_irq_register_notify(avr_io_getirq(of->avr, AVR_IOCTL_UART_GETIRQ('0'), UART_IRQ_OUT_XON), on_room,
                            of);
    avr_irq_register_notify(avr_io_getirq(of->avr, AVR_IOCTL_UART_GETIRQ('0'), UART_IRQ_OUT_XOFF), on_full,
                            of);
}

void avr_wire_buses(avr_chip *of)
{
    of->two_wire = (avr_twi_t *)avr_next(of->avr, NULL, "twi");
    of->two_wire_in = avr_io_getirq(of->avr, AVR_IOCTL_TWI_GETIRQ(0), TWI_IRQ_INPUT);
    of->spi_in = avr_io_getirq(of->avr, AVR_IOCTL_SPI_GETIRQ(0), SPI_IRQ_INPUT);
    if (of->two_wire != NULL)
        avr_register_io_write(of->avr, of->two_wire->r_twcr, on_step, of);
    if (of->two_wire != NULL && of->two_wire_in != NULL)
        avr_irq_register_notify(avr_io_getirq(of->avr, AVR_IOCTL_TWI_GETIRQ(0), TWI_IRQ_OUTPUT), on_two_wire,
                                of);
    if (of->spi_in != NULL)
        avr_irq_register_notify(avr_io_getirq(of->avr, AVR_IOCTL_SPI_GETIRQ(0), SPI_IRQ_OUTPUT), on_spi, of);
}
