/* SPDX-License-Identifier: MIT */
/* What a count means, which count a voltage gives, what is empty and full, and the line of C for it. */
#include "cli/convert_answer.h"
#include "cli/cli.h"
#include "firmware/fit.h"
#include "printing/columns.h"
#include <ctype.h>
#include <errno.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>

/* --- the converter --- */

static double span_of(const convert_question *q)
{
    return q->reference.nominal - q->low;
}

static double counts_of(const convert_question *q)
{
    return ldexp(1, (int)q->bits) - (q->steps == TL_STEPS_END_TO_END);
}

/* Volts at the pin of a place on the scale of counts, with a reference that is so high. */
static double pin_at(const convert_question *q, double place, double reference)
{
    return q->low + (place - (double)q->format->first) / counts_of(q) * (reference - q->low);
}

static double centre_of(const convert_question *q, long code)
{
    return (double)code + (q->steps == TL_STEPS_FULL ? 0.5 : 0);
}

/* What an answer says of one count: of the source, where there is a divider. */
typedef struct {
    long code;
    bool clipped; /* it may lie beyond */
    double pin, source, low, high;
    long lowest, highest; /* of a value: which counts the tolerances allow */
    int percent;          /* -1 for none */
} answer;

static int percent_of(const convert_question *q, double source)
{
    if (isnan(q->percent.low))
        return -1;
    const double share = (source - q->percent.low) / (q->percent.high - q->percent.low);
    const double percent = nearbyint(100 * fmin(fmax(share, 0), 1));
    return (int)(q->reversed ? 100 - percent : percent);
}

static double times(double volts, const tl_quantity *ratio, bool most)
{
    return volts * ((volts >= 0) == most ? ratio->high : ratio->low);
}

static answer answer_of(const convert_question *q, long code)
{
    answer a = {.code = code, .lowest = code, .highest = code};
    const double centre = centre_of(q, code);
    a.pin = pin_at(q, centre, q->reference.nominal);
    a.source = a.pin * q->ratio.nominal;
    a.clipped = code == q->format->first || code == q->format->last;
    const double below = pin_at(q, centre - 0.5, q->range ? q->reference.nominal : q->reference.low),
                 above = pin_at(q, centre + 0.5, q->range ? q->reference.nominal : q->reference.high);
    a.low = code == q->format->first ? -INFINITY : times(below, &q->ratio, false);
    a.high = code == q->format->last ? INFINITY : times(above, &q->ratio, true);
    a.percent = percent_of(q, a.source);
    return a;
}

/* The count of volts at the pin, with a reference that is so high. */
static long code_at(const convert_question *q, double pin, double reference)
{
    const double place = (double)q->format->first + (pin - q->low) / (reference - q->low) * counts_of(q);
    const double code = q->steps == TL_STEPS_FULL ? floor(place + 1e-9) : floor(place + 0.5 + 1e-9);
    return (long)fmin(fmax(code, (double)q->format->first), (double)q->format->last);
}

static answer answer_for(const convert_question *q, double source)
{
    const long code = code_at(q, source / q->ratio.nominal, q->reference.nominal);
    const double low = source / (source >= 0 ? q->ratio.high : q->ratio.low),
                 high = source / (source >= 0 ? q->ratio.low : q->ratio.high);
    answer a = answer_of(q, code);
    a.lowest = code_at(q, low, q->range ? q->reference.nominal : q->reference.high);
    a.highest = code_at(q, high, q->range ? q->reference.nominal : q->reference.low);
    a.clipped = source < a.low || source > a.high ||
                (code == q->format->last &&
                 source / q->ratio.nominal > pin_at(q, (double)code + 1, q->reference.nominal));
    a.percent = percent_of(q, source);
    return a;
}

/* --- what was typed --- */

static bool is_whole(const char *text, long *number)
{
    char *end = NULL;
    errno = 0;
    *number = strtol(text, &end, strncmp(text, "0x", 2) == 0 ? 16 : 10);
    return end != text && *end == '\0' && errno == 0;
}

bool is_asked(const char *word)
{
    long number;
    tl_quantity q;
    tl_text_error ignored;
    FILE *there = fopen(word, "r");
    if (there != NULL)
        fclose(there);
    return there == NULL && (is_whole(word, &number) || tl_quantity_read(word, TL_DIM_VOLT, &q, &ignored) ||
                             isdigit((unsigned char)word[0]));
}

