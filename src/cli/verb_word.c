/* SPDX-License-Identifier: MIT */
/* tinyladder word BOARD|CONVERTER|PLAN: settings to register words and back, from the fields of the part's
 * file. */
#include "cli/cli.h"
#include "reading/readings.h"
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum { SETS_MOST = 32 };

typedef struct {
    const char *path, *decode, *only, *converter, *signal;
    char *sets[SETS_MOST];
    int set_count;
    bool json;
} word_options;

static const struct argp_option word_argp_options[] = {
    {"set", 's', "FIELD=VALUE", 0, "set a field to a value, by name or number; repeat for more fields", 0},
    {"decode", 'd', "WORD", 0, "decode a register word, such as 0x1b", 0},
    {"register", 'r', "NAME", 0, "register to use (required to decode if there are several)", 0},
    {"converter", 'c', "NAME", 0, "ADC in the plan (default: the board's own)", 0},
    {"json", 'j', NULL, 0, "print one JSON object", 0},
    {0},
};

static error_t parse_word(int key, char *text, struct argp_state *state)
{
    word_options *o = state->input;
    switch (key) {
    case 's':
        if (strchr(text, '=') == NULL || text[0] == '=')
            argp_error(state, "--set: expected FIELD=VALUE, got '%.60s'", text);
        if (o->set_count == SETS_MOST)
            argp_error(state, "--set: more than %d of them", SETS_MOST);
        o->sets[o->set_count++] = text;
        break;
    case 'd':
        o->decode = text;
        break;
    case 'r':
        o->only = text;
        break;
    case 'c':
        o->converter = text;
        break;
    case 'j':
        o->json = true;
        break;
    case ARGP_KEY_ARG:
        if (state->arg_num == 1)
            o->signal = text;
        else
            option_file(state, "board, converter or plan", &o->path, text);
        break;
    case ARGP_KEY_END:
        if (o->path == NULL)
            argp_error(state, "which board, or which plan?");
        if (o->decode != NULL && o->set_count > 0)
            argp_error(state, "either --set or --decode, not both");
        if (o->signal != NULL && (o->decode != NULL || o->converter != NULL))
            argp_error(state, "a signal says which converter, and composes: no --converter or --decode");
        break;
    default:
        return ARGP_ERR_UNKNOWN;
    }
    return 0;
}

typedef struct {
    const tl_converter *converter;
    unsigned long words[TL_REGISTERS_MOST];
    const tl_plan *plan; /* NULL where a board or a part was asked */
    int used, signal;    /* of the plan: which converter; for which signal, or TL_NONE */
} word_set;

/* --- filling the words --- */

/* What the plan has settled: of the converter, or of a signal with its input and its acquisition. */
static bool set_from_plan(const word_options *o, word_set *set)
{
    double acquisition = NAN;
    char why[160];
    tl_external external;
    if (set->signal != TL_NONE && set->used == 0) {
        tl_circuit *circuit = tl_circuit_new(set->plan);
        acquisition = tl_circuit_path(circuit, set->signal)->acquisition;
        tl_circuit_free(circuit);
    }
    if (tl_plan_settings(set->plan, set->used, set->signal, acquisition, set->words, why) &&
        (set->used == 0 || tl_plan_external(set->plan, set->used, &external, why)))
        return true;
    fprintf(stderr, "tinyladder: %s: %s cannot be told what the plan wants: %s\n", o->path,
            set->plan->converters[set->used].name, why);
    return false;
}

static bool apply_sets(const word_options *o, word_set *set)
{
    bool good = true;
    for (int i = 0; i < o->set_count; i++) {
        char why[160];
        int index = 0;
        char *value = strchr(o->sets[i], '=');
        *value++ = '\0';
        const tl_field *field = tl_converter_field(set->converter, o->sets[i], &index);
        if (field == NULL)
            fprintf(stderr, "tinyladder: --set: %s has no field '%.40s'\n", set->converter->name, o->sets[i]);
        else if (!tl_field_set(field, value, &set->words[index], why))
            fprintf(stderr, "tinyladder: --set: %s\n", why);
        else
            continue;
        good = false;
    }
    return good;
}

