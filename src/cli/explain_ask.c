/* A measurement after the other, from the board or from a bench with a hidden fault. */
#include "cli/explain_ask.h"
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
    hidden->all = hypotheses_of(g->circuit);
    hidden->is = good ? hypotheses_find(&hidden->all, line) : -1;
    hidden->seed = OTHER_PARTS + (unsigned long)o->mystery;
    if (hidden->is < 0)
        return false;
    *g->seen = rehearsal_situations(g->circuit, SAMPLES);
    rehearsal_observe(&(rehearsal){g->circuit, &hidden->all.list[hidden->is], hidden->seed, 1}, g->seen);
    return true;
}

/* --- the dialogue --- */

/* A line of an answer: volts; nothing; `quit`, or the end. False: it is over. */
static bool read_answer(bool practice, double *volts, bool *empty)
{
    char line[200];
    for (;;) {
        tl_quantity q;
        tl_text_error error = {0, ""};
        fputs(practice ? "volts, or return to measure it on the bench, or quit: " : "volts, or quit: ",
              stdout);
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
        if (tl_quantity_read(line, TL_DIM_VOLT, &q, &error)) {
            *volts = q.nominal;
            return true;
        }
        printf("%s\n", error.text);
    }
}

bool explain_ask(observed *seen, tl_circuit *circuit, const next_measurement *next,
                 const hidden_fault *hidden)
{
    double volts = 0;
    bool empty = false;
    tl_text_error error;
    seen_meter meter;
    if (!read_answer(hidden->is >= 0, &volts, &empty) ||
        !seen_meter_read(&meter, circuit, next->point, "0 V", &error))
        return false;
    if (empty) {
        volts = rehearsal_measure(&(rehearsal){circuit, &hidden->all.list[hidden->is], hidden->seed, 1}, seen,
                                  &meter, next->situation);
        printf("measured: %.3f V\n\n", volts);
    }
    meter.volts = volts;
    observed_add_meter(seen, next->situation, &meter);
    return true;
}
