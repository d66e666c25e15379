/* SPDX-License-Identifier: MIT */
/* The calls of the socket: a table of what may be asked, each with its fields. docs/bench-socket.md tells
 * them to users; a test holds the two together. */
#include "listen/calls.h"
#include "base/nearest_name.h"
#include <math.h>
#include <stdarg.h>
#include <stdio.h>
#include <string.h>

enum { FIELDS_MOST = 5, BYTES_MOST = 255, LONGEST_US = 1000000 };

typedef struct {
    tl_bench *bench;
    const tl_plan *plan;
    const tl_port *port;
    const json_t *request;
    json_t *answer;
    char error[200]; /* empty while all is well */
} asked;

typedef struct {
    const char *name;
    const char *fields[FIELDS_MOST + 1];
    void (*run)(asked *a);
} call;

/* --- what is asked for --- */

static void refuse(asked *a, const char *form, ...)
{
    va_list list;
    va_start(list, form);
    if (a->error[0] == '\0')
        vsnprintf(a->error, sizeof a->error, form, list);
    va_end(list);
}

static void done(asked *a, tl_status status)
{
    if (status != TL_OK)
        tl_status_text(status, a->error, sizeof a->error);
}

static double number_or(asked *a, const char *field, double low, double high, double absent)
{
    const json_t *value = json_object_get(a->request, field);
    if (value == NULL && !isnan(absent))
        return absent;
    const double number = json_number_value(value);
    if (!json_is_number(value) || !(number >= low && number <= high))
        refuse(a, "'%s': expected a number from %.15g to %.15g", field, low, high);
    return number >= low && number <= high ? number : low;
}

static double number(asked *a, const char *field, double low, double high)
{
    return number_or(a, field, low, high, NAN);
}

static bool yes(asked *a, const char *field)
{
    const json_t *value = json_object_get(a->request, field);
    if (!json_is_boolean(value))
        refuse(a, "'%s': expected true or false", field);
    return json_is_true(value);
}

static const char *text(asked *a, const char *field)
{
    const char *value = json_string_value(json_object_get(a->request, field));
    if (value == NULL)
        refuse(a, "'%s': expected a text", field);
    return value != NULL ? value : "";
}

/* A pin's name, or its number. */
static uint8_t line_of(asked *a, const char *field, const json_t *value)
{
    const int lines = a->plan->board->pin_count;
    const int line = json_is_string(value)    ? tl_bench_line(a->bench, json_string_value(value))
                     : json_is_integer(value) ? (int)fmin((double)json_integer_value(value), lines)
                                              : -1;
    if (line >= 0 && line < lines)
        return (uint8_t)line;
    if (json_is_string(value))
        refuse(a, "'%s': the board has no pin '%.60s'", field, json_string_value(value));
    else
        refuse(a, "'%s': expected the name of a pin, or its number from 0 to %d", field, lines - 1);
    return 0;
}

static uint8_t line(asked *a, const char *field)
{
    return line_of(a, field, json_object_get(a->request, field));
}

static const char *signal_name(const void *signals, int index)
{
    return ((const tl_signal *)signals)[index].name;
}

static int signal_of(asked *a)
{
    int index = -1;
    const char *name = text(a, "signal");
    if (a->error[0] == '\0' && tl_plan_signal(a->plan, name, &index) == NULL) {
        const char *meant = nearest_name(name, signal_name, a->plan->signals, a->plan->signal_count);
        refuse(a, "the plan has no signal '%.60s'%s%s%s", name, meant != NULL ? ": did you mean '" : "",
               meant != NULL ? meant : "", meant != NULL ? "'?" : "");
    }
    return index;
}

static uint8_t bus(asked *a)
{
    const json_t *value = json_object_get(a->request, "bus");
    for (int i = 0; i < a->plan->bus_count; i++) {
        if (json_is_string(value) && strcmp(a->plan->buses[i].name, json_string_value(value)) == 0)
            return (uint8_t)i;
    }
    if (json_is_string(value))
        refuse(a, "the plan has no bus '%.60s'", json_string_value(value));
    return json_is_string(value) ? 0 : (uint8_t)number(a, "bus", 0, a->plan->bus_count - 1);
}