static int find_register(const tl_converter *converter, const char *name)
{
    for (int i = 0; i < converter->register_count; i++) {
        if (strcmp(converter->registers[i].name, name) == 0)
            return i;
    }
    return -1;
}

static bool apply_decode(const word_options *o, word_set *set, int *only)
{
    char *end = NULL;
    if (*only < 0 && set->converter->register_count > 1) {
        fprintf(stderr, "tinyladder: --decode: of which register? Say --register NAME\n");
        return false;
    }
    *only = *only < 0 ? 0 : *only;
    const unsigned long word = strtoul(o->decode, &end, 0);
    const int width = set->converter->registers[*only].width;
    if (end == o->decode || *end != '\0' || o->decode[0] == '-' || (width < 64 && word >> width != 0)) {
        fprintf(stderr, "tinyladder: --decode: expected a word of %d bits, such as 0x1b, got '%.40s'\n",
                width, o->decode);
        return false;
    }
    set->words[*only] = word;
    return true;
}

/* --- showing them --- */

static void write_binary(unsigned long word, int width, char text[48])
{
    int at = 0;
    for (int bit = width - 1; bit >= 0; bit--) {
        text[at++] = (char)('0' + (word >> bit & 1));
        if (bit % 4 == 0 && bit > 0)
            text[at++] = ' ';
    }
    text[at] = '\0';
}

/* Bits that no field claims but that are set: a word that this register does not have. */
static unsigned long unclaimed_bits(const tl_register *reg, unsigned long word)
{
    for (int f = 0; f < reg->field_count; f++)
        word &= ~(tl_field_get(&reg->fields[f], ~0ul) << reg->fields[f].low);
    return word;
}

static void print_register(const tl_register *reg, unsigned long word)
{
    static const char *const heads[] = {"field", "bits", "value", "meaning"};
    char binary[48];
    table t;
    write_binary(word, reg->width, binary);
    printf("%s%s%s = 0x%0*lx = %s\n\n", ink_on(stdout, INK_STRONG), reg->name, ink_off(stdout),
           (reg->width + 3) / 4, word, binary);
    table_begin(&t, 4, "<<><");
    for (int i = 0; i < 4; i++)
        table_cell(&t, "%s", heads[i]);
    for (int f = 0; f < reg->field_count; f++) {
        const tl_field *field = &reg->fields[f];
        const unsigned long number = tl_field_get(field, word);
        const char *name = tl_field_value_name(field, number);
        table_cell(&t, "%s", field->name);
        if (field->low == field->high)
            table_cell(&t, "%d", field->low);
        else
            table_cell(&t, "%d .. %d", field->low, field->high);
        table_cell(&t, "%lu", number);
        table_cell(&t, "%s", name != NULL ? name : field->value_count > 0 ? "(no name)" : "");
    }
    table_end(&t, stdout, "  ");
    if (unclaimed_bits(reg, word) != 0)
        printf("\n  0x%lx is set outside every field.\n", unclaimed_bits(reg, word));
    putchar('\n');
}

static json_t *register_object(const tl_register *reg, unsigned long word)
{
    json_t *fields = json_array();
    for (int f = 0; f < reg->field_count; f++) {
        const tl_field *field = &reg->fields[f];
        const unsigned long number = tl_field_get(field, word);
        const char *name = tl_field_value_name(field, number);
        json_array_append_new(fields, json_pack("{s:s,s:i,s:i,s:I,s:o}", "field", field->name, "low",
                                                field->low, "high", field->high, "value", (json_int_t)number,
                                                "means", name != NULL ? json_string(name) : json_null()));
    }
    return json_pack("{s:s,s:i,s:I,s:I,s:o}", "register", reg->name, "width", reg->width, "word",
                     (json_int_t)word, "unclaimed", (json_int_t)unclaimed_bits(reg, word), "fields", fields);
}

