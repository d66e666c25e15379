#include "tinyladder/status.h"
#include "tinyladder/rom.h"

/* One row per status, at index -status. Fixed width, so that the table can stay in read-only memory. */
static const char texts[][32] TL_ROM = {
    "done",
    "meaningless argument",
    "value out of range",
    "not supported by this port",
    "no answer in time",
    "the clock stands still",
    "malformed converter word",
    "the hardware failed",
    "nobody acknowledged",
    "unknown status",
};

void tl_status_text(tl_status status, char *text, size_t size)
{
    const int last = (int)(sizeof texts / sizeof texts[0]) - 1;
    const int row = status <= 0 && -(int)status < last ? -(int)status : last;
    char copy[sizeof texts[0]];

    if (text == NULL || size == 0)
        return;
    tl_rom_copy(copy, texts[row], sizeof copy);
    size_t length = strlen(copy);
    if (length > size - 1)
        length = size - 1;
    memcpy(text, copy, length);
    text[length] = '\0';
}
