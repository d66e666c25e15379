/* SPDX-License-Identifier: MIT */
/*
 * The plan for a Linux computer: a devicetree overlay with the bindings that belong to no vendor. Which
 * controllers it has only the computer knows: &gpio, &adc and &pwm stand for them. What no binding can say is
 * a comment.
 */
#include "base/memory.h"
#include "firmware/maker.h"
#include "model/parts.h"
#include "tinyladder/design/measurement.h"
#include <ctype.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>

/* Codes of keys without a meaning of their own (BTN_TRIGGER_HAPPY1 and on), as the kernel's
 * input-event-codes.h numbers them. */
enum { KEY_FIRST = 0x2c0, KEYS_MOST = 40, ACTIVE_HIGH = 0, ACTIVE_LOW = 1, PULLED_UP = 16, PULLED_DOWN = 32 };

typedef struct {
    FILE *out;
    tl_circuit *circuit;
    const tl_plan *plan;
    int keys;      /* codes that were given */
    bool numbered; /* pins are called by the numbers of their lines */
} overlay;

/* A label: of the board's converter `adc`, of others their names. */
static const char *label_of(const char *name, char text[MAKER_NAME])
{
    snprintf(text, MAKER_NAME, "%s", name);
    for (char *at = text; *at != '\0'; at++)
        *at = isalnum((unsigned char)*at) ? *at : '_';
    return text;
}

/* Where the number at the end of a pin's name begins, `L12`. */
static size_t head_of(const char *name)
{
    size_t length = strlen(name);
    while (length > 0 && isdigit((unsigned char)name[length - 1]))
        length--;
    return length;
}

/* Analog inputs are channels; every other use of a pin is as a line. */
static bool is_line(const tl_plan *plan, int pin)
{
    bool used = tl_plan_pin_use(plan, pin, 0).what != NULL && plan->pins[pin].rail == TL_PIN_NO_RAIL;
    for (int i = 0; i < plan->signal_count; i++)
        used = used && !(plan->signals[i].pin == pin && plan->signals[i].analog);
    for (int i = 0; i < plan->mux_count; i++)
        used = used && plan->muxes[i].common != pin;
    return used;
}

/* Whether all lines are called alike but for their numbers: these are then those at the controller. Of `B0`
 * and `D0` they are not. */
static bool are_numbered(const tl_plan *plan)
{
    const char *first = NULL;
    for (int pin = 0; pin < plan->board->pin_count; pin++) {
        const char *name = plan->pins[pin].name;
        if (!is_line(plan, pin))
            continue;
        first = first != NULL ? first : name;
        const size_t head = head_of(name);
        if (name[head] == '\0' || strlen(name + head) > 5 || head != head_of(first) ||
            strncmp(name, first, head) != 0)
            return false;
    }
    return true;
}

static int line_of(const overlay *o, int pin)
{
    const tl_pin *is = &o->plan->pins[pin];
    return o->numbered ? atoi(is->name + head_of(is->name)) : is->position >= 0 ? is->position : pin;
}

static void put_line(const overlay *o, int pin, int flags)
{
    fprintf(o->out, "<&gpio %d %d>", line_of(o, pin), flags);
}

/* `<&adc 7>`, or the channel of a multiplexer. */
static void put_channel(const overlay *o, int pin, int channel)
{
    char label[MAKER_NAME];
    const tl_pin *is = &o->plan->pins[pin];
    if (is->mux != TL_NONE)
        fprintf(o->out, "<&%s %d>", label_of(o->plan->muxes[is->mux].name, label), is->input);
    else
        fprintf(o->out, "<&%s %d>",
                is->converter > 0 ? label_of(o->plan->converters[is->converter].name, label) : "adc",
                channel);
}

static void put_signal_channel(const overlay *o, int signal)
{
    put_channel(o, o->plan->signals[signal].pin, tl_plan_channel(o->plan, signal));
}

static void begin_node(overlay *o, const char *name, const char *compatible)
{
    fprintf(o->out, "\t%s {\n\t\tcompatible = \"%s\";\n", name, compatible);
}

