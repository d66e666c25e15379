/* SPDX-License-Identifier: MIT */
/* A board file in one go: what was typed is the reader's own, the rest is a template, and says so. */
#include "cli/new_board.h"
#include <string.h>

/* A line of the template: its key, its value, and where a data sheet has it. */
typedef struct {
    const char *key, *value, *where;
} template_line;

static const template_line pin_lines[] = {
    {"limits", "-0.3 V .. rail + 0.3 V", "absolute maximum ratings, voltage on any pin"},
    {"vil", "0.3 rail", "VIL, maximum"},
    {"vih", "0.7 rail", "VIH, minimum"},
    {"vol", "0.4 V", "VOL, maximum, at the current that 'drives' says"},
    {"voh", "rail - 0.4 V", "VOH, minimum, at that current"},
    {"drives", "4 mA", "the current at which VOL and VOH are stated"},
    {"current", "12 mA", "absolute maximum ratings, current of a pin"},
    {"injection", "1 mA", "injected or clamp current of a pin, maximum"},
    {"leakage", "±100 nA", "input leakage current, maximum over temperature"},
    {"capacitance", "10 pF", "pin capacitance"},
    {"internal", "{up: 20k .. 60k}",
     "pull-up resistance, minimum to maximum; remove the key if there is none"},
};
static const template_line converter_lines[] = {
    {"steps", "half", "transfer function: does the first step end at half a step (half) or at one (full)"},
    {"sampling", "{capacitor: 14 pF, switch: 2k}", "equivalent circuit of the analog input, maximum"},
    {"acquisition", "[1 us, 3 us, 10 us]", "sampling times on offer, shortest first"},
    {"conversion", "2 us", "conversion time, what comes behind the sampling"},
    {"errors", "{offset: ±2 counts, gain: ±4 counts, nonlinearity: ±2 counts, noise: 0.5 counts}",
     "offset, gain and nonlinearity, maximum, in counts"},
};
enum {
    PIN_LINES = (int)(sizeof pin_lines / sizeof pin_lines[0]),
    CONVERTER_LINES = (int)(sizeof converter_lines / sizeof converter_lines[0])
};

static long or_usual(long typed, long usual)
{
    return typed >= 0 ? typed : usual;
}

/* The names of all that is the template's. */
static void write_list(FILE *to, const new_board *b, bool converter)
{
    const char *before = "template: [";
    const struct {
        const char *name;
        bool mine;
    } typed[] = {{"supplies", b->supply != NULL},
                 {"bits", b->bits >= 0 || !converter},
                 {"references", b->reference != NULL || !converter},
                 {"pins", b->analog >= 0 && b->digital >= 0}};
    for (size_t i = 0; i < sizeof typed / sizeof typed[0]; i++) {
        if (typed[i].mine)
            continue;
        fprintf(to, "%s%s", before, typed[i].name);
        before = ", ";
    }
    fprintf(to, "%spositions", before);
    for (int i = 0; i < PIN_LINES; i++)
        fprintf(to, ", %s", pin_lines[i].key);
    for (int i = 0; i < CONVERTER_LINES && converter; i++)
        fprintf(to, ", %s", converter_lines[i].key);
    fprintf(to, "%s]\n", converter ? ", word" : "");
}

static void write_lines(FILE *to, const template_line *lines, int count, const char *indent)
{
    for (int i = 0; i < count; i++)
        fprintf(to, "%s%s: %s  # template: %s\n", indent, lines[i].key, lines[i].value, lines[i].where);
}

static void write_range(FILE *to, const char *letter, long count, long position, bool channels)
{
    if (count == 1)
        fprintf(to, "  %s0: {position: %ld", letter, position);
    else
        fprintf(to, "  %s0 .. %s%ld: {position: %ld .. %ld", letter, letter, count - 1, position,
                position + count - 1);
    if (channels && count == 1)
        fprintf(to, ", channel: 0");
    else if (channels)
        fprintf(to, ", channel: 0 .. %ld", count - 1);
    fprintf(to, "}\n");
}

void new_board_write(FILE *to, const new_board *b)
{
    const long analog = or_usual(b->analog, 8), digital = or_usual(b->digital, 20),
               bits = or_usual(b->bits, 12);
    const bool converter = analog > 0;
    const char *mark = "  # template";
    fprintf(to, "tinyladder: board 1\ntitle: %s\n", b->title != NULL ? b->title : "Own board");
    fprintf(to,
            "# What is marked 'template' is usual, and not yours yet. docs/board-guide.md says where a data "
            "sheet has it;\n# once it is yours, take its name out of this list. 'check' lists the rest.\n");
    write_list(to, b, converter);
    fprintf(to, "supplies: {logic: %s}%s\n", b->supply != NULL ? b->supply : "3.3 V ±2 %",
            b->supply != NULL ? "" : mark);
    fprintf(to, "every-pin:\n  supply: logic\n");
    write_lines(to, pin_lines, PIN_LINES, "  ");
    fprintf(to, "pins:%s: positions on the header, and which pin has which channel\n", mark);
    if (analog > 0)
        write_range(to, "A", analog, 1, true);
    if (digital > 0)
        write_range(to, "D", digital, analog + 1, false);
    if (!converter)
        return;
    fprintf(to,
            "converters:\n  main:\n    bits: %ld%s\n    word: {align: right, in: 16}%s: the result register, "
            "how wide and at "
            "which end\n",
            bits, b->bits >= 0 ? "" : mark, mark);
    if (b->reference != NULL)
        fprintf(to, "    references: {logic: logic, own: %s}\n", b->reference);
    else
        fprintf(to, "    references: {logic: logic}%s: what the ADC can be compared with\n", mark);
    write_lines(to, converter_lines, CONVERTER_LINES, "    ");
}
