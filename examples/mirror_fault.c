/* SPDX-License-Identifier: MIT */
/* The mirror's thermistor is watched for a broken wire while it is read: a value that failed is never shown
 * as one. */
#include "example.h"

static tl_status look(const tl_port *port, tl_fault *fault, FILE *out)
{
    tl_sample sample = {0}, judged;
    char text[8];
    uint32_t now_us = 0;
    tl_status status = tl_input_sample(port, &mirror_temperature_input, &sample);
    if (status == TL_OK)
        status = tl_port_clock_us(port, &now_us);
    if (status != TL_OK)
        return status;
    tl_fault_feed(fault, &mirror_temperature_faults, &sample, now_us, &judged);
    mirror_temperature_count count;
    const bool fresh = mirror_temperature_of(&judged, &count);
    (void)tl_text_fixed(mirror_temperature_value(count), MIRROR_TEMPERATURE_DECIMALS, 5, text);
    if (fresh)
        fprintf(out, "%s degC\n", text);
    else
        fprintf(out, "its wire is broken; %ld s ago it was %s degC\n",
                (long)tl_fault_age(fault, now_us) / 1000000, text);
    return TL_OK;
}

static tl_status watch(const tl_port *port, FILE *out)
{
    tl_fault fault;
    tl_status status = tl_fault_init(&fault, &mirror_temperature_faults);
    for (int minutes = 0; minutes <= 30 && status == TL_OK; minutes += 10) {
        status = look(port, &fault, out);
        if (status == TL_OK)
            status = tl_port_wait_us(port, 600000000);
    }
    return status;
}

int main(int argc, char **argv)
{
    return example_main(argc, argv, watch);
}
