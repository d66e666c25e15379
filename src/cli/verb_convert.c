/* SPDX-License-Identifier: MIT */
/* tinyladder convert: a stream of counts to volts and units, and back. */
#include "cli/cli.h"
#include "cli/convert_answer.h"
#include "reading/convert_counts.h"
#include "reading/convert_stream.h"
#include "reading/count_format.h"
#include "tinyladder/design/board.h"
#include <errno.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>

enum { WORDS_MOST = 24 };

typedef struct {
    const char *words[WORDS_MOST];
    int word_count;
    const char *column, *counts, *divider;
    tl_quantity reference, undo, percent;
    long bits, in;
    int align, sign, fill, steps;
    bool back, stop, has_reference, range, is_word, reversed, hex, code, json;
} convert_verb_options;

enum {
    KEY_STEPS = 1000,
    KEY_WORD,
    KEY_SIGN,
    KEY_FILL,
    KEY_IN,
    KEY_UNDO,
    KEY_BAD,
    KEY_BACK,
    KEY_WORDS,
    KEY_COUNTS,
    KEY_DIVIDER,
    KEY_PERCENT,
    KEY_HEX,
    KEY_CODE
};

static const struct argp_option convert_argp_options[] = {
    {"column", 'c', "HEAD", 0, "name of the column with the counts (default: count, else the first)", 0},
    {"back", KEY_BACK, NULL, 0, "convert values, or voltages, to counts", 0},
    {"bad", KEY_BAD, "skip|stop", 0, "what to do at a bad row: skip reports it and goes on (default: skip)",
     0},
    {"words", KEY_WORDS, NULL, 0,
     "the numbers are register words, not counts; with --back: print words in hex, too", 0},
    {"counts", KEY_COUNTS, "SOURCE", 0,
     "lines from your board instead of FILE: a file, -, DEVICE@SPEED, unix:PATH, tcp:HOST:PORT or "
     "mqtt://HOST/TOPIC",
     0},
    {0, 0, NULL, 0, "Instead of PLAN and SIGNAL:", 1},
    {"bits", 'b', "N", 0, "resolution of the ADC in bits, 4 to 24", 1},
    {"reference", 'r', "VOLTS", 0, "reference voltage or input range, such as 3.3V or -1V..1V", 1},
    {"steps", KEY_STEPS, "KIND", 0, "step convention: half, full or end-to-end (default: half)", 1},
    {"ratio", KEY_UNDO, "RATIO", 0, "source voltage divided by pin voltage, such as 5.7 (default: 1)", 1},
    {"undo", 0, NULL, OPTION_ALIAS | OPTION_HIDDEN, NULL, 1},
    {"divider", KEY_DIVIDER, "UPPER/LOWER", 0,
     "divider before the pin instead of --ratio, such as '47k ±1 %/100k ±1 %'", 1},
    {"percent", KEY_PERCENT, "EMPTY..FULL", 0, "source voltages for 0 % and 100 %, such as 3.0V..4.2V", 1},
    {"hex", KEY_HEX, NULL, 0, "print counts in hex, too", 1},
    {"code", KEY_CODE, NULL, 0,
     "print a C function from counts to percent or millivolts, with its largest error", 1},
    {"json", 'j', NULL, 0, "print one JSON object", 1},
    {"align", KEY_WORD, "KIND", 0, "alignment of words: right, left or stretched (default: right)", 1},
    {"in", KEY_IN, "BITS", 0, "width of words in bits (default: 16, or 32)", 1},
    {"sign", KEY_SIGN, "KIND", 0, "sign of words: none, twos-complement or offset-binary (default: none)", 1},
    {"fill", KEY_FILL, "KIND", 0, "bits above a signed code: sign or zero (default: sign)", 1},
    {0},
};

static int choice(struct argp_state *state, const char *option, const char *text, const char *const *words)
{
    for (int i = 0; words[i] != NULL; i++) {
        if (strcmp(words[i], text) == 0)
            return i;
    }
    argp_error(state, "--%s: '%.40s' is not one of its words", option, text);
    return 0;
}

/* It is answered without a file. */
static bool is_question(const convert_verb_options *o)
{
    return o->bits != 0 && (o->divider != NULL || !isnan(o->percent.low) || o->hex || o->code || o->json ||
                            (o->word_count > 0 && is_asked(o->words[0])));
}

