/* SPDX-License-Identifier: MIT */
/*
 * Analog multiplexers in front of one converter channel, in two phases: after switching, the common line
 * settles through source and switch from the worst neighbour's level; during acquisition the sampling
 * capacitor is connected to it too and drags it back. Both phases are solved exactly as one network
 * (src/circuit). More inputs than one part has make a tree of equal parts: one switch and one common line
 * more each level.
 */
#include "circuit/netlist.h"
#include "sizing/sizing.h"
#include <stdio.h>
#include <string.h>

enum { LEVELS_MOST = 3, NODES_MOST = LEVELS_MOST + 1 };

tl_mux_requirement tl_mux_requirement_default(void)
{
    return (tl_mux_requirement){.inputs = 8,
                                .used = NAN,
                                .on_ohms.nominal = NAN,
                                .conversion = 1e-6,
                                .enable_low = 1,
                                .converter = unknown_converter};
}

/* --- one input's way --- */

typedef struct {
    double ohms; /* of its source */
    tl_net *net;
    tl_island *island;
    tl_transient *apart, *joined; /* the lines alone; with the sampling capacitor */
    int sampled;
} mux_way;

static void way_begin(mux_way *way, const tl_mux_requirement *w, double ohms, int levels)
{
    static const bool open[1] = {false}, closed[1] = {true};
    const tl_net_state before = {NULL, open}, during = {NULL, closed};
    *way = (mux_way){.ohms = ohms, .net = tl_net_new()};
    tl_net *net = way->net;
    const int contact = tl_net_add_contact(net, "sampling");
    int line = TL_NET_GROUND; /* the source at rest */
    for (int level = 0; level < levels; level++) {
        const int next = tl_net_add_node(net, "common");
        const double farads = w->common_farads + (level == levels - 1 ? w->converter.pin_farads : 0);
        tl_net_add_resistor(net, "switch", line, next,
                            tl_net_fixed(w->on_ohms.high + (level == 0 ? ohms : 0)));
        tl_net_add_capacitor(net, "common line", next, TL_NET_GROUND, tl_net_fixed(fmax(farads, 1e-15)));
        line = next;
    }
    way->sampled = tl_net_add_node(net, "sampled");
    tl_net_condition_part(net,
                          tl_net_add_resistor(net, "sampling switch", line, way->sampled,
                                              tl_net_fixed(w->converter.switch_ohms)),
                          TL_WHEN_CLOSED, contact);
    tl_net_add_capacitor(net, "sampling", way->sampled, TL_NET_GROUND,
                         tl_net_fixed(w->converter.sample_farads));
    way->island = tl_island_new(net, TL_VIEW_BELIEVED, line);
    way->apart = tl_transient_new(way->island, &before);
    way->joined = tl_transient_new(way->island, &during);
}

static void way_end(mux_way *way)
{
    tl_transient_free(way->apart);
    tl_transient_free(way->joined);
    tl_island_free(way->island);
    tl_net_free(way->net);
}

/* Share of a full span that is left on the sampling capacitor: dwell apart, then this many acquisitions one
 * after another. */
static double share_left(const mux_way *way, double dwell, double acquisition, int acquisitions)
{
    double volts[NODES_MOST];
    for (int i = 0; i < NODES_MOST; i++)
        volts[i] = 1; /* the neighbour's level; the target is 0 */
    tl_transient_step(way->apart, dwell, volts);
    for (int i = 0; i < acquisitions; i++)
        tl_transient_step(way->joined, acquisition, volts);
    return fabs(volts[tl_island_index(way->island, way->sampled)]);
}

/* What is searched for: either the dwell with the acquisition given, or the acquisition with the dwell given.
 */
typedef struct {
    const mux_way *way;
    double dwell, acquisition; /* the one that is NAN is searched for */
    int acquisitions;
} timing;

static double left_with(const timing *t, double seconds)
{
    return share_left(t->way, or_else(t->dwell, seconds), or_else(t->acquisition, seconds), t->acquisitions);
}

/* The shortest time that leaves so little, by doubling and halving; INFINITY where none does. */
static double least_time(const timing *t, double wanted)
{
    double low = 0, high = 1e-9;
    if (left_with(t, 0) <= wanted)
        return 0;
    while (left_with(t, high) > wanted) {
        low = high;
        high *= 2;
        if (high > 10)
            return INFINITY;
    }
    while (high - low > 1e-7 * high) {
        const double middle = (low + high) / 2;
        if (left_with(t, middle) > wanted)
            low = middle;
        else
            high = middle;
    }
    return high;
}

