/* SPDX-License-Identifier: MIT */
/* tinyladder size JOB: one engine for every kind in proposals/jobs.c, from its options to table or JSON. */
#include "base/nearest_name.h"
#include "cli/other_names.h"
#include "cli/size_call.h"
#include "proposals/resize.h"
#include "sizing/sizing.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

enum { TOP = 3, TOP_OF_JSON = 5, CANDIDATES_MOST = 50, SPARE_CANDIDATES = 15 };
enum {
    KEY_JSON = 'j',
    KEY_SERIES = 1000,
    KEY_TOLERANCE,
    KEY_DRAWER,
    KEY_PLAN,
    KEY_BOARD,
    KEY_TOP,
    KEY_ALL,
    KEY_COMPARE,
    KEY_WRITE,
    KEY_DRY_RUN,
    KEY_ORDER,
    KEY_FIRST = 2000
};

static const struct argp_option common_options[] = {
    {"board", KEY_BOARD, "FILE", 0, "board file with limits, supply and ADC", 1},
    {"series", KEY_SERIES, "E24", 0, "preferred values: E3 E6 E12 E24 E48 E96 E192 (default: E24)", 1},
    {"tolerance", KEY_TOLERANCE, "PERCENT", 0, "tolerance of each resistor (default: 1%)", 1},
    {"drawer", KEY_DRAWER, "FILE", 0, "use only parts in this drawer file, with their tolerances", 1},
    {"plan", KEY_PLAN, "FILE", 0, "exclude drawer parts that this plan already uses", 1},
    {"top", KEY_TOP, "N", 0, "number of choices (default: 3; with --json: 5)", 1},
    {"all", KEY_ALL, NULL, 0, "print up to 50 choices", 1},
    {"order", KEY_ORDER, "WORD", 0,
     "order of the choices: practice, least or largest; partner: also swing; ratio: also nearest; ladder: "
     "also apart (default: practice)",
     1},
    {"compare", KEY_COMPARE, "VALUES", 0, "compare these values, also if they do not fit", 1},
    {"json", KEY_JSON, NULL, 0, "print one JSON object", 1},
    {"write", KEY_WRITE, NULL, 0,
     "with PLAN and PART: write the first choice to the plan file and print the change", 1},
    {"dry-run", KEY_DRY_RUN, NULL, 0, "print what --write would change; write nothing", 1},
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
    argp_error(state, "--%s: expected one of %s, got '%.40s'", option->name, all, text);
}

