/* SPDX-License-Identifier: MIT */
/**
 * @file
 * From a converter's count to microvolts, at the pin or at the source, with no division and no floating
 * point.
 *
 * LSB = (reference high - reference low) / 2^bits. A converter has one of two kinds of step; a third way of
 * reckoning is a habit. All three give a straight line from count to volts, and so do a divider, a gain, an
 * offset and a two-point correction behind it: they are folded into one line when the scale is made.
 *
 * Counts run from 0 for the lowest code; tl_word_count() makes them from codes with a sign.
 *
 * Stack: 216 bytes at most, in tl_scale_init() (docs/targets.md).
 * Called anywhere, also in an interrupt, one caller at a time for each object; nothing waits.
 *
 * Stable: within one minor version calls, macros and structures that you fill in keep their meaning;
 * structures that hold a state may get further members.
 *
 * @code{.c}
 * int32_t battery_uv(uint16_t count)
 * {
 *     const tl_scale_config config = {.reference_high_uv = 3300000, .bits = 12, .steps = TL_STEPS_HALF,
 *                                     .undo_num = 59, .undo_den = 12};
 *     tl_scale scale;
 *     return tl_scale_init(&scale, &config) == TL_OK ? tl_scale_uv(&scale, count) : 0;
 * }
 * @endcode
 */
#ifndef TINYLADDER_SCALE_H
#define TINYLADDER_SCALE_H

#include <stdbool.h>
#include <stdint.h>

#include "tinyladder/small.h"
#include "tinyladder/status.h"

#ifdef __cplusplus
extern "C" {
#endif

typedef enum TL_PACKED tl_steps {
    TL_STEPS_HALF,      /**< first step at half an LSB: code k is centred on k * LSB */
    TL_STEPS_FULL,      /**< first step at one LSB: code k is centred on (k + 1/2) * LSB */
    TL_STEPS_END_TO_END /**< the habit k * span / (2^bits - 1): up to an LSB off against the half kind,
                             half an LSB against the full kind; with a sign code * range / (2^(bits-1) - 1) */
} tl_steps;

/** Where a count is a full answer and where the truth may lie beyond it. */
enum {
    TL_READING_FRESH = 1u << 0,       /**< taken by the call that just returned TL_OK */
    TL_READING_CLIPPED_LOW = 1u << 1, /**< first code: at or below */
    TL_READING_CLIPPED_HIGH = 1u << 2 /**< last code: at or beyond */
};

/** A value, such as a code, with its flags: what inputs hand on, and filters take and give. */
typedef struct tl_sample {
    tl_number value;
    uint8_t flags; /**< TL_READING_... */
    int8_t reason; /**< where it is not fresh, the tl_status that says why; else TL_OK */
} tl_sample;

/** What a scale is made from. Volts are those the converter's reference pins have against the pin's ground;
 * with a sign from -range to range. */
typedef struct tl_scale_config {
    int32_t reference_low_uv;  /**< -2 000 000 000 .. 2 000 000 000 */
    int32_t reference_high_uv; /**< above reference_low_uv, same range */
    uint8_t bits;              /**< 4 .. 16, or .. 24 for a tl_wide */
    tl_steps steps;
    uint32_t
        undo_num; /**< source volts per pin volt, as a fraction: (upper + lower) / lower for a divider; */
    uint32_t undo_den; /**< 1 / 1 for volts at the pin. Neither may be 0. */
    int32_t offset_uv; /**< added last, at the source */
    bool has_sign;     /**< codes with a sign: matters to the end-to-end habit alone */
} tl_scale_config;

/**
 * The finished line. Make it with tl_scale_init(), or on the host, and keep it as a constant. The step stands
 * in three words of 16 bits, because an 8-bit chip multiplies 16 by 16 bits three times faster than 32 by 32.
 */
typedef struct tl_scale {
    int32_t base_uv;    /**< whole microvolts of count 0, with the rounding half folded in */
    uint16_t base_part; /**< 1/65536 uV to add to it */
    uint16_t step_part; /**< of a step: 1/65536 uV, */
    uint16_t step_uv;   /**< whole microvolts, */
    uint16_t step_high; /**< and 65536 uV */
    uint16_t last;      /**< the highest count */
} tl_scale;

/**
 * Precomputes a scale.
 *
 * @param[out] scale  Left untouched unless TL_OK is returned.
 * @return TL_OK; TL_ERR_ARG for a NULL, bits, or zero in the fraction; TL_ERR_RANGE where a reference is out
 * of range or reversed, or where either of them, seen at the source, lies beyond -2000 V or 2000 V.
 */
tl_status tl_scale_init(tl_scale *scale, const tl_scale_config *config);

/**
 * Microvolts in the centre of a count, within 1 uV of the exact rational value for every count, and
 * monotonic. Counts above the last are taken as the last.
 */
int32_t tl_scale_uv(const tl_scale *scale, uint16_t count);

/** TL_READING_CLIPPED_LOW, TL_READING_CLIPPED_HIGH or 0. Clipped is no fault: a knob at its stop is there
 * lawfully. */
uint8_t tl_scale_clipped(const tl_scale *scale, uint16_t count);

/** The same line for converters of up to 24 bits, in 64 bits: some three times the work of a tl_scale. */
typedef struct tl_wide {
    uint64_t base; /**< of count 0 and of a step, in 2^-32 uV, modulo 2^64; the rounding half is folded in */
    uint64_t step;
    uint32_t last;
} tl_wide;

/** As tl_scale_init(), with 4 .. 24 bits. */
tl_status tl_wide_init(tl_wide *wide, const tl_scale_config *config);
/** As tl_scale_uv(): within 1 uV of the exact value, and monotonic. */
int32_t tl_wide_uv(const tl_wide *wide, uint32_t count);

/** How far the truth may be from a count's value. Make it with tl_accuracy_init(); a constant from then on.
 */
typedef struct tl_accuracy {
    tl_wide line;
    uint64_t around; /**< half a count and the converter's errors, at the source, in 2^-32 uV */
    uint32_t share;  /**< of the volts, in 2^-32 */
    int32_t zero_uv; /**< what counts as 0 V for that share: the scale's offset */
} tl_accuracy;

/**
 * @param config  What the scale was made from, with the converter's own kind of step: the habit has no cells.
 * @param ppm  Limits of the references and of the undo's ratio together, up to 500 000.
 * @param milli_counts  Limits of offset, gain and nonlinearity together, in 1/1000 count.
 * @return As tl_scale_init(); TL_ERR_ARG for the habit, or ppm out of range.
 */
tl_status tl_accuracy_init(tl_accuracy *accuracy, const tl_scale_config *config, uint32_t ppm,
                           uint16_t milli_counts);

/**
 * The guaranteed interval behind a count: its cell, a whole LSB wide, and the limits above, rounded outwards
 * to whole microvolts; kept within int32. Noise is apart; beyond a clipped count the truth may lie anywhere.
 */
void tl_accuracy_interval(const tl_accuracy *accuracy, uint32_t count, int32_t *low_uv, int32_t *high_uv);

#ifdef __cplusplus
}
#endif
#endif
