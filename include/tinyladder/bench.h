/* SPDX-License-Identifier: MIT */
/**
 * @file
 * The bench: a plan's hardware, simulated in virtual time behind the core's port.
 *
 * Nothing above the port can tell it from hardware. Every part's real value is drawn once from its tolerance,
 * every contact bounces, the converter has its sampling capacitor, errors and noise: all from one seed, so
 * that the same plan, scene and seed give the same words, run after run. Time passes only through the port
 * and tl_bench_go_to(): a port call takes one microsecond
 * unless tl_bench_call_takes() says otherwise, a wait as long as asked.
 *
 * Lines of this port are the pins in the order of the board file (tl_bench_line()); channels are the
 * converter's.
 *
 * Stable: within one ABI number of libtinyladder-host (abi/host.map, abi/host.layout) no call, structure or
 * constant here changes.
 *
 * @code{.c}
 * double battery_at(double seconds)
 * {
 *     tl_bench *bench = tl_bench_open("hut.plan.yaml", NULL, NULL);
 *     tl_bench_reading reading;
 *     double volts = 0;
 *     if (bench == NULL)
 *         return 0;
 *     tl_bench_go_to(bench, seconds);
 *     const int pack = tl_bench_signal(bench, "pack");
 *     if (tl_bench_read(bench, pack, &reading) == TL_NET_SOLVED && reading.status == TL_OK)
 *         volts = reading.is.value;
 *     tl_bench_free(bench);
 *     return volts;
 * }
 * @endcode
 */
#ifndef TINYLADDER_BENCH_H
#define TINYLADDER_BENCH_H

#include "tinyladder/button.h"
#include "tinyladder/design/measurement.h"
#include "tinyladder/design/scene.h"
#include "tinyladder/port.h"
#include <limits.h>

