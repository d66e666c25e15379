/* One reading of a signal, as firmware would take it: through the core and the port, then what the plan makes
 * of it. */
#include "bench_internal.h"
#include "tinyladder/core.h"
#include <math.h>
#include <stdlib.h>

enum { LOOKS = 30, STEADY_TIMES = 3 }; /* a contact is looked at thirty times over three steady times */

/* --- from a count to the figure that the plan wants --- */

static int decimals_of_step(double step)
{
    int decimals = 0;
    while (decimals < 6 && step < 0.9999999 * pow(10, -decimals))
        decimals++;
    return decimals;
}

/* Straight between points, the outer pieces going on beyond them. */
static double along_pairs(const tl_pair *pairs, int count, double x)
{
    int i = 1;
    while (i + 1 < count && x > pairs[i].from)
        i++;
    const tl_pair *a = &pairs[i - 1], *b = &pairs[i];
    return a->to + (b->to - a->to) * (x - a->from) / (b->from - a->from);
}

/* All that a reading is made from. */
typedef struct {
    const tl_signal *signal;
    const tl_analog_path *path;
    double code; /* of several samples their mean */
    double pin_volts, source_volts;
    double ohms;         /* of a resistance */
    tl_interval unknown; /* of the source */
} taken_sample;

static double base_figure(const taken_sample *t)
{
    const tl_analog_path *path = t->path;
    const double span = 1e-6 * (path->travel_high_uv - path->travel_low_uv);
    switch (t->signal->reading.of) {
    case TL_OF_COUNTS:
        return t->code;
    case TL_OF_PIN:
        return t->pin_volts;
    case TL_OF_TRAVEL:
        return fmin(fmax(100 * (t->pin_volts - 1e-6 * path->travel_low_uv) / span, 0), 100);
    case TL_OF_RESISTANCE:
        return t->ohms;
    case TL_OF_QUANTITY:
        return tl_curve_quantity(&t->signal->source.curve, t->ohms);
    default:
        return t->source_volts;
    }
}

/* The quantity at either end of the ohms, the sensor's own tolerance included. */
static tl_interval quantity_interval(const tl_curve *curve, const tl_interval *ohms)
{
    const double least = fmax(ohms->low, 1e-9) / curve->share_high, most = ohms->high / curve->share_low;
    const double a = tl_curve_quantity(curve, least),
                 b = isfinite(most) ? tl_curve_quantity(curve, most) : INFINITY;
    const bool falls = tl_curve_quantity(curve, 2 * least) < a;
    if (isfinite(b))
        return (tl_interval){fmin(a, b), fmax(a, b)};
    return falls ? (tl_interval){-INFINITY, a} : (tl_interval){a, INFINITY};
}

static tl_interval base_interval(const taken_sample *t, const tl_interval *pin)
{
    const tl_plan_reading *plan = &t->signal->reading;
    switch (plan->of) {
    case TL_OF_COUNTS:
        return (tl_interval){t->code, t->code};
    case TL_OF_PIN:
        return *pin;
    case TL_OF_TRAVEL:
        return (tl_interval){100 * t->unknown.low, 100 * t->unknown.high};
    case TL_OF_QUANTITY:
        return quantity_interval(&t->signal->source.curve, &t->unknown);
    default:
        return t->unknown;
    }
}

/* How much one code is, in the base figure. */
static double base_step(const taken_sample *t, const tl_interval *within)
{
    const tl_analog_path *path = t->path;
    const double lsb =
        1e-6 * (path->pin_scale.reference_high_uv - path->pin_scale.reference_low_uv) / path->range_counts;
    const double undo = (double)path->source_scale.undo_num / path->source_scale.undo_den;
    switch (t->signal->reading.of) {
    case TL_OF_COUNTS:
        return 1;
    case TL_OF_PIN:
        return lsb;
    case TL_OF_TRAVEL:
        return 100 / path->range_counts;
    case TL_OF_SOURCE:
        return lsb * undo;
    default: /* finer digits would say nothing */
        return isfinite(within->high - within->low) ? fmax((within->high - within->low) / 4, 1e-6) : 1;
    }
}

