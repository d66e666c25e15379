/* SPDX-License-Identifier: MIT */
/**
 * @file
 * The port of the small build, included by port.h alone: its functions by their names, and the calls of
 * the core as nothing more than these.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * static volatile uint32_t timer;
 * TL_PORT_FUNCTION(clock_us)(void *context, uint32_t *now_us)
 * {
 *     (void)context;
 *     *now_us = timer;
 *     return TL_OK;
 * }
 * TL_PORT_DEFINE(own_port, NULL, 1, .clock_us = TL_PORT_OWN(clock_us));
 * const tl_port *const port = &own_port;
 * @endcode
 */
#ifndef TINYLADDER_BOUND_H
#define TINYLADDER_BOUND_H

#include <stddef.h>

#include "tinyladder/port_table.h"

#ifdef TL_SMALL

/** In the small build there is one port, whose functions have these names (TL_PORT_FUNCTION); this stands for
 * it. */
typedef struct tl_port {
    uint8_t only;
} tl_port;

tl_status tl_bound_line_use(void *context, uint8_t line, tl_line_use use);
tl_status tl_bound_line_level(void *context, uint8_t line, bool *high);
tl_status tl_bound_line_drive(void *context, uint8_t line, bool high);
tl_status tl_bound_line_duty(void *context, uint8_t line, uint16_t share);
tl_status tl_bound_conversion_start(void *context, uint8_t channel, uint8_t reference,
                                    uint32_t acquisition_ns);
tl_status tl_bound_conversion_ended(void *context, bool *ended);
tl_status tl_bound_conversion_word(void *context, tl_raw *word);
tl_status tl_bound_converter_power(void *context, bool on);
tl_status tl_bound_clock_us(void *context, uint32_t *now_us);
tl_status tl_bound_wait_us(void *context, uint32_t duration_us);
tl_status tl_bound_wait_change(void *context, const uint8_t *lines, const bool *seen_high, uint8_t count,
                               uint32_t at_most_us);
tl_status tl_bound_spi_exchange(void *context, uint8_t bus, uint8_t select, const uint8_t *out, uint8_t *in,
                                uint8_t count);
tl_status tl_bound_i2c_transfer(void *context, uint8_t bus, uint8_t address, const uint8_t *out,
                                uint8_t out_count, uint8_t *in, uint8_t in_count);
void tl_bound_idle(void *context);
extern const uint16_t tl_bound_clock_step_us;
extern tl_port_reader tl_bound_reader;

static inline tl_status tl_port_line_use(const tl_port *port, uint8_t line, tl_line_use use)
{
    (void)port;
    return tl_bound_line_use(NULL, line, use);
}
static inline tl_status tl_port_line_level(const tl_port *port, uint8_t line, bool *high)
{
    (void)port;
    return tl_bound_line_level(NULL, line, high);
}
static inline tl_status tl_port_line_drive(const tl_port *port, uint8_t line, bool high)
{
    (void)port;
    return tl_bound_line_drive(NULL, line, high);
}
static inline tl_status tl_port_line_duty(const tl_port *port, uint8_t line, uint16_t share)
{
    (void)port;
    return tl_bound_line_duty(NULL, line, share);
}
static inline tl_status tl_port_converter_power(const tl_port *port, bool on)
{
    (void)port;
    return tl_bound_converter_power(NULL, on);
}
static inline tl_status tl_port_clock_us(const tl_port *port, uint32_t *now_us)
{
    (void)port;
    return tl_bound_clock_us(NULL, now_us);
}
static inline tl_status tl_port_wait_us(const tl_port *port, uint32_t duration_us)
{
    (void)port;
    return tl_bound_wait_us(NULL, duration_us);
}
static inline tl_status tl_port_wait_change(const tl_port *port, const uint8_t *lines, const bool *seen_high,
                                            uint8_t count, uint32_t at_most_us)
{
    (void)port;
    return tl_bound_wait_change(NULL, lines, seen_high, count, at_most_us);
}
static inline tl_status tl_port_spi_exchange(const tl_port *port, uint8_t bus, uint8_t select,
                                             const uint8_t *out, uint8_t *in, uint8_t count)
{
    (void)port;
    return tl_bound_spi_exchange(NULL, bus, select, out, in, count);
}
static inline tl_status tl_port_i2c_transfer(const tl_port *port, uint8_t bus, uint8_t address,
                                             const uint8_t *out, uint8_t out_count, uint8_t *in,
                                             uint8_t in_count)
{
    (void)port;
    return tl_bound_i2c_transfer(NULL, bus, address, out, out_count, in, in_count);
}

#endif

/**
 * For the authors of ports, whose one source serves both builds: a function of the table is
 * `TL_PORT_FUNCTION(line_level)(void *context, uint8_t line, bool *high) {...}`, called
 * TL_PORT_OWN(line_level) in its own file, and TL_PORT_DEFINE(name, context, clock_step_us, .line_level =
 * TL_PORT_OWN(line_level), ...) is the port. In the small build what is not there is answered
 * TL_ERR_UNSUPPORTED, or is missing when linking.
 */
#ifdef TL_SMALL
#define TL_PORT_FUNCTION(member) tl_status tl_bound_##member
#define TL_PORT_IDLE void tl_bound_idle
#define TL_PORT_OWN(member) tl_bound_##member
#define TL_PORT_DEFINE(name, own_context, step_us, ...)                                                      \
    const uint16_t tl_bound_clock_step_us = step_us;                                                         \
    tl_port_reader tl_bound_reader;                                                                          \
    static const tl_port name = {0}
#else
#define TL_PORT_FUNCTION(member) static tl_status member
#define TL_PORT_IDLE static void idle
#define TL_PORT_OWN(member) member
#define TL_PORT_DEFINE(name, own_context, step_us, ...)                                                      \
    static const tl_port_ops name##_ops = {.clock_step_us = step_us, __VA_ARGS__};                           \
    static tl_port_reader name##_reader;                                                                     \
    static const tl_port name = {&name##_ops, own_context, &name##_reader}
#endif

#endif
