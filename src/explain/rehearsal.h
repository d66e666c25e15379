/* Practice without hardware: situations that show most of a plan, and what a bench with a fault shows in
 * them. */
#ifndef TL_REHEARSAL_H
#define TL_REHEARSAL_H

#include "explain/predict.h"

/* Three situations with every source low, in the middle and high, contacts pressed or not, and `samples` of
 * every signal, still empty. To be freed with observed_free(). */
observed rehearsal_situations(tl_circuit *circuit, int samples);
/* Fills in all samples, shown values and meters, of a bench with this fault and these parts. Sources are
 * where they are stated, off by `wider` times what is stated. */
void rehearsal_observe(tl_circuit *circuit, const hypothesis *h, unsigned long seed, double wider,
                       observed *seen);

#endif