static int percent_of(double base, const tl_plan_reading *plan)
{
    const double empty = plan->empty.value.nominal, full = plan->full.value.nominal;
    const double inward = plan->margin / 100 * (full - empty),
                 scale = 1e6 / fmax(1, fmax(fabs(empty), fabs(full)) / 1000);
    uint16_t share = 0;
    if (!plan->empty.given || tl_share_of((int32_t)llround(fmin(fmax(base * scale, -2e9), 2e9)),
                                          (int32_t)llround((empty + inward) * scale),
                                          (int32_t)llround((full - inward) * scale), 100, &share) != TL_OK)
        return -1;
    return share;
}

/* In the unit that is shown. */
static double shown_figure(const tl_plan_reading *plan, double base)
{
    return plan->point_count > 0 ? along_pairs(plan->points, plan->point_count, base) : base * plan->per_base;
}

static void show(const taken_sample *t, const tl_interval *pin, tl_bench_reading *r)
{
    const tl_plan_reading *plan = &t->signal->reading;
    const double base = base_figure(t);
    const tl_interval within = base_interval(t, pin);
    const double step = base_step(t, &within);
    const double a = shown_figure(plan, within.low), b = shown_figure(plan, within.high);
    r->value = shown_figure(plan, base);
    r->within = (tl_interval){fmin(a, b), fmax(a, b)};
    r->percent = percent_of(base, plan);
    const double shown_step =
        plan->round > 0 ? plan->round : fabs(shown_figure(plan, base + step) - r->value);
    r->decimals = plan->decimals >= 0 ? plan->decimals : decimals_of_step(shown_step);
    if (plan->round > 0)
        r->value = plan->round * round(r->value / plan->round);
}

/* --- faults and buttons --- */

static bool in_window(const tl_fault_window *window, const taken_sample *t, const tl_analog_path *path)
{
    if (!window->level.given)
        return false;
    const double level = window->level.value.nominal;
    const double figure = window->dimension == TL_DIM_PERCENT ? 100 * t->code / path->reference_counts
                          : window->dimension == TL_DIM_VOLT  ? t->pin_volts
                                                              : t->source_volts;
    return window->above ? figure > level : figure < level;
}

static void look_for_faults(const taken_sample *t, tl_bench_reading *r)
{
    const tl_plan_reading *plan = &t->signal->reading;
    r->open = in_window(&plan->open, t, t->path);
    r->shorted = in_window(&plan->shorted, t, t->path);
    if (!r->open && !r->shorted)
        return;
    r->flags &= ~(unsigned)TL_READING_FRESH; /* a value that failed is never fresh */
    r->percent = -1;
    if (plan->substitute.given)
        r->value = plan->substitute.value;
}

/* The button whose codes the reading lies in. */
static tl_net_fault find_button(const tl_bench *bench, int signal, double code, int *button)
{
    const int states = bench->circuit->signals[signal].states;
    *button = -2;
    for (int state = 0; state < states; state++) {
        tl_interval codes;
        double middle;
        const tl_net_fault fault = tl_plan_state_codes(bench->circuit, signal, state, &codes, &middle);
        if (fault != TL_NET_SOLVED)
            return fault;
        if (code >= codes.low && code <= codes.high)
            *button = state - 1;
    }
    return TL_NET_SOLVED;
}

/* --- taking it --- */

static uint8_t line_of(const tl_line_holder *holder)
{
    return holder->given && holder->pin != TL_NONE ? (uint8_t)holder->pin : (uint8_t)TL_MUX_NO_LINE;
}

/* A multiplexer as the core is told it. */
static tl_mux_lines lines_of(const tl_mux *mux, double dwell)
{
    tl_mux_lines lines = {.enable = line_of(&mux->enable),
                          .enable_high = mux->part->enable == 2,
                          .select_count = (uint8_t)mux->select_count,
                          .dwell_us = (uint32_t)ceil(1e6 * dwell)};
    for (int i = 0; i < mux->select_count; i++)
        lines.select[i] = line_of(&mux->select[i]);
    return lines;
}

