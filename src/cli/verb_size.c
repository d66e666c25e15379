/* tinyladder size WHAT: one engine for every kind in size_kinds.c, from its options to table or JSON. */
#include "cli/size_kinds.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum { TOP_MOST = 50, OPTIONS_MOST = 40 };
enum {
    KEY_SERIES = 1000,
    KEY_TOLERANCE,
    KEY_DRAWER,
    KEY_PLAN,
    KEY_BOARD,
    KEY_TOP,
    KEY_JSON,
    KEY_FIRST = 2000
};

typedef struct {
    const size_kind *kind;
    any_wish requirement;
    tl_series series;
    double tolerance;
    const char *drawer, *plan, *board;
    long top;
    bool json, series_given;
} size_call;

static const struct argp_option common_options[] = {
    {"board", KEY_BOARD, "FILE", 0, "a board file: limits, rail and converter come from it", 1},
    {"series", KEY_SERIES, "E24", 0, "preferred values: E3 E6 E12 E24 E48 E96 E192 (E24)", 1},
    {"tolerance", KEY_TOLERANCE, "PERCENT", 0, "of each resistor (1%)", 1},
    {"drawer", KEY_DRAWER, "FILE", 0, "only what this drawer holds, with its tolerances", 1},
    {"plan", KEY_PLAN, "FILE", 0, "what this plan uses up is no longer in the drawer", 1},
    {"top", KEY_TOP, "N", 0, "how many choices (5)", 1},
    {"json", KEY_JSON, NULL, 0, "the same as one JSON object", 1},
};
enum { COMMON = (int)(sizeof common_options / sizeof common_options[0]) };

/* --- options --- */

static void take_word(struct argp_state *state, const size_option *option, const char *text, int *member)
{
    for (int i = 0; option->words[i] != NULL; i++) {
        if (strcmp(option->words[i], text) == 0) {
            *member = i;
            return;
        }
    }
    char all[120] = "";
    for (int i = 0; option->words[i] != NULL; i++) {
        strncat(all, i > 0 ? ", " : "", sizeof all - strlen(all) - 1);
        strncat(all, option->words[i], sizeof all - strlen(all) - 1);
    }
    argp_error(state, "--%s: one of %s is wanted: '%.40s'", option->name, all, text);
}

static void take_option(struct argp_state *state, size_call *call, const size_option *option,
                        const char *text)
{
    void *member = (char *)&call->requirement + option->offset;
    char *end = NULL;
    double number;
    switch (option->form) {
    case FORM_RANGE:
        *(tl_quantity *)member = option_quantity(state, option->name, text, option->dimension);
        break;
    case FORM_VALUE:
        number = option_value(state, option->name, text, option->dimension);
        *(double *)member = option->dimension == TL_DIM_PERCENT ? number / 100 : number;
        break;
    case FORM_NUMBER:
        number = strtod(text, &end);
        if (end == text || *end != '\0' || strspn(text, "0123456789.") != strlen(text) || number > 1e6)
            argp_error(state, "--%s: a number is wanted: '%.40s'", option->name, text);
        *(double *)member = number;
        break;
    case FORM_WORD:
        take_word(state, option, text, member);
        break;
    case FORM_FLAG:
        *(int *)member = 1;
        break;
    }
}

static error_t parse_option(int key, char *text, struct argp_state *state)
{
    size_call *call = state->input;
    switch (key) {
    case KEY_SERIES:
        call->series_given = true;
        if (!tl_series_read(text, &call->series))
            argp_error(state, "--series: one of E3 E6 E12 E24 E48 E96 E192 is wanted: '%.20s'", text);
        return 0;
    case KEY_TOLERANCE:
        call->tolerance = option_value(state, "tolerance", text, TL_DIM_PERCENT) / 100;
        if (!(call->tolerance >= 0 && call->tolerance < 1))
            argp_error(state, "--tolerance: from 0%% to less than 100%%: '%.20s'", text);
        return 0;
    case KEY_DRAWER:
        call->drawer = text;
        return 0;
    case KEY_PLAN:
        call->plan = text;
        return 0;
    case KEY_BOARD:
        call->board = text;
        return 0;
    case KEY_TOP:
        call->top = option_number(state, "top", text, 1, TOP_MOST);
        return 0;
    case KEY_JSON:
        call->json = true;
        return 0;
    case ARGP_KEY_ARG:
        argp_error(state, "'%.60s' is one argument too many", text);
        return 0;
    case ARGP_KEY_END:
        if (call->drawer != NULL && call->series_given)
            argp_error(state, "either --series or --drawer, not both");
        if (call->plan != NULL && call->drawer == NULL)
            argp_error(state, "--plan goes with --drawer: a plan uses up what a drawer holds");
        return 0;
    default:
        if (key < KEY_FIRST || key >= KEY_FIRST + OPTIONS_MOST)
            return ARGP_ERR_UNKNOWN;
        take_option(state, call, &call->kind->options[key - KEY_FIRST], text);
        return 0;
    }
}