#ifdef __cplusplus
extern "C" {
#endif

typedef struct tl_bench tl_bench;

/** Instead of a seed: nominal parts, and a converter without errors or noise. */
#define TL_BENCH_IDEAL ULONG_MAX

/** A bench for a circuit that outlives it. scene may be NULL: every source at its nominal value, contacts
 * open. seed: real parts, bounce and noise are drawn from it. */
tl_bench *tl_bench_new(tl_circuit *circuit, const tl_scene *scene, unsigned long seed);

/**
 * Reads a plan and a scene (NULL for none) and sets the bench up; it then owns them.
 * @param report  Receives what is wrong; may be NULL.
 * @return NULL if anything could not be read.
 */
tl_bench *tl_bench_open(const char *plan_path, const char *scene_path, tl_report *report);
void tl_bench_free(tl_bench *bench);

/** The port to hand to the core; valid as long as the bench. */
const tl_port *tl_bench_port(tl_bench *bench);
/** The line number of a pin by name, or -1. */
int tl_bench_line(const tl_bench *bench, const char *pin);
/** The number of a signal by name, or -1. */
int tl_bench_signal(const tl_bench *bench, const char *name);
tl_circuit *tl_bench_circuit(const tl_bench *bench);

/** Virtual time in seconds since the scene began. */
double tl_bench_time(const tl_bench *bench);
/** Moves on to a later time; an earlier one changes nothing. */
void tl_bench_go_to(tl_bench *bench, double seconds);
/** The same for an unused bench, which may also begin up to 1000 s before its scene, below 0
 * s: everything is at rest then. */
void tl_bench_begin(tl_bench *bench, double seconds);

/** The volts that really are at a signal's pin now, and the real value of its unknown: what a perfect meter
 * would show. */
double tl_bench_pin_volts(tl_bench *bench, int signal);
double tl_bench_truth(tl_bench *bench, int signal);

/** One reading of one signal, taken through the port by the core, with what the plan says about it. */
typedef struct tl_bench_reading {
    tl_status status;
    double at; /**< when it was sampled, seconds of the scene; of several samples the middle */
    bool analog;
    /* analog */
    long count;     /**< the code; of several samples their mean, rounded */
    unsigned flags; /**< TL_READING_... */
    uint32_t word;  /**< where status is TL_ERR_WORD: as it came */
    tl_value is;    /**< what the plan makes of it */
    double truth;   /**< what its source had then, as tl_bench_truth() tells it; NaN of a board's counts */
    /* a contact, or a line (whose frequency, duty or period is in `is`) */
    bool high, closed; /**< the level now; the debounced state */
    bool toggled;      /**< closed an odd number of times: set by the caller that counts, for `as: toggle` */
    double volts;      /**< at the pin, as the bench knows it: no firmware can tell */
    bool undriven;     /**< nothing defines that: the reading means nothing */
    bool undefined;    /**< it is between VIL and VIH: the level is what it was before */
} tl_bench_reading;

/**
 * Reads a signal. A contact is debounced: three steady times pass. Of a frequency, a duty or a period it
 * takes as long as it must.
 * @return What the net said; the port's own trouble is in reading->status.
 */
tl_net_status tl_bench_read(tl_bench *bench, int signal, tl_bench_reading *reading);
/** The same with a mean of this many samples instead of what the plan says; 0 for the plan's. */
tl_net_status tl_bench_read_mean(tl_bench *bench, int signal, int samples, tl_bench_reading *reading);
/** The same without bounds, which are NAN, and without what follows from them: much quicker. */
tl_net_status tl_bench_read_plain(tl_bench *bench, int signal, tl_bench_reading *reading);
/** Does what such a reading does to the bench (its conversions, its time) and works nothing out of it. */
void tl_bench_pass(tl_bench *bench, int signal, int samples);
/**
 * Measures the frequency, duty or period of a line from now on, as firmware does by an interrupt at every
 * edge.
 * @return TL_OK, also where it is measured already; TL_ERR_ARG for other signals; or the port's status.
 */
tl_status tl_bench_measure(tl_bench *bench, int signal);
/** What has been measured by now, as a reading. @return TL_OK; TL_ERR_ARG where it is not measured. */
tl_status tl_bench_measured(tl_bench *bench, int signal, tl_bench_reading *reading);
/** Whether nothing defines the volts at a signal's pin now: an open wire, a switch that leads nowhere. */
bool tl_bench_undriven(tl_bench *bench, int signal);
/** Whether the level at a digital signal's pin is neither: between VIL and VIH, where an input reads as it did
 * before. */
bool tl_bench_undefined(tl_bench *bench, int signal);
/** How long before its moment the reading of this signal must begin: 0 for analog ones. Seconds. */
double tl_bench_read_lead(const tl_bench *bench, int signal);

/** What an output shows: this many of its pins are on, or all of them for a share of the time. */
typedef struct tl_bench_shown {
    int lit;
    double duty; /**< 0 .. 1; of others the share of its pins that are on */
    bool fault;  /**< its signal has one: this is the safe state */
} tl_bench_shown;
/** What an output is shown of: the readings, and whether one of them failed in the net. */
typedef struct tl_bench_seen {
    const tl_bench_reading *shown;        /**< of the signal that it shows */
    const tl_bench_reading *start, *stop; /**< of the signals that set its threshold; NULL for figures */
    bool fault;
} tl_bench_seen;
/**
 * Shows readings on an output of the plan, as firmware would: decides what it shows, and drives its pins.
 * @param[in,out] now  What it showed before (all 0 to begin with); what it shows now.
 * @return TL_OK, or the port's trouble; TL_ERR_UNSUPPORTED for pins that are not the board's.
 */
tl_status tl_bench_show(tl_bench *bench, int output, const tl_bench_seen *seen, tl_bench_shown *now);
/** What all loads of an output take now, amperes: of a duty the mean; 0 below a microampere, and where the
 * plan does not say what is connected. */
double tl_bench_load_amperes(tl_bench *bench, int output);

/* A hand on it, at any time: what it does outdoes the scene. */

/** Whether a signal's source can be turned, and between which values of its unknown. */
bool tl_bench_can_turn(const tl_bench *bench, int signal, double *least, double *most);
/** From now on its unknown has this value, as tl_bench_truth() tells it (volts, amperes, ohms, travel from
 * 0 to 1), no further than its ends. Nothing happens where it cannot be turned. */
void tl_bench_turn(tl_bench *bench, int signal, double value);
/** The scene moves it again, and presses it from its next press on. */
void tl_bench_let_go(tl_bench *bench, int signal);
/** Whether there is such a contact: of a chain or star a button, from 0; of others any number will do. */
bool tl_bench_can_press(const tl_bench *bench, int signal, int button);
/** Presses a contact, or lets it go; it bounces. What is so already stays. */
void tl_bench_press(tl_bench *bench, int signal, int button, bool down);
/** Whether it is pressed, or about to be: bounce and faults apart. */
bool tl_bench_pressed(tl_bench *bench, int signal, int button);

/**
 * A frame on SPI byte by byte, for programs that simulate the chip on the port's other side: the device at
 * this select line of this bus is selected, then every byte out brings one in. It takes the time of its
 * clocks, and no call's.
 */
void tl_bench_spi_begin(tl_bench *bench, uint8_t bus, uint8_t select);
uint8_t tl_bench_spi_byte(tl_bench *bench, uint8_t out);

/** How a line is used at the moment, and what it drives; high may be NULL. */
tl_line_use tl_bench_line_use(const tl_bench *bench, int line, bool *high);

/** The volts at a point of the plan, such as `house-battery.divider`. @return TL_NET_FLOATING: there is no
 * such point. */
tl_net_status tl_bench_node_volts(tl_bench *bench, const char *name, double *volts);

/**
 * What an ohmmeter shows between pairs of nodes with all supplies off, at the time that each part was asked for
 * last, or when the bench began. Diodes and transistors conduct nothing, as with a meter that stays below
 * 0.3 V; what else a supply feeds has a resistance that each bench draws.
 * @param pairs nodes of the circuit's net (tl_circuit_point()). @param ohms of each; INFINITY: nothing connects
 * them.
 */
void tl_bench_ohms(tl_bench *bench, const int (*pairs)[2], int count, double *ohms);
/** The real value of a parameter of the plan's circuit, nothing happening to it. */
double tl_bench_value(const tl_bench *bench, int param);

/** A pin was outside its absolute limits for a while: beyond what its clamps carry, or driving more than it
 * stands. */
typedef struct tl_bench_damage {
    int pin;
    int output; /**< TL_NONE; else its driver's transistor was, by a coil that it turned off: all its energy
                 */
    double at;  /**< seconds: when it began, */
    double seconds; /**< and how long it was so, up to now */
    double amperes; /**< the most, into its clamp or its output; 0 where it has none */
    double volts; /**< with those; or the farthest outside, where there are none; INFINITY: whatever breaks */
    double joules; /**< forced into it: the integral of volts times amperes, within a percent */
    int events;    /**< that stand in it: 1, but in the hundredth of a pin, which takes up all later ones */
} tl_bench_damage;
/** The record so far: an entry for each time that a pin was outside. */
const tl_bench_damage *tl_bench_damages(tl_bench *bench, int *count);
/** From now on a damaged pin stays as it was: its level, its count. */
void tl_bench_be_strict(tl_bench *bench, bool strict);

/** What could not be solved, such as `at 3 s: battery and ground are joined by 0 ohm`; NULL while all could.
 * What is connected to it stays as it was. */
const char *tl_bench_trouble(const tl_bench *bench);

/** The calls of the port. */
typedef enum tl_bench_call {
    TL_BENCH_LINE_USE,
    TL_BENCH_LINE_LEVEL,
    TL_BENCH_LINE_DRIVE,
    TL_BENCH_LINE_DUTY,
    TL_BENCH_CONVERSION_START,
    TL_BENCH_CONVERSION_ENDED,
    TL_BENCH_CONVERSION_WORD,
    TL_BENCH_CONVERTER_POWER,
    TL_BENCH_CLOCK,
    TL_BENCH_WAIT,
    TL_BENCH_WAIT_CHANGE,
    TL_BENCH_SPI,
    TL_BENCH_I2C,
    TL_BENCH_CALLS /**< all of them */
} tl_bench_call;
/**
 * From now on such a call takes so long, and up to `jitter` longer, drawn evenly: a slow chip, or one that is
 * interrupted. Seconds, 1 ns .. 10 s; a microsecond each to begin with.
 */
void tl_bench_call_takes(tl_bench *bench, tl_bench_call call, double seconds, double jitter);

/* Faults of the port itself, for tests. */

/** The n-th port call from now (1 is the next) answers TL_ERR_PORT, and so do all after it unless it is only
 * once; 0 for never. */
void tl_bench_fail_at(tl_bench *bench, unsigned long call, bool once);
unsigned long tl_bench_calls(const tl_bench *bench);
/** A converter that never ends, a clock that stands still, a clock that starts elsewhere. */
void tl_bench_never_end(tl_bench *bench, bool never);
void tl_bench_freeze_clock(tl_bench *bench, bool frozen);
void tl_bench_set_clock(tl_bench *bench, uint32_t now_us);

/* What a chip's own registers decide, for simulated chips on the bench. */

/** Volts that the board's converter measures against, whatever is asked for; 0: nothing is at its reference pin;
 * NAN, to begin with: as it is asked for. */
void tl_bench_set_reference(tl_bench *bench, double volts);
/** Hertz of an I2C bus by the plan's mode; and as it is driven, 0 for the plan's. */
double tl_bench_bus_rate(const tl_bench *bench, uint8_t bus);
void tl_bench_set_bus_rate(tl_bench *bench, uint8_t bus, double hertz);

#ifdef __cplusplus
}
#endif
#endif
