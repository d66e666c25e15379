/* SPDX-License-Identifier: MIT */
/*
 * Registers behind the table of functions. F_CPU is a whole number of megahertz. The clock is timer 1 at an
 * eighth of it, carried on to 32 bits by its overflow; a conversion takes 13 cycles of at most 200 kHz.
 */
#include "port_avr_bus.h"
#include <avr/interrupt.h>
#include <avr/io.h>
#include <avr/sleep.h>
#include <stddef.h>

enum { LINES = 24, CHANNELS = 8, SETTLE_US = 5000, LOOKS = 20000, MEGAHERTZ = F_CPU / 1000000 };
#define ROUND_US (UINT32_C(65536) * 8u / MEGAHERTZ) /* whole for 1, 2, 4, 8 and 16 MHz */

#if F_CPU % 1000000 != 0 || 16 % (F_CPU / 1000000) != 0
#error "F_CPU: 1, 2, 4, 8 or 16 MHz"
#endif

/* --- time --- */

static volatile uint32_t rounds_us;

ISR(TIMER1_OVF_vect)
{
    rounds_us += ROUND_US;
}

TL_PORT_FUNCTION(clock_us)(void *context, uint32_t *now_us)
{
    (void)context;
    const uint8_t interrupts = SREG;
    cli();
    uint32_t round_us = rounds_us;
    uint16_t ticks = TCNT1;
    if ((TIFR1 & 1 << TOV1) != 0) { /* it has gone round meanwhile, and that is not counted yet */
        round_us += ROUND_US;
        ticks = TCNT1;
    }
    SREG = interrupts;
    *now_us = round_us + (uint32_t)ticks * 8u / MEGAHERTZ;
    return TL_OK;
}

TL_PORT_FUNCTION(wait_us)(void *context, uint32_t duration_us)
{
    uint32_t begun_us, now_us;
    (void)TL_PORT_OWN(clock_us)(context, &begun_us);
    do
        (void)TL_PORT_OWN(clock_us)(context, &now_us);
    while (now_us - begun_us <= duration_us); /* a tick may be almost over already: strictly more */
    return TL_OK;
}

/* Asleep until the next interrupt; timer 1 comes by itself. */
TL_PORT_IDLE(void *context)
{
    (void)context;
}

/* --- lines --- */

static volatile uint8_t *pin_of(uint8_t line)
{
    /* PIN, DDR and PORT of a port lie one behind the other. */
    return line < 8 ? &PINB : line < 16 ? &PINC : &PIND;
}

static uint8_t mask_of(uint8_t line)
{
    return (uint8_t)(1u << (line & 7));
}

static void detach_timer(uint8_t line)
{
    if (line == PORT_AVR_D6)
        TCCR0A &= (uint8_t) ~(1 << COM0A1);
    else if (line == PORT_AVR_D5)
        TCCR0A &= (uint8_t) ~(1 << COM0B1);
    else if (line == PORT_AVR_B3)
        TCCR2A &= (uint8_t) ~(1 << COM2A1);
    else if (line == PORT_AVR_D3)
        TCCR2A &= (uint8_t) ~(1 << COM2B1);
}

TL_PORT_FUNCTION(line_use)(void *context, uint8_t line, tl_line_use use)
{
    (void)context;
    if (line >= LINES)
        return TL_ERR_ARG;
    if (use == TL_LINE_INPUT_PULL_DOWN)
        return TL_ERR_UNSUPPORTED;
    volatile uint8_t *const pin = pin_of(line), *const direction = pin + 1, *const out = pin + 2;
    const uint8_t mask = mask_of(line);
    detach_timer(line);
    if (use == TL_LINE_INPUT_PULL_UP)
        *out |= mask;
    else
        *out &= (uint8_t)~mask;
    if (use == TL_LINE_OUTPUT)
        *direction |= mask;
    else
        *direction &= (uint8_t)~mask;
    return TL_OK;
}

TL_PORT_FUNCTION(line_level)(void *context, uint8_t line, bool *high)
{
    (void)context;
    if (line >= LINES)
        return TL_ERR_ARG;
    *high = (*pin_of(line) & mask_of(line)) != 0;
    return TL_OK;
}

static bool is_output(uint8_t line)
{
    return line < LINES && (pin_of(line)[1] & mask_of(line)) != 0;
}

TL_PORT_FUNCTION(line_drive)(void *context, uint8_t line, bool high)
{
    (void)context;
    if (!is_output(line))
        return TL_ERR_ARG;
    volatile uint8_t *const out = pin_of(line) + 2;
    detach_timer(line);
    if (high)
        *out |= mask_of(line);
    else
        *out &= (uint8_t)~mask_of(line);
    return TL_OK;
}