static void parse_call(size_call *call, int argc, char **argv)
{
    struct argp_option options[OPTIONS_MOST + COMMON + 1] = {{0}};
    int count = 0;
    for (; call->kind->options[count].name != NULL && count < OPTIONS_MOST; count++) {
        const size_option *o = &call->kind->options[count];
        options[count] = (struct argp_option){o->name, KEY_FIRST + count, o->argument, 0, o->help, 0};
    }
    memcpy(options + count, common_options, sizeof common_options);
    char text[300];
    snprintf(text, sizeof text, "Finds %s.\vExample: tinyladder size %s %s", call->kind->summary,
             call->kind->name, call->kind->needs);
    const struct argp argp = {options, parse_option, NULL, text, NULL, NULL, NULL};
    call->kind->set_defaults(&call->requirement);
    argp_parse(&argp, argc, argv, 0, NULL, call);
}

/* --- board and stock --- */

static bool load_board(const size_call *call, board_facts *facts, tl_report *report)
{
    *facts = (board_facts){.drives = NAN, .most_amperes = NAN};
    if (call->board == NULL)
        return true;
    tl_board *board = tl_board_load(call->board, report);
    if (board == NULL)
        return false;
    const tl_pin_limits *pin = tl_board_usual_limits(board);
    const tl_quantity rail = board->supplies[pin->supply].volts;
    const tl_reference *reference = &board->converter.references[0];
    *facts = (board_facts){
        .given = true,
        .rail = rail,
        .limit = tl_level_volts(pin->highest, rail.low),
        .drives = pin->drives,
        .most_amperes = pin->most_amperes,
        .leakage = fmax(fabs(pin->leakage.low), fabs(pin->leakage.high)),
        .farads = pin->farads,
        .converter = {.reference = reference->supply >= 0 ? board->supplies[reference->supply].volts.low
                                                          : reference->volts.low,
                      .bits = board->converter.word.bits,
                      .sample_farads = board->converter.sample_farads,
                      .switch_ohms = board->converter.switch_ohms,
                      .acquisition = board->converter.acquisition[board->converter.acquisition_count - 1]},
    };
    tl_board_free(board);
    return true;
}

static bool load_stock(const size_call *call, tl_stock *stock, tl_stock *capacitors, tl_report *report)
{
    if (call->drawer == NULL) {
        *stock = tl_stock_series(call->series, 10, 10e6, call->tolerance);
        return true;
    }
    if (!tl_drawer_load(call->drawer, stock, capacitors, report))
        return false;
    if (call->plan == NULL)
        return true;
    tl_plan *plan = tl_plan_load(call->plan, report);
    if (plan == NULL)
        return false;
    tl_plan_take_parts(plan, stock);
    tl_plan_free(plan);
    return true;
}

/* --- the answer as text --- */

static shown show_figure(const tl_size_figure *f, double value)
{
    return f->extreme == TL_HIGHEST  ? show_most(value, f->dimension)
           : f->extreme == TL_LOWEST ? show_least(value, f->dimension)
                                     : show(value, f->dimension);
}

static bool is_same_table(const tl_choice *a, const tl_choice *b)
{
    return a->way == b->way && a->parts == b->parts && a->figures == b->figures;
}

