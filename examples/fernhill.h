/*
 * The Fernhill plan as constants: where things hang, and what their counts mean. The tests compare every one
 * of them with the plan.
 */
#ifndef TL_FERNHILL_H
#define TL_FERNHILL_H

#include <tinyladder/core.h>

/* On the bench a line's number is its pin's place in the board file: pin L0 is the third. */
#define LINE(n) ((n) + 2)
enum {
    MOTOR_STATUS = LINE(0),
    RAIN_PLATE = LINE(1),
    ENCODER_1 = LINE(2),
    ENCODER_2 = LINE(3),
    MAP_LIGHT = LINE(8),
    DEW_FAN = LINE(9),
    CLOSE_BUTTON = LINE(10),
    STOP_BUTTON = LINE(11),
    OPEN_BUTTON = LINE(12),
    WHEEL = LINE(13),
    GATE_CLOSED = LINE(14),
    PADDLE_CLICK = LINE(26),
    FIRST_LAMP = LINE(30)
};

/* --- inputs of the board's converter: 12 bits in words of 16 --- */
#define INPUT(channel_, acquisition)                                                                         \
    {                                                                                                        \
        .channel = (channel_), .acquisition_ns = (acquisition), .longest_us = 100, .word = {                 \
            .bits = 12,                                                                                      \
            .width = 16                                                                                      \
        }                                                                                                    \
    }

static const tl_input house_battery TL_ROM = INPUT(0, 300);
static const tl_input heaters_common TL_ROM = INPUT(1, 3000);
static const tl_input wind_vane TL_ROM = INPUT(2, 300);
static const tl_input twilight TL_ROM = INPUT(3, 3000);
static const tl_input keypad TL_ROM = INPUT(4, 3000);
static const tl_input roof_position TL_ROM = INPUT(5, 1000);
static const tl_input mirror_temperature TL_ROM = INPUT(6, 3000);
static const tl_input paddle_x TL_ROM = INPUT(7, 1000);
static const tl_input paddle_y TL_ROM = INPUT(8, 1000);

/* Volts at the pin, and those of the battery behind its divider of 47k and 10k. */
static const tl_scale_config at_the_pin = {
    .reference_high_uv = 3300000, .bits = 12, .steps = TL_STEPS_HALF, .undo_num = 1, .undo_den = 1};
static const tl_scale_config at_the_battery = {
    .reference_high_uv = 3300000, .bits = 12, .steps = TL_STEPS_HALF, .undo_num = 57, .undo_den = 10};

/* --- from counts to what they mean; in between it goes straight --- */
static const tl_table_point vane_points[] TL_ROM = {{0, 0}, {4095, 3599}};
static const tl_table vane_tenths TL_ROM = {vane_points, 2, false}; /* of a degree */

static const tl_table_point mirror_points[] TL_ROM = {{992, 531},  {1204, 461},  {1487, 382},
                                                      {1869, 290}, {2902, 63},   {3233, -20},
                                                      {3461, -88}, {3626, -148}, {3745, -202}};
static const tl_table mirror_tenths TL_ROM = {mirror_points, 9, false};
static const tl_fault_config mirror_wire TL_ROM = {.open_side = TL_FAULT_ABOVE,
                                                   .open_level = 3973, /* 97 % */
                                                   .short_side = TL_FAULT_BELOW,
                                                   .short_level = 205, /* 5 % */
                                                   .hysteresis = 41};

static const tl_table_point heater_points[] TL_ROM = {
    {1168, 650}, {1260, 648}, {1516, 569},  {1851, 479},  {2589, 299},  {3005, 193},  {3293, 109}, {3501, 37},
    {3642, -22}, {3761, -84}, {3840, -135}, {3905, -187}, {3958, -242}, {3993, -289}, {4001, -300}};
static const tl_table heater_tenths TL_ROM = {heater_points, 15, false};

/* No button, home, park, track, sync, lamp. */
static const tl_rung keypad_rungs[] TL_ROM = {{4089, 4095}, {0, 7},       {423, 455},
                                              {1122, 1177}, {1862, 1926}, {2634, 2694}};
enum { KEYPAD_LEVELS = 6 };

/* --- the multiplexer of the eight heaters --- */
static const tl_mux_lines heaters TL_ROM = {
    .select = {LINE(20), LINE(21), LINE(22)}, .select_count = 3, .enable = LINE(23), .dwell_us = 20};

/* --- the load cell's converter on the bus: settings in register 1, the result in register 0 --- */
static const tl_external dunlin TL_ROM = {.kind = TL_EXTERNAL_I2C,
                                          .bus = 0,
                                          .seat = 0x2a,
                                          .word = {16, 16, TL_WORD_RIGHT, TL_WORD_TWOS_COMPLEMENT, true},
                                          .longest_us = 200000,
                                          .earliest_us = 62000,
                                          .settings_bits = 8,
                                          .settings = 1,
                                          .result = 0,
                                          .ready = 1,
                                          .ready_bits = 8,
                                          .ready_bit = 7,
                                          .ready_when = true};
static const tl_external_input counterweight TL_ROM = {.settings =
                                                           0x90}; /* pair-0, range 100 mV, start now */
static const tl_table_point counterweight_points[] TL_ROM = {{-3607, -551}, {7211, 1101}};
static const tl_table counterweight_tenths TL_ROM = {counterweight_points, 2,
                                                     true}; /* of a kilogram, trimmed */

#endif
