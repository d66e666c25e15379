/* SPDX-License-Identifier: MIT */
/* What a stream of counts means: every code's text is made once and then copied, which makes converting
 * quick. */
#include "reading/count_format.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

static long microvolts(const count_format *m, long code)
{
    const uint32_t above = (uint32_t)(code - m->first);
    return m->config.bits <= 16 ? tl_scale_uv(&m->scale, (uint16_t)above) : tl_wide_uv(&m->wide, above);
}

static bool init_scale(count_format *m)
{
    const bool has_sign = m->word.sign != TL_WORD_UNSIGNED;
    m->config.has_sign = has_sign;
    m->first = has_sign ? -(1L << (m->config.bits - 1)) : 0;
    m->last = m->first + (1L << m->config.bits) - 1;
    return (m->config.bits <= 16 ? tl_scale_init(&m->scale, &m->config)
                                 : tl_wide_init(&m->wide, &m->config)) == TL_OK;
}

/* The value's column; empty where there is none. */
static int write_value(const count_format *m, long code, char *text, const char **flags)
{
    tl_value value;
    const tl_signal *s = &tl_circuit_plan(m->circuit)->signals[m->signal];
    if (tl_plan_value_plain(m->circuit, m->signal, (double)code, &value) != TL_NET_SOLVED)
        return snprintf(text, COUNT_FORMAT_TEXT - 16, ",");
    if (s->source.button_count > 0)
        return snprintf(text, COUNT_FORMAT_TEXT - 16, ",%.30s",
                        value.button >= 0    ? s->source.buttons[value.button].name
                        : value.button == -1 ? "no button"
                                             : "between two");
    if (value.beyond)
        *flags = "beyond";
    if (value.open || value.shorted)
        *flags = value.open ? "open wire" : "short";
    if (value.none && !value.open && !value.shorted) {
        *flags = "no value";
        return snprintf(text, COUNT_FORMAT_TEXT - 16, ",");
    }
    if ((value.open || value.shorted) && !s->reading.substitute.given)
        return snprintf(text, COUNT_FORMAT_TEXT - 16, ",");
    return snprintf(text, COUNT_FORMAT_TEXT - 16, ",%.*f", m->decimals, value.value);
}

static int compose(const count_format *m, long code, char text[COUNT_FORMAT_TEXT])
{
    const char *flags = code == m->first ? "clipped low" : code == m->last ? "clipped high" : "fresh";
    const long uv = microvolts(m, code);
    int length = snprintf(text, COUNT_FORMAT_TEXT, ",%s%ld.%06ld", uv < 0 ? "-" : "", labs(uv) / 1000000,
                          labs(uv) % 1000000);
    if (m->circuit != NULL)
        length += write_value(m, code, text + length, &flags);
    return length + snprintf(text + length, (size_t)(COUNT_FORMAT_TEXT - length), ",%s", flags);
}

double count_format_volts(const count_format *m, long code)
{
    const tl_scale_config *c = &m->config;
    const double above = (double)(code - m->first);
    const double span = 1e-6 * ((double)c->reference_high_uv - c->reference_low_uv),
                 codes = ldexp(1, c->bits);
    double step = span / codes, middle = c->steps == TL_STEPS_FULL ? 0.5 : 0;
    if (c->steps == TL_STEPS_END_TO_END) {
        step = span / (codes - (c->has_sign ? 2 : 1));
        middle = c->has_sign ? -1 : 0;
    }
    const double pin = 1e-6 * c->reference_low_uv + (above + middle) * step;
    return pin * c->undo_num / c->undo_den + 1e-6 * c->offset_uv;
}

/* Room for every code's text: written once, then a row costs a copy. */
static void make_room(count_format *m)
{
    const size_t codes = (size_t)(m->last - m->first) + 1;
    if (m->config.bits > 16)
        return;
    m->texts = must(calloc(codes, COUNT_FORMAT_TEXT));
    m->lengths = must(calloc(codes, 1));
}

int count_format_write(count_format *m, long code, char text[COUNT_FORMAT_TEXT])
{
    const size_t at = (size_t)(code - m->first);
    if (m->texts == NULL)
        return compose(m, code, text);
    char *kept = m->texts + at * COUNT_FORMAT_TEXT;
    if (m->lengths[at] == 0)
        m->lengths[at] = (unsigned char)compose(m, code, kept);
    memcpy(text, kept, COUNT_FORMAT_TEXT);
    return m->lengths[at];
}

/* What every word of this format keeps to, and this one did not. */
static const char *broken_promise(const tl_word *word)
{
    switch (word->align) {
    case TL_WORD_LEFT:
        return "no word of this ADC: aligned left, the bits below the code are 0";
    case TL_WORD_STRETCHED:
        return "no word of this ADC: stretched, the code's bits are repeated below it";
    default:
        return word->sign_filled && word->sign == TL_WORD_TWOS_COMPLEMENT
                   ? "no word of this ADC: above the code its sign is repeated"
                   : "no word of this ADC: the bits above the code are 0";
    }
}

const char *count_format_code(const count_format *m, long number, long *code)
{
    int32_t decoded = 0;
    if (!m->is_word) {
        *code = number;
        return number < m->first || number > m->last ? "the ADC has no such count" : NULL;
    }
    if (number < 0 || number > UINT32_MAX || tl_word_code(&m->word, (uint32_t)number, &decoded) != TL_OK)
        return broken_promise(&m->word);
    *code = decoded;
    return NULL;
}

bool count_format_of_signal(count_format *m, tl_circuit *circuit, int signal)
{
    const tl_signal *s = &tl_circuit_plan(circuit)->signals[signal];
    const tl_analog_path *path = s->analog ? tl_circuit_path(circuit, signal) : NULL;
    if (path == NULL || path->fault != TL_NET_SOLVED) {
        fprintf(stderr, "tinyladder: %s cannot be converted: %s\n", s->name,
                path == NULL ? "no ADC reads it" : tl_net_status_text(path->fault));
        return false;
    }
    *m = (count_format){
        .circuit = circuit, .signal = signal, .config = path->pin_scale, .word = path->input.word};
    if (tl_plan_converter_of(tl_circuit_plan(circuit), s) != NULL)
        m->word = tl_plan_converter_of(tl_circuit_plan(circuit), s)->part->word;
    snprintf(m->head, sizeof m->head, ",pin_v,%s,flags",
             s->reading.unit[0] != '\0' ? s->reading.unit : "value");
    if (!init_scale(m)) {
        fprintf(stderr, "tinyladder: %s cannot be converted\n", s->name);
        return false;
    }
    tl_value middle;
    if (tl_plan_value(circuit, signal, (double)(m->first + m->last) / 2, &middle) == TL_NET_SOLVED)
        m->decimals = middle.decimals;
    make_room(m);
    return true;
}

bool count_format_of_options(count_format *m, const tl_scale_config *config, const tl_word *word)
{
    *m = (count_format){.config = *config, .word = *word};
    snprintf(m->head, sizeof m->head, ",volts,flags");
    if (!init_scale(m)) {
        fprintf(stderr, "tinyladder: no ADC is like that: 4 to 24 bits, a reference from low to high "
                        "within 2000 V\n");
        return false;
    }
    make_room(m);
    return true;
}

void count_format_free(count_format *m)
{
    free(m->texts);
    free(m->lengths);
}