/* A column is left out where it says nothing: no figure there, for any choice of the table. */
static bool is_empty_column(const tl_choice *choices, int count, int figure)
{
    for (int i = 0; i < count; i++) {
        const tl_size_figure *f = &choices[i].figure[figure];
        if (!isnan(f->value) && !(f->value == 0 && isnan(f->limit) && figure > 0))
            return false;
    }
    return true;
}

/* Choices of one way side by side: parts, figures, and the limit that each comes nearest to. */
static void print_choices(const tl_size_result *answer, const tl_choice *choices, int count, int first_number)
{
    table t;
    char value[40], alignment[TABLE_COLUMNS * 2 + 1];
    int column[TL_CHOICE_FIGURES], columns = 0;
    for (int f = 0; f < choices->figures; f++) {
        if (!is_empty_column(choices, count, f) && 2 + choices->parts + columns < TABLE_COLUMNS)
            column[columns++] = f;
    }
    memset(alignment, '>', sizeof alignment);
    alignment[1 + choices->parts + columns] = '<';
    table_begin(&t, 2 + choices->parts + columns, alignment);
    table_cell(&t, " ");
    for (int p = 0; p < choices->parts; p++)
        table_cell(&t, "%s", choices->part_name[p]);
    for (int f = 0; f < columns; f++)
        table_cell(&t, "%s", choices->figure[column[f]].name);
    table_cell(&t, "nearest limit");
    for (int i = 0; i < count; i++) {
        const tl_choice *c = &choices[i];
        double used;
        const tl_size_figure *tightest = tl_choice_tightest(c, &used);
        table_cell(&t, "%d", first_number + i);
        for (int p = 0; p < c->parts; p++)
            table_cell(&t, "%s", tl_leg_write(&c->part[p], answer->stock, c->part_dimension[p], value));
        for (int f = 0; f < columns; f++)
            table_cell(&t, "%s", show_figure(&c->figure[column[f]], c->figure[column[f]].value).text);
        if (tightest != NULL)
            table_cell(&t, "%s %s", tightest->name, show_most(100 * used, TL_DIM_PERCENT).text);
        else
            table_cell(&t, "-");
    }
    table_end(&t, stdout, "  ");
}

static void print_bands(const tl_size_result *answer, const tl_choice *c)
{
    const char *bands[TL_BANDS_MOST];
    char value[40];
    for (int p = 0; p < c->parts; p++) {
        const tl_leg *leg = &c->part[p];
        const int indices[2] = {leg->first, leg->second};
        for (int i = 0; i < 2 && c->part_dimension[p] == TL_DIM_OHM; i++) {
            if (indices[i] < 0)
                continue;
            const tl_stock_part *part = &answer->stock->parts[indices[i]];
            const int count = tl_colour_bands(part->value, part->tolerance, bands);
            printf("  %s %s:", c->part_name[p], tl_letter_code_write(part->value, value));
            for (int b = 0; b < count; b++)
                printf(" %s", bands[b]);
            printf("%s\n", count == 0 ? " no bands for this value" : "");
        }
    }
}

static void print_indented(const char *text)
{
    for (const char *at = text; *at != '\0';) {
        const size_t length = strcspn(at, "\n");
        printf("  %.*s\n", (int)length, at);
        at += length + (at[length] != '\0');
    }
}

static void print_first(const tl_size_result *answer)
{
    const tl_choice *best = &answer->choices[0];
    if (best->parts > 0 && best->part_dimension[0] == TL_DIM_OHM) {
        printf("\nColour bands of the first:\n");
        print_bands(answer, best);
    }
    if (best->note[0] != '\0') {
        putchar('\n');
        print_indented(best->note);
    }
    if (best->plan[0] != '\0') {
        printf("\nPlan lines for the first:\n");
        print_indented(best->plan);
    }
}

static void print_rejected(const tl_size_result *answer)
{
    char value[40];
    if (answer->rejected_count == 0)
        return;
    printf("\n%s:\n", answer->count > 0 ? "Why others fail" : "What comes nearest, and why it fails");
    for (int i = 0; i < answer->rejected_count; i++) {
        const tl_rejected *miss = &answer->rejected[i];
        printf("  - %s", miss->why);
        for (int p = 0; p < miss->choice.parts; p++)
            printf("%s%s %s", p == 0 ? "  (" : ", ", miss->choice.part_name[p],
                   tl_leg_write(&miss->choice.part[p], answer->stock, miss->choice.part_dimension[p], value));
        printf("%s\n", miss->choice.parts > 0 ? ")" : "");
    }
}

