/* SPDX-License-Identifier: MIT */
/*
 * What the files of the rules share. The rules themselves stand in rule_rows.inc, a row each.
 */
#ifndef TL_CHECK_H
#define TL_CHECK_H

#include "elaborate/circuit_struct.h"
#include "tinyladder/design/measurement.h"
#include "tinyladder/design/rules.h"

/* Arithmetic noise must not break a limit that is just met. */
static const double tl_slack_volts = 1e-9;

typedef struct {
    tl_circuit *circuit;
    const tl_plan *plan;
    tl_report *report;
    int signal; /* that is looked at just now; TL_NONE between them */
} tl_checker;

/* How heavy a finding is: as its rule has it, or as its rule has it at worst. */
typedef enum { TL_USUAL, TL_GRAVE } check_weight;

/* A rule: its row stands in rule_rows.inc. */
typedef enum tl_rule_id {
#define RULE(id, ...) TL_RULE_##id,
#include "rules/rule_rows.inc"
#undef RULE
    TL_RULES
} tl_rule_id;

/* Adds a finding about the signal that is looked at; its severity stands in the rule's row. */
tl_finding *tl_check_add(const tl_checker *k, check_weight weight, tl_rule_id rule, tl_place place,
                         const char *cause, ...) __attribute__((format(printf, 5, 6)));

typedef struct {
    char text[32];
} tl_shown;

/* A quantity as text, rounded to the side that keeps the figure guaranteed. */
tl_shown tl_show(double value, tl_dimension dimension, tl_rounding rounding);

/* Graver where a closing that is missed or comes twice is never made good. */
check_weight tl_check_counts(const tl_signal *s);

const tl_pin *tl_check_pin(const tl_checker *k, int signal);
int tl_check_pin_supply(const tl_checker *k, const tl_signal *s);
/* The first part of a signal with this role, or NULL; the next one; whether it has any with one of these
 * traits. */
const tl_plan_part *tl_check_part(const tl_checker *k, int signal, tl_part_role role);
const tl_plan_part *tl_check_next(const tl_checker *k, int signal, tl_part_role role,
                                  const tl_plan_part *after);
bool tl_check_has(const tl_checker *k, int signal, unsigned traits);
void tl_check_free_pins(const tl_checker *k, bool analog, char *text, size_t size);
/* Amperes that a source must give or take, against those that it can. */
void tl_check_drive_figures(tl_finding *finding, double needed, double at_hand);

/* The corner of a bound: named in the finding, a parameter's value there, a level of the pin there. */
void tl_check_corner(const tl_checker *k, tl_finding *finding, const tl_bounds *bounds, const double *values);
/* The highest volts that any rail of the chain or its source can have. */
double tl_check_most_volts(const tl_checker *k, const tl_signal *s);

/* Rules for every signal; tl_check_limits is true where the pin is safe. */
void tl_check_fault(const tl_checker *k, int signal, tl_net_status fault);
bool tl_check_limits(const tl_checker *k, int signal, int state);
void tl_check_unpowered(const tl_checker *k, int signal);
void tl_check_lower_leg(const tl_checker *k, int signal);
void tl_check_driven(const tl_checker *k, int signal);
void tl_check_power(const tl_checker *k, int signal);
void tl_check_shared_power(const tl_checker *k);
void tl_check_reading(const tl_checker *k, int signal);

/* Rules by kind of signal, and over what several signals share; each in the file of its name. */
void tl_check_analog(const tl_checker *k, int signal);
void tl_check_acquisition(const tl_checker *k, int signal);
/* Whether a converter can read its pin at all. */
bool tl_check_channel(const tl_checker *k, int signal);
void tl_check_buttons(const tl_checker *k, int signal);
/* check_digits.c, check_reach.c */
void tl_check_digits(const tl_checker *k, int signal);
void tl_check_reach(const tl_checker *k, int signal);
/* The last digit of a reading, or the last that holds a count, as volts at the pin around these; a hundredth
 * of the span where the plan does not say. */
double tl_check_step(const tl_checker *k, int signal, double volts);
void tl_check_contact(const tl_checker *k, int signal);
/* check_shifters.c; false where the level cannot come through, so that nothing else need be said. */
bool tl_check_shifters(const tl_checker *k, int signal);
void tl_check_speed(const tl_checker *k, int signal);
void tl_check_buses(const tl_checker *k);
void tl_check_converters(const tl_checker *k);
void tl_check_muxes(const tl_checker *k);
void tl_check_outputs(const tl_checker *k);
void tl_check_duty(const tl_checker *k, const tl_plan_output *output);
/* Amperes that an output draws from a supply at most, all of its pins on. */
double tl_check_output_amperes(const tl_checker *k, const tl_plan_output *output, int supply);
void tl_check_sweeps(const tl_checker *k);
void tl_check_pins(const tl_checker *k);
void tl_check_budgets(const tl_checker *k);
void tl_check_unproven(const tl_checker *k);
void tl_check_unused(const tl_checker *k);
void tl_check_tolerances(const tl_checker *k);
void tl_check_template(const tl_checker *k);
void tl_check_drawer(const tl_checker *k);

/* Fixes that take some finding (check_fix.c). */

/* A resistance as it stands in the plan, with its tolerance. */
const char *tl_fix_as_stated(const tl_located *was, char text[40]);
/* A resistor to write into the plan: of its drawer where it has one, else E24 ±1 %. side > 0: certainly not
 * below this many ohms, < 0: certainly not above, 0: nearest. NULL where there is none. */
const char *tl_fix_ohms(const tl_checker *k, double ohms, int side, const tl_located *was, char text[40]);
/* Says to what `what` (`increase the pull-up`) is changed: at least (side 1) or at most (-1) this many ohms;
 * and changes it in the plan, where `was` is written there. */
void tl_fix_resistor(const tl_checker *k, tl_finding *finding, const char *what, double ohms, int side,
                     const tl_located *was);
/* A capacitor that is certainly not below this many farads. */
const char *tl_fix_farads(const tl_checker *k, double farads, char text[40]);
/* `10k` as a pull is usually made. */
const char *tl_fix_pull(const tl_checker *k, char text[40]);
/* The reference that the signal is a share of anyway; false where the converter has none, or it is chosen. */
bool tl_fix_reference(const tl_checker *k, int signal, tl_finding *finding);
void tl_fix_lower_volts(const tl_checker *k, int signal, double limit, tl_finding *finding);
/* A driver that runs higher than the pin stands. */
void tl_fix_shift(const tl_checker *k, int signal, double limit, tl_finding *finding);
void tl_fix_lift(const tl_checker *k, const tl_signal *s, double lowest, tl_finding *finding);

#endif
