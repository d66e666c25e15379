#include "conformance.h"
#include "support.h"

static void time_moves_on(const tl_port *port)
{
    uint32_t before = 0, after = 0;
    for (uint32_t wait = 1; wait <= 100000; wait *= 10) {
        CU_ASSERT(tl_port_clock_us(port, &before) == TL_OK);
        CU_ASSERT(tl_port_wait_us(port, wait) == TL_OK);
        CU_ASSERT(tl_port_clock_us(port, &after) == TL_OK);
        CU_ASSERT(after - before >= wait && after - before < wait + 100000);
    }
}

static void lines_do_as_told(const tl_port *port, const port_facts *facts)
{
    bool high = !facts->input_high;
    CU_ASSERT(tl_port_line_use(port, facts->input_line, TL_LINE_INPUT) == TL_OK);
    CU_ASSERT(tl_port_line_level(port, facts->input_line, &high) == TL_OK && high == facts->input_high);
    CU_ASSERT(tl_port_line_drive(port, facts->input_line, true) != TL_OK); /* an input is not driven */
    CU_ASSERT(tl_port_line_use(port, facts->input_line, TL_LINE_RELEASED) == TL_OK);

    CU_ASSERT(tl_port_line_use(port, facts->output_line, TL_LINE_OUTPUT) == TL_OK);
    CU_ASSERT(tl_port_line_level(port, facts->output_line, &high) == TL_OK &&
              !high); /* low until told otherwise */
    CU_ASSERT(tl_port_line_drive(port, facts->output_line, true) == TL_OK);
    CU_ASSERT(tl_port_line_level(port, facts->output_line, &high) == TL_OK && high);
    CU_ASSERT(tl_port_line_use(port, facts->output_line, TL_LINE_RELEASED) == TL_OK);
    CU_ASSERT(tl_port_line_drive(port, facts->output_line, true) != TL_OK);

    high = true;
    CU_ASSERT(tl_port_line_use(port, facts->no_line, TL_LINE_INPUT) != TL_OK);
    CU_ASSERT(tl_port_line_level(port, facts->no_line, &high) != TL_OK && high);
}

/* Nothing changes: it waits at most so long. Asked again and again, as one that may come back early has to
 * be. */
static void changes_are_waited_for(const tl_port *port, const port_facts *facts)
{
    uint32_t begun = 0, now = 0;
    const uint8_t lines[] = {facts->input_line, facts->no_line};
    bool seen[] = {facts->input_high, false};
    if (!facts->has_wait_change)
        return;
    CU_ASSERT(tl_port_line_use(port, facts->input_line, TL_LINE_INPUT) == TL_OK);
    CU_ASSERT(tl_port_clock_us(port, &begun) == TL_OK);
    CU_ASSERT(tl_port_wait_change(port, lines, seen, 1, 5000) == TL_OK);
    CU_ASSERT(tl_port_clock_us(port, &now) == TL_OK && now - begun < 100000);
    seen[0] = !facts->input_high; /* it has changed already: no wait */
    CU_ASSERT(tl_port_wait_change(port, lines, seen, 1, 1000000) == TL_OK);
    CU_ASSERT(tl_port_clock_us(port, &now) == TL_OK && now - begun < 500000);
    CU_ASSERT(tl_port_wait_change(port, lines, seen, 2, 5000) != TL_OK);
    CU_ASSERT(tl_port_line_use(port, facts->input_line, TL_LINE_RELEASED) == TL_OK);
}

static void conversions_end_and_fit(const tl_port *port, const port_facts *facts)
{
    uint32_t word = 0;
    for (int i = 0; i < 20; i++) {
        CU_ASSERT(tl_port_convert(port, facts->channel, 1000u << i % 5, 10000, &word) == TL_OK);
        CU_ASSERT(word <= facts->largest_word);
    }
    word = 0xdeadbeef;
    CU_ASSERT(tl_port_convert(port, facts->no_channel, 1000, 10000, &word) != TL_OK && word == 0xdeadbeef);
}

/* At both ends a share is a level. */
static void shares_of_time_are_driven(const tl_port *port, const port_facts *facts)
{
    bool high = true;
    if (!facts->has_duty)
        return;
    CU_ASSERT(tl_port_line_duty(port, facts->duty_line, 1) != TL_OK); /* not an output yet */
    CU_ASSERT(tl_port_line_use(port, facts->duty_line, TL_LINE_OUTPUT) == TL_OK);
    CU_ASSERT(tl_port_line_duty(port, facts->duty_line, UINT16_MAX / 3) == TL_OK);
    CU_ASSERT(tl_port_line_duty(port, facts->duty_line, 0) == TL_OK);
    CU_ASSERT(tl_port_line_level(port, facts->duty_line, &high) == TL_OK && !high);
    CU_ASSERT(tl_port_line_duty(port, facts->duty_line, UINT16_MAX) == TL_OK);
    CU_ASSERT(tl_port_line_level(port, facts->duty_line, &high) == TL_OK && high);
    CU_ASSERT(tl_port_line_use(port, facts->duty_line, TL_LINE_RELEASED) == TL_OK);
}

static void a_converter_that_is_off_says_so(const tl_port *port, const port_facts *facts)
{
    uint32_t word = 0xdeadbeef;
    if (!facts->has_power)
        return;
    CU_ASSERT(tl_port_converter_power(port, false) == TL_OK && tl_port_converter_power(port, false) == TL_OK);
    CU_ASSERT(tl_port_convert(port, facts->channel, 1000, 10000, &word) != TL_OK && word == 0xdeadbeef);
    CU_ASSERT(tl_port_converter_power(port, true) == TL_OK);
    CU_ASSERT(tl_port_convert(port, facts->channel, 1000, 10000, &word) == TL_OK &&
              word <= facts->largest_word);
}

static void buses_move_bytes(const tl_port *port, const port_facts *facts)
{
    uint8_t out[3] = {facts->i2c_register, 0, 0}, in[3] = {0xa5, 0xa5, 0xa5};
    if (facts->has_i2c) {
        CU_ASSERT(tl_port_i2c_transfer(port, facts->i2c_bus, facts->i2c_address, out, 1, in, 1) == TL_OK);
        CU_ASSERT(tl_port_i2c_transfer(port, facts->i2c_bus, facts->i2c_address, NULL, 0, NULL, 0) ==
                  TL_OK); /* there? */
        in[0] = 0xa5;
        CU_ASSERT(tl_port_i2c_transfer(port, facts->i2c_bus, facts->i2c_nobody, out, 1, in, 1) ==
                      TL_ERR_ACK &&
                  in[0] == 0xa5);
    }
    if (facts->has_spi)
        CU_ASSERT(tl_port_spi_exchange(port, facts->spi_bus, facts->spi_select, out, in, 3) == TL_OK);
}

void port_conformance(const tl_port *port, const port_facts *facts)
{
    time_moves_on(port);
    lines_do_as_told(port, facts);
    changes_are_waited_for(port, facts);
    conversions_end_and_fit(port, facts);
    shares_of_time_are_driven(port, facts);
    a_converter_that_is_off_says_so(port, facts);
    buses_move_bytes(port, facts);
}
