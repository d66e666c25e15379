/* SPDX-License-Identifier: MIT */
/* Readings in words. */
#include "reading/readings.h"
#include "base/nearest_name.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

/* --- which --- */

static const char *signal_name(const void *plan, int i)
{
    return ((const tl_plan *)plan)->signals[i].name;
}

/* The nearest name, else the first few. */
static void report_no_signal(const tl_plan *plan, const char *name)
{
    enum { FEW = 8 };
    const char *meant = nearest_name(name, signal_name, plan, plan->signal_count);
    fprintf(stderr, "tinyladder: the plan has no signal '%.60s'", name);
    if (meant != NULL)
        fprintf(stderr, "; did you mean '%s'?", meant);
    for (int i = 0; meant == NULL && i < plan->signal_count && i < FEW; i++)
        fprintf(stderr, "%s%s", i > 0 ? ", " : "; it has ", plan->signals[i].name);
    if (meant == NULL && plan->signal_count > FEW)
        fprintf(stderr, " and %d more", plan->signal_count - FEW);
    fputc('\n', stderr);
}

int *choose_signals(const tl_plan *plan, const char *const *names, int count, int *chosen)
{
    int *list = must(calloc((size_t)(count > 0 ? count : plan->signal_count) + 1, sizeof *list));
    *chosen = 0;
    for (int i = 0; i < plan->signal_count && count == 0; i++)
        list[(*chosen)++] = i;
    for (int n = 0; n < count; n++) {
        int index = -1;
        if (tl_plan_signal(plan, names[n], &index) == NULL) {
            report_no_signal(plan, names[n]);
            free(list);
            return NULL;
        }
        bool twice = false;
        for (int i = 0; i < *chosen; i++)
            twice = twice || list[i] == index;
        if (!twice)
            list[(*chosen)++] = index;
    }
    return list;
}

/* --- in words --- */

bool taken_is_good(const taken *t)
{
    return t->net == TL_NET_SOLVED && t->is.status == TL_OK;
}

bool taken_is_figure(const tl_signal *signal, const taken *t)
{
    return taken_is_good(t) && signal->source.button_count == 0 &&
           (t->is.analog || (tl_reading_is_timed(&signal->reading) && !t->is.undriven));
}

bool taken_has_value(const tl_signal *signal, const taken *t)
{
    const bool failed = t->is.is.open || t->is.is.shorted;
    if (t->is.is.none && !failed)
        return false;
    return taken_is_figure(signal, t) && (!failed || signal->reading.substitute.given);
}

const char *taken_flags(const tl_signal *s, const taken *t, char text[40])
{
    const bool substituted = s->reading.substitute.given;
    if (t->net != TL_NET_SOLVED)
        return tl_net_status_text(t->net);
    if (t->is.status == TL_ERR_RANGE)
        return "beyond the counts";
    if (t->is.status != TL_OK) {
        tl_status_text(t->is.status, text, 40);
        return text;
    }
    if (t->is.undriven)
        return "undriven";
    if (t->is.undefined)
        return "undefined";
    if (t->is.is.open)
        return substituted ? "open wire, substituted" : "open wire";
    if (t->is.is.shorted)
        return substituted ? "short, substituted" : "short";
    if (!t->is.analog && t->is.is.none)
        return s->reading.as == TL_AS_PERIOD ? "not measured, or at a stand" : "not measured yet";
    if (t->is.analog && t->is.is.none && s->source.button_count == 0)
        return "no value";
    if (t->is.is.beyond)
        return (t->is.flags & TL_READING_FRESH) != 0 ? "fresh, beyond" : "beyond";
    if ((t->is.flags & TL_READING_CLIPPED_LOW) != 0)
        return "fresh, clipped low";
    if ((t->is.flags & TL_READING_CLIPPED_HIGH) != 0)
        return "fresh, clipped high";
    return (t->is.flags & TL_READING_FRESH) != 0 ? "fresh" : "not fresh";
}

