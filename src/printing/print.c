/* SPDX-License-Identifier: MIT */
/* Colours, quantities, findings, CSV and JSON: what all verbs print alike. */
#define _GNU_SOURCE
#include "printing/json_answer.h"
#include "printing/printing.h"
#include <csv.h>
#include <math.h>
#include <stdlib.h>
#include <string.h>
#include <sys/ioctl.h>
#include <time.h>
#include <unistd.h>

/* --- memory --- */

void *must(void *memory)
{
    static const char text[] = "tinyladder: out of memory\n";
    if (memory != NULL)
        return memory;
    if (write(STDERR_FILENO, text, sizeof text - 1) < 0)
        _exit(EXIT_HARDWARE);
    _exit(EXIT_HARDWARE); /* nothing half printed goes out on the way */
}

/* --- widths and lists --- */

/* Characters on the screen: every byte that starts one. */
int print_width(const char *text)
{
    int width = 0;
    for (; *text != '\0'; text++)
        width += ((unsigned char)*text & 0xc0) != 0x80;
    return width;
}

static int terminal_columns(void)
{
    struct winsize size;
    return isatty(STDOUT_FILENO) && ioctl(STDOUT_FILENO, TIOCGWINSZ, &size) == 0 ? size.ws_col : 0;
}

/* Breaks before the word that would go beyond the columns; 0 columns: nowhere. */
static void put_folded(const char *begin, const char *indent, const char *text, int columns)
{
    const int inner = print_width(indent);
    int used = print_width(begin);
    fputs(begin, stdout);
    for (bool first = true; *text != '\0'; first = false) {
        char word[200];
        const size_t length = strcspn(text, " ") < sizeof word - 1 ? strcspn(text, " ") : sizeof word - 1;
        snprintf(word, sizeof word, "%.*s", (int)length, text);
        const bool folds = !first && columns > 40 && used + 1 + print_width(word) > columns;
        if (folds)
            printf("\n%s", indent);
        printf("%s%s", first || folds ? "" : " ", word);
        used = (folds ? inner : used + (first ? 0 : 1)) + print_width(word);
        text += length;
        text += *text == ' ';
    }
    putchar('\n');
}

int print_columns(void)
{
    const int columns = terminal_columns();
    return columns > 40 && columns < WIDE ? columns : WIDE;
}

void put_note(const char *indent, const char *more, const char *text)
{
    put_folded(indent, more, text, print_columns());
}

/* --- colours --- */

static bool is_coloured(FILE *to)
{
    const char *no_colour = getenv("NO_COLOR"), *terminal = getenv("TERM");
    return (no_colour == NULL || no_colour[0] == '\0') && terminal != NULL && strcmp(terminal, "dumb") != 0 &&
           isatty(fileno(to));
}

const char *ink_on(FILE *to, ink colour)
{
    static const char *const codes[] = {
        [INK_PLAIN] = "",           [INK_STRONG] = "\033[1m",
        [INK_ERROR] = "\033[1;31m", [INK_WARNING] = "\033[1;33m",
        [INK_NOTE] = "\033[36m",    [INK_FAINT] = "\033[2m",
    };
    return is_coloured(to) ? codes[colour] : "";
}

const char *ink_off(FILE *to)
{
    return is_coloured(to) ? "\033[0m" : "";
}

/* --- quantities --- */

static shown show_rounded(double value, tl_dimension dimension, tl_rounding rounding)
{
    shown s;
    tl_quantity_write(value, dimension, rounding, s.text);
    return s;
}

shown show(double value, tl_dimension dimension)
{
    return show_rounded(value, dimension, TL_ROUND_NEAREST);
}

shown show_least(double value, tl_dimension dimension)
{
    return show_rounded(value, dimension, TL_ROUND_DOWN);
}

shown show_most(double value, tl_dimension dimension)
{
    return show_rounded(value, dimension, TL_ROUND_UP);
}

const char *unit_shown(const char *unit)
{
    return strcmp(unit, "degC") == 0 ? "°C" : unit;
}

shown show_part(double value, tl_dimension dimension)
{
    shown s;
    tl_part_write(value, dimension, s.text);
    return s;
}

shown show_code(double ohms)
{
    shown s;
    tl_letter_code_write(ohms, s.text);
    return s;
}

/* --- reports --- */

/* The line and a caret under the column; tabs are kept in the margin, so that the caret stands where it
 * should. */