/* --- all inputs --- */

typedef struct {
    const tl_mux_requirement *w;
    mux_way ways[TL_VALUES_MOST];
    int count, worst;          /* different sources; the one with most ohms */
    int times[TL_VALUES_MOST]; /* this many inputs have each */
    double used, wanted;       /* inputs; share of a span that may be left */
    int levels;
} mux_set;

static int levels_for(double inputs, double used)
{
    int levels = 1;
    for (double reach = inputs; reach < used && levels <= LEVELS_MOST; reach *= inputs)
        levels++;
    return levels;
}

static void set_begin(mux_set *s, const tl_mux_requirement *w)
{
    *s = (mux_set){.w = w,
                   .used = or_else(w->used, fmax(w->inputs, w->source_ohms.count)),
                   .wanted = 0.5 * ldexp(1, -(int)w->converter.bits)};
    s->levels = levels_for(w->inputs, s->used);
    for (int i = 0; i < w->source_ohms.count; i++) {
        int at = 0;
        while (at < s->count && s->ways[at].ohms != w->source_ohms.of[i])
            at++;
        if (at == s->count)
            way_begin(&s->ways[s->count++], w, w->source_ohms.of[i], s->levels);
        s->times[at]++;
        if (s->ways[at].ohms > s->ways[s->worst].ohms)
            s->worst = at;
    }
    s->times[s->worst] += (int)s->used - w->source_ohms.count; /* those that were not told are as the worst */
}

static void set_end(mux_set *s)
{
    for (int i = 0; i < s->count; i++)
        way_end(&s->ways[i]);
}

/* The shortest acquisition on offer that is enough, any where nothing is said of the offers; INFINITY for
 * none. */
static double acquisition_after(const mux_set *s, const mux_way *way, double dwell, int acquisitions)
{
    const tl_values *offered = &s->w->offered;
    const timing t = {way, dwell, NAN, acquisitions};
    double least = INFINITY;
    if (offered->count == 0)
        return least_time(&t, s->wanted);
    for (int i = 0; i < offered->count; i++) {
        if (offered->of[i] < least && offered->of[i] <= s->w->converter.acquisition &&
            left_with(&t, offered->of[i]) <= s->wanted)
            least = offered->of[i];
    }
    return least;
}

/* One answer: a dwell that the part has for all, and every input's own acquisition. */
typedef struct {
    double dwell, acquisition[TL_VALUES_MOST], scan;
    int acquisitions;
} mux_pace;

static mux_pace pace_with(const mux_set *s, double dwell, int acquisitions)
{
    mux_pace p = {.dwell = dwell, .acquisitions = acquisitions};
    for (int i = 0; i < s->count; i++) {
        p.acquisition[i] = acquisition_after(s, &s->ways[i], dwell, acquisitions);
        p.scan += s->times[i] * (dwell + acquisitions * (p.acquisition[i] + s->w->conversion));
    }
    return p;
}

/* Dwell and a shorter acquisition are one problem: of all pairs that leave so little, the one that scans in
 * the least time. Where even the longest on offer is too short by itself, it is that one, with its dwell. */
static mux_pace best_pace(const mux_set *s, double alone)
{
    enum { STEPS = 60 };
    const double longest = s->w->converter.acquisition;
    const tl_values *offered = &s->w->offered;
    const int tries = offered->count > 0 ? offered->count : STEPS;
    mux_pace best = {.scan = INFINITY};
    for (int i = 1; i <= tries; i++) {
        const double acquisition = offered->count > 0 ? offered->of[i - 1] : fmin(alone, longest) * i / STEPS;
        const timing t = {&s->ways[s->worst], NAN, acquisition, 1};
        const double dwell = acquisition <= longest ? least_time(&t, s->wanted) : INFINITY;
        if (!(dwell > 0 && isfinite(dwell)))
            continue;
        const mux_pace p = pace_with(s, dwell * (1 + 1e-6), 1);
        if (p.scan < best.scan)
            best = p;
    }
    return best;
}

/* --- choices --- */