static void print_result(const size_call *call, const tl_size_result *answer)
{
    if (call->drawer != NULL)
        printf("Values from %s. ", call->drawer);
    else
        printf("%s values, ±%g %%. ", tl_series_name(call->series), 100 * call->tolerance);
    printf("Figures are guaranteed worst cases over ranges and tolerances.\n");
    for (int i = 0; i < answer->note_count; i++)
        printf("  %s\n", answer->notes[i]);
    if (answer->count == 0)
        printf("\n%sNo: %s.%s\n", ink_on(stdout, INK_ERROR), answer->refusal, ink_off(stdout));
    for (int i = 0, next; i < answer->count; i = next) {
        for (next = i + 1;
             next < answer->count && is_same_table(&answer->choices[i], &answer->choices[next]);)
            next++;
        printf("\n");
        if (answer->choices[i].way != NULL)
            printf("%s%s%s\n", ink_on(stdout, INK_STRONG), answer->choices[i].way, ink_off(stdout));
        print_choices(answer, &answer->choices[i], next - i, i + 1);
    }
    if (answer->count > 0)
        print_first(answer);
    print_rejected(answer);
}

/* --- the answer as JSON --- */

static const char *unit_of(tl_dimension dimension)
{
    static const char *const units[] = {
        [TL_DIM_OHM] = "ohm",  [TL_DIM_VOLT] = "V",    [TL_DIM_AMPERE] = "A",     [TL_DIM_FARAD] = "F",
        [TL_DIM_SECOND] = "s", [TL_DIM_PERCENT] = "%", [TL_DIM_COUNT] = "counts", [TL_DIM_WATT] = "W",
        [TL_DIM_HERTZ] = "Hz", [TL_DIM_HENRY] = "H",   [TL_DIM_NUMBER] = "",
    };
    return units[dimension];
}

static json_t *bands_array(const tl_size_result *answer, const tl_leg *leg, tl_dimension dimension)
{
    const char *bands[TL_BANDS_MOST];
    json_t *list = json_array();
    const int indices[2] = {leg->first, leg->second};
    for (int i = 0; i < 2 && dimension == TL_DIM_OHM; i++) {
        if (indices[i] < 0)
            continue;
        const tl_stock_part *part = &answer->stock->parts[indices[i]];
        json_t *one = json_array();
        const int count = tl_colour_bands(part->value, part->tolerance, bands);
        for (int b = 0; b < count; b++)
            json_array_append_new(one, json_string(bands[b]));
        json_array_append_new(list, one);
    }
    return list;
}

static json_t *choice_object(const tl_size_result *answer, const tl_choice *c)
{
    static const char *const extremes[] = {
        [TL_HIGHEST] = "highest", [TL_LOWEST] = "lowest", [TL_TYPICAL] = "typical"};
    json_t *parts = json_array(), *figures = json_array();
    char value[40];
    double used;
    for (int p = 0; p < c->parts; p++)
        json_array_append_new(
            parts, json_pack("{s:s,s:s,s:o,s:o,s:o,s:s,s:o}", "name", c->part_name[p], "text",
                             tl_leg_write(&c->part[p], answer->stock, c->part_dimension[p], value), "value",
                             json_number(c->part[p].nominal), "low", json_number(c->part[p].low), "high",
                             json_number(c->part[p].high), "unit", unit_of(c->part_dimension[p]), "bands",
                             bands_array(answer, &c->part[p], c->part_dimension[p])));
    for (int f = 0; f < c->figures; f++)
        json_array_append_new(figures, json_pack("{s:s,s:o,s:s,s:s,s:o}", "name", c->figure[f].name, "value",
                                                 json_number(c->figure[f].value), "unit",
                                                 unit_of(c->figure[f].dimension), "extreme",
                                                 extremes[c->figure[f].extreme], "limit",
                                                 json_number(c->figure[f].limit)));
    const tl_size_figure *tightest = tl_choice_tightest(c, &used);
    return json_pack("{s:o,s:o,s:o,s:o,s:s,s:s}", "way", c->way != NULL ? json_string(c->way) : json_null(),
                     "parts", parts, "figures", figures, "nearest_limit",
                     tightest != NULL ? json_string(tightest->name) : json_null(), "plan", c->plan, "note",
                     c->note);
}