static const char *advice_of(const tl_signal *s, const taken *t, bool real)
{
    if (t->net != TL_NET_SOLVED)
        return NULL;
    if (t->is.status == TL_ERR_LATE)
        return real ? "no answer in time: is the board sending, and this signal with the others?"
                    : "no answer in time: is the ADC powered, and its bus whole?";
    if (t->is.status == TL_ERR_RANGE)
        return "beyond the counts: this ADC has no such count; is it a word that is aligned left, bytes in "
               "the "
               "other order, or a count with another sign?";
    if (t->is.status != TL_OK)
        return NULL;
    if (t->is.undriven)
        return "undriven: nothing defines this pin's level; look for an open wire, or give it a pull";
    if (t->is.undefined)
        return "undefined: the level is between VIL and VIH, where an input may take it for either; look for "
               "a "
               "missing pull, a bad joint, or a load that pulls against another";
    if (t->is.is.open)
        return "open wire: look at the wire and its plugs, from the source to the pin";
    if (t->is.is.shorted)
        return "short: look for wires that touch, and for water in the sensor";
    if (t->is.is.beyond)
        return "beyond: the sensor's law ends here; the truth is at or beyond this value";
    if (t->is.analog && t->is.is.none && s->source.button_count == 0)
        return "no value: no point of the sensor's curve gives this count; look at the sensor and its "
               "partner";
    if ((t->is.flags & (TL_READING_CLIPPED_LOW | TL_READING_CLIPPED_HIGH)) != 0)
        return "clipped: the ADC is at its end, and the truth may lie beyond; a knob at its stop is "
               "well there";
    return NULL;
}

void print_advice(const tl_plan *plan, const int *signals, const taken *readings, int count, bool real)
{
    enum { KINDS = 8 };
    const char *said[KINDS];
    int kinds = 0;
    for (int i = 0; i < count && kinds < KINDS; i++) {
        const char *advice = advice_of(&plan->signals[signals[i]], &readings[i], real);
        bool known = advice == NULL;
        for (int k = 0; k < kinds && !known; k++)
            known = strcmp(said[k], advice) == 0;
        if (known)
            continue;
        if (kinds == 0)
            putchar('\n');
        put_note("  ", "  ", advice);
        said[kinds++] = advice;
    }
}

const char *taken_state(const tl_signal *s, int n)
{
    static const char *const levels[] = {"low", "high"}, *const switches[] = {"on", "off"},
                             *const contacts[] = {"closed", "open"},
                             *const others[] = {"no button", "between two"};
    const int buttons = s->source.button_count;
    if (buttons > 0)
        return n < buttons ? s->source.buttons[n].name : n < buttons + 2 ? others[n - buttons] : NULL;
    if (s->analog || n > 1 || tl_reading_is_timed(&s->reading))
        return NULL;
    const bool on_or_off = s->reading.as == TL_AS_TOGGLE || s->source.kind == TL_SOURCE_OPEN_COLLECTOR;
    return on_or_off ? switches[n] : s->source.kind == TL_SOURCE_LOGIC ? levels[n] : contacts[n];
}

static const char *button_of(const tl_signal *s, const taken *t)
{
    return t->is.is.button >= 0    ? s->source.buttons[t->is.is.button].name
           : t->is.is.button == -1 ? "no button"
                                   : "between two";
}

static const char *state_of(const tl_signal *s, const taken *t)
{
    if (t->is.undriven)
        return "-";
    if (s->reading.as == TL_AS_TOGGLE)
        return t->closings < 0 ? "-" : t->is.toggled ? "on" : "off";
    if (s->source.kind == TL_SOURCE_LOGIC)
        return t->is.closed ? "low" : "high";
    if (s->source.kind == TL_SOURCE_OPEN_COLLECTOR)
        return t->is.closed ? "on" : "off";
    return t->is.closed ? "closed" : "open";
}

void taken_value(const tl_signal *s, const taken *t, char text[80])
{
    const tl_value *is = &t->is.is;
    if (!taken_is_good(t))
        snprintf(text, 80, "-");
    else if (!t->is.analog && !tl_reading_is_timed(&s->reading))
        snprintf(text, 80, "%s", state_of(s, t));
    else if (s->source.button_count > 0)
        snprintf(text, 80, "%s", button_of(s, t));
    else if (!taken_has_value(s, t))
        snprintf(text, 80, "-");
    else if (is->percent >= 0)
        snprintf(text, 80, "%.*f %s (%d %%)", is->decimals, is->value, unit_shown(s->reading.unit),
                 is->percent);
    else
        snprintf(text, 80, "%.*f %s", is->decimals, is->value, unit_shown(s->reading.unit));
}

