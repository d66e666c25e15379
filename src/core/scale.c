/*
 * count -> microvolts as one straight line in fixed point:
 *
 *     uv(c) = floor((base + c * step) / 65536),  base and step in 1/65536 uV, half a microvolt folded into
 * base.
 *
 * The step is rounded to 1/65536 uV once: an error of at most 1/2 of that per count. The line is pinned to
 * the exact value in the middle of the codes, so over at most 65536 counts the error stays within 32768 * 1/2
 * / 65536 = 1/4 uV, and with the final rounding within 3/4 uV. Products fit: 65535 * 65535 + 65535 < 2^32.
 * Whole microvolts are reckoned modulo 2^32, which is right because every result fits in 32 bits (checked
 * when the scale is made).
 */
#include "tinyladder/scale.h"
#include <stdbool.h>

#define REACH_UV 2000000000 /* 2000 V */
#define HALF_UV (UINT64_C(1) << 31)

/* magnitude * num / den with 32 fraction bits, cut off; false where it does not fit. */
static bool undo(uint32_t magnitude, const tl_scale_config *config, uint64_t *fixed)
{
    const uint64_t product = (uint64_t)magnitude * config->undo_num; /* 32 + 32 bits */
    const uint64_t whole = product / config->undo_den;
    const uint64_t rest = product - whole * config->undo_den; /* below 2^32, so it can be shifted up */

    if (whole > UINT32_MAX)
        return false;
    *fixed = whole << 32 | (rest << 32) / config->undo_den;
    return true;
}

static bool within_reach(int64_t uv)
{
    return uv >= -(int64_t)REACH_UV && uv <= REACH_UV;
}

static bool sensible(const tl_scale_config *config)
{
    return config->bits >= 6 && config->bits <= 16 && config->steps <= TL_STEPS_END_TO_END &&
           config->undo_num != 0 && config->undo_den != 0;
}

tl_status tl_scale_init(tl_scale *scale, const tl_scale_config *config)
{
    uint64_t low, span;

    if (scale == NULL || config == NULL || !sensible(config))
        return TL_ERR_ARG;
    const int32_t low_uv = config->reference_low_uv, high_uv = config->reference_high_uv;
    if (!within_reach(low_uv) || !within_reach(high_uv) || low_uv >= high_uv ||
        !within_reach(config->offset_uv))
        return TL_ERR_RANGE;
    const uint32_t low_size = low_uv < 0 ? 0u - (uint32_t)low_uv : (uint32_t)low_uv;
    if (!undo(low_size, config, &low) || !undo((uint32_t)high_uv - (uint32_t)low_uv, config, &span))
        return TL_ERR_RANGE;
    const int64_t first_uv = (low_uv < 0 ? -(int64_t)(low >> 32) : (int64_t)(low >> 32)) + config->offset_uv;
    if (!within_reach(first_uv - 1) || !within_reach(first_uv + (int64_t)(span >> 32) + 2))
        return TL_ERR_RANGE;

    const uint16_t last = (uint16_t)((UINT32_C(1) << config->bits) - 1u);
    const uint64_t exact_step = config->steps == TL_STEPS_END_TO_END ? span / last : span >> config->bits;
    const uint64_t step = (exact_step + (1u << 15)) >> 16; /* in 1/65536 uV */

    /* The exact value half way between the first and the last code, then back to code 0 along the rounded
     * line. */
    uint64_t base =
        (low_uv < 0 ? 0u - low : low) + (span >> 1) + ((uint64_t)(int64_t)config->offset_uv << 32);
    if (config->steps == TL_STEPS_HALF)
        base -= span >> (config->bits + 1);
    base -= (step * last) << 15; /* half of last steps, in 2^-32 uV */
    base += HALF_UV + (1u << 15);

    *scale = (tl_scale){
        .base_uv = (int32_t)(uint32_t)(base >> 32),
        .base_part = (uint16_t)(base >> 16),
        .step_part = (uint16_t)step,
        .step_uv = (uint16_t)(step >> 16),
        .step_high = (uint16_t)(step >> 32),
        .last = last,
    };
    return TL_OK;
}

/* In this order gcc-avr needs the fewest registers: 146 cycles, 157 with the fraction first (make perf). */
int32_t tl_scale_uv(const tl_scale *scale, uint16_t count)
{
    if (count > scale->last)
        count = scale->last;
    uint32_t uv = (uint32_t)count * scale->step_uv + (uint32_t)scale->base_uv;
    if (scale->step_high != 0) /* steps of more than 65 mV */
        uv += (uint32_t)(uint16_t)((uint32_t)count * scale->step_high) << 16;
    const uint32_t parts = (uint32_t)count * scale->step_part + scale->base_part;
    return (int32_t)(uv + (uint16_t)(parts >> 16));
}

uint8_t tl_scale_clipped(const tl_scale *scale, uint16_t count)
{
    if (count == 0)
        return TL_READING_CLIPPED_LOW;
    return count >= scale->last ? TL_READING_CLIPPED_HIGH : 0u;
}
