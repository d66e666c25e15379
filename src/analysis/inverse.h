/* SPDX-License-Identifier: MIT */
/* From a share of the reference back to the unknown, without searching. */
#ifndef TL_INVERSE_H
#define TL_INVERSE_H

#include "elaborate/circuit_struct.h"
#include "tinyladder/design/measurement.h"

/* With all else nominal. */
void inverse_make(tl_circuit *circuit, int signal, tl_inverse *to);
/* Over all corners as well. params: those that are tried at both ends, a track not among them. */
void inverse_make_corners(tl_circuit *circuit, int signal, const int *params, int count, tl_inverse *to);
double inverse_nominal(const tl_inverse *to, double share);
/* Every unknown behind these shares, infinite ends included. */
void inverse_bounds(const tl_inverse *to, const tl_interval *shares, tl_interval *unknown);

#endif
