/* SPDX-License-Identifier: MIT */
/**
 * @file
 * Scenes: what happens to the bench over time.
 *
 * Stable: within one ABI number of libtinyladder-host (abi/host.map, abi/host.layout) no call, structure or
 * constant here changes.
 *
 * @code{.c}
 * tl_scene *scene_with_a_fault(tl_circuit *circuit, tl_report *report)
 * {
 *     tl_scene *scene = tl_scene_new();
 *     if (!tl_scene_add_fault(scene, "{open: pack.divider.lower}", circuit, report)) {
 *         tl_scene_free(scene);
 *         return NULL;
 *     }
 *     return scene;
 * }
 * @endcode
 */
#ifndef TINYLADDER_SCENE_H
#define TINYLADDER_SCENE_H

#include "tinyladder/design/circuit.h"

#ifdef __cplusplus
extern "C" {
#endif

typedef struct tl_moment {
    double at, value; /**< seconds; in the source's unit: volts or percent of travel */
} tl_moment;

/** How a source's value goes on. */
typedef enum tl_waveform_shape {
    TL_WAVEFORM_LINES, /**< straight from moment to moment, end values outside */
    TL_WAVEFORM_STEPS, /**< each moment's value until the next */
    TL_WAVEFORM_WAVE   /**< a sine around a middle, rising through it at 0 s */
} tl_waveform_shape;

typedef struct tl_waveform {
    int signal;
    tl_waveform_shape shape;
    bool of_quantity;   /**< in a sensor's own unit instead of ohms */
    tl_moment *moments; /**< rising in time */
    int count;
    double middle, swing, period; /**< of a wave; swing to either side, seconds */
} tl_waveform;

/** The value at a time. */
double tl_waveform_at(const tl_waveform *waveform, double seconds);

/** A contact closed, or a logic source low, for a while. */
typedef struct tl_press {
    int signal;
    int button;        /**< of a chain or star; -1 for a contact */
    double at, length; /**< seconds */
    bool recorded;     /**< of a real line: with its own bounce */
} tl_press;

enum { TL_REPEAT_MOST = 32 };

/** Presses that come again and again: lengths that take turns, the first of them at `from`. */
typedef struct tl_repeat {
    int signal;
    double lengths[TL_REPEAT_MOST]; /**< seconds */
    int count;                      /**< an even number */
    bool begins_pressed;            /**< whether the first length is one of a press */
    double from, until;             /**< seconds; until may be infinite */
} tl_repeat;

/** The n-th press of a pattern, from 0. @return false: it has ended before. */
bool tl_repeat_press(const tl_repeat *pattern, unsigned long n, tl_press *press);

/** What goes wrong. */
typedef enum tl_scene_fault_kind {
    TL_SCENE_OPEN,     /**< parts come off */
    TL_SCENE_SHORT,    /**< two nodes touch */
    TL_SCENE_WRONG,    /**< a part has another value */
    TL_SCENE_SWAP,     /**< two parts, two plugs or two lines have changed places */
    TL_SCENE_STUCK,    /**< a line stays at a level, a contact in a state */
    TL_SCENE_MISSING,  /**< a supply is off: open, or shorted to ground */
    TL_SCENE_LOOSE,    /**< parts come off and on again */
    TL_SCENE_LEAK,     /**< resistance from a node to a rail */
    TL_SCENE_NOISE,    /**< a hum that a point picks up */
    TL_SCENE_SETTING,  /**< a converter is set otherwise than the plan believes */
    TL_SCENE_JOINT,    /**< a joint has resistance */
    TL_SCENE_MOVED,    /**< a part is connected to another rail */
    TL_SCENE_REVERSED, /**< a part is the wrong way round */
    TL_SCENE_METER,    /**< a meter has been left on a point */
    TL_SCENE_MISREAD   /**< firmware takes a signal's counts for what they are not */
} tl_scene_fault_kind;

enum { TL_SCENE_PARTS_MOST = 64 };

/** What firmware makes of counts. The first ones change the count, the others what it stands for. */
typedef enum tl_scene_misread {
    TL_MISREAD_SWAPPED_BYTES,  /**< the word's first byte for its last */
    TL_MISREAD_OTHER_SIGN,     /**< two's complement for unsigned, or the other way round */
    TL_MISREAD_LOW_BYTE,       /**< its lowest eight bits alone */
    TL_MISREAD_HIGH_BYTE,      /**< its highest eight bits alone, as a count of all bits */
    TL_MISREAD_INVERTED,       /**< the last count less the count */
    TL_MISREAD_BIT_LESS,       /**< an ADC of a bit less: the value is twice the right one */
    TL_MISREAD_BIT_MORE,       /**< an ADC of a bit more: half */
    TL_MISREAD_OTHER_STEPS,    /**< divided by its last count instead of by the number of its steps */
    TL_MISREAD_WHOLE_DIVISION, /**< millivolts per count without their decimals */
    TL_MISREAD_WHOLE_RATIO,    /**< the count divided by all counts in whole numbers: 0 */
    TL_MISREAD_FACTOR          /**< wrong constants: this many times the right value */
} tl_scene_misread;

/** Of a converter: what it really does. TL_NONE, or NAN, where it does as planned. */
typedef struct tl_scene_setting {
    int converter, reference, range;
    int align;    /**< a tl_word_align */
    long address; /**< on I2C: -1 for as planned */
    double acquisition,
        stretch; /**< seconds; stretch: it holds the clock so long at every acknowledge, 0 for not */
} tl_scene_setting;

/**
 * One fault, while from <= time < until. Parts, nodes and parameters are those of the plan's circuit. What
 * does not belong to the kind is TL_NONE.
 */
typedef struct tl_scene_fault {
    tl_scene_fault_kind kind;
    double from, until; /**< seconds; until may be infinite */
    int parts[TL_SCENE_PARTS_MOST];
    int part_count;                     /**< open, loose; joint, moved, reversed, a swap of two plugs: */
    int from_node[TL_SCENE_PARTS_MOST]; /**< the end of each that comes off, */
    int to_node[TL_SCENE_PARTS_MOST];   /**< and where it goes, over `ohms` */
    int node[2];                        /**< short, leak, noise, meter */
    double ohms;                        /**< leak, noise, joint, meter; 0 of a short */
    int param[2];                       /**< wrong; a swap of two parts; a missing supply's volts */
    int supply;                         /**< missing, */
    bool shorted;                       /**< and joined to ground by whatever makes it */
    double value;                       /**< wrong: the value it has instead */
    int line[2];                        /**< stuck, a swap of two lines: pins of the plan */
    int level;                          /**< stuck: 0 low, 1 high */
    int contact;                        /**< stuck: of the net; */
    bool closed;                        /**< and how it stays */
    double volts, hertz; /**< noise: peak volts at the other end of `ohms`, whose other end is at node[0] */
    double every;        /**< loose: seconds between breaks, on the mean */
    tl_scene_setting setting;
    int signal;               /**< misread; or TL_NONE, and all of a converter, the setting's, are */
    tl_scene_misread misread; /**< how, */
    double factor;            /**< and by how much where that is a factor */
} tl_scene_fault;

/** A meter on a node, like a resistance to ground. */
typedef struct tl_scene_meter {
    int node;
    double ohms, from, until;
} tl_scene_meter;

typedef struct tl_scene {
    unsigned long seed;
    double length; /**< seconds; what is described goes on behind it as it stands there, patterns for ever */
    tl_waveform *waveforms;
    int waveform_count;
    tl_press *presses; /**< rising in time within a signal */
    int press_count;
    tl_repeat *repeats;
    int repeat_count;
    tl_scene_fault *faults;
    int fault_count;
    tl_scene_meter *meters;
    int meter_count;
} tl_scene;

/** A scene in which nothing happens. */
tl_scene *tl_scene_new(void);
/** Faults as lines of a scene, such as `{open: house-battery.divider.lower}`. */
typedef struct tl_fault_list {
    char **line;
    int count;
} tl_fault_list;
/** Every single fault that the plan's hardware can have. Free it with tl_fault_list_free(). */
tl_fault_list tl_faults_of_plan(const tl_plan *plan);
void tl_fault_list_free(tl_fault_list *list);
/** Adds one, read as a scene has it. @return false, and the reason in the report, where it is none there. */
bool tl_scene_add_fault(tl_scene *scene, const char *line, tl_circuit *circuit, tl_report *report);
void tl_scene_add_meter(tl_scene *scene, tl_scene_meter meter);
/** Reads a scene for a plan. NULL if anything was an error. */
tl_scene *tl_scene_load(const char *path, tl_circuit *circuit, tl_report *report);
void tl_scene_free(tl_scene *scene);

#ifdef __cplusplus
}
#endif
#endif
