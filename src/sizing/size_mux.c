/*
 * An analog multiplexer in front of one converter channel, in two phases: after switching, the common line
 * settles through source and switch from the worst neighbour's level; during acquisition the sampling
 * capacitor hangs on it too and drags it back. Both phases are solved exactly as one network of two
 * capacitors (src/circuit).
 */
#include "sizing/sizing.h"
#include "tinyladder/design/netlist.h"
#include <stdio.h>
#include <string.h>

tl_mux_requirement tl_mux_requirement_default(void)
{
    return (tl_mux_requirement){
        .inputs = 8,
        .used = NAN,
        .on_ohms.nominal = NAN,
        .source_ohms = NAN,
        .conversion = 1e-6,
        .enable_low = 1,
        .converter = {
            .reference = NAN, .bits = 12, .sample_farads = NAN, .switch_ohms = NAN, .acquisition = NAN}};
}

typedef struct {
    tl_net *net;
    tl_island *island;
    int common, sampled;
} mux_net;

static mux_net mux_net_new(const tl_mux_requirement *w)
{
    mux_net m = {.net = tl_net_new()};
    const int contact = tl_net_add_contact(m.net, "sampling");
    m.common = tl_net_add_node(m.net, "common");
    m.sampled = tl_net_add_node(m.net, "sampled");
    tl_net_add_resistor(m.net, "source and switch", TL_NET_GROUND, m.common,
                        tl_net_fixed(w->source_ohms + w->on_ohms.high));
    tl_net_add_capacitor(m.net, "common line", m.common, TL_NET_GROUND,
                         tl_net_fixed(fmax(w->common_farads, 1e-15)));
    tl_net_condition_part(m.net,
                          tl_net_add_resistor(m.net, "sampling switch", m.common, m.sampled,
                                              tl_net_fixed(w->converter.switch_ohms)),
                          TL_WHEN_CLOSED, contact);
    tl_net_add_capacitor(m.net, "sampling", m.sampled, TL_NET_GROUND,
                         tl_net_fixed(w->converter.sample_farads));
    m.island = tl_island_new(m.net, TL_VIEW_BELIEVED, m.common);
    return m;
}

/* Share of a full span that is left on the sampling capacitor: dwell apart, then so many acquisitions one
 * after another. */
static double share_left(const mux_net *m, double dwell, double acquisition, int acquisitions)
{
    static const bool apart[1] = {false}, joined[1] = {true};
    const tl_net_state before = {NULL, apart}, during = {NULL, joined};
    tl_transient *settle = tl_transient_new(m->island, &before),
                 *acquire = tl_transient_new(m->island, &during);
    double volts[2];
    volts[tl_island_index(m->island, m->common)] = 1; /* the neighbour's level; the target is 0 */
    volts[tl_island_index(m->island, m->sampled)] = 1;
    tl_transient_step(settle, dwell, volts);
    for (int i = 0; i < acquisitions; i++)
        tl_transient_step(acquire, acquisition, volts);
    tl_transient_free(settle);
    tl_transient_free(acquire);
    return fabs(volts[tl_island_index(m->island, m->sampled)]);
}

/* What is searched for: either the dwell with the acquisition given, or the acquisition with the dwell given.
 */
typedef struct {
    const mux_net *net;
    double dwell, acquisition; /* the one that is NAN is searched for */
    int acquisitions;
} timing;

static double left_with(const timing *t, double seconds)
{
    return share_left(t->net, or_else(t->dwell, seconds), or_else(t->acquisition, seconds), t->acquisitions);
}

/* The shortest time that leaves so little, by doubling and halving; INFINITY where none does. */
static double least_time(const timing *t, double wanted)
{
    double low = 0, high = 1e-9;
    if (left_with(t, 0) <= wanted)
        return 0;
    while (left_with(t, high) > wanted) {
        high *= 2;
        if (high > 10)
            return INFINITY;
    }
    for (int i = 0; i < 50; i++) {
        const double middle = (low + high) / 2;
        if (left_with(t, middle) > wanted)
            low = middle;
        else
            high = middle;
    }
    return high;
}

