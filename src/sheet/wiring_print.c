/* SPDX-License-Identifier: MIT */
/* The list to wire by as a table, as CSV, as JSON. */
#include "elaborate/circuit_struct.h"
#include "printing/tables.h"
#include "sheet/wiring_nets.h"
#include <stdlib.h>
#include <string.h>

static void print_table(const tl_plan *plan, const wiring *list)
{
    static const char *const heads[] = {"signal", "from", "to", "part", "colour bands"};
    table t;
    printf("%s on %s: %d connections.\n\n", plan->title, plan->board->title, list->count);
    table_begin(&t, 5, "<<<<<");
    for (int i = 0; i < 5; i++)
        table_cell(&t, "%s", heads[i]);
    for (int i = 0; i < list->count; i++) {
        const wire *row = &list->wires[i];
        const bool again = i > 0 && strcmp(row->group, list->wires[i - 1].group) == 0;
        table_cell(&t, "%s", again ? "" : row->group);
        table_cell(&t, "%s", row->from.name);
        table_cell(&t, "%s", row->to.name);
        table_cell(&t, "%s", row->part);
        table_cell(&t, "%s", row->bands);
    }
    table_end(&t, stdout, "  ");
}

static void print_csv(const wiring *list)
{
    puts("of,from,to,by,bands");
    for (int i = 0; i < list->count; i++) {
        const wire *row = &list->wires[i];
        const char *const fields[] = {row->group, row->from.name, row->to.name, row->part, row->bands};
        for (int f = 0; f < 5; f++) {
            char quoted[2 * WIRE_PART];
            printf("%s%s", f > 0 ? "," : "", csv_text(fields[f], quoted, sizeof quoted));
        }
        putchar('\n');
    }
}

static json_t *text_or_null(const char *text)
{
    return text[0] != '\0' ? json_string(text) : json_null();
}

/* As `--meter` takes it; of a net that the circuit has no node for after its first end. */
static json_t *net_name(const tl_circuit *circuit, const wiring *list, const wire_nets *nets, int row, int to)
{
    char text[TL_POINT_NAME];
    const int node = to == 1 ? nets[row].to : nets[row].from, first = nets[row].like[to];
    const wire *w = &list->wires[first / 2];
    if (node != TL_NET_NONE) {
        circuit_point_name(circuit, node, text);
        return json_string(text);
    }
    const wire_end *end = first % 2 == 1 ? &w->to : &w->from;
    if (end->kind == END_NOWHERE)
        return json_null();
    snprintf(text, sizeof text, "%.45s: %.45s", w->group, end->name);
    return json_string(text);
}

static void print_json(const tl_plan *plan, const wiring *list)
{
    tl_circuit *circuit = tl_circuit_new(plan);
    wire_nets *nets = wiring_nets(circuit, list);
    json_t *rows = json_array();
    for (int i = 0; i < list->count; i++) {
        const wire *row = &list->wires[i];
        json_array_append_new(rows,
                              json_pack("{s:s,s:s,s:s,s:s,s:o,s:o,s:s,s:o,s:b,s:o,s:o}", "of", row->group,
                                        "from", row->from.name, "to", row->to.name, "by", row->part, "bands",
                                        text_or_null(row->bands), "path", text_or_null(row->path), "role",
                                        row->word, "value", text_or_null(row->value), "fitted", row->fitted,
                                        "from_net", net_name(circuit, list, nets, i, 0), "to_net",
                                        net_name(circuit, list, nets, i, 1)));
    }
    free(nets);
    tl_circuit_free(circuit);
    json_print(json_pack("{s:s,s:s,s:o}", "plan", plan->title, "board", plan->board->title, "wiring", rows));
}

void wiring_print(const tl_plan *plan, wiring_form form)
{
    wiring list = wiring_of(plan);
    if (form == WIRING_TABLE)
        print_table(plan, &list);
    else if (form == WIRING_CSV)
        print_csv(&list);
    else
        print_json(plan, &list);
    free(list.wires);
}