/* false, said, where it is neither. value: it was volts. */
static bool read_word(const convert_question *q, const char *word, answer *a, bool *value)
{
    long number, code;
    tl_quantity volts;
    tl_text_error ignored;
    *value = false;
    if (is_whole(word, &number)) {
        const char *why = count_format_code(q->format, number, &code);
        if (why != NULL)
            fprintf(stderr, "tinyladder: convert: '%.40s': %s\n", word, why);
        else
            *a = answer_of(q, code);
        return why == NULL;
    }
    *value = tl_quantity_read(word, TL_DIM_VOLT, &volts, &ignored);
    if (*value)
        *a = answer_for(q, volts.nominal);
    else
        fprintf(stderr,
                "tinyladder: convert: '%.40s' is neither a count, such as 465, nor a voltage, such as 2.7V\n",
                word);
    return *value;
}

/* --- as text --- */

static const char *count_text(const convert_question *q, long code, char text[90])
{
    uint32_t word = 0;
    if (q->format->is_word && tl_word_make(&q->format->word, (int32_t)code, &word) == TL_OK)
        snprintf(text, 90, "%ld (0x%0*lx)", code, (int)((q->format->word.width + 3u) / 4u),
                 (unsigned long)word);
    else if (q->hex && code >= 0)
        snprintf(text, 90, "%ld (0x%lx)", code, (unsigned long)code);
    else
        snprintf(text, 90, "%ld", code);
    return text;
}

/* `count n means n/1024 of the reference, and half a step either way` */
static void print_convention(const convert_question *q)
{
    static const char *const names[] = {"half", "full", "end-to-end"};
    static const char *const means[] = {
        "count n is n/%.0f of the reference, half a step either way",
        "count n begins at n/%.0f of the reference and is one step wide",
        "count n is n/%.0f of the reference, so that the highest count is all of it"};
    char line[300];
    snprintf(line, sizeof line, means[q->steps], counts_of(q));
    printf("With --steps %s, %s", names[q->steps], line);
    if (q->format->is_word && q->format->word.align != TL_WORD_RIGHT)
        printf("; words of %d bits are %s", q->format->word.width,
               q->format->word.align == TL_WORD_LEFT ? "aligned left" : "stretched to their width");
    printf(".\n");
}

static void print_setting(const convert_question *q)
{
    char reference[80];
    if (q->range)
        snprintf(reference, sizeof reference, "%s .. %s", show(q->low, TL_DIM_VOLT).text,
                 show(q->reference.nominal, TL_DIM_VOLT).text);
    else if (q->reference.low != q->reference.high)
        snprintf(reference, sizeof reference, "%s .. %s", show(q->reference.low, TL_DIM_VOLT).text,
                 show(q->reference.high, TL_DIM_VOLT).text);
    else
        snprintf(reference, sizeof reference, "%s", show(q->reference.nominal, TL_DIM_VOLT).text);
    printf("%ld bits at %s", q->bits, reference);
    if (q->divider[0] != '\0')
        printf(", behind a divider of %s: the source voltage is %.5g times the pin voltage", q->divider,
               q->ratio.nominal);
    else if (q->ratio.nominal != 1)
        printf(": the source voltage is %.5g times the pin voltage", q->ratio.nominal);
    printf(".\n");
    print_convention(q);
}

static void print_ends(const convert_question *q)
{
    char text[90];
    const double ends[2] = {q->reversed ? q->percent.high : q->percent.low,
                            q->reversed ? q->percent.low : q->percent.high};
    static const char *const names[] = {"Empty", "Full"};
    for (int i = 0; i < 2; i++) {
        const answer a = answer_for(q, ends[i]);
        printf("%s at %s: count %s", names[i], show(ends[i], TL_DIM_VOLT).text, count_text(q, a.code, text));
        if (a.lowest != a.highest)
            printf(", %ld to %ld with the tolerances", a.lowest, a.highest);
        printf("%s.\n", a.clipped ? ", the end of the ADC range" : "");
    }
}

/* What the tolerances move the source's figure by, at the highest count. */
static void print_error(const convert_question *q)
{
    const double volts = fmax(fabs(pin_at(q, (double)q->format->last, q->reference.nominal)), fabs(q->low));
    const double high = q->range ? 1 : q->reference.high / q->reference.nominal,
                 low = q->range ? 1 : q->reference.low / q->reference.nominal;
    const double off =
        fmax(high * q->ratio.high / q->ratio.nominal - 1, 1 - low * q->ratio.low / q->ratio.nominal);
    if (off > 0)
        printf("Error from tolerances: at most %s, which is %s at the highest count.\n",
               show_most(100 * off, TL_DIM_PERCENT).text,
               show_most(off * volts * q->ratio.nominal, TL_DIM_VOLT).text);
}

