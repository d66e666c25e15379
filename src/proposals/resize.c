/* SPDX-License-Identifier: MIT */
/* A part that stands in a plan, sized anew with what the plan says where it stands. */
#include "proposals/resize.h"
#include "base/memory.h"
#include "elaborate/circuit_struct.h"
#include "proposals/jobs.h"
#include "reader/read_plan.h"
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static double stated_tolerance(const tl_part *part, double otherwise)
{
    double widest = NAN;
    for (int i = 0; i < 2 && part->value[i] != NULL; i++) {
        const tl_quantity *q = &part->value[i]->value;
        if (q->toleranced && q->nominal > 0)
            widest = fmax(widest, (q->high - q->low) / (2 * q->nominal));
    }
    return isnan(widest) ? otherwise : widest;
}

void part_stock(const tl_circuit *circuit, const tl_part *part, tl_stock *resistors, tl_stock *capacitors)
{
    const tl_plan *plan = circuit->plan;
    if (!plan->has_drawer) {
        *resistors = tl_stock_series(TL_E24, 10, 10e6, stated_tolerance(part, 0.01));
        take_parts(&circuit->parts, resistors);
        *capacitors = tl_stock_series(TL_E6, 100e-12, 100e-6, stated_tolerance(part, 0.1));
        return;
    }
    *resistors = *capacitors = (tl_stock){0};
    for (int i = 0; i < plan->resistors.count; i++)
        tl_stock_add(resistors, plan->resistors.parts[i]);
    for (int i = 0; i < plan->capacitors.count; i++)
        tl_stock_add(capacitors, plan->capacitors.parts[i]);
    take_parts(&circuit->parts, resistors);
    for (int i = 0; i < 2 && part->value[i] != NULL; i++) { /* its own parts are there to be chosen again */
        for (int k = 0; k < plan->resistors.count; k++) {
            tl_stock_part own = plan->resistors.parts[k];
            if (own.value != part->value[i]->value.nominal || own.count < 0)
                continue;
            own.count = 1;
            own.used = true;
            tl_stock_add(resistors, own);
        }
    }
}

bool part_values(const tl_part *part, const tl_size_result *result, const tl_choice *choice,
                 char value[2][64])
{
    bool whole = part->way == NULL || (choice->way != NULL && strcmp(part->way, choice->way) == 0);
    value[0][0] = value[1][0] = '\0';
    for (int i = 0; i < 2 && part->name[i] != NULL; i++) {
        bool found = false;
        for (int p = 0; p < choice->parts && !found; p++) {
            found = strcmp(choice->part_name[p], part->name[i]) == 0;
            if (!found)
                continue;
            if (choice->part_dimension[p] == TL_DIM_OHM)
                tl_leg_plan_text(&choice->part[p], result->stock, value[i]);
            else
                tl_leg_write(&choice->part[p], NULL, TL_DIM_FARAD, value[i]);
        }
        whole = whole && found;
    }
    return whole;
}

bool part_of_stage(const tl_plan *plan, int signal, int stage, tl_part *part)
{
    char path[200], why[TL_PART_WHY];
    const tl_signal *s = &plan->signals[signal];
    snprintf(path, sizeof path, "%.100s.%.90s", s->name, s->stages[stage].name);
    return tl_part_find(plan, path, part, why);
}

/* Two values that stand one behind the other become one edit, with what stands between them. */
static void join(const tl_report *report, tl_edit edits[2])
{
    size_t size;
    tl_edit *first = edits[0].begin < edits[1].begin ? &edits[0] : &edits[1],
            *second = first == &edits[0] ? &edits[1] : &edits[0];
    const char *text = tl_report_file_text(report, first->file, &size);
    char *joined = NULL;
    tl_finding_text(&joined, "%s%.*s%s", first->text, (int)(second->begin - first->end), text + first->end,
                    second->text);
    const tl_edit whole = {first->file, first->begin, second->end, joined, NULL};
    tl_edit_free(&edits[0]);
    tl_edit_free(&edits[1]);
    edits[0] = whole;
}

/* `change house-battery.divider to upper 47k ±1 %, lower 12k ±1 %` */
static void say_change(const tl_part *part, char value[2][64], tl_edit *edit)
{
    if (part->value[1] != NULL)
        tl_finding_text(&edit->said, "change %s.%s to %s %s, %s %s", part->owner, part->called, part->name[0],
                        value[0], part->name[1], value[1]);
    else
        tl_finding_text(&edit->said, "change %s.%s to %s", part->owner, part->called, value[0]);
}

static bool edit_for(const tl_report *report, const tl_part *part, char value[2][64], tl_edit *edit)
{
    tl_edit edits[2];
    const char *const values[2] = {value[0], part->value[1] != NULL ? value[1] : NULL};
    const int count = tl_part_edits(report, part, values, edits);
    size_t size;
    if (count == 0)
        return false;
    if (count == 2 && edits[0].file != edits[1].file) {
        tl_edit_free(&edits[0]);
        tl_edit_free(&edits[1]);
        return false;
    }
    if (count == 2)
        join(report, edits);
    const char *text = tl_report_file_text(report, edits[0].file, &size);
    const size_t length = edits[0].end - edits[0].begin;
    if (strlen(edits[0].text) == length && strncmp(text + edits[0].begin, edits[0].text, length) == 0) {
        tl_edit_free(&edits[0]);
        return false;
    }
    *edit = edits[0];
    say_change(part, value, edit);
    return true;
}

int part_resized(const tl_report *report, tl_circuit *circuit, const tl_part *part,
                 tl_edit edits[RESIZED_MOST])
{
    const size_kind *kind = size_kind_of(part->job);
    tl_any_requirement requirement;
    tl_facts facts;
    tl_stock resistors, capacitors;
    char value[2][64];
    int count = 0;
    tl_facts_of_part(circuit, part, &facts);
    kind->set_defaults(&requirement);
    size_take_facts(kind, &requirement, NULL, &facts);
    part_stock(circuit, part, &resistors, &capacitors);
    tl_size_result *result = tl_size_result_new(&resistors, RESIZED_MOST);
    result->capacitors = &capacitors;
    kind->size(&requirement, result);
    for (int i = 0; i < result->count && count < RESIZED_MOST; i++) {
        if (part_values(part, result, &result->choices[i], value))
            count += edit_for(report, part, value, &edits[count]);
    }
    tl_size_result_free(result);
    tl_stock_free(&resistors);
    tl_stock_free(&capacitors);
    return count;
}
