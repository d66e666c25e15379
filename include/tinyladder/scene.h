/** @file Scenes: what happens to the bench over time. */
#ifndef TINYLADDER_SCENE_H
#define TINYLADDER_SCENE_H

#include "tinyladder/plan.h"

#ifdef __cplusplus
extern "C" {
#endif

typedef struct tl_moment {
    double at, value; /**< seconds; in the source's unit: volts or percent of travel */
} tl_moment;

/** How a source's value goes on. */
typedef enum tl_course_shape {
    TL_COURSE_LINES, /**< straight from moment to moment, end values outside */
    TL_COURSE_STEPS, /**< each moment's value until the next */
    TL_COURSE_WAVE   /**< a sine around a middle, rising through it at 0 s */
} tl_course_shape;

typedef struct tl_course {
    int signal;
    tl_course_shape shape;
    bool of_quantity;   /**< in a sensor's own unit instead of ohms */
    tl_moment *moments; /**< rising in time */
    int count;
    double middle, swing, period; /**< of a wave; swing to either side, seconds */
} tl_course;

/** The value at a time. */
double tl_course_at(const tl_course *course, double seconds);

/** A contact closed, or a logic source low, for a while. */
typedef struct tl_press {
    int signal;
    int button;        /**< of a chain or star; -1 for a contact */
    double at, length; /**< seconds */
} tl_press;

typedef struct tl_scene {
    unsigned long seed;
    double length;
    tl_course *courses;
    int course_count;
    tl_press *presses; /**< rising in time within a signal */
    int press_count;
} tl_scene;

/** Reads a scene for a plan. NULL if anything was an error. */
tl_scene *tl_scene_load(const char *path, const tl_plan *plan, tl_report *report);
void tl_scene_free(tl_scene *scene);

#ifdef __cplusplus
}
#endif
#endif
