/* SPDX-License-Identifier: MIT */
/*
 * What is measured on the AVR: one count to clamped, undone, trimmed microvolts, by the core and in float,
 * over counts spread through the range. Each stretch lies between two marks; the simulator's host notes the
 * cycles.
 */
#include "tinyladder/lean.h"
#include "tinyladder/scale.h"

#define MARK (*(volatile uint8_t *)MARK_ADDRESS)

enum { COUNTS = 16 };
static volatile uint16_t counts[COUNTS] = {0,    1,    7,    100,  255,  256,  513,  1000,
                                           1365, 2047, 2048, 2731, 3000, 4000, 4095, 5000};
static volatile int32_t result;
static volatile uint8_t flags;

/* The divider of 47k and 10k undone, a meter's gain and offset behind it. */
static const tl_scale_config config = {.reference_high_uv = 3300000,
                                       .bits = 12,
                                       .steps = TL_STEPS_HALF,
                                       .undo_num = 5706,
                                       .undo_den = 1001,
                                       .offset_uv = -1200};

__attribute__((noinline)) static int32_t in_float(uint16_t count)
{
    if (count > 4095)
        count = 4095;
    float volts = (float)count * 3.3f / 4096.0f;      /* at the pin */
    volts = volts * (47000.0f + 10000.0f) / 10000.0f; /* at the source */
    volts = volts * 1.0000526f - 0.0012f;             /* trimmed */
    return (int32_t)(volts * 1e6f);
}

/* count * reference / steps alone, in whole numbers: what people write first. */
__attribute__((noinline)) static int32_t plain_line(uint16_t count)
{
    return (int32_t)((int64_t)count * 3300000 / 4096);
}

/* What `tinyladder header` makes: centivolts of the same divider, percent from 10.8 V to 12.9 V, a curve of
 * nine points. */
__attribute__((noinline)) static int16_t lean_centivolts(uint16_t count)
{
    return (int16_t)tl_lean_steps(count < 4095u ? count : 4095u, 30096u, 32768u, 16);
}

__attribute__((noinline)) static uint8_t lean_percent(uint16_t count)
{
    if (count <= 2357u)
        return 0;
    if (count >= 2807u)
        return 100;
    return (uint8_t)tl_lean_steps((uint16_t)(count - 2357u), 14500u, 20000u, 16);
}

static const TL_ROM tl_curve_point points[] = {
    {992, 531, -1, 43385},  {1204, 461, -1, 47216},  {1487, 382, -1, 49740},
    {1869, 290, -1, 51117}, {2902, 63, -1, 49104},   {3233, -20, -1, 45968},
    {3461, -88, -1, 41705}, {3626, -148, -1, 35796}, {3745, -202, 0, 0}};
static const TL_ROM tl_curve curve = {points, 9};

/* By hand, as firmware is often written: percent with one division, the curve with one a piece. */
__attribute__((noinline)) static uint8_t percent_by_hand(uint16_t count)
{
    const int32_t millivolts = (int32_t)count * 18810 / 4096;
    const int32_t percent = (millivolts - 10800) * 100 / (12900 - 10800);
    return percent < 0 ? 0 : percent > 100 ? 100 : (uint8_t)percent;
}

__attribute__((noinline)) static int16_t curve_by_hand(uint16_t count)
{
    static const int16_t from[] = {992, 1204, 1487, 1869, 2902, 3233, 3461, 3626, 3745};
    static const int16_t to[] = {531, 461, 382, 290, 63, -20, -88, -148, -202};
    if ((int16_t)count <= from[0])
        return to[0];
    for (uint8_t i = 1; i < 9; i++) {
        if ((int16_t)count < from[i])
            return (int16_t)(to[i - 1] + (int32_t)((int16_t)count - from[i - 1]) * (to[i] - to[i - 1]) /
                                             (from[i] - from[i - 1]));
    }
    return to[8];
}

int main(void)
{
    tl_scale scale;
    (void)tl_scale_init(&scale, &config);
    for (uint8_t i = 0; i < COUNTS; i++) {
        const uint16_t count = counts[i];
        MARK = 1; /* nothing: the cost of the marks */
        MARK = 2;
        MARK = 3;
        result = tl_scale_uv(&scale, count);
        MARK = 4;
        MARK = 5;
        flags = tl_scale_clipped(&scale, count);
        MARK = 6;
        MARK = 7;
        result = in_float(count);
        MARK = 8;
        MARK = 9;
        result = plain_line(count);
        MARK = 10;
        MARK = 11;
        result = lean_centivolts(count);
        MARK = 12;
        MARK = 13;
        flags = lean_percent(count);
        MARK = 14;
        MARK = 15;
        result = tl_curve_value(&curve, count);
        MARK = 16;
        MARK = 17;
        flags = percent_by_hand(count);
        MARK = 18;
        MARK = 19;
        result = curve_by_hand(count);
        MARK = 20;
    }
    MARK = 255;
    for (;;) {
    }
}