static double leakage_cost(const mux_set *s)
{
    const tl_mux_requirement *w = s->w;
    double volts = 0;
    for (int level = 1; level <= s->levels; level++)
        volts += (w->inputs - 1) * w->off_leakage * (s->ways[s->worst].ohms + level * w->on_ohms.high);
    return volts + w->pin_leakage * (s->ways[s->worst].ohms + s->levels * w->on_ohms.high);
}

static void plan_of(const mux_set *s, const mux_pace *p, tl_choice *c)
{
    char lines[TL_CHOICE_TEXT];
    int length =
        snprintf(lines, sizeof lines, "dwell: %.9g us  # of the multiplexer", ceil(1e9 * p->dwell) / 1e3);
    for (int i = 0; i < s->count && length < (int)sizeof lines - 100; i++) {
        length += snprintf(lines + length, sizeof lines - (size_t)length,
                           "\nacquisition: %.9g us  # at least, of %s", ceil(1e9 * p->acquisition[i]) / 1e3,
                           s->count == 1 ? "its signals" : "a signal behind ");
        if (s->count > 1)
            length += snprintf(lines + length, sizeof lines - (size_t)length, "%s",
                               say(s->ways[i].ohms, TL_DIM_OHM));
    }
    choice_plan(c, "%s", lines);
}

static void add_pace(const mux_set *s, const char *name, const mux_pace *p, double score,
                     tl_size_result *answer)
{
    const tl_mux_requirement *w = s->w;
    const double codes = ldexp(1, (int)w->converter.bits), leakage = leakage_cost(s);
    const double acquisition = p->acquisition[s->worst];
    tl_choice c = {.way = name, .score = score, .conversions = p->acquisitions};
    choice_figure(&c, TL_FIG_DWELL, p->dwell, NAN);
    choice_figure(&c, TL_FIG_ACQUISITION, acquisition, w->converter.acquisition);
    if (isfinite(acquisition))
        choice_figure(&c, TL_FIG_CROSSTALK_LEFT,
                      codes * share_left(&s->ways[s->worst], p->dwell, acquisition, p->acquisitions), NAN);
    choice_figure(&c, TL_FIG_LEAKAGE_COSTS, leakage, NAN);
    if (is_said(w->converter.reference))
        choice_figure(&c, TL_FIG_OF_IT_IN_COUNTS, codes * leakage / w->converter.reference, NAN);
    choice_figure(&c, TL_FIG_ONE_CHANNEL, p->dwell + p->acquisitions * (acquisition + w->conversion), NAN);
    choice_figure(&c, TL_FIG_SCANS_A_SECOND, 1 / p->scan, w->rate > 0 ? w->rate : (double)NAN);
    plan_of(s, p, &c);
    if (isinf(acquisition))
        result_reject(answer, &c, "%s: no offered acquisition time is long enough; the longest is %s", name,
                      say(w->converter.acquisition, TL_DIM_SECOND));
    else if (result_takes(answer, &c))
        result_offer(answer, &c);
    else if (figure_broken(&c.figure[1]))
        result_reject(answer, &c, "%s: needs an acquisition time of %s; the longest is %s", name,
                      say(acquisition, TL_DIM_SECOND), say(w->converter.acquisition, TL_DIM_SECOND));
    else
        result_reject(answer, &c, "%s: %s scans per second, required %s", name,
                      say(1 / p->scan, TL_DIM_HERTZ), say(w->rate, TL_DIM_HERTZ));
}

/* --- notes --- */

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

/* This many of them, from those that the signals are wired to down to the one at the pin. */
static void note_parts(const mux_set *s, tl_size_result *answer)
{
    char text[100] = "";
    double parts = 0, wired = s->used;
    size_t length = 0;
    for (int level = 0; level < s->levels; level++) {
        wired = ceil(wired / s->w->inputs);
        parts += wired;
        length += (size_t)snprintf(text + length, sizeof text - length, "%s%.0f", level > 0 ? " behind " : "",
                                   wired);
    }
    result_exact(answer, "parts", parts, TL_DIM_NUMBER);
    result_exact(answer, "select lines", s->levels * select_lines(s->w->inputs), TL_DIM_NUMBER);
    if (s->levels > 1)
        result_note(answer,
                    "A tree of %.0f parts: %s. Each level shares its %d select lines; a signal passes "
                    "%d switches, and the off inputs of %d parts leak into it.",
                    parts, text, select_lines(s->w->inputs), s->levels, s->levels);
    const double left = parts * s->w->inputs - s->used - (parts - 1);
    if (left > 0)
        result_note(answer,
                    "Wire the %.0f unused inputs to ground: an open input floats and its "
                    "leakage reaches the others.",
                    left);
}