static uint8_t bytes(asked *a, const char *field, uint8_t *to)
{
    const json_t *list = json_object_get(a->request, field);
    const size_t count = json_array_size(list);
    if (list != NULL && (!json_is_array(list) || count > BYTES_MOST))
        refuse(a, "'%s': expected a list of at most %d bytes", field, BYTES_MOST);
    for (size_t i = 0; i < count && i < BYTES_MOST; i++) {
        const json_int_t byte = json_integer_value(json_array_get(list, i));
        if (!json_is_integer(json_array_get(list, i)) || byte < 0 || byte > UINT8_MAX)
            refuse(a, "'%s': bytes are whole numbers from 0 to 255", field);
        to[i] = (uint8_t)byte;
    }
    return (uint8_t)count;
}

static void give(asked *a, const char *key, json_t *value)
{
    json_object_set_new(a->answer, key, value);
}

static json_t *figure(double value)
{
    return isfinite(value) ? json_real(value) : json_null();
}

static void give_bytes(asked *a, const uint8_t *from, int count)
{
    json_t *list = json_array();
    for (int i = 0; i < count; i++)
        json_array_append_new(list, json_integer(from[i]));
    give(a, "in", list);
}

/* --- the port --- */

static const char *const uses[] = {"released", "input", "pull-up", "pull-down", "output"};

static void use(asked *a)
{
    const uint8_t which = line(a, "line");
    const char *as = text(a, "as");
    int found = -1;
    for (int i = 0; i < 5; i++)
        found = strcmp(as, uses[i]) == 0 ? i : found;
    if (found < 0)
        refuse(a, "'as': expected released, input, pull-up, pull-down or output");
    if (a->error[0] == '\0')
        done(a, tl_port_line_use(a->port, which, (tl_line_use)found));
}

static void level(asked *a)
{
    const uint8_t which = line(a, "line");
    bool high = false;
    if (a->error[0] == '\0')
        done(a, tl_port_line_level(a->port, which, &high));
    give(a, "high", json_boolean(high));
}

static void drive(asked *a)
{
    const uint8_t which = line(a, "line");
    const bool high = yes(a, "high");
    if (a->error[0] == '\0')
        done(a, tl_port_line_drive(a->port, which, high));
}

static void duty(asked *a)
{
    const uint8_t which = line(a, "line");
    const double share = number(a, "share", 0, 1);
    if (a->error[0] == '\0')
        done(a, tl_port_line_duty(a->port, which, (uint16_t)lround(share * UINT16_MAX)));
}

static uint8_t channel(asked *a)
{
    if (json_object_get(a->request, "line") == NULL)
        return (uint8_t)number(a, "channel", 0, UINT8_MAX);
    const int of = a->plan->board->pins[line(a, "line")].channel;
    if (of == TL_NONE)
        refuse(a, "no channel of the ADC leads to that pin");
    return of == TL_NONE ? 0 : (uint8_t)of;
}

/* By name; else that of the signals there. */
static uint8_t reference(asked *a, uint8_t at_channel)
{
    const json_t *value = json_object_get(a->request, "reference");
    const tl_converter *part = a->plan->converters[0].part;
    for (int i = 0; i < part->reference_count && value != NULL; i++) {
        if (json_is_string(value) && strcmp(part->references[i].name, json_string_value(value)) == 0)
            return (uint8_t)i;
    }
    if (value != NULL)
        refuse(a, "'reference': expected the name of one of the ADC's references");
    for (int i = 0; i < a->plan->signal_count; i++) {
        const tl_signal *signal = &a->plan->signals[i];
        if (signal->analog && a->plan->pins[signal->pin].converter == 0 &&
            a->plan->pins[signal->pin].channel == at_channel)
            return (uint8_t)signal->reference;
    }
    return (uint8_t)a->plan->converters[0].reference;
}

static void convert(asked *a)
{
    const uint8_t which = channel(a);
    const double acquisition = number_or(a, "acquisition_us", 0, 1e5, 10);
    const uint8_t against = reference(a, which);
    uint32_t word = 0;
    if (a->error[0] == '\0')
        done(a, tl_port_convert(a->port, which, against, (uint32_t)lround(1000 * acquisition), LONGEST_US,
                                &word));
    give(a, "word", json_integer(word));
}

static void i2c(asked *a)
{
    uint8_t out[BYTES_MOST], in[BYTES_MOST] = {0};
    const uint8_t on = bus(a), address = (uint8_t)number(a, "address", 0, 127), count = bytes(a, "out", out),
                  wanted = (uint8_t)number_or(a, "in", 0, BYTES_MOST, 0);
    if (a->error[0] == '\0')
        done(a, tl_port_i2c_transfer(a->port, on, address, out, count, in, wanted));
    give_bytes(a, in, wanted);
}

