/* SPDX-License-Identifier: MIT */
/*
 * What comes of a sine: (G + j w C) x = what a unit of the parameter injects, as one real system of twice the
 * size. Currents that bend are held as they are at rest.
 */
#include "base/memory.h"
#include "circuit/elements.h"
#include "circuit/transient_internal.h"
#include <lapacke.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>

/* What each row gets of the parameter's last unit. */
static tl_net_status injected_by(tl_island *island, const tl_net_state *state, int param, double *injected)
{
    nodal *equations = &island->in_time;
    const size_t room = (size_t)island->net->param_count * sizeof(double);
    double *values = memcpy(tl_alloc(room, 1), state->values, room);
    const tl_net_state moved = {values, state->closed};
    tl_net_status fault = TL_NET_SOLVED;
    for (int end = 0; end < 2 && fault == TL_NET_SOLVED; end++) {
        values[param] = state->values[param] - end;
        fault = nodal_fill(equations, island, &moved, true);
        for (int i = 0; i < equations->rows && fault == TL_NET_SOLVED; i++)
            injected[i] = end == 0 ? equations->injected[i] : injected[i] - equations->injected[i];
    }
    free(values);
    return fault;
}

tl_net_status tl_island_response(tl_island *island, const tl_net_state *state, int param, int index,
                                 double hertz, double *size)
{
    static const double two_pi = 6.283185307179586;
    if (island->in_time.class_of == NULL)
        nodal_alloc(&island->in_time, island);
    nodal *equations = &island->in_time;
    const size_t room = 2 * (size_t)island->size;
    double *right = tl_alloc(room, sizeof *right), *matrix = tl_alloc(room * room, sizeof *matrix);
    lapack_int *pivots = tl_alloc(room, sizeof *pivots);
    tl_net_status fault = injected_by(island, state, param, right);
    if (fault == TL_NET_SOLVED)
        fault = nodal_fill(equations, island, state, true);
    const int rows = fault == TL_NET_SOLVED ? equations->rows : 0, all = 2 * rows;
    double *farads = farads_of_rows(island, equations);
    for (int j = 0; j < rows; j++) {
        for (int i = 0; i < rows; i++)
            matrix[j * all + i] = matrix[(j + rows) * all + i + rows] = equations->matrix[j * rows + i];
        matrix[j * all + j + rows] = two_pi * hertz * farads[j];
        matrix[(j + rows) * all + j] = -two_pi * hertz * farads[j];
    }
    if (rows > 0 && LAPACKE_dgesv_work(LAPACK_COL_MAJOR, all, 1, matrix, all, pivots, right, all) != 0)
        fault = TL_NET_SINGULAR;
    const int row = fault == TL_NET_SOLVED ? equations->row_of[equations->class_of[index]] : TL_NET_NONE;
    if (row != TL_NET_NONE)
        *size = hypot(right[row], right[row + rows]);
    free(farads);
    free(right);
    free(matrix);
    free(pivots);
    return fault == TL_NET_SOLVED && row == TL_NET_NONE ? TL_NET_FLOATING : fault;
}
