/* SPDX-License-Identifier: MIT */
/* Facts for a sizing: from a board's usual pin and its converter, or from a plan at the place of the part. */
#include "analysis/ask.h"
#include "elaborate/circuit_struct.h"
#include "proposals/jobs.h"
#include <math.h>
#include <stdio.h>
#include <string.h>

static tl_quantity one(double value)
{
    return (tl_quantity){value, value, value, false};
}

void tl_facts_none(tl_facts *facts)
{
    for (int i = 0; i < TL_FACTS; i++)
        facts->of[i] = one(NAN);
    facts->acquisitions.count = 0;
}

/* A threshold that is a share of its supply follows it; any other is taken where it asks most. */
static void take_threshold(tl_level level, double rail, tl_fact volts, tl_fact share, tl_facts *facts)
{
    if (level.volts == 0)
        facts->of[share] = one(level.share);
    else
        facts->of[volts] = one(tl_level_volts(level, rail));
}

/* A pin as a reader of volts, whichever board or part it belongs to. */
static void take_pin(const tl_pin_limits *pin, const tl_quantity *rail, tl_facts *facts)
{
    static const double high_drop =
        0.4; /* volts that an output loses at most, where its board does not say */
    facts->of[TL_FACT_RAIL] = *rail;
    facts->of[TL_FACT_LEAST] = one(tl_level_volts(pin->lowest, rail->low));
    take_threshold(pin->vil, rail->low, TL_FACT_VIL, TL_FACT_VIL_SHARE, facts);
    take_threshold(pin->vih, rail->high, TL_FACT_VIH, TL_FACT_VIH_SHARE, facts);
    facts->of[TL_FACT_INJECTION] = one(pin->injection);
    facts->of[TL_FACT_INTERNAL] = pin->pull_up;
    facts->of[TL_FACT_LIMIT] = one(tl_level_volts(pin->highest, rail->low));
    facts->of[TL_FACT_LEAKAGE] = one(fmax(fabs(pin->leakage.low), fabs(pin->leakage.high)));
    facts->of[TL_FACT_FARADS] = one(pin->farads);
    facts->of[TL_FACT_DRIVES] = one(pin->drives);
    facts->of[TL_FACT_MOST_AMPERES] = one(pin->most_amperes);
    const bool says = pin->voh.share != 1 || pin->voh.volts != 0;
    const double drop = says ? rail->low - tl_level_volts(pin->voh, rail->low) : high_drop;
    facts->of[TL_FACT_HIGH] = (tl_quantity){rail->low - drop, rail->nominal - drop / 2, rail->high, true};
    facts->of[TL_FACT_PIN_OHMS] = one(says && pin->drives > 0 ? fmax(0, drop) / pin->drives : NAN);
}

static void take_converter(const tl_converter *converter, double reference, double acquisition,
                           tl_facts *facts)
{
    const tl_size_converter c = {reference,
                                 converter->word.bits,
                                 converter->sample_farads,
                                 converter->switch_ohms,
                                 acquisition,
                                 facts->of[TL_FACT_FARADS].nominal};
    facts->of[TL_FACT_REFERENCE] = one(reference);
    facts->of[TL_FACT_LEAST_LIMIT] = one(fmin(facts->of[TL_FACT_LIMIT].nominal, reference));
    facts->of[TL_FACT_BITS] = one(converter->word.bits);
    facts->of[TL_FACT_SAMPLING] = one(converter->sample_farads);
    facts->of[TL_FACT_SWITCH] = one(converter->switch_ohms);
    facts->of[TL_FACT_ACQUISITION] = one(acquisition);
    facts->of[TL_FACT_FULL_STEPS] = one(converter->steps == TL_STEPS_FULL);
    facts->of[TL_FACT_ERRORS] = one(converter->offset + converter->gain + converter->nonlinearity);
    facts->of[TL_FACT_CONVERSION] = one(converter->conversion);
    for (int i = 0; i < converter->acquisition_count; i++)
        facts->acquisitions.of[i] = converter->acquisition[i];
    facts->acquisitions.count = converter->acquisition_count;
    facts->of[TL_FACT_SEES] = one(fmax(1, tl_converter_longest_ohms(&c)));
}

void tl_facts_of_board(const tl_board *board, tl_facts *facts)
{
    const tl_pin_limits *pin = tl_board_usual_limits(board);
    const tl_converter *converter = &board->converter;
    const tl_reference *reference = &converter->references[0];
    tl_facts_none(facts);
    take_pin(pin, &board->supplies[pin->supply].volts, facts);
    if (board->has_converter)
        take_converter(converter,
                       reference->supply >= 0 ? board->supplies[reference->supply].volts.low
                                              : reference->volts.low,
                       converter->acquisition[converter->acquisition_count - 1], facts);
    if (board->has_converter && reference->supply != pin->supply)
        facts->of[TL_FACT_OTHER_REFERENCE] = facts->of[TL_FACT_REFERENCE];
}

/* --- a part of a plan --- */