static void add_way(const tl_mux_requirement *w, const mux_net *m, const char *name, double dwell,
                    double acquisition, int conversions, double score, tl_size_result *answer)
{
    const double codes = ldexp(1, (int)w->converter.bits), used = or_else(w->used, w->inputs);
    const double channel = dwell + conversions * (acquisition + w->conversion), scan = used * channel;
    const double leakage =
        ((w->inputs - 1) * w->off_leakage + w->pin_leakage) * (w->source_ohms + w->on_ohms.high);
    tl_choice c = {.way = name, .score = score};
    choice_figure(&c, "dwell", dwell, TL_DIM_SECOND, TL_HIGHEST, NAN);
    choice_figure(&c, "acquisition", acquisition, TL_DIM_SECOND, TL_HIGHEST, w->converter.acquisition);
    choice_figure(&c, "crosstalk left", codes * share_left(m, dwell, acquisition, conversions), TL_DIM_COUNT,
                  TL_HIGHEST, NAN);
    choice_figure(&c, "leakage costs", leakage, TL_DIM_VOLT, TL_HIGHEST, NAN);
    if (is_said(w->converter.reference))
        choice_figure(&c, "of it in counts", codes * leakage / w->converter.reference, TL_DIM_COUNT,
                      TL_HIGHEST, NAN);
    choice_figure(&c, "one channel", channel, TL_DIM_SECOND, TL_HIGHEST, NAN);
    choice_figure(&c, "scans a second", 1 / scan, TL_DIM_HERTZ, TL_LOWEST,
                  w->rate > 0 ? w->rate : (double)NAN);
    choice_plan(&c,
                "dwell: %.3f us      # of the multiplexer\nacquisition: %.3f us  # at least, of its signals",
                ceil(1e9 * dwell) / 1e3, ceil(1e9 * acquisition) / 1e3);
    if (choice_fits(&c))
        result_offer(answer, &c);
    else if (figure_broken(&c.figure[1]))
        result_reject(answer, &c, "%s: wants an acquisition of %s, the longest is %s", name,
                      say(acquisition, TL_DIM_SECOND), say(w->converter.acquisition, TL_DIM_SECOND));
    else
        result_reject(answer, &c, "%s: %s scans a second, %s wanted", name, say(1 / scan, TL_DIM_HERTZ),
                      say(w->rate, TL_DIM_HERTZ));
}

/* Dwell and a shorter acquisition are one problem: of all pairs that leave so little, the one that takes the
 * least time. Where even the longest on offer is too short by itself, it is that one, with its dwell. */
static double best_pair(const mux_net *m, double alone, double longest, double wanted, double *dwell)
{
    enum { STEPS = 60 };
    double best = NAN, least = INFINITY;
    for (int i = alone > longest ? STEPS : 1; i <= STEPS; i++) {
        const double acquisition = fmin(alone, longest) * i / STEPS;
        const timing t = {m, NAN, acquisition, 1};
        const double wait = least_time(&t, wanted);
        if (wait + acquisition >= least)
            continue;
        least = wait + acquisition;
        best = acquisition;
        *dwell = wait;
    }
    return best;
}

static int select_lines(double inputs)
{
    int lines = 0;
    while (ldexp(1, lines) < inputs)
        lines++;
    return lines;
}

