/* SPDX-License-Identifier: MIT */
/* How each signal is converted: its description, its way through multiplexers, one take of it; sweeps. */
#include "firmware/maker.h"
#include "tinyladder/design/measurement.h"
#include <string.h>

/* The sweep that takes it, and its place there; NULL where none does. */
static const tl_plan_sweep *sweep_with(const tl_plan *plan, int signal)
{
    for (int i = 0; i < plan->sweep_count; i++) {
        for (int s = 0; s < plan->sweeps[i].signal_count; s++) {
            if (plan->sweeps[i].signals[s] == signal)
                return &plan->sweeps[i];
        }
    }
    return NULL;
}

static int discarded(const tl_plan *plan, int signal)
{
    const tl_plan_sweep *sweep = sweep_with(plan, signal);
    return sweep != NULL ? sweep->discard : 0;
}

static const char *kind_of(const maker *m, int signal)
{
    const tl_word *w = &tl_circuit_path(m->circuit, signal)->input.word;
    if (m->plan->pins[m->plan->signals[signal].pin].converter > 0)
        return m->plan->buses[m->plan->converters[m->plan->pins[m->plan->signals[signal].pin].converter].bus]
                       .spi
                   ? "&tl_spi_conversion"
                   : "&tl_i2c_conversion";
    return w->bits <= 16 && w->align == TL_WORD_RIGHT && w->sign == TL_WORD_UNSIGNED
               ? "&tl_pin_conversion"
               : "&tl_pin_word_conversion";
}

/* The first signal whose conversion is the same one: many share a channel behind a multiplexer. */
static int first_alike(const maker *m, int signal)
{
    const tl_input *own = &tl_circuit_path(m->circuit, signal)->input;
    for (int i = 0; i < signal; i++) {
        const tl_signal *s = &m->plan->signals[i];
        const tl_analog_path *path = tl_circuit_path(m->circuit, i);
        if (!s->analog || m->plan->pins[s->pin].converter != 0 || path->fault != TL_NET_SOLVED)
            continue;
        /* The words are those of one converter. */
        if (path->input.channel == own->channel && path->input.reference == own->reference &&
            path->input.acquisition_ns == own->acquisition_ns && path->input.longest == own->longest)
            return i;
    }
    return signal;
}

/* Its place in the converter's list; the port's own number where the port has names of its own. */
static void put_reference(const maker *m, const tl_analog_path *path)
{
    char name[MAKER_NAME];
    const tl_converter *part = m->plan->converters[0].part;
    if (path->input.reference < part->reference_count)
        fprintf(m->out, "TL_REFERENCE(%u, %s)", path->input.reference,
                c_name(part->references[path->input.reference].name, name));
    else
        fprintf(m->out, "%u", path->input.reference);
}

/* One conversion whose word the compiler can fold: of the chip's own converter, without a sign. */
static void put_folded_take(const maker *m, const char *known, const tl_analog_path *path, int discard)
{
    const tl_word *w = &path->input.word;
    const unsigned long last = (1ul << w->bits) - 1;
    const int shift = w->align == TL_WORD_LEFT ? w->width - w->bits : 0;
    fprintf(m->out,
            "static inline tl_status %s_take(const tl_port *port, %s_count *is)\n{\n    tl_raw word%s;\n",
            known, known, discard > 0 ? " = 0" : "");
    if (discard > 0)
        fprintf(m->out,
                "    tl_status status = TL_OK;\n    for (uint8_t left = %d; left > 0 && status == TL_OK; "
                "left--)\n"
                "        status = ",
                discard + 1);
    else
        fprintf(m->out, "    const tl_status status = ");
    fprintf(m->out, "tl_port_convert(port, %u, ", path->input.channel);
    put_reference(m, path);
    fprintf(m->out, ", %luu, TL_SPAN_US(%luu), &word);\n    if (status != TL_OK)\n        return status;\n",
            (unsigned long)path->input.acquisition_ns, (unsigned long)path->input.longest);
    if (shift > 0)
        fprintf(m->out, "    if (word > %luu || (word & %luu) != 0)\n", last << shift, (1ul << shift) - 1);
    else
        fprintf(m->out, "    if (word > %luu)\n", last);
    fprintf(m->out, "        return TL_ERR_WORD;\n    TL_NUMBER(*is) = (uint16_t)");
    fprintf(m->out, shift > 0 ? "(word >> %d)" : "word", shift);
    fprintf(m->out, ";\n    return TL_OK;\n}\n");
}