/* Volts with as many decimals as one count needs, at least those of a meter. */
static column_form column_of_counts(const convert_question *q, double ratio)
{
    const double step = fabs(pin_at(q, 1, q->reference.nominal) - pin_at(q, 0, q->reference.nominal)) * ratio;
    const int decimals = (int)ceil(-log10(step));
    return (column_form){.scale = 1, .decimals = decimals < 3 ? 3 : decimals, .unit = "V"};
}

static void cell_of(table *t, const column_form *form, double volts, tl_rounding rounding)
{
    char text[40];
    table_cell(t, "%s", column_text(form, isinf(volts) ? NAN : volts, rounding, text));
}

static void print_answers(const convert_question *q, const answer *answers, const bool *values)
{
    const bool source = q->ratio.nominal != 1, percent = !isnan(q->percent.low);
    const column_form at_pin = column_of_counts(q, 1), at_source = column_of_counts(q, q->ratio.nominal);
    const column_form *bounds = source ? &at_source : &at_pin;
    bool any_value = false;
    table t;
    char text[90];
    for (int i = 0; i < q->word_count; i++)
        any_value = any_value || values[i];
    table_begin(&t, 5 + source + 2 * any_value + percent, "<>>>>>>>>");
    table_heads(&t, "input", "count");
    if (any_value)
        table_heads(&t, "count min", "count max");
    table_cell(&t, "pin, V");
    if (source)
        table_cell(&t, "source, V");
    if (source)
        table_heads(&t, "source min, V", "source max, V");
    else
        table_heads(&t, "pin min, V", "pin max, V");
    if (percent)
        table_cell(&t, "percent");
    for (int i = 0; i < q->word_count; i++) {
        const answer *a = &answers[i];
        table_cell(&t, "%s", q->words[i]);
        table_cell(&t, "%s", count_text(q, a->code, text));
        if (any_value) {
            table_cell(&t, values[i] ? "%ld" : "%.0ld", values[i] ? a->lowest : 0);
            table_cell(&t, values[i] ? "%ld" : "%.0ld", values[i] ? a->highest : 0);
        }
        cell_of(&t, &at_pin, a->pin, TL_ROUND_NEAREST);
        if (source)
            cell_of(&t, &at_source, a->source, TL_ROUND_NEAREST);
        cell_of(&t, bounds, a->low, TL_ROUND_DOWN);
        cell_of(&t, bounds, a->high, TL_ROUND_UP);
        if (percent)
            table_cell(&t, "%d %%", a->percent);
    }
    putchar('\n');
    table_end(&t, stdout, "  ");
    for (int i = 0; i < q->word_count; i++) {
        if (values[i] && answers[i].clipped)
            printf("  %s is outside the ADC range: the count stays at %ld.\n", q->words[i], answers[i].code);
    }
}

static void print_json(const convert_question *q, const answer *answers, const bool *values)
{
    json_t *list = json_array();
    for (int i = 0; i < q->word_count; i++) {
        const answer *a = &answers[i];
        json_array_append_new(
            list, json_pack("{s:s,s:I,s:I,s:I,s:o,s:o,s:o,s:o,s:o,s:b}", "asked", q->words[i], "count",
                            (json_int_t)a->code, "lowest", (json_int_t)a->lowest, "highest",
                            (json_int_t)a->highest, "pin_v", json_number(a->pin), "source_v",
                            json_number(a->source), "low", json_number(a->low), "high", json_number(a->high),
                            "percent", a->percent >= 0 ? json_integer(a->percent) : json_null(), "clipped",
                            values[i] && a->clipped));
    }
    json_t *ends = json_null();
    if (!isnan(q->percent.low)) {
        const answer low = answer_for(q, q->percent.low), high = answer_for(q, q->percent.high);
        ends = json_pack("{s:I,s:I}", "empty", (json_int_t)(q->reversed ? high.code : low.code), "full",
                         (json_int_t)(q->reversed ? low.code : high.code));
    }
    json_print(json_pack("{s:i,s:o,s:o,s:o}", "bits", (int)q->bits, "ratio", json_number(q->ratio.nominal),
                         "ends", ends, "answers", list));
}

/* --- as C --- */

/* Percent, or millivolts at the source, that a count should give. */
static double wanted_of(const convert_question *q, long code)
{
    const double source = pin_at(q, centre_of(q, code), q->reference.nominal) * q->ratio.nominal;
    if (isnan(q->percent.low))
        return 1000 * source;
    const double percent = 100 * (source - q->percent.low) / (q->percent.high - q->percent.low);
    return q->reversed ? 100 - percent : percent;
}

static const char *type_for(double least, double most)
{
    return least >= 0                                ? (most <= UINT8_MAX    ? "uint8_t"
                                                        : most <= UINT16_MAX ? "uint16_t"
                                                                             : "uint32_t")
           : least >= INT16_MIN && most <= INT16_MAX ? "int16_t"
                                                     : "int32_t";
}

