/* SPDX-License-Identifier: MIT */
/* A measurement after the other, from the board or from a bench with a hidden fault. */
#include "cli/explain_ask.h"
#include "explain/cause_words.h"
#include "explain/rehearsal.h"
#include "printing/printing.h"
#include "reading/mystery.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

/* --- practice --- */

bool explain_hide(const explain_options *o, gathering *g, tl_report *report, hidden_fault *hidden)
{
    enum { SAMPLES = 4, OTHER_PARTS = 77000 };
    char line[MYSTERY_LINE];
    play p = {.report = report, .plan = (tl_plan *)g->plan, .circuit = g->circuit, .scene = tl_scene_new()};
    const bool good = mystery_hide(&p, (unsigned long)o->mystery, line);
    tl_scene_free(p.scene);
    hidden->all = hypotheses_of_plan(g->circuit);
    hidden->is = good ? hypotheses_find(&hidden->all, line) : -1;
    hidden->seed = OTHER_PARTS + (unsigned long)o->mystery;
    if (hidden->is < 0)
        return false;
    *g->seen = rehearsal_situations(g->circuit, SAMPLES);
    rehearsal_observe(&(rehearsal){g->circuit, &hidden->all.list[hidden->is], hidden->seed, 1}, g->seen);
    return true;
}

/* --- the dialogue --- */

/* A line of an answer: what the meter shows; nothing; `quit`, or the end. False: it is over. */
static bool read_answer(bool practice, bool ohms, double *shows, bool *empty)
{
    char line[200];
    const char *what = ohms ? "ohms, or open" : "volts";
    for (;;) {
        tl_quantity q;
        tl_text_error error = {0, ""};
        printf(practice ? "%s, or return to measure it on the bench, or quit: " : "%s, or quit: ", what);
        fflush(stdout);
        if (fgets(line, sizeof line, stdin) == NULL) {
            putchar('\n');
            return false;
        }
        line[strcspn(line, "\r\n")] = '\0';
        *empty = line[0] == '\0';
        if (strcmp(line, "quit") == 0)
            return false;
        if (*empty && practice)
            return true;
        if (ohms && strcmp(line, "open") == 0) {
            *shows = INFINITY;
            return true;
        }
        if (tl_quantity_read(line, ohms ? TL_DIM_OHM : TL_DIM_VOLT, &q, &error)) {
            *shows = q.nominal;
            return true;
        }
        printf("%s\n", error.text);
    }
}

bool explain_ask(observed *seen, tl_circuit *circuit, const next_measurement *next,
                 const hidden_fault *hidden)
{
    const bool ohms = next->meter.other != TL_NET_NONE;
    seen_meter meter = next->meter;
    char text[40];
    bool empty = false;
    if (!read_answer(hidden->is >= 0, ohms, &meter.shows, &empty))
        return false;
    if (empty) {
        meter.shows = rehearsal_measure(&(rehearsal){circuit, &hidden->all.list[hidden->is], hidden->seed, 1},
                                        seen, &meter, next->situation);
        ohms_in_words(meter.shows, text);
        if (ohms)
            printf("measured: %s\n\n", text);
        else
            printf("measured: %.3f V\n\n", meter.shows);
    }
    observed_add_meter(seen, next->situation, &meter);
    return true;
}