/* Leads the signal through all multiplexers on its way. */
static tl_status select_route(tl_bench *bench, int signal)
{
    const tl_plan *plan = bench->circuit->plan;
    const double dwell = tl_circuit_path(bench->circuit, signal)->dwell;
    tl_mux_lines lines[TL_ROUTE_MOST];
    tl_mux_step steps[TL_ROUTE_MOST];
    uint8_t count = 0;
    tl_status status = TL_OK;
    for (int pin = plan->signals[signal].pin;
         plan->pins[pin].mux != TL_NONE && count < TL_ROUTE_MOST && status == TL_OK;
         pin = plan->muxes[plan->pins[pin].mux].common) {
        lines[count] = lines_of(&plan->muxes[plan->pins[pin].mux], dwell);
        steps[count] = (tl_mux_step){&lines[count], (uint8_t)plan->pins[pin].input};
        status = tl_mux_open(&bench->port, &lines[count++]);
    }
    return status == TL_OK && count > 0 ? tl_mux_lead(&bench->port, steps, count) : status;
}

/* One code, by the core: of the board's converter, or over the bus. */
static tl_status take_code(tl_bench *bench, int signal, const tl_analog_path *path, const tl_scale *scale,
                           long *code, unsigned *flags)
{
    const tl_plan *plan = bench->circuit->plan;
    const int converter = plan->pins[plan->signals[signal].pin].converter;
    tl_reading taken = {0};
    tl_sample given = {0, 0};
    if (converter == 0) {
        const tl_status status = tl_input_take(&bench->port, &path->input, scale, &taken);
        *code = taken.count;
        *flags |= taken.flags;
        return status;
    }
    const tl_frame *frame = &plan->converters[converter].part->frame;
    if (frame->result == TL_NONE && frame->take == 0) /* its file does not say what goes over the bus */
        return TL_ERR_UNSUPPORTED;
    const tl_external external = external_of(plan, converter);
    const tl_external_input input = external_input_of(plan, signal);
    const tl_status status = tl_external_take(&bench->port, &external, &input, &given);
    if (status != TL_OK)
        return status;
    *code = given.value;
    *flags |= given.flags;
    return TL_OK;
}

static int compare_codes(const void *a, const void *b)
{
    const long x = *(const long *)a, y = *(const long *)b;
    return x < y ? -1 : x > y;
}

static double average(const tl_plan_reading *plan, long *codes, int count)
{
    double sum = 0, trailing = (double)codes[0];
    if (plan->average == TL_AVERAGE_MEDIAN) {
        qsort(codes, (size_t)count, sizeof *codes, compare_codes);
        return (double)codes[count / 2];
    }
    for (int i = 0; i < count; i++) {
        sum += (double)codes[i];
        trailing += ((double)codes[i] - trailing) / plan->samples;
    }
    return plan->average == TL_AVERAGE_EXPONENTIAL ? trailing : sum / count;
}

static tl_status take_average(tl_bench *bench, int signal, const tl_analog_path *path, const tl_scale *scale,
                              tl_bench_reading *r, double *code)
{
    const tl_plan_reading *plan = &bench->circuit->plan->signals[signal].reading;
    const int count = plan->average == TL_AVERAGE_NONE ? 1 : plan->samples;
    long *codes = calloc((size_t)count, sizeof *codes);
    tl_status status = codes != NULL ? TL_OK : TL_ERR_PORT;
    for (int i = 0; i < count && status == TL_OK; i++)
        status = take_code(bench, signal, path, scale, &codes[i], &r->flags);
    if (status == TL_OK)
        *code = average(plan, codes, count);
    free(codes);
    return status;
}

/* Volts of a code that need not be whole, by the core's line through its neighbours. */
static double volts_of(const tl_scale *scale, double code)
{
    const double low = floor(code), rest = code - low;
    const int32_t at = tl_scale_uv(scale, (uint16_t)low), next = tl_scale_uv(scale, (uint16_t)(low + 1));
    return 1e-6 * (rest > 0 ? at + rest * (next - at) : at);
}

static void take_volts(const tl_scale *pin_scale, const tl_scale *source_scale, taken_sample *t)
{
    const tl_plan_reading *plan = &t->signal->reading;
    const tl_scale_config *undo = &t->path->source_scale;
    const double shifted = t->code - (double)t->path->first_code;
    t->pin_volts = volts_of(pin_scale, shifted);
    t->source_volts = volts_of(source_scale, shifted);
    if (plan->trim_count == 0)
        return;
    const double trimmed = along_pairs(plan->trim, plan->trim_count, t->code);
    if (!plan->trim_at_pin) {
        t->source_volts = trimmed;
        return;
    }
    t->pin_volts = trimmed;
    t->source_volts = trimmed * undo->undo_num / undo->undo_den + 1e-6 * undo->offset_uv;
}