static void take_source(const tl_plan *plan, const tl_signal *s, tl_facts *facts)
{
    const tl_source *source = &s->source;
    if (source->kind == TL_SOURCE_RAIL) {
        const tl_supply *rail = &plan->supplies[source->supply];
        facts->of[TL_FACT_SOURCE] = rail->volts;
        facts->of[TL_FACT_SOURCE_OHMS] = one(rail->ohms.given ? rail->ohms.value.high : 0);
        if (isfinite(rail->most_amperes))
            facts->of[TL_FACT_BUDGET] = one(rail->most_amperes);
    } else if (source->kind == TL_SOURCE_VOLTAGE || source->kind == TL_SOURCE_LOGIC) {
        facts->of[TL_FACT_SOURCE] =
            source->kind == TL_SOURCE_VOLTAGE ? source->value.value : plan->supplies[source->supply].volts;
        facts->of[TL_FACT_SOURCE_OHMS] = one(source->ohms.given ? source->ohms.value.high : 0);
    } else if (source->kind == TL_SOURCE_RESISTANCE) {
        facts->of[TL_FACT_SENSOR] = source->value.value;
    } else if (source->kind == TL_SOURCE_POTENTIOMETER) {
        /* For what stands behind its wiper: all the volts of its top, and no ohms at that end. */
        const tl_quantity *top = &plan->supplies[source->supply].volts;
        facts->of[TL_FACT_TRACK] = source->value.value;
        facts->of[TL_FACT_SOURCE] = (tl_quantity){0, top->nominal / 2, top->high, true};
        facts->of[TL_FACT_SOURCE_OHMS] = one(0);
    }
}

/* What a pin drives: a lamp and what it is connected to, or the load of its transistor. */
static void take_output(const tl_plan *plan, const tl_plan_output *o, tl_facts *facts)
{
    const tl_driver *driver = &o->driver;
    if (o->pin_count > 0) {
        const tl_pin_limits *limits = &plan->pins[o->pins[0]].limits;
        take_pin(limits, &plan->supplies[limits->supply].volts, facts);
    }
    if (o->lamp.given)
        facts->of[TL_FACT_FORWARD] = o->lamp.value;
    if (o->lamp.given && (o->pin_count == 0 || o->to >= 0))
        facts->of[TL_FACT_RAIL] = plan->supplies[o->pin_count == 0 ? o->from : o->to].volts;
    if (driver->way == TL_DRIVER_NONE)
        return;
    facts->of[TL_FACT_LOAD_SUPPLY] = plan->supplies[driver->supply].volts;
    facts->of[TL_FACT_LOAD_OHMS] = driver->load.value;
    facts->of[TL_FACT_COIL] = one(driver->henries);
    if (driver->way == TL_DRIVER_BIPOLAR) {
        facts->of[TL_FACT_GAIN] = one(driver->gain);
        facts->of[TL_FACT_SATURATION] = one(driver->saturation);
    } else {
        facts->of[TL_FACT_ON_OHMS] = one(driver->on_ohms);
    }
}

/* All lines of a bus are alike. */
static void take_bus(tl_circuit *circuit, const tl_part *part, tl_facts *facts)
{
    const tl_bus *bus = &circuit->plan->buses[part->bus];
    facts->of[TL_FACT_BUS_MODE] = one(bus->mode);
    facts->of[TL_FACT_BUS_FARADS] = one(tl_circuit_line_farads(circuit, bus->first_line, TL_ALL_SIDES));
    if (part->stage->to >= 0)
        facts->of[TL_FACT_RAIL] = circuit->plan->supplies[part->stage->to].volts;
}

/* What can be on a signal's wire: its source, whatever comes. */
static void take_fault(const tl_plan *plan, const tl_signal *s, tl_facts *facts)
{
    if (s->source.kind == TL_SOURCE_VOLTAGE)
        facts->of[TL_FACT_FAULT] = s->source.value.value;
    else if ((s->source.kind == TL_SOURCE_RAIL || s->source.kind == TL_SOURCE_LOGIC) && s->source.supply >= 0)
        facts->of[TL_FACT_FAULT] = plan->supplies[s->source.supply].volts;
}

/* What drives a line through a shifter. */
static void take_driver(tl_circuit *circuit, const tl_part *part, tl_facts *facts)
{
    const tl_signal *s = &circuit->plan->signals[part->signal];
    const tl_quantity *from = &circuit->plan->supplies[s->source.supply].volts;
    facts->of[TL_FACT_DRIVER] = *from;
    facts->of[TL_FACT_VOL] = one(tl_level_volts(s->source.low, from->high));
    facts->of[TL_FACT_VOH] = one(tl_level_volts(s->source.high, from->low));
    facts->of[TL_FACT_DRIVER_AMPERES] = one(s->source.drives);
    facts->of[TL_FACT_BIT_RATE] = one(s->source.rate > 0 ? 2 * s->source.rate : NAN);
    facts->of[TL_FACT_LINE_FARADS] = one(tl_circuit_line_farads(circuit, part->signal, TL_ALL_SIDES));
    for (int i = 0; i < s->stage_count; i++) {
        const tl_stage *stage = &s->stages[i];
        if (!tl_stage_has(stage, TL_PART_SHIFTER))
            continue;
        facts->of[TL_FACT_MAY_INVERT] = one(stage->way == TL_SHIFT_INVERTER);
        if (stage->way == TL_SHIFT_DIODE)
            facts->of[TL_FACT_DIODE] = one(stage->drop);
        if (stage->way == TL_SHIFT_N_CHANNEL)
            facts->of[TL_FACT_THRESHOLD] = one(stage->threshold);
    }
}