/* A comment has what people typed: nothing in it ends it. */
static void put_remark(const overlay *o, const char *name, const char *why)
{
    fprintf(o->out, "\t/* %s: %s */\n", name, why);
}

/* --- lines --- */

static bool is_key(const tl_signal *s)
{
    return !s->analog && (s->reading.as == TL_AS_LEVEL || s->reading.as == TL_AS_TOGGLE) &&
           s->source.kind != TL_SOURCE_LOGIC;
}

static bool turns(const overlay *o, int signal)
{
    bool found = o->plan->signals[signal].reading.second_line != TL_NONE;
    for (int i = 0; i < o->plan->signal_count; i++)
        found = found || o->plan->signals[i].reading.second_line == signal;
    return found;
}

static int flags_of(const overlay *o, int signal)
{
    const tl_button_config config = tl_plan_button(o->plan, signal);
    int flags = config.closed_is_low ? ACTIVE_LOW : ACTIVE_HIGH;
    if (o->plan->signals[signal].source.kind == TL_SOURCE_LOGIC)
        return ACTIVE_HIGH; /* it has levels, and no state */
    if (config.internal_pull)
        flags |= config.closed_is_low ? PULLED_UP : PULLED_DOWN;
    return flags;
}

static void put_keys(overlay *o)
{
    bool any = false;
    for (int i = 0; i < o->plan->signal_count; i++) {
        const tl_signal *s = &o->plan->signals[i];
        if (!is_key(s) || turns(o, i))
            continue;
        if (o->keys == KEYS_MOST) {
            put_remark(o, s->name, "there are no more codes of keys");
            continue;
        }
        if (!any)
            begin_node(o, "contacts", "gpio-keys");
        any = true;
        fprintf(o->out,
                "\t\t%s {\n\t\t\tlabel = \"%s\";\n\t\t\tlinux,code = <0x%x>;\n\t\t\tgpios = ", s->name,
                s->name, KEY_FIRST + o->keys++);
        put_line(o, s->pin, flags_of(o, i));
        fprintf(o->out, ";\n\t\t\tdebounce-interval = <%ld>;\n\t\t};\n",
                lround(fmax(1, ceil(1e3 * s->reading.steady))));
    }
    if (any)
        fputs("\t};\n", o->out);
}

static void put_counters(overlay *o)
{
    for (int i = 0; i < o->plan->signal_count; i++) {
        const tl_signal *s = &o->plan->signals[i];
        const int second = s->reading.second_line;
        if (s->analog || (s->reading.as != TL_AS_COUNT && second == TL_NONE))
            continue;
        begin_node(o, s->name, second != TL_NONE ? "rotary-encoder" : "interrupt-counter");
        fputs("\t\tgpios = ", o->out);
        put_line(o, s->pin, flags_of(o, i));
        if (second != TL_NONE) {
            fputs(", ", o->out);
            put_line(o, o->plan->signals[second].pin, flags_of(o, second));
            fputs(";\n\t\tlinux,axis = <0>;\n\t\trotary-encoder,encoding = "
                  "\"gray\";\n\t\trotary-encoder,relative-axis",
                  o->out);
        }
        fputs(";\n\t};\n", o->out);
    }
}

static void put_other_lines(const overlay *o)
{
    for (int i = 0; i < o->plan->signal_count; i++) {
        const tl_signal *s = &o->plan->signals[i];
        if (s->analog || is_key(s) || turns(o, i) || s->reading.as == TL_AS_COUNT)
            continue;
        fprintf(o->out, "\t/* %s: line %d; no binding for %s */\n", s->name, line_of(o, s->pin),
                s->reading.as == TL_AS_LENGTHS     ? "a pattern"
                : tl_reading_is_timed(&s->reading) ? "a frequency, a duty or a period"
                                                   : "a level that is no key");
    }
}

/* --- channels --- */

