/* SPDX-License-Identifier: MIT */
/* The port of a Linux computer on a kernel that is made up here: the conformance suite finds nothing,
 * whatever is missing is named, and what goes over the buses is what was asked for. */
#include "conformance.h"
#include "port_linux.h"
#include "support.h"
#include <errno.h>
#include <linux/gpio.h>
#include <linux/i2c-dev.h>
#include <linux/i2c.h>
#include <linux/spi/spidev.h>
#include <string.h>

enum { CHIP = 100, CONVERTER, WIRES, FRAMES, LINE, LINES = 32, HIGH_LINE = 5, NO_PULLS = 7 };

static struct {
    int64_t now_ns;
    const char *missing; /* a path that is not there */
    int open_files;
    bool used[LINES], output[LINES], high[LINES];
    uint64_t flags[LINES];
    bool edge; /* the high line falls while somebody sleeps on it */
    uint8_t pointer, sent[8];
    uint32_t hertz;
    unsigned sent_count, refuse_ioctl; /* an errno for all of them */
} kernel;

static int fake_open(const char *path, int flags)
{
    (void)flags;
    errno = ENOENT;
    if (kernel.missing != NULL && strcmp(path, kernel.missing) == 0)
        return -1;
    const int file = strcmp(path, "/chip") == 0                                                    ? CHIP
                     : strcmp(path, "/adc/in_voltage3_raw") == 0 || strcmp(path, "/adc/name") == 0 ? CONVERTER
                     : strcmp(path, "/i2c") == 0                                                   ? WIRES
                     : strcmp(path, "/spi") == 0                                                   ? FRAMES
                                                                                                   : -1;
    kernel.open_files += file >= 0;
    return file;
}

static int fake_close(int file)
{
    if (file >= LINE)
        kernel.used[file - LINE] = false;
    kernel.open_files--;
    return 0;
}

static ssize_t fake_read(int file, void *to, size_t size)
{
    if (file != CONVERTER)
        return (ssize_t)size;
    memcpy(to, "512\n", 4);
    return 4;
}

static bool level_of(int line)
{
    const uint64_t flags = kernel.flags[line];
    return kernel.output[line] ? kernel.high[line]
           : line == HIGH_LINE ? !kernel.edge
                               : (flags & GPIO_V2_LINE_FLAG_BIAS_PULL_UP) != 0;
}

static int request_line(struct gpio_v2_line_request *request)
{
    const uint32_t line = request->offsets[0];
    const uint64_t pulls = GPIO_V2_LINE_FLAG_BIAS_PULL_UP | GPIO_V2_LINE_FLAG_BIAS_PULL_DOWN;
    errno = kernel.used[line] ? EBUSY : EINVAL;
    if (kernel.used[line] || (line == NO_PULLS && (request->config.flags & pulls) != 0))
        return -1;
    kernel.used[line] = true;
    kernel.output[line] = (request->config.flags & GPIO_V2_LINE_FLAG_OUTPUT) != 0;
    kernel.high[line] = false;
    kernel.flags[line] = request->config.flags;
    kernel.open_files++;
    request->fd = LINE + (int)line;
    return 0;
}

/* One device at 0x2a whose register 1 holds 0x85. */
static int transfer(const struct i2c_rdwr_ioctl_data *all)
{
    errno = ENXIO;
    for (uint32_t i = 0; i < all->nmsgs; i++) {
        const struct i2c_msg *m = &all->msgs[i];
        if (m->addr != 0x2a)
            return -1;
        for (int k = 0; k < m->len && (m->flags & I2C_M_RD) != 0; k++)
            m->buf[k] = kernel.pointer == 1 ? 0x85 : 0;
        if (m->len > 0 && (m->flags & I2C_M_RD) == 0)
            kernel.pointer = m->buf[0];
    }
    return (int)all->nmsgs;
}

static int exchange(const struct spi_ioc_transfer *t)
{
    memcpy(kernel.sent, (const void *)(uintptr_t)t->tx_buf, t->len < 8 ? t->len : 8);
    memset((void *)(uintptr_t)t->rx_buf, 0x5a, t->len);
    kernel.sent_count = t->len;
    kernel.hertz = t->speed_hz;
    return (int)t->len;
}

static int fake_ioctl(int file, unsigned long request, void *argument)
{
    struct gpio_v2_line_values *values = argument;
    if (kernel.refuse_ioctl != 0) {
        errno = (int)kernel.refuse_ioctl;
        return -1;
    }
    if (file == CHIP && request == GPIO_GET_CHIPINFO_IOCTL) {
        ((struct gpiochip_info *)argument)->lines = LINES;
        return 0;
    }
    if (file == CHIP && request == GPIO_V2_GET_LINE_IOCTL)
        return request_line(argument);
    if (file == WIRES && request == I2C_RDWR)
        return transfer(argument);
    if (file == FRAMES && request == SPI_IOC_MESSAGE(1))
        return exchange(argument);
    if (request == GPIO_V2_LINE_GET_VALUES_IOCTL)
        values->bits = level_of(file - LINE);
    else
        kernel.high[file - LINE] = (values->bits & 1) != 0;
    return 0;
}

static int fake_poll(struct pollfd *files, nfds_t count, int milliseconds)
{
    (void)files;
    (void)count;
    kernel.now_ns += (int64_t)milliseconds * 1000000;
    return 0;
}

static int fake_clock(struct timespec *now)
{
    kernel.now_ns += 1000;
    *now = (struct timespec){kernel.now_ns / 1000000000, kernel.now_ns % 1000000000};
    return 0;
}

