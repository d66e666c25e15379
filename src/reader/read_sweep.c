/* SPDX-License-Identifier: MIT */
/* Reading sweeps, several inputs in one go, and meters. */
#include "base/memory.h"
#include "reader/read_plan.h"
#include <stdlib.h>
#include <string.h>

static const char *signal_name(const void *list, int i)
{
    return ((const tl_plan *)list)->signals[i].name;
}

bool read_signal_name(reader *r, const yaml_tree *node, const char *text, const tl_plan *plan, int *signal)
{
    if (text == NULL && !read_text(r, node, "the name of a signal", &text))
        return false;
    if (tl_plan_signal(plan, text, signal) != NULL)
        return true;
    const char *meant = nearest_name(text, signal_name, plan, plan->signal_count);
    report_error(r, "unknown-signal", node->place, "the plan has no signal '%.60s'%s%s%s", text,
                 meant != NULL ? ": did you mean '" : "", meant != NULL ? meant : "",
                 meant != NULL ? "'?" : "");
    return false;
}

static bool add_signals(reader *r, const yaml_tree *node, const tl_plan *plan, tl_plan_sweep *sweep)
{
    int names = 0;
    bool good = read_name_range(r, node, &names);
    for (int i = 0; good && i < names; i++) {
        int signal = 0;
        char *name = name_of_range(node->text, i);
        good = read_signal_name(r, node, name, plan, &signal);
        free(name);
        if (good && !plan->signals[signal].analog) {
            report_error(r, "wrong-shape", node->place, "a sweep reads ADCs: %s is digital",
                         plan->signals[signal].name);
            good = false;
        }
        sweep->signals = tl_grow(sweep->signals, (size_t)sweep->signal_count, sizeof *sweep->signals);
        sweep->signals[sweep->signal_count++] = signal;
    }
    return good;
}

static bool read_sweep(reader *r, const yaml_tree *key, const yaml_tree *node, tl_plan *plan)
{
    const yaml_tree *signals = yaml_get(node, "signals");
    int names = 0;
    if (!read_name_range(r, key, &names) || !check_map(r, node, &keys_sweep) ||
        !check_list(r, signals, "the signals of a sweep"))
        return false;
    tl_plan_sweep sweep = {.name = tl_copy_text(key->text), .place = key->place};
    bool good = take_present(r, node, &keys_sweep, &sweep);
    for (int i = 0; good && i < signals->count; i++)
        good = add_signals(r, &signals->items[i], plan, &sweep);
    plan->sweeps = tl_grow(plan->sweeps, (size_t)plan->sweep_count, sizeof sweep);
    plan->sweeps[plan->sweep_count++] = sweep;
    return good;
}

static bool read_meter(reader *r, const yaml_tree *key, const yaml_tree *node, tl_plan *plan)
{
    int names = 0;
    if (!read_name_range(r, key, &names) || !check_map(r, node, &keys_meter))
        return false;
    tl_meter meter = {.name = tl_copy_text(key->text), .place = key->place};
    const bool good = take_present(r, node, &keys_meter, &meter);
    plan->meters = tl_grow(plan->meters, (size_t)plan->meter_count, sizeof meter);
    plan->meters[plan->meter_count++] = meter;
    return good;
}

bool read_sweeps(reader *r, const yaml_tree *node, tl_plan *plan)
{
    return read_named(r, node, "sweeps", read_sweep, plan);
}

bool read_meters(reader *r, const yaml_tree *node, tl_plan *plan)
{
    return read_named(r, node, "meters", read_meter, plan);
}
