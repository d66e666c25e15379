/* SPDX-License-Identifier: MIT */
/* A meter beside the readings: what it should show by the plan, and what it shows and takes on this bench. */
#ifndef TL_READ_METER_H
#define TL_READ_METER_H

#include "printing/json_answer.h"
#include "reading/playing.h"

typedef struct {
    char point[160];
    const char *name;
    int node; /* in the plan's circuit */
    double ohms;
    const tl_meter *limits; /* of the plan's first meter; NULL for none */
    double at;
    bool predicted;     /* the plan's nominal parts say something, the sources being where they really are: */
    double expected[2]; /* volts without and with it; */
    double seen[2];     /* and on this bench; */
    bool bounded;       /* all benches whose parts are within their tolerances, sources as they are: */
    double least[2], most[2];
} meter_on;

/* The point that is named, and the plan's first meter, of other ohms where they are more than 0. Says what is
 * wrong where there is no such point. */
bool meter_find(meter_on *meter, const char *point, double ohms, tl_circuit *circuit);
/* The signals that the point belongs to; to be freed. */
int *meter_signals(const meter_on *meter, tl_circuit *circuit, int *count);
/* Measures, and leaves it hanging in the scene. */
void meter_put(meter_on *meter, play *p, double at);
void meter_print(const meter_on *meter);
json_t *meter_object(const meter_on *meter);

#endif
