/* SPDX-License-Identifier: MIT */
/* `convert --counts`: what a board sends, of one signal, a row each as it comes. */
#include "reading/convert_counts.h"
#include "reading/counts.h"
#include "reading/ending.h"
#include <stdlib.h>

int convert_counts(const char *source, count_format *m)
{
    const size_t all = (size_t)tl_circuit_plan(m->circuit)->signal_count;
    char text[COUNT_FORMAT_TEXT];
    double at;
    int status = EXIT_DONE;
    counts *from = counts_open(source, m->circuit, &status);
    if (from == NULL)
        return status;
    taken *now = must(calloc(all + 1, sizeof *now));
    bool *told = must(calloc(all + 1, sizeof *told));
    ending_watch();
    printf("s,count%s\n", m->head);
    for (counts_got got = COUNTS_LATE; got != COUNTS_END && !ferror(stdout);) {
        fflush(stdout);
        got = counts_next(from, 1, now, told, &at);
        if (got != COUNTS_LINE || !told[m->signal])
            continue;
        const long code = now[m->signal].is.count;
        (void)count_format_write(m, code, text);
        printf("%.6f,%ld%s\n", at, code, text);
    }
    status = counts_close(from, ferror(stdout)              ? EXIT_HARDWARE
                                : counts_left_out(from) > 0 ? EXIT_FOUND
                                                            : EXIT_DONE);
    free(now);
    free(told);
    ending_obey();
    return status;
}
