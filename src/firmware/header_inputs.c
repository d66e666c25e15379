/* How each signal is converted: its description, its way through multiplexers, one conversion folded. */
#include "firmware/maker.h"
#include "tinyladder/design/measurement.h"
#include <string.h>

/* One conversion whose word the compiler can fold: of the chip's own converter, without a sign. */
static void put_take(const maker *m, const char *known, const tl_analog_path *path)
{
    const tl_word *w = &path->input.word;
    const unsigned long last = (1ul << w->bits) - 1;
    const int shift = w->align == TL_WORD_LEFT ? w->width - w->bits : 0;
    if (w->sign != TL_WORD_UNSIGNED || w->align == TL_WORD_STRETCHED)
        return;
    fprintf(m->out,
            "static inline tl_status %s_take(const tl_port *port, uint16_t *count)\n{\n    uint32_t word;\n"
            "    const tl_status status = tl_port_convert(port, %u, %luu, %luu, &word);\n"
            "    if (status != TL_OK)\n        return status;\n",
            known, path->input.channel, (unsigned long)path->input.acquisition_ns,
            (unsigned long)path->input.longest_us);
    if (shift > 0)
        fprintf(m->out, "    if (word > %luu || (word & %luu) != 0)\n", last << shift, (1ul << shift) - 1);
    else
        fprintf(m->out, "    if (word > %luu)\n", last);
    fprintf(m->out, "        return TL_ERR_WORD;\n    *count = (uint16_t)");
    fprintf(m->out, shift > 0 ? "(word >> %d)" : "word", shift);
    fprintf(m->out, ";\n    return TL_OK;\n}\n");
}

static bool is_swept(const tl_plan *plan, int signal)
{
    for (int i = 0; i < plan->sweep_count; i++) {
        for (int s = 0; s < plan->sweeps[i].signal_count; s++) {
            if (plan->sweeps[i].signals[s] == signal)
                return true;
        }
    }
    return false;
}

/* How a sweep converts it; nothing where none does, so that no code of it is linked. */
static const char *kind_of(const maker *m, int signal)
{
    const tl_word *w = &tl_circuit_path(m->circuit, signal)->input.word;
    if (!is_swept(m->plan, signal))
        return "0";
    if (m->plan->pins[m->plan->signals[signal].pin].converter > 0)
        return "&tl_external_conversion";
    return w->bits <= 16 && w->align == TL_WORD_RIGHT && w->sign == TL_WORD_UNSIGNED
               ? "&tl_pin_conversion"
               : "&tl_pin_word_conversion";
}

/* The first signal whose description is the same one: many share a channel behind a multiplexer. */
static int first_alike(const maker *m, int signal)
{
    const tl_input *own = &tl_circuit_path(m->circuit, signal)->input;
    for (int i = 0; i < signal; i++) {
        const tl_signal *s = &m->plan->signals[i];
        const tl_analog_path *path = tl_circuit_path(m->circuit, i);
        if (!s->analog || m->plan->pins[s->pin].converter != 0 || path->fault != TL_NET_SOLVED)
            continue;
        /* The words are those of one converter. */
        if (path->input.channel == own->channel && path->input.acquisition_ns == own->acquisition_ns &&
            path->input.longest_us == own->longest_us && strcmp(kind_of(m, i), kind_of(m, signal)) == 0)
            return i;
    }
    return signal;
}

void put_input(const maker *m, int signal)
{
    char known[MAKER_NAME], other[MAKER_NAME];
    const tl_analog_path *path = tl_circuit_path(m->circuit, signal);
    const tl_pin *pin = &m->plan->pins[m->plan->signals[signal].pin];
    const tl_word *w = &path->input.word;
    c_name(m->plan->signals[signal].name, known);
    if (pin->converter > 0) {
        uint32_t settings;
        char why[160];
        if (tl_plan_external_input(m->plan, signal, &settings, why))
            fprintf(m->out,
                    "static const TL_ROM tl_external_input %s_input = {{%s}, &%s_converter, 0x%lxu};\n",
                    known, kind_of(m, signal), c_name(m->plan->converters[pin->converter].name, other),
                    (unsigned long)settings);
        return;
    }
    if (first_alike(m, signal) != signal)
        fprintf(m->out, "#define %s_input %s_input\n", known,
                c_name(m->plan->signals[first_alike(m, signal)].name, other));
    else
        fprintf(m->out,
                "static const TL_ROM tl_input %s_input = {{%s}, %luu, %luu, %u, {%u, %u, %u, %u, %s}};\n",
                known, kind_of(m, signal), (unsigned long)path->input.acquisition_ns,
                (unsigned long)path->input.longest_us, path->input.channel, w->bits, w->width, w->align,
                w->sign, w->sign_filled ? "true" : "false");
    put_way(m, signal);
    put_take(m, known, path);
}
