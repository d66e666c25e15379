/* SPDX-License-Identifier: MIT */
/* What each kind of cause is called, and what mends it. One row a kind; `%p` is the part, `%v` the value. */
#include "explain/cause_words.h"
#include <math.h>
#include <stdio.h>
#include <string.h>

static const struct {
    const char *kind; /* or how it begins, with a `*` */
    const char *cause, *fix;
} words[] = {
    {"sound", "nothing is wrong: all is within tolerance", "nothing"},
    {"other-source", "the source was not what you said", "measure what the source really does"},
    {"open", "%p is open, or a wire to it is off", "check the joints and wires of %p"},
    {"pull-missing", "%p is missing or open", "fit %p, and check its joints"},
    {"swapped-legs", "the two resistors of %p are in each other's place", "exchange the resistors of %p"},
    {"wrong-rail", "%p is connected to %v", "connect %p as the plan says"},
    {"same-rail", "%p closes to %v", "connect %p as the plan says"},
    {"supply-missing", "supply %p is missing", "measure supply %p, and connect it"},
    {"supply-shorted", "supply %p is shorted to ground", "find the short circuit of supply %p"},
    {"supply-wrong", "supply %p is %v", "set supply %p"},
    {"ground-open", "%p is open: the ground wire is off", "connect the ground of %p"},
    {"ends-swapped", "the ends of %p are exchanged", "exchange the two end wires of %p"},
    {"reversed", "%p is the wrong way round", "turn %p round"},
    {"times-10", "%p is ten times too large (%v)", "fit the value in the plan"},
    {"tenth", "%p is ten times too small (%v)", "fit the value in the plan"},
    {"neighbour", "%p has another value (%v)", "fit the value in the plan"},
    {"select-swapped", "the lines %p are exchanged", "exchange the wires of %p"},
    {"enable-off", "%p is off", "check the wire and the level of %p"},
    {"cold-joint", "a joint of %p has resistance (about %v)", "solder or clean the joints of %p"},
    {"loose", "%p comes and goes", "solder or clean the joints of %p"},
    {"swapped-pins", "the wires of %p are exchanged", "exchange the wires of %p"},
    {"reference", "the firmware converts %p against another reference (%v)", "set the reference in the plan"},
    {"range", "the firmware sets another range of %p (%v)", "set the range in the plan"},
    {"alignment", "the firmware takes words of %p with the wrong alignment", "set the alignment in the plan"},
    {"acquisition", "the acquisition of %p is too short (%v)", "set the acquisition in the plan"},
    {"address", "%p has another address (%v)", "check the address pins of %p"},
    {"byte-order", "the firmware swaps the two bytes of %p", "join the bytes in the other order"},
    {"sign", "the firmware has the sign of %p wrong", "take the sign as the plan says"},
    {"eight-bit", "the firmware keeps only the low byte of %p", "use a type of 16 bits or more"},
    {"bits", "the firmware takes %p for an ADC of other bits (%v)", "use the bits in the plan"},
    {"inverted", "the firmware counts %p from the other end", "subtract nothing from the count"},
    {"integer-division", "the firmware divides %p in whole numbers (%v)", "multiply before you divide"},
    {"step-convention", "the firmware divides %p by its last count", "divide by the number of steps"},
    {"wrong-constant", "the firmware has a wrong constant for %p (%v of the right value)",
     "use the header: tinyladder header, or header --verify"},
    {"noise", "%p picks up hum", "shield or shorten the wire of %p, or add a filter"},
    {"meter-loading", "a meter is left on %p", "take the meter off"},
    {"stuck-low", "%p stays low", "check what else drives %p, and its pin"},
    {"stuck-high", "%p stays high", "check what else drives %p, and its pin"},
    {"stuck-open", "%p never closes", "replace the contact, or check its wires"},
    {"stuck-closed", "%p never opens", "replace the contact, or look for a short circuit"},
    {"short-to-*", "%p touches %t", "find the short circuit from %p to %t"},
    {"short", "%p is bridged", "find the short circuit across %p"},
    {"leak-to-*", "%p leaks to %t (about %v)", "clean and dry the board around %p"},
};

static const char *row_of(const char *kind, bool fix)
{
    for (size_t i = 0; i < sizeof words / sizeof words[0]; i++) {
        const char *star = strchr(words[i].kind, '*');
        if (star != NULL ? strncmp(kind, words[i].kind, (size_t)(star - words[i].kind)) == 0
                         : strcmp(kind, words[i].kind) == 0)
            return fix ? words[i].fix : words[i].cause;
    }
    return "%p";
}

