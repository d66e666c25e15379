/* SPDX-License-Identifier: MIT */
/* tinyladder read --mystery SEED: one fault, hidden on the bench, to be found by reading. */
#include "reading/mystery.h"
#include "reading/sight.h"
#include <stdio.h>
#include <string.h>

/* The same draw on every machine: splitmix64. */
static unsigned long long next_draw(unsigned long long *state)
{
    unsigned long long z = *state += 0x9e3779b97f4a7c15ull;
    z = (z ^ z >> 30) * 0xbf58476d1ce4e5b9ull;
    z = (z ^ z >> 27) * 0x94d049bb133111ebull;
    return z ^ z >> 31;
}

/* A joint that comes and goes shows where the same one that stays off does. */
static void lasting(const char *line, char text[MYSTERY_LINE])
{
    static const char loose[] = "{loose: ";
    snprintf(text, MYSTERY_LINE, "%s", line);
    if (strncmp(line, loose, sizeof loose - 1) != 0)
        return;
    snprintf(text, MYSTERY_LINE, "{open: %s", line + sizeof loose - 1);
    snprintf(strchr(text, ','), 2, "}");
}

static bool shows(tl_circuit *circuit, const char *line, const sight *sound, tl_report *report)
{
    char text[MYSTERY_LINE];
    lasting(line, text);
    sight *s = sight_of(circuit, text, report);
    const bool differs = s != NULL && sight_difference(sound, s) != NULL;
    sight_free(s);
    return differs;
}

bool mystery_hide(play *p, unsigned long seed, char line[MYSTERY_LINE])
{
    enum { TRIES = 200 };
    tl_fault_list all = tl_faults_of_plan(p->plan);
    tl_report *report = tl_report_new();
    sight *sound = sight_of(p->circuit, NULL, report);
    unsigned long long state = seed;
    bool hidden = false;
    for (int tries = 0; tries < TRIES && !hidden && all.count > 0; tries++) {
        const char *drawn = all.line[next_draw(&state) % (unsigned)all.count];
        if (!shows(p->circuit, drawn, sound, report))
            continue;
        hidden = tl_scene_add_fault(p->scene, drawn, p->circuit, report);
        snprintf(line, MYSTERY_LINE, "%s", drawn);
    }
    sight_free(sound);
    tl_report_free(report);
    tl_fault_list_free(&all);
    return hidden;
}
