/* What levels and duty of an output follow. */
#include "tinyladder/design/plan.h"
#include <string.h>

long tl_reading_whole(const tl_plan_reading *reading, int decimals)
{
    if (reading->empty.given || reading->point_count == 0 || strcmp(reading->unit, "%") != 0)
        return 0;
    return decimals <= 0 ? 100 : decimals == 1 ? 1000 : 10000;
}
