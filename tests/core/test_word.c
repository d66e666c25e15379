/* SPDX-License-Identifier: MIT */
/* Words: every code of every format up to 16 bits, there and back, and every wrong bit refused. */
#include "support.h"
#include "tinyladder/design/board.h"

/* As data sheets print them. */
static void reads_what_data_sheets_print(void)
{
    static const struct {
        const char *name;
        tl_word format;
        uint32_t word;
        tl_status status;
        int32_t code;
    } rows[] = {
        {"12 bits at the right of 16", {12, 16, TL_WORD_RIGHT, 0, 0}, 0x0fff, TL_OK, 4095},
        {"a bit too high up", {12, 16, TL_WORD_RIGHT, 0, 0}, 0x1000, TL_ERR_WORD, 7},
        {"10 bits at the left of 16", {10, 16, TL_WORD_LEFT, 0, 0}, 0x8040, TL_OK, 513},
        {"a bit below them", {10, 16, TL_WORD_LEFT, 0, 0}, 0x8020, TL_ERR_WORD, 7},
        {"beyond the word", {10, 16, TL_WORD_LEFT, 0, 0}, 0x10000, TL_ERR_WORD, 7},
        {"16 bits at the left of 32", {16, 32, TL_WORD_LEFT, 0, 0}, 0xabcd0000, TL_OK, 0xabcd},
        {"10 bits stretched over 16", {10, 16, TL_WORD_STRETCHED, 0, 0}, 0xffff, TL_OK, 1023},
        {"stretched in the middle: 0x201, then its top six bits",
         {10, 16, TL_WORD_STRETCHED, 0, 0},
         0x8060,
         TL_OK,
         0x201},
        {"stretched wrongly", {10, 16, TL_WORD_STRETCHED, 0, 0}, 0x8041, TL_ERR_WORD, 7},
        {"8 bits stretched over 32", {8, 32, TL_WORD_STRETCHED, 0, 0}, 0xa5a5a5a5, TL_OK, 0xa5},
        {"12 bits of two's complement, sign-filled",
         {12, 16, TL_WORD_RIGHT, TL_WORD_TWOS_COMPLEMENT, true},
         0xf800,
         TL_OK,
         -2048},
        {"the same, zero-filled", {12, 16, TL_WORD_RIGHT, TL_WORD_TWOS_COMPLEMENT, false}, 0x0fff, TL_OK, -1},
        {"zero-filled where the sign is promised",
         {12, 16, TL_WORD_RIGHT, TL_WORD_TWOS_COMPLEMENT, true},
         0x0fff,
         TL_ERR_WORD,
         7},
        {"two's complement at the left",
         {12, 16, TL_WORD_LEFT, TL_WORD_TWOS_COMPLEMENT, false},
         0x8010,
         TL_OK,
         -2047},
        {"offset binary, lowest", {16, 16, TL_WORD_RIGHT, TL_WORD_OFFSET_BINARY, false}, 0, TL_OK, -32768},
        {"offset binary, middle", {16, 16, TL_WORD_RIGHT, TL_WORD_OFFSET_BINARY, false}, 0x8000, TL_OK, 0},
        {"24 bits in 32",
         {24, 32, TL_WORD_RIGHT, TL_WORD_TWOS_COMPLEMENT, true},
         0xff800000,
         TL_OK,
         -8388608},
        {"25 bits", {25, 32, TL_WORD_RIGHT, 0, 0}, 0, TL_ERR_ARG, 7},
        {"3 bits", {3, 8, TL_WORD_RIGHT, 0, 0}, 0, TL_ERR_ARG, 7},
        {"wider than its word", {12, 8, TL_WORD_RIGHT, 0, 0}, 0, TL_ERR_ARG, 7},
        {"stretched with a sign",
         {10, 16, TL_WORD_STRETCHED, TL_WORD_TWOS_COMPLEMENT, false},
         0,
         TL_ERR_ARG,
         7},
    };
    for (size_t i = 0; i < ROWS(rows); i++) {
        int32_t code = 7;
        CHECK_ROW(rows[i].name, tl_word_code(&rows[i].format, rows[i].word, &code) == rows[i].status);
        CHECK_ROW(rows[i].name, code == rows[i].code);
    }
}