/* Which inputs lead somewhere, by name. */
static void put_mux_channels(const overlay *o, int mux)
{
    const tl_mux *m = &o->plan->muxes[mux];
    int last = -1;
    const char *names[TL_INPUTS_MOST] = {NULL};
    for (int i = 0; i < o->plan->signal_count; i++) {
        const tl_pin *pin = &o->plan->pins[o->plan->signals[i].pin];
        if (pin->mux == mux)
            names[pin->input] = o->plan->signals[i].name;
    }
    for (int i = 0; i < o->plan->mux_count; i++) {
        const tl_pin *pin = &o->plan->pins[o->plan->muxes[i].common];
        if (pin->mux == mux)
            names[pin->input] = o->plan->muxes[i].name;
    }
    for (int i = 0; i < 1 << m->select_count && i < TL_INPUTS_MOST; i++)
        last = names[i] != NULL ? i : last;
    fputs("\t\tchannels = ", o->out);
    for (int i = 0; i <= last || i == 0; i++)
        fprintf(o->out, "%s\"%s\"", i > 0 ? ", " : "", names[i] != NULL ? names[i] : "");
    fputs(";\n", o->out);
}

static double dwell_us(const overlay *o, int mux)
{
    double most = isnan(o->plan->muxes[mux].dwell) ? 0 : o->plan->muxes[mux].dwell;
    for (int i = 0; i < o->plan->signal_count; i++) {
        if (o->plan->pins[o->plan->signals[i].pin].mux == mux)
            most = fmax(most, tl_circuit_path(o->circuit, i)->dwell);
    }
    return 1e6 * most;
}

static void put_mux(overlay *o, int mux)
{
    char label[MAKER_NAME];
    const tl_mux *m = &o->plan->muxes[mux];
    label_of(m->name, label);
    fprintf(o->out,
            "\t%s_select: %s-select {\n\t\tcompatible = \"gpio-mux\";\n\t\t#mux-control-cells = "
            "<0>;\n\t\tmux-gpios = ",
            label, m->name);
    bool any = false;
    for (int i = 0; i < m->select_count; i++) {
        if (m->select[i].pin == TL_NONE)
            continue;
        fputs(any ? ", " : "", o->out);
        put_line(o, m->select[i].pin, ACTIVE_HIGH);
        any = true;
    }
    fprintf(o->out, ";\n\t};\n");
    if (m->enable.given && m->enable.pin != TL_NONE)
        fprintf(o->out, "\t/* %s: the binding has no enable line; hold line %d at its active level */\n",
                m->name, line_of(o, m->enable.pin));
    fprintf(o->out, "\t%s: %s {\n\t\tcompatible = \"io-channel-mux\";\n\t\tio-channels = ", label, m->name);
    put_channel(o, m->common, o->plan->pins[m->common].channel);
    fprintf(o->out,
            ";\n\t\tio-channel-names = \"parent\";\n\t\t#io-channel-cells = <1>;\n\t\tmux-controls = "
            "<&%s_select>;\n",
            label);
    fprintf(o->out, "\t\tsettle-time-us = <%.0f>;\n", ceil(dwell_us(o, mux)));
    put_mux_channels(o, mux);
    fputs("\t};\n", o->out);
}

/* Ohms of the lower leg where there is one: only the ratio counts, and this makes it readable. */
static double lower_ohms(const overlay *o, int signal)
{
    tl_parts parts = tl_plan_parts(o->plan);
    const tl_plan_part *lower = tl_parts_next(&parts, signal, TL_PART_LOWER, NULL);
    const double ohms = lower != NULL && lower->value != NULL ? lower->value->value.nominal : 1e6;
    tl_parts_free(&parts);
    return ohms;
}

