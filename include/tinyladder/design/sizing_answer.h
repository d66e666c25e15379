/* SPDX-License-Identifier: MIT */
/**
 * @file
 * What a sizing answers: choices with their figures, costs and windows, what they really give at worst,
 * and why others fail. The jobs themselves are in sizing.h.
 *
 * Plain structs and functions; nothing is printed here. Host side, double precision, SI base units.
 *
 * Stable: within one ABI number of libtinyladder-host (abi/host.map, abi/host.layout) no call, structure or
 * constant here changes.
 *
 * @code{.c}
 * void print_first(const tl_size_result *answer)
 * {
 *     double used;
 *     if (answer->count > 0 && tl_choice_tightest(&answer->choices[0], &used) != NULL)
 *         printf("nearest to its limit: %.0f %%\n", 100 * used);
 * }
 * @endcode
 */
#ifndef TINYLADDER_SIZING_ANSWER_H
#define TINYLADDER_SIZING_ANSWER_H

#include <stdbool.h>
#include <stddef.h>

#include "tinyladder/design/preferred.h"
#include "tinyladder/design/quantity.h"

#ifdef __cplusplus
extern "C" {
#endif

/* --- answers --- */

/** Which extreme a figure is. The limit of a highest is an upper one, of a lowest a lower one. */
typedef enum tl_extreme { TL_HIGHEST, TL_LOWEST, TL_TYPICAL } tl_extreme;

/** What a figure is. The arithmetic that searches and the circuit that proves fill the same one; its label,
 * its unit and the question to the circuit stand in src/sizing/figures.c. */
typedef enum tl_figure_id {
    TL_FIG_ABOVE_THE_SUPPLY,
    TL_FIG_4_TO_20_MA_MAKES,
    TL_FIG_ACQUISITION,
    TL_FIG_ALL_LAMPS,
    TL_FIG_AT_20_MA,
    TL_FIG_AT_4_MA,
    TL_FIG_AT_ONCE,
    TL_FIG_AT_THE_DRIVER,
    TL_FIG_AT_THE_MOST,
    TL_FIG_AT_THE_PIN,
    TL_FIG_AT_THE_RECEIVER,
    TL_FIG_BASE_CURRENT_LEAST,
    TL_FIG_BASE_WHILE_OFF,
    TL_FIG_BIAS_AND_OFFSET_COST,
    TL_FIG_BOTH_TOGETHER,
    TL_FIG_CALIBRATED,
    TL_FIG_CALIBRATED_HIGHEST,
    TL_FIG_CALIBRATED_LOWEST,
    TL_FIG_CLOSED_LEVEL,
    TL_FIG_CLOSED_LEVEL_LEAST,
    TL_FIG_CORNER_HIGHEST,
    TL_FIG_CORNER_LOWEST,
    TL_FIG_COUNTS_PER_OHM_HIGH_END,
    TL_FIG_COUNTS_PER_OHM_LOW_END,
    TL_FIG_COUNTS_PER_OHM_WANTED,
    TL_FIG_CROSSTALK_LEFT,
    TL_FIG_CURRENT,
    TL_FIG_CURRENT_AT_0_OHM,
    TL_FIG_CURRENT_CLOSED,
    TL_FIG_CURRENT_LEAST,
    TL_FIG_CURRENT_LOW,
    TL_FIG_CURRENT_MOST,
    TL_FIG_DIODE_BLOCKS,
    TL_FIG_DIODE_CARRIES,
    TL_FIG_DRIVER_GIVES,
    TL_FIG_DRIVER_OFF,
    TL_FIG_DRIVER_TAKES,
    TL_FIG_DROP_BY_LEAKAGE,
    TL_FIG_DWELL,
    TL_FIG_ERROR_NOW,
    TL_FIG_FALLS_BACK_IN,
    TL_FIG_FALLS_BY,
    TL_FIG_FALLS_IN,
    TL_FIG_FAULT_AT_21_MA,
    TL_FIG_FEED_POWER,
    TL_FIG_FOLLOWS_A_STEP_IN,
    TL_FIG_FOLLOWS_OF_THE_RANGE,
    TL_FIG_GATE_LEVEL_LEAST,
    TL_FIG_GATE_OVER_SOURCE,
    TL_FIG_HEAT_IN_SENSOR,
    TL_FIG_HIGH_MARGIN,
    TL_FIG_HIGH_MARGIN_BACK,
    TL_FIG_HIGH_MARGIN_INPUT,
    TL_FIG_HIGH_MARGIN_BACK_OF_PART,
    TL_FIG_IDLE_LEVEL,
    TL_FIG_IDLE_LEVEL_LEAST,
    TL_FIG_INJECTED,
    TL_FIG_INJECTED_ABOVE,
    TL_FIG_INJECTED_BELOW,
    TL_FIG_INPUT_HIGHEST,
    TL_FIG_INPUT_HIGH_AT_MOST,
    TL_FIG_INPUT_LOWEST,
    TL_FIG_INPUT_LOW_AT_LEAST,
    TL_FIG_INTO_THE_RAIL_ALL,
    TL_FIG_KEPT,
    TL_FIG_LEAKAGE_COSTS,
    TL_FIG_LEAST_APART,
    TL_FIG_LEAST_OHMS,
    TL_FIG_LEFT_FOR_THE_LOOP,
    TL_FIG_LOAD_CURRENT,
    TL_FIG_LOW_MARGIN,
    TL_FIG_LOW_MARGIN_INPUT,
    TL_FIG_METER_SHOWS,
    TL_FIG_MOST_OHMS,
    TL_FIG_OFF_BY,
    TL_FIG_OF_IT_IN_COUNTS,
    TL_FIG_OF_THE_LIMIT,
    TL_FIG_OF_THE_LIMIT_LEAST,
    TL_FIG_ONE_CHANNEL,
    TL_FIG_OUTPUT_HIGHEST,
    TL_FIG_OUTPUT_STAYS_ABOVE,
    TL_FIG_PIN_CURRENT,
    TL_FIG_PIN_CURRENT_MOST,
    TL_FIG_POWER,
    TL_FIG_POWER_IN_A_LEG,
    TL_FIG_POWER_THEN,
    TL_FIG_RATIO,
    TL_FIG_RATIO_HIGHEST,
    TL_FIG_RATIO_LOWEST,
    TL_FIG_RECEIVER_OFF,
    TL_FIG_RECEIVER_OFF_VOLTS,
    TL_FIG_RELEASES_AFTER,
    TL_FIG_RISES_BACK_IN,
    TL_FIG_RISES_IN,
    TL_FIG_RISE_TIME,
    TL_FIG_SAMPLES_A_SECOND,
    TL_FIG_SCANS_A_SECOND,
    TL_FIG_SETTLES_IN,
    TL_FIG_SHORTED_AT_THE_PIN,
    TL_FIG_SHORTED_CURRENT,
    TL_FIG_SHORTED_POWER,
    TL_FIG_SOURCE_RESISTANCE,
    TL_FIG_STEADILY,
    TL_FIG_SUPPLY,
    TL_FIG_SWING,
    TL_FIG_TAP_HIGHEST,
    TL_FIG_TAP_LOWEST,
    TL_FIG_TIME_CONSTANT,
    TL_FIG_TOGETHER,
    TL_FIG_TOP_HIGHEST,
    TL_FIG_TOP_LOWEST,
    TL_FIG_TRANSISTOR_POWER,
    TL_FIG_WARMS_ITSELF_BY,
    TL_FIG_WETTING_CURRENT,
    TL_FIGURE_IDS
} tl_figure_id;

/** One figure of a choice. */
typedef struct tl_size_figure {
    tl_figure_id id;
    const char *name;  /**< for programs: it stays */
    const char *label; /**< for people */
    double value;
    tl_dimension dimension;
    tl_extreme extreme;
    double limit; /**< NAN for none */
    bool proved;  /**< the circuit has answered it; else the arithmetic did */
} tl_size_figure;

enum {
    TL_CHOICE_PARTS = 9,
    TL_CHOICE_FIGURES = 12,
    TL_CHOICE_TEXT = 400,
    TL_RESULT_REJECTED = 10,
    TL_RESULT_NOTES = 12,
    TL_RESULT_EXACT = 10,
    TL_RESULT_WINDOWS = 4
};

/** What good practice has against a choice, by one quantity. */
typedef struct tl_cost {
    const char *name;       /**< of the quantity */
    const char *phrase;     /**< the quantity in a sentence, # for the figure; empty where x is no figure */
    const char *why;        /**< a sentence */
    double cost;            /**< 0 where it is comfortable; e times beyond that costs its weight */
    double x;               /**< how large it is: a share of 1, or SI base units */
    double at;              /**< where it begins to be comfortable; NAN where the job decides that */
    tl_dimension dimension; /**< TL_DIM_PERCENT for a share */
    bool hard;              /**< x is the share of a limit that is used up */
} tl_cost;

enum { TL_CHOICE_COSTS = 16 };

/** One way to do it. */
typedef struct tl_choice {
    const char *way; /**< what kind of circuit, or NULL where there is one only */
    const char *part_name[TL_CHOICE_PARTS];
    tl_dimension part_dimension[TL_CHOICE_PARTS];
    tl_leg part[TL_CHOICE_PARTS];
    int parts;
    tl_size_figure figure[TL_CHOICE_FIGURES];
    int figures;
    double score;   /**< the larger the better, by the order that was asked for */
    double extreme; /**< the same by the job's own extreme: widest swing, least resistance and so on */
    double cost;    /**< against good practice, all together */
    tl_cost cost_of[TL_CHOICE_COSTS];
    int costs;
    char plan[TL_CHOICE_TEXT]; /**< the plan lines to paste; empty where the language has none */
    char note[TL_CHOICE_TEXT]; /**< a remark; may be empty */
    int conversions;           /**< of one read, where a multiplexer is sized; else 0 */
    bool beyond;               /**< no plan can hold it: its figures are what it is asked for */
} tl_choice;

/** What does not do it, and why. */
typedef struct tl_rejected {
    char why[400];
    tl_choice choice; /**< parts may be 0 */
} tl_rejected;

/** What the arithmetic asks for before any value on offer is looked at: the best partner, the
 * smallest guard and so on. */
typedef struct tl_size_exact {
    char name[48];
    double value;
    tl_dimension dimension;
    bool bound; /**< a part must be so large at least, or so small at most: see the windows */
} tl_size_exact;

/** What fits in one place of the circuit. Between least and most every exact value meets every limit. */
typedef struct tl_size_window {
    const char *way;                      /**< of a choice; NULL where there is one only */
    const char *part;                     /**< of a choice */
    tl_dimension dimension;               /**< TL_DIM_OHM or TL_DIM_FARAD */
    double least, most;                   /**< NAN: no such bound, or several parts bound each other */
    const char *least_for, *most_for;     /**< the figure that gives the bound; NULL with NAN */
    const char *least_label, *most_label; /**< the same for people */
    double offered_least, offered_most;   /**< nominal values on offer that fit; NAN: none */
} tl_size_window;

typedef enum tl_size_status {
    TL_SIZE_DONE,
    TL_SIZE_NONSENSE,   /**< the requirement contradicts itself or its stated ranges: see refusal */
    TL_SIZE_IMPOSSIBLE, /**< sensible, but nothing on offer can do it: see refusal and the rejected */
    TL_SIZE_UNPROVED    /**< the circuit could not be asked: see refusal */
} tl_size_status;

/** What comes first among choices that all keep every limit. */
typedef enum tl_size_order {
    TL_BY_PRACTICE, /**< what a good technician would take */
    TL_BY_LEAST,    /**< the smallest value */
    TL_BY_LARGEST,  /**< the largest */
    TL_BY_EXTREME   /**< the job's own: the widest swing, the nearest ratio and so on */
} tl_size_order;

typedef struct tl_size_result {
    tl_size_status status;
    tl_size_order order; /**< set by whoever asks */
    bool compare; /**< set by whoever asks: the stock is what is asked about, in the order of the job's parts,
                     and a choice of it is offered whether it meets its limits or not */
    const tl_stock *stock; /**< resistors to choose from; must live as long as the answer */
    const tl_stock
        *capacitors; /**< the capacitors on offer; NULL: E6 from 100 pF, with the requirement's tolerance */
    tl_choice *choices; /**< best first */
    int count, room;
    int spare, worst;      /**< this many more are kept until they are ranked; which is the worst of them */
    tl_choice furthest;    /**< the first by the job's own extreme, whatever the order */
    double fitting, tried; /**< how many there were; 0 where that says nothing */
    tl_rejected rejected[TL_RESULT_REJECTED];
    int rejected_count;
    tl_size_exact exact[TL_RESULT_EXACT];
    int exact_count;
    char notes[TL_RESULT_NOTES][240];
    int note_count;
    tl_size_window window[TL_RESULT_WINDOWS];
    int window_count;
    char refusal[240];
    char reason[400]; /**< why the first one comes first; empty where there is nothing to weigh */
} tl_size_result;

tl_size_result *tl_size_result_new(const tl_stock *stock, int room);
void tl_size_result_free(tl_size_result *answer);
/** The figure of a choice that comes nearest to its limit, or NULL. used: value / limit, or limit / value for
 * a lowest. */
const tl_size_figure *tl_choice_tightest(const tl_choice *choice, double *used);

#ifdef __cplusplus
}
#endif
#endif
