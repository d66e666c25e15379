/* What a signal is made of, in words, for the comment above its constants. */
#include "firmware/maker.h"
#include <math.h>
#include <string.h>

static void put_value(const maker *m, const tl_located *value, tl_dimension dimension)
{
    char text[32];
    if (value->given)
        fprintf(m->out, " %s", tl_quantity_write(value->value.nominal, dimension, TL_ROUND_NEAREST, text));
}

static void put_span(const maker *m, const tl_quantity *q, tl_dimension dimension)
{
    char low[32], high[32];
    fprintf(m->out, " %s", tl_quantity_write(q->low, dimension, TL_ROUND_NEAREST, low));
    if (q->high > q->low)
        fprintf(m->out, " .. %s", tl_quantity_write(q->high, dimension, TL_ROUND_NEAREST, high));
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

static void put_stage(const maker *m, const tl_stage *stage)
{
    const bool farads = stage->kind == TL_STAGE_CAPACITOR || stage->kind == TL_STAGE_CABLE;
    fprintf(m->out, "; %s", stage->name);
    if (stage->internal)
        fprintf(m->out, " of the chip");
    put_value(m, &stage->first, farads ? TL_DIM_FARAD : TL_DIM_OHM);
    if (stage->second.given && stage->kind == TL_STAGE_DIVIDER)
        fprintf(m->out, " over");
    put_value(m, &stage->second, stage->kind == TL_STAGE_FILTER ? TL_DIM_FARAD : TL_DIM_OHM);
    if ((stage->kind == TL_STAGE_PULL || stage->kind == TL_STAGE_PARTNER) && !stage->internal)
        fprintf(m->out, " to %s", rail_name(m, stage->to));
}

void put_provenance(const maker *m, int signal)
{
    const tl_signal *s = &m->plan->signals[signal];
    fprintf(m->out, "   %s: ", m->plan->pins[s->pin].name);
    put_source(m, &s->source);
    for (int i = 0; i < s->stage_count; i++)
        put_stage(m, &s->stages[i]);
    fprintf(m->out, ".\n");
    const tl_worst_case *worst = tl_circuit_worst_case(m->circuit, signal, 0);
    if (s->analog && worst->fault == TL_NET_SOLVED && s->source.button_count == 0) {
        const tl_quantity pin = {worst->volts.low, worst->volts.low, worst->volts.high, false};
        fprintf(m->out, "   At the pin, at worst:");
        put_span(m, &pin, TL_DIM_VOLT);
        fprintf(m->out, ".\n");
    }
}