/* `47k ±1 %/100k ±1 %`, the upper leg first: volts at the source for one at the pin. */
static void read_divider(struct argp_state *state, char *text, tl_quantity *undo)
{
    tl_quantity leg[2];
    tl_text_error ignored;
    char *slash = strchr(text, '/');
    bool good = slash != NULL && strlen(text) < 70;
    for (int i = 0; i < 2 && good; i++) {
        char word[80], with_unit[90];
        snprintf(word, sizeof word, "%.*s", i == 0 ? (int)(slash - text) : 79, i == 0 ? text : slash + 1);
        snprintf(with_unit, sizeof with_unit, "%s ohm", word);
        good = (tl_quantity_read(word, TL_DIM_OHM, &leg[i], &ignored) ||
                tl_quantity_read(with_unit, TL_DIM_OHM, &leg[i], &ignored)) &&
               leg[i].low > 0;
    }
    if (!good)
        argp_error(state, "--divider: expected UPPER/LOWER, such as 47k/100k, got '%.40s'", text);
    *undo = (tl_quantity){1 + leg[0].low / leg[1].high, 1 + leg[0].nominal / leg[1].nominal,
                          1 + leg[0].high / leg[1].low, true};
}

/* `3.0V..4.2V`; `4.2V..3.0V` falls. */
static void read_percent(struct argp_state *state, const char *text, convert_verb_options *o)
{
    const char *dots = strstr(text, "..");
    char word[2][40];
    double end[2] = {0, 0};
    if (dots == NULL || dots - text > 38 || strlen(dots) > 38)
        argp_error(state, "--percent: expected EMPTY..FULL in volts, such as 3.0V..4.2V, got '%.40s'", text);
    snprintf(word[0], sizeof word[0], "%.*s", (int)(dots - text), text);
    snprintf(word[1], sizeof word[1], "%s", dots + 2);
    for (int i = 0; i < 2; i++)
        end[i] = option_value(state, "percent", word[i], TL_DIM_VOLT);
    if (end[0] == end[1])
        argp_error(state, "--percent: empty and full are the same: '%.40s'", text);
    o->reversed = end[0] > end[1];
    o->percent = (tl_quantity){fmin(end[0], end[1]), NAN, fmax(end[0], end[1]), false};
}

static error_t parse_more(int key, char *text, struct argp_state *state)
{
    static const char *const aligns[] = {"right", "left", "stretched", NULL},
                             *const signs[] = {"none", "twos-complement", "offset-binary", NULL},
                             *const fills[] = {"zero", "sign", NULL}, *const bad[] = {"skip", "stop", NULL};
    convert_verb_options *o = state->input;
    switch (key) {
    case KEY_WORD:
        o->align = choice(state, "align", text, aligns);
        break;
    case KEY_SIGN:
        o->sign = choice(state, "sign", text, signs);
        break;
    case KEY_FILL:
        o->fill = choice(state, "fill", text, fills);
        break;
    case KEY_IN:
        o->in = option_number(state, "in", text, 6, 32);
        break;
    case KEY_BAD:
        o->stop = choice(state, "bad", text, bad) == 1;
        break;
    case KEY_BACK:
        o->back = true;
        break;
    case KEY_WORDS:
        o->is_word = true;
        break;
    case KEY_COUNTS:
        o->counts = text;
        break;
    case KEY_HEX:
        o->hex = true;
        break;
    case KEY_CODE:
        o->code = true;
        break;
    case 'j':
        o->json = true;
        break;
    case ARGP_KEY_ARG:
        if (o->word_count == WORDS_MOST)
            argp_error(state, "%d counts or values at most", WORDS_MOST);
        o->words[o->word_count++] = text;
        break;
    case ARGP_KEY_END:
        if (o->bits == 0 && o->word_count < 2)
            argp_error(state, "expected PLAN and SIGNAL, or --bits and --reference");
        for (int i = o->bits == 0 ? 3 : 1; i < o->word_count; i++) {
            if (!is_asked(o->words[i - 1]) || !is_asked(o->words[i]))
                argp_error(state, o->bits == 0 ? "PLAN, SIGNAL and FILE at most"
                                               : "one FILE at most, or counts and values");
        }
        if (o->bits == 0 && (o->divider != NULL || !isnan(o->percent.low) || o->hex || o->code || o->json))
            argp_error(state,
                       "--divider, --percent, --hex, --code and --json go with --bits and --reference");
        if (is_question(o) && (o->back || o->stop || o->column != NULL || (o->code && o->word_count > 0)))
            argp_error(state, o->code && o->word_count > 0
                                  ? "--code is for every count: without COUNT and VALUE"
                                  : "--back, --bad and --column go with a file");
        if (o->counts != NULL &&
            (o->bits != 0 || o->word_count != 2 || o->back || o->is_word || o->column != NULL))
            argp_error(state, "--counts goes with PLAN and SIGNAL alone");
        if (o->align == TL_WORD_STRETCHED && o->sign != TL_WORD_UNSIGNED)
            argp_error(state, "--align stretched: such words have no sign");
        if (o->bits != 0 && !o->has_reference)
            argp_error(state, "--bits needs --reference, too");
        break;
    default:
        return ARGP_ERR_UNKNOWN;
    }
    return 0;
}

