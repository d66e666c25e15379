/* SPDX-License-Identifier: MIT */
/*
 * A pass looks at what changes fast (contacts, the encoder, the motor's blinking), takes the next step of the
 * sweep or of the load cell's conversion, and, ten times a second, the analog inputs that are read alone.
 * Once a second it reports everything. After a failure the last value is reported with a '?'.
 */
#include "fernhill.h"
#include "fernhill_plan.h"

#define TENTH TL_TIME_US(100000u)
#define SECOND TL_TIME_US(1000000u)

/* --- what there is --- */

/* Contacts, in the order of the report. */
enum { OPEN, CLOSE, STOP, TURNS, RAIN, GATE, CLICK, CONTACTS };
static const TL_IN_ROM tl_button_config *const TL_ROM contact_configs[CONTACTS] = {
    &open_button_contact, &close_button_contact, &stop_button_contact, &wheel_contact,
    &rain_plate_contact,  &gate_closed_contact,  &paddle_click_contact};

/* Analog inputs that are read alone. */
enum { ROOF, VANE, LIGHT, MIRROR, PADDLE_X, PADDLE_Y, KEYS, ALONE };
static const TL_IN_ROM tl_input *const TL_ROM alone_inputs[ALONE] = {
    &roof_position_input, &wind_vane_input, &twilight_input, &mirror_temperature_input,
    &paddle_x_input,      &paddle_y_input,  &keypad_input};

static struct {
    const tl_port *port;
    tl_button contacts[CONTACTS];
    tl_quadrature encoder;
    tl_pulse blinks;
    tl_pattern pattern;
    tl_sample alone[ALONE];
    tl_fault mirror;
    tl_sample mirror_judged;
    tl_sweep sweep;
    tl_sample thermal[THERMAL_SAMPLES];
    tl_sample weight;
    tl_taking weigh;
    bool weighing, may_weigh, sweep_wanted, alone_wanted;
    tl_due tenth, second, thermal_due;
    uint8_t lit;
    bool fan, heater;
    uint16_t seconds;
} own;

/* --- beginning --- */

static void keep_first(tl_status *first, tl_status status)
{
    if (*first == TL_OK)
        *first = status;
}

tl_status fernhill_begin(const tl_port *port)
{
    tl_status first = TL_OK;
    tl_time now = 0;
    own.port = port;
    keep_first(&first, tl_port_clock(port, &now));
    for (uint8_t i = 0; i < CONTACTS; i++)
        keep_first(&first, tl_button_init(&own.contacts[i], contact_configs[i], port));
    keep_first(&first, tl_port_line_use(port, ENCODER_1_LINE, TL_LINE_INPUT));
    keep_first(&first, tl_port_line_use(port, ENCODER_2_LINE, TL_LINE_INPUT));
    keep_first(&first, tl_port_line_use(port, MOTOR_STATUS_LINE, TL_LINE_INPUT));
    keep_first(&first, tl_quadrature_init(&own.encoder));
    keep_first(&first, tl_pulse_init(&own.blinks));
    keep_first(&first, tl_pattern_init(&own.pattern, motor_status_lengths, MOTOR_STATUS_LENGTHS,
                                       MOTOR_STATUS_WITHIN_PERCENT));
    keep_first(&first, tl_fault_init(&own.mirror, &mirror_temperature_faults));
    keep_first(&first, tl_mux_open(port, &heaters_mux));
    keep_first(&first, thermal_init(&own.sweep, &own.thermal));
    keep_first(&first, tl_bar_open(port, &position_bar_lamps));
    keep_first(&first, tl_port_line_use(port, MAP_LIGHT_LINE, TL_LINE_OUTPUT));
    keep_first(&first, tl_output_open(port, &dew_fan_output));
    keep_first(&first, tl_output_open(port, &dew_heater_output));
    keep_first(&first, tl_due_init(&own.tenth, TENTH, now));
    keep_first(&first, tl_due_init(&own.second, SECOND, now));
    keep_first(&first, tl_due_init(&own.thermal_due, TL_TIME_US(THERMAL_EVERY_US), now));
    return first;
}

/* --- what changes fast --- */