static void put_channel_of(overlay *o, int signal)
{
    const tl_signal *s = &o->plan->signals[signal];
    const tl_analog_path *path = tl_circuit_path(o->circuit, signal);
    const bool volts = s->source.kind == TL_SOURCE_RAIL || s->source.kind == TL_SOURCE_VOLTAGE;
    const bool straight =
        path->fault == TL_NET_SOLVED && !path->bends && fabs(path->shift) < 1e-9 && path->slope > 0;
    if (straight && volts && path->slope < 1 - 1e-6) {
        const double ohms = lower_ohms(o, signal);
        begin_node(o, s->name, "voltage-divider");
        fputs("\t\tio-channels = ", o->out);
        put_signal_channel(o, signal);
        fprintf(o->out,
                ";\n\t\toutput-ohms = <%.0f>;\n\t\tfull-ohms = <%.0f>;\n\t\t#io-channel-cells = <1>;\n\t};\n",
                ohms, ohms / path->slope);
    } else if (straight && s->source.kind == TL_SOURCE_CURRENT && 1e6 * path->slope < 4e9) {
        begin_node(o, s->name, "current-sense-shunt");
        fputs("\t\tio-channels = ", o->out);
        put_signal_channel(o, signal);
        fprintf(o->out, ";\n\t\tshunt-resistor-micro-ohms = <%.0f>;\n\t};\n", 1e6 * path->slope);
    } else {
        fprintf(o->out, "\t/* %s: channel ", s->name);
        put_signal_channel(o, signal);
        fprintf(o->out, "; no binding for its law: calculate the value from the raw count */\n");
    }
}

/* Buttons by their volts: the kernel takes the nearest. */
static void put_ladder(overlay *o, int signal)
{
    const tl_signal *s = &o->plan->signals[signal];
    begin_node(o, s->name, "adc-keys");
    fputs("\t\tio-channels = ", o->out);
    put_signal_channel(o, signal);
    fputs(";\n\t\tio-channel-names = \"buttons\";\n\t\tpoll-interval = <20>;\n", o->out);
    for (int state = 0; state <= s->source.button_count; state++) {
        const tl_worst_case *at = tl_circuit_worst_case(o->circuit, signal, state);
        const double uv = 1e6 * fmax(0, at->volts.nominal);
        if (state == 0)
            fprintf(o->out, "\t\tkeyup-threshold-microvolt = <%.0f>;\n", uv);
        else if (o->keys < KEYS_MOST)
            fprintf(o->out,
                    "\t\t%s {\n\t\t\tlabel = \"%s\";\n\t\t\tlinux,code = "
                    "<0x%x>;\n\t\t\tpress-threshold-microvolt = <%.0f>;\n\t\t};\n",
                    s->source.buttons[state - 1].name, s->source.buttons[state - 1].name,
                    KEY_FIRST + o->keys++, uv);
    }
    fputs("\t};\n", o->out);
}

static void put_channels(overlay *o)
{
    for (int i = 0; i < o->plan->mux_count; i++)
        put_mux(o, i);
    for (int i = 0; i < o->plan->signal_count; i++) {
        const tl_signal *s = &o->plan->signals[i];
        if (s->analog && s->source.button_count > 0)
            put_ladder(o, i);
        else if (s->analog)
            put_channel_of(o, i);
    }
}

/* --- outputs --- */

static bool is_lamp(const overlay *o, const tl_plan_output *output)
{
    return output->driver.way == TL_DRIVER_NONE ? output->lamp.given || o->plan->pins[output->pins[0]].wired
                                                : output->driver.lamp.given;
}

/* A lamp to a supply lights while its line is low. */
static int lit_level(const overlay *o, const tl_plan_output *output)
{
    return output->driver.way == TL_DRIVER_NONE && output->to != TL_TO_GROUND &&
                   !tl_plan_rail_is_low(o->plan, output->to)
               ? ACTIVE_LOW
               : ACTIVE_HIGH;
}

static void put_lamps(overlay *o)
{
    bool any = false;
    for (int i = 0; i < o->plan->output_count; i++) {
        const tl_plan_output *output = &o->plan->outputs[i];
        if (output->pin_count == 0 || !is_lamp(o, output) || output->as == TL_OUT_DUTY)
            continue;
        if (!any)
            begin_node(o, "lamps", "gpio-leds");
        any = true;
        for (int k = 0; k < output->pin_count; k++) {
            char number[12] = "";
            if (output->pin_count > 1)
                snprintf(number, sizeof number, "-%d", k + 1);
            fprintf(o->out, "\t\t%s%s {\n\t\t\tlabel = \"%s%s\";\n\t\t\tgpios = ", output->name, number,
                    output->name, number);
            put_line(o, output->pins[k], lit_level(o, output));
            fputs(";\n\t\t};\n", o->out);
        }
    }
    if (any)
        fputs("\t};\n", o->out);
}