static error_t parse_convert(int key, char *text, struct argp_state *state)
{
    static const char *const kinds[] = {"half", "full", "end-to-end", NULL};
    char *end = NULL;
    convert_verb_options *o = state->input;
    switch (key) {
    case 'c':
        o->column = text;
        break;
    case 'b':
        o->bits = option_number(state, "bits", text, 4, 24);
        break;
    case 'r':
        o->reference = option_quantity(state, "reference", text, TL_DIM_VOLT);
        o->has_reference = true;
        o->range =
            strstr(text, "..") != NULL; /* a span from the lowest count to the highest, not a tolerance */
        break;
    case KEY_STEPS:
        o->steps = choice(state, "steps", text, kinds);
        break;
    case KEY_UNDO:
        o->undo.nominal = o->undo.low = o->undo.high = strtod(text, &end);
        if (end == text || *end != '\0' || !(o->undo.nominal >= 1e-3 && o->undo.nominal <= 1e3))
            argp_error(state, "--ratio: expected a ratio from 0.001 to 1000");
        break;
    case KEY_DIVIDER:
        o->divider = text;
        read_divider(state, text, &o->undo);
        break;
    case KEY_PERCENT:
        read_percent(state, text, o);
        break;
    default:
        return parse_more(key, text, state);
    }
    return 0;
}

/* --- to volts and units --- */

/* A whole number, decimal or 0x; nothing else on either side. */
static bool read_whole(const char *text, size_t length, long *number)
{
    size_t at = 0;
    bool minus = false;
    unsigned long value = 0;
    while (length > 0 && text[length - 1] == ' ')
        length--;
    while (at < length && text[at] == ' ')
        at++;
    if (at < length && (text[at] == '-' || text[at] == '+'))
        minus = text[at++] == '-';
    if (at == length || length - at > 12)
        return false;
    if (length - at > 2 && text[at] == '0' && (text[at + 1] | 0x20) == 'x') {
        for (at += 2; at < length; at++) {
            const char c = text[at] | 0x20;
            if (!((c >= '0' && c <= '9') || (c >= 'a' && c <= 'f')) || text[at] == '\x10')
                return false;
            value = value << 4 | (unsigned long)(c <= '9' ? c - '0' : c - 'a' + 10);
        }
    } else {
        for (; at < length; at++) {
            const unsigned digit = (unsigned)text[at] - '0';
            if (digit > 9)
                return false;
            value = value * 10 + digit;
        }
    }
    *number = minus ? -(long)value : (long)value;
    return true;
}

static int count_to_value(void *context, const char *field, size_t length, char text[CONVERT_ROOM],
                          const char **why)
{
    count_format *m = context;
    long number = 0, code = 0;
    if (!read_whole(field, length, &number)) {
        *why = "expected a whole number";
        return -1;
    }
    *why = count_format_code(m, number, &code);
    return *why != NULL ? -1 : count_format_write(m, code, text);
}

/* --- and back --- */

/* The figure that a code is shown as, without rounding; volts without a plan. */
static bool figure_of(const count_format *m, long code, double *figure)
{
    if (m->circuit != NULL)
        return tl_plan_shown(m->circuit, m->signal, (double)code, figure) == TL_NET_SOLVED;
    *figure = count_format_volts(m, code);
    return true;
}

/* At an end of a table many codes show the same figure: of a level stretch that reaches to the first or the
 * last code, the inner end. */
static long inner_code(const count_format *m, long first, long last, long code, double figure)
{
    double at_first = 0, at_last = 0, here = 0;
    long level = code, outside = code;
    if (figure_of(m, last, &at_last) && at_last == figure)
        outside = first - 1;
    else if (figure_of(m, first, &at_first) && at_first == figure)
        outside = last + 1;
    while (labs(level - outside) > 1) {
        const long middle = level + (outside - level) / 2;
        if (figure_of(m, middle, &here) && here == figure)
            level = middle;
        else
            outside = middle;
    }
    return level;
}

/* The code whose figure is nearest; in the middle between two the upper one, as converters have it. Figures
 * rise or fall with the code all along; where there is none, the end is. */
