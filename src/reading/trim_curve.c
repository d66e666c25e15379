/* SPDX-License-Identifier: MIT */
/* A sensor's own curve from pairs: Beta, Steinhart-Hart, or a table. */
#include "printing/tables.h"
#include "reading/trim.h"
#include "tinyladder/design/calibration.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

static int compare_curve_pairs(const void *a, const void *b)
{
    const tl_response_pair *x = a, *y = b;
    return x->quantity < y->quantity ? -1 : x->quantity > y->quantity;
}

/* Taken by hand, out of order: sorted, what was taken twice averaged, and refused where it turns back. */
static int make_table(tl_response_pair *pairs, int count, bool json)
{
    int kept = 0;
    qsort(pairs, (size_t)count, sizeof *pairs, compare_curve_pairs);
    for (int i = 0; i < count;) {
        double sum = 0;
        int same = 0;
        while (i + same < count && pairs[i + same].quantity == pairs[i].quantity)
            sum += pairs[i + same++].ohms;
        pairs[kept++] = (tl_response_pair){pairs[i].quantity, sum / same};
        i += same;
    }
    for (int i = 2; i < kept; i++) {
        if ((pairs[i].ohms > pairs[i - 1].ohms) != (pairs[1].ohms > pairs[0].ohms) ||
            pairs[i].ohms == pairs[i - 1].ohms) {
            fprintf(stderr,
                    "tinyladder: --curve table: at %g degC the ohms turn back: look at that pair again\n",
                    pairs[i].quantity);
            return EXIT_FOUND;
        }
    }
    if (kept < 2) {
        fprintf(stderr,
                "tinyladder: --curve: expected at least two different pairs, with resistances above 0\n");
        return EXIT_FOUND;
    }
    json_t *points = json_array();
    if (!json)
        puts("degC,ohm");
    for (int i = 0; i < kept; i++) {
        if (!json)
            printf("%.6g,%.6g\n", pairs[i].quantity, pairs[i].ohms);
        json_array_append_new(points,
                              json_pack("{s:f,s:f}", "degC", pairs[i].quantity, "ohm", pairs[i].ohms));
    }
    if (json)
        json_print(json_pack("{s:s,s:O}", "law", "table", "points", points));
    json_decref(points);
    return EXIT_DONE;
}

static void print_curve_json(const tl_response *curve, const tl_response_pair *pairs, const double *residual,
                             int count)
{
    json_t *list = json_array();
    double worst = 0;
    for (int i = 0; i < count; i++) {
        json_array_append_new(list, json_pack("{s:f,s:f,s:f}", "degC", pairs[i].quantity, "ohm",
                                              pairs[i].ohms, "residual_k", residual[i]));
        worst = fmax(worst, fabs(residual[i]));
    }
    json_t *o = json_pack("{s:s,s:o,s:f}", "law", curve->law == TL_LAW_BETA ? "beta" : "steinhart", "pairs",
                          list, "worst_k", worst);
    if (curve->law == TL_LAW_BETA)
        json_object_update_new(
            o, json_pack("{s:f,s:f,s:f}", "ohms", curve->ohms, "at_degC", curve->at, "beta_k", curve->beta));
    else
        json_object_set_new(
            o, "steinhart",
            json_pack("[f,f,f]", curve->steinhart[0], curve->steinhart[1], curve->steinhart[2]));
    json_print(o);
}

int trim_fit_curve(const trim_options *o)
{
    pair_list list = {.count = 0};
    tl_response_pair pairs[TL_TRIM_PAIRS_MOST];
    double residual[TL_TRIM_PAIRS_MOST], worst = 0;
    tl_response curve;
    if (!trim_read_pairs(o, NULL, &list))
        return o->pairs != NULL ? EXIT_UNREADABLE : EXIT_USAGE;
    for (int i = 0; i < list.count; i++)
        pairs[i] = (tl_response_pair){list.left[i], list.right[i]};
    if (strcmp(o->law, "table") == 0)
        return make_table(pairs, list.count, o->json);
    const bool beta = strcmp(o->law, "beta") == 0;
    if (!tl_response_fit(beta ? TL_LAW_BETA : TL_LAW_STEINHART, pairs, list.count, &curve, residual)) {
        fprintf(stderr,
                "tinyladder: --curve: expected at least %s different pairs, with resistances above 0\n",
                beta ? "two" : "three");
        return EXIT_FOUND;
    }
    if (o->json) {
        print_curve_json(&curve, pairs, residual, list.count);
        return EXIT_DONE;
    }
    table rows;
    table_begin(&rows, 4, ">>>>");
    table_heads(&rows, "measured", "resistance", "curve", "error");
    for (int i = 0; i < list.count; i++) {
        table_cell(&rows, "%.4g degC", pairs[i].quantity);
        table_cell(&rows, "%.6g ohm", pairs[i].ohms);
        table_cell(&rows, "%.2f degC", pairs[i].quantity - residual[i]);
        table_cell(&rows, "%+.2f K", residual[i]);
        worst = fmax(worst, fabs(residual[i]));
    }
    table_end(&rows, stdout, "  ");
    printf("\nLargest error: %.2g K\n\n", worst);
    if (beta)
        printf("  source: {resistance: %.6g ohm, at: %.2f degC, beta: %.0f K, ...}\n", curve.ohms, curve.at,
               curve.beta);
    else
        printf("  source: {steinhart: [%.8g, %.8g, %.8g], ...}\n", curve.steinhart[0], curve.steinhart[1],
               curve.steinhart[2]);
    return EXIT_DONE;
}
