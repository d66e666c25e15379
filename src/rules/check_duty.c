/* SPDX-License-Identifier: MIT */
/* A duty: often enough for the eye, slow enough for its timer and its transistor. */
#include "analysis/ask.h"
#include "rules/check.h"
#include <math.h>

/* Steps of a percent are what most things that follow a duty ask for. */
static const double steps_wanted = 100, seen_below = 100, comfortable = 200;

static bool is_lamp(const tl_plan_output *output)
{
    return output->lamp.given || output->wired || output->driver.lamp.given;
}

/* 1, 2 or 5 times a power of ten, at most this many. */
static double round_below(double hertz)
{
    const double power = pow(10, floor(log10(hertz) + 1e-9)), times = hertz / power;
    return power * (times >= 5 - 1e-9 ? 5 : times >= 2 - 1e-9 ? 2 : 1);
}

/* What all three rules allow, written into the plan; nothing where they exclude each other. */
static void propose(const tl_plan_output *output, double clock, double edge, bool faster, tl_finding *f)
{
    const double most = fmin(clock > 0 ? clock / steps_wanted : INFINITY, edge > 0 ? 0.01 / edge : INFINITY);
    const double hertz = faster ? (most >= comfortable ? comfortable : seen_below) : round_below(most);
    if (hertz > most * (1 + 1e-9) || (is_lamp(output) && hertz < seen_below))
        return;
    const bool kilo = hertz >= 1000;
    tl_finding_text(&f->fix, "set frequency: %.12g %s", kilo ? hertz / 1000 : hertz, kilo ? "kHz" : "Hz");
    tl_finding_change(f, TL_CHANGE_VALUE, output->frequency_place, NULL, "%.12g %s",
                      kilo ? hertz / 1000 : hertz, kilo ? "kHz" : "Hz");
}

static void check_flicker(const tl_checker *k, const tl_plan_output *output, double edge)
{
    if (!is_lamp(output) || output->frequency >= seen_below)
        return;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_DUTY_FLICKER, output->frequency_place,
                                 "%s: the LED flickers visibly", output->name);
    tl_finding_figures(f, TL_DIM_HERTZ, output->frequency, seen_below);
    tl_finding_text(&f->figure, "%s; minimum %s",
                    tl_show(output->frequency, TL_DIM_HERTZ, TL_ROUND_DOWN).text,
                    tl_show(seen_below, TL_DIM_HERTZ, TL_ROUND_UP).text);
    propose(output, k->plan->board->duty_clock, edge, true, f);
}

static void check_steps(const tl_checker *k, const tl_plan_output *output, double edge)
{
    const double steps = tl_plan_duty_steps(k->plan, output);
    if (isnan(steps) || steps >= steps_wanted)
        return;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_DUTY_STEPS, output->frequency_place,
                                 "%s: too few duty steps at this frequency", output->name);
    tl_finding_figures(f, TL_DIM_NUMBER, steps, steps_wanted);
    tl_finding_text(&f->figure, "%.0f steps per period; minimum %.0f", steps, steps_wanted);
    if (ldexp(1, k->plan->board->duty_bits) >= steps_wanted)
        propose(output, k->plan->board->duty_clock, edge, false, f);
}

static void check_edge(const tl_checker *k, const tl_plan_output *output, double edge)
{
    const double most = 0.01 / output->frequency;
    if (edge <= most)
        return;
    tl_finding *f = tl_check_add(k, TL_USUAL, TL_RULE_DUTY_EDGE, output->frequency_place,
                                 "%s: switching the gate takes more than 1 %% of a period", output->name);
    tl_finding_figures(f, TL_DIM_SECOND, edge, most);
    tl_finding_text(&f->figure, "%s; maximum %s", tl_show(edge, TL_DIM_SECOND, TL_ROUND_UP).text,
                    tl_show(most, TL_DIM_SECOND, TL_ROUND_DOWN).text);
    propose(output, k->plan->board->duty_clock, edge, false, f);
}

void tl_check_duty(const tl_checker *k, const tl_plan_output *output)
{
    const double edge = tl_circuit_output(k->circuit, (int)(output - k->plan->outputs))->gate_seconds;
    check_flicker(k, output, edge);
    check_steps(k, output, edge);
    check_edge(k, output, edge);
}
