/* tinyladder size WHAT: ranked choices, worst cases, and why others fail. */
#include "cli.h"
#include "tinyladder/size.h"
#include <math.h>
#include <string.h>

enum { TOP_MOST = 50 };

typedef struct {
    tl_divider_wish wish;
    tl_quantity from;
    bool has_from, has_limit, has_ohms, json;
    long top;
} divider_options;

enum {
    KEY_FROM = 256,
    KEY_LIMIT,
    KEY_CURRENT,
    KEY_OHMS,
    KEY_SOURCE,
    KEY_LOAD,
    KEY_UPPER,
    KEY_LOWER,
    KEY_SERIES,
    KEY_TOLERANCE,
    KEY_TOP,
    KEY_JSON
};

static const struct argp_option divider_argp_options[] = {
    {"from", KEY_FROM, "VOLTS", 0, "range of the source, such as 10.5V..14.8V", 0},
    {"limit", KEY_LIMIT, "VOLTS", 0, "the tap must never be above this", 0},
    {"current", KEY_CURRENT, "AMPERES", 0, "budget: the most to draw from the source (no budget)", 0},
    {"pin-sees", KEY_OHMS, "OHMS", 0, "budget: the most source resistance for the pin (10k)", 0},
    {"source", KEY_SOURCE, "OHMS", 0, "resistance of the source itself (0)", 0},
    {"load", KEY_LOAD, "OHMS", 0, "what hangs across the lower leg (nothing)", 0},
    {"upper", KEY_UPPER, "OHMS", 0, "the upper leg is this", 0},
    {"lower", KEY_LOWER, "OHMS", 0, "the lower leg is this", 0},
    {"series", KEY_SERIES, "E24", 0, "preferred values: E3 E6 E12 E24 E48 E96 E192 (E24)", 0},
    {"tolerance", KEY_TOLERANCE, "PERCENT", 0, "of each leg, such as 1% (1%)", 0},
    {"top", KEY_TOP, "N", 0, "how many choices (5)", 0},
    {"json", KEY_JSON, NULL, 0, "the same as one JSON object", 0},
    {0},
};

static error_t parse_divider(int key, char *text, struct argp_state *state)
{
    divider_options *o = state->input;
    tl_divider_wish *wish = &o->wish;
    switch (key) {
    case KEY_FROM:
        o->from = option_quantity(state, "from", text, TL_DIM_VOLT);
        o->has_from = true;
        break;
    case KEY_LIMIT:
        wish->limit = option_value(state, "limit", text, TL_DIM_VOLT);
        o->has_limit = true;
        break;
    case KEY_CURRENT:
        wish->most_amperes = option_value(state, "current", text, TL_DIM_AMPERE);
        break;
    case KEY_OHMS:
        wish->most_tap_ohms = option_value(state, "pin-sees", text, TL_DIM_OHM);
        o->has_ohms = true;
        break;
    case KEY_SOURCE:
        wish->source_ohms = option_value(state, "source", text, TL_DIM_OHM);
        break;
    case KEY_LOAD:
        wish->load_ohms = option_value(state, "load", text, TL_DIM_OHM);
        break;
    case KEY_UPPER:
        wish->upper = option_value(state, "upper", text, TL_DIM_OHM);
        break;
    case KEY_LOWER:
        wish->lower = option_value(state, "lower", text, TL_DIM_OHM);
        break;
    case KEY_SERIES:
        if (!tl_series_read(text, &wish->series))
            argp_error(state, "--series: one of E3 E6 E12 E24 E48 E96 E192 is wanted: '%.20s'", text);
        break;
    case KEY_TOLERANCE:
        wish->tolerance = option_value(state, "tolerance", text, TL_DIM_PERCENT) / 100;
        break;
    case KEY_TOP:
        o->top = option_number(state, "top", text, 1, TOP_MOST);
        break;
    case KEY_JSON:
        o->json = true;
        break;
    case ARGP_KEY_ARG:
        argp_error(state, "'%.60s' is one argument too many", text);
        break;
    case ARGP_KEY_END:
        if (!o->has_from || !o->has_limit)
            argp_error(state, "a divider needs --from and --limit, such as --from 10.5V..14.8V --limit 3.3V");
        break;
    default:
        return ARGP_ERR_UNKNOWN;
    }
    return 0;
}

