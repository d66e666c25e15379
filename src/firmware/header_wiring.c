/* What several signals share: multiplexers, the ways through them, converters on buses, sweeps. */
#include "firmware/maker.h"
#include "tinyladder/design/measurement.h"
#include <math.h>

/* --- multiplexers --- */

static void put_holder(const maker *m, const tl_line_holder *holder)
{
    if (holder->given && holder->pin != TL_NONE)
        put_pin(m, holder->pin);
    else
        fprintf(m->out, "TL_MUX_NO_LINE");
}

/* The longest wait that a signal behind it wants. */
static double dwell_of(const maker *m, int mux)
{
    double longest = 0;
    for (int i = 0; i < m->plan->signal_count; i++) {
        const tl_signal *s = &m->plan->signals[i];
        if (!s->analog)
            continue;
        for (int pin = s->pin; m->plan->pins[pin].mux != TL_NONE;
             pin = m->plan->muxes[m->plan->pins[pin].mux].common) {
            const tl_analog_path *path = tl_circuit_path(m->circuit, i);
            if (m->plan->pins[pin].mux == mux && path->fault == TL_NET_SOLVED && isfinite(path->dwell))
                longest = fmax(longest, path->dwell);
        }
    }
    return longest;
}

static void put_mux(const maker *m, int which)
{
    char known[MAKER_NAME];
    const tl_mux *mux = &m->plan->muxes[which];
    const tl_pin *common = &m->plan->pins[mux->common];
    fprintf(m->out, "\n/* --- multiplexer %s: its common line is %s --- */\n", mux->name, common->name);
    fprintf(m->out, "static const TL_ROM tl_mux_lines %s_mux = {{", c_name(mux->name, known));
    for (int s = 0; s < mux->select_count; s++) {
        fprintf(m->out, s > 0 ? ", " : "");
        put_holder(m, &mux->select[s]);
    }
    fprintf(m->out, "}, %d, ", mux->select_count);
    put_holder(m, &mux->enable);
    fprintf(m->out, ", %s, %.0fu, ", mux->part->enable == 2 ? "true" : "false",
            ceil(1e6 * dwell_of(m, which)));
    if (common->mux != TL_NONE)
        fprintf(m->out, "&%s_mux, %d};\n", c_name(m->plan->muxes[common->mux].name, known), common->input);
    else
        fprintf(m->out, "0, 0};\n");
}

/* How many others stand between it and the pin. */
static int depth_of(const tl_plan *plan, int mux)
{
    int depth = 0;
    while (plan->pins[plan->muxes[mux].common].mux != TL_NONE) {
        mux = plan->pins[plan->muxes[mux].common].mux;
        depth++;
    }
    return depth;
}

/* Those near the pin first: the others name them. */
void put_muxes(const maker *m)
{
    int left = m->plan->mux_count;
    for (int depth = 0; left > 0; depth++) {
        for (int i = 0; i < m->plan->mux_count; i++) {
            if (depth_of(m->plan, i) != depth)
                continue;
            put_mux(m, i);
            left--;
        }
    }
}

void put_way(const maker *m, int signal)
{
    char known[MAKER_NAME], other[MAKER_NAME];
    const tl_pin *pin = &m->plan->pins[m->plan->signals[signal].pin];
    if (pin->mux == TL_NONE)
        return;
    fprintf(m->out,
            "static inline tl_status %s_lead(const tl_port *port)\n{\n    return tl_mux_lead(port, &%s_mux, "
            "%d);\n}\n",
            c_name(m->plan->signals[signal].name, known), c_name(m->plan->muxes[pin->mux].name, other),
            pin->input);
}

/* --- converters on buses --- */

void put_externals(const maker *m)
{
    char known[MAKER_NAME];
    for (int i = 1; i < m->plan->converter_count; i++) {
        tl_external e;
        char why[160];
        const tl_plan_converter *c = &m->plan->converters[i];
        fprintf(m->out, "\n/* --- converter %s: ", c->name);
        put_comment(m, c->part->name);
        fprintf(m->out, " on bus %s --- */\n", m->plan->buses[c->bus].name);
        if (!tl_plan_external(m->plan, i, &e, why)) {
            fprintf(m->out, "/* Left out: %s. */\n", why);
            continue;
        }
        fprintf(m->out, "static const TL_ROM tl_external %s_converter = {%s, %u, ", c_name(c->name, known),
                e.kind == TL_EXTERNAL_I2C ? "TL_EXTERNAL_I2C" : "TL_EXTERNAL_SPI", e.bus);
        if (e.kind == TL_EXTERNAL_I2C)
            fprintf(m->out, "0x%02x", e.seat);
        else
            put_pin(m, e.seat);
        fprintf(m->out, ", {%u, %u, %u, %u, %s}, %u, %luu, %luu, %u, %u, %u, %u, %u, %u, %s, %u, %u};\n",
                e.word.bits, e.word.width, e.word.align, e.word.sign, e.word.sign_filled ? "true" : "false",
                e.byte_order, (unsigned long)e.longest_us, (unsigned long)e.earliest_us, e.settings_bits,
                e.settings, e.result, e.ready, e.ready_bits, e.ready_bit, e.ready_when ? "true" : "false",
                e.zeros, e.take);
    }
}

/* --- sweeps --- */

static void put_entry(const maker *m, const tl_plan_sweep *sweep, int signal)
{
    char known[MAKER_NAME];
    const tl_signal *s = &m->plan->signals[signal];
    const tl_pin *pin = &m->plan->pins[s->pin];
    fprintf(m->out, "\n    {&%s_input.kind, ", c_name(s->name, known));
    if (pin->mux != TL_NONE)
        fprintf(m->out, "&%s_mux, %d, ", c_name(m->plan->muxes[pin->mux].name, known), pin->input);
    else
        fprintf(m->out, "0, 0, ");
    fprintf(m->out, "%d}", sweep->discard);
}

void put_sweep(const maker *m, const tl_plan_sweep *sweep)
{
    char known[MAKER_NAME], capitals[MAKER_NAME], other[MAKER_NAME];
    c_capitals(sweep->name, capitals);
    fprintf(m->out, "\n/* --- sweep %s --- */\nenum {", sweep->name);
    for (int i = 0; i < sweep->signal_count; i++)
        fprintf(m->out, "%s%s_%s,", i % 4 == 0 ? "\n    " : " ", capitals,
                c_capitals(m->plan->signals[sweep->signals[i]].name, other));
    fprintf(m->out, "\n    %s_COUNT\n};\n", capitals);
    if (sweep->every > 0)
        fprintf(m->out, "#define %s_EVERY_US %.0fu\n", capitals, 1e6 * sweep->every);
    fprintf(m->out, "static const TL_ROM tl_sweep_entry %s_entries[] = {", c_name(sweep->name, known));
    for (int i = 0; i < sweep->signal_count; i++) {
        fprintf(m->out, i > 0 ? "," : "");
        put_entry(m, sweep, sweep->signals[i]);
    }
    fprintf(m->out, "\n};\n");
    fprintf(m->out, "/* samples: room for 2 * %s_COUNT%s. */\n", capitals,
            sweep->sleep ? "; the ADC is off between sweeps" : "");
    fprintf(m->out, "static inline tl_status %s_init(tl_sweep *sweep, tl_sample *samples)\n{\n", known);
    fprintf(m->out, "    const tl_status status = tl_sweep_init(sweep, %s_entries, %s_COUNT, samples);\n",
            known, capitals);
    if (sweep->sleep)
        fprintf(m->out, "    if (status == TL_OK)\n        sweep->sleeps = true;\n");
    fprintf(m->out, "    return status;\n}\n");
}