static void print_json(const size_call *call, const tl_size_result *answer)
{
    json_t *choices = json_array(), *rejected = json_array(), *notes = json_array();
    for (int i = 0; i < answer->count; i++)
        json_array_append_new(choices, choice_object(answer, &answer->choices[i]));
    for (int i = 0; i < answer->rejected_count; i++)
        json_array_append_new(rejected, json_pack("{s:s,s:o}", "why", answer->rejected[i].why, "choice",
                                                  choice_object(answer, &answer->rejected[i].choice)));
    for (int i = 0; i < answer->note_count; i++)
        json_array_append_new(notes, json_string(answer->notes[i]));
    json_print(json_pack("{s:s,s:b,s:o,s:o,s:o,s:o,s:o,s:o}", "size", call->kind->name, "possible",
                         answer->status == TL_SIZE_DONE, "refusal",
                         answer->count == 0 ? json_string(answer->refusal) : json_null(), "fitting",
                         json_number(answer->fitting), "tried", json_number(answer->tried), "choices",
                         choices, "rejected", rejected, "notes", notes));
}

/* --- the verb --- */

static int answer_call(size_call *call, const board_facts *board, const tl_stock *stock,
                       const tl_stock *capacitors)
{
    tl_size_result *answer = tl_size_result_new(stock, (int)call->top);
    answer->capacitors = call->drawer != NULL ? capacitors : NULL;
    int status = EXIT_DONE;
    if (call->kind->take_board != NULL)
        call->kind->take_board(&call->requirement, board);
    call->kind->size(&call->requirement, answer);
    if (answer->status == TL_SIZE_NONSENSE) {
        fprintf(stderr, "tinyladder: size %s: %s; such as: %s\n", call->kind->name, answer->refusal,
                call->kind->needs);
        status = EXIT_USAGE;
    } else {
        (call->json ? print_json : print_result)(call, answer);
        status = answer->count > 0 ? EXIT_DONE : EXIT_FOUND;
    }
    tl_size_result_free(answer);
    return status;
}

static int run_kind(const size_kind *kind, int argc, char **argv)
{
    size_call call = {.kind = kind, .series = TL_E24, .tolerance = 0.01, .top = 5};
    board_facts board;
    tl_stock stock = {0}, capacitors = {0};
    char name[64];
    snprintf(name, sizeof name, "tinyladder size %s", kind->name);
    argv[0] = name;
    parse_call(&call, argc, argv);
    tl_report *report = new_report();
    const bool good = load_board(&call, &board, report) && load_stock(&call, &stock, &capacitors, report);
    const int status = good ? answer_call(&call, &board, &stock, &capacitors) : print_unreadable(report);
    tl_stock_free(&stock);
    tl_stock_free(&capacitors);
    tl_report_free(report);
    return status;
}

static void print_kinds(FILE *to)
{
    fputs("Usage: tinyladder size WHAT [OPTION...]\n\n", to);
    for (int i = 0; i < size_kind_count; i++)
        fprintf(to, "  %-10s %s\n", size_kinds[i].name, size_kinds[i].summary);
    fputs("\n'tinyladder size WHAT --help' tells the options and an example.\n", to);
}

static int run_size(int argc, char **argv)
{
    for (int i = 0; i < size_kind_count && argc >= 2; i++) {
        if (strcmp(argv[1], size_kinds[i].name) == 0)
            return run_kind(&size_kinds[i], argc - 1, argv + 1);
    }
    const bool help = argc >= 2 && (strcmp(argv[1], "--help") == 0 || strcmp(argv[1], "-?") == 0);
    if (argc >= 2 && !help)
        fprintf(stderr, "tinyladder: size does not know '%.60s'\n", argv[1]);
    print_kinds(help ? stdout : stderr);
    return help ? EXIT_DONE : EXIT_USAGE;
}

const verb verb_size = {"size", "WHAT [OPTION...]",
                        "finds the parts a signal needs, and says why others fail", run_size};
