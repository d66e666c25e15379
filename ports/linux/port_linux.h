/* SPDX-License-Identifier: MIT */
/**
 * @file The port of a computer that runs Linux: lines by the kernel's GPIO character device, volts by its
 * industrial I/O files, buses by i2c-dev and spidev. Needs a hosted C library and Linux 5.10 or later; from
 * one thread.
 *
 * Lines are the offsets of one GPIO chip, channels the numbers of one industrial I/O device. See README.md
 * beside this file.
 */
#ifndef TINYLADDER_PORT_LINUX_H
#define TINYLADDER_PORT_LINUX_H

#include "tinyladder/port.h"
#include <poll.h>
#include <stddef.h>
#include <sys/types.h>
#include <time.h>

#ifdef __cplusplus
extern "C" {
#endif

enum { PORT_LINUX_LINES = 64, PORT_LINUX_BUSES = 8, PORT_LINUX_WHY = 280 };

/** A bus, or on SPI the one device on it that this select line belongs to. */
typedef struct port_linux_bus {
    uint8_t bus; /**< its number in the plan */
    int select;  /**< on SPI: the device's select line in the plan, which the kernel's driver moves; on I2C -1
                  */
    const char *path; /**< such as /dev/i2c-1, /dev/spidev0.0 */
    uint32_t hertz;   /**< on SPI; 0: 1 MHz */
} port_linux_bus;

/** Where things are. All pointers must stay valid; what is NULL is not there. */
typedef struct port_linux_places {
    const char *lines;     /**< such as /dev/gpiochip0 */
    const char *converter; /**< such as /sys/bus/iio/devices/iio:device0 */
    port_linux_bus buses[PORT_LINUX_BUSES];
    uint8_t bus_count;
} port_linux_places;

/** What is asked of the kernel: stand-ins go here in tests. Like the calls of the same names. */
typedef struct port_linux_calls {
    int (*open)(const char *path, int flags);
    int (*close)(int file);
    ssize_t (*read)(int file, void *to, size_t size);
    int (*ioctl)(int file, unsigned long request, void *argument);
    int (*poll)(struct pollfd *files, nfds_t count, int milliseconds);
    int (*clock)(struct timespec *now);
    int (*sleep)(const struct timespec *duration);
} port_linux_calls;

/** Its fields are the port's own, but for `why`. */
typedef struct port_linux {
    const port_linux_places *places;
    const port_linux_calls *calls;
    tl_port port;
    tl_port_reader reader;
    int chip;                    /**< the GPIO chip; -1 */
    int lines[PORT_LINUX_LINES]; /**< the request for each line; -1 while it is released */
    bool outputs[PORT_LINUX_LINES];
    int buses[PORT_LINUX_BUSES]; /**< -1 */
    uint32_t word;
    char why[PORT_LINUX_WHY]; /**< what the kernel refused last, such as `/dev/gpiochip0: No such file or
                                 directory` */
} port_linux;

/**
 * Opens what the places name. @param calls  NULL: the kernel's.
 * @return The port; NULL where something is missing: `why` names it, and nothing stays open.
 */
const tl_port *port_linux_open(port_linux *own, const port_linux_places *places,
                               const port_linux_calls *calls);
/** Releases all lines and closes everything; harmless after a failed opening. */
void port_linux_close(port_linux *own);

#ifdef __cplusplus
}
#endif
#endif