/* `0 000  1 001  2 010 ..`, the highest select line first. */
static void note_truth_table(const tl_mux_requirement *w, tl_size_result *answer)
{
    const int lines = select_lines(w->inputs);
    char text[240] = "";
    size_t length = 0;
    for (int input = 0; input < (int)w->inputs && length + 24 < sizeof text; input++) {
        length += (size_t)snprintf(text + length, sizeof text - length, "  %d:", input);
        for (int line = lines - 1; line >= 0; line--)
            text[length++] = (char)('0' + (input >> line & 1));
        text[length] = '\0';
    }
    result_note(answer, "%d select lines, enable %s. Input and select lines, the highest first:%s%s", lines,
                w->enable_low != 0 ? "low" : "high", text, w->inputs > 16 ? " .." : "");
}

void tl_size_mux(const tl_mux_requirement *w, tl_size_result *answer)
{
    const double used = or_else(w->used, w->inputs);
    if (!(w->inputs >= 1 && w->inputs <= 64) || w->inputs != floor(w->inputs) ||
        !(used >= 1 && used <= w->inputs) || used != floor(used) || !is_range(&w->on_ohms) ||
        w->on_ohms.low < 0 || !(w->source_ohms >= 0) || w->source_ohms + w->on_ohms.high <= 0 ||
        w->off_leakage < 0 || w->common_farads < 0 || w->rate < 0 || !(w->converter.sample_farads > 0) ||
        !(w->converter.switch_ohms > 0) || !(w->converter.acquisition > 0) ||
        !(w->converter.bits >= 4 && w->converter.bits <= 24)) {
        result_refuse(answer, TL_SIZE_NONSENSE,
                      "a multiplexer needs 1 to 64 inputs, its on-resistance, the source resistance, and the "
                      "converter's capacitor, switch and acquisition (or a board)");
        return;
    }
    mux_net m = mux_net_new(w);
    /* Acquisition alone, by the safe closed form: tau = R (Cm + Cs) + Rs Cs. */
    const double ohms = w->source_ohms + w->on_ohms.high, cs = w->converter.sample_farads;
    const double tau = ohms * (w->common_farads + cs) + w->converter.switch_ohms * cs;
    result_note(answer, "The safe closed form asks for an acquisition of %s; the figures below are exact.",
                say(tau * log(ldexp(1, (int)w->converter.bits + 1)), TL_DIM_SECOND));
    result_exact(answer, "select lines", select_lines(w->inputs), TL_DIM_NUMBER);
    result_exact(answer, "acquisition, safe closed form", tau * log(ldexp(1, (int)w->converter.bits + 1)),
                 TL_DIM_SECOND);
    /* The acquisition that is enough by itself; a shorter one behind a dwell; and so that two in a row are
     * enough. */
    const double wanted = 0.5 * ldexp(1, -(int)w->converter.bits);
    const timing alone = {&m, 0, NAN, 1}, twice = {&m, 0, NAN, 2};
    const double acquisition = least_time(&alone, wanted);
    result_exact(answer, "acquisition alone", acquisition, TL_DIM_SECOND);
    double dwell = INFINITY;
    const double shorter = best_pair(&m, acquisition, w->converter.acquisition, wanted, &dwell);
    add_way(w, &m, "acquisition alone", 0, acquisition, 1, 3, answer);
    if (isnan(shorter))
        result_reject(
            answer, NULL,
            "dwell before a shorter acquisition: %s drags the line back too far, however long the dwell",
            say(w->converter.acquisition, TL_DIM_SECOND));
    else if (dwell > 0)
        add_way(w, &m, "dwell before a shorter acquisition", dwell, shorter, 1, 2, answer);
    add_way(w, &m, "one throw-away conversion", 0, least_time(&twice, wanted), 2, 1, answer);
    tl_island_free(m.island);
    tl_net_free(m.net);
    note_truth_table(w, answer);
    if (used < w->inputs)
        result_note(answer,
                    "Tie inputs %.0f to %.0f to ground: an open input reads garbage and its leakage reaches "
                    "the others.",
                    used, w->inputs - 1);
    if (answer->count == 0)
        result_refuse(answer, TL_SIZE_IMPOSSIBLE,
                      "not at this rate, with this source resistance and acquisition");
}