/* The bytes on I2C, the bits on SPI, in the order in which they are sent. */
static void write_sent(const tl_external *e, uint32_t settings, char text[64])
{
    int length = 0;
    text[0] = '\0';
    if (e->kind == TL_EXTERNAL_SPI) {
        for (int bit = e->settings_bits; bit-- > 0;)
            text[length++] = (char)('0' + (settings >> bit & 1));
        text[length] = '\0';
    } else if (e->settings != TL_EXTERNAL_NONE) {
        length = snprintf(text, 64, "%02x", e->settings);
        for (int i = 0; i < e->settings_bits; i += 8) {
            const int shift = e->byte_order == TL_BYTES_LOW_FIRST ? i : e->settings_bits - 8 - i;
            length += snprintf(text + length, (size_t)(64 - length), " %02x", settings >> shift & 0xff);
        }
    }
}

/* What starts a conversion of the signal, as it goes over the bus. */
static void print_sent(const word_options *o, const word_set *set, json_t *answer)
{
    tl_external e;
    char text[64], why[160];
    if (!tl_plan_external(set->plan, set->used, &e, why))
        return; /* said before */
    write_sent(&e, tl_plan_sent(set->plan, set->signal, set->words), text);
    if (o->json)
        json_object_set_new(answer, "sent", json_string(text));
    else if (e.kind == TL_EXTERNAL_I2C)
        printf("On the bus: 0x%02x is written %s; register %02x has the result.\n", e.seat,
               text[0] != '\0' ? text : "nothing", e.result);
    else
        printf("On the bus: the bits %s are sent; then come %d zero%s and %d bits of the result.\n", text,
               e.zeros, e.zeros == 1 ? "" : "s", e.take);
}

/* A register that may not hold the channel stays at 0 there. */
static void note_channel(const word_set *set)
{
    int index;
    if (tl_converter_field(set->converter, "channel", &index) == NULL &&
        tl_converter_field(set->converter, "input", &index) == NULL)
        printf("No field says which channel is converted (it is %d): give one 'means: channel'.\n",
               tl_plan_channel(set->plan, set->signal));
}

static void print_words(const word_options *o, const word_set *set, int only)
{
    json_t *list = json_array();
    json_t *answer = json_pack("{s:s,s:O}", "converter", set->converter->name, "registers", list);
    for (int i = 0; i < set->converter->register_count; i++) {
        if (only >= 0 && i != only)
            continue;
        if (o->json)
            json_array_append_new(list, register_object(&set->converter->registers[i], set->words[i]));
        else
            print_register(&set->converter->registers[i], set->words[i]);
    }
    if (set->signal != TL_NONE && set->used > 0)
        print_sent(o, set, answer);
    if (set->signal != TL_NONE && set->used == 0 && !o->json)
        note_channel(set);
    if (o->json)
        json_print(json_incref(answer));
    json_decref(answer);
    json_decref(list);
}

static int result_words(const word_options *o, const char *title, word_set set)
{
    int only = o->only != NULL ? find_register(set.converter, o->only) : -1;
    const bool on_bus = set.plan != NULL && set.used > 0 && set.signal != TL_NONE;
    if (set.converter->register_count == 0 && !on_bus) {
        fprintf(stderr, "tinyladder: %s lists no registers of its ADC: docs/board-guide.md shows how\n",
                title);
        return EXIT_FOUND;
    }
    if (o->only != NULL && only < 0) {
        fprintf(stderr, "tinyladder: --register: %s has no register '%.40s'\n", set.converter->name, o->only);
        return EXIT_USAGE;
    }
    if (set.plan != NULL && o->decode == NULL && !set_from_plan(o, &set))
        return EXIT_FOUND;
    if (!(o->decode != NULL ? apply_decode(o, &set, &only) : apply_sets(o, &set)))
        return EXIT_USAGE;
    print_words(o, &set, only);
    return EXIT_DONE;
}