static bool nearest_code(const count_format *m, double wanted, long *code)
{
    long low = m->first, high = m->last;
    double at_low = 0, at_high = 0, here = 0;
    while (low < high && !figure_of(m, low, &at_low))
        low++;
    while (low < high && !figure_of(m, high, &at_high))
        high--;
    const bool rises = at_high > at_low;
    const long first = low, last = high;
    while (high - low > 1) {
        const long middle = low + (high - low) / 2;
        if (!figure_of(m, middle, &here))
            return false;
        if (rises ? here <= wanted : here >= wanted) {
            low = middle;
            at_low = here;
        } else {
            high = middle;
            at_high = here;
        }
    }
    const double rounding = 1e-9 * fabs(at_high - at_low) + 4e-16 * fabs(wanted);
    *code = !isfinite(at_high) || fabs(wanted - at_low) < fabs(wanted - at_high) - rounding ? low : high;
    *code = inner_code(m, first, last, *code, *code == low ? at_low : at_high);
    return true;
}

/* How far from the nearest code the hardware may be, by the guaranteed interval of the codes around. */
static long farthest_code(const count_format *m, double wanted, long from, int way)
{
    long code = from, step = 1;
    tl_value value;
    while (step > 0) {
        const long next = code + way * step;
        const bool there = next >= m->first && next <= m->last &&
                           tl_plan_value(m->circuit, m->signal, (double)next, &value) == TL_NET_SOLVED &&
                           wanted >= value.within.low && wanted <= value.within.high;
        if (there) {
            code = next;
            step *= 2;
        } else {
            step /= 2;
        }
    }
    return code;
}

/* `,0x8000`: the code as the converter delivers it, where words are asked for. */
static int add_word(const count_format *m, long code, char *text, size_t room)
{
    uint32_t word = 0;
    if (!m->is_word || tl_word_make(&m->word, (int32_t)code, &word) != TL_OK)
        return 0;
    return snprintf(text, room, ",0x%0*lx", (m->word.width + 3) / 4, (unsigned long)word);
}

static int value_to_count(void *context, const char *field, size_t length, char text[CONVERT_ROOM],
                          const char **why)
{
    const count_format *m = context;
    char copy[64], *end = NULL;
    long code = 0;
    if (length >= sizeof copy || length == 0) {
        *why = "expected a number";
        return -1;
    }
    memcpy(copy, field, length);
    copy[length] = '\0';
    const double wanted = strtod(copy, &end);
    if (end == copy || *end != '\0' || !isfinite(wanted)) {
        *why = "expected a number";
        return -1;
    }
    if (!nearest_code(m, wanted, &code)) {
        *why = "no count means this";
        return -1;
    }
    int used = snprintf(text, CONVERT_ROOM, ",%ld", code);
    if (m->circuit != NULL)
        used += snprintf(text + used, (size_t)(CONVERT_ROOM - used), ",%ld,%ld",
                         farthest_code(m, wanted, code, -1), farthest_code(m, wanted, code, 1));
    return used + add_word(m, code, text + used, (size_t)(CONVERT_ROOM - used));
}

/* --- the whole --- */

static int convert_file(const convert_verb_options *o, count_format *m, const char *path)
{
    char back_head[40];
    snprintf(back_head, sizeof back_head, ",count%s%s", m->circuit != NULL ? ",lowest,highest" : "",
             o->is_word ? ",word" : "");
    const convert_options options = {.column = o->column,
                                     .head = o->back ? back_head : m->head,
                                     .stop_at_bad = o->stop,
                                     .name = path != NULL ? path : "standard input"};
    FILE *from = path != NULL ? fopen(path, "rb") : stdin;
    if (from == NULL) {
        fprintf(stderr, "%s: error: cannot be read: %s\n", path, strerror(errno));
        return EXIT_UNREADABLE;
    }
    m->is_word = o->is_word;
    const convert_result result =
        convert_stream(from, stdout, &options, o->back ? value_to_count : count_to_value, m);
    if (from != stdin)
        fclose(from);
    if (result.bad > 0)
        fprintf(stderr, "tinyladder: %lu of %lu rows are bad%s\n", result.bad, result.rows + result.bad,
                o->stop ? "; stopped there" : " and were passed over");
    if (ferror(stdout))
        return EXIT_HARDWARE;
    return result.failed ? EXIT_UNREADABLE : result.bad > 0 ? EXIT_FOUND : EXIT_DONE;
}

