/* SPDX-License-Identifier: MIT */
/* What a signal is made of, in words, for the comment above its constants. */
#include "elaborate/circuit_struct.h"
#include "firmware/maker.h"
#include <math.h>
#include <string.h>

static void put_value(const maker *m, const tl_located *value, tl_dimension dimension)
{
    char text[32];
    if (value != NULL && value->given)
        fprintf(m->out, " %s", tl_quantity_write(value->value.nominal, dimension, TL_ROUND_NEAREST, text));
}

/* The ends of a span are rounded away from its middle: what lies within stays within. */
static void put_span(const maker *m, const tl_quantity *q, tl_dimension dimension)
{
    char low[32], high[32];
    const bool span = q->high > q->low;
    fprintf(m->out, " %s",
            tl_quantity_write(q->low, dimension, span ? TL_ROUND_DOWN : TL_ROUND_NEAREST, low));
    if (span)
        fprintf(m->out, " .. %s", tl_quantity_write(q->high, dimension, TL_ROUND_UP, high));
}

static const char *rail_name(const maker *m, int rail)
{
    return rail >= 0 ? m->plan->supplies[rail].name : "ground";
}

static void put_source(const maker *m, const tl_source *s)
{
    static const char *const names[] = {"rail",          "voltage",        "current", "resistance",
                                        "potentiometer", "bridge",         "chain",   "star",
                                        "contact",       "open collector", "logic of"};
    fprintf(m->out, "%s", names[s->kind]);
    switch (s->kind) {
    case TL_SOURCE_RAIL:
    case TL_SOURCE_CONTACT:
    case TL_SOURCE_OPEN_COLLECTOR:
    case TL_SOURCE_LOGIC:
        fprintf(m->out, s->kind >= TL_SOURCE_CONTACT && s->kind != TL_SOURCE_LOGIC ? " to %s" : " %s",
                rail_name(m, s->supply));
        break;
    case TL_SOURCE_VOLTAGE:
    case TL_SOURCE_BRIDGE:
        put_span(m, &s->value.value, TL_DIM_VOLT);
        break;
    case TL_SOURCE_CURRENT:
        put_span(m, &s->value.value, TL_DIM_AMPERE);
        break;
    case TL_SOURCE_CHAIN:
    case TL_SOURCE_STAR:
        fprintf(m->out, " of %d buttons", s->button_count);
        break;
    default:
        put_span(m, &s->value.value, TL_DIM_OHM);
        break;
    }
}

static void put_stage(const maker *m, int line, int index)
{
    const tl_stage *stage = &m->plan->signals[line].stages[index];
    fprintf(m->out, "; %s", stage->name);
    if (stage->internal)
        fprintf(m->out, " of the chip");
    for (int i = m->circuit->parts.first[line]; i < m->circuit->parts.first[line + 1]; i++) {
        const tl_plan_part *part = &m->circuit->parts.part[i];
        if (part->stage != index)
            continue;
        if (part->role == TL_PART_LOWER)
            fprintf(m->out, " over");
        put_value(m, part->value, tl_role_of(part->role)->dimension);
        if ((part->role == TL_PART_PULL || part->role == TL_PART_PARTNER) && !part->own)
            fprintf(m->out, " to %s", rail_name(m, part->rail));
    }
}

void put_provenance(const maker *m, int signal)
{
    const tl_signal *s = &m->plan->signals[signal];
    fprintf(m->out, "   %s: ", m->plan->pins[s->pin].name);
    put_source(m, &s->source);
    for (int i = 0; i < s->stage_count; i++)
        put_stage(m, signal, i);
    fprintf(m->out, ".\n");
    const tl_worst_case *worst = tl_circuit_worst_case(m->circuit, signal, 0);
    if (s->analog && worst->fault == TL_NET_SOLVED && s->source.button_count == 0) {
        const tl_quantity pin = {worst->volts.low, worst->volts.low, worst->volts.high, false};
        fprintf(m->out, "   At the pin, at worst:");
        put_span(m, &pin, TL_DIM_VOLT);
        fprintf(m->out, ".\n");
    }
}
