/* SPDX-License-Identifier: MIT */
/*
 * The whole firmware of demo/cold-frame.plan.yaml: ten times a second it reads the knob, the
 * thermistor and the tank, sets the fan, and tells everything over the serial line; the lid is looked at all
 * the time, the load cell's converter is asked in between. Not one number of the plan stands here, and
 * nothing of a chip: that is on_avr.h, or on_stand_in.h.
 *
 * docs/firmware.md builds it, and runs the very file that would be flashed on the simulated bench.
 */
#include HERE
#include "cold_frame_plan.h"

#define TENTH_US 100000u

typedef struct {
    const tl_port *port;
    tl_button lid;
    tl_taking weighing;
    bool weighs;
    tl_sample wanted, air, tank, tray;
} cold_frame;

static void tell_number(int32_t value, uint8_t decimals)
{
    char text[12];
    (void)tl_text_fixed(value, decimals, 11, text);
    const char *at = text;
    while (*at == ' ')
        at++;
    here_say(at);
    here_say(" ");
}

/* Name and count are for programs (`tinyladder read --counts`), the rest is for people. */
static void tell(const char *name, int32_t count, int32_t value, uint8_t decimals, const char *unit,
                 bool fresh)
{
    here_say(name);
    here_say(" ");
    tell_number(count, 0);
    here_say("is ");
    tell_number(value, decimals);
    here_say(unit);
    here_say(fresh ? "\n" : " ?\n");
}

/* The load cell's converter is slow: a step a pass. */
static void weigh_on(cold_frame *own)
{
    bool done = false;
    if (own->weighs)
        own->weighs = tl_taking_step(&own->weighing, own->port, &own->tray, &done) == TL_OK && !done;
}

/* It converts while the others are reported; one reads at a time, so they were taken before. */
static void begin_to_weigh(cold_frame *own)
{
    tl_taking_begin(&own->weighing, &tray_way);
    own->weighs = true;
    for (uint8_t step = 0; step < 3; step++) /* claimed, led, started */
        weigh_on(own);
}

static void take_all(cold_frame *own)
{
    wanted_count count;
    (void)tl_input_sample(own->port, &wanted_input, &own->wanted);
    (void)tl_input_sample(own->port, &air_input, &own->air);
    (void)tl_take(own->port, &tank_way, &own->tank);
    const bool fresh = wanted_of(&own->wanted, &count);
    (void)tl_port_line_duty(own->port, FAN_LINE, fresh ? fan_duty(count) : 0);
    (void)tl_port_line_drive(own->port, OPEN_LAMP_LINE, own->lid.closed);
}

static void tell_all(const cold_frame *own)
{
    wanted_count wanted;
    air_count air;
    tank_count tank;
    tray_count tray;
    const bool has_wanted = wanted_of(&own->wanted, &wanted), has_air = air_of(&own->air, &air),
               has_tank = tank_of(&own->tank, &tank), has_tray = tray_of(&own->tray, &tray);
    tell("wanted", own->wanted.value, wanted_value(wanted), WANTED_DECIMALS, WANTED_UNIT, has_wanted);
    tell("air", own->air.value, air_value(air), AIR_DECIMALS, AIR_UNIT, has_air);
    tell("lid", !own->lid.closed, own->lid.closings, 0,
         own->lid.closed ? "closings, closed now" : "closings, open now", true);
    tell("tank", own->tank.value, tank_value(tank), TANK_DECIMALS, TANK_UNIT, has_tank);
    tell("tray", own->tray.value, tray_value(tray), TRAY_DECIMALS, TRAY_UNIT, has_tray);
}

int main(void)
{
    static cold_frame own;
    static tl_due tenth;
    uint32_t now_us = 0;
    bool due = false;
    own.port = here_open();
    (void)tl_port_clock_us(own.port, &now_us);
    if (tl_button_init(&own.lid, &lid_contact, own.port) != TL_OK ||
        tl_port_line_use(own.port, FAN_LINE, TL_LINE_OUTPUT) != TL_OK ||
        tl_port_line_use(own.port, OPEN_LAMP_LINE, TL_LINE_OUTPUT) != TL_OK ||
        tl_due_init(&tenth, TENTH_US, now_us) != TL_OK)
        here_say("this is another board\n");
    begin_to_weigh(&own);
    for (;;) {
        tl_button_event event;
        (void)tl_port_clock_us(own.port, &now_us);
        (void)tl_button_look(&own.lid, own.port, &event);
        due = tl_due_now(&tenth, now_us) || due;
        weigh_on(&own);
        if (due && !own.weighs) {
            due = false;
            take_all(&own);
            begin_to_weigh(&own);
            tell_all(&own);
        }
    }
}
