/* SPDX-License-Identifier: MIT */
/* Handing readings on to other programs by MQTT: a helper program does the talking. */
#ifndef TL_PUBLISH_H
#define TL_PUBLISH_H

#include "printing/options.h"
#include "reading/outputs.h"

typedef struct publisher publisher;

/* What the command line says; NULL where it says nothing. */
typedef struct {
    const char *url;   /* `mqtt://HOST[:PORT]/TOPIC`, or with TLS `mqtts://` */
    const char *ca;    /* a file of certificates that a broker's is compared with, instead of the system's */
    const char *login; /* a file of user and password, a line each; else the environment may have them */
    const char *as;    /* `object`, the usual, or `value` */
} publish_options;
/* Its options, for verbs that publish. */
extern const struct argp publish_argp;

/* NULL with what is wrong said; *status is then the exit status. */
publisher *publisher_open(const publish_options *o, int *status);
/* What is handed on together. */
typedef struct {
    const int *signals; /* which of the plan */
    const taken *readings;
    int count;
    const outputs *beside;
    double at;
} published;
/* One topic a signal or output, a JSON object each or the value alone. Never waits: what the helper cannot
 * take is dropped. */
void publisher_put(publisher *p, const tl_plan *plan, const published *now);
/* Waits for the last ones, a few seconds at most. false where any was lost, which is said. NULL is fine. */
bool publisher_close(publisher *p);

#endif
