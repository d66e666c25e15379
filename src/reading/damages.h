/* What went wrong on a bench on the way: pins outside their limits, coils without a diode. */
#ifndef TL_DAMAGES_H
#define TL_DAMAGES_H

#include "tinyladder/bench.h"
#include <jansson.h>

void damages_print(tl_bench *bench);
json_t *damages_array(tl_bench *bench);

#endif