static void look_at_lines(uint32_t now_us)
{
    bool one = false, two = false, lit = false;
    tl_length_us ended;
    for (uint8_t i = 0; i < CONTACTS; i++) {
        tl_button_event event;
        (void)tl_button_look(&own.contacts[i], own.port, &event);
    }
    if (tl_port_line_level(own.port, ENCODER_1_LINE, &one) == TL_OK &&
        tl_port_line_level(own.port, ENCODER_2_LINE, &two) == TL_OK)
        (void)tl_quadrature_feed(&own.encoder, one, two);
    if (tl_port_line_level(own.port, MOTOR_STATUS_LINE, &lit) == TL_OK &&
        tl_pulse_feed(&own.blinks, lit, now_us, &ended))
        (void)tl_pattern_feed(&own.pattern, &ended);
}

/* --- what converts while other work is done --- */

/* The load cell: a step a pass. It begins when the others have just been read, so that it is through before
 * they are due again: whoever is under way has all converters. */
static void weigh_on(void)
{
    bool done = false;
    if (!own.weighing && (!own.may_weigh || own.sweep.running))
        return;
    if (!own.weighing)
        tl_taking_begin(&own.weigh, &counterweight_way);
    own.may_weigh = false;
    own.weighing = tl_taking_step(&own.weigh, own.port, &own.weight, &done) == TL_OK && !done;
}

static void sweep_on(tl_time now)
{
    bool done;
    own.sweep_wanted = tl_due_now(&own.thermal_due, now) || own.sweep_wanted;
    if (own.sweep_wanted && !own.weighing) {
        own.sweep_wanted = false;
        (void)tl_sweep_begin(&own.sweep);
    }
    if (own.sweep.running)
        (void)tl_sweep_step(&own.sweep, own.port, &done);
}

/* --- ten times a second --- */

/* Outputs as the plan has them; what their signal fails with, they know by its flags. */
static void show(void)
{
    roof_position_count roof;
    twilight_count light;
    heater_1_count heater;
    tl_sample heat = own.sweep.values[THERMAL_HEATER_1];
    (void)heater_1_of(&heat, &heater);
    heat.value = heater_1_value(heater);
    if (roof_position_of(&own.alone[ROOF], &roof)) {
        own.lit = position_bar_level(roof, own.lit);
        (void)tl_bar_show(own.port, &position_bar_lamps, own.lit);
    }
    const bool seen = twilight_of(&own.alone[LIGHT], &light);
    (void)tl_port_line_duty(own.port, MAP_LIGHT_LINE, seen ? map_light_duty(light) : 0);
    (void)tl_output_show(own.port, &dew_fan_output, &heat, &own.fan);
    (void)tl_output_show(own.port, &dew_heater_output, &heat, &own.heater);
}

static void take_alone(tl_time now)
{
    for (uint8_t i = 0; i < ALONE; i++)
        (void)tl_input_sample(own.port, alone_inputs[i], &own.alone[i]);
    tl_fault_feed(&own.mirror, &mirror_temperature_faults, &own.alone[MIRROR], now, &own.mirror_judged);
    show();
}

/* --- once a second --- */

#ifndef FERNHILL_QUIET

static void say(const TL_IN_ROM char *text)
{
    while (*text != '\0')
        fernhill_say(*text++);
}

static void tell(const TL_IN_ROM char *name, int32_t value, uint8_t decimals, const TL_IN_ROM char *unit,
                 bool fresh)
{
    char text[12];
    (void)tl_text_fixed(value, decimals, 11, text);
    say(name);
    for (const char *at = text; *at != '\0'; at++) {
        if (*at != ' ' || at[1] != ' ') /* one blank before the number */
            fernhill_say(*at);
    }
    if (*unit != '\0')
        fernhill_say(' ');
    say(unit);
    if (!fresh) {
        fernhill_say(' ');
        fernhill_say('?');
    }
    fernhill_say('\n');
}

/* Names and units stay in program memory, where there is such a thing. */
#define TELL(said, value, decimals, shown_in, fresh)                                                         \
    do {                                                                                                     \
        static const TL_ROM char name[] = said, unit[] = shown_in;                                           \
        tell(name, value, decimals, unit, fresh);                                                            \
    } while (0)

