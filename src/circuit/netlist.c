/* SPDX-License-Identifier: MIT */
/* Building a net. */
#include "base/memory.h"
#include "circuit/elements.h"
#include <stdlib.h>
#include <string.h>

tl_net_value tl_net_fixed(double number)
{
    return (tl_net_value){.factor = number, .first = TL_NET_NONE, .constant = 1, .second = TL_NET_NONE};
}

tl_net_value tl_net_of(int param)
{
    return (tl_net_value){.factor = 1, .first = param, .constant = 1, .second = TL_NET_NONE};
}

double tl_net_value_at(tl_net_value value, const double *values)
{
    return value_at(&value, values);
}

tl_net *tl_net_new(void)
{
    tl_net *net = tl_alloc(1, sizeof *net);
    tl_net_set_rail(net, tl_net_add_node(net, "ground"), tl_net_fixed(0));
    return net;
}

static void *copy_rows(const void *rows, int count, size_t size)
{
    size_t room = 1; /* as tl_grow() would have it, which goes on from here */
    while (room < (size_t)count)
        room *= 2;
    void *copy = tl_grow(NULL, room / 2, size);
    if (count > 0)
        memcpy(copy, rows, (size_t)count * size);
    return copy;
}

tl_net *tl_net_copy(const tl_net *net)
{
    tl_net *copy = tl_alloc(1, sizeof *copy);
    *copy = *net;
    copy->nodes = copy_rows(net->nodes, net->node_count, sizeof *net->nodes);
    copy->parts = copy_rows(net->parts, net->part_count, sizeof *net->parts);
    copy->params = copy_rows(net->params, net->param_count, sizeof *net->params);
    copy->contacts = copy_rows(net->contacts, net->contact_count, sizeof *net->contacts);
    copy->routes = copy_rows(net->routes, net->contact_count, sizeof *net->routes);
    copy->lent = (net_counts){net->node_count, net->part_count, net->param_count, net->contact_count};
    return copy;
}

void tl_net_set_view(tl_net *net, tl_net_view view)
{
    net->view = view;
}

bool tl_net_part_in(const tl_net *net, tl_net_view view, int part)
{
    return in_view(net->parts[part].view, view);
}

void tl_net_leave_out_at(tl_net *net, int node)
{
    for (int part = net->nodes[node].first_part; part != TL_NET_NONE;) {
        net_part *p = &net->parts[part];
        p->left_out = true;
        part = p->next_at[p->a == node ? 0 : 1];
    }
}

void tl_net_free(tl_net *net)
{
    if (net == NULL)
        return;
    for (int i = net->lent.nodes; i < net->node_count; i++)
        free(net->nodes[i].name);
    for (int i = net->lent.parts; i < net->part_count; i++)
        free(net->parts[i].name);
    for (int i = net->lent.params; i < net->param_count; i++)
        free(net->params[i].name);
    for (int i = net->lent.contacts; i < net->contact_count; i++)
        free(net->contacts[i]);
    free(net->nodes);
    free(net->parts);
    free(net->params);
    free(net->contacts);
    free(net->routes);
    free(net);
}

int tl_net_add_node(tl_net *net, const char *name)
{
    net->nodes = tl_grow(net->nodes, (size_t)net->node_count, sizeof *net->nodes);
    net->nodes[net->node_count] = (net_node){.name = tl_copy_text(name), .first_part = TL_NET_NONE};
    return net->node_count++;
}

int tl_net_add_param(tl_net *net, const char *name, double low, double nominal, double high, bool searched)
{
    net->params = tl_grow(net->params, (size_t)net->param_count, sizeof *net->params);
    net->params[net->param_count] = (net_param){tl_copy_text(name), low, nominal, high, searched};
    return net->param_count++;
}

void tl_net_set_rail(tl_net *net, int node, tl_net_value volts)
{
    net->nodes[node].is_rail = true;
    net->nodes[node].volts = volts;
}

int tl_net_add_contact(tl_net *net, const char *name)
{
    net->contacts = tl_grow(net->contacts, (size_t)net->contact_count, sizeof *net->contacts);
    net->routes = tl_grow(net->routes, (size_t)net->contact_count, sizeof *net->routes);
    net->routes[net->contact_count] = false;
    net->contacts[net->contact_count] = tl_copy_text(name);
    return net->contact_count++;
}

static int add_part(tl_net *net, const char *name, const element *is, int a, int b, tl_net_value value)
{
    net->parts = tl_grow(net->parts, (size_t)net->part_count, sizeof *net->parts);
    net->parts[net->part_count] = (net_part){.name = tl_copy_text(name),
                                             .is = is,
                                             .a = a,
                                             .b = b,
                                             .value = value,
                                             .gain = tl_net_fixed(1),
                                             .gate = TL_WHEN_ALWAYS,
                                             .contact = TL_NET_NONE,
                                             .view = net->view,
                                             .open_fault = TL_NET_NONE,
                                             .next_at = {net->nodes[a].first_part, TL_NET_NONE}};
    net->nodes[a].first_part = net->part_count;
    if (b != a) {
        net->parts[net->part_count].next_at[1] = net->nodes[b].first_part;
        net->nodes[b].first_part = net->part_count;
    }
    return net->part_count++;
}

