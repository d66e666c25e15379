/* SPDX-License-Identifier: MIT */
/*
 * What was seen of a real board: situations, each with what the sources were believed to do, samples of
 * signals, values that the firmware showed, and meters; and resistances with the power off.
 */
#ifndef TL_OBSERVED_H
#define TL_OBSERVED_H

#include "model/take.h"
#include "tinyladder/design/circuit.h"

enum { SEEN_SAMPLES_MOST = 64 };

/* What a source did: a value within a span, or a state. */
typedef struct {
    int signal;
    bool is_state, pressed;
    int button;       /* of a chain or star; -1 for a contact, and for none */
    double low, high; /* as a scene has it: volts, amperes, ohms, percent, or the unit of its law */
} seen_source;

typedef struct {
    int signal;
    double samples[SEEN_SAMPLES_MOST]; /* counts, or levels 0 and 1; NAN where it did not come */
    int count;
    bool has_shown;
    double shown; /* in the reading's unit */
} seen_signal;

/* Volts at a node, or with the power off ohms between two. */
typedef struct {
    int node, other;     /* TL_NET_NONE: volts */
    char point[200];     /* as it is named; of two, with a comma between */
    double shows;        /* volts, or ohms; INFINITY: nothing connects them */
    double own_ohms;     /* of a voltmeter */
    double share, fixed; /* its accuracy: a share, and volts */
} seen_meter;

/* What an output was told to do, and what its load did: LOAD_OFF to LOAD_ON. */
typedef enum { LOAD_OFF, LOAD_WEAK, LOAD_ON } load_state;
typedef struct {
    int output;
    bool commanded;
    load_state seen;
} seen_output;

typedef struct {
    seen_source *sources;
    int source_count;
    seen_signal *signals;
    int signal_count;
    seen_meter *meters;
    int meter_count;
    seen_output *outputs;
    int output_count;
} situation;

typedef struct {
    situation *situations;
    int count;
    double every; /* seconds between samples */
} observed;

/* Reads a file of observations for a plan; false: the reasons are in the report. Free it in any case. */
bool observed_load(observed *o, const char *path, tl_circuit *circuit, tl_report *report);
void observed_free(observed *o);
/* One more situation, empty. */
situation *observed_add(observed *o);
/* A signal's samples in a situation, made where there are none yet. */
seen_signal *situation_signal(situation *in, int signal);

void observed_add_meter(observed *o, int situation, const seen_meter *meter);
void situation_add_source(situation *in, const seen_source *source);
void situation_add_output(situation *in, const seen_output *output);
/* What a signal's source, or the rail that it measures, was said to do there; NULL: nothing. */
const seen_source *situation_source(const situation *in, const tl_plan *plan, int signal);
/* One sample more; `-` is one that did not come. False: it is none of this signal, or one too many. */
bool seen_sample_read(seen_signal *seen, const tl_plan *plan, const char *text, tl_text_error *error);

/* Of texts, as options and files have them; false: error says why. */
bool seen_source_read(seen_source *source, const tl_plan *plan, int signal, const char *text,
                      tl_text_error *error);
typedef bool seen_meter_reader(seen_meter *meter, tl_circuit *circuit, const char *point, const char *text,
                               tl_text_error *error);
/* `tap.pin` and `2.1 V`; `tap.pin,ground` and `12k`, or `open`. */
seen_meter_reader seen_meter_read, seen_ohms_read;
/* `on, dim`: what it was told, and what its load did. */
bool seen_output_read(seen_output *seen, const tl_plan *plan, const char *name, const char *text,
                      tl_text_error *error);
bool seen_shown_read(seen_signal *seen, const tl_plan *plan, const char *text, tl_text_error *error);

#endif