/* The interval of a mean holds those of both codes around it. */
static tl_net_fault find_interval(tl_bench *bench, int signal, taken_sample *t, tl_interval *pin)
{
    const long low = (long)floor(t->code), high = (long)ceil(t->code);
    tl_interval unknown, other;
    tl_net_fault fault = tl_plan_interval(bench->circuit, signal, t->path, low, &t->unknown, pin);
    if (fault == TL_NET_SOLVED && high != low) {
        fault = tl_plan_interval(bench->circuit, signal, t->path, high, &unknown, &other);
        t->unknown = (tl_interval){fmin(t->unknown.low, unknown.low), fmax(t->unknown.high, unknown.high)};
        *pin = (tl_interval){fmin(pin->low, other.low), fmax(pin->high, other.high)};
    }
    if (fault == TL_NET_TOO_WIDE) { /* no bound that could be proved: anything */
        t->unknown = *pin = (tl_interval){-INFINITY, INFINITY};
        fault = TL_NET_SOLVED;
    }
    return fault;
}

static tl_net_fault make_reading(tl_bench *bench, int signal, const tl_scale *pin_scale,
                                 const tl_scale *source_scale, double code, tl_bench_reading *r)
{
    taken_sample t = {.signal = &bench->circuit->plan->signals[signal],
                      .path = tl_circuit_path(bench->circuit, signal),
                      .code = code};
    tl_net_fault fault = TL_NET_SOLVED;
    take_volts(pin_scale, source_scale, &t);
    r->count = lround(code);
    r->pin_volts = t.pin_volts;
    if (bench->circuit->signals[signal].states > 1) {
        r->pin_within = (tl_interval){t.pin_volts, t.pin_volts};
        fault = find_button(bench, signal, code, &r->button);
    } else {
        fault = find_interval(bench, signal, &t, &r->pin_within);
    }
    if (fault == TL_NET_SOLVED && t.signal->source.kind == TL_SOURCE_RESISTANCE)
        fault = tl_plan_unknown(bench->circuit, signal, t.path, code, &t.ohms);
    if (fault != TL_NET_SOLVED)
        return fault;
    show(&t, &r->pin_within, r);
    look_for_faults(&t, r);
    return TL_NET_SOLVED;
}

static tl_net_fault read_analog(tl_bench *bench, int signal, tl_bench_reading *r)
{
    const tl_analog_path *path = tl_circuit_path(bench->circuit, signal);
    tl_scale pin_scale, source_scale;
    double code = 0;
    const tl_plan *plan = bench->circuit->plan;
    if (plan->pins[plan->signals[signal].pin].channel < 0) {
        r->status = TL_ERR_UNSUPPORTED;
        return TL_NET_SOLVED;
    }
    if (path->fault != TL_NET_SOLVED)
        return path->fault;
    r->status = tl_scale_init(&pin_scale, &path->pin_scale);
    if (r->status == TL_OK)
        r->status = tl_scale_init(&source_scale, &path->source_scale);
    if (r->status == TL_OK)
        r->status = select_route(bench, signal);
    if (r->status == TL_OK)
        r->status = take_average(bench, signal, path, &pin_scale, r, &code);
    return r->status == TL_OK ? make_reading(bench, signal, &pin_scale, &source_scale, code, r)
                              : TL_NET_SOLVED;
}

static tl_status read_contact(tl_bench *bench, int signal, tl_bench_reading *r)
{
    const tl_signal *s = &bench->circuit->plan->signals[signal];
    const tl_port *port = &bench->port;
    const uint32_t steady_us = (uint32_t)llround(1e6 * s->reading.steady);
    const tl_button_config config = {
        .steady_us = steady_us, .line = (uint8_t)s->pin, .closed_is_low = tl_signal_closes_low(s)};
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
    *reading = (tl_bench_reading){
        .analog = bench->circuit->plan->signals[signal].analog, .percent = -1, .button = -1};
    if (reading->analog)
        return read_analog(bench, signal, reading);
    reading->status = read_contact(bench, signal, reading);
    return TL_NET_SOLVED;
}
