/* SPDX-License-Identifier: MIT */
/*
 * Each line in use is a request of its own to the GPIO chip; an input's also tells of its edges, so that
 * waiting sleeps. A conversion is the reading of one file: it is over when it begins.
 */
#define _GNU_SOURCE
#include "port_linux.h"
#include <errno.h>
#include <fcntl.h>
#include <linux/gpio.h>
#include <linux/i2c-dev.h>
#include <linux/i2c.h>
#include <linux/spi/spidev.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/ioctl.h>
#include <unistd.h>

enum { PATH_LONGEST = 200, SPI_HERTZ = 1000000 };

/* --- the kernel's own calls --- */

static int kernel_open(const char *path, int flags)
{
    return open(path, flags);
}

static int kernel_ioctl(int file, unsigned long request, void *argument)
{
    return ioctl(file, request, argument);
}

static int kernel_clock(struct timespec *now)
{
    return clock_gettime(CLOCK_MONOTONIC, now);
}

static int kernel_sleep(const struct timespec *duration)
{
    return clock_nanosleep(CLOCK_MONOTONIC, 0, duration, NULL);
}

static const port_linux_calls kernel = {
    kernel_open, close, read, kernel_ioctl, poll, kernel_clock, kernel_sleep,
};

/* --- trouble --- */

static tl_status refused(port_linux *own, const char *what)
{
    snprintf(own->why, sizeof own->why, "%s: %s", what, strerror(errno));
    return TL_ERR_PORT;
}

/* --- lines --- */

static bool is_used(const port_linux *own, uint8_t line)
{
    return line < PORT_LINUX_LINES && own->lines[line] >= 0;
}

static void release(port_linux *own, uint8_t line)
{
    if (own->lines[line] >= 0)
        (void)own->calls->close(own->lines[line]);
    own->lines[line] = -1;
    own->outputs[line] = false;
}

static tl_status line_use(void *context, uint8_t line, tl_line_use use)
{
    static const uint64_t input =
        GPIO_V2_LINE_FLAG_INPUT | GPIO_V2_LINE_FLAG_EDGE_RISING | GPIO_V2_LINE_FLAG_EDGE_FALLING;
    port_linux *own = context;
    struct gpiochip_info chip = {.lines = 0};
    struct gpio_v2_line_request request = {.num_lines = 1, .offsets = {line}, .consumer = "tinyladder"};
    if (own->chip < 0)
        return TL_ERR_UNSUPPORTED;
    if (own->calls->ioctl(own->chip, GPIO_GET_CHIPINFO_IOCTL, &chip) < 0)
        return refused(own, own->places->lines);
    if (line >= PORT_LINUX_LINES || line >= chip.lines)
        return TL_ERR_ARG;
    release(own, line);
    if (use == TL_LINE_RELEASED)
        return TL_OK;
    request.config.flags = use == TL_LINE_OUTPUT            ? GPIO_V2_LINE_FLAG_OUTPUT
                           : use == TL_LINE_INPUT_PULL_UP   ? input | GPIO_V2_LINE_FLAG_BIAS_PULL_UP
                           : use == TL_LINE_INPUT_PULL_DOWN ? input | GPIO_V2_LINE_FLAG_BIAS_PULL_DOWN
                                                            : input | GPIO_V2_LINE_FLAG_BIAS_DISABLED;
    if (own->calls->ioctl(own->chip, GPIO_V2_GET_LINE_IOCTL, &request) < 0) {
        const bool lacks = errno == EINVAL || errno == ENOTSUP;
        (void)refused(own, own->places->lines);
        return lacks ? TL_ERR_UNSUPPORTED : TL_ERR_PORT;
    }
    own->lines[line] = request.fd;
    own->outputs[line] = use == TL_LINE_OUTPUT;
    return TL_OK;
}

static tl_status line_level(void *context, uint8_t line, bool *high)
{
    port_linux *own = context;
    struct gpio_v2_line_values values = {.mask = 1};
    if (!is_used(own, line))
        return TL_ERR_ARG;
    if (own->calls->ioctl(own->lines[line], GPIO_V2_LINE_GET_VALUES_IOCTL, &values) < 0)
        return refused(own, own->places->lines);
    *high = (values.bits & 1) != 0;
    return TL_OK;
}

static tl_status line_drive(void *context, uint8_t line, bool high)
{
    port_linux *own = context;
    struct gpio_v2_line_values values = {.mask = 1, .bits = high};
    if (!is_used(own, line) || !own->outputs[line])
        return TL_ERR_ARG;
    return own->calls->ioctl(own->lines[line], GPIO_V2_LINE_SET_VALUES_IOCTL, &values) < 0
               ? refused(own, own->places->lines)
               : TL_OK;
}

