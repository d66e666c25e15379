/* SPDX-License-Identifier: MIT */
/* What a diagnosis says: causes, likeliest first, each with what it predicts beside what was seen and with
 * what mends it; then the next measurement. */
#include "cli/explain_print.h"
#include "explain/cause_words.h"
#include "explain/touch.h"
#include "printing/tables.h"
#include "tinyladder/design/rules.h"
#include <math.h>
#include <string.h>

/* A cause is printed with the figures that tell most. */
enum { FIGURES_MOST = 5, HIDDEN_MOST = 8, PREDICTED_MOST = 6 };
static const double least_probability = 0.01, telling = 2.5, wild = 4; /* spreads */

/* --- check --- */

static bool is_seen(const diagnosis *d, int signal)
{
    for (int k = 0; k < d->seen->count; k++) {
        const situation *in = &d->seen->situations[k];
        for (int i = 0; i < in->signal_count; i++) {
            if (in->signals[i].signal == signal)
                return true;
        }
    }
    return false;
}

tl_report *explain_findings(const diagnosis *d)
{
    tl_report *report = new_report();
    tl_plan_check(d->asked.circuit, report);
    tl_report_sort(report);
    for (int i = tl_report_count(report); i-- > 0;) {
        const tl_finding *f = tl_report_finding(report, i);
        if (f->severity == TL_NOTE || f->subject < 0 || !is_seen(d, f->subject))
            tl_report_drop(report, i);
    }
    return report;
}

/* --- on paper --- */

static void name_cause(const diagnosis *d, const ranked_cause *c, char text[WORDS_LONGEST])
{
    if (c->hypothesis == SOUND && !d->within) { /* as it is: just beyond what sound parts do */
        snprintf(text, WORDS_LONGEST, "no part is at fault: what you saw or said is a little off");
        return;
    }
    cause_in_words(&d->all, c->hypothesis, text);
    const char *before = "; or the same at ";
    for (int i = 0; i < c->also_count; i++) {
        const hypothesis *other = &d->all.list[c->also[i]];
        const size_t used = strlen(text);
        if (strcmp(other->kind, d->all.list[c->hypothesis].kind) != 0 ||
            hypotheses_one_point(other, &d->all.list[c->hypothesis]))
            continue;
        snprintf(text + used, WORDS_LONGEST - used, "%s%s", before, other->part);
        before = ", ";
    }
    for (int i = 0; i < c->also_count; i++) {
        char one[WORDS_LONGEST];
        const size_t used = strlen(text);
        if (strcmp(d->all.list[c->also[i]].kind, d->all.list[c->hypothesis].kind) == 0)
            continue;
        cause_in_words(&d->all, c->also[i], one);
        snprintf(text + used, WORDS_LONGEST - used, "; or %s", one);
    }
}

/* How far a figure is from what sound parts would do. */
static double off_by(const diagnosis *d, const prediction *p, int which)
{
    const double least = d->asked.figures[which].least_spread;
    return fabs(d->asked.figures[which].seen - p->mean[which]) / sqrt(p->variance[which] + least * least);
}

/* How much a figure says for a cause: that it predicts something else than sound parts do; or against it. */
static double telling_of(const diagnosis *d, const prediction *own, int which)
{
    const prediction *sound = &d->predictions[0];
    const double least = d->asked.figures[which].least_spread,
                 apart = fabs(own->mean[which] - sound->mean[which]) /
                         sqrt(sound->variance[which] + least * least),
                 against = off_by(d, own, which);
    const figure_kind kind = d->asked.figures[which].kind;
    const bool by_hand = kind == FIGURE_METER || kind == FIGURE_OHMS; /* whoever measured it looks for it */
    return against > wild ? fmax(apart, against) : by_hand ? fmax(apart, telling) : apart;
}

/* Those that say most, in the order of the question. */
static int telling_figures(const diagnosis *d, const ranked_cause *c, int chosen[FIGURES_MOST])
{
    const prediction *own = &d->predictions[c->hypothesis];
    int count = 0;
    for (int round = 0; round < FIGURES_MOST && round < d->asked.count; round++) {
        int best = -1;
        for (int i = 0; i < d->asked.count; i++) {
            bool taken = false;
            for (int k = 0; k < count; k++)
                taken = taken || chosen[k] == i;
            if (!taken && (best < 0 || telling_of(d, own, i) > telling_of(d, own, best)))
                best = i;
        }
        if (best >= 0 && (count == 0 || telling_of(d, own, best) >= telling))
            chosen[count++] = best;
    }
    for (int i = 1; i < count; i++) {
        for (int k = i; k > 0 && chosen[k - 1] > chosen[k]; k--) {
            const int kept = chosen[k];
            chosen[k] = chosen[k - 1];
            chosen[k - 1] = kept;
        }
    }
    return count;
}