/* A value of a signal, in the names that its plan's header has for it. */
#define TELL_VALUE(said, signal, sample, SIGNAL)                                                             \
    do {                                                                                                     \
        signal##_count is;                                                                                   \
        const bool is_fresh = signal##_of(sample, &is);                                                      \
        TELL(said, signal##_value(is), SIGNAL##_DECIMALS, SIGNAL##_UNIT, is_fresh);                          \
    } while (0)

static void tell_percents(void)
{
    house_battery_count battery;
    twilight_count light;
    keypad_count keys;
    const bool charged = house_battery_of(&own.sweep.values[THERMAL_HOUSE_BATTERY], &battery),
               seen = twilight_of(&own.alone[LIGHT], &light), felt = keypad_of(&own.alone[KEYS], &keys);
    TELL("house-battery", house_battery_percent(battery), 0, "%", charged);
    TELL("twilight", twilight_percent(light), 0, "%", seen);
    TELL("keypad", keypad_state(keys), 0, "", felt);
}

/* All eight are alike. */
static void tell_heaters(void)
{
    static const TL_ROM char heater[] = "heater-", nothing[] = "", unit[] = HEATER_1_UNIT;
    for (uint8_t i = 0; i < 8; i++) {
        heater_1_count is;
        const bool fresh = heater_1_of(&own.sweep.values[i], &is);
        say(heater);
        fernhill_say((char)('1' + i));
        tell(nothing, heater_1_value(is), HEATER_1_DECIMALS, unit, fresh);
    }
}

static void tell_contacts(void)
{
    enum { LENGTH = sizeof "close-button" };
    static const TL_ROM char names[CONTACTS][LENGTH] = {"open-button", "close-button", "stop-button", "wheel",
                                                        "rain-plate",  "gate-closed",  "paddle-click"};
    static const TL_ROM char closed[] = "closed", open[] = "open";
    for (uint8_t i = 0; i < CONTACTS; i++)
        tell(names[i], own.contacts[i].closings, 0, own.contacts[i].closed ? closed : open, true);
}

static void tell_all(void)
{
    const tl_sample *a = own.alone;
    TELL("second", own.seconds, 0, "", true);
    TELL_VALUE("house-battery", house_battery, &own.sweep.values[THERMAL_HOUSE_BATTERY], HOUSE_BATTERY);
    tell_percents();
    TELL_VALUE("roof-position", roof_position, &a[ROOF], ROOF_POSITION);
    TELL_VALUE("wind-vane", wind_vane, &a[VANE], WIND_VANE);
    TELL_VALUE("mirror-temperature", mirror_temperature, &own.mirror_judged, MIRROR_TEMPERATURE);
    TELL_VALUE("paddle-x", paddle_x, &a[PADDLE_X], PADDLE_X);
    TELL_VALUE("paddle-y", paddle_y, &a[PADDLE_Y], PADDLE_Y);
    tell_heaters();
    TELL_VALUE("counterweight", counterweight, &own.weight, COUNTERWEIGHT);
    tell_contacts();
    TELL("encoder", tl_quadrature_steps(&own.encoder, 4), 0, "steps", own.encoder.missed == 0);
    TELL("motor-status", own.pattern.state == TL_PATTERN_PASSED, 0, "", true);
    TELL("position-bar", own.lit, 0, "lit", true);
    TELL("dew-fan", own.fan, 0, "", true);
    TELL("dew-heater", own.heater, 0, "", true);
}

#endif

/* --- the loop --- */

void fernhill_pass(void)
{
    uint32_t now_us = 0;
    tl_time now = 0;
    if (tl_port_clock_us(own.port, &now_us) != TL_OK || tl_port_clock(own.port, &now) != TL_OK)
        return;
    look_at_lines(now_us);
    sweep_on(now);
    weigh_on();
    own.alone_wanted = tl_due_now(&own.tenth, now) || own.alone_wanted;
    if (own.alone_wanted && !own.sweep.running && !own.weighing) {
        own.alone_wanted = false;
        own.may_weigh = true;
        take_alone(now);
    }
    if (tl_due_now(&own.second, now)) {
        own.seconds++;
#ifndef FERNHILL_QUIET
        tell_all();
#endif
    }
}
