/* SPDX-License-Identifier: MIT */
/* User, password and certificates for a broker of MQTT. */
#ifndef TL_MQTT_LOGIN_H
#define TL_MQTT_LOGIN_H

#include <stdbool.h>

struct mosquitto;

/* From a file, or for "" from TINYLADDER_MQTT_USER and TINYLADDER_MQTT_PASSWORD. */
bool mqtt_log_in(struct mosquitto *client, const char *file);
/* Its certificate is compared with this file, or for "" against the system's. */
bool mqtt_secure(struct mosquitto *client, const char *ca_file);

#endif
