/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Comparing with a meter: corrections, whether the parts explain what was seen, and sensors' own
 * curves. */
#ifndef TINYLADDER_CALIBRATION_H
#define TINYLADDER_CALIBRATION_H

#include "tinyladder/design/measurement.h"

#ifdef __cplusplus
extern "C" {
#endif

/** What the converter said, and what the meter. */
typedef struct tl_trim_pair {
    double count, volts;
} tl_trim_pair;

enum { TL_TRIM_PAIRS_MOST = 32 }; /**< as many as a plan's trim has */

typedef enum tl_trim_fault {
    TL_TRIM_GOOD,
    TL_TRIM_TOO_FEW, /**< fewer than two */
    TL_TRIM_EQUAL,   /**< two with the same count */
    TL_TRIM_WILD,    /**< one does not belong to the others */
    TL_TRIM_NO_VOLTS /**< the signal has no volts to compare */
} tl_trim_fault;

/** volts = offset + gain x what the plan says without trim. */
typedef struct tl_trim_line {
    double offset, gain;
    double residual[TL_TRIM_PAIRS_MOST]; /**< meter less line, volts */
    double worst;                        /**< largest size of them */
    int which;                           /**< the pair at fault */
} tl_trim_line;

/** What the plan makes of a count without any trim, volts at the source or the pin. @return false where there
 * is none. */
bool tl_trim_plain(tl_circuit *circuit, int signal, double count, bool at_pin, double *volts);

/**
 * Least squares through the pairs; of four or more one may turn out wild: more than five times as far from
 * the line through the others as they are, and more than three counts. Then `which` is that pair, and the
 * line is the one through the others; its residual is that from it, and is not counted in `worst`.
 *
 * Stable: within one ABI number of libtinyladder-host (abi/host.map, abi/host.layout) no call, structure or
 * constant here changes.
 *
 * @code{.c}
 * double meter_may_be_off(const tl_plan *plan, double volts)
 * {
 *     return plan->meter_count > 0 ? tl_meter_limit(&plan->meters[0], volts) : 0;
 * }
 * @endcode
 */
tl_trim_fault tl_trim_fit(tl_circuit *circuit, int signal, bool at_pin, const tl_trim_pair *pairs, int count,
                          tl_trim_line *line);

/** The same with a gain of 1: the offset that leaves least, where the gain says nothing. */
void tl_trim_offset_alone(tl_circuit *circuit, int signal, bool at_pin, const tl_trim_pair *pairs, int count,
                          tl_trim_line *line);

typedef enum tl_trim_part {
    TL_TRIM_REFERENCE,
    TL_TRIM_RESISTORS, /**< and whatever else of the chain has a tolerance */
    TL_TRIM_OFFSET,
    TL_TRIM_GAIN,
    TL_TRIM_NONLINEARITY,
    TL_TRIM_NOISE,
    TL_TRIM_QUANTISATION,
    TL_TRIM_METER,
    TL_TRIM_PARTS
} tl_trim_part;

/** What a meter may be off at most at these volts; one that is NULL is taken as exact. */
double tl_meter_limit(const tl_meter *meter, double volts);

/** What the stated limits explain, by JCGM 100 (GUM): limits taken as rectangular, coverage 2. */
typedef struct tl_trim_verdict {
    double deviation;            /**< meter less plan, volts */
    double expanded;             /**< twice the combined uncertainty, but never more than all added up */
    double straight;             /**< the stated limits of parts, converter and meter, added up */
    double most;                 /**< and half a count and the noise's peaks with them: all added up */
    double share[TL_TRIM_PARTS]; /**< of the variance, 0 .. 1 */
    bool explained;              /**< the deviation is within `expanded` */
} tl_trim_verdict;

/** `reference`, `resistors` ...: what a share is called. */
const char *tl_trim_part_name(tl_trim_part part);

/**
 * How unsure the gain between the outermost pairs is, as a share: by the meter's last digits alone, and with
 * a count as well. The meter's share of the reading is the same at both, so it is in the gain but does not
 * make it unsure.
 */
void tl_trim_gain_unsure(const tl_trim_pair *first, const tl_trim_pair *last, const tl_meter *meter,
                         double *digits, double *with_count);

/** meter may be NULL: one without error. @return false where the signal has no volts to compare. */
bool tl_trim_judge(tl_circuit *circuit, int signal, bool at_pin, const tl_trim_pair *pair,
                   const tl_meter *meter, tl_trim_verdict *verdict);

/** Quantity and ohms of a sensor, in any order. */
typedef struct tl_response_pair {
    double quantity, ohms;
} tl_response_pair;

/**
 * Coefficients of a law by least squares: beta (ohms and at: those of the middle pair), or Steinhart-Hart, in
 * 1/T. residual: kelvin, one for each pair. @return false where the pairs cannot give them: too few, equal,
 * not positive.
 */
bool tl_response_fit(tl_law law, const tl_response_pair *pairs, int count, tl_response *curve,
                     double *residual);

#ifdef __cplusplus
}
#endif
#endif