/* Whatever stands before its pin: claimed, led, waited for, discarded and converted as one. */
static void put_way_take(const maker *m, const char *known, const char *way)
{
    fprintf(m->out,
            "static inline tl_status %s_take(const tl_port *port, %s_count *is)\n{\n    tl_sample sample = "
            "{0, 0, "
            "0};\n    const tl_status status = tl_take(port, &%s, &sample);\n    if (status == TL_OK)\n"
            "        (void)%s_of(&sample, is);\n    return status;\n}\n",
            known, known, way, known);
}

static void put_way_to(const maker *m, int signal, int discard)
{
    char known[MAKER_NAME], other[MAKER_NAME];
    const tl_signal *s = &m->plan->signals[signal];
    const tl_pin *pin = &m->plan->pins[s->pin];
    const int owner = pin->converter > 0 ? signal : first_alike(m, signal);
    fprintf(m->out, "{TL_MEMBER(input) &%s_input.kind, TL_MEMBER(mux) ",
            c_name(m->plan->signals[owner].name, known));
    if (pin->mux != TL_NONE)
        fprintf(m->out, "&%s_mux, TL_MEMBER(mux_input) %d", c_name(m->plan->muxes[pin->mux].name, other),
                pin->input);
    else
        fprintf(m->out, "0, TL_MEMBER(mux_input) 0");
    fprintf(m->out, ", TL_MEMBER(discard) %d}", discard);
}

/* Behind nothing, and of a word that the compiler can fold. */
static bool is_folded(const maker *m, int signal)
{
    const tl_word *w = &tl_circuit_path(m->circuit, signal)->input.word;
    const tl_pin *pin = &m->plan->pins[m->plan->signals[signal].pin];
    return pin->converter == 0 && pin->mux == TL_NONE && w->bits <= 16 && w->sign == TL_WORD_UNSIGNED &&
           w->align != TL_WORD_STRETCHED;
}

static bool put_external(const maker *m, int signal, const char *known)
{
    uint32_t settings;
    char why[160], other[MAKER_NAME];
    const tl_pin *pin = &m->plan->pins[m->plan->signals[signal].pin];
    if (!tl_plan_external_input(m->plan, signal, &settings, why))
        return false;
    fprintf(m->out,
            "static const TL_ROM tl_external_input %s_input = {TL_MEMBER(kind) {%s},\n"
            "    TL_MEMBER(converter) &%s_converter, TL_MEMBER(settings) 0x%lxu};\n",
            known, kind_of(m, signal), c_name(m->plan->converters[pin->converter].name, other),
            (unsigned long)settings);
    return true;
}

/* What a program writes into the converter's own registers, where the board file lists them. */
static void put_words(const maker *m, int signal)
{
    char capitals[MAKER_NAME], of[MAKER_NAME], why[160];
    unsigned long words[TL_REGISTERS_MOST];
    const tl_converter *part = m->plan->converters[0].part;
    if (!tl_plan_settings(m->plan, 0, signal, tl_circuit_path(m->circuit, signal)->acquisition, words, why))
        return;
    c_capitals(m->plan->signals[signal].name, capitals);
    for (int i = 0; i < part->register_count; i++) {
        bool its = false;
        for (int f = 0; f < part->registers[i].field_count; f++) {
            const tl_field *field = &part->registers[i].fields[f];
            its = its || strcmp(field->means != NULL ? field->means : field->name, "channel") == 0;
        }
        if (its)
            fprintf(m->out, "#define %s_%s_WORD 0x%0*lxu\n", capitals,
                    c_capitals(part->registers[i].name, of), (part->registers[i].width + 3) / 4, words[i]);
    }
}

static void put_own(const maker *m, int signal, const char *known)
{
    const tl_analog_path *path = tl_circuit_path(m->circuit, signal);
    const tl_word *w = &path->input.word;
    fprintf(m->out,
            "static const TL_ROM tl_input %s_input = {TL_MEMBER(kind) {%s},\n"
            "    TL_MEMBER(acquisition_ns) %luu, TL_MEMBER(longest) TL_SPAN_US(%luu), TL_MEMBER(channel) %u, "
            "TL_MEMBER(reference) ",
            known, kind_of(m, signal), (unsigned long)path->input.acquisition_ns,
            (unsigned long)path->input.longest, path->input.channel);
    put_reference(m, path);
    fprintf(m->out,
            ",\n    TL_MEMBER(word) {TL_MEMBER(bits) %u, TL_MEMBER(width) %u, TL_MEMBER(align) %u, "
            "TL_MEMBER(sign) %u, "
            "TL_MEMBER(sign_filled) %s}};\n",
            w->bits, w->width, w->align, w->sign, w->sign_filled ? "true" : "false");
}

