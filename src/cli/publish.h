/* Handing readings on to other programs by MQTT: a helper program does the talking. */
#ifndef TL_PUBLISH_H
#define TL_PUBLISH_H

#include "cli/outputs.h"

typedef struct publisher publisher;

/* `mqtt://HOST[:PORT]/TOPIC`. NULL with what is wrong said; *status is then the exit status. */
publisher *publisher_open(const char *url, int *status);
/* One topic a signal or output, a JSON object each. Never waits: what the helper cannot take is dropped. */
void publisher_put(publisher *p, const tl_plan *plan, const int *signals, const taken *readings, int count,
                   const outputs *beside, double at);
/* Waits for the last ones, a few seconds at most. false where any was lost, which is said. NULL is fine. */
bool publisher_close(publisher *p);

#endif
