/*
 * What is measured on the AVR: one count to clamped, undone, trimmed microvolts, by the core and in float,
 * over counts spread through the range. Each stretch lies between two marks; the simulator's host notes the
 * cycles.
 */
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
    }
    MARK = 255;
    for (;;) {
    }
}
