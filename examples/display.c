/* SPDX-License-Identifier: MIT */
/* Bits on lines, as the two kinds of displays want them. */
#include "display.h"

enum { SELECT, ENABLE, DATA_0, HALF_BYTE_US = 40, BYTE_US = 50, CLEAR_US = 2000, AWAKE_US = 50000 };
enum { DATA, CLOCK, LOAD, POINT = 0x80, DASH = 0x40 };

static tl_status use_all(const tl_port *port, const TL_IN_ROM uint8_t *lines, uint8_t count, tl_line_use use)
{
    tl_status first = TL_OK;
    for (uint8_t i = 0; i < count; i++) {
        const tl_status status = tl_port_line_use(port, lines[i], use);
        first = first == TL_OK ? status : first;
    }
    return first;
}

static tl_status drive(const tl_port *port, const TL_IN_ROM uint8_t *lines, uint8_t which, bool high)
{
    return tl_port_line_drive(port, lines[which], high);
}

/* High and low again, 1 us at least each. */
static tl_status pulse(const tl_port *port, const TL_IN_ROM uint8_t *lines, uint8_t which)
{
    tl_status status = drive(port, lines, which, true);
    if (status == TL_OK)
        status = tl_port_wait_us(port, 1);
    return status == TL_OK ? drive(port, lines, which, false) : status;
}

/* --- characters --- */

static tl_status put_half(const tl_port *port, const TL_IN_ROM uint8_t *lines, uint8_t half)
{
    tl_status status = TL_OK;
    for (uint8_t bit = 0; bit < 4 && status == TL_OK; bit++)
        status = drive(port, lines, (uint8_t)(DATA_0 + bit), (half >> bit & 1) != 0);
    if (status == TL_OK)
        status = pulse(port, lines, ENABLE);
    return status == TL_OK ? tl_port_wait_us(port, HALF_BYTE_US) : status;
}

static tl_status put_byte(const tl_port *port, const TL_IN_ROM uint8_t *lines, bool character, uint8_t byte)
{
    tl_status status = drive(port, lines, SELECT, character);
    if (status == TL_OK)
        status = put_half(port, lines, byte >> 4);
    if (status == TL_OK)
        status = put_half(port, lines, byte & 15);
    return status == TL_OK ? tl_port_wait_us(port, BYTE_US) : status;
}

tl_status characters_open(const tl_port *port, const TL_IN_ROM uint8_t *lines)
{
    /* Three times the same half brings it to whole bytes from wherever it is, the fourth to halves. */
    static const uint8_t halves[] = {3, 3, 3, 2}, setup[] = {0x28, 0x0c, 0x06, 0x01};
    tl_status status = use_all(port, lines, CHARACTER_LINES, TL_LINE_OUTPUT);
    if (status == TL_OK)
        status = tl_port_wait_us(port, AWAKE_US);
    for (uint8_t i = 0; i < sizeof halves && status == TL_OK; i++) {
        status = put_half(port, lines, halves[i]);
        if (status == TL_OK)
            status = tl_port_wait_us(port, CLEAR_US * 2);
    }
    for (uint8_t i = 0; i < sizeof setup && status == TL_OK; i++)
        status = put_byte(port, lines, false, setup[i]);
    return status == TL_OK ? tl_port_wait_us(port, CLEAR_US) : status;
}

tl_status characters_put(const tl_port *port, const TL_IN_ROM uint8_t *lines, uint8_t row, const char *text)
{
    tl_status status = put_byte(port, lines, false, (uint8_t)(0x80 | (row > 0 ? 0x40 : 0)));
    for (uint8_t i = 0; i < DISPLAY_COLUMNS && status == TL_OK; i++) {
        status = put_byte(port, lines, true, *text != '\0' ? (uint8_t)*text : ' ');
        text += *text != '\0';
    }
    return status;
}

tl_status characters_close(const tl_port *port, const TL_IN_ROM uint8_t *lines)
{
    return use_all(port, lines, CHARACTER_LINES, TL_LINE_RELEASED);
}

/* --- digits --- */

tl_status digits_open(const tl_port *port, const TL_IN_ROM uint8_t *lines)
{
    return use_all(port, lines, DIGIT_LINES, TL_LINE_OUTPUT);
}

static tl_status shift_out(const tl_port *port, const TL_IN_ROM uint8_t *lines, uint8_t segments)
{
    tl_status status = TL_OK;
    for (uint8_t bit = 0; bit < 8 && status == TL_OK; bit++) {
        status = drive(port, lines, DATA, (segments << bit & 0x80) != 0);
        if (status == TL_OK)
            status = pulse(port, lines, CLOCK);
    }
    return status;
}

static uint8_t segments_of(char character)
{
    static const uint8_t digits[] = {0x3f, 0x06, 0x5b, 0x4f, 0x66, 0x6d, 0x7d, 0x07, 0x7f, 0x6f};
    return character >= '0' && character <= '9'   ? digits[character - '0']
           : character == '-' || character == '#' ? DASH
                                                  : 0;
}

tl_status digits_put(const tl_port *port, const TL_IN_ROM uint8_t *lines, int32_t value, uint8_t decimals)
{
    char text[DIGITS + 2];
    (void)tl_text_fixed(value, decimals, (uint8_t)(DIGITS + (decimals > 0)),
                        text); /* # where it has no room */
    tl_status status = TL_OK;
    for (uint8_t i = 0; text[i] != '\0' && status == TL_OK; i++) {
        const bool point = text[i + 1] == '.';
        status = shift_out(port, lines, (uint8_t)(segments_of(text[i]) | (point ? POINT : 0)));
        i = (uint8_t)(i + point);
    }
    return status == TL_OK ? pulse(port, lines, LOAD) : status;
}

tl_status digits_close(const tl_port *port, const TL_IN_ROM uint8_t *lines)
{
    return use_all(port, lines, DIGIT_LINES, TL_LINE_RELEASED);
}
