/* Tables, colours, quantities, findings, options, CSV and JSON: what all verbs print and parse alike. */
#define _GNU_SOURCE /* vasprintf */
#include "cli/cli.h"
#include "cli/json_answer.h"
#include <csv.h>
#include <math.h>
#include <stdarg.h>
#include <stdlib.h>
#include <string.h>
#include <sys/ioctl.h>
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

/* --- tables --- */

void table_begin(table *t, int columns, const char *alignment)
{
    *t = (table){.columns = columns};
    for (int i = 0; i < columns; i++)
        t->right[i] = alignment[i] == '>';
}

void table_cell(table *t, const char *format, ...)
{
    va_list arguments;
    char *text = NULL;
    const int count = t->rows;
    va_start(arguments, format);
    if (vasprintf(&text, format, arguments) < 0)
        text = must(NULL);
    va_end(arguments);
    t->cells = must(realloc(t->cells, (size_t)(count + 1) * sizeof *t->cells));
    t->cells[t->rows++] = text; /* counted in cells until the table ends */
}

void table_head_row(table *t, const char *const *names, size_t count)
{
    for (size_t i = 0; i < count; i++)
        table_cell(t, "%s", names[i]);
}

/* Characters on the screen: every byte that starts one. */
static int width_of(const char *text)
{
    int width = 0;
    for (; *text != '\0'; text++)
        width += ((unsigned char)*text & 0xc0) != 0x80;
    return width;
}

void table_drop(table *t)
{
    for (int i = 0; i < t->rows; i++)
        free(t->cells[i]);
    free(t->cells);
}

enum { WIDE = 100 }; /* more columns than that do not stand on every screen */

/* Of a head that is wider than what stands under it, the space where it falls into two lines that are as
 * narrow as can be; NULL where there is none. */
static char *fold_of(char *head, int needed, int *width)
{
    char *best = NULL;
    for (char *space = strchr(head, ' '); space != NULL && *width > needed; space = strchr(space + 1, ' ')) {
        *space = '\0';
        const int first = width_of(head), second = width_of(space + 1),
                  wider = first > second ? first : second, now = wider > needed ? wider : needed;
        *space = ' ';
        if (now < *width) {
            *width = now;
            best = space;
        }
    }
    return best;
}

/* Empty cells at its end are left out, and the blanks before them. */
static void print_row(const table *t, FILE *to, const char *indent, const char *const *cells,
                      const int *width, bool head)
{
    int last = t->columns - 1;
    while (last > 0 && cells[last][0] == '\0')
        last--;
    for (int i = 0; i <= last; i++) {
        const int room = width[i] - width_of(cells[i]);
        fprintf(to, "%s%s%*s%s", i == 0 ? indent : "  ", head ? ink_on(to, INK_FAINT) : "",
                t->right[i] ? room : 0, "", cells[i]);
        fprintf(to, "%s%*s", head ? ink_off(to) : "", t->right[i] || i == last ? 0 : room, "");
    }
    fputc('\n', to);
}

/* The heads of a table that is too wide, over two lines. */
static void print_folded(const table *t, FILE *to, const char *indent, int *width)
{
    const char *above[TABLE_COLUMNS], *below[TABLE_COLUMNS];
    bool any = false;
    for (int column = 0; column < t->columns; column++) {
        int needed = 0;
        for (int i = t->columns + column; i < t->rows; i += t->columns)
            needed = width_of(t->cells[i]) > needed ? width_of(t->cells[i]) : needed;
        char *head = t->cells[column], *fold = fold_of(head, needed, &width[column]);
        above[column] = fold != NULL ? head : "";
        below[column] = fold != NULL ? fold + 1 : head;
        any = any || fold != NULL;
        if (fold != NULL)
            *fold = '\0';
    }
    if (any)
        print_row(t, to, indent, above, width, true);
    print_row(t, to, indent, below, width, true);
}

static int find_widths(const table *t, const char *indent, int *width)
{
    int all = width_of(indent);
    memset(width, 0, TABLE_COLUMNS * sizeof *width);
    for (int i = 0; i < t->rows; i++) {
        const int now = width_of(t->cells[i]);
        if (now > width[i % t->columns])
            width[i % t->columns] = now;
    }
    for (int i = 0; i < t->columns; i++)
        all += width[i] + (i > 0 ? 2 : 0);
    return all;
}

/* With its heads folded. */
static int width_of_table(const table *t, const char *indent)
{
    int width[TABLE_COLUMNS], all = find_widths(t, indent, width);
    for (int column = 0; column < t->columns && all > WIDE; column++) {
        int needed = 0, folded = width[column];
        char head[120];
        for (int i = t->columns + column; i < t->rows; i += t->columns)
            needed = width_of(t->cells[i]) > needed ? width_of(t->cells[i]) : needed;
        snprintf(head, sizeof head, "%s", t->cells[column]);
        if (fold_of(head, needed, &folded) != NULL)
            all -= width[column] - folded;
    }
    return all;
}

void table_end(table *t, FILE *to, const char *indent)
{
    int width[TABLE_COLUMNS];
    const int all = find_widths(t, indent, width);
    if (all > WIDE)
        print_folded(t, to, indent, width);
    for (int i = all > WIDE ? t->columns : 0; i + t->columns <= t->rows; i += t->columns)
        print_row(t, to, indent, (const char *const *)&t->cells[i], width, i == 0);
    table_drop(t);
}

