/* SPDX-License-Identifier: MIT */
/* The least that is of use: one conversion and one debounced button. What the linker keeps of the core for
 * it. */
#include <tinyladder/button.h>
#include <tinyladder/input.h>

extern const tl_port port;
extern const tl_input input;
extern const tl_scale scale;
extern const tl_button_config config;

int smallest(tl_sample *reading, tl_button *button)
{
    tl_button_event event = TL_BUTTON_QUIET;
    if (tl_button_init(button, &config, &port) != TL_OK ||
        tl_input_take(&port, &input, &scale, reading, NULL) != TL_OK)
        return -1;
    return tl_button_look(button, &port, &event) == TL_OK ? (int)event : -1;
}
