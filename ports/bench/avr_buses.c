/* What goes over the chip's two buses and its serial line: to the plan's devices, to whoever listens, and
 * back. */
#include "avr_chip.h"
#include <simavr/avr_spi.h>
#include <simavr/avr_uart.h>
#include <stddef.h>

/* --- buses --- */

static void reply(chip *of, uint8_t message, uint8_t data)
{
    avr_raise_irq(of->two_wire_in, avr_twi_irq_msg(message, of->transfer.address, data));
}

/* Bytes out alone go over when the bus is free again; bytes in are fetched when the first is required. */
static void send_alone(chip *of)
{
    two_wire *t = &of->transfer;
    if (t->there && !t->reads && t->out_count > 0)
        (void)tl_port_i2c_transfer(of->port, (uint8_t)of->two_wire_bus, t->address >> 1, t->out, t->out_count,
                                   NULL, 0);
    *t = (two_wire){.there = false};
}

static void on_two_wire(struct avr_irq_t *irq, uint32_t value, void *param)
{
    (void)irq;
    chip *of = param;
    two_wire *t = &of->transfer;
    const avr_twi_msg_irq_t message = {.u.v = value};
    const uint8_t kind = message.u.twi.msg;

    if (of->two_wire_bus == TL_NONE)
        return;
    chip_bring_bench(of);
    chip_look_at_rate(of);
    if ((kind & TWI_COND_STOP) != 0)
        send_alone(of);
    if ((kind & TWI_COND_START) != 0) {
        const bool again =
            t->there && (message.u.twi.addr & ~1u) == (t->address & ~1u) && (message.u.twi.addr & 1) != 0;
        if (!again)
            send_alone(of);
        t->address = message.u.twi.addr;
        t->reads = (t->address & 1) != 0;
        of->addressed = true;
        t->in_at = 0;
        const tl_status status =
            t->reads ? tl_port_i2c_transfer(of->port, (uint8_t)of->two_wire_bus, t->address >> 1, t->out,
                                            t->out_count, t->in, AHEAD)
                     : tl_port_i2c_transfer(of->port, (uint8_t)of->two_wire_bus, t->address >> 1, NULL, 0,
                                            NULL, 0);
        t->there = status == TL_OK;
        if (t->there)
            reply(of, TWI_COND_ACK, 1);
    }
    if ((kind & TWI_COND_WRITE) != 0 && t->there && t->out_count < TRANSFER_MOST) {
        t->out[t->out_count++] = message.u.twi.data;
        reply(of, TWI_COND_ACK, 1);
    }
    if ((kind & TWI_COND_READ) != 0 && t->there)
        reply(of, TWI_COND_READ, t->in_at < AHEAD ? t->in[t->in_at++] : 0xff);
}

/* Two things that this simulator gets wrong are put right: its flag stays up when a step begins, so that a
 * program that asks again and again takes the state before for the new one; */
static void on_step(struct avr_t *avr, avr_io_addr_t address, uint8_t value, void *param)
{
    (void)address;
    chip *of = param;
    if ((value >> of->two_wire->twi.raised.bit & 1) != 0)
        avr_regbit_clear(avr, of->two_wire->twi.raised);
}

/* and it takes an address for a byte when the data register was filled before the step. */
void chip_put_right(chip *of)
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

static uint8_t to_device(chip *of, uint8_t out)
{
    return tl_bench_spi_byte(of->bench, out);
}

static void on_spi(struct avr_irq_t *irq, uint32_t value, void *param)
{
    (void)irq;
    chip *of = param;
    if (of->changed)
        chip_follow(of);
    chip_bring_bench(of);
    const bool answers = of->spi_bus != TL_NONE && of->selected != TL_NONE;
    avr_raise_irq(of->spi_in, answers ? chip_spi_exchange(of, (uint8_t)value, to_device) : 0xff);
}

/* --- serial line --- */

static void on_serial(struct avr_irq_t *irq, uint32_t value, void *param)
{
    (void)irq;
    chip *of = param;
    if (of->heard != NULL)
        of->heard(of->heard_by, (char)value);
}

static void on_room(struct avr_irq_t *irq, uint32_t value, void *param)
{
    (void)irq;
    (void)value;
    chip *of = param;
    of->full = false;
    while (!of->full && of->said_count > 0) {
        of->said_count--;
        avr_raise_irq(of->serial_in, (uint8_t)of->said[of->said_first++ % SAID_MOST]);
    }
}

static void on_full(struct avr_irq_t *irq, uint32_t value, void *param)
{
    (void)irq;
    (void)value;
    ((chip *)param)->full = true;
}

void chip_listen(chip *of, chip_heard *heard, void *context)
{
    of->heard = heard;
    of->heard_by = context;
}

void chip_say(chip *of, char byte)
{
    if (of->said_count < SAID_MOST)
        of->said[(of->said_first + of->said_count++) % SAID_MOST] = byte;
}

void chip_wire_serial(chip *of)
{
    uint32_t flags = 0;
    (void)avr_ioctl(of->avr, AVR_IOCTL_UART_SET_FLAGS('0'),
                    &flags); /* what it says goes to who listens, not here */
    of->serial_in = avr_io_getirq(of->avr, AVR_IOCTL_UART_GETIRQ('0'), UART_IRQ_INPUT);
    if (of->serial_in == NULL)
        return;
    avr_irq_register_notify(avr_io_getirq(of->avr, AVR_IOCTL_UART_GETIRQ('0'), UART_IRQ_OUTPUT), on_serial,
                            of);
    avr_irq_register_notify(avr_io_getirq(of->avr, AVR_IOCTL_UART_GETIRQ('0'), UART_IRQ_OUT_XON), on_room,
                            of);
    avr_irq_register_notify(avr_io_getirq(of->avr, AVR_IOCTL_UART_GETIRQ('0'), UART_IRQ_OUT_XOFF), on_full,
                            of);
}

void chip_wire_buses(chip *of, const tl_plan *plan)
{
    of->two_wire_bus = of->spi_bus = of->selected = TL_NONE;
    for (int i = plan->bus_count; i-- > 0;)
        *(plan->buses[i].spi ? &of->spi_bus : &of->two_wire_bus) = i;
    of->two_wire = (avr_twi_t *)chip_next(of->avr, NULL, "twi");
    of->two_wire_in = avr_io_getirq(of->avr, AVR_IOCTL_TWI_GETIRQ(0), TWI_IRQ_INPUT);
    of->spi_in = avr_io_getirq(of->avr, AVR_IOCTL_SPI_GETIRQ(0), SPI_IRQ_INPUT);
    if (of->two_wire != NULL)
        avr_register_io_write(of->avr, of->two_wire->r_twcr, on_step, of);
    if (of->two_wire_in != NULL)
        avr_irq_register_notify(avr_io_getirq(of->avr, AVR_IOCTL_TWI_GETIRQ(0), TWI_IRQ_OUTPUT), on_two_wire,
                                of);
    if (of->spi_in != NULL)
        avr_irq_register_notify(avr_io_getirq(of->avr, AVR_IOCTL_SPI_GETIRQ(0), SPI_IRQ_OUTPUT), on_spi, of);
}