/* Fast pulse width modulation of timers 0 and 2, 8 bits; at both ends the line is plain. */
TL_PORT_FUNCTION(line_duty)(void *context, uint8_t line, uint16_t share)
{
    if (!is_output(line))
        return TL_ERR_ARG;
    const uint8_t level = (uint8_t)(share >> 8);
    if (line != PORT_AVR_D6 && line != PORT_AVR_D5 && line != PORT_AVR_B3 && line != PORT_AVR_D3)
        return TL_ERR_UNSUPPORTED;
    if (share == 0 || share == UINT16_MAX)
        return TL_PORT_OWN(line_drive)(context, line, share != 0);
    if (line == PORT_AVR_D6) {
        OCR0A = level;
        TCCR0A |= 1 << COM0A1;
    } else if (line == PORT_AVR_D5) {
        OCR0B = level;
        TCCR0A |= 1 << COM0B1;
    } else if (line == PORT_AVR_B3) {
        OCR2A = level;
        TCCR2A |= 1 << COM2A1;
    } else {
        OCR2B = level;
        TCCR2A |= 1 << COM2B1;
    }
    return TL_OK;
}

/* --- converter --- */

TL_PORT_FUNCTION(converter_power)(void *context, bool on)
{
    (void)context;
    if (on)
        ADCSRA |= 1 << ADEN;
    else
        ADCSRA &= (uint8_t) ~(1 << ADEN);
    return TL_OK;
}

/* Where each stands in ADMUX: the supply, the chip's own 1.1 V, what is at the reference pin. */
static const uint8_t selected_by[] = {1 << REFS0, 1 << REFS1 | 1 << REFS0, 0};

/* Another reference charges the capacitor at its pin, and the first conversion after that is not to be
 * trusted. */
static void select_reference(uint8_t reference)
{
    const uint8_t wanted = selected_by[reference];
    if ((ADMUX & (1 << REFS1 | 1 << REFS0)) == wanted)
        return;
    ADMUX = (uint8_t)(wanted | (ADMUX & 0x0f));
    (void)TL_PORT_OWN(wait_us)(NULL, SETTLE_US);
    ADCSRA |= 1 << ADSC;
    for (uint16_t i = 0; i < LOOKS && (ADCSRA & 1 << ADSC) != 0; i++) {
    }
}

/* The capacitor is connected to the channel from the choice on, and for another cycle and a half of the
 * converter.
 */
TL_PORT_FUNCTION(conversion_start)(void *context, uint8_t channel, uint8_t reference, uint32_t acquisition_ns)
{
    if (channel >= CHANNELS)
        return TL_ERR_ARG;
    if (reference >= sizeof selected_by)
        return TL_ERR_UNSUPPORTED;
    if ((ADCSRA & 1 << ADEN) == 0)
        return TL_ERR_PORT;
    select_reference(reference);
    ADMUX = (uint8_t)(selected_by[reference] | channel);
    (void)TL_PORT_OWN(wait_us)(context, (acquisition_ns + 999u) / 1000u);
    ADCSRA |= 1 << ADSC;
    return TL_OK;
}

TL_PORT_FUNCTION(conversion_ended)(void *context, bool *ended)
{
    (void)context;
    *ended = (ADCSRA & 1 << ADSC) == 0;
    return TL_OK;
}

TL_PORT_FUNCTION(conversion_word)(void *context, tl_raw *word)
{
    (void)context;
    *word = ADC;
    return TL_OK;
}

/* --- buses --- */

TL_PORT_FUNCTION(spi_exchange)
(void *context, uint8_t bus, uint8_t select, const uint8_t *out, uint8_t *in, uint8_t count)
{
    return port_avr_spi(context, bus, select, out, in, count);
}

TL_PORT_FUNCTION(i2c_transfer)
(void *context, uint8_t bus, uint8_t address, const uint8_t *out, uint8_t out_count, uint8_t *in,
 uint8_t in_count)
{
    return port_avr_two_wire(context, bus, address, out, out_count, in, in_count);
}

/* --- the whole --- */

TL_PORT_DEFINE(port, NULL, 0, .line_use = TL_PORT_OWN(line_use), .line_level = TL_PORT_OWN(line_level),
               .line_drive = TL_PORT_OWN(line_drive), .line_duty = TL_PORT_OWN(line_duty),
               .conversion_start = TL_PORT_OWN(conversion_start),
               .conversion_ended = TL_PORT_OWN(conversion_ended),
               .conversion_word = TL_PORT_OWN(conversion_word),
               .converter_power = TL_PORT_OWN(converter_power), .clock_us = TL_PORT_OWN(clock_us),
               .wait_us = TL_PORT_OWN(wait_us), .idle = TL_PORT_OWN(idle),
               .spi_exchange = TL_PORT_OWN(spi_exchange), .i2c_transfer = TL_PORT_OWN(i2c_transfer));

const tl_port *port_avr(void)
{
    TCCR1A = 0;
    TCCR1B = 1 << CS11;
    TIMSK1 |= 1 << TOIE1;
    TCCR0A |= 1 << WGM01 | 1 << WGM00;
    TCCR0B = 1 << CS01 | 1 << CS00;
    TCCR2A |= 1 << WGM21 | 1 << WGM20;
    TCCR2B = 1 << CS22;
    ADMUX = 1 << REFS0; /* settled long before anyone converts: it is the supply */
    ADCSRA = 1 << ADEN | 1 << ADPS2 | 1 << ADPS1 | 1 << ADPS0;
    port_avr_open_buses();
    sei();
    return &port;
}