/* --- the answer as text --- */

static void print_wish(const divider_options *o)
{
    const tl_divider_wish *w = &o->wish;
    printf("Divider from %s .. %s to at most %s at the tap. %s, each leg ±%g %%.\nBudgets: ",
           show(w->source_low, TL_DIM_VOLT).text, show(w->source_high, TL_DIM_VOLT).text,
           show(w->limit, TL_DIM_VOLT).text, tl_series_name(w->series), 100 * w->tolerance);
    if (isfinite(w->most_amperes))
        printf("%s from the source, ", show(w->most_amperes, TL_DIM_AMPERE).text);
    else
        printf("no current budget, ");
    printf("%s seen by the pin%s.\n", show(w->most_tap_ohms, TL_DIM_OHM).text,
           o->has_ohms ? "" : " (usual; --pin-sees sets it)");
    printf("All figures are guaranteed worst cases over source range and tolerances.\n\n");
}

static void add_choice(table *t, const char *first, const tl_divider_choice *c)
{
    table_cell(t, "%s", first);
    table_cell(t, "%s", show_code(c->upper).text);
    table_cell(t, "%s", show_code(c->lower).text);
    table_cell(t, "%s .. %s", show_least(c->tap_low, TL_DIM_VOLT).text,
               show_most(c->tap_high, TL_DIM_VOLT).text);
    table_cell(t, "%s", show_most(100 * c->share, TL_DIM_PERCENT).text);
    table_cell(t, "%s", show_most(c->amperes, TL_DIM_AMPERE).text);
    table_cell(t, "%s", show_most(c->tap_ohms, TL_DIM_OHM).text);
    table_cell(t, "%s", show_most(fmax(c->upper_watts, c->lower_watts), TL_DIM_WATT).text);
}

static void begin_choices(table *t, const char *first)
{
    static const char *const heads[] = {"upper",   "lower",    "tap, lowest to highest", "of the limit",
                                        "current", "pin sees", "power in a leg"};
    table_begin(t, 8, first[0] == '\0' ? ">>>>>>>>" : "<>>>>>>>");
    table_cell(t, "%s", first);
    for (size_t i = 0; i < sizeof heads / sizeof heads[0]; i++)
        table_cell(t, "%s", heads[i]);
}

static const char *const miss_names[TL_DIVIDER_REASONS] = {
    [TL_DIVIDER_OVER_LIMIT] = "over the limit",
    [TL_DIVIDER_OVER_CURRENT] = "over the current budget",
    [TL_DIVIDER_OVER_OHMS] = "too weak for the pin",
};

static void print_misses(const tl_divider_answer *answer)
{
    table t;
    bool any = false;
    for (int i = 0; i < TL_DIVIDER_REASONS; i++)
        any = any || answer->miss[i].any;
    if (!any)
        return;
    printf("\nWhy others fail: the nearest pair that breaks only this\n\n");
    begin_choices(&t, "fails");
    for (int i = 0; i < TL_DIVIDER_REASONS; i++) {
        if (answer->miss[i].any)
            add_choice(&t, miss_names[i], &answer->miss[i].choice);
    }
    table_end(&t, stdout, "  ");
}

static void print_answer(const divider_options *o, const tl_divider_choice *choices,
                         const tl_divider_answer *answer)
{
    table t;
    print_wish(o);
    if (answer->fitting == 0) {
        printf("None of %zu pairs does it.\n", answer->tried);
        print_misses(answer);
        return;
    }
    begin_choices(&t, "");
    for (size_t i = 0; i < answer->count; i++) {
        char number[24];
        snprintf(number, sizeof number, "%zu", i + 1);
        add_choice(&t, number, &choices[i]);
    }
    table_end(&t, stdout, "  ");
    printf("\n%zu of %zu pairs fit; first the largest share of the limit, then the least current.\n",
           answer->fitting, answer->tried);
    print_misses(answer);
    printf("\nPlan line for the first:\n  - divider: {upper: %s ±%g %%, lower: %s ±%g %%}\n",
           show_code(choices[0].upper).text, 100 * o->wish.tolerance, show_code(choices[0].lower).text,
           100 * o->wish.tolerance);
}

/* --- the answer as JSON --- */

