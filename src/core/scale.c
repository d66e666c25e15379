/* SPDX-License-Identifier: MIT */
/*
 * count -> microvolts as one straight line in fixed point:
 *
 *     uv(c) = floor(base + c * step),  half a microvolt folded into base.
 *
 * First with 32 fraction bits: base and step are then right to 2^-32 uV, which 2^24 counts make 2^-8 uV. That
 * is the wide line. The narrow one keeps 16 fraction bits: the step's error of at most 2^-17 uV is shared out
 * to both sides by pinning the line in the middle of the codes, so over 65536 counts it stays within 1/4 uV,
 * and with the final rounding within 3/4 uV. Its products fit: 65535 * 65535 + 65535 < 2^32.
 * Whole microvolts are reckoned modulo 2^32, which is right because every result fits in 32 bits (checked
 * when the line is made).
 */
#include "tinyladder/scale.h"
#include "ratio.h"
#include <stddef.h>

#define REACH_UV 2000000000 /* 2000 V */
#define HALF_UV (UINT64_C(1) << 31)

/* uv * num / den in 2^-32 uV, modulo 2^64; false where that, with the offset, leaves the reach. */
static bool undo(int32_t uv, const tl_scale_config *config, uint64_t *fixed)
{
    const uint32_t size = uv < 0 ? 0u - (uint32_t)uv : (uint32_t)uv;
    const uint64_t product = (uint64_t)size * config->undo_num; /* 32 + 32 bits */
    const uint64_t whole = product / config->undo_den;
    const uint64_t rest = product % config->undo_den; /* below 2^32, so it can be shifted up */
    if (whole > REACH_UV)
        return false;
    const int64_t moved = (uv < 0 ? -(int64_t)whole : (int64_t)whole) + config->offset_uv;
    *fixed = whole << 32 | (rest << 32) / config->undo_den;
    if (uv < 0)
        *fixed = 0u - *fixed;
    *fixed += (uint64_t)(int64_t)config->offset_uv << 32;
    return moved >= -(int64_t)REACH_UV && moved <= REACH_UV;
}

static bool sensible(const tl_scale_config *config)
{
    return config->bits >= 4 && config->bits <= 24 && config->steps <= TL_STEPS_END_TO_END &&
           config->undo_num != 0 && config->undo_den != 0;
}

tl_status tl_wide_init(tl_wide *wide, const tl_scale_config *config)
{
    uint64_t ends[2]; /* the references, at the source */

    if (wide == NULL || config == NULL || !sensible(config))
        return TL_ERR_ARG;
    for (uint8_t i = 0; i < 2; i++) {
        const int32_t uv = i == 0 ? config->reference_low_uv : config->reference_high_uv;
        if (uv < -REACH_UV || uv > REACH_UV || !undo(uv, config, &ends[i]))
            return TL_ERR_RANGE;
    }
    if (config->reference_low_uv >= config->reference_high_uv)
        return TL_ERR_RANGE;
    const uint64_t span = ends[1] - ends[0];
    const uint32_t last = (UINT32_C(1) << config->bits) - 1u;
    uint64_t step = span >> config->bits, base = ends[0] + HALF_UV;
    if (config->steps == TL_STEPS_FULL)
        base += step / 2;
    if (config->steps == TL_STEPS_END_TO_END) {
        step = span / (config->has_sign ? last - 1u : last);
        if (config->has_sign) /* the lowest code lies one step beyond -range */
            base -= step;
    }
    *wide = (tl_wide){base, step, last};
    return TL_OK;
}

int32_t tl_wide_uv(const tl_wide *wide, uint32_t count)
{
    if (count > wide->last)
        count = wide->last;
    return (int32_t)(uint32_t)((wide->base + wide->step * count) >> 32);
}

tl_status tl_scale_init(tl_scale *scale, const tl_scale_config *config)
{
    tl_wide wide;
    if (scale == NULL || config == NULL || config->bits > 16)
        return TL_ERR_ARG;
    const tl_status status = tl_wide_init(&wide, config);
    if (status != TL_OK)
        return status;
    const uint64_t step = (wide.step + (1u << 15)) >> 16; /* in 1/65536 uV */
    /* From the middle of the codes back to code 0 along the rounded line; then half of a 1/65536 uV. */
    const uint64_t base = wide.base + (wide.step * wide.last >> 1) - ((step * wide.last) << 15) + (1u << 15);
    *scale = (tl_scale){
        .base_uv = (int32_t)(uint32_t)(base >> 32),
        .base_part = (uint16_t)(base >> 16),
        .step_part = (uint16_t)step,
        .step_uv = (uint16_t)(step >> 16),
        .step_high = (uint16_t)(step >> 32),
        .last = (uint16_t)wide.last,
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

/* --- the interval --- */

tl_status tl_accuracy_init(tl_accuracy *accuracy, const tl_scale_config *config, uint32_t ppm,
                           uint16_t milli_counts)
{
    tl_wide wide;
    if (accuracy == NULL || config == NULL || config->steps == TL_STEPS_END_TO_END || ppm > 500000)
        return TL_ERR_ARG;
    const tl_status status = tl_wide_init(&wide, config);
    if (status != TL_OK)
        return status;
    /* Half a count and the errors, a step being at most 2^60; then what all roundings make, below 2^-7 uV. */
    const uint32_t milli = 500u + milli_counts;
    *accuracy = (tl_accuracy){
        .line = wide,
        .around = wide.step / 1000u * milli + wide.step % 1000u * milli / 1000u + (UINT64_C(1) << 25),
        .share = (uint32_t)(((uint64_t)ppm << 32) / 1000000u) + (ppm != 0),
        .zero_uv = config->offset_uv,
    };
    return TL_OK;
}

/* A 64-bit size in 2^-32 by a share in 2^-32. */
static uint64_t share_of(uint64_t size, uint32_t share)
{
    return (size >> 32) * share + ((size & UINT32_MAX) * share >> 32);
}

/* All in 2^-32 uV: at most 2^63, so sums are compared with the ends before they are made. */
void tl_accuracy_interval(const tl_accuracy *accuracy, uint32_t count, int32_t *low_uv, int32_t *high_uv)
{
    const uint32_t last = accuracy->line.last;
    /* Without the half that the line has folded in; from the lowest volts on, so that nothing is below 0. */
    const uint64_t lowest = UINT64_C(1) << 63, at = accuracy->line.base - HALF_UV +
                                                    accuracy->line.step * (count > last ? last : count) +
                                                    lowest;
    const uint64_t zero = ((uint64_t)(int64_t)accuracy->zero_uv << 32) + lowest;
    const uint64_t size = at < zero ? zero - at : at - zero;
    /* The error is a share of the true volts, which may themselves lie `around` farther out. */
    const uint64_t off =
        accuracy->around + share_of(size, accuracy->share) + share_of(accuracy->around, accuracy->share);
    const uint64_t low = at > off ? at - off : 0, high = UINT64_MAX - at > off ? at + off : UINT64_MAX;
    *low_uv = (int32_t)((uint32_t)(low >> 32) ^ UINT32_C(0x80000000));
    *high_uv = (int32_t)((uint32_t)((high >> 32) + ((high & UINT32_MAX) != 0 && high >> 32 != UINT32_MAX)) ^
                         UINT32_C(0x80000000));
}
