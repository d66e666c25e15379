/* SPDX-License-Identifier: MIT */
/* What the plan's outputs show, beside the readings that they follow. */
#ifndef TL_OUTPUTS_H
#define TL_OUTPUTS_H

#include "reading/readings.h"

typedef struct {
    tl_bench_shown now;
    tl_status status;
    double at;      /* when it was driven, seconds of the scene */
    double amperes; /* that its loads take; NAN where the plan does not say what they are */
    bool shown;     /* its signal was read */
} output_state;

typedef struct {
    output_state *of; /* every output of the plan; NULL before the first time */
    int shown;
} outputs;

/* Shows these readings on the outputs all of whose signals are among them; what they showed before counts
 * (hysteresis). */
void outputs_show(outputs *o, tl_bench *bench, const int *signals, int count, const taken *readings);
/* `5 of 10 on`, `42 % duty`, `off` */
void output_state_text(const tl_plan_output *output, const output_state *of, char text[80]);
/* `fresh`, `safe state`, or what kept it from being driven. */
void output_flags(const output_state *of, char text[80]);
void outputs_print(const outputs *o, tl_circuit *circuit);
void outputs_print_csv(const outputs *o, tl_circuit *circuit);
json_t *outputs_array(const outputs *o, tl_circuit *circuit);
void outputs_free(outputs *o);

#endif
