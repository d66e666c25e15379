/* The mirror's thermistor is watched for a broken wire while it is read: a value that failed is never shown
 * as one. */
#include "example.h"

static tl_status look(const tl_port *port, const tl_scale *scale, tl_fault *fault, FILE *out)
{
    tl_reading reading = {0};
    tl_sample judged;
    char text[8];
    uint32_t now_us = 0;
    tl_status status = tl_input_take(port, &mirror_temperature, scale, &reading);
    if (status == TL_OK)
        status = tl_port_clock_us(port, &now_us);
    if (status != TL_OK)
        return status;
    tl_fault_feed(fault, &mirror_wire, &(tl_sample){reading.count, reading.flags}, now_us, &judged);
    (void)tl_text_fixed(tl_table_value(&mirror_tenths, judged.value, NULL), 1, 5, text);
    if ((judged.flags & TL_READING_FRESH) != 0)
        fprintf(out, "%s degC\n", text);
    else
        fprintf(out, "its wire is broken; %ld s ago it was %s degC\n",
                (long)tl_fault_age_us(fault, now_us) / 1000000, text);
    return TL_OK;
}

static tl_status watch(const tl_port *port, FILE *out)
{
    tl_scale scale;
    tl_fault fault;
    tl_status status = tl_scale_init(&scale, &at_the_pin);
    if (status == TL_OK)
        status = tl_fault_init(&fault, &mirror_wire);
    for (int minutes = 0; minutes <= 30 && status == TL_OK; minutes += 10) {
        status = look(port, &scale, &fault, out);
        if (status == TL_OK)
            status = tl_port_wait_us(port, 600000000);
    }
    return status;
}

int main(int argc, char **argv)
{
    return example_main(argc, argv, watch);
}