/* Where an open input goes is another on each bench: a few of them do not show how far. */
static bool is_anything(const diagnosis *d, const prediction *p, int which)
{
    const figure *f = &d->asked.figures[which];
    const situation *in = &d->asked.seen->situations[f->situation];
    return f->kind == FIGURE_MEAN && p->floats[which] &&
           question_signal(&d->asked, in->signals[f->index].signal)->analog;
}

static void span_of(const diagnosis *d, const prediction *p, int which, char text[90])
{
    double least = INFINITY, most = -INFINITY;
    char low[40], high[40];
    if (is_anything(d, p, which)) {
        snprintf(text, 90, "any");
        return;
    }
    for (int i = 0; i < p->draws; i++) {
        least = fmin(least, p->all[i * d->asked.count + which]);
        most = fmax(most, p->all[i * d->asked.count + which]);
    }
    figure_value(&d->asked, which, least, low);
    figure_value(&d->asked, which, most, high);
    if (strcmp(low, high) == 0)
        snprintf(text, 90, "%s", low);
    else
        snprintf(text, 90, "%s .. %s", low, high);
}

static void print_predictions(const diagnosis *d, const ranked_cause *c)
{
    int chosen[FIGURES_MOST];
    const int count = telling_figures(d, c, chosen);
    table t;
    table_begin(&t, 4, "<<<<");
    table_heads(&t, "", "seen", "this cause", "sound parts");
    for (int i = 0; i < count; i++) {
        char what[WORDS_LONGEST], seen[40], own[90], sound[90];
        figure_in_words(&d->asked, chosen[i], what);
        figure_value(&d->asked, chosen[i], d->asked.figures[chosen[i]].seen, seen);
        span_of(d, &d->predictions[c->hypothesis], chosen[i], own);
        span_of(d, &d->predictions[0], chosen[i], sound);
        table_cell(&t, "%s", what);
        table_cell(&t, "%s", seen);
        table_cell(&t, "%s", own);
        table_cell(&t, "%s", sound);
    }
    table_end(&t, stdout, "       ");
}

static void print_cause(const diagnosis *d, int at)
{
    const ranked_cause *c = &d->causes[at];
    char text[WORDS_LONGEST], line[WORDS_LONGEST + 40];
    name_cause(d, c, text);
    snprintf(line, sizeof line, "%s%s%s", ink_on(stdout, INK_STRONG), text, ink_off(stdout));
    printf("%3.0f %%  ", 100 * c->probability);
    put_note("", "       ", line);
    if (c->hypothesis == SOUND)
        return;
    cause_fix(&d->all, c->hypothesis, text);
    snprintf(line, sizeof line, "fix: %s", text);
    put_note("       ", "       ", line);
    print_predictions(d, c);
}

static void print_hidden(const diagnosis *d)
{
    int count = 0;
    for (int i = 0; i < d->count && count < HIDDEN_MOST; i++) {
        char text[WORDS_LONGEST];
        if (d->causes[i].hypothesis < FIRST_FAULT || d->causes[i].probability < least_probability / 4)
            continue;
        if (count++ == 0)
            puts("\nThese faults could hide in it:");
        name_cause(d, &d->causes[i], text);
        printf("%3.0f %%  %s\n", 100 * d->causes[i].probability, text);
    }
}

/* To two digits: the end of an estimate has no more. */
static double about(double ohms)
{
    const double unit = ohms > 0 && isfinite(ohms) ? pow(10, floor(log10(ohms)) - 1) : 1;
    return isfinite(ohms) ? unit * round(ohms / unit) : ohms;
}

/* Two spreads to either side; a factor of ten tells nothing. */
static void put_ohms(table *t, const predicted_reading *of)
{
    char low[40], high[40];
    ohms_in_words(about(figure_ohms(of->mean - 2 * of->spread)), low);
    ohms_in_words(about(figure_ohms(of->mean + 2 * of->spread)), high);
    if (4 * of->spread > 1)
        table_cell(t, "any resistance");
    else if (strcmp(low, high) == 0)
        table_cell(t, "%s", low);
    else
        table_cell(t, "%s .. %s", low, high);
}