void show_interval(const tl_interval *within, int decimals, const char *unit, char text[80])
{
    const double step = pow(10, -decimals);
    const double low = floor(within->low / step + 1e-9) * step,
                 high = ceil(within->high / step - 1e-9) * step;
    if (!isfinite(low) && !isfinite(high))
        snprintf(text, 80, "anything");
    else if (!isfinite(low))
        snprintf(text, 80, "at most %.*f %s", decimals, high, unit);
    else if (!isfinite(high))
        snprintf(text, 80, "at least %.*f %s", decimals, low, unit);
    else
        snprintf(text, 80, "%.*f .. %.*f %s", decimals, low, decimals, high, unit);
}

void taken_interval(const tl_signal *s, const taken *t, char text[80])
{
    const tl_interval *within = &t->is.is.within;
    if (!taken_is_figure(s, t) || isnan(within->low) || t->is.is.open || t->is.is.shorted || t->is.is.none ||
        (!t->is.analog && !(isfinite(within->low) || isfinite(within->high))))
        snprintf(text, 80, "-");
    else
        show_interval(within, t->is.is.decimals, unit_shown(s->reading.unit), text);
}

/* --- as JSON --- */

static void add_analog_members(json_t *o, const tl_signal *s, const taken *t)
{
    const tl_value *is = &t->is.is;
    json_object_update_new(o, json_pack("{s:I,s:o,s:o,s:o,s:o,s:s,s:o,s:o,s:i}", "count",
                                        (json_int_t)t->is.count, "pin_v", json_number(is->pin_volts),
                                        "pin_low_v", json_number(is->pin_within.low), "pin_high_v",
                                        json_number(is->pin_within.high), "value", json_number(is->value),
                                        "unit", s->reading.unit, "low", json_number(is->within.low), "high",
                                        json_number(is->within.high), "decimals", is->decimals));
    json_object_set_new(o, "percent", is->percent >= 0 ? json_integer(is->percent) : json_null());
    json_object_update_new(
        o, json_pack("{s:b,s:b,s:b}", "open_wire", is->open, "short", is->shorted, "beyond", is->beyond));
    if (s->source.button_count > 0)
        json_object_set_new(o, "button", json_string(button_of(s, t)));
}

json_t *taken_object(const tl_plan *plan, int signal, const taken *t)
{
    char text[40];
    const tl_signal *s = &plan->signals[signal];
    json_t *o =
        json_pack("{s:s,s:s,s:o,s:b,s:b,s:b}", "signal", s->name, "pin", plan->pins[s->pin].name, "s",
                  json_number(t->is.at), "fresh", taken_is_good(t) && (t->is.flags & TL_READING_FRESH) != 0,
                  "clipped_low", (t->is.flags & TL_READING_CLIPPED_LOW) != 0, "clipped_high",
                  (t->is.flags & TL_READING_CLIPPED_HIGH) != 0);
    if (!taken_is_good(t))
        json_object_set_new(o, "error", json_string(taken_flags(s, t, text)));
    else if (t->is.analog)
        add_analog_members(o, s, t);
    else
        json_object_update_new(o, json_pack("{s:s,s:o,s:o}", "level", t->is.high ? "high" : "low", "state",
                                            t->is.undriven ? json_null() : json_string(state_of(s, t)),
                                            "pin_v", json_number(t->is.volts)));
    if (t->is.status == TL_ERR_RANGE)
        json_object_set_new(o, "count", json_integer((json_int_t)t->is.count));
    if (taken_is_good(t))
        json_object_set_new(o, "undriven", json_boolean(t->is.undriven));
    if (taken_is_good(t) && !t->is.analog)
        json_object_set_new(o, "undefined", json_boolean(t->is.undefined));
    if (taken_is_good(t) && tl_reading_is_timed(&s->reading))
        json_object_update_new(o, json_pack("{s:o,s:s,s:o,s:o,s:i}", "value", json_number(t->is.is.value),
                                            "unit", s->reading.unit, "low", json_number(t->is.is.within.low),
                                            "high", json_number(t->is.is.within.high), "decimals",
                                            t->is.is.decimals));
    if (taken_is_good(t) && !t->is.analog)
        json_object_set_new(o, "closings", t->closings >= 0 ? json_integer(t->closings) : json_null());
    return o;
}
