/* Dew: the fan starts below 2 degC and stops above 4 degC, and stands still while the sensor is broken. */
#include "example.h"

static const tl_mux_step to_heater_1 TL_ROM = {&heaters, 0};
static const tl_output fan TL_ROM = {
    .line = DEW_FAN, .as = TL_OUTPUT_THRESHOLD, .safe = TL_SAFE_OFF, .threshold = {20, 40}};
enum { FIVE_MINUTES_US = 300000000 };

static tl_status decide(const tl_port *port, const tl_scale *scale, int minutes, bool *on, FILE *out)
{
    tl_reading reading = {0};
    tl_status status = tl_mux_lead(port, &to_heater_1, 1);
    if (status == TL_OK)
        status = tl_input_take(port, &heaters_common, scale, &reading);
    if (status != TL_OK)
        return status;
    const tl_sample tenths = {tl_table_value(&heater_tenths, reading.count, NULL), reading.flags};
    status = tl_output_show(port, &fan, &tenths, on);
    if (status == TL_OK)
        fprintf(out, "%2d min: %ld.%ld degC, fan %s\n", minutes, (long)tenths.value / 10,
                (long)tenths.value % 10, *on ? "on" : "off");
    return status;
}

static tl_status evening(const tl_port *port, FILE *out)
{
    tl_scale scale;
    bool on = false;
    tl_status status = tl_scale_init(&scale, &at_the_pin);
    if (status == TL_OK)
        status = tl_mux_open(port, &heaters);
    if (status == TL_OK)
        status = tl_output_open(port, &fan);
    for (int minutes = 0; minutes <= 40 && status == TL_OK; minutes += 5) {
        status = decide(port, &scale, minutes, &on, out);
        if (status == TL_OK)
            status = tl_port_wait_us(port, FIVE_MINUTES_US);
    }
    status = first_trouble(status, tl_output_release(port, &fan));
    return first_trouble(status, tl_mux_release(port, &heaters));
}

int main(int argc, char **argv)
{
    return example_main(argc, argv, evening);
}