/* --- time --- */

static tl_status clock_us(void *context, uint32_t *now_us)
{
    port_linux *own = context;
    struct timespec now;
    if (own->calls->clock(&now) < 0)
        return refused(own, "the clock");
    *now_us = (uint32_t)((uint64_t)now.tv_sec * 1000000u + (uint64_t)now.tv_nsec / 1000u);
    return TL_OK;
}

/* A signal's handler may have cut it short. */
static tl_status wait_us(void *context, uint32_t duration_us)
{
    port_linux *own = context;
    uint32_t begun_us, now_us;
    tl_status status = clock_us(context, &begun_us);
    for (now_us = begun_us; status == TL_OK && now_us - begun_us <= duration_us;
         status = clock_us(context, &now_us)) {
        const uint32_t left_us = duration_us - (now_us - begun_us) + 1;
        const struct timespec left = {(time_t)(left_us / 1000000u), (long)(left_us % 1000000u) * 1000};
        (void)own->calls->sleep(&left);
    }
    return status;
}

/* Edges that came before are forgotten: the levels say what is so. */
static void forget_edges(const port_linux *own, struct pollfd *files, uint8_t count)
{
    struct gpio_v2_line_event events[16];
    for (int round = 0; round < 16 && own->calls->poll(files, count, 0) > 0; round++) {
        for (uint8_t i = 0; i < count; i++) {
            if ((files[i].revents & POLLIN) != 0)
                (void)own->calls->read(files[i].fd, events, sizeof events);
        }
    }
}

static tl_status wait_change(void *context, const uint8_t *lines, const bool *seen_high, uint8_t count,
                             uint32_t at_most_us)
{
    port_linux *own = context;
    struct pollfd files[PORT_LINUX_LINES];
    if (count > PORT_LINUX_LINES)
        return TL_ERR_ARG;
    for (uint8_t i = 0; i < count; i++) {
        if (!is_used(own, lines[i]))
            return TL_ERR_ARG;
        files[i] = (struct pollfd){.fd = own->lines[lines[i]], .events = POLLIN};
    }
    forget_edges(own, files, count);
    for (uint8_t i = 0; i < count; i++) {
        bool high = seen_high[i];
        const tl_status status = line_level(own, lines[i], &high);
        if (status != TL_OK || high != seen_high[i])
            return status;
    }
    const int milliseconds = (int)(at_most_us / 1000u);
    if (milliseconds == 0)
        return wait_us(own, at_most_us);
    return own->calls->poll(files, count, milliseconds) < 0 && errno != EINTR
               ? refused(own, own->places->lines)
               : TL_OK;
}

/* --- converter --- */

static tl_status conversion_start(void *context, uint8_t channel, uint8_t reference, uint32_t acquisition_ns)
{
    if (reference > 0)
        return TL_ERR_UNSUPPORTED; /* that of the kernel's driver is the only one */
    (void)acquisition_ns;          /* the kernel's driver has its own */
    port_linux *own = context;
    char path[PATH_LONGEST], text[24] = "", *end;
    snprintf(path, sizeof path, "%s/in_voltage%u_raw", own->places->converter, channel);
    const int file = own->calls->open(path, O_RDONLY | O_CLOEXEC);
    if (file < 0)
        return errno == ENOENT ? TL_ERR_ARG : refused(own, path);
    const ssize_t size = own->calls->read(file, text, sizeof text - 1);
    if (size < 0)
        (void)refused(own, path);
    (void)own->calls->close(file);
    const long word = strtol(text, &end, 10);
    if (size <= 0 || end == text)
        return TL_ERR_PORT;
    own->word = (uint32_t)word;
    return TL_OK;
}

static tl_status conversion_ended(void *context, bool *ended)
{
    (void)context;
    *ended = true;
    return TL_OK;
}

static tl_status conversion_word(void *context, uint32_t *word)
{
    *word = ((port_linux *)context)->word;
    return TL_OK;
}

/* --- buses --- */

static int bus_at(const port_linux *own, uint8_t bus, int select)
{
    for (int i = 0; i < own->places->bus_count; i++) {
        if (own->places->buses[i].bus == bus && own->places->buses[i].select == select)
            return i;
    }
    return -1;
}

