/* SPDX-License-Identifier: MIT */
/* Statuses in words, one after the other in read-only memory. */
#include "tinyladder/status.h"
#include "tinyladder/rom.h"

/* One text per status, at index -status, each closed by a 0; the last is for all that is unknown. */
static const TL_ROM char texts[] = "done\0"
                                   "bad argument\0"
                                   "out of range\0"
                                   "not supported\0"
                                   "no answer in time\0"
                                   "clock stands still\0"
                                   "malformed word\0"
                                   "hardware failed\0"
                                   "not acknowledged\0"
                                   "someone else is reading\0"
                                   "unknown status";
enum { UNKNOWN = 10 };

void tl_status_text(tl_status status, char *text, size_t size)
{
    int rows = status <= 0 && status > -UNKNOWN ? -(int)status : UNKNOWN;
    size_t at = 0;

    if (text == NULL || size == 0)
        return;
    while (rows > 0)
        rows -= texts[at++] == '\0';
    size_t length = 0;
    for (char letter = texts[at]; letter != '\0' && length < size - 1; letter = texts[at + length])
        text[length++] = letter;
    text[length] = '\0';
}