/* A resistor above tracks: the rail that it comes from, and all that are connected to it. */
static void take_shared(const tl_plan *plan, int rail, tl_facts *facts)
{
    const tl_supply *node = &plan->supplies[rail];
    int tracks = 0;
    for (int i = 0; i < plan->signal_count; i++) {
        const tl_source *source = &plan->signals[i].source;
        if (source->kind != TL_SOURCE_POTENTIOMETER || source->supply != rail)
            continue;
        facts->of[TL_FACT_TRACK] = source->value.value;
        tracks++;
    }
    facts->of[TL_FACT_TRACKS] = one(tracks);
    if (node->from >= 0)
        facts->of[TL_FACT_TOP_RAIL] = plan->supplies[node->from].volts;
}

void tl_facts_of_part(tl_circuit *circuit, const tl_part *part, tl_facts *facts)
{
    const tl_plan *plan = circuit->plan;
    if (part->output != TL_NONE) {
        tl_facts_none(facts);
        take_output(plan, &plan->outputs[part->output], facts);
        return;
    }
    const tl_signal *s = &plan->signals[part->signal];
    const tl_pin *pin = &plan->pins[s->pin];
    tl_facts_none(facts);
    take_pin(&pin->limits, &plan->supplies[pin->limits.supply].volts, facts);
    const tl_plan_converter *used = tl_plan_converter_of(plan, s);
    if (used != NULL && circuit->signals[part->signal].reference != TL_NET_NONE) {
        double low, high;
        tl_net_param_span(circuit->net, circuit->signals[part->signal].reference, &low, &high);
        const tl_converter *converter = used->part;
        const double longest = s->acquisition.given ? s->acquisition.value.nominal
                               : converter->acquisition_count > 0
                                   ? converter->acquisition[converter->acquisition_count - 1]
                                   : NAN;
        take_converter(converter, low, longest, facts);
    }
    take_source(plan, s, facts);
    take_fault(plan, s, facts);
    if (strcmp(part->job, "shift") == 0)
        take_driver(circuit, part, facts);
    if (part->shared != TL_NONE)
        take_shared(plan, part->shared, facts);
    if (part->bus != TL_NONE)
        take_bus(circuit, part, facts);
    if (part->stage == NULL || part->bus != TL_NONE || strcmp(part->job, "shift") == 0)
        return;
    if (tl_stage_has(part->stage, TL_PART_PARTNER)) {
        const int rail = part->stage->up ? part->stage->to : s->source.supply;
        facts->of[TL_FACT_UPPER] = one(part->stage->up);
        if (rail >= 0)
            facts->of[TL_FACT_RAIL] = plan->supplies[rail].volts;
        if (rail < 0 || circuit->supply_param[rail] != circuit->signals[part->signal].reference)
            facts->of[TL_FACT_OTHER_REFERENCE] = facts->of[TL_FACT_REFERENCE];
    }
    if (tl_stage_has(part->stage, TL_PART_PULL)) {
        facts->of[TL_FACT_DOWN] = one(!part->stage->up);
        if (part->stage->up && part->stage->to >= 0)
            facts->of[TL_FACT_RAIL] = plan->supplies[part->stage->to].volts;
    }
    const int stage = (int)(part->stage - s->stages);
    for (int i = circuit->parts.first[part->signal]; i < circuit->parts.first[part->signal + 1]; i++) {
        const tl_plan_part *other = &circuit->parts.part[i];
        if (other->role == TL_PART_LOAD && other->stage > stage && tl_stage_has(part->stage, TL_PART_LOWER))
            facts->of[TL_FACT_LOAD] = one(other->value->value.low);
        if (other->role == TL_PART_CABLE)
            facts->of[TL_FACT_FARADS] = one(facts->of[TL_FACT_FARADS].nominal + other->value->value.high);
    }
}

/* --- into a requirement --- */

void size_take_facts(const size_kind *kind, void *requirement, const bool *typed, const tl_facts *facts)
{
    for (int i = 0; kind->options[i].name != NULL && i < SIZE_OPTIONS_MOST; i++) {
        const size_option *o = &kind->options[i];
        const tl_quantity *fact = &facts->of[o->from];
        void *member = (char *)requirement + o->offset;
        if ((typed != NULL && typed[i]) || o->from == TL_FACT_NONE || isnan(fact->nominal))
            continue;
        if (o->form == FORM_LIST)
            *(tl_values *)member = facts->acquisitions;
        else if (o->form == FORM_RANGE)
            *(tl_quantity *)member = *fact;
        else if (o->form == FORM_WORD || o->form == FORM_FLAG)
            *(int *)member = (int)fact->nominal;
        else
            *(double *)member = fact->nominal;
    }
}