static bool is_sensible(const tl_mux_requirement *w)
{
    const double used = or_else(w->used, fmax(w->inputs, w->source_ohms.count));
    bool good = w->source_ohms.count >= 1 && is_range(&w->on_ohms) && w->on_ohms.low >= 0;
    for (int i = 0; i < w->source_ohms.count; i++)
        good = good && w->source_ohms.of[i] >= 0 && w->source_ohms.of[i] + w->on_ohms.high > 0;
    for (int i = 0; i < w->offered.count; i++)
        good = good && w->offered.of[i] > 0;
    return good && w->inputs >= 1 && w->inputs <= 64 && w->inputs == floor(w->inputs) && used >= 1 &&
           used <= TL_MUX_INPUTS_MOST && used == floor(used) && used >= w->source_ohms.count &&
           levels_for(w->inputs, used) <= LEVELS_MOST && w->off_leakage >= 0 && w->pin_leakage >= 0 &&
           w->common_farads >= 0 && w->converter.pin_farads >= 0 && w->rate >= 0 && w->conversion >= 0 &&
           w->converter.sample_farads > 0 && w->converter.switch_ohms > 0 && w->converter.acquisition > 0 &&
           w->converter.bits >= 4 && w->converter.bits <= 24;
}

/* Acquisition alone, of the worst input: by the safe closed form tau = R (C of the lines + Cs) + Rs Cs, every
 * capacitor through all resistance, and exactly. */
static double tell_alone(const mux_set *s, tl_size_result *answer)
{
    const tl_mux_requirement *w = s->w;
    const double ohms = s->ways[s->worst].ohms + s->levels * w->on_ohms.high, cs = w->converter.sample_farads;
    const double lines = s->levels * w->common_farads + w->converter.pin_farads;
    const double safe =
        (ohms * (lines + cs) + w->converter.switch_ohms * cs) * log(ldexp(1, (int)w->converter.bits + 1));
    const timing alone = {&s->ways[s->worst], 0, NAN, 1};
    const double exact = least_time(&alone, s->wanted);
    result_note(answer, "The closed formula gives an acquisition time of %s; the figures below are exact.",
                say(safe, TL_DIM_SECOND));
    result_exact(answer, "acquisition, safe closed form", safe, TL_DIM_SECOND);
    result_exact(answer, "acquisition alone", exact, TL_DIM_SECOND);
    return exact;
}

void tl_size_mux(const tl_mux_requirement *w, tl_size_result *answer)
{
    if (!is_sensible(w)) {
        result_refuse(answer, TL_SIZE_NONSENSE,
                      "a multiplexer needs 1 to 64 inputs per part, at most %d in all in %d levels, its "
                      "on-resistance, the source resistance, and the ADC's capacitor, switch and "
                      "acquisition (or a board)",
                      TL_MUX_INPUTS_MOST, LEVELS_MOST);
        return;
    }
    mux_set s;
    set_begin(&s, w);
    note_parts(&s, answer);
    const double alone = tell_alone(&s, answer);
    const mux_pace at_once = pace_with(&s, 0, 1), twice = pace_with(&s, 0, 2), shorter = best_pace(&s, alone);
    add_pace(&s, "acquisition alone", &at_once, 1 / at_once.scan, answer);
    if (isfinite(shorter.scan))
        add_pace(&s, "dwell before a shorter acquisition", &shorter, 1 / shorter.scan, answer);
    else if (alone > w->converter.acquisition)
        result_reject(
            answer, NULL,
            "dwell before a shorter acquisition: %s disturbs the line too much, however long the dwell",
            say(w->converter.acquisition, TL_DIM_SECOND));
    add_pace(&s, "one throw-away conversion", &twice, 1 / twice.scan, answer);
    set_end(&s);
    if (answer->count > 0)
        snprintf(answer->reason, sizeof answer->reason, "%s. It scans all inputs in the shortest time.",
                 answer->choices[0].way);
    note_truth_table(w, answer);
    if (answer->count == 0)
        result_refuse(answer, TL_SIZE_IMPOSSIBLE,
                      "not at this rate, with this source resistance and acquisition");
}
