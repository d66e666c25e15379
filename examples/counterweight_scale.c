/* SPDX-License-Identifier: MIT */
/* How heavy is the counterweight? A load cell on a converter of 16 bits, over the bus, averaged and shown. */
#include "example.h"

static tl_status weigh(const tl_port *port, FILE *out)
{
    tl_mean mean;
    tl_sample quiet = {0};
    char text[8];
    tl_status status = tl_mean_init(&mean, 4);
    for (bool enough = false; !enough && status == TL_OK;) {
        tl_sample sample = {0};
        status = tl_take(port, &counterweight_way, &sample);
        if (status == TL_OK)
            enough = tl_mean_feed(&mean, &sample, &quiet);
    }
    counterweight_count count;
    if (status == TL_OK && counterweight_of(&quiet, &count))
        status = tl_text_fixed(counterweight_value(count), COUNTERWEIGHT_DECIMALS, 6, text);
    if (status == TL_OK)
        fprintf(out, "%s %s\n", text, COUNTERWEIGHT_UNIT);
    return status;
}

static tl_status weigh_twice(const tl_port *port, FILE *out)
{
    tl_status status = weigh(port, out);
    if (status == TL_OK)
        status = tl_port_wait_us(port, 400000000); /* meanwhile a camera is mounted on it */
    return status == TL_OK ? weigh(port, out) : status;
}

int main(int argc, char **argv)
{
    return example_main(argc, argv, weigh_twice);
}