/* A lamp with a duty whose channel and frequency the plan knows. */
static bool is_dimmed(const overlay *o, const tl_plan_output *output)
{
    return output->as == TL_OUT_DUTY && output->pin_count > 0 && output->frequency > 0 &&
           o->plan->pins[output->pins[0]].duty >= 0 && is_lamp(o, output);
}

static void put_duties(overlay *o)
{
    bool any = false;
    for (int i = 0; i < o->plan->output_count; i++) {
        const tl_plan_output *output = &o->plan->outputs[i];
        if (!is_dimmed(o, output))
            continue;
        if (!any)
            begin_node(o, "dimmed", "pwm-leds");
        any = true;
        fprintf(o->out,
                "\t\t%s {\n\t\t\tlabel = \"%s\";\n\t\t\tpwms = <&pwm %d %.0f %d>;\n\t\t\tmax-brightness = "
                "<255>;\n\t\t};\n",
                output->name, output->name, o->plan->pins[output->pins[0]].duty, 1e9 / output->frequency, 0);
    }
    if (any)
        fputs("\t};\n", o->out);
}

static void put_other_outputs(const overlay *o)
{
    for (int i = 0; i < o->plan->output_count; i++) {
        const tl_plan_output *output = &o->plan->outputs[i];
        if (output->pin_count == 0 || is_dimmed(o, output) ||
            (is_lamp(o, output) && output->as != TL_OUT_DUTY))
            continue;
        fprintf(o->out, "\t/* %s: line %d; no binding for this load */\n", output->name,
                line_of(o, output->pins[0]));
    }
}

static void put_title(const overlay *o)
{
    fputs("/* ", o->out);
    for (const char *at = o->plan->title; *at != '\0'; at++)
        fputc(*at == '/' && at > o->plan->title && at[-1] == '*' ? '|' : *at, o->out);
    fprintf(o->out,
            ": written by tinyladder from its plan. Do not edit it; write it again.\n"
            " * Replace the labels gpio, adc and pwm by those of your computer's controllers.\n"
            " * The number of a line is %s.\n"
            " * Thresholds, faults and bounds stay in the program that reads the channels.\n */\n",
            o->numbered ? "the one at the end of its pin's name"
                        : "its pin's position on the header, because the pins' names have no line number");
}

static const char end_mark[] = "/* end; of all above: 0x";

bool tl_overlay_is_whole(const char *text)
{
    unsigned long id = 0;
    const char *end = strstr(text, end_mark);
    if (end == NULL || sscanf(end + strlen(end_mark), "%8lx", &id) != 1)
        return false;
    char *body = tl_copy_text(text);
    body[end - text] = '\0';
    const bool whole = id_of(body) == id && strcmp(end + strlen(end_mark) + 8, " */\n") == 0;
    free(body);
    return whole;
}

char *tl_overlay(tl_circuit *circuit)
{
    char *body = NULL, *text = NULL;
    size_t size = 0;
    const tl_plan *plan = tl_circuit_plan(circuit);
    overlay o = {.circuit = circuit, .plan = plan, .numbered = are_numbered(plan)};
    o.out = tl_text_begin(&body, &size);
    put_title(&o);
    fputs("/dts-v1/;\n/plugin/;\n\n&{/} {\n", o.out);
    put_keys(&o);
    put_counters(&o);
    put_other_lines(&o);
    put_channels(&o);
    put_lamps(&o);
    put_duties(&o);
    put_other_outputs(&o);
    fputs("};\n", o.out);
    tl_text_end(o.out, &body);
    FILE *out = tl_text_begin(&text, &size);
    fprintf(out, "%s%s%08lx */\n", body, end_mark, id_of(body));
    tl_text_end(out, &text);
    free(body);
    return text;
}
