/* SPDX-License-Identifier: MIT */
/* What a plan is made of: finding things in it, and letting it go. Reading one is the business of src/reader.
 */
#include "model/parts.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

static void free_stages(tl_stage *stages, int count)
{
    for (int i = 0; i < count; i++)
        free(stages[i].name);
    free(stages);
}

static void free_signal(tl_signal *signal)
{
    free(signal->reading.turns_with);
    free_stages(signal->stages, signal->stage_count);
    for (int i = 0; i < signal->source.button_count; i++)
        free(signal->source.buttons[i].name);
    free(signal->source.curve.points);
    free(signal->name);
}

/* What several signals share. */
static void free_shared(tl_plan *plan)
{
    for (int i = 0; i < plan->converter_count; i++) {
        tl_converter_free(plan->converters[i].own);
        free(plan->converters[i].name);
    }
    for (int i = 0; i < plan->mux_count; i++) {
        tl_mux_part_free(plan->muxes[i].part);
        free(plan->muxes[i].name);
    }
    for (int i = 0; i < plan->bus_count; i++) {
        free_stages(plan->buses[i].stages, plan->buses[i].stage_count);
        free(plan->buses[i].name);
    }
    for (int i = 0; i < plan->output_count; i++)
        free(plan->outputs[i].name);
    for (int i = 0; i < plan->sweep_count; i++) {
        free(plan->sweeps[i].signals);
        free(plan->sweeps[i].name);
    }
    for (int i = 0; i < plan->meter_count; i++)
        free(plan->meters[i].name);
    for (int i = 0; i < plan->module_count; i++) {
        for (int p = 0; p < plan->modules[i].pin_count; p++)
            free(plan->modules[i].pins[p].name);
        free(plan->modules[i].pins);
        free(plan->modules[i].name);
    }
    free(plan->modules);
    free(plan->converters);
    free(plan->muxes);
    free(plan->buses);
    free(plan->outputs);
    free(plan->sweeps);
    free(plan->meters);
}

void tl_plan_free(tl_plan *plan)
{
    if (plan == NULL)
        return;
    for (int i = 0; i < plan->line_count; i++)
        free_signal(&plan->signals[i]);
    for (int i = 0; i < plan->supply_count; i++)
        free(plan->supplies[i].name);
    for (int i = plan->board != NULL ? plan->board->pin_count : 0; i < plan->pin_count; i++)
        free(plan->pins[i].name);
    free_shared(plan);
    tl_board_free(plan->board);
    free(plan->plug_in);
    tl_stock_free(&plan->resistors);
    tl_stock_free(&plan->capacitors);
    free(plan->pins);
    free(plan->signals);
    free(plan->supplies);
    free(plan->title);
    free(plan->path);
    free(plan);
}

const tl_plan_converter *tl_plan_converter_of(const tl_plan *plan, const tl_signal *signal)
{
    const int converter = signal->analog ? plan->pins[signal->pin].converter : TL_NONE;
    return converter == TL_NONE ? NULL : &plan->converters[converter];
}

bool tl_reading_is_timed(const tl_plan_reading *reading)
{
    return reading->as == TL_AS_FREQUENCY || reading->as == TL_AS_DUTY || reading->as == TL_AS_PERIOD;
}

bool tl_plan_rail_is_low(const tl_plan *plan, int rail)
{
    while (rail != TL_TO_GROUND && plan->supplies[rail].kind == TL_RAIL_SHARED)
        rail = plan->supplies[rail].from;
    return rail == TL_TO_GROUND || (plan->supplies[rail].kind == TL_RAIL_PIN && !plan->supplies[rail].high);
}

int tl_plan_same_source(const tl_plan *plan, int signal)
{
    const tl_source *source = &plan->signals[signal].source;
    int first = source->kind == TL_SOURCE_RAIL ? 0 : signal;
    while (first < signal && (plan->signals[first].source.kind != TL_SOURCE_RAIL ||
                              plan->signals[first].source.supply != source->supply))
        first++;
    return first;
}

const tl_signal *tl_plan_signal(const tl_plan *plan, const char *name, int *index)
{
    for (int i = 0; i < plan->signal_count; i++) {
        if (strcmp(plan->signals[i].name, name) == 0) {
            if (index != NULL)
                *index = i;
            return &plan->signals[i];
        }
    }
    return NULL;
}

tl_quantity tl_plan_pulls(const tl_plan *plan, const tl_signal *line)
{
    tl_quantity siemens = {0};
    for (int i = 0; i < line->stage_count; i++) {
        const tl_stage *stage = &line->stages[i];
        if (!tl_stage_has(stage, TL_PART_PULL))
            continue;
        const tl_pin_limits *limits = &plan->pins[line->pin].limits;
        const tl_quantity *ohms = !stage->internal ? &stage->first.value
                                  : stage->up      ? &limits->pull_up
                                                   : &limits->pull_down;
        tl_beside(&siemens, ohms);
    }
    return tl_ohms_of(&siemens);
}