/* A signal's converter, with what it needs for the signal. */
static int answer_signal(const word_options *o, const tl_plan *plan)
{
    int count = 0;
    int *chosen = choose_signals(plan, &o->signal, 1, &count);
    if (chosen == NULL)
        return EXIT_USAGE;
    const int signal = chosen[0];
    const tl_signal *s = &plan->signals[signal];
    const tl_plan_converter *used = tl_plan_converter_of(plan, s);
    free(chosen);
    if (used == NULL) {
        fprintf(stderr, "tinyladder: no ADC reads %s\n", s->name);
        return EXIT_USAGE;
    }
    return result_words(
        o, used->name,
        (word_set){
            .converter = used->part, .plan = plan, .used = (int)(used - plan->converters), .signal = signal});
}

/* A plan's converter by name; the board's own where none is asked for. */
static int answer_plan(const word_options *o, const tl_plan *plan)
{
    if (o->signal != NULL)
        return answer_signal(o, plan);
    const int first = plan->board->has_converter ? 0 : 1;
    if (first == plan->converter_count) {
        fprintf(stderr, "tinyladder: neither %s nor its board has an ADC\n", o->path);
        return EXIT_USAGE;
    }
    for (int i = first; i < plan->converter_count; i++) {
        const tl_plan_converter *used = &plan->converters[i];
        if (o->converter == NULL || strcmp(used->name, o->converter) == 0)
            return result_words(
                o, used->name,
                (word_set){.converter = used->part, .plan = plan, .used = i, .signal = TL_NONE});
    }
    fprintf(stderr, "tinyladder: --converter: the plan has no converter '%.40s'; it has:", o->converter);
    for (int i = first; i < plan->converter_count; i++)
        fprintf(stderr, "%s %s", i > first ? "," : "", plan->converters[i].name);
    fprintf(stderr, "\n");
    return EXIT_USAGE;
}

static int run_word(int argc, char **argv)
{
    static const struct argp argp = {
        word_argp_options,
        parse_word,
        "BOARD|CONVERTER|PLAN [SIGNAL]",
        "Encode the register words of an ADC from named fields, or decode a word. With PLAN and SIGNAL: "
        "print the words that convert this signal.\vExamples: tinyladder word demo/lapwing.board.yaml --set "
        "channel=2 --set align=left\ntinyladder word demo/fernhill.plan.yaml counterweight",
        NULL,
        NULL,
        NULL};
    word_options o = {0};
    char kind[16];
    options_parse(&argp, argc, argv, &o);
    tl_report *report = new_report();
    tl_file_kind(o.path, kind);
    int status;
    if (o.signal != NULL && (strcmp(kind, "board") == 0 || strcmp(kind, "converter") == 0)) {
        fprintf(stderr, "tinyladder: %s is a %s: a signal is one of a plan: '%.60s'\n", o.path, kind,
                o.signal);
        status = EXIT_USAGE;
    } else if (strcmp(kind, "board") == 0) {
        tl_board *board = tl_board_load(o.path, report);
        if (board != NULL && !board->has_converter)
            fprintf(stderr, "tinyladder: %s has no ADC\n", board->title);
        status = board != NULL && !board->has_converter ? EXIT_USAGE
                 : board != NULL                        ? result_words(&o, board->title,
                                                                       (word_set){.converter = &board->converter, .signal = TL_NONE})
                                                        : print_unreadable(report);
        tl_board_free(board);
    } else if (strcmp(kind, "converter") == 0) {
        tl_converter *part = tl_converter_load(o.path, report);
        status = part != NULL ? result_words(&o, part->name, (word_set){.converter = part, .signal = TL_NONE})
                              : print_unreadable(report);
        tl_converter_free(part);
    } else {
        tl_plan *plan = tl_plan_load(o.path, report);
        status = plan != NULL ? answer_plan(&o, plan) : print_unreadable(report);
        tl_plan_free(plan);
    }
    tl_report_free(report);
    return status;
}

const verb verb_word = {"word", "Encode and decode register words of an ADC.", run_word};