/* Where a source decides that nothing is said of, it is about as far as the benches went that were tried;
 * where nothing decides, it is anything. */
static void put_volts(table *t, const predicted_reading *of)
{
    const bool wide = 2 * of->spread > fmax(0.6, 0.2 * fabs(of->mean));
    if (wide && of->least > 0.5 * of->most && of->least > 0)
        table_cell(t, "about %.1f V .. %.1f V", of->least, of->most);
    else if (wide)
        table_cell(t, "any voltage");
    else
        table_cell(t, "%.3f V ± %.3f V", fabs(of->mean) < 5e-4 ? 0 : of->mean, 2 * of->spread);
}

/* What has to stay as it was while it is measured: a channel, a button. */
static void print_stays(const diagnosis *d, const next_measurement *next)
{
    const tl_plan *plan = tl_circuit_plan(d->asked.circuit);
    const situation *in = &d->asked.seen->situations[next->situation];
    if (next->selected != TL_NONE)
        printf("with %s selected, ", plan->signals[next->selected].name);
    for (int i = 0; i < in->source_count; i++) {
        const seen_source *source = &in->sources[i];
        const tl_signal *s = &plan->signals[source->signal];
        if (source->is_state && source->pressed &&
            is_of_signal(d->asked.circuit, source->signal, next->meter.node))
            printf("with %s %s, ", source->button >= 0 ? s->source.buttons[source->button].name : s->name,
                   source->button >= 0 ? "pressed" : "closed");
    }
}

static void print_next(const diagnosis *d, const next_measurement *next)
{
    table t;
    if (next == NULL) {
        puts("\nNo single voltage or resistance tells these causes apart.");
        return;
    }
    const bool ohms = next->meter.other != TL_NET_NONE;
    const char *comma = strchr(next->meter.point, ',');
    char point[210];
    if (comma == NULL)
        snprintf(point, sizeof point, "%s", next->meter.point);
    else
        snprintf(point, sizeof point, "%.*s and %s", (int)(comma - next->meter.point), next->meter.point,
                 comma + 1);
    printf("\nNext, ");
    print_stays(d, next);
    printf("%s %s%s%s",
           ohms ? "switch the power off, and measure the resistance between" : "measure the voltage at",
           ink_on(stdout, INK_STRONG), point, ink_off(stdout));
    if (d->asked.seen->count > 1)
        printf(" in situation %d", next->situation + 1);
    puts(":\n");
    table_begin(&t, 2, "<<");
    table_heads(&t, "predicted", "if");
    for (int i = 0; i < next->causes && i < PREDICTED_MOST; i++) {
        char text[WORDS_LONGEST];
        ranked_cause alone = d->causes[i];
        alone.also_count = 0;
        name_cause(d, &alone, text);
        (ohms ? put_ohms : put_volts)(&t, &next->of[i]);
        table_cell(&t, "%s", text);
    }
    table_end(&t, stdout, "  ");
}

static void print_alike(const diagnosis *d)
{
    int alike = 0;
    for (int i = 0; i < d->count; i++)
        alike += d->causes[i].alike && d->causes[i].probability >= least_probability;
    if (alike > 1 && !d->within && !d->impossible)
        printf("\nThe first %d cannot be told apart by what was seen: only how often each happens decides.\n",
               alike);
}

void explain_print(const diagnosis *d, const next_measurement *next, long most, const tl_report *findings)
{
    const tl_plan *plan = tl_circuit_plan(d->asked.circuit);
    printf("%s: %d faults tried; the likeliest on %d benches each, with parts drawn within tolerance.\n",
           plan->title, d->all.count - FIRST_FAULT, DRAWS);
    if (d->are_compared < d->were_seen)
        printf("Of the %d signals seen, %d were compared: those furthest from what sound parts give, and "
               "some of their neighbours.\n",
               d->were_seen, d->are_compared);
    for (int i = 0; i < tl_report_count(findings); i++) {
        if (i == 0)
            puts("\nCheck finds, and this may be all:");
        put_note("  ", "    ", tl_report_finding(findings, i)->cause);
    }
    if (d->impossible)
        puts("\nNo single cause explains this. The nearest:");
    putchar('\n');
    for (int i = 0; i < d->count && i < most; i++) {
        if (i > 0 && (d->causes[i].probability < least_probability || d->within))
            break;
        if (i > 0)
            putchar('\n');
        print_cause(d, i);
    }
    if (d->within)
        print_hidden(d);
    print_alike(d);
    if (d->count > 1 && !d->within && !(d->causes[0].probability > 0.97))
        print_next(d, next);
}