static tl_status i2c_transfer(void *context, uint8_t bus, uint8_t address, const uint8_t *out,
                              uint8_t out_count, uint8_t *in, uint8_t in_count)
{
    port_linux *own = context;
    const int at = bus_at(own, bus, -1);
    uint8_t bytes[UINT8_MAX];
    struct i2c_msg messages[2];
    struct i2c_rdwr_ioctl_data all = {.msgs = messages, .nmsgs = 0};
    if (at < 0)
        return TL_ERR_ARG;
    if (out_count > 0)
        memcpy(bytes, out, out_count);
    if (out_count > 0 || in_count == 0)
        messages[all.nmsgs++] = (struct i2c_msg){.addr = address, .len = out_count, .buf = bytes};
    if (in_count > 0)
        messages[all.nmsgs++] =
            (struct i2c_msg){.addr = address, .flags = I2C_M_RD, .len = in_count, .buf = in};
    if (own->calls->ioctl(own->buses[at], I2C_RDWR, &all) >= 0)
        return TL_OK;
    const bool nobody = errno == ENXIO || errno == EREMOTEIO || errno == ENODEV;
    (void)refused(own, own->places->buses[at].path);
    return nobody ? TL_ERR_ACK : TL_ERR_PORT;
}

static tl_status spi_exchange(void *context, uint8_t bus, uint8_t select, const uint8_t *out, uint8_t *in,
                              uint8_t count)
{
    port_linux *own = context;
    const int at = bus_at(own, bus, select);
    if (at < 0)
        return TL_ERR_ARG;
    const uint32_t hertz = own->places->buses[at].hertz;
    struct spi_ioc_transfer transfer = {.tx_buf = (uintptr_t)out,
                                        .rx_buf = (uintptr_t)in,
                                        .len = count,
                                        .speed_hz = hertz != 0 ? hertz : SPI_HERTZ,
                                        .bits_per_word = 8};
    const int moved = own->calls->ioctl(own->buses[at], SPI_IOC_MESSAGE(1), &transfer);
    if (moved < 0)
        return refused(own, own->places->buses[at].path);
    return moved < count ? TL_ERR_PORT : TL_OK;
}

/* --- the whole --- */

static const tl_port_ops all_ops = {.line_use = line_use,
                                    .line_level = line_level,
                                    .line_drive = line_drive,
                                    .wait_change = wait_change,
                                    .conversion_start = conversion_start,
                                    .conversion_ended = conversion_ended,
                                    .conversion_word = conversion_word,
                                    .clock_us = clock_us,
                                    .wait_us = wait_us,
                                    .i2c_transfer = i2c_transfer,
                                    .spi_exchange = spi_exchange};
/* Without a converter its calls are missing, so that the core says so. */
static const tl_port_ops without_converter = {.line_use = line_use,
                                              .line_level = line_level,
                                              .line_drive = line_drive,
                                              .wait_change = wait_change,
                                              .clock_us = clock_us,
                                              .wait_us = wait_us,
                                              .i2c_transfer = i2c_transfer,
                                              .spi_exchange = spi_exchange};

/* A device file; false, and `why`, where it cannot be had. */
static bool open_device(port_linux *own, const char *path, int *file)
{
    *file = own->calls->open(path, O_RDWR | O_CLOEXEC);
    if (*file < 0)
        (void)refused(own, path);
    return *file >= 0;
}

/* The folder of a converter is there if it can tell its name. */
static bool has_converter(port_linux *own)
{
    char path[PATH_LONGEST];
    snprintf(path, sizeof path, "%s/name", own->places->converter);
    const int file = own->calls->open(path, O_RDONLY | O_CLOEXEC);
    if (file < 0)
        (void)refused(own, path);
    else
        (void)own->calls->close(file);
    return file >= 0;
}

const tl_port *port_linux_open(port_linux *own, const port_linux_places *places,
                               const port_linux_calls *calls)
{
    *own = (port_linux){.places = places, .calls = calls != NULL ? calls : &kernel, .chip = -1};
    for (int i = 0; i < PORT_LINUX_LINES; i++)
        own->lines[i] = -1;
    for (int i = 0; i < PORT_LINUX_BUSES; i++)
        own->buses[i] = -1;
    bool good = places->lines == NULL || open_device(own, places->lines, &own->chip);
    good = good && (places->converter == NULL || has_converter(own));
    for (int i = 0; good && i < places->bus_count; i++)
        good = open_device(own, places->buses[i].path, &own->buses[i]);
    if (!good) {
        port_linux_close(own);
        return NULL;
    }
    own->port = (tl_port){places->converter != NULL ? &all_ops : &without_converter, own, &own->reader};
    return &own->port;
}

void port_linux_close(port_linux *own)
{
    for (uint8_t i = 0; i < PORT_LINUX_LINES; i++)
        release(own, i);
    for (int i = 0; i < PORT_LINUX_BUSES; i++) {
        if (own->buses[i] >= 0)
            (void)own->calls->close(own->buses[i]);
        own->buses[i] = -1;
    }
    if (own->chip >= 0)
        (void)own->calls->close(own->chip);
    own->chip = -1;
}
