/* `size divider --compare 470/180,4k7/1k8`: dividers side by side, as a table or JSON. */
#include "cli/size_call.h"
#include "proposals/compare_legs.h"
#include <stdlib.h>
#include <string.h>

enum { SHOWN = 6 };

static void print_pairs(const compared *pairs, int count)
{
    static const struct {
        const char *head;
        int figure;
    } shown_figures[SHOWN] = {
        {"tap, lowest", TL_DIVIDER_TAP_LOWEST},        {"tap, highest", TL_DIVIDER_TAP_HIGHEST},
        {"drawn from the source", TL_DIVIDER_CURRENT}, {"source resistance", TL_DIVIDER_OHMS},
        {"power in a leg", TL_DIVIDER_POWER},          {"meter shows", TL_DIVIDER_METER}};
    table t;
    table_begin(&t, 3 + SHOWN, "<>>>>>>>>");
    table_cell(&t, "upper/lower");
    for (int f = 0; f < SHOWN; f++)
        table_cell(&t, "%s", shown_figures[f].head);
    table_cell(&t, "off by");
    table_cell(&t, "does it");
    for (int i = 0; i < count; i++) {
        const compared *p = &pairs[i];
        table_cell(&t, "%s", p->name);
        for (int f = 0; f < SHOWN; f++) {
            const tl_size_figure *figure = &p->choice.figure[shown_figures[f].figure];
            table_cell(&t, "%s", p->known ? size_figure(figure).text : "-");
        }
        table_cell(&t, "%s", p->known ? show_most(compare_off_by(p), TL_DIM_PERCENT).text : "-");
        table_cell(&t, "%s", p->why[0] == '\0' ? "yes" : "no");
    }
    table_end_turned(&t, stdout, "  ");
}

static json_t *pair_object(const compared *p)
{
    json_t *figures = json_array();
    for (int f = 0; f < p->choice.figures && p->known; f++)
        json_array_append_new(figures, json_pack("{s:s,s:o}", "name", p->choice.figure[f].name, "value",
                                                 json_number(p->choice.figure[f].value)));
    return json_pack("{s:s,s:b,s:o,s:o,s:o}", "pair", p->name, "does", p->why[0] == '\0', "why",
                     p->why[0] != '\0' ? json_string(p->why) : json_null(), "off_by_percent",
                     p->known ? json_number(compare_off_by(p)) : json_null(), "figures", figures);
}

int size_compare(const size_call *call, const tl_stock *stock)
{
    compared *pairs = must(calloc(PAIRS_MOST, sizeof *pairs));
    char wrong[160];
    const int count = compare_read(call->compare, &call->requirement.divider, call->tolerance, pairs, wrong);
    if (count < 0)
        fprintf(stderr, "tinyladder: --compare: %s\n", wrong);
    int does = 0;
    for (int i = 0; i < count; i++) {
        compare_try(&pairs[i], stock);
        does += pairs[i].why[0] == '\0';
    }
    if (count > 0 && call->json) {
        json_t *list = json_array();
        for (int i = 0; i < count; i++)
            json_array_append_new(list, pair_object(&pairs[i]));
        json_print(json_pack("{s:s,s:o}", "size", "divider", "compared", list));
    } else if (count > 0) {
        const char *more = "  ";
        printf("Legs ±%g %% where they say nothing. Figures are guaranteed worst cases.\n\n",
               100 * call->tolerance);
        print_pairs(pairs, count);
        for (int i = 0; i < count; i++) {
            char line[600];
            if (pairs[i].why[0] == '\0')
                continue;
            snprintf(line, sizeof line, "%s: %s.", pairs[i].name, pairs[i].why);
            fputs(more[0] != '\0' ? "\n" : "", stdout);
            more = "";
            put_note("  ", "    ", line);
        }
    }
    free(pairs);
    return count <= 0 ? EXIT_USAGE : does > 0 ? EXIT_DONE : EXIT_FOUND;
}
