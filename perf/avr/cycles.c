/* SPDX-License-Identifier: MIT */
/* Runs the firmware in an instruction-level simulator and prints the cycles between its marks. */
#include "simulated.h"
#include <stdio.h>

enum { STRETCHES = 10 };
typedef struct {
    avr_cycle_count_t start, most[STRETCHES + 1], sum[STRETCHES + 1];
    unsigned runs[STRETCHES + 1];
    bool done;
} log_book;

/* Marks come in pairs: 1 2 for the first stretch, 3 4 for the second, and so on. */
static void note_mark(struct avr_t *avr, avr_io_addr_t address, uint8_t mark, void *param)
{
    log_book *book = param;
    (void)address;
    if (mark == 255) {
        book->done = true;
    } else if (mark % 2 == 1) {
        book->start = avr->cycle;
    } else if (mark / 2 <= STRETCHES) {
        const avr_cycle_count_t took = avr->cycle - book->start;
        book->sum[mark / 2] += took;
        book->runs[mark / 2]++;
        if (took > book->most[mark / 2])
            book->most[mark / 2] = took;
    }
}

int main(int argc, char **argv)
{
    static const char *const names[STRETCHES + 1] = {"",
                                                     "",
                                                     "count to clamped, undone, trimmed uV (tl_scale_uv)",
                                                     "clipped flags of a count (tl_scale_clipped)",
                                                     "the same volts in float",
                                                     "count * reference / steps alone, 64 bits",
                                                     "lean: count to clamped, undone centivolts",
                                                     "lean: count to percent",
                                                     "lean: a curve of nine points",
                                                     "percent by hand, in whole numbers",
                                                     "the curve by hand, in whole numbers"};
    static log_book book;
    avr_t *avr = simulated_chip(argc, argv, note_mark, &book);
    if (avr == NULL)
        return 2;
    if (!simulated_run(avr, 10000000, &book.done))
        return 1;
    const double marks = (double)book.sum[1] / book.runs[1];
    for (int i = 2; i <= STRETCHES; i++)
        printf("  %-52s %6.0f cycles, at most %6.0f\n", names[i], (double)book.sum[i] / book.runs[i] - marks,
               (double)book.most[i] - marks);
    printf("  the same volts in float: %.1f times the cycles of tl_scale_uv\n",
           ((double)book.sum[4] / book.runs[4] - marks) / ((double)book.sum[2] / book.runs[2] - marks));
    return 0;
}
