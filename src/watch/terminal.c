/* SPDX-License-Identifier: MIT */
/* Whether the terminal is one that can be drawn on. In a file of its own: term.h gives common words a
 * meaning. */
#include "watch/terminal.h"
#include <curses.h>
#include <term.h>
#include <unistd.h>

bool terminal_is_known(void)
{
    int error = 0;
    if (setupterm(NULL, STDOUT_FILENO, &error) != OK)
        return false;
    del_curterm(cur_term);
    return true;
}