static void spi(asked *a)
{
    uint8_t out[BYTES_MOST], in[BYTES_MOST] = {0};
    const uint8_t on = bus(a), select = line(a, "select"), count = bytes(a, "out", out);
    if (a->error[0] == '\0')
        done(a, tl_port_spi_exchange(a->port, on, select, out, in, count));
    give_bytes(a, in, count);
}

static void wait_us(asked *a)
{
    const double us = number(a, "us", 0, INT32_MAX);
    if (a->error[0] == '\0')
        done(a, tl_port_wait_us(a->port, (uint32_t)us));
}

static void wait_change(asked *a)
{
    uint8_t lines[BYTES_MOST];
    bool seen[BYTES_MOST];
    const json_t *list = json_object_get(a->request, "lines");
    const size_t count = json_array_size(list);
    const double most = number(a, "at_most_us", 1, INT32_MAX);
    if (!json_is_array(list) || count == 0 || count > BYTES_MOST)
        refuse(a, "'lines': expected a list of pins");
    for (size_t i = 0; i < count && a->error[0] == '\0'; i++) {
        lines[i] = line_of(a, "lines", json_array_get(list, i));
        seen[i] = false;
        if (a->error[0] == '\0')
            done(a, tl_port_line_level(a->port, lines[i], &seen[i]));
    }
    if (a->error[0] != '\0')
        return;
    done(a, tl_port_wait_change(a->port, lines, seen, (uint8_t)count, (uint32_t)most));
    json_t *high = json_array();
    bool changed = false;
    for (size_t i = 0; i < count && a->error[0] == '\0'; i++) {
        bool now = false;
        done(a, tl_port_line_level(a->port, lines[i], &now));
        changed = changed || now != seen[i];
        json_array_append_new(high, json_boolean(now));
    }
    give(a, "changed", json_boolean(changed));
    give(a, "high", high);
}

static void clock_us(asked *a)
{
    uint32_t now = 0;
    done(a, tl_port_clock_us(a->port, &now));
    give(a, "us", json_integer(now));
}

static void power(asked *a)
{
    const bool on = yes(a, "on");
    if (a->error[0] == '\0')
        done(a, tl_port_converter_power(a->port, on));
}

/* --- what only a bench can tell, and a hand on it --- */

static void read_signal(asked *a)
{
    tl_bench_reading r;
    const int signal = signal_of(a);
    if (a->error[0] != '\0')
        return;
    const tl_net_status net = tl_bench_read(a->bench, signal, &r);
    done(a, r.status);
    if (net != TL_NET_SOLVED)
        refuse(a, "the circuit has no answer there: see 'trouble'");
    give(a, "sampled_at", figure(r.at));
    give(a, "undriven", json_boolean(r.undriven));
    if (r.analog) {
        give(a, "count", json_integer(r.count));
        give(a, "value", figure(r.is.value));
    } else {
        give(a, "high", json_boolean(r.high));
        give(a, "closed", json_boolean(r.closed));
    }
}

static void truth(asked *a)
{
    const int signal = signal_of(a);
    if (a->error[0] != '\0')
        return;
    give(a, "value", figure(tl_bench_truth(a->bench, signal)));
    give(a, "pin_volts", figure(tl_bench_pin_volts(a->bench, signal)));
}

static void volts(asked *a)
{
    double at = NAN;
    const char *point = text(a, "point");
    if (a->error[0] == '\0' && tl_bench_node_volts(a->bench, point, &at) != TL_NET_SOLVED)
        refuse(a, "there is no such point as '%.80s', or nothing defines its volts", point);
    give(a, "volts", figure(at));
}

static void turn(asked *a)
{
    double least = 0, most = 0;
    const int signal = signal_of(a);
    if (a->error[0] == '\0' && !tl_bench_can_turn(a->bench, signal, &least, &most))
        refuse(a, "that source cannot be turned");
    const double value = number(a, "value", least, most);
    if (a->error[0] == '\0')
        tl_bench_turn(a->bench, signal, value);
}

static void press(asked *a)
{
    const int signal = signal_of(a), button = (int)number_or(a, "button", 0, 255, 0);
    const bool down = yes(a, "down");
    if (a->error[0] == '\0' && !tl_bench_can_press(a->bench, signal, button))
        refuse(a, "there is no such contact");
    if (a->error[0] == '\0')
        tl_bench_press(a->bench, signal, button, down);
}

