/* SPDX-License-Identifier: MIT */
/* What several signals share: multiplexers, converters on buses. */
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
    fprintf(m->out, "static const TL_ROM tl_mux_lines %s_mux = {TL_MEMBER(select) {",
            c_name(mux->name, known));
    for (int s = 0; s < mux->select_count; s++) {
        fprintf(m->out, s > 0 ? ", " : "");
        put_holder(m, &mux->select[s]);
    }
    fprintf(m->out, "}, TL_MEMBER(select_count) %d, TL_MEMBER(enable) ", mux->select_count);
    put_holder(m, &mux->enable);
    fprintf(m->out, ",\n    TL_MEMBER(enable_high) %s, TL_MEMBER(dwell) TL_SPAN_US(%.0fu), TL_MEMBER(into) ",
            mux->part->enable == 2 ? "true" : "false", ceil(1e6 * dwell_of(m, which)));
    if (common->mux != TL_NONE)
        fprintf(m->out, "&%s_mux, TL_MEMBER(into_input) %d};\n",
                c_name(m->plan->muxes[common->mux].name, known), common->input);
    else
        fprintf(m->out, "0, TL_MEMBER(into_input) 0};\n");
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
        fprintf(m->out,
                "static const TL_ROM tl_external %s_converter = {TL_MEMBER(kind) %s,\n    TL_MEMBER(bus) %u, "
                "TL_MEMBER(seat) ",
                c_name(c->name, known), e.kind == TL_EXTERNAL_I2C ? "TL_EXTERNAL_I2C" : "TL_EXTERNAL_SPI",
                e.bus);
        if (e.kind == TL_EXTERNAL_I2C)
            fprintf(m->out, "0x%02x", e.seat);
        else
            put_pin(m, e.seat);
        fprintf(
            m->out,
            ",\n    TL_MEMBER(word) {TL_MEMBER(bits) %u, TL_MEMBER(width) %u, TL_MEMBER(align) %u, "
            "TL_MEMBER(sign) %u, "
            "TL_MEMBER(sign_filled) %s},\n    TL_MEMBER(byte_order) %u, TL_MEMBER(longest) TL_SPAN_US(%luu), "
            "TL_MEMBER(earliest) TL_SPAN_US(%luu), TL_MEMBER(settings_bits) %u,\n    TL_MEMBER(settings) %u, "
            "TL_MEMBER(result) "
            "%u, TL_MEMBER(ready) %u, TL_MEMBER(ready_bits) %u, TL_MEMBER(ready_bit) %u,\n    "
            "TL_MEMBER(ready_when) "
            "%s, TL_MEMBER(zeros) %u, TL_MEMBER(take) %u};\n",
            e.word.bits, e.word.width, e.word.align, e.word.sign, e.word.sign_filled ? "true" : "false",
            e.byte_order, (unsigned long)e.longest, (unsigned long)e.earliest, e.settings_bits, e.settings,
            e.result, e.ready, e.ready_bits, e.ready_bit, e.ready_when ? "true" : "false", e.zeros, e.take);
    }
}