/* Every column as a row, so that what was above each other stands side by side; as many as there is room for,
 * then the next. */
static void print_turned(const table *t, FILE *to, const char *indent)
{
    const int things = t->rows / t->columns - 1;
    int label = 0;
    for (int i = 0; i < t->columns; i++)
        label = width_of(t->cells[i]) > label ? width_of(t->cells[i]) : label;
    for (int first = 0, next; first < things; first = next) {
        int width[TABLE_COLUMNS * 4], all = width_of(indent) + label;
        for (next = first; next < things && next - first < TABLE_COLUMNS * 4; next++) {
            int own = 0;
            for (int i = 0; i < t->columns; i++) {
                const int now = width_of(t->cells[(next + 1) * t->columns + i]);
                own = now > own ? now : own;
            }
            if (next > first && all + 2 + own > WIDE)
                break;
            width[next - first] = own;
            all += 2 + own;
        }
        if (first > 0)
            fputc('\n', to);
        for (int i = 0; i < t->columns; i++) {
            fprintf(to, "%s%s%s%s%*s", indent, ink_on(to, INK_FAINT), t->cells[i], ink_off(to),
                    label - width_of(t->cells[i]), "");
            for (int k = first; k < next; k++) {
                const char *cell = t->cells[(k + 1) * t->columns + i];
                fprintf(to, "  %*s%s", width[k - first] - width_of(cell), "", cell);
            }
            fputc('\n', to);
        }
    }
}

void table_end_turned(table *t, FILE *to, const char *indent)
{
    if (width_of_table(t, indent) <= WIDE) {
        table_end(t, to, indent);
        return;
    }
    print_turned(t, to, indent);
    table_drop(t);
}

/* --- lists --- */

static int terminal_columns(void)
{
    struct winsize size;
    return isatty(STDOUT_FILENO) && ioctl(STDOUT_FILENO, TIOCGWINSZ, &size) == 0 ? size.ws_col : 0;
}

/* Breaks before the word that would go beyond the columns; 0 columns: nowhere. */
static void put_folded(const char *begin, const char *indent, const char *text, int columns)
{
    const int inner = width_of(indent);
    int used = width_of(begin);
    fputs(begin, stdout);
    for (bool first = true; *text != '\0'; first = false) {
        char word[200];
        const size_t length = strcspn(text, " ") < sizeof word - 1 ? strcspn(text, " ") : sizeof word - 1;
        snprintf(word, sizeof word, "%.*s", (int)length, text);
        const bool folds = !first && columns > 40 && used + 1 + width_of(word) > columns;
        if (folds)
            printf("\n%s", indent);
        printf("%s%s", first || folds ? "" : " ", word);
        used = (folds ? inner : used + (first ? 0 : 1)) + width_of(word);
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

void print_finding(FILE *to, const tl_report *report, const tl_finding *finding, bool proven)
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
            ink_off(to), finding->cause, finding->also != NULL ? "; likewise " : "",
            finding->also != NULL ? finding->also : "", ink_on(to, INK_FAINT), finding->slug, ink_off(to));
    print_source_line(to, report, finding->place);
    if (finding->figure != NULL)
        fprintf(to, "         %s\n", finding->figure);
    if (finding->corner != NULL)
        fprintf(to, "         worst corner: %s\n", finding->corner);
    if (finding->fix != NULL)
        fprintf(to, "         %s: %s\n", proven ? "fix" : "advice", finding->fix);
}

int print_unreadable(tl_report *report)
{
    fflush(stdout);
    tl_report_sort(report);
    for (int i = 0; i < tl_report_count(report); i++)
        print_finding(stderr, report, tl_report_finding(report, i), false);
    json_answer_unreadable(report);
    return EXIT_UNREADABLE;
}

/* --- options --- */

tl_quantity option_quantity(struct argp_state *state, const char *option, const char *text,
                            tl_dimension dimension)
{
    tl_quantity quantity = {0};
    tl_text_error error;
    if (!tl_quantity_read(text, dimension, &quantity, &error))
        argp_error(state, "--%s: %s: '%.70s'", option, error.text, text);
    return quantity;
}

double option_value(struct argp_state *state, const char *option, const char *text, tl_dimension dimension)
{
    const tl_quantity quantity = option_quantity(state, option, text, dimension);
    if (quantity.low != quantity.high)
        argp_error(state, "--%s: one value is wanted, not a range: '%.70s'", option, text);
    return quantity.nominal;
}

void option_file(struct argp_state *state, const char *kind, const char **path, const char *text)
{
    if (*path != NULL)
        argp_error(state, "one %s at a time: '%.60s' is one argument too many", kind, text);
    *path = text;
}

long option_number(struct argp_state *state, const char *option, const char *text, long least, long most)
{
    char *end = NULL;
    const long number = strtol(text, &end, 10);
    if (end == text || *end != '\0' || number < least || number > most)
        argp_error(state, "--%s: a whole number from %ld to %ld is wanted: '%.70s'", option, least, most,
                   text);
    return number;
}

/* --- CSV --- */

const char *csv_text(const char *text, char *to, size_t room)
{
    if (strpbrk(text, ",\"\r\n") == NULL)
        return text;
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
    json_dumpf(object, stdout, JSON_INDENT(2) | JSON_REAL_PRECISION(10));
    fputc('\n', stdout);
    json_decref(object);
}