/* `1k,10k,47k` */
static void take_list(struct argp_state *state, const size_option *option, const char *text,
                      tl_values *values)
{
    char *copy = must(strdup(text)), *rest = NULL;
    values->count = 0;
    for (const char *word = strtok_r(copy, ",", &rest); word != NULL; word = strtok_r(NULL, ",", &rest)) {
        if (values->count == TL_VALUES_MOST)
            argp_error(state, "--%s: at most %d values", option->name, TL_VALUES_MOST);
        values->of[values->count++] = option_value(state, option->name, word, option->dimension);
    }
    free(copy);
    if (values->count == 0)
        argp_error(state, "--%s: expected a value, or several with commas between them", option->name);
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
        call->exact[option - call->kind->options] =
            option->dimension == TL_DIM_VOLT && ((tl_quantity *)member)->low == ((tl_quantity *)member)->high
                ? text
                : NULL;
        break;
    case FORM_VALUE:
        number = option_value(state, option->name, text, option->dimension);
        *(double *)member = option->dimension == TL_DIM_PERCENT ? number / 100 : number;
        break;
    case FORM_LIST:
        take_list(state, option, text, member);
        break;
    case FORM_NUMBER:
        number = strtod(text, &end);
        if (end != text && *end == '/' && strspn(end + 1, "0123456789.") > 0) {
            const double below = strtod(end + 1, &end);
            number = below > 0 ? number / below : (double)NAN;
        }
        if (end == text || *end != '\0' || strspn(text, "0123456789./") != strlen(text) || !(number <= 1e6))
            argp_error(state, "--%s: expected a number, got '%.40s'", option->name, text);
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

static void take_order(struct argp_state *state, size_call *call, const char *text)
{
    static const struct {
        const char *word, *kind; /* of that kind alone; NULL for all */
        tl_size_order order;
    } orders[] = {{"practice", NULL, TL_BY_PRACTICE},  {"least", NULL, TL_BY_LEAST},
                  {"largest", NULL, TL_BY_LARGEST},    {"swing", "partner", TL_BY_EXTREME},
                  {"nearest", "ratio", TL_BY_EXTREME}, {"apart", "ladder", TL_BY_EXTREME}};
    for (size_t i = 0; i < sizeof orders / sizeof orders[0]; i++) {
        if (strcmp(orders[i].word, text) == 0 &&
            (orders[i].kind == NULL || strcmp(orders[i].kind, call->kind->name) == 0)) {
            call->order = orders[i].order;
            return;
        }
    }
    argp_error(state, "--order: expected one of practice, least, largest%s, got '%.40s'",
               strcmp(call->kind->name, "partner") == 0  ? ", swing"
               : strcmp(call->kind->name, "ratio") == 0  ? ", nearest"
               : strcmp(call->kind->name, "ladder") == 0 ? ", apart"
                                                         : "",
               text);
}

static error_t parse_option(int key, char *text, struct argp_state *state)
{
    size_call *call = state->input;
    switch (key) {
    case KEY_SERIES:
        call->series_given = true;
        if (!tl_series_read(text, &call->series))
            argp_error(state, "--series: expected E3, E6, E12, E24, E48, E96 or E192, got '%.20s'", text);
        return 0;
    case KEY_TOLERANCE:
        call->tolerance_given = true;
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
        call->top = option_number(state, "top", text, 1, SIZE_ALL);
        return 0;
    case KEY_ALL:
        call->all = true;
        return 0;
    case KEY_COMPARE:
        call->compare = text;
        return 0;
    case KEY_ORDER:
        take_order(state, call, text);
        return 0;
    case KEY_JSON:
        call->json = true;
        return 0;
    case KEY_WRITE:
        call->write = true;
        return 0;
    case KEY_DRY_RUN:
        call->dry = true;
        return 0;
    case ARGP_KEY_ARG:
        argp_error(state, "'%.60s' is one argument too many", text);
        return 0;
    case ARGP_KEY_END:
        if (call->all && call->top > 0)
            argp_error(state, "either --top or --all, not both");
        if (call->top == 0)
            call->top = call->all ? SIZE_ALL : call->json ? TOP_OF_JSON : TOP;
        if (call->drawer != NULL && call->series_given)
            argp_error(state, "either --series or --drawer, not both");
        if (call->of_plan && (call->plan != NULL || call->board != NULL))
            argp_error(state, "--plan and --board: PLAN says all that");
        if ((call->write || call->dry) && !call->of_plan)
            argp_error(state, "%s goes with PLAN and PART: tinyladder size PLAN SIGNAL.PART %s",
                       call->dry ? "--dry-run" : "--write", call->dry ? "--dry-run" : "--write");
        if (call->dry && call->json)
            argp_error(state, "--dry-run prints a diff: without --json");
        if (call->compare != NULL && (call->write || call->dry))
            argp_error(state, "--compare only shows: without --write and --dry-run");
        if (call->plan != NULL && call->drawer == NULL)
            argp_error(state, "--plan goes with --drawer: a plan uses up what a drawer holds");
        return 0;
    default:
        if (key < KEY_FIRST || key >= KEY_FIRST + SIZE_OPTIONS_MOST)
            return ARGP_ERR_UNKNOWN;
        call->typed[key - KEY_FIRST] = true;
        take_option(state, call, &call->kind->options[key - KEY_FIRST], text);
        return 0;
    }
}

static void parse_call(size_call *call, int argc, char **argv)
{
    struct argp_option options[SIZE_OPTIONS_MOST + OTHER_NAMES_MOST + COMMON + 1] = {{0}};
    int count = 0;
    for (int i = 0; call->kind->options[i].name != NULL && i < SIZE_OPTIONS_MOST; i++) {
        const size_option *o = &call->kind->options[i];
        options[count++] = (struct argp_option){o->name, KEY_FIRST + i, o->argument, 0, o->help, 0};
        count = other_names_add(call->kind, options, count);
    }
    for (int i = 0; i < COMMON; i++) { /* a divider has orders of its own */
        if (common_options[i].key != KEY_ORDER || strcmp(call->kind->name, "divider") != 0)
            options[count++] = common_options[i];
    }
    char text[600];
    snprintf(text, sizeof text, "%s\vTo compare values: --compare %s\nExample: tinyladder size %s %s",
             call->kind->summary, call->kind->compared, call->kind->name, call->kind->needs);
    const struct argp argp = {options, parse_option, NULL, text, NULL, NULL, NULL};
    call->kind->set_defaults(&call->requirement);
    options_parse(&argp, argc, argv, call);
}

/* --- what need not be typed --- */

static void take_facts(size_call *call, const tl_facts *facts)
{
    size_take_facts(call->kind, &call->requirement, call->typed, facts);
}

static bool load_board(size_call *call, tl_facts *facts, tl_report *report)
{
    tl_facts_none(facts);
    tl_board *board = call->board != NULL ? tl_board_load(call->board, report) : NULL;
    if (board != NULL) {
        tl_facts_of_board(board, facts);
        snprintf(call->rail, sizeof call->rail, "%s",
                 board->supplies[tl_board_usual_limits(board)->supply].name);
    }
    tl_board_free(board);
    return board != NULL || call->board == NULL;
}

/* --- what there is to choose from --- */

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

/* A tolerance that is typed is that of legs that are given, too. */
static void widen_fixed_legs(size_call *call)
{
    tl_divider_requirement *w = &call->requirement.divider;
    tl_quantity *legs[2] = {&w->upper, &w->lower};
    for (int i = 0; i < 2 && call->tolerance_given && strcmp(call->kind->name, "divider") == 0; i++) {
        if (legs[i]->toleranced || isnan(legs[i]->nominal))
            continue;
        legs[i]->low *= 1 - call->tolerance;
        legs[i]->high *= 1 + call->tolerance;
    }
}

/* A source resistance that is typed is the one that you want; a board's is only the largest that it allows.
 */
static void note_said(size_call *call)
{
    for (int i = 0; call->kind->options[i].name != NULL && strcmp(call->kind->name, "divider") == 0; i++) {
        if (call->typed[i] && strcmp(call->kind->options[i].name, "max-source-resistance") == 0)
            call->requirement.divider.tap_said = call->requirement.divider.most_tap_ohms;
    }
}

/* --- the verb --- */

static tl_size_result *find_choices(const size_call *call, const tl_stock *stock, const tl_stock *capacitors,
                                    int most)
{
    tl_size_result *result = tl_size_result_new(stock, most);
    result->capacitors = capacitors;
    result->order = call->order;
    call->kind->size(&call->requirement, result);
    for (int i = 0; call->kind->options[i].name != NULL; i++) {
        if (call->exact[i] != NULL)
            result_note(
                result,
                "--%s: %s has no tolerance and is assumed exact. Write its tolerance, such as '%s ±5 %%'.",
                call->kind->options[i].name, call->exact[i], call->exact[i]);
    }
    return result;
}

/* The help ends with the default in brackets. A default that only a board has is none here. */
static bool has_default(const size_option *o)
{
    const char *bracket = strrchr(o->help, '(');
    static const char of_board[] = "(default: from --board";
    return o->form == FORM_FLAG ||
           (bracket != NULL &&
            (strncmp(bracket, of_board, sizeof of_board - 1) != 0 || strstr(bracket, ", else ") != NULL));
}

/* Of the options that the example has, those that neither were typed nor are known otherwise; how many. */
static int tell_missing(const size_call *call, const tl_facts *facts)
{
    int missing = 0;
    for (int i = 0; call->kind->options[i].name != NULL && i < SIZE_OPTIONS_MOST; i++) {
        const size_option *o = &call->kind->options[i];
        char name[60];
        snprintf(name, sizeof name, "--%s ", o->name);
        const char *example = strstr(call->kind->needs, name);
        if (example == NULL || call->typed[i] || has_default(o) ||
            (o->from != TL_FACT_NONE && !isnan(facts->of[o->from].nominal)))
            continue;
        const char *end = strstr(example, " --"), *bracket = strrchr(o->help, '(');
        const size_t length = end != NULL ? (size_t)(end - example) : strlen(example);
        const int help = bracket != NULL ? (int)(bracket - o->help) - 1 : (int)strlen(o->help);
        const bool told = strstr(o->help, "such as") != NULL;
        fprintf(stderr, "tinyladder: size %s: --%s is required: %.*s%s%.*s%s\n", call->kind->name, o->name,
                help, o->help, told ? "" : ", such as ", told ? 0 : (int)length, example,
                o->from != TL_FACT_NONE && call->board == NULL && bracket != NULL ? " (or give --board FILE)"
                                                                                  : "");
        missing++;
    }
    return missing;
}

/* What was asked contradicts itself, or lacks something: told with an example of what is required. */
static bool is_nonsense(const size_call *call, const tl_size_result *result, const tl_facts *facts)
{
    if (result->status != TL_SIZE_NONSENSE)
        return false;
    if (tell_missing(call, facts) == 0)
        fprintf(stderr, "tinyladder: size %s: %s\n", call->kind->name, result->refusal);
    fprintf(stderr, "  for example: tinyladder size %s %s\n", call->kind->name, call->kind->needs);
    return true;
}

static int answer(const size_call *call, const tl_facts *facts, const tl_stock *stock,
                  const tl_stock *capacitors)
{
    tl_size_result *result = find_choices(call, stock, call->drawer != NULL ? capacitors : NULL,
                                          (int)call->top + SPARE_CANDIDATES);
    const tl_question question = {call->kind->name, &call->requirement, facts, call->drawer};
    tl_question_ask(&question, result, (int)call->top);
    while (result->count > 0 && !size_is_listed(call, &result->choices[result->count - 1], result->count - 1))
        result->count--;
    const bool unproved = result->status == TL_SIZE_UNPROVED;
    if (unproved)
        fprintf(stderr, "tinyladder: size %s: %s\n", call->kind->name, result->refusal);
    const int status = unproved                           ? EXIT_UNREADABLE
                       : is_nonsense(call, result, facts) ? EXIT_USAGE
                       : result->count > 0                ? EXIT_DONE
                                                          : EXIT_FOUND;
    if (status != EXIT_USAGE && !unproved)
        (call->json ? size_print_json : size_print_text)(call, result);
    tl_size_result_free(result);
    return status;
}

static int run_kind(const size_kind *kind, int argc, char **argv)
{
    size_call call = {.kind = kind, .series = TL_E24, .tolerance = 0.01};
    tl_facts facts;
    tl_stock stock = {0}, capacitors = {0};
    char name[64];
    snprintf(name, sizeof name, "tinyladder size %s", kind->name);
    argv[0] = name;
    parse_call(&call, argc, argv);
    tl_report *report = new_report();
    int status = EXIT_UNREADABLE;
    if (load_board(&call, &facts, report) && load_stock(&call, &stock, &capacitors, report)) {
        take_facts(&call, &facts);
        widen_fixed_legs(&call);
        note_said(&call);
        if (call.compare != NULL && tell_missing(&call, &facts) == 0)
            status = size_compare(&call, &facts, &stock, &capacitors);
        else if (call.compare != NULL)
            status = EXIT_USAGE;
        else
            status = answer(&call, &facts, &stock, &capacitors);
    } else {
        print_unreadable(report);
    }
    tl_stock_free(&stock);
    tl_stock_free(&capacitors);
    tl_report_free(report);
    return status;
}

/* --- a part of a plan --- */

/* What was typed to choose from; else what the plan says of it. */
static bool load_plan_stock(const size_call *call, const tl_circuit *circuit, const tl_part *part,
                            tl_stock *stock, tl_stock *capacitors, tl_report *report)
{
    if (call->drawer != NULL || call->series_given || call->tolerance_given)
        return load_stock(call, stock, capacitors, report);
    part_stock(circuit, part, stock, capacitors);
    return true;
}

static int size_part(size_call *call, tl_plan *plan, const tl_part *part, tl_circuit *circuit,
                     tl_report *report)
{
    tl_facts facts;
    tl_stock stock = {0}, capacitors = {0};
    int status = EXIT_UNREADABLE;
    tl_facts_of_part(circuit, part, &facts);
    take_facts(call, &facts);
    note_said(call);
    if (!load_plan_stock(call, circuit, part, &stock, &capacitors, report)) {
        print_unreadable(report);
    } else if (call->compare != NULL) {
        status = size_compare_in_plan(call, plan, report, part, &stock, &capacitors);
    } else {
        tl_size_result *result =
            find_choices(call, &stock, capacitors.count > 0 ? &capacitors : NULL, CANDIDATES_MOST);
        status =
            is_nonsense(call, result, &facts) ? EXIT_USAGE : size_in_plan(call, plan, report, part, result);
        tl_size_result_free(result);
    }
    tl_stock_free(&stock);
    tl_stock_free(&capacitors);
    return status;
}

/* PLAN and PART stand first, since the part says which options there are. */
static int run_part(int argc, char **argv)
{
    char why[TL_PART_WHY], name[80];
    tl_part part;
    int status = EXIT_USAGE;
    tl_report *report = new_report();
    tl_plan *plan = tl_plan_load(argv[1], report);
    if (plan == NULL) {
        status = print_unreadable(report);
    } else if (!tl_part_find(plan, argv[2], &part, why)) {
        fprintf(stderr, "tinyladder: %s\n", why);
    } else {
        size_call call = {
            .kind = size_kind_of(part.job), .series = TL_E24, .tolerance = 0.01, .of_plan = true};
        snprintf(name, sizeof name, "tinyladder size PLAN PART");
        argv[2] = name;
        parse_call(&call, argc - 2, argv + 2);
        call.plan = plan->path;
        tl_circuit *circuit = tl_circuit_new(plan);
        tl_plan_check(circuit, report);
        status = size_part(&call, plan, &part, circuit, report);
        tl_circuit_free(circuit);
    }
    tl_plan_free(plan);
    tl_report_free(report);
    return status;
}

static void print_kinds(FILE *to)
{
    fputs("Usage: tinyladder size JOB [OPTION...]\n  or:  tinyladder size PLAN SIGNAL.PART [--write] "
          "[OPTION...]\n\n",
          to);
    for (int i = 0; i < size_kind_count; i++)
        fprintf(to, "  %-10s %s\n", size_kinds[i].name, size_kinds[i].summary);
    fputs("  nearest    Find the preferred values nearest to a value.\n  marking    Write or read colour "
          "bands and letter codes.\n",
          to);
    fputs("\nWith a plan, size takes all facts from it and checks every choice in it; --write writes the "
          "first one.\n'tinyladder size JOB --help' shows the options and an example.\n",
          to);
}

static const char *job_name(const void *list, int i)
{
    (void)list;
    return i < size_kind_count ? size_kinds[i].name : i == size_kind_count ? "nearest" : "marking";
}

static int run_size(int argc, char **argv)
{
    if (argc >= 2 && strcmp(argv[1], "nearest") == 0)
        return size_nearest(argc - 1, argv + 1);
    if (argc >= 2 && strcmp(argv[1], "marking") == 0)
        return size_marking(argc - 1, argv + 1);
    if (argc >= 2 && size_kind_of(argv[1]) != NULL)
        return run_kind(size_kind_of(argv[1]), argc - 1, argv + 1);
    if (argc >= 3 && argv[1][0] != '-' && argv[2][0] != '-')
        return run_part(argc, argv);
    const bool help = argc >= 2 && (strcmp(argv[1], "--help") == 0 || strcmp(argv[1], "-?") == 0);
    if (argc < 2 || help) {
        print_kinds(help ? stdout : stderr);
        return help ? EXIT_DONE : EXIT_USAGE;
    }
    if (access(argv[1], F_OK) == 0) {
        fprintf(stderr,
                "tinyladder: size: which part of %.200s? Expected SIGNAL.PART, such as knob.divider\n",
                argv[1]);
        return EXIT_USAGE;
    }
    char text[100];
    fprintf(stderr, "tinyladder: size: unknown job '%.60s'%s\n'tinyladder size --help' lists the jobs.\n",
            argv[1], did_you_mean(nearest_name(argv[1], job_name, NULL, size_kind_count + 2), text));
    return EXIT_USAGE;
}

const verb verb_size = {"size", "Find part values that meet all limits.", run_size};
