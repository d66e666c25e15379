/* SPDX-License-Identifier: MIT */
/* One thing has one name over all jobs; what it was called before is a row here. */
#include "cli/other_names.h"
#include <string.h>

/* What may be typed, and what it means: the first of these that the job has. */
static const struct {
    const char *typed, *means[4];
} rows[] = {
    {"away", {"temp-change"}},
    {"base", {"vbe"}},
    {"body-diode", {"body-diode-vf"}},
    {"by", {"attenuation"}},
    {"capacitance", {"mux-capacitance", "line-capacitance", "pin-capacitance"}},
    {"closed", {"contact-resistance"}},
    {"contact", {"contact-resistance"}},
    {"current", {"max-current", "led-current"}},
    {"diode", {"vf"}},
    {"drift", {"tempco"}},
    {"drives", {"sink-current", "drive-current"}},
    {"error", {"max-error"}},
    {"fault", {"vin"}},
    {"forward", {"vf"}},
    {"from", {"vin", "driver-supply"}},
    {"gain", {"forced-gain"}},
    {"heat", {"max-power"}},
    {"high", {"voh"}},
    {"keep", {"passband"}},
    {"kelvins-per-watt", {"thermal-resistance"}},
    {"leakage", {"pin-leakage"}},
    {"least", {"min-led-current"}},
    {"leg", {"position"}},
    {"limit", {"vmax", "injection"}},
    {"limit-back", {"vmax-back"}},
    {"load", {"load-resistance"}},
    {"meter", {"meter-resistance"}},
    {"meter-ohms", {"meter-resistance"}},
    {"most", {"loop-max"}},
    {"most-drop", {"max-drop"}},
    {"most-pull", {"max-resistor"}},
    {"off", {"v-off"}},
    {"off-leakage", {"mux-leakage"}},
    {"on", {"rds-on", "r-on"}},
    {"pin-sees", {"max-source-resistance"}},
    {"rail", {"supply", "vdd"}},
    {"rate", {"bit-rate", "sample-rate", "scan-rate"}},
    {"reject", {"stopband"}},
    {"sampling", {"adc-capacitance"}},
    {"saturation", {"vce-sat"}},
    {"source", {"source-resistance"}},
    {"source-resistance-limit", {"max-source-resistance"}},
    {"supply", {"vdd", "receiver-supply"}},
    {"switch", {"adc-resistance"}},
    {"threshold", {"vgs-th"}},
    {"to", {"direction", "receiver-supply", "vmax"}},
    {"total", {"total-current"}},
    {"vcc", {"vdd", "supply"}},
    {"vdd", {"supply", "receiver-supply"}},
    {"vout", {"vmax"}},
    {"warms", {"max-self-heating"}},
    {"way", {"circuit"}},
    {"wire", {"wire-resistance"}},
};

enum { ROWS = sizeof rows / sizeof rows[0] };
_Static_assert((int)ROWS <= (int)OTHER_NAMES_MOST, "each row may be an alias of one option of a job");

static bool has_option(const size_kind *kind, const char *name)
{
    for (const size_option *o = kind->options; o->name != NULL; o++) {
        if (strcmp(o->name, name) == 0)
            return true;
    }
    return false;
}

int other_names_add(const size_kind *kind, struct argp_option *options, int count)
{
    const char *name = options[count - 1].name;
    for (size_t i = 0; i < ROWS; i++) {
        int means = 0;
        while (rows[i].means[means] != NULL && !has_option(kind, rows[i].means[means]))
            means++;
        if (rows[i].means[means] == NULL || strcmp(rows[i].means[means], name) != 0 ||
            has_option(kind, rows[i].typed))
            continue;
        options[count++] =
            (struct argp_option){rows[i].typed, 0, NULL, OPTION_ALIAS | OPTION_HIDDEN, NULL, 0};
    }
    return count;
}
