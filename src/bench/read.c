/* One reading of a signal, as firmware would take it: everything through the core and the port. */
#include "bench_internal.h"
#include "tinyladder/core.h"
#include <math.h>

enum { LOOKS = 30, STEADY_TIMES = 3 }; /* a contact is looked at thirty times over three steady times */

static int decimals_of_step(double step)
{
    int decimals = 0;
    while (decimals < 6 && step < 0.9999999 * pow(10, -decimals))
        decimals++;
    return decimals;
}

/* How many of the reading's units a base unit makes: mV, mA, kohm. */
static double units_per_base(const tl_plan_reading *plan)
{
    return plan->unit == NULL ? 1 : plan->unit[0] == 'm' ? 1e3 : plan->unit[0] == 'k' ? 1e-3 : 1;
}

static int percent_of(double value, const tl_plan_reading *plan, double scale)
{
    uint16_t share = 0;
    if (!plan->empty.given ||
        tl_share_of((int32_t)llround(value * scale), (int32_t)llround(plan->empty.value.nominal * scale),
                    (int32_t)llround(plan->full.value.nominal * scale), 100, &share) != TL_OK)
        return -1;
    return share;
}

/* From the count to the figure that the plan wants, and the interval of the same thing. */
static void interpret(const tl_plan_reading *plan, const tl_analog_path *path, const tl_interval *unknown,
                      double centre, tl_bench_reading *r, int32_t source_uv)
{
    const double lsb =
        1e-6 * (path->pin_scale.reference_high_uv - path->pin_scale.reference_low_uv) / path->range_counts;
    const double undo = (double)path->source_scale.undo_num / path->source_scale.undo_den;
    const double per_volt = units_per_base(plan);
    uint16_t travel = 0;
    double step = lsb * per_volt;

    switch (plan->of) {
    case TL_OF_COUNTS:
        r->value = r->count;
        r->within = (tl_interval){r->count, r->count};
        r->percent = percent_of(r->value, plan, 1);
        step = 1;
        break;
    case TL_OF_PIN:
        r->value = r->pin_volts * per_volt;
        r->within = (tl_interval){r->pin_within.low * per_volt, r->pin_within.high * per_volt};
        r->percent = percent_of(r->pin_volts, plan, 1e6);
        break;
    case TL_OF_TRAVEL:
        (void)tl_share_of((int32_t)llround(1e6 * r->pin_volts), path->travel_low_uv, path->travel_high_uv,
                          50000, &travel);
        r->value = travel / 500.0;
        r->within = (tl_interval){100 * unknown->low, 100 * unknown->high};
        r->percent = percent_of(r->value, plan, 1e3);
        step = 100 / path->range_counts;
        break;
    case TL_OF_RESISTANCE:
        r->value = centre * per_volt;
        r->within = (tl_interval){unknown->low * per_volt, unknown->high * per_volt};
        r->percent = percent_of(centre, plan, 1);
        step = fmax((unknown->high - unknown->low) * per_volt / 4, 1e-6); /* finer digits would say nothing */
        break;
    case TL_OF_SOURCE:
        r->value = 1e-6 * source_uv * per_volt;
        r->within = (tl_interval){unknown->low * per_volt, unknown->high * per_volt};
        r->percent = percent_of(1e-6 * source_uv, plan, 1e6);
        step *= undo;
        break;
    }
    r->decimals = plan->decimals >= 0 ? plan->decimals : decimals_of_step(step);
}

static tl_net_fault read_analog(tl_bench *bench, int signal, tl_bench_reading *r)
{
    const tl_analog_path *path = tl_circuit_path(bench->circuit, signal);
    tl_scale pin_scale, source_scale;
    tl_reading taken = {0};
    tl_interval unknown;
    const tl_plan *plan = bench->circuit->plan;
    if (plan->board->pins[plan->signals[signal].pin].channel < 0) {
        r->status = TL_ERR_UNSUPPORTED;
        return TL_NET_SOLVED;
    }
    if (path->fault != TL_NET_SOLVED)
        return path->fault;
    r->status = tl_scale_init(&pin_scale, &path->pin_scale);
    if (r->status == TL_OK)
        r->status = tl_scale_init(&source_scale, &path->source_scale);
    if (r->status == TL_OK)
        r->status = tl_input_take(&bench->port, &path->input, &pin_scale, &taken);
    if (r->status != TL_OK)
        return TL_NET_SOLVED;
    const tl_net_fault fault =
        tl_plan_interval(bench->circuit, signal, path, taken.count, &unknown, &r->pin_within);
    if (fault != TL_NET_SOLVED)
        return fault;
    r->count = taken.count;
    r->flags = taken.flags;
    r->pin_volts = 1e-6 * taken.value_uv;
    double centre = 0;
    if (plan->signals[signal].source.kind == TL_SOURCE_RESISTANCE)
        (void)tl_plan_unknown(bench->circuit, signal, path, taken.count, &centre);
    interpret(&plan->signals[signal].reading, path, &unknown, centre, r,
              tl_scale_uv(&source_scale, taken.count));
    return TL_NET_SOLVED;
}

static tl_status read_contact(tl_bench *bench, int signal, tl_bench_reading *r)
{
    const tl_signal *s = &bench->circuit->plan->signals[signal];
    const tl_port *port = &bench->port;
    const uint32_t steady_us = (uint32_t)llround(1e6 * s->reading.steady);
    const tl_button_config config = {
        .steady_us = steady_us, .line = (uint8_t)s->pin, .closed_is_low = tl_source_closes_low(&s->source)};
    tl_button button;
    tl_button_event event;
    tl_status status = tl_button_init(&button, &config, port);
    for (int look = 0; look <= LOOKS && status == TL_OK; look++) {
        status = tl_button_look(&button, port, &event);
        if (status == TL_OK && look < LOOKS)
            status = tl_port_wait_us(port, steady_us / (LOOKS / STEADY_TIMES));
    }
    if (status == TL_OK)
        status = tl_port_line_level(port, config.line, &r->high);
    r->closed = button.closed;
    r->volts = tl_bench_pin_volts(bench, signal);
    if (status == TL_OK)
        r->flags = TL_READING_FRESH;
    return status;
}

double tl_bench_read_lead(const tl_bench *bench, int signal)
{
    const tl_signal *s = &bench->circuit->plan->signals[signal];
    return s->analog ? 0 : STEADY_TIMES * s->reading.steady;
}

tl_net_fault tl_bench_read(tl_bench *bench, int signal, tl_bench_reading *reading)
{
    *reading = (tl_bench_reading){.analog = bench->circuit->plan->signals[signal].analog, .percent = -1};
    if (reading->analog)
        return read_analog(bench, signal, reading);
    reading->status = read_contact(bench, signal, reading);
    return TL_NET_SOLVED;
}