void put_input(const maker *m, int signal)
{
    char known[MAKER_NAME], way[MAKER_NAME + 8], other[MAKER_NAME];
    const tl_analog_path *path = tl_circuit_path(m->circuit, signal);
    const tl_pin *pin = &m->plan->pins[m->plan->signals[signal].pin];
    c_name(m->plan->signals[signal].name, known);
    const int owner = pin->converter > 0 ? signal : first_alike(m, signal);
    if (pin->converter > 0 && !put_external(m, signal, known))
        return;
    if (pin->converter == 0 && owner == signal)
        put_own(m, signal, known);
    else if (pin->converter == 0 && pin->mux == TL_NONE)
        fprintf(m->out, "#define %s_input %s_input\n", known, c_name(m->plan->signals[owner].name, other));
    if (pin->converter == 0)
        put_words(m, signal);
    if (is_folded(m, signal)) {
        put_folded_take(m, known, path, discarded(m->plan, signal));
        return;
    }
    if (sweep_with(m->plan, signal) != NULL)
        return; /* its way is the sweep's */
    snprintf(way, sizeof way, "%s_way", known);
    fprintf(m->out, "static const TL_ROM tl_way %s = ", way);
    put_way_to(m, signal, 0);
    fprintf(m->out, ";\n");
    put_way_take(m, known, way);
}

static void put_swept_take(const maker *m, const tl_plan_sweep *sweep, int signal)
{
    char known[MAKER_NAME], capitals[2][MAKER_NAME], way[3 * MAKER_NAME];
    const char *name = m->plan->signals[signal].name;
    if (is_folded(m, signal) || sweep_with(m->plan, signal) != sweep)
        return;
    snprintf(way, sizeof way, "%s_ways[%s_%s]", c_name(sweep->name, known),
             c_capitals(sweep->name, capitals[0]), c_capitals(name, capitals[1]));
    put_way_take(m, c_name(name, known), way);
}

void put_sweep(const maker *m, const tl_plan_sweep *sweep)
{
    char known[MAKER_NAME], capitals[MAKER_NAME], other[MAKER_NAME];
    c_capitals(sweep->name, capitals);
    fprintf(m->out, "\n/* --- sweep %s --- */\nenum {", sweep->name);
    for (int i = 0; i < sweep->signal_count; i++)
        fprintf(m->out, "%s%s_%s,", i % 4 == 0 ? "\n    " : " ", capitals,
                c_capitals(m->plan->signals[sweep->signals[i]].name, other));
    fprintf(m->out, "\n    %s_COUNT,\n    %s_SAMPLES = 2 * %s_COUNT\n};\n", capitals, capitals, capitals);
    if (sweep->every > 0)
        fprintf(m->out, "#define %s_EVERY_US %.0fu\n", capitals, 1e6 * sweep->every);
    fprintf(m->out, "static const TL_ROM tl_way %s_ways[] = {", c_name(sweep->name, known));
    for (int i = 0; i < sweep->signal_count; i++) {
        fprintf(m->out, i > 0 ? ",\n    " : "\n    ");
        put_way_to(m, sweep->signals[i], sweep->discard);
    }
    fprintf(m->out, "\n};\n");
    for (int i = 0; i < sweep->signal_count; i++)
        put_swept_take(m, sweep, sweep->signals[i]);
    c_name(sweep->name, known);
    if (sweep->sleep)
        fprintf(m->out, "/* The ADC is off between sweeps. */\n");
    /* Room of another size is another type: it does not compile. */
    fprintf(m->out, "static inline tl_status %s_init(tl_sweep *sweep, tl_sample (*samples)[%s_SAMPLES])\n{\n",
            known, capitals);
    fprintf(m->out, "    const tl_status status = tl_sweep_init(sweep, %s_ways, %s_COUNT, *samples);\n",
            known, capitals);
    if (sweep->sleep)
        fprintf(m->out, "    if (status == TL_OK)\n        sweep->sleeps = true;\n");
    fprintf(m->out, "    return status;\n}\n");
}