static void let_go(asked *a)
{
    const int signal = signal_of(a);
    if (a->error[0] == '\0')
        tl_bench_let_go(a->bench, signal);
}

static void damage(asked *a)
{
    int count = 0;
    json_t *list = json_array();
    const tl_bench_damage *d = tl_bench_damages(a->bench, &count);
    for (int i = 0; i < count; i++)
        json_array_append_new(
            list,
            json_pack("{s:s,s:o,s:o,s:o,s:o,s:o,s:o,s:i}", "pin", a->plan->pins[d[i].pin].name, "coil_of",
                      d[i].output != TL_NONE ? json_string(a->plan->outputs[d[i].output].name) : json_null(),
                      "at", figure(d[i].at), "seconds", figure(d[i].seconds), "volts", figure(d[i].volts),
                      "amperes", figure(d[i].amperes), "joules", figure(d[i].joules), "events", d[i].events));
    give(a, "damage", list);
}

static void trouble(asked *a)
{
    const char *what = tl_bench_trouble(a->bench);
    give(a, "trouble", what != NULL ? json_string(what) : json_null());
}

/* --- the table --- */

static const call calls[] = {
    {"use", {"line", "as"}, use},
    {"level", {"line"}, level},
    {"drive", {"line", "high"}, drive},
    {"duty", {"line", "share"}, duty},
    {"convert", {"line", "channel", "acquisition_us", "reference"}, convert},
    {"power", {"on"}, power},
    {"i2c", {"bus", "address", "out", "in"}, i2c},
    {"spi", {"bus", "select", "out"}, spi},
    {"wait", {"us"}, wait_us},
    {"wait-change", {"lines", "at_most_us"}, wait_change},
    {"clock", {NULL}, clock_us},
    {"read", {"signal"}, read_signal},
    {"truth", {"signal"}, truth},
    {"volts", {"point"}, volts},
    {"turn", {"signal", "value"}, turn},
    {"press", {"signal", "button", "down"}, press},
    {"let-go", {"signal"}, let_go},
    {"damage", {NULL}, damage},
    {"trouble", {NULL}, trouble},
};
enum { CALLS = (int)(sizeof calls / sizeof calls[0]) };

static const char *call_name(const void *table, int index)
{
    return ((const call *)table)[index].name;
}

static const call *find_call(asked *a)
{
    const char *name = text(a, "do");
    for (int i = 0; i < CALLS && a->error[0] == '\0'; i++) {
        if (strcmp(calls[i].name, name) == 0)
            return &calls[i];
    }
    const char *meant = nearest_name(name, call_name, calls, CALLS);
    refuse(a, "there is no call '%.60s'%s%s%s", name, meant != NULL ? ": did you mean '" : "",
           meant != NULL ? meant : "", meant != NULL ? "'?" : "");
    return NULL;
}

static void check_fields(asked *a, const call *of)
{
    const char *field;
    json_t *value;
    json_object_foreach((json_t *)(uintptr_t)a->request, field, value)
    {
        bool known = strcmp(field, "do") == 0;
        for (int i = 0; of->fields[i] != NULL; i++)
            known = known || strcmp(of->fields[i], field) == 0;
        if (!known)
            refuse(a, "'%s' has no field '%.60s'", of->name, field);
    }
}

json_t *calls_answer(tl_bench *bench, const char *line_of_text, size_t length)
{
    json_error_t error;
    json_t *request = json_loadb(line_of_text, length, JSON_REJECT_DUPLICATES, &error);
    asked a = {.bench = bench,
               .plan = tl_circuit_plan(tl_bench_circuit(bench)),
               .port = tl_bench_port(bench),
               .request = request,
               .answer = json_pack("{s:b}", "ok", true)};
    if (request == NULL)
        refuse(&a, "no JSON: %.120s, at character %d", error.text, error.position);
    else if (!json_is_object(request))
        refuse(&a, "expected a JSON object, such as {\"do\": \"clock\"}");
    const call *of = a.error[0] == '\0' ? find_call(&a) : NULL;
    if (of != NULL)
        check_fields(&a, of);
    if (of != NULL && a.error[0] == '\0')
        of->run(&a);
    if (a.error[0] != '\0') {
        json_object_clear(a.answer);
        json_object_set_new(a.answer, "ok", json_false());
        json_object_set_new(a.answer, "error", json_string(a.error));
    }
    json_object_set_new(a.answer, "at", json_real(tl_bench_time(bench)));
    json_decref(request);
    return a.answer;
}
