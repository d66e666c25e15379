/* SPDX-License-Identifier: MIT */
/* What both helpers of MQTT tell a broker about themselves. */
#include "broker/mqtt_login.h"
#include <mosquitto.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

/* Two lines, user and password; or out of the environment. Neither is anybody's business on a command line.
 */
bool mqtt_log_in(struct mosquitto *client, const char *file)
{
    char user[256] = "", password[256] = "";
    if (file[0] == '\0') {
        const char *name = getenv("TINYLADDER_MQTT_USER");
        return name == NULL || mosquitto_username_pw_set(client, name, getenv("TINYLADDER_MQTT_PASSWORD")) ==
                                   MOSQ_ERR_SUCCESS;
    }
    FILE *from = fopen(file, "r");
    const bool good = from != NULL && fgets(user, sizeof user, from) != NULL;
    if (good && fgets(password, sizeof password, from) == NULL)
        password[0] = '\0';
    if (from != NULL)
        fclose(from);
    user[strcspn(user, "\r\n")] = '\0';
    password[strcspn(password, "\r\n")] = '\0';
    return good && user[0] != '\0' && mosquitto_username_pw_set(client, user, password) == MOSQ_ERR_SUCCESS;
}

bool mqtt_secure(struct mosquitto *client, const char *ca_file)
{
    return ca_file[0] != '\0'
               ? mosquitto_tls_set(client, ca_file, NULL, NULL, NULL, NULL) == MOSQ_ERR_SUCCESS
               : mosquitto_tls_set(client, NULL, "/etc/ssl/certs", NULL, NULL, NULL) == MOSQ_ERR_SUCCESS;
}
