/* SPDX-License-Identifier: MIT */
/* Where a broker of MQTT is, and about what it is asked. */
#ifndef TL_MQTT_ADDRESS_H
#define TL_MQTT_ADDRESS_H

#include <stdbool.h>

typedef struct {
    char host[256], port[8], topic[256];
    bool tls;
} mqtt_address;

/* mqtt://HOST/TOPIC or mqtts://HOST:PORT/TOPIC; of an address with colons [ADDRESS]. False for anything else.
 */
bool mqtt_address_of(const char *url, mqtt_address *at);


#endif