/* One format: every code comes back, and no word with one bit changed passes for the same code. */
static void prove(const tl_word *format)
{
    const bool is_signed = format->sign != TL_WORD_UNSIGNED;
    const int32_t codes = INT32_C(1) << format->bits, first = is_signed ? -codes / 2 : 0;
    bool back = true, sharp = true;
    uint32_t word = 0;
    for (int32_t code = first; code < first + codes; code++) {
        int32_t found = 0;
        back = back && tl_word_make(format, code, &word) == TL_OK &&
               tl_word_code(format, word, &found) == TL_OK && found == code;
        const uint32_t changed = word ^ UINT32_C(1) << ((uint32_t)(code - first) % 32u);
        sharp = sharp && (tl_word_code(format, changed, &found) == TL_ERR_WORD || found != code);
    }
    CU_ASSERT(back && sharp);
    CU_ASSERT(tl_word_make(format, first - 1, &word) == TL_ERR_RANGE);
    CU_ASSERT(tl_word_make(format, first + codes, &word) == TL_ERR_RANGE);
}

static void every_code_comes_back(void)
{
    static const uint8_t widths[] = {8, 16, 24, 32};
    for (uint8_t bits = 6; bits <= 16; bits++) {
        for (size_t w = 0; w < ROWS(widths); w++) {
            for (uint8_t align = TL_WORD_RIGHT; align <= TL_WORD_STRETCHED; align++) {
                for (uint8_t sign = TL_WORD_UNSIGNED; sign <= TL_WORD_OFFSET_BINARY; sign++) {
                    if (widths[w] < bits || (align == TL_WORD_STRETCHED && sign != TL_WORD_UNSIGNED))
                        continue;
                    const tl_word plain = {bits, widths[w], align, sign, false},
                                  filled = {bits, widths[w], align, sign, true};
                    prove(&plain);
                    if (sign == TL_WORD_TWOS_COMPLEMENT)
                        prove(&filled);
                }
            }
        }
    }
}

/* A count runs from 0 at the lowest code to all ones at the highest, and only these two are flagged. */
static void counts_begin_at_the_lowest_code(void)
{
    for (uint8_t sign = TL_WORD_UNSIGNED; sign <= TL_WORD_OFFSET_BINARY; sign++) {
        for (uint8_t bits = 6; bits <= 16; bits++) {
            const tl_word format = {bits, 16, TL_WORD_RIGHT, sign, false};
            const int32_t codes = INT32_C(1) << bits, first = sign == TL_WORD_UNSIGNED ? 0 : -codes / 2;
            bool right = true;
            for (int32_t code = first; code < first + codes && right; code++) {
                const unsigned wanted = TL_READING_FRESH | (code == first ? TL_READING_CLIPPED_LOW : 0u) |
                                        (code == first + codes - 1 ? TL_READING_CLIPPED_HIGH : 0u);
                tl_sample sample = {0};
                uint32_t word = 0;
                right = tl_word_count(&format, code) == (uint32_t)(code - first) &&
                        tl_word_make(&format, code, &word) == TL_OK &&
                        tl_word_sample(&format, word, &sample) == TL_OK && sample.value == code &&
                        sample.flags == wanted;
            }
            CU_ASSERT(right);
        }
    }
}

static void bytes_are_joined_in_their_order(void)
{
    static const uint8_t bytes[] = {0x12, 0x34, 0x56, 0x78};
    uint32_t word = 7;
    for (int order = TL_BYTES_HIGH_FIRST; order <= TL_BYTES_LOW_FIRST; order++)
        CU_ASSERT(tl_word_join(bytes, 1, (tl_byte_order)order, &word) == TL_OK && word == 0x12);
    CU_ASSERT(tl_word_join(bytes, 2, TL_BYTES_HIGH_FIRST, &word) == TL_OK && word == 0x1234);
    CU_ASSERT(tl_word_join(bytes, 3, TL_BYTES_LOW_FIRST, &word) == TL_OK && word == 0x563412);
    CU_ASSERT(tl_word_join(bytes, 4, TL_BYTES_HIGH_FIRST, &word) == TL_OK && word == 0x12345678);
    CU_ASSERT(tl_word_join(bytes, 0, TL_BYTES_HIGH_FIRST, &word) == TL_ERR_ARG && word == 0x12345678);
    CU_ASSERT(tl_word_join(bytes, 5, TL_BYTES_HIGH_FIRST, &word) == TL_ERR_ARG);
}

CU_TestInfo word_tests[] = {
    {"reads what data sheets print", reads_what_data_sheets_print},
    {"every code comes back", every_code_comes_back},
    {"counts begin at the lowest code", counts_begin_at_the_lowest_code},
    {"bytes are joined in their order", bytes_are_joined_in_their_order},
    CU_TEST_INFO_NULL,
};