static void put(const hypothesis *h, const char *form, char text[WORDS_LONGEST])
{
    const char *to = strstr(h->kind, "-to-"), *plus = strchr(h->part, '+');
    char part[CAUSE_TEXT + 8];
    size_t used = 0;
    snprintf(part, sizeof part, "%.*s%s%s", plus != NULL ? (int)(plus - h->part) : CAUSE_TEXT, h->part,
             plus != NULL ? " and " : "", plus != NULL ? plus + 1 : "");
    text[0] = '\0';
    for (; *form != '\0' && used < WORDS_LONGEST - 1; form++) {
        const char *piece = form[0] != '%'   ? NULL
                            : form[1] == 'p' ? part
                            : form[1] == 'v' ? h->value
                            : form[1] == 't' ? (to != NULL ? to + 4 : "")
                                             : NULL;
        used += (size_t)snprintf(text + used, WORDS_LONGEST - used, "%.*s", piece != NULL ? 200 : 1,
                                 piece != NULL ? piece : form);
        form += piece != NULL;
    }
}

static void put_cause(const hypotheses *all, int which, bool fix, char text[WORDS_LONGEST])
{
    const hypothesis *h = &all->list[which];
    if (!h->is_pair) {
        put(h, row_of(h->kind, fix), text);
        return;
    }
    char one[WORDS_LONGEST], other[WORDS_LONGEST];
    put(&all->list[h->pair[0]], row_of(all->list[h->pair[0]].kind, fix), one);
    put(&all->list[h->pair[1]], row_of(all->list[h->pair[1]].kind, fix), other);
    snprintf(text, WORDS_LONGEST, "%.115s; and %.115s", one, other);
}

void cause_in_words(const hypotheses *all, int which, char text[WORDS_LONGEST])
{
    put_cause(all, which, false, text);
}

void cause_fix(const hypotheses *all, int which, char text[WORDS_LONGEST])
{
    put_cause(all, which, true, text);
}

/* --- figures --- */

static const tl_signal *signal_of(const question *q, const figure *f)
{
    return &tl_circuit_plan(q->circuit)->signals[q->seen->situations[f->situation].signals[f->index].signal];
}

void figure_in_words(const question *q, int number, char text[WORDS_LONGEST])
{
    const figure *f = &q->figures[number];
    const situation *in = &q->seen->situations[f->situation];
    char where[24] = "";
    if (q->seen->count > 1)
        snprintf(where, sizeof where, "(%d) ", f->situation + 1);
    switch (f->kind) {
    case FIGURE_MEAN:
        snprintf(text, WORDS_LONGEST, "%s%s, %s", where, signal_of(q, f)->name,
                 signal_of(q, f)->analog ? "count" : "level");
        break;
    case FIGURE_SPREAD:
        snprintf(text, WORDS_LONGEST, "%s%s, spread of the samples", where, signal_of(q, f)->name);
        break;
    case FIGURE_SHOWN:
        snprintf(text, WORDS_LONGEST, "%s%s, shown value less that of its count", where,
                 signal_of(q, f)->name);
        break;
    case FIGURE_OUTPUT:
        snprintf(text, WORDS_LONGEST, "%s%s, load", where,
                 tl_circuit_plan(q->circuit)->outputs[in->outputs[f->index].output].name);
        break;
    case FIGURE_METER:
        snprintf(text, WORDS_LONGEST, "%smeter at %s", where, in->meters[f->index].point);
        break;
    case FIGURE_OHMS:
        snprintf(text, WORDS_LONGEST, "%sohms %s", where, in->meters[f->index].point);
        break;
    }
}

void ohms_in_words(double ohms, char text[40])
{
    char value[32];
    if (isinf(ohms))
        snprintf(text, 40, "open");
    else
        snprintf(text, 40, "%s",
                 tl_quantity_write(ohms < 0.5 ? 0 : ohms, TL_DIM_OHM, TL_ROUND_NEAREST, value));
}

void figure_value(const question *q, int number, double value, char text[40])
{
    static const char *const loads[] = {"off", "weak", "on"};
    const figure *f = &q->figures[number];
    if (fabs(value) < 5e-4)
        value = 0; /* without a sign */
    if (f->kind == FIGURE_OHMS)
        ohms_in_words(figure_ohms(value), text);
    else if (f->kind == FIGURE_METER)
        snprintf(text, 40, "%.3f V", value);
    else if (f->kind == FIGURE_OUTPUT)
        snprintf(text, 40, "%s", loads[value < 0.5 ? 0 : value < 1.5 ? 1 : 2]);
    else if (f->kind == FIGURE_SPREAD)
        snprintf(text, 40, "%.1f", expm1(value));
    else if (f->kind == FIGURE_SHOWN)
        snprintf(text, 40, "%.*f %s",
                 signal_of(q, f)->reading.decimals < 0 ? 2 : signal_of(q, f)->reading.decimals, value,
                 signal_of(q, f)->reading.unit);
    else if (value == question_missing(q, q->seen->situations[f->situation].signals[f->index].signal))
        snprintf(text, 40, "none");
    else if (signal_of(q, f)->analog)
        snprintf(text, 40, "%.0f", value);
    else
        snprintf(text, 40, "%.2g", value); /* of levels: 0, 1, and what lies between where they change */
}