/* --- as JSON --- */

static json_t *figures_object(const diagnosis *d)
{
    json_t *list = json_array();
    for (int i = 0; i < d->asked.count; i++) {
        char what[WORDS_LONGEST];
        figure_in_words(&d->asked, i, what);
        json_array_append_new(list, json_pack("{s:s,s:i,s:o}", "what", what, "situation",
                                              d->asked.figures[i].situation, "seen",
                                              json_number(d->asked.figures[i].seen)));
    }
    return list;
}

static json_t *predicted_object(const diagnosis *d, const prediction *p)
{
    json_t *list = json_array();
    for (int i = 0; i < d->asked.count; i++)
        json_array_append_new(list,
                              json_pack("[o,o]", json_number(p->mean[i]), json_number(sqrt(p->variance[i]))));
    return list;
}

static json_t *cause_object(const diagnosis *d, const ranked_cause *c)
{
    const hypothesis *h = &d->all.list[c->hypothesis];
    char text[WORDS_LONGEST], fix[WORDS_LONGEST];
    json_t *also = json_array();
    for (int i = 0; i < c->also_count; i++)
        json_array_append_new(also, json_pack("{s:s,s:s}", "part", d->all.list[c->also[i]].part, "kind",
                                              d->all.list[c->also[i]].kind));
    ranked_cause alone = *c;
    alone.also_count = 0;
    name_cause(d, &alone, text);
    cause_fix(&d->all, c->hypothesis, fix);
    return json_pack("{s:s,s:s,s:s,s:s,s:o,s:o,s:b,s:s,s:s,s:o}", "part", h->part, "kind", h->kind, "value",
                     h->value, "cause", text, "probability", json_number(c->probability), "likelihood",
                     json_number(c->likelihood), "alike", c->alike, "fix", fix, "fault",
                     h->line != NULL ? h->line : "", "also", also);
}

/* From two spreads below to two above; null for open. */
static json_t *predicted_span(const next_measurement *next, int i)
{
    const bool ohms = next->meter.other != TL_NET_NONE;
    double end[2];
    for (int e = 0; e < 2; e++) {
        end[e] = next->of[i].mean + (e == 0 ? -2 : 2) * next->of[i].spread;
        end[e] = ohms ? figure_ohms(end[e]) : end[e];
    }
    return json_pack("[o,o]", json_number(end[0]), json_number(end[1]));
}

json_t *explain_object(const diagnosis *d, const next_measurement *next, long most, const tl_report *findings)
{
    const tl_plan *plan = tl_circuit_plan(d->asked.circuit);
    json_t *causes = json_array(), *found = json_array(), *where = json_null();
    for (int i = 0; i < d->count && i < most; i++) {
        json_t *one = cause_object(d, &d->causes[i]);
        json_object_set_new(one, "predicted", predicted_object(d, &d->predictions[d->causes[i].hypothesis]));
        json_array_append_new(causes, one);
    }
    for (int i = 0; i < tl_report_count(findings); i++)
        json_array_append_new(found, json_string(tl_report_finding(findings, i)->cause));
    if (next != NULL) {
        json_t *predicted = json_array();
        for (int i = 0; i < next->causes; i++)
            json_array_append_new(predicted, predicted_span(next, i));
        const char *selected = next->selected != TL_NONE ? plan->signals[next->selected].name : NULL;
        where = json_pack("{s:s,s:s,s:i,s:s?,s:o,s:o}", "point", next->meter.point, "measure",
                          next->meter.other != TL_NET_NONE ? "ohms" : "volts", "situation", next->situation,
                          "selected", selected, "gain_bits", json_number(next->gain), "predicted", predicted);
    }
    return json_pack("{s:i,s:i,s:b,s:b,s:o,s:o,s:o,s:o}", "faults_tried", d->all.count - FIRST_FAULT,
                     "signals_seen", d->were_seen, "within", d->within, "impossible", d->impossible, "seen",
                     figures_object(d), "causes", causes, "check", found, "next", where);
}
