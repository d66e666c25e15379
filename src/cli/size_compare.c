/* `size divider --compare 470/180,4k7/1k8`: dividers that one has in mind side by side, whether they do or
 * not. */
#include "cli/size_kinds.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum { PAIRS_MOST = 8, SHOWN = 6 };

typedef struct {
    char name[40], why[500]; /* why it does not do; "" where it does */
    tl_divider_requirement with;
    tl_choice choice;
    bool known; /* its figures are */
} compared;

/* One leg as `470`, `4k7` or `47k ±1 %`, at the tolerance of the rest where it has none. */
static bool read_leg(const size_call *call, const char *text, size_t length, tl_quantity *leg)
{
    char word[60], with_unit[70];
    tl_text_error ignored;
    snprintf(word, sizeof word, "%.*s", (int)(length < sizeof word ? length : sizeof word - 1), text);
    snprintf(with_unit, sizeof with_unit, "%s ohm", word);
    if (!tl_quantity_read(word, TL_DIM_OHM, leg, &ignored) &&
        !tl_quantity_read(with_unit, TL_DIM_OHM, leg, &ignored))
        return false;
    if (!leg->toleranced) {
        leg->low *= 1 - call->tolerance;
        leg->high *= 1 + call->tolerance;
        leg->toleranced = call->tolerance > 0;
    }
    return leg->low > 0;
}

static int read_pairs(const size_call *call, compared *pairs)
{
    int count = 0;
    for (const char *at = call->compare; *at != '\0'; count++) {
        const size_t length = strcspn(at, ","), upper = strcspn(at, "/");
        if (count == PAIRS_MOST) {
            fprintf(stderr, "tinyladder: --compare: at most %d pairs\n", PAIRS_MOST);
            return -1;
        }
        compared *p = &pairs[count];
        *p = (compared){.with = call->requirement.divider};
        snprintf(p->name, sizeof p->name, "%.*s", (int)(length < 39 ? length : 39), at);
        if (upper >= length || !read_leg(call, at, upper, &p->with.upper) ||
            !read_leg(call, at + upper + 1, length - upper - 1, &p->with.lower)) {
            fprintf(stderr,
                    "tinyladder: --compare: pairs are wanted, the upper leg first, such as 470/180,4k7/1k8: "
                    "'%s'\n",
                    p->name);
            return -1;
        }
        at += length + (at[length] == ',');
    }
    return count;
}

static void say(compared *p, const char *text, int figure, double limit)
{
    tl_size_figure at_most = p->choice.figure[figure];
    at_most.value = limit;
    const size_t used = strlen(p->why);
    if (p->choice.figure[figure].value > limit)
        snprintf(p->why + used, sizeof p->why - used, "%s%s %s, limit %s", used > 0 ? "; " : "", text,
                 size_figure(&p->choice.figure[figure]).text, show(limit, at_most.dimension).text);
}

/* Its figures first, without any limit; then every limit that it breaks. */
static void try_pair(compared *p, const tl_stock *stock)
{
    tl_divider_requirement any = p->with;
    tl_size_result *result = tl_size_result_new(stock, 1);
    any.limit = any.reference = 0.999 * any.source.high; /* a limit above the source needs no divider */
    any.most_amperes = any.most_tap_ohms = INFINITY;
    any.least_share = NAN;
    tl_size_divider(&any, result);
    p->known = result->count > 0;
    if (p->known) {
        const double limit = fmin(p->with.limit, isnan(p->with.reference) ? INFINITY : p->with.reference);
        p->choice = result->choices[0];
        say(p, "over the limit: tap, highest", TL_DIVIDER_TAP_HIGHEST, limit);
        say(p, "too weak for the pin: source resistance", TL_DIVIDER_OHMS, p->with.most_tap_ohms);
        say(p, "draws too much: current", TL_DIVIDER_CURRENT, p->with.most_amperes);
    } else {
        snprintf(p->why, sizeof p->why, "%s", result->refusal);
    }
    tl_size_result_free(result);
}

/* How far the highest tap is from what nominal legs would give: tolerance, leakage and load together. */
static double off_by(const compared *p)
{
    const double nominal =
        p->with.source.high * p->with.lower.nominal / (p->with.lower.nominal + p->with.upper.nominal);
    return 100 * fmax(fabs(p->choice.figure[TL_DIVIDER_TAP_HIGHEST].value / nominal - 1),
                      fabs(p->choice.figure[TL_DIVIDER_TAP_LOWEST].value * p->with.source.high /
                               p->with.source.low / nominal -
                           1));
}

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
        table_cell(&t, "%s", p->known ? show_most(off_by(p), TL_DIM_PERCENT).text : "-");
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
                     p->known ? json_number(off_by(p)) : json_null(), "figures", figures);
}

int size_compare(const size_call *call, const tl_stock *stock)
{
    compared *pairs = must(calloc(PAIRS_MOST, sizeof *pairs));
    const int count = read_pairs(call, pairs);
    int does = 0;
    for (int i = 0; i < count; i++) {
        try_pair(&pairs[i], stock);
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
