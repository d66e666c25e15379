/* SPDX-License-Identifier: MIT */
/* What levels and duty of an output follow. */
#include "tinyladder/design/plan.h"
#include <math.h>
#include <string.h>

long tl_reading_whole(const tl_plan_reading *reading, int decimals)
{
    const bool share = reading->point_count > 0 || reading->as == TL_AS_DUTY;
    if (reading->empty.given || !share || strcmp(reading->unit, "%") != 0)
        return 0;
    return decimals <= 0 ? 100 : decimals == 1 ? 1000 : 10000;
}

double tl_plan_duty_steps(const tl_plan *plan, const tl_plan_output *output)
{
    const tl_board *board = plan->board;
    if (output->frequency <= 0 || board->duty_clock <= 0)
        return NAN;
    return fmin(floor(board->duty_clock / output->frequency * (1 + 1e-12)), ldexp(1, board->duty_bits));
}