int tl_net_add_resistor(tl_net *net, const char *name, int a, int b, tl_net_value ohms)
{
    return add_part(net, name, &element_resistor, a, b, ohms);
}

int tl_net_add_current(tl_net *net, const char *name, int from, int to, tl_net_value amperes)
{
    return add_part(net, name, &element_current, from, to, amperes);
}

int tl_net_add_capacitor(tl_net *net, const char *name, int a, int b, tl_net_value farads)
{
    return add_part(net, name, &element_capacitor, a, b, farads);
}

int tl_net_add_one_way(tl_net *net, const char *name, int a, int b, tl_net_value volts)
{
    return add_part(net, name, &element_one_way, a, b, volts);
}

int tl_net_add_leak(tl_net *net, const char *name, int a, int b, tl_net_value amperes)
{
    return add_part(net, name, &element_leak, a, b, amperes);
}

int tl_net_add_channel(tl_net *net, const char *name, int a, int b, tl_net_value ohms)
{
    return add_part(net, name, &element_channel, a, b, ohms);
}

int tl_net_add_follower(tl_net *net, const char *name, int in, int out, const tl_net_follower *as)
{
    const int part = add_part(net, name, &element_follower, in, out, as->offset);
    net->parts[part].gain = as->gain;
    net->parts[part].lag = as->lag;
    return part;
}

void tl_net_tie(tl_net *net, int a, int b)
{
    add_part(net, "tie", &element_tie, a, b, tl_net_fixed(0));
}

int tl_net_open_fault(tl_net *net, int part)
{
    if (net->parts[part].open_fault == TL_NET_NONE) {
        const int contact = tl_net_add_contact(net, net->parts[part].name);
        net->parts[part].open_fault = contact;
    }
    return net->parts[part].open_fault;
}

void tl_net_set_route(tl_net *net, int contact)
{
    net->routes[contact] = true;
}

bool tl_net_is_route(const tl_net *net, int contact)
{
    return net->routes[contact];
}

void tl_net_condition_part(tl_net *net, int part, tl_net_condition gate, int contact)
{
    net->parts[part].gate = gate;
    net->parts[part].contact = contact;
    net->parts[part].gate_view = net->view;
}

const char *tl_net_node_name(const tl_net *net, int node)
{
    return net->nodes[node].name;
}

const char *tl_net_param_name(const tl_net *net, int param)
{
    return net->params[param].name;
}

int tl_net_param_count(const tl_net *net)
{
    return net->param_count;
}

int tl_net_contact_count(const tl_net *net)
{
    return net->contact_count;
}

int tl_net_find_node(const tl_net *net, const char *name)
{
    for (int i = 0; i < net->node_count; i++) {
        if (strcmp(net->nodes[i].name, name) == 0)
            return i;
    }
    return TL_NET_NONE;
}

int tl_net_find_part(const tl_net *net, tl_net_view view, const char *name)
{
    for (int i = 0; i < net->part_count; i++) {
        if (tl_net_part_in(net, view, i) && strcmp(net->parts[i].name, name) == 0)
            return i;
    }
    return TL_NET_NONE;
}

bool tl_net_is_rail(const tl_net *net, int node)
{
    return net->nodes[node].is_rail;
}

double tl_net_param_nominal(const tl_net *net, int param)
{
    return net->params[param].nominal;
}

void tl_net_param_span(const tl_net *net, int param, double *low, double *high)
{
    *low = net->params[param].low;
    *high = net->params[param].high;
}

void tl_net_set_param(tl_net *net, int param, double low, double nominal, double high)
{
    net->params[param].low = low;
    net->params[param].nominal = nominal;
    net->params[param].high = high;
}

const char *tl_net_status_text(tl_net_status fault)
{
    switch (fault) {
    case TL_NET_SOLVED:
        return "solved";
    case TL_NET_FLOATING:
        return "nothing defines the level of this node";
    case TL_NET_SHORTED:
        return "zero ohms between two rails";
    case TL_NET_SINGULAR:
        return "the network has no one answer";
    case TL_NET_TOO_WIDE:
        return "too many parts with tolerances are connected to try every corner";
    }
    return "unknown fault";
}

int tl_net_parts_at(const tl_net *net, tl_net_view view, int node, int *parts, int most)
{
    int count = 0;
    for (int part = net->nodes[node].first_part; part != TL_NET_NONE;) {
        if (tl_net_part_in(net, view, part)) {
            if (count < most)
                parts[count] = part;
            count++;
        }
        part = net->parts[part].next_at[net->parts[part].a == node ? 0 : 1];
    }
    return count;
}

const char *tl_net_part_name(const tl_net *net, int part)
{
    return net->parts[part].name;
}

double tl_net_part_amperes(const tl_net *net, int part, const double *values, double across)
{
    const net_part *p = &net->parts[part];
    return p->is->amperes != NULL ? p->is->amperes(value_at(&p->value, values), across) : 0;
}

int tl_net_part_count(const tl_net *net)
{
    return net->part_count;
}

int tl_net_node_count(const tl_net *net)
{
    return net->node_count;
}

void tl_net_part_ends(const tl_net *net, int part, int *a, int *b)
{
    *a = net->parts[part].a;
    *b = net->parts[part].b;
}

double tl_net_rail_volts(const tl_net *net, int node, const double *values)
{
    return tl_net_value_at(net->nodes[node].volts, values);
}
