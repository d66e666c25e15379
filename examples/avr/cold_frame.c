/*
 * The whole firmware of demo/cold-frame.plan.yaml on an 8-bit AVR: ten times a second it reads the knob, the
 * thermistor and the tank, sets the fan, and tells everything over the serial line; the lid is looked at all
 * the time, the load cell's converter is asked in between. Not one number of the plan stands here.
 *
 * docs/firmware.md builds it, and runs the very file that would be flashed on the simulated bench.
 */
#include "port_avr.h"
#define TL_PIN PORT_AVR_PIN
#include "cold_frame_plan.h"

#define TENTH_US 100000u
#define BAUDS 38400u

typedef struct {
    const tl_port *port;
    tl_button lid;
    uint16_t wanted, air;
    tl_sample tank, tray;
    uint32_t weighed_us;
    bool weighing, fresh;
} cold_frame;

static void tell_number(int32_t value, uint8_t decimals)
{
    char text[12];
    (void)tl_text_fixed(value, decimals, 11, text);
    const char *at = text;
    while (*at == ' ')
        at++;
    port_avr_say(at);
    port_avr_say(" ");
}

/* Name and count are for programs (`tinyladder read --counts`), the rest is for people. */
static void tell(const char *name, int32_t count, int32_t value, uint8_t decimals, const char *unit,
                 bool fresh)
{
    port_avr_say(name);
    port_avr_say(" ");
    tell_number(count, 0);
    port_avr_say("is ");
    tell_number(value, decimals);
    port_avr_say(unit);
    port_avr_say(fresh ? "\n" : " ?\n");
}

/* The load cell's converter is slow: begun, asked, fetched, a part a pass. */
static void weigh_on(cold_frame *own, uint32_t now_us)
{
    bool ready = false;
    if (!own->weighing) {
        own->weighing = tl_external_start(own->port, &tray_input) == TL_OK;
        own->weighed_us = now_us;
        return;
    }
    if (tl_external_ready(own->port, &tray_input, now_us - own->weighed_us, &ready) == TL_OK && !ready)
        return;
    own->tray.flags &= (uint8_t)~TL_READING_FRESH;
    if (ready)
        (void)tl_external_fetch(own->port, &tray_input, &own->tray);
    own->weighing = false;
}

static void take_all(cold_frame *own)
{
    own->fresh = wanted_take(own->port, &own->wanted) == TL_OK && air_take(own->port, &own->air) == TL_OK;
    (void)tl_external_take(own->port, &tank_input, &own->tank);
    (void)tl_port_line_duty(own->port, FAN_LINE, own->fresh ? fan_duty(wanted_value(own->wanted)) : 0);
    (void)tl_port_line_drive(own->port, OPEN_LAMP_LINE, own->lid.closed);
}

static void tell_all(const cold_frame *own)
{
    const bool tank = (own->tank.flags & TL_READING_FRESH) != 0,
               tray = (own->tray.flags & TL_READING_FRESH) != 0;
    tell("wanted", own->wanted, wanted_value(own->wanted), WANTED_DECIMALS, WANTED_UNIT, own->fresh);
    tell("air", own->air, air_value(own->air), AIR_DECIMALS, AIR_UNIT, own->fresh);
    tell("lid", !own->lid.closed, own->lid.closings, 0,
         own->lid.closed ? "closings, closed now" : "closings, open now", true);
    tell("tank", own->tank.value, tank_value((uint16_t)own->tank.value), TANK_DECIMALS, TANK_UNIT, tank);
    tell("tray", own->tray.value, tray_value(own->tray.value), TRAY_DECIMALS, TRAY_UNIT, tray);
}

int main(void)
{
    static cold_frame own;
    static tl_due tenth;
    uint32_t now_us = 0;
    own.port = port_avr();
    port_avr_serial(BAUDS);
    (void)tl_port_clock_us(own.port, &now_us);
    if (tl_button_init(&own.lid, &lid_contact, own.port) != TL_OK ||
        tl_port_line_use(own.port, FAN_LINE, TL_LINE_OUTPUT) != TL_OK ||
        tl_port_line_use(own.port, OPEN_LAMP_LINE, TL_LINE_OUTPUT) != TL_OK ||
        tl_due_init(&tenth, TENTH_US, now_us) != TL_OK)
        port_avr_say("this is another board\n");
    for (;;) {
        tl_button_event event;
        (void)tl_port_clock_us(own.port, &now_us);
        (void)tl_button_look(&own.lid, own.port, &event);
        weigh_on(&own, now_us);
        if (tl_due_now(&tenth, now_us)) {
            take_all(&own);
            tell_all(&own);
        }
    }
}