static void print_source_line(FILE *to, const tl_report *report, tl_place place)
{
    size_t length;
    const char *line = tl_report_line(report, place, &length);
    enum { MOST = 120 };
    if (place.line < 1 || length == 0 || place.column < 1 || place.column > MOST)
        return;
    if (length > MOST) {
        for (length = MOST; length > 0 && ((unsigned char)line[length] & 0xc0) == 0x80;)
            length--;
    }
    fprintf(to, "%6d | %.*s\n       | ", place.line, (int)length, line);
    int column = 1;
    for (size_t i = 0; i < length && column < place.column; i++) {
        if (((unsigned char)line[i] & 0xc0) == 0x80)
            continue;
        fputc(line[i] == '\t' ? '\t' : ' ', to);
        column++;
    }
    fprintf(to, "%s^%s\n", ink_on(to, INK_STRONG), ink_off(to));
}

static bool outside_allowed;

bool outside_is_allowed(void)
{
    return outside_allowed;
}

void allow_outside(void)
{
    outside_allowed = true;
}

tl_report *new_report(void)
{
    tl_report *report = tl_report_new();
    tl_report_allow_outside(report, outside_allowed);
    return report;
}

const char *fix_of(const tl_finding *finding, const tl_edit *edit)
{
    return edit != NULL && edit->said != NULL ? edit->said : finding->fix;
}

void print_finding(FILE *to, const tl_report *report, const tl_finding *finding, const tl_edit *edit)
{
    const char *path = tl_report_path(report, finding->place);
    const ink colour = finding->severity == TL_ERROR     ? INK_ERROR
                       : finding->severity == TL_WARNING ? INK_WARNING
                                                         : INK_NOTE;
    if (path[0] != '\0')
        fprintf(to, "%s:%d:%d: ", path, finding->place.line, finding->place.column);
    else
        fputs("tinyladder: ", to);
    fprintf(to, "%s%s:%s %s%s%s %s[%s]%s\n", ink_on(to, colour), tl_severity_name(finding->severity),
            ink_off(to), finding->cause, finding->also != NULL ? "; also " : "",
            finding->also != NULL ? finding->also : "", ink_on(to, INK_FAINT), finding->slug, ink_off(to));
    print_source_line(to, report, finding->place);
    if (finding->figure != NULL)
        fprintf(to, "         %s\n", finding->figure);
    if (finding->corner != NULL)
        fprintf(to, "         worst case: %s\n", finding->corner);
    const char *fix = fix_of(finding, edit);
    if (fix != NULL)
        fprintf(to, "         %s: %s\n", edit != NULL && edit->text != NULL ? "fix" : "advice", fix);
}

int print_unreadable(tl_report *report)
{
    fflush(stdout);
    tl_report_sort(report);
    for (int i = 0; i < tl_report_count(report); i++)
        print_finding(stderr, report, tl_report_finding(report, i), NULL);
    json_answer_unreadable(report);
    return EXIT_UNREADABLE;
}

/* --- CSV --- */

bool csv_is_formula(const char *text, size_t length)
{
    char number[64], *end;
    if (length < 2 || strchr("=+-@\t", text[0]) == NULL)
        return false; /* a sign alone says that there is nothing */
    snprintf(number, sizeof number, "%.*s", (int)(length < 60 ? length : 60), text);
    (void)strtod(number, &end);
    return end == number || *end != '\0';
}

const char *csv_text(const char *text, char *to, size_t room)
{
    char guarded[1200];
    const bool formula = csv_is_formula(text, strlen(text));
    if (!formula && strpbrk(text, ",\"\r\n") == NULL)
        return text;
    if (formula) {
        snprintf(guarded, sizeof guarded, "'%.1190s", text);
        text = guarded;
    }
    const size_t length = csv_write(NULL, 0, text, strlen(text));
    to[0] = '\0';
    if (length < room)
        to[csv_write(to, room, text, strlen(text))] = '\0';
    return to;
}

/* --- JSON --- */

json_t *json_number(double value)
{
    return isfinite(value) ? json_real(value) : json_null();
}

void json_print(json_t *object)
{
    json_answer_given();
    json_dumpf(object, stdout, JSON_ANSWER_FORM);
    fputc('\n', stdout);
    json_decref(object);
}

void clock_text(char text[CLOCK_ROOM])
{
    struct timespec now;
    struct tm utc;
    char seconds[24];
    clock_gettime(CLOCK_REALTIME, &now);
    strftime(seconds, sizeof seconds, "%Y-%m-%dT%H:%M:%S", gmtime_r(&now.tv_sec, &utc));
    snprintf(text, CLOCK_ROOM, "%.20s.%03dZ", seconds, (int)(now.tv_nsec / 1000000 % 1000));
}