static int fake_sleep(const struct timespec *duration)
{
    kernel.now_ns += duration->tv_sec * 1000000000 + duration->tv_nsec;
    return 0;
}

static const port_linux_calls calls = {fake_open, fake_close, fake_read, fake_ioctl,
                                       fake_poll, fake_clock, fake_sleep};
static const port_linux_places places = {
    "/chip",
    "/adc",
    {{.bus = 0, .select = -1, .path = "/i2c"}, {.bus = 1, .select = 4, .path = "/spi", .hertz = 500000}},
    2};

static const tl_port *opened(port_linux *own)
{
    memset(&kernel, 0, sizeof kernel);
    return port_linux_open(own, &places, &calls);
}

static void say(void *context, const char *promise, bool kept)
{
    (void)context;
    if (!kept)
        printf("\n  linux: %s\n", promise);
}

static void keeps_every_promise(void)
{
    static const port_facts facts = {.watch_us = 1u << 20,
                                     .input_line = HIGH_LINE,
                                     .input_high = true,
                                     .output_line = 9,
                                     .no_line = 40,
                                     .has_wait_change = true,
                                     .channel = 3,
                                     .least_word = 510,
                                     .largest_word = 514,
                                     .conversion_us = 100,
                                     .no_channel = 4,
                                     .has_i2c = true,
                                     .i2c_address = 0x2a,
                                     .i2c_register = 1,
                                     .i2c_nobody = 0x11,
                                     .has_spi = true,
                                     .spi_bus = 1,
                                     .spi_select = 4,
                                     .select_is_no_line = true,
                                     .own_acquisition = true};
    port_linux own;
    const tl_port *port = opened(&own);
    CU_ASSERT_FATAL(port != NULL);
    CU_ASSERT(port_conformance(port, &facts, say, NULL) == 0);
    port_linux_close(&own);
    CU_ASSERT(kernel.open_files == 0);
}

static void names_what_is_missing(void)
{
    static const char *const paths[] = {"/chip", "/adc/name", "/i2c", "/spi"};
    for (size_t i = 0; i < ROWS(paths); i++) {
        port_linux own;
        memset(&kernel, 0, sizeof kernel);
        kernel.missing = paths[i];
        CHECK_ROW(paths[i], port_linux_open(&own, &places, &calls) == NULL &&
                                strstr(own.why, paths[i]) == own.why &&
                                strstr(own.why, "No such file") != NULL && kernel.open_files == 0);
    }
    static const port_linux_places nothing = {0};
    port_linux own;
    bool ended;
    const tl_port *port = port_linux_open(&own, &nothing, &calls);
    CU_ASSERT(tl_port_line_use(port, 1, TL_LINE_INPUT) == TL_ERR_UNSUPPORTED &&
              tl_port_conversion_ended(port, port, &ended) == TL_ERR_UNSUPPORTED);
    CU_ASSERT(port_linux_open(&own, &(port_linux_places){.lines = "/nowhere/gpiochip9"}, NULL) == NULL &&
              strcmp(own.why, "/nowhere/gpiochip9: No such file or directory") == 0);
}

static void asks_for_what_was_meant(void)
{
    port_linux own;
    const tl_port *port = opened(&own);
    const uint8_t out[3] = {1, 0x80, 0}, line = HIGH_LINE;
    const bool seen = true;
    uint8_t in[3] = {0};
    CU_ASSERT(tl_port_line_use(port, 2, TL_LINE_INPUT_PULL_UP) == TL_OK &&
              (kernel.flags[2] & GPIO_V2_LINE_FLAG_BIAS_PULL_UP) != 0 && !kernel.output[2]);
    CU_ASSERT(tl_port_line_use(port, NO_PULLS, TL_LINE_INPUT_PULL_UP) == TL_ERR_UNSUPPORTED);
    CU_ASSERT(tl_port_spi_exchange(port, 1, 4, out, in, 3) == TL_OK && kernel.sent_count == 3 &&
              kernel.hertz == 500000 && memcmp(kernel.sent, out, 3) == 0 && in[2] == 0x5a);
    CU_ASSERT(tl_port_spi_exchange(port, 1, 5, out, in, 3) == TL_ERR_ARG);
    CU_ASSERT(tl_port_line_use(port, line, TL_LINE_INPUT) == TL_OK);
    const int64_t before_ns = kernel.now_ns;
    CU_ASSERT(tl_port_wait_change(port, &line, &seen, 1, 50000) == TL_OK &&
              kernel.now_ns - before_ns >= 50000000);
    kernel.edge = true; /* it has changed already: no sleep */
    const int64_t then_ns = kernel.now_ns;
    CU_ASSERT(tl_port_wait_change(port, &line, &seen, 1, 50000) == TL_OK &&
              kernel.now_ns - then_ns < 1000000);
    kernel.refuse_ioctl = EIO;
    bool high;
    CU_ASSERT(tl_port_line_level(port, line, &high) == TL_ERR_PORT && strstr(own.why, "/chip: ") == own.why);
    CU_ASSERT(tl_port_i2c_transfer(port, 0, 0x2a, out, 1, in, 1) == TL_ERR_PORT &&
              strstr(own.why, "/i2c: ") == own.why);
    port_linux_close(&own);
    CU_ASSERT(kernel.open_files == 0);
}

CU_TestInfo linux_tests[] = {
    {"keeps every promise", keeps_every_promise},
    {"names what is missing", names_what_is_missing},
    {"asks for what was meant", asks_for_what_was_meant},
    CU_TEST_INFO_NULL,
};