static void print_line(const fit_line *line, const char *type)
{
    char steps[120], base[30] = "";
    if (line->base != 0 || line->falls)
        snprintf(base, sizeof base, "%ld %s (int32_t)", (long)line->base, line->falls ? "-" : "+");
    snprintf(steps, sizeof steps, "(((uint32_t)count * %luUL + %luUL) >> %d)", (unsigned long)line->mul,
             (unsigned long)line->add, line->shift);
    if (base[0] == '\0')
        printf("    return (%s)%s;\n}\n", type, steps);
    else
        printf("    return (%s)(%s%s);\n}\n", type, base, steps);
}

static int refuse_code(const char *why)
{
    fprintf(stderr, "tinyladder: convert: --code: %s\n", why);
    return EXIT_FOUND;
}

static int print_code(const convert_question *q)
{
    const bool percent = !isnan(q->percent.low);
    const long last = q->format->last;
    if (q->format->first != 0 || q->bits > 16)
        return refuse_code("a function is made for unsigned counts of up to 16 bits");
    double *wanted = must(calloc((size_t)last + 1, sizeof *wanted));
    fit_target target = {wanted, last + 1, 0, last, false};
    fit_line line;
    for (long c = 0; c <= last; c++)
        wanted[c] = wanted_of(q, c);
    const bool falls = wanted[last] < wanted[0];
    while (percent && target.first < last && (falls ? wanted[target.first] > 100 : wanted[target.first] < 0))
        target.first++;
    while (percent && target.last > target.first &&
           (falls ? wanted[target.last] < 0 : wanted[target.last] > 100))
        target.last--;
    const bool found = target.first < target.last && fit_a_line(&target, percent ? 1 : 2, &line);
    if (!found) {
        free(wanted);
        return refuse_code(percent ? "empty and full are less than two counts apart, or beyond the ADC"
                                   : "no line of 32 bits comes near enough");
    }
    const char *type =
        percent ? "uint8_t" : type_for(fmin(wanted[0], wanted[last]), fmax(wanted[0], wanted[last]));
    printf("/* %s of %ld bits at %s", percent ? "Percent" : "Millivolts", q->bits,
           show(q->reference.nominal, TL_DIM_VOLT).text);
    if (q->divider[0] != '\0')
        printf(" behind a divider of %s", q->divider);
    else if (q->ratio.nominal != 1)
        printf(", %.5g times", q->ratio.nominal);
    if (percent)
        printf(", empty at %s and full at %s",
               show(q->reversed ? q->percent.high : q->percent.low, TL_DIM_VOLT).text,
               show(q->reversed ? q->percent.low : q->percent.high, TL_DIM_VOLT).text);
    printf(", by --steps %s.\n", q->steps == TL_STEPS_HALF   ? "half"
                                 : q->steps == TL_STEPS_FULL ? "full"
                                                             : "end-to-end");
    if (line.quality.wrong == 0)
        printf(" * Every count from 0 to %ld was tried: each gives the nearest whole number, off by at most "
               "%.2f. */\n",
               last, line.quality.deviation);
    else
        printf(" * Every count from 0 to %ld was tried: %ld of them are not the nearest whole number, off by "
               "at most "
               "%.2f. */\n",
               last, line.quality.wrong, line.quality.deviation);
    printf("static %s %s_of(uint16_t count)\n{\n", type, percent ? "percent" : "millivolts");
    if (target.first > 0)
        printf("    if (count < %ld)\n        return %d;\n", target.first, falls ? 100 : 0);
    if (target.last < last)
        printf("    if (count > %ld)\n        return %d;\n", target.last, falls ? 0 : 100);
    print_line(&line, type);
    free(wanted);
    return EXIT_DONE;
}

/* --- the whole --- */

int convert_answer(const convert_question *q)
{
    answer *answers = must(calloc((size_t)q->word_count + 1, sizeof *answers));
    bool *values = must(calloc((size_t)q->word_count + 1, sizeof *values)), good = true;
    int status = EXIT_DONE;
    for (int i = 0; i < q->word_count && good; i++)
        good = read_word(q, q->words[i], &answers[i], &values[i]);
    if (!good || !(span_of(q) > 0)) {
        status = EXIT_USAGE;
    } else if (q->code) {
        status = print_code(q);
    } else if (q->json) {
        print_json(q, answers, values);
    } else {
        print_setting(q);
        if (!isnan(q->percent.low))
            print_ends(q);
        print_error(q);
        if (q->word_count > 0)
            print_answers(q, answers, values);
    }
    free(answers);
    free(values);
    return status;
}
