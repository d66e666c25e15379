/* SPDX-License-Identifier: MIT */
/* What the kinds of questions share: text of a plan, and what its circuit says. */
#include "proposals/question.h"
#include <ctype.h>

const char *written(double value, const char *unit)
{
    static const char *const prefixes[] = {"p", "n", "u", "m", "", "k", "M", "G"};
    static _Thread_local char texts[4][40];
    static _Thread_local int next;
    char *text = texts[next++ % 4];
    int at = 4;
    while (at > 0 && value != 0 && fabs(value) < 1) {
        value *= 1000;
        at--;
    }
    while (at < 7 && fabs(value) >= 1e6) {
        value /= 1000;
        at++;
    }
    snprintf(text, 40, fabs(value) < 1e-4 ? "%.12f %s%s" : "%.12g %s%s", value, prefixes[at], unit);
    return text;
}

void write_range(FILE *to, const tl_quantity *value, const char *unit)
{
    fprintf(to, "%s", written(value->low, unit));
    if (value->low != value->high)
        fprintf(to, " .. %s", written(value->high, unit));
}

static bool in_word(char c)
{
    return isupper((unsigned char)c) || c == '-';
}

void write_choice(const asked_text *t, int indent, const char *const *names)
{
    bool fresh = true;
    for (const char *at = t->choice->plan; *at != '\0'; at++) {
        if (fresh)
            fprintf(t->to, "%*s", indent, "");
        fresh = *at == '\n';
        const char *name = NULL;
        size_t length = 0;
        const bool begins = at == t->choice->plan || !isalnum((unsigned char)at[-1]);
        for (int i = 0; names[i] != NULL && begins && name == NULL; i += 2) {
            length = strlen(names[i]);
            if (strncmp(at, names[i], length) == 0 && !in_word(at[length]) &&
                !isalnum((unsigned char)at[length]))
                name = names[i + 1];
        }
        if (name == NULL) {
            fputc(*at, t->to);
        } else {
            fputs(name, t->to);
            at += length - 1;
        }
    }
    fputc('\n', t->to);
}

static tl_bounds no_bounds(void)
{
    return (tl_bounds){.low = NAN, .nominal = NAN, .high = NAN};
}

tl_bounds bounds_for(const asked_circuit *a, const tl_ask *ask)
{
    tl_bounds bounds;
    return tl_circuit_ask(a->circuit, ask, &bounds) == TL_NET_SOLVED ? bounds : no_bounds();
}

tl_bounds bounds_of(const asked_circuit *a, int state, tl_ask_kind kind, int of)
{
    const tl_ask ask = tl_ask_of(kind, a->signal, state, of);
    return bounds_for(a, &ask);
}

tl_bounds amperes_in(const asked_circuit *a, int state, const char *part)
{
    return tl_circuit_part_amperes(a->circuit, a->signal, state, part);
}

tl_bounds bounds_at(const asked_circuit *a, tl_ask_kind kind, int of, int param, double value)
{
    double low, high;
    const double nominal = tl_net_param_nominal(a->circuit->net, param);
    tl_net_param_span(a->circuit->net, param, &low, &high);
    tl_net_set_param(a->circuit->net, param, value, value, value);
    const tl_bounds bounds = bounds_of(a, 0, kind, of);
    tl_net_set_param(a->circuit->net, param, low, nominal, high);
    return bounds;
}

int part_of(const asked_circuit *a, const char *part)
{
    char path[80];
    snprintf(path, sizeof path, "signal.%s", part);
    return tl_net_find_part(a->circuit->net, TL_VIEW_BELIEVED, path);
}

int node_of(const asked_circuit *a, const char *node)
{
    return tl_circuit_point(a->circuit, node);
}

static tl_size_figure *figure_of(tl_choice *choice, tl_figure_id id)
{
    for (int i = 0; i < choice->figures; i++) {
        if (choice->figure[i].id == id)
            return &choice->figure[i];
    }
    return NULL;
}

double figure_in(const tl_choice *choice, tl_figure_id id)
{
    const tl_size_figure *figure = figure_of((tl_choice *)choice, id);
    return figure != NULL ? figure->value : (double)NAN;
}

void put_figure(tl_choice *choice, tl_figure_id id, double value)
{
    tl_size_figure *figure = figure_of(choice, id);
    if (figure == NULL || isnan(value)) /* no answer is no proof */
        return;
    figure->value = value;
    figure->proved = true;
}

const tl_worst_case *worst_of(const asked_circuit *a, int state)
{
    return tl_circuit_worst_case(a->circuit, a->signal, state);
}