static json_t *choice_object(const tl_divider_choice *c)
{
    return json_pack("{s:o,s:o,s:o,s:o,s:o,s:o,s:o,s:o,s:o,s:o}", "upper_ohm", json_number(c->upper),
                     "lower_ohm", json_number(c->lower), "ratio", json_number(c->ratio), "tap_low_v",
                     json_number(c->tap_low), "tap_high_v", json_number(c->tap_high), "share_of_limit",
                     json_number(c->share), "current_a", json_number(c->amperes), "pin_sees_ohm",
                     json_number(c->tap_ohms), "upper_w", json_number(c->upper_watts), "lower_w",
                     json_number(c->lower_watts));
}

static void print_json(const divider_options *o, const tl_divider_choice *choices,
                       const tl_divider_answer *answer)
{
    static const char *const keys[TL_DIVIDER_REASONS] = {"over_limit", "over_current", "over_pin_sees"};
    json_t *list = json_array(), *misses = json_object();
    for (size_t i = 0; i < answer->count; i++)
        json_array_append_new(list, choice_object(&choices[i]));
    for (int i = 0; i < TL_DIVIDER_REASONS; i++)
        json_object_set_new(misses, keys[i],
                            answer->miss[i].any ? choice_object(&answer->miss[i].choice) : json_null());
    json_print(json_pack("{s:s,s:o,s:o,s:o,s:s,s:o,s:o,s:o,s:I,s:I,s:o,s:o}", "size", "divider",
                         "source_low_v", json_number(o->wish.source_low), "source_high_v",
                         json_number(o->wish.source_high), "limit_v", json_number(o->wish.limit), "series",
                         tl_series_name(o->wish.series), "tolerance", json_number(o->wish.tolerance),
                         "current_budget_a", json_number(o->wish.most_amperes), "pin_sees_budget_ohm",
                         json_number(o->wish.most_tap_ohms), "fitting", (json_int_t)answer->fitting, "tried",
                         (json_int_t)answer->tried, "choices", list, "nearest_misses", misses));
}

static int run_divider(int argc, char **argv)
{
    static const struct argp argp = {
        divider_argp_options,
        parse_divider,
        NULL,
        "Finds the two legs of a divider: all limits met, then the largest share of the range, "
        "then the least current.",
        NULL,
        NULL,
        NULL};
    divider_options o = {.wish = tl_divider_wish_default(), .top = 5};
    tl_divider_choice choices[TOP_MOST];
    tl_divider_answer answer;
    o.wish.most_tap_ohms = 10e3;
    argp_parse(&argp, argc, argv, 0, NULL, &o);
    o.wish.source_low = o.from.low;
    o.wish.source_high = o.from.high;
    if (o.wish.source_low < 0) {
        fprintf(stderr,
                "tinyladder: --from: below 0 V a divider to ground stays below 0 V; lift the source first\n");
        return EXIT_USAGE;
    }
    switch (tl_size_divider(&o.wish, choices, (size_t)o.top, &answer)) {
    case TL_SIZE_NONSENSE:
        fprintf(stderr,
                "tinyladder: these wishes contradict themselves: volts, budgets and loads must be above 0, "
                "the tolerance within 0 %% .. 100 %%\n");
        return EXIT_USAGE;
    case TL_SIZE_IMPOSSIBLE:
        (o.json ? print_json : print_answer)(&o, choices, &answer);
        return EXIT_FOUND;
    default:
        (o.json ? print_json : print_answer)(&o, choices, &answer);
        return EXIT_DONE;
    }
}

static int run_size(int argc, char **argv)
{
    if (argc >= 2 && strcmp(argv[1], "divider") == 0) {
        static char name[] = "tinyladder size divider";
        argv[1] = name;
        return run_divider(argc - 1, argv + 1);
    }
    const bool help = argc >= 2 && strcmp(argv[1], "--help") == 0;
    if (argc >= 2 && !help)
        fprintf(stderr, "tinyladder: size does not know '%.60s'\n", argv[1]);
    fputs("Usage: tinyladder size WHAT [OPTION...]\n  divider   two legs that bring a voltage down to a pin\n"
          "'tinyladder size WHAT --help' tells the options.\n",
          help ? stdout : stderr);
    return help ? EXIT_DONE : EXIT_USAGE;
}

const verb verb_size = {"size", "divider [OPTION...]", "finds preferred values, and says why others fail",
                        run_size};