static int convert_by_options(const convert_verb_options *o)
{
    count_format m;
    const bool range = o->range;
    const double low = range ? o->reference.low : o->sign != 0 ? -o->reference.nominal : 0;
    const tl_scale_config config = {
        .reference_low_uv = (int32_t)llround(1e6 * low),
        .reference_high_uv = (int32_t)llround(1e6 * (range ? o->reference.high : o->reference.nominal)),
        .bits = (uint8_t)o->bits,
        .steps = (tl_steps)o->steps,
        .undo_num = (uint32_t)llround(1e6 * o->undo.nominal),
        .undo_den = 1000000};
    const tl_word word = {.bits = (uint8_t)o->bits,
                          .width = (uint8_t)(o->in != 0     ? o->in
                                             : o->bits > 16 ? 32
                                                            : 16),
                          .align = (uint8_t)o->align,
                          .sign = (uint8_t)o->sign,
                          .sign_filled = o->fill != 0};
    if (!count_format_of_options(&m, &config, &word))
        return EXIT_USAGE;
    m.is_word = o->is_word;
    convert_question q = {.format = &m,
                          .words = o->words,
                          .word_count = o->word_count,
                          .bits = o->bits,
                          .steps = o->steps,
                          .reference = o->reference,
                          .low = low,
                          .range = range,
                          .ratio = o->undo,
                          .percent = o->percent,
                          .reversed = o->reversed,
                          .hex = o->hex,
                          .code = o->code,
                          .json = o->json};
    if (range)
        q.reference = (tl_quantity){o->reference.high, o->reference.high, o->reference.high, false};
    snprintf(q.divider, sizeof q.divider, "%s", o->divider != NULL ? o->divider : "");
    const int status = is_question(o) ? convert_answer(&q) : convert_file(o, &m, o->words[0]);
    count_format_free(&m);
    return status;
}

/* Counts or values of a signal, as words: the rows that a file would give. */
static int convert_words(const convert_verb_options *o, count_format *m)
{
    m->is_word = o->is_word;
    printf("%s%s\n", o->back ? "value" : "count", o->back ? ",count,lowest,highest" : m->head);
    for (int i = 2; i < o->word_count; i++) {
        char text[CONVERT_ROOM];
        const char *why = NULL;
        const int length =
            (o->back ? value_to_count : count_to_value)(m, o->words[i], strlen(o->words[i]), text, &why);
        if (length < 0) {
            fprintf(stderr, "tinyladder: convert: '%.40s': %s\n", o->words[i], why);
            return EXIT_USAGE;
        }
        printf("%s%.*s\n", o->words[i], length, text);
    }
    return EXIT_DONE;
}

static int convert_by_plan(const convert_verb_options *o)
{
    int status = EXIT_USAGE, signal = -1;
    tl_report *report = new_report();
    tl_plan *plan = tl_plan_load(o->words[0], report);
    if (plan == NULL) {
        status = print_unreadable(report);
    } else if (tl_plan_signal(plan, o->words[1], &signal) == NULL) {
        fprintf(stderr, "tinyladder: the plan has no signal '%.60s'\n", o->words[1]);
    } else {
        count_format m;
        tl_circuit *circuit = tl_circuit_new(plan);
        if (count_format_of_signal(&m, circuit, signal)) {
            status = o->counts != NULL                            ? convert_counts(o->counts, &m)
                     : o->word_count > 2 && is_asked(o->words[2]) ? convert_words(o, &m)
                                                                  : convert_file(o, &m, o->words[2]);
            count_format_free(&m);
        }
        tl_circuit_free(circuit);
    }
    tl_plan_free(plan);
    tl_report_free(report);
    return status;
}

static int run_convert(int argc, char **argv)
{
    static const struct argp argp = {
        convert_argp_options,
        parse_convert,
        "PLAN SIGNAL [FILE|COUNT...]\n--bits N --reference VOLTS [FILE|COUNT|VALUE...]",
        "Convert counts to voltages and values, and back. With FILE, or standard input, add them to a list "
        "or a CSV file of counts.\vExamples: tinyladder convert --bits 10 --reference 5V 465\ntinyladder "
        "convert --bits 10 --reference 3.3V --divider 47k/100k --percent 3.0V..4.2V 2.7V\ntinyladder convert "
        "--bits 10 --reference 3.3V --divider 47k/100k --percent 3.0V..4.2V --code",
        NULL,
        NULL,
        NULL};
    convert_verb_options o = {.undo = {1, 1, 1, false}, .percent = {NAN, NAN, NAN, false}, .fill = 1};
    options_parse(&argp, argc, argv, &o);
    return o.bits != 0 ? convert_by_options(&o) : convert_by_plan(&o);
}

const verb verb_convert = {"convert", "Convert counts to voltages and units, and back.", run_convert};
